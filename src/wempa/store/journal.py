"""The journal: who made a change, and how much of it is kept."""

from __future__ import annotations

import sqlite3
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime, timedelta

KEPT_STEPS = 1000
"""The newest steps that can be undone or done again are never trimmed away."""


@dataclass(frozen=True, slots=True)
class Author:
    """Who makes changes: a tab of a browser, by a number of its own, and the device that it is on."""

    tab: str = ""
    device: str = ""


_NOBODY = Author()
AUTHOR: ContextVar[Author] = ContextVar("author", default=_NOBODY)
"""Who makes the changes of this context; nobody in particular if it is not said."""


def trim(db: sqlite3.Connection, now: datetime, days: float, most_bytes: float) -> int:
    """Drop rows of the journal older than so many days, and the oldest beyond so many bytes; returns how many.

    The first row stays, for it says what the file began as, and so do the newest `KEPT_STEPS` steps
    that can be undone or done again.
    """
    floor = db.execute(
        "SELECT min(step) FROM (SELECT DISTINCT step FROM journal WHERE state IN ('done', 'undone')"
        " ORDER BY step DESC LIMIT ?)",
        (KEPT_STEPS,),
    ).fetchone()[0]
    last = db.execute("SELECT coalesce(max(step), 0) FROM journal").fetchone()[0]
    before = last + 1 if floor is None else floor
    first = db.execute("SELECT coalesce(min(seq), 0) FROM journal").fetchone()[0]
    since = (now - timedelta(days=days)).isoformat(timespec="microseconds")
    dropped = db.execute("DELETE FROM journal WHERE step < ? AND seq > ? AND at < ?", (before, first, since)).rowcount
    # Counting reads all of it, so it is done only where there may be too much.
    pages, size = (db.execute(f"PRAGMA {name}").fetchone()[0] for name in ("page_count", "page_size"))
    if pages * size > most_bytes:
        beyond = db.execute(
            "SELECT max(seq) FROM (SELECT seq, sum(length(coalesce(before, '')) + length(coalesce(after, '')))"
            " OVER (ORDER BY seq DESC) AS held FROM journal) WHERE held > ?",
            (most_bytes,),
        ).fetchone()[0]
        if beyond is not None:
            dropped += db.execute(
                "DELETE FROM journal WHERE step < ? AND seq > ? AND seq <= ?", (before, first, beyond)
            ).rowcount
    return int(dropped)
