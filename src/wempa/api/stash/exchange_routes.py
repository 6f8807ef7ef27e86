"""Routes that bring the stash in and out: workspace, tables of inks, palettes, the swatch sheet."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from fastapi import Query, Request, Response
from starlette.concurrency import run_in_threadpool

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.items import with_what_it_needs
from wempa.api.replies import api_router, download, drawn
from wempa.api.services import ServicesNow
from wempa.craft.stash.swatch_sheet import sheet_for, strip_layout
from wempa.craft.vocabulary import Formula, Page, Standing
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.stash.items import InkItem
from wempa.formats.stash.palette import PALETTES, PaletteInk
from wempa.store import Kind

from .exchange import export_archive, export_inks, export_workspace, import_inks
from .models import ImportOut
from .shown import on_screen
from .taking_in import import_workspace

router = api_router()
_TEXT = {"requestBody": {"required": True, "content": {"text/plain": {}}}}


@router.post("/import/inks", openapi_extra=_TEXT)
@heavy(HeavyWork.FILES)
async def take_inks(services: ServicesNow, request: Request, apply: bool = False) -> ImportOut:
    """Inks from CSV: what every row would do, or (`apply`) all of them at once."""
    data = await request.body()
    return await run_in_threadpool(import_inks, services.workspace, data, apply)


@router.post("/import/workspace", openapi_extra=_TEXT)
@heavy(HeavyWork.FILES)
async def take_workspace(
    services: ServicesNow, request: Request, apply: bool = False, keep: Literal["mine"] | None = None
) -> ImportOut:
    """A workspace as JSON or as a zip with photos: what it would change, or (`apply`) all of it at once.

    What differs becomes as the file has it; with `keep=mine` what was changed here stays.
    """
    data = await request.body()
    return await run_in_threadpool(import_workspace, services.workspace, data, apply, keep == "mine")


@router.get("/export/workspace.json", response_class=Response)
@heavy(HeavyWork.FILES)
def give_workspace(services: ServicesNow) -> Response:
    """The whole workspace."""
    return download(export_workspace(services), "application/json", "wempa-workspace.json")


@router.get("/export/workspace.zip", response_class=Response)
@heavy(HeavyWork.FILES)
def give_archive(services: ServicesNow) -> Response:
    """The whole workspace with its photos in one file."""
    return download(export_archive(services), "application/zip", "wempa-workspace.zip")


@router.get("/export/{kind}/{item_id}.json", response_class=Response)
def give_item(services: ServicesNow, kind: Kind, item_id: int) -> Response:
    """One item with the inks and cards that it names, whether or not it can be read."""
    name = services.workspace.name_of(kind, item_id)
    text = with_what_it_needs(services, kind, item_id)
    return download(text, "application/json", f"wempa {kind} {name[:80]}.json")


@router.get("/export/inks.csv", response_class=Response)
@heavy(HeavyWork.FILES)
def give_inks(services: ServicesNow) -> Response:
    """All inks as CSV."""
    return download(export_inks(services.workspace), "text/csv; charset=utf-8", "wempa-inks.csv")


@router.get("/export/palette.{kind}", response_class=Response)
def give_palette(services: ServicesNow, kind: Literal["csv", "json", "gpl", "css"]) -> Response:
    """The owned inks' colours as a palette."""
    every = [each.item for each in held.read_all(services.workspace, InkItem)]
    items = [item for item in every if item.standing is Standing.OWNED]
    seen = on_screen([item.ink.swatch.to_core().colour for item in items], services.shelf().table)
    shown = [
        PaletteInk(item.name, item.range, str(item.formula), look.hex, (look.lab[0], look.lab[1], look.lab[2]))
        for item, look in zip(items, seen, strict=True)
    ]
    media, write = PALETTES[kind]
    return download(write("Wempa stash", shown), media, f"wempa-palette.{kind}")


@router.get("/sheet.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def sheet(
    services: ServicesNow,
    form: DrawnForm,
    page: Page = Page.A4,
    ink: Annotated[list[int] | None, Query(max_length=100)] = None,
    card: Annotated[str, Query(max_length=120)] = "",
    tool: Annotated[str, Query(max_length=120)] = "",
) -> Response:
    """The swatch sheet at real size: blank, or with inks of the stash below the squares."""
    # Drawing takes a while to import, and most days nobody prints.
    from wempa.formats.stash import swatch_sheet

    items = [held.read(services.workspace, InkItem, number).item for number in ink or []]
    made = sheet_for(page, len(items))
    labels = [swatch_sheet.SquareLabel(item.name, _detail(item)) for item in items]
    name = "wempa-swatch-sheet" if form is DrawnForm.SVG else f"wempa-swatch-sheet-{page}-{date.today()}"
    return drawn(swatch_sheet.draw(made, labels, card, tool), form, name)


@router.get("/strip.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def grey_strip(form: DrawnForm) -> Response:
    """The strip of grey steps, to cut out and lay beside swatches."""
    from wempa.formats.stash import swatch_sheet

    return drawn(swatch_sheet.draw_strip(strip_layout()), form, "wempa-grey-strip")


def _detail(item: InkItem) -> str:
    formula = "" if item.formula is Formula.UNKNOWN else str(item.formula).replace("_", " ")
    return ", ".join(part for part in (formula, item.range) if part)
