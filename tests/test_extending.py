"""What docs/extending.md says is done to a copy of the source, and all that should know of it does."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

ROOT = Path(__file__).parents[1]

TOOL = """
    SPONGE = (
        "sponge",
        "sea sponge",
        ToolRow(
            amount=0.18,
            cover=0.5,
            why="A sponge leaves half of the card bare.",
            width=35,
            reach=20,
            pace=0.2,
            fade=0.6,
            why_fade="A sponge ends in spots.",
            mark="its holes",
        ),
    )
"""

TREATMENT = """
    BLEACH = (
        "bleach",
        "bleach",
        TreatmentRow("Bleach.", dose=lambda ink, table: 0.25, closes=True, caution="Never with anything else."),
    )
"""

FORMULA = """    WATERCOLOUR = "watercolour", FormulaRow(ToolSet.DYE, soaks=True), "watercolour ink"
"""

THING = """

class NoteItem(StoredItem):
    kind = "note"
    text: str = ""
"""

FORM = """
    TEXT = "txt", "a line of text", FormRow("text/plain", lambda drawing: f"{drawing.width:.0f} wide")
"""


def added(path: Path, before: str, text: str) -> None:
    """Put text before a place that the file has once."""
    source = path.read_text()
    assert source.count(before) == 1, path
    path.write_text(source.replace(before, text + before))


@pytest.fixture(scope="module")
def known(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    """What a copy of Wempa with a new tool, treatment, form and stored thing answers."""
    copy = tmp_path_factory.mktemp("house")
    for folder in ("src", "tools"):
        shutil.copytree(ROOT / folder, copy / folder, ignore=shutil.ignore_patterns("static", "__pycache__"))
    source = copy / "src/wempa"
    added(source / "craft/tools.py", "    PAINTBRUSH = (", TOOL)
    added(source / "craft/treatments.py", "    BLOT = (", TREATMENT)
    added(source / "formats/drawn_forms.py", "    PDF = ", FORM)
    added(source / "craft/formulas.py", '    UNKNOWN = "unknown"', FORMULA)
    rows = source / "craft/formula_rows.py"
    # A value in each row by formula, before that of what nobody knows: here a dye's.
    by_formula, count = re.subn(
        r"(?m)^(        \()([^,()]+)((?:, [^,()]+){5})(, [^,()]+\),)$", r"\1\2\3, \2\4", rows.read_text()
    )
    assert count > 10
    rows.write_text(by_formula)
    kinds = source / "formats/kinds.py"
    added(kinds, "\n\nSTORED: Mapping", THING)
    added(kinds, "        RunItem,\n    )", "        NoteItem,\n")
    added(kinds, ', "run"])', ', "note"')
    added(source / "formats/workspace.py", '    "runs": "run",', '    "notes": "note",\n')
    store = source / "store/tables.py"
    added(store, '    "panel": Table(', '    "note": _plain("note", ("name",), ("details",)),\n')
    added(store, ', "run"\n]', ', "note"')
    number = len(list((source / "store/migrations").glob("*.sql"))) + 1
    (source / f"store/migrations/{number:04}_notes.sql").write_text(
        "CREATE TABLE note (id INTEGER PRIMARY KEY, revision INTEGER NOT NULL, uuid TEXT NOT NULL UNIQUE, "
        "changed TEXT NOT NULL, name TEXT NOT NULL, details TEXT NOT NULL) STRICT;\n"
    )
    answer = subprocess.run(
        [sys.executable, str(ROOT / "tests/in_the_copy.py"), str(copy)],
        env={**os.environ, "PYTHONPATH": f"{copy / 'src'}{os.pathsep}{copy / 'tools'}"},
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert answer.returncode == 0, answer.stderr[-3000:]
    found: dict[str, Any] = json.loads(answer.stdout)
    assert found["from"].startswith(str(copy))
    return found


def test_a_tool_is_known_to_prediction_recipe_panel_table_and_words(known: dict[str, Any]) -> None:
    assert known["table"] == 0.18
    # It leaves half bare: paler than foam, which gives as much and covers nearly all.
    assert known["light"]["plain"] > known["light"]["foam"] + 0.5
    assert known["recipe"][0] == "Boiler Blue: sea sponge, 3 passes."
    # Two bands of 100 mm high, 45 mm alone and some 5 of the 10 mm where they fade: 3 x 50 cm², 20 a load.
    assert known["loads"] == [8, 8]
    assert '"sponge": "sea sponge"' in known["words"]
    assert '"sponge"' in known["contract"]


def test_a_treatment_is_known_to_prediction_recipe_cautions_and_words(known: dict[str, Any]) -> None:
    assert known["light"]["bleached"] > known["light"]["plain"] + 5
    assert known["recipe"][1] == "Bleach."
    assert any("Never with anything else" in caution for caution in known["cautions"])
    assert '"bleach": "bleach"' in known["words"]
    assert '"bleach"' in known["contract"]


def test_a_form_is_known_to_every_drawing_that_is_handed_over(known: dict[str, Any]) -> None:
    assert known["form"] == {"status": 200, "media": "text/plain; charset=utf-8", "text": known["form"]["text"]}
    assert known["form"]["text"].endswith("wide")
    assert '"txt": "a line of text"' in known["words"]


def test_a_stored_thing_is_journalled_undone_and_guarded(known: dict[str, Any]) -> None:
    assert known["notes"] == {"written": 1, "undone": 0, "redone": "holes", "conflict": "Conflict"}


def test_a_stored_thing_goes_out_with_the_workspace_and_comes_back(known: dict[str, Any]) -> None:
    assert known["brought_back"] == [["On the sponge", "holes"]]
    # What cannot be read is told as of any kind, and hides no other.
    assert known["unreadable"] == "'pages' is not a key that is known here"


def test_a_tool_and_a_formula_are_planned_for_an_evening(known: dict[str, Any]) -> None:
    steps = known["evening"]
    laid = [step for step in steps if step["do"] == "lay"]
    assert laid
    assert all("sea sponge" in " ".join(step["tools"]).lower() or "sea sponge" in step["text"] for step in laid)
    assert known["formula"] == {"table": 20.0, "words": '"watercolour": "watercolour ink"', "soaks": True}
