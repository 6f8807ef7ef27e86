"""A little of ``make soak`` and ``make fuzz``: enough to tell when they would fail."""

from __future__ import annotations

from pathlib import Path

import pytest

from tools.fuzz import fuzz_routes
from tools.soaking.load import load
from tools.soaking.service import running
from tools.soaking.weather import check_whole, first_starts, full_disk, kills
from wempa.store import Workspace


def test_kills_while_things_are_stored_lose_nothing(tmp_path: Path) -> None:
    stored = kills(tmp_path, 1, seed=5)
    assert stored.writes > 0
    # The check would see it.
    workspace = Workspace(tmp_path / "kills.wempa")
    workspace._db.execute("UPDATE tool SET tool = 'broom' WHERE id = 1")
    workspace.close()
    with pytest.raises(AssertionError, match="cannot be read"):
        check_whole(tmp_path / "kills.wempa", stored)


def test_a_first_start_that_is_broken_off_becomes_a_whole_demo(tmp_path: Path) -> None:
    assert first_starts(tmp_path, 1, seed=2) == 1


def test_a_disk_that_is_full_is_told_and_loses_nothing(tmp_path: Path) -> None:
    try:
        held, said = full_disk(tmp_path, megabytes=3)
    except OSError as error:
        pytest.skip(f"no disk of its own can be made here: {error}")
    assert held > 0
    assert "the disk is full: nothing was stored" in said


def test_many_at_once_are_all_answered(tmp_path: Path) -> None:
    with running(tmp_path / "load.wempa") as service:
        told = load(service, clients=24, seconds=4)
    assert told.broken == []
    assert told.worst_statuses() == {}
    assert len(told.seconds["small"]) > 20
    assert told.peak < 800


def test_routes_asked_at_random_answer_as_their_schema_says() -> None:
    report = fuzz_routes(120, seed=7, few=24)
    assert report.cases > 60
    assert report.routes == 24
    assert {200, 404, 422} <= set(report.statuses)
    assert report.failures == {}, report.as_text()
