"""Panels as they are planned: what lies at a spot is the core's stack, whatever the layout, order and seams."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, Job, LayDown, Stash
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.colours import LineColours
from wempa.craft.panels.fixes import seam_fixes
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel, Ribbon, Top
from wempa.craft.panels.picture import picture
from wempa.craft.panels.shapes import Region, inside, mask, moved, opening
from wempa.craft.panels.study import Study, study, through
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import (
    Edge,
    Layout,
    Load,
    Look,
    Motif,
    Opening,
    Over,
    School,
    Surface,
    Tool,
    Topping,
    Treatment,
    Upper,
    VerdictKind,
)
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

DEMO = {body["name"]: Ink.model_validate(body["body"]).to_core() for body in ink_bodies()}
SNOW = Card(Colour(hex="#f8f7f4"))
RAG = Card(Colour(hex="#f7f4ec"), Surface.WATERCOLOUR)
NAMES = ("Brass Gauge", "Firebox Orange", "Carriage Plum", "Boiler Blue", "Steam Teal", "Pond Skater")


def job_of(*names: str, card: Card = SNOW, stash: bool = False) -> Job:
    inks = tuple((name, DEMO[name]) for name in dict.fromkeys(names))
    return Job(card, inks, stash=Stash(tuple(DEMO.items())) if stash else Stash())


def lay(name: str, passes: float = 6.0, tool: Tool = Tool.BRUSH) -> LayDown:
    return LayDown(((name, 1.0),), tool=tool, passes=passes)


PLAIN = Seam(10, 4)


def panel_of(*names: str, seam: Seam = PLAIN, front: Front | None = None, **more: object) -> Panel:
    front = front or Front(108, 140, angle=90)
    joins = len(names) if front.closed and len(names) > 1 else len(names) - 1
    return Panel(front, tuple(Band(lay(name)) for name in names), (seam,) * joins, **more)  # type: ignore[arg-type]


def stack_lab(job: Job, *stack: LayDown | Treatment, look: Look = Look.DRY) -> Floats:
    return predict(replace(job, stack=stack, look=look, stash=Stash())).colour.lab


def at(found: LineColours, place: float) -> Floats:
    lab: Floats = found.lab[found.nearest(place)]
    return lab


def same(a: Floats, b: Floats, within: float = 0.01) -> bool:
    return float(cm.delta_e(a, b)) <= within


def middle(found: Study, k: int) -> float:
    return sum(found.placed.visible[k]) / 2


plans = st.fixed_dictionaries(
    {
        "layout": st.sampled_from([Layout.STRAIGHT, Layout.FAN, Layout.RINGS, Layout.EDGE]),
        "school": st.sampled_from(list(School)),
        "wet": st.booleans(),
        "names": st.lists(st.sampled_from(NAMES), min_size=2, max_size=4),
        "white": st.booleans(),
    }
)


@settings(max_examples=25)
@given(plans)
def test_middles_of_bands_and_seams_are_the_cores_stacks(plan: dict[str, object]) -> None:
    names = plan["names"]
    assert isinstance(names, list)
    job = job_of(*names, "Steam White")
    barrier = (lay("Steam White"),) if plan["white"] else ()
    job = replace(job, stack=barrier)
    front = Front(120, 150, plan["layout"])  # type: ignore[arg-type]
    wet = bool(plan["wet"])
    panel = panel_of(*names, seam=Seam(6, 3, wet=wet), front=front, school=plan["school"])
    found = study(job, panel)
    assert sorted(found.work.order) == list(range(len(names)))
    for k, name in enumerate(names):
        assert same(at(found.line, middle(found, k)), stack_lab(job, *barrier, lay(name)))
    for seam in found.seams:
        first, second = sorted(seam.pair, key=found.work.order.index)
        over = Over.WET if wet else Over.DRY
        whole = predict(replace(job, stack=(*barrier, lay(names[first]), replace(lay(names[second]), over=over))))
        assert same(seam.lab, whole.colour.lab)
        # What shows as itself beside the seam is not swamped by it.
        assert seam.kind == whole.verdict.kind or whole.verdict.kind is VerdictKind.SWAMPED
        assert seam.mud + 1e-6 >= whole.verdict.mud


def test_orders_of_laying() -> None:
    job = job_of(*NAMES[:5])
    by_light = sorted(range(5), key=lambda k: -float(stack_lab(job, lay(NAMES[k]))[0]))
    orders = {school: study(job, panel_of(*NAMES[:5], school=school)).work for school in School}
    dry = panel_of(*NAMES[:5], seam=Seam(10, 4, wet=False))
    for school, expected in ((School.LIGHTEST_FIRST, by_light), (School.DARKEST_FIRST, by_light[::-1])):
        # With dryness between, by lightness alone; else on from the first to what lies beside what is open.
        assert list(study(job, replace(dry, school=school)).work.order) == expected
        at_once = orders[school].order
        assert at_once[0] == expected[0]
        assert all({k - 1, k + 1} & set(at_once[:n]) for n, k in enumerate(at_once) if n)
    assert orders[School.MIDDLE_FIRST].order == (2, 1, 3, 0, 4)
    assert orders[School.AS_LISTED].order == (0, 1, 2, 3, 4)
    assert len({work.reason for work in orders.values()}) == 4
    # A seam's own word comes first: the dark plum under the pale orange.
    turned = panel_of(*NAMES[:5])
    seams = [Seam(10, 4, upper=Upper.FIRST) if k == 1 else seam for k, seam in enumerate(turned.seams)]
    work = study(job, replace(turned, seams=tuple(seams))).work
    assert work.order.index(2) < work.order.index(1)
    assert "has its way" in work.reason
    around = panel_of(*NAMES[:3], front=Front(120, 120, Layout.FAN), seam=Seam(6, 3, upper=Upper.FIRST))
    with pytest.raises(JobError, match="goes round in a circle"):
        study(job, around)


def test_a_pale_ink_is_widened_and_says_so() -> None:
    job = job_of("Carriage Plum", "Brass Gauge", "Boiler Blue")
    panel = panel_of("Carriage Plum", "Brass Gauge", "Boiler Blue")
    found, equal = study(job, panel), study(job, replace(panel, widen_pale=False))
    wide = [band.end - band.begin for band in found.bands]
    assert wide[1] == pytest.approx(1.3 * wide[0])
    assert wide[0] == pytest.approx(wide[2])
    assert [flag.code for flag in found.bands[1].flags] == ["widened"]
    assert "30 % wider" in found.bands[1].flags[0].text
    even = [band.end - band.begin for band in equal.bands]
    assert max(even) == pytest.approx(min(even))
    # Who says a width is not overruled.
    said = replace(panel, bands=(panel.bands[0], replace(panel.bands[1], weight=1.0), panel.bands[2]))
    assert not study(job, said).bands[1].widened


def test_seams_say_what_is_wrong() -> None:
    job = job_of(*NAMES, "Platform Rose", "Ticket Pink")
    muddy = study(job, panel_of("Firebox Orange", "Boiler Blue")).seams[0]
    assert "muddy" in [flag.code for flag in muddy.flags]
    assert muddy.muddy_mm > 1
    assert "Firebox Orange and Boiler Blue go muddy over" in muddy.flags[0].text
    hard = study(job, panel_of("Brass Gauge", "Carriage Plum", seam=Seam(0, 0))).seams[0]
    assert [flag.code for flag in hard.flags] == ["hard_line"]
    assert hard.hardest > 20
    reds = job_of("Signal Lamp Red", "Post Box")
    alike = study(reds, panel_of("Signal Lamp Red", "Post Box")).seams[0]
    # The pigment is deeper under the same hand, so that a line shows as well.
    assert [flag.code for flag in alike.flags] == ["no_new_colour", "hard_line"]
    assert alike.kind is VerdictKind.NO_NEW_COLOUR
    gap = study(job, panel_of("Brass Gauge", "Carriage Plum", seam=Seam(0, 0, gap=3)))
    assert gap.seams[0].flags == ()
    assert same(gap.seams[0].lab, stack_lab(job))
    apart = study(job, panel_of("Firebox Orange", "Boiler Blue", front=Front(108, 140, Layout.STRIPES)))
    assert apart.seams[0].flags == ()
    assert apart.colours == 2


def test_bands_say_what_is_wrong() -> None:
    job = job_of("Boiler Blue", "Rain Coat", "Night Train", "Brass Gauge")
    panel = panel_of("Brass Gauge", "Boiler Blue", "Brass Gauge")
    narrow = replace(panel, bands=(panel.bands[0], replace(panel.bands[1], width=2.0), panel.bands[2]))
    flags = study(job, narrow).bands[1].flags
    assert [flag.code for flag in flags] == ["too_narrow"]
    assert "2.0 mm" in flags[0].text
    twins = job_of("Gorse Bank", "Brass Gauge", "Boiler Blue")
    found = study(twins, panel_of("Brass Gauge", "Boiler Blue", "Gorse Bank"))
    assert found.bands[2].twin == 0
    assert "reads_as_one" in [flag.code for flag in found.bands[2].flags]
    # The same ink brought back is no twin of itself, and no colour more.
    back = study(job, panel_of("Brass Gauge", "Boiler Blue", "Brass Gauge"))
    assert back.bands[2].twin is None
    assert (back.inks, back.colours) == (2, 3)
    assert back.evenness is not None
    assert 0 <= back.evenness <= 1
    # Ink upon ink all over: the ribbon below no longer looks like itself.
    ribbons = panel_of("Brass Gauge", "Night Train", front=Front(108, 140, Layout.RIBBONS, 90))
    assert "not_itself" not in [flag.code for flag in study(job, ribbons).bands[0].flags]
    rolled = panel_of("Brass Gauge", "Night Train", front=Front(108, 140, Layout.ROLLER, 90), rolls=2)
    assert "not_itself" in [flag.code for flag in study(job, rolled).bands[0].flags]


def test_once_more_over_a_seam_is_a_sandwich() -> None:
    job = job_of("Brass Gauge", "Carriage Plum")
    found = study(job, panel_of("Brass Gauge", "Carriage Plum", seam=Seam(12, 4, wet=False, again=True)))
    part = constants.AS_SHIPPED["panel.again"]
    light = replace(lay("Brass Gauge", 6 * part), load=Load.LIGHT)
    assert same(found.seams[0].lab, stack_lab(job, lay("Brass Gauge"), lay("Carriage Plum"), light))


def test_a_roller_lays_all_at_once_and_again_from_the_other_side() -> None:
    names = NAMES[:3]
    job = job_of(*names)
    rolled = [lay(name, 1.0, Tool.BRAYER) for name in names]
    once = study(job, panel_of(*names, front=Front(90, 140, Layout.ROLLER)))
    for k, one in enumerate(rolled):
        assert same(at(once.line, middle(once, k)), stack_lab(job, one))
    assert same(once.seams[0].lab, stack_lab(job, rolled[0], replace(rolled[1], over=Over.WET)))
    for wet in (False, True):
        panel = panel_of(*names, front=Front(90, 140, Layout.ROLLER), rolls=2, roll_wet=wet, widen_pale=False)
        twice, over = study(job, panel), Over.WET if wet else Over.DRY
        for k, one in enumerate(rolled):
            assert same(at(twice.line, middle(twice, k)), stack_lab(job, one, replace(rolled[2 - k], over=over)))


def test_ribbons_are_darker_where_they_cross_and_carry_over() -> None:
    names = ("Lamp Oil", "Ticket Pink", "Heather Bank")
    job = job_of(*names)
    panel = panel_of(*names, front=Front(108, 140, Layout.RIBBONS, 90))
    found = study(job, panel)
    assert found.work.order == (0, 1, 2)
    assert found.seams == ()
    for k in (1, 2):
        begin, end = found.placed.visible[k]
        crossing = at(found.line, begin + 0.05 * (end - begin))
        assert crossing[0] < stack_lab(job, lay(names[k]))[0] - 0.1
        # A hard edge on one side only.
        assert found.line.hardest(begin - 0.5, begin + 0.5) > 3 * found.line.hardest(begin + 1, end - 1)
    carried = study(job, replace(panel, ribbon=Ribbon(carry=True)))
    begin = found.placed.visible[1][0]
    assert not same(at(carried.line, begin + 0.5), at(found.line, begin + 0.5), 0.3)
    assert same(at(carried.line, begin + 20), at(found.line, begin + 20), 0.01)


@pytest.mark.parametrize(
    "names", [("Firebox Orange", "Boiler Blue", "Carriage Plum"), ("Brass Gauge", "Carriage Plum")]
)
def test_fixes_of_a_seam_are_worked_out_anew_and_help(names: tuple[str, ...]) -> None:
    job = job_of(*names, stash=True)
    panel = panel_of(*names, seam=Seam(4, 4))
    found = study(job, panel)
    worst = next(k for k, seam in enumerate(found.seams) if seam.flags)
    fixes = seam_fixes(job, panel, found, worst)
    assert len(fixes) > 1
    assert [fix.gain for fix in fixes] == sorted([fix.gain for fix in fixes], reverse=True)
    for fix in fixes:
        again = study(replace(fix.job, stash=Stash()), fix.panel)
        assert [seam.mud for seam in again.seams] == pytest.approx([seam.mud for seam in fix.after.seams])
        before, after = (sum(len(seam.flags) for seam in each.seams) for each in (found, again))
        mud = [max(seam.mud for seam in each.seams) for each in (found, again)]
        steep = [max(seam.hardest for seam in each.seams) for each in (found, again)]
        assert after < before or mud[1] < mud[0] - 2 or steep[1] < steep[0]
    codes = {fix.code for fix in fixes}
    assert codes & {"wider", "bridge", "gap"}
    # What is well needs no help, and there is no fourth seam.
    fine = study(job, panel_of(names[0], seam=Seam(14, 14)))
    assert fine.seams == ()
    calm = job_of("Brass Gauge", "Firebox Orange", stash=True)
    fine_panel = panel_of("Brass Gauge", "Firebox Orange", seam=Seam(14, 14))
    assert seam_fixes(calm, fine_panel, study(calm, fine_panel), 0) == ()
    with pytest.raises(JobError, match="no seam 4"):
        seam_fixes(job, panel, found, 3)


def test_work_grows_with_the_area_and_waits_for_what_is_met() -> None:
    job = job_of("Brass Gauge", "Post Box", "Boiler Blue")
    dry = Seam(10, 4, wet=False)
    small = study(job, panel_of("Brass Gauge", "Post Box")).work
    large = study(job, panel_of("Brass Gauge", "Post Box", front=Front(216, 280, angle=90))).work
    assert [step.loads for step in large.steps] > [step.loads for step in small.steps]
    assert large.minutes > 2 * small.minutes - sum(step.waits for step in small.steps)
    assert small.steps[0].waits == 0
    # A film of pigment dries far longer than a dye.
    dye, film = (
        study(job, panel_of(first, "Boiler Blue", school=School.AS_LISTED, seam=dry)).work.steps[1].waits
        for first in ("Brass Gauge", "Post Box")
    )
    assert film > 5 * max(dye, 0.1)
    # Rolled again once it is dry: so much longer, and it is said.
    roller = panel_of("Brass Gauge", "Post Box", front=Front(108, 140, Layout.ROLLER))
    rolled, again, wet = (
        study(job, replace(roller, rolls=rolls, roll_wet=into)).work
        for rolls, into in ((1, False), (2, False), (2, True))
    )
    assert rolled.minutes < wet.minutes < again.minutes - 10
    assert [note.code for note in again.notes] == ["dry_between_rolls"]
    assert rolled.notes == wet.notes == ()
    tight = study(job, panel_of("Brass Gauge", "Boiler Blue", front=Front(108, 24, angle=90))).work
    assert {note.code for note in tight.notes} == {"no_room"}


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"front": Front(0, 140)}, "10 to 1000 mm wide and high, not 0 mm wide"),
        ({"front": Front(100, 2000)}, "not 2000 mm high"),
        ({"bands": ()}, "one band at least"),
        ({"bands": (Band(lay("Brass Gauge")),) * 41}, "40 bands at most"),
        ({"front": Front(30, 30), "bands": (Band(lay("Brass Gauge")),) * 31}, "31 inks do not fit on 30 mm"),
        ({"tops": (Top(Topping.INK),)}, "names its ink"),
        ({"tops": (Top(Topping.WATER, Region(Motif.DOTS, 0, 5)),)}, "wider than 0 mm"),
        ({"tops": (Top(Topping.WATER, Region(Motif.DROPS, 5, 0.01)),)}, "2 mm away or more"),
        ({"tops": (Top(Topping.WATER, Region(Motif.OWN)),)}, "needs a path"),
        ({"tops": (Top(Topping.GLAZE),) * 5}, "4 layers on top at most"),
        ({"seams": (Seam(5, 0, gap=2),)}, "a gap and an overlap"),
    ],
)
def test_what_cannot_be_is_said(change: dict[str, object], said: str) -> None:
    job = job_of("Brass Gauge", "Boiler Blue")
    panel = replace(panel_of("Brass Gauge", "Boiler Blue"), **change)  # type: ignore[arg-type]
    panel = replace(panel, seams=(panel.seams[0],) * max(0, len(panel.bands) - 1))
    with pytest.raises(JobError, match=said):
        study(job, panel)


def painted(job: Job, panel: Panel, per_mm: float = 4.0, **more: object) -> Floats:
    found = study(job, panel)
    return picture(job, panel, found.placed, found.work.order, per_mm, **more).astype(np.float64)  # type: ignore[arg-type]


def spot(job: Job, lab: Floats) -> list[int]:
    code = cm.hexes_from_lab(lab[None], str(job.illuminant))[0]
    return [int(code[k : k + 2], 16) for k in (1, 3, 5)]


def test_what_lies_on_top_is_the_cores_stack_with_it() -> None:
    job = job_of("Rain Coat", "Heather Bank", "Steam White")
    white = lay("Steam White", 8.0, Tool.FOAM)
    tops = (
        Top(Topping.INK, Region(Motif.OWN, 20, 200, (((0, 0), (1, 0), (1, 1), (0, 1)),)), white),
        Top(Topping.WATER, Region(Motif.LINES, 30, 60)),
        Top(Topping.GLAZE),
    )
    front = Front(100, 100)
    for wet in (False, True):
        panel = panel_of("Rain Coat", "Heather Bank", front=front)
        shown = painted(job, replace(panel, tops=tops), wet=wet, specks=False)
        x, y = ((np.arange(400) + 0.5) / 4)[None], ((np.arange(400) + 0.5) / 4)[:, None]
        over = [mask(top.region, x, y) for top in tops]
        for row, column in ((200, 40), (4, 4), (240, 40), (380, 60), (200, 360), (90, 40)):
            name = "Rain Coat" if column < 100 else "Heather Bank"
            on = [white] if over[0][row, column] else []
            watered = bool(over[1][row, column])
            stack: list[LayDown | Treatment] = [lay(name), *on, Treatment.GLAZE]
            if watered:
                stack.insert(-1, Treatment.SPRITZ)
            if watered:
                found = predict(replace(job, stack=tuple(stack))).drops
                assert found is not None
                assert shown[row, column].tolist() == pytest.approx(spot(job, found.lab), abs=1)
            elif not wet:
                assert shown[row, column].tolist() == pytest.approx(spot(job, stack_lab(job, *stack)), abs=1)


def test_wet_is_another_look_and_that_of_the_core_for_one_ink() -> None:
    job = job_of("Pond Skater")
    panel = panel_of("Pond Skater")
    dry, wet = painted(job, panel, 1.0), painted(job, panel, 1.0, wet=True)
    one = stack_lab(job, lay("Pond Skater"), look=Look.WET)
    assert wet[70, 50].tolist() == pytest.approx(spot(job, one), abs=1)
    assert np.abs(dry - wet).max() > 3


def linear(coded: Floats) -> Floats:
    share = coded / 255
    return np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)


def test_specks_leave_the_mean_light_as_it_was() -> None:
    """Bare specks on textured card; in sum the light that was predicted."""
    job = job_of("Boiler Blue", card=RAG)
    panel = replace(panel_of("Boiler Blue"), bands=(Band(lay("Boiler Blue", 2.0)),))
    whole, mean = (painted(job, panel, 8.0, specks=specks) for specks in (True, False))
    assert whole.std(axis=(0, 1)).max() > 10
    assert mean.std(axis=(0, 1)).max() < 1
    assert linear(whole).mean(axis=(0, 1)) == pytest.approx(linear(mean).mean(axis=(0, 1)), rel=0.02, abs=0.002)
    smooth = painted(job_of("Boiler Blue"), panel, 8.0)
    assert smooth.std(axis=(0, 1)).max() < 0.5 * whole.std(axis=(0, 1)).max()


@pytest.mark.parametrize("layout", list(Layout))
def test_a_part_of_the_picture_is_that_part(layout: Layout) -> None:
    job = job_of(*NAMES[:3])
    panel = panel_of(*NAMES[:3], front=Front(80, 100, layout, 30), ribbon=Ribbon(Edge.TORN, 3.0))
    whole, part = painted(job, panel, 2.0), painted(job, panel, 2.0, box=(20.0, 30.0, 60.0, 80.0))
    assert part.shape == (100, 80, 3)
    # Ends of a seam may fall on another side of a pixel.
    assert (np.abs(whole[60:160, 40:120] - part).max(axis=2) > 2).mean() < 0.02
    assert (painted(job, panel, 2.0) == whole).all()


@pytest.mark.parametrize("layout", [Layout.STRAIGHT, Layout.RIBBONS])
def test_a_picture_painted_in_strips_is_the_same(layout: Layout, monkeypatch: pytest.MonkeyPatch) -> None:
    job = job_of(*NAMES[:3], card=RAG)
    panel = panel_of(*NAMES[:3], front=Front(80, 100, layout, 30), ribbon=Ribbon(Edge.TORN, 3.0))
    whole = painted(job, panel, 2.0)
    monkeypatch.setattr("wempa.craft.panels.picture._AT_ONCE", 12_000)
    assert (painted(job, panel, 2.0) == whole).mean() > 0.999
    # So is one whose line is known already, wet as well, with something on top as well.
    for more in (panel, replace(panel, tops=(Top(Topping.GLAZE, Region(Motif.DOTS, 8, 16)),))):
        line_of = study(job, more).line
        for wet in (False, True):
            known, anew = painted(job, more, 2.0, wet=wet, seen=line_of), painted(job, more, 2.0, wet=wet)
            assert np.abs(known - anew).max() <= 1


def test_a_fan_turns_all_the_way_round() -> None:
    job = job_of(*NAMES[:4])
    panel = panel_of(*NAMES[:4], front=Front(100, 100, Layout.FAN), widen_pale=False)
    found = study(job, panel)
    assert [seam.pair for seam in found.seams] == [(0, 1), (1, 2), (2, 3), (3, 0)]
    shown = painted(job, panel, 4.0)
    for k in range(4):
        turn = 2 * math.pi * middle(found, k) / found.placed.length
        row, column = int(200 + 120 * math.sin(turn)), int(200 + 120 * math.cos(turn))
        assert shown[row, column].tolist() == pytest.approx(spot(job, found.bands[k].lab), abs=1)
    # Around another point the line has two ends.
    off = replace(panel, front=replace(panel.front, centre=(0.0, 1.0)), seams=panel.seams[:3])
    assert len(study(job, off).seams) == 3


@settings(max_examples=30)
@given(st.floats(5, 60), st.floats(5, 60), st.floats(-30, 30), st.floats(-30, 30))
def test_outlines_hold_what_they_enclose(width: float, height: float, x: float, y: float) -> None:
    fine = (np.arange(400) + 0.5) / 4 - 50
    grid = fine[None], fine[:, None]
    rectangle = inside(moved(opening(Opening.RECTANGLE, width, height), x, y), *grid)
    wanted = (np.abs(grid[0] - x) <= width / 2) & (np.abs(grid[1] - y) <= height / 2)
    assert (rectangle == wanted).all()
    circle = inside(opening(Opening.CIRCLE, width, width), *grid)
    assert circle.sum() / 16 == pytest.approx(math.pi * width**2 / 4, rel=0.1)
    heart = inside(opening(Opening.HEART, width, height), *grid)
    assert 0.4 < heart.sum() / 16 / (width * height) < 0.8
    assert (heart == heart[:, ::-1]).mean() > 0.99
    banner = inside(opening(Opening.BANNER, width, 2 * width), *grid)
    assert banner.sum() <= inside(opening(Opening.RECTANGLE, width, 2 * width), *grid).sum()
    # A ring within a ring is a hole.
    outer, inner = opening(Opening.RECTANGLE, 40, 40), opening(Opening.RECTANGLE, 20, 20)
    assert inside((*outer, *inner), *grid).sum() / 16 == pytest.approx(1200, rel=0.01)


def test_motifs_cover_what_they_should() -> None:
    x, y = ((np.arange(960) + 0.5) / 6)[None], ((np.arange(960) + 0.5) / 6)[:, None]
    assert mask(Region(), x, y).all()
    assert mask(Region(Motif.DOTS, 8, 16), x, y).mean() == pytest.approx(math.pi * 16 / 256, rel=0.03)
    assert mask(Region(Motif.LINES, 4, 16), x, y).mean() == pytest.approx(0.25, rel=0.03)
    hearts = mask(Region(Motif.HEARTS, 12, 16), x, y).mean()
    assert 0.4 * 144 / 256 < hearts < 0.8 * 144 / 256
    drops = mask(Region(Motif.DROPS, 10, 16), x, y)
    assert 0.03 < drops.mean() < math.pi * 25 / 256
    assert (drops == mask(Region(Motif.DROPS, 10, 16), x, y)).all()
    # In a part of the picture they lie where they lie in the whole.
    assert (mask(Region(Motif.DROPS, 10, 16), x[:, 300:600], y[200:500]) == drops[200:500, 300:600]).all()
    with pytest.raises(JobError, match="no size"):
        opening(Opening.OWN, 10, 10, (((0, 0), (0, 0), (0, 0)),))
    with pytest.raises(JobError, match="wider and higher than 0"):
        opening(Opening.HEART, 0, 10)


def test_a_window_tells_what_is_left() -> None:
    job = job_of(*NAMES[:4])
    panel = panel_of(*NAMES[:4], widen_pale=False)
    found = study(job, panel)
    whole = through(job, panel, found, opening(Opening.RECTANGLE, 1000, 1000))
    assert sum(whole.bands) + sum(whole.seams) == pytest.approx(1, abs=0.01)
    assert whole.kept == pytest.approx([1] * 4)
    assert whole.colours == found.colours
    begin, end = found.placed.visible[2]
    within = moved(opening(Opening.CIRCLE, 12, 12), 54, (begin + end) / 2)
    one = through(job, panel, found, within)
    assert one.bands == pytest.approx((0, 0, 1, 0), abs=1e-6)
    assert one.colours == 1
    for a, b in pairwise(sorted([begin, end])):
        assert one.kept[2] == pytest.approx(math.pi * 36 / (108 * (b - a)), rel=0.05)
    nothing = through(job, panel, found, moved(within, 500, 0))
    assert nothing.colours == 0


def test_what_is_tried_on_a_seam_is_what_is_said_of_it() -> None:
    """Softer means as soft as can be, and the first band may change places as well."""
    names = ("Brass Gauge", "Firebox Orange", "Boiler Blue", "Steam Teal")
    job = job_of(*names, stash=True)
    panel = panel_of(*names, seam=Seam(3, 3))
    found = study(job, panel)
    fixes = {str(fix.code): fix for at in range(3) for fix in seam_fixes(job, panel, found, at)}
    assert {seam.soft for seam in fixes["softer"].panel.seams} == {None, 1.0}
    assert all(seam.overlap in (None, 3) for seam in fixes["softer"].panel.seams)
    first = panel_of("Gorse Bank", "Firebox Orange", "Boiler Blue", seam=Seam(8, 8))
    both = job_of("Gorse Bank", "Firebox Orange", "Boiler Blue", stash=True)
    told = [fix.text for fix in seam_fixes(both, first, study(both, first), 1)]
    assert "Let Firebox Orange and Gorse Bank change places." in told
    # Stripes are neither dried nor worked at once.
    apart = panel_of(*names[:3], seam=Seam(0, 0))
    tried = {fix.code for at in range(2) for fix in seam_fixes(job, apart, study(job, apart), at)}
    assert tried
    assert not tried & {"let_dry", "into_the_wet", "once_more"}


@pytest.mark.parametrize(("width", "height"), [(0, 10), (10, 0), (-1, 10), (10, -1)])
def test_a_window_without_a_size_is_none(width: float, height: float) -> None:
    with pytest.raises(JobError, match="wider and higher than 0 mm"):
        opening(Opening.RECTANGLE, width, height)


def test_a_motif_without_a_size_is_not_painted() -> None:
    spots_ = np.linspace(0, 10, 5)
    for region in (Region(Motif.DOTS, size=0), Region(Motif.DOTS, size=4, step=0.5), Region(Motif.OWN, own=())):
        with pytest.raises(JobError, match="motif"):
            mask(region, spots_[None], spots_[:, None])
