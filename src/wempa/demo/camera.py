"""A simulated camera: photographs a swatch sheet under a chosen lamp.

A stand-in for a phone held over a table. It sees spectra through its own three
sensitivities, balances white only in part, and adds what real photos have: uneven
light, vignetting, a glare spot, noise, a tilt, and JPEG.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image

from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, Sheet, projected, projection
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats, illuminant_power

LAMPS = {"daylight": "D65", "warm lamp": "A", "led lamp": "LED-B3"}

# Peak and width in nm of red, green and blue sensitivities; a second, small lobe of red.
_PEAKS = ((602.0, 38.0, 1.0), (537.0, 42.0, 1.0), (458.0, 30.0, 1.0))
_RED_LOBE = (440.0, 20.0, 0.08)


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


def _sensitivity() -> Floats:
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


def photograph(sheet: Sheet, swatches: Sequence[Floats], card: Floats, scene: Scene = Scene()) -> bytes:
    """A JPEG of the sheet with swatches of the given reflectances (36,) on a card (36,).

    Squares beyond the swatches are bare. The table under the sheet is a middling grey.

    Raises
    ------
    KeyError
        The lamp is none of `LAMPS`.
    """
    rng = np.random.default_rng(scene.seed)
    power, sensitivity = illuminant_power(LAMPS[scene.lamp]), _sensitivity()
    black, table = np.full(BANDS, 0.045), np.full(BANDS, 0.3)
    spectra = np.stack([table, card, black, *swatches])
    raw = (spectra * power) @ sensitivity / (illuminant_power("D65") @ sensitivity)
    # Automatic white balance goes part of the way; exposure puts the card below the end of the scale.
    cast = raw[1] / raw[1].mean()
    raw = raw / cast**scene.balance
    linear = raw @ _to_srgb(sensitivity)
    linear *= 0.72 / linear[1].max()

    which, where = _seen(sheet, len(swatches), scene, rng)
    light = linear[which]
    x, y = where[..., 0] / sheet.width, where[..., 1] / sheet.height
    light *= (1 - scene.uneven * (0.7 * x + 0.3 * y))[..., None]
    radius = np.hypot(x - 0.5, y - 0.5) / 0.7
    light *= (1 - scene.vignette * radius**2)[..., None]
    # The card's own grain, and a spot where the lamp mirrors in damp ink.
    light *= 1 + 0.012 * rng.standard_normal(light.shape[:2])[..., None]
    spot = sheet.squares[min(len(swatches) - 1, sheet.columns + 1)] if swatches else sheet.bare
    from_spot = np.hypot(where[..., 0] - spot[0] - 6, where[..., 1] - spot[1] - 6)
    light += (scene.glare * np.exp(-0.5 * (from_spot / 3.0) ** 2))[..., None]
    light += 0.004  # stray light in the lens
    light += scene.noise * np.sqrt(np.maximum(light, 0.01)) * rng.standard_normal(light.shape)
    light = np.clip(light, 0, 1)
    coded = cm.coded_from_linear(light)
    out = io.BytesIO()
    Image.fromarray(np.rint(coded * 255).astype(np.uint8), "RGB").save(out, "JPEG", quality=scene.quality)
    return out.getvalue()


def _seen(sheet: Sheet, count: int, scene: Scene, rng: np.random.Generator) -> tuple[np.ndarray, Floats]:
    """For each pixel what it shows (0 table, 1 card, 2 black, then swatches) and its place in mm."""
    wide = scene.width
    high = round(wide * sheet.height / sheet.width)
    edge = 0.05 * wide
    corners = np.array([(edge, edge), (wide - edge, edge), (wide - edge, high - edge), (edge, high - edge)])
    corners += rng.uniform(-1, 1, (4, 2)) * scene.tilt * wide
    page = np.array([(0, 0), (sheet.width, 0), (sheet.width, sheet.height), (0, sheet.height)], dtype=np.float64)
    back = projection(corners, page)
    grid = np.stack(np.meshgrid(np.arange(wide) + 0.5, np.arange(high) + 0.5), axis=-1).reshape(-1, 2)
    where = projected(grid, back)
    x, y = where.T
    which = np.where((x >= 0) & (x <= sheet.width) & (y >= 0) & (y <= sheet.height), 1, 0)
    for mark_x, mark_y in sheet.marks:
        which[np.hypot(x - mark_x, y - mark_y) <= MARK_RADIUS_MM] = 2
    boxes = [(sheet.dark, 2), *((square, 3 + k) for k, square in enumerate(sheet.squares[:count]))]
    return _filled(which, x, y, boxes).reshape(high, wide), where.reshape(high, wide, 2)


def _filled(which: np.ndarray, x: Floats, y: Floats, boxes: Sequence[tuple[tuple[float, ...], int]]) -> np.ndarray:
    for (left, top, right, bottom), value in boxes:
        which[(x >= left) & (x <= right) & (y >= top) & (y <= bottom)] = value
    return which
