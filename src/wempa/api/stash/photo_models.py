"""What the routes that read colours take and give."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, model_validator

from wempa.api.models import Strict
from wempa.craft.vocabulary import Formula, Illuminant, Page
from wempa.formats.job_result import CodedText

Box = Annotated[list[float], Field(min_length=4, max_length=4)]
Point = Annotated[list[float], Field(min_length=2, max_length=2)]
_MOST_AREAS = 400


class PhotoOut(BaseModel):
    """A photo as it is kept: upright, without what the camera wrote about it."""

    photo: str
    width: int
    height: int
    page: Page | None
    """The printed sheet that was recognised on it."""
    corners: list[Point] | None
    """Centres of that sheet's four discs, in pixels."""
    names: list[str]
    """What is written below the squares, as far as it is known."""


class MarkIn(Strict):
    """A whole sheet to mark: a printed one by its discs, or any grid by its corner swatches."""

    corners: Annotated[list[Point], Field(min_length=4, max_length=4)]
    page: Page | None = None
    columns: Annotated[int, Field(ge=1, le=30)] | None = None
    rows: Annotated[int, Field(ge=1, le=30)] | None = None

    @model_validator(mode="after")
    def _one(self) -> MarkIn:
        if (self.page is None) == (self.columns is None or self.rows is None):
            raise ValueError("give either the page or columns and rows")
        return self


class MarkedOut(BaseModel):
    """Areas in pixels: left, top, right, bottom."""

    swatches: list[Box]
    whites: list[Box]
    dark: Box | None


class SwatchArea(Strict):
    """A swatch to read."""

    box: Box
    formula: Formula = Formula.UNKNOWN


class ReadIn(Strict):
    """What to read off a photo."""

    swatches: Annotated[list[SwatchArea], Field(max_length=_MOST_AREAS)]
    whites: Annotated[list[Box], Field(max_length=_MOST_AREAS)]
    dark: Box | None = None
    white_card: int | None = None
    """The card of the stash that the white is; smooth white card if not said."""
    lamp: Illuminant = Illuminant.D65


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
    kept: float
    notes: list[CodedText]


class ReadOut(BaseModel):
    """All readings of a photo, and which pairs of them coincide."""

    readings: list[ReadingOut]
    alike: list[list[int]]


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
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1
