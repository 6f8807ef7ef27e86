"""Panels handed over: as pictures, drawn at real size, as plans for the table."""

from __future__ import annotations

from typing import Literal

from fastapi import Response

from wempa.api.replies import download, drawn
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.panels import panel_sheet

from .drawing import PAGE, PICTURE, plan_page, png, ruler_page, shown_of, text_of
from .making import MadePanel


def give(made: MadePanel, form: DrawnForm, wet: bool) -> Response:
    """A panel as a picture or drawn."""
    plan = made.plan
    name = f"wempa {plan.name}{' wet' if wet else ''}"
    shown = shown_of(made, PAGE if form is DrawnForm.PDF else PICTURE, wet, bleeds=form is not DrawnForm.PNG)
    if form is DrawnForm.PNG:
        return download(png(shown), "image/png", f"{name}.png")
    page = panel_sheet.page(shown, text_of(made)) if form is DrawnForm.PDF else panel_sheet.face(shown)
    return drawn(page, form, name)


def sheet(made: MadePanel, which: Literal["plan", "ruler"], form: DrawnForm) -> Response:
    """What is printed for the table."""
    page = ruler_page(made) if which == "ruler" else plan_page(made)
    return drawn(page, form, f"wempa {made.plan.name} {which}")
