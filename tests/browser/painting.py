"""Reading colours that were really painted, and how long painting took."""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import cast

from PIL import Image
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
    return all_painted(page, {name: (right, down)})[name]


def all_painted(page: Page, places: Mapping[str, tuple[float, float]]) -> dict[str, str]:
    """The same of several swatches by name, off one picture: each picture takes half a second of a processor."""
    picture = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
    colours = {}
    for name, (right, down) in places.items():
        box = page.locator(f"[data-colour='{name}']").first.bounding_box()
        assert box is not None
        at = (int(box["x"] + box["width"] * right), int(box["y"] + box["height"] * down))
        colours[name] = "#{:02x}{:02x}{:02x}".format(*cast("tuple[int, int, int]", picture.getpixel(at)))
    return colours
