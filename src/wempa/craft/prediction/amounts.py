"""How much ink gets onto the card, and how much of the card it covers.

Amounts are counted in pad impressions at normal load; a dose is an amount relative
to the one that made the ink's swatch. What a card holds of an ink runs full
exponentially: early on a sealed coating, late on thirsty card, and pigment builds
up on top of either.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from wempa.craft.job import MadeWith
from wempa.craft.vocabulary import Load, Tool
from wempa.optics.namespace import SCALAR, Value


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


def accepted(offer: Value, already: Value, full: Value, xp: Any = SCALAR) -> Value:
    """Pad impressions that stay on the card, of an offer on what is `already` there; floats, or arrays (`xp` numpy)."""
    return full * (xp.exp(-already / full) - xp.exp(-(already + offer) / full))


@dataclass(frozen=True, slots=True)
class Dried:
    """What a lay-down over dry meets; floats, or arrays (b,)."""

    soaked: Value
    """Pad impressions offered so far of what soaks in, >= 0: what lies in films takes no room in the card."""
    dose: Value
    """Effective dose that lies there, >= 0."""
    seal: Value
    """How far what lies there takes the place of the card's take-up by pigment's own, 0–1."""

    def takes(self, ground: Ground, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
        """Share of a stated dose that is still accepted, 0–1 (take-up, as presses have it)."""
        accepts = ground.takeup + (table["takeup.pigment"] - ground.takeup) * self.seal
        return 1 - (1 - accepts) * xp.minimum(1.0, self.dose)

    def takes_by_tool(self, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
        """Share of what a tool lays down that is still accepted, 0–1: nearly all, for what is below has dried."""
        return 1 - (1 - table["takeup.tool"]) * xp.minimum(1.0, self.dose)

    def after(self, soaks: Value, dose: Value, seal: Value, xp: Any = SCALAR) -> Dried:
        """The same once a group of such a soaking offer, dose and seal has dried on it."""
        mix = xp.minimum(1.0, dose)
        return Dried(self.soaked + soaks, self.dose + dose, self.seal * (1 - mix) + seal * mix)


BARE = Dried(0.0, 0.0, 0.0)


def held_up(film_dose: Value, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
    """Share of a free dye that a wet film of such a dose holds up, 0–1."""
    return 1 - xp.exp(-film_dose / table["held.scale"])


def free_share(habit: Habit) -> float:
    """Share of an ink that soaks through freely: the dye of a hybrid is bound to its pigment and mixes with it."""
    return max(0.0, 1 - 2 * habit.film_share)


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
