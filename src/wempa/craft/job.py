"""A job in the core's own terms: frozen, hashable, already checked for shape.

`wempa.formats.job` reads the JSON contract into these; everything that computes
takes them. They are cache keys, so every field is immutable.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from wempa.optics.records import HashedOnce

from .codes import Caution, NoteCode
from .limits import DEFAULT_MUD_LINE, LEAST_PASSES, WHITE_CARD
from .vocabulary import Formula, Illuminant, Known, Load, Look, Over, PadState, Surface, Tool, Treatment


@dataclass(frozen=True, slots=True)
class Colour:
    """A colour as given: exactly one of hex, lab or spectrum is set."""

    hex: str | None = None
    lab: tuple[float, float, float] | None = None
    lab_illuminant: Illuminant = Illuminant.D50
    spectrum: tuple[float, ...] | None = None
    """Already on the grid: 36 values, 0–3."""


@dataclass(frozen=True, slots=True)
class Card(HashedOnce):
    """Cardstock. `None` takes the surface's preset."""

    colour: Colour
    surface: Surface = Surface.SMOOTH
    texture: float | None = None
    absorbency: float | None = None
    floor: float | None = None
    takeup: float | None = None
    known: Known = Known.TYPED
    constants: tuple[tuple[str, float], ...] = ()
    __hash__ = HashedOnce.__hash__


WHITE = Card(Colour(hex=WHITE_CARD))


@dataclass(frozen=True, slots=True)
class MadeWith:
    """How a swatch was made; one pad impression unless it says otherwise."""

    tool: Tool = Tool.PAD
    load: Load = Load.NORMAL
    passes: float = 1.0

    def __post_init__(self) -> None:
        object.__setattr__(self, "passes", max(self.passes, LEAST_PASSES))


@dataclass(frozen=True, slots=True)
class DarkSwatch:
    """The same dose on a dark card."""

    colour: Colour
    card: Card


@dataclass(frozen=True, slots=True)
class Swatch:
    """A colour of an ink on a card; `card` is None for the job's own card."""

    colour: Colour
    card: Card | None = WHITE
    on_dark: DarkSwatch | None = None
    made_with: MadeWith | None = None
    """How it was made; where nobody says, as `prediction.amounts.supposed_made` has it."""
    known: Known = Known.TYPED
    spread: float | None = None


@dataclass(frozen=True, slots=True)
class Emission:
    """How a fluorescent ink glows: peak and width in nm, energy yield 0–0.95."""

    peak: float | None = None
    width: float | None = None
    energy: float | None = None


@dataclass(frozen=True, slots=True)
class Ink(HashedOnce):
    """An ink by its swatch and formula."""

    swatch: Swatch
    formula: Formula = Formula.UNKNOWN
    name: str = ""
    hiding: float | None = None
    soak_share: float | None = None
    strength: float | None = None
    emission: Emission | None = None
    pad: PadState | None = None
    constants: tuple[tuple[str, float], ...] = ()
    __hash__ = HashedOnce.__hash__


@dataclass(frozen=True, slots=True)
class LayDown(HashedOnce):
    """One ink or a premix, put on in one go. Either `dose` or the tool's words."""

    parts: tuple[tuple[str, float], ...]
    """Ink key and share; shares add up to 1."""
    dose: float | None = None
    tool: Tool | None = None
    load: Load = Load.NORMAL
    passes: float = 1.0
    dilution: float = 0.0
    over: Over = Over.DRY
    premix: bool = False
    __hash__ = HashedOnce.__hash__

    def __post_init__(self) -> None:
        # A share of nothing would make the area nothing, by which amounts are divided.
        object.__setattr__(self, "passes", max(self.passes, LEAST_PASSES))


Entry = LayDown | Treatment


@dataclass(frozen=True, slots=True)
class SaidEntry:
    """One entry of a stack as its owner said it: what is None is open, so that the ink's pad may say it."""

    parts: tuple[tuple[str, float], ...] = ()
    """Ink key and share; several of a premix, none of a treatment."""
    premix: bool = False
    treatment: Treatment | None = None
    tool: Tool | None = None
    load: Load | None = None
    passes: float | None = None
    dose: float | None = None
    dilution: float | None = None
    over: Over | None = None

    @property
    def what(self) -> tuple[object, ...]:
        """What lies there, however it was put on."""
        return self.parts, self.premix, self.treatment

    def laid(self, pad: Load = Load.NORMAL) -> Entry:
        """The entry with nothing open; `pad` is what a tool takes from the ink's pad unless a load was said."""
        if self.treatment is not None:
            return self.treatment
        whole = sum(share for _, share in self.parts)
        return LayDown(
            parts=tuple([(key, share / whole) for key, share in self.parts]),
            dose=self.dose,
            tool=self.tool,
            load=self.load or pad,
            passes=1.0 if self.passes is None else self.passes,
            dilution=self.dilution or 0.0,
            over=self.over or Over.DRY,
            premix=self.premix,
        )


def said_of(entry: Entry) -> SaidEntry:
    """An entry of a job as something that was said, with nothing left open."""
    if not isinstance(entry, LayDown):
        return SaidEntry(treatment=entry)
    by_tool = entry.dose is None
    return SaidEntry(
        parts=entry.parts,
        premix=entry.premix,
        tool=entry.tool,
        load=entry.load if by_tool else None,
        passes=entry.passes if by_tool else None,
        dose=entry.dose,
        dilution=entry.dilution or None,
        over=None if entry.over is Over.DRY else entry.over,
    )


@dataclass(frozen=True, slots=True)
class Stash:
    """Inks and cards that fixes may use."""

    inks: tuple[tuple[str, Ink], ...] = ()
    cards: tuple[tuple[str, Card], ...] = ()


@dataclass(frozen=True, slots=True)
class Job:
    """What to predict."""

    cardstock: Card
    inks: tuple[tuple[str, Ink], ...] = ()
    stack: tuple[Entry, ...] = ()
    illuminant: Illuminant = Illuminant.D65
    mud_line: float = DEFAULT_MUD_LINE
    look: Look = Look.DRY
    fixes: bool = False
    stash: Stash = field(default_factory=Stash)
    constants: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True, slots=True)
class Note:
    """Something worth knowing, with a stable code and plain words."""

    code: NoteCode | Caution
    text: str


def used_inks(job: Job) -> list[str]:
    """Keys of the inks that the stack lays down, in the order of first use."""
    keys: dict[str, None] = {}
    for entry in job.stack:
        if isinstance(entry, LayDown):
            keys.update((key, None) for key, share in entry.parts if share > 0)
    return list(keys)
