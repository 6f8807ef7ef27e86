"""Files in and out: tables of inks, measurements, palettes, workspaces, photos, the printed sheet."""

from __future__ import annotations

import base64
import io
import json
import re
import zlib
from dataclasses import replace
from typing import Any

import numpy as np
import pypdfium2
import pytest
from PIL import Image, ImageCms

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_PIXELS, MAX_UPLOAD, WHITE_CARD
from wempa.craft.stash.swatch_sheet import SQUARE_MM, sheet_layout
from wempa.craft.vocabulary import Formula, Page, Standing, Tool
from wempa.demo.camera import Form, Scene, photograph
from wempa.formats import drawn_forms as rendered
from wempa.formats.stash import swatch_sheet as drawn
from wempa.formats.stash.blanks import blank_items
from wempa.formats.stash.inks_csv import COLUMNS, read_inks, write_inks
from wempa.formats.stash.items import CardItem, InkItem, RangeItem, ToolItem, Weight, read_item
from wempa.formats.stash.measurements import read_measurements
from wempa.formats.stash.palette import PALETTES, PaletteInk
from wempa.formats.stash.photo_file import MAX_SIDE, ImageError, decode, encode, open_photo
from wempa.formats.text_table import TableError, write_table
from wempa.formats.workspace import read_workspace
from wempa.optics import colorimetry as cm

SMALL = Scene(width=600, made_by=("Signal Box", "Lamp 9"), tilt=0.0, uneven=0.0, vignette=0.0, glare=0.0)
INK: dict[str, Any] = {"name": "Sea Wall", "formula": "hybrid", "ink": {"swatch": {"colour": {"hex": "#3c7fae"}}}}


def ink(**changes: Any) -> InkItem:
    return InkItem.model_validate({**INK, **changes})


# -- items --------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("kind", "data", "place", "says"),
    [
        ("ink", {**INK, "name": ""}, ("name",), "may not be empty"),
        ("ink", {**INK, "colour": 3}, ("colour",), "is not a key"),
        ("ink", {**INK, "re_inked": "2026-13-40"}, ("re_inked",), "date"),
        ("ink", {**INK, "ink": {"swatch": {"colour": {}}}}, ("ink", "swatch", "colour"), "exactly one of"),
        ("ink", {**INK, "ink": {**INK["ink"], "constants": {"lift": 7}}}, (), "must lie between"),
        ("card", {"name": "x", "card": {"colour": {"hex": "#ffffff"}}, "left": -1}, ("left",), "0 or more"),
        ("card", {"name": "x", "card": {"colour": {"hex": "#fff"}}}, ("card", "colour", "hex"), "is not a colour"),
        ("tool", {"name": "x", "tool": "hammer"}, ("tool",), "it has to be"),
        ("range", {"name": "x", "constants": {"shine": 1}}, (), "no constant 'shine'"),
    ],
)
def test_a_bad_field_is_one_sentence_with_its_place(
    kind: str, data: dict[str, Any], place: tuple[str, ...], says: str
) -> None:
    with pytest.raises(JobError) as caught:
        read_item(kind, data)
    assert caught.value.place == place
    assert says in caught.value.message


def test_items_are_stored_and_come_back() -> None:
    whole = ink(standing="wanted", pad_kind="foam", re_inked="2026-05-01", notes="x", range="Ballast")
    stored = whole.stored()
    assert stored["details"] == {"standing": "wanted", "pad_kind": "foam", "re_inked": "2026-05-01", "notes": "x"}
    assert stored["body"]["formula"] == "hybrid"
    again = InkItem.read(stored)
    assert again.stored() == stored
    card = CardItem.model_validate(
        {
            "name": "Snow",
            "card": {"colour": {"hex": "#f8f7f4"}},
            "weight": {"value": 110, "unit": "lb", "basis": "cover"},
        }
    )
    assert CardItem.read(card.stored()) == card
    assert RangeItem.read(RangeItem(name="r", constants={"lift": 0.2}).stored()).constants == {"lift": 0.2}
    with pytest.raises(ValueError, match="names its basis"):
        Weight(value=110, unit="lb")


# -- inks as CSV --------------------------------------------------------------------

LAB = (50.0, 1.5, -30.25)


