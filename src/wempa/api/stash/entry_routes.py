"""Routes for entering inks: a colour by eye, a list of names, and what is asked before they go onto the shelf."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

import numpy as np
from fastapi import Query

from wempa.api.replies import api_router
from wempa.api.services import Services, ServicesNow
from wempa.craft.job import Colour
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.by_eye import STEPS, around, field, said_of, spreads
from wempa.craft.stash.doubts import EnteredInk, doubts_of
from wempa.craft.vocabulary import EyeFamily
from wempa.formats.stash.name_list import read_names, write_names
from wempa.optics import colorimetry as cm

from .entry_models import (
    DoubtOut,
    EntriesIn,
    EyeAround,
    EyeColour,
    EyeFamilyOut,
    EyeField,
    EyeStart,
    EyeStep,
    EyeSteps,
    ListedOut,
    NameList,
    NamesIn,
    UncolouredIn,
)

router = api_router()
_Lightness = Annotated[float, Query(ge=0, le=100, allow_inf_nan=False)]
_Across = Annotated[float, Query(ge=-160, le=160, allow_inf_nan=False)]
Lab = tuple[float, float, float]


@router.get("/by-eye")
def by_eye(services: ServicesNow) -> EyeStart:
    """The families to begin with, and how far people are off under which light."""
    table = services.shelf().table
    # The liveliest of a family stands for it.
    families = {family: [lab for row in field(family) for lab in row] for family in EyeFamily}
    middle = {EyeFamily.WHITE, EyeFamily.GREY, EyeFamily.BLACK}
    shown = [
        labs[len(labs) // 2] if family in middle else max(labs, key=lambda lab: lab[1] ** 2 + lab[2] ** 2)
        for family, labs in families.items()
    ]
    return EyeStart(
        families=[
            EyeFamilyOut(family=family, hex=each.hex) for family, each in zip(EyeFamily, _shown(shown), strict=True)
        ],
        spread={str(light): spread for light, spread in spreads(table).items()},
    )


@router.get("/by-eye/around")
def by_eye_around(services: ServicesNow, light: _Lightness, a: _Across, b: _Across) -> EyeAround:
    """A colour, CIELAB under D65, and what lies around it."""
    at = (light, a, b)
    found = [around(at, step) for step in STEPS]
    there = iter(_shown([at, *(way.lab for ways in found for way in ways if way.lab is not None)]))
    here = next(there)
    steps = [
        EyeSteps(step=step, ways=[EyeStep(way=way.way, to=None if way.lab is None else next(there)) for way in ways])
        for step, ways in zip(STEPS, found, strict=True)
    ]
    return EyeAround(at=here, steps=steps)


@router.get("/by-eye/{family}")
def by_eye_field(services: ServicesNow, family: EyeFamily) -> EyeField:
    """The true colours of a family, unlike one another."""
    return EyeField(rows=[_shown(row) for row in field(family)])


@router.post("/stash/names")
def list_names(services: ServicesNow, body: NamesIn) -> list[ListedOut]:
    """The inks of a list that was typed or pasted."""
    found = read_names(body.text, body.range, body.formula)
    coded = [ink.hex for ink in found if ink.hex is not None]
    labs = cm.lab(np.array([spectrum_of(Colour(hex=code), "D65")[0] for code in coded])) if coded else np.zeros((0, 3))
    shown = iter(_shown([(float(l), float(a), float(b)) for l, a, b in labs]))
    return [
        ListedOut(
            line=ink.line,
            name=ink.name,
            range=ink.range,
            formula=ink.formula,
            colour=None if ink.hex is None else next(shown).model_copy(update={"hex": ink.hex}),
        )
        for ink in found
    ]


@router.post("/stash/names/written")
def write_list(body: UncolouredIn) -> NameList:
    """A list of inks as one writes it, to be typed on another time."""
    return NameList(text=write_names([(ink.name, ink.range, ink.formula) for ink in body.inks]))


@router.post("/stash/doubts")
def ask_doubts(services: ServicesNow, body: EntriesIn) -> list[DoubtOut]:
    """What is asked about inks before they go onto the shelf: twins, and what is not sure."""
    labs = [cm.lab(spectrum_of(ink.colour.to_core(), "D65")[0]) for ink in body.inks]
    new = [
        EnteredInk(ink.name, ink.range, ink.formula, (float(l), float(a), float(b)), ink.spread)
        for ink, (l, a, b) in zip(body.inks, labs, strict=True)
    ]
    return [
        DoubtOut(at=each.at, doubt=each.doubt, other=each.other, text=each.text)
        for each in doubts_of(new, _shelved(services), services.shelf().table)
    ]


def _shelved(services: Services) -> list[EnteredInk]:
    """What stands on the shelf already."""
    return [
        EnteredInk(ink.name, ink.range, ink.formula, (ink.lab[0], ink.lab[1], ink.lab[2]), 0.0)
        for ink in services.stash.view().inks
    ]


def _shown(labs: Iterable[Lab]) -> list[EyeColour]:
    """Colours as the page shows them."""
    every = list(labs)
    if not every:
        return []
    said = said_of(np.array(every))
    return [EyeColour(hex=code, words=words, lab=list(lab)) for (code, words), lab in zip(said, every, strict=True)]
