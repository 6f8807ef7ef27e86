"""Small rules of an evening, a number or a sentence each."""

from __future__ import annotations

from dataclasses import replace
from math import ceil
from typing import Any

import pytest

from tests.craft.table.test_rules import HYBRIDS, by, does, file_of, told
from tests.evenings import as_bytes
from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.table.evening import Habits
from wempa.craft.table.faults import judged
from wempa.craft.table.running import standing
from wempa.craft.vocabulary import Do, Fault, Formula, Surface, Tool, Towards, Treatment

TABLE = constants.AS_SHIPPED
PAIR = {"bands": [{"ink": 0}, {"ink": 2}]}


def overlap(*stack: dict[str, Any], tools: list[dict[str, Any]] | None = None, formula: str = "dye") -> dict[str, Any]:
    """The plan of one overlap of two inks."""
    inks = [
        {"name": name, "formula": formula, "ink": {"swatch": {"colour": {"hex": colour}}}}
        for name, colour in (("Gold", "#f4d64b"), ("Denim", "#3a6ea5"))
    ]
    made: list[dict[str, Any]] = [{"name": "O", "card": None, "settings": {}, "stack": list(stack)}]
    whole = {"wempa_workspace": 1, "inks": inks, "cards": [], "tools": tools or [], "panels": [], "overlaps": made}
    return told(as_bytes(whole))


BRUSHED = {"ink": 0, "tool": "brush", "passes": 4}
WETTED = {"ink": 1, "tool": "brush", "passes": 4, "over": "wet"}


def test_laying_takes_the_passes_over_the_area_and_the_loads_after_the_first() -> None:
    found = told(file_of({"width": 60, "height": 80, "bands": [{"ink": 0}]}))
    area, passes = 48.0, 6
    loads = ceil(passes * area / TABLE["work.brush.reach"])
    took = passes * area * TABLE["work.brush.pace"] / 60 + (loads - 1) * TABLE["table.load"]
    assert does(found, "lay")[0]["minutes"] == pytest.approx(took, abs=1 / 16)
    assert f"It takes about {loads} loads." in does(found, "load")[0]["text"]


def test_a_seam_is_gone_over_once_more() -> None:
    found = told(file_of({**PAIR, "seams": [{"overlap": 30}]}))
    # Thirty of sixty millimetres, eighty high.
    assert does(found, "blend")[0]["minutes"] == pytest.approx(24 * TABLE["work.brush.pace"] / 60, abs=1 / 16)


def test_so_many_parts_as_stay_open_and_no_more() -> None:
    found = told(file_of({"width": 150, "height": 200, "bands": [{"ink": 0}, {"ink": 1}]}, formulas=HYBRIDS))
    step = next(step for step in found["steps"] if " parts: " in step["text"])
    parts = int(step["text"].split(" in ")[1].split(" parts")[0])
    stays = float(TABLE["formula.hybrid.open_time"]) / 60
    # Four passes of foam are a little less than an impression, and close a little sooner.
    assert step["minutes"] / stays <= parts <= ceil(step["minutes"] / (0.8 * stays))


def test_a_film_that_meets_two_that_have_closed_is_worked_with_each_in_parts() -> None:
    fan = {"layout": "fan", "width": 200, "height": 200, "bands": [{"ink": 0}, {"ink": 1}, {"ink": 2}]}
    found = told(file_of(fan, formulas={"Gold": "hybrid", "Coral": "hybrid", "Denim": "hybrid"}))
    lays = does(found, "lay")
    assert len(lays) == 3
    in_parts = [step for step in found["steps"] if " parts: " in step["text"]]
    met = [tuple(step["text"].split(" in ")[0].split(" and ")) for step in in_parts]
    # The last band meets both of the others, and neither is lost in the telling.
    assert len(met) == len(set(met)) == 3
    for step in in_parts:
        assert step["minutes"] / int(step["text"].split(" in ")[1].split(" parts")[0]) <= 2.0


def test_a_line_that_is_to_be_expected_is_gone_over_with_the_paler_ink() -> None:
    found = told(file_of({**PAIR, "soft": 0.3, "seams": [{"overlap": 2}]}))
    back = does(found, "back")
    assert [step["inks"] for step in back] == [["Gold"]]
    assert "You may see a line between Gold and Denim" in back[0]["text"]
    soft = told(file_of({**PAIR, "soft": 1.0}))
    assert not [step for step in does(soft, "back") if "You may see a line" in step["text"]]


def test_one_rolling_is_one() -> None:
    found = told(file_of({"layout": "roller", "rolls": 1, **PAIR}))
    assert len(does(found, "lay")) == 1
    wet = told(file_of({"layout": "roller", "rolls": 2, "roll_wet": True, **PAIR}))
    lays = does(wet, "lay")
    assert lays[1]["start"] == lays[0]["start"] + lays[0]["minutes"]


