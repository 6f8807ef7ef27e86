"""Stacks of lay-downs on card, in batches: arrays of stacks in, spectra out.

Every prediction of Wempa, from a single overlap to a chart of forty thousand,
goes through `reflect_on`; one prediction is the batch of one.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import cast

import numpy as np

from .colorimetry import lab
from .film import Film
from .grid import BANDS, Bools, Floats, Ints, illuminant_power, observer
from .ink import Pigmentation
from .layers import FilmTable, KeptFilms, Kind, Layers, film_table
from .parallel import in_chunks
from .records import record
from .surface import INTERNAL_REFLECTION, outside, speckle, wet_pores

# Elements of one working array, so that a chunk of rows stays in the cache.
_CHUNK = 32_768
# From so many stacks on, work is done in single precision: twice as fast, and within
# 0.001 ΔE00 of the double (tests/optics/test_stack.py).
_MANY = 2_000


@dataclass(frozen=True, slots=True)
class Cards:
    """Bare cards, as seen from within their surface."""

    internal: Floats
    """Internal reflectance, (c, 36), 0–1."""
    floor: Floats
    """(c, 36), 0–1."""
    n: Floats
    """Yule–Nielsen factor, (c,), 1–2."""


@dataclass(frozen=True, eq=False)
class Palette:
    """The cards and inks that a batch of stacks refers to."""

    cards: Cards
    inks: Pigmentation

    @cached_property
    def floor_loss(self) -> Floats:
        """ln⁴ of the floor that each ink leaves on each card, over the card's, (c, n, 36)."""
        floor = self.cards.floor[:, None]
        ratio = np.log(np.minimum(self.inks.floor_cap[None], floor) / floor)
        return np.asarray(ratio**4)

    @cached_property
    def of_one_colour(self) -> Ints:
        """For each ink the first that leaves the same floor, (n,): pads of one colour lower it as one pad would."""
        _, first, same = np.unique(self.inks.floor_cap, axis=0, return_index=True, return_inverse=True)
        return np.asarray(first[same.reshape(-1)], dtype=np.intp)

    @cached_property
    def has_twins(self) -> bool:
        """Whether any two inks are of one colour."""
        return bool((self.of_one_colour != np.arange(len(self.of_one_colour))).any())

    @cached_property
    def lowers_floor(self) -> bool:
        """Whether any ink lowers the floor of any card."""
        return bool(self.floor_loss.any())

    @cached_property
    def one_floor(self) -> bool:
        """Whether all cards have the same floor."""
        return bool((self.cards.floor == self.cards.floor[0]).all())

    @cached_property
    def glows(self) -> Bools:
        """Which inks give out light, (n,)."""
        return np.asarray(self.inks.emission.max(axis=1, initial=0) > 0)

    @cached_property
    def tabulated(self) -> KeptFilms:
        """The layers worked out so far."""
        return KeptFilms(self.inks)

    @cached_property
    def glowing(self) -> bool:
        """Whether any ink gives out light."""
        return bool(self.glows.any())

    @cached_property
    def n(self) -> float | None:
        """The Yule–Nielsen factor of all cards, None if they differ."""
        n = self.cards.n
        return float(n[0]) if (n == n[0]).all() else None


@record
class Stacks:
    """A batch of b stacks of up to g layers, bottom first."""

    layers: Layers
    """The layers that the stacks share."""
    layer: Ints
    """Index into `layers`, (b, g); -1 where the stack has no such layer."""
    card: Ints
    """Index into `Cards`, (b,)."""
    ink: Ints
    """The distinct inks of each stack, (b, k), index into `Pigmentation`; any where `total` is 0."""
    total: Floats
    """Dose of each of them in the whole stack, (b, k), >= 0."""
    floor_scale: Floats | None = None
    """Factor on the stack's floor, (b,); 1 if not given."""
    pores: Floats | None = None
    """How far liquid fills the surface, (b,); 0, dry, if not given."""
    vividness: Floats | None = None
    """Exponent on the spectral contrast, (b,); 1, dry, if not given."""

    def __len__(self) -> int:
        return len(self.card)

    def take(self, rows: Ints | slice) -> Stacks:
        """The stacks at `rows`, in that order."""

        def some(values: Floats | None) -> Floats | None:
            return None if values is None else values[rows]

        return Stacks(
            self.layers,
            self.layer[rows],
            self.card[rows],
            self.ink[rows],
            self.total[rows],
            some(self.floor_scale),
            some(self.pores),
            some(self.vividness),
        )


