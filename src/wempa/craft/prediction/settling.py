"""How much stays of everything that was laid: in films, in the card, and under a print.

One function says it for a single stack in floats and for many stacks at once in arrays
(`optics.namespace`): a chart, a search and a prediction cannot come to differ.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from itertools import accumulate
from typing import Any, NamedTuple

import numpy as np

from wempa.craft.job import LayDown
from wempa.optics.grid import Ints
from wempa.optics.namespace import SCALAR, Value
from wempa.optics.records import record

from . import pools
from .amounts import (
    BARE,
    Dried,
    Ground,
    Habit,
    colour_yield,
    covered,
    film_stays,
    free_share,
    held_up,
    offered,
    patched,
)
from .chalk import chalk_of, dried_chalk
from .pools import Soaking, gives_way
from .prepared import PreparedInk


@dataclass(slots=True)
class Part:
    """One ink of one lay-down, in numbers: floats, or arrays (b,)."""

    ink: Value
    dose: Value
    scatter: Value
    cover: Value
    """Share of the area that its lay-down covers; 0 for all inks of a premix but the first."""
    held: Value
    """Share of what soaks in that a wet film below keeps on top of itself, 0–1."""
    group: int
    """The lay-down's number; those mixed wet share one."""
    apart: Value = False
    """Whether it leaves bare whole places, where an ink has not taken, and not fine specks."""
    patch: Value = 1.0
    """Share of the area that it lies on, where it lies in patches, likewise; its dose is the mean over all of it."""
    chalk: Value = 0.0
    """Scatter of the voids in its dried film, mean over the area."""
    mixed: Value = 0.0
    """Share of what soaks in that is stirred into the films wet with it, 0–1."""

    def changed(self, dose: float = 1.0, scatter: float = 1.0) -> Part:
        """The same with its dose and scatter multiplied."""
        return replace(self, dose=self.dose * dose, scatter=self.scatter * scatter)


@record
class Laid:
    """One ink of one lay-down as it was put on, before it is known how much of it stays.

    Numbers are floats, or arrays (b,) where it stands for the same place in each of b stacks.
    """

    ink: Value
    """Its row among the inks."""
    offer: Value
    """Pad impressions that a tool offers; 0 where a dose is stated."""
    stated: Value
    """The stated dose, if one is: it gives way to nothing but take-up; 0 where a tool lays it."""
    by_dose: Value
    """Whether a dose is stated."""
    cover: Value
    """Share of the area that the lay-down covers, where it lies; 1 where a dose is stated."""
    patch: Value
    """Share of the area that it lies on."""
    free: Value
    """Share of it that soaks through freely."""
    film_share: Value
    """Share of it that forms a film."""
    gives: Value
    """Dose per pad impression that stays."""
    way: Value
    """How readily it gives way on a full card."""
    seal: Value
    """How far it takes the place of the card's take-up by pigment's own, once dry, 0–1."""
    strength: Value
    """Mean K + S at dose 1."""
    chalk: Value
    """Scatter of voids that its film would have on this card, dried, if it went on growing as it begins, per dose."""
    covers: Value
    """S of its film per dose."""
    colour: Value
    """A number for what it absorbs: pads of one colour have the same."""
    entry: int = 0
    """Place of its lay-down in the stack; the inks of a premix share one."""
    group: int = 0

    def of(self, rows: Ints) -> Laid:
        """Of arrays, those at `rows`."""
        return replace(self, **{name: getattr(self, name)[rows] for name in _NUMBERS})

    def placed(self, entry: int, group: int) -> Laid:
        """The same at a place of a stack."""
        return self._anew(self.offer, entry, group)

    def offering(self, times: float) -> Laid:
        """The same where a tool offers so many times as much."""
        return self._anew(times * self.offer, self.entry, self.group)

    def _anew(self, offer: Value, entry: int, group: int) -> Laid:
        # A prediction does it dozens of times, and `dataclasses.replace` takes ten times as long.
        return Laid(
            self.ink,
            offer,
            self.stated,
            self.by_dose,
            self.cover,
            self.patch,
            self.free,
            self.film_share,
            self.gives,
            self.way,
            self.seal,
            self.strength,
            self.chalk,
            self.covers,
            self.colour,
            entry,
            group,
        )


