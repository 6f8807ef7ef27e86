"""From a stack in words to a row of numbers that `optics.stack` takes."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import exp

from wempa.craft.job import Entry, LayDown, Note
from wempa.craft.treatments import DoseEffect, Effect, TreatmentRow
from wempa.craft.vocabulary import Over, Treatment

from . import pools
from .amounts import (
    BARE,
    Dried,
    Ground,
    Habit,
    colour_yield,
    covered,
    film_stays,
    free_share,
    held_up,
    offered,
    patched,
)
from .pools import Soaking, gives_way
from .prepared import PreparedInk


@dataclass(slots=True)
class Part:
    """One ink of one lay-down, in numbers."""

    ink: int
    dose: float
    scatter: float
    cover: float
    """Share of the area that its lay-down covers; 0 for all inks of a premix but the first."""
    held: float
    group: int
    """The lay-down's number; those mixed wet share one."""
    apart: bool = False
    """Whether what it leaves bare is whole places, where an ink has not taken, and not fine specks."""
    patch: float = 1.0
    """Share of the area that it lies on, where it lies in patches, likewise; its dose is the mean over all of it."""

    def changed(self, dose: float = 1.0, scatter: float = 1.0) -> Part:
        """The same with its dose and scatter multiplied."""
        return replace(self, dose=self.dose * dose, scatter=self.scatter * scatter)


@dataclass(slots=True)
class BatchRow:
    """One stack in numbers, bottom first."""

    parts: list[Part] = field(default_factory=list)
    floor_scale: float = 1.0
    pores: float = 0.0
    vividness: float = 1.0
    treatments: int = 0


@dataclass(frozen=True, slots=True)
class Laid:
    """One ink of one lay-down as it was put on, before it is known what stays of it."""

    ink: int
    prepared: PreparedInk
    offer: float
    """Pad impressions that a tool offers; 0 where a dose is stated."""
    stated: float | None
    """The stated dose, if one is: it gives way to nothing but take-up."""
    entry: int
    """Place of its lay-down in the stack; the inks of a premix share one."""
    group: int
    cover: float
    """Share of the area that the lay-down covers, where it lies."""
    patch: float
    """Share of the area that it lies on."""


Factors = tuple[float, float]
"""On dose and scatter, by treatments."""
_UNTREATED: Factors = (1.0, 1.0)


@dataclass(frozen=True, slots=True)
class Settled:
    """What stays of all that was laid."""

    parts: list[Part]
    meets: Dried
    """What a lay-down over it meets once it has dried."""
    soaking: tuple[Soaking, ...]
    """What of it shares the room there is."""
    film: float
    """Dose of film there in all."""
    crowded: bool
    """Whether anything had to give way to another ink."""


_NONE_LAID = Settled([], BARE, (), 0.0, False)


@dataclass(slots=True)
class Resolved:
    """The dry field of a stack, its drops if water was dropped on it, its wet look."""

    dry: BatchRow
    drops: BatchRow | None
    wet: BatchRow | None
    notes: list[Note]
    settled: Settled = _NONE_LAID
    alone: list[BatchRow] = field(default_factory=list)
    """Each ink by itself, in the order of `inks`: its own lay-downs and nothing else on the same card."""
    inks: list[int] = field(default_factory=list)
    """Which inks have a part in it, each once."""


NOTHING = Resolved(BatchRow(), None, None, [])
"""The bare card."""


