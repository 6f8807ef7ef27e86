"""Rows of numbers gathered into one call of `optics.stack`."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from wempa.optics.grid import Floats, Ints
from wempa.optics.layers import Layers, NamedLayers
from wempa.optics.stack import Stacks

from .rows import BatchRow


@dataclass(frozen=True, slots=True, eq=False)
class Moved:
    """Versions of one row of p parts in g layers, d of them, for margins.

    Only layers that differ from the row's own are held, c of them.
    """

    layer: Ints
    """(d, g): a layer of the row itself, or g plus the place of one of the `c` changed layers."""
    origin: Ints
    """Which of the row's layers each was made from, (c,)."""
    factors: Floats
    """Factor on the dose of each member, (c, m)."""
    variants: Ints
    """Added to the ink index of each member, (c, m)."""
    bare: Floats
    """Exponent on the share of the area that the layer leaves bare, (c,): as many passes more."""
    totals: Floats
    """Share of each part's dose in the total of each ink, (d, p, k)."""
    cards: Ints
    """(d,)."""


class Batch:
    """Rows that are gathered for one call of `optics`. A row is held once, however often it is added."""

    def __init__(self) -> None:
        self._places: dict[tuple[int, int], int] = {}
        self._rows: list[BatchRow] = []
        self._layouts: list[_Layout] = []
        # The cover of each layer; of each member four numbers and where it stands.
        self._covers: list[float] = []
        self._apart: list[bool] = []
        self._numbers: list[tuple[float, ...]] = []
        self._stand: list[tuple[int, int, int]] = []

    def __len__(self) -> int:
        return len(self._rows)

    def add(self, row: BatchRow, *cards: int) -> list[int]:
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

    def _take_in(self, row: BatchRow, card: int) -> _Layout:
        """Take in the layers of a row, bottom first."""
        first_layer, first_part = len(self._covers), len(self._stand)
        group, layer, place, bare = -1, first_layer - 1, 0, 1.0
        for part in row.parts:
            if part.group != group:
                group, layer, place, bare = part.group, layer + 1, 0, 1.0
                self._covers.append(part.cover)
                self._apart.append(part.apart)
            bare *= 1 - part.cover
            if place:
                self._covers[layer] = 1 - bare
            self._stand.append((part.ink, layer, place))
            self._numbers.append((part.dose, part.scatter, part.held, part.chalk, part.mixed))
            place += 1
        return first_layer, layer + 1, first_part, len(self._stand), card

    def stacks(self, base: int, moved: Moved) -> Stacks:
        """The batch, followed by the moved versions of its row `base`."""
        plan = _plan(base, tuple(self._layouts), tuple(self._stand), moved)
        # A part that is none stands behind the others.
        dose = np.array([*[own for own, *_ in self._numbers], 0.0])
        looks = [(row.floor_scale, row.pores, row.vividness) for row in self._rows]
        ends: tuple[Floats | None, ...] = (None, None, None)
        if any(look != _DRY_LOOK for look in looks):
            ends = tuple(np.array(looks + looks[base : base + 1] * len(moved.cards)).T)
        closed, apart = min(self._covers, default=1.0) == 1, any(self._apart)
        return Stacks(
            layers=NamedLayers(self._runs(base, moved), closed, not apart, lambda: self._layers(plan)),
            layer=plan.layer,
            card=plan.card,
            ink=plan.ink,
            total=(dose @ plan.total).reshape(plan.ink.shape),
            floor_scale=ends[0],
            pores=ends[1],
            vividness=ends[2],
        )

    def _layers(self, plan: _Plan) -> Layers:
        """All layers in numbers."""
        dose, scatter, held, chalk, mixed = np.array([*self._numbers, (0.0, 1.0, 0.0, 0.0, 0.0)]).T
        return Layers(
            ink=plan.member_ink,
            dose=dose[plan.member] * plan.factor,
            scatter=scatter[plan.member],
            held=held[plan.member],
            cover=_covers(self._covers, plan),
            apart=np.array(self._apart)[plan.cover] if any(self._apart) else None,
            chalk=chalk[plan.member] if chalk.any() else None,
            mixed=mixed[plan.member] if mixed.any() else None,
        )

    def _runs(self, base: int, moved: Moved) -> list[tuple[Hashable, int]]:
        """A name for each layer by its numbers, and one name for all moved versions of the row's layers."""
        names: list[tuple[float, ...]] = []
        for (ink, layer, _), numbers in zip(self._stand, self._numbers, strict=True):
            if layer == len(names):
                names.append((self._covers[layer], self._apart[layer], ink, *numbers))
            else:
                names[layer] += (ink, *numbers)
        runs: list[tuple[Hashable, int]] = [(name, 1) for name in names]
        copies = len(moved.origin)
        if copies:
            start, stop, _, _, _ = self._layouts[base]
            runs.append(((moved, *names[start:stop]), copies))
        return runs


