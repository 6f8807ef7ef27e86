"""Routes of the Overlap screen: stored overlaps, what they look like, what would help."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from fastapi import Header, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.held import Held, Unreadable
from wempa.api.items import first_readable, free_name, store_copy
from wempa.api.models import LookOut
from wempa.api.overlap import hand_over
from wempa.api.replies import api_router, nothing, revision_of, written
from wempa.api.services import Services, ServicesNow
from wempa.api.shelf import Shelf
from wempa.craft.colour.naming import compare, describe
from wempa.craft.errors import WempaError
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import FIRST_LAYERS
from wempa.craft.overlap.amount_field import amount_field
from wempa.craft.overlap.crossing import pair_alone
from wempa.craft.overlap.edits import newly_laid
from wempa.craft.overlap.fixes import find_fixes
from wempa.craft.overlap.nudges import Nudge, less_of, more_of, nudges
from wempa.craft.overlap.presets import use_preset
from wempa.craft.overlap.showings import dose_strips, in_lights, nearest_inks, parted_by_light
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Fix
from wempa.craft.vocabulary import Board, Illuminant, Preset
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.job import error_text
from wempa.formats.job_result import coded
from wempa.formats.overlap.items import OverlapItem, StackEntry
from wempa.optics import colorimetry as cm
from wempa.store import StoreError

from .desk import desk_of
from .edits import edited, first_entry
from .jobs import Jobs
from .models import (
    Advice,
    AmountFieldOut,
    Beside,
    FixOut,
    LightOut,
    NeighbourOut,
    NewOverlapIn,
    NudgeOut,
    OverlapDesk,
    OverlapSummary,
    PresetIn,
    StackEdit,
    StripOut,
)
from .shown import field_out, look_out, strip_out

_LIGHTS = (Illuminant.D65, Illuminant.A, Illuminant.LED_B3)

router = api_router()


@router.get("/overlaps")
def overlaps(services: ServicesNow) -> list[OverlapSummary]:
    """Every stored overlap with its colour and verdict."""
    readable, unreadable = held.parted(OverlapItem, services.workspace.read_all("overlap"))
    listed = [_summary(services, overlap) for overlap in readable]
    listed += [_in_trouble(each, each.trouble) for each in unreadable]
    return sorted(listed, key=lambda each: each.id)


def _summary(services: Services, overlap: Held[OverlapItem]) -> OverlapSummary:
    try:
        job, shelf = services.jobs.of(overlap.item)
    except WempaError as error:
        return _in_trouble(overlap, error_text(error))
    mark = (overlap.revision, shelf)
    return services.overlap_summaries.get(overlap.id, mark, lambda: _summarised(overlap, job, shelf))


def _in_trouble(overlap: Held[OverlapItem] | Unreadable, trouble: str) -> OverlapSummary:
    return OverlapSummary(
        id=overlap.id,
        revision=overlap.revision,
        name=overlap.name,
        colour_name=overlap.item.colour_name if isinstance(overlap, Held) else "",
        card="",
        hex="",
        words="",
        kind=None,
        mud=None,
        trouble=trouble,
    )


def _summarised(overlap: Held[OverlapItem], job: Job, shelf: Shelf) -> OverlapSummary:
    found = predict(replace(job, stash=Stash()), shelf.wanted(job))
    bare = predict(replace(job, stash=Stash(), stack=()))
    return OverlapSummary(
        id=overlap.id,
        revision=overlap.revision,
        name=overlap.name,
        colour_name=overlap.item.colour_name,
        card=bare.colour.hex,
        hex=found.colour.hex,
        words=describe(found.colour.lab.tolist()),
        kind=found.verdict.kind,
        mud=round(found.verdict.mud, 1),
    )


@router.post("/overlaps", status_code=201, response_model=OverlapDesk)
def make_overlap(services: ServicesNow, body: OverlapItem) -> Response:
    """Store a new overlap."""
    return desk_of(services, held.write(services.workspace, body, what=f"Make {body.name}"), 201)


@router.post("/overlaps/new", status_code=201, response_model=OverlapDesk)
def begin_overlap(services: ServicesNow, body: NewOverlapIn) -> Response:
    """Store a new overlap on the first card: empty, or with the first inks at hand crossing."""
    shelf = services.shelf()
    name = free_name(services.workspace, "overlap", "New overlap" if body.empty else "On the table")
    inks = [] if body.empty else [key for key, _ in shelf.owned.inks[:FIRST_LAYERS]]
    made = OverlapItem(
        name=name,
        card_id=next(iter(shelf.cards), None),
        settings=body.settings,
        stack=[StackEntry.of(first_entry(key, shelf, body.settings.constants)) for key in inks],
    )
    return desk_of(services, held.write(services.workspace, made, what=f"Make {name}"), 201)


@router.post("/overlaps/import", status_code=201, response_model=OverlapDesk)
async def take_in(services: ServicesNow, request: Request) -> Response:
    """Store the overlap of a job file; inks and cards that are not on the shelf come with it."""
    data = await request.body()

    def store() -> Response:
        return desk_of(services, hand_over.take_in(services.workspace, data, services.shelf()), 201)

    return await run_in_threadpool(store)


@router.get("/overlaps/open", response_model=OverlapDesk | None)
def open_overlap(services: ServicesNow, overlap: int = 0) -> Response:
    """The overlap asked for, or the first if that is gone; null where there is none."""
    found = first_readable(services, OverlapItem, overlap)
    return nothing() if found is None else desk_of(services, found)


@router.get("/overlaps/{item_id}", response_model=OverlapDesk)
def overlap(services: ServicesNow, item_id: int) -> Response:
    """An overlap with what it looks like."""
    return desk_of(services, _read(services, item_id))


def _read(services: Services, item_id: int) -> Held[OverlapItem]:
    return held.read(services.workspace, OverlapItem, item_id)


@router.put("/overlaps/{item_id}", response_model=OverlapDesk)
def change_overlap(
    services: ServicesNow,
    item_id: int,
    body: OverlapItem,
    if_match: Annotated[str | None, Header()] = None,
    what: Annotated[str | None, Query(max_length=200)] = None,
) -> Response:
    """Change an overlap; `If-Match` carries the revision it was read with, `what` says what was done."""
    said = f"{what} ({body.name})" if what else f"Change {body.name}"
    revision = revision_of(if_match)
    return desk_of(services, held.write(services.workspace, body, over=item_id, revision=revision, what=said[:200]))


@router.delete("/overlaps/{item_id}")
def delete_overlap(
    services: ServicesNow, item_id: int, if_match: Annotated[str | None, Header()] = None
) -> list[OverlapSummary]:
    """Delete an overlap; undo brings it back."""
    held.delete(services.workspace, OverlapItem, item_id, revision_of(if_match))
    return overlaps(services)


@router.post("/overlaps/{item_id}/copy", status_code=201, response_model=OverlapDesk)
def copy_overlap(services: ServicesNow, item_id: int) -> Response:
    """Store the same once more under another name."""
    return desk_of(services, store_copy(services.workspace, OverlapItem, item_id), 201)


@router.post("/overlaps/{item_id}/edit", response_model=OverlapDesk)
def edit_overlap(
    services: ServicesNow, item_id: int, body: StackEdit, if_match: Annotated[str | None, Header()] = None
) -> Response:
    """Change the stack as one does at the table: lay, treat, take out, move, mix, unmix, swap, apply a proposal."""
    overlap = _read(services, item_id)
    changed, picked = edited(body, overlap.item, services.shelf())
    what, read = f"{body.what} ({overlap.name})"[:200], revision_of(if_match)
    # The change is made from what was read a moment ago, so it never overwrites a newer state.
    revision = overlap.revision if read is None else read
    stored = held.write(services.workspace, changed, over=item_id, revision=revision, what=what)
    return desk_of(services, stored, picked=picked)


@router.post("/overlaps/{item_id}/preset", response_model=OverlapDesk)
def preset(
    services: ServicesNow, item_id: int, body: PresetIn, if_match: Annotated[str | None, Header()] = None
) -> Response:
    """Put the inks together in a ready-made way."""
    overlap = _read(services, item_id).item
    if body.preset is Preset.WHITE_BARRIER and overlap.laid:
        raise StoreError("a barrier goes under everything, and something is on the card already")
    job, shelf = services.jobs.of(overlap)
    made = services.jobs.change(use_preset(body.preset, job, shelf.loads), overlap, job, shelf)
    if made is None:
        raise StoreError("that takes an ink which is not on the shelf")
    laid = min(overlap.laid, len(made.stack)) if body.preset is Preset.COLOURED_CARD else 0
    changed = overlap.model_copy(update={"stack": made.stack, "card_id": made.card_id, "laid": laid})
    what, revision = f"{body.preset.replace('_', ' ').capitalize()} ({overlap.name})", revision_of(if_match)
    picked = newly_laid(overlap.said(), changed.said())
    stored = held.write(services.workspace, changed, over=item_id, revision=revision, what=what)
    return desk_of(services, stored, picked=picked)


@router.get("/overlaps/{item_id}/advice", response_model=Advice)
@heavy(HeavyWork.QUICK)
def advice(services: ServicesNow, item_id: int, board: Board = Board.HELP) -> Response:
    """Against the whole shelf: fixes (`help`), nudges, or the colour's neighbours and its look in other lights."""
    stored = _read(services, item_id)
    item = stored.item
    job, shelf = services.jobs.of(item)
    wanted, laid = shelf.wanted(job), min(item.laid, len(job.stack))
    found = Advice(revision=stored.revision, board=board)
    if not job.stack:
        return written(found)
    full = predict(replace(job, stash=Stash()), wanted)
    if board is Board.HELP:
        found.fixes = [_fix_out(services.jobs, fix, item, job, shelf) for fix in find_fixes(job, full, wanted)]
    elif board is Board.NUDGE:
        found.nudges = [_nudge_out(services.jobs, nudge, None, item, job, shelf) for nudge in nudges(job, laid, wanted)]
        for index, entry in enumerate(job.stack):
            if isinstance(entry, LayDown):
                for nudge in (more_of(job, index, laid, wanted), less_of(job, index, laid, wanted)):
                    found.nudges.append(_nudge_out(services.jobs, nudge, index, item, job, shelf))
    else:
        views = in_lights(job, _LIGHTS)
        found.neighbours = [
            NeighbourOut(ink_id=int(each.key), text=each.text, delta_e=round(each.delta_e, 1))
            for each in nearest_inks(full.colour.lab, job)
        ]
        found.lights = [
            LightOut(
                illuminant=view.illuminant,
                bare=view.bare.colour.hex,
                alone=[each.colour.hex for each in view.alone],
                full=view.full.colour.hex,
                words=describe(view.full.colour.lab.tolist()),
            )
            for view in views
        ]
        found.notes = coded(parted_by_light(job, views))
    return written(found)


