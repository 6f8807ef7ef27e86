"""How much stays of everything that was laid: in films, in the card, and under a print."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate

from wempa.craft.vocabulary import Tool
from wempa.optics.records import record

from . import pools
from .amounts import BARE, Dried, Ground, colour_yield, film_stays, free_share, held_up
from .pools import Soaking, gives_way
from .prepared import PreparedInk


@dataclass(slots=True)
class Part:
    """One ink of one lay-down, in numbers."""

    ink: int
    dose: float
    scatter: float
    cover: float
    """Share of the area that its lay-down covers; 0 for all inks of a premix but the first."""
    held: float
    group: int
    """The lay-down's number; those mixed wet share one."""
    apart: bool = False
    """Whether it leaves bare whole places, where an ink has not taken, and not fine specks."""
    patch: float = 1.0
    """Share of the area that it lies on, where it lies in patches, likewise; its dose is the mean over all of it."""

    def changed(self, dose: float = 1.0, scatter: float = 1.0) -> Part:
        """The same with its dose and scatter multiplied."""
        return replace(self, dose=self.dose * dose, scatter=self.scatter * scatter)


@record
class Laid:
    """One ink of one lay-down as it was put on, before it is known how much of it stays."""

    ink: int
    prepared: PreparedInk
    offer: float
    """Pad impressions that a tool offers; 0 where a dose is stated."""
    stated: float | None
    """The stated dose, if one is: it gives way to nothing but take-up."""
    entry: int
    """Place of its lay-down in the stack; the inks of a premix share one."""
    group: int
    cover: float
    """Share of the area that the lay-down covers, where it lies."""
    patch: float
    """Share of the area that it lies on."""
    free: float
    """Share of it that soaks through freely."""
    gives: float
    """Dose per pad impression that stays."""
    way: float
    """How readily it gives way on a full card."""


def how_it_stays(
    prepared: PreparedInk, ground: Ground, tool: Tool | None, table: Mapping[str, float]
) -> tuple[float, float, float]:
    """`free`, `gives` and `way` of an ink on a card by a tool (`Laid`)."""
    free, gives = free_share(prepared.habit), colour_yield(ground, prepared.habit, tool, table) / prepared.amount
    return free, gives, gives_way(prepared.mean_absorption, prepared.amount) if free else 1.0


Factors = tuple[float, float]
"""On dose and scatter, by treatments."""
UNTREATED: Factors = (1.0, 1.0)


@record
class Settled:
    """What stays of all that was laid."""

    parts: list[Part]
    meets: Dried
    """What a lay-down over it meets once it has dried."""
    soaking: tuple[Soaking, ...]
    """What of it shares the room there is."""
    film: float
    """Dose of all film there."""
    crowded: bool
    """Whether anything had to give way to another ink."""
    by_strength: bool
    """Whether the strengths of the inks mattered."""
    full: bool
    """Whether less of something stayed than a tool offered."""


NONE_LAID = Settled([], BARE, (), 0.0, False, False, False)


def lone(one: Laid, factors: Factors) -> Part:
    """What stays of a single lay-down of one ink where there is room for it: all."""
    dose = one.offer * one.gives if one.stated is None else one.stated
    cover = one.cover if one.stated is None else 1.0
    return Part(one.ink, dose * factors[0], factors[1], cover, 0.0, one.group, False, one.patch)


