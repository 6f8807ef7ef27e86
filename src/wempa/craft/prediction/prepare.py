"""From cards and inks as people describe them to what `optics` computes with.

Everything here is cached by content: the same ink on the same card under the same
light and table is worked out once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from functools import lru_cache
from threading import Lock

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.constants import FORMULA_COLUMNS, SURFACE_COLUMNS, Overrides
from wempa.craft.errors import ConstantError, JobError
from wempa.craft.job import Card, Colour, Ink, Job, Note
from wempa.craft.limits import WHITE_CARD
from wempa.craft.vocabulary import Formula, Known, PadState
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, WAVELENGTHS, Bools, Floats
from wempa.optics.ink import (
    Pigmentation,
    absorption_from_swatch,
    constants_from_two,
    darkened,
    lay_one,
    selective_scatter,
)
from wempa.optics.namespace import SCALAR, ramp
from wempa.optics.stack import Cards, Palette
from wempa.optics.surface import FLOOR_SHARE, effective_floor, inside, outside

from . import spectra
from .amounts import Ground, Habit, reference
from .glow import emission_band, split_glow
from .prepared import VARIANTS, PreparedCard, PreparedInk, PreparedJob
from .spectra import find_spectra, spectrum_of

# A typed colour that misses by less than this counts as met.
_MET = 0.05
# A swatch that no ink of its formula can give to within this gets a note.
_IMPOSSIBLE = 0.08
# Up to here the note says that it is a little off, in ΔE00.
_A_LITTLE = 5.0


# Prepared inks, by ink, the card of its swatch if that is the job's own, light and overrides; and how many are
# kept.
_inks: dict[tuple[Ink, Card | None, str, Overrides], PreparedInk] = {}
# Of the same, CIELAB of the swatch.
_labs: dict[tuple[Ink, Card | None, str, Overrides], Floats] = {}
_MOST_INKS = 4096
_inks_lock = Lock()

_PAD_SAID = {
    PadState.FRESH: "The pad of {} was re-inked lately and floods at first: blot before you lay it down.",
    PadState.DRYING: "The pad of {} is drying out: it may come paler and less even than shown.",
    PadState.DRY: "The pad of {} is all but dry and prints patchily: re-ink it before a card that matters.",
}


def forget() -> None:
    """Empty all caches of prepared cards and inks."""
    _prepared.cache_clear()
    spectra.forget()
    prepare_card.cache_clear()
    with _inks_lock:
        _inks.clear()
        _labs.clear()


def _edge_note(name: str, colour: Colour, miss: float) -> tuple[Note, ...]:
    if miss <= _MET and colour.hex not in ("#ffffff", "#000000"):
        return ()
    text = f"{name} is brighter or deeper than ink on card can be; the nearest that can be is used."
    return (Note(NoteCode.BEYOND_SURFACE_COLOURS, text),)


def _as_surface(what: str, measured: Floats, notes: tuple[Note, ...]) -> tuple[Floats, tuple[Note, ...]]:
    """What a surface that does not glow can reflect, (36,) in 0–1, with a note if that is less."""
    if measured.max() <= 1:
        return measured, notes
    text = f"{what} gives back more light than falls on it in some bands; without a glow it counts as white there."
    return np.minimum(measured, 1.0), (*notes, Note(NoteCode.MORE_THAN_ALL, text))


def _own(prefix: str, columns: tuple[str, ...], table: Mapping[str, float], own: Overrides) -> dict[str, float]:
    found = {column: table[f"{prefix}.{column}"] for column in columns}
    for column, value in own:
        constants.check_override(f"{prefix}.{column}", value)
        found[column] = value
    return found


def _colour_variants(measured: Floats, spread: float, illuminant: str) -> Floats:
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
    own = _own(f"surface.{given.surface}", SURFACE_COLUMNS, table, given.constants)
    measured, miss = spectrum_of(given.colour, illuminant)
    measured, notes = _as_surface("The card", measured, _edge_note("The card's colour", given.colour, miss))
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
        variants=inside(_colour_variants(measured, spread, illuminant), floor),
        takeup_known=given.takeup is not None,
        notes=notes,
    )


def prepare_ink(given: Ink, job_card: Card | None, illuminant: str, overrides: Overrides = ()) -> PreparedInk:
    """An ink by its swatch, formula and own numbers.

    `job_card` is the card to read the swatch on when the swatch says it is on the
    job's own; None otherwise, so that the cache is shared between cards.
    """
    return prepare_inks([(given, job_card)], illuminant, overrides)[0]


def prepare_inks(
    given: Sequence[tuple[Ink, Card | None]], illuminant: str, overrides: Overrides = ()
) -> tuple[PreparedInk, ...]:
    """`prepare_ink` of many; those that are new are worked out together, at a fraction of what each takes alone."""
    keys = [(ink, card, illuminant, overrides) for ink, card in given]
    with _inks_lock:
        ready = {key: _inks[key] for key in keys if key in _inks}
    new = [key for key in dict.fromkeys(keys) if key not in ready]
    if new:
        white = Card(Colour(hex=WHITE_CARD))
        lie = [(ink, prepare_card(ink.swatch.card or card or white, illuminant, overrides)) for ink, card, _, _ in new]
        ready |= zip(new, make_inks(lie, illuminant, overrides), strict=True)
        with _inks_lock:
            if len(_inks) > _MOST_INKS:
                _inks.clear()
            _inks.update({key: ready[key] for key in new})
    return tuple([ready[key] for key in keys])


def _own_numbers(given: Ink, table: Mapping[str, float]) -> dict[str, float]:
    own = _own(f"formula.{given.formula}", FORMULA_COLUMNS, table, given.constants)
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
    own = _own_numbers(given, table) | {key: ready.values[key] for key in ("hiding", "film_share", "trace")}
    habit = Habit(own["film_share"], own["strength"], own["habit"])
    offer, amount, cover, patch = reference(given.swatch.made_with, ground, habit, table)
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
    rows = [(one.wanted, one.below, one.scatters, one.shares, one.traces) for one in read]
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
    surface: _SwatchSurface
    floor: Floats
    stated_spread: float
    wanted: Floats
    """Internal reflectance to be reached, (r, 36)."""
    below: Floats
    scatters: Floats
    shares: Floats
    """(r,)."""
    traces: Floats
    """(r, 36)."""


@dataclass(frozen=True, slots=True, eq=False)
class _SwatchSurface:
    """What a swatch reflects and what it gives out."""

    measured: Floats
    """Reflectance as a surface can have it, without its glow, (36,)."""
    emission: Floats
    excitation: Floats
    notes: tuple[Note, ...]


def _seen_surface(
    given: Ink, lies_on: PreparedCard, illuminant: str, own: Mapping[str, float], table: Mapping[str, float]
) -> _SwatchSurface:
    name = given.name or "This ink"
    measured, miss = spectrum_of(given.swatch.colour, illuminant)
    notes = _edge_note(f"The swatch of {name}", given.swatch.colour, miss)
    emission, excitation = np.zeros(BANDS), np.zeros(BANDS)
    if given.formula is Formula.FLUORESCENT or given.emission is not None:
        band = emission_band(given.emission, measured, table)
        measured, emission, excitation = split_glow(
            measured, given.swatch.colour, band, lies_on, own, illuminant, table["ink.dispersion"]
        )
    measured, notes = _as_surface(f"The swatch of {name}", measured, notes)
    return _SwatchSurface(measured, emission, excitation, notes)


def _read_swatch(given: Ink, lies_on: PreparedCard, illuminant: str, overrides: Overrides, doubts: bool) -> _SwatchRead:
    table = constants.values(overrides)
    swatch = given.swatch
    own = _own_numbers(given, table)
    surface = _seen_surface(given, lies_on, illuminant, own, table)
    measured = surface.measured
    share = own["film_share"]
    stated_spread = table[f"known.{swatch.known}.spread"] if swatch.spread is None else swatch.spread
    count = VARIANTS if doubts else 1
    if not doubts:
        targets = measured[None]
    elif stated_spread:
        targets = np.concatenate([measured[None], _colour_variants(measured, stated_spread, illuminant)])
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
    reached = lay_one(lies_on.internal, absorption[0], read.scatters[0], np.array(share), read.traces[0])
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
    offer, amount, cover, patch = reference(given.swatch.made_with, lies_on.ground, habit, table)
    amount /= own["lays"]
    doubt = np.log(table[f"known.{given.swatch.known}.dose"]) * own["doubt_dose"]
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
    return float(own["hiding"] + (max(own["hiding"], own["white_hiding"]) - own["hiding"]) * white)


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
    seen, _ = _as_surface("The dark swatch", spectrum_of(dark_swatch.colour, illuminant)[0], ())
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


def prepare_job(job: Job, keys: Sequence[str]) -> PreparedJob:
    """Prepare the job's card and the named inks, from the caches where possible.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    declared = dict(job.inks)
    try:
        constants.values(job.constants)
        return _prepared(
            job.cardstock, tuple([(key, declared[key]) for key in keys]), str(job.illuminant), job.constants
        )
    except ConstantError as error:
        raise JobError(str(error), ("constants",)) from error


