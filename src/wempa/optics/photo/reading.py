"""Colours of swatches off a photo: tones undone, balanced, and read through what is known of the phone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from .areas import Area, PhotoError, look_at, white_field
from .family import MANY, PhoneMap, SeenSwatch, balanced, family_of, features, linear_of, tones_of
from .tone import SRGB, Box, Pixels, SeenStep, ToneCurve, fit_tone

_OVEREXPOSED, _BLACK = 0.5, 0.02
_MOST_STRAY = 0.1
# What is left of the steps, in code 0–1, above which something lies over them.
_UNEVEN_STEPS = 0.015
# Pixels that a step must have across, and those kept of each.
_LEAST_ACROSS, _MOST_OF_STEP = 8, 4000
# Share of a step's shorter side that is left out at each edge.
_STEP_MARGIN = 0.15
SEEN_DIGITS = 5
"""Decimals to which known swatches are kept."""
# Light of an area, as a share of white's, from which on it counts as bare card.
_BARE = 0.92
# Light of the steps, as a share of bare card's, above which there are none.
_NO_STEPS = 0.88


@dataclass(frozen=True, slots=True)
class PrintedStep:
    """A step of black lines on the photo."""

    box: Box
    share: float
    """Share of black as drawn, 0–1."""
    pitch: float
    """From one line to the next, in mm."""


@dataclass(frozen=True, slots=True, eq=False)
class Lighting:
    """What of a photo belongs to no swatch: its tones, white everywhere, stray light."""

    curve: ToneCurve
    tones: bool
    """Whether the curve is known."""
    whites: tuple[Area, ...]
    stray: Floats
    """Share of white's light that the lens spreads over all, (3,)."""
    wider: float = 0.0
    """By how much printed lines are wider than drawn, at each side in mm."""

    @property
    def white(self) -> Floats:
        """Light of white in the middle of the whites, (3,)."""
        return np.asarray(np.median([area.light for area in self.whites], axis=0))

    @property
    def kind(self) -> str:
        """Which phones it is taken for (`tones_of`)."""
        return tones_of(self.strength, self.tones)

    @property
    def strength(self) -> float:
        """How far the phone bends the tones, 0 where that is not known."""
        if not self.tones:
            return 0.0
        top = max(float(area.light.max()) for area in self.whites)
        return self.curve.strength(int(np.searchsorted(self.curve.table.mean(axis=1), top).clip(40, 255)))


@dataclass(frozen=True, slots=True, eq=False)
class Reading:
    """One swatch read."""

    lab: Floats
    """CIELAB under D65, (3,)."""
    spread: float
    """Radius in ΔE00 that holds the truth about two times in three, as far as phone and light go."""
    uneven: float
    """Standard deviation over the area, in ΔE00."""
    area: Area
    bare: bool
    """Whether it gives as much light as bare card."""


def light_of(
    photo: Pixels,
    whites: Sequence[Box],
    white_lab: Floats,
    dark: Box | None = None,
    dark_lab: Floats | None = None,
    steps: Sequence[PrintedStep] = (),
    curve: ToneCurve | None = None,
) -> Lighting:
    """Tones, white and stray light of a photo.

    Parameters
    ----------
    photo : gamma-coded sRGB.
    whites : areas of bare white card in pixels; at least one.
    white_lab : CIELAB under D65 of the white, (3,).
    dark, dark_lab : an area of known dark colour and its CIELAB: how far it looks lighter than it is,
        is stray light, and is taken off everywhere.
    steps : printed steps of black lines, from which the phone's tone curve follows.
    curve : the tone curve of a phone that is known, used where there are no steps.

    Raises
    ------
    PhotoError
        No white, white that is none, or steps that something lies over.
    """
    if not whites:
        raise PhotoError("mark the white of the card first")
    plain = [look_at(photo, box) for box in whites]
    for area in plain:
        if area.clipped > _OVEREXPOSED:
            raise PhotoError("the white is overexposed: take the photo again, a little darker")
        if area.light.min() < _BLACK:
            raise PhotoError("the white is nearly black: mark an area of bare white card")
    white = linear_of(white_lab)
    black = float((linear_of(dark_lab) / white).mean()) if dark_lab is not None else 0.05
    used, tones, wider = SRGB, False, 0.0
    if steps:
        # Solid black is a step without lines.
        solid = [] if dark is None else [PrintedStep(dark, 1.0, 1.0)]
        found = fit_tone(_looked_at(photo, [*steps, *solid], plain), black)
        if found is not None:
            if found.off > _UNEVEN_STEPS:
                raise PhotoError(
                    "the grey steps do not get darker evenly: glare or a shadow lies over them, so take it again"
                )
            used, tones, wider = found.curve, True, found.wider
    if not tones and curve is not None:
        used, tones = curve, True
    areas = tuple(plain if used is SRGB else [look_at(photo, box, used) for box in whites])
    stray = np.zeros(3)
    if dark is not None and dark_lab is not None:
        area = look_at(photo, dark, used)
        seen = balanced(area.light[None], white_field(areas, area.centre[None]))[0] * white
        stray = np.clip(seen - linear_of(dark_lab), 0, _MOST_STRAY)
    return Lighting(used, tones, areas, stray, wider)


def has_steps(photo: Pixels, steps: Sequence[PrintedStep], whites: Sequence[Box]) -> bool:
    """Whether the steps are there at all: on a sheet without them their places are as light as bare card."""
    if not steps or not whites:
        return False
    bare = np.median([look_at(photo, box).light.mean() for box in whites])
    return bool(np.median([_mean_light(photo, step.box) for step in steps]) < _NO_STEPS * bare)


