"""The parts of an evening: tools, cleaning, turning, drying, what waits, and planning anew."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.evenings import as_bytes, dry_minutes, random_evening
from wempa.api.table import from_file
from wempa.api.table.from_file import plan_file
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.table.evening import Habits, InkFacts, Need, OwnTool, minutes, span, ticks
from wempa.craft.table.plan import TablePlan
from wempa.craft.table.running import Mark, Took, left, mark_of, paces, planned_anew, standing, times_taken
from wempa.craft.table.schedule import naive_order, scheduled
from wempa.craft.table.timeline import laid_out, total_of
from wempa.craft.table.tools_owned import assigned, cleaning_between
from wempa.craft.vocabulary import (
    Cleaning,
    Do,
    DryingSchool,
    Family,
    HandSide,
    SharedBrush,
    Together,
    Tool,
    ToolSet,
)
from wempa.formats.table.plan_result import plan_result

TABLE = constants.AS_SHIPPED


def ink(name: str, kept: ToolSet | None, lightness: float, family: Family, hue: float = 0.0) -> InkFacts:
    return InkFacts(name, kept, lightness, hue, family, soaks=kept is ToolSet.DYE)


FACTS = {
    "lemon": ink("Lemon", ToolSet.DYE, 90, Family.YELLOW, 120),
    "amber": ink("Amber", ToolSet.DYE, 75, Family.YELLOW, 100),
    "navy": ink("Navy", ToolSet.DYE, 25, Family.BLUE, 240),
    "chalk": ink("Chalk", ToolSet.PIGMENT, 70, Family.BLUE, 240),
    "white": ink("White", ToolSet.WHITE, 97, Family.WHITE),
    "clay": ink("Clay", ToolSet.HYBRID, 50, Family.BROWN, 40),
}


HYBRIDS = {"Gold": "hybrid", "Coral": "hybrid"}


def file_of(
    *panels: dict[str, Any], formulas: dict[str, str] | None = None, tools: list[dict[str, Any]] | None = None
) -> bytes:
    """A workspace file of inks by their formulas; panels name inks by place."""
    colours = ["#f4d64b", "#e2725b", "#3a6ea5", "#7b4b94", "#fbfbf8"]
    known = formulas or {"Gold": "dye", "Coral": "hybrid", "Denim": "dye", "Plum": "pigment", "Frost": "pigment"}
    inks = [
        {"name": name, "formula": formula, "ink": {"swatch": {"colour": {"hex": colour}}}}
        for (name, formula), colour in zip(known.items(), colours, strict=False)
    ]
    made = [{"name": f"P{n}", "width": 60, "height": 80, "angle": 0, **panel} for n, panel in enumerate(panels)]
    return as_bytes(
        {"wempa_workspace": 1, "inks": inks, "cards": [], "tools": tools or [], "panels": made, "overlaps": []}
    )


def told(data: bytes) -> dict[str, Any]:
    found: dict[str, Any] = plan_result(plan_file(data, 0.4)).model_dump(mode="json")
    return found


def does(found: dict[str, Any], *words: str) -> list[dict[str, Any]]:
    return [step for step in found["steps"] if step["do"] in words]


@pytest.mark.parametrize(
    ("before", "then", "cleaning", "do"),
    [
        ("lemon", "lemon", Cleaning.ALWAYS, None),
        ("lemon", "amber", Cleaning.ALWAYS, Do.WIPE),
        ("lemon", "amber", Cleaning.CARRY_OVER, None),
        ("amber", "lemon", Cleaning.CARRY_OVER, Do.WIPE),
        ("lemon", "navy", Cleaning.CARRY_OVER, Do.WIPE),
        ("lemon", "chalk", Cleaning.CARRY_OVER, Do.WASH),
        ("white", "clay", Cleaning.ALWAYS, Do.WASH),
        ("chalk", "clay", Cleaning.ALWAYS, Do.WIPE),
    ],
)
def test_a_tool_is_cleaned_by_what_it_held(before: str, then: str, cleaning: Cleaning, do: Do | None) -> None:
    assert cleaning_between(before, then, FACTS, Habits(cleaning=cleaning), TABLE) is do


def test_a_brush_a_colour_family_and_sets_apart() -> None:
    tools = [
        OwnTool("yellows", Tool.BRUSH, Family.YELLOW, ToolSet.DYE),
        OwnTool("blues", Tool.BRUSH, Family.BLUE, ToolSet.DYE),
        OwnTool("pigments", Tool.BRUSH, None, ToolSet.PIGMENT),
        OwnTool("any", Tool.BRUSH),
    ]
    needs = [Need(Tool.BRUSH, key) for key in ("lemon", "navy", "chalk", "amber")]
    held = assigned(needs, FACTS, tools, {}, frozenset(), Habits())
    names = {need.key: tools[tool].name for need, tool in held.items()}
    assert names == {"lemon": "yellows", "navy": "blues", "chalk": "pigments", "amber": "yellows"}
    # Two that meet on every panel go apart, for each meeting is a wiping.
    met = {(needs[0], needs[3]): 8}
    apart = assigned(needs, FACTS, tools, met, frozenset(), Habits())
    assert {tools[apart[needs[0]]].name, tools[apart[needs[3]]].name} == {"yellows", "any"}


def test_reactive_and_plain_dyes_share_a_brush_unless_that_is_not_wanted() -> None:
    facts = {**FACTS, "tea": replace(FACTS["amber"], reactive_dye=True)}
    tools = [OwnTool("yellows", Tool.BRUSH, Family.YELLOW), OwnTool("blues", Tool.BRUSH, Family.BLUE)]
    needs = [Need(Tool.BRUSH, "lemon"), Need(Tool.BRUSH, "tea")]
    wiped = assigned(needs, facts, tools, {}, frozenset(), Habits())
    separate = assigned(needs, facts, tools, {}, frozenset(), Habits(brush=SharedBrush.SEPARATE))
    assert wiped[needs[0]] == wiped[needs[1]] == 0
    assert separate[needs[0]] != separate[needs[1]]


def test_times_are_exact_and_said_sensibly() -> None:
    assert minutes(ticks(1.3)) == 1.3125
    assert ticks(0) == 1
    assert [span(value) for value in (0.02, 0.6, 1.0, 1.6, 45.4, 130)] == [
        "5 s",
        "35 s",
        "1 min",
        "2 min",
        "45 min",
        "2.2 h",
    ]


def test_bands_that_soak_are_laid_and_blended_one_after_the_other() -> None:
    found = told(file_of({"bands": [{"ink": 0}, {"ink": 2}]}))
    hands = [step["do"] for step in found["steps"] if step["hands"]]
    assert hands == [
        *("cut", "ready", "open_pads", "try_small", "load", "lay", "clean_mat"),
        *("load", "lay", "blend", "label", "close_pads", "log"),
    ]
    dry = does(found, "dry")
    # A dye of six passes with a brush: half an impression of its two minutes.
    # Counted from the last touch of either: to and fro.
    lay = does(found, "blend")[-1]
    assert dry[-1]["start"] + dry[-1]["minutes"] - (lay["start"] + lay["minutes"]) == pytest.approx(
        dry_minutes("dye", "brush", 6, "smooth"), abs=0.13
    )
    assert does(found, "log")[0]["start"] == dry[-1]["start"] + dry[-1]["minutes"]


def test_a_layer_over_dry_waits_and_says_for_what() -> None:
    found = told(file_of({"bands": [{"ink": 3}, {"ink": 0}], "seams": [{"wet": False}]}))
    lays = does(found, "lay")
    # The pale dye first: the pigment over it waits for a minute; the other way round it would be half an hour.
    assert lays[0]["inks"] == ["Gold"]
    assert lays[1]["start"] - (lays[0]["start"] + lays[0]["minutes"]) >= dry_minutes("dye", "brush", 6, "smooth") - 0.1
    load = does(found, "load")[1]
    assert "has to be dry" in load["why"]
    assert any(step["do"] == "dry" and step["n"] in load["after"] for step in found["steps"])
    naive = found["naive"]["total"]
    assert found["total"] <= naive


def test_what_dries_for_long_is_begun_first_and_the_rest_is_done_meanwhile() -> None:
    slow = {"bands": [{"ink": 3}], "tops": [{"kind": "water", "motif": "drops", "size": 3, "step": 12}]}
    quick = {"bands": [{"ink": 0}, {"ink": 2}]}
    found = told(file_of(quick, slow, quick))
    assert found["steps"][0]["of"] == "P1"
    assert found["total"] < 0.9 * found["naive"]["total"]
    assert found["gap"] == 0


def test_a_film_that_closes_too_soon_is_worked_in_parts() -> None:
    wide = {"width": 150, "height": 200, "bands": [{"ink": 0}, {"ink": 1}]}
    found = told(file_of(wide, formulas=HYBRIDS))
    step = next(step for step in found["steps"] if " parts: " in step["text"])
    parts = int(step["text"].split(" in ")[1].split(" parts")[0])
    assert step["minutes"] / parts <= 2.0
    assert set(step["inks"]) == {"Gold", "Coral"}
    alone = told(
        file_of(
            {"width": 30, "height": 30, "bands": [{"ink": 0}, {"ink": 1}]},
            formulas=HYBRIDS,
        )
    )
    assert not [step for step in alone["steps"] if " parts: " in step["text"]]
    # One foam for both closes the first before it is wiped: it is said.
    one = told(file_of(wide, formulas=HYBRIDS, tools=[{"name": "Foam", "tool": "foam"}]))
    assert [note["code"] for note in one["notes"]] == ["second_tool"]


def test_a_tool_that_nobody_named_is_stood_in_for_and_one_that_is_named_is_refused() -> None:
    brushes = [{"name": "Brush", "tool": "brush"}]
    found = told(file_of({"bands": [{"ink": 1}]}, tools=brushes))
    lay = does(found, "lay")[0]
    # Four passes of foam are as much ink as eight or nine of a brush.
    assert lay["text"].startswith("Coral: 8 passes")
    assert found["notes"][0]["code"] == "other_tool"
    with pytest.raises(JobError, match="P0 lays Coral with a foam"):
        plan_file(file_of({"bands": [{"ink": 1, "tool": "foam"}]}, tools=brushes), 0.2)


def test_an_ink_of_unknown_formula_is_told_before_the_start() -> None:
    found = told(file_of({"bands": [{"ink": 0}]}, formulas={"Gold": "unknown"}))
    assert [note["code"] for note in found["notes"]] == ["times_unknown"]
    assert "home test" in found["notes"][0]["text"]


def by(data: bytes, habits: Habits) -> TablePlan:
    """A file planned by some habits."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(from_file, "Habits", lambda: habits)
        return plan_file(data, 0.4)


