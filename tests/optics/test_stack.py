"""The batch engine: one way of computing, whatever the size; no energy; no jumps."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.optics.test_ink import hexes
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.results import Prediction
from wempa.craft.vocabulary import Formula, Over, Surface
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.layers import Layers, NamedLayers
from wempa.optics.stack import Palette, Stacks, lab_on, reflect, reflect_on

COLOURS = ("#2456a6", "#f2801e", "#f7d417", "#c23b86", "#262626", "#ffffff")
FORMULAS = (Formula.DYE, Formula.HYBRID, Formula.PIGMENT, Formula.REACTIVE_PIGMENT, Formula.DYE, Formula.PIGMENT)


def a_palette() -> Palette:
    inks = tuple(
        (str(i), Ink(Swatch(Colour(hex=c)), f)) for i, (c, f) in enumerate(zip(COLOURS, FORMULAS, strict=True))
    )
    bench = prepare_job(Job(Card(Colour(hex="#a8dcc0")), inks), [key for key, _ in inks])
    # A new one each time: what is made ready is kept by content, and with it the layers worked out so far.
    return Palette(bench.palette.cards, bench.palette.inks)


def random_stacks(count: int, width: int, wet: bool, layers: int) -> Stacks:
    """Stacks of up to `width` of so many layers; wet ones hold two inks."""
    rng = np.random.default_rng(count)
    members = 2 if wet else 1
    ink = 6 * rng.integers(0, len(COLOURS), (layers, members))
    shape = (layers, members)
    made = Layers(
        ink=ink,
        dose=rng.choice([0.3, 0.7, 1.0, 1.6], shape) * (np.arange(members) < rng.integers(1, 3, (layers, 1))),
        scatter=rng.choice([1.0, 0.6], shape),
        held=np.where(np.arange(members) > 0, 0.5, 0.0) * np.ones(shape),
        cover=rng.choice([1.0, 0.8], layers),
    )
    layer = rng.integers(0, layers, (count, width))
    layer[np.arange(width) >= rng.integers(0, width + 1, count)[:, None]] = -1
    # Distinct inks with their doses: here each entry of each layer counts for itself.
    there = np.repeat(layer >= 0, members, axis=1)
    return Stacks(
        layers=made,
        layer=layer,
        card=rng.integers(0, 2, count),
        ink=ink[layer].reshape(count, -1),
        total=np.where(there, made.dose[layer].reshape(count, -1), 0.0),
        floor_scale=np.ones(count),
        pores=rng.choice([0.0, 0.2], count),
        vividness=rng.choice([1.0, 1.05], count),
    )


@pytest.mark.parametrize("wet", [False, True])
@pytest.mark.parametrize("layers", [30, 9000])
def test_a_batch_is_its_stacks_one_by_one(wet: bool, layers: int) -> None:
    """Chunks, tables of films and padding change nothing; single precision next to nothing."""
    palette = a_palette()
    stacks = random_stacks(3000, 3, wet, layers)
    together = reflect(stacks, palette)
    some = reflect(stacks.take(slice(0, 500)), palette)
    for row in range(0, 3000, 97):
        alone = reflect(stacks.take(slice(row, row + 1)), palette)
        assert cm.delta_e(cm.lab(together[row]), cm.lab(alone[0])) < 1e-3
        if row < 500:
            np.testing.assert_allclose(some[row], alone[0], rtol=1e-10)
    np.testing.assert_allclose(lab_on(stacks, palette, [stacks.card])[0], cm.lab(together), atol=1e-3)
    assert together.min() > 0
    assert together.max() <= 1


def test_an_empty_stack_is_the_card() -> None:
    job = Job(Card(Colour(hex="#a8dcc0")))
    found = predict(job)
    assert found.colour.hex == "#a8dcc0"
    assert found.verdict.kind == "clean"
    assert found.verdict.mud == 0
    assert found.verdict.way is None


def a_stack(first: str, second: str, formulas: tuple[Formula, Formula], doses: Floats, over: Over) -> Prediction:
    inks = tuple(
        (key, Ink(Swatch(Colour(hex=c)), f)) for key, c, f in zip("ab", (first, second), formulas, strict=True)
    )
    laid = tuple(LayDown(((key, 1.0),), dose=float(d)) for key, d in zip("ab", doses, strict=True))
    return predict(Job(Card(Colour(hex="#f8f7f4"), Surface.SMOOTH), inks, (laid[0], replace(laid[1], over=over))))


@settings(max_examples=60, deadline=None)
@given(
    hexes,
    hexes,
    st.tuples(st.sampled_from(list(Formula)[:5]), st.sampled_from(list(Formula)[:5])),
    st.tuples(st.floats(0.01, 3), st.floats(0.01, 3)),
    st.sampled_from(list(Over)),
)
def test_one_per_cent_of_dose_never_jumps(
    first: str, second: str, formulas: tuple[Formula, Formula], doses: tuple[float, float], over: Over
) -> None:
    base = np.array(doses)
    before = a_stack(first, second, formulas, base, over).colour.lab
    for factor in ([1.01, 1], [1, 1.01]):
        after = a_stack(first, second, formulas, base * factor, over).colour.lab
        assert cm.delta_e(before, after) < 1


@settings(max_examples=40, deadline=None)
@given(hexes, hexes, st.sampled_from(list(Formula)[:5]), st.sampled_from(list(Over)), st.booleans())
def test_a_trace_of_any_ink_changes_next_to_nothing(
    first: str, second: str, formula: Formula, over: Over, on_top: bool
) -> None:
    doses = np.array([1, 1e-5] if on_top else [1e-5, 1])
    traced = a_stack(first, second, (formula, formula), doses, over).colour.lab
    kept = first if on_top else second
    ink = Ink(Swatch(Colour(hex=kept)), formula)
    plain = predict(Job(Card(Colour(hex="#f8f7f4")), (("a", ink),), (LayDown((("a", 1.0),), dose=1.0),)))
    assert cm.delta_e(traced, plain.colour.lab) < 0.5


def test_order_of_transparent_dyes_matters_only_by_take_up() -> None:
    card = Card(Colour(hex="#f8f7f4"), takeup=1.0)
    inks = (
        ("a", Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE)),
        ("b", Ink(Swatch(Colour(hex="#f7d417")), Formula.DYE)),
    )
    laid = (LayDown((("a", 1.0),), dose=1.0), LayDown((("b", 1.0),), dose=1.0))
    one, two = predict(Job(card, inks, laid)), predict(Job(card, inks, laid[::-1]))
    assert cm.delta_e(one.colour.lab, two.colour.lab) < 1


def test_films_are_kept_and_found_again_by_what_they_are() -> None:
    """Kept films change no result, also when there are more than are kept and several ask at once."""
    stacks = random_stacks(60, 3, True, 40)
    fresh = reflect(stacks, a_palette())
    palette = a_palette()
    first = reflect(stacks, palette)
    held = len(palette.tabulated._place)
    again = reflect(stacks, palette)
    np.testing.assert_array_equal(first, fresh)
    np.testing.assert_array_equal(again, first)
    assert len(palette.tabulated._place) == held <= 40

    many = [random_stacks(60 + k, 3, True, 300) for k in range(12)]
    with ThreadPoolExecutor(4) as pool:
        together = list(pool.map(lambda one: reflect(one, palette), many * 2))
    for one, found in zip(many * 2, together, strict=True):
        np.testing.assert_allclose(found, reflect(one, a_palette()), rtol=1e-12)
    assert len(palette.tabulated._place) <= palette.tabulated._MOST


def test_more_layers_than_are_kept_are_worked_out_all_the_same() -> None:
    stacks, palette = random_stacks(1900, 2, False, 1800), a_palette()
    found = reflect(stacks, palette)
    for row in range(0, 1900, 190):
        alone = reflect(stacks.take(slice(row, row + 1)), a_palette())
        np.testing.assert_allclose(found[row], alone[0], rtol=1e-10)


def test_several_cards_at_once_are_one_by_one() -> None:
    palette = a_palette()
    for count, layers in ((50, 30), (2500, 30)):
        stacks = random_stacks(count, 2, False, layers)
        other = 1 - stacks.card
        both = reflect_on(stacks, palette, [stacks.card, other])
        np.testing.assert_allclose(both[0], reflect(stacks, palette), rtol=1e-12)
        np.testing.assert_allclose(both[1], reflect(replace(stacks, card=other), palette), rtol=1e-12)


def named(stacks: Stacks, names: list[str], asked: list[str]) -> Stacks:
    """The same stacks with a run of one layer for each name; notes each time the numbers are made."""

    def make() -> Layers:
        asked.append("made")
        return stacks.layers

    runs = [(name, 1) for name in names]
    return replace(stacks, layers=NamedLayers(runs, stacks.layers.closed, stacks.layers.crossed, make))


def test_layers_that_are_known_by_name_are_not_made_again() -> None:
    palette, stacks = a_palette(), random_stacks(40, 3, wet=True, layers=12)
    plain, asked, names = reflect(stacks, a_palette()), list[str](), [f"layer {k}" for k in range(12)]
    for times in (1, 1):
        np.testing.assert_array_equal(reflect(named(stacks, names, asked), palette), plain)
        assert len(asked) == times
    # One name that is new, and all numbers are asked for.
    renamed = [*names[:-1], "another"]
    np.testing.assert_array_equal(reflect(named(stacks, renamed, asked), palette), plain)
    assert len(asked) == 2


def test_names_outlive_no_table_of_films() -> None:
    """What is known by name is forgotten with the films that it stood for."""
    palette, stacks, asked = a_palette(), random_stacks(40, 3, wet=False, layers=12), list[str]()
    names = [f"dry layer {k}" for k in range(12)]
    plain = reflect(named(stacks, names, asked), palette)
    for dose in np.linspace(0.1, 2, 140):
        more = replace(stacks.layers, dose=stacks.layers.dose + dose)
        reflect(replace(stacks, layers=more), palette)
    np.testing.assert_array_equal(reflect(named(stacks, names, asked), palette), plain)
    assert len(asked) == 2


def test_named_layers_show_their_numbers_and_nothing_else() -> None:
    stacks = random_stacks(4, 2, wet=True, layers=3)
    layers = named(stacks, ["a", "b", "c"], []).layers
    assert len(layers) == 3
    assert layers.closed == (stacks.layers.cover.min() == 1)
    np.testing.assert_array_equal(layers.dose, stacks.layers.dose)
    np.testing.assert_array_equal(layers.take(np.array([2, 0])).ink, stacks.layers.ink[[2, 0]])
    with pytest.raises(AttributeError):
        layers.weight  # type: ignore[attr-defined]  # noqa: B018
