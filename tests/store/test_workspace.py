"""The workspace: journal, undo, conflicts, migrations, and a kill at any moment."""

from __future__ import annotations

import hashlib
import os
import signal
import sqlite3
import subprocess
import sys
import time
import uuid
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import pytest

from wempa.craft.limits import MAX_PHOTOS
from wempa.demo.penny_halt import CARDS, INKS, fill, is_demo
from wempa.store import Conflict, NotFound, StoreError, Workspace
from wempa.store.workspace import migrations


def an_ink(name: str = "Tea Urn") -> dict[str, Any]:
    return {"name": name, "range": "Footplate", "formula": "dye", "body": {"swatch": {"colour": {"hex": "#9c6a44"}}}}


@pytest.fixture
def workspace(tmp_path: Path) -> Workspace:
    return Workspace(tmp_path / "w.wempa")


def test_what_is_written_is_there_after_reopening(workspace: Workspace) -> None:
    stored = workspace.write("ink", an_ink(), what="Add Tea Urn")
    assert stored["revision"] == 1
    workspace.close()
    again = Workspace(workspace.path)
    assert again.read("ink", stored["id"]) == stored
    assert again._db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    assert again._db.execute("PRAGMA foreign_keys").fetchone()[0] == 1


def test_a_workspace_is_made_in_a_folder_that_is_not_there_yet(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "new" / "folder" / "w.wempa")
    assert workspace.write("ink", an_ink(), what="Add")["id"] == 1


