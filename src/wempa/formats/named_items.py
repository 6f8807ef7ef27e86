"""Items that are a name and details: the swatch book's, and the table's."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from wempa.craft.errors import JobError
from wempa.formats.job import first_problem

from .log.items import LOGGED, Logged
from .table.items import EveningItem, RunItem

NamedItem = Logged | EveningItem | RunItem
NAMED: dict[str, type[NamedItem]] = {**LOGGED, "evening": EveningItem, "run": RunItem}


def read_named(kind: str, item: Mapping[str, Any]) -> NamedItem:
    """An item of a name and details from what the store holds.

    Raises
    ------
    JobError
        It cannot be read; one sentence and its place.
    """
    try:
        return NAMED[kind].model_validate({"name": item["name"], **item["details"]})
    except ValidationError as error:
        message, place = first_problem(error)
        raise JobError(message, place) from error
    except TypeError as error:
        raise JobError(f"this is no {kind}") from error
