"""How an ink is first put on, lighter and deeper, and white under everything."""

from __future__ import annotations

from dataclasses import replace

import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Stash, Swatch
from wempa.craft.limits import MAX_INKS, MAX_STACK
from wempa.craft.vocabulary import Formula, Load, Tool, Treatment
from wempa.craft.ways import first_touch, is_white, lighter_hand, owned_white, plain_key, three_hands, with_barrier

TABLE = constants.AS_SHIPPED
BLUE = Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE, name="Boiler Blue")
WHITE = Ink(Swatch(Colour(hex="#ffffff")), Formula.PIGMENT, name="Steam White")
CREAM = Ink(Swatch(Colour(hex="#f0e4c4")), Formula.PIGMENT, name="Cream Teapot")
LAID = LayDown((("blue", 1.0),), tool=Tool.FOAM, passes=5.0, load=Load.JUICY)


def job(*entries: LayDown | Treatment, inks: tuple[tuple[str, Ink], ...] = (("blue", BLUE),), **more: object) -> Job:
    return replace(Job(Card(Colour(hex="#f8f7f4")), inks, tuple(entries)), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize("formula", list(Formula))
def test_what_soaks_in_is_brushed_and_films_are_dabbed_with_foam(formula: Formula) -> None:
    soaks = formula in (Formula.DYE, Formula.REACTIVE_DYE, Formula.FLUORESCENT)
    touch = first_touch("k", formula, Load.LIGHT, TABLE)
    assert touch == LayDown((("k", 1.0),), tool=Tool.BRUSH if soaks else Tool.FOAM, load=Load.LIGHT,
                            passes=6 if soaks else 4)  # fmt: skip


def test_three_hands_go_from_light_to_deep_in_whole_passes() -> None:
    light, plain, deep = three_hands("k", Formula.DYE, Load.NORMAL, TABLE)
    assert (light.passes, plain.passes, deep.passes) == (3, 6, 14)
    assert (light.load, plain.load, deep.load) == (Load.LIGHT, Load.NORMAL, Load.NORMAL)
    # There is nothing lighter than a blotted pad.
    assert three_hands("k", Formula.DYE, Load.BLOTTED, TABLE)[0].load is Load.BLOTTED


@pytest.mark.parametrize(("passes", "share", "left"), [(5, 0.4, 2), (1, 0.4, 1), (2, 0.1, 1), (0.5, 0.9, 0.5)])
def test_a_lighter_hand_takes_fewer_passes_from_a_light_pad(passes: float, share: float, left: float) -> None:
    lighter = lighter_hand(replace(LAID, passes=passes), share)
    assert (lighter.passes, lighter.load) == (left, Load.LIGHT)


def test_a_lighter_hand_never_goes_back_to_a_fuller_pad_and_takes_less_of_a_dose() -> None:
    assert lighter_hand(replace(LAID, load=Load.BLOTTED), 0.5).load is Load.BLOTTED
    dosed = LayDown((("blue", 1.0),), dose=1.5)
    lighter = lighter_hand(dosed, 0.4)
    assert lighter.dose == pytest.approx(0.6)
    assert replace(lighter, dose=1.5) == dosed


def test_white_is_a_light_pigment_and_no_pale_dye() -> None:
    least = constants.TABLE["barrier.white"].value
    assert is_white(Formula.PIGMENT, least + 0.1, TABLE)
    assert not is_white(Formula.PIGMENT, least, TABLE)
    assert not is_white(Formula.DYE, 99, TABLE)


def test_the_white_at_hand_is_found_in_the_job_first_then_in_the_stash() -> None:
    stash = Stash((("9", WHITE),))
    assert owned_white(job(LAID, stash=stash)) == ("9", WHITE)
    own = replace(WHITE, name="Own White")
    assert owned_white(job(LAID, inks=(("blue", BLUE), ("w", own)), stash=stash)) == ("w", own)
    assert owned_white(job(LAID, stash=Stash((("8", CREAM), ("7", BLUE))))) is None


def test_a_barrier_is_brushed_thinly_under_everything() -> None:
    made = with_barrier(job(LAID), "9", WHITE)
    assert made is not None
    assert made.stack == (LayDown((("9", 1.0),), tool=Tool.BRUSH, load=Load.NORMAL, passes=6), LAID)
    assert dict(made.inks) == {"blue": BLUE, "9": WHITE}
    fewer = with_barrier(job(LAID, constants=(("barrier.passes", 2.0),)), "9", WHITE)
    assert fewer is not None
    assert isinstance(fewer.stack[0], LayDown)
    assert fewer.stack[0].passes == 2


def test_another_ink_by_the_same_key_stays_what_it_is() -> None:
    made = with_barrier(job(LAID), "blue", WHITE)
    assert made is not None
    assert dict(made.inks) == {"blue": BLUE, "barrier-blue": WHITE}
    assert plain_key("barrier-blue") == plain_key("blue") == "blue"


def test_no_barrier_where_it_lies_already_or_there_is_no_room() -> None:
    with_white = (("blue", BLUE), ("9", WHITE))
    below = LayDown((("blue", 1.0), ("9", 1.0)))
    assert with_barrier(job(below, LAID, inks=with_white), "9", WHITE) is None
    assert with_barrier(job(LAID, below, inks=with_white), "9", WHITE) is not None
    assert with_barrier(job(*[LAID] * MAX_STACK), "9", WHITE) is None
    many = tuple((f"k{n}", BLUE) for n in range(MAX_INKS))
    assert with_barrier(job(inks=many), "9", WHITE) is None
    assert with_barrier(job(inks=(*many[1:], ("9", WHITE))), "9", WHITE) is not None
