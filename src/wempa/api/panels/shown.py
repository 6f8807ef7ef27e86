"""Panels as the screens take them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from wempa.craft.colour.naming import counted, describe
from wempa.craft.job import Stash
from wempa.craft.panels.bands import share_of
from wempa.craft.panels.colours import ribbon_shares
from wempa.craft.panels.edits import evenness_words, softness_words
from wempa.craft.panels.fixes import SeamFix
from wempa.craft.panels.panel import name_of, reach_of
from wempa.craft.panels.study import Study, ways_to_blend
from wempa.craft.vocabulary import Frame
from wempa.formats.job_result import coded
from wempa.formats.panels.plan import PanelItem
from wempa.optics import colorimetry as cm

from .making import MadePanel, hex_of_card
from .models import BandSeenOut, PieceOut, SeamFixOut, SeamSeenOut, SoftnessOut, StepOut, StudyOut, WidestOut

# Places along a band at which its amount is told.
_PLACES = 33


def shown_colours(found: Study, light: str) -> list[str]:
    """Hex of bands and in-betweens as they follow one another."""
    colours = []
    for k, band in enumerate(found.bands):
        colours.append(band.lab)
        if k < len(found.seams) and found.seams[k].end > found.seams[k].begin:
            colours.append(found.seams[k].lab)
    return cm.hexes_from_lab(np.array(colours), light)


def study_out(made: MadePanel, found: Study | None, rows: int, columns: int) -> StudyOut:
    """All that is told of a panel, of a picture of so many rows and columns; `found` is None without bands."""
    plan, light = made.plan, str(made.job.illuminant)
    pieces = made.cut()
    mat = plan.mat_id if plan.frame is Frame.MAT else None
    common: dict[str, Any] = {
        "rows": rows,
        "columns": columns,
        "inked": list(plan.inked()),
        "length": round(made.panel.front.length(), 2),
        "card": hex_of_card(made.shelf, plan.card_id, plan),
        "mat": None if mat is None else hex_of_card(made.shelf, mat, plan),
        "pieces": [PieceOut(left=p.left, top=p.top, width=p.width, height=p.height) for p in pieces.pieces],
        "panels": pieces.count,
        "waste": round(pieces.waste, 3),
        "mud_line": made.job.mud_line,
    }
    if found is None:
        nothing: dict[str, Any] = {key: [] for key in ("bands", "seams", "order", "steps", "ways", "notes")}
        return StudyOut(
            **common, **nothing, reason="", minutes=0, colours=0, inks=0, evenness=None, evenness_words="", widest=None
        )
    names = [name_of(made.job, made.panel, k) for k in range(len(found.bands))]
    reaches = reach_of(made.job, made.panel, found.placed)
    bands = []
    for k, band in enumerate(found.bands):
        lay = made.panel.laid(k)
        bands.append(
            BandSeenOut(
                name=names[k],
                begin=round(band.begin, 2),
                end=round(band.end, 2),
                laid_from=round(reaches[k][0], 2),
                laid_to=round(reaches[k][1], 2),
                hex=cm.hexes_from_lab(band.lab[None], light)[0],
                words=describe(band.lab.tolist()),
                widened=band.widened,
                twin=band.twin,
                flags=coded(band.flags),
                amounts=_amounts(made, found, k, reaches[k], lay.passes if lay.dose is None else lay.dose),
                tool="" if lay.dose is not None else str(lay.tool),
                load=str(lay.load),
                passes=lay.passes,
            )
        )
    seams = [
        SeamSeenOut(
            pair=list(seam.pair),
            begin=round(seam.begin, 2),
            end=round(seam.end, 2),
            overlap=round(joint.overlap, 2),
            feather=round(joint.feather, 2),
            hex=cm.hexes_from_lab(seam.lab[None], light)[0],
            words=describe(seam.lab.tolist()),
            along=cm.hexes_from_lab(seam.along, light),
            kind=seam.kind,
            mud=round(seam.mud, 1),
            muddy_mm=round(seam.muddy_mm, 1),
            hardest=round(seam.hardest, 1),
            softness=softness_words(seam.hardest, made.table),
            flags=coded(seam.flags),
            chosen=None if seam.chosen is None else coded([seam.chosen])[0],
            soft=round(seam.soft, 2),
            at_once=joint.wet and joint.overlap > 0,
        )
        for seam, joint in zip(found.seams, found.placed.seams, strict=False)
    ]
    return StudyOut(
        **common,
        bands=bands,
        seams=seams,
        order=list(found.work.order),
        reason=found.work.reason,
        steps=[
            StepOut(
                band=s.band,
                waits=round(s.waits, 1),
                loads=s.loads,
                minutes=round(s.minutes, 1),
                passes=s.passes,
                why=s.why,
            )
            for s in found.work.steps
        ],
        ways=[
            SoftnessOut(soft=way.soft, words=way.words, minutes=round(way.minutes, 1), passes=way.passes)
            for way in ways_to_blend(replace(made.job, stash=Stash()), made.panel, made.wanted)
        ],
        minutes=round(found.work.minutes, 1),
        notes=coded(found.work.notes),
        colours=found.colours,
        inks=found.inks,
        evenness=None if found.evenness is None else round(found.evenness, 2),
        evenness_words="" if found.evenness is None else evenness_words(found.evenness),
        widest=_widest(found, names),
    )


def _amounts(made: MadePanel, found: Study, k: int, reach: tuple[float, float], full: float) -> list[list[float]]:
    """Places along the line, mm, and how much of band k's ink lies there."""
    at = np.linspace(max(0.0, reach[0]), min(found.placed.length, reach[1]), _PLACES)
    if made.panel.layout.overlaid:
        there, _ = ribbon_shares(made.job, made.panel, found.placed, k, at - reach[0])
    else:
        there = share_of(found.placed, k, at)
    return [[round(float(x), 2), round(full * float(part), 2)] for x, part in zip(at, there, strict=True)]


