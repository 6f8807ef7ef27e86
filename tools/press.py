"""Press, type and draw at random all over the page of a fresh demo, and tell what goes wrong (`make press`).

A fault of the page, a warning in its console or an answer that refuses (a conflict excepted) is told with what
was done just before. Not all that is told is a fault: what somebody typed may well be refused.

    python -m tools.press --seed 3 --seconds 120
"""

from __future__ import annotations

import argparse
import random
import re
import tempfile
import time
from collections import deque
from pathlib import Path

from playwright.sync_api import ConsoleMessage, Error, Page, Response, sync_playwright

from tools.soaking.service import running

SIZES = ((1280, 800), (1024, 768), (390, 844))
PRESSED = (
    "button:visible:enabled, a[href^='#']:visible, [role=option]:visible, [role=tab]:visible, [role=menuitem]:visible, "
    "summary:visible, .el-select:visible, input[type=checkbox]:visible"
)
TYPED_IN = "input[type=text]:visible, input:not([type]):visible, textarea:visible, input[type=number]:visible"
TEXTS = ("", "0", "3", "-1", "1e9", "abc", "#a05", "#8a6fb0", "½", "2 1/4", "a" * 300, "Ø ☂", "0.5", "100", "<b>")
KEYS = (
    *("Escape", "Tab", "Enter", "Space", "ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Delete"),
    *("Control+z", "Control+Shift+z", *"abcdefghijklmnopqrstuvwxyz?123"),
)
_CONFLICT = 409
# It would end what is being looked at.
_LEFT_ALONE = re.compile("stop the|start over", re.IGNORECASE)


class Hand:
    """Somebody who does anything at all."""

    def __init__(self, page: Page, size: tuple[int, int], chance: random.Random) -> None:
        self._page, self._size, self._chance = page, size, chance
        self.done: deque[str] = deque(maxlen=6)
        self.count = self.faults = 0
        page.on("pageerror", lambda error: self._tell(f"fault of the page: {error}"))
        page.on("console", self._heard)
        page.on("response", self._answered)
        page.on("dialog", lambda dialog: dialog.dismiss())

    def _tell(self, text: str) -> None:
        self.faults += 1
        print(f"{text[:400]}\n    after {'; '.join(self.done)}", flush=True)

    def _heard(self, message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            self._tell(f"in the console: {message.text}")

    def _answered(self, answer: Response) -> None:
        if answer.status >= 400 and answer.status != _CONFLICT:
            asked = answer.request
            self._tell(f"{answer.status} {asked.method} {asked.url} {(asked.post_data or '')[:200]}")

    def act(self) -> None:
        """One deed."""
        self.count += 1
        what = self._chance.random()
        try:
            if what < 0.72:
                self._press()
            elif what < 0.82:
                self._type()
            elif what < 0.95:
                key = self._chance.choice(KEYS)
                self.done.append(f"key {key}")
                self._page.keyboard.press(key)
            else:
                self._drag()
            if self._chance.random() < 0.5:
                self._page.wait_for_timeout(self._chance.choice((10, 50, 200)))
        except Error as error:
            # What is covered, moves or goes away is no fault; a page that is gone is.
            if "closed" in str(error) or "crash" in str(error).lower():
                raise

    def _press(self) -> None:
        found = self._page.locator(PRESSED)
        count = found.count()
        if not count:
            self._page.keyboard.press("Escape")
            return
        one = found.nth(self._chance.randrange(count))
        name = (one.get_attribute("aria-label") or one.inner_text(timeout=500)).strip().replace("\n", " ")[:40]
        if not _LEFT_ALONE.search(name):
            self.done.append(f"press {name}")
            one.click(timeout=700, force=self._chance.random() < 0.2)

    def _type(self) -> None:
        found = self._page.locator(TYPED_IN)
        count = found.count()
        if not count:
            return
        one, text = found.nth(self._chance.randrange(count)), self._chance.choice(TEXTS)
        self.done.append(f"type {text[:12]!r} in {one.get_attribute('aria-label')}")
        one.fill(text, timeout=700)
        if self._chance.random() < 0.6:
            one.press(self._chance.choice(("Enter", "Tab")), timeout=700)

    def _drag(self) -> None:
        x, y = (self._chance.randrange(side) for side in self._size)
        self.done.append(f"drag from {x}, {y}")
        self._page.mouse.move(x, y)
        self._page.mouse.down()
        self._page.mouse.move(x + self._chance.randrange(-150, 150), y + self._chance.randrange(-150, 150), steps=3)
        self._page.mouse.up()


def main() -> int:
    """Press for so long; 1 where anything was told."""
    parser = argparse.ArgumentParser(description=(__doc__ or "").split("\n\n")[0])
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=60)
    asked = parser.parse_args()
    chance = random.Random(asked.seed)
    size = chance.choice(SIZES)
    with (
        tempfile.TemporaryDirectory() as place,
        running(Path(place) / "demo.wempa") as service,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": size[0], "height": size[1]})
        hand = Hand(page, size, chance)
        page.goto(f"http://127.0.0.1:{service.port}/")
        end = time.monotonic() + asked.seconds
        while time.monotonic() < end:
            hand.act()
        browser.close()
    print(f"{hand.count} deeds at {size[0]} x {size[1]}, {hand.faults} told")
    return 1 if hand.faults else 0


if __name__ == "__main__":
    raise SystemExit(main())
