"""Kubelka–Munk films: how a layer of ink scatters and lets light through."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from .grid import Floats


class Film(NamedTuple):
    """A layer by what it does to light, each (..., 36) in 0–1."""

    reflectance: Floats
    """R₀ seen from above over black."""
    transmittance: Floats
    """T, the same both ways."""
    underside: Floats
    """R₀ seen from below; differs from `reflectance` in composed layers."""


def film(absorption: Floats, scattering: Floats) -> Film:
    """Reflectance over black and transmittance of a homogeneous layer.

    Kubelka 1948 with k = K·d and s = S·d (both >= 0, any broadcastable shapes):
    q = sqrt(k (k + 2 s)), T = 1 / ((s + k) sinh(q)/q + cosh q) and
    R₀ = s sinh(q)/q · T. Written with decaying exponentials it neither overflows
    in thick films nor divides by zero as s or k goes to zero, where it becomes
    Beer–Lambert's exp(-k) and the pure scatterer's s / (1 + s).
    """
    # In place where it can be: half the time of a large batch goes here.
    q = absorption + 2 * scattering
    q *= absorption
    np.sqrt(q, out=q)
    np.maximum(q, 1e-9, out=q)
    decay = np.exp(-q)
    # 1 - exp(-2 q), exact where q is small.
    q *= 2
    gone = -np.expm1(-q)
    sinhc = np.divide(gone, q, out=q)
    denominator = (scattering + absorption) * sinhc
    gone *= -0.5
    gone += 1
    denominator += gone
    decay /= denominator
    sinhc *= scattering
    sinhc /= denominator
    return Film(sinhc, decay, sinhc)


def over(layer: Film, below: Floats) -> Floats:
    """Reflectance of a layer on a background of internal reflectance `below` (…, 36), 0–1 (adding, Kubelka 1954)."""
    return np.asarray(layer.reflectance + layer.transmittance**2 * below / (1 - layer.underside * below))


def compose(upper: Film, lower: Film) -> Film:
    """One layer that acts as `upper` lying on `lower` (adding, Kubelka 1954)."""
    bounce = 1 - upper.underside * lower.reflectance
    return Film(
        upper.reflectance + upper.transmittance**2 * lower.reflectance / bounce,
        upper.transmittance * lower.transmittance / bounce,
        lower.underside + lower.transmittance**2 * upper.underside / bounce,
    )
