"""A drawing in each of its forms: its real size, its colours, its limits."""

from __future__ import annotations

import io

import pypdfium2
import pytest
from PIL import Image
from reportlab.graphics.shapes import Drawing, Rect
from reportlab.lib.colors import HexColor

from wempa.craft.errors import JobError
from wempa.formats import drawn_forms
from wempa.formats.drawn_forms import DrawnForm


def page(colour: str, width: float = 144, height: float = 72) -> Drawing:
    drawing = Drawing(width, height)
    # From the lower left corner, a quarter of the page.
    drawing.add(Rect(0, 0, width / 2, height / 2, fillColor=HexColor(colour), strokeColor=None))
    return drawing


def test_a_picture_has_300_points_an_inch_and_says_so() -> None:
    picture = Image.open(io.BytesIO(drawn_forms.png(page("#336f9e"))))
    assert picture.size == (600, 300)
    assert picture.info["dpi"] == pytest.approx((300, 300), abs=0.1)
    rgb = picture.convert("RGB")
    assert rgb.getpixel((150, 225)) == (0x33, 0x6F, 0x9E)
    assert rgb.getpixel((450, 225)) == rgb.getpixel((150, 75)) == (255, 255, 255)


def test_a_drawing_keeps_its_colours_exactly() -> None:
    text = drawn_forms.svg(page("#336f9d"))
    assert "fill: #336f9d" in text.lower().replace("fill:#", "fill: #")
    assert 'width="144' in text


def test_pages_of_one_file_each_have_their_size_and_place() -> None:
    document = pypdfium2.PdfDocument(drawn_forms.pdf_pages([page("#c02020"), page("#2020c0", 72, 216)]))
    assert [each.get_size() for each in document] == [(144, 72), (72, 216)]
    first, second = (each.render(scale=1).to_pil().convert("RGB") for each in document)
    # To the very corner, and no farther than half.
    for x, y in ((0, 71), (71, 36), (35, 60)):
        assert first.getpixel((x, y)) == (0xC0, 0x20, 0x20)
    for x, y in ((73, 71), (0, 34), (100, 10)):
        assert first.getpixel((x, y)) == (255, 255, 255)
    assert second.getpixel((0, 215)) == (0x20, 0x20, 0xC0)


def test_a_picture_that_is_too_large_is_refused_before_it_is_painted() -> None:
    with pytest.raises(JobError, match="a picture of 100 million points is too large; take the PDF or SVG"):
        drawn_forms.png(page("#336f9e", 2400, 2400))


def test_each_form_has_its_media_type_and_word() -> None:
    assert {str(form): form.row.media for form in DrawnForm} == {
        "pdf": "application/pdf",
        "svg": "image/svg+xml",
        "png": "image/png",
    }
    assert DrawnForm.PNG.said == "a picture (PNG, 300 dpi)"
