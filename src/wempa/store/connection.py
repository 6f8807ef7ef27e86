"""The connection to the workspace file, and what it refuses in one sentence each."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

from wempa.craft.errors import WempaError


class StoreError(WempaError):
    """The workspace cannot do this; the message is one sentence for the user."""


class NotFound(StoreError):
    """There is no such item."""


class Conflict(StoreError):
    """The item has changed since the caller read it."""


class Unavailable(StoreError):
    """The file cannot be read or written now: the disk is full, another program holds it, or it is damaged."""


_SAID = (
    ("is full", "the disk is full: nothing was stored; make room and try again"),
    ("locked", "another program holds the workspace file: nothing was stored; try again in a moment"),
    ("busy", "another program holds the workspace file: nothing was stored; try again in a moment"),
    ("readonly", "the workspace file may not be written to: nothing was stored; look who owns it"),
    ("disk I/O", "the disk does not answer as it should: nothing was stored; look after the disk, and keep a copy"),
    ("malformed", "the workspace file is damaged: put back a copy of it (Stash, Copies)"),
    ("not a database", "the workspace file is damaged: put back a copy of it (Stash, Copies)"),
)


def refusal(error: sqlite3.Error) -> Unavailable:
    """What the database says, as a sentence of what to do."""
    text = str(error)
    said = next((sentence for part, sentence in _SAID if part in text), f"the workspace file does not answer: {text}")
    return Unavailable(said)


class Connection(sqlite3.Connection):
    """A connection whose troubles are told; a broken reference or rule stays what it is, for whoever asks."""

    def execute(self, sql: str, parameters: Any = (), /) -> sqlite3.Cursor:
        """As in `sqlite3`; raises `Unavailable`, or `NotFound` for a number that no item can have."""
        with _told():
            return super().execute(sql, parameters)

    def executemany(self, sql: str, parameters: Iterable[Any], /) -> sqlite3.Cursor:
        """As in `sqlite3`; raises as `execute` does."""
        with _told():
            return super().executemany(sql, parameters)


@contextmanager
def _told() -> Iterator[None]:
    try:
        yield
    except OverflowError as error:
        raise NotFound("there is no item of so large a number") from error
    except sqlite3.IntegrityError:
        raise
    except sqlite3.DatabaseError as error:
        raise refusal(error) from error
