"""What the screen's bounds are linear in: functions of the light that comes back, and what is left of the floor."""

from __future__ import annotations

import numpy as np

from wempa.optics.grid import Floats

# Shares of the light that are thrown back under the surface.
BOUNCES = (0.0, 0.3, 0.6)


def left_of(loss: Floats) -> Floats:
    """What is left of the floor, a factor, of what joins into its loss; see `optics.stack`."""
    return np.exp(-np.sqrt(np.sqrt(loss)))


def of_light(internal: Floats) -> Floats:
    """Functions r / (1 − κ r) for each κ, (b, 36) to (b, k, 36)."""
    return np.stack([internal / (1 - kappa * internal) for kappa in BOUNCES], axis=1, dtype=np.float32)


def raw_features(internal: Floats, left: Floats) -> Floats:
    """What the screen's bounds are linear in, (b, (k + 1)·36): functions of r, and what is left of the floor."""
    return np.concatenate([of_light(internal).reshape(len(internal), -1), left], axis=1)
