"""Bad weather: a full disk, a locked or damaged file, numbers that are none, faults of ours; one sentence each."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import StoreError, Unavailable, Workspace

WET = '{"panel_id":1,"photo":"PHOTO","corners":[[%s,1],[2,2],[3,5],[4,1]],"bare":[1,1,2,2]}'
POLICY = "content-security-policy"


@pytest.fixture
def workspace(tmp_path: Path) -> Workspace:
    made = Workspace(tmp_path / "w.wempa")
    fill(made)
    return made


@pytest.fixture
def client(workspace: Workspace) -> Iterator[TestClient]:
    with TestClient(create_app(workspace, copies=False), raise_server_exceptions=False) as client:
        yield client


def told(answer: Any) -> str:
    assert answer.headers[POLICY]
    return str(answer.json()["error"])


def new_tool(client: TestClient, name: str = "One more") -> Any:
    body = {"what": "Add a brush", "changes": [{"kind": "tool", "item": {"name": name, "tool": "brush"}}]}
    return client.post("/api/stash/changes", json=body)


def test_a_full_disk_stores_nothing_says_so_and_is_well_again_with_room(
    client: TestClient, workspace: Workspace
) -> None:
    pages = workspace._db.execute("PRAGMA page_count").fetchone()[0]
    workspace._db.execute(f"PRAGMA max_page_count = {pages}")
    before = len(client.get("/api/stash").json()["tools"])
    full = None
    for n in range(400):
        full = new_tool(client, f"Brush {n} " + "long " * 20)
        if full.status_code != 200:
            break
    assert full is not None
    assert full.status_code == 503
    assert "the disk is full: nothing was stored" in told(full)
    held = len(client.get("/api/stash").json()["tools"])
    workspace._db.execute("PRAGMA max_page_count = 1000000")
    assert new_tool(client).status_code == 200
    assert len(client.get("/api/stash").json()["tools"]) == held + 1 > before


def test_a_file_that_another_program_holds_is_told(client: TestClient, workspace: Workspace) -> None:
    workspace._db.execute("PRAGMA busy_timeout = 50")
    other = sqlite3.connect(workspace.path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    held = new_tool(client)
    assert held.status_code == 503
    assert "another program holds the workspace file" in told(held)
    assert client.get("/api/stash").status_code == 200
    other.execute("ROLLBACK")
    assert new_tool(client).status_code == 200


def test_a_file_that_may_not_be_written_is_told(client: TestClient, workspace: Workspace) -> None:
    workspace._db.execute("PRAGMA query_only = ON")
    assert "may not be written to" in told(new_tool(client))
    with pytest.raises(Unavailable):
        workspace.write("tool", {"name": "x", "tool": "brush", "details": {}}, what="test")


def test_damaged_pages_are_told_when_the_file_is_opened(tmp_path: Path) -> None:
    path = tmp_path / "d.wempa"
    made = Workspace(path)
    fill(made)
    made._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    made.close()
    data = bytearray(path.read_bytes())
    # Not the first page, by which the file is known.
    for at in range(4096 * 3, len(data), 4096):
        data[at : at + 200] = b"\xff" * 200
    path.write_bytes(data)
    with pytest.raises(
        StoreError, match=r"damaged: if it was one, put one of its copies in its place, from the folder d-copies"
    ):
        Workspace(path)


@pytest.mark.parametrize(
    "path",
    [
        "/api/panels/{}/small.png",
        "/api/log/{}",
        "/api/evenings/{}",
        "/api/overlaps/open?overlap={}",
        "/api/table/spots?kind=panel&ids={}",
        "/api/export/ink/{}.json",
    ],
)
def test_numbers_that_no_item_can_have_are_not_there(client: TestClient, path: str) -> None:
    for number in (2**63, 10**30):
        answer = client.get(path.format(number))
        assert answer.status_code == 404
        assert "so large a number" in told(answer)
    many = client.get(path.format("9" * 5000))
    assert many.status_code == 422
    assert len(told(many)) < 200


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e308", "-1e308", "1e999"])
def test_marks_on_a_photo_are_places_on_it(client: TestClient, number: str) -> None:
    head = {"content-type": "application/json"}
    photo = "0" * 64
    for path, body in (
        (f"/api/photos/{photo}/read", '{"swatches":[{"box":[%s,1,2,3]}],"whites":[[1,1,9,9]]}'),
        (f"/api/photos/{photo}/mark", '{"corners":[[%s,1],[2,2],[3,5],[4,1]],"page":"a4"}'),
        (
            "/api/table/wet-photo",
            '{"panel_id":1,"photo":"' + photo + '","corners":[[%s,1],[2,2],[3,5],[4,1]],"bare":[1,1,2,2]}',
        ),
    ):
        answer = client.post(path, content=body % number, headers=head)
        assert answer.status_code == 422, answer.text
        assert told(answer)


@pytest.mark.parametrize(
    ("name", "says"),
    [
        ("  ", "needs a letter"),
        ("a\x07b", "no control characters"),
        ("a\nb", "no control characters"),
        ("knil\u202e", "no control characters"),
    ],
)
def test_names_can_be_read(client: TestClient, name: str, says: str) -> None:
    answer = new_tool(client, name)
    assert answer.status_code == 422
    assert says in told(answer)
    assert new_tool(client, "Пензль №3, l’été").status_code == 200


def test_a_fault_of_ours_is_one_sentence_with_all_headers(
    client: TestClient, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken() -> None:
        raise RuntimeError("secret detail")

    services = client.app.state.services  # type: ignore[attr-defined]
    monkeypatch.setattr(services.runs, "under_way", broken)
    answer = client.get("/api/run", params={"now": 1})
    assert answer.status_code == 500
    assert told(answer).startswith("Wempa made a mistake here")
    assert "secret" not in answer.text
    assert "secret detail" in caplog.text
    assert client.get("/api/stash").status_code == 200


def test_an_origin_that_cannot_be_read_changes_nothing(client: TestClient) -> None:
    for origin in ("http://[::1", "http://[", "null", "http://elsewhere"):
        answer = client.post("/api/undo", headers={"origin": origin})
        assert answer.status_code == 403
        assert told(answer) == "this request comes from a page of another site"


def test_what_was_changed_meanwhile_is_not_deleted(client: TestClient) -> None:
    overlap = client.get("/api/overlaps").json()[0]
    stale = client.delete(f"/api/overlaps/{overlap['id']}", headers={"if-match": "1"})
    assert stale.status_code == 409
    assert "changed elsewhere" in told(stale)
    panel = client.get("/api/panels").json()[0]
    assert client.delete(f"/api/panels/{panel['id']}", headers={"if-match": "1"}).status_code == 409
    swatch = client.get("/api/log").json()["swatches"][0]
    assert client.delete(f"/api/log/{swatch['id']}", headers={"if-match": "1"}).status_code == 409
    good = client.delete(f"/api/overlaps/{overlap['id']}", headers={"if-match": str(overlap["revision"])})
    assert good.status_code == 200


def test_only_this_machine_is_answered_and_files_with_a_hash_are_kept(workspace: Workspace, tmp_path: Path) -> None:
    static = tmp_path / "static"
    (static / "assets").mkdir(parents=True)
    (static / "index.html").write_text("<!doctype html>")
    (static / "assets/index-1a2b3c.js").write_text("1")
    hosts = frozenset({"127.0.0.1"})
    app = create_app(workspace, hosts=hosts, static=static, copies=False)
    with TestClient(app, base_url="http://127.0.0.1") as client:
        asset = client.get("/assets/index-1a2b3c.js")
        assert asset.headers["cache-control"] == "public, max-age=31536000, immutable"
        assert client.get("/").headers["cache-control"] == "no-cache"
        assert client.get("/", headers={"host": "testserver"}).status_code == 400


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/chart", {"card_id": True}),
        ("/api/chart", {"card_id": "2"}),
        ("/api/chart", {"inks": [1.0, 2]}),
        ("/api/match", {"target": {"ink_id": 1}, "exact": "yes"}),
        ("/api/match", {"target": {"ink_id": 1}, "exact": 1}),
        ("/api/panels/held", {"panel": {"name": "x"}, "do": "lay", "ink_id": True}),
        ("/api/stash/changes", {"what": "x", "changes": [{"kind": "tool", "id": "1"}]}),
    ],
)
def test_numbers_and_switches_are_what_they_say(client: TestClient, path: str, body: dict[str, Any]) -> None:
    answer = client.post(path, json=body)
    assert answer.status_code == 422
    assert answer.json()["place"]


def test_bytes_that_are_no_text_are_told(client: TestClient) -> None:
    answer = client.post("/api/chart", content=b"\xff\xfe{", headers={"content-type": "application/json"})
    assert answer.status_code == 422
    assert "JSON in UTF-8" in told(answer)


def test_a_piece_of_two_overlaps_is_told(client: TestClient) -> None:
    for path in ("/api/table/look.png", "/api/table/spots"):
        answer = client.get(path, params={"kind": "overlap", "ids": [1, 2]})
        assert answer.status_code == 422
        assert "one number" in told(answer)


def test_every_route_says_how_it_may_answer(client: TestClient) -> None:
    for path, methods in client.get("/api/openapi.json").json()["paths"].items():
        for method, operation in methods.items():
            missing = {"400", "401", "403", "404", "408", "409", "413", "422", "500", "503"} - set(
                operation["responses"]
            )
            assert not missing, (method, path, missing)


@pytest.mark.parametrize("tool", ["brush", "foam", "dip", "paintbrush", "stamp"])
@pytest.mark.parametrize("passes", [5e-324, 1e-245, 1e-9])
def test_a_breath_of_a_pass_leaves_the_card_as_it_is(client: TestClient, tool: str, passes: float) -> None:
    ink = {"name": "a", "formula": "hybrid", "swatch": {"colour": {"hex": "#204080"}}}
    lay = {"ink": "a", "tool": tool, "passes": passes}
    job = {
        "wempa": 1,
        "cardstock": {"colour": {"hex": "#ffffff"}},
        "inks": {"a": ink},
        "stack": [lay, {**lay, "over": "wet"}],
    }
    bare = client.post("/api/predict", json={**job, "stack": []}).json()["colour"]["lab"]
    laid = client.post("/api/predict", json=job).json()["colour"]["lab"]
    assert laid == pytest.approx(bare, abs=0.1)


def test_the_table_offers_the_newest_only(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("wempa.api.table.overview.MAX_CHOICES", 2)
    offered = [each for each in client.get("/api/table").json()["choices"] if each["kind"] == "overlap"]
    assert [each["ids"] for each in offered] == [[3], [4]]
