"""Sheets, colours by eye and the words of the stash: what the golden file says."""

from __future__ import annotations

import itertools
from dataclasses import asdict
from typing import Any

import numpy as np
import pytest

from tests.golden.gold import Gold
from wempa.craft import constants
from wempa.craft.colour.distinct import most_different
from wempa.craft.colour.naming import chance_words, compare, leans_to, margin_words
from wempa.craft.stash import by_eye
from wempa.craft.stash.formula_guide import guide_page
from wempa.craft.stash.swatch_sheet import mark_strip, sheet_layout, strip_layout
from wempa.craft.vocabulary import EyeFamily, Formula, Page

TABLE = constants.AS_SHIPPED
SAMPLES = [(55.0, 40.0, 20.0), (40.0, -30.0, 10.0), (70.0, 3.0, -2.0), (30.0, 10.0, -40.0), (85.0, -5.0, 60.0)]


def test_sheets_colours_by_eye_and_words(pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {
        f"sheet {page} {large}": asdict(sheet_layout(page, large)) for page in Page for large in (False, True)
    }
    found["strip"] = asdict(strip_layout())
    corners = np.array([[100.0, 80.0], [900.0, 120.0], [880.0, 360.0], [90.0, 330.0]])
    found["strip on a photo"] = asdict(mark_strip(corners))
    for family in EyeFamily:
        found[f"field {family}"] = by_eye.field.__wrapped__(family)
    for lab, step in itertools.product(SAMPLES, (3.0, 12.0)):
        found[f"around {lab} by {step}"] = [[each.way, each.lab] for each in by_eye.around(lab, step)]
    found["margins"] = [margin_words(step / 2) for step in range(30)]
    found["chances"] = [chance_words(step / 40) for step in range(41)]
    steps = itertools.product((0.0, 2.8, 3.2, -9.0), repeat=3)
    beside = [(SAMPLES[0][0] + l, SAMPLES[0][1] + a, SAMPLES[0][2] + b) for l, a, b in steps]
    found["beside"] = [compare(lab, SAMPLES[0], TABLE) for lab in beside]
    found["leans"] = [[leans_to(one, other) for other in SAMPLES if other is not one] for one in SAMPLES]
    near = np.array([SAMPLES[0], SAMPLES[0], (55.0, 40.5, 20.0), SAMPLES[1], SAMPLES[2]])
    found["most different"] = most_different(near, 5, np.ones(5, bool))
    for formula in Formula:
        found[f"guide {formula}"] = [line.text for line in guide_page(formula, ()).lines]
    Gold("stash.json", pytestconfig.getoption("--regold")).check(found, 0.02)
