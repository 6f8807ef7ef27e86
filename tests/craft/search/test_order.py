"""In which order the inks of a chart stand."""

from __future__ import annotations

import numpy as np
import pytest

from wempa.craft.constants import AS_SHIPPED as TABLE
from wempa.craft.prediction.verdict import KINDS
from wempa.craft.search.chart import Chart
from wempa.craft.search.chart_study import order_of_inks
from wempa.craft.vocabulary import ChartOrder, VerdictKind

CLEAN, MUTED, MUDDY = (KINDS.index(kind) for kind in (VerdictKind.CLEAN, VerdictKind.MUTED, VerdictKind.MUDDY))
# Blue, grey, red, yellow: by hue red, yellow, blue, then the grey.
ALONE = np.array([[40.0, 5, -50], [50, 0, 0], [50, 65, 45], [86, -2, 85]])
BY_HUE = [2, 3, 0, 1]


def chart(kinds: list[list[int]], mud: list[list[float]] | None = None) -> Chart:
    n = len(kinds)
    return Chart(np.zeros((n, n, 3)), np.array(mud or np.zeros((n, n))), np.array(kinds), ALONE[:n])


@pytest.mark.parametrize("by", list(ChartOrder))
def test_equals_stand_by_hue(by: ChartOrder) -> None:
    assert order_of_inks(chart([[CLEAN] * 4] * 4), by, None, None, TABLE) == BY_HUE


def test_who_makes_the_most_clean_mixes_below_and_above_comes_first() -> None:
    kinds = [[CLEAN, CLEAN, CLEAN, MUDDY], [CLEAN] * 4, [MUDDY, CLEAN, MUDDY, CLEAN], [MUDDY, MUDDY, MUDDY, CLEAN]]
    # Clean mixes with the others: blue 2 + 1, grey 3 + 2, red 1 + 2, yellow 0 + 2.
    assert order_of_inks(chart(kinds), ChartOrder.VERDICT, None, None, TABLE) == [1, 2, 0, 3]


def test_with_one_ink_only_its_own_mixes_count_in_their_better_order() -> None:
    kinds = [[CLEAN, MUDDY, MUTED, MUDDY], [MUTED] * 4, [MUDDY] * 4, [MUDDY] * 4]
    mud: list[list[float]] = [[0, 90, 40, 80], [30, 0, 0, 0], [90, 0, 0, 0], [70, 0, 0, 0]]
    # Over or under blue: itself clean, grey muted at 30, red muted at 40, yellow muddy.
    assert order_of_inks(chart(kinds, mud), ChartOrder.VERDICT, 0, None, TABLE) == [0, 1, 2, 3]


def test_new_colours_count_where_they_are_clean() -> None:
    fresh = np.array([[0.0, 5, 9, 1], [1, 0, 1, 1], [50, 1, 0, 1], [1, 1, 1, 0]])
    kinds = [[CLEAN] * 4, [CLEAN] * 4, [MUDDY, CLEAN, CLEAN, CLEAN], [CLEAN] * 4]
    # Red over blue is 50 from all that is owned, and mud: blue 15 + 2, red 2 + 11, grey 3 + 7, yellow 3 + 3.
    assert order_of_inks(chart(kinds), ChartOrder.NEWNESS, None, fresh, TABLE) == [0, 2, 1, 3]
    assert order_of_inks(chart(kinds), ChartOrder.NEWNESS, 2, fresh, TABLE)[0] == 0


def test_newness_is_no_order_where_nothing_is_owned() -> None:
    assert order_of_inks(chart([[CLEAN] * 4] * 4), ChartOrder.NEWNESS, None, np.full((4, 4), np.inf), TABLE) == BY_HUE
