"""A card front in bands: where each ink lies, where two of them meet, and how much of each is there.

Along the direction across the bands a straight panel is one line of so many millimetres.
Every band reads as itself over its visible width, and between two neighbours lies an
in-between; visible widths, in-betweens and gaps make up the line exactly. The fade by
which two inks run into one another reaches from within the one band to within the other.
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
from wempa.craft.vocabulary import BandShape, Upper
from wempa.optics.grid import Floats
from wempa.optics.namespace import smooth_step

# A fade over less than this counts as an edge.
_SHARP_MM = 1e-3
# Where two bands end at one place, rounding must leave no gap.
_ROUNDED_MM = 1e-9
FADE_STEPS: Floats = np.asarray(smooth_step(np.linspace(0, 1, 33), np))
"""Steps of a fade, from 0 (all the first) to 1 (all the second); close at its ends, where a strong ink begins."""


@dataclass(frozen=True, slots=True)
class Band:
    """One band: what is laid there, and how wide it is to show."""

    lay: LayDown
    weight: float | None = None
    """Visible width against that of the others; None is 1, or more for a pale ink."""
    width: float | None = None
    """Visible width in mm where it is locked; None shares what is left."""
    shape: BandShape = BandShape.EVEN
    """How its depth changes over its own width."""


@dataclass(frozen=True, slots=True)
class Seam:
    """What is said of where two neighbouring bands meet; what is not said follows from the panel and the tools."""

    overlap: float | None = None
    """Millimetres over which both lie; None for as far as its softness takes them."""
    feather: float | None = None
    """Millimetres, within the overlap, over which an ink fades out at its end; None for an even fade."""
    gap: float = 0.0
    """Millimetres of bare card between the two, where they do not overlap."""
    wet: bool | None = None
    """Whether the two are worked at once, the later into the wet; None for at once wherever they blend."""
    upper: Upper = Upper.ORDER
    """Which of the two comes over the other."""
    again: bool = False
    """Whether the seam is gone over once more, lightly, with the ink that was laid first."""
    soft: float | None = None
    """How far the two fade into one another, 0 (stripes) to 1 (soft); None as the panel has it.

    Above 1 it is wider than its tools fade by themselves, because a line would stay.
    """

    @property
    def said(self) -> bool:
        """Whether its width is said."""
        return self.overlap is not None or self.gap > 0 or self.soft is not None


@dataclass(frozen=True, slots=True)
class Joint:
    """A seam in place, mm along the line; of a ring's last seam as if the line went on."""

    begin: float
    """From where to where the in-between, or the gap, shows."""
    end: float
    first: float
    """From where to where the fades of the two reach."""
    last: float
    fade: float
    """Share of that over which either ink fades out at its end, 0–1."""
    even: bool
    """Whether the fade is so spread that the colour changes evenly; otherwise it is as its widths say."""
    gap: float
    wet: bool
    again: bool
    deeper: tuple[float, float] = (1.0, 1.0)
    """How much deeper than usual either band is in its middle, a factor."""
    course: tuple[float, ...] = ()
    """Where each of `FADE_STEPS` lies, mm; empty for a fade that is not spread evenly."""

    @property
    def overlap(self) -> float:
        """Millimetres over which both lie."""
        return 0.0 if self.gap else self.last - self.first

    @property
    def feather(self) -> float:
        """Millimetres over which either fades out at its end."""
        return self.fade * self.overlap

    def step(self, at: Floats) -> Floats:
        """How far the one has become the other at places in mm: 0 before the seam, 1 after it, in the shape of `at`."""
        if self.overlap < _SHARP_MM:
            return np.where(at < self.first, 0.0, 1.0)
        if self.course:
            return np.asarray(np.interp(at, self.course, FADE_STEPS))
        return np.asarray(((at - self.first) / self.overlap).clip(0, 1))

    def parts(self, step: Floats) -> tuple[Floats, Floats]:
        """How much of either ink's lay-down there is at steps 0–1 of the fade, each in the shape of `step`."""
        first, second = (
            _ramp(near, self.fade) * (1 + (more - 1) * smooth_step(2 * near - 1, np))
            for near, more in zip((1 - step, step), self.deeper, strict=True)
        )
        return first, second


