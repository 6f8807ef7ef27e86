"""CIEDE2000, its terms, and what it comes to close to a colour.

Source: Sharma, Wu and Dalal 2005, "The CIEDE2000 color-difference formula: implementation notes,
supplementary test data, and mathematical observations", Color Res. Appl. 30, 21–30; equation numbers
below are that paper's. Tested on its published pairs.
"""

from __future__ import annotations

from functools import lru_cache
from math import atan2, copysign, degrees, exp, pi, radians, sin, sqrt
from typing import Any

import numpy as np

from .grid import Floats, Reals
from .namespace import SCALAR, Value


def stretch(mean_c7: Value) -> Value:
    """1 + G, the factor on a*, of the seventh power of the mean chroma (4, 5); falls from 1.5 to 1."""
    return 1.5 - 0.5 * np.sqrt(mean_c7 / (mean_c7 + 25.0**7))


def lightness_weight(l50_squared: Value) -> Value:
    """S_L of (L* − 50)² (18)."""
    return 1 + 0.015 * l50_squared / np.sqrt(20 + l50_squared)


def chroma_weight(chroma: Value) -> Value:
    """S_C of a chroma (19)."""
    return 1 + 0.045 * chroma


def hue_weight(chroma: Value, term: Value) -> Value:
    """S_H of a chroma and `hue_term` (20)."""
    return 1 + 0.015 * chroma * term


def hue_term(hue: Floats) -> Floats:
    """T of a hue angle in radians (15)."""
    return np.asarray(
        1
        - 0.17 * np.cos(hue - radians(30))
        + 0.24 * np.cos(2 * hue)
        + 0.32 * np.cos(3 * hue + radians(6))
        - 0.20 * np.cos(4 * hue - radians(63))
    )


def turned_by(hue: Floats) -> Floats:
    """Sin 2Δθ of a hue angle in radians (16, 21): how far ellipses are turned, next to nothing but in the blues."""
    return np.asarray(np.sin(radians(60) * np.exp(-(((np.degrees(hue) % 360 - 275) / 25) ** 2))))


def rotation_chroma(c7: Value) -> Value:
    """R_C of the seventh power of a chroma (17)."""
    return 2 * np.sqrt(c7 / (c7 + 25.0**7))


def delta_e(lab_1: Reals, lab_2: Reals) -> Floats:
    """CIEDE2000 colour difference of CIELAB arrays (..., 3), broadcast together.

    Source: Sharma, Wu and Dalal 2005, tested on their published pairs.
    """
    one, two = ([lab[..., k] for k in range(3)] for lab in (lab_1, lab_2))
    return np.asarray(ciede2000(*one, *two))


def ciede2000(l1: Value, a1: Value, b1: Value, l2: Value, a2: Value, b2: Value, xp: Any = np) -> Value:
    """`delta_e` of colours given by components: arrays broadcast together, or floats (`xp` SCALAR).

    Hues enter as unit vectors in the complex plane, not as angles: their mean along
    the shorter way is the direction of their sum, and their difference is the length
    of theirs.
    """
    if xp is SCALAR:
        return _of_floats(l1, a1, b1, l2, a2, b2)
    sqrt = np.sqrt
    b1b1, b2b2 = b1 * b1, b2 * b2
    mean_c7 = _seventh((sqrt(a1 * a1 + b1b1) + sqrt(a2 * a2 + b2b2)) * 0.5)
    g = stretch(mean_c7)
    a1, a2 = g * a1, g * a2
    c1, c2 = sqrt(a1 * a1 + b1b1), sqrt(a2 * a2 + b2b2)
    one, two = (a1 + 1j * b1) * c2, (a2 + 1j * b2) * c1
    mean = one + two
    length = abs(mean)
    if not np.all(length > _NO_CHROMA):
        # Of exact opposites the paper takes the mean between 90° and 270°; the hue
        # next to a grey has no weight.
        upright = np.where(b1 == 0, abs(a1), np.copysign(a1, a1 * b1)) * 1j - abs(b1)
        mean = np.where(length <= _NO_CHROMA, upright + (c1 <= _NO_CHROMA), mean)
        length = abs(mean)
    mean = mean / length
    t = 1 + ((((mean * _T[3] + _T[2]) * mean + _T[1]) * mean + _T[0]) * mean).real
    mean_c = (c1 + c2) * 0.5
    l50 = (l1 + l2) * 0.5 - 50
    l50 = l50 * l50
    x = (l2 - l1) / lightness_weight(l50)
    y = (c2 - c1) / chroma_weight(mean_c)
    apart = np.copysign(abs(one - two), a1 * b2 - a2 * b1)
    z = apart / (sqrt(np.maximum(c1 * c2, 1e-30)) * hue_weight(mean_c, t))
    hue = np.arctan2(mean.imag, mean.real)
    far = (hue + _TURN * (hue < 0) - _BLUE) * _BLUE_WIDTH
    c7 = _seventh(mean_c)
    rotation = -rotation_chroma(c7) * np.sin(_SIXTH * np.exp(-far * far))
    return sqrt(np.maximum(x * x + y * y + (z + rotation * y) * z, 0.0))


