"""The steps of an evening on paper: a box to tick, when, what, with what; cautions first."""

from __future__ import annotations

from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import Color

from wempa.craft.stash.swatch_sheet import PAGE_MM
from wempa.craft.table.evening import minutes, span
from wempa.craft.table.plan import TablePlan
from wempa.craft.table.timeline import Step
from wempa.craft.vocabulary import Page
from wempa.formats.drawing import BOLD, NAMES, Pen

_EDGE, _FOOT = 14.0, 14.0
_WHEN, _BOX, _WHAT = 18.0, 4.0, 36.0
_SOFT = Color(0.25, 0.25, 0.25)
_GAP = 3.2


def clock(count: int) -> str:
    """Ticks from the beginning as hours and minutes: ``0:05``."""
    whole = int(minutes(count))
    return f"{whole // 60}:{whole % 60:02}"


def pages(plan: TablePlan, page: Page = Page.A4) -> list[Drawing]:
    """The plan on pages, a step a row."""
    width, height = PAGE_MM[page]
    pens: list[Pen] = []
    pen = _begun(width, height, plan)
    y = _head(pen, plan, width)
    for step in plan.steps:
        needed = 11.0 + 4.2 * (len(step.text) // 78)
        if y + needed > height - _FOOT:
            pens.append(pen)
            pen = _begun(width, height, plan)
            y = 26.0
        y = _row(pen, plan, step, y, width)
    pens.append(pen)
    for n, each in enumerate(pens):
        each.text(_EDGE, height - 8, f"page {n + 1} of {len(pens)}", 8, fill=_SOFT)
    return [each.drawing for each in pens]


def _begun(width: float, height: float, plan: TablePlan) -> Pen:
    pen = Pen(width, height)
    names = ", ".join(piece.name for piece in plan.evening.pieces)
    pen.text(_EDGE, 16, "At the table", 15, NAMES)
    pen.text(_EDGE + 42, 16, names, 9, fill=_SOFT, width=width - 2 * _EDGE - 42)
    return pen


def _head(pen: Pen, plan: TablePlan, width: float) -> float:
    told = (
        f"{span(minutes(plan.at_mat))} at the mat, done after {span(minutes(plan.total))}; one piece after another "
        f"would take {span(minutes(plan.naive_total))}."
    )
    pen.text(_EDGE, 22, told, 9)
    y = 28.0
    cautions = list(dict.fromkeys(step.caution for step in plan.steps if step.caution))
    for text in [*cautions, *[note.text for note in plan.evening.notes]]:
        y = pen.paragraph(_EDGE, y, text, 8.5, width - 2 * _EDGE) + 2.5
    return y + 3


def _row(pen: Pen, plan: TablePlan, step: Step, y: float, width: float) -> float:
    pen.text(_EDGE, y, clock(step.start), 10, BOLD)
    if step.hands:
        pen.rectangle((_EDGE + _WHEN, y - 3.4, _EDGE + _WHEN + _BOX, y - 3.4 + _BOX))
    else:
        pen.text(_EDGE + _WHEN - 1, y, "waits", 7.5, fill=_SOFT)
    name = plan.evening.pieces[step.piece].name
    below = pen.paragraph(_EDGE + _WHAT, y, step.text, 10, width - 2 * _EDGE - _WHAT)
    about = " · ".join(part for part in (name, span(minutes(step.ticks)), step.why) if part)
    pen.text(_EDGE + _WHAT, below + 0.4, about, 7.5, fill=_SOFT, width=width - 2 * _EDGE - _WHAT)
    return below + 0.4 + _GAP + 3.6
