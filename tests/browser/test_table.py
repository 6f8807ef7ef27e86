"""The table in the page: planned, gone through by key and by tap with the clock controlled, reloaded on the way."""

from __future__ import annotations

import re
from datetime import datetime

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser
EVENING = datetime(2026, 11, 20, 18, 0)


def go(page: Page, address: str) -> None:
    page.goto(f"{address}#/table")
    expect(page.get_by_role("heading", name="Bring to the table")).to_be_visible()


def plan(page: Page, *names: str) -> None:
    for name in names:
        page.get_by_role("button", name=re.compile(f"^{name}|✓ *{name}")).click()
    page.get_by_role("button", name=re.compile("^Plan ")).click()
    expect(page.get_by_role("button", name="Begin at the mat")).to_be_visible()


def big(page: Page) -> str:
    return page.locator(".run .big").inner_text()


def pass_time(page: Page, seconds: int) -> None:
    page.clock.run_for(seconds * 1000)


def done(page: Page, key: str = "ArrowRight") -> None:
    """The step ticked off, after a while; the next one shown."""
    pass_time(page, 4)
    before = page.locator(".run footer .then").inner_text()
    text = big(page)
    page.keyboard.press(key)
    expect(page.locator(".run .big")).not_to_have_text(text)
    assert before.startswith("Then: ") or not before


@pytest.mark.own_window
def test_an_evening_is_gone_through_at_the_mat_and_reloaded_on_the_way(page: Page, address: str) -> None:
    page.clock.install(time=EVENING)
    go(page, address)
    plan(page, "On the table", "Signal wheel")
    expect(page.get_by_role("img", name=re.compile("The evening in 2 rows"))).to_be_visible()
    assert page.get_by_role("list", name="Steps").locator("> li").count() > 20
    page.get_by_role("button", name="Begin at the mat").click()
    expect(page.locator(".run .big")).to_be_visible()
    # Readable from two metres on a tablet.
    page.set_viewport_size({"width": 1024, "height": 768})
    assert page.locator(".run .big").evaluate("e => parseFloat(getComputedStyle(e).fontSize)") >= 40
    # What lies below the sheet is not gone to by key.
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.closest('.run') !== null")
    page.evaluate("document.activeElement.blur()")
    first = big(page)
    done(page, " ")
    second = big(page)
    done(page, "Enter")
    # A tap anywhere on the sheet does it too.
    pass_time(page, 4)
    third = big(page)
    page.locator(".run .body").click(position={"x": 40, "y": 400})
    expect(page.locator(".run .big")).not_to_have_text(third)
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".run .big")).to_have_text(third)
    page.get_by_role("button", name="Back").click()
    expect(page.locator(".run .big")).to_have_text(second)
    pass_time(page, 2)
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".run .big")).to_have_text(first)
    for _ in range(40):
        if page.locator(".timers li").count():
            break
        done(page)
    timer = page.locator(".timers li").first
    left = timer.locator(".time").inner_text()
    assert re.fullmatch(r"\d+:\d\d", left), left
    now = big(page)
    page.reload()
    # Still at the mat, at the same step, and the ink went on drying.
    expect(page.locator(".run .big")).to_have_text(now)
    pass_time(page, 30)
    expect(page.locator(".timers li").first.locator(".time")).not_to_have_text(left)
    pass_time(page, 3600)
    expect(page.locator(".timers li")).to_have_count(0)
    expect(page.locator(".run.waiting")).to_have_count(0)


