"""Changes of a stored overlap's stack as one makes them at the table."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from wempa.api.shelf import Shelf
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import SaidEntry, said_of
from wempa.craft.overlap import edits
from wempa.craft.overlap.edits import EditedStack
from wempa.craft.vocabulary import Load, StackDo
from wempa.craft.ways import first_touch
from wempa.formats.overlap.items import EntryChange, OverlapItem, StackEntry
from wempa.store import NotFound

from .models import StackEdit


def edited(edit: StackEdit, overlap: OverlapItem, shelf: Shelf) -> tuple[OverlapItem, int]:
    """A stored overlap after a change, and the entry to go on with.

    Raises
    ------
    JobError
        The change makes no sense there: one sentence.
    NotFound
        There is no such ink.
    """
    before = overlap.said()
    if edit.do is StackDo.APPLY:
        if edit.apply is None:
            raise JobError("applying a proposal names it", ("apply",))
        after, card_id = list(edit.apply.stack), edit.apply.card_id
        new = edits.newly_laid(before, [entry.said() for entry in after])
        laid, picked = overlap.laid, min(edit.at, len(after)) if new is None else new
    else:
        made = _edited(edit, before, overlap, shelf)
        after, card_id = [StackEntry.of(entry) for entry in made.stack], overlap.card_id
        laid, picked = edits.still_laid(before, made.stack, overlap.laid), made.picked
    changed = {"stack": after, "card_id": card_id, "laid": min(laid, len(after))}
    return overlap.model_copy(update=changed), picked


def _edited(edit: StackEdit, stack: list[SaidEntry], overlap: OverlapItem, shelf: Shelf) -> EditedStack:
    if edit.do is StackDo.LAY:
        if edit.ink_id is None:
            raise JobError("laying an ink names it", ("ink_id",))
        if str(edit.ink_id) not in shelf.inks:
            raise NotFound(f"there is no ink {edit.ink_id}")
        return edits.lay(stack, edit.at, first_entry(str(edit.ink_id), shelf, overlap.settings.constants), edit.on_top)
    if edit.do is StackDo.CHANGE:
        if edit.entry is None or edit.at >= len(stack):
            raise JobError("changing an entry names one of the stack and what is changed", ("entry",))
        entry, dosed = _changed(stack[edit.at], edit.entry), "dose" in edit.entry.model_fields_set
        if dosed and entry.parts:
            usual = first_entry(entry.parts[0][0], shelf, overlap.settings.constants)
            entry = edits.dosed_or_by_tool(entry, usual)
        return edits.change(stack, edit.at, entry)
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


def _changed(entry: SaidEntry, change: EntryChange) -> SaidEntry:
    """An entry with the fields that a change names; what the change sets to null is left open again."""
    given, said = change.model_fields_set, change.said()
    fields: dict[str, Any] = {name: getattr(said, name) for name in given - {"ink_id", "mix"}}
    if {"ink_id", "mix"} & given:
        fields |= {"parts": said.parts, "premix": said.premix}
    return replace(entry, **fields)


def first_entry(key: str, shelf: Shelf, own: dict[str, float]) -> SaidEntry:
    """An ink as one first puts it on; the load follows from its pad. `own` overrides rows of the craft table."""
    table = constants.values(shelf.constants(own))
    touch = first_touch(key, shelf.inks[key].formula, Load.NORMAL, table)
    return replace(said_of(touch), load=None)
