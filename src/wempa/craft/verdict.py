"""The verdict on an overlap: what was promised, what came, and is it mud.

Works on batches; nothing in it knows where the colours come from. The promise is
the clean in-between on the painter's circle, where yellow and blue make green.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats

from .words import VerdictKind

# CIELAB hue of the painter's red, orange, yellow, green, blue and purple.
_CIELAB_HUE = np.array([30.0, 65.0, 95.0, 150.0, 270.0, 320.0, 390.0])
_PAINTER_HUE = np.array([0.0, 60.0, 120.0, 180.0, 240.0, 300.0, 360.0])
KINDS = (
    VerdictKind.CLEAN,
    VerdictKind.MUTED,
    VerdictKind.MUDDY,
    VerdictKind.SWAMPED,
    VerdictKind.NO_NEW_COLOUR,
)


@dataclass(frozen=True, slots=True)
class Overlaps:
    """A batch of b overlaps of up to p inks, all CIELAB under one light.

    Parents, presence and card may have one row for all.
    """

    result: Floats
    """(b, 3), the dry look on the card."""
    on_white: Floats
    """(b, 3), the same lay-downs on white card of the same surface."""
    parents: Floats
    """(b, p, 3), p >= 1, each ink alone, same dose, same card."""
    parents_on_white: Floats
    """(b, p, 3)."""
    present: Bools
    """(b, p), False where padded."""
    card: Floats
    """(b, 3) or (3,)."""
    card_from_white: Floats
    """() or (b,), ΔE00 between the card and white card of the same surface."""
    wanted: Floats | None = None
    """(w, 3), colours of inks that the user owns or asked for: never mud."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """What was found, arrays (b,)."""

    kind: Floats
    """Index into `KINDS`."""
    mud: Floats
    """0–100."""
    mixing_loss: Floats
    """Share of the promised chroma that mixing costs, 0–1."""
    card_loss: Floats
    """Share of the colour on white that the card costs, 0–1."""
    promised_chroma: Floats
    promised_hue: Floats
    """Painter's hue, 0–360°."""
    region: Floats
    """Closeness to the dark brown–olive–grey region, 0–1."""
    to_parents: Floats
    """ΔE00 to each parent, (b, p)."""
    to_card: Floats


def painter_hue(lab: Floats) -> Floats:
    """Hue on the painter's circle, 0–360°, of CIELAB (..., 3).

    CIELAB hue bent piecewise linearly so that red is 0°, yellow 120° and blue 240°.
    """
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    hue = np.where(hue < _CIELAB_HUE[0], hue + 360, hue)
    return np.asarray(np.interp(hue, _CIELAB_HUE, _PAINTER_HUE) % 360)


def cielab_hue(painter: Floats) -> Floats:
    """CIELAB hue angle of a painter's hue; the inverse of `painter_hue`."""
    return np.asarray(np.interp(painter % 360, _PAINTER_HUE, _CIELAB_HUE) % 360)


def clean_between(parents: Floats, present: Bools) -> tuple[Floats, Floats, Floats]:
    """Chroma and painter's hue that the parents promise, and how far they agree, each (b,).

    The hue is the mean along the shorter way round, weighted by chroma so that a
    grey has no say in it; the chroma is the plain mean, so that a grey mixed in on
    purpose lowers what is promised. Agreement is the length of the mean hue vector
    against that of its parts: 1 for one hue, or one hue with greys and blacks, about
    0.5 for two primaries, 0 for equal opposites.
    """
    a, b = parents[..., 1], parents[..., 2]
    chroma = np.sqrt(a * a + b * b) * present
    angle = np.radians(painter_hue(parents))
    x, y = (chroma * np.cos(angle)).sum(axis=1), (chroma * np.sin(angle)).sum(axis=1)
    total = chroma.sum(axis=1)
    agreement = np.sqrt(x * x + y * y) / np.maximum(total, 1e-6)
    return total / np.maximum(present.sum(axis=1), 1), np.degrees(np.arctan2(y, x)) % 360, agreement


def _ramp(value: Floats, start: float | Floats, stop: float | Floats) -> Floats:
    """Smooth step from 0 at `start` to 1 at `stop`."""
    t = np.minimum(np.maximum((value - start) / (stop - start), 0.0), 1.0)
    return np.asarray(t * t * (3 - 2 * t))


