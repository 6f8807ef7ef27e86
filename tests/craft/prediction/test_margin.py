"""The stated margin and chance of mud against simulated truth."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch, used_inks
from wempa.craft.prediction.batches import Batch
from wempa.craft.prediction.margin import doubt_sources
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve
from wempa.craft.vocabulary import Formula, Known, Over
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.stack import reflect

WHITE = Card(Colour(hex="#f8f7f4"), takeup=0.93)
# The model's own error cannot be simulated with the model: here it is perfect.
PERFECT = tuple(
    sorted(
        {
            "margin.layers": 0.0,
            "margin.own_card": 0.0,
            "margin.other_card": 0.0,
            "margin.hand": 1.0,
            "known.typed.spread": 0.0,
            "known.lid.spread": 0.0,
            "known.reader.spread": 0.0,
        }.items()
    )
)


def a_job(known: Known, formulas: tuple[Formula, Formula], over: Over) -> Job:
    inks = tuple(
        (key, Ink(Swatch(Colour(hex=colour), known=known), formula))
        for key, colour, formula in zip("ab", ("#3a7fc0", "#e8b13a"), formulas, strict=True)
    )
    laid = LayDown((("a", 1.0),), dose=1.0), LayDown((("b", 1.0),), dose=0.9, over=over)
    return Job(WHITE, inks, laid, constants=PERFECT)


def truths(job: Job, known: Known, rng: np.random.Generator, count: int) -> Floats:
    """What the card may really show: doses off by the stated factor, scatter by the formula's doubt."""
    table = constants.values(job.constants)
    labs = []
    for _ in range(count):
        inks = []
        for key, ink in job.inks:
            scatter = table[f"formula.{ink.formula}.hiding"] / (1 - table[f"formula.{ink.formula}.hiding"])
            scatter *= table["margin.hiding"] ** rng.normal()
            inks.append((key, replace(ink, hiding=scatter / (1 + scatter))))
        stack = tuple(
            replace(entry, dose=entry.dose * table[f"known.{known}.dose"] ** rng.normal())
            for entry in job.stack
            if isinstance(entry, LayDown) and entry.dose is not None
        )
        labs.append(predict(replace(job, inks=tuple(inks), stack=stack)).colour.lab)
    return np.array(labs)


@pytest.mark.parametrize(
    ("known", "formulas", "over"),
    [
        (Known.LID, (Formula.DYE, Formula.DYE), Over.DRY),
        (Known.TYPED, (Formula.HYBRID, Formula.HYBRID), Over.DRY),
        (Known.TYPED, (Formula.HYBRID, Formula.REACTIVE_PIGMENT), Over.WET),
        (Known.READER, (Formula.PIGMENT, Formula.DYE), Over.DRY),
    ],
)
def test_the_margin_holds_the_truth_about_two_times_in_three(
    known: Known, formulas: tuple[Formula, Formula], over: Over
) -> None:
    job = a_job(known, formulas, over)
    stated = predict(job)
    labs = truths(job, known, np.random.default_rng(11), 240)
    inside = float((cm.delta_e(labs, stated.colour.lab) <= stated.margin).mean())
    assert 0.55 <= inside <= 0.80


def test_better_known_inks_have_smaller_margins() -> None:
    jobs = [a_job(known, (Formula.DYE, Formula.HYBRID), Over.DRY) for known in (Known.LID, Known.TYPED, Known.READER)]
    lid, typed, reader = (predict(replace(job, constants=())).margin for job in jobs)
    assert lid > typed > reader > 1


def test_a_colour_matched_by_eye_is_known_less_well_than_a_photo_and_better_than_a_lid() -> None:
    lid, eye, photo = (
        predict(a_job(known, (Formula.DYE, Formula.DYE), Over.DRY)).margin
        for known in (Known.LID, Known.EYE, Known.PHOTO)
    )
    assert photo + 0.2 < eye < lid - 0.2


