"""Changes of a panel as one makes them at the table."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from wempa.craft.errors import JobError
from wempa.craft.panels.edits import moved_widths, seam_to_drop
from wempa.craft.vocabulary import PanelDo
from wempa.formats.panels.plan import BandIn, PanelItem

from .making import MadePanel
from .models import PanelEdit


@dataclass(frozen=True, slots=True)
class EditedPanel:
    """A panel after a change; unchanged where the change cannot be made."""

    panel: PanelItem
    picked: int | None
    """The band to go on with."""
    done: bool


def edited(edit: PanelEdit, plan: PanelItem, made: Callable[[PanelItem], MadePanel]) -> EditedPanel:
    """A panel after a change, not stored; `made` plans a panel, for where its bands lie now.

    Raises
    ------
    JobError
        The band, seam or ink is not there, or the panel cannot be planned.
    """
    if edit.do is PanelDo.SET:
        if edit.panel is None:
            raise JobError("putting a panel as it becomes gives all of it", ("panel",))
        return EditedPanel(edit.panel, None, True)
    bands, at = list(plan.bands), edit.at
    if edit.do is PanelDo.LAY:
        if edit.ink_id is None:
            raise JobError("laying an ink names it", ("ink_id",))
        if edit.more or at >= len(bands):
            return _with(plan, [*bands, BandIn(ink_id=edit.ink_id)], None)
        bands[at] = BandIn(ink_id=edit.ink_id, weight=bands[at].weight, width=bands[at].width)
        return _with(plan, bands, at)
    if edit.do is PanelDo.EVEN_OUT:
        even = [band.model_copy(update={"width": None, "weight": None}) for band in bands]
        plain = [seam.model_copy(update={"overlap": None, "feather": None, "soft": None}) for seam in plan.seams]
        return _with(plan.model_copy(update={"seams": plain}), even, None)
    if edit.do is PanelDo.MOVE_BOUNDARY:
        return _boundary(edit, plan, made(plan))
    if at >= len(bands):
        raise JobError(f"there is no band {at + 1} on this panel", ("at",))
    if edit.do is PanelDo.TAKE_OUT:
        drop = seam_to_drop(at, len(plan.seams))
        seams = [seam for k, seam in enumerate(plan.seams) if k != drop]
        return _with(plan.model_copy(update={"seams": seams}), [*bands[:at], *bands[at + 1 :]], None)
    if edit.do is PanelDo.BRING_BACK:
        return _with(plan, [*bands, bands[at].model_copy(update={"width": None, "weight": None})], None)
    to = at + int(edit.by or 0)
    if not 0 <= to < len(bands):
        return EditedPanel(panel=plan, picked=at, done=False)
    bands[at], bands[to] = bands[to], bands[at]
    return _with(plan, bands, to)


def _boundary(edit: PanelEdit, plan: PanelItem, made: MadePanel) -> EditedPanel:
    """Move the boundary behind a band. From then on widths are shares, so that all other bands stay as they are."""
    found = made.study()
    if edit.at >= len(found.seams):
        raise JobError(f"there is no seam {edit.at + 1} on this panel", ("at",))
    seam = found.seams[edit.at]
    by = (edit.by or 0.0) if edit.to is None else edit.to - (seam.begin + seam.end) / 2
    reach = found.panel.reach(made.table)
    grows = [
        0.0 if joint.overlap is not None or joint.gap or plan.count_between else soft
        for joint, soft in zip(found.panel.joints(), reach, strict=True)
    ]
    wide = moved_widths([(band.begin, band.end) for band in found.bands], edit.at, by, grows)
    if wide is None:
        return EditedPanel(panel=plan, picked=None, done=False)
    # A width that is held in millimetres stays as it is.
    bands = [
        band.model_copy(update={"weight": width} if band.width is None else {"width": width})
        for band, width in zip(plan.bands, wide, strict=True)
    ]
    return _with(plan, bands, None)


def _with(plan: PanelItem, bands: list[BandIn], picked: int | None) -> EditedPanel:
    return EditedPanel(panel=plan.model_copy(update={"bands": bands}), picked=picked, done=True)
