"""Every kind of thing that is stored, by what the store calls it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .log.items import Lesson, PracticeItem, SwatchItem
from .overlap.items import OverlapItem
from .panels.plan import PanelItem
from .stash.items import CardItem, InkItem, PhoneItem, RangeItem, ToolItem
from .stored import StoredItem
from .table.items import EveningItem, RunItem

STORED: Mapping[str, type[StoredItem]] = {
    model.kind: model
    for model in (
        InkItem,
        CardItem,
        ToolItem,
        RangeItem,
        PhoneItem,
        OverlapItem,
        PanelItem,
        SwatchItem,
        Lesson,
        PracticeItem,
        EveningItem,
        RunItem,
    )
}
NAMED = frozenset(["swatch", "lesson", "practice", "evening", "run"])
"""Kinds that stand in a file as they are stored: a name and details."""


def read_stored(kind: str, row: Mapping[str, Any]) -> StoredItem:
    """A thing of any kind from what the store holds; raises `JobError` with a sentence and its place."""
    return STORED[kind].read(row)
