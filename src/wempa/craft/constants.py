"""The one table of craft constants, by name, and overrides of it.

A job overrides rows by name; an ink or a card overrides the rows of its own formula or
surface by the last part of the name. The rows themselves stand in `wempa.craft.table_rows`.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from .errors import ConstantError, quoted
from .formula_rows import BY_FORMULA, Constant
from .table_rows import SURFACE_ROWS, all_rows

TABLE: Mapping[str, Constant] = MappingProxyType({row.name: row for row in all_rows()})

Overrides = tuple[tuple[str, float], ...]
"""Overrides by name, sorted, so that they can key a cache."""


def check_override(name: str, value: float) -> None:
    """Raise `ConstantError` unless the table has the row and the value is in its range."""
    row = TABLE.get(name)
    if row is None:
        raise ConstantError(f"there is no constant {quoted(name)} in the craft table")
    if not row.low <= value <= row.high:
        raise ConstantError(f"{name} must lie between {row.low:g} and {row.high:g} ({row.unit}), not {value:g}")


# Learning tries thousands of tables, so many are kept.
@lru_cache(512)
def values(overrides: Overrides) -> Mapping[str, float]:
    """All values by name, with the overrides applied.

    Raises
    ------
    ConstantError
        An override names no row or is outside the row's range.
    """
    for name, value in overrides:
        check_override(name, value)
    return _Values({name: row.value for name, row in TABLE.items()} | dict(overrides))


class _Values(dict[str, float]):
    """Values of the table. Two tables with the same overrides are the same object, so results that depend on a
    whole table can be kept by it.
    """

    __slots__ = ()
    __hash__ = object.__hash__  # type: ignore[assignment]
    __eq__ = object.__eq__


AS_SHIPPED = values(())
"""The table before anybody learned or said anything: where learning begins, and what stands without a workspace."""

FORMULA_COLUMNS = tuple(column for column, *_ in BY_FORMULA)
SURFACE_COLUMNS = tuple(column for column, *_ in SURFACE_ROWS)
