"""Other ways of looking at a stack: by dose, under other lamps, beside inks that one owns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.colour.families import family_of
from wempa.craft.colour.naming import compare
from wempa.craft.job import Card, Colour, Entry, Ink, Job, LayDown, Note, Stash
from wempa.craft.limits import DOSE_STEPS, MAX_DOSE, MAX_PASSES
from wempa.craft.prediction.many_stacks import Stack, WeighedStacks, weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import swatch_labs
from wempa.craft.prediction.results import Prediction
from wempa.craft.vocabulary import Illuminant, Look
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point

# From a breath to saturated, as multiples of what is laid now.
_LEAST, _MOST = 0.06, 4.0
# An ink farther than this, in ΔE00, says little about a colour.
_NEAR = 30.0


@dataclass(frozen=True, slots=True, eq=False)
class Strip:
    """A stack laid from a breath to saturated."""

    entry: int | None
    """Which lay-down alone; None for the whole stack."""
    factors: tuple[float, ...]
    """What the amounts are multiplied by, (s,)."""
    found: WeighedStacks
    """The s results."""


def dose_strips(job: Job, wanted: Floats | None = None) -> tuple[Strip, ...]:
    """Each lay-down alone and the whole stack, graded so that the hand's weight is seen.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).
    """
    factors = tuple(np.geomspace(_LEAST, _MOST, DOSE_STEPS).tolist())
    laid = [index for index, entry in enumerate(job.stack) if isinstance(entry, LayDown)]
    if not laid:
        return ()
    ways: list[tuple[int | None, Stack]] = [(index, (job.stack[index],)) for index in laid]
    if len(laid) > 1:
        ways.append((None, job.stack))
    stacks = [tuple([_times(entry, factor) for entry in stack]) for _, stack in ways for factor in factors]
    found = weigh_stacks(replace(job, stash=Stash()), stacks, wanted)
    count = len(factors)
    return tuple(
        Strip(
            entry,
            factors,
            WeighedStacks(
                found.lab[s : s + count],
                found.mud[s : s + count],
                found.kind[s : s + count],
                found.unswamped[s : s + count],
                found.cover[s : s + count],
            ),
        )
        for s, (entry, _) in zip(range(0, len(stacks), count), ways, strict=True)
    )


def _times(entry: Entry, factor: float) -> Entry:
    """A lay-down in a multiple of its amount; a treatment does not depend on the hand's weight."""
    if not isinstance(entry, LayDown):
        return entry
    if entry.dose is not None:
        return replace(entry, dose=min(MAX_DOSE, entry.dose * factor))
    return replace(entry, passes=min(float(MAX_PASSES), entry.passes * factor))


def in_daylight(job: Job) -> Job:
    """The same with every hex read as a colour seen by day, whatever the light it is viewed in.

    In the contract a hex is the colour as seen under the job's own light. What people keep
    in their stash was typed by day: under a lamp it is the ink that stays, not its look.
    """
    if job.illuminant is Illuminant.D65:
        return job
    inks = tuple([(key, _ink_by_day(ink)) for key, ink in job.inks])
    stash = Stash(
        tuple([(key, _ink_by_day(ink)) for key, ink in job.stash.inks]),
        tuple([(key, _card_by_day(card)) for key, card in job.stash.cards]),
    )
    return replace(job, cardstock=_card_by_day(job.cardstock), inks=inks, stash=stash)


def _colour_by_day(colour: Colour) -> Colour:
    if colour.hex is None:
        return colour
    light = str(Illuminant.D65)
    lab = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(colour.hex), light), white_point(light)).tolist()
    return Colour(lab=(lab[0], lab[1], lab[2]), lab_illuminant=Illuminant.D65)


def _card_by_day(card: Card) -> Card:
    return replace(card, colour=_colour_by_day(card.colour))


def _ink_by_day(ink: Ink) -> Ink:
    swatch = replace(ink.swatch, colour=_colour_by_day(ink.swatch.colour))
    if swatch.card is not None:
        swatch = replace(swatch, card=_card_by_day(swatch.card))
    if swatch.on_dark is not None:
        dark = swatch.on_dark
        swatch = replace(
            swatch, on_dark=replace(dark, colour=_colour_by_day(dark.colour), card=_card_by_day(dark.card))
        )
    return replace(ink, swatch=swatch)


@dataclass(frozen=True, slots=True, eq=False)
class UnderLight:
    """A stack viewed in one light."""

    illuminant: Illuminant
    bare: Prediction
    alone: tuple[Prediction, ...]
    """Each lay-down by itself."""
    full: Prediction


def in_lights(job: Job, lights: Sequence[Illuminant]) -> tuple[UnderLight, ...]:
    """The same inks and card viewed by each of the lights, colours given by day."""
    found = []
    laid = [entry for entry in job.stack if isinstance(entry, LayDown)]
    for light in lights:
        seen = replace(in_daylight(replace(job, illuminant=light)), stash=Stash(), fixes=False, look=Look.DRY)
        alone = tuple([predict(replace(seen, stack=(entry,))) for entry in laid])
        found.append(UnderLight(light, predict(replace(seen, stack=())), alone, predict(seen)))
    return tuple(found)


def parted_by_light(job: Job, views: Sequence[UnderLight]) -> tuple[Note, ...]:
    """A note on each two lay-downs that match in one light and not in another; the first is daylight."""
    table = constants.values(job.constants)
    inks = dict(job.inks)
    laid = [entry for entry in job.stack if isinstance(entry, LayDown)]
    names = [" and ".join(inks[key].name or key for key, _ in entry.parts) for entry in laid]
    notes = []
    for one, other in combinations(range(len(laid)), 2):
        if laid[one].parts == laid[other].parts:
            continue
        apart = [float(cm.delta_e(v.alone[one].colour.lab, v.alone[other].colour.lab)) for v in views]
        if apart and apart[0] <= table["light.match"] and max(apart) >= table["light.parted"]:
            lamp = views[apart.index(max(apart))].illuminant
            pair, far = f"{names[one]} and {names[other]}", f"{max(apart):.1f} ΔE00"
            text = f"{pair} match by day, but not under {lamp.phrase} ({far})."
            notes.append(Note(NoteCode.PARTED_BY_LIGHT, text))
    return tuple(notes)


@dataclass(frozen=True, slots=True)
class NearInk:
    """An ink that one owns, near a colour."""

    key: str
    text: str
    """Such as ``darker and greyer than Boiler Blue``."""
    delta_e: float


def nearest_inks(lab: Floats, job: Job, most: int = 3) -> tuple[NearInk, ...]:
    """The nearest inks of the stash to a colour, CIELAB (3,), one for each family of hue that is near."""
    if not job.stash.inks:
        return ()
    table = constants.values(job.constants)
    labs = swatch_labs([ink for _, ink in job.stash.inks], job)
    apart = cm.delta_e(labs, lab)
    found: dict[str, NearInk] = {}
    for row in np.argsort(apart, kind="stable").tolist():
        if apart[row] > _NEAR or len(found) == most:
            break
        key, ink = job.stash.inks[row]
        family = family_of(labs[row].tolist(), table)
        if family not in found:
            text = f"{compare(lab.tolist(), labs[row].tolist(), table)} {ink.name or key}"
            found[family] = NearInk(key, text, float(apart[row]))
    return tuple(found.values())
