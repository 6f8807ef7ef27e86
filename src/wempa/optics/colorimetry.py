"""Run-time colorimetry, vectorised over any leading axes.

Small on purpose: importing a full colour library costs more than a second, a
prediction has one millisecond. Every function is tested against colour-science.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from .ciede2000 import ciede2000 as ciede2000
from .ciede2000 import delta_e as delta_e
from .grid import Floats, weights, white_point

_EPSILON = 216 / 24389
_KAPPA = 24389 / 27
_F_TO_LAB = np.array([[0.0, 500, 0], [116, -500, 200], [0, 0, -200]])
_LAB_BEGINS = np.array([-16.0, 0, 0])

# CAT16 (Li et al. 2017) and sRGB (IEC 61966-2-1) matrices.
_CAT16 = np.array([[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]])
XYZ_TO_SRGB = np.linalg.inv(np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]))
SRGB_TO_XYZ = np.linalg.inv(XYZ_TO_SRGB)
SRGB_WHITE = SRGB_TO_XYZ.sum(axis=1)


def xyz(reflectance: Floats, illuminant: str = "D65") -> Floats:
    """Tristimulus values of reflectances (..., 36) to (..., 3), Y = 1 for white."""
    return np.asarray(reflectance @ weights(illuminant).astype(reflectance.dtype, copy=False))


def lab_from_xyz(tristimulus: Floats, white: Floats) -> Floats:
    """CIELAB of XYZ (..., 3) against a white (3,). Source: CIE 015:2018, 8.2.1."""
    ratio = tristimulus / white
    f = np.cbrt(ratio)
    if ratio.size and ratio.min() <= _EPSILON:
        f = np.where(ratio > _EPSILON, f, (_KAPPA * ratio + 16) / 116)
    out = f @ _F_TO_LAB
    out += _LAB_BEGINS
    return np.asarray(out)


def xyz_from_lab(lab: Floats, white: Floats) -> Floats:
    """XYZ of CIELAB (..., 3) against a white (3,); the inverse of `lab_from_xyz`."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    ratio = np.where(f > 6 / 29, f**3, (116 * f - 16) / _KAPPA)
    return np.asarray(ratio * white)


def lab(reflectance: Floats, illuminant: str = "D65") -> Floats:
    """CIELAB of reflectances (..., 36) to (..., 3) under the illuminant."""
    return lab_from_xyz(xyz(reflectance, illuminant), white_point(illuminant))


def lch(lab_values: Floats) -> Floats:
    """Lightness, chroma and hue angle (0–360°) of CIELAB (..., 3)."""
    a, b = lab_values[..., 1], lab_values[..., 2]
    hue = np.degrees(np.arctan2(b, a)) % 360
    return np.stack([lab_values[..., 0], np.hypot(a, b), hue], axis=-1)


@cache
def _adaptation(source: tuple[float, ...], target: tuple[float, ...]) -> Floats:
    ratio = (_CAT16 @ np.array(target)) / (_CAT16 @ np.array(source))
    return np.asarray(np.linalg.inv(_CAT16) @ np.diag(ratio) @ _CAT16)


def adapt(tristimulus: Floats, source_white: Floats, target_white: Floats) -> Floats:
    """Complete chromatic adaptation of XYZ (..., 3) by CAT16 (Li et al. 2017)."""
    matrix = _adaptation(tuple(source_white.tolist()), tuple(target_white.tolist()))
    return np.asarray(tristimulus @ matrix.T)


def linear_from_coded(rgb: Floats) -> Floats:
    """Linear sRGB of gamma-coded sRGB, any shape, 0–1 (IEC 61966-2-1, section 5.2)."""
    return np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)


def coded_from_linear(linear: Floats) -> Floats:
    """Gamma-coded sRGB of linear sRGB, any shape, 0–1 (IEC 61966-2-1, section 5.2)."""
    coded = np.asarray(1.055 * linear ** (1 / 2.4) - 0.055)
    dark = linear <= 0.0031308
    if dark.any():
        coded = np.where(dark, linear * 12.92, coded)
    return coded


def xyz_from_srgb(rgb: Floats, illuminant: str) -> Floats:
    """XYZ under an illuminant of gamma-coded sRGB (..., 3) in 0–1.

    The screen's white becomes the grid's white of the illuminant by CAT16, so
    that ``#ffffff`` is the perfect reflector under every light.
    """
    return adapt(linear_from_coded(rgb) @ SRGB_TO_XYZ.T, SRGB_WHITE, white_point(illuminant))


def srgb_from_xyz(tristimulus: Floats, illuminant: str) -> tuple[Floats, Floats]:
    """Gamma-coded sRGB (..., 3) clipped to 0–1, and how far it was outside.

    The second array (...,) is the largest excess of a linear channel beyond
    0–1; values up to about 1e-3 are rounding.
    """
    linear = tristimulus @ _to_screen(illuminant)
    inside = np.minimum(np.maximum(linear, 0), 1)
    excess = np.abs(linear - inside).max(axis=-1)
    return coded_from_linear(inside), excess


@cache
def _to_screen(illuminant: str) -> Floats:
    """XYZ (as a row) under an illuminant to linear sRGB, adaptation included, (3, 3)."""
    whites = (tuple(white.tolist()) for white in (white_point(illuminant), SRGB_WHITE))
    return np.asarray((XYZ_TO_SRGB @ _adaptation(*whites)).T)


def rgb_from_hex(code: str) -> Floats:
    """SRGB (3,) in 0–1 of ``#rrggbb``.

    Raises
    ------
    ValueError
        The text is not ``#`` and six hexadecimal digits.
    """
    if len(code) != 7 or code[0] != "#":
        raise ValueError(f"{code!r} is not a colour such as #a8dcc0")
    return np.array([int(code[i : i + 2], 16) for i in (1, 3, 5)]) / 255


def hex_from_rgb(rgb: Floats) -> str:
    """``#rrggbb`` of sRGB (3,) in 0–1."""
    return hexes_from_rgb(rgb[None])[0]


def hexes_from_rgb(rgb: Floats) -> list[str]:
    """``#rrggbb`` of each sRGB (n, 3) in 0–1."""
    digits = np.rint(rgb * 255).astype(np.uint8).tobytes().hex()
    return ["#" + digits[start : start + 6] for start in range(0, len(digits), 6)]


def hexes_from_lab(labs: Floats, illuminant: str) -> list[str]:
    """``#rrggbb`` of each CIELAB (n, 3) under the illuminant, as an eye adapted to it sees it."""
    return hexes_from_rgb(srgb_from_xyz(xyz_from_lab(labs, white_point(illuminant)), illuminant)[0])
