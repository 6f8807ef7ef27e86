"""What all stored things have in common: each is read once, at the store's edge, into an item of its own kind."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, ClassVar, Self, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from wempa.craft.errors import JobError

from .job import first_problem


class StoredItem(BaseModel):
    """A stored thing. Unless a kind says otherwise it is a name and details."""

    model_config = ConfigDict(extra="forbid")
    kind: ClassVar[str]
    """What the store calls such things."""
    name: str

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        return {"name": self.name, "details": self.model_dump(mode="json", exclude_defaults=True, exclude={"name"})}

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds; raises `ValidationError` or `TypeError` where it is none."""
        return cls.model_validate({"name": row["name"], **row["details"]})

    @classmethod
    def read(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds.

        Raises
        ------
        JobError
            It cannot be read; one sentence and its place.
        """
        return read_by(cls.from_row, row, cls.kind)


Given = TypeVar("Given")
Read = TypeVar("Read")


def read_by(how: Callable[[Given], Read], given: Given, kind: str) -> Read:
    """What `how` makes of something given, with its complaint as one sentence and a place (`JobError`)."""
    try:
        return how(given)
    except ValidationError as error:
        message, place = first_problem(error)
        raise JobError(message, place) from error
    except TypeError as error:
        raise JobError(f"this is no {kind}") from error
