"""Refresh docs/screenshots from the demo data: ``make screenshots``."""

from __future__ import annotations

import re
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import FilePayload, Page, expect, sync_playwright

from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server

WALKED = """'{"stage":"left","overlap":0}'"""
OUT = Path(__file__).parents[1] / "docs/screenshots"


def overlap_muddy(page: Page) -> None:
    page.get_by_role("group", name="Snow with crossing swatches").wait_for()


def overlap_coloured(page: Page) -> None:
    """Two inks that card of another colour spoils."""
    page.get_by_role("button", name="Buff Timetable").click()
    page.get_by_role("group", name="Buff Timetable with crossing swatches").wait_for()
    for layer, ink in (("1", "Rain Coat"), ("2", "Heather Bank")):
        page.get_by_role("button", name=f"Layer {layer} of").click()
        page.get_by_role("button", name=ink).first.click()
        page.get_by_role("button", name=f"Layer {layer} of 2: {ink}").wait_for()
    advised(page)


def advised(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)


def swatch_book(page: Page) -> None:
    page.get_by_role("link", name="Swatch book").click()
    page.get_by_role("button", name="Dusk").click()
    page.get_by_role("complementary", name="Dusk").wait_for()


def learned(page: Page) -> None:
    page.get_by_role("tab", name="What it teaches").click()
    page.get_by_role("button", name="Learn from").click()
    page.get_by_role("button", name="Go by this from now on").wait_for()


def dark(page: Page) -> None:
    page.get_by_role("button", name="Dark grey table").click()


def shelf(page: Page) -> None:
    page.get_by_role("link", name="Stash").click()
    page.get_by_role("group", name="Inks by hue").wait_for()


def open_ink(page: Page) -> None:
    page.get_by_role("button", name="Boiler Blue").click()
    page.get_by_role("region", name="Boiler Blue, opened").wait_for()


def photo(page: Page) -> None:
    page.get_by_role("button", name="Off a photo").click()
    page.get_by_role("button", name="Take the photo").click()
    page.get_by_role("button", name="Put 12 inks on the shelf").wait_for()


def first_walk(page: Page) -> None:
    page.get_by_role("button", name="Keys").click()
    page.get_by_role("button", name="Take the first walk again").click()
    page.get_by_role("button", name="Do it for me").click()
    page.get_by_text("2 of 4.").wait_for()
    advised(page)


def many_inks(page: Page) -> None:
    page.get_by_role("button", name="Many inks").click()
    names = "Harbour Wall\nLantern Room #e8a33d\nMussel Blue #2d4f77\nFoghorn #8d9aa3\nRope Walk\nBuoy Red #d0392f"
    page.get_by_role("textbox", name="Names, one on each line").fill("Quayside (hybrid):\n" + names)
    page.get_by_role("button", name="Go on to their colours").click()
    page.get_by_role("button", name="teals and aquas").click()
    page.locator(".field button").nth(18).click()
    page.locator(".nudges").wait_for()


def next_ink(page: Page) -> None:
    page.get_by_role("button", name="Which ink next?").click()
    rows = (
        "Harbour Violet,Quayside,dye,#6a2ab0",
        "Moss Rope,Quayside,hybrid,#b6dd3a",
        "Old Clay,Quayside,pigment,#5b5340",
    )
    table = "\n".join(["name,range,formula,hex", *rows])
    file = FilePayload(name="quayside.csv", mimeType="text/csv", buffer=table.encode())
    page.locator("dialog input[type=file]").set_input_files(file)
    page.get_by_text("Harbour Violet").wait_for()


def guide(page: Page) -> None:
    page.get_by_role("link", name="Formulas").click()
    page.get_by_role("button", name="hybrid").click()
    page.get_by_role("heading", name="hybrid").wait_for()


def chart(page: Page) -> None:
    page.get_by_role("link", name="Chart").click()
    page.get_by_text("1,369 of 1,369 mixes").wait_for()
    grid = page.get_by_role("grid")
    grid.focus()
    for key in ("ArrowRight", *["ArrowDown"] * 8, *["ArrowRight"] * 17):
        page.keyboard.press(key)
    page.get_by_role("button", name="Open in Overlap").wait_for()
    advised(page)


def chart_ink(page: Page) -> None:
    page.get_by_role("link", name="Chart").click()
    page.get_by_text("1,369 of 1,369 mixes").wait_for()
    page.get_by_role("tab", name="Good company").click()
    page.locator(".el-select.one").click()
    page.get_by_role("option", name="Boiler Blue").click()
    page.get_by_role("button", name="Lay them in Overlap").first.wait_for()
    advised(page)


