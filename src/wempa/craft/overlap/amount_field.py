"""How much of each: two inks of a stack in every amount against one another, and where the mud begins."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft.errors import JobError
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.limits import MAX_DOSE, MAX_PASSES
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.verdict import CLEAN, MUTED
from wempa.craft.vocabulary import FieldZone, Over
from wempa.optics.grid import Bools, Floats, Ints

# The most steps of an axis, and how far an axis reaches at least: in passes, and as a factor on a dose.
_STEPS, _PASSES, _FACTOR = 15, 4, 2.0
# A zone that is smaller than this share of the field is not worth a name.
_NAMED = 0.04
Segment = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True)
class AmountAxis:
    """One lay-down in its amounts."""

    entry: int
    """Its place in the stack."""
    amounts: tuple[float, ...]
    """Passes, or doses, from none at all."""
    now: int
    """Which is nearest to what is laid."""
    by_dose: bool


@dataclass(frozen=True, slots=True, eq=False)
class AmountField:
    """Two lay-downs in every amount against one another: r rows up, c columns across."""

    across: AmountAxis
    up: AmountAxis
    step: AmountAxis | None
    """A third lay-down, in one of its amounts; None where there is none."""
    at: int
    """Which amount of the third."""
    lab: Floats
    """(r, c, 3)."""
    mud: Floats
    """(r, c)."""
    kind: Ints
    """(r, c), index into `verdict.KINDS`."""
    border: tuple[Segment, ...]
    """Where mud begins: pieces of a line from x, y to x, y, in steps of both axes."""
    named: tuple[tuple[FieldZone, float, float], ...]
    """Zones large enough for a name, and where in each it stands, in steps."""


def amount_axis(stack: Sequence[Entry], entry: int) -> AmountAxis:
    """The amounts of a lay-down that a hand can lay: whole passes, or twentieths of a dose."""
    lay = stack[entry]
    assert isinstance(lay, LayDown)
    if lay.dose is not None:
        most = min(MAX_DOSE, max(_FACTOR * lay.dose, 1.0))
        amounts = np.unique(np.round(np.linspace(0, most, _STEPS) * 20) / 20)
        own = lay.dose
    else:
        most = min(float(MAX_PASSES), max(np.ceil(_FACTOR * lay.passes), _PASSES))
        amounts = np.unique(np.round(np.linspace(0, most, int(min(_STEPS, most + 1)))))
        own = lay.passes
    return AmountAxis(entry, tuple(amounts.tolist()), int(np.argmin(np.abs(amounts - own))), lay.dose is not None)


def with_amounts(stack: Sequence[Entry], amounts: dict[int, float]) -> tuple[Entry, ...]:
    """The stack with given amounts of some entries, passes or doses as each is laid; entries at 0 are left out."""
    found: list[Entry] = []
    for index, entry in enumerate(stack):
        if index not in amounts or not isinstance(entry, LayDown):
            found.append(entry)
        elif amounts[index] > 0:
            own = {"dose": amounts[index]} if entry.dose is not None else {"passes": amounts[index]}
            found.append(replace(entry, **own))  # type: ignore[arg-type]
    # The lowest lay-down has nothing wet below it; and if a lay-down is left out, nothing comes into its wet.
    gone = {index for index, amount in amounts.items() if amount <= 0}
    first = next((k for k, entry in enumerate(found) if isinstance(entry, LayDown)), None)
    if gone and first is not None:
        lowest = found[first]
        if isinstance(lowest, LayDown) and lowest.over is Over.WET:
            found[first] = replace(lowest, over=Over.DRY)
    return tuple(found)


def amount_field(job: Job, at: int | None = None, wanted: Floats | None = None) -> AmountField:
    """The two lowest lay-downs of different inks against one another, the next one in step `at`.

    `at` is a place among the amounts of the third, as laid if not given; `wanted` is what
    `prediction.prepare.wanted_colours` gives.

    Raises
    ------
    JobError
        There are no two different inks, or the third has no such step.
    """
    places: list[int] = []
    seen: set[object] = set()
    for index, entry in enumerate(job.stack):
        if isinstance(entry, LayDown) and entry.parts not in seen:
            seen.add(entry.parts)
            places.append(index)
    if len(places) < 2:
        raise JobError("How much of each takes two inks: lay down one more.")
    across, up = (amount_axis(job.stack, index) for index in places[:2])
    step = amount_axis(job.stack, places[2]) if len(places) > 2 else None
    chosen = 0 if step is None else step.now if at is None else at
    if step is not None and not 0 <= chosen < len(step.amounts):
        raise JobError(f"the third ink has {len(step.amounts)} steps, from 0", ("at",))
    third = {} if step is None else {step.entry: step.amounts[chosen]}
    stacks = [
        with_amounts(job.stack, {across.entry: x, up.entry: y, **third}) for y in up.amounts for x in across.amounts
    ]
    found = weigh_stacks(replace(job, stash=Stash(), fixes=False), stacks, wanted)
    shape = (len(up.amounts), len(across.amounts))
    mud, kind = found.mud.reshape(shape), found.kind.reshape(shape)
    return AmountField(
        across,
        up,
        step,
        chosen,
        found.lab.reshape(*shape, 3),
        mud,
        kind,
        tuple(contour(mud, job.mud_line)),
        tuple(_named(mud >= job.mud_line, kind)),
    )


def contour(values: Floats, level: float) -> list[Segment]:
    """Where values (r, c) come to a level: pieces of a line in steps, by marching squares.

    Between two neighbours the line crosses where the straight line between them does; of a
    square with two opposite corners above the middle decides which are joined.
    """
    above = values >= level
    found: list[Segment] = []
    for j, i in np.ndindex(values.shape[0] - 1, values.shape[1] - 1):
        corners = [(i, j), (i + 1, j), (i + 1, j + 1), (i, j + 1)]
        crossings: list[tuple[float, float]] = []
        for (x0, y0), (x1, y1) in zip(corners, [*corners[1:], corners[0]], strict=True):
            if above[y0, x0] != above[y1, x1]:
                share = float((level - values[y0, x0]) / (values[y1, x1] - values[y0, x0]))
                crossings.append((x0 + share * (x1 - x0), y0 + share * (y1 - y0)))
        if len(crossings) == 4 and (values[j : j + 2, i : i + 2].mean() >= level) != above[j, i]:
            crossings = [*crossings[1:], crossings[0]]
        found += [(*one, *other) for one, other in zip(crossings[::2], crossings[1::2], strict=True)]
    return found


def _named(muddy: Bools, kind: Ints) -> list[tuple[FieldZone, float, float]]:
    """Zones with a place for their names: in each the place that is farthest from its border."""
    # Along the axes there is only one ink, of which nothing needs to be said.
    inner = np.ones(kind.shape, dtype=np.bool_)
    inner[0], inner[:, 0] = False, False
    zones: dict[FieldZone, Bools] = {
        FieldZone.LOVELY: inner & ~muddy & (kind == CLEAN),
        FieldZone.DUSKY: inner & ~muddy & (kind == MUTED),
        FieldZone.MUD: inner & muddy,
    }
    found = []
    for zone, own in zones.items():
        if own.sum() < _NAMED * own.size:
            continue
        # Outside of the field counts as another zone, or names would stand in corners.
        wide = np.pad(own, 1)
        here, others = np.argwhere(own), np.argwhere(~wide) - 1
        apart = np.abs(here[:, None] - others[None]).max(axis=2).min(axis=1)
        deep = here[apart == apart.max()]
        row, column = deep[int(np.argmin(((deep - deep.mean(axis=0)) ** 2).sum(axis=1)))].tolist()
        found.append((zone, float(column), float(row)))
    return found
