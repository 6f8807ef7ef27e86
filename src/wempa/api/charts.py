"""Routes of the Chart screen: every ink over every ink, what goes together, and all of it on paper."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from threading import Lock
from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.distinct import alike_groups, most_different, newness
from wempa.craft.colour.naming import describe
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown, Stash
from wempa.craft.limits import MAX_CHART, MAX_PASSES, MAX_PRINTED, MOST_DIFFERENT
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.recipe import LIGHT_SAID
from wempa.craft.search.chart import Chart, ordered_pairs
from wempa.craft.search.company import Company, Seams, company, fewest_for_rainbow
from wempa.craft.vocabulary import Blend, Illuminant, Load, Over, Page, Tool, VerdictKind
from wempa.formats.job import Number
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.parallel import in_chunks
from wempa.store import NotFound, Workspace

from .framing import binary, framed
from .hand_over import download
from .models import Look, OverlapEntry
from .overlaps import look_out, written
from .shelf import Shelf, Shelves

# Charts kept for the next question about them.
_KEPT = 4


class ChartIn(BaseModel):
    """Which inks, on what card, and how each is laid down."""

    card_id: int | None = None
    inks: Annotated[list[int], Field(max_length=MAX_CHART)] | None = None
    """None: all that are owned."""
    tool: Tool = Tool.BRUSH
    load: Load = Load.NORMAL
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] = 6
    over: Over = Over.DRY
    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[Number, Field(ge=0, le=100)] = 50


class ChartQuery(BaseModel):
    """A chart to be handed over, in an address."""

    card_id: int | None = None
    inks: Annotated[list[int], Field(max_length=MAX_CHART)] | None = None
    tool: Tool = Tool.BRUSH
    load: Load = Load.NORMAL
    passes: Annotated[float, Field(gt=0, le=MAX_PASSES)] = 6
    over: Over = Over.DRY
    illuminant: Illuminant = Illuminant.D65
    mud_line: Annotated[float, Field(ge=0, le=100)] = 50
    blank: bool = False
    page: Page = Page.A4
    hero: int | None = None

    def chart(self) -> ChartIn:
        """The chart that is meant."""
        return ChartIn.model_validate(self.model_dump(include=set(ChartIn.model_fields)))


class ChartHead(BaseModel):
    """What stands before the cells: bytes of red, green, blue of every cell, of its verdict, of its mud."""

    inks: list[int]
    """Numbers of the inks; cell (i, j) is ink j over ink i, row by row."""
    alone: list[str]
    """Hex of each by itself."""
    hue: list[float]
    """Painter's degrees of each by itself."""
    chroma: list[float]
    light: list[float]
    card: str
    kinds: list[VerdictKind]
    """What a byte of the verdict means."""


class StudyHead(BaseModel):
    """What is told of a chart's mixes; before the cells' newness, in ΔE00/4, and the cell that stands for each."""

    different: list[int]
    """Clean mixes, by place, in the order of how much they differ: the first n are the n most different."""
    ranked: list[int]
    """How many distinct clean colours each ink makes with the rest, in the chart's order."""
    same: float
    """Within so many ΔE00 a mix is no other colour than an owned ink."""
    groups: int
    """How many groups of mixes that look alike there are."""


class CompanyIn(ChartIn):
    """What a set is wanted for, and an ink that has to be in it."""

    blend: Blend
    hero: int | None = None


class CellIn(ChartIn):
    """One cell of a chart, by the numbers of its inks."""

    below: int
    above: int


class CellOut(BaseModel):
    """One ink over another in full, and how to lay it."""

    look: Look
    stack: list[OverlapEntry]
    new: float | None
    """ΔE00 to the nearest owned ink by itself; null where none is owned."""


class CompanyOut(BaseModel):
    """A set of inks in the order of its bands."""

    inks: list[int]
    below: list[int]
    """Of each seam the ink laid first."""
    shown: list[str]
    """Hex of bands and in-betweens as they follow one another."""
    words: list[str]
    colours: int
    sectors: int


class CompanyList(BaseModel):
    """Sets of inks, best first, and the fewest inks that make a whole rainbow."""

    sets: list[CompanyOut]
    rainbow: CompanyOut | None


@dataclass(frozen=True, slots=True, eq=False)
class _Made:
    """A chart, with what it was made from."""

    given: ChartIn
    chart: Chart
    numbers: list[int]
    names: list[str]
    card: str
    card_name: str
    owned: Floats
    """CIELAB of every owned ink by itself, (m, 3)."""