def _ramp(near: Floats, fade: float) -> Floats:
    """0 at the far end of a fade, 1 beyond the share of it over which an ink fades out; smooth between."""
    return np.ones(near.shape) if fade < _SHARP_MM else np.asarray(smooth_step(near / fade, np))


@dataclass(frozen=True, slots=True)
class Placed:
    """Bands in place along the line across them, mm from its beginning."""

    length: float
    start: tuple[float, ...]
    """Where each ink begins, its fade into the one before included."""
    stop: tuple[float, ...]
    visible: tuple[tuple[float, float], ...]
    """From where to where each band reads as itself."""
    seams: tuple[Joint, ...]
    closed: bool
    """Whether the bands go round, so that the last meets the first."""
    depths: tuple[tuple[tuple[float, float], ...], ...] = ()
    """For each band its depth between its fades: places in mm, rising, and factors; 1 throughout if there are none."""

    def core(self, k: int) -> tuple[float, float]:
        """From where to where only band k lies, mm."""
        before, after = self.beside(k)
        begin, end = self.visible[k]
        return (
            begin if before is None or not before.overlap else before.last - self._turn(k),
            end if after is None or not after.overlap else after.first,
        )

    def _turn(self, k: int) -> float:
        return self.length if self.closed and k == 0 else 0.0

    def beside(self, k: int) -> tuple[Joint | None, Joint | None]:
        """The seams at the beginning and the end of band k."""
        joins, n = len(self.seams), len(self.start)
        ring = self.closed and joins == n
        before = self.seams[k - 1] if k > 0 or ring else None
        return before, self.seams[k] if k < joins else None


def across(width: float, height: float, angle: float) -> float:
    """Length in mm of the line across bands on a panel; 0° stands them upright, 90° lays them level."""
    turned = radians(angle)
    return abs(width * cos(turned)) + abs(height * sin(turned))


