"""A workspace: inks, cards, overlaps and panels in one SQLite file, with undo.

Every change goes through `Workspace.write`, which stores the item and the journal
row (what, before, after, when) in one transaction. Undo, redo, history and the
detection of conflicting edits are that one mechanism. What is stored is checked in the
same transaction by `Workspace.check`, whether it comes by a route, a file or undo.
"""

from __future__ import annotations

import hashlib
import json
import os
import sqlite3
import threading
import uuid
from collections.abc import Callable, Collection, Iterator, Sequence
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path

from wempa.craft.errors import WempaError
from wempa.craft.limits import MAX_ITEMS

from .connection import Conflict, Connection, NotFound, StoreError, Unavailable
from .journal import AUTHOR, trim
from .photos import KeptPhoto, drop_old
from .tables import KINDS, Item, Kind, dump

Change = tuple[Kind, int | None, "Item | Callable[[Sequence[Item]], Item] | None", int | None]
"""Kind, id (None to make one), the item (None to delete it), the revision it must still have."""
Check = Callable[[Sequence[tuple[Kind, Item]]], None]
"""Refuses, by raising a `WempaError`, items as they have just been stored."""

Ask = Callable[[Item], str]
"""Why a step should not be taken back unasked; nothing if it may."""
_ASKED = ("what", "at", "state", "tab", "device", "touched")
_APPLICATION_ID = 0x57454D50  # "WEMP"


