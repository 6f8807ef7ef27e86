"""Robust light of marked areas of a photo, and the light that white gives between whites."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wempa.optics.grid import Floats

from .tone import SRGB, Box, Pixels, ToneCurve

# A channel this bright may have been cut off by the camera.
_CLIPPED = 252
# Share of a marked area, at each side, that is left out: edges blur into their surroundings.
_MARGIN = 0.12
# Median absolute deviations from the median beyond which a pixel is glare, dust or an edge.
_OUTLIER = 3.5
# Two steps of an 8-bit photo, in ln of light: less is no deviation.
_STEP = 0.015
_MOST_PIXELS = 40_000


class PhotoError(ValueError):
    """An area that nothing can be read from; one sentence."""


@dataclass(frozen=True, slots=True, eq=False)
class Area:
    """What an area of a photo gives: linear sRGB."""

    centre: Floats
    """x and y in pixels, (2,)."""
    light: Floats
    """Median of the pixels kept, (3,)."""
    scatter: Floats
    """Standard deviation of the pixels kept, estimated from the median deviation, (3,)."""
    kept: float
    """Share of the pixels kept, 0–1."""
    clipped: float
    """Share of the pixels that the camera cut off, 0–1."""


def look_at(photo: Pixels, box: Box, curve: ToneCurve = SRGB) -> Area:
    """Robust light of an area: glare, dust and edges are left out. `curve` turns codes into light.

    Raises
    ------
    PhotoError
        The area lies outside the photo or is too small to read.
    """
    height, width = photo.shape[:2]
    left, top, right, bottom = box
    inset = _MARGIN * min(right - left, bottom - top)
    x0, y0 = max(0, round(left + inset)), max(0, round(top + inset))
    x1, y1 = min(width, round(right - inset)), min(height, round(bottom - inset))
    if x1 - x0 < 3 or y1 - y0 < 3:
        raise PhotoError("the marked area is too small or lies outside the photo")
    pixels = photo[y0:y1, x0:x1].reshape(-1, 3)
    pixels = pixels[:: max(1, len(pixels) // _MOST_PIXELS)]
    light = curve.light(pixels)
    clipped = (pixels >= _CLIPPED).any(axis=1)
    # Glare is a bright tail: start from the middle of what was not cut off.
    usable = light[~clipped] if (~clipped).mean() > 0.05 else light
    level = np.log(usable.mean(axis=1) + 1e-4)
    middle = np.median(level)
    deviation = 1.4826 * np.median(np.abs(level - middle)) + _STEP
    kept = usable[np.abs(level - middle) <= _OUTLIER * deviation]
    median = np.median(kept, axis=0)
    scatter = 1.4826 * np.median(np.abs(kept - median), axis=0)
    centre = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    return Area(centre, median, scatter, len(kept) / len(light), float(clipped.mean()))


def white_field(whites: Sequence[Area], at: Floats) -> Floats:
    """Light that white would give at some places, (n, 3), from white seen elsewhere.

    `at` is (n, 2) in pixels. One white: the same everywhere. Two: a gradient along the
    line between them. Three or more: a plane in the logarithm of the light, from six on a
    curved one, from twenty on one of the third order, by least squares with a little weight
    against bending.
    """
    light = np.log(np.stack([np.maximum(area.light, 1e-4) for area in whites]))
    if len(whites) == 1:
        return np.asarray(np.exp(np.repeat(light, len(at), axis=0)))
    places = np.stack([area.centre for area in whites])
    centre, size = places.mean(axis=0), max(float(np.ptp(places, axis=0).max()), 1.0)

    def terms(points: Floats) -> Floats:
        x, y = ((points - centre) / size).T
        order = 3 if len(whites) >= 20 else 2 if len(whites) >= 6 else 1
        powers = [(i, total - i) for total in range(order + 1) for i in range(total, -1, -1)]
        return np.stack([x**i * y**j for i, j in powers], axis=1)

    design = terms(places)
    # Slopes are held back a little, so that two whites give a line's slope and no more.
    ridge = np.diag([0.0] + [1e-4] * (design.shape[1] - 1))
    weights = np.linalg.solve(design.T @ design + ridge, design.T @ light)
    return np.asarray(np.exp(terms(at) @ weights))
