"""A real server with the demo as it is at first for each test, and a real Chromium."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from urllib.request import Request, urlopen

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Page, expect, sync_playwright

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


@pytest.fixture
def page(browser: Browser, address: str, request: pytest.FixtureRequest) -> Iterator[Page]:
    """The first page at 1280x800; fails the test on any console error or foreign request.

    What a test marked `refused` asks for, the service refuses, and Chromium logs that.
    """
    refused = request.node.get_closest_marker("refused") is not None
    page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page.set_default_timeout(90_000)
    problems: list[str] = []

    def heard(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and not (
            refused and any(status in message.text for status in ("404 (", "409 (", "422 ("))
        ):
            problems.append(message.text)

    page.on("console", heard)
    page.on("pageerror", lambda error: problems.append(str(error)))
    page.on("request", lambda r: problems.append(r.url) if not r.url.startswith((address, "data:")) else None)
    page.goto(address)
    yield page
    page.close()
    assert problems == []
