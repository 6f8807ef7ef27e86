"""Dose strips, other lights, near neighbours, words for a difference, ready-made ways, recipes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from wempa.craft.colour.naming import chance_words, compare
from wempa.craft.constants import AS_SHIPPED as TABLE
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown
from wempa.craft.limits import DOSE_STEPS
from wempa.craft.overlap.presets import use_preset
from wempa.craft.overlap.showings import dose_strips, in_daylight, in_lights, nearest_inks, parted_by_light
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import Illuminant, Load, Over, Preset, Tool
from wempa.demo.penny_halt import card_bodies, ink_bodies
from wempa.formats.job import read_one
from wempa.optics import colorimetry as cm
from wempa.optics.grid import WAVELENGTHS

INKS: dict[str, Any] = {ink["name"]: ink["body"] for ink in ink_bodies()}
CARDS: dict[str, Any] = {card["name"]: card["body"] for card in card_bodies()}
LIGHTS = (Illuminant.D65, Illuminant.A, Illuminant.LED_B3)


def laid(*names: str, **more: Any) -> Job:
    return read_one(
        {
            "wempa": 1,
            "cardstock": CARDS["Snow"],
            "inks": {name: INKS[name] for name in names},
            "stack": [{"ink": name, "tool": "brush", "passes": 6} for name in names],
            "stash": {"inks": INKS, "cards": CARDS},
            **more,
        }
    )


def test_a_strip_goes_from_the_card_to_saturated_and_meets_what_is_laid() -> None:
    job = laid("Boiler Blue", "Brass Gauge")
    strips = dose_strips(job)
    assert [strip.entry for strip in strips] == [0, 1, None]
    bare = predict(replace(job, stack=())).colour.lab
    for strip in strips:
        lab = strip.found.lab
        assert lab.shape == (DOSE_STEPS, 3)
        assert (np.diff(lab[:, 0]) < 0).all()
        assert cm.delta_e(lab[0], bare) < cm.delta_e(lab[-1], bare)
        assert strip.factors[0] < 0.1 < 1 < strip.factors[-1]
    # What is between the two steps around "as laid" is what is laid.
    whole = strips[-1]
    above = next(n for n, factor in enumerate(whole.factors) if factor > 1)
    now = predict(job).colour.lab[0]
    assert whole.found.lab[above, 0] < now < whole.found.lab[above - 1, 0]
    assert dose_strips(replace(job, stack=())) == ()
    assert [strip.entry for strip in dose_strips(laid("Boiler Blue"))] == [0]


def test_a_hex_by_day_is_the_same_ink_under_a_lamp() -> None:
    job = laid("Boiler Blue")
    day, lamp, _ = in_lights(job, LIGHTS)
    assert day.full.colour.hex == predict(job).colour.hex
    # The ink stays what it is: the same spectrum, another light.
    assert np.abs(lamp.full.colour.spectrum - day.full.colour.spectrum).max() < 0.01
    assert cm.delta_e(lamp.full.colour.lab, day.full.colour.lab) > 3
    assert lamp.bare.colour.lab[0] == pytest.approx(day.bare.colour.lab[0], abs=1)
    assert in_daylight(job) is job


def test_colours_that_match_by_day_and_not_by_lamp_are_noted() -> None:
    # A metamer: another spectrum of one colour by day, by adding what D65 does not see.
    flat = np.full(36, 0.4)
    x = np.linspace(-1, 1, 36)
    shapes = np.stack([np.cos(np.pi * k * (x + 1) / 2) for k in range(1, 8)])
    seen = cm.xyz(shapes)
    hidden = [row @ shapes for row in np.linalg.svd(seen.T)[2][3:]]
    twins = [flat + 0.3 * unseen / np.abs(unseen).max() for unseen in hidden]
    other = max(twins, key=lambda twin: float(cm.delta_e(cm.lab(twin, "A"), cm.lab(flat, "A"))))
    assert cm.delta_e(cm.lab(flat), cm.lab(other)) < 0.3

    def ink(values: np.ndarray) -> dict[str, Any]:
        spectrum = {"start": 380, "step": 10, "values": [float(v) for v in values]}
        return {"name": "Grey", "formula": "pigment", "swatch": {"colour": {"spectrum": spectrum}, "known": "measured"}}

    both = {"a": ink(flat), "b": {**ink(other), "name": "Twin"}}
    assert len(WAVELENGTHS) == 36
    job = laid(inks=both, stack=[{"ink": "a", "dose": 1}, {"ink": "b", "dose": 1}], stash={})
    (note,) = parted_by_light(job, in_lights(job, LIGHTS))
    assert "Grey and Twin match by day" in note.text
    assert (
        parted_by_light(laid("Boiler Blue", "Brass Gauge"), in_lights(laid("Boiler Blue", "Brass Gauge"), LIGHTS)) == ()
    )


def test_the_nearest_inks_are_one_of_each_family_and_said_in_words() -> None:
    job = laid("Boiler Blue", stack=[{"ink": "Boiler Blue", "dose": 1}])
    near = nearest_inks(predict(job).colour.lab, job)
    assert near[0].key == "Boiler Blue"
    assert [each.delta_e for each in near] == sorted(each.delta_e for each in near)
    assert len({each.text.split()[-1] for each in near}) == len(near) <= 3
    assert nearest_inks(np.array([50.0, 0, 0]), replace(job, stash=replace(job.stash, inks=()))) == ()


@pytest.mark.parametrize(
    ("lab", "other", "said"),
    [
        ((40, 10, -40), (60, 10, -40), "darker than"),
        ((60, 5, -20), (60, 10, -40), "greyer than"),
        ((40, 5, -20), (60, 10, -40), "greyer and darker than"),
        ((60, 40, 30), (60, 40, 30.5), "all but"),
        ((60, 50, 5), (60, 40, 30), "pinker than"),
        ((60, 20, 60), (60, 55, 31), "more orange than"),
        ((70, -30, 55), (70, 5, 62), "greener than"),
        ((80, 0, 12), (80, 0, 0), "yellower than"),
        ((52, 1, 1), (50, 0, -1), "close to"),
    ],
)  # fmt: skip
def test_two_colours_compared_in_at_most_two_words(
    lab: tuple[float, float, float], other: tuple[float, float, float], said: str
) -> None:
    assert set(compare(lab, other, TABLE).replace(" and ", " ").split()) == set(said.replace(" and ", " ").split())


def test_a_comparison_turned_round_says_the_opposite() -> None:
    opposite = {"lighter": "darker", "darker": "lighter", "greyer": "cleaner", "cleaner": "greyer"}
    one, other = (35.0, 12.0, -20.0), (60.0, 20.0, -42.0)
    there = compare(one, other, TABLE).replace(" than", "").split(" and ")
    assert [opposite[word] for word in there] == compare(other, one, TABLE).replace(" than", "").split(" and ")


def test_chances_are_said_to_the_nearest_five_per_cent() -> None:
    assert chance_words(0.01) == "hardly any chance of mud"
    assert chance_words(0.999) == "mud, almost surely"
    assert chance_words(0.33) == "about 35\u00a0% chance of mud"


def test_ready_made_ways() -> None:
    job = laid("Boiler Blue", "Coral Bunting")

    def made(preset: Preset, of: Job = job) -> list[LayDown]:
        return [entry for entry in use_preset(preset, of, {}).stack if isinstance(entry, LayDown)]

    below, above = made(Preset.STAMPED_OVER)
    assert (below.tool, above.tool, above.passes) == (Tool.BRUSH, Tool.STAMP, 1)
    below, above = made(Preset.BLENDED_INTO)
    assert (below.over, above.over, above.tool) == (Over.DRY, Over.WET, Tool.FOAM)
    layered = made(Preset.LAYERED_DRIED)
    assert [entry.parts[0][0] for entry in layered] == ["Boiler Blue", "Coral Bunting"] * 2
    assert {(entry.load, entry.over) for entry in layered} == {(Load.LIGHT, Over.DRY)}
    assert {(entry.tool, entry.dilution) for entry in made(Preset.DIPPED_AGAIN)} == {(Tool.DIP, 0.5)}
    formulas = [dict([*job.inks, *job.stash.inks])[entry.parts[0][0]].formula for entry in made(Preset.FORMULAS)]
    assert formulas[0] == "dye"
    assert len(set(formulas)) == len(formulas) > 2
    seen = [job.cardstock]
    for _ in range(3):
        card = use_preset(Preset.COLOURED_CARD, replace(job, cardstock=seen[-1]), {}).cardstock
        assert card not in seen
        seen.append(card)
    # The pad has its say.
    assert use_preset(Preset.BLENDED_INTO, job, {"Boiler Blue": Load.JUICY}).stack[0].load is Load.JUICY  # type: ignore[union-attr]


def test_ready_made_ways_say_what_they_lack() -> None:
    alone = laid("Boiler Blue", stash={})
    for preset, says in (
        (Preset.STAMPED_OVER, "one more"),
        (Preset.FORMULAS, "Nothing of another formula"),
        (Preset.COLOURED_CARD, "no other coloured card"),
    ):
        with pytest.raises(JobError, match=says):
            use_preset(preset, alone, {})
    with pytest.raises(JobError, match="One ink"):
        use_preset(Preset.FORMULAS, laid(stash={}), {})


def test_a_recipe_reads_like_instructions() -> None:
    job = laid(
        "Boiler Blue",
        "Coral Bunting",
        stack=[
            {"ink": "Boiler Blue", "tool": "brush", "passes": 1, "load": "juicy"},
            {"ink": "Coral Bunting", "dose": 0.5, "over": "wet"},
            {"treatment": "heat"},
            {
                "mix": [{"ink": "Boiler Blue", "share": 1}, {"ink": "Coral Bunting", "share": 3}],
                "tool": "dip",
                "dilution": 0.5,
            },
        ],
    )  # fmt: skip
    assert recipe(job) == [
        "Boiler Blue: brush, juicy load, 1 pass.",
        "Coral Bunting: dose 0.5, into the wet.",
        "Heat-set.",
        "25 % Boiler Blue with 75 % Coral Bunting: dip, 1 pass, 50 % water.",
    ]
