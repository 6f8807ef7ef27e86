"""The measured overprints: the model and its rivals on the same data."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np

from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Formula, Illuminant, Known, Surface
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.reconstruct import smoothest_reflectance

DATA = Path(__file__).parents[1] / "tests/data/overprint"
PAPERS = ("coated", "coated-lightweight", "coated-grade3", "uncoated", "newsprint")
Lab = tuple[float, float, float]


@dataclass(frozen=True)
class Paper:
    name: str
    card: Card
    solids: dict[str, Lab]
    overprints: list[tuple[list[str], Floats]]

    def bare(self) -> Lab:
        assert self.card.colour.lab is not None
        return self.card.colour.lab


def load(name: str) -> Paper:
    data = json.loads((DATA / f"{name}.json").read_text())
    card = Card(Colour(lab=tuple(data["paper"]["lab"])), Surface(data["paper"]["surface"]), known=Known.READER)
    overprints = [(o["inks"], np.array(o["lab"])) for o in data["overprints"]]
    return Paper(name, card, {k: tuple(v) for k, v in data["solids"].items()}, overprints)


def model(paper: Paper, inks: list[str], card: Card | None = None) -> Floats:
    """Wempa itself: each solid is a dye's swatch on that paper, laid down once each."""
    known = {
        ink: Ink(Swatch(Colour(lab=paper.solids[ink]), card=None, known=Known.READER), Formula.DYE, ink) for ink in inks
    }
    stack = tuple(LayDown(((ink, 1.0),), dose=1.0) for ink in inks)
    job = Job(card or paper.card, tuple(known.items()), stack, illuminant=Illuminant.D50)
    return predict(job).colour.lab


def _rgb(lab: Lab) -> Floats:
    return cm.srgb_from_xyz(cm.xyz_from_lab(np.array(lab), white_point("D50")), "D50")[0]


def _lab_of_rgb(rgb: Floats) -> Floats:
    return cm.lab_from_xyz(cm.xyz_from_srgb(rgb, "D50"), white_point("D50"))


def srgb_multiply(paper: Paper, inks: list[str]) -> Floats:
    """Coded sRGB of the swatches relative to the paper, multiplied."""
    bare = _rgb(paper.bare())
    product = bare.copy()
    for ink in inks:
        product *= _rgb(paper.solids[ink]) / bare
    return _lab_of_rgb(np.clip(product, 0, 1))


def linear_multiply(paper: Paper, inks: list[str]) -> Floats:
    """XYZ of the swatches relative to the paper, multiplied."""
    white = white_point("D50")
    bare = cm.xyz_from_lab(np.array(paper.bare()), white)
    product = bare.copy()
    for ink in inks:
        product *= cm.xyz_from_lab(np.array(paper.solids[ink]), white) / bare
    return cm.lab_from_xyz(product, white)


def lab_average(paper: Paper, inks: list[str]) -> Floats:
    """CIELAB of the swatches, averaged."""
    return np.asarray(np.mean([paper.solids[ink] for ink in inks], axis=0))


def beer_lambert(paper: Paper, inks: list[str]) -> Floats:
    """Reflectance of the swatches relative to the paper, multiplied band by band."""
    white = white_point("D50")
    names = [paper.bare(), *(paper.solids[ink] for ink in inks)]
    spectra, _ = smoothest_reflectance(cm.xyz_from_lab(np.array(names), white), "D50")
    return cm.lab(spectra[0] * np.prod(spectra[1:] / spectra[0], axis=0), "D50")


RIVALS: dict[str, Callable[[Paper, list[str]], Floats]] = {
    "sRGB multiply": srgb_multiply,
    "linear multiply": linear_multiply,
    "Lab average": lab_average,
    "Beer–Lambert": beer_lambert,
}


def errors(paper: Paper, predictor: Callable[[Paper, list[str]], Floats]) -> Floats:
    """ΔE00 of each overprint of a paper, (10,)."""
    return np.array([cm.delta_e(predictor(paper, inks), measured) for inks, measured in paper.overprints])


def fitted(paper: Paper) -> tuple[Card, float]:
    """The paper with the floor and take-up that suit it best, and the mean ΔE00 then.

    A coarse grid first, then ever finer ones around its best: two numbers, thirty
    colours, and the mean has several valleys.
    """

    def mean(floor: float, takeup: float) -> float:
        card = replace(paper.card, floor=floor, takeup=takeup)
        return float(errors(paper, lambda p, inks: model(p, inks, card)).mean())

    floors, takeups = [0.003, 0.006, 0.012, 0.025, 0.05, 0.08], [0.8, 0.85, 0.9, 0.95]
    best = min((mean(f, t), f, t) for f in floors for t in takeups)
    for factor, step in ((1.4, 0.05), (1.18, 0.025), (1.08, 0.012), (1.035, 0.006), (1.015, 0.003)):
        _, f0, t0 = best
        best = min(
            [best, *((mean(f, t), f, t) for f in (f0 / factor, f0, f0 * factor) for t in (t0 - step, t0, t0 + step))]
        )
    return replace(paper.card, floor=best[1], takeup=best[2]), best[0]


def middle(cards: Sequence[Card]) -> tuple[float, float]:
    """What a surface word stands for: the middle of papers of its kind, by the floor and take-up that suit each.

    Floors by their logarithms: they differ by factors.
    """
    own = [(card.floor or 0.0, card.takeup or 0.0) for card in cards]
    return float(np.exp(np.mean([np.log(floor) for floor, _ in own]))), float(np.mean([takeup for _, takeup in own]))


def left_out(suits: Mapping[str, Card]) -> dict[str, float]:
    """Mean ΔE00 of each coated paper by a surface word that was chosen on the other two.

    `suits` are the papers with what suits each, as `fitted` finds it.
    """
    names = [name for name in PAPERS if name.startswith("coated")]
    found = {}
    for name in names:
        floor, takeup = middle([suits[other] for other in names if other != name])
        paper = load(name)
        card = replace(paper.card, floor=floor, takeup=takeup)
        found[name] = float(errors(paper, partial(model, card=card)).mean())
    return found
