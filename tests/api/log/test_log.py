"""The book over HTTP: logging, searching, reading off a photo, learning, practice."""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.formats.log.fit_file import fit_text
from wempa.store import Workspace

LAID = 31


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(Workspace(tmp_path / "e.wempa"), copies=False)) as client:
        yield client


def book(client: TestClient, **query: Any) -> dict[str, Any]:
    found: dict[str, Any] = client.get("/api/log", params=query).json()
    return found


def learn(client: TestClient) -> dict[str, Any]:
    lines = [json.loads(line) for line in client.post("/api/log/learn").text.splitlines()]
    assert [line["done"] for line in lines] == sorted(line["done"] for line in lines)
    assert lines[-1]["state"] == "done"
    found: dict[str, Any] = lines[-1]["result"]
    return found


def first_item(client: TestClient, name: str) -> dict[str, Any]:
    return next(each for each in book(client)["swatches"] if each["item"]["name"] == name)


def test_the_book_shows_real_beside_guessed_and_says_what_differs(client: TestClient) -> None:
    found = book(client)
    assert found["count"] == len(found["swatches"]) == LAID
    dusk = first_item(client, "Dusk")
    assert [seen["said"] for seen in dusk["sightings"]] == ["while wet", "dry"]
    assert dusk["sightings"][1]["differs"] == "darker than guessed"
    assert dusk["sightings"][1]["predicted"] != dusk["sightings"][1]["hex"]
    assert dusk["lines"] == ["Heather Bank: brush, 6 passes.", "Boiler Blue: brush, 4 passes."]
    whole = client.get(f"/api/log/{dusk['id']}").json()
    assert whole["sightings"][1]["margin"] > 1
    assert whole["kind"] == "clean"
    assert found["drifts"][0]["name"] == "Ticket Pink"


def test_a_book_that_changed_is_as_one_that_is_opened_for_the_first_time(client: TestClient) -> None:
    """Only what is new in it is worked out, and nothing of what it says is left from before."""
    workspace: Workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    book(client)
    one, other = first_item(client, "Dusk"), first_item(client, "Bunting")

    def log_one() -> object:
        return client.post("/api/log", json={"swatches": [{**other["item"], "name": "Once more"}]})

    def change_one() -> object:
        dull = {**one["item"], "verdict": "dull", "left_out": True}
        return client.put(f"/api/log/{one['id']}", json=dull, headers={"if-match": str(one["revision"])})

    def change_an_ink() -> object:
        stored = workspace.read("ink", other["item"]["stack"][0]["ink_id"])
        body = {**stored["body"], "swatch": {**stored["body"]["swatch"], "colour": {"hex": "#102030"}}}
        return workspace.write("ink", {**stored, "body": body}, item_id=stored["id"], what="Another colour")

    said = [book(client)]
    for deed in (
        log_one,
        change_one,
        change_an_ink,
        lambda: client.delete(f"/api/log/{other['id']}"),
        lambda: client.post("/api/undo"),
        lambda: client.post("/api/undo"),
    ):
        deed()
        said.append(book(client))
        # Not entered, for on leaving it would close the workspace.
        assert book(TestClient(create_app(workspace, copies=False))) == said[-1]
    assert all(before != after for before, after in pairwise(said))


def test_an_ink_that_was_seen_before_another_came_over_it_tells_of_itself(empty: TestClient) -> None:
    colours = {"Boiler Blue": "#2a5ca8", "Brass Gauge": "#f2c21b"}
    stash = [
        {"kind": "ink", "item": {"name": name, "formula": "dye", "ink": {"swatch": {"colour": {"hex": code}}}}}
        for name, code in colours.items()
    ]
    made = empty.post("/api/stash/changes", json={"what": "Two inks", "changes": stash}).json()["inks"]
    blue, gauge = (next(ink["id"] for ink in made if ink["item"]["name"] == name) for name in colours)
    lays = [{"ink_id": ink, "tool": "brush", "passes": 4} for ink in (blue, gauge)]

    def swatch(day: int, light: float, done: int | None) -> dict[str, Any]:
        seen = {"lab": [light, 4 - light / 20, -(90 - light)], "spread": 1.0, "done": done}
        return {
            "name": f"Day {day}", "stack": lays, "laid_on": f"2026-11-0{day}", "sightings": [seen],
        }  # fmt: skip

    # Three days as it was, three days much paler, each seen before the yellow came over it.
    fading = [swatch(day, 58 if day < 4 else 74, 1) for day in range(1, 7)]
    whole = [swatch(day, 58 if day < 4 else 74, None) for day in range(1, 7)]
    assert empty.post("/api/log", json={"swatches": whole}).status_code == 201
    # Under another ink its share is not told apart.
    assert book(empty)["drifts"] == []
    assert empty.post("/api/log", json={"swatches": fading}).status_code == 201
    (told,) = book(empty)["drifts"]
    assert told["name"] == "Boiler Blue"
    assert told["text"].startswith("Boiler Blue comes out paler")


