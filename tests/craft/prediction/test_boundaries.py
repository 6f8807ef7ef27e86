"""Boundary tables of the judgement: each threshold below, on and above it, and what comes of it, by hand.

The conditions of mud are straight ramps, and the least of them counts.
"""

from __future__ import annotations

from dataclasses import replace
from math import cos, radians, sin

import numpy as np
import pytest

from tests.jobs import PAPER
from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.prediction.ladders import Ladders
from wempa.craft.prediction.mud import Promise, clean_between, dulls, mud, taken_light
from wempa.craft.prediction.verdict import KINDS, Overlaps, judge
from wempa.optics.namespace import SCALAR

TABLE = dict(constants.AS_SHIPPED)
PROMISE = Promise(
    chroma=60.0, hue=240.0, agreement=0.4, shown=(True, True), several=True, counts=1.0, opposed=0.0, apart=1.0
)
Lab = tuple[float, float, float]


def lab(light: float, chroma: float, hue: float) -> Lab:
    return light, chroma * cos(radians(hue)), chroma * sin(radians(hue))


def muddiness(
    light: float = 30, chroma: float = 1, hue: float = 200, novel: float = 20, promise: Promise = PROMISE
) -> float:
    """Of an overlap that is almost all mud unless something is changed: dull, dark, new, its promise lost."""
    colour = lab(light, chroma, hue)
    return float(mud(colour, colour, promise, (novel, 0.0), 0.0, 97.0, TABLE, SCALAR).mud)


# A grey-blue of C* 1: (1.35 − 1/20) / 1.4.
MOST = 100 * 1.3 / 1.4


def test_dull_dark_new_and_lost_is_all_mud() -> None:
    assert muddiness() == pytest.approx(MOST)
    assert muddiness(chroma=0) == pytest.approx(100 * 1.35 / 1.4)


@pytest.mark.parametrize(("light", "share"), [(49, 0.75), (58, 0.5), (67, 0.25), (76, 0), (90, 0)])
def test_pale_is_no_mud(light: float, share: float) -> None:
    assert muddiness(light=light) == pytest.approx(100 * share, abs=1e-9)


@pytest.mark.parametrize(("light", "share"), [(5, 0), (12, 0), (15.75, 0.25), (19.5, 0.5), (24, 0.8)])
def test_black_is_no_mud(light: float, share: float) -> None:
    assert muddiness(light=light) == pytest.approx(100 * share, abs=1e-9)


@pytest.mark.parametrize(("novel", "share"), [(0, 0), (2, 0), (5, 0.25), (8, 0.5), (12.8, 0.9)])
def test_what_an_ink_is_by_itself_is_no_mud(novel: float, share: float) -> None:
    assert muddiness(novel=novel) == pytest.approx(100 * share, abs=1e-9)


@pytest.mark.parametrize(
    ("hue", "edge"),
    # The region reaches to C* 20 of a grey, green or blue, to 56 of a brown; in between it goes straight with the hue.
    [(200, 20), (260, 20), (60, 56), (100, 56), (22.5, 38), (126, 38)],
)
@pytest.mark.parametrize(("of_edge", "share"), [(1.35, 0), (1.0, 0.25), (0.65, 0.5), (0.3, 0.75), (2.0, 0)])
def test_a_colour_is_no_mud(hue: float, edge: float, of_edge: float, share: float) -> None:
    # The promise agrees with nothing, so that no plum is spared.
    promise = replace(PROMISE, chroma=1e6, agreement=0.0, hue=180.0)
    found = muddiness(light=30, chroma=of_edge * edge, hue=hue, promise=promise)
    assert found == pytest.approx(100 * share, abs=1e-6)


@pytest.mark.parametrize(("hue", "edge"), [(200, 36), (60, 70)])
def test_between_opposites_more_colour_is_mud(hue: float, edge: float) -> None:
    promise = replace(PROMISE, chroma=1e6, opposed=1.0)
    assert muddiness(chroma=1.35 * edge, hue=hue, promise=promise) == pytest.approx(0, abs=1e-6)
    assert muddiness(chroma=0.65 * edge, hue=hue, promise=promise) == pytest.approx(50, abs=1e-6)