def _covers(covers: list[float], plan: _Plan) -> Floats:
    """The cover of each layer. A hand that goes once more leaves fewer bare places, if there are any."""
    own = np.array(covers)[plan.cover] if covers else np.empty(0)
    return own if not len(own) or own.min() == 1 else np.asarray(1 - (1 - own) ** plan.bare)


_DRY_LOOK = (1.0, 0.0, 1.0)


_Layout = tuple[int, int, int, int, int]
"""Where a row's layers and parts begin and end in the batch, and its card."""


@dataclass(frozen=True, slots=True, eq=False)
class _Plan:
    """The plan of a batch: everything in it that does not depend on amounts."""

    member: Ints
    """Which part is each member of each layer, (l, m)."""
    member_ink: Ints
    factor: Floats
    """On the member's dose, (l, m)."""
    cover: Ints
    """Which of the layers taken in gives the cover of each layer, (l,)."""
    bare: Floats
    """Exponent on what it leaves bare, (l,)."""
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

    # Every row lays down only inks of the base row.
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
        bare=np.concatenate([np.ones(known), moved.bare]),
        layer=layer,
        card=np.concatenate([[card for _, _, _, _, card in layouts], moved.cards]).astype(np.intp),
        ink=np.broadcast_to(np.array(inks or [0], dtype=np.intp), (count + doubts, max(1, len(inks)))),
        total=total.reshape(len(stand) + 1, -1),
    )


_Member = tuple[int, float, float, float, float, bool, float, float]
"""A part of a layer in numbers, but for its group and its patches."""


def gather(rows: Sequence[BatchRow]) -> Stacks:
    """Any rows as one batch on card 0; equal layers are held once.

    For many rows of many inks; `Batch` is for one row and its doubts.
    """
    places: dict[tuple[_Member, ...], int] = {}
    stacks: list[list[int]] = []
    totals: list[dict[int, float]] = []
    for row in rows:
        found: list[int] = []
        total: dict[int, float] = {}
        layer: list[_Member] = []
        group = -1
        for part in row.parts:
            if part.group != group and layer:
                found.append(places.setdefault(tuple(layer), len(places)))
                layer = []
            group = part.group
            layer.append((part.ink, part.dose, part.scatter, part.held, part.cover, part.apart, part.chalk, part.mixed))
            total[part.ink] = total.get(part.ink, 0.0) + part.dose
        if layer:
            found.append(places.setdefault(tuple(layer), len(places)))
        stacks.append(found)
        totals.append(total)
    width = max([len(members) for members in places], default=1)
    groups = max([len(found) for found in stacks], default=0)
    inks = max([len(total) for total in totals], default=0) or 1
    nothing = (0, 0.0, 1.0, 0.0, 0.0, False, 0.0, 0.0)
    numbers = np.array([[*members, *[nothing] * (width - len(members))] for members in places]).reshape(-1, width, 8)
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
            apart=numbers[:, 0, 5] > 0 if numbers[..., 5].any() else None,
            chalk=np.ascontiguousarray(numbers[..., 6]) if numbers[..., 6].any() else None,
            mixed=np.ascontiguousarray(numbers[..., 7]) if numbers[..., 7].any() else None,
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
