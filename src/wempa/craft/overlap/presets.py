"""Ready-made ways of putting inks together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Ink, Job, LayDown
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.prepare import swatch_lab
from wempa.craft.vocabulary import Formula, Load, Over, Preset, Tool
from wempa.craft.ways import first_touch, owned_white, with_barrier
from wempa.optics import colorimetry as cm


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
    light, table = str(job.illuminant), constants.values(job.constants)

    def coloured(card: Card) -> bool:
        lightness, a, b = prepare_card(card, light, job.constants).lab.tolist()
        return bool(np.hypot(a, b) > table["preset.coloured"] and lightness > table["preset.light"])

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
    same = constants.values(job.constants)["preset.same"]
    for other, ink in offered.items():
        if ink.formula in (own.formula, Formula.UNKNOWN):
            continue
        apart = float(cm.delta_e(swatch_lab(ink, job), swatch_lab(own, job)))
        if apart <= same and (ink.formula not in best or apart < best[ink.formula][0]):
            best[ink.formula] = (apart, other)
    return [other for _, other in sorted(best.values())][:5]
