"""The painter's circle, the clean in-between, the kinds of verdict and the mud line."""

from __future__ import annotations

import numpy as np
import pytest

from tests.jobs import PAPER, changed, job
from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.naming import describe
from wempa.craft.prediction.mud import clean_between
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.reasons import parts_word
from wempa.craft.prediction.results import Prediction, Verdict
from wempa.craft.prediction.verdict import Overlaps, judge
from wempa.formats.job import read_one
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.optics.namespace import SCALAR


def run(stack: list[dict[str, object]] | None = None, **changes: object) -> Prediction:
    made = job(**changes)
    if stack is not None:
        made["stack"] = stack
    return predict(read_one(made))


def cielab_hue(painter: float) -> float:
    """CIELAB hue angle of a painter's hue: red, orange, yellow, green, blue, purple and red again."""
    return float(np.interp(painter % 360, range(0, 361, 60), [30, 65, 95, 150, 270, 320, 390]) % 360)


def polar(hue: float, chroma: float = 50, lightness: float = 60) -> tuple[float, float, float]:
    angle = np.radians(cielab_hue(hue))
    return lightness, float(chroma * np.cos(angle)), float(chroma * np.sin(angle))


@pytest.mark.parametrize(
    ("one", "two", "promise"),
    [(120, 240, 180), (0, 240, 300), (0, 120, 60), (350, 30, 10)],
    ids=["yellow and blue: green", "red and blue: purple", "red and yellow: orange", "across red"],
)
def test_two_primaries_promise_the_secondary_between_them(one: float, two: float, promise: float) -> None:
    found = clean_between([polar(one), polar(two)], [True, True], PAPER, constants.AS_SHIPPED, SCALAR)
    # Each has a say by the light that it takes from the card.
    card = cm.xyz_from_lab(np.array(PAPER), white_point("D65"))
    xyz = [cm.xyz_from_lab(np.array(polar(hue)), white_point("D65")) for hue in (one, two)]
    light = [float(np.sqrt(np.mean(np.maximum(1 - each / card, 0) ** 2))) for each in xyz]
    x, y = (sum(w * f(np.radians(hue)) for w, hue in zip(light, (one, two), strict=True)) for f in (np.cos, np.sin))
    assert abs((found.hue - np.degrees(np.arctan2(y, x)) + 180) % 360 - 180) < 1
    # Which lies between the two, nearer to what takes more.
    assert abs((found.hue - promise + 180) % 360 - 180) < 25
    assert found.chroma == pytest.approx(50)
    assert found.agreement == pytest.approx(np.hypot(x, y) / sum(light), abs=0.01)


def test_white_and_a_trace_have_no_say_in_what_is_promised() -> None:
    table = constants.AS_SHIPPED
    blue, orange, white = (40.0, 5.0, -50.0), (65.0, 45.0, 60.0), (97.0, 0.0, 2.0)
    trace = (96.0, 1.0, 4.0)
    plain = clean_between([blue, orange], [True, True], PAPER, table, SCALAR)
    for more in (white, trace):
        found = clean_between([more, blue, orange], [True] * 3, PAPER, table, SCALAR)
        assert found.shown == [False, True, True]
        assert found.chroma == pytest.approx(plain.chroma, abs=2)
        assert found.agreement == pytest.approx(plain.agreement, abs=0.01)
        alone = clean_between([more, blue], [True, True], PAPER, table, SCALAR)
        assert (alone.shown, alone.several) == ([False, True], False)
    assert clean_between([blue, orange], [True, False], PAPER, table, SCALAR).several is False


def test_painters_hue_and_back() -> None:
    for hue in range(0, 360, 7):
        _, a, b = polar(hue)
        assert painter_hue(a, b, SCALAR) == pytest.approx(hue, abs=1e-6)