def test_wet_ink_on_both_sides_lifts_the_hand() -> None:
    three = {"school": "as_listed", "bands": [{"ink": 0}, {"ink": 2}, {"ink": 1}]}
    formulas = {"Gold": "dye", "Coral": "dye", "Denim": "dye"}
    from_left = by(file_of(three, formulas=formulas), Habits())
    assert [step.text for step in from_left.steps if step.do is Do.TURN] == []
    middle = {**three, "school": "as_listed", "seams": [{"upper": "second"}, {"upper": "first"}]}
    turned = by(file_of(middle, formulas=formulas), Habits())
    said = [step.text for step in turned.steps if step.do is Do.TURN]
    assert said == ["Turn the card half round: so your hand does not cross wet ink."]


def test_a_caution_stands_once_and_a_run_does_not_begin_it_anew() -> None:
    plan = by(file_of(PAIR, PAIR), Habits())
    cautions = [step.caution for step in plan.steps if step.caution]
    assert len(cautions) == len(set(cautions)) == 2
    assert cautions[0].startswith("Cut away from the hand")
    from wempa.craft.table.running import mark_of

    first = plan.steps[0]
    after = standing(plan.evening, plan.order, [mark_of(plan.evening, first, 0, first.end)], first.end)
    assert [step.caution for step in after.due if step.caution] == cautions[1:]


def test_what_lies_there_is_pictured_while_a_tool_is_cleaned() -> None:
    ribbons = {"layout": "ribbons", "bands": [{"ink": 0}, {"ink": 2}]}
    plan = by(file_of(ribbons, tools=[{"name": "Brush", "tool": "brush"}]), Habits())
    wipe = next(step for step in plan.steps if step.do is Do.WIPE)
    assert wipe.laid == 1
    assert [step.laid for step in plan.steps if step.do is Do.LAY] == [1, 2]
    squares = by(
        as_bytes(
            {
                "wempa_workspace": 1,
                "inks": [{"name": "Gold", "formula": "dye", "ink": {"swatch": {"colour": {"hex": "#f4d64b"}}}}],
                "cards": [],
                "tools": [],
                "panels": [],
                "overlaps": [{"name": "O", "card": None, "settings": {}, "stack": [{"ink": 0, "tool": "brush"}] * 2}],
            }
        ),
        Habits(),
    )
    assert [step.laid for step in squares.steps if step.do is Do.LAY] == [1, 2]


def test_a_step_that_waits_says_so() -> None:
    found = overlap(BRUSHED, {**BRUSHED, "ink": 1})
    waits = next(step for step in found["steps"] if "has to be dry" in step["why"])
    assert waits["do"] == "load"
    free = max(step["start"] + step["minutes"] for step in found["steps"] if step["hands"] and step["n"] < waits["n"])
    assert waits["start"] >= free
    log = does(found, "log")[0]
    assert log["why"].startswith("It waits until what was laid is dry.")


def test_wet_into_wet_has_both_tools_loaded_before() -> None:
    found = overlap(BRUSHED, WETTED)
    hands = [step["do"] for step in found["steps"] if step["hands"]]
    at = hands.index("load")
    assert hands[at : at + 4] == ["load", "load", "lay", "lay"]
    lays = does(found, "lay")
    assert lays[1]["start"] == lays[0]["start"] + lays[0]["minutes"]
    assert "stays open for about" in lays[1]["why"]
    assert not found["notes"]


def test_a_wet_step_that_cannot_be_in_time_is_told_with_a_way_out() -> None:
    one = overlap(BRUSHED, WETTED, tools=[{"name": "Brush", "tool": "brush"}])
    note = one["notes"][0]
    assert note["code"] == "wet_too_late"
    assert "take a second brush" in note["text"]
    # The middle one has to wait for a neighbour that it lies over: by then the other has closed.
    three = {"bands": [{"ink": 0}, {"ink": 1}, {"ink": 2}], "seams": [{"wet": True}, {"wet": False, "upper": "first"}]}
    films = {"Gold": "hybrid", "Coral": "hybrid", "Denim": "hybrid"}
    late = told(file_of(three, formulas=films))
    assert [note["code"] for note in late["notes"]] == ["wet_too_late"]
    assert late["notes"][0]["text"].startswith("P0: Coral cannot be worked into all of its neighbours")
    # Inks that soak in mix when they are wetted again.
    soaking = told(file_of(three, formulas=dict.fromkeys(films, "dye")))
    assert not soaking["notes"]


# Faults.


def spot(formula: Formula, *passes: float, surface: Surface = Surface.SMOOTH) -> Job:
    ink = Ink(Swatch(Colour(hex="#3a6ea5")), formula, "Denim")
    stack = tuple(LayDown((("a", 1.0),), tool=Tool.FOAM, passes=count) for count in passes)
    return Job(Card(Colour(hex="#f8f7f4"), surface), (("a", ink),), stack)


