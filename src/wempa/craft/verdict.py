"""The verdict on an overlap: what was promised, what came, and is it mud.

Works on single overlaps and on batches alike (`optics.namespace`); nothing in it knows
where the colours come from. The promise is the clean in-between on the painter's
circle, where yellow and blue make green.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import degrees, radians
from typing import Any

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.namespace import SCALAR, Value

from .words import VerdictKind

# CIELAB hue of the painter's red, orange, yellow, green, blue and purple.
_CIELAB_HUE = np.array([30.0, 65.0, 95.0, 150.0, 270.0, 320.0, 390.0])
_PAINTER_HUE = np.array([0.0, 60.0, 120.0, 180.0, 240.0, 300.0, 360.0])
# The same from -180°, where an arctangent begins, to 180°.
_AROUND_CIELAB = [*(_CIELAB_HUE - 360)[:-1].tolist(), *_CIELAB_HUE.tolist()]
_AROUND_PAINTER = [*(_PAINTER_HUE - 360)[:-1].tolist(), *_PAINTER_HUE.tolist()]
_DEGREES, _RADIANS = degrees(1), radians(1)
KINDS = (
    VerdictKind.CLEAN,
    VerdictKind.MUTED,
    VerdictKind.MUDDY,
    VerdictKind.SWAMPED,
    VerdictKind.NO_NEW_COLOUR,
)

Components = tuple[Value, Value, Value]
"""CIELAB as L*, a* and b*: floats, or arrays (b,)."""


@dataclass(frozen=True, slots=True)
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
    wanted: Floats | None = None
    """(w, 3), colours of inks that the user owns or asked for: never mud."""
    lowest: Sequence[Value] = ()
    """Whether each parent lies below all others, p; none does if not given."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """What was found, floats or arrays (b,)."""

    kind: Value
    """Index into `KINDS`."""
    mud: Value
    """0–100."""
    mixing_loss: Value
    """Share of the promised chroma that mixing costs, 0–1."""
    card_loss: Value
    """Share of the colour on white that the card costs, 0–1."""
    to_parents: Sequence[Value]
    """ΔE00 to each parent."""
    spared: Value
    """Mud taken off because the colour is one that is owned or asked for."""
    to_card: Value | None
    """ΔE00 to the bare card; None where the card counts as white."""
    promise: Promise | None
    """What the parents promised; None without ink."""


def painter_hue(a: Value, b: Value, xp: Any = np) -> Value:
    """Hue on the painter's circle, 0–360°, of CIELAB a* and b*.

    CIELAB hue bent piecewise linearly so that red is 0°, yellow 120° and blue 240°.
    """
    return xp.interp(xp.arctan2(b, a) * _DEGREES, _AROUND_CIELAB, _AROUND_PAINTER) % 360


def cielab_hue(painter: Floats) -> Floats:
    """CIELAB hue angle of a painter's hue; the inverse of `painter_hue`."""
    return np.asarray(np.interp(painter % 360, _PAINTER_HUE, _CIELAB_HUE) % 360)


@dataclass(frozen=True, slots=True)
class Promise:
    """The clean in-between."""

    chroma: Value
    hue: Value
    """Painter's hue, 0–360°."""
    agreement: Value
    """How far the parents' hues agree, 0–1."""
    several: Value
    """Whether there is more than one parent."""
    counts: Value
    """How far the promise counts: not that of a single ink, nor one of hardly any colour; 0–1."""
    opposed: Value
    """How far the hues are opposites, 0–1."""
    apart: Value
    """How far the hues pull apart, 0–1."""


def clean_between(
    parents: Sequence[Components], present: Sequence[Value], table: Mapping[str, float], xp: Any = np
) -> Promise:
    """What the parents promise, at least one of them.

    The hue is the mean along the shorter way round, weighted by chroma so that a
    grey has no say in it; the chroma is the plain mean, so that a grey mixed in on
    purpose lowers what is promised. Agreement is the length of the mean hue vector
    against that of its parts: 1 for one hue, or one hue with greys and blacks, about
    0.5 for two primaries, 0 for equal opposites.
    """
    total: Value = 0.0
    x: Value = 0.0
    y: Value = 0.0
    for (_, a, b), there in zip(parents, present, strict=True):
        chroma = xp.sqrt(a * a + b * b) * there
        hue = painter_hue(a, b, xp) * _RADIANS
        total, x, y = total + chroma, x + chroma * xp.cos(hue), y + chroma * xp.sin(hue)
    count = sum(present)
    several, chroma = count > 1, total / xp.maximum(count, 1)
    agreement = xp.sqrt(x * x + y * y) / xp.maximum(total, 1e-6)
    return Promise(
        chroma=chroma,
        hue=xp.arctan2(y, x) * _DEGREES % 360,
        agreement=agreement,
        several=several,
        counts=_ramp(chroma, 2, 10, xp) * several,
        opposed=1 - _ramp(agreement, table["mud.opposed_from"], table["mud.opposed_to"], xp),
        apart=1 - _ramp(agreement, table["mud.agree_from"], table["mud.agree_to"], xp),
    )


