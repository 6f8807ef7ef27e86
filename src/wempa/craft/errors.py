"""What can be wrong with what somebody asks for: one tree of refusals, each one sentence.

    WempaError
    ├── JobError          a job, or a part of one, that cannot be computed; names the place in it
    ├── ConstantError     an override names no row of the craft table, or is outside the row's range
    ├── SheetError        corners on a photo that are no sheet's
    ├── LearningStopped           learning that nobody waits for any more (`wempa.craft.log.learning`)
    ├── FileError         a file that is not what it should be (`wempa.formats.text_table`)
    │   ├── TableError    a table that cannot be read as one
    │   └── ImageError    a picture that cannot be read, or is too large (`wempa.formats.stash.photo_file`)
    └── StoreError        the workspace cannot do this (`wempa.store`)
        ├── NotFound      there is no such item
        ├── Conflict      the item has changed since it was read
        └── Unavailable   the file cannot be read or written now

Which HTTP status a refusal is answered with follows from its class (`wempa.api.replies`).
"""

from __future__ import annotations


class WempaError(Exception):
    """A refusal: one sentence for whoever asked."""

    def __init__(self, message: str, place: tuple[str | int, ...] = ()) -> None:
        super().__init__(message)
        self.message = message
        self.place = place
        """Where in what was given, outermost first: ``("stack", 2, "ink")``; empty for all of it."""
        self.change: int | None = None
        """Which of several changes made together it is about, where there are several."""


class JobError(WempaError, ValueError):
    """A job, or a part of one, that cannot be computed."""


class ConstantError(WempaError, ValueError):
    """An override names no row of the craft table, or is outside the row's range."""


class SheetError(WempaError, ValueError):
    """Corners that are no sheet's."""


_MOST_QUOTED = 80


def quoted(said: object) -> str:
    """What somebody wrote, as a refusal quotes it: in quotation marks, and no longer than a line."""
    text = said if isinstance(said, str) else str(said)
    shown = repr(text[:_MOST_QUOTED]) if isinstance(said, str) else text[:_MOST_QUOTED]
    return f"{shown} …" if len(text) > _MOST_QUOTED else shown
