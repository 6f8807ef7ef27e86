"""The rows of the craft table by which colours are judged: what is grey or brown, mud, company, and what is told.

`wempa.craft.table_rows` puts them into the table; how sure they are is said there.
"""

from __future__ import annotations

from .formula_rows import FACTOR, SHARE, Constant

JUDGEMENT_ROWS = (
    Constant("colour.grey", 8, "C*", "A colour with less chroma is a grey, a white or a black.", "guess", 1, 30),
    Constant("colour.white", 91, "L*", "A grey lighter than this is a white.", "guess", 70, 100),
    Constant("colour.black", 20, "L*", "A grey darker than this is a black.", "guess", 1, 40),
    Constant("colour.brown_light", 53, "L*", "A dull orange or red is a brown up to this lightness.", "guess", 20, 80),
    Constant("colour.brown_chroma", 47, "C*", "And up to this chroma.", "guess", 10, 100),
    Constant("colour.brown_from", 347, "painter's degrees", "Brown begins with a dull crimson,", "guess", 180, 360),
    Constant("colour.brown_to", 98, "painter's degrees", "and ends with a dull amber.", "guess", 0, 180),
    Constant("colour.hued", 14, "C*", "From here on an ink has a hue that a set may be built on.", "guess", 1, 50),
    Constant("colour.bright", 26, "C*", "From here on a colour counts for a rainbow.", "guess", 5, 80),
    Constant("verdict.covered", 0.4, SHARE, "Light that a covering film lets there and back, at most.", "guess", 0, 1),
    Constant("verdict.covers", 9, "ΔE00", "What covers is no farther from itself alone.", "guess", 1, 30),
    Constant(
        "verdict.same_hue",
        3,
        "ΔE00",
        "Inks of one hue: nearer than this a mix is taken for one of them.",
        "guess",
        0,
        20,
    ),
    Constant(
        "verdict.one_hue_from", 0.7, "agreement of hues 0–1", "Hues that agree more begin to be one,", "guess", 0, 1
    ),
    Constant("verdict.one_hue_to", 0.9, "agreement of hues 0–1", "and from here on they are.", "guess", 0, 1),
    Constant("verdict.card_from", 3, "ΔE00", "A card this near white takes no part.", "guess", 0, 50),
    Constant("verdict.card_to", 12, "ΔE00", "A card this far from white counts fully as coloured.", "guess", 1, 100),
    Constant("verdict.same", 6, "ΔE00", "Colours nearer than this are taken for one on a card.", "reasoned", 1, 20),
    Constant("verdict.other", 12, "ΔE00", "Beyond this nobody takes one for the other.", "reasoned", 2, 40),
    Constant(
        "verdict.muted",
        0.6,
        SHARE,
        "Below this share of the clean in-between's chroma a mix is muted.",
        "reasoned",
        0.1,
        1,
    ),
    Constant(
        "verdict.trace",
        0.06,
        SHARE,
        "An ink that takes less than this of the light that all take is a trace: nobody misses it.",
        "guess",
        0,
        0.5,
    ),
    Constant(
        "fix.moves",
        2,
        "ΔE00",
        "A change that moves the colour by less is no cure: the card stays as spoilt as it looks.",
        "reasoned",
        0,
        10,
    ),
    Constant(
        "fix.brightens",
        0.8,
        SHARE,
        "Of what the card takes of a colour: a cure leaves no more than this of it.",
        "guess",
        0.1,
        1,
    ),
    Constant("fix.least_mud", 10, "mud", "With less mud there is nothing to save.", "guess", 0, 50),
    Constant("fix.least_gain", 5, "mud", "A fix that takes away less is not worth the work,", "guess", 1, 50),
    Constant("fix.least_share", 0.1, SHARE, "nor one that takes away less of what there is.", "guess", 0, 0.9),
    Constant("fix.reach", 30, "ΔE00", "An ink nearer than this to another may stand in for it.", "guess", 5, 80),
    Constant("fix.seam", 0.35, FACTOR, "How much of the usual a light hand lays at a narrow seam.", "guess", 0.05, 1),
    Constant("verdict.hued", 8, "C*", "An ink of less colour tints or dulls, and is not swallowed.", "guess", 0, 40),
    Constant(
        "verdict.promise", 6, "C*", "Less than this was promised of no colour: nothing can be muted.", "guess", 0, 40
    ),
    Constant(
        "verdict.coloured",
        0.5,
        SHARE,
        "From so far on a card counts as coloured, and inks may drown in it.",
        "guess",
        0,
        1,
    ),
    Constant(
        "verdict.most", 0.5, SHARE, "Of patches side by side the whole is what more than this of it is.", "guess", 0, 1
    ),
    Constant("mud.dark_from", 12, "L*", "Down here it is black, and nobody calls it mud.", "guess", 0, 50),
    Constant("mud.dark_to", 27, "L*", "From here on a dull dark mix is mud.", "guess", 1, 60),
    Constant(
        "mud.opposed_from",
        0.1,
        "agreement of hues 0–1",
        "Hues that agree no more than this are opposites,",
        "guess",
        0,
        1,
    ),
    Constant("mud.opposed_to", 0.8, "agreement of hues 0–1", "and from here on they are not at all.", "guess", 0, 1),
    Constant(
        "mud.agree_from",
        0.45,
        "agreement of hues 0–1",
        "Up to here hues pull apart enough for mud; two primaries agree to 0.5, a quarter turn to 0.71.",
        "reasoned",
        0,
        1,
    ),
    Constant(
        "mud.agree_to",
        1.0,
        "agreement of hues 0–1",
        "Inks of one hue, or greys and blacks with one, make none.",
        "reasoned",
        0,
        1,
    ),
    Constant("mud.mixing_from", 0.1, SHARE, "Chroma lost between inks before it counts,", "guess", 0, 1),
    Constant("mud.mixing_to", 0.8, SHARE, "and where nothing of the promise is left.", "guess", 0, 1),
    Constant(
        "mud.novel_from", 2, "ΔE00", "So near to a parent a mix is that parent again, and no mud.", "guess", 0, 30
    ),
    Constant("mud.novel_to", 14, "ΔE00", "So far from all parents it is a colour of its own.", "guess", 0.1, 60),
    Constant("mud.light_from", 40, "L*", "Up to this lightness a dull mix is mud.", "guess", 0, 100),
    Constant("mud.light_to", 76, "L*", "From here on it is pale, and muted at most.", "guess", 0, 100),
    Constant(
        "mud.edge_from",
        1.35,
        "of the region's chroma",
        "With more chroma than this a mix is a colour,",
        "guess",
        0.1,
        4,
    ),
    Constant("mud.edge_to", -0.05, "of the region's chroma", "and with this it is all grey or brown.", "guess", -1, 1),
    Constant(
        "mud.plum_from", 262, "° hue", "The wedge of plums, mauves and dusky roses begins here,", "guess", 200, 360
    ),
    Constant("mud.plum_to", 403, "° hue", "and ends here, which is 43° of the next turn.", "guess", 340, 440),
    Constant("mud.plum_out", -5.2, "C*", "So far outside the wedge, in chroma, a colour is no plum,", "guess", -40, 40),
    Constant("mud.plum_in", 13, "C*", "and so far inside it is one, and liked.", "guess", -40, 60),
    Constant("mud.plum_dark", 34, "L*", "No plum is as dark as this,", "guess", 0, 100),
    Constant("mud.plum_light", 42, "L*", "and from here on it is seen to be one.", "guess", 0, 100),
    Constant(
        "mud.plum_strays",
        -0.2,
        "agreement of hues 0–1",
        "Along its own hue: where the promise agrees so little a plum is not what was to come,",
        "guess",
        -1,
        1,
    ),
    Constant("mud.plum_kept", 0.45, "agreement of hues 0–1", "and from here on it is.", "guess", -1, 1),
    Constant("mud.card_from", 0.2, SHARE, "Chroma lost to the card before it counts,", "guess", 0, 1),
    Constant("mud.card_to", 0.68, SHARE, "and where the colour is spoilt.", "guess", 0, 1),
    Constant("mud.card_light_from", 70, "L*", "Up to this lightness what a card dulls is spoilt,", "guess", 0, 100),
    Constant("mud.card_light_to", 86, "L*", "and from here on it is pale, and muted at most.", "guess", 0, 100),
    Constant(
        "mud.card_grey",
        27,
        "C*",
        "Beyond this chroma a green, blue or violet on coloured card is a colour,",
        "guess",
        1,
        100,
    ),
    Constant("mud.card_brown", 54, "C*", "beyond this a brown or olive is an orange or a yellow,", "guess", 1, 100),
    Constant("mud.card_edge", 0.3, SHARE, "and with so much of it either is mud.", "guess", 0, 0.9),
    Constant("mud.card_plum", 8, "C*", "A plum on coloured card lies so much deeper in the wedge.", "guess", 0, 40),
    Constant("mud.opposed_loss", 0.1, SHARE, "Opposites need lose so much less to be mud.", "guess", 0, 1),
    Constant(
        "mud.opposed_brown", 0.25, FACTOR, "Chroma by which a rust between opposites is still mud.", "guess", 0, 2
    ),
    Constant("mud.opposed_grey", 0.8, FACTOR, "The same for a dull green or violet between them.", "guess", 0, 2),
    Constant(
        "mud.covers_from", 6, "L*", "Lighter than a dark card by so much, a colour begins to cover it.", "guess", 0, 50
    ),
    Constant("mud.covers_to", 14, "L*", "From here on it is judged by its own colour.", "guess", 0.1, 60),
    Constant("mud.dark_card", 50, "L*", "No lighter than this, a card is to be covered.", "guess", 0, 100),
    Constant("mud.grey_chroma", 20, "C*", "Beyond this chroma a green, blue or violet is a colour.", "guess", 1, 100),
    Constant(
        "mud.brown_chroma", 56, "C*", "Beyond this chroma a brown or olive is an orange or a yellow.", "guess", 1, 100
    ),
    Constant("mud.promise_from", 2, "C*", "Up to here a colour is a grey: it promises nothing,", "guess", 0, 40),
    Constant("mud.promise_to", 10, "C*", "and from here on its promise counts in full.", "guess", 0.1, 60),
    Constant(
        "mud.spared_to", 1.5, "of verdict.same", "So far from every owned ink mud counts in full.", "guess", 0.1, 10
    ),
    Constant("mud.brown_from", 5, "° hue", "Redder than this a dull colour is judged as a grey;", "guess", 0, 90),
    Constant("mud.brown_full", 40, "° hue", "from here on as a brown,", "guess", 0, 120),
    Constant("mud.olive_full", 112, "° hue", "up to here as an olive,", "guess", 60, 180),
    Constant("mud.olive_to", 140, "° hue", "and beyond this as a grey again.", "guess", 60, 200),
    Constant("ground.light", 90, "L*", "A white this light that lies below is a ground.", "guess", 50, 100),
    Constant("ground.chroma", 9, "C*", "A ground has no more colour than this of its own.", "guess", 0, 50),
    Constant("reasons.lost", 0.2, SHARE, "Brightness lost between inks from which on it is told.", "guess", 0, 1),
    Constant("reasons.card", 0.25, SHARE, "Colour that the card takes from which on it is told.", "guess", 0, 1),
    Constant("reasons.opposed", 0.5, SHARE, "From so far on two inks are called opposites.", "guess", 0, 1),
    Constant(
        "reasons.spared", 5, "mud", "Mud that an owned colour takes off from which on it is told.", "guess", 0, 100
    ),
    Constant("reasons.hues", 3, "hues", "So many hues in one wet group are told.", "guess", 2, 24),
    Constant("reasons.hues_apart", 40, "painter's degrees", "Hues nearer than this count as one.", "guess", 1, 180),
    Constant("reasons.hued", 15, "C*", "An ink of less colour is no hue among others.", "guess", 0, 100),
    Constant(
        "reasons.gives", 0.3, SHARE, "Light of a third of the spectrum that an ink shows, at least,", "guess", 0, 1
    ),
    Constant(
        "reasons.takes", 0.35, SHARE, "and that another lets through, at most, when it takes it out;", "guess", 0, 1
    ),
    Constant("reasons.times", 2.5, FACTOR, "the first shows so many times as much.", "guess", 1, 20),
    Constant("company.seam", 20, "mm", "Inks are company if over so wide a seam no line stays.", "reasoned", 2, 100),
    Constant("company.apart", 8, "ΔE00", "Bands closer than this read as one colour.", "reasoned", 1, 30),
    Constant("company.family", 60, "painter's degrees", "A family of hues stays within so many.", "guess", 5, 180),
    Constant("company.turn_from", 22, "painter's degrees", "A rainbow goes on by no less than this,", "guess", 1, 120),
    Constant("company.turn_to", 130, "painter's degrees", "by no more than this,", "guess", 30, 180),
    Constant("company.turn_best", 60, "painter's degrees", "and best by about this.", "guess", 5, 180),
    Constant(
        "company.opposite", 135, "painter's degrees", "Inks so far apart want a bridge between them.", "guess", 60, 180
    ),
    Constant("company.step_from", 4, "L*", "A family goes from light to dark by no less than this,", "guess", 0, 40),
    Constant("company.step_best", 12, "L*", "and best by this.", "guess", 1, 60),
    Constant(
        "company.bright_worth", 20, "C*", "So much chroma of an in-between is worth one colour more.", "guess", 1, 200
    ),
    Constant(
        "company.well_apart",
        0.2,
        "colours",
        "A colour well apart is worth so much more for each time that it is.",
        "guess",
        0,
        2,
    ),
    Constant(
        "company.sector_worth",
        1.5,
        "colours",
        "Each family of hue in a rainbow is worth so many colours.",
        "guess",
        0,
        10,
    ),
    Constant("company.closed_worth", 2, "colours", "A rainbow that closes is worth so many colours.", "guess", 0, 10),
    Constant(
        "company.ink_cost",
        1.8,
        "colours",
        "Where few inks are wanted, each one more has to bring this.",
        "guess",
        0,
        10,
    ),
    Constant(
        "company.line_cost",
        2,
        "C* per ΔE00/mm",
        "Chroma that a bridge is worth less for the line that it leaves.",
        "guess",
        0,
        20,
    ),
    Constant("worry.muddy", 30, "points", "A muddy seam, beside its mud of 100.", "guess", 0, 200),
    Constant("worry.muddy_mm", 2, "points/mm", "Each millimetre of mud along a seam.", "guess", 0, 50),
    Constant("worry.swamped", 25, "points", "A seam where one ink is lost in the other.", "guess", 0, 200),
    Constant("worry.no_new_colour", 12, "points", "A seam that adds no colour of its own.", "guess", 0, 200),
    Constant("worry.hard_line", 10, "points", "A line that stays between two bands.", "guess", 0, 200),
    Constant("worry.lost_band", 15, "points", "A band that is not seen as itself.", "guess", 0, 200),
    Constant("worry.gain", 5, "points", "A fix that gains less is not worth telling.", "guess", 0, 100),
    Constant("nudge.step", 3, "ΔE00", "A step that is seen at once, and no more.", "reasoned", 1, 20),
    Constant("nudge.astray", 1.0, FACTOR, "A nudge may stray no farther than this times its step.", "guess", 0.1, 5),
    Constant("nudge.light", 0.5, FACTOR, "What a nudge of hue does to lightness counts so much.", "guess", 0, 1),
    Constant("preset.same", 25, "ΔE00", "A colour in another formula is looked for no farther off.", "guess", 1, 60),
    Constant("preset.coloured", 12, "C*", "From here on a card counts as coloured.", "guess", 1, 60),
    Constant("preset.light", 60, "L*", "From here on a card is light enough to lie under dyes.", "guess", 10, 100),
    Constant("order.seen", 2.0, "ΔE00", "An order that makes less of a difference is not shown.", "reasoned", 0, 20),
    Constant("light.match", 2, "ΔE00", "Two colours this near match under a light.", "reasoned", 0.5, 10),
    Constant("light.parted", 4, "ΔE00", "Colours that match by day and differ by this do not match.", "guess", 1, 20),
    Constant("guide.open_briefly", 60, "s", "Below this an ink stays open for two neighbours only.", "guess", 1, 600),
    Constant("guide.open_long", 300, "s", "From here on it takes embossing powder without hurry,", "guess", 1, 3600),
    Constant("guide.open_quick", 90, "s", "and from here on if one is quick.", "guess", 1, 3600),
    Constant(
        "guide.mixes",
        0.6,
        SHARE,
        "Of more film it is said that it mixes; of less, that it does so in part.",
        "guess",
        0,
        1,
    ),
    Constant("guide.on_top", 0.9, SHARE, "From so much film on an ink lies on top.", "guess", 0, 1),
    Constant("guide.suits_foam", 0.5, SHARE, "From so much film on foam suits it.", "guess", 0, 1),
    Constant(
        "guide.even", 0.35, SHARE, "Below this chance of a blotchy print solids are said to be even.", "guess", 0, 1
    ),
    Constant(
        "guide.speckles", 0.95, FACTOR, "From this habit on an ink leaves more specks on rough card.", "guess", 0, 5
    ),
    Constant("guide.dries_long", 20, "min", "From here on it dries much longer on coated card.", "guess", 1, 600),
    Constant(
        "guide.cloudy", 0.8, FACTOR, "Below this scatter while wet it is told that it dries cloudy.", "guess", 0, 1
    ),
    Constant("guide.pales", 0.02, SHARE, "Paling by heat from which on it is told.", "guess", 0, 1),
    Constant(
        "guide.transparent", 0.1, "hiding power 0–0.98", "Below this an ink is called transparent,", "guess", 0, 0.98
    ),
    Constant("guide.covers", 0.45, "hiding power 0–0.98", "from here on covering,", "guess", 0, 0.98),
    Constant(
        "guide.barrier", 0.6, "hiding power 0–0.98", "and beyond this a white one is a barrier.", "guess", 0, 0.98
    ),
    Constant("guide.lifts", 0.1, SHARE, "From here on water lifts it a little,", "guess", 0, 1),
    Constant("guide.lifts_clearly", 0.45, SHARE, "beyond this clearly,", "guess", 0, 1),
    Constant("guide.lifts_all", 0.75, SHARE, "and beyond this almost to white.", "guess", 0, 1),
    Constant("guide.milky", 1.5, FACTOR, "Scatter of a drop beyond which it is called milky.", "guess", 0, 10),
    Constant("guide.chalk", 0.75, FACTOR, "Below this scatter under a topcoat its chalk is said to go.", "guess", 0, 1),
    Constant(
        "guide.holds_little",
        0.2,
        SHARE,
        "Below this absorbency coated card is said to take hardly a second layer.",
        "guess",
        0,
        1,
    ),
    Constant("guide.strong", 1.1, FACTOR, "Beyond this strength an ink is said to come on strong.", "guess", 0, 10),
    Constant("guide.wipes", 0.5, SHARE, "Beyond this lift a dye's brushes are said to want wiping.", "guess", 0, 1),
)
