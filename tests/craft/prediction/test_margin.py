"""The stated margin and chance of mud against simulated truth."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, MadeWith, Swatch, used_inks
from wempa.craft.prediction.amounts import Ground, Habit, hand_doubt
from wempa.craft.prediction.batches import Batch
from wempa.craft.prediction.hand import hand_doubts
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.margin import doubt_sources
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve
from wempa.craft.vocabulary import Formula, Known, Load, Over, Surface, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink as ContractInk
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
            # Everybody has been asked what the lids show.
            "lid.unasked": 1.0,
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
    row = resolve(job.stack, bench.lookup, bench.card.ground, table)[-1].dry
    doubts = doubt_sources(row, {}, bench.inks, bench.card, table, 6)
    batch = Batch()
    base = batch.add(row, 0)[0]
    seen = cm.lab(reflect(batch.stacks(base, doubts.moved), bench.palette))
    np.testing.assert_allclose(seen[base], predict(job).colour.lab, atol=1e-9)
    # The first two rows: the first ink with more and with less of it behind its swatch.
    factor = np.exp(bench.inks[0].dose_doubt)
    for found, by in zip(seen[1:3], (factor, 1 / factor), strict=True):
        laid = (replace(job.stack[0], dose=1.0 * by), job.stack[1])  # type: ignore[type-var]
        moved = resolve(laid, bench.lookup, bench.card.ground, table)[-1].dry
        # What the second wet lay-down accepts follows from the first; here only the first is moved.
        for mine, theirs in zip(moved.parts[1:], row.parts[1:], strict=True):
            mine.dose, mine.held = theirs.dose, theirs.held
        other = Batch()
        place = other.add(moved, 0)[0]
        still = doubt_sources(moved, {}, bench.inks, bench.card, table, 6)
        alone = cm.lab(reflect(other.stacks(place, still.moved), bench.palette))[place]
        np.testing.assert_allclose(found, alone, atol=1e-6)


def test_layers_that_a_doubt_leaves_alone_are_not_made_anew() -> None:
    job = a_job(Known.READER, (Formula.DYE, Formula.PIGMENT), Over.DRY)
    bench = prepare_job(job, used_inks(job))
    table = constants.AS_SHIPPED
    row = resolve(job.stack, bench.lookup, bench.card.ground, table)[-1].dry
    moved = doubt_sources(row, {}, bench.inks, bench.card, table, 6).moved
    assert moved.layer.shape[1] == 2
    # Every doubt but the card's moves one of the two layers and leaves the other.
    changed = (moved.layer >= 2).sum(axis=1)
    assert set(changed.tolist()) <= {0, 1}
    assert (changed == 0).sum() == 3
    assert len(moved.origin) == changed.sum()


def by_another_go(lay: LayDown, rng: np.random.Generator) -> LayDown:
    """The same lay-down once more or once less, from a load one step wetter or drier, or as it was."""
    loads = list(Load)
    load = int(np.clip(loads.index(lay.load) + rng.integers(-1, 2), 0, len(loads) - 1))
    return replace(lay, passes=max(1.0, lay.passes + int(rng.integers(-1, 2))), load=loads[load])


@pytest.mark.parametrize("surface", [Surface.SMOOTH, Surface.COATED, Surface.WATERCOLOUR])
@pytest.mark.parametrize(
    ("tool", "passes"), [(Tool.BRUSH, 6.0), (Tool.BRUSH, 3.0), (Tool.FOAM, 3.0), (Tool.STAMP, 1.0)]
)
def test_the_margin_holds_what_the_hand_does(tool: Tool, passes: float, surface: Surface) -> None:
    """Of inks that are known exactly, laid again by a hand that varies, two in three come within it."""
    rng = np.random.default_rng(8)
    perfect = {"margin.layers": 0.0, "margin.own_card": 0.0, "margin.other_card": 0.0, "margin.takeup": 0.0}
    demo = [ContractInk.model_validate(ink["body"]).to_core() for ink in ink_bodies()]
    exact = [replace(ink, swatch=replace(ink.swatch, known=Known.READER, spread=0.0)) for ink in demo]
    held = []
    for _ in range(14):
        a, b = rng.choice(len(exact), 2, replace=False).tolist()
        laid = tuple([LayDown(((key, 1.0),), tool=tool, passes=passes) for key in "ab"])
        card = Card(Colour(hex="#f8f7f4"), surface, known=Known.MEASURED)
        job = Job(card, (("a", exact[a]), ("b", exact[b])), laid, constants=tuple(sorted(perfect.items())))
        again = [tuple([by_another_go(lay, rng) for lay in laid]) for _ in range(16)]
        found = predict(job)
        held.append((cm.delta_e(weigh_stacks(job, again).lab, found.colour.lab) <= found.margin).mean())
    assert 0.5 < np.mean(held) < 0.85


def test_a_hand_varies_by_passes_load_and_pad() -> None:
    table, ground = constants.AS_SHIPPED, Ground(0.0, 0.5, 0.9)
    plain = Habit(0.0, 1.0, 1.0)
    # A pad that closes at once: three passes, two or four; of load half, seven tenths or one.
    own = hand_doubt(Tool.PAD, Load.LIGHT, 3.0, ground, plain, table)
    wetter, drier = np.log(1 / 0.7) ** 2, np.log(0.7 / 0.5) ** 2
    assert own == pytest.approx(np.sqrt(np.var(np.log([2, 3, 4])) + (wetter + drier) / 3), rel=1e-3)
    # At an end as far either way, and less than one pass is no pass less.
    assert hand_doubt(Tool.PAD, Load.JUICY, 1.0, ground, plain, table) == pytest.approx(
        np.sqrt(np.var(np.log([1, 1, 2])) + 2 / 3 * np.log(1.5) ** 2), rel=1e-3
    )
    # What one pass leaves bare varies too.
    brush = hand_doubt(Tool.BRUSH, Load.NORMAL, 1.0, ground, plain, table)
    cover = table["tool.brush.cover"]
    reach = np.log([cover, cover, 1 - (1 - cover) ** 2])
    loads = (np.log(1.5) ** 2 + np.log(0.7) ** 2) / 3
    assert brush == pytest.approx(np.sqrt(np.var(np.log([1, 1, 2])) + loads + np.var(reach)))


def test_on_a_full_card_the_hand_hardly_counts() -> None:
    table = constants.AS_SHIPPED
    inks = tuple(
        [(key, Ink(Swatch(Colour(hex=code)), Formula.DYE)) for key, code in (("a", "#3a7fc0"), ("b", "#e8b13a"))]
    )

    def doubts(surface: Surface, *stack: LayDown) -> dict[int, float]:
        job = Job(Card(Colour(hex="#f8f7f4"), surface), inks, stack)
        bench = prepare_job(job, ["a", "b"])
        found = resolve(job.stack, bench.lookup, bench.card.ground, table)[-1]
        return hand_doubts(found, job.stack, dict(bench.lookup.values()), bench.card.ground, table)

    foam = LayDown((("a", 1.0),), tool=Tool.FOAM, passes=4.0)
    free, full = doubts(Surface.SMOOTH, foam)[0], doubts(Surface.GLOSSY, foam)[0]
    assert full < 0.3 * free
    # Two go of one ink even out; a stated dose differs as two of one hand do.
    assert doubts(Surface.SMOOTH, foam, foam)[0] == pytest.approx(free / np.sqrt(2), rel=0.02)
    stated = doubts(Surface.SMOOTH, LayDown((("a", 1.0),), dose=1.0))
    assert stated == {0: pytest.approx(np.log(table["margin.hand"]))}


def test_a_lid_that_nobody_was_asked_about_is_doubted_more() -> None:
    job = Job(WHITE, (("a", Ink(Swatch(Colour(hex="#3a6fb0"), known=Known.LID), Formula.DYE)),))
    said = Job(WHITE, (("a", Ink(Swatch(Colour(hex="#3a6fb0"), known=Known.LID, made_with=MadeWith()), Formula.DYE)),))
    unasked, asked = (prepare_job(each, ["a"]).inks[0].dose_doubt for each in (job, said))
    table = constants.AS_SHIPPED
    assert asked == pytest.approx(np.log(table["known.lid.dose"]))
    assert unasked == pytest.approx(np.hypot(asked, np.log(table["lid.unasked"])))
