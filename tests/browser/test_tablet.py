"""A tablet beside the mat: paired by the code from the laptop, used, let go."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.running import started


@pytest.fixture
def said(tmp_path: Path) -> Iterator[list[str]]:
    """What is printed until the invitation is whole; the second address of this machine stands for the network."""
    with started(tmp_path / "demo.wempa", "demo", "--lan", "--host", "127.0.0.2") as process:
        assert process.stdout is not None
        lines: list[str] = []
        while "plain HTTP" not in "".join(lines[-1:]):
            lines.append(process.stdout.readline())
            assert lines[-1], "it ended before it said how to pair"
        yield lines


def test_a_tablet_is_paired_works_and_is_let_go(browser: Browser, said: list[str]) -> None:
    text = "".join(said)
    own, network = re.findall(r"http://\S+/", text)
    assert network.startswith("http://127.0.0.2:")
    assert "█" in text
    tablet = browser.new_context(viewport={"width": 1024, "height": 768}).new_page()
    tablet.goto(network)
    expect(tablet.get_by_role("heading", name="Wempa")).to_be_visible()
    tablet.get_by_label("Code from the laptop").fill("000 000")
    tablet.get_by_label("What you call this device").fill("Kitchen tablet")
    tablet.keyboard.press("Enter")
    expect(tablet.get_by_role("alert")).to_contain_text("not the code")
    code = re.search(r"Pairing code: (\d+ \d+)", text)
    assert code is not None
    tablet.get_by_label("Code from the laptop").fill(code[1])
    expect(tablet.get_by_label("What you call this device")).to_have_value("Kitchen tablet")
    tablet.keyboard.press("Enter")
    expect(tablet.get_by_role("link", name="Table")).to_be_visible()
    tablet.get_by_role("link", name="Table").click()
    tablet.get_by_role("button", name="Use a tablet").click()
    expect(tablet.get_by_text("This device is paired as Kitchen tablet")).to_be_visible()
    tablet.get_by_role("button", name="Close").click()

    laptop = browser.new_page(viewport={"width": 1280, "height": 800})
    laptop.goto(own)
    laptop.get_by_role("link", name="Table").click()
    laptop.get_by_role("button", name="Use a tablet").click()
    expect(laptop.get_by_text(network)).to_be_visible()
    expect(laptop.get_by_text("There is no code at the moment")).to_be_visible()
    laptop.get_by_role("button", name="Make a code").click()
    expect(laptop.get_by_text("good once, for 10 minutes more")).to_be_visible()
    laptop.get_by_role("button", name="Let Kitchen tablet go").click()
    laptop.get_by_role("button", name="Yes, let it go").click()
    expect(laptop.get_by_text("None yet.")).to_be_visible()

    # What lies open on the tablet stays, and says what to do.
    tablet.get_by_role("link", name="Chart").click()
    expect(tablet.get_by_role("alert")).to_contain_text("does not know this device")
    tablet.get_by_role("link", name="Pair it again").click()
    expect(tablet.get_by_label("Code from the laptop")).to_be_visible()


@pytest.mark.refused
def test_undo_asks_before_it_takes_back_what_was_done_in_another_tab(page: Page, address: str) -> None:
    expect(page.get_by_role("link", name="Stash")).to_be_visible()
    other = page.context.browser.new_page()  # type: ignore[union-attr]
    other.goto(address)
    expect(other.get_by_role("link", name="Stash")).to_be_visible()
    change = {"kind": "tool", "item": {"name": "Other tab brush", "tool": "brush"}}
    made = other.evaluate(
        """async (body) => (await fetch('/api/stash/changes', {method: 'POST', body: JSON.stringify(body),
        headers: {'content-type': 'application/json', 'x-wempa-tab': sessionStorage.getItem('wempa-tab')}})).status""",
        {"what": "Add Other tab brush", "changes": [change]},
    )
    assert made == 200
    page.reload()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_role("button", name="Undo").click()
    asked = page.get_by_role("alert")
    expect(asked).to_contain_text("“Add Other tab brush” was done in another tab")
    asked.get_by_role("button", name="Leave it").click()
    expect(asked).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Take it back all the same").click()
    expect(asked).to_have_count(0)
    page.goto(f"{address}#/stash")
    expect(page.get_by_text("Other tab brush")).to_have_count(0)
    other.close()
