"""Run by test_learned_everywhere in a process of its own: answers of a service whose craft table is another.

``shipped`` has the other values in the table from the start, ``learned`` has them as something that was learned.
"""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import wempa.craft.table_rows as table_rows

MODE, PATH = sys.argv[1], Path(sys.argv[2])
# What learning itself goes by, and what a simulated hand does, is no judgement of a screen.
APART = ("learn.", "line.")
_plain = table_rows.all_rows()
ROWS = {
    row.name: min(row.high, max(row.low, row.value * 1.06 + 0.01)) for row in _plain if not row.name.startswith(APART)
}
if MODE == "shipped":
    table_rows.all_rows = lambda: [replace(row, value=ROWS.get(row.name, row.value)) for row in _plain]

from fastapi.testclient import TestClient  # noqa: E402

import wempa.api.app  # noqa: E402
from wempa.demo.penny_halt import fill  # noqa: E402
from wempa.formats.log.items import Lesson  # noqa: E402
from wempa.store import Workspace  # noqa: E402

# What is told of learning itself differs on purpose, and so does the clock.
UNLIKE = ("lessons", "offers", "drifts", "changed", "began", "uuid", "constants", "revision", "can_undo", "can_redo")
CHART = {"card_id": 4, "over": "wet"}


def asked(client: TestClient) -> Iterator[tuple[str, str, Any]]:
    """What is asked: by which method, where, with what body."""
    for path in ("stash", "guide", "by-eye", "overlaps", "panels", "table", "log", "export/palette.json"):
        yield "GET", path, None
    for colour in ("60&a=30&b=-5", "85&a=2&b=3", "50&a=8&b=1"):
        yield "GET", f"by-eye/around?light={colour}", None
    yield "POST", "home-test", {"blotchy": True, "opaque": False}
    for overlap in client.get("/api/overlaps").json():
        number = overlap["id"]
        yield "GET", f"overlaps/{number}", None
        for board in ("help", "nudge", "colour"):
            yield "GET", f"overlaps/{number}/advice?board={board}", None
        yield "GET", f"overlaps/{number}/strips", None
        yield "GET", f"overlaps/{number}/amounts", None
        yield "GET", f"overlaps/{number}/beside/1", None
        yield "GET", f"table/spots?kind=overlap&ids={number}", None
    yield "POST", "chart", CHART
    yield "POST", "chart/study", CHART
    for pair in ((1, 2), (9, 3), (14, 30)):
        yield "POST", "chart/cell", {**CHART, "below": pair[0], "above": pair[1]}
    for blend in ("rainbow", "family", "many", "bridge"):
        yield "POST", "chart/company", {**CHART, "blend": blend}
    for order in ("hue", "verdict", "newness"):
        yield "POST", "chart/order", {**CHART, "order": order}
    yield "POST", "chart/overlap", {**CHART, "name": "A set", "set": [1, 5, 9]}
    yield "GET", "chart/export.csv?card_id=4", None
    yield "POST", "next-ink", {"card_id": 2}
    yield "POST", "match", {"target": {"colour": {"hex": "#8a5a44"}}, "card_id": 2, "most": 2}
    for panel in client.get("/api/panels").json():
        number = panel["id"]
        plan = client.get(f"/api/panels/open?panel={number}").json()["panel"]
        body = {key: value for key, value in plan.items() if key not in ("id", "revision")}
        yield "POST", "panels/picture?per_mm=1", body
        yield "GET", f"panels/{number}/beside/1", None
        yield "GET", f"table/spots?kind=panel&ids={number}", None
        if plan["layout"] != "ribbons":
            yield "GET", f"panels/{number}/fixes?seam=0", None
            window = {"kind": "circle", "x": 40, "y": 50, "width": 60, "height": 60}
            yield "POST", "panels/through", {"panel": body, "window": window}
    for fault in ("streaks", "patchy", "line", "mud"):
        yield (
            "POST",
            "table/fault",
            {"piece": {"kind": "panel", "ids": [1]}, "place": 0, "fault": fault, "minutes_ago": 3},
        )
    yield "POST", "evenings", {"pieces": [{"kind": "panel", "ids": [1]}]}
    yield "GET", "evenings/1", None
    for number in (1, 2, 5):
        yield "GET", f"log/{number}", None
    yield "POST", "log/drafts", {"panel_id": 1}
    yield "POST", "log/drafts", {"strip": {"ink_id": 3}}
    yield "POST", "stash/doubts", {"inks": []}
    # A workspace file takes what was learned along, and the commands go by it.
    whole = json.loads(client.get("/api/export/workspace.json").content)
    yield "POST", "plan", {**whole, "panels": whole["panels"][:1], "overlaps": whole["overlaps"][:1]}
    yield "POST", "panel", {**whole, "panels": whole["panels"][:1]}


def without(found: Any) -> Any:
    """An answer without what differs on purpose."""
    if isinstance(found, dict):
        return {key: without(value) for key, value in found.items() if key not in UNLIKE}
    return [without(each) for each in found] if isinstance(found, list) else found


def _say_what_lids_show(client: TestClient) -> None:
    """A lid that nobody was asked about goes by its maker's hand: by the table as shipped, whatever was learned."""
    changes = []
    for ink in client.get("/api/stash").json()["inks"]:
        if ink["item"]["ink"]["swatch"]["known"] == "lid":
            ink["item"]["ink"]["swatch"]["made_with"] = {"tool": "pad", "load": "normal", "passes": 1}
            changes.append({"kind": "ink", "id": ink["id"], "revision": ink["revision"], "item": ink["item"]})
    assert changes
    assert client.post("/api/stash/changes", json={"what": "Ask", "changes": changes}).status_code < 300


def answers() -> dict[str, str]:
    """Each answer as text, or what it comes to."""
    wempa.api.app.LOOPBACK |= {"testserver"}
    workspace = Workspace(PATH)
    fill(workspace)
    # In both, so that numbers and revisions are the same.
    lesson = Lesson(name="Another table", rows=ROWS if MODE == "learned" else {})
    workspace.write("lesson", lesson.stored(), what="Learn")
    found: dict[str, str] = {}
    with TestClient(wempa.api.app.create_app(workspace, copies=False)) as client:
        _say_what_lids_show(client)
        for n, (method, path, body) in enumerate(asked(client)):
            answer = client.request(method, f"/api/{path}", json=body)
            key = f"{n} {method} {path} {json.dumps(body)[:80]}"
            if answer.headers.get("content-type", "").startswith("application/json"):
                said = json.dumps(without(answer.json()))
            elif "ndjson" in answer.headers.get("content-type", "") or path == "match":
                said = json.dumps(without(json.loads(answer.text.splitlines()[-1])))
            else:
                said = hashlib.sha256(answer.content).hexdigest()
            found[key] = f"{answer.status_code} {said}"
    return found


sys.stdout.write(json.dumps(answers()))
