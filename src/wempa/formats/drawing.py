"""Drawings in millimetres, rendered to PDF, SVG and PNG: printables and exports are drawn once."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image as PillowImage
from reportlab.graphics.shapes import Circle, Drawing, Image, Line, Polygon, Rect, String
from reportlab.lib.colors import Color, HexColor, black
from reportlab.lib.units import mm

from .faces import BOLD as BOLD
from .faces import NAMES as NAMES
from .faces import TEXT, runs, width_of

GREY = Color(0.45, 0.45, 0.45)
Box = tuple[float, float, float, float]
"""Left, top, right, bottom in mm from the page's top left corner."""


class Pen:
    """Draws in millimetres from the top left corner."""

    def __init__(self, width: float, height: float) -> None:
        self._height = height
        self.drawing = Drawing(width * mm, height * mm)

    def rectangle(self, box: Box, *, fill: Color | str | None = None, stroke: Color | None = GREY) -> None:
        """A rectangle; `fill` may be ``#rrggbb``."""
        left, top, right, bottom = box
        self.drawing.add(
            Rect(
                left * mm,
                (self._height - bottom) * mm,
                (right - left) * mm,
                (bottom - top) * mm,
                fillColor=HexColor(fill) if isinstance(fill, str) else fill,
                strokeColor=stroke,
                strokeWidth=0.4,
            )
        )

    def disc(self, x: float, y: float, radius: float, fill: Color | str = black) -> None:
        """A disc without an outline."""
        colour = HexColor(fill) if isinstance(fill, str) else fill
        self.drawing.add(Circle(x * mm, (self._height - y) * mm, radius * mm, fillColor=colour, strokeColor=None))

    def line(self, x0: float, y: float, x1: float) -> None:
        """A level hairline."""
        self.stroke((x0, y), (x1, y))

    def stroke(self, start: tuple[float, float], end: tuple[float, float], *, colour: Color = GREY) -> None:
        """A hairline from one point to another."""
        (x0, y0), (x1, y1) = ((x * mm, (self._height - y) * mm) for x, y in (start, end))
        self.drawing.add(Line(x0, y0, x1, y1, strokeColor=colour, strokeWidth=0.4))

    def picture(self, box: Box, pixels: NDArray[np.uint8]) -> None:
        """A picture, (rows, columns, 3) bytes of sRGB, stretched into a box."""
        left, top, right, bottom = box
        seen = PillowImage.fromarray(np.ascontiguousarray(pixels))
        size = (right - left) * mm, (bottom - top) * mm
        self.drawing.add(Image(left * mm, (self._height - bottom) * mm, *size, seen))

    def ruler(self, x: float, y: float) -> None:
        """A mark of 50 mm and of 2 inches, to be checked with a ruler once it is printed."""
        for length, step, said, down in ((50.0, 10.0, "50 mm", 0.0), (50.8, 25.4, "2 in", 5.5)):
            top = y + down
            self.line(x, top, x + length)
            for n in range(round(length / step) + 1):
                self.stroke((x + n * step, top - 1.2), (x + n * step, top + 1.2), colour=black)
            self.text(x + length + 2, top + 1, said, 7)
        self.text(x, y + 10, "Print at 100 %, not fitted to the page: these two have to measure true.", 7)

    def polygon(
        self, points: Sequence[tuple[float, float]], *, fill: Color | None = None, stroke: Color | None = black
    ) -> None:
        """A closed polygon."""
        flat = [value for x, y in points for value in (x * mm, (self._height - y) * mm)]
        self.drawing.add(Polygon(flat, fillColor=fill, strokeColor=stroke, strokeWidth=0.8))

    def text(
        self,
        x: float,
        y: float,
        text: str,
        size: float,
        face: str = TEXT,
        width: float | None = None,
        fill: Color = black,
    ) -> None:
        """One line, its baseline at `y`; shortened to `width` mm."""
        shown = text
        while width is not None and len(shown) > 1 and width_of(shown, face, size) > width * mm:
            shown = shown[:-2].rstrip() + "…"
        at = x * mm
        for piece, of in runs(shown, face):
            self.drawing.add(String(at, (self._height - y) * mm, piece, fontName=of, fontSize=size, fillColor=fill))
            at += width_of(piece, of, size)

    def paragraph(
        self, x: float, y: float, text: str, size: float, width: float, face: str = TEXT, most: int | None = None
    ) -> float:
        """Lines broken at `width` mm, the first baseline at `y`; returns where the next would be.

        What is left for the last of `most` lines is shortened.
        """
        lines: list[str] = []
        for word in text.split():
            longer = f"{lines[-1]} {word}" if lines else word
            if lines and (len(lines) == most or width_of(longer, face, size) <= width * mm):
                lines[-1] = longer
            else:
                lines.append(word)
        for line in lines:
            self.text(x, y, line, size, face, width if most else None)
            y += size * 0.44
        return y
