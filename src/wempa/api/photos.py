"""Routes that read colours: photos, measurement files, and the simulated devices."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field, model_validator
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from wempa.craft import constants
from wempa.craft.colour.naming import describe
from wempa.craft.errors import JobError, SheetError
from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.photo_reading import coinciding, reading_doubt
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, PAGE_MM, Marked, mark_grid, mark_sheet, sheet_layout
from wempa.craft.vocabulary import Formula, Illuminant, Page
from wempa.formats import job as contract
from wempa.formats.measurements import Measured, read_measurements
from wempa.optics import colorimetry as cm
from wempa.optics import photo as reading
from wempa.optics.grid import white_point
from wempa.store import Workspace

Box = Annotated[list[float], Field(min_length=4, max_length=4)]
Point = Annotated[list[float], Field(min_length=2, max_length=2)]
# Black as printers print it, on the sheet.
_PRINTED_BLACK = (25.5, 0.0, 0.0)
_MOST_AREAS = 400


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class PhotoOut(BaseModel):
    """A photo as it is kept: upright, without what the camera wrote about it."""

    photo: str
    width: int
    height: int
    page: Page | None
    """The printed sheet that was recognised on it."""
    corners: list[Point] | None
    """Centres of that sheet's four discs, in pixels."""
    names: list[str]
    """What is written below the squares, as far as it is known."""


class MarkIn(_Model):
    """A whole sheet to mark: a printed one by its discs, or any grid by its corner swatches."""

    corners: Annotated[list[Point], Field(min_length=4, max_length=4)]
    page: Page | None = None
    columns: Annotated[int, Field(ge=1, le=30)] | None = None
    rows: Annotated[int, Field(ge=1, le=30)] | None = None

    @model_validator(mode="after")
    def _one(self) -> MarkIn:
        if (self.page is None) == (self.columns is None or self.rows is None):
            raise ValueError("give either the page or columns and rows")
        return self


class MarkedOut(BaseModel):
    """Areas in pixels: left, top, right, bottom."""

    swatches: list[Box]
    whites: list[Box]
    dark: Box | None


class SwatchArea(_Model):
    """A swatch to read."""

    box: Box
    formula: Formula = Formula.UNKNOWN


class ReadIn(_Model):
    """What to read off a photo."""

    swatches: Annotated[list[SwatchArea], Field(max_length=_MOST_AREAS)]
    whites: Annotated[list[Box], Field(max_length=_MOST_AREAS)]
    dark: Box | None = None
    white_card: int | None = None
    """The card of the stash that the white is; smooth white card if not said."""
    lamp: Illuminant = Illuminant.D65


class CodedText(BaseModel):
    """A note with a stable code."""

    code: str
    text: str


class ReadingOut(BaseModel):
    """A colour read: `colour` and `spread` go into a swatch as they are."""

    colour: dict[str, Any]
    hex: str
    words: str
    lab: list[float]
    """CIELAB under D65."""
    area_spread: float
    """ΔE00 over the marked area."""
    spread: float
    """ΔE00 that the colour is known to."""
    kept: float
    notes: list[CodedText]


class ReadOut(BaseModel):
    """All readings of a photo, and which pairs of them coincide."""

    readings: list[ReadingOut]
    alike: list[list[int]]


class MeasuredOut(BaseModel):
    """A measured colour."""

    name: str
    colour: dict[str, Any]
    hex: str
    words: str
    lab: list[float]


class CameraIn(_Model):
    """How the simulated camera takes its photo."""

    lamp: Literal["daylight", "warm lamp", "led lamp"] = "daylight"
    uneven: Annotated[float, Field(ge=0, le=0.6)] = 0.25
    page: Page = Page.A4
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()

    @router.post(
        "/photos",
        status_code=201,
        openapi_extra={"requestBody": {"required": True, "content": {"image/jpeg": {}, "image/png": {}}}},
    )
    async def load_photo(request: Request) -> PhotoOut:
        """Take in a JPEG or PNG; it is brought upright and down to a useful size."""
        data = await request.body()
        return await run_in_threadpool(_keep, workspace, data, [])

    @router.get("/photos/{photo}", response_class=Response)
    def show_photo(photo: str) -> Response:
        """The photo as it is kept."""
        return Response(workspace.photo(photo), media_type="image/jpeg", headers={"cache-control": "max-age=86400"})

    @router.post("/photos/{photo}/mark")
    def mark(photo: str, body: MarkIn) -> MarkedOut:
        """All areas of a sheet at once."""
        workspace.photo(photo)
        corners = np.array(body.corners)
        try:
            if body.page is not None:
                found: Marked = mark_sheet(body.page, corners)
            else:
                found = mark_grid(body.columns or 1, body.rows or 1, corners)
        except SheetError as error:
            raise JobError(str(error), ("corners",)) from error
        return MarkedOut(
            swatches=[list(box) for box in found.swatches],
            whites=[list(box) for box in found.whites],
            dark=None if found.dark is None else list(found.dark),
        )

    @router.post("/photos/{photo}/read")
    def read(photo: str, body: ReadIn) -> ReadOut:
        """Colours of the marked swatches, against the marked white."""
        return _read(workspace, photo, body)

    @router.post("/measurements", openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {}}}})
    async def measurements(request: Request) -> list[MeasuredOut]:
        """Colours of a measurement file (CGATS.17 or CSV)."""
        data = await request.body()
        return await run_in_threadpool(lambda: [_measured(one) for one in read_measurements(data)])

    @router.post("/devices/camera", status_code=201)
    def camera(body: CameraIn) -> PhotoOut:
        """Photograph, with the simulated camera, a sheet of inks that are not in the stash."""
        from wempa.demo.camera import Scene, photograph
        from wempa.demo.penny_halt import LOOSE

        spectra = [spectrum_of(Colour(hex=code), "D65")[0] for _, _, code in LOOSE]
        card = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
        scene = Scene(lamp=body.lamp, uneven=body.uneven, seed=body.seed)
        jpeg = photograph(sheet_layout(body.page), spectra, card, scene)
        return _keep(workspace, jpeg, [name for name, _, _ in LOOSE])

    @router.post("/devices/reader", response_class=Response)
    def reader() -> Response:
        """Read, with the simulated reader, inks that are not in the stash: a measurement file."""
        from wempa.demo.penny_halt import LOOSE
        from wempa.demo.reader import measure

        samples = [(name, spectrum_of(Colour(hex=code), "D65")[0]) for name, _, code in LOOSE]
        return Response(measure(samples), media_type="text/plain; charset=utf-8")

    return router


