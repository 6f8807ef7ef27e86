"""What of learning, practice and the squares to lay is a rule, number by number, worked out by hand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import exp, log

import numpy as np
import pytest

from tests.craft.log.worlds import INKS, MANY, SNOW, job_of, lay, seen_in, with_rows
from wempa.craft import constants
from wempa.craft.colour.naming import compare
from wempa.craft.constants import TABLE
from wempa.craft.job import Colour, DarkSwatch, Job, Swatch
from wempa.craft.log.guessing import CHOICES, LATER, Mistake, Round, due, mistake, question
from wempa.craft.log.knobs import Knob, knobs_of, moved
from wempa.craft.log.learning import Fit, learn, reworded, seen_lab, surer
from wempa.craft.log.lines import own_line
from wempa.craft.log.next_squares import next_squares
from wempa.craft.log.observations import Believed, Observation, believed_of
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.log.told import LessonSaid, gain_said, lessons, notes_of, share_said
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Formula, Illuminant, Known, Load, Look, Tool, Treatment, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point

T = constants.AS_SHIPPED
JOBS = [job_of(*stack) for stack in MANY]

# -- what is told --------------------------------------------------------------------


def fit_of(knobs: Sequence[Knob], at: Sequence[float], doubt: Sequence[float], world: Supposed, **more: object) -> Fit:
    plain: dict[str, object] = {
        "adopted": True,
        "before": (4.0, 4.0),
        "after": (2.0, 2.0),
        "errors": np.zeros((0, 2)),
        "strange": (),
        "contrary": (),
    }
    return Fit(world=world, knobs=tuple(knobs), at=np.array(at), doubt=np.array(doubt), **{**plain, **more})  # type: ignore[arg-type]


def told(of: str, key: str, what: str, at: float, doubt: float = 0.3, **more: object) -> list[LessonSaid]:
    """What is said of one knob that stands so."""
    believed = believed_of(JOBS)
    rows = {} if of != "row" else {key: TABLE[key].value * float(more.pop("factor"))}  # type: ignore[arg-type]
    knob = Knob(of, key, what, lambda world, _: world, frozenset({0}), float(more.pop("dose", 0.0)))  # type: ignore[arg-type]
    world = replace(Supposed.of(believed), rows=rows)
    return lessons(fit_of([knob], [at], [doubt], world), believed, ["Snow"], T)


def test_a_card_is_told_by_what_it_does() -> None:
    said = {
        ("floor", 1.0): "Snow stays lighter under much ink than I thought.",
        ("floor", -1.0): "Snow gets darker under much ink than I thought.",
        ("absorbency", 1.0): "Snow drinks more ink than I thought.",
        ("absorbency", -1.0): "Snow drinks less ink than I thought.",
        ("texture", 1.0): "Snow is rougher than I thought: more specks.",
        ("texture", -1.0): "Snow is smoother than I thought: fewer specks.",
        ("exchange", -1.0): "On Snow the ink laid first gives way less than I thought.",
        ("takeup", 1.0): "Snow takes more of a second print than I thought.",
        ("takeup", -1.0): "Snow takes less of a second print than I thought.",
    }
    for (what, at), text in said.items():
        assert told("card", "0", what, at) == [LessonSaid("card", "0", text, None)]
    # Fully shared is what it was taken for, and how dots spread is nobody's business.
    assert told("card", "0", "exchange", 1.0) == []
    assert told("card", "0", "n", 1.0) == []


def test_an_ink_is_told_by_what_it_does() -> None:
    (strong,) = told("ink", "red", "strength", 1.0, dose=log(1.25))
    assert strong.text == "Flag Red comes on stronger: about a quarter more than its swatch says."
    assert strong.factor == pytest.approx(1.25)
    (weak,) = told("ink", "red", "strength", -1.0, dose=log(1.5))
    assert weak.text == "Flag Red comes on weaker: about a third less than its swatch says."
    # Under seven in a hundred there is nothing to say.
    assert told("ink", "red", "strength", 1.0, dose=log(1.06)) == []
    assert len(told("ink", "red", "strength", 1.0, dose=log(1.08))) == 1
    said = {
        ("hiding", 1.0): "Cornflower Jug covers better than I thought.",
        ("hiding", -1.0): "Cornflower Jug covers less than I thought.",
        ("soak_share", 1.0): "More of Cornflower Jug soaks in than I thought.",
        ("soak_share", -1.0): "Less of Cornflower Jug soaks in than I thought.",
        ("lift", 1.0): "Water takes more of Cornflower Jug away than I thought.",
        ("lift", -1.0): "Water takes less of Cornflower Jug away than I thought.",
    }
    for (what, at), text in said.items():
        assert told("ink", "jug", what, at) == [LessonSaid("ink", "jug", text, None)]
    # A colour that moved by less than an eye sees, and a trace of scatter, say nothing to anybody.
    assert told("ink", "jug", "redder", 1.0) == []
    assert told("ink", "jug", "trace", 1.0) == []


@pytest.mark.parametrize(
    ("row", "factor", "of", "text"),
    [
        ("tool.brush.amount", 0.67, "hand", "Your brush lays about a third less than I thought."),
        ("tool.stamp.amount", 1.2, "hand", "Your print lays about a fifth more than I thought."),
        ("tool.foam.build", 1.2, "hand", "With your foam each pass adds more to the ones before than I thought."),
        ("tool.foam.build", 0.8, "hand", "With your foam each pass adds less to the ones before than I thought."),
        ("tool.dip.patch", 1.02, "hand", "One dip of yours covers more of the card than I thought."),
        ("tool.dip.patch", 0.98, "hand", "One dip of yours covers less of the card than I thought."),
        ("tool.brush.cover", 1.02, "hand", "Your brush leaves fewer bare specks than I thought."),
        ("tool.brush.cover", 0.98, "hand", "Your brush leaves more bare specks than I thought."),
        ("load.juicy", 1.25, "hand", "Juicy is about a quarter more with you."),
        ("load.light", 0.5, "hand", "Light is about half as much with you."),
        ("formula.dye.lays", 1.1, "formula", "All that is dye comes to about a tenth more than I thought."),
        ("wet.floor", 1.2, "look", "Wet card looks less deep with you than I thought."),
        ("wet.floor", 0.8, "look", "Wet card looks deeper with you than I thought."),
        ("glaze.floor", 1.2, "look", "Your topcoat deepens less than I thought."),
        ("glaze.floor", 0.8, "look", "Your topcoat deepens more than I thought."),
        ("capacity.film", 1.2, "look", "One go builds up more film than I thought."),
        ("capacity.film", 0.8, "look", "One go builds up less film than I thought."),
        ("formula.hybrid.wet_pores", 1.2, "look", "Wet, inks that are hybrid look deeper than I thought."),
        ("formula.hybrid.wet_pores", 0.8, "look", "Wet, inks that are hybrid look less deep than I thought."),
        ("formula.dye.wet_vividness", 1.02, "look", "Wet, inks that are dye look more vivid than I thought."),
        ("formula.dye.wet_vividness", 0.98, "look", "Wet, inks that are dye look less vivid than I thought."),
        ("formula.hybrid.wet_scatter", 1.2, "look", "Wet, inks that are hybrid look cloudier than I thought."),
        ("formula.hybrid.glaze_scatter", 1.2, "look", "A topcoat clears inks that are hybrid less than I thought."),
        ("formula.hybrid.heat_paling", 1.2, "look", "Heat pales inks that are hybrid more than I thought."),
        ("formula.hybrid.milk", 0.8, "look", "Where water dried, inks that are hybrid go less milky than I thought."),
    ],
)  # fmt: skip
def test_a_row_of_the_table_is_told_by_what_one_sees(row: str, factor: float, of: str, text: str) -> None:
    what = row.rsplit(".", 1)[-1]
    (found,) = told("row", row, what, 1.0, 0.1, factor=factor)
    assert (found.of, found.text) == (of, text)
    assert found.factor == pytest.approx(factor)


def test_what_hardly_moved_or_is_hardly_known_is_not_told() -> None:
    assert told("card", "0", "floor", 0.34) == []
    assert len(told("card", "0", "floor", 0.36)) == 1
    assert told("card", "0", "floor", 2.0, doubt=0.94) == []
    assert len(told("card", "0", "floor", 2.0, doubt=0.92)) == 1
    # How passes add up is told only where it is surer than that: twice its doubt.
    assert told("row", "tool.brush.build", "build", 0.58, factor=0.8) == []
    assert len(told("row", "tool.brush.build", "build", 0.62, factor=0.8)) == 1
    assert told("row", "tool.brush.amount", "amount", 1.0, factor=1.06) == []
    assert told("row", "margin.words", "words", 1.0, factor=2.0) == []


def test_how_sure_of_a_hand_is_said_where_it_is_in_doubt() -> None:
    wide = T["learn.hand"]
    (sure,) = told("row", "tool.brush.amount", "amount", 1.0, 0.07 / wide, factor=1.5)
    (doubtful,) = told("row", "tool.brush.amount", "amount", 1.0, 0.2 / wide, factor=1.5)
    assert sure.text == "Your brush lays about half as much again as I thought."
    assert doubtful.text == "Your brush lays about half as much again as I thought, give or take a fifth."


def test_hands_are_told_first_then_ranges_inks_looks_and_cards() -> None:
    believed = believed_of(JOBS)

    def still(world: Supposed, _: float) -> Supposed:
        return world

    some = frozenset({0})
    knobs = [
        Knob("card", "0", "floor", still, some),
        Knob("row", "wet.floor", "floor", still, some),
        Knob("ink", "red", "hiding", still, some),
        Knob("range", "Footplate", "strength", still, some),
        Knob("row", "tool.brush.amount", "amount", still, some),
        Knob("ink", "jug", "lighter", still, some),
        Knob("ink", "jug", "redder", still, some),
    ]
    rows = {name: TABLE[name].value * 1.3 for name in ("wet.floor", "tool.brush.amount")}
    paler = replace(believed.inks["jug"], swatch=Swatch(Colour(hex="#6488d0")))
    fit = fit_of(knobs, [1.0] * 7, [0.2] * 7, Supposed({**believed.inks, "jug": paler}, believed.cards, rows))
    found = lessons(fit, believed, ["Snow"], T)
    assert [each.of for each in found] == ["hand", "range", "ink", "ink", "look", "card"]
    assert found[1].factor == pytest.approx(exp(T["learn.range"]))
    assert found[1].text.startswith("Inks of Footplate come to ")
    # Of one ink all that its colour has moved is one sentence.
    assert found[3].text == "Cornflower Jug is lighter than its swatch says."


@pytest.mark.parametrize(
    ("factor", "said"),
    [
        (1.12, "about a tenth more"), (1.13, "about a seventh more"), (0.81, "about a fifth less"),
        (1.57, "about three fifths more"), (0.43, "about three fifths less"), (1.29, "about a quarter more"),
        (1.38, "about two fifths more"), (0.36, "about two thirds less"),
        (1.84, "about three quarters more"), (1.86, "about twice as much"), (2.49, "about twice as much"),
        (2.51, "more than twice as much"),
    ],
)  # fmt: skip
def test_shares_are_said_to_the_nearest(factor: float, said: str) -> None:
    assert share_said(factor) == said


def test_shares_are_held_against_something() -> None:
    said = [share_said(factor, "I thought") for factor in (0.5, 0.67, 1.33, 1.5, 2.0, 3.0)]
    assert said == [
        "about half as much as I thought",
        "about a third less than I thought",
        "about a third more than I thought",
        "about half as much again as I thought",
        "about twice as much as I thought",
        "more than twice as much as I thought",
    ]


@pytest.mark.parametrize(
    ("after", "said"),
    [
        (3.5, "a little nearer"), (3.39, "clearly nearer"), (2.41, "clearly nearer"), (2.39, "nearly twice as near"),
        (2.01, "nearly twice as near"), (1.99, "more than twice as near"),
    ],
)  # fmt: skip
def test_a_gain_is_said_by_what_is_left(after: float, said: str) -> None:
    fit = fit_of([], [], [], Supposed.of(believed_of([])), before=(9.0, 4.0), after=(9.0, after))
    assert gain_said(fit) == f"Swatches that I had not looked at are predicted {said}."
    assert gain_said(replace(fit, after=(9.0, 0.0))) == ""


def test_each_note_names_its_swatches() -> None:
    world = Supposed.of(believed_of([]))
    fit = fit_of([], [], [], world, adopted=False, strange=(1,), contrary=((0, 2),))
    assert [note.code for note in notes_of(fit, ["A", "B", "C"])] == ["contrary", "strange", "not_better"]
    assert notes_of(fit, ["A", "B", "C"])[0].text.startswith("A and C were laid alike")
    assert [note.code for note in notes_of(replace(fit, few=True), ["A", "B", "C"])] == [
        "too_few", "contrary", "strange",
    ]  # fmt: skip
    assert notes_of(fit_of([], [], [], world), []) == []


# -- what may be moved ---------------------------------------------------------------


def asked_of(jobs: Sequence[Job], drops: bool = False, believed: Believed | None = None) -> dict[str, Knob]:
    seen = [Observation(job, SNOW.colour, 1.0, drops) for job in jobs]
    found = knobs_of(believed or believed_of(jobs), seen, T)
    return {f"{knob.of} {knob.key} {knob.what}": knob for knob in found}


def rows_of(knobs: dict[str, Knob]) -> set[str]:
    return {knob.key for knob in knobs.values() if knob.of == "row"}


def dose(ink: str, much: float = 1.0) -> object:
    return replace(lay(ink), tool=None, passes=1.0, dose=much)


def test_only_what_shows_is_asked_for() -> None:
    brushed = rows_of(asked_of([job_of(lay("blue", 4))]))
    assert brushed == {"tool.brush.amount", "tool.brush.cover", "tool.brush.build", "formula.dye.lays"}
    foamed = rows_of(asked_of([job_of(lay("jug", 4, Tool.FOAM, load=Load.JUICY))]))
    assert foamed == {
        "tool.foam.amount", "tool.foam.cover", "tool.foam.build", "load.juicy", "formula.pigment.lays", "capacity.film",
    }  # fmt: skip
    # A print is not worked to and fro; a dip lies in patches; a pad pressed on is what swatches are measured by.
    assert rows_of(asked_of([job_of(lay("blue", 1, Tool.STAMP))])) == {
        "tool.stamp.amount", "tool.stamp.cover", "formula.dye.lays",
    }  # fmt: skip
    assert "tool.dip.patch" in rows_of(asked_of([job_of(lay("blue", 1, Tool.DIP))]))
    assert "tool.pad.amount" not in rows_of(asked_of([job_of(lay("blue", 1, Tool.PAD))]))
    assert rows_of(asked_of([job_of(dose("blue"))])) == set()
    assert rows_of(asked_of([job_of(dose("blue"), dose("red"))])) == {"takeup.strength"}
    three = asked_of([job_of(dose("blue"), dose("red")), job_of(dose("blue"), dose("red"), dose("yellow"))])
    assert rows_of(three) == {"takeup.strength", "takeup.third"}
    assert three["row takeup.third third"].touches == {1}
    assert three["row takeup.strength strength"].touches == {0, 1}
    wet = rows_of(asked_of([job_of(lay("blue"), look=Look.WET)])) - brushed
    assert wet == {"wet.floor", "formula.dye.wet_pores", "formula.dye.wet_vividness", "formula.dye.wet_scatter"}
    treated = {
        Treatment.GLAZE: {"glaze.floor", "formula.dye.glaze_scatter"},
        Treatment.BLOT: {"blot.dose"},
        Treatment.HEAT: {"formula.dye.heat_paling"},
    }
    for treatment, own in treated.items():
        assert rows_of(asked_of([job_of(lay("blue"), treatment)])) - brushed <= own
        assert rows_of(asked_of([job_of(lay("blue"), treatment)])) & own or not own


def test_of_an_ink_only_what_it_has_is_asked_for() -> None:
    def own(key: str, **more: object) -> set[str]:
        inks = {key: replace(INKS[key], **more)}  # type: ignore[arg-type]
        return {k.what for k in asked_of([job_of(lay(key), inks=inks)]).values() if k.of == "ink"}

    colour = {"lighter", "redder", "yellower"}
    assert own("blue") == {"strength", "trace", *colour}
    assert own("jug") == {"strength", "hiding", *colour}
    assert own("coral") == {"strength", "hiding", "soak_share", *colour}
    measured = Swatch(Colour(hex="#2a5ca8"), known=Known.MEASURED, spread=0.05)
    assert own("blue", swatch=measured) == {"strength", "trace"}
    on_dark = replace(
        INKS["jug"].swatch, on_dark=DarkSwatch(Colour(hex="#4060a0"), replace(SNOW, colour=Colour(hex="#202020")))
    )
    assert own("jug", swatch=on_dark) == {"strength", *colour}
    assert {k.what for k in asked_of([job_of(dose("blue"))]).values() if k.of == "ink"} == {"trace", *colour}
    dropped = asked_of([job_of(lay("blue"), Treatment.SPRITZ)], drops=True)
    assert "ink blue lift" in dropped
    assert "ink blue lift" not in asked_of([job_of(lay("blue"), Treatment.SPRITZ)])


def test_a_range_is_asked_for_where_two_of_it_were_laid() -> None:
    def ranges(*laid: str, of: Sequence[str] = ("blue", "red"), **own: float) -> list[Knob]:
        inks = {k: replace(INKS[k], constants=tuple(sorted(own.items()))) if k == "red" else INKS[k] for k in INKS}
        jobs = [job_of(lay(key), inks=inks) for key in laid]
        believed = replace(believed_of(jobs), ranges=dict.fromkeys(of, "Footplate"))
        return [knob for knob in asked_of(jobs, believed=believed).values() if knob.of == "range"]

    (both,) = ranges("blue", "yellow", "red")
    assert (both.key, both.touches) == ("Footplate", frozenset({0, 2}))
    # What one ink shows may be its own, laid twice or not; and one that has a figure of its own has it.
    assert ranges("blue", "blue", "yellow") == []
    assert ranges("blue", "red", lays=1.2) == []
    assert ranges("blue", "red", of=()) == []


def test_a_lid_is_doubted_more_than_the_hand_that_lays_the_ink() -> None:
    lid, typed = (
        asked_of([job_of(lay("red"))])["ink red strength"],
        asked_of([job_of(lay("blue"))])["ink blue strength"],
    )
    assert lid.dose == pytest.approx(max(log(T["known.lid.dose"]), T["learn.ink"]))
    assert typed.dose == pytest.approx(max(log(T["known.typed.dose"]), T["learn.ink"]))
    first = Supposed.of(believed_of([job_of(lay("red"))]))
    assert moved(first, [lid], [1.0]).inks["red"].strength == pytest.approx(exp(lid.dose))
    # Nothing goes farther than four standard deviations, and no ink is five times itself.
    assert moved(first, [lid], [9.0]) == moved(first, [lid], [4.0])
    assert (moved(first, [lid], [9.0]).inks["red"].strength or 0) <= 5.0


def test_each_knob_moves_what_it_is_called_after_and_the_right_way() -> None:
    jobs = [job_of(lay("coral", 3), lay("blue", 2)), job_of(dose("blue"), dose("red"))]
    believed = believed_of(jobs)
    first, knobs = Supposed.of(believed), asked_of(jobs)
    up = {name: moved(first, [knob], [1.0]) for name, knob in knobs.items()}
    assert (up["ink coral hiding"].inks["coral"].hiding or 0) > 0.3
    # What is left open of it grows by one factor, whatever it hides: h / (1 - h) = S·d.
    hides = up["ink coral hiding"].inks["coral"].hiding or 0
    stood = T["formula.hybrid.hiding"]
    assert hides / (1 - hides) == pytest.approx(stood / (1 - stood) * T["margin.hiding"], rel=0.05)
    assert (up["ink coral soak_share"].inks["coral"].soak_share or 0) == pytest.approx(0.5 + T["learn.soak_share"])
    assert (up["card 0 absorbency"].cards[0].absorbency or 0) > (first.cards[0].absorbency or 0)
    floor = TABLE["surface.smooth.floor"].value
    assert up["card 0 floor"].cards[0].floor == pytest.approx(floor * exp(T["learn.floor"]))
    assert up["row tool.brush.amount amount"].rows["tool.brush.amount"] == pytest.approx(
        TABLE["tool.brush.amount"].value * exp(T["learn.hand"])
    )
    cover = TABLE["tool.brush.cover"].value
    assert 1 - up["row tool.brush.cover cover"].rows["tool.brush.cover"] == pytest.approx(
        (1 - cover) * exp(-T["learn.cover"])
    )
    stated = [job_of(lay("blue"), card=replace(SNOW, floor=0.02))]
    (narrow,) = [knob for knob in asked_of(stated).values() if (knob.of, knob.what) == ("card", "floor")]
    # What somebody measured is held to twice as firmly.
    assert moved(Supposed.of(believed_of(stated)), [narrow], [1.0]).cards[0].floor == pytest.approx(
        0.02 * exp(T["learn.floor"] / 2)
    )


def test_a_colour_is_moved_by_as_much_as_it_is_doubted_and_along_its_own_axis() -> None:
    jobs = [job_of(lay("jug"))]
    knobs, first = asked_of(jobs), Supposed.of(believed_of(jobs))
    was = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex("#4f78c4"), "D65"), white_point("D65"))
    moves = []
    for axis in ("lighter", "redder", "yellower"):
        now = moved(first, [knobs[f"ink jug {axis}"]], [1.0]).inks["jug"].swatch.colour
        assert now.lab_illuminant is Illuminant.D65
        step = np.array(now.lab) - was
        moves.append(step)
        # A normal in three dimensions with that on each axis has the spread for its mean radius.
        assert cm.delta_e(np.array(now.lab), was) == pytest.approx(T["known.typed.spread"] / 1.596, rel=0.1)
    assert moves[0][0] > 0
    assert moves[1][1] > 0
    assert moves[2][2] > 0


def test_swatches_on_the_card_itself_are_read_on_each_card() -> None:
    """An ink whose swatch lies on whatever card it is laid on is another ink on another card."""
    ink = replace(INKS["red"], swatch=replace(INKS["red"].swatch, card=None))
    kraft = replace(SNOW, colour=Colour(hex="#b98f62"))
    jobs = [job_of(lay("red", 4), card=card, inks={"red": ink}) for card in (SNOW, kraft)]
    believed = believed_of(jobs)
    found = Bench(believed).labs([(Observation(job, SNOW.colour, 1), Supposed.of(believed)) for job in jobs])
    assert np.abs(found - np.stack([predict(job).colour.lab for job in jobs])).max() < 1e-6


# -- learning ------------------------------------------------------------------------


def photographed(
    turn: float, cast: Sequence[float], rows: Mapping[str, float] | None = None
) -> tuple[Believed, list[Observation]]:
    """Swatches of a world off one photo, with hues turned (radians) and a cast in CIELAB."""
    believed, seen = seen_in(with_rows(JOBS, rows or {}), JOBS, spread=3.0)
    found = []
    for one in seen:
        l, a, b = seen_lab(one).tolist()
        lab = (l + cast[0], a - turn * b + cast[1], b + turn * a + cast[2])
        found.append(replace(one, photo="an evening", seen=replace(one.seen, lab=lab)))
    return believed, found


@pytest.mark.parametrize(("turn", "cast"), [(0.0, (-4, 0, 0)), (0.0, (0, 3, -4)), (0.12, (0, 0, 0))])
def test_how_a_photo_misses_is_not_put_down_to_its_swatches(turn: float, cast: tuple[float, ...]) -> None:
    believed, seen = photographed(turn, cast)
    fit = learn(believed, seen, T)
    assert fit.strange == ()
    assert not fit.adopted
    alone = learn(believed, [replace(one, photo=f"photo {n}") for n, one in enumerate(seen)], T)
    # The same from a dozen photos would be the world.
    assert np.abs(alone.at).max() > 1.3 * np.abs(fit.at).max()


def test_a_hand_is_learned_off_a_photo_with_a_cast() -> None:
    usual = TABLE["tool.brush.amount"].value
    believed, seen = photographed(0.0, (-4, 2, -3), {"tool.brush.amount": 1.5 * usual})
    fit = learn(believed, seen, T)
    assert fit.adopted
    assert fit.world.rows["tool.brush.amount"] / usual == pytest.approx(1.5, abs=0.2)
    # What a swatch was left out for is predicted no better than what was looked at, and far better than before.
    assert fit.after[0] < fit.after[1] < 0.4 * fit.before[1]
    assert fit.strange == ()


@pytest.mark.parametrize("key", ["blue", "yellow", "red", "coral", "jug"])
@pytest.mark.parametrize("step", [(0, 0, 7), (0, 0, -7), (0, 7, 0), (0, -7, 0), (6, 0, 0), (-6, 0, 0)])
def test_a_swatch_that_was_off_is_told_the_way_it_was(key: str, step: tuple[float, ...]) -> None:
    ink = replace(INKS[key], swatch=replace(INKS[key].swatch, spread=6.0))
    jobs = [job_of(dose(key, much), inks={key: ink}) for much in (0.4, 0.6, 0.8, 1.0, 1.2, 1.5, 2.0)]
    believed = believed_of(jobs)
    was = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(ink.swatch.colour.hex or ""), "D65"), white_point("D65"))
    l, a, b = (was + step).tolist()
    true = replace(ink, swatch=replace(ink.swatch, colour=Colour(lab=(l, a, b), lab_illuminant=Illuminant.D65)))
    _, seen = seen_in(replace(Supposed.of(believed), inks={key: true}), jobs, spread=0.5)
    fit = learn(believed, seen, T)
    (text,) = [each.text for each in lessons(fit, believed, ["Snow"], T) if each.text.endswith("its swatch says.")]
    # What is said of it and of what it truly is agree in what they have in common, and that is the most of it.
    truly = compare([l, a, b], was.tolist(), constants.AS_SHIPPED).removesuffix(" than").split(" and ")
    assert truly[0] in text


def test_what_is_learned_of_an_ink_makes_it_surer() -> None:
    jobs = [job_of(lay("red", 4))]
    knobs = list(asked_of(jobs).values())
    first = Supposed.of(believed_of(jobs))

    def known(**doubt: float) -> Supposed:
        left = np.array([doubt.get(knob.what, 1.0) if knob.of == "ink" else 1.0 for knob in knobs])
        return surer(first, knobs, left, T)

    was = T["known.lid.spread"]
    halved = known(lighter=0.5, redder=0.5, yellower=0.5).inks["red"].swatch
    assert halved.spread == pytest.approx(was / 2, abs=0.006)
    one = known(lighter=0.0, redder=1.0, yellower=1.0).inks["red"].swatch
    assert one.spread == pytest.approx(was * (2 / 3) ** 0.5, abs=0.006)
    # How much it is of it was known by its lid; now by what was logged.
    assert known(strength=0.3).inks["red"].swatch.known is Known.FITTED
    assert known(strength=1.0).inks["red"].swatch.known is Known.LID
    own = dict(known(strength=0.3).inks["red"].constants)
    sd = next(knob.dose for knob in knobs if knob.what == "strength")
    assert own["doubt_dose"] == pytest.approx(0.3 * sd / log(T["known.fitted.dose"]), abs=0.001)


def test_margins_are_as_wide_as_swatches_disagree() -> None:
    usual = T["margin.layers"]
    wide, model, words = [], [], []
    for noise in (0.3, 2.5, 5.0):
        believed, seen = seen_in(Supposed.of(believed_of(JOBS)), JOBS, spread=1.0, noise=noise, seed=4)
        world = learn(believed, seen, T).world
        wide.append(np.mean([predict(reworded(job, believed, world)).margin for job in JOBS]))
        model.append(world.rows.get("margin.layers", usual) / usual)
        words.append(world.rows["margin.words"])
    plain = np.mean([predict(job).margin for job in JOBS])
    assert wide[0] < wide[1] - 0.5 < wide[2] - 1.0 < plain
    # Where all agree the hand is known and the model at its best; then the model is doubted, and last the hand again.
    assert model[0] == pytest.approx(0.3)
    assert 0.5 < model[1] < 1
    assert model[2] == 1
    assert words[:2] == [0, 0]
    assert 0.2 < words[2] < 1


def test_progress_begins_at_once_and_ends_whole() -> None:
    believed, seen = seen_in(Supposed.of(believed_of(JOBS)), JOBS)
    told_by: list[float] = []
    learn(believed, seen, T, told_by.append)
    assert 0 < told_by[0] < 0.1
    assert told_by == sorted(told_by)
    assert told_by[-1] == pytest.approx(1.0)


# -- lines, squares, practice --------------------------------------------------------


def test_a_line_wants_five_verdicts_and_is_no_other_where_they_agree_with_it() -> None:
    usual = (50.0, 12.0, 6.0, 0.0, 100.0)
    five = own_line([30, 40, 50, 60, 70], [False, False, False, True, True], *usual)
    assert five is not None
    assert five.count == 5
    assert own_line([40, 45, 55, 60], [False, False, True, True], *usual) is None
    even = own_line([30, 40, 45, 55, 60, 70], [False] * 3 + [True] * 3, *usual)
    assert even is not None
    assert even.at == pytest.approx(50.0, abs=0.01)
    assert 0 < even.doubt < 12.0


def test_no_square_is_laid_twice() -> None:
    planned = [job_of(lay("red", 4), lay("yellow", 3))]
    once = next_squares(planned, [job_of(lay("red", 4))], [], T)
    assert [each.place for each in once] == [0]
    several = next_squares(planned, [job_of(lay(key, 4)) for key in ("red", "yellow", "blue")], [], T)
    assert len({each.place for each in several}) == len(several)
    assert several[0].about == ("red",)


def test_squares_end_where_they_teach_next_to_nothing() -> None:
    planned = [job_of(*stack) for stack in MANY]
    possible = [job_of(lay(key, passes)) for key in ("red", "yellow", "blue") for passes in (1, 2, 4, 6, 8)]
    found = next_squares(planned, possible, [], T, most=12, fewest=3)
    assert 3 <= len(found) < 12
    assert all(each.after <= 0.97 * each.before for each in found[3:])
    assert len(next_squares(planned, possible, [], T, most=2)) == 2
    # What was logged so often is known as well as squares can tell, but three there are.
    one = [job_of(lay("red", passes)) for passes in (2, 3, 4, 5, 6, 8)]
    _, often = seen_in(Supposed.of(believed_of(one)), one * 8)
    few = next_squares([job_of(lay("red", 4))], one, often, T)
    assert len(few) == 3
    assert few[2].after > 0.97 * few[2].before


def test_small_differences_are_told_apart_as_large_ones_are() -> None:
    asked = question([job_of(lay("yellow", 4), lay("blue", 4))], 1)
    assert asked is not None
    base = np.array([50.0, -30.0, 20.0])
    near = [(50.5, -30, 20), (49.5, -30, 20), (50, -30.3, 20.2), (50, -29.7, 19.8)]
    made = replace(asked, choices=(base, *map(np.array, near)), right=0)
    assert [mistake(made, n) for n in range(1, 5)] == [
        Mistake.TOO_LIGHT, Mistake.TOO_DARK, Mistake.TOO_CLEAN, Mistake.TOO_DULL,
    ]  # fmt: skip
    # Lighter by more than it is off in hue.
    both = replace(made, choices=(base, np.array([55.0, -28, 23]), np.array([52.0, -27, 24.5])), right=0)
    assert [mistake(both, n) for n in (1, 2)] == [Mistake.TOO_LIGHT, Mistake.HUE]


def test_wrong_colours_are_those_that_people_expect() -> None:
    job = job_of(lay("yellow", 4), lay("blue", 4))
    true = predict(job).colour.lab
    alone = [predict(replace(job, stack=(entry,))).colour.lab for entry in job.stack]
    light = predict(job_of(lay("yellow", 1.6), lay("blue", 1.6))).colour.lab
    chroma = float(np.hypot(true[1], true[2]))
    mean = cm.lab_from_xyz(
        (cm.xyz_from_lab(alone[0], white_point("D65")) + cm.xyz_from_lab(alone[1], white_point("D65"))) / 2,
        white_point("D65"),
    )
    expected = {
        "yellow": alone[0],
        "blue": alone[1],
        "half as much": light,
        "mean on screen": mean,
        "cleaner": np.array([true[0] + 8, *(true[1:] * (chroma + 25) / chroma)]),
        "duller": np.array([true[0], *(true[1:] * 0.35)]),
        "darker": np.array([max(5.0, true[0] - 20), *(true[1:] * 0.8)]),
        "turned": np.array([true[0], true[1] * 0.4 - true[2] * 0.9, true[1] * 0.9 + true[2] * 0.4]),
    }
    seen, places = set(), set()
    for seed in range(40):
        asked = question([job], seed)
        assert asked is not None
        assert asked.prediction.verdict.kind is not VerdictKind.MUDDY
        places.add(asked.right)
        for n, choice in enumerate(asked.choices):
            if n != asked.right:
                named = [name for name, lab in expected.items() if np.abs(lab - choice).max() < 1e-6]
                assert named
                seen.add(named[0])
    # The right one stands anywhere, and all of these turn up that differ enough from it.
    assert places == set(range(CHOICES))
    assert seen == {name for name, lab in expected.items() if cm.delta_e(lab, true) >= 8}
    assert len(seen) >= 6


def test_two_inks_that_look_alike_are_no_question() -> None:
    twin = {"blue": INKS["blue"], "other": replace(INKS["blue"], formula=Formula.REACTIVE_DYE)}
    assert question([job_of(lay("blue", 4), lay("other", 4), inks=twin)], 1) is None
    assert question([], 1) is None


def test_what_is_longest_overdue_comes_first() -> None:
    # Overdue by 1 round and by 4: what was got right once waits for eight rounds.
    late, later = Round(("1", "2"), 16, 0), Round(("3", "4"), 8, 1)
    assert due([late, later], 20) == later
    assert due([late, replace(later, asked=12)], 20) == late
    assert LATER == (3, 8, 20, 60)
