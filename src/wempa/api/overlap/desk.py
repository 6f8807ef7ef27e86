"""The open overlap."""

from __future__ import annotations

from fastapi import Response

from wempa.api.held import Held
from wempa.api.replies import written
from wempa.api.services import Services
from wempa.craft.overlap.crossing import crossing
from wempa.craft.overlap.cut_view import cut_through
from wempa.formats.overlap.items import OverlapItem

from .models import OverlapDesk, OverlapOut
from .shown import crossing_out


def desk_of(services: Services, stored: Held[OverlapItem], status: int = 200, picked: int | None = None) -> Response:
    """A stored overlap with what it looks like, what can be undone, and which entry to go on with."""
    job, shelf = services.jobs.of(stored.item)
    shown = OverlapOut.model_construct(**dict(stored.item), id=stored.id, revision=stored.revision)
    can_undo, can_redo = services.workspace.can_step()
    mark = (stored.revision, shelf)
    crossed = services.crossings.get(
        stored.id, mark, lambda: crossing_out(crossing(job, shelf.wanted(job)), cut_through(job))
    )
    made = OverlapDesk.model_construct(
        overlap=shown,
        crossing=crossed,
        mud_line=job.mud_line,
        can_undo=can_undo,
        can_redo=can_redo,
        picked=picked,
    )
    return written(made, status)
