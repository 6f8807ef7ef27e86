from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.craft.log.worlds import INKS, MANY, job_of, lay, seen_in, with_rows
from wempa.craft import constants
from wempa.craft.log.drift import Drifted, after_drift, drifts, less_sure
from wempa.craft.log.guessing import CHOICES, LATER, Mistake, Round, due, mistake, question
from wempa.craft.log.learning import learn
from wempa.craft.log.lines import own_line
from wempa.craft.log.next_squares import next_squares
from wempa.craft.log.observations import believed_of
from wempa.craft.log.strip import strip_stacks
from wempa.craft.log.supposed import Supposed
from wempa.craft.vocabulary import Formula, Load, Look, Tool, Treatment
from wempa.optics import colorimetry as cm

T = constants.AS_SHIPPED


def test_an_ink_that_dries_out_is_pointed_out_and_since_when() -> None:
    jobs = [job_of(lay("blue", 4))] * 7
    believed = believed_of(jobs)
    _, sound = seen_in(Supposed.of(believed), jobs[:4], spread=1.0, noise=0.4)
    _, dry = seen_in(with_rows(jobs, {}, blue=0.55), jobs[4:], spread=1.0, noise=0.4)
    (found,) = drifts([*sound, *dry], T, {"blue": "Boiler Blue"})
    assert (found.key, found.how, found.since) == ("blue", Drifted.PALER, 4)
    assert found.factor == pytest.approx(0.55, abs=0.12)
    assert found.text.startswith("Boiler Blue comes out paler")
    assert "Re-ink" in found.text
    _, strong = seen_in(with_rows(jobs, {}, blue=1.7), jobs[4:], spread=1.0, noise=0.4)
    (again,) = drifts([*sound, *strong], T, {"blue": "Boiler Blue"})
    assert again.how is Drifted.STRONGER
    assert drifts([*sound, *sound], T, {}) == []
    # What is seen while wet, or of other inks, says nothing of it, and counts all the same where one begins to count.
    both = [job_of(lay("yellow", 4))] * 2
    _, other = seen_in(Supposed.of(believed_of(both)), both)
    wet = [replace(one, job=replace(one.job, look=Look.WET)) for one in dry]
    (later,) = drifts([*wet, *other, *sound, *dry], T, {})
    assert (later.key, later.since) == ("blue", len(wet) + 2 + 4)
    assert drifts(sound[:3], T, {}) == []


def test_nothing_is_learned_from_a_changed_ink_from_its_first_day_on() -> None:
    job = job_of(lay("blue", 4), lay("yellow", 4))
    named = dict(job.inks)["blue"].name
    since = {"blue": "2026-11-04"}
    assert [bool(after_drift(job, f"2026-11-0{day}", since)) for day in (3, 4, 5)] == [False, True, True]
    assert after_drift(job, "2026-11-04", since).startswith(named or "Its ink")
    assert after_drift(job, "", since) == ""
    assert after_drift(job_of(lay("yellow", 4)), "2026-11-05", since) == ""


def test_a_changed_ink_is_known_less_surely_and_others_as_well_as_before() -> None:
    jobs = [job_of(lay("blue", 4)), job_of(lay("yellow", 4))] * 6
    believed, seen = seen_in(with_rows(jobs, {}, blue=0.7), jobs, spread=1.0, noise=0.3)
    fit = learn(believed, seen, T)
    doubted = less_sure(fit, {"blue", "an ink that is not there"}, T)
    was, now = fit.world.inks["blue"].swatch, doubted.world.inks["blue"].swatch
    own = T[f"known.{was.known}.spread"] if was.spread is None else was.spread
    assert now.spread == pytest.approx((own**2 + T["drift.spread"] ** 2) ** 0.5, abs=0.006)
    assert doubted.world.inks["yellow"] == fit.world.inks["yellow"]


def test_an_ink_that_has_turned_is_another_colour_and_not_paler() -> None:
    jobs = [job_of(lay("yellow", 4))] * 6
    _, sound = seen_in(Supposed.of(believed_of(jobs)), jobs, spread=1.0, noise=0.2)
    turned = []
    for one in sound[3:]:
        assert one.seen.lab is not None
        l, a, b = one.seen.lab
        colour = replace(one.seen, lab=(l - 1, a + 16, b - 8))
        turned.append(replace(one, seen=colour))
    (found,) = drifts([*sound[:3], *turned], T, {"yellow": "Brass Gauge"})
    assert found.how is Drifted.OTHER
    assert found.turned > 3
    # Three readings within 1 ΔE00 before and three after.
    assert found.sure == pytest.approx(found.turned / (1 / 3 + 1 / 3) ** 0.5)
    assert "another colour" in found.text
    # Off from the first on it is what its swatch says that is wrong, and not the ink that changed.
    assert drifts([*turned, *turned], T, {}) == []


def test_a_line_follows_verdicts_and_stays_where_it_was_without_them() -> None:
    usual = (50.0, 12.0, 6.0, 0.0, 100.0)
    late = own_line([30, 45, 55, 60, 66, 80, 90], [False, False, False, False, False, True, True], *usual)
    soon = own_line([10, 20, 28, 33, 40, 70], [False, False, True, True, True, True], *usual)
    assert late is not None
    assert soon is not None
    assert 62 < late.at < 78
    assert 25 < soon.at < 42
    assert late.count == 7
    # More of the same makes it surer.
    more = own_line([30, 45, 55, 60, 66, 80, 90] * 4, [False, False, False, False, False, True, True] * 4, *usual)
    assert more is not None
    assert more.doubt < late.doubt
    # One slip moves it little.
    slip = own_line([5, 30, 45, 55, 60, 66, 80, 90], [True, *[False] * 5, True, True], *usual)
    assert slip is not None
    assert abs(slip.at - late.at) < 6
    assert own_line([1, 2, 3, 4], [False, False, True, True], *usual) is None
    assert own_line([10, 20, 30, 40, 50], [False] * 5, *usual) is None


