"""The spectral grid and the CIE tables on it."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Reals = NDArray[np.floating]
"""Of single or double precision."""
Ints = NDArray[np.intp]
Bools = NDArray[np.bool_]

START_NM, STOP_NM, STEP_NM = 380, 730, 10
WAVELENGTHS: Floats = np.arange(START_NM, STOP_NM + STEP_NM, STEP_NM, dtype=np.float64)
BANDS = WAVELENGTHS.size

ILLUMINANTS = ("D65", "D50", "A", "LED-B3")


@cache
def _table() -> dict[str, Floats]:
    source = files("wempa.optics").joinpath("data/cie_1931_10nm.csv")
    header, *rows = source.read_text("ascii").split()
    values = np.array([row.split(",") for row in rows], dtype=np.float64)
    return {name: values[:, i].copy() for i, name in enumerate(header.split(","))}


@cache
def observer() -> Floats:
    """Colour matching functions of the CIE 1931 2° observer, shape (36, 3).

    Source: CIE 015:2018, as tabulated by colour-science, taken at the bands.
    """
    table = _table()
    return np.stack([table["xbar"], table["ybar"], table["zbar"]], axis=1)


@cache
def illuminant_power(illuminant: str) -> Floats:
    """Relative spectral power of a viewing illuminant, shape (36,), all >= 0.

    Raises
    ------
    KeyError
        The illuminant is none of `ILLUMINANTS`.
    """
    if illuminant not in ILLUMINANTS:
        raise KeyError(illuminant)
    return _table()[illuminant]


@cache
def weights(illuminant: str) -> Floats:
    """Weights W so that ``reflectance @ W`` is XYZ with Y = 1 for white.

    Shape (36, 3). The white point is the grid's own sum, so that a reflectance
    of one everywhere has exactly Lab (100, 0, 0).
    """
    product = observer() * illuminant_power(illuminant)[:, None]
    return np.asarray(product / product[:, 1].sum())


@cache
def white_point(illuminant: str) -> Floats:
    """XYZ of the perfect reflector under the illuminant, shape (3,), Y = 1."""
    return np.asarray(weights(illuminant).sum(axis=0))


def resample(start: float, step: float, values: Floats) -> Floats:
    """Bring a measured spectrum to the grid, shape (n,) to (36,).

    Linear between samples; beyond the measured ends the end value is held, which
    is what instruments that stop at 400 or 700 nm are commonly completed with
    (ASTM E308, section 7.3).

    Raises
    ------
    ValueError
        Fewer than two samples, or a step that is not positive.
    """
    if values.size < 2 or step <= 0:
        raise ValueError("a spectrum needs at least two values and a positive step")
    measured = start + step * np.arange(values.size)
    return np.asarray(np.interp(WAVELENGTHS, measured, values), dtype=np.float64)
