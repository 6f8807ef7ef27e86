"""Loops of their own: a browser that another test holds open keeps one running in this thread."""

from __future__ import annotations

import asyncio
from collections.abc import Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

T = TypeVar("T")


def looped(work: Coroutine[Any, Any, T], seconds: float = 20) -> T:
    """What the work gives, in a loop of its own and within so many seconds; raises what it raises."""

    async def within() -> T:
        return await asyncio.wait_for(work, seconds)

    with ThreadPoolExecutor(1) as thread:
        return thread.submit(lambda: asyncio.run(within())).result()
