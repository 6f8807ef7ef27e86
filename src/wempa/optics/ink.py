"""Inks: what a swatch on card says about K and S.

Each ink has one absorption K(λ) at dose 1. A share of it, and all of its scatter,
lies in a film on the card; the rest has soaked into what is below. A soaking ink
keeps a trace of scatter of its own.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .film import compose, film, over
from .grid import BANDS, WAVELENGTHS, Bools, Floats

_K_RANGE = (1e-7, 60.0)
_ITERATIONS = 60


@dataclass(frozen=True, slots=True)
class Pigmentation:
    """Optical constants of n inks at dose 1."""

    absorption: Floats
    """K, (n, 36), >= 0."""
    scattering: Floats
    """S of the film, (n, 36), >= 0."""
    film_share: Floats
    """Share of K in the film rather than soaked in, (n,), 0–1."""
    trace: Floats
    """Scatter of the soaked part, (n, 36), >= 0."""
    floor_cap: Floats
    """Largest floor the ink leaves on a card, (n, 36)."""
    emission: Floats
    """φ·e(λ): energy given out per energy absorbed, (n, 36), 0 if it does not glow."""
    excitation: Floats
    """Share of the light absorbed in each band that can be given out again, (n, 36)."""


def lay_one(below: Floats, absorption: Floats, scattering: Floats, film_share: Floats, trace: Floats) -> Floats:
    """Internal reflectance of one lay-down at dose 1 over `below` (n, 36)."""
    soaked = film((1 - film_share) * absorption, trace)
    return over(compose(film(film_share * absorption, scattering), soaked), below)


def _kramers_kronig() -> Floats:
    """What an extinction in each band adds to the refractive index in every band, (36, 36).

    n(ω) − n₀ = (2/π)·P∫ ω′ k(ω′) / (ω′² − ω²) dω′, on points 1 nm apart from 300 to 820 nm, the pole lying half a
    step to either side of one; k is straight between bands and nothing beyond them.
    """
    fine = np.arange(300.0, 821.0)
    frequency = 1 / fine
    step = np.abs(np.gradient(frequency))
    beside = [1 / (WAVELENGTHS[:, None] + shift) for shift in (-0.5, 0.5)]
    kernel = np.mean([frequency / (frequency**2 - at**2) for at in beside], axis=0) * step * 2 / np.pi
    between = np.stack([np.interp(fine, WAVELENGTHS, band, left=0.0, right=0.0) for band in np.eye(BANDS)], axis=1)
    return np.asarray(kernel @ between)


_KRAMERS_KRONIG = _kramers_kronig()
_MIDDLE_NM = 550.0


def selective_scatter(trace: Floats, swatch: Floats, below: Floats, dispersion: float) -> Floats:
    """Scatter of an ink that soaks in, band by band, (n, 36).

    Parameters
    ----------
    trace : (n,) S at dose 1 if its refractive index were the same in every band.
    swatch, below : (n, 36) internal reflectances, 0–1; what it absorbs is taken from them by Beer and Lambert.
    dispersion : how much more its refractive index differs from that of its surroundings, for an extinction of 1.

    Where something absorbs, its refractive index is low on the side of short waves and high on that of long ones
    (Kronig 1926, Kramers 1927), and what scatters goes by the square of its difference from what lies around it
    (Rayleigh and Gans). So a magenta over black shines a little red and a yellow a little green, and cyan, which
    would shine where nobody sees it, not at all.
    """
    absorption = -0.5 * np.log(np.clip(swatch / np.maximum(below, 1e-9), 1e-9, 1.0))
    index = (absorption * (WAVELENGTHS / _MIDDLE_NM)) @ _KRAMERS_KRONIG.T
    return np.asarray(trace[:, None] * np.maximum(1 + dispersion * index, 0.0) ** 2)


def darkened(scattering: Floats, swatch: Floats, times: float) -> Floats:
    """S (…, 36) no more, band by band, than the darkness of the swatch allows.

    However thick, a film is no darker than the reflectance r at which K/S = (1 − r)²/2r
    (Kubelka and Munk 1931): as dark as the swatch with a K of `times` at dose 1 it scatters
    at most times · 2r/(1 − r)². Joined to the scatter that is expected by a 4-norm, so that
    light bands keep theirs and nothing jumps. `swatch` is internal reflectance, 0–1.
    """
    dark = np.clip(swatch, 1e-6, 1 - 1e-6)
    most = times * 2 * dark / (1 - dark) ** 2
    return np.asarray(scattering / (1 + (scattering / most) ** 4) ** 0.25)


def absorption_from_swatch(
    swatch: Floats, below: Floats, scattering: Floats, film_share: Floats, trace: Floats
) -> tuple[Floats, Bools]:
    """K that turns `below` into `swatch` at dose 1, band by band.

    Parameters
    ----------
    swatch, below : (n, 36) internal reflectances, 0–1.
    scattering : (n, 36) S at dose 1.
    film_share, trace : (n,) and (n, 36) as in `Pigmentation`.

    Returns
    -------
    absorption : (n, 36), >= 0. Where no K will do, because the swatch is lighter
        than the ink can be at K = 0, the nearest possible ink has K = 0.
    impossible : (n, 36), True in those bands.

    Reflectance falls steadily with K, so Newton's method in ln K inside a
    shrinking bracket always arrives.
    """
    # Bands are worked by themselves, so that those that have arrived need not wait for the others.
    shape = swatch.shape
    seen, under, scatter, share, haze = (
        np.broadcast_to(each, shape).reshape(-1) for each in (swatch, below, scattering, film_share[:, None], trace)
    )
    target = np.log(np.maximum(seen, 1e-9))
    lightest = lay_one(under, np.zeros_like(seen), scatter, share, haze)
    impossible = seen > lightest * (1 + 1e-12)
    low, high = np.full_like(seen, np.log(_K_RANGE[0])), np.full_like(seen, np.log(_K_RANGE[1]))
    # Beer–Lambert there and back is a good start.
    guess = np.log(np.maximum(-0.5 * (target - np.log(np.maximum(lightest, 1e-9))), 1e-6))
    x = np.clip(guess, low, high)
    step = 1e-5
    going = np.flatnonzero(~impossible)
    for _ in range(_ITERATIONS):
        at = x[going]
        # Here and a step on, for the slope, in one go.
        laid = lay_one(under[going], np.exp([at, at + step]), scatter[going], share[going], haze[going])
        here, there = np.log(laid) - target[going]
        low[going] = np.where(here > 0, at, low[going])
        high[going] = np.where(here > 0, high[going], at)
        slope = np.minimum((there - here) / step, -1e-12)
        newton = at - here / slope
        inside = (newton > low[going]) & (newton < high[going])
        new = np.where(inside, newton, (low[going] + high[going]) / 2)
        settled = (np.abs(here) < 1e-10) | (np.abs(new - at) < 1e-10)
        x[going] = np.where(settled, at, new)
        going = going[~settled]
        if not len(going):
            break
    return np.where(impossible, 0.0, np.exp(x)).reshape(shape), impossible.reshape(shape)


def constants_from_two(
    swatches: tuple[Floats, Floats],
    below: tuple[Floats, Floats],
    noise: tuple[Floats, Floats],
    expected_scatter: Floats,
    film_share: float,
    trace: Floats,
) -> tuple[Floats, Floats]:
    """K and S from swatches of one dose on light and on dark card.

    Parameters
    ----------
    swatches, below : internal reflectances (36,) of the two swatches and of the
        bare cards below them.
    noise : standard deviation (36,) of each swatch's internal reflectance; zero
        for exact spectra.
    expected_scatter : (36,) S that the formula suggests.
    film_share, trace : one of them and (36,), as in `Pigmentation`.

    Returns
    -------
    absorption, scattering : (36,), both > 0.

    Maximum a posteriori in ln K and ln S, band by band, by Levenberg–Marquardt.
    The prior on ln S is wide (a factor of e²) and centred on the formula; its
    weight against the data is the noise, so that it vanishes for exact spectra
    and takes over in a band so dark or noisy that the two swatches cannot tell K
    from S.
    """
    light, dark = swatches
    exact = 1e-6
    spread = [np.maximum(sigma, exact) for sigma in noise]
    prior_centre = np.log(np.maximum(expected_scatter, 1e-3))
    prior_spread = 2.0
    share = np.array(film_share)

    def residuals(p: Floats) -> Floats:
        absorption, scattering = np.exp(p[0]), np.exp(p[1])
        rows = [
            (lay_one(bare, absorption, scattering, share, trace) - seen) / sigma
            for bare, seen, sigma in zip(below, (light, dark), spread, strict=True)
        ]
        return np.stack([*rows, (p[1] - prior_centre) / prior_spread])

    start, _ = absorption_from_swatch(
        light[None],
        below[0][None],
        np.maximum(expected_scatter, 1e-3)[None],
        share[None],
        trace[None],
    )
    p = np.stack([np.log(np.maximum(start[0], 1e-4)), prior_centre])
    damping = np.full(p.shape[1], 1e-2)
    value = residuals(p)
    cost = (value**2).sum(axis=0)
    for _ in range(200):
        jacobian = np.stack(
            [
                (residuals(p + np.array([[1e-6], [0.0]])) - value) / 1e-6,
                (residuals(p + np.array([[0.0], [1e-6]])) - value) / 1e-6,
            ]
        )
        normal = np.einsum("irb,jrb->bij", jacobian, jacobian)
        gradient = np.einsum("irb,rb->bi", jacobian, value)
        scale = np.einsum("bii->bi", normal) + 1e-12
        step = np.linalg.solve(normal + damping[:, None, None] * np.eye(2) * scale[:, None, :], -gradient[:, :, None])[
            :, :, 0
        ].T
        trial = np.clip(p + np.clip(step, -2, 2), -16, 5)
        new_value = residuals(trial)
        new_cost = (new_value**2).sum(axis=0)
        better = new_cost < cost
        moved = np.abs(np.where(better, trial - p, 0)).max()
        p = np.where(better, trial, p)
        value = np.where(better, new_value, value)
        cost = np.where(better, new_cost, cost)
        damping = np.where(better, damping / 5, np.minimum(damping * 4, 1e8))
        if moved < 1e-9 and bool(((damping > 1e4) | (damping < 1e-8)).all()):
            break
    return np.exp(p[0]), np.exp(p[1])