# Few are kept, because each may hold a table of films of 1.3 megabytes.
@lru_cache(64)
def _prepared(
    card_given: Card, inks_given: tuple[tuple[str, Ink], ...], illuminant: str, overrides: constants.Overrides
) -> PreparedJob:
    on = [ink.swatch.card.colour for _, ink in inks_given if ink.swatch.card is not None]
    swatches = [ink.swatch.colour for _, ink in inks_given]
    find_spectra([card_given.colour, Colour(hex=WHITE_CARD), *on, *swatches], illuminant)
    card = prepare_card(card_given, illuminant, overrides)
    white = prepare_card(replace(card_given, colour=Colour(hex=WHITE_CARD)), illuminant, overrides)
    own = [(ink, card_given if ink.swatch.card is None else None) for _, ink in inks_given]
    inks = prepare_inks(own, illuminant, overrides)
    cards = Cards(
        np.concatenate([card.internal[None], white.internal[None], card.variants]),
        np.stack([card.floor, white.floor, *[card.floor] * 3]),
        np.full(5, card.n),
    )
    stacked = [
        np.concatenate([getattr(ink, f.name) for ink in inks]) if inks else np.zeros((0, 36))
        for f in fields(Pigmentation)
    ]
    return PreparedJob(
        card=card,
        palette=Palette(cards, Pigmentation(*stacked)),
        card_from_white=float(cm.delta_e(card.lab, white.lab)),
        keys=tuple(key for key, _ in inks_given),
        inks=inks,
        illuminant=illuminant,
    )


