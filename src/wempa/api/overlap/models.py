"""What the Overlap routes take and give."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from wempa.api.models import LookOut, Strict
from wempa.craft.codes import FixCode
from wempa.craft.limits import MAX_PASSES, MAX_STACK
from wempa.craft.treatments import Treatment
from wempa.craft.vocabulary import Board, FieldZone, Illuminant, Preset, StackDo, VerdictKind
from wempa.formats.job import Switch, Whole
from wempa.formats.job_result import CodedText
from wempa.formats.overlap.items import EntryChange, OverlapItem, OverlapSettings, StackEntry


class OverlapOut(OverlapItem):
    """A stored overlap."""

    id: int
    revision: int


class CrossingPair(BaseModel):
    """One lay-down over another, by position among the lay-downs. The whole stack is asked for elsewhere."""

    below: int
    above: int
    words: str
    hex: str
    mud: float
    kind: VerdictKind
    order_matters: float
    either_order: bool
    """ΔE00 to the same two inks in the other order."""


class CutOut(BaseModel):
    """A lay-down in the card cut through; doses relative to the inks' own swatches."""

    entry: int
    soaks: float
    sits: float
    cover: float
    joined: bool


class CrossingOut(BaseModel):
    """What crossing swatches show: the card, each ink alone, each pair both ways, all of it."""

    bare: LookOut
    alone: list[LookOut]
    pairs: list[CrossingPair]
    full: LookOut
    wet: LookOut
    """The whole stack while it is still wet."""
    steps: list[str]
    """Hex after each entry of the stack."""
    cut: list[CutOut]


class OverlapDesk(BaseModel):
    """An overlap, what it looks like, and what can be undone."""

    overlap: OverlapOut
    crossing: CrossingOut
    mud_line: float
    """The mud from which on it is called muddy: the overlap's own line, or its owner's."""
    can_undo: bool
    can_redo: bool
    picked: int | None = None
    """After a change of the stack: the entry that is picked next; the number of entries means a new one."""


class OverlapSummary(BaseModel):
    """A stored overlap in the list of them."""

    id: int
    revision: int
    name: str
    colour_name: str
    card: str
    """Hex of the card; empty, as are `hex` and `words`, where it cannot be read."""
    hex: str
    words: str
    kind: VerdictKind | None
    mud: float | None
    trouble: str = ""
    """Why it cannot be read: it can still be given out and deleted."""


class StackChange(Strict):
    """What an overlap becomes when a fix or a nudge is applied."""

    card_id: int | None
    stack: list[StackEntry]


class FixOut(BaseModel):
    """A change that helps."""

    code: FixCode
    text: str
    mud: float | None
    shown: list[LookOut]
    """The overlap after the change; of a bridge, both its seams."""
    change: StackChange | None
    """Null where the change cannot be written as a stack, or needs something that is not on the shelf."""


class NudgeOut(BaseModel):
    """A nudge; `entry` for more or less of one lay-down."""

    code: str
    entry: int | None
    text: str
    after: LookOut | None
    change: StackChange | None


class NeighbourOut(BaseModel):
    """An owned ink near the colour."""

    ink_id: int
    text: str
    delta_e: float


class LightOut(BaseModel):
    """The overlap in one light, its hexes as an eye sees them that has adapted to that light."""

    illuminant: Illuminant
    bare: str
    alone: list[str]
    full: str
    words: str


class Advice(BaseModel):
    """What a board asks for: what would help, what would lead elsewhere, or what the colour is like."""

    revision: int
    board: Board
    fixes: list[FixOut] = []
    nudges: list[NudgeOut] = []
    neighbours: list[NeighbourOut] = []
    lights: list[LightOut] = []
    notes: list[CodedText] = []


class Beside(BaseModel):
    """One colour compared with another: in words such as ``darker than``, and in ΔE00."""

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


class PresetIn(Strict):
    """A ready-made way to use."""

    preset: Preset


class AxisOut(BaseModel):
    """One lay-down in its amounts: passes, or doses."""

    entry: int
    amounts: list[float]
    now: int
    by_dose: bool


class ZoneOut(BaseModel):
    """A name of a colour in the field, and where it stands, in steps."""

    zone: FieldZone
    x: float
    y: float


class AmountFieldOut(BaseModel):
    """Two lay-downs in every amount against one another; the first row has none of the second."""

    across: AxisOut
    up: AxisOut
    step: AxisOut | None
    at: int
    hexes: list[list[str]]
    mud: list[list[float]]
    words: list[list[str]]
    border: list[list[float]]
    """Lines from x, y to x, y, in steps."""
    named: list[ZoneOut]


class AmountOf(Strict):
    """An amount of one entry: passes, or the dose of an entry that states a dose."""

    entry: Annotated[Whole, Field(ge=0, le=MAX_STACK)]
    amount: Annotated[float, Field(ge=0, le=MAX_PASSES, allow_inf_nan=False)]


class StackEdit(Strict):
    """A change of a stack as one makes it at the table."""

    do: StackDo
    at: Annotated[Whole, Field(ge=0, le=MAX_STACK)] = 0
    """The entry that is changed."""
    to: Annotated[Whole, Field(ge=0, le=MAX_STACK)] = 0
    """Where an entry is moved to."""
    ink_id: Whole | None = None
    """The ink that is laid."""
    on_top: Switch = False
    treatment: Treatment | None = None
    entry: EntryChange | None = None
    apply: StackChange | None = None
    """The changes that a fix or nudge proposes."""
    amounts: Annotated[tuple[AmountOf, ...], Field(max_length=MAX_STACK)] = ()
    """Amounts that are set at once."""
    what: Annotated[str, Field(max_length=200)] = "Change the stack"


class NewOverlapIn(Strict):
    """A new overlap: crossing the first inks at hand, or empty."""

    empty: Switch = False
    settings: OverlapSettings = OverlapSettings()
