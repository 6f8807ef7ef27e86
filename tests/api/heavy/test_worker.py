"""One worker and its socket: what becomes of an answer when the application fails, or the process ends."""

from __future__ import annotations

import asyncio
import os
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from starlette.types import Message

from tests.loops import looped
from tests.pace import slowness
from wempa.api.heavy.pool import Worker, WorkerDied

# What the worker answers with: `/whole` all of it, `/half` fails after the first piece, `/none` before it,
# `/end` ends the process in the middle.
APPLICATION = """
import os, socket, sys
from pathlib import Path
from wempa.api.heavy.worker import work

async def app(scope, receive, send):
    asked = scope["path"]
    if asked == "/none":
        raise RuntimeError("before")
    await send({"type": "http.response.start", "status": 200, "headers": [(b"content-type", b"text/plain")]})
    await send({"type": "http.response.body", "body": b"one", "more_body": True})
    if asked == "/half":
        raise RuntimeError("after a piece")
    if asked == "/end":
        os._exit(1)
    await send({"type": "http.response.body", "body": b"two", "more_body": False})

work(socket.socket(fileno=int(sys.argv[1])), Path("nowhere"), 0, lambda path: app)
"""


@contextmanager
def process() -> Iterator[tuple[int, socket.socket]]:
    here, there = socket.socketpair()
    made = subprocess.Popen([sys.executable, "-c", APPLICATION, str(there.fileno())], pass_fds=[there.fileno()])
    there.close()
    try:
        yield made.pid, here
    finally:
        os.kill(made.pid, signal.SIGKILL)
        made.wait()


def asked(*paths: str) -> list[tuple[list[Message], bool | str]]:
    """What was sent for each path, and how its answer ended; one worker for all."""

    async def work(pid: int, end: socket.socket) -> list[tuple[list[Message], bool | str]]:
        worker = Worker(pid, *await asyncio.open_connection(sock=end))
        found: list[tuple[list[Message], bool | str]] = []
        for path in paths:
            sent: list[Message] = []

            async def send(message: Message, sent: list[Message] = sent) -> None:
                sent.append(message)

            scope: dict[str, Any] = {
                "type": "http", "http_version": "1.1", "method": "GET", "scheme": "http", "path": path,
                "raw_path": path.encode(), "query_string": b"", "root_path": "", "headers": [],
                "server": ("127.0.0.1", 1), "client": ("127.0.0.1", 2),
            }  # fmt: skip
            try:
                found.append((sent, await worker.answer(scope, b"", send, asyncio.Event())))
            except WorkerDied:
                found.append((sent, "died"))
            assert worker.sound is (path != "/end")
        worker.end()
        await asyncio.sleep(0)
        return found

    with process() as (pid, end):
        return looped(work(pid, end), 30 * slowness())


def pieces(sent: list[Message]) -> list[tuple[bytes, bool]]:
    return [(each["body"], each["more_body"]) for each in sent if each["type"] == "http.response.body"]


def test_half_an_answer_never_looks_whole() -> None:
    (whole, told), (half, broken), (again, after) = asked("/whole", "/half", "/whole")
    assert told is True
    assert whole[0] == {"type": "http.response.start", "status": 200, "headers": [(b"content-type", b"text/plain")]}
    assert pieces(whole) == [(b"one", True), (b"two", True), (b"", False)]
    assert broken == "died"
    assert pieces(half) == [(b"one", True)]
    # The process itself is well, and answers the next.
    assert (again, after) == (whole, True)


def test_what_fails_before_it_says_anything_is_left_to_the_service() -> None:
    assert asked("/none", "/whole")[0] == ([], False)


def test_a_process_that_ends_in_the_middle_is_told() -> None:
    ((sent, how),) = asked("/end")
    assert how == "died"
    assert pieces(sent) in ([(b"one", True)], [])
