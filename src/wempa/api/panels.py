"""Routes of the Panel screen: stored panels, their pictures, what would save a seam, what a cut leaves."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from threading import Lock
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Header, Query, Response
from pydantic import BaseModel, Field

from wempa.craft import constants
from wempa.craft.colour.naming import compare, describe
from wempa.craft.errors import ConstantError, JobError
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import MAX_ITEMS, MAX_PATH, MAX_SIDE_MM
from wempa.craft.panels.cutting import cut_sheet
from wempa.craft.panels.fixes import SeamFix, seam_fixes
from wempa.craft.panels.panel import Panel, name_of, reach_of
from wempa.craft.panels.picture import picture
from wempa.craft.panels.shapes import moved, opening
from wempa.craft.panels.study import Study, study, through
from wempa.craft.prediction.prepare import prepare_card
from wempa.craft.vocabulary import Frame, Opening, Over, Topping, Upper, VerdictKind
from wempa.formats.job import Number
from wempa.formats.panel import BandIn, PanelPlan
from wempa.formats.result import CodedText, coded
from wempa.formats.svg_path import outlines
from wempa.formats.write import entry_json
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.store import NotFound, StoreError, Workspace

from .framing import binary, framed
from .models import Desk, OverlapSettings
from .overlaps import Jobs, copy_of, desk_of, revision_of, written
from .shelf import Shelf

# A picture for the screen has no more pixels than this.
_SCREEN_PIXELS = 4_000_000
_KEPT = 24


class PanelIn(PanelPlan):
    """A panel in terms of the stash."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    card_id: int | None = None
    settings: OverlapSettings = OverlapSettings()


class PanelOut(PanelIn):
    """A stored panel."""

    id: int
    revision: int


class PanelDesk(BaseModel):
    """A panel, and what can be undone."""

    panel: PanelOut
    can_undo: bool
    can_redo: bool


class PanelSummary(BaseModel):
    """A stored panel in the list of them."""

    id: int
    revision: int
    name: str
    size: str
    card: str
    """Hex of the card."""
    shown: list[str]
    """Hex of bands and in-betweens as they follow one another; empty where it cannot be predicted any more."""
    trouble: str


class BandSeenOut(BaseModel):
    """One band as it will show."""

    name: str
    begin: float
    """Where it begins to show by itself, mm along the line across the bands."""
    end: float
    laid_from: float
    """From where to where its ink goes, with what lies under or over others."""
    laid_to: float
    hex: str
    words: str
    widened: bool
    twin: int | None
    flags: list[CodedText]
    tool: str
    """How it is laid, where the plan leaves that open as well."""
    load: str
    passes: float


class SeamSeenOut(BaseModel):
    """One seam as it will show."""

    pair: list[int]
    """The two bands, by place."""
    begin: float
    end: float
    overlap: float
    feather: float
    hex: str
    words: str
    along: list[str]
    kind: VerdictKind
    mud: float
    muddy_mm: float
    hardest: float
    """ΔE00 per mm."""
    flags: list[CodedText]


class StepOut(BaseModel):
    """One band being laid."""

    band: int
    waits: float
    loads: int
    minutes: float


class WidestOut(BaseModel):
    """The largest step of colour over the panel."""

    delta_e: float
    between: str


class PieceOut(BaseModel):
    """One panel on the sheet, mm."""

    left: float
    top: float
    width: float
    height: float


class StudyOut(BaseModel):
    """All that is told of a panel; before its picture, rows of red, green and blue."""

    rows: int
    columns: int
    inked: list[float]
    """Width and height of the inked area, mm."""
    length: float
    """Of the line across the bands, mm."""
    card: str
    mat: str | None
    bands: list[BandSeenOut]
    seams: list[SeamSeenOut]
    order: list[int]
    reason: str
    steps: list[StepOut]
    minutes: float
    notes: list[CodedText]
    colours: int
    inks: int
    evenness: float | None
    widest: WidestOut | None
    pieces: list[PieceOut]
    waste: float
    """Share of the sheet, 0–1."""


class SeamFixOut(BaseModel):
    """A change that helps a seam, and the panel after it."""

    code: str
    text: str
    seam: str
    """What the seam comes to, in words."""
    shown: list[str]
    """Hex along the panel after it."""
    change: PanelIn


class WindowIn(BaseModel):
    """What a panel is cut to: a shape about a point, mm from the top left of the inked area."""

    kind: Opening
    x: Number
    y: Number
    width: Annotated[Number, Field(le=MAX_SIDE_MM)]
    height: Annotated[Number, Field(le=MAX_SIDE_MM)]
    path: Annotated[str, Field(max_length=MAX_PATH)] = ""


