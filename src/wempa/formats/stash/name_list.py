"""A list of inks as people write one: a name a line, headings for ranges, perhaps a formula or a hex behind a name.

.. code-block:: text

    Ballast (hybrid):
    - Sea Wall
    - Brick Arch #8f4a34
    Footplate (dye):
    1. Boiler Blue
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_ITEMS, MAX_NAME_LIST
from wempa.craft.vocabulary import Formula

from .items import Name

_MOST_NAME = 120
_BULLET = re.compile(r"^(?:[-*•–]|\d{1,4}[.)])\s+")
_HEX = re.compile(r"[\s,;]+(#[0-9a-fA-F]{6})$")
_BRACKET = re.compile(r"\s*\(([^()]{1,40})\)$")
_FORMULAS = {said.lower(): formula for formula in Formula for said in (str(formula), formula.said, f"{formula.said}s")}


@dataclass(frozen=True)
class ListedInk:
    """An ink of such a list: the line it stands on, from 1, and what the line says of it."""

    line: int
    name: Name
    range: str
    formula: Formula
    hex: str | None


def read_names(text: str, range_name: str = "", formula: Formula = Formula.UNKNOWN) -> list[ListedInk]:
    """Inks of a list; what no heading says is of the given range and formula.

    Raises
    ------
    JobError
        The text is too long, lists too many, or a line holds no name: one sentence and the line.
    """
    if len(text) > MAX_NAME_LIST:
        raise JobError(f"the list has more than {MAX_NAME_LIST} letters")
    found: list[ListedInk] = []
    under, of = range_name.strip(), formula
    for line, written in enumerate(text.splitlines(), start=1):
        said = _BULLET.sub("", " ".join(_clean(written).split()))
        if not said:
            continue
        if said.endswith(":"):
            heading, own = _formula_behind(said[:-1].rstrip())
            under, of = heading, own or formula
            _held(heading, line, "range")
            continue
        code = _HEX.search(said)
        name, own = _formula_behind(said[: code.start()] if code else said)
        _held(name, line, "ink")
        found.append(ListedInk(line, name, under, own or of, code.group(1).lower() if code else None))
        if len(found) > MAX_ITEMS:
            raise JobError(f"a stash holds {MAX_ITEMS} inks at most; the list has more")
    return found


def write_names(inks: Sequence[tuple[Name, str, Formula]]) -> str:
    """A list of inks, each a name, a range and a formula, as `read_names` reads it; those of no range first."""
    lines: list[str] = []
    ranges = dict.fromkeys(range_name for _, range_name, _ in inks)
    for heading in sorted(ranges, key=lambda range_name: range_name != ""):
        lines += [f"{heading}:"] if heading else []
        lines += [f"{name} ({formula.said})" for name, range_name, formula in inks if range_name == heading]
    return "\n".join(lines)


def _clean(written: str) -> str:
    """Without what only steers."""
    return "".join(letter if letter.isprintable() else " " for letter in written)


def _formula_behind(said: str) -> tuple[str, Formula | None]:
    """A name, and the formula that stands in brackets behind it; other brackets are of the name."""
    bracket = _BRACKET.search(said)
    formula = _FORMULAS.get(bracket.group(1).strip().lower()) if bracket else None
    return (said[: bracket.start()] if bracket and formula else said).rstrip(" ,;"), formula


def _held(name: str, line: int, what: str) -> None:
    if not name:
        raise JobError(f"line {line}: the {what} has no name")
    if len(name) > _MOST_NAME:
        raise JobError(f"line {line}: the {what} is called by more than {_MOST_NAME} letters")
