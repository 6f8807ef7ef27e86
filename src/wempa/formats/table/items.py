"""Planned evenings and runs of them as JSON, checked in one place."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from wempa.craft.errors import JobError
from wempa.craft.job import Note
from wempa.craft.limits import MAX_MARKS, MAX_PIECES, MAX_PLAN
from wempa.craft.table.evening import Bout, Evening, Habits, InkFacts, Named, Need, OwnTool
from wempa.craft.table.running import Mark, Took
from wempa.craft.vocabulary import Cleaning, Do, DryingSchool, HandSide, PieceKind, SharedBrush, Together
from wempa.formats.job import Number, Switch, Whole, first_problem
from wempa.formats.log.items import Name, NamedInk, Text
from wempa.formats.stored import StoredItem

Moment = Annotated[Number, Field(ge=0, le=1e11)]
"""Seconds since 1970, UTC."""


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class PieceRef(_Model):
    """A panel, an overlap or squares, and what it was like when it was planned."""

    kind: PieceKind
    uuids: Annotated[list[Text], Field(max_length=MAX_PIECES)]
    called: Text = ""
    changed: Annotated[list[Text], Field(max_length=MAX_PIECES)] = []
    """When each had last changed then."""


class StoredHabits(_Model):
    """How somebody works."""

    drying: DryingSchool = DryingSchool.AIR
    cleaning: Cleaning = Cleaning.ALWAYS
    brush: SharedBrush = SharedBrush.WIPED
    together: Together = Together.AT_ONCE
    hand: HandSide = HandSide.RIGHT


class PlannedInk(NamedInk):
    """An ink of an evening."""

    key: Text
    hex: Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class EveningItem(StoredItem):
    """A planned evening."""

    kind = "evening"
    name: Name
    pieces: Annotated[list[PieceRef], Field(min_length=1, max_length=MAX_PIECES)]
    habits: StoredHabits = StoredHabits()
    inks: Annotated[list[PlannedInk], Field(max_length=500)] = []
    order: Annotated[list[Whole], Field(max_length=5000)] = []
    naive_at_mat: Annotated[Whole, Field(ge=0)] = 0
    """Ticks."""
    naive_total: Annotated[Whole, Field(ge=0)] = 0
    gap: Annotated[Number, Field(ge=0, le=1)] = 0.0
    evening: Annotated[str, Field(max_length=MAX_PLAN)]
    """All its bouts, as JSON text, so that nothing in it is taken for an ink or card of a file."""

    def core(self) -> Evening:
        """The evening itself; raises `JobError` if it cannot be read."""
        try:
            return _Evening.model_validate_json(self.evening).core()
        except ValidationError as error:
            message, place = first_problem(error)
            raise JobError(message, ("evening", *place)) from error


class _Evening(BaseModel):
    """An evening as text."""

    pieces: tuple[Named, ...]
    bouts: tuple[Bout, ...]
    tools: tuple[OwnTool, ...]
    held: tuple[tuple[Need, Whole], ...]
    facts: dict[str, InkFacts]
    habits: StoredHabits
    paces: dict[Do, float]
    table: dict[str, float]
    holding: dict[Whole, str]
    notes: tuple[Note, ...]

    def core(self) -> Evening:
        """The evening itself."""
        return Evening(
            pieces=self.pieces,
            bouts=self.bouts,
            tools=self.tools,
            held=dict(self.held),
            facts=self.facts,
            habits=core_habits(self.habits, self.paces),
            table=self.table,
            holding=self.holding,
            notes=self.notes,
        )


def core_habits(habits: StoredHabits, paces: dict[Do, float]) -> Habits:
    """Habits with a person's own pace."""
    return Habits(habits.drying, habits.cleaning, habits.brush, habits.together, habits.hand, paces)


def evening_text(evening: Evening) -> str:
    """An evening as JSON text."""
    habits = evening.habits
    return _Evening(
        pieces=evening.pieces,
        bouts=evening.bouts,
        tools=evening.tools,
        held=tuple(evening.held.items()),
        facts=dict(evening.facts),
        habits=StoredHabits(
            drying=habits.drying,
            cleaning=habits.cleaning,
            brush=habits.brush,
            together=habits.together,
            hand=habits.hand,
        ),
        paces=dict(habits.paces),
        # What cleaning takes and when; all else is in the bouts.
        table={name: value for name, value in evening.table.items() if name.startswith("table.")},
        holding=dict(evening.holding),
        notes=evening.notes,
    ).model_dump_json(exclude_defaults=True)


class StoredMark(_Model):
    """Something that was done."""

    bout: Annotated[Whole, Field(ge=0, le=5000)]
    act: Annotated[Whole, Field(ge=-100, le=5000)]
    began: Annotated[Whole, Field(ge=0)]
    """Ticks from the beginning of the run."""
    ended: Annotated[Whole, Field(ge=0)]
    do: Do
    tool: Annotated[Whole, Field(ge=0)] | None = None
    key: Text = ""

    def core(self) -> Mark:
        """For the core."""
        return Mark(self.bout, self.act, self.began, self.ended, self.do, self.tool, self.key)

    @classmethod
    def of(cls, mark: Mark) -> StoredMark:
        """From the core."""
        return cls(
            bout=mark.bout, act=mark.act, began=mark.began, ended=mark.ended, do=mark.do, tool=mark.tool, key=mark.key
        )


class StoredTook(_Model):
    """How long steps of a kind took in a run."""

    steps: Annotated[Whole, Field(ge=0)]
    planned: Annotated[Number, Field(ge=0)]
    """Minutes."""
    took: Annotated[Number, Field(ge=0)]

    def core(self) -> Took:
        """For the core."""
        return Took(self.steps, self.planned, self.took)


class LoadedInk(NamedInk):
    """A pad, and how often ink was taken from it."""

    loads: Annotated[Whole, Field(ge=0)]


class LoadedTool(_Model):
    """A tool, and how often it took ink."""

    called: Text
    loads: Annotated[Whole, Field(ge=0)]


class RunItem(StoredItem):
    """An evening that is under way, or was."""

    kind = "run"
    name: Name
    evening: Text = ""
    """Identity of the planned evening; empty once it is over."""
    pieces: Annotated[list[PieceRef], Field(max_length=MAX_PIECES)] = []
    began: Moment
    ended: Moment | None = None
    planned: Annotated[Number, Field(ge=0)] = 0.0
    """Minutes that it was to take."""
    late: Annotated[Number, Field(ge=0)] = 0.0
    """Minutes by which it was late when its order was last thought over."""
    order: Annotated[list[Whole], Field(max_length=5000)] = []
    marks: Annotated[list[StoredMark], Field(max_length=MAX_MARKS)] = []
    at_mat: Annotated[Number, Field(ge=0)] = 0.0
    """Minutes with busy hands, of a run that is over."""
    took: dict[Do, StoredTook] = {}
    pads: Annotated[list[LoadedInk], Field(max_length=500)] = []
    tools: Annotated[list[LoadedTool], Field(max_length=500)] = []
    whole: Switch = True
    """Whether every step was done."""