@pytest.mark.parametrize("opposed", [0.0, 1.0])
def test_only_what_is_lost_of_the_promise_makes_mud(opposed: float) -> None:
    for lost, share in ((0.1, 0), (0.275, 0.25), (0.45, 0.5), (0.66, 0.8)):
        promise = replace(PROMISE, chroma=1 / (1 - lost + 0.1 * opposed) - 1e-6, opposed=opposed)
        assert muddiness(promise=promise) == pytest.approx(100 * share, abs=1e-3)
    # As far as the hues pull apart, and as the promise counts.
    assert muddiness(promise=replace(PROMISE, apart=0.25)) == pytest.approx(25)
    assert muddiness(promise=replace(PROMISE, counts=0.0)) == 0


def test_how_far_hues_pull_apart_and_are_opposites() -> None:
    def promised(turn: float) -> Promise:
        """Two inks of one lightness and chroma, so many degrees of the painter's circle apart."""
        hues = [lab(50, 50, hue) for hue in (20.0, 20.0 + turn)]
        return clean_between(hues, [True, True], PAPER, TABLE, SCALAR)

    for turn in (0.0, 40.0, 120.0, 170.0, 180.0):
        found = promised(turn)
        agree = found.agreement
        assert found.apart == pytest.approx(min(1.0, max(0.0, (1.0 - agree) / 0.55)))
        assert found.opposed == pytest.approx(min(1.0, max(0.0, (0.8 - agree) / 0.7)))
    assert promised(0.0).agreement == pytest.approx(1)
    assert promised(0.0).apart == 0
    assert promised(180.0).apart == 1


def plum(light: float, chroma: float, hue: float, agreement: float = 1.0, turned: float = 0.0) -> float:
    """How far such a colour is spared for a plum; everything else about it is mud."""
    own = lab(light, chroma, hue)
    towards = (painter_hue(own[1], own[2], SCALAR) + turned) % 360
    # So wide a region that its edge plays no part.
    wide = {**TABLE, "mud.grey_chroma": 1e6, "mud.brown_chroma": 1e6, "mud.edge_from": 1.0, "mud.edge_to": 0.99}
    wide |= {"mud.light_from": 90, "mud.light_to": 100}
    promise = replace(PROMISE, chroma=1e6, agreement=agreement, hue=towards)
    return 1 - float(mud(own, own, promise, (20.0, 0.0), 0.0, 97.0, wide, SCALAR).mud) / 100


def test_plums_and_dusky_roses_are_no_mud() -> None:
    """They lie between the hues 262 and 403; how deep in the wedge counts in chroma, from 5.2 outside to 13 inside."""
    for chroma, hue, share in (
        # On the edges of the wedge the depth is 0.
        (20, 262, 5.2 / 18.2),
        (20, 43, 5.2 / 18.2),
        # 30° inside it is half of the chroma, 30° outside half of it less.
        (7.8, 292, 9.1 / 18.2),
        (7.8, 13, 9.1 / 18.2),
        (5.2, 232, 2.6 / 18.2),
        (20, 232, 0),
        (30, 320, 1),
        (0, 0, 5.2 / 18.2),
    ):
        assert plum(60, chroma, hue) == pytest.approx(share, abs=1e-6), (chroma, hue)
    for light, share in ((30, 0), (34, 0), (38, 0.5), (42, 1)):
        assert plum(light, 30, 330) == pytest.approx(share, abs=1e-6), light
    # Only where the promise was of such a hue: agreement along it from −0.2 to 0.45.
    for agreement, turned, share in (
        (0.45, 0, 1),
        (0.125, 0, 0.5),
        (0.25, 180, 0),
        (0.5, 90, 0.2 / 0.65),
        (0.1, 180, 0.1 / 0.65),
    ):
        assert plum(60, 30, 330, agreement, turned) == pytest.approx(share, abs=1e-6), (agreement, turned)


