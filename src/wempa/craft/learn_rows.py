"""The rows of the craft table by which Wempa learns from logged swatches."""

from __future__ import annotations

from .formula_rows import FACTOR, SHARE, Constant

_LN = "standard deviation of ln"

LEARN_ROWS: tuple[Constant, ...] = (
    Constant(
        "margin.scale",
        1,
        FACTOR,
        "On every margin; 1 until logged swatches that were left out told how far off predictions really are.",
        "reasoned",
        0.1,
        5,
    ),
    Constant("learn.hand", 0.35, _LN, "Hands lay up to two fifths more or less than said.", "reasoned", 0.01, 2),
    Constant("learn.load", 0.15, _LN, "What blotted, light or juicy comes to, against normal.", "guess", 0.01, 2),
    Constant("learn.cover", 0.4, _LN, "Of the share that a pass leaves bare.", "guess", 0.01, 2),
    Constant("learn.formula", 0.1, _LN, "How strongly inks of a formula come on, all together.", "guess", 0.01, 2),
    Constant("learn.range", 0.12, _LN, "The same of a maker's range.", "guess", 0.01, 2),
    Constant("learn.ink", 0.1, _LN, "How strongly one ink comes on, at least.", "guess", 0.01, 2),
    Constant("learn.trace", 0.3, _LN, "The trace of scatter that an ink has.", "guess", 0.01, 2),
    Constant("learn.hiding_stated", 0.15, _LN, "Scatter of an ink of stated hiding power.", "guess", 0.01, 2),
    Constant("learn.soak_share", 0.1, SHARE, "How much of an ink soaks in.", "guess", 0.01, 1),
    Constant("learn.water", 0.5, _LN, "What water lifts.", "guess", 0.01, 2),
    Constant("learn.wet", 0.4, _LN, "How much deeper it looks while wet.", "guess", 0.01, 2),
    Constant("learn.treatment", 0.4, _LN, "What glaze, heat, blotting and drops do.", "guess", 0.01, 2),
    Constant("learn.capacity", 0.25, _LN, "The film that one lay-down builds up.", "guess", 0.01, 2),
    Constant("learn.floor", 0.3, _LN, "The darkest that a card gets, by its surface word.", "measured", 0.01, 2),
    Constant("learn.absorbency", 0.12, SHARE, "How much a card drinks, by its surface word.", "guess", 0.01, 1),
    Constant("learn.texture", 0.1, SHARE, "How rough a card is, by its surface word.", "guess", 0.01, 1),
    Constant("learn.exchange", 0.15, SHARE, "How far soaking inks share what a card holds.", "guess", 0.01, 1),
    Constant("learn.carries", 0.005, SHARE, "What a later print leaves of an earlier one.", "measured", 0.001, 1),
    Constant("learn.takeup", 0.4, _LN, "How much more a third ink finds no hold.", "guess", 0.01, 2),
    Constant("learn.n", 0.15, FACTOR, "How far light spreads below the specks of a card.", "guess", 0.01, 2),
    Constant("learn.hand_again", 1.12, FACTOR, "Two goes of one hand that mean to be the same.", "reasoned", 1, 3),
    Constant(
        "learn.layers",
        1.3,
        "ΔE00",
        "What the model itself misses where one layer lies on another; half of what measured overprints show, "
        "for the rest of that is what is learned.",
        "reasoned",
        0,
        20,
    ),
    Constant("learn.photo", 0.6, FACTOR, "Of a reading's spread, what all off one photo miss alike.", "guess", 0, 3),
    Constant("learn.model", 0.5, "ΔE00", "What it misses anywhere.", "guess", 0, 20),
    Constant(
        "learn.outlier",
        5,
        "degrees of freedom",
        "Heavy tails: a swatch far off counts little.",
        "reasoned",
        1,
        100,
    ),
    Constant(
        "learn.gain",
        0.05,
        SHARE,
        "Of the error of swatches left out that learning must take off to be offered.",
        "reasoned",
        0,
        1,
    ),
    Constant(
        "learn.margin",
        0.8,
        FACTOR,
        "Learned margins before anything tells how far off they are.",
        "guess",
        0.1,
        5,
    ),
    Constant("learn.margin_weight", 4, "swatches", "As many swatches as that counts for.", "guess", 0, 1000),
    Constant(
        "learn.strange",
        4,
        "standard deviations",
        "From here on a swatch is named as strange.",
        "reasoned",
        2,
        20,
    ),
    Constant(
        "drift.sure", 2.8, "standard deviations", "Newer swatches lie off older ones.", "guess", 1, 10
    ),
    Constant("drift.amount", 0.15, SHARE, "A change of less is nothing to speak of.", "guess", 0, 1),
    Constant("drift.turned", 3, "ΔE00", "So far a colour turns before it is another one.", "guess", 0, 30),
    Constant("line.mud_doubt", 12, "mud", "How far people's mud lines lie apart.", "guess", 1, 50),
    Constant("line.mud_blur", 6, "mud", "How sharply one person tells mud from dull.", "guess", 0.5, 50),
    Constant("line.seam_doubt", 1.2, "ΔE00", "How far people differ in seeing a line.", "guess", 0.1, 20),
    Constant("line.seam_blur", 0.6, "ΔE00", "How sharply one person sees one.", "guess", 0.05, 20),
)
