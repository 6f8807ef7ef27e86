"""What a panel looks like at any spot: the strokes that lie there, and their colour by the model.

A spot is known by how much of each stroke's full lay-down it has. Equal spots are
predicted once, in steps of strength that nobody sees.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.limits import MAX_BANDS
from wempa.craft.prediction.many_stacks import StackLook, stack_colours, weigh_stacks
from wempa.craft.vocabulary import Layout, Load, Over
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.namespace import smooth_step

from .bands import Placed, neighbours, share
from .panel import Panel

# A fading ink is looked at in steps of so many mm, and in so many shades.
_STEP_MM, _SHADES = 0.5, 64
# Places are this exact.
_EXACT_MM = 2e-6


@dataclass(frozen=True, slots=True, eq=False)
class Stroke:
    """One ink going over a panel."""

    lay: LayDown
    band: int
    """Whose ink it is, by place."""
    share: Floats
    """How much of the lay-down there is at each spot, 0–1, in the shape of the spots."""
    wet: Bools
    """Where it comes into something wet."""


def strokes(job: Job, panel: Panel, placed: Placed, order: Sequence[int], at: Floats) -> list[Stroke]:
    """The strokes of a panel in the order of laying, at spots on the line, mm, (…).

    Bands of a roller are laid in one go, and once more from the other side if it is rolled
    twice. A seam that is gone over again gets a light stroke of the ink laid first.

    Raises
    ------
    JobError
        `order` does not have every band once.
    """
    if sorted(order) != list(range(len(panel.bands))):
        raise JobError("the order of laying has every band once", ("order",))
    if panel.front.layout is Layout.RIBBONS:
        return [one for k in order for one in ribbon(job, panel, placed, k, at)]
    there = share(placed, at.reshape(-1))
    made = _in_bands(job, panel, placed, order, there)
    if panel.front.layout is Layout.ROLLER and panel.rolls > 1:
        back = share(placed, placed.length - at.reshape(-1))
        again = _in_bands(job, panel, placed, order, back)
        made += [replace(one, wet=one.wet | panel.roll_wet) for one in again]
    return [replace(one, share=one.share.reshape(at.shape), wet=one.wet.reshape(at.shape)) for one in made]


def _in_bands(job: Job, panel: Panel, placed: Placed, order: Sequence[int], there: Floats) -> list[Stroke]:
    table = constants.values(job.constants)
    joints, pairs = panel.joints(), neighbours(placed)
    made: list[Stroke] = []
    done: list[int] = []
    for k in order:
        wet = np.zeros(len(there), dtype=np.bool_)
        over_again: list[Stroke] = []
        for seam, pair in zip(joints, pairs, strict=True):
            other = pair[1] if pair[0] == k else pair[0]
            if k not in pair or other not in done:
                continue
            both = np.minimum(there[:, k], there[:, other])
            wet |= (both > 0) & seam.wet
            if seam.again and both.any():
                over_again.append(
                    Stroke(
                        _lightly(panel.laid(other), table["panel.again"]), other, both / both.max(), wet & (both > 0)
                    )
                )
        made += [Stroke(panel.laid(k), k, there[:, k], wet), *over_again]
        done.append(k)
    return made


def _lightly(lay: LayDown, part: float) -> LayDown:
    if lay.dose is not None:
        return replace(lay, dose=lay.dose * part)
    load = lay.load if lay.load is Load.BLOTTED else Load.LIGHT
    return replace(lay, passes=max(1.0, lay.passes * part), load=load)


def ribbon(job: Job, panel: Panel, placed: Placed, k: int, at: Floats) -> list[Stroke]:
    """Ribbon k at places (n,) along the line, mm: full along its edge, fading out; and what its edge carries over."""
    table = constants.values(job.constants)
    begin, end = placed.visible[k]
    away = at - begin
    fades = np.clip(away / (table["ribbon.reach"] * (end - begin)), 0, 1)
    dry = np.zeros(at.shape, dtype=np.bool_)
    # Rounding must not leave a gap at the panel's own edge.
    on = away >= -1e-9
    made = [Stroke(panel.laid(k), k, np.where(on, 1 - smooth_step(fades, np), 0.0), dry)]
    if panel.ribbon.carry and k:
        near = np.clip(away / table["ribbon.carry_width"], 0, 1)
        carried = np.where(on, table["ribbon.carry"] * (1 - smooth_step(near, np)), 0.0)
        made.append(Stroke(panel.laid(k - 1), k - 1, carried, ~dry & on))
    return made


def _distinct(laid: Sequence[Stroke], shades: int) -> tuple[list[tuple[LayDown, ...]], Ints]:
    """The distinct stacks at p spots, and which of them lies at each, (p,)."""
    count = laid[0].share.size if laid else 1
    codes = np.zeros((len(laid), count), dtype=np.int64)
    for n, one in enumerate(laid):
        # In steps that nobody sees; twice as many numbers, for what comes into the wet.
        codes[n] = np.rint(one.share.reshape(-1) * shades).astype(np.int64) * 2 + one.wet.reshape(-1)
    codes[codes == 1] = 0
    # One number for all strokes of a spot: sorting rows would take a hundred times as long.
    keys = _SPREAD[: len(laid)] @ codes.view(np.uint64) if laid else np.zeros(count, dtype=np.uint64)
    _, first, which = np.unique(keys, return_index=True, return_inverse=True)
    stacks = [
        tuple([_faded(one.lay, code // 2 / shades, code % 2 == 1) for one, code in zip(laid, row, strict=True) if code])
        for row in codes[:, first].T.tolist()
    ]
    return stacks, which.reshape(-1)


# Odd multipliers of a hash; two spots that differ fall together once in 10^19.
_SPREAD = np.random.default_rng(11).integers(0, 2**63, 4 * MAX_BANDS, dtype=np.uint64) * np.uint64(2) + np.uint64(1)


def looked(
    job: Job,
    laid: Sequence[Stroke],
    on_top: Sequence[Entry] = (),
    look: StackLook = StackLook.DRY,
    shades: int = _SHADES,
) -> tuple[Floats, Floats, Ints]:
    """CIELAB (d, 3) of the distinct spots, the inked share of each, (d,), and which of them each spot is, (p,).

    `on_top` is what lies over all of them; see `many.look_at`.
    """
    stacks, which = _distinct(laid, shades)
    lab, cover = stack_colours(job, [(*job.stack, *stack, *on_top) for stack in stacks], look)
    return lab, cover, which


def _faded(lay: LayDown, part: float, wet: bool) -> LayDown:
    """A share of a lay-down, as an ink fades out: fewer passes, or less of a dose."""
    over = Over.WET if wet else lay.over
    if lay.dose is not None:
        return replace(lay, dose=lay.dose * part, over=over)
    return replace(lay, passes=lay.passes * part, over=over)


@dataclass(frozen=True, slots=True, eq=False)
class LineColours:
    """What a panel looks like along the line across its bands, p places, before anything is put on top."""

    at: Floats
    """Millimetres, (p,), rising."""
    lab: Floats
    """CIELAB, (p, 3)."""
    mud: Floats
    kind: Ints
    """Index into `verdict.KINDS`, (p,)."""
    cover: Floats
    """Share that is inked, (p,); the rest are bare specks."""
    change: Floats
    """Change of colour to the next place, ΔE00 per mm, (p - 1,)."""

    def hardest(self, begin: float, end: float) -> float:
        """The steepest change between two places, ΔE00 per mm; 0 where there is none."""
        middle = (self.at[1:] + self.at[:-1]) / 2
        return float(self.change[(middle >= begin) & (middle <= end)].max(initial=0.0))

    def between(self, begin: float, end: float) -> Bools:
        """Which places lie between two, ends included, (p,)."""
        return np.asarray((self.at >= begin - _EXACT_MM) & (self.at <= end + _EXACT_MM))

    def nearest(self, at: float) -> int:
        """The place nearest to one."""
        return int(np.argmin(np.abs(self.at - at)))


def line_colours(
    job: Job, panel: Panel, placed: Placed, order: Sequence[int], wanted: Floats | None = None
) -> LineColours:
    """Predict a panel along the line across its bands.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).

    `order` are the places of the bands as they are laid, the first one lowest; `job`
    gives card, inks and light, its stack lies below everything. Places are close together
    where an ink fades and far apart where nothing changes.

    Raises
    ------
    JobError
        `order` does not have every band once.
    """
    at = places(panel, placed)
    stacks, which = _distinct(strokes(job, panel, placed, order, at), _SHADES)
    found = weigh_stacks(replace(job, stash=Stash()), [(*job.stack, *stack) for stack in stacks], wanted)
    lab = found.lab[which]
    gap = np.diff(at)
    return LineColours(
        at=at,
        lab=lab,
        mud=found.mud[which],
        kind=found.kind[which],
        cover=found.cover[which],
        # Over less than the hand can blend a step is a step, not endlessly steep.
        change=cm.delta_e(lab[1:], lab[:-1]) / np.maximum(gap, _STEP_MM),
    )


def places(panel: Panel, placed: Placed) -> Floats:
    """Where the line is looked at, mm (n,): both sides of every end, the middles, and in steps through what fades."""
    ends: list[float] = [0.0, placed.length]
    for k, seam in enumerate(placed.seams):
        last, first = placed.stop[k], placed.visible[k][1]
        for begin, end in ((first, first + seam.feather), (last - seam.feather, last)):
            count = max(2, int(np.ceil(seam.feather / _STEP_MM)) + 1)
            ends += np.linspace(begin, end, count).tolist()
            ends += [begin - 1e-6, end + 1e-6]
        if seam.again:
            ends += np.linspace(first, last, max(2, int(np.ceil((last - first) / _STEP_MM)))).tolist()
        ends.append((first + last) / 2)
        if seam.gap:
            after = first + seam.gap
            ends += [after - 1e-6, after + 1e-6, first + seam.gap / 2]
    ends += [(begin + end) / 2 for begin, end in placed.visible]
    if panel.front.layout is Layout.RIBBONS:
        ends += [edge for begin, _ in placed.visible for edge in (begin - 1e-6, begin + 1e-6)]
        ends += np.linspace(0, placed.length, int(np.ceil(placed.length / 1.0)) + 1).tolist()
    if panel.front.layout is Layout.ROLLER and panel.rolls > 1:
        ends += [placed.length - each for each in ends]
    at = np.unique(np.round(ends, 6))
    return np.asarray(at[(at >= 0) & (at <= placed.length)])
