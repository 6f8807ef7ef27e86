"""A chart handed over: pages at real size, predicted or blank to be inked by hand; CSV and JSON of all of it."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color, white

from wempa.craft.search.chart import Chart
from wempa.craft.stash.swatch_sheet import PAGE_MM
from wempa.craft.vocabulary import Page, VerdictKind
from wempa.formats.drawing import BOLD, NAMES, Pen
from wempa.formats.overlap.overlap_sheet import mud_glass
from wempa.formats.text_table import write_table
from wempa.optics import colorimetry as cm

CELL_MM, NOTE_MM = 15.0, 6.0
"""Side of a square to be inked, and the box for notes below it."""
RULER_MM = 50.0
_GAP, _EDGE, _HEAD, _NAMES = 1.5, 10.0, 34.0, 30.0
_PITCH_X, _PITCH_Y = CELL_MM + _GAP, CELL_MM + NOTE_MM + _GAP
_SOFT = Color(0.25, 0.25, 0.25)


@dataclass(frozen=True, slots=True)
class ChartText:
    """What stands on the pages beside the colours."""

    card: str
    names: Sequence[str]
    way: str
    light: str


@dataclass(frozen=True, slots=True)
class DrawnChart:
    """A chart as it is drawn."""

    chart: Chart
    text: ChartText
    card: str
    """Hex of the bare card."""
    colours: Sequence[str] | None
    """Hex of every cell, row by row; None for squares to be inked by hand."""
    mud_line: float


def pages(shown: DrawnChart, page: Page, hero: int | None = None) -> list[Drawing]:
    """The chart on pages of a paper size: as a grid, or one ink with each of the others both ways."""
    width, height = PAGE_MM[page]
    n = len(shown.text.names)
    across = int((width - 2 * _EDGE - _NAMES + _GAP) // _PITCH_X)
    down = int((height - _HEAD - _EDGE - 8 + _GAP) // _PITCH_Y)
    if hero is None:
        tiles = [
            (range(top, min(top + down, n)), range(left, min(left + across, n)))
            for top in range(0, n, down)
            for left in range(0, n, across)
        ]
        return [_grid(shown, *tile, (width, height), f"page {k + 1} of {len(tiles)}") for k, tile in enumerate(tiles)]
    others = [k for k in range(n) if k != hero]
    wide = int((width - 2 * _EDGE + _GAP) // (2 * _PITCH_X + 24))
    each = wide * down
    count = max(1, -(-len(others) // each))
    return [
        _listed(shown, hero, others[k * each : (k + 1) * each], (width, height), wide, f"page {k + 1} of {count}")
        for k in range(count)
    ]


def whole(shown: DrawnChart) -> Drawing:
    """The grid on one sheet as large as it needs, at real size."""
    n = len(shown.text.names)
    size = 2 * _EDGE + _NAMES + max(n * _PITCH_X, 110), _HEAD + n * _PITCH_Y + _EDGE + 8
    return _grid(shown, range(n), range(n), size, "")


def _sheet(shown: DrawnChart, size: tuple[float, float], said: str, order: str) -> Pen:
    width, height = size
    pen = Pen(width, height)
    pen.rectangle((0, 0, width, height), fill=white, stroke=None)
    blank = shown.colours is None
    pen.text(_EDGE, 15, "Chart to be inked by hand" if blank else "Chart", 14, NAMES)
    pen.text(_EDGE, 20, f"on {shown.text.card}; {shown.text.way}; seen by {shown.text.light}", 8, fill=_SOFT)
    pen.text(_EDGE, 24, order, 8, fill=_SOFT)
    down = height - _EDGE + 2
    pen.line(_EDGE, down, _EDGE + RULER_MM)
    pen.text(_EDGE, down - 1.2, "This line is 50 mm long where the page is printed at 100 %.", 6.5, fill=_SOFT)
    pen.text(width - _EDGE - 28, down - 1.2, said, 6.5, fill=_SOFT)
    if not blank:
        marks = "A glass is mud, a bar muted, a ring swamped, two bars no new colour; no mark is clean."
        pen.text(_EDGE, down + 2.4, f"{marks} Screens and printers change colours.", 6.5, fill=_SOFT)
    return pen


def _grid(shown: DrawnChart, rows: range, columns: range, size: tuple[float, float], said: str) -> Drawing:
    pen = _sheet(shown, size, said, "Rows are laid first, columns over them.")
    names = shown.text.names
    for i, column in enumerate(columns):
        x = _EDGE + _NAMES + i * _PITCH_X
        pen.text(x, _HEAD - 4.6, str(column + 1), 7, BOLD)
        pen.text(x, _HEAD - 1.4, names[column], 5.5, width=CELL_MM)
    for j, row in enumerate(rows):
        y = _HEAD + j * _PITCH_Y
        pen.text(_EDGE, y + 5, str(row + 1), 8, BOLD)
        pen.text(_EDGE, y + 9, names[row], 7, width=_NAMES - 2)
        for i, column in enumerate(columns):
            _cell(pen, shown, row, column, _EDGE + _NAMES + i * _PITCH_X, y)
    return pen.drawing


def _listed(
    shown: DrawnChart, hero: int, others: Sequence[int], size: tuple[float, float], wide: int, said: str
) -> Drawing:
    names = shown.text.names
    pen = _sheet(
        shown, size, said, f"Left of each pair the other over {names[hero]}, right {names[hero]} over the other."
    )
    for k, other in enumerate(others):
        x, y = _EDGE + (k % wide) * (2 * _PITCH_X + 24), _HEAD + (k // wide) * _PITCH_Y
        _cell(pen, shown, hero, other, x, y)
        _cell(pen, shown, other, hero, x + _PITCH_X, y)
        pen.text(x + 2 * _PITCH_X, y + 5, names[other], 7, width=22)
    return pen.drawing


def _cell(pen: Pen, shown: DrawnChart, row: int, column: int, x: float, y: float) -> None:
    """One square with its box for notes; the verdict's mark stands in the box."""
    square = (x, y, x + CELL_MM, y + CELL_MM)
    note = (x, y + CELL_MM, x + CELL_MM, y + CELL_MM + NOTE_MM)
    if shown.colours is None:
        pen.rectangle(square)
    else:
        pen.rectangle(square, fill=shown.colours[row * len(shown.text.names) + column])
        if row != column:
            _mark(pen, shown.chart, shown.mud_line, row, column, note[2] - 4.2, note[1] + 1.2)
    pen.rectangle(note)


