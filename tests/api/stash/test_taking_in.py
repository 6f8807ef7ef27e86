"""Workspace files: whatever is stored goes out and comes back the same, and what differs is told before it is taken."""

from __future__ import annotations

import io
import json
import sqlite3
import zipfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.formats.stash.test_stash_files import jpeg
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

Document = dict[str, Any]


def client_of(path: Path) -> TestClient:
    return TestClient(create_app(Workspace(path), copies=False))


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[TestClient]:
    with client_of(tmp_path / "empty.wempa") as client:
        yield client


def exported(client: TestClient) -> Document:
    found: Document = client.get("/api/export/workspace.json").json()
    return found


def taken(client: TestClient, document: Document | bytes, query: str = "?apply=true") -> list[dict[str, Any]]:
    content = document if isinstance(document, bytes) else json.dumps(document)
    answer = client.post(f"/api/import/workspace{query}", content=content)
    assert answer.status_code == 200, answer.text
    rows: list[dict[str, Any]] = answer.json()["rows"]
    return rows


def told(rows: list[dict[str, Any]], *kinds: str) -> list[tuple[str, str, str, list[str]]]:
    """Rows that make a difference."""
    return [(r["kind"], r["name"], r["status"], r["changes"]) for r in rows if r["status"] in kinds]


def resolved(document: Document) -> dict[str, Any]:
    """Every item by its identity, with inks and cards by theirs instead of by place."""
    ids = {kind: [item["uuid"] for item in document[f"{kind}s"]] for kind in ("ink", "card")}

    def named(value: Any, key: str = "") -> Any:
        kind = {"ink": "ink", "white": "ink", "card": "card", "mat": "card"}.get(key)
        if kind and isinstance(value, int):
            return ids[kind][value]
        if isinstance(value, dict):
            return {each: named(inner, each) for each, inner in value.items()}
        return [named(each) for each in value] if isinstance(value, list) else value

    return {
        item["uuid"]: (key, named(item)) for key, items in document.items() if isinstance(items, list) for item in items
    }


# -- any workspace --------------------------------------------------------------------

NAMES = st.sampled_from(["Red", "Red ", "Blue", "Ω & <é>", "x" * 120])
COLOURS = st.sampled_from(["#c03030", "#3050c0", "#f8f7f4", "#202020"])
FORMULAS = st.sampled_from(["dye", "hybrid", "pigment", "unknown"])


@st.composite
def inks(draw: st.DrawFn) -> dict[str, Any]:
    formula, name = draw(FORMULAS), draw(NAMES)
    swatch: dict[str, Any] = {"colour": {"hex": draw(COLOURS)}}
    details = draw(st.sampled_from([{}, {"notes": "a\nb"}, {"pad_kind": "felt", "re_inked": "2026-01-02"}]))
    ranges = draw(st.sampled_from(["", "Footplate", "Gone"]))
    body = {"name": name, "formula": formula, "swatch": swatch}
    return {"name": name, "range": ranges, "formula": formula, "body": body, "details": details}


@st.composite
def stacks(draw: st.DrawFn) -> list[dict[str, Any]]:
    entry = st.one_of(
        st.fixed_dictionaries({"ink_id": st.integers(1, 3), "dose": st.sampled_from([0, 0.5, 1])}),
        st.fixed_dictionaries({"ink_id": st.integers(1, 3), "tool": st.just("foam"), "passes": st.integers(1, 4)}),
        st.just({"treatment": "heat"}),
        st.just({"mix": [{"ink_id": 1, "share": 0.3}, {"ink_id": 3, "share": 2}], "tool": "brush", "over": "wet"}),
    )
    return draw(st.lists(entry, max_size=4))


