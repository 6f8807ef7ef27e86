"""Routes of the table: what can be brought to it, plans, runs, looks, and what is asked at the mat."""

from __future__ import annotations

from typing import Annotated

from fastapi import Header, Query, Request, Response
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ValidationError
from starlette.concurrency import run_in_threadpool

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.replies import api_router, download, nothing, revision_of
from wempa.api.services import ServicesNow
from wempa.craft.limits import MAX_PIECES
from wempa.craft.table.faults import judged
from wempa.craft.vocabulary import PieceKind
from wempa.formats.table.items import EveningItem, RunItem
from wempa.formats.table.plan_result import PlannedEvening, plan_result
from wempa.optics import colorimetry as cm

from .from_file import plan_file
from .models import (
    DoneIn,
    DryIn,
    EveningIn,
    EveningOut,
    FaultIn,
    FaultOut,
    NowIn,
    PieceIn,
    RescueOut,
    RunOut,
    StartIn,
    TableOut,
)
from .overview import table_of
from .wet_photo import SimulatedPanel, WetPhotoIn, WetPhotoOut, forecast, simulated

router = api_router()
_Match = Annotated[str | None, Header()]
_Now = Annotated[float, Query(ge=0, le=1e11)]
_Ids = Annotated[list[int], Query(min_length=1, max_length=MAX_PIECES)]


class SpotOut(BaseModel):
    """A spot that may be asked about."""

    place: int
    name: str
    hex: str


@router.post(
    "/plan",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"title": "Workspace file with panels and overlaps"}}},
        }
    },
)
@heavy(HeavyWork.SEARCH)
async def plan(request: Request) -> PlannedEvening:
    """Plan the panels and overlaps of a workspace file: the contract of ``wempa plan``; nothing is stored."""
    body = await request.body()
    return await run_in_threadpool(lambda: plan_result(plan_file(body)))


@router.get("/table")
def table(services: ServicesNow) -> TableOut:
    """What can be brought to the table, how it is worked, what was planned and done."""
    return table_of(services)


@router.post("/evenings", status_code=201)
@heavy(HeavyWork.SEARCH)
def plan_evening(services: ServicesNow, body: EveningIn) -> EveningOut:
    """Plan an evening and keep the plan."""
    return services.evenings.plan(body)


@router.get("/evenings/{evening_id}")
def evening(services: ServicesNow, evening_id: int) -> EveningOut:
    """A planned evening."""
    return services.evenings.shown(held.read(services.workspace, EveningItem, evening_id))


@router.get("/evenings/{evening_id}/sheet.pdf", response_class=Response)
@heavy(HeavyWork.FILES)
def sheet(services: ServicesNow, evening_id: int) -> Response:
    """The steps on paper."""
    from wempa.formats.drawn_forms import pdf_pages
    from wempa.formats.table.step_sheet import pages

    stored = held.read(services.workspace, EveningItem, evening_id)
    kept = services.evenings.as_planned(stored)
    return download(pdf_pages(pages(kept)), "application/pdf", f"wempa {stored.name}.pdf")


@router.post("/evenings/{evening_id}/begin", status_code=201)
def begin(services: ServicesNow, evening_id: int, body: StartIn) -> RunOut:
    """Begin a planned evening."""
    return services.runs.begin(evening_id, body.now, body.anyway)


@router.get("/run", response_model=RunOut | None)
def run(services: ServicesNow, now: _Now) -> Response:
    """The run that is under way; null if there is none."""
    stored = services.runs.under_way()
    if stored is None:
        return nothing()
    return Response(services.runs.shown(stored, now).model_dump_json(), media_type="application/json")


@router.get("/runs/{run_id}")
def one_run(services: ServicesNow, run_id: int, now: _Now) -> RunOut:
    """A run as it stands."""
    return services.runs.shown(held.read(services.workspace, RunItem, run_id), now)


