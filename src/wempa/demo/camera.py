"""A simulated camera: photographs a swatch sheet under a chosen lamp.

A stand-in for a phone held over a table. It sees spectra through the three sensitivities
of its own sensor or of one of two measured ones, balances white only in part, and adds what
real photos have: uneven light, vignetting, a glare spot, noise, a tilt, and JPEG. Like a
phone it can bend the tones, paint colours up and sharpen.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from importlib.resources import files
from typing import Literal

import numpy as np
from PIL import Image

from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, SLANT, GreyStep, Sheet, projected, projection
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats, Reals, illuminant_power

LAMPS = {"daylight": "D65", "warm lamp": "A", "led lamp": "LED-B3"}

# Peak and width in nm of red, green and blue sensitivities; a second, small lobe of red.
_PEAKS = ((602.0, 38.0, 1.0), (537.0, 42.0, 1.0), (458.0, 30.0, 1.0))
_RED_LOBE = (440.0, 20.0, 0.08)
_LUMA = np.array([0.2126, 0.7152, 0.0722])
_MAKE, _MODEL = 0x010F, 0x0110


Sensor = Literal["own", "A", "B"]
Form = Literal["JPEG", "PNG", "HEIF", "DNG"]


@dataclass(frozen=True, slots=True)
class Scene:
    """How the photo is taken."""

    lamp: str = "daylight"
    uneven: float = 0.25
    """Loss of light from the bright to the dark side, 0–0.6."""
    balance: float = 0.8
    """How far the camera takes the lamp's cast out, 0–1."""
    vignette: float = 0.15
    noise: float = 0.006
    """Standard deviation of a bright pixel, of full scale."""
    glare: float = 0.5
    tilt: float = 0.03
    """How far corners are displaced, of the sheet's width."""
    width: int = 1400
    """Pixels across."""
    quality: int = 90
    seed: int = 1
    sensor: Sensor = "own"
    bend: float = 0.0
    """How far a smooth step is mixed into the tones, 0–1."""
    paint: float = 0.0
    """By what share colours are painted up."""
    sharpen: float = 0.0
    """How strongly edges are raised, 0–1."""
    wider: float = 0.01
    """By how much printed lines are wider than drawn, at each side in mm."""
    blur: float = 0.12
    """How wide a point is seen, in mm."""
    form: Form = "JPEG"
    made_by: tuple[str, str] | None = None
    """Make and model that it writes into its files."""


PHONES: dict[str, Scene] = {
    "plain camera": Scene(),
    "phone": Scene(sensor="A", bend=0.35, paint=0.15, sharpen=0.4, made_by=("Signal Box", "Lamp 1")),
    "old phone": Scene(sensor="B", bend=0.2, paint=0.08, made_by=("Signal Box", "Lamp 0")),
}
"""What can stand over the simulated table."""


def _sensitivity(sensor: Sensor = "own") -> Floats:
    if sensor != "own":
        rows = files("wempa.demo").joinpath("data/cameras.csv").read_text("ascii").split()
        # The header has blanks: what is no number is left out.
        values = np.array([line.split(",") for line in rows if line[:3].isdigit()], dtype=np.float64)
        return values[:, 1:4] if sensor == "A" else values[:, 4:7]
    curves = [height * np.exp(-0.5 * ((WAVELENGTHS - peak) / width) ** 2) for peak, width, height in _PEAKS]
    peak, width, height = _RED_LOBE
    curves[0] = curves[0] + height * np.exp(-0.5 * ((WAVELENGTHS - peak) / width) ** 2)
    return np.stack(curves, axis=1)


def _to_srgb(sensitivity: Floats) -> Floats:
    """The camera's own matrix: raw, balanced under daylight, to linear sRGB, (3, 3).

    Fitted as makers do, by least squares over many smooth surface colours with white kept.
    """
    rng = np.random.default_rng(0)
    centres, widths = rng.uniform(380, 730, 400), rng.uniform(30, 150, 400)
    bumps = np.exp(-0.5 * ((WAVELENGTHS - centres[:, None]) / widths[:, None]) ** 2)
    surfaces = np.clip(rng.uniform(0.02, 0.5, (400, 1)) + rng.uniform(-0.4, 0.8, (400, 1)) * bumps, 0.02, 0.95)
    surfaces = np.concatenate([surfaces, np.full((60, BANDS), 0.9)])
    power = illuminant_power("D65")
    raw = (surfaces * power) @ sensitivity / (power @ sensitivity)
    wanted = cm.xyz(surfaces) / cm.xyz(np.ones(BANDS)) * cm.SRGB_WHITE @ cm.XYZ_TO_SRGB.T
    return np.asarray(np.linalg.lstsq(raw, wanted, rcond=None)[0])


