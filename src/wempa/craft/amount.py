"""How much ink gets onto the card, and how much of the card it covers.

Amounts are counted in pad impressions at normal load; a dose is an amount relative
to the one that made the ink's swatch. What a card holds of an ink runs full
exponentially: early on a sealed coating, late on thirsty card, and pigment builds
up on top of either.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp

from .job import MadeWith
from .words import Load, Tool


@dataclass(frozen=True, slots=True)
class Ground:
    """What of a card decides how it takes ink."""

    texture: float
    absorbency: float
    takeup: float


@dataclass(frozen=True, slots=True)
class Habit:
    """What of an ink, or of a premix by its shares, decides how it goes on."""

    film_share: float
    strength: float
    specks: float


def capacity(ground: Ground, habit: Habit, table: Mapping[str, float]) -> float:
    """Pad impressions at which the card runs full of such an ink, > 0."""
    sealed, thirsty = table["capacity.sealed"], table["capacity.thirsty"]
    soaks = sealed + (thirsty - sealed) * ground.absorbency
    return (1 - habit.film_share) * soaks + habit.film_share * table["capacity.film"]


def offered(tool: Tool, load: Load, passes: float, habit: Habit, table: Mapping[str, float]) -> float:
    """Pad impressions that the tool offers to the card, >= 0."""
    return table["tool." + tool + ".amount"] * table["load." + load] * passes * habit.strength


def accepted(offer: float, already: float, full: float) -> float:
    """Pad impressions that stay on the card, of an offer on what is `already` there."""
    return full * (exp(-already / full) - exp(-(already + offer) / full))


def covered(tool: Tool, load: Load, passes: float, ground: Ground, habit: Habit, table: Mapping[str, float]) -> float:
    """Share of the area that the tool leaves inked, above 0 to 1."""
    hollow = table["cover.texture"] * ground.texture * habit.specks
    wet = float(min(1.0, table["load." + load]) ** table["cover.load"])
    each = table["tool." + tool + ".cover"] * max(0.05, 1 - hollow) * wet
    return 1.0 - float((1 - each) ** passes)


def reference(
    made_with: MadeWith, ground: Ground, habit: Habit, table: Mapping[str, float]
) -> tuple[float, float, float]:
    """Offered and accepted amount behind a swatch, and its cover."""
    words = (made_with.tool, made_with.load, made_with.passes)
    offer = offered(*words, habit, table)
    stays = accepted(offer, 0.0, capacity(ground, habit, table))
    return offer, stays, covered(*words, ground, habit, table)
