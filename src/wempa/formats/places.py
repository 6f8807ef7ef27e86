"""Numbers of stored inks and cards as places in a file, names or keys of a job, and the other way round."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

_NUMBERS: Mapping[str, tuple[str, str]] = {
    "ink_id": ("ink", "ink"),
    "white_id": ("white", "ink"),
    "mat_id": ("mat", "card"),
    "card_id": ("card", "card"),
    "lower_id": ("lower", "ink"),
    "upper_id": ("upper", "ink"),
}
"""Keys that hold numbers of a workspace: what they are called elsewhere, and of what they are."""
_ALSO_WORDS = ("lower", "upper")
_PLACES = {name: (key, kind) for key, (name, kind) in _NUMBERS.items()}
_TO = {key: (name, kind) for key, (name, kind) in _NUMBERS.items()}

Other = Callable[[str, Any], Any]
"""What stands for a number elsewhere, or the number of what stands there, of a kind (``ink`` or ``card``)."""


def to_places(item: Any, other: Other) -> Any:
    """A stored overlap, panel or part of one with its inks and cards as elsewhere: ``ink`` for ``ink_id``.

    What `other` raises goes through.
    """
    return _renamed(item, _TO, other)


def to_numbers(item: Any, other: Other) -> Any:
    """An overlap, panel or part of one from elsewhere with numbers of stored inks and cards: ``ink_id`` for ``ink``.

    What `other` raises goes through.
    """
    return _renamed(item, _PLACES, other)


def said(entry: Mapping[str, Any]) -> dict[str, Any]:
    """What is said of a stored entry: a treatment has no ink, and its number is not told as null."""
    return {key: value for key, value in entry.items() if value is not None}


def _renamed(item: Any, names: Mapping[str, tuple[str, str]], other: Other) -> Any:
    if isinstance(item, list | tuple):
        return [_renamed(each, names, other) for each in item]
    if not isinstance(item, dict):
        return item
    found: dict[str, Any] = {}
    for key, value in item.items():
        # A seam says in words which of its inks is the upper one.
        word = key in _ALSO_WORDS and isinstance(value, str)
        name, kind = (key, "") if word else names.get(key, (key, ""))
        named = kind and isinstance(value, int | str) and not isinstance(value, bool)
        found[name] = other(kind, value) if named else _renamed(value, names, other)
    return found
