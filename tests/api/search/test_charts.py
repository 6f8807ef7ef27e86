"""The Chart and Match screens' routes."""

from __future__ import annotations

import io
import json
import struct
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pypdfium2
import pytest
from starlette.testclient import TestClient

from wempa.api.app import create_app
from wempa.api.search import matches
from wempa.craft.search.match import GAP, search
from wempa.demo.penny_halt import fill
from wempa.optics import colorimetry as cm
from wempa.store import Workspace


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    workspace = Workspace(tmp_path_factory.mktemp("demo") / "demo.wempa")
    fill(workspace)
    with TestClient(create_app(workspace)) as client:
        yield client


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(Workspace(tmp_path / "empty.wempa"))) as client:
        yield client


def number(client: TestClient, kind: str, name: str) -> int:
    found = client.get("/api/stash").json()[kind]
    return int(next(each["id"] for each in found if each["name"] == name))


def split(content: bytes) -> tuple[dict[str, Any], bytes]:
    (length,) = struct.unpack("<I", content[:4])
    return json.loads(content[4 : 4 + length]), content[4 + length :]


def lines(text: str) -> list[dict[str, Any]]:
    return [json.loads(each) for each in text.splitlines()]


def matched(client: TestClient, **body: Any) -> dict[str, Any]:
    answer = client.post("/api/match", json=body)
    assert answer.status_code == 200, answer.text
    return lines(answer.text)[-1]


def own(client: TestClient, name: str, code: str, **more: str) -> None:
    item = {"name": name, "formula": "dye", "ink": {"swatch": {"colour": {"hex": code}}}, **more}
    change = {"kind": "ink", "item": item}
    assert client.post("/api/stash/changes", json={"what": "Try", "changes": [change]}).status_code == 200


def test_a_cell_is_what_overlap_shows(demo: TestClient) -> None:
    """Colour, verdict and mud of a cell are those of the overlap with the same two lay-downs."""
    mint = number(demo, "cards", "Mint Waiting Room")
    how = {"tool": "foam", "load": "normal", "passes": 4.0}
    head, cells = split(demo.post("/api/chart", json={"card_id": mint, **how}).content)
    n = len(head["inks"])
    assert len(cells) == 5 * n * n
    rgb = np.frombuffer(cells, dtype=np.uint8)[: 3 * n * n].reshape(n, n, 3)
    kind, mud = np.frombuffer(cells, dtype=np.uint8)[3 * n * n :].reshape(2, n, n)
    made = []
    for below, above in ((0, 3), (3, 0), (5, 20), (11, 2)):
        stack = [{"ink_id": head["inks"][k], **how} for k in (below, above)]
        body = {"name": "cell", "card_id": mint, "stack": stack}
        desk = demo.post("/api/overlaps", json=body).json()
        made.append(desk["overlap"]["id"])
        full = desk["crossing"]["full"]
        assert "#" + bytes(rgb[below, above]).hex() == full["colour"]["hex"]
        assert abs(int(mud[below, above]) - full["verdict"]["mud"]) <= 0.51
        assert head["kinds"][kind[below, above]] == full["verdict"]["kind"]
    for each in made:
        demo.delete(f"/api/overlaps/{each}")


def test_study_tells_what_is_new_alike_and_different(demo: TestClient) -> None:
    head, cells = split(demo.post("/api/chart", json={}).content)
    n = len(head["inks"])
    rgb = np.frombuffer(cells, dtype=np.uint8)[: 3 * n * n].reshape(-1, 3)
    kind = np.frombuffer(cells, dtype=np.uint8)[3 * n * n : 4 * n * n]
    study, rest = split(demo.post("/api/chart/study", json={}).content)
    new = np.frombuffer(rest[: n * n], dtype=np.uint8) / 4
    leader = np.frombuffer(rest[n * n + (-n * n % 4) :], dtype="<u4")
    assert len(leader) == n * n
    assert study["groups"] == len(np.unique(leader))
    # An ink laid over itself may be new; two mixes of one group are never far apart.
    lab = cm.lab_from_xyz(cm.xyz_from_srgb(rgb / 255, "D65"), cm.xyz_from_srgb(np.ones(3), "D65"))
    assert float(np.median(cm.delta_e(lab, lab[leader]))) < 6
    assert head["kinds"][0] == "clean"
    assert all(kind[cell] == 0 for cell in study["different"])
    assert len(study["ranked"]) == n
    assert max(study["ranked"]) > 2 * min(study["ranked"])
    alone = np.array([cm.rgb_from_hex(code) for code in head["alone"]])
    own = cm.lab_from_xyz(cm.xyz_from_srgb(alone, "D65"), cm.xyz_from_srgb(np.ones(3), "D65"))
    for cell in study["different"][:6]:
        assert new[cell] == pytest.approx(float(cm.delta_e(own, lab[cell]).min()), abs=1.2)


