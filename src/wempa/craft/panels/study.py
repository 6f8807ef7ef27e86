"""What a panel will show: its bands, what happens at every seam, how many colours there are, how even their steps."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.colour.distinct import told_apart
from wempa.craft.colour.naming import describe
from wempa.craft.job import Job, Note
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.vocabulary import VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from . import panel as plans
from .bands import Joint, Placed, neighbours
from .colours import LineColours, line_colours
from .fades import settled, with_courses
from .front import coordinates, spots
from .panel import Panel, name_of
from .picture import ribbons_at
from .shapes import Ring, inside
from .work import Work, order_of_laying, plan_work

# Colours told along a seam, from the one band to the other.
_ALONG = 7
_BESIDE = 0.5
# Spots per mm at which a window is looked through, and the share of it that nobody misses.
_FINE, _NOTHING = 2.0, 0.005
_A_TWENTIETH = 0.05


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
    """Where the in-between or gap begins to show, mm; of a ring's last seam as if the line went on."""
    end: float
    both: tuple[float, float]
    """From where to where both inks have at least a twentieth of their usual amount, mm; begin and end of a gap."""
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
    """Steepest change along it, ΔE00 over a millimetre."""
    flags: tuple[Note, ...]
    soft: float
    """How softly the two blend as it is, 0 (stripes) to 1."""
    chosen: Note | None
    """Why it is kept short or bare, where nobody said its width."""


