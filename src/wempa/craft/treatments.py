"""What is done to everything below: each treatment's word and all that it does, in one place."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from math import exp
from typing import NamedTuple, Self

from .words import Word

Numbers = Mapping[str, float]
Effect = Callable[[Numbers, Numbers], float]
"""A factor from the numbers of an ink (columns of its formula) and the craft table."""
DoseEffect = Callable[[Numbers, Numbers, float], float]
"""The same, that depends on the dose that lies there as well."""


def left_by_water(ink: Numbers, table: Numbers, dose: float) -> float:
    """Share of an ink that stays where water was dropped: what holds on to the card stays, what lies on it goes.

    The first breath of ink is bound; the deeper the coat, the larger the share that lies loose.
    """
    return 1 - ink["lift"] * (1 - exp(-dose / table["lift.depth"]))


class TreatmentRow(NamedTuple):
    """What a treatment does, to every part of the stack below it unless it says otherwise."""

    line: str
    """As an instruction."""
    dose: Effect | None = None
    """Factor on the amount that lies there."""
    scatter: Effect | None = None
    """Factor on the film's scatter."""
    drops: tuple[DoseEffect, Effect] | None = None
    """Where water was dropped: a factor on the amount, and by how much more the film scatters where it dried. The field
    beside the drops is `dose`."""
    chalk: str = ""
    """Row of the table: the share of a dried film's chalk that is left."""
    floor: str = ""
    """Row of the table: the share of the floor that is left, however often it is done."""
    pores: str = ""
    """Row of the table that says how far it fills the pores for good."""
    closes: bool = False
    """Whether what lies there has dried after it."""
    seals: bool = False
    """Whether water gets at nothing below it any more, nor would a second coat of it change what lies there."""
    wet_only: bool = False
    """Whether it touches what is still wet and nothing else."""
    caution: str = ""
    """What is to be minded."""


class Treatment(Word):
    """What is done to everything below it."""

    row: TreatmentRow

    def __new__(cls, value: str, said: str, row: TreatmentRow) -> Self:
        member = cls._made(value, said)
        member.row = row
        return member

    SPRITZ = (
        "spritz",
        "water drops",
        TreatmentRow(
            "Spritz with water drops.",
            dose=lambda ink, table: 1 - table["spritz.field"],
            drops=(left_by_water, lambda ink, table: ink["milk"]),
        ),
    )
    HEAT = (
        "heat",
        "heat-set",
        TreatmentRow(
            "Heat-set.",
            dose=lambda ink, table: 1 - ink["heat_paling"],
            closes=True,
            caution="A heat tool burns skin and can set card alight; never use it on ink that is wet with alcohol "
            "or solvent. The maker's label comes first.",
        ),
    )
    GLAZE = (
        "glaze",
        "clear topcoat",
        TreatmentRow(
            "Glaze with a clear topcoat.",
            scatter=lambda ink, table: ink["glaze_scatter"],
            chalk="glaze.chalk",
            floor="glaze.floor",
            pores="glaze.pores",
            closes=True,
            seals=True,
            caution="A topcoat that is sprayed wants fresh air and no flame near it, and is kept from eyes and lungs. "
            "The maker's label comes first.",
        ),
    )
    BLOT = (
        "blot",
        "blot",
        TreatmentRow("Blot.", dose=lambda ink, table: table["blot.dose"], wet_only=True),
    )
