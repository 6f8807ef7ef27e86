"""What routes of several rooms take and give beside the job contract."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft.limits import MAX_DILUTION, MAX_DOSE, MAX_INKS, MAX_PASSES
from wempa.craft.vocabulary import Illuminant, Load, Over, Tool, Treatment
from wempa.formats.job import Number, Whole
from wempa.formats.job_result import CodedText, PatchResult, SeenColour, VerdictResult


class Strict(BaseModel):
    """What is given to a route; a field that it does not know is refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class MixPart(Strict):
    """One ink of a premix."""

    ink_id: Whole
    share: Annotated[Number, Field(gt=0, le=1000)]


class OverlapEntry(Strict):
    """A lay-down of a stash ink, or of a premix, or a treatment."""

    ink_id: Whole | None = None
    mix: Annotated[list[MixPart], Field(min_length=1, max_length=MAX_INKS)] | None = None
    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] | None = None
    dose: Annotated[Number, Field(ge=0, le=MAX_DOSE)] | None = None
    dilution: Annotated[Number, Field(ge=0, le=MAX_DILUTION)] | None = None
    over: Over | None = None
    treatment: Treatment | None = None


class OverlapSettings(Strict):
    """What a job has beside its card, inks and stack."""

    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] | None = None
    """None: its owner's."""
    constants: dict[str, Number] = {}

    def stored(self) -> dict[str, Any]:
        """As the store lays it out: what is said."""
        return self.model_dump(mode="json", exclude_defaults=True)


class LookOut(BaseModel):
    """A predicted colour with its words, margin and verdict."""

    words: str
    closeness: str
    """The margin in words."""
    margin: float
    """ΔE00 that holds the truth about two times in three."""
    chance: str
    """The chance of mud in words."""
    colour: SeenColour
    patches: list[PatchResult]
    """Where it lies in patches, the colours side by side; `colour` is their mean light."""
    drops: SeenColour | None
    verdict: VerdictResult
    notes: list[CodedText]


class Stepped(BaseModel):
    """What was undone or redone; null if there was nothing."""

    what: str | None
