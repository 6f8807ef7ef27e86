"""From a stack in words to a row of numbers that `optics.stack` takes."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from math import exp

from wempa.craft.job import Entry, LayDown, Note
from wempa.craft.treatments import DoseEffect, Effect, TreatmentRow
from wempa.craft.vocabulary import Over, Treatment

from .amounts import BARE, Dried, Ground, Habit, Offer, colour_yield, covered, free_share, held_up, offered
from .prepared import PreparedInk


@dataclass(slots=True)
class Part:
    """One ink of one lay-down, in numbers."""

    ink: int
    dose: float
    scatter: float
    cover: float
    held: float
    group: int
    """The lay-down's number; those mixed wet share one."""
    by_tool: bool
    """Whether the amount came from a tool; a stated dose gives way to nothing."""

    def changed(self, dose: float = 1.0, scatter: float = 1.0) -> Part:
        """The same with its dose and scatter multiplied."""
        return Part(self.ink, self.dose * dose, self.scatter * scatter, self.cover, self.held, self.group, self.by_tool)


@dataclass(slots=True)
class BatchRow:
    """One stack in numbers, bottom first."""

    parts: list[Part] = field(default_factory=list)
    floor_scale: float = 1.0
    pores: float = 0.0
    vividness: float = 1.0
    treatments: int = 0


@dataclass(slots=True)
class Resolved:
    """The dry field of a stack, its drops if water was dropped on it, its wet look."""

    dry: BatchRow
    drops: BatchRow | None
    wet: BatchRow | None
    notes: list[Note]
    meets: Dried = BARE
    """What a lay-down over it meets once it has dried."""


NOTHING = Resolved(BatchRow(), None, None, [])
"""The bare card."""


def resolve(
    stack: Sequence[Entry],
    inks: Mapping[str, tuple[int, PreparedInk]],
    ground: Ground,
    table: Mapping[str, float],
    wet_look: bool = False,
) -> list[Resolved]:
    """Work out every entry's effective dose, cover and neighbours.

    Returns the bare card, then the stack as it is after each entry; the last is the
    whole. The wet look is worked out only when asked for.

    `inks` maps a key to its row in the pigmentation table and its preparation.
    Doses count what earlier lay-downs have put there (saturation) and how much the
    surface still accepts (take-up, once per wet group, against what had dried).
    """
    parts: list[Part] = []
    notes: list[Note] = []
    drops: list[tuple[float, float]] | None = None
    floor_scale, pores, treatments = 1.0, 0.0, 0
    # Of the open group: what was offered to it, and what it still takes up.
    together = Offer()
    take = take_tool = 1.0
    group_dose = group_seal = film_dose = 0.0
    dried = BARE
    group, closed = -1, True
    by_row = dict(inks.values())
    found = [NOTHING]

    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment):
            treatments += 1
            does = entry.row
            if does.wet_only and closed:
                notes.append(entry_note(f"{entry}_dry", index, "nothing is wet here, so blotting takes nothing away."))
            else:
                if does.drops is not None:
                    drops = _dropped(parts, drops, does.drops, by_row, table)
                parts = [
                    _treated(part, does, by_row[part.ink].values, table)
                    if not does.wet_only or part.group == group
                    else part
                    for part in parts
                ]
                group_dose = sum(part.dose for part in parts if part.group == group) if does.wet_only else group_dose
                floor_scale *= table[does.floor] if does.floor else 1.0
                pores = max(pores, table[does.pores] if does.pores else 0.0)
                closed = closed or does.closes
        else:
            joins = entry.over is Over.WET
            if joins and closed:
                why = "there is nothing below it" if not parts else "what is below has been dried"
                notes.append(entry_note("wet_on_dry", index, f"{why}, so it counts as laid over dry."))
                joins = False
            if not joins:
                dried = dried.after(together.soaks, group_dose, group_seal)
                group, closed = group + 1, False
                group_dose = group_seal = film_dose = 0.0
                together = Offer()
                take, take_tool = dried.takes(ground, table), dried.takes_by_tool(table)

            chosen = [(*inks[key], share) for key, share in entry.parts if share > 0]
            habit = _mixed(chosen)
            offer, cover = _offer(entry, chosen, habit, ground, table)
            before = together
            for _, prepared, share in chosen:
                together = together.more(offer * share, free_share(prepared.habit))

            def stays(prepared: PreparedInk, of: Offer, dried: Dried = dried) -> float:
                return float(of.stays(free_share(prepared.habit), dried.soaked, ground, table))

            # What stays of a wet group is a mixture of all that was offered to it, so the
            # order of laying does not matter: the earlier ones give way to the later.
            if joins and offer:
                parts = [
                    p.changed(dose=stays(by_row[p.ink], together) / stays(by_row[p.ink], before))
                    if p.group == group and p.by_tool
                    else p
                    for p in parts
                ]
                own = [p for p in parts if p.group == group]
                group_dose = sum(p.dose for p in own)
                film_dose = sum(p.dose * by_row[p.ink].habit.film_share for p in own)
            held = held_up(film_dose, table) if film_dose else 0.0
            laid = 0.0
            new = []
            for row, prepared, share in chosen:
                if entry.dose is not None:
                    dose = entry.dose * (1 - entry.dilution) * share * take
                else:
                    gives = colour_yield(ground, prepared.habit, table) / prepared.amount
                    dose = offer * stays(prepared, together) * share * take_tool * gives
                held_share = held * free_share(prepared.habit) if held else 0.0
                new.append(Part(row, dose, 1.0, cover, held_share, group, entry.dose is None))
                laid += dose
                film_dose += dose * prepared.habit.film_share
            parts = parts + new
            # What the next lay-down of this group meets, weighted by amount.
            seals = sum(p.values["seal"] * share for _, p, share in chosen)
            group_seal = (group_seal * group_dose + seals * laid) / max(group_dose + laid, 1e-12)
            group_dose += laid
        dry = BatchRow(parts, floor_scale, pores, 1.0, treatments)
        found.append(
            Resolved(
                dry=dry,
                drops=None if drops is None else _lifted(dry, drops),
                wet=_wetted(dry, () if closed else (group,), by_row, table) if wet_look else None,
                notes=notes,
                meets=dried.after(together.soaks, group_dose, group_seal),
            )
        )
    return found