# Farther from its middle nothing is seen of the spot where the lamp mirrors.
_GLARE_MM = 15.0


def photograph(sheet: Sheet, swatches: Sequence[Floats], card: Floats, scene: Scene = Scene()) -> bytes:
    """A JPEG of the sheet with swatches of the given reflectances (36,) on a card (36,).

    Squares beyond the swatches are bare. The table under the sheet is a middling grey.

    Raises
    ------
    KeyError
        The lamp is none of `LAMPS`.
    """
    rng = np.random.default_rng(scene.seed)
    power, sensitivity = illuminant_power(LAMPS[scene.lamp]), _sensitivity(scene.sensor)
    black, table = np.full(BANDS, 0.045), np.full(BANDS, 0.3)
    spectra = np.stack([table, card, black, *swatches])
    raw = (spectra * power) @ sensitivity / (illuminant_power("D65") @ sensitivity)
    # Automatic white balance goes part of the way; exposure puts the card below the end of the scale.
    cast = raw[1] / raw[1].mean()
    raw = raw / cast**scene.balance
    linear = raw @ _to_srgb(sensitivity)
    linear *= 0.72 / linear[1].max()

    which, where, there = _seen(sheet, len(swatches), scene, rng)
    # Single precision: a sensor tells a few thousand steps apart, and there are millions of pixels.
    light = linear.astype(np.float32)[which]
    del which
    _lines(light, sheet, where, there, scene, linear[1], linear[2])
    x, y = where[..., 0] / sheet.width, where[..., 1] / sheet.height
    falls = 1 - scene.uneven * (0.7 * x + 0.3 * y)
    falls *= 1 - scene.vignette * ((x - 0.5) ** 2 + (y - 0.5) ** 2) / 0.49
    del x, y
    # The card's own grain, and a spot where the lamp mirrors in damp ink.
    falls *= 1 + 0.012 * rng.standard_normal(falls.shape, dtype=np.float32)
    light *= falls[..., None]
    left, top, *_ = sheet.squares[min(len(swatches) - 1, sheet.columns + 1)] if swatches else sheet.bare
    part = _around(
        (left + 6 - _GLARE_MM, top + 6 - _GLARE_MM, left + 6 + _GLARE_MM, top + 6 + _GLARE_MM), there, falls.shape
    )
    from_spot = (where[part][..., 0] - left - 6) ** 2 + (where[part][..., 1] - top - 6) ** 2
    light[part] += (scene.glare * np.exp(from_spot / -18))[..., None]
    del where, falls
    light += 0.004  # stray light in the lens
    # A few rows at a time: for each of millions of pixels there are three numbers.
    for rows in light:
        rows += scene.noise * np.sqrt(np.maximum(rows, 0.01)) * rng.standard_normal(rows.shape, dtype=np.float32)
    if scene.form == "DNG":
        from .raw_file import write_dng

        return write_dng(np.clip(light, 0, 1), _to_srgb(sensitivity), scene.made_by or ("", ""))
    return _saved(_rendered(light, scene), scene)