def test_company_of_a_hero(demo: TestClient) -> None:
    blue = number(demo, "inks", "Boiler Blue")
    for blend in ("family", "rainbow", "many", "bridge"):
        found = demo.post("/api/chart/company", json={"blend": blend, "hero": blue}).json()
        for one in found["sets"]:
            assert blue in one["inks"]
            assert len(one["shown"]) == len(one["words"]) == 2 * len(one["inks"]) - 1
            assert len(one["below"]) == len(one["inks"]) - 1
        assert (found["rainbow"] is not None) == (blend == "rainbow")


def test_a_printed_chart_is_as_large_as_it_says(demo: TestClient) -> None:
    """Opened and measured: A4, squares of 15 mm, a ruler of 50 mm, names in the text."""
    some = [number(demo, "inks", name) for name in ("Boiler Blue", "Brass Gauge", "Tea Urn")]
    query = "&".join(f"inks={each}" for each in some)
    for blank in (False, True):
        content = demo.get(f"/api/chart/export.pdf?{query}&blank={str(blank).lower()}").content
        document = pypdfium2.PdfDocument(io.BytesIO(content))
        assert len(document) == 1
        page = document[0]
        millimetre = 72 / 25.4
        assert page.get_width() / millimetre == pytest.approx(210, abs=0.2)
        assert page.get_height() / millimetre == pytest.approx(297, abs=0.2)
        boxes = [found.get_bounds() for found in page.get_objects(filter=[2])]
        sizes = [((right - left) / millimetre, (top - bottom) / millimetre) for left, bottom, right, top in boxes]
        squares = [size for size in sizes if abs(size[0] - 15) < 0.3 and abs(size[1] - 15) < 0.3]
        notes = [size for size in sizes if abs(size[0] - 15) < 0.3 and abs(size[1] - 6) < 0.3]
        assert len(squares) == len(notes) == 9
        assert any(abs(width - 50) < 0.3 and height < 0.3 for width, height in sizes)
        text = page.get_textpage().get_text_range()
        assert "Boiler Blue" in text
        assert "50 mm" in text
        picture = np.asarray(page.render(scale=4).to_numpy())[..., :3].astype(int)
        chroma = picture.max(axis=2) - picture.min(axis=2)
        assert (chroma > 40).any() != blank


def test_a_printed_chart_goes_over_several_pages(demo: TestClient) -> None:
    content = demo.get("/api/chart/export.pdf").content
    assert len(pypdfium2.PdfDocument(io.BytesIO(content))) == 20
    blue = number(demo, "inks", "Boiler Blue")
    hero = demo.get(f"/api/chart/export.pdf?hero={blue}&page=letter").content
    pages = pypdfium2.PdfDocument(io.BytesIO(hero))
    assert len(pages) == 2
    assert pages[0].get_width() == pytest.approx(612, abs=1)
    picture = demo.get("/api/chart/export.svg?blank=true")
    assert picture.text.count("<rect") > 37 * 37


def test_tables_of_a_chart(demo: TestClient) -> None:
    head, cells = split(demo.post("/api/chart", json={}).content)
    n = len(head["inks"])
    table = demo.get("/api/chart/export.csv").text.strip().splitlines()
    found = demo.get("/api/chart/export.json").json()
    assert len(table) == n * n + 1
    assert len(found["cells"]) == n * n
    assert found["cells"][n + 2]["hex"] == "#" + cells[3 * (n + 2) : 3 * (n + 3)].hex()
    assert found["cells"][n + 2]["below"] == found["inks"][1]


def test_match_applied_gives_what_it_shows(demo: TestClient) -> None:
    """The first answer, stored as an overlap, has the colour that was promised."""
    found = matched(demo, target={"colour": {"hex": "#8a6fb0"}})
    assert found["state"] == "done"
    assert found["reached"]
    assert found["best"] >= found["bound"] > found["best"] - 0.02
    first = found["answers"][0]
    body = {"name": "matched", "card_id": None, "stack": first["stack"]}
    desk = demo.post("/api/overlaps", json=body).json()
    assert desk["crossing"]["full"]["colour"]["hex"] == first["look"]["colour"]["hex"]
    demo.delete(f"/api/overlaps/{desk['overlap']['id']}")


