"""Logged swatches in, what they taught out: what `wempa fit` reads and prints (docs/job-format.md)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, Strict, ValidationError

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_HELD_OUT, MAX_OBSERVATIONS
from wempa.craft.log.learning import Fit, learn, predicted, reworded, seen_lab
from wempa.craft.log.observations import Believed, Observation, as_seen, believed_of
from wempa.craft.log.supposed import Supposed
from wempa.craft.log.told import evenly, gain_said, lessons, notes_of
from wempa.craft.vocabulary import Known, Look
from wempa.formats.job import Colour, Job, Number, few, first_problem, load_json
from wempa.formats.job_text import card_json, ink_json
from wempa.optics import colorimetry as cm

# A reading that is said to be exact is as good as any.
_LEAST_SPREAD = 0.1


class ObservationIn(BaseModel):
    """A swatch that was laid and seen."""

    model_config = ConfigDict(extra="forbid", defer_build=True)

    job: Job
    observed: Colour
    spread: Annotated[Number, Field(ge=0, le=50)] | None = None
    """ΔE00 that the reading holds two times in three; that of a photo if not given."""
    look: Look | None = None
    drops: Annotated[bool, Strict()] = False
    """Whether it was seen where water was dropped."""

    def to_core(self) -> Observation:
        """For the core; raises `JobError`."""
        job = self.job.to_core()
        spread = constants.values(job.constants)[f"known.{Known.PHOTO}.spread"] if self.spread is None else self.spread
        return Observation(
            as_seen(job, self.look or job.look), self.observed.to_core(), max(_LEAST_SPREAD, spread), self.drops
        )


class FitFile(BaseModel):
    """Swatches to learn from, and others to ask about."""

    model_config = ConfigDict(extra="forbid", defer_build=True)

    observations: Annotated[list[ObservationIn], few(MAX_OBSERVATIONS), Field(max_length=MAX_OBSERVATIONS)]
    hold_out: Annotated[list[ObservationIn], few(MAX_HELD_OUT), Field(max_length=MAX_HELD_OUT)] = []


def fit_text(text: str | bytes) -> dict[str, Any]:
    """What the swatches of a file taught.

    Raises
    ------
    JobError
        It is no such file, or a job in it is bad; one sentence and its place.
    """
    return fit_data(load_json(text))


def fit_data(data: Any) -> dict[str, Any]:
    """What parsed swatches taught; raises `JobError`."""
    if not isinstance(data, dict):
        raise JobError("a file of swatches is an object with observations, and may have hold_out")
    try:
        read = FitFile.model_validate(data)
    except ValidationError as error:
        message, place = first_problem(error)
        raise JobError(message, place) from error
    seen, asked = _observations("observations", read.observations), _observations("hold_out", read.hold_out)
    try:
        believed = believed_of([one.job for one in (*seen, *asked)])
    except JobError as error:
        n = int(error.place[0])
        place = ("observations", n) if n < len(seen) else ("hold_out", n - len(seen))
        raise JobError(error.message, (*place, "job", "inks")) from error
    table = constants.values(seen[0].job.constants if seen else ())
    fit = learn(believed, seen, table)
    return written(fit, believed, seen, asked, [each["job"] for each in data.get("hold_out", [])], table)


def _observations(where: str, given: Sequence[ObservationIn]) -> list[Observation]:
    found = []
    for n, one in enumerate(given):
        try:
            found.append(one.to_core())
        except JobError as error:
            raise JobError(error.message, (where, n, "job", *error.place)) from error
    return found


def written(
    fit: Fit,
    believed: Believed,
    seen: Sequence[Observation],
    asked: Sequence[Observation],
    raw: Sequence[dict[str, Any]],
    table: Mapping[str, float],
) -> dict[str, Any]:
    """A fit as JSON; `raw` are the jobs that are asked about, as they were given."""
    first = Supposed.of(believed)
    world = fit.world if fit.adopted else first
    before, after = fit.before, fit.after
    if asked:
        true = np.stack([seen_lab(one) for one in asked])
        held = [float(cm.delta_e(predicted(believed, each, asked), true).mean()) for each in (first, fit.world)]
        before, after = (before[0], held[0]), (after[0], held[1])
    inks = {key: changed(ink_json(ink), ink_json(world.inks[key])) for key, ink in believed.inks.items()}
    cards = [changed(card_json(one), card_json(other)) for one, other in zip(believed.cards, world.cards, strict=True)]
    most = max(range(len(cards)), key=lambda at: sum(believed.place(one.job) == at for one in seen), default=0)
    told = [each.text for each in lessons(fit, believed, _card_names(believed), table)]
    notes = [note.text for note in notes_of(fit, evenly(len(seen)))]
    return {
        "adopted": fit.adopted,
        "before": _figures(before),
        "after": _figures(after),
        "inks": {key: each for key, each in inks.items() if each},
        "card": cards[most] if cards else {},
        "cards": [
            {"cardstock": card_json(card), "changed": each} for card, each in zip(believed.cards, cards, strict=True)
        ],
        "constants": {name: round(value, 6) for name, value in world.rows.items()},
        "jobs": [
            _job(job, one, believed, world, inks) if fit.adopted else job for job, one in zip(raw, asked, strict=True)
        ],
        "notes": [*([*told, gain_said(fit)] if fit.adopted else []), *notes],
    }


def _card_names(believed: Believed) -> list[str]:
    count = len(believed.cards)
    return ["This card"] if count == 1 else [f"Card {n + 1}" for n in range(count)]


def _figures(two: tuple[float, float]) -> dict[str, float]:
    return {"fit": round(two[0], 4), "held_out": round(two[1], 4)}


def changed(before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    """Fields that are not as they were."""
    return {key: value for key, value in after.items() if before.get(key) != value}


def _job(
    raw: dict[str, Any], one: Observation, believed: Believed, world: Supposed, inks: dict[str, dict[str, Any]]
) -> dict[str, Any]:
    """A job as it was given, with what was learned put in."""
    learned = reworded(one.job, believed, world)
    card = changed(card_json(one.job.cardstock), card_json(learned.cardstock))
    constants_now = {**dict(one.job.constants), **world.rows}
    return {
        **raw,
        "cardstock": {**raw["cardstock"], **card},
        "inks": {key: {**ink, **inks.get(key, {})} for key, ink in raw["inks"].items()},
        **({"constants": constants_now} if constants_now else {}),
    }