class ThroughIn(BaseModel):
    """A panel and a window over it."""

    panel: PanelIn
    window: WindowIn


class LeftOut(BaseModel):
    """One band or seam seen through a window."""

    name: str
    hex: str
    share: float
    """Of the window, 0–1."""


class ThroughOut(BaseModel):
    """What a window leaves."""

    outline: list[list[list[float]]]
    """Corners, mm from the top left of the inked area."""
    left: list[LeftOut]
    lost: list[str]
    colours: int


class BesidePanel(BaseModel):
    """One panel beside another."""

    text: list[str]


@dataclass(frozen=True, slots=True, eq=False)
class Made:
    """A panel in the core's terms."""

    plan: PanelIn
    job: Job
    panel: Panel
    shelf: Shelf
    wanted: Floats | None
    studies: Studies

    def study(self) -> Study:
        """What it will show; raises `JobError`."""
        return self.studies.of(self)


class Studies:
    """The last few studies: a panel is painted, then stored, then asked about."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._kept: OrderedDict[str, tuple[Shelf, Study]] = OrderedDict()

    def of(self, made: Made) -> Study:
        """What a panel will show; raises `JobError`."""
        key = made.plan.model_dump_json(exclude={"name", "id", "revision"})
        with self._lock:
            known = self._kept.get(key)
        # A shelf is another object once anything in the stash has changed.
        if known is not None and known[0] is made.shelf:
            return known[1]
        found = study(replace(made.job, stash=Stash()), made.panel, made.wanted)
        with self._lock:
            self._kept[key] = made.shelf, found
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
        return found


def make(plan: PanelIn, shelf: Shelf, studies: Studies) -> Made:
    """A panel in the core's terms.

    Raises
    ------
    NotFound
        An ink or card is not there.
    JobError
        It cannot be made into one: one sentence.
    """
    keys = [str(number) for number in plan.inks()]
    if plan.mat_id is not None and plan.mat_id not in shelf.cards:
        raise NotFound(f"there is no card {plan.mat_id}")
    for n, top in enumerate(plan.tops):
        if top.kind is Topping.INK and top.ink_id is None:
            raise JobError("an ink on top needs an ink", ("tops", n))
    for name, value in plan.settings.constants.items():
        try:
            constants.check_override(name, value)
        except ConstantError as error:
            raise JobError(str(error), ("settings", "constants", name)) from error
    bare = shelf.job(plan.card_id, keys, plan.settings.illuminant)
    bare = replace(bare, mud_line=plan.settings.mud_line, constants=tuple(sorted(plan.settings.constants.items())))
    job, panel = plan.to_core(bare, shelf.loads)
    dressed = shelf.dressed(replace(job, stack=()))
    return Made(plan, replace(job, stash=dressed.stash), panel, shelf, shelf.wanted(dressed), studies)


def stored_plan(item: dict[str, Any]) -> PanelIn:
    """The panel of a stored item."""
    columns = {key: item[key] for key in ("name", "card_id", "mat_id", "settings")}
    return PanelIn.model_validate({**item["plan"], **columns})


def as_stored(plan: PanelIn) -> dict[str, Any]:
    """A panel as the store lays it out."""
    whole = plan.model_dump(mode="json", exclude={"id", "revision"}, exclude_defaults=True)
    columns = {key: whole.pop(key, None) for key in ("name", "card_id", "mat_id")}
    return {**columns, "settings": whole.pop("settings", {}), "plan": whole}


def hex_of_card(shelf: Shelf, card_id: int | None, plan: PanelIn) -> str:
    """A card as the panel's light shows it."""
    job = shelf.job(card_id, [], plan.settings.illuminant)
    light = str(plan.settings.illuminant)
    return cm.hexes_from_lab(prepare_card(job.cardstock, light, job.constants).lab[None], light)[0]


def shown_colours(found: Study, light: str) -> list[str]:
    """Hex of bands and in-betweens as they follow one another."""
    colours = []
    for k, band in enumerate(found.bands):
        colours.append(band.lab)
        if k < len(found.seams) and found.seams[k].end > found.seams[k].begin:
            colours.append(found.seams[k].lab)
    return cm.hexes_from_lab(np.array(colours), light)