PANEL: dict[str, Any] = {
    "width": 100.0,
    "height": 140.0,
    "unit": "in",
    "bleed": 3.0,
    "frame": "mat",
    "frame_width": 6.0,
    "sheet": {"width": 300.0, "height": 400.0, "grain": True},
    "layout": "fan",
    "angle": 30.0,
    "centre": [0.4, 0.6],
    "bands": [
        {"ink_id": 1, "weight": 2.0},
        {"ink_id": 2, "tool": "foam", "load": "light", "passes": 3.0},
        {"ink_id": 1},
    ],
    "seams": [{"overlap": 8.0, "feather": 4.0, "wet": True}, {"gap": 2.0}],
    "count_between": True,
    "school": "darkest_first",
    "ribbon": {"edge": "stencil", "lean": 4.0, "carry": True},
    "rolls": 2,
    "tops": [{"kind": "ink", "ink_id": 3, "motif": "dots"}, {"kind": "water", "motif": "own", "path": "M0 0L9 0L9 9Z"}],
    "white_id": 3,
}


@st.composite
def workspaces(draw: st.DrawFn) -> dict[str, Any]:
    return {
        "inks": draw(st.lists(inks(), min_size=3, max_size=6)),
        "ranges": draw(st.sampled_from([[], ["Footplate"], ["Footplate", "Nobody's"]])),
        "emptied": draw(st.booleans()),
        "stacks": draw(st.lists(stacks(), max_size=3)),
        "laid": draw(st.integers(0, 2)),
        "panels": draw(st.integers(0, 2)),
        "photos": draw(st.integers(0, 2)),
        "spoilt": draw(st.sampled_from(["", "overlap", "panel", "ink", "card", "tool"])),
    }


