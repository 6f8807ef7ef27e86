"""Every craft case, the shared ones and our own."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

import pytest

from tests.craft.prediction.cases import Checker, load
from tests.craft.prediction.own_cases import CASES as OWN

CASES = load("craft-cases.json")


@pytest.mark.parametrize("case", CASES, ids=[case["id"] for case in CASES])
def test_craft_case(case: dict[str, Any]) -> None:
    checker = Checker(case["jobs"])
    for test, *args in case["expect"]:
        checker.check(test, *args)


def by_tool(jobs: dict[str, Any]) -> dict[str, Any]:
    """The same jobs by hand: a stated dose is as many pad impressions as it says."""
    made = deepcopy(jobs)
    for job in made.values():
        for entry in job["stack"]:
            if entry.get("dose") is not None:
                entry |= {"tool": "pad", "load": "normal", "passes": entry.pop("dose")}
    return made


@pytest.mark.parametrize("case", CASES, ids=[case["id"] for case in CASES])
def test_craft_case_by_hand(case: dict[str, Any]) -> None:
    """What any practitioner would agree on holds for tools as it does for doses."""
    checker = Checker(by_tool(case["jobs"]))
    for test, *args in case["expect"]:
        checker.check(test, *args)


@pytest.mark.parametrize(("jobs", "expect"), [case[1:] for case in OWN], ids=[case[0] for case in OWN])
def test_own_case(jobs: dict[str, Any], expect: list[list[Any]]) -> None:
    checker = Checker(jobs)
    for test, *args in expect:
        checker.check(test, *args)


def test_there_are_enough_own_cases() -> None:
    assert len({case[0] for case in OWN}) >= 40
