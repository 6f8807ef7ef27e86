"""A panel as it is drawn: its front at so many dots per mm, and what stands beside it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from io import BytesIO

from PIL import Image
from reportlab.graphics.shapes import Drawing

from wempa.craft.errors import JobError
from wempa.craft.job import LayDown, Stash
from wempa.craft.panels.bands import Band
from wempa.craft.panels.panel import name_of
from wempa.craft.panels.picture import picture
from wempa.craft.vocabulary import BandShape, Frame
from wempa.formats.panels import panel_sheet
from wempa.optics import colorimetry as cm

from .making import MadePanel, hex_of_card

PICTURE = 300 / 25.4
"""Dots per mm of a picture."""
PAGE = 150 / 25.4
"""Dots per mm on a page, which a printer turns into dots of its own."""
_PAGE_PIXELS = 8_000_000


def shown_of(made: MadePanel, per_mm: float, wet: bool, bleeds: bool = False) -> panel_sheet.DrawnPanel:
    """A panel to be drawn, with its bleed or without; raises `JobError` where there is nothing to draw."""
    plan = made.plan
    if not plan.bands:
        raise JobError("this panel has no bands yet, so there is nothing to print", ("bands",))
    found, light = made.study(), str(made.job.illuminant)
    # A large page has coarser dots than a small one; a picture has 300 dots to the inch or is refused.
    if per_mm == PAGE:
        per_mm = min(per_mm, (_PAGE_PIXELS / (plan.width * plan.height)) ** 0.5)
    job = replace(made.job, stash=Stash())
    mat = plan.frame is Frame.MAT and plan.frame_width > 0
    # Only a panel that is inked to its edge runs on beyond it.
    bleed = plan.bleed if bleeds and plan.frame is Frame.NONE else 0.0
    box = (-bleed, -bleed, made.panel.front.width + bleed, made.panel.front.height + bleed)
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
        picture=picture(job, made.panel, found.placed, found.work.order, per_mm, wet=wet, box=box, seen=found.line),
        bleed=bleed,
        mud_line=job.mud_line,
    )


def text_of(made: MadePanel) -> panel_sheet.PanelText:
    """The texts and hexes that stand beside the panel."""
    count = range(len(made.panel.bands))
    passes = {step.band: step.passes for step in made.study().work.steps}
    return panel_sheet.PanelText(
        title=made.plan.name,
        card=made.shelf.card_name(made.plan.card_id),
        light=made.job.illuminant.phrase,
        date=date.today().isoformat(),
        inch=made.plan.unit == "in",
        inks=[name_of(made.job, made.panel, k) for k in count],
        hands=[_hand(made.panel.bands[k], made.panel.laid(k), passes.get(k)) for k in count],
    )


def _hand(band: Band, lay: LayDown, needed: float | None) -> str:
    """How a band is laid, in so many passes as its fade needs."""
    if lay.dose is not None or lay.tool is None:
        return f"dose {lay.dose or 0:g}"
    if needed is not None and needed > lay.passes:
        how = "each lighter" if band.shape is BandShape.EVEN else "at its deepest"
        return f"{lay.tool}, {lay.load} load, {needed:g} passes, {how}"
    passes = "1 pass" if lay.passes == 1 else f"{lay.passes:g} passes"
    return f"{lay.tool}, {lay.load} load, {passes}"


def png(shown: panel_sheet.DrawnPanel, per_mm: float = PICTURE) -> bytes:
    """The panel with border and mat at so many dots per mm, 300 to the inch if not said, as the bytes of a PNG."""
    sides = [max(1, round((side + 2 * shown.mat) * per_mm)) for side in shown.size]
    whole = Image.new("RGB", (sides[0], sides[1]), shown.mat_colour if shown.mat else shown.card)
    at = round(shown.mat * per_mm)
    inner = [round(side * per_mm) for side in shown.size]
    whole.paste(shown.card, (at, at, at + inner[0], at + inner[1]))
    at += round(shown.edge * per_mm)
    whole.paste(Image.fromarray(shown.picture), (at, at))
    out = BytesIO()
    dots = round(per_mm * 25.4)
    whole.save(out, "PNG", dpi=(dots, dots), compress_level=6)
    return out.getvalue()


def plan_page(made: MadePanel) -> Drawing:
    """The plan for the table on one page."""
    sheet = (made.plan.sheet.width, made.plan.sheet.height)
    return panel_sheet.plan(shown_of(made, PAGE, False), text_of(made), made.cut(), sheet)


def ruler_page(made: MadePanel) -> Drawing:
    """Strips to lay along the card's edges."""
    return panel_sheet.ruler(shown_of(made, PAGE, False), text_of(made))
