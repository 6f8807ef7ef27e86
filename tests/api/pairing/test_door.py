"""Who is not paired gets the pairing page and nothing else; codes are good once, briefly and for few guesses."""

from __future__ import annotations

import stat
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from starlette.types import ASGIApp

from wempa.api.app import create_app
from wempa.api.pairing.door import COOKIE, Lan
from wempa.craft.limits import MAX_DEVICES
from wempa.store import Devices, NotFound, StoreError, Workspace
from wempa.store import devices as kept

NETWORK = "http://192.168.1.20:8765"
HOSTS = frozenset({"localhost", "127.0.0.1", "192.168.1.20"})


@pytest.fixture
def lan(tmp_path: Path) -> Lan:
    return Lan(Devices(tmp_path / "devices.json"), (f"{NETWORK}/",))


@pytest.fixture
def app(tmp_path: Path, lan: Lan) -> Iterator[ASGIApp]:
    made = create_app(Workspace(tmp_path / "w.wempa"), HOSTS, copies=False, lan=lan)
    with TestClient(made):
        yield made


def outside(app: ASGIApp) -> TestClient:
    return TestClient(app, base_url=NETWORK, follow_redirects=False)


def laptop(app: ASGIApp) -> TestClient:
    return TestClient(app, base_url="http://127.0.0.1:8765")


def pair(app: ASGIApp, lan: Lan, name: str = "Kitchen tablet") -> TestClient:
    tablet = outside(app)
    answer = tablet.post("/pair", data={"code": lan.codes.make().figures, "name": name})
    assert answer.status_code == 303
    return tablet


def figures(lan: Lan) -> str:
    return lan.codes.make().figures


def wrong(right: str) -> str:
    return f"{(int(right) + 1) % 1_000_000:06d}"


def test_nothing_but_the_pairing_page_answers_who_is_not_paired(app: ASGIApp) -> None:
    stranger = outside(app)
    every = {
        (method.upper(), path.replace("{", "").replace("}", ""))
        for path, methods in app.openapi()["paths"].items()  # type: ignore[attr-defined]
        for method in methods
    }
    assert len(every) > 80
    for method, path in sorted(every | {("GET", "/api/openapi.json"), ("GET", "/api/nowhere")}):
        answer = stranger.request(method, path)
        assert answer.status_code == 401, (method, path)
        assert "not paired" in answer.json()["error"]
        assert answer.headers["content-security-policy"]
    assert stranger.get("/").headers["location"] == "/pair"
    assert stranger.get("/assets/index.js").status_code == 401
    page = stranger.get("/pair")
    assert page.status_code == 200
    assert "<script" not in page.text
    assert "plain HTTP" in page.text
    assert stranger.get("/pair.css").headers["content-type"].startswith("text/css")


def test_the_laptop_itself_needs_no_pairing(app: ASGIApp) -> None:
    assert laptop(app).get("/api/stash").status_code == 200


def test_a_code_pairs_one_device_once(app: ASGIApp, lan: Lan) -> None:
    code = figures(lan)
    tablet = outside(app)
    answer = tablet.post("/pair", data={"code": f"{code[:3]} {code[3:]}", "name": "Kitchen tablet"})
    assert answer.status_code == 303
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=strict" in cookie
    assert "secure" not in cookie
    assert tablet.get("/api/stash").status_code == 200
    assert tablet.get("/pair").headers["location"] == "/"
    again = outside(app).post("/pair", data={"code": code, "name": "Another"})
    assert again.status_code == 403
    assert "was used" in again.text
    assert [each.name for each in lan.devices.listed()] == ["Kitchen tablet"]


def test_over_https_the_cookie_goes_only_over_https(tmp_path: Path) -> None:
    lan = Lan(Devices(tmp_path / "devices.json"), (f"{NETWORK}/",), secure=True)
    app = create_app(Workspace(tmp_path / "s.wempa"), HOSTS, copies=False, lan=lan)
    answer = outside(app).post("/pair", data={"code": figures(lan), "name": "T"})
    assert "secure" in answer.headers["set-cookie"].lower()
    assert "encrypted" in outside(app).get("/pair").text


