"""Changes of a stored overlap's stack as one makes them at the table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from wempa.api.shelf import Shelf
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.overlap import edits
from wempa.craft.overlap.edits import EditedStack, SaidEntry
from wempa.craft.treatments import Treatment
from wempa.craft.vocabulary import Load, Over, StackDo
from wempa.craft.ways import first_touch
from wempa.store import Item, NotFound

from .models import StackEdit

_HOW = ("tool", "load", "passes", "dose", "dilution")


def edited(edit: StackEdit, item: Item, shelf: Shelf) -> tuple[Item, int]:
    """A stored overlap after a change, and the entry to go on with.

    Raises
    ------
    JobError
        The change makes no sense there: one sentence.
    NotFound
        There is no such ink.
    """
    stack = [said_entry(entry) for entry in item["stack"]]
    if edit.do is StackDo.APPLY:
        if edit.apply is None:
            raise JobError("applying a proposal names it", ("apply",))
        after = [entry.model_dump(mode="json", exclude_none=True) for entry in edit.apply.stack]
        changed = {**item, "stack": after, "card_id": edit.apply.card_id}
        return {**changed, "laid": min(item["laid"], len(after))}, min(edit.at, len(after))
    made = _edited(edit, stack, item, shelf)
    laid = edits.still_laid(stack, made.stack, item["laid"])
    return {**item, "stack": [plain_entry(entry) for entry in made.stack], "laid": laid}, made.picked


def _edited(edit: StackEdit, stack: list[SaidEntry], item: Item, shelf: Shelf) -> EditedStack:
    if edit.do is StackDo.LAY:
        if edit.ink_id is None:
            raise JobError("laying an ink names it", ("ink_id",))
        if str(edit.ink_id) not in shelf.inks:
            raise NotFound(f"there is no ink {edit.ink_id}")
        return edits.lay(stack, edit.at, first_entry(edit.ink_id, shelf), edit.on_top)
    if edit.do is StackDo.CHANGE:
        if edit.entry is None or edit.at >= len(stack):
            raise JobError("changing an entry names one of the stack and what is changed", ("entry",))
        given = edit.entry.model_dump(mode="json", exclude_unset=True)
        kept = {key: value for key, value in {**item["stack"][edit.at], **given}.items() if value is not None}
        return edits.change(stack, edit.at, _dosed_or_by_tool(said_entry(kept), given, shelf))
    if edit.do is StackDo.TREAT:
        if edit.treatment is None:
            raise JobError("a treatment is named", ("treatment",))
        return edits.treat(stack, edit.at, edit.treatment)
    if edit.do is StackDo.AMOUNTS:
        return edits.set_amounts(stack, {each.entry: each.amount for each in edit.amounts}, edit.at)
    if edit.do is StackDo.MOVE:
        return edits.move(stack, edit.at, edit.to)
    simple = {
        StackDo.TAKE_OUT: edits.take_out,
        StackDo.MIX: edits.mix,
        StackDo.UNMIX: edits.unmix,
        StackDo.SWAP: edits.swap,
    }
    return simple[edit.do](stack, edit.at)


def _dosed_or_by_tool(entry: SaidEntry, given: Mapping[str, Any], shelf: Shelf) -> SaidEntry:
    """A dose stands instead of a tool; where one is taken back, the ink is put on by its usual tool."""
    if given.get("dose") is not None:
        return replace(entry, how=tuple([(key, value) for key, value in entry.how if key in ("dose", "dilution")]))
    if "dose" in given and entry.parts and not any(key == "tool" for key, _ in entry.how):
        return replace(entry, how=(*first_entry(entry.parts[0][0], shelf).how, *entry.how))
    return entry


def first_entry(number: int, shelf: Shelf) -> SaidEntry:
    """An ink as it is first put on; its pad says the load."""
    ink = shelf.inks[str(number)]
    touch = first_touch("", ink.formula, Load.NORMAL, constants.values())
    return SaidEntry(((number, 1.0),), how=(("tool", str(touch.tool)), ("passes", touch.passes)))


def said_entry(entry: dict[str, Any]) -> SaidEntry:
    """A stored entry in the core's terms."""
    mix = entry.get("mix")
    single = [(entry["ink_id"], 1.0)] if entry.get("ink_id") is not None else []
    return SaidEntry(
        parts=tuple([(part["ink_id"], part["share"]) for part in mix] if mix else single),
        premix=bool(mix),
        treatment=next((each for each in Treatment if each == entry.get("treatment")), None),
        over=None if entry.get("over") is None else Over(entry["over"]),
        how=tuple([(key, entry[key]) for key in _HOW if entry.get(key) is not None]),
    )


def plain_entry(entry: SaidEntry) -> dict[str, Any]:
    """An entry as it is stored."""
    if entry.treatment is not None:
        return {"treatment": str(entry.treatment)}
    how: dict[str, Any] = dict(entry.how)
    if entry.over is not None:
        how["over"] = str(entry.over)
    if entry.premix:
        return {"mix": [{"ink_id": ink, "share": share} for ink, share in entry.parts], **how}
    return {"ink_id": entry.parts[0][0], **how}