def _mark(pen: Pen, chart: Chart, mud_line: float, row: int, column: int, x: float, y: float) -> None:
    """The verdict by shape: a glass of sediment, a bar, a ring, two bars; nothing for clean."""
    kind = chart.kind_of(row, column)
    if kind is VerdictKind.MUDDY:
        mud_glass(pen, x, y, 3.4, float(chart.mud[row, column]), mud_line)
    elif kind is VerdictKind.MUTED:
        pen.line(x, y + 1.7, x + 3.2)
    elif kind is VerdictKind.SWAMPED:
        pen.disc(x + 1.7, y + 1.7, 1.5)
        pen.disc(x + 1.7, y + 1.7, 1.0, white)
    elif kind is VerdictKind.NO_NEW_COLOUR:
        pen.line(x, y + 1.0, x + 3.2)
        pen.line(x, y + 2.4, x + 3.2)


def _rows(chart: Chart, text: ChartText, illuminant: str) -> Iterator[dict[str, object]]:
    hexes = cm.hexes_from_lab(chart.lab.reshape(-1, 3), illuminant)
    labs, mud = np.round(chart.lab, 2).tolist(), np.round(chart.mud, 1).tolist()
    for i, below in enumerate(text.names):
        for j, above in enumerate(text.names):
            yield {
                "below": below,
                "above": above,
                "hex": hexes[i * len(text.names) + j],
                "L": labs[i][j][0],
                "a": labs[i][j][1],
                "b": labs[i][j][2],
                "mud": mud[i][j],
                "verdict": str(chart.kind_of(i, j)),
            }


def as_csv(chart: Chart, text: ChartText, illuminant: str) -> str:
    """Every cell as a row: inks, colour (hex; L*, a*, b* under the chart's light), mud 0–100, verdict."""
    names = ["below", "above", "hex", "L", "a", "b", "mud", "verdict"]
    return write_table(names, [[row[name] for name in names] for row in _rows(chart, text, illuminant)])


def as_json(chart: Chart, text: ChartText, illuminant: str) -> str:
    """The same as JSON, with card, way and light."""
    head = {"wempa": 1, "card": text.card, "way": text.way, "illuminant": illuminant, "inks": list(text.names)}
    return json.dumps({**head, "cells": list(_rows(chart, text, illuminant))}, ensure_ascii=False) + "\n"
