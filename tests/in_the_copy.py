"""Run by test_extending with a copy of the source that has a tool, a treatment, a form and a stored thing more."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

import generate  # type: ignore[import-not-found]
from fastapi.testclient import TestClient

import wempa
from wempa.api.app import create_app
from wempa.craft import constants
from wempa.craft.job import LayDown
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel
from wempa.craft.panels.study import study
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import Tool
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
                "words": generate.words_module(),
                "contract": json.dumps(app.openapi()),
                "form": {"status": form.status_code, "media": form.headers["content-type"], "text": form.text},
                "notes": stored(Workspace(copy / "new.wempa")),
            }
        )
    )


main(Path(sys.argv[1]))