def test_after_five_wrong_guesses_a_code_is_good_for_nothing(app: ASGIApp, lan: Lan) -> None:
    code = figures(lan)
    stranger = outside(app)
    for _ in range(4):
        assert stranger.post("/pair", data={"code": wrong(code), "name": "x"}).status_code == 403
    assert stranger.post("/pair", data={"code": wrong(code), "name": "x"}).status_code == 429
    late = stranger.post("/pair", data={"code": code, "name": "x"})
    assert late.status_code == 429
    assert "guessed at too often" in late.text
    assert lan.devices.listed() == []
    assert laptop(app).get("/api/pairing").json()["guessed"] is True
    fresh = laptop(app).post("/api/pairing/code").json()["code"]["figures"]
    assert stranger.post("/pair", data={"code": fresh, "name": "x"}).status_code == 303


def test_four_wrong_guesses_leave_it_good(app: ASGIApp, lan: Lan) -> None:
    code = figures(lan)
    stranger = outside(app)
    for _ in range(4):
        stranger.post("/pair", data={"code": wrong(code), "name": "x"})
    assert stranger.post("/pair", data={"code": code, "name": "x"}).status_code == 303


def test_a_code_is_good_for_ten_minutes(app: ASGIApp, lan: Lan, monkeypatch: pytest.MonkeyPatch) -> None:
    start = time.monotonic()
    code = figures(lan)
    monkeypatch.setattr("wempa.api.pairing.codes.time.monotonic", lambda: start + 590)
    assert laptop(app).get("/api/pairing").json()["code"]["seconds"] == pytest.approx(10, abs=2)
    monkeypatch.setattr("wempa.api.pairing.codes.time.monotonic", lambda: start + 601)
    assert outside(app).post("/pair", data={"code": code, "name": "x"}).status_code == 403
    assert laptop(app).get("/api/pairing").json()["code"] is None


@pytest.mark.parametrize(
    ("form", "status"),
    [
        ({}, 422),
        ({"code": "123456", "name": "   "}, 422),
        ({"code": "123456", "name": "x" * 61}, 422),
        ({"code": "123456", "name": "a\x00b"}, 422),
        ({"code": "", "name": "x"}, 403),
        ({"code": "１２３４５６", "name": "x"}, 403),
        ({"code": "1" * 5000, "name": "x"}, 413),
    ],
)
def test_a_form_that_is_none_is_told(app: ASGIApp, lan: Lan, form: dict[str, str], status: int) -> None:
    lan.codes.make()
    answer = outside(app).post("/pair", data=form)
    assert answer.status_code == status
    assert 'role="alert"' in answer.text


def test_a_name_is_shown_as_text(app: ASGIApp, lan: Lan) -> None:
    code = figures(lan)
    page = outside(app).post("/pair", data={"code": wrong(code), "name": '"><script>alert(1)</script>'}).text
    assert "<script" not in page
    assert "&lt;script&gt;" in page


def test_a_page_of_another_site_cannot_pair(app: ASGIApp, lan: Lan) -> None:
    form = {"code": figures(lan), "name": "x"}
    assert outside(app).post("/pair", data=form, headers={"origin": "http://elsewhere.example"}).status_code == 403
    assert outside(app).post("/pair", data=form, headers={"host": "elsewhere.example"}).status_code == 400


def test_only_the_laptop_makes_codes_and_lets_devices_go(app: ASGIApp, lan: Lan) -> None:
    tablet = pair(app, lan)
    lan.codes.make()
    seen = tablet.get("/api/pairing").json()
    assert seen["this"] == "Kitchen tablet"
    assert seen["code"] is None
    assert tablet.post("/api/pairing/code").status_code == 403
    assert tablet.delete("/api/pairing/devices/1").status_code == 403
    own = laptop(app).get("/api/pairing").json()
    assert own["this"] is None
    assert own["code"]["figures"] == lan.codes.now().figures  # type: ignore[union-attr]
    assert "token" not in own["devices"][0]
    assert len(own["addresses"][0]["rows"]) == len(own["addresses"][0]["rows"][0]) >= 21


