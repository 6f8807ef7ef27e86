"""Patches: a dip, a dab or a wet brush covers only a share of the area in one go.

Such lay-downs that dried one after another lie side by side and over one another; those
still wet run together. Each lies where it falls, whatever lies below, so all of them
cover the product of their shares.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import product
from math import prod

from wempa.optics.records import record

from .rows import BatchRow
from .settling import Part

# How many lay-downs are told apart as patches, counted from the top; those below are taken as fine specks.
MOST = 4


@record
class Patch:
    """One kind of place: where these lay-downs lie and others have missed."""

    share: float
    """Of the area, above 0 to 1."""
    row: BatchRow
    alone: list[BatchRow]
    """Each ink by itself there, in the order of the row's inks; without parts where it has missed."""


def patchy_groups(row: BatchRow) -> dict[int, float]:
    """The share of the area that each wet group that lies in patches covers, the uppermost `MOST`."""
    for part in row.parts:
        if 0 < part.patch < 1:
            break
    else:
        return {}
    bare: dict[int, float] = {}
    for part in row.parts:
        bare[part.group] = bare.get(part.group, 1.0) * (1 - part.patch)
    found = {group: 1 - left for group, left in bare.items() if left > 0}
    return {group: found[group] for group in sorted(found)[-MOST:]}


def as_specks(row: BatchRow) -> BatchRow:
    """The row with its patches taken as fine specks, which gives roughly its colour; the row itself if it has none."""
    if not patchy_groups(row):
        return row
    parts = [
        replace(part, cover=part.cover * part.patch, patch=1.0 if part.patch else 0.0, apart=True) for part in row.parts
    ]
    return _with(row, parts)


def patches_of(row: BatchRow, alone: Sequence[BatchRow] = ()) -> list[Patch]:
    """All kinds of places of a stack, most ink first; one, the row itself, if nothing lies in patches."""
    shares = patchy_groups(row)
    if not shares:
        return [Patch(1.0, row, list(alone))]
    found = []
    for lies in product((True, False), repeat=len(shares)):
        there = dict(zip(shares, lies, strict=True))
        share = prod([shares[group] if own else 1 - shares[group] for group, own in there.items()])
        here = [_place(each, there, shares) for each in (row, *alone)]
        found.append(Patch(share, here[0], here[1:]))
    return found


def _place(row: BatchRow, there: dict[int, bool], shares: dict[int, float]) -> BatchRow:
    """What of a row lies in one kind of place: all of a lay-down's ink lies where it lies at all."""
    parts: list[Part] = []
    for part in row.parts:
        if part.group not in there:
            parts.append(
                replace(part, cover=part.cover * part.patch, patch=1.0, apart=True) if 0 < part.patch < 1 else part
            )
        elif there[part.group]:
            share = shares[part.group]
            parts.append(
                replace(part, dose=part.dose / share, chalk=part.chalk / share, patch=1.0 if part.patch else 0.0)
            )
    return _with(row, parts)


def _with(row: BatchRow, parts: list[Part]) -> BatchRow:
    return BatchRow(parts, row.floor_scale, row.pores, row.vividness, row.treatments)
