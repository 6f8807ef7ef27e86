"""The stated margin and chance of mud against simulated truth."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.predict import predict
from wempa.craft.words import Formula, Known, Over
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

WHITE = Card(Colour(hex="#f8f7f4"), takeup=0.67)
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
        (Known.TYPED, (Formula.HYBRID, Formula.FUSION), Over.WET),
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
