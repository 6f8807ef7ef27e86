"""How much ink gets onto the card, and how much of the card it covers.

Amounts are counted in pad impressions at normal load; a dose is an amount relative
to the one that made the ink's swatch. A card holds what it is offered until it runs
full: early on a sealed coating, late on thirsty card; films fill by themselves and
build up on top of either. Who gives way on a full card stands in `pools`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import log, sqrt
from typing import Any

from wempa.craft.job import MadeWith, Swatch
from wempa.craft.vocabulary import Known, Load, Tool
from wempa.optics.namespace import SCALAR, Value
from wempa.optics.records import HashedOnce


@dataclass(frozen=True, slots=True)
class Ground(HashedOnce):
    """The properties of a card that decide how it takes ink."""

    texture: float
    absorbency: float
    takeup: float
    exchange: float = 1.0
    carries: float = 1.0
    """Share of a stated dose that a later one leaves there, 0–1."""
    __hash__ = HashedOnce.__hash__


@dataclass(frozen=True, slots=True)
class Habit(HashedOnce):
    """The properties of an ink, or of a premix by its shares, that decide how it goes on."""

    film_share: float
    strength: float
    specks: float
    __hash__ = HashedOnce.__hash__


def card_capacity(ground: Ground, table: Mapping[str, float]) -> float:
    """Pad impressions of what soaks in at which a card runs full, > 0."""
    sealed, thirsty = table["capacity.sealed"], table["capacity.thirsty"]
    # Even a coating that is not quite closed takes some ink.
    return sealed + (thirsty - sealed) * ground.absorbency**2


def sealed_share(ground: Ground, table: Mapping[str, float]) -> float:
    """How far a card lets nothing soak away, 0–1."""
    return max(0.0, 1 - ground.absorbency / table["yield.soaks"])


def colour_yield(ground: Ground, habit: Habit, tool: Tool | None, table: Mapping[str, float]) -> float:
    """Colour that an amount of ink gives on a card by a tool, against drinking card, 1 or more.

    On sealed card nothing soaks away where it is seen less: a print fills it at once, and is deep when full.
    A tool that rubs takes up again what the card does not drink.
    """
    sealed = sealed_share(ground, table)
    most = table["yield.rubbed" if tool is not None and tool.swept else "yield.sealed"]
    return 1 + (most - 1) * sealed * free_share(habit)


USUAL_PASSES = 4.0
"""The number of passes that gives the same however passes add up."""


def offered(tool: Tool, load: Load, passes: float, habit: Habit, table: Mapping[str, float]) -> float:
    """Pad impressions that the tool offers to the card, >= 0."""
    build = table["tool." + tool + ".build"]
    times = passes if build == 1 else passes * float((passes / USUAL_PASSES) ** (build - 1))
    return table["tool." + tool + ".amount"] * table["load." + load] * times * habit.strength


def held(offer: Value, full: Value, xp: Any = SCALAR) -> Value:
    """Pad impressions that stay of all that was offered, >= 0, to what is `full`; floats or arrays.

    All of it until that is half full, then less and less: with t how far the offer goes beyond, in
    halves, t / (1 + t⁴)^(1/4) halves of it more. Smooth to the fourth derivative.
    """
    half = full * KNEE
    over = xp.maximum(offer - half, 0.0) / (full - half)
    square = over * over
    return xp.minimum(offer, half) + (full - half) * over / (1 + square * square) ** 0.25


KNEE = 0.5
"""The share of what the card holds up to which all that is offered stays. Below it no ink shares with another."""


def film_stays(films: Value, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
    """The share that stays, 0–1, of so many pad impressions of film, offered in one go or wet into wet."""
    some = xp.maximum(films, 1e-12)
    return held(some, table["capacity.film"], xp) / some


@dataclass(frozen=True, slots=True)
class Dried:
    """What a lay-down over dry ink lies on; floats, or arrays (b,)."""

    dose: Value
    """Effective dose that lies there, >= 0."""
    seal: Value
    """How far what lies there takes the place of the card's take-up by pigment's own, 0–1."""

    def takes(self, ground: Ground, strength: Value, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
        """Share of the area on which a stated dose is accepted, above 0 to 1 (take-up, as presses have it).

        Less on two inks than on one, and more of an ink that is strong, by its mean K + S at dose 1: it
        shows where it has taken thinly too.
        """
        accepts = ground.takeup + (table["takeup.pigment"] - ground.takeup) * self.seal
        third = (table["takeup.third"] - 1) * xp.minimum(1.0, xp.maximum(0.0, self.dose - 1))
        weak = xp.minimum(table["takeup.weak_most"], xp.sqrt(table["takeup.strength"] / xp.maximum(strength, 1e-6)))
        return xp.maximum(0.05, 1 - (1 - accepts) * weak * (xp.minimum(1.0, self.dose) + third))

    def takes_by_tool(self, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
        """Share of what a tool lays down that is still accepted, 0–1: nearly all, for what is below has dried."""
        return 1 - (1 - table["takeup.tool"]) * xp.minimum(1.0, self.dose)

    def after(self, dose: Value, seal: Value, xp: Any = SCALAR) -> Dried:
        """What lies there once a group of such a dose and seal has dried on it."""
        mix = xp.minimum(1.0, dose)
        return Dried(self.dose + dose, self.seal * (1 - mix) + seal * mix)


BARE = Dried(0.0, 0.0)


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


@lru_cache(512)
def hand_doubt(
    tool: Tool, load: Load, passes: float, ground: Ground, habit: Habit, table: Mapping[str, float]
) -> float:
    """Standard deviation of ln of what a lay-down comes to, by a hand that goes once more or once less,
    from a load one step wetter or drier: in its amount, and in how much of the area that amount reaches.

    `table` is one of `constants.values`, for what was found is kept.
    """
    loads = list(Load)
    at = loads.index(load)
    steps = loads[max(0, at - 1) : at + 2]
    counts = [max(min(passes, 1.0), passes - 1), passes, passes + 1]
    # Beyond the lightest and the juiciest load the step is as large as on the near side.
    apart = [log(table["load." + one] / table["load." + other]) ** 2 for one, other in pairwise(steps)]
    reach = [log(covered(tool, load, count, ground, habit, table) * patched(tool, count, table)) for count in counts]
    return sqrt(2 / 3 * sum(apart) / len(apart) + _variance([log(count) for count in counts]) + _variance(reach))


def _variance(values: Sequence[float]) -> float:
    mean = sum(values) / len(values)
    return sum([(value - mean) ** 2 for value in values]) / len(values)


def stays_open(open_time: float, tool: Tool, table: Mapping[str, float]) -> bool:
    """Whether an ink that stays open for so many seconds is still wet when the next has been over a card's front once.

    Before that nothing of the two mixes but where the hand began.
    """
    return open_time >= table[f"work.{tool}.pace"] * table["work.wet_area"]


def patched(tool: Tool, passes: float, table: Mapping[str, float]) -> float:
    """Share of the area that the tool lays ink on, above 0 to 1: a dip lies in patches."""
    return 1.0 if tool.row.patch == 1 else 1.0 - float((1 - table["tool." + tool + ".patch"]) ** passes)


def supposed_made(swatch: Swatch, film_share: float, table: Mapping[str, float]) -> MadeWith:
    """How a swatch was made: as it says, or else as one print of the pad.

    A lid shows an everyday blend, for most makers print the colour that a blend gives: by
    brush, or by foam where the ink forms a film.
    """
    if swatch.made_with is not None:
        return swatch.made_with
    if swatch.known is not Known.LID:
        return MadeWith()
    if film_share:
        return MadeWith(Tool.FOAM, Load.NORMAL, table["lid.foam"])
    return MadeWith(Tool.BRUSH, Load.NORMAL, table["lid.brush"])


def reference(
    made_with: MadeWith, ground: Ground, habit: Habit, table: Mapping[str, float]
) -> tuple[float, float, float, float]:
    """Offered amount behind a swatch, the colour that was accepted of it, its cover and its share of patches."""
    words = (made_with.tool, made_with.load, made_with.passes)
    offer = offered(*words, habit, table)
    free = free_share(habit)
    in_card = held(offer * free, card_capacity(ground, table))
    stays = in_card + offer * (1 - free) * film_stays(offer * (1 - free), table)
    lies = patched(made_with.tool, made_with.passes, table)
    return (
        offer,
        stays * colour_yield(ground, habit, made_with.tool, table),
        covered(*words, ground, habit, table),
        lies,
    )
