"""Drawings in millimetres: one description, three files that agree."""

from __future__ import annotations

import io
import re
from typing import Any
from xml.dom import minidom

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from reportlab.lib.colors import black

from wempa.craft.overlap.crossing import crossing
from wempa.craft.recipe import recipe
from wempa.demo.penny_halt import ink_bodies
from wempa.formats import drawn_forms as drawn
from wempa.formats.drawing import Pen
from wempa.formats.faces import BOLD, NAMES, TEXT, runs, width_of
from wempa.formats.job import read_one
from wempa.formats.overlap import overlap_sheet

INKS: dict[str, Any] = {ink["name"]: ink["body"] for ink in ink_bodies()}


def at(picture: Image.Image, x: float, y: float, dpi: int) -> str:
    found = picture.getpixel((round(x / 25.4 * dpi), round(y / 25.4 * dpi)))
    assert isinstance(found, tuple)
    return f"#{bytes(found[:3]).hex()}"


@pytest.mark.parametrize("dpi", [72, 150, 300])
def test_a_box_stands_where_it_is_drawn_in_its_own_colour(dpi: int) -> None:
    pen = Pen(80, 60)
    pen.rectangle((0, 0, 80, 60), fill="#ffffff", stroke=None)
    pen.rectangle((10, 20, 30, 50), fill="#3b525b", stroke=None)
    picture = Image.open(io.BytesIO(drawn.png(pen.drawing, dpi))).convert("RGB")
    assert abs(picture.width - 80 / 25.4 * dpi) <= 1
    inside, outside = [(11, 21), (29, 49), (20, 35)], [(8, 21), (32, 49), (20, 18), (20, 52)]
    assert {at(picture, x, y, dpi) for x, y in inside} == {"#3b525b"}
    assert {at(picture, x, y, dpi) for x, y in outside} == {"#ffffff"}
    svg = drawn.svg(pen.drawing)
    assert "#3b525b" in svg
    box = re.search(r'<rect [^>]*width="([\d.]+)" height="([\d.]+)"[^>]*#3b525b', svg)
    assert box is not None
    assert [round(float(v) / 72 * 25.4, 1) for v in box.groups()] == [20, 30]


def test_every_colour_comes_through_unchanged() -> None:
    pen = Pen(64, 10)
    codes = [f"#{(n * 263171 + 9999) % 0xFFFFFF:06x}" for n in range(32)]
    for n, code in enumerate(codes):
        pen.rectangle((2 * n, 0, 2 * n + 2, 10), fill=code, stroke=None)
    picture = Image.open(io.BytesIO(drawn.png(pen.drawing, 200))).convert("RGB")
    assert [at(picture, 2 * n + 1, 5, 200) for n in range(32)] == codes
    assert all(code in drawn.svg(pen.drawing) for code in codes)


def test_text_is_shortened_or_broken_to_its_width() -> None:
    pen = Pen(100, 100)
    long = "Rain on an old timetable, with a good deal more to be said of it than fits on one line"
    pen.text(5, 5, long, 10, width=40)
    after = pen.paragraph(5, 20, long, 10, 40)
    texts = [shape.text for shape in pen.drawing.contents]
    assert texts[0].endswith("…")
    lines = texts[1:]
    assert " ".join(lines) == long
    assert all(width_of(line, TEXT, 10) <= 40 * 72 / 25.4 for line in texts)
    assert after == pytest.approx(20 + len(lines) * 4.4)
    assert pen.paragraph(5, 20, "", 10, 40) == 20
    pen.disc(10, 10, 2)
    pen.polygon([(0, 0), (1, 0), (1, 1)], fill=black)
    assert drawn.svg(pen.drawing).count("<circle") == 1


NAMED = "Łąka – é, Ζέφυρος, Сливовый, 桜 ΔE00 ½ →"


@pytest.mark.parametrize("face", [TEXT, BOLD, NAMES])
def test_letters_of_three_alphabets_are_printed_as_they_are_typed(face: str) -> None:
    pieces = runs(NAMED, face)
    assert "".join(piece for piece, _ in pieces) == NAMED.replace("桜", "□")
    assert {of.startswith("Wempa Other") for piece, of in pieces if "Ζ" in piece or "С" in piece} == {True}
    assert pieces[0][0].startswith("Łąka")
    assert pieces[0][1] == face


