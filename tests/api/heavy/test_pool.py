"""Workers: a service with processes of its own answers as one without, and outlives them."""

from __future__ import annotations

import json
import os
import signal
import socket
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from tools.soaking.service import Service, family, running


@pytest.fixture(scope="module")
def service(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Service]:
    with running(tmp_path_factory.mktemp("pool") / "demo.wempa") as service:
        service.json("GET", "/api/panels")
        yield service


def workers(service: Service) -> list[int]:
    """Processes that were made for heavy work: those of a lower priority than the service."""
    found, own = [], os.getpriority(os.PRIO_PROCESS, service.process.pid)
    for pid in family(service.process.pid):
        try:
            if os.getpriority(os.PRIO_PROCESS, pid) > own:
                found.append(pid)
        except ProcessLookupError:
            continue
    return found


def settled(service: Service) -> list[int]:
    end = time.monotonic() + 20
    while len(found := workers(service)) < 3 and time.monotonic() < end:
        time.sleep(0.05)
    return found


def test_there_is_a_worker_for_each_kind_of_work(service: Service) -> None:
    assert len(settled(service)) >= 3


def test_answers_come_whole_with_their_status_and_headers(service: Service) -> None:
    status, text = service.ask("POST", "/api/predict", {"wempa": 1})
    assert status == 422
    assert "missing" in json.loads(text)["error"]
    status, png = service.ask("GET", "/api/panels/1/export.png")
    assert status == 200
    assert png.startswith(b"\x89PNG")
    assert png.endswith(b"IEND\xaeB`\x82")
    status, lines = service.ask("POST", "/api/match", {"target": {"colour": {"hex": "#804040"}}})
    states = [json.loads(line)["state"] for line in lines.splitlines()]
    assert status == 200
    assert states[-1] == "done"
    assert service.ask("GET", "/api/panels/99/small.png")[0] == 404


def test_what_a_worker_stores_is_there_for_all(service: Service) -> None:
    planned = service.json("POST", "/api/evenings", {"pieces": [{"kind": "overlap", "ids": [1]}]})
    assert service.json("GET", f"/api/evenings/{planned['id']}")["id"] == planned["id"]
    assert service.json("GET", "/api/table")["evening"] == planned["id"]


def test_what_is_stored_is_known_to_the_workers(service: Service) -> None:
    plain = {"name": "Pool white", "card": {"colour": {"hex": "#102030"}, "surface": "smooth"}}
    stash = service.json("POST", "/api/stash/changes", {"what": "x", "changes": [{"kind": "card", "item": plain}]})
    card = next(each for each in stash["cards"] if each["name"] == "Pool white")
    status, chart = service.ask("POST", "/api/chart", {"card_id": card["id"]})
    assert status == 200
    size = int.from_bytes(chart[:4], "little")
    assert json.loads(chart[4 : 4 + size])["card"] == "#102030"


def test_learning_and_adopting_belong_together(service: Service) -> None:
    status, lines = service.ask("POST", "/api/log/learn")
    assert status == 200
    assert json.loads(lines.splitlines()[-1])["result"]["better"] is True
    lesson = service.json("POST", "/api/log/adopt")[0]
    assert lesson["standing"] is True
    service.json("POST", f"/api/log/lessons/{lesson['id']}/back")


def test_a_worker_that_is_ended_is_told_and_replaced(service: Service) -> None:
    before = settled(service)
    for pid in before:
        os.kill(pid, signal.SIGKILL)
    job = {"wempa": 1, "cardstock": {"colour": {"hex": "#ffffff"}}, "inks": {}, "stack": []}
    answers = [service.ask("POST", "/api/predict", job) for _ in range(3)]
    assert {status for status, _ in answers} <= {200, 503}
    assert answers[-1][0] == 200
    assert not set(workers(service)) & set(before)
    assert service.ask("GET", "/api/stash")[0] == 200


def worked(pids: list[int]) -> float:
    """Seconds that processes have worked so far."""
    ticks = 0
    for pid in pids:
        with suppress(OSError):
            ticks += sum(int(each) for each in Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[11:13])
    return ticks / os.sysconf("SC_CLK_TCK")


def test_a_search_that_nobody_waits_for_ends(tmp_path: Path) -> None:
    """Counted in seconds of work and not of waiting, so that a busy machine makes no difference."""
    with running(tmp_path / "demo.wempa") as service:
        service.json("GET", "/api/panels")
        pids = settled(service)
        begun = worked(pids)
        # Forty inks are looked for, one after another; nobody is there any more after the fourth.
        talk = socket.create_connection(("127.0.0.1", service.port))
        talk.sendall(f"GET /api/reserve HTTP/1.1\r\nHost: 127.0.0.1:{service.port}\r\n\r\n".encode())
        told = b""
        while told.count(b'"ink_id"') < 4:
            told += talk.recv(4096)
        assert told.startswith(b"HTTP/1.1 200")
        talk.close()
        four = worked(pids) - begun
        assert four > 0
        for _ in range(60):
            before = worked(pids)
            time.sleep(0.5)
            if worked(pids) - before < 0.05:
                break
        assert worked(pids) - begun < 3 * four
        assert not service.process.poll()


def test_workers_end_with_the_service(tmp_path: Path) -> None:
    for how in ("stop", "kill"):
        with running(tmp_path / f"{how}.wempa") as service:
            service.json("GET", "/api/panels")
            every = settled(service)
            if how == "kill":
                service.kill()
        end = time.monotonic() + 15
        while any(Path(f"/proc/{pid}").exists() and not _over(pid) for pid in every) and time.monotonic() < end:
            time.sleep(0.05)
        assert [pid for pid in every if Path(f"/proc/{pid}").exists() and not _over(pid)] == []


def test_where_no_worker_can_be_made_the_service_does_it_itself(tmp_path: Path) -> None:
    with running(tmp_path / "alone.wempa") as service:
        service.json("GET", "/api/panels")
        settled(service)
        killed = family(service.process.pid)[1:]
        for pid in killed:
            os.kill(pid, signal.SIGKILL)
        # A killed process lasts until the processor comes to it. Whoever is sent to one by then is told to ask again.
        end = time.monotonic() + 15
        while not all(map(_over, killed)) and time.monotonic() < end:
            time.sleep(0.02)
        job = {"wempa": 1, "cardstock": {"colour": {"hex": "#ffffff"}}, "inks": {}, "stack": []}
        answers = [service.ask("POST", "/api/predict", job)[0] for _ in range(3)]
        assert set(answers) <= {200, 503}
        assert answers[-1] == 200
        assert service.ask("GET", "/api/panels/1/export.png")[0] == 200
        assert workers(service) == []


def _over(pid: int) -> bool:
    """Whether it has ended and only its name is left, for whoever asks."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True