@pytest.mark.own_window
def test_hands_are_free_until_it_is_dry_or_somebody_says_so(page: Page, address: str) -> None:
    page.clock.install(time=EVENING)
    go(page, address)
    plan(page, "Rain on an old timetable")
    page.get_by_role("button", name="Begin at the mat").click()
    for _ in range(30):
        if page.locator(".run.waiting").count():
            break
        done(page)
    expect(page.get_by_text("Your hands are free")).to_be_visible()
    count = page.locator(".run .count")
    before = count.inner_text()
    # What is not due cannot be ticked off by chance.
    expect(page.get_by_role("button", name="Done")).to_be_disabled()
    page.keyboard.press(" ")
    page.locator(".run .body").click(position={"x": 40, "y": 300})
    pass_time(page, 20)
    expect(page.get_by_text("Your hands are free")).to_be_visible()
    expect(count).not_to_have_text(before)
    page.get_by_role("button", name="Dry already").click()
    expect(page.get_by_text("Your hands are free")).to_be_hidden()
    page.get_by_role("button", name="Plan anew from here").click()
    expect(page.get_by_text("best order already")).to_be_visible()
    page.get_by_role("button", name="Leave the mat").click()
    expect(page.get_by_text("A run is under way")).to_be_visible()
    page.get_by_role("tab", name=re.compile("At the mat")).click()
    page.get_by_role("button", name="End", exact=True).click()
    page.get_by_role("button", name="End it").click()
    page.get_by_role("tab", name="Evenings before").click()
    expect(page.get_by_text("Ended before the last step.")).to_be_visible()
    expect(page.get_by_text("Steam White", exact=False)).to_be_visible()


@pytest.mark.own_window
def test_the_last_step_opens_the_swatch_book(page: Page, address: str) -> None:
    page.clock.install(time=EVENING)
    go(page, address)
    plan(page, "On the table")
    page.get_by_role("button", name="Begin at the mat").click()
    expect(page.locator(".run .big")).to_be_visible()
    for _ in range(40):
        if page.get_by_role("button", name="Log it in the swatch book").count():
            break
        if page.locator(".run.waiting").count():
            pass_time(page, 60)
            continue
        done(page)
    page.get_by_role("button", name="Log it in the swatch book").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page).to_have_url(re.compile("#/log"))


def test_a_panel_comes_to_the_table_by_one_press_and_is_asked_about(page: Page, address: str) -> None:
    page.goto(f"{address}#/panel/5")
    # Overlap, which is left, has a menu of that name as well.
    expect(page.get_by_label("Name of this panel")).to_be_visible()
    page.get_by_role("button", name="Go on").click()
    page.get_by_role("menuitem", name="Make it at the table").click()
    expect(page.get_by_role("button", name="Plan Steam over the line")).to_be_visible()
    page.get_by_role("tab", name="Is this a fault?").click()
    page.get_by_role("combobox", name="On which piece").click(force=True)
    page.get_by_role("option", name="Steam over the line").click()
    page.get_by_role("button", name="Patchy, still wet").click()
    expect(page.get_by_role("heading", name="It goes by itself")).to_be_visible()
    page.get_by_label("Laid how many minutes ago").fill("500")
    page.get_by_label("Laid how many minutes ago").press("Enter")
    expect(page.get_by_role("heading", name="This stays unless you do something")).to_be_visible()
    page.get_by_role("button", name="Too dark").click()
    expect(page.get_by_text("this is how dark it stays")).to_be_visible()
    page.get_by_role("button", name=re.compile("From a photo of it")).click()
    page.get_by_role("button", name="Simulated camera").click()
    expect(page.get_by_role("img", name="The panel as it will look when dry")).to_be_visible(timeout=40_000)


@pytest.mark.refused
def test_what_cannot_be_done_is_said_before_the_start(page: Page, address: str) -> None:
    page.request.post(f"{address}api/stash/changes", data=without_stamp(page, address))
    go(page, address)
    page.get_by_role("button", name=re.compile("Embankment in spring")).click()
    page.get_by_role("button", name=re.compile("^Plan ")).click()
    expect(page.get_by_role("alert")).to_contain_text("with a stamp, and none is among your tools")
    expect(page.get_by_role("button", name="Begin at the mat")).to_have_count(0)


def without_stamp(page: Page, address: str) -> dict[str, object]:
    tools = page.request.get(f"{address}api/stash").json()["tools"]
    stamp = next(tool for tool in tools if tool["item"]["tool"] == "stamp")
    return {"what": "Give it away", "changes": [{"kind": "tool", "id": stamp["id"]}]}
