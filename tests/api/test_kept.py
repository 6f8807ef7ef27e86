"""The one cache of the service, and how refusals and files are answered."""

from __future__ import annotations

import json
import struct

import pytest
from pydantic import BaseModel

from wempa.api import replies
from wempa.api.kept import Kept
from wempa.craft.errors import JobError, WempaError
from wempa.store import Conflict, NotFound, StoreError


class Made:
    """Counts how often something is made."""

    def __init__(self) -> None:
        self.times = 0

    def __call__(self) -> int:
        self.times += 1
        return self.times


def test_a_thing_is_made_once_for_as_long_as_its_mark_stays() -> None:
    kept, make, shelf = Kept[int](4), Made(), object()
    assert [kept.get("a", (shelf, 3), make) for _ in range(3)] == [1, 1, 1]
    assert kept.get("a", (shelf, 4), make) == 2
    assert kept.get("a", (shelf, 4), make) == 2
    # Another shelf with the same contents is another shelf.
    assert kept.get("a", ([], 4), make) == 3
    assert kept.get("a", ([], 4), make) == 4
    assert kept.get("a", (shelf,), make) == 5


def test_what_was_used_longest_ago_gives_way() -> None:
    kept, make = Kept[int](2), Made()
    kept.get("a", 1, make)
    kept.get("b", 1, make)
    kept.get("a", 1, make)
    kept.get("c", 1, make)
    assert make.times == 3
    kept.get("a", 1, make)
    assert make.times == 3
    kept.get("b", 1, make)
    assert make.times == 4


def test_of_many_things_only_those_that_are_not_there_are_made_and_together() -> None:
    kept, asked = Kept[str](4), list[list[int]]()

    def make(places: list[int]) -> list[str]:
        asked.append(places)
        return [f"{len(asked)}.{n}" for n in places]

    assert kept.get_all([("a", 1), ("b", 1)], make) == ["1.0", "1.1"]
    assert kept.get_all([("a", 1), ("c", 1), ("b", 2)], make) == ["1.0", "2.1", "2.2"]
    assert kept.get_all([("c", 1), ("b", 2), ("a", 1)], make) == ["2.1", "2.2", "1.0"]
    assert kept.get_all([], make) == []
    assert asked == [[0, 1], [1, 2]]
    # More than are kept at all are given all the same.
    assert kept.get_all([(n, 1) for n in range(9)], make) == [f"3.{n}" for n in range(9)]


def test_what_is_forgotten_is_made_anew() -> None:
    kept, make = Kept[int](2), Made()
    kept.get("a", 1, make)
    kept.forget()
    assert kept.get("a", 1, make) == 2


@pytest.mark.parametrize(
    ("error", "status"),
    [(NotFound("x"), 404), (Conflict("x"), 409), (StoreError("x"), 422), (JobError("x"), 422), (WempaError("x"), 422)],
)
def test_the_status_follows_from_the_class(error: WempaError, status: int) -> None:
    assert replies.status_of(error) == status


def test_a_class_of_tomorrow_takes_its_parents_status() -> None:
    class Gone(NotFound):
        """Deleted by somebody else."""

    assert replies.status_of(Gone("x")) == 404


@pytest.mark.parametrize(("given", "revision"), [(None, None), ('"7"', 7), ("12", 12), (' "3" ', 3)])
def test_a_revision_is_read_from_if_match(given: str | None, revision: int | None) -> None:
    assert replies.revision_of(given) == revision


@pytest.mark.parametrize("given", ["", '""', "*", 'W/"7"', "-1", "1.5", "x"])
def test_what_is_no_revision_is_refused(given: str) -> None:
    with pytest.raises(StoreError, match="a whole number"):
        replies.revision_of(given)


def test_a_file_has_a_name_that_any_machine_takes() -> None:
    answer = replies.download("x", "text/plain", 'Émile’s "card"/..\\2.JSON')
    assert answer.headers["content-disposition"] == 'attachment; filename="mile-s--card-----2.JSON"'


class Head(BaseModel):
    """A head of any length."""

    text: str


@pytest.mark.parametrize("length", range(5))
def test_what_follows_a_head_begins_at_a_multiple_of_four(length: int) -> None:
    body = bytes(replies.framed(Head(text="x" * length), b"\x01\x02", b"\x03").body)
    (size,) = struct.unpack("<I", body[:4])
    assert size % 4 == 0
    assert json.loads(body[4 : 4 + size]) == {"text": "x" * length}
    assert body[4 + size :] == b"\x01\x02\x03"
