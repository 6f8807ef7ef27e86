"""Which family of hue a colour belongs to, and what is grey, brown, pale or dark: the one place that says so."""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

from wempa.optics.namespace import SCALAR

from .circle import painter_hue

_HUE_WORDS = ("red", "orange", "yellow", "green", "blue", "purple")


def hue_word(painter: float) -> str:
    """The painter's name of a hue in degrees."""
    return _HUE_WORDS[round((painter % 360) / 60) % 6]


def colour_word(lab: Sequence[float]) -> str:
    """Hue in a word, or grey, white or black, of CIELAB (L*, a*, b*)."""
    lightness, a, b = lab
    chroma = hypot(a, b)
    if chroma < 9:
        return "white" if lightness > 88 else "black" if lightness < 22 else "grey"
    hue = painter_hue(a, b, SCALAR)
    if lightness < 50 and chroma < 45 and (hue < 100 or hue > 350):
        return "brown"
    return hue_word(hue)
