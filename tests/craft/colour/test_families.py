"""What is grey, brown, olive, white and black, and the order round the circle."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
import pytest

from wempa.craft.colour import families
from wempa.craft.colour.circle import painter_hue
from wempa.craft.constants import AS_SHIPPED as TABLE
from wempa.craft.vocabulary import Family
from wempa.optics.namespace import SCALAR


def of_hue(lightness: float, chroma: float, painter: float) -> tuple[float, float, float]:
    """CIELAB of a lightness, a chroma and the painter's hue, found by trying quarter degrees."""
    best = min(
        np.arange(0, 360, 0.25),
        key=lambda h: abs((painter_hue(cos(radians(h)), sin(radians(h)), SCALAR) - painter + 180) % 360 - 180),
    )
    return lightness, chroma * cos(radians(best)), chroma * sin(radians(best))


@pytest.mark.parametrize(
    ("lab", "family"),
    [
        ((95.0, 0.0, 2.0), Family.WHITE),
        ((55.0, 3.0, -3.0), Family.GREY),
        ((8.0, 0.0, 0.0), Family.BLACK),
        ((50.0, 65.0, 45.0), Family.RED),
        ((68.0, 35.0, 70.0), Family.ORANGE),
        ((86.0, -2.0, 85.0), Family.YELLOW),
        ((55.0, -50.0, 35.0), Family.GREEN),
        ((40.0, 5.0, -50.0), Family.BLUE),
        ((38.0, 40.0, -40.0), Family.PURPLE),
        ((36.0, 16.0, 24.0), Family.BROWN),
    ],
)
def test_a_colour_has_the_family_that_one_would_say(lab: tuple[float, float, float], family: Family) -> None:
    assert families.family_of(lab, TABLE) is family


def test_a_hue_stands_in_the_family_that_is_nearest_on_the_painters_circle() -> None:
    for turn, family in enumerate(("red", "orange", "yellow", "green", "blue", "purple")):
        assert families.hue_word(60 * turn) == family
        assert families.hue_word(60 * turn + 29) == family
        assert families.hue_word(60 * turn - 29) == family


def test_grey_is_grey_up_to_the_tables_chroma_and_a_colour_from_there() -> None:
    below, above = TABLE["colour.grey"] - 0.01, TABLE["colour.grey"] + 0.01
    assert families.is_grey(np.array([[60.0, below, 0.0], [60.0, 0.0, -above]]), TABLE).tolist() == [True, False]
    assert families.family_of((60.0, 0.0, -below), TABLE) is Family.GREY
    assert families.family_of((60.0, 0.0, -above), TABLE) is Family.BLUE


def test_an_orange_that_is_dull_and_dark_is_brown_and_a_dull_green_is_not() -> None:
    assert families.family_of(of_hue(35, 25, 60), TABLE) is Family.BROWN
    assert families.family_of(of_hue(75, 25, 60), TABLE) is Family.ORANGE
    assert families.family_of(of_hue(35, 70, 60), TABLE) is Family.ORANGE
    assert families.family_of(of_hue(35, 25, 180), TABLE) is Family.GREEN
    assert not families.is_brown(35, 25, 120, TABLE)


def test_colours_stand_from_red_round_to_red_then_greys_from_light_to_dark() -> None:
    hues = [200, 20, 340, 110]
    labs = np.array([(30.0, 0.0, 0.0), *[of_hue(50, 40, hue) for hue in hues], (90.0, 1.0, 0.0)])
    assert families.around_the_circle(labs, TABLE).tolist() == [2, 4, 1, 3, 5, 0]


def test_within_a_step_light_ones_stand_before_dark_ones() -> None:
    labs = np.array([of_hue(30, 40, 118), of_hue(80, 40, 122), of_hue(55, 40, 150)])
    assert families.around_the_circle(labs, TABLE).tolist() == [0, 1, 2]
    assert families.around_the_circle(labs, TABLE, step=15).tolist() == [1, 0, 2]
