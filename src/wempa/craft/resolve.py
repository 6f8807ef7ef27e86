"""From a stack in words to a row of numbers that `optics.stack` takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import exp

import numpy as np

from wempa.optics.grid import Floats, Ints
from wempa.optics.stack import Layers, Stacks

from .amount import Ground, Habit, accepted, capacity, covered, offered
from .job import Entry, LayDown, Note
from .prepare import PreparedInk
from .words import Load, Over, Tool, Treatment


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
class Row:
    """One stack in numbers, bottom first."""

    parts: list[Part] = field(default_factory=list)
    floor_scale: float = 1.0
    pores: float = 0.0
    vividness: float = 1.0
    treatments: int = 0


@dataclass(slots=True)
class Resolved:
    """The dry field of a stack, its drops if water was dropped on it, its wet look."""

    dry: Row
    drops: Row | None
    wet: Row | None
    notes: list[Note]


NOTHING = Resolved(Row(), None, None, [])
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
    # Of the open group: offered before it and to it, weighted capacity, share that stays.
    before = together = whole = 0.0
    kept = 1.0
    offered_so_far = dried_dose = seal = group_dose = group_seal = film_dose = 0.0
    take = 1.0
    group, closed = -1, True
    by_row = dict(inks.values())
    found = [NOTHING]

    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment):
            treatments += 1
            if entry is Treatment.BLOT:
                if closed:
                    notes.append(_note("blot_dry", index, "nothing is wet here, so blotting takes nothing away."))
                else:
                    left = table["blot.dose"]
                    parts = [p.changed(dose=left) if p.group == group else p for p in parts]
                    group_dose *= left
            elif entry is Treatment.HEAT:
                parts = [p.changed(dose=1 - by_row[p.ink].values["heat_paling"]) for p in parts]
                closed = True
            elif entry is Treatment.GLAZE:
                parts = [p.changed(scatter=by_row[p.ink].values["glaze_scatter"]) for p in parts]
                floor_scale *= table["glaze.floor"]
                pores = max(pores, table["glaze.pores"])
                closed = True
            elif entry is Treatment.SPRITZ:
                drops = (drops or []) + [(1.0, 1.0)] * (len(parts) - len(drops or []))
                drops = [
                    (dose * (1 - by_row[p.ink].values["lift"]), scatter * by_row[p.ink].values["milk"])
                    for p, (dose, scatter) in zip(parts, drops, strict=True)
                ]
                parts = [p.changed(dose=1 - table["spritz.field"]) for p in parts]
        else:
            joins = entry.over is Over.WET
            if joins and closed:
                why = "there is nothing below it" if not parts else "what is below has been dried"
                notes.append(_note("wet_on_dry", index, f"{why}, so it counts as laid over dry."))
                joins = False
            if not joins:
                mix = min(1.0, group_dose)
                seal = seal * (1 - mix) + group_seal * mix
                dried_dose += group_dose
                group, closed = group + 1, False
                group_dose = group_seal = film_dose = 0.0
                accepts = ground.takeup + (table["takeup.pigment"] - ground.takeup) * seal
                take = 1 - (1 - accepts) * min(1.0, dried_dose)

            chosen = [(*inks[key], share) for key, share in entry.parts if share > 0]
            habit = _mixed(chosen)
            offer, cover = _offer(entry, chosen, habit, ground, table)
            if not joins:
                before, together, whole, kept = offered_so_far, 0.0, 0.0, 1.0
            offered_so_far += offer
            together += offer
            whole += offer * capacity(ground, habit, table)
            # What stays of a wet group is a mixture of all that was offered to it, so the
            # order of laying does not matter: the earlier ones give way to the later.
            stays = accepted(together, before, whole / together) / together if together else 0.0
            if joins and stays:
                parts = [p.changed(dose=stays / kept) if p.group == group and p.by_tool else p for p in parts]
                own = [p for p in parts if p.group == group]
                group_dose = sum(p.dose for p in own)
                film_dose = sum(p.dose * by_row[p.ink].habit.film_share for p in own)
            kept = stays or kept
            held = 1 - exp(-film_dose / table["held.scale"]) if film_dose else 0.0
            laid = 0.0
            new = []
            for row, prepared, share in chosen:
                if entry.dose is not None:
                    dose = entry.dose * (1 - entry.dilution) * share * take
                else:
                    dose = offer * stays * share * take / prepared.amount
                # Only what soaks through freely can be held up: the dye of a hybrid is
                # bound to its pigment and mixes with it.
                free = max(0.0, 1 - 2 * prepared.habit.film_share)
                new.append(Part(row, dose, 1.0, cover, held * free, group, entry.dose is None))
                laid += dose
                film_dose += dose * prepared.habit.film_share
            parts = parts + new
            # What the next lay-down of this group meets, weighted by amount.
            seals = sum(p.values["seal"] * share for _, p, share in chosen)
            group_seal = (group_seal * group_dose + seals * laid) / max(group_dose + laid, 1e-12)
            group_dose += laid
        dry = Row(parts, floor_scale, pores, 1.0, treatments)
        found.append(
            Resolved(
                dry=dry,
                drops=None if drops is None else _lifted(dry, drops),
                wet=_wetted(dry, group if not closed else -1, by_row, table) if wet_look else None,
                notes=notes,
            )
        )
    return found


def _note(code: str, index: int, text: str) -> Note:
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
    colour already. An explicit dose is a uniform film.
    """
    if entry.dose is not None or entry.tool is None:
        dose = (entry.dose or 0.0) * (1 - entry.dilution)
        return dose * sum(prepared.offer * share for _, prepared, share in chosen), 1.0
    words = (entry.tool, entry.load, entry.passes)
    offer = offered(*words, habit, table) * (1 - entry.dilution)
    own = sum(prepared.cover * share for _, prepared, share in chosen)
    return offer, max(1e-6, min(1.0, covered(*words, ground, habit, table) / own))