@pytest.mark.parametrize("card_from_white", [0.0, 40.0])
def test_one_overlap_in_floats_is_judged_as_in_a_batch(card_from_white: float) -> None:
    rng = np.random.default_rng(11)
    table = constants.AS_SHIPPED
    result, white, one, two = rng.uniform([10, -60, -60], [95, 60, 60], (4, 400, 3))
    result[:50] = one[:50] + rng.normal(0, 3, (50, 3))
    second = rng.random(400) < 0.8
    card = (60.0, -25.0, 10.0)
    together = judge(
        Overlaps(
            tuple(result.T), tuple(white.T), [tuple(one.T), tuple(two.T)], [tuple(one.T), tuple(two.T)],
            [np.ones(400, dtype=bool), second], card, card_from_white, PAPER,
        ),
        50, table,
    )  # fmt: skip
    assert len(set(together.kind.tolist())) >= 3
    for row in range(400):
        parents = [one[row].tolist(), *([two[row].tolist()] if second[row] else [])]
        overlap = Overlaps(
            result[row].tolist(),
            white[row].tolist(),
            parents,
            parents,
            [True] * len(parents),
            card,
            card_from_white,
            PAPER,
        )
        alone = judge(overlap, 50, table, SCALAR)
        assert alone.mud == pytest.approx(together.mud[row], abs=1e-6)
        assert alone.kind == together.kind[row]
        assert alone.card_loss == pytest.approx(np.broadcast_to(together.card_loss, 400)[row])


def test_mud_never_depends_on_the_mud_line_but_the_kind_does() -> None:
    light: list[dict[str, object]] = [{"ink": "a", "dose": 0.3}, {"ink": "b", "dose": 0.3}]
    strict, lenient = run(light, mud_line=5), run(light, mud_line=100)
    assert strict.verdict.mud == lenient.verdict.mud
    assert strict.verdict.kind == "muddy"
    assert lenient.verdict.kind != "muddy"
    assert strict.verdict.mud_chance > lenient.verdict.mud_chance


def test_the_wet_look_is_another_colour_with_the_same_verdict() -> None:
    dry, wet = run(), run(look="wet")
    assert wet.colour.lab[0] < dry.colour.lab[0] - 1
    assert wet.verdict.mud == dry.verdict.mud


def test_reasons_name_the_inks_and_the_light_lost() -> None:
    reasons = {str(r.code): r.text for r in run().verdict.reasons}
    assert reasons["opposites"] == "Boiler Blue and Firebox Orange are opposites: each takes out what the other shows."
    assert reasons["chroma_lost"].endswith("of the brightness you would expect is gone.")
    # Figures of colour science are for the figures.
    assert not any(sign in text for text in reasons.values() for sign in ("%", "ΔE", "chroma"))


@pytest.mark.parametrize(
    ("share", "said"), [(0.05, "A little"), (0.3, "About a third"), (0.55, "About half"), (0.63, "About two thirds"),
                        (0.8, "About three quarters"), (0.97, "Nearly all")]
)  # fmt: skip
def test_shares_in_words(share: float, said: str) -> None:
    assert parts_word(share) == said


def test_two_alike_give_no_new_colour_and_black_swamps() -> None:
    alike = changed("inks.b.swatch.colour.hex", "#2658a8")
    alike["stack"] = [{"ink": "a", "dose": 0.2}, {"ink": "b", "dose": 0.2, "over": "wet"}]
    for ink in alike["inks"].values():
        ink["swatch"]["colour"]["hex"] = {"Boiler Blue": "#9fc0e8"}.get(ink["name"], "#a1c1e8")
    assert predict(read_one(alike)).verdict.kind == "no_new_colour"
    black = changed("inks.a.swatch.colour.hex", "#202022")
    found = predict(read_one(black)).verdict
    assert found.kind == "swamped"
    assert any(r.code == "swamped_by_ink" for r in found.reasons)


def test_single_inks_are_clean_on_white_and_can_be_spoilt_by_their_card() -> None:
    one: list[dict[str, object]] = [{"ink": "b", "dose": 1}]
    assert run(one).verdict.kind == "clean"
    assert run(one).verdict.mud == 0
    navy = run(one, cardstock={"colour": {"hex": "#26344f"}})
    assert navy.verdict.kind in ("swamped", "muddy", "muted")
    green = run(one, cardstock={"colour": {"hex": "#4f9a6b"}})
    assert green.verdict.mud > run(one).verdict.mud + 30


