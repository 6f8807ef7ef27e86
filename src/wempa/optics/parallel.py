"""Chunks of a large batch on all cores: NumPy computes without the interpreter's lock. Long work can be stopped."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache

_stop: ContextVar[Callable[[], bool] | None] = ContextVar("stop", default=None)


class Stopped(Exception):
    """Nobody wants the result any more."""


@contextmanager
def stoppable(stop: Callable[[], bool]) -> Iterator[None]:
    """What is computed within, in this context, ends with `Stopped` soon after `stop` says so."""
    token = _stop.set(stop)
    try:
        yield
    finally:
        _stop.reset(token)


def go_on() -> None:
    """Raise `Stopped` if whoever asked no longer waits; long loops ask it now and then."""
    stop = _stop.get()
    if stop is not None and stop():
        raise Stopped


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=min(4, os.cpu_count() or 1), thread_name_prefix="wempa-chunks")


def in_chunks(work: Callable[[slice], None], count: int, size: int) -> None:
    """Call `work` with slices of at most `size` that cover `count` rows.

    The first is done before the others start, so that what it caches is there for
    them. `work` must not call `in_chunks` itself. Raises `Stopped` as `go_on` does.
    """
    slices = [slice(start, start + size) for start in range(0, count, size)]
    stop = _stop.get()

    def unless_stopped(rows: slice) -> None:
        # The threads of the pool do not share the context of whoever asked.
        if stop is not None and stop():
            raise Stopped
        work(rows)

    for rows in slices[:1]:
        unless_stopped(rows)
    if len(slices) > 1:
        list(_pool().map(unless_stopped, slices[1:]))
