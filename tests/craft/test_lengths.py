"""Lengths as they are said, by the rule that the pages follow too."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from wempa.craft.lengths import inches, size_in_both, size_said

SAID = json.loads((Path(__file__).parents[1] / "data/inches.json").read_text())


@pytest.mark.parametrize(("mm", "said"), SAID)
def test_inches_have_fractions_as_a_ruler(mm: float, said: str) -> None:
    assert inches(mm) == said


def test_at_the_mat_eighths_are_seen() -> None:
    assert [inches(mm, 8) for mm in (0.0, 1.5, 3.0, 26.9, 27.1)] == ["0", "0", "1/8", "1", "1 1/8"]


def test_a_size_is_said_in_one_unit_or_in_both() -> None:
    assert size_said((107.95, 139.7), inch=True) == "4 1/4 × 5 1/2 in"
    assert size_said((107.95, 139.7), inch=False) == "108 × 140 mm"
    assert size_in_both((107.95, 139.7), inch=True) == "4 1/4 × 5 1/2 in (108 × 140 mm)"
