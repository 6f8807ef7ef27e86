"""How far a prediction can be trusted.

Each way in which inks and card are imperfectly known moves the predicted colour;
the moves, one per source and one standard deviation long, add up to a covariance.
The margin is the radius, in ΔE00 around the prediction, that holds the truth about
two times in three.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
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
DRAWS = 48
_SMOOTH = 2.0


@dataclass(frozen=True, slots=True)
class _Move:
    """Rows to add for one source: a pair (+ and -) or a single one."""

    edits: tuple[Callable[[Stacks, int], None], ...]


@dataclass(frozen=True, slots=True)
class Sources:
    """All doubts of one stack."""

    moves: tuple[_Move, ...]
    model: float
    """Standard deviation per axis, in ΔE00, of what the model itself misses."""

    @property
    def rows(self) -> int:
        """Rows that `batch` needs."""
        return sum(len(move.edits) for move in self.moves)

    def batch(self, copies: Stacks) -> Stacks:
        """Turn that many copies of the stack into the moved ones, in place."""
        row = 0
        for move in self.moves:
            for edit in move.edits:
                edit(copies, row)
                row += 1
        return copies


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
    moves: list[_Move] = []
    row = final.dry
    hand = log(table["margin.hand"])
    for i, ink in enumerate(inks):
        base = variants * i
        columns = np.array([k for k, part in enumerate(row.parts) if part.ink == base])
        if not columns.size:
            continue
        sigma = sqrt(ink.dose_doubt**2 + hand**2)
        moves.append(_Move((_scale(columns, exp(sigma)), _scale(columns, exp(-sigma)))))
        if not np.array_equal(ink.absorption[0], ink.absorption[1]):
            moves.extend(_Move((_swap(columns, base + v),)) for v in (1, 2, 3))
        if ink.scattering[4].any():
            moves.append(_Move((_swap(columns, base + 4), _swap(columns, base + 5))))
    later = np.array([k for k, part in enumerate(row.parts) if part.group > 0])
    if later.size and not card.takeup_known:
        change = table["margin.takeup"] / card.ground.takeup
        moves.append(_Move((_scale(later, 1 + change), _scale(later, 1 - change))))
    moves.extend(_Move((_recard(v),)) for v in _CARD_VARIANTS)

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
    return Sources(tuple(moves), sqrt(sum(p * p for p in parts)) / 1.596)


def _scale(columns: Floats, factor: float) -> Callable[[Stacks, int], None]:
    def edit(batch: Stacks, row: int) -> None:
        batch.dose[row, columns] *= factor

    return edit


def _swap(columns: Floats, ink: int) -> Callable[[Stacks, int], None]:
    def edit(batch: Stacks, row: int) -> None:
        batch.ink[row, columns] = ink

    return edit


def _recard(card: int) -> Callable[[Stacks, int], None]:
    def edit(batch: Stacks, row: int) -> None:
        batch.card[row] = card

    return edit


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


def spread(base: Floats, moved: Floats, doubts: Sources, parts: int, table: Mapping[str, float]) -> Around:
    """Covariance of the result, as a radius and as drawn results.

    `base` is CIELAB (3,), `moved` (rows, 3) in the order of `Sources.batch`.
    """
    metric, inverse = _metric(*(round(v, 1) for v in base.tolist()))
    steps = []
    row = 0
    for move in doubts.moves:
        if len(move.edits) == 2:
            steps.append((moved[row] - moved[row + 1]) / 2)
        else:
            steps.append(moved[row] - base)
        row += len(move.edits)
    own = inverse.T * doubts.model
    every = np.concatenate([np.array(steps).reshape(-1, 3), own])
    scaled = every @ metric.T
    covariance = scaled.T @ scaled
    # Quantile of a weighted sum of chi-squares: match two moments (Satterthwaite
    # 1946), then Wilson and Hilferty 1931.
    trace, square = float(np.trace(covariance)), float((covariance**2).sum())
    freedom = trace * trace / max(square, 1e-18)
    inner = 2 / (9 * freedom)
    quantile = square / max(trace, 1e-18) * freedom * (1 - inner + _Z * sqrt(inner)) ** 3
    return Around(sqrt(max(quantile, 0.0)), base + _draws(len(every)) @ every)