def _fix_out(jobs: Jobs, fix: Fix, item: OverlapItem, job: Job, shelf: Shelf) -> FixOut:
    # What lies on the card already can neither be taken off nor moved to another card.
    laid = item.laid
    after = fix.job
    if after is not None and laid and (after.stack[:laid] != job.stack[:laid] or after.cardstock != job.cardstock):
        after = None
    return FixOut.model_construct(
        code=fix.code,
        text=fix.text,
        mud=None if fix.mud is None else round(fix.mud, 1),
        shown=[look_out(each) for each in fix.shown],
        change=None if after is None else jobs.change(after, item, job, shelf),
    )


def _nudge_out(jobs: Jobs, nudge: Nudge, entry: int | None, item: OverlapItem, job: Job, shelf: Shelf) -> NudgeOut:
    return NudgeOut.model_construct(
        code=nudge.code,
        entry=entry,
        text=nudge.text,
        after=None if nudge.after is None else look_out(nudge.after),
        change=None if nudge.job is None else jobs.change(nudge.job, item, job, shelf),
    )


@router.get("/overlaps/{item_id}/pair", response_model=LookOut)
def pair(services: ServicesNow, item_id: int, below: int, above: int) -> Response:
    """One lay-down over another, by position among the lay-downs: margin, reasons, spectrum."""
    job, shelf = services.jobs.of(_read(services, item_id).item)
    return written(look_out(predict(pair_alone(job, below, above), shelf.wanted(job))))


