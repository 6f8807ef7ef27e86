"""Formulas written once for floats and for arrays say the same."""

from __future__ import annotations

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from wempa.optics import colorimetry as cm
from wempa.optics.namespace import SCALAR

Lab = tuple[float, float, float]
lightness, opponent = st.floats(0, 100), st.floats(-100, 100)
labs = st.tuples(lightness, opponent, opponent)


@settings(max_examples=300, deadline=None)
@given(labs, labs)
def test_ciede2000_of_floats_is_that_of_arrays(
    one: tuple[float, float, float], two: tuple[float, float, float]
) -> None:
    # At hues exactly opposite the formula itself jumps; the last bit of a hue says to which side.
    apart = abs(np.arctan2(one[2], one[1]) - np.arctan2(two[2], two[1]))
    assume(abs(apart - np.pi) > 1e-9)
    single = cm.ciede2000(*one, *two, SCALAR)
    batch = cm.delta_e(np.array([one]), np.array([two]))[0]
    assert isinstance(single, float)
    assert abs(single - batch) < 1e-7 * max(1.0, batch)


def test_ciede2000_of_greys_and_exact_opposites() -> None:
    for one, two in (
        ((50.0, 0.0, 0.0), (60.0, 0.0, 0.0)),
        ((50.0, 20.0, 0.0), (50.0, -20.0, 0.0)),
        ((50.0, 0.0, 20.0), (50.0, 0.0, -20.0)),
        ((50.0, -12.0, -9.0), (50.0, 12.0, 9.0)),
        ((50.0, 0.0, 0.0), (50.0, 30.0, -10.0)),
        ((50.0, 30.0, -10.0), (50.0, 30.0, -10.0)),
    ):
        batch = float(cm.delta_e(np.array([one]), np.array([two]))[0])
        assert abs(cm.ciede2000(*one, *two, SCALAR) - batch) < 1e-9
        assert batch == float(cm.delta_e(np.array([two]), np.array([one]))[0])


@given(st.floats(-1, 11))
def test_interpolation_between_and_at_the_ends(x: float) -> None:
    xs, ys = [0.0, 1.0, 4.0, 10.0], [5.0, 7.0, -2.0, 3.0]
    inside = min(max(x, 0.0), 10.0)
    assert abs(SCALAR.interp(inside, xs, ys) - np.interp(inside, xs, ys)) < 1e-12


def test_the_scalar_words_are_numpys() -> None:
    for name in ("sqrt", "exp", "sin", "cos"):
        assert abs(getattr(SCALAR, name)(0.7) - getattr(np, name)(0.7)) < 1e-15
    assert SCALAR.arctan2(1.0, -2.0) == np.arctan2(1.0, -2.0)
    assert SCALAR.copysign(2.0, -0.0) == np.copysign(2.0, -0.0)
    assert (SCALAR.maximum(1, 2), SCALAR.minimum(1, 2), SCALAR.where(False, 1, 2)) == (2, 1, 2)
