"""A simulated hand: lays swatches a little other than the table says, with inks a little other than their swatches.

A stand-in for somebody at a table: presses a brush harder than most, taps the foam lightly,
owns pads that come on stronger or weaker than their lids. What is true follows from an ink's
name, so that it is the same on every day.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown
from wempa.craft.limits import WHITE_CARD
from wempa.craft.log.observations import Observation, as_seen, believed_of
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Illuminant, Page
from wempa.optics import colorimetry as cm
from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Floats

from .camera import PHONES, photograph

HAND = {"tool.brush.amount": 1.35, "tool.foam.amount": 0.72, "tool.stamp.amount": 1.1, "load.light": 1.1}
"""Factors on rows of the table."""
_FLOOR, _AGAIN = 1.25, 0.1
_STRENGTH, _COLOUR = 0.13, 0.9


def true_world(jobs: Sequence[Job]) -> Supposed:
    """What the inks, cards and hand of some jobs really are."""
    believed = believed_of(jobs)
    table = constants.AS_SHIPPED
    inks = {key: _true_ink(ink) for key, ink in believed.inks.items()}
    cards = tuple(_true_card(card) for card in believed.cards)
    return Supposed(inks, cards, {row: table[row] * factor for row, factor in HAND.items()})


def _true_ink(ink: Ink) -> Ink:
    rng = _rng(ink.name)
    strength = float(np.exp(rng.normal(0, _STRENGTH)))
    lab = cm.lab(spectrum_of(ink.swatch.colour, "D65")[0])
    _, inverse = local_metric(*lab.tolist())
    l, a, b = (lab + inverse @ rng.normal(0, _COLOUR, 3)).tolist()

    colour = Colour(lab=(min(99.0, max(1.0, l)), a, b), lab_illuminant=Illuminant.D65)
    return replace(ink, strength=strength, swatch=replace(ink.swatch, colour=colour))


def _true_card(card: Card) -> Card:
    floor = constants.AS_SHIPPED[f"surface.{card.surface}.floor"] if card.floor is None else card.floor
    return replace(card, floor=min(0.4, floor * _FLOOR))


def _rng(text: str) -> np.random.Generator:
    return np.random.default_rng(int.from_bytes(hashlib.sha256(text.encode()).digest()[:8], "big"))


def laid_by_hand(jobs: Sequence[Job], seed: int = 1) -> list[Floats]:
    """Reflectance (36,) of swatches as the simulated hand lays them; it never does quite the same twice."""
    plain = [as_seen(replace(job, constants=()), job.look) for job in jobs]
    rng = np.random.default_rng(seed)
    believed = believed_of(plain)
    world = true_world(plain)
    asked = []
    for job in plain:
        stack = tuple(
            replace(entry, passes=entry.passes * float(np.exp(rng.normal(0, _AGAIN))))
            if isinstance(entry, LayDown)
            else entry
            for entry in job.stack
        )
        asked.append((Observation(replace(job, stack=stack), job.cardstock.colour, 1.0), world))
    return list(Bench(believed).reflectances(asked))


def photograph_swatches(jobs: Sequence[Job], lamp: str, phone: str, seed: int = 1) -> bytes:
    """A photo of a sheet with the swatches in its squares."""
    scene = replace(PHONES[phone], lamp=lamp, seed=seed)
    white = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
    return photograph(sheet_layout(Page.A4), laid_by_hand(jobs, seed), white, scene)
