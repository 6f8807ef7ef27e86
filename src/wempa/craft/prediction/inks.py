"""Inks as people describe them, made ready for `optics`: their swatches solved for absorption and scatter."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import hypot, log

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.constants import FORMULA_COLUMNS, Overrides
from wempa.craft.job import Ink, MadeWith, Note, Swatch
from wempa.craft.vocabulary import Formula, Known, PadState
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, Bools, Floats
from wempa.optics.ink import (
    absorption_from_swatch,
    constants_from_two,
    darkened,
    lay_one,
    selective_scatter,
)
from wempa.optics.namespace import SCALAR, ramp
from wempa.optics.surface import FLOOR_SHARE, effective_floor, inside, outside

from .amounts import Ground, Habit, reference, supposed_made
from .cards import as_surface, colour_variants, edge_note, own_values, prepare_card
from .chalk import chalk_of, dried_chalk
from .glow import emission_band, split_glow
from .prepared import VARIANTS, PreparedCard, PreparedInk
from .spectra import spectrum_of

# A swatch that no ink of its formula can give to within this gets a note.
_IMPOSSIBLE = 0.08
# Up to here the note says that it is a little off, in ΔE00.
_A_LITTLE = 5.0

_PAD_SAID = {
    PadState.FRESH: "The pad of {} was re-inked lately and floods at first: blot before you lay it down.",
    PadState.DRYING: "The pad of {} is drying out: it may come paler and less even than shown.",
    PadState.DRY: "The pad of {} is all but dry and prints patchily: re-ink it before a card that matters.",
}


def own_numbers(given: Ink, table: Mapping[str, float]) -> dict[str, float]:
    """The columns of an ink's formula with what is said or was learned of the ink itself."""
    own = own_values(f"formula.{given.formula}", FORMULA_COLUMNS, table, given.constants)
    if given.hiding is not None:
        own["hiding"] = given.hiding
    if given.soak_share is not None:
        own["film_share"] = 1 - given.soak_share
    # What was learned of an ink or its formula changes what is laid, and never its swatch.
    own["lays"] *= 1.0 if given.strength is None else given.strength
    return own


def laid_anew(ready: PreparedInk, given: Ink, ground: Ground, overrides: Overrides) -> PreparedInk:
    """A prepared ink that goes on as `given` and the table now say; what it absorbs and scatters stays as it is.

    `ground` is that of the card its swatch lies on.
    """
    table = constants.values(overrides)
    own = own_numbers(given, table) | {key: ready.values[key] for key in ("hiding", "film_share", "trace")}
    habit = Habit(own["film_share"], own["strength"], own["habit"])
    offer, amount, cover, patch = _reference(given.swatch, ground, habit, table)
    amount /= own["lays"]
    return replace(ready, habit=habit, offer=offer, amount=amount, cover=cover, patch=patch, values=own)


def make_ink(
    given: Ink, lies_on: PreparedCard, illuminant: str, overrides: Overrides = (), doubts: bool = True
) -> PreparedInk:
    """`prepare_ink` without a memory, for an ink whose swatch lies on a card made ready.

    Without `doubts` it has the one row of the ink itself: enough for colours, not for margins.
    """
    return make_inks([(given, lies_on)], illuminant, overrides, doubts)[0]


def make_inks(
    given: Sequence[tuple[Ink, PreparedCard]], illuminant: str, overrides: Overrides = (), doubts: bool = True
) -> list[PreparedInk]:
    """`make_ink` of many at once."""
    read = [_read_swatch(ink, lies_on, illuminant, overrides, doubts) for ink, lies_on in given]
    rows = [(one.wanted, one.below, one.dried, one.shares, one.traces) for one in read]
    absorption, impossible = absorption_from_swatch(*(np.concatenate(each) for each in zip(*rows, strict=True)))
    ends = np.cumsum([len(one.wanted) for one in read])[:-1]
    solved = zip(read, np.split(absorption, ends), np.split(impossible, ends), strict=True)
    return [_from_swatch(*one, illuminant, overrides) for one in solved]


@dataclass(frozen=True, slots=True, eq=False)
class _SwatchRead:
    """A swatch seen below the surface, under each of r suppositions."""

    given: Ink
    lies_on: PreparedCard
    own: dict[str, float]
    """The ink's own numbers."""
    surface: SwatchSurface
    floor: Floats
    stated_spread: float
    wanted: Floats
    """Internal reflectance to be reached, (r, 36)."""
    below: Floats
    scatters: Floats
    dried: Floats
    """The same with the chalk of its own card, (r, 36)."""
    shares: Floats
    """(r,)."""
    traces: Floats
    """(r, 36)."""


@dataclass(frozen=True, slots=True, eq=False)
class SwatchSurface:
    """What a swatch reflects and what it gives out."""

    measured: Floats
    """Reflectance as a surface can have it, without its glow, (36,)."""
    emission: Floats
    excitation: Floats
    notes: tuple[Note, ...]


