"""A card front, and where on the line across its bands every spot of it lies."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, hypot, pi, radians, sin

import numpy as np

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_SIDE_MM, MIN_SIDE_MM
from wempa.craft.vocabulary import BandLine, Layout
from wempa.optics.grid import Floats

from .bands import across

# A picture is no finer than this, however much is asked for.
_MOST_PIXELS = 25_000_000
Box = tuple[float, float, float, float]
"""Left, top, right, bottom in mm from the top left corner of the front."""


@dataclass(frozen=True, slots=True)
class Front:
    """The inked area of a card front, and how its bands lie on it."""

    width: float
    """Millimetres."""
    height: float
    layout: Layout = Layout.STRAIGHT
    angle: float = 0.0
    """Degrees: of straight bands from upright; of a fan, where its first band begins."""
    centre: tuple[float, float] = (0.5, 0.5)
    """Of rings and fans, as shares of width and height from the top left; (0, 0) is a corner."""

    def length(self) -> float:
        """The line across the bands, mm: side to side, centre to the farthest corner, edge to middle.

        Of a fan it is the way round at half the height, so that widths of its bands are
        what one measures there.

        Raises
        ------
        JobError
            A side is shorter than `MIN_SIDE_MM`, or longer than `MAX_SIDE_MM`.
        """
        for name, side in (("wide", self.width), ("high", self.height)):
            if not MIN_SIDE_MM <= side <= MAX_SIDE_MM:
                raise JobError(
                    f"a panel is {MIN_SIDE_MM} to {MAX_SIDE_MM} mm wide and high, not {side:.4g} mm {name}", ("size",)
                )
        line = self.layout.row.line
        if line is BandLine.ACROSS:
            return across(self.width, self.height, self.angle)
        if line is BandLine.INWARDS:
            return min(self.width, self.height) / 2
        x, y = self.centre[0] * self.width, self.centre[1] * self.height
        if line is BandLine.ROUND:
            return 2 * pi * self.height / 2
        return max(hypot(a - x, b - y) for a in (0, self.width) for b in (0, self.height))

    @property
    def closed(self) -> bool:
        """Whether the last band meets the first."""
        return self.layout.row.line is BandLine.ROUND and self.centre == (0.5, 0.5)

    @property
    def whole(self) -> Box:
        """All of it."""
        return (0.0, 0.0, self.width, self.height)


def spots(box: Box, per_mm: float) -> tuple[Floats, Floats]:
    """Middles of the pixels of a part of a front, mm: x (1, columns) and y (rows, 1).

    Raises
    ------
    JobError
        The part has no size, or the picture would be too large.
    """
    left, top, right, bottom = box
    if right <= left or bottom <= top or per_mm <= 0:
        raise JobError("a picture needs a width and a height above 0 mm", ("size",))
    rows, columns = (max(1, round(side * per_mm)) for side in (bottom - top, right - left))
    if rows * columns > _MOST_PIXELS:
        raise JobError("the picture would be too large; take fewer dots per inch", ("size",))
    x = left + (np.arange(columns) + 0.5) / columns * (right - left)
    y = top + (np.arange(rows) + 0.5) / rows * (bottom - top)
    return x[None], y[:, None]


def coordinates(front: Front, x: Floats, y: Floats, lean: float = 0.0) -> Floats:
    """Where on the line spots lie, mm, in the shape that x and y make together.

    `lean` turns the bands of a flat layout by so many degrees about the middle, more than
    their own angle.
    """
    line = front.layout.row.line
    if line is BandLine.INWARDS:
        return np.minimum(np.minimum(x, front.width - x), np.minimum(y, front.height - y))
    if line is BandLine.ACROSS:
        turned = radians(front.angle + lean)
        # From the middle, so that the line ends at the corners whichever way it leans.
        off = (x - front.width / 2) * cos(turned) + (y - front.height / 2) * sin(turned)
        return np.asarray(off + front.length() / 2)
    dx, dy = x - front.centre[0] * front.width, y - front.centre[1] * front.height
    if line is BandLine.OUTWARDS:
        return np.hypot(dx, dy)
    turn = (np.degrees(np.arctan2(dy, dx)) - front.angle) % 360
    return np.asarray(turn / 360 * front.length())
