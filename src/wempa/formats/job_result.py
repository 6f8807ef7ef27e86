"""The result of a job as JSON (docs/job-format.md)."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft.codes import FixCode
from wempa.craft.errors import JobError
from wempa.craft.job import Note
from wempa.craft.overlap.fixes import predict_with_fixes
from wempa.craft.prediction.results import PredictedColour, Prediction, Verdict
from wempa.craft.vocabulary import VerdictKind, Way
from wempa.optics import colorimetry as cm

from .job import read_jobs
from .job_text import card_json, ink_json, stack_json

Triple = Annotated[list[float], Field(min_length=3, max_length=3)]


class _Model(BaseModel):
    # Results are made without validation; schemas are built only where they are asked for.
    model_config = ConfigDict(defer_build=True)


class SeenColour(_Model):
    """A predicted colour; `lab` and `lch` are CIELAB under the job's illuminant."""

    hex: str
    lab: Triple
    lch: Triple
    spectrum: list[float]
    in_screen_gamut: bool


class CodedText(_Model):
    """A reason or note: a stable code and plain words."""

    code: str
    text: str


class VerdictResult(_Model):
    """The verdict on the dry look; `mud` 0–100, `mud_chance` 0–1."""

    kind: VerdictKind
    mud: float
    mud_chance: float
    way: Way | None
    reasons: list[CodedText]


class Margin(_Model):
    """Radius in ΔE00 that holds the truth about two times in three."""

    delta_e: float


class FixResult(_Model):
    """A change that helps, as parts of a job; `stack` is null where it has no such form."""

    code: FixCode
    text: str
    stack: list[dict[str, Any]] | None
    cardstock: dict[str, Any] | None
    inks: dict[str, dict[str, Any]] | None
    mud: float | None


class PatchResult(_Model):
    """One of the colours that lie side by side, and its share of the area, 0–1."""

    share: float
    colour: SeenColour


class Result(_Model):
    """What `predict` gives for one job."""

    colour: SeenColour
    patches: list[PatchResult]
    """Where lay-downs lie in patches, the colours side by side; `colour` is their mean light."""
    drops: SeenColour | None
    steps: list[SeenColour]
    verdict: VerdictResult
    margin: Margin
    fixes: list[FixResult]
    notes: list[CodedText]


def seen_colour(seen: PredictedColour) -> SeenColour:
    """A predicted colour, sensibly rounded."""
    lab, lch = seen.lab, cm.lch(seen.lab)
    return SeenColour.model_construct(
        hex=seen.hex,
        lab=[round(v, 3) for v in lab.tolist()],
        lch=[round(v, 3) for v in lch.tolist()],
        spectrum=[round(v, 5) for v in seen.spectrum.tolist()],
        in_screen_gamut=seen.in_screen_gamut,
    )


def coded(notes: Iterable[Note]) -> list[CodedText]:
    """Reasons or notes."""
    return [CodedText.model_construct(code=note.code, text=note.text) for note in notes]


def verdict_result(verdict: Verdict) -> VerdictResult:
    """A verdict, sensibly rounded."""
    return VerdictResult.model_construct(
        kind=verdict.kind,
        mud=round(verdict.mud, 1),
        mud_chance=round(verdict.mud_chance, 3),
        way=verdict.way,
        reasons=coded(verdict.reasons),
    )


def patch_results(prediction: Prediction) -> list[PatchResult]:
    """The colours that lie side by side, the largest first; none where it is even."""
    return [
        PatchResult.model_construct(share=round(share, 3), colour=seen_colour(seen))
        for share, seen in prediction.patches
    ]


def result(prediction: Prediction) -> Result:
    """A prediction in the contract's form, sensibly rounded."""
    return Result.model_construct(
        colour=seen_colour(prediction.colour),
        patches=patch_results(prediction),
        drops=None if prediction.drops is None else seen_colour(prediction.drops),
        steps=[seen_colour(step) for step in prediction.steps],
        verdict=verdict_result(prediction.verdict),
        margin=Margin.model_construct(delta_e=round(prediction.margin, 2)),
        fixes=[
            FixResult.model_construct(
                code=fix.code,
                text=fix.text,
                stack=None if fix.job is None else stack_json(fix.job),
                cardstock=None if fix.job is None else card_json(fix.job.cardstock),
                inks=None if fix.job is None else {key: ink_json(ink) for key, ink in fix.job.inks},
                mud=None if fix.mud is None else round(fix.mud, 1),
            )
            for fix in prediction.fixes
        ],
        notes=coded(prediction.notes),
    )


def predict_text(text: str | bytes) -> tuple[list[Result], bool]:
    """Results of a JSON job or list of jobs, and whether it was a list.

    Raises
    ------
    JobError
        Not JSON, or a bad job; the place begins with its index if it is a list.
    """
    jobs, listed = read_jobs(text)
    results = []
    for index, job in enumerate(jobs):
        try:
            results.append(result(predict_with_fixes(job)))
        except JobError as error:
            raise JobError(error.message, (index, *error.place) if listed else error.place) from error
    return results, listed
