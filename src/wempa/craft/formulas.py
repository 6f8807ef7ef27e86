"""What an ink is made of: each formula's word and what follows from it, in one place.

Its numbers are rows of the craft table (`wempa.craft.formula_rows`).
"""

from __future__ import annotations

from typing import NamedTuple, Self

from .words import Word


class ToolSet(Word):
    """Which inks a brush or foam is kept for."""

    DYE = "dye", "dyes"
    HYBRID = "hybrid", "hybrids"
    PIGMENT = "pigment", "pigments"
    WHITE = "white"


class FormulaRow(NamedTuple):
    """What is so of a formula, and not a matter of degree."""

    set: ToolSet | None
    """The set of tools that is kept for such inks; None where nobody can say."""
    soaks: bool = False
    """Whether all of it soaks in, so that it is laid with a brush."""
    reactive: bool = False
    """Whether water moves it once it is dry."""
    covers: bool = False
    """Whether one coat of it may hide what lies below."""


_UNKNOWN = FormulaRow(None)


class Formula(Word):
    """What an ink is made of."""

    row: FormulaRow

    def __new__(cls, value: str, row: FormulaRow = _UNKNOWN, said: str = "") -> Self:
        member = cls._made(value, said)
        member.row = row
        return member

    DYE = "dye", FormulaRow(ToolSet.DYE, soaks=True)
    REACTIVE_DYE = "reactive_dye", FormulaRow(ToolSet.DYE, soaks=True, reactive=True)
    HYBRID = "hybrid", FormulaRow(ToolSet.HYBRID)
    # Water moves it and it dries as soon as a hybrid does.
    REACTIVE_PIGMENT = "reactive_pigment", FormulaRow(ToolSet.HYBRID, reactive=True, covers=True)
    PIGMENT = "pigment", FormulaRow(ToolSet.PIGMENT, covers=True)
    FLUORESCENT = "fluorescent", FormulaRow(ToolSet.DYE, soaks=True)
    UNKNOWN = "unknown", _UNKNOWN, "formula unknown"
