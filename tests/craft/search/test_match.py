"""Match: what the search finds is the nearest there is, and no bound is above the truth."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.craft.search.stashes import colours, every_stack, reach, stash
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Entry, LayDown
from wempa.craft.search import match
from wempa.craft.search.features import FeatureBasis
from wempa.craft.search.screen import _class_starts
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Surface, Tool, Treatment
from wempa.optics import colorimetry as cm
from wempa.optics.colorimetry import xyz_from_lab

TABLE = constants.AS_SHIPPED
BRUSHED = LayDown((("i0", 1.0),), tool=Tool.BRUSH, passes=3.0)
SCENES: list[tuple[str, Surface, tuple[Entry, ...]]] = [
    ("#f8f7f4", Surface.SMOOTH, ()),
    ("#a8dcc0", Surface.TEXTURED, (BRUSHED,)),
    ("#f8f7f4", Surface.GLOSSY, (BRUSHED, Treatment.GLAZE)),
    ("#2a2f3a", Surface.ABSORBENT, ()),
    ("#f8f7f4", Surface.COATED, ()),
]


@pytest.mark.parametrize(("card", "surface", "start"), SCENES)
def test_reaches_what_prediction_gives(card: str, surface: Surface, start: tuple[Entry, ...]) -> None:
    """Ones, twos and threes come to the same colour as `weigh` finds for them."""
    found = reach(stash(3, 6), card, surface, start)
    pairs, rng = found.pairs, np.random.default_rng(1)
    at = rng.integers(0, len(pairs.below), 60)
    top = rng.choice(np.flatnonzero(~found.glows), 60)
    top[found.ink[top] == found.ink[pairs.above[at]]] = int(np.flatnonzero(~found.glows)[0])
    lays = np.stack([pairs.below[at], pairs.above[at]], axis=1).tolist()
    twos = [found.stack(two, bool(pairs.wet[k])) for two, k in zip(lays, at, strict=True)]
    threes = [(*two, found.lays[k]) for two, k in zip(twos, top, strict=True)]
    assert np.abs(found.singles - colours(found, [(lay,) for lay in found.lays])).max() < 2e-3
    assert cm.delta_e(pairs.lab[at].astype(float), colours(found, list(twos))).max() < 4e-3
    off = cm.delta_e(found.thirds(at, top), colours(found, list(threes)))
    moved = found.crowds(at, top)
    assert off[~moved].max() < 2e-3
    # On sealed card a dye over two takes from those below: such stacks are not reached, and there is no need to.
    assert moved.any() == (surface in (Surface.COATED, Surface.GLOSSY))
    assert moved.mean() < 0.6
    glowing = found.glowing_pairs
    some = [
        found.stack([a, b], bool(wet))
        for a, b, wet in zip(glowing.below[:40], glowing.above[:40], glowing.wet[:40], strict=True)
    ]
    assert cm.delta_e(glowing.lab[:40].astype(float), colours(found, list(some))).max(initial=0) < 2e-3


def last(found: SearchSpace, target: tuple[float, float, float], **how: float | int) -> match.Search:
    return list(match.search(found, np.array(target), **how))[-1]  # type: ignore[arg-type]


@settings(max_examples=25, deadline=None)
@given(
    seed=st.integers(0, 10_000),
    count=st.integers(1, 5),
    scene=st.sampled_from(SCENES),
    target=st.tuples(st.floats(15, 95), st.floats(-60, 60), st.floats(-60, 60)),
)
def test_search_equals_brute_force(
    seed: int, count: int, scene: tuple[str, Surface, tuple[Entry, ...]], target: tuple[float, float, float]
) -> None:
    """The nearest of all stacks is found, and the proven bound is never above it."""
    found = reach(stash(seed, count), *scene, hands=2)
    apart = cm.delta_e(colours(found, every_stack(found)), np.array(target))
    truth = float(apart.min())
    for step in match.search(found, np.array(target)):
        assert step.bound <= truth + 1e-9
        assert 0 <= step.done <= 1
    assert step.best == pytest.approx(truth, abs=4e-3)
    assert step.gap <= 0.01
    nearest = min(step.found, key=lambda each: each.delta_e)
    own = colours(found, [found.stack(nearest.lays, nearest.wet)])
    assert float(cm.delta_e(own, np.array(target))[0]) == pytest.approx(truth, abs=4e-3)


def test_stops_at_a_gap_that_is_enough() -> None:
    found = reach(stash(5, 8))
    truth = last(found, (50, 60, 40)).best
    early = last(found, (50, 60, 40), enough=0.5)
    assert early.best - 0.5 - 1e-2 <= early.bound <= truth <= early.best + 1e-9


def test_leaves_out_what_may_not_be_used() -> None:
    """An ink's own colour without that ink, and stacks of one or two only."""
    found = reach(stash(6, 6))
    own = tuple(found.singles[1])
    assert last(found, own).best < 0.01
    without = match.search(found, np.array(own), without=frozenset({"i0"}))
    for one in list(without)[-1].found:
        assert all(found.lays[k].parts[0][0] != "i0" for k in one.lays)
    for most in (1, 2):
        some = list(match.search(found, np.array([50.0, 10, 10]), most=most))[-1]
        assert {len(one.lays) for one in some.found} == set(range(1, most + 1))
        apart = cm.delta_e(colours(found, every_stack(found, most)), np.array([50.0, 10, 10]))
        assert some.best == pytest.approx(float(apart.min()), abs=4e-3)


