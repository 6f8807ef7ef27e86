"""The Panel screen in a real browser: a card front planned, changed, saved, looked through, printed."""

from __future__ import annotations

import io
import json
import re
import urllib.request
from collections.abc import Callable
from typing import Any

import pypdfium2
import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.browser.painting import repaint_times

pytestmark = pytest.mark.browser


@pytest.fixture
def panel(page: Page, address: str) -> Page:
    page.goto(f"{address}#panel")
    expect(page.locator("canvas[data-painted]")).to_be_visible()
    expect(page.get_by_text("7 inks, 12 colours")).to_be_visible()
    return page


def get(address: str, path: str) -> Any:
    with urllib.request.urlopen(f"{address}api/{path}") as answer:
        return json.load(answer)


def stored(address: str, number: int = 1) -> dict[str, Any]:
    found: dict[str, Any] = get(address, f"panels/open?panel={number}")["panel"]
    return found


def after(page: Page, change: Callable[[], Any]) -> None:
    """Do something and wait until it is stored."""
    with page.expect_response(lambda r: re.search(r"/api/panels/\d+/edit", r.url) is not None):
        change()
    page.wait_for_timeout(100)


def band(page: Page, number: int) -> Locator:
    return page.get_by_role("button", name=re.compile(rf"^Band {number}: "))


def typed(page: Page, label: str, text: str) -> None:
    field = page.get_by_role("textbox", name=label, exact=True)
    field.fill(text)
    field.press("Enter")


def choose(page: Page, label: str, option: str) -> None:
    page.locator(".el-select__wrapper").filter(has=page.get_by_role("combobox", name=label)).click()
    page.get_by_role("option", name=option, exact=True).click()


def painted(page: Page, x: float, y: float) -> str:
    """Colour of the front at a share of its width and height."""
    shot = Image.open(io.BytesIO(page.locator("canvas[data-painted]").screenshot())).convert("RGB")
    found = shot.getpixel((int(x * (shot.width - 1)), int(y * (shot.height - 1))))
    assert isinstance(found, tuple)
    return "#{:02x}{:02x}{:02x}".format(*found)


def test_bands_are_changed_held_and_undone(panel: Page, address: str) -> None:
    page = panel
    shown = get(address, "panels")[0]["shown"]
    # What is painted in the first and last band is what the list of panels tells.
    assert painted(page, 0.5, 0.04) == shown[0]
    assert painted(page, 0.5, 0.97) == shown[-1]
    # A width typed as a fraction of an inch is held; the others share what is left.
    band(page, 2).click()
    after(page, lambda: typed(page, "Visible width", "1 1/4"))
    assert stored(address)["bands"][1]["width"] == pytest.approx(31.75)
    expect(band(page, 2)).to_have_accessible_name(re.compile("1 1/4 in, held"))
    after(page, lambda: typed(page, "Visible width", "20 mm"))
    assert stored(address)["bands"][1]["width"] == 20
    # Another ink instead of it, with a key one pass more, and one ink more at the end.
    after(page, lambda: page.get_by_role("button", name="Marigold Tin").click())
    expect(band(page, 2)).to_have_accessible_name(re.compile("Marigold Tin, 0.79 in, held"))
    after(page, lambda: page.keyboard.press("+"))
    assert stored(address)["bands"][1]["passes"] == 5
    page.keyboard.press("Escape")
    before = stored(address)
    after(page, lambda: page.get_by_role("button", name="Cutting Green").click())
    expect(page.get_by_text("8 inks,")).to_be_visible()
    assert len(stored(address)["seams"]) == 7
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("7 inks,")).to_be_visible()
    assert stored(address)["bands"] == before["bands"]
    # Places changed with keys, an ink brought back, one taken out.
    band(page, 2).click()
    after(page, lambda: page.keyboard.press("Alt+ArrowRight"))
    expect(band(page, 3)).to_have_accessible_name(re.compile("Marigold Tin"))
    after(page, lambda: page.get_by_role("button", name="Again at the end").click())
    expect(band(page, 8)).to_have_accessible_name(re.compile("Marigold Tin"))
    after(page, lambda: page.keyboard.press("Delete"))
    expect(band(page, 3)).not_to_have_accessible_name(re.compile("Marigold Tin"))
    page.reload()
    expect(band(page, 7)).to_have_accessible_name(re.compile("Marigold Tin"))


