"""Which ink next: what each of some inks would add to those that one has.

All that can be laid with one or two inks is looked at, each with its usual tool: what is owned makes a set of
colours, and an ink that is thought of adds those of its own that none of the set looks like.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wempa.craft.colour.distinct import alike_groups, most_different, newness
from wempa.craft.prediction.verdict import CLEAN, MUDDY
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.parallel import go_on

from .chart import Chart

Cell = tuple[int, int]
"""Places of the lower and the upper ink in the chart; the same twice is that ink alone."""
_SHOWN = 12


@dataclass(frozen=True, slots=True)
class NextInk:
    """An ink that is thought of, and what it would bring."""

    place: int
    """In the chart."""
    gain: int
    """New clean colours that an eye tells apart, the ink by itself among them."""
    shown: tuple[Cell, ...]
    """Of these the ones that differ most."""
    like: Cell | None
    """What of one's own comes nearest to it; None where nothing is owned."""
    apart: float
    """How near that comes, ΔE00."""


def next_inks(
    chart: Chart, owned: Sequence[int], thought_of: Sequence[int], table: Mapping[str, float]
) -> list[NextInk]:
    """Inks that are thought of, the one that adds most clean new colours first; equals by how new they are themselves.

    Parameters
    ----------
    chart
        Every ink over every ink, owned ones and those that are thought of.
    owned, thought_of
        Places in it.
    table
        The craft table: a colour is new if nothing one can make is within ``next.new``, and two new ones
        count as one within that.
    """
    made, cells = _made(chart, owned)
    within = table["next.new"]
    found = []
    for place in thought_of:
        go_on()
        lab, own_cells, clean = _with(chart, place, owned)
        fresh = newness(lab, made) > within
        new = np.flatnonzero(fresh & clean)
        leaders = np.unique(alike_groups(lab[new], within)) if len(new) else np.zeros(0, dtype=np.intp)
        some = np.zeros(len(lab), dtype=np.bool_)
        some[new[leaders]] = True
        like, apart = _nearest(chart.alone[place], made, cells)
        shown = tuple(own_cells[k] for k in most_different(lab, _SHOWN, some))
        found.append(NextInk(place, len(leaders), shown, like, apart))
    return sorted(found, key=lambda each: (-each.gain, -each.apart, each.place))


def _made(chart: Chart, owned: Sequence[int]) -> tuple[Floats, list[Cell]]:
    """What can be made already, CIELAB (m, 3), but mud, and the cell of each."""
    some = np.array(owned, dtype=np.intp)
    kinds = chart.kind[np.ix_(some, some)].copy()
    labs = chart.lab[np.ix_(some, some)].copy()
    # An ink by itself, and not a second coat of it.
    diagonal = np.arange(len(some))
    labs[diagonal, diagonal], kinds[diagonal, diagonal] = chart.alone[some], CLEAN
    kept = kinds != MUDDY
    cells = [(int(some[i]), int(some[j])) for i, j in np.argwhere(kept)]
    return labs[kept].reshape(-1, 3), cells


def _with(chart: Chart, place: int, owned: Sequence[int]) -> tuple[Floats, list[Cell], Bools]:
    """What an ink makes by itself and with each of the others, below and above: colours, cells, which are clean."""
    some = np.array(owned, dtype=np.intp)
    lab = np.concatenate([chart.alone[place][None], chart.lab[place, some], chart.lab[some, place]])
    kinds: Ints = np.concatenate([[CLEAN], chart.kind[place, some], chart.kind[some, place]])
    cells = [(place, place), *((place, int(k)) for k in some), *((int(k), place) for k in some)]
    return lab, cells, kinds == CLEAN


def _nearest(lab: Floats, made: Floats, cells: Sequence[Cell]) -> tuple[Cell | None, float]:
    if not len(made):
        return None, float("inf")
    apart = cm.delta_e(made, lab)
    best = int(np.argmin(apart))
    return cells[best], float(apart[best])
