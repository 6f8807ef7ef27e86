"""How a panel is made: in which order, with how many loads of the tool, how long it takes, what may stay to be seen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, Note
from wempa.craft.prediction.amounts import offered
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import PreparedJob
from wempa.craft.vocabulary import Layout, Load, School, Tool, Upper
from wempa.optics.grid import Floats

from .bands import Placed, neighbours, share
from .front import coordinates, spots
from .panel import Panel, name_of, reach_of

# Drying time counts with the amount, in pad impressions, between these.
_LEAST_FILM, _MOST_FILM = 0.15, 4.0

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
    """Minutes of work, changing and cleaning included."""


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
    if panel.front.layout is Layout.RIBBONS:
        return tuple(range(n)), _RIBBONS
    if panel.front.layout is Layout.ROLLER:
        return tuple(range(n)), _ROLLER
    light = own[:, 0].tolist()
    # Equally light is the same ink once more; bands in both places are laid one after the other.
    ranks: dict[School, list[tuple[float, int]]] = {
        School.LIGHTEST_FIRST: [(-round(light[k], 6), k) for k in range(n)],
        School.DARKEST_FIRST: [(round(light[k], 6), k) for k in range(n)],
        School.MIDDLE_FIRST: [(abs(k - (n - 1) / 2), k) for k in range(n)],
        School.AS_LISTED: [(0.0, k) for k in range(n)],
    }
    rank = ranks[panel.school]
    below: list[set[int]] = [set() for _ in range(n)]
    ring = n > 1 and panel.front.closed
    pairs = [(k, (k + 1) % n) for k in range(n if ring else n - 1)]
    for seam, (first, second) in zip(panel.seams, pairs, strict=True):
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
        order.append(min(free, key=lambda k: rank[k]))
    followed = order == sorted(range(n), key=lambda k: rank[k])
    return tuple(order), REASONS[panel.school] + ("" if followed else " Where a seam says otherwise, it has its way.")


def plan_work(job: Job, panel: Panel, placed: Placed, order: tuple[int, ...], reason: str) -> Work:
    """Loads, minutes and waits of every band in the order of laying, and what may go wrong."""
    table = constants.values(job.constants)
    bench = prepare_job(job, list(dict.fromkeys(key for band in panel.bands for key, _ in band.lay.parts)))
    areas, joints, pairs = areas_of(job, panel, placed), panel.joints(), neighbours(placed)
    clock, done = 0.0, dict[int, float]()
    steps: list[BandWork] = []
    notes: list[Note] = []
    last: tuple[tuple[str, float], ...] | None = None
    for k in order:
        lay = panel.laid(k)
        tool = lay.tool or Tool.PAD
        passes = lay.passes if lay.dose is None else 1.0
        waits = 0.0
        for seam, pair in zip(joints, pairs, strict=True):
            other = pair[1] if pair[0] == k else pair[0]
            if k in pair and other in done and seam.overlap and not seam.wet:
                waits = max(waits, done[other] + dry_minutes(job, panel, other, bench) - clock)
        if panel.front.layout is Layout.RIBBONS and steps:
            waits = max(0.0, done[steps[-1].band] + dry_minutes(job, panel, steps[-1].band, bench) - clock)
        work = passes * areas[k] * table[f"work.{tool}.pace"] / 60
        change = table["work.change"] if last is not None and last != lay.parts else 0.0
        waits = max(0.0, waits - change)
        for seam, pair in zip(joints, pairs, strict=True):
            other = pair[1] if pair[0] == k else pair[0]
            if k in pair and other in done and seam.wet and panel.front.layout is not Layout.ROLLER:
                stays = _values(bench, panel, other)["open_time"] / 60
                since = clock + waits + change - done[other]
                if since > stays:
                    name, upper = name_of(job, panel, other), name_of(job, panel, k)
                    notes.append(
                        Note(
                            "dried_too_soon",
                            f"{name} stays open for {_span(stays)}, and {upper} comes {_span(since)} after it: work "
                            "the two in small parts, or count the seam as dry.",
                        )
                    )
        clock += waits + change + work
        done[k] = clock
        loads = max(1, int(np.ceil(passes * areas[k] / table[f"work.{tool}.reach"])))
        steps.append(BandWork(k, waits, loads, work + change))
        notes += _marks(job, panel, placed, k, tool)
        last = lay.parts
    if panel.front.layout is Layout.ROLLER and panel.rolls > 1:
        # Over it once more, as long as the first time; the inks are on the roller already.
        clock += sum(step.minutes for step in steps)
        if not panel.roll_wet:
            dries = max(dry_minutes(job, panel, k, bench) for k in order)
            clock += dries
            text = f"Let it dry for {_span(max(dries, 1 / 60))} before it is rolled again from the other side."
            notes.append(Note("dry_between_rolls", text))
    return Work(order, reason, tuple(steps), clock, tuple(dict.fromkeys(notes)))


def areas_of(job: Job, panel: Panel, placed: Placed) -> list[float]:
    """Card that each band's ink reaches, its overlaps included, cm²."""
    front = panel.front
    x, y = spots(front.whole, 80 / max(front.width, front.height))
    at = coordinates(front, x, y).reshape(-1)
    if panel.front.layout is Layout.RIBBONS:
        reaches = reach_of(job, panel, placed)
        there = np.stack([(at >= begin) & (at <= end) for begin, end in reaches], axis=1)
    else:
        there = share(placed, np.clip(at, 0, placed.length)) > 0
    whole = front.width * front.height / 100
    return [float(part) * whole for part in there.mean(axis=0)]


def dry_minutes(job: Job, panel: Panel, k: int, bench: PreparedJob | None = None) -> float:
    """Minutes until band k can be laid over: its formula's dry time by amount, longer on sealed card."""
    table = constants.values(job.constants)
    lay = panel.laid(k)
    bench = bench or prepare_job(job, [key for key, _ in lay.parts])
    lookup, ground = bench.lookup(), bench.card.ground
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
    return dict(bench.lookup()[panel.laid(k).parts[0][0]][1].values)


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
                "no_room",
                f"{name} has {room:.0f} mm with its overlaps and the {tool} is about {width:.0f} mm wide: there is no "
                f"room to work marks out, so take a smaller one and a lighter hand.",
            )
        )
    elif lay.load is Load.JUICY and tool.swept:
        found.append(Note("streaks", f"{name} is juicy: its first touch may stay as a mark. Begin on scrap, or blot."))
    return found
