"""The tone curve of a phone, from steps of printed black lines.

What is printed is black or not, so that a step of fine lines gives a known mean light whatever
the printer and the phone. How a phone bends the tones between black and white follows, channel by
channel. Printed lines come out wider than drawn (ink spreads, and light spreads in paper: Yule and
Nielsen 1951), by much the same width at every edge; steps of the same share in finer and in coarser
lines tell that width apart from the phone's curve.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

Pixels = NDArray[np.uint8]
"""Gamma-coded sRGB, (height, width, 3)."""
Box = tuple[float, float, float, float]
"""Left, top, right, bottom in pixels."""

_DECODED: Floats = cm.linear_from_coded(np.arange(256) / 255)
# The curve as its deviation in code: sines that vanish at black and at the brightest white, and how
# far each goes in phones (standard deviation). The first two are a gamma and an S; higher ones are rare.
_REACH: Floats = np.array([0.04, 0.05, 0.012, 0.008, 0.004, 0.003])
_SINES = len(_REACH)
# What lines may be widened by at each side in mm, and the black be lighter than it is known, and how
# likely that is (standard deviations).
_WIDER: Floats = np.arange(-0.02, 0.065, 0.005)
_WIDER_SPREAD = 0.03
_LIGHTER: Floats = np.arange(-0.02, 0.0401, 0.005)
_LIGHTER_SPREAD = 0.008
# A deviation of a step from the fitted curve that counts as one standard deviation, in code 0–1.
_NOISE = 0.004
_LEAST_STEPS = 4
_ROUNDS = 4
_CODES: Floats = np.arange(256) / 255
STRENGTH_AT: Floats = np.linspace(0.25, 1.0, 16)
"""Codes of grey, as shares of white's, at which `ToneCurve.strength` looks."""
_STRENGTH_UNIT = 0.05


@dataclass(frozen=True, slots=True, eq=False)
class ToneCurve:
    """Light by code."""

    table: Floats
    """Linear light of the codes 0 to 255 by channel, rising, (256, 3)."""

    def light(self, pixels: Pixels) -> Floats:
        """Linear light (…, 3) of gamma-coded pixels (…, 3)."""
        if self is SRGB:
            found: Floats = _DECODED[pixels]
            return found
        return np.stack([self.table[pixels[..., k], k] for k in range(3)], axis=-1)

    def strength(self, white: int = 230) -> float:
        """How far it bends the tones from what sRGB would have: 0 not, 1 strongly (root mean square of the
        deviation of grey below the code of white, in twentieths of the scale).
        """
        return bent(np.interp(STRENGTH_AT * white, np.arange(256.0), self.table.mean(axis=1)), white)


def bent(light: Floats, white: int) -> float:
    """`ToneCurve.strength` of grey whose light at `STRENGTH_AT` is (16,) and whose white has a code 0–255."""
    scaled = light / light[-1] * _DECODED[white]
    off = cm.coded_from_linear(np.clip(scaled, 0, 1)) - STRENGTH_AT * white / 255
    return float(np.sqrt((off**2).mean()) / _STRENGTH_UNIT)


SRGB = ToneCurve(np.repeat(_DECODED[:, None], 3, axis=1))
"""A phone that bends nothing."""


@dataclass(frozen=True, slots=True, eq=False)
class SeenStep:
    """A step of black lines on white card."""

    codes: NDArray[np.uint8]
    """Its pixels, (n, 3)."""
    weights: Floats
    """How much each of them counts, (n,): less at the rim, so that a part of a line more or less does not tell."""
    share: float
    """Share of black as drawn, 0–1."""
    pitch: float
    """From one line to the next, in mm."""
    white: Floats
    """Light that bare white gives at its place, as sRGB has it, (3,)."""


@dataclass(frozen=True, slots=True, eq=False)
class FittedTone:
    """A curve and how well the steps bear it out."""

    curve: ToneCurve
    wider: float
    """By how much each line is wider than drawn at each side, in mm."""
    off: float
    """Root mean square of what is left of the steps, in code 0–1."""


