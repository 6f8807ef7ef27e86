"""The Stash screen in a real browser: inks off a photo, files in and out, everything by key."""

from __future__ import annotations

import io
import json
import re
import sqlite3
import zipfile
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, FilePayload, Page, expect

from tests.browser.running import demo_server
from tests.photos import CARD, spectra_of
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Page as Paper
from wempa.demo.camera import PHONES, photograph
from wempa.demo.penny_halt import INKS, LOOSE, fill
from wempa.store import Workspace

pytestmark = pytest.mark.browser

BAD_TABLE = """name;range;formula;hex;lab_l;lab_a;lab_b
Ticket Blue;Spare;dye;#3366aa;;;
Old Brass;Spare;paint;#aa8833;;;
;Spare;dye;#aa8833;;;
Smoke;Spare;hybrid;;62,5;1,2;-3
No Colour;Spare;dye;;;;
"""


@pytest.fixture
def shelf(page: Page, address: str) -> Page:
    page.goto(f"{address}#stash")
    expect(page.get_by_role("group", name="Inks by hue")).to_be_visible()
    return page


def pads(page: Page) -> list[str]:
    return page.get_by_role("group", name="Inks by hue").locator(".name").all_inner_texts()


def test_inks_off_a_photo_stand_on_the_shelf_and_lie_on_the_table(shelf: Page, address: str) -> None:
    page = shelf
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog", name="Read inks off a photo")
    dialog.locator(".el-select").first.click()
    page.get_by_role("option", name="a warm lamp").click()
    with page.expect_response(lambda answer: answer.url.endswith("/read")) as answered:
        dialog.get_by_role("button", name="Take the photo").click()
    # The sheet is recognised, marked and read by itself, and tells its lamp.
    expect(dialog.get_by_role("button", name="Put 12 inks on the shelf")).to_be_visible(timeout=90_000)
    expect(dialog.get_by_text("This is the printed sheet")).to_be_visible()
    expect(dialog.get_by_text("read as Warm room lamp")).to_be_visible()
    expect(dialog.get_by_text("Cameras see pale yellows badly")).to_be_visible()
    # The photo is read again without one of them; whoever does not wait for that gets each ink's own colour.
    page.route("**/read", lambda _: None)
    dialog.get_by_label("Leave swatch 3 out").click()
    dialog.get_by_label("Range").fill("Bunting Box")
    dialog.get_by_role("button", name="Put 11 inks on the shelf").click()
    expect(dialog).to_be_hidden()
    page.unroute_all()
    assert len(pads(page)) == 51
    readings = answered.value.json()["readings"]
    read = {name: reading["colour"]["lab"] for (name, _, _), reading in zip(LOOSE, readings, strict=True)}
    del read[LOOSE[2][0]]
    inks = [ink["item"] for ink in page.request.get(f"{address}api/stash").json()["inks"]]
    stored = {ink["name"]: ink["ink"]["swatch"]["colour"]["lab"] for ink in inks if ink["range"] == "Bunting Box"}
    assert stored == read

    page.get_by_label("Find an ink").fill("bunting lagoon")
    expect(page.get_by_role("group", name="Inks by hue").locator(".pad")).to_have_count(1)
    page.get_by_role("button", name=re.compile("^Bunting Lagoon")).click()
    drawer = page.get_by_role("region", name="Bunting Lagoon, opened")
    drawer.get_by_text("read off a photo").click()
    expect(drawer.get_by_text(re.compile(r"±\d\.\d ΔE00"))).to_be_visible()
    drawer.get_by_role("button", name="Lay first").click()
    expect(page.get_by_role("button", name=re.compile("^Layer 1 of"))).to_contain_text("Bunting Lagoon")
    stored = page.request.get(f"{address}api/overlaps/1").json()
    # It lies between the two, and a photo's noise decides.
    assert stored["crossing"]["alone"][0]["words"].endswith(("turquoise", "aqua"))
    expect(page.get_by_label("Verdict", exact=True)).to_contain_text("Bunting Lagoon")


