"""Palettes come back as they went out, and files that are none are refused in one sentence."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_PALETTE
from wempa.formats.stash.palette import PALETTES, PaletteInk, read_palette

INKS = [
    PaletteInk("Boiler Blue", "Footplate", "dye", "#2456a6", (37.0, 6.0, -48.0)),
    PaletteInk("Cutting, Green", "Guard's Van", "reactive_dye", "#3f9a4c", (57.0, -42.0, 33.0)),
    PaletteInk("=Steam White", "Enamel Shed", "pigment", "#fafafa", (98.0, 0.0, 0.0)),
]


@pytest.mark.parametrize("kind", PALETTES)
def test_a_palette_comes_back(kind: str) -> None:
    found = read_palette(PALETTES[kind][1]("Open day", INKS).encode())
    assert [code for _, code in found.colours] == [ink.hex for ink in INKS]
    if kind == "css":
        assert [name for name, _ in found.colours] == [
            "footplate boiler blue",
            "guard s van cutting green",
            "enamel shed steam white",
        ]
    else:
        assert [name for name, _ in found.colours] == [ink.name for ink in INKS]
    assert found.title == ("Open day" if kind in ("json", "gpl") else "")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no colours that can be read"),
        (b"name,colour\nBlue,blue\n", "no colours that can be read"),
        (b"\xff\xfe\x00", "not text in UTF-8"),
        (b"{", "not JSON"),
        (b'{"colors": []}', "the key 'colours' is missing"),
        (b'{"colours": [{"hex": "#2456a6"}, {"hex": "blue"}]}', "a hex such as #2456a6"),
        (b'{"colours": [7]}', "a hex such as #2456a6"),
        (b"#" * (MAX_PALETTE + 1), "no more than 1 MB"),
        (b"GIMP Palette\nName: x\n300 0 0 too bright\n", "no colours that can be read"),
    ],
)
def test_what_is_no_palette_is_refused(data: bytes, said: str) -> None:
    with pytest.raises(JobError, match=said):
        read_palette(data)


@given(st.binary(max_size=400) | st.text(max_size=200).map(str.encode))
def test_any_bytes_are_read_or_refused(data: bytes) -> None:
    with suppress(JobError):
        assert all(len(code) == 7 for _, code in read_palette(data).colours)
