"""The user's walk on the Overlap screen, in a real browser."""

from __future__ import annotations

import json
import re
import urllib.request
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from .running import demo_server

pytestmark = pytest.mark.browser


def pixel(page: Page, name: str) -> str:
    """The colour really painted in the middle of a swatch, as #rrggbb."""
    box = page.locator(f"[data-colour='{name}']").bounding_box()
    assert box is not None
    # The middle of the card is covered by the swatches; a corner of it is bare.
    x, y = (
        (box["x"] + 6, box["y"] + 6) if name == "card" else (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    )
    if name in ("first", "second"):
        # An arm of the cross, clear of the crossings.
        x, y = (x, box["y"] + box["height"] * 0.12) if name == "first" else (box["x"] + 30, y)
    png = page.screenshot(clip={"x": x, "y": y, "width": 1, "height": 1})
    return _first_pixel(png)


def _first_pixel(png: bytes) -> str:
    """First pixel of an 8-bit PNG without an interlace."""
    data, at = b"", 8
    while at < len(png):
        length = int.from_bytes(png[at : at + 4])
        if png[at + 4 : at + 8] == b"IDAT":
            data += png[at + 8 : at + 8 + length]
        at += length + 12
    r, g, b = zlib.decompress(data)[1:4]
    return f"#{r:02x}{g:02x}{b:02x}"


def predicted(address: str) -> dict[str, str]:
    """What the service's core says the swatches look like."""
    with urllib.request.urlopen(f"{address}api/overlaps/1") as answer:
        crossing = json.load(answer)["crossing"]
    by_order = {(p["below"], p["above"]): p["result"]["colour"]["hex"] for p in crossing["pairs"]}
    return {
        "card": crossing["bare"]["result"]["colour"]["hex"],
        "first": crossing["alone"][0]["result"]["colour"]["hex"],
        "second": crossing["alone"][1]["result"]["colour"]["hex"],
        "second-over-first": by_order[0, 1],
        "first-over-second": by_order[1, 0],
    }


def painted(page: Page) -> dict[str, str]:
    return {name: pixel(page, name) for name in ("card", "first", "second", "second-over-first", "first-over-second")}


def choose(page: Page, name: str) -> None:
    button = page.get_by_role("button", name=re.compile(f"^{name}"))
    button.last.click()
    expect(button.and_(page.locator("[aria-pressed=true]")).first).to_be_visible()


def slips(page: Page) -> list[str]:
    return page.get_by_label("Verdict", exact=True).get_by_role("article").all_inner_texts()


def test_two_inks_on_a_card_from_start_to_reload(page: Page, address: str) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    assert painted(page) == predicted(address)
    first = slips(page)
    assert len(first) == 2
    assert "Muddy" in first[0]
    assert re.search(r"\d+\s*mud of 100", first[0])
    assert "soaks up" in first[0]

    # Another pair: the first ink is the one being picked, then the second.
    choose(page, "Brass Gauge")
    page.get_by_role("button", name=re.compile("^Laid second")).click()
    choose(page, "Water Tower")
    expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Water Tower over Brass Gauge")
    on_white = painted(page)
    assert on_white == predicted(address)
    assert "Muddy" not in slips(page)[0]

    # From white to mint: every colour changes with the card.
    page.get_by_role("button", name="Mint Waiting Room").click()
    expect(page.get_by_role("group", name="Mint Waiting Room with crossing swatches")).to_be_visible()
    on_mint = painted(page)
    assert on_mint == predicted(address)
    assert all(on_mint[name] != on_white[name] for name in on_mint)

    before = slips(page)
    page.reload()
    expect(page.get_by_role("group", name="Mint Waiting Room with crossing swatches")).to_be_visible()
    assert slips(page) == before
    assert painted(page) == on_mint


def test_wet_or_dry_tools_and_light_change_what_is_seen(page: Page, address: str) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    seen = [painted(page)]

    def now(change: Callable[[], Any]) -> None:
        with page.expect_response(lambda r: r.request.method == "PUT"):
            change()
        page.wait_for_timeout(100)
        assert painted(page) == predicted(address)
        assert painted(page) != seen[-1]
        seen.append(painted(page))

    now(lambda: page.get_by_role("button", name="on dry").click())
    now(lambda: page.get_by_label("Passes of Firebox Orange").press("ArrowUp"))
    page.locator(".light").click()
    now(lambda: page.get_by_role("option", name="Warm room lamp").click())
    now(lambda: page.keyboard.press("x"))
    expect(page.get_by_role("button", name=re.compile("^Laid first"))).to_contain_text("Firebox Orange")


def test_everything_by_keyboard_and_undone_again(page: Page, address: str) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    start = painted(page)
    page.get_by_label("Find an ink").fill("ballast coral")
    page.keyboard.press("Tab")
    focused = page.locator(":focus")
    while focused.get_attribute("class") != "pad":
        page.keyboard.press("Tab")
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Laid first"))).to_contain_text("Coral Bunting")
    outline = focused.evaluate("e => getComputedStyle(e).outlineStyle")
    assert outline == "solid"
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Laid first"))).to_contain_text("Boiler Blue")
    assert painted(page) == start
    page.keyboard.press("Control+Shift+Z")
    expect(page.get_by_role("button", name=re.compile("^Laid first"))).to_contain_text("Coral Bunting")


def test_the_surround_is_exactly_grey_and_the_card_the_brightest_thing(page: Page) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    script = """() => {
      const out = [];
      for (const e of document.querySelectorAll('body, body *')) {
        if (e.closest('svg') || e.matches('.felt, .sheet, .chip')) continue;
        const s = getComputedStyle(e);
        out.push(s.backgroundColor, s.color, s.borderTopColor);
      }
      return [...new Set(out)];
    }"""
    for surround in ("light", "dark"):
        for colour in page.evaluate(script):
            r, g, b, *alpha = (float(v) for v in re.findall(r"[\d.]+", colour.replace("rgba", "").replace("rgb", "")))
            if not alpha or alpha[0] > 0:
                assert r == g == b, (surround, colour)
                assert r < 248, (surround, colour)
        page.get_by_role("button", name="Dark grey table" if surround == "light" else "Light grey table").click()


def test_a_crossing_says_what_it_is_to_a_screen_reader(page: Page) -> None:
    crossing = page.get_by_role("img", name=re.compile("Firebox Orange over Boiler Blue on Snow: .*Muddy, mud"))
    expect(crossing).to_be_visible()
    crossing.focus()
    expect(page.get_by_role("article", name="Firebox Orange over Boiler Blue")).to_have_class(re.compile("pointed"))


def test_an_empty_stash_leads_to_the_first_useful_action(browser: Browser, tmp_path: Path) -> None:
    with demo_server(tmp_path / "mine.wempa", "serve") as address:
        page = browser.new_page(viewport={"width": 1024, "height": 768})
        page.goto(address)
        page.get_by_role("button", name="Begin with the sample stash").click()
        expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
        page.close()


def test_a_shelf_of_ones_own_leads_to_the_table(browser: Browser, tmp_path: Path) -> None:
    with demo_server(tmp_path / "mine.wempa", "serve") as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        expect(page.get_by_text("your shelf is empty")).to_be_visible()
        page.get_by_role("link", name="Put your own inks on the shelf").click()
        page.get_by_role("button", name="Add your first ink").click()
        for name, colour in (("First", "#cc3344"), ("Second", "#3355aa")):
            page.get_by_label("Name").fill(name)
            page.get_by_label("Colour as hex or Lab").fill(colour)
            page.keyboard.press("Tab")
            page.get_by_role("button", name="Put it on the shelf").click()
            expect(page.get_by_role("region", name=f"{name}, opened")).to_be_visible()
            page.get_by_role("link", name="Overlap").click()
            if name == "First":
                expect(page.get_by_text("there are not yet two on the shelf")).to_be_visible()
                page.get_by_role("link", name="Stash").click()
                page.get_by_role("button", name="Add an ink").click()
        # Nothing is known of their formula, and no card is in the stash: white card, and wide margins.
        expect(page.get_by_role("group", name="white card with crossing swatches")).to_be_visible()
        expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Second over First")
        page.close()


def test_a_stored_stack_of_another_kind_is_kept_until_two_are_laid(page: Page, address: str) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    overlap = {"name": "Three", "card_id": 1, "stack": [{"ink_id": i, "dose": 1} for i in (1, 2, 3)]}
    answer = page.request.put(f"{address}api/overlaps/1", data=overlap)
    assert answer.ok
    page.reload()
    page.get_by_role("button", name="Lay two inks").click()
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Lay two inks")).to_be_visible()


def test_a_change_made_elsewhere_is_said_and_shown(page: Page, address: str) -> None:
    expect(page.get_by_role("group", name="Snow with crossing swatches")).to_be_visible()
    stored = page.request.get(f"{address}api/overlaps/1").json()["overlap"]
    theirs = {key: stored[key] for key in ("name", "settings", "stack")} | {"card_id": 3}
    assert page.request.put(f"{address}api/overlaps/1", data=theirs).ok
    page.get_by_role("button", name="Ivory").click()
    expect(page.get_by_role("alert")).to_contain_text("changed elsewhere")
    expect(page.get_by_role("group", name="Mint Waiting Room with crossing swatches")).to_be_visible()
