"""A real server with the demo as it is at first for each test, and a real Chromium."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.request import Request, urlopen

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Error, Page, ViewportSize, expect, sync_playwright
from playwright.sync_api import Request as Asked

from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server
from wempa.store import Workspace

# A busy machine may be slow; what never comes is told after this.
expect.set_options(timeout=60_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        yield browser
        browser.close()


@dataclass(frozen=True, slots=True)
class _Service:
    """The demo served, and how it was at first: starting the command for every test would take most of the time."""

    address: str
    data: Path
    copies: Path
    first: str
    marks: list[tuple[object, ...]]
    """What the file was marked with when it was last as at first."""

    def mark(self) -> tuple[object, ...]:
        """A mark of all that the file holds; it changes with every write."""
        with closing(sqlite3.connect(self.data, timeout=30)) as db:
            return Workspace.mark_of(db)

    def as_at_first(self) -> None:
        """Put back what the demo held when it began, if anything was written since; throw away copies made since."""
        if self.marks and self.marks[-1] == self.mark() and len(list(self.copies.iterdir())) == 1:
            return
        for made in self.copies.iterdir():
            if made.name != self.first:
                made.unlink()
        put_back = Request(f"{self.address}api/copies/{self.first}/restore", method="POST")
        with urlopen(put_back, timeout=60) as answer:
            listed = json.load(answer)["copies"]
        for made in listed:
            if made["name"] != self.first:
                (self.copies / made["name"]).unlink()
        self.marks.append(self.mark())


@pytest.fixture(scope="session")
def service(tmp_path_factory: pytest.TempPathFactory) -> Iterator[_Service]:
    data = tmp_path_factory.mktemp("served") / "demo.wempa"
    with demo_server(data) as address:
        with urlopen(Request(f"{address}api/copies", method="POST"), timeout=60) as answer:
            made = json.load(answer)
        yield _Service(address, data, Path(made["folder"]), made["copies"][0]["name"], [])


@pytest.fixture
def address(service: _Service) -> str:
    """The demo as it is at first, served."""
    service.as_at_first()
    return service.address


SIZE: ViewportSize = {"width": 1280, "height": 800}


class _Window:
    """The window that tests share: Chromium takes two seconds of a processor to begin a new one."""

    def __init__(self, browser: Browser) -> None:
        self._browser = browser
        self._page: Page | None = None

    def as_new(self, address: str) -> Page:
        """The window as a new one would be, with nothing kept of what was shown in it before."""
        page = self._page
        if page is None or page.is_closed():
            page = self._page = self._browser.new_page(viewport=SIZE, reduced_motion="reduce")
            page.set_default_timeout(90_000)
            return page
        page.context.clear_cookies()
        page.set_viewport_size(SIZE)
        page.emulate_media(reduced_motion="reduce", color_scheme="light", forced_colors="none", media="null")
        # A file that is no page has the same storage, and nothing that writes to it.
        page.goto(f"{address}sw.js")
        page.evaluate("sessionStorage.clear(); localStorage.clear()")
        talk = page.context.new_cdp_session(page)
        talk.send("Storage.clearDataForOrigin", {"origin": address.rstrip("/"), "storageTypes": "all"})
        talk.detach()
        return page

    def leave(self) -> None:
        """End what is shown, so that it asks for nothing while the next test begins."""
        assert self._page is not None
        self._page.unroute_all()
        self._page.goto("about:blank")

    def throw_away(self) -> None:
        """Close it; the next test begins a new one."""
        if self._page is not None:
            self._page.close()
        self._page = None


@pytest.fixture(scope="session")
def window(browser: Browser) -> Iterator[_Window]:
    shared = _Window(browser)
    yield shared
    shared.throw_away()


@pytest.fixture
def page(window: _Window, address: str, request: pytest.FixtureRequest) -> Iterator[Page]:
    """The first page at 1280x800; fails the test on any console error or foreign request.

    What a test marked `refused` asks for, the service refuses, and Chromium logs that. A test
    marked `own_window` changes what cannot be put back, such as the clock.
    """
    refused = request.node.get_closest_marker("refused") is not None
    own = request.node.get_closest_marker("own_window") is not None
    if own:
        window.throw_away()
    page = window.as_new(address)
    problems: list[str] = []

    def heard(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and not (
            refused and any(status in message.text for status in ("404 (", "409 (", "422 ("))
        ):
            problems.append(f"{message.text} {message.location['url']}")

    def failed(error: Error) -> None:
        problems.append(str(error))

    def asked(what: Asked) -> None:
        if not what.url.startswith((address, "data:", "blob:")):
            problems.append(what.url)

    listeners: tuple[tuple[Any, Any], ...] = (("console", heard), ("pageerror", failed), ("request", asked))
    for event, listener in listeners:
        page.on(event, listener)
    page.goto(address)
    yield page
    for event, listener in listeners:
        page.remove_listener(event, listener)
    if own:
        window.throw_away()
    else:
        window.leave()
    assert problems == []
