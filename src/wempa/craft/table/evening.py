"""What an evening at the table is made of: pieces, acts, bouts of acts that are not interrupted, and drying.

Time is counted in ticks, sixteenths of a minute: whole numbers for the solver, and exact as
decimal minutes.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import ceil
from types import MappingProxyType
from typing import NamedTuple

from wempa.craft.job import Job, LayDown, Note
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.study import Study
from wempa.craft.vocabulary import (
    Cleaning,
    Do,
    DryingSchool,
    Family,
    HandSide,
    PieceKind,
    SharedBrush,
    Together,
    Tool,
    ToolSet,
)

TICKS = 16
"""Ticks to a minute."""


def ticks(minutes: float) -> int:
    """Whole ticks that so many minutes take, one at least."""
    return max(1, ceil(minutes * TICKS - 1e-9))


def minutes(count: float) -> float:
    """Minutes of so many ticks, exact."""
    return count / TICKS


@dataclass(frozen=True, slots=True)
class Habits:
    """How somebody works: the schools, and their own pace."""

    drying: DryingSchool = DryingSchool.AIR
    cleaning: Cleaning = Cleaning.ALWAYS
    brush: SharedBrush = SharedBrush.WIPED
    together: Together = Together.AT_ONCE
    hand: HandSide = HandSide.RIGHT
    paces: Mapping[Do, float] = field(default_factory=lambda: MappingProxyType({}))
    """Factor on the minutes of each kind of step, learned from runs; 1 where it is not named."""

    def takes(self, do: Do, guessed: float) -> int:
        """Ticks that a step takes this person whose minutes are guessed."""
        return ticks(guessed * self.paces.get(do, 1.0))


SCHOOL_REASONS: Mapping[str, str] = MappingProxyType(
    {
        "drying": "Air is gentler and keeps the colour; a heat tool is quicker and may pale it a little.",
        "cleaning": "A clean brush and mat keep every ink itself; in rainbow order what carries over does little harm.",
        "brush": "Plain and reactive dyes wipe off alike; a brush of its own is one wiping less.",
        "together": "Inks that are to blend are worked while the panel is before you; one ink on all panels saves "
        "wiping, and is done only with inks that soak in, which mix when they are wetted again.",
        "hand": "The card is turned so that the hand that holds the tool never crosses wet ink.",
    }
)
"""Why each school's default is what it is, by the name of its field."""


@dataclass(frozen=True, slots=True)
class OwnTool:
    """A brush, foam or another tool at hand."""

    name: str
    kind: Tool
    family: Family | None = None
    """Colours it is kept for."""
    kept_for: ToolSet | None = None
    worn: bool = False
    fresh: bool = False
    """Whether its foam is so new that it has to be primed."""
    usual: bool = False
    """Whether nobody said that it is there: one usual brush and foam a family is taken for granted."""


class Need(NamedTuple):
    """An ink, or a premix, that wants a tool of a kind."""

    kind: Tool
    key: str
    """Key of the ink; of a premix its keys joined by plus signs."""


@dataclass(frozen=True, slots=True)
class InkFacts:
    """What planning needs to know of an ink or premix."""

    name: str
    set: ToolSet | None
    """None where nobody knows its formula."""
    lightness: float
    hue: float
    """Painter's degrees."""
    family: Family
    soaks: bool
    """Whether nothing of it sits on top: it mixes with what is beside it when it is wetted again."""
    reactive_dye: bool = False
    lifts: bool = False
    """Whether water moves it."""


@dataclass(frozen=True, slots=True, eq=False)
class PanelPiece:
    """A panel to be made."""

    name: str
    job: Job
    panel: Panel
    study: Study
    card: str
    """What its card is called."""
    size: tuple[float, float]
    """What is cut, mm."""
    inch: bool = False
    pads: Mapping[str, float] = field(default_factory=dict)
    """What a tool takes from the pads today against a normal load, by ink, where that is more or less."""
    named: frozenset[tuple[str, int]] = frozenset()
    """``("bands", k)`` and ``("tops", k)`` whose tool is said and not only usual."""
    tried: bool = False
    """Whether its inks have been seen together before."""


