"""What each formula is in numbers: one row a property, one column a formula (`wempa.craft.table_rows`)."""

from __future__ import annotations

from dataclasses import dataclass

SHARE = "share 0–1"
FACTOR = "factor"


@dataclass(frozen=True, slots=True)
class Constant:
    """One row of the table."""

    name: str
    value: float
    unit: str
    reason: str
    sure: str
    low: float = 0.0
    high: float = 1000.0


# name of the column: unit, how sure, allowed range, reason, then one value per formula
# in the order dye, reactive dye, hybrid, reactive pigment, pigment, fluorescent, unknown.
BY_FORMULA: tuple[tuple[str, str, str, float, float, str, tuple[float, ...]], ...] = (
    (
        "film_share",
        SHARE,
        "reasoned",
        0,
        1,
        "What soaks in against what sits on top: dyes 1:0, hybrids 1:1, reactive pigments 1:2, pigments 0:1; "
        "unknown stands between a dye and a hybrid.",
        (0, 0, 0.5, 2 / 3, 1, 0, 0.25),
    ),
    (
        "hiding",
        "hiding power 0–0.98",
        "reasoned",
        0,
        0.98,
        "S·d/(1+S·d) at dose 1. A light hybrid still shows over black, where a dye vanishes.",
        (0, 0, 0.3, 0.5, 0.7, 0, 0.12),
    ),
    (
        "white_hiding",
        "hiding power 0–0.98",
        "reasoned",
        0,
        0.98,
        "The same of a white: one coat of white pigment by foam is clearly white over a dry blend, two nearly cover.",
        (0, 0, 0.6, 0.8, 0.93, 0, 0.12),
    ),
    (
        "trace",
        "S·d at dose 1",
        "measured",
        0,
        0.2,
        "Even a soaking dye scatters a little: yellow over black measures slightly yellow. More where its refractive "
        "index is high.",
        (0.0015, 0.0015, 0, 0, 0, 0.0015, 0.00075),
    ),
    (
        "seal",
        SHARE,
        "reasoned",
        0,
        1,
        "How far a dried layer replaces the card's take-up by the pigment's own.",
        (0, 0, 0.5, 2 / 3, 1, 0, 0.25),
    ),
    (
        "strength",
        FACTOR,
        "reasoned",
        0.2,
        5,
        "Hybrids and reactive pigments come on strong sooner than dyes under a brush or foam.",
        (1, 1, 1.2, 1.25, 1.05, 1, 1.08),
    ),
    (
        "lays",
        FACTOR,
        "guess",
        0.2,
        5,
        "What a tool lays down of such inks comes to, against what their swatches say; 1 until logged swatches of a "
        "formula or a range tell otherwise.",
        (1, 1, 1, 1, 1, 1, 1),
    ),
    (
        "doubt_dose",
        FACTOR,
        "reasoned",
        0,
        10,
        "How far the dose behind a swatch is in doubt, against what is said of how it is known; less once swatches of "
        "the ink were logged.",
        (1, 1, 1, 1, 1, 1, 1),
    ),
    (
        "doubt_hiding",
        FACTOR,
        "reasoned",
        0,
        10,
        "The same of how well it hides, against what a formula tells of it.",
        (1, 1, 1, 1, 1, 1, 1),
    ),
    (
        "habit",
        FACTOR,
        "guess",
        0,
        3,
        "The ink's own habit of leaving specks on a textured card; juicy dyes flow into the hollows less "
        "than they wet the tops, pigments are pushed in.",
        (1, 0.9, 0.8, 0.8, 0.7, 1, 0.9),
    ),
    (
        "lift",
        SHARE,
        "reasoned",
        0,
        1,
        "Share of a deep coat that a drop of water carries away from its middle.",
        (0.06, 0.96, 0.3, 0.85, 0.05, 0.35, 0.3),
    ),
    (
        "milk",
        FACTOR,
        "guess",
        0.2,
        5,
        "By how much more a film scatters where a water drop dried, for the voids that it leaves: a hybrid goes milky.",
        (1, 1, 4.5, 1, 1, 1, 2.2),
    ),
    (
        "chalk",
        FACTOR,
        "reasoned",
        1,
        20,
        "By how much more a film scatters that dried on sealed card: a hybrid clouds over there, its colour half gone, "
        "until a topcoat brings it back.",
        (1, 1, 9, 1, 1, 1, 3),
    ),
    (
        "wet_pores",
        SHARE,
        "reasoned",
        0,
        0.47,
        "How far liquid fills the pores while wet; 0.47 would be all of them with water "
        "(Lekner and Dorf 1988). Films keep some of it out.",
        (0.2, 0.22, 0.16, 0.14, 0.08, 0.2, 0.17),
    ),
    (
        "wet_vividness",
        "exponent",
        "guess",
        0.7,
        1.5,
        "Spectral contrast of the wet look against the dry one, apart from its lightness.",
        (1.04, 1.05, 1.1, 1.1, 1.04, 1.03, 1.06),
    ),
    (
        "wet_scatter",
        FACTOR,
        "guess",
        0.1,
        2,
        "Factor on the film's scatter while wet: liquid between the pigment grains makes the film "
        "clearer, so a hybrid turns cloudy as it dries.",
        (1, 1, 0.7, 0.75, 0.85, 1, 0.85),
    ),
    (
        "glaze_scatter",
        FACTOR,
        "reasoned",
        0.05,
        1,
        "Factor on the film's scatter under a clear topcoat: the chalk goes, hidden layers come up.",
        (0.7, 0.7, 0.7, 0.7, 0.8, 0.7, 0.7),
    ),
    (
        "heat_paling",
        SHARE,
        "guess",
        0,
        0.3,
        "Share of colour that heat-setting costs. Disputed: some see none, so it is small.",
        (0.02, 0.03, 0.03, 0.03, 0.01, 0.06, 0.03),
    ),
    (
        "open_time",
        "s",
        "reasoned",
        1,
        7200,
        "How long a normal amount stays open for the next ink to mix with it.",
        (20, 40, 120, 120, 600, 20, 60),
    ),
    (
        "dry_time",
        "min",
        "reasoned",
        0.1,
        2880,
        "How long until it can be layered or stamped over, on smooth card.",
        (2, 3, 8, 8, 45, 2, 6),
    ),
    (
        "says_opaque",
        "chance 0–1",
        "reasoned",
        0.01,
        0.99,
        "Home test: a fingertip of it sits opaque on the skin.",
        (0.03, 0.03, 0.45, 0.6, 0.93, 0.1, 0.5),
    ),
    (
        "says_blotchy",
        "chance 0–1",
        "guess",
        0.01,
        0.99,
        "Home test: a solid stamp of it prints blotchy rather than even; films lie even, reactive dyes pool.",
        (0.4, 0.7, 0.3, 0.35, 0.1, 0.4, 0.5),
    ),
    (
        "says_over_black",
        "chance 0–1",
        "reasoned",
        0.01,
        0.99,
        "Home test: a dab still shows over black; a dye vanishes there.",
        (0.03, 0.03, 0.75, 0.85, 0.96, 0.15, 0.5),
    ),
    (
        "says_lifts",
        "chance 0–1",
        "reasoned",
        0.01,
        0.99,
        "Home test: a drop of water, blotted after half a minute, leaves a clearly lighter spot.",
        (0.12, 0.95, 0.5, 0.85, 0.06, 0.5, 0.5),
    ),
    (
        "says_stays_wet",
        "chance 0–1",
        "reasoned",
        0.01,
        0.99,
        "Home test: it still smudges under a fingertip after two minutes.",
        (0.08, 0.2, 0.5, 0.55, 0.95, 0.08, 0.5),
    ),
)