def place(
    length: float,
    bands: Sequence[Band],
    seams: Sequence[Seam],
    *,
    reach: Sequence[float] = (),
    fade: float = 1.0,
    middle: float = 1.0,
    count_between: bool = False,
    closed: bool = False,
) -> Placed:
    """Share a line of `length` mm among bands and what lies between them.

    Locked widths are kept, the others share what is left by weight. Where nobody says a seam's
    width its fade reaches the share `reach` of the way to the middle of either band, one number 0–1
    a seam, and the in-between is as wide as half the fade. With `count_between` each
    in-between is as wide as a band of weight 1, so that in-between colours show as wide as the
    inks. `fade` is the share of a fade over which either ink comes to nothing,
    `middle` the depth in its middle of a band begun there. `closed` joins the
    last band to the first, as around a centre; there is one seam more then. If every width is locked,
    soft in-betweens share what is left.

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
    room = _Room(length, bands, seams, reach or [0.0] * joins, fade, count_between)
    unit, stretch = room.shared()
    wide = room.widths(unit)
    joined = [room.joined(k, wide, unit, stretch) for k in range(joins)]
    at, visible, made = 0.0, [], list[Joint]()
    # Around a centre the line begins where the first band begins to show.
    for k, width in enumerate(wide):
        visible.append((at, at + width))
        at += width
        if k < joins:
            seam, one = seams[k], joined[k]
            begin, at = at, at + one.between
            first, second = (middle if bands[n].shape is BandShape.CENTRE else 1.0 for n in (k, (k + 1) % len(bands)))
            made.append(
                Joint(
                    begin=begin,
                    end=at,
                    first=begin - one.into[0],
                    last=at + one.into[1],
                    fade=one.fade,
                    even=one.even,
                    gap=seam.gap,
                    wet=bool(seam.wet),
                    again=seam.again,
                    deeper=(first, second),
                )
            )
    ring = closed and joins == len(bands)
    found = Placed(
        length=length,
        start=tuple(
            made[k - 1].first - (length if k == 0 else 0.0) if (k or ring) and made[k - 1].overlap else visible[k][0]
            for k in range(len(bands))
        ),
        stop=tuple(made[k].last if k < joins and made[k].overlap else visible[k][1] for k in range(len(bands))),
        visible=tuple(visible),
        seams=tuple(made),
        closed=closed,
    )
    for k in range(len(bands)):
        begin, end = found.core(k)
        if end - begin < -1e-6:
            raise room.too_much()
    return found


@dataclass(frozen=True, slots=True)
class _Joined:
    """The widths of a seam, mm."""

    between: float
    into: tuple[float, float]
    """How far its fade reaches into the one and the other band."""
    fade: float
    even: bool


@dataclass(frozen=True, slots=True)
class _Room:
    """A line, and the bands and seams that share it."""

    length: float
    bands: Sequence[Band]
    seams: Sequence[Seam]
    reach: Sequence[float]
    fade: float
    count_between: bool

    def pair(self, k: int) -> tuple[int, int]:
        return k, (k + 1) % len(self.bands)

    def soft(self, k: int) -> bool:
        """Whether the width of seam k follows from the bands'."""
        return self.seams[k].overlap is None and not self.seams[k].gap

    def counted(self, k: int) -> bool:
        """Whether the in-between of seam k is as wide as a band."""
        seam = self.seams[k]
        met = seam.overlap > _SHARP_MM if seam.overlap is not None else not seam.gap and self.reach[k] > 0
        return self.count_between and met

    def shared(self) -> tuple[float, float]:
        """How many millimetres a weight of 1 is, and how much soft in-betweens are widened."""
        n = len(self.bands)
        own = [(b.weight or 1.0, 0.0) if b.width is None else (0.0, b.width) for b in self.bands]
        # All widths together are some weights and some millimetres.
        units, fixed = (sum(each[n] for each in own) for n in (0, 1))
        soft = 0.0
        for k, seam in enumerate(self.seams):
            if self.counted(k):
                units += 1
            elif self.soft(k):
                i, j = self.pair(k)
                half = self.reach[k] / 2
                units += half * (own[i][0] + own[j][0])
                soft += half * (own[i][1] + own[j][1])
            else:
                fixed += self.typed(k).between + seam.gap
        left = self.length - fixed - soft
        if units == 0:
            if soft > 0 and left + soft >= 0:
                return 0.0, (left + soft) / soft
            if abs(left) > 0.005:
                said = f"{-left:.1f} mm too many" if left < 0 else f"{left:.1f} mm too few"
                raise JobError(f"every width is locked, and together they are {said}", ("bands",))
            return 0.0, 1.0
        unit = left / units
        least = min([weight for weight, _ in own if weight], default=np.inf)
        if left < 0 or (n and unit * least < MIN_BAND_MM):
            raise self.too_much()
        return unit, 1.0

    def widths(self, unit: float) -> list[float]:
        return [(band.weight or 1.0) * unit if band.width is None else band.width for band in self.bands]

    def typed(self, k: int) -> _Joined:
        """A seam whose width is said."""
        seam = self.seams[k]
        overlap = seam.overlap or 0.0
        if seam.feather is None:
            return _Joined(overlap / 2, (overlap / 4, overlap / 4), self.fade, True)
        fade = seam.feather / overlap if overlap else 0.0
        return _Joined(overlap - seam.feather / 2, (seam.feather / 4, seam.feather / 4), fade, False)

    def joined(self, k: int, wide: Sequence[float], unit: float, stretch: float) -> _Joined:
        seam, (i, j) = self.seams[k], self.pair(k)
        if not self.soft(k):
            one = self.typed(k)
            if not self.counted(k):
                return replace(one, between=one.between or seam.gap)
            larger = unit / one.between
            # It is as wide as a band, but reaches no farther than the middle of either neighbour.
            first, second = (min(each * larger, wide[n] / 2) for each, n in zip(one.into, (i, j), strict=True))
            return replace(one, between=unit, into=(first, second))
        into = (self.reach[k] * wide[i] / 2, self.reach[k] * wide[j] / 2)
        between = unit if self.counted(k) else stretch * sum(into)
        whole = between + sum(into)
        return _Joined(between, into, min(self.fade, 2 * sum(into) / whole) if whole else 0.0, True)

    def too_much(self) -> JobError:
        room = self.length / max(1, len(self.bands))
        return JobError(
            f"{len(self.bands)} bands and their overlaps do not fit on {self.length:.0f} mm: each has {room:.1f} mm, "
            f"overlaps and all; take fewer bands or narrower overlaps",
            ("bands",),
        )