def test_inks_come_back_from_their_own_table() -> None:
    items = [
        ink(),
        ink(name="Lab", ink={"swatch": {"colour": {"lab": [50.5, 1.25, -3], "illuminant": "D65"}, "spread": 1.5}}),
        ink(name="=2+3", range="+risky", notes="'quoted", standing="used_up", refill=True, place="dark"),
        ink(
            name="Made",
            ink={"swatch": {"colour": {"hex": "#aabbcc"}, "made_with": {"tool": "foam", "passes": 3}}, "hiding": 0.4},
        ),
    ]
    text = write_inks(items, lambda _: LAB)
    assert "'=2+3" in text
    rows = read_inks(text.encode())
    assert [row.problem for row in rows] == [None] * 4
    for row, item in zip(rows, items, strict=True):
        assert row.item is not None
        before, after = item.model_dump(mode="json"), row.item.model_dump(mode="json")
        for one in (before, after):
            made = one["ink"]["swatch"]["made_with"]
            one["ink"]["swatch"]["made_with"] = {"tool": "pad", "load": "normal", "passes": 1.0} | (made or {})
        assert after == before


def test_columns_in_any_order_semicolons_and_decimal_commas() -> None:
    data = "\ufeffHiding;Name;LAB_B;lab a;lab_l;Formula;refill\n0,35;Smoke;-3,5;1,25;62,5;Reactive dye;x\n\n"
    (row,) = read_inks(data.encode())
    assert row.item is not None
    assert row.item.formula is Formula.REACTIVE_DYE
    assert row.item.ink.swatch.colour.lab == [62.5, 1.25, -3.5]
    assert row.item.ink.hiding == 0.35
    assert row.item.refill
    assert row.item.standing is Standing.OWNED


def test_every_bad_row_is_named() -> None:
    data = "name,formula,hex,lab_l,refill,passes\nA,dye,#12345,,,\nB,paint,#123456,,,\n,dye,#123456,,,\nC,dye,,50,,\n"
    data += "D,dye,,,,\nE,dye,#123456,,perhaps,\nF,dye,#123456,,,many\nG,dye,#123456,,yes,2\n"
    rows = read_inks(data.encode())
    problems = {row.line: row.problem for row in rows}
    assert problems[2] is not None
    assert "line 2: colour.hex: '#12345' is not a colour" in problems[2]
    assert problems[3] is not None
    assert problems[3].startswith("line 3: formula")
    assert problems[4] == "line 4: the ink has no name"
    assert problems[5] == "line 5: lab_l, lab_a and lab_b go together"
    assert problems[6] is not None
    assert "D has no colour" in problems[6]
    assert problems[7] == "line 7: 'perhaps' in refill is neither yes nor no"
    assert problems[8] == "line 8: 'many' in passes is not a number"
    assert problems[9] is None


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"range,hex\nx,#123456\n", "column name is missing"),
        (b"name,shade\nx,#123456\n", "no column 'shade'"),
        (b"name,name\nx,y\n", "stands there twice"),
        (b"name\n\xff\xfe\n", "line 2: the file is not UTF-8"),
        (b"name\0\n", "no text file"),
        (b"name,hex\nx,y,z\n", "line 2: 3 cells for 2 columns"),
        (b"name\n" + b"x\n" * 5001, "5000 is the most"),
        (b'name\n"x\n', "line 2"),
    ],
)
def test_a_table_that_is_none_is_refused(data: bytes, says: str) -> None:
    with pytest.raises(TableError, match=re.escape(says)):
        read_inks(data)


def test_no_cell_is_a_formula() -> None:
    text = write_table(("a", "b"), [("=cmd", -3), ("@x", None), ("plain", 1.5)])
    assert text.split("\r\n") == ["a,b", "'=cmd,-3", "'@x,", "plain,1.5", ""]


# -- measurements -------------------------------------------------------------------


def test_cgats_with_quoted_names_spectra_in_per_cent_and_lab() -> None:
    bands = " ".join(f"SPECTRAL_NM{nm}" for nm in range(400, 701, 10))
    values = " ".join(["50.0"] * 31)
    text = f"""CGATS.17
ORIGINATOR "x"
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B {bands}
END_DATA_FORMAT
NUMBER_OF_SETS 2
BEGIN_DATA
1 "Boiler Blue, dark" 76.07 0.1 -0.2 {values}
2 Plain 76.07 0.1 -0.2 {values}
END_DATA
"""
    first, second = read_measurements(text.encode())
    assert (first.name, second.name) == ("Boiler Blue, dark", "Plain")
    assert (first.start, first.step, len(first.values)) == (400, 10, 31)
    assert first.values[0] == 0.5
    assert first.lab == (76.07, 0.1, -0.2)


