"""What somebody learned or drew for themselves holds in all rooms alike."""

from __future__ import annotations

import json
import struct
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.formats.log.items import Lesson
from wempa.store import Workspace


@pytest.fixture
def workspace(tmp_path: Path) -> Workspace:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    return workspace


@pytest.fixture
def client(workspace: Workspace) -> Iterator[TestClient]:
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


def learn(workspace: Workspace, **lesson: Any) -> None:
    workspace.write("lesson", Lesson(name="Mine", **lesson).stored(), what="Learn")


def chart(client: TestClient, **asked: Any) -> tuple[dict[str, Any], bytes]:
    content = client.post("/api/chart", json=asked).content
    (length,) = struct.unpack("<I", content[:4])
    return json.loads(content[4 : 4 + length]), content[4 + length :]


def test_a_cell_of_a_chart_and_its_details_show_one_colour_after_learning(
    client: TestClient, workspace: Workspace
) -> None:
    asked = {"inks": [1, 2, 20], "tool": "foam", "card_id": 1}
    _, before = chart(client, **asked)
    learn(workspace, rows={"tool.foam.amount": 0.5})
    head, cells = chart(client, **asked)
    assert cells != before
    for below in range(3):
        for above in range(3):
            at = 3 * below + above
            numbers = {"below": head["inks"][below], "above": head["inks"][above]}
            look = client.post("/api/chart/cell", json={**asked, **numbers}).json()["look"]
            assert look["colour"]["hex"] == "#" + cells[3 * at : 3 * at + 3].hex()


@pytest.mark.parametrize("line", [0.5, 20.0])
def test_a_hard_line_of_ones_own_is_flagged_and_worded_alike(
    client: TestClient, workspace: Workspace, line: float
) -> None:
    learn(workspace, of="seam", rows={"seam.hard": line})
    seams = []
    for panel in client.get("/api/panels").json():
        plan = client.get("/api/panels/open", params={"panel": panel["id"]}).json()["panel"]
        body = {key: value for key, value in plan.items() if key not in ("id", "revision")}
        content = client.post("/api/panels/picture?per_mm=1", json=body).content
        (length,) = struct.unpack("<I", content[:4])
        seams += json.loads(content[4 : 4 + length])["seams"]
    assert len(seams) > 8
    for seam in seams:
        flagged = "hard_line" in [flag["code"] for flag in seam["flags"]]
        # What is chosen as it is, such as a gap, is not flagged.
        if seam["chosen"] is None and seam["overlap"]:
            assert flagged == (seam["hardest"] > line)
            assert (seam["softness"] == "a line") == flagged


@pytest.mark.parametrize("own", [50, 30, 80])
def test_any_mud_line_may_be_chosen_for_one_overlap(client: TestClient, workspace: Workspace, own: float) -> None:
    learn(workspace, of="mud_line", mud_line=60)
    desk = client.get("/api/overlaps/1").json()
    assert (desk["mud_line"], desk["overlap"]["settings"]["mud_line"]) == (60, None)
    body = {key: value for key, value in desk["overlap"].items() if key not in ("id", "revision")}
    body["settings"]["mud_line"] = own
    desk = client.put("/api/overlaps/1", json=body).json()
    assert (desk["mud_line"], desk["overlap"]["settings"]["mud_line"]) == (own, own)
    # Said no longer, it is its owner's again.
    body["settings"]["mud_line"] = None
    assert client.put("/api/overlaps/1", json=body).json()["mud_line"] == 60
    assert chart(client, inks=[1, 2])[0]["mud_line"] == 60
    assert chart(client, inks=[1, 2], mud_line=own)[0]["mud_line"] == own


def test_a_mud_line_of_ones_own_decides_what_is_muddy(client: TestClient, workspace: Workspace) -> None:
    before = client.get("/api/overlaps").json()
    learn(workspace, of="mud_line", mud_line=1)
    after = client.get("/api/overlaps").json()
    assert [each["mud"] for each in after] == [each["mud"] for each in before]
    assert [each["kind"] == "muddy" for each in after] == [each["mud"] >= 1 for each in before]


@pytest.mark.parametrize("own", [0, 35, None])
def test_what_is_laid_over_an_overlap_keeps_its_line_unless_it_says_another(
    client: TestClient, own: float | None
) -> None:
    body = {key: value for key, value in client.get("/api/overlaps/1").json()["overlap"].items() if key != "id"}
    body.pop("revision")
    client.put("/api/overlaps/1", json={**body, "settings": {"mud_line": 70}})
    answer = {"name": "Over it", "start": 1, "stack": [{"ink_id": 3, "tool": "brush", "passes": 2}]}
    made = client.post("/api/match/overlap", json={**answer, "settings": {"mud_line": own}}).json()
    assert made["mud_line"] == (70 if own is None else own)


def test_undo_says_what_was_taken_out_by_its_name(client: TestClient) -> None:
    name = client.get("/api/log/1").json()["item"]["name"]
    assert client.delete("/api/log/1").status_code == 204
    assert client.post("/api/undo").json()["what"] == f"Take {name} out of the book"