def resolve(
    stack: Sequence[Entry],
    inks: Mapping[str, tuple[int, PreparedInk]],
    ground: Ground,
    table: Mapping[str, float],
    wet_look: bool = False,
    whole_only: bool = False,
) -> list[Resolved]:
    """Work out every entry's effective dose, cover and neighbours.

    Returns the bare card, then the stack as it is after each entry; the last is the
    whole, and the only one if `whole_only`. The wet look is worked out only when asked for.

    `inks` maps a key to its row in the pigmentation table and its preparation.
    What stays of a lay-down depends on what comes later too, so it is settled anew after
    every entry, and treatments act on what is left: blotting frees no room.
    """
    laid: list[Laid] = []
    factors: list[Factors] = []
    notes: list[Note] = []
    drops: list[Factors] | None = None
    floor_scale, pores, treatments = 1.0, 0.0, 0
    group, closed = -1, True
    by_row = dict(inks.values())
    found = [] if whole_only and stack else [NOTHING]

    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment):
            treatments += 1
            does = entry.row
            if does.wet_only and closed:
                notes.append(entry_note(f"{entry}_dry", index, "nothing is wet here, so blotting takes nothing away."))
            else:
                if does.drops is not None:
                    now = settle(laid, factors, ground, table).parts
                    drops = _dropped(now, drops, does.drops, by_row, table)
                factors = [
                    _treated(each, does, one.prepared.values, table)
                    if not does.wet_only or one.group == group
                    else each
                    for each, one in zip(factors, laid, strict=True)
                ]
                floor_scale *= table[does.floor] if does.floor else 1.0
                pores = max(pores, table[does.pores] if does.pores else 0.0)
                closed = closed or does.closes
        else:
            joins = entry.over is Over.WET
            if joins and closed:
                why = "there is nothing below it" if not laid else "what is below has been dried"
                notes.append(entry_note("wet_on_dry", index, f"{why}, so it counts as laid over dry."))
                joins = False
            if not joins:
                group, closed = group + 1, False
            chosen = [(*inks[key], share) for key, share in entry.parts if share > 0]
            offer, cover, patch = _offer(entry, chosen, ground, table)
            for row, prepared, share in chosen:
                stated = None if entry.dose is None else entry.dose * (1 - entry.dilution) * share
                laid.append(Laid(row, prepared, offer * share, stated, index, group, cover, patch))
                factors.append(_UNTREATED)
        if whole_only and index + 1 < len(stack):
            continue
        settled = settle(laid, factors, ground, table)
        dry = BatchRow(settled.parts, floor_scale, pores, 1.0, treatments)
        used = list(dict.fromkeys([one.ink for one in laid]))
        found.append(
            Resolved(
                dry=dry,
                drops=None if drops is None else _lifted(dry, drops),
                wet=_wetted(dry, () if closed else (group,), by_row, table) if wet_look else None,
                notes=notes,
                settled=settled,
                alone=_each_alone(dry, used, laid, factors, ground, table) if index + 1 == len(stack) else [],
                inks=used,
            )
        )
    return found


