"""Write the tables that Wempa ships: observer and illuminants, and what lamps do to photos.

Run by hand when the grid changes: ``python tools/make_tables.py``. The files it
writes are committed, so that colour-science is needed only here and in tests.
"""

from __future__ import annotations

import csv
from pathlib import Path

import colour
import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import WAVELENGTHS, Floats, illuminant_power, white_point
from wempa.optics.photo import CORRECTION_TERMS, correction_terms
from wempa.optics.reconstruct import smoothest_reflectance

OUT = Path(__file__).parents[1] / "src/wempa/optics/data/cie_1931_10nm.csv"
SHAPE = colour.SpectralShape(380, 730, 10)
ILLUMINANTS = {"D65": "D65", "D50": "D50", "A": "A", "LED-B3": "LED-B3"}


CORRECTION = OUT.with_name("camera_correction.csv")
# A family of cameras as they are commonly measured: peak and width of red, green and blue
# sensitivity in nm, each camera a little different.
_TYPICAL = ((600.0, 38.0), (535.0, 40.0), (460.0, 30.0))
_PEAKS_VARY, _WIDTHS_VARY, _CAMERAS, _SURFACES = 8.0, 6.0, 24, 1000


def observer_table() -> None:
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(SHAPE)
    columns = {"xbar": cmfs.values[:, 0], "ybar": cmfs.values[:, 1], "zbar": cmfs.values[:, 2]}
    for name, source in ILLUMINANTS.items():
        columns[name] = colour.SDS_ILLUMINANTS[source].copy().align(SHAPE).values
    with OUT.open("w", newline="") as handle:
        writer = csv.writer(handle)
        writer.writerow(["nm", *columns])
        for i, nm in enumerate(SHAPE.wavelengths):
            writer.writerow([int(nm), *(f"{column[i]:.8g}" for column in columns.values())])


def surfaces(rng: np.random.Generator) -> Floats:
    """Smooth reflectances of random colours that a screen can show, (n, 36)."""
    labs = np.stack([rng.uniform(low, high, 4 * _SURFACES) for low, high in ((15, 95), (-90, 90), (-90, 100))], axis=1)
    xyz = cm.xyz_from_lab(labs, white_point("D65"))
    linear = cm.adapt(xyz, white_point("D65"), cm.SRGB_WHITE) @ cm.XYZ_TO_SRGB.T
    inside = ((linear > 0.002) & (linear < 0.98)).all(axis=1)
    return smoothest_reflectance(xyz[inside][:_SURFACES], "D65")[0]


def typical_camera() -> Floats:
    """Matrix (3, 3) of the family's middle camera: balanced raw under daylight to linear sRGB."""
    reflectance = surfaces(np.random.default_rng(2015))
    sensitivity = np.stack([np.exp(-0.5 * ((WAVELENGTHS - peak) / width) ** 2) for peak, width in _TYPICAL], axis=1)
    power = illuminant_power("D65")
    raw = (reflectance * power) @ sensitivity / (power @ sensitivity)
    wanted = cm.xyz(reflectance) / cm.xyz(np.ones(WAVELENGTHS.size)) * cm.SRGB_WHITE @ cm.XYZ_TO_SRGB.T
    return np.asarray(np.linalg.lstsq(raw, wanted, rcond=None)[0])


def correction(illuminant: str) -> Floats:
    """Least squares over the family: balanced photo under a lamp to the same under daylight.

    Root-polynomial colour correction (Finlayson, Mackiewicz and Hurlbert 2015), with white kept.
    """
    rng = np.random.default_rng(2015)
    reflectance = surfaces(rng)
    daylight, lamp = illuminant_power("D65"), illuminant_power(illuminant)
    wanted = cm.xyz(reflectance) / cm.xyz(np.ones(WAVELENGTHS.size)) * cm.SRGB_WHITE @ cm.XYZ_TO_SRGB.T
    # A dark colour's error counts for more to the eye.
    weight = 1 / np.cbrt(np.maximum(wanted, 0.01)).mean(axis=1, keepdims=True) ** 2
    white = 1e3 * correction_terms(np.ones((1, 3)))
    left, right = [], []
    for _ in range(_CAMERAS):
        camera = [
            np.exp(-0.5 * ((WAVELENGTHS - peak - shift * _PEAKS_VARY) / (width + stretch * _WIDTHS_VARY)) ** 2)
            for (peak, width), (shift, stretch) in zip(_TYPICAL, rng.uniform(-1, 1, (3, 2)), strict=True)
        ]
        sensitivity = np.stack(camera, axis=1)
        plain = (reflectance * daylight) @ sensitivity / (daylight @ sensitivity)
        # The camera's own matrix is made for daylight and used under every lamp.
        own = np.linalg.lstsq(plain, wanted, rcond=None)[0]
        seen = np.maximum((reflectance * lamp) @ sensitivity / (lamp @ sensitivity) @ own, 1e-5)
        left += [correction_terms(seen) * weight, white]
        right += [wanted * weight, 1e3 * np.ones((1, 3))]
    return np.asarray(np.linalg.lstsq(np.concatenate(left), np.concatenate(right), rcond=None)[0])


def correction_table() -> None:
    with CORRECTION.open("w", newline="") as handle:
        writer = csv.writer(handle)
        writer.writerow(["illuminant", "term", "red", "green", "blue"])
        for channel, row in zip("rgb", typical_camera(), strict=True):
            writer.writerow(["camera", channel, *(f"{value:.6f}" for value in row)])
        for illuminant in ILLUMINANTS:
            for term, row in zip(CORRECTION_TERMS, correction(illuminant), strict=True):
                writer.writerow([illuminant, term, *(f"{value:.6f}" for value in row)])


def main() -> None:
    observer_table()
    correction_table()


if __name__ == "__main__":
    main()
