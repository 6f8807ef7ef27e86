"""Colours read off a photo of swatches: which phone, which lamp, how far each can be trusted, what to say.

The optics are in `wempa.optics.photo`; here is what a person is told and what counts as well known.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import hypot

import numpy as np

from wempa.craft.codes import NoteCode
from wempa.craft.errors import SheetError
from wempa.craft.job import Ink, Note
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, PAGE_MM, mark_sheet, page_of, shape_off, sheet_layout
from wempa.craft.vocabulary import Formula, Illuminant, Known, Page
from wempa.optics import colorimetry as cm
from wempa.optics import photo as optics
from wempa.optics.grid import Floats
from wempa.optics.photo import Lighting, PrintedStep, Reading, SeenSwatch, ToneCurve

_GLARE_KEPT, _CLIPPED = 0.8, 0.15
PRINTED_BLACK: Floats = np.array([25.5, 0.0, 0.0])
"""Black as printers print it, CIELAB."""
WELL_KNOWN = frozenset({Known.READER, Known.MEASURED, Known.FITTED})
"""Colours that a phone may be judged by: they did not come through a phone or an eye."""
LEAST_KNOWN = 8
"""From so many well-known swatches on, a photo teaches a phone."""
MOST_SEEN = 200
"""Known swatches kept of a phone under one lamp; older ones give way."""
# Daylight is not told from warmer daylight by its cast.
_DAYLIGHTS = (Illuminant.D65, Illuminant.D50)


RAW_NOTE = Note(
    NoteCode.RAW,
    "A raw photo: the sensor's own light, which no phone has painted over. It is the best that you can give.",
)
COPIED_NOTE = Note(
    NoteCode.COPIED,
    "No camera writes a file like this: if it is a screenshot or a copy, send the photo itself instead.",
)
# Deviation of whites from an even fall of light, in ln of light; from so many whites on it is told.
_SHADOW, _ENOUGH_WHITES = 0.06, 8
# Blur of a disc's edge beyond which a photo is out of focus, in radii; how far the black square must be
# below bare card; how far a sheet's shape may be off.
_BLURRED, _DARK_ENOUGH, _SHAPE_OFF = 0.55, 0.5, 0.12


def file_notes(raw: bool, copied: bool) -> list[Note]:
    """What to know of a photo's file: the sensor's own light, or nothing that a camera wrote."""
    return [*([RAW_NOTE] if raw else []), *([COPIED_NOTE] if copied else [])]


@dataclass(frozen=True, slots=True, eq=False)
class FoundSheet:
    """A printed sheet on a photo, if there is one."""

    page: Page | None
    corners: Floats | None
    """Centres of its discs in pixels, (4, 2)."""
    notes: list[Note]
    large: bool = False
    """Whether it is one with few, large squares."""


def find_sheet(pixels: optics.Pixels) -> FoundSheet:
    """Look for the printed swatch sheet, and say what is wrong with how it lies."""
    corners = optics.find_marks(pixels, MARK_RADIUS_MM / PAGE_MM[Page.A4][0])
    if corners is None:
        return FoundSheet(None, None, [])
    page = page_of(corners)
    layout = sheet_layout(page)
    cut = Note(
        NoteCode.NO_SHEET,
        "Not all four black discs of a sheet are seen: take the photo so that the whole sheet is on it.",
    )
    if shape_off(page, corners) > _SHAPE_OFF:
        return FoundSheet(None, None, [cut])
    try:
        marked = mark_sheet(page, corners)
        assert marked.dark is not None
        dark, bare = (optics.look_at(pixels, box).light.mean() for box in (marked.dark, marked.whites[0]))
    except (SheetError, optics.PhotoError):
        return FoundSheet(None, None, [cut])
    # With large squares black and bare card have changed places.
    large = dark > bare
    if min(dark, bare) > _DARK_ENOUGH * max(dark, bare):
        return FoundSheet(None, None, [cut])
    notes = []
    scale = float(np.linalg.norm(corners[1] - corners[0])) / (layout.marks[1][0] - layout.marks[0][0])
    if optics.focus(pixels, corners, MARK_RADIUS_MM * scale) > _BLURRED:
        notes.append(
            Note(NoteCode.BLURRED, "The photo is out of focus: hold still, tap on the sheet to focus, take it again.")
        )
    return FoundSheet(page, corners, notes, bool(large))


@dataclass(frozen=True, slots=True, eq=False)
class PhoneProfile:
    """What is known of one phone."""

    name: str
    seen: Mapping[Illuminant, tuple[SeenSwatch, ...]] = field(default_factory=dict)
    """Known swatches as it saw them, by lamp, the oldest first."""
    curve: ToneCurve | None = None
    """Its tone curve, from a photo with grey steps."""


@dataclass(frozen=True, slots=True)
class PhotoMarks:
    """What is marked on a photo, in pixels."""

    swatches: Sequence[optics.Box]
    whites: Sequence[optics.Box]
    dark: optics.Box | None = None
    steps: Sequence[PrintedStep] = ()


@dataclass(frozen=True, slots=True)
class SheetRead:
    """All that was read off a photo."""

    readings: list[Reading]
    lamp: Illuminant
    """The light that it was read under."""
    notes: list[Note]
    lighting: Lighting
    known: list[SeenSwatch]
    """The known swatches of this photo as the phone saw them."""


def read_marked(
    pixels: optics.Pixels,
    marks: PhotoMarks,
    white_lab: Floats,
    lamp: Illuminant | None,
    known: Mapping[int, Floats],
    profile: PhoneProfile | None,
    table: Mapping[str, float],
) -> SheetRead:
    """Read the marked swatches of a photo.

    `white_lab` is the card's CIELAB (D65); `lamp` None to let the photo tell; `known` the CIELAB of those
    swatches whose colour is well known, by place; `profile` what is known of the phone.

    Raises
    ------
    PhotoError
        Nothing can be read; one sentence.
    """
    # A sheet of before there were steps has bare card in their place.
    if not optics.has_steps(pixels, marks.steps, marks.whites):
        marks = replace(marks, steps=())
    curve = None if profile is None else profile.curve
    dark_lab = None if marks.dark is None else PRINTED_BLACK
    lighting = optics.light_of(pixels, marks.whites, white_lab, marks.dark, dark_lab, marks.steps, curve)
    seen = optics.known_as_seen(pixels, marks.swatches, lighting, white_lab, dict(known))
    notes = [*_of_light(lighting), *_of_tones(lighting, marks, profile)]
    used, doubts = _lamp_of(lighting, seen, lamp, table)
    notes += doubts
    taught = () if profile is None else profile.seen.get(used, ())
    if profile is not None and taught:
        notes.append(
            Note(
                NoteCode.KNOWN_PHONE,
                f"Read with what {profile.name} taught Wempa from {len(taught)} swatches in this light.",
            )
        )
    elif profile is not None and any(profile.seen.values()):
        notes.append(
            Note(NoteCode.OTHER_LIGHT, f"{profile.name} is known in another light only; this photo is read like any.")
        )
    readings = optics.read_swatches(pixels, marks.swatches, lighting, white_lab, str(used), _together(taught, seen))
    return SheetRead(readings, used, notes, lighting, seen)


def inked_squares(readings: Sequence[Reading], names: Sequence[str]) -> list[tuple[int, str | None]]:
    """The squares of a whole sheet that somebody inked, by place, each with its name.

    Names follow the squares that are inked. Where `names` is empty, squares keep those that they have: None.
    """
    inked = [place for place, reading in enumerate(readings) if not reading.bare]
    if not names:
        return [(place, None) for place in inked]
    return [(place, names[n] if n < len(names) else "") for n, place in enumerate(inked)]


def _of_light(lighting: Lighting) -> list[Note]:
    whites = lighting.whites
    if len(whites) < _ENOUGH_WHITES:
        return []
    smooth = optics.white_field(whites, np.array([area.centre for area in whites]))
    off = np.log(np.stack([area.light for area in whites]) / smooth)
    if float(np.sqrt((off**2).mean())) > _SHADOW:
        return [
            Note(
                NoteCode.SHADOW,
                "A shadow or a reflection lies across the sheet: turn it to the light and take it again.",
            )
        ]
    return []


def _of_tones(lighting: Lighting, marks: PhotoMarks, profile: PhoneProfile | None) -> list[Note]:
    if not lighting.tones:
        said = (
            "There are no grey steps on it, so nobody knows how this phone bends light and dark: the colours are "
            "less sure. The swatch sheet and the strip have them."
        )
        return [Note(NoteCode.NO_STEPS, said)]
    if not marks.steps and profile is not None:
        return [Note(NoteCode.KEPT_TONES, f"Light and dark are taken as {profile.name} bent them before.")]
    return []


def _lamp_of(
    lighting: Lighting, seen: Sequence[SeenSwatch], lamp: Illuminant | None, table: Mapping[str, float]
) -> tuple[Illuminant, list[Note]]:
    """The light to read under, and a doubt where the photo looks like another."""
    chances = optics.likely_lamp(lighting.white, lighting.strength, seen, lighting.kind)
    daylight = sum(chances[str(each)] for each in _DAYLIGHTS)
    told = {
        Illuminant.D65: daylight,
        **{Illuminant(k): v for k, v in chances.items() if Illuminant(k) not in _DAYLIGHTS},
    }
    best = max(told, key=lambda each: told[each])
    sure = told[best] >= table["photo.lamp_sure"]
    if lamp is None:
        if sure or best is Illuminant.D65:
            return best, []
        said = f"It may have been taken under {best.phrase}: say which light it was, or take it by a window."
        return best, [Note(NoteCode.LAMP_UNSURE, said)]
    same = Illuminant.D65 if lamp in _DAYLIGHTS else lamp
    if sure and best is not same:
        said = f"This looks like {best.phrase}, not like {lamp.phrase}: check what light you chose."
        return lamp, [Note(NoteCode.LAMP_DOUBTED, said)]
    return lamp, []


def well_known_lab(ink: Ink, white_lab: Floats, table: Mapping[str, float]) -> Floats | None:
    """CIELAB (D65) of an ink that a phone may be judged by, on a card that is the photo's white; None for others.

    Its colour came from an instrument or from many swatches, it does not glow, and it was read on such a card.
    """
    swatch = ink.swatch
    if swatch.known not in WELL_KNOWN or ink.formula is Formula.FLUORESCENT or swatch.card is None:
        return None
    card = cm.lab(spectrum_of(swatch.card.colour, "D65")[0])
    if cm.delta_e(card, white_lab) > table["photo.same_card"]:
        return None
    return np.asarray(cm.lab(spectrum_of(swatch.colour, "D65")[0]))


def _together(taught: Sequence[SeenSwatch], seen: Sequence[SeenSwatch]) -> list[SeenSwatch]:
    """Known swatches of before and of this photo, none of them twice: the same photo proves nothing new."""
    return [*taught, *(one for one in seen if one not in taught)]


def taught_by(read: SheetRead, profile: PhoneProfile | None, name: str) -> PhoneProfile:
    """The phone's profile with the known swatches of a photo added."""
    before = {} if profile is None else dict(profile.seen)
    together = tuple(_together(before.get(read.lamp, ()), read.known)[-MOST_SEEN:])
    curve = read.lighting.curve if read.lighting.tones else None if profile is None else profile.curve
    return PhoneProfile(name, {**before, read.lamp: together}, curve)


