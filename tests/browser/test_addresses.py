"""What is open stands in the address: reload, back, forward and two tabs work, and none opens another's things."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Locator, Page, Route, expect

pytestmark = pytest.mark.browser


def overlap_name(page: Page) -> Locator:
    return page.get_by_label("Name of this overlap")


def test_the_address_says_which_overlap_is_open_and_back_goes_to_the_one_before(page: Page, address: str) -> None:
    expect(overlap_name(page)).to_have_value("On the table")
    expect(page).to_have_url(f"{address}#/overlap/1")
    page.goto(f"{address}#/overlap/2")
    expect(overlap_name(page)).not_to_have_value("On the table")
    second = overlap_name(page).input_value()
    page.reload()
    expect(overlap_name(page)).to_have_value(second)
    expect(page).to_have_url(f"{address}#/overlap/2")
    page.go_back()
    expect(overlap_name(page)).to_have_value("On the table")
    page.go_forward()
    expect(overlap_name(page)).to_have_value(second)


def test_two_tabs_keep_to_what_each_has_open(browser: Browser, address: str) -> None:
    # Of one browser: what it remembers of the page is the same for both.
    window = browser.new_context(viewport={"width": 1280, "height": 800})
    page, other = window.new_page(), window.new_page()
    page.goto(address)
    expect(overlap_name(page)).to_have_value("On the table")
    other.goto(f"{address}#/overlap/2")
    expect(overlap_name(other)).not_to_have_value("On the table")
    second = overlap_name(other).input_value()
    page.reload()
    expect(overlap_name(page)).to_have_value("On the table")
    # What one lays does not go into the other's overlap.
    with page.expect_response(lambda r: r.request.method == "POST" and r.url.endswith("/api/overlaps/1/edit")):
        page.keyboard.press("n")
        page.get_by_role("button", name="Coral Bunting").last.click()
    other.reload()
    expect(overlap_name(other)).to_have_value(second)
    expect(other.get_by_role("button", name=re.compile("^Layer . of .: Coral Bunting"))).to_have_count(0)
    window.close()


def test_rooms_have_addresses_and_panels_their_numbers(page: Page, address: str) -> None:
    page.get_by_role("link", name="Panel").click()
    expect(page.locator("canvas[data-painted]")).to_be_visible()
    expect(page).to_have_url(f"{address}#/panel/1")
    expect(page).to_have_title(re.compile("Wempa"))
    page.goto(f"{address}#/panel/2")
    expect(page.get_by_label("Name of this panel")).not_to_have_value("Open day sunrise")
    page.get_by_role("link", name="Stash").click()
    expect(page).to_have_url(f"{address}#/stash")
    page.go_back()
    expect(page).to_have_url(f"{address}#/panel/2")
    expect(page.get_by_label("Name of this panel")).not_to_have_value("Open day sunrise")


@pytest.mark.parametrize("where", ["#/nowhere", "#/overlap/not-a-number", "#garden"])
def test_an_address_that_is_none_leads_to_the_first_room(page: Page, address: str, where: str) -> None:
    page.goto(f"{address}{where}")
    expect(overlap_name(page)).to_have_value("On the table")


ROOMS = {"Overlap": "[data-colour=full]", "Panel": "canvas[data-painted]", "Chart": "[role=grid]"}
"""What is there once a room is."""


@pytest.mark.parametrize("room", list(ROOMS))
def test_an_opened_menu_is_a_menu_and_no_bulleted_list(page: Page, room: str) -> None:
    expect(overlap_name(page)).to_have_value("On the table")
    page.get_by_role("link", name=room).click()
    expect(page.locator(ROOMS[room]).first).to_be_visible()
    page.get_by_role("button", name="Export and print").click()
    menu = page.get_by_role("menu").locator("visible=true")
    expect(menu).to_have_css("list-style-type", "none")
    item = page.get_by_role("menuitem").locator("visible=true").first
    expect(item).to_have_css("cursor", "pointer")
    box, own = menu.bounding_box(), item.bounding_box()
    assert box is not None
    assert own is not None
    assert own["height"] >= 24
    assert box["x"] >= 0
    assert box["x"] + box["width"] <= 1280
    background = menu.evaluate("el => getComputedStyle(el.closest('.el-popper')).backgroundColor")
    assert background != "rgba(0, 0, 0, 0)"


def test_a_select_opens_a_list_over_the_page(page: Page) -> None:
    page.locator(".light").click()
    option = page.get_by_role("option").locator("visible=true").first
    expect(option).to_be_visible()
    expect(option).to_have_css("list-style-type", "none")
    expect(option).to_have_css("cursor", "pointer")


def test_a_bar_of_progress_is_seen_while_the_reserve_is_looked_through(page: Page) -> None:
    # It waits to be looked at: what somebody asked before is told at once.
    waiting: list[Route] = []
    page.route("**/api/reserve*", lambda route: waiting.append(route))
    page.get_by_role("link", name="Match").click()
    page.get_by_role("tab", name="What I can make").click()
    bar = page.locator(".el-progress").first
    expect(bar).to_be_visible()
    seen = bar.evaluate(
        """bar => {
            const [ground, filled] = ['outer', 'inner'].map(part => bar.querySelector(`.el-progress-bar__${part}`));
            const box = ground.getBoundingClientRect();
            const colour = element => getComputedStyle(element).backgroundColor;
            return {width: box.width, height: box.height, ground: colour(ground), filled: colour(filled)};
        }"""
    )
    assert seen["height"] >= 4
    assert seen["width"] >= 100
    assert seen["ground"] != seen["filled"]
