"""Between panels as they are stored and panels of the core."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from wempa.api.kept import Kept
from wempa.api.shelf import Shelf, Shelves
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, Stash
from wempa.craft.panels.cutting import CutSheet, cut_sheet
from wempa.craft.panels.panel import Panel, alone, check, pale, placed
from wempa.craft.panels.study import Study, study
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.vocabulary import Topping
from wempa.formats.job import checked_constants
from wempa.formats.panels.plan import PanelItem
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

# How many studies are kept.
_KEPT = 24


@dataclass(frozen=True, slots=True, eq=False)
class MadePanel:
    """A panel in the core's terms."""

    plan: PanelItem
    job: Job
    panel: Panel
    shelf: Shelf
    wanted: Floats | None
    studies: Kept[Study]

    @property
    def table(self) -> Mapping[str, float]:
        """The craft table with what was learned and what the panel itself says."""
        return constants.values(self.job.constants)

    def study(self) -> Study:
        """What the panel will show; raises `JobError`. It is kept, because a panel is painted, stored and
        asked about in turn.
        """
        key = self.plan.model_dump_json(exclude={"name", "id", "revision"})
        return self.studies.get(
            key, self.shelf, lambda: study(replace(self.job, stash=Stash()), self.panel, self.wanted)
        )

    def cut(self) -> CutSheet:
        """How it comes out of its sheet; raises `JobError`."""
        sheet = self.plan.sheet
        return cut_sheet((sheet.width, sheet.height), self.plan.cut_size(), turn=not sheet.grain)

    def check(self) -> None:
        """Raise `JobError` unless it fits: its bands on its front, and the whole on a sheet."""
        self.cut()
        check(self.panel)
        self.panel.front.length()
        if self.panel.bands:
            job = replace(self.job, stash=Stash())
            placed(job, self.panel, pale(job, self.panel, alone(job, self.panel)))


class Panels:
    """Panels of one workspace, with the last few studies of them."""

    def __init__(self, shelves: Shelves) -> None:
        self._shelves, self._studies = shelves, Kept[Study](_KEPT)

    def made(self, plan: PanelItem, shelf: Shelf | None = None) -> MadePanel:
        """A panel in the core's terms, with the shelf as it is now or as given.

        Raises
        ------
        NotFound
            An ink or card is not there.
        JobError
            It cannot be made into one: one sentence.
        """
        return made_of(plan, shelf or self._shelves.now(), self._studies)


def made_of(plan: PanelItem, shelf: Shelf, studies: Kept[Study]) -> MadePanel:
    """A panel in the core's terms, with a shelf's inks and cards; raises as `Panels.made` does."""
    job, panel = _job_and_panel(plan, shelf)
    dressed = shelf.dressed(replace(job, stack=()))
    return MadePanel(plan, replace(job, stash=dressed.stash), panel, shelf, shelf.wanted(dressed), studies)


def _job_and_panel(plan: PanelItem, shelf: Shelf) -> tuple[Job, Panel]:
    keys = [str(number) for number in plan.inks()]
    if plan.mat_id is not None:
        shelf.card(plan.mat_id)
    for n, top in enumerate(plan.tops):
        if top.kind is Topping.INK and top.ink_id is None:
            raise JobError("an ink on top needs an ink", ("tops", n))
    try:
        checked_constants(plan.settings.constants)
    except JobError as error:
        raise JobError(error.message, ("settings", *error.place)) from error
    bare = shelf.job(plan.card_id, keys, plan.settings.illuminant)
    bare = replace(
        bare, mud_line=shelf.line(plan.settings.mud_line), constants=shelf.constants(plan.settings.constants)
    )
    return plan.to_core(bare, shelf.loads)


def hex_of_card(shelf: Shelf, card_id: int | None, plan: PanelItem) -> str:
    """A card as the panel's light shows it."""
    job = shelf.job(card_id, [], plan.settings.illuminant)
    light = str(plan.settings.illuminant)
    return cm.hexes_from_lab(prepare_card(job.cardstock, light, job.constants).lab[None], light)[0]
