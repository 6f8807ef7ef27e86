"""Learning from the book: in a thread, with progress; adopted or taken back in one step."""

from __future__ import annotations

import json
from collections.abc import Generator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import partial
from queue import Queue
from threading import Event, Lock, Thread

from wempa.api import held
from wempa.api.kept import Kept
from wempa.api.shelf import Shelf, Shelves
from wempa.api.taught import card_mark, ink_mark, standing_lessons
from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.errors import WempaError
from wempa.craft.job import used_inks
from wempa.craft.limits import DEFAULT_MUD_LINE, MAX_OBSERVATIONS
from wempa.craft.log.drift import after_drift, drifts, less_sure
from wempa.craft.log.learning import Fit, Progress, Stopped, learn
from wempa.craft.log.lines import OwnLine, own_line
from wempa.craft.log.observations import Believed, Observation
from wempa.craft.log.told import gain_said, lessons, notes_of
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import OwnVerdict
from wempa.formats.job import error_text
from wempa.formats.job_result import coded
from wempa.formats.job_text import card_json, ink_json
from wempa.formats.log.fit_file import changed
from wempa.formats.log.items import Lesson, SwatchItem, TaughtCard, TaughtInk
from wempa.store import Item, Kind, StoreError, Workspace

from .book import OpenSwatch, observed, opened, shown
from .models import InkNote, LearnedOut, LearnLine, LessonOut, LineOffer, OffOut, SwatchOut

# A line of one's own is offered when it lies at least this far from the line in force.
_OTHER_MUD, _OTHER_SEAM = 3.0, 0.4
_VERDICTS = 150
# For how many swatches and inks the results are kept.
_SWATCHES, _INKS = 5000, 2000
_Drifted = tuple[str, str, str]
"""The key of an ink that has changed, the day it changed, and the sentence that says so."""
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


@dataclass(frozen=True, slots=True, eq=False)
class OpenBook:
    """The book in its present state, and what is told about it."""

    pages: list[OpenSwatch]
    shown: list[SwatchOut]
    drifts: list[InkNote]
    offers: list[LineOffer]
    unreadable: list[OffOut]
    """Swatches that are stored and cannot be read."""


