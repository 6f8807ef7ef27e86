"""Stacks of lay-downs on card, in batches: arrays of stacks in, spectra out.

Every prediction of Wempa, from a single overlap to a chart of forty thousand,
goes through `reflect`; one prediction is the batch of one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from typing import NamedTuple

import numpy as np

from .film import Film, compose, film
from .grid import BANDS, Bools, Floats, Ints, illuminant_power, observer
from .ink import Pigmentation
from .parallel import in_chunks
from .surface import INTERNAL_REFLECTION, outside, speckle, wet_pores

# Elements of one working array, so that a chunk of rows stays in the cache.
_CHUNK = 32_768
# From so many lay-downs on, films are tabulated per ink and dose and looked up.
_TABULATE = 2_000


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
    def filmy(self) -> bool:
        """Whether any ink leaves a film on the card."""
        return bool(self.inks.scattering.any() or self.inks.film_share.any())

    @cached_property
    def glows(self) -> Bools:
        """Which inks give out light, (n,)."""
        return np.asarray(self.inks.emission.max(axis=1, initial=0) > 0)


@dataclass(frozen=True, slots=True)
class Stacks:
    """A batch of b stacks, padded to e entries, bottom first."""

    card: Ints
    """Index into `Cards`, (b,)."""
    ink: Ints
    """Index into `Pigmentation`, (b, e); -1 where the stack has no such entry."""
    dose: Floats
    """Effective dose, relative to the ink's swatch, (b, e), >= 0; 0 where there is no entry."""
    joins: Bools
    """Mixes with the entry directly below, (b, e)."""
    scatter: Floats
    """Factor on the film's scatter, (b, e), 1 unless treated or wet."""
    cover: Floats
    """Share of the area that the entry covers, (b, e), above 0 to 1."""
    held: Floats
    """Share of the soaking part that a film of its own wet group holds up, (b, e)."""
    floor_scale: Floats
    """Factor on the stack's floor, (b,)."""
    pores: Floats
    """How far liquid fills the surface, (b,), 0 for dry."""
    vividness: Floats
    """Exponent on the spectral contrast, (b,), 1 for dry."""

    def __len__(self) -> int:
        return len(self.card)

    def take(self, rows: Ints | slice) -> Stacks:
        """The stacks at `rows`, in that order."""
        return Stacks(*(getattr(self, f.name)[rows] for f in fields(self)))


def reflect(stacks: Stacks, palette: Palette, illuminant: str = "D65") -> Floats:
    """Measured reflectance (radiance factor where an ink glows) of each stack.

    Returns (b, 36), 0–1 without fluorescence. `illuminant` matters to glowing
    inks only. Lay-downs that join the one below form a group: soaking parts add
    in the card, films add on top, a dye held up by a wet film lies above both.
    Groups are laid over one another (`film.over`), bare specks are averaged in,
    then the surface closes the stack.
    """
    return np.asarray(reflect_on(stacks, palette, [stacks.card], illuminant)[0])


