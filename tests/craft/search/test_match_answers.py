"""Answers of a match: near, few inks first among equals, told with what prediction says."""

from __future__ import annotations

import numpy as np
import pytest

from tests.craft.search.stashes import reach, stash
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.search import match
from wempa.craft.search.match_answers import _in_order, best_answers, from_others, target_of
from wempa.craft.vocabulary import Formula, Tool
from wempa.optics import colorimetry as cm

BRUSHED = LayDown((("i0", 1.0),), tool=Tool.BRUSH, passes=3.0)


@pytest.mark.parametrize("thin", [False, True])
@pytest.mark.parametrize("start", [(), (BRUSHED,)])
def test_answers_are_what_prediction_gives(thin: bool, start: tuple[LayDown, ...]) -> None:
    found, target = reach(stash(21, 7), start=start), np.array([58.0, 22, 14])
    last = list(match.search(found, target))[-1]
    made = best_answers(found, target, last.found, thin=thin)
    assert 1 <= len(made) <= 6
    sets = [frozenset(one.inks) for one in made]
    assert len(set(sets)) == len(sets)
    for one in made:
        own = predict(one.job)
        assert one.job.stack == (*start, *one.added)
        assert one.delta_e == pytest.approx(float(cm.delta_e(own.colour.lab, target)))
        assert {key for key, _ in one.job.inks} == {*one.inks, *(["i0"] if start else [])}
    # Worked over by single passes, the best is no farther than the best of the few amounts.
    assert min(one.delta_e for one in made) <= last.best + 1e-6


def test_water_helps_where_a_pale_colour_is_wanted() -> None:
    """One strong ink and a pale target of its hue: thinned, it comes nearer."""
    strong = [("i0", Ink(swatch=Swatch(Colour(lab=(32.0, 30, -62))), formula=Formula.DYE, name="strong"))]
    found = reach(strong)
    target = predict(Job(found.job.cardstock, tuple(strong), (LayDown((("i0", 1.0),), dose=0.04),))).colour.lab
    last = list(match.search(found, target))[-1]
    dry, wet = (best_answers(found, target, last.found, thin=thin)[0] for thin in (False, True))
    assert wet.delta_e < dry.delta_e - 0.3
    assert wet.added[0].dilution > 0


def test_of_equals_the_one_with_fewer_inks_comes_first() -> None:
    several = [(0.4, 3, "three"), (1.2, 1, "one"), (1.3, 2, "two"), (2.6, 1, "far"), (2.0, 2, "middling")]
    assert _in_order(several, 1.0) == ["one", "two", "three", "far", "middling"]
    assert _in_order(several, 0.0) == ["three", "one", "two", "middling", "far"]


def test_target_of_an_ink_is_its_swatch_on_white_and_not_on_mint() -> None:
    ink = stash(3, 1)[0][1]
    white, mint = (target_of(ink, Job(Card(Colour(hex=code)))) for code in ("#f8f7f4", "#a8dcc0"))
    own = predict(Job(Card(Colour(hex="#f8f7f4")), (("x", ink),), (LayDown((("x", 1.0),), dose=1.0),))).colour.lab
    assert float(cm.delta_e(white, own)) < 1e-9
    assert float(cm.delta_e(white, mint)) > 2


def test_reserve_of_an_ink_leaves_that_ink_out() -> None:
    """Of two inks of one colour each stands in for the other; one alone has no stand-in."""
    twins = [(key, stash(4, 1)[0][1]) for key in ("a", "b")]
    found = reach(twins)
    one = from_others(found, twins[0][1], "a")
    assert one.answer is not None
    assert one.answer.inks == ("b",)
    assert one.made
    assert one.bound <= one.answer.delta_e < 1.5
    alone = from_others(reach(twins[:1]), twins[0][1], "a")
    assert alone.answer is None
    assert not alone.made
