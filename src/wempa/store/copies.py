"""Copies of a workspace: made by themselves and when asked for, listed, and put back.

A copy is a whole workspace file, photos included, made through SQLite's backup API: it can be opened
like any other. It stands beside the workspace, its name says when and why it was made, and it
appears under that name only once it is whole.
"""

from __future__ import annotations

import os
import re
import sqlite3
import threading
from collections.abc import Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from wempa.craft.limits import MAX_COPIES
from wempa.craft.vocabulary import CopyReason

from .connection import NotFound, StoreError
from .workspace import Workspace, open_to_read

DAY = timedelta(days=1)
_NAME = re.compile(rf"(\d{{8}}T\d{{6}}\d{{6}}Z)-({'|'.join(CopyReason)})\.wempa")
_TIME = "%Y%m%dT%H%M%S%fZ"


@dataclass(frozen=True, slots=True)
class Copy:
    """A copy that is there."""

    name: str
    """Of its file."""
    at: datetime
    """UTC."""
    why: CopyReason
    size: int
    """Bytes."""


class Copies:
    """The copies of one workspace, in a folder beside it unless another is given."""

    def __init__(self, workspace: Workspace, folder: Path | None = None) -> None:
        self._workspace = workspace
        self.folder = folder or workspace.path.with_name(f"{workspace.path.stem}-copies")
        self._lock = threading.Lock()

    def listed(self) -> list[Copy]:
        """All copies, the newest first."""
        found = []
        try:
            entries = list(os.scandir(self.folder))
        except OSError:
            return []
        for entry in entries:
            match = _NAME.fullmatch(entry.name)
            if match is None or not entry.is_file(follow_symlinks=False):
                continue
            try:
                at = datetime.strptime(match[1], _TIME).replace(tzinfo=UTC)
                why = CopyReason(match[2])
                found.append(Copy(entry.name, at, why, entry.stat().st_size))
            except (OSError, ValueError):
                continue
        return sorted(found, key=lambda copy: copy.name, reverse=True)

    def path(self, name: str) -> Path:
        """The file of a copy; raises `NotFound`."""
        if name not in {copy.name for copy in self.listed()}:
            raise NotFound("there is no such copy any more")
        return self.folder / name

    def make(self, why: CopyReason, now: datetime | None = None, keep: str = "") -> Copy:
        """Copy the workspace as it is now, and let old copies go, but not the one to `keep`.

        Raises
        ------
        StoreError
            There is no room, or the folder cannot be written to.
        """
        with self._lock:
            at = now or datetime.now(UTC)
            name = f"{at.strftime(_TIME)}-{why}.wempa"
            try:
                self.folder.mkdir(parents=True, exist_ok=True)
                self._workspace.copy_to(self.folder / name)
            except OSError as error:
                raise StoreError(f"no copy was made in {self.folder}: {error.strerror or error}") from error
            self._let_go(keep)
        return next(copy for copy in self.listed() if copy.name == name)

    def make_if_changed(self, why: CopyReason, now: datetime | None = None) -> Copy | None:
        """Copy the workspace unless nothing is in it or the newest copy is of the same state."""
        mark = self._workspace.state_mark()
        newest = next(iter(self.listed()), None)
        if not self._workspace.holds_anything() or (newest is not None and self._mark_of(newest) == mark):
            return None
        return self.make(why, now)

    def make_daily(self, now: datetime | None = None) -> Copy | None:
        """Copy the workspace if the newest copy is a day old and something has changed since."""
        newest = next(iter(self.listed()), None)
        if newest is not None and (now or datetime.now(UTC)) - newest.at < DAY:
            return None
        return self.make_if_changed(CopyReason.DAILY, now)

    def put_back(self, name: str) -> Copy:
        """Make the workspace what a copy holds; returns the copy that was made of it before.

        Raises
        ------
        NotFound
            There is no such copy.
        StoreError
            It is damaged or of a newer Wempa, or the present state cannot be kept: nothing
            is changed then.
        """
        path = self.path(name)
        before = self.make(CopyReason.BEFORE, keep=name)
        self._workspace.become(path)
        return before

    def _mark_of(self, copy: Copy) -> tuple[object, ...] | None:
        try:
            with closing(open_to_read(self.folder / copy.name)) as db:
                return Workspace.mark_of(db)
        except sqlite3.Error:
            return None

    def _let_go(self, keep: str) -> None:
        """Of those made by themselves, and of the others, the newest few and the newest of each month stay."""
        listed = self.listed()
        for whys in ((CopyReason.START, CopyReason.DAILY), (CopyReason.ASKED, CopyReason.BEFORE)):
            for copy in _too_many([each for each in listed if each.why in whys]):
                if copy.name != keep:
                    (self.folder / copy.name).unlink(missing_ok=True)


def _too_many(copies: Sequence[Copy]) -> list[Copy]:
    """Of copies, the newest first, those that are neither among the newest nor the newest of their month."""
    months: set[tuple[int, int]] = set()
    found = []
    for n, copy in enumerate(copies):
        month = (copy.at.year, copy.at.month)
        if n >= MAX_COPIES and month in months:
            found.append(copy)
        months.add(month)
    return found
