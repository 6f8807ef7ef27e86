"""The application: routes over the core and one workspace."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Body, FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, PlainTextResponse, Response
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.staticfiles import StaticFiles
from threadpoolctl import threadpool_limits

from wempa import __version__
from wempa.craft.errors import JobError
from wempa.craft.overlap.crossing import crossing
from wempa.formats import job as contract
from wempa.formats.result import Result, predict_text
from wempa.formats.table import FileError
from wempa.store import Conflict, NotFound, StoreError, Workspace

from . import charts, exchange, matches, overlaps, panels, photos, stash
from .guard import Guard
from .models import CrossingOut, Problem, Stepped
from .overlaps import crossing_out

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
    for part in (
        _routes,
        overlaps.routes,
        charts.routes,
        matches.routes,
        panels.routes,
        stash.routes,
        photos.routes,
        exchange.routes,
    ):
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
        return crossing_out(crossing(contract.read_one(body)))

    @router.post("/undo")
    def undo() -> Stepped:
        """Take back the newest change."""
        return Stepped(what=(workspace.undo() or {}).get("what"))

    @router.post("/redo")
    def redo() -> Stepped:
        """Do again what was undone last."""
        return Stepped(what=(workspace.redo() or {}).get("what"))

    return router


def _predict_text(body: bytes) -> Response:
    results, listed = predict_text(body)
    dumped = [each.model_dump_json() for each in results]
    return Response(f"[{','.join(dumped)}]" if listed else dumped[0], media_type="application/json")
