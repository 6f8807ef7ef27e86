"""The stash in the core's terms, kept until something in it changes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from wempa.api import held
from wempa.craft import constants
from wempa.craft.constants import Overrides
from wempa.craft.job import WHITE, Card, Ink, Job, Stash
from wempa.craft.limits import DEFAULT_MUD_LINE
from wempa.craft.overlap.showings import in_daylight
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.stash.upkeep import PAD_LOAD
from wempa.craft.vocabulary import Illuminant, Load, Standing
from wempa.formats import job as contract
from wempa.formats.stash.items import CardItem, InkItem, RangeItem
from wempa.optics.grid import Floats
from wempa.store import NotFound, StoreError, Workspace

from .taught import Taught, standing_lessons


@dataclass(frozen=True, slots=True, eq=False)
class Unlearned:
    """Inks and cards as their owner has them."""

    inks: dict[str, Ink]
    cards: dict[int, Card]
    ranges: dict[str, str]
    """The range of each ink, by key."""


@dataclass(frozen=True, slots=True, eq=False)
class Shelf:
    """Every ink and card of the workspace as a job takes them."""

    inks: dict[str, Ink]
    """By number as text, the key that a job of the screens gives an ink."""
    cards: dict[int, Card]
    owned: Stash
    """What can be laid down today; cards go by their names."""
    loads: dict[str, Load]
    """What a tool takes from each ink's pad today."""
    unlearned: Unlearned
    """The same inks and cards as their owner has them, before anything was learned."""
    rows: Overrides = ()
    """Rows of the craft table that logged swatches taught."""
    mud_line: float = DEFAULT_MUD_LINE
    """From which mud on its owner calls it mud, where an overlap or panel says nothing else."""
    unreadable: dict[tuple[str, int], str] = field(default_factory=dict)
    """Names of inks and cards, by kind and number, that are stored and cannot be read."""

    _seen: dict[Illuminant, Stash] = field(default_factory=dict)
    _wanted: dict[tuple[object, ...], Floats | None] = field(default_factory=dict)

    def dressed(self, job: Job) -> Job:
        """A job of the screens: what is owned is its stash, and all its colours are seen by day."""
        light = job.illuminant
        if light not in self._seen:
            self._seen[light] = in_daylight(replace(job, inks=(), stash=self.owned)).stash
        return replace(in_daylight(job), stash=self._seen[light])

    def job(self, card_id: int | None, keys: Iterable[str], illuminant: Illuminant = Illuminant.D65) -> Job:
        """A job of some inks on a card, white where none is named, with all colours read by day.

        Raises
        ------
        NotFound
            An ink or the card is not there.
        StoreError
            It is there and cannot be read.
        """
        inks = [(key, self.ink(key)) for key in dict.fromkeys(keys)]
        card = WHITE if card_id is None else self.card(card_id)
        return in_daylight(Job(card, tuple(inks), illuminant=illuminant, mud_line=self.mud_line, constants=self.rows))

    def constants(self, own: Mapping[str, float]) -> Overrides:
        """What was learned of the craft table, with what an overlap or panel says of it itself."""
        return tuple(sorted({**dict(self.rows), **own}.items()))

    @property
    def table(self) -> Mapping[str, float]:
        """The craft table as it was learned."""
        return constants.values(self.rows)

    def line(self, said: float | None) -> float:
        """The mud line of an overlap or panel: its own, or else its owner's."""
        return self.mud_line if said is None else said

    def ink(self, key: str) -> Ink:
        """An ink by its key; raises `NotFound`, or `StoreError` where it is there and cannot be read."""
        if key not in self.inks:
            raise self._missing("ink", int(key))
        return self.inks[key]

    def card(self, number: int) -> Card:
        """A card by its number; raises `NotFound`, or `StoreError` where it is there and cannot be read."""
        if number not in self.cards:
            raise self._missing("card", number)
        return self.cards[number]

    def _missing(self, kind: str, number: int) -> StoreError:
        name = self.unreadable.get((kind, number))
        return NotFound(f"there is no {kind} {number}") if name is None else StoreError(f"{name} cannot be read")

    def card_name(self, card_id: int | None) -> str:
        """What its owner calls a card."""
        found = None if card_id is None else self.cards.get(card_id)
        return next((name for name, card in self.owned.cards if card is found), "white card")

    def wanted(self, job: Job) -> Floats | None:
        """The colours of what is owned, on the job's card and in its light."""
        key = (job.illuminant, job.cardstock, job.constants)
        if key not in self._wanted:
            if len(self._wanted) > 16:
                self._wanted.clear()
            self._wanted[key] = wanted_colours(job)
        return self._wanted[key]