def test_boundaries_are_dragged_on_the_front_and_moved_by_keys(panel: Page, address: str) -> None:
    page = panel
    seen = page.locator("canvas[data-painted]")
    box = seen.bounding_box()
    assert box is not None
    # The second boundary, down by a twentieth of the panel.
    second = page.get_by_role("slider", name="Seam of Firebox Orange and Coral Bunting")
    was = float(second.get_attribute("aria-valuenow") or 0)
    at = box["y"] + box["height"] * was / 139.7
    page.mouse.move(box["x"] + 40, at)
    page.mouse.down()
    page.mouse.move(box["x"] + 60, at + box["height"] / 40, steps=4)

    def drop() -> None:
        page.mouse.move(box["x"] + 60, at + box["height"] / 20, steps=4)
        page.mouse.up()

    after(page, drop)
    widths = [each["weight"] for each in stored(address)["bands"]]
    assert float(second.get_attribute("aria-valuenow") or 0) == pytest.approx(was + 139.7 / 20, abs=1.2)
    assert widths[1] > widths[0] + 3
    assert widths[2] < widths[0] - 3
    grip = page.get_by_role("slider", name="Seam of Brass Gauge and Firebox Orange")
    place = float(grip.get_attribute("aria-valuenow") or 0)
    grip.focus()
    after(page, lambda: grip.press("Shift+ArrowRight"))
    assert float(grip.get_attribute("aria-valuenow") or 0) == pytest.approx(place + 5, abs=1)
    expect(page.get_by_role("region", name="Seam of Brass Gauge and Firebox Orange")).to_be_visible()
    page.keyboard.press("Escape")
    after(page, lambda: page.keyboard.press("e"))
    assert {each["weight"] for each in stored(address)["bands"]} == {None}


def test_a_muddy_seam_is_saved_and_goes_to_overlap_and_back(panel: Page, address: str) -> None:
    page = panel
    page.keyboard.press("p")
    page.get_by_role("button", name="Open Embankment at dusk").click()
    expect(page.get_by_text("4 inks, 6 colours")).to_be_visible()
    # Opposites are kept apart by themselves, and why is said; a bridge would join them.
    page.get_by_role("tab", name="Seams").click()
    board = page.get_by_role("region", name="Seams")
    expect(board.get_by_text("Carriage Plum and Cutting Green are opposites: they meet over 5 mm only")).to_be_visible()
    board.get_by_role("button", name=re.compile("^Carriage Plum into Cutting Green")).click()
    slip = page.get_by_role("region", name="Seam of Carriage Plum and Cutting Green")
    after(page, lambda: typed(page, "Over how much the two fade into one another", "30 mm"))
    expect(board.get_by_text(re.compile("^Carriage Plum and Cutting Green go muddy over"))).to_be_visible()
    expect(slip.get_by_role("slider", name="How softly these two blend")).to_be_visible()
    expect(board.get_by_text("A bridge between")).to_be_visible()
    expect(board.get_by_text(re.compile(r"mud \d+ → 0"))).not_to_have_count(0)
    after(page, lambda: board.get_by_role("button", name=re.compile("^Apply: Put ")).click())
    expect(page.get_by_text("5 inks,")).to_be_visible()
    assert len(stored(address, 2)["bands"]) == 5
    page.keyboard.press("Control+z")
    expect(page.get_by_text("4 inks,")).to_be_visible()

    expect(slip).to_be_visible()
    page.get_by_role("button", name="Look at it in Overlap").click()
    expect(page.get_by_role("group", name="Rag Watercolour with crossing swatches")).to_be_visible()
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("of the brightness you would expect is gone")
    page.get_by_role("button", name=re.compile("^Layer 2 of")).click()
    with page.expect_response(lambda r: r.request.method == "POST" and "/api/overlaps" in r.url):
        page.keyboard.press("+")
    page.get_by_role("button", name="Take it back to the panel").click()
    expect(page.get_by_role("region", name="Seam of Carriage Plum and Cutting Green")).to_be_visible()
    assert stored(address, 2)["bands"][3]["passes"] == 7
    expect(page).to_have_url(re.compile(r"#/panel/2$"))


