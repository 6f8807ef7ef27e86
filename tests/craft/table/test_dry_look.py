"""The dry look forecast off a photo of a wet panel, against simulated panels of a hand that is not the planned one."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from wempa.api.app import create_app
from wempa.api.panels.making import stored_plan
from wempa.craft.job import Stash
from wempa.craft.panels.colours import LINE_SHADES, faded, stacks_at, strokes
from wempa.craft.panels.front import coordinates
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_card
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.table.dry_look import dry_look, spots_on, wet_and_dry
from wempa.craft.vocabulary import Look, Page
from wempa.demo.camera import PHONES, photograph
from wempa.demo.penny_halt import fill
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.store import Workspace

COLUMNS, ROWS = 6, 9
LEFT, TOP, EDGE = 40.0, 60.0, 18.0


def laid_by(panel_id: int, hand: float, workspace: Workspace, client: TestClient) -> tuple[Floats, Floats, Floats]:
    """True wet spectra of a grid of spots, true dry CIELAB, and the forecast from the true wet CIELAB."""
    services = client.app.state.services  # type: ignore[attr-defined]
    made = services.panels.made(stored_plan(workspace.read("panel", panel_id)))
    job, found = replace(made.job, stash=Stash()), made.study()
    x, y = spots_on(made.panel, COLUMNS, ROWS)
    at = coordinates(made.panel.front, x, y)
    stacks, which = stacks_at(strokes(job, made.panel, found.placed, found.work.order, at), LINE_SHADES)
    spectra, dry, wet = [], [], []
    for stack in stacks:
        own = (*job.stack, *[faded(lay, hand, lay.over == "wet") for lay in stack])
        seen = predict(replace(job, stack=own, look=Look.WET)).colour
        spectra.append(seen.spectrum)
        wet.append(seen.lab)
        dry.append(predict(replace(job, stack=own)).colour.lab)
    known = wet_and_dry(job, made.panel, found)
    told = dry_look(known, made.panel, x, y, np.array(wet)[which])
    return np.array(spectra)[which], np.array(dry)[which], told


@pytest.fixture
def client(tmp_path: Path) -> TestClient:
    workspace = Workspace(tmp_path / "w.wempa")
    fill(workspace)
    return TestClient(create_app(workspace, copies=False))


@pytest.mark.parametrize(("panel_id", "hand"), [(1, 0.7), (1, 1.4), (2, 1.3), (5, 0.75)])
def test_what_was_laid_otherwise_than_planned_is_forecast_from_how_it_looks_wet(
    client: TestClient, panel_id: int, hand: float
) -> None:
    workspace: Workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    _, dry, told = laid_by(panel_id, hand, workspace, client)
    assert float(cm.delta_e(told, dry).mean()) < 1.5


@pytest.mark.parametrize(("phone", "lamp", "hand"), [("plain camera", "daylight", 0.8), ("phone", "daylight", 1.25)])
def test_a_wet_panel_photographed_is_shown_as_it_will_dry(
    client: TestClient, phone: str, lamp: str, hand: float
) -> None:
    workspace: Workspace = client.app.state.services.workspace  # type: ignore[attr-defined]
    spectra, dry, _ = laid_by(1, hand, workspace, client)
    made = client.app.state.services.panels.made(stored_plan(workspace.read("panel", 1)))  # type: ignore[attr-defined]
    job = replace(made.job, stash=Stash())
    card = prepare_card(job.cardstock, "D65", job.constants)
    page = sheet_layout(Page.A4)
    squares = tuple(
        (LEFT + c * EDGE, TOP + r * EDGE, LEFT + (c + 1) * EDGE, TOP + (r + 1) * EDGE)
        for r in range(ROWS)
        for c in range(COLUMNS)
    )
    sheet = replace(page, squares=squares, columns=COLUMNS, rows=ROWS, steps=(), dark=(180, 280, 190, 290))
    scene = replace(PHONES[phone], lamp=lamp, tilt=0.0, glare=0.0)
    photo = photograph(sheet, list(spectra), card.measured, scene)
    stored = client.post("/api/photos", content=photo, headers={"content-type": "image/jpeg"}).json()
    edge = 0.05 * scene.width
    scale = (scene.width - 2 * edge) / page.width
    high = round(scene.width * page.height / page.width)
    down = (high - 2 * edge) / page.height

    def pixel(x: float, y: float) -> list[float]:
        return [edge + x * scale, edge + y * down]

    right, bottom = LEFT + COLUMNS * EDGE, TOP + ROWS * EDGE
    corners = [pixel(LEFT, TOP), pixel(right, TOP), pixel(right, bottom), pixel(LEFT, bottom)]
    bare = [*pixel(8, 100), *pixel(30, 160)]
    body = {"panel_id": 1, "photo": stored["photo"], "corners": corners, "bare": bare, "lamp": "D65"}
    answer = client.post("/api/table/wet-photo", json=body)
    assert answer.status_code == 200, answer.text
    told = picture_lab(answer.json()["dry"])
    assert float(cm.delta_e(told, dry).mean()) < 3.0
    # Nothing done about it would be worse.
    undried = picture_lab(answer.json()["wet"])
    assert float(cm.delta_e(undried, dry).mean()) > float(cm.delta_e(told, dry).mean())


def picture_lab(data: str) -> Floats:
    """CIELAB of the middles of the cells of a picture that came as data."""
    from base64 import b64decode
    from io import BytesIO

    from PIL import Image

    image = Image.open(BytesIO(b64decode(data.removeprefix("data:image/png;base64,")))).convert("RGB")
    small = np.asarray(image.resize((COLUMNS, ROWS), Image.Resampling.BOX), dtype=np.float64) / 255
    xyz = cm.xyz_from_srgb(small.reshape(-1, 3), "D65")
    return np.asarray(cm.lab_from_xyz(xyz, white_point("D65")))