def settle(laid: Sequence[Laid], factors: Sequence[Factors], ground: Ground, table: Mapping[str, float]) -> Settled:
    """What stays of all that was laid, bottom first.

    A stated dose counts how much of the surface still accepts it (take-up, once per wet
    group, against what had dried): the rest stays bare of it, as on a press.
    What a tool offers of a film fills that film; what soaks in shares what there is room
    for, whatever the order (`pools`).
    """
    films: dict[int, float] = {}
    lies = _lies(laid)
    for one in laid:
        films[one.group] = films.get(one.group, 0.0) + one.offer * (1 - one.free)
    # An ink in patches lies more thickly where it lies.
    stay = {group: film_stays(offered / lies[group], table) for group, offered in films.items()}

    # How deep in film each lies, what film the other inks of its premix bring, and what of it soaks. The inks of a
    # premix begin at one depth, for nobody can say which of them was put in first.
    own_films, in_entry = list[float](), dict[int, float]()
    for one, (dose, _) in zip(laid, factors, strict=True):
        film = 0.0
        if share := one.prepared.habit.film_share:
            stated = one.stated
            film = one.offer * (1 - one.free) * stay[one.group] * one.gives if stated is None else stated
            film *= dose * share
        own_films.append(film)
        in_entry[one.entry] = in_entry.get(one.entry, 0.0) + film
    begins = dict(zip(in_entry, accumulate(in_entry.values(), initial=0.0), strict=False))
    deep, at = sum(own_films), [begins[one.entry] for one in laid]
    beside = [in_entry[one.entry] - film for one, film in zip(laid, own_films, strict=True)]
    soaking = [
        Soaking(one.offer * one.free / lies[one.group], one.way, depth)
        for one, depth in zip(laid, at, strict=True)
        if one.offer and one.free
    ]
    shares = iter(pools.stays(soaking, ground, table))

    parts: list[Part] = []
    dried, group = BARE, -1
    group_dose = group_seal = 0.0
    take = take_tool = 1.0
    base, entry, printed = 0.0, -1, False
    left = _left_by_later(laid, ground)
    crowded = apart = False
    for one, depth, others, (dose_factor, scatter_factor) in zip(laid, at, beside, factors, strict=True):
        if one.group != group:
            dried = dried.after(group_dose, group_seal) if group_dose else dried
            group, base = one.group, depth
            group_dose = group_seal = 0.0
            printed = False
            take_tool = dried.takes_by_tool(table)
        free = one.free
        if one.stated is not None:
            take = dried.takes(ground, one.prepared.mean_extinction, table)
            dose = one.stated * take * left[group]
        else:
            in_pool = next(shares) if one.offer and free else 1.0
            crowded = crowded or in_pool < 1
            dose = one.offer * (free * in_pool + (1 - free) * stay[group]) * take_tool * one.gives
        dose *= dose_factor
        over = depth - base + others
        lifted = held_up(over, table) * free if free and over > 0 else 0.0
        # The inks of a premix cover once together, and so does a wet group of stated doses.
        stated = one.stated is not None
        first = one.entry != entry and not (stated and printed)
        entry, printed = one.entry, printed or stated
        cover, patch = (take if stated else one.cover, one.patch) if first else (0.0, 0.0)
        missed = stated and take < 1
        apart = apart or missed
        parts.append(Part(one.ink, dose, scatter_factor, cover, lifted, group, missed, patch))
        # What the next group meets, weighted by amount.
        if dose:
            group_seal = (group_seal * group_dose + one.prepared.values["seal"] * dose) / (group_dose + dose)
        group_dose += dose
    return Settled(
        parts,
        dried.after(group_dose, group_seal),
        tuple(soaking),
        deep,
        crowded,
        crowded or apart,
        crowded or min(stay.values(), default=1.0) < 1,
    )


def _lies(laid: Sequence[Laid]) -> dict[int, float]:
    """Share of the area that each wet group lies on."""
    if min([one.patch for one in laid], default=1.0) == 1:
        return dict.fromkeys([one.group for one in laid], 1.0)
    each = {one.entry: (one.group, one.patch) for one in laid}
    bare: dict[int, float] = {}
    for group, patch in each.values():
        bare[group] = bare.get(group, 1.0) * (1 - patch)
    return {group: 1 - left for group, left in bare.items()}


def _left_by_later(laid: Sequence[Laid], ground: Ground) -> dict[int, float]:
    """Share of the stated doses of each wet group that later ones leave there: a print carries some of it away."""
    if ground.carries == 1 or all(one.stated is None for one in laid):
        return dict.fromkeys([one.group for one in laid], 1.0)
    stated: dict[int, float] = {}
    for one in laid:
        stated[one.group] = stated.get(one.group, 0.0) + (one.stated or 0.0)
    found, left = {}, 1.0
    for group in reversed(stated):
        found[group] = left
        left *= 1 - (1 - ground.carries) * min(1.0, stated[group])
    return found
