"""What stands on printed pages where there is nothing, or too much, to say."""

from __future__ import annotations

from reportlab.graphics.shapes import Drawing, String
from reportlab.lib.units import mm

from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.overlap.crossing import crossing
from wempa.craft.vocabulary import Formula, Page
from wempa.formats.overlap.overlap_sheet import OverlapText
from wempa.formats.overlap.overlap_sheet import draw as overlap_sheet
from wempa.formats.search.reserve_sheet import ReserveRow, pages


def texts(drawing: Drawing) -> dict[str, tuple[float, float]]:
    """Every text of a drawing and where it begins, in mm from the top left."""
    found, pending = {}, list(drawing.contents)
    while pending:
        shape = pending.pop()
        pending += getattr(shape, "contents", [])
        if isinstance(shape, String):
            found[shape.text] = (round(shape.x / mm, 2), round((drawing.height - shape.y) / mm, 2))
    return found


def test_an_ink_that_nothing_can_make_says_so_beside_its_name() -> None:
    row = ReserveRow("Tea Urn", "owned", "#9c6a44", None, "", "", (), stands_in=False)
    (page,) = pages([row], "on Snow", Page.A4)
    found = texts(page)
    told, name = found["There is no other ink to make it from."], found["Tea Urn"]
    assert told[1] == name[1]
    assert told[0] - name[0] == 56
    assert "page 1 of 1" in next(text for text in found if text.startswith("on Snow"))


def test_a_recipe_too_long_for_its_page_tells_how_much_is_left_out() -> None:
    ink = Ink(Swatch(Colour(hex="#9c6a44")), Formula.DYE, "Tea Urn")
    job = Job(Card(Colour(hex="#f8f7f4")), (("a", ink),), (LayDown((("a", 1.0),), dose=1.0),))
    said = OverlapText("Long", "Snow", "", ["Tea Urn"], [f"step {n}" for n in range(1, 31)], "daylight", "2026-11-26")
    found = texts(overlap_sheet(crossing(job), said, 50))
    told = [int(text.split(". step ")[1]) for text in found if ". step " in text]
    assert sorted(told) == list(range(1, len(told) + 1))
    assert len(told) < 30
    assert f"and {30 - len(told)} more" in found


def test_what_stands_in_is_told_in_words_and_the_figures_stand_apart() -> None:
    row = ReserveRow(
        "Tea Urn", "wanted", "#9c6a44", "#9d6b45", "likely within a shade", "ΔE00 0.4 ± 9.2", ("Brick",), True
    )
    found = texts(pages([row], "on Snow", Page.A4)[0])
    assert found["wanted; stands in"][0] == found["likely within a shade"][0]
    # A4 is 210 mm wide: the figures are at its right edge, out of the sentence.
    assert [x >= 178 for text, (x, _) in found.items() if "E00" in text or "±" in text] == [True]
