"""How ink gets onto the card: each tool's word and its rows of the craft table, in one place."""

from __future__ import annotations

from typing import NamedTuple, Self

from .words import Word


class ToolRow(NamedTuple):
    """What the craft table says of a tool; rows ``tool.*``, ``work.*`` and ``seam.fade.*`` follow from it."""

    amount: float
    """Pad impressions that a pass offers, > 0."""
    cover: float
    """Share of the area that a pass covers on smooth card, 0–1; what it leaves bare is fine specks."""
    why: str
    width: float
    """Millimetres."""
    reach: float
    """Card that one load of it covers, cm²."""
    pace: float
    """Seconds for a pass over a cm²."""
    fade: float
    """Share of an overlap over which its ink fades out, 0–1."""
    why_fade: str
    patch: float = 1.0
    """Share of the area over which it lays its ink in one go, 0–1, where the ink lies in patches."""
    lays: str = "lay it on"
    """How it is laid, as an instruction at the table."""
    held: bool = True
    """Whether it is a tool that is held, wiped and shared out; not so of the pad itself and of dipping."""
    mark: str = ""
    """What a heavy or juicy hand with it leaves; empty for a tool that is not worked to and fro in passes."""


class Tool(Word):
    """How ink gets onto the card."""

    row: ToolRow

    def __new__(cls, value: str, said: str, row: ToolRow) -> Self:
        member = cls._made(value, said)
        member.row = row
        return member

    @property
    def swept(self) -> bool:
        """Whether it is worked to and fro, in passes that build up."""
        return bool(self.row.mark)

    BRUSH = (
        "brush",
        "brush",
        ToolRow(
            amount=0.085,
            cover=0.8,
            why="A blending brush gives a breath at a time.",
            width=20,
            reach=25,
            pace=0.35,
            fade=1.0,
            why_fade="A soft brush in circles fades over all of the overlap.",
            lays="light circles",
            mark="strokes",
        ),
    )
    FOAM = (
        "foam",
        "foam",
        ToolRow(
            amount=0.18,
            cover=0.86,
            why="Foam lays down more than a brush.",
            width=25,
            reach=30,
            pace=0.3,
            fade=0.7,
            why_fade="Foam ends a little harder than a brush.",
            lays="light circles, the foam held flat",
            mark="the foam's edge",
        ),
    )
    STAMP = (
        "stamp",
        "stamp",
        ToolRow(
            amount=1.0,
            cover=0.985,
            why="A stamped impression is nearly the pad's own, darker than a blend.",
            width=40,
            reach=40,
            pace=0.1,
            fade=0.0,
            why_fade="A stamp ends where it ends.",
            lays="press straight down",
        ),
    )
    BRAYER = (
        "brayer",
        "brayer",
        ToolRow(
            amount=0.6,
            cover=0.95,
            why="A roller gives an even, fairly full layer.",
            width=50,
            reach=60,
            pace=0.1,
            fade=0.4,
            why_fade="A roller's inks run into one another at their borders.",
            lays="roll evenly",
        ),
    )
    PAD = (
        "pad",
        "the pad itself",
        ToolRow(
            amount=1.0,
            cover=1.0,
            why="The reference: a pad pressed straight on the card.",
            width=30,
            reach=60,
            pace=0.15,
            fade=0.3,
            why_fade="A pad dragged over the card ends fairly hard.",
            lays="press the pad itself on the card",
            held=False,
        ),
    )
    DIP = (
        "dip",
        "dip",
        ToolRow(
            amount=0.55,
            cover=1.0,
            patch=0.5,
            why="Card dipped in wet ink takes it up in patches, about half of it in one go.",
            width=40,
            reach=60,
            pace=0.2,
            fade=0.3,
            why_fade="Wet ink dries with an edge.",
            lays="lay the ink on the mat and dip the card into it",
            held=False,
        ),
    )
    PAINTBRUSH = (
        "paintbrush",
        "paintbrush",
        ToolRow(
            amount=0.6,
            cover=0.99,
            patch=0.9,
            why="Ink painted on with a wet brush pools here and misses there.",
            width=8,
            reach=10,
            pace=0.6,
            fade=0.5,
            why_fade="Water carries the ink a little way.",
            lays="paint it on",
        ),
    )
