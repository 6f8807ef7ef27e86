"""What routes of several rooms take and give beside the job contract."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from wempa.formats.job_result import CodedText, PatchResult, SeenColour, VerdictResult


class Strict(BaseModel):
    """A body that is given to a route; a field that it does not know is refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


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
    """Where it lies in patches: the colours side by side, of which `colour` is the mean light."""
    drops: SeenColour | None
    verdict: VerdictResult
    notes: list[CodedText]


class Stepped(BaseModel):
    """What was undone or redone; null if there was nothing to undo or redo."""

    what: str | None