def on_card(
    left: float, light: float = 50, hue: float = 200, card_light: float = 80, white: float = 10, from_white: float = 20
) -> float:
    """Mud of an ink of C* `white` on white, of which so much is left along its own hue."""
    plain = replace(PROMISE, counts=0.0)
    found = mud(
        lab(light, white * left, hue), lab(36, white, hue), plain, (0.0, from_white), 1.0, card_light, TABLE, SCALAR
    )
    return float(found.mud)


def test_a_card_that_takes_the_colour_out_makes_mud() -> None:
    for lost, share in ((0.2, 0), (0.32, 0.25), (0.44, 0.5), (0.656, 0.95), (0.8, 1)):
        assert on_card(1 - lost) == pytest.approx(100 * share, abs=1e-6), lost
    # It must look unlike what it is on white card,
    for apart, share in ((2, 0), (5, 0.25), (8, 0.5)):
        assert on_card(0.1, from_white=apart) == pytest.approx(100 * share, abs=1e-6)
    # and be no pale colour,
    for light, share in ((70, 1), (74, 0.75), (78, 0.5), (86, 0), (95, 0)):
        assert on_card(0.1, light=light) == pytest.approx(100 * share, abs=1e-6)
    # nor a bright one: a blue from C* 27 on, a brown from 54; with 0.3 of that it is mud.
    for hue, edge in ((200, 27), (60, 54)):
        for of_edge, share in ((1.0, 0), (0.825, 0.25), (0.65, 0.5), (0.3, 1)):
            found = on_card(0.2, white=edge * of_edge / 0.2, hue=hue)
            assert found == pytest.approx(100 * share, abs=1e-6), (hue, of_edge)
    # A plum lies 8 of chroma deeper in its wedge than where inks alone made it.
    sine = sin(radians(60))
    for deep, share in ((-5.2, 0), (3.9, 0.5)):
        assert on_card(0.1, white=(deep + 8) / sine / 0.1, hue=322) == pytest.approx(100 * (1 - share), abs=1e-6)


def test_what_covers_a_dark_card_is_judged_by_its_own_colour() -> None:
    """The card's share fades by a smooth step from 6 to 14 L* above it; a card of more than 50 is not dark."""
    for above, share in ((6, 1), (10, 0.5), (14, 0)):
        loss = 0.9 * share
        assert on_card(0.1, 40, card_light=40 - above) == pytest.approx(
            100 * min(1, max(0, (loss - 0.2) / 0.48)), abs=1e-6
        )
    assert on_card(0.1, 60, card_light=51) == on_card(0.1, 60, card_light=80)


def test_the_worse_of_mixing_and_card_counts() -> None:
    colour, white = lab(50, 1, 200), lab(36, 10, 200)
    by_mixing = replace(PROMISE, apart=0.3, chroma=1e6)
    both = mud(colour, white, by_mixing, (20.0, 20.0), 1.0, 80.0, TABLE, SCALAR).mud
    alone = mud(colour, white, by_mixing, (20.0, 0.0), 1.0, 80.0, TABLE, SCALAR).mud
    assert (both, alone) == (pytest.approx(100), pytest.approx(30))


def test_a_card_counts_as_coloured_from_its_distance_to_white() -> None:
    start, stop = TABLE["verdict.card_from"], TABLE["verdict.card_to"]
    assert [dulls(start + t * (stop - start), TABLE) for t in (-1, 0, 0.25, 0.5, 1, 2)] == [0, 0, 0.15625, 0.5, 1, 1]


# -- kinds ------------------------------------------------------------------------------


def kind_of(
    result: Lab,
    parents: list[Lab],
    ladders: Ladders | None = None,
    mud_line: float = 101,
    covering: tuple[bool, ...] = (),
) -> str:
    """Of an overlap on white card; no mud line is reached unless given."""
    found = judge(
        Overlaps(
            result=result,
            on_white=result,
            parents=parents,
            parents_on_white=parents,
            present=[True] * len(parents),
            card=(97, 0, 0),
            card_from_white=0.0,
            white=PAPER,
            covering=covering,
            ladders=ladders,
            rungs=range(len(parents)),
        ),
        mud_line,
        TABLE,
        SCALAR,
    )
    return str(KINDS[int(found.kind)])


