"""How far a colour read off a photo can be trusted, and what to say of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot

from wempa.craft.job import Note
from wempa.optics.grid import Floats
from wempa.optics.photo import alike

_GLARE_KEPT, _CLIPPED = 0.8, 0.15


def reading_doubt(
    lab: Sequence[float], spread: float, kept: float, clipped: float, glows: bool, table: Mapping[str, float]
) -> tuple[float, list[Note]]:
    """Spread in ΔE00 to store with a reading, and notes on it.

    `lab` is CIELAB, `spread` that over the marked area, `kept` and `clipped` the shares
    of its pixels that were used and that the camera cut off.
    """
    whole = hypot(spread, table["photo.read"])
    notes = []
    lightness, a, b = lab
    if glows:
        whole *= table["photo.glowing"]
        notes.append(Note("glows", "It glows: a photo cannot hold how bright it is, so the colour is a rough one."))
    elif (
        lightness > table["photo.pale"]
        and b > max(table["photo.yellow"], abs(a))
        and hypot(a, b) < table["photo.strong"]
    ):
        whole *= table["photo.pale_yellow"]
        notes.append(
            Note("pale_yellow", "Cameras see pale yellows badly: look at it beside the card before you trust it.")
        )
    if clipped > _CLIPPED:
        notes.append(Note("clipped", "Part of it is overexposed or glaring; only the rest was read."))
    elif kept < _GLARE_KEPT:
        notes.append(Note("uneven", "It is uneven, glaring or cut at the edge; only the even part was read."))
    if spread > table["photo.blotchy"]:
        notes.append(Note("blotchy", "The area varies a good deal: mark a smaller, even part of it."))
    return whole, notes


def coinciding(labs: Floats, table: Mapping[str, float]) -> list[tuple[int, int]]:
    """Pairs of readings (n, 3) so near that they may be one ink read twice."""
    return alike(labs, table["photo.same"])