def _widest(found: Study, names: list[str]) -> WidestOut | None:
    if found.widest is None:
        return None
    step, *ends = found.widest
    said = [names[each[0]] if len(each) == 1 else f"where {' meets '.join(names[k] for k in each)}" for each in ends]
    return WidestOut(delta_e=round(step, 1), between=" and ".join(said))


def fix_out(fix: SeamFix, made: MadePanel, found: Study, at: int) -> SeamFixOut:
    """A change that helps seam `at`, and the panel after it."""
    plan = made.plan.changed(made.panel, fix.panel, fix.job)
    change = PanelItem.model_validate({**made.plan.model_dump(), **plan.model_dump()})
    before, after = found.seams[at], fix.after.seams[min(at, len(fix.after.seams) - 1)]
    told = []
    if round(before.mud) != round(after.mud):
        told.append(f"mud {before.mud:.0f} → {after.mud:.0f}")
    if round(before.muddy_mm) != round(after.muddy_mm):
        told.append(f"muddy over {before.muddy_mm:.0f} → {after.muddy_mm:.0f} mm")
    met = found.placed.seams[at].overlap and fix.after.placed.seams[min(at, len(fix.after.seams) - 1)].overlap
    if met and abs(before.hardest - after.hardest) >= 0.2 and len(found.seams) == len(fix.after.seams):
        was, now = (softness_words(each.hardest, made.table) for each in (before, after))
        told.append(was if was == now else f"{was} → {now}")
    flagged = sum(bool(seam.flags) for seam in fix.after.seams)
    told.append(f"{counted(flagged, 'seam')} flagged then" if flagged else "no seam flagged then")
    shown = shown_colours(fix.after, str(made.job.illuminant))
    return SeamFixOut(code=fix.code, text=fix.text, seam=", ".join(told), shown=shown, change=change)