_NUMBERS = tuple([field.name for field in fields(Laid) if field.name not in ("entry", "group")])


def lay_in_numbers(
    lay: LayDown, inks: Sequence[tuple[int, PreparedInk]], ground: Ground, table: Mapping[str, float]
) -> list[Laid]:
    """Each ink of a lay-down that has a share of it, at the place 0 of a stack; `inks` are those of its parts.

    Cover is relative to the swatch's own: what specks the swatch has are in its
    colour already. An explicit dose is a uniform film, and takes no room from anything.
    """
    parts = [(*ink, share) for ink, (_, share) in zip(inks, lay.parts, strict=True) if share > 0]
    by_dose = lay.dose is not None or lay.tool is None
    offer, cover, patch = 0.0, 1.0, 1.0
    if not by_dose and lay.tool is not None:
        words, habit = (lay.tool, lay.load, lay.passes), _mixed_habit(parts)
        offer = offered(*words, habit, table) * (1 - lay.dilution)
        # What is rounded off a sum of shares is no bare spot.
        whole = sum([share for *_, share in parts])
        own = sum([ink.cover * share for _, ink, share in parts]) / whole
        cover = max(1e-6, min(1.0, covered(*words, ground, habit, table) / own))
        lies = sum([ink.patch * share for _, ink, share in parts]) / whole
        patch = min(1.0, patched(lay.tool, lay.passes, table) / lies)
    stated = (lay.dose or 0.0) * (1 - lay.dilution) if by_dose else 0.0
    return [
        Laid(
            ink=row,
            offer=offer * share,
            stated=stated * share,
            by_dose=by_dose,
            cover=cover,
            patch=patch,
            free=free_share(ink.habit),
            film_share=ink.habit.film_share,
            gives=colour_yield(ground, ink.habit, lay.tool, table) / ink.amount,
            way=gives_way(ink.mean_absorption, ink.amount),
            seal=ink.values["seal"],
            strength=ink.mean_extinction,
            chalk=dried_chalk(ink.values, ground, table),
            covers=ink.values["hiding"] / (1 - ink.values["hiding"]) if ink.habit.film_share else 0.0,
            colour=hash(ink.absorption[0].tobytes()),
        )
        for row, ink, share in parts
    ]


def _mixed_habit(parts: Sequence[tuple[int, PreparedInk, float]]) -> Habit:
    if len(parts) == 1:
        return parts[0][1].habit
    habits = [(ink.habit, share) for _, ink, share in parts]
    return Habit(
        film_share=sum([habit.film_share * share for habit, share in habits]),
        strength=sum([habit.strength * share for habit, share in habits]),
        specks=sum([habit.specks * share for habit, share in habits]),
    )


def side_by_side(laid: Sequence[Laid]) -> Laid:
    """Lay-downs of so many stacks as one of arrays, (n,)."""
    columns: dict[str, Any] = {name: np.array([getattr(one, name) for one in laid]) for name in _NUMBERS}
    return replace(laid[0], **columns)


class Factors(NamedTuple):
    """What treatments do to a part."""

    dose: float = 1.0
    scatter: float = 1.0
    chalk: float = 1.0


UNTREATED = Factors()


@record
class Settled:
    """What stays of all that was laid; numbers are floats, or arrays (b,)."""

    parts: list[Part]
    meets: Dried
    """What a lay-down over it meets once it has dried."""
    soaking: tuple[Soaking, ...]
    """What of it shares the room there is, in the order of the parts."""
    below: tuple[Value, ...]
    """Dose of film below each part."""
    film: Value
    """Dose of all film there."""
    crowded: Value
    """Whether anything had to give way to another ink."""
    by_strength: Value
    """Whether the strengths of the inks mattered."""
    full: Value
    """Whether less of something stayed than a tool offered."""


NONE_LAID = Settled([], BARE, (), (), 0.0, False, False, False)


def lone(one: Laid, factors: Factors, table: Mapping[str, float]) -> Part:
    """What stays of a single lay-down of one ink where there is room for it: all."""
    dose = (one.offer * one.gives + one.stated) * factors.dose
    chalk = one.patch * chalk_of(dose / one.patch, one.chalk, table) * factors.chalk if one.chalk else 0.0
    return Part(one.ink, dose, factors.scatter, one.cover, 0.0, one.group, False, one.patch, chalk)