def test_a_full_workspace_refuses_one_more_and_keeps_what_it_has(
    workspace: Workspace, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("wempa.store.workspace.MAX_ITEMS", 2)
    workspace.write_many([("ink", None, an_ink(), None)] * 2, what="Two")
    with pytest.raises(StoreError, match="a workspace holds 2 inks at most; nothing was stored"):
        workspace.write("ink", an_ink("Third"), what="One more")
    assert [ink["name"] for ink in workspace.read_all("ink")] == ["Tea Urn", "Tea Urn"]
    workspace.write("ink", an_ink("Changed"), item_id=1, what="Change")


def test_undo_and_redo_walk_the_whole_history(workspace: Workspace) -> None:
    made = workspace.write("ink", an_ink(), what="Add")
    workspace.write("ink", an_ink("Coffee Urn"), item_id=made["id"], what="Rename")
    workspace.write("ink", None, item_id=made["id"], what="Delete")
    assert workspace.read_all("ink") == []
    names = []
    while (step := workspace.undo()) is not None:
        names.append((step["what"], [ink["name"] for ink in workspace.read_all("ink")]))
    assert names == [("Delete", ["Coffee Urn"]), ("Rename", ["Tea Urn"]), ("Add", [])]
    assert [workspace.redo()["what"] for _ in range(2)] == ["Add", "Rename"]  # type: ignore[index]
    assert workspace.read("ink", made["id"])["name"] == "Coffee Urn"
    workspace.write("ink", an_ink("Other"), what="Something else")
    assert workspace.redo() is None
    assert [row["state"] for row in workspace.history()] == ["done", "settled", "done", "done"]


def test_revisions_never_come_back(workspace: Workspace) -> None:
    made = workspace.write("ink", an_ink(), what="Add")
    seen = {made["revision"]}
    for step in (workspace.undo, workspace.redo, workspace.undo, workspace.redo):
        step()
        for ink in workspace.read_all("ink"):
            assert ink["revision"] not in seen
            seen.add(ink["revision"])


def test_an_edit_of_something_changed_elsewhere_is_a_conflict(workspace: Workspace) -> None:
    made = workspace.write("ink", an_ink(), what="Add")
    workspace.write("ink", an_ink("Theirs"), item_id=made["id"], revision=1, what="Theirs")
    with pytest.raises(Conflict, match="changed elsewhere"):
        workspace.write("ink", an_ink("Mine"), item_id=made["id"], revision=1, what="Mine")
    assert workspace.read("ink", made["id"])["name"] == "Theirs"
    with pytest.raises(NotFound):
        workspace.write("ink", an_ink(), item_id=99, what="Nobody")


def test_changes_made_together_stand_or_fall_together(workspace: Workspace) -> None:
    with pytest.raises(StoreError):
        workspace.write_many(
            [
                ("ink", None, an_ink(), None),
                ("overlap", None, {"name": "x", "card_id": 77, "settings": {}, "stack": []}, None),
            ],
            what="Both",
        )
    assert workspace.read_all("ink") == []
    assert workspace.history() == []
    workspace.write_many([("ink", None, an_ink(n), None) for n in ("One", "Two")], what="Two inks")
    workspace.undo()
    assert workspace.read_all("ink") == []


def test_an_ink_that_lies_in_an_overlap_cannot_vanish_under_it(workspace: Workspace) -> None:
    ink = workspace.write("ink", an_ink(), what="Add")
    overlap: dict[str, Any] = {
        "name": "x",
        "card_id": None,
        "settings": {},
        "stack": [{"ink_id": ink["id"], "dose": 1.0}],
    }
    stored = workspace.write("overlap", overlap, what="Overlap")
    assert workspace.read("overlap", stored["id"])["stack"] == overlap["stack"]
    with pytest.raises(StoreError):
        workspace.write("ink", None, item_id=ink["id"], what="Delete")


def test_the_demo_fills_an_empty_file_once_and_knows_its_own(workspace: Workspace) -> None:
    assert is_demo(workspace)
    fill(workspace)
    fill(workspace)
    assert len(workspace.read_all("ink")) == len(INKS) == 40
    assert len(workspace.read_all("card")) == len(CARDS)
    assert is_demo(workspace)
    assert workspace.undo() is None
    mine = Workspace(workspace.path.with_name("mine.wempa"))
    mine.write("ink", an_ink(), what="Add")
    assert not is_demo(mine)


def test_a_folder_is_refused_with_what_to_give_instead(tmp_path: Path) -> None:
    with pytest.raises(StoreError) as refused:
        Workspace(tmp_path)
    assert str(refused.value) == f"{tmp_path} is a folder; give a file in it, such as {tmp_path / 'stash.wempa'}"
    assert not list(tmp_path.iterdir())


def test_foreign_damaged_and_newer_files_are_refused_and_left_alone(tmp_path: Path) -> None:
    text = tmp_path / "notes.txt"
    text.write_text("These are my notes about inks, long enough to be no database. " * 40)
    foreign = tmp_path / "other.db"
    with sqlite3.connect(foreign) as db:
        db.execute("CREATE TABLE t (x)")
    newer = tmp_path / "newer.wempa"
    Workspace(newer).close()
    with sqlite3.connect(newer) as db:
        db.execute(f"PRAGMA user_version = {len(migrations()) + 1}")
    for path, says in ((text, "not a Wempa workspace"), (foreign, "not a Wempa workspace"), (newer, "newer Wempa")):
        before = path.read_bytes()
        with pytest.raises(StoreError, match=says):
            Workspace(path)
        assert path.read_bytes() == before


WRITER = """
import sys
from collections.abc import Sequence
from pathlib import Path
from wempa.store import Workspace
w = Workspace(Path(sys.argv[1]))
card = w.write("card", {"name": "c", "surface": "smooth", "body": {}}, what="card")
print("ready", flush=True)
n = 0
while True:
    n += 1
    ink = {"name": f"i{n}", "range": "r", "formula": "dye", "body": {"n": n}}
    w.write_many([("ink", None, ink, None), ("ink", None, ink, None)], what=f"pair {n}")
"""


@pytest.mark.parametrize("after", [0.02, 0.11, 0.3])
def test_the_file_survives_a_kill_at_any_moment(tmp_path: Path, after: float) -> None:
    path = tmp_path / "killed.wempa"
    writer = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE)
    assert writer.stdout is not None
    assert writer.stdout.readline() == b"ready\n"
    time.sleep(after)
    os.kill(writer.pid, signal.SIGKILL)
    writer.wait()
    writer.stdout.close()
    workspace = Workspace(path)
    assert workspace._db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    inks = workspace.read_all("ink")
    assert len(inks) % 2 == 0
    assert len(workspace.history(100_000)) == len(inks) + 1
    workspace.write("ink", an_ink(), what="Goes on")


