"""Charts, matches, company, nudges and fixes say what the golden file says."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from tests.golden.gold import Gold
from tests.golden.jobs import JOBS
from wempa.craft import constants
from wempa.craft.colour.distinct import most_different, newness
from wempa.craft.job import Card, Colour, Ink, Job, LayDown
from wempa.craft.overlap.crossing import crossing
from wempa.craft.overlap.fixes import predict_with_fixes
from wempa.craft.overlap.nudges import less_of, more_of, nudges
from wempa.craft.overlap.showings import dose_strips, nearest_inks
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.recipe import recipe
from wempa.craft.search import match
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.search.chart_study import order_of_inks, study_chart
from wempa.craft.search.company import Company, Seams, company, fewest_for_rainbow
from wempa.craft.search.match_answers import best_answers, from_others
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Blend, ChartOrder, Load, Over, Surface, Tool
from wempa.craft.ways import three_hands
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as InkIn
from wempa.formats.job import read_one

# Charts and matches are worked out in single precision.
SINGLE = 4e-3
TABLE = constants.AS_SHIPPED
STASH: dict[str, dict[str, Any]] = {ink["name"]: ink["body"] for ink in ink_bodies()}
INKS: dict[str, Ink] = {name: InkIn.model_validate(body).to_core() for name, body in STASH.items()}
FIXED = [
    "opposites, deep",
    "orange dye on mint",
    "swallowed by the card",
    "four mixed wet",
    "white barrier on mint",
    "premix into the wet",
    "pale opposites",
]


def with_stash(name: str) -> Job:
    return read_one(
        {**JOBS[name], "fixes": True, "stash": {"inks": STASH, "cards": {"k": {"colour": {"hex": "#b58f66"}}}}}
    )


def fixes_of(name: str) -> list[Any]:
    found = predict_with_fixes(with_stash(name))
    return [
        [fix.code, fix.mud, *(recipe(fix.job) if fix.job else []), [shown.colour.lab for shown in fix.shown]]
        for fix in found.fixes
    ]


def nudges_of(name: str, laid: int) -> dict[str, Any]:
    job = with_stash(name)
    wanted = wanted_colours(job)
    found = [*nudges(job, laid, wanted), more_of(job, 0, laid, wanted), less_of(job, 0, laid, wanted)]
    return {n.code: [n.text, None if n.after is None else [*n.after.colour.lab, n.after.verdict.mud]] for n in found}


def reach(card: Card, hands: int = 2, names: tuple[str, ...] = tuple(INKS)) -> SearchSpace:
    inks = [(name, INKS[name]) for name in names]
    lays = [lay for key, ink in inks for lay in three_hands(key, ink.formula, Load.NORMAL, TABLE)[:hands]]
    return SearchSpace(Job(card, tuple(inks)), lays)


def match_of(found: SearchSpace, *target: float) -> dict[str, Any]:
    *_, last = match.search(found, np.array(target))
    best = best_answers(found, np.array(target), last.found, count=4)
    return {
        "best": last.best,
        "bound": last.bound,
        "stacks": last.stacks,
        "answers": [[recipe(each.job), each.delta_e, each.found.colour.lab, each.found.verdict.mud] for each in best],
    }


def company_of(seams: Seams, found: list[Company]) -> list[Any]:
    names = list(INKS)
    return [
        [[names[k] for k in one.inks], one.below, one.laid, one.colours, one.sectors, one.shown[1]] for one in found
    ]


@pytest.fixture
def write(pytestconfig: pytest.Config) -> bool:
    return bool(pytestconfig.getoption("--regold"))


def test_overlaps(write: bool) -> None:
    """Fixes, nudges, crossings, dose strips and the nearest inks of overlaps."""
    found: dict[str, Any] = {f"fixes: {name}": fixes_of(name) for name in FIXED}
    found |= {f"nudges: {name}": nudges_of(name, laid) for name, laid in zip(FIXED, (0, 1, 1, 2, 2, 0, 2), strict=True)}
    for name in ("three doses over one another", "four mixed wet", "dye over hybrid over dye"):
        job = with_stash(name)
        found[f"crossing: {name}"] = [
            [pair.below, pair.above, pair.lab, pair.mud, pair.kind, pair.order_matters] for pair in crossing(job).pairs
        ]
        found[f"strips: {name}"] = [[strip.entry, strip.found.lab[::3], strip.found.mud] for strip in dose_strips(job)]
        near = nearest_inks(predict_with_fixes(replace(job, fixes=False)).colour.lab, job)
        found[f"nearest: {name}"] = [[each.key, each.delta_e] for each in near]
    Gold("overlaps.json", write).check(found)


def test_searches(write: bool) -> None:
    """Charts, company and matches."""
    found: dict[str, Any] = {}
    brush = LayDown((("", 1.0),), tool=Tool.BRUSH, passes=6.0)
    foam = LayDown((("", 1.0),), tool=Tool.FOAM, passes=4.0)
    inks = list(INKS.values())
    for name, card, way in (
        ("white, brush", Card(Colour(hex="#f8f7f4")), brush),
        ("mint, wet foam", Card(Colour(hex="#a8dcc0")), replace(foam, over=Over.WET)),
        ("kraft watercolour, doses", Card(Colour(hex="#b58f66"), Surface.WATERCOLOUR), LayDown((("", 1.0),), dose=0.7)),
    ):
        chart = ordered_pairs(inks, card, way)
        found[f"chart: {name}"] = [
            [*chart.lab[i, j], chart.mud[i, j], int(chart.kind[i, j])] for i in range(0, 40, 5) for j in range(0, 40, 3)
        ]
        flat = chart.lab.reshape(-1, 3)
        fresh = newness(flat, chart.alone)
        found[f"distinct: {name}"] = [most_different(flat, 8, fresh > 8), float(fresh.mean())]
        studied = study_chart(chart, chart.alone, TABLE)
        found[f"orders: {name}"] = {
            f"{order} {hero}": order_of_inks(chart, order, hero, studied.fresh, TABLE)
            for order in ChartOrder
            for hero in (None, 5)
        }
        found[f"study: {name}"] = [studied.different[:12], studied.ranked, studied.groups]
        seams = Seams(chart, TABLE)
        found[f"company: {name}"] = {blend: company_of(seams, company(seams, blend, hero=3)) for blend in Blend}
        fewest = fewest_for_rainbow(seams)
        found[f"rainbow: {name}"] = None if fewest is None else company_of(seams, [fewest])
    white = reach(Card(Colour(hex="#f8f7f4")), names=tuple(INKS)[::2])
    mint = reach(Card(Colour(hex="#a8dcc0")), hands=1, names=tuple(INKS)[:15])
    for target in ((50.0, 40.0, 20.0), (60.0, -30.0, 10.0), (30.0, 5.0, -25.0)):
        found[f"match: white {target}"] = match_of(white, *target)
        found[f"match: mint {target}"] = match_of(mint, *target)
    for name in list(INKS)[:9:8]:
        spare = from_others(white, INKS[name], name)
        assert spare.answer is not None
        found[f"reserve: {name}"] = [recipe(spare.answer.job), spare.answer.delta_e, spare.bound, spare.made]
    Gold("searches.json", write).check(found, SINGLE)
