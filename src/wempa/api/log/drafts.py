"""Swatches as they would be logged: of an overlap, a panel, a strip, a stack by hand; squares to lay next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from itertools import pairwise

from wempa.api import held
from wempa.api.services import Services
from wempa.api.shelf import Shelf
from wempa.craft.errors import JobError, WempaError
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.log.next_squares import NextSquare, next_squares
from wempa.craft.log.observations import Observation, as_seen
from wempa.craft.log.strip import strip_stacks
from wempa.craft.recipe import entry_line
from wempa.craft.vocabulary import Look, Page
from wempa.craft.ways import first_touch
from wempa.formats.log.items import SwatchEntry, SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem

from .book import composed_name, observed
from .models import DraftsIn, NextOut

# How many planned pieces are looked at, and from how many inks squares are made up.
_PLANS, _INKS, _PAIRS = 40, 24, 60


def drafts(services: Services, asked: DraftsIn) -> list[SwatchItem]:
    """Swatches of what is asked, not stored yet.

    Raises
    ------
    NotFound
        It names what is not there.
    JobError
        Not exactly one thing is asked for, or it has no layers.
    """
    shelf = services.shelf()
    given = [each for each in (asked.overlap_id, asked.panel_id, asked.strip, asked.stack) if each is not None]
    if len(given) != 1:
        raise JobError("a draft is of an overlap, a panel, a strip or a stack: one of these")
    if asked.overlap_id is not None:
        overlap = held.read(services.workspace, OverlapItem, asked.overlap_id).item
        job, _ = services.jobs.of(overlap, shelf)
        if not job.stack:
            raise JobError(f"{overlap.name} has no layers yet")
        name = overlap.colour_name or asked.name or composed_name(job)
        return [_draft(name, job.stack, overlap.card_id, shelf)]
    if asked.panel_id is not None:
        return _of_panel(services, asked.panel_id, shelf)
    table = shelf.table
    if asked.strip is not None:
        key = str(asked.strip.ink_id)
        ink = shelf.ink(key)
        load = asked.strip.load or shelf.loads[key]
        found = []
        for said, stack in strip_stacks(key, ink.formula, asked.strip.tool, load, asked.strip.water, table):
            strip = _draft(f"{ink.name}, {said}", stack, asked.card_id, shelf)
            found.append(strip.model_copy(update={"tags": ["my hand"]}))
        return found
    entries: list[Entry] = []
    for entry in asked.stack or []:
        key = str(entry.ink_id)
        lay = first_touch(key, shelf.ink(key).formula, entry.load or shelf.loads[key], table)
        tool = entry.tool or lay.tool
        usual = lay.passes if tool is lay.tool else 1.0
        lay = replace(lay, tool=tool, passes=entry.passes or usual)
        entries.append(lay if entry.over != "wet" else replace(lay, over=type(lay.over).WET))
    names = {key: ink.name for key, ink in shelf.inks.items()}
    name = asked.name or " under ".join(
        dict.fromkeys(names[entry.parts[0][0]] for entry in entries if isinstance(entry, LayDown))
    )
    return [_draft(name, tuple(entries), asked.card_id, shelf)]


def _of_panel(services: Services, number: int, shelf: Shelf) -> list[SwatchItem]:
    """Each band by itself, and the middle of each seam with how hard its line would be."""
    made = services.panels.made(held.read(services.workspace, PanelItem, number).item, shelf)
    found = made.study()
    lays = [band.lay for band in found.panel.bands]
    names = {key: ink.name for key, ink in made.job.inks}
    card = made.plan.card_id
    items = [_draft(f"{made.plan.name}: {names[lay.parts[0][0]]}"[:200], (lay,), card, shelf) for lay in lays]
    for seam in found.seams:
        pair = sorted(seam.pair, key=list(found.work.order).index)
        stack = tuple(lays[n] for n in pair)
        called = " and ".join(names[lays[n].parts[0][0]] for n in seam.pair)
        item = _draft(f"{made.plan.name}: {called}"[:200], stack, card, shelf)
        items.append(item.model_copy(update={"line_step": round(seam.hardest, 2), "tags": ["seam"]}))
    return items


def _draft(name: str, stack: Sequence[Entry], card_id: int | None, shelf: Shelf) -> SwatchItem:
    entries = [SwatchEntry.of(entry, shelf.inks) for entry in stack]
    called = shelf.card_name(card_id) if card_id is not None else ""
    return SwatchItem(name=name[:200], card_id=card_id, card_called=called, stack=entries, laid_on=date.today())


def next_to_lay(services: Services, most: int) -> NextOut:
    """The squares that would teach the most about what is planned and owned."""
    shelf = services.shelf()
    table = shelf.table
    planned, card_id = _planned(services, shelf)
    possible: list[Job] = []
    owned = [key for key, _ in shelf.owned.inks]
    # Inks of what is planned come first, then the others of the stash.
    wanted = dict.fromkeys(key for job in planned for key, _ in job.inks)
    keys = [key for key in [*wanted, *owned] if key in dict(shelf.owned.inks)]
    keys = list(dict.fromkeys(keys))[:_INKS]
    for key in keys:
        job = _plain(shelf.job(card_id, [key]))
        lay = first_touch(key, shelf.ink(key).formula, shelf.loads[key], table)
        possible.append(replace(job, stack=(lay,)))
        possible.append(replace(job, stack=(replace(lay, passes=max(1.0, round(lay.passes / 3))),)))
    pairs = [job for job in planned if len({key for key, _ in job.inks}) > 1][:_PAIRS]
    possible += pairs
    pages = services.books.pages(shelf)
    logged = [
        one
        for page in pages
        if not page.item.left_out
        for seen in page.item.sightings
        if (one := observed(page, seen, False, shelf)) is not None
    ]
    known: list[Observation] = [replace(each, job=_plain(each.job)) for each in logged]
    found = next_squares(planned or possible, possible, known, table, most)
    items = []
    for square in found:
        job = possible[square.place]
        item = _draft(composed_name(job), job.stack, _card_of(job, shelf, card_id), shelf)
        items.append(item.model_copy(update={"tags": ["next squares"]}))
    return NextOut(swatches=items, texts=[_taught(square, possible, shelf) for square in found], page=Page.A4)


def _taught(one: NextSquare, possible: Sequence[Job], shelf: Shelf) -> str:
    job = possible[one.place]
    names = " and ".join(shelf.ink(key).name for key in one.about)
    share = 1 - one.after / one.before if one.before else 0.0
    much = "takes away most" if share > 0.3 else "takes away a good part" if share > 0.12 else "takes away some"
    line = " ".join(entry_line(entry, dict(job.inks)) for entry in job.stack)
    return f"{line} It {much} of the doubt that is left about {names} and the tool."


def _planned(services: Services, shelf: Shelf) -> tuple[list[Job], int | None]:
    """What is planned: overlaps as they lie, neighbours of panels; and the card that most of it is on."""
    found: list[tuple[Job, int | None]] = []
    for overlap in held.read_all(services.workspace, OverlapItem):
        try:
            job, _ = services.jobs.of(overlap.item, shelf)
        except WempaError:
            continue
        if job.stack:
            found.append((job, overlap.item.card_id))
    for panel in held.read_all(services.workspace, PanelItem):
        try:
            made = services.panels.made(panel.item, shelf)
            made.check()
        except WempaError:
            continue
        lays = [band.lay for band in made.panel.bands]
        for one, other in pairwise(lays):
            keys = {key for lay in (one, other) for key, _ in lay.parts}
            inks = tuple((key, ink) for key, ink in made.job.inks if key in keys)
            found.append((replace(made.job, inks=inks, stack=(one, other)), made.plan.card_id))
    found = found[:_PLANS]
    cards = [card for _, card in found]
    usual = max(set(cards), key=cards.count) if cards else next(iter(shelf.cards), None)
    return [_plain(job) for job, _ in found], usual


def _plain(job: Job) -> Job:
    """A job with nothing in it but what its colour depends on; all pads are taken as normal."""
    inks = tuple((key, replace(ink, pad=None)) for key, ink in job.inks)
    return as_seen(replace(job, inks=inks, stash=Stash()), Look.DRY)


def _card_of(job: Job, shelf: Shelf, usual: int | None) -> int | None:
    return next((number for number, card in shelf.cards.items() if card == job.cardstock), usual)