def test_it_is_searched_by_words_colour_verdict_tag_and_ordered(client: TestClient) -> None:
    assert {each["item"]["name"] for each in book(client, find="heather boiler")["swatches"]} == {"Dusk"}
    near = book(client, near="#50629f")["swatches"]
    assert near[0]["item"]["name"] == "Dusk"
    assert len(near) < LAID
    assert {each["item"]["verdict"] for each in book(client, verdict="mud")["swatches"]} == {"mud"}
    assert all(each["item"]["favourite"] for each in book(client, favourites=True)["swatches"])
    days = [each["item"]["laid_on"] for each in book(client)["swatches"]]
    assert days == sorted(days, reverse=True)
    names = [each["item"]["name"].lower() for each in book(client, order="name")["swatches"]]
    assert names == sorted(names)
    off = [max(seen["delta_e"] for seen in each["sightings"]) for each in book(client, order="off")["swatches"]]
    assert off == sorted(off, reverse=True)
    cards = [each["card_name"] for each in book(client, order="card")["swatches"]]
    assert cards == sorted(cards)
    assert book(client, find="nothing like it")["swatches"] == []
    assert client.get("/api/log", params={"near": "#12"}).status_code == 422


def test_drafts_are_of_an_overlap_a_panel_a_strip_or_a_stack(client: TestClient) -> None:
    def drafts(**asked: Any) -> list[dict[str, Any]]:
        answer = client.post("/api/log/drafts", json=asked)
        assert answer.status_code == 200, answer.text
        return list(answer.json())

    (one,) = drafts(overlap_id=1)
    assert one["name"] == "Boiler Blue under Firebox Orange"
    assert one["card_called"] == "Snow"
    assert [entry["load"] for entry in one["stack"]] == ["normal", "normal"]
    panel = drafts(panel_id=1)
    assert len(panel) == 13
    assert panel[-1]["line_step"] > 0
    assert panel[-1]["tags"] == ["seam"]
    strip = drafts(strip={"ink_id": 3}, card_id=1)
    assert [each["stack"][0]["passes"] for each in strip] == [1, 2, 4, 8]
    assert len(drafts(strip={"ink_id": 3, "water": True}, card_id=1)[1]["stack"]) == 2
    (hand,) = drafts(stack=[{"ink_id": 1}, {"ink_id": 3, "passes": 2, "over": "wet"}], card_id=2)
    assert hand["name"] == "Brass Gauge under Boiler Blue"
    assert hand["stack"][0]["tool"] == "brush"
    assert hand["stack"][1]["over"] == "wet"
    for bad in ({}, {"overlap_id": 1, "panel_id": 1}, {"overlap_id": 999}, {"strip": {"ink_id": 999}}):
        assert client.post("/api/log/drafts", json=bad).status_code in (404, 422)


