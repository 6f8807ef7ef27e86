"""However long what somebody wrote is: a refusal quotes at most 80 characters of it."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable, Iterator
from typing import Any

import pytest

from wempa.craft.errors import WempaError, quoted
from wempa.formats.job import error_text, read_jobs
from wempa.formats.log.fit_file import fit_text
from wempa.formats.stash.inks_csv import COLUMNS, read_inks

LONG = "Z" * 5_000
JOB = {
    "wempa": 1,
    "illuminant": "D65",
    "cardstock": {"colour": {"lab": [90, 0, 0], "illuminant": "D50"}, "surface": "smooth", "known": "typed"},
    "inks": {
        "a": {
            "name": "Boiler Blue",
            "formula": "hybrid",
            "swatch": {"colour": {"hex": "#2456a6"}, "card": "job", "made_with": {"tool": "foam", "load": "normal"}},
        }
    },
    "stack": [{"mix": [{"ink": "a", "share": 1}], "tool": "dip", "over": "wet"}, {"treatment": "heat"}],
    "look": "dry",
    "constants": {"seam.hard": 4},
}
LOG = {"observations": [{"job": JOB, "observed": {"hex": "#a0b0c0"}, "spread": 1, "look": "dry"}]}


def spoilt(whole: Any) -> Iterator[Any]:
    """The same with one text, number, switch or key of it made far too long, each in turn."""

    def places(part: Any, way: tuple[Any, ...]) -> Iterator[tuple[Any, ...]]:
        yield way
        if isinstance(part, dict):
            for key in part:
                yield from places(part[key], (*way, key))
        elif isinstance(part, list):
            for at in range(min(len(part), 2)):
                yield from places(part[at], (*way, at))

    for way in places(whole, ()):
        if not way:
            continue
        for renamed in (False, True):
            made = copy.deepcopy(whole)
            holder = made
            for step in way[:-1]:
                holder = holder[step]
            if renamed and isinstance(holder, dict):
                holder[LONG] = holder.pop(way[-1])
            else:
                holder[way[-1]] = LONG
            yield made


def said_by(reader: Callable[[str], object], text: str) -> str:
    try:
        reader(text)
    except WempaError as error:
        return error_text(error)
    return ""


@pytest.mark.parametrize(
    ("reader", "whole"),
    [
        (lambda text: read_jobs(text.encode()), JOB),
        (lambda text: fit_text(text.encode()), LOG),
    ],
    ids=["job", "log"],
)
def test_jobs(reader: Callable[[str], object], whole: Any) -> None:
    refused = 0
    for made in spoilt(whole):
        said = said_by(reader, json.dumps(made))
        refused += bool(said)
        assert "Z" * 81 not in said, said[:200]
        assert len(said) < 400, said
    assert refused > 20


def test_tables() -> None:
    """Each cell and each heading of a table of inks in turn."""
    cells = ["Sea Wall", "Ballast", "hybrid", "owned", "", "#3c7fae"] + [""] * (len(COLUMNS) - 6)
    refused = 0
    for at in range(len(cells)):
        spoilt_cells = [LONG if at == place else cell for place, cell in enumerate(cells)]
        headings = [LONG if at == place else name for place, name in enumerate(COLUMNS)]
        for rows in ((COLUMNS, spoilt_cells), (headings, cells)):
            said = said_by(lambda text: read_inks(text.encode()), "\n".join(",".join(row) for row in rows))
            refused += bool(said)
            assert "Z" * 81 not in said, said[:200]
    assert refused > 20


def test_quoted() -> None:
    assert quoted("Z" * 80) == repr("Z" * 80)
    assert quoted("Z" * 81) == repr("Z" * 80) + " …"
    assert quoted(10**200) == "1" + "0" * 79 + " …"
