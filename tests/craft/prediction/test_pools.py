"""Who gives way where there is no room for all, by hand."""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations
from math import exp, log
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.craft.prediction.test_rows import laid, parts
from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, Swatch
from wempa.craft.prediction import pools
from wempa.craft.prediction.amounts import Ground, held
from wempa.craft.prediction.pools import Soaking
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve
from wempa.craft.prediction.settling import lay_in_numbers, settle, side_by_side
from wempa.craft.vocabulary import Formula, Over, Surface, Tool, Treatment

TABLE = dict(constants.AS_SHIPPED) | {"capacity.sealed": 2.0, "capacity.on_film": 6.0, "film.closes": 0.4}
FOAM: dict[str, Any] = {"tool": Tool.FOAM, "passes": 4.0}
SEALED = Ground(0.0, 0.0, 0.5)


def test_equals_give_way_alike_and_the_weaker_one_more() -> None:
    # Two of 2 in a room for 2: held(4, 2) = 1 + 3 / 82^(1/4), half of that each.
    fair = pools.fair_shares([2.0, 2.0], [1.0, 1.0], 2.0)
    assert fair == pytest.approx([(1 + 3 * 82**-0.25) / 4] * 2)
    # One gives way twice as readily: of it stays the square of what stays of the other.
    strong, weak = pools.fair_shares([2.0, 2.0], [1.0, 2.0], 2.0)
    assert weak == pytest.approx(strong**2)
    assert 2 * strong + 2 * weak == pytest.approx(1 + 3 * 82**-0.25)
    # How readily: a quarter of the colour, twice as readily; four times the ink behind it likewise.
    assert [pools.gives_way(k, a) for k, a in ((1.0, 1.0), (0.25, 1.0), (1.0, 4.0))] == pytest.approx([1, 2, 2])


def test_with_room_for_all_nobody_gives_way() -> None:
    half = [Soaking(0.5, 1.0, 0.0), Soaking(0.5, 3.0, 0.0)]
    assert pools.stays(half, SEALED, TABLE) == [1, 1]
    assert min(pools.stays([*half, Soaking(0.2, 1.0, 0.0)], SEALED, TABLE)) < 1


def test_a_film_between_keeps_apart_by_how_closed_it_is() -> None:
    assert [pools.closed(film, TABLE) for film in (0, 0.1, 0.2, 0.4, 2)] == pytest.approx([0, 0.15625, 0.5, 1, 1])
    # The room grows from the card's 2 to the film's 6.
    assert [pools.room(film, SEALED, TABLE) for film in (0, 0.2, 0.4)] == pytest.approx([2, 4, 6])
    low, high = Soaking(4.0, 1.0, 0.0), Soaking(2.0, 1.0, 0.4)
    below, above = pools.stays([low, high], SEALED, TABLE)
    assert below == pytest.approx(held(4.0, 2.0) / 4)
    assert above == 1
    # Half closed, half of the other counts in each one's pool: 4 + 1 in 2, and 2 + 2 in 4.
    below, above = pools.stays([low, replace(high, film=0.2)], SEALED, TABLE)
    assert below == pytest.approx(held(5.0, 2.0) / 5)
    assert above == pytest.approx(held(4.0, 4.0) / 4)


def test_without_exchange_the_first_come_is_held_first() -> None:
    both = [Soaking(2.0, 1.0, 0.0), Soaking(2.0, 1.0, 0.0)]
    first, later = pools.stays(both, replace(SEALED, exchange=0.0), TABLE)
    assert first == pytest.approx(held(2.0, 2.0) / 2)
    assert later == pytest.approx((held(4.0, 2.0) - held(2.0, 2.0)) / 2)
    half = pools.stays(both, replace(SEALED, exchange=0.5), TABLE)
    assert half == pytest.approx([(first + held(4.0, 2.0) / 4) / 2, (later + held(4.0, 2.0) / 4) / 2])


@given(
    offers=st.lists(st.floats(0.01, 5), min_size=1, max_size=5),
    seed=st.integers(0, 1000),
    full=st.floats(0.1, 10),
)
def test_shares_add_up_to_what_is_held_whatever_the_order(offers: list[float], seed: int, full: float) -> None:
    ways = np.random.default_rng(seed).uniform(0.2, 4, len(offers)).tolist()
    shares = pools.fair_shares(offers, ways, full)
    assert sum(o * s for o, s in zip(offers, shares, strict=True)) == pytest.approx(held(sum(offers), full))
    assert all(0 < share <= 1 for share in shares)
    other = pools.fair_shares(offers[::-1], ways[::-1], full)[::-1]
    assert other == pytest.approx(shares)
    # By arrays the same.
    arrays = pools.fair_shares([np.array([o, o]) for o in offers], [np.array([w, w]) for w in ways], full, np)
    assert [float(each[1]) for each in arrays] == pytest.approx(shares)


