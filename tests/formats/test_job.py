"""The contract: what is read, what is refused and how, and the way back."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.craft.prediction.cases import load
from tests.jobs import BLUE_ORANGE, changed, job
from wempa.craft.errors import JobError
from wempa.craft.job import LayDown
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Treatment
from wempa.formats.job import error_text, load_json, read_jobs, read_one
from wempa.formats.job_result import result
from wempa.formats.job_text import card_json, ink_json, stack_json

FULL: dict[str, Any] = {
    "wempa": 1,
    "illuminant": "D65",
    "mud_line": 50,
    "cardstock": {
        "colour": {"hex": "#a8dcc0"},
        "surface": "smooth",
        "texture": None,
        "absorbency": None,
        "floor": 0,
        "takeup": None,
        "known": "typed",
    },
    "inks": {
        "a": {
            "name": "…",
            "formula": "hybrid",
            "swatch": {
                "colour": {"lab": [52.1, 40.2, 12.0], "illuminant": "D50"},
                "card": "job",
                "on_dark": None,
                "made_with": {"tool": "foam", "load": "normal", "passes": 2},
                "known": "photo",
                "spread": 1.2,
            },
        },
        "b": {
            "name": "…",
            "formula": "dye",
            "swatch": {"colour": {"hex": "#2456A6"}},
            "hiding": None,
            "soak_share": None,
            "strength": None,
            "emission": None,
        },
        "m": {
            "formula": "pigment",
            "swatch": {"colour": {"spectrum": {"start": 400, "step": 20, "values": [0.3] * 16}}, "known": "measured"},
        },
    },
    "stack": [
        {"ink": "a", "tool": "foam", "load": "normal", "passes": 2},
        {"mix": [{"ink": "a", "share": 0.3}, {"ink": "b", "share": 0.7}], "tool": "dip", "dilution": 0.5},
        {"ink": "b", "dose": 0.8, "over": "wet"},
        {"treatment": "heat"},
    ],
    "look": "dry",
    "fixes": False,
    "stash": {"inks": {}, "cards": {}},
    "constants": {},
}


def test_the_designs_example_is_read_whole() -> None:
    read = read_one(FULL)
    assert read.cardstock.floor == 0
    assert dict(read.inks)["b"].swatch.colour.hex == "#2456a6"
    assert isinstance(read.stack[1], LayDown)
    assert read.stack[1].premix
    assert read.stack[3] is Treatment.HEAT
    given = result(predict(read)).model_dump()
    assert set(given) == {"colour", "patches", "drops", "steps", "verdict", "margin", "fixes", "notes"}
    assert set(given["colour"]) == {"hex", "lab", "lch", "spectrum", "in_screen_gamut"}
    assert set(given["verdict"]) == {"kind", "mud", "mud_chance", "way", "reasons"}
    assert len(given["steps"]) == 4
    assert len(given["colour"]["spectrum"]) == 36


BAD = [
    ("wempa", 2, "wempa: it has to be 1, not 2"),
    ("cardstock.color", "#fff", "cardstock.color: 'color' is not a key that is known here"),
    ("cardstock.colour.hex", "mint", "cardstock.colour.hex: 'mint' is not a colour such as #a8dcc0"),
    (
        "cardstock.colour.lab",
        [50, 0, 0],
        "cardstock.colour: a colour is exactly one of hex, lab or spectrum, not hex and lab",
    ),
    ("cardstock.surface", "shiny", "cardstock.surface"),
    ("cardstock.texture", 1.5, "cardstock.texture: it has to be 1 or less, not 1.5"),
    ("cardstock.floor", float("nan"), "cardstock.floor: the number is not finite"),
    ("inks.a.formula", "gouache", "inks.a.formula"),
    ("inks.a.swatch.card", "blue", "inks.a.swatch.card"),
    ("inks.a.swatch.colour", {"lab": [150, 0, 0]}, "inks.a.swatch.colour: lab must have L* in 0–100"),
    ("inks.a.swatch.colour", {"spectrum": {"values": [0.5] * 10}}, "spectrum must reach"),
    ("inks.a.swatch.colour", {"spectrum": {"values": [7.0] * 36}}, "3 or less"),
    ("inks.a.hiding", "0.3", "inks.a.hiding: it has to be a number, not '0.3'"),
    ("inks.a.constants", {"lift": 4}, "formula.dye.lift must lie between 0 and 1"),
    ("stack.0.ink", "z", "stack[0]: the ink 'z' is not declared under inks"),
    ("stack.0.dose", True, "stack[0].dose"),
    ("stack.0.dose", -1, "stack[0].dose: it has to be 0 or more, not -1"),
    ("stack.0.tool", "foam", "stack[0]: an entry gives either a dose or tool"),
    ("stack.0", {"ink": "a"}, "stack[0]: an entry needs either a dose or a tool"),
    ("stack.0", {"dose": 1}, "stack[0]: an entry names either an ink, a mix or a treatment"),
    ("stack.0", {"treatment": "heat", "dose": 1}, "stack[0]: a treatment stands alone"),
    ("stack.0.dilution", 0.99, "stack[0].dilution"),
    ("stack", [{"ink": "a", "dose": 1}] * 61, "stack"),
    ("constants", {"tool.spoon.amount": 1}, "there is no constant 'tool.spoon.amount'"),
    ("mud_line", 101, "mud_line"),
    ("illuminant", "C", "illuminant"),
]


@pytest.mark.parametrize(("path", "value", "says"), BAD, ids=[f"{path}={str(value)[:20]}" for path, value, _ in BAD])
def test_bad_input_is_one_sentence_with_its_place(path: str, value: Any, says: str) -> None:
    with pytest.raises(JobError) as caught:
        read_one(changed(path, value))
    text = error_text(caught.value)
    assert says in text
    assert "\n" not in text
    assert len(text) < 300


def test_a_list_names_the_index_of_the_bad_job() -> None:
    text = json.dumps([BLUE_ORANGE, changed("stack.1.ink", "q")])
    with pytest.raises(JobError) as caught:
        read_jobs(text)
    assert error_text(caught.value) == "job 1: stack[1]: the ink 'q' is not declared under inks"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "line 1, column 2"),
        ('{"wempa": NaN}', "NaN is not a number"),
        ('{"wempa": 1, "wempa": 1}', "'wempa' stands twice"),
        ("[" * 100_000, "nested too deeply"),
        ("3", "a job is a JSON object"),
        ("{}", "is missing"),
        (b"\xff\xfe{", "not UTF-8"),
    ],
)
def test_what_is_not_a_job(text: str | bytes, says: str) -> None:
    with pytest.raises(JobError, match=says):
        read_jobs(text)


def test_null_is_the_default_and_zero_a_value() -> None:
    plain = predict(read_one(job()))
    null = predict(read_one({**job(), "look": None, "mud_line": None, "stash": None, "constants": None}))
    assert null.colour.hex == plain.colour.hex
    bare = predict(read_one({**job(), "stack": [{"ink": "a", "dose": 0}, {"ink": "b", "dose": 1}]}))
    only = predict(read_one({**job(), "stack": [{"ink": "b", "dose": 1}]}))
    assert bare.colour.hex == only.colour.hex


@pytest.mark.parametrize(
    "given", [FULL, BLUE_ORANGE, *[c["jobs"][next(iter(c["jobs"]))] for c in load("craft-cases.json")]]
)
def test_writing_a_job_and_reading_it_again_changes_nothing(given: dict[str, Any]) -> None:
    read = read_one(given)
    written = {
        "wempa": 1,
        "cardstock": card_json(read.cardstock),
        "inks": {key: ink_json(ink) for key, ink in read.inks},
        "stack": stack_json(read),
    }
    again = read_one(load_json(json.dumps(written)))
    assert again.inks == read.inks
    assert again.stack == read.stack
    assert again.cardstock == read.cardstock
