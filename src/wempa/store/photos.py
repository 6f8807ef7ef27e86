"""Photos in the workspace file: small JPEGs by what is in them, and which of them give way to new ones."""

from __future__ import annotations

import re
import sqlite3
from typing import NamedTuple

from wempa.craft.limits import MAX_PHOTOS, MAX_REFERRED, MAX_SMALL_PHOTOS, SMALL_PHOTO

from .connection import StoreError
from .tables import KINDS

_HASH = re.compile(r"[0-9a-f]{64}")


class KeptPhoto(NamedTuple):
    """A stored photo's hash, and when those were taken in that gave way to it."""

    hash: str
    gone: tuple[str, ...]


def drop_old(db: sqlite3.Connection, whatever: bool = False) -> tuple[str, ...]:
    """Drop the oldest photos beyond `MAX_PHOTOS` that nothing refers to; returns when they were taken in.

    What a swatch was read off stays, beyond that number too. Pictures of one swatch, no wider than
    `SMALL_PHOTO`, are counted by themselves. With `whatever` those that are needed stay, however many they are.

    Raises
    ------
    StoreError
        So many are referred to that there is no room for another.
    """
    gone: list[str] = []
    for which, most in (("width > ?", MAX_PHOTOS), ("width <= ?", MAX_SMALL_PHOTOS)):
        rows = db.execute(f"SELECT hash, at FROM photo WHERE {which} ORDER BY at, rowid", (SMALL_PHOTO,)).fetchall()  # noqa: S608
        over = len(rows) - most
        needed = _referred_to(db) if over > 0 else set()
        # The newest is the one that has just come.
        for row in rows[:-1]:
            if over <= 0:
                break
            if row["hash"] not in needed:
                db.execute("DELETE FROM photo WHERE hash = ?", (row["hash"],))
                gone.append(row["at"])
                over -= 1
        if over > MAX_REFERRED and not whatever:
            raise StoreError("no more photos can be kept: swatches of the book were read off all of those there are")
    return tuple(gone)


def _referred_to(db: sqlite3.Connection) -> set[str]:
    """Hashes that anything stored names: all of it is read once."""
    found: set[str] = set()
    for table in KINDS.values():
        if table.details:
            for row in db.execute(f"SELECT details FROM {table.name}"):  # noqa: S608
                found.update(_HASH.findall(row["details"]))
    return found
