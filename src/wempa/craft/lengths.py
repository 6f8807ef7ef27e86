"""Lengths as they are said: millimetres, and inches with a fraction as a ruler has them.

The pages say them by the same rule (`web/src/shared/units.ts`); both are tested with `tests/data/inches.json`.
"""

from __future__ import annotations

from fractions import Fraction

from .limits import INCH_MM, INCH_PARTS


def inches(millimetres: float, parts: int = INCH_PARTS) -> str:
    """A length in inches, 0 or longer, with a fraction to the nearest of so many parts: ``4 1/4``."""
    whole, part = divmod(int(millimetres / INCH_MM * parts + 0.5), parts)
    fraction = f"{Fraction(part, parts)}" if part else ""
    return f"{whole} {fraction}".strip() if whole or not fraction else fraction


def size_said(size: tuple[float, float], inch: bool) -> str:
    """Width and height, mm, in one unit: ``108 × 140 mm``, ``4 1/4 × 5 1/2 in``."""
    return f"{inches(size[0])} × {inches(size[1])} in" if inch else f"{size[0]:.0f} × {size[1]:.0f} mm"


def size_in_both(size: tuple[float, float], inch: bool) -> str:
    """Width and height, mm, in both units, one's own first."""
    return f"{size_said(size, inch)} ({size_said(size, not inch)})"
