"""Kubelka–Munk films: limits, energy, and two independent solutions."""

from __future__ import annotations

import iadpython
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wempa.optics.film import Film, compose, film, over

amounts = st.floats(0, 60)


def test_without_scatter_it_is_beer_lambert() -> None:
    k = np.array([0.0, 1e-9, 0.1, 1, 10])
    for s in (0.0, 1e-14):
        layer = film(k, np.full_like(k, s))
        np.testing.assert_allclose(layer.transmittance, np.exp(-k), rtol=1e-9)
        assert layer.reflectance.max() < 1e-12


def test_a_pure_scatterer_and_a_thick_film() -> None:
    s = np.array([1e-6, 0.3, 5.0, 400.0])
    layer = film(np.zeros(4), s)
    np.testing.assert_allclose(layer.reflectance, s / (1 + s), rtol=1e-6)
    np.testing.assert_allclose(layer.reflectance + layer.transmittance, 1, atol=1e-6)
    ratio = 0.4
    thick = film(np.array([ratio * 500]), np.array([500.0]))
    assert thick.reflectance[0] == pytest.approx(1 + ratio - np.sqrt(ratio**2 + 2 * ratio), rel=1e-9)
    assert thick.transmittance[0] < 1e-30


@given(amounts, amounts, st.floats(0, 1))
def test_energy_is_never_created(k: float, s: float, below: float) -> None:
    layer = film(np.array([k]), np.array([s]))
    assert layer.reflectance[0] >= 0
    assert layer.transmittance[0] >= 0
    assert layer.reflectance[0] + layer.transmittance[0] <= 1 + 1e-12
    assert over(layer, np.array([below]))[0] <= 1 + 1e-12


def doubled(k: float, s: float, times: int = 24) -> Film:
    """The same film by adding–doubling from a layer so thin that it is single scattering."""
    thin = 2.0**-times
    layer = Film(np.array([s * thin]), np.array([1 - (k + s) * thin]), np.array([s * thin]))
    for _ in range(times):
        layer = compose(layer, layer)
    return layer


@pytest.mark.parametrize(("k", "s"), [(0.0, 0.7), (0.2, 0.43), (1.5, 0.005), (3.0, 2.33), (0.01, 9.0)])
def test_film_is_what_doubling_thin_layers_gives(k: float, s: float) -> None:
    closed, summed = film(np.array([k]), np.array([s])), doubled(k, s)
    assert closed.reflectance[0] == pytest.approx(summed.reflectance[0], abs=2e-6)
    assert closed.transmittance[0] == pytest.approx(summed.transmittance[0], abs=2e-6)


def test_two_flux_agrees_with_radiative_transfer() -> None:
    """Against iadpython's adding–doubling solution for diffuse light.

    For isotropic scatterers K = 2 μa and S ≈ (3 μs - μa) / 4 in units of depth
    (Mudgett and Richards 1971; van Gemert and Star 1987). Two fluxes are an
    approximation: it must hold within a few hundredths of reflectance.
    """
    worst = 0.0
    for albedo, depth in [(0.999, 1.0), (0.98, 1.0), (0.95, 2.0), (0.9, 0.5), (0.98, 4.0)]:
        sample = iadpython.Sample(a=albedo, b=depth, g=0.0, quad_pts=8)
        _, _, total, through = sample.rt()
        total, through = sample.rt()[2], sample.rt()[3]
        absorbed, scattered = (1 - albedo) * depth, albedo * depth
        layer = film(np.array([2 * absorbed]), np.array([(3 * scattered - absorbed) / 4]))
        worst = max(worst, abs(layer.reflectance[0] - total), abs(layer.transmittance[0] - through))
    assert worst < 0.03


def test_composing_is_laying_one_on_the_other() -> None:
    upper, lower = film(np.array([0.4]), np.array([0.8])), film(np.array([1.0]), np.array([0.1]))
    below = np.array([0.7])
    np.testing.assert_allclose(over(compose(upper, lower), below), over(upper, over(lower, below)), rtol=1e-12)
