"""Bounds on colour differences hold for every colour that they speak of."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.optics import colorimetry as cm
from wempa.optics.bounds import LabBox, least_delta_e, near
from wempa.optics.colorimetry import xyz_from_lab

colours = st.tuples(st.floats(0, 100), st.floats(-110, 110), st.floats(-110, 110))


@settings(max_examples=200, deadline=None)
@given(target=colours, seed=st.integers(0, 2**32 - 1))
def test_no_colour_of_a_box_is_nearer_than_its_bound(target: tuple[float, float, float], seed: int) -> None:
    rng, at = np.random.default_rng(seed), np.array(target)
    middle = at + rng.normal(size=(20, 3)) * [15, 25, 25]
    half = rng.exponential(size=(20, 3)) * 8
    bound = least_delta_e(at, LabBox(middle - half, middle + half))
    inside = middle[:, None] + rng.uniform(-1, 1, (20, 60, 3)) * half[:, None]
    corners = middle[:, None] + np.sign(rng.normal(size=(20, 20, 3))) * half[:, None]
    every = np.concatenate([inside, corners], axis=1)
    apart = cm.delta_e(every.reshape(-1, 3), at).reshape(20, -1)
    assert (bound <= apart.min(axis=1) + 1e-9).all()


def test_a_bound_on_a_small_box_is_close() -> None:
    """Not only true but of use: near the target, where it decides, it is nearly the difference itself."""
    rng = np.random.default_rng(4)
    target = np.array([55.0, 30, 20])
    middle = target + rng.normal(size=(500, 3)) * 3
    bound = least_delta_e(target, LabBox(middle - 0.01, middle + 0.01))
    assert np.median(bound / cm.delta_e(middle, target)) > 0.85
    assert least_delta_e(target, LabBox(target[None] - 1, target[None] + 1))[0] == 0


@settings(max_examples=25, deadline=None)
@given(target=colours, reach=st.floats(0.05, 12), seed=st.integers(0, 2**32 - 1))
def test_everything_near_lies_in_the_boxes(target: tuple[float, float, float], reach: float, seed: int) -> None:
    """Colours within the difference come to no more and no less in any direction than the boxes say."""
    rng, at = np.random.default_rng(seed), np.array(target)
    some = at + rng.normal(size=(4000, 3)) * reach * [1, 1.5, 1.5]
    some = some[(some[:, 0] >= 0) & (cm.delta_e(some, at) < reach)]
    directions = rng.normal(size=(20, 3))
    low, high = near(at, reach).ends(directions)
    seen = np.maximum(xyz_from_lab(some, np.ones(3)), 0) @ directions.T
    assert (seen >= low - 1e-9).all()
    assert (seen <= high + 1e-9).all()
