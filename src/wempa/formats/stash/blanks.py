"""Items of the stash before anything is said of them, for the pages to begin a new one with."""

from __future__ import annotations

from typing import Any

from wempa.craft.limits import WHITE_CARD
from wempa.craft.vocabulary import Tool
from wempa.formats import job

from .items import CardItem, InkItem, ToolItem


def blank_items() -> dict[str, dict[str, Any]]:
    """JSON of a new ink, card and tool, by kind: what each field is where nothing is said.

    None of them is a whole item yet: the names are empty, and the ink has no colour.
    """
    swatch = job.Swatch.model_construct(colour=job.Colour.model_construct())
    blanks = (
        InkItem.model_construct(name="", ink=job.Ink.model_construct(swatch=swatch)),
        CardItem.model_construct(name="", card=job.Cardstock(colour=job.Colour(hex=WHITE_CARD))),
        ToolItem.model_construct(name="", tool=Tool.BRUSH),
    )
    return {blank.kind: blank.model_dump(mode="json", exclude_none=True) for blank in blanks}
