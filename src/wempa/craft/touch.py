"""How an ink is first put on, and the ready-made ways of putting inks together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from wempa.optics import colorimetry as cm

from . import constants, prepare
from .job import Card, Ink, Job, JobError, LayDown
from .predict import swatch_lab
from .words import MAX_INKS, MAX_STACK, Formula, Load, Over, Preset, Tool

_SOAKS = (Formula.DYE, Formula.REACTIVE_DYE, Formula.FLUORESCENT)
# A colour in another formula is looked for no farther than this, in ΔE00.
_SAME_COLOUR = 25.0
# Chroma from which a card counts as coloured, and lightness from which it is of use under dyes.
_COLOURED, _LIGHT = 12.0, 60.0
# Lightness from which a pigment is a white.
_WHITE = 93.0


def first_touch(key: str, formula: Formula, load: Load, table: Mapping[str, float]) -> LayDown:
    """The default way of putting an ink on: by formula, brushes for what soaks in, foam for films."""
    soaks = formula in _SOAKS
    passes = table["touch.soaking" if soaks else "touch.film"]
    return LayDown(((key, 1.0),), tool=Tool.BRUSH if soaks else Tool.FOAM, load=load, passes=passes)


def three_hands(key: str, formula: Formula, load: Load, table: Mapping[str, float]) -> tuple[LayDown, ...]:
    """The first touch with a light hand, as it is, and built up deep; passes are whole."""
    plain = first_touch(key, formula, load, table)
    loads = list(Load)
    lighter = loads[max(0, loads.index(load) - 1)]
    light = replace(plain, load=lighter, passes=float(max(1, round(plain.passes * table["touch.light_hand"]))))
    return light, plain, replace(plain, passes=float(round(plain.passes * table["touch.deep_hand"])))


def owned_white(job: Job) -> tuple[str, Ink] | None:
    """The first white pigment of the job or its stash, with its key; None if there is none."""
    offered = [(key, ink) for key, ink in (*job.inks, *job.stash.inks) if ink.formula is Formula.PIGMENT]
    return next(((key, ink) for key, ink in offered if swatch_lab(ink, job)[0] > _WHITE), None)


def with_barrier(job: Job, key: str, white: Ink) -> Job | None:
    """The job with white pigment brushed thinly under everything; None where there is no room, or it lies there."""
    declared = dict(job.inks)
    # The stash may know another ink by a key that the job uses.
    if declared.get(key, white) != white:
        key = f"barrier-{key}"
    if len(job.stack) == MAX_STACK or (key not in declared and len(declared) == MAX_INKS):
        return None
    first = job.stack[0] if job.stack else None
    if isinstance(first, LayDown) and any(used == key for used, _ in first.parts):
        return None
    barrier = LayDown(((key, 1.0),), tool=Tool.BRUSH, load=Load.NORMAL, passes=6)
    return replace(job, inks=tuple({**declared, key: white}.items()), stack=(barrier, *job.stack))


def use_preset(preset: Preset, job: Job, loads: Mapping[str, Load]) -> Job:
    """The job with its inks put together in a ready-made way.

    Two inks are taken from the stack, lowest first, then from the declared ones and the
    stash. `loads` says what a tool takes from each ink's pad, by key.

    Raises
    ------
    JobError
        There are not inks enough, or no coloured card.
    """
    table = constants.values(job.constants)
    offered = dict([*job.inks, *job.stash.inks])
    used = dict.fromkeys(key for e in job.stack if isinstance(e, LayDown) for key, share in e.parts if share > 0)
    keys = list(dict.fromkeys([*used, *offered]))

    def touch(key: str) -> LayDown:
        return first_touch(key, offered[key].formula, loads.get(key, Load.NORMAL), table)

    if preset is Preset.WHITE_BARRIER:
        white = owned_white(job)
        if white is None:
            raise JobError("There is no white pigment on the shelf for a barrier.")
        laid = with_barrier(job, *white)
        if laid is None:
            raise JobError("A white barrier lies there already, or the stack is full.")
        return laid
    if preset is Preset.COLOURED_CARD:
        return replace(job, cardstock=_next_coloured(job))
    if preset is Preset.FORMULAS:
        if not keys:
            raise JobError("One ink is needed to look for its colour in other formulas.")
        same = _in_other_formulas(job, keys[0], offered)
        if not same:
            raise JobError(f"Nothing of another formula on the shelf comes near {offered[keys[0]].name or keys[0]}.")
        return _with(job, [touch(key) for key in (keys[0], *same)], offered)
    if len(keys) < 2:
        raise JobError("Two inks are needed; lay down one more.")
    below, above = (touch(key) for key in keys[:2])
    dip = {"tool": Tool.DIP, "load": Load.NORMAL, "passes": 1.0, "dilution": 0.5}
    stacks: dict[Preset, list[LayDown]] = {
        Preset.STAMPED_OVER: [below, replace(above, tool=Tool.STAMP, passes=1.0)],
        Preset.BLENDED_INTO: [below, replace(above, over=Over.WET)],
        Preset.LAYERED_DRIED: [replace(entry, load=Load.LIGHT) for entry in (below, above, below, above)],
        Preset.DIPPED_AGAIN: [replace(entry, **dip) for entry in (below, above, below, above)],  # type: ignore[arg-type]
    }
    return _with(job, stacks[preset], offered)


def _with(job: Job, stack: Sequence[LayDown], offered: Mapping[str, Ink]) -> Job:
    declared = dict(job.inks)
    used = {key: offered[key] for entry in stack for key, _ in entry.parts}
    return replace(job, stack=tuple(stack), inks=tuple({**declared, **used}.items()))


def _next_coloured(job: Job) -> Card:
    """The next coloured card of the stash after the job's own, going round."""
    light = str(job.illuminant)

    def coloured(card: Card) -> bool:
        lightness, a, b = prepare.card(card, light, job.constants).lab.tolist()
        return bool(np.hypot(a, b) > _COLOURED and lightness > _LIGHT)

    cards = [card for _, card in job.stash.cards]
    start = cards.index(job.cardstock) + 1 if job.cardstock in cards else 0
    for card in [*cards[start:], *cards[:start]]:
        if card != job.cardstock and coloured(card):
            return card
    raise JobError("There is no other coloured card on the shelf.")


def _in_other_formulas(job: Job, key: str, offered: Mapping[str, Ink]) -> list[str]:
    """Of each other formula the ink nearest in colour, nearest first."""
    own = offered[key]
    best: dict[Formula, tuple[float, str]] = {}
    for other, ink in offered.items():
        if ink.formula in (own.formula, Formula.UNKNOWN):
            continue
        apart = float(cm.delta_e(swatch_lab(ink, job), swatch_lab(own, job)))
        if apart <= _SAME_COLOUR and (ink.formula not in best or apart < best[ink.formula][0]):
            best[ink.formula] = (apart, other)
    return [other for _, other in sorted(best.values())][:5]
