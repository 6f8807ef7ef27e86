"""Words to numbers: amounts that run full, take-up, wet groups, treatments, notes."""

from __future__ import annotations

from dataclasses import replace
from math import exp
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Entry, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import PreparedInk
from wempa.craft.prediction.rows import BatchRow, Resolved, lowest_inks, resolve
from wempa.craft.prediction.settling import Part
from wempa.craft.vocabulary import Formula, Load, Over, Surface, Tool, Treatment

INKS = tuple(
    (key, Ink(Swatch(Colour(hex=colour)), formula))
    for key, colour, formula in (
        ("dye", "#2456a6", Formula.DYE),
        ("hybrid", "#f0704f", Formula.HYBRID),
        ("white", "#ffffff", Formula.PIGMENT),
        ("reactive", "#7a3a6e", Formula.REACTIVE_DYE),
    )
)
TABLE = constants.AS_SHIPPED


def laid(key: str, over: Over = Over.DRY, **how: object) -> LayDown:
    return replace(LayDown(((key, 1.0),), over=over), **(how or {"dose": 1.0}))  # type: ignore[arg-type]


def resolved(*stack: Entry, surface: Surface = Surface.SMOOTH) -> list[Resolved]:
    job = Job(Card(Colour(hex="#f8f7f4"), surface), INKS, tuple(stack))
    bench = prepare_job(job, [key for key, _ in INKS])
    return resolve(job.stack, bench.lookup, bench.card.ground, TABLE, wet_look=True)


def prepared(key: str) -> PreparedInk:
    bench = prepare_job(Job(Card(Colour(hex="#f8f7f4")), INKS), [key])
    return bench.inks[0]


def parts(*stack: Entry, surface: Surface = Surface.SMOOTH) -> list[Part]:
    return resolved(*stack, surface=surface)[-1].dry.parts


def test_one_pad_impression_is_dose_one() -> None:
    for key in ("dye", "hybrid", "white"):
        assert parts(laid(key, tool=Tool.PAD))[0].dose == pytest.approx(1)


def test_take_up_counts_once_and_not_for_the_first() -> None:
    three = parts(*[laid("dye")] * 3)
    strength = prepared("dye").mean_extinction
    weak = (TABLE["takeup.strength"] / strength) ** 0.5
    misses = (1 - TABLE["surface.smooth.takeup"]) * weak
    third = misses * (1 + (TABLE["takeup.third"] - 1) * min(1, 1 - misses))
    # What misses leaves whole places bare of it; where it takes it is as deep as ever.
    assert [p.dose for p in three] == pytest.approx([1, 1 - misses, 1 - third])
    assert [p.cover for p in three] == [p.dose for p in three]
    assert [p.apart for p in three] == [False, True, True]
    over_pigment = parts(laid("white"), laid("dye"))[1].dose
    over_hybrid = parts(laid("hybrid"), laid("dye"))[1].dose
    assert over_pigment == pytest.approx(1 - (1 - TABLE["takeup.pigment"]) * weak)
    assert three[1].dose < over_hybrid < over_pigment
    # A breath of ink below hardly takes anything away.
    assert parts(laid("dye", dose=0.01), laid("dye"))[1].dose > 0.99


def test_a_print_carries_some_of_what_lies_there_away_and_a_hand_does_not() -> None:
    carries = TABLE["surface.coated.carries"]
    low = [parts(laid("dye"), *[laid("reactive")] * n, surface=Surface.COATED)[0].dose for n in (0, 1, 2)]
    assert low == pytest.approx([1, carries, carries**2])
    half = parts(laid("dye"), laid("reactive", dose=0.5), surface=Surface.COATED)[0].dose
    assert half == pytest.approx(1 - (1 - carries) / 2)
    by_hand = parts(laid("dye"), laid("reactive", tool=Tool.FOAM, passes=4.0), surface=Surface.COATED)[0].dose
    assert by_hand == 1


def test_a_premix_covers_once_and_each_of_its_inks_alone_does_too() -> None:
    mixed = LayDown((("hybrid", 0.5), ("white", 0.5)), tool=Tool.FOAM, passes=2.0, premix=True)
    whole = resolved(mixed)[-1]
    own = parts(laid("hybrid", tool=Tool.FOAM, passes=2.0))[0].cover
    assert [p.cover for p in whole.dry.parts] == pytest.approx([own, 0], abs=0.02)
    assert [each.parts[0].cover for each in whole.alone] == pytest.approx([own, own], abs=0.02)