def test_a_strip_is_logged_laid_photographed_and_read_into_the_book(client: TestClient) -> None:
    drafts = client.post("/api/log/drafts", json={"strip": {"ink_id": 3}, "card_id": 1}).json()
    made = client.post("/api/log", json={"swatches": drafts}).json()
    ids = [each["id"] for each in made]
    assert book(client)["waiting"] == 4
    sheet = client.get("/api/log/sheet.pdf", params={"swatch": ids})
    assert sheet.content.startswith(b"%PDF")
    photo = client.post("/api/devices/hand", params={"swatch": ids}).json()
    marked = client.post(
        f"/api/photos/{photo['photo']}/mark", json={"page": photo["page"], "corners": photo["corners"]}
    ).json()
    body = {
        "swatches": [{"box": box} for box in marked["swatches"]],
        "whites": marked["whites"],
        "dark": marked["dark"],
        "steps": marked["steps"],
    }
    read = client.post(f"/api/photos/{photo['photo']}/read", json=body).json()
    inked = [n for n, one in enumerate(read["readings"]) if not one["bare"]]
    assert len(inked) == 4
    areas = [
        {"swatch_id": ids[k], "lab": read["readings"][n]["lab"], "spread": read["readings"][n]["spread"], "box": box}
        for k, (n, box) in enumerate((n, marked["swatches"][n]) for n in inked)
    ]
    stored = client.post("/api/log/seen", json={"photo": photo["photo"], "light": "D65", "areas": areas}).json()
    lights = [each["sightings"][0]["lab"][0] for each in stored]
    assert lights == sorted(lights, reverse=True)
    picture = client.get(f"/api/photos/{stored[0]['sightings'][0]['photo']}")
    assert picture.headers["content-type"] == "image/jpeg"
    assert len(picture.content) < 20_000
    assert stored[0]["item"]["sightings"][0]["off"] == photo["photo"]
    assert book(client)["waiting"] == 0
    # All of it is one step.
    client.post("/api/undo")
    assert book(client)["waiting"] == 4


def test_learning_is_adopted_changes_what_overlap_shows_and_is_taken_back(client: TestClient) -> None:
    before = client.get("/api/overlaps/1").json()["crossing"]["full"]
    missed = [seen["delta_e"] for each in book(client)["swatches"] for seen in each["sightings"]]
    assert client.post("/api/log/adopt").status_code == 422
    found = learn(client)
    assert found["better"]
    assert found["texts"][0].startswith("Your brush lays about a third more than I thought")
    assert found["after"] < 0.7 * found["before"]
    assert {each["name"] for each in found["left_out"]} == {"Ticket Pink"}
    # Learned in another process than this, or by one that is no more: it is learned once more.
    client.app.state.services.learner._last = None  # type: ignore[attr-defined]
    assert client.post("/api/log/adopt").status_code == 422
    lessons = client.post("/api/log/adopt?again=true").json()
    assert lessons[0]["standing"]
    after = client.get("/api/overlaps/1").json()["crossing"]["full"]
    assert after["colour"]["hex"] != before["colour"]["hex"]
    assert after["margin"] < before["margin"]
    now = [seen["delta_e"] for each in book(client)["swatches"] for seen in each["sightings"]]
    assert sum(now) < 0.6 * sum(missed)
    # Learning again starts from what its owner says, so nothing is counted twice.
    again = learn(client)
    assert again["texts"] == found["texts"]
    back = client.post(f"/api/log/lessons/{lessons[0]['id']}/back").json()
    assert not back[0]["standing"]
    assert client.get("/api/overlaps/1").json()["crossing"]["full"]["colour"] == before["colour"]
    client.post("/api/undo")
    assert client.get("/api/overlaps/1").json()["crossing"]["full"]["colour"] == after["colour"]
    client.post("/api/undo")
    assert client.get("/api/overlaps/1").json()["crossing"]["full"]["colour"] == before["colour"]
    assert book(client)["lessons"] == []


def test_an_ink_that_its_owner_changes_is_no_longer_told_by_the_lesson(client: TestClient) -> None:
    learn(client)
    learner = client.app.state.services.learner  # type: ignore[attr-defined]
    known = learner._last
    client.post("/api/log/adopt?again=true")
    # What is known still is not learned a second time.
    assert learner._last is known
    stash = client.get("/api/stash").json()
    blue = next(ink for ink in stash["inks"] if ink["name"] == "Boiler Blue")
    item = blue["item"]
    item["ink"]["swatch"] = {"colour": {"hex": "#3060b0"}, "known": "reader"}
    change = {"kind": "ink", "id": blue["id"], "revision": blue["revision"], "item": item}
    answer = client.post("/api/stash/changes", json={"what": "Read it anew", "changes": [change]})
    assert answer.status_code == 200, answer.text
    services = client.app.state.services  # type: ignore[attr-defined]
    shelf = services.shelf()
    assert shelf.inks[str(blue["id"])] == shelf.unlearned.inks[str(blue["id"])]
    gauge = next(ink for ink in stash["inks"] if ink["name"] == "Brass Gauge")
    assert shelf.inks[str(gauge["id"])] != shelf.unlearned.inks[str(gauge["id"])]
    assert client.post("/api/log/adopt").status_code == 422


