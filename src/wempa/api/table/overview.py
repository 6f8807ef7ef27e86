"""What stands at the table: what can be brought to it, the schools, what was planned and done."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from wempa.api import held
from wempa.api.held import Held, Unreadable
from wempa.api.panels.summaries import summaries
from wempa.api.shelf import Shelf
from wempa.craft.errors import WempaError
from wempa.craft.limits import MAX_CHOICES, WHITE_CARD
from wempa.craft.prediction.predict import predict
from wempa.craft.table.evening import SCHOOL_REASONS
from wempa.craft.vocabulary import Cleaning, DryingSchool, HandSide, PieceKind, SharedBrush, Together
from wempa.craft.words import Word
from wempa.formats.job import error_text
from wempa.formats.job_result import CodedText
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem
from wempa.formats.table.items import EveningItem

from .looks import card_hex
from .making import overlap_piece
from .models import Choosable, PaceOut, RunNote, SchoolOut, TableOut

if TYPE_CHECKING:
    from wempa.api.services import Services

_SCHOOLS: tuple[tuple[str, str, type[Word]], ...] = (
    ("drying", "Drying", DryingSchool),
    ("cleaning", "Cleaning between inks", Cleaning),
    ("brush", "Reactive and plain dyes", SharedBrush),
    ("together", "Several panels", Together),
    ("hand", "Your hand", HandSide),
)
# How many runs are listed, and from which difference on somebody's pace is told.
_LISTED, _TOLD = 20, 0.15


def table_of(services: Services) -> TableOut:
    """All that stands at the table."""
    shelf = services.shelf()
    running = services.runs.under_way()
    planned, unreadable = held.parted(EveningItem, services.workspace.read_all("evening"))
    # The evening that is under way is not offered to be begun.
    busy = running.item.evening if running is not None else ""
    idle = [each.id for each in planned if each.uuid != busy]
    return TableOut(
        choices=[*_panels(services, shelf), *_overlaps(services, shelf), *_squares(services, shelf)],
        schools=[
            SchoolOut(
                key=key,
                label=label,
                choices=[CodedText(code=str(word), text=word.said) for word in words],
                reason=SCHOOL_REASONS[key],
            )
            for key, label, words in _SCHOOLS
        ],
        habits=services.evenings.last_habits(),
        evening=idle[-1] if idle else None,
        run=None if running is None else running.id,
        history=_history(services),
        paces=[
            PaceOut(label=do.said, factor=round(factor, 2))
            for do, factor in services.evenings.paces().items()
            if abs(factor - 1) >= _TOLD
        ],
        unreadable=[each.name for each in unreadable],
    )


def _history(services: Services) -> list[RunNote]:
    over = [(stored.id, stored.item) for stored in reversed(services.evenings.runs()) if stored.item.ended is not None]
    return [
        RunNote(
            id=number,
            name=run.name,
            began=run.began,
            minutes=round(((run.ended or run.began) - run.began) / 60, 1),
            at_mat=round(run.at_mat, 1),
            planned=round(run.planned, 1),
            inks=[pad.called for pad in run.pads],
            whole=run.whole,
        )
        for number, run in over[:_LISTED]
    ]


def _panels(services: Services, shelf: Shelf) -> list[Choosable]:
    found = []
    bands = {each.id: len(each.item.bands) for each in held.read_all(services.workspace, PanelItem)}
    for told in summaries(services)[-MAX_CHOICES:]:
        count = 0 if told.trouble else bands[told.id]
        inks = f"{count} {'ink' if count == 1 else 'inks'}"
        found.append(
            Choosable(
                kind=PieceKind.PANEL,
                ids=[told.id],
                name=told.name,
                about=f"{told.size}, {inks}",
                shown=told.shown,
                card=told.card,
                trouble=told.trouble or ("It has no bands yet." if not count else ""),
            )
        )
    return found


def _overlaps(services: Services, shelf: Shelf) -> list[Choosable]:
    readable, unreadable = held.parted(OverlapItem, services.workspace.read_all("overlap")[-MAX_CHOICES:])
    listed = [
        services.overlap_pieces.get(each.id, (each.revision, shelf), partial(_overlap, each, shelf))
        for each in readable
    ]
    listed += [_square(each, WHITE_CARD, WHITE_CARD, each.trouble) for each in unreadable]
    return sorted(listed, key=lambda each: each.ids)


def _overlap(overlap: Held[OverlapItem], shelf: Shelf) -> Choosable:
    try:
        job = overlap_piece(overlap.item, shelf).squares[0][1]
        seen, card = predict(job).colour.hex, card_hex(job)
        trouble = "" if job.stack else "Nothing is laid on it yet."
    except WempaError as error:
        seen, card, trouble = WHITE_CARD, WHITE_CARD, error_text(error)
    return _square(overlap, seen, card, trouble)


def _square(overlap: Held[OverlapItem] | Unreadable, seen: str, card: str, trouble: str) -> Choosable:
    return Choosable(
        kind=PieceKind.OVERLAP,
        ids=[overlap.id],
        name=overlap.name,
        about="a test square",
        shown=[seen],
        card=card,
        trouble=trouble,
    )


def _squares(services: Services, shelf: Shelf) -> list[Choosable]:
    """Squares of the book that wait to be laid, those on one card together."""
    cards: dict[int | None, list[tuple[int, str]]] = {}
    for swatch in held.read_all(services.workspace, SwatchItem):
        if not swatch.item.sightings:
            cards.setdefault(swatch.item.card_id, []).append((swatch.id, swatch.name))
    found = []
    for card, waiting in cards.items():
        ids = [number for number, _ in waiting][:40]
        count = len(ids)
        found.append(
            Choosable(
                kind=PieceKind.SQUARES,
                ids=ids,
                name=waiting[0][1] if count == 1 else f"{count} squares that wait",
                about=f"on {shelf.card_name(card)}, from the swatch book",
                shown=[],
                card=WHITE_CARD,
                trouble="",
            )
        )
    return found