@pytest.mark.parametrize(
    ("typed", "drawn_as"),
    [("e\u0301", "é"), ("Ｂｌｕｅ", "Blue"), ("ﬁr", "fir"), ("a\u200db", "ab"), ("🙂", "□"), ("\u200d", ""), ("", "")],
)
def test_what_no_face_has_is_taken_apart_or_told_by_a_box(typed: str, drawn_as: str) -> None:
    assert "".join(piece for piece, _ in runs(typed, TEXT)) == drawn_as


def test_every_file_carries_its_faces_and_its_letters() -> None:
    pen = Pen(120, 30)
    pen.text(5, 10, NAMED, 11)
    pen.text(5, 20, "Boiler Blue", 15, NAMES)
    document = pypdfium2.PdfDocument(drawn.pdf(pen.drawing))
    page = document[0]
    assert page.get_textpage().get_text_range().replace("\r\n", "\n").split("\n")[0] == NAMED.replace("桜", "□")
    document.close()
    assert b"/FontFile2" in drawn.pdf(pen.drawing)
    assert b"Helvetica" not in drawn.pdf(pen.drawing).replace(b"/F1", b"").split(b"/FontFile2")[1]
    svg = drawn.svg(pen.drawing)
    used = set(re.findall(r"font-family: ?([^;\"]+)", svg.partition("</style>")[2]))
    assert used == {"Wempa Text", "Wempa Other", "Wempa Names"}
    assert set(re.findall(r"@font-face{font-family:'([^']+)';src:url\(data:font/ttf", svg)) == used
    minidom.parseString(svg)


def test_a_face_has_a_box_for_what_it_lacks_and_reads_as_wide_as_it_is_drawn() -> None:
    pen = Pen(100, 20)
    pen.text(5, 15, "□", 30)
    picture = np.asarray(Image.open(io.BytesIO(drawn.png(pen.drawing, 100))).convert("L"))
    dark = np.argwhere(picture < 128)
    assert len(dark) > 40
    pen = Pen(200, 20)
    pen.text(5, 15, "Mill Street", 30, BOLD)
    columns = np.flatnonzero(
        (np.asarray(Image.open(io.BytesIO(drawn.png(pen.drawing, 144))).convert("L")) < 128).any(axis=0)
    )
    wide = (columns[-1] - columns[0]) / 144 * 72
    assert wide == pytest.approx(width_of("Mill Street", BOLD, 30), abs=4)


@pytest.mark.parametrize("count", [0, 1, 2, 3, 6])
def test_the_overlap_page_shows_every_swatch_of_any_number_of_inks(count: int) -> None:
    names = ["Boiler Blue", "Brass Gauge", "Coral Bunting", "Steam Teal", "Ticket Pink", "Steam White"][:count]
    stack: list[dict[str, Any]] = [{"ink": name, "tool": "foam", "passes": 3} for name in names]
    job = read_one(
        {
            "wempa": 1,
            "cardstock": {"colour": {"hex": "#26344f"}},
            "inks": {name: INKS[name] for name in names},
            "stack": [*stack, {"treatment": "spritz"}] * (1 if count else 0),
        }
    )
    found = crossing(job)
    text = overlap_sheet.OverlapText("Ö" * 90, "Night Mail Navy", "", names, recipe(job) * 6, "daylight", "2026-11-25")
    page = overlap_sheet.draw(found, text, 50)
    svg = drawn.svg(page)
    wanted = {found.full.colour.hex, found.bare.colour.hex, found.wet.colour.hex}
    wanted |= {alone.colour.hex for alone in found.alone} | {pair.hex for pair in found.pairs}
    assert all(code in svg for code in wanted)
    assert len(found.pairs) == count * (count - 1)
    # Nothing is written beyond the page.
    for x, y in re.findall(r'<text[^>]* x="(-?[\d.]+)" y="(-?[\d.]+)"', svg):
        assert 0 <= float(x) <= overlap_sheet.WIDTH_MM / 25.4 * 72
        assert abs(float(y)) <= overlap_sheet.HEIGHT_MM / 25.4 * 72
    assert drawn.pdf(page).startswith(b"%PDF")


def test_the_glass_fills_with_mud() -> None:
    def filled(mud: float) -> int:
        pen = Pen(20, 20)
        pen.rectangle((0, 0, 20, 20), fill="#ffffff", stroke=None)
        overlap_sheet.mud_glass(pen, 2, 2, 16, mud, 50)
        picture = Image.open(io.BytesIO(drawn.png(pen.drawing, 100))).convert("L")
        return sum(value < 100 for value in picture.tobytes())

    levels = [filled(mud) for mud in (0, 25, 50, 75, 100)]
    assert levels == sorted(levels)
    assert levels[-1] > 3 * levels[0]