def ranges_of(workspace: Workspace) -> dict[str, dict[str, float]]:
    """Overrides of the craft table by range, of those that can be read."""
    return {each.name: each.item.constants for each in held.read_all(workspace, RangeItem)}


class Shelves:
    """The shelf of one workspace, read anew when the stash or the day has changed."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._found: tuple[object, Shelf] | None = None

    def now(self) -> Shelf:
        """The shelf as it is."""
        today = date.today()
        # It takes no lock of its own: code that stores something holds the workspace's lock and asks for the shelf.
        mark = (today, *self._workspace.stamp("ink", "card", "range", "lesson"))
        found = self._found
        if found is None or found[0] != mark:
            found = self._found = mark, self._read(today)
        return found[1]

    def read(self) -> Shelf:
        """The shelf read anew, for whoever is in the middle of storing something."""
        return self._read(date.today())

    def _read(self, today: date) -> Shelf:
        workspace = self._workspace
        inks, lost_inks = held.parted(InkItem, workspace.read_all("ink"))
        cards, lost_cards = held.parted(CardItem, workspace.read_all("card"))
        lost = {("ink", each.id): each.name for each in lost_inks} | {
            ("card", each.id): each.name for each in lost_cards
        }
        by_number = {each.id: each.item for each in inks}, {each.id: each.item for each in cards}
        return shelf_of(*by_number, ranges_of(workspace), standing_lessons(workspace), today, lost)


def shelf_of(
    inks: Mapping[int, InkItem],
    cards: Mapping[int, CardItem],
    ranges: Mapping[str, dict[str, float]],
    taught: Taught,
    today: date,
    lost: dict[tuple[str, int], str],
) -> Shelf:
    """The shelf of inks and cards by number, changed by what was taught; `lost` names those that cannot be read."""
    rows = tuple(sorted(taught.rows.items()))
    table = constants.values(rows)
    said = {str(number): item.job_ink(ranges, today, table) for number, item in inks.items()}
    own = {key: ink.to_core() for key, ink in said.items()}
    learned = own | {key: contract.with_fields(said[key], fields).to_core() for key, fields in taught.inks(own).items()}
    own_cards = {number: item.card.to_core() for number, item in cards.items()}
    learned_cards = own_cards | {
        number: contract.with_fields(cards[number].card, fields).to_core()
        for number, fields in taught.cards(own_cards).items()
    }
    owned = tuple(
        [(str(number), learned[str(number)]) for number, item in inks.items() if item.standing is Standing.OWNED]
    )
    by_name = {item.name: learned_cards[number] for number, item in cards.items()}
    return Shelf(
        inks=learned,
        cards=learned_cards,
        owned=Stash(owned, tuple(by_name.items())),
        loads={key: Load.NORMAL if ink.pad is None else PAD_LOAD[ink.pad] for key, ink in said.items()},
        unlearned=Unlearned(own, own_cards, {str(number): item.range for number, item in inks.items()}),
        rows=rows,
        mud_line=DEFAULT_MUD_LINE if taught.mud_line is None else taught.mud_line,
        unreadable=lost,
    )
