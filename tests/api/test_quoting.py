"""However long what is sent is: no answer quotes more than 80 characters of it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.formats.test_quoting import LONG, spoilt
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.formats.panels.plan import PanelItem
from wempa.store import Workspace


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    workspace = Workspace(Path(tmp_path_factory.mktemp("quoting")) / "w.sqlite")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client
    workspace.close()


def short(answer: Any) -> bool:
    """Whether it was a refusal; none of them quotes more than it may."""
    if answer.status_code < 400:
        return False
    assert answer.status_code in {404, 409, 413, 422}
    said = answer.json()["error"]
    assert "Z" * 81 not in said, said[:300]
    assert "Z" * 81 not in (answer.json()["place"] or "")
    return True


@pytest.mark.parametrize("kind", ["panel", "overlap"])
def test_a_file_of_one(client: TestClient, kind: str) -> None:
    whole = client.get(f"/api/export/{kind}/1.json").json()
    refused = sum(short(client.post("/api/import/workspace", json=made)) for made in spoilt(whole))
    assert refused > 100


def test_what_is_stored(client: TestClient) -> None:
    panel = client.get("/api/panels/open?panel=1").json()["panel"]
    panel = {key: panel[key] for key in PanelItem.model_fields if key in panel}
    ink = client.get("/api/export/ink/1.json").json()
    assert sum(short(client.post("/api/panels", json=made)) for made in spoilt(panel)) > 50
    assert sum(short(client.post("/api/import/workspace", json=made)) for made in spoilt(ink)) > 20


def test_names_in_the_address(client: TestClient) -> None:
    for path in (
        f"/api/overlaps/{LONG}",
        f"/api/copies/{LONG}",
        f"/api/export/{LONG}/1.json",
        f"/api/export/inks.csv?{LONG}=1",
    ):
        short(client.get(path))
    assert short(client.get(f"/api/export/{LONG}/1.json"))
