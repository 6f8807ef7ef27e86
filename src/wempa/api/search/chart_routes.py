"""Routes of the Chart screen: every ink over every ink, what goes together, and all of it on paper."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Response

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.overlap.desk import desk_of
from wempa.api.overlap.models import OverlapDesk
from wempa.api.replies import Framed, api_router, download, drawn, sent_as, written
from wempa.api.services import ServicesNow
from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_PRINTED
from wempa.craft.search.chart_study import order_of_inks
from wempa.craft.search.company import Seams, company, fewest_for_rainbow
from wempa.craft.vocabulary import Blend, ChartOrder, Over
from wempa.formats.drawn_forms import DrawnForm, pdf_pages
from wempa.formats.overlap.items import OverlapItem, OverlapSettings
from wempa.optics import colorimetry as cm

from .chart_models import (
    AloneList,
    CellIn,
    CellOut,
    ChartHead,
    ChartIn,
    ChartQuery,
    CompanyIn,
    CompanyList,
    LaySetIn,
    NextIn,
    NextInkList,
    OrderIn,
    StudyHead,
)
from .charts import alone_out, cells, chart_cell, company_out, set_entries, study_out
from .next_ink import next_list

router = api_router()


@router.post("/chart", response_class=Response, responses=sent_as(Framed, ChartHead))
@heavy(HeavyWork.QUICK)
def chart(services: ServicesNow, body: ChartIn) -> Response:
    """Every ink over every ink: length of the head (four bytes), `ChartHead`, then the cells."""
    return cells(services.charts.of(body))


@router.post("/chart/study", response_class=Response, responses=sent_as(Framed, StudyHead))
@heavy(HeavyWork.QUICK)
def study(services: ServicesNow, body: ChartIn) -> Response:
    """What is new and what looks alike: length of the head, `StudyHead`, then the cells."""
    return study_out(services.charts.of(body))


@router.post("/chart/alone")
@heavy(HeavyWork.QUICK)
def alone(services: ServicesNow, body: ChartIn) -> AloneList:
    """Every ink by itself, on the chart's card and on white card: which of them the card spoils."""
    return alone_out(body, services.shelf())


@router.post("/chart/cell", response_model=CellOut)
@heavy(HeavyWork.QUICK)
def cell(services: ServicesNow, body: CellIn) -> Response:
    """One cell: margin, reasons, words, and how to lay it."""
    return written(chart_cell(body, services.shelf(), services.charts.of(body)))


@router.post("/chart/company")
@heavy(HeavyWork.QUICK)
def good_company(services: ServicesNow, body: CompanyIn) -> CompanyList:
    """Sets of two to seven inks that blend without mud and without a hard line."""
    made = services.charts.of(body)
    if not made.numbers:
        return CompanyList(sets=[], rainbow=None)
    seams = Seams(made.chart, made.table)
    hero = made.hero(body.hero)
    fewest = fewest_for_rainbow(seams) if body.blend is Blend.RAINBOW else None
    return CompanyList(
        sets=[company_out(one, made) for one in company(seams, body.blend, hero)],
        rainbow=None if fewest is None else company_out(fewest, made),
    )


@router.post("/next-ink")
@heavy(HeavyWork.QUICK)
def next_ink(services: ServicesNow, body: NextIn) -> NextInkList:
    """Which of the wanted inks, or of a table of inks, adds the most clean new colours to what is owned."""
    return next_list(services, body)


@router.post("/chart/order")
@heavy(HeavyWork.QUICK)
def order(services: ServicesNow, body: OrderIn) -> list[int]:
    """In which order the inks of a chart stand: places in its list."""
    made = services.charts.of(body)
    fresh = made.study().fresh if body.order is ChartOrder.NEWNESS else None
    return order_of_inks(made.chart, body.order, made.hero(body.hero), fresh, made.table)


@router.post("/chart/overlap", status_code=201, response_model=OverlapDesk)
def lay_set(services: ServicesNow, body: LaySetIn) -> Response:
    """Store inks of a chart, laid over one another as it lays them, as an overlap."""
    made = OverlapItem(
        name=body.name,
        card_id=body.card_id,
        settings=OverlapSettings(illuminant=body.illuminant, mud_line=body.mud_line),
        stack=set_entries(body, body.set, services.shelf()),
    )
    services.jobs.of(made)
    return desk_of(services, held.write(services.workspace, made, what=f"Make {body.name}"), 201)


@router.get("/chart/export.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def export(
    services: ServicesNow, form: DrawnForm | Literal["csv", "json"], given: Annotated[ChartQuery, Query()]
) -> Response:
    """The chart on paper at real size, predicted or blank, or as a table."""
    # Drawing takes a while to import, and most days nobody prints.
    from wempa.formats.search import chart_sheet as sheet

    made = services.charts.of(given.chart())
    light, chart = str(given.illuminant), made.chart
    over = "mixed wet" if given.over is Over.WET else "dried between"
    text = sheet.ChartText(
        card=made.card_name,
        names=made.names,
        way=f"each with its usual tool, {over}"
        if given.tool is None
        else f"{given.tool}, {given.load} load, {given.passes:g} passes, {over}",
        light=given.illuminant.phrase,
    )
    name = f"wempa chart on {made.card_name}{' blank' if given.blank else ''}"
    if form == "csv":
        return download(sheet.as_csv(chart, text, light), "text/csv", f"{name}.csv")
    if form == "json":
        return download(sheet.as_json(chart, text, light), "application/json", f"{name}.json")
    if len(made.numbers) > MAX_PRINTED:
        raise JobError(f"at real size a chart takes {MAX_PRINTED} inks at most; choose fewer ranges", ("inks",))
    colours = None if given.blank else cm.hexes_from_lab(chart.lab.reshape(-1, 3), light)
    shown = sheet.DrawnChart(chart, text, made.card, colours, made.mud_line)
    if form is not DrawnForm.PDF:
        return drawn(sheet.whole(shown), form, name)
    hero = made.numbers.index(given.hero) if given.hero in made.numbers else None
    return download(pdf_pages(sheet.pages(shown, given.page, hero)), "application/pdf", f"{name}.pdf")
