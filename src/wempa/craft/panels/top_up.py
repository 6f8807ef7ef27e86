"""What becomes of a piece that is cut out: how to bring back a lost colour, and how to ink plain card to match."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from wempa.craft import constants
from wempa.craft.colour.naming import describe
from wempa.craft.job import Job, LayDown
from wempa.craft.vocabulary import BandLine, Over
from wempa.craft.ways import lighter_hand

from .colours import LINE_SHADES, stacks_at, strokes, weighed
from .front import coordinates, spots
from .panel import Panel, name_of
from .shapes import Ring, inside
from .study import Study

# Spots per mm at which a cut is looked at.
_FINE = 2.0
# This share of a cut's extent across the bands is inked anew, and at least so many mm.
_DEEP, _LEAST_MM = 0.25, 4.0
# Passes are told to the half; less than a quarter of one counts as none.
_HALF = 2


@dataclass(frozen=True, slots=True)
class TopUp:
    """A colour that a cut loses, and how it comes back."""

    band: int
    text: str
    muddy: bool
    """Whether it would go muddy over what lies there, so that it is better left out."""


def top_ups(job: Job, panel: Panel, found: Study, rings: Sequence[Ring], lost: Sequence[int]) -> list[TopUp]:
    """For each lost band, by place, how to ink the cut piece from its edge; `rings` are mm on the front."""
    x, y = spots(panel.front.whole, _FINE)
    cut = inside(rings, x, y)
    if not cut.any() or not found.bands:
        return []
    at = coordinates(panel.front, x, y)[cut]
    low, high = float(at.min()), float(at.max())
    deep = max(_LEAST_MM, _DEEP * (high - low))
    touch = constants.values(job.constants)["touch.lighter"]
    made = []
    for k in lost:
        middle = (found.bands[k].begin + found.bands[k].end) / 2
        first = middle < (low + high) / 2
        edge = low if first else high
        lay = panel.laid(k)
        light = lighter_hand(lay, touch)
        laid = strokes(job, found.panel, found.placed, found.work.order, np.array([edge]))
        (below,), _ = stacks_at(laid, LINE_SHADES)
        seen = weighed(job, [(*below, lay), (*below, light)])
        muddy = bool(seen.mud[0] >= job.mud_line)
        name, where = name_of(job, panel, k), _edge_words(panel, first)
        if muddy and seen.mud[1] < job.mud_line:
            lay, muddy = light, False
        words = describe(seen.lab[int(lay is light)].tolist())
        if muddy:
            text = f"{name} would go muddy over what lies at {where}: leave it out, or cut elsewhere."
        else:
            text = f"{name}: ink {where} with it, {_hand(lay)}, fading over {deep:.0f} mm; there it becomes {words}."
        made.append(TopUp(k, text, muddy))
    return made


def to_match(job: Job, panel: Panel, found: Study, x: float, y: float) -> list[str]:
    """How to ink a piece of the same plain card like one spot of the panel, mm from its top left, step by step."""
    at = coordinates(panel.front, np.array([[x]]), np.array([[y]])).clip(0, found.placed.length)
    laid = strokes(job, found.panel, found.placed, found.work.order, at.reshape(-1))
    (stack,), _ = stacks_at(laid, LINE_SHADES)
    names = {key: ink.name or key for key, ink in job.inks}
    seen = [lay for lay in stack if lay.dose is not None or lay.passes * _HALF >= 0.5]
    at_once = [bool(n) and lay.over is Over.WET for n, lay in enumerate(seen)]
    return [
        f"{names[lay.parts[0][0]]}: {_hand(lay)}{', while the one before is open' if wet else ''}"
        for lay, wet in zip(seen, at_once, strict=True)
    ]


def _hand(lay: LayDown) -> str:
    if lay.dose is not None or lay.tool is None:
        return f"dose {lay.dose or 0:.2g}"
    passes = max(1, round(lay.passes * _HALF)) / _HALF
    return f"{passes:g} {'pass' if passes == 1 else 'passes'} of the {lay.tool}"


def _edge_words(panel: Panel, first: bool) -> str:
    """The edge of a piece that lies towards the beginning or the end of the line."""
    line = panel.layout.line
    if line is BandLine.ACROSS:
        turned = radians(panel.front.angle)
        across, down = cos(turned), sin(turned)
        if first:
            across, down = -across, -down
        if abs(across) >= abs(down):
            return "its right edge" if across > 0 else "its left edge"
        return "its lower edge" if down > 0 else "its upper edge"
    if line is BandLine.ROUND:
        return "one side of it" if first else "the other side of it"
    towards_middle = first if line is BandLine.OUTWARDS else not first
    return "its middle" if towards_middle else "its rim"
