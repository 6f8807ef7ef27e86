"""What there is to say of a whole chart: its order, what is new, what looks alike, which inks make the most."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from wempa.craft.colour.distinct import alike_groups, most_different, newness
from wempa.craft.colour.families import around_the_circle
from wempa.craft.limits import MOST_DIFFERENT
from wempa.craft.prediction.verdict import CLEAN
from wempa.craft.vocabulary import ChartOrder
from wempa.optics.grid import Floats, Ints

from .chart import Chart


@dataclass(frozen=True, slots=True, eq=False)
class ChartStudy:
    """What is told of a chart of n inks besides its cells."""

    fresh: Floats
    """ΔE00 of each cell to the nearest owned ink by itself, (n²,); infinite where none is owned."""
    leader: Ints
    """The cell that stands for each cell, (n²,): cells that look alike share one."""
    different: list[int]
    """Clean cells in the order of how much they differ."""
    ranked: list[int]
    """How many distinct clean colours each ink makes with the rest."""
    groups: int
    """How many groups of cells that look alike there are."""


def study_chart(chart: Chart, owned: Floats, table: Mapping[str, float]) -> ChartStudy:
    """Newness and groups of a chart's cells, the most different clean ones, and inks by clean colours.

    `owned` is CIELAB of every owned ink by itself, (m, 3).
    """
    n = len(chart.alone)
    lab = chart.lab.reshape(-1, 3)
    clean = (chart.kind == CLEAN).reshape(-1) & ~np.eye(n, dtype=np.bool_).reshape(-1)
    # A clean cell stands for others before a muddy one, and the one with least mud first.
    order = np.lexsort((chart.mud.reshape(-1), ~clean))
    leader = alike_groups(lab, table["company.apart"] / 2, order)
    groups = np.where(clean, leader, -1).reshape(n, n)
    ranked = [len((set(groups[k].tolist()) | set(groups[:, k].tolist())) - {-1}) for k in range(n)]
    return ChartStudy(
        fresh=newness(lab, owned),
        leader=leader,
        different=most_different(lab, MOST_DIFFERENT, clean),
        ranked=ranked,
        groups=len(np.unique(leader)),
    )


def order_of_inks(
    chart: Chart, by: ChartOrder, hero: int | None, fresh: Floats | None, table: Mapping[str, float]
) -> list[int]:
    """In which order the inks of a chart stand: round the circle, cleanest first, or those that make new colours first.

    With `hero` only its mixes with each of the others count, in the better order of the two. `fresh` is
    `ChartStudy.fresh`, wanted for newness only. Equals stand as they do by hue.
    """
    n = len(chart.alone)
    by_hue = around_the_circle(chart.alone, table)
    if by is ChartOrder.HUE or not n:
        return [int(k) for k in by_hue]
    place = np.argsort(by_hue)
    apart = ~np.eye(n, dtype=np.bool_)
    clean = (chart.kind == CLEAN) & apart
    if by is ChartOrder.NEWNESS:
        new = np.zeros((n, n)) if fresh is None else np.where(np.isfinite(fresh), fresh, 0.0).reshape(n, n)
        best = (new * clean).sum(0) + (new * clean).sum(1) if hero is None else np.maximum(new[hero], new[:, hero])
    elif hero is None:
        best = (clean.sum(0) + clean.sum(1)).astype(np.float64)
    else:
        # Clean cells come before muted ones and those before the rest; then by mud.
        rank = chart.kind * 1000.0 + chart.mud
        best = -np.minimum(rank[hero], rank[:, hero])
    return [int(k) for k in np.lexsort((place, -best))]
