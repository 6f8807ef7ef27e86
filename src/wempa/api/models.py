"""What the routes take and give beside the job contract."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft.limits import MAX_DILUTION, MAX_DOSE, MAX_INKS, MAX_PASSES, MAX_STACK
from wempa.craft.vocabulary import Board, Illuminant, Load, Over, Preset, Tool, Treatment, VerdictKind
from wempa.formats.job import Number
from wempa.formats.result import CodedText, SeenColour, VerdictResult


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class MixPart(_Model):
    """One ink of a premix."""

    ink_id: int
    share: Annotated[Number, Field(gt=0, le=1000)]


class OverlapEntry(_Model):
    """A lay-down of a stash ink, or of a premix, or a treatment."""

    ink_id: int | None = None
    mix: Annotated[list[MixPart], Field(min_length=1, max_length=MAX_INKS)] | None = None
    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] | None = None
    dose: Annotated[Number, Field(ge=0, le=MAX_DOSE)] | None = None
    dilution: Annotated[Number, Field(ge=0, le=MAX_DILUTION)] | None = None
    over: Over | None = None
    treatment: Treatment | None = None


class OverlapSettings(_Model):
    """What a job has beside its card, inks and stack."""

    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] = 50
    constants: dict[str, Number] = {}


class OverlapIn(_Model):
    """An overlap in terms of the stash."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    card_id: int | None
    settings: OverlapSettings = OverlapSettings()
    stack: Annotated[list[OverlapEntry], Field(max_length=MAX_STACK)]
    laid: Annotated[int, Field(ge=0, le=MAX_STACK)] = 0
    """How many entries, from the bottom, are on the card already."""
    colour_name: Annotated[str, Field(max_length=200)] = ""
    """What its maker calls the colour."""


class OverlapOut(OverlapIn):
    """A stored overlap."""

    id: int
    revision: int


class Look(BaseModel):
    """A predicted colour with its words, margin and verdict."""

    words: str
    closeness: str
    """The margin in words."""
    margin: float
    """ΔE00 that holds the truth about two times in three."""
    chance: str
    """The chance of mud in words."""
    colour: SeenColour
    drops: SeenColour | None
    verdict: VerdictResult
    notes: list[CodedText]


class CrossingPair(BaseModel):
    """One lay-down over another, by position among the lay-downs; all of it is asked for by itself."""

    below: int
    above: int
    words: str
    hex: str
    mud: float
    kind: VerdictKind
    order_matters: float
    """ΔE00 to the same two the other way round."""


class CutOut(BaseModel):
    """A lay-down in the card cut through; doses relative to the inks' own swatches."""

    entry: int
    soaks: float
    sits: float
    cover: float
    joined: bool


class CrossingOut(BaseModel):
    """What crossing swatches show: the card, each ink alone, each pair both ways, all of it."""

    bare: Look
    alone: list[Look]
    pairs: list[CrossingPair]
    full: Look
    wet: Look
    """All of it while wet."""
    steps: list[str]
    """Hex after each entry of the stack."""
    cut: list[CutOut]


class Desk(BaseModel):
    """An overlap, what it looks like, and what can be undone."""

    overlap: OverlapOut
    crossing: CrossingOut
    can_undo: bool
    can_redo: bool


class OverlapSummary(BaseModel):
    """A stored overlap in the list of them."""

    id: int
    revision: int
    name: str
    colour_name: str
    card: str
    """Hex of the card."""
    hex: str
    words: str
    kind: VerdictKind
    mud: float


class StackChange(BaseModel):
    """What an overlap becomes when a fix or a nudge is applied."""

    card_id: int | None
    stack: list[OverlapEntry]


class FixOut(BaseModel):
    """A change that helps."""

    code: str
    text: str
    mud: float | None
    shown: list[Look]
    """What it comes to: the overlap after it; of a bridge both its seams."""
    change: StackChange | None
    """Null where it has no stack form, or asks for what is not on the shelf."""


class NudgeOut(BaseModel):
    """A nudge; `entry` for more or less of one lay-down."""

    code: str
    entry: int | None
    text: str
    after: Look | None
    change: StackChange | None


class NeighbourOut(BaseModel):
    """An owned ink near the colour."""

    ink_id: int
    text: str
    delta_e: float


class LightOut(BaseModel):
    """The overlap in one light: hexes as an eye adapted to it sees them."""

    illuminant: Illuminant
    bare: str
    alone: list[str]
    full: str
    words: str


class Advice(BaseModel):
    """What would help, what would lead elsewhere, or what the colour is like: as the board asks."""

    revision: int
    board: Board
    fixes: list[FixOut] = []
    nudges: list[NudgeOut] = []
    neighbours: list[NeighbourOut] = []
    lights: list[LightOut] = []
    notes: list[CodedText] = []


class Beside(BaseModel):
    """One colour beside another: such as ``darker than``, and how far apart."""

    text: str
    delta_e: float


class DoseStep(BaseModel):
    """One step of a dose strip."""

    factor: float
    hex: str
    mud: float
    kind: VerdictKind


class StripOut(BaseModel):
    """A lay-down (`entry`), or all of it, from a breath to saturated."""

    entry: int | None
    steps: list[DoseStep]


class PresetIn(_Model):
    """A ready-made way to use."""

    preset: Preset


class Stepped(BaseModel):
    """What was undone or redone; null if there was nothing."""

    what: str | None


class Problem(BaseModel):
    """One sentence, and the place in the job where there is one."""

    error: str
    place: str | None = None
