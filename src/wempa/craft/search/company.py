"""Good company: inks of a chart that blend one into the next without mud and without a hard line.

A set stands in the order in which its bands would lie on a panel, so only neighbours
meet. Sets are built up ink by ink and the most promising of each length are gone on with
(beam search); what a set is wanted for says which ink may come next and what it gains.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.distinct import told_apart
from wempa.craft.prediction.verdict import MUDDY, SWAMPED
from wempa.craft.vocabulary import Blend
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints

from .chart import Chart

# How many sets of each length are kept, and the greatest length.
_BEAM, _MOST = 48, 7
# A set of few inks for many colours has at most so many inks.
_FEW = 4
Path = tuple[int, ...]
# Families of hue that make a whole rainbow: red, orange, yellow, green, blue, purple.
_SECTORS = 6
_BAD = (MUDDY, SWAMPED)


@dataclass(frozen=True, slots=True, eq=False)
class Company:
    """A set of inks in the order of its bands."""

    inks: tuple[int, ...]
    """Index into the chart's inks; the first stands again at the end where it closes a rainbow."""
    below: tuple[int, ...]
    """For each seam the ink that is laid first."""
    laid: tuple[int, ...]
    """The inks as they are laid: lightest first, but where a seam wants another order."""
    shown: Floats
    """CIELAB of bands and in-betweens as they follow one another, (2·inks − 1, 3)."""
    colours: int
    """How many distinct colours these are."""
    sectors: int
    """Of the six families of hue, how many it shows."""


class Seams:
    """How every two inks of a chart join, in the better order of the two."""

    def __init__(self, chart: Chart, table: Mapping[str, float]) -> None:
        n = len(chart.alone)
        self.alone = chart.alone
        bad = np.isin(chart.kind, _BAD)
        # The order with less mud, and of two equals the paler ink first.
        pale = chart.alone[:, None, 0] >= chart.alone[None, :, 0]
        worth = bad * 1000 + chart.mud + 0.1 * ~pale
        self.upright: Bools = worth <= worth.T
        """Whether the row's ink is laid first, (n, n)."""
        mix = np.where(self.upright[..., None], chart.lab, chart.lab.transpose(1, 0, 2))
        self.mix: Floats = mix
        bad = np.where(self.upright, bad, bad.T)
        half = table["company.seam"] / 2
        steps = cm.delta_e(mix.reshape(-1, 3), np.repeat(chart.alone, n, axis=0)).reshape(n, n)
        self.change: Floats = np.maximum(steps, steps.T) / half
        """The steepest change along the seam, ΔE00 per mm, (n, n)."""
        self.joins: Bools = ~bad & (self.change <= table["seam.hard"]) & ~np.eye(n, dtype=np.bool_)
        self.hue: Floats = np.asarray(painter_hue(chart.alone[:, 1], chart.alone[:, 2]))
        self.chroma: Floats = np.hypot(chart.alone[:, 1], chart.alone[:, 2])
        self.apart = table["company.apart"]
        self.table = table
        self.hued: Bools = self.chroma >= table["colour.hued"]
        """Which inks have a hue to build on, (n,)."""
        self.bright: Bools = self.chroma >= table["colour.bright"]
        """Which count for a rainbow, (n,)."""


def company(seams: Seams, blend: Blend, hero: int | None = None, count: int = 4) -> list[Company]:
    """The best sets of two to seven inks for what is wanted, best first; with `hero` in them if given."""
    if blend is Blend.BRIDGE:
        return _bridges(seams, hero, count)
    found: list[tuple[float, Path]] = []
    starts = [hero] if hero is not None else list(range(len(seams.alone)))
    # An ink that was asked for may be a black or a grey.
    paths: list[tuple[Path, float]] = [((k,), 0.0) for k in starts if blend is Blend.MANY or seams.hued[k] or k == hero]
    for _ in range((_FEW if blend is Blend.MANY else _MOST) - 1):
        paths = _longer(seams, blend, paths)
        found += [(score, path) for path, score in paths]
    if blend is Blend.RAINBOW:
        found = [_closed(seams, score, path) for score, path in found]
    found.sort(key=lambda each: -each[0])
    return [_told(seams, path) for path in _unlike([path for _, path in found], count)]