def _of_floats(l1: float, a1: float, b1: float, l2: float, a2: float, b2: float) -> float:
    """`ciede2000` of two colours, step by step the same with each complex number in its two parts.

    Written out, for a prediction asks half a dozen times, and calls would take as long as the sums.
    """
    b1b1, b2b2 = b1 * b1, b2 * b2
    mean_c = (sqrt(a1 * a1 + b1b1) + sqrt(a2 * a2 + b2b2)) * 0.5
    c7 = mean_c * mean_c * mean_c
    c7 *= c7 * mean_c
    g = 1.5 - 0.5 * sqrt(c7 / (c7 + _CHROMA7))
    a1, a2 = g * a1, g * a2
    c1, c2 = sqrt(a1 * a1 + b1b1), sqrt(a2 * a2 + b2b2)
    one, one_i, two, two_i = a1 * c2, b1 * c2, a2 * c1, b2 * c1
    x, y = one + two, one_i + two_i
    length = sqrt(x * x + y * y)
    if length <= _NO_CHROMA:
        x, y = (c1 <= _NO_CHROMA) - abs(b1), abs(a1) if b1 == 0 else copysign(a1, a1 * b1)
        length = sqrt(x * x + y * y)
    x, y = x / length, y / length
    x2, y2 = x * x - y * y, 2 * x * y
    (p1, q1), (p2, _), (p3, q3), (p4, q4) = _T_PARTS
    t = 1 + p1 * x - q1 * y + p2 * x2 + p3 * (x2 * x - y2 * y) - q3 * (x2 * y + y2 * x)
    t += p4 * (x2 * x2 - y2 * y2) - q4 * 2 * x2 * y2
    mean_c = (c1 + c2) * 0.5
    l50 = (l1 + l2) * 0.5 - 50
    l50 *= l50
    lightness = (l2 - l1) / (1 + 0.015 * l50 / sqrt(20 + l50))
    chroma = (c2 - c1) / (1 + 0.045 * mean_c)
    u, v = one - two, one_i - two_i
    apart = copysign(sqrt(u * u + v * v), a1 * b2 - a2 * b1)
    hue = apart / (sqrt(max(c1 * c2, 1e-30)) * (1 + 0.015 * mean_c * t))
    far = ((atan2(y, x) + (_TURN if y < 0 else 0.0)) - _BLUE) * _BLUE_WIDTH
    c7 = mean_c * mean_c * mean_c
    c7 *= c7 * mean_c
    rotation = -2 * sqrt(c7 / (c7 + _CHROMA7)) * sin(_SIXTH * exp(-far * far))
    return sqrt(max(lightness * lightness + chroma * chroma + (hue + rotation * chroma) * hue, 0.0))


# -0.17 cos(h - 30°) + 0.24 cos 2h + 0.32 cos(3h + 6°) - 0.20 cos(4h - 63°) as the real part
# of a polynomial in exp(i h).
_T = tuple(
    complex(size * np.exp(1j * np.radians(turn))) for size, turn in ((-0.17, -30), (0.24, 0), (0.32, 6), (-0.2, -63))
)
_T_PARTS = tuple((turned.real, turned.imag) for turned in _T)
_CHROMA7 = 25.0**7
_TURN, _SIXTH = 2 * pi, pi / 3
# Products of chromas below this are rounding: both are grey.
_NO_CHROMA = 1e-20
_BLUE, _BLUE_WIDTH = radians(275), degrees(1) / 25


def _seventh(value: Value) -> Value:
    square = value * value
    return square * square * square * value


@lru_cache(4096)
def local_metric(lightness: float, a: float, b: float) -> tuple[Floats, Floats]:
    """Matrix M (3, 3), and its inverse, with ‖M·ΔLab‖ close to the ΔE00 of a small step at a CIELAB colour.

    The weights of CIEDE2000 at the colour itself; its rotation term (11), which matters to
    saturated blues, as a Cholesky factor.
    """
    chroma = sqrt(a * a + b * b)
    g = float(stretch(chroma**7))
    a2 = a * g
    chroma = sqrt(a2 * a2 + b * b)
    hue = np.arctan2(b, a2)
    s_l = lightness_weight((lightness - 50) ** 2)
    s_c, s_h = chroma_weight(chroma), hue_weight(chroma, float(hue_term(hue)))
    rotation = -rotation_chroma(chroma**7) * float(turned_by(hue))
    radial = np.array([[1, 0, 0], [0, np.cos(hue), np.sin(hue)], [0, -np.sin(hue), np.cos(hue)]])
    radial = radial @ np.diag([1.0, g, 1.0])
    shear = np.array([[1, 0, 0], [0, 1, rotation / 2], [0, 0, sqrt(max(1e-6, 1 - rotation**2 / 4))]])
    metric = np.asarray(shear @ np.diag([1 / s_l, 1 / s_c, 1 / s_h]) @ radial)
    return metric, np.linalg.inv(metric)
