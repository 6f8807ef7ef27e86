"""What a panel will show: its bands, what happens at every seam, how many colours there are, how even their steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from wempa.craft import constants
from wempa.craft.colour.distinct import told_apart
from wempa.craft.colour.naming import describe
from wempa.craft.job import Job, Note
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.vocabulary import Layout, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from . import panel as plans
from .bands import Placed, neighbours
from .colours import LineColours, line_colours
from .front import coordinates, spots
from .panel import Panel, name_of
from .shapes import Ring, inside
from .work import Work, order_of_laying, plan_work

# Colours told along a seam, from the one band to the other.
_ALONG = 7
_BESIDE = 0.5
# Spots per mm at which a window is looked through, and the share of it that nobody misses.
_FINE, _NOTHING = 2.0, 0.005


@dataclass(frozen=True, slots=True, eq=False)
class BandSeen:
    """One band as it will show."""

    lab: Floats
    """In its middle, (3,)."""
    begin: float
    """Where it begins to show by itself, mm."""
    end: float
    widened: bool
    """Whether it is wider for being pale."""
    twin: int | None
    """The first band before it that it cannot be told from."""
    flags: tuple[Note, ...]


@dataclass(frozen=True, slots=True, eq=False)
class SeamSeen:
    """One seam as it will show."""

    pair: tuple[int, int]
    begin: float
    """Where the overlap or gap begins, mm; of a ring's last seam as if the line went on."""
    end: float
    lab: Floats
    """In its middle, (3,)."""
    along: Floats
    """From band to band, (7, 3)."""
    kind: VerdictKind
    """Of the middle."""
    mud: float
    """The most there is along it, 0–100."""
    muddy_mm: float
    """Over how many millimetres it is muddy."""
    hardest: float
    """Steepest change along it, ΔE00 per mm."""
    flags: tuple[Note, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """All that is told of a panel."""

    placed: Placed
    line: LineColours
    bands: tuple[BandSeen, ...]
    seams: tuple[SeamSeen, ...]
    work: Work
    colours: int
    """How many colours an eye tells apart."""
    inks: int
    evenness: float | None
    """1 for equal steps of colour over all of the panel, towards 0 the less even; None for fewer than two steps."""
    widest: tuple[float, tuple[int, ...], tuple[int, ...]] | None
    """The largest step, ΔE00, and between what it is: bands, or two bands where they meet, by place."""


def study(job: Job, panel: Panel, wanted: Floats | None = None) -> Study:
    """Place, order and predict a panel, and say what is to be said; raises `JobError`.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).
    """
    own = plans.alone(job, panel)
    widened = plans.pale(job, panel, own)
    placed = plans.placed(job, panel, widened)
    order, reason = order_of_laying(panel, own)
    seen = line_colours(job, panel, placed, order, wanted)
    middles = np.array([seen.lab[seen.nearest((begin + end) / 2)] for begin, end in placed.visible])
    seams = _seams(job, panel, placed, seen)
    bands = _bands(job, panel, placed, own, middles, widened)
    shown, which = _shown(panel, middles, seams)
    apart = constants.values(job.constants)["company.apart"]
    steps = cm.delta_e(shown[1:], shown[:-1])
    # Of equal steps the first, whatever the last bits of the arithmetic say.
    most = int(np.argmax(steps.round(6))) if len(steps) else 0
    return Study(
        placed=placed,
        line=seen,
        bands=bands,
        seams=seams,
        work=plan_work(job, panel, placed, order, reason),
        colours=told_apart(shown, apart),
        inks=len({band.lay.parts for band in panel.bands}),
        evenness=max(0.0, 1 - float(steps.std() / steps.mean())) if len(steps) > 1 and steps.mean() > 0 else None,
        widest=(float(steps[most]), which[most], which[most + 1]) if len(steps) else None,
    )


def _shown(panel: Panel, middles: Floats, seams: Sequence[SeamSeen]) -> tuple[Floats, list[tuple[int, ...]]]:
    """Bands and in-betweens as they follow one another, and which band, or which two, each one is."""
    between = {seam.pair[0]: seam for seam, joint in zip(seams, panel.joints(), strict=False) if joint.overlap}
    shown, which = [], list[tuple[int, ...]]()
    for k, middle in enumerate(middles):
        shown.append(middle)
        which.append((k,))
        if k in between:
            shown.append(between[k].lab)
            which.append(between[k].pair)
    return np.array(shown), which


def _bands(
    job: Job, panel: Panel, placed: Placed, own: Floats, middles: Floats, widened: Sequence[bool]
) -> tuple[BandSeen, ...]:
    table = constants.values(job.constants)
    apart = cm.delta_e(middles[:, None].repeat(len(middles), 1).reshape(-1, 3), np.tile(middles, (len(middles), 1)))
    near = apart.reshape(len(middles), -1) < table["company.apart"]
    same = cm.delta_e(own, middles) if len(own) else np.zeros(0)
    twins: dict[int, int] = {}
    for i, j in combinations(range(len(middles)), 2):
        if near[i, j] and panel.bands[i].lay.parts != panel.bands[j].lay.parts:
            twins.setdefault(j, i)
    found = []
    for k, (begin, end) in enumerate(placed.visible):
        name, flags = name_of(job, panel, k), []
        if k in twins:
            text = f"{name} and {name_of(job, panel, twins[k])} read as one colour."
            flags.append(Note("reads_as_one", text))
        if end - begin < table["panel.least_band"]:
            flags.append(
                Note("too_narrow", f"{name} shows over {end - begin:.1f} mm only: too narrow to be seen as itself.")
            )
        elif same[k] > table["verdict.same"]:
            now = describe(middles[k].tolist())
            flags.append(Note("not_itself", f"{name} no longer shows as itself: what lies over it makes it {now}."))
        if widened[k]:
            more = round(100 * (table["panel.pale_wider"] - 1))
            flags.append(Note("widened", f"{name} is {more} % wider: darker neighbours easily swallow a pale ink."))
        found.append(BandSeen(middles[k], begin, end, widened[k], twins.get(k), tuple(flags)))
    return tuple(found)


def _seams(job: Job, panel: Panel, placed: Placed, seen: LineColours) -> tuple[SeamSeen, ...]:
    if panel.front.layout is Layout.RIBBONS:
        return ()
    table = constants.values(job.constants)
    found = []
    for (i, j), seam in zip(neighbours(placed), placed.seams, strict=True):
        begin = placed.visible[i][1]
        end = begin + seam.overlap + seam.gap
        # What goes round is looked at as one piece; where nothing overlaps, from just beside to just beside.
        beside = 0.0 if end > begin else _BESIDE
        line_of = np.linspace(begin - beside, end + beside, _ALONG)
        ats = [at % placed.length if at > placed.length else at for at in line_of.tolist()]
        middle = seen.nearest(ats[_ALONG // 2] - beside)
        hardest, kind, mud, muddy = seen.hardest(begin - 0.1, end + 0.1), VerdictKind.CLEAN, 0.0, 0.0
        if seam.overlap:
            there = seen.between(begin, end)
            kind, mud = KINDS[int(seen.kind[middle])], float(seen.mud[there].max(initial=0.0))
            muddy = min(end - begin, float(np.gradient(seen.at)[there & (seen.mud >= job.mud_line)].sum()))
        one = SeamSeen(
            pair=(i, j),
            begin=begin,
            end=end,
            lab=seen.lab[middle],
            along=np.stack([np.interp(ats, seen.at, channel) for channel in seen.lab.T], axis=1),
            kind=kind,
            mud=mud,
            muddy_mm=muddy,
            hardest=hardest,
            flags=(),
        )
        names = (name_of(job, panel, i), name_of(job, panel, j))
        flags = _flags(one, names, job.mud_line, table["seam.hard"]) if panel.blends and seam.overlap else ()
        hard = panel.blends and not seam.overlap and not seam.gap and hardest > table["seam.hard"]
        if hard:
            flags = (_hard(one, names),)
        found.append(replace(one, flags=flags))
    return tuple(found)


def _flags(seam: SeamSeen, names: tuple[str, str], mud_line: float, hard: float) -> tuple[Note, ...]:
    both, flags = f"{names[0]} and {names[1]}", []
    if seam.mud >= mud_line:
        over = f"over {seam.muddy_mm:.0f} mm" if seam.muddy_mm >= 1 else "at one place"
        flags.append(Note("muddy", f"{both} go muddy {over}: {describe(seam.lab.tolist())}."))
    elif seam.kind is VerdictKind.SWAMPED:
        ends = cm.delta_e(seam.along[[0, -1]], seam.lab)
        over, under = names if ends[0] < ends[1] else names[::-1]
        flags.append(Note("swamped", f"{over} takes over where it meets {under}; the blend is short."))
    elif seam.kind is VerdictKind.NO_NEW_COLOUR:
        flags.append(Note("no_new_colour", f"{both} make no third colour where they meet."))
    if seam.hardest > hard:
        flags.append(_hard(seam, names))
    return tuple(flags)


def _hard(seam: SeamSeen, names: tuple[str, str]) -> Note:
    paler = names[int(seam.along[-1][0] > seam.along[0][0])]
    both = f"between {names[0]} and {names[1]}"
    return Note("hard_line", f"You may see a line {both}: go over it once more, lightly, with {paler}.")


@dataclass(frozen=True, slots=True)
class Through:
    """What a window shows of a panel."""

    bands: tuple[float, ...]
    """Share of the window that each band fills by itself, 0–1."""
    kept: tuple[float, ...]
    """Share of each band's own area that stays, 0–1."""
    seams: tuple[float, ...]
    """Share of the window that each seam fills."""
    colours: int
    """How many colours are left."""


def through(job: Job, panel: Panel, found: Study, rings: Sequence[Ring]) -> Through:
    """What is left of a panel that is cut to outlines, mm from its top left corner."""
    front, placed = panel.front, found.placed
    x, y = spots(front.whole, _FINE)
    at, cut = coordinates(front, x, y), inside(rings, x, y)
    area = max(1, int(cut.sum()))
    bands, kept = [], []
    for begin, end in placed.visible:
        own = (at >= begin) & (at <= end)
        bands.append(float((own & cut).sum()) / area)
        kept.append(float((own & cut).sum()) / max(1, int(own.sum())))
    seams = []
    for seam in found.seams:
        own = (at > seam.begin) & (at < seam.end)
        seams.append(float((own & cut).sum()) / area if seam.end > seam.begin else 0.0)
    left = [band.lab for band, share in zip(found.bands, bands, strict=True) if share > _NOTHING]
    left += [seam.lab for seam, share in zip(found.seams, seams, strict=True) if share > _NOTHING]
    apart = constants.values(job.constants)["company.apart"]
    return Through(tuple(bands), tuple(kept), tuple(seams), told_apart(left, apart))
