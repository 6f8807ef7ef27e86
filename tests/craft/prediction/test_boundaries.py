"""Boundary tables of the judgement: each threshold just below, on and above it, and what comes of it, by hand.

A smooth step is 0.15625 a quarter of the way, 0.5 half of it and 0.84375 three quarters.
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
from wempa.craft.prediction.mud import Promise, dulls, mud, taken_light
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
    light: float = 36, chroma: float = 5, hue: float = 200, novel: float = 20, promise: Promise = PROMISE
) -> float:
    """Of an overlap that is all mud unless something is changed: dull, dark, new, its promise lost."""
    colour = lab(light, chroma, hue)
    return float(mud(colour, colour, promise, novel, 0.0, 97.0, TABLE, SCALAR).mud)


def test_dull_dark_new_and_lost_is_all_mud() -> None:
    assert muddiness() == 100


@pytest.mark.parametrize(("light", "share"), [(45.9, 1), (46, 1), (51, 0.84375), (56, 0.5), (61, 0.15625), (66, 0)])
def test_pale_is_no_mud(light: float, share: float) -> None:
    assert muddiness(light=light) == pytest.approx(100 * share, abs=1e-9)


def test_black_is_no_mud() -> None:
    start, stop = TABLE["mud.dark_from"], TABLE["mud.dark_to"]
    for t, share in ((0, 0), (0.25, 0.15625), (0.5, 0.5), (1, 1)):
        assert muddiness(light=start + t * (stop - start)) == pytest.approx(100 * share, abs=1e-9)


@pytest.mark.parametrize(("novel", "share"), [(3, 0), (4.5, 0.15625), (6, 0.5), (7.5, 0.84375), (9, 1), (30, 1)])
def test_what_an_ink_is_by_itself_is_no_mud(novel: float, share: float) -> None:
    assert muddiness(novel=novel) == pytest.approx(100 * share, abs=1e-9)


@pytest.mark.parametrize(
    ("hue", "edge"),
    # A grey, green or blue is a colour from 20 of chroma on, a brown from 56; in between by a smooth step of hue.
    [(200, 20), (270, 20), (60, 56), (100, 56), (22.5, 38), (126, 38)],
)
@pytest.mark.parametrize(("t", "share"), [(0, 0), (0.25, 0.15625), (0.5, 0.5), (1, 1)])
def test_a_colour_is_no_mud(hue: float, edge: float, t: float, share: float) -> None:
    chroma = edge - t * 0.7 * edge
    promise = replace(PROMISE, chroma=1e6)
    assert muddiness(chroma=chroma, hue=hue, promise=promise) == pytest.approx(100 * share, abs=1e-6)


@pytest.mark.parametrize(("hue", "edge"), [(200, 36), (60, 70)])
def test_between_opposites_more_colour_is_mud(hue: float, edge: float) -> None:
    promise = replace(PROMISE, chroma=1e6, opposed=1.0)
    assert muddiness(chroma=edge, hue=hue, promise=promise) == pytest.approx(0, abs=1e-6)
    assert muddiness(chroma=0.65 * edge, hue=hue, promise=promise) == pytest.approx(50, abs=1e-6)


@pytest.mark.parametrize("opposed", [0.0, 1.0])
def test_only_what_is_lost_of_the_promise_makes_mud(opposed: float) -> None:
    start, stop = TABLE["mud.mixing_from"], TABLE["mud.mixing_to"]
    for t, share in ((0, 0), (0.25, 0.15625), (0.5, 0.5), (0.75, 0.84375), (1, 1)):
        lost = start + t * (stop - start) - TABLE["mud.opposed_loss"] * opposed
        promise = replace(PROMISE, chroma=5 / (1 - lost) - 1e-6, opposed=opposed)
        assert muddiness(promise=promise) == pytest.approx(100 * share, abs=1e-3)
    # As far as the hues pull apart, and as the promise counts.
    assert muddiness(promise=replace(PROMISE, apart=0.25)) == pytest.approx(25)
    assert muddiness(promise=replace(PROMISE, counts=0.0)) == 0


def test_plums_where_purple_was_promised_are_no_mud() -> None:
    """Spared by hue 285–290 and 345–355, chroma 6–8, and nearness to the promise 60–75."""

    def spared(hue: float, chroma: float = 8, turned: float = 0, opposed: float = 0.0) -> float:
        own = lab(36, chroma, hue)
        towards = (painter_hue(own[1], own[2], SCALAR) + turned) % 360
        plain = replace(PROMISE, chroma=1e6, hue=(towards + 180) % 360, opposed=opposed)
        near = replace(plain, hue=towards)
        return 1 - muddiness(chroma=chroma, hue=hue, promise=near) / muddiness(chroma=chroma, hue=hue, promise=plain)

    for hue, share in ((284, 0), (285, 0), (287.5, 0.5), (290, 1), (320, 1), (345, 1), (350, 0.5), (355, 0), (10, 0)):
        assert spared(hue) == pytest.approx(share, abs=1e-9), hue
    for chroma, share in ((6, 0), (6.5, 0.15625), (7, 0.5), (8, 1)):
        assert spared(310, chroma) == pytest.approx(share, abs=1e-9), chroma
    for turned, share in ((60, 1), (-60, 1), (67.5, 0.5), (75, 0), (-75, 0)):
        assert spared(310, turned=turned) == pytest.approx(share, abs=1e-9), turned
    assert spared(310, opposed=0.5) == pytest.approx(0.5)


def test_a_card_that_takes_the_colour_out_makes_mud_unless_what_covers_it_is_lighter() -> None:
    start, stop = TABLE["mud.card_from"], TABLE["mud.card_to"]

    def on_card(left: float, light: float = 36, card_light: float = 80) -> float:
        """Of 20 of chroma on white so much is left along its own hue; nothing is lost by mixing."""
        plain = replace(PROMISE, counts=0.0)
        found = mud(lab(light, 20 * left, 200), lab(36, 20, 200), plain, 20, 1.0, card_light, TABLE, SCALAR)
        return float(found.mud)

    region = {left: muddiness(chroma=20 * left) for left in (1 - start, 1 - (start + stop) / 2, 0.2)}
    assert on_card(1 - start) == 0
    assert on_card(1 - (start + stop) / 2) == pytest.approx(region[1 - (start + stop) / 2] / 2)
    assert on_card(0.2) == pytest.approx(region[0.2])
    # On a dark card its share fades from 6 to 14 L* above it; a card of more than 50 is not dark.
    for above, share in ((6, 1), (10, 0.5), (14, 0)):
        loss = 0.8 * share
        t = min(1, max(0, (loss - start) / (stop - start)))
        assert on_card(0.2, 40, 40 - above) == pytest.approx(100 * t * t * (3 - 2 * t), abs=1e-6)
    assert on_card(0.2, 40, 51) == on_card(0.2, 40, 80)


def test_a_card_counts_as_coloured_from_its_distance_to_white() -> None:
    start, stop = TABLE["verdict.card_from"], TABLE["verdict.card_to"]
    assert [dulls(start + t * (stop - start), TABLE) for t in (-1, 0, 0.25, 0.5, 1, 2)] == [0, 0, 0.15625, 0.5, 1, 1]


# -- kinds ------------------------------------------------------------------------------


def kind_of(result: Lab, parents: list[Lab], ladders: Ladders | None = None, mud_line: float = 101) -> str:
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


def test_mud_at_the_line_is_muddy_and_comes_before_all_else() -> None:
    red, green = lab(45, 60, 30), lab(50, 60, 150)
    dull = lab(36, 5, 90)
    assert kind_of(dull, [red, green], mud_line=101) == "muted"
    for line in (0, 50, 99):
        assert kind_of(dull, [red, green], mud_line=line) == "muddy"
