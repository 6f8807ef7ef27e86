"""A whole workspace as one JSON document, version 1 (docs/stash-formats.md).

Inks and cards are referred to by their place in the document, so that it means the
same in any workspace; every item carries its identity (a UUID, RFC 9562) and when it last
changed, so that it is known again where it comes from. Writing, reading and writing again
gives the same bytes.
"""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from wempa.craft.errors import JobError, quoted
from wempa.craft.limits import MAX_ITEMS, MAX_WORKSPACE
from wempa.formats.stash.items import AnyItem, InkItem, read_item

from .job import load_json
from .kinds import NAMED, read_stored
from .places import said, to_numbers, to_places

VERSION = 1
LISTS = {
    "ranges": "range",
    "inks": "ink",
    "cards": "card",
    "tools": "tool",
    "phones": "phone",
    "overlaps": "overlap",
    "panels": "panel",
    "swatches": "swatch",
    "lessons": "lesson",
    "practices": "practice",
    "evenings": "evening",
    "runs": "run",
}
"""The lists of a document, and the kind of item that each holds; later ones refer to earlier ones."""
_OWN = ("id", "revision", "uuid", "changed")
_OVERLAP = ("name", "card", "settings", "stack")
_OVERLAP_MORE = ("laid", "colour_name")
# What the store holds of a kind, for an item that nothing can read: texts and objects.
_COLUMNS: Mapping[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "ink": (("name", "range", "formula"), ("body", "details")),
    "card": (("name", "surface"), ("body", "details")),
    "tool": (("name", "tool"), ("details",)),
    "range": (("name",), ("details",)),
    "phone": (("name",), ("details",)),
    "overlap": (("name", "colour_name"), ("settings",)),
    "panel": (("name",), ("settings", "plan")),
    "swatch": (("name",), ("details",)),
    "lesson": (("name",), ("details",)),
    "practice": (("name",), ("details",)),
    "evening": (("name",), ("details",)),
    "run": (("name",), ("details",)),
}
_MOST_TEXT = 200
_GONE = "gone"
# What a panel is called that a file does not name.
_UNNAMED = "Panel"


@dataclass(frozen=True, slots=True)
class FiledItem:
    """One item of a document."""

    kind: str
    name: str
    uuid: str | None
    """None in a file of before there were identities."""
    changed: str
    """When it last changed, UTC as ISO 8601; empty where the file does not say."""
    item: AnyItem | None = None
    """Of the stash."""
    body: dict[str, Any] | None = None
    """An overlap or panel: `card`, `mat`, `ink` and `white` are places in the document's lists."""
    raw: dict[str, Any] | None = None
    """As it was stored, of one that could not be read where it comes from; places as in `body`."""

    def stored(self, number: Callable[[str, int], int]) -> dict[str, Any]:
        """As the store lays it out; `number` says which number here a place of the document has."""
        if self.item is not None:
            found = self.item.stored()
        elif self.raw is not None:
            found = dict(to_numbers(self.raw, lambda of, place: place if isinstance(place, str) else number(of, place)))
        else:
            found = dict(to_numbers(self.body, number))
            if self.kind in NAMED:
                found = {"name": found.pop("name"), "details": found}
            if self.kind == "panel":
                columns = {key: found.pop(key, None) for key in ("name", "card_id", "mat_id")}
                found = {**columns, "settings": found.pop("settings", {}), "plan": found}
        own = {"uuid": self.uuid, "changed": self.changed}
        return {**found, **{key: value for key, value in own.items() if value}}


Document = dict[str, list[FiledItem]]
"""What a workspace file holds: the lists by their names, as `LISTS` has them."""


def write_workspace(
    stored: Mapping[str, Sequence[Mapping[str, Any]]], unreadable: Callable[[str, Mapping[str, Any]], bool]
) -> str:
    """The document of what is stored: items by kind (`ink`, `card`, `tool`, `range`, `phone`, `overlap`, `panel`).

    What is `unreadable` goes out as it is stored.
    """
    place = {kind: {item["id"]: n for n, item in enumerate(stored[kind])} for kind in ("ink", "card")}

    def there(kind: str, number: int) -> int:
        return place[kind][number]

    document: dict[str, Any] = {"wempa_workspace": VERSION}
    for key, kind in LISTS.items():
        document[key] = [
            {"uuid": item["uuid"], "changed": item["changed"], **_written(kind, item, there, unreadable(kind, item))}
            for item in stored[kind]
        ]
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def _written(kind: str, item: Mapping[str, Any], there: Callable[[str, int], int], unreadable: bool) -> dict[str, Any]:
    if unreadable:

        def known(of: str, number: Any) -> Any:
            try:
                return there(of, number)
            except KeyError:
                # Nobody can say any more which ink it meant; as a text it is not taken for a place.
                return number if isinstance(number, str) else f"{_GONE} {number}"

        raw = to_places({key: value for key, value in item.items() if key not in _OWN}, known)
        return {"name": item["name"], "unreadable": raw}
    if kind == "overlap":
        return {
            "name": item["name"],
            "card": None if item["card_id"] is None else there("card", item["card_id"]),
            "settings": item["settings"],
            "stack": to_places([said(entry) for entry in item["stack"]], there),
            **{key: item[key] for key in _OVERLAP_MORE if item.get(key)},
        }
    if kind == "panel":
        columns = {key: item[key] for key in ("name", "settings", "card_id", "mat_id")}
        return dict(to_places({**columns, **item["plan"]}, there))
    if kind in NAMED:
        read = read_stored(kind, item).model_dump(mode="json", exclude_defaults=True)

        def or_none(of: str, number: int) -> int | None:
            # An ink or card that is gone is still called something.
            try:
                return there(of, number)
            except KeyError:
                return None

        return dict(to_places(read, or_none))
    return read_stored(kind, item).model_dump(mode="json", exclude_defaults=True)


