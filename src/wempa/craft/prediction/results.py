"""What a prediction says."""

from __future__ import annotations

from dataclasses import dataclass

from wempa.craft.codes import FixCode
from wempa.craft.job import Job, Note
from wempa.craft.vocabulary import VerdictKind, Way
from wempa.optics.grid import Floats
from wempa.optics.records import record


@record
class PredictedColour:
    """A predicted colour under the job's light."""

    spectrum: Floats
    """Reflectance (radiance factor) on the grid, (36,)."""
    lab: Floats
    hex: str
    in_screen_gamut: bool


@record
class Verdict:
    """What the overlap is, how muddy (0–100), how likely muddy (0–1), and why."""

    kind: VerdictKind
    mud: float
    mud_chance: float
    way: Way | None
    reasons: tuple[Note, ...]


@dataclass(frozen=True, slots=True)
class Fix:
    """A change that helps, recomputed. `job` is None where it has no stack form."""

    code: FixCode
    text: str
    job: Job | None
    mud: float | None
    shown: tuple[Prediction, ...] = ()
    """What it comes to: the overlap after it; of a bridge both its seams."""


@record
class Prediction:
    """The result of a job."""

    colour: PredictedColour
    drops: PredictedColour | None
    steps: tuple[PredictedColour, ...]
    verdict: Verdict
    margin: float
    """ΔE00 radius that holds the truth about two times in three."""
    notes: tuple[Note, ...]
    fixes: tuple[Fix, ...] = ()
    patches: tuple[tuple[float, PredictedColour], ...] = ()
    """Colours that lie side by side, with their shares of the area; none where it is even."""
