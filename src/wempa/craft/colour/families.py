"""Which family of hue a colour belongs to, and what is grey, brown, pale or dark: the one place that says so.

Thresholds are rows ``colour.*`` of the craft table. All take CIELAB (L*, a*, b*) or parts of it; hues are
painter's degrees.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot

import numpy as np

from wempa.craft.vocabulary import Family
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.namespace import SCALAR

from .circle import painter_hue

_FAMILIES = (Family.RED, Family.ORANGE, Family.YELLOW, Family.GREEN, Family.BLUE, Family.PURPLE)


def is_grey(labs: Floats, table: Mapping[str, float]) -> Bools:
    """Which colours (n, 3) have no hue, (n,)."""
    return np.asarray(np.hypot(labs[:, 1], labs[:, 2]) < table["colour.grey"])


def grey_family(lightness: float, table: Mapping[str, float]) -> Family:
    """White, grey or black, of a colour that has no hue."""
    if lightness > table["colour.white"]:
        return Family.WHITE
    return Family.BLACK if lightness < table["colour.black"] else Family.GREY


def is_brown(lightness: float, chroma: float, hue: float, table: Mapping[str, float]) -> bool:
    """Whether a colour is a brown: dull, not light, and of a hue from crimson to amber; `hue` in painter's degrees."""
    dull_and_dark = lightness < table["colour.brown_light"] and chroma < table["colour.brown_chroma"]
    return dull_and_dark and (hue < table["colour.brown_to"] or hue > table["colour.brown_from"])


def hue_word(painter: float) -> str:
    """The painter's name of a hue in degrees."""
    return str(_FAMILIES[round((painter % 360) / 60) % 6])


def family_of(lab: Sequence[float], table: Mapping[str, float]) -> Family:
    """The family of a colour."""
    lightness, a, b = (float(component) for component in lab)
    chroma = hypot(a, b)
    if chroma < table["colour.grey"]:
        return grey_family(lightness, table)
    hue = painter_hue(a, b, SCALAR)
    return Family.BROWN if is_brown(lightness, chroma, hue, table) else Family(hue_word(hue))


def around_the_circle(labs: Floats, table: Mapping[str, float], step: float = 0.0) -> Ints:
    """The order in which colours (n, 3) stand by hue: from red round to red, then greys from light to dark, (n,).

    With `step` degrees, hues as near as that stand together, light before dark.
    """
    grey = is_grey(labs, table)
    hue = np.asarray(painter_hue(labs[:, 1], labs[:, 2]))
    if step:
        hue = np.rint(hue / step)
    return np.lexsort((-labs[:, 0], np.where(grey, 0.0, hue), grey))
