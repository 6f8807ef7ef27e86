"""Small worlds for tests of learning: what is believed, and swatches laid in another one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from wempa.craft.job import Card, Colour, Ink, Job, LayDown, MadeWith, Swatch
from wempa.craft.log.observations import Believed, Observation, believed_of
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.vocabulary import Formula, Illuminant, Known, Surface, Tool

SNOW = Card(Colour(hex="#f8f7f4"), Surface.SMOOTH)
INKS = {
    "blue": Ink(Swatch(Colour(hex="#2a5ca8")), Formula.DYE, "Boiler Blue"),
    "yellow": Ink(Swatch(Colour(hex="#f2c21b")), Formula.DYE, "Brass Gauge"),
    "red": Ink(Swatch(Colour(hex="#cf2f36"), known=Known.LID, made_with=MadeWith()), Formula.DYE, "Flag Red"),
    "coral": Ink(Swatch(Colour(hex="#ef7458")), Formula.HYBRID, "Coral Bunting"),
    "jug": Ink(Swatch(Colour(hex="#4f78c4")), Formula.PIGMENT, "Cornflower Jug"),
}


def lay(ink: str, passes: float = 4, tool: Tool = Tool.BRUSH, **more: object) -> LayDown:
    return LayDown(((ink, 1.0),), tool=tool, passes=passes, **more)  # type: ignore[arg-type]


def job_of(*stack: object, card: Card = SNOW, inks: Mapping[str, Ink] = INKS, **more: object) -> Job:
    used = {key for entry in stack if isinstance(entry, LayDown) for key, _ in entry.parts}
    declared = tuple((key, ink) for key, ink in inks.items() if key in used)
    return Job(card, declared, tuple(stack), **more)  # type: ignore[arg-type]


MANY = (
    (lay("blue", 1),),
    (lay("blue", 6),),
    (lay("yellow", 2),),
    (lay("red", 4),),
    (lay("yellow", 4), lay("blue", 3)),
    (lay("red", 2), lay("yellow", 4)),
    (lay("coral", 3, Tool.FOAM),),
    (lay("jug", 3, Tool.FOAM),),
    (lay("jug", 2, Tool.FOAM), lay("red", 3)),
    (lay("coral", 2, Tool.FOAM), lay("blue", 4)),
    (lay("red", 8),),
    (lay("yellow", 8), lay("coral", 3, Tool.FOAM)),
)


def seen_in(
    true: Supposed, jobs: Sequence[Job], spread: float = 0.5, noise: float = 0.0, seed: int = 1
) -> tuple[Believed, list[Observation]]:
    """The jobs as they come out in a true world, read with normal errors of `noise` an axis of CIELAB."""
    believed = believed_of(jobs)
    asked = [(Observation(job, SNOW.colour, spread), true) for job in jobs]
    labs = Bench(believed).labs(asked)
    labs = labs + np.random.default_rng(seed).normal(0, noise, labs.shape) if noise else labs
    found = []
    for job, lab in zip(jobs, labs.tolist(), strict=True):
        colour = Colour(lab=(lab[0], lab[1], lab[2]), lab_illuminant=Illuminant.D65)
        found.append(Observation(job, colour, spread))
    return believed, found


def with_rows(jobs: Sequence[Job], rows: Mapping[str, float], **strengths: float) -> Supposed:
    believed = believed_of(jobs)
    inks = {
        key: replace(ink, strength=strengths[key]) if key in strengths else ink for key, ink in believed.inks.items()
    }
    return Supposed(inks, believed.cards, dict(rows))
