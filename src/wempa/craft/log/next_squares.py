"""Which few test squares would teach the most about what somebody owns and plans.

Each square would narrow the doubt about inks, hand and card; the one that takes most off the
expected error of what is planned comes first, then the next given that one, and so on
(greedy choice for a linear normal model, Krause, Singh and Guestrin 2008).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wempa.craft.job import Job, LayDown, used_inks
from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Floats

from .knobs import RADIUS, knobs_of
from .learning import seen_slopes
from .observations import Observation, believed_of
from .supposed import Bench, Supposed


@dataclass(frozen=True, slots=True)
class NextSquare:
    """A test square, and what it would teach."""

    place: int
    """Its place in the list of squares that may be laid."""
    before: float
    """Expected ΔE00 of what is planned, before and after it."""
    after: float
    about: tuple[str, ...]
    """Keys of its inks."""


def next_squares(
    planned: Sequence[Job],
    possible: Sequence[Job],
    logged: Sequence[Observation],
    table: Mapping[str, float],
    most: int = 6,
    fewest: int = 3,
) -> list[NextSquare]:
    """The squares to lay next, the most telling first; each takes at least 3 % off what is left.

    `planned` are the stacks that are wanted, `possible` squares that can be laid.
    """
    if not planned or not possible:
        return []
    spread = table["known.photo.spread"]
    # Only how a square would move is needed, not what it will look like.
    stand_in = planned[0].cardstock.colour
    asked = [Observation(job, stand_in, spread) for job in (*planned, *possible)]
    everything = [*logged, *asked]
    believed = believed_of([one.job for one in everything])
    first = Supposed.of(believed, planned[0].constants)
    bench = Bench(believed)
    labs = bench.labs([(one, first) for one in everything])
    knobs = knobs_of(believed, everything, table)
    if not knobs:
        return []
    metric = np.stack([local_metric(*each)[0] for each in labs.tolist()])
    slopes = seen_slopes(bench, first, knobs, np.zeros(len(knobs)), everything, labs, metric)
    n = len(logged)
    wanted = slopes[n : n + len(planned)].reshape(-1, len(knobs))
    covariance = np.eye(len(knobs))
    for k, one in enumerate(logged):
        covariance = _after(covariance, slopes[k], _noise(one.spread, one.job, table))

    def expected(now: Floats) -> float:
        return float(np.sqrt(np.einsum("ij,jk,ik->i", wanted, now, wanted, optimize=True).sum() / len(planned)))

    chosen: list[NextSquare] = []
    left = list(range(len(possible)))
    was = expected(covariance)
    while left and len(chosen) < most:
        gains = wanted @ covariance
        best, best_left = -1, was
        for at in left:
            slope = slopes[n + len(planned) + at]
            inner = slope @ covariance @ slope.T + _noise(spread, possible[at], table) * np.eye(3)
            drop = np.einsum("ij,jk,ik->", gains @ slope.T, np.linalg.inv(inner), gains @ slope.T)
            then = float(np.sqrt(max(was**2 - drop / len(planned), 0.0)))
            if then < best_left - 1e-9:
                best, best_left = at, then
        if best < 0 or (len(chosen) >= fewest and best_left > 0.97 * was):
            break
        slope = slopes[n + len(planned) + best]
        covariance = _after(covariance, slope, _noise(spread, possible[best], table))
        chosen.append(NextSquare(best, was, best_left, tuple(used_inks(possible[best]))))
        left.remove(best)
        was = best_left
    return chosen


def _noise(spread: float, job: Job, table: Mapping[str, float]) -> float:
    layers = sum(isinstance(entry, LayDown) for entry in job.stack)
    over = table["learn.layers"] if layers > 1 else 0.0
    return (spread**2 + over**2 + table["learn.model"] ** 2) / RADIUS**2


def _after(covariance: Floats, slope: Floats, noise: float) -> Floats:
    """The doubt (k, k) that is left after a swatch with slopes (3, k)."""
    across = covariance @ slope.T
    return np.asarray(covariance - across @ np.linalg.solve(slope @ across + noise * np.eye(3), across.T))