def reading_doubt(
    lab: Sequence[float],
    spread: float,
    uneven: float,
    kept: float,
    clipped: float,
    glows: bool,
    table: Mapping[str, float],
) -> tuple[float, list[Note]]:
    """Spread in ΔE00 to store with a reading, and notes on it.

    `lab` is CIELAB, `spread` what phone and lamp leave open, `uneven` the deviation over the marked area,
    `kept` and `clipped` the shares of its pixels that were used and that the camera cut off.
    """
    whole = hypot(spread, table["photo.read"], table["photo.uneven"] * uneven)
    notes = []
    lightness, a, b = lab
    if glows:
        whole *= table["photo.glowing"]
        notes.append(
            Note(NoteCode.GLOWS, "It glows: a photo cannot hold how bright it is, so the colour is a rough one.")
        )
    elif (
        lightness > table["photo.pale"]
        and b > max(table["photo.yellow"], abs(a))
        and hypot(a, b) < table["photo.strong"]
    ):
        whole *= table["photo.pale_yellow"]
        notes.append(
            Note(
                NoteCode.PALE_YELLOW, "Cameras see pale yellows badly: look at it beside the card before you trust it."
            )
        )
    if clipped > _CLIPPED:
        notes.append(Note(NoteCode.CLIPPED, "Part of it is overexposed or glaring; only the rest was read."))
    elif kept < _GLARE_KEPT:
        notes.append(Note(NoteCode.UNEVEN, "It is uneven, glaring or cut at the edge; only the even part was read."))
    if uneven > table["photo.blotchy"]:
        notes.append(Note(NoteCode.BLOTCHY, "The area varies a good deal: mark a smaller, even part of it."))
    return whole, notes


def sure_words(spread: float) -> str:
    """How sure a reading of that spread (ΔE00) is, and what to do about it."""
    if spread < 2:
        return "read surely"
    if spread < 4:
        return "likely within a shade"
    return "read roughly" if spread < 7 else "only a hint: take it again by a window"


def coinciding(labs: Floats, table: Mapping[str, float]) -> list[tuple[int, int]]:
    """Pairs of readings (n, 3) so near that they may be one ink read twice."""
    return optics.alike(labs, table["photo.same"])
