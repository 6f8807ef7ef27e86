"""A panel as a picture: every spot of it is a place on the line across its bands."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, hypot, pi, radians, sin

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point

from .job import JobError
from .panel import Line, across
from .words import Layout

# A picture is no finer than this, however much is asked for.
_MOST_PIXELS = 40_000_000


@dataclass(frozen=True, slots=True)
class Front:
    """A card front, and how its bands lie on it."""

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
        """
        if self.layout is Layout.STRAIGHT:
            return across(self.width, self.height, self.angle)
        if self.layout is Layout.EDGE:
            return min(self.width, self.height) / 2
        x, y = self.centre[0] * self.width, self.centre[1] * self.height
        if self.layout is Layout.FAN:
            return 2 * pi * self.height / 2
        return max(hypot(a - x, b - y) for a in (0, self.width) for b in (0, self.height))

    @property
    def closed(self) -> bool:
        """Whether the last band meets the first."""
        return self.layout is Layout.FAN and self.centre == (0.5, 0.5)


def coordinates(front: Front, per_mm: float) -> Floats:
    """Where on the line every pixel lies, mm, (rows, columns), from the top left.

    Raises
    ------
    JobError
        The panel has no size, or the picture would be too large.
    """
    if front.width <= 0 or front.height <= 0 or per_mm <= 0:
        raise JobError("a panel needs a width and a height above 0 mm", ("size",))
    rows, columns = (max(1, round(side * per_mm)) for side in (front.height, front.width))
    if rows * columns > _MOST_PIXELS:
        raise JobError("the picture would be too large; take fewer dots per inch", ("size",))
    x = ((np.arange(columns) + 0.5) / columns * front.width)[None]
    y = ((np.arange(rows) + 0.5) / rows * front.height)[:, None]
    if front.layout is Layout.EDGE:
        return np.minimum(np.minimum(x, front.width - x), np.minimum(y, front.height - y))
    if front.layout is Layout.STRAIGHT:
        turned = radians(front.angle)
        # From the middle, so that the line ends at the corners whichever way it leans.
        off = (x - front.width / 2) * cos(turned) + (y - front.height / 2) * sin(turned)
        return np.asarray(off + front.length() / 2)
    dx, dy = x - front.centre[0] * front.width, y - front.centre[1] * front.height
    if front.layout is Layout.RINGS:
        return np.hypot(dx, dy)
    turn = (np.degrees(np.arctan2(dy, dx)) - front.angle) % 360
    return np.asarray(turn / 360 * front.length())


def picture(
    front: Front, line: Line, illuminant: str, per_mm: float
) -> np.ndarray[tuple[int, ...], np.dtype[np.uint8]]:
    """The panel painted from its predicted line, sRGB bytes (rows, columns, 3)."""
    at = coordinates(front, per_mm)
    seen, _ = cm.srgb_from_xyz(cm.xyz_from_lab(line.lab, white_point(illuminant)), illuminant)
    # A table that is finer than a pixel, so that looking up is all that is done for each.
    count = max(2, int(np.ceil(front.length() * per_mm * 4)))
    fine = np.linspace(line.at[0], line.at[-1], count)
    table = np.stack([np.interp(fine, line.at, channel) for channel in seen.T], axis=1)
    coded = np.rint(255 * table).astype(np.uint8)
    place = np.rint((at - line.at[0]) / (line.at[-1] - line.at[0]) * (count - 1)).astype(np.intp)
    return np.asarray(coded[np.clip(place, 0, count - 1)])