def _lines(
    light: Floats, sheet: Sheet, where: Reals, there: Floats, scene: Scene, white: Floats, black: Floats
) -> None:
    """Draw the steps' black lines into light (height, width, 3), each pixel the mean of what it sees."""
    footprint = float(np.abs(np.diff(where[where.shape[0] // 2, :, 0])).mean()) + scene.blur
    for step in sheet.steps:
        left, top, right, bottom = step.box
        part = _around(step.box, there, where.shape)
        x, y = where[part][..., 0], where[part][..., 1]
        inside = (x >= left) & (x <= right) & (y >= top) & (y <= bottom)
        across = x[inside] - SLANT * (y[inside] - top)
        share = min(step.share + 2 * scene.wider / step.pitch, 1.0)

        def inked(at: Floats, start: float = left, step: GreyStep = step, share: float = share) -> Floats:
            """Black to the left of a place, in mm."""
            whole, part = np.divmod((at - start) / step.pitch - (1 - share) / 2, 1.0)
            return np.asarray((whole * share + np.minimum(part, share)) * step.pitch)

        cover = (inked(across + footprint / 2) - inked(across - footprint / 2)) / footprint
        light[part][inside] = white + (black - white) * cover[:, None]


def _rendered(light: Floats, scene: Scene) -> Floats:
    """Codes 0–1 as a phone renders light: painted up, coded, bent, sharpened. Written over the light."""
    grey = light @ _LUMA.astype(light.dtype) if scene.paint else None
    for channel in range(3):
        seen = light[..., channel]
        if grey is not None:
            seen = grey + (1 + scene.paint) * (seen - grey)
        coded = cm.coded_from_linear(np.clip(seen, 0, 1))
        coded = coded + scene.bend * (3 * coded**2 - 2 * coded**3 - coded)
        if scene.sharpen:
            around = (sum(np.roll(coded, shift, axis) for axis in (0, 1) for shift in (-1, 1)) + 2 * coded) / 6
            coded = coded + scene.sharpen * (coded - around)
        light[..., channel] = np.clip(coded, 0, 1)
    return light


def _saved(coded: Floats, scene: Scene) -> bytes:
    """A file as the camera writes it, with what it says of itself."""
    out = io.BytesIO()
    coded *= 255
    image = Image.fromarray(np.rint(coded, out=coded).astype(np.uint8), "RGB")
    exif = Image.Exif()
    if scene.made_by is not None:
        exif[_MAKE], exif[_MODEL] = scene.made_by
    if scene.form == "HEIF":
        import pillow_heif

        pillow_heif.register_heif_opener()
    image.save(out, scene.form, quality=scene.quality, exif=exif)
    return out.getvalue()


def _seen(sheet: Sheet, count: int, scene: Scene, rng: np.random.Generator) -> tuple[np.ndarray, Reals, Floats]:
    """For each pixel what it shows (0 table, 1 card, 2 black, then swatches) and its place in mm."""
    wide = scene.width
    high = round(wide * sheet.height / sheet.width)
    edge = 0.05 * wide
    corners = np.array([(edge, edge), (wide - edge, edge), (wide - edge, high - edge), (edge, high - edge)])
    corners += rng.uniform(-1, 1, (4, 2)) * scene.tilt * wide
    page = np.array([(0, 0), (sheet.width, 0), (sheet.width, sheet.height), (0, sheet.height)], dtype=np.float64)
    there, back = projection(page, corners), projection(corners, page)
    across = np.arange(wide) + 0.5
    place = np.empty((high, wide, 2), dtype=np.float32)
    for row in range(high):
        place[row] = projected(np.stack([across, np.full(wide, row + 0.5)], axis=-1), back)
    x, y = place[..., 0], place[..., 1]
    shown = ((x >= 0) & (x <= sheet.width) & (y >= 0) & (y <= sheet.height)).astype(np.int16)
    for mark_x, mark_y in sheet.marks:
        reach = MARK_RADIUS_MM + 1
        part = _around((mark_x - reach, mark_y - reach, mark_x + reach, mark_y + reach), there, shown.shape)
        x, y = place[part][..., 0], place[part][..., 1]
        shown[part][(x - mark_x) ** 2 + (y - mark_y) ** 2 <= MARK_RADIUS_MM**2] = 2
    for box, value in [(sheet.dark, 2), *((square, 3 + k) for k, square in enumerate(sheet.squares[:count]))]:
        part = _around(box, there, shown.shape)
        x, y = place[part][..., 0], place[part][..., 1]
        left, top, right, bottom = box
        shown[part][(x >= left) & (x <= right) & (y >= top) & (y <= bottom)] = value
    return shown, place, there


def _around(box: Sequence[float], there: Floats, shape: tuple[int, ...]) -> tuple[slice, slice]:
    """Rows and columns of a photo in which a box of the page lies, and a little more; `there` takes mm to pixels."""
    left, top, right, bottom = box
    corners = projected(np.array([(left, top), (right, top), (right, bottom), (left, bottom)]), there)
    low, high = np.floor(corners.min(axis=0)).astype(int) - 2, np.ceil(corners.max(axis=0)).astype(int) + 3
    rows = slice(max(0, int(low[1])), min(shape[0], max(0, int(high[1]))))
    return rows, slice(max(0, int(low[0])), min(shape[1], max(0, int(high[0]))))
