"""How much the same hand differs from one time to the next, and how much of that shows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot, log, sqrt

from wempa.craft.job import Entry, LayDown

from .amounts import Ground, hand_doubt
from .prepared import PreparedInk
from .rows import Resolved
from .settling import settle

# How much more of an ink is offered to see how much of it stays.
_MORE = 1.1


def hand_doubts(
    found: Resolved,
    stack: Sequence[Entry],
    inks: Mapping[int, PreparedInk],
    ground: Ground,
    table: Mapping[str, float],
) -> dict[int, float]:
    """Standard deviation of ln dose of each ink of a stack, by its row in `inks`, by the hand that lays it.

    What a tool offers differs by its passes, its load and how evenly the pad gives, a
    stated dose as two goes of one hand do. Where card or film is full, more or less of an
    ink hardly counts.
    """
    laid, usual = found.laid, log(table["margin.hand"])
    doses = [part.dose for part in found.dry.parts]
    doubts = {}
    for ink in found.inks:
        own = [k for k, one in enumerate(laid) if one.ink == ink]
        total = sum(doses[k] for k in own)
        if not total:
            continue
        squares, prepared = 0.0, inks[ink]
        for k in own:
            entry, even = stack[laid[k].entry], usual * prepared.hand
            if isinstance(entry, LayDown) and entry.tool is not None and entry.dose is None:
                words = (entry.tool, entry.load, entry.passes)
                hand = hand_doubt(*words, ground, prepared.habit, table)
                even = hypot(even, hand * prepared.hand * table["margin.words"])
            squares += (even * doses[k] / total) ** 2
        lets = _lets(ink, total, found, ground, table) if found.settled.full else 1.0
        doubts[ink] = sqrt(squares) * lets
    return doubts


def _lets(ink: int, now: float, found: Resolved, ground: Ground, table: Mapping[str, float]) -> float:
    """By how much more of an ink stays when more of it is offered, as a ratio of logarithms."""
    more = [one.offering(_MORE) if one.ink == ink else one for one in found.laid]
    then = sum([part.dose for part in settle(more, ground, table, found.factors).parts if part.ink == ink])
    return log(max(then / now, 1.0)) / log(_MORE)
