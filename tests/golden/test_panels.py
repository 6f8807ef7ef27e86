"""Panels of every layout say what the golden file says, and are painted as it says."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.golden.gold import Gold
from wempa.craft.job import Card, Colour, Job, LayDown, Stash
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.fixes import seam_fixes
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel, Ribbon, Top
from wempa.craft.panels.picture import picture
from wempa.craft.panels.shapes import Region, opening
from wempa.craft.panels.study import Study, study, through
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import BandShape, Edge, Layout, Motif, Opening, School, Surface, Tool, Topping, Upper
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as InkIn

INKS = {ink["name"]: InkIn.model_validate(ink["body"]).to_core() for ink in ink_bodies()}
NAMES = list(INKS)
# A pale one, a strong one and a dark one of each kind.
FIVE = ("Brass Gauge", "Firebox Orange", "Carriage Plum", "Boiler Blue", "Steam Teal")


def lay(name: str, passes: float = 6.0, tool: Tool = Tool.BRUSH) -> LayDown:
    return LayDown(((name, 1.0),), tool=tool, passes=passes)


SHAPES = (BandShape.DEEPER, BandShape.CENTRE, BandShape.FADING)
SNOW, SEAM = Card(Colour(hex="#f8f7f4")), Seam(10, 4)


def job_of(card: Card = SNOW, stash: bool = False) -> Job:
    return Job(card, tuple(INKS.items()), stash=Stash(tuple(INKS.items())) if stash else Stash())


def panel_of(*names: str, front: Front | None = None, seam: Seam = SEAM, **more: Any) -> Panel:
    front = front or Front(108, 140, angle=90)
    joins = len(names) - (not front.closed)
    return Panel(front, tuple(Band(lay(name)) for name in names), (seam,) * joins, **more)


RAG = Card(Colour(hex="#a8dcc0"), Surface.WATERCOLOUR)
DOTS = Region(motif=Motif.DOTS, size=8, step=20)
PANELS: dict[str, tuple[Job, Panel]] = {
    **{f"{layout}": (job_of(), panel_of(*FIVE, front=Front(108, 140, layout))) for layout in Layout},
    **{
        f"{layout} on rag": (
            job_of(RAG),
            panel_of(*FIVE[:3], front=Front(100, 100, layout, angle=30), seam=Seam(4, 2, wet=True)),
        )
        for layout in Layout
    },
    **{f"by {school}": (job_of(), panel_of(*FIVE, school=school, count_between=True)) for school in School},
    "one": (job_of(), panel_of(FIVE[0])),
    "once more, other way up": (job_of(), panel_of(*FIVE, seam=Seam(8, 3, again=True, upper=Upper.FIRST))),
    "leaning ribbons, carried over": (
        job_of(),
        panel_of(*FIVE[:4], front=Front(100, 150, Layout.RIBBONS), ribbon=Ribbon(Edge.CUT, 5, True)),
    ),
    "rolled twice": (job_of(), panel_of(*FIVE[1:4], front=Front(100, 150, Layout.ROLLER), rolls=2, roll_wet=True)),
    "tops": (
        job_of(),
        panel_of(
            *FIVE[:2],
            tops=(
                Top(Topping.INK, DOTS, lay("Boiler Blue", 1, Tool.STAMP)),
                Top(Topping.WATER, replace(DOTS, motif=Motif.DROPS)),
                Top(Topping.GLAZE),
            ),
        ),
    ),
    "soft": (job_of(), panel_of(*FIVE, seam=Seam())),
    "soft fan": (job_of(), panel_of(*FIVE[:4], seam=Seam(), front=Front(120, 120, Layout.FAN))),
    "soft rings, in-betweens counted": (
        job_of(),
        panel_of(*FIVE[:3], seam=Seam(), front=Front(120, 150, Layout.RINGS), count_between=True),
    ),
    "short seams on rag": (job_of(RAG), panel_of(*FIVE, seam=Seam(), soft=0.3)),
    "opposites": (job_of(), panel_of("Firebox Orange", "Boiler Blue", "Firebox Orange", seam=Seam())),
    "dry between": (job_of(), panel_of(*FIVE, seam=Seam(wet=False))),
    "shapes": (
        job_of(),
        Panel(
            Front(108, 140, angle=90),
            tuple(Band(lay(name), shape=shape) for name, shape in zip(FIVE, SHAPES, strict=False)),
            (Seam(),) * (len(SHAPES) - 1),
        ),
    ),
    "one that fades": (job_of(), Panel(Front(108, 140), (Band(lay(FIVE[3]), shape=BandShape.FADING),), ())),
    "locked and weighed": (
        job_of(),
        Panel(
            Front(108, 140),
            (Band(lay(FIVE[0]), width=30), Band(lay(FIVE[1]), weight=2), Band(lay(FIVE[2]))),
            (Seam(10, 4), Seam(0, 0, 3)),
            widen_pale=False,
        ),
    ),
}


def told(job: Job, panel: Panel) -> dict[str, Any]:
    """All that is pinned of one panel."""
    found: Study = study(job, panel)
    heart = opening(Opening.HEART, 60, 60)
    left = through(job, panel, found, heart)
    return {
        "bands": [
            [band.begin, band.end, *band.lab.tolist(), *[flag.code for flag in band.flags]] for band in found.bands
        ],
        "seams": [
            [
                seam.pair,
                seam.begin,
                seam.end,
                *seam.lab.tolist(),
                seam.kind,
                seam.mud,
                seam.muddy_mm,
                seam.hardest,
                *[flag.code for flag in seam.flags],
            ]
            for seam in found.seams
        ],
        "order": [found.work.order, found.work.minutes],
        "steps": [[step.band, step.waits, step.loads, step.minutes] for step in found.work.steps],
        "notes": [note.code for note in found.work.notes],
        "colours": [found.colours, found.inks, found.evenness, found.widest],
        "through": [left.bands, left.kept, left.seams, left.colours],
    }


def painted(job: Job, panel: Panel) -> list[Any]:
    """Rows and columns of a picture, its mean, and every 277th spot, sRGB bytes."""
    found = study(job, panel)
    spots = picture(job, panel, found.placed, found.work.order, 0.5, seen=found.line)
    return [spots.shape[:2], float(spots.mean()), spots.reshape(-1, 3)[::277]]


def test_pictures(pytestconfig: pytest.Config) -> None:
    found = {name: painted(job, panel) for name, (job, panel) in PANELS.items()}
    # A byte may round either way.
    Gold("pictures.json", pytestconfig.getoption("--regold")).check(found, 1)


def test_panels(pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {name: told(job, panel) for name, (job, panel) in PANELS.items()}
    for name, pair in (("muddy", ("Firebox Orange", "Boiler Blue")), ("swamped", ("Brass Gauge", "Carriage Plum"))):
        job, panel = job_of(stash=True), panel_of(*pair)
        found[f"fixes of {name}"] = [
            [fix.code, fix.text, fix.gain, fix.after.colours, recipe(fix.job)]
            for fix in seam_fixes(job, panel, study(job, panel), 0)
        ]
    Gold("panels.json", pytestconfig.getoption("--regold")).check(found)