def read_workspace(data: bytes) -> Document:
    """A document of a file.

    Overlaps and panels are read as far as their references go; whether they can be
    computed is asked where they are stored.

    Raises
    ------
    JobError
        Not such a document, of a later version, or something in it is bad: one
        sentence and its place.
    """
    if len(data) > MAX_WORKSPACE:
        raise JobError(f"the file has more than {MAX_WORKSPACE / 1e6:.0f} MB")
    whole = load_json(data)
    if not isinstance(whole, dict) or "wempa_workspace" not in whole:
        raise JobError("this is no Wempa workspace: the key 'wempa_workspace' is missing")
    if whole["wempa_workspace"] != VERSION or isinstance(whole["wempa_workspace"], bool):
        version = quoted(whole["wempa_workspace"])
        raise JobError(f"this workspace is of version {version}; this Wempa reads version {VERSION}")
    unknown = set(whole) - {"wempa_workspace", *LISTS}
    if unknown:
        raise JobError(f"{quoted(min(unknown))} is not a key of a workspace")
    lists = {key: _list(whole, key) for key in LISTS}
    counts = {"ink": len(lists["inks"]), "card": len(lists["cards"])}
    document: Document = {}
    seen: dict[str, tuple[str | int, ...]] = {}
    for key, kind in LISTS.items():
        document[key] = []
        for n, item in enumerate(lists[key]):
            try:
                filed = _filed(kind, item, counts)
            except JobError as error:
                raise JobError(error.message, (key, n, *error.place)) from error
            if filed.uuid is not None and filed.uuid in seen:
                raise JobError(f"{place_of(seen[filed.uuid])} has this identity as well", (key, n, "uuid"))
            if filed.uuid is not None:
                seen[filed.uuid] = (key, n)
            document[key].append(filed)
    return document


def place_of(place: tuple[str | int, ...]) -> str:
    """Which item of a document: ``inks[3]``."""
    return f"{place[0]}[{place[1]}]"


def _list(whole: dict[str, Any], key: str) -> list[Any]:
    items = whole.get(key, [])
    if not isinstance(items, list):
        raise JobError("this is no list", (key,))
    if len(items) > MAX_ITEMS:
        raise JobError(f"{len(items)} is more than the {MAX_ITEMS} that a workspace holds", (key,))
    return items


def _filed(kind: str, given: Any, counts: Mapping[str, int]) -> FiledItem:
    if not isinstance(given, dict):
        raise JobError(f"this is no {kind}")
    item = dict(given)
    own, changed = _identity(item.pop("uuid", None)), _time(item.pop("changed", ""))
    if "unreadable" in item:
        raw = _raw(kind, item, counts)
        return FiledItem(kind, raw["name"], own, changed, raw=raw)
    if kind == "overlap":
        _check_overlap(item, counts)
        return FiledItem(kind, item["name"], own, changed, body=item)
    if kind == "panel":
        item.setdefault("name", _UNNAMED)
        if not isinstance(item["name"], str):
            raise JobError("a panel has a name and a plan")
        _check_places(item, counts)
        return FiledItem(kind, item["name"], own, changed, body=item)
    if kind in NAMED:
        _check_places(item, counts)
        numbers = dict(to_numbers(item, lambda _, place: place))
        if not isinstance(numbers.get("name"), str):
            raise JobError(f"a {kind} has a name")
        read_stored(kind, {"name": numbers.pop("name"), "details": numbers})
        return FiledItem(kind, item["name"], own, changed, body=item)
    read = read_item(kind, item)
    return FiledItem(kind, read.name, own, changed, item=read)


def _identity(given: Any) -> str | None:
    if given is None:
        return None
    try:
        if not isinstance(given, str) or len(given) > _MOST_TEXT:
            raise ValueError
        return str(uuid.UUID(given))
    except ValueError as error:
        raise JobError("an identity is a UUID, such as 2f1b6c1e-8f0e-4a53-9a57-0d5f2f0f6d11", ("uuid",)) from error