class _Charts:
    """Charts of one workspace; the last few are kept while the stash stays as it is."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace, self._shelves, self._lock = workspace, Shelves(workspace), Lock()
        self._kept: OrderedDict[str, tuple[Shelf, _Made]] = OrderedDict()

    def shelf(self) -> Shelf:
        """The shelf as it is now."""
        return self._shelves.now()

    def of(self, given: ChartIn) -> _Made:
        """The chart asked for.

        Raises
        ------
        NotFound
            An ink or the card is not there.
        JobError
            There are too many inks.
        """
        shelf = self._shelves.now()
        key = ChartIn.model_validate(given.model_dump(include=set(ChartIn.model_fields))).model_dump_json()
        with self._lock:
            found = self._kept.get(key)
            if found is None or found[0] is not shelf:
                found = self._kept[key] = shelf, self._make(given, shelf)
                self._kept.move_to_end(key)
                while len(self._kept) > _KEPT:
                    self._kept.popitem(last=False)
            return found[1]

    def _make(self, given: ChartIn, shelf: Shelf) -> _Made:
        owned = [key for key, _ in shelf.owned.inks]
        keys = owned if given.inks is None else list(dict.fromkeys([str(number) for number in given.inks]))
        if len(keys) > MAX_CHART:
            raise JobError(f"a chart takes {MAX_CHART} inks at most; choose some of the ranges", ("inks",))
        job = shelf.job(given.card_id, [*keys, *owned], given.illuminant)
        inks = dict(job.inks)
        way = LayDown(((" ", 1.0),), tool=given.tool, load=given.load, passes=given.passes, over=given.over)
        chart = ordered_pairs(
            [inks[key] for key in keys],
            job.cardstock,
            way,
            illuminant=given.illuminant,
            mud_line=given.mud_line,
            wanted=shelf.wanted(shelf.dressed(replace(job, inks=()))),
        )
        single = replace(way, over=Over.DRY)
        alone = weigh_stacks(job, [(replace(single, parts=((key, 1.0),)),) for key in owned]).lab
        bare = predict(replace(job, inks=())).colour.hex
        names = [inks[key].name or key for key in keys]
        return _Made(given, chart, [int(key) for key in keys], names, bare, shelf.card_name(given.card_id), alone)


def _cells(made: _Made) -> bytes:
    """Head and cells of a chart: length of the head, the head, colours, verdicts, mud."""
    chart, light = made.chart, str(made.given.illuminant)
    n = len(made.numbers)
    white = white_point(light)
    rgb = np.empty((n * n, 3), dtype=np.uint8)
    labs = chart.lab.reshape(-1, 3)

    def work(rows: slice) -> None:
        seen, _ = cm.srgb_from_xyz(cm.xyz_from_lab(labs[rows], white), light)
        rgb[rows] = np.rint(seen * 255)

    in_chunks(work, n * n, 8192)
    alone = chart.alone
    head = ChartHead(
        inks=made.numbers,
        alone=cm.hexes_from_lab(alone, light),
        hue=np.round(np.asarray(painter_hue(alone[:, 1], alone[:, 2])), 1).tolist(),
        chroma=np.round(np.hypot(alone[:, 1], alone[:, 2]), 1).tolist(),
        light=np.round(alone[:, 0], 1).tolist(),
        card=made.card,
        kinds=list(KINDS),
    )
    mud = np.clip(np.rint(chart.mud), 0, 100).astype(np.uint8)
    return framed(head, rgb.tobytes(), chart.kind.astype(np.uint8).tobytes(), mud.tobytes())


def _study(made: _Made) -> bytes:
    """Newness and groups of a chart's cells, the most different clean ones, and inks by clean colours."""
    chart, n = made.chart, len(made.numbers)
    table = constants.values(())
    lab, clean = chart.lab.reshape(-1, 3), (chart.kind == KINDS.index(VerdictKind.CLEAN)).reshape(-1)
    clean &= ~np.eye(n, dtype=np.bool_).reshape(-1)
    new = newness(lab, made.owned)
    # Clean ones stand for the others, and of these those with least mud.
    order = np.lexsort((chart.mud.reshape(-1), ~clean))
    leader = alike_groups(lab, table["company.apart"] / 2, order)
    groups = np.where(clean, leader, -1).reshape(n, n)
    ranked = [len((set(groups[k].tolist()) | set(groups[:, k].tolist())) - {-1}) for k in range(n)]
    head = StudyHead(
        different=most_different(lab, MOST_DIFFERENT, clean),
        ranked=ranked,
        same=table["verdict.same"],
        groups=len(np.unique(leader)),
    )
    coded = np.minimum(np.where(np.isfinite(new), new, 255) * 4, 255).astype(np.uint8)
    padding = b"\0" * (-len(coded) % 4)
    return framed(head, coded.tobytes(), padding, leader.astype("<u4").tobytes())


