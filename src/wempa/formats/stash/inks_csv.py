"""Inks as CSV: one row an ink, columns in any order (docs/stash-formats.md)."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any

from wempa.craft.errors import JobError, quoted
from wempa.craft.limits import MAX_IMPORT
from wempa.formats.job import place_text
from wempa.formats.text_table import TableError, number, read_table, text_of, unsafe, write_table

from .items import InkItem, read_item

_YES, _NO = {"yes", "y", "true", "1", "x"}, {"no", "n", "false", "0"}


LabOf = Callable[[InkItem], tuple[float, float, float]]
"""CIELAB (D50) of an ink's swatch."""


@dataclass(frozen=True, slots=True)
class InkRow:
    """One row read: an ink, or what is wrong with it."""

    line: int
    name: str
    item: InkItem | None
    problem: str | None
    uuid: str | None = None
    """Its identity, where the row says one."""
    said: dict[str, Any] = field(default_factory=dict)
    """What the row says, as the fields of an ink item; an empty cell says nothing."""

    def over(self, old: InkItem, lab_of: LabOf) -> InkItem:
        """An ink that is there already, with what the row says of it put over what is known.

        A measured spectrum stays where the row gives its own Lab again (`lab_of`, as
        `write_inks` writes it). Another colour is another swatch: how sure the old one
        was, and how it looked on dark card, goes with it.

        Raises
        ------
        JobError
            The two do not go together.
        """
        whole, said = old.model_dump(mode="json", exclude_none=True), deepcopy(self.said)
        before, colour = old.ink.swatch.colour, said["ink"]["swatch"]["colour"]
        written = [round(value, 4) for value in lab_of(old)] if before.spectrum is not None else None
        if written is not None and colour.get("lab") == written and colour.get("illuminant", "D50") == "D50":
            del said["ink"]["swatch"]["colour"]
        elif colour != whole["ink"]["swatch"]["colour"]:
            for key in ("known", "spread", "on_dark"):
                whole["ink"]["swatch"].pop(key, None)
        found = read_item("ink", _merged(whole, said))
        assert isinstance(found, InkItem)
        return found


# Column: where its value goes in an ink item, and what it is.
_TEXTS: dict[str, tuple[str, ...]] = {
    "name": ("name",),
    "range": ("range",),
    "formula": ("formula",),
    "standing": ("standing",),
    "place": ("place",),
    "hex": ("ink", "swatch", "colour", "hex"),
    "lab_illuminant": ("ink", "swatch", "colour", "illuminant"),
    "known": ("ink", "swatch", "known"),
    "tool": ("ink", "swatch", "made_with", "tool"),
    "load": ("ink", "swatch", "made_with", "load"),
    "pad_kind": ("pad_kind",),
    "pad": ("pad",),
    "re_inked": ("re_inked",),
    "notes": ("notes",),
}
_NUMBERS: dict[str, tuple[str, ...]] = {
    "passes": ("ink", "swatch", "made_with", "passes"),
    "spread": ("ink", "swatch", "spread"),
    "hiding": ("ink", "hiding"),
    "soak_share": ("ink", "soak_share"),
    "strength": ("ink", "strength"),
}
_SWITCHES: dict[str, tuple[str, ...]] = {"refill": ("refill",), "discontinued": ("discontinued",)}
_LAB = ("lab_l", "lab_a", "lab_b")
COLUMNS = (
    "name", "range", "formula", "standing", "place", "hex", *_LAB, "lab_illuminant", "known", "spread",
    "tool", "load", "passes", "hiding", "soak_share", "strength", "pad_kind", "pad", "re_inked",
    "refill", "discontinued", "notes", "uuid",
)  # fmt: skip


def read_inks(data: bytes) -> list[InkRow]:
    """Every row of a file of inks, good or bad.

    Raises
    ------
    TableError
        Nothing of the file can be read: too large, not text, no column `name`, a
        column nobody knows.
    """
    if len(data) > MAX_IMPORT:
        raise TableError(f"the file has more than {MAX_IMPORT / 1e6:.0f} MB")
    names, rows = read_table(text_of(data))
    keys = [name.lower().replace(" ", "_").replace("-", "_") for name in names]
    unknown = [name for name, key in zip(names, keys, strict=True) if key not in COLUMNS]
    if unknown:
        raise TableError(f"line 1: there is no column {quoted(unknown[0])}; known are {', '.join(COLUMNS)}")
    if len(set(keys)) != len(keys):
        raise TableError("line 1: a column stands there twice")
    if "name" not in keys:
        raise TableError("line 1: the column name is missing")
    return [_read_row(line, dict(zip(keys, map(unsafe, cells), strict=True))) for line, cells in rows]