def _time(given: Any) -> str:
    if given == "":
        return ""
    try:
        if not isinstance(given, str) or len(given) > _MOST_TEXT:
            raise ValueError
        found = datetime.fromisoformat(given)
        # As it stands, if it stands as it is written here.
        return given if found.utcoffset() == UTC.utcoffset(None) and given.endswith("+00:00") else _utc(found)
    except (ValueError, OverflowError) as error:
        raise JobError("a time is written like 2026-11-26T09:30:00+00:00", ("changed",)) from error


def _utc(found: datetime) -> str:
    known = found if found.tzinfo is not None else found.replace(tzinfo=UTC)
    return known.astimezone(UTC).isoformat(timespec="microseconds")


def _check_overlap(item: dict[str, Any], counts: Mapping[str, int]) -> None:
    if not set(_OVERLAP) <= set(item) <= {*_OVERLAP, *_OVERLAP_MORE} or not isinstance(item["name"], str):
        raise JobError("an overlap has name, card, settings and stack, and may have laid and colour_name")
    card = item["card"]
    if card is not None and not _is_place(card, counts["card"]):
        raise JobError(f"there is no card {quoted(card)} in this file", ("card",))
    _check_stack(item["stack"], counts)


def _check_stack(stack: Any, counts: Mapping[str, int]) -> None:
    if not isinstance(stack, list):
        raise JobError("this is no list", ("stack",))
    for k, entry in enumerate(stack):
        if not isinstance(entry, dict):
            raise JobError("this is no entry of a stack", ("stack", k))
        mix = entry.get("mix") or []
        if not isinstance(mix, list) or not all(isinstance(part, dict) for part in mix):
            raise JobError("a mix is a list of inks and shares", ("stack", k))
        for ink in (entry.get("ink"), *[part.get("ink", -1) for part in mix]):
            if ink is not None and not _is_place(ink, counts["ink"]):
                raise JobError(f"there is no ink {quoted(ink)} in this file", ("stack", k))


def _is_place(given: Any, count: int) -> bool:
    return isinstance(given, int) and not isinstance(given, bool) and 0 <= given < count


def _check_places(item: dict[str, Any], counts: Mapping[str, int], gone: bool = False) -> None:
    """Raise `JobError` unless every ink and card is in the file, or, where that may be, known to be gone."""

    def there(kind: str, number: Any) -> Any:
        if not _is_place(number, counts[kind]) and not (gone and isinstance(number, str)):
            raise JobError(f"there is no {kind} {quoted(number)} in this file")
        return number

    to_numbers(item, there)


def _raw(kind: str, item: dict[str, Any], counts: Mapping[str, int]) -> dict[str, Any]:
    """An item as it was stored, which the store can hold again whatever it means."""
    raw, place = item["unreadable"], ("unreadable",)
    texts, objects = _COLUMNS[kind]
    if not isinstance(raw, dict) or set(item) != {"name", "unreadable"}:
        raise JobError("what cannot be read has a name and what was stored of it", place)
    extra = {"overlap": {"card", "stack", "laid"}, "panel": {"card", "mat"}}.get(kind, set())
    if set(raw) != {*texts, *objects, *extra}:
        raise JobError(f"of a stored {kind} there are {', '.join(sorted({*texts, *objects, *extra}))}", place)
    for key in texts:
        if not isinstance(raw[key], str) or len(raw[key]) > _MOST_TEXT or (key == "name" and not raw[key]):
            raise JobError(f"this is no text of at most {_MOST_TEXT} characters", (*place, key))
    for key in objects:
        if not isinstance(raw[key], dict):
            raise JobError("this is no object", (*place, key))
    for key in extra & {"card", "mat"}:
        if raw[key] is not None and not _is_place(raw[key], counts["card"]):
            raise JobError(f"there is no card {quoted(raw[key])} in this file", (*place, key))
    if kind == "overlap":
        if not isinstance(raw["laid"], int) or not 0 <= raw["laid"] <= MAX_ITEMS:
            raise JobError("this is no number of entries", (*place, "laid"))
        _check_stack(raw["stack"], counts)
        shares = [part.get("share") for entry in raw["stack"] for part in entry.get("mix") or ()]
        if not all(isinstance(share, int | float) and not isinstance(share, bool) and share >= 0 for share in shares):
            raise JobError("a share is a number, 0 or more", (*place, "stack"))
    else:
        _check_places(raw, counts, gone=True)
    return raw


def same_name(kind: str, item: AnyItem) -> tuple[str, ...]:
    """What two items share that are taken for one where identities do not tell: of an ink its range and formula too."""
    if isinstance(item, InkItem):
        return (kind, item.name, item.range, str(item.formula))
    return (kind, item.name)