def _cell(given: CellIn, shelf: Shelf, made: _Made) -> CellOut:
    pair = (given.below, given.above)
    job = shelf.dressed(shelf.job(given.card_id, [str(number) for number in pair], given.illuminant))
    stack = tuple(
        [
            LayDown(((str(number), 1.0),), tool=given.tool, load=given.load, passes=given.passes, over=over)
            for number, over in zip(pair, (Over.DRY, given.over), strict=True)
        ]
    )
    job = replace(job, stack=stack, mud_line=given.mud_line)
    found = predict(replace(job, stash=Stash()), shelf.wanted(job))
    apart = cm.delta_e(made.owned, found.colour.lab) if len(made.owned) else np.array([np.nan])
    entries = [
        OverlapEntry(ink_id=number, tool=given.tool, load=given.load, passes=given.passes, over=over)
        for number, over in zip(pair, (None, given.over), strict=True)
    ]
    new = float(apart.min())
    return CellOut(look=look_out(found), stack=entries, new=None if np.isnan(new) else round(new, 1))


def _company_out(one: Company, made: _Made) -> CompanyOut:
    return CompanyOut(
        inks=[made.numbers[k] for k in one.inks],
        below=[made.numbers[k] for k in one.below],
        shown=cm.hexes_from_lab(one.shown, str(made.given.illuminant)),
        words=[describe(colour) for colour in one.shown.tolist()],
        colours=one.colours,
        sectors=one.sectors,
    )


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()
    charts = _Charts(workspace)

    @router.post("/chart", response_class=Response, responses={200: {"model": ChartHead}})
    def chart(body: ChartIn) -> Response:
        """Every ink over every ink: length of the head (four bytes), `ChartHead`, then the cells."""
        return binary(_cells(charts.of(body)))

    @router.post("/chart/study", response_class=Response, responses={200: {"model": StudyHead}})
    def study(body: ChartIn) -> Response:
        """What is new and what looks alike: length of the head, `StudyHead`, then the cells."""
        return binary(_study(charts.of(body)))

    @router.post("/chart/cell", response_model=CellOut)
    def cell(body: CellIn) -> Response:
        """One cell: margin, reasons, words, and how to lay it."""
        return written(_cell(body, charts.shelf(), charts.of(body)))

    @router.post("/chart/company")
    def good_company(body: CompanyIn) -> CompanyList:
        """Sets of two to seven inks that blend without mud and without a hard line."""
        made = charts.of(body)
        if not made.numbers:
            return CompanyList(sets=[], rainbow=None)
        if body.hero is not None and body.hero not in made.numbers:
            raise NotFound(f"ink {body.hero} is not in this chart")
        seams = Seams(made.chart, constants.values(()))
        hero = None if body.hero is None else made.numbers.index(body.hero)
        fewest = fewest_for_rainbow(seams) if body.blend is Blend.RAINBOW else None
        return CompanyList(
            sets=[_company_out(one, made) for one in company(seams, body.blend, hero)],
            rainbow=None if fewest is None else _company_out(fewest, made),
        )

    @router.get("/chart/export.{form}", response_class=Response)
    def export(form: Literal["pdf", "svg", "csv", "json"], given: Annotated[ChartQuery, Query()]) -> Response:
        """The chart on paper at real size, predicted or blank, or as a table."""
        # Drawing takes a while to import, and most days nobody prints.
        from wempa.formats import chart_sheet as sheet
        from wempa.formats.drawing import svg

        made = charts.of(given.chart())
        light, chart = str(given.illuminant), made.chart
        over = "mixed wet" if given.over is Over.WET else "dried between"
        text = sheet.ChartText(
            card=made.card_name,
            names=made.names,
            way=f"{given.tool}, {given.load} load, {given.passes:g} passes, {over}",
            light=LIGHT_SAID[given.illuminant],
        )
        name = f"wempa chart on {made.card_name}{' blank' if given.blank else ''}.{form}"
        if form == "csv":
            return download(sheet.as_csv(chart, text, light), "text/csv", name)
        if form == "json":
            return download(sheet.as_json(chart, text, light), "application/json", name)
        if len(made.numbers) > MAX_PRINTED:
            raise JobError(f"at real size a chart takes {MAX_PRINTED} inks at most; choose fewer ranges", ("inks",))
        colours = None if given.blank else cm.hexes_from_lab(chart.lab.reshape(-1, 3), light)
        shown = sheet.Shown(chart, text, made.card, colours, given.mud_line)
        if form == "svg":
            return download(svg(sheet.whole(shown)), "image/svg+xml", name)
        hero = made.numbers.index(given.hero) if given.hero in made.numbers else None
        return download(sheet.as_pdf(sheet.pages(shown, given.page, hero)), "application/pdf", name)

    return router
