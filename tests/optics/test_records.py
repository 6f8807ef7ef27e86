"""Records made many times: quick, and hashed once."""

from __future__ import annotations

import pickle
from dataclasses import dataclass, fields, replace

import pytest

from wempa.craft.job import Card, Colour, Ink, LayDown, Swatch
from wempa.craft.prediction.amounts import Ground, Habit
from wempa.optics.records import HashedOnce, record


@record
class Pair:
    left: float
    right: float = 2.0


def test_a_record_has_its_fields_and_no_others() -> None:
    pair = Pair(1.0)
    assert [each.name for each in fields(pair)] == ["left", "right"]
    assert (pair.left, pair.right) == (1.0, 2.0)
    assert replace(pair, right=3.0).right == 3.0
    with pytest.raises(AttributeError):
        pair.other = 1  # type: ignore[attr-defined]
    # Two of the same numbers are two records: arrays within could not be compared.
    assert pair != Pair(1.0)


class Counted(str):
    """A text that counts how often it is asked for its hash."""

    __slots__ = ("times",)
    times: int

    def __hash__(self) -> int:
        self.times = getattr(self, "times", 0) + 1
        return super().__hash__()


@dataclass(frozen=True, slots=True)
class Key(HashedOnce):
    name: str
    __hash__ = HashedOnce.__hash__


def test_a_hash_is_worked_out_once_and_does_not_travel() -> None:
    name = Counted("night mail")
    key = Key(name)
    assert hash(key) == hash(key) == hash(Key("night mail"))
    assert name.times == 1
    again = pickle.loads(pickle.dumps(Key("night mail")))
    assert not hasattr(again, "_hashed")
    assert {again: 1}[Key("night mail")] == 1


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (Card(Colour(hex="#ffffff")), {"texture": 0.5}),
        (Ink(Swatch(Colour(hex="#2456a6"))), {"name": "Boiler Blue"}),
        (LayDown((("a", 1.0),)), {"passes": 3.0}),
        (Ground(0.2, 0.8, 0.9), {"exchange": 0.5}),
        (Habit(0.5, 1.0, 1.0), {"strength": 1.2}),
    ],
    ids=lambda each: type(each).__name__,
)
def test_keys_of_caches_are_equal_by_what_they_hold(one: HashedOnce, other: dict[str, object]) -> None:
    hash(one)
    same = replace(one)  # type: ignore[type-var]
    changed = replace(one, **other)  # type: ignore[type-var]
    assert (same, hash(same)) == (one, hash(one))
    assert changed != one
    assert hash(changed) != hash(one)
