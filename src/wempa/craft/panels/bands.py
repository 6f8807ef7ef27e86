"""A card front in bands: where each ink lies, where two of them meet, and how much of each is there.

Along the direction across the bands a straight panel is one line of so many millimetres.
Every band shows by itself over its visible width, and neighbours overlap over their
seam; visible widths and overlaps together make up the line exactly.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import cos, radians, sin

import numpy as np

from wempa.craft.errors import JobError
from wempa.craft.job import LayDown
from wempa.craft.limits import MIN_BAND_MM
from wempa.craft.vocabulary import Upper
from wempa.optics.grid import Floats
from wempa.optics.namespace import smooth_step

# A fade over less than this is an edge.
_SHARP_MM = 1e-3


@dataclass(frozen=True, slots=True)
class Band:
    """One band: what is laid there, and how wide it is to show."""

    lay: LayDown
    weight: float | None = None
    """Visible width against that of the others; None is 1, or more for a pale ink."""
    width: float | None = None
    """Visible width in mm where it is locked; None shares what is left."""


@dataclass(frozen=True, slots=True)
class Seam:
    """Where two neighbouring bands meet."""

    overlap: float
    """Millimetres over which both lie."""
    feather: float
    """Millimetres, within the overlap, over which an ink fades out at its end."""
    gap: float = 0.0
    """Millimetres of bare card between the two, where they do not overlap."""
    wet: bool = False
    """Whether the later of the two comes while the earlier is wet."""
    upper: Upper = Upper.ORDER
    """Which of the two comes over the other."""
    again: bool = False
    """Whether the seam is gone over once more, lightly, with the ink that was laid first."""


@dataclass(frozen=True, slots=True)
class Placed:
    """Bands in place along the line across them, mm from its beginning."""

    length: float
    start: tuple[float, ...]
    """Where each ink begins, its overlap with the one before included."""
    stop: tuple[float, ...]
    visible: tuple[tuple[float, float], ...]
    """From where to where each band shows by itself."""
    seams: tuple[Seam, ...]
    closed: bool
    """Whether the bands go round, so that the last meets the first."""


def across(width: float, height: float, angle: float) -> float:
    """Length in mm of the line across bands on a panel; 0° stands them upright, 90° lays them level."""
    turned = radians(angle)
    return abs(width * cos(turned)) + abs(height * sin(turned))


def place(
    length: float, bands: Sequence[Band], seams: Sequence[Seam], *, count_between: bool = False, closed: bool = False
) -> Placed:
    """Share a line of `length` mm among bands and their seams.

    Locked widths are kept, the others share what is left by weight. With `count_between`
    each overlap that there is is as wide as a band of weight 1 (and its feather keeps its share of it),
    so that in-between colours show as wide as the inks. `closed` joins the last band to the
    first, as around a centre; there is one seam more then.

    Raises
    ------
    JobError
        There are no bands, a width, weight, overlap or feather is negative or zero where it
        must not be, the number of seams is wrong, or it does not all fit.
    """
    if not bands:
        raise JobError("a panel needs one band at least", ("bands",))
    if not length > 0:
        raise JobError("a panel needs a width and a height above 0 mm", ("size",))
    joins = len(bands) if closed and len(bands) > 1 else len(bands) - 1
    if len(seams) != joins:
        raise JobError(f"{len(bands)} bands have {joins} seams, not {len(seams)}", ("seams",))
    _check(bands, seams)
    locked = sum(band.width for band in bands if band.width is not None)
    own = [1.0 if band.weight is None else band.weight for band in bands]
    weights = sum(weight for weight, band in zip(own, bands, strict=True) if band.width is None)
    meeting = sum(seam.overlap > 0 for seam in seams) if count_between else 0
    fixed = sum(seam.gap + (0.0 if count_between else seam.overlap) for seam in seams)
    left = length - locked - fixed
    shares = weights + meeting
    if shares == 0 and abs(left) > 0.005:
        said = f"{-left:.1f} mm too many" if left < 0 else f"{left:.1f} mm too few"
        raise JobError(f"every width is locked, and together they are {said}", ("bands",))
    unit = left / shares if shares else 0.0
    free = [weight * unit for weight, band in zip(own, bands, strict=True) if band.width is None]
    narrowest = min(free, default=np.inf)
    if left < 0 or narrowest < MIN_BAND_MM:
        room = length / max(1, len(bands))
        raise JobError(
            f"{len(bands)} bands and their overlaps do not fit on {length:.0f} mm: each has {room:.1f} mm, overlaps "
            f"and all; take fewer bands or narrower overlaps",
            ("bands",),
        )
    if count_between:
        seams = [
            replace(seam, overlap=unit, feather=unit * seam.feather / seam.overlap) if seam.overlap else seam
            for seam in seams
        ]
    widths = [weight * unit if band.width is None else band.width for weight, band in zip(own, bands, strict=True)]
    overlaps = [seam.overlap for seam in seams]
    # Around a centre the line begins in the middle of the first band's own width.
    at, visible = 0.0, []
    for k, wide in enumerate(widths):
        visible.append((at, at + wide))
        at += wide + (seams[k].overlap + seams[k].gap if k < len(seams) else 0.0)
    before = [overlaps[-1] if closed and joins == len(bands) else 0.0, *overlaps]
    after = [*overlaps, 0.0]
    return Placed(
        length=length,
        start=tuple(begin - before[k] for k, (begin, _) in enumerate(visible)),
        stop=tuple(end + after[k] for k, (_, end) in enumerate(visible)),
        visible=tuple(visible),
        seams=tuple(seams),
        closed=closed,
    )


def _check(bands: Sequence[Band], seams: Sequence[Seam]) -> None:
    for k, band in enumerate(bands):
        if band.width is not None and not band.width >= MIN_BAND_MM:
            said = f"band {k + 1} is {band.width:.3g} mm wide; {MIN_BAND_MM:g} mm is the least that can be laid"
            raise JobError(said, ("bands", k, "width"))
        if band.weight is not None and not band.weight > 0:
            raise JobError(f"band {k + 1} has weight {band.weight:g}; a weight is above 0", ("bands", k, "weight"))
    for k, seam in enumerate(seams):
        if seam.overlap < 0 or seam.feather < 0 or seam.gap < 0:
            raise JobError(f"seam {k + 1} cannot be narrower than 0 mm", ("seams", k))
        if seam.gap and seam.overlap:
            raise JobError(f"seam {k + 1} has a gap and an overlap; it can have one of them", ("seams", k, "gap"))
        if seam.feather > seam.overlap:
            raise JobError(f"seam {k + 1} fades over more than it overlaps", ("seams", k, "feather"))


def share(placed: Placed, at: Floats) -> Floats:
    """How much of each band's full lay-down there is at places (n,) mm along the line, (n, bands), 0–1.

    Full over a band's own width and most of its overlaps, fading along a smooth curve over
    the feather at each end; sharp where there is no feather, and at the panel's own edges,
    which are worked over from outside.
    """
    n = len(placed.start)
    joins = len(placed.seams)
    found = np.zeros((len(at), n))
    for k in range(n):
        begins = placed.seams[k - 1] if k > 0 or (placed.closed and joins == n) else None
        ends = placed.seams[k] if k < joins else None
        turns = (-placed.length, 0.0, placed.length) if placed.closed else (0.0,)
        for turn in turns:
            place_ = at + turn
            rise = _ramp(place_ - placed.start[k], begins)
            fall = _ramp(placed.stop[k] - place_, ends)
            found[:, k] = np.maximum(found[:, k], np.minimum(rise, fall))
    return found


def _ramp(inside: Floats, seam: Seam | None) -> Floats:
    """0 outside, 1 beyond the feather, smooth between; `inside` is mm from the end of the ink."""
    if seam is None or seam.feather < _SHARP_MM:
        # Where two bands end at one place, rounding must not leave a gap.
        return np.where(inside >= -1e-9, 1.0, 0.0)
    return np.asarray(smooth_step(inside / seam.feather, np))


def neighbours(placed: Placed) -> list[tuple[int, int]]:
    """Which bands meet, by place."""
    n = len(placed.start)
    pairs = list(itertools.pairwise(range(n)))
    return [*pairs, (n - 1, 0)] if placed.closed and len(placed.seams) == n else pairs
