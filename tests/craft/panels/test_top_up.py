"""A piece cut out of a panel: which colours it loses, how they come back, and plain card inked to match."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest

from tests.craft.panels.test_soft import SUNRISE, demo_job, demo_panel, lay
from wempa.craft.colour.naming import describe
from wempa.craft.panels import picture as panels_picture
from wempa.craft.panels.bands import Seam
from wempa.craft.panels.colours import stacks_at, strokes
from wempa.craft.panels.front import Front, spots
from wempa.craft.panels.panel import Panel, Ribbon
from wempa.craft.panels.picture import Picture, picture, ribbons_at
from wempa.craft.panels.shapes import moved, opening
from wempa.craft.panels.study import study, through
from wempa.craft.panels.top_up import to_match, top_ups
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Edge, Layout, Opening
from wempa.optics import colorimetry as cm


def window(x: float, y: float, wide: float, high: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    return moved(opening(Opening.RECTANGLE, wide, high), x, y)


@pytest.mark.parametrize(
    ("angle", "x", "y", "lost", "edge"),
    [
        (90, 54, 20, 3, "its lower edge"),
        (90, 54, 120, 0, "its upper edge"),
        (0, 15, 70, 3, "its right edge"),
        (0, 93, 70, 0, "its left edge"),
    ],
)
def test_a_lost_colour_comes_back_from_the_edge_where_it_lay(
    angle: float, x: float, y: float, lost: int, edge: str
) -> None:
    job = demo_job(*SUNRISE)
    panel = demo_panel(*SUNRISE, front=Front(108, 140, angle=angle))
    found = study(job, panel)
    rings = window(x, y, 24, 30)
    assert through(job, panel, found, rings).bands[lost] == 0
    (told,) = top_ups(job, panel, found, rings, [lost])
    assert told.text.startswith(f"{SUNRISE[lost]}: ink {edge} with it, 6 passes of the brush, fading over ")
    # What it becomes there is what prediction gives for it over what lies at the edge.
    middle, half = (y, 15) if angle == 90 else (x, 12)
    at = middle + half if lost else middle - half
    laid = strokes(job, found.panel, found.placed, found.work.order, np.array([at]))
    (below,), _ = stacks_at(laid, 65536)
    there = predict(replace(job, stack=(*below, lay(SUNRISE[lost])))).colour.lab
    assert told.text.endswith(f"it becomes {describe(there.tolist())}.")


def test_what_would_go_muddy_is_left_out() -> None:
    names = ("Firebox Orange", "Gorse Bank", "Boiler Blue")
    job, panel = demo_job(*names), demo_panel(*names)
    found = study(job, panel)
    muddy = [each for each in top_ups(job, panel, found, window(54, 12, 40, 20), [2]) if each.muddy]
    light = [each for each in top_ups(job, panel, found, window(54, 12, 40, 20), [2]) if not each.muddy]
    (told,) = [*muddy, *light]
    if told.muddy:
        assert (
            told.text == "Boiler Blue would go muddy over what lies at its lower edge: leave it out, or cut elsewhere."
        )
    else:
        assert int(re.findall(r"(\d+) pass", told.text)[0]) < 6
    assert top_ups(job, panel, found, window(500, 500, 5, 5), [0]) == []


def test_plain_card_is_inked_like_a_spot() -> None:
    job, panel = demo_job(*SUNRISE), demo_panel(*SUNRISE)
    found = study(job, panel)
    middle = (found.bands[1].begin + found.bands[1].end) / 2
    assert to_match(job, panel, found, 54, middle) == [f"{SUNRISE[1]}: 6 passes of the brush"]
    seam = found.seams[1]
    told = to_match(job, panel, found, 54, (seam.begin + seam.end) / 2)
    assert len(told) == 2
    assert told[1].endswith(", while the one before is open")
    passes = [float(re.findall(r": ([0-9.]+) pass", line)[0]) for line in told]
    assert all(0.5 <= each <= 6 for each in passes)
    # Inked like that it looks like that, but for the rounding of passes.
    names = [line.split(":")[0] for line in told]
    lays = [lay(names[0], passes=passes[0]), lay(names[1], passes=passes[1])]
    own = predict(replace(job, stack=tuple(lays))).colour.lab
    assert float(cm.delta_e(own, seam.lab)) < 4


@pytest.mark.parametrize(("edge", "lean"), [(Edge.TORN, 0.0), (Edge.CUT, 8.0), (Edge.CUT, 0.0)])
def test_a_window_over_ribbons_counts_them_as_their_edges_run(edge: Edge, lean: float) -> None:
    job = demo_job(*SUNRISE)
    panel = demo_panel(*SUNRISE, seam=Seam(), front=Front(108, 140, Layout.RIBBONS, 90), ribbon=Ribbon(edge, lean))
    found = study(job, panel)
    seen = through(job, panel, found, window(54, 70, 60, 70))
    assert sum(seen.bands) == pytest.approx(1)
    x, y = spots(panel.front.whole, 2.0)
    top = ribbons_at(job, panel, found.placed, x, y)
    straight = np.searchsorted([begin for begin, _ in found.placed.visible], np.broadcast_to(y, top.shape), "right") - 1
    differs = float((top != straight).mean())
    assert differs == 0 if edge is Edge.CUT and not lean else 0.005 < differs < 0.15


def test_ribbons_painted_again_with_other_inks_or_edges_are_painted_as_for_the_first_time() -> None:
    """How edges run and what lies where is kept between pictures: nothing of it may be of another panel."""

    def painted(panel: Panel) -> Picture:
        found = study(job, panel)
        return picture(job, panel, found.placed, found.work.order, 2.0)

    def afresh(panel: Panel) -> Picture:
        panels_picture._weaves.clear()
        panels_picture._run.cache_clear()
        return painted(panel)

    job = demo_job(*SUNRISE)
    torn = demo_panel(*SUNRISE, seam=Seam(), front=Front(60, 80, Layout.RIBBONS, 90), ribbon=Ribbon(Edge.TORN))
    deeper = [replace(band, lay=replace(band.lay, passes=2 * band.lay.passes)) for band in torn.bands]
    others = [
        replace(torn, bands=tuple(deeper)),
        replace(torn, bands=torn.bands[::-1]),
        replace(torn, ribbon=Ribbon(Edge.CUT, 8.0)),
        replace(torn, ribbon=Ribbon(Edge.TORN, carry=True)),
        replace(torn, front=replace(torn.front, angle=60)),
        replace(torn, bands=(replace(torn.bands[0], weight=2.0), *torn.bands[1:])),
    ]
    before = afresh(torn)
    for other in others:
        after = painted(other)
        assert (after != before).any()
        assert (after == afresh(other)).all()
        assert (painted(torn) == before).all()