def test_an_unknown_formula_has_a_wide_margin() -> None:
    known = a_job(Known.TYPED, (Formula.DYE, Formula.HYBRID), Over.DRY)
    unknown = a_job(Known.TYPED, (Formula.DYE, Formula.UNKNOWN), Over.DRY)
    assert predict(unknown).margin > 1.4 * predict(known).margin


def test_the_chance_of_mud_is_about_how_often_it_is_mud() -> None:
    inks = (
        ("a", Ink(Swatch(Colour(hex="#3a6fb0"), known=Known.LID), Formula.DYE)),
        ("b", Ink(Swatch(Colour(hex="#e8863a"), known=Known.LID), Formula.DYE)),
    )
    laid = LayDown((("a", 1.0),), dose=0.6), LayDown((("b", 1.0),), dose=0.7)
    job = Job(WHITE, inks, laid, constants=PERFECT)
    rng = np.random.default_rng(5)
    muds = []
    for _ in range(200):
        stack = tuple(replace(entry, dose=(entry.dose or 0) * 1.4 ** rng.normal()) for entry in laid)
        muds.append(predict(replace(job, stack=stack)).verdict.mud)
    for share in (0.25, 0.5, 0.75):
        line = float(np.quantile(muds, share))
        chance = predict(replace(job, mud_line=line)).verdict.mud_chance
        assert abs(chance - (1 - share)) < 0.2


def test_each_doubt_moves_the_colour_as_the_changed_job_would() -> None:
    """The rows behind a margin are what `predict` says of an ink dosed or coloured otherwise."""
    job = a_job(Known.LID, (Formula.DYE, Formula.HYBRID), Over.WET)
    bench = prepare_job(job, used_inks(job))
    table = constants.values(job.constants)
    row = resolve(job.stack, bench.lookup(), bench.card.ground, table)[-1].dry
    doubts = doubt_sources(row, bench.inks, bench.card, table, 6)
    batch = Batch()
    base = batch.add(row, 0)[0]
    seen = cm.lab(reflect(batch.stacks(base, doubts.moved), bench.palette))
    np.testing.assert_allclose(seen[base], predict(job).colour.lab, atol=1e-9)
    # The first two rows: the first ink with more and with less of it behind its swatch.
    factor = np.exp(np.hypot(bench.inks[0].dose_doubt, np.log(table["margin.hand"]) * bench.inks[0].hand))
    for found, by in zip(seen[1:3], (factor, 1 / factor), strict=True):
        laid = (replace(job.stack[0], dose=1.0 * by), job.stack[1])  # type: ignore[type-var]
        moved = resolve(laid, bench.lookup(), bench.card.ground, table)[-1].dry
        # What the second wet lay-down accepts follows from the first; here only the first is moved.
        for mine, theirs in zip(moved.parts[1:], row.parts[1:], strict=True):
            mine.dose, mine.held = theirs.dose, theirs.held
        other = Batch()
        place = other.add(moved, 0)[0]
        still = doubt_sources(moved, bench.inks, bench.card, table, 6)
        alone = cm.lab(reflect(other.stacks(place, still.moved), bench.palette))[place]
        np.testing.assert_allclose(found, alone, atol=1e-6)


def test_layers_that_a_doubt_leaves_alone_are_not_made_anew() -> None:
    job = a_job(Known.READER, (Formula.DYE, Formula.PIGMENT), Over.DRY)
    bench = prepare_job(job, used_inks(job))
    table = constants.values()
    row = resolve(job.stack, bench.lookup(), bench.card.ground, table)[-1].dry
    moved = doubt_sources(row, bench.inks, bench.card, table, 6).moved
    assert moved.layer.shape[1] == 2
    # Every doubt but the card's moves one of the two layers and leaves the other.
    changed = (moved.layer >= 2).sum(axis=1)
    assert set(changed.tolist()) <= {0, 1}
    assert (changed == 0).sum() == 3
    assert len(moved.origin) == changed.sum()
