"""From a stack in words to a row of numbers that `optics.stack` takes."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from math import exp

import numpy as np

from wempa.optics.grid import Floats, Ints
from wempa.optics.stack import Layers, Stacks

from .amount import BARE, Dried, Ground, Habit, accepted, capacity, covered, free_share, held_up, offered
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
    meets: Dried = BARE
    """What a lay-down over it meets once it has dried."""


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
    together = whole = 0.0
    kept = take = 1.0
    group_dose = group_seal = film_dose = 0.0
    dried = BARE
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
                dried = dried.after(together, group_dose, group_seal)
                group, closed = group + 1, False
                group_dose = group_seal = film_dose = 0.0
                together, whole, kept = 0.0, 0.0, 1.0
                take = dried.takes(ground, table)

            chosen = [(*inks[key], share) for key, share in entry.parts if share > 0]
            habit = _mixed(chosen)
            offer, cover = _offer(entry, chosen, habit, ground, table)
            together += offer
            whole += offer * capacity(ground, habit, table)
            # What stays of a wet group is a mixture of all that was offered to it, so the
            # order of laying does not matter: the earlier ones give way to the later.
            stays = accepted(together, dried.offered, whole / together) / together if together else 0.0
            if joins and stays:
                parts = [p.changed(dose=stays / kept) if p.group == group and p.by_tool else p for p in parts]
                own = [p for p in parts if p.group == group]
                group_dose = sum(p.dose for p in own)
                film_dose = sum(p.dose * by_row[p.ink].habit.film_share for p in own)
            kept = stays or kept
            held = held_up(film_dose, table) if film_dose else 0.0
            laid = 0.0
            new = []
            for row, prepared, share in chosen:
                if entry.dose is not None:
                    dose = entry.dose * (1 - entry.dilution) * share * take
                else:
                    dose = offer * stays * share * take / prepared.amount
                held_share = held * free_share(prepared.habit) if held else 0.0
                new.append(Part(row, dose, 1.0, cover, held_share, group, entry.dose is None))
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
                wet=_wetted(dry, () if closed else (group,), by_row, table) if wet_look else None,
                notes=notes,
                meets=dried.after(together, group_dose, group_seal),
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


def all_wet(state: Row, inks: Mapping[str, tuple[int, PreparedInk]], table: Mapping[str, float]) -> Row:
    """The look of a dry row were all of it still wet, as after quick work."""
    return _wetted(state, {p.group for p in state.parts}, dict(inks.values()), table)


def _wetted(state: Row, groups: Collection[int], inks: Mapping[int, PreparedInk], table: Mapping[str, float]) -> Row:
    """The look while some groups are still wet; what they lie on has dried."""
    wet = [p for p in state.parts if p.group in groups]
    amount = sum(p.dose for p in wet)
    if not amount:
        return state
    reach = 1 - exp(-amount / table["wet.reach"])

    def mean(column: str) -> float:
        return sum(inks[p.ink].values[column] * p.dose for p in wet) / amount

    parts = [p.changed(scatter=inks[p.ink].values["wet_scatter"]) if p.group in groups else p for p in state.parts]
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
        self._rows: list[Row] = []
        self._layouts: list[_Layout] = []
        # Of each layer its cover, of each member four numbers and where it stands.
        self._covers: list[float] = []
        self._numbers: list[tuple[float, float, float]] = []
        self._stand: list[tuple[int, int, int]] = []

    def __len__(self) -> int:
        return len(self._rows)

    def add(self, row: Row, *cards: int) -> list[int]:
        """Take in a row on some cards; returns its places in the batch."""
        layout: _Layout | None = None
        found = []
        for card in cards:
            place = self._places.get((id(row), card))
            if place is None:
                layout = self._take_in(row, card) if layout is None else (*layout[:-1], card)
                place = self._places[id(row), card] = len(self._rows)
                self._rows.append(row)
                self._layouts.append(layout)
            found.append(place)
        return found

    def _take_in(self, row: Row, card: int) -> _Layout:
        """Take in the layers of a row, bottom first."""
        first_layer, first_part = len(self._covers), len(self._stand)
        group, place, bare = -1, 0, 1.0
        for part in row.parts:
            if part.group != group:
                group, place, bare = part.group, 0, 1.0
                self._covers.append(part.cover)
            bare *= 1 - part.cover
            if place:
                self._covers[-1] = 1 - bare
            self._stand.append((part.ink, len(self._covers) - 1, place))
            self._numbers.append((part.dose, part.scatter, part.held))
            place += 1
        return first_layer, len(self._covers), first_part, len(self._stand), card

    def stacks(self, base: int, moved: Moved) -> Stacks:
        """The batch, and behind it the moved versions of its row `base`."""
        plan = _plan(base, tuple(self._layouts), tuple(self._stand), moved)
        # Behind the parts one that is none.
        dose, scatter, held = np.array([*self._numbers, (0.0, 1.0, 0.0)]).T
        looks = [(row.floor_scale, row.pores, row.vividness) for row in self._rows]
        ends: tuple[Floats | None, ...] = (None, None, None)
        if any(look != _DRY_LOOK for look in looks):
            ends = tuple(np.array(looks + looks[base : base + 1] * len(moved.cards)).T)
        return Stacks(
            layers=Layers(
                ink=plan.member_ink,
                dose=dose[plan.member] * plan.factor,
                scatter=scatter[plan.member],
                held=held[plan.member],
                cover=np.array(self._covers)[plan.cover] if self._covers else np.empty(0),
            ),
            layer=plan.layer,
            card=plan.card,
            ink=plan.ink,
            total=(dose @ plan.total).reshape(plan.ink.shape),
            floor_scale=ends[0],
            pores=ends[1],
            vividness=ends[2],
        )


_DRY_LOOK = (1.0, 0.0, 1.0)
_Layout = tuple[int, int, int, int, int]
"""Where a row's layers and parts begin and end in the batch, and its card."""


