"""Routes of the Panel screen: stored panels, their pictures, what would save a seam, what a cut leaves."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

from fastapi import Header, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from wempa.api import held
from wempa.api.heavy.lanes import HeavyWork, heavy
from wempa.api.held import Held
from wempa.api.items import first_readable, free_name, store_copy, with_what_it_needs
from wempa.api.models import Strict
from wempa.api.overlap.desk import desk_of
from wempa.api.overlap.models import OverlapDesk
from wempa.api.replies import Framed, api_router, download, framed, nothing, revision_of, sent_as, written
from wempa.api.services import Services, ServicesNow
from wempa.craft.errors import JobError
from wempa.craft.job import Stash
from wempa.craft.limits import FIRST_BANDS
from wempa.craft.panels.compare import compared
from wempa.craft.panels.fixes import seam_fixes
from wempa.craft.panels.from_palette import inks_for
from wempa.craft.panels.panel import Panel, name_of
from wempa.craft.panels.picture import picture
from wempa.craft.panels.shapes import moved, opening
from wempa.craft.panels.study import through
from wempa.craft.panels.top_up import to_match, top_ups
from wempa.craft.vocabulary import Frame, Opening
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.panel_result import PlannedPanel
from wempa.formats.panels.plan import BandIn, PanelItem
from wempa.formats.panels.svg_path import outlines
from wempa.formats.stash.palette import read_palette
from wempa.optics import colorimetry as cm

from .edits import EditedPanel, edited
from .models import (
    BesidePanel,
    HeldPanel,
    LeftOut,
    PaintedPanel,
    PanelDesk,
    PanelEdit,
    PanelOf,
    PanelOut,
    PanelSummary,
    SeamFixOut,
    StudyOut,
    ThroughIn,
    ThroughOut,
)
from .planned import made_from_file, planned
from .seams import overlap_of_seam, seam_as_overlap
from .shown import fix_out, study_out
from .summaries import summaries

# A picture for the screen has no more pixels than this.
_SCREEN_PIXELS = 4_000_000
router = api_router()


@router.get("/panels")
@heavy(HeavyWork.QUICK)
def panels(services: ServicesNow) -> list[PanelSummary]:
    """Every stored panel with its colours."""
    return summaries(services)


def _read(services: Services, item_id: int) -> PanelItem:
    return held.read(services.workspace, PanelItem, item_id).item


def _desk(services: Services, stored: Held[PanelItem], status: int = 200) -> Response:
    return written(_desk_of(services, stored), status)


def _desk_of(services: Services, stored: Held[PanelItem]) -> PanelDesk:
    can_undo, can_redo = services.workspace.can_step()
    # It gets as many seams as there are between its bands, so that each can be changed.
    plan = stored.item.with_seams()
    out = PanelOut.model_construct(**dict(plan), id=stored.id, revision=stored.revision)
    return PanelDesk.model_construct(panel=out, can_undo=can_undo, can_redo=can_redo)


@router.post("/panels", status_code=201, response_model=PanelDesk)
def make_panel(services: ServicesNow, body: PanelItem) -> Response:
    """Store a new panel."""
    return _made(services, body)


def _made(services: Services, plan: PanelItem) -> Response:
    return _desk(services, held.write(services.workspace, plan, what=f"Make {plan.name}"[:200]), 201)


@router.get("/panels/open", response_model=PanelDesk | None)
def open_panel(services: ServicesNow, panel: int = 0) -> Response:
    """The panel asked for, or the first if that is gone; null where there is none."""
    found = first_readable(services, PanelItem, panel)
    return nothing() if found is None else _desk(services, found)


@router.put("/panels/{item_id}", response_model=PanelDesk)
def change_panel(
    services: ServicesNow,
    item_id: int,
    body: PanelItem,
    if_match: Annotated[str | None, Header()] = None,
    what: Annotated[str | None, Query(max_length=200)] = None,
) -> Response:
    """Change a panel; `If-Match` carries the revision it was read with, `what` says what was done."""
    said = f"{what} ({body.name})" if what else f"Change {body.name}"
    revision = revision_of(if_match)
    return _desk(services, held.write(services.workspace, body, over=item_id, revision=revision, what=said[:200]))


@router.delete("/panels/{item_id}")
def delete_panel(
    services: ServicesNow, item_id: int, if_match: Annotated[str | None, Header()] = None
) -> list[PanelSummary]:
    """Delete a panel; undo brings it back."""
    held.delete(services.workspace, PanelItem, item_id, revision_of(if_match))
    return panels(services)


@router.post("/panels/{item_id}/copy", status_code=201, response_model=PanelDesk)
def copy_panel(services: ServicesNow, item_id: int) -> Response:
    """Store the same once more under another name."""
    return _desk(services, store_copy(services.workspace, PanelItem, item_id), 201)


@router.post("/panels/new", status_code=201, response_model=PanelDesk)
def begin_panel(services: ServicesNow) -> Response:
    """Store a new panel of the first inks at hand, as large as the last one and on its card."""
    inks = [BandIn(ink_id=int(key)) for key, _ in services.shelf().owned.inks[:FIRST_BANDS]]
    name = free_name(services.workspace, "panel", "New panel")
    return _made(services, _like_the_last(services).model_copy(update={"name": name, "bands": inks}))


def _like_the_last(services: Services) -> PanelItem:
    """A panel without bands, of the size, unit, frame, sheet and card of the one changed last."""
    shelf = services.shelf()
    newest = max(held.read_all(services.workspace, PanelItem), key=lambda each: each.changed, default=None)
    last = None if newest is None else newest.item
    if last is None or (last.card_id is not None and last.card_id not in shelf.cards):
        return PanelItem(name="New panel", card_id=next(iter(shelf.cards), None))
    same = last.model_dump(include={"width", "height", "unit", "bleed", "frame", "frame_width", "mat_id", "sheet"})
    return PanelItem.model_validate({**same, "name": "New panel", "card_id": last.card_id})


@router.post("/panels/of", status_code=201, response_model=PanelDesk)
def panel_of_set(services: ServicesNow, body: PanelOf) -> Response:
    """Store a new panel of a set of inks in the order in which its bands lie."""
    shelf = services.shelf()
    for band in body.bands:
        shelf.ink(str(band.ink_id))
    name = free_name(services.workspace, "panel", body.name)
    changes: dict[str, Any] = {"name": name, "bands": body.bands}
    if "card_id" in body.model_fields_set:
        changes["card_id"] = body.card_id
    return _made(services, _like_the_last(services).model_copy(update=changes))


@router.post(
    "/panels/of-palette",
    status_code=201,
    response_model=PanelDesk,
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {"schema": {"title": "Palette"}}}}},
)
async def panel_of_palette(services: ServicesNow, request: Request) -> Response:
    """Store a new panel of the owned inks that come nearest to the colours of a palette file."""
    body = await request.body()
    return await run_in_threadpool(lambda: _of_palette(services, body))


def _of_palette(services: Services, body: bytes) -> Response:
    palette = read_palette(body)
    shelf = services.shelf()
    job = shelf.job(None, [key for key, _ in shelf.owned.inks])
    bands = [BandIn(ink_id=int(key)) for key in inks_for(palette.colours, job)]
    name = free_name(services.workspace, "panel", (palette.title or "From a palette")[:180])
    return _made(services, _like_the_last(services).model_copy(update={"name": name, "bands": bands}))


@router.get("/panels/{item_id}/small.png", response_class=Response)
@heavy(HeavyWork.QUICK)
def small_picture(services: ServicesNow, item_id: int, high: Annotated[int, Query(ge=16, le=600)] = 160) -> Response:
    """A stored panel painted small, with its border and mat."""
    from .drawing import png, shown_of

    made = services.panels.made(_read(services, item_id))
    if not made.plan.bands:
        raise JobError("this panel has no bands yet, so there is nothing to show", ("bands",))
    mat = 2 * made.plan.frame_width if made.plan.frame is Frame.MAT else 0.0
    per_mm = high / (made.plan.height + mat)
    return Response(
        png(shown_of(made, per_mm, False), per_mm),
        media_type="image/png",
        headers={"cache-control": "private, max-age=60"},
    )


class View(Strict):
    """How a panel is painted for the screen, in an address."""

    per_mm: Annotated[float, Field(gt=0, le=48)] = 4.0
    wet: bool = False
    box: Annotated[str | None, Field(max_length=80)] = None
    """The part that is shown: left, top, right, bottom in mm, with commas."""


@router.post("/panels/{item_id}/edit", response_class=Response, responses=sent_as(Framed, PaintedPanel))
@heavy(HeavyWork.QUICK)
def edit_panel(
    services: ServicesNow,
    item_id: int,
    body: PanelEdit,
    view: Annotated[View, Query()],
    if_match: Annotated[str | None, Header()] = None,
) -> Response:
    """Change a panel as one does at the table, store it, paint it: `PaintedPanel`, then the picture."""
    stored, read = held.read(services.workspace, PanelItem, item_id), revision_of(if_match)
    after = edited(body, stored.item if body.panel is None else body.panel, services.panels.made)
    # A panel that cannot be painted is not stored.
    study, pixels = _painted(services, after.panel, view)
    if after.done:
        what = f"{body.what or 'Change'} ({after.panel.name})"[:200]
        # The change is made from what was read a moment ago, so it never overwrites a newer state.
        revision = stored.revision if read is None else read
        stored = held.write(services.workspace, after.panel, over=item_id, revision=revision, what=what)
    return framed(_after(after, study, _desk_of(services, stored)), pixels)


@router.post("/panels/held", response_class=Response, responses=sent_as(Framed, PaintedPanel))
@heavy(HeavyWork.QUICK)
def hold_panel(services: ServicesNow, body: HeldPanel, view: Annotated[View, Query()]) -> Response:
    """A panel as it is dragged, changed and painted, not stored: `PaintedPanel`, then the picture."""
    after = edited(body, body.panel, services.panels.made)
    study, pixels = _painted(services, after.panel, view)
    return framed(_after(after, study, None), pixels)


def _after(after: EditedPanel, study: StudyOut, desk: PanelDesk | None) -> PaintedPanel:
    return PaintedPanel.model_construct(panel=after.panel, desk=desk, picked=after.picked, done=after.done, study=study)


@router.post("/panels/picture", response_class=Response, responses=sent_as(Framed, StudyOut))
@heavy(HeavyWork.QUICK)
def paint(services: ServicesNow, body: PanelItem, view: Annotated[View, Query()]) -> Response:
    """A panel, stored or not: length of the head (four bytes), `StudyOut`, then the picture."""
    return framed(*_painted(services, body, view))


def _painted(services: Services, plan: PanelItem, view: View) -> tuple[StudyOut, bytes]:
    """All that is told of a panel, and its picture, rows of red, green and blue."""
    made = services.panels.made(plan)
    if not plan.bands:
        return study_out(made, None, 0, 0), b""
    found = made.study()
    part = _box(view.box, made.panel)
    if (part[2] - part[0]) * (part[3] - part[1]) * view.per_mm**2 > _SCREEN_PIXELS:
        raise JobError("this is more than a screen shows; look at a smaller part", ("box",))
    bare = replace(made.job, stash=Stash())
    order, per_mm = found.work.order, view.per_mm
    pixels = picture(bare, made.panel, found.placed, order, per_mm, wet=view.wet, box=part, seen=found.line)
    return study_out(made, found, *pixels.shape[:2]), pixels.tobytes()


@router.get("/panels/{item_id}/fixes")
@heavy(HeavyWork.QUICK)
def fixes(services: ServicesNow, item_id: int, seam: int) -> list[SeamFixOut]:
    """What would save a seam, best first; each one predicted as a whole panel."""
    made = services.panels.made(_read(services, item_id))
    found = made.study()
    return [fix_out(fix, made, found, seam) for fix in seam_fixes(made.job, made.panel, found, seam, made.wanted)]


@router.post("/panels/through")
@heavy(HeavyWork.QUICK)
def see_through(services: ServicesNow, body: ThroughIn) -> ThroughOut:
    """Which colours a cut leaves."""
    made = services.panels.made(body.panel)
    window = body.window
    own = outlines(window.path) if window.kind is Opening.OWN else ()
    rings = moved(opening(window.kind, window.width, window.height, own), window.x, window.y)
    outline = [[[round(x, 2), round(y, 2)] for x, y in ring] for ring in rings]
    if not body.panel.bands:
        return ThroughOut(outline=outline, left=[], lost=[], top_ups=[], to_match=[], colours=0)
    found, light = made.study(), str(made.job.illuminant)
    seen = through(made.job, made.panel, found, rings)
    names = [name_of(made.job, made.panel, k) for k in range(len(found.bands))]
    left, lost = [], []
    for name, band, share in zip(names, found.bands, seen.bands, strict=True):
        code = cm.hexes_from_lab(band.lab[None], light)[0]
        if share > 0:
            left.append(LeftOut(name=name, hex=code, share=round(share, 3)))
        else:
            lost.append(name)
    for seam, share in zip(found.seams, seen.seams, strict=True):
        if share > 0:
            between = f"{names[seam.pair[0]]} into {names[seam.pair[1]]}"
            code = cm.hexes_from_lab(seam.lab[None], light)[0]
            left.append(LeftOut(name=between, hex=code, share=round(share, 3)))
    left.sort(key=lambda each: -each.share)
    gone = [k for k, share in enumerate(seen.bands) if share == 0 and names[k] not in {each.name for each in left}]
    first = list({names[k]: k for k in reversed(gone)}.values())[::-1]
    bare = replace(made.job, stash=Stash())
    return ThroughOut(
        outline=outline,
        left=left,
        lost=list(dict.fromkeys(lost)),
        top_ups=[each.text for each in top_ups(bare, made.panel, found, rings, first)],
        to_match=to_match(bare, made.panel, found, window.x, window.y),
        colours=seen.colours,
    )


@router.get("/panels/{item_id}/beside/{other_id}")
@heavy(HeavyWork.QUICK)
def beside(services: ServicesNow, item_id: int, other_id: int) -> BesidePanel:
    """How one panel compares with another, in a few sentences."""
    one, other = (_read(services, number) for number in (item_id, other_id))
    for plan in (one, other):
        if not plan.bands:
            raise JobError(f"{plan.name} has no bands yet")
    return BesidePanel(
        text=compared(services.panels.made(one).study(), services.panels.made(other).study(), services.shelf().table)
    )


@router.post("/panels/{item_id}/seams/{seam}/overlap", status_code=201, response_model=OverlapDesk)
def seam_to_overlap(services: ServicesNow, item_id: int, seam: int) -> Response:
    """The two inks of a seam as an overlap of their own, laid as on the panel."""
    plan = _read(services, item_id)
    overlap = overlap_of_seam(services.panels.made(plan), seam)
    what = f"Open a seam of {plan.name}"[:200]
    return desk_of(services, held.write(services.workspace, overlap, what=what), 201)


@router.post("/panels/{item_id}/seams/{seam}/take/{overlap_id}", response_model=PanelDesk)
def seam_from_overlap(services: ServicesNow, item_id: int, seam: int, overlap_id: int) -> Response:
    """Lay the two bands of a seam as an overlap has them: inks, tools, passes, order, wet or dry."""
    overlap = held.read(services.workspace, OverlapItem, overlap_id).item
    changed = seam_as_overlap(services.panels.made(_read(services, item_id)), overlap, seam)
    what = f"Seam of {overlap.name}"[:200]
    return _desk(services, held.write(services.workspace, changed, over=item_id, what=what))


@router.get("/panels/{item_id}/export.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def export(services: ServicesNow, item_id: int, form: DrawnForm | Literal["json"], wet: bool = False) -> Response:
    """The panel as a picture at 300 dots per inch, drawn at real size, or as its plan with its inks."""
    from . import files

    if form == "json":
        text = with_what_it_needs(services, "panel", item_id)
        return download(text, "application/json", f"wempa {_read(services, item_id).name}.json")
    return files.give(services.panels.made(_read(services, item_id)), form, wet)


@router.get("/panels/{item_id}/{sheet}.{form}", response_class=Response)
@heavy(HeavyWork.FILES)
def printed(services: ServicesNow, item_id: int, sheet: Literal["plan", "ruler"], form: DrawnForm) -> Response:
    """What is printed for the table: a plan on one page, or ruler strips at real size."""
    from . import files

    return files.sheet(services.panels.made(_read(services, item_id)), sheet, form)


@router.post(
    "/panel",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"title": "Workspace file that holds one panel"}}},
        }
    },
)
@heavy(HeavyWork.FILES)
async def plan_panel(request: Request) -> PlannedPanel:
    """Plan the one panel of a workspace file; nothing is stored."""
    body = await request.body()
    return await run_in_threadpool(lambda: planned(made_from_file(body)))


def _box(given: str | None, panel: Panel) -> tuple[float, float, float, float]:
    whole = panel.front.whole
    if given is None:
        return whole
    try:
        left, top, right, bottom = (float(part) for part in given.split(","))
    except ValueError as error:
        raise JobError("a part is left, top, right and bottom in mm, with commas between", ("box",)) from error
    # What lies beyond the panel is cut off. The comparison also refuses what is no number.
    if not (whole[0] <= left < right and whole[1] <= top < bottom):
        raise JobError("this part does not lie on the panel", ("box",))
    return left, top, min(right, whole[2]), min(bottom, whole[3])
