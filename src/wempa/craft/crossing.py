"""Crossing swatches: each ink of a stack alone, and the pairs in both orders."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations

from .job import Job, LayDown
from .predict import Prediction, predict
from .words import MAX_CROSSING


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    """One lay-down over another: positions in the stack, and what comes of it."""

    below: int
    above: int
    prediction: Prediction


@dataclass(frozen=True, slots=True, eq=False)
class Crossing:
    """What a card with crossing swatches shows at once."""

    bare: Prediction
    alone: tuple[Prediction, ...]
    """One per lay-down, in the order of the stack."""
    pairs: tuple[Pair, ...]
    """Every two lay-downs in the stack's order, then the same the other way round."""
    full: Prediction


def crossing(job: Job) -> Crossing:
    """Predict a stack as swatches that cross on its card.

    Only the first `MAX_CROSSING` lay-downs cross; the full stack has them all.
    Treatments are kept for the full stack only: a swatch that crosses another has
    not been treated yet.
    """
    laid = [entry for entry in job.stack if isinstance(entry, LayDown)][:MAX_CROSSING]
    pairs = []
    for i, j in combinations(range(len(laid)), 2):
        for below, above in ((i, j), (j, i)):
            # The way of joining belongs to the crossing, not to the swatch.
            over = laid[max(i, j)].over
            stack = (laid[below], replace(laid[above], over=over))
            pairs.append(Pair(below, above, predict(replace(job, stack=stack))))
    return Crossing(
        bare=predict(replace(job, stack=())),
        alone=tuple(predict(replace(job, stack=(entry,))) for entry in laid),
        pairs=tuple(pairs),
        full=predict(job),
    )
