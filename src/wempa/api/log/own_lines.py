"""Lines of one's own: where one's verdicts put them, and taking them over."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from wempa.api import held
from wempa.api.kept import Kept
from wempa.api.shelf import Shelf, Shelves
from wempa.craft import constants
from wempa.craft.limits import DEFAULT_MUD_LINE
from wempa.craft.log.lines import OwnLine, own_line
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import OwnVerdict
from wempa.formats.log.items import Lesson
from wempa.store import StoreError, Workspace

from .book import OpenSwatch
from .models import LineOffer
from .read_book import Books, swatch_mark

# A line of one's own is offered when it lies at least this far from the line in force.
_OTHER_MUD, _OTHER_SEAM = 3.0, 0.4
_VERDICTS = 150


class OwnLines:
    """The mud line and the line of a hard seam that the verdicts of one workspace suggest."""

    def __init__(self, workspace: Workspace, shelves: Shelves, books: Books) -> None:
        self._workspace, self._shelves, self._books = workspace, shelves, books
        self._muds = Kept[float](2 * _VERDICTS)

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
            [swatch_mark(page, shelf) for page in judged],
            lambda new: [predict(job).verdict.mud for n in new if (job := judged[n].job) is not None],
        )
        beyond = [page.item.verdict is OwnVerdict.MUD for page in judged]
        return own_line(
            values, beyond, float(DEFAULT_MUD_LINE), table["line.mud_doubt"], table["line.mud_blur"], 0.0, 100.0
        )

    def take_line(self, of: str) -> None:
        """Set a line where one's verdicts put it; raises `StoreError` where they suggest none."""
        shelf = self._shelves.now()
        offer = next((each for each in self.offers(self._books.pages(shelf), shelf) if each.of == of), None)
        if offer is None:
            raise StoreError("your verdicts speak for no other line")
        at = datetime.now(UTC).isoformat(timespec="seconds")
        if offer.of == "mud_line":
            lesson = Lesson(name="My mud line", of="mud_line", at=at, texts=[offer.text], mud_line=offer.at)
        else:
            rows = {"seam.hard": offer.at}
            lesson = Lesson(name="My line of a hard seam", of="seam", at=at, texts=[offer.text], rows=rows)
        held.write(self._workspace, lesson, what=f"Take over {lesson.name.lower()}")
