"""Colours told apart, and inks that go together."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.colour.distinct import alike_groups, evened, most_different, newness
from wempa.craft.job import Card, Colour, LayDown
from wempa.craft.search.chart import ordered_pairs
from wempa.craft.search.company import Seams, company, fewest_for_rainbow
from wempa.craft.vocabulary import Blend, Tool
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import Ink
from wempa.optics import colorimetry as cm

TABLE = constants.AS_SHIPPED


def seams(*names: str, card: str = "#f8f7f4") -> tuple[Seams, list[str]]:
    found = [body for body in ink_bodies() if not names or body["name"] in names]
    inks = [Ink.model_validate(body["body"]).to_core() for body in found]
    way = LayDown((("", 1.0),), tool=Tool.FOAM, passes=4.0)
    return Seams(ordered_pairs(inks, Card(Colour(hex=card)), way), TABLE), [body["name"] for body in found]


@pytest.fixture(scope="module")
def demo() -> tuple[Seams, list[str]]:
    return seams()


def test_the_better_order_of_a_seam(demo: tuple[Seams, list[str]]) -> None:
    """Never more mud than the other way round, and the same seam from both sides."""
    found, _ = demo
    assert (found.joins == found.joins.T).all()
    assert np.array_equal(found.mix, found.mix.transpose(1, 0, 2))
    assert (found.upright | found.upright.T).all()


@pytest.mark.parametrize("blend", list(Blend))
def test_neighbours_of_a_set_join(demo: tuple[Seams, list[str]], blend: Blend) -> None:
    """No seam of any set is muddy or hard; what is shown are its bands and in-betweens."""
    found, _ = demo
    sets = company(found, blend)
    assert sets
    for one in sets:
        assert 2 <= len(set(one.inks)) <= 7
        for a, b in itertools.pairwise(one.inks):
            assert found.joins[a, b]
        assert len(one.shown) == 2 * len(one.inks) - 1
        assert np.array_equal(one.shown[::2], found.alone[list(one.inks)])
        assert 1 <= one.colours <= len(one.shown)
        for below, pair in zip(one.below, itertools.pairwise(one.inks), strict=True):
            assert below in pair


def test_each_kind_is_what_it_says(demo: tuple[Seams, list[str]]) -> None:
    found, _ = demo
    for one in company(found, Blend.FAMILY):
        hue = np.exp(1j * np.radians(found.hue[list(one.inks)]))
        assert np.abs(np.degrees(np.angle(hue / hue.mean()))).max() <= 60
        assert (np.diff(found.alone[list(one.inks), 0]) < 0).all()
    for one in company(found, Blend.BRIDGE):
        a, bridge, b = one.inks
        assert abs((found.hue[a] - found.hue[b] + 180) % 360 - 180) >= 135
        assert not found.joins[a, b]
        assert found.joins[a, bridge]
        assert found.joins[bridge, b]
    best = company(found, Blend.RAINBOW)[0]
    assert best.inks[0] == best.inks[-1]
    assert best.sectors == 6
    assert max(one.colours - len(set(one.inks)) for one in company(found, Blend.MANY)) >= 2


def test_a_hero_is_in_every_set(demo: tuple[Seams, list[str]]) -> None:
    found, names = demo
    hero = names.index("Boiler Blue")
    for blend in Blend:
        assert all(hero in one.inks for one in company(found, blend, hero))


def test_fewest_for_a_rainbow() -> None:
    """Three primaries make a whole one; without blue there is none."""
    found, names = seams("Platform Rose", "Brass Gauge", "Rain Coat", "Brick Arch")
    three = fewest_for_rainbow(found)
    assert three is not None
    assert {names[k] for k in three.inks} == {"Platform Rose", "Brass Gauge", "Rain Coat"}
    assert three.sectors == 6
    assert fewest_for_rainbow(seams("Platform Rose", "Brass Gauge", "Brick Arch")[0]) is None


def test_a_ring_of_three_is_closed_and_only_where_its_ends_join() -> None:
    found, names = seams("Platform Rose", "Brass Gauge", "Rain Coat")
    three = fewest_for_rainbow(found)
    assert three is not None
    assert len(three.inks) == 4
    assert three.inks[0] == three.inks[-1]
    ring = [names[k] for k in three.inks]
    # Where any one of its three seams is spoilt, the ring is none.
    for first, second in itertools.pairwise(ring):
        a, b = names.index(first), names.index(second)
        parted = seams("Platform Rose", "Brass Gauge", "Rain Coat")[0]
        parted.joins[a, b] = parted.joins[b, a] = False
        broken = fewest_for_rainbow(parted)
        assert broken is None or not {(a, b), (b, a)} & set(itertools.pairwise(broken.inks)), (first, second)


def test_one_ink_has_no_company() -> None:
    found, _ = seams("Boiler Blue")
    assert [company(found, blend) for blend in Blend] == [[], [], [], []]
    assert fewest_for_rainbow(found) is None


def test_looks_alike_and_differs_most() -> None:
    rng = np.random.default_rng(1)
    lab = np.stack([rng.uniform(20, 95, 3000), *rng.normal(0, 25, (2, 3000))], axis=1)
    leader = alike_groups(lab, 4.0)
    places = evened(lab)
    assert (leader[leader] == leader).all()
    assert np.linalg.norm(places - places[leader], axis=1).max() <= 4.0
    leaders = places[np.unique(leader)]
    apart = np.linalg.norm(leaders[:, None] - leaders[None], axis=2)
    assert apart[~np.eye(len(leaders), dtype=bool)].min() > 4.0
    chosen = lab[:, 0] > 50
    picked = most_different(lab, 8, chosen)
    assert chosen[picked].all()
    own = min(float(cm.delta_e(lab[a], lab[b])) for a, b in itertools.combinations(picked, 2))
    others = [
        min(float(cm.delta_e(lab[a], lab[b])) for a, b in itertools.combinations(some, 2))
        for some in rng.choice(np.flatnonzero(chosen), (40, 8))
    ]
    assert own > max(others)
    assert most_different(lab, 5, np.zeros(3000, dtype=bool)) == []


def test_newness_is_the_distance_to_the_nearest_owned() -> None:
    rng = np.random.default_rng(2)
    lab = np.stack([rng.uniform(20, 95, 1500), *rng.normal(0, 30, (2, 1500))], axis=1)
    owned = lab[:200]
    found = newness(lab, owned)
    truth = np.stack([cm.delta_e(lab, one) for one in owned]).min(axis=0)
    assert found[:200].max() < 1e-3
    assert (found >= truth - 1e-3).all()
    # Where the nearest is missed, which is seldom, the one found is a little farther.
    assert (found > truth + 0.5).mean() < 0.02
    assert np.isinf(newness(lab[:3], owned[:0])).all()


def test_fewer_inks_join_on_kraft(demo: tuple[Seams, list[str]]) -> None:
    """Brown card takes many mixes to mud."""
    kraft, _ = seams(card="#8a6a48")
    assert kraft.joins.mean() < demo[0].joins.mean() - 0.01


@pytest.mark.parametrize("blend", [Blend.FAMILY, Blend.MANY, Blend.RAINBOW])
@pytest.mark.parametrize("name", ["Night Train", "Lamp Oil", "Carriage Plum", "Brass Gauge"])
def test_sets_are_built_round_any_ink(demo: tuple[Seams, list[str]], blend: Blend, name: str) -> None:
    """A dark ink, or a black one, is as good a beginning as a pale one."""
    found, names = demo
    hero = names.index(name)
    sets = company(found, blend, hero)
    assert sets
    assert all(hero in one.inks for one in sets)
    if blend is Blend.FAMILY:
        for one in sets:
            light = found.alone[list(one.inks), 0]
            assert (np.diff(light) <= -4).all()
        assert any(one.inks[0] != hero for one in sets) or name == "Brass Gauge"