def reflect(stacks: Stacks, palette: Palette, illuminant: str = "D65") -> Floats:
    """Measured reflectance (radiance factor where an ink glows) of each stack.

    Returns (b, 36), 0–1 without fluorescence. `illuminant` matters to glowing
    inks only. Layers are laid over one another (`film.over`), bare specks are
    averaged in, then the surface closes the stack.
    """
    bench = _set_up(stacks, palette, illuminant) if len(stacks) < _MANY else None
    if bench is None:
        return np.asarray(reflect_on(stacks, palette, [stacks.card], illuminant)[0])
    return _lay(stacks, bench, [stacks.card])[0]


def reflect_on(stacks: Stacks, palette: Palette, cards: Sequence[Ints], illuminant: str = "D65") -> Floats:
    """The same stacks on several cards each, (len(cards), b, 36); see `reflect`.

    `cards` holds card indices (b,) that take the place of the stacks' own; the layers
    of ink are worked out once for all.
    """
    out = np.empty((len(cards), len(stacks), BANDS))

    def keep(card: int, rows: slice, spectra: Floats) -> None:
        out[card, rows] = spectra

    _work_out(stacks, palette, cards, illuminant, keep)
    return out


def lab_on(stacks: Stacks, palette: Palette, cards: Sequence[Ints], illuminant: str = "D65") -> Floats:
    """CIELAB under the illuminant of what `reflect_on` gives, (len(cards), b, 3).

    Of a large batch the spectra are never held all at once.
    """
    out = np.empty((len(cards), len(stacks), 3))

    def keep(card: int, rows: slice, spectra: Floats) -> None:
        out[card, rows] = lab(spectra, illuminant)

    _work_out(stacks, palette, cards, illuminant, keep)
    return out


