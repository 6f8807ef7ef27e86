"""Layers of ink as films: worked out together, and kept from one prediction to the next."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import fields
from threading import Lock
from typing import Any, cast

import numpy as np

from .film import Film, compose, film
from .grid import BANDS, Bools, Floats, Ints
from .ink import Pigmentation
from .records import record

Kind = type[np.float64]
"""The precision of a batch."""


@record
class Layers:
    """Distinct layers of ink, l of them: what was put on in one go, or mixed wet.

    Each holds up to m inks; where it holds fewer the dose is 0. In a layer soaking
    parts add up in the card, films add up on top, and a dye held up by a wet film
    lies above both.
    """

    ink: Ints
    """Index into `Pigmentation`, (l, m)."""
    dose: Floats
    """Effective dose, relative to the ink's swatch, mean over the area, (l, m), >= 0."""
    scatter: Floats
    """Factor on the film's scatter, (l, m), 1 unless treated or wet."""
    held: Floats
    """Share of the soaking part that a film of the same layer holds up, (l, m), 0–1."""
    cover: Floats
    """Share of the area that the layer covers, (l,), above 0 to 1."""
    apart: Bools | None = None
    """Where what it leaves bare lies too far apart for light to cross from one to the other, (l,); nowhere if
    not given."""
    chalk: Floats | None = None
    """Scatter of voids between the grains of each dried film, alike in all bands, mean over the area, (l, m), >= 0;
    none if not given."""
    mixed: Floats | None = None
    """Share of the soaking part that is stirred into the films of the same layer, (l, m), 0 to 1 − `held`; none if not
    given."""

    def __len__(self) -> int:
        return len(self.cover)

    def take(self, rows: Ints) -> Layers:
        """The layers at `rows`, in that order."""
        apart = None if self.apart is None else self.apart[rows]
        chalk = None if self.chalk is None else self.chalk[rows]
        return Layers(
            self.ink[rows],
            self.dose[rows],
            self.scatter[rows],
            self.held[rows],
            self.cover[rows],
            apart,
            chalk,
            None if self.mixed is None else self.mixed[rows],
        )

    @property
    def closed(self) -> bool:
        """Whether all of them cover all of the area."""
        return bool(self.cover.min() == 1)

    @property
    def crossed(self) -> bool:
        """Whether light crosses from what each covers to what it leaves bare."""
        return self.apart is None


_NUMBERS = tuple([each.name for each in fields(Layers)])


class NamedLayers(Layers):
    """Layers with names: their numbers are worked out only where a palette does not know them by name yet.

    They come as runs, one after another, of a name and so many layers; under one palette
    runs of one name are the same layers.
    """

    __slots__ = ("_closed", "_crossed", "_make", "runs")

    def __init__(
        self, runs: Sequence[tuple[Hashable, int]], closed: bool, crossed: bool, make: Callable[[], Layers]
    ) -> None:
        self.runs, self._closed, self._crossed, self._make = runs, closed, crossed, make

    def __len__(self) -> int:
        return sum([count for _, count in self.runs])

    def __getattr__(self, name: str) -> Any:
        """Fill in the numbers when the first of them is asked for."""
        if name not in _NUMBERS:
            raise AttributeError(name)
        made = self._make()
        for each in _NUMBERS:
            setattr(self, each, getattr(made, each))
        return getattr(made, name)

    @property
    def closed(self) -> bool:
        """As told."""
        return self._closed

    @property
    def crossed(self) -> bool:
        """As told."""
        return self._crossed


@record
class FilmTable:
    """Layers as films, and last of all no layer, which the index -1 finds."""

    films: Floats
    """The components of `Film`, (3, l + 1, 36)."""
    cover: Floats
    """(l + 1, 1)."""
    closed: bool
    """Whether all cover all of the card."""
    apart: Bools | None = None
    """Where specks lie too far apart for light to cross, (l + 1,); nowhere if not given."""
    index: Ints | None = None
    """Where the batch's layers stand in the table, and behind them no layer; None: in their order."""


_NO_LAYER = np.array([[0.0], [1.0], [0.0]])


def films(layers: Layers, inks: Pigmentation) -> Film:
    """Each layer as a film, (l, 36), in single precision: of its dose over the area that it covers."""
    made = film_table(layers, inks, cast("Kind", np.float32))
    return Film(*made.films[:, :-1])


