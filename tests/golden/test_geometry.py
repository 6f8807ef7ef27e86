"""Sheets cut up, bands put in place, shapes told in and out: plain geometry, in millimetres."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.golden.gold import Gold
from wempa.craft.job import LayDown
from wempa.craft.panels.bands import Band, Seam, place, share
from wempa.craft.panels.cutting import cut_sheet
from wempa.craft.panels.front import Front, coordinates, spots
from wempa.craft.panels.shapes import Region, inside, mask, moved, opening
from wempa.craft.vocabulary import Layout, Motif, Opening

LAY = LayDown((("a", 1.0),), dose=1.0)
SHEETS = [(210.0, 297.0), (304.8, 304.8), (215.9, 279.4), (297.0, 420.0)]
SIDES = [(107.95, 139.7), (127.0, 177.8), (70.0, 99.0), (101.6, 101.6), (52.5, 74.25), (88.9, 215.9)]


def test_geometry(pytestconfig: pytest.Config) -> None:
    found: dict[str, Any] = {}
    for sheet in SHEETS:
        for panel in SIDES:
            for turn in (True, False):
                try:
                    cut = cut_sheet(sheet, panel, turn=turn)
                except ValueError as refused:
                    found[f"cut {sheet} {panel} {turn}"] = str(refused)
                    continue
                pieces = [(p.left, p.top, p.width, p.height) for p in cut.pieces]
                found[f"cut {sheet} {panel} {turn}"] = [cut.count, cut.waste, pieces[0], pieces[-1]]
    plans: dict[str, tuple[list[Band], list[Seam], bool]] = {
        "plain": ([Band(LAY)] * 3, [Seam(10, 4), Seam(6, 6)], False),
        "gaps": ([Band(LAY)] * 3, [Seam(0, 0, 2), Seam(0, 0, 5)], False),
        "closed": ([Band(LAY)] * 3, [Seam(10, 4), Seam(6, 3), Seam(8, 2)], True),
        "weighed": ([Band(LAY, weight=2), Band(LAY), Band(LAY, weight=0.5)], [Seam(4, 2), Seam(0, 0, 3)], False),
        "held": ([Band(LAY, width=30), Band(LAY), Band(LAY, width=20)], [Seam(4, 2), Seam(8, 0)], False),
        "one": ([Band(LAY)], [], False),
    }
    for name, (bands, seams, closed) in plans.items():
        for between in (False, True):
            where = place(120.0, bands, seams, count_between=between, closed=closed)
            at = share(where, np.linspace(0, 120, 25))
            found[f"bands {name} {between}"] = [where.start, where.stop, where.visible, at]
    for layout in Layout:
        front = Front(90, 130, layout, 25.0, (0.4, 0.3))
        at = coordinates(front, *spots(front.whole, 0.1))
        found[f"front {layout}"] = [front.length(), at.shape, at]
    x, y = np.linspace(0.5, 59.5, 60)[None], np.linspace(0.5, 79.5, 80)[:, None]
    for kind in Opening:
        own = (((0.0, 0.0), (3.0, 0.0), (3.0, 1.0), (1.0, 4.0)),) if kind is Opening.OWN else ()
        rings = moved(opening(kind, 50, 60, own), 5, 8)
        seen = inside(rings, x, y)
        found[f"opening {kind}"] = [int(seen.sum()), seen.sum(axis=0)[::6], seen.sum(axis=1)[::8]]
    for motif in Motif:
        leaf = (((0.0, 0.0), (3.0, 0.0), (1.0, 4.0)),) if motif is Motif.OWN else ()
        seen = mask(Region(motif, 6, 14, leaf), x, y)
        found[f"motif {motif}"] = [int(seen.sum()), seen.sum(axis=0)[::6], seen.sum(axis=1)[::8]]
    Gold("geometry.json", pytestconfig.getoption("--regold")).check(found)
