"""A workspace file with panels and overlaps, planned: what `wempa plan` and its route give."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from wempa.api.kept import Kept
from wempa.api.panels.making import made_of
from wempa.api.panels.planned import shelf_of_file
from wempa.craft.codes import NoteCode
from wempa.craft.errors import JobError, WempaError
from wempa.craft.job import Note
from wempa.craft.table.evening import Habits, Piece
from wempa.craft.table.plan import SECONDS, TablePlan, plan_evening
from wempa.formats.kinds import read_stored
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem
from wempa.formats.stash.items import ToolItem
from wempa.formats.workspace import Document, read_workspace

from .making import inks_of_swatch, overlap_piece, own_tool, panel_piece, tried_before


def plan_file(data: bytes, seconds: float = SECONDS) -> TablePlan:
    """The panels and overlaps of a workspace file, planned with its tools; none listed means the usual ones.

    Raises
    ------
    JobError
        It is no such file, holds neither, or something in it cannot be made; one sentence and its place.
    """
    document = read_workspace(data)
    shelf = shelf_of_file(document)
    tried = _tried(document)
    pieces: list[Piece] = []
    notes: list[Note] = []
    for key in ("panels", "overlaps"):
        for n, filed in enumerate(document[key]):
            if filed.body is None:
                raise JobError(f"{filed.name} could not be read where it comes from", (key, n))
            try:
                read = read_stored(filed.kind, filed.stored(lambda _, place: place))
                if isinstance(read, PanelItem) and read.bands:
                    pieces.append(tried_before(panel_piece(made_of(read, shelf, Kept(1))), tried))
                elif isinstance(read, OverlapItem) and read.stack:
                    pieces.append(overlap_piece(read, shelf))
                else:
                    notes.append(Note(NoteCode.NOTHING_ON_IT, f"{filed.name} has no ink on it yet and is left out."))
            except WempaError as error:
                raise JobError(error.message, (key, n, *error.place)) from error
    if not pieces:
        raise JobError("this file holds no panel and no overlap with ink on it: there is nothing to plan")
    tools = [
        own_tool(each.item, date.today(), shelf.table) for each in document["tools"] if isinstance(each.item, ToolItem)
    ]
    plan = plan_evening(pieces, tools, Habits(), shelf.table, seconds)
    return replace(plan, evening=replace(plan.evening, notes=(*notes, *plan.evening.notes)))


def _tried(document: Document) -> list[frozenset[str]]:
    """The inks of each logged swatch, by their places in the file."""
    found = []
    for filed in document["swatches"]:
        if filed.body is None:
            continue
        found.append(inks_of_swatch(SwatchItem.read(filed.stored(lambda _, place: place))))
    return found
