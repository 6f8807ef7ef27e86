"""Ladders: what an ink alone looks like on a card, from a breath of it to all it can give.

A mix that lies on the ladder of one of its inks is a paler or deeper coat of that ink and nothing new.
"""

from __future__ import annotations

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.stack import Layers, Palette, Stacks, lab_on

DOSES: Floats = np.geomspace(0.05, 3.0, 10)
"""Steps of a ladder, relative to the ink's swatch."""


def ladders(palette: Palette, inks: int, stride: int, illuminant: str) -> Floats:
    """CIELAB of uniform films of each ink alone on the first card of a palette, (inks, steps, 3).

    An ink takes `stride` rows of the palette's pigmentation, of which the first is itself.
    """
    steps = len(DOSES)
    rows = inks * steps
    if not rows:
        return np.zeros((0, steps, 3))
    ink = np.repeat(stride * np.arange(inks), steps)[:, None]
    dose, one = np.tile(DOSES, inks)[:, None], np.ones((rows, 1))
    stacks = Stacks(
        layers=Layers(ink=ink, dose=dose, scatter=one, held=0 * one, cover=one[:, 0]),
        layer=np.arange(rows)[:, None],
        card=np.zeros(rows, dtype=np.intp),
        ink=ink,
        total=dose,
    )
    found = lab_on(stacks, palette, [stacks.card], illuminant)[0]
    return np.ascontiguousarray(found.reshape(inks, steps, 3))


def to_ladder(result: Floats, ladder: Floats) -> Floats:
    """ΔE00 of colours (b, 3) to the nearest place on their ladders (b, steps, 3), (b,).

    Between two steps the ladder goes straight; which place is nearest is asked in CIELAB,
    how far it is in ΔE00.
    """
    start = ladder[:, :-1]
    along = ladder[:, 1:] - start
    off = result[:, None] - start
    length = np.maximum(np.einsum("bsc,bsc->bs", along, along), 1e-9)
    share = np.clip(np.einsum("bsc,bsc->bs", off, along) / length, 0, 1)
    off -= share[:, :, None] * along
    nearest = np.argmin(np.einsum("bsc,bsc->bs", off, off), axis=1)
    place = result - off[np.arange(len(result)), nearest]
    return np.asarray(cm.ciede2000(*result.T, *place.T))
