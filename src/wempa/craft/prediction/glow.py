"""Fluorescent inks: which part of a swatch is reflected and which is given out."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from wempa.craft.job import Colour, Emission
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats, white_point
from wempa.optics.ink import Pigmentation, absorption_from_swatch, selective_scatter
from wempa.optics.layers import Layers
from wempa.optics.reconstruct import smoothest_reflectance
from wempa.optics.stack import Cards, Palette, Stacks, reflect
from wempa.optics.surface import FLOOR_SHARE, effective_floor, inside

if TYPE_CHECKING:
    from .prepared import PreparedCard

_ROUNDS, _HOPELESS = 40, 8


def emission_band(given: Emission | None, measured: Floats, table: Mapping[str, float]) -> tuple[float, Floats, Floats]:
    """Energy yield φ, emission band e(λ) with sum 1, and excitation (36,) in 0–1.

    Without a stated peak the band sits just beyond the steepest rise of the
    swatch, where its own absorption ends. Only light of shorter wavelength than
    the peak excites.
    """
    given = given or Emission()
    peak = given.peak
    if peak is None:
        rise = np.diff(np.log(np.clip(measured, 1e-3, None)))
        peak = float(WAVELENGTHS[int(np.argmax(rise))] + 5 + table["glow.shift"])
    width = given.width if given.width is not None else table["glow.width"]
    energy = given.energy if given.energy is not None else table["glow.yield"]
    band = np.exp(-0.5 * ((WAVELENGTHS - peak) / width) ** 2)
    excitation = 1 / (1 + np.exp((WAVELENGTHS - peak) / 8))
    return energy, band / band.sum(), excitation


def split_glow(
    measured: Floats,
    colour: Colour,
    band: tuple[float, Floats, Floats],
    lies_on: PreparedCard,
    own: Mapping[str, float],
    illuminant: str,
    dispersion: float,
) -> tuple[Floats, Floats, Floats]:
    """Reflected part (36,) of a glowing swatch, with its φ·e(λ) and excitation.

    Solved so that reflected plus emitted light, as `optics.stack` computes them,
    give the swatch again at dose 1: a spectrum band by band, a colour by its XYZ.
    Where what is left over would not be a surface colour, the yield is reduced
    until it is.
    """
    energy, shape, excitation = band
    light = str(colour.lab_illuminant) if colour.lab is not None else illuminant
    if colour.hex is not None:
        wanted = cm.xyz_from_srgb(cm.rgb_from_hex(colour.hex), light)
    elif colour.lab is not None:
        wanted = cm.xyz_from_lab(np.array(colour.lab), white_point(light))
    else:
        wanted = cm.xyz(measured, light)
    white = white_point(light)
    reflected = np.clip(measured, 1e-4, 0.98)
    for reduced in (*(energy * 0.75**k for k in range(8)), 0.0):
        energy = reduced
        for n in range(_ROUNDS):
            emitted = _emitted(reflected, energy * shape, excitation, lies_on, own, light, dispersion)
            if colour.spectrum is not None:
                rest = np.clip(measured - emitted, 1e-4, 0.98)
                miss = float(np.abs(rest + emitted - measured).max())
            else:
                left = np.maximum(wanted - cm.xyz(emitted, light), 1e-5)
                rest = smoothest_reflectance(left[None], light)[0][0]
                both = cm.lab_from_xyz(cm.xyz(rest + emitted, light), white)
                miss = float(cm.delta_e(both, cm.lab_from_xyz(wanted, white)))
            moved = float(np.abs(rest - reflected).max())
            reflected = 0.5 * (reflected + rest) if moved > 1e-3 else rest
            # Each round halves the error; what is still far off by now never settles.
            if moved < 1e-6 or (n >= _HOPELESS and miss > 0.5 and energy):
                break
        # Without settling, the reflected and the emitted part do not belong together.
        if miss < 0.05 and moved < 1e-5:
            break
    return reflected, energy * shape, excitation


def _emitted(
    reflected: Floats,
    emission: Floats,
    excitation: Floats,
    lies_on: PreparedCard,
    own: Mapping[str, float],
    illuminant: str,
    dispersion: float,
) -> Floats:
    """Light given out at dose 1 on the swatch's card, as a radiance factor (36,)."""
    share, scatter = np.array([own["film_share"]]), np.full((1, BANDS), own["hiding"] / (1 - own["hiding"]))
    floor = effective_floor(lies_on.floor, reflected)
    swatch, below = inside(reflected, floor)[None], lies_on.internal[None]
    trace = selective_scatter(np.array([own["trace"]]), swatch, below, dispersion)
    absorption, _ = absorption_from_swatch(swatch, below, scatter, share, trace)
    cap = FLOOR_SHARE * np.clip(reflected, 1e-5, 1)[None]
    one, row = np.ones((1, 1)), np.zeros((1, 1), dtype=np.intp)
    stack = Stacks(
        layers=Layers(ink=row, dose=one, scatter=one, held=0 * one, cover=one[0]),
        layer=row,
        card=row[0],
        ink=row,
        total=one,
    )
    cards = Cards(lies_on.internal[None], lies_on.floor[None], np.array([lies_on.n]))
    dark = np.zeros((1, BANDS))
    inks = [
        Pigmentation(absorption, scatter, share, trace, cap, glow, excitation[None]) for glow in (emission[None], dark)
    ]
    lit, plain = (reflect(stack, Palette(cards, pigmentation), illuminant)[0] for pigmentation in inks)
    return np.asarray(lit - plain)
