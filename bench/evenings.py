"""Evenings at the table beside one piece after another, and how well the dry look of a wet panel is told."""

from __future__ import annotations

import random
import tempfile
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

from tests.evenings import as_bytes, broken_rules, panel_of, random_evening
from wempa.api import held
from wempa.api.services import Services
from wempa.api.table.from_file import plan_file
from wempa.craft import constants
from wempa.craft.job import Stash
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.stash.photo_reading import PhotoMarks, read_marked
from wempa.craft.table.dry_look import dry_look, grid_boxes, margin_of, spots_on, wet_and_dry
from wempa.craft.vocabulary import Illuminant
from wempa.demo.penny_halt import fill
from wempa.demo.wet_panel import photograph_wet
from wempa.formats.panels.plan import PanelItem
from wempa.formats.stash.photo_file import decode
from wempa.formats.table.plan_result import plan_result
from wempa.optics import colorimetry as cm
from wempa.store import Workspace

_EVENINGS, _EIGHTS, _SECONDS = 100, 6, 1.0
_PHONES = (("plain camera", 0.75), ("phone", 1.3), ("old phone", 0.9))
Row = tuple[str, float, str, float | None, str]


def figures() -> list[Row]:
    """What, found, unit, what is to be reached, and the rest."""
    return [*_evenings(), *_eights(), *_wet_photos()]


def _evenings() -> list[Row]:
    ratios, layered, gaps, broken = [], [], [], 0
    for seed in range(_EVENINGS):
        # Every other evening has a layer over dry on most of its panels.
        share = 0.9 if seed % 2 else 0.2
        file = random_evening(seed, layered=share)
        told = plan_result(plan_file(as_bytes(file), _SECONDS)).model_dump(mode="json")
        broken += bool(broken_rules(file, told))
        ratio = told["total"] / told["naive"]["total"]
        ratios.append(ratio)
        gaps.append(told["gap"])
        over_dry = [panel for panel in file["panels"] if _has_layer(panel)]
        if 2 * len(over_dry) >= len(file["panels"]):
            layered.append(ratio)
    proven = sum(gap == 0 for gap in gaps)
    text = f"worst {max(ratios):.2f}; proven best {proven} of {_EVENINGS}, widest gap {100 * max(gaps):.1f} %"
    return [
        (f"{_EVENINGS} evenings, time on the wall against naive, worst", max(ratios), "share", 1.0, text),
        (f"{len(layered)} with half over dry, the same, median", float(np.median(layered)), "share", 0.8, ""),
        ("evenings that break a rule", broken, "", 0, ""),
    ]


def _has_layer(panel: dict[str, object]) -> bool:
    seams = panel["seams"]
    assert isinstance(seams, list)
    return bool(panel.get("tops")) or panel.get("layout") == "ribbons" or any(s.get("wet") is False for s in seams)


def _eights() -> list[Row]:
    times, gaps = [], []
    for seed in range(_EIGHTS):
        rng = random.Random(seed)
        file = {**random_evening(seed), "overlaps": []}
        file["panels"] = [panel_of(rng, n, 14, seed % 2 == 1, bands=5) for n in range(8)]
        began = time.perf_counter()
        plan = plan_file(as_bytes(file))
        times.append(time.perf_counter() - began)
        gaps.append(plan.gap)
    text = "gaps " + ", ".join(f"{100 * gap:.1f} %" for gap in gaps)
    return [("eight panels of five inks, longest", max(times), "s", 5.0, text)]


def _wet_photos() -> list[Row]:
    off, undried = [], []
    with tempfile.TemporaryDirectory() as folder:
        workspace = Workspace(Path(folder) / "w.wempa")
        fill(workspace)
        services = Services(workspace)
        for number in (item["id"] for item in workspace.read_all("panel")):
            made = services.panels.made(held.read(workspace, PanelItem, number).item)
            job = replace(made.job, stash=Stash(), illuminant=Illuminant.D65)
            known = wet_and_dry(job, made.panel, made.study())
            card = prepare_card(job.cardstock, "D65", job.constants).lab
            for phone, hand in _PHONES:
                photo = photograph_wet(job, made.panel, made.study(), hand, phone, "daylight", seed=number)
                boxes = grid_boxes(photo.corners, photo.columns, photo.rows)
                left, top, right, bottom = photo.bare
                marks = PhotoMarks(boxes, [(left, top, right, bottom)])
                read = read_marked(decode(photo.data), marks, card, Illuminant.D65, {}, None, constants.AS_SHIPPED)
                seen = np.array([one.lab for one in read.readings])
                spread = float(np.mean([one.spread for one in read.readings]))
                x, y = spots_on(made.panel, photo.columns, photo.rows)
                told = dry_look(known, made.panel, x, y, seen, spread, margin_of(job, made.panel))
                off.append(float(cm.delta_e(told, photo.dry).mean()))
                undried.append(float(cm.delta_e(seen, photo.dry).mean()))
        workspace.close()
    text = f"as it is seen {np.mean(undried):.2f}; worst {max(off):.2f}"
    return [("dry look off a photo of a wet panel, mean", float(np.mean(off)), "ΔE00", 3.0, text)]
