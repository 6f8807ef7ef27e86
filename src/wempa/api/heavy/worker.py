"""A process that does heavy work for the service: it answers one request at a time from the same workspace."""

from __future__ import annotations

import asyncio
import ctypes
import json
import logging
import os
import signal
import socket
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from starlette.types import ASGIApp, Message
from threadpoolctl import threadpool_limits

from wempa.api.garbage import look_less
from wempa.optics.parallel import stoppable

from .frames import HEAD, packed

# glibc's number for how many pools of memory a process has (mallopt, M_ARENA_MAX).
_ARENAS = -8
_LOG = logging.getLogger("uvicorn.error")


MakeApp = Callable[[Path], ASGIApp]
"""Makes the application that answers from a workspace file."""


def work(end: socket.socket, workspace: Path, niceness: int, make: MakeApp) -> None:
    """Answer what comes over a socket until its other end is closed. Run in a process of its own."""
    # Ctrl-C is for the service alone; a worker ends when its socket closes.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    # The event loop and the screen go before this process when the cores are busy.
    os.nice(niceness)
    # Otherwise the system's allocator keeps for each thread the memory that it once needed.
    if (option := getattr(ctypes.CDLL(None), "mallopt", None)) is not None:
        option(_ARENAS, 2)
    with threadpool_limits(1):
        app = make(workspace)
        look_less()
        asyncio.run(_answer_all(end, app))


async def _answer_all(end: socket.socket, app: ASGIApp) -> None:
    reader, writer = await asyncio.open_connection(sock=end)
    going: set[asyncio.Task[None]] = set()
    stop = threading.Event()
    ended = asyncio.Event()
    question: dict[str, Any] = {}
    try:
        while True:
            kind, size = HEAD.unpack(await reader.readexactly(HEAD.size))
            data = await reader.readexactly(size)
            if kind == b"Q":
                question = json.loads(data)
            elif kind == b"B":
                stop, ended = threading.Event(), asyncio.Event()
                task = asyncio.create_task(_answer(app, question, data, writer, stop, ended))
                going.add(task)
                task.add_done_callback(going.discard)
            elif kind == b"S":
                stop.set()
                ended.set()
    except (asyncio.IncompleteReadError, ConnectionError):
        # The service has gone. Whoever opens the file next rolls back what was being stored.
        os._exit(0)


async def _answer(
    app: ASGIApp,
    question: dict[str, Any],
    body: bytes,
    writer: asyncio.StreamWriter,
    stop: threading.Event,
    ended: asyncio.Event,
) -> None:
    scope = {
        **question,
        "raw_path": question["raw_path"].encode("latin-1"),
        "query_string": question["query_string"].encode("latin-1"),
        "headers": [(name.encode("latin-1"), value.encode("latin-1")) for name, value in question["headers"]],
        "server": tuple(question["server"] or ("", None)),
        "client": tuple(question["client"] or ("", 0)),
    }
    given = False

    async def receive() -> Message:
        nonlocal given
        if not given:
            given = True
            return {"type": "http.request", "body": body, "more_body": False}
        await ended.wait()
        return {"type": "http.disconnect"}

    begun = False

    async def send(message: Message) -> None:
        nonlocal begun
        if message["type"] == "http.response.start":
            begun = True
            heads = [(name.decode("latin-1"), value.decode("latin-1")) for name, value in message["headers"]]
            writer.write(packed(b"H", {"status": message["status"], "headers": heads}))
        elif data := message.get("body", b""):
            writer.write(packed(b"P", data))
        await writer.drain()

    failed = False
    try:
        with stoppable(stop.is_set):
            await app(scope, receive, send)
    except Exception:
        # Nobody waits for this answer any more, however the work ended.
        if not stop.is_set():
            _LOG.exception("%s %s", scope["method"], scope["path"])
        failed = True
    ended.set()
    _give_back()
    writer.write(packed(b"E", {"begun": begun, "failed": failed, "megabytes": _resident()}))
    await writer.drain()


def _give_back() -> None:
    """Give memory that is not in use back to the system; its allocator would keep it."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)


def _resident() -> float:
    """Megabytes of memory that this process holds; 0 where the system does not tell."""
    try:
        pages = int(Path("/proc/self/statm").read_text().split()[1])
    except (OSError, ValueError, IndexError):
        return 0.0
    return pages * os.sysconf("SC_PAGE_SIZE") / 1e6
