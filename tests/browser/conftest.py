"""A real server and a real Chromium for each test."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server

# A busy machine may be slow; what never comes is told after this.
expect.set_options(timeout=60_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        yield browser
        browser.close()


@pytest.fixture
def address(tmp_path: Path) -> Iterator[str]:
    with demo_server(tmp_path / "demo.wempa") as address:
        yield address


@pytest.fixture
def page(browser: Browser, address: str, request: pytest.FixtureRequest) -> Iterator[Page]:
    """The first page at 1280x800; fails the test on any console error or foreign request.

    What a test marked `refused` asks for, the service refuses, and Chromium logs that.
    """
    refused = request.node.get_closest_marker("refused") is not None
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.set_default_timeout(90_000)
    problems: list[str] = []

    def heard(message: ConsoleMessage) -> None:
        # A conflict is an answer that one test asks for; Chromium logs it all the same.
        expected = "409 (Conflict)" in message.text or (refused and "422 (" in message.text)
        if message.type in ("error", "warning") and not expected:
            problems.append(message.text)

    page.on("console", heard)
    page.on("pageerror", lambda error: problems.append(str(error)))
    page.on("request", lambda r: problems.append(r.url) if not r.url.startswith((address, "data:")) else None)
    page.goto(address)
    yield page
    page.close()
    assert problems == []
