"""What `wempa panel` prints: a planned panel as JSON (docs/job-format.md)."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft.vocabulary import VerdictKind
from wempa.formats.job_result import CodedText, SeenColour


class _Model(BaseModel):
    # `from` is no name in Python.
    model_config = ConfigDict(populate_by_name=True)


class PlannedBand(_Model):
    """One band along the line."""

    ink: str
    """Its name."""
    at: int
    """Its place in the file's `inks`."""
    from_: Annotated[float, Field(alias="from")]
    """From where to where it reads as itself, mm."""
    to: float
    colour: SeenColour
    """In its middle, dry."""
    flags: list[CodedText]


class PlannedSeam(_Model):
    """Where two bands meet."""

    inks: list[str]
    at: list[int]
    from_: Annotated[float, Field(alias="from")]
    """From where to where both inks have at least 5 % of their full amount, mm; begin and end of a gap."""
    to: float
    steepest: float
    """The most that the colour changes over a millimetre, ΔE00."""
    hard_line: bool
    kind: VerdictKind
    mud: float
    middle: SeenColour
    flags: list[CodedText]


class ProfilePlace(_Model):
    """The dry colour at one place along the line."""

    at: float
    lab: list[float]
    """CIELAB under D65."""


class LaidBand(_Model):
    """One step of the laying."""

    ink: str
    at: int
    reason: str


class PlannedPanel(_Model):
    """A panel as it will show and how it is laid."""

    length: float
    """Of the line across its bands, mm."""
    colours: int
    """How many read as different."""
    bands: list[PlannedBand]
    seams: list[PlannedSeam]
    profile: list[ProfilePlace]
    order: list[LaidBand]
    minutes: float
    waits: list[float]
    """Minutes to wait before each step of `order`."""
    notes: list[CodedText]
