"""Runs of one workspace: begun, ticked off, gone back in, planned anew, ended."""

from __future__ import annotations

from collections.abc import Sequence

from wempa.api import held
from wempa.api.held import Held
from wempa.craft.errors import JobError, WempaError
from wempa.craft.limits import MAX_MARKS
from wempa.craft.table.evening import TICKS, Evening, minutes, span
from wempa.craft.table.running import (
    Mark,
    RunStanding,
    loads_taken,
    mark_of,
    planned_anew,
    standing,
    times_taken,
)
from wempa.craft.table.timeline import text_of
from wempa.craft.vocabulary import Do
from wempa.formats.table.items import EveningItem, LoadedInk, LoadedTool, RunItem, StoredMark, StoredTook
from wempa.store import Change, StoreError, Workspace

from .evenings import Evenings, cautions_of, refuse_changed, step_rows
from .models import DoneIn, DoneOut, OpenOut, RunOut, TimerOut

# When a run has become later by this many minutes, it is planned anew by itself, for so many seconds.
_LATE_MIN, _LOOKS_S, _ASKED_S = 1.0, 0.6, 2.0
# No evening at the mat takes longer.
_LONGEST_S = 14 * 24 * 3600


class Runs:
    """The runs of one workspace."""

    def __init__(self, workspace: Workspace, evenings: Evenings) -> None:
        self._workspace, self._evenings = workspace, evenings

    def under_way(self) -> Held[RunItem] | None:
        """The run that is under way; None if there is none."""
        return next((run for run in reversed(self._evenings.runs()) if run.item.ended is None), None)

    def begin(self, evening_id: int, now: float, anyway: bool) -> RunOut:
        """Begin a planned evening.

        Raises
        ------
        NotFound
            It is not there.
        StoreError
            Another is under way, or a piece was changed since it was planned and nobody says `anyway`.
        """
        if self.under_way() is not None:
            raise StoreError("a run is under way; end it first")
        stored = held.read(self._workspace, EveningItem, evening_id)
        item = stored.item
        if not anyway:
            refuse_changed(self._evenings.pieces(item.pieces))
        total = self._evenings.shown(stored).total
        run = RunItem(
            name=item.name, evening=stored.uuid, pieces=item.pieces, began=now, planned=total, order=item.order
        )
        changes: list[Change] = [("run", None, run.stored(), None)]
        return self.shown(self._stored(changes, f"Begin {item.name}"), now)

    def _stored(self, changes: Sequence[Change], what: str) -> Held[RunItem]:
        """Store a run as the first of some changes. Nothing of it is a step for Undo."""
        return held.as_held(RunItem, self._workspace.write_many(changes, what=what, undoable=False)[0])

    def shown(self, stored: Held[RunItem], now: float, told: Sequence[str] = ()) -> RunOut:
        """A run as it stands at a time, seconds since 1970; raises `StoreError`, `JobError`."""
        run = stored.item
        if run.ended is not None:
            return _bare(stored, (run.ended - run.began) / 60)
        try:
            plan, evening = self._plan(run)
        except WempaError as error:
            # The next step cannot be told any more; the run can still be ended.
            return _bare(stored, 0.0, f"What is next cannot be told: {error.message}.")
        marks, at = _marks(run), _ticks(run, now)
        stands = standing(evening, run.order, marks, at)
        pieces = self._evenings.pieces(run.pieces)
        changed = [f"{piece.name} has changed: these steps are for what it was." for piece in pieces if piece.changed]
        return RunOut(
            id=stored.id,
            revision=stored.revision,
            evening_id=plan.id,
            name=run.name,
            pieces=pieces,
            began=run.began,
            ended=False,
            planned=run.planned,
            total=minutes(stands.total),
            done=_done(evening, marks),
            due=step_rows(evening, stands.due, plan.item.inks),
            timers=[
                TimerOut(
                    bout=timer.bout,
                    drying=timer.drying,
                    of=evening.pieces[timer.piece].name,
                    text=timer.text,
                    ends=minutes(timer.ends),
                )
                for timer in stands.timers
            ],
            open=_open(evening, marks, stands),
            notes=[*told, *changed],
            cautions=cautions_of(stands.due),
        )

    def mark(self, number: int, done: DoneIn, revision: int | None) -> RunOut:
        """The step that is due is done; raises `StoreError` where another one is due."""
        now = done.now
        run = self._running(number)
        _, evening = self._plan(run)
        marks, at = _marks(run), _ticks(run, now)
        free = max([mark.ended for mark in marks if mark.do is not Do.DRY], default=0)
        stands = standing(evening, run.order, marks, free)
        step = next((each for each in stands.due if each.hands), None)
        if step is None or (step.bout, step.act, step.do) != (done.bout, done.act, done.do):
            raise StoreError("another step is due by now; look again")
        if len(run.marks) >= MAX_MARKS:
            raise StoreError(f"a run has {MAX_MARKS} steps at most")
        # The step began when hands were free and what it waited for was dry.
        began = min(max(free, step.start), at)
        marks = [*marks, mark_of(evening, step, began, max(at, free))]
        order, told = run.order, list[str]()
        stands = standing(evening, order, marks, max(at, free))
        late = minutes(stands.total) - run.planned
        if stands.due and late > run.late + _LATE_MIN and not done.later:
            order, told = self._anew(evening, run, marks, max(at, free), _LOOKS_S, stands)
            run = run.model_copy(update={"late": late})
        return self._keep(number, run, marks, order, now, revision, told)

    def dried(self, number: int, bout: int, drying: int, now: float, revision: int | None) -> RunOut:
        """Something dried sooner; raises `StoreError` where it is not drying."""
        run = self._running(number)
        _, evening = self._plan(run)
        marks, at = _marks(run), _ticks(run, now)
        stands = standing(evening, run.order, marks, at)
        if not any((timer.bout, timer.drying) == (bout, drying) for timer in stands.timers):
            raise StoreError("that is not drying; look again")
        marks = [*marks, Mark(bout, drying, at, at, Do.DRY)]
        return self._keep(number, run, marks, run.order, now, revision)

    def back(self, number: int, now: float, revision: int | None) -> RunOut:
        """Take the last mark back; raises `StoreError` if there is none."""
        run = self._running(number)
        if not run.marks:
            raise StoreError("nothing is done yet, so there is nothing to go back to")
        return self._keep(number, run, _marks(run)[:-1], run.order, now, revision)

    def anew(self, number: int, now: float, revision: int | None) -> RunOut:
        """Plan what is left anew, keeping what is done."""
        run = self._running(number)
        _, evening = self._plan(run)
        marks, at = _marks(run), _ticks(run, now)
        stands = standing(evening, run.order, marks, at)
        order, told = self._anew(evening, run, marks, at, _ASKED_S, stands)
        return self._keep(number, run, marks, order, now, revision, told or ["This is the best order already."])

    def _anew(
        self, evening: Evening, run: RunItem, marks: list[Mark], at: int, seconds: float, stands: RunStanding
    ) -> tuple[list[int], list[str]]:
        order = planned_anew(evening, run.order, marks, at, seconds)
        if order == stands.order:
            return run.order, []
        after = standing(evening, order, marks, at)
        saved = minutes(stands.total - after.total)
        text = f"The order was changed: done {span(saved)} sooner."
        return list(order), [text]

    def end(self, number: int, now: float, revision: int | None) -> RunOut:
        """End a run: what it took is kept, its plan is not."""
        run = self._running(number)
        try:
            plan, evening = self._plan(run)
        except WempaError:
            over = run.model_copy(
                update={"evening": "", "ended": max(now, run.began), "order": [], "marks": [], "whole": False}
            )
            lost: list[Change] = [("run", number, over.stored(), revision)]
            return self.shown(self._stored(lost, f"End {run.name}"), now)
        marks = _marks(run)
        pads, tools = loads_taken(evening, marks)
        numbers = {ink.key: ink for ink in plan.item.inks}
        busy = sum(mark.ended - mark.began for mark in marks if mark.do is not Do.DRY)
        acts = sum(len(bout.acts) for bout in evening.bouts)
        last = max([run.began, *[run.began + mark.ended * 60 / TICKS for mark in marks]])
        over = run.model_copy(
            update={
                "evening": "",
                # A run that was left lying was over an hour after its last step.
                "ended": min(max(now, run.began), last + 3600),
                "order": [],
                "marks": [],
                "at_mat": minutes(busy),
                "took": {
                    do: StoredTook(steps=took.steps, planned=took.planned, took=took.took)
                    for do, took in times_taken(evening, marks).items()
                },
                "pads": [
                    LoadedInk(
                        ink_id=numbers[key].ink_id if key in numbers else None,
                        called=evening.facts[key].name[:200],
                        loads=count,
                    )
                    for key, count in pads.items()
                ],
                "tools": [LoadedTool(called=evening.tools[t].name[:200], loads=count) for t, count in tools.items()],
                "whole": sum(mark.act >= 0 and mark.do is not Do.DRY for mark in marks) == acts,
            }
        )
        changes: list[Change] = [
            ("run", number, over.stored(), revision),
            ("evening", plan.id, None, None),
        ]
        return self.shown(self._stored(changes, f"End {run.name}"), now)

    def _keep(
        self,
        number: int,
        run: RunItem,
        marks: Sequence[Mark],
        order: Sequence[int],
        now: float,
        revision: int | None,
        told: Sequence[str] = (),
    ) -> RunOut:
        update = {"marks": [StoredMark.of(mark) for mark in marks], "order": list(order)}
        made = run.model_copy(update=update)
        changes: list[Change] = [("run", number, made.stored(), revision)]
        return self.shown(self._stored(changes, run.name), now, told)

    def _running(self, number: int) -> RunItem:
        run = held.read(self._workspace, RunItem, number).item
        if run.ended is not None:
            raise StoreError("this run is over")
        return run

    def _plan(self, run: RunItem) -> tuple[Held[EveningItem], Evening]:
        plan = self._evenings.by_uuid(run.evening)
        evening = self._evenings.core(plan)
        for mark in run.marks:
            if mark.bout >= len(evening.bouts) or mark.act >= len(evening.bouts[mark.bout].acts):
                raise JobError("what is ticked off does not fit the plan; end the run and plan anew")
        return plan, evening


