"""The workers of a service, by the kind of work: started with it, replaced when they die or grow too large."""

from __future__ import annotations

import asyncio
import json
import logging
import os
import signal
import socket
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import Any

from starlette.types import Scope, Send

from .frames import HEAD, packed
from .lanes import HeavyWork
from .nursery import Nursery

_LOG = logging.getLogger("uvicorn.error")
_GROWN = 230.0
"""Megabytes after which a worker is replaced by a fresh one."""
_STOPS = 20.0
"""Seconds that a worker has to stop when it is told to; after them it is killed."""
_NICE = {HeavyWork.QUICK: 3, HeavyWork.SEARCH: 9, HeavyWork.FILES: 9}


def places_of(way: HeavyWork) -> int:
    """How much heavy work of a kind is done at a time: more than one only where there are cores for it."""
    return 2 if way is HeavyWork.QUICK and (os.cpu_count() or 1) >= 4 else 1


class WorkerDied(Exception):
    """The worker process that was answering has ended."""


class NoWorker(Exception):
    """No worker process can be made."""


class Worker:
    """One worker process and the socket to it; it answers one question at a time."""

    def __init__(self, pid: int, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self._pid, self._reader, self._writer = pid, reader, writer
        self.megabytes = 0.0
        self.sound = True

    @classmethod
    async def start(cls, nursery: Nursery, workspace: Path, way: HeavyWork) -> Worker:
        """A new process; raises `NoWorker`."""
        here, there = socket.socketpair()
        try:
            pid = await asyncio.to_thread(nursery.worker, there, workspace, _NICE[way])
        except OSError as error:
            here.close()
            raise NoWorker from error
        finally:
            there.close()
        return cls(pid, *await asyncio.open_connection(sock=here))

    @property
    def alive(self) -> bool:
        """Whether its end of the socket is open."""
        return not self._reader.at_eof()

    async def answer(self, scope: Scope, body: bytes, send: Send, gone: asyncio.Event) -> bool:
        """Answer a request, or stop when `gone`; False where the application failed before it said anything.

        Raises
        ------
        WorkerDied
            The process ended before the answer did.
        """
        self.sound = False
        telling = asyncio.create_task(self._tell_when(gone))
        try:
            self._writer.write(packed(b"Q", _question(scope)))
            self._writer.write(packed(b"B", body))
            await self._writer.drain()
            while True:
                kind, size = HEAD.unpack(await self._reader.readexactly(HEAD.size))
                data = await self._reader.readexactly(size)
                if kind == b"E":
                    end = json.loads(data)
                    self.megabytes, self.sound = end["megabytes"], True
                    if end["begun"] and end["failed"] and not gone.is_set():
                        # The client must not take half an answer for a whole one.
                        raise WorkerDied
                    if end["begun"] and not gone.is_set():
                        await send({"type": "http.response.body", "body": b"", "more_body": False})
                    return bool(end["begun"] or gone.is_set())
                if gone.is_set():
                    continue
                if kind == b"H":
                    head = json.loads(data)
                    heads = [(name.encode("latin-1"), value.encode("latin-1")) for name, value in head["headers"]]
                    await send({"type": "http.response.start", "status": head["status"], "headers": heads})
                else:
                    await send({"type": "http.response.body", "body": data, "more_body": True})
        except (asyncio.IncompleteReadError, ConnectionError) as error:
            raise WorkerDied from error
        finally:
            telling.cancel()

    async def _tell_when(self, gone: asyncio.Event) -> None:
        await gone.wait()
        with suppress(ConnectionError):
            self._writer.write(packed(b"S"))
            await self._writer.drain()
        await asyncio.sleep(_STOPS)
        self._kill()

    def end(self) -> None:
        """Close the socket; the worker ends when it notices."""
        self._writer.close()
        if not self.sound:
            self._kill()

    def _kill(self) -> None:
        with suppress(ProcessLookupError):
            os.kill(self._pid, signal.SIGKILL)


class Pool:
    """The workers of one service."""

    def __init__(self, nursery: Nursery, workspace: Path) -> None:
        self._nursery, self._workspace = nursery, workspace
        self._idle: dict[HeavyWork, list[Worker]] = {way: [] for way in HeavyWork}
        self._starting: set[asyncio.Task[None]] = set()
        self._closed = False

    def open(self) -> None:
        """Start one worker of each kind, while the service answers already."""
        for way in HeavyWork:
            self._prepare(way)

    def _prepare(self, way: HeavyWork) -> None:
        async def prepared() -> None:
            try:
                worker = await Worker.start(self._nursery, self._workspace, way)
            except NoWorker as error:
                _LOG.warning("a worker could not be started: %s", error.__cause__)
                return
            if self._closed:
                worker.end()
            else:
                self._idle[way].append(worker)

        task = asyncio.create_task(prepared())
        self._starting.add(task)
        task.add_done_callback(self._starting.discard)

    @asynccontextmanager
    async def worker(self, way: HeavyWork) -> AsyncIterator[Worker]:
        """A worker that has nothing to do at the moment; raises `NoWorker`."""
        worker = None
        while worker is None:
            if self._idle[way]:
                found = self._idle[way].pop()
                worker = found if found.alive else None
            elif self._starting:
                await asyncio.wait(set(self._starting))
            else:
                worker = await Worker.start(self._nursery, self._workspace, way)
        try:
            yield worker
        finally:
            if worker.sound and worker.megabytes < _GROWN and not self._closed:
                self._idle[way].append(worker)
            else:
                worker.end()
                if not self._closed:
                    self._prepare(way)

    async def close(self) -> None:
        """End all of them."""
        self._closed = True
        for task in set(self._starting):
            task.cancel()
        await asyncio.gather(*self._starting, return_exceptions=True)
        for workers in self._idle.values():
            for worker in workers:
                worker.end()
            workers.clear()


def _question(scope: Scope) -> dict[str, Any]:
    return {
        "type": "http",
        "asgi": {"version": "3.0", "spec_version": "2.3"},
        "http_version": scope.get("http_version", "1.1"),
        "method": scope["method"],
        "scheme": scope.get("scheme", "http"),
        "path": scope["path"],
        "raw_path": scope.get("raw_path", b"").decode("latin-1"),
        "root_path": "",
        "query_string": scope["query_string"].decode("latin-1"),
        "headers": [(name.decode("latin-1"), value.decode("latin-1")) for name, value in scope["headers"]],
        "server": scope.get("server"),
        "client": scope.get("client"),
        "state": {key: value for key, value in scope.get("state", {}).items() if isinstance(value, str)},
    }
