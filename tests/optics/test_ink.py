"""Inks from swatches: the swatch comes back, two swatches give K and S."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Formula, Surface
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats
from wempa.optics.ink import absorption_from_swatch, constants_from_two, lay_one, selective_scatter

hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


@settings(max_examples=60, deadline=None)
@given(hexes, st.sampled_from(list(Formula)), st.sampled_from(list(Surface)), hexes)
def test_dose_one_on_its_own_card_gives_the_swatch_back(
    colour: str, formula: Formula, surface: Surface, card: str
) -> None:
    job = Job(
        cardstock=Card(Colour(hex=card), surface),
        inks=(("a", Ink(Swatch(Colour(hex=colour), card=None), formula)),),
        stack=(LayDown((("a", 1.0),), dose=1.0),),
    )
    found = predict(job)
    wanted = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(colour), "D65"), cm.xyz(np.ones(BANDS)))
    noted = {"impossible_swatch", "beyond_surface_colours"} & {note.code for note in found.notes}
    assert noted or cm.delta_e(found.colour.lab, wanted) <= 0.1


@settings(max_examples=40, deadline=None)
@given(hexes, st.sampled_from([Formula.DYE, Formula.REACTIVE_DYE]), st.lists(st.floats(0, 4), min_size=2, max_size=2))
def test_more_of_a_dye_is_never_lighter(colour: str, formula: Formula, doses: list[float]) -> None:
    less, more = sorted(doses)
    ink = Ink(Swatch(Colour(hex=colour)), formula)
    one, two = (
        predict(Job(Card(Colour(hex="#f8f7f4")), (("a", ink),), (LayDown((("a", 1.0),), dose=dose),))).colour
        for dose in (less, more)
    )
    # The trace of scatter that dyes have can lift a black by a hair.
    assert (two.spectrum <= one.spectrum + 0.002).all()
    assert two.lab[0] <= one.lab[0] + 0.2


Two = tuple[Floats, Floats]


def _swatches(absorption: Floats, scattering: Floats, share: float) -> tuple[Two, Two]:
    below = (np.full(BANDS, 0.92), np.full(BANDS, 0.03))
    seen = tuple(lay_one(b, absorption, scattering, np.array(share), np.array(0.0)) for b in below)
    return (seen[0], seen[1]), below


@pytest.mark.parametrize("share", [0.25, 0.5, 1.0])
def test_light_and_dark_swatches_give_k_and_s_exactly(share: float) -> None:
    x = np.linspace(0, 1, BANDS)
    absorption = 0.05 + 1.5 * np.exp(-((x - 0.6) ** 2) / 0.02)
    scattering = 0.3 + 1.2 * x
    swatches, below = _swatches(absorption, scattering, share)
    none = np.zeros(BANDS)
    k, s = constants_from_two(swatches, below, (none, none), np.full(BANDS, 0.5), share, none)
    np.testing.assert_allclose(k, absorption, rtol=5e-3)
    np.testing.assert_allclose(s, scattering, rtol=5e-3)


def test_a_noisy_or_dark_band_stays_near_what_the_formula_suggests() -> None:
    absorption, scattering = np.full(BANDS, 6.0), np.full(BANDS, 0.43)
    swatches, below = _swatches(absorption, scattering, 0.5)
    rng = np.random.default_rng(2)
    noise, none = np.full(BANDS, 0.01), np.zeros(BANDS)
    for _ in range(5):
        noisy = tuple(np.clip(r + rng.normal(0, 0.01, BANDS), 1e-4, 1) for r in swatches)
        k, s = constants_from_two((noisy[0], noisy[1]), below, (noise, noise), np.full(BANDS, 0.43), 0.5, none)
        assert np.isfinite(k).all()
        assert (k > 0).all()
        assert (s > 0.43 / 12).all()
        assert (s < 0.43 * 12).all()


def test_a_swatch_lighter_than_its_card_has_no_absorption() -> None:
    swatch, below = np.full((1, BANDS), 0.8), np.full((1, BANDS), 0.5)
    zero = np.zeros((1, BANDS))
    k, impossible = absorption_from_swatch(swatch, below, zero, np.zeros(1), np.full((1, BANDS), 0.005))
    assert impossible.all()
    assert (k == 0).all()


def test_the_index_is_that_of_an_oscillator_with_such_an_absorption() -> None:
    """Lorentz's oscillator, whose index is known: n − 1 goes by the real part of what k is the imaginary part of."""
    frequency, own, width = 1 / WAVELENGTHS, 1 / 550, 1.5e-4
    response = own * width / (own**2 - frequency**2 - 1j * width * frequency)
    absorption = response.imag * 550 / WAVELENGTHS
    swatch = np.exp(-2 * absorption)[None]
    # Small enough that the square is a straight line.
    shape = selective_scatter(np.ones(1), swatch, np.ones((1, BANDS)), 1e-6)[0]
    # At the ends of the grid what lies beyond is missing.
    np.testing.assert_allclose(((shape - 1) / 2e-6)[2:-3], response.real[2:-3], atol=0.04)


def test_scatter_is_strongest_on_the_long_side_of_a_band() -> None:
    swatch = np.exp(-2 * 1.5 * np.exp(-0.5 * ((WAVELENGTHS - 540) / 30) ** 2))[None]
    scatter = selective_scatter(np.full(1, 0.002), swatch, np.ones((1, BANDS)), 1.5)[0]
    assert 560 <= WAVELENGTHS[scatter.argmax()] <= 600
    assert scatter[WAVELENGTHS == 580] > 6 * scatter[WAVELENGTHS == 500]
    assert (scatter >= 0).all()
    # What is clear scatters alike everywhere.
    clear = selective_scatter(np.full(1, 0.002), np.ones((1, BANDS)), np.ones((1, BANDS)), 1.5)
    np.testing.assert_allclose(clear, 0.002)


@pytest.mark.parametrize(("colour", "low", "high"), [("#d6336c", 0, 30), ("#f2d31b", 90, 130), ("#1692c4", 200, 270)])
def test_what_a_dye_leaves_on_black_has_its_hue(colour: str, low: float, high: float) -> None:
    """Magenta a breath of red rather than of violet, as printed overprints measure; yellow of green-yellow."""
    inks = tuple((key, Ink(Swatch(Colour(hex=each)), Formula.DYE)) for key, each in (("k", "#2e2e2e"), ("a", colour)))
    stack = tuple(LayDown(((key, 1.0),), dose=1.0) for key in "ka")
    hue = cm.lch(predict(Job(Card(Colour(hex="#f8f7f4"), Surface.COATED), inks, stack)).colour.lab)[2]
    assert low <= hue <= high


def test_an_impossible_swatch_is_noted_and_the_nearest_taken() -> None:
    light_on_dark = Ink(Swatch(Colour(hex="#e0d0f0"), Card(Colour(hex="#404040"))), Formula.DYE, name="Chalk")
    job = Job(Card(Colour(hex="#404040")), (("a", light_on_dark),), (LayDown((("a", 1.0),), dose=1.0),))
    found = predict(job)
    note = next(note for note in found.notes if note.code == "impossible_swatch")
    assert "Chalk" in note.text
    assert found.colour.lab[0] < 35
