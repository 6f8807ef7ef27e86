"""``make bench``: Wempa's numbers, each beside its rival from the same run.

Prints a table; ``--json FILE`` writes the same as JSON as well.
"""

from __future__ import annotations

import argparse
import itertools
import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import numpy as np

from tests.browser.painting import repaint_times
from tests.browser.running import CHROMIUM_ARGS, CHROMIUM_PATH, demo_server
from tests.jobs import job
from tests.photos import LIGHTS, PHONES, earlier_errors, errors, naive_errors, readings, shoot, under
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction import prepare
from wempa.craft.prediction.predict import predict
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.vocabulary import Formula, Over, Tool
from wempa.formats.job import read_one
from wempa.optics import colorimetry as cm

from . import evenings, learning, overprints, panels
from .compare import compare
from .more_truths import tried_more
from .own_truths import tried_all
from .scripts import CHANGED, PAINTED, SCROLLED


@dataclass
class Figure:
    """One number: what, found, and what is to be reached (None: only reported)."""

    what: str
    found: float
    unit: str
    reach: float | None = None
    rival: str = ""

    def met(self) -> str:
        return "" if self.reach is None else "ok" if self.found <= self.reach else "MISSED"


def accuracy() -> list[Figure]:
    papers = [overprints.load(name) for name in overprints.PAPERS]
    figures, plain, tuned, multiply = [], [], [], []
    suits = {}
    for paper in papers:
        own = float(overprints.errors(paper, overprints.model).mean())
        card, best = overprints.fitted(paper)
        suits[paper.name] = card
        rivals = {name: float(overprints.errors(paper, rival).mean()) for name, rival in overprints.RIVALS.items()}
        text = ", ".join(f"{name} {value:.2f}" for name, value in rivals.items())
        figures.append(Figure(f"overprints, {paper.name}, by surface word", own, "ΔE00", None, text))
        fit = f"floor {card.floor:.4f}, take-up {card.takeup:.3f}"
        figures.append(Figure(f"overprints, {paper.name}, floor and take-up fitted", best, "ΔE00", None, fit))
        plain.append(own)
        tuned.append(best)
        multiply.append(rivals["sRGB multiply"])
    figures.append(Figure("overprints, mean of papers, by surface word", float(np.mean(plain)), "ΔE00", 2.6))
    ratio = float(np.mean(multiply) / np.mean(tuned))
    figures.append(
        Figure(
            "overprints, mean of papers, fitted",
            float(np.mean(tuned)),
            "ΔE00",
            2.3,
            f"{ratio:.1f}× better than sRGB multiply",
        )
    )
    left = overprints.left_out(suits)
    each = ", ".join(f"{name} {missed:.2f}" for name, missed in left.items())
    figures.append(
        Figure("overprints, each coated paper left out", float(np.mean([*left.values()])), "ΔE00", 3.0, each)
    )
    return figures


THREE: dict[str, Any] = job(
    stack=[
        {"ink": "a", "tool": "foam", "passes": 3},
        {"ink": "b", "tool": "brush", "passes": 5},
        {"ink": "c", "dose": 0.7, "over": "wet"},
    ]
)
THREE["inks"]["c"] = {"name": "Carriage Plum", "formula": "hybrid", "swatch": {"colour": {"hex": "#7a3a6e"}}}


def truths() -> list[Figure]:
    """What practitioners see with real tools, over three seeds of thirty samples each."""
    runs = [[*tried_all(seed, 30), *tried_more(seed, 30)] for seed in (1, 2, 3)]
    seeds = [{name: (share, held) for name, share, held in run} for run in runs]
    figures, missed, far = [], 0, 0
    for name in seeds[0]:
        share = seeds[0][name][0]
        held = [seed[name][1] for seed in seeds]
        mean = sum(held) / len(held)
        missed += mean < share
        far += mean < 0.8 * share
        if mean < share:
            figures.append(Figure(name, 100 * mean, "% of samples", None, f"{100 * share:.0f} % are asked for"))
    return [
        Figure(f"craft statements that do not hold, of {len(seeds[0])}", missed, "", 3),
        Figure("craft statements under four fifths of their share", far, "", 0),
        *figures,
    ]


