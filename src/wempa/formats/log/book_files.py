"""The book on paper."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color

from wempa.craft.stash.swatch_sheet import PAGE_MM
from wempa.craft.vocabulary import Page
from wempa.formats.drawing import NAMES, Pen

from .book_lines import BookLine

_EDGE, _TOP, _STEP = 12.0, 30.0, 19.0
_SOFT = Color(0.25, 0.25, 0.25)


def pages(lines: Sequence[BookLine], page: Page = Page.A4) -> list[Drawing]:
    """The book on pages: real and predicted side by side, a look a line."""
    width, height = PAGE_MM[page]
    each = int((height - _TOP - _EDGE) // _STEP)
    count = max(1, -(-len(lines) // each))
    drawn = []
    for n in range(count):
        pen = Pen(width, height)
        pen.text(_EDGE, 16, "Swatch book", 15, NAMES)
        pen.text(_EDGE, 21.5, f"left what came of it, right what was guessed; page {n + 1} of {count}", 8, fill=_SOFT)
        for k, line in enumerate(lines[n * each : (n + 1) * each]):
            y = _TOP + k * _STEP
            for at, colour in ((0, line.real), (14, line.predicted)):
                box = (_EDGE + at, y, _EDGE + at + 14, y + 14)
                pen.rectangle(box, fill=colour or None, stroke=None if colour else _SOFT)
            x = _EDGE + 32
            pen.text(x, y + 4, line.name, 9, NAMES, width=70)
            said = ", ".join(part for part in (line.look, line.words, line.differs) if part)
            pen.text(x, y + 8.4, said, 7.5, fill=_SOFT, width=70)
            about = ", ".join(part for part in (line.day, line.card, line.verdict, *line.tags) if part)
            pen.text(x, y + 12.4, about, 7.5, fill=_SOFT, width=70)
            for m, text in enumerate(line.lines[:4]):
                pen.text(_EDGE + 106, y + 3.5 + 3.6 * m, text, 7, width=width - 2 * _EDGE - 106)
        drawn.append(pen.drawing)
    return drawn
