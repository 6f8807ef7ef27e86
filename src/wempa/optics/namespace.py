"""Formulas written once for arrays and for single numbers.

A chart judges forty thousand overlaps at a time, a prediction one; NumPy is the way
to do the first and costs fifty times as much as plain floats for the second. A
formula that takes its functions from a namespace `xp` serves both: pass `numpy` for
arrays, `SCALAR` for floats. Only what such formulas use is here.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from types import SimpleNamespace
from typing import Any, cast

import numpy as np

Value = Any
"""A float, or an array; whichever the namespace at hand is for."""


def _interp(x: float, xs: Sequence[float], ys: Sequence[float]) -> float:
    at = bisect_right(xs, x)
    at = 1 if at == 0 else min(at, len(xs) - 1)
    return ys[at - 1] + (ys[at] - ys[at - 1]) * (x - xs[at - 1]) / (xs[at] - xs[at - 1])


SCALAR = SimpleNamespace(
    all=bool,
    any=bool,
    arctan2=math.atan2,
    copysign=math.copysign,
    exp=math.exp,
    interp=_interp,
    maximum=max,
    minimum=min,
    sin=math.sin,
    cos=math.cos,
    sqrt=math.sqrt,
    where=lambda condition, one, other: one if condition else other,
)
"""Floats in, floats out, under NumPy's names; beyond its ends `interp` goes on straight."""


def smooth_step(t: Value, xp: Any) -> Value:
    """Smooth step, 3t² − 2t³, from 0 at 0 and below to 1 at 1 and above."""
    if xp is not SCALAR:
        t = xp.minimum(xp.maximum(t, 0.0), 1.0)
    elif t <= 0:
        return 0.0
    elif t >= 1:
        return 1.0
    return t * t * (3 - 2 * t)


def smooth_steps(ts: Sequence[Value], xp: Any) -> Sequence[Value]:
    """`smooth_step` of each: floats, or arrays of one shape, which are worked out together."""
    if xp is np:
        return cast("Sequence[Value]", smooth_step(np.array(ts), np))
    return [smooth_step(t, xp) for t in ts]


def along_ramp(value: Value, start: Value, stop: Value) -> Value:
    """How far from `start` to `stop`, which may lie below it: 0 at the one, 1 at the other, and straight on."""
    return (value - start) * (1 / (stop - start))


def ramp(value: Value, start: Value, stop: Value, xp: Any) -> Value:
    """Smooth step from 0 at `start` to 1 at `stop`, which may lie below it."""
    return smooth_step(along_ramp(value, start, stop), xp)
