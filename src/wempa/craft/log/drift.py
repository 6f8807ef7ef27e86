"""Inks whose newer swatches lie off their older ones: a pad that dries out, was re-inked, or has changed."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from wempa.craft.job import Job, used_inks
from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Floats

from .knobs import RADIUS
from .learning import Fit, seen_lab
from .observations import Observation, believed_of
from .supposed import Bench, Supposed

# Swatches at each side of the change, at least.
_FEWEST = 2
_MORE = 1.15


class Drifted(StrEnum):
    """How an ink has changed."""

    PALER = "paler"
    STRONGER = "stronger"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class Drift:
    """An ink that is not what it was."""

    key: str
    how: Drifted
    factor: float
    """What its newer swatches come to, over the older ones."""
    turned: float
    """ΔE00 between newer and older ones that no amount explains."""
    since: int
    """Which observation it begins with."""
    sure: float
    """How many standard deviations it is."""
    text: str


def drifts(
    observations: Sequence[Observation],
    table: Mapping[str, float],
    names: Mapping[str, str],
) -> list[Drift]:
    """Inks that have changed, by observations in the order of laying; each ink's by its own alone.

    Of each swatch the amount of an ink that would explain it best is compared between
    older and newer ones, and what is left over of the colour as well (a two-sample test at
    the split that shows most; the first and last swatches are never alone).
    """
    alone: dict[str, list[int]] = {}
    for n, one in enumerate(observations):
        # Swatches of an ink alone say most; where it lies under or over others, its share cannot be told.
        if not one.wet() and not one.drops and len(inks := used_inks(one.job)) == 1:
            alone.setdefault(inks[0], []).append(n)
    often = {key: places for key, places in alone.items() if len(places) >= 2 * _FEWEST}
    seen = {n: observations[n] for places in often.values() for n in places}
    if not seen:
        return []
    believed = believed_of([one.job for one in seen.values()])
    now = Supposed.of(believed, next(iter(seen.values())).job.constants)
    bench = Bench(believed)
    base = dict(zip(seen, bench.labs([(one, now) for one in seen.values()]), strict=True))
    found = []
    for key, places in often.items():
        drift = _drift(key, [seen[n] for n in places], [base[n] for n in places], bench, now, table, names)
        found += [replace(drift, since=places[drift.since])] if drift is not None else []
    return found


def _drift(
    key: str,
    own: Sequence[Observation],
    base: Sequence[Floats],
    bench: Bench,
    now: Supposed,
    table: Mapping[str, float],
    names: Mapping[str, str],
) -> Drift | None:
    ink = now.inks[key]
    strength = 1.0 if ink.strength is None else ink.strength
    stronger = replace(now, inks={**now.inks, key: replace(ink, strength=min(5.0, strength * _MORE))})
    more = bench.labs([(one, stronger) for one in own])
    amounts, left, spreads = [], [], []
    for one, plain, deeper in zip(own, base, more, strict=True):
        lab = seen_lab(one)
        metric, _ = local_metric(*lab.tolist())
        off, way = metric @ (lab - plain), metric @ (deeper - plain) / np.log(_MORE)
        long = float(way @ way)
        amount = float(way @ off) / (long + 1.0)
        amounts.append(amount)
        left.append(off - amount * way)
        own_spread = np.hypot(one.spread, table["learn.model"]) / RADIUS
        spreads.append(float(np.hypot(np.log(table["learn.hand_again"]), own_spread / max(np.sqrt(long), 0.5))))
    best: tuple[float, int, float, float, float] | None = None
    for split in range(_FEWEST, len(own) - _FEWEST + 1):
        old, new = slice(0, split), slice(split, None)
        gap = float(np.mean(amounts[new]) - np.mean(amounts[old]))
        parts = [np.mean(np.square(spreads[part])) / len(spreads[part]) for part in (old, new)]
        noise = float(np.sqrt(sum(parts)))
        turn = float(np.linalg.norm(np.mean(left[new], axis=0) - np.mean(left[old], axis=0)))
        reading = float(np.mean([one.spread for one in own])) * np.sqrt(1 / split + 1 / (len(own) - split))
        sure = max(abs(gap) / noise, turn / max(reading, 0.3))
        if best is None or sure > best[0]:
            best = sure, split, gap, turn, abs(gap) / noise
    assert best is not None
    sure, split, gap, turn, by_amount = best
    if sure < table["drift.sure"]:
        return None
    name = names.get(key, key)
    if by_amount >= table["drift.sure"] and abs(np.expm1(gap)) >= table["drift.amount"]:
        how = Drifted.STRONGER if gap > 0 else Drifted.PALER
        text = (
            f"{name} comes out stronger than it used to: a pad that was re-inked floods at first. "
            "Dab it off, and note the day you re-inked it."
            if gap > 0
            else f"{name} comes out paler than it used to: the pad may be drying out. Re-ink it, or stamp a fresh "
            "swatch and read it again."
        )
    elif turn >= table["drift.turned"]:
        how = Drifted.OTHER
        text = (
            f"{name} has another colour than it used to: it may have faded, or picked up another ink. "
            "Clean the pad's surface and read a fresh swatch."
        )
    else:
        return None
    return Drift(key, how, float(np.exp(gap)), turn, split, sure, text)


def after_drift(job: Job, laid_on: str, since: Mapping[str, str]) -> str:
    """Why nothing is learned from a swatch of an ink that has changed; empty where it is sound.

    `laid_on` is the day of the swatch, as ISO 8601, empty if nobody knows. `since` says from which day
    on an ink is another, by its key. The first swatch of the changed ink was laid on that very day.
    """
    if not laid_on:
        return ""
    for key, ink in job.inks:
        if key in since and laid_on >= since[key]:
            return f"{ink.name or 'Its ink'} has changed since; see to its pad first."
    return ""


def less_sure(fit: Fit, drifting: Collection[str], table: Mapping[str, float]) -> Fit:
    """What was learned, with more doubt about the colours of inks that have changed since."""
    inks = dict(fit.world.inks)
    for key in [key for key in drifting if key in inks]:
        swatch = inks[key].swatch
        own = table[f"known.{swatch.known}.spread"] if swatch.spread is None else swatch.spread
        doubtful = round(float(np.hypot(own, table["drift.spread"])), 2)
        inks[key] = replace(inks[key], swatch=replace(swatch, spread=doubtful))
    return replace(fit, world=replace(fit.world, inks=inks))