def _treated(part: Part, row: TreatmentRow, ink: Mapping[str, float], table: Mapping[str, float]) -> Part:
    """A part after a treatment, beside the drops if it drops water."""
    if row.dose is None and row.scatter is None:
        return part
    return part.changed(
        1.0 if row.dose is None else row.dose(ink, table), 1.0 if row.scatter is None else row.scatter(ink, table)
    )


def _dropped(
    parts: Sequence[Part],
    drops: list[tuple[float, float]] | None,
    effects: tuple[DoseEffect, Effect],
    inks: Mapping[int, PreparedInk],
    table: Mapping[str, float],
) -> list[tuple[float, float]]:
    """Factors on dose and scatter of every part where water was dropped, once more."""
    known = (drops or []) + [(1.0, 1.0)] * (len(parts) - len(drops or []))
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
    habit: Habit,
    ground: Ground,
    table: Mapping[str, float],
) -> tuple[float, float]:
    """Pad impressions offered, and the share of the area covered.

    Cover is relative to the swatch's own: what specks the swatch has are in its
    colour already. An explicit dose is a uniform film, and takes no room from anything.
    """
    if entry.dose is not None or entry.tool is None:
        return 0.0, 1.0
    words = (entry.tool, entry.load, entry.passes)
    offer = offered(*words, habit, table) * (1 - entry.dilution)
    own = sum(prepared.cover * share for _, prepared, share in chosen)
    return offer, max(1e-6, min(1.0, covered(*words, ground, habit, table) / own))


def _lifted(state: BatchRow, drops: list[tuple[float, float]]) -> BatchRow:
    drops = drops + [(1.0, 1.0)] * (len(state.parts) - len(drops))
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


def alone_row(row: BatchRow, ink: int) -> BatchRow:
    """The same stack with only the lay-downs of one ink, at the same doses."""
    kept = [
        Part(part.ink, part.dose, part.scatter, part.cover, 0.0, part.group, part.by_tool)
        for part in row.parts
        if part.ink == ink
    ]
    return BatchRow(kept, row.floor_scale, row.pores, row.vividness, row.treatments)


def lowest_inks(row: BatchRow, inks: Sequence[int]) -> list[bool]:
    """Whether each of the inks lies in lower groups than all others of a row of several."""
    highest = {ink: max(part.group for part in row.parts if part.ink == ink) for ink in inks}
    return [len(inks) > 1 and all(highest[ink] < part.group for part in row.parts if part.ink != ink) for ink in inks]
