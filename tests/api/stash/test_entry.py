"""Entering inks over HTTP: by eye, by a list, and what is asked."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client
    workspace.close()


def test_families_a_field_and_what_lies_around(client: TestClient) -> None:
    start = client.get("/api/by-eye").json()
    assert len(start["families"]) == 12
    assert start["spread"] == {"daylight": 2.6, "led": 6.7, "warm": 14.6}
    field = client.get("/api/by-eye/teal").json()["rows"]
    at = field[2][3]
    around = client.get("/api/by-eye/around", params=dict(zip(("light", "a", "b"), at["lab"], strict=True))).json()
    assert around["at"] == at
    assert [each["step"] for each in around["steps"]] == [6, 3, 1.5]
    assert [way["way"] for way in around["steps"][0]["ways"]][:2] == ["lighter", "darker"]
    lighter = around["steps"][0]["ways"][0]["to"]
    assert lighter["lab"][0] > at["lab"][0]
    assert lighter["hex"] != at["hex"]


@pytest.mark.parametrize(
    "query", ["light=101&a=0&b=0", "light=nan&a=0&b=0", "light=50&a=1e9&b=0", "light=50", "light=x&a=0&b=0"]
)
def test_what_is_no_colour_is_refused(client: TestClient, query: str) -> None:
    assert client.get(f"/api/by-eye/around?{query}").status_code == 422
    assert client.get("/api/by-eye/tartan").status_code == 422


def test_a_list_is_read_and_asked_about(client: TestClient) -> None:
    listed = client.post(
        "/api/stash/names", json={"text": "Boiler Blue\nSea Foam #9fd8c8", "range": "Footplate", "formula": "dye"}
    )
    blue, foam = listed.json()
    assert (blue["name"], blue["range"], blue["formula"], blue["colour"]) == ("Boiler Blue", "Footplate", "dye", None)
    assert (foam["colour"]["hex"], foam["colour"]["words"]) == ("#9fd8c8", "mint")
    inks = [
        {"name": "Boiler Blue", "range": "Footplate", "formula": "dye", "colour": {"hex": "#777777"}, "spread": 2.6},
        {"name": "Sea Foam", "range": "", "formula": "unknown", "colour": {"hex": "#9fd8c8"}, "spread": 14.6},
    ]  # fmt: skip
    doubts = client.post("/api/stash/doubts", json={"inks": inks}).json()
    assert [(each["at"], each["doubt"]) for each in doubts] == [(0, "owned"), (1, "formula"), (1, "colour")]
    assert client.post("/api/stash/names", json={"text": "(dye)"}).json()["error"].startswith("line 1")


def test_the_sample_stash_joins_the_usual_cards_but_no_inks(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "own.wempa")
    workspace.write(
        "card",
        {"name": "Mine", "surface": "smooth", "body": {"colour": {"hex": "#ffffff"}}, "details": {}},
        what="Card",
    )
    with TestClient(create_app(workspace)) as client:
        assert client.get("/api/stash").json()["sample"] is False
        filled = client.post("/api/stash/sample").json()
        assert (len(filled["inks"]), len(filled["cards"]), filled["sample"]) == (40, 12, False)
        assert client.post("/api/stash/sample").status_code == 422
        # What lies on the table is made of the inks that were just put there.
        assert client.get("/api/overlaps/open").json()["overlap"]["card_id"] != 1
    workspace.close()


def test_the_demo_says_that_it_is_the_sample(client: TestClient) -> None:
    assert client.get("/api/stash").json()["sample"] is True
