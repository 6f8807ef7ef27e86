"""What would save a seam: each change tried on the whole panel, ranked by what it gains there."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import FixCode, NoteCode
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import MAX_BANDS, MAX_INKS
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.prepare import swatch_lab, swatch_labs
from wempa.craft.prediction.verdict import MUDDY, SWAMPED
from wempa.craft.vocabulary import Load, Upper
from wempa.craft.ways import first_touch, lighter_hand, owned_white, with_barrier
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from .bands import Band, Seam, neighbours
from .panel import Panel, name_of
from .study import SeamSeen, Study, study

# Faults of a seam that make it worse; how much each counts is a row `worry.*`.
_TOLD = (NoteCode.MUDDY, NoteCode.SWAMPED, NoteCode.NO_NEW_COLOUR, NoteCode.HARD_LINE)
_LOST = (NoteCode.TOO_NARROW, NoteCode.READS_AS_ONE, NoteCode.NOT_ITSELF)
_MOST = 6


@dataclass(frozen=True, slots=True, eq=False)
class SeamFix:
    """A change to a panel that helps one of its seams."""

    code: FixCode
    text: str
    job: Job
    panel: Panel
    after: Study
    gain: float


@dataclass(frozen=True, slots=True)
class _Tried:
    code: FixCode
    text: str
    job: Job
    panel: Panel


def seam_fixes(job: Job, panel: Panel, found: Study, at: int, wanted: Floats | None = None) -> tuple[SeamFix, ...]:
    """Changes that make seam `at` better and the panel no worse, best first; none for one of which nothing is told.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).

    The stash gives bridges and a white for a barrier. Of each kind of change the best is kept.

    Raises
    ------
    JobError
        There is no such seam.
    """
    if not 0 <= at < len(found.seams):
        raise JobError(f"there is no seam {at + 1} on this panel", ("seams",))
    if not found.seams[at].flags and not found.seams[at].chosen:
        return ()
    before, own_before = _badness(job, found), _seam_badness(job, found.seams[at])
    least = constants.values(job.constants)["worry.gain"]
    best: dict[FixCode, SeamFix] = {}
    for tried in _changes(job, panel, found, at):
        try:
            after = study(replace(tried.job, stash=Stash()), tried.panel, wanted)
        except JobError:
            # A change after which the panel does not fit any more is no help.
            continue
        gain = before - _badness(job, after)
        # A seam that is still there must be better itself.
        same = len(after.seams) == len(found.seams) and tried.code is not FixCode.SWAP_NEIGHBOURS
        if gain < least or (same and own_before - _seam_badness(job, after.seams[at]) < least):
            continue
        if tried.code not in best or gain > best[tried.code].gain:
            best[tried.code] = SeamFix(tried.code, tried.text, tried.job, tried.panel, after, gain)
    return tuple(sorted(best.values(), key=lambda fix: -fix.gain)[:_MOST])


def _seam_badness(job: Job, seam: SeamSeen) -> float:
    """How bad a seam is: its mud and the length of it, a lost ink, a line that stays."""
    table = constants.values(job.constants)
    hard = table["seam.hard"]
    lined = any(flag.code is NoteCode.HARD_LINE for flag in seam.flags)
    worse = 3 * (min(seam.hardest, 5 * hard) - hard) if lined else 0.0
    told = sum(table[f"worry.{flag.code}"] for flag in seam.flags if flag.code in _TOLD)
    return seam.mud + table["worry.muddy_mm"] * min(seam.muddy_mm, 20) + told + worse


def _badness(job: Job, found: Study) -> float:
    lost = sum(flag.code in _LOST for band in found.bands for flag in band.flags)
    return (
        sum(_seam_badness(job, seam) for seam in found.seams)
        + lost * constants.values(job.constants)["worry.lost_band"]
    )


def _changes(job: Job, panel: Panel, found: Study, at: int) -> Iterator[_Tried]:
    """Everything that is tried on a seam."""
    table = constants.values(job.constants)
    seam, joint, (i, j) = panel.seams[at], found.placed.seams[at], neighbours(found.placed)[at]
    names = [name_of(job, panel, k) for k in (i, j)]
    both = f"{names[0]} and {names[1]}"

    def joined(**changes: object) -> Panel:
        seams = list(panel.seams)
        seams[at] = replace(seam, **changes)  # type: ignore[arg-type]
        return replace(panel, seams=tuple(seams))

    def banded(k: int, lay: LayDown) -> Panel:
        return replace(panel, bands=_put(panel.bands, k, replace(panel.bands[k], lay=lay)))

    order = list(found.work.order)
    if not panel.layout.rolled:
        # The upper of the two is put below.
        upper = Upper.FIRST if order.index(i) < order.index(j) else Upper.SECOND
        first = names[1] if upper is Upper.FIRST else names[0]
        yield _Tried(FixCode.OTHER_ORDER, f"Lay {first} first here.", job, joined(upper=upper))
        if joint.wet and joint.overlap:
            yield _Tried(FixCode.LET_DRY, f"Let the first of {both} dry before the other.", job, joined(wet=False))
        elif joint.overlap:
            yield _Tried(FixCode.INTO_THE_WET, f"Work {both} into one another while wet.", job, joined(wet=True))
        if not seam.again and joint.overlap:
            yield _Tried(
                FixCode.ONCE_MORE,
                "Go over the seam once more, lightly, with the ink laid first.",
                job,
                joined(again=True),
            )
        soft = panel.soft if seam.soft is None else seam.soft
        if seam.overlap is not None or soft < 1:
            yield _Tried(
                FixCode.SOFTER,
                f"Let {both} fade far into one another.",
                job,
                joined(overlap=None, feather=None, soft=1.0),
            )
    narrow = table["panel.narrow"]
    if joint.overlap > narrow and not panel.count_between:
        text = f"Let {both} meet over {narrow:.0f} mm only."
        yield _Tried(FixCode.NARROWER, text, job, joined(overlap=narrow, feather=None, soft=None))
    if joint.overlap:
        gap = table["panel.gap"]
        text = f"Leave {gap:g} mm of bare card between {both}."
        yield _Tried(FixCode.GAP, text, job, joined(overlap=None, feather=None, soft=None, gap=gap))
    for k in (i, j):
        light = lighter_hand(panel.bands[k].lay, table["touch.lighter"])
        if light != panel.bands[k].lay and not panel.layout.rolled:
            yield _Tried(FixCode.LIGHTER_HAND, f"Go lighter with {name_of(job, panel, k)}.", job, banded(k, light))
    n = len(panel.bands)
    for k, other in ((i, i - 1), (j, j + 1)):
        if 0 <= other < n and other not in (i, j):
            swapped = _put(_put(panel.bands, k, panel.bands[other]), other, panel.bands[k])
            text = f"Let {name_of(job, panel, k)} and {name_of(job, panel, other)} change places."
            yield _Tried(FixCode.SWAP_NEIGHBOURS, text, job, replace(panel, bands=swapped))
    white = owned_white(job)
    if white is not None:
        laid = with_barrier(job, *white)
        if laid is not None:
            text = f"Brush {white[1].name or white[0]} thinly under all of it first, and let it dry."
            yield _Tried(FixCode.BARRIER, text, laid, panel)
    yield from _bridges(job, panel, at, i, j)


def _bridges(job: Job, panel: Panel, at: int, i: int, j: int) -> Iterator[_Tried]:
    """The three inks of the stash that join both best, put between the two."""
    if len(panel.bands) >= MAX_BANDS or panel.layout.rolled:
        return
    table = constants.values(job.constants)
    used = {key for band in panel.bands for key, _ in band.lay.parts}
    declared = dict(job.inks)
    names = {ink.name for ink in declared.values()}
    offered = [(key, ink) for key, ink in job.stash.inks if key not in used and ink.name not in names]
    # A job holds only so many inks, so the nearest to both are tried.
    ends = [swatch_lab(declared[panel.bands[k].lay.parts[0][0]], job) for k in (i, j)]
    if not offered or len(used) >= MAX_INKS:
        return
    labs = swatch_labs([ink for _, ink in offered], job)
    away = np.maximum(*[cm.delta_e(labs, end) for end in ends])
    near = np.argsort(away)[: MAX_INKS - len(used)].tolist()
    tried: list[tuple[float, str, Job, LayDown]] = []
    jobs_inks = {key: declared[key] for key in used if key in declared} | {offered[n][0]: offered[n][1] for n in near}
    whole = replace(job, inks=tuple(jobs_inks.items()), stash=Stash())
    lays = [first_touch(offered[n][0], offered[n][1].formula, Load.NORMAL, table) for n in near]
    stacks = [
        (*job.stack, *pair)
        for lay in lays
        for pair in ((panel.bands[i].lay, lay), (panel.bands[j].lay, lay))
        if all(key in jobs_inks for one in pair for key, _ in one.parts)
    ]
    found = weigh_stacks(whole, stacks)
    bad = (MUDDY, SWAMPED)
    worst = found.mud.reshape(-1, 2).max(axis=1) + 100 * np.isin(found.kind, bad).reshape(-1, 2).any(axis=1)
    for n, lay, mud in zip(near, lays, worst.tolist(), strict=True):
        if mud < job.mud_line:
            tried.append((mud / 5 + float(away[n]), offered[n][0], job, lay))
    for _, key, _, lay in sorted(tried, key=lambda each: each[0])[:3]:
        ink = dict(offered)[key]
        bands = (*panel.bands[: i + 1], Band(lay), *panel.bands[i + 1 :])
        seam = Seam()
        seams = (*panel.seams[:at], seam, seam, *panel.seams[at + 1 :])
        text = f"Put {ink.name or key} between {name_of(job, panel, i)} and {name_of(job, panel, j)}; it joins both."
        added = replace(job, inks=(*[pair for pair in job.inks if pair[0] != key], (key, ink)))
        yield _Tried(FixCode.BRIDGE, text, added, replace(panel, bands=bands, seams=seams))


def _put(bands: tuple[Band, ...], k: int, band: Band) -> tuple[Band, ...]:
    return (*bands[:k], band, *bands[k + 1 :])