def test_heat_dries_sooner_and_is_minded() -> None:
    data = file_of({"bands": [{"ink": 3}, {"ink": 1}], "seams": [{"wet": False}]})
    air, heat = by(data, Habits()), by(data, Habits(drying=DryingSchool.HEAT))
    assert heat.total < 0.75 * air.total
    heated = [step for step in heat.steps if step.do is Do.TREAT]
    assert heated
    assert "burns skin" in heated[0].caution


def test_one_ink_on_all_panels_saves_wiping_and_carrying_over_saves_more() -> None:
    three = [{"bands": [{"ink": 0}, {"ink": 2}]} for _ in range(3)]
    tools = [{"name": "Brush", "tool": "brush"}]
    data = file_of(*three, tools=tools)

    def wipes(plan: TablePlan) -> int:
        return sum(step.do is Do.WIPE for step in plan.steps)

    assert wipes(by(data, Habits())) == 5
    assert wipes(by(data, Habits(together=Together.INK_BY_INK))) == 1
    near = file_of(*three, formulas={"Gold": "dye", "x": "dye", "Amber": "dye"}, tools=tools)
    assert wipes(by(near, Habits(cleaning=Cleaning.CARRY_OVER))) <= wipes(by(near, Habits()))


def test_the_card_is_turned_for_the_hand_that_would_cross_wet_ink() -> None:
    # From the left to the right a right hand never crosses what is wet; a left hand does.
    data = file_of({"bands": [{"ink": 0}, {"ink": 2}]})

    def turns(habits: Habits) -> int:
        return sum(step.do is Do.TURN for step in by(data, habits).steps)

    assert turns(Habits()) == 0
    assert turns(Habits(hand=HandSide.LEFT)) == 1


