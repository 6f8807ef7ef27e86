"""How the stash and the guide look and behave: grey surroundings, small screens, keys, bad files, other corners."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from wempa.formats.stash.photo_file import encode
from wempa.optics.photo import Pixels

pytestmark = pytest.mark.browser

COLOURS = """() => {
  const out = [];
  for (const e of document.querySelectorAll('body, body *')) {
    if (e.closest('svg') || e.matches('.felt, .sheet, .swatch, .dab, .samples span')) continue;
    const s = getComputedStyle(e);
    out.push(s.backgroundColor, s.color, s.borderTopColor);
  }
  return [...new Set(out)];
}"""

CONTRAST = """() => {
  const bright = (colour) => {
    const [r, g, b] = colour.match(/[\\d.]+/g).map((v) => v / 255)
    const line = (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
    return 0.2126 * line(r) + 0.7152 * line(g) + 0.0722 * line(b)
  }
  const ground = (e) => {
    for (; e; e = e.parentElement) {
      const c = getComputedStyle(e).backgroundColor
      if (!/, 0\\)$|transparent/.test(c)) return c
    }
    return 'rgb(255,255,255)'
  }
  const poor = []
  for (const e of document.querySelectorAll('main *')) {
    const own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
    if (!own || e.closest('svg, .el-segmented') || e.closest(':disabled, .is-disabled') || !e.offsetParent) continue
    const [a, b] = [bright(getComputedStyle(e).color), bright(ground(e))].sort((x, y) => y - x)
    const ratio = (a + 0.05) / (b + 0.05)
    if (ratio < 4.5) poor.push([e.className, e.textContent.trim().slice(0, 30), ratio])
  }
  return poor
}"""


@pytest.fixture
def shelf(page: Page, address: str) -> Page:
    page.goto(f"{address}#stash")
    expect(page.get_by_role("group", name="Inks by hue")).to_be_visible()
    return page


@pytest.mark.parametrize("surround", ["light", "dark"])
def test_surroundings_are_grey_and_texts_are_readable(shelf: Page, address: str, surround: str) -> None:
    page = shelf
    if surround == "dark":
        page.get_by_role("button", name="Dark grey table").click()
    page.get_by_role("button", name=re.compile("^Boiler Blue")).click()
    for place in ("stash", "guide"):
        page.goto(f"{address}#{place}")
        expect(page.get_by_role("main")).to_be_visible()
        page.wait_for_timeout(200)
        for colour in page.evaluate(COLOURS):
            r, g, b, *alpha = (float(v) for v in re.findall(r"[\d.]+", colour.replace("rgba", "").replace("rgb", "")))
            assert r == g == b or alpha == [0], (place, colour)
        assert page.evaluate(CONTRAST) == []


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 768), (390, 844)])
def test_nothing_hangs_out_of_the_screen(browser: Browser, address: str, width: int, height: int) -> None:
    page = browser.new_page(viewport={"width": width, "height": height})
    page.goto(f"{address}#stash")
    page.get_by_role("button", name=re.compile("^Boiler Blue")).click()
    page.get_by_text("What the craft table says of it").click()
    page.wait_for_timeout(200)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    out = page.evaluate(
        """() => [...document.querySelectorAll('.drawer *')]
          .filter((e) => e.offsetParent && !e.closest('.for-readers, .pick-file input'))
          .filter((e) => e.getBoundingClientRect().right > document.documentElement.clientWidth + 1)
          .map((e) => e.className)"""
    )
    assert out == []
    page.goto(f"{address}#guide")
    page.wait_for_timeout(200)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.close()


def test_every_control_has_a_name_and_can_be_reached_by_key(shelf: Page) -> None:
    page = shelf
    page.get_by_role("button", name=re.compile("^Boiler Blue")).click()
    nameless = page.evaluate(
        """() => [...document.querySelectorAll('main button, main input:not([type=file]), main a, main summary')]
          .filter((e) => e.offsetParent)
          .filter((e) => !(e.ariaLabel || e.textContent.trim() || e.labels?.length || e.title
             || e.closest('[aria-label]')?.ariaLabel))
          .map((e) => e.outerHTML.slice(0, 120))"""
    )
    assert nameless == []
    names = set()
    for _ in range(70):
        page.keyboard.press("Tab")
        names.add(page.evaluate("document.activeElement.ariaLabel || document.activeElement.textContent.trim()"))
    assert {"Find an ink", "Add an ink", "Several at once", "Off a photo"} <= names


def test_the_shelf_is_walked_by_arrows_and_left_by_escape(shelf: Page) -> None:
    page = shelf
    first = page.locator(".pad").first
    first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    focused = page.locator(":focus")
    columns = page.evaluate(
        "[...document.querySelectorAll('.pad')].filter((p, _, all) => p.offsetTop === all[0].offsetTop).length"
    )
    assert focused.get_attribute("title") == page.locator(".pad").nth(columns + 1).get_attribute("title")
    assert focused.evaluate("e => getComputedStyle(e).outlineStyle") == "solid"
    page.keyboard.press("Enter")
    drawer = page.locator("aside.drawer")
    expect(drawer).to_be_visible()
    page.keyboard.press("Escape")
    expect(drawer).to_be_hidden()
    page.keyboard.press("8")
    expect(page.get_by_role("heading", name="dye")).to_be_visible()
    page.keyboard.press("7")
    expect(page.get_by_role("group", name="Inks by hue")).to_be_visible()


@pytest.mark.refused
def test_a_bad_photo_is_refused_in_the_dialog_and_escape_closes_it(shelf: Page, tmp_path: Path) -> None:
    page = shelf
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog")
    bad = tmp_path / "photo.jpg"
    bad.write_bytes(b"not a photo")
    dialog.locator("input[type=file]").set_input_files(bad)
    expect(dialog.get_by_role("alert")).to_contain_text("this is no JPEG, PNG, HEIC or DNG")
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    expect(page.get_by_role("button", name="Off a photo")).to_be_visible()


def test_a_grid_of_ones_own_is_marked_from_its_corners(shelf: Page, tmp_path: Path) -> None:
    """A photo without the printed sheet's discs: white by click, then four corner swatches."""
    photo: Pixels = np.full((600, 900, 3), 205, dtype=np.uint8)
    colours = [(180, 60, 60), (60, 140, 70), (60, 80, 170), (200, 180, 60), (140, 80, 150), (90, 90, 90)]
    for n, colour in enumerate(colours):
        x, y = 150 + 250 * (n % 3), 150 + 250 * (n // 3)
        photo[y : y + 100, x : x + 100] = colour
    file = tmp_path / "own.jpg"
    file.write_bytes(encode(photo))
    page = shelf
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog")
    dialog.locator("input[type=file]").set_input_files(file)
    box = dialog.locator(".photo svg").bounding_box()
    assert box is not None
    scale = box["width"] / 900

    def click(x: float, y: float) -> None:
        assert box is not None
        page.mouse.click(box["x"] + x * scale, box["y"] + y * scale)

    click(60, 60)
    expect(dialog.get_by_role("img", name="white")).to_have_count(1)
    dialog.get_by_text("Whole sheet", exact=True).click()
    dialog.get_by_label("Swatches across").fill("3")
    page.keyboard.press("Tab")
    dialog.get_by_label("Swatches down").fill("2")
    page.keyboard.press("Tab")
    for x, y in ((200, 200), (700, 200), (700, 450), (200, 450)):
        click(x, y)
    expect(dialog.locator(".readings > li")).to_have_count(6)
    for n in range(6):
        dialog.get_by_label(f"Name of swatch {n + 1}").fill(f"Own {n + 1}")
    dialog.get_by_role("button", name="Put 6 inks on the shelf").click()
    expect(page.get_by_role("button", name=re.compile("^Own 1"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Own 3")).click()
    expect(page.get_by_role("region", name="Own 3, opened").get_by_text("read off a photo")).to_be_visible()


def test_two_inks_that_read_the_same_are_asked_about(shelf: Page) -> None:
    page = shelf
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Take the photo").click()
    expect(dialog.get_by_role("button", name="Put 12 inks on the shelf")).to_be_visible(timeout=90_000)
    dialog.get_by_text("Swatch", exact=True).click()
    where = dialog.get_by_role("img", name="Swatch 1 Bunting Scarlet").bounding_box()
    assert where is not None
    page.mouse.click(where["x"] + where["width"] / 2, where["y"] + where["height"] / 2)
    expect(dialog.locator(".readings > li")).to_have_count(13)
    dialog.get_by_label("Name of swatch 13").fill("Scarlet again")
    question = dialog.get_by_text("Can you tell these apart on the card?")
    expect(question).to_contain_text("Bunting Scarlet and Scarlet again read the same")
    dialog.get_by_role("button", name="No, leave Scarlet again out").click()
    expect(dialog.locator(".readings > li")).to_have_count(12)
    expect(question).to_be_hidden()


@pytest.mark.refused
def test_cards_and_tools_are_made_changed_and_deleted(shelf: Page, address: str) -> None:
    page = shelf
    page.get_by_role("tab", name="Cards").click()
    page.get_by_role("button", name="Add a card").click()
    card = page.get_by_role("region", name="A new card")
    card.get_by_label("Name").fill("Signal Box Teal")
    card.get_by_label("Colour, hex or Lab").fill("#2f7f86")
    page.keyboard.press("Tab")
    card.get_by_role("button", name="Put it in the stash").click()
    made = page.get_by_role("region", name="Signal Box Teal, opened")
    expect(made).to_be_visible()
    assert page.request.get(f"{address}api/stash").json()["cards"][-1]["hex"] == "#2f7f86"
    made.get_by_label("Weight", exact=True).fill("80")
    page.keyboard.press("Tab")
    made.get_by_label("Unit of the weight").press("Enter")
    page.get_by_role("option", name="lb cover").click()
    expect(made.get_by_text("216 g/m²")).to_be_visible()
    made.get_by_label("Sheet width in millimetres").fill("210")
    page.keyboard.press("Tab")
    expect(made.get_by_text("8.27 in").first).to_be_visible()
    # It is at hand on the table at once.
    page.get_by_role("link", name="Overlap").click()
    page.get_by_role("button", name="Signal Box Teal").click()
    expect(page.get_by_role("group", name="Signal Box Teal with crossing swatches")).to_be_visible()
    page.get_by_role("link", name="Stash").click()
    page.get_by_role("tab", name="Cards").click()
    page.get_by_role("button", name=re.compile("^Signal Box Teal")).click()
    made.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("alert")).to_contain_text("Signal Box Teal is used by “On the table”")

    page.get_by_role("tab", name="Tools").click()
    page.get_by_role("button", name="Add a tool").click()
    tool = page.get_by_role("region", name="A new tool")
    tool.get_by_label("Name").fill("Tiny blender")
    tool.get_by_role("button", name="Put it in the stash").click()
    page.get_by_role("region", name="Tiny blender, opened").get_by_role("button", name="Delete").click()
    expect(page.get_by_role("button", name=re.compile("^Tiny blender"))).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Tiny blender"))).to_be_visible()


def test_twins_show_their_formula_and_what_is_not_owned_is_not_laid(shelf: Page, address: str) -> None:
    page = shelf
    table = "name,range,formula,hex\nBoiler Blue,Ballast,hybrid,#35619f\n"
    assert page.request.post(f"{address}api/import/inks?apply=true", data=table).ok
    page.goto(address)
    page.reload()
    expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Firebox Orange over Boiler Blue (dye)")
    rack = page.get_by_role("region", name="Inks")
    expect(rack.get_by_role("button", name=re.compile("^Boiler Blue"))).to_have_count(2)
    expect(rack.get_by_role("button", name=re.compile("^Tea Urn"))).to_have_count(0)
    expect(rack.get_by_role("button", name=re.compile("^Tunnel Black"))).to_have_count(0)


@pytest.mark.refused
def test_numbers_of_ones_own_for_an_ink_its_range_and_a_dark_swatch(shelf: Page, address: str) -> None:
    page = shelf

    def blue() -> dict[str, object]:
        inks = page.request.get(f"{address}api/stash").json()["inks"]
        found: dict[str, object] = next(ink for ink in inks if ink["name"] == "Sea Wall")["item"]["ink"]
        return found

    page.get_by_role("button", name=re.compile("^Sea Wall")).click()
    drawer = page.get_by_role("region", name="Sea Wall, opened")
    drawer.get_by_text("What the craft table says of it").click()
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        drawer.get_by_label("lift of this ink").fill("0,4")
        page.keyboard.press("Tab")
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        drawer.get_by_label("lift of the range").fill("0.5")
        page.keyboard.press("Tab")
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        drawer.get_by_label("hiding of this ink", exact=True).fill("0.45")
        page.keyboard.press("Tab")
    assert blue()["constants"] == {"lift": 0.4}
    assert blue()["hiding"] == 0.45
    ranges = page.request.get(f"{address}api/stash").json()["ranges"]
    assert [(r["item"]["name"], r["item"]["constants"]) for r in ranges] == [("Ballast", {"lift": 0.5})]
    drawer.get_by_label("lift of this ink").fill("9")
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("must lie between 0 and 1")

    drawer.get_by_label("Dark card of the second swatch").press("Enter")
    page.get_by_role("option", name="Night Mail Navy").click()
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        drawer.get_by_label("Its colour there").fill("#4a86a8")
        page.keyboard.press("Tab")
    swatch = blue()["swatch"]
    assert isinstance(swatch, dict)
    assert swatch["on_dark"]["colour"]["hex"] == "#4a86a8"
    assert swatch["on_dark"]["card"]["colour"]["hex"] == "#26344f"
