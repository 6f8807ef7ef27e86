"""Guess first: two inks and a card, and what would come of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from random import Random

import numpy as np

from wempa.craft.job import Job, LayDown
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Prediction
from wempa.craft.vocabulary import VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point

CHOICES = 4
"""Colours to choose from, beside mud."""
# Colours that stand side by side differ by so much, in ΔE00.
_APART = 8.0
_TRIED = 24
LATER = (3, 8, 20, 60)
"""After so many rounds comes again what was missed, then what was got right once, twice, three times since."""


class Mistake(StrEnum):
    """How a guess missed."""

    NONE = "none"
    MUD_MISSED = "mud_missed"
    MUD_FEARED = "mud_feared"
    TOO_LIGHT = "too_light"
    TOO_DARK = "too_dark"
    TOO_CLEAN = "too_clean"
    TOO_DULL = "too_dull"
    HUE = "hue"


@dataclass(frozen=True, slots=True, eq=False)
class Question:
    """What is asked."""

    job: Job
    prediction: Prediction
    choices: tuple[Floats, ...]
    """CIELAB of the colours to choose from."""
    right: int
    """Which of them it is; `len(choices)` for mud."""


@dataclass(frozen=True, slots=True)
class Round:
    """A pair that was asked before."""

    pair: tuple[str, ...]
    """Ink keys, lower first, and the card's."""
    asked: int
    """In which round it was asked last."""
    rights: int
    """How often in a row it was got right since it was missed; -1 for one that was never missed."""


def due(rounds: Sequence[Round], now: int) -> Round | None:
    """The pair that is to come again in this round, the longest overdue first; None if none is."""
    late = []
    for one in rounds:
        if one.rights < 0 or one.rights >= len(LATER):
            continue
        over = now - one.asked - LATER[one.rights]
        if over >= 0:
            late.append((-over, one.pair, one))
    return min(late)[2] if late else None


def question(jobs: Sequence[Job], seed: int) -> Question | None:
    """One of some jobs as a question: not too plain, with other colours to tell it from; None if none serves.

    Each job is two lay-downs. The wrong colours are what people expect: either ink's own, their
    mean on screen, the other order of strength, the clean in-between.
    """
    rng = Random(seed)  # noqa: S311 (nothing is kept secret by it)
    tried = rng.sample(list(jobs), min(_TRIED, len(jobs)))
    # Now and then a clean one, now and then mud: half of the questions ask for trouble.
    wants_mud = rng.random() < 0.4
    muddy = [job for job in tried if weigh_stacks(job, [job.stack]).mud[0] >= job.mud_line]
    for job in muddy if wants_mud and muddy else tried:
        made = _asked(job, rng)
        if made is not None:
            return made
    return None


def _asked(job: Job, rng: Random) -> Question | None:
    found = predict(job)
    true = found.colour.lab
    alone = [predict(replace(job, stash=type(job.stash)(), stack=(entry,))).colour.lab for entry in job.stack]
    light = str(job.illuminant)
    xyz = [cm.xyz_from_lab(lab, white_point(light)) for lab in alone]
    mean = cm.lab_from_xyz((xyz[0] + xyz[1]) / 2, white_point(light))
    wet = [replace(entry, passes=entry.passes * 0.4) if isinstance(entry, LayDown) else entry for entry in job.stack]
    lighter = predict(replace(job, stack=tuple(wet))).colour.lab
    chroma = float(np.hypot(true[1], true[2]))
    clean = np.array([true[0] + 8, *(true[1:] * (chroma + 25) / max(chroma, 5.0))])
    dull = np.array([true[0], *(true[1:] * 0.35)])
    dark = np.array([max(5.0, true[0] - 20), *(true[1:] * 0.8)])
    turned = np.array([true[0], true[1] * 0.4 - true[2] * 0.9, true[1] * 0.9 + true[2] * 0.4])
    others: list[Floats] = []
    pool = [*alone, mean, clean, lighter, dark, dull, turned]
    rng.shuffle(pool)
    for lab in pool:
        if all(float(cm.delta_e(lab, each)) >= _APART for each in (true, *others)):
            others.append(np.asarray(lab))
    muddy = found.verdict.kind is VerdictKind.MUDDY
    wrong = others[: CHOICES if muddy else CHOICES - 1]
    if len(wrong) < (CHOICES if muddy else CHOICES - 1) or float(cm.delta_e(alone[0], alone[1])) < _APART:
        return None
    if muddy:
        return Question(job, found, tuple(wrong), len(wrong))
    at = rng.randrange(CHOICES)
    choices = [*wrong[:at], true, *wrong[at:]]
    return Question(job, found, tuple(choices), at)


def mistake(asked: Question, chosen: int) -> Mistake:
    """How a guess missed; `chosen` is a place among the choices, or their number for mud."""
    if chosen == asked.right:
        return Mistake.NONE
    count = len(asked.choices)
    if asked.right == count:
        return Mistake.MUD_MISSED
    if chosen == count:
        return Mistake.MUD_FEARED
    true, guess = asked.choices[asked.right], asked.choices[chosen]
    light = float(guess[0] - true[0])
    chroma = float(np.hypot(guess[1], guess[2]) - np.hypot(true[1], true[2]))
    around = float(np.hypot(guess[1] - true[1], guess[2] - true[2]))
    across = max(around**2 - chroma**2, 0.0) ** 0.5
    most = max(abs(light), abs(chroma), across)
    if most == across:
        return Mistake.HUE
    if most == abs(light):
        return Mistake.TOO_LIGHT if light > 0 else Mistake.TOO_DARK
    return Mistake.TOO_CLEAN if chroma > 0 else Mistake.TOO_DULL


MISTAKE_SAID: Mapping[Mistake, str] = {
    Mistake.NONE: "right",
    Mistake.MUD_MISSED: "did not see the mud coming",
    Mistake.MUD_FEARED: "feared mud where there was none",
    Mistake.TOO_LIGHT: "guessed too light",
    Mistake.TOO_DARK: "guessed too dark",
    Mistake.TOO_CLEAN: "guessed too clean",
    Mistake.TOO_DULL: "guessed too dull",
    Mistake.HUE: "guessed another hue",
}