def test_a_brown_inks_own_brown_is_not_mud_nor_is_a_mix_near_an_ink_one_owns() -> None:
    brown = changed("inks.a.swatch.colour.hex", "#6b4a2e")
    brown["stack"] = [{"ink": "a", "dose": 1}]
    assert predict(read_one(brown)).verdict.mud == 0
    muddy = run()
    owned = {"mine": {"formula": "dye", "swatch": {"colour": {"hex": muddy.colour.hex}}}}
    assert run(stash={"inks": owned}).verdict.mud == 0


@pytest.mark.parametrize(
    ("stack", "way"),
    [
        ([{"ink": "a", "dose": 1}, {"ink": "b", "dose": 1}], "seen_through"),
        ([{"ink": "a", "dose": 1}, {"ink": "b", "dose": 1, "over": "wet"}], "mixed_wet"),
        ([{"mix": [{"ink": "a", "share": 1}, {"ink": "b", "share": 1}], "dose": 1}], "mixed_wet"),
    ],
)
def test_the_way_the_colour_was_made(stack: list[dict[str, object]], way: str) -> None:
    assert run(stack).verdict.way == way


def test_a_pigment_covers() -> None:
    covered = changed("inks.b.formula", "pigment")
    covered["stack"][1]["dose"] = 2
    assert predict(read_one(covered)).verdict.way == "covered"


@pytest.mark.parametrize(
    ("lab", "words"),
    [
        ([97, 0, 2], "white"),
        ([10, 0, 0], "black"),
        ([55, 1, 1], "grey"),
        ([45, 60, 40], "red"),
        ([88, -5, 80], "yellow"),
        ([35, 15, 25], "brown"),
        ([72, 14, -12], "lilac"),
    ],
)
def test_colours_in_words(lab: list[float], words: str) -> None:
    assert words in describe(lab)


def test_white_below_is_a_ground_and_not_swamped() -> None:
    white = {"name": "White", "formula": "pigment", "swatch": {"colour": {"hex": "#fbfbf9"}}}
    coral = {"name": "Coral", "formula": "hybrid", "swatch": {"colour": {"hex": "#ef7458"}}}
    black = {"name": "Black", "formula": "dye", "swatch": {"colour": {"hex": "#272628"}}}
    inks = {"w": white, "c": coral, "k": black}
    mint = {"colour": {"hex": "#a8dcc0"}}

    def verdict(*keys: str) -> Verdict:
        stack = [{"ink": key, "tool": "foam", "passes": 5} for key in keys]
        return predict(read_one({"wempa": 1, "cardstock": mint, "inks": inks, "stack": stack})).verdict

    on_white = verdict("w", "c")
    assert on_white.kind in ("clean", "muted")
    assert {"ground"} <= {reason.code for reason in on_white.reasons}
    assert not any("swallows" in reason.text for reason in on_white.reasons)
    # A white laid over is meant to show, and so is whatever is not white; nor is white in the
    # middle a ground of the whole.
    for keys in (("c", "w"), ("k", "c"), ("c", "w", "k")):
        assert "ground" not in {reason.code for reason in verdict(*keys).reasons}


def test_of_what_is_laid_at_dose_0_nothing_is_said_and_nothing_follows() -> None:
    inks = {
        key: {"name": name, "formula": "dye", "swatch": {"colour": {"hex": code}}}
        for key, name, code in (("a", "Blue", "#275ba0"), ("b", "Rose", "#b32a6e"), ("c", "Purple", "#6d3b7c"))
    }
    foam = {"tool": "foam", "passes": 4}
    plain = [{"ink": "a", **foam}, {"ink": "b", **foam}]
    with_none = [plain[0], {"ink": "c", "dose": 0}, plain[1]]
    two, three = (predict(read_one(job(inks=inks, stack=stack))) for stack in (plain, with_none))
    assert three.verdict.kind == two.verdict.kind == "clean"
    assert [reason.text for reason in three.verdict.reasons] == [reason.text for reason in two.verdict.reasons]
