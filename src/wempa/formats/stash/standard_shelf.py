"""What a new workspace begins with: the cards and tools that nearly every table has, and no inks."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID, uuid5

from wempa.craft.limits import WHITE_CARD

from .items import CardItem, ToolItem

FIRST_CHANGE = "Usual cards and tools"
"""What the first change of such a workspace is called."""

# As such cards are sold: the whites are brightened a little, kraft is unbleached, black is dyed in the pulp
# and never as dark as ink. Their owner measures or changes them.
_CARDS: tuple[tuple[str, str, str], ...] = (
    ("White, smooth", WHITE_CARD, "smooth"),
    ("White, coated", "#f9f9f7", "coated"),
    ("White watercolour", "#f6f3ea", "watercolour"),
    ("Kraft", "#b58f66", "absorbent"),
    ("Black", "#2a2929", "smooth"),
)
_TOOLS: tuple[dict[str, Any], ...] = (
    {"name": "Blending brush, light colours", "tool": "brush", "size": 30, "kept_for": "dye"},
    {"name": "Blending brush, dark colours", "tool": "brush", "size": 30, "kept_for": "dye"},
    {"name": "Foam, hybrids", "tool": "foam", "size": 40, "kept_for": "hybrid"},
    {"name": "Foam, white", "tool": "foam", "size": 30, "family": "white", "kept_for": "white"},
    {"name": "Stamp block", "tool": "stamp", "size": 50},
)


# So that the same card is known for the same where one workspace is taken into another.
_SHELF = UUID("6f3f2a58-4f0e-4f0b-9a42-0c5b8f8f9d11")
_MADE = "2026-11-27T09:00:00.000000+00:00"


def standard_shelf() -> list[tuple[Literal["card", "tool"], dict[str, Any]]]:
    """The cards and tools as the store lays them out, each with its kind; their identity is everywhere the same."""
    cards = [
        CardItem.model_validate({"name": name, "card": {"colour": {"hex": code}, "surface": surface}})
        for name, code, surface in _CARDS
    ]
    tools = [ToolItem.model_validate(tool) for tool in _TOOLS]
    return [*(("card", _known(card.stored())) for card in cards), *(("tool", _known(tool.stored())) for tool in tools)]


def _known(item: dict[str, Any]) -> dict[str, Any]:
    return {**item, "uuid": str(uuid5(_SHELF, item["name"])), "changed": _MADE}
