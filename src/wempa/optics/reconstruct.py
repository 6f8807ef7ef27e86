"""From a colour to a plausible reflectance spectrum.

The least-hyperbolic-tangent-slope-squared reconstruction of Burns (2020,
"Numerical methods for smoothest reflectance reconstruction", Color Research and
Application 45): R = (tanh z + 1) / 2 with the smallest sum of squared steps of z
that has exactly the wanted tristimulus values. R is always between 0 and 1. Steps
count less where the spectra of colourants are steep, and more where nothing is seen.
"""

from __future__ import annotations

import numpy as np

from .colorimetry import delta_e, lab_from_xyz
from .grid import BANDS, WAVELENGTHS, Bools, Floats, weights, white_point

_MAX_NEWTON = 40
_MAX_DAMPED = 120
_TOLERANCE = 1e-9
# |z| at most this, so that R stays within 2e-5 of 0 or 1 and K stays finite.
_Z_LIMIT = 5.4

# Where colourants' bands meet, nm, and how much of the slope there is not held against a spectrum (ln of its
# weight); beyond what the eye sees well a spectrum is held the flatter. Found on measured overprints
# (docs/decisions/2026-11-26-spectra.md).
_MEET = ((495.0, 1.2), (590.0, 0.8))
_WIDTH, _ENDS, _FLAT = 25.0, (430.0, 680.0), 3.0


def step_weights() -> Floats:
    """How much the square of each step from band to band counts, (35,)."""
    between = (WAVELENGTHS[1:] + WAVELENGTHS[:-1]) / 2
    weight = -sum(freed * np.exp(-0.5 * ((between - place) / _WIDTH) ** 2) for place, freed in _MEET)
    return np.asarray(np.exp(weight + _FLAT * ((between < _ENDS[0]) | (between > _ENDS[1]))))


_STEPS = np.diff(np.eye(BANDS), axis=0)
# The quadratic form of the weighted sum of squared steps.
_D: Floats = _STEPS.T @ (step_weights()[:, None] * _STEPS)


def smoothest_reflectance(tristimulus: Floats, illuminant: str) -> tuple[Floats, Floats]:
    """Smoothest reflectances with the given XYZ, for a batch of colours.

    Parameters
    ----------
    tristimulus : (n, 3), Y = 1 for white, under `illuminant`.
    illuminant : one of `grid.ILLUMINANTS`.

    Returns
    -------
    reflectance : (n, 36), strictly between 0 and 1.
    miss : (n,), ΔE00 between the wanted colour and the one reached. At most
        0.02 inside the solid of surface colours; beyond its edge the nearest
        surface colour in CIELAB is returned, and `miss` says how near that is.
    """
    wanted = np.atleast_2d(np.asarray(tristimulus, dtype=np.float64))
    w = weights(illuminant)
    z, done = _newton(wanted, w)
    for i in np.flatnonzero(~done):
        z[i] = _nearest(wanted[i], w, white_point(illuminant))
    reflectance = _reflectance(z)
    white = white_point(illuminant)
    miss = delta_e(lab_from_xyz(reflectance @ w, white), lab_from_xyz(wanted, white))
    return reflectance, miss


def _reflectance(z: Floats) -> Floats:
    return np.asarray((np.tanh(z) + 1) / 2)


def _newton(wanted: Floats, w: Floats) -> tuple[Floats, Bools]:
    """Newton's method on the Lagrange conditions, all colours at once."""
    n = len(wanted)
    z = np.zeros((n, BANDS))
    multiplier = np.zeros((n, 3))
    system = np.zeros((n, BANDS + 3, BANDS + 3))
    system[:, :BANDS, :BANDS] = _D
    diagonal = np.arange(BANDS)
    done = np.zeros(n, dtype=np.bool_)
    for _ in range(_MAX_NEWTON):
        tanh = np.tanh(z)
        slope = (1 - tanh**2) / 2
        pull = multiplier @ w.T
        jacobian = slope[:, :, None] * w
        residual = np.concatenate([z @ _D + slope * pull, ((tanh + 1) / 2) @ w - wanted], axis=1)
        done = np.abs(residual).max(axis=1) < _TOLERANCE
        if done.all():
            break
        system[:, diagonal, diagonal] = np.diag(_D) - 2 * tanh * slope * pull
        system[:, :BANDS, BANDS:] = jacobian
        system[:, BANDS:, :BANDS] = jacobian.transpose(0, 2, 1)
        try:
            step = np.linalg.solve(system, -residual[:, :, None])[:, :, 0]
        except np.linalg.LinAlgError:
            # One colour of the batch ran to the edge: take them one by one.
            if n == 1:
                break
            parts = [_newton(row[None], w) for row in wanted]
            return np.concatenate([p[0] for p in parts]), np.concatenate([p[1] for p in parts])
        reach = np.abs(step[:, :BANDS]).max(axis=1)
        scale = np.where(done, 0.0, np.minimum(1.0, 2.0 / np.maximum(reach, 1e-12)))[:, None]
        z += scale * step[:, :BANDS]
        multiplier += scale * step[:, BANDS:]
        np.clip(z, -40, 40, out=z)
    done &= np.abs(z).max(axis=1) <= _Z_LIMIT
    return z, done


def _nearest(wanted: Floats, w: Floats, white: Floats) -> Floats:
    """The surface colour nearest in CIELAB, by Levenberg–Marquardt on z."""
    target = lab_from_xyz(wanted, white)
    ridge = 1e-5 * _D

    def state(z: Floats) -> tuple[Floats, float]:
        miss = lab_from_xyz(_reflectance(z) @ w, white) - target
        return miss, float(miss @ miss + z @ ridge @ z)

    level = float(np.clip(wanted[1], 0.01, 0.99))
    z = np.full(BANDS, np.arctanh(2 * level - 1))
    miss, cost = state(z)
    damping = 1.0
    for _ in range(_MAX_DAMPED):
        reflectance = _reflectance(z)
        slope = 2 * reflectance * (1 - reflectance)
        jacobian = _lab_jacobian(reflectance @ w, white) @ (slope[:, None] * w).T
        gradient = jacobian.T @ miss + ridge @ z
        hessian = jacobian.T @ jacobian + ridge
        trial = np.clip(z - np.linalg.solve(hessian + damping * np.eye(BANDS), gradient), -_Z_LIMIT, _Z_LIMIT)
        new_miss, new_cost = state(trial)
        if new_cost < cost:
            gain = cost - new_cost
            z, miss, cost = trial, new_miss, new_cost
            damping = max(damping / 4, 1e-9)
            if gain < 1e-10 * max(cost, 1e-4):
                break
        else:
            damping *= 5
            if damping > 1e9:
                break
    return z


def _lab_jacobian(tristimulus: Floats, white: Floats) -> Floats:
    """D Lab / d XYZ (3, 3) at XYZ (3,)."""
    ratio = np.maximum(tristimulus / white, 1e-9)
    epsilon = 216 / 24389
    slope = np.where(ratio > epsilon, np.cbrt(ratio) / (3 * ratio), 24389 / 27 / 116) / white
    return np.array(
        [
            [0.0, 116 * slope[1], 0.0],
            [500 * slope[0], -500 * slope[1], 0.0],
            [0.0, 200 * slope[1], -200 * slope[2]],
        ]
    )
