"""What holds for all tests."""

from __future__ import annotations

from hypothesis import settings

# How long one example takes says more about the machine than about the code.
settings.register_profile("wempa", deadline=None)
settings.load_profile("wempa")
