"""Prepared inks and jobs, cached by content: the same ink on the same card, light and table is worked out once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, replace
from functools import lru_cache
from threading import Lock

import numpy as np

from wempa.craft import constants
from wempa.craft.constants import Overrides
from wempa.craft.errors import ConstantError, JobError
from wempa.craft.job import Card, Colour, Ink, Job
from wempa.craft.limits import WHITE_CARD
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.ink import (
    Pigmentation,
)
from wempa.optics.stack import Cards, Palette

from . import spectra
from .cards import prepare_card
from .chalk import dried_chalk
from .inks import make_inks, own_numbers, seen_surface
from .prepared import PreparedInk, PreparedJob
from .spectra import find_spectra

# Prepared inks, by ink, the card of its swatch if that is the job's own, light and overrides; and how many are
# kept.
_inks: dict[tuple[Ink, Card | None, str, Overrides], PreparedInk] = {}
# Of the same, CIELAB of the swatch.
_labs: dict[tuple[Ink, Card | None, str, Overrides], Floats] = {}
_MOST_INKS = 4096
_inks_lock = Lock()


def forget() -> None:
    """Empty all caches of prepared cards and inks."""
    _prepared.cache_clear()
    spectra.forget()
    prepare_card.cache_clear()
    with _inks_lock:
        _inks.clear()
        _labs.clear()


def prepare_ink(given: Ink, job_card: Card | None, illuminant: str, overrides: Overrides = ()) -> PreparedInk:
    """An ink by its swatch, formula and own numbers.

    `job_card` is the card to read the swatch on when the swatch says it is on the
    job's own; None otherwise, so that the cache is shared between cards.
    """
    return prepare_inks([(given, job_card)], illuminant, overrides)[0]


def prepare_inks(
    given: Sequence[tuple[Ink, Card | None]], illuminant: str, overrides: Overrides = ()
) -> tuple[PreparedInk, ...]:
    """`prepare_ink` of many; those that are new are worked out together, at a fraction of what each takes alone."""
    keys = [(ink, card, illuminant, overrides) for ink, card in given]
    with _inks_lock:
        ready = {key: _inks[key] for key in keys if key in _inks}
    new = [key for key in dict.fromkeys(keys) if key not in ready]
    if new:
        white = Card(Colour(hex=WHITE_CARD))
        lie = [(ink, prepare_card(ink.swatch.card or card or white, illuminant, overrides)) for ink, card, _, _ in new]
        ready |= zip(new, make_inks(lie, illuminant, overrides), strict=True)
        with _inks_lock:
            if len(_inks) > _MOST_INKS:
                _inks.clear()
            _inks.update({key: ready[key] for key in new})
    return tuple([ready[key] for key in keys])


def prepare_job(job: Job, keys: Sequence[str]) -> PreparedJob:
    """Prepare the job's card and the named inks, from the caches where possible.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    declared = dict(job.inks)
    try:
        constants.values(job.constants)
        return _prepared(
            job.cardstock, tuple([(key, declared[key]) for key in keys]), str(job.illuminant), job.constants
        )
    except ConstantError as error:
        raise JobError(str(error), ("constants",)) from error


# Few are kept, because each may hold a table of films of 1.3 megabytes.
@lru_cache(64)
def _prepared(
    card_given: Card, inks_given: tuple[tuple[str, Ink], ...], illuminant: str, overrides: constants.Overrides
) -> PreparedJob:
    on = [ink.swatch.card.colour for _, ink in inks_given if ink.swatch.card is not None]
    swatches = [ink.swatch.colour for _, ink in inks_given]
    find_spectra([card_given.colour, Colour(hex=WHITE_CARD), *on, *swatches], illuminant)
    card = prepare_card(card_given, illuminant, overrides)
    white = prepare_card(replace(card_given, colour=Colour(hex=WHITE_CARD)), illuminant, overrides)
    own = [(ink, card_given if ink.swatch.card is None else None) for _, ink in inks_given]
    inks = prepare_inks(own, illuminant, overrides)
    table = constants.values(overrides)
    cards = Cards(
        np.concatenate([card.internal[None], white.internal[None], card.variants]),
        np.stack([card.floor, white.floor, *[card.floor] * 3]),
        np.full(5, card.n),
    )
    stacked = [
        np.concatenate([getattr(ink, f.name) for ink in inks]) if inks else np.zeros((0, 36))
        for f in fields(Pigmentation)
    ]
    return PreparedJob(
        card=card,
        palette=Palette(cards, Pigmentation(*stacked)),
        card_from_white=float(cm.delta_e(card.lab, white.lab)),
        white=(float(white.lab[0]), float(white.lab[1]), float(white.lab[2])),
        keys=tuple(key for key, _ in inks_given),
        inks=inks,
        illuminant=illuminant,
        chalk=np.array([dried_chalk(ink.values, card.ground, table) for ink in inks]),
        table=table,
    )


def wanted_colours(job: Job) -> Floats | None:
    """Swatch colours of the stash, (w, 3): a mix close to one of them is never mud."""
    if not job.stash.inks:
        return None
    return swatch_labs([ink for _, ink in job.stash.inks], job)


def swatch_lab(ink: Ink, job: Job) -> Floats:
    """CIELAB (3,) of an ink's swatch under the job's light."""
    return np.asarray(swatch_labs([ink], job)[0])


def swatch_labs(inks: Sequence[Ink], job: Job) -> Floats:
    """CIELAB (n, 3) of the swatches of inks under the job's light; what they absorb need not be known for it."""
    light, overrides = str(job.illuminant), job.constants
    keys = [(ink, job.cardstock if ink.swatch.card is None else None, light, overrides) for ink in inks]
    with _inks_lock:
        found = {key: _labs[key] for key in keys if key in _labs}
    new = [key for key in dict.fromkeys(keys) if key not in found]
    if new:
        find_spectra([ink.swatch.colour for ink, *_ in new], light)
        table, white = constants.values(overrides), Card(Colour(hex=WHITE_CARD))
        lie = [prepare_card(ink.swatch.card or card or white, light, overrides) for ink, card, _, _ in new]
        seen = [
            seen_surface(ink, lies_on, light, own_numbers(ink, table), table).measured
            for (ink, *_), lies_on in zip(new, lie, strict=True)
        ]
        found |= zip(new, cm.lab(np.stack(seen), light), strict=True)
        with _inks_lock:
            if len(_labs) > _MOST_INKS:
                _labs.clear()
            _labs.update({key: found[key] for key in new})
    return np.stack([found[key] for key in keys])
