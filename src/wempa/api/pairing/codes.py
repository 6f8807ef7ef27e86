"""The code that pairs one device. The laptop shows it; it can be used once, for a short while, and stands few wrong
guesses.
"""

from __future__ import annotations

import secrets
import threading
import time
from dataclasses import dataclass

FIGURES = 6
LASTS = 600.0
"""Seconds that a code can be used."""
GUESSES = 5
"""Wrong guesses after which a code is void: a guesser has 5 chances in 1,000,000."""


@dataclass(frozen=True, slots=True)
class Code:
    """A code and for how many seconds from now it is good."""

    figures: str
    seconds: float


class PairingCodes:
    """The one code that pairs at the moment, if there is one. Safe to share between threads."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._code = ""
        self._until = 0.0
        self._wrong = 0

    def make(self) -> Code:
        """Make a new code; the one before is void from then on."""
        with self._lock:
            self._code = f"{secrets.randbelow(10**FIGURES):0{FIGURES}d}"
            self._until = time.monotonic() + LASTS
            self._wrong = 0
            return Code(self._code, LASTS)

    def now(self) -> Code | None:
        """The code that is good now."""
        with self._lock:
            left = self._until - time.monotonic()
            return Code(self._code, left) if self._code and left > 0 else None

    def spent(self) -> bool:
        """Whether the last code was guessed at too often."""
        with self._lock:
            return self._wrong >= GUESSES

    def take(self, given: str) -> bool:
        """Whether this is the code. A right one is used up; a wrong one counts against the code."""
        with self._lock:
            if not self._code or time.monotonic() > self._until:
                return False
            if secrets.compare_digest(given.encode(), self._code.encode()):
                self._code = ""
                return True
            self._wrong += 1
            if self._wrong >= GUESSES:
                self._code = ""
            return False
