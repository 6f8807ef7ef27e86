"""Which family of hue a colour belongs to, and what is grey, brown, pale or dark: the one place that says so.

Thresholds are rows ``colour.*`` of the craft table. All take CIELAB (L*, a*, b*) or parts of it; hues are
painter's degrees.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

import numpy as np

from wempa.craft.constants import TABLE
from wempa.craft.vocabulary import Family
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.namespace import SCALAR

from .circle import painter_hue

GREY = TABLE["colour.grey"].value
"""Chroma below which a colour has no hue."""
HUED, BRIGHT = TABLE["colour.hued"].value, TABLE["colour.bright"].value
"""Chroma from which an ink has a hue to build on, and from which a colour counts for a rainbow."""
_WHITE, _BLACK = TABLE["colour.white"].value, TABLE["colour.black"].value
_BROWN_LIGHT, _BROWN_CHROMA = TABLE["colour.brown_light"].value, TABLE["colour.brown_chroma"].value
# Brown goes from a dull crimson to a dull amber.
_BROWN_FROM, _BROWN_TO = 347.0, 98.0
_FAMILIES = (Family.RED, Family.ORANGE, Family.YELLOW, Family.GREEN, Family.BLUE, Family.PURPLE)


def is_grey(labs: Floats) -> Bools:
    """Which colours (n, 3) have no hue, (n,)."""
    return np.asarray(np.hypot(labs[:, 1], labs[:, 2]) < GREY)


def grey_family(lightness: float) -> Family:
    """White, grey or black, of a colour that has no hue."""
    return Family.WHITE if lightness > _WHITE else Family.BLACK if lightness < _BLACK else Family.GREY


def is_dull_and_dark(lightness: float, chroma: float) -> bool:
    """Whether a warm colour is called brown and not by its hue."""
    return lightness < _BROWN_LIGHT and chroma < _BROWN_CHROMA


def is_brown(lightness: float, chroma: float, hue: float) -> bool:
    """Whether a colour is a brown."""
    return is_dull_and_dark(lightness, chroma) and (hue < _BROWN_TO or hue > _BROWN_FROM)


def hue_word(painter: float) -> str:
    """The painter's name of a hue in degrees."""
    return str(_FAMILIES[round((painter % 360) / 60) % 6])


def family_of(lab: Sequence[float]) -> Family:
    """The family of a colour."""
    lightness, a, b = (float(component) for component in lab)
    chroma = hypot(a, b)
    if chroma < GREY:
        return grey_family(lightness)
    hue = painter_hue(a, b, SCALAR)
    return Family.BROWN if is_brown(lightness, chroma, hue) else Family(hue_word(hue))


def around_the_circle(labs: Floats, step: float = 0.0) -> Ints:
    """The order in which colours (n, 3) stand by hue: from red round to red, then greys from light to dark, (n,).

    With `step` degrees, hues as near as that stand together, light before dark.
    """
    grey = is_grey(labs)
    hue = np.asarray(painter_hue(labs[:, 1], labs[:, 2]))
    if step:
        hue = np.rint(hue / step)
    return np.lexsort((-labs[:, 0], np.where(grey, 0.0, hue), grey))
