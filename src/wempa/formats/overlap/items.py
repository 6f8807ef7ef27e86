"""Overlaps as they are stored, handed over and shown: inks and cards by number."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from wempa.craft.errors import JobError
from wempa.craft.job import SaidEntry
from wempa.craft.limits import MAX_INKS, MAX_STACK
from wempa.craft.vocabulary import Illuminant
from wempa.formats.job import EntryWords, Number, Whole, first_problem
from wempa.formats.plain_names import PLAIN
from wempa.formats.stored import StoredItem


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class StackPart(_Model):
    """One ink of a premix."""

    ink_id: Whole
    share: Annotated[Number, Field(gt=0, le=1000)]


class EntryChange(EntryWords):
    """What is changed of an entry: fields that are not given stay as they are, null leaves open."""

    ink_id: Whole | None = None
    mix: Annotated[list[StackPart], Field(min_length=1, max_length=MAX_INKS)] | None = None

    def said(self) -> SaidEntry:
        """In the core's terms, with inks by their numbers as text."""
        if self.mix is not None:
            return self.said_of([(str(part.ink_id), part.share) for part in self.mix], True)
        return self.said_of([] if self.ink_id is None else [(str(self.ink_id), 1.0)], False)


class StackEntry(EntryChange):
    """A lay-down of a stash ink, or of a premix, or a treatment."""

    @model_validator(mode="after")
    def _whole(self) -> StackEntry:
        self.check_whole(self.ink_id is not None, self.mix is not None)
        return self

    @classmethod
    def of(cls, entry: SaidEntry) -> StackEntry:
        """From the core's terms; raises `JobError` where that makes none."""
        words = ("treatment", "tool", "load", "passes", "dose", "dilution", "over")
        said: dict[str, Any] = {word: getattr(entry, word) for word in words}
        if entry.premix:
            said["mix"] = [{"ink_id": int(key), "share": share} for key, share in entry.parts]
        elif entry.parts:
            said["ink_id"] = int(entry.parts[0][0])
        try:
            return cls.model_validate(said)
        except ValidationError as error:
            message, place = first_problem(error)
            raise JobError(message, place) from error

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        return self.model_dump(mode="json", exclude_none=True)


class OverlapSettings(_Model):
    """What a job has beside its card, inks and stack."""

    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] | None = None
    """None: its owner's."""
    constants: dict[str, Number] = {}

    def stored(self) -> dict[str, Any]:
        """As the store lays it out: what is said."""
        return self.model_dump(mode="json", exclude_none=True)


class OverlapItem(StoredItem):
    """An overlap in terms of the stash."""

    model_config = ConfigDict(allow_inf_nan=False)
    kind = "overlap"
    name: Annotated[str, Field(min_length=1, max_length=200), PLAIN]
    card_id: Whole | None
    settings: OverlapSettings = OverlapSettings()
    stack: Annotated[list[StackEntry], Field(max_length=MAX_STACK)]
    laid: Annotated[Whole, Field(ge=0, le=MAX_STACK)] = 0
    """How many entries, from the bottom, are on the card already."""
    colour_name: Annotated[str, Field(max_length=200)] = ""
    """What its maker calls the colour."""

    def said(self) -> list[SaidEntry]:
        """Its stack in the core's terms."""
        return [entry.said() for entry in self.stack]

    def lies_there(self) -> list[StackEntry]:
        """What is on the card, or all of it where nothing is said."""
        return self.stack[: self.laid or None]

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        return {
            **self.model_dump(mode="json", exclude={"settings", "stack"}),
            "settings": self.settings.stored(),
            "stack": [entry.stored() for entry in self.stack],
            "laid": min(self.laid, len(self.stack)),
        }

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds."""
        return cls.model_validate({key: row[key] for key in cls.model_fields if key in row})
