"""What a match answers: of the nearest stacks the few worth trying, worked over and told with their margins.

The search (`wempa.craft.match`) is over a few amounts of each ink and says what is proven
about these. A person can also lay one pass more, or thin the ink; so the few best are
worked over by single passes, and by water where that is allowed.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Colour, Ink, Job, LayDown, Stash, used_inks
from wempa.craft.limits import MAX_PASSES
from wempa.craft.prediction.many_stacks import StackLook, stack_colours
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Prediction
from wempa.craft.vocabulary import Illuminant, Tool
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point

from .match import FoundStack, search
from .space import SearchSpace

T = TypeVar("T")
# Sets of inks that are worked over, and how many rounds of single steps.
_WORKED_OVER, _ROUNDS = 12, 6
# Steps of passes; a step that gains less than so many ΔE00 is not worth telling.
_STEPS = (-3, -2, -1, 1, 2, 3)
_GAIN = 0.05
# Shares of water tried where inks may be thinned, with the tool that takes water.
_WATER = (0.0, 0.25, 0.5, 0.75, 0.9)


@dataclass(frozen=True, slots=True, eq=False)
class Answer:
    """One way to a wanted colour."""

    job: Job
    """Card, what lies there already, and the lay-downs to put on; only the inks that are used."""
    added: tuple[LayDown, ...]
    found: Prediction
    delta_e: float
    """ΔE00 from the wanted colour."""

    @property
    def inks(self) -> tuple[str, ...]:
        """Keys of the inks put on, in the order of first use."""
        return tuple(used_inks(replace(self.job, stack=self.added)))


def wanted_lab(colour: Colour, illuminant: Illuminant) -> Floats:
    """CIELAB (3,) of a wanted colour as it is to look under a light.

    A hex, or a Lab under another light, is what an eye adapted to its own light sees, and
    is carried over by CAT16; a spectrum is seen under the light itself.
    """
    light = str(illuminant)
    if colour.spectrum is not None:
        return cm.lab(np.array(colour.spectrum), light)
    white = white_point(light)
    if colour.lab is not None:
        own = white_point(str(colour.lab_illuminant))
        return cm.lab_from_xyz(cm.adapt(cm.xyz_from_lab(np.array(colour.lab), own), own, white), white)
    assert colour.hex is not None
    return cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(colour.hex), light), white)


def target_of(ink: Ink, job: Job) -> Floats:
    """CIELAB (3,) of an ink as deep as its own swatch on the job's bare card, in the job's light."""
    alone = (LayDown((("target", 1.0),), dose=1.0),)
    plain = replace(job, inks=(("target", ink),), stack=alone, stash=Stash(), fixes=False)
    return predict(plain).colour.lab


def best_answers(
    space: SearchSpace, target: Floats, found: Sequence[FoundStack], *, thin: bool = False, count: int = 6
) -> list[Answer]:
    """The best few ways to a wanted colour (3,), fewest inks first among those equally near.

    Of every set of inks the nearest is worked over by single passes; with `thin` also by
    water. Those within `match.equal` of the nearest count as equals, then those within as
    much of the nearest that is left, and so on.
    """
    table = constants.values(space.job.constants)
    equal, ink = table["match.equal"], space.ink.tolist()
    named = [(one.delta_e, _effort([ink[k] for k in one.lays]), one) for one in found]
    chosen = _one_of_each(space, _in_order(named, equal))
    stacks = _worked_over(space, target, [space.stack(one.lays, one.wet) for one in chosen], thin)
    apart = cm.delta_e(_labs(space, stacks), target).tolist()
    laid = [[lay.parts[0][0] for lay in stack] for stack in stacks]
    ranked = _in_order(
        [(off, _effort(inks), stack) for off, inks, stack in zip(apart, laid, stacks, strict=True)], equal
    )
    return [_answer(space, target, stack) for stack in ranked[:count]]


@dataclass(frozen=True, slots=True, eq=False)
class Reserve:
    """Whether the others make an ink's colour."""

    answer: Answer | None
    """The best way; None where there is no other ink."""
    bound: float
    """No stack of the few amounts comes nearer than this, in ΔE00; proven."""
    made: bool
    """Whether it comes near enough to stand in."""


