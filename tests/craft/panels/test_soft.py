"""Panels as a hand blends them: soft fades, short seams where colours ask for them, bands that deepen and fade."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Stash, Swatch
from wempa.craft.limits import MAX_BANDS
from wempa.craft.panels.bands import Band, Seam, place, share
from wempa.craft.panels.colours import stacks_at, strokes
from wempa.craft.panels.fixes import seam_fixes
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.picture import picture
from wempa.craft.panels.study import Study, study, ways_to_blend
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import BandShape, Formula, Layout, Surface, Tool, VerdictKind
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as InkObject
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

DEMO = {body["name"]: InkObject.model_validate(body["body"]).to_core() for body in ink_bodies()}
TABLE = constants.AS_SHIPPED
HARD = TABLE["seam.hard"]
SUNRISE = ("Brass Gauge", "Firebox Orange", "Platform Rose", "Carriage Plum")


def lay(key: str, tool: Tool = Tool.BRUSH, passes: float = 6.0) -> LayDown:
    return LayDown(((key, 1.0),), tool=tool, passes=passes)


def demo_job(*names: str, surface: Surface = Surface.SMOOTH) -> Job:
    return Job(Card(Colour(hex="#f8f7f4"), surface), tuple((name, DEMO[name]) for name in names))


def demo_panel(*names: str, seam: Seam = Seam(), front: Front | None = None, **more: object) -> Panel:  # noqa: B008
    front = front or Front(108, 140, angle=90)
    joins = len(names) - (not front.closed)
    return Panel(front, tuple([Band(lay(name)) for name in names]), (seam,) * joins, **more)  # type: ignore[arg-type]


def random_panel(seed: int, count: int, apart: tuple[float, float], surface: Surface) -> tuple[Job, Panel]:
    """Inks of any formula of which neighbours lie so many degrees apart, laid with the tool each is first laid with."""
    rng = random.Random(seed)
    hue, inks, bands = rng.uniform(0, 360), [], []
    for k in range(count):
        light, chroma = rng.uniform(35, 85), rng.uniform(25, 70)
        lab = np.array([[light, chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))]])
        formula = rng.choice(list(Formula))
        inks.append((f"i{k}", Ink(Swatch(Colour(hex=cm.hexes_from_lab(lab, "D65")[0])), formula, f"Ink {k}")))
        bands.append(Band(lay(f"i{k}", Tool.FOAM if formula is Formula.PIGMENT else Tool.BRUSH, 5.0)))
        hue += rng.choice([-1, 1]) * rng.uniform(*apart)
    panel = Panel(Front(108, 140, angle=90), tuple(bands), (Seam(),) * (count - 1))
    return Job(Card(Colour(hex="#f8f7f4"), surface), tuple(inks)), panel


def middle(found: Study, k: int) -> float:
    return (found.bands[k].begin + found.bands[k].end) / 2


def opposite(found: Study) -> bool:
    return any(seam.chosen is not None for seam in found.seams)


@pytest.mark.parametrize("surface", [Surface.SMOOTH, Surface.WATERCOLOUR, Surface.COATED])
def test_three_neighbours_make_five_colours_without_a_line(surface: Surface) -> None:
    tried = 0
    for seed in range(12):
        job, panel = random_panel(seed, 3, (20, 90), surface)
        found = study(job, panel)
        if opposite(found):
            continue
        tried += 1
        for k, band in enumerate(found.bands):
            own = predict(replace(job, stack=(panel.bands[k].lay,))).colour.lab
            assert float(cm.delta_e(band.lab, own)) < 12
        for seam in found.seams:
            assert seam.hardest <= HARD
            assert (seam.both[1] - seam.both[0]) / found.placed.length >= 0.1
            assert (seam.end - seam.begin) / found.placed.length >= 0.1
            assert not {flag.code for flag in seam.flags} & {"hard_line", "swamped"}
    assert tried >= 9


def test_seven_inks_seldom_leave_a_line() -> None:
    hard = tried = 0
    for seed in range(14):
        found = study(*random_panel(100 + seed, 7, (20, 90), Surface.SMOOTH))
        if opposite(found):
            continue
        tried += 1
        hard += any(seam.hardest > HARD for seam in found.seams)
    assert tried >= 10
    assert hard <= tried // 10


def test_a_soft_blend_changes_evenly_and_stripes_all_at_once() -> None:
    job = demo_job(*SUNRISE)
    soft = study(job, demo_panel(*SUNRISE))
    for joint, seam in zip(soft.placed.seams, soft.seams, strict=True):
        fine = np.arange(joint.first + 1, joint.last - 1, 0.5)
        lab = soft.line.lab_at(fine)
        rate = cm.delta_e(lab[1:], lab[:-1])
        assert rate.max() < 2 * rate.mean()
        # The half of the change in the middle is the in-between.
        ends = soft.line.lab_at(np.array([joint.first, seam.begin, seam.end, joint.last]))
        steps = cm.delta_e(ends[1:], ends[:-1])
        assert 0.25 < steps[1] / steps.sum() < 0.65
    assert [seam.hardest < HARD for seam in soft.seams] == [True] * 3
    for panel in (demo_panel(*SUNRISE, soft=0.0), demo_panel(*SUNRISE, seam=Seam(soft=0.0))):
        stripes = study(job, panel)
        assert all(joint.overlap == 0 for joint in stripes.placed.seams)
        assert all(seam.hardest > HARD for seam in stripes.seams)
        widths = [band.end - band.begin for band in stripes.bands]
        assert sum(widths) == pytest.approx(140)
    # Stripes that are asked for on the whole panel are no fault; one among soft seams is told.
    assert not any(seam.flags for seam in study(job, demo_panel(*SUNRISE, soft=0.0)).seams)
    assert stripes.seams[0].flags[0].code == "hard_line"


def test_softness_reaches_from_nothing_to_the_middles_of_the_bands() -> None:
    bands = [Band(lay("a"))] * 3
    for soft, reach in ((0.3, 0.27), (1.0, 0.9)):
        found = place(140, bands, [Seam()] * 2, reach=[reach] * 2, fade=0.85)
        wide = found.visible[0][1] - found.visible[0][0]
        joint = found.seams[0]
        assert joint.end - joint.begin == pytest.approx(reach * wide)
        assert joint.begin - joint.first == pytest.approx(reach * wide / 2)
        assert joint.last - joint.end == pytest.approx(reach * wide / 2)
        assert joint.overlap == pytest.approx(2 * reach * wide), soft
    # In the middle of a blend lies some two thirds of both, and at a band's middle nothing but its own.
    assert share(found, np.array([joint.first + joint.overlap / 2]))[0, :2] == pytest.approx([0.63, 0.63], abs=0.01)
    assert share(found, np.array([70.0]))[0].tolist() == [0, 1, 0]
    # Where every width is locked what is left goes to the in-betweens.
    held = place(140, [Band(lay("a"), width=40)] * 3, [Seam()] * 2, reach=[0.9] * 2, fade=0.85)
    assert [round(end - begin, 6) for begin, end in held.visible] == [40, 40, 40]
    assert [joint.end - joint.begin for joint in held.seams] == pytest.approx([10, 10])


def test_in_betweens_can_be_as_wide_as_the_inks() -> None:
    job = demo_job(*SUNRISE)
    found = study(job, demo_panel(*SUNRISE, count_between=True, widen_pale=False))
    widths = [band.end - band.begin for band in found.bands] + [seam.end - seam.begin for seam in found.seams]
    assert widths == pytest.approx([20.0] * 7)
    assert found.colours == 7


def test_both_lie_where_either_has_a_twentieth_at_least() -> None:
    found = study(demo_job(*SUNRISE), demo_panel(*SUNRISE))
    for seam in found.seams:
        there = share(found.placed, np.array(seam.both))
        least = there[:, list(seam.pair)].min(axis=1)
        assert least == pytest.approx([0.05, 0.05], abs=0.01)
        assert found.placed.seams[seam.pair[0]].first < seam.both[0] < seam.begin + 3


@pytest.mark.parametrize("layout", [Layout.STRAIGHT, Layout.RINGS, Layout.FAN, Layout.EDGE])
def test_the_picture_is_what_prediction_gives_at_any_spot(layout: Layout) -> None:
    job, panel = demo_job(*SUNRISE), demo_panel(*SUNRISE, front=Front(108, 140, layout, 90))
    found = study(job, panel)
    rng = np.random.default_rng(4)
    at = rng.uniform(0, found.placed.length, 30)
    stacks, which = stacks_at(strokes(job, found.panel, found.placed, found.work.order, at), 65536)
    own = np.array([predict(replace(job, stack=stack)).colour.lab for stack in stacks])[which]
    assert cm.delta_e(own, found.line.lab_at(at)).max() < 0.5
    if layout is Layout.STRAIGHT:
        painted = picture(job, found.panel, found.placed, found.work.order, 4.0, specks=False, seen=found.line)
        codes = cm.hexes_from_lab(own, "D65")
        for x, code in zip(at, codes, strict=True):
            spot = painted[min(559, int(x * 4)), 200].astype(int)
            assert np.abs(spot - [int(code[n : n + 2], 16) for n in (1, 3, 5)]).max() <= 4


def test_opposites_meet_shortly_or_not_at_all_and_say_why() -> None:
    job = demo_job("Firebox Orange", "Boiler Blue", "Steam Teal")
    found = study(job, demo_panel("Firebox Orange", "Boiler Blue", "Steam Teal"))
    short, soft = found.seams
    assert short.chosen is not None
    assert short.chosen.code == "short_seam"
    assert short.chosen.text == (
        "Firebox Orange and Boiler Blue are opposites: they meet over 5 mm only, which keeps both clear."
    )
    assert found.placed.seams[0].overlap == pytest.approx(TABLE["panel.narrow"])
    assert short.flags == ()
    assert short.muddy_mm <= TABLE["seam.mud_seen"]
    assert soft.chosen is None
    # Where even so much would be seen to be muddy, card is left bare.
    strict = replace(job, constants=(("seam.mud_seen", 0.5),))
    bare = study(strict, demo_panel("Firebox Orange", "Boiler Blue", "Steam Teal"))
    assert bare.seams[0].chosen is not None
    assert bare.seams[0].chosen.code == "bare_gap"
    assert "2 mm of bare card" in bare.seams[0].chosen.text
    gap = bare.placed.seams[0]
    assert gap.end - gap.begin == gap.gap == TABLE["panel.gap"]
    # Who says a width has it, mud and all.
    said = study(job, demo_panel("Firebox Orange", "Boiler Blue", "Steam Teal", seam=Seam(overlap=30)))
    assert said.seams[0].chosen is None
    assert "muddy" in [flag.code for flag in said.seams[0].flags]
    # What is chosen can still be bridged.
    codes = [fix.code for fix in seam_fixes(replace(job, stash=Stash(tuple(DEMO.items()))), found.panel, found, 0)]
    assert "bridge" in codes


def test_a_wide_change_gets_more_room_until_no_line_is_seen() -> None:
    names = ("Brass Gauge", "Carriage Plum", "Night Train", "Steam Teal", "Gorse Bank")
    job = demo_job(*names)
    panel = demo_panel(*names, front=Front(108, 90, angle=90))
    wide = study(job, panel)
    tight = study(replace(job, constants=(("seam.calm", 1.0), ("seam.hard", 40.0))), panel)
    assert any(seam.soft is not None and seam.soft > 1 for seam in wide.panel.seams)
    assert all(seam.soft is None for seam in tight.panel.seams)
    assert max(seam.hardest for seam in wide.seams) < max(seam.hardest for seam in tight.seams)


def test_neighbours_that_blend_are_worked_at_once_and_nothing_waits() -> None:
    job = demo_job(*SUNRISE)
    at_once, dry = study(job, demo_panel(*SUNRISE)), study(job, demo_panel(*SUNRISE, seam=Seam(wet=False)))
    assert [step.waits for step in at_once.work.steps] == [0, 0, 0, 0]
    assert at_once.work.steps[1].why == "To and fro with Brass Gauge while both are open."
    assert all(step.waits > 0 for step in dry.work.steps[1:])
    assert "is dry" in dry.work.steps[1].why
    pigments = ("Post Box", "Steam Teal")
    fresh, layered = (study(demo_job(*pigments), demo_panel(*pigments, seam=Seam(wet=wet))) for wet in (None, False))
    assert layered.work.minutes > fresh.work.minutes + 2
    # A film that would dry under the hand is worked in parts; dyes mix when re-wetted.
    films = study(demo_job("Boiler Blue", "Steam Teal"), demo_panel("Boiler Blue", "Steam Teal"))
    assert [note.code for note in films.work.notes] == ["in_parts"]
    assert "Steam Teal stays open for about 2 min: work it with Boiler Blue in" in films.work.notes[0].text
    assert at_once.work.notes == ()


def test_what_softness_costs_is_told() -> None:
    job = demo_job(*SUNRISE)
    ways = ways_to_blend(job, demo_panel(*SUNRISE[:2]))
    assert [(way.soft, way.words) for way in ways] == [(0.0, "stripes"), (0.3, "short seams"), (1.0, "soft")]
    assert ways[0].minutes < ways[1].minutes < ways[2].minutes
    # 60 mm of fade takes a brush of 20 mm nine lighter passes in place of six.
    wide = study(job, demo_panel(*SUNRISE[:2])).placed.seams[0]
    assert ways[2].passes == np.ceil(wide.feather / (0.35 * 20)) > ways[0].passes == 6
    assert ways_to_blend(job, demo_panel(*SUNRISE[:2], front=Front(108, 140, Layout.STRIPES))) == ()
    assert ways_to_blend(job, demo_panel(SUNRISE[0])) == ()


def shaped(shape: BandShape, *names: str) -> Study:
    panel = demo_panel(*names)
    bands = (*panel.bands[:-1], replace(panel.bands[-1], shape=shape))
    return study(demo_job(*names), replace(panel, bands=bands))


def amounts(found: Study, at: Floats, k: int) -> list[float]:
    return [round(float(each), 3) for each in share(found.placed, at)[:, k]]


def test_one_ink_fades_to_bare_card() -> None:
    found = shaped(BandShape.FADING, "Boiler Blue")
    ends = np.array([0.0, 140.0])
    assert amounts(found, ends, 0) == [1, 0]
    card = predict(demo_job("Boiler Blue")).colour.lab
    assert float(cm.delta_e(found.line.lab[-1], card)) < 0.1
    lab = found.line.lab_at(np.arange(0, 140.1, 5.0))
    rate = cm.delta_e(lab[1:], lab[:-1])
    assert rate.max() < 2 * rate.mean()
    assert found.bands[0].flags == ()
    assert found.line.hardest(0, 140) < HARD


def test_a_band_deepens_towards_the_edge_or_is_begun_in_its_centre() -> None:
    deeper = shaped(BandShape.DEEPER, "Brass Gauge", "Boiler Blue")
    begin, _ = deeper.placed.core(1)
    assert amounts(deeper, np.array([begin, 140.0]), 1) == [1, 2]
    assert deeper.line.lab[-1][0] < deeper.line.lab_at(np.array([begin]))[0][0] - 2
    assert [step.passes for step in deeper.work.steps if step.band == 1] == [12]
    centre = shaped(BandShape.CENTRE, "Brass Gauge", "Boiler Blue")
    begin, end = centre.placed.core(1)
    assert amounts(centre, np.array([begin, (begin + end) / 2, 140.0]), 1) == [1.5, 1.5, 0.35]
    joint = centre.placed.seams[0]
    halfway = np.array([joint.step(np.array([x]))[0] for x in (joint.first, joint.last)])
    assert halfway.tolist() == pytest.approx([0, 1])
    assert centre.bands[1].flags == ()
    alone = shaped(BandShape.CENTRE, "Boiler Blue")
    assert amounts(alone, np.array([0.0, 70.0, 140.0]), 0) == [0.35, 1.5, 0.35]
    # Between two that it blends into, a band begun in its centre is deepest there.
    panel = demo_panel(*SUNRISE[:3])
    inner = replace(panel, bands=(panel.bands[0], replace(panel.bands[1], shape=BandShape.CENTRE), panel.bands[2]))
    found = study(demo_job(*SUNRISE[:3]), inner)
    assert amounts(found, np.array([middle(found, 1)]), 1) == [1.5]
    assert amounts(found, np.array([found.placed.seams[0].begin]), 1)[0] < 0.7


def test_a_first_colour_brought_back_and_two_dozen_inks() -> None:
    names = (*SUNRISE, SUNRISE[0])
    job = demo_job(*SUNRISE)
    back = study(job, demo_panel(*names))
    assert (back.inks, len(back.bands)) == (4, 5)
    assert float(cm.delta_e(back.bands[0].lab, back.bands[4].lab)) < 0.1
    many = list(DEMO)[:24]
    found = study(demo_job(*many), demo_panel(*many, front=Front(108, 200, angle=90)))
    assert len(found.bands) == 24
    assert sorted(found.work.order) == list(range(24))
    for k, band in enumerate(found.bands):
        own = predict(replace(demo_job(*many), stack=(lay(many[k]),))).colour.lab
        assert float(cm.delta_e(band.lab, own)) < 12


def test_swamped_only_where_an_ink_is_nowhere_seen_as_itself() -> None:
    # Under a roller's second turn nothing of the pale ink is left.
    job = demo_job("Brass Gauge", "Night Train")
    soft = study(job, demo_panel("Brass Gauge", "Night Train"))
    assert [seam.kind for seam in soft.seams] != [VerdictKind.SWAMPED]
    rolled = study(job, demo_panel("Brass Gauge", "Night Train", front=Front(108, 140, Layout.ROLLER, 90), rolls=2))
    assert "not_itself" in [flag.code for flag in rolled.bands[0].flags]


def test_the_paler_ink_of_a_line_goes_over_it_again() -> None:
    for names, paler in (
        (("Brass Gauge", "Night Train"), "Brass Gauge"),
        (("Night Train", "Brass Gauge"), "Brass Gauge"),
    ):
        found = study(demo_job(*names), demo_panel(*names, seam=Seam(0.0, 0.0)))
        assert [flag.text for flag in found.seams[0].flags if flag.code == "hard_line"] == [
            f"You may see a line between {names[0]} and {names[1]}: go over it once more, lightly, with {paler}."
        ]


def test_what_is_worked_at_once_is_what_mixes_wet() -> None:
    names = ("Post Box", "Steam Teal")
    job = demo_job(*names)
    for wet in (True, False):
        found = study(job, demo_panel(*names, seam=Seam(overlap=30, wet=wet)))
        at = np.array([found.placed.seams[0].first + 15])
        (stack,), _ = stacks_at(strokes(job, found.panel, found.placed, found.work.order, at), 65536)
        assert [entry.over == "wet" for entry in stack] == [False, wet]


def test_as_many_bands_as_there_may_be_and_not_one_more() -> None:
    job = demo_job("Boiler Blue")
    for count, fits in ((MAX_BANDS, True), (MAX_BANDS + 1, False)):
        panel = demo_panel(*["Boiler Blue"] * count, front=Front(108, 400, angle=90))
        if fits:
            assert len(study(job, panel).bands) == count
        else:
            with pytest.raises(JobError, match=f"{MAX_BANDS} bands at most, not {count}"):
                study(job, panel)


def test_what_a_way_costs_is_what_the_panel_takes_blended_so() -> None:
    names = ("Firebox Orange", "Boiler Blue", "Steam Teal")
    job = demo_job(*names)
    for way in ways_to_blend(job, demo_panel(*names)):
        work = study(job, demo_panel(*names, soft=way.soft)).work
        assert way.minutes == pytest.approx(work.minutes, rel=0.02)
        assert way.passes == max(step.passes for step in work.steps)


def test_how_soft_a_seam_is_as_it_lies() -> None:
    soft, short = (study(demo_job(*SUNRISE), demo_panel(*SUNRISE, soft=each)).seams for each in (1.0, 0.3))
    assert [seam.soft for seam in soft] == pytest.approx([1, 1, 1], abs=0.01)
    assert [seam.soft for seam in short] == pytest.approx([0.3, 0.3, 0.3], abs=0.01)
    kept = study(demo_job("Firebox Orange", "Boiler Blue"), demo_panel("Firebox Orange", "Boiler Blue")).seams[0]
    assert 0 < kept.soft < 0.1
