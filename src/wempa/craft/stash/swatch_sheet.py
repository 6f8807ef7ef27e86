"""The swatch sheet: where its squares, bare card and dark strip lie, and where a photo shows them.

Lengths are millimetres from the top left corner of the page. The printed sheet, the
simulated camera and the photo's grid helper all take the layout from here.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wempa.craft.errors import SheetError
from wempa.craft.vocabulary import Page
from wempa.optics.grid import Floats

Rectangle = tuple[float, float, float, float]
"""Left, top, right, bottom."""

PAGE_MM: dict[Page, tuple[float, float]] = {Page.A4: (210.0, 297.0), Page.LETTER: (215.9, 279.4)}
SQUARE_MM = 24.0
STEP_SHARES = (0.10, 0.25, 0.40, 0.60, 0.75, 0.90)
"""Shares of black of the grey steps."""
FINE_MM, COARSE_MM = 0.35, 0.8
"""From line to line of the steps: two, so that how much wider lines are printed can be told."""
SLANT = 0.25
"""How far lines lean to the right, in mm for each mm downwards: a camera's rows then meet them at every phase."""
_PITCH_X, _PITCH_Y = 31.0, 37.0
LARGE_MM = 48.0
"""Side of the squares when few are asked for: room for a stroke of the brush, and for the eye."""
_LARGE_PITCH_X, _LARGE_PITCH_Y = 62.0, 68.0
_TOP, _SIDE, _MARK = 42.0, 15.0, 9.0
MARK_RADIUS_MM = 3.5


@dataclass(frozen=True, slots=True)
class GreyStep:
    """Slanting black lines on the card: a known mean light, whatever the printer and the phone."""

    box: Rectangle
    share: float
    """Of black, 0–1."""
    pitch: float
    """From one line to the next, in mm across."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """One page of swatches."""

    page: Page
    large: bool
    """Whether it has few, large squares; black and bare card have changed places then, which tells it on a photo."""
    width: float
    height: float
    columns: int
    rows: int
    squares: tuple[Rectangle, ...]
    """To be inked, row by row."""
    bare: Rectangle
    """A square to be left bare: the white of the card."""
    dark: Rectangle
    """A strip printed solid black."""
    whites: tuple[Rectangle, ...]
    """Card that nothing is printed on, spread over the page."""
    steps: tuple[GreyStep, ...]
    marks: tuple[tuple[float, float], ...]
    """Centres of the four black discs: top left, top right, bottom right, bottom left."""


def sheet_layout(page: Page, large: bool = False) -> Sheet:
    """The sheet for a paper size: as many squares of 24 mm as fit, or few `large` ones of 48 mm."""
    width, height = PAGE_MM[page]
    square, across, down = (LARGE_MM, _LARGE_PITCH_X, _LARGE_PITCH_Y) if large else (SQUARE_MM, _PITCH_X, _PITCH_Y)
    columns = int((width - 2 * _SIDE + across - square) // across)
    rows = int((height - _TOP - 2 * _MARK) // down)
    left = (width - (columns - 1) * across - square) / 2
    corners = [(left + c * across, _TOP + r * down) for r in range(rows) for c in range(columns)]
    gap = across - square
    # Strips beside the squares, where neither a label nor a swatch reaches.
    strips = [
        (left + c * across - gap + 1.5, y + 2, left + c * across - 1.5, y + square - 2)
        for y in (_TOP + r * down for r in range(rows))
        for c in range(columns + 1)
    ]
    # Between the label and the bare square, and in coarser lines under the squares.
    fine = _steps(width - 59.0 - 42.0, 14.0, 7.0, 16.0, FINE_MM)
    first, low = width / 2 - 48.0, height - 31.0
    coarse = _steps(first, low, 16.0, 14.0, COARSE_MM)
    strips += [(first - 14.0, low, first - 3.0, low + 14.0), (first + 99.0, low, first + 110.0, low + 14.0)]
    beside = [(width - 56.0, 14.0, width - 40.0, 30.0), (width - 36.0, 14.0, width - 20.0, 30.0)]
    dark, bare = beside if large else reversed(beside)
    return Sheet(
        page=page,
        large=large,
        width=width,
        height=height,
        columns=columns,
        rows=rows,
        squares=tuple((x, y, x + square, y + square) for x, y in corners),
        bare=bare,
        dark=dark,
        whites=tuple(strips),
        steps=(*fine, *coarse),
        marks=((_MARK, _MARK), (width - _MARK, _MARK), (width - _MARK, height - _MARK), (_MARK, height - _MARK)),
    )


def sheet_for(page: Page, count: int) -> Sheet:
    """The sheet for so many swatches, 0 if nobody said: with large squares where these are enough.

    Raises
    ------
    SheetError
        More swatches than a sheet has squares.
    """
    large = sheet_layout(page, large=True)
    if 0 < count <= len(large.squares):
        return large
    small = sheet_layout(page)
    if count > len(small.squares):
        raise SheetError(f"a sheet has {len(small.squares)} squares, not {count}")
    return small


def _steps(left: float, top: float, wide: float, high: float, pitch: float) -> list[GreyStep]:
    return [
        GreyStep((left + k * wide, top, left + (k + 1) * wide, top + high), share, pitch)
        for k, share in enumerate(STEP_SHARES)
    ]


STRIP_MM = (104.0, 30.0)
"""Width and height of the strip to cut out."""


def strip_layout() -> Sheet:
    """The strip that is laid beside swatches: bare card, black and grey steps between four discs."""
    width, height = STRIP_MM
    fine = _steps(26.0, 4.0, 7.0, 10.0, FINE_MM)
    coarse = _steps(26.0, 16.0, 7.2, 10.0, COARSE_MM)
    bare = (10.0, 4.0, 24.0, 26.0)
    mark = 4.0
    return Sheet(
        page=Page.A4,
        large=False,
        width=width,
        height=height,
        columns=0,
        rows=0,
        squares=(),
        bare=bare,
        dark=(80.0, 4.0, 94.0, 26.0),
        whites=((69.5, 4.0, 78.5, 14.0),),
        steps=(*fine, *coarse),
        marks=((mark, mark), (width - mark, mark), (width - mark, height - mark), (mark, height - mark)),
    )


def page_of(corners: Floats) -> Page:
    """Which paper size a sheet is, from the centres of its four discs on a photo, (4, 2).

    The sizes differ in shape: how long the sides are against how wide.
    """
    return min(Page, key=lambda page: shape_off(page, corners))


def shape_off(page: Page, corners: Floats) -> float:
    """How far what four discs (4, 2) span is from a page's shape, as ln of sides over width, not below 0."""
    top, right, bottom, left = (float(np.linalg.norm(corners[(k + 1) % 4] - corners[k])) for k in range(4))
    return abs(float(np.log((left + right) / max(top + bottom, 1e-9) / _shape(page))))


