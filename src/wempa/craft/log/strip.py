"""The hand in one strip: one ink laid once, twice, four and eight times, photographed beside bare card."""

from __future__ import annotations

from collections.abc import Mapping

from wempa.craft.job import Entry, LayDown
from wempa.craft.vocabulary import Formula, Load, Tool, Treatment
from wempa.craft.ways import first_touch

STRIP_PASSES = (1, 2, 4, 8)
"""Passes of a tool that is worked to and fro."""


def strip_stacks(
    key: str, formula: Formula, tool: Tool, load: Load, water: bool, table: Mapping[str, float]
) -> list[tuple[str, tuple[Entry, ...]]]:
    """What is laid for a strip, each with what it is called.

    A stamp or pad is printed once, a dip dipped once and twice. With `water` the ink is built
    up and water dropped on it: the second square is the drop, the first the ink beside it.
    """
    if water:
        lay = first_touch(key, formula, load, table)
        return [("before the water", (lay,)), ("water drops", (lay, Treatment.SPRITZ))]
    counts = STRIP_PASSES if tool.swept else (1, 2) if tool.row.patch < 1 else (1,)
    found: list[tuple[str, tuple[Entry, ...]]] = []
    for count in counts:
        lay = LayDown(((key, 1.0),), tool=tool, load=load, passes=float(count))
        units = ("pass", "passes") if tool.swept else ("time", "times")
        found.append((f"{tool.said}, {count} {units[count > 1]}", (lay,)))
    return found
