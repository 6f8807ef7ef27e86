"""Many people at once: clients that look, ask for pictures, charts and matches, load photos, and store things."""

from __future__ import annotations

import random
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from io import BytesIO

import numpy as np

from .service import Service

SMALL = ("/api/table", "/api/overlaps/open", "/api/run?now=0", "/api/copies", "/api/phones", "/api/panels/open")
"""What a page asks for now and then, and what may never wait for somebody else's work."""
_JOB = {
    "wempa": 1,
    "cardstock": {"colour": {"hex": "#a8dcc0"}},
    "inks": {"a": {"name": "a", "formula": "dye", "swatch": {"colour": {"hex": "#d02040"}}}},
    "stack": [{"ink": "a", "tool": "brush", "passes": 4}],
}


@dataclass
class Told:
    """What came of it: seconds and statuses by kind of question, and the most memory."""

    seconds: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    statuses: dict[str, Counter[int]] = field(default_factory=lambda: defaultdict(Counter))
    broken: list[str] = field(default_factory=list)
    peak: float = 0.0

    def p95(self, kind: str) -> float:
        """Seconds within which 95 in 100 questions of a kind were answered."""
        return float(np.percentile(self.seconds[kind], 95)) if self.seconds[kind] else float("nan")

    def worst_statuses(self) -> dict[int, int]:
        """Answers of 500 and more, but for 503, which says that it is busy."""
        found: Counter[int] = Counter()
        for each in self.statuses.values():
            found += Counter({status: n for status, n in each.items() if status >= 500 and status != 503})
        return dict(found)


def load(service: Service, clients: int, seconds: float, seed: int = 1) -> Told:
    """Ask of a demo workspace whatever `clients` people would, for so long."""
    told = Told()
    lock = threading.Lock()
    panels = [each["id"] for each in service.json("GET", "/api/panels")]
    plan = service.json("GET", f"/api/panels/open?panel={panels[0]}")["panel"]
    body = {key: value for key, value in plan.items() if key not in ("id", "revision")}
    jpeg = _photo()
    # From here on: on a busy machine what stands above takes a while.
    end = time.monotonic() + seconds

    def asked(kind: str, method: str, path: str, given: object = None) -> tuple[int, bytes]:
        start = time.monotonic()
        try:
            status, text = service.ask(method, path, given)
        except OSError as error:
            with lock:
                told.broken.append(f"{kind}: {error}")
            return 0, b""
        with lock:
            told.seconds[kind].append(time.monotonic() - start)
            told.statuses[kind][status] += 1
        return status, text

    def looker(lot: random.Random) -> None:
        asked("small", "GET", lot.choice(SMALL))

    def predicts(lot: random.Random) -> None:
        job = {**_JOB, "cardstock": {"colour": {"hex": f"#{lot.randrange(0x808080, 0xFFFFFF):06x}"}}}
        asked("predict", "POST", "/api/predict", job)

    def charts(lot: random.Random) -> None:
        asked("chart", "POST", "/api/chart", {"card_id": lot.choice((1, 2, 3)), "passes": lot.choice((4, 6))})

    def pictures(lot: random.Random) -> None:
        bands = [dict(each) for each in body["bands"]]
        lot.shuffle(bands)
        asked("picture", "POST", "/api/panels/picture?per_mm=4", {**body, "bands": bands})

    def fine(lot: random.Random) -> None:
        asked("300 dpi", "GET", f"/api/panels/{lot.choice(panels)}/export.png")

    def matches(lot: random.Random) -> None:
        colour = {"colour": {"hex": f"#{lot.randrange(0x303030, 0xF0F0F0):06x}"}}
        asked("match", "POST", "/api/match", {"target": colour})

    def photos(lot: random.Random) -> None:
        status, _ = asked("photo", "POST", "/api/photos", jpeg)
        if status == 201 and lot.random() < 0.3:
            asked("camera", "POST", "/api/devices/camera", {"lamp": "daylight"})

    def stores(lot: random.Random) -> None:
        item = {"name": f"Brush {lot.randrange(10**6)}", "tool": "brush"}
        asked("store", "POST", "/api/stash/changes", {"what": "soak", "changes": [{"kind": "tool", "item": item}]})
        if lot.random() < 0.5:
            asked("store", "POST", "/api/undo")

    def gives(lot: random.Random) -> None:
        kinds = ("workspace.zip", "workspace.json", "inks.csv")
        asked("export", "GET", f"/api/export/{lot.choice(kinds)}")

    def plans(_: random.Random) -> None:
        asked("evening", "POST", "/api/evenings", {"pieces": [{"kind": "panel", "ids": [panels[0]]}]})

    parts: list[Callable[[random.Random], None]] = [looker] * 12
    parts += [predicts] * 6 + [charts] * 5 + [pictures] * 7 + [fine] * 5 + [matches] * 4
    parts += [photos] * 4 + [stores] * 4 + [gives] * 2 + [plans]

    def client(n: int) -> None:
        lot = random.Random(seed * 1000 + n)
        time.sleep(lot.random())
        while time.monotonic() < end:
            parts[n % len(parts)](lot)
            # As people do, they look at what came before they ask again.
            time.sleep(lot.uniform(0.1, 0.6))

    threads = [threading.Thread(target=client, args=(n,), daemon=True) for n in range(clients)]
    for thread in threads:
        thread.start()
    while time.monotonic() < end or any(thread.is_alive() for thread in threads):
        told.peak = max(told.peak, service.memory())
        time.sleep(0.2)
        if time.monotonic() > end + 180:
            told.broken.append("some were not answered for three minutes")
            break
    return told


def _photo() -> bytes:
    from PIL import Image

    lot = np.random.default_rng(1)
    small = lot.integers(0, 255, (60, 80, 3), dtype=np.uint8)
    out = BytesIO()
    Image.fromarray(small).resize((4000, 3000)).save(out, "JPEG", quality=90)
    return out.getvalue()


def as_text(told: Told) -> str:
    """The figures, a line for each kind of question."""
    lines = [f"{'':10} {'asked':>6} {'median s':>9} {'p95 s':>7} {'worst s':>8}  answers"]
    for kind, seconds in sorted(told.seconds.items()):
        some = np.percentile(seconds, [50, 95, 100])
        answers = ", ".join(f"{n} × {status}" for status, n in sorted(told.statuses[kind].items()))
        lines.append(f"{kind:10} {len(seconds):6} {some[0]:9.3f} {some[1]:7.3f} {some[2]:8.3f}  {answers}")
    lines.append(f"most memory {told.peak:.0f} MB; {len(told.broken)} without an answer {told.broken[:3]}")
    return "\n".join(lines)
