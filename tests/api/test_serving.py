"""Where Wempa listens, to whom, and how long it waits for who does not finish."""

from __future__ import annotations

import json
import socket
import subprocess
import threading
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
import uvicorn

from wempa.api import guard, serving
from wempa.api.app import create_app
from wempa.api.serving import ListenAt, serve
from wempa.cli import main
from wempa.store import StoreError, Workspace


@pytest.fixture
def port(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """A real server that waits a short while only."""
    monkeypatch.setattr(serving, "HEAD_SECONDS", 0.6)
    monkeypatch.setattr(guard, "BODY_SECONDS", 0.6)
    listener = serving._listen(["127.0.0.1"], 0)[0]
    app = create_app(Workspace(tmp_path / "w.wempa"), copies=False)
    server = uvicorn.Server(uvicorn.Config(app, http=serving.TimedProtocol, log_level="error"))
    thread = threading.Thread(target=lambda: server.run(sockets=[listener]), daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield int(listener.getsockname()[1])
    server.should_exit = True
    thread.join(10)


def said(port: int, *pieces: str, pause: float = 0.0) -> tuple[str, float]:
    """What is answered to pieces of a request until it hangs up, and after how many seconds."""
    start = time.monotonic()
    with closing(socket.create_connection(("127.0.0.1", port), timeout=10)) as talk:
        for piece in pieces:
            try:
                talk.sendall(piece.encode())
            except OSError:
                break
            time.sleep(pause)
        heard = b""
        try:
            while more := talk.recv(65536):
                heard += more
        except ConnectionResetError:
            pass
    return heard.decode(), time.monotonic() - start


HEAD = "GET /api/pairing HTTP/1.1\r\nHost: 127.0.0.1\r\n"


def test_who_says_nothing_is_hung_up_on(port: int) -> None:
    heard, seconds = said(port)
    assert heard == ""
    assert 0.4 < seconds < 4


def test_a_head_that_comes_a_letter_at_a_time_is_hung_up_on(port: int) -> None:
    heard, seconds = said(port, *HEAD, pause=0.1)
    assert heard == ""
    assert seconds < 4


@pytest.mark.timed
def test_a_second_head_on_one_connection_has_its_own_clock(port: int) -> None:
    with closing(socket.create_connection(("127.0.0.1", port), timeout=10)) as talk:
        for _ in range(3):
            # Each within its time, all together not.
            time.sleep(0.4)
            talk.sendall(f"{HEAD}\r\n".encode())
            heard = b""
            while not heard.endswith(b"}"):
                heard += talk.recv(65536)
            assert heard.startswith(b"HTTP/1.1 200 OK")
        talk.sendall(HEAD.encode())
        start = time.monotonic()
        while talk.recv(65536):
            pass
        assert time.monotonic() - start < 4


@pytest.mark.parametrize("path", ["/api/predict", "/api/stash/changes", "/api/photos"])
def test_a_body_that_does_not_go_on_is_told(port: int, path: str) -> None:
    head = f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 100\r\n\r\n"
    heard, seconds = said(port, head + "{")
    top, _, body = heard.partition("\r\n\r\n")
    assert top.startswith("HTTP/1.1 408")
    assert "content-security-policy" in top
    assert "nothing more of it came" in json.loads(body)["error"]
    assert seconds < 5


def test_a_body_longer_than_it_said_is_refused_wherever_it_is_read(port: int) -> None:
    for path in ("/api/predict", "/api/stash/changes"):
        head = f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
        head += "Transfer-Encoding: chunked\r\n\r\n"
        chunk = f"{0x100000:x}\r\n{' ' * 0x100000}\r\n"
        heard, _ = said(port, head, *[chunk] * 5)
        assert heard.startswith("HTTP/1.1 413"), heard[:80]


def test_the_answer_may_take_longer_than_the_question(port: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("wempa.api.pairing.routes._told", lambda *_: time.sleep(1.2))
    heard, _ = said(port, f"{HEAD}Connection: close\r\n\r\n")
    assert not heard.startswith("HTTP/1.1 408")
    assert heard != ""


# -- addresses -----------------------------------------------------------------


def refused(tmp_path: Path, place: ListenAt) -> str:
    workspace = Workspace(tmp_path / "w.wempa")
    with pytest.raises(StoreError) as told:
        serve(workspace, place, pytest.fail)
    workspace.close()
    return str(told.value)


@pytest.mark.parametrize("host", ["0.0.0.0", "::", "192.168.1.20"])
def test_nobody_else_is_let_in_unasked(tmp_path: Path, host: str) -> None:
    assert "add --lan" in refused(tmp_path, ListenAt(host))


def test_the_network_needs_an_address_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert "this machine's own" in refused(tmp_path, ListenAt("localhost", lan=True))
    monkeypatch.setattr(serving, "_addresses", list)
    assert "in no network" in refused(tmp_path, ListenAt(lan=True))
    assert "in no network" in refused(tmp_path, ListenAt("0.0.0.0", lan=True))


def test_a_port_that_is_taken_is_told(tmp_path: Path) -> None:
    with closing(socket.create_server(("127.0.0.1", 0))) as taken:
        assert "cannot listen on 127.0.0.1 port" in refused(tmp_path, ListenAt(port=taken.getsockname()[1]))
    assert "cannot listen" in refused(tmp_path, ListenAt(port=70_000))
    assert "cannot listen on nowhere.invalid" in refused(tmp_path, ListenAt("nowhere.invalid"))


def test_a_key_that_is_none_is_told(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    none = tmp_path / "none.pem"
    none.write_text("no key")
    assert "cannot use the certificate" in refused(tmp_path, ListenAt(certfile=none))
    assert "needs --certfile" in refused(tmp_path, ListenAt(keyfile=none))
    code = main(["serve", "--data", str(tmp_path / "x.wempa"), "--certfile", str(tmp_path / "gone.pem")])
    assert code == 2
    assert "No such file" in capsys.readouterr().err


def test_the_network_is_answered_by_the_addresses_that_are_served(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(serving, "_addresses", lambda: ["192.168.1.20", "10.0.0.3"])
    assert serving._hosts(ListenAt(lan=True)) == (["127.0.0.1", "192.168.1.20"], ["127.0.0.1", "192.168.1.20"])
    every = serving._hosts(ListenAt("0.0.0.0", lan=True))
    assert every == (["127.0.0.1", "192.168.1.20", "10.0.0.3"], ["0.0.0.0"])
    assert serving._hosts(ListenAt()) == (["127.0.0.1"], ["127.0.0.1"])


def test_with_a_certificate_it_speaks_https(tmp_path: Path) -> None:
    import ssl

    pem = tmp_path / "own.pem"
    asked = "req -x509 -newkey rsa:2048 -nodes -days 2 -subj /CN=wempa.test -addext subjectAltName=IP:127.0.0.1"
    made = subprocess.run(
        ["openssl", *asked.split(), "-keyout", pem, "-out", tmp_path / "c.pem"],
        capture_output=True,
        check=False,
    )
    if made.returncode != 0:
        pytest.skip("there is no openssl here to make a certificate with")
    pem.write_text(pem.read_text() + (tmp_path / "c.pem").read_text())
    heard: list[str] = []
    workspace = Workspace(tmp_path / "w.wempa")
    place = ListenAt(certfile=pem)
    threading.Thread(target=lambda: serve(workspace, place, heard.append), daemon=True).start()
    while not heard:
        time.sleep(0.02)
    assert heard[0].startswith("Wempa is at https://127.0.0.1:")
    port = int(heard[0].split(":")[2].split("/")[0])
    trusting = ssl.create_default_context(cafile=tmp_path / "c.pem")
    with (
        socket.create_connection(("127.0.0.1", port), timeout=10) as raw,
        trusting.wrap_socket(raw, server_hostname="127.0.0.1") as talk,
    ):
        talk.sendall(b"GET /api/pairing HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")
        assert b"200 OK" in talk.recv(65536)
