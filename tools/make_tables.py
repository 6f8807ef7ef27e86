"""Write the tables that Wempa ships: observer and illuminants, and two measured cameras.

Run by hand when the grid changes: ``python tools/make_tables.py``. The files it
writes are committed, so that colour-science is needed only here and in tests.
"""

from __future__ import annotations

import csv
from pathlib import Path

import colour
import numpy as np

from wempa.optics.grid import WAVELENGTHS

OUT = Path(__file__).parents[1] / "src/wempa/optics/data/cie_1931_10nm.csv"
SHAPE = colour.SpectralShape(380, 730, 10)
ILLUMINANTS = {"D65": "D65", "D50": "D50", "A": "A", "LED-B3": "LED-B3"}


CAMERAS = Path(__file__).parents[1] / "src/wempa/demo/data/cameras.csv"


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


def camera_table() -> None:
    """Measured sensitivities of two cameras, A and B, for the simulated camera. Nothing is fitted to them."""
    columns = []
    for measured in list(colour.MSDS_CAMERA_SENSITIVITIES.values())[:2]:
        columns += [
            np.interp(WAVELENGTHS, measured.wavelengths, measured.values[:, k], left=0, right=0) for k in range(3)
        ]
    CAMERAS.parent.mkdir(exist_ok=True)
    with CAMERAS.open("w", newline="") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(["nm", *(f"{name} {channel}" for name in "AB" for channel in ("red", "green", "blue"))])
        for i, nm in enumerate(WAVELENGTHS):
            writer.writerow([int(nm), *(f"{column[i]:.5g}" for column in columns)])


def main() -> None:
    observer_table()
    camera_table()


if __name__ == "__main__":
    main()
