"""One job predicted: colours, steps, verdict, margin.

Everything a prediction needs (each step, each ink alone, the same on white card,
the same with every doubt moved by one standard deviation) is one batch for
`wempa.optics.stack.reflect`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from functools import lru_cache

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, white_point
from wempa.optics.ink import Pigmentation
from wempa.optics.namespace import SCALAR
from wempa.optics.stack import Cards, Palette, reflect

from . import constants, margin, prepare
from .job import Card, Colour, Ink, Job, JobError, LayDown, Note
from .prepare import PreparedCard, PreparedInk
from .reasons import explain, find_way
from .resolve import NOTHING, Batch, Part, Resolved, Row, resolve, streak_note
from .verdict import KINDS, Overlaps, bare, grounds, judge
from .words import WHITE_CARD, Look, Treatment, VerdictKind, Way

VARIANTS = 6
_ON_JOB_CARD, _ON_WHITE = 0, 1


@dataclass(frozen=True, slots=True, eq=False)
class Seen:
    """A predicted colour under the job's light."""

    spectrum: Floats
    """Reflectance (radiance factor) on the grid, (36,)."""
    lab: Floats
    hex: str
    in_screen_gamut: bool


@dataclass(frozen=True, slots=True)
class Verdict:
    """What the overlap is, how muddy (0–100), how likely muddy (0–1), and why."""

    kind: VerdictKind
    mud: float
    mud_chance: float
    way: Way | None
    reasons: tuple[Note, ...]


@dataclass(frozen=True, slots=True)
class Fix:
    """A change that helps, recomputed. `job` is None where it has no stack form."""

    code: str
    text: str
    job: Job | None
    mud: float | None
    shown: tuple[Prediction, ...] = ()
    """What it comes to: the overlap after it; of a bridge both its seams."""


@dataclass(frozen=True, slots=True, eq=False)
class Prediction:
    """The result of a job."""

    colour: Seen
    drops: Seen | None
    steps: tuple[Seen, ...]
    verdict: Verdict
    margin: float
    """ΔE00 radius that holds the truth about two times in three."""
    notes: tuple[Note, ...]
    fixes: tuple[Fix, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Bench:
    """A job's card and inks, prepared: what its rows index into."""

    card: PreparedCard
    palette: Palette
    """Cards: the job's, white of the same surface, three doubtful versions of the first.
    Inks: `VARIANTS` rows each, in the order of `keys`."""
    card_from_white: float
    """ΔE00 between the job's card and white card of the same surface."""
    keys: tuple[str, ...]
    inks: tuple[PreparedInk, ...]

    def lookup(self) -> dict[str, tuple[int, PreparedInk]]:
        """Ink key to its row in the pigmentation table and its preparation."""
        return {key: (VARIANTS * i, ink) for i, (key, ink) in enumerate(zip(self.keys, self.inks, strict=True))}


def used_inks(job: Job) -> list[str]:
    """Keys of the inks that the stack lays down, in the order of first use."""
    keys: dict[str, None] = {}
    for entry in job.stack:
        if isinstance(entry, LayDown):
            keys.update((key, None) for key, share in entry.parts if share > 0)
    return list(keys)


def set_up(job: Job, keys: Sequence[str]) -> Bench:
    """Prepare the job's card and the named inks, from the caches where possible.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    declared = dict(job.inks)
    try:
        constants.values(job.constants)
        return _bench(job.cardstock, tuple((key, declared[key]) for key in keys), str(job.illuminant), job.constants)
    except constants.ConstantError as error:
        raise JobError(str(error), ("constants",)) from error


# Each may hold a table of films of 1.3 megabytes.
@lru_cache(64)
def _bench(
    card_given: Card, inks_given: tuple[tuple[str, Ink], ...], illuminant: str, overrides: constants.Overrides
) -> Bench:
    on = [ink.swatch.card.colour for _, ink in inks_given if ink.swatch.card is not None]
    swatches = [ink.swatch.colour for _, ink in inks_given]
    prepare.find_spectra([card_given.colour, Colour(hex=WHITE_CARD), *on, *swatches], illuminant)
    card = prepare.card(card_given, illuminant, overrides)
    white = prepare.card(replace(card_given, colour=Colour(hex=WHITE_CARD)), illuminant, overrides)
    inks = tuple(
        prepare.ink(ink, card_given if ink.swatch.card is None else None, illuminant, overrides)
        for _, ink in inks_given
    )
    cards = Cards(
        np.concatenate([card.internal[None], white.internal[None], card.variants]),
        np.stack([card.floor, white.floor, *[card.floor] * 3]),
        np.full(5, card.n),
    )
    stacked = [
        np.concatenate([getattr(ink, f.name) for ink in inks]) if inks else np.zeros((0, 36))
        for f in fields(Pigmentation)
    ]
    return Bench(
        card=card,
        palette=Palette(cards, Pigmentation(*stacked)),
        card_from_white=float(cm.delta_e(card.lab, white.lab)),
        keys=tuple(key for key, _ in inks_given),
        inks=inks,
    )


def predict(job: Job, wanted: Floats | None = None) -> Prediction:
    """Predict a job: colours, steps, verdict, margin and notes (no fixes).

    `wanted` is what `wanted_colours` gives for the job, if the caller has it already.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    bench = set_up(job, used_inks(job))
    table = constants.values(job.constants)
    illuminant = str(job.illuminant)
    lookup = bench.lookup()
    wet_look = job.look is Look.WET

    steps = resolve(job.stack, lookup, bench.card.ground, table, wet_look)[1:]
    final = steps[-1] if steps else NOTHING
    doubts = margin.sources(final.dry, bench.inks, bench.card, table, VARIANTS)

    # A row is held once: the last step of a dry look is the result itself.
    batch = Batch()
    cards = (_ON_JOB_CARD, _ON_WHITE if bench.card_from_white else _ON_JOB_CARD)
    base = batch.add(final.dry, *cards)
    alones = [batch.add(alone(final.dry, VARIANTS * i), *cards) for i in range(len(bench.inks))]
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
        lowest=lowest(final.dry, [VARIANTS * i for i in range(len(alones))]),
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
        notes=_notes(job, final, bench, look, around.radius, table),
    )


