"""Crossing swatches: each ink of a stack alone, and the pairs in both orders."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import MAX_CROSSING
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.prediction.results import Prediction
from wempa.craft.vocabulary import Look, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    """One lay-down over another: positions among the lay-downs, and what comes of it.

    Its margin and reasons are what `predict` says of `pair_alone`.
    """

    below: int
    above: int
    lab: Floats
    """CIELAB under the job's light, (3,)."""
    hex: str
    mud: float
    kind: VerdictKind
    order_matters: float
    """ΔE00 to the same two the other way round."""
    either_order: bool
    """Whether the order of the two makes no visible difference."""


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

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).

    Only the first `MAX_CROSSING` lay-downs cross; the full stack has them all.
    Treatments are kept for the full stack only: a swatch that crosses another has
    not been treated yet. `wanted` is what `predict.wanted_colours` gives for the
    job, if the caller has it already.
    """
    wanted = wanted_colours(job) if wanted is None else wanted
    plain = replace(job, stash=Stash(), fixes=False)
    laid = _crossing(job)
    return Crossing(
        bare=predict(replace(plain, stack=())),
        alone=tuple([predict(replace(plain, stack=(entry,), look=Look.DRY), wanted) for entry in laid]),
        pairs=_pairs(plain, laid, wanted),
        full=predict(plain, wanted),
        wet=predict(replace(plain, look=Look.WET), wanted),
    )


def pair_alone(job: Job, below: int, above: int) -> Job:
    """The job of one lay-down over another, both by position among the lay-downs.

    Raises
    ------
    JobError
        There are no such two lay-downs that cross.
    """
    laid = _crossing(job)
    if below == above or not (0 <= below < len(laid) and 0 <= above < len(laid)):
        raise JobError(f"there are no lay-downs {below} and {above} that cross")
    return replace(job, stack=_over(laid, below, above), look=Look.DRY, stash=Stash(), fixes=False)


def _crossing(job: Job) -> list[LayDown]:
    return [entry for entry in job.stack if isinstance(entry, LayDown)][:MAX_CROSSING]


def _over(laid: list[LayDown], below: int, above: int) -> tuple[LayDown, LayDown]:
    # The way of joining belongs to the crossing; a swatch by itself joins nothing.
    return laid[below], replace(laid[above], over=laid[max(below, above)].over)


def _pairs(plain: Job, laid: list[LayDown], wanted: Floats | None) -> tuple[Pair, ...]:
    places = [place for i, j in combinations(range(len(laid)), 2) for place in ((i, j), (j, i))]
    found = weigh_stacks(plain, [_over(laid, below, above) for below, above in places], wanted)
    apart = cm.delta_e(found.lab[::2], found.lab[1::2]).tolist()
    seen = constants.values(plain.constants)["order.seen"]
    hexes = cm.hexes_from_lab(found.lab, str(plain.illuminant))
    return tuple(
        [
            Pair(
                below,
                above,
                found.lab[n],
                hexes[n],
                float(found.mud[n]),
                found.kind_of(n),
                apart[n // 2],
                apart[n // 2] < seen,
            )
            for n, (below, above) in enumerate(places)
        ]
    )
