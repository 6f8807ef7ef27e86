"""Chalk and milk: a hybrid clouds over on gloss, a topcoat and water take that back; and two pads of one colour."""

from __future__ import annotations

from dataclasses import replace
from math import exp

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, MadeWith, Swatch
from wempa.craft.prediction.amounts import Ground
from wempa.craft.prediction.chalk import chalk_of, dried_chalk, void_scatter
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job, swatch_lab
from wempa.craft.prediction.rows import resolve
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.search.pairs import PairSpace
from wempa.craft.vocabulary import Formula, Look, Over, Surface, Tool, Treatment
from wempa.optics import colorimetry as cm

TABLE = constants.AS_SHIPPED
GLOSS = Card(Colour(hex="#f8f7f4"), Surface.GLOSSY)
SMOOTH = replace(GLOSS, surface=Surface.SMOOTH)
INKS = {
    "blue": Ink(Swatch(Colour(hex="#2456a6")), Formula.HYBRID, "Blue"),
    "rust": Ink(Swatch(Colour(hex="#b8502c")), Formula.HYBRID, "Rust"),
    "dye": Ink(Swatch(Colour(hex="#7a3a6e")), Formula.DYE, "Dye"),
    "paint": Ink(Swatch(Colour(hex="#2f9a55")), Formula.PIGMENT, "Paint"),
    "odd": Ink(Swatch(Colour(hex="#e0c040")), Formula.UNKNOWN, "Odd"),
}


def foam(key: str, passes: float = 4.0, over: Over = Over.DRY) -> LayDown:
    return LayDown(((key, 1.0),), tool=Tool.FOAM, passes=passes, over=over)


def job(card: Card, *stack: LayDown | Treatment, look: Look = Look.DRY) -> Job:
    return Job(card, tuple(INKS.items()), stack, look=look)


def apart(one: Job, other: Job) -> float:
    return float(cm.delta_e(predict(one).colour.lab, predict(other).colour.lab))


def test_voids_by_hand() -> None:
    ink = {"hiding": 0.3, "chalk": 7.0}
    assert void_scatter(ink, 7.0) == pytest.approx(6 * 0.3 / 0.7)
    assert void_scatter(ink, 1.0) == 0
    gloss, smooth = (prepare_job(Job(card, ()), []).card.ground for card in (GLOSS, SMOOTH))
    sealed = 1 - gloss.absorbency / TABLE["yield.soaks"]
    assert dried_chalk(ink, gloss, TABLE) == pytest.approx(6 * 0.3 / 0.7 * sealed)
    assert dried_chalk(ink, smooth, TABLE) == 0
    # It stops growing about at 0.6 of an impression.
    assert chalk_of(0.6, 2.0, TABLE) == pytest.approx(2 * 0.6 * (1 - exp(-1)))
    assert chalk_of(30.0, 2.0, TABLE) == pytest.approx(1.2)
    assert chalk_of(0.0, 2.0, TABLE) == 0


@pytest.mark.parametrize("key", ["blue", "rust"])
def test_a_hybrid_clouds_over_on_gloss_and_a_topcoat_brings_it_back(key: str) -> None:
    wet, dry = job(GLOSS, foam(key), look=Look.WET), job(GLOSS, foam(key))
    glazed = job(GLOSS, foam(key), Treatment.GLAZE)
    assert apart(wet, dry) > 5
    assert apart(wet, glazed) < 0.6 * apart(wet, dry)
    # What is laid on the topcoat is chalky again.
    over = job(GLOSS, foam("rust"), Treatment.GLAZE, foam("blue"))
    parts = resolve(over.stack, prepare_job(over, list(INKS)).lookup, _ground(over), TABLE)[-1].dry.parts
    assert parts[0].chalk == 0 < parts[1].chalk


def _ground(made: Job) -> Ground:
    return prepare_job(made, []).card.ground


@pytest.mark.parametrize("key", ["dye", "paint"])
def test_dyes_and_pigments_do_not(key: str) -> None:
    made = job(GLOSS, foam(key))
    parts = resolve(made.stack, prepare_job(made, list(INKS)).lookup, _ground(made), TABLE)[-1].dry.parts
    assert [part.chalk for part in parts] == [0]


