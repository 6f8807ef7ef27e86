"""How far a prediction can be trusted.

Each way in which inks and card are imperfectly known moves the predicted colour;
the moves, one per source and one standard deviation long, add up to a covariance.
The margin is the radius, in ΔE00 around the prediction, that holds the truth about
two times in three.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from math import erf, exp, log, sqrt

import numpy as np

from wempa.optics.grid import Floats
from wempa.optics.stack import Stacks

from .prepare import PreparedCard, PreparedInk
from .resolve import Resolved

# Standard normal quantile of 2/3.
_Z = 0.4307
_CARD_VARIANTS = (2, 3, 4)
DRAWS = 32
_SMOOTH = 2.0


@dataclass(slots=True)
class Sources:
    """All doubts of one stack: a row each, or a row up and a row down."""

    factors: list[list[float]] = field(default_factory=list)
    """Factor on the dose of each entry."""
    variants: list[list[int]] = field(default_factory=list)
    """Added to the ink index of each entry."""
    cards: list[int] = field(default_factory=list)
    pairs: list[int] = field(default_factory=list)
    """First rows of the doubts that have two."""
    singles: list[int] = field(default_factory=list)
    model: float = 0.0
    """Standard deviation per axis, in ΔE00, of what the model itself misses."""

    def add(self, *rows: tuple[list[float] | None, list[int] | None, int], width: int) -> None:
        """One doubt: factors, variants and card of one row or of two."""
        (self.pairs if len(rows) == 2 else self.singles).append(len(self.cards))
        for factors, variants, card in rows:
            self.factors.append(factors or [1.0] * width)
            self.variants.append(variants or [0] * width)
            self.cards.append(card)

    def append(self, batch: Stacks) -> Stacks:
        """The batch with the moved versions of its first row behind it."""
        more, width = len(self.cards), batch.ink.shape[1]
        index = np.zeros(len(batch) + more, dtype=np.intp)
        index[: len(batch)] = np.arange(len(batch))
        whole = batch.take(index)
        if more and width:
            whole.dose[len(batch) :] *= np.array(self.factors)
            whole.ink[len(batch) :] += np.array(self.variants)
        whole.card[len(batch) :] = self.cards
        return whole


@dataclass(frozen=True, slots=True, eq=False)
class Around:
    """What the doubts do to the colour."""

    radius: float
    """ΔE00 that holds the truth about two times in three."""
    results: Floats
    """CIELAB of `DRAWS` results as likely as one another, (DRAWS, 3)."""

    def chance(self, mud: Floats, line: float) -> float:
        """Chance (0–1) that mud is at or above the line.

        `mud` is that of the prediction, then of `results`. Mud bends sharply, so its
        chance comes from drawn colours and not from a slope; each draw counts as a
        narrow normal, so that the chance moves smoothly.
        """
        return float(np.mean([0.5 * (1 + erf((m - line) / (_SMOOTH * sqrt(2)))) for m in mud[1:].tolist()]))


@lru_cache(256)
def _draws(count: int) -> Floats:
    """`DRAWS` standard normal vectors of that many doubts, each with its opposite."""
    half = np.random.default_rng(20200520).standard_normal((DRAWS // 2, count))
    return np.concatenate([half, -half])


def sources(
    final: Resolved,
    inks: Sequence[PreparedInk],
    card: PreparedCard,
    table: Mapping[str, float],
    variants: int,
) -> Sources:
    """The doubts of a resolved stack: doses, ink colours, scatter, take-up, card, model."""
    found = Sources()
    row = final.dry
    owners, width = [part.ink for part in row.parts], len(row.parts)
    hand = log(table["margin.hand"])

    def both(on: list[bool], factor: float) -> None:
        up = [factor if yes else 1.0 for yes in on]
        down = [1 / factor if yes else 1.0 for yes in on]
        found.add((up, None, 0), (down, None, 0), width=width)

    for i, ink in enumerate(inks):
        own = [owner == variants * i for owner in owners]
        if not any(own):
            continue
        both(own, exp(sqrt(ink.dose_doubt**2 + hand**2)))
        swapped = [[v if yes else 0 for yes in own] for v in range(variants)]
        if ink.colour_doubt:
            for v in (1, 2, 3):
                found.add((None, swapped[v], 0), width=width)
        if ink.scatter_doubt:
            found.add((None, swapped[4], 0), (None, swapped[5], 0), width=width)
    later = [part.group > 0 for part in row.parts]
    if any(later) and not card.takeup_known:
        both(later, 1 + table["margin.takeup"] / card.ground.takeup)
    for v in _CARD_VARIANTS:
        found.add((None, None, v), width=width)

    # What the model itself misses: hardly anything for a swatch on its own card,
    # what the measured overprints show once another layer is as strong as the first.
    doses = [sum(p.dose for p in row.parts if p.group == g) for g in {p.group for p in row.parts}]
    overlapped = min(1.0, sum(doses) - max(doses)) if doses else 0.0
    laid = min(1.0, sum(doses))
    parts = (
        table["margin.own_card"],
        table["margin.other_card"] * laid,
        table["margin.layers"] * overlapped,
        table["margin.treatment"] * sqrt(row.treatments),
    )
    # Mean radius of an isotropic normal in three dimensions is 1.596 sigma.
    found.model = sqrt(sum(p * p for p in parts)) / 1.596
    return found


@lru_cache(4096)
def _metric(lightness: float, a: float, b: float) -> tuple[Floats, Floats]:
    """Matrix M (3, 3), and its inverse, with ‖M·ΔLab‖ close to the ΔE00 of a small step at a colour.

    The factors of CIEDE2000 (Sharma, Wu and Dalal 2005) at the colour itself; its
    rotation term, which matters to saturated blues, as a Cholesky factor.
    """
    chroma = sqrt(a * a + b * b)
    c7 = chroma**7
    g = 1.5 - 0.5 * sqrt(c7 / (c7 + 25.0**7))
    a2 = a * g
    chroma = sqrt(a2 * a2 + b * b)
    hue = np.arctan2(b, a2)
    t = (
        1
        - 0.17 * np.cos(hue - np.pi / 6)
        + 0.24 * np.cos(2 * hue)
        + 0.32 * np.cos(3 * hue + np.pi / 30)
        - 0.20 * np.cos(4 * hue - 63 * np.pi / 180)
    )
    l50 = (lightness - 50) ** 2
    s_l = 1 + 0.015 * l50 / sqrt(20 + l50)
    s_c, s_h = 1 + 0.045 * chroma, 1 + 0.015 * chroma * float(t)
    turn = 30 * exp(-((((float(np.degrees(hue)) % 360) - 275) / 25) ** 2))
    rotation = -2 * sqrt(chroma**7 / (chroma**7 + 25.0**7)) * np.sin(np.radians(2 * turn))
    radial = np.array([[1, 0, 0], [0, np.cos(hue), np.sin(hue)], [0, -np.sin(hue), np.cos(hue)]])
    radial = radial @ np.diag([1.0, g, 1.0])
    shear = np.array([[1, 0, 0], [0, 1, rotation / 2], [0, 0, sqrt(max(1e-6, 1 - rotation**2 / 4))]])
    metric = np.asarray(shear @ np.diag([1 / s_l, 1 / s_c, 1 / s_h]) @ radial)
    return metric, np.linalg.inv(metric)


def spread(base: Floats, moved: Floats, doubts: Sources) -> Around:
    """Covariance of the result, as a radius and as drawn results.

    `base` is CIELAB (3,), `moved` (rows, 3) in the order of `doubts`.
    """
    metric, inverse = _metric(*(round(v, 1) for v in base.tolist()))
    pairs = np.array(doubts.pairs, dtype=np.intp)
    steps = (moved[pairs] - moved[pairs + 1]) / 2
    singles = moved[doubts.singles] - base
    own = inverse.T * doubts.model
    every = np.concatenate([steps, singles, own])
    scaled = every @ metric.T
    covariance = scaled.T @ scaled
    # Quantile of a weighted sum of chi-squares: match two moments (Satterthwaite
    # 1946), then Wilson and Hilferty 1931.
    trace, square = float(covariance.trace()), float((covariance * covariance).sum())
    freedom = trace * trace / max(square, 1e-18)
    inner = 2 / (9 * freedom)
    quantile = square / max(trace, 1e-18) * freedom * (1 - inner + _Z * sqrt(inner)) ** 3
    return Around(sqrt(max(quantile, 0.0)), base + _draws(len(every)) @ every)