def fit_tone(steps: Sequence[SeenStep], black: float) -> FittedTone | None:
    """The tone curve by which all steps give the light that they must; None for fewer than four of them.

    `black` is the light of printed black as a share of white's. Monotone and smooth
    in code, towards sRGB where no step tells (sines with a penalty on the higher ones: ridge regression);
    the width of the lines and stray light are sought together with it. A step's pixels need not be blurred into one
    grey: it is the mean of their light that is compared, so that the curve is improved in rounds.
    """
    if len(steps) < _LEAST_STEPS:
        return None
    shares = np.array([step.share for step in steps])
    # Nothing is wider where there are no lines.
    edges = np.array([2 / step.pitch if 0 < step.share < 1 else 0.0 for step in steps])
    # How much of a step has which code, by channel.
    held = np.stack(
        [[np.bincount(step.codes[:, k], step.weights, 256) / step.weights.sum() for step in steps] for k in range(3)]
    )
    whites = cm.coded_from_linear(np.stack([step.white for step in steps])).T
    top = whites.max(axis=1)
    sines = np.stack([_sines(_CODES / one) for one in top])
    bare = np.stack([_sines(whites[k] / top[k]) for k in range(3)])
    found, wider, off = np.zeros((3, _SINES)), 0.0, 0.0
    for _ in range(_ROUNDS):
        found, wider, off = _improved(found, held, whites, sines, bare, shares, edges, black)
    straight = _CODES + np.einsum("kcj,kj->kc", sines, found)
    table = np.maximum.accumulate(cm.linear_from_coded(np.maximum(straight, 0)), axis=1).T
    return FittedTone(ToneCurve(table + 1e-9 * np.arange(256)[:, None]), wider, off)


def _improved(
    found: Floats,
    held: Floats,
    whites: Floats,
    sines: Floats,
    bare: Floats,
    shares: Floats,
    edges: Floats,
    black: float,
) -> tuple[Floats, float, float]:
    """One step of Gauss and Newton: coefficients (3, sines), the lines' width, and what is left.

    `held` (3, n, 256) is the share of each code in each step, `whites` (3, n) the code of white at each,
    `sines` (3, 256, sines) those of all codes and `bare` (3, n, sines) those of the whites. The brightest
    white keeps its light: only relations between lights matter.
    """
    penalty = np.diag((_NOISE / _REACH) ** 2)
    straight = np.clip(_CODES + np.einsum("kcj,kj->kc", sines, found), 0, 1.2)
    mean = np.einsum("knc,kc->kn", held, cm.linear_from_coded(straight))
    code = cm.coded_from_linear(mean)
    slope = _slope(straight)
    steps = np.einsum("knc,kc,kcj->knj", held, slope, sines) / _slope(code)[..., None]
    white = whites + np.einsum("knj,kj->kn", bare, found)
    best: tuple[float, Floats, float, float] | None = None
    for wider in _WIDER:
        share = np.clip(shares + wider * edges, 0, 1)
        for lighter in _LIGHTER:
            wanted = 1 - share * (1 - max(black + lighter, 0.003))
            cost = (wider / _WIDER_SPREAD) ** 2 + (lighter / _LIGHTER_SPREAD) ** 2
            target = cm.coded_from_linear(cm.linear_from_coded(white) * wanted)
            # By how much the target moves with white's code: light is nearly a power of code.
            rows = steps - (target / white)[..., None] * bare
            miss = target - code + np.einsum("knj,kj->kn", rows, found)
            turned = rows.transpose(0, 2, 1)
            tried = np.linalg.solve(turned @ rows + penalty, turned @ miss[..., None])[..., 0]
            rest = np.einsum("knj,kj->kn", rows, tried) - miss
            cost += float((rest**2).sum() + np.einsum("ki,ij,kj->", tried, penalty, tried)) / _NOISE**2
            if best is None or cost < best[0]:
                best = (cost, tried, float(wider), float(np.sqrt((rest**2).mean())))
    assert best is not None
    return best[1:]


def _slope(code: Floats) -> Floats:
    """How fast light rises with code (…)."""
    return np.asarray((cm.linear_from_coded(code + 1e-3) - cm.linear_from_coded(np.maximum(code - 1e-3, 0))) / 2e-3)


def _sines(at: Floats) -> Floats:
    """Sines of pi, 2 pi, … times a code as a share of the brightest white's (n,), (n, sines)."""
    return np.sin(np.pi * at[:, None] * np.arange(1, _SINES + 1))
