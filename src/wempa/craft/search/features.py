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
# What directions count in which linear functions are all but blind, squared, against the first; and the dimensions
# that stacks are described by.
_BLIND, _DIMENSIONS = 1e-5, 18
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
class FeatureBasis:
    """The few dimensions in which stacks differ so that it counts for what lies over them.

    Stacks and linear functions are turned and scaled so that functions are alike in every direction; of stacks
    the principal dimensions are kept then (a balanced truncation, Moore 1981). What is left over of a product
    is no more than the product of both lengths that are left over (Cauchy and Schwarz).
    """

    turned: Reals
    """Turns and scales raw features, (252, 252)."""
    functions_turned: Floats
    """The same for functions, so that products stay as they are, (252, 252)."""
    principal: Reals
    """Principal dimensions of stacks, (d, 252)."""

    @classmethod
    def of(cls, stacks: Floats, functions: Floats) -> FeatureBasis:
        """For stacks (s, 252) and functions (l, 252) like those that will be asked for."""
        functions = functions.astype(np.float64)
        spread, along = np.linalg.eigh(functions.T @ functions / len(functions))
        # Directions in which functions are all but blind count a little all the same.
        scale = np.sqrt(np.maximum(spread, 0) + _BLIND * spread[-1])
        principal = np.linalg.svd(stacks @ (along * scale), full_matrices=False)[2][:_DIMENSIONS]
        return cls((along * scale).astype(np.float32), along / scale, principal.astype(np.float32))

    @classmethod
    def empty(cls) -> FeatureBasis:
        """For no stacks at all."""
        return cls(*np.zeros((3, 0, 0), dtype=np.float32))

    @property
    def width(self) -> int:
        """Dimensions, with one for what is left over."""
        return len(self.principal) + 1

    def stacks(self, raw: Floats) -> Floats:
        """Stacks (b, 252) in the dimensions, and the length that is left over, (b, `width`)."""
        turned = raw @ self.turned
        on = turned @ self.principal.T
        # Not as a difference of squares, which rounds it away.
        turned -= on @ self.principal
        rest = np.sqrt(np.einsum("ij,ij->i", turned, turned) + _ROUNDED)
        return np.concatenate([on, rest[:, None]], axis=1)

    def functions(self, linear: Floats) -> tuple[Floats, Floats]:
        """K linear functions (k, …, 252) in the dimensions, (k, …, d), and products of what is left over, (…, k, k).

        What is left over of any sum of them, d₁f₁ + d₂f₂ + …, has the squared length dᵀ G d, G these products.
        """
        turned = linear @ self.functions_turned
        on = turned @ self.principal.T
        turned -= on @ self.principal
        return on, np.asarray(np.einsum("i...k,j...k->...ij", turned, turned))
