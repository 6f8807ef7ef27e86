"""What a card does to each ink by itself: as prediction has it, the worst first."""

from __future__ import annotations

from dataclasses import replace

import pytest

from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.search.each_alone import each_alone
from wempa.craft.vocabulary import Formula, Tool, VerdictKind
from wempa.optics import colorimetry as cm

INKS = {
    "coral": Ink(Swatch(Colour(hex="#f27560")), Formula.DYE, "Coral"),
    "blue": Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE, "Blue"),
    "paint": Ink(Swatch(Colour(hex="#c5312f")), Formula.PIGMENT, "Paint"),
    "green": Ink(Swatch(Colour(hex="#3f9a4e")), Formula.DYE, "Green"),
}
LAYS = [LayDown(((key, 1.0),), tool=Tool.BRUSH, passes=6.0) for key in INKS]
MINT = Card(Colour(hex="#a8dcc0"))


def test_each_is_its_own_prediction_on_both_cards_the_worst_first() -> None:
    job = Job(MINT, tuple(INKS.items()))
    found = each_alone(job, LAYS)
    for k, lay in enumerate(LAYS):
        here = predict(replace(job, stack=(lay,)))
        there = predict(replace(job, stack=(lay,), cardstock=replace(MINT, colour=Colour(hex="#f8f7f4"))))
        assert float(cm.delta_e(found.lab[k], here.colour.lab)) < 0.05
        assert float(cm.delta_e(found.white[k], there.colour.lab)) < 0.05
        assert found.mud[k] == pytest.approx(here.verdict.mud, abs=0.5)
        assert found.kinds[k] is here.verdict.kind
    assert found.kinds[0] is VerdictKind.MUDDY
    names = [list(INKS)[k] for k in found.order]
    assert names[0] == "coral"
    assert names.index("blue") < names.index("green")


def test_on_white_card_nothing_is_spoilt() -> None:
    found = each_alone(Job(Card(Colour(hex="#f8f7f4")), tuple(INKS.items())), LAYS)
    assert set(found.kinds) == {VerdictKind.CLEAN}
    assert float(cm.delta_e(found.lab, found.white).max()) < 0.01
