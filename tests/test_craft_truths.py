"""What practitioners see with real tools, over random families of inks: of one seed, what held goes on holding."""

from __future__ import annotations

import pytest

from bench import own_truths
from bench.craft_truths import STATEMENTS


@pytest.fixture(scope="module")
def found() -> dict[str, tuple[float, float]]:
    """Of each statement the share of samples that it asks for, and the share that agrees."""
    return {name: (share, held) for name, share, held in own_truths.tried_all(1, 16)}


@pytest.mark.parametrize("name", [name for name, *_ in STATEMENTS])
def test_what_practitioners_see(name: str, found: dict[str, tuple[float, float]]) -> None:
    share, held = found[name]
    # Sixteen samples of a share of 90 % are 78 % or more nineteen times in twenty.
    assert held >= share - 1.65 * (share * (1 - share) / 16) ** 0.5


def test_statements_are_many_and_their_names_differ() -> None:
    names = [name for name, *_ in STATEMENTS]
    assert len(names) == len(set(names)) >= 62
    assert sum(sample.__module__ == own_truths.__name__ for *_, sample in STATEMENTS) >= 20
