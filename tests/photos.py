"""Photos by the simulated camera, with their truth, for tests and benchmarks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np

from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, Marked, mark_sheet, sheet_layout
from wempa.craft.vocabulary import Page
from wempa.demo.camera import LAMPS, Scene, photograph
from wempa.demo.penny_halt import INKS
from wempa.formats.stash.photo_file import decode
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.photo import (
    Lighting,
    Pixels,
    PrintedStep,
    Reading,
    find_marks,
    light_of,
    look_at,
    read_swatches,
    white_field,
)
from wempa.optics.photo.family import balanced, lab_of, linear_of, terms

CARD = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
CARD_LAB = cm.lab(CARD)
BLACK_LAB = np.array([25.5, 0.0, 0.0])
SCENES = {
    "daylight": Scene(),
    "warm lamp": Scene(lamp="warm lamp", seed=2),
    "LED lamp": Scene(lamp="led lamp", seed=3),
    "uneven light": Scene(uneven=0.5, seed=4),
    "warm and uneven": Scene(lamp="warm lamp", uneven=0.5, seed=5),
}
PHONES = {
    "own, linear": Scene(),
    "own, bent tones": Scene(bend=0.35),
    "own, bent and painted up by 15 %": Scene(bend=0.35, paint=0.15),
    "own, bent by 60 %, painted up by 25 %": Scene(bend=0.6, paint=0.25),
    "camera A, linear": Scene(sensor="A"),
    "camera A, bent and painted up by 15 %": Scene(sensor="A", bend=0.35, paint=0.15, sharpen=0.4),
    "camera B, linear": Scene(sensor="B"),
}
LIGHTS = {
    "daylight": Scene(),
    "warm lamp": Scene(lamp="warm lamp"),
    "LED lamp": Scene(lamp="led lamp"),
    "warm and uneven": Scene(lamp="warm lamp", uneven=0.5),
}


def under(phone: Scene, light: Scene, seed: int = 1) -> Scene:
    """A phone under a light."""
    return replace(phone, lamp=light.lamp, uneven=light.uneven, seed=seed)


@dataclass(frozen=True, eq=False)
class Shot:
    pixels: Pixels
    truth: Floats
    """CIELAB (D65) of the swatches, (n, 3)."""


def spectra_of(inks: Sequence[tuple[str, str, str, str]]) -> list[Floats]:
    return [spectrum_of(Colour(hex=code), "D65")[0] for _, _, code, _ in inks]


def shoot(
    scene: Scene, inks: Sequence[tuple[str, str, str, str]] = INKS[:36], spectra: Sequence[Floats] | None = None
) -> Shot:
    """A photo of a sheet as it is decoded, and what is true of it; the same photo is taken once."""
    return _shot(scene, tuple(inks), None if spectra is None else tuple(tuple(each) for each in spectra))


@lru_cache(6)
def _shot(
    scene: Scene, inks: tuple[tuple[str, str, str, str], ...], spectra: tuple[tuple[float, ...], ...] | None
) -> Shot:
    found = spectra_of(inks) if spectra is None else [np.array(each) for each in spectra]
    return Shot(decode(photograph(sheet_layout(Page.A4), found, CARD, scene)), cm.lab(np.stack(found)))


# Asked again and again of one photo.
@lru_cache(4)
def marked_on(shot: Shot) -> Marked:
    corners = find_marks(shot.pixels, MARK_RADIUS_MM / 210)
    assert corners is not None
    return mark_sheet(Page.A4, corners)


def lighting_of(shot: Shot, steps: bool = True) -> Lighting:
    marked = marked_on(shot)
    drawn = [PrintedStep(step.box, step.share, step.pitch) for step in marked.steps] if steps else []
    return light_of(shot.pixels, marked.whites, CARD_LAB, marked.dark, BLACK_LAB, drawn)


def readings(shot: Shot, scene: Scene, known: Sequence[int] = (), steps: bool = True) -> list[Reading]:
    """Every swatch as Wempa reads it, found by the sheet's own marks; `known` are places whose truth is given."""
    return read_swatches(
        shot.pixels,
        marked_on(shot).swatches[: len(shot.truth)],
        lighting_of(shot, steps),
        CARD_LAB,
        LAMPS[scene.lamp],
        here={place: shot.truth[place] for place in known},
    )


def errors(shot: Shot, scene: Scene, known: Sequence[int] = (), steps: bool = True) -> Floats:
    """ΔE00 of every swatch as Wempa reads it."""
    return cm.delta_e(np.stack([one.lab for one in readings(shot, scene, known, steps)]), shot.truth)


def naive_errors(shot: Shot) -> Floats:
    """The rival: the middle of each square's pixels, taken as they are."""
    found = []
    for left, top, right, bottom in marked_on(shot).swatches[: len(shot.truth)]:
        area = shot.pixels[round(top) : round(bottom), round(left) : round(right)].reshape(-1, 3)
        found.append(cm.lab_from_xyz(cm.xyz_from_srgb(area.mean(axis=0) / 255, "D65"), white_point("D65")))
    return cm.delta_e(np.stack(found), shot.truth)


def earlier_errors(shot: Shot, scene: Scene) -> Floats:
    """The way before phones were looked at: one root polynomial for each lamp, fitted to 24 cameras."""
    rows = [line.split(",") for line in (Path(__file__).parent / "data/earlier_correction.csv").read_text().split()]
    table = np.array([row[2:] for row in rows if row[0] == LAMPS[scene.lamp]], dtype=np.float64)
    marked = marked_on(shot)
    whites = [look_at(shot.pixels, box) for box in marked.whites]
    white = linear_of(CARD_LAB)

    def seen(box: tuple[float, float, float, float]) -> Floats:
        area = look_at(shot.pixels, box)
        return np.asarray(balanced(area.light[None], white_field(whites, area.centre[None]))[0] * white)

    assert marked.dark is not None
    stray = np.clip(seen(marked.dark) - linear_of(BLACK_LAB), 0, 0.1)
    light = np.stack([seen(box) for box in marked.swatches[: len(shot.truth)]])
    found: Floats = cm.delta_e(lab_of(terms((light - stray) / (1 - stray)) @ table), shot.truth)
    return found
