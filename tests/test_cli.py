"""The ``wempa`` command as a whole process."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pypdfium2
import pytest

from tests.evenings import broken_rules, random_evening
from tests.jobs import BLUE_ORANGE, changed
from wempa.store import Workspace


def wempa(*args: str, text: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "wempa.cli", *args], input=text, capture_output=True, text=True)


def test_predict_reads_a_file_or_standard_input(tmp_path: Path) -> None:
    path = tmp_path / "job.json"
    path.write_text(json.dumps(BLUE_ORANGE))
    from_file, from_input = wempa("predict", str(path)), wempa("predict", "-", text=json.dumps([BLUE_ORANGE]))
    assert from_file.returncode == from_input.returncode == 0
    assert json.loads(from_input.stdout) == [json.loads(from_file.stdout)]
    assert json.loads(from_file.stdout)["verdict"]["kind"] == "muddy"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "wempa: not JSON"),
        (json.dumps([BLUE_ORANGE, changed("stack.0.dose", "much")]), "wempa: job 1: stack[0].dose"),
        (json.dumps(changed("constants", {"load.juicy": 99})), "load.juicy must lie between"),
    ],
)
def test_bad_input_is_one_line_and_exit_code_2(text: str, says: str) -> None:
    found = wempa("predict", "-", text=text)
    assert found.returncode == 2
    assert found.stdout == ""
    assert says in found.stderr
    assert found.stderr.count("\n") == 1


def test_a_missing_file_is_said(tmp_path: Path) -> None:
    found = wempa("predict", str(tmp_path / "none.json"))
    assert found.returncode == 2
    assert "cannot read" in found.stderr


def test_predicting_needs_no_web_framework() -> None:
    heavy = ("fastapi", "uvicorn", "sqlite3", "scipy", "colour")
    code = (
        "import sys, wempa.cli, wempa.formats.job_result, wempa.formats.job, wempa.craft.prediction.predict;"
        f"sys.exit(any(m in sys.modules for m in {heavy}))"
    )
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0


def test_the_demo_never_touches_a_stash_of_ones_own(tmp_path: Path) -> None:
    mine = tmp_path / "mine.wempa"
    workspace = Workspace(mine)
    workspace.write("card", {"name": "Mine", "surface": "smooth", "body": {}}, what="Add Mine")
    workspace.close()
    found = wempa("demo", "--data", str(mine), "--port", "0")
    assert found.returncode == 2
    assert "the demo does not touch it" in found.stderr
    assert [card["name"] for card in Workspace(mine).read_all("card")] == ["Mine"]


def test_a_port_in_use_is_said(tmp_path: Path) -> None:
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        found = wempa("demo", "--data", str(tmp_path / "d.wempa"), "--port", str(taken.getsockname()[1]))
    assert found.returncode == 2
    assert "cannot listen" in found.stderr


def test_backup_copies_a_workspace_beside_it_or_where_it_is_told(tmp_path: Path) -> None:
    path = tmp_path / "mine.wempa"
    workspace = Workspace(path)
    workspace.write("tool", {"name": "Foam", "tool": "foam", "details": {}}, what="Tool")
    # While it is open and served.
    found = wempa("backup", "--data", str(path))
    assert found.returncode == 0, found.stderr
    (copy,) = (tmp_path / "mine-copies").iterdir()
    assert found.stdout == f"Copied {path} to {copy}\n"
    assert [tool["name"] for tool in Workspace(copy).read_all("tool")] == ["Foam"]
    assert wempa("backup", "--data", str(path), "--to", str(tmp_path / "there.wempa")).returncode == 0
    assert [tool["name"] for tool in Workspace(tmp_path / "there.wempa").read_all("tool")] == ["Foam"]
    for args, said in (
        (("--to", str(tmp_path / "there.wempa")), "is there already; nothing was copied"),
        (("--to", str(tmp_path / "no" / "there.wempa")), "no copy was made"),
    ):
        refused = wempa("backup", "--data", str(path), *args)
        assert (refused.returncode, refused.stdout) == (2, "")
        assert said in refused.stderr
    assert "there is no workspace" in wempa("backup", "--data", str(tmp_path / "none.wempa")).stderr


def test_a_sheet_is_written_photographed_and_read(tmp_path: Path) -> None:
    pdf, layout, photo = tmp_path / "sheet.pdf", tmp_path / "sheet.json", tmp_path / "photo.jpg"
    assert wempa("sheet", "--page", "letter", "--pdf", str(pdf), "--json", str(layout)).returncode == 0
    assert pdf.read_bytes()[:5] == b"%PDF-"
    told = json.loads(layout.read_text())
    assert (told["width"], told["height"], len(told["squares"])) == (215.9, 279.4, 30)
    assert [step["share"] for step in told["steps"]] == [0.1, 0.25, 0.4, 0.6, 0.75, 0.9] * 2
    assert {"bare", "dark", "marks"} <= set(told)
    assert wempa("simulate", "camera", str(photo), "--page", "letter", "--phone", "phone").returncode == 0
    read = wempa("photo", str(photo), "--lamp", "daylight", "--page", "letter")
    assert read.returncode == 0, read.stderr
    found = json.loads(read.stdout)
    assert (len(found["swatches"]), found["lamp"]) == (30, "daylight")
    # Bunting Scarlet, #d83a4b.
    assert found["swatches"][0]["lab"] == pytest.approx([49.7, 61.6, 27.7], abs=8)
    known = tmp_path / "known.json"
    codes = ("#d83a4b", "#f0a52b", "#f3df5e", "#6fae4e", "#2f9aa8", "#2c4479", "#a184b8", "#f2ab8d")
    known.write_text(json.dumps({str(n): {"hex": code} for n, code in enumerate(codes)}))
    learned = json.loads(wempa("photo", str(photo), "--known", str(known)).stdout)
    assert learned["swatches"][0]["lab"] == pytest.approx([49.7, 61.6, 27.7], abs=1.5)
    assert learned["swatches"][9]["spread"] < found["swatches"][9]["spread"]
    known.write_text(json.dumps({"30": {"hex": "#d83a4b"}}))
    refused = wempa("photo", str(photo), "--known", str(known))
    assert (refused.returncode, refused.stderr) == (2, "wempa: 30: squares are numbered from 0 to 29\n")


@pytest.mark.parametrize("page", ["a4", "letter"])
def test_a_sheet_of_large_squares_is_told_from_a_small_one(page: str, tmp_path: Path) -> None:
    pdf, layout, photo = tmp_path / "sheet.pdf", tmp_path / "sheet.json", tmp_path / "photo.jpg"
    assert wempa("sheet", "--large", "--page", page, "--pdf", str(pdf), "--json", str(layout)).returncode == 0
    assert len(json.loads(layout.read_text())["squares"]) == 9
    inks = tmp_path / "inks.csv"
    inks.write_text("name,hex\nScarlet,#d83a4b\nAmber,#f0a52b\nTeal,#2f9aa8\n")
    made = wempa("simulate", "camera", str(photo), "--large", "--page", page, "--inks", str(inks))
    assert made.returncode == 0, made.stderr
    read = wempa("photo", str(photo))
    assert read.returncode == 0, read.stderr
    found = json.loads(read.stdout)["swatches"]
    assert len(found) == 9
    # Three inked, the others bare card.
    for one, lab in zip(found, ([49.7, 61.6, 27.7], [73.9, 18.1, 69.2], [58.3, -25.6, -20.7]), strict=False):
        assert one["lab"] == pytest.approx(lab, abs=6)
    assert all(one["lab"][0] > 93 for one in found[3:])


def test_what_is_no_sheet_is_one_sentence(tmp_path: Path) -> None:
    from PIL import Image

    Image.new("RGB", (400, 500), (200, 200, 200)).save(tmp_path / "grey.png")
    found = wempa("photo", str(tmp_path / "grey.png"))
    assert (found.returncode, found.stdout) == (2, "")
    assert "no swatch sheet is seen" in found.stderr
    assert "cannot read" in wempa("photo", str(tmp_path / "none.jpg")).stderr


def test_fit_prints_what_swatches_teach_and_refuses_in_a_line() -> None:
    job = changed("look", "dry")
    found = wempa("fit", "-", text=json.dumps({"observations": [{"job": job, "observed": {"hex": "#808040"}}]}))
    assert found.returncode == 0, found.stderr
    told = json.loads(found.stdout)
    assert told["adopted"] is False
    assert told["notes"][0].startswith("Too few")
    bad = wempa("fit", "-", text=json.dumps({"observations": [{"job": job}]}))
    assert bad.returncode == 2
    assert bad.stdout == ""
    assert bad.stderr.startswith("wempa: observations[0]")
    assert wempa("fit", "nowhere.json").returncode == 2


def test_plan_prints_the_steps_of_an_evening_and_writes_them_as_pages(tmp_path: Path) -> None:
    file = random_evening(2, panels=(2, 2))
    sheet = tmp_path / "steps.pdf"
    found = wempa("plan", "-", "--pdf", str(sheet), text=json.dumps(file))
    assert found.returncode == 0, found.stderr
    told = json.loads(found.stdout)
    assert not broken_rules(file, told)
    pages = pypdfium2.PdfDocument(sheet)
    text = "".join(page.get_textpage().get_text_range() for page in pages)
    assert "At the table" in text
    assert told["steps"][0]["text"].split(":")[0][:20] in text
    # Letters that the page's faces do not have would come out as question marks.
    assert "?" not in text.replace("dry?", "").replace("off?", "")
    bad = wempa("plan", "-", text=json.dumps({"wempa_workspace": 1, "panels": [{"bands": [{"ink": 4}]}]}))
    assert (bad.returncode, bad.stdout) == (2, "")
    assert bad.stderr.startswith("wempa: panels[0]")
    assert wempa("plan", "-", text=json.dumps({"wempa_workspace": 1})).returncode == 2
    assert wempa("plan", "nowhere.json").returncode == 2
