"""The book read and kept: its swatches with what was predicted of them, and inks that have changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from wempa.api import held
from wempa.api.kept import Kept
from wempa.api.shelf import Shelf
from wempa.craft.job import used_inks
from wempa.craft.log.drift import drifts
from wempa.formats.log.items import SwatchItem
from wempa.store import Item, Workspace

from .book import OpenSwatch, observed, opened, shown
from .models import InkNote, OffOut, SwatchOut

# For how many swatches and inks the results are kept.
_SWATCHES, _INKS = 5000, 2000
Drifted = tuple[str, str, str]
"""The key of an ink that has changed, the day it changed, and the sentence that says so."""


@dataclass(frozen=True, slots=True, eq=False)
class OpenBook:
    """The book in its present state, and what is told about it."""

    pages: list[OpenSwatch]
    shown: list[SwatchOut]
    drifts: list[InkNote]
    unreadable: list[OffOut]
    """Swatches that are stored and cannot be read."""


class Books:
    """The book of one workspace, read."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._open = Kept[OpenBook](1)
        # A book grows by one swatch at a time, so most results stay valid.
        self._pages, self._shown = Kept[OpenSwatch | None](_SWATCHES), Kept[SwatchOut](_SWATCHES)
        self._drifted = Kept[list[Drifted]](_INKS)

    def open(self, shelf: Shelf) -> OpenBook:
        """The book. It is worked out once for as long as neither it nor the stash changes."""

        def made() -> OpenBook:
            pages = self.pages(shelf)
            each = [swatch_mark(page, shelf) for page in pages]
            out = self._shown.get_all(each, lambda new: shown([pages[n] for n in new], shelf))
            return OpenBook(pages, out, self.drifting(pages, shelf), self.unreadable())

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

    def drifting(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> list[InkNote]:
        """Inks that have changed, as the screen shows them."""
        return [
            InkNote(ink_id=int(key), name=shelf.inks[key].name, text=text) for key, _, text in self.drifts(pages, shelf)
        ]

    def drifts(self, pages: Sequence[OpenSwatch], shelf: Shelf) -> list[Drifted]:
        """Inks that have changed. Inks of which nothing was logged since the last time are not worked out again."""
        own: dict[str, list[OpenSwatch]] = {}
        for page in pages:
            for key in _seen_alone(page):
                own.setdefault(key, []).append(page)
        found: list[Drifted] = []
        for key, alone in own.items():
            marks = tuple(swatch_mark(page, shelf) for page in alone)
            found += self._drifted.get(key, marks, partial(_drifts_of, alone, shelf))
        return found


def _opened_all(rows: Sequence[Item], shelf: Shelf) -> list[OpenSwatch | None]:
    """Stored swatches; None for each that cannot be read."""
    readable = {each.id: opened(each, shelf) for each in held.parted(SwatchItem, list(rows))[0]}
    return [readable.get(row["id"]) for row in rows]


def swatch_mark(page: OpenSwatch, shelf: Shelf) -> tuple[int, tuple[Shelf, int]]:
    """The number of a swatch, and what all that is known of it was made from."""
    return page.id, (shelf, page.stored.revision)


def _seen_alone(page: OpenSwatch) -> set[str]:
    """Inks that lay alone when the swatch was looked at, even if another was laid over them later."""
    if page.job is None or page.item.left_out:
        return set()
    stages = {seen.done for seen in page.item.sightings}
    laid = [used_inks(replace(page.job, stack=page.job.stack[:done])) for done in stages]
    return {inks[0] for inks in laid if len(inks) == 1}


def _drifts_of(pages: Sequence[OpenSwatch], shelf: Shelf) -> list[Drifted]:
    """Whether an ink has changed, from swatches on which it was seen alone."""
    looks = [(page, observed(page, one, False, shelf)) for page in pages for one in page.item.sightings]
    known = [(page, one) for page, one in looks if one is not None]
    names = {key: ink.name for key, ink in shelf.inks.items()}
    found = drifts([one for _, one in known], shelf.table, names)
    return [(one.key, str(known[one.since][0].item.laid_on or ""), one.text) for one in found]
