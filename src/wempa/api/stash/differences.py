"""What differs between an item here and the same one in a file, in words."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Name = Callable[[str, int], str]
"""What the ink or card (``ink`` or ``card``) of a number is called."""
# Lists of what is laid, and the fields that name what each entry lays; the other fields say how it is laid.
_LAID = {"stack": "the same inks, laid otherwise", "bands": "the same inks, laid otherwise"}
_LISTS = {**_LAID, "seams": "made otherwise", "tops": "laid otherwise"}
_REFERS = {"card_id": "card", "mat_id": "card", "white_id": "ink"}
_MOST = 40


def differences(before: Mapping[str, Any], after: Mapping[str, Any], name: Name) -> list[str]:
    """What would be overwritten, each as ``notes: old → new``; empty where nothing is.

    `before` and `after` are contents of an item in the same form.
    """
    old, new = _plain(before), _plain(after)
    changed = sorted(key for key in old.keys() | new.keys() if old.get(key) != new.get(key))
    return [_told(key, old.get(key), new.get(key), name) for key in changed]


def _told(key: str, old: Any, new: Any, name: Name) -> str:
    what = key.removesuffix("_id").replace("_", " ")
    short = [_short(_named(key, each, name)) for each in (old, new)]
    return f"{what}: {_LISTS.get(key, 'set otherwise')}" if short[0] == short[1] else f"{what}: {short[0]} → {short[1]}"


def _named(key: str, value: Any, name: Name) -> Any:
    """A value with inks and cards by their names."""
    if key in _REFERS and isinstance(value, int):
        return name(_REFERS[key], value)
    if key in _LISTS and isinstance(value, list):
        return [_entry(each, name) for each in value]
    return value


def _entry(entry: Any, name: Name) -> str:
    """What is laid, without how."""
    if not isinstance(entry, dict):
        return str(entry)
    parts = [part for part in entry.get("mix") or [entry] if isinstance(part, dict)]
    inks = [name("ink", part["ink_id"]) for part in parts if isinstance(part.get("ink_id"), int)]
    return " and ".join(inks) or str(entry.get("treatment") or entry.get("kind") or "")


def _plain(value: Mapping[str, Any], outside: bool = True) -> dict[str, Any]:
    """Fields that say something, those of an ink's job object beside the item's own.

    An ink's own name, formula and pad are said outside that object.
    """
    found: dict[str, Any] = {}
    for key, each in value.items():
        if key in ("ink", "card", "swatch") and isinstance(each, dict) and "colour" not in value:
            found |= _plain(each, outside=False)
        elif each is not None and each != {} and (outside or key not in ("name", "formula", "pad")):
            found[key] = each
    return found


def _short(value: object) -> str:
    if isinstance(value, dict):
        said = [_short(each) for each in value.values() if each is not None]
        return " ".join(said) or "nothing"
    if isinstance(value, list):
        words = ", " if any(isinstance(each, str) for each in value) else " "
        text = words.join(f"{each:.4g}" if isinstance(each, float) else _short(each) for each in value)
    else:
        text = "nothing" if value is None or value == "" else f"{value:.4g}" if isinstance(value, float) else str(value)
    return text if len(text) <= _MOST else text[: _MOST - 1] + "…"
