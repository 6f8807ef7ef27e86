"""Routes of the Match screen: the stacks of the stash that make a wanted colour, and what can be made already."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query, Response

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.overlap.desk import desk_of
from wempa.api.overlap.models import OverlapDesk
from wempa.api.replies import JsonLines, api_router, download, lines, sent_as
from wempa.api.services import ServicesNow
from wempa.craft.vocabulary import Illuminant, Page
from wempa.formats.drawn_forms import pdf_pages
from wempa.formats.overlap.items import OverlapItem, StackEntry
from wempa.formats.stash.items import InkItem

from .match_models import LayAnswerIn, MatchIn, MatchLine, ReserveOut

router = api_router()


@router.post("/match", response_class=Response, responses=sent_as(JsonLines, MatchLine))
@heavy(HeavyWork.SEARCH)
def match(services: ServicesNow, body: MatchIn) -> JsonLines:
    """The stacks that make a colour: lines of JSON, the last one with what was found. Hang up to cancel."""
    found = services.matches.found(body)
    # A question that cannot be answered is refused before anything is sent.
    first = next(found)
    return lines(first, found, lambda error: MatchLine(state="refused", error=str(error)))


@router.post("/match/overlap", status_code=201, response_model=OverlapDesk)
def lay_answer(services: ServicesNow, body: LayAnswerIn) -> Response:
    """Store a way to a colour as an overlap: what lies on its card already below it, and laid."""
    settings, card_id, below = body.settings, body.card_id, list[StackEntry]()
    if body.start is not None:
        start = held.read(services.workspace, OverlapItem, body.start).item
        card_id, below = start.card_id, start.lies_there()
        # The match is judged by the table and the mud line of the overlap that it goes over.
        line = start.settings.mud_line if settings.mud_line is None else settings.mud_line
        own = {"constants": start.settings.constants, "mud_line": line}
        settings = settings.model_copy(update=own)
    stack = [*below, *body.stack]
    made = OverlapItem(name=body.name, card_id=card_id, settings=settings, stack=stack, laid=len(below))
    services.jobs.of(made)
    return desk_of(services, held.write(services.workspace, made, what=f"Make {body.name}"), 201)


@router.get("/reserve", response_class=Response, responses=sent_as(JsonLines, ReserveOut))
@heavy(HeavyWork.SEARCH)
def reserve(services: ServicesNow, card_id: int | None = None, illuminant: Illuminant = Illuminant.D65) -> JsonLines:
    """Which colours can be made already: a line of JSON for every ink of the book."""
    every = services.matches.every_ink(card_id, illuminant)
    return lines(next(every, None), every, None)


@router.get("/reserve.pdf", response_class=Response)
@heavy(HeavyWork.SEARCH)
def printed(
    services: ServicesNow,
    card_id: int | None = None,
    illuminant: Illuminant = Illuminant.D65,
    page: Annotated[Page, Query()] = Page.A4,
) -> Response:
    """The same on paper."""
    from wempa.formats.search import reserve_sheet

    shelf = services.shelf()
    standing = {each.id: each.item.standing for each in held.read_all(services.workspace, InkItem)}
    rows = [
        reserve_sheet.ReserveRow(
            name=shelf.inks[str(one.ink_id)].name,
            standing=str(standing[one.ink_id]).replace("_", " "),
            target=one.target,
            made=one.answer.look.colour.hex if one.answer else None,
            closeness=one.answer.look.closeness if one.answer else "",
            figures=f"ΔE00 {one.answer.delta_e:.1f} ± {one.answer.look.margin:.1f}" if one.answer else "",
            lines=one.answer.lines if one.answer else [],
            stands_in=one.made,
        )
        for one in services.matches.every_ink(card_id, illuminant)
    ]
    text = f"on {shelf.card_name(card_id)}, seen by {illuminant.phrase}; predicted {date.today().isoformat()}"
    return download(pdf_pages(reserve_sheet.pages(rows, text, page)), "application/pdf", "wempa reserve.pdf")