def settle(laid: Sequence[Laid], factors: Sequence[Factors], ground: Ground, table: Mapping[str, float]) -> Settled:
    """What stays of all that was laid, bottom first.

    A stated dose counts how much of the surface still accepts it (take-up, once per wet
    group, against what had dried): the rest stays bare of it, as on a press.
    What a tool offers of a film fills that film; what soaks in shares what there is room
    for, whatever the order (`pools`).
    """
    films: dict[int, float] = {}
    lies = _lies(laid)
    for one in laid:
        films[one.group] = films.get(one.group, 0.0) + one.offer * (1 - free_share(one.prepared.habit))
    # In patches there is as much more of it where it lies.
    stay = {group: film_stays(offered / lies[group], table) for group, offered in films.items()}

    # How deep in film each lies, and what of it soaks.
    deep, at, soaking = 0.0, [], []
    for one, (dose, _) in zip(laid, factors, strict=True):
        habit = one.prepared.habit
        free = free_share(habit)
        at.append(deep)
        if one.offer and free:
            way = gives_way(one.prepared.mean_absorption, one.prepared.amount)
            soaking.append(Soaking(one.offer * free / lies[one.group], way, deep))
        if habit.film_share:
            film = one.stated
            if film is None:
                gives = colour_yield(ground, habit, table) / one.prepared.amount
                film = one.offer * (1 - free) * stay[one.group] * gives
            deep += film * dose * habit.film_share
    shares = iter(pools.stays(soaking, ground, table))

    parts: list[Part] = []
    dried, group = BARE, -1
    group_dose = group_seal = 0.0
    take = take_tool = 1.0
    base, entry, printed = 0.0, -1, False
    left = _left_by_later(laid, ground)
    crowded = False
    for one, depth, (dose_factor, scatter_factor) in zip(laid, at, factors, strict=True):
        if one.group != group:
            dried = dried.after(group_dose, group_seal) if group_dose else dried
            group, base = one.group, depth
            group_dose = group_seal = 0.0
            printed = False
            take_tool = dried.takes_by_tool(table)
        habit = one.prepared.habit
        free = free_share(habit)
        if one.stated is not None:
            take = dried.takes(ground, one.prepared.mean_extinction, table)
            dose = one.stated * take * left[group]
        else:
            in_pool = next(shares) if one.offer and free else 1.0
            crowded = crowded or in_pool < 1
            gives = colour_yield(ground, habit, table) / one.prepared.amount
            dose = one.offer * (free * in_pool + (1 - free) * stay[group]) * take_tool * gives
        dose *= dose_factor
        lifted = held_up(depth - base, table) * free if free and depth > base else 0.0
        # A premix covers once, not once an ink; of stated doses a wet group does.
        stated = one.stated is not None
        first = one.entry != entry and not (stated and printed)
        entry, printed = one.entry, printed or stated
        cover, patch = (take if stated else one.cover, one.patch) if first else (0.0, 0.0)
        parts.append(Part(one.ink, dose, scatter_factor, cover, lifted, group, stated and take < 1, patch))
        # What the next group meets, weighted by amount.
        if dose:
            group_seal = (group_seal * group_dose + one.prepared.values["seal"] * dose) / (group_dose + dose)
        group_dose += dose
    return Settled(parts, dried.after(group_dose, group_seal), tuple(soaking), deep, crowded)


def _lies(laid: Sequence[Laid]) -> dict[int, float]:
    """Share of the area that each wet group lies on."""
    each = {one.entry: (one.group, one.patch) for one in laid}
    bare: dict[int, float] = {}
    for group, patch in each.values():
        bare[group] = bare.get(group, 1.0) * (1 - patch)
    return {group: 1 - left for group, left in bare.items()}


def _left_by_later(laid: Sequence[Laid], ground: Ground) -> dict[int, float]:
    """Share of the stated doses of each wet group that later ones leave there: a print carries some of it away."""
    stated: dict[int, float] = {}
    for one in laid:
        stated[one.group] = stated.get(one.group, 0.0) + (one.stated or 0.0)
    found, left = {}, 1.0
    for group in reversed(stated):
        found[group] = left
        left *= 1 - (1 - ground.carries) * min(1.0, stated[group])
    return found


def _each_alone(
    dry: BatchRow,
    inks: Sequence[int],
    laid: Sequence[Laid],
    factors: Sequence[Factors],
    ground: Ground,
    table: Mapping[str, float],
) -> list[BatchRow]:
    """The same stack with only the lay-downs of one ink, for each: what that ink gives by itself."""
    if len(inks) == 1:
        return [dry]
    found = []
    for ink in inks:
        own = [k for k, one in enumerate(laid) if one.ink == ink]
        parts = settle([laid[k] for k in own], [factors[k] for k in own], ground, table).parts
        found.append(BatchRow(parts, dry.floor_scale, dry.pores, dry.vividness, dry.treatments))
    return found


def _treated(now: Factors, row: TreatmentRow, ink: Mapping[str, float], table: Mapping[str, float]) -> Factors:
    """Factors on a part after a treatment, beside the drops if it drops water."""
    dose, scatter = now
    return (
        dose if row.dose is None else dose * row.dose(ink, table),
        scatter if row.scatter is None else scatter * row.scatter(ink, table),
    )