def test_a_phone_is_taught_reads_better_and_is_forgotten(shelf: Page, address: str) -> None:
    page = shelf
    inks = INKS[:9]
    held = {ink["item"]["name"]: ink for ink in page.request.get(f"{address}api/stash").json()["inks"]}
    changes = []
    for _, name, _, _ in inks:
        ink = held[name]
        ink["item"]["ink"]["swatch"] |= {"known": "reader", "spread": None}
        changes.append({"kind": "ink", "id": ink["id"], "revision": ink["revision"], "item": ink["item"]})
    assert page.request.post(f"{address}api/stash/changes", data={"what": "Read", "changes": changes}).ok
    page.reload()
    photo = photograph(sheet_layout(Paper.A4), spectra_of(inks), CARD, replace(PHONES["phone"], lamp="warm lamp"))
    page.get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog", name="Read inks off a photo")
    chosen = FilePayload(name="sheet.jpg", mimeType="image/jpeg", buffer=photo)
    dialog.get_by_label("Choose a photo").set_input_files(chosen)
    # Squares that nobody has inked are left out.
    expect(dialog.get_by_label(re.compile("^Name of swatch"))).to_have_count(9, timeout=90_000)
    expect(dialog.get_by_label("Taken with")).to_have_value("Signal Box Lamp 1")
    for n, (_, name, _, _) in enumerate(inks, 1):
        with page.expect_response(lambda answer: "/read" in answer.url):
            dialog.get_by_label(f"Name of swatch {n}", exact=True).fill(name)
            page.keyboard.press("Tab")
    dialog.get_by_role("button", name="Teach Wempa this phone").click()
    expect(dialog.get_by_role("status")).to_contain_text("has learned how Signal Box Lamp 1 sees colours")

    # The next sheet, of inks that nobody knows: the second simulated camera is the same phone.
    dialog.get_by_role("button", name="Another photo").click()
    dialog.locator(".el-select").first.click()
    page.get_by_role("option", name="a warm lamp").click()
    dialog.locator(".el-select").nth(1).click()
    page.get_by_role("option", name="a phone that paints colours up").click()
    dialog.get_by_role("button", name="Take the photo").click()
    expect(dialog.get_by_text("9 swatches in this light", exact=False)).to_be_visible(timeout=90_000)
    expect(dialog.get_by_text("Known from swatches: 9 under warm room lamp.")).to_be_visible()
    with page.expect_response(lambda answer: "/read" in answer.url):
        dialog.get_by_role("button", name="Forget it").click()
    expect(dialog.get_by_text("9 swatches in this light", exact=False)).to_be_hidden()
    expect(dialog.get_by_text("A phone is learned from eight inks")).to_be_visible()


def test_swatches_marked_by_hand_and_by_key(shelf: Page) -> None:
    page = shelf
    page.get_by_role("button", name="Add an ink").click()
    page.get_by_role("region", name="A new ink").get_by_role("button", name="Off a photo").click()
    dialog = page.get_by_role("dialog", name="Read the ink off a photo")
    dialog.get_by_role("button", name="Take the photo").click()
    expect(dialog.get_by_role("button", name="Use this").first).to_be_visible(timeout=90_000)
    dialog.get_by_text("Swatch", exact=True).click()
    photo = dialog.locator(".photo svg")
    box = photo.bounding_box()
    assert box is not None
    # One click marks one swatch, in place of the others: the third of the first row.
    third = dialog.get_by_role("img", name="Swatch 3 ")
    where = third.bounding_box()
    assert where is not None
    page.mouse.click(where["x"] + where["width"] / 2, where["y"] + where["height"] / 2)
    expect(dialog.get_by_role("button", name="Use this")).to_have_count(1)
    expect(dialog.get_by_text("yellow", exact=False).first).to_be_visible()
    mark = dialog.get_by_role("img", name=re.compile("^Swatch 1"))
    mark.focus()
    with page.expect_response(lambda r: "/read" in r.url):
        page.keyboard.press("ArrowRight")
    dialog.get_by_role("button", name="Use this").click()
    expect(page.get_by_role("region", name="A new ink").get_by_text("read off a photo")).to_be_visible()
    page.get_by_label("Name").fill("Lemonade")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("region", name="Lemonade, opened")).to_be_visible()


def test_a_table_with_three_bad_rows_names_them_and_stores_nothing(shelf: Page, tmp_path: Path) -> None:
    page = shelf
    table = tmp_path / "inks.csv"
    table.write_text(BAD_TABLE)
    page.get_by_role("button", name="Open a file").click()
    dialog = page.get_by_role("dialog", name="Bring in from a file")
    dialog.locator("input[type=file]").set_input_files(table)
    expect(dialog.get_by_role("status")).to_contain_text("inks.csv: 2 new, 3 cannot be read.")
    rows = dialog.locator("tr.bad").all_inner_texts()
    assert "line 3: formula" in rows[0]
    assert "line 4: the ink has no name" in rows[1]
    assert "line 6: No Colour has no colour" in rows[2]
    expect(dialog.get_by_role("button", name="Take all of it in")).to_be_hidden()

    table.write_text("\n".join(line for n, line in enumerate(BAD_TABLE.splitlines()) if n not in (2, 3, 5)))
    dialog.locator("input[type=file]").set_input_files(table)
    dialog.get_by_role("button", name="Take all of it in").click()
    expect(dialog).to_be_hidden()
    assert {"Ticket Blue", "Smoke"} <= set(pads(page))
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Ticket Blue"))).to_be_hidden()


