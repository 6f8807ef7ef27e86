"""When every act of an evening is done, if its bouts are done in an order: as early as hands and drying let it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from wempa.craft.vocabulary import Do

from .acts import TOOL, cleaned
from .evening import Act, Bout, Drying, Evening, Need
from .tools_owned import cleaning_between

Holding = Mapping[int, str]
"""The key of what each tool held last, by place; tools that are clean are not named."""


@dataclass(frozen=True, slots=True)
class Uses:
    """Which tools a bout takes up, by place: what each has to hold first, and what it holds in the end."""

    first: Mapping[int, Need]
    last: Mapping[int, str]


def uses_of(bout: Bout, held: Mapping[Need, int]) -> Uses:
    """What a bout does with the tools."""
    first, last = dict[int, Need](), dict[int, str]()
    for act in bout.acts:
        if act.do is Do.LOAD:
            for need in act.needs:
                first.setdefault(held[need], need)
                last[held[need]] = need.key
    return Uses(first, last)


@dataclass(frozen=True, slots=True)
class Timed:
    """A bout in its place."""

    bout: int
    start: int
    """Ticks; of its first act, cleaning included."""
    acts: tuple[Act, ...]
    """With the cleaning that its tools want first."""
    added: int
    """How many acts of cleaning stand before its own."""
    main: int
    """Ticks at which the first act begins that had to wait for something dry."""

    @property
    def end(self) -> int:
        """When its last act ends."""
        return self.start + sum(act.ticks for act in self.acts)

    def begins(self, act: int) -> int:
        """When one of its own acts begins, by its place in the bout."""
        return _begin(self, act + self.added)

    def ends(self, act: int) -> int:
        """When one of its own acts ends."""
        return self.begins(act) + self.acts[act + self.added].ticks


def _begin(timed: Timed, at: int) -> int:
    """When an act begins: all before the main ones in one go, these as soon as they may."""
    return timed.start + sum(act.ticks for act in timed.acts[:at])


@dataclass(frozen=True, slots=True)
class Begun:
    """Where an evening stands when planning begins."""

    now: int = 0
    """Ticks."""
    holding: Holding = field(default_factory=dict)
    ended: Mapping[int, int] = field(default_factory=dict)
    """When bouts that are done ended, by place."""
    dry: Mapping[tuple[int, int], int] = field(default_factory=dict)
    """When what they laid is dry."""
    first: int | None = None
    """The bout that was begun and has to be gone on with."""


FROM_NOTHING = Begun()


def laid_out(
    evening: Evening,
    bouts: Mapping[int, Bout],
    order: Sequence[int],
    begun: Begun = FROM_NOTHING,
    one_by_one: bool = False,
) -> list[Timed]:
    """The bouts of an order in their times; `one_by_one` begins a piece when the one before is done and dry.

    `bouts` are those that are still to do, by place.
    """
    holding, now = dict(begun.holding), begun.now
    ended, dry = dict(begun.ended), dict(begun.dry)
    found: list[Timed] = []
    piece_before: int | None = None
    for number in order:
        bout = bouts[number]
        uses = uses_of(bout, evening.held)
        cleaning = []
        for tool, need in uses.first.items():
            was = holding.get(tool)
            do = None if was is None else cleaning_between(was, need.key, evening.facts, evening.habits, evening.table)
            if do and was is not None:
                cleaning.append(cleaned(do, need, evening.facts[was].name, evening.habits, evening.table))
        release = max([dry.get(wait, 0) for wait in bout.waits], default=0)
        earliest = max([ended.get(other, 0) for other in bout.after], default=0)
        begins = max(now, earliest)
        if one_by_one and piece_before not in (None, bout.piece):
            begins = max(begins, *ended.values(), *dry.values())
        piece_before = bout.piece
        prelude = sum(act.ticks for act in cleaning) + bout.span(0, bout.prelude)
        if begins + prelude < release:
            begins = release - prelude
        timed = Timed(number, begins, (*cleaning, *bout.acts), len(cleaning), begins + prelude)
        found.append(timed)
        now = timed.end
        ended[number] = now
        holding.update(uses.last)
        for d, drying in begun_dryings(bout):
            dry[number, d] = timed.ends(drying.act) + drying.ticks
    return found


def begun_dryings(bout: Bout) -> list[tuple[int, Drying]]:
    """The dryings that begin with an act that is still to do, with their places."""
    return [(d, drying) for d, drying in enumerate(bout.dryings) if drying.act >= 0]


def total_of(bouts: Mapping[int, Bout], timed: Sequence[Timed]) -> int:
    """Ticks until the last act is done and the last ink dry."""
    ends = [each.end for each in timed]
    ends += [each.ends(drying.act) + drying.ticks for each in timed for _, drying in begun_dryings(bouts[each.bout])]
    return max(ends, default=0)


def at_mat_of(timed: Sequence[Timed]) -> int:
    """Ticks that hands are busy."""
    return sum(act.ticks for each in timed for act in each.acts)


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the plan, as it is read at the mat."""

    n: int
    bout: int
    act: int
    """Its place in the bout; of drying, which drying; below 0 for cleaning before it."""
    piece: int
    do: Do
    text: str
    inks: tuple[str, ...]
    tools: tuple[int, ...]
    start: int
    ticks: int
    hands: bool
    after: tuple[int, ...]
    why: str
    caution: str = ""
    laid: int = 0
    parts: int = 1
    waits: tuple[tuple[int, int], ...] = ()
    """The dryings that it waits for, each as its bout and its place there."""
    stays: int = 0
    """Ticks that what it has to be worked into stays open; 0 where nothing has to."""

    @property
    def end(self) -> int:
        """When it is done."""
        return self.start + self.ticks