class Learner:
    """Learns from the book of one workspace."""

    def __init__(self, workspace: Workspace, shelves: Shelves) -> None:
        self._workspace, self._shelves = workspace, shelves
        self._last: _Learned | None = None
        self._turn = Lock()
        self._open = Kept[OpenBook](1)
        # A book grows by one swatch at a time, so most results stay valid.
        self._pages, self._shown = Kept[OpenSwatch | None](_SWATCHES), Kept[SwatchOut](_SWATCHES)
        self._drifted, self._muds = Kept[list[_Drifted]](_INKS), Kept[float](2 * _VERDICTS)

    def book(self, shelf: Shelf) -> OpenBook:
        """The book. It is worked out once for as long as neither it nor the stash changes."""

        def made() -> OpenBook:
            pages = self.pages(shelf)
            each = [_mark(page, shelf) for page in pages]
            out = self._shown.get_all(each, lambda new: shown([pages[n] for n in new], shelf))
            return OpenBook(pages, out, self.drifting(pages, shelf), self.offers(pages, shelf), self.unreadable())

        return self._open.get("book", (shelf, *self._workspace.stamp("swatch")), made)

    def pages(self, shelf: Shelf) -> list[OpenSwatch]:
        """All swatches that can be read, in the order of laying."""
        rows = self._workspace.read_all("swatch")
        found = self._pages.get_all(
            [(row["id"], (shelf, row["revision"])) for row in rows],
            lambda new: _opened_all([rows[n] for n in new], shelf),
        )
        pages = [page for page in found if page is not None]
        return sorted(pages, key=lambda page: (str(page.item.laid_on or ""), page.id))

    def unreadable(self) -> list[OffOut]:
        """Swatches that are stored and cannot be read, with what is wrong; they can be taken out."""
        _, unreadable = held.parted(SwatchItem, self._workspace.read_all("swatch"))
        return [OffOut(swatch_id=each.id, name=each.name, text=each.trouble) for each in unreadable]

    # -- learning -----------------------------------------------------------------

    def learned(self) -> Generator[LearnLine]:
        """Learn from the book. Gives a line of progress now and then; the last line holds what was learned.
        Close the generator to stop.
        """
        lines: Queue[LearnLine] = Queue()
        stop = Event()

        def told(done: float) -> None:
            if stop.is_set():
                raise Stopped("stopped")
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
        pages = self.pages(shelf)
        seen: list[Observation] = []
        whose: list[OpenSwatch] = []
        out: list[OffOut] = []
        drifting = self._drifts(pages, shelf)
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

    # -- the lines ----------------------------------------------------------------

    def offers(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> list[LineOffer]:
        """Lines of one's own that the verdicts suggest, where they differ enough from those in force."""
        table = shelf.table
        found = []
        mud = self._mud_line(pages, shelf)
        if mud is not None and abs(mud.at - shelf.mud_line) >= _OTHER_MUD:
            word = "later" if mud.at > shelf.mud_line else "sooner"
            text = f"By {mud.count} verdicts of yours you call it mud {word} than I do."
            found.append(LineOffer(of="mud_line", text=text, at=round(mud.at), now=shelf.mud_line))
        seams = [(page.item.line_step, page.item.line_seen) for page in pages if page.item.line_step is not None]
        told = [(step, seen) for step, seen in seams if step is not None and seen is not None]
        seam = own_line(
            [step for step, _ in told],
            [seen for _, seen in told],
            constants.AS_SHIPPED["seam.hard"],
            table["line.seam_doubt"],
            table["line.seam_blur"],
            constants.TABLE["seam.hard"].low,
            15.0,
        )
        if seam is not None and abs(seam.at - table["seam.hard"]) >= _OTHER_SEAM:
            word = "later" if seam.at > table["seam.hard"] else "sooner"
            text = f"By {seam.count} seams of yours you see a line {word} than I do."
            found.append(LineOffer(of="seam", text=text, at=round(seam.at, 1), now=round(table["seam.hard"], 1)))
        return found

    def _mud_line(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> OwnLine | None:
        table = shelf.table
        # Only recent verdicts count: people change their minds, and a book may be old.
        judged = [page for page in pages if page.item.verdict is not None and page.job is not None][-_VERDICTS:]
        values = self._muds.get_all(
            [_mark(page, shelf) for page in judged],
            lambda new: [predict(job).verdict.mud for n in new if (job := judged[n].job) is not None],
        )
        beyond = [page.item.verdict is OwnVerdict.MUD for page in judged]
        return own_line(
            values, beyond, float(DEFAULT_MUD_LINE), table["line.mud_doubt"], table["line.mud_blur"], 0.0, 100.0
        )

    def take_line(self, of: str) -> None:
        """Set a line where one's verdicts put it; raises `StoreError` where they suggest none."""
        shelf = self._shelves.now()
        offer = next((each for each in self.offers(self.pages(shelf), shelf) if each.of == of), None)
        if offer is None:
            raise StoreError("your verdicts speak for no other line")
        at = datetime.now(UTC).isoformat(timespec="seconds")
        if offer.of == "mud_line":
            lesson = Lesson(name="My mud line", of="mud_line", at=at, texts=[offer.text], mud_line=offer.at)
        else:
            rows = {"seam.hard": offer.at}
            lesson = Lesson(name="My line of a hard seam", of="seam", at=at, texts=[offer.text], rows=rows)
        held.write(self._workspace, lesson, what=f"Take over {lesson.name.lower()}")

    # -- what is in force -----------------------------------------------------------

    def history(self) -> list[LessonOut]:
        """All lessons that were ever adopted, the newest first."""
        found: list[LessonOut] = []
        standing: set[str] = set()
        for stored in reversed(held.read_all(self._workspace, Lesson)):
            lesson = stored.item
            stands = not lesson.taken_back and lesson.of not in standing
            if stands:
                standing.add(lesson.of)
            gain = f"{lesson.before:.1f} → {lesson.after:.1f}" if lesson.of == "fit" else ""
            found.append(LessonOut(id=stored.id, revision=stored.revision, item=lesson, standing=stands, gain=gain))
        return found

    def take_back(self, item_id: int) -> None:
        """Stop using a lesson; the one before it is in force again."""
        stored = held.read(self._workspace, Lesson, item_id)
        lesson = stored.item.model_copy(update={"taken_back": True})
        what = f"Take back “{lesson.name}”"
        held.write(self._workspace, lesson, over=item_id, revision=stored.revision, what=what)

    def drifting(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> list[InkNote]:
        """Inks that have changed, as the screen shows them."""
        return [
            InkNote(ink_id=int(key), name=shelf.inks[key].name, text=text)
            for key, _, text in self._drifts(pages, shelf)
        ]

    def _drifts(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> list[_Drifted]:
        """Inks that have changed. Inks of which nothing was logged since the last time are not worked out again."""
        own: dict[str, list[OpenSwatch]] = {}
        for page in pages:
            for key in _seen_alone(page):
                own.setdefault(key, []).append(page)
        found: list[_Drifted] = []
        for key, alone in own.items():
            marks = tuple(_mark(page, shelf) for page in alone)
            found += self._drifted.get(key, marks, partial(_drifts_of, alone, shelf))
        return found

    def standing(self) -> bool:
        """Whether anything that was learned is in force."""
        return standing_lessons(self._workspace).fit is not None


def _opened_all(rows: Sequence[Item], shelf: Shelf) -> list[OpenSwatch | None]:
    """Stored swatches; None for each that cannot be read."""
    readable = {each.id: opened(each, shelf) for each in held.parted(SwatchItem, list(rows))[0]}
    return [readable.get(row["id"]) for row in rows]


def _mark(page: OpenSwatch, shelf: Shelf) -> tuple[int, tuple[Shelf, int]]:
    """The number of a swatch, and what all that is known of it was made from."""
    return page.id, (shelf, page.stored.revision)


def _seen_alone(page: OpenSwatch) -> set[str]:
    """Inks that lay alone when the swatch was looked at, even if another was laid over them later."""
    if page.job is None or page.item.left_out:
        return set()
    stages = {seen.done for seen in page.item.sightings}
    laid = [used_inks(replace(page.job, stack=page.job.stack[:done])) for done in stages]
    return {inks[0] for inks in laid if len(inks) == 1}


def _drifts_of(pages: Sequence[OpenSwatch], shelf: Shelf) -> list[_Drifted]:
    """Whether an ink has changed, from swatches on which it was seen alone."""
    looks = [(page, observed(page, one, False, shelf)) for page in pages for one in page.item.sightings]
    known = [(page, one) for page, one in looks if one is not None]
    names = {key: ink.name for key, ink in shelf.inks.items()}
    found = drifts([one for _, one in known], shelf.table, names)
    return [(one.key, str(known[one.since][0].item.laid_on or ""), one.text) for one in found]


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
