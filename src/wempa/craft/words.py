"""What a word of the job is: a fixed text in files, and how it is said on screens and on paper."""

from __future__ import annotations

from enum import StrEnum
from typing import Self


class Word(StrEnum):
    """One of a list of words; a member is its text, then how it is said where that differs.

    `said` labels it on a screen, `phrase` stands inside a sentence.
    """

    said: str
    phrase: str

    def __new__(cls, value: str, said: str = "", phrase: str = "") -> Self:
        return cls._made(value, said, phrase)

    @classmethod
    def _made(cls, value: str, said: str = "", phrase: str = "") -> Self:
        """A new member; for the `__new__` of words that carry more."""
        member = str.__new__(cls, value)
        member._value_ = value
        member.said = said or value.replace("_", " ")
        member.phrase = phrase or member.said
        return member
