"""A colour found by eye: the field holds something near every colour, and nudges come to it."""

from __future__ import annotations

import numpy as np
import pytest

from wempa.craft.stash.by_eye import ACROSS, DOWN, STEPS, around, field, on_screen, said_of
from wempa.craft.vocabulary import EyeFamily
from wempa.optics import colorimetry as cm

EVERY = np.concatenate([np.array(field(family)).reshape(-1, 3) for family in EyeFamily])


def shown(count: int, seed: int) -> np.ndarray:
    """Random colours of a screen, (count, 3)."""
    rng = np.random.default_rng(seed)
    labs = rng.uniform((5, -90, -100), (98, 100, 95), (20 * count, 3))
    return labs[on_screen(labs)][:count]


@pytest.mark.parametrize("family", EyeFamily)
def test_a_field_is_full_of_colours_that_a_screen_shows_and_an_eye_tells_apart(family: EyeFamily) -> None:
    rows = field(family)
    labs = np.array(rows).reshape(-1, 3)
    assert (len(rows), {len(row) for row in rows}) == (DOWN, {ACROSS})
    assert on_screen(labs).all()
    apart = cm.ciede2000(*labs.T[:, :, None], *labs.T[:, None]) + np.eye(len(labs)) * 99
    assert apart.min() > 2
    light = labs[:, 0].reshape(DOWN, ACROSS)
    assert (light.min(axis=1)[:-1] >= light.max(axis=1)[1:]).all()
    codes = [code for code, _ in said_of(labs)]
    assert len(set(codes)) == DOWN * ACROSS


def test_something_of_the_fields_is_near_every_colour_of_a_screen() -> None:
    labs = shown(400, 1)
    nearest = cm.ciede2000(*EVERY.T[:, :, None], *labs.T[:, None]).min(axis=0)
    assert np.median(nearest) < 5
    assert nearest.max() < 14


@pytest.mark.parametrize("step", STEPS)
def test_a_nudge_goes_as_far_as_it_says_and_the_way_it_says(step: float) -> None:
    for lab in shown(25, 2):
        ways = {nudged.way: nudged.lab for nudged in around(lab.tolist(), step)}
        assert len(ways) == 6
        for way, there in ways.items():
            if there is None:
                continue
            assert on_screen(np.array(there))
            gone = float(cm.ciede2000(*np.array(there), *lab))
            assert step <= gone < step + 2.5, (way, lab)
            if way == "lighter":
                assert there[0] > lab[0]
            if way == "darker":
                assert there[0] < lab[0]
            if way in {"brighter", "duller"}:
                more = np.hypot(*there[1:]) > np.hypot(*lab[1:])
                assert more == (way == "brighter")


@pytest.mark.parametrize(
    ("lab", "ways"),
    [
        # A bright blue turns to purple or to green, and says so at the first step.
        ((60, 10, -65), {"more purple", "greener"}),
        ((50, -50, 30), {"bluer", "yellower"}),
        ((40, 50, -40), {"pinker", "bluer"}),
        # A grey has no hue to turn from.
        ((60, 1, -1), {"redder", "yellower", "greener", "bluer"}),
    ],
)
def test_turns_are_told_by_where_they_lead(lab: tuple[float, float, float], ways: set[str]) -> None:
    assert {nudged.way for nudged in around(lab, 6)} - {"lighter", "darker", "brighter", "duller"} == ways


def test_white_goes_no_lighter_and_what_is_strongest_no_brighter() -> None:
    assert next(nudged for nudged in around((99.9, 0, 0), 3) if nudged.way == "lighter").lab is None
    red = cm.lab_from_xyz(cm.xyz_from_srgb(np.array([1.0, 0, 0]), "D65"), cm.xyz_from_srgb(np.ones(3), "D65"))
    assert next(nudged for nudged in around(red.tolist(), 3) if nudged.way == "brighter").lab is None
    # It can still be darker, though a screen shows a darker red only duller.
    darker = next(nudged for nudged in around(red.tolist(), 6) if nudged.way == "darker").lab
    assert darker is not None
    assert np.hypot(*darker[1:]) < np.hypot(*red[1:])


def test_whoever_sees_well_comes_within_a_touch_by_few_presses() -> None:
    missed, presses = [], []
    for true in shown(40, 3):
        at, count = EVERY[int(np.argmin(cm.ciede2000(*EVERY.T, *true)))], 0
        for step in STEPS:
            while True:
                ways = [at, *(np.array(nudged.lab) for nudged in around(at.tolist(), step) if nudged.lab)]
                best = min(ways, key=lambda lab: float(cm.ciede2000(*lab, *true)))
                if best is at:
                    break
                at, count = best, count + 1
        missed.append(float(cm.ciede2000(*at, *true)))
        presses.append(count)
    assert np.mean(missed) < 1.5
    assert max(missed) < 3
    assert np.mean(presses) < 6
