"""Bands, seams and cuts: everything fits exactly, whatever is asked for."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence
from dataclasses import replace
from time import perf_counter

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.pace import slowness
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, Job, LayDown
from wempa.craft.panels.bands import Band, Placed, Seam, across, neighbours, place, share
from wempa.craft.panels.colours import LineColours, line_colours
from wempa.craft.panels.cutting import cut_sheet
from wempa.craft.panels.front import Front, coordinates
from wempa.craft.panels.front import spots as pixels
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.picture import picture
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.vocabulary import Layout, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink
from wempa.optics import colorimetry as cm

LAY = LayDown((("a", 1.0),), dose=1.0)
sizes = st.floats(20, 400)


def boundaries(placed: Placed) -> list[float]:
    """Where the changes are, mm along the line: the middle of every seam."""
    return [(placed.start[k + 1] + placed.stop[k]) / 2 for k in range(len(placed.start) - 1)]


def covered_length(placed: Placed) -> float:
    """Visible widths, in-betweens and gaps added up, mm."""
    own = sum(end - begin for begin, end in placed.visible)
    return own + sum(seam.end - seam.begin for seam in placed.seams)


def bands(*weights: float, **locked: float) -> list[Band]:
    return [Band(LAY, weight, locked.get(f"at{k}")) for k, weight in enumerate(weights)]


@st.composite
def laid_out(draw: st.DrawFn) -> tuple[float, list[Band], list[Seam], bool, bool]:
    """Bands that fit: locked ones take less than half, overlaps less than a quarter."""
    length, count = draw(st.floats(60, 400)), draw(st.integers(1, 9))
    closed = draw(st.booleans()) and count > 1
    weights = draw(st.lists(st.floats(0.5, 3), min_size=count, max_size=count))
    locked = draw(st.lists(st.booleans(), min_size=count, max_size=count))
    some = [
        Band(LAY, weight, 0.4 * length / count if lock and count > 1 and k else None)
        for k, (weight, lock) in enumerate(zip(weights, locked, strict=True))
    ]
    joins = count if closed else count - 1
    overlap = draw(st.floats(0, 0.2)) * length / max(1, joins)
    said = Seam(overlap, overlap * draw(st.floats(0, 1)))
    seams = [draw(st.sampled_from([said, Seam(overlap), Seam(), Seam(gap=1.0)])) for _ in range(joins)]
    return length, some, seams, closed, draw(st.booleans())


@given(laid_out())
def test_widths_and_overlaps_make_up_the_panel(made: tuple[float, list[Band], list[Seam], bool, bool]) -> None:
    length, some, seams, closed, between = made
    reach = [0.8] * len(seams)
    found = place(length, some, seams, reach=reach, fade=0.85, closed=closed, count_between=between)
    assert covered_length(found) == pytest.approx(length)
    for band, (begin, end) in zip(some, found.visible, strict=True):
        assert end > begin
        if band.width is not None:
            assert end - begin == pytest.approx(band.width)
    free = [
        (end - begin) / (band.weight or 1)
        for band, (begin, end) in zip(some, found.visible, strict=True)
        if not band.width
    ]
    if free:
        assert max(free) == pytest.approx(min(free))
    if between and free:
        for seam in found.seams:
            assert seam.end - seam.begin == pytest.approx(
                seam.gap or (free[0] if seam.end - seam.begin > 0.01 else 0), abs=0.002
            )
    # Somewhere on the line every place is inked in full by one band at least.
    at = np.linspace(0, length, 211)
    there = share(found, at)
    assert there.min() >= 0
    assert there.max() <= 1
    sharp = all(seam.feather <= seam.overlap / 2 and not seam.gap for seam in found.seams)
    if sharp:
        assert there.max(axis=1).min() == pytest.approx(1, abs=1e-6)
    for k, (begin, end) in enumerate(found.visible):
        alone = share(found, np.array([(begin + end) / 2]))[0]
        assert alone[k] == 1
        assert np.delete(alone, k).max(initial=0) < 1e-9
    assert len(neighbours(found)) == len(seams)


def test_the_middle_of_a_seam_has_both_in_full() -> None:
    found = place(100, bands(1, 1), [Seam(20, 8)])
    assert boundaries(found) == [50]
    assert share(found, np.array([50.0]))[0].tolist() == [1, 1]
    assert share(found, np.array([40.0, 44.0, 60.0]))[:, 1].tolist() == pytest.approx([0, 0.5, 1])
    # Going round, the last runs into the first.
    ring = place(120, bands(1, 1, 1), [Seam(10, 4)] * 3, closed=True)
    assert share(ring, np.array([115.0]))[0].tolist() == [1, 0, 1]


def test_the_narrowest_free_band_decides_whether_all_fit() -> None:
    """Of weights 10 and 1 on 10.5 mm the small one has 0.95 mm, which nobody can lay."""
    with pytest.raises(JobError, match="do not fit"):
        place(10.5, bands(10, 1), [Seam(0, 0)])
    assert place(11.5, bands(10, 1), [Seam(0, 0)]).visible[1][1] == pytest.approx(11.5)


def test_open_bands_meet_their_neighbours_only_and_a_ring_closes() -> None:
    assert neighbours(place(90, bands(1, 1, 1), [Seam()] * 2)) == [(0, 1), (1, 2)]
    assert neighbours(place(90, bands(1, 1, 1), [Seam()] * 3, closed=True)) == [(0, 1), (1, 2), (2, 0)]
    assert neighbours(place(90, bands(1), [], closed=True)) == []


def test_the_line_across_follows_the_angle() -> None:
    assert across(108, 140, 0) == pytest.approx(108)
    assert across(108, 140, 90) == pytest.approx(140)
    assert across(100, 100, 45) == pytest.approx(141.42, abs=0.01)


@pytest.mark.parametrize(
    ("some", "seams", "said"),
    [
        ([], [], "one band at least"),
        (bands(1, 1), [], "2 bands have 1 seams, not 0"),
        (bands(1, 0), [Seam(5, 0)], "band 2 has weight 0"),
        (bands(1, 1, at0=-3.0), [Seam(5, 0)], "band 1 is -3 mm wide"),
        (bands(1, 1), [Seam(-1, 0)], "seam 1 cannot be narrower"),
        (bands(1, 1), [Seam(4, 5)], "fades over more than it overlaps"),
        (bands(1, 1), [Seam(99.5, 0)], "do not fit on 100 mm"),
        (bands(*[1.0] * 60), [Seam(1, 0)] * 59, "60 bands and their overlaps do not fit"),
        (bands(1, 1), [Seam(soft=-0.1)], "seam 1 is 0 (stripes) to 1 (soft), not -0.1"),
        (bands(1, 1, at0=40.0, at1=30.0), [Seam(10, 0)], "20.0 mm too few"),
        (bands(1, 1, at0=60.0, at1=50.0), [Seam(10, 0)], "20.0 mm too many"),
    ],
)
def test_what_does_not_fit_is_said(some: list[Band], seams: list[Seam], said: str) -> None:
    with pytest.raises(JobError, match=re.escape(said)):
        place(100, some, seams)


@given(st.tuples(sizes, sizes), st.tuples(sizes, sizes), st.booleans())
def test_pieces_neither_overlap_nor_leave_the_sheet(
    sheet: tuple[float, float], panel: tuple[float, float], turn: bool
) -> None:
    wide, high = sheet[0] + 1e-6, sheet[1] + 1e-6
    fits = panel[0] <= wide and panel[1] <= high
    fits |= turn and panel[1] <= wide and panel[0] <= high
    found = cut_sheet(sheet, panel, turn=turn)
    assert (found.count > 0) == fits
    if not fits:
        assert (found.pieces, found.waste) == ((), 1)
    assert found.waste + 1e-9 >= 0
    assert found.count == len(found.pieces) or found.count > len(found.pieces) == 200
    for piece in found.pieces:
        assert sorted([piece.width, piece.height]) == sorted(panel)
        assert turn or (piece.width, piece.height) == panel
        assert min(piece.left, piece.top) >= 0
        assert piece.left + piece.width <= sheet[0] + 1e-5
        assert piece.top + piece.height <= sheet[1] + 1e-5
    for a, b in itertools.combinations(found.pieces, 2):
        beside = a.left + a.width <= b.left + 1e-5 or b.left + b.width <= a.left + 1e-5
        below = a.top + a.height <= b.top + 1e-5 or b.top + b.height <= a.top + 1e-5
        assert beside or below


def test_a_letter_sheet_gives_four_fronts_and_turning_helps() -> None:
    front = (4.25 * 25.4, 5.5 * 25.4)
    assert len(cut_sheet((8.5 * 25.4, 11 * 25.4), front).pieces) == 4
    assert cut_sheet((8.5 * 25.4, 11 * 25.4), front).waste == pytest.approx(0, abs=1e-9)
    assert len(cut_sheet((210, 297), (127, 178)).pieces) == 2
    assert len(cut_sheet((210, 297), (127, 178), turn=False).pieces) == 1
    with pytest.raises(JobError, match="a sheet to be cut is 10 to 1000 mm wide and high, not 210 by 0 mm"):
        cut_sheet((210, 0), (100, 100))


@pytest.mark.parametrize(
    ("sheet", "panel", "turn", "count", "drawn", "waste"),
    [
        ((1000, 1000), (10, 10), True, 10_000, 200, 0.0),
        # Four standing along the top, and two lying in the 50 mm below them.
        ((200, 120), (50, 70), True, 6, 6, 1 - 6 * 3500 / 24_000),
        ((210, 297), (105, 148.5), False, 4, 4, 0.0),
        ((210, 297), (10, 10), False, 21 * 29, 200, 1 - 21 * 29 * 100 / (210 * 297)),
    ],
)
@pytest.mark.timed
def test_panels_are_counted_and_a_bounded_number_is_laid_out(
    sheet: tuple[float, float], panel: tuple[float, float], turn: bool, count: int, drawn: int, waste: float
) -> None:
    begun = perf_counter()
    found = cut_sheet(sheet, panel, turn=turn)
    assert perf_counter() - begun < 0.2 * slowness()
    assert (found.count, len(found.pieces)) == (count, drawn)
    assert found.waste == pytest.approx(waste, abs=1e-9)


@pytest.mark.parametrize("side", [9.99, 0.1, 4.7e-253, 0, -5, float("nan"), 1101])
def test_a_panel_that_cannot_be_held_is_not_cut(side: float) -> None:
    with pytest.raises(JobError, match="a panel to be cut is 10 to 1100 mm wide and high, not") as refused:
        cut_sheet((210, 297), (100, side))
    assert refused.value.place == ("size",)


@given(st.tuples(sizes, sizes), st.tuples(sizes, sizes))
def test_turned_ones_are_never_fewer_than_all_one_way(sheet: tuple[float, float], panel: tuple[float, float]) -> None:
    plain = max(int((sheet[0] + 1e-6) // w) * int((sheet[1] + 1e-6) // h) for w, h in (panel, panel[::-1]))
    assume(plain)
    assert plain <= cut_sheet(sheet, panel).count <= sheet[0] * sheet[1] / (panel[0] * panel[1]) + 1e-6


def test_the_line_is_what_prediction_gives() -> None:
    """Middles of bands and seams are the core's stacks; between them the colour changes without a jump."""
    demo = {body["name"]: Ink.model_validate(body["body"]).to_core() for body in ink_bodies()}
    names = ["Brass Gauge", "Steam Teal", "Carriage Plum"]
    lays = [LayDown(((name, 1.0),), tool=Tool.FOAM, passes=4.0) for name in names]
    job = Job(Card(Colour(hex="#a8dcc0")), tuple((name, demo[name]) for name in names))
    some = [Band(lay) for lay in lays]
    found = place(120, some, [Seam(16, 7)] * 2)

    def drawn(seam: Seam, order: Sequence[int] = (1, 0, 2)) -> LineColours:
        panel = Panel(Front(120, 100), tuple(some), (seam, seam))
        return line_colours(job, panel, place(120, some, [seam] * 2), order)

    seen = drawn(Seam(16, 7))
    for at, stack in (
        ((found.visible[0][0] + found.visible[0][1]) / 2, (lays[0],)),
        (boundaries(found)[0], (lays[1], lays[0])),
        (boundaries(found)[1], (lays[1], lays[2])),
    ):
        k = int(np.argmin(np.abs(seen.at - at)))
        own = predict(replace(job, stack=stack))
        assert float(cm.delta_e(seen.lab[k], own.colour.lab)) < 1e-6
        assert seen.mud[k] == pytest.approx(own.verdict.mud, abs=1e-6)
        assert KINDS[seen.kind[k]] == own.verdict.kind
    assert (np.diff(seen.at) > 0).all()
    # The same overlap without a fade has hard lines, and a wider fade has softer ones.
    sharp, wide = (drawn(seam).hardest(0, 120) for seam in (Seam(16, 0), Seam(24, 12)))
    assert sharp > 3 * seen.hardest(0, 120)
    assert wide < seen.hardest(0, 120)
    with pytest.raises(JobError, match="every band once"):
        drawn(Seam(16, 7), (0, 1, 1))


