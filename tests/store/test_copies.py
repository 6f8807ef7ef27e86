"""Copies of a workspace: whole or not there, not too many, and put back with nothing lost."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from tests.store.test_workspace import an_ink
from wempa.craft.vocabulary import CopyReason
from wempa.store import Copies, NotFound, StoreError, Workspace
from wempa.store.workspace import migrations

MORNING = datetime(2026, 1, 15, 8, 0, tzinfo=UTC)


@pytest.fixture
def workspace(tmp_path: Path) -> Workspace:
    return Workspace(tmp_path / "w.wempa")


def names(workspace: Workspace) -> list[str]:
    return [ink["name"] for ink in workspace.read_all("ink")]


def add(workspace: Workspace, name: str) -> Any:
    return workspace.write("ink", an_ink(name), what=name)


def test_a_copy_is_a_whole_workspace_that_nobody_need_wait_for(workspace: Workspace) -> None:
    add(workspace, "Before")
    photo = workspace.keep_photo(b"\xff\xd8\xff jpeg", 4, 3)
    copies = Copies(workspace)
    copy = copies.make(CopyReason.ASKED, MORNING)
    add(workspace, "After")
    assert copy.name == "20260115T080000000000Z-asked.wempa"
    assert copies.folder == workspace.path.parent / "w-copies"
    assert [path.name for path in copies.folder.iterdir()] == [copy.name]
    opened = Workspace(copies.path(copy.name))
    assert names(opened) == ["Before"]
    assert opened.photo(photo) == b"\xff\xd8\xff jpeg"
    assert opened.can_step() == (True, False)


def test_what_is_put_back_is_all_of_it_and_the_present_is_kept_first(workspace: Workspace) -> None:
    first = add(workspace, "First")
    photo = workspace.keep_photo(b"\xff\xd8\xff jpeg", 4, 3)
    copies = Copies(workspace)
    old = copies.make(CopyReason.ASKED, MORNING)
    second = add(workspace, "Second")
    workspace.write("ink", an_ink("Changed"), item_id=first["id"], what="Change")
    with workspace._transaction():
        workspace._db.execute("DELETE FROM photo")
    stamp, newest = workspace.stamp("ink"), workspace.read("ink", first["id"])["revision"]
    before = copies.put_back(old.name)
    assert names(workspace) == ["First"]
    assert workspace.photo(photo) == b"\xff\xd8\xff jpeg"
    assert workspace._db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    assert workspace.stamp("ink") != stamp
    # What is written next has a revision that nobody has seen, though the copy is older.
    assert add(workspace, "Next")["revision"] > max(newest, second["revision"])
    assert before.why == "before"
    copies.put_back(before.name)
    assert names(workspace) == ["Changed", "Second"]
    workspace.close()
    assert names(Workspace(workspace.path)) == ["Changed", "Second"]


def test_a_copy_of_an_older_wempa_is_brought_up_to_date(workspace: Workspace) -> None:
    copies = Copies(workspace)
    copies.folder.mkdir()
    name = "20250101T000000000000Z-daily.wempa"
    with closing(sqlite3.connect(copies.folder / name)) as old:
        old.executescript(migrations()[0])
        old.execute("PRAGMA application_id = 0x57454D50")
        old.execute("PRAGMA user_version = 1")
        old.execute("INSERT INTO ink VALUES (7, 3, 'Sea Wall', 'Ballast', 'hybrid', '{}')")
        old.commit()
    copies.put_back(name)
    assert workspace.version() == len(migrations())
    assert workspace.read("ink", 7)["uuid"]
    assert workspace.stamp("panel")[2] == 0


@pytest.mark.parametrize("spoil", ["cut off", "overwritten", "of another program", "of a newer Wempa"])
def test_a_damaged_copy_changes_nothing(workspace: Workspace, spoil: str) -> None:
    for n in range(200):
        add(workspace, f"Ink {n}")
    copies = Copies(workspace)
    copy = copies.make(CopyReason.DAILY, MORNING)
    path = copies.path(copy.name)
    whole = path.read_bytes()
    if spoil == "cut off":
        path.write_bytes(whole[: len(whole) // 2])
    elif spoil == "overwritten":
        path.write_bytes(whole[:4096] + b"\x07" * 20_000 + whole[24_096:])
    else:
        with closing(sqlite3.connect(path)) as db:
            db.execute("PRAGMA application_id = 7" if spoil == "of another program" else "PRAGMA user_version = 99")
            db.commit()
    add(workspace, "Last")
    with pytest.raises(StoreError):
        copies.put_back(copy.name)
    assert len(names(workspace)) == 201
    with pytest.raises(NotFound):
        copies.put_back("../w.wempa")


def test_a_folder_may_be_called_anything(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "cards #1, 50 % off?" / "w.wempa")
    add(workspace, "One")
    copies = Copies(workspace)
    made = copies.make_if_changed(CopyReason.START, MORNING)
    assert made is not None
    assert copies.make_if_changed(CopyReason.START, MORNING + timedelta(hours=1)) is None
    add(workspace, "Two")
    copies.put_back(made.name)
    assert names(workspace) == ["One"]


def test_the_newest_ten_and_one_of_every_month_stay(workspace: Workspace) -> None:
    add(workspace, "One")
    copies = Copies(workspace)
    days = [datetime(2026, month, day, tzinfo=UTC) for month in (1, 2, 3) for day in range(1, 29, 2)]
    for n, day in enumerate(days):
        copies.make(CopyReason.DAILY if n % 2 else CopyReason.START, day)
    asked = copies.make(CopyReason.ASKED, datetime(2025, 12, 1, tzinfo=UTC))
    kept = [copy.at for copy in copies.listed()]
    # The newest ten are of March; then the last of February and of January; what was asked for is counted apart.
    assert kept == [*reversed(days[-10:]), days[27], days[13], asked.at]
    for n in range(12):
        copies.make(CopyReason.BEFORE, datetime(2026, 4, 1, n, tzinfo=UTC))
    assert [copy.why for copy in copies.listed()].count(CopyReason.BEFORE) == 10
    assert asked.name in {copy.name for copy in copies.listed()}


def test_the_copy_to_be_put_back_is_not_let_go_for_the_one_before_it(workspace: Workspace) -> None:
    add(workspace, "One")
    copies = Copies(workspace)
    made = [copies.make(CopyReason.ASKED, MORNING + timedelta(hours=n)) for n in range(10)]
    add(workspace, "Two")
    copies.put_back(made[0].name)
    assert names(workspace) == ["One"]


def test_copies_are_made_at_the_start_and_daily_when_something_has_changed(workspace: Workspace) -> None:
    copies = Copies(workspace)
    assert copies.make_if_changed(CopyReason.START, MORNING) is None  # nothing in it
    add(workspace, "One")
    assert copies.make_if_changed(CopyReason.START, MORNING) is not None
    assert copies.make_if_changed(CopyReason.START, MORNING + timedelta(hours=1)) is None
    assert copies.make_daily(MORNING + timedelta(days=2)) is None
    workspace.keep_photo(b"\xff\xd8\xff", 1, 1)
    assert copies.make_daily(MORNING + timedelta(hours=23)) is None
    daily = copies.make_daily(MORNING + timedelta(hours=24))
    assert daily is not None
    assert daily.why == "daily"
    workspace.undo()
    assert copies.make_daily(MORNING + timedelta(hours=60)) is not None
    assert [copy.why for copy in copies.listed()] == ["daily", "daily", "start"]


def test_no_room_for_a_copy_is_one_sentence_and_leaves_nothing(workspace: Workspace, tmp_path: Path) -> None:
    add(workspace, "One")
    (tmp_path / "full").write_text("no folder")
    copies = Copies(workspace, tmp_path / "full")
    with pytest.raises(StoreError, match="no copy was made in"):
        copies.make(CopyReason.ASKED)
    assert copies.listed() == []
    with pytest.raises(StoreError, match="no copy was made"):
        workspace.copy_to(tmp_path / "nowhere" / "x.wempa")
    # What is no copy is not listed, and not touched.
    folder = tmp_path / "w-copies"
    folder.mkdir()
    (folder / "notes.wempa").write_text("mine")
    (folder / "20261399T000000000000Z-daily.wempa").write_text("no date")
    assert Copies(workspace).listed() == []
    Copies(workspace).make(CopyReason.ASKED)
    assert (folder / "notes.wempa").read_text() == "mine"
