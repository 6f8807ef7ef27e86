"""Places on a front, read by the page's tests from the same file as by these."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from wempa.craft.panels.front import Front, coordinates
from wempa.craft.vocabulary import Layout

PLACES = Path(__file__).parents[2] / "data/front-places.json"


def fronts() -> list[Front]:
    """Each layout, upright and turned, its centre in the middle and elsewhere."""
    return [
        Front(90.0, 130.0, layout, angle, centre)
        for layout in Layout
        for angle, centre in ((0.0, (0.5, 0.5)), (25.0, (0.4, 0.3)), (-90.0, (0.0, 1.0)))
    ]


def places(front: Front) -> list[dict[str, float]]:
    """Where a few spots lie on the line across the bands, mm."""
    spots = [(10.0, 20.0), (45.0, 65.0), (80.5, 3.25), (88.0, 129.0)]
    return [{"x": x, "y": y, "at": round(float(coordinates(front, np.array(x), np.array(y))), 4)} for x, y in spots]


def test_the_places_that_both_languages_are_tested_against(pytestconfig: pytest.Config) -> None:
    found: list[dict[str, Any]] = [
        {
            "layout": str(front.layout),
            "inked": [front.width, front.height],
            "length": round(front.length(), 4),
            "angle": front.angle,
            "centre": list(front.centre),
            "spots": places(front),
        }
        for front in fronts()
    ]
    if pytestconfig.getoption("regold"):
        PLACES.write_text(json.dumps(found, indent=1) + "\n")
    said = json.loads(PLACES.read_text())
    assert [case["layout"] for case in said] == [case["layout"] for case in found]
    for was, now in zip(said, found, strict=True):
        assert now["length"] == pytest.approx(was["length"], abs=1e-3), now
        for old, new in zip(was["spots"], now["spots"], strict=True):
            assert new == pytest.approx(old, abs=1e-3), (now["layout"], now["angle"])


def test_what_the_file_says_is_so_by_hand() -> None:
    said = {(case["layout"], case["angle"]): case for case in json.loads(PLACES.read_text())}
    upright = said["straight", 0.0]
    assert upright["length"] == 90
    assert [spot["at"] for spot in upright["spots"]] == [10, 45, 80.5, 88]
    rings = said["rings", 0.0]
    assert rings["spots"][1]["at"] == 0
    assert rings["length"] == pytest.approx((45**2 + 65**2) ** 0.5, abs=1e-3)
    # The nearest edge is the right one, then the top, then the bottom.
    assert [spot["at"] for spot in said["edge", 0.0]["spots"]] == [10, 45, 3.25, 1]