def fewest_for_rainbow(seams: Seams) -> Company | None:
    """The fewest inks that show all six families of hue one after the other; None if the stash cannot."""
    three = _rainbow_of_three(seams)
    if three is not None:
        return three
    paths: list[tuple[Path, float]] = [((k,), 0.0) for k in np.flatnonzero(seams.bright).tolist()]
    for _ in range(_MOST - 1):
        paths = _longer(seams, Blend.RAINBOW, paths)
        whole = [_told(seams, _closed(seams, score, path)[1]) for path, score in paths]
        whole = [one for one in whole if one.sectors == _SECTORS]
        if whole:
            return max(whole, key=_brightness)
    return None


def _brightness(one: Company) -> float:
    """The least chroma that a set shows."""
    return float(np.hypot(one.shown[:, 1], one.shown[:, 2]).min())


def _rainbow_of_three(seams: Seams) -> Company | None:
    """The brightest three inks that, closed to a ring, show every family of hue; all threes are looked at."""
    own = _sector_bits(seams.alone, seams.table)
    between = _sector_bits(seams.mix.reshape(-1, 3), seams.table).reshape(seams.joins.shape)
    best: Company | None = None
    for a in np.flatnonzero(own).tolist():
        after = np.flatnonzero(seams.joins[a] & (own > 0) & (np.arange(len(own)) > a))
        ring = between[a, after][:, None] | between[a, after][None] | between[np.ix_(after, after)]
        whole = (ring | own[a] | own[after][:, None] | own[after][None]) == (1 << _SECTORS) - 1
        for i, j in np.argwhere(np.triu(whole & seams.joins[np.ix_(after, after)])).tolist():
            one = _told(seams, (a, int(after[i]), int(after[j]), a))
            if best is None or _brightness(one) > _brightness(best):
                best = one
    return best


def _sector_bits(lab: Floats, table: Mapping[str, float]) -> Ints:
    """Which family of hue a bright colour (n, 3) is of, one bit set of six; none for dull ones."""
    sector = np.round(np.asarray(painter_hue(lab[:, 1], lab[:, 2])) / 60).astype(np.intp) % _SECTORS
    return np.where(np.hypot(lab[:, 1], lab[:, 2]) >= table["colour.bright"], 1 << sector, 0)


def _longer(seams: Seams, blend: Blend, paths: list[tuple[Path, float]]) -> list[tuple[Path, float]]:
    """Each set with one ink more at its end, or of a family at its lighter end too, the most promising of them."""
    made, table = [], seams.table
    # A set stands from light to dark, so that an ink it is built round may be any of them.
    both = (True, False) if blend is Blend.FAMILY else (True,)
    for (path, score), onwards in itertools.product(paths, both):
        last = path[-1] if onwards else path[0]
        allowed = seams.joins[last].copy()
        allowed[list(path)] = False
        turned = (seams.hue - seams.hue[last]) % 360
        gain = np.zeros(len(seams.alone))
        if blend is Blend.RAINBOW:
            gone = float(sum((seams.hue[b] - seams.hue[a]) % 360 for a, b in itertools.pairwise(path)))
            allowed &= seams.bright & (turned >= table["company.turn_from"]) & (turned <= table["company.turn_to"])
            allowed &= gone + turned < 360 - table["company.turn_from"]
            # Bright in-betweens; even steps, about a sixth to a quarter of the way round.
            best = table["company.turn_best"]
            gain += np.hypot(seams.mix[last, :, 1], seams.mix[last, :, 2]) / table["company.bright_worth"]
            gain -= np.abs(turned - best) / best
        elif blend is Blend.FAMILY:
            # A black or grey has no hue to keep to.
            hues = [seams.hue[k] for k in path if seams.hued[k]] or [seams.hue]
            around = (seams.hue[None] - np.array(hues).reshape(len(hues), -1) + 180) % 360 - 180
            spread = np.maximum(around.max(axis=0), 0) - np.minimum(around.min(axis=0), 0)
            step = (seams.alone[last, 0] - seams.alone[:, 0]) * (1 if onwards else -1)
            # From light to dark, and as evenly as it goes.
            allowed &= seams.hued & (spread <= table["company.family"]) & (step >= table["company.step_from"])
            gain += 1 - np.abs(step - table["company.step_best"]) / table["company.step_best"]
        candidates = np.flatnonzero(allowed)
        if not len(candidates):
            continue
        gain[candidates] += _new_colours(seams, path, candidates, last)
        if blend is Blend.MANY:
            # Every ink more has to be worth it.
            gain -= table["company.ink_cost"]
            gain += np.minimum(np.hypot(seams.mix[last, :, 1], seams.mix[last, :, 2]), 50) / 100
        made += [((*path, k) if onwards else (k, *path), score + float(gain[k])) for k in candidates.tolist()]
    made.sort(key=lambda each: -each[1])
    # The same inks in another order are no other set to go on with.
    seen: dict[tuple[int, ...], tuple[Path, float]] = {}
    for path, score in made:
        ends = (path[0], path[-1]) if blend is Blend.FAMILY else (path[-1],)
        seen.setdefault((*ends, *sorted(set(path) - set(ends))), (path, score))
        if len(seen) == _BEAM:
            break
    return list(seen.values())


