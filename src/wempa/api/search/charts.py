"""Charts of the stash, and how they are sent."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from threading import Lock

import numpy as np
from fastapi import Response

from wempa.api.kept import Kept
from wempa.api.overlap.shown import look_out
from wempa.api.replies import framed
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.naming import describe_all
from wempa.craft.errors import JobError
from wempa.craft.job import Ink, LayDown, Stash
from wempa.craft.limits import MAX_CHART
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.search.chart import Chart, ordered_pairs
from wempa.craft.search.chart_study import ChartStudy, study_chart
from wempa.craft.search.company import Company
from wempa.craft.search.each_alone import each_alone
from wempa.craft.vocabulary import Over, VerdictKind
from wempa.craft.ways import first_touch
from wempa.formats.overlap.items import StackEntry
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.parallel import in_chunks
from wempa.store import NotFound

from .chart_models import AloneList, AloneOut, CellIn, CellOut, ChartHead, ChartIn, CompanyOut, StudyHead

# How many charts are kept for the next question about them.
_KEPT = 4


@dataclass(frozen=True, slots=True, eq=False)
class MadeChart:
    """A chart, with what it was made from."""

    given: ChartIn
    chart: Chart
    numbers: list[int]
    names: list[str]
    card: str
    card_name: str
    owned: Floats
    """CIELAB of every owned ink by itself, (m, 3)."""
    studied: Kept[ChartStudy]
    table: Mapping[str, float]
    """The craft table that it was made by."""
    mud_line: float

    def study(self) -> ChartStudy:
        """What else is known of the chart. It is worked out once."""
        return self.studied.get("study", self.chart, lambda: study_chart(self.chart, self.owned, self.table))

    def hero(self, number: int | None) -> int | None:
        """The place of an ink of the chart; raises `NotFound`."""
        if number is None:
            return None
        if number not in self.numbers:
            raise NotFound(f"ink {number} is not in this chart")
        return self.numbers.index(number)


class Charts:
    """Charts of one workspace; the last few are kept while the stash stays as it is."""

    def __init__(self, shelves: Shelves) -> None:
        self._shelves, self._turn, self._kept = shelves, Lock(), Kept[MadeChart](_KEPT)

    def of(self, given: ChartIn) -> MadeChart:
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
        # One chart at a time: each uses the whole machine, and the next request may ask for the same chart.
        with self._turn:
            return self._kept.get(key, shelf, lambda: self._make(given, shelf))

    def _make(self, given: ChartIn, shelf: Shelf) -> MadeChart:
        owned, keys = [key for key, _ in shelf.owned.inks], _keys(given, shelf)
        job = shelf.job(given.card_id, [*keys, *owned], given.illuminant)
        inks, table, mud_line = dict(job.inks), shelf.table, shelf.line(given.mud_line)
        chart = ordered_pairs(
            [inks[key] for key in keys],
            job.cardstock,
            [way_of(given, key, inks[key], given.over, table) for key in keys],
            illuminant=given.illuminant,
            mud_line=mud_line,
            overrides=job.constants,
            wanted=shelf.wanted(shelf.dressed(replace(job, inks=()))),
        )
        alone = weigh_stacks(job, [(way_of(given, key, inks[key], Over.DRY, table),) for key in owned]).lab
        bare = predict(replace(job, inks=())).colour.hex
        names = [inks[key].name or key for key in keys]
        return MadeChart(
            given,
            chart,
            [int(key) for key in keys],
            names,
            bare,
            shelf.card_name(given.card_id),
            alone,
            Kept[ChartStudy](1),
            table,
            mud_line,
        )


def _keys(given: ChartIn, shelf: Shelf) -> list[str]:
    """The inks of a chart, each once; raises `JobError` where there are too many."""
    if given.inks is None:
        keys = [key for key, _ in shelf.owned.inks]
    else:
        keys = list(dict.fromkeys([str(number) for number in given.inks]))
    if len(keys) > MAX_CHART:
        raise JobError(f"a chart takes {MAX_CHART} inks at most; choose some of the ranges", ("inks",))
    return keys


def way_of(given: ChartIn, key: str, ink: Ink, over: Over, table: Mapping[str, float]) -> LayDown:
    """How a chart lays an ink: as is said, or as that ink is usually laid."""
    if given.tool is None:
        return replace(first_touch(key, ink.formula, given.load, table), over=over)
    return LayDown(((key, 1.0),), tool=given.tool, load=given.load, passes=given.passes, over=over)


def _entry(lay: LayDown, over: Over | None) -> StackEntry:
    return StackEntry(ink_id=int(lay.parts[0][0]), tool=lay.tool, load=lay.load, passes=lay.passes, over=over)


def cells(made: MadeChart) -> Response:
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
        mud_line=made.mud_line,
    )
    mud = np.clip(np.rint(chart.mud), 0, 100).astype(np.uint8)
    return framed(head, rgb.tobytes(), chart.kind.astype(np.uint8).tobytes(), mud.tobytes())


def alone_out(given: ChartIn, shelf: Shelf) -> AloneList:
    """Each ink of a chart by itself, on its card and on white."""
    keys, line = _keys(given, shelf), shelf.line(given.mud_line)
    job = replace(shelf.job(given.card_id, keys, given.illuminant), mud_line=line)
    inks, light = dict(job.inks), str(given.illuminant)
    wanted = shelf.wanted(shelf.dressed(replace(job, inks=())))
    found = each_alone(job, [way_of(given, key, inks[key], Over.DRY, shelf.table) for key in keys], wanted)
    on_card, on_white = cm.hexes_from_lab(found.lab, light), cm.hexes_from_lab(found.white, light)
    words = describe_all(found.lab)
    card, white = cm.hexes_from_lab(found.grounds, light)
    return AloneList(
        coloured=found.coloured,
        mud_line=line,
        spoilt=sum([kind is not VerdictKind.CLEAN for kind in found.kinds]),
        card=card,
        white=white,
        inks=[
            AloneOut(
                ink_id=int(keys[k]),
                hex=on_card[k],
                white=on_white[k],
                kind=found.kinds[k],
                mud=round(float(found.mud[k]), 1),
                words=words[k],
            )
            for k in found.order.tolist()
        ],
    )


def study_out(made: MadeChart) -> Response:
    """Newness and groups of a chart's cells, the most different clean ones, and inks by clean colours."""
    study = made.study()
    head = StudyHead(
        different=study.different,
        ranked=study.ranked,
        same=made.table["verdict.same"],
        groups=study.groups,
    )
    coded = np.minimum(np.where(np.isfinite(study.fresh), study.fresh, 255) * 4, 255).astype(np.uint8)
    padding = b"\0" * (-len(coded) % 4)
    return framed(head, coded.tobytes(), padding, study.leader.astype("<u4").tobytes())


