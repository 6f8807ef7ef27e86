"""The Panel screen's routes."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Iterator
from pathlib import Path
from time import perf_counter
from typing import Any

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from starlette.testclient import TestClient

from tests.api.search.test_charts import number, split
from tests.pace import slowness
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

MM = 72 / 25.4


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


def panel(client: TestClient, name: str = "Open day sunrise") -> dict[str, Any]:
    found = next(each for each in client.get("/api/panels").json() if each["name"] == name)
    answer: dict[str, Any] = client.get(f"/api/panels/open?panel={found['id']}").json()["panel"]
    return answer


def body(stored: dict[str, Any], **changes: Any) -> dict[str, Any]:
    return {**{key: value for key, value in stored.items() if key not in ("id", "revision")}, **changes}


def paint(client: TestClient, plan: dict[str, Any], query: str = "per_mm=2") -> tuple[dict[str, Any], np.ndarray]:
    answer = client.post(f"/api/panels/picture?{query}", json=plan)
    assert answer.status_code == 200, answer.text
    head, pixels = split(answer.content)
    return head, np.frombuffer(pixels, dtype=np.uint8).reshape(head["rows"], head["columns"], 3)


def rgb(code: str) -> list[int]:
    return [int(code[k : k + 2], 16) for k in (1, 3, 5)]


def test_demo_panels_are_listed_and_painted(demo: TestClient) -> None:
    listed = demo.get("/api/panels").json()
    assert len(listed) == 5
    assert all(each["shown"] and not each["trouble"] for each in listed)
    stored = panel(demo)
    head, pixels = paint(demo, body(stored), "per_mm=4")
    assert pixels.shape == (559, 432, 3)
    assert head["length"] == pytest.approx(139.7)
    widths = [band["end"] - band["begin"] for band in head["bands"]]
    between = [seam["end"] - seam["begin"] for seam in head["seams"]]
    assert sum(widths) + sum(between) == pytest.approx(139.7, abs=0.05)
    for band in head["bands"]:
        row = int((band["begin"] + band["end"]) / 2 * 4)
        assert pixels[row, 200].tolist() == pytest.approx(rgb(band["hex"]), abs=1)
    assert sorted(head["order"]) == list(range(7))
    assert head["reason"].startswith("Lightest first")
    assert len(head["pieces"]) == 4
    assert listed[0]["shown"][0] == head["bands"][0]["hex"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"height": 0.1}, "10 to 1000 mm wide and high, not 0.1 mm high"),
        ({"height": 4.7e-253}, "not 4.7e-253 mm high"),
        ({"width": 0.004}, "not 0.004 mm wide"),
        ({"width": 5, "height": 5, "sheet": {"width": 1000, "height": 1000}}, "not 5 mm wide"),
        ({"sheet": {"width": 1000, "height": 0.5}}, "a sheet to be cut is 10 to 1000 mm wide and high"),
        ({"width": 30, "frame": "border", "frame_width": 12}, "a border of 12 mm leaves 6 mm of this panel; 10 mm is"),
    ],
)
@pytest.mark.timed
def test_a_panel_too_small_to_hold_is_refused_at_once(demo: TestClient, change: dict[str, Any], said: str) -> None:
    for bands in ([], [{"ink_id": 1}]):
        begun = perf_counter()
        for path in ("/api/panels/picture", "/api/panels"):
            answer = demo.post(path, json={"name": "x", "card_id": 1, "bands": bands, **change})
            assert answer.status_code == 422
            assert said in answer.json()["error"]
        assert perf_counter() - begun < 3 * slowness()


@pytest.mark.timed
def test_the_smallest_panel_out_of_the_largest_sheet_is_counted_whole_and_drawn_in_part(demo: TestClient) -> None:
    small = {"name": "x", "card_id": 1, "width": 10, "height": 10, "bands": [{"ink_id": 1}]}
    begun = perf_counter()
    head, _ = paint(demo, {**small, "sheet": {"width": 1000, "height": 1000}})
    assert perf_counter() - begun < 1 * slowness()
    assert (head["panels"], len(head["pieces"]), head["waste"]) == (10_000, 200, 0)
    head, _ = paint(demo, small)
    assert (head["panels"], len(head["pieces"])) == (21 * 29, 200)


def test_panels_are_made_changed_copied_deleted_and_undone(demo: TestClient) -> None:
    stored = panel(demo)
    thinner = body(stored, bands=stored["bands"][:3], seams=[])
    changed = demo.put(
        f"/api/panels/{stored['id']}?what=Thin%20it", json=thinner, headers={"if-match": f'"{stored["revision"]}"'}
    ).json()
    assert changed["can_undo"]
    assert len(changed["panel"]["seams"]) == 2
    late = demo.put(f"/api/panels/{stored['id']}", json=thinner, headers={"if-match": f'"{stored["revision"]}"'})
    assert late.status_code == 409
    assert demo.post("/api/undo").json()["what"] == "Thin it (Open day sunrise)"
    assert len(panel(demo)["bands"]) == 7
    assert demo.post("/api/redo").json()["what"] == "Thin it (Open day sunrise)"
    assert len(panel(demo)["bands"]) == 3
    copied = demo.post(f"/api/panels/{stored['id']}/copy").json()["panel"]
    assert copied["name"] == "Open day sunrise (2)"
    assert demo.post("/api/panels", json={"name": "Bare"}).status_code == 201
    head, _ = split(demo.post("/api/panels/picture", json={"name": "Bare"}).content)
    assert (head["rows"], head["bands"], head["colours"]) == (0, [], 0)
    assert len(demo.delete(f"/api/panels/{copied['id']}").json()) == 6
    demo.post("/api/undo")
    assert len(demo.get("/api/panels").json()) == 7


def test_what_a_panel_uses_cannot_be_thrown_away(demo: TestClient) -> None:
    ink, card = number(demo, "inks", "Ticket Pink"), number(demo, "cards", "Slate Roof")
    for kind, each in (("ink", ink), ("card", card)):
        change = {"what": "Throw away", "changes": [{"kind": kind, "id": each}]}
        answer = demo.post("/api/stash/changes", json=change)
        assert answer.status_code == 422
        assert "Steam over the line" in answer.json()["error"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"bands": [{"ink_id": 1, "width": -3}]}, "band 1 is -3 mm wide; 1 mm is the least that can be laid"),
        ({"bands": [{"ink_id": 1, "width": 0}]}, "band 1 is 0 mm wide"),
        ({"bands": [{"ink_id": 1, "weight": 0}]}, "band 1 has weight 0"),
        ({"bands": [{"ink_id": 1}, {"ink_id": 2}], "seams": [{"overlap": 200}]}, "do not fit on 140 mm"),
        ({"bands": [{"ink_id": 1}, {"ink_id": 2}], "seams": [{"overlap": -2}]}, "seam 1 cannot be narrower than 0 mm"),
        ({"width": 0}, "not 0 mm wide"),
        ({"bands": [{"ink_id": 1}] * 35, "width": 30, "angle": 0}, "35 inks do not fit on 30 mm"),
        ({"bands": [{"ink_id": 1}] * 41}, "40 at most"),
        ({"bands": [{"ink_id": 9999}]}, "there is no ink 9999"),
        ({"card_id": 9999}, "there is no card 9999"),
        ({"frame": "mat", "mat_id": 9999}, "there is no card 9999"),
        ({"frame": "border", "frame_width": 80}, "a border of 80 mm leaves nothing"),
        ({"tops": [{"kind": "ink"}]}, "an ink on top needs an ink"),
        ({"tops": [{"kind": "water", "motif": "own", "path": "nonsense"}]}, "path"),
        ({"name": ""}, "name"),
        ({"settings": {"constants": {"seam.with": 3}}}, "there is no constant 'seam.with'"),
        ({"settings": {"constants": {"seam.width": -5}}}, "seam.width must lie between 1 and 100"),
        ({"sheet": {"width": 0, "height": 10}}, "a sheet to be cut is 10 to 1000 mm wide and high, not 0 by"),
        ({"tops": [{"kind": "water", "motif": "drops", "step": 0.01}]}, "2 mm away or more"),
    ],
)
def test_what_cannot_be_is_one_sentence_and_nothing_is_lost(
    demo: TestClient, change: dict[str, Any], said: str
) -> None:
    stored = panel(demo)
    for answer in (
        demo.put(f"/api/panels/{stored['id']}", json=body(stored, **change)),
        demo.post("/api/panels/picture", json=body(stored, **change)),
    ):
        assert answer.status_code in (404, 422)
        assert said in answer.json()["error"]
        assert "\n" not in answer.json()["error"]
    assert panel(demo) == stored


@pytest.mark.parametrize("box", ["1,2,3", "0,0,0,0", "a,b,c,d", "nan,0,5,5", "-5,0,5,5", "50,50,40,60", "0,0,inf,nan"])
def test_bad_parts_are_refused(demo: TestClient, box: str) -> None:
    assert demo.post(f"/api/panels/picture?box={box}", json=body(panel(demo))).status_code == 422
    assert demo.post("/api/panels/picture?per_mm=48", json=body(panel(demo))).status_code == 422


def test_fixes_are_what_they_say_once_applied(demo: TestClient) -> None:
    stored = panel(demo, "Embankment at dusk")
    before, _ = paint(demo, body(stored))
    fixes = demo.get(f"/api/panels/{stored['id']}/fixes?seam=0").json()
    assert {"bridge", "gap", "lighter_hand"} <= {fix["code"] for fix in fixes}
    for fix in fixes:
        after = demo.put(f"/api/panels/{stored['id']}", json=fix["change"])
        assert after.status_code == 200, (fix["code"], after.text)
        head, _ = paint(demo, body(after.json()["panel"]))
        shown = []
        for k, band in enumerate(head["bands"]):
            shown.append(band["hex"])
            if k < len(head["seams"]) and head["seams"][k]["end"] > head["seams"][k]["begin"]:
                shown.append(head["seams"][k]["hex"])
        assert shown == fix["shown"]
        told = re.search(r"mud (\d+) → (\d+)", fix["seam"])
        if told:
            assert int(told[1]) == round(before["seams"][0]["mud"])
            assert int(told[2]) == round(head["seams"][0]["mud"])
        demo.post("/api/undo")
    assert demo.get(f"/api/panels/{stored['id']}/fixes?seam=9").status_code == 422


def test_a_seam_goes_to_overlap_and_comes_back(demo: TestClient) -> None:
    stored = panel(demo, "Embankment at dusk")
    head, _ = paint(demo, body(stored))
    desk = demo.post(f"/api/panels/{stored['id']}/seams/0/overlap").json()
    overlap = desk["overlap"]
    laid = [entry["ink_id"] for entry in overlap["stack"]]
    first, second = (stored["bands"][k]["ink_id"] for k in sorted((0, 1), key=head["order"].index))
    assert laid == [first, second]
    assert overlap["card_id"] == stored["card_id"]
    # The other order, wet, and another ink instead of the second.
    plum, stack = number(demo, "inks", "Heather Bank"), overlap["stack"]
    turned = [{**stack[1], "ink_id": plum, "passes": 3}, {**stack[0], "over": "wet"}]
    turned = [{key: value for key, value in entry.items() if value is not None} for entry in turned]
    put = demo.put(f"/api/overlaps/{overlap['id']}", json={**body(overlap), "stack": turned})
    assert put.status_code == 200, put.text
    back = demo.post(f"/api/panels/{stored['id']}/seams/0/take/{overlap['id']}").json()["panel"]
    inks = [band["ink_id"] for band in back["bands"]]
    assert inks[2:] == [band["ink_id"] for band in stored["bands"]][2:]
    assert set(inks[:2]) == {first, plum}
    assert back["bands"][inks.index(plum)]["passes"] == 3
    assert back["seams"][0]["wet"]
    again, _ = paint(demo, body(back))
    order = again["order"]
    assert order.index(inks.index(plum)) < order.index(inks.index(first))
    # What has three inks is no seam.
    three = {**body(overlap), "stack": [*turned, turned[0]]}
    demo.put(f"/api/overlaps/{overlap['id']}", json=three)
    answer = demo.post(f"/api/panels/{stored['id']}/seams/0/take/{overlap['id']}")
    assert answer.status_code == 422
    assert "two inks" in answer.json()["error"]
    assert demo.post(f"/api/panels/{stored['id']}/seams/7/overlap").status_code == 404


def test_a_window_tells_what_a_cut_leaves(demo: TestClient) -> None:
    stored = body(panel(demo))
    heart = {"kind": "heart", "x": 54, "y": 70, "width": 50, "height": 50}
    found = demo.post("/api/panels/through", json={"panel": stored, "window": heart}).json()
    assert 0 < found["colours"] < 11
    assert sum(each["share"] for each in found["left"]) == pytest.approx(1, abs=0.02)
    assert set(found["lost"]) & {"Brass Gauge", "Water Tower"}
    own = {**heart, "kind": "own", "path": "M0 0 L10 0 L10 10 L0 10 Z"}
    squared = demo.post("/api/panels/through", json={"panel": stored, "window": own}).json()
    assert len(squared["outline"][0]) == 4
    for bad, said in (({"kind": "own"}, "path"), ({"width": 0}, "wider and higher"), ({"kind": "star"}, "kind")):
        answer = demo.post("/api/panels/through", json={"panel": stored, "window": {**heart, **bad}})
        assert answer.status_code == 422
        assert said in answer.json()["error"]


def test_two_panels_side_by_side(demo: TestClient) -> None:
    one, other = panel(demo)["id"], panel(demo, "Embankment at dusk")["id"]
    text = demo.get(f"/api/panels/{one}/beside/{other}").json()["text"]
    assert text[0] == "12 colours from 7 inks against 6 from 4."
    single = demo.post("/api/panels", json=body(panel(demo), name="One", bands=panel(demo)["bands"][:1])).json()
    told = demo.get(f"/api/panels/{single['panel']['id']}/beside/{other}").json()["text"]
    assert told[0] == "1 colour from 1 ink against 6 from 4."
    bare = demo.post("/api/panels", json={"name": "Bare"}).json()["panel"]["id"]
    assert "no bands" in demo.get(f"/api/panels/{one}/beside/{bare}").json()["error"]


def pdf(client: TestClient, path: str) -> pypdfium2.PdfDocument:
    answer = client.get(path)
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"] == "application/pdf"
    return pypdfium2.PdfDocument(io.BytesIO(answer.content))


def boxes(page: pypdfium2.PdfPage, kind: int) -> list[tuple[float, float]]:
    found = [each.get_bounds() for each in page.get_objects(filter=[kind])]
    return [((right - left) / MM, (top - bottom) / MM) for left, bottom, right, top in found]


def has_rulers(page: pypdfium2.PdfPage) -> bool:
    lines = boxes(page, 2)
    return all(any(abs(wide - size) < 0.3 and high < 0.4 for wide, high in lines) for size in (50, 50.8))


def test_the_front_is_printed_at_real_size(demo: TestClient) -> None:
    """Opened and measured: the picture is as large as the panel, and the ruler marks are true."""
    for name, size in (("Open day sunrise", (107.95, 139.7)), ("Signal wheel", (115.0, 115.0))):
        document = pdf(demo, f"/api/panels/{panel(demo, name)['id']}/export.pdf")
        page = document[0]
        assert (page.get_width() / MM, page.get_height() / MM) == pytest.approx((210, 297), abs=0.2)
        (picture,) = boxes(page, 3)
        assert picture == pytest.approx(size, abs=0.2)
        assert has_rulers(page)
        assert "Print at 100 %" in page.get_textpage().get_text_range()
    # Larger than the page: the page grows.
    wide = demo.post("/api/panels", json=body(panel(demo), name="Wide", width=200, height=279)).json()["panel"]["id"]
    page = pdf(demo, f"/api/panels/{wide}/export.pdf")[0]
    assert page.get_width() / MM == pytest.approx(230, abs=0.2)
    assert boxes(page, 3)[0] == pytest.approx((200, 279), abs=0.2)


def test_ruler_strips_have_their_ticks_where_the_bands_begin(demo: TestClient) -> None:
    stored = panel(demo)
    head, _ = paint(demo, body(stored))
    page = pdf(demo, f"/api/panels/{stored['id']}/ruler.pdf")[0]
    text = page.get_textpage().get_text_range()
    assert "left and right edge" in text
    assert "top edge" not in text
    for band in head["bands"][1:]:
        told = re.search(rf"{band['name']} ([0-9.]+) mm", text)
        assert told is not None, band["name"]
        assert float(told[1]) == pytest.approx(band["begin"], abs=0.11)
    assert has_rulers(page)
    strips = [size for size in boxes(page, 2) if abs(size[0] - 139.7) < 0.5 and abs(size[1] - 20) < 0.5]
    assert strips
    # Every band's block is as wide as the band shows.
    wide = sorted(round(size[0], 1) for size in boxes(page, 2) if abs(size[1] - 8) < 0.3)
    shown = [band["end"] - band["begin"] for band in head["bands"]]
    for one in shown:
        assert any(abs(one - other) < 0.2 for other in wide)
    slanted = demo.put(f"/api/panels/{stored['id']}", json=body(stored, angle=45)).json()["panel"]["id"]
    text = pdf(demo, f"/api/panels/{slanted}/ruler.pdf")[0].get_textpage().get_text_range()
    assert all(f"{edge} edge" in text for edge in ("top", "bottom", "left", "right"))
    rings = demo.put(f"/api/panels/{stored['id']}", json=body(stored, layout="rings", width=60, height=140)).json()
    assert "edge" in pdf(demo, f"/api/panels/{rings['panel']['id']}/ruler.pdf")[0].get_textpage().get_text_range()


def test_the_plan_is_one_page_with_all_that_is_needed(demo: TestClient) -> None:
    for stored in (panel(demo), panel(demo, "Embankment at dusk"), panel(demo, "Steam over the line")):
        head, _ = paint(demo, body(stored))
        document = pdf(demo, f"/api/panels/{stored['id']}/plan.pdf")
        assert len(document) == 1
        text = " ".join(document[0].get_textpage().get_text_range().split())
        for band in head["bands"]:
            assert band["name"] in text
        assert "Lay in this order" in text
        assert "panel" in text
        assert "Heat tools burn" in text
        assert "Print at 100 %" in text
        flags = [flag for seam in head["seams"] for flag in seam["flags"]]
        assert not flags or "muddy" in text or "see a line" in text or "takes over" in text
        assert has_rulers(document[0])


def test_pictures_and_drawings_have_their_size(demo: TestClient) -> None:
    stored = panel(demo, "Steam over the line")
    picture = Image.open(io.BytesIO(demo.get(f"/api/panels/{stored['id']}/export.png").content))
    # 99 by 210 mm with a mat of 6 mm around, at 300 dots per inch.
    assert picture.size == (round(111 / 25.4 * 300), round(222 / 25.4 * 300))
    assert picture.info["dpi"] == pytest.approx((300, 300), abs=0.1)
    assert picture.getpixel((5, 5)) == tuple(rgb(paint(demo, body(stored))[0]["mat"]))
    svg = demo.get(f"/api/panels/{stored['id']}/export.svg").text
    width = re.search(r'<svg width="([\d.]+)', svg)
    assert width is not None
    assert float(width[1]) / MM == pytest.approx(111, abs=0.2)
    assert "data:image/png;base64" in svg
    wet = Image.open(io.BytesIO(demo.get(f"/api/panels/{stored['id']}/export.png?wet=true").content))
    assert np.abs(np.asarray(wet).astype(int) - np.asarray(picture).astype(int)).max() > 3
    bare = demo.post("/api/panels", json={"name": "Bare"}).json()["panel"]["id"]
    assert "nothing to print" in demo.get(f"/api/panels/{bare}/export.pdf").json()["error"]


def test_a_panel_goes_out_with_its_inks(demo: TestClient, tmp_path: Path) -> None:
    listed = {each["name"]: each["shown"] for each in demo.get("/api/panels").json()}
    out = demo.get(f"/api/panels/{panel(demo, 'Steam over the line')['id']}/export.json")
    assert len(out.json()["inks"]) == 4
    assert [card["name"] for card in out.json()["cards"]] == ["Snow", "Slate Roof"]
    with TestClient(create_app(Workspace(tmp_path / "other.wempa"))) as other:
        assert other.post("/api/import/workspace?apply=true", content=out.content).json()["applied"]
        (taken,) = other.get("/api/panels").json()
        assert taken["shown"] == listed["Steam over the line"]


def test_panels_go_out_with_the_workspace_and_come_back(demo: TestClient, tmp_path: Path) -> None:
    out = demo.get("/api/export/workspace.json").content
    with TestClient(create_app(Workspace(tmp_path / "other.wempa"))) as other:
        assert other.post("/api/import/workspace?apply=true", content=out).json()["applied"]
        assert [each["shown"] for each in other.get("/api/panels").json()] == [
            each["shown"] for each in demo.get("/api/panels").json()
        ]
        rows = other.post("/api/import/workspace", content=out).json()["rows"]
        assert {row["status"] for row in rows if row["kind"] == "panel"} == {"same"}
        bad = out.replace(b'"layout": "fan"', b'"layout": "spiral"')
        assert "layout" in other.post("/api/import/workspace", content=bad).json()["error"]


def test_a_panel_larger_than_its_sheet_is_planned_and_told(demo: TestClient) -> None:
    stored = panel(demo)
    answer = demo.put(f"/api/panels/{stored['id']}", json=body(stored, width=400, height=500))
    assert answer.status_code == 200
    head, _ = paint(demo, body(stored, width=400, height=500), "per_mm=1")
    assert (head["panels"], head["pieces"], head["waste"]) == (0, [], 1)
    text = pdf(demo, f"/api/panels/{stored['id']}/plan.pdf")[0].get_textpage().get_text_range()
    assert "larger than this sheet" in text


def test_the_printed_front_has_its_bleed_and_is_trimmed_to_size(demo: TestClient) -> None:
    stored = panel(demo)
    plain = pdf(demo, f"/api/panels/{stored['id']}/export.pdf")[0]
    demo.put(f"/api/panels/{stored['id']}", json=body(stored, bleed=4))
    bleeding = pdf(demo, f"/api/panels/{stored['id']}/export.pdf")[0]
    size = (stored["width"], stored["height"])
    assert any(abs(w - size[0]) < 0.5 and abs(h - size[1]) < 0.5 for w, h in boxes(plain, 3))
    assert any(abs(w - size[0] - 8) < 0.5 and abs(h - size[1] - 8) < 0.5 for w, h in boxes(bleeding, 3))
    svg = demo.get(f"/api/panels/{stored['id']}/export.svg").text
    wide = re.search(r'<svg[^>]* width="([0-9.]+)', svg)
    assert wide is not None
    assert float(wide[1]) == pytest.approx((size[0] + 8) * MM, rel=0.01)
    # A picture for the screen is of the panel alone.
    with Image.open(io.BytesIO(demo.get(f"/api/panels/{stored['id']}/export.png").content)) as front:
        assert front.size[0] == pytest.approx(size[0] * 300 / 25.4, abs=1)


def test_a_small_picture_is_the_panel_made_small(demo: TestClient) -> None:
    stored = panel(demo)
    answer = demo.get(f"/api/panels/{stored['id']}/small.png?high=120")
    assert answer.headers["content-type"] == "image/png"
    with Image.open(io.BytesIO(answer.content)) as small:
        seen = np.asarray(small.convert("RGB"))
    assert seen.shape == (120, round(120 * stored["width"] / stored["height"]), 3)
    head, _ = paint(demo, body(stored))
    for band in head["bands"]:
        row = int((band["begin"] + band["end"]) / 2 / stored["height"] * 120)
        assert seen[row, 40].tolist() == pytest.approx(rgb(band["hex"]), abs=8)
    assert demo.get("/api/panels/9999/small.png").status_code == 404


def test_a_set_becomes_a_panel_as_large_as_the_last_and_on_its_card(demo: TestClient) -> None:
    stored = panel(demo, "Embankment at dusk")
    demo.put(f"/api/panels/{stored['id']}", json=body(stored, width=90, height=120, unit="in"))
    inks = [number(demo, "inks", name) for name in ("Brass Gauge", "Boiler Blue")]
    made = demo.post(
        "/api/panels/of", json={"name": "A set", "bands": [{"ink_id": ink, "passes": 3} for ink in (*inks, inks[0])]}
    ).json()["panel"]
    assert [band["ink_id"] for band in made["bands"]] == [*inks, inks[0]]
    assert [band["passes"] for band in made["bands"]] == [3, 3, 3]
    assert (made["width"], made["height"], made["unit"], made["card_id"]) == (90, 120, "in", stored["card_id"])
    assert len(made["seams"]) == 2
    again = demo.post("/api/panels/of", json={"name": "A set", "card_id": 2, "bands": [{"ink_id": inks[0]}]}).json()
    assert (again["panel"]["name"], again["panel"]["card_id"]) == ("A set (2)", 2)
    begun = demo.post("/api/panels/new").json()["panel"]
    assert (begun["width"], begun["unit"], begun["card_id"]) == (90, "in", 2)
    for wrong, status in (({"bands": []}, 422), ({"bands": [{"ink_id": 9999}]}, 404), ({"bands": [{}]}, 422)):
        assert demo.post("/api/panels/of", json=wrong).status_code == status


def test_what_lies_on_top_is_moved_and_turned(demo: TestClient) -> None:
    stored = panel(demo)
    top = {"kind": "ink", "ink_id": number(demo, "inks", "Night Train"), "motif": "hearts", "size": 20, "step": 900}
    _, bare = paint(demo, body(stored))

    def inked(**more: float) -> tuple[float, float]:
        """Where the one heart lies: its middle in mm."""
        _, seen = paint(demo, body(stored, tops=[{**top, **more}]))
        rows, columns = np.nonzero(np.abs(seen.astype(int) - bare).sum(axis=2) > 60)
        return columns.mean() / 2, rows.mean() / 2

    x, y = inked(x=-400, y=-400)
    assert [x, y] == pytest.approx([50, 50], abs=2.5)
    assert list(inked(x=-380, y=-410)) == pytest.approx([x + 20, y - 10], abs=0.6)
    # Upside down its middle is as far below the point it is held by as it was above.
    upside_down = inked(x=-400, y=-400, turn=180)
    assert upside_down[1] - 50 == pytest.approx(50 - y, abs=1.2)


def test_the_tape_shows_how_much_of_each_ink_lies_where(demo: TestClient) -> None:
    head, _ = paint(demo, body(panel(demo)))
    for band in head["bands"]:
        at, passes = np.array(band["amounts"]).T
        assert (at[0], at[-1]) == (
            pytest.approx(max(0, band["laid_from"]), abs=0.02),
            pytest.approx(band["laid_to"], abs=0.02),
        )
        assert passes.max() == pytest.approx(band["passes"], rel=0.02)
        middle = (band["begin"] + band["end"]) / 2
        assert np.interp(middle, at, passes) == pytest.approx(band["passes"], rel=0.1)
    assert head["bands"][1]["amounts"][0][1] == 0
    ribbons, _ = paint(demo, body(panel(demo, "Bunting in ribbons")))
    passes = np.array(ribbons["bands"][1]["amounts"])[:, 1]
    # Full along its edge, fading out.
    assert passes[0] == ribbons["bands"][1]["passes"]
    assert (np.diff(passes) <= 0).all()
    assert passes[-1] == 0
    assert [(way["soft"], way["words"]) for way in head["ways"]] == [(0, "stripes"), (0.3, "short seams"), (1, "soft")]
    assert ribbons["ways"] == []


def test_a_palette_becomes_a_panel_of_the_inks_that_come_nearest(demo: TestClient) -> None:
    palette = {
        "palette": "Down platform",
        "colours": [
            {"name": "carriage plum", "hex": "#000000"},
            {"name": "nobody's ink", "hex": "#2a5aaa"},
            {"name": "", "hex": "#2457a8"},
            {"name": "", "hex": "#f3c42f"},
        ],
    }
    made = demo.post("/api/panels/of-palette", content=json.dumps(palette)).json()["panel"]
    names = {each["id"]: each["name"] for each in demo.get("/api/stash").json()["inks"]}
    assert [names[band["ink_id"]] for band in made["bands"]] == ["Carriage Plum", "Boiler Blue", "Brass Gauge"]
    assert made["name"] == "Down platform"
    own = demo.get("/api/export/palette.gpl").content
    many = demo.post("/api/panels/of-palette", content=own).json()["panel"]
    assert len({band["ink_id"] for band in many["bands"]}) == 24
    refused = demo.post("/api/panels/of-palette", content=b"no colours")
    assert (refused.status_code, "no colours that can be read" in refused.json()["error"]) == (422, True)
