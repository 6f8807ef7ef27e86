"""The Chart and Match screens in a real browser: from a mix to the table, and back to paper."""

from __future__ import annotations

import io
import json
import re
import urllib.request
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

pytestmark = pytest.mark.browser


@pytest.fixture
def chart(page: Page, address: str) -> Page:
    page.goto(f"{address}#chart")
    expect(page.get_by_role("grid")).to_be_visible()
    expect(page.get_by_text("1,369 of 1,369 mixes")).to_be_visible()
    return page


@pytest.fixture
def match(page: Page, address: str) -> Page:
    page.goto(f"{address}#match")
    expect(page.get_by_role("heading", name="#8a6fb0: yours make it")).to_be_visible(timeout=60_000)
    return page


def get(address: str, path: str) -> Any:
    with urllib.request.urlopen(f"{address}api/{path}") as answer:
        return json.load(answer)


def answers(page: Page) -> Locator:
    return page.get_by_role("tabpanel").locator(".answers > li")


def choose(page: Page, label: str, option: str) -> None:
    # The field lies under its own text.
    page.locator(".el-select__wrapper").filter(has=page.get_by_role("combobox", name=label)).click()
    page.get_by_role("option", name=option, exact=True).click()


def pixel(page: Page, region: Locator, x: float, y: float) -> str:
    shot = Image.open(io.BytesIO(region.screenshot())).convert("RGB")
    found = shot.getpixel((int(x), int(y)))
    assert isinstance(found, tuple)
    return "#{:02x}{:02x}{:02x}".format(*found)


def test_a_mix_goes_to_overlap_and_looks_the_same_there(chart: Page, address: str) -> None:
    """By key from swatch to swatch; what the chart paints, the table paints too."""
    page, grid = chart, chart.get_by_role("grid")
    grid.focus()
    for key in ("ArrowRight", *["ArrowDown"] * 4, *["ArrowRight"] * 12):
        page.keyboard.press(key)
    cell = page.locator("#chart-cell")
    expect(cell).to_contain_text(" over ")
    said = cell.inner_text()
    mix = page.get_by_role("tabpanel").get_by_role("article")
    mix.get_by_text("The figures").click()
    grid.focus()
    expect(mix.get_by_text(re.compile(r"±\d+\.\d ΔE00"))).to_be_visible()
    above, below = re.match(r"(.+) over (.+): ", said).groups()  # type: ignore[union-attr]
    expect(mix.get_by_role("heading")).to_have_text(f"{above} over {below}")
    page.keyboard.press("Enter")
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Layer 1 of 2"))).to_contain_text(below)
    expect(page.get_by_role("button", name=re.compile("^Layer 2 of 2"))).to_contain_text(above)
    newest = max(get(address, "overlaps"), key=lambda each: each["id"])
    full = get(address, f"overlaps/{newest['id']}")["crossing"]["full"]
    kind = said.split(": ")[1].split(",")[0].lower().replace(" ", "_")
    assert full["verdict"]["kind"] == kind
    assert abs(int(said.rsplit(" ", 1)[1]) - full["verdict"]["mud"]) < 1


def test_swatches_have_the_colours_that_are_predicted(chart: Page, address: str) -> None:
    """Large swatches read off the screen against the overlap of the same two."""
    page, grid = chart, chart.get_by_role("grid")
    for _ in range(8):
        page.keyboard.press("+")
    box = grid.bounding_box()
    assert box is not None
    size = 44
    grid.click(position={"x": 150 + size * 2.5 - 18, "y": 128 + size * 1.5})
    expect(page.locator("#chart-cell")).to_contain_text(" over ")
    expect(page.get_by_role("button", name="Open in Overlap")).to_be_visible()
    row, column = (int(page.locator("[role=row]").get_attribute("aria-rowindex") or 0) - 1, 0)
    column = int(page.locator("#chart-cell").get_attribute("aria-colindex") or 0) - 1
    # Left of the mark in the middle, within the frame of what is picked.
    found = pixel(page, grid, 132 + column * size + 6, 128 + row * size + 6)
    page.get_by_role("button", name="Open in Overlap").click()
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    newest = max(get(address, "overlaps"), key=lambda each: each["id"])
    assert get(address, f"overlaps/{newest['id']}")["crossing"]["full"]["colour"]["hex"] == found


