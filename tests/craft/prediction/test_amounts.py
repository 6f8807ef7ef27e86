"""How much of what a tool gives stays on the card, by hand."""

from __future__ import annotations

from math import exp

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.prediction import amounts
from wempa.craft.prediction.amounts import BARE, Dried, Ground, Habit
from wempa.craft.vocabulary import Load, Tool

TABLE = dict(constants.AS_SHIPPED)
SMOOTH, THIRSTY = Ground(0.0, 0.0, 0.5), Ground(1.0, 1.0, 0.2)
DYE, FILM, BETWEEN = Habit(0.0, 1.0, 1.0), Habit(1.0, 1.0, 1.0), Habit(0.25, 2.0, 0.5)


def test_a_card_holds_dye_by_how_much_it_soaks_up() -> None:
    sealed, thirsty = TABLE["capacity.sealed"], TABLE["capacity.thirsty"]
    assert amounts.card_capacity(SMOOTH, TABLE) == sealed
    assert amounts.card_capacity(THIRSTY, TABLE) == thirsty
    # Smooth card: a quarter of the way.
    assert amounts.card_capacity(Ground(0, 0.5, 0), TABLE) == pytest.approx(0.75 * sealed + 0.25 * thirsty)


def test_the_same_amount_is_more_colour_on_sealed_card_for_what_soaks() -> None:
    most, soaks = TABLE["yield.sealed"], TABLE["yield.soaks"]
    gives = [amounts.colour_yield(Ground(0, each, 0), DYE, Tool.PAD, TABLE) for each in (0, soaks / 2, soaks, 1)]
    assert gives == pytest.approx([most, (1 + most) / 2, 1, 1])
    assert amounts.colour_yield(SMOOTH, FILM, Tool.PAD, TABLE) == 1
    assert amounts.colour_yield(SMOOTH, BETWEEN, Tool.PAD, TABLE) == pytest.approx((1 + most) / 2)
    # A tool that rubs takes up again what the card does not drink.
    rubbed = {**TABLE, "yield.rubbed": 1.2}
    sealed = Ground(0, 0, 0)
    assert [amounts.colour_yield(sealed, DYE, tool, rubbed) for tool in (Tool.BRUSH, Tool.FOAM)] == [1.2, 1.2]
    assert amounts.colour_yield(sealed, DYE, Tool.STAMP, rubbed) == most


def test_a_tool_offers_by_its_amount_load_passes_and_the_inks_strength() -> None:
    one = amounts.offered(Tool.FOAM, Load.NORMAL, 1, DYE, TABLE)
    assert one == pytest.approx(TABLE["tool.foam.amount"] * TABLE["load.normal"])
    assert amounts.offered(Tool.FOAM, Load.NORMAL, 3, DYE, TABLE) == pytest.approx(3 * one)
    assert amounts.offered(Tool.FOAM, Load.NORMAL, 3, BETWEEN, TABLE) == pytest.approx(6 * one)
    juicy = amounts.offered(Tool.FOAM, Load.JUICY, 1, DYE, TABLE)
    assert juicy == pytest.approx(one * TABLE["load.juicy"] / TABLE["load.normal"])


def test_all_stays_up_to_half_full_and_next_to_nothing_more_when_full() -> None:
    assert [amounts.held(each, 2.0) for each in (0.0, 0.3, 1.0)] == [0, 0.3, 1]
    # As much again as half: 1 + 2^(-1/4). Ten times that: within a millionth of the whole.
    assert amounts.held(2.0, 2.0) == pytest.approx(1 + 2**-0.25)
    assert amounts.held(1.5, 2.0) == pytest.approx(1 + 0.5 * 1.0625**-0.25)
    assert amounts.held(50.0, 2.0) == pytest.approx(2, abs=1e-6)
    # By arrays the same.
    assert amounts.held(np.array([0.3, 2.0]), 2.0, np).tolist() == pytest.approx([0.3, 1 + 2**-0.25])
    # A film: 0.5 offered to 1 stays, of 1.5 stays 0.5 + 0.5 · 2 / 17^(1/4).
    table = TABLE | {"capacity.film": 1.0}
    assert amounts.film_stays(0.0, table) == amounts.film_stays(0.5, table) == 1
    assert amounts.film_stays(1.5, table) == pytest.approx((0.5 + 17**-0.25) / 1.5)


def test_what_lies_there_takes_the_place_of_the_cards_own_take_up() -> None:
    usual = TABLE["takeup.strength"]
    assert BARE.takes(SMOOTH, usual, TABLE) == 1
    dye = BARE.after(1.0, 0.0)
    assert dye.takes(SMOOTH, usual, TABLE) == pytest.approx(0.5)
    half = BARE.after(0.5, 0.0)
    assert half.takes(SMOOTH, usual, TABLE) == pytest.approx(0.75)
    pigment = BARE.after(1.0, 1.0)
    assert pigment.takes(SMOOTH, usual, TABLE) == pytest.approx(TABLE["takeup.pigment"])
    # A dye over pigment leaves half of the pigment's own where it is half as much; on one and a half there is
    # room for half of what two miss more.
    both = pigment.after(0.5, 0.0)
    assert both == Dried(1.5, 0.5)
    misses = 1 - (0.5 + (TABLE["takeup.pigment"] - 0.5) / 2)
    assert both.takes(SMOOTH, usual, TABLE) == pytest.approx(1 - misses * (1 + (TABLE["takeup.third"] - 1) / 2))
    # Of an ink four times as strong half as much is missing; of one a hundred times as weak no more than the most.
    assert dye.takes(SMOOTH, 4 * usual, TABLE) == pytest.approx(0.75)
    assert dye.takes(SMOOTH, usual / 100, TABLE) == pytest.approx(1 - 0.5 * TABLE["takeup.weak_most"])
    # By hand nearly all stays, whatever the card.
    assert BARE.takes_by_tool(TABLE) == 1
    assert [each.takes_by_tool(TABLE) for each in (half, dye, both)] == pytest.approx([0.985, 0.97, 0.97])


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