def test_a_swatch_of_a_deleted_ink_is_kept_told_and_not_learned_from(client: TestClient) -> None:
    wet = [{"ink_id": 6, "tool": "brush", "load": "normal", "passes": 2}]
    made = client.post("/api/log", json={"swatches": [{"name": "Plum", "stack": wet, "card_id": 1}]}).json()[0]
    assert made["item"]["stack"][0]["called"] == "Carriage Plum"
    stash = client.get("/api/stash").json()
    free = next(ink for ink in stash["inks"] if ink["name"] == "Post Box")
    change = {"kind": "ink", "id": free["id"], "revision": free["revision"], "item": None}
    assert client.post("/api/stash/changes", json={"what": "Gone", "changes": [change]}).status_code == 200
    gone = first_item(client, "Post Box")
    assert "no longer in the stash" in gone["trouble"]
    assert gone["sightings"][0]["predicted"] is None
    assert gone["lines"] == ["Post Box: foam."]
    assert "Post Box" in {each["name"] for each in learn(client)["left_out"]}
    # A new ink never takes its number.
    new = {"kind": "ink", "item": {**free["item"], "name": "Newcomer"}}
    client.post("/api/stash/changes", json={"what": "New", "changes": [new]})
    assert first_item(client, "Post Box")["trouble"]
    names = {ink["name"]: ink["id"] for ink in client.get("/api/stash").json()["inks"]}
    assert names["Newcomer"] > max(ink["id"] for ink in stash["inks"])
    # It goes out and comes back in a file, still by its name.
    whole = client.get("/api/export/workspace.json").text
    filed = next(each for each in json.loads(whole)["swatches"] if each["name"] == "Post Box")
    assert filed["stack"][0].get("ink") is None
    assert filed["stack"][0]["called"] == "Post Box"


def test_a_swatch_is_changed_left_out_and_taken_out(client: TestClient) -> None:
    one = first_item(client, "Bunting")
    item = {**one["item"], "verdict": "dull", "left_out": True, "like": [{"ink_id": 19, "called": "Coral Bunting"}]}
    changed = client.put(f"/api/log/{one['id']}", json=item, headers={"if-match": str(one["revision"])})
    assert changed.status_code == 200, changed.text
    assert client.put(f"/api/log/{one['id']}", json=item, headers={"if-match": "1"}).status_code == 409
    assert book(client)["stands_in"][0]["text"] == "Bunting looks very like it."
    assert "You left it out." in {each["text"] for each in learn(client)["left_out"]}
    assert client.delete(f"/api/log/{one['id']}").status_code == 204
    assert book(client)["count"] == LAID - 1
    assert client.get(f"/api/log/{one['id']}").status_code == 404
    client.post("/api/undo")
    assert book(client)["count"] == LAID


@pytest.mark.parametrize(
    "bad",
    [
        {"name": "", "stack": [{"ink_id": 1, "tool": "brush"}]},
        {"name": "x", "stack": []},
        {"name": "x", "stack": [{"ink_id": 1}]},
        {"name": "x", "stack": [{"ink_id": 999, "tool": "brush"}]},
        {"name": "x", "stack": [{"ink_id": 1, "tool": "brush"}], "card_id": 99},
        {"name": "x", "stack": [{"ink_id": 1, "tool": "brush"}], "sightings": [{"lab": [200, 0, 0]}]},
        {"name": "x", "stack": [{"ink_id": 1, "tool": "brush"}], "sightings": [{"lab": [50, 0, 0], "done": 2}]},
        {"name": "x", "stack": [{"ink_id": 1, "tool": "brush"}], "tags": ["t"] * 21},
        {"name": "x", "stack": [{"ink_id": 1, "tool": "brush"}], "verdict": "nice"},
    ],
)
def test_a_bad_swatch_is_refused_in_a_sentence(client: TestClient, bad: dict[str, Any]) -> None:
    answer = client.post("/api/log", json={"swatches": [bad]})
    assert answer.status_code in (404, 422)
    assert 10 < len(answer.json()["error"]) < 300
    assert book(client)["count"] == LAID


