"""The swatch sheet as a drawing in millimetres, rendered to PDF or SVG."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics import renderPDF, renderSVG
from reportlab.graphics.shapes import Circle, Drawing, Line, Rect, String
from reportlab.lib.colors import Color, black, white
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth

from wempa.craft.sheet import MARK_RADIUS_MM, Rectangle, Sheet

_GREY = Color(0.45, 0.45, 0.45)
_FACE, _BOLD = "Helvetica", "Helvetica-Bold"


@dataclass(frozen=True, slots=True)
class SquareLabel:
    """What stands below a square; empty strings leave a line to write on."""

    name: str = ""
    detail: str = ""
    """Formula and range, or how the swatch is to be made."""


class _Pen:
    """Draws in millimetres from the top left corner."""

    def __init__(self, sheet: Sheet) -> None:
        self._height = sheet.height
        self.drawing = Drawing(sheet.width * mm, sheet.height * mm)

    def rectangle(self, box: Rectangle, *, fill: Color | None = None, stroke: Color | None = _GREY) -> None:
        left, top, right, bottom = box
        self.drawing.add(
            Rect(
                left * mm,
                (self._height - bottom) * mm,
                (right - left) * mm,
                (bottom - top) * mm,
                fillColor=fill,
                strokeColor=stroke,
                strokeWidth=0.4,
            )
        )

    def disc(self, x: float, y: float, radius: float) -> None:
        self.drawing.add(Circle(x * mm, (self._height - y) * mm, radius * mm, fillColor=black, strokeColor=None))

    def line(self, x0: float, y: float, x1: float) -> None:
        down = (self._height - y) * mm
        self.drawing.add(Line(x0 * mm, down, x1 * mm, down, strokeColor=_GREY, strokeWidth=0.4))

    def text(self, x: float, y: float, text: str, size: float, face: str = _FACE, width: float | None = None) -> None:
        shown = text.encode("cp1252", "replace").decode("cp1252")
        while width is not None and len(shown) > 1 and stringWidth(shown, face, size) > width * mm:
            shown = shown[:-2].rstrip() + "…"
        self.drawing.add(String(x * mm, (self._height - y) * mm, shown, fontName=face, fontSize=size, fillColor=black))


def draw(sheet: Sheet, labels: Sequence[SquareLabel] = (), card: str = "", tool: str = "") -> Drawing:
    """The sheet with its squares labelled; squares beyond the labels are left to be written on."""
    pen = _Pen(sheet)
    left = sheet.squares[0][0]
    pen.text(left, 17, "Swatch sheet", 15, _BOLD)
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
            pen.text(x, below + 3.6, label.name, 7.5, _BOLD, width=26)
            pen.text(x, below + 6.8, label.detail, 6.5, width=26)
        else:
            pen.line(x, below + 4.2, square[2])
        # To be written on: every square may have been made another way, on another day.
        for name, start, stop in (("tool", x, x + 14), ("date", x + 15, square[2])):
            pen.text(start, below + 10.6, name, 4.5)
            pen.line(start + 3.6, below + 10.8, stop)
    return pen.drawing


def pdf(drawing: Drawing) -> bytes:
    """A PDF page of the drawing, at its real size."""
    return bytes(renderPDF.drawToString(drawing, msg="", autoSize=1))


def svg(drawing: Drawing) -> str:
    """The same as SVG."""
    return str(renderSVG.drawToString(drawing))