def seen_surface(
    given: Ink, lies_on: PreparedCard, illuminant: str, own: Mapping[str, float], table: Mapping[str, float]
) -> SwatchSurface:
    """What an ink's swatch reflects and gives out; `own` are the ink's own numbers."""
    name = given.name or "This ink"
    measured, miss = spectrum_of(given.swatch.colour, illuminant)
    notes = edge_note(f"The swatch of {name}", given.swatch.colour, miss)
    emission, excitation = np.zeros(BANDS), np.zeros(BANDS)
    if given.formula is Formula.FLUORESCENT or given.emission is not None:
        band = emission_band(given.emission, measured, table)
        measured, emission, excitation = split_glow(
            measured, given.swatch.colour, band, lies_on, own, illuminant, table["ink.dispersion"]
        )
    measured, notes = as_surface(f"The swatch of {name}", measured, notes)
    return SwatchSurface(measured, emission, excitation, notes)


def _read_swatch(given: Ink, lies_on: PreparedCard, illuminant: str, overrides: Overrides, doubts: bool) -> _SwatchRead:
    table = constants.values(overrides)
    swatch = given.swatch
    own = own_numbers(given, table)
    surface = seen_surface(given, lies_on, illuminant, own, table)
    measured = surface.measured
    share = own["film_share"]
    stated_spread = table[f"known.{swatch.known}.spread"] if swatch.spread is None else swatch.spread
    count = VARIANTS if doubts else 1
    if not doubts:
        targets = measured[None]
    elif stated_spread:
        targets = np.concatenate([measured[None], colour_variants(measured, stated_spread, illuminant)])
    else:
        targets = np.repeat(measured[None], 4, axis=0)
    floor = effective_floor(lies_on.floor, measured)
    internal = inside(targets, floor)
    if given.hiding is None and swatch.on_dark is None:
        own["hiding"] = _hiding(own, cm.lab(measured, illuminant).tolist(), table)
    scatter = own["hiding"] / (1 - own["hiding"])
    dark = table["ink.dark_scatter"]
    below = np.repeat(lies_on.internal[None], count, axis=0)
    wanted = np.concatenate([internal, internal[:1], internal[:1]])[:count]
    traces = selective_scatter(np.full(count, own["trace"]), wanted, below, table["ink.dispersion"])

    if swatch.on_dark is not None:
        scattering = _scatter_from_dark(given, internal[0], lies_on, scatter, (share, traces[0]), illuminant, overrides)
        doubt, shares = 1.05, np.full(6, share)
        scatters = np.stack([*[scattering] * 4, scattering * doubt, scattering / doubt])
    elif given.formula is Formula.UNKNOWN and given.hiding is None:
        shares = np.array([share] * 4 + [table["formula.pigment.film_share"], table["formula.dye.film_share"]])
        hide = table["formula.pigment.hiding"]
        doubtful = [scatter] * 4 + [hide / (1 - hide), 0.0]
        scatters = _dark_scatter(doubtful[:count], internal[0], dark)
    else:
        doubt = table["margin.hiding"] ** own["doubt_hiding"]
        shares = np.full(6, share)
        doubtful = [scatter] * 4 + [scatter * doubt, scatter / doubt]
        scatters = _dark_scatter(doubtful[:count], internal[0], dark)
    shares, scatters = shares[:count], scatters[:count]
    return _SwatchRead(
        given,
        lies_on,
        own,
        surface,
        floor,
        stated_spread,
        wanted,
        below,
        scatters,
        scatters + chalk_of(1.0, dried_chalk(own, lies_on.ground, table), table),
        shares,
        traces,
    )


def _from_swatch(
    read: _SwatchRead, absorption: Floats, impossible: Bools, illuminant: str, overrides: Overrides
) -> PreparedInk:
    """The ink that absorbs as the swatch demands."""
    table, own, given, lies_on, measured = (
        constants.values(overrides),
        read.own,
        read.given,
        read.lies_on,
        read.surface.measured,
    )
    notes, count, name = list(read.surface.notes), len(absorption), given.name or "This ink"
    share = own["film_share"]
    reached = lay_one(lies_on.internal, absorption[0], read.dried[0], np.array(share), read.traces[0])
    off = float(cm.delta_e(cm.lab(outside(reached, read.floor), illuminant), cm.lab(measured, illuminant)))
    if off > _IMPOSSIBLE:
        side = "light" if impossible[0].any() else "dark"
        much = "a little" if off < _A_LITTLE else "much"
        text = (
            f"{name}: this colour is {much} too {side} for {given.formula.said} on its card; the nearest possible is "
            "used."
        )
        notes.append(Note(NoteCode.IMPOSSIBLE_SWATCH, text))

    if given.pad in _PAD_SAID:
        notes.append(Note(NoteCode.PAD, _PAD_SAID[given.pad].format(name)))
    habit = Habit(share, own["strength"], own["habit"])
    offer, amount, cover, patch = _reference(given.swatch, lies_on.ground, habit, table)
    amount /= own["lays"]
    doubt = swatch_dose_doubt(given.swatch, table) * own["doubt_dose"]
    return PreparedInk(
        absorption=absorption,
        scattering=read.scatters,
        film_share=read.shares,
        trace=read.traces,
        floor_cap=np.repeat(FLOOR_SHARE * np.clip(measured, 1e-5, 1)[None], count, axis=0),
        emission=np.repeat(read.surface.emission[None], count, axis=0),
        excitation=np.repeat(read.surface.excitation[None], count, axis=0),
        habit=habit,
        offer=offer,
        amount=amount,
        cover=cover,
        patch=patch,
        dose_doubt=float(doubt),
        hand=1.0 if given.pad is None else table[f"pad.{given.pad}.hand"],
        colour_doubt=bool(read.stated_spread),
        scatter_doubt=bool(read.scatters[min(4, count - 1)].any()),
        formula=given.formula,
        values=own,
        lab=cm.lab(measured, illuminant),
        notes=tuple(notes),
        mean_absorption=float(absorption[0].mean()),
        mean_extinction=float(absorption[0].mean() + read.scatters[0].mean()),
    )


