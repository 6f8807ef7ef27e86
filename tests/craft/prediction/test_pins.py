"""Small rules of prediction that little else would notice: looks in one batch, patches, what counts as lost."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.jobs import PAPER
from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction import cards, margin, prepare
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.mud import apart_from_wanted, clean_between, mud
from wempa.craft.prediction.patches import MOST, patches_of
from wempa.craft.prediction.pools import Soaking, in_the_way
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve
from wempa.craft.prediction.settling import lay_in_numbers, side_by_side
from wempa.craft.prediction.verdict import KINDS, Judgement, Overlaps, judge
from wempa.craft.vocabulary import Formula, Surface, Tool, Treatment, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.namespace import SCALAR

WHITE = Card(Colour(hex="#f8f7f4"))
TABLE = constants.AS_SHIPPED
INKS = {
    "blue": Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE, "Blue"),
    "coral": Ink(Swatch(Colour(hex="#e8705a")), Formula.HYBRID, "Coral"),
    "yellow": Ink(Swatch(Colour(hex="#f2c230")), Formula.DYE, "Yellow"),
}
JOB = Job(WHITE, tuple(INKS.items()))


def lay(key: str, tool: Tool = Tool.FOAM, passes: float = 4.0) -> LayDown:
    return LayDown(((key, 1.0),), tool=tool, passes=passes)


def test_one_glazed_stack_among_plain_ones_is_glazed() -> None:
    stacks = [(lay("coral"),), (lay("coral"), Treatment.GLAZE), (lay("blue"),)]
    found = weigh_stacks(JOB, stacks)
    for lab, stack in zip(found.lab, stacks, strict=True):
        assert float(cm.delta_e(lab, predict(replace(JOB, stack=stack)).colour.lab)) < 1e-4
    assert float(cm.delta_e(found.lab[0], found.lab[1])) > 1


@pytest.mark.parametrize("dips", [1, 2, 3, 4, 5, 7])
def test_the_uppermost_patches_are_told_apart(dips: int) -> None:
    keys = [list(INKS)[n % 3] for n in range(dips)]
    job = replace(JOB, stack=tuple([lay(key, Tool.DIP, 1.0) for key in keys]))
    bench = prepare_job(job, list(INKS))
    row = resolve(job.stack, bench.lookup, bench.card.ground, TABLE)[-1].dry
    kinds = patches_of(row)
    assert MOST == 4
    assert len(kinds) == 2 ** min(dips, MOST)
    assert sum(kind.share for kind in kinds) == pytest.approx(1)


Lab = tuple[float, float, float]


def judged(result: Lab, *parents: Lab) -> VerdictKind:
    """The kind of a colour of which these are the parents, on white card."""
    found = judge(
        Overlaps(
            result=result,
            on_white=result,
            parents=list(parents),
            parents_on_white=list(parents),
            present=[True] * len(parents),
            card=(97.0, 0.0, 2.0),
            card_from_white=0.0,
            white=PAPER,
        ),
        50,
        TABLE,
    )
    return KINDS[int(np.asarray(found.kind))]


@pytest.mark.parametrize(
    ("lost", "kind"),
    [
        # A colour without any blue or yellow in it, or without red or green, is a colour all the same.
        ((80.0, 32.0, 0.0), VerdictKind.SWAMPED),
        ((80.0, 0.0, 40.0), VerdictKind.SWAMPED),
        ((85.0, 1.0, 1.0), VerdictKind.CLEAN),
        ((70.0, -2.0, 0.5), VerdictKind.CLEAN),
    ],
)
def test_only_a_hue_can_be_lost(lost: tuple[float, float, float], kind: VerdictKind) -> None:
    assert judged((32.0, 18.0, -52.0), (32.0, 18.0, -52.0), lost) is kind


def test_a_stated_dose_and_a_tool_are_told_apart_in_numbers() -> None:
    bench = prepare_job(JOB, list(INKS))
    ink = bench.lookup["blue"][1]
    stated = LayDown((("blue", 1.0),), dose=0.7, dilution=0.5)
    both = replace(lay("blue"), dose=0.7)
    ways = (stated, lay("blue"), both)
    found = side_by_side([lay_in_numbers(way, [(0, ink)], bench.card.ground, TABLE)[0] for way in ways])
    assert found.by_dose.tolist() == [True, False, True]
    assert found.stated.tolist() == pytest.approx([0.35, 0.0, 0.7])
    assert found.offer[0] == found.offer[2] == 0
    assert found.offer[1] > 0
    assert found.cover.tolist()[0] == 1
    assert found.cover.tolist()[2] == 1


def test_a_swatch_that_cannot_be_says_which_way_it_is_off() -> None:
    def told(code: str, formula: Formula, card: str) -> str:
        ink = Ink(Swatch(Colour(hex=code), card=Card(Colour(hex=card))), formula, "It")
        notes = predict(Job(WHITE, (("a", ink),), (LayDown((("a", 1.0),), dose=1.0),))).notes
        return next((note.text for note in notes if note.code == "impossible_swatch"), "")

    assert "too light for" in told("#f7f4d0", Formula.DYE, "#303030")
    assert "much too light" in told("#f7f4d0", Formula.DYE, "#303030")
    assert told("#2456a6", Formula.DYE, "#f8f7f4") == ""


DYES = {
    "a": Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE, "A"),
    "b": Ink(Swatch(Colour(hex="#f2c230")), Formula.DYE, "B"),
    "c": Ink(Swatch(Colour(hex="#d8404c")), Formula.DYE, "C"),
}


@pytest.mark.parametrize("surface", [Surface.GLOSSY, Surface.COATED, Surface.SMOOTH])
@pytest.mark.parametrize(
    "passes", [(1, 1, 1), (1, 1, 4), (2, 1, 12), (1, 6, 1), (6, 1, 1), (3, 3, 3), (12, 12, 12), (2, 2, 30)]
)
def test_a_third_dye_is_in_the_way_where_it_changes_what_lies_below(surface: Surface, passes: tuple[int, ...]) -> None:
    job = Job(replace(WHITE, surface=surface), tuple(DYES.items()))
    bench = prepare_job(job, list(DYES))
    ground, lookup = bench.card.ground, bench.lookup
    stack = [lay(key, Tool.BRUSH, float(count)) for key, count in zip(DYES, passes, strict=True)]
    two, three = (
        [part.dose for part in resolve(stack[:count], lookup, ground, TABLE)[-1].dry.parts][:2] for count in (2, 3)
    )
    moved = bool(np.abs(np.array(two) - np.array(three)).max() > 1e-6)
    hands = [lay_in_numbers(entry, [lookup[key]], ground, TABLE)[0] for key, entry in zip(DYES, stack, strict=True)]
    *below, own = [Soaking(np.array([one.offer * one.free]), one.way, np.zeros(1)) for one in hands]
    told = bool(in_the_way(own, below, ground, TABLE)[0])
    # It may warn where nothing comes of it, never the other way round.
    assert told or not moved
    if surface is Surface.SMOOTH and sum(passes) < 12:
        assert not told


def test_only_the_whole_is_worked_out_where_only_that_is_asked_for() -> None:
    bench = prepare_job(JOB, list(INKS))
    stack = [lay("blue"), lay("coral"), lay("yellow")]
    every = resolve(stack, bench.lookup, bench.card.ground, TABLE)
    whole = resolve(stack, bench.lookup, bench.card.ground, TABLE, whole_only=True)
    assert (len(every), len(whole)) == (4, 1)
    assert [part.dose for part in whole[0].dry.parts] == [part.dose for part in every[-1].dry.parts]


def test_draws_come_with_their_opposites() -> None:
    drawn = margin._draws()
    assert drawn.shape == (3, 1 + margin.DRAWS)
    assert not drawn[:, 0].any()
    np.testing.assert_allclose(drawn.sum(axis=1), 0, atol=1e-12)
    assert np.abs(drawn[:, 1] + drawn[:, 1 + margin.DRAWS // 2]).max() == 0


def test_inks_made_ready_together_are_what_each_is_alone() -> None:
    own = Ink(Swatch(Colour(hex="#7a2f63"), card=Card(Colour(hex="#c9a77b"))), Formula.UNKNOWN)
    given = [*((ink, None) for ink in INKS.values()), (own, None), (own, Card(Colour(hex="#a8dcc0")))]
    prepare.forget()
    together = prepare.prepare_inks(given, "D65")
    for (ink, card), found in zip(given, together, strict=True):
        prepare.forget()
        alone = prepare.prepare_ink(ink, card, "D65")
        np.testing.assert_allclose(found.absorption, alone.absorption, rtol=1e-9)
        assert (found.offer, found.values, found.notes) == (alone.offer, alone.values, alone.notes)
    # The same one twice is worked out once.
    assert len({id(one) for one in prepare.prepare_inks([given[0]] * 3, "D65")}) == 1


def test_what_was_made_ready_can_be_forgotten() -> None:
    found = predict(replace(JOB, stack=(lay("blue"), lay("coral"))))
    prepare.forget()
    assert cards.prepare_card.cache_info().currsize == len(prepare._inks) == 0
    again = predict(replace(JOB, stack=(lay("blue"), lay("coral"))))
    assert cards.prepare_card.cache_info().currsize > 0
    assert float(cm.delta_e(found.colour.lab, again.colour.lab)) < 1e-6


def test_an_owned_colour_takes_mud_off_and_one_ink_may_show_nothing_new() -> None:
    mud = (42.0, 4.0, 14.0)
    parents = [(60.0, 45.0, 50.0), (40.0, 0.0, -45.0)]

    def found(
        result: tuple[float, float, float], parents: list[tuple[float, float, float]], **more: object
    ) -> Judgement:
        return judge(
            Overlaps(
                result=result,
                on_white=more.pop("on_white", result),  # type: ignore[arg-type]
                parents=list(parents),
                parents_on_white=list(parents),
                present=[True] * len(parents),
                card=more.pop("card", (97.0, 0.0, 2.0)),  # type: ignore[arg-type]
                card_from_white=more.pop("far", 0.0),  # type: ignore[arg-type]
                white=PAPER,
                wanted=more.pop("wanted", None),  # type: ignore[arg-type]
            ),
            50,
            TABLE,
        )

    plain, owned = found(mud, parents), found(mud, parents, wanted=np.array([mud]))
    assert plain.mud > 50
    assert plain.spared == 0
    assert owned.mud == 0
    assert owned.spared == pytest.approx(float(plain.mud))
    # A pale ink that changes neither white card nor the green it lies on.
    green = (85.0, -18.0, 8.0)
    pale = found((84.5, -17.0, 8.0), [(96.0, 0.0, 3.0)], on_white=(82.0, -15.0, 7.0), card=green, far=20.0)
    assert KINDS[int(np.asarray(pale.kind))] is VerdictKind.NO_NEW_COLOUR


def test_no_ink_that_is_owned_spares_nothing() -> None:
    result = (40.0, 12.0, 20.0)
    assert apart_from_wanted(result, np.zeros((0, 3)), TABLE) == pytest.approx(1.0)
    assert apart_from_wanted(result, np.array([[41.0, 12.0, 20.0]]), TABLE) == pytest.approx(0.0)
    assert apart_from_wanted(result, np.array([[90.0, 0.0, 0.0], [40.0, 12.0, 20.0]]), TABLE) == pytest.approx(0.0)
    assert apart_from_wanted(result, np.array([[90.0, 0.0, 0.0]]), TABLE) == pytest.approx(1.0)


def test_a_white_card_takes_nothing_of_a_colour() -> None:
    found = predict(replace(JOB, stack=(lay("yellow"), lay("blue"))))
    table = TABLE
    lab = tuple(found.colour.lab.tolist())
    promise = clean_between([(50.0, -20.0, 40.0), (60.0, 30.0, 10.0)], [True, True], PAPER, table, SCALAR)
    plain = mud(lab, lab, promise, (20.0, 20.0), 0.0, 97.0, table, SCALAR)
    assert plain.card_loss == 0.0
    # A card that counts as coloured takes what is not there any more along the hue on white: here half.
    half = (lab[0], lab[1] / 2, lab[2] / 2)
    assert mud(half, lab, promise, (20.0, 20.0), 1.0, 97.0, table, SCALAR).card_loss == pytest.approx(0.5)


def test_what_is_kept_of_an_ink_or_a_card_is_kept_for_its_own_constants() -> None:
    card, ink = JOB.cardstock, dict(JOB.inks)["blue"]
    other = (("formula.dye.lays", 0.3),)
    prepare.forget()
    plain = predict(replace(JOB, stack=(lay("blue"), lay("coral"))))
    moved = predict(replace(JOB, stack=(lay("blue"), lay("coral")), constants=other))
    assert float(cm.delta_e(plain.colour.lab, moved.colour.lab)) > 2
    # Asked again with either table, each answer is its own; so it is where nothing was kept.
    for constants_said, before in (((), plain), (other, moved)):
        again = predict(replace(JOB, stack=(lay("blue"), lay("coral")), constants=constants_said))
        prepare.forget()
        anew = predict(replace(JOB, stack=(lay("blue"), lay("coral")), constants=constants_said))
        for found in (again, anew):
            assert float(cm.delta_e(found.colour.lab, before.colour.lab)) < 1e-6
    assert cards.prepare_card(card, "D65") is cards.prepare_card(card, "D65")
    assert cards.prepare_card(card, "D65", other) is not cards.prepare_card(card, "D65")
    assert prepare.prepare_ink(ink, card, "D65", other) is not prepare.prepare_ink(ink, card, "D65")
