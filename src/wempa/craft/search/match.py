"""Match: the stacks of a stash that come nearest to a wanted colour, and proof that none comes nearer.

Stacks of one and two lay-downs are all worked out (`wempa.craft.search.space`) and looked
through. Of three there are hundreds of millions: for each the most that a linear function
of X, Y and Z can come to is known, and all colours within a ΔE00 of the wanted one have
it above some least value; those that cannot come up to it are out, and what is left over
is worked out exactly. The nearer the nearest one found, the fewer are left over, so a
good one is looked for first, by changing one lay-down at a time.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.parallel import in_chunks

from .pairs import StackPairs
from .sieve import LEAST, Passed, Sieve
from .space import SearchSpace

# Pieces of the space between two looks at how far the search has come, and how many are tried beforehand.
_STEP, _TRIED = 16, 6
# Stacks of three worked out at a time, the most promising first.
_WORKED = 1 << 14
# Stacks of each number of lay-downs that are kept for the answer.
_KEPT = 400
# A gap that nobody sees: with less the search may stop.
GAP = 0.5
# So few stacks are looked through in one go.
_FEW = 10_000_000
# What single precision may be off.
_ROUNDED = 0.004
# Where the first look for a near one begins, how many of these go on, and for how many rounds at most.
_STARTS, _CLIMBERS, _ROUNDS = 16, 4, 4


@dataclass(frozen=True, slots=True)
class FoundStack:
    """One stack: its lay-downs by index, and how far it is from the wanted colour."""

    lays: tuple[int, ...]
    wet: bool
    delta_e: float


@dataclass(frozen=True, slots=True)
class Search:
    """How far a search has come."""

    best: float
    """ΔE00 of the nearest stack so far."""
    bound: float
    """No stack of those searched comes nearer than this; proven."""
    done: float
    """Share of the work, 0–1."""
    stacks: int
    """How many stacks the search is over."""
    found: tuple[FoundStack, ...] = field(default=())
    """The nearest, of each number of lay-downs; only with the last."""

    @property
    def gap(self) -> float:
        """How much nearer a stack might be that has not been found."""
        return max(0.0, self.best - self.bound)


class _Kept:
    """The nearest of many stacks."""

    def __init__(self) -> None:
        self.lays, self.apart = np.zeros((0, 4), dtype=np.intp), np.zeros(0)

    def take(self, lays: Ints, apart: Floats) -> None:
        """Stacks (b, 4): three lay-downs, -1 where there is none, and whether the second is mixed in."""
        if len(self.apart) >= _KEPT:
            nearer = apart < self.apart[-1]
            lays, apart = lays[nearer], apart[nearer]
        if not len(apart):
            return
        if len(apart) > _KEPT:
            chosen = np.argpartition(apart, _KEPT)[:_KEPT]
            lays, apart = lays[chosen], apart[chosen]
        lays, apart = np.concatenate([self.lays, lays]), np.concatenate([self.apart, apart])
        # The first look and the search may come upon the same one.
        lays, first = np.unique(lays, axis=0, return_index=True)
        apart = apart[first]
        order = np.argsort(apart, kind="stable")[:_KEPT]
        self.lays, self.apart = lays[order], apart[order]

    @property
    def best(self) -> float:
        return float(self.apart[0]) if len(self.apart) else np.inf

    def listed(self) -> list[FoundStack]:
        """As they are, nearest first."""
        return [
            FoundStack(tuple([k for k in row[:3] if k >= 0]), bool(row[3]), apart)
            for row, apart in zip(self.lays.tolist(), self.apart.tolist(), strict=True)
        ]


def search(
    space: SearchSpace,
    target: Floats,
    *,
    most: int = 3,
    without: frozenset[str] = frozenset(),
    enough: float = 0.0,
) -> Iterator[Search]:
    """Look for the stacks nearest to a CIELAB colour (3,) under the job's light; yields how far it has come.

    `most` is the number of lay-downs, `without` are keys of inks that may not be used. The
    search ends when the gap is `enough` or less; 0 means that nothing nearer is left.
    """
    usable = np.array([lay.parts[0][0] not in without for lay in space.lays], dtype=np.bool_)
    kept = {1: _Kept(), 2: _Kept(), 3: _Kept()}
    own = np.flatnonzero(usable)
    nothing = np.full(len(own), -1)
    alone = np.stack([own, nothing, nothing, np.zeros(len(own), dtype=np.intp)], axis=1)
    kept[1].take(alone, cm.delta_e(space.singles[own], target))
    total = len(own)

    def best() -> float:
        return min(each.best for each in kept.values())

    def state(bound: float, done: float, last: bool = False) -> Search:
        found = [one for each in kept.values() for one in each.listed()] if last else []
        return Search(best(), max(0.0, min(bound, best())), done, total, tuple(found))

    if most >= 2 and len(own) > 1:
        for pairs in (space.pairs, space.glowing_pairs):
            total += _look_through(pairs, usable, target, kept[2])
    tops = np.flatnonzero(usable & ~space.glows)
    if most < 3 or len(own) < 2 or len(space.pairs.below) == 0:
        yield state(best() - _ROUNDED, 1.0, last=True)
        return
    if best() <= enough:
        yield state(0.0, 1.0, last=True)
        return
    total += int((usable[space.pairs.below] & usable[space.pairs.above]).sum()) * len(tops)
    yield state(0.0, 0.05)
    thirds = _Thirds(space, target, usable, kept[3])
    thirds.climb(kept[2])
    # First whether anything is so much nearer that it would be seen; then whether anything is
    # nearer at all. Few stacks are looked through in one go.
    proven = 0.0
    if best() > max(GAP, enough) and (enough or total > _FEW):
        for share in thirds.screened(best, enough or GAP):
            if best() <= enough:
                yield state(0.0, 1.0, last=True)
                return
            yield state(proven, 0.05 + 0.45 * share)
        proven = best() - (enough or GAP)
    if best() - proven > enough:
        begun = 0.5 if proven else 0.05
        for share in thirds.screened(best, 0.0):
            yield state(proven, begun + (1 - begun) * share)
        proven = best()
    yield state(proven - _ROUNDED, 1.0, last=True)


def _look_through(pairs: StackPairs, usable: Bools, target: Floats, kept: _Kept) -> int:
    """Keep the nearest of all stacks of two; returns how many there are."""
    count = len(pairs.below)
    apart = np.full(count, np.inf)
    light = target.astype(pairs.lab.dtype)

    def work(rows: slice) -> None:
        fit = np.flatnonzero(usable[pairs.below[rows]] & usable[pairs.above[rows]])
        apart[rows.start + fit] = cm.delta_e(pairs.lab[rows][fit], light)

    in_chunks(work, count, 16_384)
    some = np.argpartition(apart, _KEPT)[:_KEPT] if count > _KEPT else np.arange(count)
    some = some[np.isfinite(apart[some])]
    nothing = np.full(len(some), -1)
    kept.take(np.stack([pairs.below[some], pairs.above[some], nothing, pairs.wet[some]], axis=1), apart[some])
    return int(np.isfinite(apart).sum())


class _Thirds:
    """The search among stacks of three for one wanted colour."""

    def __init__(self, space: SearchSpace, target: Floats, usable: Bools, kept: _Kept) -> None:
        self._space, self._target, self._usable, self._kept = space, target, usable, kept
        self._tops = np.flatnonzero(usable & ~space.glows)

    def _work_out(self, pair: Ints, top: Ints) -> Floats:
        """ΔE00 of stacks (b,), infinite for those that are not to be used; the nearest are kept."""
        space, pairs = self._space, self._space.pairs
        below, above = pairs.below[pair], pairs.above[pair]
        # More of the ink that lies uppermost is not a third lay-down.
        last = ~pairs.wet[pair] & (space.ink[above] == space.ink[top])
        fits = np.flatnonzero(self._usable[below] & self._usable[above] & ~last & ~space.crowds(pair, top))
        apart = np.full(len(pair), np.inf)
        apart[fits] = cm.delta_e(
            space.thirds(pair[fits], top[fits]).astype(np.float32), self._target.astype(np.float32)
        )
        lays = np.stack([below, above, top, pairs.wet[pair]], axis=1)
        self._kept.take(lays[fits], apart[fits])
        return apart

    def climb(self, pairs: _Kept) -> None:
        """Begin with the nearest stacks of two, add a third, and change one of the three for as long as that helps."""
        tops, at = self._tops, self._space.pair_at
        if not len(tops) or not len(pairs.lays):
            return
        # A stack that something light goes over is a different one, so not the nearest only.
        below, above, _, wet = pairs.lays[:: max(1, len(pairs.lays) // _STARTS)][:_STARTS].T
        start = at[wet, below, above]
        start = start[start >= 0]
        if not len(start):
            return
        apart = self._work_out(np.repeat(start, len(tops)), np.tile(tops, len(start)))
        ahead = np.argsort(apart)[:_CLIMBERS]
        climbers = [(int(start[k // len(tops)]), int(tops[k % len(tops)]), float(apart[k])) for k in ahead]
        every = np.flatnonzero(self._usable & ~self._space.glows)
        for pair, top, now in climbers:
            for _ in range(_ROUNDS):
                a, b = self._space.pairs.below[pair], self._space.pairs.above[pair]
                changed = [at[w, every, b] for w in (0, 1)] + [at[w, a, every] for w in (0, 1)]
                pairs_tried = np.concatenate([*changed, np.full(len(tops), pair)])
                tops_tried = np.concatenate([np.full(4 * len(every), top), tops])
                there = pairs_tried >= 0
                pairs_tried, tops_tried = pairs_tried[there], tops_tried[there]
                found = self._work_out(pairs_tried, tops_tried)
                k = int(np.argmin(found))
                if found[k] >= now - 1e-4:
                    break
                pair, top, now = int(pairs_tried[k]), int(tops_tried[k]), float(found[k])

    def screened(self, best: Callable[[], float], less: float) -> Iterator[float]:
        """Work out every stack that may come nearer than the best so far less so much; yields the share done."""
        sieve = Sieve(self._space, self._target, self._tops, max(best() - less, LEAST))
        pieces = sieve.pieces()
        # Of many a few from all over tell which directions are worth it.
        if len(pieces) > 4 * _TRIED:
            sieve.sharpen(pieces[_TRIED // 2 :: len(pieces) // _TRIED])
        for begin in range(0, len(pieces), _STEP):
            self._work_out_passed(sieve, sieve.passed(pieces[begin : begin + _STEP]), best, less)
            yield 0.95 * min(1.0, (begin + _STEP) / len(pieces))
        for passed in sieve.sandwiches(self._usable):
            self._work_out_passed(sieve, passed, best, less)
        yield 1.0

    def _work_out_passed(self, sieve: Sieve, passed: Passed, best: Callable[[], float], less: float) -> None:
        """Work out what passed the sieve, the most promising first; fewer pass as the best comes nearer."""
        while len(passed.pair):
            head, passed = passed.split(_WORKED)
            self._work_out(head.pair, head.top)
            if sieve.narrow(max(best() - less, LEAST)):
                passed = passed.among(sieve.least)
