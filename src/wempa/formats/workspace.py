"""A whole workspace as one JSON document, version 1 (docs/stash-formats.md).

Inks and cards are referred to by their place in the document, so that it means the
same in any workspace; writing, reading and writing again gives the same bytes.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from wempa.craft.errors import JobError, quoted
from wempa.craft.limits import MAX_IMPORT, MAX_ITEMS
from wempa.formats.stash.items import AnyItem, InkItem, of_stored, read_item

from .job import load_json
from .places import said, to_numbers, to_places

VERSION = 1
_LISTS = {"ranges": "range", "inks": "ink", "cards": "card", "tools": "tool"}


@dataclass(frozen=True, slots=True)
class Document:
    """What a workspace file holds."""

    ranges: list[AnyItem]
    inks: list[AnyItem]
    cards: list[AnyItem]
    tools: list[AnyItem]
    overlaps: list[dict[str, Any]]
    """As stored, but `card` and each entry's `ink` are places in the lists above."""
    panels: list[dict[str, Any]]
    """Plans with `name` and `settings`; `ink`, `white`, `card` and `mat` are places in the lists above."""


def write_workspace(stored: Mapping[str, Sequence[Mapping[str, Any]]]) -> str:
    """The document of everything stored: items by kind (`ink`, `card`, `tool`, `range`, `overlap`, `panel`)."""
    place = {kind: {item["id"]: n for n, item in enumerate(stored[kind])} for kind in ("ink", "card")}

    def there(kind: str, number: int) -> int:
        return place[kind][number]

    document: dict[str, Any] = {"wempa_workspace": VERSION}
    for key, kind in _LISTS.items():
        document[key] = [of_stored(kind, item).model_dump(mode="json", exclude_defaults=True) for item in stored[kind]]
    document["overlaps"] = [
        {
            "name": item["name"],
            "card": None if item["card_id"] is None else place["card"][item["card_id"]],
            "settings": item["settings"],
            "stack": to_places([said(entry) for entry in item["stack"]], there),
            **{key: item[key] for key in ("laid", "colour_name") if item.get(key)},
        }
        for item in stored["overlap"]
    ]
    document["panels"] = [
        to_places({**{key: item[key] for key in ("name", "settings", "card_id", "mat_id")}, **item["plan"]}, there)
        for item in stored["panel"]
    ]
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def read_workspace(data: bytes) -> Document:
    """A document of a file.

    Raises
    ------
    JobError
        Not such a document, of a later version, or something in it is bad: one
        sentence and its place.
    """
    if len(data) > MAX_IMPORT:
        raise JobError(f"the file has more than {MAX_IMPORT / 1e6:.0f} MB")
    whole = load_json(data)
    if not isinstance(whole, dict) or "wempa_workspace" not in whole:
        raise JobError("this is no Wempa workspace: the key 'wempa_workspace' is missing")
    if whole["wempa_workspace"] != VERSION:
        raise JobError(
            f"this workspace is of version {quoted(whole['wempa_workspace'])}; this Wempa reads version {VERSION}"
        )
    unknown = set(whole) - {"wempa_workspace", "overlaps", "panels", *_LISTS}
    if unknown:
        raise JobError(f"{quoted(min(unknown))} is not a key of a workspace")
    lists: dict[str, list[AnyItem]] = {}
    for key, kind in _LISTS.items():
        items = _list(whole, key)
        lists[key] = []
        for n, item in enumerate(items):
            try:
                lists[key].append(read_item(kind, item))
            except JobError as error:
                raise JobError(error.message, (key, n, *error.place)) from error
    overlaps = [
        _overlap(item, n, len(lists["inks"]), len(lists["cards"])) for n, item in enumerate(_list(whole, "overlaps"))
    ]
    return Document(
        **lists, overlaps=overlaps, panels=[_panel(item, n, lists) for n, item in enumerate(_list(whole, "panels"))]
    )


def _list(whole: dict[str, Any], key: str) -> list[Any]:
    items = whole.get(key, [])
    if not isinstance(items, list):
        raise JobError("this is no list", (key,))
    if len(items) > MAX_ITEMS:
        raise JobError(f"{len(items)} is more than the {MAX_ITEMS} that a workspace holds", (key,))
    return items


def _overlap(item: Any, n: int, inks: int, cards: int) -> dict[str, Any]:
    place = ("overlaps", n)
    needed = {"name", "card", "settings", "stack"}
    if not isinstance(item, dict) or not needed <= set(item) <= needed | {"laid", "colour_name"}:
        raise JobError("an overlap has name, card, settings and stack, and may have laid and colour_name", place)
    card, stack = item["card"], item["stack"]
    if card is not None and not (isinstance(card, int) and 0 <= card < cards):
        raise JobError(f"there is no card {quoted(card)} in this file", (*place, "card"))
    if not isinstance(stack, list):
        raise JobError("this is no list", (*place, "stack"))
    for k, entry in enumerate(stack):
        if not isinstance(entry, dict):
            raise JobError("this is no entry of a stack", (*place, "stack", k))
        mix = entry.get("mix") or []
        if not isinstance(mix, list) or not all(isinstance(part, dict) for part in mix):
            raise JobError("a mix is a list of inks and shares", (*place, "stack", k))
        for ink in (entry.get("ink"), *[part.get("ink", -1) for part in mix]):
            if ink is not None and not (isinstance(ink, int) and 0 <= ink < inks):
                raise JobError(f"there is no ink {quoted(ink)} in this file", (*place, "stack", k))
    return item


def _panel(item: Any, n: int, lists: Mapping[str, list[AnyItem]]) -> dict[str, Any]:
    """A panel whose inks and cards are all in the file."""
    place = ("panels", n)
    if not isinstance(item, dict) or not isinstance(item.get("name"), str):
        raise JobError("a panel has a name and a plan", place)

    def there(kind: str, number: Any) -> int:
        if not isinstance(number, int) or not 0 <= number < len(lists[f"{kind}s"]):
            raise JobError(f"there is no {kind} {quoted(number)} in this file", place)
        return number

    to_numbers(item, there)
    return item


def identity(kind: str, item: AnyItem) -> tuple[str, ...]:
    """What makes an item the same one in another workspace: its name, for an ink with range and formula."""
    if isinstance(item, InkItem):
        return (kind, item.name, item.range, str(item.formula))
    return (kind, item.name)
