# ruff: noqa: PT017 -- either outcome is right; what matters is that there is no third.
"""Whatever comes in as a file is read, or refused with one sentence; never anything else."""

from __future__ import annotations

import io
import json
import os
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.formats.stash.test_stash_files import INK, jpeg
from wempa.craft.errors import JobError
from wempa.demo.reader import measure
from wempa.formats.archive import read_archive, write_archive
from wempa.formats.job import read_jobs
from wempa.formats.log.fit_file import fit_text
from wempa.formats.panels.svg_path import outlines
from wempa.formats.stash.inks_csv import COLUMNS, read_inks
from wempa.formats.stash.items import ITEMS, read_item
from wempa.formats.stash.measurements import read_measurements
from wempa.formats.stash.palette import read_palette
from wempa.formats.stash.photo_file import ImageError, decode
from wempa.formats.text_table import TableError
from wempa.formats.workspace import read_workspace
from wempa.optics.photo import PhotoError, PrintedStep, find_marks, light_of, read_swatches

READERS: list[tuple[Callable[[bytes], object], type[Exception]]] = [
    (read_inks, TableError),
    (read_measurements, TableError),
    (read_workspace, JobError),
    (read_jobs, JobError),
    (decode, ImageError),
    (read_palette, JobError),
    (read_archive, JobError),
    (fit_text, JobError),
    (lambda data: outlines(data.decode("latin-1")), JobError),
]
# ``make fuzz`` asks many times as much.
TIMES = int(os.environ.get("FUZZ_TIMES", "1"))
MEASURED = measure([("One", np.full(36, 0.4)), ("Two", np.linspace(0.1, 0.9, 36))]).encode()
TABLE = (",".join(COLUMNS) + "\nSea Wall,Ballast,hybrid,owned,,#3c7fae" + "," * 17 + "\n").encode()
WORKSPACE = json.dumps({"wempa_workspace": 1, "inks": [INK], "cards": [], "overlaps": []}).encode()
PNG = io.BytesIO()
Image.new("RGB", (9, 7), (9, 99, 199)).save(PNG, "PNG")

PALETTE = b":root {\n  --sea-wall: #3c7fae;\n  --lamp: #c81e28;\n}\n"
LOG = json.dumps(
    {
        "observations": [
            {
                "job": {"wempa": 1, "cardstock": {"colour": {"hex": "#ffffff"}}, "inks": {}, "stack": []},
                "observed": {"hex": "#fefefe"},
                "spread": 1,
            }
        ]
    }
).encode()
PATH = b"M0 0 C10 0 20 10 20 20 A5 5 0 0 1 3 3 Z"
GOOD = (TABLE, MEASURED, WORKSPACE, jpeg(), PNG.getvalue(), PALETTE, LOG, PATH, write_archive(WORKSPACE.decode(), []))


def tried(reader: Callable[[bytes], object], refusal: type[Exception], data: bytes) -> None:
    try:
        reader(data)
    except refusal as error:
        said = str(error)
        assert said
        assert len(said) < 600
        assert "\n" not in said


@settings(max_examples=120 * TIMES, deadline=None)
@given(st.sampled_from(READERS), st.binary(max_size=400))
def test_any_bytes(reader: tuple[Callable[[bytes], object], type[Exception]], data: bytes) -> None:
    tried(*reader, data)


@settings(max_examples=200 * TIMES, deadline=None)
@given(
    st.sampled_from(
        [
            (READERS[0], TABLE),
            (READERS[1], MEASURED),
            (READERS[2], WORKSPACE),
            (READERS[4], jpeg()),
            (READERS[4], PNG.getvalue()),
        ]
    ),
    st.lists(st.tuples(st.floats(0, 1, exclude_max=True), st.integers(0, 255)), min_size=1, max_size=6),
    st.floats(0, 1),
)
def test_good_files_with_some_bytes_spoilt_or_cut_off(
    given_file: tuple[tuple[Callable[[bytes], object], type[Exception]], bytes],
    spoilt: list[tuple[float, int]],
    length: float,
) -> None:
    reader, good = given_file
    data = bytearray(good)
    for where, value in spoilt:
        data[int(where * len(data))] = value
    tried(*reader, bytes(data))
    tried(*reader, bytes(data[: int(length * len(data))]))


json_values = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 300) | st.floats(allow_nan=False) | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)
fields = sorted({name for model in ITEMS.values() for name in model.model_fields})


@settings(max_examples=200 * TIMES, deadline=None)
@given(st.sampled_from(sorted(ITEMS)), st.dictionaries(st.sampled_from(fields), json_values, max_size=5))
def test_any_values_in_an_items_fields(kind: str, changes: dict[str, object]) -> None:
    good = {"ink": INK, "card": {"name": "x", "card": {"colour": {"hex": "#ffffff"}}}}.get(
        kind, {"name": "x", "tool": "foam"}
    )
    try:
        item = read_item(kind, {**good, **changes})
    except JobError as error:
        assert error.message
        assert "\n" not in error.message
    else:
        again = read_item(kind, item.model_dump(mode="json"))
        assert again == item


boxes = st.tuples(*[st.floats(-50, 200)] * 4)


@settings(max_examples=80 * TIMES, deadline=None)
@given(st.integers(0, 2**32 - 1), boxes, boxes, st.none() | boxes)
def test_any_areas_of_any_photo(
    seed: int,
    swatch: tuple[float, float, float, float],
    white: tuple[float, float, float, float],
    dark: tuple[float, float, float, float] | None,
) -> None:
    rng = np.random.default_rng(seed)
    photo = (
        rng.integers(0, 256, (90, 120, 3), dtype=np.uint8) if seed % 3 else np.full((90, 120, 3), seed % 256, np.uint8)
    )
    try:
        card = np.array([97.0, 0, 2])
        steps = [PrintedStep((10 * k, 5, 10 * k + 10, 20), 0.1 + k / 10, 0.5) for k in range(seed % 9)]
        lighting = light_of(photo, [white], card, dark, np.array([25.0, 0, 0]), steps)
        (found,) = read_swatches(photo, [swatch], lighting, card)
    except PhotoError as error:
        assert str(error)
    else:
        assert np.isfinite(found.lab).all()
        assert found.spread >= 0
        assert 0 < found.area.kept <= 1


@settings(max_examples=20 * TIMES, deadline=None)
@given(st.integers(0, 2**32 - 1), st.sampled_from([(40, 30), (300, 420), (900, 160)]))
def test_noise_has_no_marks_or_four_inside_the_photo(seed: int, size: tuple[int, int]) -> None:
    photo = np.random.default_rng(seed).integers(0, 256, (size[1], size[0], 3), dtype=np.uint8)
    found = find_marks(photo, 3.5 / 210)
    assert found is None or (found.shape == (4, 2) and (found >= 0).all() and (found <= max(size)).all())


def test_a_photo_of_one_pixel_is_too_small_to_read() -> None:
    tiny = np.zeros((1, 1, 3), dtype=np.uint8)
    assert find_marks(tiny, 0.02) is None
    with pytest.raises(PhotoError):
        light_of(tiny, [(0, 0, 1, 1)], np.array([97.0, 0, 2]))
