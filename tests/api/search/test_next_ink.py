"""Which ink next, over HTTP: those that are wanted, or a table."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

TABLE = """name,range,formula,hex
Signal Violet,Spare,dye,#6a2ab0
Some Clay,Spare,pigment,#5b5340
Plain Blue,Spare,dye,#2f68b8
"""


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client
    workspace.close()


def test_wanted_inks_and_a_table(client: TestClient) -> None:
    wanted = client.post("/api/next-ink", json={"card_id": 1}).json()
    assert wanted["card"] == "Snow"
    assert [each["name"] for each in wanted["inks"]] == ["Tea Urn"]
    assert wanted["inks"][0]["ink_id"] is not None
    told = client.post("/api/next-ink", json={"card_id": 1, "table": TABLE}).json()
    assert told["owned"] == wanted["owned"]
    names = [each["name"] for each in told["inks"]]
    assert names[0] == "Signal Violet"
    best = told["inks"][0]
    assert best["gain"] > 0
    assert (best["new"][0]["words"], best["made"]) == ("violet", False)
    clay = next(each for each in told["inks"] if each["name"] == "Some Clay")
    assert (clay["gain"], clay["made"]) == (0, True)
    assert " over " in clay["like"]["text"]
    assert clay["apart"] < 3


def test_an_ink_alone_is_shown_in_its_own_colour_and_others_by_their_names(client: TestClient) -> None:
    """What it brings by itself is its swatch; what it brings with another is named after that ink."""
    told = client.post("/api/next-ink", json={"card_id": 1, "table": TABLE}).json()
    violet = next(each for each in told["inks"] if each["name"] == "Signal Violet")
    red, green, blue = (int(violet["hex"][n : n + 2], 16) for n in (1, 3, 5))
    assert blue > red > green
    own = {ink["name"] for ink in client.get("/api/stash").json()["inks"]}
    made = [colour["text"] for colour in violet["new"] if colour["text"] != "by itself"]
    assert made
    assert all(text.removeprefix("under ").removeprefix("over ") in own | {"Signal Violet"} for text in made)
    alone = [colour for colour in violet["new"] if colour["text"] == "by itself"]
    assert all(colour["hex"] == violet["hex"] for colour in alone)
    clay = next(each for each in told["inks"] if each["name"] == "Some Clay")
    first, second = clay["like"]["text"].split(" over ")
    assert {first, second} <= own


def test_what_is_refused(client: TestClient) -> None:
    bad = client.post("/api/next-ink", json={"table": "name,hex\nOne,#12\n"})
    assert bad.status_code == 422
    assert bad.json()["error"].startswith("line 2")
    many = "name,hex\n" + "".join(f"n{k},#{k:06x}\n" for k in range(300))
    assert "inks at most" in client.post("/api/next-ink", json={"table": many}).json()["error"]
    assert client.post("/api/next-ink", json={"card_id": 999}).status_code == 404
    assert client.post("/api/next-ink", json={"table": "name,hex\n"}).json()["inks"] == []