def _clear() -> None:
    prepare.forget()


def _times(work: Callable[[], object], count: int) -> list[float]:
    taken = []
    for _ in range(count):
        start = time.perf_counter()
        work()
        taken.append((time.perf_counter() - start) * 1000)
    return sorted(taken)


def _variations(count: int, seed: int) -> list[Job]:
    """The three lay-downs with other passes and doses each time, as somebody tries them out."""
    base, rng, made = read_one(THREE), np.random.default_rng(seed), []
    for _ in range(count):
        foam, brush, dosed = (entry for entry in base.stack if isinstance(entry, LayDown))
        stack = (
            replace(foam, passes=float(rng.integers(1, 5))),
            replace(brush, passes=float(rng.integers(2, 7))),
            replace(dosed, dose=float(rng.choice([0.4, 0.7, 1.0]))),
        )
        made.append(replace(base, stack=stack))
    return made


def latency() -> list[Figure]:
    tried = _variations(60, 1)
    for each in tried:
        predict(each)
    turn = itertools.cycle(tried)
    warm = _times(lambda: predict(next(turn)), 600)
    rng = np.random.default_rng(2)
    unseen = iter(
        [
            replace(each, stack=(*each.stack[:2], replace(each.stack[2], dose=float(rng.uniform(0.3, 1.5)))))
            for each in _variations(300, 3)
            if isinstance(each.stack[2], LayDown)
        ]
    )
    new = _times(lambda: predict(next(unseen)), 300)

    def cold() -> None:
        _clear()
        predict(tried[0])

    first = _times(cold, 30)
    some = np.linspace(0.1, 1, 36)
    call = statistics.median(_times(lambda: [np.sqrt(some) for _ in range(1000)], 15))
    return [
        Figure("for comparison: one NumPy call on 36 numbers", call, "µs"),
        Figure("predict of 3 lay-downs, prepared, median", statistics.median(warm), "ms", 1.0),
        Figure("the same at a dose never seen before, median", statistics.median(new), "ms"),
        Figure("predict of 3 lay-downs, cold, median", statistics.median(first), "ms", 15.0),
    ]


def chart() -> list[Figure]:
    """Every ordered pair of 200 made-up inks, against one prediction at a time."""
    rng = np.random.default_rng(200)
    formulas = [f for f in Formula if f is not Formula.FLUORESCENT and f is not Formula.UNKNOWN]
    inks = [
        Ink(Swatch(Colour(hex="#" + bytes(rng.integers(20, 245, 3).tolist()).hex())), formulas[i % len(formulas)])
        for i in range(200)
    ]
    figures = []
    for name, card, over in (
        ("white card, dry", "#f8f7f4", Over.DRY),
        ("mint card, dry", "#a8dcc0", Over.DRY),
        ("white card, wet", "#f8f7f4", Over.WET),
    ):
        paper, way = Card(Colour(hex=card)), LayDown((), tool=Tool.FOAM, passes=4, over=over)

        def draw(paper: Card = paper, way: LayDown = way) -> None:
            ordered_pairs(inks, paper, way)

        draw()
        taken = statistics.median(_times(draw, 5)) / 1000
        pairs = [(int(i), int(j)) for i, j in rng.integers(0, 200, (150, 2))]

        def one_by_one(paper: Card = paper, way: LayDown = way, pairs: list[tuple[int, int]] = pairs) -> None:
            for i, j in pairs:
                stack = (replace(way, parts=(("a", 1.0),), over=Over.DRY), replace(way, parts=(("b", 1.0),)))
                predict(Job(paper, (("a", inks[i]), ("b", inks[j])), stack))

        one_by_one()
        alone = statistics.median(_times(one_by_one, 3)) / 1000 / len(pairs) * 40_000
        rival = f"one prediction at a time (margins too) {alone:.0f} s: {alone / taken:.0f} times as long"
        figures.append(Figure(f"chart of 200 by 200 inks, {name}", taken, "s", 0.25, rival))
    return figures


