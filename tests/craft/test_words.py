"""Words of the job: their texts, how they are said, and what stands with them."""

from __future__ import annotations

import inspect

import pytest

from wempa.craft import constants, vocabulary
from wempa.craft.errors import WempaError
from wempa.craft.treatments import Treatment
from wempa.craft.vocabulary import Formula, Load, Tool
from wempa.craft.words import Word

WORDS = [each for _, each in inspect.getmembers(vocabulary, inspect.isclass) if issubclass(each, Word) and len(each)]


@pytest.mark.parametrize("words", WORDS, ids=lambda words: words.__name__)
def test_no_two_of_a_list_are_said_alike(words: type[Word]) -> None:
    said = [word.said for word in words]
    assert len(set(said)) == len(said)
    assert all(word.said and word.said == word.said.strip() for word in words)
    assert all(str(word) == word.value for word in words)


def test_a_word_is_of_its_own_list_only() -> None:
    with pytest.raises(ValueError, match="'dip' is not a valid Load"):
        Load("dip")
    with pytest.raises(ValueError, match="'oil' is not a valid Formula"):
        Formula("oil")


@pytest.mark.parametrize("tool", list(Tool))
def test_a_tool_brings_its_rows_of_the_table(tool: Tool) -> None:
    row, table = tool.row, constants.TABLE
    assert table[f"tool.{tool}.amount"].value == row.amount
    assert table[f"tool.{tool}.cover"].value == row.cover
    assert table[f"seam.fade.{tool}"].value == row.fade
    assert row.why in table[f"tool.{tool}.amount"].reason
    assert tool.swept == bool(row.mark)


def test_each_treatment_does_something_and_only_heat_and_topcoat_want_care() -> None:
    for treatment in Treatment:
        row = treatment.row
        assert row.dose or row.scatter or row.drops or row.floor or row.pores or row.closes, treatment
        assert row.line[0].isupper()
        assert row.line.endswith(".")
    assert [str(each) for each in Treatment if each.row.caution] == ["heat", "glaze"]
    assert "burns skin" in Treatment.HEAT.row.caution
    assert "maker's label" in Treatment.GLAZE.row.caution


@pytest.mark.parametrize(
    ("treatment", "ink", "factor"),
    [
        (Treatment.SPRITZ, {}, 1 - constants.TABLE["spritz.field"].value),
        (Treatment.HEAT, {"heat_paling": 0.25}, 0.75),
        (Treatment.BLOT, {}, constants.TABLE["blot.dose"].value),
    ],
)
def test_what_a_treatment_leaves_of_the_amount(treatment: Treatment, ink: dict[str, float], factor: float) -> None:
    assert treatment.row.dose is not None
    assert treatment.row.dose(ink, constants.AS_SHIPPED) == pytest.approx(factor)


def test_where_water_was_dropped_ink_is_lifted_and_turns_milky() -> None:
    drops = Treatment.SPRITZ.row.drops
    assert drops is not None
    lifts, milks = drops
    ink, table = {"lift": 0.3, "milk": 1.4}, constants.values((("lift.depth", 0.4),))
    assert milks(ink, table) == 1.4
    # A breath of ink holds on to the card; of a coat as deep as the table's row 63 % of what can be lifted goes.
    assert lifts(ink, table, 0.0) == 1.0
    assert lifts(ink, table, 0.4) == pytest.approx(1 - 0.3 * 0.63212, abs=1e-5)
    assert lifts(ink, table, 40.0) == pytest.approx(0.7)


def test_a_topcoat_changes_scatter_floor_and_pores_by_rows_that_there_are() -> None:
    row = Treatment.GLAZE.row
    assert row.scatter is not None
    assert row.scatter({"glaze_scatter": 0.8}, constants.AS_SHIPPED) == 0.8
    assert {row.floor, row.pores} <= set(constants.TABLE)
    assert (row.dose, row.closes, row.wet_only) == (None, True, False)


def test_every_refusal_of_ours_is_one_of_the_tree() -> None:
    import wempa.formats.stash.photo_file
    import wempa.formats.text_table
    import wempa.optics.photo
    import wempa.store  # noqa: F401

    def below(kind: type[Exception]) -> set[str]:
        return {kind.__name__}.union(*[below(each) for each in kind.__subclasses__()])

    drawn = inspect.getdoc(inspect.getmodule(WempaError)) or ""
    missing = {name for name in below(WempaError) if name not in drawn}
    assert not missing
