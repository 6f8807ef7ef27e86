"""Small records that are made many times in every prediction."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import TypeVar, dataclass_transform

_Kind = TypeVar("_Kind")


@dataclass_transform(frozen_default=True, eq_default=False)
def record(kind: type[_Kind]) -> type[_Kind]:
    """A dataclass with slots that nobody changes, as the type checker sees to.

    At run time nothing keeps anybody from it: a frozen dataclass takes five times as long to
    make, and a prediction makes some forty.
    """
    return dataclass(slots=True, eq=False)(kind)


class HashedOnce:
    """For frozen dataclasses with slots that are keys of caches: the hash is worked out when it is first asked for.

    They say ``__hash__ = HashedOnce.__hash__``, or `dataclass` would make them one of its own.
    It does not travel with a pickle, for texts hash otherwise in another process.
    """

    __slots__ = ("_hashed",)
    _hashed: int

    def __hash__(self) -> int:
        """Hash of all fields that count for equality."""
        try:
            return self._hashed
        except AttributeError:
            own = tuple([getattr(self, each.name) for each in fields(self) if each.compare])  # type: ignore[arg-type]
            object.__setattr__(self, "_hashed", hash(own))
            return self._hashed
