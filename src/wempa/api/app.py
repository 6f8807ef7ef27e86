"""The application: routes over the core and one workspace."""

from __future__ import annotations

import asyncio
import logging
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Annotated, Any

from fastapi import Body, FastAPI, Request
from fastapi.responses import FileResponse, PlainTextResponse, Response
from starlette.concurrency import run_in_threadpool
from starlette.middleware.gzip import GZipMiddleware
from starlette.routing import Route
from starlette.staticfiles import StaticFiles
from threadpoolctl import threadpool_limits

from wempa import __version__
from wempa.api.overlap.models import CrossingOut
from wempa.api.overlap.shown import crossing_out
from wempa.craft.limits import JOURNAL_DAYS, JOURNAL_MEGABYTES
from wempa.craft.overlap.crossing import crossing
from wempa.craft.vocabulary import CopyReason
from wempa.formats import job as contract
from wempa.formats.job_result import Result, predict_text
from wempa.store import Copy, StoreError, Workspace

from .guard import Guard
from .heavy.lanes import HeavyWork, heavy
from .heavy.nursery import Nursery
from .heavy.pool import Pool
from .heavy.turns import Turns
from .log import routes as log
from .models import Stepped
from .overlap import routes as overlap
from .pairing import routes as pairing
from .pairing.door import Door, Lan
from .panels import routes as panels
from .replies import PREFIX, api_router, handle_errors
from .search import chart_routes, match_routes
from .services import Services, ServicesNow
from .stash import copy_routes, entry_routes, exchange_routes, photo_routes
from .stash import routes as stash
from .table import routes as table
from .tabs import Authors

STATIC = Path(__file__).parent / "static"
LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
router = api_router()
_LOG = logging.getLogger("uvicorn.error")
# How often, in seconds, the service checks whether a new day has begun.
_LOOK_EVERY = 900


@dataclass(frozen=True, slots=True)
class JournalKept:
    """How much of the journal of changes is kept."""

    days: float = JOURNAL_DAYS
    megabytes: float = JOURNAL_MEGABYTES


def create_app(
    workspace: Workspace,
    hosts: frozenset[str] | None = None,
    static: Path = STATIC,
    copies: bool = True,
    lan: Lan | None = None,
    journal: JournalKept | None = None,
    nursery: Nursery | None = None,
    bare: bool = False,
) -> FastAPI:
    """The service for one workspace, answering to the named hosts, those of this machine if none are named.

    `static` is the built front end; without one the root says how to build it. With `copies`
    the workspace is copied when the service starts and once a day, and then its journal is trimmed to
    what is kept. With `lan` it is served to the network, and who does not come from this machine itself
    has to be paired. With a `nursery` heavy work is done in processes of its own; `bare` is how such a
    process makes it, with nothing before the routes.
    """
    services = Services(workspace, lan)
    pool = None if nursery is None else Pool(nursery, workspace.path)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        # Several requests share the machine; each matrix product on every core
        # would only make them wait for one another.
        with threadpool_limits(1):
            keeping = asyncio.create_task(_keep_copies(services, journal or JournalKept())) if copies else None
            if pool is not None:
                pool.open()
            yield
            if pool is not None:
                await pool.close()
            if keeping is not None:
                keeping.cancel()
                await asyncio.gather(keeping, return_exceptions=True)
        workspace.close()

    app = FastAPI(
        title="Wempa",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.services = services
    app.add_middleware(Authors, tabs=services.tabs)
    app.add_middleware(GZipMiddleware, minimum_size=1000)
    stashed = (stash, entry_routes, photo_routes, exchange_routes, copy_routes)
    rooms = (overlap, chart_routes, match_routes, panels, *stashed, log, table, pairing)
    routes = [route for each in (router, *[room.router for room in rooms]) for route in each.routes]
    if not bare:
        timed = [route for route in routes if isinstance(route, Route)]
        app.add_middleware(Turns, routes=timed, prefix=PREFIX, pool=pool)
        if lan is not None:
            app.add_middleware(Door, lan=lan)
        app.add_middleware(Guard, hosts=LOOPBACK if hosts is None else hosts)
    handle_errors(app)
    app.router.routes.extend(routes)
    if (static / "index.html").is_file():
        app.mount("/assets", _Hashed(directory=static / "assets"))

        @app.get("/", include_in_schema=False)
        def index() -> FileResponse:
            return FileResponse(static / "index.html", headers={"cache-control": "no-cache"})

        @app.get("/sw.js", include_in_schema=False)
        def service_worker() -> FileResponse:
            return FileResponse(static / "sw.js", headers={"cache-control": "no-cache"})

        @app.get("/wempa.webmanifest", include_in_schema=False)
        def manifest() -> FileResponse:
            kind = "application/manifest+json"
            return FileResponse(static / "wempa.webmanifest", media_type=kind, headers={"cache-control": "no-cache"})

    else:

        @app.get("/", include_in_schema=False)
        def unbuilt() -> PlainTextResponse:
            return PlainTextResponse("The front end is not built. Run `make demo`, or `npm run build` in web/.\n")

    return app


def worker_app(path: Path) -> FastAPI:
    """The application as a worker answers with it, from a workspace file."""
    return create_app(Workspace(path), copies=False, bare=True)


class _Hashed(StaticFiles):
    """Files with a hash of their contents in their names: what was fetched once is good for a year."""

    def file_response(self, *args: Any, **kwargs: Any) -> Response:
        """The file, to be kept."""
        response = super().file_response(*args, **kwargs)
        response.headers["cache-control"] = "public, max-age=31536000, immutable"
        return response


async def _keep_copies(services: Services, keep: JournalKept) -> None:
    """Copy the workspace at the start and once a day if it has changed, on a thread of its own.

    The journal is trimmed after the copy, so that the copy holds all of it.

    The journal is trimmed after it, so that the copy has all of it.
    """
    copies = services.copies
    make: Callable[[], Copy | None] = partial(copies.make_if_changed, CopyReason.START)
    while True:
        try:
            await run_in_threadpool(make)
            await run_in_threadpool(services.workspace.trim_journal, keep.days, keep.megabytes * 1e6)
        except (StoreError, OSError) as error:
            _LOG.warning("%s", error)
        make = copies.make_daily
        await asyncio.sleep(_LOOK_EVERY)


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
@heavy(HeavyWork.QUICK)
async def predict_jobs(request: Request) -> Response:
    """Predict a job, or each of a list of jobs, of the contract."""
    body = await request.body()
    return await run_in_threadpool(_predict_text, body)


def _predict_text(body: bytes) -> Response:
    results, listed = predict_text(body)
    dumped = [each.model_dump_json() for each in results]
    return Response(f"[{','.join(dumped)}]" if listed else dumped[0], media_type="application/json")


@router.post("/crossing")
@heavy(HeavyWork.QUICK)
def cross(body: Annotated[dict[str, Any], Body()]) -> CrossingOut:
    """A job as crossing swatches: each ink alone and every pair both ways."""
    return crossing_out(crossing(contract.read_one(body)))


@router.post("/undo")
def undo(services: ServicesNow, anyway: bool = False) -> Stepped:
    """Take back the newest change; if another tab made it in the meantime, only with `anyway` (409 otherwise)."""
    return Stepped(what=(services.workspace.undo(None if anyway else services.tabs.others) or {}).get("what"))


@router.post("/redo")
def redo(services: ServicesNow, anyway: bool = False) -> Stepped:
    """Do again what was undone last; if another tab undid it in the meantime, only with `anyway` (409 otherwise)."""
    return Stepped(what=(services.workspace.redo(None if anyway else services.tabs.others) or {}).get("what"))
