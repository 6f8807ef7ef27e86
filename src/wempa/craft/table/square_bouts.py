"""Test squares as bouts of work: level by level, an ink on every square that wants it before the next ink."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wempa.craft.codes import NoteCode
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown, Note
from wempa.craft.vocabulary import Do, Over, Tool, Treatment

from .acts import Hands
from .evening import Act, Bout, Drying, Habits, InkFacts, Need, OwnTool, SquaresPiece, key_of, listed, minutes, span
from .tools_owned import real_lay

# What wants what lies below it to be dry.
_ON_DRY = (Treatment.SPRITZ, Treatment.GLAZE)


@dataclass(frozen=True, slots=True)
class Level:
    """What is done to one square in one go: lay-downs worked into one another while open, then treatments."""

    lays: tuple[LayDown, ...] = ()
    treatments: tuple[Treatment, ...] = ()


@dataclass(frozen=True, slots=True)
class SquareLevels:
    """The squares of a piece, each level by level."""

    squares: tuple[tuple[Level, ...], ...]
    notes: tuple[Note, ...]

    def every(self) -> list[LayDown]:
        """All lay-downs."""
        return [lay for levels in self.squares for level in levels for lay in level.lays]

    def open_together(self) -> list[tuple[LayDown, ...]]:
        """Lay-downs that are worked into one another while open."""
        return [level.lays for levels in self.squares for level in levels]


def square_levels(piece: SquaresPiece, owned: Sequence[OwnTool], place: tuple[str | int, ...]) -> SquareLevels:
    """What is laid on each square with which kind of tool, level by level.

    Raises
    ------
    JobError
        A tool is named that is not there, or nothing is laid.
    """
    found, notes = [], list[Note]()
    for _, job in piece.squares:
        levels: list[Level] = []
        for n, entry in enumerate(job.stack):
            if isinstance(entry, LayDown):
                lay, said = real_lay(
                    job, entry, owned, entry.tool is not None, piece.name, (*place, "stack", n, "tool")
                )
                notes += said
                open_yet = bool(levels) and bool(levels[-1].lays) and not levels[-1].treatments
                if entry.over is Over.WET and open_yet:
                    levels[-1] = replace(levels[-1], lays=(*levels[-1].lays, lay))
                else:
                    levels.append(Level((lay,)))
            elif entry in _ON_DRY or not levels:
                levels.append(Level((), (entry,)))
            else:
                levels[-1] = replace(levels[-1], treatments=(*levels[-1].treatments, entry))
        found.append(tuple(levels))
    if not any(level.lays for levels in found for level in levels):
        raise JobError(f"{piece.name} has no ink on it: there is nothing to do at the table", place)
    return SquareLevels(tuple(found), tuple(dict.fromkeys(notes)))


def square_bouts(
    piece: SquaresPiece,
    levels: SquareLevels,
    facts: Mapping[str, InkFacts],
    habits: Habits,
    table: Mapping[str, float],
    held: Mapping[Need, int],
) -> tuple[list[Bout], list[Note]]:
    """The bouts of a piece of squares, numbered among themselves, and what may go wrong."""
    job, every = piece.squares[0][1], levels.every()
    declared = dict(ink for _, each in piece.squares for ink in each.inks)
    hands = Hands(replace(job, inks=tuple(declared.items())), every, facts, habits, table, piece.pads, held)
    side = table["table.square"]
    many = len(piece.squares) > 1
    notes: list[Note] = []
    bouts: list[Bout] = []
    laid_so_far = 0
    for depth in range(max(len(each) for each in levels.squares)):
        there = [
            (name, each[depth])
            for (name, _), each in zip(piece.squares, levels.squares, strict=True)
            if depth < len(each)
        ]
        if depth:
            acts = [hands.cleaned_mat()]
        else:
            count = f"{len(piece.squares)} squares of " if many else "a square of "
            acts = hands.ready(piece.card, f"{count}{side:.0f} × {side:.0f} mm", every, False)
            acts.append(
                hands.labelled("Write on each square’s back which it is." if many else "Write on its back what it is.")
            )
        laid: list[tuple[int, LayDown]] = []
        area = (side / 10) ** 2
        # What is laid by itself goes on ink by ink, the palest first; what is worked wet, square by square.
        single: dict[tuple[LayDown, ...], list[str]] = {}
        for name, level in there:
            if level.lays:
                single.setdefault(level.lays if len(level.lays) == 1 else (*level.lays, level.lays[0]), []).append(name)
        order = sorted(single, key=lambda lays: (len(lays) > 1, -facts[key_of(lays[0])].lightness))
        for lays in order:
            names = single[lays]
            on = f" on {listed(names)}" if many else ""
            if len(lays) == 1:
                lay = lays[0]
                acts += hands.loading(lay, acts, hands.loads_for(lay, area * len(names), lay.passes))
                laid_so_far += 1
                acts.append(_laying(hands, lay, area * len(names), on, laid_so_far))
                laid.append((len(acts) - 1, lay))
                continue
            for name in names:
                where = f" on {name}" if many else ""
                laid_so_far = _wet(piece, hands, lays[:-1], area, where, acts, laid, notes, laid_so_far, held)
        treatments = list(dict.fromkeys(each for _, level in there for each in level.treatments))
        more: list[Drying] = []
        for treatment in treatments:
            on = listed([name for name, level in there if treatment in level.treatments])
            act = hands.treated(treatment, area * len(there), f" on {on}" if many else "")
            acts.append(replace(act, laid=laid_so_far))
            more += hands.treated_dries(treatment, len(acts) - 1)
        heated = Treatment.HEAT in treatments
        if hands.heats and laid and not heated:
            acts.append(hands.heated(area * len(there)))
        dryings = [*([] if heated or hands.heats else hands.drying(piece.name, acts, laid)), *more]
        if hands.heats and laid and not heated:
            dryings.append(hands.cooling(len(acts) - 1))
        number = len(bouts)
        dry = tuple((number - 1, d) for d in range(len(bouts[-1].dryings))) if bouts else ()
        why = "What lies below has to be dry first." if dry else ""
        stamped = any(lay.tool is Tool.STAMP for _, lay in laid)
        if dry and (stamped or (treatments and not laid)):
            acts.insert(1, hands.tested())
            dryings = [replace(each, act=each.act + 1) for each in dryings]
        bouts.append(Bout(0, tuple(acts), 1 if depth else 0, tuple(dryings), (number - 1,) if number else (), dry, why))
    last = bouts[-1]
    bouts[-1] = replace(last, acts=(*last.acts, hands.closed(every)))
    dry = tuple((len(bouts) - 1, d) for d in range(len(bouts[-1].dryings)))
    log = Bout(0, (hands.logged(piece.name, every),), 0, (), (len(bouts) - 1,), dry, "It looks deeper while wet.")
    return [*bouts, log], notes


def _laying(hands: Hands, lay: LayDown, area: float, on: str, laid: int) -> Act:
    took = hands.habits.takes(Do.LAY, hands.minutes_laying(lay, area, lay.passes))
    text = f"{hands.name(lay)}{on}: {hands.how(lay, lay.passes)}."
    return Act(Do.LAY, text, took, (key_of(lay),), hands.need(lay), laid=laid)


def _wet(
    piece: SquaresPiece,
    hands: Hands,
    lays: Sequence[LayDown],
    area: float,
    where: str,
    acts: list[Act],
    laid: list[tuple[int, LayDown]],
    notes: list[Note],
    so_far: int,
    held: Mapping[Need, int],
) -> int:
    """Lay-downs worked into one another on one square: every tool is loaded before the first is laid."""
    tools = [held[need] for lay in lays for need in hands.need(lay)]
    # A tool that has to take two of them is loaded again in between.
    ahead = len(set(tools)) == len(tools)
    if ahead:
        for lay in lays:
            acts += hands.loading(lay, acts, hands.loads_for(lay, area, lay.passes))
    begun: int | None = None
    for place, lay in enumerate(lays):
        if not ahead:
            acts += hands.loading(lay, acts, hands.loads_for(lay, area, lay.passes))
        so_far += 1
        act = _laying(hands, lay, area, where, so_far)
        if place:
            under = lays[place - 1]
            stays = hands.stays_open(under)
            gap = sum(each.ticks for each in acts[begun + 1 :]) if begun is not None else 0
            text = f"{hands.name(lay)}{where}, into the wet: {hands.how(lay, lay.passes)}."
            act = replace(
                act,
                text=text,
                mixes=(key_of(under), stays),
                why=f"{hands.name(under)} stays open for about {span(minutes(stays))}.",
            )
            if gap > stays:
                notes.append(_too_late(piece, hands, under, lay, gap, stays, ahead))
        acts.append(act)
        begun = len(acts) - 1
        laid.append((begun, lay))
    return so_far


def _too_late(
    piece: SquaresPiece, hands: Hands, under: LayDown, lay: LayDown, gap: int, stays: int, ahead: bool
) -> Note:
    kind = lay.tool.said if lay.tool else "tool"
    help_ = "lay it over the other once that is dry" if ahead else f"take a second {kind}, or let the first dry"
    return Note(
        NoteCode.WET_TOO_LATE,
        f"{piece.name}: {hands.name(under)} stays open for about {span(minutes(stays))}, and {hands.name(lay)} comes "
        f"{span(minutes(gap))} later: {help_}.",
    )
