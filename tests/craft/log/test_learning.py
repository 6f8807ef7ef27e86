from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bench import learning as worlds
from tests.craft.log.worlds import INKS, MANY, SNOW, job_of, lay, seen_in, with_rows
from wempa.craft import constants
from wempa.craft.constants import TABLE
from wempa.craft.errors import JobError
from wempa.craft.job import Colour, Ink, Job, Swatch
from wempa.craft.log.knobs import each_moved, knobs_of, moved
from wempa.craft.log.learning import LearningStopped, learn, predicted, reworded, seen_lab
from wempa.craft.log.observations import Observation, as_seen, believed_of
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.log.told import evenly, gain_said, lessons, notes_of, share_said
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Formula, Look, Tool, Treatment
from wempa.optics import colorimetry as cm

T = constants.AS_SHIPPED
JOBS = [job_of(*stack) for stack in MANY]
HEAVY = {"tool.brush.amount": TABLE["tool.brush.amount"].value * 1.4}


def _error(world: Supposed, believed, asked: list[Observation]) -> float:  # type: ignore[no-untyped-def]
    true = np.stack([seen_lab(one) for one in asked])
    return float(cm.delta_e(predicted(believed, world, asked), true).mean())


def test_a_supposed_world_predicts_what_predict_does() -> None:
    jobs = [
        *JOBS,
        job_of(lay("coral", 3), lay("blue", 2, over="wet"), Treatment.GLAZE),
        job_of(lay("blue", 6), Treatment.HEAT),
        job_of(lay("red", 2, Tool.DIP), lay("blue", 1, Tool.DIP)),
        job_of(lay("jug", 3), look=Look.WET),
        job_of(),
    ]
    believed = believed_of(jobs)
    found = Bench(believed).labs([(Observation(job, SNOW.colour, 1), Supposed.of(believed)) for job in jobs])
    assert np.abs(found - np.stack([predict(job).colour.lab for job in jobs])).max() < 1e-6


def test_where_water_was_dropped_the_drops_are_asked_for() -> None:
    job = job_of(lay("coral", 6), Treatment.SPRITZ)
    believed = believed_of([job])
    found = Bench(believed).labs([(Observation(job, SNOW.colour, 1, drops=True), Supposed.of(believed))])
    drops = predict(job).drops
    assert drops is not None
    assert np.abs(found[0] - drops.lab).max() < 1e-6


def test_strength_is_a_factor_on_what_a_tool_lays_and_never_on_the_swatch() -> None:
    plain, strong = (job_of(lay("blue", 4), inks={"blue": replace(INKS["blue"], strength=s)}) for s in (1.0, 1.5))
    half_more = job_of(lay("blue", 6))
    # Not on a full card yet, so half as strong again is half as many passes again, but for the specks.
    assert cm.delta_e(predict(strong).colour.lab, predict(half_more).colour.lab) < 0.6
    assert predict(plain).colour.lab[0] > predict(strong).colour.lab[0] + 4
    stated = [
        job_of(replace(lay("blue"), tool=None, dose=1.0), inks={"blue": replace(INKS["blue"], strength=s)})
        for s in (1.0, 2.0)
    ]
    assert np.allclose(predict(stated[0]).colour.lab, predict(stated[1]).colour.lab)


def test_each_knob_by_itself_is_the_whole_moved_there() -> None:
    believed, seen = seen_in(with_rows(JOBS, HEAVY), JOBS)
    first = Supposed.of(believed)
    knobs = knobs_of(believed, seen, T)
    at = np.random.default_rng(3).normal(0, 0.4, len(knobs))
    steps = np.full(len(knobs), 0.3)
    bench = Bench(believed)
    for k, world in enumerate(each_moved(first, knobs, at.tolist(), steps.tolist())):
        by = at.copy()
        by[k] += 0.3
        whole = moved(first, knobs, by.tolist())
        if k % 5 == 0:
            asked = [(one, world) for one in seen] + [(one, whole) for one in seen]
            labs = bench.labs(asked)
            assert np.abs(labs[: len(seen)] - labs[len(seen) :]).max() < 1e-9, knobs[k].what


def test_a_heavy_hand_is_learned_and_told() -> None:
    true = with_rows(JOBS, HEAVY)
    believed, seen = seen_in(true, JOBS, noise=0.4)
    fit = learn(believed, seen, T)
    assert fit.adopted
    assert fit.world.rows["tool.brush.amount"] / TABLE["tool.brush.amount"].value == pytest.approx(1.4, abs=0.12)
    assert fit.after[1] < 0.6 * fit.before[1]
    texts = [each.text for each in lessons(fit, believed, ["Snow"], T)]
    assert texts[0].startswith(("Your brush lays about a third more", "Your brush lays about two fifths more"))
    assert "nearer" in gain_said(fit) or "near" in gain_said(fit)
    # What it was not learned from is nearer too.
    others = [job_of(lay("blue", 3)), job_of(lay("red", 6), lay("yellow", 2)), job_of(lay("coral", 5))]
    believed = believed_of([*JOBS, *others])
    _, asked = seen_in(with_rows([*JOBS, *others], HEAVY), others)
    assert _error(replace(fit.world, inks={**believed.inks, **fit.world.inks}), believed, asked) < 0.35 * _error(
        Supposed.of(believed), believed, asked
    )


