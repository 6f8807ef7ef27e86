"""Pads, reminders, weights, the home test, the formula guide, the sheet, doubts of readings."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from tests.jobs import changed
from wempa.craft import constants
from wempa.craft.errors import SheetError
from wempa.craft.prediction.predict import predict
from wempa.craft.stash import formula_guide
from wempa.craft.stash.home_test import STEPS, likely_formulas
from wempa.craft.stash.photo_reading import reading_doubt, sure_words
from wempa.craft.stash.swatch_sheet import (
    LARGE_MM,
    PAGE_MM,
    SQUARE_MM,
    mark_grid,
    mark_sheet,
    projected,
    projection,
    sheet_for,
    sheet_layout,
)
from wempa.craft.stash.upkeep import card_reminders, grams_per_square_metre, pad_reminders, pad_state, tool_reminders
from wempa.craft.vocabulary import Basis, Formula, HomeTestSign, PadKind, PadState, Page
from wempa.formats.job import read_one

TABLE = constants.AS_SHIPPED
TODAY = date(2026, 11, 24)


@pytest.mark.parametrize(
    ("kind", "said", "days", "state"),
    [
        (PadKind.FELT, None, 2, PadState.FRESH),
        (PadKind.FELT, None, 60, PadState.GOOD),
        (PadKind.FOAM, None, 300, PadState.DRYING),
        (PadKind.FELT, None, 300, PadState.GOOD),
        (PadKind.FOAM, None, 900, PadState.DRY),
        (PadKind.FELT, PadState.DRY, 2, PadState.DRY),
        (None, None, None, None),
    ],
)
def test_a_pad_is_as_its_owner_says_or_as_its_re_inking_tells(
    kind: PadKind | None, said: PadState | None, days: int | None, state: PadState | None
) -> None:
    re_inked = None if days is None else TODAY - timedelta(days=days)
    assert pad_state(kind, said, re_inked, TODAY, TABLE) is state


def test_the_pad_sets_the_load_widens_the_margin_and_says_so() -> None:
    tooled = changed("stack", [{"ink": "a", "tool": "foam", "passes": 3}])
    found = {}
    for pad in (None, "fresh", "good", "drying", "dry"):
        tooled["inks"]["a"]["pad"] = pad
        found[pad] = predict(read_one(tooled))
    light = {pad: one.colour.lab[0] for pad, one in found.items()}
    assert light["fresh"] < light["good"] < light["drying"] < light["dry"]
    assert light["good"] == light[None]
    assert found["good"].margin < found[None].margin < found["dry"].margin
    assert any("all but dry" in note.text for note in found["dry"].notes)
    # A load that is stated stands; the margin is still the pad's.
    tooled["stack"][0]["load"] = "normal"
    stated = predict(read_one(tooled))
    assert stated.colour.hex == found["good"].colour.hex
    assert stated.margin > found["good"].margin


def test_what_wants_doing() -> None:
    assert [
        r.code for r in pad_reminders("Ink", PadState.DRYING, used_up=False, refill=False, loads=0, table=TABLE)
    ] == ["re_ink"]
    assert pad_reminders("Ink", PadState.GOOD, used_up=False, refill=True, loads=0, table=TABLE) == []
    assert [r.code for r in pad_reminders("Ink", None, used_up=True, refill=True, loads=0, table=TABLE)] == [
        "refill_it"
    ]
    old, new = TODAY - timedelta(days=40), TODAY - timedelta(days=20)
    assert "6 weeks" in tool_reminders("Foam", True, old, False, TODAY, TABLE)[0].text
    assert tool_reminders("Foam", True, new, False, TODAY, TABLE) == []
    assert tool_reminders("Brush", False, old, False, TODAY, TABLE) == []
    assert tool_reminders("Brush", False, None, True, TODAY, TABLE)[0].code == "worn"
    assert card_reminders("Snow", 1, TABLE)[0].text == "1 sheet of Snow left."
    assert card_reminders("Snow", 0, TABLE)[0].code == "none_left"
    assert card_reminders("Snow", None, TABLE) == card_reminders("Snow", 40, TABLE) == []


@pytest.mark.parametrize(
    ("pounds", "basis", "grams"),
    [(80, Basis.COVER, 216), (110, Basis.COVER, 298), (70, Basis.TEXT, 104), (110, Basis.INDEX, 199)],
)
def test_pounds_are_grams_by_their_basis(pounds: float, basis: Basis, grams: float) -> None:
    assert grams_per_square_metre(pounds, basis) == pytest.approx(grams, abs=1)


@pytest.mark.parametrize(
    ("seen", "formula"),
    [
        ("nnnnn", Formula.DYE),
        ("nynyn", Formula.REACTIVE_DYE),
        ("ynyny", Formula.PIGMENT),
        ("ynyyy", Formula.REACTIVE_PIGMENT),
    ],
)
def test_the_home_test_names_the_formula_that_behaves_so(seen: str, formula: Formula) -> None:
    answers = {step.observation: letter == "y" for step, letter in zip(STEPS, seen, strict=True)}
    found = likely_formulas(answers, TABLE)
    assert found.formula is formula
    assert sum(chance for _, chance in found.chances) == pytest.approx(1)
    assert dict(found.constants)["hiding"] == TABLE[f"formula.{formula}.hiding"]


def test_the_home_test_stays_unsure_without_evidence() -> None:
    nothing = likely_formulas({}, TABLE)
    assert nothing.formula is Formula.UNKNOWN
    assert {round(chance, 6) for _, chance in nothing.chances} == {round(1 / 6, 6)}
    assert likely_formulas({HomeTestSign.BLOTCHY: True}, TABLE).formula is Formula.UNKNOWN


def test_the_guide_speaks_from_the_table() -> None:
    pages = {
        formula: {line.aspect: line for line in formula_guide.guide_page(formula, ()).lines} for formula in Formula
    }
    assert "almost to white" in pages[Formula.REACTIVE_DYE]["Water"].text
    assert "hardly moves" in pages[Formula.PIGMENT]["Water"].text
    assert "barrier" in pages[Formula.PIGMENT]["Covers"].text
    assert "vanishes" in pages[Formula.DYE]["Covers"].text
    assert "chalk" in pages[Formula.HYBRID]["Glaze"].text
    assert "20 s" in pages[Formula.DYE]["Blends"].text
    own = {
        line.aspect: line
        for line in formula_guide.guide_page(Formula.DYE, (), (("lift", 0.8), ("open_time", 1200.0))).lines
    }
    assert "almost to white" in own["Water"].text
    assert "20 min" in own["Blends"].text
    assert own["Water"].numbers[0][:2] == ("lift", 0.8)
    assert own["Covers"].text == pages[Formula.DYE]["Covers"].text


@pytest.mark.parametrize("page", list(Page))
@pytest.mark.parametrize("large", [False, True])
def test_the_sheet_fits_its_paper_and_nothing_overlaps(page: Page, large: bool) -> None:
    sheet = sheet_layout(page, large)
    width, height = PAGE_MM[page]
    boxes = [*sheet.squares, sheet.bare, sheet.dark, *sheet.whites, *(step.box for step in sheet.steps)]
    assert len(sheet.squares) == (9 if large else {Page.A4: 36, Page.LETTER: 30}[page])
    for left, top, right, bottom in boxes:
        assert 5 < left < right < width - 5
        assert 5 < top < bottom < height - 5
    for n, a in enumerate(boxes):
        for b in boxes[n + 1 :]:
            assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
    assert sheet.squares[0][2] - sheet.squares[0][0] == pytest.approx(LARGE_MM if large else SQUARE_MM)
    # As long and as wide as the small one between its discs, so that one reading finds both.
    assert (sheet.marks, sheet.steps) == (sheet_layout(page).marks, sheet_layout(page).steps)


def test_few_swatches_get_large_squares_and_too_many_are_refused() -> None:
    for count, squares in ((0, 36), (1, 9), (9, 9), (10, 36), (36, 36)):
        assert len(sheet_for(Page.A4, count).squares) == squares
    with pytest.raises(SheetError, match="a sheet has 30 squares, not 31"):
        sheet_for(Page.LETTER, 31)


def test_a_tilted_sheet_is_marked_inside_its_squares() -> None:
    sheet = sheet_layout(Page.A4)
    corners = np.array([(130.0, 90.0), (1180.0, 140.0), (1230.0, 1610.0), (80.0, 1560.0)])
    matrix = projection(np.array(sheet.marks), corners)
    marked = mark_sheet(Page.A4, corners)
    back = np.asarray(np.linalg.inv(matrix), dtype=np.float64)
    for (left, top, right, bottom), square in zip(marked.swatches, sheet.squares, strict=True):
        seen = projected(np.array([(left, top), (right, top), (right, bottom), (left, bottom)]), back)
        assert (seen[:, 0] > square[0]).all()
        assert (seen[:, 0] < square[2]).all()
        assert (seen[:, 1] > square[1]).all()
        assert (seen[:, 1] < square[3]).all()


def test_any_grid_is_marked_from_its_corner_swatches() -> None:
    corners = np.array([(100.0, 100.0), (500.0, 100.0), (500.0, 300.0), (100.0, 300.0)])
    found = mark_grid(5, 3, corners).swatches
    assert len(found) == 15
    assert [(box[0] + box[2]) / 2 for box in found[:5]] == pytest.approx([100, 200, 300, 400, 500])
    assert found[0][2] - found[0][0] == pytest.approx(45)
    with pytest.raises(SheetError, match="do not span"):
        mark_grid(5, 3, np.array([(0.0, 0), (1, 1), (2, 2), (3, 3)]))


def test_how_sure_a_reading_is_said() -> None:
    said = [sure_words(spread) for spread in (1.9, 2.0, 3.9, 4.0, 6.9, 7.0)]
    again = "only a hint: take it again by a window"
    assert said == ["read surely", *["likely within a shade"] * 2, *["read roughly"] * 2, again]


def test_pale_yellows_and_what_glows_get_more_doubt() -> None:
    plain, none = reading_doubt([50, 30, -20], 1.2, 0.3, 1, 0, False, TABLE)
    yellow, said = reading_doubt([90, -5, 40], 1.2, 0.3, 1, 0, False, TABLE)
    glowing, glows = reading_doubt([90, -5, 40], 1.2, 0.3, 1, 0, True, TABLE)
    assert plain < yellow < glowing
    assert ([n.code for n in none], [n.code for n in said], [n.code for n in glows]) == ([], ["pale_yellow"], ["glows"])
    rough, notes = reading_doubt([50, 30, -20], 3.0, 4.0, 0.6, 0.3, False, TABLE)
    # What phone and lamp leave open, what any photo does, and a quarter of the unevenness, each of its own.
    assert rough == pytest.approx((3.0**2 + 0.3**2 + 1.0**2) ** 0.5)
    assert plain == pytest.approx((1.2**2 + 0.3**2 + 0.075**2) ** 0.5)
    assert {n.code for n in notes} == {"clipped", "blotchy"}
