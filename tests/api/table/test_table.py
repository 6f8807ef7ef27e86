"""The table over HTTP: planned, begun, ticked off, gone back in, planned anew, ended; what is refused, and why."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.evenings import as_bytes, broken_rules, random_evening
from wempa.api.app import create_app
from wempa.api.table.runs import Runs
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

BEGAN = 1_700_000_000.0


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


def planned(client: TestClient, *pieces: tuple[str, int], **habits: str) -> dict[str, Any]:
    body = {"pieces": [{"kind": kind, "ids": [number]} for kind, number in pieces], "habits": habits}
    answer = client.post("/api/evenings", json=body)
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


def begun(client: TestClient, evening: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(f"/api/evenings/{evening['id']}/begin", json={"now": BEGAN})
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


def hands(run: dict[str, Any]) -> list[dict[str, Any]]:
    return [step for step in run["due"] if step["hands"]]


def tick(client: TestClient, run: dict[str, Any], minutes: float, later: bool = False) -> dict[str, Any]:
    """The next step done, so many minutes after the beginning."""
    step = hands(run)[0]
    body = {"bout": step["bout"], "act": step["act"], "do": step["do"], "now": BEGAN + 60 * minutes, "later": later}
    head = {"If-Match": str(run["revision"])}
    answer = client.post(f"/api/runs/{run['id']}/done", json=body, headers=head)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def as_planned(client: TestClient, run: dict[str, Any], slower: float = 1.0, until: int = 10_000) -> dict[str, Any]:
    """Steps done one after the other, each taking so many times what was planned."""
    at = 0.0
    for _ in range(until):
        if not hands(run):
            break
        step = hands(run)[0]
        at = max(at, step["start"]) + slower * step["minutes"]
        run = tick(client, run, at)
    return run


def test_what_can_be_brought_to_the_table(client: TestClient) -> None:
    table = client.get("/api/table").json()
    names = {each["name"]: each for each in table["choices"]}
    assert names["Open day sunrise"]["kind"] == "panel"
    assert names["Open day sunrise"]["about"] == "4 1/4 × 5 1/2 in, 7 inks"
    assert names["On the table"]["kind"] == "overlap"
    assert [school["key"] for school in table["schools"]] == ["drying", "cleaning", "brush", "together", "hand"]
    assert all(school["reason"] and len(school["choices"]) == 2 for school in table["schools"])
    assert (table["run"], table["evening"], table["history"]) == (None, None, [])


def test_an_evening_is_planned_begun_done_and_taught_from(client: TestClient) -> None:
    evening = planned(client, ("panel", 3), ("overlap", 1))
    assert evening["total"] < evening["naive_total"]
    assert evening["gap"] == 0
    run = begun(client, evening)
    assert run["planned"] == evening["total"]
    over = as_planned(client, run, slower=1.5)
    assert not hands(over)
    ended = client.post(f"/api/runs/{run['id']}/end", json={"now": BEGAN + 60 * 600}).json()
    assert ended["ended"]
    table = client.get("/api/table").json()
    assert table["run"] is None
    assert table["evening"] is None
    note = table["history"][0]
    assert note["whole"]
    assert "Gorse Bank" in note["inks"]
    # Somebody slower is planned for as slower the next time, and not by all of it at once.
    paces = {pace["label"]: pace["factor"] for pace in table["paces"]}
    assert 1.15 < paces["Lay"] < 1.5
    again = planned(client, ("panel", 3), ("overlap", 1))
    assert again["at_mat"] > 1.05 * evening["at_mat"]


def test_a_run_stands_where_it_was_left_when_it_is_opened_again(client: TestClient) -> None:
    evening = planned(client, ("panel", 3))
    run = as_planned(client, begun(client, evening), until=7)
    later = client.get("/api/run", params={"now": BEGAN + 60 * 12}).json()
    assert later["done"] == run["done"]
    assert len(later["done"]) == 7
    assert later["due"][0]["text"] == run["due"][0]["text"]
    # What dries goes on drying by the clock.
    dries = [(timer["of"], timer["ends"]) for timer in run["timers"]]
    assert dries == [(timer["of"], timer["ends"]) for timer in later["timers"]]
    assert dries[0][0] == "Bunting in ribbons"


def test_one_goes_back_a_step_and_what_it_laid_is_not_laid(client: TestClient) -> None:
    run = as_planned(client, begun(client, planned(client, ("panel", 3))), until=6)
    drying = as_planned(client, run, until=1)
    assert not run["timers"]
    assert drying["timers"]
    back = client.post(f"/api/runs/{run['id']}/back", json={"now": BEGAN + 60 * 20}).json()
    assert back["timers"] == []
    assert hands(back)[0]["text"] == hands(run)[0]["text"]
    for _ in range(6):
        back = client.post(f"/api/runs/{run['id']}/back", json={"now": BEGAN + 60 * 20}).json()
    refused = client.post(f"/api/runs/{run['id']}/back", json={"now": BEGAN + 60 * 20})
    assert refused.status_code == 422
    assert "nothing is done yet" in refused.json()["error"]


def test_what_is_dry_sooner_lets_the_next_step_begin(client: TestClient) -> None:
    run = as_planned(client, begun(client, planned(client, ("panel", 3))), until=7)
    waits = hands(run)[0]["start"]
    timer = run["timers"][0]
    now = timer["ends"] - 1
    body = {"bout": timer["bout"], "drying": timer["drying"], "now": BEGAN + 60 * now}
    dry = client.post(f"/api/runs/{run['id']}/dried", json=body).json()
    assert dry["timers"] == []
    assert hands(dry)[0]["start"] <= now + 0.1
    assert waits > hands(dry)[0]["start"] - 0.6
    again = client.post(f"/api/runs/{run['id']}/dried", json=body)
    assert again.status_code == 422


def test_a_step_that_took_longer_moves_what_follows_and_keeps_what_is_done(client: TestClient) -> None:
    evening = planned(client, ("panel", 3), ("panel", 4), ("overlap", 3))
    run = as_planned(client, begun(client, evening), until=5)
    at = hands(run)[0]["start"] + hands(run)[0]["minutes"] + 15
    late = tick(client, run, at)
    assert late["total"] > evening["total"] + 5
    assert [step["text"] for step in late["done"][:5]] == [step["text"] for step in run["done"]]
    assert min(step["start"] for step in hands(late)) >= at - 0.1
    anew = client.post(f"/api/runs/{run['id']}/anew", json={"now": BEGAN + 60 * at}).json()
    assert anew["total"] <= late["total"]
    assert anew["notes"]
    assert not hands(as_planned(client, anew))


def test_another_page_that_ticks_off_the_same_step_is_told(client: TestClient) -> None:
    run = begun(client, planned(client, ("overlap", 1)))
    step = hands(run)[0]
    body = {"bout": step["bout"], "act": step["act"], "do": step["do"], "now": BEGAN + 60}
    first = client.post(f"/api/runs/{run['id']}/done", json=body, headers={"If-Match": str(run["revision"])})
    assert first.status_code == 200
    second = client.post(f"/api/runs/{run['id']}/done", json=body, headers={"If-Match": str(run["revision"])})
    assert second.status_code == 422
    assert "another step is due" in second.json()["error"]
    stale = {**body, **{key: hands(first.json())[0][key] for key in ("bout", "act", "do")}}
    conflict = client.post(f"/api/runs/{run['id']}/done", json=stale, headers={"If-Match": str(run["revision"])})
    assert conflict.status_code == 409


def test_a_panel_that_was_changed_is_told_before_the_start(client: TestClient) -> None:
    evening = planned(client, ("panel", 4))
    panel = client.get("/api/panels/open", params={"panel": 4}).json()["panel"]
    body = {key: value for key, value in panel.items() if key not in ("id", "revision")}
    assert client.put("/api/panels/4", json={**body, "name": "Signal wheel, wider"}).status_code == 200
    shown = client.get(f"/api/evenings/{evening['id']}").json()
    assert "was changed" in shown["pieces"][0]["changed"]
    refused = client.post(f"/api/evenings/{evening['id']}/begin", json={"now": BEGAN})
    assert refused.status_code == 422
    assert "plan it anew" in refused.json()["error"]
    anyway = client.post(f"/api/evenings/{evening['id']}/begin", json={"now": BEGAN, "anyway": True})
    assert anyway.status_code == 201
    assert "has changed" in anyway.json()["notes"][0]
    second = client.post(f"/api/evenings/{evening['id']}/begin", json={"now": BEGAN})
    assert "end it first" in second.json()["error"]


def test_nothing_to_do_and_a_tool_that_is_not_there_are_one_sentence(client: TestClient) -> None:
    nothing = client.post("/api/evenings", json={"pieces": []})
    assert nothing.status_code == 422
    assert "choose a panel" in nothing.json()["error"]
    stamp = next(tool for tool in client.get("/api/stash").json()["tools"] if tool["item"]["tool"] == "stamp")
    changes = [{"kind": "tool", "id": stamp["id"]}]
    assert (
        client.post("/api/stash/changes", json={"what": "Give the stamp away", "changes": changes}).status_code == 200
    )
    refused = client.post("/api/evenings", json={"pieces": [{"kind": "overlap", "ids": [2]}]})
    assert refused.status_code == 422
    assert "stamp" in refused.json()["error"]
    assert "add one in Stash" in refused.json()["error"]
    missing = client.post("/api/evenings", json={"pieces": [{"kind": "panel", "ids": [99]}]})
    assert missing.status_code == 404


def test_the_file_and_the_route_of_the_contract_say_the_same(client: TestClient) -> None:
    file = random_evening(3, panels=(2, 2))
    answer = client.post("/api/plan", content=as_bytes(file), headers={"content-type": "application/json"})
    assert answer.status_code == 200
    assert not broken_rules(file, answer.json())
    empty = client.post("/api/plan", content=json.dumps({"wempa_workspace": 1}))
    assert empty.status_code == 422
    assert "nothing to plan" in empty.json()["error"]
    foam = {**file, "tools": [{"name": "Brush", "tool": "brush"}]}
    foam["panels"] = [{**file["panels"][0], "bands": [{"ink": 0, "tool": "foam"}], "seams": []}]
    refused = client.post("/api/plan", content=as_bytes(foam))
    assert refused.status_code == 422
    assert refused.json()["place"] == "panels[0].bands[0].tool"


def test_the_look_grows_step_by_step(client: TestClient) -> None:
    def look(**query: Any) -> bytes:
        answer = client.get("/api/table/look.png", params={"kind": "panel", "ids": 1, **query})
        assert answer.status_code == 200
        return answer.content

    pictures = [look(laid=laid, wet=True) for laid in range(8)]
    assert len(set(pictures)) == 8
    assert look(laid=7, wet=True) != look(laid=7, wet=False)
    assert look(laid=7, wet=False) == look()
    square = client.get("/api/table/look.png", params={"kind": "overlap", "ids": 1, "laid": 1})
    assert square.content != client.get("/api/table/look.png", params={"kind": "overlap", "ids": 1}).content


def test_faults_are_judged_by_what_lies_there(client: TestClient) -> None:
    piece = {"kind": "panel", "ids": [1]}
    spots = client.get("/api/table/spots", params={"kind": "panel", "ids": 1}).json()
    assert [spot["name"] for spot in spots[:2]] == ["Brass Gauge", "Firebox Orange"]
    assert spots[7]["name"] == "Brass Gauge and Firebox Orange"

    def ask(fault: str, ago: float, place: int = 5, **more: str) -> dict[str, Any]:
        body = {"fault": fault, "piece": piece, "place": place, "minutes_ago": ago, **more}
        found: dict[str, Any] = client.post("/api/table/fault", json=body).json()
        return found

    wet, dry = ask("patchy", 0), ask("patchy", 600)
    assert wet["settles"]
    assert wet["when"] > 0
    assert not wet["rescues"]
    assert not dry["settles"]
    assert dry["when"] == 0
    assert dry["rescues"][0]["helps"]
    pale = ask("too_pale", 600)
    assert lightness(pale["rescues"][0]["after"]) < lightness(pale["rescues"][0]["before"])
    pinker = ask("off_hue", 600, towards="pinker")
    assert pinker["rescues"]
    # Water moves a reactive ink, and hardly a plain dye.
    reactive = next(n for n, spot in enumerate(spots) if spot["name"] == "Heather Bank")
    drops = [rescue for rescue in ask("streaks", 600, reactive)["rescues"] if "Water drops" in rescue["text"]]
    plain = [rescue for rescue in ask("streaks", 600, 5)["rescues"] if "Water drops" in rescue["text"]]
    assert drops[0]["helps"]
    assert not plain[0]["helps"]
    nowhere = client.post("/api/table/fault", json={"fault": "line", "piece": piece, "place": 99})
    assert nowhere.status_code == 404


def lightness(code: str) -> int:
    return sum(int(code[at : at + 2], 16) for at in (1, 3, 5))


def test_a_waiting_square_of_the_book_comes_to_the_table(client: TestClient) -> None:
    draft = client.post("/api/log/drafts", json={"overlap_id": 1, "name": "Waits"}).json()[0]
    swatch = client.post("/api/log", json={"swatches": [{**draft, "sightings": []}]}).json()[0]
    choice = next(each for each in client.get("/api/table").json()["choices"] if each["kind"] == "squares")
    assert choice["ids"] == [swatch["id"]]
    body = {"pieces": [{"kind": "squares", "ids": choice["ids"]}], "habits": {}}
    evening = client.post("/api/evenings", json=body).json()
    # The one foam that is free is kept for white: it is washed before it lays a dye.
    assert [step["do"] for step in evening["steps"]][:5] == ["wash", "cut", "ready", "open_pads", "label"]


def test_an_evening_that_was_left_lying_was_over_an_hour_after_its_last_step(client: TestClient) -> None:
    run = as_planned(client, begun(client, planned(client, ("overlap", 1))), until=3)
    last = run["done"][-1]["ended"]
    # Nobody ends it for a week.
    client.post(f"/api/runs/{run['id']}/end", json={"now": BEGAN + 7 * 86_400})
    assert client.get("/api/table").json()["history"][0]["minutes"] == pytest.approx(last + 60, abs=0.1)
    again = as_planned(client, begun(client, planned(client, ("overlap", 1))), until=3)
    client.post(f"/api/runs/{again['id']}/end", json={"now": BEGAN + 60 * (again["done"][-1]["ended"] + 5)})
    newest = client.get("/api/table").json()["history"][0]
    assert newest["minutes"] == pytest.approx(again["done"][-1]["ended"] + 5, abs=0.1)


def test_runs_and_plans_go_into_another_workspace(client: TestClient, tmp_path: Path) -> None:
    run = begun(client, planned(client, ("overlap", 1)))
    as_planned(client, run)
    client.post(f"/api/runs/{run['id']}/end", json={"now": BEGAN + 3600})
    planned(client, ("panel", 4))
    file = client.get("/api/export/workspace.json").content
    other = Workspace(tmp_path / "o.wempa")
    with TestClient(create_app(other, copies=False)) as there:
        answer = there.post("/api/import/workspace?apply=true", content=file)
        assert answer.status_code == 200, answer.text
        table = there.get("/api/table").json()
        assert table["history"][0]["inks"] == client.get("/api/table").json()["history"][0]["inks"]
        shown = there.get(f"/api/evenings/{table['evening']}").json()
        assert shown["pieces"][0]["name"] == "Signal wheel"
        assert not shown["pieces"][0]["changed"]


def test_a_spoilt_plan_hides_nothing_and_a_run_without_its_plan_is_told(client: TestClient) -> None:
    workspace: Workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    evening = planned(client, ("overlap", 1))
    run = begun(client, evening)
    workspace._db.execute("UPDATE evening SET details = '{\"evening\": 3}' WHERE id = ?", (evening["id"],))
    spoilt = client.get("/api/run", params={"now": BEGAN}).json()
    assert spoilt["notes"][0].startswith("What is next cannot be told: ")
    assert client.get("/api/table").json()["choices"]
    refused = client.post(f"/api/runs/{run['id']}/back", json={"now": BEGAN})
    assert refused.status_code == 422
    workspace._db.execute("DELETE FROM evening WHERE id = ?", (evening["id"],))
    gone = client.get(f"/api/runs/{run['id']}", params={"now": BEGAN}).json()
    assert "the plan of this run is gone" in gone["notes"][0]
    assert gone["due"] == []
    anew = client.post(f"/api/runs/{run['id']}/anew", json={"now": BEGAN})
    assert anew.status_code == 404
    assert "plan of this run is gone" in anew.json()["error"]
    # It stands in nobody's way: it is ended, and the next begins.
    assert client.post(f"/api/runs/{run['id']}/end", json={"now": BEGAN + 60}).json()["ended"]
    assert not client.get("/api/table").json()["history"][0]["whole"]
    begun(client, planned(client, ("overlap", 1)))


def test_loads_that_were_taken_remind_of_a_worn_foam(client: TestClient) -> None:
    stash = client.get("/api/stash").json()
    assert not [note for note in stash["reminders"] if "took ink" in note["text"]]
    services = client.app.state.services  # type: ignore[attr-defined]
    item = {
        "name": "Long evening",
        "details": {
            "began": BEGAN + 100_000_000,
            "ended": BEGAN + 100_003_600,
            "pads": [{"ink_id": 1, "called": "Brass Gauge", "loads": 420}],
            "tools": [{"called": "Foam for hybrids", "loads": 160}],
        },
    }
    services.workspace.write("run", item, what="test")
    texts = [note["text"] for note in client.get("/api/stash").json()["reminders"]]
    assert any("Foam for hybrids took ink about 160 times" in text for text in texts)
    assert any("420 loads were taken from Brass Gauge" in text for text in texts)


def test_what_is_told_later_goes_by_the_order_as_it_was(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    run = begun(client, planned(client, ("panel", 1), ("panel", 4)))
    asked: list[int] = []

    def anew(
        self: Runs, evening: object, item: object, marks: list[object], *rest: object
    ) -> tuple[list[int], list[str]]:
        asked.append(len(marks))
        return list(item.order), []  # type: ignore[attr-defined]

    monkeypatch.setattr(Runs, "_anew", anew)
    # An hour late each, told one after the other when the laptop is back.
    for n in range(1, 4):
        order = [step["text"] for step in hands(run)]
        run = tick(client, run, 60 * n, later=True)
        assert [step["text"] for step in hands(run)] == order[1:]
    assert [step["ended"] for step in run["done"]] == [60, 120, 180]
    assert asked == []
    # The last of them may be thought over.
    tick(client, run, 240)
    assert asked == [4]