def test_a_wet_group_takes_up_once_and_does_not_mind_its_order() -> None:
    three = parts(laid("dye"), laid("hybrid"), laid("hybrid", Over.WET))
    assert [p.group for p in three] == [0, 1, 1]
    assert three[1].dose == three[2].dose < 1
    foam: dict[str, Any] = {"tool": Tool.FOAM, "passes": 5.0}
    one = parts(laid("hybrid", **foam), laid("reactive", Over.WET, **foam))
    two = parts(laid("reactive", **foam), laid("hybrid", Over.WET, **foam))
    assert [p.dose for p in one] == pytest.approx([p.dose for p in two[::-1]])
    # What dried of a wet group, and so take-up over it, does not depend on its order either.
    over = [
        parts(laid(low, **foam), laid(high, Over.WET, **foam), laid("dye"))[2].dose
        for low, high in (("hybrid", "reactive"), ("reactive", "hybrid"))
    ]
    assert over[0] == pytest.approx(over[1])
    # A dye takes no room from a film; another film does, alike from both.
    alone = parts(laid("hybrid", **foam))
    assert one[0].dose == pytest.approx(alone[0].dose)
    crowded = parts(laid("hybrid", **foam), laid("white", Over.WET, **foam))
    assert crowded[0].dose < 0.7 * alone[0].dose


def test_only_a_free_dye_is_held_up_by_a_wet_film_that_hides() -> None:
    thin, thick = (parts(laid("white", dose=d), laid("dye", Over.WET))[1].held for d in (0.02, 0.6))
    assert 0 < thin < 0.15
    assert thick > 0.8
    assert parts(laid("white"), laid("hybrid", Over.WET))[1].held == 0
    assert parts(laid("dye"), laid("white", Over.WET))[0].held == 0
    # Over a film that has dried nothing is stirred.
    dried = parts(laid("hybrid"), laid("dye"))
    assert [(part.held, part.mixed) for part in dried] == [(0, 0), (0, 0)]


def test_a_dye_is_stirred_into_the_film_that_is_wet_with_it_by_hand() -> None:
    dye, film = parts(laid("dye"), laid("hybrid", Over.WET, dose=0.4))
    share, hiding = TABLE["formula.hybrid.film_share"], prepared("hybrid").values["hiding"]
    taken = (1 - exp(-0.4 * share / TABLE["held.scale"])) / (1 + 0.4 * hiding / (1 - hiding))
    assert dye.mixed == pytest.approx(taken)
    assert (dye.held, film.mixed, film.held) == (0, 0, 0)
    # Laid into the film it is stirred as far, and some of the rest stays on top.
    _, later = parts(laid("hybrid", dose=0.4), laid("dye", Over.WET))
    assert later.mixed == pytest.approx(taken)
    on_top = 1 - exp(-0.4 * hiding / (1 - hiding) / TABLE["held.hides"])
    assert later.held == pytest.approx((1 - taken) * (1 - exp(-0.4 * share / TABLE["held.scale"])) * on_top)
    # In a premix nothing fades out.
    (first, _) = parts(LayDown((("dye", 0.6), ("white", 0.4)), dose=1.0))
    assert first.mixed == pytest.approx(1 - exp(-0.4 * TABLE["formula.pigment.film_share"] / TABLE["held.scale"]))


def test_treatments_act_on_what_lies_below_them_only() -> None:
    before, after = parts(laid("hybrid"), Treatment.GLAZE, laid("hybrid"))
    assert before.scatter == TABLE["formula.hybrid.glaze_scatter"]
    assert after.scatter == 1
    spritzed = resolved(laid("reactive"), Treatment.SPRITZ, laid("dye"))[-1]
    assert spritzed.drops is not None
    lifted = [d.dose / p.dose for d, p in zip(spritzed.drops.parts, spritzed.dry.parts, strict=True)]
    loose = 1 - exp(-spritzed.dry.parts[0].dose / TABLE["lift.depth"])
    assert lifted == pytest.approx([1 - TABLE["formula.reactive_dye.lift"] * loose, 1])
    assert lifted[0] == pytest.approx(1 - 0.96 * 0.917915, abs=1e-5)
    blotted = parts(laid("dye"), laid("dye"), Treatment.BLOT)
    assert blotted[0].dose == 1
    assert blotted[1].dose == pytest.approx(parts(laid("dye"), laid("dye"))[1].dose * TABLE["blot.dose"])


def test_heat_closes_a_group_and_wet_on_it_counts_as_dry_with_a_note() -> None:
    steps = resolved(laid("hybrid"), Treatment.HEAT, laid("dye", Over.WET))
    assert [p.group for p in steps[-1].dry.parts] == [0, 1]
    assert [note.code for note in steps[-1].notes] == ["wet_on_dry"]
    assert steps[-1].notes[0].entry == 2
    first = resolved(laid("dye", Over.WET))[-1]
    assert "nothing below" in first.notes[0].text
    assert [note.code for note in resolved(Treatment.BLOT)[-1].notes] == ["nothing_wet"]


