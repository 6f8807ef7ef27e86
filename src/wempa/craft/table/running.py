"""An evening that is under way: what is done, what is due, what dries, and planning anew from where it stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wempa.craft.vocabulary import Do

from .evening import Bout, Drying, Evening
from .schedule import scheduled
from .timeline import Begun, Step, laid_out, steps_of, total_of

_CLEANS = (Do.WIPE, Do.WASH)


@dataclass(frozen=True, slots=True)
class Mark:
    """Something that was done: an act, or a drying that somebody felt was over sooner."""

    bout: int
    act: int
    """Its place in the bout, below 0 for cleaning before it; of drying, which drying."""
    began: int
    """Ticks from the beginning of the run."""
    ended: int
    do: Do
    tool: int | None = None
    """The tool that it loaded or cleaned."""
    key: str = ""
    """What it loaded."""


@dataclass(frozen=True, slots=True)
class Timer:
    """Something that dries by itself."""

    bout: int
    drying: int
    piece: int
    text: str
    ends: int


@dataclass(frozen=True, slots=True)
class RunStanding:
    """Where a run stands."""

    due: tuple[Step, ...]
    """What is still to do, the next first; times in ticks of the run."""
    timers: tuple[Timer, ...]
    total: int
    """When all of it will be done, as it stands."""
    order: tuple[int, ...]


def standing(evening: Evening, order: Sequence[int], marks: Sequence[Mark], now: int) -> RunStanding:
    """Where a run stands at so many ticks, its bouts in an order."""
    begun, bouts = left(evening, marks, now)
    there = _begun_first([b for b in order if b in bouts], begun)
    timed = laid_out(evening, bouts, there, begun)
    own = [mark for mark in marks if mark.do is not Do.DRY and mark.act >= 0]
    minded = frozenset(evening.bouts[mark.bout].acts[mark.act].caution for mark in own)
    steps = steps_of(evening, bouts, timed, len(marks) + 1, minded)
    timers = [
        Timer(b, d, evening.bouts[b].piece, evening.bouts[b].dryings[d].text, ends)
        for (b, d), ends in begun.dry.items()
        if not any(mark.do is Do.DRY and (mark.bout, mark.act) == (b, d) for mark in marks)
    ]
    until = max([total_of(bouts, timed), *begun.dry.values(), now])
    return RunStanding(tuple(steps), tuple(sorted(timers, key=lambda each: each.ends)), until, tuple(there))


def planned_anew(
    evening: Evening, order: Sequence[int], marks: Sequence[Mark], now: int, seconds: float
) -> tuple[int, ...]:
    """The order of what is left that ends soonest from where a run stands, what is done kept."""
    begun, bouts = left(evening, marks, now)
    there = [b for b in order if b in bouts]
    before = total_of(bouts, laid_out(evening, bouts, _begun_first(there, begun), begun))
    found = scheduled(evening, bouts, seconds, begun)
    return found.order if found.total < before else tuple(_begun_first(there, begun))


def left(evening: Evening, marks: Sequence[Mark], now: int) -> tuple[Begun, dict[int, Bout]]:
    """What a run has behind it, and the bouts that are still to do, without the acts that are done."""
    holding = dict(evening.holding)
    ended, dry = dict[int, int](), dict[tuple[int, int], int]()
    done: dict[int, int] = {}
    first: int | None = None
    for mark in marks:
        bout = evening.bouts[mark.bout]
        if mark.do is Do.DRY:
            dry[mark.bout, mark.act] = min(dry.get((mark.bout, mark.act), mark.ended), mark.ended)
            continue
        if mark.tool is not None:
            if mark.do in _CLEANS:
                holding.pop(mark.tool, None)
            else:
                holding[mark.tool] = mark.key
        if mark.act >= 0:
            done[mark.bout] = mark.act + 1
        for d, drying in enumerate(bout.dryings):
            if drying.act == mark.act:
                dry[mark.bout, d] = mark.ended + drying.ticks
        first = mark.bout
        if done.get(mark.bout, 0) == len(bout.acts):
            ended[mark.bout] = mark.ended
            first = None
    bouts: dict[int, Bout] = {}
    for number, bout in enumerate(evening.bouts):
        count = done.get(number, 0)
        if count == len(bout.acts):
            continue
        bouts[number] = _without(bout, count) if count else bout
    return Begun(now, holding, ended, dry, first), bouts


def _without(bout: Bout, count: int) -> Bout:
    """A bout without its first acts."""
    dryings = tuple([Drying(each.act - count, each.ticks, each.text, each.inks) for each in bout.dryings])
    prelude = max(0, bout.prelude - count)
    # What it had to wait for is behind it once its own acts have begun.
    waits = bout.waits if count <= bout.prelude else ()
    return replace(bout, acts=bout.acts[count:], prelude=prelude, dryings=dryings, waits=waits, done=count)


def _begun_first(order: Sequence[int], begun: Begun) -> list[int]:
    return sorted(order, key=lambda b: b != begun.first)


@dataclass(frozen=True, slots=True)
class Took:
    """How long steps of a kind took against what was supposed."""

    steps: int
    planned: float
    """Minutes."""
    took: float


def times_taken(evening: Evening, marks: Sequence[Mark]) -> dict[Do, Took]:
    """How long each kind of step took in a run."""
    found: dict[Do, Took] = {}
    for mark in marks:
        if mark.do is Do.DRY or not 0 <= mark.act < len(evening.bouts[mark.bout].acts):
            continue
        act, was = evening.bouts[mark.bout].acts[mark.act], found.get(mark.do, Took(0, 0.0, 0.0))
        took = (mark.ended - mark.began) / 16
        found[mark.do] = Took(was.steps + 1, was.planned + act.ticks / 16, was.took + took)
    return found


def paces(runs: Sequence[Mapping[Do, Took]], table: Mapping[str, float]) -> dict[Do, float]:
    """A person's own factor on the minutes of each kind of step, from runs, newest last.

    The ratio of what was taken to what was supposed, drawn towards 1 as if `table.times` steps had
    gone as supposed; bounded, for a step that somebody forgot to tick off says nothing of their pace.
    """
    most, prior = table["table.pace_most"], table["table.times"]
    found: dict[Do, float] = {}
    for do in Do:
        took = [run[do] for run in runs if do in run and run[do].planned > 0]
        steps = sum(each.steps for each in took)
        if not steps:
            continue
        ratio = sum(min(most, max(1 / most, each.took / each.planned)) * each.steps for each in took) / steps
        found[do] = (prior + steps * ratio) / (prior + steps)
    return found


def loads_taken(evening: Evening, marks: Sequence[Mark]) -> tuple[dict[str, int], dict[int, int]]:
    """How many loads were taken from each pad, by key, and with each tool, by place."""
    pads, tools = dict[str, int](), dict[int, int]()
    for mark in marks:
        if mark.do is not Do.LOAD or mark.act < 0:
            continue
        act = evening.bouts[mark.bout].acts[mark.act]
        for key in act.inks:
            pads[key] = pads.get(key, 0) + act.loads
        if mark.tool is not None:
            tools[mark.tool] = tools.get(mark.tool, 0) + act.loads
    return pads, tools


def mark_of(evening: Evening, step: Step, began: int, ended: int) -> Mark:
    """The mark of a step that was done."""
    tool = step.tools[0] if step.tools and step.do in (*_CLEANS, Do.LOAD) else None
    key = ""
    if step.do is Do.LOAD and step.act >= 0:
        key = evening.bouts[step.bout].acts[step.act].needs[0].key if tool is not None else ""
    return Mark(step.bout, step.act, began, ended, step.do, tool, key)