def _mean_light(photo: Pixels, box: Box) -> float:
    left, top, right, bottom = (max(0, round(v)) for v in box)
    part = photo[top:bottom, left:right]
    return float(SRGB.light(part).mean()) if part.size else 1.0


def _looked_at(photo: Pixels, steps: Sequence[PrintedStep], whites: Sequence[Area]) -> list[SeenStep]:
    height, width = photo.shape[:2]
    found = []
    for step in steps:
        left, top, right, bottom = step.box
        inset = _STEP_MARGIN * min(right - left, bottom - top)
        x0, y0 = max(0, round(left + inset)), max(0, round(top + inset))
        x1, y1 = min(width, round(right - inset)), min(height, round(bottom - inset))
        if x1 - x0 < _LEAST_ACROSS or y1 - y0 < _LEAST_ACROSS:
            raise PhotoError("the grey steps are too small on the photo: go nearer, so that the sheet fills it")
        part = photo[y0:y1, x0:x1]
        # Large photos: every second row, third row … is enough.
        part = part[:: max(1, part.shape[0] * part.shape[1] // _MOST_OF_STEP)]
        weights = np.outer(_towards_middle(part.shape[0]), _towards_middle(part.shape[1])).ravel()
        centre = np.array([[(x0 + x1) / 2, (y0 + y1) / 2]])
        found.append(SeenStep(part.reshape(-1, 3), weights, step.share, step.pitch, white_field(whites, centre)[0]))
    return found


def _towards_middle(count: int) -> Floats:
    """A raised cosine, (count,)."""
    return np.asarray(1 - np.cos(2 * np.pi * (np.arange(count) + 0.5) / count))


def read_swatches(
    photo: Pixels,
    swatches: Sequence[Box],
    lighting: Lighting,
    white_lab: Floats,
    lamp: str = "D65",
    known: Sequence[SeenSwatch] = (),
    here: dict[int, Floats] | None = None,
) -> list[Reading]:
    """CIELAB (D65) of the marked swatches.

    Parameters
    ----------
    photo : gamma-coded sRGB.
    swatches : areas in pixels.
    lighting : `light_of` the photo.
    white_lab : CIELAB under D65 of the white, (3,).
    lamp : the light that the photo was taken under, of `LAMPS`.
    known : swatches that this phone saw before under this lamp, and their truth.
    here : of the swatches of this photo, those whose CIELAB under D65 is known, by place.

    Raises
    ------
    PhotoError
        An area cannot be read.
    """
    areas = [look_at(photo, box, lighting.curve) for box in swatches]
    if not areas:
        return []
    light, brighter, darker = _light(areas, lighting, white_lab)
    phone = _phone(light, lighting, lamp).learned([*known, *_seen(light, white_lab, here or {})])
    card = linear_of(white_lab)
    lab, spread = phone.read(light, card)
    ends = [phone.read(end, card)[0] for end in (brighter, darker)]
    uneven = [float(cm.delta_e(np.stack([end[i] for end in ends]), lab[i][None]).mean()) for i in range(len(lab))]
    bare = light.min(axis=1) >= _BARE
    return [Reading(lab[i], float(spread[i]), uneven[i], areas[i], bool(bare[i])) for i in range(len(areas))]


def known_as_seen(
    photo: Pixels, swatches: Sequence[Box], lighting: Lighting, white_lab: Floats, here: dict[int, Floats]
) -> list[SeenSwatch]:
    """Known swatches of a photo as its phone saw them, to be kept; `here` as in `read_swatches`."""
    areas = [look_at(photo, box, lighting.curve) for box in swatches]
    if not areas:
        return []
    return _seen(_light(areas, lighting, white_lab)[0], white_lab, here)


def _light(areas: Sequence[Area], lighting: Lighting, white_lab: Floats) -> tuple[Floats, Floats, Floats]:
    """Balanced light of areas without stray light (n, 3), and of their brighter and darker pixels."""
    field = white_field(lighting.whites, np.array([area.centre for area in areas]).reshape(-1, 2))
    stray = lighting.stray / linear_of(white_lab)
    light = np.stack([area.light for area in areas])
    scatter = np.stack([area.scatter for area in areas])

    def freed(seen: Floats) -> Floats:
        return np.maximum((balanced(np.maximum(seen, 0), field) - stray) / (1 - stray), 1e-5)

    return freed(light), freed(light + scatter), freed(light - scatter)


def _phone(light: Floats, lighting: Lighting, lamp: str) -> PhoneMap:
    # Squares left bare say nothing of the inks.
    inked = light[light.min(axis=1) < _BARE]
    many = len(inked) >= MANY
    family = family_of(lamp, lighting.kind, many)
    return family.map_of(features(inked, lighting.white, lighting.strength, many))


def _seen(light: Floats, white_lab: Floats, here: dict[int, Floats]) -> list[SeenSwatch]:
    white = linear_of(white_lab)
    found = []
    for place, lab in here.items():
        true = linear_of(lab) / white
        # Rounded as it is kept, so that what is read from the same photo again is known again.
        r, g, b = (round(float(v), SEEN_DIGITS) for v in light[place])
        red, green, blue = (round(float(v), SEEN_DIGITS) for v in true)
        found.append(SeenSwatch((r, g, b), (red, green, blue)))
    return found


def alike(labs: Floats, limit: float) -> list[tuple[int, int]]:
    """Pairs of readings (n, 3) nearer than `limit` in ΔE00."""
    pairs = []
    for i in range(len(labs)):
        distance = cm.delta_e(labs[i], labs[i + 1 :])
        pairs += [(i, i + 1 + int(j)) for j in np.flatnonzero(distance < limit)]
    return pairs


__all__ = [
    "Lighting",
    "PrintedStep",
    "Reading",
    "alike",
    "has_steps",
    "known_as_seen",
    "light_of",
    "read_swatches",
]
