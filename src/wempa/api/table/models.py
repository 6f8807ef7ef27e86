"""What the table's routes take and give."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, model_validator

from wempa.api.models import Strict
from wempa.craft.limits import MAX_PIECES
from wempa.craft.vocabulary import Do, Fault, PieceKind, Towards
from wempa.formats.job import Switch, Whole
from wempa.formats.job_result import CodedText
from wempa.formats.table.items import Moment, StoredHabits


class PieceIn(Strict):
    """A panel, an overlap, or squares of the book that wait to be laid."""

    kind: PieceKind
    ids: Annotated[list[Whole], Field(min_length=1, max_length=MAX_PIECES)]

    @model_validator(mode="after")
    def _one(self) -> PieceIn:
        if self.kind is not PieceKind.SQUARES and len(self.ids) > 1:
            raise ValueError("a panel or an overlap is one piece: it has one number")
        return self


class EveningIn(Strict):
    """What is to be planned."""

    pieces: Annotated[list[PieceIn], Field(max_length=MAX_PIECES)]
    habits: StoredHabits = StoredHabits()


class InkChip(BaseModel):
    """An ink as it is shown beside a step."""

    name: str
    hex: str


class DryingOf(BaseModel):
    """Something that dries, by the bout that laid it and its place there."""

    bout: int
    drying: int


class TableStep(BaseModel):
    """One step; times in minutes."""

    n: int
    bout: int
    act: int
    piece: int
    of: str
    do: Do
    label: str
    text: str
    inks: list[InkChip]
    tools: list[str]
    start: float
    minutes: float
    hands: bool
    after: list[int]
    waits: list[DryingOf]
    """What has to be dry before it begins."""
    why: str
    caution: str
    laid: int
    parts: int


class TablePiece(BaseModel):
    """A piece of a planned evening."""

    kind: PieceKind
    name: str
    ids: list[int]
    """Of what is still there."""
    changed: str
    """What has become of it since it was planned; empty for nothing."""
    pictured: bool
    """Whether it can still be pictured."""


class EveningOut(BaseModel):
    """A planned evening."""

    id: int
    revision: int
    name: str
    pieces: list[TablePiece]
    habits: StoredHabits
    steps: list[TableStep]
    at_mat: float
    total: float
    naive_at_mat: float
    naive_total: float
    gap: float
    wipes: int
    """How often a tool is wiped or washed."""
    notes: list[CodedText]
    cautions: list[str]


class Choosable(BaseModel):
    """Something that can be brought to the table."""

    kind: PieceKind
    ids: list[int]
    name: str
    about: str
    shown: list[str]
    """Hex of its colours."""
    card: str
    trouble: str


class SchoolOut(BaseModel):
    """A school: what may be chosen, and why the default is what it is."""

    key: str
    label: str
    choices: list[CodedText]
    reason: str


class PaceOut(BaseModel):
    """How a kind of step goes with this person."""

    label: str
    factor: float


class RunNote(BaseModel):
    """A run that is over."""

    id: int
    name: str
    began: float
    """Seconds since 1970."""
    minutes: float
    at_mat: float
    planned: float
    inks: list[str]
    whole: bool


class TableOut(BaseModel):
    """All that stands at the table."""

    choices: list[Choosable]
    schools: list[SchoolOut]
    habits: StoredHabits
    evening: int | None
    """The evening that was planned last."""
    run: int | None
    """The run that is under way."""
    history: list[RunNote]
    paces: list[PaceOut]
    unreadable: list[str]


class DoneOut(BaseModel):
    """A step that is done."""

    of: str
    label: str
    text: str
    ended: float
    """Minutes from the beginning."""


class TimerOut(BaseModel):
    """Something that dries."""

    bout: int
    drying: int
    of: str
    text: str
    ends: float
    """Minutes from the beginning."""


class OpenOut(BaseModel):
    """What has to be open still for the step that is due."""

    name: str
    ends: float
    """Minutes from the beginning."""


class RunOut(BaseModel):
    """A run; times in minutes from its beginning."""

    id: int
    revision: int
    evening_id: int
    name: str
    pieces: list[TablePiece]
    began: float
    """Seconds since 1970."""
    ended: bool
    planned: float
    total: float
    done: list[DoneOut]
    due: list[TableStep]
    timers: list[TimerOut]
    open: OpenOut | None
    notes: list[str]
    cautions: list[str]


class NowIn(Strict):
    """When something happens, by the clock of whoever stands at the mat."""

    now: Moment


class StartIn(NowIn):
    """To begin a run."""

    anyway: Switch = False
    """Though a piece was changed since it was planned."""


class DoneIn(NowIn):
    """A step that is done."""

    bout: Whole
    act: Whole
    do: Do
    later: Switch = False
    """It was done while the service did not answer, and others after it: they went by the order as it was."""


class DryIn(NowIn):
    """Something that dried sooner than was supposed."""

    bout: Whole
    drying: Whole


class FaultIn(Strict):
    """What lies before somebody."""

    fault: Fault
    piece: PieceIn
    place: Annotated[Whole, Field(ge=0, le=100)] = 0
    """Which band of a panel, or which seam of it, or which square."""
    towards: Towards | None = None
    """Which way the colour should go, of one that is off."""
    minutes_ago: Annotated[float, Field(ge=0, le=100_000)] = 0
    """When it was laid."""


class RescueOut(BaseModel):
    """Something that may be done about it."""

    text: str
    before: str
    """Hex."""
    after: str
    helps: bool


class FaultOut(BaseModel):
    """What is to be said of it."""

    title: str
    settles: bool
    """Whether it will even out by itself."""
    when: float
    """Minutes until it shows as it will stay; 0 where it does already."""
    texts: list[str]
    rescues: list[RescueOut]
