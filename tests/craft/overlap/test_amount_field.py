"""How much of each: amounts a hand can lay, what each mix is, where mud begins, and names on the zones."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.craft.overlap.test_showings import laid
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown
from wempa.craft.overlap.amount_field import amount_axis, amount_field, contour, with_amounts
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.vocabulary import FieldZone, Over, Tool, Treatment

BLUE, ORANGE, GREEN = "Boiler Blue", "Firebox Orange", "Cutting Green"


def test_amounts_are_whole_passes_from_none_to_twice_as_many_or_doses() -> None:
    job = laid(BLUE, ORANGE)
    axis = amount_axis(job.stack, 0)
    assert (axis.amounts, axis.now, axis.by_dose) == (tuple(float(n) for n in range(13)), 6, False)
    one = replace(job.stack[0], passes=1.0, tool=Tool.STAMP)  # type: ignore[type-var]
    assert amount_axis((one,), 0).amounts == (0, 1, 2, 3, 4)
    many = replace(job.stack[0], passes=40.0)  # type: ignore[type-var]
    far = amount_axis((many,), 0)
    assert (len(far.amounts), far.amounts[-1]) == (15, 80)
    assert all(amount == round(amount) for amount in far.amounts)
    dosed = amount_axis((LayDown(((BLUE, 1.0),), dose=0.7),), 0)
    assert (dosed.amounts[0], dosed.amounts[-1], dosed.by_dose) == (0, 1.4, True)
    assert dosed.amounts[dosed.now] == 0.7


def test_every_spot_is_the_prediction_of_just_that() -> None:
    job = laid(BLUE, ORANGE)
    field = amount_field(job, wanted=wanted_colours(job))
    assert field.lab.shape == (13, 13, 3)
    for column, row in ((0, 0), (6, 6), (3, 0), (0, 7), (2, 9)):
        amounts = {0: field.across.amounts[column], 1: field.up.amounts[row]}
        found = predict(replace(job, stack=with_amounts(job.stack, amounts)))
        np.testing.assert_allclose(field.lab[row, column], found.colour.lab, atol=1e-6)
        assert field.mud[row, column] == pytest.approx(found.verdict.mud, abs=1e-6)
    # Blue and orange go to mud where there is enough of both; one of them alone does not.
    assert field.mud[6, 6] > 80
    assert field.mud[0].max() == field.mud[:, 0].max() == 0


def test_none_of_it_is_left_out_and_nothing_is_wet_on_nothing() -> None:
    wet = replace(laid(ORANGE).stack[0], over=Over.WET)  # type: ignore[type-var]
    stack = (laid(BLUE).stack[0], Treatment.BLOT, wet)
    assert with_amounts(stack, {0: 0.0}) == (Treatment.BLOT, replace(wet, over=Over.DRY))  # type: ignore[type-var]
    kept = with_amounts(stack, {0: 2.0, 2: 3.0})
    assert [entry.passes for entry in kept if isinstance(entry, LayDown)] == [2, 3]
    assert kept[2].over is Over.WET  # type: ignore[union-attr]


def test_a_third_ink_is_one_step() -> None:
    job = laid(BLUE, ORANGE, GREEN)
    plain, without = amount_field(job), amount_field(job, 0)
    assert plain.step is not None
    assert (plain.step.entry, plain.at, plain.step.amounts[plain.at]) == (2, 6, 6)
    np.testing.assert_allclose(without.lab, amount_field(laid(BLUE, ORANGE)).lab, atol=1e-6)
    assert not np.allclose(plain.lab, without.lab)
    with pytest.raises(JobError, match="13 steps"):
        amount_field(job, 13)
    with pytest.raises(JobError, match="two inks"):
        amount_field(laid(BLUE))
    with pytest.raises(JobError, match="two inks"):
        amount_field(laid(BLUE, BLUE))


def test_the_border_lies_where_the_straight_line_between_neighbours_does() -> None:
    values = np.array([[0.0, 0.0], [100.0, 100.0]])
    # Across the whole square, a quarter of the way up.
    assert sorted(contour(values, 25)) == [(1, 0.25, 0, 0.25)]
    assert contour(values, 101) == []
    # A peak in the middle is gone round, with no end left open.
    peak = np.zeros((3, 3))
    peak[1, 1] = 80
    around = contour(peak, 40)
    assert len(around) == 4
    ends = sorted([(a, b) for a, b, _, _ in around] + [(c, d) for _, _, c, d in around])
    assert ends == sorted(2 * [(0.5, 1.0), (1.0, 0.5), (1.5, 1.0), (1.0, 1.5)])
    # Two opposite corners: joined where the middle is above, apart where it is below.
    saddle = np.array([[90.0, 0.0], [0.0, 90.0]])
    joined, apart = contour(saddle, 40), contour(saddle, 50)
    assert len(joined) == len(apart) == 2
    middle = [min(abs(a + c - 1) + abs(b + d - 1) for a, b, c, d in pieces) for pieces in (joined, apart)]
    assert [round(each, 3) for each in middle] == [1.111, 1.111]
    corner = {tuple(sorted(((a, b), (c, d)))) for a, b, c, d in apart}
    assert all(abs(p[0] - q[0]) < 1 and abs(p[1] - q[1]) < 1 for p, q in corner)


def test_zones_are_named_where_they_are_widest() -> None:
    field = amount_field(laid(BLUE, ORANGE))
    named = {zone: (int(x), int(y)) for zone, x, y in field.named}
    assert FieldZone.MUD in named
    for zone, (column, row) in named.items():
        assert column > 0
        assert row > 0
        assert (field.mud[row, column] >= 50) == (zone is FieldZone.MUD)
    clean = amount_field(laid("Brass Gauge", "Boiler Blue"))
    assert FieldZone.LOVELY in {zone for zone, _, _ in clean.named}
