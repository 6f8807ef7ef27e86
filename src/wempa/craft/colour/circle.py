"""The painter's circle: CIELAB hue bent so that red is 0°, yellow 120° and blue 240°; yellow and blue make green."""

from __future__ import annotations

from math import degrees
from typing import Any

import numpy as np

from wempa.optics.namespace import Value

_DEGREE = degrees(1)
# CIELAB hue of the painter's red, orange, yellow, green, blue and purple.
_CIELAB_HUE = np.array([30.0, 65.0, 95.0, 150.0, 270.0, 320.0, 390.0])


_PAINTER_HUE = np.array([0.0, 60.0, 120.0, 180.0, 240.0, 300.0, 360.0])


# The same from -180°, where an arctangent begins, to 390°.
_AROUND_CIELAB = [*(_CIELAB_HUE - 360)[:-1].tolist(), *_CIELAB_HUE.tolist()]
_AROUND_PAINTER = [*(_PAINTER_HUE - 360)[:-1].tolist(), *_PAINTER_HUE.tolist()]
_AROUND = np.array([_AROUND_CIELAB, _AROUND_PAINTER])


def painter_hue(a: Value, b: Value, xp: Any = np) -> Value:
    """Hue on the painter's circle, 0–360°, of CIELAB a* and b*.

    CIELAB hue bent piecewise linearly so that red is 0°, yellow 120° and blue 240°.
    """
    return bend_hue(xp.arctan2(b, a) * _DEGREE, xp)


def bend_hue(hue: Value, xp: Any = np) -> Value:
    """Hue on the painter's circle, 0–360°, of a CIELAB hue, -180–360°."""
    cielab, painter = _AROUND if xp is np else (_AROUND_CIELAB, _AROUND_PAINTER)
    return xp.interp(hue, cielab, painter) % 360
