"""Write the colorimetric tables that Wempa ships, from colour-science.

Run by hand when the grid changes: ``python tools/make_tables.py``. The file it
writes is committed, so that colour-science is needed only here and in tests.
"""

from __future__ import annotations

import csv
from pathlib import Path

import colour

OUT = Path(__file__).parents[1] / "src/wempa/optics/data/cie_1931_10nm.csv"
SHAPE = colour.SpectralShape(380, 730, 10)
ILLUMINANTS = {"D65": "D65", "D50": "D50", "A": "A", "LED-B3": "LED-B3"}


def main() -> None:
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(SHAPE)
    columns = {"xbar": cmfs.values[:, 0], "ybar": cmfs.values[:, 1], "zbar": cmfs.values[:, 2]}
    for name, source in ILLUMINANTS.items():
        columns[name] = colour.SDS_ILLUMINANTS[source].copy().align(SHAPE).values
    with OUT.open("w", newline="") as handle:
        writer = csv.writer(handle)
        writer.writerow(["nm", *columns])
        for i, nm in enumerate(SHAPE.wavelengths):
            writer.writerow([int(nm), *(f"{column[i]:.8g}" for column in columns.values())])


if __name__ == "__main__":
    main()