def test_a_file_of_the_first_version_is_brought_up_to_date_with_all_it_holds(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    old = sqlite3.connect(path)
    old.executescript(migrations()[0])
    old.execute("PRAGMA application_id = 0x57454D50")
    old.execute("PRAGMA user_version = 1")
    old.execute("INSERT INTO ink VALUES (7, 3, 'Sea Wall', 'Ballast', 'hybrid', '{\"swatch\": {}}')")
    old.execute("INSERT INTO card VALUES (2, 4, 'Snow', 'smooth', '{}')")
    old.commit()
    old.close()
    workspace = Workspace(path)
    assert workspace.version() == len(migrations()) >= 2
    assert workspace.read("ink", 7)["details"] == {}
    assert workspace.read("card", 2)["name"] == "Snow"
    assert workspace.read_all("tool") == workspace.read_all("range") == []
    workspace.close()
    Workspace(path).close()


def test_a_file_of_before_identities_gets_them_and_undo_keeps_them(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    old = sqlite3.connect(path)
    for script in migrations()[:5]:
        old.executescript(script)
    old.execute("PRAGMA application_id = 0x57454D50")
    old.execute("PRAGMA user_version = 5")
    for n in range(1, 400):
        old.execute(
            "INSERT INTO ink (id, revision, name, range, formula, body) VALUES (?, ?, 'Now', '', 'dye', '{}')", (n, n)
        )
    item = '{"id": 1, "revision": 1, "name": "Then", "range": "", "formula": "dye", "body": {}, "details": {}}'
    old.execute(
        "INSERT INTO journal (step, at, what, kind, item, before, after)"
        " VALUES (1, '2026-01-02T03:04:05.000+00:00', 'Rename', 'ink', 1, ?, ?)",
        (item, item.replace("Then", "Now")),
    )
    old.commit()
    old.close()
    workspace = Workspace(path)
    inks = workspace.read_all("ink")
    assert all(uuid.UUID(ink["uuid"]).version == 4 for ink in inks)
    assert all(uuid.UUID(ink["uuid"]).variant == uuid.RFC_4122 for ink in inks)
    assert len({ink["uuid"] for ink in inks}) == 399
    assert [inks[0]["changed"], inks[1]["changed"]] == ["2026-01-02T03:04:05.000+00:00", ""]
    workspace.undo()
    again = workspace.read("ink", 1)
    assert (again["name"], again["uuid"]) == ("Then", inks[0]["uuid"])


def test_an_identity_outlives_change_deletion_and_undo_and_a_copy_has_its_own(workspace: Workspace) -> None:
    made = workspace.write("ink", an_ink(), what="Add")
    changed = workspace.write("ink", {**made, "uuid": "another", "name": "New"}, item_id=made["id"], what="Change")
    assert changed["uuid"] == made["uuid"]
    assert changed["changed"] > made["changed"]
    workspace.write("ink", None, item_id=made["id"], what="Delete")
    workspace.undo()
    assert workspace.read("ink", made["id"])["uuid"] == made["uuid"]
    workspace.undo()
    # What is taken back was last changed when it was made.
    assert workspace.read("ink", made["id"])["changed"] == made["changed"]
    other = workspace.write("ink", an_ink(), what="Another")
    assert other["uuid"] != made["uuid"]


def test_a_step_that_cannot_be_taken_back_leaves_all_as_it_was(workspace: Workspace) -> None:
    ink = workspace.write("ink", an_ink(), what="Add")
    stack = [{"ink_id": ink["id"], "dose": 1}]
    overlap: dict[str, Any] = {"name": "On it", "card_id": None, "settings": {}, "stack": stack}
    made = workspace.write("overlap", overlap, what="Make")
    workspace.write("overlap", None, item_id=made["id"], what="Delete it")
    # Behind the journal's back, so that what undo needs is gone.
    workspace._db.execute("DELETE FROM ink")
    with pytest.raises(StoreError, match="“Delete it” cannot be taken back any more: not stored, because something"):
        workspace.undo()
    assert workspace.read_all("overlap") == []
    assert not workspace._db.in_transaction
    assert workspace.write("ink", an_ink("Next"), what="Goes on")["name"] == "Next"


FIRST_START = """
import sys
from pathlib import Path
from wempa.demo.penny_halt import fill
from wempa.store import Workspace
print("ready", flush=True)
workspace = Workspace(Path(sys.argv[1]))
fill(workspace)
print("filled", flush=True)
workspace.close()
"""


def test_a_kill_during_the_first_start_leaves_nothing_half(tmp_path: Path) -> None:
    """Twelve kills spread over the time that a first start takes, and the start after each."""
    begun = time.perf_counter()
    command = [sys.executable, "-c", FIRST_START]
    subprocess.run([*command, str(tmp_path / "whole.wempa")], check=True, stdout=subprocess.PIPE)
    whole = Workspace(tmp_path / "whole.wempa")
    counts = [len(whole.read_all(kind)) for kind in ("ink", "card", "tool", "overlap", "panel")]
    assert counts == [40, 11, 7, 4, 5]
    killed = 0
    for n in range(12):
        path = tmp_path / f"{n}.wempa"
        starter = subprocess.Popen([*command, str(path)], stdout=subprocess.PIPE)
        assert starter.stdout is not None
        assert starter.stdout.readline() == b"ready\n"
        time.sleep(0.005 * n)
        killed += starter.poll() is None
        os.kill(starter.pid, signal.SIGKILL)
        starter.wait()
        starter.stdout.close()
        workspace = Workspace(path)
        assert workspace._db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        found = [len(workspace.read_all(kind)) for kind in ("ink", "card", "tool", "overlap", "panel")]
        assert found in (counts, [0] * 5)
        fill(workspace)
        assert [len(workspace.read_all(kind)) for kind in ("ink", "card", "tool", "overlap", "panel")] == counts
        workspace.close()
    assert killed >= 5
    assert time.perf_counter() - begun < 60


def a_tool(name: str) -> dict[str, Any]:
    return {"name": name, "tool": "foam", "details": {"worn": True}}


def test_every_kind_of_item_is_stored_and_undone(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    tool = workspace.write("tool", a_tool("Foam"), what="Make a tool")
    workspace.write("range", {"name": "Ballast", "details": {"constants": {"lift": 0.2}}}, what="Make a range")
    assert workspace.read("tool", tool["id"])["details"] == {"worn": True}
    with pytest.raises(StoreError, match="already one of that name"):
        workspace.write("range", {"name": "Ballast", "details": {}}, what="Again")
    workspace.undo()
    assert workspace.read_all("range") == []
    workspace.undo()
    assert workspace.read_all("tool") == []
    workspace.redo()
    assert workspace.read("tool", tool["id"])["name"] == "Foam"


def test_items_made_together_may_refer_to_each_other_and_come_or_go_together(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    card = {"name": "Snow", "surface": "smooth", "body": {}}

    def overlap(stored: Sequence[dict[str, Any]]) -> dict[str, Any]:
        return {"name": "On it", "card_id": stored[0]["id"], "settings": {}, "stack": []}

    made = workspace.write_many([("card", None, card, None), ("overlap", None, overlap, None)], what="Both")
    assert workspace.read("overlap", made[1]["id"])["card_id"] == made[0]["id"]
    with pytest.raises(StoreError, match="Snow is used by “On it”"):
        workspace.write("card", None, item_id=made[0]["id"], what="Delete")
    workspace.undo()
    assert workspace.read_all("card") == workspace.read_all("overlap") == []

    def broken(stored: Sequence[dict[str, Any]]) -> dict[str, Any]:
        return {"name": "x", "card_id": 99, "settings": {}, "stack": []}

    with pytest.raises(StoreError):
        workspace.write_many([("card", None, card, None), ("overlap", None, broken, None)], what="Both")
    assert workspace.read_all("card") == []


def test_photos_are_kept_once_by_content_and_the_newest_only(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "w.wempa")
    first = workspace.keep_photo(b"first", 999, 3)
    assert workspace.keep_photo(b"first", 999, 3) == first
    assert workspace.photo(first) == b"first"
    for n in range(MAX_PHOTOS):
        workspace.keep_photo(f"photo {n}".encode(), 999, 3)
    with pytest.raises(NotFound, match="load it again"):
        workspace.photo(first)
    # One that is loaded again is new again.
    second = hashlib.sha256(b"photo 0").hexdigest()
    workspace.keep_photo(b"photo 0", 999, 3)
    workspace.keep_photo(b"one more", 999, 3)
    assert workspace.photo(second) == b"photo 0"
    with pytest.raises(NotFound):
        workspace.photo(hashlib.sha256(b"photo 1").hexdigest())
    # Pictures of single swatches are counted by themselves.
    small = workspace.keep_photo(b"a swatch", 240, 200)
    for n in range(MAX_PHOTOS + 2):
        workspace.keep_photo(f"more {n}".encode(), 999, 3)
    assert workspace.photo(small) == b"a swatch"
    # The journal knows nothing of photos.
    assert workspace.history() == []


@pytest.mark.parametrize(
    "plan",
    [
        {"bands": [{"ink_id": 1}]},
        {"bands": [], "tops": [{"kind": "ink", "ink_id": 1}]},
        {"bands": [], "white_id": 1},
    ],
)
def test_an_ink_of_a_panel_is_not_deleted_from_under_it(workspace: Workspace, plan: dict[str, Any]) -> None:
    ink = workspace.write("ink", an_ink("Used"), what="Add")
    assert ink["id"] == 1
    workspace.write("panel", {"name": "P", "card_id": None, "mat_id": None, "settings": {}, "plan": plan}, what="Add")
    with pytest.raises(StoreError, match="Used is used by “P”"):
        workspace.write("ink", None, item_id=1, what="Delete")


def test_a_card_of_a_mat_is_not_deleted_from_under_it(workspace: Workspace) -> None:
    card = workspace.write("card", {"name": "Snow", "surface": "smooth", "body": {}}, what="Add")
    body = {"name": "P", "card_id": None, "mat_id": card["id"], "settings": {}, "plan": {"bands": []}}
    workspace.write("panel", body, what="Add")
    with pytest.raises(StoreError, match="Snow is used by “P”"):
        workspace.write("card", None, item_id=card["id"], what="Delete")


def test_a_premix_is_stored_undone_and_holds_its_inks(workspace: Workspace) -> None:
    ids = [workspace.write("ink", an_ink(name), what="Add")["id"] for name in ("One", "Two")]
    mix = [{"ink_id": ids[0], "share": 0.25}, {"ink_id": ids[1], "share": 0.75}]
    stack = [{"mix": mix, "dose": 1}, {"treatment": "glaze"}, {"ink_id": ids[0], "dose": 0.5}]
    body: dict[str, Any] = {
        "name": "Mixed",
        "card_id": None,
        "settings": {},
        "stack": stack,
        "laid": 2,
        "colour_name": "Fog",
    }
    made = workspace.write("overlap", body, what="Make")
    assert made["stack"][0]["mix"] == mix
    assert (made["laid"], made["colour_name"]) == (2, "Fog")
    with pytest.raises(StoreError, match="Two is used by “Mixed”"):
        workspace.write("ink", None, item_id=ids[1], what="Delete")
    with pytest.raises(StoreError, match="missing"):
        workspace.write("overlap", {**body, "stack": [{"mix": [{"ink_id": 99, "share": 1}]}]}, what="Make")
    workspace.write("overlap", {**body, "stack": []}, item_id=made["id"], what="Empty")
    assert workspace._db.execute("SELECT count(*) FROM overlap_mix").fetchone()[0] == 0
    workspace.undo()
    again = workspace.read("overlap", made["id"])
    assert {key: value for key, value in again.items() if key != "revision"} == {
        key: value for key, value in made.items() if key != "revision"
    }
    workspace.undo()
    workspace.redo()
    assert workspace.read("overlap", made["id"])["stack"][0]["mix"] == mix


def test_a_stamp_changes_with_every_change_of_its_kinds_and_no_other(workspace: Workspace) -> None:
    seen = {workspace.stamp("ink", "card")}

    def changed() -> bool:
        mark = workspace.stamp("ink", "card")
        new = mark not in seen
        seen.add(mark)
        return new

    made = workspace.write("ink", an_ink(), what="Add")
    assert changed()
    workspace.write("ink", an_ink("Other"), item_id=made["id"], what="Rename")
    assert changed()
    workspace.undo()
    assert changed()
    workspace.write("tool", {"name": "Brush", "tool": "brush", "details": {}}, what="Add")
    assert not changed()
    more = workspace.write("ink", an_ink("More"), what="Add")
    assert changed()
    # What was changed last is still there: only the number of inks tells it.
    workspace.write("ink", an_ink("Newest"), item_id=made["id"], what="Rename")
    assert changed()
    workspace.write("ink", None, item_id=more["id"], what="Delete")
    assert changed()
    workspace.write("ink", an_ink("Third"), what="Add")
    assert changed()


def test_the_first_of_a_kind_or_the_one_asked_for(workspace: Workspace) -> None:
    assert workspace.first("ink", prefer=3) is None
    ids = [workspace.write("ink", an_ink(name), what="Add")["id"] for name in ("One", "Two", "Three")]
    assert [workspace.first("ink", prefer=number)["name"] for number in (ids[2], ids[1], 99, 0)] == [  # type: ignore[index]
        "Three",
        "Two",
        "One",
        "One",
    ]


def test_a_file_of_the_second_version_keeps_its_overlaps(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    with sqlite3.connect(path) as old:
        for script in migrations()[:2]:
            old.executescript(script)
        old.execute("INSERT INTO ink (id, revision, name, formula, body) VALUES (1, 1, 'One', 'dye', '{}')")
        old.execute("INSERT INTO overlap (id, revision, name, settings) VALUES (1, 2, 'Old', '{}')")
        old.execute("INSERT INTO overlap_entry VALUES (1, 0, 1, '{\"dose\": 1}')")
        old.execute("PRAGMA application_id = 0x57454D50")
        old.execute("PRAGMA user_version = 2")
    old.close()
    found = Workspace(path).read("overlap", 1)
    assert found["stack"] == [{"ink_id": 1, "dose": 1}]
    assert (found["laid"], found["colour_name"]) == (0, "")


def test_lids_that_were_stored_go_on_showing_a_print_and_undo_too(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    lid = '{"formula": "dye", "swatch": {"colour": {"hex": "#9c6a44"}, "known": "lid"}}'
    said = '{"formula": "dye", "swatch": {"known": "lid", "made_with": {"tool": "foam"}}}'
    typed = '{"formula": "dye", "swatch": {"known": "typed"}}'
    with sqlite3.connect(path) as old:
        for script in migrations()[:10]:
            old.executescript(script)
        for number, body in enumerate((lid, said, typed), 1):
            old.execute(
                "INSERT INTO ink (id, revision, name, formula, body, uuid) VALUES (?, ?, 'I', 'dye', ?, ?)",
                (number, number, body, f"u{number}"),
            )
        whole = '{"body": ' + lid + ', "formula": "dye", "name": "I", "range": "", "details": {}}'
        old.execute(
            "INSERT INTO journal (step, at, what, kind, item, before, after) VALUES (1, '', 'Drop', 'ink', 9, ?, NULL)",
            (whole,),
        )
        old.execute("PRAGMA application_id = 0x57454D50")
        old.execute("PRAGMA user_version = 10")
    old.close()
    workspace = Workspace(path)
    made = [workspace.read("ink", number)["body"]["swatch"].get("made_with") for number in (1, 2, 3)]
    pad = {"tool": "pad", "load": "normal", "passes": 1}
    assert made == [pad, {"tool": "foam"}, None]
    workspace.undo()
    assert workspace.read("ink", 9)["body"]["swatch"]["made_with"] == pad


def test_a_file_with_the_old_words_gets_the_new_ones_and_undo_too(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    swatch = '"swatch": {"made_with": {"tool": "smoosh"}}'
    made = '{"formula": "fusion", "name": "fusion \\"tool\\": \\"smoosh\\"", ' + swatch + "}"
    after = '{"body": {"formula": "fusion"}, "formula": "fusion", "name": "fusion", "range": "", "details": {}}'
    settings = '{"constants": {"formula.fusion.lift": 0.5, "tool.smoosh.amount": 0.4}}'
    with sqlite3.connect(path) as old:
        for script in migrations()[:4]:
            old.executescript(script)
        old.execute("INSERT INTO ink (id, revision, name, formula, body) VALUES (1, 1, 'fusion', 'fusion', ?)", (made,))
        old.execute("INSERT INTO tool (id, revision, name, tool) VALUES (1, 2, 'smoosh', 'smoosh')")
        old.execute("INSERT INTO overlap (id, revision, name, settings) VALUES (1, 2, 'Old', ?)", (settings,))
        old.execute('INSERT INTO overlap_entry VALUES (1, 0, 1, \'{"tool": "smoosh"}\')')
        plan = '{"bands": [{"ink_id": 1, "tool": "smoosh"}]}'
        old.execute("INSERT INTO panel (id, revision, name, settings, plan) VALUES (1, 3, 'P', '{}', ?)", (plan,))
        old.execute(
            "INSERT INTO journal (step, at, what, kind, item, before, after) VALUES (1, '', 'Add', 'ink', 1, ?, NULL)",
            (after,),
        )
        old.execute("PRAGMA application_id = 0x57454D50")
        old.execute("PRAGMA user_version = 4")
    old.close()
    workspace = Workspace(path)
    ink = workspace.read("ink", 1)
    assert (ink["name"], ink["formula"], ink["body"]["formula"]) == ("fusion", "reactive_pigment", "reactive_pigment")
    assert ink["body"]["name"] == 'fusion "tool": "smoosh"'
    assert ink["body"]["swatch"]["made_with"] == {"tool": "dip"}
    assert (workspace.read("tool", 1)["name"], workspace.read("tool", 1)["tool"]) == ("smoosh", "dip")
    overlap = workspace.read("overlap", 1)
    assert overlap["settings"]["constants"] == {"formula.reactive_pigment.lift": 0.5, "tool.dip.amount": 0.4}
    assert overlap["stack"] == [{"ink_id": 1, "tool": "dip"}]
    assert workspace.read("panel", 1)["plan"]["bands"] == [{"ink_id": 1, "tool": "dip"}]
    workspace.undo()
    assert workspace.read("ink", 1)["body"]["formula"] == workspace.read("ink", 1)["formula"] == "reactive_pigment"


@pytest.mark.parametrize("version", [None, 999])
def test_a_file_that_is_refused_is_let_go_of(tmp_path: Path, version: int | None) -> None:
    path = tmp_path / "other.wempa"
    if version is None:
        path.write_bytes(b"no database at all, but long enough to be one" * 50)
    else:
        Workspace(path).close()
        with sqlite3.connect(path) as made:
            made.execute(f"PRAGMA user_version = {version}")
        made.close()
    with pytest.raises(StoreError):
        Workspace(path)
    # Nobody holds it any more: it can be taken whole.
    alone = sqlite3.connect(path, timeout=0)
    if version is not None:
        alone.execute("PRAGMA locking_mode = EXCLUSIVE")
        alone.execute("BEGIN EXCLUSIVE")
    alone.close()
    held = [os.readlink(each) for each in Path("/proc/self/fd").glob("*") if each.exists()]
    assert str(path) not in held
