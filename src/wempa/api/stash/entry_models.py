"""How inks are entered: a colour by eye, a list of names, and what is asked about them."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from wempa.api.models import Strict
from wempa.craft.limits import MAX_ITEMS, MAX_NAME_LIST
from wempa.craft.vocabulary import Doubt, EyeFamily, Formula
from wempa.formats.job import Colour, Number
from wempa.formats.stash.items import Name


class EyeColour(BaseModel):
    """A colour to be compared with a swatch."""

    hex: str
    words: str
    lab: Annotated[list[float], Field(min_length=3, max_length=3)]
    """CIELAB under D65."""


class EyeFamilyOut(BaseModel):
    """A family and one colour that stands for it."""

    family: EyeFamily
    hex: str


class EyeStart(BaseModel):
    """The families, and how far a colour found by eye is off, ΔE00, by the light on the swatch."""

    families: list[EyeFamilyOut]
    spread: dict[str, float]


class EyeField(BaseModel):
    """Colours of a family in rows from light to dark."""

    rows: list[list[EyeColour]]


class EyeStep(BaseModel):
    """One way on from a colour; without a colour where the screen ends."""

    way: str
    to: EyeColour | None


class EyeSteps(BaseModel):
    """Six ways on, by a step of some ΔE00."""

    step: float
    ways: list[EyeStep]


class EyeAround(BaseModel):
    """A colour and what lies around it, big steps first."""

    at: EyeColour
    steps: list[EyeSteps]


class NamesIn(Strict):
    """A list as it was typed or pasted, and what holds where it says nothing itself."""

    text: Annotated[str, Field(max_length=MAX_NAME_LIST)]
    range: Annotated[str, Field(max_length=120)] = ""
    formula: Formula = Formula.UNKNOWN


class UncolouredInk(Strict):
    """An ink of a list that has no colour yet."""

    name: Name
    range: Annotated[str, Field(max_length=120)] = ""
    formula: Formula = Formula.UNKNOWN


class UncolouredIn(Strict):
    """Inks that stay in the list for another time."""

    inks: Annotated[list[UncolouredInk], Field(max_length=MAX_ITEMS)]


class NameList(BaseModel):
    """A list of inks as one writes it."""

    text: str


class ListedOut(BaseModel):
    """An ink of the list."""

    line: int
    name: str
    range: str
    formula: Formula
    colour: EyeColour | None
    """Where the list says one."""


class EntryIn(Strict):
    """An ink that is about to go onto the shelf."""

    name: Name
    range: Annotated[str, Field(max_length=120)] = ""
    formula: Formula
    colour: Colour
    spread: Annotated[Number, Field(ge=0, le=100)]


class EntriesIn(Strict):
    """All of them."""

    inks: Annotated[list[EntryIn], Field(max_length=MAX_ITEMS)]


class DoubtOut(BaseModel):
    """Something that is asked about one of them."""

    at: int
    """Place in the list."""
    doubt: Doubt
    other: str
    """The ink that it is like, or empty."""
    text: str