def build(path: Path, given_: dict[str, Any]) -> None:
    """A workspace as drawn, one of its items spoilt behind the store's back."""
    store = Workspace(path)
    ids = [store.write("ink", ink, what="ink")["id"] for ink in given_["inks"]]
    for name in ("Snow", "Snow"):
        card = {"name": name, "surface": "smooth", "body": {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"}}
        store.write("card", card, what="card")
    store.write("tool", {"name": "Foam", "tool": "foam", "details": {"size": 30.0}}, what="tool")
    for name in given_["ranges"]:
        constants = {} if given_["emptied"] else {"constants": {"lift": 0.4}}
        store.write("range", {"name": name, "details": constants}, what="range")
    for n, stack in enumerate(given_["stacks"]):
        overlap = {"name": "Same", "card_id": [None, 1, 2][n % 3], "settings": {"mud_line": 40}, "stack": stack}
        store.write("overlap", {**overlap, "laid": min(given_["laid"], len(stack))}, what="overlap")
    for _ in range(given_["panels"]):
        panel = {"name": "Same", "card_id": 2, "mat_id": 1, "settings": {}, "plan": PANEL}
        store.write("panel", panel, what="panel")
    for n in range(given_["photos"]):
        store.keep_photo(jpeg((40 + n, 20)), 40 + n, 20)
    # One that nothing refers to, so that the rest can be read.
    spare = store.write("ink", {**given_["inks"][0], "name": "Spare"}, what="spare")["id"]
    assert spare not in ids[:3]
    store.close()
    spoilt = {
        "overlap": 'UPDATE overlap SET settings = \'{"constants": {"nobody": 1}}\' WHERE id = 1',
        "panel": "UPDATE panel SET plan = json_set(plan, '$.height', 0.1, '$.bands[0].ink_id', 977) WHERE id = 1",
        "ink": f"UPDATE ink SET body = '[1]', formula = 'paint' WHERE id = {spare}",
        "card": "UPDATE card SET body = '{\"colour\": {}}' WHERE id = 1",
        "tool": "UPDATE tool SET tool = 'shovel'",
    }.get(given_["spoilt"])
    if spoilt is not None:
        with closing(sqlite3.connect(path)) as db:
            db.execute(spoilt)
            db.commit()


def edit(path: Path) -> None:
    """Change, rename, delete and add, as somebody does after the file was written."""
    store = Workspace(path)
    for overlap in store.read_all("overlap")[:1]:
        store.write(
            "overlap", {**overlap, "stack": [{"treatment": "glaze"}], "laid": 0}, item_id=overlap["id"], what="x"
        )
    for panel in store.read_all("panel")[:1]:
        store.write("panel", None, item_id=panel["id"], what="delete")
    for tool in store.read_all("tool"):
        store.write("tool", {**tool, "name": "Other foam", "tool": "foam"}, item_id=tool["id"], what="rename")
    first, *_ = store.read_all("ink")
    store.write("ink", {**first, "name": "Renamed"}, item_id=first["id"], what="rename")
    store.write("ink", {**first, "uuid": None, "name": first["name"]}, what="a twin")
    for each in store.read_all("range"):
        store.write("range", {**each, "details": {"notes": "mine"}}, item_id=each["id"], what="note")
    store.close()


@settings(max_examples=9, deadline=None)
@given(workspaces())
def test_any_workspace_goes_out_and_comes_back_the_same(drawn: dict[str, Any]) -> None:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "w.wempa"
        build(path, drawn)
        with client_of(path) as client:
            archive, plain = (client.get(f"/api/export/workspace.{form}").content for form in ("zip", "json"))
            views = [client.get(f"/api/{view}").json() for view in ("stash", "overlaps", "panels")]
        # Into an empty one, to the byte.
        with client_of(Path(folder) / "empty.wempa") as empty:
            assert {row["status"] for row in taken(empty, archive, "")} == {"new"}
            assert empty.get("/api/stash").json()["inks"] == []
            taken(empty, archive)
            assert empty.get("/api/export/workspace.zip").content == archive
            again = [empty.get(f"/api/{view}").json() for view in ("stash", "overlaps", "panels")]
            assert [len(view) for view in again] == [len(view) for view in views]
            assert {row["status"] for row in taken(empty, archive)} == {"same"}
            assert [each["hex"] for each in again[1]] == [each["hex"] for each in views[1]]
            assert len(again[0]["unreadable"]) == len(views[0]["unreadable"])
        # Over an edited one, item by item.
        edit(path)
        with client_of(path) as client:
            before = resolved(exported(client))
            taken(client, archive, "?apply=true&keep=mine")
            kept = resolved(exported(client))
            assert {key: kept[key] for key in before} == before
            taken(client, archive)
            after, wanted = resolved(exported(client)), resolved(json.loads(plain))
            for key, (_, item) in wanted.items():
                # What was mended here meanwhile stays mended.
                if "unreadable" in item and key in before and "unreadable" not in before[key][1]:
                    wanted[key] = before[key]
            assert {key: after[key] for key in wanted} == wanted
            client.post("/api/undo")
            assert resolved(exported(client)) == kept


# -- what is told ----------------------------------------------------------------------


def changed_ink(client: TestClient, name: str, **fields: Any) -> None:
    ink = next(ink for ink in client.get("/api/stash").json()["inks"] if ink["name"] == name)
    change = {"kind": "ink", "id": ink["id"], "item": {**ink["item"], **fields}}
    assert client.post("/api/stash/changes", json={"what": "Try", "changes": [change]}).status_code == 200


def test_two_inks_of_one_name_stay_two(empty: TestClient) -> None:
    """Two inks "Red" of one range and formula, and an overlap of each."""
    reds = [
        {"name": "Red", "formula": "dye", "ink": {"swatch": {"colour": {"hex": code}}}}
        for code in ("#c00000", "#900030")
    ]
    for red in reds:
        empty.post("/api/stash/changes", json={"what": "Red", "changes": [{"kind": "ink", "item": red}]})
    for n in (1, 2):
        overlap = {"name": f"Of {n}", "card_id": None, "stack": [{"ink_id": n, "dose": 1}]}
        assert empty.post("/api/overlaps", json=overlap).status_code == 201
    shown = [each["hex"] for each in empty.get("/api/overlaps").json()]
    assert len(set(shown)) == 2
    document = exported(empty)
    with TemporaryDirectory() as folder, client_of(Path(folder) / "other.wempa") as other:
        taken(other, document)
        assert [each["hex"] for each in other.get("/api/overlaps").json()] == shown
        # Without identities, as files were before: in their order.
        for items in document.values():
            for item in items if isinstance(items, list) else ():
                del item["uuid"], item["changed"]
        assert {row["status"] for row in taken(other, document)} == {"same"}
        document["inks"][1]["notes"] = "the second"
        assert told(taken(other, document), "new", "changed", "conflict") == [
            ("ink", "Red", "conflict", ["notes: nothing → the second"])
        ]
        notes = [ink["item"]["notes"] for ink in other.get("/api/stash").json()["inks"]]
        assert notes == ["", "the second"]


def test_an_overlap_edited_here_is_told_and_brought_back_or_kept(demo: TestClient) -> None:
    document = exported(demo)
    overlap = demo.get("/api/overlaps/1").json()["overlap"]
    body = {key: overlap[key] for key in ("name", "card_id", "settings", "laid", "colour_name")}
    # As many entries as before, of the same inks.
    edited = [{**overlap["stack"][0], "passes": 9}, overlap["stack"][1]]
    stack = [{key: value for key, value in entry.items() if value is not None} for entry in edited]
    assert demo.put("/api/overlaps/1", json={**body, "stack": stack}).status_code == 200
    rows = taken(demo, document, "")
    assert told(rows, "new", "changed", "conflict") == [
        ("overlap", "On the table", "conflict", ["stack: the same inks, laid otherwise"])
    ]
    taken(demo, document, "?apply=true&keep=mine")
    assert demo.get("/api/overlaps/1").json()["overlap"]["stack"][0]["passes"] == 9
    taken(demo, document)
    assert demo.get("/api/overlaps/1").json()["overlap"]["stack"] == overlap["stack"]
    assert exported(demo) == document
    demo.post("/api/undo")
    assert demo.get("/api/overlaps/1").json()["overlap"]["stack"][0]["passes"] == 9


def test_what_was_changed_in_the_file_only_is_taken_even_where_mine_is_kept(demo: TestClient) -> None:
    document = exported(demo)
    document["inks"][2]["notes"] = "from the other table"
    document["panels"][0]["bands"][0]["ink"] = 5
    document["overlaps"][1]["card"] = 1
    changed_ink(demo, "Brass Gauge", notes="mine")
    rows = taken(demo, document, "?apply=true&keep=mine")
    panel_row = next(row for row in rows if row["name"] == "Open day sunrise")
    assert told(rows, "new", "changed", "conflict") == [
        ("ink", "Brass Gauge", "conflict", ["notes: mine → nothing"]),
        ("ink", "Boiler Blue", "changed", ["notes: nothing → from the other table"]),
        ("overlap", "Embankment in spring", "changed", ["card: Snow → Ivory"]),
        ("panel", "Open day sunrise", "changed", [panel_row["changes"][0]]),
    ]
    assert panel_row["changes"][0].startswith("bands: ")
    assert "→ Carriage Plum" in panel_row["changes"][0]
    found = {ink["name"]: ink["item"]["notes"] for ink in demo.get("/api/stash").json()["inks"]}
    assert (found["Brass Gauge"], found["Boiler Blue"]) == ("mine", "from the other table")


def test_an_ink_of_the_same_name_from_elsewhere_is_not_a_second_one(demo: TestClient, empty: TestClient) -> None:
    """Somebody else's file: their Boiler Blue is mine, and their overlap is another than mine of that name."""
    document = exported(demo)
    fresh = "00000000-0000-4000-8000-0000000000{:02x}"
    document["inks"], document["cards"] = document["inks"][:3], document["cards"][:1]
    for n, item in enumerate([*document["inks"], *document["cards"]]):
        item["uuid"] = fresh.format(n)
    document["inks"][2]["ink"]["swatch"]["colour"]["hex"] = "#123456"
    mine = {
        "name": "On the table",
        "card": 0,
        "settings": {},
        "stack": [{"ink": 2, "dose": 1}],
        "uuid": fresh.format(99),
    }
    theirs = {"wempa_workspace": 1, "inks": document["inks"], "cards": document["cards"], "overlaps": [mine]}
    rows = taken(demo, theirs, "?apply=true&keep=mine")
    assert told(rows, "new", "changed", "conflict") == [
        ("ink", "Boiler Blue", "conflict", ["colour: #2a5ca8 → #123456"]),
        ("overlap", "On the table", "new", []),
    ]
    assert len(demo.get("/api/stash").json()["inks"]) == 40
    added = demo.get("/api/overlaps").json()[-1]
    assert demo.get(f"/api/overlaps/{added['id']}").json()["overlap"]["stack"][0]["ink_id"] == 3
    assert {row["status"] for row in taken(empty, theirs)} == {"new"}


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda d: d["overlaps"][0]["stack"].__setitem__(0, {}), "overlaps[0].stack[0]"),
        (lambda d: d["overlaps"][0]["stack"][0].pop("tool"), "overlaps[0].stack[0]"),
        (lambda d: d["overlaps"][1]["settings"].update(constants={"nobody": 1}), "no constant 'nobody'"),
        (
            lambda d: d["overlaps"][1].update(stack=[{"ink": n, "dose": 1} for n in range(25)]),
            "overlaps[1].inks: 25 are more",
        ),
        (lambda d: d["panels"][0].update(height=0.1), "not 0.1 mm high"),
        (lambda d: d["panels"][1].update(frame="border", frame_width=80), "leaves nothing of this panel"),
        (lambda d: d["panels"][2]["bands"][0].update(width=0.2), "1 mm is the least"),
        (lambda d: d["panels"][0]["bands"][0].update(ink=400), "panels[0]: there is no ink 400 in this file"),
        (lambda d: d["inks"][1].update(uuid=d["inks"][0]["uuid"]), "inks[0] has this identity as well"),
        (lambda d: d["inks"][1].update(uuid="7"), "an identity is a UUID"),
        (lambda d: d["inks"][1].update(changed="yesterday"), "a time is written like"),
        (lambda d: d["tools"][1].update(unreadable={}), "what cannot be read has a name"),
        (lambda d: d["tools"].append({"name": "x", "unreadable": {"name": "x"}}), "of a stored tool there are"),
    ],
)
def test_what_the_application_cannot_read_is_not_taken_in(
    demo: TestClient, empty: TestClient, spoil: Any, said: str
) -> None:
    document = exported(demo)
    spoil(document)
    for query in ("", "?apply=true"):
        answer = empty.post(f"/api/import/workspace{query}", content=json.dumps(document))
        assert answer.status_code == 422
        assert said in answer.json()["error"]
        assert len(answer.json()["error"]) < 300
    assert empty.get("/api/stash").json()["inks"] == []
    assert empty.get("/api/overlaps").json() == []