@dataclass(frozen=True, slots=True, eq=False)
class Study:
    """All that is told of a panel."""

    panel: Panel
    """With its seams as they were settled, where nobody said their width."""
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
    order, reason = order_of_laying(panel, own)
    panel, why = settled(job, panel, order, wanted)
    placed = with_courses(job, panel, plans.placed(job, panel, widened), order, wanted)
    seen = line_colours(job, panel, placed, order, wanted)
    middles = np.array([seen.lab[seen.nearest((begin + end) / 2)] for begin, end in placed.visible])
    bands = _bands(job, panel, placed, own, seen, middles, widened)
    seams = _seams(job, panel, placed, seen, bands, why)
    shown, which = _shown(panel, middles, seams)
    apart = constants.values(job.constants)["company.apart"]
    steps = cm.delta_e(shown[1:], shown[:-1])
    # Of equal steps the first is taken; rounding must not decide.
    most = int(np.argmax(steps.round(6))) if len(steps) else 0
    return Study(
        panel=panel,
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
    between = {seam.pair[0]: seam for seam in seams if seam.end > seam.begin and not panel.seams[seam.pair[0]].gap}
    shown, which = [], list[tuple[int, ...]]()
    for k, middle in enumerate(middles):
        shown.append(middle)
        which.append((k,))
        if k in between:
            shown.append(between[k].lab)
            which.append(between[k].pair)
    return np.array(shown), which


def _bands(
    job: Job,
    panel: Panel,
    placed: Placed,
    own: Floats,
    seen: LineColours,
    middles: Floats,
    widened: Sequence[bool],
) -> tuple[BandSeen, ...]:
    table = constants.values(job.constants)
    apart = cm.delta_e(middles[:, None].repeat(len(middles), 1).reshape(-1, 3), np.tile(middles, (len(middles), 1)))
    near = apart.reshape(len(middles), -1) < table["company.apart"]
    twins: dict[int, int] = {}
    for i, j in combinations(range(len(middles)), 2):
        if near[i, j] and panel.bands[i].lay.parts != panel.bands[j].lay.parts:
            twins.setdefault(j, i)
    found = []
    for k, (begin, end) in enumerate(placed.visible):
        name, flags = name_of(job, panel, k), []
        if k in twins:
            text = f"{name} and {name_of(job, panel, twins[k])} read as one colour."
            flags.append(Note(NoteCode.READS_AS_ONE, text))
        if end - begin < table["panel.least_band"]:
            flags.append(
                Note(
                    NoteCode.TOO_NARROW,
                    f"{name} shows over {end - begin:.1f} mm only: too narrow to be seen as itself.",
                )
            )
        elif _away(own[k], seen, begin, end) > table["verdict.same"]:
            now = describe(middles[k].tolist())
            flags.append(
                Note(NoteCode.NOT_ITSELF, f"{name} no longer shows as itself: what lies over it makes it {now}.")
            )
        if widened[k]:
            more = round(100 * (table["panel.pale_wider"] - 1))
            flags.append(
                Note(NoteCode.WIDENED, f"{name} is {more} % wider: darker neighbours easily swallow a pale ink.")
            )
        found.append(BandSeen(middles[k], begin, end, widened[k], twins.get(k), tuple(flags)))
    return tuple(found)


def _away(own: Floats, seen: LineColours, begin: float, end: float) -> float:
    """How far a band is from its ink by itself, ΔE00, where it is nearest to it."""
    there = seen.lab[seen.between(begin, end)]
    return float(cm.delta_e(there, np.broadcast_to(own, there.shape)).min(initial=np.inf))


def _seams(
    job: Job,
    panel: Panel,
    placed: Placed,
    seen: LineColours,
    bands: Sequence[BandSeen],
    why: Sequence[Note | None],
) -> tuple[SeamSeen, ...]:
    if panel.layout.overlaid:
        return ()
    table = constants.values(job.constants)
    found = []
    for (i, j), joint, reason in zip(neighbours(placed), placed.seams, why, strict=True):
        begin, end = joint.begin, joint.end
        # A seam that goes round the end of the line is looked at as one piece. Where nothing overlaps, it is looked
        # at from just beside to just beside.
        beside = 0.0 if joint.overlap else _BESIDE
        line_of = np.linspace(joint.first - beside, joint.last + beside, _ALONG)
        ats = _around(placed, line_of)
        middle = seen.nearest(_around(placed, np.array([(begin + end) / 2]))[0])
        hardest = max(seen.hardest(first, last) for first, last in _pieces(placed, joint.first - 0.1, joint.last + 0.1))
        kind, mud, muddy = VerdictKind.CLEAN, 0.0, 0.0
        if joint.overlap:
            there = np.any([seen.between(*piece) for piece in _pieces(placed, joint.first, joint.last)], axis=0)
            # An ink that shows as itself elsewhere on the panel is not swamped by its neighbour.
            shown = not any(flag.code is NoteCode.NOT_ITSELF for k in (i, j) for flag in bands[k].flags)
            kind = KINDS[int((seen.unswamped if shown else seen.kind)[middle])]
            mud = float(seen.mud[there].max(initial=0.0))
            muddy = sum(seen.muddy_mm(*piece, job.mud_line) for piece in _pieces(placed, joint.first, joint.last))
        one = SeamSeen(
            pair=(i, j),
            begin=begin,
            end=end,
            both=_both(joint) if joint.overlap else (begin, end),
            lab=seen.lab[middle],
            along=seen.lab_at(np.array(ats)),
            kind=kind,
            mud=mud,
            muddy_mm=muddy,
            hardest=hardest,
            flags=(),
            soft=_softness(placed, (i, j), joint, table["seam.soft"]),
            chosen=reason,
        )
        names = (name_of(job, panel, i), name_of(job, panel, j))
        flags = _flags(job, panel, one, joint.overlap, names, table) if panel.blends else ()
        if reason is not None:
            # A width that was chosen for the colours' sake is no fault.
            flags = tuple([flag for flag in flags if flag.code not in (NoteCode.HARD_LINE, NoteCode.MUDDY)])
        found.append(replace(one, flags=flags))
    return tuple(found)


def _around(placed: Placed, at: Floats) -> list[float]:
    """Places of which some may lie beyond the end of a line that closes, on the line."""
    on = np.where(placed.closed & (at > placed.length), at - placed.length, at).clip(0, placed.length)
    return [float(each) for each in on]


def _pieces(placed: Placed, begin: float, end: float) -> list[tuple[float, float]]:
    """A part of the line that may go on beyond its end, in one or two pieces."""
    if not placed.closed or end <= placed.length:
        return [(begin, end)]
    return [(begin, placed.length), (0.0, end - placed.length)]


def _softness(placed: Placed, pair: tuple[int, int], joint: Joint, most: float) -> float:
    """How far a seam fades of what the softest would, 0–1."""
    wide = sum(placed.visible[k][1] - placed.visible[k][0] for k in pair)
    return min(1.0, joint.overlap / (most * wide)) if most * wide > 0 else 0.0


def _both(joint: Joint) -> tuple[float, float]:
    """From where to where both inks have a twentieth of their usual amount at least, mm."""
    fine = np.linspace(joint.first, joint.last, 401)
    there = fine[np.minimum(*joint.parts(joint.step(fine))) >= _A_TWENTIETH]
    return (float(there[0]), float(there[-1])) if len(there) else (joint.begin, joint.end)


def _flags(
    job: Job, panel: Panel, seam: SeamSeen, overlap: float, names: tuple[str, str], table: Mapping[str, float]
) -> tuple[Note, ...]:
    both, flags = f"{names[0]} and {names[1]}", []
    if seam.mud >= job.mud_line and seam.muddy_mm > table["seam.mud_seen"]:
        flags.append(
            Note(NoteCode.MUDDY, f"{both} go muddy over {seam.muddy_mm:.0f} mm: {describe(seam.lab.tolist())}.")
        )
    elif seam.kind is VerdictKind.SWAMPED:
        ends = cm.delta_e(seam.along[[0, -1]], seam.lab)
        over, under = names if ends[0] < ends[1] else names[::-1]
        flags.append(Note(NoteCode.SWAMPED, f"{over} takes over where it meets {under}; the blend is short."))
    elif seam.kind is VerdictKind.NO_NEW_COLOUR and overlap:
        flags.append(Note(NoteCode.NO_NEW_COLOUR, f"{both} make no third colour where they meet."))
    # Stripes that were asked for are no fault, and neither is bare card between two.
    asked = panel.soft == 0 and panel.seams[seam.pair[0]].soft is None
    bare = panel.seams[seam.pair[0]].gap > 0
    if seam.hardest > table["seam.hard"] and not bare and not (asked and not overlap):
        flags.append(_hard(seam, names))
    return tuple(flags)


def _hard(seam: SeamSeen, names: tuple[str, str]) -> Note:
    paler = names[int(seam.along[-1][0] > seam.along[0][0])]
    both = f"between {names[0]} and {names[1]}"
    return Note(NoteCode.HARD_LINE, f"You may see a line {both}: go over it once more, lightly, with {paler}.")


@dataclass(frozen=True, slots=True)
class WayToBlend:
    """What it costs to blend a panel so softly."""

    soft: float
    """0 stripes, 1 as soft as the room allows."""
    words: str
    minutes: float
    passes: float
    """The most that any of its inks takes."""


def ways_to_blend(job: Job, panel: Panel, wanted: Floats | None = None) -> tuple[WayToBlend, ...]:
    """From stripes through short seams to soft, seams as they are said, or settle then; none where none blend.

    `panel` is as it is planned, not settled already; `wanted` is CIELAB of the inks that are owned
    or asked for, (m, 3).
    """
    if not panel.layout.worked or len(panel.bands) < 2:
        return ()
    table, own = constants.values(job.constants), plans.alone(job, panel)
    order, reason = order_of_laying(panel, own)
    found = []
    for soft, words in ((0.0, "stripes"), (table["seam.short"], "short seams"), (1.0, "soft")):
        other, _ = settled(job, replace(panel, soft=soft), order, wanted)
        work = plan_work(job, other, plans.placed(job, other, plans.pale(job, other, own)), order, reason)
        found.append(WayToBlend(soft, words, work.minutes, max(step.passes for step in work.steps)))
    return tuple(found)


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
    # A ribbon's edge may be torn or lean: what lies uppermost is looked at spot by spot.
    top = ribbons_at(job, panel, placed, x, y) if panel.layout.overlaid else None
    for k, (begin, end) in enumerate(placed.visible):
        own = (at >= begin) & (at <= end) if top is None else top == k
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