@router.get("/overlaps/{item_id}/beside/{other_id}")
def beside(services: ServicesNow, item_id: int, other_id: int) -> Beside:
    """How the colour of one overlap compares with another's."""
    labs = []
    for number in (item_id, other_id):
        job, shelf = services.jobs.of(_read(services, number).item)
        labs.append(predict(replace(job, stash=Stash())).colour.lab)
    text = compare(labs[0].tolist(), labs[1].tolist(), shelf.table)
    return Beside(delta_e=round(float(cm.delta_e(labs[0], labs[1])), 1), text=text)


@router.get("/overlaps/{item_id}/strips")
@heavy(HeavyWork.QUICK)
def strips(services: ServicesNow, item_id: int) -> list[StripOut]:
    """Each lay-down and the whole stack from a breath to saturated."""
    job, shelf = services.jobs.of(_read(services, item_id).item)
    return [strip_out(strip, str(job.illuminant)) for strip in dose_strips(job, shelf.wanted(job))]


@router.get("/overlaps/{item_id}/amounts")
@heavy(HeavyWork.QUICK)
def amounts(services: ServicesNow, item_id: int, at: int | None = None) -> AmountFieldOut:
    """How much of each: two inks in every amount against one another, a third in one step of its own."""
    job, shelf = services.jobs.of(_read(services, item_id).item)
    return field_out(amount_field(job, at, shelf.wanted(job)), str(job.illuminant))


@router.get("/overlaps/{item_id}/export.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def export(services: ServicesNow, item_id: int, form: DrawnForm | Literal["json"]) -> Response:
    """The overlap as a job, or drawn."""
    overlap = _read(services, item_id).item
    job, shelf = services.jobs.of(overlap)
    return hand_over.give(overlap, job, shelf, form)
