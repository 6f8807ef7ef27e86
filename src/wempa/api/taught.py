"""What was learned and stands, as it changes inks, cards and the craft table."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from wempa.api import held
from wempa.craft.job import Card, Ink
from wempa.formats.job_text import card_json, ink_json
from wempa.formats.log.items import Lesson
from wempa.store import Workspace


@dataclass(frozen=True, slots=True)
class Taught:
    """The lessons that stand."""

    fit: Lesson | None
    rows: Mapping[str, float]
    mud_line: float | None

    def inks(self, own: Mapping[str, Ink]) -> dict[str, dict[str, Any]]:
        """Fields of job objects that were learned, by ink; none of an ink that its owner has changed since."""
        found = {}
        for each in self.fit.inks if self.fit is not None else ():
            ink = own.get(str(each.ink_id))
            if ink is not None and each.was == ink_mark(ink):
                found[str(each.ink_id)] = json.loads(each.fields or "{}")
        return found

    def cards(self, own: Mapping[int, Card]) -> dict[int, dict[str, Any]]:
        """The same of cards."""
        found = {}
        for each in self.fit.cards if self.fit is not None else ():
            card = None if each.card_id is None else own.get(each.card_id)
            if each.card_id is not None and card is not None and each.was == card_mark(card):
                found[each.card_id] = json.loads(each.fields or "{}")
        return found


def standing_lessons(workspace: Workspace) -> Taught:
    """What stands in a workspace."""
    return taught_by([each.item for each in held.read_all(workspace, Lesson)])


def taught_by(lessons: Iterable[Lesson]) -> Taught:
    """What stands of lessons, oldest first: of each kind the newest that was not taken back."""
    newest = {lesson.of: lesson for lesson in lessons if not lesson.taken_back}
    fit, line, seam = (newest.get(of) for of in ("fit", "mud_line", "seam"))
    rows = {**(fit.rows if fit else {}), **(seam.rows if seam else {})}
    return Taught(fit, rows, line.mud_line if line else None)


def ink_mark(ink: Ink) -> str:
    """A mark of all that an ink's owner says of it but how its pad is today."""
    return _mark(ink_json(replace(ink, pad=None)))


def card_mark(card: Card) -> str:
    """A mark of all that a card's owner says of it."""
    return _mark(card_json(card))


def _mark(fields: dict[str, Any]) -> str:
    return hashlib.sha256(json.dumps(fields, sort_keys=True).encode()).hexdigest()[:16]