@router.post("/runs/{run_id}/done")
def done(services: ServicesNow, run_id: int, body: DoneIn, if_match: _Match = None) -> RunOut:
    """Tick off the step that is due."""
    return services.runs.mark(run_id, body, revision_of(if_match))


@router.post("/runs/{run_id}/dried")
def dried(services: ServicesNow, run_id: int, body: DryIn, if_match: _Match = None) -> RunOut:
    """Say that something is dry already."""
    return services.runs.dried(run_id, body.bout, body.drying, body.now, revision_of(if_match))


@router.post("/runs/{run_id}/back")
def back(services: ServicesNow, run_id: int, body: NowIn, if_match: _Match = None) -> RunOut:
    """Take the last step back."""
    return services.runs.back(run_id, body.now, revision_of(if_match))


@router.post("/runs/{run_id}/anew")
@heavy(HeavyWork.SEARCH)
def anew(services: ServicesNow, run_id: int, body: NowIn, if_match: _Match = None) -> RunOut:
    """Plan what is left anew, keeping what is done."""
    return services.runs.anew(run_id, body.now, revision_of(if_match))


@router.post("/runs/{run_id}/end")
def end(services: ServicesNow, run_id: int, body: NowIn, if_match: _Match = None) -> RunOut:
    """End a run; what it took is kept."""
    return services.runs.end(run_id, body.now, revision_of(if_match))


def _piece(kind: PieceKind, ids: list[int]) -> PieceIn:
    try:
        return PieceIn(kind=kind, ids=ids)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from error


@router.get("/table/look.png", response_class=Response)
@heavy(HeavyWork.QUICK)
def look(
    services: ServicesNow,
    kind: PieceKind,
    ids: _Ids,
    laid: Annotated[int | None, Query(ge=0, le=1000)] = None,
    wet: bool = False,
) -> Response:
    """A piece with so many lay-downs on the card, all if not said."""
    made = services.looks.png(_piece(kind, ids), laid, wet)
    return Response(made, media_type="image/png")


@router.get("/table/spots")
def spots(services: ServicesNow, kind: PieceKind, ids: _Ids) -> list[SpotOut]:
    """The spots of a piece that may be asked about."""
    every = services.looks.spots(_piece(kind, ids))
    return [SpotOut(place=n, name=spot.name, hex=spot.hex) for n, spot in enumerate(every)]


@router.post("/table/fault")
@heavy(HeavyWork.QUICK)
def fault(services: ServicesNow, body: FaultIn) -> FaultOut:
    """Is this a fault? What evens out and when, what does not, what may be done."""
    spot = services.looks.spot(body.piece, body.place)
    shelf = services.shelf()
    found = judged(body.fault, spot.job, body.minutes_ago, body.towards, shelf.wanted(spot.job))
    light = str(spot.job.illuminant)
    return FaultOut(
        title=body.fault.said,
        settles=found.settles,
        when=round(found.when, 2),
        texts=list(found.texts),
        rescues=[
            RescueOut(
                text=rescue.text,
                before=cm.hexes_from_lab(rescue.before[None], light)[0],
                after=cm.hexes_from_lab(rescue.after[None], light)[0],
                helps=rescue.helps,
            )
            for rescue in sorted(found.rescues, key=lambda each: not each.helps)
        ],
    )


@router.post("/table/wet-photo")
@heavy(HeavyWork.FILES)
def wet_photo(services: ServicesNow, body: WetPhotoIn) -> WetPhotoOut:
    """How a panel that was photographed wet will look when it is dry."""
    return forecast(services.workspace, services.looks.made(body.panel_id), body)


@router.post("/devices/wet-panel/{panel_id}", status_code=201)
@heavy(HeavyWork.FILES)
def wet_panel(services: ServicesNow, panel_id: int, phone: str = "phone") -> SimulatedPanel:
    """Lay a panel with the simulated hand and photograph it, still wet, with the simulated camera."""
    return simulated(services.workspace, services.looks.made(panel_id), phone)
