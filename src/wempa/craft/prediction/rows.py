"""From a stack in words to a row of numbers that `optics.stack` takes."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from math import exp
from typing import NamedTuple

from wempa.craft.codes import NoteCode
from wempa.craft.job import Entry, LayDown
from wempa.craft.treatments import DoseEffect, Effect, TreatmentRow
from wempa.craft.vocabulary import Over, Treatment

from .amounts import Ground
from .chalk import chalk_of, void_scatter
from .prepared import PreparedInk
from .settling import (
    NONE_LAID,
    UNTREATED,
    Factors,
    Laid,
    Part,
    Settled,
    lay_in_numbers,
    lone,
    settle,
)


@dataclass(slots=True)
class BatchRow:
    """One stack in numbers, bottom first."""

    parts: list[Part] = field(default_factory=list)
    floor_scale: float = 1.0
    pores: float = 0.0
    vividness: float = 1.0
    treatments: int = 0


@dataclass(frozen=True, slots=True)
class StackNote:
    """A note on one entry of a stack, without the entry's name."""

    code: NoteCode
    entry: int
    text: str
    """The text that follows the entry's name and a colon."""


@dataclass(slots=True)
class Resolved:
    """The dry field of a stack, its drops if water was dropped on it, its wet look."""

    dry: BatchRow
    drops: BatchRow | None
    wet: BatchRow | None
    notes: list[StackNote]
    settled: Settled = NONE_LAID
    """Of the whole stack only, like everything below."""
    alone: list[BatchRow] = field(default_factory=list)
    """Each ink by itself, in the order of `inks`: its own lay-downs and nothing else on the same card."""
    inks: list[int] = field(default_factory=list)
    """Which inks take part, each once."""
    laid: list[Laid] = field(default_factory=list)
    """What was put on."""
    factors: list[Factors] = field(default_factory=list)
    """What treatments did to each part of it."""


NOTHING = Resolved(BatchRow(), None, None, [])
"""The bare card."""


def resolve(
    stack: Sequence[Entry],
    inks: Mapping[str, tuple[int, PreparedInk]],
    ground: Ground,
    table: Mapping[str, float],
    wet_look: bool = False,
    whole_only: bool = False,
    alone: bool = True,
) -> list[Resolved]:
    """Work out every entry's effective dose, cover and neighbours.

    Returns the bare card, then the stack as it is after each entry; the last is the
    whole, and the only one if `whole_only`. The wet look is worked out only when asked for, and
    each ink by itself unless it is not.

    `inks` maps a key to its row in the pigmentation table and its preparation.
    What stays of a lay-down depends on what comes later too, so it is settled anew after
    every entry, and treatments act on what is left: blotting frees no room.
    """
    laid: list[Laid] = []
    factors: list[Factors] = []
    notes: list[StackNote] = []
    drops: list[_Drop] | None = None
    floor_scale, pores, treatments = 1.0, 0.0, 0
    # How many of the parts, from the bottom, a topcoat has sealed.
    sealed = 0
    group, closed = -1, True
    by_row = dict(inks.values())
    after: list[_Then] = []

    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment):
            treatments += 1
            does = entry.row
            if does.wet_only and closed:
                notes.append(StackNote(NoteCode.NOTHING_WET, index, "nothing is wet here, so it takes nothing away."))
            else:
                # Neither water nor a second topcoat gets at what is sealed already.
                spared = sealed if does.drops is not None or does.seals else 0
                if does.drops is not None and spared < len(laid):
                    now = settle(laid, ground, table, factors).parts
                    drops = _dropped(now, drops, does.drops, by_row, table, spared)
                factors = [
                    _treated(each, does, by_row[one.ink].values, table)
                    if place >= spared and (not does.wet_only or one.group == group)
                    else each
                    for place, (each, one) in enumerate(zip(factors, laid, strict=True))
                ]
                floor_scale = min(floor_scale, table[does.floor] if does.floor else 1.0)
                sealed = len(laid) if does.seals else sealed
                pores = max(pores, table[does.pores] if does.pores else 0.0)
                closed = closed or does.closes
        else:
            joins = entry.over is Over.WET
            if joins and closed:
                why = "there is nothing below it" if not laid else "what is below has been dried"
                notes.append(StackNote(NoteCode.WET_ON_DRY, index, f"{why}, so it counts as laid over dry."))
                joins = False
            if not joins:
                group, closed = group + 1, False
            own = _lay(entry, tuple([inks[key] for key, _ in entry.parts]), ground, table)
            laid += [one.placed(index, group) for one in own]
            factors = factors + [UNTREATED] * len(own)
        after.append(_Then(len(laid), factors, drops, (floor_scale, pores), treatments, -1 if closed else group))

    found = [] if whole_only and stack else [NOTHING]
    if not after:
        return found
    whole = settle(laid, ground, table, factors)
    # Where there is room for all and no treatment, later lay-downs leave the first ones as they were.
    plain = not (whole.full or treatments or _carried(laid, ground))
    for one in after[-1:] if whole_only else after:
        last = one is after[-1]
        same = last or plain
        parts = whole.parts[: one.count] if same else settle(laid[: one.count], ground, table, one.factors).parts
        dry = BatchRow(parts, *one.ends, 1.0, one.treatments)
        used = list(dict.fromkeys([each.ink for each in laid])) if last else []
        found.append(
            Resolved(
                dry=dry,
                drops=None if one.drops is None else _lifted(dry, one.drops, table),
                wet=_wetted(dry, () if one.open_group < 0 else (one.open_group,), by_row, table) if wet_look else None,
                notes=notes,
                settled=whole if last else NONE_LAID,
                alone=_each_alone(dry, used, laid, factors, whole, ground, table) if last and alone else [],
                inks=used,
                laid=laid if last else [],
                factors=factors if last else [],
            )
        )
    return found


