"""Evenings of one workspace: what can be brought to the table, plans, and what has become of them since."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime
from threading import Lock

from wempa.api import held
from wempa.api.held import Held
from wempa.api.kept import Kept
from wempa.api.panels.making import Panels
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.errors import JobError
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.prepare import swatch_lab
from wempa.craft.table.evening import Evening, Piece, jobs_of, minutes
from wempa.craft.table.plan import TablePlan, plan_evening
from wempa.craft.table.running import paces
from wempa.craft.table.timeline import Begun, Step, at_mat_of, laid_out, steps_of, total_of
from wempa.craft.vocabulary import Do, PieceKind
from wempa.formats.job_result import coded
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem
from wempa.formats.stash.items import ToolItem
from wempa.formats.stored import StoredItem
from wempa.formats.table.items import (
    EveningItem,
    PieceRef,
    PlannedInk,
    RunItem,
    StoredHabits,
    core_habits,
    evening_text,
)
from wempa.optics import colorimetry as cm
from wempa.store import Change, NotFound, StoreError, Workspace

from .making import inks_of_swatch, overlap_piece, own_tool, panel_piece, square_job, square_piece, tried_before
from .models import DryingOf, EveningIn, EveningOut, InkChip, PieceIn, TablePiece, TableStep

_MODEL: Mapping[PieceKind, type[StoredItem]] = {
    PieceKind.PANEL: PanelItem,
    PieceKind.OVERLAP: OverlapItem,
    PieceKind.SQUARES: SwatchItem,
}
# How many plans are kept once they are read; and how many evenings are stored that nobody began.
_KEPT, _MOST = 8, 5


class Evenings:
    """The evenings of one workspace."""

    def __init__(self, workspace: Workspace, shelves: Shelves, panels: Panels) -> None:
        self._workspace, self._shelves, self._panels = workspace, shelves, panels
        self._read = Kept[Evening](_KEPT)
        # The solver takes all cores: one evening at a time.
        self._turn = Lock()

    # Planning.

    def plan(self, asked: EveningIn) -> EveningOut:
        """Plan some pieces and keep the plan.

        Raises
        ------
        JobError
            There is nothing to do, or it cannot be done; what would make it possible.
        NotFound
            A piece is not there.
        """
        shelf = self._shelves.now()
        tried = self._tried()
        pieces, refs, named = [], [], list[str]()
        for one in asked.pieces:
            stored = [held.read(self._workspace, _MODEL[one.kind], number) for number in one.ids]
            piece = self._piece(one, [each.item for each in stored], shelf)
            pieces.append(tried_before(piece, tried))
            refs.append(
                PieceRef(
                    kind=one.kind,
                    uuids=[each.uuid for each in stored],
                    called=piece.name[:200],
                    changed=[each.changed for each in stored],
                )
            )
            named.append(piece.name)
        tools = [own_tool(each.item, date.today(), shelf.table) for each in held.read_all(self._workspace, ToolItem)]
        habits = core_habits(asked.habits, self.paces())
        with self._turn:
            made = plan_evening(pieces, tools, habits, shelf.table)
        item = EveningItem(
            name=_name(named),
            pieces=refs,
            habits=asked.habits,
            inks=_inks(made, pieces, shelf),
            order=list(made.order),
            naive_at_mat=made.naive_at_mat,
            naive_total=made.naive_total,
            gap=made.gap,
            evening=evening_text(made.evening),
        )
        changes: list[Change] = [("evening", None, item.stored(), None)]
        # Plans that nobody began are deleted, the oldest first.
        running = {run.item.evening for run in self.runs() if run.item.evening}
        idle = [each for each in self._workspace.read_all("evening") if each["uuid"] not in running]
        changes += [("evening", each["id"], None, None) for each in idle[: max(0, len(idle) - _MOST + 1)]]
        # The plan is no step for Undo, because a run goes by it.
        rows = self._workspace.write_many(changes, what=f"Plan {item.name}", undoable=False)
        return self.shown(held.as_held(EveningItem, rows[0]))

    def _piece(self, one: PieceIn, items: Sequence[StoredItem], shelf: Shelf) -> Piece:
        first = items[0]
        if isinstance(first, PanelItem):
            return panel_piece(self._panels.made(first, shelf))
        if isinstance(first, OverlapItem):
            return overlap_piece(first, shelf)
        swatches = [item for item in items if isinstance(item, SwatchItem)]
        squares = [(swatch.name, square_job(swatch, shelf)) for swatch in swatches]
        cards = [swatch.card_id for swatch in swatches]
        if len(set(cards)) > 1:
            raise JobError("squares of one sheet lie on one card; plan those of another card as a sheet of their own")
        name = squares[0][0] if len(squares) == 1 else f"{len(squares)} squares"
        return square_piece(name, squares, shelf.card_name(cards[0]), shelf, PieceKind.SQUARES)

    def _tried(self) -> list[frozenset[str]]:
        """The inks that were seen together: of swatches, and of panels that were made."""
        found = [inks_of_swatch(each.item) for each in held.read_all(self._workspace, SwatchItem)]
        for run in [each.item for each in self.runs()]:
            if run.ended is not None and run.whole:
                found.append(frozenset(str(pad.ink_id) for pad in run.pads if pad.ink_id is not None))
        return found

    # What is kept.

    def runs(self) -> list[Held[RunItem]]:
        """All runs that can be read, oldest first."""
        return held.read_all(self._workspace, RunItem)

    def paces(self) -> dict[Do, float]:
        """Factor on the minutes of each kind of step, as this person goes."""
        over = [run.item for run in self.runs() if run.item.ended is not None]
        runs = [{do: took.core() for do, took in run.took.items()} for run in over]
        return paces(runs, self._shelves.now().table)

    def last_habits(self) -> StoredHabits:
        """How the last evening was planned."""
        planned = held.read_all(self._workspace, EveningItem)
        return planned[-1].item.habits if planned else StoredHabits()

    def core(self, stored: Held[EveningItem]) -> Evening:
        """The evening of a stored item; raises `JobError` if it cannot be read."""
        return self._read.get(stored.uuid, stored.revision, stored.item.core)

    def by_uuid(self, uuid: str) -> Held[EveningItem]:
        """A stored evening by its identity; raises `NotFound`, or `JobError` if it cannot be read."""
        row = next((each for each in self._workspace.read_all("evening") if each["uuid"] == uuid), None)
        if row is None:
            raise NotFound("the plan of this run is gone; end the run and plan anew")
        return held.as_held(EveningItem, row)

    def as_planned(self, stored: Held[EveningItem]) -> TablePlan:
        """A stored evening with its times; raises `JobError` if it cannot be read."""
        item, evening = stored.item, self.core(stored)
        bouts = dict(enumerate(evening.bouts))
        if sorted(item.order) != list(bouts):
            raise JobError("the order of this plan does not fit its work; plan it anew", ("order",))
        timed = laid_out(evening, bouts, item.order, Begun(holding=evening.holding))
        return TablePlan(
            evening=evening,
            steps=tuple(steps_of(evening, bouts, timed)),
            at_mat=at_mat_of(timed),
            total=total_of(bouts, timed),
            naive_at_mat=item.naive_at_mat,
            naive_total=item.naive_total,
            gap=item.gap,
            order=tuple(item.order),
        )

    # What is shown.

    def shown(self, stored: Held[EveningItem]) -> EveningOut:
        """A stored evening as it is shown; raises `JobError` if it cannot be read."""
        item, made = stored.item, self.as_planned(stored)
        evening, steps = made.evening, made.steps
        return EveningOut(
            id=stored.id,
            revision=stored.revision,
            name=item.name,
            pieces=self.pieces(item.pieces),
            habits=item.habits,
            steps=step_rows(evening, steps, item.inks),
            at_mat=minutes(made.at_mat),
            total=minutes(made.total),
            naive_at_mat=minutes(made.naive_at_mat),
            naive_total=minutes(made.naive_total),
            gap=made.gap,
            wipes=sum(step.do in (Do.WIPE, Do.WASH) for step in steps),
            notes=coded(evening.notes),
            cautions=cautions_of(steps),
        )

    def pieces(self, refs: Sequence[PieceRef]) -> list[TablePiece]:
        """Pieces as they are now, and what has become of them."""
        found = []
        for ref in refs:
            every = {each["uuid"]: each for each in self._workspace.read_all(held.kind_of(_MODEL[ref.kind]))}
            there = [every[uuid] for uuid in ref.uuids if uuid in every]
            changed = ""
            if len(there) < len(ref.uuids):
                changed = f"{ref.called} is not there any more."
            elif any(each["changed"] != was for each, was in zip(there, ref.changed, strict=False)):
                changed = f"{ref.called} was changed since this was planned; plan it anew to go by what it is now."
            found.append(
                TablePiece(
                    kind=ref.kind,
                    name=ref.called,
                    ids=[each["id"] for each in there],
                    changed=changed,
                    pictured=bool(there) and len(there) == len(ref.uuids),
                )
            )
        return found


def _name(names: Sequence[str]) -> str:
    day = datetime.now(UTC).strftime("%-d %B")
    first = names[0] if names else "Evening"
    more = f" and {len(names) - 1} more" if len(names) > 1 else ""
    return f"{first[:120]}{more}, {day}"


def _inks(plan: TablePlan, pieces: Sequence[Piece], shelf: Shelf) -> list[PlannedInk]:
    """The inks of an evening, with the colours of their swatches."""
    found = []
    jobs = [job for piece in pieces for job in jobs_of(piece)]
    declared = {key: (ink, job) for job in jobs for key, ink in job.inks}
    for key in plan.evening.facts:
        first = key.split("+")[0]
        if first not in declared:
            continue
        ink, job = declared[first]
        lab = swatch_lab(ink, job)
        number = int(first) if first.isdecimal() and first in shelf.inks else None
        found.append(
            PlannedInk(
                ink_id=number,
                called=plan.evening.facts[key].name[:200],
                key=key,
                hex=cm.hexes_from_lab(lab[None], str(job.illuminant))[0],
            )
        )
    return found


def step_rows(evening: Evening, steps: Sequence[Step], inks: Sequence[PlannedInk]) -> list[TableStep]:
    """Steps as they are shown."""
    hexes = {ink.key: ink.hex for ink in inks}
    return [
        TableStep(
            n=step.n,
            bout=step.bout,
            act=step.act,
            piece=step.piece,
            of=evening.pieces[step.piece].name,
            do=step.do,
            label=step.do.said,
            text=step.text,
            inks=[InkChip(name=evening.facts[key].name, hex=hexes.get(key, WHITE_CARD)) for key in step.inks],
            tools=[evening.tools[tool].name for tool in step.tools],
            start=minutes(step.start),
            minutes=minutes(step.ticks),
            hands=step.hands,
            after=list(step.after),
            waits=[DryingOf(bout=bout, drying=drying) for bout, drying in step.waits],
            why=step.why,
            caution=step.caution,
            laid=step.laid,
            parts=step.parts,
        )
        for step in steps
    ]


def cautions_of(steps: Sequence[Step]) -> list[str]:
    """What is to be minded, each once."""
    return list(dict.fromkeys(step.caution for step in steps if step.caution))


def refuse_changed(pieces: Sequence[TablePiece]) -> None:
    """Raise `StoreError` where a piece is no longer what was planned."""
    changed = [piece.changed for piece in pieces if piece.changed]
    if changed:
        raise StoreError(" ".join(changed))