def wanted_colours(job: Job) -> Floats | None:
    """Swatch colours of the stash, (w, 3): a mix close to one of them is never mud."""
    if not job.stash.inks:
        return None
    return swatch_labs([ink for _, ink in job.stash.inks], job)


def swatch_lab(ink: Ink, job: Job) -> Floats:
    """CIELAB (3,) of an ink's swatch under the job's light."""
    return np.asarray(swatch_labs([ink], job)[0])


def swatch_labs(inks: Sequence[Ink], job: Job) -> Floats:
    """CIELAB (n, 3) of the swatches of inks under the job's light; what they absorb need not be known for it."""
    light, overrides = str(job.illuminant), job.constants
    keys = [(ink, job.cardstock if ink.swatch.card is None else None, light, overrides) for ink in inks]
    with _inks_lock:
        found = {key: _labs[key] for key in keys if key in _labs}
    new = [key for key in dict.fromkeys(keys) if key not in found]
    if new:
        find_spectra([ink.swatch.colour for ink, *_ in new], light)
        table, white = constants.values(overrides), Card(Colour(hex=WHITE_CARD))
        lie = [prepare_card(ink.swatch.card or card or white, light, overrides) for ink, card, _, _ in new]
        seen = [
            _seen_surface(ink, lies_on, light, _own_numbers(ink, table), table).measured
            for (ink, *_), lies_on in zip(new, lie, strict=True)
        ]
        found |= zip(new, cm.lab(np.stack(seen), light), strict=True)
        with _inks_lock:
            if len(_labs) > _MOST_INKS:
                _labs.clear()
            _labs.update({key: found[key] for key in new})
    return np.stack([found[key] for key in keys])