class _Drop(NamedTuple):
    """What water did to a part where it was dropped."""

    left: float
    """Factor on its dose."""
    milk: float
    """Scatter of voids where it dried, per dose."""


_NO_DROP = _Drop(1.0, 0.0)


@dataclass(slots=True)
class _Then:
    """How things stand after an entry."""

    count: int
    """Of what was laid so far."""
    factors: list[Factors]
    drops: list[_Drop] | None
    ends: tuple[float, float]
    """Factor on the floor, and how far pores are filled."""
    treatments: int
    open_group: int
    """The group that is still wet; -1 if none is."""


def _carried(laid: Sequence[Laid], ground: Ground) -> bool:
    """Whether a later lay-down may carry away some of an earlier one."""
    return ground.carries < 1 and any(one.by_dose for one in laid)


def _each_alone(
    dry: BatchRow,
    inks: Sequence[int],
    laid: Sequence[Laid],
    factors: Sequence[Factors],
    whole: Settled,
    ground: Ground,
    table: Mapping[str, float],
) -> list[BatchRow]:
    """The same stack with only the lay-downs of one ink, for each: what that ink gives by itself."""
    if len(inks) == 1:
        return [dry]
    found = []
    for ink in inks:
        own = [k for k, one in enumerate(laid) if one.ink == ink]
        if len(own) == 1 and not whole.full:
            parts = [lone(laid[own[0]], factors[own[0]], table)]
        else:
            parts = settle([laid[k] for k in own], ground, table, [factors[k] for k in own]).parts
        found.append(BatchRow(parts, dry.floor_scale, dry.pores, dry.vividness, dry.treatments))
    return found


def _treated(now: Factors, row: TreatmentRow, ink: Mapping[str, float], table: Mapping[str, float]) -> Factors:
    """Factors on a part after a treatment, beside the drops if it drops water."""
    return Factors(
        now.dose if row.dose is None else now.dose * row.dose(ink, table),
        now.scatter if row.scatter is None else now.scatter * row.scatter(ink, table),
        now.chalk * table[row.chalk] if row.chalk else now.chalk,
    )


