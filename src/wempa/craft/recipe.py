"""A stack in a cardmaker's words, a line for each entry."""

from __future__ import annotations

from collections.abc import Mapping

from .job import Entry, Ink, Job, LayDown
from .vocabulary import Over


def ink_names(entry: LayDown, inks: Mapping[str, Ink]) -> str:
    """The inks of a lay-down; of a premix with their shares."""
    if not entry.premix:
        key = entry.parts[0][0]
        return inks[key].name or key
    return " with ".join(f"{round(100 * share)} % {inks[key].name or key}" for key, share in entry.parts)


def entry_line(entry: Entry, inks: Mapping[str, Ink]) -> str:
    """One entry as an instruction."""
    if not isinstance(entry, LayDown):
        return entry.row.line
    if entry.dose is not None or entry.tool is None:
        how = f"dose {entry.dose or 0:g}"
    else:
        count = "1 pass" if entry.passes == 1 else f"{entry.passes:g} passes"
        load = "" if entry.load == "normal" else f"{entry.load} load, "
        how = f"{entry.tool.said}, {load}{count}"
    water = f", {round(100 * entry.dilution)} % water" if entry.dilution else ""
    wet = ", into the wet" if entry.over is Over.WET else ""
    return f"{ink_names(entry, inks)}: {how}{water}{wet}."


def recipe(job: Job) -> list[str]:
    """The stack as instructions, bottom first."""
    inks = dict(job.inks)
    return [entry_line(entry, inks) for entry in job.stack]