def test_csv_with_lab_only_or_wavelengths_as_columns() -> None:
    (lab,) = read_measurements(b"name;L*;a*;b*\nx;52,1;40,2;12\n")
    assert lab.colour() == {"lab": [52.1, 40.2, 12.0], "illuminant": "D50"}
    head = "name," + ",".join(f"{nm} nm" for nm in range(380, 731, 10))
    (spectrum,) = read_measurements((head.replace(" nm", "nm") + "\ny," + ",".join(["0.25"] * 36) + "\n").encode())
    assert spectrum.values == (0.25,) * 36


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("name,colour\nx,red\n", "neither columns of a spectrum"),
        ("name,LAB_L,LAB_A,LAB_B\nx,50,a,3\n", "line 2: 'a' in LAB_A is not a number"),
        ("name,LAB_L,LAB_A,LAB_B\nx,150,1,3\n", "line 2: 150, 1, 3 is no CIELAB"),
        ("BEGIN_DATA_FORMAT\nSAMPLE_ID\nEND_DATA_FORMAT\n", "holds no data"),
        (
            "BEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2\nEND_DATA\n",
            "line 5: 2 values",
        ),
        ('BEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L\nEND_DATA_FORMAT\nBEGIN_DATA\n1 "2\nEND_DATA\n', "not closed"),
    ],
)
def test_a_measurement_file_that_is_none_is_refused(text: str, says: str) -> None:
    with pytest.raises(TableError, match=re.escape(says)):
        read_measurements(text.encode())


OVERLAP: dict[str, Any] = {"name": "x", "card": None, "settings": {}, "stack": []}

# -- palettes, workspace --------------------------------------------------------------


def test_palettes() -> None:
    inks = [PaletteInk("Sea  Wall", "Ballast", "hybrid", "#3c7fae", (51.0, -6.1, -33.0))] * 2
    texts = {kind: write("My */ stash", inks) for kind, (_, write) in PALETTES.items()}
    assert " 60 127 174\tSea Wall (hybrid)" in texts["gpl"]
    assert "--ballast-sea-wall: #3c7fae;" in texts["css"]
    assert "--ballast-sea-wall-2: #3c7fae;" in texts["css"]
    assert texts["css"].count("*/") == 1
    assert json.loads(texts["json"])["colours"][0]["hex"] == "#3c7fae"
    assert texts["csv"].splitlines()[1].endswith("#3c7fae,51.0,-6.1,-33.0")


@pytest.mark.parametrize(
    ("document", "says"),
    [
        ({}, "is missing"),
        ({"wempa_workspace": 2}, "reads version 1"),
        ({"wempa_workspace": 1, "pens": []}, "'pens' is not a key"),
        ({"wempa_workspace": 1, "inks": {}}, "no list"),
        ({"wempa_workspace": 1, "inks": [INK, {"name": "x"}]}, "'ink' is missing"),
        ({"wempa_workspace": 1, "overlaps": [{**OVERLAP, "card": 3}]}, "no card 3"),
        (
            {"wempa_workspace": 1, "overlaps": [{"name": "x", "card": None, "settings": {}, "stack": [{"ink": 0}]}]},
            "no ink 0",
        ),
    ],
)
def test_a_workspace_that_is_none_is_refused(document: dict[str, Any], says: str) -> None:
    with pytest.raises(JobError, match=re.escape(says)):
        read_workspace(json.dumps(document).encode())


# -- photos ---------------------------------------------------------------------------