def test_match_over_what_lies_there(demo: TestClient) -> None:
    first = demo.get("/api/overlaps").json()[0]["id"]
    item = demo.get(f"/api/overlaps/{first}").json()["overlap"]
    found = matched(demo, target={"colour": {"hex": "#404a50"}}, start=first, most=2)["answers"][0]
    body = {key: item[key] for key in ("card_id", "settings")}
    body |= {"name": "over", "stack": item["stack"] + found["stack"]}
    desk = demo.post("/api/overlaps", json=body).json()
    assert desk["crossing"]["full"]["colour"]["hex"] == found["look"]["colour"]["hex"]
    demo.delete(f"/api/overlaps/{desk['overlap']['id']}")


def test_targets_of_every_kind(demo: TestClient) -> None:
    used = next(ink["id"] for ink in demo.get("/api/stash").json()["inks"] if ink["item"]["standing"] != "owned")
    blue = number(demo, "inks", "Boiler Blue")
    whole = demo.get("/api/overlaps/1").json()["crossing"]
    for target, expected in (
        ({"ink_id": used}, None),
        ({"colour": {"lab": [60, 20, 10], "illuminant": "D50"}}, None),
        ({"overlap_id": 1}, whole["full"]["colour"]["hex"]),
        ({"overlap_id": 1, "below": 0, "above": 1}, whole["pairs"][0]["hex"]),
        ({"panel_id": 1, "band": 0}, demo.get("/api/panels").json()[0]["shown"][0]),
        ({"panel_id": 1, "seam": 0}, demo.get("/api/panels").json()[0]["shown"][1]),
    ):
        found = matched(demo, target=target, most=1)
        assert expected is None or found["target"] == expected
        assert found["answers"]
        assert all(len(one["stack"]) == 1 for one in found["answers"])
    for one in matched(demo, target={"ink_id": blue}, without=[blue])["answers"]:
        assert blue not in one["inks"]
    lamp = matched(demo, target={"ink_id": blue}, illuminant="A", most=1)
    assert lamp["answers"][0]["inks"] == [blue]


def test_a_colour_out_of_reach_is_told_with_how_far(demo: TestClient) -> None:
    found = matched(demo, target={"colour": {"hex": "#00ff00"}})
    assert not found["reached"]
    assert found["bound"] > 5
    assert found["answers"][0]["delta_e"] > 5


@pytest.mark.parametrize(
    ("path", "body", "said"),
    [
        ("/api/match", {"target": {"colour": {"hex": "#808080"}}}, "there is no ink in the stash yet"),
        ("/api/match", {"target": {"colour": {"hex": "red"}}}, "target.colour"),
        ("/api/match", {"target": {}}, "one of colour, ink_id, overlap_id and panel_id"),
        ("/api/match", {"target": {"ink_id": 99}}, "there is no ink 99"),
        ("/api/match", {"target": {"overlap_id": 7}}, "there is no overlap 7"),
        ("/api/match", {"target": {"colour": {"hex": "#808080"}}, "card_id": 7}, "there is no card 7"),
        ("/api/match", {"target": {"colour": {"hex": "#808080"}}, "most": 4}, "most"),
        ("/api/chart", {"card_id": 7}, "there is no card 7"),
        ("/api/chart", {"inks": [5]}, "there is no ink 5"),
        ("/api/chart", {"passes": 0}, "passes"),
    ],
)
def test_bad_questions(empty: TestClient, path: str, body: dict[str, Any], said: str) -> None:
    """One sentence each, from a stash without anything in it."""
    answer = empty.post(path, json=body)
    assert answer.status_code in (404, 422)
    assert said in answer.json()["error"]


def test_an_empty_stash_and_one_ink(empty: TestClient) -> None:
    head, cells = split(empty.post("/api/chart", json={}).content)
    assert head["inks"] == []
    assert cells == b""
    assert split(empty.post("/api/chart/study", json={}).content)[0]["different"] == []
    assert empty.post("/api/chart/company", json={"blend": "rainbow"}).json() == {"sets": [], "rainbow": None}
    assert empty.get("/api/reserve").text == ""
    assert empty.get("/api/chart/export.pdf").status_code == 200
    own(empty, "Only One", "#2456a6")
    found = matched(empty, target={"colour": {"hex": "#2456a6"}})
    assert len(found["answers"]) == 1
    assert split(empty.post("/api/chart", json={}).content)[0]["alone"]
    assert empty.get("/api/reserve").text == ""
    every = empty.post("/api/match", json={"target": {"colour": {"hex": "#2456a6"}}, "without": [1]})
    assert "every ink of the stash is left out" in every.text


