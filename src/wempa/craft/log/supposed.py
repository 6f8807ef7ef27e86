"""Inks, cards and table as they might be, and what a swatch would then look like.

Learning asks the same of hundreds of swatches under hundreds of suppositions, each a little
other than what was taken for true. All of them are one batch for `optics.stack`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.constants import Overrides
from wempa.craft.job import Card, Colour, Ink
from wempa.craft.limits import WHITE_CARD
from wempa.craft.prediction.batches import gather
from wempa.craft.prediction.cards import make_card
from wempa.craft.prediction.inks import laid_anew, make_ink
from wempa.craft.prediction.patches import Patch, patches_of
from wempa.craft.prediction.prepared import PreparedCard, PreparedInk
from wempa.craft.prediction.rows import BatchRow, resolve
from wempa.craft.prediction.spectra import find_spectra
from wempa.optics import colorimetry as cm
from wempa.optics.grid import BANDS, Floats, white_point
from wempa.optics.ink import Pigmentation
from wempa.optics.stack import Cards, Palette, reflect

from .observations import Believed, Observation

# The columns of the table on which an ink's absorption and scatter depend, and those of a formula.
_OPTICAL = ("known.", "surface.", "white.", "glow.", "ink.", "margin.")
_OPTICAL_COLUMNS = ("hiding", "white_hiding", "film_share", "trace")
# How many prepared inks and cards are held; a fit of a full log needs fewer.
_HELD = 20_000


@dataclass(frozen=True, slots=True)
class Supposed:
    """A world: inks and cards as they might be, and rows of the table."""

    inks: Mapping[str, Ink]
    cards: tuple[Card, ...]
    rows: Mapping[str, float] = field(default_factory=dict)
    """Rows that replace those of the job."""
    base: Mapping[str, float] = field(default_factory=dict)
    """Rows that the jobs themselves state."""

    @classmethod
    def of(cls, believed: Believed, base: Overrides = ()) -> Supposed:
        """The world before anything was learned."""
        return cls(believed.inks, believed.cards, {}, dict(base))

    def row(self, name: str) -> float:
        """A row of the table in this world."""
        return self.rows.get(name, self.base.get(name, constants.TABLE[name].value))

    def overrides(self, own: Overrides) -> Overrides:
        """The table of a job in this world."""
        return tuple(sorted({**dict(own), **self.rows}.items())) if self.rows else own


def _is_optical(row: str) -> bool:
    return row.startswith(_OPTICAL) or (row.startswith("formula.") and row.endswith(_OPTICAL_COLUMNS))


class Bench:
    """Prepares what predictions of observations need, and keeps it."""

    def __init__(self, believed: Believed) -> None:
        self._believed = believed
        self._cards: dict[object, PreparedCard] = {}
        self._inks: dict[object, PreparedInk] = {}

    def labs(
        self, asked: Sequence[tuple[Observation, Supposed]], laid_in: Sequence[Supposed | None] | None = None
    ) -> Floats:
        """CIELAB (n, 3) under its own light of each observation in each world.

        `laid_in` may name a world in which amounts are the same, of those where it is one: only
        what ink and card look like is then taken from the other.

        Raises
        ------
        ConstantError
            A row of a world is outside its range.
        """
        found = np.empty((len(asked), 3))
        for light, places, mean in self._by_light(asked, laid_in):
            found[places] = cm.lab_from_xyz(cm.xyz(mean, light), white_point(light))
        return found

    def reflectances(self, asked: Sequence[tuple[Observation, Supposed]]) -> Floats:
        """Reflectance (n, 36) of each, of patches their mean; see `labs`."""
        found = np.empty((len(asked), BANDS))
        for _, places, mean in self._by_light(asked):
            found[places] = mean
        return found

    def _by_light(
        self, asked: Sequence[tuple[Observation, Supposed]], laid_in: Sequence[Supposed | None] | None = None
    ) -> Iterator[tuple[str, list[int], Floats]]:
        laid = laid_in or [None] * len(asked)
        by_light: dict[str, list[int]] = {}
        for n, (observation, _) in enumerate(asked):
            by_light.setdefault(str(observation.job.illuminant), []).append(n)
        for light, places in by_light.items():
            yield light, places, self._light([(*asked[n], laid[n]) for n in places], light)

    def _light(self, asked: Sequence[tuple[Observation, Supposed, Supposed | None]], light: str) -> Floats:
        if len(self._inks) + len(self._cards) > _HELD:
            self._inks.clear()
            self._cards.clear()
        self._find_colours([world for _, world, _ in asked], light)
        known: dict[tuple[int, int], tuple[dict[int, str], list[Patch]]] = {}
        cards: dict[int, tuple[int, PreparedCard]] = {}
        inks: dict[int, tuple[int, PreparedInk]] = {}
        rows: list[BatchRow] = []
        on: list[int] = []
        areas: list[list[tuple[float, int]]] = []
        for observation, world, laid_in in asked:
            job = observation.job
            overrides = world.overrides(job.constants)
            given = world.cards[self._believed.place(job)]
            card = self._card(given, light, overrides)
            lookup: dict[str, tuple[int, PreparedInk]] = {}
            for key, _ in job.inks:
                ready = self._ink(world.inks[key], given, light, overrides)
                lookup[key] = inks.setdefault(id(ready), (len(inks), ready))
            at, _ = cards.setdefault(id(card), (len(cards), card))
            like = known.get((id(observation), id(laid_in)))
            if like is not None:
                # The amounts are the same; only inks or card look different.
                keys, patches = like
                patches = [_of_inks(patch, {row: lookup[key][0] for row, key in keys.items()}) for patch in patches]
            else:
                patches = _patches(observation, lookup, card, constants.values(overrides))
                known[id(observation), id(world)] = {row: key for key, (row, _) in lookup.items()}, patches
            area = []
            for patch in patches:
                area.append((patch.share, len(rows)))
                rows.append(patch.row)
                on.append(at)
            areas.append(area)
        spectra = reflect(replace(gather(rows), card=np.array(on, dtype=np.intp)), _palette(cards, inks), light)
        return np.stack([sum(share * spectra[at] for share, at in area) for area in areas])

    def _find_colours(self, worlds: Sequence[Supposed], light: str) -> None:
        """All spectra are worked out at once: together they take little longer than one."""
        different = {id(world): world for world in worlds}.values()
        inks = {id(ink): ink for world in different for ink in world.inks.values()}.values()
        cards = {id(card): card for world in different for card in world.cards}.values()
        lying = [ink.swatch.card.colour for ink in inks if ink.swatch.card is not None]
        on = [Colour(hex=WHITE_CARD), *[card.colour for card in cards], *lying]
        find_spectra([*on, *[ink.swatch.colour for ink in inks]], light)

    def _card(self, given: Card, light: str, overrides: Overrides) -> PreparedCard:
        key = (given, light, tuple([each for each in overrides if each[0].startswith("surface.")]))
        found = self._cards.get(key)
        if found is None:
            found = self._cards[key] = make_card(given, light, overrides)
        return found

    def _ink(self, given: Ink, job_card: Card, light: str, overrides: Overrides) -> PreparedInk:
        key = (given, job_card if given.swatch.card is None else None, light, overrides)
        found = self._inks.get(key)
        if found is None:
            lies_on = self._card(given.swatch.card or job_card, light, overrides)
            optical = tuple([each for each in overrides if _is_optical(each[0])])
            plain = replace(
                given,
                strength=None,
                constants=tuple([each for each in given.constants if each[0] in _OPTICAL_COLUMNS]),
            )
            seen = (plain, *key[1:3], optical)
            ready = self._inks.get(seen)
            if ready is None:
                ready = self._inks[seen] = make_ink(plain, lies_on, light, optical, doubts=False)
            found = self._inks[key] = laid_anew(ready, given, lies_on.ground, overrides)
        return found


def _patches(
    observation: Observation,
    lookup: Mapping[str, tuple[int, PreparedInk]],
    card: PreparedCard,
    table: Mapping[str, float],
) -> list[Patch]:
    stack, wet = observation.job.stack, observation.wet()
    last = resolve(stack, lookup, card.ground, table, wet, whole_only=True, alone=False)[-1]
    row = last.drops if observation.drops and last.drops is not None else last.dry
    return patches_of(last.wet if wet and last.wet is not None else row)


def _of_inks(patch: Patch, by: Mapping[int, int]) -> Patch:
    parts = [replace(part, ink=by[part.ink]) for part in patch.row.parts]
    return replace(patch, row=replace(patch.row, parts=parts))


def _palette(cards: Mapping[int, tuple[int, PreparedCard]], inks: Mapping[int, tuple[int, PreparedInk]]) -> Palette:
    bare = [card for _, card in cards.values()]
    ready = [ink for _, ink in inks.values()]
    stacked = [
        np.stack([getattr(ink, each.name)[0] for ink in ready]) if ready else np.zeros((0, 36))
        for each in fields(Pigmentation)
    ]
    return Palette(
        Cards(
            np.stack([card.internal for card in bare]),
            np.stack([card.floor for card in bare]),
            np.array([card.n for card in bare]),
        ),
        Pigmentation(*stacked),
    )