def test_renamed_ranges_are_met_by_name_or_by_identity(empty: TestClient) -> None:
    def change(**fields: Any) -> None:
        assert (
            empty.post("/api/stash/changes", json={"what": "x", "changes": [{"kind": "range", **fields}]}).status_code
            == 200
        )

    change(item={"name": "Tender", "constants": {"lift": 0.4}})
    document = exported(empty)
    change(id=1, item={"name": "Tender Two", "constants": {"lift": 0.4}})
    assert told(taken(empty, document), "changed", "conflict") == [
        ("range", "Tender", "conflict", ["name: Tender Two → Tender"])
    ]
    change(id=1, item={"name": "Tender Two"})
    change(item={"name": "Tender"})
    rows = taken(empty, document)
    assert told(rows, "changed", "conflict") == [("range", "Tender", "conflict", ["constants: nothing → 0.4"])]
    assert [each["item"]["name"] for each in empty.get("/api/stash").json()["ranges"]] == ["Tender Two", "Tender"]


NO_OVERLAP: dict[str, Any] = {"colour_name": "", "card": None, "stack": [], "laid": 0}


def test_what_nobody_can_read_does_not_take_the_place_of_what_can_be_read(demo: TestClient) -> None:
    document = exported(demo)
    for key, n, raw in (
        ("tools", 0, {"name": "Small blender, blues", "tool": "shovel", "details": {}}),
        ("overlaps", 1, {"name": "Embankment in spring", "settings": {"x": 1}, **NO_OVERLAP}),
    ):
        item = document[key][n]
        own = {"uuid": item["uuid"], "changed": item["changed"]}
        document[key][n] = {**own, "name": item["name"], "unreadable": raw}
    rows = taken(demo, document)
    assert [(row["name"], row["status"], row["problem"]) for row in rows if row["status"] != "same"] == [
        ("Small blender, blues", "conflict", "cannot be read in the file; what is here stays"),
        ("Embankment in spring", "conflict", "cannot be read in the file; what is here stays"),
    ]
    assert not demo.get("/api/stash").json()["unreadable"]
    assert not any(each["trouble"] for each in demo.get("/api/overlaps").json())