def service() -> list[Figure]:
    import http.client
    import urllib.parse

    body = json.dumps(THREE)
    with tempfile.TemporaryDirectory() as folder:
        start = time.perf_counter()
        with demo_server(Path(folder) / "bench.wempa") as address:
            place = urllib.parse.urlsplit(address)
            connection = http.client.HTTPConnection(place.hostname or "", place.port)
            connection.request("GET", "/", headers={"accept-encoding": "gzip"})
            page = connection.getresponse().read()
            started = time.perf_counter() - start

            def ask() -> None:
                connection.request("POST", "/api/predict", body, {"content-type": "application/json"})
                connection.getresponse().read()

            ask()
            taken = _times(ask, 300)
            wire = len(page) + _assets(connection, page)
            memory = _resident(place.port or 0)
    return [
        Figure("the same over HTTP on loopback, p95", taken[int(0.95 * len(taken))], "ms", 15.0),
        Figure("start to first page served", started, "s", 2.0),
        Figure("resident memory of the service", memory, "MB", 300.0),
        Figure("first page over the wire", wire / 1000, "kB", 500.0),
    ]


def _assets(connection: Any, page: bytes) -> int:
    """Bytes of everything that the first page loads, as it comes over the wire."""
    import gzip
    import re

    text = gzip.decompress(page).decode() if page[:2] == b"\x1f\x8b" else page.decode()
    wanted = set(re.findall(r'(?:src|href)="(/assets/[^"]+)"', text))
    total = 0
    for path in wanted:
        connection.request("GET", path, headers={"accept-encoding": "gzip"})
        total += len(connection.getresponse().read())
        if path.endswith(".css"):
            connection.request("GET", path)
            sheet = connection.getresponse().read().decode()
            # The two Latin faces are what an English page loads.
            for font in re.findall(r"url\((/assets/[^)]*latin-(?!ext)[^)]*\.woff2)\)", sheet):
                connection.request("GET", font)
                total += len(connection.getresponse().read())
    return total


def _resident(port: int) -> float:
    """Resident megabytes of the process that listens on a port of this machine."""
    for status in Path("/proc").glob("[0-9]*/status"):
        try:
            command = (status.parent / "cmdline").read_bytes()
            if b"wempa.cli" in command and b"bench.wempa" in command:
                line = next(line for line in status.read_text().splitlines() if line.startswith("VmRSS"))
                return int(line.split()[1]) / 1000
        except (OSError, StopIteration):
            continue
    raise RuntimeError(f"no service found for port {port}")


_PHOTO_GOALS = {"camera A, bent and painted up by 15 %": (2.0, 3.0), "camera B, linear": (2.5, 4.5)}
_KNOWN = range(0, 36, 3)


def learn_log() -> list[Figure]:
    """What the swatch log teaches, against the same model without it."""
    return [Figure(*each) for each in learning.figures()]


def table() -> list[Figure]:
    """Evenings at the table, against one piece after another."""
    return [Figure(*each) for each in evenings.figures()]


def photos() -> list[Figure]:
    """True colours, photographed by simulated phones and read again, against pixels as they are and the earlier way."""
    figures, inside, worst = [], [], 0.0
    for name, phone in PHONES.items():
        for light, lit in LIGHTS.items():
            scene = under(phone, lit)
            shot = shoot(scene)
            began = time.perf_counter()
            found = readings(shot, scene)
            worst = max(worst, time.perf_counter() - began)
            off = cm.delta_e(np.stack([one.lab for one in found]), shot.truth)
            inside.append(float(np.mean(off <= [np.hypot(one.spread, 0.3) for one in found])))
            learned, earlier, naive = errors(shot, scene, _KNOWN), earlier_errors(shot, scene), naive_errors(shot)
            goals = _PHOTO_GOALS.get(name)
            goal = None if goals is None else goals[light != "daylight"]
            text = (
                f"max {off.max():.1f}; the earlier way {earlier.mean():.2f}, max {earlier.max():.1f}; "
                f"pixels as they are {naive.mean():.1f}"
            )
            figures.append(Figure(f"off a photo, {name}, {light}", float(off.mean()), "ΔE00", goal, text))
            figures.append(Figure("twelve known inks", float(learned.mean()), "ΔE00", 1.5, f"max {learned.max():.1f}"))
    figures.append(Figure("truth within its spread, all phones and lights", float(np.mean(inside)), "share", None))
    figures.append(Figure("a sheet of 36 read, longest", worst, "s", 1.5))
    return figures


