"""Ladders: what an ink alone looks like on a card, from a breath of it to all it can give.

A mix that lies on the ladder of one of its inks is a paler or deeper coat of that ink and nothing new.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import sqrt

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.layers import Layers
from wempa.optics.namespace import SCALAR
from wempa.optics.stack import Palette, Stacks, lab_on

DOSES: Floats = np.geomspace(0.05, 3.0, 10)
"""Steps of a ladder, relative to the ink's swatch."""
FAR = 40.0
"""Farther than this in CIELAB no two colours are within 6 ΔE00 (S_C of CIEDE2000 is 6.4 at a chroma of 120)."""
Point = tuple[float, float, float]
_Piece = tuple[float, float, float, float, float, float, float, float]
"""Start and step in CIELAB, 1 / length² and length."""


@dataclass(frozen=True, eq=False)
class Ladders:
    """The ladders of n inks on one card. Between two steps a ladder goes straight.

    Which place of it is nearest is asked in CIELAB, how far that is in ΔE00.
    """

    lab: Floats
    """CIELAB of uniform films of each ink alone, (n, steps, 3)."""

    def far_from(self, ink: int, colour: Point) -> float:
        """ΔE00 of one colour to an ink's ladder; infinite where it is nowhere near (`FAR`)."""
        light, a, b = colour
        best, reach, nearest = float("inf"), float("inf"), (0.0, 0.0, 0.0)
        for l0, a0, b0, dl, da, db, scale, long in self._pieces[ink]:
            x, y, z = light - l0, a - a0, b - b0
            off = x * x + y * y + z * z
            # No place of a piece is nearer than the piece's start minus its length.
            far = reach + long
            if off > far * far:
                continue
            share = (x * dl + y * da + z * db) * scale
            if share > 0:
                share = min(share, 1.0)
                x, y, z = x - share * dl, y - share * da, z - share * db
                off = x * x + y * y + z * z
            if off < best:
                best, reach, nearest = off, sqrt(off), (x, y, z)
        if reach > FAR:
            return float("inf")
        x, y, z = nearest
        return float(cm.ciede2000(light, a, b, light - x, a - y, b - z, SCALAR))

    def nearest(self, ink: Ints, colours: Floats) -> tuple[Floats, Floats]:
        """The nearest place on the ladder of an ink (b,) to colours (b, 3): its CIELAB (b, 3), its squared distance."""
        scale, *pieces = self._table.take(ink, axis=1)
        start, along = pieces[:3], pieces[3:]
        # The components stand apart and in single precision, because a chart asks eighty thousand times.
        off = [component.astype(np.float32)[:, None] - at for component, at in zip(colours.T, start, strict=True)]
        share = sum(each * step for each, step in zip(off, along, strict=True)) * scale
        np.clip(share, 0, 1, out=share)
        for each, step in zip(off, along, strict=True):
            each -= share * step
        apart = sum(each * each for each in off)
        at = (np.arange(len(ink)), np.argmin(apart, axis=1))
        return colours - np.stack([each[at] for each in off], axis=1), np.asarray(apart[at])

    def may_be_near(self, ink: Ints, colours: Sequence[Floats]) -> Bools:
        """Whether colours, components first, lie in the box around an ink's ladder or within `FAR` of it, (b,)."""
        near = np.ones(len(ink), dtype=np.bool_)
        for component, (least, most) in zip(colours, self._boxes, strict=True):
            near &= (component > least[ink]) & (component < most[ink])
        return near

    @cached_property
    def _boxes(self) -> list[tuple[Floats, Floats]]:
        """The least and the greatest of each component that is within `FAR` of a ladder, (n,) each."""
        least, most = self.lab.min(axis=1) - FAR, self.lab.max(axis=1) + FAR
        return list(zip(least.T.copy(), most.T.copy(), strict=True))

    @cached_property
    def deepest_chroma(self) -> Floats:
        """C* of the last step of each, (n,): there an ink shows its own colour, and the card's next to none."""
        return np.hypot(self.lab[:, -1, 1], self.lab[:, -1, 2])

    @cached_property
    def _table(self) -> Floats:
        """1 / length², start and step of every piece, (7, n, steps - 1), single precision."""
        start = self.lab[:, :-1]
        along = self.lab[:, 1:] - start
        scale = 1 / np.maximum((along**2).sum(axis=2), 1e-9)
        return np.concatenate([scale[None], *[np.moveaxis(each, 2, 0) for each in (start, along)]]).astype(np.float32)

    @cached_property
    def deepest(self) -> list[float]:
        """`deepest_chroma` for one ink at a time."""
        return [float(each) for each in self.deepest_chroma]

    @cached_property
    def _pieces(self) -> list[list[_Piece]]:
        """The ladders for one colour at a time."""
        start = self.lab[:, :-1]
        along = self.lab[:, 1:] - start
        long = np.linalg.norm(along, axis=2, keepdims=True)
        pieces = np.concatenate([start, along, 1 / np.maximum(long**2, 1e-9), long], axis=2)
        return [[tuple(piece) for piece in ladder] for ladder in pieces.tolist()]


def ladders(palette: Palette, inks: int, stride: int, illuminant: str, chalk: Callable[[Floats], Floats]) -> Ladders:
    """The ladders of each ink alone on the first card of a palette.

    An ink takes `stride` rows of the palette's pigmentation, of which the first is itself. `chalk` gives the
    scatter of voids of each ink's dried film, (inks, steps), at so many doses, (steps,).
    """
    steps = len(DOSES)
    rows = inks * steps
    if not rows:
        return Ladders(np.zeros((0, steps, 3)))
    ink = np.repeat(stride * np.arange(inks), steps)[:, None]
    dose, one = np.tile(DOSES, inks)[:, None], np.ones((rows, 1))
    stacks = Stacks(
        layers=Layers(ink, dose, one, 0 * one, one[:, 0], chalk=chalk(np.array(DOSES)).reshape(-1, 1)),
        layer=np.arange(rows)[:, None],
        card=np.zeros(rows, dtype=np.intp),
        ink=ink,
        total=dose,
    )
    found = lab_on(stacks, palette, [stacks.card], illuminant)[0]
    return Ladders(np.ascontiguousarray(found.reshape(inks, steps, 3)))
