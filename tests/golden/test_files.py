"""What is written of the demo stash, byte by byte, and what is meant where nothing is said."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from tests.golden.gold import Gold
from tests.golden.jobs import JOBS
from wempa.api.app import create_app
from wempa.craft.job import Stash
from wempa.craft.vocabulary import Look
from wempa.demo.penny_halt import fill
from wempa.formats.job import read_one
from wempa.formats.job_text import job_json
from wempa.formats.panels.plan import PanelPlan
from wempa.formats.panels.svg_path import outlines
from wempa.formats.stash.items import read_item
from wempa.store import Workspace

FILES = [
    "export/workspace.json",
    "export/inks.csv",
    *[f"export/palette.{kind}" for kind in ("csv", "json", "gpl", "css")],
    "sheet.svg?page=letter",
]
# The least that says what is meant.
LEAST: dict[str, dict[str, Any]] = {
    "ink": {"name": "A", "ink": {"swatch": {"colour": {"hex": "#3c7fae"}}}},
    "card": {"name": "B", "card": {"colour": {"lab": [90, 1, 2]}}},
    "tool": {"name": "C", "tool": "foam"},
    "range": {"name": "D"},
}
PATHS = ["M0 0 L10 0 L10 10 Z", "M0 0 C 5 0 10 5 10 10 L 0 10 z M2 2 h3 v3 z", "M1 1 A 4 4 0 1 1 9 1 Z"]


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def test_files(client: TestClient, pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {}
    for path in FILES:
        content = client.get(f"/api/{path}").content
        found[path] = [len(content), hashlib.sha256(content).hexdigest()[:16], content[:160].decode()]
    for overlap in client.get("/api/overlaps").json()[:3]:
        content = client.get(f"/api/overlaps/{overlap['id']}/export.json").content
        found[f"job {overlap['name']}"] = [len(content), hashlib.sha256(content).hexdigest()[:16]]
    for kind, least in LEAST.items():
        item = read_item(kind, least)
        found[f"least {kind}"] = [item.model_dump(mode="json"), item.stored()]
    found["least panel"] = PanelPlan(
        bands=[{"ink_id": 1}],  # type: ignore[list-item]
        seams=[{}],  # type: ignore[list-item]
        tops=[{"kind": "glaze"}],  # type: ignore[list-item]
    ).model_dump(mode="json")
    found["paths"] = [outlines(path) for path in PATHS]
    found["jobs"] = {
        name: hashlib.sha256(repr(job_json(read_one(JOBS[name]))).encode()).hexdigest()[:12] for name in list(JOBS)[::4]
    }
    Gold("files.json", pytestconfig.getoption("--regold")).check(found)


def test_a_job_comes_back_from_what_is_written_of_it() -> None:
    for name, job in JOBS.items():
        core = read_one(job)
        # How it is looked at, and what could be done about it, are not part of what is handed over.
        plain = replace(core, look=Look.DRY, fixes=False, stash=Stash())
        assert read_one(job_json(core)) == plain, name