def test_layouts_size_layers_and_looks(panel: Page, address: str) -> None:
    page = panel
    plain = painted(page, 0.5, 0.5)
    for name, key in (("Rings", "rings"), ("Ribbons", "ribbons"), ("On one roller", "roller"), ("Fan", "fan")):
        after(page, lambda name=name: page.get_by_role("radio", name=name).click())  # type: ignore[misc]
        assert stored(address)["layout"] == key
    # The fan's last band meets its first.
    assert len(stored(address)["seams"]) == 7
    after(page, lambda: page.get_by_role("radio", name="Bands that blend").click())
    angle = page.get_by_role("spinbutton", name="Angle of the bands in degrees")
    angle.fill("0")
    after(page, lambda: angle.press("Enter"))
    assert painted(page, 0.04, 0.5) == painted(page, 0.04, 0.9)
    page.get_by_role("tab", name="Making it").click()
    after(page, lambda: choose(page, "Order of laying", "Middle first"))
    assert stored(address)["school"] == "middle_first"
    page.keyboard.press("Escape")

    page.keyboard.press("s")
    sheet = page.get_by_role("region", name="Size, frame and sheet")
    # What is changed stays in sight.
    expect(page.locator("canvas[data-painted]")).to_be_visible()
    after(page, lambda: sheet.get_by_role("radio", name="5 × 7 in").click())
    after(page, lambda: sheet.get_by_role("button", name="Lay it down").click())
    now = stored(address)
    assert (now["width"], now["height"]) == pytest.approx((177.8, 127))
    after(page, lambda: typed(page, "Width of the panel", "10 cm"))
    assert stored(address)["width"] == 100
    after(page, lambda: choose(page, "Frame", "a mat of another card"))
    page.keyboard.press("l")
    expect(sheet).to_be_hidden()
    layers = page.get_by_role("region", name="Under and on top of the bands")
    after(page, lambda: layers.get_by_role("button", name="Lay something on top").click())
    after(page, lambda: choose(page, "What lies on top, 1", "Ink through a stencil"))
    after(page, lambda: choose(page, "Shape, 1", "your own shape"))
    path = layers.get_by_role("textbox", name="SVG path, 1")
    path.fill("M0 0 L12 0 L6 9 Z")
    after(page, lambda: path.press("Tab"))
    assert stored(address)["tops"][0]["path"] == "M0 0 L12 0 L6 9 Z"
    after(page, lambda: choose(page, "White under all of it", "Steam White"))
    # Held on the front it is dragged, moved with keys, sized and turned.
    layers.get_by_role("button", name="Hold it on the front").click()
    held = page.get_by_role("button", name="The held layer: drag it, or move it with the arrow keys")
    after(page, lambda: held.press("Shift+ArrowRight"))
    assert stored(address)["tops"][0]["x"] == 5
    box = held.bounding_box()
    assert box is not None
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    def drag(start: tuple[float, float], by: tuple[float, float]) -> None:
        page.mouse.move(*start)
        page.mouse.down()
        page.mouse.move(start[0] + by[0], start[1] + by[1], steps=5)
        page.mouse.up()

    after(page, lambda: drag(middle, (60, 30)))
    moved = stored(address)["tops"][0]
    assert (moved["x"] > 10, moved["y"] > 4) == (True, True)
    corner = page.get_by_title("Size it", exact=True).bounding_box()
    assert corner is not None
    after(page, lambda: drag((corner["x"] + 9, corner["y"] + 9), (30, 30)))
    assert stored(address)["tops"][0]["size"] > moved["size"] + 5
    knob = page.get_by_title("Turn it", exact=True).bounding_box()
    assert knob is not None
    after(page, lambda: drag((knob["x"] + 9, knob["y"] + 9), (80, 60)))
    assert 20 < stored(address)["tops"][0]["turn"] < 130
    now = stored(address)
    assert (now["tops"][0]["motif"], bool(now["white_id"])) == ("own", True)
    expect(page.get_by_role("button", name="Layers (2)")).to_be_visible()

    dry = painted(page, 0.5, 0.5)
    with page.expect_response(lambda r: "wet=true" in r.url):
        page.keyboard.press("w")
    page.wait_for_timeout(200)
    assert painted(page, 0.5, 0.5) != dry
    with page.expect_response(lambda r: "/api/panels/picture" in r.url):
        page.keyboard.press("z")
    expect(page.get_by_role("group", name="How close one looks")).to_contain_text("2×")
    assert plain != dry