def reflect_on(stacks: Stacks, palette: Palette, cards: Sequence[Ints], illuminant: str = "D65") -> Floats:
    """The same stacks on several cards each, (len(cards), b, 36); see `reflect`.

    `cards` holds card indices (b,) that take the place of the stacks' own; the layers
    of ink are worked out once for all.
    """
    out = np.empty((len(cards), len(stacks), BANDS))
    if stacks.ink.shape[1] == 0 or not len(palette.inks.film_share):
        for k, card in enumerate(cards):
            out[k] = _close(palette.cards.internal[card], stacks, palette.cards.floor[card])[0]
        return out
    table = _tabulate(stacks, palette) if stacks.ink.size >= _TABULATE else None

    def fill(rows: slice) -> None:
        part = stacks.take(rows)
        layers = _looked_up(part, table[0], table[1][rows]) if table else _worked_out(part, palette)
        for k, card in enumerate(cards):
            out[k, rows] = _lay(part, layers, card[rows], palette, illuminant)

    in_chunks(fill, len(stacks), max(1, _CHUNK // (BANDS * min(stacks.ink.shape[1], 4))))
    return out


class _Layers(NamedTuple):
    """The layers of ink of some stacks, bottom first."""

    group: Ints
    """Which layer each entry is in, (b, e)."""
    cover: Floats
    """Share of the area that each layer covers, (b, layers)."""
    films: list[Film]
    """One for each layer, arrays (b, 36)."""


def _worked_out(part: Stacks, palette: Palette) -> _Layers:
    """Layers computed for these very stacks."""
    laid = part.ink >= 0
    entries = part.ink.shape[1]
    if part.joins.any():
        group = np.maximum(np.cumsum(laid & ~part.joins, axis=1) - 1, 0)
        groups = int(group.max()) + 1
    else:
        group, groups = np.broadcast_to(np.arange(entries), part.ink.shape), entries
    cover = _group_cover(part, laid, group, groups)
    whole = _group_layers(part, palette, group, groups, cover)
    return _Layers(group, cover, [Film(*(component[:, g] for component in whole)) for g in range(groups)])


def _looked_up(part: Stacks, table: Film, index: Ints) -> _Layers:
    """Layers taken from a table, one for each entry."""
    entries = part.ink.shape[1]
    films = [Film(*(component[index[:, e]] for component in table)) for e in range(entries)]
    group = np.broadcast_to(np.arange(entries), part.ink.shape)
    return _Layers(group, np.where(part.ink >= 0, part.cover, 1.0), films)


def _group_layers(part: Stacks, palette: Palette, group: Ints, groups: int, cover: Floats) -> Film:
    """Each group as one layer, arrays (b, groups, 36)."""
    inks = palette.inks
    # A padded entry has dose 0: it is no layer, whichever ink it seems to be.
    dose = part.dose[:, :, None]
    if (cover != 1).any():
        dose = dose / np.take_along_axis(cover, group, axis=1)[:, :, None]
    absorbed = inks.absorption[part.ink] * dose
    share = inks.film_share[part.ink][:, :, None]
    haze = inks.trace[part.ink][:, :, None] * dose
    mixed = groups < part.ink.shape[1] or bool((group != np.arange(groups)).any())
    # Which entry belongs to which group, to sum over a wet group in one product.
    member = (group[:, None, :] == np.arange(groups)[:, None]).astype(np.float64) if mixed and groups > 1 else None

    def gathered(values: Floats) -> Floats:
        if mixed and groups == 1:
            return np.asarray(values.sum(axis=1, keepdims=True))
        return values if member is None else np.asarray(member @ values)

    free = (1 - share) * absorbed
    if not part.held.any():
        layer = film(gathered(free), gathered(haze))
    else:
        up = part.held[:, :, None]
        layer = film(gathered(free * (1 - up)), gathered(haze * (1 - up)))
    if palette.filmy:
        solid = share * absorbed
        scatter = inks.scattering[part.ink] * (dose * part.scatter[:, :, None])
        layer = compose(film(gathered(solid), gathered(scatter)), layer)
    if part.held.any():
        layer = compose(film(gathered(free * up), gathered(haze * up)), layer)
    return layer


def _tabulate(stacks: Stacks, palette: Palette) -> tuple[Film, Ints] | None:
    """One layer per distinct ink, dose, scatter and cover, if nothing is mixed wet."""
    if stacks.joins.any():
        return None
    amounts = np.stack([stacks.dose, stacks.scatter, stacks.cover], axis=-1).reshape(-1, 3)
    keys = np.zeros(len(amounts), dtype=np.intp)
    for column in amounts.T:
        if (column == column[0]).all():
            continue
        values, index = np.unique(column, return_inverse=True)
        keys = keys * len(values) + index
    keys = keys * (len(palette.inks.film_share) + 1) + (stacks.ink.reshape(-1) + 1)
    _, first, index = np.unique(keys, return_index=True, return_inverse=True)
    ink = stacks.ink.reshape(-1)[first]
    one = np.ones(len(first))
    singles = Stacks(
        card=np.zeros(len(first), dtype=np.intp),
        ink=ink[:, None],
        dose=np.where(ink >= 0, amounts[first, 0], 0.0)[:, None],
        joins=np.zeros((len(first), 1), dtype=np.bool_),
        scatter=amounts[first, 1:2],
        cover=amounts[first, 2:3],
        held=np.zeros((len(first), 1)),
        floor_scale=one,
        pores=one * 0,
        vividness=one,
    )
    cover = np.where(ink >= 0, amounts[first, 2], 1.0)[:, None]
    layer = _group_layers(singles, palette, np.zeros((len(first), 1), dtype=np.intp), 1, cover)
    flat = Film(*(np.ascontiguousarray(part[:, 0]) for part in layer))
    return flat, index.reshape(stacks.ink.shape)


def _lay(part: Stacks, layers: _Layers, card: Ints, palette: Palette, illuminant: str) -> Floats:
    """Measured reflectance (b, 36) of layers laid on cards."""
    below = palette.cards.internal[card]
    n = palette.cards.n[card][:, None]
    glow = _Glow(part, palette, layers.group) if palette.glows.any() else None
    for g, layer in enumerate(layers.films):
        bounce = 1 / (1 - layer.underside * below)
        on = layer.reflectance + layer.transmittance * layer.transmittance * below * bounce
        share = layers.cover[:, g, None]
        if glow is not None:
            glow.lay(g, layer.transmittance, below, share, bounce)
        closed = share == 1
        below = on if closed.all() else np.where(closed, on, speckle(below, on, share, n))

    floor = palette.cards.floor[card] * _floor_loss(part, card, palette.floor_loss)
    seen, below, floor = _close(below, part, floor)
    return seen if glow is None else seen + glow.seen(below, floor, illuminant)


def _group_cover(part: Stacks, laid: Bools, group: Ints, groups: int) -> Floats:
    """Share of the area that each group covers, (b, groups); 1 for an empty group."""
    if (part.cover == 1).all():
        return np.ones((len(part), groups))
    bare = np.ones((len(part), groups))
    for e in range(part.ink.shape[1]):
        left = np.where(laid[:, e], 1 - part.cover[:, e], 1)
        np.multiply.at(bare, (np.arange(len(part)), group[:, e]), left)
    return np.where(bare == 1.0, 1.0, 1 - bare)


def _close(below: Floats, part: Stacks, floor: Floats) -> tuple[Floats, Floats, Floats]:
    """The surface on top: measured and internal reflectance and floor, (b, 36)."""
    if part.pores.any():
        below = wet_pores(below, part.pores[:, None])
    if (part.vividness != 1).any():
        bright = observer()[:, 1]
        mean = (below @ bright / bright.sum())[:, None]
        below = np.minimum(mean * (below / mean) ** part.vividness[:, None], 1.0)
    floor = floor * part.floor_scale[:, None]
    return outside(below, floor), below, floor


def _floor_loss(part: Stacks, card: Ints, loss: Floats) -> Floats:
    """How far the inks lower the card's floor, as a factor (b, 36).

    An ink whose swatch is darker than the card's floor shows that the card can get
    that dark: Fᵢ / F_card to the power of the ink's total dose, capped at 1. Two
    such inks do not lower it twice: the logarithms are joined by a 4-norm, which is
    close to the darkest of them and smooth in every dose.
    """
    if not loss.any():
        return np.ones((len(part), 1))
    if part.ink.shape[1] == 1:
        counted = np.minimum(part.dose, 1)
    else:
        same = part.ink[:, :, None] == part.ink[:, None, :]
        whole = np.minimum((same * part.dose[:, None]).sum(axis=2), 1)
        # The first entry of an ink speaks for all of them.
        counted = whole * (same.argmax(axis=2) == np.arange(part.ink.shape[1]))
    counted = counted * counted
    counted = counted * counted
    total = counted[:, 0, None] * loss[card, part.ink[:, 0]]
    for e in range(1, part.ink.shape[1]):
        total += counted[:, e, None] * loss[card, part.ink[:, e]]
    return np.asarray(np.exp(-np.sqrt(np.sqrt(total))))


class _Glow:
    """Light given out by fluorescent lay-downs: a rank-one Donaldson matrix each.

    Follows, per lay-down that glows, which share of the light falling on the
    stack it absorbs (way in) and which share of what it gives out gets up to the
    surface (way out); both legs are weakened by every layer laid later.
    """

    def __init__(self, part: Stacks, palette: Palette, group: Ints) -> None:
        shines = (part.ink >= 0) & palette.glows[part.ink]
        self._entries = np.flatnonzero(shines.any(axis=0))
        self._part, self._inks, self._group, self._shines = part, palette.inks, group, shines
        shape = (len(part), len(self._entries), BANDS)
        self._way_in, self._way_out = np.zeros(shape), np.zeros(shape)

    def lay(self, g: int, through: Floats, below: Floats, share: Floats, bounce: Floats) -> None:
        self._way_in *= (1 - share + share * through * bounce)[:, None]
        self._way_out *= (1 - share + share * through * bounce)[:, None]
        # What the whole group absorbs on the way down and up again.
        absorbed = share * (1 - through) * (1 + through * below)
        density = -np.log(np.maximum(through, 1e-30))
        for k, e in enumerate(self._entries):
            rows = np.flatnonzero(self._shines[:, e] & (self._group[:, e] == g))
            if not rows.size:
                continue
            i = self._part.ink[rows, e]
            dose = (self._part.dose[rows, e])[:, None] / share[rows]
            own = self._inks.absorption[i] * dose / np.maximum(density[rows], 1e-12)
            self._way_in[rows, k] = absorbed[rows] * np.minimum(own, 1) * self._inks.excitation[i]
            self._way_out[rows, k] = self._inks.emission[i]

    def seen(self, below: Floats, floor: Floats, illuminant: str) -> Floats:
        power = illuminant_power(illuminant)
        surface = (1 - floor) / (1 - INTERNAL_REFLECTION * below)
        taken = (self._way_in * surface[:, None] * power).sum(axis=2)
        given = np.einsum("bf,bfw->bw", taken, self._way_out)
        # A band in which the lamp is dark can glow without bound; its own light is
        # what counts, so the ratio is held where nobody could see it.
        return np.asarray(given * (1 - INTERNAL_REFLECTION) * surface / np.maximum(power, 1e-3 * power.max()))