def stash() -> list[Figure]:
    """A stash of 250 inks as the service gives it."""
    from fastapi.testclient import TestClient

    from wempa.api.app import create_app
    from wempa.store import Workspace

    rows = "".join(f"Ink {n},Range {n % 9},dye,#{(n * 66037 + 4096) % 0xFFFFFF:06x}\n" for n in range(250))
    with (
        tempfile.TemporaryDirectory() as folder,
        TestClient(create_app(Workspace(Path(folder) / "w")), base_url="http://127.0.0.1") as client,
    ):
        start = time.perf_counter()
        client.post("/api/import/inks?apply=true", content="name,range,formula,hex\n" + rows).raise_for_status()
        taken_in = time.perf_counter() - start
        client.get("/api/stash")
        taken = statistics.median(_times(lambda: client.get("/api/stash"), 20))
    return [
        Figure("import of 250 inks, stored and journalled", taken_in, "s"),
        Figure("stash of 250 inks, whole answer, median", taken, "ms"),
    ]


def advice() -> list[Figure]:
    """What would help, against a stash of 250 inks, as the service gives it; and one prediction at a time."""
    from fastapi.testclient import TestClient

    from wempa.api.app import create_app
    from wempa.api.garbage import look_less
    from wempa.craft.overlap import fixes
    from wempa.store import Workspace

    kinds = ("dye", "reactive_dye", "hybrid", "pigment", "reactive_pigment")
    hexes = [f"#{(n * 66037 + 4096) % 0xFFFFFF:06x}" for n in range(246)]
    # No ink of the shelf is a brown or grey, or no mix close to it would count as mud.
    clear = [code for code in hexes if max(bytes.fromhex(code[1:])) - min(bytes.fromhex(code[1:])) > 110]
    rows = [f"Ink {n},Range {n % 9},{kinds[n % 5]},{clear[n % len(clear)]}" for n in range(247)]
    own = ["Blue,Own,dye,#2456a6", "Orange,Own,dye,#f2801e", "White,Own,pigment,#fbfbf9"]
    with (
        tempfile.TemporaryDirectory() as folder,
        TestClient(create_app(Workspace(Path(folder) / "w")), base_url="http://127.0.0.1") as client,
    ):
        # As every process that answers does.
        look_less()
        text = "name,range,formula,hex\n" + "\n".join([*own, *rows]) + "\n"
        client.post("/api/import/inks?apply=true", content=text).raise_for_status()
        brushed = [{"ink_id": n, "tool": "brush", "passes": 6} for n in (1, 2)]
        body = {"name": "Bench", "card_id": None, "stack": brushed}
        client.post("/api/overlaps", json=body).raise_for_status()
        found = {}
        for board in ("help", "nudge", "colour"):
            start = time.perf_counter()
            answer = client.get(f"/api/overlaps/1/advice?board={board}").json()
            first = (time.perf_counter() - start) * 1000
            again = _times(lambda board=board: client.get(f"/api/overlaps/1/advice?board={board}"), 15)  # type: ignore[misc]
            found[board] = (first, again, answer)
        job = read_one(client.get("/api/overlaps/1/export.json").json())
        offered = {
            str(ink["id"]): ink["item"]["ink"] | {"name": ink["name"]}
            for ink in client.get("/api/stash").json()["inks"]
        }
        whole = replace(
            job, stash=read_one({**client.get("/api/overlaps/1/export.json").json(), "stash": {"inks": offered}}).stash
        )
    tried = [candidate.job for candidate in fixes._stand_ins(whole)]
    start = time.perf_counter()
    for each in tried:
        predict(replace(each, stash=whole.stash.__class__()))
    alone = (time.perf_counter() - start) * 1000
    many = len(found["help"][2]["fixes"])
    return [
        Figure(
            "fixes against 250 inks, worst of 15",
            found["help"][1][-1],
            "ms",
            200.0,
            f"{many} fixes; its {len(tried)} stand-ins alone one prediction at a time {alone:.0f} ms",
        ),
        Figure("the same, the first time", found["help"][0], "ms"),
        Figure("nudges from 250 inks, worst of 15", found["nudge"][1][-1], "ms", 200.0),
        Figure("neighbours and other lights, 250 inks, worst of 15", found["colour"][1][-1], "ms", 200.0),
    ]


