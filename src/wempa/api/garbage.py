"""How often Python looks for garbage: a service makes many small things at once that all go by themselves."""

from __future__ import annotations

import gc

# Objects made before the youngest are looked through, and rounds of these before older ones are: 700, 10 and 10 if
# nothing is said, with which a quarter of the time for nudges from 250 inks went there.
_OFTEN = (20_000, 20, 20)


def look_less() -> None:
    """Look for garbage less often, and no longer among what is there now: modules, routes and models stay."""
    # Nothing is collected first: that takes 0.05 s of every start, three times over, and imports leave little to find.
    gc.freeze()
    gc.set_threshold(*_OFTEN)
    gc.enable()
