"""Every craft case, the shared ones and our own."""

from __future__ import annotations

from typing import Any

import pytest

from .cases import Checker, load

CASES = load("craft-cases.json")


@pytest.mark.parametrize("case", CASES, ids=[case["id"] for case in CASES])
def test_craft_case(case: dict[str, Any]) -> None:
    checker = Checker(case["jobs"])
    for test, *args in case["expect"]:
        checker.check(test, *args)