def test_the_workspace_goes_out_and_into_another_the_same(shelf: Page, browser: Browser, tmp_path: Path) -> None:
    shelf.get_by_role("button", name="Off a photo").click()
    shelf.get_by_role("button", name="Take the photo").click()
    expect(shelf.get_by_role("button", name="Put 12 inks on the shelf")).to_be_visible(timeout=90_000)
    shelf.get_by_role("button", name="Close").click()
    shelf.get_by_role("button", name="Print and give out").click()
    with shelf.expect_download() as started:
        shelf.get_by_role("link", name="With photos, ZIP").click()
    out = tmp_path / "out.zip"
    started.value.save_as(out)
    assert b"photos/" in out.read_bytes()
    with shelf.expect_download() as sheet:
        shelf.get_by_role("link", name="Swatch sheet, PDF").click()
    assert sheet.value.suggested_filename.endswith(".pdf")
    with demo_server(tmp_path / "mine.wempa", "serve") as address:
        page = browser.new_page(viewport={"width": 1024, "height": 768})
        page.goto(f"{address}#stash")
        expect(page.get_by_role("heading", name="An empty shelf")).to_be_visible()
        page.get_by_role("button", name="Open a file").click()
        page.locator("input[type=file]").set_input_files(out)
        page.get_by_role("button", name="Take all of it in").click()
        expect(page.get_by_role("group", name="Inks by hue")).to_be_visible()
        assert pads(page) == pads(shelf)
        # Beside the usual cards and tools, which a new workspace has, everything is there.
        taken = workspace_in(page.request.get(f"{address}api/export/workspace.zip").body())
        sent = workspace_in(out.read_bytes())
        usual = {"cards": 5, "tools": 5}
        for key, items in sent.items():
            if isinstance(items, list):
                assert {item["name"] for item in items} <= {item["name"] for item in taken[key]}
                assert len(taken[key]) == len(items) + usual.get(key, 0)
        assert taken["inks"] == sent["inks"]
        page.close()


def workspace_in(data: bytes) -> dict[str, Any]:
    with zipfile.ZipFile(io.BytesIO(data)) as held:
        found: dict[str, Any] = json.loads(held.read(next(name for name in held.namelist() if name.endswith(".json"))))
    return found


def renamed(page: Page, old: str, new: str) -> None:
    page.get_by_role("button", name=re.compile(f"^{old}")).click()
    page.get_by_label("Name").fill(new)
    page.get_by_label("Name").press("Enter")
    expect(page.get_by_role("region", name=f"{new}, opened")).to_be_visible()


