"""How a panel is made: in which order, with how many loads of the tool, how long it takes, what may stay to be seen.

Neighbours that blend are worked at once, to and fro while both are open, then the next two;
waits are only where something has to be dry.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown, Note
from wempa.craft.prediction.amounts import offered
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import PreparedJob
from wempa.craft.vocabulary import Load, School, Tool, Upper
from wempa.optics.grid import Floats

from .bands import Placed, neighbours, share
from .front import Front, coordinates, spots
from .panel import Panel, name_of, reach_of

# Drying time counts with the amount, in pad impressions, between these.
_LEAST_FILM, _MOST_FILM = 0.15, 4.0
# Areas are counted in so many parts of the line.
_BINS = 400

REASONS = {
    School.LIGHTEST_FIRST: "Lightest first: a pale ink's tool then meets only bare or paler card, and its pad stays "
    "clean.",
    School.DARKEST_FIRST: "Darkest first: the paler inks soften its edges afterwards. Clean the mat after each, and "
    "wipe the brush before it goes back to a pale pad.",
    School.MIDDLE_FIRST: "Middle first, then outwards to both sides: both halves run into one and the same colour.",
    School.AS_LISTED: "In the order of the bands, from the first to the last.",
}
_RIBBONS = "One ribbon after the other along the edge, as they are listed: each lies over the one before."
_ROLLER = "All in one go: the inks stand side by side on the roller."


@dataclass(frozen=True, slots=True)
class BandWork:
    """One band being laid."""

    band: int
    waits: float
    """Minutes until what it meets is dry; 0 where nothing has to dry."""
    loads: int
    """How often the tool takes ink."""
    minutes: float
    """Minutes of work, changing, cleaning and going over its seams included."""
    passes: float
    """How often the tool goes over where the ink is deepest; more than is said where the fade is soft: then lightly."""
    why: str
    """Why it comes at this place in the order, a sentence."""


@dataclass(frozen=True, slots=True)
class Work:
    """All of the laying."""

    order: tuple[int, ...]
    reason: str
    steps: tuple[BandWork, ...]
    minutes: float
    """From the first touch to the last, waiting included."""
    notes: tuple[Note, ...]
    """Risks of streaks and marks, and of inks that will have dried too soon."""


def order_of_laying(panel: Panel, own: Floats) -> tuple[tuple[int, ...], str]:
    """The places of the bands as they are laid, by school, and why; `own` is CIELAB of each alone, (n, 3).

    What a seam says about its two comes before the school.

    Raises
    ------
    JobError
        What the seams say goes round in a circle.
    """
    n = len(panel.bands)
    if panel.layout.overlaid:
        return tuple(range(n)), _RIBBONS
    if panel.layout.rolled:
        return tuple(range(n)), _ROLLER
    light = own[:, 0].tolist()
    # Equally light bands are the same ink again and are laid one after the other.
    ranks: dict[School, list[tuple[float, int]]] = {
        School.LIGHTEST_FIRST: [(-round(light[k], 6), k) for k in range(n)],
        School.DARKEST_FIRST: [(round(light[k], 6), k) for k in range(n)],
        School.MIDDLE_FIRST: [(abs(k - (n - 1) / 2), k) for k in range(n)],
        School.AS_LISTED: [(0.0, k) for k in range(n)],
    }
    rank = ranks[panel.school]
    below: list[set[int]] = [set() for _ in range(n)]
    joined: list[set[int]] = [set() for _ in range(n)]
    ring = n > 1 and panel.front.closed
    pairs = [(k, (k + 1) % n) for k in range(n if ring else n - 1)]
    for seam, joint, (first, second) in zip(panel.seams, panel.joints(), pairs, strict=True):
        if joint.wet and not joint.gap and joint.overlap != 0:
            # What is worked at once is laid one after the other: the next band lies beside one that is still open.
            joined[first].add(second)
            joined[second].add(first)
        if seam.upper is Upper.FIRST:
            below[first].add(second)
        elif seam.upper is Upper.SECOND:
            below[second].add(first)
    order: list[int] = []
    while len(order) < n:
        free = [k for k in range(n) if k not in order and below[k] <= set(order)]
        if not free:
            raise JobError(
                "which ink lies over which goes round in a circle; let one seam follow the order", ("seams",)
            )
        order.append(min(free, key=lambda k: (not joined[k] & set(order), rank[k])))
    said = any(seam.upper is not Upper.ORDER for seam in panel.seams)
    blended = n > 2 and any(joined) and order != sorted(range(n), key=lambda k: rank[k])
    return tuple(order), (
        REASONS[panel.school]
        + (" From there on to the neighbours, two at a time, while both are open." if blended else "")
        + (" Where a seam says otherwise, it has its way." if said else "")
    )


def plan_work(job: Job, panel: Panel, placed: Placed, order: tuple[int, ...], reason: str) -> Work:
    """Loads, minutes and waits of every band in the order of laying, and what may go wrong."""
    table = constants.values(job.constants)
    bench = prepare_job(job, list(dict.fromkeys(key for band in panel.bands for key, _ in band.lay.parts)))
    areas, seam_areas = areas_of(job, panel, placed)
    meets = list(zip(placed.seams, neighbours(placed), seam_areas, strict=True))
    clock, done = 0.0, dict[int, float]()
    steps: list[BandWork] = []
    notes: list[Note] = []
    ground = [entry for entry in job.stack if isinstance(entry, LayDown)]
    last: tuple[tuple[str, float], ...] | None = None
    for k in order:
        lay = panel.laid(k)
        tool, passes = lay.tool or Tool.PAD, passes_needed(panel, placed, k, table)
        change = table["work.change"] if last is not None and last != lay.parts else 0.0
        # The bands that have to be dry first, and the minutes until each is.
        dries = [
            (done[other] + dry_minutes(job, panel, other, bench) - clock - change, other)
            for joint, pair, _ in meets
            if k in pair and (other := sum(pair) - k) in done and joint.overlap and not joint.wet
        ]
        if panel.layout.overlaid and steps:
            before = steps[-1].band
            dries = [(done[before] + dry_minutes(job, panel, before, bench) - clock - change, before)]
        waits, over = max(dries, default=(0.0, k))
        waits = max(0.0, waits)
        why = ""
        if not steps and ground:
            waits = max(lay_dries(job, entry) for entry in ground)
            why = f"First of all the white under it has to dry, about {_span(max(waits, 1 / 60))}."
        work = passes * areas[k] * table[f"work.{tool}.pace"] / 60
        open_to: list[str] = []
        for joint, pair, area in meets:
            other = sum(pair) - k
            if k not in pair or other not in done or not joint.overlap or not joint.wet:
                continue
            if panel.layout.rolled:
                continue
            open_to.append(name_of(job, panel, other))
            # Either of the two goes over the seam once more.
            work += area * table[f"work.{tool}.pace"] / 60
            notes += _open_long_enough(job, panel, (other, k), area, bench, table)
        if open_to:
            why = f"To and fro with {' and '.join(open_to)} while both are open."
        elif waits and dries:
            why = f"When {name_of(job, panel, over)} is dry: between the two a layer lies over a dry one."
        clock += waits + change + work
        done[k] = clock
        loads = max(1, int(np.ceil(passes * areas[k] / table[f"work.{tool}.reach"])))
        # Where a band is deepened or begun in its centre it gets more passes than elsewhere.
        deepest = max([factor for _, factor in placed.depths[k]], default=1.0) if placed.depths else 1.0
        told = max(passes, float(np.ceil(deepest * (lay.passes if lay.dose is None else 1.0))))
        steps.append(BandWork(k, waits, loads, work + change, told, why or reason))
        notes += _marks(job, panel, placed, k, tool)
        last = lay.parts
    if panel.layout.rolled and panel.rolls > 1:
        # The second rolling takes as long as the first. The inks are on the roller already.
        clock += sum(step.minutes for step in steps)
        if not panel.roll_wet:
            dries_in = max(dry_minutes(job, panel, k, bench) for k in order)
            clock += dries_in
            text = f"Let it dry for {_span(max(dries_in, 1 / 60))} before it is rolled again from the other side."
            notes.append(Note(NoteCode.DRY_BETWEEN_ROLLS, text))
    return Work(order, reason, tuple(steps), clock, tuple(dict.fromkeys(notes)))


def _open_long_enough(
    job: Job,
    panel: Panel,
    pair: tuple[int, int],
    area: float,
    bench: PreparedJob,
    table: Mapping[str, float],
) -> list[Note]:
    """In how many parts a seam is worked; inks that soak in need none, for they mix when re-wetted."""
    films = [k for k in pair if _values(bench, panel, k)["film_share"] > 0]
    if not films:
        return []
    lays = [panel.laid(k) for k in pair]
    seconds = sum(
        area * table[f"work.{lay.tool or Tool.PAD}.pace"] * (1 if lay.dose is not None else lay.passes) for lay in lays
    )
    soonest = min(films, key=lambda k: _values(bench, panel, k)["open_time"])
    stays = _values(bench, panel, soonest)["open_time"]
    parts = int(np.ceil(seconds / stays))
    if parts < 2:
        return []
    names = [name_of(job, panel, k) for k in pair]
    name = name_of(job, panel, soonest)
    text = f"{name} stays open for about {_span(stays / 60)}: work it with {names[names[0] == name]} in {parts} parts."
    return [Note(NoteCode.IN_PARTS, text)]


def passes_needed(panel: Panel, placed: Placed, k: int, table: Mapping[str, float]) -> float:
    """How often the tool goes over band k.

    A fade is built up by passes that end ever farther in; where they end farther apart than
    the tool's own soft edge is wide, steps show. A wide fade therefore takes more and lighter ones.
    """
    lay = panel.laid(k)
    passes = lay.passes if lay.dose is None else 1.0
    tool = lay.tool or Tool.PAD
    if not tool.swept or not panel.layout.worked:
        return passes
    fade = max([joint.feather for joint in placed.beside(k) if joint is not None], default=0.0)
    return max(passes, float(np.ceil(fade / (table[f"work.{tool}.width"] * table["seam.edge"]))))


def areas_of(job: Job, panel: Panel, placed: Placed) -> tuple[list[float], list[float]]:
    """Card that each band's ink is worked over, cm², faded parts by their share; and that of each seam in full."""
    at, weight = _along(panel.front)
    if panel.layout.overlaid:
        reaches = reach_of(job, panel, placed)
        there = np.stack([(at >= begin) & (at <= end) for begin, end in reaches], axis=1).astype(np.float64)
    else:
        there = share(placed, at)
    both = [np.minimum(there[:, i], there[:, j]) > 0 for i, j in neighbours(placed)]
    return [float(weight @ part) for part in there.T], [float(weight @ seam) for seam in both]


