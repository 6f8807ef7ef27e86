"""Photos by the simulated camera, with their truth, for tests and benchmarks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wempa.craft.job import Colour
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, mark_sheet, sheet_layout
from wempa.craft.vocabulary import Page
from wempa.demo.camera import LAMPS, Scene, photograph
from wempa.demo.penny_halt import INKS
from wempa.formats.stash.photo_file import decode
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.photo import Pixels, find_marks, read_swatches

CARD = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
BLACK_LAB = np.array([25.5, 0.0, 0.0])
SCENES = {
    "daylight": Scene(),
    "warm lamp": Scene(lamp="warm lamp", seed=2),
    "LED lamp": Scene(lamp="led lamp", seed=3),
    "uneven light": Scene(uneven=0.5, seed=4),
    "warm and uneven": Scene(lamp="warm lamp", uneven=0.5, seed=5),
}


@dataclass(frozen=True)
class Shot:
    pixels: Pixels
    truth: Floats
    """CIELAB (D65) of the swatches, (n, 3)."""


def shoot(scene: Scene, inks: tuple[tuple[str, str, str, str], ...] = INKS[:36]) -> Shot:
    spectra = [spectrum_of(Colour(hex=code), "D65")[0] for _, _, code, _ in inks]
    return Shot(decode(photograph(sheet_layout(Page.A4), spectra, CARD, scene)), cm.lab(np.stack(spectra)))


def errors(shot: Shot, scene: Scene) -> Floats:
    """ΔE00 of every swatch as Wempa reads it, found by the sheet's own marks."""
    corners = find_marks(shot.pixels, MARK_RADIUS_MM / 210)
    assert corners is not None
    marked = mark_sheet(Page.A4, corners)
    found = read_swatches(
        shot.pixels,
        marked.swatches[: len(shot.truth)],
        marked.whites,
        cm.lab(CARD),
        marked.dark,
        BLACK_LAB,
        LAMPS[scene.lamp],
    )
    return cm.delta_e(np.stack([reading.lab for reading in found]), shot.truth)


def naive_errors(shot: Shot) -> Floats:
    """The rival: the middle of each square's pixels, taken as they are."""
    corners = find_marks(shot.pixels, MARK_RADIUS_MM / 210)
    assert corners is not None
    found = []
    for left, top, right, bottom in mark_sheet(Page.A4, corners).swatches[: len(shot.truth)]:
        area = shot.pixels[round(top) : round(bottom), round(left) : round(right)].reshape(-1, 3)
        found.append(cm.lab_from_xyz(cm.xyz_from_srgb(area.mean(axis=0) / 255, "D65"), white_point("D65")))
    return cm.delta_e(np.stack(found), shot.truth)
