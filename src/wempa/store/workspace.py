"""A workspace: inks, cards, overlaps and panels in one SQLite file, with undo.

Every change goes through `Workspace.write`, which stores the item and the journal
row (what, before, after, when) in one transaction. Undo, redo, history and the
detection of conflicting edits are that one mechanism.
"""

from __future__ import annotations

import hashlib
import json
import sqlite3
import threading
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from typing import Any, Literal

from wempa.craft.errors import WempaError
from wempa.craft.limits import MAX_ITEMS

Kind = Literal["ink", "card", "tool", "range", "overlap", "panel"]
Item = dict[str, Any]
Change = tuple[Kind, int | None, "Item | Callable[[Sequence[Item]], Item] | None", int | None]
"""Kind, id (None to make one), the item (None to delete it), the revision it must still have."""

MAX_PHOTOS = 40
"""Photos kept in one workspace."""

_APPLICATION_ID = 0x57454D50  # "WEMP"


class StoreError(WempaError):
    """The workspace cannot do this; the message is one sentence for the user."""


class NotFound(StoreError):
    """There is no such item."""


class Conflict(StoreError):
    """The item has changed since the caller read it."""


class Workspace:
    """One open workspace file. Safe to share between threads.

    Raises
    ------
    StoreError
        The file is not a workspace, is damaged, or comes from a newer Wempa.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock = threading.RLock()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._db = sqlite3.connect(path, check_same_thread=False, isolation_level=None, timeout=10)
        except (OSError, sqlite3.OperationalError) as error:
            raise StoreError(f"cannot open {path}: {error}") from error
        self._db.row_factory = sqlite3.Row
        try:
            self._prepare()
        except sqlite3.DatabaseError as error:
            self._db.close()
            raise StoreError(f"{path} is not a Wempa workspace, or is damaged: {error}") from error
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
                yield
            except BaseException:
                self._db.execute("ROLLBACK")
                raise
            self._db.execute("COMMIT")

    # -- reading ----------------------------------------------------------------

    def read(self, kind: Kind, item_id: int) -> Item:
        """One item; raises `NotFound`."""
        with self._lock:
            item = _KINDS[kind].load(self._db, item_id)
        if item is None:
            raise NotFound(f"there is no {kind} {item_id}")
        return item

    def read_all(self, kind: Kind) -> list[Item]:
        """Every item of a kind, in the order of making."""
        with self._lock:
            ids = self._db.execute(f"SELECT id FROM {_KINDS[kind].name} ORDER BY id").fetchall()  # noqa: S608
            found = [_KINDS[kind].load(self._db, row["id"]) for row in ids]
        return [item for item in found if item is not None]

    def first(self, kind: Kind, prefer: int) -> Item | None:
        """The item of that number if there is one, else the oldest of its kind, None if there is none."""
        with self._lock:
            row = self._db.execute(
                f"SELECT id FROM {_KINDS[kind].name} ORDER BY id <> ?, id LIMIT 1",  # noqa: S608
                (prefer,),
            ).fetchone()
            return None if row is None else _KINDS[kind].load(self._db, row["id"])

    def stamp(self, *kinds: Kind) -> tuple[int, ...]:
        """A mark that changes whenever an item of these kinds is made, changed or deleted."""
        found: list[int] = []
        with self._lock:
            for kind in kinds:
                row = self._db.execute(
                    f"SELECT coalesce(max(revision), 0), count(*) FROM {_KINDS[kind].name}"  # noqa: S608
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
        try:
            with self._transaction():
                self._db.execute("UPDATE journal SET state = 'settled' WHERE state = 'undone'")
                step = self._db.execute("SELECT coalesce(max(step), 0) + 1 FROM journal").fetchone()[0]
                row = {"step": step, "at": _now(), "what": what, "state": "done" if undoable else "settled"}
                stored: list[Item] = []
                for kind, item_id, item, revision in changes:
                    made = item(stored) if callable(item) else item
                    stored.append(self._write(kind, item_id, made, revision, row))
                self._check_room({kind for kind, item_id, _, _ in changes if item_id is None})
                return stored
        except sqlite3.IntegrityError as error:
            if "UNIQUE" in str(error):
                raise StoreError("not stored: there is already one of that name") from error
            raise StoreError(f"not stored, because something it needs or that needs it is missing: {error}") from error

    def _check_room(self, kinds: set[Kind]) -> None:
        for kind in kinds:
            count = self._db.execute(f"SELECT count(*) FROM {_KINDS[kind].name}").fetchone()[0]  # noqa: S608
            if count > MAX_ITEMS:
                raise StoreError(f"a workspace holds {MAX_ITEMS} {kind}s at most; nothing was stored")

    def _write(self, kind: Kind, item_id: int | None, item: Item | None, revision: int | None, row: Item) -> Item:
        table = _KINDS[kind]
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
        after = self._put(kind, item_id, item)
        self._db.execute(
            "INSERT INTO journal (step, at, what, state, kind, item, before, after) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (*row.values(), kind, (after or before or {})["id"], _dump(before), _dump(after)),
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

    def _put(self, kind: Kind, item_id: int | None, item: Item | None) -> Item | None:
        """Store the item as given, with the next revision; nothing is journalled."""
        if item is None:
            self._db.execute(f"DELETE FROM {_KINDS[kind].name} WHERE id = ?", (item_id,))  # noqa: S608
            return None
        revision = self._db.execute("UPDATE clock SET revision = revision + 1 RETURNING revision").fetchone()[0]
        stored_id = _KINDS[kind].save(self._db, item_id, {**item, "revision": revision})
        return _KINDS[kind].load(self._db, stored_id)

    # -- photos -----------------------------------------------------------------

    def keep_photo(self, jpeg: bytes, width: int, height: int) -> str:
        """Store a JPEG once, by its content; returns its hash. The oldest give way beyond `MAX_PHOTOS`."""
        digest = hashlib.sha256(jpeg).hexdigest()
        with self._transaction():
            self._db.execute(
                "INSERT INTO photo (hash, at, width, height, jpeg) VALUES (?, ?, ?, ?, ?) ON CONFLICT (hash)"
                " DO UPDATE SET at = excluded.at",
                (digest, _now(), width, height, jpeg),
            )
            self._db.execute(
                "DELETE FROM photo WHERE hash NOT IN (SELECT hash FROM photo ORDER BY at DESC, rowid DESC LIMIT ?)",
                (MAX_PHOTOS,),
            )
        return digest

    def photo(self, digest: str) -> bytes:
        """A stored JPEG; raises `NotFound`."""
        with self._lock:
            row = self._db.execute("SELECT jpeg FROM photo WHERE hash = ?", (digest,)).fetchone()
        if row is None:
            raise NotFound("there is no such photo any more; load it again")
        return bytes(row["jpeg"])

    def undo(self) -> Item | None:
        """Take back the newest step; returns what and when it was, None if there is none."""
        return self._step("done", "max", "before", "undone")

    def redo(self) -> Item | None:
        """Do again what was undone last; returns what and when it was, None if there is none."""
        return self._step("undone", "min", "after", "done")

    def _step(self, state: str, which: str, side: str, becomes: str) -> Item | None:
        order = "DESC" if which == "max" else "ASC"
        with self._transaction():
            rows = self._db.execute(
                f"SELECT * FROM journal WHERE state = ? AND step = (SELECT {which}(step) FROM journal WHERE state = ?)"  # noqa: S608
                f" ORDER BY seq {order}",
                (state, state),
            ).fetchall()
            if not rows:
                return None
            for row in rows:
                kind: Kind = row["kind"]
                wanted = None if row[side] is None else json.loads(row[side])
                self._put(kind, row["item"], wanted)
                self._db.execute("UPDATE journal SET state = ? WHERE seq = ?", (becomes, row["seq"]))
            return {"what": rows[0]["what"], "at": rows[0]["at"]}

    def can_step(self) -> tuple[bool, bool]:
        """Whether there is anything to undo, and to redo."""
        with self._lock:
            states = self._db.execute("SELECT DISTINCT state FROM journal WHERE state <> 'settled'").fetchall()
        found = {row["state"] for row in states}
        return "done" in found, "undone" in found


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
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def _dump(value: Any) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False, sort_keys=True)


class _Table:
    """How one kind of item is laid out in SQL."""

    def __init__(
        self,
        name: str,
        load: Callable[[sqlite3.Connection, int], Item | None],
        save: Callable[[sqlite3.Connection, int | None, Item], int],
    ) -> None:
        self.name, self.load, self.save = name, load, save


def _plain(name: str, texts: tuple[str, ...], objects: tuple[str, ...]) -> _Table:
    """An item that is one row: columns of text, and columns of JSON objects."""

    def load(db: sqlite3.Connection, item_id: int) -> Item | None:
        row = db.execute(f"SELECT * FROM {name} WHERE id = ?", (item_id,)).fetchone()  # noqa: S608
        return None if row is None else {**dict(row), **{key: json.loads(row[key]) for key in objects}}

    def save(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
        columns = {"id": item_id, **{key: item[key] for key in ("revision", *texts)}}
        return _upsert(db, name, {**columns, **{key: _dump(item.get(key) or {}) for key in objects}})

    return _Table(name, load, save)


def _upsert(db: sqlite3.Connection, table: str, columns: Item) -> int:
    names = ", ".join(columns)
    marks = ", ".join("?" * len(columns))
    updates = ", ".join(f"{name} = excluded.{name}" for name in columns if name != "id")
    cursor = db.execute(
        f"INSERT INTO {table} ({names}) VALUES ({marks}) ON CONFLICT (id) DO UPDATE SET {updates} RETURNING id",  # noqa: S608
        tuple(columns.values()),
    )
    return int(cursor.fetchone()[0])


def _load_overlap(db: sqlite3.Connection, item_id: int) -> Item | None:
    row = db.execute("SELECT * FROM overlap WHERE id = ?", (item_id,)).fetchone()
    if row is None:
        return None
    entries = db.execute(
        "SELECT ink_id, body FROM overlap_entry WHERE overlap_id = ? ORDER BY position", (item_id,)
    ).fetchall()
    stack = [{"ink_id": entry["ink_id"], **json.loads(entry["body"])} for entry in entries]
    mixed = db.execute(
        "SELECT position, ink_id, share FROM overlap_mix WHERE overlap_id = ? ORDER BY position, part", (item_id,)
    ).fetchall()
    for part in mixed:
        stack[part["position"]].setdefault("mix", []).append({"ink_id": part["ink_id"], "share": part["share"]})
    return {**dict(row), "settings": json.loads(row["settings"]), "stack": stack}


def _save_overlap(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
    columns = {"id": item_id, **{key: item[key] for key in ("revision", "name", "card_id")}}
    # Steps journalled before there were these may be undone or redone still.
    columns |= {"laid": item.get("laid", 0), "colour_name": item.get("colour_name", "")}
    stored = _upsert(db, "overlap", {**columns, "settings": _dump(item["settings"])})
    db.execute("DELETE FROM overlap_entry WHERE overlap_id = ?", (stored,))
    db.executemany(
        "INSERT INTO overlap_entry (overlap_id, position, ink_id, body) VALUES (?, ?, ?, ?)",
        [
            (
                stored,
                position,
                entry.get("ink_id"),
                _dump({k: v for k, v in entry.items() if k not in ("ink_id", "mix")}),
            )
            for position, entry in enumerate(item["stack"])
        ],
    )
    db.executemany(
        "INSERT INTO overlap_mix (overlap_id, position, part, ink_id, share) VALUES (?, ?, ?, ?, ?)",
        [
            (stored, position, n, part["ink_id"], part["share"])
            for position, entry in enumerate(item["stack"])
            for n, part in enumerate(entry.get("mix") or ())
        ],
    )
    return stored


def _load_panel(db: sqlite3.Connection, item_id: int) -> Item | None:
    row = db.execute("SELECT * FROM panel WHERE id = ?", (item_id,)).fetchone()
    return None if row is None else {**dict(row), **{key: json.loads(row[key]) for key in ("settings", "plan")}}


def _save_panel(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
    columns = {"id": item_id, **{key: item[key] for key in ("revision", "name", "card_id")}, "mat_id": item["mat_id"]}
    stored = _upsert(db, "panel", {**columns, **{key: _dump(item[key]) for key in ("settings", "plan")}})
    db.execute("DELETE FROM panel_ink WHERE panel_id = ?", (stored,))
    used = {item["plan"].get("white_id")}
    used |= {each.get("ink_id") for key in ("bands", "tops") for each in item["plan"].get(key, ())}
    db.executemany(
        "INSERT INTO panel_ink (panel_id, ink_id) VALUES (?, ?)",
        [(stored, ink_id) for ink_id in sorted(used - {None})],
    )
    return stored


_KINDS: dict[Kind, _Table] = {
    "ink": _plain("ink", ("name", "range", "formula"), ("body", "details")),
    "card": _plain("card", ("name", "surface"), ("body", "details")),
    "tool": _plain("tool", ("name", "tool"), ("details",)),
    "range": _plain("ink_range", ("name",), ("details",)),
    "overlap": _Table("overlap", _load_overlap, _save_overlap),
    "panel": _Table("panel", _load_panel, _save_panel),
}