def repaint() -> list[Figure]:
    """From a key to the new colours on screen, in headless Chromium with the demo stash."""
    from playwright.sync_api import sync_playwright

    figures = []
    with (
        tempfile.TemporaryDirectory() as folder,
        demo_server(Path(folder) / "bench.wempa") as address,
        sync_playwright() as play,
    ):
        browser = play.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.locator(".tag").first.wait_for()
        for inks in (2, 3, 6):
            while page.locator(".tag").count() <= inks:
                page.keyboard.press("n")
                page.locator(".rack .pad").nth(3 * page.locator(".tag").count()).click()
                page.wait_for_timeout(600)
            page.locator(".tag").nth(1).click()
            taken = repaint_times(page, 60)
            rest = f"median {taken[30]:.0f}, worst {taken[-1]:.0f} ms"
            figures.append(Figure(f"change to picture on screen, {inks} inks, p95", taken[56], "ms", 100.0, rest))
        browser.close()
    return figures


def matching() -> list[Figure]:
    """Matches among 40 and 200 inks in three amounts; brute force carried on from a part of it."""
    done = subprocess.run([sys.executable, "-m", "bench.searching"], check=True, capture_output=True, text=True)
    figures = []
    for found in json.loads(done.stdout):
        taken, hours = found["taken"], found["single"] / 3600
        name = f"match from {found['inks']} inks, {found['stacks'] / 1e6:.1f} million stacks"
        rival = f"every stack: {found['batch']:.0f} s in batches, {hours:.1f} h one prediction at a time"
        spread = f"median {statistics.median(taken):.2f} s, best {taken[0]:.2f} s of {len(taken)} colours"
        figures += [
            Figure(f"{name}, gap left", found["gap"], "ΔE00", found["enough"] + 0.01, rival),
            Figure("the same, longest", taken[-1], "s", 2.0, spread),
            Figure("the same, median", statistics.median(taken), "s", 2.0),
            Figure("the same, what is worked out once for a card", found["prepared"], "s"),
            Figure("the same, peak memory", found["peak"], "MB", 1000.0),
        ]
    return figures


def panel() -> list[Figure]:
    """A panel of seven bands: in the core against one prediction at a time, and from a key to the picture."""
    figures = [Figure(what, found, "ms", reach, rest) for what, found, reach, rest in panels.in_the_core()]
    figures += [Figure(what, found, unit, reach, rest) for what, found, unit, reach, rest in panels.soft_blends()]
    for layout, taken in panels.on_screen().items():
        rest = f"median {taken[30]:.0f}, worst {taken[-1]:.0f} ms"
        figures.append(Figure(f"{layout.lower()}, change to picture on screen, p95", taken[56], "ms", 150.0, rest))
    return figures