def _bare(stored: Held[RunItem], total: float, *notes: str) -> RunOut:
    """A run without its steps: it is over, or its plan cannot be read."""
    run = stored.item
    return RunOut(
        id=stored.id,
        revision=stored.revision,
        evening_id=0,
        name=run.name,
        pieces=[],
        began=run.began,
        ended=run.ended is not None,
        planned=run.planned,
        total=total,
        done=[],
        due=[],
        timers=[],
        open=None,
        notes=list(notes),
        cautions=[],
    )


def _open(evening: Evening, marks: Sequence[Mark], stands: RunStanding) -> OpenOut | None:
    """Until when what the next step of mixing works into stays open."""
    nearest = next((step for step in stands.due if step.hands), None)
    if nearest is None:
        return None
    for at in range(nearest.act, len(evening.bouts[nearest.bout].acts)):
        mixes = evening.bouts[nearest.bout].acts[at].mixes if at >= 0 else None
        if mixes is None:
            continue
        key, stays = mixes
        laid = [
            mark.ended
            for mark in marks
            if mark.bout == nearest.bout and mark.do is Do.LAY and key in evening.bouts[mark.bout].acts[mark.act].inks
        ]
        return OpenOut(name=evening.facts[key].name, ends=minutes(laid[-1] + stays)) if laid else None
    return None


def _marks(run: RunItem) -> list[Mark]:
    return [mark.core() for mark in run.marks]


def _ticks(run: RunItem, now: float) -> int:
    return int(min(max(0.0, now - run.began), _LONGEST_S) / 60 * TICKS)


def _done(evening: Evening, marks: Sequence[Mark]) -> list[DoneOut]:
    found = []
    for mark in marks:
        bout = evening.bouts[mark.bout]
        if mark.do is Do.DRY:
            text = "It was dry sooner."
        elif mark.act < 0:
            name = evening.tools[mark.tool].name if mark.tool is not None else "the tool"
            text = f"{mark.do.said} {name}."
        else:
            text = text_of(evening, bout.acts[mark.act])
        found.append(
            DoneOut(of=evening.pieces[bout.piece].name, label=mark.do.said, text=text, ended=minutes(mark.ended))
        )
    return found
