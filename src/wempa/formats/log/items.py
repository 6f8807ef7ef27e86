"""Logged swatches and lessons as JSON, checked in one place."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from wempa.craft.constants import check_override
from wempa.craft.errors import ConstantError
from wempa.craft.job import Entry, Ink, SaidEntry, said_of
from wempa.craft.limits import (
    MAX_INKS,
    MAX_SIGHTINGS,
    MAX_STACK,
    MAX_TAGS,
)
from wempa.craft.vocabulary import Illuminant, Known, Look, OwnVerdict
from wempa.formats.job import EntryWords, Number, Switch, Whole
from wempa.formats.plain_names import PLAIN
from wempa.formats.stored import StoredItem

Text = Annotated[str, Field(max_length=200)]
Name = Annotated[str, Field(min_length=1, max_length=200), PLAIN]
Fields = Annotated[str, Field(max_length=20_000)]
"""JSON of fields: as text, so that nothing in it is taken for an ink or card of the file."""
_Tag = Annotated[str, Field(min_length=1, max_length=40)]


class _Model(BaseModel):
    # Built at once: the service takes swatches as they are.
    model_config = ConfigDict(extra="forbid")


class NamedInk(_Model):
    """An ink of the stash, and what it was called: it may be gone."""

    ink_id: Whole | None = None
    called: Text = ""


class MixedInk(NamedInk):
    """One ink of a premix."""

    share: Annotated[Number, Field(gt=0, le=1000)]


class SwatchEntry(EntryWords):
    """A lay-down or a treatment of a swatch; its ink may be gone, and is called something still."""

    model_config = ConfigDict(frozen=False, defer_build=False)

    ink_id: Whole | None = None
    called: Text = ""
    mix: Annotated[list[MixedInk], Field(min_length=1, max_length=MAX_INKS)] | None = None

    @model_validator(mode="after")
    def _whole(self) -> SwatchEntry:
        if self.treatment is None and self.dose is None and self.tool is None:
            raise ValueError("a layer says its tool or its dose")
        return self

    def inks(self) -> list[NamedInk]:
        """The inks in it."""
        if self.treatment is not None:
            return []
        return [*self.mix] if self.mix is not None else [NamedInk(ink_id=self.ink_id, called=self.called)]

    def said(self) -> SaidEntry:
        """In the core's terms, with inks by their numbers as text; none of them may be gone."""
        if self.mix is not None:
            return self.said_of([(str(part.ink_id), part.share) for part in self.mix], True)
        return self.said_of([] if self.ink_id is None else [(str(self.ink_id), 1.0)], False)

    @classmethod
    def of(cls, entry: Entry, names: Mapping[str, Ink]) -> SwatchEntry:
        """An entry of a job, of inks by their numbers as text, with what those are called."""
        said = said_of(entry)
        words = ("treatment", "tool", "load", "passes", "dose", "dilution", "over")
        inks = [{"ink_id": int(key), "called": names[key].name, "share": share} for key, share in said.parts]
        if not said.premix:
            inks = [{key: value for key, value in each.items() if key != "share"} for each in inks]
        named: dict[str, Any] = {"mix": inks} if said.premix else inks[0] if inks else {}
        return cls.model_validate({**{word: getattr(said, word) for word in words}, **named})


class Sighting(_Model):
    """What a swatch looked like once."""

    lab: Annotated[list[Number], Field(min_length=3, max_length=3)]
    """CIELAB, D65."""
    spread: Annotated[Number, Field(gt=0, le=50)] = 2.0
    """ΔE00 that the reading holds two times in three."""
    look: Look = Look.DRY
    drops: Switch = False
    """Whether it is where water was dropped."""
    done: Annotated[Whole, Field(ge=1, le=MAX_STACK)] | None = None
    """How many of the stack's entries were done by then; all of them if not given."""
    known: Known = Known.PHOTO
    light: Illuminant = Illuminant.D65
    """The light it was looked at or photographed under."""
    photo: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    """The picture of it that is kept."""
    off: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    """The photo that it was read off, with others."""
    at: date | None = None

    @model_validator(mode="after")
    def _possible(self) -> Sighting:
        if not 0 <= self.lab[0] <= 100 or max(map(abs, self.lab[1:])) > 160:
            raise ValueError("lab must have L* in 0–100 and a*, b* in -160–160")
        return self


