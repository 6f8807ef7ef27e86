"""The verdict on an overlap: what was promised, what came, and is it mud.

Works on single overlaps and on batches alike (`optics.namespace`); nothing in it knows
where the colours come from. The promise is the clean in-between on the painter's
circle, where yellow and blue make green.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wempa.craft.vocabulary import VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.namespace import SCALAR, Value, ramp
from wempa.optics.records import record

from .ladders import FAR, Ladders
from .mud import Components, Mud, Promise, Strays, apart_from_wanted, clean_between, dulls, mud, spare

_FARTHEST: Value = float("inf")
KINDS = (
    VerdictKind.CLEAN,
    VerdictKind.MUTED,
    VerdictKind.MUDDY,
    VerdictKind.SWAMPED,
    VerdictKind.NO_NEW_COLOUR,
)


CLEAN, MUTED, MUDDY, SWAMPED, NO_NEW_COLOUR = range(len(KINDS))
"""Places in `KINDS`: what arrays of verdicts hold."""


@record
class Overlaps:
    """One overlap, or a batch of b, of up to p inks, all CIELAB under one light."""

    result: Components
    """The dry look on the card."""
    on_white: Components
    """The same lay-downs on white card of the same surface."""
    parents: Sequence[Components]
    """Each ink alone, same dose, same card; p of them."""
    parents_on_white: Sequence[Components]
    """The same on white card, p."""
    present: Sequence[Value]
    """Whether each parent takes part, p: True, or where padded an array (b,)."""
    card: Components
    """Floats: one card for all."""
    card_from_white: float
    """ΔE00 between the card and white card of the same surface."""
    white: Components
    """Floats: white card of the same surface."""
    wanted: Floats | None = None
    """(w, 3), colours of inks that the user owns or asked for: never mud."""
    lowest: Sequence[Value] = ()
    """Whether each parent lies below all others, p; none does if not given."""
    covering: Sequence[Value] = ()
    """Whether each parent lies alone on top and hides what is below it, p; none does if not given."""
    ladders: Ladders | None = None
    """What inks alone look like on the card, step by step; each parent is one step if not given."""
    rungs: Sequence[Value] = ()
    """Which of the ladders is each parent's, p: numbers, or arrays (b,)."""


@record
class Judgement:
    """What was found, floats or arrays (b,)."""

    kind: Value
    """Index into `KINDS`."""
    unswamped: Value
    """The same where no ink counts as swamped."""
    mud: Value
    """0–100."""
    mixing_loss: Value
    """Share of the promised chroma that mixing costs, 0–1."""
    card_loss: Value
    """Share of the colour on white that the card costs, 0–1."""
    to_parents: Sequence[Value]
    """ΔE00 to each parent's ladder, infinite where that is nowhere near; of a muddy one to the parent."""
    spared: Value
    """Mud taken off because the colour is one that is owned or asked for."""
    to_laid: Sequence[Value]
    """ΔE00 to each parent as it was laid."""
    covered: Value
    """Whether the uppermost ink shows as itself and hides the others."""
    to_card: Value | None
    """ΔE00 to the bare card; None where the card counts as white."""
    promise: Promise | None
    """What the parents promised; None without ink."""
    grounds: Sequence[Value] = ()
    """Which parents are a ground: white, and below all others; such as a barrier."""
    strayed: Floats | None = None
    """Mud of all but the first of what one result may be instead, if that was asked."""


