"""Allowed but extreme jobs: every one has a finite answer."""

from __future__ import annotations

import json
import math
from typing import Any

import pytest

from tests.jobs import changed
from wempa.craft.prediction.predict import predict
from wempa.formats.job import read_one
from wempa.formats.job_result import result


def spectrum(value: float) -> dict[str, Any]:
    return {"spectrum": {"values": [value] * 36}}


@pytest.mark.parametrize(
    ("path", "value"),
    [
        ("cardstock.colour", spectrum(0)),
        ("cardstock.colour", spectrum(3)),
        ("cardstock.colour", {"lab": [0, 160, -160]}),
        ("cardstock", {"colour": {"hex": "#000000"}, "floor": 0.99, "takeup": 1.2, "texture": 1, "absorbency": 0}),
        ("inks.a.swatch.colour", spectrum(0)),
        ("inks.a.swatch.colour", spectrum(3)),
        ("inks.a.swatch.colour", {"lab": [100, -160, 160]}),
        ("inks.a", {"formula": "fluorescent", "swatch": {"colour": {"hex": "#000000"}}}),
        ("inks.a", {"formula": "pigment", "hiding": 0.98, "soak_share": 1, "swatch": {"colour": {"hex": "#ffffff"}}}),
        ("inks.a", {"formula": "hybrid", "hiding": 0, "swatch": {"colour": {"hex": "#000000"}, "spread": 30}}),
        ("stack", [{"ink": "a", "dose": 20}] * 60),
        ("stack", [{"ink": "a", "tool": "pad", "passes": 200, "over": "wet"}] * 60),
        ("stack", [{"treatment": t} for t in ("spritz", "heat", "glaze", "blot")]),
        ("stack", [{"mix": [{"ink": "a", "share": 1e-12}, {"ink": "b", "share": 1}], "dose": 1e-9}]),
    ],
    ids=lambda value: str(value)[:40],
)
@pytest.mark.parametrize("look", ["dry", "wet"])
def test_an_extreme_job_has_a_finite_answer(path: str, value: Any, look: str) -> None:
    given = result(predict(read_one({**changed(path, value), "look": look}))).model_dump_json()
    assert "null" not in json.dumps(json.loads(given)["colour"])

    def numbers(part: Any) -> list[float]:
        if isinstance(part, dict):
            part = list(part.values())
        return (
            [n for item in part for n in numbers(item)]
            if isinstance(part, list)
            else [part]
            if isinstance(part, float)
            else []
        )

    assert all(math.isfinite(n) for n in numbers(json.loads(given)))


def test_more_light_than_falls_on_it_is_noted() -> None:
    notes = predict(read_one(changed("inks.a.swatch.colour", spectrum(1.4)))).notes
    assert "more_than_all" in {note.code for note in notes}