def _study_out(made: Made, found: Study | None, rows: int, columns: int) -> StudyOut:
    plan, light = made.plan, str(made.job.illuminant)
    sheet = plan.sheet
    pieces = cut_sheet((sheet.width, sheet.height), plan.cut_size(), turn=not sheet.grain)
    mat = plan.mat_id if plan.frame is Frame.MAT else None
    common: dict[str, Any] = {
        "rows": rows,
        "columns": columns,
        "inked": list(plan.inked()),
        "length": round(made.panel.front.length(), 2),
        "card": hex_of_card(made.shelf, plan.card_id, plan),
        "mat": None if mat is None else hex_of_card(made.shelf, mat, plan),
        "pieces": [PieceOut(left=p.left, top=p.top, width=p.width, height=p.height) for p in pieces.pieces],
        "waste": round(pieces.waste, 3),
    }
    if found is None:
        nothing: dict[str, Any] = {key: [] for key in ("bands", "seams", "order", "steps", "notes")}
        return StudyOut(**common, **nothing, reason="", minutes=0, colours=0, inks=0, evenness=None, widest=None)
    names = [name_of(made.job, made.panel, k) for k in range(len(found.bands))]
    reaches = reach_of(made.job, made.panel, found.placed)
    bands = []
    for k, band in enumerate(found.bands):
        lay = made.panel.laid(k)
        bands.append(
            BandSeenOut(
                name=names[k],
                begin=round(band.begin, 2),
                end=round(band.end, 2),
                laid_from=round(reaches[k][0], 2),
                laid_to=round(reaches[k][1], 2),
                hex=cm.hexes_from_lab(band.lab[None], light)[0],
                words=describe(band.lab.tolist()),
                widened=band.widened,
                twin=band.twin,
                flags=coded(band.flags),
                tool="" if lay.dose is not None else str(lay.tool),
                load=str(lay.load),
                passes=lay.passes,
            )
        )
    seams = [
        SeamSeenOut(
            pair=list(seam.pair),
            begin=round(seam.begin, 2),
            end=round(seam.end, 2),
            overlap=round(joint.overlap, 2),
            feather=round(joint.feather, 2),
            hex=cm.hexes_from_lab(seam.lab[None], light)[0],
            words=describe(seam.lab.tolist()),
            along=cm.hexes_from_lab(seam.along, light),
            kind=seam.kind,
            mud=round(seam.mud, 1),
            muddy_mm=round(seam.muddy_mm, 1),
            hardest=round(seam.hardest, 1),
            flags=coded(seam.flags),
        )
        for seam, joint in zip(found.seams, found.placed.seams, strict=False)
    ]
    return StudyOut(
        **common,
        bands=bands,
        seams=seams,
        order=list(found.work.order),
        reason=found.work.reason,
        steps=[
            StepOut(band=s.band, waits=round(s.waits, 1), loads=s.loads, minutes=round(s.minutes, 1))
            for s in found.work.steps
        ],
        minutes=round(found.work.minutes, 1),
        notes=coded(found.work.notes),
        colours=found.colours,
        inks=found.inks,
        evenness=None if found.evenness is None else round(found.evenness, 2),
        widest=_widest(found, names),
    )


