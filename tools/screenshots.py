"""Refresh docs/screenshots from the demo data: ``make screenshots``."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server

OUT = Path(__file__).parents[1] / "docs/screenshots"


def overlap_muddy(page: Page) -> None:
    page.get_by_role("group", name="Snow with crossing swatches").wait_for()


def overlap_mint(page: Page) -> None:
    page.get_by_role("button", name="Mint Waiting Room").click()
    page.get_by_role("group", name="Mint Waiting Room with crossing swatches").wait_for()
    page.get_by_role("button", name="Coral Bunting").click()
    page.get_by_role("button", name="Coral Bunting", pressed=True).first.wait_for()


def dark(page: Page) -> None:
    page.get_by_role("button", name="Dark grey table").click()


SHOTS = {
    "overlap.png": ((1280, 800), [overlap_muddy]),
    "overlap-mint-dark.png": ((1280, 800), [overlap_muddy, overlap_mint, dark]),
    "overlap-tablet.png": ((1024, 768), [overlap_muddy]),
}


def main(out: Path) -> None:
    out.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        for name, ((width, height), steps) in SHOTS.items():
            with tempfile.TemporaryDirectory() as folder, demo_server(Path(folder) / "demo.wempa") as address:
                page = browser.new_page(viewport={"width": width, "height": height})
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
