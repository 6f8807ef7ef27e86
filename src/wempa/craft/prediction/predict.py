"""One job predicted: colours, steps, verdict, margin.

Everything a prediction needs (each step, each ink alone, the same on white card,
the same with every doubt moved by one standard deviation) is one batch for
`wempa.optics.stack.reflect`.
"""

from __future__ import annotations

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Job, used_inks
from wempa.craft.vocabulary import Look
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.namespace import SCALAR
from wempa.optics.stack import reflect

from . import margin
from .batches import Batch
from .notes import notes_on
from .prepare import prepare_job, wanted_colours
from .prepared import VARIANTS
from .reasons import explain, find_way
from .results import Prediction, Seen, Verdict
from .rows import NOTHING, lowest_inks, resolve
from .verdict import KINDS, Overlaps, bare, grounds, judge

_ON_JOB_CARD, _ON_WHITE = 0, 1


def predict(job: Job, wanted: Floats | None = None) -> Prediction:
    """Predict a job: colours, steps, verdict, margin and notes (no fixes).

    `wanted` is what `wanted_colours` gives for the job, if the caller has it already.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    bench = prepare_job(job, used_inks(job))
    table = constants.values(job.constants)
    illuminant = str(job.illuminant)
    lookup = bench.lookup()
    wet_look = job.look is Look.WET

    steps = resolve(job.stack, lookup, bench.card.ground, table, wet_look)[1:]
    final = steps[-1] if steps else NOTHING
    doubts = margin.doubt_sources(final.dry, bench.inks, bench.card, table, VARIANTS)

    # A row is held once: the last step of a dry look is the result itself.
    batch = Batch()
    cards = (_ON_JOB_CARD, _ON_WHITE if bench.card_from_white else _ON_JOB_CARD)
    base = batch.add(final.dry, *cards)
    # In the order of the prepared inks, which is that of the stack.
    alones = [batch.add(row, *cards) for row in final.alone]
    drops = None if final.drops is None else batch.add(final.drops, _ON_JOB_CARD)[0]
    looks = [batch.add(step.wet or step.dry, _ON_JOB_CARD)[0] for step in steps]
    known = len(batch)

    spectra = reflect(batch.stacks(base[0], doubts.moved), bench.palette, illuminant)
    tristimulus = cm.xyz(spectra, illuminant)
    labs = cm.lab_from_xyz(tristimulus, white_point(illuminant))
    rgb, excess = cm.srgb_from_xyz(tristimulus[:known], illuminant)

    hexes, inside = cm.hexes_from_rgb(rgb), (excess < 2e-3).tolist()

    def seen(row: int) -> Seen:
        return Seen(spectra[row], labs[row], hexes[row], inside[row])

    around = margin.spread(labs[base[0]], labs[known:], doubts)
    colours = labs[:known].tolist()
    overlaps = Overlaps(
        result=colours[base[0]],
        on_white=colours[base[1]],
        parents=[colours[on_card] for on_card, _ in alones],
        parents_on_white=[colours[on_white] for _, on_white in alones],
        present=[True] * len(alones),
        card=bench.card.lab.tolist(),
        card_from_white=bench.card_from_white,
        wanted=wanted_colours(job) if wanted is None else wanted,
        lowest=lowest_inks(final.dry, [VARIANTS * i for i in range(len(alones))]),
        ladders=bench.ladders if len(alones) > 1 else None,
        rungs=range(len(alones)),
    )
    found = judge(overlaps, job.mud_line, table, SCALAR) if alones else bare()
    look = seen(looks[-1] if looks else base[0])
    kind = KINDS[found.kind]
    way = find_way(final.dry, bench.palette.inks, table)
    verdict = Verdict(
        kind=kind,
        mud=float(found.mud),
        mud_chance=margin.mud_chance(around, overlaps, found.promise, job.mud_line, table) if found.promise else 0.0,
        way=way,
        reasons=explain(kind, found, way, final.dry, bench, overlaps, dict(job.inks), grounds(overlaps, table, SCALAR)),
    )
    radius = around.radius if not wet_look else float(np.hypot(around.radius, table["margin.wet"]))
    return Prediction(
        colour=look,
        drops=None if drops is None else seen(drops),
        steps=tuple([seen(row) for row in looks]),
        verdict=verdict,
        margin=radius,
        notes=notes_on(job, final, bench, look, around.radius, table),
    )