def _widest(found: Study, names: list[str]) -> WidestOut | None:
    if found.widest is None:
        return None
    step, *ends = found.widest
    said = [names[each[0]] if len(each) == 1 else f"where {' meets '.join(names[k] for k in each)}" for each in ends]
    return WidestOut(delta_e=round(step, 1), between=" and ".join(said))


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()
    jobs, studies = Jobs(workspace), Studies()

    def made_of(plan: PanelIn) -> Made:
        return make(plan, jobs.shelf(), studies)

    def desk(item: dict[str, Any], status: int = 200) -> Response:
        can_undo, can_redo = workspace.can_step()
        out = PanelOut(**stored_plan(item).model_dump(), id=item["id"], revision=item["revision"])
        return written(PanelDesk(panel=out, can_undo=can_undo, can_redo=can_redo), status)

    def checked(body: PanelIn) -> dict[str, Any]:
        plan = PanelIn(**{**body.model_dump(), **body.whole().model_dump(include={"seams"})})
        made = made_of(plan)
        found = made.study() if plan.bands else None
        _study_out(made, found, 0, 0)
        return as_stored(plan)

    def store(item: dict[str, Any], what: str) -> Response:
        if len(workspace.read_all("panel")) >= MAX_ITEMS:
            raise StoreError(f"a workspace holds {MAX_ITEMS} panels at most")
        return desk(workspace.write("panel", item, what=what), 201)

    kept: dict[int, tuple[object, PanelSummary]] = {}

    @router.get("/panels")
    def panels() -> list[PanelSummary]:
        """Every stored panel with its colours."""
        return [_summary(item) for item in workspace.read_all("panel")]

    def _summary(item: dict[str, Any]) -> PanelSummary:
        shelf = jobs.shelf()
        known = kept.get(item["id"])
        if known is not None and known[0] == (item["revision"], shelf):
            return known[1]
        plan = stored_plan(item)
        shown, trouble = list[str](), ""
        try:
            if plan.bands:
                shown = shown_colours(made_of(plan).study(), str(plan.settings.illuminant))
        except (JobError, NotFound) as error:
            trouble = str(error)
        made = PanelSummary(
            **{key: item[key] for key in ("id", "revision", "name")},
            size=_size_text(plan),
            card=hex_of_card(shelf, plan.card_id, plan),
            shown=shown,
            trouble=trouble,
        )
        kept[item["id"]] = (item["revision"], shelf), made
        return made

    @router.post("/panels", status_code=201, response_model=PanelDesk)
    def make_panel(body: PanelIn) -> Response:
        """Store a new panel."""
        return store(checked(body), f"Make {body.name}")

    @router.get("/panels/open", response_model=PanelDesk | None)
    def open_panel(panel: int = 0) -> Response:
        """The panel asked for, or the first if that is gone; null where there is none."""
        found = workspace.first("panel", prefer=panel)
        return Response("null", media_type="application/json") if found is None else desk(found)

    @router.put("/panels/{item_id}", response_model=PanelDesk)
    def change_panel(
        item_id: int,
        body: PanelIn,
        if_match: Annotated[str | None, Header()] = None,
        what: Annotated[str | None, Query(max_length=200)] = None,
    ) -> Response:
        """Change a panel; `If-Match` carries the revision it was read with, `what` says what was done."""
        said = f"{what} ({body.name})" if what else f"Change {body.name}"
        revision = revision_of(if_match)
        return desk(workspace.write("panel", checked(body), item_id=item_id, revision=revision, what=said[:200]))

    @router.delete("/panels/{item_id}")
    def delete_panel(item_id: int) -> list[PanelSummary]:
        """Delete a panel; undo brings it back."""
        name = workspace.read("panel", item_id)["name"]
        workspace.write("panel", None, item_id=item_id, what=f"Delete {name}")
        return panels()

    @router.post("/panels/{item_id}/copy", status_code=201, response_model=PanelDesk)
    def copy_panel(item_id: int) -> Response:
        """Store the same once more under another name."""
        item, copied = copy_of(workspace, "panel", item_id)
        return store(copied, f"Copy {item['name']}")

    @router.post("/panels/picture", response_class=Response, responses={200: {"model": StudyOut}})
    def paint(
        body: PanelIn,
        per_mm: Annotated[float, Query(gt=0, le=48)] = 4.0,
        wet: bool = False,
        box: Annotated[str | None, Query(max_length=80)] = None,
    ) -> Response:
        """A panel, stored or not: length of the head (four bytes), `StudyOut`, then the picture.

        `box` is the part that is shown: left, top, right, bottom in mm, with commas.
        """
        made = made_of(body)
        if not body.bands:
            return binary(framed(_study_out(made, None, 0, 0)))
        found = made.study()
        part = _box(box, made.panel)
        if (part[2] - part[0]) * (part[3] - part[1]) * per_mm**2 > _SCREEN_PIXELS:
            raise JobError("this is more than a screen shows; look at a smaller part", ("box",))
        bare = replace(made.job, stash=Stash())
        pixels = picture(bare, made.panel, found.placed, found.work.order, per_mm, wet=wet, box=part, seen=found.line)
        return binary(framed(_study_out(made, found, *pixels.shape[:2]), pixels.tobytes()))

    @router.get("/panels/{item_id}/fixes")
    def fixes(item_id: int, seam: int) -> list[SeamFixOut]:
        """What would save a seam, best first; each one predicted as a whole panel."""
        made = made_of(stored_plan(workspace.read("panel", item_id)))
        found = made.study()
        return [_fix_out(fix, made, found, seam) for fix in seam_fixes(made.job, made.panel, found, seam, made.wanted)]

    @router.post("/panels/through")
    def see_through(body: ThroughIn) -> ThroughOut:
        """Which colours a cut leaves."""
        made = made_of(body.panel)
        window = body.window
        own = outlines(window.path) if window.kind is Opening.OWN else ()
        rings = moved(opening(window.kind, window.width, window.height, own), window.x, window.y)
        outline = [[[round(x, 2), round(y, 2)] for x, y in ring] for ring in rings]
        if not body.panel.bands:
            return ThroughOut(outline=outline, left=[], lost=[], colours=0)
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
        return ThroughOut(outline=outline, left=left, lost=list(dict.fromkeys(lost)), colours=seen.colours)

    @router.get("/panels/{item_id}/beside/{other_id}")
    def beside(item_id: int, other_id: int) -> BesidePanel:
        """How one panel compares with another, in a few sentences."""
        plans = [stored_plan(workspace.read("panel", number)) for number in (item_id, other_id)]
        for plan in plans:
            if not plan.bands:
                raise JobError(f"{plan.name} has no bands yet")
        one, other = (made_of(plan).study() for plan in plans)
        text = [
            f"{_count(one.colours, 'colour')} from {_count(one.inks, 'ink')} "
            f"against {other.colours} from {other.inks}.",
            f"{one.work.minutes:.0f} min against {other.work.minutes:.0f} min of work, waiting included.",
        ]
        flagged = [sum(bool(seam.flags) for seam in found.seams) for found in (one, other)]
        text.append(f"{_count(flagged[0], 'seam')} to look at against {flagged[1]}.")
        if one.evenness is not None and other.evenness is not None and abs(one.evenness - other.evenness) >= 0.05:
            text.append(f"Its steps are {'more' if one.evenness > other.evenness else 'less'} even.")
        means = [np.mean([band.lab for band in found.bands], axis=0) for found in (one, other)]
        text.append(f"On the whole it is {compare(means[0].tolist(), means[1].tolist())} the other.")
        return BesidePanel(text=text)

    @router.post("/panels/{item_id}/seams/{seam}/overlap", status_code=201, response_model=Desk)
    def seam_to_overlap(item_id: int, seam: int) -> Response:
        """The two inks of a seam as an overlap of their own, laid as on the panel."""
        item = workspace.read("panel", item_id)
        made = made_of(stored_plan(item))
        found = made.study()
        _there(found, seam)
        pair = sorted(found.seams[seam].pair, key=found.work.order.index)
        wet = found.placed.seams[seam].wet
        lays = [made.panel.laid(k) for k in pair]
        stack = [entry for entry in made.job.stack if isinstance(entry, LayDown)]
        stack += [lays[0], replace(lays[1], over=Over.WET if wet else Over.DRY)]
        if len(workspace.read_all("overlap")) >= MAX_ITEMS:
            raise StoreError(f"a workspace holds {MAX_ITEMS} overlaps at most")
        names = " and ".join(name_of(made.job, made.panel, k) for k in pair)
        plain = []
        for entry in stack:
            given = entry_json(entry)
            number = int(given.pop("ink").removeprefix("barrier-"))
            plain.append({**given, "ink_id": number})
        body = {
            "name": f"{names}: a seam of {item['name']}"[:200],
            "card_id": item["card_id"],
            "settings": item["settings"],
            "stack": plain,
        }
        return desk_of(
            workspace, jobs, workspace.write("overlap", body, what=f"Open a seam of {item['name']}"[:200]), 201
        )

    @router.post("/panels/{item_id}/seams/{seam}/take/{overlap_id}", response_model=PanelDesk)
    def seam_from_overlap(item_id: int, seam: int, overlap_id: int) -> Response:
        """Lay the two bands of a seam as an overlap has them: inks, tools, passes, order, wet or dry."""
        item = workspace.read("panel", item_id)
        plan = stored_plan(item)
        found = made_of(plan).study()
        _there(found, seam)
        overlap = workspace.read("overlap", overlap_id)
        inked = [entry for entry in overlap["stack"] if not entry.get("treatment")]
        if plan.white_id is not None and len(inked) == 3 and inked[0].get("ink_id") == plan.white_id:
            inked = inked[1:]
        if len(inked) != 2 or any(entry.get("ink_id") is None for entry in inked):
            raise StoreError("a seam has two inks, one over the other; this overlap has something else")
        pair = sorted(found.seams[seam].pair, key=found.work.order.index)
        bands, seams = list(plan.bands), list(plan.whole().seams)
        # An ink that is still there keeps its place; a new one takes the other's.
        own = [bands[k].ink_id for k in pair]
        turned = inked[0]["ink_id"] == own[1] or (inked[1]["ink_id"] == own[0] and inked[0]["ink_id"] != own[0])
        laid = pair[::-1] if turned else pair
        for k, entry in zip(laid, inked, strict=True):
            said = ("ink_id", "tool", "load", "passes", "dose", "dilution")
            hand = {key: entry[key] for key in said if entry.get(key) is not None}
            bands[k] = BandIn.model_validate({"weight": bands[k].weight, "width": bands[k].width, **hand})
        upper = seams[seam].upper
        if turned:
            upper = Upper.FIRST if laid[1] == found.seams[seam].pair[0] else Upper.SECOND
        wet = inked[1].get("over") == Over.WET
        seams[seam] = seams[seam].model_copy(update={"wet": wet, "upper": upper})
        changed = PanelIn(**{**plan.model_dump(), "bands": bands, "seams": seams, "card_id": overlap["card_id"]})
        stored = workspace.write("panel", checked(changed), item_id=item_id, what=f"Seam of {overlap['name']}"[:200])
        return desk(stored)

    @router.get("/panels/{item_id}/export.{form}", response_class=Response)
    def export(item_id: int, form: Literal["png", "svg", "pdf", "json"], wet: bool = False) -> Response:
        """The panel as a picture at 300 dots per inch, drawn at real size, or as its plan with its inks."""
        from . import panel_files

        if form == "json":
            return panel_files.with_its_inks(workspace, workspace.read("panel", item_id))
        return panel_files.give(made_of(stored_plan(workspace.read("panel", item_id))), form, wet)

    @router.get("/panels/{item_id}/{sheet}.{form}", response_class=Response)
    def printed(item_id: int, sheet: Literal["plan", "ruler"], form: Literal["pdf", "svg"]) -> Response:
        """What is printed for the table: a plan on one page, or ruler strips at real size."""
        from . import panel_files

        return panel_files.sheet(made_of(stored_plan(workspace.read("panel", item_id))), sheet, form)

    return router


