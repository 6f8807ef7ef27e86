"""Answers that are kept for the next question: the one kind of cache of the service."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from threading import Lock
from typing import Generic, TypeVar, cast

from cachetools import LRUCache

Value = TypeVar("Value")
_NOTHING = object()


class Kept(Generic[Value]):
    """The last few things made, each for as long as its mark stays the same.

    A mark is whatever the thing was made from besides its key: a shelf, which is another object
    once anything in the stash has changed, or a revision. Safe to share between threads; two that
    ask at once for what is not there may both make it.
    """

    def __init__(self, most: int) -> None:
        self._lock = Lock()
        self._things: LRUCache[Hashable, tuple[object, Value]] = LRUCache(most)

    def get(self, key: Hashable, mark: object, make: Callable[[], Value]) -> Value:
        """What is kept under a key and was made from the mark; made now if there is none."""
        with self._lock:
            known = self._things.get(key)
        if known is not None and _same(known[0], mark):
            return known[1]
        made = make()
        with self._lock:
            self._things[key] = mark, made
        return made

    def get_all(
        self, wanted: Sequence[tuple[Hashable, object]], make: Callable[[list[int]], Sequence[Value]]
    ) -> list[Value]:
        """What is kept under each key and was made from its mark; the rest is made together.

        `make` is given the places in `wanted` of what there is not, and gives it in that order.
        """
        with self._lock:
            known = [self._things.get(key) for key, _ in wanted]
        found = [
            there[1] if there is not None and _same(there[0], mark) else _NOTHING
            for there, (_, mark) in zip(known, wanted, strict=True)
        ]
        places = [k for k, each in enumerate(found) if each is _NOTHING]
        made = make(places) if places else ()
        with self._lock:
            for k, value in zip(places, made, strict=True):
                key, mark = wanted[k]
                self._things[key], found[k] = (mark, value), value
        return cast("list[Value]", found)

    def forget(self) -> None:
        """Let go of everything."""
        with self._lock:
            self._things.clear()


def _same(one: object, other: object) -> bool:
    if isinstance(one, tuple) and isinstance(other, tuple):
        return len(one) == len(other) and all(_same(a, b) for a, b in zip(one, other, strict=True))
    # A shelf is compared by which one it is; numbers and texts by what they are.
    return one is other or (isinstance(one, int | str) and one == other)