def _keep(workspace: Workspace, data: bytes, names: list[str]) -> PhotoOut:
    from wempa.formats import image

    pixels = image.decode(data)
    height, width = pixels.shape[:2]
    photo = workspace.keep_photo(image.encode(pixels), width, height)
    corners = reading.find_marks(pixels, MARK_RADIUS_MM / PAGE_MM[Page.A4][0])
    page = None
    if corners is not None:
        # The two sizes differ in shape: how long the sides are against how wide.
        top, right, bottom, left = (np.linalg.norm(corners[(k + 1) % 4] - corners[k]) for k in range(4))
        shape = {page: _shape(page) for page in Page}
        page = min(Page, key=lambda page: abs(np.log((left + right) / (top + bottom) / shape[page])))
    return PhotoOut(
        photo=photo,
        width=width,
        height=height,
        page=page,
        corners=None if corners is None else corners.round(1).tolist(),
        names=names,
    )


def _shape(page: Page) -> float:
    marks = sheet_layout(page).marks
    return (marks[3][1] - marks[0][1]) / (marks[1][0] - marks[0][0])


def _read(workspace: Workspace, photo: str, body: ReadIn) -> ReadOut:
    from wempa.formats import image

    white = Colour(hex=WHITE_CARD)
    if body.white_card is not None:
        card = workspace.read("card", body.white_card)["body"]
        white = contract.Cardstock.model_validate(card).to_core().colour
    white_lab = cm.lab(spectrum_of(white, "D65")[0])
    pixels = image.decode(workspace.photo(photo))

    def box(given: list[float]) -> reading.Box:
        return (given[0], given[1], given[2], given[3])

    try:
        found = reading.read_swatches(
            pixels,
            [box(area.box) for area in body.swatches],
            [box(area) for area in body.whites],
            white_lab,
            None if body.dark is None else box(body.dark),
            np.array(_PRINTED_BLACK),
            str(body.lamp),
        )
    except reading.PhotoError as error:
        raise JobError(str(error)) from error
    table = constants.values()
    readings = []
    for one, area in zip(found, body.swatches, strict=True):
        lab = one.lab.tolist()
        glows = area.formula is Formula.FLUORESCENT
        spread, notes = reading_doubt(lab, one.spread, one.area.kept, one.area.clipped, glows, table)
        rgb, _ = cm.srgb_from_xyz(cm.xyz_from_lab(one.lab, white_point("D65")), "D65")
        rounded = [round(v, 2) for v in lab]
        readings.append(
            ReadingOut(
                colour={"lab": rounded, "illuminant": "D65"},
                hex=cm.hex_from_rgb(rgb),
                words=describe(lab),
                lab=rounded,
                area_spread=round(one.spread, 2),
                spread=round(spread, 2),
                kept=round(one.area.kept, 3),
                notes=[CodedText(code=note.code, text=note.text) for note in notes],
            )
        )
    labs = np.array([one.lab for one in found]).reshape(-1, 3)
    return ReadOut(readings=readings, alike=[list(pair) for pair in coinciding(labs, table)])


def _measured(one: Measured) -> MeasuredOut:
    colour = contract.Colour.model_validate_json(json.dumps(one.colour()))
    spectrum, _ = spectrum_of(colour.to_core(), "D65")
    lab = cm.lab(spectrum)
    rgb, _ = cm.srgb_from_xyz(cm.xyz(spectrum), "D65")
    return MeasuredOut(
        name=one.name,
        colour=one.colour(),
        hex=cm.hex_from_rgb(rgb),
        words=describe(lab.tolist()),
        lab=[round(v, 2) for v in lab.tolist()],
    )
