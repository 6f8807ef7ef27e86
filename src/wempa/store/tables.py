"""How each kind of item is laid out in SQL.

Whatever stands in a row is loaded, so that one that no longer means anything can be shown,
given out and deleted like any other; whether it can be read is asked elsewhere.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable
from typing import Any, Literal

Kind = Literal[
    "ink", "card", "tool", "range", "phone", "overlap", "panel", "swatch", "lesson", "practice", "evening", "run"
]
Item = dict[str, Any]

OWN = ("revision", "uuid", "changed")
"""What the store itself keeps of every item: its revision here, what it is called anywhere, when it last changed."""


def dump(value: Any) -> str | None:
    """JSON text as it is stored; None for nothing."""
    return None if value is None else json.dumps(value, ensure_ascii=False, sort_keys=True)


def _object(text: str) -> Item:
    """A JSON object; what is none is kept under a key that nothing knows."""
    found = json.loads(text)
    return found if isinstance(found, dict) else {"no object": found}


class Table:
    """How one kind of item is laid out in SQL."""

    def __init__(
        self,
        name: str,
        load: Callable[[sqlite3.Connection, int], Item | None],
        save: Callable[[sqlite3.Connection, int | None, Item], int],
        details: bool = False,
    ) -> None:
        self.name, self.load, self.save = name, load, save
        self.details = details
        """Whether it has a column `details`, in which photos may be named."""


def _plain(name: str, texts: tuple[str, ...], objects: tuple[str, ...]) -> Table:
    """An item that is one row: columns of text, and columns of JSON objects."""

    def load(db: sqlite3.Connection, item_id: int) -> Item | None:
        row = db.execute(f"SELECT * FROM {name} WHERE id = ?", (item_id,)).fetchone()  # noqa: S608
        return None if row is None else {**dict(row), **{key: _object(row[key]) for key in objects}}

    def save(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
        columns = {"id": item_id, **{key: item[key] for key in (*OWN, *texts)}}
        return _upsert(db, name, {**columns, **{key: dump(item.get(key) or {}) for key in objects}})

    return Table(name, load, save, "details" in objects)


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
        "SELECT position, ink_id, body FROM overlap_entry WHERE overlap_id = ? ORDER BY position", (item_id,)
    ).fetchall()
    stack = {entry["position"]: {"ink_id": entry["ink_id"], **_object(entry["body"])} for entry in entries}
    mixed = db.execute(
        "SELECT position, ink_id, share FROM overlap_mix WHERE overlap_id = ? ORDER BY position, part", (item_id,)
    ).fetchall()
    for part in mixed:
        stack[part["position"]].setdefault("mix", []).append({"ink_id": part["ink_id"], "share": part["share"]})
    return {**dict(row), "settings": _object(row["settings"]), "stack": list(stack.values())}


def _save_overlap(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
    columns = {"id": item_id, **{key: item[key] for key in (*OWN, "name", "card_id")}}
    # Steps journalled before there were these may be undone or redone still.
    columns |= {"laid": item.get("laid", 0), "colour_name": item.get("colour_name", "")}
    stored = _upsert(db, "overlap", {**columns, "settings": dump(item["settings"])})
    db.execute("DELETE FROM overlap_entry WHERE overlap_id = ?", (stored,))
    db.executemany(
        "INSERT INTO overlap_entry (overlap_id, position, ink_id, body) VALUES (?, ?, ?, ?)",
        [
            (
                stored,
                position,
                entry.get("ink_id"),
                dump({k: v for k, v in entry.items() if k not in ("ink_id", "mix")}),
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
    return None if row is None else {**dict(row), **{key: _object(row[key]) for key in ("settings", "plan")}}


def _save_panel(db: sqlite3.Connection, item_id: int | None, item: Item) -> int:
    columns = {"id": item_id, **{key: item[key] for key in (*OWN, "name", "card_id")}, "mat_id": item["mat_id"]}
    stored = _upsert(db, "panel", {**columns, **{key: dump(item[key]) for key in ("settings", "plan")}})
    db.execute("DELETE FROM panel_ink WHERE panel_id = ?", (stored,))
    named = [item["plan"].get("white_id")]
    for key in ("bands", "tops"):
        listed = item["plan"].get(key)
        named += [each.get("ink_id") for each in listed if isinstance(each, dict)] if isinstance(listed, list) else []
    used = {number for number in named if isinstance(number, int)}
    db.executemany(
        "INSERT INTO panel_ink (panel_id, ink_id) VALUES (?, ?)",
        [(stored, ink_id) for ink_id in sorted(used)],
    )
    return stored


KINDS: dict[Kind, Table] = {
    "ink": _plain("ink", ("name", "range", "formula"), ("body", "details")),
    "card": _plain("card", ("name", "surface"), ("body", "details")),
    "tool": _plain("tool", ("name", "tool"), ("details",)),
    "range": _plain("ink_range", ("name",), ("details",)),
    "phone": _plain("phone", ("name",), ("details",)),
    "overlap": Table("overlap", _load_overlap, _save_overlap),
    "panel": Table("panel", _load_panel, _save_panel),
    "swatch": _plain("swatch", ("name",), ("details",)),
    "lesson": _plain("lesson", ("name",), ("details",)),
    "practice": _plain("practice", ("name",), ("details",)),
    "evening": _plain("evening", ("name",), ("details",)),
    "run": _plain("run", ("name",), ("details",)),
}