def _ramp(value: Value, start: Value, stop: Value, xp: Any) -> Value:
    """Smooth step from 0 at `start` to 1 at `stop`."""
    return _smooth((value - start) * (1 / (stop - start)), xp)


def _smooth(t: Value, xp: Any) -> Value:
    """Smooth step from 0 at 0 to 1 at 1."""
    t = xp.minimum(xp.maximum(t, 0.0), 1.0)
    return t * t * (3 - 2 * t)


@dataclass(frozen=True, slots=True)
class Mud:
    """Mud, 0–100, with what it is made of."""

    mud: Value
    mixing_loss: Value
    card_loss: Value
    chroma_white: Value
    along: Value
    """Chroma on the card along the hue on white; only where the card counts as coloured."""


def dulls(card_from_white: float, table: Mapping[str, float]) -> float:
    """How far a card counts as coloured, 0–1."""
    return float(_ramp(card_from_white, table["verdict.card_from"], table["verdict.card_to"], SCALAR))


def mud(
    result: Components,
    on_white: Components,
    promise: Promise,
    novel: Value,
    coloured: float,
    table: Mapping[str, float],
    xp: Any = np,
) -> Mud:
    """Mud of overlaps whose parents made a promise (DESIGN section 5).

    Mud needs both chroma lost against the promise and closeness to the mud
    region, and a colour that no parent is by itself: `novel` is how far it is from
    that, in ΔE00. `coloured` is how far the card takes part (`dulls`).

    Mixing makes mud only as far as the parents' hues pull apart, the card as far as
    it takes the colour out. The mud region is dull brown, olive and grey of low to
    middle lightness: a brown may keep more chroma than a grey-green or a grey-violet
    before it stops being mud. Black is not mud.
    """
    light, a, b = result
    _, wa, wb = on_white
    chroma = xp.sqrt(a * a + b * b)
    chroma_white = xp.maximum(chroma if on_white is result else xp.sqrt(wa * wa + wb * wb), 1e-6)
    mixing = xp.maximum(1 - chroma_white / (promise.chroma + 1e-6), 0.0) * promise.counts
    # On coloured card: what of the colour on white is left, along its own hue.
    along, card = chroma_white, 0.0
    if coloured:
        along = (a * wa + b * wb) / chroma_white
        tinted = _ramp(chroma_white, 2, 10, xp) * coloured
        card = xp.minimum(xp.maximum(1 - along / chroma_white, 0.0), 1.0) * tinted

    # Colour lost to a grey, a black or a neighbour was given up on purpose; only hues
    # that pull apart make mud. Between opposites nothing is promised at all: less need
    # be lost there, and a dull green, violet or rust is mud too.
    opposed = promise.opposed
    start, stop = table["mud.mixing_from"], table["mud.mixing_to"]
    by_mixing = _ramp(mixing + table["mud.opposed_loss"] * opposed, start, stop, xp) * promise.apart
    clean = 1 - by_mixing
    if coloured:
        clean = clean * (1 - _ramp(card, table["mud.card_from"], table["mud.card_to"], xp))
    most = table["mud.brown_chroma"] * (1 + table["mud.opposed_brown"] * opposed)
    grey = table["mud.grey_chroma"] * (1 + table["mud.opposed_grey"] * opposed)
    hue = xp.arctan2(b, a) * _DEGREES % 360
    # Two ramps of which one is 1 wherever the other is not are one ramp of the lesser.
    reddish = _smooth(xp.minimum((hue - 5) / 35, (140 - hue) / 28), xp)
    edge = grey + (most - grey) * reddish
    region = _ramp(chroma, edge, 0.3 * edge, xp)
    light_from, light_to = table["mud.light_from"], table["mud.light_to"]
    dark_from, dark_to = table["mud.dark_from"], table["mud.dark_to"]
    middle = _smooth(
        xp.minimum((light_to - light) / (light_to - light_from), (light - dark_from) / (dark_to - dark_from)), xp
    )
    same = table["verdict.same"]
    new = _ramp(novel, same * 0.5, same * 1.5, xp)
    return Mud(100 * (1 - clean) * region * middle * new, mixing, card, chroma_white, along)