def test_what_is_true_already_is_not_learned_away() -> None:
    believed, seen = seen_in(Supposed.of(believed_of(JOBS)), JOBS, spread=1.0, noise=0.6)
    fit = learn(believed, seen, T)
    assert not fit.adopted
    assert abs(fit.world.rows.get("tool.brush.amount", 0.085) / 0.085 - 1) < 0.1
    assert [note.code for note in notes_of(fit, evenly(len(seen)))] == ["not_better"]


def test_one_ink_that_comes_on_strong_is_told_from_a_heavy_hand() -> None:
    true = with_rows(JOBS, {}, red=1.45)
    believed, seen = seen_in(true, JOBS, noise=0.3)
    fit = learn(believed, seen, T)
    red, blue = (fit.world.inks[key].strength or 1.0 for key in ("red", "blue"))
    assert red > 1.25
    assert abs(blue - 1) < 0.1
    assert any(each.text.startswith("Flag Red comes on stronger") for each in lessons(fit, believed, ["Snow"], T))


def test_a_range_moves_inks_that_were_not_logged() -> None:
    # Three of one range come on weak under the same brush as three of another that do not.
    colours = ("#3f9a4e", "#7a3a6e", "#46a7b8")
    others = {f"other {n}": Ink(Swatch(Colour(hex=code)), Formula.DYE, f"Other {n}") for n, code in enumerate(colours)}
    inks = {key: INKS[key] for key in ("blue", "yellow", "red")} | others
    jobs = [job_of(lay(key, passes), inks=inks) for key in inks for passes in (2, 6)]
    keys = ("blue", "yellow", "red")
    believed, seen = seen_in(with_rows(jobs, {}, **dict.fromkeys(keys, 0.62)), jobs, spread=0.3, noise=0.15)
    new = Ink(INKS["blue"].swatch, Formula.DYE, "Never Logged")
    ranges = dict.fromkeys((*keys, "new"), "Footplate") | dict.fromkeys(others, "Guard's Van")
    fit = learn(replace(believed, inks={**believed.inks, "new": new}, ranges=ranges), seen, T)
    assert fit.adopted
    lays = {key: dict(ink.constants).get("lays", 1.0) for key, ink in fit.world.inks.items()}
    assert lays["new"] == pytest.approx(lays["blue"])
    assert lays["new"] < 0.9
    assert lays["other 1"] > lays["new"] + 0.08
    assert fit.world.inks["new"].strength is None


def test_one_bad_swatch_is_named_and_counts_little() -> None:
    true = with_rows(JOBS, HEAVY)
    believed, seen = seen_in(true, JOBS, noise=0.3)
    plain = learn(believed, seen, T)
    spoilt = [replace(one, seen=Colour(hex="#2f8f3f")) if n == 3 else one for n, one in enumerate(seen)]
    fit = learn(believed, spoilt, T)
    assert fit.strange == (3,)
    assert plain.strange == ()
    factor = fit.world.rows["tool.brush.amount"] / TABLE["tool.brush.amount"].value
    assert factor == pytest.approx(1.4, abs=0.15)
    told = notes_of(fit, [f"Number {n}" for n in range(12)])
    assert any(note.text.startswith("Number 3 does not fit") for note in told)


def test_contrary_swatches_are_told_as_a_pair() -> None:
    believed, seen = seen_in(Supposed.of(believed_of(JOBS)), JOBS)
    again = [*seen, replace(seen[1], seen=Colour(hex="#f2c21b"))]
    fit = learn(believed, again, T)
    assert fit.contrary == ((1, 12),)
    assert "laid alike" in notes_of(fit, evenly(13))[0].text


def test_too_few_teach_nothing() -> None:
    for jobs in ([], JOBS[:2], [JOBS[0]] * 6):
        believed, seen = seen_in(with_rows(jobs, HEAVY if jobs else {}), jobs) if jobs else (believed_of([]), [])
        fit = learn(believed, seen, T)
        assert fit.few
        assert not fit.adopted
        assert fit.world.rows == {}
        assert notes_of(fit, evenly(len(seen)))[0].code == "too_few"