def test_filters_orders_and_one_ink_with_all(chart: Page) -> None:
    page = chart
    page.keyboard.press("m")
    expect(page.get_by_role("checkbox", name="Hide mud")).to_be_checked()
    count = page.get_by_text(re.compile("of 1,369 mixes"))
    expect(count).not_to_have_text("1,369 of 1,369 mixes")
    hidden = int(count.inner_text().split(" ")[0].replace(",", ""))
    page.get_by_text("Only new colours").click()
    expect(count).not_to_have_text(re.compile(f"^{hidden:,}"))
    assert int(count.inner_text().split(" ")[0].replace(",", "")) < hidden
    page.get_by_text("Only new colours").click()
    page.get_by_text("Pads in good order").click()
    expect(page.get_by_text(re.compile("of 1,369 mixes"))).to_be_hidden()
    page.get_by_text("Pads in good order").click()
    page.keyboard.press("w")
    expect(page.get_by_role("button", name="Mixed wet", pressed=True)).to_be_visible()
    choose(page, "Order", "newest first")
    choose(page, "Ink to look at", "Boiler Blue")
    expect(page.get_by_text("Each pair: the other over Boiler Blue")).to_be_visible()
    first = page.get_by_role("button", name=re.compile(" over .*: (Clean|Muted|Swamped)")).first
    first.click()
    expect(page.get_by_role("tabpanel").get_by_role("article")).to_contain_text("Boiler Blue")
    # As it was asked for last, after a reload.
    page.reload()
    expect(page.get_by_role("checkbox", name="Hide mud")).to_be_checked()
    expect(page.get_by_role("button", name="Mixed wet", pressed=True)).to_be_visible()


def test_good_company_and_the_most_different(chart: Page) -> None:
    page = chart
    page.get_by_role("tab", name="Good company").click()
    panel = page.get_by_role("tabpanel")
    expect(panel.get_by_text("The fewest found for a whole rainbow: 3 inks, 6 colours")).to_be_visible()
    choose(page, "What the set is for", "Few inks, many colours")
    expect(panel.get_by_text(re.compile(r"^\d inks, \d colours$")).first).to_be_visible()
    page.get_by_role("tab", name="The stash").click()
    expect(panel.locator(".different li")).to_have_count(8)
    page.get_by_role("spinbutton", name="How many").fill("12")
    page.keyboard.press("Enter")
    expect(panel.locator(".different li")).to_have_count(12)
    counts = [int(text) for text in panel.locator(".ranked b").all_inner_texts()]
    assert counts == sorted(counts, reverse=True)
    assert len(counts) == 37
    page.get_by_role("tab", name="Good company").click()
    told = panel.locator("li p").first.inner_text()
    names = re.split(r"[.;]", told)[0].split(", ")
    assert re.search(r"Lay .+, then .+\.$", told)
    panel.get_by_role("button", name="Lay them in Overlap").first.click()
    expect(page.get_by_role("button", name=re.compile(f"^Layer 1 of {len(names)}"))).to_contain_text(names[0])


def test_a_chart_is_saved_as_it_stands_and_measured(chart: Page, tmp_path: Path) -> None:
    """The blank pages of one ink with all others, saved by the browser: size, squares, ruler."""
    page = chart
    choose(page, "Ink to look at", "Boiler Blue")
    page.get_by_role("button", name="Export and print").click()
    with page.expect_download() as saved:
        page.get_by_role("menuitem", name="Blank, to ink by hand (PDF)").click()
    path = tmp_path / "chart.pdf"
    saved.value.save_as(path)
    assert saved.value.suggested_filename == "wempa-chart-on-snow-blank.pdf"
    document = pypdfium2.PdfDocument(path)
    millimetre = 72 / 25.4
    assert round(document[0].get_width() / millimetre) == 210
    boxes = [found.get_bounds() for sheet in document for found in sheet.get_objects(filter=[2])]
    squares = [b for b in boxes if abs(b[2] - b[0] - 15 * millimetre) < 1 and abs(b[3] - b[1] - 15 * millimetre) < 1]
    assert len(squares) == 2 * 36
    assert any(abs(b[2] - b[0] - 50 * millimetre) < 1 and b[3] - b[1] < 1 for b in boxes)


def test_an_answer_goes_to_overlap_as_it_was_told(match: Page, address: str) -> None:
    page = match
    expect(page.get_by_text("none comes nearer: that is proven")).to_be_visible()
    first = answers(page).first
    inks = first.get_by_role("heading").inner_text()
    lines = first.locator(".lines li").all_inner_texts()
    made = first.locator(".beside span").nth(1).evaluate("e => getComputedStyle(e).backgroundColor")
    first.get_by_role("button", name=re.compile("Open .* in Overlap")).click()
    expect(page.get_by_role("textbox", name="Name of this overlap")).to_have_value(f"#8a6fb0 from {inks}")
    newest = max(get(address, "overlaps"), key=lambda each: each["id"])
    found = get(address, f"overlaps/{newest['id']}")
    assert len(found["overlap"]["stack"]) == len(lines)
    code = found["crossing"]["full"]["colour"]["hex"]
    assert made == f"rgb({int(code[1:3], 16)}, {int(code[3:5], 16)}, {int(code[5:], 16)})"


