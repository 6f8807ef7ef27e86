"""What the screen's bounds are linear in: functions of the light that comes back, and of what is left of the floor."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wempa.optics.grid import Floats, Reals

# Shares of the light that are thrown back under the surface.
BOUNCES = (0.0, 0.3, 0.6)
# Losses of the floor that a third ink may add: what it leaves lies between what these leave.
LOSSES = (0.0, 0.02, 1.0)
# Functions by band.
TERMS = len(BOUNCES) + len(LOSSES) + 1
# Directions in which linear functions are told apart, what the others count against the first, squared, and the
# dimensions that stacks are described by.
_TOLD, _OTHERS, _DIMENSIONS = 48, 1e-5, 18
# Rounding of the squared length of what is left over, in single precision.
_ROUNDED = 1e-11


def left_of(loss: Floats) -> Floats:
    """What is left of the floor, a factor, of what joins into its loss; see `optics.stack`."""
    return np.exp(-np.sqrt(np.sqrt(loss)))


def terms(internal: Floats, loss: Floats) -> Floats:
    """Functions of the light r that comes back and of the floor's loss, (…, 36) each to (…, 7, 36).

    r / (1 − κ r) for each κ; what is left of the floor with more loss, for each; and both together, for light
    and floor add up but for what the surface holds back.
    """
    left = [left_of(loss + more) for more in LOSSES]
    light = [internal / (1 - kappa * internal) for kappa in BOUNCES]
    return np.stack([*light, *left, internal * left[0]], axis=-2, dtype=np.float32)


def raw_features(internal: Floats, loss: Floats) -> Floats:
    """`terms` of each stack side by side, (b, 36) each to (b, 252)."""
    return terms(internal, loss).reshape(len(internal), -1)


@dataclass(frozen=True, slots=True, eq=False)
class Basis:
    """The few dimensions in which stacks differ so that it counts for what lies over them.

    Stacks and linear functions are turned and scaled so that functions are alike in every direction; of stacks
    the principal dimensions are kept then (a balanced truncation, Moore 1981). What is left over of a product
    is no more than the product of both lengths that are left over (Cauchy and Schwarz).
    """

    told: Reals
    """Directions in which functions are told apart, (252, q)."""
    scale: Reals
    """What each counts, (q,)."""
    others: float
    """What all others count."""
    principal: Reals
    """Principal dimensions of stacks, (d, q)."""

    @classmethod
    def of(cls, stacks: Floats, functions: Floats) -> Basis:
        """For stacks (s, 252) and functions (l, 252) like those that will be asked for."""
        spread, turned = np.linalg.eigh((functions.T @ functions).astype(np.float64) / len(functions))
        scale = np.sqrt(np.maximum(spread[::-1][:_TOLD], 0) + _OTHERS * spread[-1])
        told = turned[:, ::-1][:, :_TOLD]
        principal = np.linalg.svd(stacks @ (told * scale), full_matrices=False)[2][:_DIMENSIONS]
        others = float(np.sqrt(_OTHERS * spread[-1]))
        return cls(told.astype(np.float32), scale.astype(np.float32), others, principal.astype(np.float32))

    @classmethod
    def empty(cls) -> Basis:
        """For no stacks at all."""
        nothing = np.zeros((0, 0), dtype=np.float32)
        return cls(nothing, nothing.reshape(0), 1.0, nothing)

    @property
    def width(self) -> int:
        """Dimensions, with one for what is left over."""
        return len(self.principal) + 1

    def stacks(self, raw: Floats) -> Floats:
        """Stacks (b, 252) in the dimensions, and the length that is left over, (b, `width`)."""
        along = raw @ self.told
        turned = along * self.scale
        on = turned @ self.principal.T
        turned -= on @ self.principal
        rest = np.einsum("ij,ij->i", turned, turned) + _ROUNDED
        rest += self.others**2 * np.maximum(_squared(raw) - _squared(along), 0)
        return np.concatenate([on, np.sqrt(rest)[:, None]], axis=1)

    def functions(self, linear: Floats) -> Floats:
        """Linear functions (…, 252) in the dimensions, and the length that is left over, (…, `width`)."""
        along = linear @ self.told
        turned = along / self.scale
        on = turned @ self.principal.T
        rest = np.maximum(_squared(turned) - _squared(on), 0)
        # A little more, for differences of squares are rounded.
        rest += 1e-5 * _squared(turned)
        rest += (np.maximum(_squared(linear) - _squared(along), 0) + 2e-6 * _squared(linear)) / self.others**2
        return np.concatenate([on, np.sqrt(rest)[..., None]], axis=-1)


def _squared(vectors: Floats) -> Floats:
    return np.asarray(np.einsum("...i,...i->...", vectors, vectors))