def test_a_window_is_moved_and_tells_what_is_left(panel: Page) -> None:
    page = panel
    page.get_by_role("tab", name="Window").click()
    board = page.get_by_role("region", name="Window over the panel")
    expect(board.get_by_text(re.compile(r"\d+ colours are left"))).to_be_visible()
    first = board.locator("li").first.inner_text()
    shape = board.get_by_role("radio", name="Circle")
    shape.click()
    for _ in range(5):
        shape.press("Shift+ArrowDown")
    expect(board.locator("li").first).not_to_have_text(first)
    expect(board.get_by_text(re.compile("^Cut off: Brass Gauge"))).to_be_visible()
    # Moved with the pointer, back to the top.
    box = page.locator("canvas[data-painted]").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + 10)
    expect(board.get_by_text(re.compile("^Cut off: .*Water Tower"))).to_be_visible()
    board.get_by_role("button", name="Take the window away").click()
    expect(page.get_by_role("region", name="Seams")).to_be_visible()


@pytest.mark.refused
def test_what_cannot_be_is_told_and_nothing_is_lost(panel: Page, address: str) -> None:
    page = panel
    was = stored(address)
    band(page, 1).click()
    typed(page, "Visible width", "5 ells")
    expect(page.get_by_role("alert")).to_have_text("“5 ells” is no length; write it like 108, 4 1/4 in or 10.8 cm.")
    for text, said in (("0", "band 1 is 0 mm wide"), ("30 cm", "do not fit on 140 mm")):
        typed(page, "Visible width", text)
        expect(page.get_by_role("alert")).to_contain_text(said)
    page.keyboard.press("Escape")
    page.keyboard.press("s")
    typed(page, "Width of the panel", "5 mm")
    page.keyboard.press("Escape")
    expect(page.get_by_role("alert")).to_contain_text("10 to 1000 mm wide and high")
    assert stored(address) == was
    expect(band(page, 7)).to_be_visible()


def test_panels_are_begun_copied_compared_and_handed_over(panel: Page, address: str) -> None:
    page = panel
    page.keyboard.press("c")
    beside = page.get_by_role("dialog", name="Side by side")
    expect(beside.get_by_text(re.compile(r"^12 colours from 7 inks against 6"))).to_be_visible()
    expect(beside.locator("canvas[data-painted]")).to_have_count(2)
    page.keyboard.press("Escape")
    page.keyboard.press("p")
    drawer = page.get_by_role("region", name="Panels kept")
    # Each is the panel itself, painted small.
    expect(drawer.locator("img")).to_have_count(5)
    for n in range(5):
        drawer.locator("img").nth(n).scroll_into_view_if_needed()
        expect(drawer.locator("img").nth(n)).to_have_js_property("naturalHeight", 152)
    drawer.get_by_role("button", name="Copy this one").click()
    expect(page.get_by_role("textbox", name="Name of this panel")).to_have_value("Open day sunrise (2)")
    drawer.get_by_role("button", name="Begin another").click()
    expect(page.get_by_text("3 inks,")).to_be_visible()
    # Down to the bare card, each time the band that moves up, and up again.
    band(page, 1).click()
    for _ in range(3):
        after(page, lambda: page.keyboard.press("Delete"))
    expect(page.get_by_text("No ink lies here yet")).to_be_visible()
    expect(page.locator("canvas[data-painted]")).to_have_count(0)
    after(page, lambda: page.get_by_role("button", name="Ember").click())
    expect(page.get_by_text("1 ink, 1 colour")).to_be_visible()
    band(page, 1).click()
    after(page, lambda: choose(page, "How its depth changes", "fades to bare card"))
    page.get_by_role("tab", name="Seams").click()
    expect(page.get_by_text("One ink has no seams; add another.")).to_be_visible()
    page.keyboard.press("p")
    drawer.get_by_role("button", name="Discard Open day sunrise (2)").click()
    expect(drawer.get_by_role("listitem")).to_have_count(6)
    drawer.get_by_role("button", name="Open Open day sunrise").click()
    expect(page.get_by_text("7 inks, 12 colours")).to_be_visible()
    page.get_by_role("tab", name="Making it").click()
    making = page.get_by_role("region", name="How it is made")
    expect(making.get_by_text(re.compile("^Lightest first:"))).to_be_visible()
    expect(making.get_by_text("4 panels")).to_be_visible()
    page.get_by_role("button", name="Export and print").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Ruler strips, real size (PDF)").click()
    document = pypdfium2.PdfDocument(download.value.path())
    assert "left and right edge" in document[0].get_textpage().get_text_range()


