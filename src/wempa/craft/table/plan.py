"""An evening planned: pieces made into bouts, tools given to inks, bouts put in order, steps told."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from wempa.craft.codes import NoteCode
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown, Note
from wempa.craft.vocabulary import Formula, Tool

from .evening import Bout, Evening, Habits, InkFacts, Need, OwnTool, PanelPiece, Piece, jobs_of, key_of, named
from .panel_bouts import PanelLays, panel_bouts, panel_lays
from .schedule import Scheduled, naive_order, scheduled
from .square_bouts import SquareLevels, square_bouts, square_levels
from .timeline import Begun, Step, at_mat_of, laid_out, steps_of, total_of
from .tools_owned import assigned, facts_of, kept_state, notes_on, usual_tools

SECONDS = 3.0
"""How long the solver may look."""


@dataclass(frozen=True, slots=True, eq=False)
class TablePlan:
    """A planned evening; times in ticks."""

    evening: Evening
    steps: tuple[Step, ...]
    at_mat: int
    total: int
    naive_at_mat: int
    naive_total: int
    """One piece after another, waiting idle while it dries."""
    gap: float
    order: tuple[int, ...]
    """Bouts as they are done."""


def plan_evening(
    pieces: Sequence[Piece],
    owned: Sequence[OwnTool],
    habits: Habits,
    table: Mapping[str, float],
    seconds: float = SECONDS,
) -> TablePlan:
    """Plan the pieces with the tools that are owned; none owned means the usual ones.

    Raises
    ------
    JobError
        There is nothing to do, or a tool is named that is not there; what would make it possible.
    """
    evening = make_evening(pieces, owned, habits, table)
    return planned(evening, seconds)


def planned(evening: Evening, seconds: float = SECONDS) -> TablePlan:
    """The steps of an evening in the best order found, beside one piece after another."""
    bouts = dict(enumerate(evening.bouts))
    begun = Begun(holding=evening.holding)
    found: Scheduled = scheduled(evening, bouts, seconds, begun)
    naive = laid_out(evening, bouts, naive_order(bouts), begun, one_by_one=True)
    return TablePlan(
        evening,
        tuple(steps_of(evening, bouts, found.timed)),
        found.at_mat,
        found.total,
        at_mat_of(naive),
        total_of(bouts, naive),
        found.gap,
        found.order,
    )


def make_evening(
    pieces: Sequence[Piece], owned: Sequence[OwnTool], habits: Habits, table: Mapping[str, float]
) -> Evening:
    """All bouts of an evening, with a tool for every ink; raises as `plan_evening` does."""
    if not pieces:
        raise JobError("there is nothing to plan: choose a panel, an overlap or squares first")
    laid: list[PanelLays | SquareLevels] = []
    counts = {"panels": 0, "overlaps": 0}
    for piece in pieces:
        key = "panels" if isinstance(piece, PanelPiece) else "overlaps"
        where = (key, counts[key])
        counts[key] += 1
        if isinstance(piece, PanelPiece):
            if not piece.panel.bands:
                raise JobError(f"{piece.name} has no bands: there is nothing to do at the table", where)
            laid.append(panel_lays(piece, owned, where))
        else:
            laid.append(square_levels(piece, owned, where))
    facts: dict[str, InkFacts] = {}
    for piece, lays in zip(pieces, laid, strict=True):
        for job in jobs_of(piece):
            known = dict(job.inks)
            facts |= facts_of(job, [lay for lay in lays.every() if all(key in known for key, _ in lay.parts)])
    needs, meetings, wet = _needs(laid)
    tools = list(owned)
    tools += usual_tools([need for need in needs if not any(tool.kind is need.kind for tool in owned)], facts)
    held = assigned(needs, facts, tools, meetings, wet, habits)
    bouts: list[Bout] = []
    notes = [note for lays in laid for note in lays.notes]
    tried: set[frozenset[str]] = set()
    for place, (piece, lays) in enumerate(zip(pieces, laid, strict=True)):
        if isinstance(piece, PanelPiece):
            assert isinstance(lays, PanelLays)
            inks = frozenset(key_of(lay) for lay in lays.bands)
            # What is tried for one panel is tried for the next.
            known_set = replace(piece, tried=piece.tried or inks in tried)
            tried.add(inks)
            made, said = panel_bouts(known_set, lays, facts, habits, table, held)
        else:
            assert isinstance(lays, SquareLevels)
            made, said = square_bouts(piece, lays, facts, habits, table, held)
        base, there = len(bouts), 0
        for n, bout in enumerate(made):
            acts = []
            for act in bout.acts:
                # What an act does not lay lies there from before.
                there = max(there, act.laid)
                acts.append(replace(act, laid=there))
            made[n] = replace(bout, acts=tuple(acts))
        bouts += [
            replace(
                bout,
                piece=place,
                after=tuple([base + other for other in bout.after]),
                waits=tuple([(base + other, d) for other, d in bout.waits]),
            )
            for bout in made
        ]
        notes += said
    notes += notes_on(held, tools, facts)
    holding, supposed = kept_state(held, tools, facts)
    notes += _unsure(pieces, laid)
    notes += _weak_pads(pieces, facts)
    return Evening(
        pieces=tuple([named(piece) for piece in pieces]),
        bouts=tuple(bouts),
        tools=tuple(tools),
        held=held,
        facts={**facts, **supposed},
        habits=habits,
        table=table,
        holding=holding,
        notes=tuple(dict.fromkeys(notes)),
    )


def _weak_pads(pieces: Sequence[Piece], facts: Mapping[str, InkFacts]) -> list[Note]:
    """Pads that give little today."""
    weak = {key for piece in pieces for key, gives in piece.pads.items() if gives < 1}
    return [
        Note(
            NoteCode.WEAK_PAD,
            f"The pad of {ink.name} gives little today: re-ink it before you begin, or it goes on patchily.",
        )
        for key, ink in facts.items()
        if key in weak
    ]


def _needs(
    laid: Sequence[PanelLays | SquareLevels],
) -> tuple[list[Need], dict[tuple[Need, Need], int], frozenset[tuple[Need, Need]]]:
    """Every need, how many pieces each two meet on, and which are laid into one another while open."""
    needs: dict[Need, None] = {}
    together: list[list[Need]] = []
    open_pairs: list[tuple[Need, Need]] = []
    for lays in laid:
        own = [need for lay in lays.every() if (need := _need(lay)) is not None]
        needs.update(dict.fromkeys(own))
        together.append(list(dict.fromkeys(own)))
        for group in lays.open_together():
            each = list(dict.fromkeys([need for lay in group if (need := _need(lay)) is not None]))
            open_pairs += list(combinations(each, 2))
    order = {need: k for k, need in enumerate(needs)}

    def pair(one: Need, two: Need) -> tuple[Need, Need]:
        return (one, two) if order[one] < order[two] else (two, one)

    meetings: dict[tuple[Need, Need], int] = {}
    for own in together:
        for one, two in combinations(own, 2):
            meetings[pair(one, two)] = meetings.get(pair(one, two), 0) + 1
    return list(needs), meetings, frozenset(pair(one, two) for one, two in open_pairs)


def _need(lay: LayDown) -> Need | None:
    kind = lay.tool or Tool.PAD
    return None if not kind.row.held else Need(kind, key_of(lay))


def _unsure(pieces: Sequence[Piece], laid: Sequence[PanelLays | SquareLevels]) -> list[Note]:
    """Inks of which nobody knows how long they stay open."""
    found = []
    for piece, lays in zip(pieces, laid, strict=True):
        jobs = jobs_of(piece)
        inks = dict(ink for job in jobs for ink in job.inks)
        for key in dict.fromkeys(key for lay in lays.every() for key, _ in lay.parts):
            ink = inks[key]
            said = {name for name, _ in ink.constants}
            if ink.formula is Formula.UNKNOWN and not {"open_time", "dry_time"} <= said:
                text = (
                    f"Nobody knows what {ink.name or key} is made of, so its times are guesses: feel whether it is dry "
                    f"before you go on. The home test in Stash tells in two minutes."
                )
                found.append(Note(NoteCode.TIMES_UNKNOWN, text))
    return found