def test_a_device_that_was_let_go_is_outside_at_once(app: ASGIApp, lan: Lan) -> None:
    one, other = pair(app, lan, "One"), pair(app, lan, "Other")
    assert laptop(app).delete("/api/pairing/devices/1").json()["devices"][0]["name"] == "Other"
    assert one.get("/api/stash").status_code == 401
    assert other.get("/api/stash").status_code == 200
    assert laptop(app).delete("/api/pairing/devices/1").status_code == 404


def test_cookies_of_others_and_broken_ones_are_passed_over(app: ASGIApp, lan: Lan) -> None:
    token = lan.devices.add("T")
    stranger = outside(app)
    good = f"a=b; {COOKIE}=x; @@; {COOKIE}={token}"
    assert stranger.get("/api/stash", headers={"cookie": good}).status_code == 200
    assert stranger.get("/api/stash", headers={"cookie": f"{COOKIE}={token}x"}).status_code == 401


def test_served_to_this_laptop_alone_it_says_how_to_open_it(tmp_path: Path) -> None:
    client = TestClient(create_app(Workspace(tmp_path / "own.wempa"), copies=False))
    assert client.get("/api/pairing").json()["open"] is False
    refused = client.post("/api/pairing/code")
    assert refused.status_code == 422
    assert "wempa serve --lan" in refused.json()["error"]


# -- the file of devices -------------------------------------------------------


def test_devices_outlive_a_restart_and_hold_no_token(tmp_path: Path) -> None:
    path = tmp_path / "w-devices.json"
    devices = Devices.beside(tmp_path / "w.wempa")
    token = devices.add("Tablet")
    assert devices.path == path
    assert token not in path.read_text()
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    again = Devices(path)
    found = again.of(token)
    assert found is not None
    assert found.name == "Tablet"
    assert again.of("") is None
    again.revoke(found.id)
    assert Devices(path).of(token) is None
    with pytest.raises(NotFound):
        again.revoke(found.id)
    again.add("Next")
    assert [each.id for each in again.listed()] == [2]


def test_a_device_that_did_not_come_for_three_months_is_let_go(tmp_path: Path, monkeypatch: Any) -> None:
    devices = Devices(tmp_path / "d.json")
    token = devices.add("Tablet")
    later = datetime.now(UTC) + timedelta(days=60)
    monkeypatch.setattr(kept, "_now", lambda: later)
    assert devices.of(token) is not None
    # It was seen then, and is good for three months more.
    monkeypatch.setattr(kept, "_now", lambda: later + timedelta(days=89))
    assert devices.of(token) is not None
    monkeypatch.setattr(kept, "_now", lambda: later + timedelta(days=89 + 91))
    assert devices.of(token) is None
    assert devices.listed() == []


def test_there_is_room_for_so_many_devices(tmp_path: Path) -> None:
    devices = Devices(tmp_path / "d.json")
    for n in range(MAX_DEVICES):
        devices.add(f"Tablet {n}")
    with pytest.raises(StoreError, match="let one go"):
        devices.add("One more")


@pytest.mark.parametrize("text", ["", "[]", "{", '{"next": 2, "devices": [{"id": 1}]}', '{"next": "x", "devices": []}'])
def test_a_file_that_cannot_be_read_pairs_nobody(tmp_path: Path, text: str) -> None:
    path = tmp_path / "d.json"
    path.write_text(text)
    devices = Devices(path)
    assert devices.listed() == []
    assert devices.of(devices.add("Tablet")) is not None


def test_a_form_of_very_many_fields_is_told(app: ASGIApp) -> None:
    answer = outside(app).post("/pair", content="&".join(f"a{n}=1" for n in range(50)))
    assert answer.status_code == 422
