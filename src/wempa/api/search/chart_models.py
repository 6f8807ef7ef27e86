"""What the Chart routes take and give."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from wempa.api.models import LookOut, Strict
from wempa.craft.limits import MAX_CHART, MAX_IMPORT, MAX_INKS, MAX_PASSES
from wempa.craft.vocabulary import Blend, ChartOrder, Formula, Illuminant, Load, Over, Page, Tool, VerdictKind
from wempa.formats.job import Number, Whole
from wempa.formats.overlap.items import StackEntry


class ChartIn(Strict):
    """Which inks, on what card, and how each is laid down."""

    card_id: Whole | None = None
    inks: Annotated[list[Whole], Field(max_length=MAX_CHART)] | None = None
    """None for all owned inks."""
    tool: Tool | None = None
    """None for each ink's own usual tool, with the usual passes."""
    load: Load = Load.NORMAL
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] = 6
    over: Over = Over.DRY
    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] | None = None
    """None for the owner's line."""


class ChartQuery(Strict):
    """A chart to be handed over, in an address."""

    card_id: int | None = None
    inks: Annotated[list[int], Field(max_length=MAX_CHART)] | None = None
    tool: Tool | None = None
    load: Load = Load.NORMAL
    passes: Annotated[float, Field(gt=0, le=MAX_PASSES)] = 6
    over: Over = Over.DRY
    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[float, Field(ge=0, le=100)] | None = None
    blank: bool = False
    page: Page = Page.A4
    hero: int | None = None

    def chart(self) -> ChartIn:
        """The chart that the address means."""
        return ChartIn.model_validate(self.model_dump(include=set(ChartIn.model_fields)))


class NextIn(Strict):
    """The inks that one thinks of buying, and the card to look at them on."""

    card_id: Whole | None = None
    table: Annotated[str, Field(max_length=MAX_IMPORT)] | None = None
    """A table of inks (CSV) as it was read in; None for the inks of the stash that are wanted."""


class NewColour(BaseModel):
    """A colour, and how it is made."""

    hex: str
    words: str
    text: str


class ThoughtOut(BaseModel):
    """An ink that one thinks of buying, and what it would bring."""

    ink_id: int | None
    name: str
    range: str
    formula: Formula
    hex: str
    words: str
    gain: int
    """New clean colours that an eye tells apart."""
    new: list[NewColour]
    """Of the new colours those that differ most."""
    like: NewColour | None
    """The colour of one's own that comes nearest to it."""
    apart: float | None
    """ΔE00 to that colour."""
    made: bool
    """Whether that colour may stand in for it."""


class NextInkList(BaseModel):
    """Inks that one thinks of buying, the one that adds most first."""

    card: str
    owned: int
    inks: list[ThoughtOut]


class AloneOut(BaseModel):
    """An ink by itself on the card of a chart, and on white card."""

    ink_id: int
    hex: str
    white: str
    """Its hex on white card of the same surface."""
    kind: VerdictKind
    mud: float
    words: str
    """What it is called on this card."""


class AloneList(BaseModel):
    """Every ink of a chart by itself, the one that the card does most to first."""

    coloured: bool
    """Whether the card counts as coloured; on white card every ink is as on white."""
    mud_line: float
    """From which mud on an ink is called muddy."""
    spoilt: int
    """How many are muddy, muted or lost."""
    card: str
    white: str
    inks: list[AloneOut]


class ChartHead(BaseModel):
    """What stands before the cells: bytes of red, green, blue of every cell, of its verdict, of its mud."""

    inks: list[int]
    """Numbers of the inks; cell (i, j) is ink j over ink i, row by row."""
    alone: list[str]
    """Hex of each by itself."""
    hue: list[float]
    """Painter's degrees of each by itself."""
    chroma: list[float]
    light: list[float]
    card: str
    kinds: list[VerdictKind]
    """What a byte of the verdict means."""
    mud_line: float
    """From which mud on a cell was called muddy."""


class StudyHead(BaseModel):
    """What is told of a chart's mixes; before the cells' newness, in ΔE00/4, and the cell that stands for each."""

    different: list[int]
    """Clean mixes, by place, in the order of how much they differ: the first n are the n most different."""
    ranked: list[int]
    """How many distinct clean colours each ink makes with the rest, in the chart's order."""
    same: float
    """Within so many ΔE00 a mix is no other colour than an owned ink."""
    groups: int
    """How many groups of mixes that look alike there are."""


class CompanyIn(ChartIn):
    """What a set of inks is wanted for, and an ink that it must contain."""

    blend: Blend
    hero: Whole | None = None


class CellIn(ChartIn):
    """One cell of a chart, by the numbers of its inks."""

    below: Whole
    above: Whole


class CellOut(BaseModel):
    """One ink over another in full, and how to lay it."""

    look: LookOut
    stack: list[StackEntry]
    new: float | None
    """ΔE00 to the nearest owned ink by itself; null where none is owned."""


class CompanyOut(BaseModel):
    """A set of inks in the order of its bands."""

    inks: list[int]
    below: list[int]
    """Of each seam the ink laid first."""
    order: list[int]
    """The inks as they are laid."""
    shown: list[str]
    """Hex of bands and in-betweens as they follow one another."""
    words: list[str]
    colours: int
    sectors: int


class CompanyList(BaseModel):
    """Sets of inks, best first, and the fewest inks that make a whole rainbow."""

    sets: list[CompanyOut]
    rainbow: CompanyOut | None


class OrderIn(ChartIn):
    """In which order a chart's inks are to stand, and the ink that is looked at, if one is."""

    order: ChartOrder = ChartOrder.HUE
    hero: Whole | None = None


class LaySetIn(ChartIn):
    """Inks of a chart to be laid over one another as it lays them, as an overlap of their own."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    set: Annotated[list[Whole], Field(min_length=1, max_length=MAX_INKS)]
