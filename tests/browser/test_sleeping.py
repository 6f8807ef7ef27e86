"""The laptop falls asleep while somebody works at the mat: the work goes on, and is told when it is back."""

from __future__ import annotations

import re
import socket
import subprocess
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.running import started
from tests.browser.test_table import big, go, plan

pytestmark = pytest.mark.browser


class Laptop:
    """A service that can be put to sleep and woken at the same address."""

    def __init__(self, data: Path) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = int(free.getsockname()[1])
        self.data, self.address = data, f"http://127.0.0.1:{self.port}/"
        self._held = ExitStack()

    def wake(self) -> None:
        process: subprocess.Popen[str] = self._held.enter_context(started(self.data, "demo", "--port", str(self.port)))
        assert process.stdout is not None
        assert self.address in process.stdout.readline()

    def sleep(self) -> None:
        self._held.close()


@pytest.fixture
def laptop(tmp_path: Path) -> Iterator[Laptop]:
    made = Laptop(tmp_path / "demo.wempa")
    made.wake()
    yield made
    made.sleep()


@pytest.fixture
def mat(browser: Browser, laptop: Laptop) -> Iterator[Page]:
    """At the mat, a few steps done."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.set_default_timeout(60_000)
    go(page, laptop.address)
    plan(page, "Signal wheel")
    page.get_by_role("button", name="Begin at the mat").click()
    expect(page.locator(".run .big")).to_be_visible()
    yield page
    page.close()


def tick(page: Page) -> str:
    """The step ticked off, once hands are not waiting for anything; gives what it was."""
    expect(page.get_by_role("button", name="Done ▸")).to_be_enabled()
    text, count = big(page), page.locator(".run .far").get_attribute("aria-valuenow")
    page.wait_for_timeout(500)
    page.get_by_role("button", name="Done ▸").click()
    expect(page.locator(".run .far")).not_to_have_attribute("aria-valuenow", count or "")
    return text


def done_there(page: Page, laptop: Laptop) -> list[str]:
    told = page.request.get(f"{laptop.address}api/run?now=2000000000").json()
    return [each["text"] for each in told["done"]]


def test_the_work_goes_on_is_kept_over_a_reload_and_told_when_the_laptop_is_back(mat: Page, laptop: Laptop) -> None:
    first = [tick(mat)]
    # The page is kept last.
    mat.wait_for_function("async () => Boolean(await caches.match('/')) && navigator.serviceWorker.controller !== null")
    assert done_there(mat, laptop) == first
    laptop.sleep()
    asleep = [tick(mat), tick(mat)]
    says = mat.get_by_text("The laptop does not answer. Go on: 2 steps are kept here")
    expect(says).to_be_visible()
    expect(mat.get_by_text("do not reload this page")).to_be_hidden()
    # One press too many is taken back here as well.
    extra = tick(mat)
    mat.get_by_role("button", name="◂ Back").click()
    expect(mat.locator(".run .big")).to_have_text(extra)
    expect(says).to_be_visible()
    # The page itself is kept, and what was ticked off.
    mat.reload()
    expect(mat.locator(".run .big")).to_have_text(extra)
    expect(says).to_be_visible()
    asleep.append(tick(mat))
    laptop.wake()
    expect(mat.get_by_text("The laptop does not answer")).to_be_hidden(timeout=30_000)
    assert done_there(mat, laptop) == [*first, *asleep]
    asleep.append(tick(mat))
    assert done_there(mat, laptop) == [*first, *asleep]


def test_what_cannot_be_told_any_more_is_said(mat: Page, laptop: Laptop) -> None:
    tick(mat)
    run = mat.request.get(f"{laptop.address}api/run?now=2000000000").json()
    laptop.sleep()
    tick(mat)
    mat.clock.install()
    # Meanwhile somebody ends the evening at the laptop itself.
    laptop.wake()
    body = {"now": run["began"] + 60}
    origin = {"origin": laptop.address.rstrip("/")}
    mat.request.post(f"{laptop.address}api/runs/{run['id']}/end", data=body, headers=origin)
    mat.clock.run_for(5000)
    expect(mat.get_by_text(re.compile("one step that you ticked off meanwhile could not be told"))).to_be_visible()


def test_the_page_can_be_put_on_the_screen_of_a_tablet(page: Page, address: str) -> None:
    manifest = page.request.get(f"{address}wempa.webmanifest")
    assert manifest.headers["content-type"].startswith("application/manifest+json")
    told = manifest.json()
    assert (told["name"], told["start_url"]) == ("Wempa", "/")
    icon = page.request.get(address.rstrip("/") + told["icons"][0]["src"])
    assert icon.headers["content-type"].startswith("image/svg")
    worker = page.request.get(f"{address}sw.js")
    assert worker.headers["content-type"].startswith("text/javascript")
    assert "worker-src 'self'" in worker.headers["content-security-policy"]