def settle(
    laid: Sequence[Laid],
    ground: Ground,
    table: Mapping[str, float],
    factors: Sequence[Factors] | None = None,
    xp: Any = SCALAR,
) -> Settled:
    """What stays of all that was laid, bottom first; `factors` on each part by treatments, none if not given.

    A stated dose counts how much of the surface still accepts it (take-up, once per wet
    group, against what had dried): the rest stays bare of it, as on a press.
    What a tool offers of a film fills that film; what soaks in shares what there is room
    for, whatever the order (`pools`).
    """
    factors = [UNTREATED] * len(laid) if factors is None else factors
    films: dict[int, Value] = {}
    lies = _lies(laid, xp)
    for one in laid:
        films[one.group] = films.get(one.group, 0.0) + one.offer * (1 - one.free)
    # An ink in patches lies more thickly where it lies.
    stay = {group: film_stays(film / lies[group], table, xp) for group, film in films.items()}

    # How deep in film each lies, and what of it soaks. The inks of a premix begin at one depth, for nobody can say
    # which of them was put in first.
    filmy = [
        (one.offer * (1 - one.free) * stay[one.group] * one.gives + one.stated) * treated.dose
        for one, treated in zip(laid, factors, strict=True)
    ]
    own_films, in_entry = [one.film_share * dose for one, dose in zip(laid, filmy, strict=True)], dict[int, Value]()
    for one, film in zip(laid, own_films, strict=True):
        in_entry[one.entry] = in_entry.get(one.entry, 0.0) + film
    begins = dict(zip(in_entry, accumulate(in_entry.values(), initial=0.0), strict=False))
    below = tuple([begins[one.entry] for one in laid])
    soaking = [
        Soaking(one.offer * one.free / lies[one.group], one.way, depth) for one, depth in zip(laid, below, strict=True)
    ]
    soaks = [where for where, one in enumerate(soaking) if xp is not SCALAR or one.offer]
    shares = dict(zip(soaks, pools.stays([soaking[where] for where in soaks], ground, table, xp), strict=True))

    parts: list[Part] = []
    dried, group = BARE, -1
    group_dose: Value = 0.0
    group_seal: Value = 0.0
    take_tool: Value = 1.0
    crowded: Value = False
    apart: Value = False
    full: Value = False
    printed: Value = False
    entry = -1
    left = _left_by_later(laid, ground, xp)
    groups = [one.group for one in laid]
    for where, (one, treated) in enumerate(zip(laid, factors, strict=True)):
        if one.group != group:
            dried = dried.after(group_dose, group_seal, xp)
            group = one.group
            group_dose = group_seal = 0.0
            printed = False
            take_tool = dried.takes_by_tool(table, xp)
        in_pool = shares.get(where, 1.0)
        crowded, full = crowded | (in_pool < 1), full | (stay[group] < 1)
        by_tool = one.offer * (one.free * in_pool + (1 - one.free) * stay[group]) * take_tool * one.gives
        take, missed = _take(one, dried, ground, table, xp)
        dose = (by_tool + one.stated * take * left[group]) * treated.dose
        lifted, mixed = 0.0 * one.offer, 0.0 * one.offer
        if groups.count(group) > 1:
            lifted, mixed = _wet_with_films(where, laid, own_films, filmy, table, xp)
        # The inks of a premix cover once together, and so does a wet group of stated doses.
        cover: Value = 0.0
        patch: Value = 0.0
        if one.entry != entry:
            cover, patch = xp.where(one.by_dose, take, one.cover), one.patch
            again = one.by_dose & printed
            cover, patch = xp.where(again, 0.0, cover), xp.where(again, 0.0, patch)
        entry, printed, apart = one.entry, printed | one.by_dose, apart | missed
        parts.append(Part(one.ink, dose, treated.scatter, cover, lifted, group, missed, patch, 0.0, mixed))
        # What the next group meets, weighted by amount.
        group_seal = (group_seal * group_dose + one.seal * dose) / xp.maximum(group_dose + dose, 1e-300)
        group_dose = group_dose + dose
    _dry_chalky(parts, laid, factors, lies, table, xp)
    return Settled(
        parts,
        dried.after(group_dose, group_seal, xp),
        tuple(soaking),
        below,
        sum(own_films),
        crowded,
        crowded | apart,
        crowded | full,
    )


