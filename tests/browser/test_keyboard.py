"""One piece of work from the two inks to the mat by keyboard alone: nothing is pressed, dragged or pointed at."""

from __future__ import annotations

import re
from datetime import datetime

import pytest
from playwright.sync_api import Page, expect

from .test_overlap import slip
from .test_panel import after, band, stored

pytestmark = pytest.mark.browser
EVENING = datetime(2026, 11, 20, 18, 0)
# What has the focus: its name, and whether anything shows that it has it.
FOCUSED = """() => {
  const e = document.activeElement;
  if (!e || e === document.body) return ['', true];
  const own = getComputedStyle(e), box = e.closest('.el-input__wrapper, .el-select__wrapper, label, .el-radio-button');
  const ring = s => s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0 || s.boxShadow !== 'none';
  const named = (e.getAttribute('aria-labelledby') || '').split(' ').map(id => document.getElementById(id)?.textContent || '').join(' ');
  return [(e.ariaLabel || named.trim() || e.labels?.[0]?.textContent || e.textContent || e.title || '').trim().replace(/\\s+/g, ' '), ring(own) || (!!box && ring(getComputedStyle(box)))];
}"""  # noqa: E501


def tab_to(page: Page, name: str, key: str = "Tab", most: int = 150) -> None:
    """Go from stop to stop until the one of that name has the focus; on the way every focus is seen."""
    passed: list[str] = []
    for _ in range(most):
        page.keyboard.press(key)
        said, shows = page.evaluate(FOCUSED)
        assert shows, f"nobody sees that {said!r} has the focus"
        if re.search(name, said):
            return
        passed.append(said[:24])
    raise AssertionError(f"no key leads to {name}, only to {passed}")


@pytest.mark.own_window
def test_overlap_panel_and_table_by_keyboard_alone(page: Page, address: str) -> None:
    page.clock.install(time=EVENING)
    page.goto(address)
    verdict = slip(page)
    expect(verdict).to_contain_text(re.compile("muddy", re.I))
    # Overlap: a fix is applied, taken back and applied again.
    expect(page.get_by_role("button", name=re.compile("^Apply")).first).to_be_visible()
    tab_to(page, "^Apply")
    page.keyboard.press("Enter")
    expect(slip(page)).not_to_contain_text("Firebox Orange over Boiler Blue")
    page.keyboard.press("Control+z")
    expect(slip(page)).to_contain_text(re.compile("muddy", re.I))
    page.keyboard.press("Control+Shift+Z")
    expect(slip(page)).not_to_contain_text("Firebox Orange over Boiler Blue")

    # Panel: another ink in a band, a pass more, another layout, another unit of the boards.
    page.keyboard.press("4")
    page.locator("canvas[data-painted]").wait_for()
    tab_to(page, "^Band 2:")
    page.keyboard.press("Enter")
    passes = stored(address)["bands"][1]["passes"]
    after(page, lambda: page.keyboard.press("+"))
    assert stored(address)["bands"][1]["passes"] != passes
    first = stored(address)["bands"][1]["ink_id"]
    after(page, lambda: page.keyboard.press("Alt+ArrowRight"))
    assert stored(address)["bands"][2]["ink_id"] == first
    expect(band(page, 3)).to_be_visible()
    # Gone over, a seam leaves picked what was; Enter picks it, and Escape brings back what is of the whole front.
    tab_to(page, "^Seam of Boiler Blue")
    expect(band(page, 3)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name=re.compile("^Seam of Boiler Blue"))).to_be_visible()
    page.keyboard.press("Escape")
    tab_to(page, "^Bands that blend", most=10)
    page.keyboard.press("Tab")
    after(page, lambda: page.keyboard.press("Enter"))
    assert stored(address)["layout"] != "straight"
    page.keyboard.press("Control+z")
    expect(page.get_by_role("radio", name="Bands that blend")).to_be_checked()
    assert stored(address)["layout"] == "straight"

    # Table: it comes along by one key, is planned, and gone through at the mat.
    page.keyboard.press("g")
    expect(page.get_by_role("heading", name="Bring to the table")).to_be_visible()
    tab_to(page, "^Plan ")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Begin at the mat")).to_be_visible()
    tab_to(page, "^Begin at the mat")
    page.keyboard.press("Enter")
    big = page.locator(".run .big")
    expect(big).to_be_visible()
    for key in ("Enter", " ", "ArrowRight"):
        page.clock.run_for(4000)
        now = big.inner_text()
        page.keyboard.press(key)
        expect(big).not_to_have_text(now)
    page.clock.run_for(4000)
    now = big.inner_text()
    page.keyboard.press("ArrowLeft")
    expect(big).not_to_have_text(now)
    tab_to(page, "^Leave the mat", most=20)
    page.keyboard.press("Enter")
    expect(page.get_by_text("A run is under way")).to_be_visible()
