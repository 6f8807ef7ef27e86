"""Bands dragged wider and narrower, taken out, and how even their steps are in words."""

from __future__ import annotations

import pytest

from wempa.craft import constants
from wempa.craft.panels.edits import evenness_words, moved_widths, seam_to_drop, softness_words

THREE = [(0.0, 20.0), (24.0, 50.0), (55.0, 90.0)]


def test_a_boundary_gives_to_one_band_what_it_takes_from_the_next() -> None:
    assert moved_widths(THREE, 0, 4.5) == [24.5, 21.5, 35]
    assert moved_widths(THREE, 1, -6) == [20, 20, 41]
    assert moved_widths(THREE, 1, 0.123456) == [20, 26.12, 34.88]


def test_the_band_after_the_last_is_the_first() -> None:
    assert moved_widths(THREE, 2, 5) == [15, 26, 40]


@pytest.mark.parametrize(("at", "by"), [(0, -19.01), (0, 25.01), (1, 34.5), (2, 19.5), (3, 1), (-1, 1)])
def test_no_band_is_dragged_away(at: int, by: float) -> None:
    assert moved_widths(THREE, at, by) is None


def test_a_band_may_be_dragged_to_a_millimetre() -> None:
    assert moved_widths(THREE, 0, -19) == [1, 45, 35]
    assert moved_widths([(0, 90)], 0, 1) is None


def test_the_later_seam_goes_with_a_band_and_of_the_last_the_one_before_it() -> None:
    assert [seam_to_drop(at, 2) for at in range(3)] == [0, 1, 1]
    assert seam_to_drop(0, 0) is None


def test_evenness_in_words() -> None:
    said = [evenness_words(each) for each in (1.0, 0.81, 0.8, 0.61, 0.6, 0.0)]
    assert said == ["Even steps"] * 2 + ["Fairly even steps"] * 2 + ["Uneven steps"] * 2


def test_a_seam_is_soft_noticeable_or_a_line() -> None:
    hard = constants.AS_SHIPPED["seam.hard"]
    said = [softness_words(each, constants.AS_SHIPPED) for each in (0, hard / 2 - 0.01, hard / 2, hard, hard + 0.01)]
    assert said == ["soft", "soft", "noticeable", "noticeable", "a line"]
