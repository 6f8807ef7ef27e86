"""A photographed swatch sheet as JSON: what `wempa photo` prints (docs/stash-formats.md)."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import RootModel, ValidationError

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.errors import JobError
from wempa.craft.job import Colour as CoreColour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.photo_reading import PhotoMarks, file_notes, find_sheet, read_marked, reading_doubt
from wempa.craft.stash.swatch_sheet import mark_sheet
from wempa.craft.vocabulary import Illuminant, Page
from wempa.formats.job import Colour, first_problem, load_json
from wempa.optics import colorimetry as cm
from wempa.optics import photo as optics
from wempa.optics.grid import Floats

from .photo_file import open_photo


class _KnownSquares(RootModel[dict[str, Colour]]):
    """Known colours by the number of their square, from 0."""


def read_sheet_photo(data: bytes, page: str | None, lamp: str | None, known: bytes | None) -> dict[str, Any]:
    """Every square of a photographed sheet: CIELAB (D65), spread in ΔE00; the lamp; what to know.

    Raises
    ------
    JobError
        No photo, no sheet on it, or something on it cannot be read; one sentence.
    """
    taken = open_photo(data)
    sheet = find_sheet(taken.pixels)
    if sheet.page is None or sheet.corners is None:
        said = (
            sheet.notes[0].text if sheet.notes else "no swatch sheet is seen: its four black discs must be on the photo"
        )
        raise JobError(said)
    used = sheet.page if page is None else Page(page)
    marked = mark_sheet(used, sheet.corners, sheet.large)
    white = cm.lab(spectrum_of(CoreColour(hex=WHITE_CARD), "D65")[0])
    steps = [optics.PrintedStep(step.box, step.share, step.pitch) for step in marked.steps]
    here = {} if known is None else _known_squares(known, len(marked.swatches))
    try:
        marks = PhotoMarks(marked.swatches, marked.whites, marked.dark, steps)
        given = None if lamp is None else Illuminant(lamp)
        read = read_marked(taken.pixels, marks, white, given, here, None, constants.AS_SHIPPED)
    except optics.PhotoError as error:
        raise JobError(str(error)) from error
    table = constants.AS_SHIPPED
    swatches = []
    notes = [note.text for note in (*sheet.notes, *file_notes(taken.raw, taken.copied), *read.notes)]
    for place, one in enumerate(read.readings):
        lab = one.lab.tolist()
        spread, said_ = reading_doubt(lab, one.spread, one.uneven, one.area.kept, one.area.clipped, False, table)
        swatches.append({"lab": [round(v, 2) for v in lab], "spread": round(spread, 2)})
        notes += [f"square {place}: {note.text}" for note in said_ if note.code is not NoteCode.PALE_YELLOW]
    return {"swatches": swatches, "lamp": str(read.lamp), "notes": notes}


def _known_squares(data: bytes, count: int) -> dict[int, Floats]:
    try:
        given = _KnownSquares.model_validate(load_json(data)).root
    except ValidationError as error:
        message, place = first_problem(error)
        raise JobError(message, place) from error
    found: dict[int, Floats] = {}
    for key, colour in given.items():
        if not key.isdecimal() or int(key) >= count:
            raise JobError(f"squares are numbered from 0 to {count - 1}", (key,))
        found[int(key)] = np.asarray(cm.lab(spectrum_of(colour.to_core(), "D65")[0]))
    return found