@dataclass(frozen=True, slots=True, eq=False)
class SquaresPiece:
    """Test squares of stacks on one card: of an overlap, or of a sheet of them."""

    name: str
    squares: tuple[tuple[str, Job], ...]
    """What each is called, and its job; all on one card."""
    card: str
    kind: PieceKind = PieceKind.OVERLAP
    pads: Mapping[str, float] = field(default_factory=dict)


Piece = PanelPiece | SquaresPiece


def jobs_of(piece: Piece) -> list[Job]:
    """The jobs of a piece: one of a panel, one a square."""
    return [piece.job] if isinstance(piece, PanelPiece) else [job for _, job in piece.squares]


def named(piece: Piece) -> Named:
    """What a piece is called, and what it is."""
    return Named(piece.name, PieceKind.PANEL if isinstance(piece, PanelPiece) else piece.kind)


@dataclass(frozen=True, slots=True)
class Named:
    """What a piece is called, and what it is."""

    name: str
    kind: PieceKind


@dataclass(frozen=True, slots=True)
class Act:
    """Something that hands do, in one go."""

    do: Do
    text: str
    """As it is read at the mat: one or two short sentences."""
    ticks: int
    inks: tuple[str, ...] = ()
    """Keys of what it lays or loads."""
    needs: tuple[Need, ...] = ()
    """Tools that it takes up or cleans, by what they hold."""
    why: str = ""
    caution: str = ""
    laid: int = 0
    """How many lay-downs of the piece are on the card after it, in the order they are laid."""
    loads: int = 1
    """How often the tool takes ink for what follows."""
    parts: int = 1
    """In how many parts it is worked, each short enough for what has to stay open."""
    mixes: tuple[str, int] | None = None
    """The ink that has to be open when it begins, and the ticks that it stays so after it was last touched."""


@dataclass(frozen=True, slots=True)
class Drying:
    """What has to dry after an act of a bout."""

    act: int
    """Its place in the bout; below 0 if that was done before planning began, and when it is dry is known."""
    ticks: int
    text: str
    inks: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Bout:
    """Acts on one piece, one right after the other."""

    piece: int
    acts: tuple[Act, ...]
    prelude: int = 0
    """How many of its acts may be done while it still waits for something to dry."""
    dryings: tuple[Drying, ...] = ()
    after: tuple[int, ...] = ()
    """Bouts that come before it, by place in the evening."""
    waits: tuple[tuple[int, int], ...] = ()
    """What has to be dry: bout, and which of its dryings."""
    why: str = ""
    """Why it waits for that."""
    done: int = 0
    """How many acts stood before these, which are done."""

    def span(self, first: int, last: int) -> int:
        """Ticks of its acts from one place to before another."""
        return sum(act.ticks for act in self.acts[first:last])


@dataclass(frozen=True, slots=True, eq=False)
class Evening:
    """All that is to be done."""

    pieces: tuple[Named, ...]
    bouts: tuple[Bout, ...]
    tools: tuple[OwnTool, ...]
    held: Mapping[Need, int]
    """Which tool each need was given, by place."""
    facts: Mapping[str, InkFacts]
    habits: Habits
    table: Mapping[str, float]
    holding: Mapping[int, str] = field(default_factory=dict)
    """What tools hold when it begins, by place, where that matters."""
    notes: tuple[Note, ...] = ()


def key_of(lay: LayDown) -> str:
    """The key of what a lay-down lays: its ink's, or those of a premix joined."""
    return "+".join(key for key, _ in lay.parts)


def span(minutes_: float) -> str:
    """A time as it is read at the mat."""
    if minutes_ < 0.95:
        return f"{max(5, round(minutes_ * 60 / 5) * 5)} s"
    if minutes_ < 100:
        return f"{round(minutes_)} min"
    return f"{minutes_ / 60:.1f} h"


def listed(names: list[str] | tuple[str, ...]) -> str:
    """Names in a sentence, each once."""
    each = list(dict.fromkeys(names))
    return each[0] if len(each) == 1 else f"{', '.join(each[:-1])} and {each[-1]}" if each else ""
