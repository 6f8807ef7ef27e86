"""The swatch sheet as a drawing in millimetres."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import black, white

from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM, Sheet
from wempa.formats.drawing import BOLD, Pen


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
    pen.text(left, 17, "Swatch sheet", 15, BOLD)
    for n, (name, value) in enumerate((("Card", card), ("Tool and passes", tool), ("Date", ""))):
        y = 23.0 + 6 * n
        pen.text(left, y, name, 8)
        pen.text(left + 24, y, value, 8, width=70)
        pen.line(left + 24, y + 1, left + 96)
    pen.text(
        left, 40.5, "Stamp or blend a square solid, let it dry, photograph the whole sheet from straight above.", 7
    )
    for box, text in ((sheet.bare, "bare card"), (sheet.dark, "black")):
        pen.rectangle(box, fill=black if box == sheet.dark else white)
        pen.text(box[0], box[3] + 3.5, text, 7)
    for x, y in sheet.marks:
        pen.disc(x, y, MARK_RADIUS_MM)
    for n, square in enumerate(sheet.squares):
        pen.rectangle(square)
        label = labels[n] if n < len(labels) else SquareLabel()
        x, below = square[0], square[3]
        if label.name:
            pen.text(x, below + 3.6, label.name, 7.5, BOLD, width=26)
            pen.text(x, below + 6.8, label.detail, 6.5, width=26)
        else:
            pen.line(x, below + 4.2, square[2])
        # To be written on: every square may have been made another way, on another day.
        for name, start, stop in (("tool", x, x + 14), ("date", x + 15, square[2])):
            pen.text(start, below + 10.6, name, 4.5)
            pen.line(start + 3.6, below + 10.8, stop)
    return pen.drawing
