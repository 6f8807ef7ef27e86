"""A workspace file that holds one panel, planned: what `wempa panel` and its route give."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np

from wempa.api.kept import Kept
from wempa.api.shelf import Shelf, shelf_of
from wempa.api.taught import taught_by
from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, Stash
from wempa.craft.panels.colours import LINE_SHADES, stacks_at, strokes, weighed
from wempa.craft.panels.panel import name_of
from wempa.craft.panels.study import Study
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Illuminant
from wempa.formats.job_result import SeenColour, coded, seen_colour
from wempa.formats.log.items import Lesson
from wempa.formats.panels.panel_result import LaidBand, PlannedBand, PlannedPanel, PlannedSeam, ProfilePlace
from wempa.formats.panels.plan import PanelItem
from wempa.formats.stash.items import CardItem, InkItem, RangeItem
from wempa.formats.workspace import Document, read_workspace

from .making import MadePanel, made_of

# Millimetres between the places of a profile.
_PROFILE_MM = 0.5


def made_from_file(data: bytes) -> MadePanel:
    """The one panel of a workspace file, with the file's inks and cards.

    Raises
    ------
    JobError
        It is no such file, or holds no panel or several, or the panel cannot be made.
    """
    document = read_workspace(data)
    panels = document["panels"]
    if len(panels) != 1:
        raise JobError("this file holds no panel" if not panels else f"this file holds {len(panels)} panels, not one")
    filed = panels[0]
    if filed.body is None:
        raise JobError(f"{filed.name} could not be read where it comes from", ("panels", 0))
    return made_of(PanelItem.read(filed.stored(lambda _, place: place)), shelf_of_file(document), Kept[Study](1))


def shelf_of_file(document: Document) -> Shelf:
    """The inks and cards of a file, by their places in it, with what was learned of them."""
    inks = {n: each.item for n, each in enumerate(document["inks"]) if isinstance(each.item, InkItem)}
    cards = {n: each.item for n, each in enumerate(document["cards"]) if isinstance(each.item, CardItem)}
    ranges = {each.item.name: each.item.constants for each in document["ranges"] if isinstance(each.item, RangeItem)}
    readable = [each for each in document["lessons"] if each.body is not None]
    taught = taught_by([Lesson.read(each.stored(lambda _, place: place)) for each in readable])
    lost = {
        (kind, n): each.name
        for kind, listed in (("ink", "inks"), ("card", "cards"))
        for n, each in enumerate(document[listed])
        if each.item is None
    }
    return shelf_of(inks, cards, ranges, taught, date.today(), lost)


def planned(made: MadePanel) -> PlannedPanel:
    """All that is told of a panel, as the contract has it; raises `JobError`."""
    if not made.plan.bands:
        raise JobError("this panel has no bands", ("panels", 0, "bands"))
    found, table = made.study(), constants.values(made.job.constants)
    names = [name_of(made.job, made.panel, k) for k in range(len(found.bands))]
    at = [band.ink_id for band in made.plan.bands]
    hard = table["seam.hard"]
    middles = [(band.begin + band.end) / 2 for band in found.bands]
    between = [(seam.begin + seam.end) / 2 % found.placed.length for seam in found.seams]
    colours = _colours(made, found, [*middles, *between])
    places = np.linspace(0, found.placed.length, int(np.ceil(found.placed.length / _PROFILE_MM)) + 1)
    return PlannedPanel(
        length=round(found.placed.length, 3),
        colours=found.colours,
        bands=[
            PlannedBand(
                ink=names[k],
                at=at[k],
                from_=round(band.begin, 3),
                to=round(band.end, 3),
                colour=colours[k],
                flags=coded(band.flags),
            )
            for k, band in enumerate(found.bands)
        ],
        seams=[
            PlannedSeam(
                inks=[names[k] for k in seam.pair],
                at=[at[k] for k in seam.pair],
                from_=round(seam.both[0], 3),
                to=round(seam.both[1], 3),
                steepest=round(seam.hardest, 3),
                hard_line=seam.hardest > hard,
                kind=seam.kind,
                mud=round(seam.mud, 2),
                middle=colours[len(middles) + n],
                flags=coded([*seam.flags, *([] if seam.chosen is None else [seam.chosen])]),
            )
            for n, seam in enumerate(found.seams)
        ],
        profile=[
            ProfilePlace(at=round(float(x), 3), lab=[round(value, 3) for value in lab])
            for x, lab in zip(places, _profile(made, found, places), strict=True)
        ],
        order=[LaidBand(ink=names[step.band], at=at[step.band], reason=step.why) for step in found.work.steps],
        minutes=round(found.work.minutes, 2),
        waits=[round(step.waits, 2) for step in found.work.steps],
        notes=coded(found.work.notes),
    )


def _colours(made: MadePanel, found: Study, at: Sequence[float]) -> list[SeenColour]:
    """The dry colour at places along the line, each predicted by itself."""
    bare = replace(made.job, stash=Stash())
    laid = strokes(bare, found.panel, found.placed, found.work.order, np.asarray(at))
    stacks, which = stacks_at(laid, LINE_SHADES)
    seen = [seen_colour(predict(replace(bare, stack=(*bare.stack, *stack))).colour) for stack in stacks]
    return [seen[n] for n in which.tolist()]


def _profile(made: MadePanel, found: Study, at: Any) -> list[list[float]]:
    """CIELAB under D65 at places along the line (n,)."""
    day: Job = replace(made.job, stash=Stash(), illuminant=Illuminant.D65)
    stacks, which = stacks_at(strokes(day, found.panel, found.placed, found.work.order, at), LINE_SHADES)
    lab: list[list[float]] = weighed(day, stacks).lab[which].tolist()
    return lab
