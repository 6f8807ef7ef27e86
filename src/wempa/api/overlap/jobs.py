"""Between overlaps as they are stored and jobs of the core."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from wempa.api.models import OverlapEntry
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.job import Job, LayDown
from wempa.craft.limits import WHITE_CARD
from wempa.craft.vocabulary import Illuminant
from wempa.formats import job as contract
from wempa.formats.job_text import entry_json
from wempa.formats.places import said, to_places
from wempa.store import Workspace

from .models import StackChange


class Jobs:
    """Between overlaps as they are stored and jobs of the core."""

    def __init__(self, workspace: Workspace, shelves: Shelves) -> None:
        self._workspace, self._shelves = workspace, shelves

    def stored(self, number: int, illuminant: Illuminant) -> tuple[Job, dict[str, Any]]:
        """The job of a stored overlap as it is under a light, and the overlap itself.

        Raises
        ------
        NotFound
            The overlap, or an ink or card of it, is not there.
        """
        item = self._workspace.read("overlap", number)
        return self.of({**item, "settings": {**item["settings"], "illuminant": illuminant}})[0], item

    def shelf(self) -> Shelf:
        """The shelf as it is now."""
        return self._shelves.now()

    def of(self, item: dict[str, Any], shelf: Shelf | None = None) -> tuple[Job, Shelf]:
        """The job of an overlap, and the shelf it was read with: as it is now unless given.

        Raises
        ------
        NotFound
            It names an ink or card that is not there.
        JobError
            An entry is bad; its place is named.
        """
        shelf = shelf or self.shelf()
        return shelf.dressed(job_on_shelf(item, shelf)), shelf

    def change(self, after: Job, item: dict[str, Any], before: Job, shelf: Shelf) -> StackChange | None:
        """What the overlap becomes when its job becomes `after`; None if that takes what is not on the shelf."""
        keys = {ink: int(key) for key, ink in (*before.stash.inks, *before.inks)}
        declared = dict(after.inks)
        stack = []
        for entry in after.stack:
            plain = entry_json(entry)
            if isinstance(entry, LayDown):
                parts = [(keys.get(declared[key]), share) for key, share in entry.parts]
                if any(key is None for key, _ in parts):
                    return None
                plain.pop("ink", None)
                if plain.pop("mix", None) is None:
                    plain["ink_id"] = parts[0][0]
                else:
                    plain["mix"] = [{"ink_id": key, "share": share} for key, share in parts]
            stack.append(OverlapEntry.model_validate(plain))
        card_id = item["card_id"]
        if after.cardstock != before.cardstock:
            names = {card: name for name, card in before.stash.cards}
            original = dict(shelf.owned.cards).get(names.get(after.cardstock, ""))
            card_id = next((number for number, card in shelf.cards.items() if card == original), None)
        return StackChange(card_id=card_id, stack=stack)


def job_on_shelf(item: dict[str, Any], shelf: Shelf) -> Job:
    """The job of an overlap with a shelf's inks and cards, without a stash; raises as `Jobs.of` does."""
    read = contract.read_one(
        {
            "wempa": 1,
            "cardstock": {"colour": {"hex": WHITE_CARD}},
            "inks": {str(number): _STAND_IN for number in _inks_of(item)},
            "stack": to_places([said(entry) for entry in item["stack"]], lambda _, number: str(number)),
            **item["settings"],
        }
    )
    inks = []
    for key, _ in read.inks:
        inks.append((key, shelf.ink(key)))
    card = read.cardstock if item["card_id"] is None else shelf.card(item["card_id"])
    # An ink's pad says how much a tool takes, unless the entry does.
    stack = tuple(
        replace(entry, load=shelf.loads[entry.parts[0][0]])
        if isinstance(entry, LayDown) and given.get("load") is None and not entry.premix
        else entry
        for entry, given in zip(read.stack, item["stack"], strict=True)
    )
    return replace(
        read,
        cardstock=card,
        inks=tuple(inks),
        stack=stack,
        mud_line=shelf.line(item["settings"].get("mud_line")),
        constants=shelf.constants(dict(read.constants)),
    )


# Entries are checked against ink keys only; the inks themselves come from the shelf.
_STAND_IN = {"swatch": {"colour": {"hex": WHITE_CARD}}}


def _inks_of(item: dict[str, Any]) -> list[int]:
    """Numbers of the inks that an overlap lays down, each once."""
    found: dict[int, None] = {}
    for entry in item["stack"]:
        if entry.get("ink_id") is not None:
            found[entry["ink_id"]] = None
        found.update((part["ink_id"], None) for part in entry.get("mix") or ())
    return list(found)