def match(page: Page) -> None:
    page.get_by_role("link", name="Match").click()
    page.get_by_role("heading", name="yours make it").wait_for(timeout=60_000)


def match_reserve(page: Page) -> None:
    match(page)
    page.get_by_role("tab", name="What I can make").click()
    page.get_by_text("Kept for as long as").wait_for(timeout=120_000)


def panel(page: Page) -> None:
    page.get_by_role("link", name="Panel").click()
    page.locator("canvas[data-painted]").wait_for()
    page.get_by_role("button", name="Band 3: Coral").click()
    advised(page)


def other_panel(page: Page, name: str) -> None:
    page.keyboard.press("p")
    page.get_by_role("button", name=f"Open {name}").click()
    page.locator(f'input[value="{name}"], .name').first.wait_for()
    page.get_by_role("tab", name="Seams").click()
    advised(page)


def panel_seam(page: Page) -> None:
    other_panel(page, "Embankment at dusk")
    page.get_by_role("button", name="Carriage Plum into Cutting Green").click()
    page.get_by_text("A bridge between").wait_for()
    advised(page)


def panel_ribbons(page: Page) -> None:
    other_panel(page, "Bunting in ribbons")
    page.get_by_role("tab", name="Making it").click()
    advised(page)


def evening(page: Page) -> None:
    """Three pieces planned together."""
    page.clock.install()
    page.goto(page.url.split("#")[0] + "#/table")
    for name in ("Open day sunrise", "Bunting in ribbons", "Rain on an old timetable"):
        page.get_by_role("button", name=re.compile(name)).click()
    page.get_by_role("button", name="Plan 3 pieces").click()
    page.get_by_role("button", name="Begin at the mat").wait_for()


def at_the_mat(page: Page) -> None:
    """At the mat, with something that dries."""
    page.get_by_role("button", name="Begin at the mat").click()
    page.locator(".run .big").wait_for()
    for _ in range(60):
        panel = page.locator(".run .of").inner_text() == "Open day sunrise"
        laying = panel and page.locator(".run .label").inner_text().startswith("Lay")
        if page.locator(".timers li").count() and laying:
            break
        page.clock.run_for(6000)
        text = page.locator(".run .big").inner_text()
        page.keyboard.press("ArrowRight")
        expect(page.locator(".run .big")).not_to_have_text(text)
    page.wait_for_timeout(900)


SHOTS = {
    "overlap.png": ((1280, 800), [overlap_muddy, advised]),
    "overlap-coloured-dark.png": ((1280, 800), [overlap_muddy, overlap_coloured, dark]),
    "overlap-walk.png": ((1024, 768), [overlap_muddy, first_walk]),
    "chart.png": ((1280, 800), [overlap_muddy, chart]),
    "chart-ink.png": ((1280, 800), [overlap_muddy, chart_ink]),
    "match.png": ((1280, 800), [overlap_muddy, match]),
    "match-reserve.png": ((1280, 800), [overlap_muddy, match_reserve]),
    "panel.png": ((1280, 800), [overlap_muddy, panel]),
    "panel-seam.png": ((1280, 800), [overlap_muddy, panel, panel_seam, dark]),
    "panel-ribbons.png": ((1280, 800), [overlap_muddy, panel, panel_ribbons]),
    "stash.png": ((1280, 800), [overlap_muddy, shelf, open_ink]),
    "stash-photo.png": ((1280, 800), [overlap_muddy, shelf, photo]),
    "table.png": ((1280, 800), [overlap_muddy, evening]),
    "table-mat.png": ((1024, 768), [overlap_muddy, evening, at_the_mat]),
    "swatch-book.png": ((1280, 800), [overlap_muddy, swatch_book]),
    "swatch-learning.png": ((1280, 800), [overlap_muddy, swatch_book, learned]),
    "stash-many-inks.png": ((1280, 800), [overlap_muddy, shelf, many_inks]),
    "stash-next-ink.png": ((1280, 800), [overlap_muddy, shelf, next_ink]),
    "guide.png": ((1280, 800), [overlap_muddy, guide]),
}


def main(out: Path) -> None:
    out.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        for name, ((width, height), steps) in SHOTS.items():
            with tempfile.TemporaryDirectory() as folder, demo_server(Path(folder) / "demo.wempa") as address:
                page = browser.new_page(viewport={"width": width, "height": height})
                # As it is on any other evening than the first.
                page.add_init_script(
                    "localStorage.getItem('wempa-walk') ?? localStorage.setItem('wempa-walk', " + WALKED + ")"
                )
                page.goto(address)
                for step in steps:
                    step(page)
                page.mouse.move(0, 0)
                page.wait_for_timeout(250)
                page.screenshot(path=out / name)
                page.close()
        browser.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else OUT)