def test_the_wet_look_is_of_the_open_group_and_heat_ends_it() -> None:
    wet = resolved(laid("hybrid"), laid("hybrid"))[-1].wet
    assert wet is not None
    assert [p.scatter for p in wet.parts] == [1, TABLE["formula.hybrid.wet_scatter"]]
    assert wet.pores > 0
    dried = resolved(laid("hybrid"), Treatment.HEAT)[-1]
    assert dried.wet == dried.dry


def test_earlier_steps_are_not_changed_by_later_entries() -> None:
    steps = resolved(laid("hybrid"), Treatment.HEAT, Treatment.GLAZE)
    assert [step.dry.parts[0].dose for step in steps[1:]] == pytest.approx([1, 0.97, 0.97])
    assert [step.dry.floor_scale for step in steps[1:]] == [1, 1, TABLE["glaze.floor"]]


@pytest.mark.parametrize(
    ("entry", "surface", "says"),
    [
        (laid("dye", tool=Tool.FOAM, load=Load.JUICY), Surface.SMOOTH, "juicy"),
        (laid("dye", tool=Tool.BRUSH, passes=6.0), Surface.COATED, "sealed"),
        (laid("dye", tool=Tool.BRUSH, passes=1.0), Surface.ABSORBENT, "grabs ink"),
        (laid("dye", tool=Tool.BRUSH, passes=4.0), Surface.SMOOTH, None),
        (laid("dye", tool=Tool.STAMP, load=Load.JUICY), Surface.SMOOTH, None),
    ],
)
def test_marks_that_may_stay_are_noted_with_their_reason(entry: LayDown, surface: Surface, says: str | None) -> None:
    notes = {
        str(note.code): note.text for note in predict(Job(Card(Colour(hex="#f8f7f4"), surface), INKS, (entry,))).notes
    }
    assert (says in notes["marks_stay"]) if says else "marks_stay" not in notes


def test_heat_shows_its_caution() -> None:
    notes = [n.code for n in predict(Job(Card(Colour(hex="#f8f7f4")), INKS, (laid("dye"), Treatment.HEAT))).notes]
    assert "caution_heat" in notes


def test_into_the_wet_of_what_is_dry_by_then_is_said() -> None:
    def notes(*stack: Entry) -> list[str]:
        named = tuple([(key, replace(ink, name=key.capitalize())) for key, ink in INKS])
        found = predict(Job(Card(Colour(hex="#f8f7f4")), named, stack)).notes
        return [note.text for note in found if note.code == "dries_too_soon"]

    brush: dict[str, Any] = {"tool": Tool.BRUSH, "passes": 4.0}
    said = notes(laid("dye", **brush), laid("hybrid", Over.WET, **brush))
    assert said == ["Hybrid: Dye is dry after about 20 seconds: do a small spot at a time, or let it dry first."]
    # Of several that lie there wet it is the one that dries first.
    third = notes(laid("hybrid", **brush), laid("dye", Over.WET, **brush), laid("white", Over.WET, **brush))
    assert third == ["White: Dye is dry after about 20 seconds: do a small spot at a time, or let it dry first."]
    # A hybrid is open for two minutes, over what has dried nothing need be.
    assert notes(laid("hybrid", **brush), laid("dye", Over.WET, **brush)) == []
    assert notes(laid("dye", **brush), laid("hybrid", **brush)) == []


def test_a_note_names_its_ink_and_where_it_is_laid_more_than_once_its_layer() -> None:
    stack = (
        laid("dye", tool=Tool.FOAM),
        Treatment.HEAT,
        laid("dye", Over.WET, tool=Tool.FOAM),
        Treatment.HEAT,
        Treatment.BLOT,
    )
    named = tuple([(key, replace(ink, name="Boiler Blue")) for key, ink in INKS if key == "dye"])
    found = {str(note.code): note.text for note in predict(Job(Card(Colour(hex="#f8f7f4")), named, stack)).notes}
    assert found["wet_on_dry"] == "Boiler Blue, layer 2: what is below has been dried, so it counts as laid over dry."
    assert found["nothing_wet"] == "Blot: nothing is wet here, so it takes nothing away."


@settings(max_examples=200)
@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 4)), min_size=1, max_size=6))
def test_an_ink_is_lowest_where_all_of_it_lies_below_all_others(laid: list[tuple[int, int]]) -> None:
    row = BatchRow([Part(ink, 1.0, 1.0, 1.0, 0.0, group) for ink, group in laid])
    inks = sorted({ink for ink, _ in laid})
    for ink, lowest in zip(inks, lowest_inks(row, inks), strict=True):
        own, others = ([group for other, group in laid if (other == ink) is same] for same in (True, False))
        assert lowest == (bool(others) and max(own) < min(others))