def film_table(layers: Layers, inks: Pigmentation, kind: Kind) -> FilmTable:
    """Each layer as a film, and no layer behind them."""
    dose, width = layers.dose, layers.ink.shape[1]
    # Whether any ink leaves a film on the card.
    filmy = bool(inks.scattering.any() or inks.film_share.any())
    closed = layers.closed
    if not closed:
        dose = dose / layers.cover[:, None]
    share = inks.film_share[layers.ink]
    solid = share * dose
    free = dose - solid
    held = bool(layers.held.max() > 0)
    absorption = inks.absorption.astype(kind, copy=False)
    spectra = [absorption[ink] for ink in layers.ink.T]

    # What soaks in, the film on it, and the dye held up by it: worked out together.
    parts = 1 + filmy + held
    weights, scatter = np.zeros((parts, *dose.shape)), np.empty((parts, len(layers), BANDS), dtype=kind)
    weights[0], weights[1 : 1 + filmy] = free, solid
    below = dose
    if held:
        weights[-1] = free * layers.held
        weights[0] -= weights[-1]
        scatter[-1] = _scattered(inks.trace, layers.ink, dose * layers.held, kind)
        below = dose * (1 - layers.held)
    stirred: Floats | None = None
    if layers.mixed is not None and filmy:
        stirred, into_film = dose * layers.mixed, free * layers.mixed
        weights[0] -= into_film
        weights[1] += into_film
        below = below - stirred
    scatter[0] = _scattered(inks.trace, layers.ink, below, kind)
    weights = weights.astype(kind, copy=False)
    absorbed = weights[:, :, 0, None] * spectra[0]
    for m in range(1, width):
        absorbed += weights[:, :, m, None] * spectra[m]
    if filmy:
        scatter[1] = _scattered(inks.scattering, layers.ink, dose * layers.scatter, kind)
        if stirred is not None:
            scatter[1] += _scattered(inks.trace, layers.ink, stirred, kind)
        if layers.chalk is not None:
            scatter[1] += (layers.chalk.sum(axis=1) / layers.cover)[:, None].astype(kind)

    together = film(absorbed, scatter)
    layer = Film(*(component[0] for component in together))
    for part in range(1, parts):
        layer = compose(Film(*(component[part] for component in together)), layer)
    padded = np.empty((3, len(layers) + 1, BANDS), dtype=kind)
    padded[0, :-1], padded[1, :-1], padded[2, :-1] = layer
    padded[:, -1] = _NO_LAYER
    cover = np.ones((len(layers) + 1, 1), dtype=kind)
    cover[:-1, 0] = layers.cover
    apart = None if layers.apart is None else np.append(layers.apart, np.False_)
    return FilmTable(padded, cover, closed, apart)


def _scattered(scattering: Floats, ink: Ints, dose: Floats, kind: Kind) -> Floats:
    """S of layers (l, 36): of their inks (l, m), each at its dose."""
    each, weights = scattering.astype(kind, copy=False), dose.astype(kind, copy=False)
    total = weights[:, 0, None] * each[ink[:, 0]]
    for m in range(1, ink.shape[1]):
        total += weights[:, m, None] * each[ink[:, m]]
    return np.asarray(total)


class KeptFilms:
    """Films by ink, dose and treatment, kept from one prediction to the next.

    Whoever tries a card changes one lay-down at a time: most layers, and what they
    would be if the inks were a little different, have been worked out before.
    """

    _MOST = 1536

    def __init__(self, inks: Pigmentation) -> None:
        self._inks, self._lock = inks, Lock()
        self._forget()

    def _forget(self) -> None:
        self._place: dict[bytes, int] = {}
        self._runs: dict[Hashable, list[int]] = {}
        self._films, self._cover = np.empty((3, self._MOST + 1, BANDS)), np.ones((self._MOST + 1, 1))
        self._films[:, -1] = _NO_LAYER
        self._apart = np.zeros(self._MOST + 1, dtype=np.bool_)

    def films(self, layers: Layers) -> FilmTable:
        """As `film_table` in double precision."""
        with self._lock:
            found: list[int] = []
            runs = layers.runs if isinstance(layers, NamedLayers) else ()
            for name, _ in runs:
                found += self._runs.get(name, ())
            if not runs or len(found) != len(layers):
                if len(layers) > self._MOST:
                    return film_table(layers, self._inks, np.float64)
                found = self._find(layers)
                self._name(runs, found)
            # Rows are added and never changed, so they may be read after the lock is gone.
            apart = None if layers.crossed else self._apart
            return FilmTable(self._films, self._cover, layers.closed, apart, np.array([*found, -1]))

    def _find(self, layers: Layers) -> list[int]:
        """Where each of the layers stands, once those that are new have been worked out."""
        apart = np.zeros(len(layers), dtype=np.bool_) if layers.apart is None else layers.apart
        none = np.zeros(layers.dose.shape)
        more = [none if each is None else each for each in (layers.chalk, layers.mixed)]
        columns = [layers.ink, layers.dose, layers.scatter, layers.held, *more, layers.cover[:, None], apart[:, None]]
        numbers = np.concatenate(columns, axis=1, dtype=np.float64)
        keys = numbers.view(f"V{numbers.shape[1] * 8}").ravel().tolist()
        new = {key: k for k, key in enumerate(keys) if key not in self._place}
        if len(self._place) + len(new) > self._MOST:
            self._forget()
            new = {key: k for k, key in enumerate(keys)}
        if new:
            rows, start = np.array([*new.values()]), len(self._place)
            made, added = film_table(layers.take(rows), self._inks, np.float64), slice(start, start + len(new))
            self._films[:, added], self._cover[added] = made.films[:, :-1], made.cover[:-1]
            self._apart[added] = apart[rows]
            self._place.update((key, start + n) for n, key in enumerate(new))
        return [self._place[key] for key in keys]

    def _name(self, runs: Sequence[tuple[Hashable, int]], found: list[int]) -> None:
        """Remember by their names where runs of layers stand."""
        if len(self._runs) > self._MOST:
            self._runs.clear()
        start = 0
        for name, count in runs:
            self._runs[name] = found[start : start + count]
            start += count
