"""Routes of the log: the book, what is read off photos, learning, squares to lay next, guesses."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Annotated

import numpy as np
from fastapi import Header, Query, Request, Response

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.held import Held
from wempa.api.replies import JsonLines, api_router, download, drawn, lines, revision_of, sent_as
from wempa.api.services import Services, ServicesNow
from wempa.api.shelf import Shelf
from wempa.api.stash.photo_models import PhotoOut
from wempa.api.stash.photo_reading import keep_photo
from wempa.craft.errors import JobError
from wempa.craft.job import Colour
from wempa.craft.limits import SMALL_PHOTO
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import sheet_for
from wempa.craft.vocabulary import BookOrder, Known, OwnVerdict, Page
from wempa.formats.drawn_forms import DrawnForm, pdf_pages
from wempa.formats.job import load_json
from wempa.formats.log.fit_file import fit_data
from wempa.formats.log.items import NamedInk, Sighting, SwatchItem
from wempa.formats.stored import read_by
from wempa.optics import colorimetry as cm
from wempa.store import Change, Item, StoreError

from . import drafts as made
from .book import OpenSwatch, as_observations, as_owned, chosen, lines_of, opened, shown
from .lessons import history
from .lessons import take_back as stop_using
from .models import (
    BookOut,
    DiscardIn,
    DraftsIn,
    GuessedOut,
    GuessIn,
    GuessOut,
    InkNote,
    LearnLine,
    LessonOut,
    LookIn,
    NewSwatches,
    NextOut,
    SeenIn,
    SwatchOut,
)

router = api_router()
_Ids = Annotated[list[int] | None, Query(max_length=100)]


@router.get("/log")
def book(
    services: ServicesNow,
    order: BookOrder = BookOrder.DATE,
    find: Annotated[str, Query(max_length=200)] = "",
    near: Annotated[str, Query(pattern=r"^(#[0-9a-fA-F]{6})?$")] = "",
    verdict: OwnVerdict | None = None,
    tag: Annotated[str, Query(max_length=40)] = "",
    favourites: bool = False,
) -> BookOut:
    """The book: the swatches asked for, in the order asked for, and what is told about the whole of it."""
    shelf = services.shelf()
    whole = services.books.open(shelf)
    pages, every = whole.pages, whole.shown
    wanted = cm.lab(spectrum_of(Colour(hex=near.lower()), "D65")[0]) if near else None
    can_undo, can_redo = services.workspace.can_step()
    return BookOut(
        swatches=chosen(pages, every, find, wanted, verdict, tag, favourites, order, shelf.table),
        count=len(pages),
        waiting=sum(not page.item.sightings for page in pages),
        tags=sorted({each for page in pages for each in page.item.tags}),
        drifts=whole.drifts,
        offers=services.own_lines.offers(pages, shelf),
        lessons=history(services.workspace),
        stands_in=_stands_in(pages),
        unreadable=whole.unreadable,
        can_undo=can_undo,
        can_redo=can_redo,
    )


def _stands_in(pages: list[OpenSwatch]) -> list[InkNote]:
    found: list[InkNote] = []
    for page in pages:
        for ink in page.item.like:
            text = f"{page.item.name} looks very like it."
            found.append(InkNote(ink_id=ink.ink_id or 0, name=ink.called, text=text))
    return found


@router.post("/log", status_code=201)
def log_swatches(services: ServicesNow, body: NewSwatches) -> list[SwatchOut]:
    """Put swatches into the book, in one step."""
    shelf = services.shelf()
    items = [_called(item, services) for item in body.swatches]
    what = f"Log {items[0].name}" if len(items) == 1 else f"Log {len(items)} swatches"
    changes: list[Change] = [("swatch", None, item.stored(), None) for item in items]
    return _shown(services.workspace.write_many(changes, what=what), shelf)


def _shown(rows: Sequence[Item], shelf: Shelf) -> list[SwatchOut]:
    return shown([opened(held.as_held(SwatchItem, row), shelf) for row in rows], shelf)


def _read(services: Services, item_id: int) -> Held[SwatchItem]:
    return held.read(services.workspace, SwatchItem, item_id)


def _called(item: SwatchItem, services: Services) -> SwatchItem:
    """Names of inks and card are stored with it, so that they are known when these are gone."""
    shelf = services.shelf()

    def name(ink: NamedInk) -> None:
        if ink.ink_id is not None:
            ink.called = shelf.ink(str(ink.ink_id)).name or ink.called

    for entry in item.stack:
        for part in entry.mix or ():
            name(part)
        if entry.ink_id is not None:
            entry.called = shelf.ink(str(entry.ink_id)).name or entry.called
    for ink in item.like:
        name(ink)
    if item.card_id is not None:
        shelf.card(item.card_id)
        item.card_called = shelf.card_name(item.card_id)
    return item


@router.post("/log/discard", status_code=204)
def discard(services: ServicesNow, body: DiscardIn) -> None:
    """Take swatches out of the book, in one step that undo brings back."""
    changes: list[Change] = [("swatch", number, None, None) for number in dict.fromkeys(body.swatches)]
    services.workspace.write_many(changes, what=f"Take {len(changes)} swatches out of the book")


@router.post("/log/drafts")
def swatch_drafts(services: ServicesNow, body: DraftsIn) -> list[SwatchItem]:
    """Swatches of an overlap, a panel, a strip or a stack as they would be logged; nothing is stored."""
    return made.drafts(services, body)


@router.post("/log/seen")
@heavy(HeavyWork.FILES)
def seen(services: ServicesNow, body: SeenIn) -> list[SwatchOut]:
    """Colours read off one photo, each added to its swatch, with a small picture of it."""
    from wempa.formats.stash import photo_file

    pixels = photo_file.decode(services.workspace.photo(body.photo))
    changes: list[Change]
    items: dict[int, Held[SwatchItem]] = {}
    shelf = services.shelf()
    for area in body.areas:
        stored = items.get(area.swatch_id) or _read(services, area.swatch_id)
        picture = "" if area.box is None else _cut_out(services, pixels, area.box)
        one = Sighting(
            lab=area.lab,
            spread=area.spread,
            look=area.look,
            drops=area.drops,
            done=area.done,
            known=Known.PHOTO,
            light=body.light,
            photo=picture,
            off=body.photo,
            at=date.today(),
        )
        items[area.swatch_id] = replace(stored, item=_with_look(stored.item, one))
    changes = [("swatch", each.id, each.item.stored(), each.revision) for each in items.values()]
    count = len(items)
    what = f"Read {count} swatches off a photo" if count > 1 else f"Read {next(iter(items.values())).name}"
    return _shown(services.workspace.write_many(changes, what=what), shelf)


def _with_look(item: SwatchItem, look: Sighting) -> SwatchItem:
    """A swatch with one more look at it; raises `JobError` where that cannot be."""
    fields = item.model_dump()
    return read_by(SwatchItem.model_validate, {**fields, "sightings": [*fields["sightings"], look]}, "swatch")


def _cut_out(services: Services, pixels: np.ndarray, box: list[float]) -> str:
    """A small picture of what lies in a box, kept; its hash."""
    from PIL import Image

    height, width = pixels.shape[:2]
    left, top, right, bottom = (round(v) for v in box)
    left, top, right, bottom = max(0, left), max(0, top), min(width, right), min(height, bottom)
    if right - left < 4 or bottom - top < 4:
        raise JobError("this part of the photo is too small to keep", ("areas",))
    cut = Image.fromarray(pixels[top:bottom, left:right], "RGB")
    cut.thumbnail((SMALL_PHOTO // 2, SMALL_PHOTO // 2))
    out = io.BytesIO()
    cut.save(out, "JPEG", quality=88)
    return services.workspace.keep_photo(out.getvalue(), cut.width, cut.height)


@router.get("/log/sheet.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def squares(services: ServicesNow, form: DrawnForm, swatch: _Ids = None, page: Page = Page.A4) -> Response:
    """A sheet with a square for each swatch and how it is to be laid below it."""
    from wempa.formats.stash import swatch_sheet

    shelf = services.shelf()
    numbers = swatch or []
    sheet = sheet_for(page, len(numbers))
    told = shown([opened(_read(services, n), shelf) for n in numbers], shelf)
    labels = [swatch_sheet.SquareLabel(one.item.name, " ".join(one.lines)) for one in told]
    card = told[0].card_name if told else ""
    return drawn(swatch_sheet.draw(sheet, labels, card, "as below each square"), form, "wempa-test-squares")


@router.post("/log/learn", response_class=Response, responses=sent_as(JsonLines, LearnLine))
@heavy(HeavyWork.SEARCH)
def learn(services: ServicesNow) -> JsonLines:
    """Learn from the book: lines of JSON, the last one with what was learned. Hang up to stop."""
    found = services.learner.learned()
    return lines(next(found), found, lambda error: LearnLine(state="refused", error=str(error)))


@router.post("/log/adopt", status_code=201)
# What was learned is kept in the process that learned it.
@heavy(HeavyWork.SEARCH)
def adopt(services: ServicesNow, again: bool = False) -> list[LessonOut]:
    """Adopt what was learned last; undo takes it back. With `again` it is learned once more where it is no
    longer known.
    """
    services.learner.adopt(again)
    return history(services.workspace)


@router.post("/log/lines/{of}", status_code=201)
def take_line(services: ServicesNow, of: str) -> list[LessonOut]:
    """Set the mud line (``mud_line``) or the line of a hard seam (``seam``) where one's own verdicts put it."""
    services.own_lines.take_line(of)
    return history(services.workspace)


