"""The journal is trimmed, numbers are never used again, and photos that are needed stay."""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from wempa.craft.limits import MAX_PHOTOS, MAX_REFERRED
from wempa.demo.penny_halt import fill, is_demo
from wempa.store import AUTHOR, Author, StoreError, Workspace
from wempa.store.journal import KEPT_STEPS
from wempa.store.workspace import migrations


@pytest.fixture
def workspace(tmp_path: Path) -> Workspace:
    return Workspace(tmp_path / "w.wempa")


def tool(name: str, notes: str = "") -> dict[str, object]:
    return {"name": name, "tool": "brush", "details": {"notes": notes}}


def older(workspace: Workspace, days: float) -> None:
    """Let all of the journal be so many days old."""
    at = (datetime.now(UTC) - timedelta(days=days)).isoformat(timespec="microseconds")
    workspace._db.execute("UPDATE journal SET at = ?", (at,))


def rows(workspace: Workspace) -> int:
    return int(workspace._db.execute("SELECT count(*) FROM journal").fetchone()[0])


def test_what_is_old_goes_but_the_first_and_the_newest_thousand_steps(workspace: Workspace) -> None:
    workspace.write("tool", tool("First"), what="first", item_id=None)
    for n in range(KEPT_STEPS + 40):
        workspace.write("tool", tool(f"T{n}"), item_id=1, what=f"step {n}")
    assert workspace.trim_journal(365, 1e9) == 0
    older(workspace, 400)
    assert workspace.trim_journal(365, 1e9) == 40
    assert rows(workspace) == KEPT_STEPS + 1
    assert (workspace.first_change() or {})["what"] == "first"
    assert workspace.trim_journal(365, 1e9) == 0
    for n in range(KEPT_STEPS + 39, 38, -1):
        assert (workspace.undo() or {})["what"] == (f"step {n}" if n >= 40 else "first")


def test_what_can_be_done_again_stays_too(workspace: Workspace) -> None:
    for n in range(5):
        workspace.write("tool", tool(f"T{n}"), what=f"step {n}")
    workspace.undo()
    older(workspace, 400)
    assert workspace.trim_journal(365, 1) == 0
    assert (workspace.redo() or {})["what"] == "step 4"


def test_what_can_neither_be_undone_nor_done_again_goes_by_age(workspace: Workspace) -> None:
    for n in range(5):
        workspace.write_many([("tool", None, tool(f"T{n}"), None)], what=f"settled {n}", undoable=False)
    older(workspace, 366)
    workspace.write_many([("tool", None, tool("new"), None)], what="settled today", undoable=False)
    assert workspace.trim_journal(365, 1e9) == 4
    assert [row["what"] for row in workspace.history()] == ["settled today", "settled 0"]


def test_beyond_so_many_bytes_the_oldest_go(workspace: Workspace) -> None:
    for n in range(20):
        changes = [("tool", None, tool(f"T{n}", "long " * 400), None)]
        workspace.write_many(changes, what=f"settled {n}", undoable=False)  # type: ignore[arg-type]
    workspace.write("tool", tool("last"), what="last")
    each = workspace._db.execute("SELECT length(after) FROM journal WHERE what = 'settled 3'").fetchone()[0]
    dropped = workspace.trim_journal(365, each * 6)
    assert dropped == pytest.approx(14, abs=1)
    kept = [row["what"] for row in workspace.history()]
    assert kept[:3] == ["last", "settled 19", "settled 18"]
    assert kept[-1] == "settled 0"


def test_a_trimmed_demo_is_still_the_demo(workspace: Workspace) -> None:
    fill(workspace)
    for n in range(30):
        workspace.write("tool", tool(f"T{n}"), what="x")
    older(workspace, 4000)
    workspace.trim_journal(1, 1)
    assert is_demo(workspace)


def test_no_number_is_used_again_though_the_journal_forgot_it(workspace: Workspace) -> None:
    for n in range(4):
        workspace.write("tool", tool(f"T{n}"), what="make")
    workspace.write("tool", None, item_id=4, what="throw away")
    workspace._db.execute("DELETE FROM journal")
    assert workspace.write("tool", tool("Next"), what="make")["id"] == 5


def test_numbers_go_on_where_an_older_file_had_got_to(tmp_path: Path) -> None:
    path = tmp_path / "old.wempa"
    with sqlite3.connect(path) as old:
        for script in migrations()[:9]:
            old.executescript(script)
        old.execute("PRAGMA application_id = 0x57454D50")
        old.execute("PRAGMA user_version = 9")
        old.execute(
            "INSERT INTO journal (step, at, what, kind, item, before, after)"
            " VALUES (1, '2026-01-01', 'gone', 'tool', 7, '{}', NULL)"
        )
    old.close()
    assert Workspace(path).write("tool", tool("Next"), what="make")["id"] == 8


def test_each_step_says_who_made_it_and_who_took_it_back(workspace: Workspace) -> None:
    asked: list[dict[str, object]] = []

    def ask(step: dict[str, object]) -> str:
        asked.append(step)
        return ""

    token = AUTHOR.set(Author("tab1", "Kitchen tablet"))
    workspace.write("tool", tool("T"), what="make")
    AUTHOR.reset(token)
    AUTHOR.set(Author("tab2", ""))
    workspace.undo(ask)
    workspace.redo(ask)
    AUTHOR.set(Author())
    assert [(step["tab"], step["device"], step["what"]) for step in asked] == [
        ("tab1", "Kitchen tablet", "make"),
        ("tab2", "", "make"),
    ]
    assert asked[0]["touched"] < asked[1]["touched"]  # type: ignore[operator]


def test_the_photo_that_gives_way_is_one_that_nothing_was_read_off(workspace: Workspace) -> None:
    needed = workspace.keep_photo(b"needed", 999, 3)
    details = {"sightings": [{"off": needed}], "stack": []}
    workspace.write("swatch", {"name": "S", "details": details}, what="log")
    spare = workspace.keep_photo(b"spare", 999, 3)
    for n in range(MAX_PHOTOS - 2):
        assert workspace.take_photo(f"photo {n}".encode(), 999, 3).gone == ()
    taken = workspace.take_photo(b"one more", 999, 3)
    assert len(taken.gone) == 1
    held = {photo["hash"] for photo in workspace.photos()}
    assert needed in held
    assert spare not in held


def test_where_all_are_needed_more_are_kept_up_to_a_limit(workspace: Workspace) -> None:
    hashes = [workspace.keep_photo(f"photo {n}".encode(), 999, 3) for n in range(MAX_PHOTOS)]
    for n in range(MAX_REFERRED + 1):
        workspace.write("swatch", {"name": "S", "details": {"off": list(hashes)}}, what="log")
        if n < MAX_REFERRED:
            hashes.append(workspace.keep_photo(f"more {n}".encode(), 999, 3))
    with pytest.raises(StoreError, match="no more photos"):
        workspace.keep_photo(b"too many", 999, 3)
    assert len(workspace.photos()) == MAX_PHOTOS + MAX_REFERRED