# -- the zip ---------------------------------------------------------------------------


def test_photos_go_with_the_workspace_file(demo: TestClient, empty: TestClient) -> None:
    photo = demo.post("/api/devices/camera", json={}).json()["photo"]
    archive = demo.get("/api/export/workspace.zip").content
    taken(empty, archive)
    assert empty.get(f"/api/photos/{photo}").content == demo.get(f"/api/photos/{photo}").content
    assert empty.get("/api/export/workspace.zip").content == archive
    names = zipfile.ZipFile(io.BytesIO(archive)).namelist()
    assert names == ["workspace.json", "photos.json", f"photos/{photo}.jpg"]


def packed(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name.replace("_", "."), data)
    return out.getvalue()


PLAIN = b'{"wempa_workspace": 1}'
LISTED = b'[{"hash": "%s", "at": "2026-01-01", "width": 1, "height": 1}]'
PHOTO = f"photos/{'0' * 64}_jpg"


@pytest.mark.parametrize(
    ("archive", "said"),
    [
        (packed(other_txt=b""), "this zip is no workspace file: it holds no workspace.json"),
        (packed(workspace_json=PLAIN)[:-30], "damaged or breaks off"),
        (b"PK\x03\x04" + bytes(500), "damaged or breaks off"),
        (packed(workspace_json=b"\0" * 60_000_000), "workspace.json has more than 50 MB"),
        (packed(workspace_json=PLAIN, **{f"x{n}": b"" for n in range(60)}), "120 photos at most"),
        (packed(workspace_json=PLAIN, photos_json=b"{}"), "photos.json: this is no list"),
        (packed(workspace_json=PLAIN, photos_json=b"[{}]"), "a photo has hash, at, width and height"),
        (
            packed(
                workspace_json=PLAIN, photos_json=b'[{"hash": "../x", "at": "2026-01-01", "width": 1, "height": 1}]'
            ),
            "is no SHA-256",
        ),
        (
            packed(
                workspace_json=PLAIN,
                photos_json=b'[{"hash": "' + b"0" * 64 + b'", "at": "2026-01-01", "width": 1, "height": 1}]',
                **{f"photos/{'0' * 64}_jpg": b"\xff\xd8\xff"},
            ),
            "this photo is not the one",
        ),
    ],
)
def test_a_zip_that_is_no_workspace_is_one_sentence(empty: TestClient, archive: bytes, said: str) -> None:
    answer = empty.post("/api/import/workspace?apply=true", content=archive)
    assert answer.status_code == 422
    assert said in answer.json()["error"]
