"""A chart is nothing but its cells predicted one by one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft.job import Card, Colour, Ink, Job, LayDown
from wempa.craft.prediction.predict import predict
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.vocabulary import Over, Surface, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as ContractInk

INKS = [ContractInk.model_validate(ink["body"]).to_core() for ink in ink_bodies()]


@pytest.mark.parametrize("surface", [Surface.SMOOTH, Surface.COATED])
@pytest.mark.parametrize("card", ["#f8f7f4", "#a8dcc0"])
@pytest.mark.parametrize(
    "way",
    [
        LayDown((), dose=1.0),
        LayDown((), tool=Tool.FOAM, passes=4),
        LayDown((), tool=Tool.BRUSH, passes=3, over=Over.WET),
        LayDown((), tool=Tool.DIP),
    ],
)
def test_every_cell_is_the_prediction_of_its_stack(card: str, surface: Surface, way: LayDown) -> None:
    paper = Card(Colour(hex=card), surface)
    chart = ordered_pairs(INKS, paper, way)
    assert chart.lab.shape == (40, 40, 3)
    rng = np.random.default_rng(7)
    for below, above in [*rng.integers(0, 40, (25, 2)), (3, 3)]:
        inks: tuple[tuple[str, Ink], ...] = (("a", INKS[below]), ("b", INKS[above]))
        upper = "a" if below == above else "b"
        stack = (replace(way, parts=(("a", 1.0),), over=Over.DRY), replace(way, parts=((upper, 1.0),)))
        found = predict(Job(paper, inks, stack))
        # Places of patches are so many that they are worked out in single precision.
        close = 1e-3 if way.tool is Tool.DIP else 1e-6
        np.testing.assert_allclose(chart.lab[below, above], found.colour.lab, atol=close)
        assert chart.mud[below, above] == pytest.approx(found.verdict.mud, abs=10 * close)
        assert chart.kind_of(below, above) == found.verdict.kind


def test_an_empty_chart_and_one_ink() -> None:
    paper = Card(Colour(hex="#f8f7f4"))
    assert ordered_pairs([], paper, LayDown((), dose=1.0)).lab.shape == (0, 0, 3)
    assert ordered_pairs(INKS[:1], paper, LayDown((), dose=1.0)).kind_of(0, 0) == "clean"


def test_a_large_chart_in_single_precision_says_the_same() -> None:
    paper, way = Card(Colour(hex="#a8dcc0")), LayDown((), tool=Tool.FOAM, passes=4)
    small, large = ordered_pairs(INKS, paper, way), ordered_pairs([*INKS, *INKS[:10]], paper, way)
    np.testing.assert_allclose(large.lab[:40, :40], small.lab, atol=1e-3)
    np.testing.assert_allclose(large.mud[:40, :40], small.mud, atol=0.05)
    assert (large.kind[:40, :40] == small.kind).mean() > 0.999
