"""Linear bounds, band by band, on what third lay-downs make of the light and the floor that they find."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from wempa.optics.film import Film
from wempa.optics.grid import BANDS, Floats

from .features import TERMS, left_of, terms

if TYPE_CHECKING:
    from .pairs import PairSpace

# Points that bounds are fitted at: of light, of the floor.
_LIGHTS, _LEFT = 13, 7
# Least singular value of a fit, over the largest: large coefficients that all but cancel leave wide bounds.
_CONDITION = 3e-3


@dataclass(frozen=True, slots=True, eq=False)
class Ends:
    """Least and most of what a third lay-down finds, band by band, (2, 36) each."""

    internal: Floats
    loss: Floats
    """The floor's, as it adds up; see `features.left_of`."""


def fitted(space: PairSpace, dose: Floats, ends: Ends) -> tuple[Floats, Floats]:
    """Linear functions below and above the measured reflectance, (n, 36, 8) each, by lay-down and band.

    Of one and of `features.terms`; `dose`, (2, n), is the least and the most that stays of each lay-down.
    All that happens to light rises with the light from below, falls with the dose and rises with what is
    left of the floor, so the ends of these bound it.
    """
    n = len(space.lays)
    thin, deep = (space.films(space.ink[:, None], each[:, None], space.cover) for each in dose)
    light = (ends.internal[0] + (ends.internal[1] - ends.internal[0]) * _steps(_LIGHTS)[:, None]).astype(np.float32)
    # Evenly by what is left, and there exactly what it may be.
    most_left, least_left = left_of(ends.loss)
    left = np.maximum(least_left + (most_left - least_left) * _steps(_LEFT)[:, None], 1e-9)
    loss = (np.log(left) ** 4).astype(np.float32)
    lies = space.lies[space.ink]
    more = np.minimum(lies + dose, 1) ** 4 - np.minimum(lies, 1) ** 4
    counted = more[:, :, None].astype(np.float32) * space.own_loss[space.ink]
    # More of an ink leaves less of the floor.
    low_left, high_left = (left_of(loss[:, None] + own) for own in (counted[1], counted[0]))
    values = np.empty((2, _LIGHTS, _LEFT, n, BANDS), dtype=np.float32)
    for p in range(_LIGHTS):
        below = np.broadcast_to(light[p], (n, BANDS))
        low = space.lay(below, Film(thin.reflectance, deep.transmittance, thin.underside), space.cover)
        high = space.lay(below, Film(deep.reflectance, thin.transmittance, deep.underside), space.cover)
        # The reflectance of one film with the transmittance of the other may come to more than all.
        high = np.minimum(high, 1)
        for f in range(_LEFT):
            values[0, p, f] = space.measured(low, low_left[f])
            values[1, p, f] = space.measured(high, high_left[f])
    at = np.ones((_LIGHTS, _LEFT, BANDS, 1 + TERMS))
    at[..., 1:] = np.moveaxis(terms(*np.broadcast_arrays(light[:, None], loss[None])), -2, -1)
    by_band = np.moveaxis(at.reshape(-1, BANDS, 1 + TERMS), 1, 0)
    seen = np.moveaxis(values.reshape(2, -1, n, BANDS), 3, 1)
    found = np.matmul(np.linalg.pinv(by_band, rcond=_CONDITION).astype(np.float32), seen)
    off = seen - np.matmul(by_band.astype(np.float32), found)
    low, high = off.min(axis=2), off.max(axis=2)
    # Between the points it may stray a little farther.
    stray = 0.1 * (high - low) + 2e-5
    found[0, :, 0] += low[0] - stray[0]
    found[1, :, 0] += high[1] + stray[1]
    return np.moveaxis(found[0], 2, 0), np.moveaxis(found[1], 2, 0)


def linear_in(lines: tuple[Floats, Floats], weight: Floats) -> tuple[Floats, Floats]:
    """What bands of these `weight`, (36,), add up to at most: constants (n,) and functions of raw features (n, 252)."""
    low, high = lines
    single = weight.astype(np.float32)[:, None]
    up, down = np.maximum(single, 0), np.minimum(single, 0)
    whole = high * up + low * down
    linear = np.moveaxis(whole[..., 1:], -1, -2)
    return whole[..., 0].sum(axis=-1), linear.reshape(*linear.shape[:-2], -1)


def _steps(count: int) -> Floats:
    """From 0 to 1, closer at both ends, (count,)."""
    return np.asarray((1 - np.cos(np.linspace(0, np.pi, count))) / 2)
