"""The HTTP service: the contract, the stash, the overlap on the table, the guard."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.jobs import BLUE_ORANGE, changed
from wempa.api.app import create_app
from wempa.api.guard import MAX_BODY
from wempa.demo.penny_halt import fill
from wempa.formats.job_result import predict_text
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def test_predict_is_the_command_lines(client: TestClient) -> None:
    answer = client.post("/api/predict", json=BLUE_ORANGE)
    assert answer.status_code == 200
    assert answer.json() == json.loads(predict_text(json.dumps(BLUE_ORANGE))[0][0].model_dump_json())
    listed = client.post("/api/predict", json=[BLUE_ORANGE, BLUE_ORANGE])
    assert listed.json() == [answer.json()] * 2


@pytest.mark.parametrize(
    ("body", "says", "place"),
    [
        (json.dumps(changed("stack.0.ink", "z")), "stack[0]: the ink 'z' is not declared under inks", "stack[0]"),
        (json.dumps([BLUE_ORANGE, changed("mud_line", -1)]), "job 1: mud_line", "[1].mud_line"),
        ("{", "not JSON", None),
        ("", "not JSON", None),
    ],
)
def test_a_bad_job_is_422_with_one_sentence(client: TestClient, body: str, says: str, place: str | None) -> None:
    answer = client.post("/api/predict", content=body)
    assert answer.status_code == 422
    assert says in answer.json()["error"]
    assert answer.json()["place"] == place


def test_crossing_gives_each_alone_and_both_orders(client: TestClient) -> None:
    found = client.post("/api/crossing", json=BLUE_ORANGE).json()
    assert [len(found["alone"]), len(found["pairs"])] == [2, 2]
    assert {(p["below"], p["above"]) for p in found["pairs"]} == {(0, 1), (1, 0)}
    turned = {**BLUE_ORANGE, "stack": BLUE_ORANGE["stack"][::-1]}
    straight = client.post("/api/predict", json=BLUE_ORANGE).json()
    for key in ("colour", "verdict", "notes"):
        assert found["full"][key] == straight[key]
    assert found["full"]["margin"] == round(straight["margin"]["delta_e"], 1)
    first, second = found["pairs"]
    for pair, said in ((first, straight), (second, client.post("/api/predict", json=turned).json())):
        assert pair["hex"] == said["colour"]["hex"]
        assert abs(pair["mud"] - said["verdict"]["mud"]) < 0.11
        assert pair["kind"] == said["verdict"]["kind"]
    assert first["order_matters"] == second["order_matters"] > 0


def edited(desk: dict[str, Any], **changes: Any) -> dict[str, Any]:
    overlap = {key: desk["overlap"][key] for key in ("name", "card_id", "settings", "stack")}
    return {**overlap, **changes}


def if_match(desk: dict[str, Any]) -> dict[str, str]:
    return {"If-Match": f'"{desk["overlap"]["revision"]}"'}


def test_an_overlap_is_changed_undone_and_kept(client: TestClient) -> None:
    cards = {card["name"]: card for card in client.get("/api/stash").json()["cards"]}
    desk = client.get("/api/overlaps/1").json()
    assert not desk["can_undo"]
    on_mint = edited(desk, card_id=cards["Mint Waiting Room"]["id"])
    answer = client.put("/api/overlaps/1", json=on_mint, headers=if_match(desk))
    assert answer.status_code == 200
    assert answer.json()["crossing"]["bare"]["colour"]["hex"] == cards["Mint Waiting Room"]["hex"]
    assert client.get("/api/overlaps/1").json()["overlap"] == answer.json()["overlap"]
    assert client.post("/api/undo").json() == {"what": "Change On the table"}
    assert client.get("/api/overlaps/1").json()["overlap"]["card_id"] == cards["Snow"]["id"]
    assert client.post("/api/redo").json()["what"] is not None
    assert client.get("/api/overlaps/1").json()["overlap"]["card_id"] == cards["Mint Waiting Room"]["id"]


def test_a_stale_edit_is_409_and_changes_nothing(client: TestClient) -> None:
    desk = client.get("/api/overlaps/1").json()
    client.put("/api/overlaps/1", json=edited(desk, name="Theirs"), headers=if_match(desk))
    answer = client.put("/api/overlaps/1", json=edited(desk, name="Mine"), headers=if_match(desk))
    assert answer.status_code == 409
    assert "changed elsewhere" in answer.json()["error"]
    assert client.get("/api/overlaps/1").json()["overlap"]["name"] == "Theirs"


@pytest.mark.parametrize(
    ("changes", "status", "says"),
    [
        ({"card_id": 999}, 404, "no card 999"),
        ({"stack": [{"ink_id": 999, "dose": 1}]}, 404, "no ink 999"),
        ({"stack": [{"ink_id": 1}]}, 422, "either a dose or a tool"),
        ({"stack": [{"ink_id": 1, "tool": "spoon"}]}, 422, "stack[0].tool"),
        ({"name": ""}, 422, "name"),
        ({"colour": "blue"}, 422, "colour"),
    ],
)
def test_a_bad_overlap_is_refused_and_the_old_one_kept(
    client: TestClient, changes: dict[str, Any], status: int, says: str
) -> None:
    before = client.get("/api/overlaps/1").json()
    answer = client.put("/api/overlaps/1", json=edited(before, **changes))
    assert (answer.status_code, says in answer.json()["error"]) == (status, True)
    assert client.get("/api/overlaps/1").json() == before


def test_foreign_hosts_and_origins_are_refused(client: TestClient) -> None:
    assert client.get("/api/stash", headers={"host": "cards.example"}).status_code == 400
    assert client.get("/api/stash", headers={"host": "localhost:8765"}).status_code == 200
    assert client.post("/api/undo", headers={"origin": "https://cards.example"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "null"}).status_code == 403
    assert client.post("/api/undo", headers={"origin": "http://testserver"}).status_code == 200
    for method in ("POST", "PUT", "PATCH", "DELETE"):
        answer = client.request(method, "/api/overlaps/1", headers={"origin": "https://cards.example"})
        assert answer.status_code == 403, method
    assert client.get("/api/overlaps/1", headers={"origin": "https://cards.example"}).status_code == 200


@pytest.mark.parametrize("host", ["[", "[::1", "a b", ""])
def test_a_host_that_cannot_be_read_is_400_with_the_policy(client: TestClient, host: str) -> None:
    answer = client.get("/api/stash", headers={"host": host})
    assert answer.status_code == 400
    assert "default-src 'none'" in answer.headers["content-security-policy"]


def test_odd_digits_in_headers_are_refused_not_a_crash(client: TestClient) -> None:
    desk = client.get("/api/overlaps/1").json()
    odd = client.put("/api/overlaps/1", json=edited(desk), headers={b"If-Match": b"\xb2"})
    assert (odd.status_code, "whole number" in odd.json()["error"]) == (422, True)


def test_a_tall_stack_crosses_its_first_six_and_answers_soon(client: TestClient) -> None:
    tall = {**BLUE_ORANGE, "stack": [{"ink": "a", "dose": 0.1}, {"ink": "b", "dose": 0.1}] * 30}
    found = client.post("/api/crossing", json=tall).json()
    assert (len(found["alone"]), len(found["pairs"])) == (6, 30)
    assert len(found["steps"]) == 60


def test_large_bodies_are_refused_however_they_come(client: TestClient) -> None:
    assert client.post("/api/predict", content=b" " * (MAX_BODY + 1)).status_code == 413
    streamed = client.post("/api/predict", content=iter([b" " * 65536] * (MAX_BODY // 65536 + 1)))
    assert streamed.status_code == 413
    assert "4 MB" in streamed.json()["error"]


def test_what_is_not_there_is_said_in_the_same_form(client: TestClient) -> None:
    assert client.get("/api/nothing").json() == {"error": "Not Found.", "place": None}
    assert client.get("/api/overlaps/77").json()["error"] == "there is no overlap 77"
    assert client.delete("/api/stash").status_code == 405


def test_every_answer_carries_the_policy(client: TestClient) -> None:
    for path in ("/", "/api/stash", "/api/nothing"):
        policy = client.get(path).headers["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "script-src 'self'" in policy
        assert "unsafe-inline" not in policy.replace("style-src-attr 'unsafe-inline'", "")


def test_the_sample_stash_goes_into_an_empty_workspace_only(tmp_path: Path, client: TestClient) -> None:
    assert client.post("/api/stash/sample").status_code == 422
    with TestClient(create_app(Workspace(tmp_path / "new.wempa"))) as fresh:
        assert fresh.get("/api/overlaps").json() == []
        assert len(fresh.post("/api/stash/sample").json()["inks"]) == 40
