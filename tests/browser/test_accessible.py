"""No violation of axe-core in any view, dialog or menu, opened, in both surroundings."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser

AXE = (Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
LOOK = """async (rules) => (await axe.run(document, {
  resultTypes: ['violations'], ...(rules.length ? { runOnly: { type: 'rule', values: rules } } : {}),
})).violations.flatMap((found) =>
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


def every_state(page: Page) -> Iterator[str]:
    """The name of each view, dialog and menu while it is open."""
    for name, go in STATES.items():
        go(page)
        page.wait_for_timeout(150)
        yield name
        page.keyboard.press("Escape")
        if page.locator("dialog[open]").count():
            page.locator("dialog[open]").get_by_role("button", name="Close").click()


def violations(page: Page, rules: Sequence[str] = ()) -> list[str]:
    """What axe-core finds, by some of its rules or by all."""
    # The list of a select hangs outside the page's parts; its field names it.
    return [each for each in page.evaluate(LOOK, list(rules)) if 'region: <div class="el-select' not in each]


# What a knob is called that needs no help: it says itself what it is for.
PLAIN = {
    "Find an ink", "Name", "Name of this overlap", "Name of this panel", "Range", "Find by words", "Name of the swatch",
    "Notes", "Names, one on each line",
}  # fmt: skip
KNOBS = """() => [...document.querySelectorAll(
  'input:not([type=file]):not([type=radio]), textarea, [role=slider], [role=combobox], [role=spinbutton], ' +
    '[role=radiogroup]',
)].filter((each) => each.checkVisibility() && (each.closest('dialog') || !document.querySelector('dialog[open]')))
  .map((each) => (each.getAttribute('aria-label') ?? document.getElementById(each.getAttribute('aria-labelledby') ?? '')
    ?.textContent ?? each.labels?.[0]?.textContent ?? '').trim())"""


def test_no_violation_anywhere_and_every_knob_is_helped_with_a_sentence(page: Page) -> None:
    source = (Path(__file__).parents[2] / "web/src/shared/why.ts").read_text(encoding="utf-8")
    helped = [re.compile(found) for found in re.findall(r"^  \[\s*/(.+?)/,\s", source, re.M)]
    assert len(helped) > 70
    bare: dict[str, str] = {}
    found = []
    page.evaluate(AXE)
    for name in every_state(page):
        found += [f"{name}: {each}" for each in violations(page)]
        for knob in page.evaluate(KNOBS):
            if knob not in PLAIN and not any(each.search(knob) for each in helped):
                bare.setdefault(knob, name)
    assert found == [], "\n".join(found)
    assert bare == {}


def test_texts_stand_out_on_the_dark_table_too(page: Page) -> None:
    """Of all rules only contrast goes by the surroundings."""
    page.get_by_role("button", name="Dark grey table").click()
    page.evaluate(AXE)
    found = [f"{name}: {each}" for name in every_state(page) for each in violations(page, ["color-contrast"])]
    assert found == [], "\n".join(found)


def test_help_comes_by_pointer_and_by_key_and_goes_again(page: Page) -> None:
    bubble = page.get_by_role("tooltip")
    page.get_by_role("spinbutton", name="Mud line").hover()
    expect(bubble).to_have_text(re.compile("From which mud on you call it mud"))
    page.mouse.move(500, 300)
    expect(bubble).to_be_hidden()
    page.get_by_role("combobox", name="Tool for Boiler Blue").focus()
    page.keyboard.press("Tab")
    while page.evaluate("document.activeElement.getAttribute('aria-label')") != "Passes of Boiler Blue":
        page.keyboard.press("Tab")
    expect(bubble).to_have_text(re.compile("How often you go over it"))
    focused = page.locator(":focus")
    expect(focused).to_have_attribute("aria-description", re.compile("How often you go over it"))
    page.keyboard.press("Escape")
    expect(bubble).to_be_hidden()


@pytest.mark.parametrize("size", [(1280, 800), (1024, 768), (640, 400), (390, 844)])
def test_nothing_hangs_over_the_edge_nor_at_200_per_cent(page: Page, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    for name in ("Overlap", "Chart", "Match", "Panel", "Table", "Swatch book", "Stash", "Formulas"):
        room(name)(page)
        page.wait_for_timeout(300)
        assert page.evaluate("document.documentElement.scrollWidth") <= size[0], name
        redo = page.get_by_role("button", name="Redo").bounding_box()
        assert redo is not None
        assert redo["x"] + redo["width"] <= size[0], name


# Colour deficiencies without red, green and blue cones, as linear maps of linear sRGB (Viénot, Brettel and Mollon 1999;
# the last after Brettel, Viénot and Mollon 1997, one plane). White stays white in each.
DEFICIENCIES = {
    "without red": ((0.11238, 0.88762, 0.0), (0.11238, 0.88762, 0.0), (0.00401, -0.00401, 1.0)),
    "without green": ((0.29275, 0.70725, 0.0), (0.29275, 0.70725, 0.0), (-0.02234, 0.02234, 1.0)),
    "without blue": ((1.0, 0.1446, -0.1446), (0.0, 0.85924, 0.14076), (0.0, 0.85924, 0.14076)),
}
GREYS = """(names) => names.map((name) => [
  name, getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim(),
])"""
SURROUND = ["ground", "table", "slip", "raised", "line", "text", "text-soft", "strong", "on-strong", "focus"]
# How dark each point of a mark is, by what the mark is called.
MARKS = """() => Object.fromEntries([...document.querySelectorAll('.marks li')].map((each) => {
  const canvas = each.querySelector('canvas')
  const points = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height)
  return [each.textContent.trim(), [...points.data].filter((_, i) => i % 4 === 3)]
}))"""


@pytest.mark.parametrize("surround", ["light", "dark"])
def test_every_state_is_told_apart_whatever_cones_one_has(page: Page, surround: str) -> None:
    """Surroundings are grey, so that no deficiency changes them; verdicts differ by shape, pressed ones by light."""
    if surround == "dark":
        page.get_by_role("button", name="Dark grey table").click()
    for name, code in page.evaluate(GREYS, SURROUND):
        # The build shortens what can be said in three.
        digits = code[1:] if len(code) == 7 else "".join(2 * digit for digit in code[1:])
        linear = (np.array([int(digits[k : k + 2], 16) for k in (0, 2, 4)]) / 255) ** 2.2
        for matrix in DEFICIENCIES.values():
            assert np.allclose(np.array(matrix) @ linear, linear, atol=1e-3), (name, code)
    # The mark of each verdict, drawn small in one grey: no two look alike.
    room("Chart")(page)
    page.get_by_text("1,369 of 1,369 mixes").wait_for()
    marks = {name: np.array(points) for name, points in page.evaluate(MARKS).items()}
    assert len(marks) == 5
    for (name, one), (other, two) in itertools.combinations(marks.items(), 2):
        assert (np.abs(one - two) > 100).mean() > 0.04, (name, other)


def test_colours_of_inks_stay_where_the_system_takes_colours_over(page: Page) -> None:
    room("Stash")(page)
    pad = page.locator("[style*='background']").first
    before = pad.evaluate("(each) => getComputedStyle(each).backgroundColor")
    page.emulate_media(forced_colors="active")
    assert pad.evaluate("(each) => getComputedStyle(each).backgroundColor") == before
    # A plain part of the page follows the system.
    assert page.locator("body").evaluate("(each) => getComputedStyle(each).backgroundColor") == "rgb(255, 255, 255)"
