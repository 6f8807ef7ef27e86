"""The swatch sheet as a drawing in millimetres."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import black, white

from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, SLANT, GreyStep, Sheet
from wempa.formats.drawing import NAMES, Pen


@dataclass(frozen=True, slots=True)
class SquareLabel:
    """What stands below a square; empty strings leave a line to write on."""

    name: str = ""
    detail: str = ""
    """Formula and range, or how the swatch is to be made."""


def draw(sheet: Sheet, labels: Sequence[SquareLabel] = (), card: str = "", tool: str = "") -> Drawing:
    """The sheet with its squares labelled; squares beyond the labels are left to be written on."""
    pen = Pen(sheet.width, sheet.height)
    left = sheet.squares[0][0]
    pen.text(left, 17, "Swatch sheet", 15, NAMES)
    for n, (name, value) in enumerate((("Card", card), ("Tool and passes", tool), ("Date", ""))):
        y = 23.0 + 6 * n
        pen.text(left, y, name, 8)
        pen.text(left + 24, y, value, 8, width=sheet.steps[0].box[0] - left - 28)
        pen.line(left + 24, y + 1, sheet.steps[0].box[0] - 3)
    pen.text(
        left, 40.5, "Stamp or blend a square solid, let it dry, photograph the whole sheet from straight above.", 7
    )
    for box, text in ((sheet.bare, "bare card"), (sheet.dark, "black")):
        pen.rectangle(box, fill=black if box == sheet.dark else white)
        pen.text(box[0], box[3] + 3.5, text, 7)
    for step in sheet.steps:
        grey_step(pen, step)
    fine, coarse = sheet.steps[0].box, sheet.steps[len(sheet.steps) // 2].box
    pen.text(fine[0], fine[3] + 3.5, "lines: leave them clean", 7)
    pen.text(
        coarse[0],
        coarse[3] + 3.2,
        "From these lines Wempa reads how the phone bends light and dark: leave them clean.",
        6.5,
    )
    for x, y in sheet.marks:
        pen.disc(x, y, MARK_RADIUS_MM)
    # There is as much more room for words below a large square.
    big = 1.4 if sheet.large else 1.0
    for n, square in enumerate(sheet.squares):
        pen.rectangle(square)
        label = labels[n] if n < len(labels) else SquareLabel()
        x, below, wide = square[0], square[3], square[2] - square[0]
        if label.name:
            pen.text(x, below + 3.6 * big, label.name, 7.5 * big, NAMES, width=wide + 2)
            pen.paragraph(x, below + 6.8 * big, label.detail, 6.5, wide + 2, most=2 if sheet.large else 1)
        else:
            pen.line(x, below + 4.2 * big, square[2])
        # To be written on: every square may have been made another way, on another day.
        half, foot = wide / 2 + 2 * big, below + (17.0 if sheet.large else 10.6)
        for name, start, stop in (("tool", x, x + half), ("date", x + half + 1, square[2])):
            pen.text(start, foot, name, 4.5 * big)
            pen.line(start + 3.6 * big, foot + 0.2, stop)
    return pen.drawing


def layout_json(sheet: Sheet) -> dict[str, Any]:
    """Where everything on a sheet lies, in mm from the top left."""

    def box(given: tuple[float, float, float, float]) -> list[float]:
        return [round(v, 3) for v in given]

    return {
        "width": sheet.width,
        "height": sheet.height,
        "marks": [list(mark) for mark in sheet.marks],
        "mark_radius": MARK_RADIUS_MM,
        "squares": [box(square) for square in sheet.squares],
        "bare": box(sheet.bare),
        "dark": box(sheet.dark),
        "steps": [{"box": box(step.box), "share": step.share, "pitch": step.pitch} for step in sheet.steps],
    }


STRIP_MARK_MM = 1.8
"""Radius of the strip's discs."""


def draw_strip(strip: Sheet) -> Drawing:
    """The strip to cut out and lay beside any swatch."""
    pen = Pen(strip.width, strip.height)
    pen.rectangle((0, 0, strip.width, strip.height))
    pen.rectangle(strip.bare, fill=white)
    pen.rectangle(strip.dark, fill=black)
    for step in strip.steps:
        grey_step(pen, step)
    for x, y in strip.marks:
        pen.disc(x, y, STRIP_MARK_MM)
    pen.text(strip.bare[0], strip.height - 1.2, "bare card", 5)
    pen.text(26.0, strip.height - 1.2, "Cut out and lay beside the swatches, in the same light.", 5)
    return pen.drawing


def grey_step(pen: Pen, step: GreyStep) -> None:
    """Its black lines, cut off at the edges of its box."""
    left, top, right, bottom = step.box
    lean = SLANT * (bottom - top)
    wide = step.share * step.pitch
    for k in range(-round(lean / step.pitch) - 1, round((right - left) / step.pitch) + 1):
        x = left + (k + (1 - step.share) / 2) * step.pitch
        line = [(x, top), (x + wide, top), (x + wide + lean, bottom), (x + lean, bottom)]
        for edge, sign in ((left, 1), (right, -1)):
            line = _cut(line, edge, sign)
        if len(line) > 2:
            pen.polygon(line, fill=black, stroke=None)


def _cut(line: list[tuple[float, float]], edge: float, sign: int) -> list[tuple[float, float]]:
    """What of a polygon lies right (sign 1) or left (-1) of an upright edge (Sutherland and Hodgman 1974)."""
    kept: list[tuple[float, float]] = []
    for (x0, y0), (x1, y1) in zip(line, line[1:] + line[:1], strict=True):
        if sign * (x0 - edge) >= 0:
            kept.append((x0, y0))
        if (x0 - edge) * (x1 - edge) < 0:
            kept.append((edge, y0 + (y1 - y0) * (edge - x0) / (x1 - x0)))
    return kept