def test_on_card_that_drinks_nothing_is_chalky() -> None:
    made = job(SMOOTH, foam("blue"), foam("rust"))
    parts = resolve(made.stack, prepare_job(made, list(INKS)).lookup, _ground(made), TABLE)[-1].dry.parts
    assert [part.chalk for part in parts] == [0, 0]


def test_a_swatch_made_on_gloss_comes_back_there_and_is_brighter_on_smooth_card() -> None:
    way = MadeWith(Tool.FOAM, passes=4.0)
    ink = Ink(Swatch(Colour(hex="#6f86b4"), card=GLOSS, made_with=way), Formula.HYBRID, "Made on gloss")
    there = Job(GLOSS, (("a", ink),), (foam("a"),))
    assert float(cm.delta_e(predict(there).colour.lab, swatch_lab(ink, there))) < 0.3
    found = predict(replace(there, cardstock=SMOOTH)).colour.lab
    seen = predict(there).colour.lab
    assert np.hypot(*found[1:]) > np.hypot(*seen[1:]) + 5


def test_a_drop_on_a_deep_hybrid_dries_milky() -> None:
    made = job(SMOOTH, foam("blue", 8.0), Treatment.SPRITZ)
    found = predict(made)
    assert found.drops is not None
    lighter = found.drops.lab[0] - found.colour.lab[0]
    assert lighter > 8
    # Water under a topcoat moves nothing, and twice the water is no more milk than once.
    assert predict(job(SMOOTH, foam("blue", 8.0), Treatment.GLAZE, Treatment.SPRITZ)).drops is None
    lookup = prepare_job(made, list(INKS)).lookup
    drops = []
    for stack in (made.stack, (*made.stack, Treatment.SPRITZ)):
        whole = resolve(stack, lookup, _ground(made), TABLE)[-1]
        assert whole.drops is not None
        drops.append(whole.drops.parts[0].chalk)
    assert drops[1] <= drops[0]


@pytest.mark.parametrize("over", [Over.DRY, Over.WET])
def test_a_chart_and_a_search_on_gloss_are_what_prediction_gives(over: Over) -> None:
    way = LayDown((), tool=Tool.FOAM, passes=4.0, over=over)
    chart = ordered_pairs(list(INKS.values()), GLOSS, way)
    keys = list(INKS)
    for i, below in enumerate(keys):
        for k, above in enumerate(keys):
            if i == k:
                continue
            found = predict(job(GLOSS, foam(below), foam(above, over=over)))
            assert float(cm.delta_e(chart.lab[i, k], found.colour.lab)) < 0.05, (below, above)
            assert chart.mud[i, k] == pytest.approx(found.verdict.mud, abs=0.5), (below, above)
    space = PairSpace(job(GLOSS), [foam(key) for key in keys])
    pairs = space.pairs
    for row in range(0, len(pairs.below), 3):
        a, b = keys[pairs.below[row]], keys[pairs.above[row]]
        stack = (foam(a), foam(b, over=Over.WET if pairs.wet[row] else Over.DRY))
        assert float(cm.delta_e(pairs.lab[row], predict(job(GLOSS, *stack)).colour.lab)) < 0.05, (a, b)


@pytest.mark.parametrize("formula", [Formula.DYE, Formula.HYBRID, Formula.REACTIVE_PIGMENT])
def test_two_pads_of_one_colour_are_one_ink(formula: Formula) -> None:
    """A dark ink lowers the floor of its card; so do two pads of it in a premix, by as much and not by less."""
    ink = Ink(Swatch(Colour(hex="#281c2c")), formula, "Night")
    other = replace(ink, name="Night again")
    inks = (("a", ink), ("b", other))
    alone = predict(Job(SMOOTH, inks, (foam("a"),)))
    mixed = predict(Job(SMOOTH, inks, (replace(foam("a"), parts=(("a", 0.55), ("b", 0.45))),)))
    assert float(cm.delta_e(alone.colour.lab, mixed.colour.lab)) < 0.05
    assert mixed.verdict.mud == alone.verdict.mud == 0
