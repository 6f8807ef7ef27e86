"""No violation of axe-core in any view, dialog or menu, opened, in both surroundings."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
LOOK = """async () => (await axe.run(document, { resultTypes: ['violations'] })).violations.flatMap((found) =>
  found.nodes.map((node) => {
    const why = [...node.any, ...node.all, ...node.none][0]
    return `${found.id}: ${node.html.slice(0, 160)} (${why?.message})`
  }))"""


def room(name: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        page.get_by_role("link", name=name, exact=True).click()
        page.wait_for_load_state("networkidle")

    return go


def button(room_name: str, *names: str) -> Callable[[Page], None]:
    """Buttons or tabs pressed one after another in a room."""

    def go(page: Page) -> None:
        room(room_name)(page)
        for name in names:
            plain, tab = (page.get_by_role(role, name=name, exact=True) for role in ("button", "tab"))
            plain.or_(tab).first.click()
            page.wait_for_load_state("networkidle")

    return go


def select(room_name: str, name: str) -> Callable[[Page], None]:
    """A select opened."""

    def go(page: Page) -> None:
        room(room_name)(page)
        page.get_by_role("combobox", name=name).first.click(force=True)
        expect(page.get_by_role("option").first).to_be_visible()

    return go


def keys(room_name: str, key: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        room(room_name)(page)
        page.keyboard.press(key)
        page.wait_for_load_state("networkidle")

    return go


def opened_ink(page: Page) -> None:
    button("Stash", "Inks 40")(page)
    page.get_by_role("button", name="Boiler Blue").first.click()
    page.get_by_role("button", name="By eye").click()
    page.get_by_role("button", name="greens", exact=True).click()
    page.locator(".field button").nth(9).click()
    expect(page.locator(".match")).to_be_visible()


def many_inks(page: Page) -> None:
    button("Stash", "Many inks")(page)
    page.get_by_role("textbox", name="Names, one on each line").fill("One\nTwo #aabbcc\nTwo #aabbcc")
    page.get_by_role("button", name="Go on to their colours").click()


def doubts(page: Page) -> None:
    many_inks(page)
    page.get_by_role("button", name="Look them over").click()
    expect(page.get_by_text("in the list twice")).to_be_visible()


def picked_swatch(page: Page) -> None:
    room("Swatch book")(page)
    page.get_by_role("button", name="Dusk").click()


def picked_seam(page: Page) -> None:
    room("Panel")(page)
    page.get_by_role("tab", name="Seams").click()
    page.get_by_role("button", name="Coral Bunting").first.click()


STATES: dict[str, Callable[[Page], None]] = {
    "overlap": room("Overlap"),
    "overlap, nudges": button("Overlap", "Nudge it"),
    "overlap, the colour": button("Overlap", "The colour"),
    "overlap, light": select("Overlap", "Viewing light"),
    "overlap, kept ones": keys("Overlap", "o"),
    "overlap, keys": keys("Overlap", "?"),
    "overlap, compared": keys("Overlap", "c"),
    "chart": room("Chart"),
    "match": room("Match"),
    "panel": room("Panel"),
    "panel, seam": picked_seam,
    "panel, size": keys("Panel", "s"),
    "panel, layers": keys("Panel", "l"),
    "panel, kept ones": keys("Panel", "p"),
    "table": room("Table"),
    "table, at the mat": button("Table", "At the mat"),
    "table, a fault": button("Table", "Is this a fault?"),
    "table, evenings before": button("Table", "Evenings before"),
    "table, a tablet": button("Table", "The evening", "Use a tablet"),
    "swatch book": room("Swatch book"),
    "swatch book, one": picked_swatch,
    "swatch book, what it teaches": button("Swatch book", "What it teaches"),
    "swatch book, squares": button("Swatch book", "Squares to lay"),
    "swatch book, guess first": button("Swatch book", "Guess first"),
    "stash": room("Stash"),
    "stash, an ink by eye": opened_ink,
    "stash, many inks": many_inks,
    "stash, doubts": doubts,
    "stash, formula": select("Stash", "Formula shown"),
    "stash, off a photo": button("Stash", "Off a photo"),
    "stash, a file": button("Stash", "Open a file"),
    "stash, print": button("Stash", "Print and give out"),
    "stash, which ink next": button("Stash", "Which ink next?"),
    "stash, copies": button("Stash", "Copies"),
    "stash, cards": button("Stash", "Cards 11"),
    "stash, tools": button("Stash", "Tools 7"),
    "formulas": room("Formulas"),
}


@pytest.mark.parametrize("surround", ["light", "dark"])
def test_no_violation_anywhere(page: Page, surround: str) -> None:
    if surround == "dark":
        page.get_by_role("button", name="Dark grey table").click()
    page.evaluate(AXE)
    found = []
    for name, go in STATES.items():
        go(page)
        page.wait_for_timeout(150)
        # The list of a select hangs outside the page's parts; its field names it.
        found += [f"{name}: {each}" for each in page.evaluate(LOOK) if 'region: <div class="el-select' not in each]
        page.keyboard.press("Escape")
        if page.locator("dialog[open]").count():
            page.locator("dialog[open]").get_by_role("button", name="Close").click()
    assert found == [], "\n".join(found)
