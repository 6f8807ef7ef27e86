"""A card, an ink and a whole job made ready: what `prepare` makes and all else computes with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wempa.craft.job import Note
from wempa.craft.vocabulary import Formula
from wempa.optics.grid import Floats
from wempa.optics.stack import Palette

from .amounts import Ground, Habit
from .chalk import chalk_of
from .ladders import Ladders, ladders


@dataclass(frozen=True, slots=True, eq=False)
class PreparedCard:
    """A card ready to be inked. Spectra are (36,)."""

    measured: Floats
    internal: Floats
    floor: Floats
    n: float
    ground: Ground
    lab: Floats
    variants: Floats
    """Internal reflectance were the card's colour off by one standard deviation, (3, 36)."""
    takeup_known: bool
    notes: tuple[Note, ...]


@dataclass(frozen=True, slots=True, eq=False)
class PreparedInk:
    """An ink ready to be laid down.

    Arrays have a row per variant: the ink itself first, then the ink as it would
    be if its colour were off by one standard deviation in three spectral
    directions, then as it would be with more or less scatter. Margins follow from
    the differences.
    """

    absorption: Floats
    scattering: Floats
    film_share: Floats
    trace: Floats
    floor_cap: Floats
    emission: Floats
    excitation: Floats
    habit: Habit
    offer: float
    amount: float
    cover: float
    patch: float
    """Share of the swatch that ink was laid on."""
    dose_doubt: float
    """Standard deviation of ln dose behind the swatch."""
    hand: float
    """Factor on the hand's own doubt: how evenly the pad gives."""
    colour_doubt: bool
    """Whether the variants in colour differ from the ink."""
    scatter_doubt: bool
    formula: Formula
    values: Mapping[str, float]
    """The formula's column of the table, with the ink's own overrides."""
    lab: Floats
    """The swatch under the job's light."""
    notes: tuple[Note, ...]
    mean_absorption: float
    """Mean K over the grid at dose 1: how strongly the ink colours."""
    mean_extinction: float
    """Mean K + S over the grid at dose 1: how much of what lies below it takes away."""


VARIANTS = 6


@dataclass(frozen=True, eq=False)
class PreparedJob:
    """A job's card and inks, prepared: what its rows index into."""

    card: PreparedCard
    palette: Palette
    """Cards: the job's, white of the same surface, three doubtful versions of the first.
    Inks: `VARIANTS` rows each, in the order of `keys`."""
    card_from_white: float
    """ΔE00 between the job's card and white card of the same surface."""
    white: tuple[float, float, float]
    """CIELAB of white card of the same surface, under the job's light."""
    keys: tuple[str, ...]
    inks: tuple[PreparedInk, ...]
    illuminant: str
    chalk: Floats
    """Scatter of voids of each ink's film that dried on the job's card, per dose, (inks,)."""
    table: Mapping[str, float]
    """The craft table that it was made ready by."""

    @cached_property
    def ladders(self) -> Ladders:
        """What each ink alone looks like on the job's card, step by step; worked out once."""
        return ladders(self.palette, len(self.inks), VARIANTS, self.illuminant, self._chalk_at)

    def _chalk_at(self, doses: Floats) -> Floats:
        """Scatter of voids of each ink's film at so many doses, (inks, doses)."""
        return np.asarray(chalk_of(doses[None], self.chalk[:, None], self.table, np))

    @cached_property
    def lookup(self) -> Mapping[str, tuple[int, PreparedInk]]:
        """Ink key to its row in the pigmentation table and its preparation."""
        return {key: (VARIANTS * i, ink) for i, (key, ink) in enumerate(zip(self.keys, self.inks, strict=True))}