def _there(found: Study, seam: int) -> None:
    if not 0 <= seam < len(found.seams):
        raise NotFound(f"there is no seam {seam + 1} on this panel")


def _box(given: str | None, panel: Panel) -> tuple[float, float, float, float]:
    whole = panel.front.whole
    if given is None:
        return whole
    try:
        left, top, right, bottom = (float(part) for part in given.split(","))
    except ValueError as error:
        raise JobError("a part is left, top, right and bottom in mm, with commas between", ("box",)) from error
    # What lies beyond the panel is cut off; also rules out what is no number.
    if not (whole[0] <= left < right and whole[1] <= top < bottom):
        raise JobError("this part does not lie on the panel", ("box",))
    return left, top, min(right, whole[2]), min(bottom, whole[3])


def _fix_out(fix: SeamFix, made: Made, found: Study, at: int) -> SeamFixOut:
    plan = made.plan.changed(made.panel, fix.panel, fix.job)
    change = PanelIn.model_validate({**made.plan.model_dump(), **plan.model_dump()})
    before, after = found.seams[at], fix.after.seams[min(at, len(fix.after.seams) - 1)]
    told = []
    if round(before.mud) != round(after.mud):
        told.append(f"mud {before.mud:.0f} → {after.mud:.0f}")
    if round(before.muddy_mm) != round(after.muddy_mm):
        told.append(f"muddy over {before.muddy_mm:.0f} → {after.muddy_mm:.0f} mm")
    met = found.placed.seams[at].overlap and fix.after.placed.seams[min(at, len(fix.after.seams) - 1)].overlap
    if met and abs(before.hardest - after.hardest) >= 0.2 and len(found.seams) == len(fix.after.seams):
        told.append(f"steepest {before.hardest:.1f} → {after.hardest:.1f} ΔE00/mm")
    flagged = sum(bool(seam.flags) for seam in fix.after.seams)
    told.append(f"{_count(flagged, 'seam')} flagged then" if flagged else "no seam flagged then")
    shown = shown_colours(fix.after, str(made.job.illuminant))
    return SeamFixOut(code=fix.code, text=fix.text, seam=", ".join(told), shown=shown, change=change)


def _count(number: int, what: str) -> str:
    return f"{number} {what}" if number == 1 else f"{number} {what}s"


def _size_text(plan: PanelIn) -> str:
    if plan.unit == "in":
        return f"{plan.width / 25.4:.4g} × {plan.height / 25.4:.4g} in"
    return f"{plan.width:.0f} × {plan.height:.0f} mm"
