"""Undo never takes back another tab's newer work unasked."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from starlette.types import ASGIApp

from wempa.api.app import create_app
from wempa.api.pairing.door import COOKIE, Lan
from wempa.store import Devices, Workspace

HOSTS = frozenset({"127.0.0.1", "192.168.1.20"})


@pytest.fixture
def lan(tmp_path: Path) -> Lan:
    return Lan(Devices(tmp_path / "d.json"), ())


@pytest.fixture
def app(tmp_path: Path, lan: Lan) -> Iterator[ASGIApp]:
    made = create_app(Workspace(tmp_path / "w.wempa"), HOSTS, copies=False, lan=lan)
    with TestClient(made):
        yield made


def tab(app: ASGIApp, name: str, base: str = "http://127.0.0.1") -> TestClient:
    client = TestClient(app, base_url=base, headers={"x-wempa-tab": name} if name else {})
    client.get("/api/stash")
    return client


def make(client: TestClient, name: str) -> None:
    change = {"kind": "tool", "item": {"name": name, "tool": "brush"}}
    answer = client.post("/api/stash/changes", json={"what": f"Make {name}", "changes": [change]})
    assert answer.status_code == 200


def tools(client: TestClient) -> list[str]:
    return [each["item"]["name"] for each in client.get("/api/stash").json()["tools"]]


def step(client: TestClient, which: str, anyway: bool = False) -> Any:
    return client.post(f"/api/{which}", params={"anyway": anyway})


def test_ones_own_work_is_taken_back_and_done_again_unasked(app: ASGIApp) -> None:
    one = tab(app, "one")
    make(one, "A")
    assert step(one, "undo").json() == {"what": "Make A"}
    assert step(one, "redo").json() == {"what": "Make A"}
    assert tools(one) == ["A"]


def test_newer_work_of_another_tab_is_asked_about(app: ASGIApp) -> None:
    one, other = tab(app, "one"), tab(app, "other")
    make(one, "A")
    make(other, "B")
    asked = step(one, "undo")
    assert asked.status_code == 409
    assert asked.json()["error"].startswith("“Make B” was done in another tab at ")
    assert tools(one) == ["A", "B"]
    assert step(one, "undo", anyway=True).json() == {"what": "Make B"}
    assert step(one, "undo").json() == {"what": "Make A"}
    # What it undid itself it may do again; the other is asked.
    assert step(other, "redo").json()["error"] == "“Make A” was taken back in another tab"
    assert step(one, "redo").json() == {"what": "Make A"}


def test_work_from_before_a_tab_was_opened_is_taken_back_unasked(app: ASGIApp) -> None:
    make(tab(app, "yesterday"), "A")
    assert step(tab(app, "today"), "undo").json() == {"what": "Make A"}


def test_work_of_a_program_is_asked_about_and_a_program_is_not_asked(app: ASGIApp) -> None:
    one, program = tab(app, "one"), tab(app, "")
    make(program, "A")
    assert "by another program" in step(one, "undo").json()["error"]
    make(one, "B")
    assert step(program, "undo").json() == {"what": "Make B"}


def test_a_device_is_called_by_its_name(app: ASGIApp, lan: Lan) -> None:
    token = lan.devices.add("Kitchen tablet")
    tablet = TestClient(app, base_url="http://192.168.1.20", headers={"x-wempa-tab": "t"}, cookies={COOKIE: token})
    tablet.get("/api/stash")
    laptop = tab(app, "one")
    make(tablet, "A")
    assert "on Kitchen tablet at" in step(laptop, "undo").json()["error"]
    make(laptop, "B")
    assert "on the laptop at" in step(tablet, "undo").json()["error"]


@pytest.mark.parametrize("name", ["a b", "ä", "x" * 65, "a;b"])
def test_a_name_that_is_none_counts_as_none(app: ASGIApp, name: str) -> None:
    one = tab(app, "one")
    odd = TestClient(app, base_url="http://127.0.0.1", headers={b"x-wempa-tab": name.encode()})  # type: ignore[dict-item]
    make(one, "A")
    assert step(odd, "undo").json() == {"what": "Make A"}
