"""How far a colour is from the ladder of an ink."""

from __future__ import annotations

from math import inf

import numpy as np
import pytest

from wempa.craft.prediction.ladders import DOSES, FAR, Ladders
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats


def some_ladders() -> Ladders:
    """Ladders that wind from paper to a colour of their own, as real ones do."""
    rng = np.random.default_rng(5)
    share = np.linspace(0, 1, len(DOSES))[None, :, None]
    paper = np.array([95.0, 0.0, 2.0])
    ends = np.stack([rng.uniform(10, 60, 8), rng.uniform(-60, 60, 8), rng.uniform(-60, 60, 8)], axis=1)
    bow = rng.normal(0, 12, (8, 1, 3)) * np.sin(np.pi * share)
    return Ladders(paper + share * (ends[:, None] - paper) + bow)


def by_small_steps(ladder: Floats, colour: Floats) -> Floats:
    """The nearest of four hundred places on each piece, and its distance."""
    share = np.linspace(0, 1, 401)[None, :, None]
    places = (ladder[:-1, None] + share * np.diff(ladder, axis=0)[:, None]).reshape(-1, 3)
    place: Floats = places[np.argmin(((places - colour) ** 2).sum(axis=1))]
    return place


def test_the_nearest_place_is_found_on_whatever_piece_it_lies() -> None:
    found = some_ladders()
    rng = np.random.default_rng(6)
    compared = 0
    for _ in range(200):
        ink, step = int(rng.integers(8)), int(rng.integers(len(DOSES)))
        colour = found.lab[ink, step] + rng.normal(0, 10, 3)
        place = by_small_steps(found.lab[ink], colour)
        light, a, b = colour.tolist()
        expected = float(cm.delta_e(colour, place))
        assert found.far_from(ink, (light, a, b)) == pytest.approx(expected, abs=0.3)
        compared += expected > 2
    assert compared > 100


def test_one_colour_at_a_time_is_as_far_as_many() -> None:
    found = some_ladders()
    rng = np.random.default_rng(7)
    inks = rng.integers(0, 8, 300)
    colours = found.lab[inks, 4] + rng.normal(0, 15, (300, 3))
    places, squares = found.nearest(inks, colours)
    each = np.array([found.far_from(int(i), (c[0], c[1], c[2])) for i, c in zip(inks, colours.tolist(), strict=True)])
    near = squares < 0.99 * FAR**2
    np.testing.assert_allclose(each[near], cm.delta_e(colours[near], places[near]), atol=1e-3)
    assert (each[squares > 1.01 * FAR**2] == inf).all()


def test_nowhere_near_is_infinitely_far() -> None:
    straight = Ladders(np.array([[[90.0, 0.0, 0.0], [90.0 - FAR, 0.0, 0.0]]]))
    assert straight.far_from(0, (70.0, FAR - 0.01, 0.0)) < inf
    assert straight.far_from(0, (70.0, FAR + 0.01, 0.0)) == inf
    assert straight.far_from(0, (70.0, 0.0, 0.0)) == 0
