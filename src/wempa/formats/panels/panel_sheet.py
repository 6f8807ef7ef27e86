"""What is printed of a panel: the front at real size, ruler strips to lay beside the card, a plan for the table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color, black

from wempa.craft.colour.naming import counted
from wempa.craft.lengths import inches, size_in_both
from wempa.craft.panels.cutting import CutSheet
from wempa.craft.panels.front import Front, coordinates
from wempa.craft.panels.study import Study
from wempa.formats.drawing import BOLD, NAMES, Pen
from wempa.formats.overlap.overlap_sheet import mud_glass

Picture = NDArray[np.uint8]
_SOFT = Color(0.25, 0.25, 0.25)
_A4 = (210.0, 297.0)
_MARGIN = 15.0
# Widths of the strips, and millimetres along an edge at which it is looked at.
_STRIP, _FINE = 20.0, 0.05
_CAUTIONS = (
    "Heat tools burn and can set paper alight: never on ink that is wet with alcohol or solvent.",
    "Cut away from the hand; keep blades from children. The maker's label and safety sheet come first.",
)


@dataclass(frozen=True, slots=True)
class PanelText:
    """What stands beside the colours."""

    title: str
    card: str
    light: str
    date: str
    inch: bool
    """Whether sizes are told in inches first."""
    inks: Sequence[str]
    """Name of each band's ink."""
    hands: Sequence[str]
    """How each band is laid: tool, load, passes."""


@dataclass(frozen=True, slots=True, eq=False)
class DrawnPanel:
    """A panel to be drawn."""

    front: Front
    """The inked area."""
    size: tuple[float, float]
    """Of the finished panel, mm."""
    edge: float
    """Bare border around the inked area, mm."""
    mat: float
    """Mat around the panel, mm; 0 for none."""
    card: str
    """Hex of the card."""
    mat_colour: str
    study: Study
    hexes: Sequence[str]
    """Of the bands."""
    seam_hexes: Sequence[str]
    picture: Picture
    """Of the inked area and its bleed."""
    mud_line: float
    bleed: float = 0.0
    """Millimetres by which the ink runs on beyond the panel on every side."""


def face(shown: DrawnPanel) -> Drawing:
    """The panel alone at its real size, with its border and mat."""
    width, height = (side + 2 * (shown.mat + shown.bleed) for side in shown.size)
    pen = Pen(width, height)
    _front(pen, shown, (shown.bleed, shown.bleed), 1.0)
    return pen.drawing


def page(shown: DrawnPanel, text: PanelText) -> Drawing:
    """The panel at its real size on a page with a ruler mark; the page is A4, or larger where it has to be."""
    whole = tuple(side + 2 * (shown.mat + shown.bleed) for side in shown.size)
    width, height = max(_A4[0], whole[0] + 2 * _MARGIN), max(_A4[1], whole[1] + 2 * _MARGIN + 40)
    pen = Pen(width, height)
    pen.text(_MARGIN, 13, text.title, 14, NAMES, width=width - 2 * _MARGIN)
    pen.text(_MARGIN, 18, f"{size_in_both(shown.size, text.inch)} on {text.card}; predicted {text.date}", 8, fill=_SOFT)
    left, top = (width - whole[0]) / 2 + shown.bleed, 24.0 + shown.bleed
    _front(pen, shown, (left, top), 1.0)
    if shown.bleed:
        _trim_marks(pen, (left, top, left + shown.size[0], top + shown.size[1]), shown.bleed)
    pen.ruler(_MARGIN, height - 20)
    return pen.drawing


