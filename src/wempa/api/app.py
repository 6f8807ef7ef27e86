"""The application: routes over the core and one workspace."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from datetime import date
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Body, FastAPI, Header, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, PlainTextResponse, Response
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.staticfiles import StaticFiles
from threadpoolctl import threadpool_limits

from wempa import __version__
from wempa.craft.crossing import Crossing, crossing
from wempa.craft.job import Job, JobError
from wempa.craft.naming import describe, margin_words
from wempa.craft.predict import Prediction
from wempa.craft.words import WHITE_CARD
from wempa.formats import job as contract
from wempa.formats.result import Result, predict_text, result
from wempa.formats.stash import job_ink
from wempa.formats.table import FileError
from wempa.store import Conflict, NotFound, StoreError, Workspace

from . import exchange, photos, stash
from .guard import Guard
from .models import (
    ColourInWords,
    CrossingOut,
    CrossingPair,
    Desk,
    OverlapIn,
    OverlapOut,
    Problem,
    Stepped,
)

STATIC = Path(__file__).parent / "static"
LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1", "testserver"})
_PROBLEMS: dict[int | str, dict[str, Any]] = {422: {"model": Problem}, 404: {"model": Problem}, 409: {"model": Problem}}


def create_app(workspace: Workspace, hosts: frozenset[str] = LOOPBACK, static: Path = STATIC) -> FastAPI:
    """The service for one workspace, answering to the named hosts.

    `static` is the built front end; without one the root says how to build it.
    """

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        # Several requests share the machine; each matrix product on every core
        # would only make them wait for one another.
        with threadpool_limits(1):
            yield
        workspace.close()

    app = FastAPI(
        title="Wempa",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.add_middleware(GZipMiddleware, minimum_size=1000)
    app.add_middleware(Guard, hosts=hosts)
    _handle_errors(app)
    for part in (_routes, stash.routes, photos.routes, exchange.routes):
        app.include_router(part(workspace), prefix="/api", responses=_PROBLEMS)
    if (static / "index.html").is_file():
        app.mount("/assets", StaticFiles(directory=static / "assets"))

        @app.get("/", include_in_schema=False)
        def index() -> FileResponse:
            return FileResponse(static / "index.html", headers={"cache-control": "no-cache"})

    else:

        @app.get("/", include_in_schema=False)
        def unbuilt() -> PlainTextResponse:
            return PlainTextResponse("The front end is not built. Run `make demo`, or `npm run build` in web/.\n")

    return app


def _handle_errors(app: FastAPI) -> None:
    @app.exception_handler(JobError)
    def job_error(_: Request, error: JobError) -> JSONResponse:
        place = contract.place_text(error.place) or None
        return JSONResponse({"error": contract.error_text(error), "place": place}, 422)

    @app.exception_handler(FileError)
    def file_error(_: Request, error: FileError) -> JSONResponse:
        return JSONResponse({"error": str(error), "place": None}, 422)

    @app.exception_handler(StoreError)
    def store_error(_: Request, error: StoreError) -> JSONResponse:
        status = 404 if isinstance(error, NotFound) else 409 if isinstance(error, Conflict) else 422
        return JSONResponse({"error": str(error), "place": None}, status)

    @app.exception_handler(HTTPException)
    def http_error(_: Request, error: HTTPException) -> JSONResponse:
        return JSONResponse({"error": f"{error.detail}.", "place": None}, error.status_code)

    @app.exception_handler(RequestValidationError)
    def request_error(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        place = contract.place_text(tuple(part for part in first["loc"] if part != "body"))
        text = str(first["msg"]).removeprefix("Value error, ")
        return JSONResponse({"error": f"{place}: {text}" if place else text, "place": place or None}, 422)


def _routes(workspace: Workspace) -> APIRouter:
    router = APIRouter()

    @router.post(
        "/predict",
        response_model=Result | list[Result],
        openapi_extra={
            "requestBody": {
                "required": True,
                "content": {"application/json": {"schema": {"title": "Job or list of jobs"}}},
            }
        },
    )
    async def predict_jobs(request: Request) -> Response:
        """Predict a job, or each of a list of jobs, of the contract."""
        body = await request.body()
        return await run_in_threadpool(_predict_text, body)

    @router.post("/crossing")
    def cross(body: Annotated[dict[str, Any], Body()]) -> CrossingOut:
        """A job as crossing swatches: each ink alone and every pair both ways."""
        return _crossing_out(crossing(contract.read_one(body)))

    @router.get("/overlaps")
    def overlaps() -> list[OverlapOut]:
        """Every stored overlap."""
        return [OverlapOut.model_validate(item) for item in workspace.read_all("overlap")]

    @router.post("/overlaps", status_code=201)
    def make_overlap(body: OverlapIn) -> Desk:
        """Store a new overlap."""
        stored = workspace.write("overlap", _checked(body), what=f"Make {body.name}")
        return _desk(stored)

    @router.get("/overlaps/{item_id}")
    def overlap(item_id: int) -> Desk:
        """An overlap with what it looks like."""
        return _desk(workspace.read("overlap", item_id))

    @router.put("/overlaps/{item_id}")
    def change_overlap(item_id: int, body: OverlapIn, if_match: Annotated[str | None, Header()] = None) -> Desk:
        """Change an overlap; `If-Match` carries the revision it was read with."""
        revision = None
        if if_match is not None:
            text = if_match.strip().strip('"')
            if not text.isdecimal():
                raise StoreError("If-Match must be the revision that was read, a whole number")
            revision = int(text)
        stored = workspace.write(
            "overlap", _checked(body), item_id=item_id, revision=revision, what=f"Change {body.name}"
        )
        return _desk(stored)

    @router.post("/undo")
    def undo() -> Stepped:
        """Take back the newest change."""
        return Stepped(what=(workspace.undo() or {}).get("what"))

    @router.post("/redo")
    def redo() -> Stepped:
        """Do again what was undone last."""
        return Stepped(what=(workspace.redo() or {}).get("what"))

    def _checked(body: OverlapIn) -> dict[str, Any]:
        item = body.model_dump(mode="json", exclude_none=True)
        item.setdefault("card_id", None)
        _job(item)
        return item

    def _job(item: dict[str, Any]) -> Job:
        """The job of an overlap: its inks and card looked up in the stash."""
        card = workspace.read("card", item["card_id"])["body"] if item["card_id"] is not None else None
        ids = dict.fromkeys(entry["ink_id"] for entry in item["stack"] if entry.get("ink_id") is not None)
        ranges, today = stash.ranges_of(workspace), date.today()
        inks = {str(i): job_ink(workspace.read("ink", i), ranges, today) for i in ids}
        stack = []
        for entry in item["stack"]:
            plain = {key: value for key, value in entry.items() if key != "ink_id"}
            if entry.get("ink_id") is not None:
                plain["ink"] = str(entry["ink_id"])
            stack.append(plain)
        return contract.read_one(
            {
                "wempa": 1,
                "cardstock": card or {"colour": {"hex": WHITE_CARD}},
                "inks": inks,
                "stack": stack,
                **item["settings"],
            }
        )

    def _desk(item: dict[str, Any]) -> Desk:
        can_undo, can_redo = workspace.can_step()
        return Desk(
            overlap=OverlapOut.model_validate(item),
            crossing=_crossing_out(crossing(_job(item))),
            can_undo=can_undo,
            can_redo=can_redo,
        )

    return router


def _predict_text(body: bytes) -> Response:
    results, listed = predict_text(body)
    dumped = [each.model_dump_json() for each in results]
    return Response(f"[{','.join(dumped)}]" if listed else dumped[0], media_type="application/json")


def _colour(prediction: Prediction) -> ColourInWords:
    return ColourInWords.model_construct(words=describe(prediction.colour.lab.tolist()), result=result(prediction))


def _crossing_out(found: Crossing) -> CrossingOut:
    return CrossingOut.model_construct(
        bare=_colour(found.bare),
        alone=[_colour(p) for p in found.alone],
        pairs=[
            CrossingPair.model_construct(
                below=pair.below,
                above=pair.above,
                words=describe(pair.prediction.colour.lab.tolist()),
                result=result(pair.prediction),
            )
            for pair in found.pairs
        ],
        full=_colour(found.full),
        margin_words=[margin_words(pair.prediction.margin) for pair in found.pairs],
    )
