"""Small random stashes, and every stack that a search among them is over."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Entry, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Formula, Load, Over, Surface
from wempa.craft.ways import three_hands
from wempa.optics.grid import Floats

FORMULAS = list(Formula)


def stash(seed: int, count: int) -> list[tuple[str, Ink]]:
    """Random inks of random formulas."""
    rng, made = np.random.default_rng(seed), []
    for k in range(count):
        turn, chroma = rng.uniform(0, 2 * np.pi), rng.uniform(5, 65)
        lab = (rng.uniform(25, 88), chroma * np.cos(turn), chroma * np.sin(turn))
        formula = FORMULAS[int(rng.integers(len(FORMULAS)))]
        made.append((f"i{k}", Ink(swatch=Swatch(Colour(lab=lab)), formula=formula, name=f"ink {k}")))
    return made


def reach(
    inks: list[tuple[str, Ink]],
    hexadecimal: str = "#f8f7f4",
    surface: Surface = Surface.SMOOTH,
    start: tuple[Entry, ...] = (),
    hands: int = 3,
) -> SearchSpace:
    """What inks reach on a card, each in the first so many hands."""
    table = constants.AS_SHIPPED
    lays = [lay for key, ink in inks for lay in three_hands(key, ink.formula, Load.NORMAL, table)[:hands]]
    return SearchSpace(Job(Card(Colour(hex=hexadecimal), surface=surface), tuple(inks), start), lays)


def every_stack(found: SearchSpace, most: int = 3) -> list[tuple[Entry, ...]]:
    """Each stack of the space that `match.search` is over, in words."""
    glows = found.glows.tolist()

    def ink(lay: LayDown) -> str:
        return lay.parts[0][0]

    index = np.full((2, len(glows), len(glows)), False)
    for pairs in (found.pairs, found.glowing_pairs):
        index[pairs.wet.astype(int), pairs.below, pairs.above] = True
        mixed = pairs.wet & ~(found.ordered | found.ordered.T)[pairs.below, pairs.above]
        # Held once where the order makes no difference.
        index[1, pairs.above[mixed], pairs.below[mixed]] = True
    twos = [
        (below, replace(above, over=over), k, m)
        for (k, below), (m, above) in itertools.permutations(enumerate(found.lays), 2)
        for over in (Over.DRY, Over.WET)
        if ink(below) != ink(above) and index[int(over is Over.WET), k, m]
    ]
    stacks: list[tuple[Entry, ...]] = [(lay,) for lay in found.lays]
    if most > 1:
        stacks += [(below, above) for below, above, _, _ in twos]
    if most > 2:
        threes = [
            (below, above, top, found.pair_at[int(above.over is Over.WET), k, m], n)
            for below, above, k, m in twos
            for n, top in enumerate(found.lays)
            if not (glows[k] or glows[m] or glows[n]) and (above.over is Over.WET or ink(top) != ink(above))
        ]
        crowds = found.crowds(np.array([p for *_, p, _ in threes], int), np.array([n for *_, n in threes], int))
        stacks += [(*three[:3],) for three, moved in zip(threes, crowds, strict=True) if not moved]
    return stacks


def colours(found: SearchSpace, stacks: list[tuple[Entry, ...]]) -> Floats:
    """CIELAB of each stack over what lies there, by the way of every other screen, (b, 3)."""
    return weigh_stacks(found.job, [(*found.job.stack, *stack) for stack in stacks]).lab
