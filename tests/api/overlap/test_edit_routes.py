"""What a press on the Overlap screen asks the service to change, and what begins there."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def number(client: TestClient, name: str) -> int:
    return int(next(each["id"] for each in client.get("/api/stash").json()["inks"] if each["name"] == name))


def edit(client: TestClient, item: int = 1, **asked: Any) -> dict[str, Any]:
    answer = client.post(f"/api/overlaps/{item}/edit", json=asked)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def names(client: TestClient, desk: dict[str, Any]) -> list[str]:
    known = {ink["id"]: ink["name"] for ink in client.get("/api/stash").json()["inks"]}
    return [
        entry.get("treatment") or "+".join(known[part["ink_id"]] for part in entry.get("mix") or [entry])
        for entry in desk["overlap"]["stack"]
    ]


def test_an_ink_is_laid_by_its_usual_tool_stored_and_seen_at_once(client: TestClient) -> None:
    desk = edit(client, do="lay", at=2, ink_id=number(client, "Coral Bunting"), what="Lay Coral Bunting")
    assert names(client, desk) == ["Boiler Blue", "Firebox Orange", "Coral Bunting"]
    # A hybrid is a film: foam.
    assert desk["overlap"]["stack"][2]["tool"] == "foam"
    assert desk["picked"] == 3
    stored = client.get("/api/overlaps/1").json()
    assert stored["overlap"] == desk["overlap"]
    assert stored["crossing"]["full"]["colour"]["hex"] == desk["crossing"]["full"]["colour"]["hex"]
    client.post("/api/undo")
    assert names(client, client.get("/api/overlaps/1").json()) == ["Boiler Blue", "Firebox Orange"]


def test_a_dye_is_laid_with_a_brush(client: TestClient) -> None:
    desk = edit(client, do="lay", at=0, ink_id=number(client, "Signal Lamp Red"))
    assert names(client, desk) == ["Signal Lamp Red", "Firebox Orange"]
    assert desk["overlap"]["stack"][0]["tool"] == "brush"


def test_stacks_are_worked_on_as_at_the_table(client: TestClient) -> None:
    assert names(client, edit(client, do="treat", at=0, treatment="heat")) == ["Boiler Blue", "heat", "Firebox Orange"]
    assert names(client, edit(client, do="swap", at=0)) == ["Firebox Orange", "heat", "Boiler Blue"]
    assert names(client, edit(client, do="move", at=2, to=0)) == ["Boiler Blue", "Firebox Orange", "heat"]
    assert names(client, edit(client, do="mix", at=1)) == ["Boiler Blue+Firebox Orange", "heat"]
    assert names(client, edit(client, do="unmix", at=0)) == ["Boiler Blue", "Firebox Orange", "heat"]
    desk = edit(client, do="take_out", at=2)
    assert names(client, desk) == ["Boiler Blue", "Firebox Orange"]
    assert desk["overlap"]["stack"][1]["over"] == "wet"


def test_a_dose_stands_instead_of_the_tool_and_the_tool_comes_back(client: TestClient) -> None:
    was = edit(client, do="change", at=0, entry={"dilution": 0.25})["overlap"]["stack"][0]
    assert (was["tool"], was["dilution"]) == ("foam", 0.25)
    dosed = edit(client, do="change", at=0, entry={"dose": 1})["overlap"]["stack"][0]
    assert {key: value for key, value in dosed.items() if value is not None and key not in ("ink_id", "over")} == {
        "dose": 1,
        "dilution": 0.25,
    }
    back = edit(client, do="change", at=0, entry={"dose": None})["overlap"]["stack"][0]
    assert back.get("dose") is None
    # A dye's usual way, its water kept.
    assert (back["tool"], back["dilution"]) == ("brush", 0.25)
    assert back["passes"] >= 1


def test_what_is_laid_counts_no_further_than_what_is_still_the_same(client: TestClient) -> None:
    now = client.get("/api/overlaps/1").json()["overlap"]
    body = {key: value for key, value in now.items() if key not in ("id", "revision")}
    client.put("/api/overlaps/1", json={**body, "laid": 2})
    assert edit(client, do="change", at=1, entry={"passes": 2})["overlap"]["laid"] == 2
    assert edit(client, do="lay", at=1, ink_id=number(client, "Steam Teal"))["overlap"]["laid"] == 1
    assert edit(client, do="take_out", at=0)["overlap"]["laid"] == 0


@pytest.mark.parametrize(
    ("asked", "status", "says"),
    [
        ({"do": "lay", "at": 0}, 422, "laying an ink names it"),
        ({"do": "lay", "at": 0, "ink_id": 9999}, 404, "there is no ink 9999"),
        ({"do": "treat", "at": 0}, 422, "a treatment is named"),
        ({"do": "change", "at": 0}, 422, "changing an entry names one"),
        ({"do": "change", "at": 2, "entry": {"passes": 1}}, 422, "changing an entry names one"),
        ({"do": "apply"}, 422, "applying a proposal names it"),
        ({"do": "take_out", "at": 2}, 422, "there is no entry 3 in this stack"),
        ({"do": "unmix", "at": 1}, 422, "this is no mix of inks"),
        ({"do": "juggle"}, 422, "do"),
        ({"do": "lay", "at": 999, "ink_id": 1}, 422, "at"),
    ],
)
def test_what_makes_no_sense_changes_nothing(client: TestClient, asked: dict[str, Any], status: int, says: str) -> None:
    before = client.get("/api/overlaps/1").json()["overlap"]
    answer = client.post("/api/overlaps/1/edit", json=asked)
    assert answer.status_code == status, answer.text
    assert says in answer.json()["error"]
    assert client.get("/api/overlaps/1").json()["overlap"] == before


def test_an_edit_of_what_another_tab_has_changed_is_a_conflict(client: TestClient) -> None:
    first = client.get("/api/overlaps/1").json()["overlap"]["revision"]
    head = {"if-match": f'"{first}"'}
    asked = {"do": "treat", "at": 0, "treatment": "heat"}
    assert client.post("/api/overlaps/1/edit", json=asked, headers=head).status_code == 200
    late = client.post("/api/overlaps/1/edit", json=asked, headers=head)
    assert late.status_code == 409
    assert names(client, client.get("/api/overlaps/1").json()).count("heat") == 1


def test_a_new_overlap_is_empty_or_crosses_the_first_inks_at_hand(client: TestClient) -> None:
    settings = {"illuminant": "A", "mud_line": 40, "constants": {}}
    bare = client.post("/api/overlaps/new", json={"empty": True, "settings": settings})
    assert bare.status_code == 201
    assert bare.json()["overlap"]["stack"] == []
    assert bare.json()["overlap"]["settings"]["illuminant"] == "A"
    crossing = client.post("/api/overlaps/new", json={"empty": False}).json()
    assert names(client, crossing) == ["Brass Gauge", "Signal Lamp Red"]
    # A name that is taken gets a number.
    assert crossing["overlap"]["name"] == "On the table (2)"


def test_a_set_of_the_chart_is_laid_as_the_chart_lays_it(client: TestClient) -> None:
    three = [number(client, name) for name in ("Brass Gauge", "Steam Teal", "Boiler Blue")]
    asked = {"card_id": 1, "tool": "foam", "passes": 3, "over": "wet", "set": three, "name": "Three of a kind"}
    made = client.post("/api/chart/overlap", json=asked)
    assert made.status_code == 201, made.text
    desk = made.json()
    assert names(client, desk) == ["Brass Gauge", "Steam Teal", "Boiler Blue"]
    assert [entry["tool"] for entry in desk["overlap"]["stack"]] == ["foam"] * 3
    assert [entry["passes"] for entry in desk["overlap"]["stack"]] == [3] * 3
    assert [entry.get("over") for entry in desk["overlap"]["stack"]][1:] == ["wet", "wet"]
    assert desk["overlap"]["name"] == "Three of a kind"


def test_a_way_to_a_colour_is_laid_over_what_lies_there(client: TestClient) -> None:
    start = client.get("/api/overlaps/1").json()["overlap"]
    body = {key: value for key, value in start.items() if key not in ("id", "revision")}
    client.put("/api/overlaps/1", json={**body, "laid": 1})
    teal = number(client, "Steam Teal")
    answer = {"name": "Nearer", "stack": [{"ink_id": teal, "tool": "brush", "passes": 2}]}
    desk = client.post("/api/match/overlap", json={**answer, "start": 1}).json()
    assert names(client, desk) == ["Boiler Blue", "Steam Teal"]
    assert desk["overlap"]["laid"] == 1
    assert desk["overlap"]["card_id"] == start["card_id"]
    alone = client.post("/api/match/overlap", json={**answer, "card_id": 2}).json()
    assert names(client, alone) == ["Steam Teal"]
    assert (alone["overlap"]["laid"], alone["overlap"]["card_id"]) == (0, 2)
