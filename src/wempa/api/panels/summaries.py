"""Stored panels as they stand in lists."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wempa.craft.errors import WempaError
from wempa.formats.job import error_text
from wempa.store import Item

from .making import hex_of_card, stored_plan
from .models import PanelSummary
from .shown import shown_colours, size_text

if TYPE_CHECKING:
    from wempa.api.services import Services


def summary(services: Services, item: Item) -> PanelSummary:
    """A stored panel in a list of them; what is wrong with it where it cannot be shown."""
    mark = (item["revision"], services.shelf())
    return services.panel_summaries.get(item["id"], mark, lambda: _summarised(services, item))


def _summarised(services: Services, item: Item) -> PanelSummary:
    shown, size, card, trouble = list[str](), "", "", ""
    try:
        plan = stored_plan(item)
        size, card = size_text(plan), hex_of_card(services.shelf(), plan.card_id, plan)
        if plan.bands:
            shown = shown_colours(services.panels.made(plan).study(), str(plan.settings.illuminant))
    except WempaError as error:
        trouble = error_text(error)
    return PanelSummary(
        **{key: item[key] for key in ("id", "revision", "name")}, size=size, card=card, shown=shown, trouble=trouble
    )
