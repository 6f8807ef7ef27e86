"""A simulated hand-held colour reader: it gives the file that real ones give."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import WAVELENGTHS, Floats


def measure(samples: Sequence[tuple[str, Floats]], seed: int = 1, noise: float = 0.003) -> str:
    """CGATS.17 text with the spectra (36,) and Lab (D50) of named samples.

    `noise` is the reader's repeatability, a standard deviation in reflectance.
    """
    rng = np.random.default_rng(seed)
    bands = [f"SPECTRAL_NM{nm:.0f}" for nm in WAVELENGTHS]
    lines = [
        "CGATS.17",
        'ORIGINATOR "Simulated hand-held reader"',
        'INSTRUMENTATION "simulated, 45/0, M1"',
        f"NUMBER_OF_FIELDS {5 + len(bands)}",
        "BEGIN_DATA_FORMAT",
        " ".join(["SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B", *bands]),
        "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(samples)}",
        "BEGIN_DATA",
    ]
    for n, (name, true) in enumerate(samples, start=1):
        # One smooth error of the whole reading, and the bands' own.
        drift = noise * rng.standard_normal() * np.maximum(true, 0.02)
        spectrum = np.maximum(true + drift + 0.3 * noise * rng.standard_normal(true.shape), 0.0005)
        lab = cm.lab(spectrum, "D50")
        cells = [f"{v:.2f}" for v in lab] + [f"{v:.5f}" for v in spectrum]
        quoted = name.replace('"', "'")
        lines.append(" ".join([str(n), f'"{quoted}"', *cells]))
    return "\n".join([*lines, "END_DATA", ""])
