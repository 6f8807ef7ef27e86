"""Stored items of any kind."""

from __future__ import annotations

from typing import Any, cast

from wempa.api import held
from wempa.api.held import Held, ItemT
from wempa.api.services import Services
from wempa.craft.limits import MAX_ITEMS
from wempa.formats.places import to_places
from wempa.formats.workspace import LISTS, write_workspace
from wempa.store import Item, Kind, Workspace


def store_copy(workspace: Workspace, model: type[ItemT], item_id: int) -> Held[ItemT]:
    """Store a copy of an item under another name."""
    item = held.read(workspace, model, item_id).item
    name = free_name(workspace, held.kind_of(model), item.name, first=2)
    return held.write(workspace, item.model_copy(update={"name": name}), what=f"Copy {item.name}")


def free_name(workspace: Workspace, kind: Kind, stem: str, first: int = 1) -> str:
    """A name that no other item of the kind has: the stem, or the stem with the first free number from `first` on."""
    taken = {each["name"] for each in workspace.read_all(kind)}
    if first == 1 and stem not in taken:
        return stem
    return next(each for n in range(2, MAX_ITEMS + 3) if (each := f"{stem[:180]} ({n})") not in taken)


def first_readable(services: Services, model: type[ItemT], prefer: int) -> Held[ItemT] | None:
    """The item of that number if it is there and can be read, else the oldest one that can be read; None if
    there is none.
    """
    kind = held.kind_of(model)
    asked = services.workspace.first(kind, prefer)
    if asked is None or not services.checks.trouble(kind, asked):
        return None if asked is None else held.as_held(model, asked)
    unreadable = services.checks.unreadable()
    row = next((each for each in services.workspace.read_all(kind) if not unreadable(kind, each)), None)
    return None if row is None else held.as_held(model, row)


def with_what_it_needs(services: Services, kind: Kind, item_id: int) -> str:
    """An item with the inks, ranges and cards that it names, as a workspace file that any workspace takes in."""
    item = services.workspace.read(kind, item_id)
    used: dict[str, set[Any]] = {"ink": set(), "card": set()}

    def noted(of: str, number: Any) -> Any:
        used[of].add(number)
        return number

    to_places({key: value for key, value in item.items() if key != "id"}, noted)
    stored: dict[str, list[Item]] = {each: [] for each in LISTS.values()}
    for each, numbers in used.items():
        stored[each] = [one for one in services.workspace.read_all(cast(Kind, each)) if one["id"] in numbers]
    stored[kind] = [item]
    if kind != "range":
        ranges = {ink["range"] for ink in stored["ink"]}
        stored["range"] = [each for each in services.workspace.read_all("range") if each["name"] in ranges]
    return write_workspace(stored, services.checks.unreadable())
