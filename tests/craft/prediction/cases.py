"""Craft cases: jobs with expectations that any practitioner would agree on.

The format stands in the head of tests/data/craft-cases.json.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Prediction
from wempa.formats.job import read_one
from wempa.optics.colorimetry import delta_e, lch
from wempa.optics.grid import Floats

DATA = Path(__file__).parents[2] / "data"


def load(name: str) -> list[dict[str, Any]]:
    cases: list[dict[str, Any]] = json.loads((DATA / name).read_text())["cases"]
    return cases


class Checker:
    """Runs the expectations of one case; each method is a test of the format."""

    def __init__(self, jobs: dict[str, Any]) -> None:
        self.results: dict[str, Prediction] = {key: predict(read_one(job)) for key, job in jobs.items()}

    def lab(self, key: str) -> Floats:
        return self.results[key].colour.lab

    def drops(self, key: str) -> Floats:
        drops = self.results[key].drops
        assert drops is not None, f"{key} has no drops"
        return drops.lab

    def chroma_of(self, lab: Floats) -> float:
        return float(np.hypot(lab[1], lab[2]))

    def step(self, a: Floats, b: Floats) -> float:
        return float(delta_e(a, b))

    def check(self, test: str, *args: Any) -> None:
        method: Callable[..., tuple[bool, object]] = getattr(self, f"is_{test}")
        ok, found = method(*args)
        assert ok, f"{test} {args}: found {found}"

    def is_kind(self, j: str, kinds: list[str]) -> tuple[bool, object]:
        kind = self.results[j].verdict.kind
        return kind in kinds, (kind, self.results[j].verdict.mud)

    def is_kind_not(self, j: str, kinds: list[str]) -> tuple[bool, object]:
        kind = self.results[j].verdict.kind
        return kind not in kinds, (kind, self.results[j].verdict.mud)

    def is_hue(self, j: str, low: float, high: float) -> tuple[bool, object]:
        hue = float(lch(self.lab(j))[2])
        inside = low <= hue <= high if low <= high else hue >= low or hue <= high
        return inside, hue

    def is_above(self, j: str, lightness: float) -> tuple[bool, object]:
        return bool(self.lab(j)[0] >= lightness), self.lab(j)

    def is_lighter(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = float(self.lab(a)[0] - self.lab(b)[0])
        return found >= d, found

    def is_chroma(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = self.chroma_of(self.lab(a)) - self.chroma_of(self.lab(b))
        return found >= d, found

    def is_near(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = self.step(self.lab(a), self.lab(b))
        return found <= d, found

    def is_far(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = self.step(self.lab(a), self.lab(b))
        return found >= d, found

    def is_muddier(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = self.results[a].verdict.mud - self.results[b].verdict.mud
        return found >= d, found

    def is_closer(self, a: str, b: str, t: str) -> tuple[bool, object]:
        found = self.step(self.lab(a), self.lab(t)), self.step(self.lab(b), self.lab(t))
        return found[0] < found[1], found

    def is_smaller_step(self, a1: str, a2: str, b1: str, b2: str, f: float) -> tuple[bool, object]:
        found = self.step(self.lab(a1), self.lab(a2)), self.step(self.lab(b1), self.lab(b2))
        return found[0] <= f * found[1], found

    def is_drops_lighter(self, s: str, u: str, d: float) -> tuple[bool, object]:
        found = float(self.drops(s)[0] - self.lab(u)[0])
        return found >= d, found

    def is_drops_duller(self, s: str, u: str, d: float) -> tuple[bool, object]:
        found = self.chroma_of(self.lab(u)) - self.chroma_of(self.drops(s))
        return found >= d, found

    def is_drops_step_smaller(self, s: str, u: str, t: str, v: str, f: float) -> tuple[bool, object]:
        found = self.step(self.drops(s), self.lab(u)), self.step(self.drops(t), self.lab(v))
        return found[0] <= f * found[1], found

    def is_recovers(self, b: str, m: str, w: str, f: float) -> tuple[bool, object]:
        on, mid, white = (self.chroma_of(self.lab(key)) for key in (b, m, w))
        return on - mid >= f * (white - mid), (on, mid, white)

    def is_hue_less(self, a: str, b: str, d: float) -> tuple[bool, object]:
        found = float(lch(self.lab(a))[2]), float(lch(self.lab(b))[2])
        return found[0] <= found[1] - d, found
