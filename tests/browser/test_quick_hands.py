"""Changes that follow one another before the first is answered: all of them are kept, in their order."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from playwright.sync_api import Page, Route, expect

pytestmark = pytest.mark.browser


@contextmanager
def held_back(page: Page, address: str, path: str, method: str) -> Iterator[list[Route]]:
    """Requests of one kind are held back, and go on together in the end; those that come later go on at once."""
    held: list[Route] = []
    letting = False

    def meet(route: Route) -> None:
        if letting or route.request.method != method:
            route.continue_()
        else:
            held.append(route)

    page.route(f"{address}{path}", meet)
    yield held
    letting = True
    for route in held:
        route.continue_()


def until_held(page: Page, held: list[Route]) -> None:
    for _ in range(600):
        if held:
            return
        page.wait_for_timeout(100)
    raise AssertionError("nothing was asked of the service")


def test_two_changes_of_one_card_before_the_first_is_answered(page: Page, address: str) -> None:
    page.goto(f"{address}#stash")
    page.get_by_role("tab", name="Cards").click()
    page.get_by_role("button", name="Ivory smooth").click()
    card = page.get_by_role("region", name="Ivory, opened")
    with held_back(page, address, "api/stash/changes", "POST") as held:
        card.get_by_label("Weight", exact=True).fill("80")
        page.keyboard.press("Tab")
        until_held(page, held)
        card.get_by_label("Unit of the weight").press("Enter")
        page.get_by_role("option", name="lb cover").click()
        # Typed, but not stored yet: the answers that come meanwhile leave it alone.
        card.get_by_label("Name").fill("Ivory, heavy")
    expect(card.get_by_text("216 g/m²")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(card.get_by_label("Name")).to_have_value("Ivory, heavy")
    page.keyboard.press("Tab")
    expect(page.get_by_role("region", name="Ivory, heavy, opened")).to_be_visible()
    stored = page.request.get(f"{address}api/stash").json()["cards"][1]["item"]
    assert stored["name"] == "Ivory, heavy"
    assert stored["weight"] == {"value": 80, "unit": "lb", "basis": "cover"}


def test_a_verdict_pressed_while_the_notes_are_on_their_way(page: Page, address: str) -> None:
    page.goto(f"{address}#/log/1")
    slip = page.get_by_role("complementary").filter(has=page.get_by_label("Name of the swatch"))
    name = slip.get_by_label("Name of the swatch").input_value()
    with held_back(page, address, "api/log/*", "PUT") as held:
        slip.get_by_label("Notes").fill("Laid by lamp light")
        # The press ends the notes: both are asked for at once.
        slip.get_by_role("button", name="lovely").click()
        until_held(page, held)
        page.locator(".tag").nth(3).click()
        expect(slip.get_by_label("Name of the swatch")).not_to_have_value(name)
    expect(page.locator(".tag").filter(has_text="lovely").filter(has_text=name)).to_have_count(1)
    page.goto(f"{address}#/log/1")
    page.reload()
    expect(slip.get_by_label("Name of the swatch")).to_have_value(name)
    expect(slip.get_by_role("button", name="lovely")).to_have_attribute("aria-pressed", "true")
    expect(slip.get_by_label("Notes")).to_have_value("Laid by lamp light")
    expect(page.get_by_role("alert")).to_have_count(0)


def test_an_answer_that_comes_late_does_not_take_the_place_of_a_newer_one(page: Page, address: str) -> None:
    page.goto(f"{address}#log")
    expect(page.locator(".tag")).to_have_count(31)
    held: list[Route] = []
    page.route(
        re.compile(r"/api/log\?.*find="),
        lambda route: held.append(route) if "find=heather" in route.request.url else route.continue_(),
    )
    page.get_by_label("Find by words").fill("heather boiler")
    until_held(page, held)
    # The newer answer is there before the older one is let through.
    with page.expect_response(re.compile(r"/api/log\?.*find=(&|$)")):
        page.get_by_role("button", name="Show all").click()
    expect(page.get_by_label("Find by words")).to_have_value("")
    with page.expect_response(re.compile(r"/api/log\?.*find=heather")):
        held[0].continue_()
    page.wait_for_timeout(300)
    expect(page.locator(".tag")).to_have_count(31)