@dataclass(frozen=True, slots=True, eq=False)
class _Plan:
    """How a batch is put together: all of it that does not depend on amounts."""

    member: Ints
    """Which part is each member of each layer, (l, m)."""
    member_ink: Ints
    factor: Floats
    """On the member's dose, (l, m)."""
    cover: Ints
    """Which of the layers taken in gives the cover of each layer, (l,)."""
    layer: Ints
    card: Ints
    ink: Ints
    """The inks of the base row for each stack, (b, k)."""
    total: Floats
    """From the doses of the parts to the totals, (p, b·k)."""


@lru_cache(256)
def _plan(base: int, layouts: tuple[_Layout, ...], stand: tuple[tuple[int, int, int], ...], moved: Moved) -> _Plan:
    """The plan of a batch of rows so laid out, with the moved versions of its row `base` behind."""
    known = max([stop for _, stop, _, _, _ in layouts], default=0)
    count, doubts, copies = len(layouts), len(moved.cards), len(moved.origin)
    start, stop, first, last, _ = layouts[base]
    width = max([place + 1 for _, _, place in stand], default=0)
    member = np.full((known + copies, width), len(stand), dtype=np.intp)
    for part, (_, layer_of, place) in enumerate(stand):
        member[layer_of, place] = part
    made_from = moved.origin + start
    member[known:] = member[made_from]
    member_ink = np.array([*(ink for ink, _, _ in stand), 0], dtype=np.intp)[member]
    factor = np.ones(member.shape)
    members = moved.factors.shape[1] if copies else 0
    member_ink[known:, :members] += moved.variants
    factor[known:, :members] = moved.factors

    groups = max([stop - start for start, stop, _, _, _ in layouts])
    layer = np.full((count + doubts, groups), -1, dtype=np.intp)
    for row, (begin, end, _, _, _) in enumerate(layouts):
        layer[row, : end - begin] = np.arange(begin, end)
    at = np.concatenate([np.arange(start, stop), np.arange(known, known + copies)])
    if stop > start:
        layer[count:, : stop - start] = at[moved.layer]

    # Every row lays down inks of the base only.
    inks = list(dict.fromkeys(ink for ink, _, _ in stand[first:last]))
    total = np.zeros((len(stand) + 1, count + doubts, max(1, len(inks))))
    for row, (_, _, begin, end, _) in enumerate(layouts):
        for part in range(begin, end):
            if stand[part][0] in inks:
                total[part, row, inks.index(stand[part][0])] = 1
    if inks:
        total[first:last, count:] = moved.totals.transpose(1, 0, 2)
    return _Plan(
        member=member,
        member_ink=member_ink,
        factor=factor,
        cover=np.concatenate([np.arange(known), made_from]),
        layer=layer,
        card=np.concatenate([[card for _, _, _, _, card in layouts], moved.cards]).astype(np.intp),
        ink=np.tile(np.array(inks or [0], dtype=np.intp), (count + doubts, 1)),
        total=total.reshape(len(stand) + 1, -1),
    )


def gather(rows: Sequence[Row]) -> Stacks:
    """Any rows as one batch on card 0; equal layers are held once.

    For many rows of many inks; `Batch` is for one row and its doubts.
    """
    places: dict[tuple[tuple[int, float, float, float, float], ...], int] = {}
    stacks: list[list[int]] = []
    totals: list[dict[int, float]] = []
    for row in rows:
        found: list[int] = []
        total: dict[int, float] = {}
        layer: list[tuple[int, float, float, float, float]] = []
        group = -1
        for part in row.parts:
            if part.group != group and layer:
                found.append(places.setdefault(tuple(layer), len(places)))
                layer = []
            group = part.group
            layer.append((part.ink, part.dose, part.scatter, part.held, part.cover))
            total[part.ink] = total.get(part.ink, 0.0) + part.dose
        if layer:
            found.append(places.setdefault(tuple(layer), len(places)))
        stacks.append(found)
        totals.append(total)
    width = max([len(members) for members in places], default=1)
    groups = max([len(found) for found in stacks], default=0)
    inks = max([len(total) for total in totals], default=0) or 1
    nothing = (0, 0.0, 1.0, 0.0, 0.0)
    numbers = np.array([[*members, *[nothing] * (width - len(members))] for members in places]).reshape(-1, width, 5)
    looks = [(row.floor_scale, row.pores, row.vividness) for row in rows]
    ends: tuple[Floats | None, ...] = (None, None, None)
    if any(look != _DRY_LOOK for look in looks):
        ends = tuple(np.array(looks).T)
    return Stacks(
        layers=Layers(
            ink=numbers[..., 0].astype(np.intp),
            dose=np.ascontiguousarray(numbers[..., 1]),
            scatter=np.ascontiguousarray(numbers[..., 2]),
            held=np.ascontiguousarray(numbers[..., 3]),
            cover=1 - np.prod(1 - numbers[..., 4], axis=1),
        ),
        layer=np.array([[*found, *[-1] * (groups - len(found))] for found in stacks], dtype=np.intp).reshape(
            len(rows), groups
        ),
        card=np.zeros(len(rows), dtype=np.intp),
        ink=np.array([[*total, *[0] * (inks - len(total))] for total in totals], dtype=np.intp).reshape(-1, inks),
        total=np.array([[*total.values(), *[0.0] * (inks - len(total))] for total in totals]).reshape(-1, inks),
        floor_scale=ends[0],
        pores=ends[1],
        vividness=ends[2],
    )


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
