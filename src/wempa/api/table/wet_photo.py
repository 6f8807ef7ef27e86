"""A photo of a panel that is still wet, and how it will look when it is dry."""

from __future__ import annotations

from base64 import b64encode
from dataclasses import replace
from io import BytesIO
from typing import Annotated

import numpy as np
from PIL import Image
from pydantic import BaseModel, Field

from wempa.api.models import Strict
from wempa.api.panels.making import MadePanel
from wempa.api.stash.photo_models import Box, PhotoOut, Point
from wempa.api.stash.photo_reading import keep_photo
from wempa.craft.errors import JobError, SheetError
from wempa.craft.job import Stash
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.stash.photo_reading import PhotoMarks, read_marked
from wempa.craft.table.dry_look import dry_look, grid_boxes, margin_of, spots_on, wet_and_dry
from wempa.craft.vocabulary import Illuminant
from wempa.formats.job import Whole
from wempa.formats.job_result import CodedText, coded
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.optics.photo.areas import PhotoError
from wempa.store import Workspace

# Spots across the longer side of a panel; those of the picture that is given back.
_SPOTS, _SCALE = 36, 12


class WetPhotoIn(Strict):
    """Where a wet panel lies on a photo, in pixels, and bare card of the same kind beside it."""

    panel_id: Whole
    photo: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    corners: Annotated[list[Point], Field(min_length=4, max_length=4)]
    """From the panel's top left round to the right."""
    bare: Box
    """Left, top, right, bottom of bare card."""
    lamp: Illuminant | None = None


class SimulatedPanel(BaseModel):
    """A photo of the simulated camera, and where on it everything lies."""

    photo: PhotoOut
    corners: list[Point]
    bare: Box


class WetPhotoOut(BaseModel):
    """The panel as it was photographed, and as it will look."""

    wet: str
    """A PNG as data, the panel straightened."""
    dry: str
    lamp: Illuminant
    notes: list[CodedText]


def forecast(workspace: Workspace, made: MadePanel, asked: WetPhotoIn) -> WetPhotoOut:
    """The dry look of a wet panel off a photo; raises `JobError` where nothing can be read."""
    from wempa.formats.stash import photo_file

    if not made.panel.bands:
        raise JobError("this panel has no bands to compare a photo with")
    pixels = photo_file.decode(workspace.photo(asked.photo))
    front = made.panel.front
    columns = max(2, round(_SPOTS * front.width / max(front.width, front.height)))
    rows = max(2, round(_SPOTS * front.height / max(front.width, front.height)))
    try:
        boxes = grid_boxes(asked.corners, columns, rows)
    except SheetError as error:
        raise JobError(f"these corners are no panel’s: {error.message}", ("corners",)) from error
    day = replace(made.job, stash=Stash(), illuminant=Illuminant.D65)
    card = prepare_card(day.cardstock, "D65", day.constants).lab
    left, top, right, bottom = asked.bare
    marks = PhotoMarks(boxes, [(left, top, right, bottom)])
    try:
        found = read_marked(pixels, marks, card, asked.lamp, {}, None, made.table)
    except PhotoError as error:
        raise JobError(str(error)) from error
    seen = np.array([one.lab for one in found.readings]).reshape(-1, 3)
    x, y = spots_on(made.panel, columns, rows)
    spread = float(np.mean([one.spread for one in found.readings]))
    known = wet_and_dry(day, made.panel, made.study())
    dry = dry_look(known, made.panel, x, y, seen, spread, margin_of(day, made.panel))
    return WetPhotoOut(
        wet=_picture(seen, columns, rows),
        dry=_picture(dry, columns, rows),
        lamp=found.lamp,
        notes=coded(found.notes),
    )


# How much more than planned the simulated hand lays.
_HAND = 1.2


def simulated(workspace: Workspace, made: MadePanel, phone: str) -> SimulatedPanel:
    """A wet panel as the simulated hand lays it; raises `JobError` for a phone that is none."""
    from wempa.demo.camera import PHONES
    from wempa.demo.wet_panel import photograph_wet

    if phone not in PHONES:
        raise JobError("the simulated camera knows no such phone")
    if not made.panel.bands:
        raise JobError("this panel has no bands yet, so there is nothing to lay")
    job = replace(made.job, stash=Stash())
    taken = photograph_wet(job, made.panel, made.study(), _HAND, phone, "daylight", fine=True)
    return SimulatedPanel(
        photo=keep_photo(workspace, taken.data, []),
        corners=taken.corners,
        bare=taken.bare,
    )


def _picture(lab: np.ndarray[tuple[int, ...], np.dtype[np.float64]], columns: int, rows: int) -> str:
    """Spots row by row as a PNG, as data for the page."""
    coded_light, _ = cm.srgb_from_xyz(cm.xyz_from_lab(lab, white_point("D65")), "D65")
    pixels = np.rint(255 * np.clip(coded_light, 0, 1)).astype(np.uint8).reshape(rows, columns, 3)
    image = Image.fromarray(pixels).resize((columns * _SCALE, rows * _SCALE), Image.Resampling.BICUBIC)
    out = BytesIO()
    image.save(out, "PNG")
    return "data:image/png;base64," + b64encode(out.getvalue()).decode("ascii")
