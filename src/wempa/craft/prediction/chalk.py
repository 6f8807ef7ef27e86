"""Chalk and milk: the voids in a film that dries cloudy.

Between the grains of such a film there is air. It scatters all bands alike and by itself, so
a dark pigment goes grey as well as a light one; liquid and a topcoat fill the voids.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from wempa.optics.grid import Floats
from wempa.optics.namespace import SCALAR, Value

from .amounts import Ground, sealed_share


def void_scatter(ink: Mapping[str, float], more: float) -> float:
    """S per dose, >= 0, of the voids by which a film scatters `more` times as much as its pigment does.

    `ink` is the ink's own column of the table; its hiding power is S·d/(1 + S·d) at dose 1.
    """
    return (more - 1) * ink["hiding"] / (1 - ink["hiding"])


def dried_chalk(ink: Mapping[str, float], ground: Ground, table: Mapping[str, float]) -> float:
    """S per dose of the voids in a film that has dried on a card: there are none where the card drinks."""
    return void_scatter(ink, ink["chalk"]) * sealed_share(ground, table)


def chalk_of(dose: Value, per_dose: Value, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
    """Scatter of the voids in a film of such a dose, >= 0: with the first coat they stop growing."""
    depth = table["chalk.depth"]
    return per_dose * depth * (1 - xp.exp(-dose / depth))


def shared_chalk(dose: Floats, per_dose: Floats, table: Mapping[str, float]) -> Floats:
    """The same of films of several inks that dry as one, (..., m) each: every ink has its share of the whole."""
    film = np.maximum((dose * (per_dose > 0)).sum(axis=-1, keepdims=True), 1e-12)
    return np.asarray(chalk_of(film, per_dose, table, np) * dose / film)
