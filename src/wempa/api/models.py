"""What the routes take and give beside the job contract."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft.words import MAX_STACK, Illuminant, Load, Over, Tool, Treatment
from wempa.formats.job import Number
from wempa.formats.result import Result


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class OverlapEntry(_Model):
    """A lay-down of a stash ink, or a treatment."""

    ink_id: int | None = None
    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=200)] | None = None
    dose: Annotated[Number, Field(ge=0, le=20)] | None = None
    dilution: Annotated[Number, Field(ge=0, le=0.95)] | None = None
    over: Over | None = None
    treatment: Treatment | None = None


class OverlapSettings(_Model):
    """What a job has beside its card, inks and stack."""

    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] = 50


class OverlapIn(_Model):
    """An overlap in terms of the stash."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    card_id: int | None
    settings: OverlapSettings = OverlapSettings()
    stack: Annotated[list[OverlapEntry], Field(max_length=MAX_STACK)]


class OverlapOut(OverlapIn):
    """A stored overlap."""

    id: int
    revision: int


class ColourInWords(BaseModel):
    """A predicted colour with its name in words."""

    words: str
    result: Result


class CrossingPair(BaseModel):
    """One lay-down over another, by position in the stack."""

    below: int
    above: int
    words: str
    result: Result


class CrossingOut(BaseModel):
    """What crossing swatches show: the card, each ink alone, each pair both ways."""

    bare: ColourInWords
    alone: list[ColourInWords]
    pairs: list[CrossingPair]
    full: ColourInWords
    margin_words: list[str]
    """How close each pair is likely to come, in words."""


class Desk(BaseModel):
    """The overlap on the table, what it looks like, and what can be undone."""

    overlap: OverlapOut
    crossing: CrossingOut
    can_undo: bool
    can_redo: bool


class Stepped(BaseModel):
    """What was undone or redone; null if there was nothing."""

    what: str | None


class Problem(BaseModel):
    """One sentence, and the place in the job where there is one."""

    error: str
    place: str | None = None
