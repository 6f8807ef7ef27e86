"""Nudges lead where they say, keep what is laid, and admit when nothing helps."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.overlap import nudges as overlap_nudges
from wempa.craft.overlap.nudges import Nudge, less_of, more_of, nudges
from wempa.craft.prediction import many_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.vocabulary import Towards, VerdictKind
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import read_one
from wempa.optics import colorimetry as cm

INKS: dict[str, Any] = {ink["name"]: ink["body"] for ink in ink_bodies()}
BRUSHED = {"tool": "brush", "passes": 6}


def laid(*names: str, card: str = "#f8f7f4", stash: bool = True) -> Job:
    return read_one(
        {
            "wempa": 1,
            "cardstock": {"colour": {"hex": card}},
            "inks": {name: INKS[name] for name in names},
            "stack": [{"ink": name, **BRUSHED} for name in names],
            "stash": {"inks": INKS if stash else {}},
        }
    )


def by_code(found: tuple[Nudge, ...]) -> dict[str, Nudge]:
    return {nudge.code: nudge for nudge in found}


STACKS = [("Boiler Blue",), ("Brass Gauge",), ("Boiler Blue", "Brass Gauge"), ("Ticket Pink",), ("Mist Over Points",)]


@pytest.mark.parametrize("names", STACKS)
@pytest.mark.parametrize("on_card", [True, False])
def test_each_nudge_leads_its_way_by_a_step_that_is_seen(names: tuple[str, ...], on_card: bool) -> None:
    job = laid(*names)
    already = len(job.stack) if on_card else 0
    wanted = wanted_colours(job)
    before = predict(job)
    base = before.colour.lab
    found = by_code(nudges(job, already, wanted))
    assert set(found) == set(Towards)
    for nudge in found.values():
        if nudge.job is None:
            assert nudge.text.startswith("Nothing on the shelf")
            continue
        assert nudge.after is not None
        assert nudge.job.stack[:already] == job.stack[:already]
        lab = nudge.after.colour.lab
        apart = float(cm.delta_e(lab, base))
        assert 1.2 < apart <= 12
        assert nudge.after.verdict.kind is not VerdictKind.MUDDY or before.verdict.kind is VerdictKind.MUDDY
        # What is promised is what a prediction of the changed stack gives.
        assert predict(nudge.job, wanted).colour.hex == nudge.after.colour.hex
    if found["lighter"].after is not None:
        assert found["lighter"].after.colour.lab[0] > base[0] + 2
    if found["darker"].after is not None:
        assert found["darker"].after.colour.lab[0] < base[0] - 2
    if found["cleaner"].after is not None:
        assert cm.lch(found["cleaner"].after.colour.lab)[1] > cm.lch(base)[1]


def test_hue_turns_the_way_it_is_asked_to() -> None:
    blue = by_code(nudges(laid("Boiler Blue"), 0))
    base = predict(laid("Boiler Blue")).colour.lab
    for code, sign in (("pinker", 1), ("greener", -1)):
        after = blue[code].after
        assert after is not None
        assert sign * (after.colour.lab[1] - base[1]) > 2
    yellow = by_code(nudges(laid("Brass Gauge"), 0))
    warmer = yellow["warmer"].after
    assert warmer is not None
    assert warmer.colour.lab[1] > predict(laid("Brass Gauge")).colour.lab[1] + 3


def test_with_nothing_on_the_shelf_only_the_plan_itself_can_change() -> None:
    job = laid("Boiler Blue", "Brass Gauge", stash=False)
    assert all(nudge.job is None or len(nudge.job.inks) <= 2 for nudge in nudges(job, 0))
    stuck = by_code(nudges(laid("Boiler Blue", stash=False), 1))
    assert stuck["pinker"].job is None
    assert stuck["lighter"].job is None


def test_more_and_less_of_one_lay_down() -> None:
    job = laid("Boiler Blue", "Brass Gauge")
    base = predict(replace(job, stash=Stash())).colour.lab
    more, less = more_of(job, 0, 0), less_of(job, 0, 0)
    for nudge, sign in ((more, 1), (less, -1)):
        assert nudge.job is not None
        entry, old = nudge.job.stack[0], job.stack[0]
        assert isinstance(entry, LayDown)
        assert isinstance(old, LayDown)
        assert sign * (entry.passes - old.passes) > 0
        assert nudge.after is not None
        assert float(cm.delta_e(nudge.after.colour.lab, base)) >= 3
    on_top = more_of(job, 0, 2)
    assert on_top.job is not None
    assert on_top.job.stack[:2] == job.stack
    assert len(on_top.job.stack) == 3
    kept = less_of(job, 0, 2)
    assert kept.job is None
    assert "only be added to" in kept.text


def test_doses_are_nudged_as_doses() -> None:
    job = read_one(
        {
            "wempa": 1,
            "cardstock": {"colour": {"hex": "#f8f7f4"}},
            "inks": {"a": INKS["Boiler Blue"]},
            "stack": [{"ink": "a", "dose": 1}],
        }
    )
    for nudge, sign in ((more_of(job, 0, 0), 1), (less_of(job, 0, 0), -1)):
        assert nudge.job is not None
        entry = nudge.job.stack[0]
        assert isinstance(entry, LayDown)
        assert entry.dose is not None
        assert sign * (entry.dose - 1) > 0


@pytest.mark.parametrize("names", [("Boiler Blue",), ("Brass Gauge", "Cutting Green"), ("Mist Over Points",)])
def test_the_first_that_stays_clean_is_taken_however_far_down_the_list_it_stands(
    names: tuple[str, ...], monkeypatch: pytest.MonkeyPatch
) -> None:
    # Of a line so strict much is muddy.
    job = replace(laid(*names), mud_line=4)
    wanted = wanted_colours(replace(job, stash=Stash()))
    asked: list[int] = []
    weigh = many_stacks.weigh_stacks

    def counted(*given: Any) -> Any:
        asked.append(len(given[1]))
        return weigh(*given)

    monkeypatch.setattr(overlap_nudges, "weigh_stacks", counted)
    monkeypatch.setattr(overlap_nudges, "_FIRST", 10_000)
    every = nudges(job, len(job.stack), wanted)
    most = sum(asked)
    for first in (1, 4):
        asked.clear()
        monkeypatch.setattr(overlap_nudges, "_FIRST", first)
        found = nudges(job, len(job.stack), wanted)
        assert [(each.code, each.text) for each in found] == [(each.code, each.text) for each in every]
        assert sum(asked) < most
    assert all(each.after.verdict.mud < 4 for each in every if each.after is not None)
    assert any(each.after is not None for each in every)