def _lifted(state: Row, drops: list[tuple[float, float]]) -> Row:
    drops = drops + [(1.0, 1.0)] * (len(state.parts) - len(drops))
    lifted = [p.changed(dose, scatter) for p, (dose, scatter) in zip(state.parts, drops, strict=True)]
    return Row(lifted, state.floor_scale, state.pores, state.vividness, state.treatments)


def _wetted(state: Row, open_group: int, inks: Mapping[int, PreparedInk], table: Mapping[str, float]) -> Row:
    """The look while the last group is still wet; what it lies on has dried."""
    wet = [p for p in state.parts if p.group == open_group]
    amount = sum(p.dose for p in wet)
    if not amount:
        return state
    reach = 1 - exp(-amount / table["wet.reach"])

    def mean(column: str) -> float:
        return sum(inks[p.ink].values[column] * p.dose for p in wet) / amount

    parts = [p.changed(scatter=inks[p.ink].values["wet_scatter"]) if p.group == open_group else p for p in state.parts]
    return Row(
        parts,
        state.floor_scale * (1 - (1 - table["wet.floor"]) * reach),
        max(state.pores, mean("wet_pores") * reach),
        1 + (mean("wet_vividness") - 1) * reach,
        state.treatments,
    )


@dataclass(frozen=True, slots=True, eq=False)
class Moved:
    """Versions of one row of p parts in g layers, d of them, for margins.

    Only layers that differ from the row's own are held, c of them.
    """

    layer: Ints
    """(d, g), one of the row's own layers, or g + one of the `c`."""
    origin: Ints
    """Which of the row's layers each was made from, (c,)."""
    factors: Floats
    """Factor on the dose of each member, (c, m)."""
    variants: Ints
    """Added to the ink index of each member, (c, m)."""
    totals: Floats
    """Share of each part's dose in the total of each ink, (d, p, k)."""
    cards: Ints
    """(d,)."""


