"""Stored items of any kind."""

from __future__ import annotations

from wempa.craft.limits import MAX_ITEMS
from wempa.store.workspace import Item, Kind, Workspace


def copy_of(workspace: Workspace, kind: Kind, item_id: int) -> tuple[Item, Item]:
    """A stored item, and the same to be stored once more under another name."""
    item = workspace.read(kind, item_id)
    taken = {each["name"] for each in workspace.read_all(kind)}
    stem = item["name"][:180]
    name = next(each for n in range(2, MAX_ITEMS + 3) if (each := f"{stem} ({n})") not in taken)
    return item, {**{key: value for key, value in item.items() if key not in ("id", "revision")}, "name": name}
