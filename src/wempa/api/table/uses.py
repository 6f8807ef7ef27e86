"""How often pads and tools were used at the table, from the runs that are over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime

from wempa.api import held
from wempa.formats.table.items import RunItem
from wempa.store import Workspace


@dataclass(frozen=True, slots=True)
class ToolsUsed:
    """Loads by day of the pads of inks, by number, and of tools, by name."""

    pads: dict[int, list[tuple[date, int]]]
    tools: dict[str, list[tuple[date, int]]]

    def of_pad(self, ink_id: int, since: date | None) -> int:
        """Loads taken from a pad since a day."""
        return _since(self.pads.get(ink_id, []), since)

    def of_tool(self, name: str, since: date | None) -> int:
        """Loads that a tool took since a day."""
        return _since(self.tools.get(name, []), since)


def uses_of(workspace: Workspace) -> ToolsUsed:
    """What the stored runs tell of pads and tools; those that cannot be read tell nothing."""
    found = ToolsUsed({}, {})
    for stored in held.read_all(workspace, RunItem):
        run = stored.item
        day = datetime.fromtimestamp(run.began, UTC).date()
        for pad in run.pads:
            if pad.ink_id is not None:
                found.pads.setdefault(pad.ink_id, []).append((day, pad.loads))
        for tool in run.tools:
            found.tools.setdefault(tool.called, []).append((day, tool.loads))
    return found


def _since(uses: Sequence[tuple[date, int]], since: date | None) -> int:
    return sum(loads for day, loads in uses if since is None or day >= since)
