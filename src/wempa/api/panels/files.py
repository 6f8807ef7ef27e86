"""Panels handed over: as pictures, drawn at real size, as plans for the table."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from io import BytesIO
from typing import Literal

from fastapi import Response
from PIL import Image

from wempa.api.replies import download, drawn
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown, Stash
from wempa.craft.panels.panel import name_of
from wempa.craft.panels.picture import picture
from wempa.craft.vocabulary import Frame
from wempa.formats.drawn_forms import DrawnForm
from wempa.formats.panels import panel_sheet
from wempa.optics import colorimetry as cm

from .making import MadePanel, hex_of_card

# 300 dots per inch for a picture; half of it on a page, where it is printed with dots anyway.
_PICTURE, _PAGE = 300 / 25.4, 150 / 25.4
_PAGE_PIXELS = 8_000_000


def give(made: MadePanel, form: DrawnForm, wet: bool) -> Response:
    """A panel as a picture or drawn."""
    plan = made.plan
    name = f"wempa {plan.name}{' wet' if wet else ''}"
    shown = shown_of(made, _PAGE if form is DrawnForm.PDF else _PICTURE, wet)
    if form is DrawnForm.PNG:
        return download(_png(shown), "image/png", f"{name}.png")
    page = panel_sheet.page(shown, text_of(made)) if form is DrawnForm.PDF else panel_sheet.face(shown)
    return drawn(page, form, name)


def sheet(made: MadePanel, which: Literal["plan", "ruler"], form: DrawnForm) -> Response:
    """What is printed for the table."""
    shown, text = shown_of(made, _PAGE, False), text_of(made)
    if which == "ruler":
        page = panel_sheet.ruler(shown, text)
    else:
        of = (made.plan.sheet.width, made.plan.sheet.height)
        page = panel_sheet.plan(shown, text, made.cut(), of)
    return drawn(page, form, f"wempa {made.plan.name} {which}")


def shown_of(made: MadePanel, per_mm: float, wet: bool) -> panel_sheet.DrawnPanel:
    """A panel to be drawn; raises `JobError` where there is nothing to draw."""
    plan = made.plan
    if not plan.bands:
        raise JobError("this panel has no bands yet, so there is nothing to print", ("bands",))
    found, light = made.study(), str(made.job.illuminant)
    # A large page has coarser dots than a small one; a picture has 300 to the inch or is refused.
    if per_mm == _PAGE:
        per_mm = min(per_mm, (_PAGE_PIXELS / (plan.width * plan.height)) ** 0.5)
    job = replace(made.job, stash=Stash())
    mat = plan.frame is Frame.MAT and plan.frame_width > 0
    return panel_sheet.DrawnPanel(
        front=made.panel.front,
        size=(plan.width, plan.height),
        edge=plan.frame_width if plan.frame is Frame.BORDER else 0.0,
        mat=plan.frame_width if mat else 0.0,
        card=hex_of_card(made.shelf, plan.card_id, plan),
        mat_colour=hex_of_card(made.shelf, plan.mat_id, plan),
        study=found,
        hexes=[cm.hexes_from_lab(band.lab[None], light)[0] for band in found.bands],
        seam_hexes=[cm.hexes_from_lab(seam.lab[None], light)[0] for seam in found.seams],
        picture=picture(job, made.panel, found.placed, found.work.order, per_mm, wet=wet, seen=found.line),
        mud_line=job.mud_line,
    )


def text_of(made: MadePanel) -> panel_sheet.PanelText:
    """What stands beside the colours."""
    count = range(len(made.panel.bands))
    return panel_sheet.PanelText(
        title=made.plan.name,
        card=made.shelf.card_name(made.plan.card_id),
        light=made.job.illuminant.phrase,
        date=date.today().isoformat(),
        inch=made.plan.unit == "in",
        inks=[name_of(made.job, made.panel, k) for k in count],
        hands=[_hand(made.panel.laid(k)) for k in count],
    )


def _hand(lay: LayDown) -> str:
    if lay.dose is not None or lay.tool is None:
        return f"dose {lay.dose or 0:g}"
    passes = "1 pass" if lay.passes == 1 else f"{lay.passes:g} passes"
    return f"{lay.tool}, {lay.load} load, {passes}"


def _png(shown: panel_sheet.DrawnPanel) -> bytes:
    """The panel with border and mat at 300 dots per inch."""
    sides = [round((side + 2 * shown.mat) * _PICTURE) for side in shown.size]
    whole = Image.new("RGB", (sides[0], sides[1]), shown.mat_colour if shown.mat else shown.card)
    at = round(shown.mat * _PICTURE)
    inner = [round(side * _PICTURE) for side in shown.size]
    whole.paste(shown.card, (at, at, at + inner[0], at + inner[1]))
    at += round(shown.edge * _PICTURE)
    whole.paste(Image.fromarray(shown.picture), (at, at))
    out = BytesIO()
    whole.save(out, "PNG", dpi=(300, 300), compress_level=6)
    return out.getvalue()
