"""What is asked about inks before they go onto the shelf: twins, and what is not sure."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wempa.craft.vocabulary import Doubt, Formula
from wempa.optics import colorimetry as cm


@dataclass(frozen=True)
class EnteredInk:
    """An ink as it is entered: CIELAB under D65 and how far that may be off, ΔE00."""

    name: str
    range: str
    formula: Formula
    lab: tuple[float, float, float]
    spread: float

    @property
    def known_as(self) -> tuple[str, str]:
        """What tells two inks apart that are called alike."""
        return self.range.casefold().strip(), self.name.casefold().strip()

    @property
    def said(self) -> str:
        """Its name, with the range where it has one."""
        return f"{self.name} ({self.range})" if self.range else self.name


@dataclass(frozen=True)
class Asked:
    """Something to be asked about the ink at a place of the list."""

    at: int
    doubt: Doubt
    other: str
    text: str


def doubts_of(new: Sequence[EnteredInk], shelved: Sequence[EnteredInk], table: Mapping[str, float]) -> list[Asked]:
    """What is to be asked about `new` inks, the gravest first.

    Two of one formula that look alike to within ``entry.alike`` may be one pad in two lids; a formula that is
    unknown and a colour that is off by more than ``entry.rough`` make every prediction wide.
    """
    found: list[Asked] = []
    seen: dict[tuple[str, str], int] = {}
    held = {entry.known_as: entry for entry in shelved}
    for at, entry in enumerate(new):
        if entry.known_as in seen:
            found.append(Asked(at, Doubt.TWICE, entry.said, f"{entry.said} stands in the list twice."))
        elif entry.known_as in held:
            found.append(Asked(at, Doubt.OWNED, entry.said, f"{entry.said} is on the shelf already."))
        seen.setdefault(entry.known_as, at)
    found += _alike(new, shelved, {each.at for each in found}, table["entry.alike"])
    found += [
        Asked(
            at, Doubt.FORMULA, "", f"What {entry.said} is made of is not known: the home test tells it in two minutes."
        )
        for at, entry in enumerate(new)
        if entry.formula is Formula.UNKNOWN
    ]
    found += [
        Asked(at, Doubt.COLOUR, "", f"{entry.said} may be some shades off: look at it by daylight, or off a photo.")
        for at, entry in enumerate(new)
        if entry.spread > table["entry.rough"]
    ]
    return found


def _alike(new: Sequence[EnteredInk], shelved: Sequence[EnteredInk], told: set[int], nearest: float) -> list[Asked]:
    """Each that looks like one before it, or like one on the shelf."""
    if not new:
        return []
    every = [*shelved, *new]
    labs = np.array([entry.lab for entry in every])
    found = []
    for at, entry in enumerate(new):
        before = len(shelved) + at
        if at in told or before == 0:
            continue
        apart = cm.ciede2000(*labs[:before].T, *labs[before])
        apart[[other.formula is not entry.formula for other in every[:before]]] = np.inf
        like = int(np.argmin(apart))
        if apart[like] <= nearest:
            text = f"{entry.said} looks just like {every[like].said}: is it the same ink?"
            found.append(Asked(at, Doubt.ALIKE, every[like].said, text))
    return found
