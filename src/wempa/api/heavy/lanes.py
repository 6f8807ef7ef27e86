"""Turns for heavy work: a few requests at a time, in the order of asking. A request that waits holds no thread."""

from __future__ import annotations

import asyncio
import threading
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from enum import StrEnum
from typing import Any, TypeVar

Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])


class HeavyWork(StrEnum):
    """The kinds of heavy work. A request waits only for others of its own kind."""

    QUICK = "quick"
    """Drawn while somebody looks: predictions, charts, pictures for the screen."""
    SEARCH = "search"
    """Searches through thousands of stacks or orders: matches, what can be made, learning, evenings."""
    FILES = "files"
    """Needs much memory: photos, pictures of 300 dots to the inch, pages, whole workspaces."""


WAITING = {HeavyWork.QUICK: 80, HeavyWork.SEARCH: 40, HeavyWork.FILES: 40}
"""How many requests may wait. One more is refused at once, because it would wait too long."""


def heavy(way: HeavyWork) -> Callable[[Endpoint], Endpoint]:
    """Mark the endpoint of a route as heavy work."""

    def marked(endpoint: Endpoint) -> Endpoint:
        endpoint.wempa_way = way  # type: ignore[attr-defined]
        return endpoint

    return marked


class Busy(Exception):
    """Too many requests wait already."""


class Lane:
    """Work of one kind: `places` at a time, at most `most` waiting. Serves several event loops."""

    def __init__(self, places: int, most: int) -> None:
        self._lock = threading.Lock()
        self._free = places
        self._most = most
        self._waiting: deque[tuple[asyncio.AbstractEventLoop, asyncio.Future[None]]] = deque()

    @asynccontextmanager
    async def turn(self) -> AsyncIterator[None]:
        """Wait for a place and hold it; raises `Busy` where too many wait already."""
        await self._enter()
        try:
            yield
        finally:
            self._leave()

    async def _enter(self) -> None:
        loop = asyncio.get_running_loop()
        with self._lock:
            if self._free:
                self._free -= 1
                return
            if len(self._waiting) >= self._most:
                raise Busy
            future: asyncio.Future[None] = loop.create_future()
            self._waiting.append((loop, future))
        try:
            await future
        except asyncio.CancelledError:
            with self._lock:
                given = (loop, future) not in self._waiting
                if not given:
                    self._waiting.remove((loop, future))
            if given and not future.cancelled():
                # The request was given its place just as it was cancelled, so it passes the place on.
                self._leave()
            raise

    def _leave(self) -> None:
        with self._lock:
            if not self._waiting:
                self._free += 1
                return
            loop, future = self._waiting.popleft()
        try:
            loop.call_soon_threadsafe(self._give, future)
        except RuntimeError:
            # The event loop of the waiting request has ended, and the request with it.
            self._leave()

    def _give(self, future: asyncio.Future[None]) -> None:
        if future.done():
            self._leave()
        else:
            future.set_result(None)
