"""Which inks stand for the colours of a palette, band by band."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wempa.craft.errors import JobError
from wempa.craft.job import Colour, Job
from wempa.craft.limits import MAX_BANDS, MAX_INKS
from wempa.craft.prediction.prepare import swatch_labs
from wempa.craft.prediction.spectra import spectrum_of
from wempa.optics import colorimetry as cm


def inks_for(colours: Sequence[tuple[str, str]], job: Job) -> list[str]:
    """For each colour (name and hex by day) the job's ink of that name, or the nearest, by key.

    The same ink twice in a row is one; no more inks and bands than a panel takes.

    Raises
    ------
    JobError
        The job has no inks.
    """
    if not job.inks:
        raise JobError("the shelf is empty, so no ink comes near to these colours")
    light = str(job.illuminant)
    labs = swatch_labs([ink for _, ink in job.inks], job)
    by_name = {ink.name.casefold(): key for key, ink in reversed(job.inks)}
    found: list[str] = []
    for name, code in colours:
        lab = cm.lab(spectrum_of(Colour(hex=code), light)[0], light)
        apart = cm.delta_e(labs, np.broadcast_to(lab, labs.shape))
        ink = by_name.get(name.casefold(), job.inks[int(np.argmin(apart))][0])
        if (not found or found[-1] != ink) and (ink in found or len(set(found)) < MAX_INKS):
            found.append(ink)
    return found[:MAX_BANDS]
