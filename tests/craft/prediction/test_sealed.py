"""What a topcoat seals, what a premix does not know, what a light hand leaves on sealed card."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.craft.prediction.test_pins import JOB, lay
from wempa.craft.job import Card, Colour, Entry, LayDown
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Formula, Surface, Tool, Treatment
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

GLAZE, WATER = Treatment.GLAZE, Treatment.SPRITZ


def seen(*stack: Entry, card: Card = JOB.cardstock) -> Floats:
    return predict(replace(JOB, cardstock=card, stack=stack)).colour.lab


def apart(one: Floats, other: Floats) -> float:
    return float(cm.delta_e(one, other))


@pytest.mark.parametrize("key", ["blue", "coral"])
def test_a_topcoat_works_once(key: str) -> None:
    plain, once = seen(lay(key)), seen(lay(key), GLAZE)
    assert apart(plain, once) > 0.5
    assert apart(once, seen(lay(key), *[GLAZE] * 5)) < 1e-9
    # What is laid over it and coated is coated for the first time.
    over, coated = seen(lay(key), GLAZE, lay("coral")), seen(lay(key), GLAZE, lay("coral"), GLAZE)
    assert apart(over, coated) > 0.2


@pytest.mark.parametrize("key", ["blue", "coral"])
def test_water_lifts_nothing_below_a_topcoat_and_what_lies_over_it_as_ever(key: str) -> None:
    def drops(*stack: Entry) -> Floats | None:
        found = predict(replace(JOB, stack=stack)).drops
        return None if found is None else found.lab

    plain = drops(lay(key), WATER)
    assert plain is not None
    assert apart(plain, seen(lay(key), WATER)) > 0.5
    assert drops(lay(key), GLAZE, WATER) is None
    assert apart(seen(lay(key), GLAZE), seen(lay(key), GLAZE, WATER)) < 1e-9
    # Water that was there before stays.
    before = drops(lay(key), WATER, GLAZE)
    assert before is not None
    assert apart(before, seen(lay(key), WATER, GLAZE)) > 0.3
    above = drops(lay(key), GLAZE, lay("blue"), WATER)
    assert above is not None
    assert apart(above, seen(lay(key), GLAZE, lay("blue"), WATER)) > 0.3


@pytest.mark.parametrize("dose", [None, 0.8])
def test_a_premix_does_not_know_in_which_order_it_was_mixed(dose: float | None) -> None:
    tool = None if dose is not None else Tool.FOAM
    for share in (0.2, 0.5, 0.8):
        parts = (("blue", share), ("coral", 1 - share))
        one, other = (seen(LayDown(order, dose=dose, tool=tool, passes=4.0)) for order in (parts, parts[::-1]))
        assert apart(one, other) < 0.05


def test_a_dye_in_a_premix_is_held_up_by_the_film_beside_it() -> None:
    """So it lies in the film; where it was laid first it lies in the card below."""
    mixed = predict(replace(JOB, stack=(LayDown((("blue", 0.5), ("coral", 0.5)), dose=1.0),)))
    inks = tuple((key, replace(ink, formula=Formula.DYE)) for key, ink in JOB.inks)
    without = predict(replace(JOB, inks=inks, stack=(LayDown((("blue", 0.5), ("coral", 0.5)), dose=1.0),)))
    assert apart(mixed.colour.lab, without.colour.lab) > 1


@pytest.mark.parametrize("tool", [Tool.BRUSH, Tool.FOAM])
def test_a_light_coat_rubbed_on_sealed_card_is_no_deeper_than_on_smooth(tool: Tool) -> None:
    cards = [Card(Colour(hex="#f8f7f4"), surface) for surface in (Surface.SMOOTH, Surface.COATED)]
    smooth, coated = (seen(lay("blue", tool, 3.0), card=card) for card in cards)
    assert coated[0] > smooth[0] - 5
    # A print is about as deep there as on smooth card.
    prints = [seen(lay("blue", Tool.STAMP, 1.0), card=card) for card in cards]
    assert abs(prints[0][0] - prints[1][0]) < 8
