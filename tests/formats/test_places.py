"""Numbers of a workspace and what stands for them elsewhere."""

from __future__ import annotations

from typing import Any

import pytest

from wempa.craft.errors import JobError
from wempa.formats.places import to_numbers, to_places

STORED: dict[str, Any] = {
    "name": "ink",
    "card_id": 4,
    "mat_id": None,
    "white_id": 2,
    "stack": [
        {"ink_id": 1, "passes": 3},
        {"treatment": "heat"},
        {"mix": [{"ink_id": 1, "share": 2}, {"ink_id": 3, "share": 1}]},
    ],
}


def test_every_number_of_an_ink_or_card_becomes_its_place_and_nothing_else_does() -> None:
    asked: list[tuple[str, Any]] = []

    def place(kind: str, number: int) -> str:
        asked.append((kind, number))
        return f"{kind} {number}"

    assert to_places(STORED, place) == {
        "name": "ink",
        "card": "card 4",
        "mat": None,
        "white": "ink 2",
        "stack": [
            {"ink": "ink 1", "passes": 3},
            {"treatment": "heat"},
            {"mix": [{"ink": "ink 1", "share": 2}, {"ink": "ink 3", "share": 1}]},
        ],
    }
    assert asked == [("card", 4), ("ink", 2), ("ink", 1), ("ink", 1), ("ink", 3)]


def test_places_become_the_same_numbers_again() -> None:
    there = to_places(STORED, lambda _, number: f"key-{number}")
    assert to_numbers(there, lambda _, key: int(key.removeprefix("key-"))) == STORED


def test_the_item_given_stays_as_it_is_and_a_refusal_goes_through() -> None:
    def gone(kind: str, number: int) -> int:
        raise JobError(f"there is no {kind} {number}")

    with pytest.raises(JobError, match="there is no card 4"):
        to_places(STORED, gone)
    assert STORED["stack"][0] == {"ink_id": 1, "passes": 3}


def test_a_word_for_which_ink_is_the_upper_one_is_no_number() -> None:
    seam = {"upper": "first", "wet": True}
    pair = {"upper": 3, "lower": 1}
    assert to_numbers(seam, lambda kind, place: 1 / 0) == seam
    assert to_numbers(pair, lambda kind, place: place + 10) == {"upper_id": 13, "lower_id": 11}
    assert to_places({"upper_id": 13, "lower_id": 11}, lambda kind, number: number - 10) == pair