@pytest.mark.parametrize(
    ("front", "spots"),
    [
        (Front(100, 140), {(0, 70): 0, (50, 70): 50, (100, 3): 100}),
        (Front(100, 140, angle=90), {(50, 0): 0, (10, 70): 70, (50, 140): 140}),
        (Front(100, 100, angle=45), {(0, 0): 0, (50, 50): 70.7, (100, 100): 141.4}),
        (Front(100, 100, angle=135), {(100, 0): 0, (0, 100): 141.4}),
        (Front(100, 140, Layout.RINGS), {(50, 70): 0, (100, 140): 86.0}),
        (Front(100, 140, Layout.RINGS, centre=(0, 0)), {(0, 0): 0, (100, 140): 172.0}),
        (Front(100, 140, Layout.EDGE), {(0, 70): 0, (50, 70): 50, (30, 70): 30, (50, 139): 1}),
        (Front(100, 100, Layout.FAN), {(100, 51): 0, (50, 100): 78.5, (0, 51): 157.1}),
    ],
)
def test_spots_lie_on_the_line(front: Front, spots: dict[tuple[float, float], float]) -> None:
    found = coordinates(front, *pixels(front.whole, 4))
    assert found.shape == (front.height * 4, front.width * 4)
    for (x, y), at in spots.items():
        row, column = min(int(y * 4), found.shape[0] - 1), min(int(x * 4), found.shape[1] - 1)
        assert found[int(row), int(column)] == pytest.approx(at, abs=1.5)
    assert found.min() >= -0.5
    assert found.max() <= front.length() + 0.5