def test_a_slower_hand_takes_longer() -> None:
    data = file_of({"bands": [{"ink": 0}, {"ink": 2}]})
    usual, slow = by(data, Habits()), by(data, Habits(paces={Do.LAY: 2.0}))
    lays = [sum(step.ticks for step in plan.steps if step.do is Do.LAY) for plan in (usual, slow)]
    assert lays[1] == pytest.approx(2 * lays[0], rel=0.05)


def test_paces_are_drawn_towards_what_is_usual_and_forgotten_steps_say_little() -> None:
    table = {**TABLE, "table.times": 6.0, "table.pace_most": 4.0}
    assert paces([], table) == {}
    assert paces([{Do.LAY: Took(6, 6.0, 12.0)}], table)[Do.LAY] == pytest.approx(1.5)
    assert paces([{Do.LAY: Took(60, 60.0, 120.0)}], table)[Do.LAY] == pytest.approx(1.909, abs=0.001)
    # Twelve hours for a step of a minute: somebody forgot to tick it off.
    assert paces([{Do.LAY: Took(6, 6.0, 4000.0)}], table)[Do.LAY] == pytest.approx(2.5)


# Under way.


@pytest.fixture(scope="module")
def evening() -> TablePlan:
    return plan_file(as_bytes(random_evening(5)), 0.3)


