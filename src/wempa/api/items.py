"""Stored items of any kind."""

from __future__ import annotations

from wempa.craft.limits import MAX_ITEMS
from wempa.store.workspace import Item, Kind, Workspace


def copy_of(workspace: Workspace, kind: Kind, item_id: int) -> tuple[Item, Item]:
    """A stored item, and the same to be stored once more under another name."""
    item = workspace.read(kind, item_id)
    name = free_name(workspace, kind, item["name"], first=2)
    return item, {**{key: value for key, value in item.items() if key not in ("id", "revision")}, "name": name}


def free_name(workspace: Workspace, kind: Kind, stem: str, first: int = 1) -> str:
    """A name that no other item of the kind has: the stem, or with the first number from `first` that is free."""
    taken = {each["name"] for each in workspace.read_all(kind)}
    if first == 1 and stem not in taken:
        return stem
    return next(each for n in range(2, MAX_ITEMS + 3) if (each := f"{stem[:180]} ({n})") not in taken)
