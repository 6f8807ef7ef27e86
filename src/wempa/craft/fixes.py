"""What would save a muddy overlap: each fix recomputed, ranked by what it gains."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from . import prepare
from .job import Colour, Entry, Ink, Job, LayDown, Swatch
from .predict import Fix, Prediction, predict, used_inks
from .words import MAX_INKS, MAX_STACK, Formula, Load, Over, Tool, VerdictKind

# A fix must take away this much mud, or be left out.
_LEAST_GAIN = 5.0
# Below this there is nothing to save.
_LEAST_MUD = 10.0
# How many inks of the stash are tried as stand-in and as bridge, nearest first.
_TRIED = 12
_MOST = 10
_STAND_IN_REACH = 30.0
_WHITE_PIGMENT = Ink(Swatch(Colour(hex="#ffffff")), Formula.PIGMENT, "White pigment")


def predict_with_fixes(job: Job) -> Prediction:
    """Predict a job, with fixes if it asks for them; raises `JobError`."""
    found = predict(job)
    return replace(found, fixes=find_fixes(job, found)) if job.fixes else found


def find_fixes(job: Job, found: Prediction) -> tuple[Fix, ...]:
    """Changes that make the overlap less muddy, best first.

    Every one is predicted anew; those that gain less than 5 of 100 mud are left
    out, and of each kind only the best is kept. Fixes without a stack (a narrower
    overlap, a bridge between the two) come last.
    """
    mud = found.verdict.mud
    if mud < _LEAST_MUD:
        return ()
    best: dict[str, tuple[float, Fix]] = {}
    for code, text, changed in _candidates(job):
        after = predict(changed).verdict
        # An ink that no longer shows is not saved; a barrier is meant to be covered.
        swamped = after.kind is VerdictKind.SWAMPED and code != "barrier"
        if mud - after.mud < _LEAST_GAIN or (swamped and found.verdict.kind is not VerdictKind.SWAMPED):
            continue
        if code not in best or after.mud < best[code][0]:
            best[code] = (after.mud, Fix(code, text, changed, after.mud))
    ranked = [fix for _, fix in sorted(best.values(), key=lambda pair: pair[0])]
    return tuple([*ranked, *_without_stack(job)][:_MOST])


def _candidates(job: Job) -> Iterator[tuple[str, str, Job]]:
    yield from _other_orders(job)
    yield from _dried(job)
    yield from _barriers(job)
    yield from _lighter_hands(job)
    yield from _stand_ins(job)
    yield from _other_cards(job)


def _name(job: Job, key: str) -> str:
    return dict(job.inks)[key].name or key


def _names(job: Job, entry: LayDown) -> str:
    return " and ".join(_name(job, key) for key, _ in entry.parts)


def _laid(job: Job) -> list[tuple[int, LayDown]]:
    return [(i, entry) for i, entry in enumerate(job.stack) if isinstance(entry, LayDown)]


def _with(job: Job, changes: dict[int, Entry]) -> Job:
    return replace(job, stack=tuple(changes.get(i, entry) for i, entry in enumerate(job.stack)))


def _other_orders(job: Job) -> Iterator[tuple[str, str, Job]]:
    laid = _laid(job)
    for (i, lower), (j, upper) in pairwise(laid):
        if upper.over is Over.DRY and lower.parts != upper.parts:
            text = f"Lay {_names(job, upper)} before {_names(job, lower)}."
            yield "swap_order", text, _with(job, {i: replace(upper, over=lower.over), j: replace(lower, over=Over.DRY)})


def _dried(job: Job) -> Iterator[tuple[str, str, Job]]:
    wet = {i: replace(entry, over=Over.DRY) for i, entry in _laid(job) if entry.over is Over.WET}
    if wet:
        yield "let_dry", "Let each layer dry before the next.", _with(job, dict(wet))


def _barriers(job: Job) -> Iterator[tuple[str, str, Job]]:
    """White pigment brushed thinly on the card, under everything."""
    offered = [(key, ink) for key, ink in (*job.inks, *job.stash.inks) if ink.formula is Formula.PIGMENT]
    whites = [(key, ink) for key, ink in offered if _swatch(ink, job)[0] > 93]
    key, white = whites[0] if whites else ("white-barrier", _WHITE_PIGMENT)
    if len(job.stack) == MAX_STACK or (key not in dict(job.inks) and len(job.inks) == MAX_INKS):
        return
    first = job.stack[0]
    if isinstance(first, LayDown) and any(used == key for used, _ in first.parts):
        return
    barrier = LayDown(((key, 1.0),), tool=Tool.BRUSH, load=Load.NORMAL, passes=6)
    inks = job.inks if key in dict(job.inks) else (*job.inks, (key, white))
    text = f"Brush {white.name or key} thinly on the card first, and let it dry."
    yield "barrier", text, replace(job, inks=inks, stack=(barrier, *job.stack))


def _lighter_hands(job: Job) -> Iterator[tuple[str, str, Job]]:
    for i, entry in _laid(job):
        if entry.dose is not None:
            lighter = replace(entry, dose=entry.dose * 0.4)
        else:
            load = entry.load if entry.load is Load.BLOTTED else Load.LIGHT
            passes = min(entry.passes, max(1.0, float(round(entry.passes * 0.4))))
            lighter = replace(entry, passes=passes, load=load)
        yield "lighter_hand", f"Go lighter with {_names(job, entry)}.", _with(job, {i: lighter})


def _swatch(ink: Ink, job: Job) -> Floats:
    own_card = job.cardstock if ink.swatch.card is None else None
    return prepare.ink(ink, own_card, str(job.illuminant), job.constants).lab


def _nearest(job: Job, to: Floats, without: set[str]) -> list[tuple[float, str, Ink]]:
    found = [
        (float(cm.delta_e(_swatch(ink, job), to)), key, ink) for key, ink in job.stash.inks if ink.name not in without
    ]
    return sorted(found, key=lambda item: item[0])[:_TRIED]


def _stand_ins(job: Job) -> Iterator[tuple[str, str, Job]]:
    names = {ink.name for _, ink in job.inks}
    for used in used_inks(job):
        for distance, key, ink in _nearest(job, _swatch(dict(job.inks)[used], job), names):
            if distance > _STAND_IN_REACH:
                break
            inks = tuple((k, ink if k == used else old) for k, old in job.inks)
            text = f"Take {ink.name or key} instead of {_name(job, used)}."
            yield "stand_in", text, replace(job, inks=inks)


def _other_cards(job: Job) -> Iterator[tuple[str, str, Job]]:
    for key, card in job.stash.cards:
        if card != job.cardstock:
            yield "other_card", f"Work on {key} instead.", replace(job, cardstock=card)


def _without_stack(job: Job) -> Iterator[Fix]:
    """For two inks that do not join: a bridge between them, a narrower overlap."""
    laid = _laid(job)
    if len(used_inks(job)) != 2 or len(laid) != 2:
        return
    (_, lower), (_, upper) = laid
    names = f"{_names(job, lower)} and {_names(job, upper)}"
    bridge = _bridge(job, lower, upper)
    if bridge is not None:
        mud, key, ink = bridge
        text = f"Put {ink.name or key} between {names}; it joins both without mud."
        yield Fix("bridge", text, None, mud)
    yield Fix("narrower_overlap", f"Let {names} meet in a narrow, light-handed seam, or leave a gap.", None, None)


def _bridge(job: Job, lower: LayDown, upper: LayDown) -> tuple[float, str, Ink] | None:
    """The ink of the stash whose two seams are least muddy, if they are clean enough."""
    middle = np.mean([_swatch(dict(job.inks)[entry.parts[0][0]], job) for entry in (lower, upper)], axis=0)
    # Two ways round the circle join the pair: look near both sides of the middle.
    chroma = np.array([0.0, -middle[2], middle[1]])
    length = float(np.hypot(chroma[1], chroma[2]))
    side = chroma * (45 / length) if length > 5 else np.array([0.0, 45.0, 0.0])
    names = {ink.name for _, ink in job.inks}
    best: tuple[float, str, Ink] | None = None
    tried = {key: ink for target in (middle + side, middle - side) for _, key, ink in _nearest(job, target, names)}
    for key, ink in tried.items():
        seams = []
        for entry in (lower, upper):
            other = replace(entry, parts=((key, 1.0),), over=upper.over)
            pair = replace(job, inks=(*job.inks, (key, ink)), stack=(replace(entry, over=Over.DRY), other))
            seams.append(predict(pair).verdict)
        mud = max(seam.mud for seam in seams)
        if mud < job.mud_line / 2 and (best is None or mud < best[0]):
            best = (mud, key, ink)
    return best
