"""Run-time colorimetry against colour-science and published pairs."""

from __future__ import annotations

import colour
import numpy as np
import pytest

from wempa.optics import colorimetry as cm
from wempa.optics.grid import ILLUMINANTS, WAVELENGTHS, illuminant_power, observer, resample, white_point

# Sharma, Wu and Dalal 2005, table 1.
SHARMA = """
50 2.6772 -79.7751 50 0 -82.7485 2.0425 | 50 3.1571 -77.2803 50 0 -82.7485 2.8615
50 2.8361 -74.02 50 0 -82.7485 3.4412 | 50 -1.3802 -84.2814 50 0 -82.7485 1
50 -1.1848 -84.8006 50 0 -82.7485 1 | 50 -0.9009 -85.5211 50 0 -82.7485 1
50 0 0 50 -1 2 2.3669 | 50 -1 2 50 0 0 2.3669
50 2.49 -0.001 50 -2.49 0.0009 7.1792 | 50 2.49 -0.001 50 -2.49 0.001 7.1792
50 2.49 -0.001 50 -2.49 0.0011 7.2195 | 50 2.49 -0.001 50 -2.49 0.0012 7.2195
50 -0.001 2.49 50 0.0009 -2.49 4.8045 | 50 -0.001 2.49 50 0.001 -2.49 4.8045
50 -0.001 2.49 50 0.0011 -2.49 4.7461 | 50 2.5 0 50 0 -2.5 4.3065
50 2.5 0 73 25 -18 27.1492 | 50 2.5 0 61 -5 29 22.8977
50 2.5 0 56 -27 -3 31.9030 | 50 2.5 0 58 24 15 19.4535
50 2.5 0 50 3.1736 0.5854 1 | 50 2.5 0 50 3.2972 0 1
50 2.5 0 50 1.8634 0.5757 1 | 50 2.5 0 50 3.2592 0.3350 1
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082
"""


def test_delta_e_gives_the_published_pairs() -> None:
    pairs = np.array([row.split() for row in SHARMA.replace("|", "\n").strip().splitlines()], dtype=float)
    assert len(pairs) == 34
    found = cm.delta_e(pairs[:, :3], pairs[:, 3:6])
    np.testing.assert_allclose(found, pairs[:, 6], atol=5e-5)
    np.testing.assert_allclose(found, colour.delta_E(pairs[:, :3], pairs[:, 3:6], method="CIE 2000"), atol=1e-6)


def test_delta_e_is_colour_sciences_everywhere() -> None:
    rng = np.random.default_rng(3)
    one, two = (rng.uniform([0, -90, -90], [100, 90, 90], (4000, 3)) for _ in range(2))
    np.testing.assert_allclose(cm.delta_e(one, two), colour.delta_E(one, two, method="CIE 2000"), atol=1e-6)


@pytest.mark.parametrize("illuminant", ILLUMINANTS)
def test_lab_of_a_spectrum_is_colour_sciences(illuminant: str) -> None:
    rng = np.random.default_rng(4)
    reflectance = rng.uniform(0, 1, (50, 36))
    product = observer() * illuminant_power(illuminant)[:, None]
    reference = reflectance @ product / product[:, 1].sum()
    xy = colour.XYZ_to_xy(white_point(illuminant))
    np.testing.assert_allclose(cm.lab(reflectance, illuminant), colour.XYZ_to_Lab(reference, xy), atol=1e-6)
    np.testing.assert_allclose(cm.lab(np.ones(36), illuminant), [100, 0, 0], atol=1e-9)


def test_tables_are_the_cie_ones() -> None:
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    for i, nm in enumerate(WAVELENGTHS):
        np.testing.assert_allclose(observer()[i], cmfs[nm], rtol=1e-6, atol=1e-12)
    for name in ILLUMINANTS:
        shape = colour.SpectralShape(380, 730, 10)
        reference = colour.SDS_ILLUMINANTS[name].copy().align(shape).values
        np.testing.assert_allclose(illuminant_power(name), reference, rtol=1e-6, atol=1e-9)


@pytest.mark.parametrize("illuminant", ILLUMINANTS)
def test_hex_goes_through_cat16_and_back(illuminant: str) -> None:
    rgb = np.array([[1.0, 1, 1], [0.2, 0.4, 0.6], [1, 0, 0], [0.02, 0.5, 0.9]])
    tristimulus = cm.xyz_from_srgb(rgb, illuminant)
    np.testing.assert_allclose(tristimulus[0], white_point(illuminant), atol=1e-12)
    back, excess = cm.srgb_from_xyz(tristimulus, illuminant)
    np.testing.assert_allclose(back, rgb, atol=1e-9)
    assert excess.max() < 1e-9
    linear = colour.models.eotf_sRGB(rgb) @ colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ.T
    white = colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ.sum(axis=1)
    reference = colour.adaptation.chromatic_adaptation_VonKries(
        linear, white, white_point(illuminant), transform="CAT16"
    )
    np.testing.assert_allclose(tristimulus, reference, atol=5e-4)


def test_lab_and_xyz_are_inverse() -> None:
    lab = np.array([[50.0, 20, -30], [2.0, 1, 1], [99.0, -3, 4]])
    white = white_point("D50")
    np.testing.assert_allclose(cm.lab_from_xyz(cm.xyz_from_lab(lab, white), white), lab, atol=1e-9)


def test_bad_hex_is_refused() -> None:
    for code in ("a8dcc0", "#a8dcc", "#a8dcg0", ""):
        with pytest.raises(ValueError):
            cm.rgb_from_hex(code)


def test_resample_holds_the_ends() -> None:
    spectrum = resample(400, 20, np.linspace(0.2, 0.8, 16))
    assert spectrum[0] == spectrum[2] == pytest.approx(0.2)
    assert spectrum[-1] == pytest.approx(0.8)
    assert spectrum[3] == pytest.approx(0.22)
    with pytest.raises(ValueError):
        resample(400, 0, np.ones(5))
