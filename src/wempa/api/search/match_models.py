"""What the Match routes take and give."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from wempa.api.models import LookOut, Strict
from wempa.craft.limits import MAX_MATCH, MAX_STACK
from wempa.craft.vocabulary import Illuminant
from wempa.formats import job as contract
from wempa.formats.job import Switch, Whole
from wempa.formats.overlap.items import OverlapSettings, StackEntry


class TargetIn(Strict):
    """A wanted colour: typed or picked (`colour`), an ink's own, or a spot on a saved overlap or panel."""

    colour: contract.Colour | None = None
    ink_id: Whole | None = None
    overlap_id: Whole | None = None
    below: Whole | None = None
    """Of an overlap: where two of its lay-downs cross, by position; all of it where neither is given."""
    above: Whole | None = None
    panel_id: Whole | None = None
    band: Whole | None = None
    """Of a panel: the middle of a band, or of a seam, by place."""
    seam: Whole | None = None

    @model_validator(mode="after")
    def _one(self) -> TargetIn:
        if sum(each is not None for each in (self.colour, self.ink_id, self.overlap_id, self.panel_id)) != 1:
            raise ValueError("a wanted colour is one of colour, ink_id, overlap_id and panel_id")
        if sum(each is not None for each in (self.band, self.seam)) != (0 if self.panel_id is None else 1):
            raise ValueError("a spot on a panel is one of its bands or seams")
        if (self.below is None) != (self.above is None):
            raise ValueError("below and above go together")
        return self


class MatchIn(Strict):
    """What is wanted, on what, and what may be used."""

    target: TargetIn
    card_id: Whole | None = None
    start: Whole | None = None
    """An overlap whose stack lies on its card already; the match goes over it."""
    illuminant: Illuminant = Illuminant.D65
    most: Annotated[Whole, Field(ge=1, le=3)] = 3
    thin: Switch = False
    """Whether inks may be thinned with water."""
    without: Annotated[tuple[Whole, ...], Field(max_length=MAX_MATCH)] = ()
    exact: Switch = False
    """Whether to search until nothing nearer is left, however many inks there are."""


class AnswerOut(BaseModel):
    """One way to the colour."""

    inks: list[int]
    stack: list[StackEntry]
    """What is put on, over what lies there."""
    lines: list[str]
    look: LookOut
    delta_e: float
    beside: str
    """Beside the wanted colour, in words: such as ``darker and greyer than``."""


class MatchLine(BaseModel):
    """A line of the answer as it comes: how far the search is, and at the end what it found."""

    state: Literal["working", "done", "refused"]
    done: float = 0
    """Share of the work, 0–1."""
    best: float | None = None
    """ΔE00 of the nearest stack so far, in the amounts that are searched."""
    bound: float = 0
    """Proven: no stack in these amounts comes nearer than this."""
    stacks: int = 0
    target: str = ""
    """Hex of the wanted colour."""
    words: str = ""
    answers: list[AnswerOut] = []
    reached: bool = False
    """Whether the best stands in for the wanted colour."""
    error: str = ""


class ReserveOut(BaseModel):
    """What the other inks come to for one ink."""

    ink_id: int
    target: str
    answer: AnswerOut | None
    bound: float
    made: bool
    laid: list[str] = []
    """Swatches of the book that look very like it."""


class LayAnswerIn(Strict):
    """A way to a colour to be laid, over what lies there already, as an overlap of its own."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    stack: Annotated[list[StackEntry], Field(max_length=MAX_STACK)]
    start: Whole | None = None
    """The overlap that it goes over."""
    card_id: Whole | None = None
    """Its card, where it goes over none."""
    settings: OverlapSettings = OverlapSettings()