def from_others(space: SearchSpace, ink: Ink, key: str) -> Reserve:
    """How near the other inks come to one ink as deep as its swatch, without the ink called `key`.

    What is left open is less than `match.equal`: nobody lays down a third ink for it.
    """
    table = constants.values(space.job.constants)
    target = target_of(ink, space.job)
    *_, last = search(space, target, without=frozenset({key}), enough=table["match.equal"])
    best = best_answers(space, target, last.found, count=1)
    if not best:
        return Reserve(None, 0.0, False)
    return Reserve(best[0], min(last.bound, best[0].delta_e), best[0].delta_e <= table["match.made"])


def _in_order(several: Sequence[tuple[float, int, T]], equal: float) -> list[T]:
    """Nearest first, but of those equally near the one with the fewest first; given (ΔE00, number, what)."""
    left = sorted(several, key=lambda each: each[0])
    ordered: list[T] = []
    while left:
        alike = [each for each in left if each[0] <= left[0][0] + equal]
        left = left[len(alike) :]
        ordered += [what for _, _, what in sorted(alike, key=lambda each: (each[1], each[0]))]
    return ordered


def _effort(laid: Sequence[int | str]) -> int:
    """How much work a stack is by the ink of each lay-down: inks count first, then lay-downs."""
    return 10 * len(set(laid)) + len(laid)


def _one_of_each(space: SearchSpace, found: Sequence[FoundStack]) -> list[FoundStack]:
    """The first of each set of inks."""
    sets: dict[frozenset[int], FoundStack] = {}
    for one in found:
        sets.setdefault(frozenset(space.ink[list(one.lays)].tolist()), one)
        if len(sets) == _WORKED_OVER:
            break
    return list(sets.values())


def _labs(space: SearchSpace, stacks: Sequence[tuple[LayDown, ...]]) -> Floats:
    return stack_colours(space.job, [(*space.job.stack, *stack) for stack in stacks], StackLook.DRY)[0]


def _worked_over(
    space: SearchSpace, target: Floats, stacks: Sequence[tuple[LayDown, ...]], thin: bool
) -> list[tuple[LayDown, ...]]:
    """Each stack changed by the one step that gains most, again and again; all of them at once."""
    now = list(stacks)
    apart = cm.delta_e(_labs(space, now), target) if now else np.zeros(0)
    going = set(range(len(now)))
    for _ in range(_ROUNDS):
        tried = [(k, stack) for k in sorted(going) for stack in _steps(now[k], thin)]
        if not tried:
            break
        found = cm.delta_e(_labs(space, [stack for _, stack in tried]), target)
        going.clear()
        for n in np.argsort(found, kind="stable").tolist():
            k, stack = tried[n]
            if k not in going and found[n] < apart[k] - _GAIN:
                now[k], apart[k] = stack, found[n]
                going.add(k)
    return now


def _steps(stack: tuple[LayDown, ...], thin: bool) -> list[tuple[LayDown, ...]]:
    """The stack with one of its lay-downs a little different."""
    made = []
    for k, lay in enumerate(stack):
        changed = [replace(lay, passes=lay.passes + step) for step in _STEPS if 1 <= lay.passes + step <= MAX_PASSES]
        if thin:
            # Water goes on with a paintbrush, in a stroke or two.
            wetted = replace(lay, tool=Tool.PAINTBRUSH, passes=min(lay.passes, 2.0))
            changed += [replace(wetted, dilution=water) for water in _WATER if water != lay.dilution]
        made += [(*stack[:k], each, *stack[k + 1 :]) for each in changed]
    return made


def _answer(space: SearchSpace, target: Floats, stack: tuple[LayDown, ...]) -> Answer:
    job = replace(space.job, stack=(*space.job.stack, *stack))
    used = set(used_inks(job))
    job = replace(job, inks=tuple([(key, ink) for key, ink in job.inks if key in used]))
    # What was asked for is no mud, whatever its colour.
    found = predict(job, target[None])
    return Answer(job, stack, found, float(cm.delta_e(found.colour.lab, target)))