def worked(plan: TablePlan, count: int, slower: float = 1.0) -> tuple[list[Mark], int]:
    """Marks of the first so many steps, each so many times as long, and when the last was done."""
    marks: list[Mark] = []
    now = 0
    for _ in range(count):
        step = next(step for step in standing(plan.evening, plan.order, marks, now).due if step.hands)
        began = max(now, step.start)
        now = began + round(step.ticks * slower)
        marks.append(mark_of(plan.evening, step, began, now))
    return marks, now


def test_what_was_done_as_planned_leaves_the_rest_as_it_was(evening: TablePlan) -> None:
    hands = [step for step in evening.steps if step.hands]
    for count in (1, 7, 20, len(hands) - 1):
        marks, now = worked(evening, count)
        stands = standing(evening.evening, evening.order, marks, now)
        assert stands.total == evening.total
        later = [step for step in stands.due if step.hands]
        assert [(step.text, step.start) for step in later] == [(step.text, step.start) for step in hands[count:]]
    marks, now = worked(evening, len(hands))
    stands = standing(evening.evening, evening.order, marks, now)
    assert not stands.due
    assert times_taken(evening.evening, marks)[Do.LAY].took == pytest.approx(
        times_taken(evening.evening, marks)[Do.LAY].planned
    )


def test_a_bout_that_was_begun_is_gone_on_with_and_nothing_is_done_twice(evening: TablePlan) -> None:
    marks, now = worked(evening, 9)
    order = planned_anew(evening.evening, evening.order, marks, now + 400, 0.3)
    begun, bouts = left(evening.evening, marks, now + 400)
    if begun.first is not None:
        assert order[0] == begun.first
    assert sorted(order) == sorted(bouts)
    todo = sum(len(bout.acts) for bout in bouts.values())
    assert todo + sum(mark.act >= 0 for mark in marks) == sum(len(bout.acts) for bout in evening.evening.bouts)
    before = standing(evening.evening, evening.order, marks, now + 400).total
    assert standing(evening.evening, order, marks, now + 400).total <= before


def test_a_later_step_moves_the_end_by_no_more_than_it_took_longer(evening: TablePlan) -> None:
    marks, now = worked(evening, 12)
    late = marks[-1]
    marks[-1] = replace(late, ended=late.ended + 160)
    stands = standing(evening.evening, evening.order, marks, now + 160)
    assert evening.total <= stands.total <= evening.total + 160


def test_any_order_that_keeps_the_rules_is_no_sooner_than_the_bound(evening: TablePlan) -> None:
    bouts = dict(enumerate(evening.evening.bouts))
    found = scheduled(evening.evening, bouts, 0.5)
    naive = laid_out(evening.evening, bouts, naive_order(bouts))
    assert found.bound <= found.total <= total_of(bouts, naive)
    assert scheduled(evening.evening, bouts, 0.0).total <= total_of(bouts, naive)


def test_what_has_no_ink_on_it_is_left_out_and_nothing_at_all_is_refused() -> None:
    found = told(file_of({"bands": [{"ink": 0}]}, {"bands": []}))
    assert {step["of"] for step in found["steps"]} == {"P0"}
    assert found["notes"][0] == {"code": "nothing_on_it", "text": "P1 has no ink on it yet and is left out."}
    with pytest.raises(JobError, match="nothing to plan"):
        plan_file(file_of({"bands": []}), 0.1)


def test_a_roller_that_nobody_owns_is_taken_for_granted_and_rolls() -> None:
    rolled = {"layout": "roller", "rolls": 2, "bands": [{"ink": 0}, {"ink": 2}]}
    found = told(file_of(rolled, tools=[{"name": "Brush", "tool": "brush"}]))
    assert "tool_supposed" in [note["code"] for note in found["notes"]]
    lays = does(found, "lay")
    assert [step["inks"] for step in lays] == [["Gold", "Denim"], ["Gold", "Denim"]]
    # Once more from the other side when the first rolling is dry.
    assert lays[1]["start"] - lays[0]["start"] - lays[0]["minutes"] > 1.0
