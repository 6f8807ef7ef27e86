"""What is asked before inks go onto the shelf."""

from __future__ import annotations

from wempa.craft import constants
from wempa.craft.stash.doubts import Asked, EnteredInk, doubts_of
from wempa.craft.vocabulary import Doubt, Formula

TABLE = constants.AS_SHIPPED
BLUE = (40.0, 5.0, -40.0)


def entry(
    name: str, lab: tuple[float, float, float] = BLUE, formula: Formula = Formula.DYE, **more: float
) -> EnteredInk:
    return EnteredInk(name, "Footplate", formula, lab, more.get("spread", 2.6))


def asked(new: list[EnteredInk], shelved: list[EnteredInk] | None = None) -> list[tuple[int, Doubt]]:
    return [(each.at, each.doubt) for each in doubts_of(new, shelved or [], TABLE)]


def test_nothing_is_asked_of_inks_that_differ() -> None:
    assert asked([entry("Boiler Blue"), entry("Gorse Bank", (80, 5, 80))]) == []
    assert asked([]) == []


def test_one_name_twice_in_a_range_and_one_that_is_there_already() -> None:
    twice = [entry("Boiler Blue"), entry("boiler blue ", (80, 0, 0))]
    assert asked(twice) == [(1, Doubt.TWICE)]
    assert asked([entry("Boiler Blue")], [entry("BOILER BLUE", (80, 0, 0))]) == [(0, Doubt.OWNED)]
    # Of another range it is another ink.
    other = EnteredInk("Boiler Blue", "Ballast", Formula.DYE, (80, 0, 0), 1)
    assert asked([entry("Boiler Blue")], [other]) == []


def test_twins_are_of_one_formula_and_look_alike() -> None:
    near = (BLUE[0] + 1.5, BLUE[1], BLUE[2])
    assert asked([entry("One"), entry("Two", near)]) == [(1, Doubt.ALIKE)]
    assert asked([entry("One"), entry("Two", near, Formula.HYBRID)]) == []
    assert asked([entry("One"), entry("Two", (BLUE[0] + 4, *BLUE[1:]))]) == []
    told = doubts_of([entry("Two", near)], [entry("One")], TABLE)
    assert told == [
        Asked(0, Doubt.ALIKE, "One (Footplate)", "Two (Footplate) looks just like One (Footplate): is it the same ink?")
    ]
    # What is one by its name is not asked about by its look as well.
    assert asked([entry("One"), entry("One")]) == [(1, Doubt.TWICE)]


def test_an_unknown_formula_and_a_rough_colour_are_asked_about_last() -> None:
    new = [entry("One", formula=Formula.UNKNOWN, spread=14.6), entry("Two", (80, 0, 0)), entry("two", (20, 0, 0))]
    assert asked(new) == [(2, Doubt.TWICE), (0, Doubt.FORMULA), (0, Doubt.COLOUR)]
    assert asked([entry("One", spread=TABLE["entry.rough"])]) == []
