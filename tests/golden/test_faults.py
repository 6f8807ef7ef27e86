"""Advice on faults at the table: what the golden file says, for every fault, on cards and in inks that differ."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.golden.gold import Gold
from tests.golden.jobs import JOBS
from wempa.craft.table.dry_look import spots_on
from wempa.craft.table.faults import judged
from wempa.craft.vocabulary import Fault, Formula, Towards

from .test_panels import FIVE, panel_of
from .test_searches import with_stash

SPOTS = ("opposites, deep", "orange dye on mint", "four mixed wet", "dye over hybrid over dye")


def test_every_fault(pytestconfig: pytest.Config) -> None:
    assert set(SPOTS) <= set(JOBS)
    found: dict[str, Any] = {}
    for name in SPOTS:
        job = with_stash(name)
        for fault in Fault:
            ways = (None, Towards.WARMER, Towards.GREENER) if fault is Fault.OFF_HUE else (None,)
            for towards in ways:
                for minutes in (0.5, 30.0) if name == SPOTS[0] else (2.0,):
                    told = judged(fault, job, minutes, towards)
                    found[f"{name}: {fault} {towards} after {minutes}"] = [
                        told.settles,
                        told.when,
                        told.texts,
                        [[rescue.text, rescue.helps, rescue.after] for rescue in told.rescues],
                    ]
    plain = with_stash(SPOTS[1])
    for formula in Formula:
        inks = tuple((key, replace(ink, formula=formula)) for key, ink in plain.inks)
        told = judged(Fault.STREAKS, replace(plain, inks=inks), 1.0)
        found[f"streaks in {formula}"] = [told.settles, told.when, told.texts]
    found["spots"] = spots_on(panel_of(*FIVE), 3, 4)
    Gold("faults.json", pytestconfig.getoption("--regold")).check(found, 0.05)