def _read_row(line: int, cells: dict[str, str]) -> InkRow:
    name = cells.get("name", "").strip()
    try:
        said = _fields(line, cells)
        item = read_item("ink", said)
        assert isinstance(item, InkItem)
        return InkRow(line, name, item, None, _identity(line, cells.get("uuid", "").strip()), said)
    except TableError as error:
        return InkRow(line, name, None, str(error))
    except JobError as error:
        place = place_text(error.place).removeprefix("ink.swatch.").removeprefix("ink.") or "row"
        return InkRow(line, name, None, f"line {line}: {place}: {error.message}")


def _identity(line: int, cell: str) -> str | None:
    if not cell:
        return None
    try:
        return str(uuid.UUID(cell))
    except ValueError as error:
        raise TableError(f"line {line}: {quoted(cell)} in uuid is no identity") from error


def _fields(line: int, cells: Mapping[str, str]) -> dict[str, Any]:
    """What the cells say, as the fields of an ink item."""
    data: dict[str, Any] = {}

    def put(path: tuple[str, ...], value: object) -> None:
        at = data
        for key in path[:-1]:
            at = at.setdefault(key, {})
        at[path[-1]] = value

    for column, path in _TEXTS.items():
        if text := cells.get(column, "").strip():
            plain = column in ("name", "range", "notes", "hex", "re_inked", "lab_illuminant")
            put(path, text if plain else text.lower().replace(" ", "_"))
    for column, path in _NUMBERS.items():
        if text := cells.get(column, "").strip():
            put(path, number(text, line, column))
    for column, path in _SWITCHES.items():
        if word := cells.get(column, "").strip().lower():
            if word not in _YES | _NO:
                raise TableError(f"line {line}: {quoted(word)} in {column} is neither yes nor no")
            put(path, word in _YES)
    lab = [cells.get(column, "").strip() for column in _LAB]
    if any(lab):
        if not all(lab):
            raise TableError(f"line {line}: lab_l, lab_a and lab_b go together")
        put(("ink", "swatch", "colour", "lab"), [number(text, line, c) for text, c in zip(lab, _LAB, strict=True)])
    if "name" not in data:
        raise TableError(f"line {line}: the ink has no name")
    if "colour" not in data.get("ink", {}).get("swatch", {}):
        raise TableError(f"line {line}: {data['name']} has no colour: give hex, or lab_l, lab_a and lab_b")
    return data


def _merged(old: dict[str, Any], new: Mapping[str, Any]) -> dict[str, Any]:
    """`new` over `old`; a colour is one thing and is replaced whole."""
    found = dict(old)
    for key, value in new.items():
        nested = isinstance(value, dict) and isinstance(found.get(key), dict) and key != "colour"
        found[key] = _merged(found[key], value) if nested else value
    return found


def write_inks(items: Sequence[InkItem], lab_of: LabOf, identities: Sequence[str] = ()) -> str:
    """A file of inks, with their identities where they are given.

    A measured spectrum is written as its Lab (`lab_of`, D50): CSV has no room for more.
    """

    def row(item: InkItem, own: str) -> list[object]:
        whole = item.model_dump(mode="json")
        colour = item.ink.swatch.colour
        lab = lab_of(item) if colour.spectrum is not None else colour.lab
        cells: dict[str, object] = {"uuid": own}
        for column, path in (*_TEXTS.items(), *_NUMBERS.items(), *_SWITCHES.items()):
            at: Any = whole
            for key in path:
                at = None if at is None else at.get(key)
            cells[column] = ("yes" if at else "no") if column in _SWITCHES else at
        if lab is not None:
            cells |= dict(zip(_LAB, (round(v, 4) for v in lab), strict=True))
            cells["lab_illuminant"] = cells["lab_illuminant"] or "D50"
        return [cells.get(column) for column in COLUMNS]

    return write_table(
        COLUMNS, (row(item, own) for item, own in zip(items, identities or [""] * len(items), strict=True))
    )
