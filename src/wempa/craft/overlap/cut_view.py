"""The card cut through: how much of each lay-down soaks in, how much sits on top."""

from __future__ import annotations

from dataclasses import dataclass

from wempa.craft import constants
from wempa.craft.job import Job, LayDown, used_inks
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve


@dataclass(frozen=True, slots=True)
class CutLayer:
    """One lay-down in the cut, doses relative to the inks' own swatches, after all treatments."""

    entry: int
    """Its place in the stack."""
    soaks: float
    """Dose that has gone into what lies below."""
    sits: float
    """Dose of the film on top."""
    cover: float
    """Share of the area that it covers, 0–1."""
    joined: bool
    """Whether it is mixed wet with the lay-down below, so that no edge lies between them."""


def cut_through(job: Job) -> tuple[CutLayer, ...]:
    """Every lay-down of a stack as the cut shows it, bottom first; raises `JobError`."""
    laid = [(index, entry) for index, entry in enumerate(job.stack) if isinstance(entry, LayDown)]
    if not laid:
        return ()
    bench = prepare_job(job, used_inks(job))
    lookup = bench.lookup
    parts = iter(resolve(job.stack, lookup, bench.card.ground, constants.values(job.constants))[-1].dry.parts)
    found: list[CutLayer] = []
    below = None
    for index, entry in laid:
        own = [(next(parts), lookup[key][1]) for key, share in entry.parts if share > 0]
        soaks = sum(part.dose * (1 - ink.habit.film_share) for part, ink in own)
        sits = sum(part.dose * ink.habit.film_share for part, ink in own)
        group = own[0][0].group
        found.append(CutLayer(index, soaks, sits, max(part.cover * part.patch for part, _ in own), group == below))
        below = group
    return tuple(found)
