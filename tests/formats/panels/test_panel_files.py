"""Plans of panels, SVG paths, and what is printed of a panel."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, Job
from wempa.craft.lengths import size_in_both
from wempa.craft.panels.bands import Seam
from wempa.craft.vocabulary import Layout, Load, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink
from wempa.formats.panels.plan import PanelPlan
from wempa.formats.panels.svg_path import outlines
from wempa.formats.places import to_numbers, to_places

INKS = tuple((str(k), Ink.model_validate(body["body"]).to_core()) for k, body in enumerate(ink_bodies()))
JOB = Job(Card(Colour(hex="#f8f7f4")), INKS)


def plan(**changes: object) -> PanelPlan:
    return PanelPlan.model_validate({"bands": [{"ink_id": 0}, {"ink_id": 18}, {"ink_id": 2}], **changes})


def test_a_border_that_nobody_measured_is_five_millimetres_wide() -> None:
    assert plan(width=100, height=140, frame="border").inked() == (90, 130)
    assert plan(width=100, height=140, frame="mat").inked() == (100, 140)
    assert plan(width=100, height=140, bleed=3).cut_size() == (106, 146)


def test_what_is_not_said_follows_from_inks_tools_and_room() -> None:
    _, panel = plan().to_core(JOB, {"2": Load.JUICY})
    assert [band.lay.tool for band in panel.bands] == [Tool.BRUSH, Tool.FOAM, Tool.BRUSH]
    assert panel.bands[2].lay.load is Load.JUICY
    assert len(panel.seams) == 2
    assert panel.soft == 1
    assert panel.seams == (Seam(), Seam())
    _, fan = plan(layout="fan").to_core(JOB, {})
    assert len(fan.seams) == 3
    _, stamped = plan(bands=[{"ink_id": 0, "tool": "stamp"}, {"ink_id": 1, "dose": 0.5}]).to_core(JOB, {})
    assert stamped.bands[0].lay.passes == 1
    assert stamped.bands[1].lay.dose == 0.5
    light, usual, deep = (plan(hand=hand).to_core(JOB, {})[1].bands[0].lay for hand in ("light", "usual", "deep"))
    assert light.passes < usual.passes < deep.passes
    assert (light.load, usual.load, deep.load) == (Load.LIGHT, Load.NORMAL, Load.NORMAL)
    # What is said of one band is not changed by the hand.
    said_passes = plan(hand="deep", bands=[{"ink_id": 0, "passes": 3, "load": "juicy"}]).to_core(JOB, {})[1].bands[0]
    assert (said_passes.lay.passes, said_passes.lay.load) == (3, Load.JUICY)
    _, said = plan(soft=0.3, seams=[{"overlap": 8, "wet": False}, {"gap": 2, "soft": 0.5}]).to_core(JOB, {})
    assert said.soft == 0.3
    assert said.seams == (Seam(overlap=8, wet=False), Seam(gap=2, soft=0.5))


def test_white_goes_under_and_border_takes_from_the_ink() -> None:
    job, panel = plan(white_id=26, frame="border", frame_width=6).to_core(JOB, {})
    assert len(job.stack) == 1
    assert panel.front.width == pytest.approx(107.95 - 12)
    assert plan(bleed=3).cut_size() == pytest.approx((113.95, 145.7))
    with pytest.raises(JobError, match="leaves nothing"):
        plan(frame="border", frame_width=60).to_core(JOB, {})


@pytest.mark.parametrize(
    "changes",
    [
        {"width": 1e9},
        {"bands": [{"ink_id": 0, "passes": 0}]},
        {"rolls": 3},
        {"centre": [0.5]},
        {"centre": [0.5, 2]},
        {"school": "by feeling"},
        {"width": float("nan")},
        {"colour": "red"},
    ],
)
def test_bad_plans_are_refused(changes: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        plan(**changes)


def test_changed_keeps_what_was_given_and_says_what_is_new() -> None:
    given = plan(seams=[{"overlap": 9.0}, {}])
    job, before = given.to_core(JOB, {})
    assert given.changed(before, before, job) == given.whole()
    wet = replace(before, seams=(before.seams[0], replace(before.seams[1], wet=True)))
    found = given.changed(before, wet, job)
    assert found.seams[0].overlap == 9.0
    assert found.seams[1].wet
    assert found.seams[1].overlap is None
    _, again = found.to_core(JOB, {})
    assert again == wet


def test_numbers_become_places_and_come_back() -> None:
    whole = plan(tops=[{"kind": "ink", "ink_id": 7}], white_id=26, layout=Layout.RINGS).model_dump(mode="json")
    stored = {**whole, "card_id": 3, "mat_id": None}
    file = to_places(stored, lambda kind, number: number + (100 if kind == "ink" else 50))
    assert [band["ink"] for band in file["bands"]] == [100, 118, 102]
    assert (file["white"], file["card"], file["tops"][0]["ink"]) == (126, 53, 107)
    back = to_numbers(file, lambda kind, place: place - (100 if kind == "ink" else 50))
    assert back == {**stored, "mat_id": None}


def test_paths_become_outlines() -> None:
    (square,) = outlines("M0 0 H10 V10 H0 Z")
    assert square == ((0, 0), (10, 0), (10, 10), (0, 10))
    two = outlines("m0,0 l10,0 0,10z M2 2 3 2 3 3 2 3Z")
    assert len(two) == 2
    (curved,) = outlines("M0 0 C10 -9 22 -9 32 0 C22 9 10 9 0 0 Z")
    assert len(curved) == 33
    assert max(y for _, y in curved) == pytest.approx(6.75, abs=0.1)
    (round_,) = outlines("M10 0 A10 10 0 1 1 -10 0 A10 10 0 1 1 10 0 Z")
    assert all(x * x + y * y == pytest.approx(100, rel=1e-3) for x, y in round_)


@pytest.mark.parametrize(
    ("path", "said"),
    [("", "encloses nothing"), ("M0 0", "encloses nothing"), ("M0 0L5 5", "encloses nothing"), ("M" * 20_001, "20000")],
)
def test_bad_paths_are_one_sentence(path: str, said: str) -> None:
    with pytest.raises(JobError, match=said):
        outlines(path)


@given(st.text(alphabet="MLHVCSQTAZmlhvcsqtaz0123456789-., e+", max_size=60))
def test_any_path_gives_outlines_or_one_sentence(path: str) -> None:
    try:
        found = outlines(path)
    except JobError:
        return
    assert all(len(ring) > 2 for ring in found)


def test_lengths_in_inches() -> None:
    assert size_in_both((107.95, 139.7), inch=True) == "4 1/4 × 5 1/2 in (108 × 140 mm)"
    assert size_in_both((105, 148), inch=False).startswith("105 × 148 mm")


def test_a_sheet_has_a_grain_only_where_somebody_says_so() -> None:
    assert plan().sheet.grain is False
    assert (plan().sheet.width, plan().sheet.height) == (210, 297)
