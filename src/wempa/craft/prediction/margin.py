"""How far a prediction can be trusted.

Each way in which inks and card are imperfectly known moves the predicted colour;
the moves, one per source and one standard deviation long, add up to a covariance.
The margin is the radius, in ΔE00 around the prediction, that holds the truth about
two times in three.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache, lru_cache
from math import erf, exp, hypot, prod, sqrt

import numpy as np

from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Floats
from wempa.optics.records import record

from .batches import Moved
from .mud import Strays
from .prepared import PreparedCard, PreparedInk
from .rows import BatchRow

# Standard normal quantile of 2/3.
_Z = 0.4307
_CARD_VARIANTS = (2, 3, 4)
DRAWS = 32
_SMOOTH = 2.0


@record
class Sources:
    """All doubts of one stack; each is one row, or a row up and a row down."""

    moved: Moved
    steps: Floats
    """How each doubt's step follows from the moved rows, (doubts, rows)."""
    model: float
    """Standard deviation per axis, in ΔE00, of what the model itself misses."""
    scale: float = 1.0
    """A factor on the whole margin, learned from logged swatches."""


@record
class Around:
    """What the doubts do to the colour."""

    radius: float
    """ΔE00 that holds the truth about two times in three."""
    strays: Strays
    """The prediction, followed by `DRAWS` results that are equally likely."""