def test_one_ink_and_an_undeclared_one() -> None:
    found = reach(stash(9, 1))
    assert {len(one.lays) for one in last(found, (50, 0, 0)).found} == {1}
    with pytest.raises(JobError, match="not declared"):
        SearchSpace(found.job, [LayDown((("nobody", 1.0),), tool=Tool.BRUSH)])


# At 14 a stack of two is all but one of those that the principal dimensions were taken from: what is left over of
# it is small beside what is not, and is not to be rounded away.
@pytest.mark.parametrize("seed", [11, 14])
@pytest.mark.parametrize(("card", "surface", "start"), SCENES)
def test_screen_is_never_below_the_truth(card: str, surface: Surface, start: tuple[Entry, ...], seed: int) -> None:
    """No stack of three comes to more in any direction than its linear bound says."""
    found = reach(stash(seed, 24), card, surface, start)
    screen, rng = found.screen, np.random.default_rng(2)
    place = rng.integers(0, len(screen.order), 20_000)
    top = rng.choice(np.flatnonzero(~found.glows), len(place))
    pair, kind = screen.order[place], np.searchsorted(screen.starts, place, side="right") - 1
    again = (found.ink[found.pairs.below[pair]] == found.ink[top]) | (
        found.ink[found.pairs.above[pair]] == found.ink[top]
    )
    seen, slack = xyz_from_lab(found.thirds(pair, top), np.ones(3)), []
    for direction in rng.normal(size=(30, 3)):
        bound, wider = screen.most(direction)
        up = np.einsum("ij,ij->i", screen.features[place], bound[kind, top]) + again * wider[top]
        over = (up - seen @ direction) / np.abs(direction).sum()
        assert over.min() >= 0
        slack.append(float(np.median(over)))
    # And it is close, or it would be of no use.
    assert np.mean(slack) < 0.012
    # A group of stacks is bounded by its middle and half.
    groups = np.searchsorted(screen.groups, place, side="right") - 1
    assert (np.abs(screen.features[place] - screen.middle[groups]) <= screen.half[groups] + 1e-6).all()
    assert (screen.group_class[groups] == kind).all()


def test_nothing_is_worked_into_the_wet_of_what_is_dry_by_then() -> None:
    """Over a card's front a brush takes most of a minute: dyes are dry then, hybrids and pigments are open."""
    found = reach(stash(3, 12))
    for low, high in zip(found.pairs.below[found.pairs.wet], found.pairs.above[found.pairs.wet], strict=True):
        ink, lay = found.bench.inks[found.ink[low]], found.lays[high]
        assert lay.tool is not None
        assert ink.values["open_time"] >= 150 * TABLE[f"work.{lay.tool}.pace"]
    formulas = {str(found.bench.inks[found.ink[low]].formula) for low in found.pairs.below[found.pairs.wet]}
    assert formulas & {"hybrid", "pigment", "reactive_pigment"}
    assert not formulas & {"dye", "fluorescent"}


def test_products_are_bounded_in_few_dimensions_and_closely() -> None:
    """No product of a stack and a function is more than its dimensions and what is left over say."""
    rng = np.random.default_rng(4)
    # Stacks differ most where functions are all but blind, as spectra do where nobody sees.
    shape = np.exp(-np.arange(252) / 20)
    mixed = rng.normal(size=(252, 252))
    stacks = (rng.normal(size=(400, 252)) * shape[::-1]) @ mixed * 0.02
    functions = (rng.normal(size=(300, 252)) * shape) @ np.linalg.inv(mixed).T
    basis = FeatureBasis.of(stacks, functions)
    on, (of, left) = basis.stacks(stacks.astype(np.float32)), basis.functions(functions[None])
    assert on.shape == (400, basis.width)
    truth = stacks @ functions.T
    middle, room = on[:, :-1] @ of[0].T, np.outer(on[:, -1], np.sqrt(left[:, 0, 0]))
    assert (np.abs(truth - middle) <= room + 1e-5 * np.abs(truth).max()).all()
    # A basis that looked at the stacks alone would leave most of it open.
    plain = np.linalg.svd(stacks, full_matrices=False)[2][: basis.width - 1]
    far = np.linalg.norm(stacks - stacks @ plain.T @ plain, axis=1)
    open_ = np.outer(far, np.linalg.norm(functions - functions @ plain.T @ plain, axis=1))
    assert np.median(room) < 0.2 * np.median(open_)


def test_classes_are_a_step_apart_and_not_too_many() -> None:
    assert _class_starts(np.zeros(5)).tolist() == [0, 5]
    assert _class_starts(np.array([0.0, 0.001, 0.005, 0.0051, 0.1])).tolist() == [0, 2, 4, 5]
    assert len(_class_starts(np.linspace(-3, 0, 10_000))) <= 34
