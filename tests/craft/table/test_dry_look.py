"""The dry look forecast off a photo of a wet panel, against simulated panels of a hand that is not the planned one."""

from __future__ import annotations

from base64 import b64decode
from collections.abc import Iterator
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from wempa.api import held
from wempa.api.app import create_app
from wempa.api.panels.making import MadePanel
from wempa.api.services import Services
from wempa.craft.job import Stash
from wempa.craft.table.dry_look import dry_look, grid_boxes, spots_on, wet_and_dry
from wempa.demo.penny_halt import fill
from wempa.demo.wet_panel import WetPanelPhoto, photograph_wet
from wempa.formats.panels.plan import PanelItem
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    with TestClient(create_app(workspace, copies=False)) as client:
        yield client


def made_panel(client: TestClient, panel_id: int) -> MadePanel:
    services: Services = client.app.state.services  # type: ignore[attr-defined]
    return services.panels.made(held.read(services.workspace, PanelItem, panel_id).item)


def picture_lab(data: str, columns: int, rows: int) -> Floats:
    """CIELAB of the middles of the cells of a picture that came as data."""
    image = Image.open(BytesIO(b64decode(data.removeprefix("data:image/png;base64,")))).convert("RGB")
    small = np.asarray(image.resize((columns, rows), Image.Resampling.BOX), dtype=np.float64) / 255
    return np.asarray(cm.lab_from_xyz(cm.xyz_from_srgb(small.reshape(-1, 3), "D65"), cm.xyz(np.ones(36))))


def asked(client: TestClient, panel_id: int, photo: WetPanelPhoto) -> dict[str, str]:
    stored = client.post("/api/photos", content=photo.data, headers={"content-type": "image/jpeg"}).json()
    body = {"panel_id": panel_id, "photo": stored["photo"], "corners": photo.corners, "bare": photo.bare, "lamp": "D65"}
    answer = client.post("/api/table/wet-photo", json=body)
    assert answer.status_code == 200, answer.text
    told: dict[str, str] = answer.json()
    return told


@pytest.mark.parametrize(("panel_id", "phone", "hand"), [(1, "plain camera", 0.75), (2, "phone", 1.3)])
def test_a_wet_panel_photographed_is_shown_as_it_will_dry(
    client: TestClient, panel_id: int, phone: str, hand: float
) -> None:
    made = made_panel(client, panel_id)
    photo = photograph_wet(replace(made.job, stash=Stash()), made.panel, made.study(), hand, phone, "daylight")
    told = asked(client, panel_id, photo)
    off = float(cm.delta_e(picture_lab(told["dry"], photo.columns, photo.rows), photo.dry).mean())
    undried = float(cm.delta_e(picture_lab(told["wet"], photo.columns, photo.rows), photo.dry).mean())
    assert off < 3.0
    # Taking what is seen for what will be is worse.
    assert off < undried


def test_bare_card_stays_and_what_is_deeper_than_planned_dries_back_by_more(client: TestClient) -> None:
    made = made_panel(client, 1)
    job = replace(made.job, stash=Stash())
    known = wet_and_dry(job, made.panel, made.study())
    x, y = spots_on(made.panel, 1, 3)
    middle = int(np.argmin(np.abs(known.at - y[1])))
    planned = known.wet[middle]
    deeper = known.card + 1.3 * (planned - known.card)
    seen = np.array([known.card, planned, deeper])
    told = dry_look(known, made.panel, np.repeat(x[1], 3), np.repeat(y[1], 3), seen)
    back = np.linalg.norm(told - seen, axis=1)
    assert back[1] == pytest.approx(np.linalg.norm(known.dry[middle] - planned), rel=0.05)
    assert back[2] == pytest.approx(1.3 * back[1], rel=0.02)
    assert back[0] < 0.6 * back[1]


def test_a_grid_lies_in_the_corners_that_were_marked() -> None:
    boxes = grid_boxes([[10, 20], [110, 20], [110, 220], [10, 220]], 2, 4, inset=0.25)
    assert len(boxes) == 8
    assert boxes[0] == pytest.approx((22.5, 32.5, 47.5, 57.5))
    assert boxes[-1] == pytest.approx((72.5, 182.5, 97.5, 207.5))


def test_a_photo_without_card_or_with_corners_on_a_line_is_one_sentence(client: TestClient) -> None:
    made = made_panel(client, 5)
    photo = photograph_wet(replace(made.job, stash=Stash()), made.panel, made.study(), 1.0, "phone", "daylight")
    stored = client.post("/api/photos", content=photo.data).json()["photo"]
    body = {"panel_id": 5, "photo": stored, "corners": [[1, 1], [2, 2], [3, 3], [4, 4]], "bare": photo.bare}
    refused = client.post("/api/table/wet-photo", json=body)
    assert refused.status_code == 422
    assert "corners" in refused.json()["error"]
    missing = client.post("/api/table/wet-photo", json={**body, "photo": "0" * 64})
    assert missing.status_code in (404, 422)
    assert missing.json()["error"]