BLUE, YELLOW = lab(45, 50, 275), lab(85, 70, 95)


def test_muted_is_less_than_three_fifths_of_the_promised_chroma() -> None:
    # Two that take as much light promise the mean of 40 and 60: 30 is where muted ends.
    blue, violet = lab(45, 40, 275), lab(45, 60, 275)
    light = [taken_light(each, PAPER, SCALAR) for each in (blue, violet)]
    promised = (light[0] * 40 + light[1] * 60) / sum(light)
    green = [lab(60, 0.6 * promised + by, 160) for by in (-0.1, 0.1)]
    assert [kind_of(each, [blue, violet]) for each in green] == ["muted", "clean"]
    # Of hardly any colour nothing is promised.
    assert kind_of(lab(60, 1, 160), [lab(45, 5, 275), lab(85, 5, 95)]) == "clean"


def along(start: Lab, to: Lab) -> Ladders:
    """Two ladders of two rungs: from paper to each colour."""
    paper = (97.0, 0.0, 0.0)
    return Ladders(np.array([[paper, start], [paper, to]]))


def test_swamped_and_nothing_new_by_the_ladders() -> None:
    ladders = along(BLUE, YELLOW)
    half = tuple((a + b) / 2 for a, b in zip(BLUE, (97.0, 0.0, 0.0), strict=True))
    # On the blue's ladder, far from the yellow's: the yellow is lost.
    assert kind_of(half, [BLUE, YELLOW], ladders) == "swamped"  # type: ignore[arg-type]
    # On both ladders at once, which part from the paper only: a breath of either.
    assert kind_of((96.5, 0.0, 0.5), [BLUE, YELLOW], ladders) == "no_new_colour"
    # On neither.
    assert kind_of(lab(60, 50, 160), [BLUE, YELLOW], ladders) == "clean"
    # A white and a grey are not swallowed: a tint, a dusky shade.
    for pale in (lab(97, 2, 90), lab(60, 7.9, 300)):
        assert kind_of(half, [BLUE, pale], along(BLUE, pale)) != "swamped"  # type: ignore[arg-type]
    hued = lab(60, 8.1, 60)
    assert kind_of(half, [BLUE, hued], along(BLUE, hued)) == "swamped"  # type: ignore[arg-type]


def test_between_inks_of_one_hue_a_step_of_the_one_has_to_be_nearer() -> None:
    """Two blues far apart in depth: 3 ΔE00 from a coat of the one it is swamped, 5 away it is a colour between."""
    deep, pale = lab(25, 40, 275), lab(80, 20, 275)
    for chroma, kind in ((36.0, "swamped"), (28.0, "clean")):
        assert kind_of(lab(25, chroma, 275), [deep, pale], along(deep, pale)) == kind, chroma
    # Where hues do not agree that is near enough.
    assert kind_of(lab(25, 28, 275), [deep, YELLOW], along(deep, YELLOW)) == "swamped"


def test_what_hides_swallows_nothing() -> None:
    """A yellow over a blue that looks like the yellow: clean where it hides, and where it does not the blue is lost."""
    nearly = lab(84, 68, 95)
    assert kind_of(nearly, [BLUE, YELLOW], along(BLUE, YELLOW)) == "swamped"
    assert kind_of(nearly, [BLUE, YELLOW], along(BLUE, YELLOW), covering=(False, True)) == "clean"
    # A white over it is light, and not muted for all the colour that it hides.
    assert kind_of(lab(95, 1, 95), [BLUE, PAPER], covering=(False, True)) == "clean"
    # What shines through a hiding film is judged as any mix.
    assert kind_of(lab(60, 5, 275), [BLUE, YELLOW], covering=(False, True)) == "muted"


def test_mud_at_the_line_is_muddy_and_comes_before_all_else() -> None:
    red, green = lab(45, 60, 30), lab(50, 60, 150)
    dull = lab(36, 5, 90)
    assert kind_of(dull, [red, green], mud_line=101) == "muted"
    for line in (0, 50, 80):
        assert kind_of(dull, [red, green], mud_line=line) == "muddy"