def test_the_next_squares_narrow_what_is_planned_and_not_what_is_known() -> None:
    planned = [job_of(*stack) for stack in ((lay("red", 4), lay("yellow", 3)), (lay("red", 6),))]
    possible = [job_of(lay(ink, 4)) for ink in ("red", "yellow", "blue")] + [job_of(lay("jug", 4, Tool.FOAM))]
    found = next_squares(planned, possible, [], T, most=3, fewest=1)
    # The red is known from its lid only and lies in all that is planned.
    assert found[0].place == 0
    assert found[0].about == ("red",)
    assert all(one.after < one.before for one in found)
    assert [one.before for one in found[1:]] == pytest.approx([one.after for one in found[:-1]])
    _, logged = seen_in(Supposed.of(believed_of(possible)), [possible[0]] * 6, spread=0.5)
    again = next_squares(planned, possible, logged, T, most=3, fewest=1)
    assert again[0].place != 0
    assert again[0].before < found[0].before
    assert next_squares([], possible, [], T) == []


def test_the_greedy_choice_is_as_good_as_every_pair() -> None:
    planned = [job_of(*stack) for stack in MANY]
    possible = [job_of(lay(ink, passes)) for ink in ("red", "yellow", "blue") for passes in (2, 6)]
    two = next_squares(planned, possible, [], T, most=2, fewest=2)
    best = two[-1].after
    for one in range(len(possible)):
        for other in range(one):
            pair = next_squares(planned, [possible[one], possible[other]], [], T, most=2, fewest=2)
            assert best <= pair[-1].after * 1.03


def test_a_strip_is_one_two_four_and_eight_passes() -> None:
    brush = strip_stacks("a", Formula.DYE, Tool.BRUSH, Load.NORMAL, False, T)
    assert [stack[0].passes for _, stack in brush if not isinstance(stack[0], Treatment)] == [1, 2, 4, 8]
    assert [said for said, _ in brush] == ["brush, 1 pass", "brush, 2 passes", "brush, 4 passes", "brush, 8 passes"]
    assert len(strip_stacks("a", Formula.DYE, Tool.STAMP, Load.NORMAL, False, T)) == 1
    assert [said for said, _ in strip_stacks("a", Formula.DYE, Tool.DIP, Load.NORMAL, False, T)] == [
        "dip, 1 time",
        "dip, 2 times",
    ]
    water = strip_stacks("a", Formula.REACTIVE_DYE, Tool.BRUSH, Load.NORMAL, True, T)
    assert water[1][1][-1] is Treatment.SPRITZ
    assert water[0][1][0] == water[1][1][0]


def test_questions_have_one_right_answer_and_colours_that_can_be_told_apart() -> None:
    pairs = [job_of(lay(a, 6), lay(b, 6)) for a in INKS for b in INKS if a != b]
    muddy = 0
    for seed in range(12):
        asked = question(pairs, seed)
        assert asked is not None
        assert len(asked.choices) == CHOICES
        labs = np.stack(asked.choices)
        apart = [cm.delta_e(labs[a], labs[b]) for a in range(CHOICES) for b in range(a)]
        assert min(apart) >= 8
        if asked.right == CHOICES:
            muddy += 1
            assert asked.prediction.verdict.kind == "muddy"
            assert mistake(asked, 0) is Mistake.MUD_MISSED
        else:
            assert cm.delta_e(labs[asked.right], asked.prediction.colour.lab) < 0.01
            assert mistake(asked, CHOICES) is Mistake.MUD_FEARED
        assert mistake(asked, asked.right) is Mistake.NONE
    assert muddy < 12
    again = question(pairs, 3)
    assert again is not None
    assert again.job == question(pairs, 3).job  # type: ignore[union-attr]


def test_kinds_of_mistake() -> None:
    asked = question([job_of(lay("yellow", 4), lay("blue", 4))], 1)
    assert asked is not None
    base = np.array([50.0, -30.0, 20.0])
    lighter = np.array([20.0, 0.0, 0.0])
    told = [
        base,
        base + lighter,
        base - lighter,
        base * [1, 1.8, 1.8],
        base * [1, 0.3, 0.3],
        np.array([50, 30, 20]),
    ]
    made = replace(asked, choices=tuple(told), right=0)
    assert [mistake(made, n) for n in range(6)] == [
        Mistake.NONE,
        Mistake.TOO_LIGHT,
        Mistake.TOO_DARK,
        Mistake.TOO_CLEAN,
        Mistake.TOO_DULL,
        Mistake.HUE,
    ]


def test_what_was_missed_comes_back_later_and_later() -> None:
    missed = Round(("1", "2"), 10, 0)
    assert due([missed], 12) is None
    assert due([missed], 10 + LATER[0]) == missed
    once = replace(missed, rights=1)
    assert due([once], 10 + LATER[0]) is None
    assert due([once], 10 + LATER[1]) == once
    assert due([replace(missed, rights=-1)], 900) is None
    assert due([replace(missed, rights=len(LATER))], 900) is None
    older = Round(("3", "4"), 2, 0)
    assert due([missed, older], 20) == older
