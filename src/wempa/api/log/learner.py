"""Learning from the book, in a thread and with progress; what was learned is adopted in one step."""

from __future__ import annotations

import json
from collections.abc import Generator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from queue import Queue
from threading import Event, Lock, Thread

from wempa.api import held
from wempa.api.shelf import Shelf, Shelves
from wempa.api.taught import card_mark, ink_mark
from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.errors import WempaError
from wempa.craft.limits import MAX_OBSERVATIONS
from wempa.craft.log.drift import after_drift, less_sure
from wempa.craft.log.learning import Fit, LearningStopped, Progress, learn
from wempa.craft.log.observations import Believed, Observation
from wempa.craft.log.told import gain_said, lessons, notes_of
from wempa.formats.job import error_text
from wempa.formats.job_result import coded
from wempa.formats.job_text import card_json, ink_json
from wempa.formats.log.fit_file import changed
from wempa.formats.log.items import Lesson, TaughtCard, TaughtInk
from wempa.store import Kind, StoreError, Workspace

from .book import OpenSwatch, observed
from .models import LearnedOut, LearnLine, OffOut
from .read_book import Books

_KINDS: tuple[Kind, ...] = ("swatch", "ink", "card", "range")


@dataclass(frozen=True, slots=True, eq=False)
class _Learned:
    """What was learned last, and from which state of the workspace."""

    mark: tuple[int, ...]
    fit: Fit
    believed: Believed
    card_ids: tuple[int | None, ...]
    shelf: Shelf
    out: LearnedOut


class Learner:
    """Learns from the book of one workspace."""

    def __init__(self, workspace: Workspace, shelves: Shelves, books: Books) -> None:
        self._workspace, self._shelves, self._books = workspace, shelves, books
        self._last: _Learned | None = None
        self._turn = Lock()

    def learned(self) -> Generator[LearnLine]:
        """Learn from the book. Gives a line of progress now and then; the last line holds what was learned.
        Close the generator to stop.
        """
        lines: Queue[LearnLine] = Queue()
        stop = Event()

        def told(done: float) -> None:
            if stop.is_set():
                raise LearningStopped("stopped")
            lines.put(LearnLine(state="working", done=round(done, 2)))

        def work() -> None:
            try:
                with self._turn:
                    told(0.0)
                    lines.put(LearnLine(state="done", done=1.0, result=self._learn(told)))
            except WempaError as error:
                lines.put(LearnLine(state="refused", error=error_text(error)))
            except Exception:
                lines.put(LearnLine(state="refused", error="Learning went wrong; nothing was changed."))
                raise

        thread = Thread(target=work, daemon=True)
        thread.start()
        try:
            while True:
                line = lines.get()
                yield line
                if line.state != "working":
                    break
        finally:
            stop.set()

    def _learn(self, told: Progress) -> LearnedOut:
        mark = self._workspace.stamp(*_KINDS)
        shelf = self._shelves.now()
        pages = self._books.pages(shelf)
        seen: list[Observation] = []
        whose: list[OpenSwatch] = []
        out: list[OffOut] = []
        drifting = self._books.drifts(pages, shelf)
        since = {ink: day for ink, day, _ in drifting}
        for page in pages:
            why = page.trouble or ("You left it out." if page.item.left_out else "")
            if not why and page.job is not None:
                why = after_drift(page.job, str(page.item.laid_on or ""), since)
            if why:
                out.append(OffOut(swatch_id=page.id, name=page.item.name, text=why))
                continue
            for one in page.item.sightings:
                found = observed(page, one, True, shelf)
                if found is not None:
                    seen.append(found)
                    whose.append(page)
        if len(seen) > MAX_OBSERVATIONS:
            # Above the limit the newest swatches are used: they say most about today.
            seen, whose = seen[-MAX_OBSERVATIONS:], whose[-MAX_OBSERVATIONS:]
        believed, card_ids = _believed(seen, whose, shelf)
        fit = learn(believed, seen, constants.AS_SHIPPED, told)
        names = [page.item.name for page in whose]
        cards = [shelf.card_name(number) for number in card_ids]
        found_lessons = [each.text for each in lessons(fit, believed, cards, shelf.table)]
        off = [
            OffOut(
                swatch_id=whose[n].id,
                name=names[n],
                text="It does not fit with the others: was it another ink, another load, or a photo in other light? "
                "It counts little; leave it out, or read it again.",
            )
            for n in fit.strange
        ]
        result = LearnedOut(
            better=fit.adopted,
            swatches=len({page.id for page in whose}),
            texts=found_lessons,
            gain=gain_said(fit) if fit.adopted else "",
            before=round(fit.before[1], 2),
            after=round(fit.after[1], 2),
            fit_before=round(fit.before[0], 2),
            fit_after=round(fit.after[0], 2),
            off=list({each.swatch_id: each for each in off}.values()),
            notes=coded([note for note in notes_of(fit, names) if note.code is not NoteCode.STRANGE]),
            left_out=out,
        )
        fit = less_sure(fit, set(since), shelf.table)
        self._last = _Learned(mark, fit, believed, card_ids, shelf, result)
        return result

    def adopt(self, again: bool = False) -> None:
        """Store what was learned last, so that every prediction follows it.

        With `again` it is learned once more where nobody knows it any longer: this process may be younger than that.

        Raises
        ------
        StoreError
            Nothing was learned yet, it is no better, or something has changed since.
        """
        if self._last is None and again:
            with self._turn:
                self._learn(lambda _: None)
        last = self._last
        if last is None or last.mark != self._workspace.stamp(*_KINDS):
            raise StoreError("something in the book or the stash has changed since; learn from it once more")
        if not last.fit.adopted:
            raise StoreError("what was learned predicts other swatches no better, so there is nothing to adopt")
        fit, own = last.fit, last.shelf.unlearned
        inks = []
        for key, ink in last.believed.inks.items():
            fields = changed(ink_json(ink), ink_json(fit.world.inks[key]))
            if fields:
                named = own.inks[key]
                inks.append(
                    TaughtInk(ink_id=int(key), called=named.name, was=ink_mark(named), fields=json.dumps(fields))
                )
        cards = []
        for number, before, after in zip(last.card_ids, last.believed.cards, fit.world.cards, strict=True):
            fields = changed(card_json(before), card_json(after))
            if fields and number is not None:
                called = last.shelf.card_name(number)
                cards.append(
                    TaughtCard(card_id=number, called=called, was=card_mark(before), fields=json.dumps(fields))
                )
        now = datetime.now(UTC)
        lesson = Lesson(
            name=f"Learned from {last.out.swatches} swatches",
            at=now.isoformat(timespec="seconds"),
            texts=last.out.texts,
            swatches=last.out.swatches,
            before=last.out.before,
            after=last.out.after,
            rows={name: round(value, 6) for name, value in fit.world.rows.items()},
            inks=inks,
            cards=cards,
        )
        held.write(self._workspace, lesson, what="Adopt what was learned")


def _believed(
    seen: Sequence[Observation], whose: Sequence[OpenSwatch], shelf: Shelf
) -> tuple[Believed, tuple[int | None, ...]]:
    """All inks of the book as their owner has them, and every card that a swatch lies on with its number."""
    numbers: dict[object, int | None] = {}
    for one, page in zip(seen, whose, strict=True):
        numbers.setdefault(one.job.cardstock, page.item.card_id)
    inks = {key: replace(ink, pad=None) for key, ink in shelf.unlearned.inks.items()}
    cards = tuple(dict.fromkeys(one.job.cardstock for one in seen))
    return Believed(inks, cards, shelf.unlearned.ranges), tuple(numbers[card] for card in cards)
