"""Panels timed: what the core takes for one, and what passes between a key and the picture on screen."""

from __future__ import annotations

import statistics
import tempfile
import time
from dataclasses import replace
from pathlib import Path

from tests.browser.painting import repaint_times
from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server
from tests.craft.panels.test_soft import HARD, random_panel
from wempa.api.garbage import look_less
from wempa.craft.job import Card, Colour, Job, LayDown
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.colours import places, strokes
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.picture import picture
from wempa.craft.panels.study import study
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Layout, Surface, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink

NAMES = (
    "Brass Gauge",
    "Firebox Orange",
    "Coral Bunting",
    "Platform Rose",
    "Heather Bank",
    "Boiler Blue",
    "Water Tower",
)
# Pixels to a millimetre of a front that fills the screen's middle.
_PER_MM = 4.0


def planned(layout: Layout) -> tuple[Job, Panel]:
    """Seven bands on watercolour card, so that specks are painted as well."""
    inks = {body["name"]: Ink.model_validate(body["body"]).to_core() for body in ink_bodies()}
    job = Job(Card(Colour(hex="#f7f4ec"), Surface.WATERCOLOUR), tuple((name, inks[name]) for name in NAMES))
    bands = tuple(Band(LayDown(((name, 1.0),), tool=Tool.BRUSH, passes=6.0)) for name in NAMES)
    front = Front(107.95, 139.7, layout, 80)
    return job, Panel(front, bands, (Seam(),) * (7 if front.closed else 6))


def in_the_core() -> list[tuple[str, float, float | None, str]]:
    """What, milliseconds, what is asked, and the rest: of study and picture together, worst of 20."""
    found: list[tuple[str, float, float | None, str]] = []
    # As every process that answers does.
    look_less()
    for layout in (Layout.STRAIGHT, Layout.FAN, Layout.RIBBONS):
        job, panel = planned(layout)
        taken = []
        for times in range(21):
            # A pass more each time, so that nothing has been worked out before.
            lays = [replace(band.lay, passes=6.0 + 0.01 * times) for band in panel.bands]
            now = replace(
                panel, bands=tuple(replace(band, lay=lay) for band, lay in zip(panel.bands, lays, strict=True))
            )
            start = time.perf_counter()
            seen = study(job, now)
            picture(job, now, seen.placed, seen.work.order, _PER_MM, seen=seen.line)
            taken.append(1000 * (time.perf_counter() - start))
        del taken[0]
        rest = f"median {statistics.median(taken):.0f} ms"
        if layout is Layout.STRAIGHT:
            rest += f"; its line one prediction at a time {_one_at_a_time(job, panel):.0f} ms"
        found.append((f"panel of 7 bands, {layout}, study and picture, worst", max(taken), 150.0, rest))
    return found


def soft_blends() -> list[tuple[str, float, str, float | None, str]]:
    """What, the figure, its unit, what is asked, and the rest: of random panels of neighbours."""
    found: list[tuple[str, float, str, float | None, str]] = []
    for count, panels in ((3, 60), (7, 40)):
        steep, hard, kept, narrow = list[float](), 0, 0, list[float]()
        for seed in range(panels):
            job, panel = random_panel(1000 + seed, count, (20, 90), list(Surface)[seed % len(Surface)])
            seen = study(job, panel)
            if any(seam.chosen is not None for seam in seen.seams):
                kept += 1
                continue
            steep.append(max(seam.hardest for seam in seen.seams))
            narrow.append(min((seam.both[1] - seam.both[0]) / seen.placed.length for seam in seen.seams))
            hard += steep[-1] > HARD
        tried = panels - kept
        rest = (
            f"of {tried} ({kept} with a short seam); steepest {max(steep):.1f}, median {statistics.median(steep):.1f}"
        )
        reach = 0.0 if count == 3 else 10.0
        found.append((f"panels of {count} neighbours with a hard line", 100 * hard / tried, "%", reach, rest))
        if count == 3:
            rest = f"median {100 * statistics.median(narrow):.0f} %"
            found.append(("narrowest in-between of a panel of 3, of its length", 100 * min(narrow), "%", None, rest))
    return found


def _one_at_a_time(job: Job, panel: Panel) -> float:
    """The rival: every distinct place of the line as a prediction of its own, in ms."""
    seen = study(job, panel)
    laid = strokes(job, panel, seen.placed, seen.work.order, places(panel, seen.placed))
    stacks = set()
    for k in range(len(laid[0].share)):
        there = [(one.lay, round(float(one.share[k]) * 64) / 64) for one in laid]
        stacks.add(tuple([replace(lay, passes=lay.passes * share) for lay, share in there if share]))
    start = time.perf_counter()
    for stack in stacks:
        predict(replace(job, stack=stack))
    return 1000 * (time.perf_counter() - start)


def on_screen() -> dict[str, list[float]]:
    """Milliseconds from a key to a panel of seven bands painted in headless Chromium, sorted; by layout."""
    from playwright.sync_api import sync_playwright

    with (
        tempfile.TemporaryDirectory() as folder,
        demo_server(Path(folder) / "bench.wempa") as address,
        sync_playwright() as play,
    ):
        browser = play.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}#panel")
        page.locator("canvas[data-painted]").wait_for()
        found = {}
        for layout in ("Bands that blend", "Ribbons"):
            if layout == "Ribbons":
                page.keyboard.press("Escape")
                page.get_by_role("radio", name=layout).click()
                page.wait_for_timeout(2000)
            page.get_by_role("button", name="Band 3: Coral").click()
            page.wait_for_timeout(1000)
            # A pass more each time, so that nothing has been worked out before.
            found[layout] = repaint_times(page, 60, "canvas[data-painted]", "data-painted", back="+")
        browser.close()
    return found
