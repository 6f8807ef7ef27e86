"""Run by test_extending with a copy of the source that has a tool, a treatment, a form and a stored thing more."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any

import generate  # type: ignore[import-not-found]
from fastapi.testclient import TestClient

import wempa
from wempa.api.app import create_app
from wempa.craft import constants
from wempa.craft.errors import WempaError
from wempa.craft.job import LayDown
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.study import study
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import Formula, Tool
from wempa.demo.penny_halt import fill
from wempa.formats.job import read_jobs
from wempa.store import StoreError, Workspace

JOB: dict[str, Any] = {
    "wempa": 1,
    "cardstock": {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"},
    "inks": {"a": {"name": "Boiler Blue", "formula": "dye", "swatch": {"colour": {"hex": "#2456a6"}}}},
    "stack": [{"ink": "a", "tool": "sponge", "passes": 3}, {"treatment": "bleach"}],
}


NOTE: Any = "note"
"""A kind that only the copy has."""


def stored(workspace: Workspace) -> dict[str, Any]:
    """A note written, taken back, done again, and written over."""
    item = workspace.write(NOTE, {"name": "On the sponge", "details": {"text": "holes"}}, what="Note")
    written = len(workspace.read_all(NOTE))
    workspace.undo()
    undone = len(workspace.read_all(NOTE))
    workspace.redo()
    redone = workspace.read(NOTE, item["id"])
    try:
        workspace.write(NOTE, redone, item_id=item["id"], revision=item["revision"] - 1, what="Late")
        conflict = ""
    except StoreError as refused:
        conflict = type(refused).__name__
    return {"written": written, "undone": undone, "redone": redone["details"]["text"], "conflict": conflict}


def brought_back(client: TestClient, other: Path) -> list[list[str]]:
    """Name and text of the notes once the whole workspace has been taken into another."""
    whole = client.get("/api/export/workspace.json").content
    with TestClient(create_app(Workspace(other)), base_url="http://127.0.0.1") as there:
        there.post("/api/import/workspace?apply=true", content=whole, headers={"content-type": "text/plain"})
        again = json.loads(there.get("/api/export/workspace.json").content)
    return [[note["name"], note["text"]] for note in again["notes"]]


def refused(workspace: Workspace) -> str:
    """What is said of a note with a field that it has not."""
    try:
        workspace.write(NOTE, {"name": "Odd", "details": {"pages": 2}}, what="Note")
    except WempaError as error:
        return error.message
    return ""


def evening(client: TestClient) -> list[dict[str, Any]]:
    """The steps of a panel of a made-up ink with a made-up tool."""
    ink = {"name": "Wash", "formula": "watercolour", "ink": {"swatch": {"colour": {"hex": "#2456a6"}}}}
    panel = {"name": "Two", "bands": [{"ink": 0, "tool": "sponge"}, {"ink": 0, "tool": "sponge"}]}
    tool = {"name": "Sea sponge", "tool": "sponge"}
    file = {"wempa_workspace": 1, "inks": [ink], "tools": [tool], "panels": [panel]}
    answer = client.post("/api/plan", json=file)
    assert answer.status_code == 200, answer.text
    steps: list[dict[str, Any]] = answer.json()["steps"]
    return steps


def main(copy: Path) -> None:
    """Print what the copy knows, as JSON."""
    (job,), _ = read_jobs(json.dumps(JOB))
    (plain,), _ = read_jobs(json.dumps({**JOB, "stack": JOB["stack"][:1]}))
    (foam,), _ = read_jobs(json.dumps({**JOB, "stack": [{"ink": "a", "tool": "foam", "passes": 3}]}))
    sponged = LayDown((("a", 1.0),), tool=next(tool for tool in Tool if tool == "sponge"), passes=3)
    seen = study(plain, Panel(Front(100, 100), (Band(sponged), Band(sponged)), (Seam(10, 4),)))
    workspace = Workspace(copy / "new.wempa")
    fill(workspace)
    app = create_app(workspace)
    with TestClient(app, base_url="http://127.0.0.1") as client:
        form = client.get("/api/overlaps/1/export.txt")
        notes = stored(workspace)
        unreadable = refused(workspace)
        back = brought_back(client, copy / "other.wempa")
        steps = evening(client)
    formula = next(each for each in Formula if each == "watercolour")
    words = generate.words_module()
    seen_as = {"bleached": predict(job), "plain": predict(plain), "foam": predict(foam)}
    sys.stdout.write(
        json.dumps(
            {
                "from": wempa.__file__,
                "table": constants.TABLE["tool.sponge.amount"].value,
                "light": {name: float(each.colour.lab[0]) for name, each in seen_as.items()},
                "recipe": recipe(job),
                "cautions": [note.text for note in seen_as["bleached"].notes],
                "loads": [step.loads for step in seen.work.steps],
                "words": words,
                "formula": {
                    "table": constants.TABLE["formula.watercolour.open_time"].value,
                    "words": next(iter(re.findall('"watercolour": "[^"]*ink"', words)), ""),
                    "soaks": formula.row.soaks,
                },
                "evening": steps,
                "brought_back": back,
                "unreadable": unreadable,
                "contract": json.dumps(app.openapi()),
                "form": {"status": form.status_code, "media": form.headers["content-type"], "text": form.text},
                "notes": notes,
            }
        )
    )


main(Path(sys.argv[1]))
