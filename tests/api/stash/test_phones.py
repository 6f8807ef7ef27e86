"""Phones over HTTP: notes on a photo, grey steps, teaching a phone, using and forgetting what it taught."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.photos import CARD, shoot, spectra_of
from wempa.api.app import create_app
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Page
from wempa.demo.camera import PHONES, Scene, photograph
from wempa.demo.penny_halt import INKS
from wempa.store import Workspace


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(Workspace(tmp_path / "empty.wempa"))) as client:
        yield client


WARM = replace(PHONES["phone"], lamp="warm lamp")


def sent(client: TestClient, scene: Scene, inks: Any = INKS[:12]) -> dict[str, Any]:
    made = photograph(sheet_layout(Page.A4), spectra_of(inks), CARD, scene)
    found: dict[str, Any] = client.post("/api/photos", content=made).json()
    return found


def body(client: TestClient, photo: dict[str, Any], count: int, ids: list[int | None], **more: Any) -> dict[str, Any]:
    path = f"/api/photos/{photo['photo']}/mark"
    marked = client.post(path, json={"page": photo["page"], "corners": photo["corners"]}).json()
    boxes = [{"box": box, "ink": number} for box, number in zip(marked["swatches"][:count], ids, strict=True)]
    return {"swatches": boxes, "whites": marked["whites"], "dark": marked["dark"], "steps": marked["steps"], **more}


def stored(client: TestClient, known: str) -> list[int | None]:
    """The first twelve inks of the demo on the shelf."""
    changes = [
        {
            "kind": "ink",
            "item": {"name": name, "formula": "dye", "ink": {"swatch": {"colour": {"hex": code}, "known": known}}},
        }
        for _, name, code, _ in INKS[:12]
    ]
    answer = client.post("/api/stash/changes", json={"what": "Twelve inks", "changes": changes})
    assert answer.status_code == 200, answer.text
    return [ink["id"] for ink in answer.json()["inks"]]


def by_name(client: TestClient) -> list[int | None]:
    numbers = {ink["item"]["name"]: ink["id"] for ink in client.get("/api/stash").json()["inks"]}
    return [numbers[name] for _, name, _, _ in INKS[:12]]


def test_a_phone_is_learned_used_and_forgotten(client: TestClient) -> None:
    stored(client, "reader")
    ids = by_name(client)
    first = sent(client, WARM)
    assert first["phone"] == "Signal Box Lamp 1"
    read = client.post(f"/api/photos/{first['photo']}/read", json=body(client, first, 12, ids)).json()
    assert (read["known"], read["teaches"], read["taught"]) == (12, True, 0)
    taught = client.post(f"/api/photos/{first['photo']}/teach", json=body(client, first, 12, ids, phone=first["phone"]))
    assert taught.status_code == 201
    assert taught.json()["swatches"] == {"A": 12}
    assert taught.json()["tones"] is True

    second = sent(client, replace(WARM, seed=5), INKS[12:24])
    none: list[int | None] = [None] * 12
    asked = [body(client, second, 12, none, lamp="A", phone=name) for name in ("", "Signal Box Lamp 1")]
    plain, known = (client.post(f"/api/photos/{second['photo']}/read", json=each).json() for each in asked)
    assert known["taught"] == 12
    assert "known_phone" in {note["code"] for note in known["notes"]}
    spreads = [sum(one["spread"] for one in answer["readings"]) for answer in (plain, known)]
    assert spreads[1] < 0.6 * spreads[0]

    # The same photo teaches nothing new, and is not counted twice when it is read; another photo does teach.
    again = client.post(f"/api/photos/{first['photo']}/teach", json=body(client, first, 12, ids, phone=first["phone"]))
    assert again.json()["swatches"] == {"A": 12}
    once, twice = (
        client.post(
            f"/api/photos/{first['photo']}/read", json=body(client, first, 12, ids, lamp="A", phone=name)
        ).json()["readings"]
        for name in ("", first["phone"])
    )
    assert [one["spread"] for one in once] == [one["spread"] for one in twice]
    third = sent(client, replace(WARM, seed=8))
    more = client.post(f"/api/photos/{third['photo']}/teach", json=body(client, third, 12, ids, phone=first["phone"]))
    assert more.json()["swatches"] == {"A": 24}
    assert len(client.get("/api/phones").json()) == 1
    assert client.delete(f"/api/phones/{more.json()['id']}").json() == []
    assert client.post("/api/undo").status_code == 200
    assert client.get("/api/phones").json()[0]["name"] == "Signal Box Lamp 1"


def test_colours_off_lids_teach_nothing(client: TestClient) -> None:
    ids = stored(client, "lid")
    photo = sent(client, WARM)
    answer = client.post(f"/api/photos/{photo['photo']}/teach", json=body(client, photo, 12, ids, phone="Mine"))
    assert answer.status_code == 422
    assert "0 of its swatches" in answer.json()["error"]
    assert client.get("/api/phones").json() == []


def test_what_glows_or_was_read_on_another_card_teaches_nothing(client: TestClient) -> None:
    stored(client, "reader")
    held = {ink["item"]["name"]: ink for ink in client.get("/api/stash").json()["inks"]}
    names = [name for _, name, _, _ in INKS[:12]]
    glowing, on_kraft = held[names[0]], held[names[1]]
    glowing["item"]["formula"] = "fluorescent"
    on_kraft["item"]["ink"]["swatch"]["card"] = {"colour": {"hex": "#b08d62"}}
    changes = [{"kind": "ink", **{key: one[key] for key in ("id", "revision", "item")}} for one in (glowing, on_kraft)]
    assert client.post("/api/stash/changes", json={"what": "Two", "changes": changes}).status_code == 200
    photo = sent(client, WARM)
    read = client.post(f"/api/photos/{photo['photo']}/read", json=body(client, photo, 12, by_name(client))).json()
    assert read["known"] == 10


def test_a_shadow_across_the_sheet_is_said(client: TestClient) -> None:
    import io

    from PIL import Image

    pixels = shoot(Scene(bend=0.0)).pixels.copy()
    pixels[900:1400] = (pixels[900:1400] * 0.6).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=92)
    photo = client.post("/api/photos", content=out.getvalue()).json()
    read = client.post(f"/api/photos/{photo['photo']}/read", json=body(client, photo, 36, [None] * 36)).json()
    assert "shadow" in {note["code"] for note in read["notes"]}
    clear = sent(client, Scene(), INKS[:36])
    read = client.post(f"/api/photos/{clear['photo']}/read", json=body(client, clear, 36, [None] * 36)).json()
    assert "shadow" not in {note["code"] for note in read["notes"]}


@pytest.mark.parametrize(("lamp", "code"), [("D65", "lamp_doubted"), ("A", None), (None, None)])
def test_a_warm_photo_is_doubted_as_daylight(client: TestClient, lamp: str | None, code: str | None) -> None:
    photo = sent(client, Scene(lamp="warm lamp", balance=0.65), INKS[:24])
    given = body(client, photo, 24, [None] * 24, lamp=lamp)
    read = client.post(f"/api/photos/{photo['photo']}/read", json=given).json()
    assert read["lamp"] == (lamp or "A")
    assert {note["code"] for note in read["notes"]} == ({code} if code else set())


def test_without_steps_it_is_said(client: TestClient) -> None:
    photo = sent(client, Scene())
    given = {**body(client, photo, 12, [None] * 12), "steps": []}
    read = client.post(f"/api/photos/{photo['photo']}/read", json=given).json()
    assert [note["code"] for note in read["notes"]] == ["no_steps"]
    bare = body(client, photo, 12, [None] * 12)
    assert [one["bare"] for one in client.post(f"/api/photos/{photo['photo']}/read", json=bare).json()["readings"]] == [
        False
    ] * 12


def test_squares_that_nobody_inked_are_left_out_and_names_follow_the_others(client: TestClient) -> None:
    photo = sent(client, Scene(), [INKS[0], INKS[1]])
    path = f"/api/photos/{photo['photo']}/read"
    given = body(client, photo, 5, [None] * 5)
    # The first square stays bare for a moment: it is marked last.
    given["swatches"] = [given["swatches"][n] for n in (4, 0, 3, 1, 2)]
    whole = client.post(path, json={**given, "whole_sheet": {"names": ["Left", "Right", "Never"]}}).json()
    assert whole["inked"] == [{"at": 1, "name": "Left"}, {"at": 3, "name": "Right"}]
    inked = client.post(path, json={**given, "swatches": [given["swatches"][n] for n in (1, 3)]}).json()
    assert whole["readings"] == inked["readings"]
    assert inked["inked"] is None
    unnamed = client.post(path, json={**given, "whole_sheet": {"names": ["Left"]}}).json()
    assert unnamed["inked"] == [{"at": 1, "name": "Left"}, {"at": 3, "name": ""}]
    assert client.post(path, json={**given, "whole_sheet": {"names": []}}).json()["inked"][0] == {"at": 1, "name": None}
    none = {**given, "swatches": [given["swatches"][n] for n in (0, 2)], "whole_sheet": {"names": []}}
    assert (client.post(path, json=none).json()["inked"], client.post(path, json=none).json()["readings"]) == ([], [])


def test_a_blurred_photo_and_a_sheet_cut_off_are_said(client: TestClient) -> None:
    import io

    from PIL import Image, ImageFilter

    pixels = shoot(Scene()).pixels
    for change, code in (
        (Image.fromarray(pixels).filter(ImageFilter.GaussianBlur(12)), "blurred"),
        (Image.fromarray(pixels).crop((0, 0, 1400, 1500)), "no_sheet"),
    ):
        out = io.BytesIO()
        change.save(out, "JPEG", quality=92)
        found = client.post("/api/photos", content=out.getvalue()).json()
        assert [note["code"] for note in found["notes"]] in ([code], []) if code == "no_sheet" else [code]
        assert (found["page"] is None) == (code == "no_sheet")


@pytest.mark.parametrize(
    ("scene", "codes"),
    [
        (Scene(form="PNG", made_by=("Signal Box", "Lamp 1")), []),
        (Scene(form="PNG"), ["copied"]),
        (Scene(form="DNG", made_by=("Signal Box", "Lamp 1")), ["raw"]),
    ],
)
def test_what_kind_of_file_it_is_is_said(client: TestClient, scene: Scene, codes: list[str]) -> None:
    assert [note["code"] for note in sent(client, scene)["notes"]] == codes


def test_the_grey_strip_is_marked_by_its_four_dots(client: TestClient) -> None:
    photo = sent(client, Scene())
    corners = [[100, 100], [1060, 100], [1060, 320], [100, 320]]
    marked = client.post(f"/api/photos/{photo['photo']}/mark", json={"strip": True, "corners": corners}).json()
    assert len(marked["steps"]) == 12
    assert len(marked["whites"]) == 2
    assert all(100 < step["box"][0] < step["box"][2] < 1060 for step in marked["steps"])
    both = {"strip": True, "page": "a4", "corners": corners}
    assert "give one of" in client.post(f"/api/photos/{photo['photo']}/mark", json=both).json()["error"]
    assert client.get("/api/strip.pdf").content[:5] == b"%PDF-"
