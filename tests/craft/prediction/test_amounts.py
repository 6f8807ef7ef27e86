"""How much of what a tool gives stays on the card, by hand."""

from __future__ import annotations

from math import exp

import pytest

from wempa.craft import constants
from wempa.craft.prediction import amounts
from wempa.craft.prediction.amounts import BARE, Dried, Ground, Habit
from wempa.craft.vocabulary import Load, Tool

TABLE = dict(constants.values())
SMOOTH, THIRSTY = Ground(0.0, 0.0, 0.5), Ground(1.0, 1.0, 0.2)
DYE, FILM, BETWEEN = Habit(0.0, 1.0, 1.0), Habit(1.0, 1.0, 1.0), Habit(0.25, 2.0, 0.5)


def test_a_card_holds_dye_by_how_much_it_soaks_up_and_a_film_alike_on_any() -> None:
    sealed, thirsty, film = TABLE["capacity.sealed"], TABLE["capacity.thirsty"], TABLE["capacity.film"]
    assert amounts.capacity(SMOOTH, DYE, TABLE) == sealed
    assert amounts.capacity(THIRSTY, DYE, TABLE) == thirsty
    assert amounts.capacity(Ground(0, 0.5, 0), DYE, TABLE) == pytest.approx((sealed + thirsty) / 2)
    assert amounts.capacity(SMOOTH, FILM, TABLE) == amounts.capacity(THIRSTY, FILM, TABLE) == film
    assert amounts.capacity(SMOOTH, BETWEEN, TABLE) == pytest.approx(0.75 * sealed + 0.25 * film)


def test_a_tool_offers_by_its_amount_load_passes_and_the_inks_strength() -> None:
    one = amounts.offered(Tool.FOAM, Load.NORMAL, 1, DYE, TABLE)
    assert one == pytest.approx(TABLE["tool.foam.amount"] * TABLE["load.normal"])
    assert amounts.offered(Tool.FOAM, Load.NORMAL, 3, DYE, TABLE) == pytest.approx(3 * one)
    assert amounts.offered(Tool.FOAM, Load.NORMAL, 3, BETWEEN, TABLE) == pytest.approx(6 * one)
    juicy = amounts.offered(Tool.FOAM, Load.JUICY, 1, DYE, TABLE)
    assert juicy == pytest.approx(one * TABLE["load.juicy"] / TABLE["load.normal"])


def test_what_stays_runs_full_and_two_halves_stay_as_one_whole() -> None:
    assert amounts.accepted(0.5, 0.0, 2.0) == pytest.approx(2 * (1 - exp(-0.25)))
    assert amounts.accepted(50.0, 0.0, 2.0) == pytest.approx(2)
    halves = amounts.accepted(0.5, 0.0, 2.0) + amounts.accepted(0.5, 0.5, 2.0)
    assert halves == pytest.approx(amounts.accepted(1.0, 0.0, 2.0))


def test_what_lies_there_takes_the_place_of_the_cards_own_take_up() -> None:
    assert BARE.takes(SMOOTH, TABLE) == 1
    dye = BARE.after(1.0, 1.0, 0.0)
    assert dye.takes(SMOOTH, TABLE) == pytest.approx(0.5)
    half = BARE.after(1.0, 0.5, 0.0)
    assert half.takes(SMOOTH, TABLE) == pytest.approx(0.75)
    pigment = BARE.after(1.0, 1.0, 1.0)
    assert pigment.takes(SMOOTH, TABLE) == pytest.approx(TABLE["takeup.pigment"])
    # A dye over pigment leaves half of the pigment's own where it is half as much.
    both = pigment.after(1.0, 0.5, 0.0)
    assert both == Dried(2.0, 1.5, 0.5)
    assert both.takes(SMOOTH, TABLE) == pytest.approx(0.5 + (TABLE["takeup.pigment"] - 0.5) / 2)


def test_a_wet_film_holds_up_a_dye_and_a_hybrids_dye_is_bound() -> None:
    scale = TABLE["held.scale"]
    assert amounts.held_up(0.0, TABLE) == 0
    assert amounts.held_up(scale, TABLE) == pytest.approx(1 - exp(-1))
    assert [amounts.free_share(Habit(share, 1, 1)) for share in (0, 0.25, 0.5, 1)] == [1, 0.5, 0, 0]


def test_cover_grows_with_passes_and_suffers_from_texture_and_a_dry_pad() -> None:
    cover = TABLE["tool.brush.cover"]
    assert amounts.covered(Tool.BRUSH, Load.NORMAL, 1, SMOOTH, DYE, TABLE) == pytest.approx(cover)
    assert amounts.covered(Tool.BRUSH, Load.NORMAL, 2, SMOOTH, DYE, TABLE) == pytest.approx(1 - (1 - cover) ** 2)
    rough = cover * max(0.05, 1 - TABLE["cover.texture"])
    assert amounts.covered(Tool.BRUSH, Load.NORMAL, 1, THIRSTY, DYE, TABLE) == pytest.approx(rough)
    half = cover * max(0.05, 1 - TABLE["cover.texture"] / 2)
    assert amounts.covered(Tool.BRUSH, Load.NORMAL, 1, THIRSTY, BETWEEN, TABLE) == pytest.approx(half)
    dry = cover * TABLE["load.blotted"] ** TABLE["cover.load"]
    assert amounts.covered(Tool.BRUSH, Load.BLOTTED, 1, SMOOTH, DYE, TABLE) == pytest.approx(dry)
    # A juicy pad covers no more than a good one.
    assert amounts.covered(Tool.BRUSH, Load.JUICY, 1, SMOOTH, DYE, TABLE) == pytest.approx(cover)
