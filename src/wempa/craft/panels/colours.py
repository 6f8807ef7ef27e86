"""What a panel looks like at any spot: the strokes that lie there, and their colour by the model.

A spot is known by how much of each stroke's full lay-down it has. Equal spots are
predicted once, in steps of strength that nobody sees.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from threading import Lock

import numpy as np
from cachetools import LRUCache

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.limits import MAX_BANDS
from wempa.craft.prediction.many_stacks import StackLook, stack_colours, weigh_stacks
from wempa.craft.vocabulary import Load, Over
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.namespace import smooth_step

from .bands import Placed, neighbours, share
from .panel import Panel

# Ribbons are looked at in steps of so many mm, and a fade that is not spread evenly at so many places.
_RIBBON_MM = 1.0
_AS_IT_COMES = 25
# Amounts are rounded to so many shades; nobody sees the difference.
LINE_SHADES = 65536
# A change of colour is measured over so many mm. The hand cannot blend over less, so a sharp step is a step and not
# an endlessly steep change.
_CHANGE_MM = 1.0
# Places are rounded to this.
_EXACT_MM = 2e-6
# For how many panels, and for how many stacks of each, predictions are kept.
_JOBS, _STACKS = 12, 20_000


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
    if panel.layout.overlaid:
        return [one for k in order for one in ribbon(job, panel, placed, k, at)]
    there = share(placed, at.reshape(-1))
    made = _in_bands(job, panel, placed, order, there)
    if panel.layout.rolled and panel.rolls > 1:
        back = share(placed, placed.length - at.reshape(-1))
        again = _in_bands(job, panel, placed, order, back)
        made += [replace(one, wet=one.wet | panel.roll_wet) for one in again]
    return [replace(one, share=one.share.reshape(at.shape), wet=one.wet.reshape(at.shape)) for one in made]


def _in_bands(job: Job, panel: Panel, placed: Placed, order: Sequence[int], there: Floats) -> list[Stroke]:
    again = constants.values(job.constants)["panel.again"]
    joints, pairs = placed.seams, neighbours(placed)
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
                over_again.append(Stroke(lightly(panel.laid(other), again), other, both / both.max(), wet & (both > 0)))
        made += [Stroke(panel.laid(k), k, there[:, k], wet), *over_again]
        done.append(k)
    return made


def lightly(lay: LayDown, part: float) -> LayDown:
    """Part of a lay-down, 0–1, with a light hand."""
    if lay.dose is not None:
        return replace(lay, dose=lay.dose * part)
    load = lay.load if lay.load is Load.BLOTTED else Load.LIGHT
    return replace(lay, passes=max(1.0, lay.passes * part), load=load)


def ribbon(job: Job, panel: Panel, placed: Placed, k: int, at: Floats) -> list[Stroke]:
    """Ribbon k at places (n,) along the line, mm: full along its edge, fading out; and what its edge carries over."""
    begin, _ = placed.visible[k]
    away = at - begin
    dry = np.zeros(at.shape, dtype=np.bool_)
    # Rounding must leave no gap at the panel's own edge.
    on = away >= -1e-9
    full, carried = ribbon_shares(job, panel, placed, k, np.maximum(away, 0.0))
    made = [Stroke(panel.laid(k), k, np.where(on, full, 0.0), dry)]
    if carried is not None:
        made.append(Stroke(panel.laid(k - 1), k - 1, np.where(on, carried, 0.0), ~dry & on))
    return made


def ribbon_shares(job: Job, panel: Panel, placed: Placed, k: int, away: Floats) -> tuple[Floats, Floats | None]:
    """How much of ribbon k lies so many mm (n,) from its edge, 0–1, and what the edge carries over, if anything."""
    table = constants.values(job.constants)
    begin, end = placed.visible[k]
    full = 1 - np.asarray(smooth_step(away / (table["ribbon.reach"] * (end - begin)), np))
    if not panel.ribbon.carry or not k:
        return full, None
    return full, table["ribbon.carry"] * (1 - np.asarray(smooth_step(away / table["ribbon.carry_width"], np)))


@dataclass(frozen=True, slots=True, eq=False)
class SpotCodes:
    """Which spots are alike, whatever the inks of the strokes are."""

    rows: list[list[int]]
    """Of each kind of spot a number for each stroke: twice its share in steps, one more if it comes into the wet."""
    which: Ints
    """Which kind each spot is, (p,)."""


def spot_codes(laid: Sequence[Stroke], shades: int) -> SpotCodes:
    """The kinds of p spots, by the share of each stroke in steps that nobody sees."""
    count = laid[0].share.size if laid else 1
    codes = np.zeros((len(laid), count), dtype=np.int64)
    for n, one in enumerate(laid):
        codes[n] = np.rint(one.share.reshape(-1) * shades).astype(np.int64) * 2 + one.wet.reshape(-1)
    codes[codes == 1] = 0
    # Each spot gets one number for all its strokes: sorting rows would take a hundred times as long.
    keys = _SPREAD[: len(laid)] @ codes.view(np.uint64) if laid else np.zeros(count, dtype=np.uint64)
    _, first, which = np.unique(keys, return_index=True, return_inverse=True)
    return SpotCodes(codes[:, first].T.tolist(), which.reshape(-1))


def stacks_at(
    laid: Sequence[Stroke], shades: int, codes: SpotCodes | None = None
) -> tuple[list[tuple[LayDown, ...]], Ints]:
    """The distinct stacks at p spots, and which of them lies at each, (p,); `codes` if they are known."""
    found = spot_codes(laid, shades) if codes is None else codes
    # The same share of the same ink lies in many stacks, so it is made once.
    made: dict[tuple[int, int], LayDown] = {}

    def laid_down(n: int, code: int) -> LayDown:
        if (n, code) not in made:
            made[n, code] = faded(laid[n].lay, code // 2 / shades, code % 2 == 1)
        return made[n, code]

    return [tuple([laid_down(n, code) for n, code in enumerate(row) if code]) for row in found.rows], found.which


# Odd multipliers of a hash. Two different spots get the same number once in 10^19.
_SPREAD = np.random.default_rng(11).integers(0, 2**63, 4 * MAX_BANDS, dtype=np.uint64) * np.uint64(2) + np.uint64(1)


def looked(
    job: Job,
    laid: Sequence[Stroke],
    on_top: Sequence[Entry] = (),
    look: StackLook = StackLook.DRY,
    shades: int = LINE_SHADES,
    codes: SpotCodes | None = None,
) -> tuple[Floats, Floats, Ints]:
    """CIELAB (d, 3) of the distinct spots, the inked share of each, (d,), and which of them each spot is, (p,).

    `codes` are those of `spot_codes`, if the caller has them; `on_top` is what lies over all of them.
    """
    stacks, which = stacks_at(laid, shades, codes)

    def make(missing: Sequence[_Laid]) -> Floats:
        lab, cover = stack_colours(job, [(*job.stack, *stack, *on_top) for stack in missing], look)
        return np.column_stack([lab, cover])

    rows = _kept((replace(job, stash=Stash()), tuple(on_top), look), stacks, make).reshape(-1, 4)
    return rows[:, :3], rows[:, 3], which


def faded(lay: LayDown, part: float, wet: bool) -> LayDown:
    """A share of a lay-down, as an ink fades out: fewer passes, or less of a dose."""
    over = Over.WET if wet else lay.over
    if lay.dose is not None:
        return replace(lay, dose=lay.dose * part, over=over)
    return replace(lay, passes=lay.passes * part, over=over)


@dataclass(frozen=True, slots=True, eq=False)
class Weighed:
    """Stacks with their dry look and verdict, (b,) each."""

    lab: Floats
    """CIELAB, (b, 3)."""
    mud: Floats
    kind: Ints
    """Index into `verdict.KINDS`."""
    unswamped: Ints
    """The same where nothing counts as swamped."""
    cover: Floats
    """Share that is inked, 0–1."""


_Laid = tuple[LayDown, ...]
_known: LRUCache[object, dict[_Laid, tuple[float, ...]]] = LRUCache(_JOBS)
_lock = Lock()


def _kept(mark: object, stacks: Sequence[_Laid], make: Callable[[Sequence[_Laid]], Floats]) -> Floats:
    """A row for each stack, made by `make`; rows that were made earlier under the same mark are reused."""
    with _lock:
        known = _known.setdefault(mark, {})
        if len(known) > _STACKS:
            known = _known[mark] = {}
    # Other threads may add and remove rows meanwhile.
    found = {stack: known[stack] for stack in dict.fromkeys(stacks) if stack in known}
    missing = [stack for stack in dict.fromkeys(stacks) if stack not in found]
    if missing:
        made = dict(zip(missing, map(tuple, make(missing).tolist()), strict=True))
        known.update(made)
        found.update(made)
    return np.array([found[stack] for stack in stacks])


def weighed(job: Job, stacks: Sequence[tuple[LayDown, ...]], wanted: Floats | None = None) -> Weighed:
    """Predict and judge stacks on the job's card and over its own stack, once each: what was asked before is kept.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3). A panel that is dragged
    asks for the same stacks in other places.
    """
    used = {key for stack in stacks for lay in stack for key, _ in lay.parts}
    used |= {key for entry in job.stack if isinstance(entry, LayDown) for key, _ in entry.parts}
    bare = replace(job, stash=Stash(), inks=tuple([pair for pair in job.inks if pair[0] in used]))

    def make(missing: Sequence[_Laid]) -> Floats:
        found = weigh_stacks(bare, [(*job.stack, *stack) for stack in missing], wanted)
        return np.column_stack([found.lab, found.mud, found.kind, found.unswamped, found.cover])

    rows = _kept((bare, None if wanted is None else wanted.tobytes()), stacks, make).reshape(-1, 7)
    kinds = rows[:, 4:6].astype(np.intp)
    return Weighed(rows[:, :3], rows[:, 3], kinds[:, 0], kinds[:, 1], rows[:, 6])


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
    unswamped: Ints
    """The same where nothing counts as swamped, (p,)."""
    cover: Floats
    """Share that is inked, (p,); the rest are bare specks."""

    def hardest(self, begin: float, end: float) -> float:
        """The steepest change of colour between two places, ΔE00 over a millimetre; 0 where there is none."""
        begin, end = max(begin, float(self.at[0])), min(end, float(self.at[-1]))
        if end - begin < _CHANGE_MM:
            middle = (begin + end) / 2
            begin, end = middle - _CHANGE_MM / 2, middle + _CHANGE_MM / 2
        fine = np.linspace(begin, end, max(2, int(np.ceil((end - begin) * 4)) + 1))
        # The index of the place one millimetre on.
        on = fine[fine <= end - _CHANGE_MM + _EXACT_MM]
        return float(cm.delta_e(self.lab_at(on), self.lab_at(on + _CHANGE_MM)).max(initial=0.0))

    def muddy_mm(self, begin: float, end: float, mud_line: float) -> float:
        """Over how many millimetres between two places mud reaches the line."""
        fine = np.linspace(begin, end, max(2, int(np.ceil((end - begin) * 8)) + 1))
        return float((np.interp(fine, self.at, self.mud) >= mud_line).mean()) * (end - begin)

    def lab_at(self, at: Floats) -> Floats:
        """CIELAB at places (n,) in mm, (n, 3), between the two next to each."""
        return np.stack([np.interp(at, self.at, channel) for channel in self.lab.T], axis=1)

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
    stacks, which = stacks_at(strokes(job, panel, placed, order, at), LINE_SHADES)
    found = weighed(job, stacks, wanted)
    return LineColours(
        at=at,
        lab=found.lab[which],
        mud=found.mud[which],
        kind=found.kind[which],
        unswamped=found.unswamped[which],
        cover=found.cover[which],
    )


def places(panel: Panel, placed: Placed) -> Floats:
    """The places at which the line is looked at, mm (n,): both sides of every end, all middles, and steps
    through fades.
    """
    ends: list[float] = [0.0, placed.length]
    for joint in placed.seams:
        first, last = joint.first, joint.last
        if joint.gap:
            first, last = joint.begin, joint.end
        steps = list(joint.course) or np.linspace(first, last, _AS_IT_COMES).tolist()
        if not joint.course and 0 < joint.feather < joint.overlap:
            for begin, end in ((first, first + joint.feather), (last - joint.feather, last)):
                steps += np.linspace(begin, end, _AS_IT_COMES).tolist()
        ends += steps
        ends += [first - 1e-6, first + 1e-6, last - 1e-6, last + 1e-6, (joint.begin + joint.end) / 2]
    ends += [(begin + end) / 2 for begin, end in placed.visible]
    ends += [place for depth in placed.depths for place, _ in depth]
    if panel.layout.overlaid:
        ends += [edge for begin, _ in placed.visible for edge in (begin - 1e-6, begin + 1e-6)]
        ends += np.linspace(0, placed.length, int(np.ceil(placed.length / _RIBBON_MM)) + 1).tolist()
    if placed.closed:
        ends = [each % placed.length if each > placed.length else each for each in ends]
    if panel.layout.rolled and panel.rolls > 1:
        ends += [placed.length - each for each in ends]
    at = np.unique(np.asarray(ends))
    at = at[(at >= 0) & (at <= placed.length)]
    # Places that differ by less than rounding errors are one place.
    return np.asarray(at[np.concatenate([[True], np.diff(at) > 1e-9])])
