"""Which formula an ink is: five observations of two minutes, weighed by Bayes' rule.

Each observation is a yes or a no whose chance, formula by formula, stands in the
craft table. Observations are taken as independent given the formula, and all known
formulas as equally likely before.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wempa.craft.vocabulary import Formula, HomeTestSign


@dataclass(frozen=True, slots=True)
class TestStep:
    """One thing to do and to look for."""

    observation: HomeTestSign
    do: str
    ask: str
    yes: str
    no: str


STEPS: tuple[TestStep, ...] = (
    TestStep(
        HomeTestSign.OPAQUE,
        "Touch the pad with a fingertip and look at the skin.",
        "Does the ink sit on the skin like thin paint?",
        "It covers the skin",
        "The skin shows through",
    ),
    TestStep(
        HomeTestSign.BLOTCHY,
        "Stamp a solid shape on smooth white card.",
        "Is the print uneven?",
        "Blotchy or pooled",
        "Even",
    ),
    TestStep(
        HomeTestSign.OVER_BLACK,
        "Dab a little over something black and let it dry.",
        "Can you still see it on the black?",
        "It shows",
        "It has vanished",
    ),
    TestStep(
        HomeTestSign.LIFTS,
        "Put a drop of water on the dry print, wait half a minute, blot it.",
        "Is the spot clearly lighter?",
        "The water lifted it",
        "It hardly moved",
    ),
    TestStep(
        HomeTestSign.STAYS_WET,
        "Stamp once more and touch it after two minutes.",
        "Does it still smudge?",
        "Still wet",
        "Dry",
    ),
)

# Column of the craft table that holds the chance of a yes.
_COLUMN = {
    HomeTestSign.OPAQUE: "says_opaque",
    HomeTestSign.BLOTCHY: "says_blotchy",
    HomeTestSign.OVER_BLACK: "says_over_black",
    HomeTestSign.LIFTS: "says_lifts",
    HomeTestSign.STAYS_WET: "says_stays_wet",
}
# Nearer than this, two formulas cannot be told apart by what was seen.
_SURE = 0.5


@dataclass(frozen=True, slots=True)
class Finding:
    """What the test says."""

    chances: tuple[tuple[Formula, float], ...]
    """Every known formula with its chance (0–1), the likeliest first."""
    formula: Formula
    """The likeliest, or unknown if none is likelier than all others together."""
    constants: tuple[tuple[str, float], ...]
    """What that formula implies: hiding power, share on top, open and dry time."""


def likely_formulas(seen: Mapping[HomeTestSign, bool], table: Mapping[str, float]) -> Finding:
    """Chances of the formulas given yes or no to any of the observations."""
    weights: dict[Formula, float] = {}
    for formula in Formula:
        if formula is Formula.UNKNOWN:
            continue
        weight = 1.0
        for observation, yes in seen.items():
            chance = table[f"formula.{formula}.{_COLUMN[observation]}"]
            weight *= chance if yes else 1 - chance
        weights[formula] = weight
    whole = sum(weights.values())
    chances = tuple(sorted(((f, w / whole) for f, w in weights.items()), key=lambda pair: -pair[1]))
    best, chance = chances[0]
    formula = best if chance > _SURE else Formula.UNKNOWN
    columns = ("hiding", "film_share", "open_time", "dry_time")
    return Finding(chances, formula, tuple((column, table[f"formula.{formula}.{column}"]) for column in columns))