def judge(
    o: Overlaps, mud_line: float, table: Mapping[str, float], xp: Any = np, strays: Strays | None = None
) -> Judgement:
    """Verdict and mud of overlaps (docs/model.md, *The verdict*).

    `mud_line` decides the kind only, never the mud figure. `xp` is `numpy` for a batch
    and `SCALAR` for one overlap in floats, of which `strays` says what it may be instead.
    """
    promise = clean_between(o.parents_on_white, o.present, o.white, table, xp)
    several, shown = promise.several, promise.shown
    to_parents = [cm.ciede2000(*o.result, *parent, xp) for parent in o.parents]
    # On white card the same lay-downs are the same colour.
    coloured = dulls(o.card_from_white, table)
    to_white = cm.ciede2000(*o.result, *o.on_white, xp) if coloured else 0.0
    to_card = cm.ciede2000(*o.result, *o.card, xp) if coloured > table["verdict.coloured"] else None
    # White laid below is a ground for what comes over it: nobody wants it to show.
    below = _grounds(o, table, xp)
    shows = [there & (1 - ground) for there, ground in zip(shown, below, strict=True)]
    # White on top takes no light of the card either, and covers all the same.
    covers = [there & (1 - ground) for there, ground in zip(o.present, below, strict=True)]
    nearest = _FARTHEST
    for distance, there in zip(to_parents, shown, strict=True):
        nearest = xp.minimum(nearest, xp.where(there, distance, _FARTHEST))
    showing_several = sum(shows) > 1
    # A single ink is its own parent: only the card can have made something new of it.
    distances, strayed = (xp.where(several, nearest, to_white), to_white), None
    if strays is None:
        found = mud(o.result, o.on_white, promise, distances, coloured, o.card[0], table, xp)
    else:
        found, strayed = _with_strays(o, promise, distances, coloured, strays, table)
    muddiness = spare(found.mud, o.result, o.wanted, table)

    same, other, share = table["verdict.same"], table["verdict.other"], table["verdict.muted"]
    least_promise = table["verdict.promise"]
    steps = _to_ladders(o, to_parents, muddiness < mud_line)
    # No new colour: every ink is a coat of what is seen. Swamped: one ink is, and a colour beside it is lost.
    # Between inks of one hue there is always a step of the one near their in-between.
    one_hue = ramp(promise.agreement, table["verdict.one_hue_from"], table["verdict.one_hue_to"], xp)
    swallows: Value = False
    most, lost = 0.0, 0.0
    deepest: Any = () if o.ladders is None else o.ladders.deepest_chroma if xp is np else o.ladders.deepest
    hiding: Sequence[Value] = o.covering or [False] * len(o.parents)
    for n, (distance, showing, covering, hidden, (_, a, b)) in enumerate(
        zip(steps, shows, covers, hiding, o.parents_on_white, strict=True)
    ):
        most = xp.maximum(most, xp.where(showing, distance, 0.0))
        # A white makes tints and a grey dusky shades: neither is swallowed.
        hued = xp.sqrt(a * a + b * b) > table["verdict.hued"]
        nearer = xp.where(hued, same + (table["verdict.same_hue"] - same) * one_hue, same)
        if len(deepest):
            # An ink that shows nothing on this card is lost all the same, so its colour at its deepest counts.
            hued |= deepest[o.rungs[n]] > table["verdict.hued"]
        # What hides is laid to hide: it swallows nothing that was to be seen. Nor does a trace of a colour.
        swallows = swallows | (covering & (shown[n] | (hued == 0)) & (distance <= nearer) & (hidden == 0))
        lost = xp.maximum(lost, xp.where(showing & hued, distance, 0.0))
    no_new = showing_several & (most <= same)
    swamped = (sum(covers) > 1) & swallows & (lost > other)
    muted = several & (found.chroma_white < share * promise.chroma) & (promise.chroma > least_promise)
    if to_card is not None:
        at_card, farthest = to_card <= same, 0.0
        for distance, there in zip(to_parents, shown, strict=True):
            farthest = xp.maximum(farthest, xp.where(there, distance, 0.0))
        no_new |= (several == 0) & (to_white <= same) & at_card
        swamped |= at_card & (xp.where(several, farthest, to_white) > other)
        muted |= (found.along < share * found.chroma_white) & (found.chroma_white > least_promise)
    # What covers is as bright as itself.
    covered: Value = False
    for distance, covering in zip(to_parents, o.covering, strict=False):
        covered = covered | (covering & (distance <= table["verdict.covers"]))
    muted = xp.where(covered, False, muted)
    bright = xp.where(muted, MUTED, CLEAN)
    muddy = muddiness >= mud_line
    kind = xp.where(muddy, MUDDY, xp.where(no_new, NO_NEW_COLOUR, xp.where(swamped, SWAMPED, bright)))
    unswamped = xp.where(muddy, MUDDY, xp.where(no_new, NO_NEW_COLOUR, bright))
    return Judgement(
        kind=kind,
        unswamped=unswamped,
        mud=muddiness,
        mixing_loss=found.mixing_loss,
        card_loss=found.card_loss,
        to_parents=steps,
        spared=found.mud - muddiness,
        to_laid=to_parents,
        covered=covered,
        to_card=to_card,
        promise=promise,
        grounds=below,
        strayed=strayed,
    )


