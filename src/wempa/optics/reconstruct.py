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
from .grid import BANDS, WAVELENGTHS, Bools, Floats, Ints, weights, white_point

_MAX_NEWTON = 40
_MAX_DAMPED = 120
_TOLERANCE = 1e-9
# |z| at most this, so that R stays within 2e-5 of 0 or 1 and K stays finite.
_Z_LIMIT = 5.4
# Newton's method does not come back from so far.
_LOST = 15.0

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
    beyond = np.flatnonzero(~done)
    if len(beyond):
        z[beyond] = _nearest(wanted[beyond], w, white_point(illuminant))
    reflectance = _reflectance(z)
    white = white_point(illuminant)
    miss = delta_e(lab_from_xyz(reflectance @ w, white), lab_from_xyz(wanted, white))
    return reflectance, miss


def _reflectance(z: Floats) -> Floats:
    return np.asarray((np.tanh(z) + 1) / 2)


def _newton(wanted: Floats, w: Floats) -> tuple[Floats, Bools]:
    """Newton's method on the Lagrange conditions, all colours at once; those that run to the edge are given up."""
    n = len(wanted)
    z, multiplier = np.zeros((n, BANDS)), np.zeros((n, 3))
    done, active = np.zeros(n, dtype=np.bool_), np.arange(n)
    diagonal = np.arange(BANDS)
    for _ in range(_MAX_NEWTON):
        at = z[active]
        tanh = np.tanh(at)
        slope = (1 - tanh**2) / 2
        pull = multiplier[active] @ w.T
        jacobian = slope[:, :, None] * w
        residual = np.concatenate([at @ _D + slope * pull, ((tanh + 1) / 2) @ w - wanted[active]], axis=1)
        there = np.abs(residual).max(axis=1) < _TOLERANCE
        done[active[there]] = True
        going = ~there & (np.abs(at).max(axis=1) < _LOST)
        active = active[going]
        if not len(active):
            break
        system = np.zeros((len(active), BANDS + 3, BANDS + 3))
        system[:, :BANDS, :BANDS] = _D
        system[:, diagonal, diagonal] = np.diag(_D) - 2 * (tanh * slope * pull)[going]
        system[:, :BANDS, BANDS:] = jacobian[going]
        system[:, BANDS:, :BANDS] = jacobian[going].transpose(0, 2, 1)
        step, solved = _solved(system, -residual[going])
        active, step = active[solved], step[solved]
        reach = np.abs(step[:, :BANDS]).max(axis=1)
        scale = np.minimum(1.0, 2.0 / np.maximum(reach, 1e-12))[:, None]
        z[active] += scale * step[:, :BANDS]
        multiplier[active] += scale * step[:, BANDS:]
    done &= np.abs(z).max(axis=1) <= _Z_LIMIT
    return z, done


def _solved(system: Floats, right: Floats) -> tuple[Floats, Bools]:
    """Solutions (n, k) of linear systems (n, k, k), and which of them have one."""
    solved: Bools = np.ones(len(system), dtype=np.bool_)
    try:
        return np.asarray(np.linalg.solve(system, right[:, :, None])[:, :, 0]), solved
    except np.linalg.LinAlgError:
        found = np.zeros_like(right)
        for i, (one, wanted) in enumerate(zip(system, right, strict=True)):
            try:
                found[i] = np.linalg.solve(one, wanted)
            except np.linalg.LinAlgError:
                solved[i] = False
        return found, solved


def _nearest(wanted: Floats, w: Floats, white: Floats) -> Floats:
    """The surface colours nearest in CIELAB to XYZ (n, 3), as z (n, 36), by Levenberg–Marquardt on z."""
    target = lab_from_xyz(wanted, white)
    ridge, own = 1e-5 * _D, np.eye(BANDS)

    def state(z: Floats, rows: Ints) -> tuple[Floats, Floats]:
        miss = lab_from_xyz(_reflectance(z) @ w, white) - target[rows]
        return miss, (miss**2).sum(axis=1) + np.einsum("ij,jk,ik->i", z, ridge, z)

    level = np.clip(wanted[:, 1], 0.01, 0.99)
    z = np.repeat(np.arctanh(2 * level - 1)[:, None], BANDS, axis=1)
    active = np.arange(len(wanted))
    miss, cost = state(z, active)
    damping = np.ones(len(wanted))
    for _ in range(_MAX_DAMPED):
        reflectance = _reflectance(z[active])
        slope = 2 * reflectance * (1 - reflectance)
        jacobian = np.einsum("ijk,ibk->ijb", _lab_jacobian(reflectance @ w, white), slope[:, :, None] * w)
        gradient = np.einsum("ijb,ij->ib", jacobian, miss[active]) + z[active] @ ridge
        hessian = np.einsum("ijb,ijc->ibc", jacobian, jacobian) + ridge + damping[active, None, None] * own
        step = np.linalg.solve(hessian, gradient[:, :, None])[:, :, 0]
        trial = np.clip(z[active] - step, -_Z_LIMIT, _Z_LIMIT)
        new_miss, new_cost = state(trial, active)
        better = new_cost < cost[active]
        gain = cost[active] - new_cost
        nearer = active[better]
        z[nearer], miss[nearer], cost[nearer] = trial[better], new_miss[better], new_cost[better]
        damping[active] = np.where(better, np.maximum(damping[active] / 4, 1e-9), damping[active] * 5)
        over = np.where(better, gain < 1e-10 * np.maximum(new_cost, 1e-4), damping[active] > 1e9)
        active = active[~over]
        if not len(active):
            break
    return z


def _lab_jacobian(tristimulus: Floats, white: Floats) -> Floats:
    """D Lab / d XYZ (n, 3, 3) at XYZ (n, 3)."""
    ratio = np.maximum(tristimulus / white, 1e-9)
    epsilon = 216 / 24389
    slope = np.where(ratio > epsilon, np.cbrt(ratio) / (3 * ratio), 24389 / 27 / 116) / white
    x, y, z = slope.T
    none = np.zeros_like(x)
    rows = [[none, 116 * y, none], [500 * x, -500 * y, none], [none, 200 * y, -200 * z]]
    return np.moveaxis(np.array(rows), 2, 0)
