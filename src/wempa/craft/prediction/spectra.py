"""Colours as given turned into likely spectra; each is worked out once."""

from __future__ import annotations

from collections.abc import Iterable
from threading import RLock

import numpy as np

from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.reconstruct import smoothest_reflectance

_CACHE = 4096


# A measured zero is noise; a floor of zero would let no light back at all.
_DARKEST = 1e-5


_spectra: dict[tuple[Colour, str], tuple[Floats, float]] = {}


# Held while spectra are worked out, so that nobody empties the cache before they are read.
_spectra_lock = RLock()


def forget() -> None:
    """Empty the cache."""
    _spectra.clear()


def spectrum_of(colour: Colour, illuminant: str) -> tuple[Floats, float]:
    """Reflectance (36,) of a colour and how far it misses it, in ΔE00.

    A hex is the colour as an eye adapted to `illuminant` sees it (CAT16 from
    D65); a Lab is met under its own illuminant; a spectrum is used as it is.
    """
    found = _spectra.get((colour, illuminant))
    if found is None:
        with _spectra_lock:
            find_spectra([colour], illuminant)
            found = _spectra[colour, illuminant]
    return found


def find_spectra(colours: Iterable[Colour], illuminant: str) -> None:
    """Work out the spectra of many colours at once, for `spectrum_of` to find.

    Together they cost little more than one alone.
    """
    with _spectra_lock:
        _find_spectra(colours, illuminant)


def _find_spectra(colours: Iterable[Colour], illuminant: str) -> None:
    if len(_spectra) > _CACHE:
        _spectra.clear()
    wanted: dict[str, dict[Colour, Floats]] = {}
    for colour in colours:
        if (colour, illuminant) in _spectra:
            continue
        if colour.spectrum is not None:
            _spectra[colour, illuminant] = np.maximum(colour.spectrum, _DARKEST), 0.0
        elif colour.lab is not None:
            light = str(colour.lab_illuminant)
            wanted.setdefault(light, {})[colour] = cm.xyz_from_lab(np.array(colour.lab), white_point(light))
        else:
            code = cm.rgb_from_hex(colour.hex or WHITE_CARD)
            wanted.setdefault(illuminant, {})[colour] = cm.xyz_from_srgb(code, illuminant)
    for light, targets in wanted.items():
        reflectance, miss = smoothest_reflectance(np.stack(list(targets.values())), light)
        for row, colour in enumerate(targets):
            _spectra[colour, illuminant] = reflectance[row], float(miss[row])
