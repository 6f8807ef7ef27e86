"""What a card does to each ink by itself: the first thing to know of coloured card."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Colour, Job, LayDown
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.mud import dulls
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.vocabulary import VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, Ints


@dataclass(frozen=True, slots=True, eq=False)
class EachAlone:
    """Inks by themselves, n of them, on a card and on white card of the same surface."""

    lab: Floats
    """CIELAB on the card, (n, 3)."""
    white: Floats
    """CIELAB on white card, (n, 3)."""
    mud: Floats
    """0–100, (n,)."""
    kinds: tuple[VerdictKind, ...]
    coloured: bool
    """Whether the card counts as coloured."""
    grounds: Floats
    """CIELAB of the bare card and of white card, (2, 3)."""
    order: Ints
    """The worst first: by mud, then by how far the card takes them from what they are on white, (n,)."""


def each_alone(job: Job, lays: Sequence[LayDown], wanted: Floats | None = None) -> EachAlone:
    """Predict and judge each lay-down by itself on the job's card, beside white card.

    `job` gives card, inks, light, mud line and constants; `wanted` is what `prepare.wanted_colours` gives.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    stacks = [(lay,) for lay in lays]
    on_white = replace(job, cardstock=replace(job.cardstock, colour=Colour(hex=WHITE_CARD), floor=None))
    found, plain = weigh_stacks(job, stacks, wanted), weigh_stacks(on_white, stacks, wanted).lab
    kinds = tuple([found.kind_of(k) for k in range(len(stacks))])
    order = np.lexsort((-cm.delta_e(found.lab, plain), -np.rint(found.mud)))
    bench, table = prepare_job(replace(job, inks=()), []), constants.values(job.constants)
    coloured = dulls(bench.card_from_white, table) > table["verdict.coloured"]
    grounds = np.stack([bench.card.lab, bench.white])
    return EachAlone(found.lab, plain, found.mud, kinds, coloured, grounds, order.astype(np.intp))