def _work_out(
    stacks: Stacks,
    palette: Palette,
    cards: Sequence[Ints],
    illuminant: str,
    keep: Callable[[int, slice, Floats], None],
) -> None:
    """Spectra of the stacks on each of `cards`, handed to `keep` in chunks."""
    bench = _set_up(stacks, palette, illuminant)
    if bench is None:
        for k, card in enumerate(cards):
            keep(k, slice(None), _close(palette.cards.internal[card], stacks, palette.cards.floor[card])[0])
        return
    rows = len(stacks)
    many = rows >= _MANY

    def fill(chunk: slice) -> None:
        part = stacks.take(chunk) if many else stacks
        for k, spectra in enumerate(_lay(part, bench, [card[chunk] for card in cards])):
            keep(k, chunk, spectra)

    in_chunks(fill, rows, max(1, _CHUNK // BANDS) if many else rows)


def _set_up(stacks: Stacks, palette: Palette, illuminant: str) -> _Bench | None:
    """What all chunks of a batch share; None if no stack has any ink."""
    shape, rows = stacks.layer.shape, len(stacks)
    if not (shape[1] and len(stacks.layers) and len(palette.inks.film_share)):
        return None
    many = rows >= _MANY
    # Both are `Floats` to the type checker: what is computed is the same.
    kind = cast("Kind", np.float32) if many else np.float64
    # Layers that recur are tabulated; those of a large wet batch, which hardly do, are
    # worked out chunk by chunk.
    if not many:
        table: FilmTable | None = palette.tabulated.films(stacks.layers)
    elif 2 * len(stacks.layers) > shape[0] * shape[1]:
        table = None
    else:
        table = film_table(stacks.layers, palette.inks, kind)
    internal, floor, loss = palette.cards.internal, palette.cards.floor, palette.floor_loss
    if many:
        internal, floor, loss = internal.astype(kind), floor.astype(kind), loss.astype(kind)
    bench = _Bench(palette, internal, floor, loss, table, None, illuminant)
    if many and table is not None and 2 * len(internal) * len(table.cover) < rows and not palette.glowing:
        bench = bench.with_first_layers()
    return bench


@record
class _Bench:
    """What chunks of a batch share, in the batch's precision."""

    palette: Palette
    internal: Floats
    floor: Floats
    loss: Floats
    table: FilmTable | None
    first: Floats | None
    """Internal reflectance of each layer of the table on each bare card, (c, l + 1, 36)."""
    illuminant: str

    def with_first_layers(self) -> _Bench:
        """The same, with every layer laid on every card once for all."""
        assert self.table is not None
        n = self.palette.n if self.palette.n is not None else self.palette.cards.n[:, None, None]
        below = self.internal[:, None]
        on = _seen_over(Film(*self.table.films), below)
        if not self.table.closed:
            if self.table.apart is not None:
                n = np.where(self.table.apart[:, None], 1.0, n)
            on = speckle(np.broadcast_to(below, on.shape), on, self.table.cover, n)
        return _Bench(self.palette, self.internal, self.floor, self.loss, self.table, on, self.illuminant)


def _over(layer: Film, below: Floats) -> tuple[Floats, Floats]:
    """Internal reflectance of layers on `below`, and the light thrown to and fro between."""
    bounce = 1 / (1 - layer.underside * below)
    return layer.reflectance + layer.transmittance * layer.transmittance * below * bounce, bounce


def _seen_over(layer: Film, below: Floats) -> Floats:
    """The first of `_over` alone, with fewer arrays made on the way."""
    thrown = layer.underside * below
    np.subtract(1, thrown, out=thrown)
    on = layer.transmittance * layer.transmittance * below
    on /= thrown
    on += layer.reflectance
    return np.asarray(on)


def _lay(part: Stacks, bench: _Bench, cards: Sequence[Ints]) -> list[Floats]:
    """Measured reflectance (b, 36) of stacks on each of `cards`."""
    palette, groups = bench.palette, part.layer.shape[1]
    if bench.table is not None:
        index = bench.table.index
        tables, where = [bench.table] * groups, part.layer if index is None else index[part.layer]
    else:
        tables = [film_table(part.layers.take(rows), palette.inks, bench.internal.dtype.type) for rows in part.layer.T]
        where = np.where(part.layer < 0, -1, np.arange(len(part))[:, None])
    start = 0 if bench.first is None else 1
    if bench.table is not None:
        reflected, through, under = bench.table.films.take(where.T[start:], axis=1)
        layers = [Film(reflected[g], through[g], under[g]) for g in range(groups - start)]
    else:
        layers = [Film(*tables[g].films.take(where[:, g], axis=1)) for g in range(start, groups)]
    glows = palette.glowing
    found = []
    for card in cards:
        n = palette.n if palette.n is not None else palette.cards.n[card][:, None]
        glow = _Glow(part, palette) if glows else None
        below = bench.internal.take(card, axis=0) if bench.first is None else bench.first[card, where[:, 0]]
        for g, layer in enumerate(layers, start):
            if glow is None:
                on = _seen_over(layer, below)
                if tables[g].closed:
                    below = on
                    continue
                share = tables[g].cover[where[:, g]]
            else:
                on, bounce = _over(layer, below)
                share = tables[g].cover[where[:, g]]
                glow.lay(g, layer.transmittance, below, share, bounce)
            apart = tables[g].apart
            below = speckle(below, on, share, n if apart is None else _crossing(apart[where[:, g]], n))
        floor = bench.floor.take(card, axis=0)
        if palette.lowers_floor:
            floor *= _floor_factor(part, card, bench.loss, palette)
        seen, below, floor = _close(below, part, floor)
        found.append(seen if glow is None else seen + glow.seen(below, floor, bench.illuminant))
    return found


def _crossing(apart: Bools, n: float | Floats) -> float | Floats:
    """Yule–Nielsen factor of layers of which some leave places too far apart for light to cross, (b,)."""
    if apart.all():
        return 1.0
    return np.where(apart[:, None], 1.0, n) if apart.any() else n


def _close(below: Floats, part: Stacks, floor: Floats) -> tuple[Floats, Floats, Floats]:
    """The surface on top: measured and internal reflectance and floor, (b, 36)."""
    if part.pores is not None:
        below = wet_pores(below, part.pores[:, None])
    if part.vividness is not None:
        bright = observer()[:, 1]
        mean = (below @ bright / bright.sum())[:, None]
        below = np.minimum(mean * (below / mean) ** part.vividness[:, None], 1.0)
    if part.floor_scale is not None:
        floor = floor * part.floor_scale[:, None]
    return outside(below, floor), below, floor


def _floor_factor(part: Stacks, card: Ints, loss: Floats, palette: Palette) -> Floats:
    """How far the inks lower the card's floor, as a factor (b, 36).

    An ink whose swatch is darker than the card's floor shows that the card can get
    that dark: Fᵢ / F_card to the power of the ink's total dose, capped at 1. Two
    such inks do not lower it twice: the logarithms are joined by a 4-norm, which is
    close to the darkest of them and smooth in every dose. Pads of one colour are one ink.
    """
    total = part.total
    if palette.has_twins:
        colours = palette.of_one_colour[part.ink[:1] if part.ink.strides[0] == 0 else part.ink]
        # A single prediction has the same inks all through, and mostly no two of one colour.
        if len(colours) > 1 or len(set(colours[0].tolist())) < colours.shape[1]:
            total = _with_twins(total, np.broadcast_to(colours, total.shape))
    counted = np.minimum(total, 1)
    counted *= counted
    counted *= counted
    counted = counted.astype(loss.dtype, copy=False)
    if palette.one_floor and part.ink.strides[0] == 0:
        # A single prediction: the same inks all through, held once, and cards that differ in colour only.
        return _joined(counted @ loss[0, part.ink[0]])
    columns = counted.T[:, :, None]
    flat = loss.reshape(-1, BANDS)
    rows = (card * loss.shape[1])[:, None] + part.ink
    fourths = columns[0] * flat.take(rows[:, 0], axis=0)
    for k in range(1, rows.shape[1]):
        fourths += columns[k] * flat.take(rows[:, k], axis=0)
    return _joined(fourths)


def _with_twins(dose: Floats, ink: Ints) -> Floats:
    """Doses (b, k) of the inks (b, k), those of one ink summed at its first place."""
    dose = dose.copy()
    for later in range(1, ink.shape[1]):
        for earlier in range(later):
            moved = np.where(ink[:, later] == ink[:, earlier], dose[:, later], 0.0)
            dose[:, earlier] += moved
            dose[:, later] -= moved
    return dose


def _joined(fourths: Floats) -> Floats:
    """One over e to the fourth root of sums of fourth powers, in place."""
    np.sqrt(fourths, out=fourths)
    np.sqrt(fourths, out=fourths)
    np.negative(fourths, out=fourths)
    return np.asarray(np.exp(fourths, out=fourths))


class _Glow:
    """Light given out by fluorescent lay-downs: a rank-one Donaldson matrix each.

    Follows, per ink of a layer that glows, which share of the light falling on the
    stack it absorbs (way in) and which share of what it gives out gets up to the
    surface (way out); both legs are weakened by every layer laid later.

    Layers that only soak lie in the same fibres as those right below them: together
    they are one place, in which the glowing ink absorbs its share, hands part of that
    on to what absorbs beside it (Förster 1948), and gives out light that half goes up
    and half comes back from below as far as the place itself lets it out.
    """

    def __init__(self, part: Stacks, palette: Palette) -> None:
        self._part, self._inks = part, palette.inks
        lit = palette.glows[part.layers.ink] & (part.layers.dose > 0)
        soaks = (self._inks.film_share[part.layers.ink] == 0) & (part.layers.held == 0)
        if part.layers.mixed is not None:
            soaks &= part.layers.mixed == 0
        self._soaks = (soaks | (part.layers.dose == 0)).all(axis=1)
        self._lit = lit
        self._shines = [
            (g, member, rows)
            for g in range(part.layer.shape[1])
            for member in range(lit.shape[1])
            if (rows := np.flatnonzero((part.layer[:, g] >= 0) & lit[part.layer[:, g], member])).size
        ]
        b = len(part)
        shape = (b, len(self._shines), BANDS)
        self._way_in, self._way_out = np.zeros(shape), np.zeros(shape)
        # Of the place on top: what lies below it, its optical density, how much of that glows, and its cover.
        self._below, self._density, self._own = (np.zeros((b, BANDS)) for _ in range(3))
        self._bare, self._open = np.ones((b, 1)), np.zeros(b, dtype=np.bool_)
        self._first = np.zeros(b, dtype=np.intp)

    def lay(self, g: int, through: Floats, below: Floats, share: Floats, bounce: Floats) -> None:
        """One layer more on `below`, of which `through` is the transmittance and `share` the cover, (b, 1)."""
        there = self._part.layer[:, g]
        joins = self._open & (there >= 0) & self._soaks[there]
        begins = (there >= 0) & ~joins
        # What shines from a place that this layer does not belong to is weakened by it.
        older = np.array([position for position, _, _ in self._shines])[None] < np.where(joins, self._first, g)[:, None]
        passes = np.where(older[:, :, None], (1 - share + share * through * bounce)[:, None], 1.0)
        self._way_in *= passes
        self._way_out *= passes
        self._first[begins], self._open[begins] = g, self._soaks[there[begins]]
        self._below[begins], self._density[begins], self._own[begins], self._bare[begins] = below[begins], 0, 0, 1
        # Optical density over the whole area; of glowing members apart.
        self._density += share * -np.log(np.maximum(through, 1e-30))
        self._bare *= 1 - share
        for position, member, rows in self._shines:
            if position == g:
                self._own[rows] += self._alone(g, member, rows)
        cover = 1 - self._bare
        density = self._density / np.maximum(cover, 1e-12)
        through = np.exp(-density)
        # What the whole place absorbs on the way down and up again, and what of its own light gets out of it.
        absorbed = cover * (1 - through) * (1 + through * self._below)
        escapes = np.where(density > 1e-6, (1 - through) / np.maximum(density, 1e-12), 1.0)
        out = 0.5 * escapes * (1 + self._below * through)
        kept = np.minimum(self._own / np.maximum(self._density, 1e-12), 1) ** 2
        for k, (position, member, rows) in enumerate(self._shines):
            now = rows[(self._first[rows] <= position) & (there[rows] >= 0)] if position <= g else rows[:0]
            if not len(now):
                continue
            i = self._part.layers.ink[self._part.layer[now, position], member]
            own = self._alone(position, member, now) / np.maximum(self._density[now], 1e-12)
            self._way_in[now, k] = (absorbed * kept)[now] * np.minimum(own, 1) * self._inks.excitation[i]
            self._way_out[now, k] = out[now] * self._inks.emission[i]

    def _alone(self, g: int, member: int, rows: Ints) -> Floats:
        """Optical density of one member of a layer over the whole area, (r, 36)."""
        layer = self._part.layer[rows, g]
        i, dose = self._part.layers.ink[layer, member], self._part.layers.dose[layer, member]
        return np.asarray(self._inks.absorption[i] * dose[:, None])

    def seen(self, below: Floats, floor: Floats, illuminant: str) -> Floats:
        """What is given out, as a radiance factor (b, 36)."""
        power = illuminant_power(illuminant)
        surface = (1 - floor) / (1 - INTERNAL_REFLECTION * below)
        taken = (self._way_in * surface[:, None] * power).sum(axis=2)
        given = np.einsum("bf,bfw->bw", taken, self._way_out)
        # A band in which the lamp is dark can glow without bound; its own light is
        # what counts, so the ratio is held where nobody could see it.
        return np.asarray(given * (1 - INTERNAL_REFLECTION) * surface / np.maximum(power, 1e-3 * power.max()))
