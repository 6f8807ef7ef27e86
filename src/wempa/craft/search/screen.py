"""Bounds on stacks of three: which third lay-downs can come near a wanted colour at all."""

from __future__ import annotations

import itertools
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from wempa.optics.grid import BANDS, Floats, Ints, Reals
from wempa.optics.parallel import in_chunks

from .features import TERMS, left_of
from .lines import Lines, fitted
from .pairs import PairSpace

# At most so many classes by how much a stack still takes, and the least step between them, in ln of it.
_CLASSES, _CLASS_STEP = 32, 0.004
# Stacks of two in a group that looks alike; by so many principal dimensions, in so many bits each.
_GROUP, _ALIKE, _BITS = 128, 4, 6


class Screen:
    """Linear bounds on the colour of every stack of three.

    What a film makes of the light from below and of the floor is all but linear in a few
    functions of these (`features.terms`). So what a given third lay-down makes of any stack
    of two lies between two linear functions of them, band by band, which are found once
    (`lines.fitted`). Spectra of inks on card have few dimensions that count (`features.FeatureBasis`);
    on these, and with what is left over by Cauchy and Schwarz, a bound on any linear function of
    X, Y and Z is one product of matrices for all stacks at once.

    Stacks of two are sorted into classes, within which the dose that a third one leaves is
    all but the same.
    """

    def __init__(self, space: PairSpace) -> None:
        self._space = space
        pairs, features, self._basis, self._ends = space.worked
        count = len(features)
        taken = np.log(np.maximum(pairs.takes, 1e-6))
        # By the dose that is left of what soaks most.
        most = space.examples[np.argmax(space.soaks[space.examples])]
        # Many lie on as much film.
        films, film = np.unique(pairs.film, return_inverse=True)
        stays = taken + np.log(space.lessened(np.full(len(films), most), films))[film]
        order = np.argsort(stays, kind="stable")
        self.starts: Ints = _class_starts(stays[order])
        classes = len(self.starts) - 1
        # Within a class those that look alike stand together.
        number = np.repeat(np.arange(classes), np.diff(self.starts))
        self.order: Ints = order[np.lexsort((_place(features[order, :_ALIKE]), number))]
        self.features: Reals = features[self.order]
        """Of each stack of two, in the screen's order: places in the principal dimensions, the rest, one."""
        taken, film = taken[self.order], film[self.order]
        firsts = [np.arange(start, stop, _GROUP) for start, stop in itertools.pairwise(self.starts.tolist())]
        self.groups: Ints = np.append(np.concatenate(firsts), count)
        """Where groups of stacks that look alike begin; none is of two classes."""
        self.group_class: Ints = np.repeat(np.arange(classes), [len(each) for each in firsts])
        low = np.minimum.reduceat(self.features, self.groups[:-1])
        high = np.maximum.reduceat(self.features, self.groups[:-1])
        self.middle: Reals = (low + high) / 2
        """Of each group, the middle of its stacks' features; `half` is how far they go from there."""
        # A little more, for the rounding of the middle.
        self.half: Reals = (high - low) / 2 + 1e-7 * np.abs(self.middle)
        self._less = np.empty((2, classes, len(space.examples)))
        for k, lay in enumerate(space.examples):
            scale = taken + np.log(np.maximum(space.lessened(np.full(len(films), lay), films), 1e-12))[film]
            self._less[0, :, k] = np.minimum.reduceat(scale, self.starts[:-1])
            self._less[1, :, k] = np.maximum.reduceat(scale, self.starts[:-1])

    def with_ink(self, ink: int) -> list[Ints]:
        """Where stacks stand that have an ink of its colour in them, by class."""
        places, begins = self._with_inks
        ink = int(self._space.of_one_colour[ink])
        rows = places[begins[ink] : begins[ink + 1]]
        return np.split(rows, np.searchsorted(rows, self.starts[1:-1]))

    @cached_property
    def _with_inks(self) -> tuple[Ints, Ints]:
        """Places of stacks by the inks in them, in order of ink and place, and where each ink's begin."""
        space, pairs = self._space, self._space.pairs
        ink = np.concatenate([space.of_one_colour[space.ink[lays[self.order]]] for lays in (pairs.below, pairs.above)])
        count = len(self.order)
        # A stack of two inks of one colour has that colour once.
        each = np.unique(ink * count + np.tile(np.arange(count), 2))
        return each % count, np.searchsorted(each // count, np.arange(int(space.ink.max()) + 2))

    @cached_property
    def bounds(self) -> Lines:
        """Bounds on what third lay-downs make of the stacks of each class, c of them; see `lines.fitted`."""
        space = self._space
        shape = (len(self.starts) - 1, len(space.lays), BANDS)
        made = Lines(*(np.empty(each, dtype=np.float32) for each in ((*shape, TERMS), shape, shape)))

        def work(number: slice) -> None:
            for k in range(shape[0])[number]:
                dose = space.base_dose * np.exp(self._less[:, k][:, space.alike_taking])
                one = fitted(space, dose, self._ends)
                made.slope[k], made.low[k], made.high[k] = one.slope, one.low, one.high

        in_chunks(work, shape[0], 1)
        return made

    @cached_property
    def _slopes(self) -> tuple[Floats, Floats]:
        """The bounds' slopes for X, Y and Z in the dimensions, (3, c, n, d), and what is left over, (c, n, 3, 3)."""
        return self._basis.functions(self.bounds.weighed(self._space.eye))

    def most(self, direction: Floats) -> tuple[Floats, Floats]:
        """What a linear function of X, Y, Z over their white, (3,), comes to at most.

        (c, n, dimensions + 2): of the stacks of class c, features (p, dimensions + 2) times
        what it has for a lay-down bound the function for that one over every stack from above. The
        second, (n,), is to be added where the ink of the lay-down lies in the stack already.
        """
        space = self._space
        on, left = self._slopes
        weight = direction @ space.eye
        rest = np.sqrt(np.maximum(np.einsum("...ij,i,j->...", left, direction, direction), 0))
        constant = self.bounds.most(weight) + 1e-5 * np.abs(direction).sum()
        found = np.concatenate([np.tensordot(direction, on, 1), rest[..., None], constant[..., None]], axis=2)
        again = (space.floor * (1 - left_of(space.own_loss))) @ np.abs(weight)
        return found.astype(np.float32), again[space.ink]


def _place(features: Reals) -> NDArray[np.uint32]:
    """Where a stack stands along a curve that fills the space of its first features, (n, d): bits of each in turn."""
    low, high = features.min(axis=0), features.max(axis=0)
    step = ((features - low) / np.maximum(high - low, 1e-9) * (2**_BITS - 1)).astype(np.uint32)
    place = np.zeros(len(features), dtype=np.uint32)
    for bit in reversed(range(_BITS)):
        for column in step.T:
            place = (place << np.uint32(1)) | ((column >> np.uint32(bit)) & np.uint32(1))
    return place


def _class_starts(stays: Floats) -> Ints:
    """Where classes of stacks begin that are sorted by how much of a third lay-down stays, in ln, (c + 1,).

    Each begins a step above the one before; steps are wider where there would be too many.
    """
    step = max(_CLASS_STEP, float(stays[-1] - stays[0]) / _CLASSES)
    number = np.floor((stays - stays[0]) / step).astype(np.intp)
    return np.append(np.flatnonzero(np.diff(number, prepend=-1)), len(stays))