@cache
def _draws() -> Floats:
    """No step, and behind it `DRAWS` standard normal vectors, each with its opposite, (3, 1 + DRAWS)."""
    half = np.random.default_rng(20200520).standard_normal((DRAWS // 2, 3)).T
    return np.concatenate([np.zeros((3, 1)), half, -half], axis=1)


def doubt_sources(
    row: BatchRow,
    hands: Mapping[int, float],
    inks: Sequence[PreparedInk],
    card: PreparedCard,
    table: Mapping[str, float],
    variants: int,
) -> Sources:
    """The doubts of a resolved stack: doses, ink colours, scatter, take-up, card, model.

    `hands` is what the hand does to each ink, by its row (`hand.hand_doubts`).
    """
    moved, steps = _moves(
        tuple([part.ink for part in row.parts]),
        tuple([part.group for part in row.parts]),
        tuple(
            [
                # Rounded, so that a small change of amounts does not need a new plan of the batch.
                (ink.dose_doubt, round(hands.get(variants * i, 0.0), 3), ink.colour_doubt, ink.scatter_doubt)
                for i, ink in enumerate(inks)
            ]
        ),
        0.0 if card.takeup_known else table["margin.takeup"] / card.ground.takeup,
        variants,
    )

    # What the model itself misses: hardly anything for a swatch on its own card,
    # what the measured overprints show once another layer is as strong as the first.
    by_group: dict[int, float] = {}
    for part in row.parts:
        by_group[part.group] = by_group.get(part.group, 0.0) + part.dose
    doses = by_group.values()
    overlapped = min(1.0, sum(doses) - max(doses)) if doses else 0.0
    laid = min(1.0, sum(doses))
    parts = (
        table["margin.own_card"],
        table["margin.other_card"] * laid,
        table["margin.layers"] * overlapped,
        table["margin.treatment"] * sqrt(row.treatments),
    )
    # Mean radius of an isotropic normal in three dimensions is 1.596 sigma.
    return Sources(moved, steps, sqrt(sum(p * p for p in parts)) / 1.596, table["margin.scale"])


@lru_cache(1024)
def _moves(
    owners: tuple[int, ...],
    groups: tuple[int, ...],
    doubts: tuple[tuple[float, float, bool, bool], ...],
    takeup: float,
    variants: int,
) -> tuple[Moved, Floats]:
    """How each doubt moves the parts: it depends on who is where, not on how much."""
    width = len(owners)
    factors: list[list[float]] = []
    swaps: list[list[int]] = []
    cards: list[int] = []
    bares: list[list[float]] = []
    pairs: list[int] = []
    singles: list[int] = []

    def add(*rows: tuple[list[float] | None, list[int] | None, int], bare: Sequence[list[float]] = ()) -> None:
        (pairs if len(rows) == 2 else singles).append(len(cards))
        for k, (factor, swap, card) in enumerate(rows):
            bares.append(bare[k] if bare else [1.0] * width)
            factors.append(factor or [1.0] * width)
            swaps.append(swap or [0] * width)
            cards.append(card)

    def both(on: Sequence[bool], factor: float, reach: float = 1.0) -> None:
        up, down, more, less = ([each if yes else 1.0 for yes in on] for each in (factor, 1 / factor, reach, 1 / reach))
        add((up, None, 0), (down, None, 0), bare=(more, less))

    for i, (dose, hand, colour, scatter) in enumerate(doubts):
        own = [owner == variants * i for owner in owners]
        if not any(own):
            continue
        # More of it by hand also covers more; more of it behind the swatch does not.
        both(own, exp(hypot(dose, hand)), exp(hand))
        swapped = [[v if yes else 0 for yes in own] for v in range(variants)]
        if colour:
            for v in (1, 2, 3):
                add((None, swapped[v], 0))
        if scatter:
            add((None, swapped[4], 0), (None, swapped[5], 0))
    later = [group > 0 for group in groups]
    if any(later) and takeup:
        both(later, 1 + takeup)
    for v in _CARD_VARIANTS:
        add((None, None, v))
    # Half the way from down to up; or, of a single row, the whole way from the prediction to it.
    steps = np.zeros((len(pairs) + len(singles), len(cards)))
    for k, row in enumerate(pairs):
        steps[k, row : row + 2] = 0.5, -0.5
    for k, row in enumerate(singles, len(pairs)):
        steps[k, row] = 1
    return _by_layer(owners, groups, factors, swaps, bares, cards), steps


def _by_layer(
    owners: tuple[int, ...],
    groups: tuple[int, ...],
    factors: list[list[float]],
    swaps: list[list[int]],
    bares: list[list[float]],
    cards: list[int],
) -> Moved:
    """Moves of parts as moves of layers; a layer that no doubt touches is not made again."""
    numbers = sorted(set(groups))
    members = [[p for p, group in enumerate(groups) if group == number] for number in numbers]
    width = max([len(parts) for parts in members], default=0)
    layer = np.tile(np.arange(len(numbers)), (len(cards), 1))
    origin: list[int] = []
    factor: list[list[float]] = []
    variant: list[list[int]] = []
    bare: list[float] = []
    for d, (by, swap, reach) in enumerate(zip(factors, swaps, bares, strict=True)):
        for g, parts in enumerate(members):
            if any(by[p] != 1 or swap[p] for p in parts):
                layer[d, g] = len(numbers) + len(origin)
                origin.append(g)
                factor.append([by[p] for p in parts] + [1.0] * (width - len(parts)))
                variant.append([swap[p] for p in parts] + [0] * (width - len(parts)))
                bare.append(prod([reach[p] for p in parts]) ** (1 / len(parts)))
    inks = list(dict.fromkeys(owners))
    owned = np.array([[owner == ink for ink in inks] for owner in owners], dtype=np.float64)
    return Moved(
        layer=layer,
        origin=np.array(origin, dtype=np.intp),
        factors=np.array(factor, dtype=np.float64).reshape(len(origin), width),
        variants=np.array(variant, dtype=np.intp).reshape(len(origin), width),
        bare=np.array(bare),
        totals=np.array(factors).reshape(len(cards), -1, 1) * owned.reshape(1, len(owners), len(inks)),
        cards=np.array(cards, dtype=np.intp),
    )


def spread(base: Floats, moved: Floats, doubts: Sources) -> Around:
    """Covariance of the result, as a radius and as drawn results.

    `base` is CIELAB (3,), `moved` (rows, 3) in the order of `doubts`.
    """
    metric, inverse = local_metric(*[round(v, 1) for v in base.tolist()])
    steps, own = doubts.steps @ (moved - base), inverse * doubts.model
    covariance = doubts.scale**2 * (steps.T @ steps + own @ own.T)
    (xx, xy, xz), (_, yy, yz), (_, _, zz) = (metric @ covariance @ metric.T).tolist()
    # Quantile of a weighted sum of chi-squares: match two moments (Satterthwaite
    # 1946), then Wilson and Hilferty 1931.
    trace, square = xx + yy + zz, xx * xx + yy * yy + zz * zz + 2 * (xy * xy + xz * xz + yz * yz)
    freedom = trace * trace / max(square, 1e-18)
    inner = 2 / (9 * freedom)
    quantile = square / max(trace, 1e-18) * freedom * (1 - inner + _Z * sqrt(inner)) ** 3
    return Around(sqrt(max(quantile, 0.0)), Strays(_root(covariance.tolist()) @ _draws(), metric))


def _root(covariance: list[list[float]]) -> Floats:
    """Cholesky factor of a covariance (3, 3): lower triangle L with L·Lᵀ the covariance."""
    (xx, xy, xz), (_, yy, yz), (_, _, zz) = covariance
    least = 1e-12
    a = sqrt(max(xx, least))
    b, c = xy / a, xz / a
    d = sqrt(max(yy - b * b, least))
    e = (yz - b * c) / d
    return np.array([[a, 0.0, 0.0], [b, d, 0.0], [c, e, sqrt(max(zz - c * c - e * e, least))]])


def mud_chance(places: Sequence[tuple[float, Floats]], line: float) -> float:
    """Chance (0–1) that the mud of one overlap is at or above the line.

    `places` are its patches: their shares of the area, and the mud of what each may come to
    (`Judgement.strayed`), (DRAWS,). The mean by share counts: they move as the whole does.

    Mud bends sharply, so its chance comes from drawn colours and not from a slope; each
    draw counts as a narrow normal, so that the chance moves smoothly.
    """
    (first, muds), *others = places
    if others:
        muds = sum([share * strayed for share, strayed in others], first * muds)
    scaled = ((muds - line) * (1 / (_SMOOTH * sqrt(2)))).tolist()
    return 0.5 + 0.5 * sum(map(erf, scaled)) / len(scaled)
