"""How an ink is first put on when nobody says how, with a light, usual or deep hand; and a white barrier."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from wempa.craft import constants
from wempa.craft.prediction.prepare import swatch_lab

from .job import Ink, Job, LayDown
from .limits import MAX_INKS, MAX_STACK
from .vocabulary import Formula, Load, Tool


def first_touch(key: str, formula: Formula, load: Load, table: Mapping[str, float]) -> LayDown:
    """The default way of putting an ink on: by formula, brushes for what soaks in, foam for films."""
    soaks = formula.row.soaks
    passes = table["touch.soaking" if soaks else "touch.film"]
    return LayDown(((key, 1.0),), tool=Tool.BRUSH if soaks else Tool.FOAM, load=load, passes=passes)


def three_hands(key: str, formula: Formula, load: Load, table: Mapping[str, float]) -> tuple[LayDown, ...]:
    """The first touch with a light hand, as it is, and built up deep; passes are whole."""
    plain = first_touch(key, formula, load, table)
    loads = list(Load)
    lighter = loads[max(0, loads.index(load) - 1)]
    light = replace(plain, load=lighter, passes=float(max(1, round(plain.passes * table["touch.light_hand"]))))
    return light, plain, replace(plain, passes=float(round(plain.passes * table["touch.deep_hand"])))


def lighter_hand(entry: LayDown, share: float) -> LayDown:
    """A lay-down with so much of its passes, 0–1, from a light load, never more than it was; a dose by that share."""
    if entry.dose is not None:
        return replace(entry, dose=entry.dose * share)
    load = entry.load if entry.load is Load.BLOTTED else Load.LIGHT
    return replace(entry, passes=min(entry.passes, max(1.0, float(round(entry.passes * share)))), load=load)


def is_white(formula: Formula, lightness: float, table: Mapping[str, float]) -> bool:
    """Whether an ink is a white pigment, by its formula and its swatch's L*."""
    return formula is Formula.PIGMENT and lightness > table["barrier.white"]


def owned_white(job: Job) -> tuple[str, Ink] | None:
    """The first white pigment of the job or its stash, with its key; None if there is none."""
    table = constants.values(job.constants)
    pigments = [(key, ink) for key, ink in (*job.inks, *job.stash.inks) if ink.formula is Formula.PIGMENT]
    return next(
        ((key, ink) for key, ink in pigments if is_white(ink.formula, float(swatch_lab(ink, job)[0]), table)), None
    )


# What stands before a key that names another ink in the stash than in the job.
_FROM_STASH = "barrier-"


def plain_key(key: str) -> str:
    """The stash's key of an ink that `with_barrier` brought in."""
    return key.removeprefix(_FROM_STASH)


def with_barrier(job: Job, key: str, white: Ink) -> Job | None:
    """The job with white pigment brushed thinly under everything; None where there is no room, or it lies there."""
    declared = dict(job.inks)
    # The stash may know another ink by a key that the job uses.
    if declared.get(key, white) != white:
        key = _FROM_STASH + key
    if len(job.stack) == MAX_STACK or (key not in declared and len(declared) == MAX_INKS):
        return None
    first = job.stack[0] if job.stack else None
    if isinstance(first, LayDown) and any(used == key for used, _ in first.parts):
        return None
    barrier = LayDown(
        ((key, 1.0),), tool=Tool.BRUSH, load=Load.NORMAL, passes=constants.values(job.constants)["barrier.passes"]
    )
    return replace(job, inks=tuple({**declared, key: white}.items()), stack=(barrier, *job.stack))
