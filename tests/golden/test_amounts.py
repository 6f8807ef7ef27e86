"""How much of each, and one colour in several lights: what the golden file says."""

from __future__ import annotations

from typing import Any

import pytest

from tests.golden.gold import Gold
from tests.golden.jobs import JOBS
from wempa.craft.errors import JobError
from wempa.craft.overlap.amount_field import amount_axis, amount_field
from wempa.craft.overlap.presets import use_preset
from wempa.craft.overlap.showings import dose_strips, in_lights, nearest_inks, parted_by_light
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import recipe
from wempa.craft.vocabulary import Illuminant, Preset
from wempa.formats.job import read_one

from .test_searches import with_stash

FIELDS = ("opposites, deep", "four mixed wet", "three doses over one another", "dye over hybrid over dye")


def test_amounts_lights_and_ready_made_ways(pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {}
    for name in FIELDS:
        job = read_one(JOBS[name])
        field = amount_field(job)
        found[f"field: {name}"] = {
            "across": [field.across.amounts, field.across.now],
            "up": [field.up.amounts, field.up.now],
            "third": None if field.step is None else [field.step.amounts, field.at],
            "kind": field.kind,
            "mud": field.mud[::3, ::3],
            "border": field.border[:6],
            "named": field.named,
        }
        found[f"axes: {name}"] = [amount_axis(job.stack, k).amounts for k in range(len(job.stack))]
        found[f"strips: {name}"] = [[strip.entry, strip.found.kind] for strip in dose_strips(job)]
        views = in_lights(job, list(Illuminant))
        found[f"lights: {name}"] = [
            [view.full.colour.lab, view.bare.colour.lab, [each.colour.lab for each in view.alone]] for view in views
        ]
        found[f"parted: {name}"] = [note.text for note in parted_by_light(job, views)]
        stashed = with_stash(name)
        near = nearest_inks(predict(job).colour.lab, stashed, 6)
        found[f"near: {name}"] = [[each.key, each.delta_e, each.text] for each in near]
        for preset in Preset:
            try:
                made = recipe(use_preset(preset, stashed, {}))
            except JobError as refused:
                made = [refused.message]
            found[f"{preset}: {name}"] = made
    Gold("amounts.json", pytestconfig.getoption("--regold")).check(found, 0.02)
