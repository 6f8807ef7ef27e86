"""Between overlaps as they are stored and jobs of the core."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from wempa.api import held
from wempa.api.held import Held
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.errors import JobError
from wempa.craft.job import WHITE, Entry, Job, SaidEntry, said_of
from wempa.craft.limits import MAX_INKS
from wempa.craft.vocabulary import Illuminant, Load
from wempa.formats.job import checked_constants
from wempa.formats.overlap.items import OverlapItem, OverlapSettings, StackEntry
from wempa.store import Workspace

from .models import StackChange


class Jobs:
    """Between overlaps as they are stored and jobs of the core."""

    def __init__(self, workspace: Workspace, shelves: Shelves) -> None:
        self._workspace, self._shelves = workspace, shelves

    def stored(self, number: int, illuminant: Illuminant) -> tuple[Job, Held[OverlapItem]]:
        """The job of a stored overlap as it is under a light, and the overlap itself.

        Raises
        ------
        NotFound
            The overlap, or an ink or card of it, is not there.
        """
        overlap = held.read(self._workspace, OverlapItem, number)
        settings = overlap.item.settings.model_copy(update={"illuminant": illuminant})
        return self.of(overlap.item.model_copy(update={"settings": settings}))[0], overlap

    def of(self, overlap: OverlapItem, shelf: Shelf | None = None) -> tuple[Job, Shelf]:
        """The job of an overlap, and the shelf it was read with: as it is now unless given.

        Raises
        ------
        NotFound
            It names an ink or card that is not there.
        JobError
            It has too many inks, or overrides what cannot be so.
        """
        shelf = shelf or self._shelves.now()
        job = job_on_shelf(overlap.said(), overlap.card_id, overlap.settings, shelf)
        return shelf.dressed(job), shelf

    def change(self, after: Job, overlap: OverlapItem, before: Job, shelf: Shelf) -> StackChange | None:
        """What an overlap becomes when its job becomes `after`; None if that takes what is not on the shelf."""
        numbers = {ink: key for key, ink in (*before.stash.inks, *before.inks)}
        declared = dict(after.inks)
        stack = []
        for entry in after.stack:
            said = said_of(entry)
            if any(declared[key] not in numbers for key, _ in said.parts):
                return None
            parts = tuple([(numbers[declared[key]], share) for key, share in said.parts])
            stack.append(StackEntry.of(replace(said, parts=parts)))
        card_id = overlap.card_id
        if after.cardstock != before.cardstock:
            names = {card: name for name, card in before.stash.cards}
            original = dict(shelf.owned.cards).get(names.get(after.cardstock, ""))
            card_id = next((number for number, card in shelf.cards.items() if card == original), None)
        return StackChange(card_id=card_id, stack=stack)


def job_on_shelf(stack: Sequence[SaidEntry], card_id: int | None, settings: OverlapSettings, shelf: Shelf) -> Job:
    """The job of a stack with a shelf's inks and cards, without a stash; raises as `Jobs.of` does."""
    keys = list(dict.fromkeys([key for entry in stack for key, _ in entry.parts]))
    if len(keys) > MAX_INKS:
        raise JobError(f"{len(keys)} are more than the {MAX_INKS} that may stand here", ("inks",))
    return Job(
        cardstock=WHITE if card_id is None else shelf.card(card_id),
        inks=tuple([(key, shelf.ink(key)) for key in keys]),
        stack=tuple([_laid(entry, shelf) for entry in stack]),
        illuminant=settings.illuminant,
        mud_line=shelf.line(settings.mud_line),
        constants=shelf.constants(dict(checked_constants(settings.constants))),
    )


def _laid(entry: SaidEntry, shelf: Shelf) -> Entry:
    """An entry with nothing open: of one ink its pad says how much a tool takes."""
    single = bool(entry.parts) and not entry.premix and entry.dose is None
    return entry.laid(shelf.loads[entry.parts[0][0]] if single else Load.NORMAL)
