"""Jobs that several tests use, in the contract's JSON."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

BLUE_ORANGE: dict[str, Any] = {
    "wempa": 1,
    "cardstock": {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"},
    "inks": {
        "a": {"name": "Boiler Blue", "formula": "dye", "swatch": {"colour": {"hex": "#2456a6"}}},
        "b": {"name": "Firebox Orange", "formula": "dye", "swatch": {"colour": {"hex": "#f2801e"}}},
    },
    "stack": [{"ink": "a", "dose": 1.0}, {"ink": "b", "dose": 1.0}],
}


def job(**changes: Any) -> dict[str, Any]:
    """The blue and orange job with some keys changed."""
    return {**deepcopy(BLUE_ORANGE), **changes}


def changed(path: str, value: Any) -> dict[str, Any]:
    """The blue and orange job with one place (``inks.a.formula``) set to something else."""
    made = job()
    at: Any = made
    *way, last = path.split(".")
    for part in way:
        at = at[int(part)] if isinstance(at, list) else at[part]
    at[int(last) if isinstance(at, list) else last] = value
    return made


PAPER = (97.0, 0.0, 2.0)
"""CIELAB of white card, for judging colours that no job gave."""
