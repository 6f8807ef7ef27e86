"""Light of marked areas: against white, through glare and uneven light; marks of a sheet."""

from __future__ import annotations

import numpy as np

from tests.photos import SCENES, shoot
from wempa.craft.stash.swatch_sheet import MARK_RADIUS_MM
from wempa.optics.grid import Floats
from wempa.optics.photo import Area, Pixels, alike, find_marks, focus, look_at, white_field


def flat(colour: tuple[int, int, int], width: int = 60, height: int = 40) -> Pixels:
    return np.full((height, width, 3), colour, dtype=np.uint8)


def test_glare_dust_and_edges_are_left_out() -> None:
    photo = flat((180, 90, 60))
    photo[5:14, 8:20] = (255, 255, 250)
    photo[30:33, 40:43] = (20, 20, 20)
    photo[:, :3] = 250
    plain, spoilt = look_at(flat((180, 90, 60)), (0, 0, 60, 40)), look_at(photo, (0, 0, 60, 40))
    np.testing.assert_allclose(spoilt.light, plain.light, rtol=1e-9)
    assert plain.kept == 1
    assert 0.8 < spoilt.kept < 0.95
    assert spoilt.clipped > 0.04


def test_light_between_whites_is_a_plane_in_its_logarithm() -> None:
    photo = np.zeros((400, 600, 3), dtype=np.uint8)
    x = np.arange(600) / 600
    light = 0.8 * np.exp(-0.9 * x)
    coded = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    photo[:] = np.rint(coded * 255)[None, :, None]
    whites = [look_at(photo, (left, top, left + 30, top + 30)) for left, top in ((10, 10), (550, 20), (300, 350))]
    found = white_field(whites, np.array([[150.0, 200.0], [450.0, 100.0]]))[:, 0]
    np.testing.assert_allclose(found, 0.8 * np.exp(-0.9 * np.array([0.25, 0.75])), rtol=0.02)
    one = white_field(whites[:1], np.array([[500.0, 300.0]]))
    np.testing.assert_allclose(one[0], whites[0].light)


def test_marks_are_found_on_a_sheet_and_nowhere_else() -> None:
    found = find_marks(shoot(SCENES["uneven light"]).pixels, MARK_RADIUS_MM / 210)
    assert found is not None
    assert (found[:, 0].argsort()[:2] % 3 == 0).all()
    assert find_marks(flat((190, 190, 190), 700, 900), MARK_RADIUS_MM / 210) is None


def test_readings_that_coincide_are_named() -> None:
    labs: Floats = np.array([[50.0, 20, 20], [50.3, 20.2, 20.1], [70, 0, 0], [70.2, 0.1, 0]])
    assert alike(labs, 1.5) == [(0, 1), (2, 3)]


def area(light: tuple[float, float, float], x: float, y: float) -> Area:
    return Area(np.array([x, y]), np.array(light), np.zeros(3), 1.0, 0.0)


def test_one_white_is_the_same_everywhere() -> None:
    found = white_field([area((0.9, 0.7, 0.5), 10, 10)], np.array([[0.0, 0.0], [500.0, 300.0], [10.0, 10.0]]))
    np.testing.assert_allclose(found, [[0.9, 0.7, 0.5]] * 3)


def test_two_whites_make_a_gradient_along_their_line_and_none_across() -> None:
    whites = [area((0.8, 0.4, 0.2), 0, 0), area((0.2, 0.4, 0.8), 100, 0)]
    found = white_field(whites, np.array([[0.0, 0.0], [50.0, 0.0], [50.0, 90.0], [100.0, 0.0]]))
    np.testing.assert_allclose(found[[0, 3]], [[0.8, 0.4, 0.2], [0.2, 0.4, 0.8]], rtol=0.02)
    # Half way in the logarithm: 0.4 of each, and 90 pixels across change nothing.
    np.testing.assert_allclose(found[[1, 2]], [[0.4, 0.4, 0.4]] * 2, rtol=0.02)


def test_six_whites_follow_light_that_falls_off_to_all_sides() -> None:
    places = [(0, 0), (100, 0), (0, 100), (100, 100), (50, 50), (50, 0), (0, 50)]

    def light(x: float, y: float) -> float:
        return float(0.9 * np.exp(-(((x - 50) / 100) ** 2) - ((y - 50) / 100) ** 2))

    whites = [area((light(x, y),) * 3, x, y) for x, y in places]
    at = np.array([[30.0, 60.0], [80.0, 20.0]])
    np.testing.assert_allclose(white_field(whites, at)[:, 0], [light(30, 60), light(80, 20)], rtol=0.02)


def test_twenty_whites_follow_light_that_turns_twice() -> None:
    places = [(x, y) for x in (0, 25, 50, 75, 100) for y in (0, 33, 66, 100)]

    def light(x: float, y: float) -> float:
        return float(0.8 * np.exp(-((x / 100) ** 3) + 0.8 * x / 100 - 0.2 * y / 100))

    whites = [area((light(x, y),) * 3, x, y) for x, y in places]
    at = np.array([[40.0, 50.0], [90.0, 10.0]])
    np.testing.assert_allclose(white_field(whites, at)[:, 0], [light(40, 50), light(90, 10)], rtol=0.003)


def disc(blur: int) -> Pixels:
    """A black disc of 12 pixels on white, its edge a ramp over so many pixels to each side."""
    y, x = np.indices((80, 80))
    away = np.hypot(x + 0.5 - 40, y + 0.5 - 40)
    share = np.clip((away - 12) / (2 * max(blur, 0.5)) + 0.5, 0, 1)
    code = np.where(share * 0.8 <= 0.0031308, share * 0.8 * 12.92, 1.055 * (share * 0.8) ** (1 / 2.4) - 0.055)
    return np.repeat(np.rint(code * 255).astype(np.uint8)[..., None], 3, axis=2)


def test_blur_is_told_by_how_wide_a_discs_edge_is() -> None:
    corners = np.array([[40.0, 40.0]])
    # From a quarter to three quarters of a ramp over 12 pixels are 6, half a radius.
    assert abs(focus(disc(6), corners, 12) - 0.5) < 0.06
    assert focus(disc(0), corners, 12) < 0.15
    assert focus(np.full((80, 80, 3), 200, dtype=np.uint8), corners, 12) == np.inf
