"""Stored things as typed items: read once, at the store's edge, with what the store itself keeps of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Generic, TypeVar, cast

from wempa.craft.errors import JobError
from wempa.formats.job import error_text
from wempa.formats.stored import StoredItem
from wempa.store import Item, Kind, Workspace

ItemT = TypeVar("ItemT", bound=StoredItem)


@dataclass(frozen=True, slots=True)
class Held(Generic[ItemT]):
    """One stored thing."""

    id: int
    revision: int
    uuid: str
    changed: str
    """When, UTC as ISO 8601."""
    item: ItemT

    @property
    def name(self) -> str:
        """What its owner calls it."""
        return self.item.name


@dataclass(frozen=True, slots=True)
class Unreadable:
    """A stored item that cannot be read. It can still be exported and deleted."""

    id: int
    revision: int
    name: str
    trouble: str
    """What is wrong with it, in one sentence."""


def kind_of(model: type[StoredItem]) -> Kind:
    """The kind under which the store keeps the items of a model."""
    return cast(Kind, model.kind)


def as_held(model: type[ItemT], row: Mapping[str, Any]) -> Held[ItemT]:
    """A row of the store as an item; raises `JobError` if it cannot be read."""
    return Held(row["id"], row["revision"], row["uuid"], row["changed"], model.read(row))


def read(workspace: Workspace, model: type[ItemT], number: int) -> Held[ItemT]:
    """One stored thing.

    Raises
    ------
    NotFound
        There is none of that number.
    JobError
        It cannot be read.
    """
    return as_held(model, workspace.read(kind_of(model), number))


def parted(model: type[ItemT], rows: list[Item]) -> tuple[list[Held[ItemT]], list[Unreadable]]:
    """Rows of the store as items, and apart from them those that cannot be read."""
    readable, unreadable = list[Held[ItemT]](), list[Unreadable]()
    for row in rows:
        try:
            readable.append(as_held(model, row))
        except JobError as error:
            unreadable.append(Unreadable(row["id"], row["revision"], row["name"], error_text(error)))
    return readable, unreadable


def read_all(workspace: Workspace, model: type[ItemT]) -> list[Held[ItemT]]:
    """Every stored thing of a model that can be read, in the order of making."""
    return parted(model, workspace.read_all(kind_of(model)))[0]


def write(
    workspace: Workspace, item: ItemT, *, over: int | None = None, revision: int | None = None, what: str
) -> Held[ItemT]:
    """Store something new, or in place of what has the number `over`; raises as `Workspace.write` does."""
    model = type(item)
    row = workspace.write(kind_of(model), item.stored(), item_id=over, revision=revision, what=what)
    return as_held(model, row)


def delete(workspace: Workspace, model: type[ItemT], number: int, revision: int | None, what: str = "Delete {}") -> str:
    """Delete an item, readable or not; undo brings it back. Returns its name, which replaces ``{}`` in `what`."""
    name = workspace.name_of(kind_of(model), number)
    workspace.write(kind_of(model), None, item_id=number, revision=revision, what=what.replace("{}", name))
    return name
