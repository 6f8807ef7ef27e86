"""Stored panels, overlaps and squares as pieces of an evening."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date

from wempa.api.log.book import swatch_job
from wempa.api.overlap.jobs import job_on_shelf
from wempa.api.panels.making import MadePanel
from wempa.api.shelf import Shelf
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.table.evening import OwnTool, PanelPiece, Piece, SquaresPiece
from wempa.craft.vocabulary import Load, PieceKind, Tool
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.stash.items import ToolItem
from wempa.store import NotFound


def pads_of(shelf: Shelf) -> dict[str, float]:
    """What a tool takes from each pad today against a normal load, where that is more or less."""
    table = shelf.table
    return {key: table[f"load.{load}"] for key, load in shelf.loads.items() if load is not Load.NORMAL}


def panel_piece(made: MadePanel, tried: bool = False) -> PanelPiece:
    """A panel as a piece; raises `JobError` where it cannot be planned."""
    if not made.plan.bands:
        raise JobError(f"{made.plan.name} has no bands: there is nothing to do at the table")
    named = [("bands", k) for k, band in enumerate(made.plan.bands) if band.tool is not None]
    named += [("tops", k) for k, top in enumerate(made.plan.tops) if top.tool is not None]
    return PanelPiece(
        name=made.plan.name,
        job=replace(made.job, stash=Stash()),
        panel=made.panel,
        study=made.study(),
        card=made.shelf.card_name(made.plan.card_id),
        size=made.plan.cut_size(),
        inch=made.plan.unit == "in",
        pads=pads_of(made.shelf),
        named=frozenset(named),
        tried=tried,
    )


def square_piece(
    name: str, squares: Sequence[tuple[str, Job]], card: str, shelf: Shelf, kind: PieceKind = PieceKind.OVERLAP
) -> SquaresPiece:
    """Squares of stacks on one card as a piece."""
    bare = [(called, replace(job, stash=Stash())) for called, job in squares]
    return SquaresPiece(name, tuple(bare), card, kind, pads_of(shelf))


def overlap_piece(overlap: OverlapItem, shelf: Shelf) -> SquaresPiece:
    """A stored overlap as a piece of one square; raises as `Jobs.of` does."""
    job = shelf.dressed(job_on_shelf(overlap.said(), overlap.card_id, overlap.settings, shelf))
    return square_piece(overlap.name, [(overlap.name, job)], shelf.card_name(overlap.card_id), shelf)


def own_tool(tool: ToolItem, today: date, table: Mapping[str, float]) -> OwnTool:
    """A tool of the stash, as it is today."""
    changed = tool.foam_changed
    fresh = changed is not None and 0 <= (today - changed).days <= table["foam.new_days"]
    return OwnTool(tool.name, tool.tool, tool.family, tool.kept_for, tool.worn, fresh and tool.tool is Tool.FOAM)


def inks_of(piece: PanelPiece | SquaresPiece) -> frozenset[str]:
    """Keys of all inks of a piece."""
    if isinstance(piece, PanelPiece):
        lays = [piece.panel.laid(k) for k in range(len(piece.panel.bands))]
    else:
        lays = [entry for _, job in piece.squares for entry in job.stack if isinstance(entry, LayDown)]
    return frozenset(key for lay in lays for key, _ in lay.parts)


def inks_of_swatch(item: SwatchItem) -> frozenset[str]:
    """Keys of the inks of a logged swatch that are still known by number."""
    parts = [ink for entry in item.stack for ink in entry.inks()]
    return frozenset(str(part.ink_id) for part in parts if part.ink_id is not None)


def square_job(item: SwatchItem, shelf: Shelf) -> Job:
    """The job of a square that waits in the book; raises `JobError` where an ink or its card is gone."""
    try:
        return swatch_job(item, shelf)
    except NotFound as error:
        raise JobError(f"{item.name}: {error.message}") from error


def tried_before(piece: Piece, tried: list[frozenset[str]]) -> Piece:
    """A panel that need not be tried small if a swatch has all of its inks."""
    if isinstance(piece, PanelPiece) and any(inks_of(piece) <= seen for seen in tried):
        return replace(piece, tried=True)
    return piece