def alone(row: Row, ink: int) -> Row:
    """The same stack with only the lay-downs of one ink, at the same doses."""
    kept = [
        Part(part.ink, part.dose, part.scatter, part.cover, 0.0, part.group, part.by_tool)
        for part in row.parts
        if part.ink == ink
    ]
    return Row(kept, row.floor_scale, row.pores, row.vividness, row.treatments)


def lowest(row: Row, inks: Sequence[int]) -> list[bool]:
    """Whether each of the inks lies in lower groups than all others of a row of several."""
    highest = {ink: max(part.group for part in row.parts if part.ink == ink) for ink in inks}
    return [len(inks) > 1 and all(highest[ink] < part.group for part in row.parts if part.ink != ink) for ink in inks]


def wanted_colours(job: Job) -> Floats | None:
    """Swatch colours of the stash, (w, 3): a mix close to one of them is never mud."""
    if not job.stash.inks:
        return None
    light = str(job.illuminant)
    prepare.find_spectra([ink.swatch.colour for _, ink in job.stash.inks], light)
    return np.stack([swatch_lab(ink, job) for _, ink in job.stash.inks])


def swatch_lab(ink: Ink, job: Job) -> Floats:
    """CIELAB (3,) of an ink's swatch under the job's light."""
    own_card = job.cardstock if ink.swatch.card is None else None
    return prepare.ink(ink, own_card, str(job.illuminant), job.constants).lab


def _notes(
    job: Job, final: Resolved, bench: Bench, look: Seen, radius: float, table: Mapping[str, float]
) -> tuple[Note, ...]:
    notes = [*bench.card.notes]
    for ink in bench.inks:
        notes += ink.notes
    notes += final.notes
    marks = streak_note(job.stack, bench.card.ground, table)
    if marks is not None:
        notes.append(marks)
    if Treatment.HEAT in job.stack:
        text = (
            "A heat tool burns skin and can set card alight; never use it on ink that is wet with alcohol "
            "or solvent. The maker's label comes first."
        )
        notes.append(Note("caution_heat", text))
    if Treatment.GLAZE in job.stack:
        text = (
            "A topcoat that is sprayed wants fresh air and no flame near it, and is kept from eyes and lungs. "
            "The maker's label comes first."
        )
        notes.append(Note("caution_glaze", text))
    if not look.in_screen_gamut:
        notes.append(Note("outside_screen", "A screen cannot show this colour; the nearest it can is shown."))
    if radius > table["margin.wide"]:
        notes.append(Note("wide_margin", "The inks are known too roughly for a close prediction: swatch them first."))
    return tuple(notes)