def _front(pen: Pen, shown: DrawnPanel, at: tuple[float, float], scale: float) -> None:
    """The panel with its mat and border, its top left corner at a place."""
    x, y = at
    width, height = shown.size
    mat = shown.mat
    if mat:
        box = (x, y, x + (width + 2 * mat) * scale, y + (height + 2 * mat) * scale)
        pen.rectangle(box, fill=shown.mat_colour, stroke=None)
    left, top = x + mat * scale, y + mat * scale
    pen.rectangle((left, top, left + width * scale, top + height * scale), fill=shown.card, stroke=None)
    inner = left + shown.edge * scale, top + shown.edge * scale
    size, more = (shown.front.width * scale, shown.front.height * scale), shown.bleed * scale
    box = (inner[0] - more, inner[1] - more, inner[0] + size[0] + more, inner[1] + size[1] + more)
    pen.picture(box, shown.picture)


def _trim_marks(pen: Pen, box: tuple[float, float, float, float], bleed: float) -> None:
    """Ticks beyond the bleed where the panel is trimmed."""
    left, top, right, bottom = box
    for x in (left, right):
        pen.stroke((x, top - bleed - 4), (x, top - bleed - 1))
        pen.stroke((x, bottom + bleed + 1), (x, bottom + bleed + 4))
    for y in (top, bottom):
        pen.stroke((left - bleed - 4, y), (left - bleed - 1, y))
        pen.stroke((right + bleed + 1, y), (right + bleed + 4, y))


@dataclass(frozen=True, slots=True)
class Tick:
    """Where something begins along an edge of the panel, mm from its corner."""

    at: float
    band: int | None
    """Which band shows from here on; None for a seam."""
    seam: int | None


def edges(shown: DrawnPanel) -> dict[str, list[Tick]]:
    """What lies along each edge of the finished panel, from its top or left corner on; same edges are told once."""
    front, off = shown.front, shown.edge
    # How long each edge is, and where it lies: how far down, or how far across.
    runs = {
        "top": (front.width, True, 1e-3),
        "bottom": (front.width, True, front.height - 1e-3),
        "left": (front.height, False, 1e-3),
        "right": (front.height, False, front.width - 1e-3),
    }
    found: dict[str, list[Tick]] = {}
    for name, (length, level, fixed) in runs.items():
        s = np.linspace(1e-3, length - 1e-3, max(2, int(length / _FINE)))
        still = np.full_like(s, fixed)
        at = coordinates(front, *((s, still) if level else (still, s)))
        at = np.clip(at, 0, shown.study.placed.length)
        zone = np.full(len(s), -1)
        for k, (begin, end) in enumerate(shown.study.placed.visible):
            zone[(at >= begin - 1e-6) & (at <= end + 1e-6)] = k
        for k, seam in enumerate(shown.study.seams):
            over = at + np.where(at < seam.begin - shown.study.placed.length / 2, shown.study.placed.length, 0)
            inside = (over > seam.begin) & (over < seam.end) & (zone < 0)
            zone[inside] = 1000 + k
        changes = [0, *(np.flatnonzero(np.diff(zone)) + 1).tolist()]
        ticks = []
        for n in changes:
            what = int(zone[n])
            ticks.append(
                Tick(
                    round(off + float(s[n]), 1) if n else off,
                    what if 0 <= what < 1000 else None,
                    what - 1000 if what >= 1000 else None,
                )
            )
        if len(ticks) > 1:
            same = next((other for other, held in found.items() if held == ticks), None)
            if same is not None:
                found[f"{same} and {name}"] = found.pop(same)
            else:
                found[name] = ticks
    return found


def ruler(shown: DrawnPanel, text: PanelText) -> Drawing:
    """Strips at real size, with ticks where bands and seams begin, to be cut out and laid along the card's edges."""
    strips = edges(shown)
    lengths = {name: shown.size[0 if name.startswith(("top", "bottom")) else 1] for name in strips}
    longest = max(lengths.values(), default=100.0)
    width = max(_A4[0] if longest <= _A4[0] - 2 * _MARGIN else _A4[1], longest + 2 * _MARGIN)
    room = 34.0 + len(strips) * (_STRIP + 26) + 26
    height = max(_A4[1] if width == _A4[0] else _A4[0], room)
    pen = Pen(width, height)
    pen.text(_MARGIN, 13, f"{text.title}: ruler strips", 14, NAMES, width=width - 2 * _MARGIN)
    pen.text(
        _MARGIN, 18, "Cut out, lay along the card's edge from the corner marked 0. Ticks: mm above, inches below.", 8
    )
    y = 30.0
    for name, ticks in strips.items():
        _strip(pen, shown, text, (_MARGIN, y), lengths[name], name, ticks)
        y += _STRIP + 26
    if not strips:
        pen.text(_MARGIN, y, "No band ends at an edge of this panel.", 10)
    pen.ruler(_MARGIN, height - 20)
    return pen.drawing


