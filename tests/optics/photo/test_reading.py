"""Colours off photos of whole sheets: phones that nothing was fitted to, lamps, and phones that are learned."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.photos import (
    CARD,
    CARD_LAB,
    LIGHTS,
    PHONES,
    SCENES,
    earlier_errors,
    errors,
    lighting_of,
    marked_on,
    readings,
    shoot,
    under,
)
from wempa.demo.camera import Scene
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.photo import (
    PhotoError,
    Pixels,
    PrintedStep,
    has_steps,
    known_as_seen,
    light_of,
    likely_lamp,
    read_swatches,
)

KNOWN = range(0, 36, 3)
SHARES = (0.1, 0.25, 0.4, 0.6, 0.75, 0.9)


@pytest.mark.parametrize("name", SCENES)
def test_true_colours_come_back_from_a_simulated_photo(name: str) -> None:
    off = errors(shoot(SCENES[name]), SCENES[name])
    assert len(off) == 36
    assert off.mean() <= 2.6
    assert off.max() <= 7.5


@pytest.mark.parametrize(
    ("phone", "light", "most"),
    [
        ("camera A, bent and painted up by 15 %", "daylight", 2.0),
        ("camera A, bent and painted up by 15 %", "warm lamp", 3.0),
        ("camera A, bent and painted up by 15 %", "LED lamp", 3.0),
        ("camera B, linear", "daylight", 2.5),
        ("camera B, linear", "warm lamp", 4.5),
        ("camera B, linear", "LED lamp", 4.5),
    ],
)
def test_phones_that_nothing_was_fitted_to(phone: str, light: str, most: float) -> None:
    scene = under(PHONES[phone], LIGHTS[light], seed=7)
    shot = shoot(scene)
    off = errors(shot, scene)
    assert off.mean() <= most
    assert off.mean() < 0.85 * earlier_errors(shot, scene).mean()
    learned = errors(shot, scene, KNOWN)
    assert learned.mean() <= 1.5
    assert learned[1::3].mean() < off[1::3].mean()


@pytest.mark.parametrize("light", ["daylight", "warm lamp", "LED lamp"])
def test_the_truth_lies_within_the_stated_spread_about_two_times_in_three(light: str) -> None:
    inside = []
    # Photos take long; of phones with a linear sensor and with bent tones one each, of the stranger ones both.
    for phone in ("own, linear", "own, bent by 60 %, painted up by 25 %", "camera A, linear", "camera B, linear"):
        scene = under(PHONES[phone], LIGHTS[light], seed=3)
        shot = shoot(scene)
        found = readings(shot, scene)
        off = cm.delta_e(np.stack([one.lab for one in found]), shot.truth)
        inside.append(np.mean(off <= [np.hypot(one.spread, 0.3) for one in found]))
    assert 0.55 <= np.mean(inside) <= 0.97, np.mean(inside)


def test_a_sheet_without_steps_is_read_with_more_doubt() -> None:
    scene = PHONES["own, bent tones"]
    shot = shoot(scene)
    with_steps, without = (readings(shot, scene, steps=steps) for steps in (True, False))
    assert np.median([one.spread for one in without]) > 1.3 * np.median([one.spread for one in with_steps])
    assert not lighting_of(shot, steps=False).tones
    assert lighting_of(shot, steps=False).kind == "unknown"
    assert lighting_of(shot).kind == "bent"
    assert lighting_of(shoot(Scene())).kind == "straight"


def test_a_learned_phone_reads_the_next_photo() -> None:
    scene = under(PHONES["camera B, linear"], LIGHTS["warm lamp"])
    first, second = shoot(scene), shoot(replace(scene, seed=9))
    here = {place: first.truth[place] for place in KNOWN}
    taught = known_as_seen(first.pixels, marked_on(first).swatches[:36], lighting_of(first), CARD_LAB, here)
    assert len(taught) == 12
    plain = errors(second, scene)
    found = read_swatches(
        second.pixels, marked_on(second).swatches[:36], lighting_of(second), CARD_LAB, "A", known=taught
    )
    off = cm.delta_e(np.stack([one.lab for one in found]), second.truth)
    assert off.mean() < 0.5 * plain.mean()
    assert np.mean([one.spread for one in found]) < 1.5


def test_lamps_are_told_by_the_cast_and_by_known_swatches() -> None:
    for light, lamp in (("daylight", "D65"), ("warm lamp", "A")):
        lighting = lighting_of(shoot(under(Scene(), LIGHTS[light])))
        chances = likely_lamp(lighting.white, lighting.strength, [], lighting.kind)
        assert sum(chances.values()) == pytest.approx(1.0)
        assert max(chances, key=lambda each: chances[each]) == lamp
    # Balanced altogether, only known swatches tell.
    scene = replace(Scene(lamp="warm lamp"), balance=1.0)
    shot = shoot(scene)
    lighting = lighting_of(shot)
    here = {place: shot.truth[place] for place in KNOWN}
    taught = known_as_seen(shot.pixels, marked_on(shot).swatches[:36], lighting, CARD_LAB, here)
    plain, told = (likely_lamp(lighting.white, lighting.strength, one, lighting.kind) for one in ([], taught))
    assert plain["D65"] + plain["D50"] > 0.6
    assert told["D65"] + told["D50"] < 0.01


def test_steps_are_only_there_where_something_is_printed() -> None:
    shot = shoot(Scene())
    marked = marked_on(shot)
    drawn = [PrintedStep(step.box, step.share, step.pitch) for step in marked.steps]
    assert has_steps(shot.pixels, drawn, marked.whites)
    bare = [PrintedStep(box, 0.5, 0.5) for box in marked.whites[:12]]
    assert not has_steps(shot.pixels, bare, marked.whites)
    assert not has_steps(shot.pixels, [], marked.whites)


def flat(level: int, width: int = 60, height: int = 40) -> Pixels:
    return np.full((height, width, 3), level, dtype=np.uint8)


@pytest.mark.parametrize(
    ("level", "swatch", "whites", "says"),
    [
        (200, (0, 0, 20, 20), [], "mark the white"),
        (200, (0, 0, 20, 20), [(0, 0, 1, 1)], "too small"),
        (200, (100, 100, 200, 200), [(0, 0, 60, 40)], "outside the photo"),
        (255, (0, 0, 20, 20), [(0, 0, 60, 40)], "overexposed"),
        (5, (0, 0, 20, 20), [(0, 0, 60, 40)], "nearly black"),
    ],
)
def test_what_cannot_be_read_is_said(
    level: int, swatch: tuple[float, float, float, float], whites: list[tuple[float, float, float, float]], says: str
) -> None:
    with pytest.raises(PhotoError, match=says):
        read_swatches(flat(level), [swatch], light_of(flat(level), whites, cm.lab(CARD)), cm.lab(CARD))


def test_steps_too_small_or_under_glare_are_said() -> None:
    white: Floats = cm.lab(CARD)
    photo = flat(200, 200, 60)
    tiny = [PrintedStep((5 * k, 10, 5 * k + 5, 20), 0.1 + 0.1 * k, 0.4) for k in range(6)]
    with pytest.raises(PhotoError, match="go nearer"):
        light_of(photo, [(0, 30, 200, 60)], white, steps=tiny)
    for k, level in enumerate((190, 120, 185, 60, 150, 40)):
        photo[:30, 30 * k : 30 * k + 30] = level
    odd = [PrintedStep((30 * k, 0, 30 * k + 30, 30), share, 0.4) for k, share in enumerate(SHARES)]
    with pytest.raises(PhotoError, match="darker evenly"):
        light_of(photo, [(0, 30, 200, 60)], white, steps=odd)
