"""Which colours can be made already, on paper: an ink a line, wanted and made side by side."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color

from wempa.craft.stash.swatch_sheet import PAGE_MM
from wempa.craft.vocabulary import Page
from wempa.formats.drawing import NAMES, Pen

_EDGE, _TOP, _STEP, _FIGURES = 12.0, 32.0, 15.0, 20.0
_SOFT = Color(0.25, 0.25, 0.25)


@dataclass(frozen=True, slots=True)
class ReserveRow:
    """One ink, and the best that the others come to."""

    name: str
    standing: str
    target: str
    made: str | None
    """Hex; None where there is nothing to make it from."""
    closeness: str
    """In words; empty where there is nothing to make it from."""
    figures: str
    """The same as figures, for those who ask."""
    lines: Sequence[str]
    stands_in: bool


def pages(rows: Sequence[ReserveRow], text: str, page: Page) -> list[Drawing]:
    """The list on pages of a paper size."""
    width, height = PAGE_MM[page]
    each = int((height - _TOP - _EDGE) // _STEP)
    count = max(1, -(-len(rows) // each))
    drawn = []
    for n in range(count):
        pen = Pen(width, height)
        pen.text(_EDGE, 16, "Which colours can I already make?", 15, NAMES)
        pen.text(_EDGE, 21.5, f"{text}; page {n + 1} of {count}", 8, fill=_SOFT)
        pen.text(_EDGE, 26, "Left of each pair the colour wanted, right what the other inks come to.", 8, fill=_SOFT)
        for k, row in enumerate(rows[n * each : (n + 1) * each]):
            y = _TOP + k * _STEP
            pen.rectangle((_EDGE, y, _EDGE + 12, y + 12), fill=row.target, stroke=None)
            if row.made is not None:
                pen.rectangle((_EDGE + 12, y, _EDGE + 24, y + 12), fill=row.made, stroke=None)
            pen.text(_EDGE + 28, y + 4, row.name, 9, NAMES, width=52)
            if row.made is None:
                pen.text(_EDGE + 28, y + 8.5, row.standing, 7.5, fill=_SOFT)
                pen.text(_EDGE + 84, y + 4, "There is no other ink to make it from.", 8)
                continue
            said = "stands in" if row.stands_in else "not near enough"
            pen.text(_EDGE + 28, y + 8.3, f"{row.standing}; {said}", 7.5, fill=_SOFT)
            pen.text(_EDGE + 28, y + 12, row.closeness, 7.5, width=54)
            for m, line in enumerate(row.lines):
                pen.text(_EDGE + 84, y + 4 + 4 * m, f"{m + 1}. {line}", 7.5, width=width - _EDGE * 2 - 84 - _FIGURES)
            pen.text(width - _EDGE - _FIGURES, y + 4, row.figures, 6.5, fill=_SOFT)
        drawn.append(pen.drawing)
    return drawn
