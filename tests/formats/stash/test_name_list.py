"""Lists of inks as people write them."""

from __future__ import annotations

import pytest

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_ITEMS, MAX_NAME_LIST
from wempa.craft.vocabulary import Formula
from wempa.formats.stash.name_list import read_names, write_names
from wempa.formats.stash.standard_shelf import standard_shelf

LIST = """
  Ballast (hybrid):
- Sea Wall
* Brick Arch   #8F4A34

Footplate (Dyes) :
1. Boiler Blue
12) Gorse Bank (reactive dye)
• Platform No. 3 (old pad)
Tender:
Ticket\tPink, #f0a0b0
"""


def test_what_is_left_is_written_as_a_list_that_reads_the_same() -> None:
    inks = [
        ("Sea Wall", "Ballast", Formula.HYBRID),
        ("Loose One", "", Formula.UNKNOWN),
        ("Gorse Bank (old pad)", "Footplate", Formula.REACTIVE_DYE),
        ("Brick Arch", "Ballast", Formula.PIGMENT),
    ]
    text = write_names(inks)
    assert text.splitlines() == [
        "Loose One (formula unknown)",
        "Ballast:",
        "Sea Wall (hybrid)",
        "Brick Arch (pigment)",
        "Footplate:",
        "Gorse Bank (old pad) (reactive dye)",
    ]
    # What the whole list was said to be of does not come over it a second time.
    read = [(ink.name, ink.range, ink.formula) for ink in read_names(text, "", Formula.DYE)]
    assert sorted(read) == sorted(inks)


def test_headings_bullets_formulas_and_codes() -> None:
    found = [
        (ink.line, ink.name, ink.range, str(ink.formula), ink.hex) for ink in read_names(LIST, "Loose", Formula.PIGMENT)
    ]
    assert found == [
        (3, "Sea Wall", "Ballast", "hybrid", None),
        (4, "Brick Arch", "Ballast", "hybrid", "#8f4a34"),
        (7, "Boiler Blue", "Footplate", "dye", None),
        (8, "Gorse Bank", "Footplate", "reactive_dye", None),
        # Brackets that name no formula belong to the name.
        (9, "Platform No. 3 (old pad)", "Footplate", "dye", None),
        # A heading without a formula goes by what is said for all.
        (11, "Ticket Pink", "Tender", "pigment", "#f0a0b0"),
    ]


def test_what_no_heading_says_is_said_once() -> None:
    (ink,) = read_names("Boiler Blue", " Footplate ", Formula.DYE)
    assert (ink.range, ink.formula) == ("Footplate", Formula.DYE)
    assert read_names(" \n\t\n") == []
    assert read_names("a\x07b\u202e")[0].name == "a b"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("Sea Wall\n(hybrid)", "line 2: the ink has no name"),
        (":", "line 1: the range has no name"),
        ("x" * 121, "line 1: the ink is called by more than 120 letters"),
        ("y" * 121 + ":", "line 1: the range is called by more than 120 letters"),
        ("a" * (MAX_NAME_LIST + 1), f"the list has more than {MAX_NAME_LIST} letters"),
        ("\n".join(["a"] * (MAX_ITEMS + 1)), f"a stash holds {MAX_ITEMS} inks at most; the list has more"),
    ],
)
def test_what_is_refused(text: str, says: str) -> None:
    with pytest.raises(JobError, match=f"^{says}$".replace("(", r"\(")):
        read_names(text)


def test_a_new_shelf_has_five_cards_and_the_usual_tools() -> None:
    cards = {item["name"]: item["surface"] for kind, item in standard_shelf() if kind == "card"}
    assert cards == {
        "White, smooth": "smooth", "White, coated": "coated", "White watercolour": "watercolour", "Kraft": "absorbent",
        "Black": "smooth",
    }  # fmt: skip
    tools = [item["tool"] for kind, item in standard_shelf() if kind == "tool"]
    assert sorted(tools) == ["brush", "brush", "foam", "foam", "stamp"]
