"""What the Stash routes take and give."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from wempa.api.models import Strict
from wempa.craft.limits import MAX_ITEMS
from wempa.craft.vocabulary import (
    CopyReason,
    Family,
    Formula,
    HomeTestSign,
    ImportStatus,
    Load,
    PadState,
    Surface,
    Tool,
)
from wempa.formats.job import MadeWith, Whole
from wempa.formats.stash.items import CardItem, InkItem, RangeItem, ToolItem


class SeenOnScreen(BaseModel):
    """A colour of the stash as it is shown and sorted."""

    hex: str
    words: str
    lab: list[float]
    """CIELAB under D65."""
    hue: float | None
    """Painter's hue, 0–360°; null for greys."""
    family: Family


class Touch(BaseModel):
    """A tool and how often it goes over the card."""

    tool: Tool
    passes: float


class StashInk(SeenOnScreen):
    """An ink of the stash; `item` is what can be changed about it."""

    id: int
    revision: int
    name: str
    range: str
    formula: Formula
    item: InkItem
    pad: PadState | None
    """What its pad is like today."""
    drying_out: bool
    """Whether what its pad gives is not sure any more."""
    load: Load
    """What a tool takes from it today."""
    touch: Touch
    """How it is first put on."""
    white: bool
    """Whether it is a white pigment, which lies under all as a barrier."""
    place_by_hue: int
    """Where it stands among all inks of the stash: round the painter's circle, then greys from light to dark."""
    others: list[str]
    made_with: MadeWith
    """How its swatch was made: as it says, or as it is supposed to have been."""
    """Hex of each of its other swatches."""
    on_dark: str | None
    """Hex of its swatch on dark card."""


class StashCard(SeenOnScreen):
    """A card of the stash."""

    id: int
    revision: int
    name: str
    surface: Surface
    item: CardItem
    grams: float | None
    """Weight in g/m²."""
    dark: bool
    """Whether a swatch on it tells how an ink covers."""


class StashTool(BaseModel):
    """A tool."""

    id: int
    revision: int
    item: ToolItem


class StashRange(BaseModel):
    """A range with overrides."""

    id: int
    revision: int
    item: RangeItem


class ReminderOut(BaseModel):
    """Something that wants doing about an item."""

    kind: Literal["ink", "card", "tool"]
    id: int
    code: str
    text: str


class CopyOut(BaseModel):
    """A copy of the workspace."""

    name: str
    at: datetime
    """UTC."""
    why: CopyReason
    size: int
    """Bytes."""


class CopiesOut(BaseModel):
    """The copies there are, the newest first, and where they lie."""

    folder: str
    copies: list[CopyOut]


class UnreadableOut(BaseModel):
    """Something stored that cannot be read: it can be given out and deleted."""

    kind: Literal["ink", "card", "tool", "range"]
    id: int
    name: str
    problem: str


class StashView(BaseModel):
    """Everything the stash holds."""

    inks: list[StashInk]
    cards: list[StashCard]
    tools: list[StashTool]
    ranges: list[StashRange]
    reminders: list[ReminderOut]
    unreadable: list[UnreadableOut]
    can_undo: bool
    can_redo: bool
    sample: bool
    """Whether this is the sample stash that ships with Wempa, and not somebody's own."""


class Change(Strict):
    """One item made (no `id`), changed, or deleted (no `item`)."""

    kind: Literal["ink", "card", "tool", "range"]
    id: Whole | None = None
    revision: Whole | None = None
    item: dict[str, Any] | None = None


class Changes(Strict):
    """Changes made together; undone together."""

    what: Annotated[str, Field(min_length=1, max_length=200)]
    changes: Annotated[list[Change], Field(min_length=1, max_length=MAX_ITEMS)]


class TestStep(BaseModel):
    """One step of the home test."""

    observation: HomeTestSign
    do: str
    ask: str
    yes: str
    no: str


class FormulaChance(BaseModel):
    """A formula and its chance, 0–1."""

    formula: Formula
    chance: float


class Implied(BaseModel):
    """A number of the craft table that a formula implies."""

    column: str
    value: float
    unit: str


class TestFinding(BaseModel):
    """What the home test says so far."""

    chances: list[FormulaChance]
    formula: Formula
    implied: list[Implied]


class GuideLine(BaseModel):
    """One aspect of a formula; `own` says the same with the owner's numbers, by range."""

    aspect: str
    text: str
    numbers: list[Implied]
    own: dict[str, str]


class GuideFormula(BaseModel):
    """A formula in the guide."""

    formula: Formula
    ranges: list[str]
    lines: list[GuideLine]


class ImportRow(BaseModel):
    """One item of a file, and what taking it in would do."""

    line: int | None
    """Line of the file, for tables."""
    kind: str
    name: str
    status: ImportStatus
    """`conflict`: it differs and was changed here later than in the file, or nobody can tell."""
    changes: list[str] = []
    """What would be overwritten, each as ``field: old → new``."""
    problem: str | None = None


class ImportOut(BaseModel):
    """What a file would change, or has changed."""

    rows: list[ImportRow]
    applied: bool