def test_a_picture_shows_the_line() -> None:
    demo = {body["name"]: Ink.model_validate(body["body"]).to_core() for body in ink_bodies()}
    names = ["Brass Gauge", "Steam Teal", "Carriage Plum"]
    job = Job(Card(Colour(hex="#f8f7f4")), tuple((name, demo[name]) for name in names))
    some = [Band(LayDown(((name, 1.0),), tool=Tool.FOAM, passes=4.0)) for name in names]
    front = Front(108, 140)
    panel = Panel(front, tuple(some), (Seam(12, 5),) * 2)
    placed = place(front.length(), some, panel.seams)
    seen = line_colours(job, panel, placed, range(3))
    painted = picture(job, panel, placed, range(3), 3.0, specks=False)
    assert painted.shape == (420, 324, 3)
    for begin, end in placed.visible:
        at = int(np.argmin(np.abs(seen.at - (begin + end) / 2)))
        code = cm.hexes_from_lab(seen.lab[at][None], "D65")[0]
        assert "#" + bytes(painted[200, int((begin + end) / 2 * 3)]).hex() == code
    with pytest.raises(JobError, match="above 0 mm"):
        picture(job, panel, placed, range(3), 3.0, box=(5, 5, 5, 9))
    with pytest.raises(JobError, match="too large"):
        picture(job, panel, placed, range(3), 60.0)