class Batch:
    """Rows gathered for one call of `optics`; a row is held once, however often it is added."""

    def __init__(self) -> None:
        self._places: dict[tuple[int, int], int] = {}
        self._kept: list[tuple[Row, list[int], int]] = []
        # Of each layer its cover, of each member its layer, its place in it, and four numbers.
        self._covers: list[float] = []
        self._layer_of: list[int] = []
        self._place_of: list[int] = []
        self._numbers: list[tuple[int, float, float, float]] = []

    def __len__(self) -> int:
        return len(self._kept)

    def add(self, row: Row, *cards: int) -> list[int]:
        """Take in a row on some cards; returns its places in the batch."""
        layers: list[int] | None = None
        found = []
        for card in cards:
            place = self._places.get((id(row), card))
            if place is None:
                layers = self._layers_of(row) if layers is None else layers
                place = self._places[id(row), card] = len(self._kept)
                self._kept.append((row, layers, card))
            found.append(place)
        return found

    def _layers_of(self, row: Row) -> list[int]:
        """Take in the layers of a row, bottom first; returns their numbers."""
        found: list[int] = []
        group, place, bare = -1, 0, 1.0
        for part in row.parts:
            if part.group != group:
                group, place, bare = part.group, 0, 1.0
                found.append(len(self._covers))
                self._covers.append(part.cover)
            bare *= 1 - part.cover
            if place:
                self._covers[-1] = 1 - bare
            self._layer_of.append(found[-1])
            self._place_of.append(place)
            self._numbers.append((part.ink, part.dose, part.scatter, part.held))
            place += 1
        return found

    def stacks(self, base: int, moved: Moved) -> Stacks:
        """The batch, and behind it the moved versions of its row `base`."""
        row, own, _ = self._kept[base]
        known, count, doubts = len(self._covers), len(self._kept), len(moved.cards)
        groups = max([len(layers) for _, layers, _ in self._kept])
        numbers = np.zeros((known + len(moved.origin), max(self._place_of, default=-1) + 1, 4))
        numbers[..., 2] = 1
        cover = np.array(self._covers)
        layer = np.full((count + doubts, groups), -1, dtype=np.intp)
        layer[:count] = [layers + [-1] * (groups - len(layers)) for _, layers, _ in self._kept]
        # Every row lays down inks of the base only.
        inks = list(_totals(row))
        total = np.zeros((count + doubts, max(1, len(inks))))
        if own:
            numbers[self._layer_of, self._place_of] = self._numbers
            made_from = moved.origin + own[0]
            copies, members = numbers[known:], moved.factors.shape[1]
            copies[:] = numbers[made_from]
            copies[:, :members, 0] += moved.variants
            copies[:, :members, 1] *= moved.factors
            cover = np.concatenate([cover, cover[made_from]])
            at = np.arange(own[0], own[0] + len(own) + len(copies))
            at[len(own) :] = np.arange(known, len(numbers))
            layer[count:, : len(own)] = at[moved.layer]
            total[:count] = [[each.get(ink, 0.0) for ink in inks] for each in [_totals(r) for r, _, _ in self._kept]]
            total[count:] = np.array([part.dose for part in row.parts]) @ moved.totals
        card = np.empty(count + doubts, dtype=np.intp)
        card[:count], card[count:] = [card for _, _, card in self._kept], moved.cards
        looks = [(row.floor_scale, row.pores, row.vividness) for row, _, _ in self._kept]
        ends: tuple[Floats | None, ...] = (None, None, None)
        if any(look != _DRY_LOOK for look in looks):
            ends = tuple(np.array(looks + looks[base : base + 1] * doubts).T)
        return Stacks(
            layers=Layers(
                ink=numbers[..., 0].astype(np.intp),
                dose=numbers[..., 1],
                scatter=numbers[..., 2],
                held=numbers[..., 3],
                cover=cover,
            ),
            layer=layer,
            card=card,
            ink=np.array([inks or [0]] * len(card), dtype=np.intp),
            total=total,
            floor_scale=ends[0],
            pores=ends[1],
            vividness=ends[2],
        )


_DRY_LOOK = (1.0, 0.0, 1.0)


def _totals(row: Row) -> dict[int, float]:
    """Dose of each ink in the whole row, in the order of first use."""
    found: dict[int, float] = {}
    for part in row.parts:
        found[part.ink] = found.get(part.ink, 0.0) + part.dose
    return found


def streak_note(stack: Sequence[Entry], ground: Ground, table: Mapping[str, float]) -> Note | None:
    """The risk that strokes or tool marks stay, with its reason."""
    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment) or entry.tool not in (Tool.BRUSH, Tool.FOAM):
            continue
        mark = "strokes" if entry.tool is Tool.BRUSH else "the foam's edge"
        if entry.load is Load.JUICY:
            return _note("marks_stay", index, f"a juicy load may leave {mark}; blot first and begin off the card.")
        if ground.absorbency <= table["marks.sealed"] and entry.passes >= table["marks.many_passes"]:
            return _note("marks_stay", index, f"on a sealed surface many passes lift ink, and {mark} may stay.")
        if (
            ground.absorbency >= table["marks.thirsty"]
            and entry.load is Load.NORMAL
            and entry.passes <= table["marks.few_passes"]
        ):
            return _note(
                "marks_stay", index, f"thirsty card grips the first touch, so {mark} may stay; use a light load."
            )
    return None
