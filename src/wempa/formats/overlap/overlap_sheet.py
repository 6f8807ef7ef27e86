"""An overlap drawn on one page: crossing swatches, the verdict, how it is made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color, black, white

from wempa.craft.colour.naming import chance_words, describe, margin_words
from wempa.craft.overlap.crossing import Crossing
from wempa.craft.prediction.results import Prediction
from wempa.formats.drawing import BOLD, NAMES, Pen

WIDTH_MM, HEIGHT_MM = 210.0, 148.0
"""A5, lying."""
_CARD = (10.0, 22.0, 104.0, 116.0)
_SOFT = Color(0.25, 0.25, 0.25)


@dataclass(frozen=True, slots=True)
class OverlapText:
    """What stands on the page beside the colours."""

    title: str
    card: str
    colour_name: str
    """What its maker calls the colour; empty for none."""
    inks: Sequence[str]
    """Names of the lay-downs that cross, bottom first."""
    recipe: Sequence[str]
    light: str
    date: str


def draw(found: Crossing, text: OverlapText, mud_line: float) -> Drawing:
    """The page, in millimetres."""
    pen = Pen(WIDTH_MM, HEIGHT_MM)
    pen.rectangle((0, 0, WIDTH_MM, HEIGHT_MM), fill=white, stroke=None)
    pen.text(10, 13, text.title, 15, NAMES, width=120)
    pen.text(10, 18.5, f"on {text.card}, seen by {text.light}; predicted {text.date}", 8, width=120, fill=_SOFT)
    _swatches(pen, found, text)

    full, left = found.full, 112.0
    verdict = full.verdict
    mud_glass(pen, left, 10, 11, verdict.mud, mud_line)
    pen.text(left + 13, 16, verdict.kind.said, 15, NAMES)
    pen.text(left + 13, 20.5, f"mud {verdict.mud:.0f}, of 0 to 100; {chance_words(verdict.mud_chance)}", 8, fill=_SOFT)
    _chip(pen, (left, 25, left + 42, 43), full, "dry")
    _chip(pen, (left + 45, 25, left + 87, 43), found.wet, "wet")
    y = 51.0
    if text.colour_name:
        pen.text(left, y + 0.5, f"“{text.colour_name}”", 11, NAMES, width=88)
        y += 5
    words = describe(full.colour.lab.tolist())
    y = pen.paragraph(left, y, f"{words}; {margin_words(full.margin)}", 9, 88)
    lightness, a, b = full.colour.lab.tolist()
    pen.text(
        left,
        y,
        f"L* {lightness:.1f}  a* {a:.1f}  b* {b:.1f}   {full.colour.hex}   ±{full.margin:.1f} ΔE00",
        8,
        fill=_SOFT,
    )
    y += 6
    if verdict.way is not None:
        y = pen.paragraph(left, y, f"Made by being {verdict.way.said}.", 8.5, 88)
    for reason in verdict.reasons:
        y = pen.paragraph(left, y, f"• {reason.text}", 8.5, 88)
    y = max(y + 3, 84.0)
    pen.text(left, y, "How it is made", 9, BOLD)
    y += 4.5
    for number, line in enumerate(text.recipe, start=1):
        if y > 126:
            pen.text(left, y, f"and {len(text.recipe) - number + 1} more", 8.5)
            break
        y = pen.paragraph(left, y, f"{number}. {line}", 8.5, 88)
    y = 124.0
    for note in full.notes[:3]:
        y = pen.paragraph(10, y, note.text, 7.5, 94)
    pen.text(10, 144, "Screens and printers change colours: swatch it before a card that matters.", 7, fill=_SOFT)
    return pen.drawing


def _chip(pen: Pen, box: tuple[float, float, float, float], found: Prediction, said: str) -> None:
    pen.rectangle(box, fill=found.colour.hex, stroke=None)
    pen.text(box[0], box[3] + 3.2, said, 7, fill=_SOFT)


def _swatches(pen: Pen, found: Crossing, text: OverlapText) -> None:
    """The card with a strip across and one down for each ink; where two cross, the row's was laid first."""
    pen.rectangle(_CARD, fill=found.bare.colour.hex, stroke=None)
    count = len(found.alone)
    if not count:
        return
    left, top, right, bottom = _CARD[0] + 6, _CARD[1] + 6, _CARD[2] - 6, _CARD[3] - 6
    step_x, step_y = (right - left) / (count + 0.5), (bottom - top) / (count + 0.5)
    dark = found.bare.colour.lab[0] < 55
    ink = white if dark else black

    def column(i: int) -> tuple[float, float]:
        start = left + step_x * (i + 0.6)
        return start, start + 0.78 * step_x

    def row(i: int) -> tuple[float, float]:
        start = top + step_y * (i + 0.6)
        return start, start + 0.78 * step_y

    for i, alone in enumerate(found.alone):
        x0, x1 = column(i)
        y0, y1 = row(i)
        pen.rectangle((x0, top, x1, bottom), fill=alone.colour.hex, stroke=None)
        pen.rectangle((left, y0, right, y1), fill=alone.colour.hex, stroke=None)
    for pair in found.pairs:
        # So that above the diagonal is the stack's order, and below it the other.
        x0, x1 = column(pair.above)
        y0, y1 = row(pair.below)
        pen.rectangle((x0, y0, x1, y1), fill=pair.hex, stroke=None)
    for i in range(count):
        x0, x1 = column(i)
        y0, y1 = row(i)
        pen.rectangle((x0, y0, x1, y1), fill=found.alone[i].colour.hex, stroke=None)
        pen.text(x0 + 1, top - 1.2, str(i + 1), 7, BOLD, fill=ink)
        name = f"{i + 1} {text.inks[i]}" if i < len(text.inks) else str(i + 1)
        pen.text(left, y0 - 0.8, name, 6, width=step_x * 0.6 + 14, fill=ink)


def mud_glass(pen: Pen, x: float, y: float, size: float, mud: float, line: float) -> None:
    """The mark of mud: a small glass in which sediment rises; readable in black and white."""

    def at(height: float) -> tuple[float, float]:
        """Both walls at a height of 0–1."""
        return x + size * (0.16 + 0.1 * (1 - height)), x + size * (0.84 - 0.1 * (1 - height))

    base, rim = y + size, y
    full = min(max(mud / 100, 0.0), 1.0) * 0.86
    if full > 0.01:
        (l0, r0), (l1, r1) = at(0), at(full)
        top = base - full * size
        pen.polygon([(l0, base), (r0, base), (r1, top), (l1, top)], fill=Color(0.2, 0.2, 0.2), stroke=None)
    (l0, r0), (l1, r1) = at(0), at(1)
    pen.polygon([(l0, base), (r0, base), (r1, rim), (l1, rim)])
    mark = base - line / 100 * 0.86 * size
    pen.line(r1 - size * 0.2, mark, r1 + size * 0.06)
