"""Which ink to buy next: one of those that are wanted, or of a table such as a maker's range."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.api import held
from wempa.api.services import Services
from wempa.craft import constants
from wempa.craft.colour.naming import describe_all
from wempa.craft.errors import JobError
from wempa.craft.job import Ink, Stash
from wempa.craft.limits import MAX_CHART
from wempa.craft.overlap.showings import in_daylight
from wempa.craft.search.chart import Chart, ordered_pairs
from wempa.craft.search.next_ink import Cell, next_inks
from wempa.craft.vocabulary import Formula, Load, Standing
from wempa.craft.ways import first_touch
from wempa.formats.stash.inks_csv import read_inks
from wempa.formats.stash.items import InkItem
from wempa.optics import colorimetry as cm

from .chart_models import NewColour, NextIn, NextInkList, ThoughtOut


@dataclass(frozen=True)
class _Thought:
    """An ink that one thinks of buying."""

    number: int | None
    name: str
    range: str
    formula: Formula
    ink: Ink


def next_list(services: Services, body: NextIn) -> NextInkList:
    """Inks that are thought of, the one that adds most first.

    Raises
    ------
    NotFound
        The card is not there.
    JobError, TableError
        There are too many inks, or a row of the table cannot be read: the line and why.
    """
    shelf = services.shelf()
    owned = list(shelf.owned.inks)
    thought = _wanted(services) if body.table is None else _of_table(body.table)
    if len(owned) + len(thought) > MAX_CHART:
        raise JobError(f"{MAX_CHART} inks at most are looked at together, those that you own among them")
    if not thought:
        return NextInkList(card=shelf.card_name(body.card_id), owned=len(owned), inks=[])
    empty = shelf.job(body.card_id, [])
    every = [ink for _, ink in owned] + [each.ink for each in thought]
    job = in_daylight(replace(empty, inks=tuple((str(n), ink) for n, ink in enumerate(every)), stash=Stash()))
    loads = [shelf.loads.get(key, Load.NORMAL) for key, _ in owned] + [Load.NORMAL] * len(thought)
    table = constants.values(job.constants)
    ways = [first_touch(key, ink.formula, load, table) for (key, ink), load in zip(job.inks, loads, strict=True)]
    chart = ordered_pairs(
        [ink for _, ink in job.inks], job.cardstock, ways, mud_line=job.mud_line, overrides=job.constants
    )
    names = [ink.name or key for key, ink in owned] + [each.name for each in thought]
    places = range(len(owned), len(owned) + len(thought))
    found = next_inks(chart, range(len(owned)), places, table)
    return NextInkList(
        card=shelf.card_name(body.card_id),
        owned=len(owned),
        inks=[
            ThoughtOut(
                ink_id=each.number,
                name=each.name,
                range=each.range,
                formula=each.formula,
                hex=_hex(chart, (one.place, one.place)),
                words=describe_all(chart.alone[one.place][None])[0],
                gain=one.gain,
                new=_shown(chart, names, one.place, one.shown),
                like=None if one.like is None else _shown(chart, names, -1, [one.like])[0],
                apart=None if one.like is None else round(one.apart, 1),
                made=one.apart <= table["match.made"],
            )
            for one in found
            for each in [thought[one.place - len(owned)]]
        ],
    )


def _wanted(services: Services) -> list[_Thought]:
    shelf = services.shelf()
    wanted = [each for each in held.read_all(services.workspace, InkItem) if each.item.standing is Standing.WANTED]
    return [
        _Thought(each.id, each.name, each.item.range, each.item.formula, shelf.ink(str(each.id))) for each in wanted
    ]


def _of_table(text: str) -> list[_Thought]:
    found = []
    for row in read_inks(text.encode()):
        if row.item is None:
            raise JobError(row.problem or f"line {row.line} cannot be read")
        item = row.item
        ink = item.ink.model_copy(update={"formula": item.formula}).to_core()
        found.append(_Thought(None, item.name, item.range, item.formula, ink))
    return found


def _lab(chart: Chart, cell: Cell) -> np.ndarray:
    return np.asarray(chart.alone[cell[0]] if cell[0] == cell[1] else chart.lab[cell])


def _hex(chart: Chart, cell: Cell) -> str:
    return cm.hexes_from_lab(_lab(chart, cell)[None], "D65")[0]


def _shown(chart: Chart, names: Sequence[str], own: int, cells: Sequence[Cell]) -> list[NewColour]:
    """Cells as colours, with their names and how they are made; `own` is the ink that the sentence is about."""
    if not cells:
        return []
    labs = np.array([_lab(chart, cell) for cell in cells])
    return [
        NewColour(hex=code, words=words, text=_made_of(names, own, cell))
        for code, words, cell in zip(cm.hexes_from_lab(labs, "D65"), describe_all(labs), cells, strict=True)
    ]


def _made_of(names: Sequence[str], own: int, cell: Cell) -> str:
    below, above = cell
    if below == above:
        return "by itself" if below == own else names[below]
    if own == below:
        return f"under {names[above]}"
    return f"over {names[below]}" if own == above else f"{names[above]} over {names[below]}"
