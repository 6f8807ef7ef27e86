"""A workspace file that holds one panel, planned by the command and by its route."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from starlette.testclient import TestClient

from wempa.api.app import create_app
from wempa.cli import main
from wempa.craft import constants
from wempa.optics import colorimetry as cm
from wempa.store import Workspace

INKS = [("Brass", "dye", "#f2c230"), ("Plum", "hybrid", "#7a3a6a"), ("Teal", "pigment", "#2a8c8c")]


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[TestClient]:
    """The service with an empty workspace."""
    with TestClient(create_app(Workspace(tmp_path / "own.wempa"))) as client:
        yield client


def document(**panel: Any) -> dict[str, Any]:
    inks = [
        {"name": name, "formula": formula, "range": "Not in the file", "ink": {"swatch": {"colour": {"hex": code}}}}
        for name, formula, code in INKS
    ]
    bands = [{"ink": place} for place in (0, 1, 2)]
    return {"wempa_workspace": 1, "inks": inks, "panels": [{"width": 108, "height": 140, "bands": bands, **panel}]}


def planned(client: TestClient, whole: dict[str, Any]) -> dict[str, Any]:
    answer = client.post("/api/panel", json=whole)
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def test_command_and_route_give_the_same_panel(
    demo: TestClient, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "panel.json"
    file.write_text(json.dumps(document()))
    png, pdf = tmp_path / "front.png", tmp_path / "plan.pdf"
    assert main(["panel", str(file), "--png", str(png), "--pdf", str(pdf)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told == planned(demo, document())
    assert set(told) == {
        "length", "colours", "bands", "seams", "profile", "order", "minutes", "waits", "notes",
    }  # fmt: skip
    with Image.open(png) as front:
        assert front.size == (round(108 * 300 / 25.4), round(140 * 300 / 25.4))
    assert len(pypdfium2.PdfDocument(pdf)) == 1


def test_what_is_told_of_a_panel(demo: TestClient) -> None:
    told = planned(demo, document())
    assert (told["length"], told["colours"]) == (140, 5)
    assert [(band["ink"], band["at"]) for band in told["bands"]] == [("Brass", 0), ("Plum", 1), ("Teal", 2)]
    edges = [edge for band in told["bands"] for edge in (band["from"], band["to"])]
    assert edges == sorted(edges)
    assert (edges[0], edges[-1]) == (0, 140)
    at = np.array([place["at"] for place in told["profile"]])
    lab = np.array([place["lab"] for place in told["profile"]])
    assert np.diff(at).max() <= 0.5
    assert np.diff(at) == pytest.approx(np.diff(at)[0], abs=2e-3)
    for band in told["bands"]:
        middle = np.array([np.interp((band["from"] + band["to"]) / 2, at, channel) for channel in lab.T])
        assert float(cm.delta_e(middle, np.array(band["colour"]["lab"]))) < 0.2
    hard = constants.AS_SHIPPED["seam.hard"]
    for seam, (k, after) in zip(told["seams"], ((0, 1), (1, 2)), strict=True):
        assert seam["inks"] == [INKS[k][0], INKS[after][0]]
        assert seam["at"] == [k, after]
        assert told["bands"][k]["from"] < seam["from"] < seam["to"] < told["bands"][after]["to"]
        assert seam["hard_line"] == (seam["steepest"] > hard)
        there = (at >= seam["from"] - 5) & (at <= seam["to"] + 5)
        over_one = cm.delta_e(lab[there][2:], lab[there][:-2])
        assert float(over_one.max()) == pytest.approx(seam["steepest"], abs=0.3)
        assert set(seam["middle"]) == {"hex", "lab", "lch", "spectrum", "in_screen_gamut"}
    assert sorted(step["at"] for step in told["order"]) == [0, 1, 2]
    assert all(step["reason"].endswith(".") for step in told["order"])
    assert told["waits"] == [0, 0, 0]
    assert told["minutes"] > 1


def test_a_profile_is_by_day_whatever_the_light(demo: TestClient) -> None:
    day = planned(demo, document())
    lamp = planned(demo, document(settings={"illuminant": "A"}))
    apart = cm.delta_e(*[np.array([place["lab"] for place in each["profile"][:20]]) for each in (day, lamp)])
    assert apart.max() < 0.3
    assert lamp["bands"][0]["colour"]["lab"] != day["bands"][0]["colour"]["lab"]


def test_dry_between_and_stripes_are_told_as_they_are(demo: TestClient) -> None:
    dry = planned(demo, document(seams=[{"wet": False}, {"wet": False}]))
    assert max(dry["waits"]) > 1
    assert dry["minutes"] > planned(demo, document())["minutes"]
    stripes = planned(demo, document(soft=0))
    assert all(seam["hard_line"] for seam in stripes["seams"])
    assert [band["to"] - band["from"] for band in stripes["bands"]] == pytest.approx(
        [140 / 3.3 * 1.3, *[140 / 3.3] * 2], abs=0.01
    )


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"panels": []}, "this file holds no panel"),
        ({"panels": [{}, {}]}, "this file holds 2 panels, not one"),
        ({"panels": [{"bands": []}]}, "panels[0].bands: this panel has no bands"),
        ({"panels": [{"bands": [{"ink": 7}]}]}, "there is no ink 7 in this file"),
        ({"panels": [{"bands": [{"ink": 0, "passes": 0}]}]}, "passes"),
        ({"panels": [{"bands": [{"ink": 0}], "soft": 2}]}, "soft"),
        ({"panels": [{"bands": [{"ink": 0}] * 41}]}, "bands"),
        ({"wempa_workspace": 9}, "version 9"),
    ],
)  # fmt: skip
def test_what_is_no_such_file_is_one_sentence(
    demo: TestClient, tmp_path: Path, capsys: pytest.CaptureFixture[str], change: dict[str, Any], said: str
) -> None:
    whole = {**document(), **change}
    answer = demo.post("/api/panel", json=whole)
    assert answer.status_code == 422
    file = tmp_path / "panel.json"
    file.write_text(json.dumps(whole))
    assert main(["panel", str(file)]) == 2
    error = capsys.readouterr().err
    assert said in error
    assert error.count("\n") == 1
    assert answer.json()["error"] in error


def test_the_command_needs_no_web_framework(tmp_path: Path) -> None:
    file = tmp_path / "panel.json"
    file.write_text(json.dumps(document()))
    code = f"import sys; from wempa.cli import main; main(['panel', {str(file)!r}]); sys.exit('fastapi' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, check=False)
    assert done.returncode == 0, done.stderr


def test_files_that_cannot_be_read_or_written(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["panel", str(tmp_path / "gone.json")]) == 2
    assert "cannot read" in capsys.readouterr().err
    file = tmp_path / "panel.json"
    file.write_text(json.dumps(document()))
    assert main(["panel", str(file), "--png", str(tmp_path / "no" / "front.png")]) == 2
    assert "cannot write" in capsys.readouterr().err
