"""The sieve of a match: which stacks of three may come near a wanted colour at all.

For each direction of X, Y and Z it is known what all colours near the wanted one come to at
least, and what stacks of three come to at most (`wempa.craft.search.screen`); those that
cannot come up to it are out. Directions are chosen by what they leave out of stacks that are
there; where many pass though they are far off, others are added that leave those out.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from wempa.optics.bounds import near
from wempa.optics.colorimetry import xyz_from_lab
from wempa.optics.grid import Bools, Floats, Ints, Reals
from wempa.optics.parallel import in_chunks

from .space import SearchSpace

# Groups of stacks of two screened at a time, over all third lay-downs at once.
_BLOCK = 64
# Directions that a stack of three has to pass at first; how many are added at a time and how many there may be.
_DIRECTIONS, _ADDED, _MOST_DIRECTIONS = 8, 6, 26
# They are added while more than so many stacks pass of a few pieces, and leave less than such a share of these.
_MANY, _HELPS = 500, 0.7
# Directions that whole groups are held against at once.
_FRONT = 4


@dataclass(frozen=True, slots=True, eq=False)
class Passed:
    """Stacks of three that may be near enough, b of them."""

    pair: Ints
    top: Ints
    most: Reals
    """What they come to at most in each direction, (b, d)."""

    def split(self, count: int) -> tuple[Passed, Passed]:
        """The `count` most promising, and the others."""
        if len(self.pair) <= count:
            return self, self._rows(slice(0, 0))
        # One is as promising as the direction in which it passes by least.
        order = np.argpartition(-self.most.min(axis=1), count)
        return self._rows(order[:count]), self._rows(order[count:])

    def among(self, least: Floats) -> Passed:
        """Those that still pass."""
        return self._rows(np.flatnonzero((self.most >= least).all(axis=1)))

    def _rows(self, rows: Ints | slice) -> Passed:
        return Passed(self.pair[rows], self.top[rows], self.most[rows])


class Sieve:
    """Directions in X, Y and Z, what all colours near the target come to in them at least, and stacks at most."""

    def __init__(self, space: SearchSpace, target: Floats, tops: Ints, aim: float) -> None:
        self._space, self._target, self._tops, self._aim = space, target, tops, aim
        self._around = near(target, aim)
        self._directions, self.least = np.zeros((0, 3)), np.zeros(0)
        self._made: list[tuple[Floats, Floats]] = []
        self._add(self._chosen(space.sample, _GIVES, _DIRECTIONS))
        self._lead(range(_DIRECTIONS)[:_FRONT])

    def narrow(self, aim: float) -> bool:
        """Look only for what is within `aim`; whether that is enough nearer to make a difference."""
        if aim > 0.97 * self._aim:
            return False
        self._aim, self._around = aim, near(self._target, aim)
        self.least = self._around.ends(self._directions)[0]
        return True

    def sharpen(self, pieces: list[tuple[int, int, int]]) -> None:
        """Add directions that leave out what passes of some pieces though it is far off, while that helps."""
        passed = self.passed(pieces)
        while len(passed.pair) > _MANY and len(self._made) < _MOST_DIRECTIONS:
            before = len(passed.pair)
            some = np.linspace(0, before - 1, min(before, _MANY)).astype(np.intp)
            seen = xyz_from_lab(self._space.thirds(passed.pair[some], passed.top[some]), np.ones(3))
            # Bounds give way here by as much as they do in the directions that there are.
            gives = (passed.most[some] - seen @ self._directions.T) / np.abs(self._directions).sum(axis=1)
            self._add(self._chosen(seen, float(np.quantile(gives, 0.8)), _ADDED))
            # One for the groups, then those that leave out what passed the others.
            leads = [place for place, _ in self._front]
            self._lead([leads[0], *range(len(self._made) - _ADDED, len(self._made)), *leads[1:]][:_FRONT])
            passed = self.passed(pieces)
            if len(passed.pair) > _HELPS * before:
                break

    def _lead(self, places: Sequence[int]) -> None:
        """Hold groups against the directions at these places first, all lay-downs at once."""
        self._front = [
            (place, np.ascontiguousarray(np.moveaxis(self._made[place][0][:, self._tops], 1, 2))) for place in places
        ]
        self._first_size = np.abs(self._front[0][1])

    def _add(self, directions: Floats) -> None:
        self._directions = np.concatenate([self._directions, directions])
        self._made += [self._space.screen.most(direction) for direction in directions]
        self.least = self._around.ends(self._directions)[0]

    def _chosen(self, seen: Floats, gives: float, count: int) -> Floats:
        """Of many directions those that together let least pass of colours seen, the best first, (`count`, 3).

        Bounds give way by so much; a direction is worth what it leaves out in spite of that.
        """
        spread = np.linalg.svd(seen - seen.mean(axis=0), full_matrices=False)
        tried = (_SPHERE / (spread[1] + 1e-6 * spread[1][0] + 1e-9)) @ spread[2]
        tried /= np.abs(tried).sum(axis=1, keepdims=True)
        passes = seen @ tried.T >= self._around.ends(tried)[0] - gives
        left, chosen = np.ones(len(seen), dtype=np.bool_), []
        for _ in range(count):
            chosen.append(int(np.argmin(passes[left].sum(axis=0))))
            left &= passes[:, chosen[-1]]
            if not left.any():
                break
        # When none of the sample is left, those that leave out most by themselves.
        alone = [k for k in np.argsort(passes.sum(axis=0), kind="stable").tolist() if k not in chosen]
        return np.asarray(tried[[*chosen, *alone][:count]])

    def pieces(self) -> list[tuple[int, int, int]]:
        """The groups of stacks of two cut up for screening: (class, first group, last + 1)."""
        number = self._space.screen.group_class
        starts = np.searchsorted(number, np.arange(int(number[-1]) + 2)).tolist()
        return [
            (k, first, min(first + _BLOCK, starts[k + 1]))
            for k in range(len(starts) - 1)
            for first in range(starts[k], starts[k + 1], _BLOCK)
        ]

    def passed(self, pieces: list[tuple[int, int, int]]) -> Passed:
        """What may be near enough of pieces with every third lay-down."""
        screen, found = self._space.screen, []

        def work(rows: slice) -> None:
            for k, start, stop in pieces[rows]:
                group, top = self._groups_passed(k, start, stop)
                # The stacks of each group over those lay-downs that the group as a whole may be near with.
                begins, rows_, columns = np.searchsorted(group, np.arange(start, stop + 1)).tolist(), [], []
                for g, (begin, end) in enumerate(itertools.pairwise(begins), start):
                    if begin == end:
                        continue
                    first, last = screen.groups[g], screen.groups[g + 1]
                    on = top[begin:end]
                    stacks = screen.features[first:last]
                    fits = np.ones((last - first, len(on)), dtype=np.bool_)
                    for place, bound in self._front:
                        fits &= stacks @ bound[k][:, on] >= self.least[place]
                        if not fits.any():
                            break
                    row, column = np.nonzero(fits)
                    rows_.append(row + first)
                    columns.append(on[column])
                if rows_:
                    tops = self._tops[np.concatenate(columns)]
                    found.append(self._narrowed(k, np.concatenate(rows_), tops, 0.0))

        in_chunks(work, len(pieces), 1)
        if not found:
            return Passed(*(np.zeros(0, dtype=np.intp),) * 2, np.zeros((0, len(self._made))))
        return Passed(*(np.concatenate(each) for each in zip(*found, strict=True)))

    def _groups_passed(self, k: int, start: int, stop: int) -> tuple[Ints, Ints]:
        """Groups of class k, and the lay-downs (by place in `tops`) over which one of their stacks may be near."""
        screen = self._space.screen
        middle, half = screen.middle[start:stop], screen.half[start:stop]
        place, first = self._front[0]
        flat = np.flatnonzero(middle @ first[k] + half @ self._first_size[k] >= self.least[place])
        group, top = np.divmod(flat, len(self._tops))
        for (bound, _), least in zip(self._made, self.least, strict=True):
            chosen = bound[k][self._tops[top]]
            up = np.einsum("ij,ij->i", middle[group], chosen) + np.einsum("ij,ij->i", half[group], np.abs(chosen))
            group, top = group[up >= least], top[up >= least]
        return group + start, top

    def _narrowed(self, k: int, row: Ints, top: Ints, wider: float) -> tuple[Ints, Ints, Reals]:
        """Stacks of two of class k, by place in the screen, with a third each: those that pass every direction."""
        stacks = self._space.screen.features[row]
        most = np.empty((len(self._made), len(row)), dtype=np.float32)
        for place, ((bound, again), least) in enumerate(zip(self._made, self.least, strict=True)):
            most[place] = np.einsum("ij,ij->i", stacks, bound[k][top]) + wider * again[top]
            fits = most[place] >= least
            if not fits.all():
                row, top, stacks, most = row[fits], top[fits], stacks[fits], most[:, fits]
        return self._space.screen.order[row], top, most.T

    def sandwiches(self, usable: Bools) -> Iterator[Passed]:
        """Stacks whose third ink lies in them already: bounds on the floor are wider for them."""
        space, screen = self._space, self._space.screen
        found: list[tuple[Ints, Ints, Reals]] = []
        inks = range(int(space.ink.max()) + 1)

        def work(numbers: slice) -> None:
            for ink in inks[numbers]:
                tops = np.flatnonzero((space.ink == ink) & usable & ~space.glows)
                for k, rows in enumerate(screen.with_ink(ink)):
                    stacks, fits = screen.features[rows], np.ones((len(rows), len(tops)), dtype=np.bool_)
                    for place, _ in self._front:
                        bound, again = self._made[place]
                        fits &= stacks @ bound[k][tops].T + again[tops] >= self.least[place]
                    row, column = np.nonzero(fits)
                    if len(row):
                        found.append(self._narrowed(k, rows[row], tops[column], 1.0))

        in_chunks(work, len(inks), 8)
        for each in found:
            yield Passed(*each)


def _sphere(count: int) -> Floats:
    """Directions spread evenly over a sphere, (count, 3), on a golden spiral."""
    along = 1 - (2 * np.arange(count) + 1) / count
    around = np.arange(count) * np.pi * (3 - np.sqrt(5))
    across = np.sqrt(1 - along**2)
    return np.stack([across * np.cos(around), across * np.sin(around), along], axis=1)


_SPHERE = _sphere(300)
# How much a bound gives way in X, Y and Z over their white; measured on the demo stash.
_GIVES = 0.002
# Nothing nearer than this is told apart from the wanted colour.
LEAST = 0.02
