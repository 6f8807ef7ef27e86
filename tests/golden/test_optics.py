"""Light and colour: numbers of the lowest layer, on cases drawn once with a fixed seed."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.golden.gold import Gold
from tests.photos import BLACK_LAB, CARD, SCENES, shoot
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, mark_sheet
from wempa.craft.vocabulary import Page
from wempa.demo.camera import LAMPS
from wempa.optics import colorimetry as cm
from wempa.optics.bounds import LabBox, least_delta_e, near
from wempa.optics.film import compose, film, over
from wempa.optics.grid import ILLUMINANTS, Floats, resample, weights, white_point
from wempa.optics.ink import Pigmentation, absorption_from_swatch, constants_from_two, lay_one
from wempa.optics.layers import Layers
from wempa.optics.photo import PrintedStep, find_marks, light_of, look_at, read_swatches
from wempa.optics.reconstruct import smoothest_reflectance
from wempa.optics.stack import Cards, Palette, Stacks, lab_on, reflect
from wempa.optics.surface import effective_floor, inside, outside, speckle, wet_pores

BANDS = np.array([0, 4, 10, 17, 23, 30, 35])
TARGETS = np.array([[55.0, 30, 20], [80, -40, 60], [30, 15, -60], [50, 0, 0.4], [5, 1, 1], [96, -2, 8], [60, -70, -20]])


def smooth(rng: np.random.Generator, count: int, low: float = 0.02, high: float = 0.95) -> Floats:
    """Spectra (count, 36) that wander smoothly between two ends."""
    x = np.linspace(0, 1, 36)
    waves = sum(rng.normal(size=(count, 1)) * np.cos(np.pi * k * x) / (k + 1) for k in range(5))
    return np.asarray(low + (high - low) / (1 + np.exp(-2 * waves)))


def test_optics(pytestconfig: pytest.Config) -> None:
    rng, found = np.random.default_rng(7), dict[str, Any]()
    for light in ILLUMINANTS:
        found[f"light {light}"] = [white_point(light), weights(light)[BANDS]]
    found["resampled"] = resample(400, 20, np.linspace(0.1, 0.9, 16) ** 2)[BANDS]
    for light in ("D65", "A"):
        wanted = np.concatenate([cm.xyz_from_lab(TARGETS, white_point(light)), [[0.9, 1.0, 1.2], [0.2, 0.1, 0.9]]])
        spectra, miss = smoothest_reflectance(wanted, light)
        found[f"spectra {light}"] = [[*row, off] for row, off in zip(spectra[:, BANDS], miss, strict=True)]
    below, swatch = smooth(rng, 6, 0.4), smooth(rng, 6)
    k, s, share = rng.exponential(1, (6, 36)), rng.exponential(0.5, (6, 36)), rng.uniform(0, 1, (6, 1))
    trace = np.full((6, 36), 0.005)
    one, two = film(k, s), film(s, k * 0)
    both = compose(one, two)
    found["films"] = [each[:, BANDS] for each in (*both, over(one, below), lay_one(below, k, s, share, trace))]
    solved, impossible = absorption_from_swatch(swatch, below, s * 0.3, share[:, 0], trace)
    found["absorption"] = [solved[:, BANDS], impossible[:, BANDS]]
    dark = smooth(rng, 1, 0.02, 0.1)[0]
    for name, noise in (("exact", 0.0), ("noisy", 0.01)):
        pair = constants_from_two(
            (swatch[0], dark * 1.2), (below[0], dark), (np.full(36, noise),) * 2, np.full(36, 0.3), 0.5, trace[0]
        )
        found[f"two swatches {name}"] = [each[BANDS] for each in pair]
    floor = effective_floor(np.full(36, 0.05), swatch)
    found["surface"] = [
        each[:, BANDS]
        for each in (
            floor,
            inside(swatch, floor),
            outside(below, floor),
            wet_pores(below, np.full((6, 1), 0.2)),
            *[speckle(below, swatch, np.full((6, 1), 0.7), n) for n in (1.0, 2.0, 1.4)],
        )
    ]
    Gold("optics.json", pytestconfig.getoption("--regold")).check(found, 1e-4)


def test_stacks(pytestconfig: pytest.Config) -> None:
    """Stacks on cards of several kinds, with glow, wet look and lowered floors; alone and in a large batch."""
    rng = np.random.default_rng(11)
    inks, layers, rows = 5, 9, 12
    glow = np.zeros((inks, 36))
    glow[4, 16:20] = 0.4
    palette = Palette(
        Cards(smooth(rng, 3, 0.3), np.full((3, 36), 0.03), np.array([1.0, 2.0, 1.4])),
        Pigmentation(
            absorption=rng.exponential(0.8, (inks, 36)),
            scattering=rng.exponential(0.3, (inks, 36)),
            film_share=np.array([0, 0.5, 1, 2 / 3, 0]),
            trace=np.array([0.005, 0, 0, 0, 0.005])[:, None] * np.ones(36),
            floor_cap=np.array([[1.0], [0.02], [0.01], [1.0], [1.0]]) * np.ones(36),
            emission=glow,
            excitation=glow * 0.8,
        ),
    )
    stacks = Stacks(
        layers=Layers(
            ink=rng.integers(0, inks, (layers, 2)),
            dose=rng.uniform(0, 1.2, (layers, 2)),
            scatter=rng.uniform(0.5, 1.5, (layers, 2)),
            held=rng.uniform(0, 0.5, (layers, 2)),
            cover=rng.uniform(0.5, 1, layers),
        ),
        layer=rng.integers(-1, layers, (rows, 3)),
        card=rng.integers(0, 3, rows),
        ink=np.tile(np.arange(inks), (rows, 1)),
        total=rng.uniform(0, 1, (rows, inks)),
        floor_scale=rng.uniform(0.5, 1, rows),
        pores=rng.uniform(0, 0.3, rows),
        vividness=rng.uniform(0.9, 1.2, rows),
    )
    found: dict[str, Any] = {}
    for light in ("D65", "A"):
        found[f"spectra {light}"] = reflect(stacks, palette, light)[:, BANDS]
        found[f"labs {light}"] = lab_on(stacks, palette, [stacks.card, (stacks.card + 1) % 3], light)
    Gold("stacks.json", pytestconfig.getoption("--regold")).check(found, 2e-3)


def test_bounds(pytestconfig: pytest.Config) -> None:
    rng, found = np.random.default_rng(3), dict[str, Any]()
    for target in TARGETS:
        middle = target + rng.normal(size=(25, 3)) * [8, 15, 15]
        half = rng.exponential(size=(25, 3)) * 4
        found[f"least {target.tolist()}"] = least_delta_e(target, LabBox(middle - half, middle + half))
        boxes = near(target, 3.0)
        ends = boxes.ends(np.array([[1.0, 0, 0], [0, 1, 0], [0, 0, 1], [1, -1, 0.5]]))
        found[f"near {target.tolist()}"] = [len(boxes.low), boxes.low.sum(axis=0), boxes.high.sum(axis=0), *ends]
    Gold("bounds.json", pytestconfig.getoption("--regold")).check(found)


def test_photos(pytestconfig: pytest.Config) -> None:
    """What is read off photos of the simulated camera, glare and edges included."""
    found: dict[str, Any] = {}
    for name in ("daylight", "warm and uneven"):
        shot = shoot(SCENES[name])
        corners = find_marks(shot.pixels, MARK_RADIUS_MM / 210)
        assert corners is not None
        marked = mark_sheet(Page.A4, corners)
        some = marked.swatches[:36:5]
        dark, black = (marked.dark, BLACK_LAB) if name == "daylight" else (None, None)
        drawn = [PrintedStep(step.box, step.share, step.pitch) for step in marked.steps] if dark else []
        lighting = light_of(shot.pixels, marked.whites, cm.lab(CARD), dark, black, drawn)
        read = read_swatches(shot.pixels, some, lighting, cm.lab(CARD), LAMPS[SCENES[name].lamp])
        found[name] = [corners, [[*each.lab, each.spread, each.area.kept, each.area.clipped] for each in read]]
        # A corner of a square beside its border and the white around it; a sliver; all of the sheet.
        left, top, right, bottom = some[2]
        odd = [(left - 12, top - 12, right, bottom), (left, top, left + 6, bottom), (left, top, right + 900, bottom)]
        found[f"{name}, marked badly"] = [
            [*area.centre, *area.light, *area.scatter, area.kept, area.clipped]
            for area in (look_at(shot.pixels, box) for box in odd)
        ]
    Gold("photos.json", pytestconfig.getoption("--regold")).check(found)
