"""The rows of the craft table: each with its value, its unit, the reason for it and how sure we are.

How sure: ``measured`` (fitted to published measurements, see docs/model.md),
``reasoned`` (follows from physics or from what every practitioner reports),
``guess`` (a sensible start that the swatch log should correct).

A tool's own rows stand with the tool (`wempa.craft.tools`).
"""

from __future__ import annotations

from .evening_rows import EVENING_ROWS
from .formula_rows import BY_FORMULA, FACTOR, SHARE, Constant
from .judgement_rows import JUDGEMENT_ROWS
from .learn_rows import LEARN_ROWS
from .vocabulary import EyeLight, Formula, Known, Load, PadState, Surface, Tool

_IMPRESSIONS = "pad impressions per pass"

# surface: texture, absorbency, floor, take-up, Yule–Nielsen n, exchange, carries
_BY_SURFACE: dict[Surface, tuple[float, float, float, float, float, float, float]] = {
    Surface.GLOSSY: (0.0, 0.02, 0.005, 0.936, 1.2, 1.0, 0.97),
    Surface.COATED: (0.05, 0.05, 0.0058, 0.936, 1.5, 1.0, 0.97),
    Surface.SMOOTH: (0.15, 0.5, 0.0617, 0.911, 2.0, 1.0, 1.0),
    Surface.TEXTURED: (0.6, 0.55, 0.058, 0.91, 2.0, 1.0, 1.0),
    Surface.WATERCOLOUR: (0.7, 0.85, 0.05, 0.9, 2.0, 1.0, 0.98),
    Surface.ABSORBENT: (0.3, 0.9, 0.0406, 0.89, 2.0, 1.0, 0.945),
}
SURFACE_ROWS = (
    ("texture", SHARE, "reasoned", 0, 1, "Hollows that a light hand leaves bare."),
    ("absorbency", SHARE, "reasoned", 0, 1, "How much ink the card drinks before more runs off it."),
    (
        "floor",
        "reflectance",
        "measured",
        0,
        0.5,
        "The darkest the card gets. Coated, smooth and absorbent from measured overprints on such "
        "papers; the others lie between.",
    ),
    (
        "takeup",
        SHARE,
        "measured",
        0.05,
        1.2,
        "Share of the area on which the card accepts a stated dose where it is inked already; the rest stays bare "
        "of it. Coated, smooth and absorbent from measured overprints; the others lie between.",
    ),
    (
        "n",
        "Yule–Nielsen n",
        "reasoned",
        1,
        4,
        "Light spreads sideways in uncoated card, so that specks look darker than their area.",
    ),
    (
        "exchange",
        SHARE,
        "reasoned",
        0,
        1,
        "How far inks that soak share what the card holds whatever their order: a second dye re-wets the first and "
        "mixes with it. At 0 the first come is held first.",
    ),
    (
        "carries",
        SHARE,
        "measured",
        0.5,
        1,
        "Share of a stated dose that stays when another is printed over it. Coated and absorbent from measured "
        "overprints, which on smooth card show no such loss.",
    ),
)

_BY_LOAD: dict[Load, tuple[float, str]] = {
    Load.BLOTTED: (0.5, "Dabbed off on scrap first."),
    Load.LIGHT: (0.7, "Tapped, not swiped."),
    Load.NORMAL: (1.0, "The reference."),
    Load.JUICY: (1.5, "Fresh from a re-inked or foam pad."),
}

_BY_KNOWN: dict[Known, tuple[float, float, str]] = {
    Known.LID: (1.4, 3.0, "The lid's colour may be the stamped or the blended one."),
    Known.EYE: (
        1.3,
        2.6,
        "Matched by eye against the real swatch held beside the screen by daylight: 60 simulated people, with eyes and "
        "screens of their own (tools/eye_family.py).",
    ),
    Known.TYPED: (1.15, 1.0, "A typed colour was judged or copied by somebody."),
    Known.PHOTO: (1.1, 2.0, "A photo read against known white."),
    Known.READER: (1.05, 0.5, "A hand-held reader on one spot."),
    Known.MEASURED: (1.05, 0.2, "A spectrum; the hand that made the swatch still varies."),
    Known.FITTED: (1.08, 0.6, "Fitted to logged swatches."),
}

