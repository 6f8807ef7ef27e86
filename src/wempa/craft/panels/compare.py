"""How one panel compares with another, in a few sentences."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from wempa.craft.colour.naming import compare, counted

from .study import Study


def compared(one: Study, other: Study, table: Mapping[str, float]) -> list[str]:
    """Colours, work, seams to look at, evenness and the whole of one panel against those of another."""
    text = [
        f"{counted(one.colours, 'colour')} from {counted(one.inks, 'ink')} against {other.colours} from {other.inks}.",
        f"{one.work.minutes:.0f} min against {other.work.minutes:.0f} min of work, waiting included.",
    ]
    flagged = [sum(bool(seam.flags) for seam in study.seams) for study in (one, other)]
    text.append(f"{counted(flagged[0], 'seam')} to look at against {flagged[1]}.")
    if one.evenness is not None and other.evenness is not None and abs(one.evenness - other.evenness) >= 0.05:
        text.append(f"Its steps are {'more' if one.evenness > other.evenness else 'less'} even.")
    means = [np.mean([band.lab for band in study.bands], axis=0) for study in (one, other)]
    text.append(f"On the whole it is {compare(means[0].tolist(), means[1].tolist(), table)} the other.")
    return text
