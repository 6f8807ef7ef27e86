"""Routes of the copies of a workspace: listed, made, fetched, put back."""

from __future__ import annotations

from fastapi.responses import FileResponse

from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.replies import api_router
from wempa.api.services import Services, ServicesNow
from wempa.craft.vocabulary import CopyReason

from .models import CopiesOut, CopyOut

router = api_router()


@router.get("/copies")
def copies(services: ServicesNow) -> CopiesOut:
    """The copies there are, the newest first."""
    return _listed(services)


@router.post("/copies", status_code=201)
@heavy(HeavyWork.FILES)
def make_copy(services: ServicesNow) -> CopiesOut:
    """Copy the workspace as it is now."""
    services.copies.make(CopyReason.ASKED)
    return _listed(services)


@router.get("/copies/{name}", response_class=FileResponse)
def fetch_copy(services: ServicesNow, name: str) -> FileResponse:
    """A copy as a file: a whole workspace."""
    return FileResponse(services.copies.path(name), media_type="application/vnd.sqlite3", filename=f"wempa-{name}")


@router.post("/copies/{name}/restore")
@heavy(HeavyWork.FILES)
def put_copy_back(services: ServicesNow, name: str) -> CopiesOut:
    """Make the workspace what a copy holds; what it is now is kept as a copy first."""
    services.copies.put_back(name)
    return _listed(services)


def _listed(services: Services) -> CopiesOut:
    found = [CopyOut(name=copy.name, at=copy.at, why=copy.why, size=copy.size) for copy in services.copies.listed()]
    return CopiesOut(folder=str(services.copies.folder), copies=found)
