"""Bounds: what colours a set of reflectances can have, and how near they can come to one.

A search over hundreds of millions of stacks cannot look at each. What it needs is a
promise about many at once, that is never broken: of all stacks whose reflectance lies
between two spectra, none is nearer to the wanted colour than so much.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .ciede2000 import chroma_weight, hue_term, hue_weight, lightness_weight, rotation_chroma, stretch, turned_by
from .colorimetry import xyz_from_lab
from .grid import Bools, Floats, Ints

# Bounds give way by so much ΔE00, for the rounding of single precision.
_SLACK = 2e-3


@dataclass(frozen=True, slots=True, eq=False)
class LabBox:
    """A range of CIELAB for each of m sets, corners (m, 3)."""

    low: Floats
    high: Floats


# Largest T(h) and rotation of CIEDE2000 within so many degrees of a hue, by hue and reach.
_STEP = 3


@cache
def _hue_terms() -> tuple[Floats, Floats]:
    """The most that T and |rotation| can be within `reach` of a hue, each (120, 61), steps of 3°."""
    hue = np.radians(np.arange(0, 360, _STEP / 4))
    t, turned = hue_term(hue), turned_by(hue)
    count, reach = 360 // _STEP, 180 // _STEP + 1
    most_t, most_turned = np.empty((count, reach)), np.empty((count, reach))
    for h in range(count):
        for r in range(reach):
            # One step more on either side, for the places between the steps.
            near = np.arange(4 * (h - r - 1), 4 * (h + r + 1) + 1) % len(hue)
            most_t[h, r], most_turned[h, r] = t[near].max(), turned[near].max()
    # Between samples 0.75° apart T changes by less than 0.03.
    return most_t + 0.03, np.minimum(most_turned + 0.02, 1)


def least_delta_e(target: Floats, box: LabBox) -> Floats:
    """A ΔE00 that no colour of a box comes below, from one CIELAB colour (3,); (m,).

    CIEDE2000 is a quadratic form in ΔL'/S_L, ΔC'/S_C and ΔH'/S_H. Each divisor is taken
    at its largest in the box, ΔC'² + ΔH'² is Δa'² + Δb'² exactly, and the rotation term
    takes away no more than |R_T|/2 of the two (Sharma, Wu and Dalal 2005 for the terms).
    """
    light, a, b = (float(component) for component in target)
    l0, a0, b0 = box.low.T
    l1, a1, b1 = box.high.T
    # How far the box is from the target, component by component.
    dl, da, db = (
        np.maximum(np.maximum(lo - at, at - hi), 0) for lo, hi, at in ((l0, l1, light), (a0, a1, a), (b0, b1, b))
    )
    middle = np.maximum(np.abs((light + l0) / 2 - 50), np.abs((light + l1) / 2 - 50)) ** 2
    x = dl / lightness_weight(middle)

    most_a, most_b = np.maximum(np.abs(a0), np.abs(a1)), np.maximum(np.abs(b0), np.abs(b1))
    least_a, least_b = np.maximum(np.maximum(a0, -a1), 0), np.maximum(np.maximum(b0, -b1), 0)
    own = np.hypot(a, b)
    g_high = stretch(((own + np.hypot(least_a, least_b)) / 2) ** 7)
    g_low = stretch(((own + np.hypot(most_a, most_b)) / 2) ** 7)
    d2 = (g_low * da) ** 2 + db**2
    own0, own1 = np.hypot(g_low * a, b), np.hypot(g_high * a, b)
    c0, c1 = np.hypot(g_low * least_a, least_b), np.hypot(g_high * most_a, most_b)
    mean = (own1 + c1) / 2

    hue, reach = np.degrees(np.arctan2(b, a)) % 360, _turn((a, b), (a0, a1, b0, b1), g_low, g_high)
    most_t, most_turned = (terms[int(hue // _STEP) % (360 // _STEP), reach] for terms in _hue_terms())
    s_c, s_h = chroma_weight(mean), hue_weight(mean, most_t)
    chroma = np.minimum(np.maximum(np.maximum(c1 - own0, own1 - c0), 0) ** 2, d2)
    least_chroma = np.minimum(np.maximum(np.maximum(c0 - own1, own0 - c1), 0) ** 2, d2)
    shared = np.where(s_c > s_h, chroma, least_chroma)
    yz = shared / s_c**2 + (d2 - shared) / s_h**2
    turned = rotation_chroma(mean**7) / 2 * most_turned
    return np.asarray(np.maximum(np.sqrt(x**2 + (1 - turned) * yz) - _SLACK, 0))


def _turn(
    at: tuple[float, float], box: tuple[Floats, Floats, Floats, Floats], g_low: Floats, g_high: Floats
) -> NDArray[np.intp]:
    """How far the hue of a box is from the target's at most, in steps; any hue if it holds a grey."""
    a0, a1, b0, b1 = box
    a, b = at
    most = np.zeros_like(a0)
    for g in (g_low, g_high):
        for x in (a0, a1):
            for y in (b0, b1):
                # Of the target too the hue is that of (g a, b), wherever g is between both.
                gx = g * x
                for own in (g_low * a, g_high * a):
                    cosine = (gx * own + y * b) / np.maximum(np.hypot(gx, y) * np.hypot(own, b), 1e-12)
                    most = np.maximum(most, np.arccos(np.clip(cosine, -1, 1)))
    # The target's own hue moves too as it is stretched, by less than 12 degrees.
    steps = np.ceil(np.degrees(most) / _STEP).astype(np.intp) + 4
    grey = (a0 <= 0) & (a1 >= 0) & (b0 <= 0) & (b1 >= 0)
    return np.where(grey | (np.hypot(a, b) < 1), 180 // _STEP, np.minimum(steps, 180 // _STEP))


@dataclass(frozen=True, slots=True, eq=False)
class Near:
    """All colours within a ΔE00 of one, as small boxes of X, Y and Z, each over its white; corners (m, 3)."""

    low: Floats
    high: Floats

    def ends(self, directions: Floats) -> tuple[Floats, Floats]:
        """Least and most that a linear function of X, Y, Z comes to among them, (d,) each of directions (d, 3)."""
        up, down = np.maximum(directions, 0).T, np.minimum(directions, 0).T
        return (self.low @ up + self.high @ down).min(axis=0), (self.high @ up + self.low @ down).max(axis=0)


def near(target: Floats, delta_e: float) -> Near:
    """Boxes that together hold every colour within `delta_e` > 0 of a CIELAB colour (3,).

    Space is cut up into boxes, those that `least_delta_e` rules out are left, and what is
    left is cut up again. In the end boxes with others on all six sides are left out too: a
    linear function has its ends on the outside of them all.
    """
    corner, size = np.array([-1.0, -200, -200]), np.array([140.0, 400, 400])
    cells = np.zeros((1, 3), dtype=np.intp)
    for parts in (12, 3, 2, 2, 2, 2, 2, 2, 2):
        if len(cells) * parts**3 > _MOST:
            break
        size = size / parts
        within = np.stack(np.meshgrid(*[np.arange(parts)] * 3, indexing="ij"), axis=-1).reshape(-1, 3)
        cells = (cells[:, None] * parts + within).reshape(-1, 3)
        low = corner + cells * size
        cells = cells[least_delta_e(target, LabBox(low, low + size)) < delta_e]
        first, last = cells.min(axis=0), cells.max(axis=0) + 1
        # Begin again from what holds them all, while they are few for what they fill.
        if len(cells) < parts**3 // 3:
            corner, size = corner + first * size, (last - first) * size
            cells = np.zeros((1, 3), dtype=np.intp)
    low = corner + cells * size
    # Where X, Y or Z is cut off at nothing, the ends may be inside.
    bright = (_corner(low, low + size) > 0).all(axis=1)
    low = low[_outer(cells) | ~bright]
    high = low + size
    return Near(np.maximum(_corner(low, high), 0), np.maximum(_corner(high, low), 0))


def _corner(low: Floats, high: Floats) -> Floats:
    """X, Y and Z over their white at one end of boxes of CIELAB, (m, 3); X grows with a*, Z falls as b* grows."""
    return xyz_from_lab(np.stack([low[:, 0], low[:, 1], high[:, 2]], axis=1), np.ones(3))


def _outer(cells: Ints) -> Bools:
    """Which of the cells (m, 3) do not have others on all six sides."""
    first, last = cells.min(axis=0), cells.max(axis=0) + 1
    there = np.zeros(last - first + 2, dtype=np.bool_)
    at = tuple((cells - first + 1).T)
    there[at] = True
    inside = np.ones_like(there)
    for axis in range(3):
        for by in (-1, 1):
            inside &= np.roll(there, by, axis=axis)
    return np.asarray(~inside[at])


# Boxes that are looked at in one go.
_MOST = 40_000