def _check(bands: Sequence[Band], seams: Sequence[Seam]) -> None:
    for k, band in enumerate(bands):
        if band.width is not None and not band.width >= MIN_BAND_MM:
            said = f"band {k + 1} is {band.width:.3g} mm wide; {MIN_BAND_MM:g} mm is the least that can be laid"
            raise JobError(said, ("bands", k, "width"))
        if band.weight is not None and not band.weight > 0:
            raise JobError(f"band {k + 1} has weight {band.weight:g}; a weight is above 0", ("bands", k, "weight"))
    for k, seam in enumerate(seams):
        if min(seam.overlap or 0.0, seam.feather or 0.0, seam.gap) < 0:
            raise JobError(f"seam {k + 1} cannot be narrower than 0 mm", ("seams", k))
        if seam.gap and seam.overlap:
            raise JobError(f"seam {k + 1} has a gap and an overlap; it can have one of them", ("seams", k, "gap"))
        if seam.feather is not None and seam.feather > (seam.overlap or 0.0):
            raise JobError(f"seam {k + 1} fades over more than it overlaps", ("seams", k, "feather"))
        if seam.soft is not None and not seam.soft >= 0:
            raise JobError(f"seam {k + 1} is 0 (stripes) to 1 (soft), not {seam.soft:g}", ("seams", k, "soft"))


def share(placed: Placed, at: Floats) -> Floats:
    """How much of each band's usual lay-down there is at places (n,) mm along the line, (n, bands), from 0 on.

    Full over a band's own width, more or less where its depth changes, fading over the seam
    at each end; sharp where there is no fade, and at the panel's own edges, which are worked
    over from outside.
    """
    return np.stack([share_of(placed, k, at) for k in range(len(placed.start))], axis=1)


def share_of(placed: Placed, k: int, at: Floats) -> Floats:
    """The same of band k alone, (n,)."""
    before, after = placed.beside(k)
    begin, end = placed.core(k)
    found = np.zeros(len(at))
    for turn in (-placed.length, 0.0, placed.length) if placed.closed else (0.0,):
        x = at + turn
        core = (x >= begin - _ROUNDED_MM) & (x <= end + _ROUNDED_MM)
        there = np.where(core, _depth(placed, k, x), 0.0)
        if before is not None and before.overlap:
            own = x + (placed.length if placed.closed and k == 0 else 0.0)
            inside = (own >= before.first) & (own < before.last)
            there[inside] = before.parts(before.step(own[inside]))[1]
        if after is not None and after.overlap:
            inside = (x > after.first) & (x <= after.last)
            there[inside] = after.parts(after.step(x[inside]))[0]
        found = np.maximum(found, there)
    return found


def _depth(placed: Placed, k: int, at: Floats) -> Floats:
    depth = placed.depths[k] if placed.depths else ()
    if not depth:
        return np.ones(at.shape)
    where, factor = zip(*depth, strict=True)
    return np.asarray(np.interp(at, where, factor))


def neighbours(placed: Placed) -> list[tuple[int, int]]:
    """Which bands meet, by place."""
    n = len(placed.start)
    pairs = list(itertools.pairwise(range(n)))
    return [*pairs, (n - 1, 0)] if placed.closed and len(placed.seams) == n else pairs
