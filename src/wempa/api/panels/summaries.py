"""Stored panels as they stand in lists."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from wempa.api import held
from wempa.api.held import Held
from wempa.craft.errors import WempaError
from wempa.craft.lengths import size_said
from wempa.formats.job import error_text
from wempa.formats.panels.plan import PanelItem

from .making import hex_of_card
from .models import PanelSummary
from .shown import shown_colours

if TYPE_CHECKING:
    from wempa.api.services import Services


def summaries(services: Services) -> list[PanelSummary]:
    """Every stored panel; what is wrong with those that cannot be shown."""
    readable, unreadable = held.parted(PanelItem, services.workspace.read_all("panel"))
    shelf = services.shelf()
    listed = [
        services.panel_summaries.get(each.id, (each.revision, shelf), partial(_summarised, services, each))
        for each in readable
    ]
    listed += [
        PanelSummary(
            id=each.id, revision=each.revision, name=each.name, size="", card="", shown=[], trouble=each.trouble
        )
        for each in unreadable
    ]
    return sorted(listed, key=lambda each: each.id)


def _summarised(services: Services, stored: Held[PanelItem]) -> PanelSummary:
    plan = stored.item
    size = size_said((plan.width, plan.height), plan.unit == "in")
    shown, card, trouble = list[str](), "", ""
    try:
        card = hex_of_card(services.shelf(), plan.card_id, plan)
        if plan.bands:
            shown = shown_colours(services.panels.made(plan).study(), str(plan.settings.illuminant))
    except WempaError as error:
        trouble = error_text(error)
    return PanelSummary(
        id=stored.id, revision=stored.revision, name=stored.name, size=size, card=card, shown=shown, trouble=trouble
    )
