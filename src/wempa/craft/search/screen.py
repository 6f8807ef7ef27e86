"""Bounds on stacks of three: which third lay-downs can come near a wanted colour at all."""

from __future__ import annotations

import itertools
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from wempa.optics.film import Film
from wempa.optics.grid import BANDS, Floats, Ints, Reals, weights, white_point
from wempa.optics.parallel import in_chunks

from .features import BOUNCES, left_of, of_light
from .pairs import PairSpace

# Classes by how much a stack still takes; points that bounds are fitted at.
_CLASSES = 32
_POINTS = 17
# Stacks of two in a group that looks alike; by so many principal dimensions, in so many bits each.
_GROUP, _ALIKE, _BITS = 64, 4, 6


class Screen:
    """Linear bounds on the colour of every stack of three.

    What a film makes of the light from below is all but linear in a few functions of it:
    r, and r thrown to and fro under the surface, r / (1 − κ r). So what a given third
    lay-down makes of any stack of two lies between two linear functions of these, band by
    band, which are found once. Spectra of inks on card have few dimensions; on their
    principal ones, and with what is left over by Cauchy and Schwarz, a bound on any linear
    function of X, Y and Z is one product of matrices for all stacks at once.

    Stacks of two are sorted into classes, within which the dose that a third one leaves is
    all but the same.
    """

    def __init__(self, space: PairSpace) -> None:
        self._space = space
        pairs, features, self._basis, (self._ends, self._left) = space.worked
        count = len(features)
        taken = np.log(np.maximum(pairs.takes, 1e-6))
        # By the dose that is left of what soaks most.
        most = space.examples[np.argmax(space.soaks[space.examples])]
        order = np.argsort(taken + np.log(space.lessened(np.full(count, most), pairs.film)))
        classes = max(1, min(_CLASSES, count // 64))
        self.starts: Ints = np.arange(classes + 1) * count // classes
        # Within a class those that look alike stand together.
        number = np.repeat(np.arange(classes), np.diff(self.starts))
        self.order: Ints = order[np.lexsort((_place(features[order, :_ALIKE]), number))]
        self.features: Reals = features[self.order]
        """Of each stack of two, in the screen's order: places in the principal dimensions, the rest, one."""
        taken, film = taken[self.order], pairs.film[self.order]
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
            scale = taken + np.log(np.maximum(space.lessened(np.full(count, lay), film), 1e-12))
            self._less[0, :, k] = np.minimum.reduceat(scale, self.starts[:-1])
            self._less[1, :, k] = np.maximum.reduceat(scale, self.starts[:-1])

    @cached_property
    def bounds(self) -> tuple[Floats, Floats]:
        """Linear functions below and above the measured reflectance, (c, n, 36, 5) each.

        By band, of one, of the functions of r that `raw_features` gives, and of what is
        left of the floor.
        """
        classes, n = len(self.starts) - 1, len(self._space.lays)
        made = np.empty((2, classes, n, BANDS, 2 + len(BOUNCES)), dtype=np.float32)

        def work(number: slice) -> None:
            for k in range(number.start, min(number.stop, classes)):
                made[0, k], made[1, k] = self._fit(k)

        in_chunks(work, classes, 1)
        return made[0], made[1]

    def _fit(self, k: int) -> tuple[Floats, Floats]:
        """Bounds for one class, (n, 36, 5) each."""
        space, n = self._space, len(self._space.lays)
        dose = space.base_dose * np.exp(self._less[:, k][:, space.alike_taking])
        thin, deep = (space.films(space.ink[:, None], each[:, None], space.cover) for each in dose)
        # Reflectances from least to most, closer at the ends; and what can be left of the floor.
        step = (1 - np.cos(np.linspace(0, np.pi, _POINTS))) / 2
        r = (self._ends[0] + (self._ends[1] - self._ends[0]) * step[:, None]).astype(np.float32)
        before = self._left
        lies = space.lies[space.ink]
        more = np.minimum(lies + dose, 1) ** 4 - np.minimum(lies, 1) ** 4
        counted = more[:, :, None].astype(np.float32) * space.own_loss[space.ink]
        values = np.empty((2, _POINTS, 2, n, BANDS), dtype=np.float32)
        low_left, high_left = _left_lines(before, counted[1]), _left_lines(before, counted[0])
        for p in range(_POINTS):
            below = np.broadcast_to(r[p], (n, BANDS))
            low = space.lay(below, Film(thin.reflectance, deep.transmittance, thin.underside), space.cover)
            high = space.lay(below, Film(deep.reflectance, thin.transmittance, deep.underside), space.cover)
            # Linear in what is left of the floor, so its ends are enough.
            for f in (0, 1):
                values[0, p, f] = space.measured(low, low_left[0, f])
                # The reflectance of one film with the transmittance of the other may come to more than all.
                values[1, p, f] = space.measured(np.minimum(high, 1), high_left[1, f])
        terms = np.ones((_POINTS, 2, BANDS, 2 + len(BOUNCES)))
        terms[..., 1:-1] = np.moveaxis(of_light(r), 1, 2)[:, None]
        terms[..., -1] = before
        at, found_at = terms.reshape(-1, BANDS, terms.shape[-1]), values.reshape(2, -1, n, BANDS)
        inverse = np.linalg.pinv(np.moveaxis(at, 1, 0), rcond=1e-6).astype(np.float32)
        found = np.matmul(inverse, np.moveaxis(found_at, 3, 1))
        fitted = np.matmul(np.moveaxis(at, 1, 0).astype(np.float32), found)
        off = np.moveaxis(found_at, 3, 1) - fitted
        low, high = off.min(axis=2), off.max(axis=2)
        # Between the points it may stray a little farther.
        stray = 0.1 * (high - low) + 2e-5
        found[0, :, 0] += low[0] - stray[0]
        found[1, :, 0] += high[1] + stray[1]
        return np.moveaxis(found[0], 2, 0), np.moveaxis(found[1], 2, 0)

    def most(self, direction: Floats) -> tuple[Floats, Floats]:
        """What a linear function of X, Y, Z over their white, (3,), comes to at most.

        (c, n, dimensions + 2): of the stacks of class c, features (p, dimensions + 2) times
        what it has for a lay-down bound the function for that one over every stack from above. The
        second, (n,), is to be added where the ink of the lay-down lies in the stack already.
        """
        space = self._space
        low, high = self.bounds
        light = str(space.job.illuminant)
        weight = ((weights(light) / white_point(light)) @ direction).astype(np.float32)
        up, down = np.maximum(weight, 0)[:, None], np.minimum(weight, 0)[:, None]
        whole = high * up + low * down
        constant = whole[..., 0].sum(axis=2)
        linear = np.moveaxis(whole[..., 1:], 3, 2).reshape(*constant.shape, -1)
        on = linear @ self._basis.T
        rest = np.sqrt(np.maximum((linear**2).sum(axis=2) - (on**2).sum(axis=2), 0))
        slack = 1e-5 * np.abs(direction).sum()
        found = np.concatenate([on, rest[..., None], constant[..., None] + slack], axis=2)
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


def _left_lines(before: Floats, loss: Floats) -> Floats:
    """Lines below and above what is left of the floor after a loss (n, 36) of one ink, (2, 2, n, 36).

    By (below or above, least or most before); `before`, (2, 36), are the ends of what was
    left before. What is left, exp(−(u⁴ + l)^¼) with u = −ln of what was left before, is
    concave in that, so the chord lies below it; and it is no more than the lesser of
    both, so the chord moved up to where they meet lies above.
    """
    ends = left_of(np.log(np.maximum(before, 1e-9))[:, None] ** 4 + loss)
    alone = left_of(loss)
    width = before[1] - before[0]
    slope = (ends[1] - ends[0]) / np.maximum(width, 1e-6)
    meets = np.clip(alone, before[0], before[1])
    up = np.maximum(np.minimum(meets, alone) - (ends[0] + slope * (meets - before[0])), 0) + 1e-6
    return np.stack([ends - 1e-6, ends + up])