def _dropped(
    parts: Sequence[Part],
    drops: list[Factors] | None,
    effects: tuple[DoseEffect, Effect],
    inks: Mapping[int, PreparedInk],
    table: Mapping[str, float],
) -> list[Factors]:
    """Factors on dose and scatter of every part where water was dropped, once more."""
    known = (drops or []) + [_UNTREATED] * (len(parts) - len(drops or []))
    lifts, milks = effects
    return [
        (dose * lifts(inks[p.ink].values, table, p.dose * dose), scatter * milks(inks[p.ink].values, table))
        for p, (dose, scatter) in zip(parts, known, strict=True)
    ]


def entry_note(code: str, index: int, text: str) -> Note:
    """A note on one entry of a stack."""
    return Note(code, f"Entry {index + 1} of the stack: {text}")


def _mixed(chosen: list[tuple[int, PreparedInk, float]]) -> Habit:
    if len(chosen) == 1:
        return chosen[0][1].habit
    habits = [(prepared.habit, share) for _, prepared, share in chosen]
    return Habit(
        film_share=sum(h.film_share * share for h, share in habits),
        strength=sum(h.strength * share for h, share in habits),
        specks=sum(h.specks * share for h, share in habits),
    )


def _offer(
    entry: LayDown,
    chosen: list[tuple[int, PreparedInk, float]],
    ground: Ground,
    table: Mapping[str, float],
) -> tuple[float, float, float]:
    """Pad impressions offered, the share of the area covered, and the share that it lies on in patches.

    Cover is relative to the swatch's own: what specks the swatch has are in its
    colour already. An explicit dose is a uniform film, and takes no room from anything.
    """
    if entry.dose is not None or entry.tool is None:
        return 0.0, 1.0, 1.0
    words, habit = (entry.tool, entry.load, entry.passes), _mixed(chosen)
    offer = offered(*words, habit, table) * (1 - entry.dilution)
    own = sum(prepared.cover * share for _, prepared, share in chosen)
    cover = max(1e-6, min(1.0, covered(*words, ground, habit, table) / own))
    lies = sum(prepared.patch * share for _, prepared, share in chosen)
    return offer, cover, min(1.0, patched(entry.tool, entry.passes, table) / lies)


def _lifted(state: BatchRow, drops: list[Factors]) -> BatchRow:
    drops = drops + [_UNTREATED] * (len(state.parts) - len(drops))
    lifted = [p.changed(dose, scatter) for p, (dose, scatter) in zip(state.parts, drops, strict=True)]
    return BatchRow(lifted, state.floor_scale, state.pores, state.vividness, state.treatments)


def all_wet(state: BatchRow, inks: Mapping[str, tuple[int, PreparedInk]], table: Mapping[str, float]) -> BatchRow:
    """The look of a dry row were all of it still wet, as after quick work."""
    return _wetted(state, {p.group for p in state.parts}, dict(inks.values()), table)


def _wetted(
    state: BatchRow, groups: Collection[int], inks: Mapping[int, PreparedInk], table: Mapping[str, float]
) -> BatchRow:
    """The look while some groups are still wet; what they lie on has dried."""
    wet = [p for p in state.parts if p.group in groups]
    amount = sum(p.dose for p in wet)
    if not amount:
        return state
    reach = 1 - exp(-amount / table["wet.reach"])

    def mean(column: str) -> float:
        return sum(inks[p.ink].values[column] * p.dose for p in wet) / amount

    parts = [p.changed(scatter=inks[p.ink].values["wet_scatter"]) if p.group in groups else p for p in state.parts]
    return BatchRow(
        parts,
        state.floor_scale * (1 - (1 - table["wet.floor"]) * reach),
        max(state.pores, mean("wet_pores") * reach),
        1 + (mean("wet_vividness") - 1) * reach,
        state.treatments,
    )


def lowest_inks(row: BatchRow, inks: Sequence[int]) -> list[bool]:
    """Whether each of the inks lies in lower groups than all others of a row of several."""
    highest = {ink: max(part.group for part in row.parts if part.ink == ink) for ink in inks}
    return [len(inks) > 1 and all(highest[ink] < part.group for part in row.parts if part.ink != ink) for ink in inks]