def _new_colours(seams: Seams, path: Path, candidates: Ints, last: int) -> Floats:
    """How many colours apart from those shown each candidate brings beside ink `last`, 0–2, and how far apart."""
    shown = _shown(seams, path)
    count = np.zeros(len(candidates))
    for brought in (seams.mix[last, candidates], seams.alone[candidates]):
        apart = np.stack([cm.delta_e(brought, colour) for colour in shown]).min(axis=0)
        # Well apart is better than just told apart.
        count += (apart >= seams.apart) + seams.table["company.well_apart"] * np.minimum(apart / seams.apart, 3)
    return count


def _closed(seams: Seams, score: float, path: Path) -> tuple[float, Path]:
    """The rainbow with its first ink back at the far end where that joins, and what it is worth then."""
    each, closing = seams.table["company.sector_worth"], seams.table["company.closed_worth"]
    score += each * _sectors(seams, path)
    closes = len(path) > 2 and bool(seams.joins[path[-1], path[0]])
    if not closes:
        return score, path
    whole = (*path, path[0])
    return score + closing + each * (_sectors(seams, whole) - _sectors(seams, path)), whole


def _bridges(seams: Seams, hero: int | None, count: int) -> list[Company]:
    """Two opposites that do not join, held apart by a third that joins both."""
    bright_inks, table = seams.bright, seams.table
    apart = np.abs((seams.hue[:, None] - seams.hue[None] + 180) % 360 - 180)
    opposite = apart >= table["company.opposite"]
    pairs = np.argwhere(opposite & bright_inks[:, None] & bright_inks[None] & ~seams.joins)
    bright = np.hypot(seams.mix[..., 1], seams.mix[..., 2])
    found: list[tuple[float, Path]] = []
    for a, b in pairs[pairs[:, 0] < pairs[:, 1]].tolist():
        worth = np.minimum(bright[a], bright[b]) - table["company.line_cost"] * np.maximum(
            seams.change[a], seams.change[b]
        )
        fits = seams.joins[a] & seams.joins[b]
        if hero is not None and hero not in (a, b):
            fits &= np.arange(len(fits)) == hero
        worth = np.where(fits, worth, -np.inf)
        best = int(np.argmax(worth))
        if fits[best]:
            found.append((float(worth[best]), (a, best, b)))
    found.sort(reverse=True)
    return [_told(seams, path) for path in _unlike([path for _, path in found], count)]


def _unlike(paths: list[Path], count: int) -> list[Path]:
    """The first few that are not all but the same inks."""
    kept: list[Path] = []
    for path in paths:
        own = set(path)
        if all(2 * len(own & set(other)) <= min(len(own), len(set(other))) + 1 for other in kept):
            kept.append(path)
        if len(kept) == count:
            break
    return kept


def _shown(seams: Seams, path: Path) -> Floats:
    """Bands and in-betweens as they follow one another."""
    colours = [seams.alone[path[0]]]
    for a, b in itertools.pairwise(path):
        colours += [seams.mix[a, b], seams.alone[b]]
    return np.array(colours)


def _sectors(seams: Seams, path: Path) -> int:
    """How many of the six families of hue a set shows brightly."""
    return int(np.bitwise_or.reduce(_sector_bits(_shown(seams, path), seams.table))).bit_count()


def _told(seams: Seams, path: Path) -> Company:
    shown = _shown(seams, path)
    below = [a if seams.upright[a, b] else b for a, b in itertools.pairwise(path)]
    laid = _laying(seams, path, below)
    return Company(path, tuple(below), laid, shown, told_apart(shown, seams.apart), _sectors(seams, path))


def _laying(seams: Seams, path: Path, below: list[int]) -> tuple[int, ...]:
    """The inks of a set as they are laid."""
    first = [(low, b if low == a else a) for low, (a, b) in zip(below, itertools.pairwise(path), strict=True)]
    left, order = sorted(set(path), key=lambda k: -float(seams.alone[k, 0])), list[int]()
    while left:
        free = [k for k in left if not any(high == k and low in left for low, high in first)]
        # What goes round in a circle is laid by lightness alone.
        order.append((free or left)[0])
        left.remove(order[-1])
    return tuple(order)
