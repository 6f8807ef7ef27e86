"""What a press on the Panel screen asks the service to change; it answers with the panel, and stores nothing."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from tests.api.search.test_charts import split
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


@pytest.fixture
def sunrise(demo: TestClient) -> dict[str, Any]:
    found = next(each for each in demo.get("/api/panels").json() if each["name"] == "Open day sunrise")
    stored = demo.get(f"/api/panels/open?panel={found['id']}").json()["panel"]
    return {key: value for key, value in stored.items() if key not in ("id", "revision")}


def edit(client: TestClient, panel: dict[str, Any], **asked: Any) -> dict[str, Any]:
    answer = client.post("/api/panels/held?per_mm=1", json={"panel": panel, **asked})
    assert answer.status_code == 200, answer.text
    return split(answer.content)[0]


def inks(panel: dict[str, Any]) -> list[int]:
    return [band["ink_id"] for band in panel["bands"]]


def widths(client: TestClient, panel: dict[str, Any]) -> list[float]:
    """Visible widths of the bands as they are planned, mm."""
    return [band["end"] - band["begin"] for band in painted(client, panel)["bands"]]


def painted(client: TestClient, panel: dict[str, Any]) -> dict[str, Any]:
    """What is told of a panel."""
    head, _ = split(client.post("/api/panels/picture?per_mm=1", json=panel).content)
    return head


def test_an_ink_takes_a_bands_place_or_is_one_more(demo: TestClient, sunrise: dict[str, Any]) -> None:
    was = inks(sunrise)
    held = {**sunrise, "bands": [{**sunrise["bands"][0], "width": 30}, *sunrise["bands"][1:]]}
    instead = edit(demo, held, do="lay", at=0, ink_id=was[3])
    assert inks(instead["panel"]) == [was[3], *was[1:]]
    assert instead["panel"]["bands"][0]["width"] == 30
    assert (instead["picked"], instead["done"]) == (0, True)
    more = edit(demo, sunrise, do="lay", at=0, ink_id=was[3], more=True)
    assert inks(more["panel"]) == [*was, was[3]]
    assert edit(demo, sunrise, do="lay", at=40, ink_id=was[3])["panel"] == more["panel"]


def test_a_band_is_taken_out_with_a_seam_and_another_comes_back_at_the_end(
    demo: TestClient, sunrise: dict[str, Any]
) -> None:
    was = inks(sunrise)
    marked = {**sunrise, "seams": [{"overlap": 4.0 + k, "feather": 2.0} for k in range(len(was) - 1)]}
    out = edit(demo, marked, do="take_out", at=2)["panel"]
    assert inks(out) == [*was[:2], *was[3:]]
    assert [seam["overlap"] for seam in out["seams"]] == [4.0, 5.0, 7.0, 8.0, 9.0]
    last = edit(demo, marked, do="take_out", at=len(was) - 1)["panel"]
    assert [seam["overlap"] for seam in last["seams"]] == [4.0, 5.0, 6.0, 7.0, 8.0]
    again = edit(demo, {**marked, "bands": [{**sunrise["bands"][0], "width": 9}, *sunrise["bands"][1:]]},
                 do="bring_back", at=0)["panel"]  # fmt: skip
    assert inks(again) == [*was, was[0]]
    assert again["bands"][-1]["width"] is None


def test_a_band_changes_places_with_the_next_but_not_beyond_the_end(demo: TestClient, sunrise: dict[str, Any]) -> None:
    was = inks(sunrise)
    later = edit(demo, sunrise, do="move_band", at=0, by=1)
    assert inks(later["panel"]) == [was[1], was[0], *was[2:]]
    assert later["picked"] == 1
    stays = edit(demo, sunrise, do="move_band", at=0, by=-1)
    assert (inks(stays["panel"]), stays["picked"], stays["done"]) == (was, 0, False)


def test_a_boundary_moves_and_all_other_bands_stay_as_they_are(demo: TestClient, sunrise: dict[str, Any]) -> None:
    before = widths(demo, sunrise)
    moved = edit(demo, sunrise, do="move_boundary", at=1, by=3)
    after = widths(demo, moved["panel"])
    seams = [painted(demo, each)["seams"][1] for each in (sunrise, moved["panel"])]
    was, now = ((seam["begin"] + seam["end"]) / 2 for seam in seams)
    assert now == pytest.approx(was + 3, abs=0.05)
    assert after[1] > before[1] + 1
    assert after[2] < before[2] - 1
    assert [*after[:1], *after[3:]] == pytest.approx([*before[:1], *before[3:]], abs=0.05)
    gone = edit(demo, sunrise, do="move_boundary", at=1, by=2 * before[2])
    assert (gone["done"], inks(gone["panel"])) == (False, inks(sunrise))
    even = edit(demo, moved["panel"], do="even_out")["panel"]
    assert all(band["width"] is None and band["weight"] is None for band in even["bands"])
    assert max(widths(demo, even)) - min(widths(demo, even)) < 4


@pytest.mark.parametrize("said", [{"overlap": 8.0}, {"gap": 4.0}])
def test_a_band_beside_a_said_seam_grows_by_what_it_is_moved_by(
    demo: TestClient, sunrise: dict[str, Any], said: dict[str, float]
) -> None:
    """Where a seam is said, its fade does not grow with its bands: the boundary goes just as far as it is moved."""
    seams = [{**seam, **said} if n == 1 else seam for n, seam in enumerate(sunrise["seams"])]
    panel = {**sunrise, "seams": seams}
    seam = painted(demo, panel)["seams"][1]
    moved = edit(demo, panel, do="move_boundary", at=1, by=3)["panel"]
    now = painted(demo, moved)["seams"][1]
    middle, after = ((each["begin"] + each["end"]) / 2 for each in (seam, now))
    assert after == pytest.approx(middle + 3, abs=0.05)
    assert now["end"] - now["begin"] == pytest.approx(seam["end"] - seam["begin"], abs=0.05)


def test_nothing_is_stored_of_what_is_held(demo: TestClient, sunrise: dict[str, Any]) -> None:
    before = demo.get("/api/panels").json()
    edit(demo, sunrise, do="take_out", at=0)
    assert demo.get("/api/panels").json() == before


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"do": "lay", "at": 0}, "laying an ink names it"),
        ({"do": "take_out", "at": 7}, "there is no band 8 on this panel"),
        ({"do": "bring_back", "at": 30}, "there is no band 31 on this panel"),
        ({"do": "move_boundary", "at": 6, "by": 1}, "there is no seam 7 on this panel"),
        ({"do": "juggle"}, "do"),
        ({"do": "even_out", "pases": 3}, "'pases' is not a key"),
    ],
)
def test_what_makes_no_sense_is_one_sentence(
    demo: TestClient, sunrise: dict[str, Any], asked: dict[str, Any], says: str
) -> None:
    answer = demo.post("/api/panels/held", json={"panel": sunrise, **asked})
    assert answer.status_code == 422
    assert says in answer.json()["error"]


def test_a_new_panel_begins_with_the_first_inks_at_hand_and_has_a_name_of_its_own(demo: TestClient) -> None:
    one, two = (demo.post("/api/panels/new", json={}).json()["panel"] for _ in range(2))
    assert inks(one) == inks(two) == [1, 2, 3]
    assert one["name"] != two["name"]
    assert two["name"].endswith("(2)")


def test_one_request_changes_stores_and_paints(demo: TestClient) -> None:
    stored = demo.get("/api/panels/open?panel=1").json()["panel"]
    match = {"if-match": f'"{stored["revision"]}"'}
    asked = {"do": "lay", "at": 1, "ink_id": 9, "what": "Take Tea Urn"}
    head, pixels = split(demo.post("/api/panels/1/edit?per_mm=1", json=asked, headers=match).content)
    assert (head["done"], head["picked"]) == (True, 1)
    assert inks(head["desk"]["panel"]) == [*inks(stored)[:1], 9, *inks(stored)[2:]]
    assert head["desk"]["panel"]["revision"] > stored["revision"]
    now = demo.get("/api/panels/open?panel=1").json()
    assert now == head["desk"]
    body = {key: value for key, value in now["panel"].items() if key not in ("id", "revision")}
    study, picture = split(demo.post("/api/panels/picture?per_mm=1", json=body).content)
    assert (study, picture) == (head["study"], pixels)
    assert demo.post("/api/undo").json()["what"] == f"Take Tea Urn ({stored['name']})"
    # Somebody who has not seen that changes nothing.
    assert demo.post("/api/panels/1/edit", json=asked, headers=match).status_code == 409
    assert inks(demo.get("/api/panels/open?panel=1").json()["panel"]) == inks(stored)


def test_all_of_a_panel_is_put_as_it_becomes_and_what_cannot_be_painted_is_not_stored(demo: TestClient) -> None:
    stored = demo.get("/api/panels/open?panel=1").json()["panel"]
    body = {key: value for key, value in stored.items() if key not in ("id", "revision")}
    head, _ = split(demo.post("/api/panels/1/edit", json={"do": "set", "panel": {**body, "soft": 0.25}}).content)
    assert head["desk"]["panel"]["soft"] == 0.25
    for bad in ({"do": "set"}, {"do": "set", "panel": {**body, "width": 1}}, {"do": "take_out", "at": 29}):
        assert demo.post("/api/panels/1/edit", json=bad).status_code == 422
    assert demo.post("/api/panels/1/edit?per_mm=48", json={"do": "even_out"}).status_code == 422
    assert demo.get("/api/panels/open?panel=1").json() == head["desk"]


def test_what_cannot_be_done_leaves_the_panel_as_it_is(demo: TestClient) -> None:
    before = demo.get("/api/panels/open?panel=1").json()
    head, _ = split(demo.post("/api/panels/1/edit", json={"do": "move_band", "at": 0, "by": -1}).content)
    assert (head["done"], head["desk"]) == (False, before)
