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

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, Ints

from .job import Job, JobError, LayDown
from .many import weigh

# A band that is narrower than this cannot be blended by hand.
_NARROWEST_MM = 1.0
# A fade over less than this is an edge.
_SHARP_MM = 1e-3
# A fading ink is looked at in steps of so many mm, and in so many shades.
_STEP_MM, _SHADES = 0.5, 64


@dataclass(frozen=True, slots=True)
class Band:
    """One band: what is laid there, and how wide it is to show."""

    lay: LayDown
    weight: float = 1.0
    """Visible width against that of the others; 1 for equal."""
    width: float | None = None
    """Visible width in mm where it is locked; None shares what is left."""


@dataclass(frozen=True, slots=True)
class Seam:
    """Where two neighbouring bands meet."""

    overlap: float
    """Millimetres over which both lie."""
    feather: float
    """Millimetres, within the overlap, over which an ink fades out at its end."""


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
    each overlap is as wide as a band of weight 1 (and its feather keeps its share of it),
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
    weights = sum(band.weight for band in bands if band.width is None)
    fixed = 0.0 if count_between else sum(seam.overlap for seam in seams)
    left = length - locked - fixed
    shares = weights + (joins if count_between else 0)
    if shares == 0 and abs(left) > 0.005:
        said = f"{-left:.1f} mm too many" if left < 0 else f"{left:.1f} mm too few"
        raise JobError(f"every width is locked, and together they are {said}", ("bands",))
    unit = left / shares if shares else 0.0
    narrowest = min([band.weight * unit for band in bands if band.width is None], default=np.inf)
    if left < 0 or narrowest < _NARROWEST_MM:
        room = length / max(1, len(bands))
        raise JobError(
            f"{len(bands)} bands and their overlaps do not fit on {length:.0f} mm: each has {room:.1f} mm, overlaps "
            f"and all; take fewer bands or narrower overlaps",
            ("bands",),
        )
    if count_between:
        seams = [Seam(unit, unit * min(1.0, seam.feather / seam.overlap) if seam.overlap else 0.0) for seam in seams]
    widths = [band.weight * unit if band.width is None else band.width for band in bands]
    overlaps = [seam.overlap for seam in seams]
    # Around a centre the line begins in the middle of the first band's own width.
    at, visible = 0.0, []
    for k, wide in enumerate(widths):
        visible.append((at, at + wide))
        at += wide + (overlaps[k] if k < len(overlaps) else 0.0)
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
        if band.width is not None and not band.width > 0:
            raise JobError(f"band {k + 1} is {band.width:g} mm wide; a width is above 0 mm", ("bands", k, "width"))
        if not band.weight > 0:
            raise JobError(f"band {k + 1} has weight {band.weight:g}; a weight is above 0", ("bands", k, "weight"))
    for k, seam in enumerate(seams):
        if seam.overlap < 0 or seam.feather < 0:
            raise JobError(f"seam {k + 1} cannot be narrower than 0 mm", ("seams", k))
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
    t = np.clip(inside / seam.feather, 0, 1)
    return np.asarray(t * t * (3 - 2 * t))


def boundaries(placed: Placed) -> list[float]:
    """Where the changes are, mm along the line: the middle of every seam."""
    return [(placed.start[k + 1] + placed.stop[k]) / 2 for k in range(len(placed.start) - 1)]


def covered_length(placed: Placed) -> float:
    """Visible widths and overlaps added up, mm."""
    own = sum(end - begin for begin, end in placed.visible)
    return own + sum(seam.overlap for seam in placed.seams)


def neighbours(placed: Placed) -> list[tuple[int, int]]:
    """Which bands meet, by place."""
    n = len(placed.start)
    pairs = list(itertools.pairwise(range(n)))
    return [*pairs, (n - 1, 0)] if placed.closed and len(placed.seams) == n else pairs


@dataclass(frozen=True, slots=True, eq=False)
class Line:
    """What a panel looks like along the line across its bands, p places."""

    at: Floats
    """Millimetres, (p,), rising."""
    lab: Floats
    """CIELAB, (p, 3)."""
    mud: Floats
    kind: Ints
    """Index into `verdict.KINDS`, (p,)."""
    change: Floats
    """Change of colour to the next place, ΔE00 per mm, (p - 1,)."""

    def hardest(self, begin: float, end: float) -> float:
        """The steepest change between two places, ΔE00 per mm; 0 where there is none."""
        middle = (self.at[1:] + self.at[:-1]) / 2
        return float(self.change[(middle >= begin) & (middle <= end)].max(initial=0.0))


def line(job: Job, placed: Placed, bands: Sequence[Band], order: Sequence[int], wanted: Floats | None = None) -> Line:
    """Predict a panel along the line across its bands.

    `order` are the places of the bands as they are laid, the first one lowest; `job`
    gives card, inks and light, its stack lies below everything. Places are close together
    where an ink fades and far apart where nothing changes.

    Raises
    ------
    JobError
        `order` does not have every band once.
    """
    if sorted(order) != list(range(len(bands))):
        raise JobError("the order of laying has every band once", ("order",))
    at = _places(placed)
    # In steps that nobody sees, so that equal places are predicted once.
    there = np.rint(share(placed, at) * _SHADES).astype(np.intp)
    distinct, which = np.unique(there, axis=0, return_inverse=True)
    stacks = [
        (*job.stack, *[_faded(bands[k].lay, row[k] / _SHADES) for k in order if row[k]]) for row in distinct.tolist()
    ]
    found = weigh(job, stacks, wanted)
    lab = found.lab[which.reshape(-1)]
    gap = np.maximum(np.diff(at), 1e-6)
    return Line(
        at=at,
        lab=lab,
        mud=found.mud[which.reshape(-1)],
        kind=found.kind[which.reshape(-1)],
        # Over less than the hand can blend a step is a step, not endlessly steep.
        change=cm.delta_e(lab[1:], lab[:-1]) / np.maximum(gap, _STEP_MM),
    )


def _places(placed: Placed) -> Floats:
    """Where the line is looked at: both sides of every end, the middles, and in steps through what fades."""
    ends: list[float] = [0.0, placed.length]
    for k, seam in enumerate(placed.seams):
        last, first = placed.stop[k], placed.visible[k][1]
        for begin, end in ((first, first + seam.feather), (last - seam.feather, last)):
            count = max(2, int(np.ceil(seam.feather / _STEP_MM)) + 1)
            ends += np.linspace(begin, end, count).tolist()
            ends += [begin - 1e-6, end + 1e-6]
        ends.append((first + last) / 2)
    ends += [(begin + end) / 2 for begin, end in placed.visible]
    at = np.unique(np.round(ends, 6))
    return np.asarray(at[(at >= 0) & (at <= placed.length)])


def _faded(lay: LayDown, part: float) -> LayDown:
    """A share of a lay-down, as an ink fades out: fewer passes, or less of a dose."""
    if part == 1:
        return lay
    if lay.dose is not None:
        return replace(lay, dose=lay.dose * part)
    return replace(lay, passes=lay.passes * part)
