"""Photos kept and read, and measurement files."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime

import numpy as np

from wempa.api import held
from wempa.api.held import Held
from wempa.craft.codes import NoteCode
from wempa.craft.colour.naming import describe
from wempa.craft.errors import JobError
from wempa.craft.job import Colour, Note
from wempa.craft.limits import MAX_PHOTOS, WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.photo_reading import (
    LEAST_KNOWN,
    PhotoMarks,
    SheetRead,
    coinciding,
    file_notes,
    find_sheet,
    inked_squares,
    read_marked,
    reading_doubt,
    sure_words,
    taught_by,
    well_known_lab,
)
from wempa.craft.vocabulary import Formula
from wempa.formats import job as contract
from wempa.formats.job_result import coded
from wempa.formats.stash.items import CardItem, InkItem, PhoneItem
from wempa.formats.stash.measurements import Measured
from wempa.optics import colorimetry as cm
from wempa.optics import photo as reading
from wempa.optics.grid import Floats, white_point
from wempa.store import Workspace

from .photo_models import InkedSquare, MeasuredOut, PhoneOut, PhotoOut, ReadIn, ReadingOut, ReadOut, TeachIn
from .shown import on_screen


def keep_photo(workspace: Workspace, data: bytes, names: list[str]) -> PhotoOut:
    """Store a photo, brought upright and down to a useful size, and look for a printed sheet on it."""
    from wempa.formats.stash import photo_file

    taken = photo_file.open_photo(data)
    pixels = taken.pixels
    height, width = pixels.shape[:2]
    kept = workspace.take_photo(photo_file.encode(pixels), width, height)
    sheet = find_sheet(pixels)
    return PhotoOut(
        photo=kept.hash,
        width=width,
        height=height,
        page=sheet.page,
        large=sheet.large,
        corners=None if sheet.page is None or sheet.corners is None else sheet.corners.round(1).tolist(),
        names=names,
        phone=taken.phone,
        notes=coded([*sheet.notes, *file_notes(taken.raw, taken.copied), *_gave_way(kept.gone)]),
    )


def _gave_way(gone: tuple[str, ...]) -> list[Note]:
    if not gone:
        return []
    days = sorted({datetime.fromisoformat(at).strftime("%-d %B") for at in gone})
    text = (
        f"Wempa keeps {MAX_PHOTOS} photos; of those that no swatch was read off the oldest gave way: {', '.join(days)}."
    )
    return [Note(NoteCode.PHOTO_GONE, text)]


def read_photo(workspace: Workspace, photo: str, body: ReadIn, table: Mapping[str, float]) -> ReadOut:
    """Colours of the marked swatches; raises `JobError`."""
    known = _known(workspace, body, table)
    phone = _phone(workspace, body.phone)
    found = _read(workspace, photo, body, known, phone, table)
    inked: list[InkedSquare] | None = None
    if body.whole_sheet is not None:
        squares = inked_squares(found.readings, body.whole_sheet.names)
        inked = [InkedSquare(at=at, name=name) for at, name in squares]
        if len(squares) < len(found.readings):
            body = body.model_copy(update={"swatches": [body.swatches[at] for at, _ in squares]})
            known = _known(workspace, body, table)
            # Read again: a bare square says nothing of the light that inks are seen in.
            found = _read(workspace, photo, body, known, phone, table) if squares else replace(found, readings=[])
    readings = []
    for one, area in zip(found.readings, body.swatches, strict=True):
        lab = one.lab.tolist()
        glows = area.formula is Formula.FLUORESCENT
        spread, notes = reading_doubt(lab, one.spread, one.uneven, one.area.kept, one.area.clipped, glows, table)
        rgb, _ = cm.srgb_from_xyz(cm.xyz_from_lab(one.lab, white_point("D65")), "D65")
        rounded = [round(v, 2) for v in lab]
        readings.append(
            ReadingOut(
                colour={"lab": rounded, "illuminant": "D65"},
                hex=cm.hex_from_rgb(rgb),
                words=describe(lab),
                lab=rounded,
                area_spread=round(one.uneven, 2),
                spread=round(spread, 2),
                sure=sure_words(spread),
                kept=round(one.area.kept, 3),
                bare=one.bare,
                notes=coded(notes),
            )
        )
    labs = np.array([one.lab for one in found.readings]).reshape(-1, 3)
    profile = None if phone is None else phone.item.profile()
    return ReadOut(
        inked=inked,
        readings=readings,
        alike=[list(pair) for pair in coinciding(labs, table)],
        lamp=found.lamp,
        notes=coded(found.notes),
        known=len(known),
        teaches=len(known) >= LEAST_KNOWN,
        taught=0 if profile is None else len(profile.seen.get(found.lamp, ())),
    )


def teach_phone(workspace: Workspace, photo: str, body: TeachIn, table: Mapping[str, float]) -> PhoneOut:
    """Keep what a photo with well-known swatches tells of its phone; raises `JobError`."""
    known = _known(workspace, body, table)
    if len(known) < LEAST_KNOWN:
        raise JobError(
            f"{len(known)} of its swatches are inks whose colour is well known; a phone is learned from {LEAST_KNOWN}"
        )
    phone = _phone(workspace, body.phone)
    found = _read(workspace, photo, body, known, phone, table)
    profile = None if phone is None else phone.item.profile()
    item = PhoneItem.of_profile(taught_by(found, profile, body.phone))
    number, revision = (None, None) if phone is None else (phone.id, phone.revision)
    what = f"Learn how {body.phone} sees colours"
    return phone_out(held.write(workspace, item, over=number, revision=revision, what=what))


def phone_out(phone: Held[PhoneItem]) -> PhoneOut:
    """A stored phone as the screens take it."""
    return PhoneOut(
        id=phone.id,
        name=phone.name,
        swatches={lamp: len(rows) for lamp, rows in phone.item.seen.items()},
        tones=bool(phone.item.curve),
    )


def _phone(workspace: Workspace, name: str) -> Held[PhoneItem] | None:
    """The phone of that name as Wempa was taught it."""
    return next((each for each in held.read_all(workspace, PhoneItem) if name and each.name == name), None)


def _known(workspace: Workspace, body: ReadIn, table: Mapping[str, float]) -> dict[int, Floats]:
    """CIELAB (D65) of those swatches that are well-known inks of the stash, by place."""
    found: dict[int, Floats] = {}
    white_lab = _white_lab(workspace, body)
    for place, area in enumerate(body.swatches):
        if area.ink is None:
            continue
        item = held.read(workspace, InkItem, area.ink).item
        ink = replace(item.ink.to_core(), formula=item.formula)
        lab = well_known_lab(ink, white_lab, table)
        if lab is not None:
            found[place] = lab
    return found


def _read(
    workspace: Workspace,
    photo: str,
    body: ReadIn,
    known: dict[int, Floats],
    phone: Held[PhoneItem] | None,
    table: Mapping[str, float],
) -> SheetRead:
    from wempa.formats.stash import photo_file

    marks = PhotoMarks(
        [_box(area.box) for area in body.swatches],
        [_box(area) for area in body.whites],
        None if body.dark is None else _box(body.dark),
        [reading.PrintedStep(_box(step.box), step.share, step.pitch) for step in body.steps],
    )
    pixels = photo_file.decode(workspace.photo(photo))
    profile = None if phone is None else phone.item.profile()
    white_lab = _white_lab(workspace, body)
    try:
        return read_marked(pixels, marks, white_lab, body.lamp, known, profile, table)
    except reading.PhotoError as error:
        raise JobError(str(error)) from error


def _white_lab(workspace: Workspace, body: ReadIn) -> Floats:
    """CIELAB (D65) of the card that is white on the photo."""
    white = Colour(hex=WHITE_CARD)
    if body.white_card is not None:
        white = held.read(workspace, CardItem, body.white_card).item.card.to_core().colour
    return np.asarray(cm.lab(spectrum_of(white, "D65")[0]))


def _box(given: list[float]) -> reading.Box:
    return (given[0], given[1], given[2], given[3])


def measured_out(measured: Sequence[Measured], table: Mapping[str, float]) -> list[MeasuredOut]:
    """Measured colours as the screens take them, worked out together."""
    colours = [contract.Colour.model_validate_json(json.dumps(one.colour())).to_core() for one in measured]
    return [
        MeasuredOut(name=one.name, colour=one.colour(), hex=seen.hex, words=seen.words, lab=seen.lab)
        for one, seen in zip(measured, on_screen(colours, table), strict=True)
    ]
