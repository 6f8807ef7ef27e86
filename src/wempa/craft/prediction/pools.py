"""What soaks in shares what there is room for: the card's, and on every film a pool of its own.

Dyes laid by hand re-wet one another. What a card holds of them together does not depend
on their order, and when it is full each gives way to the others, the weaker ones more.
A dye that comes over a film lies on that and not in the card; a breath of film is not
closed yet, so two dyes share by how little film lies between them.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from math import log, sqrt
from typing import Any

import numpy as np

from wempa.optics.grid import Bools
from wempa.optics.namespace import SCALAR, Value, ramp
from wempa.optics.records import record

from .amounts import KNEE, Ground, card_capacity, held

# The most steps of Newton's method, and how near the sum must come. It converges from one side, in three or four
# steps.
_STEPS, _NEAR = 40, 1e-12


@record
class Soaking:
    """One ink's offer to what it soaks into; floats, or arrays (b,)."""

    offer: Value
    """Pad impressions, >= 0."""
    gives_way: Value
    """How readily it gives way on a full card, > 0: `gives_way` of its strength."""
    film: Value
    """Dose of film between it and the card, >= 0."""


def gives_way(absorption: float, amount: float) -> float:
    """How readily an ink gives way to others where there is no room for all: the root of 1 over its strength.

    `absorption` is its mean K at dose 1, `amount` the pad impressions behind that. With the
    plain inverse a second colour would not show on gloss at all, with none a pale ink
    would wash a black out.
    """
    return sqrt(amount / max(absorption, 1e-6))


def closed(film: Value, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
    """How far a film of such a dose keeps what is on it from what is below, 0–1."""
    return ramp(film, 0.0, table["film.closes"], xp)


def room(film: Value, ground: Ground, table: Mapping[str, float], xp: Any = SCALAR) -> Value:
    """The pad impressions at which a dye finds no more room, over so much film."""
    card = card_capacity(ground, table)
    return card + (table["capacity.on_film"] - card) * closed(film, table, xp)


def crowded(offers: Value, full: Value) -> Value:
    """Whether offers of so much together leave too little room for one another."""
    return offers > KNEE * full


def fair_shares(offers: Sequence[Value], ways: Sequence[Value], full: Value, xp: Any = SCALAR) -> list[Value]:
    """Share of each offer that stays in one pool, 0–1, whatever the order.

    Together they hold what `held` says; of each stays exp(−λ·g) with g how readily it gives
    way and one λ for all.
    """
    total = sum(offers)
    stays = held(total, full, xp)
    much: Value = 0.0
    for _ in range(_STEPS):
        left = [xp.exp(-much * way) for way in ways]
        parts = [offer * share for offer, share in zip(offers, left, strict=True)]
        now = sum(parts)
        over = now / xp.maximum(stays, 1e-300)
        # Newton's method works on the logarithm, which is convex and almost straight.
        far = over > 1 + _NEAR
        if not (far if xp is SCALAR else far.any()):
            break
        slope = sum([part * way for part, way in zip(parts, ways, strict=True)])
        much = much + xp.maximum(_log(over, xp), 0.0) * now / xp.maximum(slope, 1e-300)
    return left


def _log(value: Value, xp: Any) -> Value:
    return np.log(np.maximum(value, 1e-300)) if xp is np else log(max(value, 1e-300))


def stays(laid: Sequence[Soaking], ground: Ground, table: Mapping[str, float], xp: Any = SCALAR) -> list[Value]:
    """Share of each offer that stays, 0–1, of all that soaks in, bottom first.

    By the ground's `exchange` they share whatever the order; for the rest the first come is
    held first.
    """
    if not laid:
        return []
    smallest = xp.minimum(card_capacity(ground, table), table["capacity.on_film"])
    total = sum([each.offer for each in laid])
    tight = crowded(total, smallest)
    if not (tight if xp is SCALAR else tight.any()):
        return [0 * total + 1.0] * len(laid)
    one_pool = xp is SCALAR and all(low.film == high.film for low, high in pairwise(laid))
    found: list[Value] = []
    ways = [each.gives_way for each in laid]
    together: list[Value] = []
    for k, own in enumerate(laid):
        full = room(own.film, ground, table, xp)
        offers = [
            each.offer * (1 - closed(abs(each.film - own.film), table, xp)) if each is not own else each.offer
            for each in laid
        ]
        if not (one_pool and together):
            together = fair_shares(offers, ways, full, xp)
        fair = together[k]
        if ground.exchange < 1:
            before = sum(offers[:k])
            first = (held(before + own.offer, full, xp) - held(before, full, xp)) / xp.maximum(own.offer, 1e-300)
            fair = ground.exchange * fair + (1 - ground.exchange) * first
        found.append(fair)
    return found


def in_the_way(own: Soaking, others: Sequence[Soaking], ground: Ground, table: Mapping[str, float]) -> Bools:
    """Whether a last offer and some below it may have to share, so that those below change too, (n,)."""
    least = room(own.film, ground, table, np)
    total = own.offer
    for each in others:
        open_to = (each.offer > 0) & (closed(own.film - each.film, table, np) < 1)
        total = total + np.where(open_to, each.offer, 0.0)
        least = np.where(open_to, np.minimum(least, room(each.film, ground, table, np)), least)
    return np.asarray((own.offer > 0) & (total > own.offer) & crowded(total, least))
