"""What the routes of the log take and give."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from wempa.api.models import Strict
from wempa.craft.limits import MAX_STACK
from wempa.craft.vocabulary import Illuminant, Known, Load, Look, Page, Tool, VerdictKind
from wempa.formats.job import Colour, Number, Switch, Whole
from wempa.formats.job_result import CodedText
from wempa.formats.log.items import Lesson, SwatchItem

MOST_AT_ONCE = 60


class SightingOut(BaseModel):
    """One look at a swatch, real and predicted side by side."""

    said: str
    """Which look: while wet, dry, after the glaze, a drop of water."""
    hex: str
    words: str
    lab: list[float]
    spread: float
    photo: str
    predicted: str | None
    """Hex of the predicted colour; null where an ink is gone and nothing can be predicted."""
    predicted_words: str
    predicted_lab: list[float]
    differs: str
    """The real colour compared with the prediction: ``as guessed``; ``darker and greyer than guessed``."""
    delta_e: float | None
    margin: float | None
    """Where one swatch is asked for by itself."""


class SwatchOut(BaseModel):
    """A swatch of the book."""

    id: int
    revision: int
    item: SwatchItem
    lines: list[str]
    """How it was laid, an entry a line."""
    card: str
    """Hex of its card."""
    card_name: str
    ink_hexes: list[str]
    sightings: list[SightingOut]
    kind: VerdictKind | None
    trouble: str
    """Why it cannot be predicted, or cannot be read at all."""


class InkNote(BaseModel):
    """Something about an ink."""

    ink_id: int
    name: str
    text: str


class LineOffer(BaseModel):
    """A line of one's own that one's verdicts suggest."""

    of: Literal["mud_line", "seam"]
    text: str
    at: float
    now: float


class LessonOut(BaseModel):
    """What was learned and adopted."""

    id: int
    revision: int
    item: Lesson
    standing: bool
    """Whether it is in force."""
    gain: str


class OffOut(BaseModel):
    """A swatch that does not fit, and why."""

    swatch_id: int
    name: str
    text: str


class BookOut(BaseModel):
    """The book."""

    swatches: list[SwatchOut]
    count: int
    """How many there are in all."""
    waiting: int
    """Squares that wait to be photographed, in all."""
    tags: list[str]
    drifts: list[InkNote]
    offers: list[LineOffer]
    lessons: list[LessonOut]
    stands_in: list[InkNote]
    """Inks that swatches look very like: what can stand in for them."""
    unreadable: list[OffOut]
    """Swatches that are stored and cannot be read, and why."""
    can_undo: bool
    can_redo: bool


class NewSwatches(Strict):
    """Swatches to put into the book."""

    swatches: Annotated[list[SwatchItem], Field(min_length=1, max_length=MOST_AT_ONCE)]


class DiscardIn(Strict):
    """Swatches to be taken out of the book."""

    swatches: Annotated[list[Whole], Field(min_length=1, max_length=MOST_AT_ONCE)]


class StripIn(Strict):
    """The hand in one strip: one ink at 1, 2, 4 and 8 passes, or one print, one dip, drops of water."""

    ink_id: Whole
    tool: Tool = Tool.BRUSH
    load: Load | None = None
    water: Switch = False


class DraftEntry(Strict):
    """A layer of a swatch that is laid by hand; what is not said is as the ink is first put on."""

    ink_id: Whole
    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=200)] | None = None
    over: Literal["dry", "wet"] | None = None


class DraftsIn(Strict):
    """What swatches are wanted of: exactly one of these."""

    overlap_id: Whole | None = None
    panel_id: Whole | None = None
    strip: StripIn | None = None
    stack: Annotated[list[DraftEntry], Field(min_length=1, max_length=MAX_STACK)] | None = None
    card_id: Whole | None = None
    name: Annotated[str, Field(max_length=200)] = ""


class SeenArea(Strict):
    """A swatch seen on a photo."""

    swatch_id: Whole
    lab: Annotated[list[Number], Field(min_length=3, max_length=3)]
    spread: Annotated[Number, Field(gt=0, le=50)]
    box: Annotated[list[Number], Field(min_length=4, max_length=4)] | None = None
    """Where on the photo, in pixels: left, top, right, bottom."""
    look: Look = Look.DRY
    drops: Switch = False
    done: Annotated[Whole, Field(ge=1, le=MAX_STACK)] | None = None


class SeenIn(Strict):
    """Swatches read off one photo."""

    photo: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    light: Illuminant = Illuminant.D65
    areas: Annotated[list[SeenArea], Field(min_length=1, max_length=MOST_AT_ONCE)]


class LearnedOut(BaseModel):
    """What the log teaches."""

    better: bool
    """Whether swatches that were held out are predicted better, so that it is worth adopting."""
    swatches: int
    texts: list[str]
    gain: str
    before: float
    after: float
    """Mean ΔE00 of swatches that were held out."""
    fit_before: float
    fit_after: float
    off: list[OffOut]
    notes: list[CodedText]
    left_out: list[OffOut]
    """What was not learned from, and why."""


class LearnLine(BaseModel):
    """How far learning is; the last line has what was learned."""

    state: Literal["working", "done", "refused"]
    done: float = 0.0
    result: LearnedOut | None = None
    error: str = ""


class LookIn(Strict):
    """A look at a swatch whose colour was typed, judged or measured, and not read off a photo."""

    colour: Colour
    known: Known = Known.TYPED
    look: Look = Look.DRY
    drops: Switch = False
    done: Annotated[Whole, Field(ge=1, le=MAX_STACK)] | None = None


class NextOut(BaseModel):
    """Squares to lay next."""

    swatches: list[SwatchItem]
    texts: list[str]
    """What each would teach."""
    page: Page


class ChoiceOut(BaseModel):
    """A colour to choose."""

    hex: str
    words: str


class GuessOut(BaseModel):
    """A question of the practice round."""

    token: int
    lines: list[str]
    inks: list[ChoiceOut]
    names: list[str]
    card: str
    card_name: str
    choices: list[ChoiceOut]
    again: bool
    """Whether it comes back because it was missed."""
    played: int
    right: int


class GuessIn(Strict):
    """What somebody says; the number of choices for mud."""

    token: Annotated[Whole, Field(ge=0, lt=2**53)]
    choice: Annotated[Whole, Field(ge=0, le=10)]


class GuessedOut(BaseModel):
    """How the guess went."""

    right: bool
    said: str
    """In which way the guess missed."""
    answer: int
    hex: str
    words: str
    kind: VerdictKind
    reasons: list[CodedText]
    real: SwatchOut | None
    """The swatch of it in the book, if it was ever laid."""
    played: int
    rights: int
    mistakes: list[CodedText]
    """How often each kind of mistake was made."""
