"""Where somebody draws the line: from which mud on they call a colour mud, from which step on they see a line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

FEWEST = 5
"""How many verdicts, of both kinds together, it takes before a line is offered."""


@dataclass(frozen=True, slots=True)
class OwnLine:
    """Somebody's own line."""

    at: float
    doubt: float
    """Standard deviation."""
    count: int
    """How many verdicts it rests on."""


def own_line(
    values: Sequence[float], beyond: Sequence[bool], usual: float, doubt: float, blur: float, low: float, high: float
) -> OwnLine | None:
    """The line that splits verdicts best, from a sensible start; None with too few or only one kind.

    The chance that somebody finds a value beyond grows with it (a logistic curve as wide as
    `blur`, the same for all: it never falls), and the line is normal around `usual` with
    `doubt` beforehand. Its mean and standard deviation afterwards, on a grid from `low` to `high`.
    One verdict in twenty may be a slip.
    """
    if len(values) < FEWEST or len(set(beyond)) < 2:
        return None
    grid = np.linspace(low, high, 401)
    chance = 1 / (1 + np.exp(-np.clip((np.array(values)[:, None] - grid) / blur, -30, 30)))
    chance = 0.025 + 0.95 * chance
    told = np.where(np.array(beyond)[:, None], np.log(chance), np.log(1 - chance)).sum(axis=0)
    weight = told - 0.5 * ((grid - usual) / doubt) ** 2
    weight = np.exp(weight - weight.max())
    weight /= weight.sum()
    mean = float(weight @ grid)
    return OwnLine(mean, float(np.sqrt(weight @ (grid - mean) ** 2)), len(values))
