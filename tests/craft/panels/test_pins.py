"""Single rules of panels: what is said of two of them, what a way to blend costs, which fixes are tried."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.craft.panels.test_soft import DEMO, demo_job, demo_panel, lay
from wempa.craft import constants
from wempa.craft.job import Stash
from wempa.craft.panels.bands import Band, Seam, place
from wempa.craft.panels.compare import compared
from wempa.craft.panels.fixes import seam_fixes
from wempa.craft.panels.front import Front
from wempa.craft.panels.picture import picture
from wempa.craft.panels.study import study, ways_to_blend
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.vocabulary import Layout, Surface, VerdictKind


@pytest.mark.parametrize(
    ("ours", "theirs", "says"),
    [(0.80, 0.50, "more"), (0.50, 0.80, "less"), (0.80, 0.74, "more"), (0.80, 0.76, ""), (None, 0.5, "")],
)
def test_evenness_is_compared_from_a_twentieth_on(ours: float | None, theirs: float, says: str) -> None:
    found = study(demo_job("Brass Gauge", "Firebox Orange"), demo_panel("Brass Gauge", "Firebox Orange"))
    told = compared(replace(found, evenness=ours), replace(found, evenness=theirs), constants.AS_SHIPPED)
    even = [line for line in told if "even" in line]
    assert even == ([f"Its steps are {says} even."] if says else [])


def test_a_way_to_blend_tells_the_most_passes_that_any_step_needs() -> None:
    names = ("Brass Gauge", "Firebox Orange", "Platform Rose")
    bands = tuple(Band(lay(name, passes=passes)) for name, passes in zip(names, (2.0, 9.0, 4.0), strict=True))
    panel = replace(demo_panel(*names), bands=bands)
    stripes, _, soft = ways_to_blend(demo_job(*names), panel)
    assert stripes.passes == 9
    assert soft.passes >= 9
    assert (stripes.words, soft.words) == ("stripes", "soft")


def test_a_seam_worked_wet_is_tried_dry_and_the_other_way_round() -> None:
    tried: dict[bool, set[str]] = {True: set(), False: set()}
    for first, second in (("Clinker", "Sea Wall"), ("Cornflower Jug", "Lineside Lime")):
        for wet in (True, False):
            job, panel = demo_job(first, second), demo_panel(first, second, seam=Seam(30, 10, wet=wet))
            tried[wet] |= {fix.code for fix in seam_fixes(job, panel, study(job, panel), 0)}
    assert "let_dry" in tried[True]
    assert "let_dry" not in tried[False]
    assert "into_the_wet" not in tried[True]


def test_a_bridge_makes_no_mud_with_either_side() -> None:
    job = replace(demo_job("Firebox Orange", "Boiler Blue"), stash=Stash(tuple(DEMO.items())))
    panel = demo_panel("Firebox Orange", "Boiler Blue", seam=Seam(20, 8))
    found = study(replace(job, stash=Stash()), panel)
    fixes = {str(fix.code): fix for fix in seam_fixes(job, panel, found, 0)}
    bridged = fixes["bridge"]
    ends, between = [bridged.panel.bands[k].lay for k in (0, 2)], bridged.panel.bands[1].lay
    told = weigh_stacks(replace(bridged.job, stash=Stash()), [(end, between) for end in ends])
    assert (np.asarray(told.mud) < job.mud_line).all()
    bad = [KINDS.index(kind) for kind in (VerdictKind.MUDDY, VerdictKind.SWAMPED)]
    assert not np.isin(told.kind, bad).any()
    # Where nothing is clean enough there is none.
    strict = replace(job, mud_line=1.0)
    codes = {fix.code for fix in seam_fixes(strict, panel, study(replace(strict, stash=Stash()), panel), 0)}
    assert "bridge" not in codes or told.mud.max() < 1


def test_torn_ribbons_on_textured_card_have_bare_specks() -> None:
    names = ("Boiler Blue", "Night Train")
    job = demo_job(*names, surface=Surface.WATERCOLOUR)
    bands = tuple(Band(lay(name, passes=1.0)) for name in names)
    panel = replace(demo_panel(*names, front=Front(60, 60, Layout.RIBBONS, 90)), bands=bands)
    found = study(job, panel)
    shown = picture(job, found.panel, found.placed, found.work.order, 6.0)
    plain = picture(job, found.panel, found.placed, found.work.order, 6.0, specks=False)
    light, mean = (one.astype(np.float64).mean(axis=2) for one in (shown, plain))
    # Specks are lighter than the mean of their spot, the ink between them darker.
    assert (light > mean + 20).mean() > 0.02
    assert (light < mean - 1).mean() > 0.2


def test_a_line_without_reaches_shares_what_is_left_of_its_seams() -> None:
    bands = [Band(lay(name)) for name in ("Brass Gauge", "Firebox Orange")]
    placed = place(100.0, bands, [Seam(20, 10)])
    # Both lie over the 20 mm about the middle, and read as themselves on what is left.
    assert placed.stop[0] - placed.start[1] == pytest.approx(20)
    assert (placed.start[0], placed.stop[1]) == pytest.approx((0, 100))
    assert placed.seams[0].overlap == pytest.approx(20)


def test_what_nobody_says_of_a_seam_is_no_reach_and_a_fade_over_all_of_it() -> None:
    bands = [Band(lay(name)) for name in ("Brass Gauge", "Firebox Orange")]
    (bare,) = place(100.0, bands, [Seam()]).seams
    assert (bare.first, bare.last) == (50.0, 50.0)
    (wide,) = place(100.0, bands, [Seam(20)]).seams
    assert (wide.first, wide.last, wide.begin, wide.end) == (40.0, 60.0, 45.0, 55.0)
    assert wide.fade == 1.0
    # Half way both inks lie with half of their dose.
    assert [float(part[0]) for part in wide.parts(np.array([0.5]))] == pytest.approx([0.5, 0.5])
