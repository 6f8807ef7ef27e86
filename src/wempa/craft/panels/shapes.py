"""Shapes in millimetres: openings of stencils, marks of stamps, drops, and what a panel is cut to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, floor, pi, radians, sin

import numpy as np

from wempa.craft.errors import JobError
from wempa.craft.limits import MIN_STEP_MM
from wempa.craft.vocabulary import Motif, Opening
from wempa.optics.grid import Bools, Floats

Ring = tuple[tuple[float, float], ...]
"""Corners of a closed outline."""
_ROUND = 72


def heart() -> Ring:
    """A heart in a unit square about the origin, point down (a classical parametric curve)."""
    turns = [2 * pi * k / _ROUND for k in range(_ROUND)]
    xs = [16 * sin(t) ** 3 for t in turns]
    ys = [-(13 * cos(t) - 5 * cos(2 * t) - 2 * cos(3 * t) - cos(4 * t)) for t in turns]
    return _in_unit_square([tuple(zip(xs, ys, strict=True))])[0]


def _in_unit_square(rings: Sequence[Ring]) -> tuple[Ring, ...]:
    """Outlines moved and stretched alike both ways, so that the longer side is 1 and the middle 0."""
    corners = [corner for ring in rings for corner in ring]
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    size = max(max(xs) - min(xs), max(ys) - min(ys))
    if not size > 0:
        raise JobError("the shape has no size", ("path",))
    middle = (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2
    return tuple([tuple([((x - middle[0]) / size, (y - middle[1]) / size) for x, y in ring]) for ring in rings])


def opening(kind: Opening, width: float, height: float, own: Sequence[Ring] = ()) -> tuple[Ring, ...]:
    """The outline of a shape of such a size about the origin, mm.

    A banner is cut in at its foot by a third of its width. `own` are the outlines of an own
    shape, in any unit; it keeps its proportions and fits into width and height.

    Raises
    ------
    JobError
        A size is not above 0, or an own shape has none.
    """
    if not (width > 0 and height > 0):
        raise JobError("a window is wider and higher than 0 mm", ("window",))
    x, y = width / 2, height / 2
    if kind is Opening.RECTANGLE:
        return (((-x, -y), (x, -y), (x, y), (-x, y)),)
    if kind is Opening.BANNER:
        return (((-x, -y), (x, -y), (x, y), (0, y - width / 3), (-x, y)),)
    if kind is Opening.CIRCLE:
        turns = [2 * pi * k / _ROUND for k in range(_ROUND)]
        return (tuple([(x * cos(t), y * sin(t)) for t in turns]),)
    if kind is Opening.HEART:
        return (tuple([(width * a, height * b) for a, b in heart()]),)
    if not own:
        raise JobError("an own shape needs a path", ("path",))
    size = min(width, height)
    return tuple([tuple([(size * a, size * b) for a, b in ring]) for ring in _in_unit_square(own)])


def moved(rings: Sequence[Ring], x: float, y: float) -> tuple[Ring, ...]:
    """Outlines moved by (x, y) mm."""
    return tuple([tuple([(a + x, b + y) for a, b in ring]) for ring in rings])


def inside(rings: Sequence[Ring], x: Floats, y: Floats) -> Bools:
    """Which spots of a grid, x (1, columns) and y (rows, 1), lie inside outlines (even-odd rule), (rows, columns).

    Every edge flips what lies to its right in the rows that it crosses.
    """
    xs, ys = x.reshape(-1), y.reshape(-1)
    flips = np.zeros((len(ys), len(xs) + 1), dtype=np.int32)
    for ring in rings:
        corners = np.asarray(ring, dtype=np.float64)
        for (x0, y0), (x1, y1) in zip(corners, np.roll(corners, -1, axis=0), strict=True):
            low, high = (y0, y1) if y0 < y1 else (y1, y0)
            rows = np.arange(*np.searchsorted(ys, [low, high]))
            if len(rows):
                cross = x0 + (ys[rows] - y0) / (y1 - y0) * (x1 - x0)
                np.add.at(flips, (rows, np.searchsorted(xs, cross)), 1)
    return np.asarray(np.cumsum(flips, axis=1)[:, :-1] % 2 == 1)


@dataclass(frozen=True, slots=True)
class Region:
    """Where a layer on top of a panel lies."""

    motif: Motif = Motif.ALL
    size: float = 8.0
    """Across one motif, mm; of lines their width."""
    step: float = 16.0
    """From one motif to the next, mm."""
    own: tuple[Ring, ...] = ()
    """Outlines of an own motif, in any unit."""
    x: float = 0.0
    """How far all of it is moved to the right, mm."""
    y: float = 0.0
    turn: float = 0.0
    """Degrees by which all of it is turned about its first motif, to the right."""

    def check(self) -> None:
        """Raise `JobError` unless the motifs have a size and stand apart."""
        if self.motif is not Motif.ALL and not (self.size > 0 and self.step >= MIN_STEP_MM):
            raise JobError(f"a motif is wider than 0 mm, and the next is {MIN_STEP_MM} mm away or more", ("tops",))
        if self.motif is Motif.OWN and not self.own:
            raise JobError("an own motif needs a path", ("tops",))


EVERYWHERE = Region()


def mask(region: Region, x: Floats, y: Floats) -> Bools:
    """Which spots, x (1, columns) and y (rows, 1) in mm, the region covers, (rows, columns).

    Motifs stand in rows, every other row shifted by half a step; drops lie and vary as chance has
    it, the same each time.
    """
    region.check()
    shape = np.broadcast_shapes(x.shape, y.shape)
    if region.motif is Motif.ALL:
        return np.ones(shape, dtype=np.bool_)
    size, step = region.size, region.step
    x, y = _turned_back(region, x, y)
    if region.motif is Motif.LINES:
        return np.broadcast_to((x + y) / np.sqrt(2) % step < min(size, step), shape)
    if region.motif is Motif.DROPS:
        return _drops(size, step, x, y)
    row = np.floor(y / step)
    shifted = x + step / 2 * (row % 2)
    column = np.floor(shifted / step)
    dx, dy = shifted - (column + 0.5) * step, y - (row + 0.5) * step
    if region.motif is Motif.DOTS:
        return np.asarray(np.hypot(dx, dy) <= size / 2)
    outline = [heart()] if region.motif is Motif.HEARTS else _in_unit_square(region.own)
    # One motif painted finely, and looked up for all.
    fine = (np.arange(256) + 0.5) / 256 - 0.5
    one = inside(outline, fine[None], fine[:, None])
    column_of, row_of = (np.floor((off / size + 0.5) * 256).astype(np.intp) for off in (dx, dy))
    within = (column_of >= 0) & (column_of < 256) & (row_of >= 0) & (row_of < 256)
    return np.asarray(within & one[np.clip(row_of, 0, 255), np.clip(column_of, 0, 255)])


def first_motif(region: Region) -> tuple[float, float]:
    """The middle of the motif by which all of them are held, moved and turned, mm."""
    return region.x + region.step / 2, region.y + region.step / 2


def _turned_back(region: Region, x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """Spots as they lie to motifs that were neither moved nor turned."""
    if not region.turn or region.motif is Motif.DROPS:
        # Drops are round and lie as chance has it.
        return x - region.x, y - region.y
    (cx, cy), turned, half = first_motif(region), radians(region.turn), region.step / 2
    dx, dy = x - cx, y - cy
    return dx * cos(turned) + dy * sin(turned) + half, dy * cos(turned) - dx * sin(turned) + half


def _drops(size: float, step: float, x: Floats, y: Floats) -> Bools:
    """One drop to a square of `step` mm, somewhere in it, from a third of `size` to all of it."""
    xs, ys = x.reshape(-1), y.reshape(-1)
    here = np.zeros((len(ys), len(xs)), dtype=np.bool_)
    for row in range(int(ys[0] // step) - 1, int(ys[-1] // step) + 2):
        for column in range(int(xs[0] // step) - 1, int(xs[-1] // step) + 2):
            off_x, off_y, much = (_chance(row, column, k) for k in range(3))
            at = (column + 0.5 + 0.8 * (off_x - 0.5)) * step, (row + 0.5 + 0.8 * (off_y - 0.5)) * step
            radius = size / 2 * (0.35 + 0.65 * much)
            across = slice(*np.searchsorted(xs, [at[0] - radius, at[0] + radius]))
            down = slice(*np.searchsorted(ys, [at[1] - radius, at[1] + radius]))
            here[down, across] |= (xs[None, across] - at[0]) ** 2 + (ys[down, None] - at[1]) ** 2 <= radius**2
    return here


def _chance(row: int, column: int, salt: int) -> float:
    """A number 0–1 for a cell that looks like chance and is the same each time."""
    turned = sin(row * 127.1 + column * 311.7 + salt * 74.7) * 43758.5453
    return turned - floor(turned)