def _dropped(
    parts: Sequence[Part],
    drops: list[_Drop] | None,
    effects: tuple[DoseEffect, Effect],
    inks: Mapping[int, PreparedInk],
    table: Mapping[str, float],
    sealed: int,
) -> list[_Drop]:
    """What water does to every part where it was dropped, once more; the first `sealed` stay."""
    known = (drops or []) + [_NO_DROP] * (len(parts) - len(drops or []))
    lifts, milks = effects
    found = []
    for place, (part, drop) in enumerate(zip(parts, known, strict=True)):
        if place >= sealed:
            ink = inks[part.ink]
            left = drop.left * lifts(ink.values, table, part.dose * drop.left)
            drop = _Drop(left, void_scatter(ink.values, milks(ink.values, table)))
        found.append(drop)
    return found


# Somebody who tries a card changes one lay-down at a time, so the others are kept.
@lru_cache(256)
def _lay(
    entry: LayDown, inks: tuple[tuple[int, PreparedInk], ...], ground: Ground, table: Mapping[str, float]
) -> list[Laid]:
    """As `lay_in_numbers`; `table` is one of `constants.values`, for what was found is kept."""
    return lay_in_numbers(entry, inks, ground, table)


def _lifted(state: BatchRow, drops: list[_Drop], table: Mapping[str, float]) -> BatchRow:
    """A row where water was dropped on it."""
    drops = drops + [_NO_DROP] * (len(state.parts) - len(drops))
    lifted = [
        replace(p, dose=p.dose * drop.left, chalk=p.chalk + chalk_of(p.dose * drop.left, drop.milk, table))
        for p, drop in zip(state.parts, drops, strict=True)
    ]
    return BatchRow(lifted, state.floor_scale, state.pores, state.vividness, state.treatments)


def all_wet(state: BatchRow, inks: Mapping[str, tuple[int, PreparedInk]], table: Mapping[str, float]) -> BatchRow:
    """The look of a dry row if all of it were still wet, as after quick work."""
    return _wetted(state, {p.group for p in state.parts}, dict(inks.values()), table)


def _wetted(
    state: BatchRow, groups: Collection[int], inks: Mapping[int, PreparedInk], table: Mapping[str, float]
) -> BatchRow:
    """The look while some groups are still wet; what they lie on has dried."""
    wet = [p for p in state.parts if p.group in groups]
    amount = sum(p.dose for p in wet)
    if not amount:
        return state
    reach = 1 - exp(-amount / table["wet.reach"])

    def mean(column: str) -> float:
        return float(sum([inks[p.ink].values[column] * p.dose for p in wet]) / amount)

    # Liquid fills the voids.
    parts = [
        replace(p, scatter=p.scatter * inks[p.ink].values["wet_scatter"], chalk=0.0) if p.group in groups else p
        for p in state.parts
    ]
    return BatchRow(
        parts,
        state.floor_scale * (1 - (1 - table["wet.floor"]) * reach),
        max(state.pores, mean("wet_pores") * reach),
        1 + (mean("wet_vividness") - 1) * reach,
        state.treatments,
    )


def uppermost(row: BatchRow) -> tuple[int, float]:
    """The one ink of the uppermost group, and its dose as it scatters; -1 where several lie there, or none."""
    laid = [part for part in row.parts if part.dose > 0]
    top = [part for part in laid if part.group == laid[-1].group]
    if len({int(part.ink) for part in top}) != 1:
        return -1, 0.0
    return int(top[0].ink), float(sum([part.dose * part.scatter for part in top]))


def lowest_inks(row: BatchRow, inks: Sequence[int]) -> list[bool]:
    """Whether each of the inks lies in lower groups than all others of a row of several."""
    lowest = min([part.group for part in row.parts], default=0)
    ground = {part.ink for part in row.parts if part.group == lowest}
    if len(inks) < 2 or len(ground) > 1:
        return [False] * len(inks)
    others = min([part.group for part in row.parts if part.ink not in ground], default=0)
    below = all(part.group < others for part in row.parts if part.ink in ground)
    return [below and ink in ground for ink in inks]
