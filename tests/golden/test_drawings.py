"""Everything that is printed stands where the golden file says, in millimetres from the top left."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from reportlab.graphics import renderPDF
from reportlab.graphics.shapes import Drawing, Group, Line, String
from reportlab.lib.units import mm
from starlette.testclient import TestClient

from tests.golden.gold import Gold
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

INKS = list(range(1, 15))


def summed(drawing: Drawing) -> dict[str, Any]:
    """What a drawing holds: by kind of shape how many and the sums of all their numbers; every text with its place."""
    shapes: dict[str, list[float]] = {}
    texts, fills = list[list[Any]](), list[str]()
    pending = list(drawing.contents)
    while pending:
        shape = pending.pop(0)
        if isinstance(shape, Group):
            pending[:0] = shape.contents
            continue
        kind = type(shape).__name__
        numbers = {
            key: value
            for key, value in sorted(vars(shape).items())
            if isinstance(value, int | float) and not isinstance(value, bool)
        }
        points = [float(value) for value in getattr(shape, "points", ())]
        sums = shapes.setdefault(kind, [0.0] * (len(numbers) + 3))
        sums[0] += 1
        for k, value in enumerate([*numbers.values(), sum(points[::2]), sum(points[1::2])], 1):
            # A square told from its neighbour even if both are moved against one another.
            sums[k] += value * (1 + 0.01 * sums[0])
        fill_colour = getattr(shape, "fillColor", None)
        fills.append("" if fill_colour is None else fill_colour.hexval()[2:])
        if isinstance(shape, String):
            said = re.sub(r"\d{4}-\d\d-\d\d", "DATE", shape.text)
            height = drawing.height - shape.y
            texts.append([said, round(shape.x / mm, 2), round(height / mm, 2), shape.fontSize])
        elif isinstance(shape, Line) and not shape.strokeColor:
            texts.append(["a line nobody sees"])
    size = [drawing.width / mm, drawing.height / mm]
    return {"size": size, "shapes": shapes, "texts": texts[:60], "fills": sorted(dict.fromkeys(fills, 0))[:40]}


@pytest.fixture
def drawn(monkeypatch: pytest.MonkeyPatch) -> list[Drawing]:
    """All drawings that are printed, as they are made."""
    kept: list[Drawing] = []
    for name in ("drawToString", "draw"):
        real = getattr(renderPDF, name)

        def keep(drawing: Drawing, *args: Any, real: Any = real, **more: Any) -> Any:
            if not kept or kept[-1] is not drawing:
                kept.append(drawing)
            return real(drawing, *args, **more)

        monkeypatch.setattr(renderPDF, name, keep)
    return kept


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def printed(client: TestClient, drawn: list[Drawing], path: str) -> list[Any]:
    drawn.clear()
    answer = client.get(path)
    assert answer.status_code == 200, answer.text
    assert answer.content[:5] == b"%PDF-"
    return [summed(drawing) for drawing in drawn]


def test_drawings(client: TestClient, drawn: list[Drawing], pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {}
    for overlap in client.get("/api/overlaps").json():
        found[f"overlap {overlap['name']}"] = printed(client, drawn, f"/api/overlaps/{overlap['id']}/export.pdf")
    for panel in client.get("/api/panels").json():
        for part in ("export", "plan", "ruler"):
            path = f"/api/panels/{panel['id']}/{part}.pdf"
            found[f"{part} of panel {panel['name']}"] = printed(client, drawn, path)
    chart = "card_id=3&tool=foam&passes=3&" + "&".join(f"inks={number}" for number in INKS)
    for name, query in (
        ("chart", "page=a4"),
        ("chart, blank", "page=letter&blank=true"),
        ("chart of one ink", f"page=a4&hero={INKS[2]}"),
    ):
        found[name] = printed(client, drawn, f"/api/chart/export.pdf?{query}&{chart}")
    found["chart as a table"] = client.get(f"/api/chart/export.csv?{chart}").text.split()[:40]
    found["chart as cells"] = client.get(f"/api/chart/export.json?{chart}").json()["cells"][:20]
    few, many = "&ink=1&ink=2&ink=9", "".join(f"&ink={number}" for number in range(1, 12))
    for name, query in (("a4", f"page=a4{many}"), ("of large squares", f"page=letter{few}")):
        found[f"sheet {name}"] = printed(client, drawn, f"/api/sheet.pdf?{query}&card=Snow&tool=brush")
    Gold("drawings.json", pytestconfig.getoption("--regold")).check(found, 0.02)


def test_the_list_of_what_can_be_made_is_drawn(
    client: TestClient, drawn: list[Drawing], pytestconfig: pytest.Config
) -> None:
    # By itself: every ink is looked for first, which takes a while.
    found = {"reserve": printed(client, drawn, "/api/reserve.pdf?page=letter")}
    Gold("drawn_reserve.json", pytestconfig.getoption("--regold")).check(found, 0.02)