@router.post("/log/lessons/{item_id}/back")
def take_back(services: ServicesNow, item_id: int) -> list[LessonOut]:
    """Stop using a lesson; what was in force before it is in force again."""
    stop_using(services.workspace, item_id)
    return history(services.workspace)


@router.post("/log/next")
@heavy(HeavyWork.SEARCH)
def next_squares(services: ServicesNow, most: Annotated[int, Query(ge=1, le=6)] = 6) -> NextOut:
    """The few test squares that would teach the most about what is owned and planned."""
    return made.next_to_lay(services, most)


@router.get("/log/guess")
def guess(services: ServicesNow, card_id: int | None = None) -> GuessOut:
    """A question of the practice round."""
    return services.practice.ask(card_id)


@router.post("/log/guess")
def guessed(services: ServicesNow, body: GuessIn) -> GuessedOut:
    """How the guess was: the prediction, its reason, and the real swatch if there is one."""
    told, job = services.practice.answer(body.token, body.choice)
    shelf = services.shelf()
    for page in services.books.pages(shelf):
        if page.job is not None and page.item.sightings and _same_pair(page.job.stack, job.stack):
            return told.model_copy(update={"real": shown([page], shelf)[0]})
    return told


def _same_pair(one: tuple[object, ...], other: tuple[object, ...]) -> bool:
    parts = [[entry.parts for entry in stack if hasattr(entry, "parts")] for stack in (one, other)]
    return len(one) == len(other) and parts[0] == parts[1]


