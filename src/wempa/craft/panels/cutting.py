"""How many panels come out of a sheet of card, and where to cut."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import islice

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_DRAWN_PIECES, MAX_SIDE_MM, MIN_SIDE_MM

# Tenths of a millimetre that rounding may cost before a panel counts as too large.
_ROUNDED_MM = 1e-6
# The longest panel may have bleed on both sides as well.
_MAX_CUT_MM = MAX_SIDE_MM + 100


@dataclass(frozen=True, slots=True)
class Piece:
    """One panel on the sheet: left, top, width and height in mm."""

    left: float
    top: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class CutSheet:
    """A sheet cut up."""

    count: int
    """How many panels come out of it."""
    pieces: tuple[Piece, ...]
    """Where they lie; of more than `MAX_DRAWN_PIECES` the first so many."""
    waste: float
    """Share of the sheet that is left over, 0–1."""


@dataclass(frozen=True, slots=True)
class _Block:
    """Panels all one way round in a part of the sheet, mm."""

    left: float
    top: float
    across: int
    down: int
    way: tuple[float, float]

    @property
    def count(self) -> int:
        return self.across * self.down

    def piece(self, n: int) -> Piece:
        """Panel n, row by row."""
        j, i = divmod(n, self.across)
        width, height = self.way
        return Piece(self.left + i * width, self.top + j * height, width, height)


def cut_sheet(sheet: tuple[float, float], panel: tuple[float, float], *, turn: bool = True) -> CutSheet:
    """As many panels (width, height in mm) as come out of a sheet with cuts from edge to edge.

    All one way round, or, unless `turn` is False because the grain has to run one way, the
    sheet cut in two with the panels standing in one part and lying in the other: the cut is
    tried after every whole number of standing ones, across and down. What is tried is
    counted, not laid out; it is bounded by the least side of a panel. A panel larger than the
    sheet does not come out of it: none, and all of the sheet is left.

    Raises
    ------
    JobError
        A side is shorter than `MIN_SIDE_MM` or longer than `MAX_SIDE_MM`.
    """
    for name, sides, most in (("sheet", sheet, MAX_SIDE_MM), ("panel", panel, _MAX_CUT_MM)):
        if not all(MIN_SIDE_MM <= side <= most for side in sides):
            size = " by ".join(f"{side:.3g}" for side in sides)
            raise JobError(f"a {name} to be cut is {MIN_SIDE_MM} to {most} mm wide and high, not {size} mm", ("size",))
    width, height = sheet
    ways = [panel, (panel[1], panel[0])] if turn else [panel]
    plans = [(_block((0.0, 0.0), sheet, way),) for way in ways]
    mixed: list[tuple[_Block, ...]] = []
    if turn:
        # The other way about gives as many: each number of panels of one kind leaves room for some of the other.
        first, second = ways
        for at in _after(width, first[0]):
            rest = _block((at, 0.0), (width - at, height), second)
            mixed.append((_block((0.0, 0.0), (at, height), first), rest))
        for at in _after(height, first[1]):
            rest = _block((0.0, at), (width, height - at), second)
            mixed.append((_block((0.0, 0.0), (width, at), first), rest))
    best = max([*plans, *mixed], key=lambda blocks: sum(block.count for block in blocks))
    count = sum(block.count for block in best)
    pieces = (block.piece(n) for block in best for n in range(block.count))
    drawn = tuple(islice(pieces, MAX_DRAWN_PIECES))
    return CutSheet(count, drawn, 1 - count * panel[0] * panel[1] / (width * height))


def _after(room: float, side: float) -> list[float]:
    """Where a cut may go: after every whole number of panels that there is room for."""
    return [count * side for count in range(1, int((room + _ROUNDED_MM) // side) + 1)]


def _block(corner: tuple[float, float], room: tuple[float, float], way: tuple[float, float]) -> _Block:
    """As many panels one way round as a part of the sheet has room for."""
    across, down = (max(0, int((space + _ROUNDED_MM) // side)) for space, side in zip(room, way, strict=True))
    return _Block(*corner, across, down, way)
