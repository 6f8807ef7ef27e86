"""Matches among made-up inks, in a process of their own so that its peak memory is theirs.

``python -m bench.searching`` prints JSON: one entry for each size of stash.
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, Swatch
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.search.match import search
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Formula, Load
from wempa.craft.ways import three_hands

# Colours all over CIELAB: greys and dusky ones that are reached, and some that no ink of the stash can make.
TARGETS = (
    (55, 0, 0), (60, 40, -20), (30, 10, -70), (80, -60, 40), (50, 75, 50), (40, -10, -30), (20, 0, 0), (50, 5, 3),
    (85, 5, 70), (70, -35, -25), (45, 40, 25), (92, -2, 8),
)  # fmt: skip


def stash(count: int) -> list[tuple[str, Ink]]:
    """Inks of every formula that does not glow, spread over hue, chroma and lightness."""
    rng = np.random.default_rng(1)
    formulas = [formula for formula in Formula if formula is not Formula.FLUORESCENT]
    made = []
    for k in range(count):
        turn, chroma, light = rng.uniform(0, 2 * np.pi), rng.uniform(10, 70), rng.uniform(25, 88)
        lab = (light, chroma * np.cos(turn), chroma * np.sin(turn))
        made.append((f"i{k}", Ink(swatch=Swatch(Colour(lab=lab)), formula=formulas[k % len(formulas)])))
    return made


def searched(count: int, enough: float) -> dict[str, Any]:
    """Preparation, and every target looked for among so many inks in three amounts."""
    inks, table = stash(count), constants.AS_SHIPPED
    lays = [lay for key, ink in inks for lay in three_hands(key, ink.formula, Load.NORMAL, table)]
    job = Job(Card(Colour(hex="#f8f7f4")), tuple(inks))
    start = time.perf_counter()
    reach = SearchSpace(job, lays)
    _ = reach.pairs, reach.screen.bounds, reach.sample, reach.pair_at
    prepared = time.perf_counter() - start
    taken, gaps, stacks = [], [], 0
    for target in TARGETS:
        start = time.perf_counter()
        *_, last = search(reach, np.array(target, dtype=np.float64), enough=enough)
        taken.append(time.perf_counter() - start)
        gaps.append(last.gap)
        stacks = max(stacks, last.stacks)
    # The rivals look at every stack of the space: in batches, and one prediction at a time.
    rng = np.random.default_rng(5)
    some = [tuple(lays[k] for k in rng.integers(0, len(lays), 3)) for _ in range(4000)]
    start = time.perf_counter()
    weigh_stacks(job, list(some))
    batch = (time.perf_counter() - start) / len(some) * stacks
    start = time.perf_counter()
    for stack in some[:200]:
        used = {key for lay in stack for key, _ in lay.parts}
        predict(Job(job.cardstock, tuple([(key, ink) for key, ink in inks if key in used]), stack))
    single = (time.perf_counter() - start) / 200 * stacks
    return {
        "inks": count,
        "enough": enough,
        "stacks": stacks,
        "prepared": prepared,
        "taken": sorted(taken),
        "gap": max(gaps),
        "batch": batch,
        "single": single,
        "peak": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000,
    }


if __name__ == "__main__":
    json.dump([searched(40, 0.0), searched(200, 0.5)], sys.stdout)
