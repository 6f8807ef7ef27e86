"""The book: logged swatches as the screens take them, searched and ordered."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import islice
from typing import Any

import numpy as np

from wempa.api.held import Held
from wempa.api.overlap.jobs import job_on_shelf
from wempa.api.shelf import Shelf
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.naming import compare, describe_all
from wempa.craft.errors import WempaError
from wempa.craft.job import Colour, Job, LayDown, Stash
from wempa.craft.log.observations import Observation, as_seen, believed_of
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import BookOrder, Illuminant, Look, OwnVerdict
from wempa.formats.job import error_text
from wempa.formats.job_text import job_json
from wempa.formats.log.book_lines import BookLine
from wempa.formats.log.items import Sighting, SwatchEntry, SwatchItem
from wempa.formats.overlap.items import OverlapSettings, StackEntry
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.namespace import SCALAR

from .models import SightingOut, SwatchOut

_NEAR = 14.0
_LIGHT = str(Illuminant.D65)


@dataclass(frozen=True, slots=True, eq=False)
class OpenSwatch:
    """A stored swatch, read, with the job of it as it is predicted now."""

    stored: Held[SwatchItem]
    job: Job | None
    trouble: str

    @property
    def id(self) -> int:
        """Its number."""
        return self.stored.id

    @property
    def item(self) -> SwatchItem:
        """What was written down of it."""
        return self.stored.item


def opened(stored: Held[SwatchItem], shelf: Shelf) -> OpenSwatch:
    """A stored swatch with its job."""
    item = stored.item
    inks = [ink for entry in item.stack for ink in entry.inks()]
    gone = [ink.called or "an ink" for ink in inks if ink.ink_id is None or str(ink.ink_id) not in shelf.inks]
    if gone:
        return OpenSwatch(
            stored, None, f"{gone[0]} is no longer in the stash; the swatch is kept, and not learned from."
        )
    if item.card_id is not None and item.card_id not in shelf.cards:
        called = item.card_called or "its card"
        return OpenSwatch(
            stored, None, f"{called} is no longer in the stash; the swatch is kept, and not learned from."
        )
    try:
        job = swatch_job(item, shelf)
    except WempaError as error:
        return OpenSwatch(stored, None, error_text(error))
    return OpenSwatch(stored, replace(job, stash=Stash()), "")


def swatch_job(item: SwatchItem, shelf: Shelf) -> Job:
    """The job of a swatch whose inks and card are all there; raises as `Jobs.of` does."""
    entries = [StackEntry.of(entry.said()).said() for entry in item.stack]
    return shelf.dressed(job_on_shelf(entries, item.card_id, OverlapSettings(), shelf))


def as_owned(job: Job, card_id: int | None, shelf: Shelf) -> Job:
    """The job with inks, card and table as their owner has them, and pads as any."""
    own = shelf.unlearned
    card = job.cardstock if card_id is None else own.cards[card_id]
    inks = tuple((key, replace(own.inks[key], pad=None)) for key, _ in job.inks)
    return replace(job, cardstock=card, inks=inks, constants=())


def observed(page: OpenSwatch, seen: Sighting, unlearned: bool, shelf: Shelf) -> Observation | None:
    """A look at a swatch for the core, with inks as their owner has them or as they are believed to be now."""
    if page.job is None:
        return None
    job = as_owned(page.job, page.item.card_id, shelf) if unlearned else page.job
    if seen.done is not None:
        job = replace(job, stack=job.stack[: seen.done])
    l, a, b = seen.lab
    colour = Colour(lab=(l, a, b), lab_illuminant=Illuminant.D65)
    return Observation(as_seen(job, seen.look), colour, seen.spread, seen.drops, seen.off or seen.photo)


def shown(pages: Sequence[OpenSwatch], shelf: Shelf, details: bool = False) -> list[SwatchOut]:
    """Swatches with what was predicted of each look; with `details` the margin as well."""
    looks = [(page, seen, observed(page, seen, False, shelf)) for page in pages for seen in page.item.sightings]
    asked = [one for _, _, one in looks if one is not None]
    colours = np.array([*[seen.lab for _, seen, _ in looks], *_predicted(asked)]).reshape(-1, 3)
    said = zip(cm.hexes_from_lab(colours, _LIGHT), describe_all(colours), colours, strict=True)
    real = [_Shade(*each) for each in islice(said, len(looks))]
    guessed = (_Shade(*each) for each in said)
    told = iter(
        [
            _sighting(
                page.item, seen, own, None if one is None else next(guessed), one if details else None, shelf.table
            )
            for (page, seen, one), own in zip(looks, real, strict=True)
        ]
    )
    return [_shown(page, list(islice(told, len(page.item.sightings))), shelf, details) for page in pages]


@dataclass(frozen=True, slots=True, eq=False)
class _Shade:
    """A colour as the book shows and calls it."""

    hex: str
    words: str
    lab: Floats

    def rounded(self) -> list[float]:
        return [round(v, 2) for v in self.lab.tolist()]


def _predicted(asked: Sequence[Observation]) -> Floats:
    if not asked:
        return np.zeros((0, 3))
    believed = believed_of([one.job for one in asked])
    return Bench(believed).labs([(one, Supposed.of(believed)) for one in asked])


def _shown(page: OpenSwatch, sightings: list[SightingOut], shelf: Shelf, details: bool) -> SwatchOut:
    item = page.item
    inks = [] if page.job is None else [ink for _, ink in page.job.inks]
    card = shelf.cards.get(item.card_id or 0)
    return SwatchOut(
        id=page.id,
        revision=page.stored.revision,
        item=item,
        lines=recipe(page.job) if page.job is not None else [_plainly(entry) for entry in item.stack],
        card="#f8f7f4" if card is None else _hex(card.colour),
        card_name=item.card_called or shelf.card_name(item.card_id),
        ink_hexes=[_hex(ink.swatch.colour) for ink in inks],
        sightings=sightings,
        kind=predict(page.job).verdict.kind if details and page.job is not None else None,
        trouble=page.trouble,
    )


@lru_cache(2000)
def _hex(colour: Colour) -> str:
    return cm.hexes_from_lab(cm.lab(spectrum_of(colour, "D65")[0])[None], "D65")[0]


def _plainly(entry: SwatchEntry) -> str:
    if entry.treatment is not None:
        return entry.treatment.row.line
    how = "" if entry.tool is None else f": {entry.tool.said}"
    return f"{entry.called or 'an ink'}{how}."


def _sighting(
    item: SwatchItem,
    seen: Sighting,
    real: _Shade,
    guessed: _Shade | None,
    asked: Observation | None,
    table: Mapping[str, float],
) -> SightingOut:
    """One look at a swatch beside what was predicted of it; with the margin of what is asked."""
    told = "" if guessed is None else compare(seen.lab, guessed.lab.tolist(), table)
    return SightingOut(
        said=_look_said(item, seen),
        hex=real.hex,
        words=real.words,
        lab=real.rounded(),
        spread=seen.spread,
        photo=seen.photo,
        predicted=None if guessed is None else guessed.hex,
        predicted_words="" if guessed is None else guessed.words,
        predicted_lab=[] if guessed is None else guessed.rounded(),
        differs="" if guessed is None else differs(told),
        delta_e=None if guessed is None else round(float(cm.delta_e(real.lab, guessed.lab)), 1),
        margin=None if asked is None else round(predict(asked.job).margin, 1),
    )


def differs(told: str) -> str:
    """What `compare` says of the real colour beside the prediction, as the book says it."""
    return "as guessed" if told in ("all but", "close to") else f"{told} guessed"


def _look_said(item: SwatchItem, seen: Sighting) -> str:
    if seen.drops:
        return "where water was dropped"
    if seen.look is Look.WET:
        return "while wet"
    if seen.done is not None and seen.done < len(item.stack):
        later = item.stack[seen.done]
        return f"before the {later.treatment.said if later.treatment is not None else later.called or 'next ink'}"
    last = item.stack[-1].treatment
    return f"dry, after the {last.said}" if last is not None else "dry"


def chosen(
    pages: Sequence[OpenSwatch],
    shown_of: Sequence[SwatchOut],
    find: str,
    near: Floats | None,
    verdict: OwnVerdict | None,
    tag: str,
    favourites: bool,
    order: BookOrder,
    table: Mapping[str, float],
) -> list[SwatchOut]:
    """What is asked for of the book, in an order; near a colour the nearest first."""
    words = find.lower().split()
    found: list[tuple[Any, SwatchOut]] = []
    for page, one in zip(pages, shown_of, strict=True):
        item = one.item
        if (verdict is not None and item.verdict is not verdict) or (favourites and not item.favourite):
            continue
        if tag and tag not in item.tags:
            continue
        text = " ".join(
            [item.name, item.notes, one.card_name, *item.tags, *one.lines, str(item.verdict or "")]
            + [each.words for each in one.sightings]
        ).lower()
        if not all(word in text for word in words):
            continue
        if near is not None:
            away = [float(cm.delta_e(np.array(each.lab), near)) for each in one.sightings]
            if not away or min(away) > _NEAR:
                continue
            found.append((min(away), one))
        else:
            found.append((_rank(page, one, order, table), one))
    found.sort(key=lambda each: each[0])
    return [one for _, one in found]


_VERDICTS = {verdict: n for n, verdict in enumerate(OwnVerdict)}


def _rank(page: OpenSwatch, one: SwatchOut, order: BookOrder, table: Mapping[str, float]) -> Any:
    item = one.item
    day = -(item.laid_on.toordinal() if item.laid_on is not None else 0)
    newest = (day, -one.id)
    if order is BookOrder.INK:
        return (item.stack[0].called.lower(), newest)
    if order is BookOrder.CARD:
        return (one.card_name.lower(), newest)
    if order is BookOrder.NAME:
        return (item.name.lower(), newest)
    if order is BookOrder.VERDICT:
        return (_VERDICTS.get(item.verdict, 9) if item.verdict is not None else 9, newest)
    if order is BookOrder.COLOUR:
        if not one.sightings:
            return (2, 0.0, newest)
        l, a, b = one.sightings[-1].lab
        grey = float(np.hypot(a, b)) < table["colour.grey"]
        return (1, -l, newest) if grey else (0, float(painter_hue(a, b, SCALAR)), newest)
    if order is BookOrder.OFF:
        return (-max([each.delta_e or 0.0 for each in one.sightings], default=0.0), newest)
    return newest


def composed_name(job: Job) -> str:
    """What a swatch is called that nobody named: its inks, bottom first."""
    inks = dict(job.inks)
    names: dict[str, None] = {}
    for entry in job.stack:
        if isinstance(entry, LayDown):
            names.update((inks[key].name or key, None) for key, _ in entry.parts)
    listed = list(names)
    return (listed[0] if len(listed) == 1 else " under ".join(listed))[:200] if listed else "Bare card"


def lines_of(swatches: Sequence[SwatchOut]) -> list[BookLine]:
    """The book as it is written down: each look at each swatch."""
    found = []
    for one in swatches:
        item = one.item
        looks: Sequence[SightingOut | None] = one.sightings or [None]
        for seen in looks:
            found.append(
                BookLine(
                    name=item.name,
                    day="" if item.laid_on is None else item.laid_on.isoformat(),
                    card=one.card_name,
                    lines=one.lines,
                    look="not photographed yet" if seen is None else seen.said,
                    real="" if seen is None else seen.hex,
                    lab=[] if seen is None else seen.lab,
                    words="" if seen is None else seen.words,
                    predicted="" if seen is None else seen.predicted or "",
                    differs="" if seen is None else seen.differs,
                    verdict="" if item.verdict is None else item.verdict.said,
                    tags=item.tags,
                    notes=item.notes,
                )
            )
    return found


def as_observations(pages: Sequence[OpenSwatch], shelf: Shelf) -> str:
    """The book as `wempa fit` reads it: jobs with inks as their owner has them, and what came of them."""
    found = []
    for page in pages:
        for seen in page.item.sightings if not page.item.left_out else ():
            one = observed(page, seen, True, shelf)
            if one is None:
                continue
            found.append(
                {
                    "job": job_json(one.job),
                    "observed": {"lab": list(seen.lab), "illuminant": "D65"},
                    "spread": seen.spread,
                    "look": str(seen.look),
                    **({"drops": True} if seen.drops else {}),
                }
            )
    return json.dumps({"observations": found}, indent=1, ensure_ascii=False) + "\n"
