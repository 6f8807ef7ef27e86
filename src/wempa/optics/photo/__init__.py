"""Colours read off a photograph of swatches beside known white.

`areas` takes light out of marked areas, `tone` undoes the phone's tone curve by printed steps of
known black, `family` says what phones do to colours and learns one phone from swatches that are
known, `reading` puts them together, `marks` finds a printed sheet.
"""

from .areas import Area, PhotoError, look_at, white_field
from .family import LAMPS, PhoneMap, SeenSwatch, family_of, likely_lamp
from .marks import find_marks, focus
from .reading import Lighting, PrintedStep, Reading, alike, has_steps, known_as_seen, light_of, read_swatches
from .tone import SRGB, Box, Pixels, SeenStep, ToneCurve, fit_tone

__all__ = [
    "LAMPS",
    "SRGB",
    "Area",
    "Box",
    "Lighting",
    "PhoneMap",
    "PhotoError",
    "Pixels",
    "PrintedStep",
    "Reading",
    "SeenStep",
    "SeenSwatch",
    "ToneCurve",
    "alike",
    "family_of",
    "find_marks",
    "fit_tone",
    "focus",
    "has_steps",
    "known_as_seen",
    "light_of",
    "likely_lamp",
    "look_at",
    "read_swatches",
    "white_field",
]
