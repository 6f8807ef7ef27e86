"""How a panel that is wet before you will look when it is dry: from a photo of it, and from what was laid.

The change from wet to dry look is known along the line across the bands, for the panel as it was
planned; what a photo shows at a spot is moved by the change there. A hand that laid more or less than
planned shows in the photo and stays; where it is deeper than planned it dries back by more, in proportion
to how deep it is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft.job import Job
from wempa.craft.panels.colours import looked, places, strokes
from wempa.craft.panels.front import coordinates
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.study import Study
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.many_stacks import StackLook
from wempa.craft.prediction.predict import predict
from wempa.craft.stash.swatch_sheet import projected, projection
from wempa.optics.grid import Floats

# How much deeper or paler than planned something is at most taken to be.
_LEAST, _MOST = 0.5, 1.8
# Below this depth, ΔE in CIELAB from the card, nothing is told from nothing.
_SHALLOW = 4.0


@dataclass(frozen=True, slots=True, eq=False)
class WetAndDry:
    """A panel along its line, wet and dry: CIELAB (p, 3) each at places in mm (p,)."""

    at: Floats
    wet: Floats
    dry: Floats
    card: Floats
    """CIELAB of the bare card, (3,)."""


def wet_and_dry(job: Job, panel: Panel, found: Study) -> WetAndDry:
    """Predict a panel's bands in both looks; raises `JobError`."""
    at = places(panel, found.placed)
    laid = strokes(job, panel, found.placed, found.work.order, at)
    both = []
    for look in (StackLook.WET, StackLook.DRY):
        lab, _, which = looked(job, laid, (), look)
        both.append(lab[which])
    card = prepare_card(job.cardstock, str(job.illuminant), job.constants).lab
    return WetAndDry(at, both[0], both[1], card)


def margin_of(job: Job, panel: Panel) -> float:
    """How far off predictions of a panel are likely to be, ΔE00: that of its bands by themselves, in the mean."""
    lays = {panel.laid(k) for k in range(len(panel.bands))}
    return float(np.mean([predict(replace(job, stack=(*job.stack, lay))).margin for lay in lays]))


def spots_on(panel: Panel, columns: int, rows: int) -> tuple[Floats, Floats]:
    """Middles of a grid of spots on a front, mm: x and y, (rows · columns,) each, row by row."""
    x = (np.arange(columns) + 0.5) / columns * panel.front.width
    y = (np.arange(rows) + 0.5) / rows * panel.front.height
    xs, ys = np.meshgrid(x, y)
    return xs.reshape(-1), ys.reshape(-1)


def dry_look(
    known: WetAndDry, panel: Panel, x: Floats, y: Floats, seen: Floats, spread: float = 0.0, margin: float = 1.0
) -> Floats:
    """CIELAB (n, 3) that spots will have when dry, which look `seen` (n, 3) while wet, at x and y in mm (n,).

    `spread` is how far a colour off the photo may be off, `margin` the same of what was predicted, ΔE00: what is
    seen and what was laid, by a hand as deep as the photo shows on the whole, are weighed by that, as two
    measurements of one thing are.
    """
    at = coordinates(panel.front, x, y)
    wet, dry = (_between(known.at, lab, at) for lab in (known.wet, known.dry))
    planned = np.linalg.norm(wet - known.card, axis=1)
    there = np.linalg.norm(seen - known.card, axis=1)
    # Deeper than planned dries back by more, in proportion.
    ratio = np.where(planned > _SHALLOW, there / np.maximum(planned, _SHALLOW), 1.0).clip(_LEAST, _MOST)
    hand = float(np.median(ratio))
    supposed = known.card + hand * (wet - known.card)
    trust = margin**2 / (margin**2 + spread**2)
    likely = supposed + trust * (seen - supposed)
    return np.asarray(likely + (dry - wet) * ratio[:, None])


def _between(at: Floats, lab: Floats, wanted: Floats) -> Floats:
    return np.stack([np.interp(wanted, at, channel) for channel in lab.T], axis=1)


def grid_boxes(
    corners: Sequence[Sequence[float]], columns: int, rows: int, inset: float = 0.25
) -> list[tuple[float, float, float, float]]:
    """Boxes in pixels in the middles of a grid on a photo, row by row.

    `corners` are the panel's, in pixels, from its top left round to the right; `inset` is how much of
    a cell is left out at either side.
    """
    unit = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], dtype=np.float64)
    turn = projection(unit, np.asarray(corners, dtype=np.float64))
    found = []
    for r in range(rows):
        for c in range(columns):
            edges = np.array(
                [((c + a) / columns, (r + b) / rows) for a in (inset, 1 - inset) for b in (inset, 1 - inset)]
            )
            points = projected(edges, turn)
            left, top = points.min(axis=0)
            right, bottom = points.max(axis=0)
            found.append((float(left), float(top), float(right), float(bottom)))
    return found
