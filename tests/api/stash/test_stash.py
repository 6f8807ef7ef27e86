"""The stash over HTTP: items, undo, photos, files in and out."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.formats.stash.test_stash_files import INK
from tests.pace import slowness
from wempa.api.app import create_app
from wempa.craft.limits import MAX_UPLOAD
from wempa.demo.penny_halt import LOOSE, fill
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(Workspace(tmp_path / "empty.wempa"))) as client:
        yield client


def stash(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get("/api/stash").json()
    return found


def change(client: TestClient, *changes: dict[str, Any]) -> Any:
    return client.post("/api/stash/changes", json={"what": "Try", "changes": list(changes)})


def named(client: TestClient, name: str) -> dict[str, Any]:
    return next(ink for ink in stash(client)["inks"] if ink["name"] == name)


def test_the_stash_says_all_that_the_shelf_shows(client: TestClient) -> None:
    blue = named(client, "Boiler Blue")
    assert (blue["family"], blue["hex"], blue["item"]["pad_kind"]) == ("blue", "#2a5ca8", "felt")
    assert 230 < blue["hue"] < 270
    assert named(client, "Clinker")["hue"] is None
    found = stash(client)
    assert {r["code"] for r in found["reminders"]} >= {"re_ink", "refill_it", "few_left", "change_foam", "worn"}
    assert next(card for card in found["cards"] if card["name"] == "Snow")["grams"] == pytest.approx(297.8, abs=0.5)


def test_items_are_made_changed_deleted_together_and_undone(client: TestClient) -> None:
    before = stash(client)
    blue = named(client, "Sea Wall")
    answer = change(
        client,
        {"kind": "ink", "item": {**INK, "name": "New One"}},
        {"kind": "ink", "id": blue["id"], "revision": blue["revision"], "item": {**blue["item"], "notes": "seen"}},
        {"kind": "tool", "id": before["tools"][0]["id"]},
    )
    assert answer.status_code == 200
    after = answer.json()
    assert len(after["inks"]) == 41
    assert len(after["tools"]) == 6
    assert after["can_undo"]
    client.post("/api/undo")
    undone = stash(client)
    assert [ink["item"] for ink in undone["inks"]] == [ink["item"] for ink in before["inks"]]
    assert len(undone["tools"]) == 7
    client.post("/api/redo")
    assert named(client, "New One")["formula"] == "hybrid"


def test_a_bad_or_stale_change_leaves_nothing_behind(client: TestClient) -> None:
    blue = named(client, "Sea Wall")
    good = {"kind": "ink", "item": {**INK, "name": "Never"}}
    bad = change(client, good, {"kind": "ink", "item": {**INK, "name": ""}})
    assert bad.status_code == 422
    assert "name" in bad.json()["error"]
    stale = change(client, good, {"kind": "ink", "id": blue["id"], "revision": 0, "item": blue["item"]})
    assert stale.status_code == 409
    assert "Sea Wall was changed elsewhere" in stale.json()["error"]
    used = change(client, good, {"kind": "ink", "id": named(client, "Boiler Blue")["id"]})
    assert used.status_code == 422
    assert "Boiler Blue is used by “On the table”" in used.json()["error"]
    assert all(ink["name"] != "Never" for ink in stash(client)["inks"])


def test_a_range_and_a_pad_reach_the_prediction(client: TestClient) -> None:
    def desk() -> dict[str, Any]:
        found: dict[str, Any] = client.get("/api/overlaps/1").json()["crossing"]["full"]
        return found

    before = desk()
    change(client, {"kind": "range", "item": {"name": "Footplate", "constants": {"hiding": 0.6, "film_share": 1.0}}})
    covering = desk()
    assert covering["colour"]["hex"] != before["colour"]["hex"]
    twice = change(client, {"kind": "range", "item": {"name": "Footplate"}})
    assert "already one of that name" in twice.json()["error"]
    orange = named(client, "Firebox Orange")
    item = {**orange["item"], "pad": "dry"}
    change(client, {"kind": "ink", "id": orange["id"], "revision": orange["revision"], "item": item})
    assert any("Firebox Orange is all but dry" in note["text"] for note in desk()["notes"])
    guide = {page["formula"]: page for page in client.get("/api/guide").json()}
    covers = next(line for line in guide["dye"]["lines"] if line["aspect"] == "Covers")
    assert "covers most" in covers["own"]["Footplate"]
    assert "Transparent" in covers["text"]


def test_inks_come_off_a_simulated_photo(client: TestClient) -> None:
    photo = client.post("/api/devices/camera", json={"lamp": "warm lamp", "page": "letter"}).json()
    assert photo["page"] == "letter"
    again = client.post("/api/photos", content=client.get(f"/api/photos/{photo['photo']}").content)
    assert again.status_code == 201
    path = f"/api/photos/{photo['photo']}"
    marked = client.post(f"{path}/mark", json={"page": photo["page"], "corners": photo["corners"]}).json()
    body = {
        "swatches": [{"box": box} for box in marked["swatches"][: len(LOOSE)]],
        "whites": marked["whites"],
        "dark": marked["dark"],
        "lamp": "A",
    }
    found = client.post(f"{path}/read", json=body).json()
    for reading, (_, _, code) in zip(found["readings"], LOOSE, strict=True):
        true = cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(code), "D65"), white_point("D65"))
        # Twelve inks of a phone that nobody knows, under a warm lamp: what is said of the doubt must hold.
        assert cm.delta_e(np.array(reading["lab"]), true) < min(2 * reading["spread"], 8)
        assert reading["colour"] == {"lab": reading["lab"], "illuminant": "D65"}
        assert reading["spread"] >= 1
    body["swatches"] = [body["swatches"][0], body["swatches"][0]]
    assert client.post(f"{path}/read", json=body).json()["alike"] == [[0, 1]]


@pytest.mark.parametrize(
    ("path", "content", "status", "says"),
    [
        ("/api/photos", b"no photo", 422, "no JPEG, PNG, HEIC or DNG"),
        ("/api/photos", b"\0" * (MAX_UPLOAD + 1), 413, "25 MB at most"),
        ("/api/measurements", b"a,b\n1,2\n", 422, "neither columns of a spectrum"),
        ("/api/import/inks", b"name,shade\n", 422, "no column 'shade'"),
        ("/api/import/workspace", b"{}", 422, "is missing"),
        ("/api/import/workspace", b"{", 422, "not JSON"),
        ("/api/import/inks", b"\0" * 10_000_001, 413, "10 MB at most"),
        ("/api/stash/changes", b"x" * 5_000_000, 413, "4 MB at most"),
    ],
)
def test_a_bad_file_is_one_sentence(client: TestClient, path: str, content: bytes, status: int, says: str) -> None:
    answer = client.post(path, content=content)
    assert answer.status_code == status
    assert says in answer.json()["error"]


def test_a_photo_that_is_gone_and_a_grid_that_is_none(client: TestClient) -> None:
    gone = client.post("/api/photos/abc/read", json={"swatches": [], "whites": []})
    assert gone.status_code == 404
    photo = client.post("/api/devices/camera", json={}).json()["photo"]
    line = {"corners": [[0, 0], [1, 1], [2, 2], [3, 3]], "columns": 2, "rows": 2}
    bad = client.post(f"/api/photos/{photo}/mark", json=line)
    assert "do not span a sheet" in bad.json()["error"]
    both = client.post(f"/api/photos/{photo}/mark", json={"corners": line["corners"]})
    assert "give one of the page, the strip, or columns and rows" in both.json()["error"]
    nothing = client.post(f"/api/photos/{photo}/read", json={"swatches": [{"box": [0, 0, 50, 50]}], "whites": []})
    assert "mark the white" in nothing.json()["error"]


def test_a_reader_measures_into_the_same_path(client: TestClient) -> None:
    file = client.post("/api/devices/reader").content
    found = client.post("/api/measurements", content=file).json()
    assert [one["name"] for one in found] == [name for name, _, _ in LOOSE]
    assert len(found[0]["colour"]["spectrum"]["values"]) == 36
    item = {"name": found[0]["name"], "ink": {"swatch": {"colour": found[0]["colour"], "known": "reader"}}}
    assert change(client, {"kind": "ink", "item": item}).status_code == 200


@pytest.mark.timed
def test_blank_lines_do_not_hold_up_anybody_else(client: TestClient) -> None:
    begun = time.perf_counter()
    answer = client.post("/api/measurements", content=b"\n" * 40_000)
    assert answer.status_code == 422
    assert answer.json()["error"] == "the file is empty"
    # The first question of a service takes longer; lines are counted before anything is done with them.
    assert time.perf_counter() - begun < 3 * slowness()


@pytest.mark.timed
def test_as_many_measured_colours_as_may_come_are_shown_within_seconds(client: TestClient) -> None:
    rows = b"".join(b"ink %d,%.2f,%.2f,10\n" % (n, 30 + n % 60, n % 50 - 25) for n in range(5000))
    begun = time.perf_counter()
    found = client.post("/api/measurements", content=b"name,lab_l,lab_a,lab_b\n" + rows).json()
    assert time.perf_counter() - begun < 5 * slowness()
    assert len(found) == 5000
    assert found[7]["colour"] == {"lab": [37, -18, 10], "illuminant": "D50"}
    # Seen by day: the same but for the change of light.
    assert found[7]["lab"] == pytest.approx([37, -18, 10], abs=1.5)
    assert found[7]["lab"] != [37, -18, 10]


def test_a_workspace_goes_out_and_comes_back_the_same(client: TestClient, empty: TestClient) -> None:
    change(client, {"kind": "range", "item": {"name": "Tender", "constants": {"lift": 0.4}}})
    # A gap in the numbers, so that places and numbers differ.
    change(client, {"kind": "ink", "id": named(client, "Brass Gauge")["id"]})
    # A premix, how far the work has got, and a name of one's own go with it.
    mix = [{"ink_id": named(client, name)["id"], "share": share} for name, share in (("Ember", 1), ("Sea Wall", 2))]
    mixed = {"name": "Mixed", "card_id": None, "stack": [{"mix": mix, "dose": 1}], "laid": 1, "colour_name": "Fog"}
    assert client.post("/api/overlaps", json=mixed).status_code == 201
    out = client.get("/api/export/workspace.json").content
    preview = empty.post("/api/import/workspace", content=out).json()
    assert not preview["applied"]
    assert {row["status"] for row in preview["rows"]} == {"new"}
    assert stash(empty)["inks"] == []
    assert empty.post("/api/import/workspace?apply=true", content=out).json()["applied"]
    assert empty.get("/api/export/workspace.json").content == out
    assert (
        empty.get("/api/overlaps/1").json()["crossing"]["full"]
        == client.get("/api/overlaps/1").json()["crossing"]["full"]
    )
    same = empty.post("/api/import/workspace?apply=true", content=out).json()
    assert {row["status"] for row in same["rows"]} == {"same"}
    empty.post("/api/undo")
    assert stash(empty)["inks"] == []


def test_an_import_shows_what_it_overwrites_and_a_bad_one_changes_nothing(client: TestClient) -> None:
    document = json.loads(client.get("/api/export/workspace.json").content)
    document["inks"][0]["ink"]["swatch"]["colour"] = {"hex": "#123456"}
    document["inks"][0]["notes"] = "other"
    rows = client.post("/api/import/workspace", content=json.dumps(document)).json()["rows"]
    assert [(row["name"], row["changes"]) for row in rows if row["status"] == "changed"] == [
        ("Brass Gauge", ["colour: #f2c21b → #123456", "notes: nothing → other"])
    ]
    document["overlaps"][0]["name"] = "Another"
    document["overlaps"][0]["stack"][0]["passes"] = -3
    bad = client.post("/api/import/workspace?apply=true", content=json.dumps(document))
    assert bad.status_code == 422
    assert bad.json()["error"].startswith("overlaps[0].stack[0].passes")
    assert named(client, "Brass Gauge")["hex"] == "#f2c21b"


def test_a_table_of_inks_is_taken_in_whole_or_not_at_all(client: TestClient) -> None:
    table = client.get("/api/export/inks.csv").text
    assert {row["status"] for row in client.post("/api/import/inks", content=table).json()["rows"]} == {"same"}
    bad = "name,formula,hex\nGood,dye,#336699\nBad,paint,#336699\nGood,dye,#336699\n"
    rows = client.post("/api/import/inks", content=bad).json()["rows"]
    assert [row["status"] for row in rows] == ["new", "bad", "bad"]
    assert rows[2]["problem"] == "line 4: Good stands in line 2 already"
    refused = client.post("/api/import/inks?apply=true", content=bad)
    assert refused.status_code == 422
    assert "2 rows are bad" in refused.json()["error"]
    assert all(ink["name"] != "Good" for ink in stash(client)["inks"])
    good = "name,range,formula,hex\nGood,,dye,#336699\nSea Wall,Ballast,hybrid,#000080\n"
    done = client.post("/api/import/inks?apply=true", content=good).json()
    assert [row["status"] for row in done["rows"]] == ["new", "changed"]
    assert named(client, "Sea Wall")["hex"] == "#000080"


def test_a_table_says_nothing_of_what_it_leaves_out(client: TestClient) -> None:
    """Two columns more do not wipe what its owner has written about an ink."""
    before = named(client, "Lavender Sidings")["item"]
    table = "name,range,formula,hex,notes\nLavender Sidings,Ballast,hybrid,#112233,\n"
    rows = client.post("/api/import/inks?apply=true", content=table).json()["rows"]
    assert rows[0]["changes"] == ["colour: #9a8cc2 → #112233", "known: typed → nothing"]
    after = named(client, "Lavender Sidings")["item"]
    assert (after["pad"], after["pad_kind"]) == (before["pad"], before["pad_kind"]) == ("drying", "foam")
    assert after["ink"]["swatch"]["known"] is None


def test_a_measured_spectrum_outlives_its_own_table_and_a_new_colour_is_not_as_sure_as_the_old(
    client: TestClient,
) -> None:
    found = client.post("/api/measurements", content=client.post("/api/devices/reader").content).json()[0]
    swatch = {"colour": found["colour"], "known": "reader", "spread": 0.4}
    change(client, {"kind": "ink", "item": {"name": "Read", "ink": {"swatch": swatch}}})
    table = client.get("/api/export/inks.csv").text
    assert {row["status"] for row in client.post("/api/import/inks", content=table).json()["rows"]} == {"same"}
    client.post("/api/import/inks?apply=true", content="name,hex,notes\nRead,#abcdef,typed anew\n")
    now = named(client, "Read")["item"]["ink"]["swatch"]
    assert (now["colour"]["hex"], now["known"], now["spread"]) == ("#abcdef", None, None)


def test_what_is_given_out(client: TestClient) -> None:
    for kind in ("csv", "json", "gpl", "css"):
        answer = client.get(f"/api/export/palette.{kind}")
        assert "attachment" in answer.headers["content-disposition"]
        assert "Sea Wall" in answer.text or "sea-wall" in answer.text
        assert "Lamp Oil" not in answer.text
    sheet = client.get("/api/sheet.pdf?page=letter&ink=1&ink=2&card=Snow")
    assert sheet.content.startswith(b"%PDF")
    many = client.get("/api/sheet.pdf?" + "&".join("ink=1" for _ in range(40)))
    assert "36 squares, not 40" in many.json()["error"]
    assert client.get("/api/sheet.pdf?ink=999").status_code == 404


def test_the_home_test_over_http(client: TestClient) -> None:
    assert len(client.get("/api/home-test").json()) == 5
    found = client.post("/api/home-test", json={"lifts": True, "opaque": False, "over_black": False}).json()
    assert found["chances"][0]["formula"] == "reactive_dye"
    assert client.post("/api/home-test", json={"smell": True}).status_code == 422


def test_cards_that_show_how_an_ink_covers_are_named(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        cards = client.get("/api/stash").json()["cards"]
    assert [card["name"] for card in cards if card["dark"]] == ["Slate Roof", "Night Mail Navy"]