def test_softness_is_measured_and_a_share_is_typed(panel: Page, address: str) -> None:
    page = panel
    measure = page.get_by_role("slider", name="How softly the bands blend")
    expect(measure).to_have_attribute("aria-valuetext", re.compile(r"^soft; \d+ min, \d+ passes$"))

    def most() -> int:
        return int(re.findall(r"(\d+) min", measure.get_attribute("aria-valuetext") or "")[0])

    soft = most()
    after(page, lambda: measure.press("Home"))
    expect(measure).to_have_attribute("aria-valuetext", re.compile("^stripes"))
    assert stored(address)["soft"] == 0
    assert most() < soft
    # Stripes lie beside one another: no in-between is left.
    assert painted(page, 0.5, 0.2) != painted(page, 0.5, 0.4)
    after(page, lambda: measure.press("End"))
    band(page, 2).click()
    share = page.get_by_role("spinbutton", name="Share of the width")
    share.fill("2")
    after(page, lambda: share.press("Enter"))
    assert stored(address)["bands"][1]["weight"] == 2
    expect(band(page, 2)).to_have_accessible_name(re.compile("0.78 in|0.79 in|0.77 in"))


def test_a_set_of_the_chart_becomes_a_panel_and_a_seam_of_it_an_overlap(panel: Page, address: str) -> None:
    page = panel
    page.goto(f"{address}#chart")
    page.get_by_role("tab", name="Good company").click()
    choose(page, "Ink to look at", "Night Train")
    first = page.locator("ol.sets li").first
    expect(first.get_by_text(re.compile("Lay .*, then .*"))).to_be_visible(timeout=20_000)
    first.get_by_role("button", name="Make it a panel").click()
    expect(page.get_by_role("textbox", name="Name of this panel")).to_have_value(re.compile("Night Train"))
    page.locator("canvas[data-painted]").wait_for()
    page.get_by_role("tab", name="Seams").click()
    page.get_by_role("region", name="Seams").get_by_role("button", name=re.compile(" into ")).first.click()
    page.get_by_role("button", name="Look at it in Overlap").click()
    expect(page.get_by_role("region", name="Verdict")).to_be_visible()
    page.get_by_role("button", name="Take it back to the panel").click()
    expect(page.get_by_role("region", name=re.compile("^Seam of "))).to_be_visible()
    # And an overlap becomes a panel of its own.
    page.goto(f"{address}#overlap")
    page.get_by_role("button", name="Ready-made").click()
    page.get_by_role("menuitem", name="A panel of these inks").click()
    expect(page.get_by_role("textbox", name="Name of this panel")).to_have_value(re.compile("a panel"))


@pytest.mark.timed
def test_a_change_is_painted_soon(panel: Page) -> None:
    """Fast enough to be felt as at once; the bench measures it, this only guards against much worse."""
    band(panel, 3).click()
    panel.wait_for_timeout(400)
    taken = repaint_times(panel, 8, "canvas[data-painted]", "data-painted", back="+")
    assert taken[4] < 900


def test_a_panel_goes_into_the_swatch_book_by_one_press(page: Page, address: str) -> None:
    page.goto(f"{address}#/panel/5")
    # Overlap, which is left, has a menu of that name as well.
    expect(page.get_by_label("Name of this panel")).to_be_visible()
    page.get_by_role("button", name="Go on").click()
    page.get_by_role("menuitem", name="Log it in the swatch book").click()
    expect(page.get_by_role("dialog")).to_contain_text("Heather Bank")