def apart_from_wanted(result: Components, wanted: Floats | None, table: Mapping[str, float]) -> Value:
    """Factor on mud, 0–1: a colour close to one that is owned or asked for is not mud."""
    if wanted is None or not len(wanted):
        return 1.0
    same = table["verdict.same"]
    reach = same * 1.5
    light, a, b = (np.asarray(component).reshape(-1) for component in result)
    # The lightness alone keeps most apart: ΔE00 is never less than |ΔL*| / S_L.
    rows, near = np.nonzero(np.abs(light[:, None] - wanted[:, 0]) < reach * _MOST_S_L)
    nearest = np.full(len(light), reach)
    found = cm.ciede2000(light[rows], a[rows], b[rows], *wanted[near].T)
    np.minimum.at(nearest, rows, found)
    return _ramp(nearest.reshape(np.shape(result[0])), same, reach, np)


# S_L of CIEDE2000 at black and at white; nowhere is it more.
_MOST_S_L = 1.75


def spare(found: Value, result: Components, wanted: Floats | None, table: Mapping[str, float]) -> Value:
    """Mud with `apart_from_wanted` taken off, which is looked at only where there is any."""
    if wanted is None or not len(wanted) or not np.any(found):
        return found
    if np.ndim(found) == 0:
        return found * float(apart_from_wanted(result, wanted, table))
    rows = np.flatnonzero(found)
    spared = found.copy()
    spared[rows] *= apart_from_wanted(tuple(component[rows] for component in result), wanted, table)
    return spared


def judge(o: Overlaps, mud_line: float, table: Mapping[str, float], xp: Any = np) -> Judgement:
    """Verdict and mud of overlaps (DESIGN section 5).

    `mud_line` decides the kind only, never the mud figure. `xp` is `numpy` for a batch
    and `SCALAR` for one overlap in floats.
    """
    promise = clean_between(o.parents_on_white, o.present, table, xp)
    several = promise.several
    to_parents = [cm.ciede2000(*o.result, *parent, xp) for parent in o.parents]
    # On white card the same lay-downs are the same colour.
    coloured = dulls(o.card_from_white, table)
    to_white = cm.ciede2000(*o.result, *o.on_white, xp) if coloured else 0.0
    to_card = cm.ciede2000(*o.result, *o.card, xp) if coloured > 0.5 else None
    # White laid below is a ground for what comes over it: nobody wants it to show.
    shows = [there & (1 - ground) for there, ground in zip(o.present, grounds(o, table, xp), strict=True)]
    nearest, showing_nearest, farthest, showing_farthest = np.inf, np.inf, 0.0, 0.0
    for distance, there, showing in zip(to_parents, o.present, shows, strict=True):
        nearest = xp.minimum(nearest, xp.where(there, distance, np.inf))
        farthest = xp.maximum(farthest, xp.where(there, distance, 0.0))
        showing_nearest = xp.minimum(showing_nearest, xp.where(showing, distance, np.inf))
        showing_farthest = xp.maximum(showing_farthest, xp.where(showing, distance, 0.0))
    showing_several = sum(shows) > 1
    # One ink alone is its own parent: what is new about it is what the card did.
    found = mud(o.result, o.on_white, promise, xp.where(several, nearest, to_white), coloured, table, xp)
    muddiness = spare(found.mud, o.result, o.wanted, table)

    same, other, share = table["verdict.same"], table["verdict.other"], table["verdict.muted"]
    no_new = showing_several & (showing_farthest <= same)
    swamped = showing_several & (showing_nearest <= same) & (showing_farthest > other)
    muted = several & (found.chroma_white < share * promise.chroma) & (promise.chroma > 6)
    if to_card is not None:
        at_card = to_card <= same
        no_new |= (several == 0) & (to_white <= same) & at_card
        swamped |= at_card & (xp.where(several, farthest, to_white) > other)
        muted |= (found.along < share * found.chroma_white) & (found.chroma_white > 6)
    kind = xp.where(muddiness >= mud_line, 2, xp.where(no_new, 4, xp.where(swamped, 3, xp.where(muted, 1, 0))))
    return Judgement(
        kind, muddiness, found.mixing_loss, found.card_loss, to_parents, found.mud - muddiness, to_card, promise
    )


def grounds(o: Overlaps, table: Mapping[str, float], xp: Any = np) -> list[Value]:
    """Which parents are a ground: white, and below all others; such as a barrier."""
    if not o.lowest:
        return [o.present[0] & False] * len(o.present) if o.present else []
    light, dull = table["ground.light"], table["ground.chroma"]
    return [
        low & (lightness > light) & (xp.sqrt(a * a + b * b) < dull)
        for (lightness, a, b), low in zip(o.parents_on_white, o.lowest, strict=True)
    ]


def bare() -> Judgement:
    """The verdict on a card without ink: clean, mud 0."""
    return Judgement(0, 0.0, 0.0, 0.0, (), 0.0, None, None)
