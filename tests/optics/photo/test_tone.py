"""A phone's tone curve, from printed steps of black lines."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.photo.tone import SRGB, STRENGTH_AT, SeenStep, ToneCurve, bent, fit_tone

SHARES = (0.1, 0.25, 0.4, 0.6, 0.75, 0.9)
BLACK = 0.05
WHITE = 0.7


def coded(light: Floats, bend: float) -> Floats:
    """Codes 0–255 of a phone that mixes a smooth step into its tones, not rounded."""
    x = cm.coded_from_linear(light)
    return (x + bend * (3 * x**2 - 2 * x**3 - x)) * 255


def step(
    share: float, pitch: float, bend: float, wider: float = 0.0, resolved: float = 0.0, level: float = 1.0
) -> SeenStep:
    """A step as a phone sees it: one grey, or in part its lines, black and white."""
    rng = np.random.default_rng(round(share * 100 + pitch * 1000))
    real = min(share + 2 * wider / pitch, 1.0) if 0 < share < 1 else share
    lines = rng.random(6000) < real
    mean = 1 - real * (1 - BLACK)
    light = resolved * np.where(lines, BLACK, 1.0) + (1 - resolved) * mean
    # So that the pixels' mean is the step's, whatever was drawn.
    light = light * mean / light.mean() * WHITE * level
    codes = np.repeat(coded(light, bend)[:, None], 3, axis=1)
    # A phone's noise: what the eighth bit cannot tell is told by many pixels.
    seen = np.floor(codes + rng.random(codes.shape)).clip(0, 255).astype(np.uint8)
    white: Floats = cm.linear_from_coded(coded(np.full(3, WHITE * level), bend) / 255)
    return SeenStep(seen, np.ones(len(seen)), share, pitch, white)


def sheet(bend: float, wider: float = 0.0, resolved: float = 0.0, level: float = 1.0) -> list[SeenStep]:
    return [
        *(step(share, 0.35, bend, wider, resolved) for share in SHARES),
        *(step(share, 0.8, bend, wider, resolved, level) for share in SHARES),
        step(1.0, 1.0, bend),
    ]


def worst(curve: ToneCurve, bend: float) -> float:
    """How far the curve's light of greys is off, as a share of white's, between 8 % and all of it."""
    light = np.linspace(0.08, 1.0, 40) * WHITE
    seen = np.interp(coded(light, bend), np.arange(256), curve.table[:, 1])
    white = np.interp(coded(np.array([WHITE]), bend), np.arange(256), curve.table[:, 1])
    return float(np.abs(seen / white - light / WHITE).max())


@pytest.mark.parametrize("bend", [0.0, 0.2, 0.35, 0.6])
def test_a_bent_curve_is_found_from_twelve_steps_and_black(bend: float) -> None:
    found = fit_tone(sheet(bend), BLACK)
    assert found is not None
    assert worst(SRGB, bend) >= 0.075 * bend
    assert worst(found.curve, bend) < 0.012
    assert found.wider == pytest.approx(0.0, abs=0.0051)
    assert found.off < 0.004


def test_lines_printed_wider_than_drawn_are_told_from_a_bent_curve() -> None:
    found = fit_tone(sheet(0.3, wider=0.02), BLACK)
    assert found is not None
    assert found.wider == pytest.approx(0.02, abs=0.0051)
    assert worst(found.curve, 0.3) < 0.015


def test_lines_that_are_seen_in_part_tell_the_same() -> None:
    found = fit_tone(sheet(0.35, resolved=0.5), BLACK)
    assert found is not None
    assert worst(found.curve, 0.35) < 0.02


def test_steps_in_weaker_light_tell_the_same() -> None:
    found = fit_tone(sheet(0.35, level=0.7), BLACK)
    assert found is not None
    assert worst(found.curve, 0.35) < 0.012


def test_three_steps_are_too_few() -> None:
    assert fit_tone(sheet(0.3)[:3], BLACK) is None
    assert fit_tone(sheet(0.3)[:4], BLACK) is not None


def test_glare_over_some_steps_shows_in_what_is_left() -> None:
    steps = sheet(0.2)
    spoilt = [
        SeenStep(
            np.minimum(one.codes + np.uint8(60), 255).astype(np.uint8), one.weights, one.share, one.pitch, one.white
        )
        if k in (3, 9)
        else one
        for k, one in enumerate(steps)
    ]
    found = fit_tone(spoilt, BLACK)
    assert found is not None
    assert found.off > 0.03


def test_strength_is_none_for_srgb_and_grows_with_the_bend() -> None:
    assert SRGB.strength() < 0.001
    found = [fit_tone(sheet(bend), BLACK) for bend in (0.2, 0.6)]
    little, much = (one.curve.strength(220) for one in found if one is not None)
    assert 0.12 < little < 0.5 * much
    # A gamma of 2 where sRGB's is near 2.2: the middle grey at half of white's code has a quarter of its light.
    assert bent(STRENGTH_AT**2.0, 255) > 0.2
    assert bent(3 * STRENGTH_AT**2.0, 255) == pytest.approx(bent(STRENGTH_AT**2.0, 255))


@settings(max_examples=25, deadline=None)
@given(st.floats(0, 0.7), st.floats(0, 0.03), st.integers(4, 13))
def test_any_curve_rises(bend: float, wider: float, count: int) -> None:
    found = fit_tone(sheet(bend, wider)[:count], BLACK)
    assert found is not None
    assert (np.diff(found.curve.table, axis=0) > 0).all()
    assert (found.curve.light(np.zeros((2, 2, 3), dtype=np.uint8)) >= 0).all()