def judge(overlaps: Overlaps, mud_line: float, table: Mapping[str, float]) -> Judgement:
    """Verdict and mud of each overlap (DESIGN section 5).

    Mud needs both chroma lost against the promise and closeness to the mud
    region, and a colour that no parent is by itself. `mud_line` decides the kind
    only, never the mud figure.

    Mixing makes mud only as far as the parents' hues pull apart, the card as far as
    it takes the colour out. The mud region is dull brown, olive and grey of low to
    middle lightness: a brown may keep more chroma than a grey-green or a grey-violet
    before it stops being mud. Black is not mud.
    """
    o = overlaps
    count = o.parents.shape[1]
    inks = o.present.sum(axis=1)
    several, has_ink = inks > 1, inks > 0
    a, b, wa, wb = o.result[:, 1], o.result[:, 2], o.on_white[:, 1], o.on_white[:, 2]
    chroma_white = np.maximum(np.sqrt(wa * wa + wb * wb), 1e-6)
    promised, promised_hue, agreement = clean_between(o.parents_on_white, o.present)
    mixing = np.maximum(1 - chroma_white / np.maximum(promised, 1e-6), 0.0) * (several * _ramp(promised, 2, 10))
    # On coloured card: what of the colour on white is left, along its own hue.
    along = (a * wa + b * wb) / chroma_white
    dulls = _ramp(o.card_from_white, table["verdict.card_from"], table["verdict.card_to"])
    card = np.minimum(np.maximum(1 - along / chroma_white, 0.0), 1.0) * (_ramp(chroma_white, 2, 10) * dulls)

    # One call for all distances: to each parent, to the card, to the same on white.
    others = np.empty((len(o.result), count + 2, 3))
    others[:, :count], others[:, count], others[:, count + 1] = o.parents, o.card, o.on_white
    distance = cm.delta_e(o.result[:, None], others)
    to_parents, to_card, to_white = distance[:, :count], distance[:, count], distance[:, count + 1]
    nearest = np.where(o.present, to_parents, np.inf).min(axis=1)
    farthest = np.where(o.present, to_parents, -np.inf).max(axis=1)
    same, other = table["verdict.same"], table["verdict.other"]

    hue = np.degrees(np.arctan2(b, a)) % 360
    light = o.result[:, 0]
    # One ink alone is its own parent: what is new about it is what the card did.
    novel = np.where(several, nearest, to_white)
    limits = np.array(
        [
            (5, 40),
            (140, 112),
            (table["mud.light_to"], table["mud.light_from"]),
            (table["mud.dark_from"], table["mud.dark_to"]),
            (same * 0.5, same * 1.5),
            (table["mud.card_from"], table["mud.card_to"]),
        ]
    )
    reddish, not_green, low, not_black, new, by_card = _ramp(
        np.array([hue, hue, light, light, novel, card]), limits[:, :1], limits[:, 1:]
    )
    # Colour lost to a grey, a black or a neighbour was given up on purpose; only hues
    # that pull apart make mud. Between opposites nothing is promised at all: less need
    # be lost there, and a dull green, violet or rust is mud too.
    opposed = 1 - _ramp(agreement, table["mud.opposed_from"], table["mud.opposed_to"])
    lost = (mixing - table["mud.mixing_from"] + table["mud.opposed_loss"] * opposed) / (
        table["mud.mixing_to"] - table["mud.mixing_from"]
    )
    by_mixing = _ramp(lost, 0, 1) * (1 - _ramp(agreement, table["mud.agree_from"], table["mud.agree_to"]))
    most = table["mud.brown_chroma"] * (1 + table["mud.opposed_brown"] * opposed)
    grey = table["mud.grey_chroma"] * (1 + table["mud.opposed_grey"] * opposed)
    edge = grey + (most - grey) * (reddish * not_green)
    region = _ramp(np.sqrt(a * a + b * b), edge, 0.3 * edge) * low * not_black
    mud = 100 * (1 - (1 - by_mixing) * (1 - by_card)) * region * new * has_ink
    if o.wanted is not None and len(o.wanted):
        mud = mud * _ramp(cm.delta_e(o.result[:, None], o.wanted[None]).min(axis=1), same, same * 1.5)

    coloured = dulls > 0.5
    no_new = np.where(several, farthest <= same, coloured & (to_white <= same) & (to_card <= same))
    swamped = several & (nearest <= same) & (farthest > other)
    swamped |= coloured & (to_card <= same) & (np.where(several, farthest, to_white) > other)
    share = table["verdict.muted"]
    muted = several & (chroma_white < share * promised) & (promised > 6)
    muted |= coloured & (along < share * chroma_white) & (chroma_white > 6)
    kind = np.where(mud >= mud_line, 2, np.where(no_new, 4, np.where(swamped, 3, np.where(muted, 1, 0))))
    return Judgement(
        kind=kind * has_ink,
        mud=mud,
        mixing_loss=mixing,
        card_loss=card,
        promised_chroma=promised,
        promised_hue=promised_hue,
        region=region,
        to_parents=to_parents,
        to_card=to_card,
    )
