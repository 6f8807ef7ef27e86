"""How often Python looks for garbage.

A service makes many small objects at once, and nearly all of them are freed without the collector.
"""

from __future__ import annotations

import gc

# Thresholds of the collector's generations. Python's own are 700, 10 and 10; with those a quarter of the time for
# nudges from 250 inks went into looking for garbage.
_OFTEN = (20_000, 20, 20)


def look_less() -> None:
    """Collect garbage less often, and leave out what is loaded now: modules, routes and models stay for good."""
    # Nothing is collected first. A collection takes 0.05 s, three times at each start, and finds little after
    # imports.
    gc.freeze()
    gc.set_threshold(*_OFTEN)
    gc.enable()