def jpeg(size: tuple[int, int] = (40, 20), **options: Any) -> bytes:
    image = Image.new("RGB", size, (200, 30, 30))
    image.paste((20, 20, 220), (0, 0, size[0] // 2, size[1] // 2))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=95, **options)
    return out.getvalue()


def test_the_cameras_rotation_is_heeded_and_nothing_else_kept() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = "Some maker"
    turned = decode(jpeg(exif=exif))
    assert turned.shape == (40, 20, 3)
    assert turned[5, 15, 2] > 150
    assert turned[5, 5, 0] > 150
    kept = encode(turned)
    assert b"Some maker" not in kept
    assert Image.open(io.BytesIO(kept)).getexif() == {}


def test_large_photos_come_down_and_other_modes_come_in() -> None:
    assert max(decode(jpeg((3000, 1000))).shape) == MAX_SIDE
    for mode, colour in (("L", 128), ("RGBA", (255, 0, 0, 0)), ("I;16", 32896), ("P", 3)):
        out = io.BytesIO()
        Image.new(mode, (12, 12), colour).save(out, "PNG")
        assert decode(out.getvalue()).shape == (12, 12, 3)
    assert (decode(_png("RGBA", (255, 0, 0, 0))) == 255).all()
    assert np.abs(decode(_png("I;16", 32896)).astype(int) - 128).max() <= 1


def _png(mode: str, colour: Any) -> bytes:
    out = io.BytesIO()
    Image.new(mode, (12, 12), colour).save(out, "PNG")
    return out.getvalue()


def bomb(width: int, height: int) -> bytes:
    """A PNG of a few hundred bytes that says it is huge."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return len(data).to_bytes(4) + kind + data + zlib.crc32(kind + data).to_bytes(4)

    head = width.to_bytes(4) + height.to_bytes(4) + b"\x08\x02\0\0\0"
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 900)) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize("form", ["JPEG", "PNG", "HEIF", "DNG"])
def test_every_form_of_photo_gives_colours_and_who_took_it(form: Form) -> None:
    made = photograph(sheet_layout(Page.A4), [], np.full(36, 0.9), replace(SMALL, form=form))
    found = open_photo(made)
    assert found.phone == "Signal Box Lamp 9"
    assert found.raw == (form == "DNG")
    assert found.pixels.shape == (849 - (form == "DNG"), 600, 3)
    # Table at the top left corner, card in the middle: 0.3 against 0.9 of the light.
    parts = [found.pixels[y : y + 8, x : x + 8] for x, y in ((4, 4), (296, 420))]
    table, card = (cm.linear_from_coded(part.mean() / 255) for part in parts)
    assert table / card == pytest.approx(1 / 3, rel=0.06)


def test_a_phones_own_colour_space_is_turned_into_srgb() -> None:
    plain = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    # A space whose red is sRGB's green and the other way round.
    turned = plain.replace(b"rXYZ", b"tmpX", 1).replace(b"gXYZ", b"rXYZ", 1).replace(b"tmpX", b"gXYZ", 1)
    image, out = Image.new("RGB", (20, 20), (180, 90, 60)), io.BytesIO()
    image.save(out, "PNG", icc_profile=turned)
    assert np.abs(decode(out.getvalue())[5, 5].astype(int) - (90, 180, 60)).max() <= 2
    # A profile that is no RGB one cannot be used: the picture is taken as it is.
    out = io.BytesIO()
    image.save(out, "PNG", icc_profile=ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes())
    assert decode(out.getvalue())[5, 5].tolist() == [180, 90, 60]


@pytest.mark.parametrize("cut", [3, 200, 3000, 400_000])
@pytest.mark.parametrize("form", ["HEIF", "DNG"])
def test_a_raw_or_heic_that_breaks_off_is_one_sentence_or_a_picture(form: Form, cut: int) -> None:
    made = photograph(sheet_layout(Page.A4), [], np.full(36, 0.9), replace(SMALL, form=form))
    try:
        found = open_photo(made[: min(cut, len(made) - 1)])
    except ImageError as error:
        said = str(error)
    else:
        said = f"a picture of {found.pixels.ndim} dimensions"
    assert "\n" not in said
    assert said.endswith(("end", "JPEG", "DNG", "3 dimensions"))


def test_a_ribbon_of_pixels_is_no_photo() -> None:
    with pytest.raises(ImageError, match="no photo of swatches"):
        decode(jpeg((4000, 20)))


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"hello", "no JPEG, PNG, HEIC or DNG"),
        (b"GIF89a" + b"\0" * 40, "no JPEG, PNG, HEIC or DNG"),
        (jpeg((400, 400))[:900], "breaks off"),
        (_png("RGB", (1, 2, 3))[:50], "breaks off"),
        (bomb(9000, 9000), "81 megapixels; 50 is the most"),
        (bomb(60000, 60000), "megapixels"),
        (bomb(500, 500), "breaks off"),
        (b"II*\0" + b"\0" * 400, "cannot be developed"),
        (b"\0\0\0\x18ftypheic" + b"\0" * 400, "no JPEG, PNG, HEIC or DNG"),
        (b"\xff\xd8" + b"\0" * MAX_UPLOAD, "MB is the most"),
    ],
    ids=[
        "text",
        "gif",
        "truncated jpeg",
        "truncated png",
        "81 megapixels",
        "bomb",
        "short",
        "empty raw",
        "empty heic",
        "too large",
    ],
)
def test_what_is_no_photo_is_refused_with_one_sentence(data: bytes, says: str) -> None:
    with pytest.raises(ImageError, match=re.escape(says)):
        decode(data)
    assert MAX_PIXELS == 50_000_000


# -- the printed sheet ----------------------------------------------------------------


@pytest.mark.parametrize("page", [Page.A4, Page.LETTER])
def test_the_grey_steps_are_printed_as_black_as_they_say(page: Page) -> None:
    import pypdfium2

    sheet = sheet_layout(page)
    scale = 12
    printed = pypdfium2.PdfDocument(rendered.pdf(drawn.draw(sheet)))[0].render(scale=scale, grayscale=True).to_numpy()
    dots = scale * 72 / 25.4
    for step in sheet.steps:
        left, top, right, bottom = (round(v * dots) for v in step.box)
        # The whole box: what lines lose at one side they have at the other.
        black = 1 - printed[top:bottom, left:right].mean() / 255
        assert black == pytest.approx(step.share, abs=0.012), step
    # Lines lean: rows half a millimetre apart meet them at other places.
    left, top, right, bottom = (round(v * dots) for v in sheet.steps[8].box)
    rows = printed[[top + round(2 * dots), top + round(3.6 * dots)], left:right].reshape(2, -1)
    assert (np.abs(np.diff(rows.astype(int), axis=0)) > 100).mean() > 0.4


@pytest.mark.parametrize(("page", "points"), [(Page.A4, (595.28, 841.89)), (Page.LETTER, (612, 792))])
def test_the_sheet_prints_at_real_size(page: Page, points: tuple[float, float]) -> None:
    sheet = sheet_layout(page)
    drawing = drawn.draw(sheet, [drawn.SquareLabel("Sea Wall – é", "hybrid, Ballast")], "Snow")
    data = rendered.pdf(drawing)
    box = re.search(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", data)
    assert box is not None
    assert [float(v) for v in box.groups()] == pytest.approx(points, abs=0.3)
    packed = re.findall(rb"/ASCII85Decode[^>]*>>\s*stream\r?\n(.*?)~>endstream", data, re.S)
    content = b"".join(zlib.decompress(base64.a85decode(each.strip())) for each in packed).decode("latin-1")
    sides = [float(w) * 25.4 / 72 for w, h in re.findall(r" ([\d.]+) ([\d.]+) re", content) if w == h]
    assert sum(1 for side in sides if side == pytest.approx(SQUARE_MM, abs=0.02)) == len(sheet.squares)
    document = pypdfium2.PdfDocument(data)
    text = document[0].get_textpage().get_text_range()
    document.close()
    assert "Sea Wall – é" in text
    assert text.count("Swatch sheet") == 1
    assert "<svg" in rendered.svg(drawing)


def test_every_column_is_documented() -> None:
    from pathlib import Path

    page = (Path(__file__).parents[3] / "docs/stash-formats.md").read_text()
    assert all(f"`{column}`" in page for column in COLUMNS)


def test_a_new_item_says_what_the_stash_takes_for_unsaid() -> None:
    blanks = blank_items()
    ink = InkItem.model_validate(
        {**blanks["ink"], "name": "Sea Wall", "ink": {**blanks["ink"]["ink"], "swatch": {"colour": {"hex": "#123456"}}}}
    )
    assert ink == InkItem.model_validate({"name": "Sea Wall", "ink": {"swatch": {"colour": {"hex": "#123456"}}}})
    card = {**blanks["card"], "name": "Snow"}
    assert CardItem.model_validate(card).card.colour.hex == WHITE_CARD
    assert ToolItem.model_validate({**blanks["tool"], "name": "Brush"}).tool is Tool.BRUSH
