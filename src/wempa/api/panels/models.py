"""What the Panel routes take and give."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from wempa.api.models import Strict
from wempa.craft.codes import FixCode
from wempa.craft.limits import MAX_BANDS, MAX_PATH, MAX_SIDE_MM
from wempa.craft.vocabulary import Opening, PanelDo, VerdictKind
from wempa.formats.job import Number, Switch, Whole
from wempa.formats.job_result import CodedText
from wempa.formats.panels.plan import BandIn, PanelItem
from wempa.formats.plain_names import PLAIN


class PanelOut(PanelItem):
    """A stored panel."""

    id: int
    revision: int


class PanelOf(Strict):
    """A set of inks that becomes a panel."""

    name: Annotated[str, Field(min_length=1, max_length=200), PLAIN] = "New panel"
    card_id: Whole | None = None
    """Not said: the card of the panel before."""
    bands: Annotated[list[BandIn], Field(min_length=1, max_length=MAX_BANDS)]


class PanelDesk(BaseModel):
    """A panel, and what can be undone."""

    panel: PanelOut
    can_undo: bool
    can_redo: bool


class PanelSummary(BaseModel):
    """A stored panel in the list of them."""

    id: int
    revision: int
    name: str
    size: str
    card: str
    """Hex of the card."""
    shown: list[str]
    """Hex of bands and in-betweens as they follow one another; empty where it cannot be predicted any more."""
    trouble: str


class BandSeenOut(BaseModel):
    """One band as it will show."""

    name: str
    begin: float
    """Where it begins to show by itself, mm along the line across the bands."""
    end: float
    laid_from: float
    """From where to where its ink goes, with what lies under or over others."""
    laid_to: float
    hex: str
    words: str
    widened: bool
    twin: int | None
    flags: list[CodedText]
    amounts: list[list[float]]
    """Places along the line, mm, and the passes there, as the ink deepens and fades."""
    tool: str
    """How it is laid where the plan leaves that open."""
    load: str
    passes: float


class SeamSeenOut(BaseModel):
    """One seam as it will show."""

    pair: list[int]
    """The two bands, by place."""
    begin: float
    end: float
    overlap: float
    feather: float
    hex: str
    words: str
    along: list[str]
    kind: VerdictKind
    mud: float
    muddy_mm: float
    hardest: float
    """ΔE00 per mm."""
    softness: str
    """The same in words."""
    flags: list[CodedText]
    chosen: CodedText | None
    """Why it is short or bare where nobody said its width."""
    soft: float
    """How softly the two blend at present, 0 (stripes) to 1."""
    at_once: bool
    """Whether the two are worked to and fro while both are open."""


class StepOut(BaseModel):
    """One band being laid."""

    band: int
    waits: float
    loads: int
    minutes: float
    passes: float
    why: str


class SoftnessOut(BaseModel):
    """What a way of blending costs."""

    soft: float
    words: str
    minutes: float
    passes: float
    """The most that any of its inks takes."""


class WidestOut(BaseModel):
    """The largest step of colour over the panel."""

    delta_e: float
    between: str


class PieceOut(BaseModel):
    """One panel on the sheet, mm."""

    left: float
    top: float
    width: float
    height: float


class StudyOut(BaseModel):
    """All that is told of a panel. It stands before the panel's picture, rows of red, green and blue."""

    rows: int
    columns: int
    inked: list[float]
    """Width and height of the inked area, mm."""
    length: float
    """Of the line across the bands, mm."""
    card: str
    mat: str | None
    bands: list[BandSeenOut]
    seams: list[SeamSeenOut]
    order: list[int]
    reason: str
    steps: list[StepOut]
    minutes: float
    ways: list[SoftnessOut]
    """From stripes to soft."""
    notes: list[CodedText]
    colours: int
    inks: int
    evenness: float | None
    evenness_words: str
    widest: WidestOut | None
    panels: int
    """How many of it come out of the sheet."""
    pieces: list[PieceOut]
    """Where the panels lie on the sheet; the first of them where there are very many."""
    waste: float
    """Share of the sheet, 0–1."""
    mud_line: float
    """From which mud on a seam is called muddy."""


class SeamFixOut(BaseModel):
    """A change that helps a seam, and the panel after it."""

    code: FixCode
    text: str
    seam: str
    """What the seam comes to, in words."""
    shown: list[str]
    """Hex along the panel after it."""
    change: PanelItem


class WindowIn(Strict):
    """What a panel is cut to: a shape about a point, mm from the top left of the inked area."""

    kind: Opening
    x: Number
    y: Number
    width: Annotated[Number, Field(le=MAX_SIDE_MM)]
    height: Annotated[Number, Field(le=MAX_SIDE_MM)]
    path: Annotated[str, Field(max_length=MAX_PATH)] = ""


class ThroughIn(Strict):
    """A panel and a window over it."""

    panel: PanelItem
    window: WindowIn


class LeftOut(BaseModel):
    """One band or seam seen through a window."""

    name: str
    hex: str
    share: float
    """Of the window, 0–1."""


class ThroughOut(BaseModel):
    """What a window leaves."""

    outline: list[list[list[float]]]
    """Corners, mm from the top left of the inked area."""
    left: list[LeftOut]
    lost: list[str]
    top_ups: list[str]
    """Ways to bring back each lost colour on the cut piece."""
    to_match: list[str]
    """How to ink plain card like the middle of the window."""
    colours: int


class BesidePanel(BaseModel):
    """One panel beside another."""

    text: list[str]


class PanelEdit(Strict):
    """A change of a panel as one makes it at the table."""

    do: PanelDo
    panel: PanelItem | None = None
    """The panel that is changed; the stored one if not given. For `set`, the panel as it becomes."""
    at: Annotated[Whole, Field(ge=0, le=MAX_BANDS)] = 0
    """Place of the band, or of the seam of a boundary."""
    to: Number | None = None
    """For a boundary: where along the line its middle is moved to, mm."""
    by: Number | None = None
    """For a boundary: how far it is moved, mm. For a band: by how many places."""
    ink_id: Whole | None = None
    """The ink that is laid."""
    more: Switch = False
    """Whether the ink becomes one more band, and does not replace one."""
    what: Annotated[str, Field(max_length=200)] = ""
    """The name of the step for undo."""


class HeldPanel(PanelEdit):
    """A change of a panel that is being dragged."""

    panel: PanelItem


class PaintedPanel(BaseModel):
    """A panel after a change, and what it shows; before its picture, rows of red, green and blue."""

    panel: PanelItem
    desk: PanelDesk | None
    """As it is stored now; null where it is only held."""
    picked: int | None
    """The band to go on with."""
    done: bool
    """Whether there was anything to change."""
    study: StudyOut
