"""A seam as an overlap of its own, and back."""

from __future__ import annotations

from dataclasses import replace

from wempa.craft.job import LayDown, said_of
from wempa.craft.panels.panel import name_of
from wempa.craft.panels.study import Study
from wempa.craft.vocabulary import Over, Upper
from wempa.craft.ways import plain_key
from wempa.formats.overlap.items import OverlapItem, StackEntry
from wempa.formats.panels.plan import BandIn, PanelItem
from wempa.store import NotFound, StoreError

from .making import MadePanel


def overlap_of_seam(made: MadePanel, seam: int) -> OverlapItem:
    """The two inks of a seam as an overlap to be stored, laid as on the panel; raises `NotFound`."""
    found = made.study()
    pair = _pair(found, seam)
    lays = [made.panel.laid(k) for k in pair]
    stack = [entry for entry in made.job.stack if isinstance(entry, LayDown)]
    stack += [lays[0], replace(lays[1], over=Over.WET if found.placed.seams[seam].wet else Over.DRY)]
    entries = []
    for entry in stack:
        parts = tuple([(plain_key(key), share) for key, share in entry.parts])
        entries.append(StackEntry.of(said_of(replace(entry, parts=parts))))
    names = " and ".join(name_of(made.job, made.panel, k) for k in pair)
    plan = made.plan
    name = f"{names}: a seam of {plan.name}"[:200]
    return OverlapItem(name=name, card_id=plan.card_id, settings=plan.settings, stack=entries)


def seam_as_overlap(made: MadePanel, overlap: OverlapItem, seam: int) -> PanelItem:
    """The panel with the two bands of a seam laid as a stored overlap has them: inks, tools, passes, order, wet or dry.

    Raises
    ------
    NotFound
        There is no such seam.
    StoreError
        The overlap has something else than two inks.
    """
    plan, found = made.plan, made.study()
    pair = _pair(found, seam)
    inked = [entry for entry in overlap.stack if entry.treatment is None]
    if plan.white_id is not None and len(inked) == 3 and inked[0].ink_id == plan.white_id:
        inked = inked[1:]
    if len(inked) != 2 or any(entry.ink_id is None for entry in inked):
        raise StoreError("a seam has two inks, one over the other; this overlap has something else")
    bands, seams = list(plan.bands), list(plan.whole().seams)
    # An ink that is still there keeps its band; a new ink takes the other band.
    own = [bands[k].ink_id for k in pair]
    turned = inked[0].ink_id == own[1] or (inked[1].ink_id == own[0] and inked[0].ink_id != own[0])
    laid = pair[::-1] if turned else pair
    for k, entry in zip(laid, inked, strict=True):
        said = {"ink_id", "tool", "load", "passes", "dose", "dilution"}
        hand = entry.model_dump(include=said, exclude_none=True)
        bands[k] = BandIn.model_validate({"weight": bands[k].weight, "width": bands[k].width, **hand})
    upper = seams[seam].upper
    if turned:
        upper = Upper.FIRST if laid[1] == found.seams[seam].pair[0] else Upper.SECOND
    wet = inked[1].over is Over.WET
    seams[seam] = seams[seam].model_copy(update={"wet": wet, "upper": upper})
    return PanelItem(**{**plan.model_dump(), "bands": bands, "seams": seams, "card_id": overlap.card_id})


def _pair(found: Study, seam: int) -> list[int]:
    """The bands of a seam in the order of laying."""
    if not 0 <= seam < len(found.seams):
        raise NotFound(f"there is no seam {seam + 1} on this panel")
    return sorted(found.seams[seam].pair, key=found.work.order.index)
