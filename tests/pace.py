"""How slow this machine is just now: limits of time hold for the one that figures are measured on."""

from __future__ import annotations

import time

# Seconds of the same work on a quiet machine of the kind that the figures of docs/quality.md come from.
_USUAL = 0.075


def slowness() -> float:
    """By what factor plain Python takes longer here and now than it usually does; 1 at least."""
    begun = time.thread_time()
    total = 0
    for n in range(1_000_000):
        total += n
    return max(1.0, (time.thread_time() - begun) / _USUAL)
