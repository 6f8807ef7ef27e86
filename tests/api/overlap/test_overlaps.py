"""The Overlap screen's routes: editing, advice, handing over and taking in."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from starlette.testclient import TestClient

from wempa.api.app import create_app
from wempa.craft.limits import MAX_DILUTION
from wempa.demo.penny_halt import OVERLAPS, fill
from wempa.formats.job import read_one
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def number(client: TestClient, kind: str, name: str) -> int:
    found = client.get("/api/stash").json()[kind]
    return int(next(each["id"] for each in found if each["name"] == name))


def put(client: TestClient, item: int = 1, **changes: Any) -> Any:
    now = client.get(f"/api/overlaps/{item}").json()["overlap"]
    body = {key: value for key, value in now.items() if key not in ("id", "revision")} | changes
    return client.put(f"/api/overlaps/{item}", json=body)


def lay(client: TestClient, *names: str, **how: Any) -> list[dict[str, Any]]:
    return [{"ink_id": number(client, "inks", name), **(how or {"tool": "brush", "passes": 6})} for name in names]


def advice(client: TestClient, board: str, item: int = 1) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/overlaps/{item}/advice?board={board}").json()
    return found


def test_every_fix_applied_gives_what_it_shows(client: TestClient) -> None:
    kraft = number(client, "cards", "Kraft Parcel")
    put(client, card_id=kraft, stack=lay(client, "Platform Rose", "Water Tower"))
    fixes = advice(client, "help")["fixes"]
    codes = {fix["code"] for fix in fixes}
    assert {"barrier", "other_card", "stand_in"} <= codes
    start = client.get("/api/overlaps/1").json()["crossing"]["full"]["verdict"]["mud"]
    for fix in fixes:
        if fix["change"] is None:
            assert fix["code"] in ("bridge", "narrower_overlap")
            continue
        after = put(client, **fix["change"]).json()["crossing"]["full"]
        assert after["colour"]["hex"] == fix["shown"][0]["colour"]["hex"]
        assert after["verdict"]["mud"] == fix["mud"] <= start - 5
        client.post("/api/undo")
    bridge = next(fix for fix in fixes if fix["code"] == "bridge")
    assert len(bridge["shown"]) == 2


def test_fixes_use_what_is_owned_only_and_leave_what_is_laid(client: TestClient) -> None:
    kraft = number(client, "cards", "Kraft Parcel")
    put(client, card_id=kraft, stack=lay(client, "Platform Rose", "Water Tower"), laid=1)
    fixes = {fix["code"]: fix for fix in advice(client, "help")["fixes"]}
    assert fixes["barrier"]["change"] is None
    assert fixes["other_card"]["change"] is None
    white = client.get("/api/stash").json()["inks"]
    item = next(ink for ink in white if ink["name"] == "Steam White")
    gone = {"kind": "ink", "id": item["id"], "item": {**item["item"], "standing": "used_up"}}
    assert client.post("/api/stash/changes", json={"what": "Use up", "changes": [gone]}).status_code == 200
    put(client, laid=0)
    barrier = next(fix for fix in advice(client, "help")["fixes"] if fix["code"] == "barrier")
    assert "White pigment" in barrier["text"]
    assert barrier["change"] is None
    unowned = {ink["name"] for ink in white if ink["item"]["standing"] != "owned"} | {"Steam White"}
    assert not any(name in fix["text"] for fix in advice(client, "help")["fixes"] for name in unowned)


def test_nudges_name_their_entry_and_apply_as_they_show(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Brass Gauge"), laid=1)
    nudges = advice(client, "nudge")["nudges"]
    assert [nudge["entry"] for nudge in nudges if nudge["entry"] is not None] == [0, 0, 1, 1]
    assert sum(nudge["change"] is not None for nudge in nudges) > 4
    for nudge in nudges:
        if nudge["change"] is None:
            continue
        assert nudge["change"]["stack"][0]["ink_id"] == number(client, "inks", "Boiler Blue")
        after = put(client, **nudge["change"]).json()["crossing"]["full"]
        assert after["colour"]["hex"] == nudge["after"]["colour"]["hex"]
        client.post("/api/undo")


def test_the_colour_board_and_the_bare_card(client: TestClient) -> None:
    found = advice(client, "colour")
    assert [light["illuminant"] for light in found["lights"]] == ["D65", "A", "LED-B3"]
    assert found["neighbours"]
    assert found["fixes"] == found["nudges"] == []
    put(client, stack=[])
    empty = advice(client, "colour")
    assert empty["lights"] == empty["neighbours"] == []
    assert client.get("/api/overlaps/1/strips").json() == []
    assert client.get("/api/overlaps/1/advice?board=soup").status_code == 422


def test_a_lamp_changes_the_look_and_not_the_ink(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue"))
    day = client.get("/api/overlaps/1").json()["crossing"]
    lamp = put(client, settings={"illuminant": "A"}).json()["crossing"]
    assert day["alone"][0]["colour"]["hex"] != lamp["alone"][0]["colour"]["hex"]
    apart = [
        abs(a - b) for a, b in zip(day["full"]["colour"]["spectrum"], lamp["full"]["colour"]["spectrum"], strict=True)
    ]
    assert max(apart) < 0.01


def test_premixes_are_kept_checked_and_keep_their_inks(client: TestClient) -> None:
    mix = [{"ink_id": number(client, "inks", name), "share": share} for name, share in (("Tea Urn", 1), ("Ember", 3))]
    made = put(client, stack=[{"mix": mix, "tool": "foam", "passes": 4, "dilution": 0.2}])
    assert made.status_code == 200
    assert made.json()["overlap"]["stack"][0]["mix"] == mix
    ember = next(ink for ink in client.get("/api/stash").json()["inks"] if ink["name"] == "Ember")
    used = client.post("/api/stash/changes", json={"what": "Delete", "changes": [{"kind": "ink", "id": ember["id"]}]})
    assert "Ember is used by" in used.json()["error"]
    assert put(client, stack=[{"mix": mix, "ink_id": 1, "tool": "foam"}]).status_code == 422
    assert put(client, stack=[{"mix": [], "tool": "foam"}]).status_code == 422
    too_wet = put(client, stack=[{"ink_id": 1, "tool": "foam", "dilution": MAX_DILUTION + 0.01}])
    assert "dilution" in too_wet.json()["error"]
    assert client.post("/api/undo").status_code == 200
    assert client.post("/api/redo").status_code == 200
    assert client.get("/api/overlaps/1").json()["overlap"]["stack"][0]["mix"] == mix


def test_a_job_goes_out_and_comes_back_on_another_table(client: TestClient, tmp_path: Path) -> None:
    mix = [{"ink_id": number(client, "inks", name), "share": 0.5} for name in ("Ember", "Steam Teal")]
    kraft = number(client, "cards", "Kraft Parcel")
    stack = [*lay(client, "Boiler Blue"), {"treatment": "glaze"}, {"mix": mix, "dose": 0.7, "over": "dry"}]
    there = put(client, card_id=kraft, stack=stack, settings={"mud_line": 40, "illuminant": "D65"}).json()
    out = client.get("/api/overlaps/1/export.json")
    assert out.headers["content-disposition"] == 'attachment; filename="wempa-on-the-table.json"'
    # What is handed over is a job of the contract.
    read_one(json.loads(out.content))
    assert (
        client.post("/api/predict", content=out.content).json()["colour"]["hex"]
        == there["crossing"]["full"]["colour"]["hex"]
    )

    back = client.post("/api/overlaps/import", content=out.content)
    assert back.status_code == 201
    assert back.json()["overlap"]["card_id"] == kraft
    assert [entry["ink_id"] for entry in back.json()["overlap"]["stack"]] == [entry.get("ink_id") for entry in stack]
    inks = len(client.get("/api/stash").json()["inks"])

    other = Workspace(tmp_path / "other.wempa")
    with TestClient(create_app(other)) as strange:
        made = strange.post("/api/overlaps/import", content=out.content).json()
        assert made["crossing"]["full"]["colour"] == back.json()["crossing"]["full"]["colour"]
        assert made["overlap"]["settings"]["mud_line"] == 40
        shelf = strange.get("/api/stash").json()
        # What comes with a job is known, not owned.
        assert {ink["item"]["standing"] for ink in shelf["inks"]} == {"reference"}
        assert len(shelf["inks"]) == 3
        assert len(shelf["cards"]) == 1
        strange.post("/api/undo")
        assert strange.get("/api/stash").json()["inks"] == []
    assert len(client.get("/api/stash").json()["inks"]) == inks


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"[]", "list"),
        (b"{", "not JSON"),
        (b'{"wempa": 1}', "cardstock"),
        (b'{"wempa": 1, "cardstock": {"colour": {"hex": "#fff"}}, "inks": {}, "stack": []}', "#fff"),
    ],
)
def test_a_bad_job_file_is_one_sentence_and_nothing_is_stored(client: TestClient, data: bytes, says: str) -> None:
    answer = client.post("/api/overlaps/import", content=data)
    assert (answer.status_code, says in answer.json()["error"]) == (422, True)
    assert len(client.get("/api/overlaps").json()) == len(OVERLAPS)


def test_pictures_show_the_predicted_colours(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Firebox Orange"), colour_name="Smoke", name="Ö – a/b")
    crossing = client.get("/api/overlaps/1").json()["crossing"]
    wanted = {crossing["full"]["colour"]["hex"], crossing["wet"]["colour"]["hex"], crossing["bare"]["colour"]["hex"]}
    wanted |= {pair["hex"] for pair in crossing["pairs"]} | {each["colour"]["hex"] for each in crossing["alone"]}
    png = client.get("/api/overlaps/1/export.png")
    picture = Image.open(io.BytesIO(png.content)).convert("RGB")
    assert [round(v) for v in picture.info["dpi"]] == [300, 300]
    assert abs(picture.width / 300 * 25.4 - 210) < 0.2
    assert abs(picture.height / 300 * 25.4 - 148) < 0.2
    counted = picture.getcolors(picture.width * picture.height)
    assert counted is not None
    common = {f"#{bytes(colour).hex()}" for count, colour in counted if count > 5000 and isinstance(colour, tuple)}
    assert wanted <= common
    svg = client.get("/api/overlaps/1/export.svg").text
    assert all(colour in svg for colour in wanted)
    pdf = client.get("/api/overlaps/1/export.pdf")
    assert pdf.content.startswith(b"%PDF")
    box = re.search(rb"/MediaBox \[ ?0 0 ([\d.]+) ([\d.]+) ?\]", pdf.content)
    assert box is not None
    assert [round(float(v) / 72 * 25.4) for v in box.groups()] == [210, 148]
    assert pdf.headers["content-disposition"].isascii()
    assert client.get("/api/overlaps/1/export.gif").status_code == 422


def test_ready_made_ways_are_one_step_to_undo(client: TestClient) -> None:
    before = client.get("/api/overlaps/1").json()["overlap"]
    headers = {"If-Match": f'"{before["revision"]}"'}
    made = client.post("/api/overlaps/1/preset", json={"preset": "dipped_again"}, headers=headers).json()["overlap"]
    assert [entry["dilution"] for entry in made["stack"]] == [0.5] * 4
    assert client.post("/api/undo").json()["what"] == "Dipped again (On the table)"
    assert client.get("/api/overlaps/1").json()["overlap"]["stack"] == before["stack"]
    stale = client.post("/api/overlaps/1/preset", json={"preset": "dipped_again"}, headers=headers)
    assert stale.status_code == 409
    put(client, stack=[])
    assert client.post("/api/overlaps/1/preset", json={"preset": "stamped_over"}).status_code == 200


def test_copies_summaries_and_discarding(client: TestClient) -> None:
    first = client.post("/api/overlaps/1/copy").json()["overlap"]["name"]
    second = client.post("/api/overlaps/1/copy").json()["overlap"]["name"]
    assert [first, second] == ["On the table (2)", "On the table (3)"]
    listed = client.get("/api/overlaps").json()
    full = client.get("/api/overlaps/1").json()["crossing"]["full"]
    copies = [each for each in listed if each["name"].startswith("On the table")]
    assert len(copies) == 3
    assert {each["hex"] for each in copies} == {full["colour"]["hex"]}
    assert {each["mud"] for each in copies} == {full["verdict"]["mud"]}
    second_id, third_id = (each["id"] for each in copies[1:])
    put(client, second_id, stack=lay(client, "Brass Gauge"))
    beside = client.get(f"/api/overlaps/{second_id}/beside/1").json()
    assert "lighter" in beside["text"]
    assert beside["delta_e"] > 20
    left = [each["id"] for each in client.delete(f"/api/overlaps/{second_id}").json()]
    assert second_id not in left
    assert third_id in left
    assert client.get(f"/api/overlaps/{second_id}").status_code == 404
    client.post("/api/undo")
    assert client.get(f"/api/overlaps/{second_id}").json()["overlap"]["name"] == "On the table (2)"


def test_one_pair_is_told_in_full_and_only_if_it_is_there(client: TestClient) -> None:
    pairs = client.get("/api/overlaps/1").json()["crossing"]["pairs"]
    for pair in pairs:
        look = client.get(f"/api/overlaps/1/pair?below={pair['below']}&above={pair['above']}").json()
        assert look["colour"]["hex"] == pair["hex"]
        assert look["verdict"]["kind"] == pair["kind"]
        assert look["verdict"]["reasons"]
    assert "no lay-downs" in client.get("/api/overlaps/1/pair?below=0&above=7").json()["error"]


def test_what_the_shelf_says_of_a_pad_reaches_the_table_at_once(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", tool="pad", passes=1))
    before = client.get("/api/overlaps/1").json()["crossing"]["full"]["colour"]["lab"][0]
    ink = next(each for each in client.get("/api/stash").json()["inks"] if each["name"] == "Boiler Blue")
    drying = {"kind": "ink", "id": ink["id"], "item": {**ink["item"], "pad": "dry"}}
    assert client.post("/api/stash/changes", json={"what": "Pad", "changes": [drying]}).status_code == 200
    after = client.get("/api/overlaps/1").json()["crossing"]["full"]
    assert after["colour"]["lab"][0] > before + 2
    assert any(note["code"] == "pad" for note in after["notes"])


def test_a_colour_close_to_an_owned_ink_is_no_mud_and_says_so(client: TestClient) -> None:
    stack = lay(client, "Boiler Blue", "Firebox Orange", tool="foam", passes=4)
    muddy = put(client, stack=stack).json()["crossing"]["full"]
    assert muddy["verdict"]["kind"] == "muddy"
    own = {"name": "Ballast Drab", "ink": {"swatch": {"colour": {"hex": muddy["colour"]["hex"]}}}}
    change = {"what": "Own it", "changes": [{"kind": "ink", "item": own}]}
    assert client.post("/api/stash/changes", json=change).status_code == 200
    verdict = client.get("/api/overlaps/1").json()["crossing"]["full"]["verdict"]
    assert verdict["kind"] != "muddy"
    assert "owned_colour" in {reason["code"] for reason in verdict["reasons"]}


def test_a_job_handed_over_under_a_lamp_finds_its_inks_and_card_again(client: TestClient) -> None:
    kraft = number(client, "cards", "Kraft Parcel")
    stack = lay(client, "Boiler Blue", "Coral Bunting")
    there = put(client, card_id=kraft, stack=stack, settings={"illuminant": "A"}).json()["crossing"]
    before = client.get("/api/stash").json()
    back = client.post("/api/overlaps/import", content=client.get("/api/overlaps/1/export.json").content).json()
    assert back["overlap"]["card_id"] == kraft
    assert [entry["ink_id"] for entry in back["overlap"]["stack"]] == [entry["ink_id"] for entry in stack]
    assert back["crossing"]["full"]["colour"] == there["full"]["colour"]
    after = client.get("/api/stash").json()
    assert [len(after[kind]) for kind in ("inks", "cards")] == [len(before[kind]) for kind in ("inks", "cards")]


def test_a_job_with_what_the_shelf_cannot_hold_is_one_sentence(client: TestClient) -> None:
    ink = {"name": "n" * 200, "swatch": {"colour": {"hex": "#123456"}}}
    job = {
        "wempa": 1,
        "cardstock": {"colour": {"hex": "#f8f7f4"}},
        "inks": {"a": ink},
        "stack": [{"ink": "a", "dose": 1}],
    }
    read_one(job)
    answer = client.post("/api/overlaps/import", content=json.dumps(job))
    assert (answer.status_code, "name" in answer.json()["error"]) == (422, True)
    assert len(client.get("/api/overlaps").json()) == len(OVERLAPS)


def test_a_barrier_is_laid_under_everything_once_and_not_under_what_is_laid(client: TestClient) -> None:
    def barrier() -> Any:
        return client.post("/api/overlaps/1/preset", json={"preset": "white_barrier"})

    desk = barrier().json()
    made = desk["overlap"]["stack"]
    assert made[0]["ink_id"] == number(client, "inks", "Steam White")
    # The layer just laid is the one to go on with, and what it does is said at once.
    assert desk["picked"] == 0
    assert desk["crossing"]["full"]["verdict"]["kind"]
    assert len(made) == 3
    assert "lies there already" in barrier().json()["error"]
    put(client, stack=lay(client, "Boiler Blue"), laid=1)
    assert "on the card already" in barrier().json()["error"]


def test_a_card_on_which_opposites_are_only_a_lighter_grey_saves_nothing(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Firebox Orange", tool="foam", passes=4))
    cards = [fix["text"] for fix in advice(client, "help")["fixes"] if fix["code"] == "other_card"]
    assert not any("Gloss Photo" in text for text in cards)
    put(client, card_id=number(client, "cards", "Gloss Photo"))
    verdict = client.get("/api/overlaps/1").json()["crossing"]["full"]["verdict"]
    assert verdict["kind"] in ("muddy", "muted")


def revision(desk: dict[str, Any]) -> dict[str, str]:
    return {"If-Match": f'"{desk["overlap"]["revision"]}"'}


def test_how_much_of_each_and_just_that_is_laid_in_one_step(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Firebox Orange", tool="brush", passes=6))
    field = client.get("/api/overlaps/1/amounts").json()
    assert [len(field["hexes"]), len(field["hexes"][0])] == [13, 13]
    assert field["across"]["amounts"][field["across"]["now"]] == 6
    assert field["border"]
    assert {each["zone"] for each in field["named"]} >= {"mud"}
    before = client.get("/api/overlaps/1").json()
    edit = {"do": "amounts", "amounts": [{"entry": 0, "amount": 2}, {"entry": 1, "amount": 9}]}
    made = client.post("/api/overlaps/1/edit", json=edit, headers=revision(before)).json()
    assert [entry["passes"] for entry in made["overlap"]["stack"]] == [2, 9]
    assert made["crossing"]["full"]["colour"]["hex"] == field["hexes"][9][2]
    none = {"do": "amounts", "amounts": [{"entry": 0, "amount": 0}]}
    left = client.post("/api/overlaps/1/edit", json=none, headers=revision(made)).json()
    assert [entry["ink_id"] for entry in left["overlap"]["stack"]] == [number(client, "inks", "Firebox Orange")]
    answer = client.get("/api/overlaps/1/amounts")
    assert (answer.status_code, answer.json()["error"]) == (422, "How much of each takes two inks: lay down one more.")
    for bad in ({"entry": 7, "amount": 1}, {"entry": 0, "amount": -1}, {"entry": 0, "amount": 1e9}):
        assert client.post("/api/overlaps/1/edit", json={"do": "amounts", "amounts": [bad]}).status_code in (422, 428)


def test_two_dyes_cross_in_either_order_and_a_pigment_does_not(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Brass Gauge", tool="brush", passes=6))
    assert all(pair["either_order"] for pair in client.get("/api/overlaps/1").json()["crossing"]["pairs"])
    put(client, stack=lay(client, "Boiler Blue", "Steam White", tool="foam", passes=4))
    assert not any(pair["either_order"] for pair in client.get("/api/overlaps/1").json()["crossing"]["pairs"])


def test_dips_are_shown_as_the_patches_they_lie_in(client: TestClient) -> None:
    put(client, stack=lay(client, "Boiler Blue", "Firebox Orange", tool="dip", passes=1))
    desk = client.get("/api/overlaps/1").json()["crossing"]
    shares = [each["share"] for each in desk["full"]["patches"]]
    assert sum(shares) == pytest.approx(1)
    assert len(shares) == 4
    assert desk["cut"][0]["cover"] == 0.5
    assert client.get("/api/overlaps/2").json()["crossing"]["full"]["patches"] == []