@lru_cache(64)
def _along(front: Front) -> tuple[Floats, Floats]:
    """Places along the line, mm (n,), and how much of the front lies at each, cm²."""
    x, y = spots(front.whole, 160 / max(front.width, front.height))
    at = np.clip(coordinates(front, x, y), 0, front.length())
    counted, edges = np.histogram(at, _BINS, (0, front.length()))
    return (edges[1:] + edges[:-1]) / 2, counted / at.size * (front.width * front.height / 100)


def dry_minutes(job: Job, panel: Panel, k: int, bench: PreparedJob | None = None) -> float:
    """Minutes until band k can be laid over; see `lay_dries`."""
    return lay_dries(job, panel.laid(k), bench)


def lay_dries(job: Job, lay: LayDown, bench: PreparedJob | None = None) -> float:
    """Minutes until a lay-down can be laid over: its formula's dry time by amount, longer on sealed card."""
    table = constants.values(job.constants)
    bench = bench or prepare_job(job, [key for key, _ in lay.parts])
    lookup, ground = bench.lookup, bench.card.ground
    amount = time = 0.0
    for key, part in lay.parts:
        prepared = lookup[key][1]
        if lay.dose is not None or lay.tool is None:
            amount += part * (lay.dose or 0.0) * prepared.offer
        else:
            amount += part * offered(lay.tool, lay.load, lay.passes, prepared.habit, table)
        time += part * prepared.values["dry_time"]
    sealed = table["work.sealed"] if ground.absorbency <= table["marks.sealed"] else 1.0
    return time * sealed * min(max(amount, _LEAST_FILM), _MOST_FILM)


def _values(bench: PreparedJob, panel: Panel, k: int) -> dict[str, float]:
    return dict(bench.lookup[panel.laid(k).parts[0][0]][1].values)


def _span(minutes: float) -> str:
    return f"{round(minutes * 60)} s" if minutes < 2 else f"{round(minutes)} min"


def _marks(job: Job, panel: Panel, placed: Placed, k: int, tool: Tool) -> list[Note]:
    values = constants.values(job.constants)
    name, lay = name_of(job, panel, k), panel.laid(k)
    begin, end = placed.start[k], placed.stop[k]
    room, width = end - begin, values[f"work.{tool}.width"]
    found = []
    if tool.swept and room < width:
        found.append(
            Note(
                NoteCode.NO_ROOM,
                f"{name} has {room:.0f} mm with its overlaps and the {tool} is about {width:.0f} mm wide: there is no "
                f"room to work marks out, so take a smaller one and a lighter hand.",
            )
        )
    elif lay.load is Load.JUICY and tool.swept:
        found.append(
            Note(NoteCode.STREAKS, f"{name} is juicy: its first touch may stay as a mark. Begin on scrap, or blot.")
        )
    return found
