"""How a run moves on: what the service says of it, kept for the page, which goes on by itself while nobody answers.

`tests/web/sleeping.test.ts` reads the same runs.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.golden.gold import Gold
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

from .test_table import BEGAN, begun, hands, planned, tick

STEP = ("n", "bout", "act", "do", "of", "label", "text", "start", "minutes", "hands", "after", "waits")
# Of few pieces, so that the plan is the best one however busy the machine is.
EVENINGS: dict[str, tuple[tuple[str, int], ...]] = {
    "a panel and an overlap": (("panel", 3), ("overlap", 1)),
    "one panel": (("panel", 2),),
}
# How long each step takes against what was planned, over and over: late, early, in time.
PACES = (1.0, 3.0, 0.2, 0.4, 1.0, 5.0, 0.1)


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


def kept(run: dict[str, Any]) -> dict[str, Any]:
    """What the page goes by."""
    return {
        "id": run["id"],
        "began": run["began"],
        "total": run["total"],
        "done": run["done"],
        "due": [{key: step[key] for key in STEP} for step in run["due"]],
        "timers": run["timers"],
    }


def after(run: dict[str, Any]) -> dict[str, Any]:
    """When all that is left begins or is dry."""
    return {
        "total": run["total"],
        "due": [[step["bout"], step["act"], step["do"], step["start"]] for step in run["due"]],
        "timers": [[timer["bout"], timer["drying"], timer["ends"]] for timer in run["timers"]],
    }


@pytest.mark.parametrize("name", EVENINGS)
def test_runs_move_on_as_they_did(client: TestClient, name: str, pytestconfig: pytest.Config) -> None:
    gold = Gold("running.json", pytestconfig.getoption("--regold"))
    run = begun(client, planned(client, *EVENINGS[name]))
    # Some of it is done while the laptop is awake: something dries already.
    at = 0.0
    for _ in range(9):
        step = hands(run)[0]
        at = max(at, step["start"]) + step["minutes"]
        run = tick(client, run, at, later=True)
    case: dict[str, Any] = {"run": kept(run), "ticks": []}
    while hands(run):
        step = hands(run)[0]
        at = max(at, step["start"]) + PACES[len(case["ticks"]) % len(PACES)] * step["minutes"]
        run = tick(client, run, at, later=True)
        told = {"bout": step["bout"], "act": step["act"], "do": step["do"], "at": BEGAN + 60 * at}
        case["ticks"].append({**told, "after": after(run)})
    assert len(case["ticks"]) > 10
    starts = [[row[3] for row in tick["after"]["due"]] for tick in case["ticks"]]
    # Being late moves what follows, being early lets some of it begin sooner: the case shows both.
    assert any(b[-1] > a[-1] for a, b in pairwise(starts) if a and b)
    gold.check({**gold.said, name: case}, 0.02)
