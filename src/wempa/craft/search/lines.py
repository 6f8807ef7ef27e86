"""Linear bounds, band by band, on what third lay-downs make of the light and the floor that they find."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from wempa.optics.film import Film
from wempa.optics.grid import BANDS, Floats, Ints, Reals

from .features import TERMS, left_of, terms

# Points that bounds are fitted at: of light, of the floor.
_LIGHTS, _LEFT = 13, 13
# Least singular value of a fit, over the largest: large coefficients that all but cancel leave wide bounds.
_CONDITION = 3e-3
# How much farther bounds stray between the points, of how far they go at these; lay-downs worked at a time.
_STRAY, _BLOCK = 0.15, 96


class ThirdLays(Protocol):
    """Lay-downs that may go over a stack, n of them, and what light does in them; `PairSpace` is one."""

    cover: Floats
    ink: Ints

    @property
    def lies(self) -> Floats:
        """Dose of each ink that lies there already, (inks,)."""

    @property
    def own_loss(self) -> Floats:
        """What each ink adds to the floor's loss at dose 1 or more, (inks, 36)."""

    def films(self, ink: Ints, dose: Floats, cover: Floats) -> Film:
        """Films of layers of the inks (l, m) at doses (l, m)."""

    def lay(self, below: Floats, layer: Film, cover: Floats) -> Floats:
        """Layers on what is below, (b, 36)."""

    def measured(self, internal: Floats, left: Floats) -> Floats:
        """Reflectance as seen, (b, 36)."""


@dataclass(frozen=True, slots=True, eq=False)
class Ends:
    """Least and most of what a third lay-down finds, band by band, (2, 36) each."""

    internal: Floats
    loss: Floats
    """The floor's, as it adds up; see `features.left_of`."""


@dataclass(frozen=True, slots=True, eq=False)
class Lines:
    """Linear functions of `features.terms` below and above the measured reflectance, by lay-down and band."""

    slope: Reals
    """The same for both, (…, n, 36, 7)."""
    low: Reals
    """What is added below, (…, n, 36)."""
    high: Reals

    def weighed(self, bands: Floats) -> Floats:
        """What the slopes come to for sums over bands, (k, 36), as functions of raw features, (k, …, n, 252)."""
        across = np.moveaxis(self.slope, -1, -2).astype(np.float64)
        found = np.stack([across * weight for weight in bands])
        return found.reshape(*found.shape[:-2], -1)

    def most(self, weight: Floats) -> Floats:
        """What is added at most for a sum over bands, (36,); (…, n)."""
        return np.asarray(self.high @ np.maximum(weight, 0) + self.low @ np.minimum(weight, 0))


def fitted(space: ThirdLays, dose: Floats, ends: Ends) -> Lines:
    """Bounds on what third lay-downs make of all that lies between ends.

    `dose`, (2, n), is the least and the most that stays of each lay-down.
    All that happens to light rises with the light from below and with what is left of the floor, and what a film lets
    through and throws back lies between the films at both ends of the dose, so the ends of these bound it.
    """
    light = (ends.internal[0] + (ends.internal[1] - ends.internal[0]) * _steps(_LIGHTS)[:, None]).astype(np.float32)
    # Evenly by what is left, and there exactly what it may be.
    most_left, least_left = left_of(ends.loss)
    left = np.maximum(least_left + (most_left - least_left) * _steps(_LEFT)[:, None], 1e-9)
    loss = (np.log(left) ** 4).astype(np.float32)
    at = np.ones((_LIGHTS, _LEFT, BANDS, 1 + TERMS))
    at[..., 1:] = np.moveaxis(terms(*np.broadcast_arrays(light[:, None], loss[None])), -2, -1)
    by_band = np.moveaxis(at.reshape(-1, BANDS, 1 + TERMS), 1, 0)
    fit, by_band = np.linalg.pinv(by_band, rcond=_CONDITION).astype(np.float32), by_band.astype(np.float32)
    count = len(space.ink)
    shape = (count, BANDS)
    made = Lines(*(np.empty(each, dtype=np.float32) for each in ((*shape, TERMS), shape, shape)))
    for rows in (slice(start, min(start + _BLOCK, count)) for start in range(0, count, _BLOCK)):
        seen = _seen(space, rows, dose[:, rows], light, loss)
        found = np.matmul(fit, seen.mean(axis=0))
        off = seen - np.matmul(by_band, found)
        low, high = off[0].min(axis=1), off[1].max(axis=1)
        # Between the points it may stray a little farther.
        stray = _STRAY * (off.max(axis=2) - off.min(axis=2)) + 2e-5
        made.slope[rows] = np.moveaxis(found[:, 1:], 2, 0)
        made.low[rows], made.high[rows] = (found[:, 0] + low - stray[0]).T, (found[:, 0] + high + stray[1]).T
    return made


def _seen(space: ThirdLays, rows: slice, dose: Floats, light: Floats, loss: Floats) -> Reals:
    """Least and most reflectance of some lay-downs, n, over each light (l, 36) and loss (f, 36), (2, 36, l·f, n)."""
    ink, cover = space.ink[rows], space.cover[rows]
    thin, deep = (space.films(ink[:, None], each[:, None], cover) for each in dose)
    lies = space.lies[ink]
    more = np.minimum(lies + dose, 1) ** 4 - np.minimum(lies, 1) ** 4
    counted = more[:, :, None].astype(np.float32) * space.own_loss[ink]
    # More of an ink leaves less of the floor.
    low_left, high_left = (left_of(loss[:, None] + own) for own in (counted[1], counted[0]))
    values = np.empty((2, len(light), len(loss), len(ink), BANDS), dtype=np.float32)
    # More of an ink lets less light through. It throws more back, but for a film that is chalky while it is thin.
    darker = Film(
        np.minimum(thin.reflectance, deep.reflectance), deep.transmittance, np.minimum(thin.underside, deep.underside)
    )
    lighter = Film(
        np.maximum(thin.reflectance, deep.reflectance), thin.transmittance, np.maximum(thin.underside, deep.underside)
    )
    for p, each in enumerate(light):
        below = np.broadcast_to(each, (len(ink), BANDS))
        low, high = space.lay(below, darker, cover), space.lay(below, lighter, cover)
        # The reflectance of one film with the transmittance of the other may come to more than all.
        high = np.minimum(high, 1)
        for f in range(len(loss)):
            values[0, p, f] = space.measured(low, low_left[f])
            values[1, p, f] = space.measured(high, high_left[f])
    return np.moveaxis(values.reshape(2, -1, len(ink), BANDS), 3, 1)


def _steps(count: int) -> Floats:
    """From 0 to 1, closer at both ends, (count,)."""
    return np.asarray((1 - np.cos(np.linspace(0, np.pi, count))) / 2)
