"""A plugin of pytest that mixes files, and the tests of each: `MIX=3 pytest -p tools.mixed_order`."""

from __future__ import annotations

import os
import random
from pathlib import Path

import pytest


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the tests in an order that is the same for the same `MIX`."""
    chance = random.Random(os.environ.get("MIX", "1"))
    files: dict[Path, list[pytest.Item]] = {}
    for item in items:
        files.setdefault(item.path, []).append(item)
    places = list(files)
    chance.shuffle(places)
    for place in places:
        chance.shuffle(files[place])
    items[:] = [item for place in places for item in files[place]]