def swatch_dose_doubt(swatch: Swatch, table: Mapping[str, float]) -> float:
    """Standard deviation of ln dose behind a swatch, >= 0, by how it is known and whether it says how it was made."""
    doubt = log(table[f"known.{swatch.known}.dose"])
    if swatch.known is Known.LID and swatch.made_with is None:
        return hypot(doubt, log(table["lid.unasked"]))
    return doubt


def swatch_made(ink: Ink, table: Mapping[str, float]) -> MadeWith:
    """How an ink's swatch was made: as it says, or as it is supposed to have been."""
    return supposed_made(ink.swatch, own_numbers(ink, table)["film_share"], table)


def _reference(
    swatch: Swatch, ground: Ground, habit: Habit, table: Mapping[str, float]
) -> tuple[float, float, float, float]:
    """`amounts.reference` of a swatch. A lid was blended by its maker's hand, whatever one's own hand is like."""
    made = supposed_made(swatch, habit.film_share, table)
    if swatch.made_with is None and swatch.known is Known.LID:
        by_hand = {name: row for name, row in constants.AS_SHIPPED.items() if name.startswith(("tool.", "load."))}
        table = {**table, **by_hand}
    return reference(made, ground, habit, table)


def _dark_scatter(scatters: Sequence[float], swatch: Floats, dark: float) -> Floats:
    """S (n, 36) of so many suppositions of an ink's scatter, as far as its swatch's darkness allows."""
    return np.stack([darkened(np.full(BANDS, s), swatch, dark) for s in scatters])


def _hiding(own: Mapping[str, float], lab: Sequence[float], table: Mapping[str, float]) -> float:
    """Hiding power of an ink whose swatch has such CIELAB, where nobody has said: white pigment hides best.

    A swatch on white card cannot tell how well a white hides; what makes it white is the
    strongest scatterer there is, and only a colour that nothing dulls is made of it alone.
    """
    light, a, b = lab
    white = ramp(light, table["white.light_from"], table["white.light_to"], SCALAR)
    white *= 1 - ramp(float(np.hypot(a, b)), table["white.chroma_from"], table["white.chroma_to"], SCALAR)
    plain, best = own["hiding"], max(own["hiding"], own["white_hiding"])
    if not plain or not white:
        return float(plain)
    # In equal steps of ln S, for what an eye sees of a film over black goes by that.
    scatter = (plain / (1 - plain)) ** (1 - white) * (best / (1 - best)) ** white
    return float(scatter / (1 + scatter))


def _scatter_from_dark(
    given: Ink,
    light: Floats,
    lies_on: PreparedCard,
    expected: float,
    soaking: tuple[float, Floats],
    illuminant: str,
    overrides: Overrides,
) -> Floats:
    """S (36,) from the swatch on dark card; K is then solved on the light one."""
    dark_swatch = given.swatch.on_dark
    assert dark_swatch is not None
    table = constants.values(overrides)
    dark_card = prepare_card(dark_swatch.card, illuminant, overrides)
    seen, _ = as_surface("The dark swatch", spectrum_of(dark_swatch.colour, illuminant)[0], ())
    floor = effective_floor(dark_card.floor, seen)
    spread = table[f"known.{given.swatch.known}.spread"] if given.swatch.spread is None else given.swatch.spread
    dark = inside(seen, floor)
    # One ΔE00 of lightness is about 2.6 % of R^(2/3) (derivative of L*).
    noise = tuple(0.026 * spread * np.maximum(r, 1e-3) ** (2 / 3) for r in (light, dark))
    _, scattering = constants_from_two(
        (light, dark),
        (lies_on.internal, dark_card.internal),
        (noise[0], noise[1]),
        np.full(BANDS, expected),
        *soaking,
    )
    return scattering
