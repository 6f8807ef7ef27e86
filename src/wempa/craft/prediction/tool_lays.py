"""Amounts of many lay-downs by hand at once: what `rows.settle` finds for one stack, for arrays of one, two and three.

For charts and searches, where every ink meets every other.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields

import numpy as np

from wempa.craft.job import LayDown
from wempa.optics.grid import Bools, Floats, Ints

from . import pools
from .amounts import Dried, Ground, colour_yield, covered, free_share, held, held_up, offered
from .pools import Soaking, closed, crowded, gives_way, room
from .prepared import PreparedInk
from .settling import Settled


@dataclass(frozen=True, slots=True, eq=False)
class ToolLays:
    """Lay-downs of one ink each, in numbers, (n,)."""

    offer: Floats
    """Pad impressions that a tool offers; 0 where a dose is stated."""
    stated: Floats
    """Stated dose; 0 where a tool lays it."""
    free: Floats
    """Share that soaks."""
    film_share: Floats
    gives: Floats
    """Dose per pad impression that stays."""
    seal: Floats
    way: Floats
    """How readily it gives way on a full card."""
    cover: Floats
    strength: Floats
    """Mean K + S at dose 1."""

    def of(self, rows: Ints | slice) -> ToolLays:
        """Some of the lay-downs."""
        return ToolLays(*[getattr(self, f.name)[rows] for f in fields(self)])


def tool_lays(laid: Sequence[tuple[PreparedInk, LayDown]], ground: Ground, table: Mapping[str, float]) -> ToolLays:
    """The lay-downs in numbers; each is of one ink."""
    rows = []
    for ink, lay in laid:
        habit = ink.habit
        if lay.dose is not None or lay.tool is None:
            offer, stated, cover = 0.0, (lay.dose or 0.0) * (1 - lay.dilution), 1.0
        else:
            words = (lay.tool, lay.load, lay.passes)
            offer, stated = offered(*words, habit, table) * (1 - lay.dilution), 0.0
            cover = max(1e-6, min(1.0, covered(*words, ground, habit, table) / ink.cover))
        gives = colour_yield(ground, habit, lay.tool, table) / ink.amount
        way = gives_way(ink.mean_absorption, ink.amount)
        rows.append(
            (
                offer,
                stated,
                free_share(habit),
                habit.film_share,
                gives,
                ink.values["seal"],
                way,
                cover,
                ink.mean_extinction,
            )
        )
    return ToolLays(*np.array(rows, dtype=np.float64).reshape(-1, 9).T)


@dataclass(frozen=True, slots=True, eq=False)
class LaidOver:
    """What lies there after some lay-downs over what lay there before, (n,)."""

    dose: tuple[Floats, ...]
    """Effective dose of each of them, bottom first."""
    cover: tuple[Floats, ...]
    """Share of the area that each covers, with the others of its wet group."""
    held: Floats
    """Share of the last that a wet film holds up."""
    meets: Dried
    """What a lay-down over it meets once it has dried."""
    between: Floats
    """Dose of film below the last."""
    film: Floats
    """Dose of film there in all."""
    crowded: Bools
    """Whether an ink had to give way to another."""


def _film(lays: ToolLays, stay: Floats) -> Floats:
    """Dose of film that lay-downs lay, before what is below is counted."""
    return np.asarray((lays.offer * (1 - lays.free) * stay * lays.gives + lays.stated) * lays.film_share)


def _dose(
    lays: ToolLays, in_pool: Floats, stay: Floats, below: Dried, ground: Ground, table: Mapping[str, float]
) -> Floats:
    """Effective dose over what has dried."""
    by_tool = lays.offer * (lays.free * in_pool + (1 - lays.free) * stay) * lays.gives
    return np.asarray(
        by_tool * below.takes_by_tool(table, np) + lays.stated * below.takes(ground, lays.strength, table, np)
    )


def _stay(films: Floats, table: Mapping[str, float]) -> Floats:
    least = np.maximum(films, 1e-12)
    return np.asarray(held(least, table["capacity.film"], np) / least)


def _cover(lays: ToolLays, below: Dried, ground: Ground, table: Mapping[str, float]) -> Floats:
    """Share of the area that lay-downs cover: a stated dose where it is accepted."""
    return np.where(lays.stated > 0, below.takes(ground, lays.strength, table, np), lays.cover)


def settle_one(lays: ToolLays, on: Settled, film: float, ground: Ground, table: Mapping[str, float]) -> LaidOver:
    """Each lay-down over what lies there, of which `film` is film."""
    stay = _stay(lays.offer * (1 - lays.free), table)
    own = Soaking(lays.offer * lays.free, lays.way, np.full(len(lays.offer), film))
    share = pools.stays([*on.soaking, own], ground, table, np)[-1]
    dose = _dose(lays, share, stay, on.meets, ground, table)
    return LaidOver(
        (dose,),
        (_cover(lays, on.meets, ground, table),),
        np.zeros(len(dose)),
        on.meets.after(dose, lays.seal, np),
        np.full(len(dose), film),
        film + _film(lays, stay),
        _gives_way(own, list(on.soaking), ground, table),
    )


def settle_two(
    a: ToolLays, b: ToolLays, wet: bool, on: Settled, film: float, ground: Ground, table: Mapping[str, float]
) -> LaidOver:
    """Each `b` over or, if `wet`, into its `a`, over what lies there, of which `film` is film."""
    films = [each.offer * (1 - each.free) for each in (a, b)]
    stays = [_stay(films[0] + films[1], table)] * 2 if wet else [_stay(each, table) for each in films]
    on_card = np.full(len(a.offer), film)
    film_a, film_b = _film(a, stays[0]), _film(b, stays[1])
    soaking = [Soaking(a.offer * a.free, a.way, on_card), Soaking(b.offer * b.free, b.way, on_card + film_a)]
    *_, in_a, in_b = pools.stays([*on.soaking, *soaking], ground, table, np)
    dose_a = _dose(a, in_a, stays[0], on.meets, ground, table)
    if not wet:
        dose_a = dose_a * np.where(a.stated > 0, 1 - (1 - ground.carries) * np.minimum(1.0, b.stated), 1.0)
    dried = on.meets if wet else on.meets.after(dose_a, a.seal, np)
    dose_b = _dose(b, in_b, stays[1], dried, ground, table)
    if wet:
        seal = (a.seal * dose_a + b.seal * dose_b) / np.maximum(dose_a + dose_b, 1e-12)
        dried = on.meets.after(dose_a + dose_b, seal, np)
    else:
        dried = dried.after(dose_b, b.seal, np)
    over = np.where(b.stated > 0, 0.0, b.cover) if wet else _cover(b, on.meets.after(dose_a, a.seal, np), ground, table)
    return LaidOver(
        (dose_a, dose_b),
        (_cover(a, on.meets, ground, table), over),
        held_up(film_a, table, np) * b.free if wet else np.zeros(len(dose_a)),
        dried,
        on_card + film_a,
        on_card + film_a + film_b,
        _gives_way(soaking[1], [*on.soaking, soaking[0]], ground, table),
    )


def _gives_way(own: Soaking, others: Sequence[Soaking], ground: Ground, table: Mapping[str, float]) -> Bools:
    """Whether a last offer and others below it may get into one another's way, (n,)."""
    least = room(own.film, ground, table, np)
    total = own.offer
    for each in others:
        open_to = (each.offer > 0) & (closed(own.film - each.film, table, np) < 1)
        total = total + np.where(open_to, each.offer, 0.0)
        least = np.where(open_to, np.minimum(least, room(each.film, ground, table, np)), least)
    return np.asarray((own.offer > 0) & (total > own.offer) & crowded(total, least))


def in_the_way(
    top: ToolLays,
    below: Sequence[ToolLays],
    films: Sequence[Floats],
    on: Settled,
    ground: Ground,
    table: Mapping[str, float],
) -> Bools:
    """Whether a dye that goes over others has to share with one of them, so that those below change too, (n,).

    `films` is the film below each, the top last.
    """
    laid = [Soaking(each.offer * each.free, each.way, film) for each, film in zip([*below, top], films, strict=True)]
    return _gives_way(laid[-1], [*on.soaking, *laid[:-1]], ground, table)