def test_dyes_by_hand_on_sealed_card_are_the_same_in_every_order() -> None:
    found = []
    for order in permutations(("dye", "reactive")):
        laid_parts = parts(*[laid(key, **FOAM) for key in order], surface=Surface.COATED)
        found.append({key: p.dose for key, p in zip(order, laid_parts, strict=True)})
    for key in ("dye", "reactive"):
        # What is left is that nearly all, and not all, stays on what has dried.
        assert found[0][key] == pytest.approx(found[1][key], rel=0.03)
        assert found[0][key] < 0.8 * parts(laid(key, **FOAM), surface=Surface.COATED)[0].dose
    # A stated dose takes part in nothing of this.
    stated = parts(laid("dye"), laid("reactive", **FOAM), surface=Surface.COATED)
    assert stated[0].dose == 1


def test_what_is_left_is_treated_and_blotting_frees_no_room() -> None:
    before = parts(laid("dye", **FOAM), laid("reactive", Over.WET, **FOAM), surface=Surface.COATED)
    after = parts(laid("dye", **FOAM), Treatment.BLOT, laid("reactive", Over.WET, **FOAM), surface=Surface.COATED)
    assert after[0].dose == pytest.approx(before[0].dose * constants.AS_SHIPPED["blot.dose"])
    assert after[1].dose == before[1].dose


def test_each_ink_alone_holds_all_that_it_is_given() -> None:
    job = Job(
        Card(Colour(hex="#f8f7f4"), Surface.COATED),
        (
            ("a", Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE)),
            ("b", Ink(Swatch(Colour(hex="#f0d040")), Formula.DYE)),
        ),
        (laid("a", tool=Tool.FOAM, passes=4.0), laid("b", tool=Tool.FOAM, passes=4.0)),
    )
    bench, table = prepare_job(job, ["a", "b"]), constants.AS_SHIPPED
    whole = resolve(job.stack, bench.lookup, bench.card.ground, table)[-1]
    assert whole.settled.crowded
    for k, key in enumerate("ab"):
        by_itself = resolve((job.stack[k],), bench.lookup, bench.card.ground, table)[-1].dry.parts[0]
        assert whole.inks[k] == bench.lookup[key][0]
        assert whole.alone[k].parts[0].dose == pytest.approx(by_itself.dose)
        assert whole.dry.parts[k].dose < 0.8 * by_itself.dose


@pytest.mark.parametrize("surface", [Surface.SMOOTH, Surface.GLOSSY])
@pytest.mark.parametrize("start", [(), ("dye",), ("white", "reactive")])
@pytest.mark.parametrize("wet", [False, True])
def test_amounts_of_many_at_once_are_those_of_each_stack(surface: Surface, start: tuple[str, ...], wet: bool) -> None:
    colours = {"dye": "#2456a6", "hybrid": "#f0704f", "white": "#ffffff", "reactive": "#7a3a6e"}
    formulas = dict(zip(colours, (Formula.DYE, Formula.HYBRID, Formula.PIGMENT, Formula.REACTIVE_DYE), strict=True))
    inks = tuple([(key, Ink(Swatch(Colour(hex=colour)), formulas[key])) for key, colour in colours.items()])
    job, table = Job(Card(Colour(hex="#f8f7f4"), surface), inks, ()), constants.AS_SHIPPED
    bench, ways = prepare_job(job, list(colours)), FOAM
    lookup, ground = bench.lookup, bench.card.ground
    below = tuple([laid(key, **ways) for key in start])
    lies = resolve(below, lookup, ground, table)[-1].laid
    keys, group = list(colours), len(start)
    hands = side_by_side([lay_in_numbers(laid(key, **FOAM), [lookup[key]], ground, table)[0] for key in keys])
    at = np.indices((4, 4)).reshape(2, -1)
    placed = [hands.of(at[0]).placed(group, group), hands.of(at[1]).placed(group + 1, group + (not wet))]
    many = settle([*lies, *placed], ground, table, xp=np)
    for row, (k, m) in enumerate(at.T.tolist()):
        stack = (*below, laid(keys[k], **FOAM), laid(keys[m], Over.WET if wet else Over.DRY, **FOAM))
        said = resolve(stack, lookup, ground, table)[-1].settled
        for part, own in zip(many.parts, said.parts, strict=True):
            for name in ("dose", "cover", "held"):
                assert np.broadcast_to(getattr(part, name), 16)[row] == pytest.approx(getattr(own, name)), name
        assert (many.meets.dose[row], many.meets.seal[row]) == pytest.approx((said.meets.dose, said.meets.seal))
        assert many.film[row] == pytest.approx(said.film)
        assert np.broadcast_to(many.crowded, 16)[row] == said.crowded


def test_the_shares_of_three_by_hand() -> None:
    """λ of offers 1, 1 and 2 with ways 1, 1 and 1 in a room for 2 is the log of what is offered to what is held."""
    shares = pools.fair_shares([1.0, 1.0, 2.0], [1.0, 1.0, 1.0], 2.0)
    much = log(4 / (1 + 3 * 82**-0.25))
    assert shares == pytest.approx([exp(-much)] * 3)
