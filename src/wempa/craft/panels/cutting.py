"""How many panels come out of a sheet of card, and where to cut."""

from __future__ import annotations

from dataclasses import dataclass

from wempa.craft.errors import JobError

# Tenths of a millimetre that rounding may cost before a panel counts as too large.
_ROUNDED_MM = 1e-6


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

    pieces: tuple[Piece, ...]
    waste: float
    """Share of the sheet that is left over, 0–1."""


def cut_sheet(sheet: tuple[float, float], panel: tuple[float, float], *, turn: bool = True) -> CutSheet:
    """As many panels (width, height in mm) as come out of a sheet with cuts from edge to edge.

    All one way round, or, unless `turn` is False because the grain has to run one way, the
    sheet cut in two with the panels standing in one part and lying in the other: the cut is
    tried after every whole number of standing ones, across and down.

    Raises
    ------
    JobError
        A size is not above 0, or the panel is larger than the sheet.
    """
    if min(*sheet, *panel) <= 0:
        raise JobError("a sheet and a panel are wider and higher than 0 mm", ("size",))
    width, height = sheet
    ways = [panel, (panel[1], panel[0])] if turn else [panel]
    plans = [_rows((0.0, 0.0), sheet, way) for way in ways]
    if turn:
        # The other way about gives as many: so many of one kind leave room for so many of the other.
        first, second = ways
        for count in range(1, int((width + _ROUNDED_MM) // first[0]) + 1):
            at = count * first[0]
            rest = _rows((at, 0.0), (width - at, height), second)
            plans.append(_rows((0.0, 0.0), (at, height), first) + rest)
        for count in range(1, int((height + _ROUNDED_MM) // first[1]) + 1):
            at = count * first[1]
            rest = _rows((0.0, at), (width, height - at), second)
            plans.append(_rows((0.0, 0.0), (width, at), first) + rest)
    best = max(plans, key=len)
    if not best:
        size = f"{panel[0]:g} by {panel[1]:g} mm"
        raise JobError(f"a panel of {size} does not come out of a sheet of {width:g} by {height:g} mm", ("size",))
    used = len(best) * panel[0] * panel[1]
    return CutSheet(tuple(best), 1 - used / (width * height))


def _rows(corner: tuple[float, float], room: tuple[float, float], way: tuple[float, float]) -> list[Piece]:
    """Panels all one way round in a part of the sheet."""
    across, down = (int((space + _ROUNDED_MM) // side) for space, side in zip(room, way, strict=True))
    return [
        Piece(corner[0] + i * way[0], corner[1] + j * way[1], way[0], way[1])
        for j in range(max(0, down))
        for i in range(max(0, across))
    ]