def test_lines_of_ones_own_are_offered_and_never_imposed(client: TestClient) -> None:
    (offer,) = book(client)["offers"]
    assert offer["of"] == "mud_line"
    assert offer["now"] == 50
    assert client.get("/api/overlaps/1").json()["mud_line"] == 50
    lessons = client.post("/api/log/lines/mud_line").json()
    assert lessons[0]["item"]["mud_line"] == offer["at"]
    assert client.get("/api/overlaps/1").json()["mud_line"] == offer["at"]
    assert book(client)["offers"] == []
    client.post(f"/api/log/lessons/{lessons[0]['id']}/back")
    assert client.get("/api/overlaps/1").json()["mud_line"] == 50
    assert client.post("/api/log/lines/seam").status_code == 422
    # Seams on which somebody sees a line early.
    stack = [{"ink_id": 1, "tool": "brush", "passes": 2}]
    seams = [(1.0, False), (1.5, False), (2.0, True), (2.4, True), (3.0, True), (4.5, True)]
    items = [
        {"name": f"seam {n}", "stack": stack, "line_step": step, "line_seen": seen}
        for n, (step, seen) in enumerate(seams)
    ]
    client.post("/api/log", json={"swatches": items})
    seam = next(each for each in book(client)["offers"] if each["of"] == "seam")
    assert seam["at"] < 3.4
    client.post("/api/log/lines/seam")
    services = client.app.state.services  # type: ignore[attr-defined]
    assert dict(services.shelf().rows)["seam.hard"] == seam["at"]


def test_next_squares_are_few_and_are_about_what_is_planned(client: TestClient, empty: TestClient) -> None:
    found = client.post("/api/log/next").json()
    assert 3 <= len(found["swatches"]) <= 6
    assert len(found["texts"]) == len(found["swatches"])
    assert all("doubt" in text for text in found["texts"])
    assert client.post("/api/log", json={"swatches": found["swatches"]}).status_code == 201
    assert empty.post("/api/log/next").json()["swatches"] == []


def test_guesses_are_kept_and_what_was_missed_comes_back(client: TestClient, empty: TestClient) -> None:
    missed = None
    for n in range(8):
        asked = client.get("/api/log/guess").json()
        if missed is not None and asked["again"]:
            assert asked["names"] == missed
            break
        told = client.post("/api/log/guess", json={"token": asked["token"], "choice": 4 if n else 0}).json()
        assert told["played"] == n + 1
        if not told["right"] and missed is None:
            missed = asked["names"]
            assert told["mistakes"]
            assert told["said"] != "right"
    else:
        raise AssertionError("what was missed never came back")
    assert client.post("/api/log/guess", json={"token": 5, "choice": 0}).status_code == 422
    token = client.get("/api/log/guess").json()["token"]
    assert client.post("/api/log/guess", json={"token": token, "choice": 9}).status_code == 422
    assert empty.get("/api/log/guess").status_code == 422


def test_the_book_goes_out_as_pages_table_and_observations(client: TestClient) -> None:
    assert client.get("/api/log/book.pdf").content.startswith(b"%PDF")
    rows = client.get("/api/log/book.csv").text.splitlines()
    assert rows[0].startswith("name,date,card,layers,look")
    assert len(rows) == 1 + sum(len(each["sightings"]) for each in book(client)["swatches"])
    days = {each["item"]["laid_on"] for each in book(client)["swatches"] if each["sightings"]}
    assert {row.split(",")[1] for row in rows[1:]} == {day or "" for day in days}
    told = fit_text(client.get("/api/log/book.json").text)
    assert told["adopted"]
    assert told["constants"]["tool.brush.amount"] > 0.1
    assert client.get("/api/log/book.xls").status_code == 422


def test_the_contract_of_fit_is_a_route_too(client: TestClient) -> None:
    log = client.get("/api/log/book.json").text
    answer = client.post("/api/fit", content=log)
    assert answer.status_code == 200
    assert answer.json()["constants"] == fit_text(log)["constants"]
    assert client.post("/api/fit", content="{").status_code == 422


def test_book_lessons_and_practice_go_into_another_workspace(client: TestClient, empty: TestClient) -> None:
    learn(client)
    client.post("/api/log/adopt")
    asked = client.get("/api/log/guess").json()
    client.post("/api/log/guess", json={"token": asked["token"], "choice": 0})
    whole = client.get("/api/export/workspace.json").content
    answer = empty.post("/api/import/workspace?apply=true", content=whole)
    assert answer.status_code == 200, answer.text
    assert book(empty)["count"] == LAID
    assert book(empty)["lessons"][0]["standing"]
    assert [each["sightings"] for each in book(empty)["swatches"]] == [
        each["sightings"] for each in book(client)["swatches"]
    ]
    assert empty.get("/api/export/workspace.json").content == whole


