"""The swatch book in the page: log, read off a photo, learn, see it in Overlap, take it back; practice."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, Route, expect

pytestmark = pytest.mark.browser


def go(page: Page, address: str) -> None:
    page.goto(f"{address}#/log")
    expect(page.locator(".tag")).to_have_count(31)


def colour(spot: Locator) -> str:
    return str(spot.evaluate("e => getComputedStyle(e).backgroundColor"))


def test_learn_then_overlap_shows_the_changed_prediction_then_undo(page: Page, address: str) -> None:
    expect(page.get_by_label("Name of this overlap")).to_have_value("On the table")
    chance = page.get_by_text("only a hint")
    expect(chance).to_be_visible()
    go(page, address)
    page.get_by_role("tab", name="What it teaches").click()
    page.get_by_role("button", name="Learn from 31 swatches").click()
    expect(page.get_by_role("progressbar", name="How far the learning is")).to_be_visible()
    expect(page.get_by_text("Your brush lays about a third more than I thought")).to_be_visible()
    expect(page.get_by_text("Ticket Pink comes out paler")).to_be_visible()
    page.get_by_role("button", name="Go by this from now on").click()
    expect(page.get_by_text("in force")).to_be_visible()
    page.get_by_role("link", name="Overlap").click()
    # What was a hint is known now.
    expect(page.get_by_text("likely within")).to_be_visible()
    expect(chance).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(chance).to_be_visible()


def test_the_book_is_searched_opened_judged_and_matched(page: Page, address: str) -> None:
    go(page, address)
    page.get_by_label("Find by words").fill("heather boiler")
    expect(page.locator(".tag")).to_have_count(1)
    page.locator(".tag").click()
    slip = page.get_by_role("complementary", name="Dusk")
    expect(slip.get_by_text("darker than guessed")).to_have_count(2)
    expect(page).to_have_url(re.compile(r"#/log/\d+$"))
    slip.get_by_role("button", name="mud").click()
    expect(slip.get_by_role("button", name="mud")).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".tag")).to_contain_text("mud")
    slip.get_by_label("Tags").fill("sky, dusk")
    slip.get_by_label("Tags").press("Enter")
    page.get_by_role("button", name="Show all").click()
    expect(page.locator(".tag")).to_have_count(31)
    page.get_by_role("combobox", name="Tag").click(force=True)
    page.get_by_role("option", name="sky").click()
    expect(page.locator(".tag")).to_have_count(1)
    page.reload()
    expect(page.get_by_role("complementary", name="Dusk")).to_be_visible()
    page.get_by_role("button", name="Match this colour").click()
    expect(page.get_by_role("heading", name=re.compile("^Dusk"))).to_be_visible()


@pytest.mark.refused
def test_a_step_back_is_seen_in_the_swatch_that_is_open(page: Page, address: str) -> None:
    go(page, address)
    page.locator(".tag", has_text="Dusk").click()
    slip = page.get_by_role("complementary", name="Dusk")
    mud = slip.get_by_role("button", name="mud")
    fine = slip.get_by_role("button", name="fine")
    expect(mud).to_have_attribute("aria-pressed", "false")
    mud.click()
    expect(page.locator(".tag", has_text="Dusk")).to_contain_text("mud")
    # The one that is chosen is seen among those that are not.
    page.mouse.move(5, 790)
    assert colour(mud) != colour(fine)
    page.get_by_role("button", name="Undo").click()
    expect(mud).to_have_attribute("aria-pressed", "false")
    # And it goes on from there.
    slip.get_by_role("button", name="dull").click()
    expect(page.locator(".tag", has_text="Dusk")).to_contain_text("dull")
    # One that was logged and taken back is gone, and nobody is told off for it.
    item = page.request.get(f"{address}api/log").json()["swatches"][0]["item"] | {"name": "Once only"}
    assert page.request.post(f"{address}api/log", data={"swatches": [item]}).ok
    page.reload()
    page.locator(".tag", has_text="Once only").click()
    gone = page.get_by_role("complementary", name="Once only")
    expect(gone).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    # It was not this tab that logged it, so it is asked first.
    page.get_by_role("button", name="Take it back all the same").click()
    expect(page.locator(".tag")).to_have_count(31)
    expect(gone).to_be_hidden()
    expect(page).to_have_url(re.compile(r"#/log/?$"))
    expect(page.get_by_role("alert")).to_have_count(0)


def test_an_overlap_is_logged_laid_by_the_simulated_hand_and_read(page: Page, address: str) -> None:
    page.get_by_role("button", name="Go on").click()
    page.get_by_role("menuitem", name="Log it in the swatch book").click()
    dialog = page.get_by_role("dialog", name="Into the swatch book")
    expect(dialog.get_by_text("Boiler Blue under Firebox Orange")).to_be_visible()
    # One press for those who have the square before them; it waits for the others.
    dialog.get_by_role("button", name="Put 1 in and read the photo now").click()
    photo = page.get_by_role("dialog", name="Off a photo, into the book")
    expect(photo).to_be_visible()
    page.keyboard.press("Escape")
    slip = page.get_by_role("complementary", name="Boiler Blue under Firebox Orange")
    expect(slip.get_by_text("This square waits")).to_be_visible()
    slip.get_by_role("button", name="Photograph it").click()
    photo.get_by_role("button", name="Let the simulated hand").click()
    expect(photo.locator(".readings > li")).to_have_count(1)
    photo.get_by_role("combobox", name="How they look on the photo").click(force=True)
    photo.get_by_role("option", name="while still wet").click()
    photo.get_by_role("button", name="Put 1 into the book").click()
    expect(slip.get_by_text("while wet", exact=True)).to_be_visible()
    expect(slip.get_by_role("img", name=re.compile("^Photo of Boiler Blue"))).to_be_visible()
    expect(page.locator(".tag")).to_have_count(32)


def test_a_strip_goes_on_the_list_by_key_and_its_sheet_is_saved(page: Page, address: str) -> None:
    go(page, address)
    tab = page.get_by_role("tab", name="The book")
    tab.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("heading", name="Squares to lay")).to_be_visible()
    page.get_by_role("button", name="Put the strip on the list").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".list li")).to_have_count(4)
    expect(page.locator(".list li").first).to_contain_text("1 pass")
    with page.expect_download() as saved:
        page.get_by_role("button", name="Print a sheet of 4").click()
    assert saved.value.suggested_filename.endswith(".pdf")
    page.get_by_role("button", name="Take them off the list").click()
    expect(page.locator(".list li")).to_have_count(0)


def test_a_guess_is_told_with_its_reason_and_kept(page: Page, address: str) -> None:
    go(page, address)
    page.get_by_role("tab", name="Guess first").click()
    choices = page.locator(".choices button")
    expect(choices).to_have_count(5)
    choices.nth(4).click()
    expect(page.locator(".told")).to_be_visible()
    expect(page.locator(".choices .answer")).to_have_count(1)
    expect(page.get_by_text("of 1 right")).to_be_visible()
    page.get_by_role("button", name="The next one").click()
    expect(page.locator(".told")).to_be_hidden()
    expect(choices.first).to_be_enabled()
    page.reload()
    expect(page.get_by_text("of 1 right")).to_be_visible()


@pytest.mark.refused
def test_what_is_no_photo_is_refused_in_the_dialog(page: Page, address: str) -> None:
    go(page, address)
    page.locator(".tag").first.click()
    page.get_by_role("button", name="Photograph it again").click()
    dialog = page.get_by_role("dialog", name="Off a photo, into the book")
    broken = {"name": "x.jpg", "mimeType": "image/jpeg", "buffer": b"no photo"}
    dialog.get_by_label("Photo of the swatches").set_input_files(broken)  # type: ignore[arg-type]
    expect(dialog.get_by_role("alert")).to_be_visible()
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()


@pytest.mark.refused
def test_where_it_cannot_be_told_what_was_laid_one_chooses(page: Page, address: str) -> None:
    def refuse(route: Route) -> None:
        route.fulfill(status=422, json={"error": "this overlap has no card any more", "place": None})

    page.route(f"{address}api/log/drafts", refuse, times=1)
    expect(page.get_by_label("Name of this overlap")).to_have_value("On the table")
    page.keyboard.press("k")
    dialog = page.get_by_role("dialog", name="Into the swatch book")
    expect(dialog.get_by_role("alert")).to_have_text("this overlap has no card any more")
    dialog.get_by_role("combobox", name="Overlap to log").click(force=True)
    dialog.get_by_role("option", name="On the table").click()
    expect(dialog.get_by_role("button", name="Put 1 into the book")).to_be_enabled()
