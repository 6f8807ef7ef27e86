"""Colour to spectrum: exact inside the solid of surface colours, nearest beyond it."""

from __future__ import annotations

import numpy as np
import pytest

from wempa.optics import colorimetry as cm
from wempa.optics import reconstruct
from wempa.optics.grid import ILLUMINANTS, white_point
from wempa.optics.reconstruct import smoothest_reflectance


@pytest.mark.parametrize("illuminant", ILLUMINANTS)
def test_every_screen_colour_comes_back(illuminant: str) -> None:
    steps = np.linspace(0, 1, 6)
    rgb = np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(-1, 3)
    wanted = cm.xyz_from_srgb(rgb, illuminant)
    reflectance, miss = smoothest_reflectance(wanted, illuminant)
    assert reflectance.min() > 0
    assert reflectance.max() < 1
    found = cm.lab(reflectance, illuminant)
    lab = cm.lab_from_xyz(wanted, white_point(illuminant))
    distance = cm.delta_e(found, lab)
    assert distance.max() < 0.05
    np.testing.assert_allclose(distance, miss, atol=1e-9)


def test_beyond_the_solid_the_nearest_is_taken_and_said() -> None:
    # A yellow brighter than any surface can be.
    wanted = cm.xyz_from_lab(np.array([[97.0, -20.0, 140.0]]), white_point("D65"))
    reflectance, miss = smoothest_reflectance(wanted, "D65")
    assert 0 < reflectance.min() < reflectance.max() < 1
    assert miss[0] > 1
    lab = cm.lab(reflectance[0])
    assert lab[2] > 100
    assert lab[0] > 88


def test_smoothest_means_smoothest() -> None:
    """No small change that keeps the colour makes the spectrum smoother, steps counted by where they are."""
    wanted = cm.xyz_from_srgb(np.array([[0.8, 0.3, 0.2]]), "D65")
    reflectance, _ = smoothest_reflectance(wanted, "D65")
    z = np.arctanh(2 * reflectance[0] - 1)
    rng = np.random.default_rng(1)
    slope = 2 * reflectance[0] * (1 - reflectance[0])
    from wempa.optics.grid import weights

    # By hand: e^-1.2 of a step at 495 nm, e^-0.8 at 590, e³ beyond 430 and 680, in between all of it.
    weight = reconstruct.step_weights()
    assert weight[[11, 21]] == pytest.approx([np.exp(-1.2), np.exp(-0.8 * np.exp(-0.02))], rel=2e-3)
    assert weight[[0, 4, 34]] == pytest.approx(np.exp(3.0), rel=0.05)
    assert weight[17] == pytest.approx(np.exp(-0.8 * np.exp(-0.98) - 1.2 * np.exp(-2.88)), rel=1e-3)
    jacobian = (slope[:, None] * weights("D65")).T
    for _ in range(20):
        step = rng.normal(size=36)
        step -= jacobian.T @ np.linalg.solve(jacobian @ jacobian.T, jacobian @ step)
        # The first-order change of the roughness along any colour-keeping direction is nil.
        assert abs(weight @ (np.diff(z) * np.diff(step))) < 1e-6