def test_targets_typed_picked_and_out_of_reach(match: Page, tmp_path: Path) -> None:
    page = match
    typed = page.get_by_role("textbox", name="Colour wanted")
    typed.fill("no colour")
    typed.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("“no colour” is no colour")
    typed.fill("#00ff00")
    typed.press("Enter")
    expect(page.get_by_role("heading", name="#00ff00 is out of reach; these come nearest")).to_be_visible()
    choose(page, "Ink to be matched", "Boiler Blue")
    expect(page.get_by_role("heading", name=re.compile("^Boiler Blue"), level=1)).to_be_visible(timeout=60_000)
    # The ink that is looked for is left out.
    for heading in answers(page).get_by_role("heading").all_inner_texts():
        assert "Boiler Blue" not in heading
    choose(page, "Overlap to be matched", "Rain on an old timetable")
    expect(page.get_by_role("heading", name=re.compile("Rain on an old timetable"), level=1)).to_be_visible(
        timeout=60_000
    )
    picture = tmp_path / "wool.png"
    shot = Image.new("RGB", (600, 400), (236, 230, 215))
    shot.paste((190, 84, 54), (0, 0, 300, 400))
    shot.save(picture)
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog", name="A colour off a photo")
    dialog.locator("input[type=file]").set_input_files(picture)
    spot = dialog.get_by_role("group", name="The photo")
    spot.click(position={"x": 60, "y": 100})
    spot.click(position={"x": 450, "y": 100})
    # Read against its white by the service, which knows the white card and so takes the cast out.
    read = dialog.get_by_role("status")
    sure = "(read surely|likely within a shade|read roughly|only a hint: .+)"
    expect(read).to_have_text(re.compile(rf"^#[0-9a-f]{{6}}, .+, {sure}$"))
    code = read.inner_text()[:7]
    assert code != "#be5436"
    assert int(code[5:], 16) > 0x36
    dialog.get_by_role("button", name="Take this colour").click()
    expect(page.get_by_role("heading", name=re.compile(f"^{code}, off a photo"))).to_be_visible(timeout=60_000)


def test_a_search_is_cancelled_and_the_next_one_gets_its_turn(match: Page) -> None:
    page = match
    typed = page.get_by_role("textbox", name="Colour wanted")
    for code in ("#335577", "#557733", "#773355"):
        typed.fill(code)
        typed.press("Enter")
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("The search was cancelled.")).to_be_visible()
    page.get_by_role("button", name="Look again").click()
    expect(page.get_by_role("heading", name=re.compile("^#773355"))).to_be_visible(timeout=60_000)


def test_what_can_be_made_already(match: Page, address: str) -> None:
    page = match
    page.get_by_role("tab", name="What I can make").click()
    expect(page.get_by_text("Kept for as long as the stash stays as it is.")).to_be_visible(timeout=120_000)
    rows = page.locator(".reserve li")
    expect(rows).to_have_count(40)
    page.get_by_text("owned", exact=True).first.click()
    expect(rows).to_have_count(3)
    expect(rows.filter(has_text="Tea Urn")).to_contain_text("wanted")
    with page.expect_download() as download:
        page.get_by_role("button", name="Print the list (PDF)").click()
    document = pypdfium2.PdfDocument(download.value.path())
    text = "".join(sheet.get_textpage().get_text_range() for sheet in document)
    assert "Tunnel Black" in text
    rows.filter(has_text="Tea Urn").get_by_role("button").click()
    expect(page.get_by_role("textbox", name="Name of this overlap")).to_have_value("Tea Urn from the others")


def test_the_chart_shows_what_its_card_does_to_each_ink(chart: Page, address: str) -> None:
    page = chart
    page.get_by_role("tab", name="This card").click()
    board = page.get_by_role("tabpanel")
    expect(board).to_contain_text("Snow is white enough")
    choose(page, "Card", "Buff Timetable")
    expect(board).to_contain_text(re.compile(r"Buff Timetable spoils or dulls \d+ of 37 inks"))
    rain = board.get_by_role("button", name=re.compile("^Rain Coat"))
    expect(rain).to_contain_text("Muddy")
    rain.click()
    board.get_by_role("button", name="What saves it, in Overlap").click()
    # The ink lies by itself on that card, and what saves it is offered.
    expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Muddy")
    expect(page.get_by_text("Brush Steam White thinly on the card first")).to_be_visible()
    page.get_by_role("listitem").filter(has_text="White barrier").get_by_role("button", name="Apply").click()
    expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Clean")