_BY_EYE_LIGHT: dict[EyeLight, tuple[float, str]] = {
    EyeLight.DAYLIGHT: (2.6, "A swatch held beside the screen by daylight, as simulated people miss it."),
    EyeLight.LED: (6.7, "The same under an LED lamp, whose blue and red differ from daylight's."),
    EyeLight.WARM: (14.6, "The same under a warm lamp: beside a screen everything on the card looks too yellow."),
}

# factor on the hand's doubt (in ln dose), reason
_BY_PAD: dict[PadState, tuple[float, str]] = {
    PadState.FRESH: (1.4, "A freshly re-inked pad floods until it is blotted."),
    PadState.GOOD: (0.8, "A pad in good order gives the same each time."),
    PadState.DRYING: (1.4, "A drying pad gives less, and less evenly."),
    PadState.DRY: (2.2, "A dry pad prints patchily."),
}

_SINGLE: tuple[Constant, ...] = (
    Constant(
        "ink.dark_scatter",
        1,
        "K at dose 1",
        "A dark ink of any formula: its scatter is held so low that an absorption of this much is dark enough. "
        "A few times more or less makes no difference.",
        "reasoned",
        1,
        50,
    ),
    Constant(
        "ink.dispersion",
        1.5,
        "per K·λ/550 nm",
        "How much the refractive index of what absorbs rises on the long side of its band, where it therefore shines "
        "a little over black. 1.5 to 2.3 fit the measured overprints; the lowest leaves a dye hardly seen there.",
        "measured",
        0,
        6,
    ),
    Constant("white.light_from", 88, "L*", "From here on an ink begins to count as a white.", "guess", 50, 100),
    Constant("white.light_to", 95, "L*", "From this lightness on it is one, if it has no colour.", "guess", 50, 100),
    Constant("white.chroma_from", 4, "C*", "Up to this chroma it is a white.", "guess", 0, 20),
    Constant("white.chroma_to", 8, "C*", "From this chroma on it is a pale colour, not a white.", "guess", 0, 30),
    Constant("pad.fresh_days", 7, "days", "A pad re-inked no longer ago is juicy.", "guess", 0, 90),
    Constant("pad.felt_days", 540, "days", "A felt pad used now and then begins to dry by then.", "guess", 30, 3650),
    Constant("pad.foam_days", 240, "days", "A foam pad dries sooner than a felt one.", "guess", 30, 3650),
    Constant("pad.dry_after", 2, FACTOR, "At so many times that age a pad is all but dry.", "guess", 1, 10),
    Constant("foam.wears_days", 28, "days", "Foam that is used often wears out in weeks.", "reasoned", 1, 365),
    Constant("card.few", 3, "sheets", "So few sheets are worth a word before a panel is planned.", "guess", 0, 100),
    Constant(
        "photo.read",
        0.3,
        "ΔE00",
        "What is read wrong beside phone and lamp: noise and uneven light.",
        "reasoned",
        0,
        20,
    ),
    Constant("photo.uneven", 0.25, FACTOR, "How much of an area's unevenness is doubt of its colour.", "guess", 0, 2),
    Constant(
        "photo.lamp_sure",
        0.9,
        "chance",
        "From here on it is said that a photo looks like another lamp.",
        "guess",
        0.5,
        1,
    ),
    Constant(
        "photo.same_card", 3, "ΔE00", "Nearer than this, a swatch's card is the white of a photo.", "guess", 0, 20
    ),
    Constant("photo.pale_yellow", 1.5, FACTOR, "Cameras see pale yellows badly: more doubt.", "reasoned", 1, 10),
    Constant("photo.glowing", 2.5, FACTOR, "What glows is beyond what a photo holds.", "reasoned", 1, 10),
    Constant("entry.alike", 2, "ΔE00", "Inks of one formula nearer than this may be one ink twice.", "guess", 0, 10),
    Constant("entry.rough", 6, "ΔE00", "A colour that may be further off than this is asked about.", "guess", 0, 60),
    Constant("photo.same", 1.5, "ΔE00", "Readings nearer than this may be one ink read twice.", "guess", 0, 10),
    Constant(
        "touch.soaking", 6, "passes", "First touch with what soaks in: brushed, built up lightly.", "guess", 1, 200
    ),
    Constant("touch.film", 4, "passes", "First touch with what sits on top: foam, which lays more.", "guess", 1, 200),
    Constant(
        "touch.light_hand", 0.5, FACTOR, "A light hand: so much of the passes, from a lighter load.", "guess", 0.05, 1
    ),
    Constant("touch.deep_hand", 2.25, FACTOR, "Built up deep: so much of the passes.", "guess", 1, 10),
    Constant("match.equal", 1.0, "ΔE00", "Stacks this near to one another count as equally good.", "reasoned", 0, 10),
    Constant("next.new", 4, "ΔE00", "Farther than this from all one can make, a colour is new.", "reasoned", 1, 20),
    Constant("match.made", 3.0, "ΔE00", "Within this a colour counts as made.", "guess", 0.5, 15),
    Constant(
        "seam.width",
        15,
        "mm",
        "How far two inks that stand side by side on a roller run into one another.",
        "guess",
        1,
        100,
    ),
    Constant(
        "seam.hard", 4, "ΔE00/mm", "A change along a seam that reads as a line, not a blend.", "reasoned", 0.5, 50
    ),
    Constant(
        "seam.soft",
        0.9,
        SHARE,
        "A soft blend fades so far of the way to the middle of the next band, where that ink lies by itself.",
        "reasoned",
        0,
        1,
    ),
    Constant(
        "seam.deep",
        0.85,
        SHARE,
        "Either ink fades out over so much of a soft blend: in its middle lies 63 % of both, worked to and fro.",
        "guess",
        0.5,
        1,
    ),
    Constant("seam.short", 0.3, SHARE, "So soft are short seams, of the way from stripes to soft.", "guess", 0, 1),
    Constant("seam.calm", 0.75, SHARE, "A soft blend is widened to this of a line's change.", "guess", 0.1, 1),
    Constant("seam.mud_seen", 3, "mm", "Mud over less is not noticed between two clear colours.", "guess", 0, 30),
    Constant(
        "seam.opposite",
        120,
        "°",
        "Inks so far apart on the painter's circle are called opposites.",
        "reasoned",
        60,
        180,
    ),
    Constant(
        "seam.edge",
        0.35,
        SHARE,
        "So much of a tool's width is its own soft edge: passes that end farther apart show as steps.",
        "guess",
        0.05,
        1,
    ),
    Constant(
        "shape.deeper",
        2,
        FACTOR,
        "A band deepened towards the edge of the card gets so many times its passes there.",
        "guess",
        1,
        6,
    ),
    Constant(
        "shape.middle", 1.5, FACTOR, "A band begun in its centre gets so many times its passes there.", "guess", 1, 6
    ),
    Constant("shape.outside", 0.35, SHARE, "And so much of them at an edge of the card.", "guess", 0, 1),
    Constant(
        "panel.pale", 80, "L*", "From this lightness on an ink is easily swallowed by darker ones.", "guess", 50, 100
    ),
    Constant("panel.pale_step", 15, "L*", "A pale ink is so much lighter than both its neighbours.", "guess", 0, 50),
    Constant("panel.pale_wider", 1.3, FACTOR, "A pale ink's band is so much wider than the others.", "guess", 1, 3),
    Constant("panel.least_band", 3, "mm", "An ink that shows over less is no longer seen as itself.", "guess", 0.5, 50),
    Constant("panel.again", 0.34, FACTOR, "Going back over a seam lightly takes so much of the passes.", "guess", 0, 1),
    Constant("seam.share", 0.4, SHARE, "A seam is no wider than this of what each band has.", "guess", 0.01, 0.9),
    Constant("panel.narrow", 5, "mm", "A seam that is kept narrow for the sake of its colour.", "guess", 1, 50),
    Constant("panel.gap", 2, "mm", "Bare card left between two inks that do not join.", "guess", 0.5, 20),
    Constant("touch.lighter", 0.4, FACTOR, "Going lighter with an ink: so much of passes or dose.", "guess", 0.05, 1),
    Constant("swatch.dark_card", 45, "L*", "A card darker than this shows how an ink covers.", "guess", 5, 80),
    Constant("barrier.passes", 6, "passes", "White brushed thinly under everything.", "guess", 1, 200),
    Constant("barrier.white", 93, "L*", "A pigment this light is a white, fit for a barrier.", "guess", 50, 100),
    Constant("photo.pale", 82, "L*", "A yellow lighter than this is one that cameras see badly.", "reasoned", 10, 100),
    Constant("photo.yellow", 25, "b*", "From here on a pale colour is a yellow to a camera.", "reasoned", 0, 100),
    Constant("photo.strong", 75, "C*", "A yellow with more chroma is read well enough.", "reasoned", 1, 150),
    Constant("photo.blotchy", 3, "ΔE00", "An area that varies more is not even.", "guess", 0.5, 30),
    Constant("panel.specks", 0.5, SHARE, "From this texture on bare specks are seen one by one.", "guess", 0.01, 1),
    Constant("ribbon.reach", 2.2, FACTOR, "A ribbon fades out over so many times its step.", "guess", 0.5, 10),
    Constant("ribbon.carry", 0.12, SHARE, "What an uncleaned edge carries over of the ink before.", "guess", 0, 1),
    Constant("ribbon.carry_width", 3, "mm", "How far from the edge what it carries over reaches.", "guess", 0.5, 20),
    Constant("ribbon.tear", 1.6, "mm", "How far a torn edge wanders from a straight line.", "guess", 0, 10),
    Constant("work.change", 1, "min", "Cleaning the mat and changing the brush between two inks.", "guess", 0, 10),
    Constant("work.wet_area", 150, "cm²", "Card that is worked wet at a time: the front of a card.", "guess", 1, 5000),
    Constant("work.sealed", 1.5, FACTOR, "So much longer ink takes to dry on a sealed surface.", "guess", 1, 10),
    Constant("wet.reach", 0.5, "dose", "Dose by which two thirds of the wet look are there.", "guess", 0.05, 5),
    Constant("marks.sealed", 0.2, SHARE, "Up to this absorbency many passes lift ink again.", "guess", 0, 1),
    Constant("marks.many_passes", 4, "passes", "Many passes, on a sealed surface.", "guess", 1, 200),
    Constant("marks.thirsty", 0.8, SHARE, "From this absorbency on card grips the first touch.", "guess", 0, 1),
    Constant(
        "marks.lightly",
        5,
        "min",
        "For so long light strokes even out a harsh mark, in dyes too, though the ink no longer mixes.",
        "reasoned",
        0,
        60,
    ),
    Constant("marks.few_passes", 2, "passes", "Too few to work a mark out, on thirsty card.", "guess", 1, 200),
    Constant("margin.wide", 10, "ΔE00", "Beyond this margin a prediction is only a hint.", "reasoned", 1, 50),
    Constant(
        "takeup.tool",
        0.97,
        SHARE,
        "What a brush, foam or stamp lays over something dried stays there: the take-up that was measured is that of "
        "presses, where one wet ink prints on another.",
        "reasoned",
        0.05,
        1.2,
    ),
    Constant(
        "takeup.third",
        1.1,
        FACTOR,
        "A stated dose on two inks misses so many times the area that it misses on one.",
        "measured",
        0,
        3,
    ),
    Constant(
        "takeup.strength",
        0.6,
        "mean K + S",
        "An ink of this strength misses what its card's take-up says; others by the root of this over theirs.",
        "measured",
        0.01,
        10,
    ),
    Constant("takeup.weak_most", 1.5, FACTOR, "However weak an ink, it misses no more than so much.", "guess", 1, 5),
    Constant(
        "takeup.pigment",
        0.95,
        SHARE,
        "Dried pigment takes the next ink nearly as bare card does.",
        "reasoned",
        0.05,
        1.2,
    ),
    Constant(
        "capacity.thirsty",
        24.0,
        "pad impressions",
        "The thirstiest card keeps getting deeper with more ink: so much before more makes no difference; less by the "
        "square of the absorbency.",
        "guess",
        0.2,
        100,
    ),
    Constant(
        "capacity.sealed",
        0.4,
        "pad impressions",
        "Dye that a sealed coating holds: it fills at once, and a second layer hardly shows.",
        "guess",
        0.05,
        20,
    ),
    Constant(
        "yield.sealed",
        1.75,
        FACTOR,
        "Colour of the same ink on sealed card, where nothing soaks away: a print on gloss is about as deep as on "
        "smooth card.",
        "guess",
        1,
        5,
    ),
    Constant(
        "yield.rubbed",
        1.0,
        FACTOR,
        "The same by a brush or foam, which takes up again what a sealed card does not drink: rubbed on lightly it is "
        "no deeper than on smooth card.",
        "guess",
        0.2,
        5,
    ),
    Constant("yield.soaks", 0.5, SHARE, "From this absorbency on ink soaks away as on smooth card.", "guess", 0.05, 1),
    Constant(
        "capacity.film",
        1.0,
        "pad impressions",
        "Film that one lay-down builds up on any card; a dried one carries the next.",
        "guess",
        0.2,
        20,
    ),
    Constant(
        "capacity.on_film",
        3.0,
        "pad impressions",
        "Dye that lies on a closed film: it cannot soak away, but pigment is rough and holds some.",
        "guess",
        0.05,
        20,
    ),
    Constant("patch.same", 2.0, "ΔE00", "Patches that differ by less look like one.", "reasoned", 0, 20),
    Constant(
        "film.closes",
        0.4,
        "dose of film",
        "A film of so much keeps what is laid on it apart from what has soaked in; a thinner one does so in part.",
        "guess",
        0.01,
        5,
    ),
    Constant(
        "cover.texture", 0.65, SHARE, "How far a fully textured card reduces what a pass covers.", "guess", 0, 0.95
    ),
    Constant(
        "cover.load",
        0.3,
        "exponent",
        "A drier tool leaves more specks: covered share per pass ~ load^x.",
        "guess",
        0,
        2,
    ),
    Constant(
        "held.scale",
        0.12,
        "dose of film",
        "Film dose by which two thirds of a dye that is wet with it are stirred into it, or stay on top of it where it "
        "hides: a thin, damp white film holds a dye up too.",
        "reasoned",
        0.01,
        2,
    ),
    Constant(
        "lid.brush",
        6,
        "passes",
        "A lid shows the everyday blend of a brush, unless it says otherwise,",
        "reasoned",
        1,
        30,
    ),
    Constant("lid.foam", 4, "passes", "and of an ink that forms a film that of a foam.", "reasoned", 1, 30),
    Constant(
        "lid.unasked",
        1.4,
        FACTOR,
        "Doubt about the amount behind a lid's colour while nobody has said what it shows.",
        "guess",
        1,
        3,
    ),
    Constant(
        "held.hides",
        0.3,
        "S·d of film",
        "Scatter of a wet film at which it keeps two thirds on top of what it does not take in.",
        "guess",
        0.01,
        10,
    ),
    Constant(
        "lift.depth",
        0.4,
        "dose",
        "Water lifts what lies loose: of a first breath of ink next to nothing, of coats deeper than this most of "
        "what it can. It needs depth to show.",
        "reasoned",
        0.01,
        5,
    ),
    Constant("spritz.field", 0.0, SHARE, "Share lifted beside the drops.", "guess", 0, 0.5),
    Constant("blot.dose", 0.75, FACTOR, "Blotting wet ink takes some of it away.", "guess", 0.1, 1),
    Constant(
        "glaze.floor",
        0.45,
        FACTOR,
        "A clear coat smooths the surface: less stray light, a deeper floor.",
        "reasoned",
        0.05,
        1,
    ),
    Constant("glaze.chalk", 0, SHARE, "Of the chalk of a dried film: a topcoat fills its voids.", "reasoned", 0, 1),
    Constant("chalk.depth", 0.6, "dose", "Chalk grows with a film up to about here.", "guess", 0.05, 5),
    Constant("glaze.pores", 0.05, SHARE, "A topcoat fills the pores for good.", "guess", 0, 0.47),
    Constant("wet.floor", 0.6, FACTOR, "A wet surface is smoother: less stray light.", "reasoned", 0.05, 1),
    Constant(
        "glow.yield",
        0.35,
        "energy given out per energy absorbed",
        "Strong organic fluorescent colour on paper.",
        "guess",
        0,
        0.95,
    ),
    Constant(
        "glow.shift", 18, "nm", "The emission peak lies beyond the swatch's steepest rise by this.", "guess", 0, 80
    ),
    Constant("glow.width", 20, "nm (standard deviation)", "Width of the emission band.", "reasoned", 5, 60),
    Constant(
        "margin.layers",
        2.6,
        "ΔE00",
        "What the model misses on measured overprints, mean over three papers.",
        "measured",
        0,
        20,
    ),
    Constant("margin.own_card", 0.3, "ΔE00", "One lay-down of dose 1 on the swatch's own card.", "reasoned", 0, 20),
    Constant("margin.other_card", 1.2, "ΔE00", "The same ink on a card it was never seen on.", "guess", 0, 20),
    Constant("margin.treatment", 2.0, "ΔE00", "Each treatment; none has been measured.", "guess", 0, 20),
    Constant("margin.wet", 1.5, "ΔE00", "The wet look; not measured.", "guess", 0, 20),
    Constant("margin.hand", 1.15, FACTOR, "Two passes by the same hand differ by this much in dose.", "reasoned", 1, 3),
    Constant(
        "margin.hiding",
        1.35,
        FACTOR,
        "How well a formula tells an ink's scatter, without a dark swatch.",
        "guess",
        1,
        5,
    ),
    Constant("margin.takeup", 0.07, SHARE, "How well a surface word tells the take-up.", "measured", 0, 0.5),
)


