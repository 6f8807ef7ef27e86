"""Names that can be read aloud and drawn: not blank, and without characters that only steer."""

from __future__ import annotations

import unicodedata

from pydantic import AfterValidator

# Marks that turn the direction of writing: what follows would be read backwards.
_TURNS = {chr(code) for code in (*range(0x202A, 0x202F), *range(0x2066, 0x206A))}


def _plain(text: str) -> str:
    # That there is one at all is said where its length is.
    if text and not text.strip():
        raise ValueError("a name needs a letter or a figure at least")
    if any(unicodedata.category(letter) == "Cc" or letter in _TURNS for letter in text):
        raise ValueError("a name holds no control characters")
    return text


PLAIN = AfterValidator(_plain)
"""Marks a text as a name; its length is said before."""