class SwatchItem(StoredItem):
    """A swatch of the book."""

    kind = "swatch"
    name: Name
    card_id: Whole | None = None
    card_called: Text = ""
    stack: Annotated[list[SwatchEntry], Field(min_length=1, max_length=MAX_STACK)]
    laid_on: date | None = None
    sightings: Annotated[list[Sighting], Field(max_length=MAX_SIGHTINGS)] = []
    """None yet of a square that waits to be photographed."""
    verdict: OwnVerdict | None = None
    surprised: Switch = False
    favourite: Switch = False
    left_out: Switch = False
    """Whether nothing is to be learned from it."""
    like: Annotated[list[NamedInk], Field(max_length=MAX_INKS)] = []
    """Inks that it looks very like."""
    line_step: Annotated[Number, Field(ge=0, le=1000)] | None = None
    """Of a seam of a panel: how hard its steepest step was predicted to be, ΔE00 a millimetre."""
    line_seen: Switch | None = None
    """Whether a line was seen there."""
    tags: Annotated[list[_Tag], Field(max_length=MAX_TAGS)] = []
    notes: Annotated[str, Field(max_length=4000)] = ""

    @model_validator(mode="after")
    def _done(self) -> SwatchItem:
        if any((seen.done or 1) > len(self.stack) for seen in self.sightings):
            raise ValueError("a swatch was seen after more layers than it has")
        return self


class TaughtInk(_Model):
    """What was learned of an ink: fields of its job object."""

    ink_id: Whole | None = None
    called: Text = ""
    was: Text = ""
    """A mark of its own fields then: what was learned of other ones no longer holds."""
    fields: Fields = ""


class TaughtCard(_Model):
    """What was learned of a card: fields of its job object."""

    card_id: Whole | None = None
    called: Text = ""
    was: Text = ""
    fields: Fields = ""


class Lesson(StoredItem):
    """What was learned and adopted."""

    kind = "lesson"
    name: Name
    of: Literal["fit", "mud_line", "seam"] = "fit"
    at: Text = ""
    texts: Annotated[list[Annotated[str, Field(max_length=500)]], Field(max_length=500)] = []
    swatches: Annotated[Whole, Field(ge=0)] = 0
    before: Annotated[Number, Field(ge=0)] = 0.0
    """Mean ΔE00 of swatches that were left out, before and after."""
    after: Annotated[Number, Field(ge=0)] = 0.0
    rows: dict[str, Number] = {}
    """Rows of the craft table."""
    mud_line: Annotated[Number, Field(ge=0, le=100)] | None = None
    inks: Annotated[list[TaughtInk], Field(max_length=2000)] = []
    cards: Annotated[list[TaughtCard], Field(max_length=2000)] = []
    taken_back: Switch = False

    @model_validator(mode="after")
    def _known(self) -> Lesson:
        for row, value in self.rows.items():
            try:
                check_override(row, value)
            except ConstantError as error:
                raise ValueError(str(error)) from error
        return self


class PairAsked(_Model):
    """A pair of the practice rounds."""

    lower_id: Whole | None = None
    upper_id: Whole | None = None
    asked: Annotated[Whole, Field(ge=0)] = 0
    """In which round it was asked last."""
    rights: Annotated[Whole, Field(ge=-1, le=100)] = -1
    """How often in a row it was right since it was missed; -1 if it never was."""


class PracticeItem(StoredItem):
    """How the practice rounds went."""

    kind = "practice"
    name: Name
    played: Annotated[Whole, Field(ge=0)] = 0
    right: Annotated[Whole, Field(ge=0)] = 0
    mistakes: dict[Annotated[str, Field(max_length=40)], Annotated[Whole, Field(ge=0)]] = {}
    pairs: Annotated[list[PairAsked], Field(max_length=500)] = []