def _with_strays(
    o: Overlaps,
    promise: Promise,
    distances: tuple[float, float],
    coloured: float,
    strays: Strays,
    table: Mapping[str, float],
) -> tuple[Mud, Floats]:
    """Mud of one overlap in floats, and of all but the first of what it may be instead.

    What the parents promise is not moved, and how new a stray is counts by the metric at
    the prediction: only steps of a few ΔE00 decide there.
    """
    if not promise.apart and not coloured:
        # Hues that do not pull apart make no mud, however the hand strays.
        plain = mud(o.result, o.on_white, promise, distances, coloured, o.card[0], table, SCALAR)
        return plain, np.zeros(strays.steps.shape[1] - 1)
    base = np.array([o.result]).T
    parents = [parent for parent, there in zip(o.parents, promise.shown, strict=True) if there]
    others = np.array(parents if promise.several else [o.on_white]).T
    apart = (strays.metric @ (base - others))[:, :, None] + (strays.metric @ strays.steps)[:, None]
    apart *= apart
    new = np.sqrt(np.add.reduce(apart).min(axis=0))
    new[0] = distances[0]
    result = on_white = tuple(base + strays.steps)
    if coloured:
        on_white = tuple(np.array([o.on_white]).T + strays.steps)
    found = mud(result, on_white, promise, (new, distances[1]), coloured, o.card[0], table)
    # A result that is spared because one owns such a colour is spared where the hand strays a little too.
    strayed = found.mud[1:]
    if o.wanted is not None and strayed.any():
        strayed = strayed * float(apart_from_wanted(o.result, o.wanted, table))
    return found.first(), strayed


def judge_patches(
    kind: Value, mud: Value, share: Value, whose: Ints, mud_line: float, table: Mapping[str, float]
) -> tuple[Floats, Ints]:
    """Mud and kind of whole stacks of which each kind of place was judged by itself, (n,) each.

    `kind`, `mud` and `share`, (p,), are of the places, `whose` says of which stack, numbered
    from 0. Mud is the mean by share of the area. Where inks lie side by side none swallows
    another; the whole is muted, or nothing new, where most of it is.
    """
    count = int(np.max(whose)) + 1

    def area(chosen: Value) -> Floats:
        return np.asarray(np.bincount(whose, weights=chosen * share, minlength=count), dtype=np.float64)

    mean, most = area(mud), table["verdict.most"]
    dull = area((kind == MUTED) | (kind == MUDDY)) > most
    same = area(kind == NO_NEW_COLOUR) > most
    kinds = np.select([mean >= mud_line, dull, same], [MUDDY, MUTED, NO_NEW_COLOUR], CLEAN)
    return mean, kinds.astype(np.intp)


def _to_ladders(o: Overlaps, to_parents: Sequence[Value], asked: Value) -> Sequence[Value]:
    """ΔE00 to each parent's ladder where it is asked for, else to the parent itself."""
    if o.ladders is None:
        return to_parents
    if np.ndim(asked) == 0:
        light, green, blue = o.result
        return [o.ladders.far_from(rung, (light, green, blue)) for rung in o.rungs]
    asked_too = asked & (sum(o.present) > 1)
    # Where no ladder is near, it only matters that it is far.
    found = [np.where(asked, np.inf, plain) for plain in to_parents]
    if not np.any(asked_too):
        return found
    near = [
        asked_too & there & o.ladders.may_be_near(rung, o.result)
        for rung, there in zip(o.rungs, o.present, strict=True)
    ]
    for distance, rung, rows in zip(found, o.rungs, map(np.flatnonzero, near), strict=True):
        result = np.stack([component[rows] for component in o.result], axis=1)
        place, apart = o.ladders.nearest(rung[rows], result)
        some = np.flatnonzero(apart < FAR**2)
        distance[rows[some]] = cm.ciede2000(*result[some].T, *place[some].T)
    return found


def hides(scattering: NDArray[np.floating[Any]], table: Mapping[str, float]) -> Bools:
    """Whether films of so much scatter (…, 36) hide what is below them, (…).

    Without absorption a film of scatter S lets 1 / (1 + S) through (Kubelka 1948), there and back.
    """
    clear = (1 / (1 + scattering)).mean(axis=-1)
    return np.asarray(clear * clear < table["verdict.covered"])


def _grounds(o: Overlaps, table: Mapping[str, float], xp: Any) -> list[Value]:
    if not o.lowest:
        return [o.present[0] & False] * len(o.present) if o.present else []
    if xp is not np and True not in o.lowest:
        return list(o.lowest)
    light, dull = table["ground.light"], table["ground.chroma"]
    return [
        low & (lightness > light) & (xp.sqrt(a * a + b * b) < dull)
        for (lightness, a, b), low in zip(o.parents_on_white, o.lowest, strict=True)
    ]


def bare() -> Judgement:
    """The verdict on a card without ink: clean, mud 0."""
    return Judgement(0, 0, 0.0, 0.0, 0.0, (), 0.0, (), False, None, None)
