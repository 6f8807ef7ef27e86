"""Observations: a job as it was laid, and the colour that came of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from wempa.craft.errors import JobError, quoted
from wempa.craft.job import Card, Colour, Ink, Job
from wempa.craft.vocabulary import Look


@dataclass(frozen=True, slots=True)
class Observation:
    """One swatch that was laid and seen."""

    job: Job
    """How it was laid; its look is that in which it was seen."""
    seen: Colour
    """What it looked like under the job's light."""
    spread: float
    """ΔE00 within which the reading holds two times in three, above 0."""
    drops: bool = False
    """Whether it was seen in a drop of water, and not beside the drop."""
    photo: str = ""
    """The photo that it was read off; readings off one photo miss in the same way."""

    def wet(self) -> bool:
        """Whether it was seen while still wet."""
        return self.job.look is Look.WET


@dataclass(frozen=True, slots=True, eq=False)
class Believed:
    """What is taken for true of inks, cards and the table before anything is learned."""

    inks: Mapping[str, Ink]
    """By key, the same in every observation."""
    cards: tuple[Card, ...]
    """Each card that anything was laid on, once."""
    ranges: Mapping[str, str]
    """Which inks behave alike, by key: the name of their range."""

    def place(self, job: Job) -> int:
        """Which of the cards a job is laid on."""
        return self.cards.index(job.cardstock)


def believed_of(jobs: Iterable[Job], ranges: Mapping[str, str] | None = None) -> Believed:
    """Inks and cards of some jobs, each once.

    Raises
    ------
    JobError
        One key stands for two different inks.
    """
    inks: dict[str, Ink] = {}
    cards: dict[Card, None] = {}
    for n, job in enumerate(jobs):
        cards.setdefault(job.cardstock)
        for key, ink in job.inks:
            if inks.setdefault(key, ink) != ink:
                raise JobError(f"the ink {quoted(key)} is another one than before; one key is one ink throughout", (n,))
    return Believed(inks, tuple(cards), dict(ranges or {}))


def as_seen(job: Job, look: Look) -> Job:
    """The job with nothing but what its look depends on."""
    return replace(job, look=look, fixes=False, stash=type(job.stash)())
