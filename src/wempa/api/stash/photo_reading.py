"""Photos kept and read, and measurement files."""

from __future__ import annotations

import json
from collections.abc import Sequence

import numpy as np

from wempa.craft import constants
from wempa.craft.colour.naming import describe
from wempa.craft.errors import JobError
from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.photo_reading import coinciding, reading_doubt
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, PAGE_MM, page_of
from wempa.craft.vocabulary import Formula, Page
from wempa.formats import job as contract
from wempa.formats.job_result import coded
from wempa.formats.stash.measurements import Measured
from wempa.optics import colorimetry as cm
from wempa.optics import photo as reading
from wempa.optics.grid import white_point
from wempa.store import Workspace

from .photo_models import MeasuredOut, PhotoOut, ReadIn, ReadingOut, ReadOut
from .shown import on_screen

# Black as printers print it, on the sheet.
_PRINTED_BLACK = (25.5, 0.0, 0.0)


def keep_photo(workspace: Workspace, data: bytes, names: list[str]) -> PhotoOut:
    """Store a photo, brought upright and down to a useful size, and look for a printed sheet on it."""
    from wempa.formats.stash import photo_file

    pixels = photo_file.decode(data)
    height, width = pixels.shape[:2]
    photo = workspace.keep_photo(photo_file.encode(pixels), width, height)
    corners = reading.find_marks(pixels, MARK_RADIUS_MM / PAGE_MM[Page.A4][0])
    page = None if corners is None else page_of(corners)
    return PhotoOut(
        photo=photo,
        width=width,
        height=height,
        page=page,
        corners=None if corners is None else corners.round(1).tolist(),
        names=names,
    )


def read_photo(workspace: Workspace, photo: str, body: ReadIn) -> ReadOut:
    """Colours of the marked swatches; raises `JobError`."""
    from wempa.formats.stash import photo_file

    white = Colour(hex=WHITE_CARD)
    if body.white_card is not None:
        card = workspace.read("card", body.white_card)["body"]
        white = contract.Cardstock.model_validate(card).to_core().colour
    white_lab = cm.lab(spectrum_of(white, "D65")[0])
    pixels = photo_file.decode(workspace.photo(photo))

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
                notes=coded(notes),
            )
        )
    labs = np.array([one.lab for one in found]).reshape(-1, 3)
    return ReadOut(readings=readings, alike=[list(pair) for pair in coinciding(labs, table)])


def measured_out(measured: Sequence[Measured]) -> list[MeasuredOut]:
    """Measured colours as the screens take them, worked out together."""
    colours = [contract.Colour.model_validate_json(json.dumps(one.colour())).to_core() for one in measured]
    return [
        MeasuredOut(name=one.name, colour=one.colour(), hex=seen.hex, words=seen.words, lab=seen.lab)
        for one, seen in zip(measured, on_screen(colours), strict=True)
    ]
