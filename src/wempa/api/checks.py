"""The one check of stored items: whether each can be read, and made into a job or a panel.

Routes, files and undo all pass it, in the transaction that stores. Lists ask it of each item, so that an item
that cannot be read is shown as such and hides no other.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from wempa.api.overlap.jobs import Jobs
from wempa.api.panels.making import Panels
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.errors import WempaError
from wempa.formats.job import error_text
from wempa.formats.kinds import read_stored
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem
from wempa.store import Item, Kind


class Checks:
    """Whether stored items of one workspace can be read."""

    def __init__(self, shelves: Shelves, jobs: Jobs, panels: Panels) -> None:
        self._shelves, self._jobs, self._panels = shelves, jobs, panels

    def stored(self, items: Sequence[tuple[Kind, Item]]) -> None:
        """Raise what is wrong with the first of some items as they have just been stored.

        `WempaError.change` then says which of them it is.
        """
        shelf: Shelf | None = None
        for n, (kind, item) in enumerate(items):
            try:
                if kind in ("overlap", "panel") and shelf is None:
                    # Nobody else may see inks that this transaction has not committed yet.
                    mixed = any(other in ("ink", "card", "range") for other, _ in items)
                    shelf = self._shelves.read() if mixed else self._shelves.now()
                self._check(kind, item, shelf)
            except WempaError as error:
                error.change = n
                raise

    def unreadable(self) -> Callable[[str, Mapping[str, Any]], bool]:
        """Finds out which stored items cannot be read."""
        shelf = self._shelves.now()
        return lambda kind, item: bool(self.trouble(kind, item, shelf))

    def trouble(self, kind: str, item: Mapping[str, Any], shelf: Shelf | None = None) -> str:
        """What is wrong with a stored item, in one sentence; empty for nothing."""
        try:
            self._check(kind, item, shelf or self._shelves.now())
        except WempaError as error:
            return error_text(error)
        return ""

    def _check(self, kind: str, item: Mapping[str, Any], shelf: Shelf | None) -> None:
        read = read_stored(kind, item)
        if isinstance(read, OverlapItem):
            self._jobs.of(read, shelf)
        elif isinstance(read, PanelItem):
            self._panels.made(read, shelf).check()