def test_a_file_over_a_changed_stash_tells_what_differs_and_keeps_mine_or_takes_all(
    shelf: Page, address: str, tmp_path: Path
) -> None:
    page = shelf
    out = tmp_path / "before.json"
    out.write_bytes(page.request.get(f"{address}api/export/workspace.json").body())
    renamed(page, "Sea Wall", "Harbour Wall")
    for button, name in (("Take it in, but keep what I changed", "Harbour Wall"), ("Take all of it, over", "Sea Wall")):
        page.get_by_role("button", name="Open a file").click()
        dialog = page.get_by_role("dialog", name="Bring in from a file")
        dialog.locator("input[type=file]").set_input_files(out)
        expect(dialog.get_by_role("status")).to_contain_text("1 changed here since, 97 the same already")
        expect(dialog.locator("tr.conflict")).to_contain_text("name: Harbour Wall → Sea Wall")
        dialog.get_by_role("button", name=button).click()
        expect(dialog).to_be_hidden()
        expect(page.get_by_role("button", name=re.compile(f"^{name}"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Harbour Wall"))).to_be_visible()


def test_a_copy_is_made_and_put_back_and_what_was_here_is_the_newest_copy(shelf: Page, address: str) -> None:
    page = shelf
    page.get_by_role("button", name="Copies").click()
    dialog = page.get_by_role("dialog", name="Copies of everything")
    # One was made when the service started.
    expect(dialog.locator("li")).to_have_count(1)
    dialog.get_by_role("button", name="Copy it now").click()
    expect(dialog.get_by_role("status")).to_have_text("Copied. It stands at the top of the list.")
    expect(dialog.locator("li").first).to_contain_text("because you asked")
    dialog.get_by_role("button", name="Close").click()
    renamed(page, "Sea Wall", "Harbour Wall")
    for number in (1, 2):
        page.request.delete(f"{address}api/overlaps/{number}")
    page.get_by_role("button", name="Copies").click()
    # By key: the second, then back out of it, then the first.
    dialog.get_by_role("button", name=re.compile("^Put back: the copy")).nth(1).press("Enter")
    dialog.get_by_role("button", name="No, leave it").press("Enter")
    dialog.get_by_role("button", name=re.compile("^Put back: the copy")).first.press("Enter")
    dialog.get_by_role("button", name="Yes, put it back").press("Enter")
    expect(dialog.get_by_role("status")).to_contain_text("What was here until now is the newest copy.")
    expect(dialog.locator("li").first).to_contain_text("before a copy was put back")
    expect(dialog.locator("li")).to_have_count(3)
    dialog.get_by_role("button", name="Close").click()
    assert "Sea Wall" in pads(page)
    page.get_by_role("link", name="Overlap").click()
    expect(page.get_by_role("button", name=re.compile("^Layer 1 of 2"))).to_contain_text("Boiler Blue")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Stash").click()
        page.get_by_role("button", name="Copies").click()
        dialog.get_by_role("link", name=re.compile("^Save as a file")).first.click()
    assert Path(saved.value.path()).read_bytes().startswith(b"SQLite format 3")


def test_what_cannot_be_read_is_shown_and_the_rest_works(browser: Browser, tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "spoilt.wempa")
    fill(workspace)
    workspace.close()
    with closing(sqlite3.connect(tmp_path / "spoilt.wempa")) as db:
        db.execute("UPDATE ink SET formula = 'paint' WHERE name = 'Wet Slate'")
        db.execute("UPDATE overlap_entry SET body = '{}' WHERE overlap_id = 1")
        db.commit()
    with demo_server(tmp_path / "spoilt.wempa") as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        # The first overlap is passed over; it stands in the list as what it is.
        expect(page.get_by_role("button", name=re.compile("^Layer 1 of 3"))).to_contain_text("Brass Gauge")
        page.get_by_role("button", name="Overlaps").click()
        dialog = page.get_by_role("dialog", name="Overlaps")
        broken = dialog.locator("li", has_text="On the table")
        expect(broken).to_contain_text("Cannot be read: stack[0]")
        expect(broken.get_by_role("link", name="Give out On the table")).to_be_visible()
        broken.get_by_role("button", name="Discard On the table").click()
        expect(dialog.locator("li")).to_have_count(3)
        dialog.get_by_role("button", name="Close").click()
        page.get_by_role("link", name="Stash").click()
        told = page.get_by_role("region", name="Cannot be read")
        expect(told).to_contain_text("Wet Slate (ink): formula")
        with page.expect_download() as given:
            told.get_by_role("link", name="Give out Wet Slate").click()
        assert b'"unreadable"' in Path(given.value.path()).read_bytes()
        told.get_by_role("button", name="Throw away Wet Slate").click()
        expect(told).to_be_hidden()
        page.keyboard.press("Control+z")
        expect(told).to_be_visible()
        page.close()


def test_an_ink_is_edited_undone_and_tested_at_home(shelf: Page) -> None:
    page = shelf
    page.get_by_role("button", name=re.compile("^Brick Arch")).click()
    drawer = page.get_by_role("region", name="Brick Arch, opened")
    drawer.get_by_label("Colour as hex or Lab").fill("52,1 40 12")
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        page.keyboard.press("Tab")
    expect(drawer.get_by_label("Colour as hex or Lab")).to_have_value("52.1 40 12")
    drawer.get_by_label("Colour as hex or Lab").fill("reddish")
    page.keyboard.press("Tab")
    expect(drawer.get_by_role("alert")).to_contain_text("neither a hex")
    drawer.get_by_role("button", name="Home test").click()
    dialog = page.get_by_role("dialog", name="What is Brick Arch made of?")
    for answer in ("It covers the skin", "Even", "It shows", "It hardly moved", "Still wet"):
        dialog.get_by_role("button", name=answer).click()
    expect(dialog.get_by_text("Most likely a")).to_contain_text("pigment")
    dialog.get_by_role("button", name="Take it for a pigment").click()
    expect(page.get_by_role("button", name=re.compile("^Brick Arch pigment"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name=re.compile("^Brick Arch hybrid"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(drawer.get_by_label("Colour as hex or Lab")).to_have_value("#b5533c")


def test_filters_views_and_several_at_once(shelf: Page) -> None:
    page = shelf
    page.keyboard.press("/")
    page.keyboard.type("ballast")
    assert len(pads(page)) == 9
    page.get_by_role("button", name="Several at once").click()
    page.get_by_role("button", name="All 9 shown").click()
    with page.expect_response(lambda r: "/stash/changes" in r.url):
        page.get_by_role("button", name="Re-inked today").click()
    expect(page.locator(".pad .told", has_text="freshly re-inked")).to_have_count(9)
    page.get_by_role("button", name="Several at once").click()
    page.get_by_text("Circle", exact=True).click()
    circle = page.get_by_role("group", name="Inks on the painter's circle")
    circle.get_by_role("button", name=re.compile("^Sea Wall")).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Sea Wall, opened")).to_be_visible()
    page.get_by_text("List", exact=True).click()
    expect(page.get_by_role("table").locator("tbody tr")).to_have_count(9)
    page.get_by_role("tab", name="Cards").click()
    page.get_by_role("button", name=re.compile("^Snow")).click()
    page.get_by_label("Sheets left").fill("1")
    page.keyboard.press("Tab")
    page.get_by_text("things want doing").click()
    expect(page.get_by_role("button", name="1 sheet of Snow left.")).to_be_visible()


@pytest.mark.timed
def test_two_hundred_and_fifty_inks_are_searched_without_a_wait(shelf: Page, address: str) -> None:
    page = shelf
    rows = "".join(f"Ink {n:03d},Spare,dye,#{(n * 66037 + 4096) % 0xFFFFFF:06x}\n" for n in range(210))
    assert page.request.post(f"{address}api/import/inks?apply=true", data="name,range,formula,hex\n" + rows).ok
    page.reload()
    expect(page.get_by_role("group", name="Inks by hue").locator(".pad")).to_have_count(250)
    # From each letter to the frame that shows what it leaves.
    took = page.evaluate(
        """async () => {
          const input = document.querySelector('input[aria-label="Find an ink"]'), times = []
          for (const text of ['s', 'sp', 'spa', 'spare', 'spare 1', '', 'b', 'bo', 'boiler', '']) {
            const start = performance.now()
            input.value = text
            input.dispatchEvent(new Event('input', { bubbles: true }))
            await new Promise(requestAnimationFrame)
            await new Promise(requestAnimationFrame)
            times.push(performance.now() - start)
          }
          return times
        }"""
    )
    assert sorted(took)[-2] < 250
    expect(page.get_by_role("group", name="Inks by hue").locator(".pad")).to_have_count(250)


def test_a_new_ink_is_still_there_after_a_reload(shelf: Page) -> None:
    page = shelf
    page.keyboard.press("n")
    drawer = page.get_by_role("region", name="A new ink")
    drawer.get_by_label("Name").fill("Half written")
    drawer.get_by_label("Colour as hex or Lab").fill("#8899aa")
    page.keyboard.press("Tab")
    page.reload()
    expect(page.get_by_role("group", name="Inks by hue")).to_be_visible()
    page.keyboard.press("n")
    expect(drawer.get_by_label("Name")).to_have_value("Half written")
    drawer.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_role("region", name="Half written, opened")).to_be_visible()


def test_the_guide_sets_a_ranges_own_numbers_beside_the_usual(page: Page, address: str) -> None:
    item = {"kind": "range", "item": {"name": "Footplate", "constants": {"lift": 0.9}}}
    answer = page.request.post(f"{address}api/stash/changes", data={"what": "Try", "changes": [item]})
    assert answer.ok
    page.goto(f"{address}#guide")
    page.get_by_role("button", name=re.compile("^dye")).click()
    expect(page.get_by_text("Water hardly moves it once it is dry.")).to_be_visible()
    expect(page.get_by_text("Footplate, by your own numbers").first).to_be_visible()
    expect(page.get_by_text("almost to white")).to_be_visible()


def test_what_the_lids_of_a_range_show_is_said_once_for_all_of_them(shelf: Page, address: str) -> None:
    page = shelf
    page.get_by_role("button", name=re.compile("^Tea Urn")).click()
    drawer = page.get_by_role("region", name="Tea Urn, opened")
    expect(drawer).to_contain_text("What do the lids of Footplate show?")
    # A dye's lid counts as six passes of a brush.
    expect(drawer.get_by_label("Passes of the swatch")).to_have_value("6")
    drawer.get_by_text("a print of the pad").click()
    expect(drawer.get_by_label("Passes of the swatch")).to_have_value("1")
    ink = next(ink for ink in page.request.get(f"{address}api/stash").json()["inks"] if ink["name"] == "Tea Urn")
    assert ink["item"]["ink"]["swatch"]["made_with"] == {"tool": "pad", "load": "normal", "passes": 1}
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(drawer.get_by_label("Passes of the swatch")).to_have_value("6")
