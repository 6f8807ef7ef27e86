"""A simulated wet panel: laid by a hand that lays more or less than planned, and photographed before it is dry."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft.job import Job, LayDown
from wempa.craft.panels.colours import LINE_SHADES, faded, stacks_at, strokes
from wempa.craft.panels.front import coordinates
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.study import Study
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.predict import predict
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.table.dry_look import spots_on
from wempa.craft.vocabulary import Look, Over, Page
from wempa.optics.grid import Floats

from .camera import PHONES, photograph

# On the page under the camera, mm: where the panel's corner lies, how long its longer side is, and bare card beside it.
_LEFT, _TOP, _LONG = 45.0, 60.0, 150.0
_BARE = (6.0, 100.0, 36.0, 180.0)
_CELLS, _FINE, _ACROSS = 9, 40, 4
# How much of the photo's width lies beside the page.
_EDGE = 0.05


@dataclass(frozen=True, slots=True, eq=False)
class WetPanelPhoto:
    """A photo of a wet panel, and what it shows."""

    data: bytes
    corners: list[list[float]]
    """Of the panel on the photo, in pixels, from its top left round to the right."""
    bare: list[float]
    """Bare card beside it: left, top, right, bottom in pixels."""
    dry: Floats
    """True CIELAB (D65) of a grid of spots once dry, row by row, (rows · columns, 3)."""
    columns: int
    rows: int


def photograph_wet(
    job: Job, panel: Panel, found: Study, hand: float, phone: str, lamp: str, seed: int = 1, fine: bool = False
) -> WetPanelPhoto:
    """Lay a panel with so many times the planned passes and photograph it while it is wet.

    It is painted in cells, with `fine` in so many along its longer side that they are hardly seen. `job` has no
    stash; raises `JobError` where the panel cannot be predicted.
    """
    front = panel.front
    long = max(front.width, front.height)
    columns, rows = (max(2, round(_CELLS * side / long)) for side in (front.width, front.height))
    if fine:
        columns, rows = (_FINE if side == long else _ACROSS for side in (front.width, front.height))
    x, y = spots_on(panel, columns, rows)
    at = coordinates(front, x, y)
    stacks, which = stacks_at(strokes(job, panel, found.placed, found.work.order, at), LINE_SHADES)
    wet, dry = [], []
    for stack in stacks:
        own = (*job.stack, *_by(hand, stack))
        wet.append(predict(replace(job, stack=own, look=Look.WET)).colour.spectrum)
        dry.append(predict(replace(job, stack=own)).colour.lab)
    page = sheet_layout(Page.A4)
    wide, high = (_LONG * side / long for side in (front.width, front.height))
    across, down = wide / columns, high / rows
    squares = tuple(
        (_LEFT + c * across, _TOP + r * down, _LEFT + (c + 1) * across, _TOP + (r + 1) * down)
        for r in range(rows)
        for c in range(columns)
    )
    # No grey steps: there is only card under the camera.
    sheet = replace(page, squares=squares, columns=columns, rows=rows, steps=(), dark=(180, 285, 190, 290))
    scene = replace(PHONES[phone], lamp=lamp, tilt=0.0, glare=0.0, seed=seed)
    card = prepare_card(job.cardstock, "D65", job.constants).measured
    data = photograph(sheet, [wet[n] for n in which.tolist()], card, scene)
    edge = _EDGE * scene.width
    pixels = round(scene.width * page.height / page.width)
    scale = ((scene.width - 2 * edge) / page.width, (pixels - 2 * edge) / page.height)

    def pixel(mm: tuple[float, float]) -> list[float]:
        return [edge + mm[0] * scale[0], edge + mm[1] * scale[1]]

    right, bottom = _LEFT + wide, _TOP + high
    return WetPanelPhoto(
        data=data,
        corners=[pixel(each) for each in ((_LEFT, _TOP), (right, _TOP), (right, bottom), (_LEFT, bottom))],
        bare=[*pixel(_BARE[:2]), *pixel(_BARE[2:])],
        dry=np.array(dry)[which],
        columns=columns,
        rows=rows,
    )


def _by(hand: float, stack: Sequence[LayDown]) -> list[LayDown]:
    return [faded(lay, hand, lay.over is Over.WET) for lay in stack]