def test_the_empty_book_says_so_and_learns_nothing(empty: TestClient) -> None:
    assert book(empty)["count"] == 0
    found = learn(empty)
    assert not found["better"]
    assert found["notes"][0]["code"] == "too_few"


def test_the_simulated_hand_stays_the_same_whatever_is_learned(client: TestClient) -> None:
    one = first_item(client, "Dusk")
    before = client.post("/api/devices/hand", params={"swatch": [one["id"]]}).json()["photo"]
    learn(client)
    client.post("/api/log/adopt")
    assert client.post("/api/devices/hand", params={"swatch": [one["id"]]}).json()["photo"] == before
    assert client.post("/api/devices/hand", params={"swatch": []}).status_code == 422


def test_a_look_is_written_down_by_a_typed_or_measured_colour(client: TestClient) -> None:
    stack = [{"ink_id": 1, "tool": "brush", "passes": 4}]
    made = client.post("/api/log", json={"swatches": [{"name": "Typed", "stack": stack, "card_id": 1}]}).json()[0]
    path = f"/api/log/{made['id']}/look"
    told = client.post(path, json={"colour": {"hex": "#e8c84a"}})
    assert told.status_code == 201, told.text
    seen = told.json()["sightings"][0]
    assert (seen["hex"], seen["spread"]) == ("#e8c84a", 1.0)
    again = client.post(
        path, json={"colour": {"lab": [80, 5, 60], "illuminant": "D65"}, "known": "reader", "look": "wet"}
    )
    assert [each["said"] for each in again.json()["sightings"]] == ["dry", "while wet"]
    assert again.json()["sightings"][1]["spread"] == 0.5
    assert client.post(path, json={"colour": {"hex": "red"}}).status_code == 422
    assert client.post(path, json={"colour": {"hex": "#e8c84a"}, "done": 2}).status_code == 422


def test_a_spoilt_swatch_hides_no_other_and_can_be_taken_out(client: TestClient) -> None:
    workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    workspace._db.execute("UPDATE swatch SET details = '{\"stack\": []}' WHERE id = 3")
    found = book(client)
    assert found["count"] == LAID - 1
    (spoilt,) = found["unreadable"]
    assert spoilt["swatch_id"] == 3
    assert "stack" in spoilt["text"]
    assert client.get("/api/log/3").status_code == 422
    assert learn(client)["better"]
    assert client.delete("/api/log/3").status_code == 204
    assert book(client)["unreadable"] == []


def test_a_question_is_answered_on_the_card_that_it_was_asked_on(client: TestClient) -> None:
    white = client.get("/api/log/guess").json()
    navy = client.get("/api/log/guess", params={"card_id": 9}).json()
    assert navy["card"] != white["card"]
    assert navy["token"] != white["token"]
    told = client.post("/api/log/guess", json={"token": navy["token"], "choice": 0}).json()
    # Dark card takes the colour away: what is told is that of the card asked about.
    light = client.get("/api/log/guess").json()
    assert light["played"] == told["played"] == 1
    if told["answer"] < len(navy["choices"]):
        assert told["hex"] == navy["choices"][told["answer"]]["hex"]
    # The question on white is closed by that, and says so.
    assert client.post("/api/log/guess", json={"token": white["token"], "choice": 0}).status_code == 422


def test_a_missed_pair_whose_ink_is_gone_stands_in_nobodys_way(client: TestClient) -> None:
    workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    pairs = [{"lower_id": 9999, "upper_id": 1, "rights": 0}, {"lower_id": 2, "upper_id": 5, "asked": 1, "rights": 0}]
    item = {"name": "Practice", "details": {"played": 20, "pairs": pairs}}
    workspace.write("practice", item, what="Guess")
    asked = client.get("/api/log/guess").json()
    assert asked["again"]
    assert asked["names"] == ["Signal Lamp Red", "Cutting Green"]


def test_several_swatches_are_taken_out_in_one_step(client: TestClient) -> None:
    assert client.post("/api/log/discard", json={"swatches": [3, 4, 4]}).status_code == 204
    assert book(client)["count"] == LAID - 2
    client.post("/api/undo")
    assert book(client)["count"] == LAID
    # All of them or none.
    assert client.post("/api/log/discard", json={"swatches": [5, 9999]}).status_code == 404
    assert book(client)["count"] == LAID
    assert client.post("/api/log/discard", json={"swatches": []}).status_code == 422
