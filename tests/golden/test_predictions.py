"""Every prediction says what the golden file says, to 1e-3."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.golden.gold import Gold, differences
from tests.golden.jobs import JOBS
from wempa.craft.prediction.predict import predict
from wempa.formats.job import read_one

# 420, 480, 550, 610 and 680 nm.
BANDS = np.array([4, 10, 17, 23, 30])


def told(job: dict[str, Any]) -> dict[str, Any]:
    """All that is pinned of one prediction."""
    found = predict(read_one(job))
    drops = found.drops
    return {
        "lab": found.colour.lab,
        "spectrum": found.colour.spectrum[BANDS],
        "drops": None if drops is None else [*drops.lab.tolist(), *drops.spectrum[BANDS].tolist()],
        "steps": [step.lab for step in found.steps],
        "kind": found.verdict.kind,
        "mud": found.verdict.mud,
        "chance": found.verdict.mud_chance,
        "way": found.verdict.way,
        "margin": found.margin,
        "reasons": [reason.code for reason in found.verdict.reasons],
        "notes": [note.code for note in found.notes],
    }


def test_predictions(pytestconfig: pytest.Config) -> None:
    gold = Gold("predictions.json", pytestconfig.getoption("--regold"))
    gold.check({name: told(job) for name, job in JOBS.items()})


@pytest.mark.parametrize(
    ("said", "found"),
    [
        ({"lab": [50.0, 1.0, 2.0]}, {"lab": [50.0, 1.0, 2.0021]}),
        ({"kind": "clean"}, {"kind": "muted"}),
        ({"drops": None}, {"drops": [1.0]}),
        ({"steps": [[1.0]]}, {"steps": []}),
        ({"lab": [1.0]}, {"lab": [1.0], "way": None}),
    ],
)
def test_a_difference_is_told(said: dict[str, Any], found: dict[str, Any]) -> None:
    assert len(differences(said, found)) == 1
    assert not differences(said, said)
