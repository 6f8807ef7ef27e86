"""All that a search looks through: stacks of one and two worked out, bounds on those of three."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from wempa.optics.colorimetry import xyz_from_lab
from wempa.optics.grid import Floats, Ints
from wempa.optics.parallel import in_chunks

from .pairs import CHUNK, SAMPLE, PairSpace
from .screen import Screen


class SearchSpace(PairSpace):
    """What a stash reaches on a card; see `PairSpace` for what it is made of."""

    @cached_property
    def screen(self) -> Screen:
        """Linear bounds on what any third lay-down makes of the stacks of two."""
        return Screen(self)

    def thirds(self, pair: Ints, lay: Ints) -> Floats:
        """CIELAB of stacks of two with a third lay-down over them, dry, (b, 3), single precision."""
        pairs, out = self.pairs, np.empty((len(pair), 3))

        def work(rows: slice) -> None:
            at, top = pair[rows], lay[rows]
            less = self.lessened(top, pairs.film[at]) * pairs.takes[at]
            dose = self.base_dose[top] * less
            layer = self.films(self.ink[top, None], dose[:, None], self.cover[top])
            internal = self.lay(pairs.internal[at], layer, self.cover[top])
            inks = np.stack([self.ink[pairs.below[at]], self.ink[pairs.above[at]], self.ink[top]], axis=1)
            left = self.left(inks, np.concatenate([pairs.dose[at], dose[:, None]], axis=1))
            out[rows] = self.lab(internal, left)

        in_chunks(work, len(pair), CHUNK)
        return out

    @cached_property
    def pair_at(self) -> Ints:
        """Where in `pairs` a stack of two is, by (wet, below, above), (2, n, n); -1 where there is none."""
        n, pairs = len(self.lays), self.pairs
        at = np.full((2, n, n), -1, dtype=np.intp)
        every = np.arange(len(pairs.below))
        either = ~(self.ordered | self.ordered.T)[pairs.below, pairs.above]
        mixed = np.flatnonzero(pairs.wet & either)
        at[1, pairs.above[mixed], pairs.below[mixed]] = mixed
        at[pairs.wet.astype(np.intp), pairs.below, pairs.above] = every
        return at

    @cached_property
    def sample(self) -> Floats:
        """X, Y and Z over their white of stacks of three, taken evenly from all of them, (s, 3)."""
        count = len(self.pairs.below)
        some = np.linspace(0, count - 1, min(count, SAMPLE)).astype(np.intp)
        tops = np.random.default_rng(3).choice(np.flatnonzero(~self.glows), len(some))
        return xyz_from_lab(self.thirds(some, tops), np.ones(3))