def test_streaks_that_are_open_are_worked_and_dry_ones_are_laid_over() -> None:
    open_yet = judged(Fault.STREAKS, spot(Formula.PIGMENT, 4), 1)
    assert open_yet.texts[0].startswith("Denim is open still: go over streaks at once")
    drying = judged(Fault.STREAKS, spot(Formula.PIGMENT, 4), 20)
    assert "Do not rub Denim now" in drying.texts[0]
    assert not [rescue for rescue in drying.rescues if "again" in rescue.text]
    dry = judged(Fault.FOAM_EDGE, spot(Formula.PIGMENT, 4), 5000)
    assert dry.texts[0].startswith("The foam’s edge that can be seen now will stay")
    assert "again" in dry.rescues[0].text
    thirsty = judged(Fault.STREAKS, spot(Formula.DYE, 4, surface=Surface.ABSORBENT), 500)
    assert any("grabs the first touch" in text for text in thirsty.texts)


@pytest.mark.parametrize("formula", [Formula.DYE, Formula.REACTIVE_DYE])
def test_a_harsh_mark_in_a_dye_is_gone_over_lightly_for_some_minutes(formula: Formula) -> None:
    for minutes in (1.0, 4.9):
        told = judged(Fault.STREAKS, spot(formula, 4), minutes)
        assert "light strokes even out streaks: use what is left on the same tool" in told.texts[0]
    assert "light strokes" not in judged(Fault.STREAKS, spot(formula, 4), 5.0).texts[0]
    longer = replace(spot(formula, 4), constants=(("marks.lightly", 8.0),))
    assert "light strokes" in judged(Fault.STREAKS, longer, 7.0).texts[0]
    # Nothing can be worked any more once it was heated.
    heated = replace(spot(formula, 4), stack=(*spot(formula, 4).stack, Treatment.HEAT))
    assert not any("light strokes" in text for text in judged(Fault.STREAKS, heated, 1.0).texts)


def test_what_lies_below_may_dry_last() -> None:
    ink = Ink(Swatch(Colour(hex="#3a6ea5")), Formula.PIGMENT, "Denim")
    dye = Ink(Swatch(Colour(hex="#f4d64b")), Formula.DYE, "Gold")
    slow = LayDown((("a", 1.0),), tool=Tool.FOAM, passes=4)
    quick = LayDown((("b", 1.0),), tool=Tool.BRUSH, passes=4)
    job = Job(Card(Colour(hex="#f8f7f4")), (("a", ink), ("b", dye)), (slow, quick))
    assert judged(Fault.PATCHY, job, 2).when > 20
    assert judged(Fault.OFF_HUE, job, 2, Towards.WARMER).texts[0].startswith("While it is wet a colour is deeper")


def test_a_darker_coat_of_the_last_ink_is_what_is_too_pale() -> None:
    found = judged(Fault.TOO_PALE, spot(Formula.DYE, 2, 2), 500)
    more = found.rescues[0]
    assert more.helps
    assert more.after[0] < more.before[0]
    wet = judged(Fault.TOO_DARK, spot(Formula.REACTIVE_DYE, 8), 0)
    assert wet.settles
    assert wet.rescues[0].text.startswith("Blot it now")
    assert wet.rescues[0].after[0] > wet.rescues[0].before[0]


def test_a_weak_pad_and_what_its_owner_should_do_about_it_are_told() -> None:
    file = file_of(PAIR)
    weak = told(file.replace(b'"formula": "dye", "ink"', b'"formula": "dye", "pad": "dry", "ink"', 1))
    assert [note["text"] for note in weak["notes"]] == [
        "The pad of Gold gives little today: re-ink it before you begin, or it goes on patchily."
    ]
    assert not told(file)["notes"]


def test_treatments_are_said_as_what_they_are_and_dry_as_they_do() -> None:
    heated = overlap(BRUSHED, {"treatment": "heat"}, {**BRUSHED, "ink": 1}, {"treatment": "glaze"})
    said = [step["text"] for step in does(heated, "treat")]
    assert said == [
        "Heat it, the tool kept moving, until the ink no longer shines.",
        "Lay the clear topcoat, thin and even.",
    ]
    waits = {step["text"]: step["minutes"] for step in does(heated, "dry")}
    assert waits["Let it cool: hot card takes ink in patches."] == TABLE["table.cools"]
    assert waits["Let the topcoat dry; its label says how long."] == TABLE["table.glaze_dry"]
    drops = overlap(BRUSHED, {"treatment": "spritz"}, {"treatment": "blot"})
    assert [step["text"] for step in does(drops, "treat")] == [
        "Sprinkle water drops, wait half a minute, then lift them with a tissue.",
        "Blot with a tissue: press, do not rub.",
    ]
    # Water comes on what is dry, and that is felt first.
    assert does(drops, "test")
