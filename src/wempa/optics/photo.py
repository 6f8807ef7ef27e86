"""Colours read off a photograph of swatches beside known white.

The camera is unknown, so a reading is made by comparison: each channel of linear
light is divided by what the white card gives at the same place. That takes out the
lamp's cast (von Kries 1902) and, with white in several places, uneven light; a dark
patch takes out stray light in the lens. What a lamp's spectrum does beyond its cast is
corrected for a typical camera (root polynomials, Finlayson, Mackiewicz and Hurlbert
2015; the table is written by ``tools/make_tables.py``).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from . import colorimetry as cm
from .grid import Floats

Pixels = NDArray[np.uint8]
"""Gamma-coded sRGB, (height, width, 3)."""
Box = tuple[float, float, float, float]
"""Left, top, right, bottom in pixels."""

_TABLE: Floats = cm.linear_from_coded(np.arange(256) / 255)
# A channel this bright may have been cut off by the camera.
_CLIPPED = 252
# Share of a marked area, at each side, that is left out: edges blur into their surroundings.
_MARGIN = 0.12
# Median absolute deviations from the median beyond which a pixel is glare, dust or an edge.
_OUTLIER = 3.5
# Two steps of an 8-bit photo, in ln of light: less is no deviation.
_STEP = 0.015
_MOST_PIXELS = 40_000


CORRECTION_TERMS = ("r", "g", "b", "rg", "gb", "rb")


def correction_terms(linear: Floats) -> Floats:
    """Root-polynomial terms of linear RGB (n, 3), (n, 6): they scale with exposure."""
    r, g, b = np.maximum(linear, 0).T
    return np.stack([r, g, b, np.sqrt(r * g), np.sqrt(g * b), np.sqrt(r * b)], axis=1)


@cache
def _table_of(name: str) -> Floats:
    """Rows of the table: for a lamp what turns `correction_terms` of a balanced photo under it into
    linear sRGB, (6, 3); for ``camera`` what turns a typical camera's own channels into it, (3, 3).
    """
    text = files("wempa.optics").joinpath("data/camera_correction.csv").read_text("ascii")
    rows = [line.split(",") for line in text.split()[1:]]
    return np.array([row[2:] for row in rows if row[0] == name], dtype=np.float64)


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


@dataclass(frozen=True, slots=True, eq=False)
class Reading:
    """One swatch read."""

    lab: Floats
    """CIELAB under D65, (3,)."""
    spread: float
    """Standard deviation over the area, in ΔE00."""
    area: Area


def look_at(photo: Pixels, box: Box) -> Area:
    """Robust light of an area: glare, dust and edges are left out.

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
    light = _TABLE[pixels]
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
    curved one, by least squares with a little weight against bending.
    """
    light = np.log(np.stack([np.maximum(area.light, 1e-4) for area in whites]))
    if len(whites) == 1:
        return np.asarray(np.exp(np.repeat(light, len(at), axis=0)))
    places = np.stack([area.centre for area in whites])
    centre, size = places.mean(axis=0), max(float(np.ptp(places, axis=0).max()), 1.0)

    def terms(points: Floats) -> Floats:
        x, y = ((points - centre) / size).T
        one = np.ones_like(x)
        return np.stack([one, x, y, x * x, x * y, y * y] if len(whites) >= 6 else [one, x, y], axis=1)

    design = terms(places)
    # Slopes are held back a little, so that two whites give a line's slope and no more.
    ridge = np.diag([0.0] + [1e-4] * (design.shape[1] - 1))
    weights = np.linalg.solve(design.T @ design + ridge, design.T @ light)
    return np.asarray(np.exp(terms(at) @ weights))


def read_swatches(
    photo: Pixels,
    swatches: Sequence[Box],
    whites: Sequence[Box],
    white_lab: Floats,
    dark: Box | None = None,
    dark_lab: Floats | None = None,
    illuminant: str = "D65",
) -> list[Reading]:
    """CIELAB (D65) of the marked swatches.

    Parameters
    ----------
    photo : gamma-coded sRGB.
    swatches, whites : areas in pixels; at least one white.
    white_lab : CIELAB under D65 of the white, (3,).
    dark, dark_lab : an area of known dark colour and its CIELAB: how far it looks lighter
        than it is, is stray light, and is taken off everywhere.
    illuminant : the lamp that the photo was taken under.

    Raises
    ------
    PhotoError
        No white, or an area cannot be read.
    """
    if not whites:
        raise PhotoError("mark the white of the card first")
    white_areas = [look_at(photo, box) for box in whites]
    for area in white_areas:
        if area.clipped > 0.5:
            raise PhotoError("the white is overexposed: take the photo again, a little darker")
        if area.light.min() < 0.02:
            raise PhotoError("the white is nearly black: mark an area of bare white card")
    areas = [look_at(photo, box) for box in swatches]
    white_point = cm.xyz(np.ones(36))
    white = _linear(white_lab, white_point)
    stray = np.zeros(3)
    if dark is not None and dark_lab is not None:
        area = look_at(photo, dark)
        seen = _balanced(area.light[None], white_field(white_areas, area.centre[None]))[0] * white
        stray = np.clip(seen - _linear(dark_lab, white_point), 0, 0.1)
    field = white_field(white_areas, np.array([area.centre for area in areas]).reshape(-1, 2))
    found = []
    for area, here in zip(areas, field, strict=True):
        light = np.stack([area.light, area.light + area.scatter, np.maximum(area.light - area.scatter, 0)])
        balanced = np.maximum((_balanced(light, here[None]) * white - stray) / (1 - stray), 1e-5)
        linear = np.maximum(correction_terms(balanced) @ _table_of(illuminant), 1e-5)
        lab = cm.lab_from_xyz(cm.adapt(linear @ cm.SRGB_TO_XYZ.T, cm.SRGB_WHITE, white_point), white_point)
        spread = float(cm.delta_e(lab[1:], lab[:1]).mean())
        found.append(Reading(lab[0], spread, area))
    return found


def _balanced(light: Floats, white: Floats) -> Floats:
    """Linear sRGB (n, 3) divided by white (n or 1, 3), as a typical camera's own channels see them.

    The camera balances before it turns its channels into sRGB; to take out what cast is
    left one has to go back there.
    """
    matrix = _table_of("camera")
    back = np.linalg.inv(matrix)
    return np.asarray((light @ back) / np.maximum(white @ back, 1e-4) @ matrix)


def _linear(lab: Floats, white_point: Floats) -> Floats:
    """Linear sRGB (3,) of CIELAB under D65."""
    xyz = cm.adapt(cm.xyz_from_lab(lab, white_point), white_point, cm.SRGB_WHITE)
    return np.asarray(xyz @ cm.XYZ_TO_SRGB.T)


def alike(labs: Floats, limit: float) -> list[tuple[int, int]]:
    """Pairs of readings (n, 3) nearer than `limit` in ΔE00."""
    pairs = []
    for i in range(len(labs)):
        distance = cm.delta_e(labs[i], labs[i + 1 :])
        pairs += [(i, i + 1 + int(j)) for j in np.flatnonzero(distance < limit)]
    return pairs


def find_marks(photo: Pixels, radius: float) -> Floats | None:
    """Centres (4, 2) of a sheet's corner discs: top left, top right, bottom right, bottom left.

    `radius` is the disc's, as a share of the sheet's width. In each quarter of the photo
    the place is sought that is darkest against the white around it, for sheets that fill
    from half to all of the photo's width. None where no such place stands out.
    """
    width = photo.shape[1]
    step = max(1, round(width / 700))
    grey = _TABLE[photo[::step, ::step]].mean(axis=2)
    rows, columns = grey.shape
    if min(rows, columns) < _LEAST_SHEET:
        return None
    sums = np.pad(np.cumsum(np.cumsum(grey, axis=0), axis=1), ((1, 0), (1, 0)))
    best = np.full(grey.shape, -1.0)
    for share in np.geomspace(0.5, 1.0, 6):
        # Half sides of a square inside the disc, of one around it, and of the white's rim.
        r = radius * share * columns
        inner, gap, rim = (max(1, round(r * k)) for k in (0.62, 1.35, 2.0))
        if rim * 2 + 1 >= min(rows, columns):
            continue
        mean = {half: _box_mean(sums, half, grey.shape) for half in (inner, gap, rim)}
        area = {half: (2 * half + 1) ** 2 for half in (inner, gap, rim)}
        around = (mean[rim] * area[rim] - mean[gap] * area[gap]) / (area[rim] - area[gap])
        # White all around: the darkest side of the rim counts, so that an edge does not.
        sides = np.minimum.reduce([np.roll(mean[inner], shift, axis) for axis in (0, 1) for shift in (-rim, rim)])
        score = np.minimum(around, sides * 1.1) - 2 * mean[inner]
        score[:rim], score[-rim:], score[:, :rim], score[:, -rim:] = -1, -1, -1, -1
        best = np.maximum(best, score)
    found = []
    for down, right in ((0, 0), (0, 1), (1, 1), (1, 0)):
        y0, x0 = down * (rows - rows // 3), right * (columns - columns // 3)
        part = best[y0 : y0 + rows // 3, x0 : x0 + columns // 3]
        y, x = np.unravel_index(int(np.argmax(part)), part.shape)
        if part[y, x] < 0.08:
            return None
        found.append(_dark_centre(grey, x0 + int(x), y0 + int(y), max(3, round(radius * columns))) * step)
    return np.array(found)


# A photo with fewer pixels than this either way shows no sheet that could be read.
_LEAST_SHEET = 120


def _box_mean(sums: Floats, half: int, shape: tuple[int, ...]) -> Floats:
    """Mean over squares of side 2 half + 1 around each pixel; 1 where they would stick out."""
    out = np.ones(shape)
    side = 2 * half + 1
    whole = sums[side:, side:] - sums[:-side, side:] - sums[side:, :-side] + sums[:-side, :-side]
    out[half : shape[0] - half, half : shape[1] - half] = whole / side**2
    return out


def _dark_centre(grey: Floats, x: int, y: int, reach: int) -> Floats:
    """Centre of what is dark around a place, (2,)."""
    y0, x0 = max(0, y - reach), max(0, x - reach)
    part = grey[y0 : y + reach + 1, x0 : x + reach + 1]
    dark = np.maximum((part.min() + part.max()) / 2 - part, 0) + 1e-12
    ys, xs = np.indices(part.shape)
    return np.array([x0 + (xs * dark).sum() / dark.sum() + 0.5, y0 + (ys * dark).sum() / dark.sum() + 0.5])