def all_rows() -> list[Constant]:
    """Every row of the table, in its order."""
    rows: list[Constant] = []
    for column, unit, sure, low, high, reason, values in BY_FORMULA:
        for formula, value in zip(Formula, values, strict=True):
            rows.append(Constant(f"formula.{formula}.{column}", value, unit, reason, sure, low, high))
    for surface, numbers in _BY_SURFACE.items():
        for (column, unit, sure, low, high, reason), value in zip(SURFACE_ROWS, numbers, strict=True):
            rows.append(Constant(f"surface.{surface}.{column}", value, unit, reason, sure, low, high))
    for tool in Tool:
        row = tool.row
        rows.append(Constant(f"tool.{tool}.amount", row.amount, _IMPRESSIONS, row.why, "guess", 0.001, 10))
        rows.append(
            Constant(f"tool.{tool}.cover", row.cover, SHARE, f"Covered by one pass. {row.why}", "guess", 0.05, 1)
        )
        why = "Passes go by this power around four: below 1 each adds less than the one before, as a tool that empties."
        rows.append(Constant(f"tool.{tool}.build", 1, "exponent", why, "guess", 0.3, 2))
        if row.patch < 1:
            why = f"Of the area that it lays ink on in one go; more passes fill the rest. {row.why}"
            rows.append(Constant(f"tool.{tool}.patch", row.patch, SHARE, why, "guess", 0.05, 1))
    for tool in Tool:
        row = tool.row
        rows.append(Constant(f"work.{tool}.width", row.width, "mm", "How wide the tool works.", "guess", 1, 200))
        rows.append(
            Constant(f"work.{tool}.reach", row.reach, "cm²", "Card that one load of it covers.", "guess", 1, 500)
        )
        rows.append(Constant(f"work.{tool}.pace", row.pace, "s/cm²", "Time for a pass over it.", "guess", 0.01, 10))
    for tool in Tool:
        rows.append(Constant(f"seam.fade.{tool}", tool.row.fade, SHARE, tool.row.why_fade, "guess", 0, 1))
    for load, (factor, reason) in _BY_LOAD.items():
        rows.append(Constant(f"load.{load}", factor, FACTOR, reason, "guess", 0.05, 5))
    for known, (factor, spread, reason) in _BY_KNOWN.items():
        rows.append(Constant(f"known.{known}.dose", factor, FACTOR, reason, "reasoned", 1, 5))
        rows.append(Constant(f"known.{known}.spread", spread, "ΔE00", reason, "guess", 0, 30))
    for pad, (factor, reason) in _BY_PAD.items():
        rows.append(Constant(f"pad.{pad}.hand", factor, FACTOR, reason, "guess", 0.1, 10))
    for light, (spread, why) in _BY_EYE_LIGHT.items():
        rows.append(Constant(f"eye.{light}", spread, "ΔE00", why, "guess", 0, 60))
    rows.extend(_SINGLE)
    rows.extend(JUDGEMENT_ROWS)
    rows.extend(LEARN_ROWS)
    rows.extend(EVENING_ROWS)
    return rows
