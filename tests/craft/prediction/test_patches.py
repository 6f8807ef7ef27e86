"""Dips lie in patches: which, how much of the area each takes, and what all of it comes to."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Entry, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.many_stacks import StackLook, stack_colours, weigh_stacks
from wempa.craft.prediction.patches import MOST, as_specks, patches_of, patchy_groups
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.rows import BatchRow
from wempa.craft.prediction.settling import Part
from wempa.craft.prediction.verdict import judge_patches
from wempa.craft.vocabulary import Formula, Look, Over, Tool, Treatment
from wempa.optics import colorimetry as cm

TABLE = constants.AS_SHIPPED
INKS = tuple(
    (key, Ink(Swatch(Colour(hex=colour)), Formula.HYBRID))
    for key, colour in (("blue", "#2456a6"), ("orange", "#f07020"), ("green", "#2f8f4a"))
)


def part(ink: int, group: int, patch: float, dose: float = 1.0, cover: float = 1.0) -> Part:
    return Part(ink, dose, 1.0, cover, 0.0, group, patch=patch)


def dip(key: str, over: Over = Over.DRY, **how: float) -> LayDown:
    return replace(LayDown(((key, 1.0),), tool=Tool.DIP, over=over), **how)  # type: ignore[arg-type]


def job(*stack: Entry, **more: object) -> Job:
    return replace(Job(Card(Colour(hex="#f8f7f4")), INKS, stack), **more)  # type: ignore[arg-type]


def test_two_dried_lie_four_ways_and_all_ink_lies_where_it_lies() -> None:
    row = BatchRow([part(0, 0, 0.5, 0.6), part(6, 1, 0.8, 0.4)])
    found = patches_of(row, [BatchRow(row.parts[:1]), BatchRow(row.parts[1:])])
    assert [round(each.share, 12) for each in found] == [0.4, 0.1, 0.4, 0.1]
    assert [[p.ink for p in each.row.parts] for each in found] == [[0, 6], [0], [6], []]
    assert [[len(alone.parts) for alone in each.alone] for each in found] == [[1, 1], [1, 0], [0, 1], [0, 0]]
    both = found[0].row.parts
    assert [p.dose for p in both] == pytest.approx([1.2, 0.5])
    assert [p.patch for p in both] == [1, 1]
    # The mean dose is what it was.
    for k in range(2):
        assert sum(f.share * p.dose for f in found for p in f.row.parts if p.ink == 6 * k) == pytest.approx(
            row.parts[k].dose
        )


def test_wet_ones_run_together_and_cover_what_any_of_them_covers() -> None:
    row = BatchRow([part(0, 0, 0.5, 0.6), part(6, 0, 0.5, 0.3)])
    assert patchy_groups(row) == {0: 0.75}
    found = patches_of(row)
    assert [each.share for each in found] == [0.75, 0.25]
    assert [p.dose for p in found[0].row.parts] == pytest.approx([0.8, 0.4])


def test_an_even_row_is_one_place_and_beyond_the_most_the_lowest_count_as_specks() -> None:
    even = BatchRow([part(0, 0, 1.0)])
    assert patches_of(even)[0].row is even
    assert as_specks(even) is even
    many = BatchRow([part(6 * k, k, 0.5) for k in range(MOST + 2)])
    found = patches_of(many)
    assert len(found) == 2**MOST
    assert sum(each.share for each in found) == pytest.approx(1)
    assert {tuple(p.cover for p in each.row.parts if p.ink < 12) for each in found} == {(0.5, 0.5)}
    assert [p.cover for p in as_specks(many).parts] == [0.5] * (MOST + 2)


def test_a_dip_covers_half_and_its_mean_light_is_what_is_seen() -> None:
    found = predict(job(dip("blue")))
    (first, ink), (second, bare) = found.patches
    assert (first, second) == (0.5, 0.5)
    seen = {round(each.lab[0]): each for each in (ink, bare)}
    card = predict(job()).colour
    assert cm.delta_e(seen[max(seen)].lab, card.lab) < 1e-6
    mean = (ink.spectrum + bare.spectrum) / 2
    np.testing.assert_allclose(found.colour.spectrum, mean, atol=1e-9)
    np.testing.assert_allclose(found.colour.lab, cm.lab(mean), atol=1e-9)
    # Twice over leaves a quarter bare, and shows in patches of one and two coats.
    twice = predict(job(dip("blue"), dip("blue")))
    assert sorted(share for share, _ in twice.patches) == pytest.approx([0.25, 0.25, 0.5])
    assert predict(job(LayDown((("blue", 1.0),), tool=Tool.FOAM, passes=3.0))).patches == ()


def test_mud_is_the_mean_by_share_and_the_kind_follows_from_it() -> None:
    dried = predict(job(dip("blue"), dip("orange")))
    wet = predict(job(dip("blue"), dip("orange", Over.WET)))
    # Where both lie: as much ink as a dip lays where it lies, on all of the area.
    own = TABLE["tool.dip.amount"]
    amount = 2 * own / predict_amount("blue")
    both = job(LayDown((("blue", 1.0),), dose=amount), LayDown((("orange", 1.0),), dose=amount))
    assert dried.verdict.mud == pytest.approx(predict(both).verdict.mud / 4, abs=6)
    assert wet.verdict.mud > 2 * dried.verdict.mud
    assert dried.verdict.reasons[-1].code == "in_patches"
    # Opposites go muddy where they meet, though the whole is not: that is not called a clean blend.
    assert dried.verdict.kind != "muddy"
    assert not any("cleanly" in reason.text for reason in dried.verdict.reasons)
    assert "where all of it meets" in dried.verdict.reasons[-1].text


def predict_amount(key: str) -> float:
    from wempa.craft.prediction.prepare import prepare_job

    return prepare_job(job(), [key]).inks[0].amount


def test_kinds_of_places_make_the_kind_of_the_whole() -> None:
    whose = np.array([0, 0, 1, 1, 2, 2, 3, 3])
    share = np.array([0.5, 0.5, 0.4, 0.6, 0.4, 0.6, 0.3, 0.7])
    mud = np.array([98.0, 4, 20, 40, 10, 0, 0, 0])
    kind = np.array([2, 0, 2, 1, 1, 0, 3, 4])
    mean, kinds = judge_patches(kind, mud, share, whose, 50, constants.AS_SHIPPED)
    assert mean.tolist() == pytest.approx([51, 32, 4, 0])
    # Muddy at the line; muted where most is dull; clean where most is; nothing new where most is not.
    assert kinds.tolist() == [2, 1, 0, 4]
    assert judge_patches(kind, mud, share, whose, 52, constants.AS_SHIPPED)[1][0] == 0


def test_many_at_once_say_what_one_says() -> None:
    stacks: list[tuple[Entry, ...]] = [
        (dip("blue"), dip("orange"), dip("green")),
        (dip("blue"), dip("orange", Over.WET)),
        (LayDown((("blue", 1.0),), dose=1.0),),
        (dip("blue", dilution=0.5), Treatment.SPRITZ, dip("green")),
        (LayDown((("green", 1.0),), dose=1.0), LayDown((("orange", 1.0),), dose=0.8)),
        (),
    ]
    found = weigh_stacks(job(), stacks)
    wet = stack_colours(job(), stacks, StackLook.DROPS)[0]
    for k, stack in enumerate(stacks):
        said = predict(job(*stack))
        np.testing.assert_allclose(found.lab[k], said.colour.lab, atol=1e-6)
        assert found.mud[k] == pytest.approx(said.verdict.mud, abs=1e-6)
        assert found.kind_of(k) == said.verdict.kind
        np.testing.assert_allclose(wet[k], (said.drops or said.colour).lab, atol=1e-6)
    assert found.cover == pytest.approx([0.875, 0.75, 1, 0.75, 1, 1])


def test_steps_and_looks_are_mean_light_too() -> None:
    found = predict(job(dip("blue"), dip("orange"), look=Look.WET))
    first = predict(job(dip("blue"), look=Look.WET))
    np.testing.assert_allclose(found.steps[0].lab[0], predict(job(dip("blue"))).colour.lab[0], atol=8)
    assert len(found.steps) == 2
    assert 0 < first.verdict.mud_chance < 1 or first.verdict.mud == 0
    assert 0 <= found.verdict.mud_chance <= 1