@router.post(
    "/fit",
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {}}}},
)
@heavy(HeavyWork.SEARCH)
async def fit(request: Request) -> dict[str, object]:
    """What the swatches of a file teach: the contract of ``wempa fit`` (docs/job-format.md)."""
    from starlette.concurrency import run_in_threadpool

    data = await request.body()
    return await run_in_threadpool(lambda: fit_data(load_json(data)))


@router.get("/log/book.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def book_file(services: ServicesNow, form: str) -> Response:
    """The whole book as PDF pages, CSV or JSON (jobs and colours, as ``wempa fit`` reads them)."""
    from wempa.formats.log import book_files, book_lines

    shelf = services.shelf()
    pages = services.books.pages(shelf)
    stem = f"wempa-swatch-book-{date.today()}"
    if form == "pdf":
        return download(pdf_pages(book_files.pages(lines_of(shown(pages, shelf)))), "application/pdf", f"{stem}.pdf")
    if form == "csv":
        return download(book_lines.table(lines_of(shown(pages, shelf))), "text/csv; charset=utf-8", f"{stem}.csv")
    if form == "json":
        return download(as_observations(pages, shelf), "application/json", f"{stem}.json")
    raise StoreError("the book comes as pdf, csv or json")


@router.post("/devices/hand", status_code=201)
@heavy(HeavyWork.FILES)
def hand(services: ServicesNow, swatch: _Ids = None, lamp: str = "daylight", phone: str = "phone") -> PhotoOut:
    """Lay swatches with the simulated hand and photograph the sheet of them with the simulated camera."""
    from wempa.demo.camera import LAMPS, PHONES
    from wempa.demo.hand import photograph_swatches

    if lamp not in LAMPS or phone not in PHONES:
        raise JobError("the simulated camera knows no such lamp or phone")
    shelf = services.shelf()
    pages = [opened(_read(services, n), shelf) for n in swatch or []]
    # The simulated hand lays the real inks, which do not change when something is learned about them.
    jobs = [as_owned(page.job, page.item.card_id, shelf) for page in pages if page.job is not None]
    if not jobs:
        raise JobError("there is no swatch to lay")
    return keep_photo(
        services.workspace, photograph_swatches(jobs, lamp, phone, len(pages)), [page.item.name for page in pages]
    )


@router.get("/log/{item_id}")
def swatch(services: ServicesNow, item_id: int) -> SwatchOut:
    """One swatch with its figures."""
    shelf = services.shelf()
    return shown([opened(_read(services, item_id), shelf)], shelf, details=True)[0]


@router.put("/log/{item_id}")
def change_swatch(
    services: ServicesNow, item_id: int, body: SwatchItem, if_match: Annotated[str | None, Header()] = None
) -> SwatchOut:
    """Change a swatch; `If-Match` carries the revision it was read with."""
    shelf = services.shelf()
    revision, what = revision_of(if_match), f"Change {body.name}"
    stored = held.write(services.workspace, body, over=item_id, revision=revision, what=what)
    return shown([opened(stored, shelf)], shelf, details=True)[0]


@router.post("/log/{item_id}/look", status_code=201)
def add_look(services: ServicesNow, item_id: int, body: LookIn) -> SwatchOut:
    """Write down a look at a swatch by its colour, as typed, judged or measured."""
    stored, shelf = _read(services, item_id), services.shelf()
    lab = cm.lab(spectrum_of(body.colour.to_core(), "D65")[0]).round(2).tolist()
    spread = max(0.1, shelf.table[f"known.{body.known}.spread"])
    look = Sighting(
        lab=lab, spread=spread, known=body.known, look=body.look, drops=body.drops, done=body.done, at=date.today()
    )
    changed, what = _with_look(stored.item, look), f"Write down {stored.name}"
    done = held.write(services.workspace, changed, over=item_id, revision=stored.revision, what=what)
    return shown([opened(done, shelf)], shelf, details=True)[0]


@router.delete("/log/{item_id}", status_code=204)
def delete_swatch(services: ServicesNow, item_id: int, if_match: Annotated[str | None, Header()] = None) -> None:
    """Take a swatch out of the book; undo brings it back."""
    held.delete(services.workspace, SwatchItem, item_id, revision_of(if_match), "Take {} out of the book")
