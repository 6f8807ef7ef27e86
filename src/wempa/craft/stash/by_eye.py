"""A colour found by eye: a family, the nearest of a field of true colours, then nudges until nothing comes nearer.

Everything here can be shown on a screen of sRGB, for what cannot be seen cannot be compared with a swatch
held beside it. Steps are ΔE00, so that one press changes a pale yellow as visibly as a navy. How far people
miss that way is simulated by ``tools/eye_family.py`` (the rows ``known.eye`` and ``eye``).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from math import cos, hypot, radians, sin

import numpy as np

from wempa.craft.colour.naming import describe_all, leans_to
from wempa.craft.vocabulary import EyeFamily, EyeLight
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, white_point

ACROSS, DOWN = 8, 6
"""Columns and rows of a field."""
STEPS = (6.0, 3.0, 1.5)
"""How far a nudge goes, ΔE00: a big step, a step, a small one."""


@dataclass(frozen=True)
class _Box:
    """A part of CIELAB in cylinder form: L*, C* and hue, each from and to; a hue may go past 360."""

    light: tuple[float, float]
    chroma: tuple[float, float]
    hue: tuple[float, float]


# Families overlap on purpose: what stands at the edge of two is found from either.
_BOXES: dict[EyeFamily, _Box] = {
    EyeFamily.PINK: _Box((48, 94), (8, 90), (335, 392)),
    EyeFamily.RED: _Box((18, 60), (30, 110), (5, 50)),
    EyeFamily.ORANGE: _Box((45, 90), (20, 110), (42, 78)),
    EyeFamily.YELLOW: _Box((55, 98), (18, 110), (72, 108)),
    EyeFamily.GREEN: _Box((20, 95), (8, 110), (104, 172)),
    EyeFamily.TEAL: _Box((20, 95), (8, 80), (165, 235)),
    EyeFamily.BLUE: _Box((12, 92), (8, 110), (225, 298)),
    EyeFamily.PURPLE: _Box((12, 90), (8, 110), (288, 350)),
    EyeFamily.BROWN: _Box((15, 78), (9, 52), (22, 92)),
    EyeFamily.WHITE: _Box((86, 99.5), (0, 14), (0, 360)),
    EyeFamily.GREY: _Box((28, 90), (0, 9), (0, 360)),
    EyeFamily.BLACK: _Box((4, 34), (0, 10), (0, 360)),
}


@dataclass(frozen=True)
class Nudged:
    """One step from a colour: which way, in words, and where to in CIELAB; None where no screen shows it."""

    way: str
    lab: tuple[float, float, float] | None


def on_screen(labs: Floats) -> Bools:
    """Which colours (..., 3), CIELAB under D65, a screen of sRGB can show."""
    seen = cm.adapt(cm.xyz_from_lab(labs, white_point("D65")), white_point("D65"), cm.SRGB_WHITE) @ cm.XYZ_TO_SRGB.T
    return np.asarray(((seen > -0.0005) & (seen < 1.0005)).all(axis=-1))


@cache
def field(family: EyeFamily) -> tuple[tuple[tuple[float, float, float], ...], ...]:
    """Colours of a family as unlike one another as they can be, in six rows from light to dark, eight in a row by hue.

    Chosen one after another, each as far as can be (ΔE00) from all before it, so that none of the
    family's colours is far from one of them.
    """
    box = _BOXES[family]
    light = np.linspace(*box.light, 21)
    chroma = np.linspace(*box.chroma, 15)
    hue = np.radians(np.linspace(*box.hue, 15))
    grid = np.stack(np.meshgrid(light, chroma, hue, indexing="ij"), axis=-1).reshape(-1, 3)
    labs = np.stack([grid[:, 0], grid[:, 1] * np.cos(grid[:, 2]), grid[:, 1] * np.sin(grid[:, 2])], axis=1)
    labs = labs[on_screen(labs)]
    count = ACROSS * DOWN
    chosen = [int(np.argmin(cm.ciede2000(*labs.T, *labs.mean(axis=0))))]
    nearest = np.full(len(labs), np.inf)
    while len(chosen) < count:
        nearest = np.minimum(nearest, cm.ciede2000(*labs.T, *labs[chosen[-1]]))
        chosen.append(int(np.argmax(nearest)))
    found = labs[chosen]
    found = found[np.argsort(-found[:, 0], kind="stable")].reshape(DOWN, ACROSS, 3)
    middle = radians((box.hue[0] + box.hue[1]) / 2)
    rows = []
    for row in found:
        turned = np.arctan2(row[:, 2], row[:, 1]) - middle
        order = np.argsort((turned + np.pi) % (2 * np.pi), kind="stable")
        rows.append(tuple((float(l), float(a), float(b)) for l, a, b in row[order]))
    return tuple(rows)


def around(lab: Sequence[float], step: float) -> tuple[Nudged, ...]:
    """Six ways on from a colour: lighter, darker, brighter, duller and along the circle both ways, `step` ΔE00 each.

    A colour that has hardly a hue goes redder, yellower, greener and bluer instead of brighter, duller and round.
    """
    at = np.array([float(component) for component in lab])
    chroma = hypot(at[1], at[2])
    ways = [("lighter", np.array([1.0, 0, 0])), ("darker", np.array([-1.0, 0, 0]))]
    if chroma < 2 * step:
        leans = (("redder", 25.0), ("yellower", 95.0), ("greener", 165.0), ("bluer", 270.0))
        ways += [(said, np.array([0.0, cos(radians(hue)), sin(radians(hue))])) for said, hue in leans]
    else:
        out = np.array([0.0, at[1], at[2]]) / chroma
        across = np.array([0.0, -out[2], out[1]])
        ways += [("brighter", out), ("duller", -out)]
        # Where it leads is told of a good turn, for the first step still has the hue it comes from.
        ways += [(leans_to(at.tolist(), (at + way * _TURN * chroma).tolist()), way) for way in (across, -across)]
    return tuple(Nudged(said, _stepped(at, way, step)) for said, way in ways)


def _stepped(at: Floats, way: Floats, step: float) -> tuple[float, float, float] | None:
    """Where one comes to after `step` ΔE00 in a direction; None where that is no colour, or on no screen.

    Where the screen ends the colour grows duller as far as it must, and goes on: a darker yellow has less room.
    """
    far = np.arange(0.0, 60.0, 0.5)[:, None] * way + at
    dulled = np.repeat(far[:, None], len(_DULLED), axis=1)
    dulled[..., 1:] *= _DULLED[:, None]
    shown = on_screen(dulled) & (dulled[..., 0] >= 0) & (dulled[..., 0] <= 100)
    there = dulled[np.arange(len(far)), np.argmax(shown, axis=1)][shown.any(axis=1)]
    if not len(there):
        return None
    gone = (there - at) @ way
    apart = np.where(gone > 0, cm.ciede2000(*there.T, *at), 0.0)
    reached = np.flatnonzero(apart >= step)
    if not len(reached):
        return None
    l, a, b = there[reached[0]]
    return float(l), float(a), float(b)


_TURN = 0.9
# Shares of its chroma that a colour is tried with, the most first.
_DULLED = np.linspace(1, 0.2, 41)


def spreads(table: Mapping[str, float]) -> dict[EyeLight, float]:
    """How far a colour found by eye is off, ΔE00 that hold two in three, by the light on the swatch."""
    return {light: table[f"eye.{light}"] for light in EyeLight}


def said_of(labs: Floats) -> list[tuple[str, str]]:
    """Hex and name of colours (n, 3)."""
    return list(zip(cm.hexes_from_lab(labs, "D65"), describe_all(labs), strict=True))
