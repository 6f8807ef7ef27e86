"""What holds for all tests."""

from __future__ import annotations

import pytest
from hypothesis import settings

import wempa.api.app

# The host that test clients call themselves by is known to nobody else.
wempa.api.app.LOOPBACK |= {"testserver"}
# How long one example takes says more about the machine than about the code.
settings.register_profile("wempa", deadline=None)
settings.load_profile("wempa")


def pytest_addoption(parser: pytest.Parser) -> None:
    """Let the golden files be written anew."""
    parser.addoption("--regold", action="store_true", help="write the golden files anew; review the diff like code")