def chart_cell(given: CellIn, shelf: Shelf, made: MadeChart) -> CellOut:
    """One cell in full, and how to lay it."""
    pair = (given.below, given.above)
    job = shelf.dressed(shelf.job(given.card_id, [str(number) for number in pair], given.illuminant))
    inks = dict(job.inks)
    stack = tuple(
        [
            way_of(given, str(number), inks[str(number)], over, shelf.table)
            for number, over in zip(pair, (Over.DRY, given.over), strict=True)
        ]
    )
    job = replace(job, stack=stack, mud_line=shelf.line(given.mud_line))
    found = predict(replace(job, stash=Stash()), shelf.wanted(job))
    apart = cm.delta_e(made.owned, found.colour.lab) if len(made.owned) else np.array([np.nan])
    entries = [_entry(lay, over) for lay, over in zip(stack, (None, given.over), strict=True)]
    new = float(apart.min())
    return CellOut(look=look_out(found), stack=entries, new=None if np.isnan(new) else round(new, 1))


def company_out(one: Company, made: MadeChart) -> CompanyOut:
    """A set of inks as the screens take it."""
    return CompanyOut(
        inks=[made.numbers[k] for k in one.inks],
        below=[made.numbers[k] for k in one.below],
        order=[made.numbers[k] for k in one.laid],
        shown=cm.hexes_from_lab(one.shown, str(made.given.illuminant)),
        words=describe_all(one.shown),
        colours=one.colours,
        sectors=one.sectors,
    )


def set_entries(given: ChartIn, inks: Sequence[int], shelf: Shelf) -> list[StackEntry]:
    """Inks laid one over the other as a chart lays them, each once; raises `NotFound`."""
    keys = dict.fromkeys([str(number) for number in inks])
    overs = [given.over if k else Over.DRY for k in range(len(keys))]
    return [
        _entry(way_of(given, key, shelf.ink(key), over, shelf.table), over)
        for key, over in zip(keys, overs, strict=True)
    ]