def _shape(page: Page) -> float:
    marks = sheet_layout(page).marks
    return (marks[3][1] - marks[0][1]) / (marks[1][0] - marks[0][0])


def projection(source: Floats, target: Floats) -> Floats:
    """Matrix (3, 3) that takes four points (4, 2) to four others as a flat page is seen at an angle.

    Raises
    ------
    SheetError
        Three of the points lie on a line.
    """
    rows = []
    for (x, y), (u, v) in zip(source, target, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
    try:
        found = np.linalg.solve(np.array(rows), target.reshape(-1))
    except np.linalg.LinAlgError as error:
        raise SheetError("the four corners do not span a sheet") from error
    matrix = np.append(found, 1.0).reshape(3, 3)
    if np.linalg.cond(matrix) > 1e12:
        raise SheetError("the four corners do not span a sheet")
    return matrix


def projected(points: Floats, matrix: Floats) -> Floats:
    """Points (n, 2) taken through a `projection`, (n, 2)."""
    homogeneous = np.concatenate([points, np.ones((len(points), 1))], axis=1) @ matrix.T
    return np.asarray(homogeneous[:, :2] / homogeneous[:, 2:])


def seen_in_photo(rectangle: Rectangle, matrix: Floats, share: float = 0.8) -> Rectangle:
    """An upright area of the photo well inside a rectangle of the sheet."""
    left, top, right, bottom = rectangle
    corners = projected(np.array([(left, top), (right, top), (right, bottom), (left, bottom)]), matrix)
    centre = projected(np.array([((left + right) / 2, (top + bottom) / 2)]), matrix)[0]
    # The largest upright rectangle inside a nearly upright quadrangle.
    x = min(abs(corners[[0, 3], 0] - centre[0]).min(), abs(corners[[1, 2], 0] - centre[0]).min()) * share
    y = min(abs(corners[[0, 1], 1] - centre[1]).min(), abs(corners[[2, 3], 1] - centre[1]).min()) * share
    return (float(centre[0] - x), float(centre[1] - y), float(centre[0] + x), float(centre[1] + y))


@dataclass(frozen=True, slots=True)
class Marked:
    """Areas of a photo that a grid marks at once."""

    swatches: tuple[Rectangle, ...]
    whites: tuple[Rectangle, ...]
    dark: Rectangle | None
    steps: tuple[GreyStep, ...] = ()
    """In pixels, but for the pitch."""


def mark_sheet(page: Page, corners: Floats, large: bool = False) -> Marked:
    """All areas of a printed sheet whose four discs (4, 2) are known; raises `SheetError`."""
    return _marked(sheet_layout(page, large), corners)


def mark_strip(corners: Floats) -> Marked:
    """All areas of the strip whose four discs (4, 2) are known; raises `SheetError`."""
    return _marked(strip_layout(), corners)


def _marked(sheet: Sheet, corners: Floats) -> Marked:
    matrix = projection(np.array(sheet.marks), corners)
    return Marked(
        tuple(seen_in_photo(square, matrix, 0.7) for square in sheet.squares),
        tuple(seen_in_photo(white, matrix) for white in (sheet.bare, *sheet.whites)),
        seen_in_photo(sheet.dark, matrix),
        tuple(GreyStep(seen_in_photo(step.box, matrix), step.share, step.pitch) for step in sheet.steps),
    )


def mark_grid(columns: int, rows: int, corners: Floats, share: float = 0.45) -> Marked:
    """Areas of any grid of swatches, from the centres (4, 2) of its four corner swatches.

    `share` is the marked part of the distance between neighbours. Raises `SheetError`.
    """
    if columns < 1 or rows < 1:
        raise SheetError("a grid has at least one row and one column")
    across, down = max(columns - 1, 1), max(rows - 1, 1)
    matrix = projection(np.array([(0.0, 0.0), (across, 0.0), (across, down), (0.0, down)]), corners)
    half = share / 2
    cells = [(c - half, r - half, c + half, r + half) for r in range(rows) for c in range(columns)]
    return Marked(tuple(seen_in_photo(cell, matrix, 1.0) for cell in cells), (), None)
