"""Reading colours that were really painted, and how long painting took."""

from __future__ import annotations

import zlib
from typing import cast

from playwright.sync_api import Page

REPAINT = """async ({key, back, times, what, attribute}) => {
  const seen = () => document.querySelector(what).getAttribute(attribute);
  const frame = () => new Promise(done => requestAnimationFrame(() => setTimeout(done, 0)));
  const taken = [];
  for (let n = 0; n < times; n++) {
    const before = seen();
    const start = performance.now();
    window.dispatchEvent(new KeyboardEvent('keydown', {key: n % 2 ? back : key, bubbles: true}));
    while (seen() === before) {
      if (performance.now() - start > 5000) throw new Error('nothing changed');
      await frame();
    }
    await frame();
    taken.push(performance.now() - start);
    await new Promise(done => setTimeout(done, 350));
  }
  return taken;
}"""


def repaint_times(
    page: Page, times: int, what: str = "[data-colour=full]", attribute: str = "fill", back: str = "-"
) -> list[float]:
    """Milliseconds from a key (a pass more, then `back`) to the new colours painted, sorted.

    `attribute` of the element `what` changes when they are.
    """
    given = {"key": "+", "back": back, "times": times, "what": what, "attribute": attribute}
    return sorted(cast("list[float]", page.evaluate(REPAINT, given)))


def painted(page: Page, name: str, right: float = 0.5, down: float = 0.5) -> str:
    """The colour painted in the first swatch of a name, as #rrggbb; where in it, as shares of its box."""
    box = page.locator(f"[data-colour='{name}']").first.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] * right, box["y"] + box["height"] * down
    return first_pixel(page.screenshot(clip={"x": x, "y": y, "width": 1, "height": 1}))


def first_pixel(png: bytes) -> str:
    """First pixel of an 8-bit PNG without an interlace, as #rrggbb."""
    data, at = b"", 8
    while at < len(png):
        length = int.from_bytes(png[at : at + 4])
        if png[at + 4 : at + 8] == b"IDAT":
            data += png[at + 8 : at + 8 + length]
        at += length + 12
    r, g, b = zlib.decompress(data)[1:4]
    return f"#{r:02x}{g:02x}{b:02x}"
