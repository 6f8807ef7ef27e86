"""Overlaps handed over as a job that any copy of Wempa reads, or as a drawing; and jobs taken in."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import replace
from datetime import date
from typing import Any, Literal

from fastapi import Response

from wempa.api import held
from wempa.api.held import Held
from wempa.api.replies import download, drawn
from wempa.api.shelf import Shelf
from wempa.craft.errors import JobError
from wempa.craft.job import WHITE, Ink, Job, LayDown, said_of
from wempa.craft.limits import DEFAULT_MUD_LINE
from wempa.craft.overlap.crossing import crossing
from wempa.craft.overlap.showings import in_daylight
from wempa.craft.recipe import ink_names, recipe
from wempa.craft.vocabulary import Standing
from wempa.formats import job as contract
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.job_text import card_json, ink_json, job_json
from wempa.formats.overlap.items import OverlapItem, OverlapSettings, StackEntry
from wempa.formats.stash.items import read_item
from wempa.store import Change, Item, Workspace


def give(overlap: OverlapItem, job: Job, shelf: Shelf, form: DrawnForm | Literal["json"]) -> Response:
    """An overlap as a file."""
    name = f"wempa {overlap.name}"
    if form == "json":
        text = json.dumps(job_json(job), indent=1, ensure_ascii=False) + "\n"
        return download(text, "application/json", f"{name}.json")
    # The drawing libraries take a while to import, and are needed only where something is printed.
    from wempa.formats.overlap import overlap_sheet

    inks = dict(job.inks)
    card = next((each for each, found in shelf.owned.cards if found == shelf.cards.get(overlap.card_id or 0)), None)
    said = overlap_sheet.OverlapText(
        title=overlap.name,
        card=card or "white card",
        colour_name=overlap.colour_name,
        inks=[ink_names(entry, inks) for entry in job.stack if isinstance(entry, LayDown)],
        recipe=recipe(job),
        light=job.illuminant.phrase,
        date=date.today().isoformat(),
    )
    return drawn(overlap_sheet.draw(crossing(job, shelf.wanted(job)), said, job.mud_line), form, name)


def take_in(workspace: Workspace, data: bytes, shelf: Shelf) -> Held[OverlapItem]:
    """Store the overlap of a job file; raises `JobError` or `StoreError`.

    An ink or card that the shelf has already is used; another comes with the overlap, the
    ink as a reference, so that nothing is taken for owned that is not.
    """
    jobs, listed = contract.read_jobs(data)
    if listed:
        raise JobError("this file holds a list of jobs; an overlap is one job")
    (job,) = jobs
    # A job may have been handed over under a lamp; its colours are stored as they are by day.
    known = in_daylight(replace(job, inks=tuple(shelf.inks.items()), cardstock=WHITE))
    cards = {
        number: in_daylight(replace(job, inks=(), cardstock=card)).cardstock for number, card in shelf.cards.items()
    }
    writes: list[Change] = []
    inks: dict[str, int | str] = {}
    for key, ink in job.inks:
        number = _same_ink(ink, (*known.inks, *shelf.inks.items()))
        if number is None:
            inks[key] = f"new {len(writes)}"
            body = {name: value for name, value in ink_json(ink).items() if name not in ("pad", "name")}
            plain = {"name": ink.name or key, "formula": str(ink.formula), "ink": body}
            writes.append(("ink", None, read_item("ink", {**plain, "standing": Standing.REFERENCE}).stored(), None))
        else:
            inks[key] = number
    card: int | str | None = next(
        (number for number, each in cards.items() if job.cardstock in (each, shelf.cards[number])), None
    )
    if card is None and job.cardstock not in (WHITE, known.cardstock):
        card = f"new {len(writes)}"
        made = read_item("card", {"card": card_json(job.cardstock), "name": "Card of a job"})
        writes.append(("card", None, made.stored(), None))

    def overlap(stored: Any) -> Item:
        def number(found: int | str) -> int:
            return found if isinstance(found, int) else int(stored[int(found.split()[1])]["id"])

        said = [said_of(entry) for entry in job.stack]
        parts = [tuple([(str(number(inks[key])), share) for key, share in each.parts]) for each in said]
        line = None if job.mud_line == DEFAULT_MUD_LINE else job.mud_line
        return OverlapItem(
            name="Overlap of a job file",
            card_id=None if card is None else number(card),
            settings=OverlapSettings(illuminant=job.illuminant, mud_line=line, constants=dict(job.constants)),
            stack=[StackEntry.of(replace(each, parts=own)) for each, own in zip(said, parts, strict=True)],
        ).stored()

    writes.append(("overlap", None, overlap, None))
    return held.as_held(OverlapItem, workspace.write_many(writes, what="Take in an overlap")[-1])


def _same_ink(ink: Ink, shelf: Iterable[tuple[str, Ink]]) -> int | None:
    for key, each in shelf:
        # An ink is the same whatever its pad is like today.
        if each == ink or (each.name, each.formula, each.swatch) == (ink.name, ink.formula, ink.swatch):
            return int(key)
    return None
