"""Changes of a stack as one makes them at the table."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from wempa.craft.errors import JobError
from wempa.craft.job import SaidEntry
from wempa.craft.overlap import edits
from wempa.craft.treatments import Treatment
from wempa.craft.vocabulary import Load, Over, Tool


def ink(number: int, over: Over | None = None, passes: float | None = None, tool: Tool | None = None) -> SaidEntry:
    return SaidEntry(((str(number), 1.0),), over=over, passes=passes, tool=tool)


HEAT = SaidEntry(treatment=Treatment.HEAT)
BASE = (ink(1, passes=3), ink(2, Over.WET, passes=4), HEAT, ink(3, Over.DRY))


def numbers(stack: tuple[SaidEntry, ...]) -> list[object]:
    return [str(entry.treatment) if entry.treatment else [int(key) for key, _ in entry.parts] for entry in stack]


def test_an_ink_takes_the_place_of_another_and_joins_as_that_did() -> None:
    after = edits.lay(BASE, 1, ink(9, tool=Tool.FOAM), on_top=False)
    assert numbers(after.stack) == [[1], [9], "heat", [3]]
    assert after.stack[1].over is Over.WET
    assert after.stack[1].tool is Tool.FOAM
    assert after.stack[1].passes is None
    assert after.picked == 1
    # Where it was left open how the other joined, it lies over dry.
    assert edits.lay(BASE, 0, ink(9), on_top=False).stack[0].over is Over.DRY


@pytest.mark.parametrize(("at", "on_top"), [(0, True), (4, False), (7, False)])
def test_an_ink_on_top_leaves_the_rest_and_goes_on_with_the_next(at: int, on_top: bool) -> None:
    after = edits.lay(BASE, at, ink(9), on_top)
    assert after.stack[:4] == BASE
    assert numbers(after.stack)[4:] == [[9]]
    assert after.stack[4].over is None
    assert after.picked == 5


def test_one_entry_is_changed() -> None:
    after = edits.change(BASE, 3, ink(3, Over.WET))
    assert after.stack == (*BASE[:3], ink(3, Over.WET))
    assert after.picked == 3


@pytest.mark.parametrize(("at", "place"), [(0, 1), (3, 4), (4, 4), (9, 4)])
def test_a_treatment_stands_right_above_what_is_picked(at: int, place: int) -> None:
    after = edits.treat(BASE, at, Treatment.BLOT)
    assert after.stack[place].treatment is Treatment.BLOT
    assert (*after.stack[:place], *after.stack[place + 1 :]) == BASE
    assert after.picked == place


def test_what_is_taken_out_leaves_the_one_above_picked() -> None:
    assert numbers(edits.take_out(BASE, 1).stack) == [[1], "heat", [3]]
    assert edits.take_out(BASE, 1).picked == 1
    assert edits.take_out(BASE, 3).picked == 3
    assert edits.take_out((ink(1),), 0) == edits.EditedStack((), 0)


def test_an_entry_is_moved_and_what_comes_lowest_has_nothing_wet_below_it() -> None:
    assert numbers(edits.move(BASE, 3, 1).stack) == [[1], [3], [2], "heat"]
    assert edits.move(BASE, 3, 1).picked == 1
    lowest = edits.move(BASE, 1, 0).stack
    assert numbers(lowest) == [[2], [1], "heat", [3]]
    assert lowest[0].over is Over.DRY
    assert lowest[0].passes == 4
    # Upwards as well: what was second is lowest then.
    assert edits.move(BASE, 0, 2).stack[0].over is Over.DRY


def test_two_layers_become_a_premix_half_and_half_laid_as_the_lower_one_was() -> None:
    after = edits.mix(BASE, 1)
    assert numbers(after.stack) == [[1, 2], "heat", [3]]
    assert after.stack[0] == SaidEntry((("1", 1.0), ("2", 1.0)), premix=True, passes=3)
    assert after.picked == 0
    # A premix of two to one counts as one half of the next.
    before = (SaidEntry((("1", 2.0), ("2", 1.0)), premix=True), ink(3))
    third, two_thirds = 1 / 3, 2 / 3
    parts = edits.mix(before, 1).stack[0].parts
    assert [key for key, _ in parts] == ["1", "2", "3"]
    assert [share for _, share in parts] == pytest.approx([two_thirds, third, 1.0])


def test_a_premix_comes_apart_each_ink_into_the_wet_of_the_one_before() -> None:
    before = (SaidEntry((("1", 2.0), ("2", 1.0), ("3", 1.0)), premix=True, over=Over.DRY, dose=0.5), HEAT)
    after = edits.unmix(before, 0)
    assert after.stack == (
        SaidEntry((("1", 1.0),), over=Over.DRY, dose=0.5),
        SaidEntry((("2", 1.0),), over=Over.WET, dose=0.5),
        SaidEntry((("3", 1.0),), over=Over.WET, dose=0.5),
        HEAT,
    )
    assert after.picked == 0


def test_the_two_uppermost_change_places_each_joining_as_the_one_there_did() -> None:
    after = edits.swap(BASE, 2)
    assert numbers(after.stack) == [[1], [3], "heat", [2]]
    assert [entry.over for entry in after.stack] == [None, Over.WET, None, Over.DRY]
    assert after.picked == 2


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda: edits.change(BASE, 4, ink(1)), "there is no entry 5 in this stack"),
        (lambda: edits.take_out(BASE, -1), "there is no entry 0 in this stack"),
        (lambda: edits.move(BASE, 0, 4), "there is no place 5 in this stack"),
        (lambda: edits.move(BASE, 4, 0), "there is no entry 5 in this stack"),
        (lambda: edits.mix(BASE, 0), "only two layers of ink"),
        (lambda: edits.mix(BASE, 3), "only two layers of ink"),
        (lambda: edits.mix(BASE, 2), "only two layers of ink"),
        (lambda: edits.unmix(BASE, 0), "this is no mix of inks"),
        (lambda: edits.swap((ink(1), HEAT), 0), "two layers of ink are needed"),
    ],
)
def test_what_makes_no_sense_is_refused_in_a_sentence(change: Callable[[], object], says: str) -> None:
    with pytest.raises(JobError, match=says):
        change()


@pytest.mark.parametrize(
    ("after", "laid", "still"),
    [
        (BASE, 4, 4),
        (BASE, 2, 2),
        # How it was put on may be put right; which ink it was may not.
        ((ink(1, passes=9), *BASE[1:]), 3, 3),
        ((ink(8), *BASE[1:]), 3, 0),
        ((BASE[0], BASE[1], SaidEntry(treatment=Treatment.BLOT), BASE[3]), 4, 2),
        (BASE[:2], 4, 2),
        ((BASE[0], BASE[2], BASE[1], BASE[3]), 3, 1),
    ],
)
def test_what_lies_on_the_card_counts_up_to_the_first_that_is_another(
    after: tuple[SaidEntry, ...], laid: int, still: int
) -> None:
    assert edits.still_laid(BASE, after, laid) == still


USUAL = SaidEntry((("1", 1.0),), tool=Tool.FOAM, passes=4)


@pytest.mark.parametrize(
    ("entry", "whole"),
    [
        # A dose that is stated stands instead of the tool.
        (
            SaidEntry((("1", 1.0),), tool=Tool.BRUSH, load=Load.JUICY, passes=2, dose=0.5, dilution=0.2),
            SaidEntry((("1", 1.0),), dose=0.5, dilution=0.2),
        ),
        # One that is taken back leaves the usual tool, and what else is said stays.
        (SaidEntry((("1", 1.0),), over=Over.WET), SaidEntry((("1", 1.0),), tool=Tool.FOAM, passes=4, over=Over.WET)),
        (SaidEntry((("1", 1.0),), passes=9), SaidEntry((("1", 1.0),), tool=Tool.FOAM, passes=9)),
        (SaidEntry((("1", 1.0),), tool=Tool.PAD), SaidEntry((("1", 1.0),), tool=Tool.PAD)),
    ],
)
def test_a_layer_has_a_dose_or_a_tool(entry: SaidEntry, whole: SaidEntry) -> None:
    assert edits.dosed_or_by_tool(entry, USUAL) == whole


@pytest.mark.parametrize(("layer", "said"), [(0, "passes"), (1, "dose")])
def test_an_amount_is_so_many_passes_or_of_a_stated_dose_that_dose(layer: int, said: str) -> None:
    stack = (SaidEntry((("1", 1.0),), tool=Tool.FOAM, passes=2), SaidEntry((("2", 1.0),), dose=0.5))
    after = edits.set_amounts(stack, {layer: 7.0}, 1).stack
    assert getattr(after[layer], said) == 7.0
    assert after[1 - layer] == stack[1 - layer]


def test_one_lay_down_more_is_found_wherever_it_went() -> None:
    for at in range(len(BASE) + 1):
        assert edits.newly_laid(BASE, (*BASE[:at], ink(9), *BASE[at:])) == at
    # Neither one instead of another, nor two more, nor one more with the rest in another order.
    assert edits.newly_laid(BASE, (ink(9), *BASE[1:])) is None
    assert edits.newly_laid(BASE, (ink(9), ink(8), *BASE)) is None
    assert edits.newly_laid(BASE, (ink(9), BASE[1], BASE[0], *BASE[2:])) is None
