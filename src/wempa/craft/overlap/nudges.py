"""Nudges: the smallest further lay-down, or change, that takes a colour a little way.

People think in nudges: a little more pink, cooler, lighter. What is already on the
card can only be added to; what is only planned can be changed as well.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from math import atan2, cos, degrees, hypot, radians, sin

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import MAX_INKS, MAX_STACK
from wempa.craft.prediction.many_stacks import Stack, StackLook, stack_colours, weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Prediction
from wempa.craft.prediction.verdict import MUDDY
from wempa.craft.vocabulary import Load, Over, Towards
from wempa.craft.ways import first_touch
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, Ints

# Where each nudge of hue leads in CIELAB, degrees.
_HUES = {Towards.WARMER: 62.0, Towards.COOLER: 245.0, Towards.PINKER: 355.0, Towards.GREENER: 160.0}
_LIGHTNESS = {Towards.LIGHTER: 1.0, Towards.DARKER: -1.0}
_PASSES = (1.0, 2.0, 4.0, 8.0)
# A nudge is made of at most so many steps.
_LEAP = 4.0
# A grey has no hue to become cleaner in; it is taken this far towards one.
_REACH = 25.0
# A strong colour is turned by at most so many degrees at once.
_TURN = 60.0
# Of each direction so many steps are judged at first.
_FIRST = 4
# What another ink costs, in ΔE00, against another pass of an ink that lies there.
_NEW_INK = 0.75


@dataclass(frozen=True, slots=True)
class Nudge:
    """One nudge: what to do, and what comes of it."""

    code: str
    """A `Towards` word, or ``more`` or ``less``."""
    text: str
    job: Job | None
    """The stack after it; None where nothing leads there."""
    after: Prediction | None


@dataclass(frozen=True, slots=True)
class _Step:
    """A change that is tried: its words, its stack, and what it costs beside its colour."""

    text: str
    stack: Stack
    cost: float


def nudges(job: Job, laid: int, wanted: Floats | None = None) -> tuple[Nudge, ...]:
    """For each direction the smallest step that leads there.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).

    `laid` is how many entries of the stack are on the card already; they stay. Further
    lay-downs come from the job's inks and its stash. A step must move the colour by
    about `nudge.step` that way, stray no farther than it moves, and not turn a colour
    to mud that is none.
    """
    table = constants.values(job.constants)
    whole = _with_stash(job)
    steps = list(_steps(whole, laid, table))
    lab, _ = stack_colours(whole, [job.stack, *[step.stack for step in steps]], StackLook.DRY)
    muddy = bool(weigh_stacks(whole, [job.stack], wanted).kind[0] == MUDDY)
    ranked = {towards: _ranked(towards, lab, steps, table) for towards in Towards}
    chosen = _first_clean(ranked, steps, whole, wanted) if not muddy else {t: r[0] for t, r in ranked.items() if len(r)}
    made = []
    for towards in Towards:
        if towards in chosen:
            made.append(_nudge(towards, steps[chosen[towards]], whole, wanted))
        else:
            text = f"Nothing on the shelf makes this {towards}{'' if muddy else ' without mud'}."
            made.append(Nudge(towards, text, None, None))
    return tuple(made)


def _first_clean(
    ranked: Mapping[Towards, Ints], steps: list[_Step], job: Job, wanted: Floats | None
) -> dict[Towards, int]:
    """For each direction the first step in its list that is not muddy; only the first few of a list are judged."""
    muddy: dict[int, bool] = {}
    chosen: dict[Towards, int] = {}
    left, begin, end = dict(ranked), 0, _FIRST
    while left:
        asked = list(dict.fromkeys(k for places in left.values() for k in places[begin:end].tolist() if k not in muddy))
        kinds = weigh_stacks(job, [steps[k].stack for k in asked], wanted).kind
        muddy |= zip(asked, (kinds == MUDDY).tolist(), strict=True)
        for towards, places in left.items():
            fits = [k for k in places[begin:end].tolist() if not muddy[k]]
            if fits:
                chosen[towards] = fits[0]
        left = {towards: places for towards, places in left.items() if towards not in chosen and len(places) > end}
        begin, end = end, 4 * end
    return chosen


def more_of(job: Job, index: int, laid: int, wanted: Floats | None = None) -> Nudge:
    """The least more of one lay-down that shows; on top, if it is on the card already.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).
    """
    entry = _lay_down(job, index)
    name = _said(job, entry)
    if index < laid and len(job.stack) < MAX_STACK:
        again = replace(entry, dose=None, tool=entry.tool or _touch(job, entry).tool, load=Load.LIGHT, over=Over.DRY)
        steps = [
            _Step(f"Go over it with {name} again, {_passes(n)}.", (*job.stack, replace(again, passes=n)), n)
            for n in _PASSES
        ]
    else:
        steps = [
            _Step(f"More of {name}: {said}.", _changed(job, index, heavier), i)
            for i, (said, heavier) in enumerate(_heavier(entry))
        ]
    return _first_that_shows("more", steps, job, wanted, f"More of {name} changes nothing that shows.")


def less_of(job: Job, index: int, laid: int, wanted: Floats | None = None) -> Nudge:
    """The least less of one lay-down that shows; nothing, if it is on the card already.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).
    """
    entry = _lay_down(job, index)
    name = _said(job, entry)
    if index < laid:
        text = f"{name} is on the card already: what lies there can only be added to."
        return Nudge("less", text, None, None)
    steps = [
        _Step(f"Less of {name}: {said}.", _changed(job, index, lighter), i)
        for i, (said, lighter) in enumerate(_lighter(entry))
    ]
    return _first_that_shows("less", steps, job, wanted, f"{name} cannot be laid any lighter.")


def _lay_down(job: Job, index: int) -> LayDown:
    entry = job.stack[index]
    assert isinstance(entry, LayDown)
    return entry


def _touch(job: Job, entry: LayDown) -> LayDown:
    key = entry.parts[0][0]
    return first_touch(key, dict(job.inks)[key].formula, Load.LIGHT, constants.values(job.constants))


def _said(job: Job, entry: LayDown) -> str:
    inks = dict(job.inks)
    return " and ".join(inks[key].name or key for key, share in entry.parts if share > 0)


def _passes(count: float) -> str:
    return "one light pass" if count == 1 else f"{count:g} light passes"


def _changed(job: Job, index: int, entry: LayDown) -> Stack:
    return tuple([entry if i == index else old for i, old in enumerate(job.stack)])


def _heavier(entry: LayDown) -> Iterator[tuple[str, LayDown]]:
    if entry.dose is not None:
        for factor in (1.15, 1.35, 1.7, 2.5):
            yield f"dose {entry.dose * factor:.2g}", replace(entry, dose=entry.dose * factor)
        return
    for more in (1.0, 2.0, 4.0, 8.0, 16.0):
        yield f"{entry.passes + more:g} passes", replace(entry, passes=entry.passes + more)


def _lighter(entry: LayDown) -> Iterator[tuple[str, LayDown]]:
    if entry.dose is not None:
        for factor in (0.85, 0.7, 0.5, 0.25):
            yield f"dose {entry.dose * factor:.2g}", replace(entry, dose=entry.dose * factor)
        return
    for fewer in (entry.passes - 1, entry.passes - 2, round(entry.passes / 2), 1.0):
        if 1 <= fewer < entry.passes:
            yield f"{fewer:g} {'pass' if fewer == 1 else 'passes'}", replace(entry, passes=float(fewer))
    if entry.load in (Load.JUICY, Load.NORMAL):
        yield "a light load, one pass", replace(entry, passes=1.0, load=Load.LIGHT)
    if entry.load is not Load.BLOTTED:
        yield "a blotted pad, one pass", replace(entry, passes=1.0, load=Load.BLOTTED)


def _first_that_shows(code: str, steps: list[_Step], job: Job, wanted: Floats | None, none: str) -> Nudge:
    """The first of ever larger steps that moves the colour by `nudge.step`, or else the largest."""
    whole = replace(job, stash=Stash(), fixes=False)
    found = weigh_stacks(whole, [job.stack, *[step.stack for step in steps]], wanted)
    moved = cm.delta_e(found.lab[1:], found.lab[0])
    if not len(moved) or moved.max() < 0.5:
        return Nudge(code, none, None, None)
    least = constants.values(job.constants)["nudge.step"]
    enough = np.flatnonzero(moved >= least)
    return _nudge(code, steps[int(enough[0] if enough.size else moved.argmax())], whole, wanted)


def _with_stash(job: Job) -> Job:
    """The job with the inks of its stash declared as well, each ink once."""
    declared = dict(job.inks)
    have = set(declared.values())
    more = {key: ink for key, ink in job.stash.inks if key not in declared and ink not in have}
    return replace(job, inks=(*job.inks, *more.items()), stash=Stash(), fixes=False)


def _steps(job: Job, laid: int, table: Mapping[str, float]) -> Iterator[_Step]:
    used = {key for entry in job.stack if isinstance(entry, LayDown) for key, _ in entry.parts}
    if len(job.stack) < MAX_STACK:
        for key, ink in job.inks:
            if key not in used and len(used) == MAX_INKS:
                continue
            touch = first_touch(key, ink.formula, Load.LIGHT, table)
            for passes in _PASSES:
                text = f"Lay {ink.name or key} over it, {_passes(passes)}."
                cost = 0.3 * passes + (0 if key in used else _NEW_INK)
                yield _Step(text, (*job.stack, replace(touch, passes=passes)), cost)
    for index in range(laid, len(job.stack)):
        entry = job.stack[index]
        if not isinstance(entry, LayDown):
            continue
        name = _said(job, entry)
        for word, ways in (("More", _heavier(entry)), ("Less", _lighter(entry))):
            for said, changed in ways:
                yield _Step(f"{word} of {name}: {said}.", _changed(job, index, changed), 0.0)
        rest = tuple([old for i, old in enumerate(job.stack) if i != index])
        if rest:
            yield _Step(f"Leave {name} out.", rest, 1.0)
        above = job.stack[index + 1] if index + 1 < len(job.stack) else None
        if isinstance(above, LayDown) and above.over is Over.DRY and above.parts != entry.parts:
            swapped = list(job.stack)
            swapped[index], swapped[index + 1] = replace(above, over=entry.over), replace(entry, over=Over.DRY)
            yield _Step(f"Lay {_said(job, above)} before {name}.", tuple(swapped), 0.5)


def _ranked(towards: Towards, lab: Floats, steps: list[_Step], table: Mapping[str, float]) -> Ints:
    """Places of the steps that lead there, the one with least to spare first.

    `lab` is CIELAB of what lies there now and of each step, (1 + s, 3).
    """
    least = table["nudge.step"]
    base, moves = lab[0], lab[1:] - lab[0]
    _, a, b = base.tolist()
    chroma = hypot(a, b)
    # CIELAB steps of a strong colour look smaller than those of a grey (CIE94, S_C).
    moves[:, 1:] /= 1 + 0.045 * chroma
    if towards in _LIGHTNESS:
        along = moves[:, 0] * _LIGHTNESS[towards]
        aside = np.hypot(moves[:, 1], moves[:, 2])
    else:
        if towards is Towards.CLEANER:
            if chroma < table["colour.grey"]:
                return np.zeros(0, dtype=np.intp)
            way = np.array([a, b])
        else:
            # The colour is turned on the circle and does not go through the greys within it; a grey goes straight
            # there.
            hue, goal = degrees(atan2(b, a)), _HUES[towards]
            if chroma >= table["colour.grey"]:
                goal = hue + min(max((goal - hue + 180) % 360 - 180, -_TURN), _TURN)
            turn, reach = radians(goal), max(chroma, _REACH)
            way = np.array([reach * cos(turn) - a, reach * sin(turn) - b])
        way /= max(float(np.hypot(*way)), 1e-9)
        along = moves[:, 1:] @ way
        across = moves[:, 1:] @ np.array([-way[1], way[0]])
        aside = np.hypot(across, moves[:, 0] * table["nudge.light"])
    fits = (along >= 0.8 * least) & (aside <= table["nudge.astray"] * along)
    # A large jump is no nudge.
    fits &= cm.delta_e(lab[1:], base) <= _LEAP * least
    cost = aside + np.abs(along - least) + np.array([step.cost for step in steps])
    found = np.flatnonzero(fits)
    return np.asarray(found[np.argsort(cost[found], kind="stable")])


def _nudge(code: str, step: _Step, whole: Job, wanted: Floats | None) -> Nudge:
    used = {key for entry in step.stack if isinstance(entry, LayDown) for key, _ in entry.parts}
    after = replace(whole, inks=tuple([(key, ink) for key, ink in whole.inks if key in used]), stack=step.stack)
    return Nudge(code, step.text, after, predict(after, wanted))
