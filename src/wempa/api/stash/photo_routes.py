"""Routes that read colours: photos, measurement files, and the simulated devices."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from fastapi import Request, Response
from starlette.concurrency import run_in_threadpool

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.replies import api_router
from wempa.api.services import ServicesNow
from wempa.craft.errors import JobError, SheetError
from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import Marked, mark_grid, mark_sheet, mark_strip, sheet_layout
from wempa.formats.stash.items import PhoneItem
from wempa.formats.stash.measurements import read_measurements

from .photo_models import (
    CameraIn,
    MarkedOut,
    MarkIn,
    MeasuredOut,
    PhoneOut,
    PhotoOut,
    ReadIn,
    ReadOut,
    StepArea,
    TeachIn,
)
from .photo_reading import keep_photo, measured_out, phone_out, read_photo, teach_phone

router = api_router()


@router.post(
    "/photos",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"image/jpeg": {}, "image/png": {}, "image/heic": {}, "image/x-adobe-dng": {}},
        }
    },
)
@heavy(HeavyWork.FILES)
async def load_photo(services: ServicesNow, request: Request) -> PhotoOut:
    """Take in a JPEG, PNG, HEIC or DNG; it is brought upright and down to a useful size."""
    data = await request.body()
    return await run_in_threadpool(keep_photo, services.workspace, data, [])


@router.get("/photos/{photo}", response_class=Response)
def show_photo(services: ServicesNow, photo: str) -> Response:
    """The photo as it is kept."""
    return Response(
        services.workspace.photo(photo), media_type="image/jpeg", headers={"cache-control": "max-age=86400"}
    )


@router.post("/photos/{photo}/mark")
def mark(services: ServicesNow, photo: str, body: MarkIn) -> MarkedOut:
    """All areas of a sheet at once."""
    services.workspace.photo(photo)
    corners = np.array(body.corners)
    try:
        if body.page is not None:
            found: Marked = mark_sheet(body.page, corners, body.large)
        elif body.strip:
            found = mark_strip(corners)
        else:
            found = mark_grid(body.columns or 1, body.rows or 1, corners)
    except SheetError as error:
        raise JobError(str(error), ("corners",)) from error
    return MarkedOut(
        swatches=[list(box) for box in found.swatches],
        whites=[list(box) for box in found.whites],
        dark=None if found.dark is None else list(found.dark),
        steps=[StepArea(box=list(step.box), share=step.share, pitch=step.pitch) for step in found.steps],
    )


@router.post("/photos/{photo}/read")
@heavy(HeavyWork.FILES)
def read(services: ServicesNow, photo: str, body: ReadIn) -> ReadOut:
    """Colours of the marked swatches, against the marked white."""
    return read_photo(services.workspace, photo, body, services.shelf().table)


@router.post("/photos/{photo}/teach", status_code=201)
@heavy(HeavyWork.FILES)
def teach(services: ServicesNow, photo: str, body: TeachIn) -> PhoneOut:
    """Learn from well-known swatches on it how this phone sees colours."""
    return teach_phone(services.workspace, photo, body, services.shelf().table)


@router.get("/phones")
def phones(services: ServicesNow) -> list[PhoneOut]:
    """The phones that Wempa was taught."""
    return [phone_out(each) for each in held.read_all(services.workspace, PhoneItem)]


@router.delete("/phones/{item_id}")
def forget_phone(services: ServicesNow, item_id: int) -> list[PhoneOut]:
    """Forget what a phone was taught; undo brings it back."""
    held.delete(services.workspace, PhoneItem, item_id, None, "Forget {}")
    return phones(services)


@router.post(
    "/measurements",
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {}}}},
)
@heavy(HeavyWork.FILES)
async def measurements(services: ServicesNow, request: Request) -> list[MeasuredOut]:
    """Colours of a measurement file (CGATS.17 or CSV)."""
    data = await request.body()
    return await run_in_threadpool(lambda: measured_out(read_measurements(data), services.shelf().table))


@router.post("/devices/camera", status_code=201)
@heavy(HeavyWork.FILES)
def camera(services: ServicesNow, body: CameraIn) -> PhotoOut:
    """Photograph, with the simulated camera, a sheet of inks that are not in the stash."""
    from wempa.demo.camera import PHONES, photograph
    from wempa.demo.penny_halt import LOOSE

    spectra = [spectrum_of(Colour(hex=code), "D65")[0] for _, _, code in LOOSE]
    card = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
    scene = replace(PHONES[body.phone], lamp=body.lamp, uneven=body.uneven, seed=body.seed)
    jpeg = photograph(sheet_layout(body.page), spectra, card, scene)
    return keep_photo(services.workspace, jpeg, [name for name, _, _ in LOOSE])


@router.post("/devices/reader", response_class=Response)
def reader(services: ServicesNow) -> Response:
    """Read, with the simulated reader, inks that are not in the stash: a measurement file."""
    from wempa.demo.penny_halt import LOOSE
    from wempa.demo.reader import measure

    samples = [(name, spectrum_of(Colour(hex=code), "D65")[0]) for name, _, code in LOOSE]
    return Response(measure(samples), media_type="text/plain; charset=utf-8")
