"""Copies of the workspace over HTTP."""

from __future__ import annotations

import time
from pathlib import Path

from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace


def test_copies_are_made_listed_fetched_and_put_back(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        assert client.get("/api/copies").json() == {"folder": str(tmp_path / "w-copies"), "copies": []}
        (made,) = client.post("/api/copies").json()["copies"]
        assert (made["why"], made["size"] > 100_000) == ("asked", True)
        shown = client.get("/api/overlaps/1").json()["crossing"]["full"]
        for number in (1, 2):
            assert client.delete(f"/api/overlaps/{number}").status_code == 200
        change = {"kind": "ink", "id": 3, "item": {"name": "Grey", "ink": {"swatch": {"colour": {"hex": "#808080"}}}}}
        assert client.post("/api/stash/changes", json={"what": "Grey", "changes": [change]}).status_code == 200
        listed = client.post(f"/api/copies/{made['name']}/restore").json()["copies"]
        assert [copy["why"] for copy in listed] == ["before", "asked"]
        # Nothing of what was read before is shown any more.
        assert client.get("/api/overlaps/1").json()["crossing"]["full"] == shown
        assert [each["id"] for each in client.get("/api/overlaps").json()] == [1, 2, 3, 4]
        assert not client.get("/api/stash").json()["can_undo"]
        client.post(f"/api/copies/{listed[0]['name']}/restore")
        assert [each["id"] for each in client.get("/api/overlaps").json()] == [3, 4]
        assert client.get("/api/stash").json()["can_undo"]
        file = client.get(f"/api/copies/{made['name']}")
        assert file.content.startswith(b"SQLite format 3")
        assert file.headers["content-disposition"] == f'attachment; filename="wempa-{made["name"]}"'
        for name in ("nothing", "..%2Fw.wempa", "20260101T000000000000Z-asked.wempa"):
            assert client.get(f"/api/copies/{name}").status_code == 404
            assert client.post(f"/api/copies/{name}/restore").status_code == 404


def test_a_service_that_starts_copies_what_has_changed(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    counts = []
    for _ in range(2):
        with TestClient(create_app(Workspace(tmp_path / "w.wempa"))) as client:
            begun = time.perf_counter()
            while not (found := client.get("/api/copies").json()["copies"]) and time.perf_counter() - begun < 10:
                time.sleep(0.02)
            counts.append([copy["why"] for copy in found])
    assert counts == [["start"], ["start"]]
