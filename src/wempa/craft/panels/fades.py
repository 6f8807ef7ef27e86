"""How two inks run into one another over a seam, and how a band deepens or fades: where each step of it lies.

The steps of a fade are predicted, and then spread so that the colour changes at one and the
same rate all along it: a strong ink is carried far in the thinnest touch, and a pale one keeps
its place. The half of the change in the middle of a fade is what is seen as the in-between, a quarter within
either band is not.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.colour.circle import painter_hue
from wempa.craft.job import Job, LayDown, Note
from wempa.craft.vocabulary import BandShape
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.namespace import smooth_step

from .bands import FADE_STEPS, Joint, Placed, Seam, neighbours
from .colours import LINE_SHADES, faded, lightly, weighed
from .panel import Panel, name_of

_COUNT = len(FADE_STEPS)
# A fade between colours that hardly differ is left as it is: this much ΔE00 is added over the whole of it.
_LEAST_CHANGE = 3.0
# A fade over less than this share of a seam is not worth spreading evenly.
_OVERLAID = 0.5
# How many steps a band that deepens or fades has.
_DEPTHS = 17


@dataclass(frozen=True, slots=True)
class _Fade:
    """A seam as far as colours go: which two bands, and how their parts change over it."""

    pair: tuple[int, int]
    joint: Joint

    def stacks(self, job: Job, panel: Panel, order: Sequence[int]) -> tuple[tuple[LayDown, ...], ...]:
        """What lies there step by step from the one to the other."""
        first, second = self.pair
        again = constants.values(job.constants)["panel.again"] if self.joint.again else None
        under = list(order).index(first) < list(order).index(second)
        one = self.joint
        return _stepped(panel.laid(first), panel.laid(second), under, one.fade, one.deeper, one.wet, again)


@lru_cache(512)
def _stepped(
    first: LayDown,
    second: LayDown,
    under: bool,
    fade: float,
    deeper: tuple[float, float],
    wet: bool,
    again: float | None,
) -> tuple[tuple[LayDown, ...], ...]:
    """What lies in a fade step by step; `under`: the first is laid first; `again`: so much goes over it once more."""
    joint = Joint(0, 0, 0, 1, fade, True, 0, wet, again is not None, deeper)
    # The steps of amount are those at which the line is looked at, so that each is predicted once.
    parts = [np.rint(part * LINE_SHADES) / LINE_SHADES for part in joint.parts(FADE_STEPS)]
    laid = list(zip((first, second), parts, strict=True))
    (lower, of_lower), (upper, of_upper) = laid if under else laid[::-1]
    both = np.minimum(of_lower, of_upper)
    found = []
    for n in range(_COUNT):
        mixes = wet and bool(both[n] > 0)
        there = [(lower, of_lower[n], False), (upper, of_upper[n], mixes)]
        if again is not None:
            there.append((lightly(lower, again), both[n] / both.max(), mixes))
        found.append(tuple([faded(lay, float(part), into) for lay, part, into in there if part > 0]))
    return tuple(found)


def settled(
    job: Job, panel: Panel, order: Sequence[int], wanted: Floats | None = None
) -> tuple[Panel, tuple[Note | None, ...]]:
    """The panel with seams that would go muddy kept short, or bare, unless their width is said; and why, for each seam.

    `order` are the places of the bands as they are laid, `wanted` CIELAB of the inks that are
    owned or asked for, (m, 3).
    """
    none = tuple([None] * len(panel.seams))
    if not panel.layout.worked or not panel.seams:
        return panel, none
    table = constants.values(job.constants)
    n, joints, reach = len(panel.bands), panel.joints(), panel.reach(table)
    short = table["panel.narrow"]
    free = [k for k, seam in enumerate(panel.seams) if not seam.said and reach[k] > 0]
    fades = {
        k: _Fade((k, (k + 1) % n), Joint(0, 0, 0, 1, table["seam.deep"], True, 0, bool(joints[k].wet), joints[k].again))
        for k in free
    }
    stacks = [stack for fade in fades.values() for stack in fade.stacks(job, panel, order)]
    found = weighed(job, stacks, wanted)
    seams, why = list(panel.seams), list[Note | None](none)
    for place, k in enumerate(free):
        own = slice(place * _COUNT, (place + 1) * _COUNT)
        muddy = _muddy_share(found.lab[own], found.mud[own], job.mud_line)
        room = 2 * reach[k] * panel.front.length() / (n + sum(reach))
        if muddy * room <= table["seam.mud_seen"]:
            if panel.soft == 1:
                change = float(cm.delta_e(found.lab[own][1:], found.lab[own][:-1]).sum())
                seams[k] = _until_no_line(seams[k], change, room, reach[k], table)
            continue
        names, ends = [name_of(job, panel, i) for i in fades[k].pair], found.lab[own][[0, -1]]
        both = f"{names[0]} and {names[1]}"
        hues = painter_hue(ends[:, 1], ends[:, 2])
        apart = abs((float(hues[1] - hues[0]) + 180) % 360 - 180)
        what = "are opposites" if apart >= table["seam.opposite"] else "go muddy together"
        if muddy * short <= table["seam.mud_seen"]:
            seams[k] = replace(seams[k], overlap=short)
            why[k] = Note(
                NoteCode.SHORT_SEAM, f"{both} {what}: they meet over {short:.0f} mm only, which keeps both clear."
            )
        else:
            gap = table["panel.gap"]
            seams[k] = replace(seams[k], gap=gap)
            why[k] = Note(NoteCode.BARE_GAP, f"{both} {what}: {gap:g} mm of bare card between them keeps both clear.")
    return replace(panel, seams=tuple(seams)), tuple(why)


def _until_no_line(seam: Seam, change: float, room: float, reach: float, table: Mapping[str, float]) -> Seam:
    """A seam as wide as it takes for no line to stay, up to the middles of its bands; `change` is all of it, ΔE00."""
    wider = change / (room * table["seam.calm"] * table["seam.hard"])
    return seam if wider <= 1 else replace(seam, soft=min(wider, 1 / reach))


def _muddy_share(lab: Floats, mud: Floats, mud_line: float) -> float:
    """How much of a fade that changes evenly is muddy, 0–1."""
    at = _evenly(lab)
    fine = np.linspace(0, 1, 101)
    return float((np.interp(fine, at, mud) >= mud_line).mean())


def _evenly(lab: Floats) -> Floats:
    """Where steps (n, 3) lie between 0 and 1, (n,), if the colour is to change evenly from the first to the last."""
    change = cm.delta_e(lab[1:], lab[:-1]) + _LEAST_CHANGE / (len(lab) - 1)
    return np.concatenate([[0.0], np.cumsum(change) / change.sum()])


def with_courses(job: Job, panel: Panel, placed: Placed, order: Sequence[int], wanted: Floats | None = None) -> Placed:
    """The bands in place, with every fade spread evenly and every band as deep as its shape has it along the line."""
    if not panel.layout.worked:
        return replace(placed, depths=_depths(job, panel, placed, wanted))
    fades = [
        (k, _Fade(pair, joint))
        for k, (pair, joint) in enumerate(zip(neighbours(placed), placed.seams, strict=True))
        if joint.even and joint.overlap > 0 and joint.fade > _OVERLAID
    ]
    found = weighed(job, [stack for _, fade in fades for stack in fade.stacks(job, panel, order)], wanted)
    seams = list(placed.seams)
    for place, (k, fade) in enumerate(fades):
        even = _evenly(found.lab[place * _COUNT : (place + 1) * _COUNT])
        joint = fade.joint
        where = joint.first + even * joint.overlap
        # Rounding may put steps out of order.
        where[-1] = joint.last
        seams[k] = replace(joint, course=tuple(where.tolist()))
    placed = replace(placed, seams=tuple(seams))
    return replace(placed, depths=_depths(job, panel, placed, wanted))


def _depths(
    job: Job, panel: Panel, placed: Placed, wanted: Floats | None
) -> tuple[tuple[tuple[float, float], ...], ...]:
    """For each band its depth between its fades: places in mm, rising, and factors of its lay-down."""
    table = constants.values(job.constants)
    found = []
    for k, band in enumerate(panel.bands):
        before, after = placed.beside(k)
        begin, end = placed.core(k)
        free = [joint is None or not joint.overlap for joint in (before, after)]
        full = table["shape.middle"] if band.shape is BandShape.CENTRE else 1.0
        depth = [(begin, full), (end, full)]
        # It changes towards its free end from the middle on, or from its other end where that is free and stays as
        # it is.
        middle = (begin + end) / 2
        if band.shape is BandShape.CENTRE and any(free):
            low = table["shape.outside"]
            if free[0]:
                depth = [*_spread(job, panel, k, begin, middle, low, full, wanted), depth[-1]]
            if free[1]:
                depth = [
                    *(depth[:-1] if free[0] else depth[:1]),
                    *_spread(job, panel, k, middle, end, full, low, wanted),
                ]
        elif band.shape is not BandShape.EVEN and any(free):
            far = table["shape.deeper"] if band.shape is BandShape.DEEPER else 0.0
            # A band free at both ends changes towards its end.
            if free[1]:
                depth = _spread(job, panel, k, begin, end, full, far, wanted)
            else:
                depth = _spread(job, panel, k, begin, end, far, full, wanted)
        found.append(tuple(depth) if band.shape is not BandShape.EVEN else ())
    return tuple(found)


def _spread(
    job: Job, panel: Panel, k: int, begin: float, end: float, from_: float, to: float, wanted: Floats | None
) -> list[tuple[float, float]]:
    """Band k from one depth to another between two places in mm, the colour changing evenly: places and factors."""
    factors = from_ + (to - from_) * smooth_step(np.linspace(0, 1, _DEPTHS), np)
    lay = panel.laid(k)
    stacks = [(faded(lay, float(factor), False),) if factor > 0 else () for factor in factors]
    where = begin + (end - begin) * _evenly(weighed(job, stacks, wanted).lab)
    return list(zip(where.tolist(), factors.tolist(), strict=True))