def steps_of(
    evening: Evening,
    bouts: Mapping[int, Bout],
    timed: Sequence[Timed],
    first: int = 1,
    minded: frozenset[str] = frozenset(),
) -> list[Step]:
    """Every act and every drying as a numbered step, by the time it begins; hands before drying.

    A caution stands with the first step that it is about; those in `minded` were told before.
    """
    rows: list[tuple[int, bool, int, int, Act | Drying]] = []
    for each in timed:
        at = each.start
        for place, act in enumerate(each.acts):
            rows.append((at, False, each.bout, place - each.added, act))
            at += act.ticks
        for d, drying in begun_dryings(bouts[each.bout]):
            rows.append((each.ends(drying.act), True, each.bout, d, drying))
    rows.sort(key=lambda row: row[:4])
    number = {(b, dries, place): first + n for n, (_, dries, b, place, _) in enumerate(rows)}
    lasts = {each.bout: number[each.bout, False, len(bouts[each.bout].acts) - 1] for each in timed}
    firsts = {each.bout: -each.added for each in timed}
    # Where a bout begins by cleaning a tool, what lies there is what its own first act finds.
    lies = {each.bout: bouts[each.bout].acts[0].laid - (bouts[each.bout].acts[0].do is Do.LAY) for each in timed}
    found = []
    for at, dries, b, place, what in rows:
        bout, n = bouts[b], number[b, dries, place]
        if isinstance(what, Drying):
            after = (number[b, False, what.act],)
            found.append(
                Step(n, b, place, bout.piece, Do.DRY, what.text, what.inks, (), at, what.ticks, False, after, "")
            )
            continue
        before = [number[b, False, place - 1]] if place > firsts[b] else [lasts[o] for o in bout.after if o in lasts]
        why, waits = what.why, tuple[tuple[int, int], ...]()
        if place == bout.prelude:
            waits = tuple(bout.waits)
            before += [number[o, True, d] for o, d in bout.waits if (o, True, d) in number]
            why = f"{bout.why} {why}".strip()
        step = Step(
            n=n,
            bout=b,
            act=place + bout.done if place >= 0 else place,
            piece=bout.piece,
            do=what.do,
            text=text_of(evening, what),
            inks=what.inks,
            tools=tuple(dict.fromkeys(evening.held[need] for need in what.needs)),
            start=at,
            ticks=what.ticks,
            hands=True,
            after=tuple(sorted(set(before))),
            why=why,
            caution=what.caution,
            laid=what.laid if place >= 0 else lies.get(b, 0),
            parts=what.parts,
            waits=waits,
            stays=what.mixes[1] if what.mixes else 0,
        )
        found.append(step)
    return _why_waiting(_minded_once(found, minded))


def _minded_once(steps: Sequence[Step], minded: frozenset[str]) -> list[Step]:
    told, found = set(minded), []
    for step in steps:
        found.append(replace(step, caution="") if step.caution in told else step)
        told.add(step.caution)
    return found


def text_of(evening: Evening, act: Act) -> str:
    """What an act says, with the name of its tool."""
    name = "the tool"
    if act.needs:
        tool = evening.tools[evening.held[act.needs[0]]]
        name = f"the {tool.name}" if tool.usual else tool.name
    return act.text.replace(TOOL, name)


def _why_waiting(steps: Sequence[Step]) -> list[Step]:
    """With a word where hands are idle before a step: what is waited for."""
    by_number = {step.n: step for step in steps}
    free, found = 0, []
    for step in steps:
        if step.hands:
            late = [by_number[n] for n in step.after if not by_number[n].hands and by_number[n].end == step.start]
            if step.start > free and late and "has to be dry" not in step.why:
                text = "It waits until what was laid is dry."
                step = replace(step, why=f"{text} {step.why}".strip())
            free = step.end
        found.append(step)
    return found