def chart_on_screen() -> list[Figure]:
    """A chart of 250 inks in headless Chromium: from a key to the new cells painted, and scrolling."""
    from playwright.sync_api import sync_playwright

    from bench.searching import stash as made_up
    from wempa.formats.stash.items import read_item
    from wempa.store import Workspace

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bench.wempa"
        workspace = Workspace(path)
        for key, ink in made_up(250):
            item = {
                "name": key,
                "formula": str(ink.formula),
                "ink": {"swatch": {"colour": {"lab": ink.swatch.colour.lab}}},
            }
            workspace.write("ink", read_item("ink", item).stored(), what="Put in")
        workspace.close()
        with demo_server(path, "serve") as address, sync_playwright() as play:
            browser = play.chromium.launch(executable_path=CHROMIUM_PATH, args=CHROMIUM_ARGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(address)
            # Nothing was made ready yet but the two inks that lie there.
            page.get_by_role("link", name="Chart").wait_for()
            page.wait_for_load_state("networkidle")
            start = time.perf_counter()
            page.get_by_role("link", name="Chart").click()
            page.wait_for_function(PAINTED, timeout=180_000)
            first = time.perf_counter() - start
            page.get_by_text("62,500 of 62,500 mixes").wait_for(timeout=180_000)
            # A tool for all, so that passes can be counted.
            page.get_by_role("combobox", name="Tool").click(force=True)
            page.get_by_role("option", name="brush").first.click()
            page.wait_for_timeout(2500)
            taken: dict[str, list[float]] = {"dry": [], "wet": []}
            # A pass more each time, so that no chart has been seen before.
            more = "[aria-label='increase number']"
            for over, times in taken.items():
                page.get_by_role("button", name="Dried between" if over == "dry" else "Mixed wet").click()
                for _ in range(6):
                    page.wait_for_timeout(2500)
                    times.append(float(page.evaluate(CHANGED, more)) / 1000)
            page.wait_for_timeout(2500)
            for _ in range(4):
                page.keyboard.press("+")
            page.wait_for_timeout(500)
            frames = page.evaluate(SCROLLED)
            browser.close()
    figures = []
    for over, times in taken.items():
        rest = f"median {statistics.median(times):.2f} s of {len(times)}"
        figures.append(Figure(f"chart of 250 inks, from press to screen, {over}, worst", max(times), "s", 1.0, rest))
    return [
        *figures,
        Figure("the very first chart of 250 inks, from press to screen", first, "s", 1.5),
        Figure("chart of 250 inks, scrolling, frame p95", frames[int(0.95 * len(frames))], "ms", 34.0),
    ]


def command_line() -> list[Figure]:
    body = json.dumps(THREE)

    def run() -> None:
        subprocess.run(
            [sys.executable, "-m", "wempa.cli", "predict", "-"], input=body, text=True, check=True, capture_output=True
        )

    run()
    return [
        Figure("wempa predict of one job, whole process, median", statistics.median(_times(run, 7)) / 1000, "s", 0.7)
    ]


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m bench", description=__doc__)
    parser.add_argument("--json", type=Path)
    parser.add_argument("--only", nargs="*", help="names of groups, such as matching")
    parser.add_argument("--compare", metavar="REVISION", help="ratios to an earlier state of the code, in turns")
    parser.add_argument("--times", type=int, default=3, help="runs of each side of a comparison")
    args = parser.parse_args()
    if args.compare:
        return compare(args.compare, args.only or (), args.times)
    figures: list[Figure] = []
    groups = (
        accuracy,
        truths,
        latency,
        chart,
        photos,
        learn_log,
        table,
        stash,
        advice,
        service,
        repaint,
        chart_on_screen,
        panel,
        matching,
        command_line,
    )
    for group in groups:
        if args.only and group.__name__ not in args.only:
            continue
        for figure in group():
            reach = "" if figure.reach is None else f"≤ {figure.reach:g}"
            print(
                f"{figure.what:<58}{figure.found:>9.3f} {figure.unit:<5}{reach:>8} {figure.met():<7}{figure.rival}",
                flush=True,
            )
            figures.append(figure)
    if args.json:
        args.json.write_text(json.dumps([asdict(figure) for figure in figures], indent=1, ensure_ascii=False))
    return 1 if any(figure.met() == "MISSED" for figure in figures) else 0


if __name__ == "__main__":
    sys.exit(main())
