"""One job predicted: colours, steps, verdict, margin.

Everything a prediction needs (each step, each ink alone, the same on white card,
the same with every doubt moved by one standard deviation) is one batch for
`wempa.optics.stack.reflect`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.job import Job, Note, used_inks
from wempa.craft.vocabulary import Look, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.namespace import SCALAR
from wempa.optics.records import record
from wempa.optics.stack import reflect

from . import margin
from .batches import Batch
from .hand import hand_doubts
from .notes import notes_on
from .patches import Patch, as_specks, patches_of
from .prepare import prepare_job, wanted_colours
from .prepared import VARIANTS, PreparedJob
from .reasons import explain, find_way
from .results import PredictedColour, Prediction, Verdict
from .rows import NOTHING, BatchRow, lowest_inks, resolve, uppermost
from .verdict import KINDS, Judgement, Overlaps, bare, hides, judge, judge_patches

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
    lookup = bench.lookup
    wet_look = job.look is Look.WET

    steps = resolve(job.stack, lookup, bench.card.ground, table, wet_look)[1:]
    final = steps[-1] if steps else NOTHING
    # For patches the margin is worked out as if they were fine specks.
    even = as_specks(final.dry)
    hands = hand_doubts(final, job.stack, dict(lookup.values()), bench.card.ground, table)
    doubts = margin.doubt_sources(even, hands, bench.inks, bench.card, table, VARIANTS)

    # A row is held once: the last step of a dry look is the result itself.
    batch = Batch()
    cards = (_ON_JOB_CARD, _ON_WHITE if bench.card_from_white else _ON_JOB_CARD)
    base = batch.add(even, *cards)
    places = [
        (patch, batch.add(patch.row, *cards), [batch.add(row, *cards) for row in patch.alone])
        for patch in patches_of(final.dry, final.alone)
    ]
    areas: list[_Area] = [[(patch.share, on_card) for patch, (on_card, _), _ in places]]
    # The dry look of the last step is the whole.
    looked = steps if wet_look else steps[:-1]
    areas += [_area(batch, step.wet or step.dry) for step in looked]
    areas += [] if final.drops is None else [_area(batch, final.drops)]
    known = len(batch)

    spectra = reflect(batch.stacks(base[0], doubts.moved), bench.palette, illuminant)
    tristimulus = cm.xyz(spectra, illuminant)
    labs = cm.lab_from_xyz(tristimulus, white_point(illuminant))
    around = margin.spread(labs[base[0]], labs[known:], doubts)
    looked_at = _Light(spectra[:known], tristimulus[:known], labs[:known], illuminant)
    seen = _seen(areas, looked_at)
    whole, looks, drops = seen[0], seen[1 : 1 + len(looked)], seen[1 + len(looked) :]
    looks += [whole] * (len(steps) - len(looked))

    colours = labs[:known].tolist()
    wanted = wanted_colours(job) if wanted is None else wanted
    judged: list[tuple[float, Overlaps, Judgement]] = []
    for patch, (on_card, on_white), alones in places:
        # The inks that lie there, in the order of the prepared inks, which is that of the stack.
        there = [i for i, row in enumerate(patch.alone) if row.parts]
        overlaps = Overlaps(
            result=colours[on_card],
            on_white=colours[on_white],
            parents=[colours[alones[i][0]] for i in there],
            parents_on_white=[colours[alones[i][1]] for i in there],
            present=[True] * len(there),
            card=bench.card.lab.tolist(),
            card_from_white=bench.card_from_white,
            white=bench.white,
            wanted=wanted,
            lowest=lowest_inks(patch.row, [VARIANTS * i for i in there]),
            covering=_covering(patch.row, there, bench, table),
            ladders=bench.ladders if len(there) > 1 else None,
            rungs=there,
        )
        judged.append(
            (patch.share, overlaps, judge(overlaps, job.mud_line, table, SCALAR, around.strays) if there else bare())
        )
    look = looks[-1] if looks else whole
    way = find_way(final.dry, bench.palette.inks, table)
    kind, muddiness = _whole(judged, job.mud_line, table)
    # The place where most inks meet has most to tell, so the reasons of patches are those of that place.
    _, most, found = judged[0]
    meets = KINDS[int(found.kind)] if len(judged) > 2 else kind
    reasons = explain(meets, found, final.dry, bench, most, dict(job.inks), table)
    strayed = [(share, each.strayed) for share, _, each in judged if each.strayed is not None]
    verdict = Verdict(
        kind=kind,
        mud=muddiness,
        mud_chance=margin.mud_chance(strayed, job.mud_line) if strayed else 0.0,
        way=way,
        reasons=reasons if len(judged) == 1 else (*reasons, _IN_PATCHES if meets is kind else _WHERE_THEY_MEET),
    )
    radius = around.radius if not wet_look else float(np.hypot(around.radius, table["margin.wet"]))
    return Prediction(
        colour=look,
        drops=drops[0] if drops else None,
        steps=tuple(looks),
        verdict=verdict,
        margin=radius,
        notes=notes_on(job, final, bench, look, around.radius, hands, table),
        patches=_told_apart(places, looked_at, table) if len(places) > 1 else (),
    )


def _covering(row: BatchRow, inks: Sequence[int], bench: PreparedJob, table: Mapping[str, float]) -> list[bool]:
    """Whether each of the inks is the one on top and hides what is below."""
    if len(inks) < 2:
        return [False] * len(inks)
    top, amount = uppermost(row)
    hiding = top >= 0 and bool(hides(bench.palette.inks.scattering[top] * amount, table))
    return [hiding and VARIANTS * ink == top for ink in inks]


_Area = list[tuple[float, int]]
"""Places that an area is made of: their shares, and where they stand in the batch."""
_IN_PATCHES = Note(
    NoteCode.IN_PATCHES, "It lies in patches, so the inks show beside one another as well as over one another."
)

_WHERE_THEY_MEET = Note(
    NoteCode.IN_PATCHES, "That is where all of it meets; it lies in patches, and elsewhere inks show alone."
)


def _area(batch: Batch, row: BatchRow) -> _Area:
    return [(patch.share, batch.add(patch.row, _ON_JOB_CARD)[0]) for patch in patches_of(row)]


@record
class _Light:
    """The colours of each row of a batch, n of them."""

    spectra: Floats
    """(n, 36)."""
    tristimulus: Floats
    """(n, 3)."""
    lab: Floats
    """(n, 3)."""
    illuminant: str


def _seen(areas: Sequence[_Area], light: _Light) -> list[PredictedColour]:
    """What an eye sees of each, from too far away to tell its places apart: their mean light."""
    if max(map(len, areas)) == 1:
        rows = [area[0][1] for area in areas]
        mean, tristimulus, labs = (each.take(rows, axis=0) for each in (light.spectra, light.tristimulus, light.lab))
    else:
        shares = np.zeros((len(areas), len(light.spectra)))
        for row, area in zip(shares, areas, strict=True):
            for share, place in area:
                row[place] += share
        mean, tristimulus = shares @ light.spectra, shares @ light.tristimulus
        labs = cm.lab_from_xyz(tristimulus, white_point(light.illuminant))
    rgb, excess = cm.srgb_from_xyz(tristimulus, light.illuminant)
    each = zip(mean, labs, cm.hexes_from_rgb(rgb), (excess < 2e-3).tolist(), strict=True)
    return [PredictedColour(*one) for one in each]


def _whole(
    judged: Sequence[tuple[float, Overlaps, Judgement]], mud_line: float, table: Mapping[str, float]
) -> tuple[VerdictKind, float]:
    """The kind and mud of a stack from those of its places."""
    if len(judged) == 1:
        found = judged[0][2]
        return KINDS[int(found.kind)], float(found.mud)
    kinds, muds = np.array([int(j.kind) for _, _, j in judged]), np.array([float(j.mud) for _, _, j in judged])
    shares = np.array([share for share, _, _ in judged])
    mean, kind = judge_patches(kinds, muds, shares, np.zeros(len(judged), dtype=np.intp), mud_line, table)
    return KINDS[int(kind[0])], float(mean[0])


def _told_apart(
    places: Sequence[tuple[Patch, list[int], object]], light: _Light, table: Mapping[str, float]
) -> tuple[tuple[float, PredictedColour], ...]:
    """Places that look different, with their shares of the area, the largest first."""
    seen = _seen([[(1.0, at[0])] for _, at, _ in places], light)
    found: list[tuple[float, PredictedColour]] = []
    for (patch, _, _), own in sorted(zip(places, seen, strict=True), key=lambda each: -each[0][0].share):
        near = [k for k, (_, other) in enumerate(found) if cm.delta_e(own.lab, other.lab) < table["patch.same"]]
        if near:
            share, other = found[near[0]]
            found[near[0]] = (share + patch.share, other)
        else:
            found.append((patch.share, own))
    return tuple(sorted(found, key=lambda each: -each[0]))