def test_readings_off_one_photo_that_all_miss_alike_do_not_pass_for_a_hand() -> None:
    believed, seen = seen_in(Supposed.of(believed_of(JOBS)), JOBS, spread=3.0)
    darker = []
    for one in seen:
        assert one.seen.lab is not None
        l, a, b = one.seen.lab
        colour = replace(one.seen, lab=(l - 4, a, b))
        darker.append(replace(one, photo="an evening", seen=colour))
    fit = learn(believed, darker, T)
    assert not fit.adopted or abs(fit.world.rows["tool.brush.amount"] / 0.085 - 1) < 0.15


def test_margins_hold_about_two_times_in_three_after_learning() -> None:
    inside, before, after, gains = [], [], [], []
    for seed in range(9):
        made = worlds.world(seed, spread=1.5)
        fit, was, now = worlds.learned(made)
        off = worlds.errors(made, fit.world)
        margins = [predict(reworded(one.job, made.believed, fit.world)).margin for one in made.asked]
        inside += (off <= np.array(margins)).tolist()
        before.append(np.mean([predict(one.job).margin for one in made.asked]))
        after.append(np.mean(margins))
        gains.append(now / was)
    assert 0.58 <= np.mean(inside) <= 0.85
    assert np.mean(after) < 0.6 * np.mean(before)
    # Twelve swatches take two fifths of the error off, or nearly.
    assert np.median(gains) < 0.65


def test_a_job_is_reworded_with_all_that_was_learned() -> None:
    believed, seen = seen_in(with_rows(JOBS, HEAVY, red=1.4), JOBS, noise=0.2)
    fit = learn(believed, seen, T)
    job = replace(JOBS[5], constants=(("margin.wet", 2.0),))
    after = reworded(job, believed, fit.world)
    assert dict(after.inks)["red"].strength == fit.world.inks["red"].strength
    assert after.cardstock == fit.world.cards[0]
    rows = dict(after.constants)
    assert rows["margin.wet"] == 2.0
    assert rows["tool.brush.amount"] == fit.world.rows["tool.brush.amount"]
    stranger = Job(SNOW, (("red", replace(INKS["red"], name="Another")),), (lay("red"),))
    assert dict(reworded(stranger, believed, fit.world).inks)["red"].name == "Another"


def test_wet_looks_teach_how_ink_dries_back() -> None:
    wet = [as_seen(job, Look.WET) for job in JOBS[:8]]
    believed, seen = seen_in(with_rows(wet, {"wet.floor": 0.25, "formula.dye.wet_pores": 0.45}), wet, 0.3, 0.15)
    fit = learn(believed, seen, T)
    assert fit.adopted
    assert fit.after[1] < 0.5 * fit.before[1]
    assert fit.world.rows["wet.floor"] < 0.54
    assert any(
        each.text == "Wet card looks deeper with you than I thought." for each in lessons(fit, believed, ["x"], T)
    )


def test_one_key_is_one_ink() -> None:
    other = job_of(lay("red"), inks={"red": replace(INKS["red"], name="Other")})
    with pytest.raises(JobError, match="one key is one ink"):
        believed_of([JOBS[3], other])


def test_whoever_is_told_may_stop_it() -> None:
    believed, seen = seen_in(with_rows(JOBS, HEAVY), JOBS)
    told: list[float] = []

    def stop(done: float) -> None:
        told.append(done)
        if done > 0.2:
            raise LearningStopped("enough")

    with pytest.raises(LearningStopped):
        learn(believed, seen, T, stop)
    assert told == sorted(told)
    done: list[float] = []
    learn(believed, seen, T, done.append)
    assert done[-1] == 1.0


@pytest.mark.parametrize(
    ("factor", "said"),
    [
        (1.33, "about a third more"),
        (0.66, "about a third less"),
        (0.9, "about a tenth less"),
        (1.5, "about half as much again"),
        (0.5, "about half as much"),
        (2.0, "about twice as much"),
        (3.0, "more than twice as much"),
    ],
)
def test_amounts_are_said_as_a_cardmaker_says_them(factor: float, said: str) -> None:
    assert share_said(factor) == said


def test_a_brush_that_empties_is_followed_pass_by_pass() -> None:
    strip = [job_of(lay(ink, passes)) for ink in ("blue", "yellow", "red") for passes in (1, 2, 4, 8)]
    true = {"tool.brush.build": 0.75, "tool.brush.amount": TABLE["tool.brush.amount"].value * 1.3}
    believed, seen = seen_in(with_rows(strip, true), strip, spread=0.5, noise=0.2)
    fit = learn(believed, seen, T)
    assert fit.adopted
    assert fit.world.rows["tool.brush.build"] == pytest.approx(0.75, abs=0.08)
    assert fit.world.rows["tool.brush.amount"] > 1.15 * TABLE["tool.brush.amount"].value
    texts = [each.text for each in lessons(fit, believed, ["Snow"], T)]
    assert "With your brush each pass adds less to the ones before than I thought." in texts
