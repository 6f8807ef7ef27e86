"""Which ink next, against counting one by one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Job, LayDown
from wempa.craft.prediction.predict import predict
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.search.next_ink import NextInk, next_inks
from wempa.craft.vocabulary import Formula, Load
from wempa.craft.ways import first_touch
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as ContractInk
from wempa.optics import colorimetry as cm

BODIES = ink_bodies()
INKS = [ContractInk.model_validate(ink["body"]).to_core() for ink in BODIES]
PAPER, TABLE = Card(Colour(hex="#f8f7f4")), constants.AS_SHIPPED


def way(ink_formula: Formula) -> LayDown:
    return first_touch("x", ink_formula, Load.NORMAL, TABLE)


def found(places: list[int], thought_of: int) -> list[NextInk]:
    """The last `thought_of` of some inks of the demo, thought of by somebody who owns the others."""
    inks = [INKS[k] for k in places]
    chart = ordered_pairs(inks, PAPER, [way(ink.formula) for ink in inks])
    return next_inks(chart, range(len(inks) - thought_of), range(len(inks) - thought_of, len(inks)), TABLE)


def counted(places: list[int], thought_of: int) -> dict[int, tuple[int, float]]:
    """The same, each stack predicted by itself: new clean colours told apart, and the nearest of one's own."""

    def seen(*laid: int) -> tuple[np.ndarray, str]:
        stack = tuple(replace(way(INKS[k].formula), parts=((str(k), 1.0),)) for k in laid)
        told = predict(Job(PAPER, tuple((str(k), INKS[k]) for k in set(laid)), stack))
        return told.colour.lab, str(told.verdict.kind)

    owned, asked = places[:-thought_of], places[-thought_of:]
    made = [seen(k)[0] for k in owned]
    pairs = [seen(i, j) for i in owned for j in owned if i != j]
    made += [lab for lab, kind in pairs if kind != "muddy"]
    result = {}
    for at, ink in enumerate(asked, start=len(owned)):
        own = [(seen(ink)[0], "clean"), *(seen(ink, k) for k in owned), *(seen(k, ink) for k in owned)]
        new: list[np.ndarray] = []
        for lab, kind in own:
            near = min(float(cm.delta_e(lab, other)) for other in [*made, *new])
            if kind == "clean" and near > TABLE["next.new"]:
                new.append(lab)
        result[at] = (len(new), min(float(cm.delta_e(own[0][0], other)) for other in made))
    return result


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_it_is_what_counting_finds(seed: int) -> None:
    places = np.random.default_rng(seed).permutation(40)[:11].tolist()
    told = found(places, 4)
    one_by_one = counted(places, 4)
    assert {each.place for each in told} == set(one_by_one)
    for each in told:
        gain, apart = one_by_one[each.place]
        # Told apart by evened-out distance here and in full there.
        assert abs(each.gain - gain) <= max(1, 0.15 * gain), (each, gain)
        assert each.apart == pytest.approx(apart, abs=0.05)
    gains = [each.gain for each in told]
    assert gains == sorted(gains, reverse=True)
    assert max(gains) > 0


def test_an_ink_that_one_has_brings_nothing_and_its_own_like_is_named() -> None:
    (told,) = found([0, 5, 9, 5], 1)
    assert (told.gain, told.shown, told.like) == (0, (), (1, 1))
    assert told.apart == pytest.approx(0, abs=1e-3)


def test_who_owns_nothing_gains_the_ink_itself() -> None:
    told = found([3, 8], 2)
    assert [(each.gain, each.like, each.apart) for each in told] == [(1, None, float("inf"))] * 2
    assert told[0].shown == ((told[0].place, told[0].place),)


def test_what_is_shown_is_of_the_ink_and_differs() -> None:
    (best, *_) = found([0, 5, 9, 12, 2, 30], 3)
    assert 0 < len(best.shown) <= min(12, best.gain)
    assert all(best.place in cell for cell in best.shown)
