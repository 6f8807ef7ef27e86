"""Run-time colorimetry, vectorised over any leading axes.

Small on purpose: importing a full colour library costs more than a second, a
prediction has one millisecond. Every function is tested against colour-science.
"""

from __future__ import annotations

from functools import cache

import numpy as np

from .grid import Floats, weights, white_point

_EPSILON = 216 / 24389
_KAPPA = 24389 / 27

# CAT16 (Li et al. 2017) and sRGB (IEC 61966-2-1) matrices.
_CAT16 = np.array([[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]])
_XYZ_TO_SRGB = np.linalg.inv(np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]))
_SRGB_TO_XYZ = np.linalg.inv(_XYZ_TO_SRGB)
_SRGB_WHITE = _SRGB_TO_XYZ.sum(axis=1)


def xyz(reflectance: Floats, illuminant: str = "D65") -> Floats:
    """Tristimulus values of reflectances (..., 36) to (..., 3), Y = 1 for white."""
    return np.asarray(reflectance @ weights(illuminant))


def lab_from_xyz(tristimulus: Floats, white: Floats) -> Floats:
    """CIELAB of XYZ (..., 3) against a white (3,). Source: CIE 015:2018, 8.2.1."""
    ratio = tristimulus / white
    cube = np.cbrt(ratio)
    f = np.where(ratio > _EPSILON, cube, (_KAPPA * ratio + 16) / 116)
    out = np.empty_like(f)
    out[..., 0] = 116 * f[..., 1] - 16
    out[..., 1] = 500 * (f[..., 0] - f[..., 1])
    out[..., 2] = 200 * (f[..., 1] - f[..., 2])
    return out


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


def xyz_from_srgb(rgb: Floats, illuminant: str) -> Floats:
    """XYZ under an illuminant of gamma-coded sRGB (..., 3) in 0–1.

    The screen's white becomes the grid's white of the illuminant by CAT16, so
    that ``#ffffff`` is the perfect reflector under every light.
    """
    linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    return adapt(linear @ _SRGB_TO_XYZ.T, _SRGB_WHITE, white_point(illuminant))


def srgb_from_xyz(tristimulus: Floats, illuminant: str) -> tuple[Floats, Floats]:
    """Gamma-coded sRGB (..., 3) clipped to 0–1, and how far it was outside.

    The second array (...,) is the largest excess of a linear channel beyond
    0–1; values up to about 1e-3 are rounding.
    """
    linear = adapt(tristimulus, white_point(illuminant), _SRGB_WHITE) @ _XYZ_TO_SRGB.T
    excess = np.maximum(linear - 1, -linear).max(axis=-1)
    inside = np.clip(linear, 0, 1)
    coded = np.where(inside <= 0.0031308, inside * 12.92, 1.055 * inside ** (1 / 2.4) - 0.055)
    return coded, np.maximum(excess, 0)


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
    return "#" + "".join(f"{round(float(channel) * 255):02x}" for channel in rgb)


def delta_e(lab_1: Floats, lab_2: Floats) -> Floats:
    """CIEDE2000 colour difference of CIELAB arrays (..., 3), broadcast together.

    Source: Sharma, Wu and Dalal 2005, tested on their published pairs.
    """
    l1, a1, b1 = lab_1[..., 0], lab_1[..., 1], lab_1[..., 2]
    l2, a2, b2 = lab_2[..., 0], lab_2[..., 1], lab_2[..., 2]
    mean_c7 = _seventh((np.sqrt(a1 * a1 + b1 * b1) + np.sqrt(a2 * a2 + b2 * b2)) / 2)
    g = 1.5 - 0.5 * np.sqrt(mean_c7 / (mean_c7 + 25.0**7))
    a1, a2 = g * a1, g * a2
    c1, c2 = np.sqrt(a1 * a1 + b1 * b1), np.sqrt(a2 * a2 + b2 * b2)
    # Hues from 0 to a whole turn, as the paper has them: it decides opposite pairs.
    h1, h2 = np.arctan2(b1, a1), np.arctan2(b2, a2)
    h1, h2 = h1 + _TURN * (h1 < 0), h2 + _TURN * (h2 < 0)
    dh = h2 - h1
    dh = dh - _TURN * (dh > np.pi) + _TURN * (dh < -np.pi)
    product = c1 * c2
    coloured = product > 0
    dh = dh * coloured
    mean_h = np.where(coloured, h1 + dh / 2, h1 + h2)
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2
    # cos(h - 30°), cos 2h, cos(3h + 6°) and cos(4h - 63°) from one cosine and sine.
    cos, sin = np.cos(mean_h), np.sin(mean_h)
    cos2, sin2 = cos * cos - sin * sin, 2 * cos * sin
    cos3, sin3 = cos * cos2 - sin * sin2, sin * cos2 + cos * sin2
    cos4, sin4 = cos2 * cos2 - sin2 * sin2, 2 * cos2 * sin2
    t = (
        1
        - 0.17 * (_COS30 * cos + _SIN30 * sin)
        + 0.24 * cos2
        + 0.32 * (_COS6 * cos3 - _SIN6 * sin3)
        - 0.20 * (_COS63 * cos4 + _SIN63 * sin4)
    )
    l50 = (mean_l - 50) * (mean_l - 50)
    s_l = 1 + 0.015 * l50 / np.sqrt(20 + l50)
    x, y = (l2 - l1) / s_l, (c2 - c1) / (1 + 0.045 * mean_c)
    z = 2 * np.sqrt(product) * np.sin(dh / 2) / (1 + 0.015 * mean_c * t)
    # The mean hue may lie one turn on, up to 540°.
    far = (np.degrees(mean_h) % 360 - 275) / 25
    c7 = _seventh(mean_c)
    rotation = -2 * np.sqrt(c7 / (c7 + 25.0**7)) * np.sin(np.pi / 3 * np.exp(-far * far))
    return np.asarray(np.sqrt(np.maximum(x * x + y * y + z * z + rotation * y * z, 0)))


_TURN = 2 * np.pi
_COS30, _SIN30 = np.cos(np.pi / 6), np.sin(np.pi / 6)
_COS6, _SIN6 = np.cos(np.pi / 30), np.sin(np.pi / 30)
_COS63, _SIN63 = np.cos(np.radians(63)), np.sin(np.radians(63))


def _seventh(value: Floats) -> Floats:
    square = value * value
    return square * square * square * value
