"""What the routes that read colours take and give."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, model_validator

from wempa.api.models import Strict
from wempa.craft.vocabulary import Formula, Illuminant, Page
from wempa.formats.job import Switch, Whole
from wempa.formats.job_result import CodedText

_Pixel = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Box = Annotated[list[_Pixel], Field(min_length=4, max_length=4)]
Point = Annotated[list[_Pixel], Field(min_length=2, max_length=2)]
_MOST_AREAS, _MOST_STEPS = 400, 40


class PhotoOut(BaseModel):
    """A photo as it is kept: upright, without what the camera wrote about it."""

    photo: str
    width: int
    height: int
    page: Page | None
    """The printed sheet that was recognised on it."""
    large: bool
    """Whether that is one with few, large squares."""
    corners: list[Point] | None
    """Centres of that sheet's four discs, in pixels."""
    names: list[str]
    """What is written below the squares, as far as it is known."""
    phone: str
    """What took it, to be used in this reading and not stored. Empty where the file does not say."""
    notes: list[CodedText]
    """Notes on the file and on how the sheet lies on the photo."""


class StepArea(Strict):
    """A grey step of printed lines."""

    box: Box
    share: Annotated[float, Field(ge=0, le=1)]
    pitch: Annotated[float, Field(gt=0, le=10)]
    """From one line to the next, in mm."""


class MarkIn(Strict):
    """A whole sheet to mark: a printed one or the strip by its discs, or any grid by its corner swatches."""

    corners: Annotated[list[Point], Field(min_length=4, max_length=4)]
    page: Page | None = None
    large: Switch = False
    strip: Switch = False
    columns: Annotated[Whole, Field(ge=1, le=30)] | None = None
    rows: Annotated[Whole, Field(ge=1, le=30)] | None = None

    @model_validator(mode="after")
    def _one(self) -> MarkIn:
        given = (self.page is not None, self.strip, self.columns is not None and self.rows is not None)
        if sum(given) != 1:
            raise ValueError("give one of the page, the strip, or columns and rows")
        return self


class MarkedOut(BaseModel):
    """Areas in pixels: left, top, right, bottom."""

    swatches: list[Box]
    whites: list[Box]
    dark: Box | None
    steps: list[StepArea]


class SwatchArea(Strict):
    """A swatch to read."""

    box: Box
    formula: Formula = Formula.UNKNOWN
    ink: Whole | None = None
    """The ink of the stash that it is; one that is well known tells how the phone sees."""


class WholeSheet(Strict):
    """What is known of a sheet whose squares are all read."""

    names: Annotated[list[Annotated[str, Field(max_length=120)]], Field(max_length=_MOST_AREAS)]
    """For the squares that are inked, in their order; empty where squares have names already."""


class ReadIn(Strict):
    """What to read off a photo."""

    swatches: Annotated[list[SwatchArea], Field(max_length=_MOST_AREAS)]
    whites: Annotated[list[Box], Field(max_length=_MOST_AREAS)]
    dark: Box | None = None
    white_card: Whole | None = None
    """The card of the stash that the white is; smooth white card if not said."""
    lamp: Illuminant | None = None
    """The light of the photo; None to let it tell."""
    steps: list[StepArea] = Field(default_factory=list, max_length=_MOST_STEPS)
    phone: Annotated[str, Field(max_length=120)] = ""
    """What took it: what Wempa was taught of it is used."""
    whole_sheet: WholeSheet | None = None
    """Where they are all squares of a sheet: those that nobody inked are left out."""


class ReadingOut(BaseModel):
    """A colour read: `colour` and `spread` go into a swatch as they are."""

    colour: dict[str, Any]
    hex: str
    words: str
    lab: list[float]
    """CIELAB under D65."""
    area_spread: float
    """ΔE00 over the marked area."""
    spread: float
    """ΔE00 that the colour is known to."""
    sure: str
    """The same in words."""
    kept: float
    bare: bool
    """Whether it looks like the bare card."""
    notes: list[CodedText]


class InkedSquare(BaseModel):
    """A square that is inked: its place among those asked for, and its name where one is given."""

    at: int
    name: str | None


class ReadOut(BaseModel):
    """All readings of a photo, and which pairs of them coincide."""

    inked: list[InkedSquare] | None
    """The squares that were read, where others were left out because nobody inked them; None where all were read."""
    readings: list[ReadingOut]
    alike: list[list[int]]
    lamp: Illuminant
    """The light that it was read under."""
    notes: list[CodedText]
    known: int
    """How many of its swatches are well known."""
    teaches: bool
    """Whether they are enough to teach Wempa this phone."""
    taught: int
    """How many swatches in this light had taught it before."""


class PhoneOut(BaseModel):
    """A phone that Wempa was taught."""

    id: int
    name: str
    swatches: dict[Illuminant, int]
    """How many known swatches it was seen with, by lamp."""
    tones: bool
    """Whether it is known how it bends light and dark."""


class TeachIn(ReadIn):
    """A photo with well-known swatches, and what to call the phone."""

    phone: Annotated[str, Field(min_length=1, max_length=120)]


class MeasuredOut(BaseModel):
    """A measured colour."""

    name: str
    colour: dict[str, Any]
    hex: str
    words: str
    lab: list[float]


class CameraIn(Strict):
    """How the simulated camera takes its photo."""

    lamp: Literal["daylight", "warm lamp", "led lamp"] = "daylight"
    uneven: Annotated[float, Field(ge=0, le=0.6)] = 0.25
    page: Page = Page.A4
    phone: Literal["plain camera", "phone", "old phone"] = "plain camera"
    seed: Annotated[Whole, Field(ge=0, le=1_000_000)] = 1
