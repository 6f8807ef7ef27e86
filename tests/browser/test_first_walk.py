"""The first walk: two inks, mud, what saves it, the same on mint card; done by hand, shown, left, taken again."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.running import demo_server

pytestmark = pytest.mark.browser


def test_it_is_walked_by_doing(page: Page) -> None:
    page.get_by_role("button", name="A walk of four steps").click()
    walk = page.get_by_role("complementary", name="First walk")
    expect(walk).to_contain_text("1 of 4.")
    # In quick succession: the second goes on top of the first, and not in its place.
    page.evaluate(
        """(inks) => inks.forEach((ink) => [...document.querySelectorAll('.pad')]
      .find((pad) => pad.textContent.includes(ink)).click())""",
        ["Boiler Blue", "Firebox Orange"],
    )
    expect(walk).to_contain_text("2 of 4. Where they cross it goes muddy")
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("Muddy")
    walk.get_by_role("button", name="I have read it").click()
    expect(walk).to_contain_text("3 of 4.")
    page.get_by_role("button", name=re.compile("^Apply")).first.click()
    expect(walk).to_contain_text("4 of 4.")
    expect(page.get_by_role("region", name="Verdict")).not_to_contain_text("Muddy")
    # Half way, the page is loaded again.
    page.reload()
    expect(walk).to_contain_text("4 of 4.")
    page.get_by_role("button", name="Mint Waiting Room").click()
    expect(walk).to_contain_text("That is all there is to it.")
    walk.get_by_role("button", name="Close").click()
    expect(walk).to_be_hidden()
    page.reload()
    expect(page.get_by_role("region", name="Verdict")).to_be_visible()
    expect(page.get_by_role("button", name="A walk of four steps")).to_be_hidden()


def test_it_is_shown_left_and_taken_again(page: Page) -> None:
    page.get_by_role("button", name="A walk of four steps").click()
    walk = page.get_by_role("complementary", name="First walk")
    walk.get_by_role("button", name="Do it for me").click()
    expect(walk).to_contain_text("2 of 4.")
    walk.get_by_role("button", name="Leave the walk").click()
    expect(walk).to_be_hidden()
    page.get_by_role("button", name="Keys").click()
    page.get_by_role("button", name="Take the first walk again").click()
    expect(walk).to_contain_text("1 of 4.")
    for deed in ("Do it for me", "I have read it", "Press the first for me", "Do it for me"):
        walk.get_by_role("button", name=deed).click()
    expect(walk).to_contain_text("That is all there is to it.")


def test_it_is_not_offered_where_there_is_no_sample(browser: Browser, tmp_path: Path) -> None:
    with demo_server(tmp_path / "mine.wempa", "serve") as address:
        page = browser.new_page()
        page.goto(address)
        expect(page.get_by_text("your shelf is empty")).to_be_visible()
        expect(page.get_by_role("button", name="A walk of four steps")).to_be_hidden()
        page.close()
