"""Inks as people know them: two swatches, spectra, glow, how they were made, overrides."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, DarkSwatch, Emission, Ink, Job, LayDown, MadeWith, Swatch
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_ink, swatch_lab
from wempa.craft.vocabulary import Formula, Known, Load, Look, Surface, Tool, Treatment
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

WHITE = Card(Colour(hex="#f8f7f4"))
DARK = Card(Colour(hex="#2b2b2b"))


def one(ink: Ink, card: Card = WHITE, **how: object) -> Floats:
    laid = LayDown((("a", 1.0),), **(how or {"dose": 1.0}))  # type: ignore[arg-type]
    return predict(Job(card, (("a", ink),), (laid,))).colour.lab


def wanted(code: str) -> Floats:
    return cm.lab_from_xyz(cm.xyz_from_srgb(cm.rgb_from_hex(code), "D65"), cm.xyz(np.ones(36)))


def test_swatches_on_light_and_dark_card_both_come_back() -> None:
    # What a fairly opaque coral shows on black: worked out by the model from one more opaque than its formula says.
    opaque = Ink(Swatch(Colour(hex="#e0704f"), known=Known.MEASURED, spread=0.0), Formula.HYBRID, hiding=0.55)
    shown = predict(Job(DARK, (("a", opaque),), (LayDown((("a", 1.0),), dose=1.0),))).colour
    swatch = Swatch(
        Colour(hex="#e0704f"),
        on_dark=DarkSwatch(Colour(spectrum=tuple(shown.spectrum.tolist())), DARK),
        known=Known.MEASURED,
        spread=0.0,
    )
    both = Ink(swatch, Formula.HYBRID)
    assert cm.delta_e(one(both), wanted("#e0704f")) < 0.1
    assert cm.delta_e(one(both, DARK), shown.lab) < 0.3
    alone = replace(both, swatch=replace(swatch, on_dark=None))
    assert cm.delta_e(one(alone, DARK), shown.lab) > 5


def test_two_swatches_narrow_the_margin_on_other_cards() -> None:
    single = Ink(Swatch(Colour(hex="#e0704f"), known=Known.READER), Formula.HYBRID)
    on_dark = DarkSwatch(Colour(hex="#7a4030"), DARK)
    double = replace(single, swatch=replace(single.swatch, on_dark=on_dark))
    laid = (LayDown((("a", 1.0),), dose=1.0),)
    margins = [predict(Job(DARK, (("a", ink),), laid)).margin for ink in (double, single)]
    assert margins[0] < 0.8 * margins[1]


@pytest.mark.parametrize("code", ["#ff4f9a", "#c9f03a", "#ff7a2e", "#39ff14"])
def test_a_glowing_swatch_comes_back_and_gives_out_light(code: str) -> None:
    ink = Ink(Swatch(Colour(hex=code)), Formula.FLUORESCENT)
    found = predict(Job(WHITE, (("a", ink),), (LayDown((("a", 1.0),), dose=1.0),)))
    off = float(cm.delta_e(found.colour.lab, wanted(code)))
    assert off < 0.1 or (off < 1 and "impossible_swatch" in {note.code for note in found.notes})
    prepared = prepare_ink(ink, None, "D65")
    assert prepared.emission[0].sum() > 0.01
    peak = int(np.argmax(prepared.emission[0]))
    # It takes in light of shorter waves than it gives out.
    assert prepared.excitation[0][:peak].mean() > 0.9
    assert prepared.excitation[0][peak + 5 :].max() < 0.1


def test_a_measured_glow_may_pass_one_and_a_layer_on_top_dims_it() -> None:
    x = np.linspace(0, 1, 36)
    spectrum = 0.85 - 0.6 * np.exp(-((x - 0.35) ** 2) / 0.02) + 0.6 * np.exp(-((x - 0.62) ** 2) / 0.002)
    glow = Ink(
        Swatch(Colour(spectrum=tuple(spectrum.tolist())), known=Known.MEASURED),
        Formula.FLUORESCENT,
        emission=Emission(peak=600, energy=0.5),
    )
    inks = (("g", glow), ("b", Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE)))
    bare = predict(Job(WHITE, inks, (LayDown((("g", 1.0),), dose=1.0),))).colour.spectrum
    assert bare.max() > 1
    topped = predict(Job(WHITE, inks, tuple(LayDown(((k, 1.0),), dose=1.0) for k in "gb"))).colour.spectrum
    assert topped[22] < 0.4 * bare[22]


@pytest.mark.parametrize("surface", [Surface.SMOOTH, Surface.WATERCOLOUR, Surface.COATED])
def test_the_tool_that_made_the_swatch_gives_it_back_on_its_card(surface: Surface) -> None:
    made = MadeWith(Tool.BRUSH, Load.LIGHT, 3)
    card = Card(Colour(hex="#f8f7f4"), surface)
    ink = Ink(Swatch(Colour(hex="#8fb8d8"), card=None, made_with=made), Formula.DYE)
    again = one(ink, card, tool=Tool.BRUSH, load=Load.LIGHT, passes=3.0)
    assert cm.delta_e(again, wanted("#8fb8d8")) < 0.1
    assert one(ink, card, tool=Tool.PAD)[0] < again[0] - 8


def test_an_ink_and_a_card_override_the_table() -> None:
    plain = Ink(Swatch(Colour(hex="#2456a6")), Formula.HYBRID)
    assert cm.delta_e(one(plain, DARK), one(replace(plain, constants=(("hiding", 0.6),)), DARK)) > 5
    assert cm.delta_e(one(plain, DARK), one(replace(plain, hiding=0.6), DARK)) > 5
    same = one(replace(plain, constants=(("hiding", 0.6),)), DARK)
    assert cm.delta_e(same, one(replace(plain, hiding=0.6), DARK)) < 1e-6
    low, high = (replace(WHITE, constants=(("takeup", t),)) for t in (0.3, 1.0))
    laid = tuple(LayDown((("a", 1.0),), dose=1.0) for _ in range(2))
    dye = Ink(Swatch(Colour(hex="#8fb8d8")), Formula.DYE)
    labs = [predict(Job(card, (("a", dye),), laid)).colour.lab for card in (low, high)]
    assert labs[0][0] > labs[1][0] + 1
    with pytest.raises(JobError, match=r"no constant 'tool\.spoon"):
        predict(Job(WHITE, constants=(("tool.spoon.amount", 1.0),)))


def test_no_energy_is_created_by_any_treatment() -> None:
    inks = (
        ("w", Ink(Swatch(Colour(hex="#ffffff")), Formula.PIGMENT)),
        ("h", Ink(Swatch(Colour(hex="#ffe9f0")), Formula.HYBRID)),
    )
    laid = [LayDown(((k, 1.0),), dose=3.0) for k in "wh"]
    for treatment in Treatment:
        for look in Look:
            found = predict(Job(WHITE, inks, (*laid, treatment), look=look))
            for seen in (found.colour, found.drops or found.colour):
                assert seen.spectrum.max() <= 1 + 1e-9
                assert seen.spectrum.min() >= 0


@pytest.mark.parametrize(
    ("formula", "tool", "passes"), [(Formula.DYE, Tool.BRUSH, 6.0), (Formula.HYBRID, Tool.FOAM, 4.0)]
)
def test_a_lid_shows_an_everyday_blend_and_a_typed_colour_a_print(formula: Formula, tool: Tool, passes: float) -> None:
    blend = LayDown((("a", 1.0),), tool=tool, passes=passes)
    pressed = LayDown((("a", 1.0),), tool=Tool.PAD)

    def off(swatch: Swatch, lay: LayDown) -> float:
        job = Job(Card(Colour(hex="#f8f7f4")), (("a", Ink(swatch, formula)),), (lay,))
        return float(cm.delta_e(predict(job).colour.lab, swatch_lab(dict(job.inks)["a"], job)))

    lid = Swatch(Colour(hex="#3f7fb0"), known=Known.LID)
    assert off(lid, blend) < 0.3
    # A hybrid's print is hardly deeper than its blend.
    assert off(lid, pressed) > (3 if formula is Formula.DYE else 1)
    typed = replace(lid, known=Known.TYPED)
    assert off(typed, pressed) < 0.3
    # What is said of it counts, whatever it is known by.
    assert off(replace(lid, made_with=MadeWith()), pressed) < 0.3


def test_a_lid_was_blended_by_its_makers_hand_and_not_by_ones_own() -> None:
    """Who brushes more heavily than the table has it comes out deeper than the lid, and as deep as their own swatch."""
    heavy = (("tool.brush.amount", 1.6 * constants.AS_SHIPPED["tool.brush.amount"]),)
    blend = LayDown((("a", 1.0),), tool=Tool.BRUSH, passes=6.0)
    lid = Swatch(Colour(hex="#3f7fb0"), known=Known.LID)
    own = replace(lid, made_with=MadeWith(Tool.BRUSH, passes=6.0))
    for swatch, deeper in ((lid, True), (own, False)):
        job = Job(Card(Colour(hex="#f8f7f4")), (("a", Ink(swatch, Formula.DYE)),), (blend,), constants=heavy)
        found = predict(job).colour.lab[0] < swatch_lab(dict(job.inks)["a"], job)[0] - 2
        assert bool(found) is deeper
