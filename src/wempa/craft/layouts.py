"""How the bands of a panel lie: each layout's word and what follows from it, in one place."""

from __future__ import annotations

from typing import NamedTuple, Self

from .words import Word


class BandLine(Word):
    """The line along which the bands of a panel follow one another."""

    ACROSS = "across", "side by side across the front"
    OUTWARDS = "outwards", "out from a centre"
    ROUND = "round", "round a centre"
    INWARDS = "inwards", "in from the edges"


class Meeting(Word):
    """What two neighbours of a panel do where they meet."""

    BLENDED = "blended", "they run into one another"
    APART = "apart", "they stand apart"
    OVERLAID = "overlaid", "each is laid over the one before"


class LayoutRow(NamedTuple):
    """What is so of a layout, and not a matter of degree."""

    line: BandLine = BandLine.ACROSS
    meeting: Meeting = Meeting.BLENDED
    rolled: bool = False
    """Whether all inks stand side by side on one roller and are laid in one go."""

    @property
    def flat(self) -> bool:
        """Whether the bands lie side by side across the front."""
        return self.line is BandLine.ACROSS

    @property
    def centred(self) -> bool:
        """Whether the bands lie about a centre, which can be moved."""
        return self.line in (BandLine.OUTWARDS, BandLine.ROUND)

    @property
    def blends(self) -> bool:
        """Whether neighbours run into one another at seams."""
        return self.meeting is Meeting.BLENDED

    @property
    def overlaid(self) -> bool:
        """Whether each band is laid over the one before and fades out below it, as ribbons are."""
        return self.meeting is Meeting.OVERLAID

    @property
    def ordered(self) -> bool:
        """Whether the order in which the inks are laid is free: ribbons and a roller say it themselves."""
        return not self.overlaid and not self.rolled

    @property
    def worked(self) -> bool:
        """Whether the hand blends neighbours: it chooses their order, their fades and what is laid wet."""
        return self.blends and not self.rolled


_PLAIN = LayoutRow()


class Layout(Word):
    """How the bands of a panel lie."""

    row: LayoutRow

    def __new__(cls, value: str, said: str = "", row: LayoutRow = _PLAIN) -> Self:
        member = cls._made(value, said)
        member.row = row
        return member

    STRAIGHT = "straight", "Bands that blend"
    STRIPES = "stripes", "Stripes apart", LayoutRow(meeting=Meeting.APART)
    RINGS = "rings", "Rings", LayoutRow(BandLine.OUTWARDS)
    FAN = "fan", "Fan", LayoutRow(BandLine.ROUND)
    EDGE = "edge", "In from the edges", LayoutRow(BandLine.INWARDS)
    # Along a torn or a cut edge.
    RIBBONS = "ribbons", "Ribbons", LayoutRow(meeting=Meeting.OVERLAID)
    ROLLER = "roller", "On one roller", LayoutRow(rolled=True)