class Workspace:
    """One open workspace file. Safe to share between threads.

    Raises
    ------
    StoreError
        The file is not a workspace, is damaged, or comes from a newer Wempa.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self.check: Check | None = None
        """What everything that is stored has to pass; it may read the workspace as it is about to be."""
        self._restored = 0
        self._lock = threading.RLock()
        if path.is_dir():
            raise StoreError(f"{path} is a folder; give a file in it, such as {path / 'stash.wempa'}")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._db = sqlite3.connect(
                path, check_same_thread=False, isolation_level=None, timeout=10, factory=Connection
            )
        except (OSError, sqlite3.OperationalError) as error:
            raise StoreError(f"cannot open {path}: {error}") from error
        self._db.row_factory = sqlite3.Row
        try:
            self._prepare()
        except (sqlite3.DatabaseError, Unavailable) as error:
            self._db.close()
            raise StoreError(f"{path} is not a Wempa workspace, or is damaged: {_if_it_was(path)}") from error
        except StoreError:
            self._db.close()
            raise

    def close(self) -> None:
        """Close the file; the workspace cannot be used afterwards."""
        with self._lock:
            self._db.close()

    # -- the file ---------------------------------------------------------------

    def _prepare(self) -> None:
        application = self._db.execute("PRAGMA application_id").fetchone()[0]
        tables = self._db.execute("SELECT count(*) FROM sqlite_schema").fetchone()[0]
        if tables and application != _APPLICATION_ID:
            raise StoreError(f"{self.path} is an SQLite file, but not a Wempa workspace")
        if tables and self._db.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
            raise StoreError(f"{self.path} is damaged: {_if_it_was(self.path)}")
        self._db.execute("PRAGMA journal_mode = WAL")
        self._db.execute("PRAGMA synchronous = FULL")
        self._db.execute("PRAGMA foreign_keys = ON")
        known = migrations()
        version = self.version()
        if version > len(known):
            raise StoreError(
                f"{self.path} was written by a newer Wempa (version {version} of the file, this one knows {len(known)})"
            )
        for number, script in enumerate(known[version:], start=version + 1):
            with self._transaction():
                if self.version() >= number:
                    continue
                for statement in _statements(script):
                    self._db.execute(statement)
                self._db.execute(f"PRAGMA application_id = {_APPLICATION_ID}")
                self._db.execute(f"PRAGMA user_version = {number}")

    def version(self) -> int:
        """Number of the last migration applied."""
        return int(self._db.execute("PRAGMA user_version").fetchone()[0])

    @contextmanager
    def _transaction(self) -> Iterator[None]:
        with self._lock:
            self._db.execute("BEGIN IMMEDIATE")
            try:
                # References are asked for at the end: what is missing is said by the check, by its name.
                self._db.execute("PRAGMA defer_foreign_keys = ON")
                yield
                self._db.execute("COMMIT")
            except BaseException:
                if self._db.in_transaction:
                    self._db.execute("ROLLBACK")
                raise

    # -- copies -----------------------------------------------------------------

    def copy_to(self, path: Path) -> None:
        """Copy everything to a new file, which is there once it is whole (SQLite's backup API).

        Raises
        ------
        StoreError
            The copy could not be written, or cannot be read back.
        """
        part = path.with_name(f".{path.name}.part")
        try:
            part.unlink(missing_ok=True)
            # A connection of its own: whoever writes meanwhile does not wait, and is not in the copy.
            with closing(sqlite3.connect(self.path, timeout=10)) as source, closing(sqlite3.connect(part)) as copy:
                source.backup(copy)
                copy.execute("PRAGMA journal_mode = DELETE")
                if copy.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                    raise StoreError("the copy cannot be read back, so it was not kept")
            with open(part, "rb") as written:
                os.fsync(written.fileno())
            os.replace(part, path)
        except sqlite3.Error as error:
            raise StoreError(f"no copy was made: {error}") from error
        finally:
            part.unlink(missing_ok=True)

    def become(self, path: Path) -> None:
        """Take over everything from a copy, in one transaction.

        Raises
        ------
        StoreError
            It is no whole workspace, or of a newer Wempa; nothing is changed.
        """
        try:
            with closing(open_to_read(path)) as source:
                application = source.execute("PRAGMA application_id").fetchone()[0]
                if application != _APPLICATION_ID or source.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                    raise StoreError(f"{path.name} is damaged; nothing was changed")
                version = int(source.execute("PRAGMA user_version").fetchone()[0])
                if version > len(migrations()):
                    raise StoreError(f"{path.name} was written by a newer Wempa; nothing was changed")
                with self._lock:
                    now = self._db.execute("SELECT revision FROM clock").fetchone()[0]
                    source.backup(self._db)
                    self._restored += 1
                    self._prepare()
                    # No revision that somebody has read ever stands for anything else.
                    with self._transaction():
                        self._db.execute("UPDATE clock SET revision = max(revision, ?) + 1", (now,))
        except sqlite3.Error as error:
            raise StoreError(f"{path.name} cannot be put back: {error}") from error

    def state_mark(self) -> tuple[object, ...]:
        """A mark that two files have in common if they hold the same."""
        with self._lock:
            return self.mark_of(self._db)

    @staticmethod
    def mark_of(db: sqlite3.Connection) -> tuple[object, ...]:
        """`state_mark` of an open workspace file."""
        changes = db.execute("SELECT count(*), max(seq), sum(state = 'done') FROM journal").fetchone()
        photos = db.execute("SELECT count(*), max(at) FROM photo").fetchone()
        clock = db.execute("SELECT revision FROM clock").fetchone()
        return (*clock, *changes, *photos)

    def holds_anything(self) -> bool:
        """Whether anything was ever written to it."""
        with self._lock:
            return bool(
                self._db.execute("SELECT EXISTS (SELECT 1 FROM journal UNION ALL SELECT 1 FROM photo)").fetchone()[0]
            )

    # -- reading ----------------------------------------------------------------

    def read(self, kind: Kind, item_id: int) -> Item:
        """One item; raises `NotFound`."""
        with self._lock:
            item = KINDS[kind].load(self._db, item_id)
        if item is None:
            raise NotFound(f"there is no {kind} {item_id}")
        return item

    def name_of(self, kind: Kind, item_id: int) -> str:
        """What an item is called, whether or not it can be read; raises `NotFound`."""
        return str(self.read(kind, item_id)["name"])

    def read_all(self, kind: Kind) -> list[Item]:
        """Every item of a kind, in the order of making."""
        with self._lock:
            ids = self._db.execute(f"SELECT id FROM {KINDS[kind].name} ORDER BY id").fetchall()  # noqa: S608
            found = [KINDS[kind].load(self._db, row["id"]) for row in ids]
        return [item for item in found if item is not None]

    def first(self, kind: Kind, prefer: int) -> Item | None:
        """The item of that number if there is one, else the oldest of its kind, None if there is none."""
        with self._lock:
            row = self._db.execute(
                f"SELECT id FROM {KINDS[kind].name} ORDER BY id <> ?, id LIMIT 1",  # noqa: S608
                (prefer,),
            ).fetchone()
            return None if row is None else KINDS[kind].load(self._db, row["id"])

    def stamp(self, *kinds: Kind) -> tuple[int, ...]:
        """A mark that changes whenever an item of these kinds is made, changed or deleted."""
        found: list[int] = [self._restored]
        with self._lock:
            for kind in kinds:
                row = self._db.execute(
                    f"SELECT coalesce(max(revision), 0), count(*) FROM {KINDS[kind].name}"  # noqa: S608
                ).fetchone()
                found += row
        return tuple(found)

    def history(self, limit: int = 100) -> list[Item]:
        """The newest journal rows first: seq, at, what, kind, item, state."""
        with self._lock:
            rows = self._db.execute(
                "SELECT seq, at, what, kind, item, state FROM journal ORDER BY seq DESC LIMIT ?", (limit,)
            ).fetchall()
        return [dict(row) for row in rows]

    def first_change(self) -> Item | None:
        """The journal's oldest row; None in a workspace nobody has written to."""
        row = self._db.execute("SELECT seq, at, what, kind, item FROM journal ORDER BY seq LIMIT 1").fetchone()
        return None if row is None else dict(row)

    # -- writing ----------------------------------------------------------------

    def write(
        self, kind: Kind, item: Item | None, *, item_id: int | None = None, revision: int | None = None, what: str
    ) -> Item:
        """Create (`item_id` None), change, or delete (`item` None) one item.

        With `revision` the item must still have it. Returns the item as stored
        (as it was, when deleted).

        Raises
        ------
        NotFound
            There is no such item to change.
        Conflict
            The item has another revision by now.
        StoreError
            It refers to something missing, something refers to it, or the workspace is full.
        """
        return self.write_many([(kind, item_id, item, revision)], what=what)[0]

    def write_many(
        self,
        changes: Sequence[Change],
        *,
        what: str,
        undoable: bool = True,
    ) -> list[Item]:
        """Several changes (kind, id, item, revision) in one transaction; see `write`.

        They are undone together, or not at all unless `undoable`. An item that refers to
        others made in the same step is a function of what was stored so far.
        """
        with _told(), self._transaction():
            stored = self._write_all(changes, what, undoable)
            self._checked(changes, stored)
            return stored

    def take_in(
        self,
        changes: Sequence[Change],
        *,
        what: str,
        undoable: bool = True,
        unreadable: Collection[int] = (),
        rehearse: bool = False,
    ) -> list[Item]:
        """Several changes that come from a file, as `write_many`; items keep the time and identity that they bring.

        `unreadable` are places of changes that are kept as they are though nothing can read
        them. With `rehearse` everything is stored, checked and taken back again.
        """
        stored: list[Item] = []
        try:
            with _told(), self._transaction():
                stored = self._write_all(changes, what, undoable, from_file=True)
                self._checked(changes, stored, unreadable)
                if rehearse:
                    raise _Rehearsed
        except _Rehearsed:
            pass
        return stored

    def _write_all(self, changes: Sequence[Change], what: str, undoable: bool, from_file: bool = False) -> list[Item]:
        self._db.execute("UPDATE journal SET state = 'settled' WHERE state = 'undone'")
        step = self._db.execute("SELECT coalesce(max(step), 0) + 1 FROM journal").fetchone()[0]
        author = AUTHOR.get()
        row = {"step": step, "at": _now(), "what": what, "state": "done" if undoable else "settled"}
        row |= {"tab": author.tab, "device": author.device}
        stored: list[Item] = []
        for kind, item_id, item, revision in changes:
            made = item(stored) if callable(item) else item
            changed = (made or {}).get("changed") if from_file else None
            stored.append(self._write(kind, item_id, made, revision, row, changed or row["at"]))
        self._check_room({kind for kind, item_id, _, _ in changes if item_id is None})
        return stored

    def _checked(self, changes: Sequence[Change], stored: Sequence[Item], but: Collection[int] = ()) -> None:
        if self.check is None:
            return
        kept = [n for n, change in enumerate(changes) if change[2] is not None and n not in but]
        try:
            self.check([(changes[n][0], stored[n]) for n in kept])
        except WempaError as error:
            error.change = None if error.change is None else kept[error.change]
            raise

    def _check_room(self, kinds: set[Kind]) -> None:
        for kind in kinds:
            count = self._db.execute(f"SELECT count(*) FROM {KINDS[kind].name}").fetchone()[0]  # noqa: S608
            if count > MAX_ITEMS:
                raise StoreError(f"a workspace holds {MAX_ITEMS} {kind}s at most; nothing was stored")

    def _write(
        self, kind: Kind, item_id: int | None, item: Item | None, revision: int | None, row: Item, changed: str
    ) -> Item:
        table = KINDS[kind]
        before = None
        if item_id is not None:
            before = table.load(self._db, item_id)
            if before is None:
                raise NotFound(f"there is no {kind} {item_id}")
            if revision is not None and before["revision"] != revision:
                raise Conflict(
                    f"{before['name']} was changed elsewhere in the meantime (revision {before['revision']})"
                )
        elif item is None:
            raise NotFound(f"there is no {kind} to delete")
        if item is None and (user := self._user_of(kind, item_id)) is not None:
            raise StoreError(f"{(before or {})['name']} is used by “{user}”; take it out there first")
        after = self._put(kind, item_id, item, changed)
        self._db.execute(
            "INSERT INTO journal (step, at, what, state, tab, device, kind, item, before, after, touched)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, (SELECT revision FROM clock))",
            (*row.values(), kind, (after or before or {})["id"], dump(before), dump(after)),
        )
        return after or before or {}

    def _user_of(self, kind: Kind, item_id: int | None) -> str | None:
        """Name of an overlap or panel that needs the item, if one does."""
        query = {
            "ink": "SELECT name FROM overlap JOIN (SELECT overlap_id, ink_id FROM overlap_entry"
            " UNION ALL SELECT overlap_id, ink_id FROM overlap_mix) ON overlap_id = id WHERE ink_id = :id"
            " UNION ALL SELECT name FROM panel JOIN panel_ink ON panel_id = id WHERE ink_id = :id LIMIT 1",
            "card": "SELECT name FROM overlap WHERE card_id = :id"
            " UNION ALL SELECT name FROM panel WHERE :id IN (card_id, mat_id) LIMIT 1",
        }.get(kind)
        row = None if query is None else self._db.execute(query, {"id": item_id}).fetchone()
        return None if row is None else str(row["name"])

    def _put(self, kind: Kind, item_id: int | None, item: Item | None, changed: str) -> Item | None:
        """Store the item as given, with the next revision; nothing is journalled.

        Its identity never changes: it is the row's, or what the item brings, or a new one.
        """
        table = KINDS[kind]
        if item is None:
            self._db.execute("UPDATE clock SET revision = revision + 1")
            self._db.execute(f"DELETE FROM {table.name} WHERE id = ?", (item_id,))  # noqa: S608
            return None
        held = self._db.execute(f"SELECT uuid FROM {table.name} WHERE id = ?", (item_id,)).fetchone()  # noqa: S608
        own = held["uuid"] if held is not None else item.get("uuid") or str(uuid.uuid4())
        revision = self._db.execute("UPDATE clock SET revision = revision + 1 RETURNING revision").fetchone()[0]
        if item_id is None:
            # A number is never used again: swatches go on naming inks that are gone.
            item_id = self._db.execute(
                "INSERT INTO last_number (kind, id)"  # noqa: S608
                f" VALUES (:kind, coalesce((SELECT max(id) FROM {table.name}), 0) + 1)"
                " ON CONFLICT (kind) DO UPDATE SET id = max(last_number.id + 1, excluded.id) RETURNING id",
                {"kind": kind},
            ).fetchone()[0]
        kept = {**item, "revision": revision, "uuid": own, "changed": changed}
        return table.load(self._db, table.save(self._db, item_id, kept))

    # -- photos -----------------------------------------------------------------

    def take_photo(self, jpeg: bytes, width: int, height: int) -> KeptPhoto:
        """Store a JPEG once, by its content; tells which gave way to it. Raises as `drop_old` does."""
        digest = hashlib.sha256(jpeg).hexdigest()
        with self._transaction():
            self._db.execute(
                "INSERT INTO photo (hash, at, width, height, jpeg) VALUES (?, ?, ?, ?, ?) ON CONFLICT (hash)"
                " DO UPDATE SET at = excluded.at",
                (digest, _now(), width, height, jpeg),
            )
            return KeptPhoto(digest, drop_old(self._db))

    def keep_photo(self, jpeg: bytes, width: int, height: int) -> str:
        """Its hash, as `take_photo` stores it."""
        return self.take_photo(jpeg, width, height).hash

    def photo(self, digest: str) -> bytes:
        """A stored JPEG; raises `NotFound`."""
        with self._lock:
            row = self._db.execute("SELECT jpeg FROM photo WHERE hash = ?", (digest,)).fetchone()
        if row is None:
            raise NotFound("there is no such photo any more; load it again")
        return bytes(row["jpeg"])

    def photos(self) -> list[Item]:
        """All stored photos, the oldest first: hash, at, width, height, jpeg."""
        with self._lock:
            rows = self._db.execute("SELECT hash, at, width, height, jpeg FROM photo ORDER BY at, hash").fetchall()
        return [dict(row) for row in rows]

    def take_photos(self, photos: Sequence[Item]) -> None:
        """Photos of another workspace, as `photos` gives them; one that is here stays as it is."""
        with self._transaction():
            self._db.executemany(
                "INSERT INTO photo (hash, at, width, height, jpeg) VALUES (:hash, :at, :width, :height, :jpeg)"
                " ON CONFLICT (hash) DO NOTHING",
                photos,
            )
            # What they belong to is stored already.
            drop_old(self._db, whatever=True)

    def undo(self, ask: Ask | None = None) -> Item | None:
        """Take back the newest step; returns what and when it was, None if there is none.

        `ask` is given the step first: what (`what`), when (`at`), by whom (`tab`, `device`) and the
        clock when it was made (`touched`). What it answers is why it should not be taken back
        unasked; nothing if it may.

        Raises
        ------
        Conflict
            It should not be, for that reason.
        StoreError
            What it would bring back cannot be read any more, or needs what is gone: nothing
            is changed, and the step is left out from then on.
        """
        return self._step("done", "max", "before", "undone", ask)

    def redo(self, ask: Ask | None = None) -> Item | None:
        """Do again what was undone last; returns what and when it was, None if there is none; raises as `undo`."""
        return self._step("undone", "min", "after", "done", ask)

    def _step(self, state: str, which: str, side: str, becomes: str, ask: Ask | None) -> Item | None:
        order = "DESC" if which == "max" else "ASC"
        with self._lock:
            rows = self._db.execute(
                f"SELECT * FROM journal WHERE state = ? AND step = (SELECT {which}(step) FROM journal WHERE state = ?)"  # noqa: S608
                f" ORDER BY seq {order}",
                (state, state),
            ).fetchall()
            if not rows:
                return None
            what = rows[0]["what"]
            if ask is not None and (why := ask({key: rows[0][key] for key in _ASKED})):
                raise Conflict(why)
            try:
                with _told(), self._transaction():
                    self._put_back(rows, side, becomes)
            except WempaError as error:
                with self._transaction():
                    self._db.execute("UPDATE journal SET state = 'settled' WHERE step = ?", (rows[0]["step"],))
                way = "taken back" if becomes == "undone" else "done again"
                raise StoreError(f"“{what}” cannot be {way} any more: {error}") from error
            return {"what": what, "at": rows[0]["at"]}

    def clock(self) -> int:
        """How many changes there have been: of two moments the later has the higher number."""
        with self._lock:
            return int(self._db.execute("SELECT revision FROM clock").fetchone()[0])

    def trim_journal(self, days: float, most_bytes: float) -> int:
        """Drop what is old and more than so much of the journal, as `trim` says; returns how many rows."""
        with self._transaction():
            return trim(self._db, datetime.now(UTC), days, most_bytes)

    def _put_back(self, rows: Sequence[sqlite3.Row], side: str, becomes: str) -> None:
        checked: list[tuple[Kind, Item]] = []
        author = AUTHOR.get()
        for row in rows:
            kind: Kind = row["kind"]
            wanted = None if row[side] is None else json.loads(row[side])
            sound = self._is_sound(kind, row["item"])
            stored = self._put(kind, row["item"], wanted, (wanted or {}).get("changed") or _now())
            # What nothing could read when it was thrown away or changed comes back as it was.
            if stored is not None and sound:
                checked.append((kind, stored))
            self._db.execute(
                "UPDATE journal SET state = ?, tab = ?, device = ?, touched = (SELECT revision FROM clock)"
                " WHERE seq = ?",
                (becomes, author.tab, author.device, row["seq"]),
            )
        if self.check is not None:
            self.check(checked)

    def _is_sound(self, kind: Kind, item_id: int) -> bool:
        """Whether there is such an item, and it passes the check."""
        held = KINDS[kind].load(self._db, item_id)
        if held is None or self.check is None:
            return False
        try:
            self.check([(kind, held)])
        except WempaError:
            return False
        return True

    def can_step(self) -> tuple[bool, bool]:
        """Whether there is anything to undo, and to redo."""
        with self._lock:
            found = self._db.execute(
                "SELECT EXISTS (SELECT 1 FROM journal WHERE state = 'done'),"
                " EXISTS (SELECT 1 FROM journal WHERE state = 'undone')"
            ).fetchone()
        return bool(found[0]), bool(found[1])


def _if_it_was(path: Path) -> str:
    """What to do with a damaged workspace."""
    return f"if it was one, put one of its copies in its place, from the folder {path.stem}-copies beside it"


def open_to_read(path: Path) -> sqlite3.Connection:
    """A workspace file that nobody writes to, opened for reading only, whatever its folder is called."""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro&immutable=1", uri=True)


def migrations() -> list[str]:
    """The numbered SQL scripts, in order."""
    folder = files("wempa.store").joinpath("migrations")
    found = sorted((entry for entry in folder.iterdir() if entry.name.endswith(".sql")), key=lambda e: e.name)
    for number, entry in enumerate(found, start=1):
        if int(entry.name[:4]) != number:
            raise RuntimeError(f"migration {entry.name} is out of order")
    return [entry.read_text("utf-8") for entry in found]


def _statements(script: str) -> Iterator[str]:
    """Single statements of a script, so that all of them share one transaction."""
    pending = ""
    for line in script.splitlines(keepends=True):
        pending += line
        if sqlite3.complete_statement(pending):
            yield pending
            pending = ""


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="microseconds")


class _Rehearsed(Exception):
    """All went well, and is taken back."""


@contextmanager
def _told() -> Iterator[None]:
    """What the database refuses, as one sentence."""
    try:
        yield
    except sqlite3.IntegrityError as error:
        if "UNIQUE" in str(error):
            raise StoreError("not stored: there is already one of that name") from error
        raise StoreError(f"not stored, because something it needs or that needs it is missing: {error}") from error
