"""Cards as people describe them, made ready for `optics`; and what holds for any measured surface."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.constants import SURFACE_COLUMNS, Overrides
from wempa.craft.job import Card, Colour, Note
from wempa.craft.vocabulary import Known
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Floats
from wempa.optics.surface import effective_floor, inside

from .amounts import Ground
from .prepared import PreparedCard
from .spectra import spectrum_of

# A typed colour that misses by less than this counts as met.
_MET = 0.05


def edge_note(name: str, colour: Colour, miss: float) -> tuple[Note, ...]:
    """A note on a colour of that name that no ink on card can have; none where it was met."""
    if miss <= _MET and colour.hex not in ("#ffffff", "#000000"):
        return ()
    text = f"{name} is brighter or deeper than ink on card can be; the nearest that can be is used."
    return (Note(NoteCode.BEYOND_SURFACE_COLOURS, text),)


def as_surface(what: str, measured: Floats, notes: tuple[Note, ...]) -> tuple[Floats, tuple[Note, ...]]:
    """What a surface that does not glow can reflect, (36,) in 0–1, with a note if that is less."""
    if measured.max() <= 1:
        return measured, notes
    text = f"{what} gives back more light than falls on it in some bands; without a glow it counts as white there."
    return np.minimum(measured, 1.0), (*notes, Note(NoteCode.MORE_THAN_ALL, text))


def own_values(prefix: str, columns: tuple[str, ...], table: Mapping[str, float], own: Overrides) -> dict[str, float]:
    """The columns of a formula or surface (`prefix`), with overrides of an ink or card; raises `ConstantError`."""
    found = {column: table[f"{prefix}.{column}"] for column in columns}
    for column, value in own:
        constants.check_override(f"{prefix}.{column}", value)
        found[column] = value
    return found


def colour_variants(measured: Floats, spread: float, illuminant: str) -> Floats:
    """The spectrum off by `spread` ΔE00 in all, in three smooth directions, (3, 36)."""
    x = (WAVELENGTHS - 555) / 175
    shapes = np.stack([np.ones(BANDS), x, 1.5 * x * x - 0.5])
    trial = np.clip(measured * (1 + 0.02 * shapes), 1e-6, None)
    moved = cm.delta_e(cm.lab(trial, illuminant), cm.lab(measured, illuminant)[None])
    size = 0.02 * (spread / np.sqrt(3)) / np.maximum(moved, 0.02)
    return np.asarray(np.clip(measured * np.exp(np.clip(size, 0, 0.5)[:, None] * shapes), 1e-6, None))


@lru_cache(4096)
def prepare_card(given: Card, illuminant: str, overrides: Overrides = ()) -> PreparedCard:
    """A card by its words, colour and own numbers."""
    return make_card(given, illuminant, overrides)


def make_card(given: Card, illuminant: str, overrides: Overrides = ()) -> PreparedCard:
    """`prepare_card` without its cache."""
    table = constants.values(overrides)
    own = own_values(f"surface.{given.surface}", SURFACE_COLUMNS, table, given.constants)
    measured, miss = spectrum_of(given.colour, illuminant)
    measured, notes = as_surface("The card", measured, edge_note("The card's colour", given.colour, miss))
    stated = own["floor"] if given.floor is None else given.floor
    floor = effective_floor(np.full(BANDS, max(stated, 1e-4)), measured)
    spread = table[f"known.{given.known}.spread"] * (0.5 if given.known is Known.TYPED else 1.0)
    return PreparedCard(
        measured=measured,
        internal=inside(measured, floor),
        floor=floor,
        n=own["n"],
        ground=Ground(
            texture=own["texture"] if given.texture is None else given.texture,
            absorbency=own["absorbency"] if given.absorbency is None else given.absorbency,
            takeup=own["takeup"] if given.takeup is None else given.takeup,
            exchange=own["exchange"],
            carries=own["carries"],
        ),
        lab=cm.lab(measured, illuminant),
        variants=inside(colour_variants(measured, spread, illuminant), floor),
        takeup_known=given.takeup is not None,
        notes=notes,
    )