def _dry_chalky(
    parts: Sequence[Part],
    laid: Sequence[Laid],
    factors: Sequence[Factors],
    lies: Mapping[int, Value],
    table: Mapping[str, float],
    xp: Any,
) -> None:
    """Note the chalk of each part: what is wet together dries as one film, of which each ink has its share."""
    chalky = [where for where, one in enumerate(laid) if xp is not SCALAR or one.chalk]
    films: dict[int, Value] = {}
    for where in chalky:
        dose = xp.where(laid[where].chalk > 0, parts[where].dose, 0.0)
        films[parts[where].group] = films.get(parts[where].group, 0.0) + dose
    for where in chalky:
        part = parts[where]
        film = xp.maximum(films[part.group], 1e-12)
        whole = lies[part.group] * chalk_of(film / lies[part.group], laid[where].chalk, table, xp)
        part.chalk = whole * part.dose / film * factors[where].chalk


def _wet_with_films(
    where: int,
    laid: Sequence[Laid],
    films: Sequence[Value],
    filmy: Sequence[Value],
    table: Mapping[str, float],
    xp: Any,
) -> tuple[Value, Value]:
    """Shares of what soaks of one ink that the films of others, wet with it, keep on top and take in.

    Where the films do not hide, work in the wet stirs all together, whatever came first, and
    so it is in a premix. A film that hides is a floor for the dye that comes over it.
    """
    own = laid[where]
    others = [
        k for k, one in enumerate(laid) if one.group == own.group and k != where and (xp is not SCALAR or films[k])
    ]
    if not others or (xp is SCALAR and not own.free):
        return 0.0 * own.offer, 0.0 * own.offer
    beside: Value = 0.0
    apart: Value = 0.0
    under: Value = 0.0
    hides: Value = 0.0
    hides_under: Value = 0.0
    for k in others:
        one = laid[k]
        # An ink's own film is in its swatch already.
        film = xp.where(one.colour == own.colour, 0.0, films[k])
        scatter = xp.where(one.colour == own.colour, 0.0, one.covers * filmy[k])
        if one.entry == own.entry:
            beside = beside + film
        else:
            apart, hides = apart + film, hides + scatter
            if k < where:
                under, hides_under = under + film, hides_under + scatter
    # What a film takes in of its neighbour fades out as it hides; a premix is stirred whatever hides.
    stirred = 1 - (1 - held_up(beside, table, xp)) * (1 - held_up(apart, table, xp) / (1 + hides))
    floor = held_up(under, table, xp) * (1 - xp.exp(-hides_under / table["held.hides"]))
    return own.free * (1 - stirred) * floor, own.free * stirred


def _take(one: Laid, dried: Dried, ground: Ground, table: Mapping[str, float], xp: Any) -> tuple[Value, Value]:
    """Share of the area that still accepts a stated dose, and whether that leaves any of it bare."""
    if not (one.by_dose if xp is SCALAR else np.any(one.by_dose)):
        return 1.0, one.by_dose
    take = dried.takes(ground, one.strength, table, xp)
    return take, one.by_dose & (take < 1)


def _lies(laid: Sequence[Laid], xp: Any) -> dict[int, Value]:
    """Share of the area that each wet group lies on."""
    if xp is SCALAR and all(one.patch == 1 for one in laid):
        return dict.fromkeys([one.group for one in laid], 1.0)
    each = {one.entry: (one.group, one.patch) for one in laid}
    bare: dict[int, Value] = {}
    for group, patch in each.values():
        bare[group] = bare.get(group, 1.0) * (1 - patch)
    return {group: 1 - left for group, left in bare.items()}


def _left_by_later(laid: Sequence[Laid], ground: Ground, xp: Any) -> dict[int, Value]:
    """Share of the stated doses of each wet group that later ones leave there: a print carries some of it away."""
    if ground.carries == 1:
        return dict.fromkeys([one.group for one in laid], 1.0)
    stated: dict[int, Value] = {}
    for one in laid:
        stated[one.group] = stated.get(one.group, 0.0) + one.stated
    found: dict[int, Value] = {}
    left: Value = 1.0
    for group in reversed(stated):
        found[group] = left
        left = left * (1 - (1 - ground.carries) * xp.minimum(1.0, stated[group]))
    return found
