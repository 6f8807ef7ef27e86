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
    """A batch of b overlaps of up to p inks, all CIELAB under one light."""

    result: Floats
    """(b, 3), the dry look on the card."""
    on_white: Floats
    """(b, 3), the same lay-downs on white card of the same surface."""
    parents: Floats
    """(b, p, 3), each ink alone, same dose, same card."""
    parents_on_white: Floats
    """(b, p, 3)."""
    present: Bools
    """(b, p), False where padded."""
    card: Floats
    """(b, 3)."""
    card_from_white: float
    """ΔE00 between the card and white card of the same surface."""
    wanted: Floats | None = None
    """(w, 3), colours of inks that the user owns or asked for: never mud."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """What was found, arrays (b,)."""

    kind: Floats
    """Index into `KINDS`."""
    mud: Floats
    """0–100."""
    loss: Floats
    """Share of the promised chroma lost, 0–1, by mixing and by the card together."""
    mixing_loss: Floats
    card_loss: Floats
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


def clean_between(parents: Floats, present: Bools) -> tuple[Floats, Floats]:
    """Chroma and painter's hue that the parents promise, each (b,).

    The hue is the mean along the shorter way round, weighted by chroma so that a
    grey has no say in it; the chroma is the plain mean, so that a grey mixed in on
    purpose lowers what is promised.
    """
    chroma = np.where(present, np.hypot(parents[..., 1], parents[..., 2]), 0.0)
    count = np.maximum(present.sum(axis=1), 1)
    angle = np.radians(painter_hue(parents))
    x, y = (chroma * np.cos(angle)).sum(axis=1), (chroma * np.sin(angle)).sum(axis=1)
    return chroma.sum(axis=1) / count, np.degrees(np.arctan2(y, x)) % 360


def _ramp(value: Floats, start: float | Floats, stop: float | Floats) -> Floats:
    """Smooth step from 0 at `start` to 1 at `stop`."""
    t = np.minimum(np.maximum((value - start) / (stop - start), 0.0), 1.0)
    return np.asarray(t * t * (3 - 2 * t))


def mud_region(lab: Floats, table: Mapping[str, float]) -> Floats:
    """Closeness of CIELAB (..., 3) to the dull brown, olive and grey of mud, 0–1.

    Low to middle lightness, and dull for its hue: a brown may keep more chroma
    than a grey-green or a grey-violet before it stops being mud. Black is not mud.
    """
    lightness, chroma, hue = np.moveaxis(cm.lch(lab), -1, 0)
    brown = _ramp(hue, 5, 40) * (1 - _ramp(hue, 112, 140))
    grey, most = table["mud.grey_chroma"], table["mud.brown_chroma"]
    edge = grey + (most - grey) * brown
    dull = 1 - _ramp(chroma, 0.3 * edge, edge)
    low = 1 - _ramp(lightness, table["mud.light_from"], table["mud.light_to"])
    return np.asarray(dull * low * _ramp(lightness, 10, 24))


def judge(overlaps: Overlaps, mud_line: float, table: Mapping[str, float]) -> Judgement:
    """Verdict and mud of each overlap (DESIGN section 5).

    Mud needs both chroma lost against the promise and closeness to the mud
    region, and a colour that no parent is by itself. `mud_line` decides the kind
    only, never the mud figure.
    """
    o = overlaps
    several = o.present.sum(axis=1) > 1
    chroma_white = np.hypot(o.on_white[:, 1], o.on_white[:, 2])
    promised, hue = clean_between(o.parents_on_white, o.present)

    mixing = np.where(several, 1 - chroma_white / np.maximum(promised, 1e-6), 0.0)
    mixing = np.clip(mixing, 0, 1) * _ramp(promised, 2, 10)
    # On coloured card: what of the colour on white is left, along its own hue.
    along = (o.result[:, 1] * o.on_white[:, 1] + o.result[:, 2] * o.on_white[:, 2]) / np.maximum(chroma_white, 1e-6)
    dulls = _ramp(np.array(o.card_from_white), 3, 12)
    card = np.clip(1 - along / np.maximum(chroma_white, 1e-6), 0, 1) * _ramp(chroma_white, 2, 10) * dulls
    loss = 1 - (1 - mixing) * (1 - card)

    # One call for all distances: to each parent, to the card, to the same on white.
    count = o.parents.shape[1]
    others = np.concatenate([o.parents, np.broadcast_to(o.card, o.result.shape)[:, None], o.on_white[:, None]], axis=1)
    distance = cm.delta_e(o.result[:, None], others)
    to_parents, to_card, to_white = distance[:, :count], distance[:, count], distance[:, count + 1]
    nearest = np.where(o.present, to_parents, np.inf).min(axis=1, initial=np.inf)
    farthest = np.where(o.present, to_parents, -np.inf).max(axis=1, initial=-np.inf)
    same, other = table["verdict.same"], table["verdict.other"]

    region = mud_region(o.result, table)
    # One ink alone is its own parent: what is new about it is what the card did.
    novel = np.where(several, nearest, to_white)
    new = _ramp(novel, same * 0.5, same * 1.5)
    by_mixing = _ramp(mixing, table["mud.mixing_from"], table["mud.mixing_to"])
    by_card = _ramp(card, table["mud.card_from"], table["mud.card_to"])
    mud = 100 * (1 - (1 - by_mixing) * (1 - by_card)) * region * new
    if o.wanted is not None and len(o.wanted):
        mud = mud * _ramp(cm.delta_e(o.result[:, None], o.wanted[None]).min(axis=1), same, same * 1.5)

    coloured = dulls > 0.5
    muddy = mud >= mud_line
    no_new = np.where(several, farthest <= same, coloured & (to_white <= same) & (to_card <= same))
    by_ink = several & (nearest <= same) & (farthest > other)
    swallowed = coloured & (to_card <= same) & (np.where(several, farthest, to_white) > other)
    dull_against_ink = several & (chroma_white < table["verdict.muted"] * promised) & (promised > 6)
    dull_against_card = coloured & (along < table["verdict.muted"] * chroma_white) & (chroma_white > 6)
    has_ink = o.present.any(axis=1)
    kind = np.select(
        [
            ~has_ink,
            muddy,
            no_new,
            by_ink | swallowed,
            dull_against_ink | dull_against_card,
        ],
        [0, 2, 4, 3, 1],
        0,
    )
    return Judgement(
        kind=kind,
        mud=np.where(has_ink, mud, 0.0),
        loss=loss,
        mixing_loss=mixing,
        card_loss=card,
        promised_chroma=promised,
        promised_hue=hue,
        region=region,
        to_parents=to_parents,
        to_card=to_card,
    )
