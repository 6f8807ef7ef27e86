"""Crossing swatches: each ink of a stack alone, and the pairs in both orders."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from .job import Job, LayDown, Stash
from .predict import Prediction, predict, wanted_colours
from .words import MAX_CROSSING, Look


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    """One lay-down over another: positions among the lay-downs, and what comes of it."""

    below: int
    above: int
    prediction: Prediction
    order_matters: float
    """ΔE00 to the same two the other way round."""


@dataclass(frozen=True, slots=True, eq=False)
class Crossing:
    """What a card with crossing swatches shows at once."""

    bare: Prediction
    alone: tuple[Prediction, ...]
    """One per lay-down, in the order of the stack."""
    pairs: tuple[Pair, ...]
    """Every two lay-downs in the stack's order, each followed by the same the other way round."""
    full: Prediction
    wet: Prediction
    """The full stack while it is wet."""


def crossing(job: Job, wanted: Floats | None = None) -> Crossing:
    """Predict a stack as swatches that cross on its card.

    Only the first `MAX_CROSSING` lay-downs cross; the full stack has them all.
    Treatments are kept for the full stack only: a swatch that crosses another has
    not been treated yet. `wanted` is what `predict.wanted_colours` gives for the
    job, if the caller has it already.
    """
    wanted = wanted_colours(job) if wanted is None else wanted
    plain = replace(job, stash=Stash(), fixes=False)
    laid = [entry for entry in job.stack if isinstance(entry, LayDown)][:MAX_CROSSING]
    seen: dict[object, Prediction] = {}

    def look(*stack: LayDown) -> Prediction:
        if stack not in seen:
            seen[stack] = predict(replace(plain, stack=stack, look=Look.DRY), wanted)
        return seen[stack]

    pairs = []
    for i, j in combinations(range(len(laid)), 2):
        # The way of joining belongs to the crossing, not to the swatch.
        over = laid[j].over
        there = look(laid[i], replace(laid[j], over=over))
        back = look(laid[j], replace(laid[i], over=over))
        apart = float(cm.delta_e(there.colour.lab, back.colour.lab))
        pairs += [Pair(i, j, there, apart), Pair(j, i, back, apart)]
    same = job.look is Look.DRY and seen.get(job.stack)
    return Crossing(
        bare=look(),
        alone=tuple(look(entry) for entry in laid),
        pairs=tuple(pairs),
        full=same or predict(plain, wanted),
        wet=predict(replace(plain, look=Look.WET), wanted),
    )