def _strip(
    pen: Pen,
    shown: DrawnPanel,
    text: PanelText,
    at: tuple[float, float],
    length: float,
    name: str,
    ticks: Sequence[Tick],
) -> None:
    x, y = at
    pen.text(x, y - 2, f"{name} edge, from the {'left' if name.startswith(('top', 'bottom')) else 'top'}", 9, BOLD)
    top, bottom = y, y + _STRIP
    for tick, after in zip(ticks, [*[each.at for each in ticks[1:]], length - shown.edge], strict=True):
        box = (x + tick.at, top + 6, x + after, bottom - 6)
        if tick.band is not None:
            pen.rectangle(box, fill=shown.hexes[tick.band], stroke=None)
        elif tick.seam is not None:
            pen.rectangle(box, fill=shown.seam_hexes[tick.seam], stroke=None)
    pen.rectangle((x, top, x + length, bottom), stroke=black)
    for step in range(int(length) + 1):
        size = 3.2 if step % 10 == 0 else 2.2 if step % 5 == 0 else 1.3
        pen.stroke((x + step, top), (x + step, top + size), colour=black)
        if step % 10 == 0 and step < length - 4:
            pen.text(x + step + 0.4, top + 5.4, str(step), 5)
    for step in range(int(length / 25.4 * 8) + 1):
        size = 3.2 if step % 8 == 0 else 2.2 if step % 4 == 0 else 1.3
        pen.stroke((x + step * 25.4 / 8, bottom), (x + step * 25.4 / 8, bottom - size), colour=black)
        if step % 8 == 0:
            pen.text(x + step * 25.4 / 8 + 0.4, bottom - 3.4, str(step // 8), 5)
    level = 0
    for tick in ticks:
        if tick.at > shown.edge:
            # Left out where the figures of the scales stand.
            for begin, end in ((top, top + 3.3), (top + 6, bottom - 6), (bottom - 3.3, bottom + 2)):
                pen.stroke((x + tick.at, begin), (x + tick.at, end), colour=black)
        if tick.band is not None:
            # In three rows, so that narrow bands can be read as well.
            down = bottom + 4.5 + 4.2 * (level % 3)
            label = f"{text.inks[tick.band]} {tick.at:.1f} mm, {inches(tick.at)} in"
            pen.text(min(x + tick.at, x + length - 22), down, label, 6, width=48)
            level += 1


def plan(shown: DrawnPanel, text: PanelText, cutting: CutSheet, sheet: tuple[float, float]) -> Drawing:
    """One page for the table: swatches in the order of laying, tools, passes, seams, cuts, cautions."""
    pen = Pen(*_A4)
    found = shown.study
    pen.text(_MARGIN, 14, text.title, 16, NAMES, width=180)
    colours = f"{found.inks} inks, {found.colours} colours" if found.inks != 1 else "1 ink"
    told = f"{size_in_both(shown.size, text.inch)} on {text.card}, seen by {text.light}; {colours}; {text.date}"
    pen.text(_MARGIN, 19.5, told, 8, width=180, fill=_SOFT)
    whole = tuple(side + 2 * shown.mat for side in shown.size)
    scale = min(78 / whole[0], 92 / whole[1])
    _front(pen, shown, (_MARGIN, 25.0), scale)
    right = 102.0
    pen.text(right, 28, "Cut from the sheet", 9, BOLD)
    small = min(50 / sheet[0], 40 / sheet[1])
    pen.rectangle((right, 31, right + sheet[0] * small, 31 + sheet[1] * small))
    for piece in cutting.pieces:
        corner = right + piece.left * small, 31 + piece.top * small
        pen.rectangle((*corner, corner[0] + piece.width * small, corner[1] + piece.height * small), fill=shown.card)
    pieces = f"{counted(cutting.count, 'panel')} from" if cutting.count else "larger than this sheet:"
    beside = right + sheet[0] * small + 4
    pen.text(
        beside,
        36,
        f"{pieces} {sheet[0]:.0f} × {sheet[1]:.0f} mm",
        8,
        width=195 - beside,
    )
    if cutting.count:
        pen.text(beside, 41, f"{100 * cutting.waste:.0f} % is left over", 8, width=195 - beside)
    y = pen.paragraph(right, 79, found.work.reason, 8, 93)
    minutes = f"About {found.work.minutes:.0f} min, drying between included."
    y = pen.paragraph(right, y + 1, minutes, 8, 93)
    for note in found.work.notes[:4]:
        y = pen.paragraph(right, y + 0.5, f"• {note.text}", 7.5, 93)

    y = max(y, 124.0) + 4
    pen.text(_MARGIN, y, "Lay in this order", 10, BOLD)
    y += 3
    step = min(10.0, 70 / max(1, len(found.work.steps)))
    for number, one in enumerate(found.work.steps, start=1):
        k = one.band
        pen.rectangle((_MARGIN, y, _MARGIN + 12, y + step - 1), fill=shown.hexes[k])
        middle = y + step / 2 + 1
        begin, end = found.placed.visible[k]
        pen.text(_MARGIN + 15, middle, f"{number}. {text.inks[k]}", 8.5, NAMES, width=48)
        wide = f"band {k + 1}, {end - begin:.1f} mm ({inches(end - begin)} in)"
        pen.text(_MARGIN + 64, middle, wide, 8, width=46)
        loads = "1 load" if one.loads == 1 else f"{one.loads} loads"
        waits = f", wait {max(1, round(one.waits))} min first" if one.waits >= 0.5 else ""
        pen.text(_MARGIN + 111, middle, f"{text.hands[k]}, {loads}{waits}", 8, width=72)
        y += step
    y += 5
    if found.seams:
        pen.text(_MARGIN, y, "Seams", 10, BOLD)
        y += 3
        step = min(8.0, 48 / len(found.seams))
        for seam, joint, code in zip(found.seams, found.placed.seams, shown.seam_hexes, strict=False):
            pen.rectangle((_MARGIN, y, _MARGIN + 12, y + step - 1), fill=code)
            if step >= 4:
                mud_glass(pen, _MARGIN + 14, y, step - 1, seam.mud, shown.mud_line)
            first, second = (text.inks[k] for k in seam.pair)
            worked = "at once" if joint.wet else "dry between"
            how = f"{joint.gap:g} mm gap" if joint.gap else f"{joint.overlap:.1f} mm, {worked}"
            again = ", once more lightly" if joint.again else ""
            middle = y + step / 2 + 1
            pen.text(_MARGIN + 24, middle, f"{first} into {second}: {how}{again}", 8, width=66)
            notes = [*seam.flags, seam.chosen] if seam.chosen else seam.flags
            said = " ".join(note.text for note in notes) or f"{seam.kind.said}."
            if step >= 7:
                pen.paragraph(_MARGIN + 92, middle - (1.5 if len(said) > 62 else 0), said, 7, 90)
            else:
                pen.text(_MARGIN + 92, middle, said, 7, width=90)
            y += step
    y = max(y + 4, 250.0)
    for caution in _CAUTIONS:
        y = pen.paragraph(_MARGIN, y, caution, 7.5, 180)
    pen.ruler(_MARGIN, 272)
    pen.text(_MARGIN, 291, "Screens and printers change colours: swatch it before a card that matters.", 7, fill=_SOFT)
    return pen.drawing
