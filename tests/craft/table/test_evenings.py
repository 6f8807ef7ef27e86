"""Evenings planned: no rule of the craft is broken, and nothing takes longer than one piece after another."""

from __future__ import annotations

import pytest

from tests.evenings import as_bytes, broken_rules, random_evening
from wempa.api.table.from_file import plan_file
from wempa.formats.table.plan_result import plan_result


@pytest.mark.parametrize("seed", range(8))
def test_a_random_evening_breaks_no_rule(seed: int) -> None:
    file = random_evening(seed)
    told = plan_result(plan_file(as_bytes(file), 0.5)).model_dump(mode="json")
    assert not broken_rules(file, told)
