"""Middleware that sends heavy requests through their lane, to a worker where there are any."""

from __future__ import annotations

import asyncio
import logging
import threading
from collections.abc import Sequence
from contextlib import suppress

from starlette.responses import JSONResponse
from starlette.routing import Route
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wempa.api.replies import OURS
from wempa.optics.parallel import Stopped, stoppable

from .lanes import WAITING, Busy, HeavyWork, Lane
from .pool import NoWorker, Pool, WorkerDied, places_of

_LOG = logging.getLogger("uvicorn.error")
SLOW_SECONDS = 30.0
"""Seconds within which a client has to take the next piece of an answer."""
# A longer body is not read until the request has its place.
_SHORT = 100_000
_BUSY = "Wempa has more to do than it can at the moment; try it again in a few seconds"
_DIED = "this took more memory than there is, or was ended from outside; what is stored is as it was"


class Turns:
    """ASGI middleware: heavy routes in turns, and stopped as soon as whoever asked hangs up.

    `routes` are those of the application in their order, all below `prefix`. With
    a pool a worker answers; without one the application does, in this process.
    """

    def __init__(self, app: ASGIApp, routes: Sequence[Route], prefix: str, pool: Pool | None) -> None:
        self.app = app
        self._routes, self._prefix = routes, prefix
        self._pool = pool
        self._lanes = {way: Lane(places_of(way), WAITING[way]) for way in HeavyWork}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        way = self._way(scope)
        if way is None:
            await self.app(scope, receive, send)
            return
        taken = _Taken(receive)
        if _length(scope) <= _SHORT:
            await taken.all()
        try:
            if not await self._in_turn(way, scope, taken, send):
                await JSONResponse({"error": OURS, "place": None}, 500)(scope, receive, send)
        except Busy:
            await JSONResponse({"error": _BUSY, "place": None}, 503, {"retry-after": "3"})(scope, receive, send)

    def _way(self, scope: Scope) -> HeavyWork | None:
        if scope["type"] != "http" or not scope["path"].startswith(self._prefix):
            return None
        path = scope["path"]
        for route in self._routes:
            if scope["method"] in (route.methods or ()) and route.path_regex.match(path):
                way: HeavyWork | None = getattr(route.endpoint, "wempa_way", None)
                # A long list of jobs is looked at by nobody while it is worked out.
                return HeavyWork.SEARCH if way is HeavyWork.QUICK and _length(scope) > _SHORT else way
        return None

    async def _in_turn(self, way: HeavyWork, scope: Scope, taken: _Taken, send: Send) -> bool:
        """Give true if it was answered, or if nobody waits for the answer; raises `Busy`."""
        gone = asyncio.Event()
        stop = threading.Event()
        mine = asyncio.current_task()
        assert mine is not None
        waits = True

        async def watch() -> None:
            await taken.hung_up()
            stop.set()
            gone.set()
            if waits:
                mine.cancel()

        # While the body is still coming, a client that hangs up is noticed by reading.
        watching = asyncio.create_task(watch()) if taken.whole else None
        try:
            async with self._lanes[way].turn():
                waits = False
                body = await taken.all()
                if watching is None:
                    watching = asyncio.create_task(watch())
                if self._pool is not None:
                    try:
                        return await self._by_worker(self._pool, way, scope, body, _hasty(send, gone), gone)
                    except NoWorker:
                        _LOG.warning("there is no worker for %s: it is done here", scope["path"])
                with stoppable(stop.is_set):
                    await self.app(scope, taken.again(gone), send)
                return True
        except asyncio.CancelledError:
            if waits and gone.is_set():
                return True
            raise
        except Stopped:
            return True
        except Exception:
            # Once an answer has begun, being stopped shows as another error.
            if stop.is_set():
                return True
            raise
        finally:
            if watching is not None:
                watching.cancel()

    @staticmethod
    async def _by_worker(
        pool: Pool, way: HeavyWork, scope: Scope, body: bytes, send: Send, gone: asyncio.Event
    ) -> bool:
        begun = False

        async def noted(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            async with pool.worker(way) as worker:
                return await worker.answer(scope, body, noted, gone)
        except WorkerDied:
            if gone.is_set():
                return True
            if begun:
                raise
            await JSONResponse({"error": _DIED, "place": None}, 503)(scope, _nothing, send)
            return True


class _Taken:
    """The body of a request as it is taken in, and its end."""

    def __init__(self, receive: Receive) -> None:
        self._receive = receive
        self._pieces: list[bytes] = []
        self.whole = False

    async def all(self) -> bytes:
        """All of the body; raises `Stopped` if whoever sent it hung up on the way."""
        while not self.whole:
            message = await self._receive()
            if message["type"] == "http.disconnect":
                raise Stopped
            self._pieces.append(message.get("body", b""))
            self.whole = not message.get("more_body", False)
        return b"".join(self._pieces)

    async def hung_up(self) -> None:
        """Return once the client has gone."""
        while (await self._receive())["type"] != "http.disconnect":
            pass

    def again(self, gone: asyncio.Event) -> Receive:
        """A receive channel that gives the body once more."""
        given = False

        async def receive() -> Message:
            nonlocal given
            if not given:
                given = True
                return {"type": "http.request", "body": b"".join(self._pieces), "more_body": False}
            await gone.wait()
            return {"type": "http.disconnect"}

        return receive


def _hasty(send: Send, gone: asyncio.Event) -> Send:
    """A send channel that gives up on a client that does not take the answer: others wait for its place."""

    async def sent(message: Message) -> None:
        try:
            async with asyncio.timeout(SLOW_SECONDS):
                await send(message)
        except OSError:
            # Either the time ran out (`TimeoutError` is an `OSError`), or the client hung up.
            gone.set()

    return sent


async def _nothing() -> Message:
    return {"type": "http.disconnect"}


def _length(scope: Scope) -> int:
    """Bytes that the body will have by its header; a very large number where the header says nothing."""
    found = dict(scope["headers"])
    if b"transfer-encoding" in found:
        return 1 << 40
    with suppress(ValueError):
        return int(found.get(b"content-length", b"0"))
    return 1 << 40