def test_searches_wait_for_one_another(demo: TestClient) -> None:
    """Several at once all end, each with its own answer; of one that is hung up on nothing is left."""
    found: dict[str, dict[str, Any]] = {}
    wanted = ["#8a6fb0", "#c06040", "#709050", "#305080"]

    def ask(code: str) -> None:
        found[code] = matched(demo, target={"colour": {"hex": code}})

    with demo.stream("POST", "/api/match", json={"target": {"colour": {"hex": "#777777"}}}) as hung:
        assert hung.status_code == 200
    threads = [threading.Thread(target=ask, args=(code,)) for code in wanted]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert [found[code]["target"] for code in wanted] == wanted
    assert all(found[code]["state"] == "done" for code in wanted)


def test_reserve_is_kept_and_follows_the_stash(tmp_path: Path) -> None:
    workspace = Workspace(tmp_path / "small.wempa")
    with TestClient(create_app(workspace)) as client:
        for name, code in (("Blue", "#2456a6"), ("Yellow", "#f2d02a"), ("Red", "#d0303a")):
            own(client, name, code)
        three = lines(client.get("/api/reserve").text)
        assert [one["ink_id"] for one in three] == [1, 2, 3]
        assert not any(one["made"] for one in three)
        for one in three:
            assert one["ink_id"] not in one["answer"]["inks"]
            assert one["bound"] <= one["answer"]["delta_e"]
        assert lines(client.get("/api/reserve").text) == three
        own(client, "Twin", "#2456a6", standing="wanted")
        four = lines(client.get("/api/reserve").text)
        assert four[3]["made"]
        assert four[3]["answer"]["inks"] == [1]
        page = pypdfium2.PdfDocument(io.BytesIO(client.get("/api/reserve.pdf").content))[0]
        text = page.get_textpage().get_text_range()
        assert "Twin" in text
        assert "stands in" in text


@pytest.mark.parametrize(("exact", "gap"), [(True, 0.0), (False, GAP)])
def test_a_search_of_many_inks_is_ended_near_enough_unless_it_is_to_be_exact(
    demo: TestClient, monkeypatch: pytest.MonkeyPatch, exact: bool, gap: float
) -> None:
    asked: list[float] = []

    def watched(*reach: Any, enough: float, **more: Any) -> Any:
        asked.append(enough)
        return search(*reach, enough=enough, **more)

    monkeypatch.setattr(matches, "search", watched)
    monkeypatch.setattr(matches, "_EXACT", 3)
    found = matched(demo, target={"colour": {"hex": "#7a9e8b"}}, exact=exact)
    assert asked == [gap]
    # What is exact is proven: nothing lies nearer than what was found.
    assert found["best"] - found["bound"] <= gap + 0.01


def test_this_card_shows_every_ink_by_itself_the_worst_first(demo: TestClient) -> None:
    stash = demo.get("/api/stash").json()
    buff = next(card["id"] for card in stash["cards"] if card["name"] == "Buff Timetable")
    names = {ink["id"]: ink["name"] for ink in stash["inks"]}
    found = demo.post("/api/chart/alone", json={"card_id": buff}).json()
    assert found["coloured"] is True
    assert (found["card"], found["white"]) == ("#e3cfa1", "#f8f7f4")
    mud = [round(ink["mud"]) for ink in found["inks"]]
    assert mud == sorted(mud, reverse=True)
    worst = {names[ink["ink_id"]]: ink for ink in found["inks"]}
    assert worst["Rain Coat"]["kind"] == worst["Heather Bank"]["kind"] == "muddy"
    assert worst["Brass Gauge"]["kind"] == "clean"
    assert worst["Rain Coat"]["hex"] != worst["Rain Coat"]["white"]
    assert found["spoilt"] == sum(ink["kind"] != "clean" for ink in found["inks"]) > 4
    assert found["mud_line"] == 50
    assert demo.post("/api/chart/alone", json={"card_id": buff, "mud_line": 90}).json()["mud_line"] == 90
    plain = demo.post("/api/chart/alone", json={}).json()
    assert (plain["coloured"], plain["spoilt"]) == (False, 0)
    assert all(ink["hex"] == ink["white"] for ink in plain["inks"])
    assert demo.post("/api/chart/alone", json={"card_id": buff, "inks": []}).json()["inks"] == []
    assert demo.post("/api/chart/alone", json={"card": buff}).status_code == 422
