"""A drawer of pads in an evening: names in a list, colours by eye and off photos, doubts in the end."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.browser.running import demo_server
from tests.photos import CARD
from tools.phone_family import screen_colours
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Page as Paper
from wempa.demo.camera import PHONES, photograph
from wempa.optics import colorimetry as cm

pytestmark = pytest.mark.browser


@pytest.fixture
def own(browser: Browser, tmp_path: Path) -> Iterator[Page]:
    """The stash of a workspace that nobody has written to."""
    with demo_server(tmp_path / "mine.wempa", "serve") as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.set_default_timeout(60_000)
        page.goto(f"{address}#stash")
        expect(page.get_by_role("heading", name="An empty shelf")).to_be_visible()
        yield page
        page.close()


@dataclass
class Hand:
    """Somebody at the screen, by the keystroke-level model (Card, Moran and Newell 1980): seconds of what is done."""

    seconds: float = 0.0

    def press(self, where: Locator) -> None:
        """Think, reach for the thing and press it."""
        self.seconds += 1.35 + 0.4 + 1.1 + 0.2
        where.click()

    def type(self, where: Locator, text: str) -> None:
        """Go there and type as somebody does who seldom types."""
        self.seconds += 0.4 + 1.1 + 0.28 * len(text)
        where.fill(text)

    def photo(self, where: Locator, data: bytes) -> None:
        """Lay the sheet down, take the photo, bring it over and find it."""
        self.seconds += 60
        where.set_input_files({"name": "sheet.jpg", "mimeType": "image/jpeg", "buffer": data})


def test_sixty_pads_off_two_photos_within_a_quarter_of_an_hour(own: Page) -> None:
    hand = Hand()
    sheet = sheet_layout(Paper.A4)
    inks = screen_colours(60, np.random.default_rng(12))
    firsts, seconds = (
        "Harbour Copper Orchard Lantern Meadow Thistle",
        "Dawn Rope Slate Bell Moss Tide Plume Ash Berry Gate",
    )
    names = [f"{first} {second}" for first in firsts.split() for second in seconds.split()]
    hand.press(own.get_by_role("button", name="Put in many inks"))
    dialog = own.get_by_role("dialog", name="Put in many inks")
    text = "Quay (hybrid):\n" + "\n".join(names[:30]) + "\nPier (dye):\n" + "\n".join(names[30:])
    hand.type(dialog.get_by_role("textbox", name="Names, one on each line"), text)
    hand.press(dialog.get_by_role("button", name="Go on to their colours"))
    expect(dialog.get_by_role("status")).to_have_text("0 of 60 have a colour.")
    for start in (0, 30):
        hand.press(dialog.get_by_role("button", name="Colours off one photo"))
        reader = own.get_by_role("dialog", name="Read inks off a photo")
        hand.photo(
            reader.locator("input[type=file]"),
            photograph(sheet, list(inks[start : start + 30]), CARD, PHONES["plain camera"]),
        )
        # Thirty of the sheet's squares are inked; the names that are left over have none.
        expect(reader.get_by_role("button", name="Take 30 colours")).to_be_visible(timeout=120_000)
        hand.press(reader.get_by_role("button", name="Take 30 colours"))
        expect(dialog.get_by_role("status")).to_have_text(f"{start + 30} of 60 have a colour.")
    hand.press(dialog.get_by_role("button", name="Look them over"))
    for each in dialog.get_by_role("button", name="Keep it").all():
        hand.press(each)
    hand.press(dialog.get_by_role("button", name="Put 60 inks on the shelf"))
    expect(dialog).to_be_hidden()
    expect(own.get_by_role("tab", name="Inks 60")).to_be_visible()
    assert hand.seconds < 15 * 60, hand.seconds
    stored = own.request.get(own.url.split("#")[0] + "api/stash").json()["inks"]
    assert [ink["name"] for ink in stored] == names
    assert {ink["range"]: ink["formula"] for ink in stored} == {"Quay": "hybrid", "Pier": "dye"}
    read = np.array([ink["lab"] for ink in stored])
    missed = cm.ciede2000(*read.T, *cm.lab(inks).T)
    assert np.mean(missed) < 3
    # One press takes all of them back.
    own.keyboard.press("Control+z")
    expect(own.get_by_role("heading", name="An empty shelf")).to_be_visible()


def test_colours_one_after_another_by_keyboard_alone_and_kept_over_a_reload(own: Page) -> None:
    page = own
    page.get_by_role("button", name="Put in many inks").click()
    dialog = page.get_by_role("dialog", name="Put in many inks")
    dialog.get_by_role("textbox", name="Names, one on each line").fill(
        "Sea Wall\nTicket Pink #f0a0b0\nBoiler Blue\nSea Wall"
    )
    # The count of the names comes as the field is left, and moves nothing from under the pointer.
    on = dialog.get_by_role("button", name="Go on to their colours")
    button_box = on.bounding_box()
    dialog.get_by_role("textbox", name="Names, one on each line").blur()
    expect(dialog.get_by_role("status")).to_have_text("4 inks.")
    assert on.bounding_box() == button_box
    dialog.get_by_role("button", name="Go on to their colours").click()
    status = dialog.get_by_role("status")
    expect(status).to_have_text("1 of 4 have a colour.")
    for place, done, family in ((0, 2, "teals and aquas"), (2, 3, "blues"), (3, 4, "greys")):
        # One after another, in the order of the list.
        expect(dialog.locator(".list li").nth(place).locator("[aria-current]")).to_be_visible()
        chosen = dialog.get_by_role("button", name=family)
        expect(dialog.get_by_role("button", name="pinks")).to_be_focused()
        while not chosen.evaluate("(each) => each === document.activeElement"):
            page.keyboard.press("ArrowRight")
        page.keyboard.press("Enter")
        field = dialog.locator(".field button")
        expect(field.first).to_be_focused()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowRight")
        expect(field.nth(9)).to_be_focused()
        page.keyboard.press("Enter")
        match = dialog.locator(".match")
        expect(match).to_be_focused()
        before = match.locator(".patch").get_attribute("style")
        page.keyboard.press("3")
        page.keyboard.press("ArrowDown")
        expect(match.locator(".patch")).not_to_have_attribute("style", before or "")
        page.keyboard.press("Enter")
        expect(status).to_have_text(f"{done} of 4 have a colour.")
    page.reload()
    page.get_by_role("button", name="Put in many inks").click()
    dialog.get_by_role("button", name="Go on to their colours").click()
    expect(status).to_have_text("4 of 4 have a colour.")
    dialog.get_by_role("button", name="Look them over").click()
    twice = dialog.get_by_role("group", name="Sea Wall stands in the list twice.")
    expect(twice.get_by_role("button", name="Leave it out")).to_have_attribute("aria-pressed", "true")
    expect(dialog.get_by_text("What Boiler Blue is made of is not known")).to_be_visible()
    dialog.get_by_role("button", name="Put 3 inks on the shelf").click()
    expect(page.get_by_role("tab", name="Inks 3")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Boiler Blue")).click()
    page.get_by_text("matched by eye").click()
    expect(page.get_by_text("±2.6 ΔE00")).to_be_visible()
    # The same finder stands in the drawer of one ink.
    page.get_by_role("button", name="By eye").click()
    page.get_by_role("button", name="reds", exact=True).click()
    page.locator(".field button").nth(30).click()
    page.get_by_role("button", name="duller").click()
    page.get_by_text("a warm lamp").click()
    expect(page.get_by_text("wait for daylight")).to_be_visible()
    page.get_by_role("button", name="Take this colour").click()
    expect(page.get_by_text("±14.6 ΔE00")).to_be_visible()
    # For the day it runs out: one press to what makes it.
    page.get_by_role("button", name="From others").click()
    expect(page.get_by_role("heading", name="Boiler Blue", exact=True)).to_be_visible()


def test_which_ink_next_of_those_wanted_and_of_a_list(page: Page) -> None:
    page.get_by_role("link", name="Stash").click()
    page.get_by_role("button", name="Which ink next?").click()
    dialog = page.get_by_role("dialog", name="Which ink next?")
    inks = dialog.get_by_role("list", name="Inks, the one that brings most first").locator("> li")
    expect(inks).to_have_count(1)
    expect(inks.first).to_contain_text("Tea Urn")
    table = b"name,range,formula,hex\nSome Clay,Spare,pigment,#5b5340\nSignal Violet,Spare,dye,#6a2ab0\n"
    dialog.locator("input[type=file]").set_input_files({"name": "range.csv", "mimeType": "text/csv", "buffer": table})
    expect(inks.first).to_contain_text(re.compile("Signal Violet.*brings \\d+ new clean colours"))
    expect(inks.nth(1)).to_contain_text("You can make it already")
    dialog.get_by_role("button", name="The inks I want").click()
    expect(inks).to_have_count(1)


def test_what_has_no_colour_stays_in_the_list_with_its_range_and_formula(own: Page) -> None:
    own.get_by_role("button", name="Put in many inks").click()
    dialog = own.get_by_role("dialog", name="Put in many inks")
    names = dialog.get_by_role("textbox", name="Names, one on each line")
    names.fill("Loose One\nBallast (hybrid):\nSea Wall #3c7fae\nBrick Arch\nFootplate (dye):\nBoiler Blue")
    dialog.get_by_role("button", name="Go on to their colours").click()
    dialog.get_by_role("button", name="Look them over").click()
    dialog.get_by_role("button", name="Put 1 ink on the shelf").click()
    expect(dialog).to_be_hidden()
    own.get_by_role("button", name="Many inks").click()
    left = "Loose One (formula unknown)\nBallast:\nBrick Arch (hybrid)\nFootplate:\nBoiler Blue (dye)"
    expect(names).to_have_value(left)
    expect(dialog.get_by_role("status")).to_have_text("3 inks of 3 ranges.")
