"""Chunks of a large batch on all cores: NumPy computes without the interpreter's lock."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=min(4, os.cpu_count() or 1), thread_name_prefix="wempa-chunks")


def in_chunks(work: Callable[[slice], None], count: int, size: int) -> None:
    """Call `work` with slices of at most `size` that cover `count` rows.

    The first is done before the others start, so that what it caches is there for
    them. `work` must not call `in_chunks` itself.
    """
    slices = [slice(start, start + size) for start in range(0, count, size)]
    for rows in slices[:1]:
        work(rows)
    if len(slices) > 1:
        list(_pool().map(work, slices[1:]))
