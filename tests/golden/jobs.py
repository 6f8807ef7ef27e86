"""The jobs of the golden file: every rule of the model and of the judgement is at work in some of them."""

from __future__ import annotations

from typing import Any

from tests.craft.prediction.own_cases import (
    BLACK,
    BLUE,
    BROWN,
    CORAL,
    GREEN,
    GREY,
    KRAFT,
    MINT,
    NAVY,
    ORANGE,
    PALE_BLUE,
    PINK,
    PURPLE,
    RED,
    ROSE,
    SLATE,
    TEAL,
    WHITE,
    WHITE_INK,
    YELLOW,
    ink,
    job,
    paper,
)

Job = dict[str, Any]
FORMULAS = ("dye", "reactive_dye", "hybrid", "reactive_pigment", "pigment", "fluorescent", "unknown")
MIXING = ("dye", "hybrid", "reactive_pigment", "pigment")
SURFACES = ("glossy", "coated", "smooth", "textured", "watercolour", "absorbent")
TOOLS = ("brush", "foam", "stamp", "brayer", "pad", "dip", "paintbrush")
BRUSH: tuple[Any, ...] = ("brush", 6)
FOAM: tuple[Any, ...] = ("foam", 4)


def swatched(colour: Any, formula: str = "dye", **swatch: Any) -> dict[str, Any]:
    """An ink with more said of its swatch."""
    return {"formula": formula, "swatch": {"colour": colour, **swatch}}


def mixed(card: Any, one: dict[str, Any], two: dict[str, Any], share: float, **how: Any) -> Job:
    """A premix of two inks in one lay-down."""
    made = job(card)
    made["inks"] = {"a": one, "b": two}
    made["stack"] = [{"mix": [{"ink": "a", "share": share}, {"ink": "b", "share": 1 - share}], **how}]
    return made


def ramp(low: float, high: float, bands: int = 36) -> dict[str, Any]:
    """A spectrum that rises evenly over the grid."""
    return {"spectrum": {"start": 380, "step": 10, "values": [low + (high - low) * k / 35 for k in range(bands)]}}


def more(card: str, entry: dict[str, Any], **rest: Any) -> Job:
    """One blue dye laid as said."""
    made = job(card, **rest)
    made["inks"] = {"a": ink(BLUE)}
    made["stack"] = [{"ink": "a", **entry}]
    return made


JOBS: dict[str, Job] = {
    "bare white": job(WHITE),
    "bare kraft, absorbent, by lamp": job(paper("absorbent", KRAFT), illuminant="A"),
    # Every formula over a dye, into the wet of a hybrid, and alone while wet.
    **{f"{f} over a dye": job(WHITE, (ink(PURPLE), BRUSH), (ink(YELLOW, f), BRUSH)) for f in FORMULAS},
    **{f"{f} into a wet hybrid": job(WHITE, (ink(RED, "hybrid"), FOAM), (ink(BLUE, f), FOAM, "wet")) for f in MIXING},
    **{f"wet look of {f}": job(WHITE, (ink(CORAL, f), FOAM), look="wet") for f in MIXING},
    # Every treatment of a stack in which something soaks and something lies on top.
    **{
        f"{t} of {f}": job(WHITE, (ink(GREEN, f), FOAM), t, (ink(PINK, "dye"), BRUSH))
        for t in ("spritz", "heat", "glaze", "blot")
        for f in ("reactive_dye", "hybrid")
    },
    "heat closes a group": job(WHITE, (ink(BLUE, "pigment"), FOAM), "heat", (ink(RED, "pigment"), FOAM, "wet")),
    "blot of two mixed wet": job(
        WHITE, (ink(BLUE, "hybrid"), 1), (ink(RED, "hybrid"), 0.5, "wet"), "blot", (ink(YELLOW), 1)
    ),
    "spritz twice, then an ink": job(WHITE, (ink(BLUE, "reactive_dye"), 1), "spritz", "spritz", (ink(YELLOW), 0.5)),
    "glaze of the wet look": job(WHITE, (ink(BLUE, "hybrid"), 1.5), "glaze", look="wet"),
    "glaze twice": job(WHITE, (ink(BLUE, "hybrid"), 1), "glaze", (ink(RED), 0.4), "glaze"),
    # Every surface, every tool, every load.
    **{f"two dyes on {s}": job(paper(s), (ink(BLUE), BRUSH), (ink(ORANGE), BRUSH)) for s in SURFACES},
    **{
        f"pigment over hybrid on {s}": job(paper(s, MINT), (ink(RED, "hybrid"), FOAM), (ink(YELLOW, "pigment"), FOAM))
        for s in ("coated", "watercolour", "absorbent")
    },
    **{
        f"{t} on watercolour": job(paper("watercolour"), (ink(TEAL, "hybrid"), (t, 2)), (ink(YELLOW), (t, 1)))
        for t in TOOLS
    },
    **{
        f"{load} brush": job(paper("textured"), (ink(TEAL), ("brush", 5, ("load", load))))
        for load in ("blotted", "light", "juicy")
    },
    "own texture and absorbency": job(
        {**paper("smooth"), "texture": 0.9, "absorbency": 0.1}, (ink(RED, "hybrid"), BRUSH), (ink(BLUE), BRUSH)
    ),
    "own floor and take-up": job({**paper("coated"), "floor": 0.02, "takeup": 0.4}, (ink(BLACK), 1), (ink(YELLOW), 1)),
    "own numbers of a card": job({**paper("smooth"), "constants": {"n": 1.2}}, (ink(BLUE), ("brush", 1))),
    # Amounts.
    "a deep build-up": job(WHITE, (ink(BLUE), ("brush", 40))),
    "strength of an ink": job(WHITE, (ink(BLUE, strength=2.0), FOAM), (ink(YELLOW, "hybrid", strength=0.5), FOAM)),
    "strength of a stated dose": job(WHITE, (ink(BLUE, strength=2.0), 1)),
    "a diluted dose": more(WHITE, {"dose": 1.0, "dilution": 0.5}),
    "a diluted brush": more(WHITE, {"tool": "paintbrush", "dilution": 0.8}),
    "nothing of an ink": job(WHITE, (ink(BLUE), 0), (ink(RED), 1)),
    "a trace of a darker ink": job(WHITE, (ink(YELLOW), 1), (ink("#080808"), 0.02)),
    "three doses over one another": job(WHITE, (ink(PINK), 0.5), (ink(YELLOW), 1), (ink(BLUE), 0.3)),
    "the same ink twice": job(WHITE, (ink(BLUE), BRUSH), (ink(BLUE), BRUSH)),
    "dye over pigment over dye": job(WHITE, (ink(BLUE), 1), (ink(YELLOW, "pigment"), 0.6), (ink(RED), 1)),
    "dye over hybrid over dye": job(WHITE, (ink(BLUE), BRUSH), (ink(YELLOW, "hybrid"), FOAM), (ink(RED), BRUSH)),
    "four mixed wet": job(WHITE, *[(ink(c, "hybrid"), FOAM, "wet") for c in (PINK, YELLOW, TEAL, PURPLE)]),
    "wet dye over dried pigment": job(
        WHITE, (ink(BLUE, "pigment"), FOAM), (ink(RED), BRUSH), (ink(YELLOW), BRUSH, "wet")
    ),
    # Premixes.
    "premix of two dyes": mixed(WHITE, ink(BLUE), ink(YELLOW), 0.5, dose=1.0),
    "premix of dye and pigment": mixed(
        paper("textured"), ink(BLUE), ink(YELLOW, "pigment"), 0.3, tool="brush", passes=5
    ),
    "premix into the wet": {
        **mixed(WHITE, ink(RED, "hybrid"), ink(YELLOW, "hybrid"), 0.3, tool="foam", passes=3, over="wet")
    },
    "premix, diluted": mixed(
        MINT, ink(RED, "reactive_dye"), ink(BLUE, "reactive_pigment"), 0.6, tool="dip", dilution=0.4
    ),
    # Swatches.
    "swatch by foam": job(
        WHITE, (swatched({"hex": TEAL}, made_with={"tool": "foam", "load": "juicy", "passes": 3}), BRUSH)
    ),
    "swatch on kraft": job(WHITE, (swatched({"hex": "#7a5a3a"}, "hybrid", card={"colour": {"hex": KRAFT}}), FOAM)),
    "swatch on the job's card": job(MINT, (swatched({"hex": "#4a8f86"}, card="job"), FOAM)),
    "two swatches": job(
        SLATE,
        (
            swatched(
                {"hex": ORANGE}, "pigment", on_dark={"colour": {"hex": "#a8612c"}, "card": {"colour": {"hex": BLACK}}}
            ),
            FOAM,
        ),
    ),
    "two swatches from a reader": job(
        WHITE,
        (ink(BLUE), 1),
        (
            swatched(
                {"hex": YELLOW},
                "hybrid",
                known="reader",
                on_dark={"colour": {"hex": "#6b6030"}, "card": {"colour": {"hex": BLACK}, "surface": "coated"}},
            ),
            1,
        ),
    ),
    "a measured spectrum": job(WHITE, (swatched(ramp(0.05, 0.85), known="measured"), 1), (ink(BLUE), 1)),
    "a Lab under a lamp": job(
        WHITE, (swatched({"lab": [52.1, 40.2, 12.0], "illuminant": "A"}, known="photo", spread=1.2), 1)
    ),
    **{
        f"known by {k}": job(WHITE, (swatched({"hex": BLUE}, known=k), 1), (swatched({"hex": YELLOW}, known=k), 1))
        for k in ("lid", "photo", "fitted")
    },
    "no spread": job(WHITE, (swatched({"hex": BLUE}, known="measured", spread=0), 1)),
    "a darker pad": job(WHITE, (ink(BLUE, pad="dry"), FOAM), (ink(YELLOW, pad="fresh"), FOAM)),
    "own hiding and share": job(NAVY, (ink(CORAL, "hybrid", hiding=0.6, soak_share=0.2), FOAM)),
    "own numbers of an ink": job(WHITE, (ink(CORAL, "hybrid", constants={"lift": 0.9, "milk": 2.0}), FOAM), "spritz"),
    "a swatch no pigment gives": job(
        SLATE, (swatched({"hex": "#f7f4d0"}, "pigment", card={"colour": {"hex": BLACK}}), 1)
    ),
    "neon beyond a surface": job(WHITE, (ink("#ffff00"), 1), (ink("#00ffff"), 1)),
    # Glow.
    "glow over glow": job(WHITE, (ink("#f8f35a", "fluorescent"), 1), (ink("#ff5fa2", "fluorescent"), 0.5)),
    "glow under a dye": job(WHITE, (ink("#6af25a", "fluorescent"), FOAM), (ink(BLUE), BRUSH)),
    "glow on slate, by LED": job(
        SLATE,
        (ink("#ff8a3c", "fluorescent", emission={"peak": 600, "width": 30, "energy": 0.6}), 1),
        illuminant="LED-B3",
    ),
    # Cards and lights.
    **{
        f"orange dye on {name}": job(c, (ink(ORANGE), BRUSH))
        for name, c in (("mint", MINT), ("kraft", KRAFT), ("navy", NAVY), ("rose", ROSE))
    },
    "white barrier on mint": job(MINT, (WHITE_INK, ("brush", 6)), (ink(ORANGE), BRUSH)),
    "white over a dry blend": job(WHITE, (ink(BLUE), BRUSH), (ink(PINK), BRUSH), (WHITE_INK, FOAM)),
    "light hybrid on black": job(BLACK, (ink(YELLOW, "hybrid"), FOAM)),
    "by horizon light": job(MINT, (ink(BLUE), 1), (ink(ORANGE), 0.5), illuminant="D50"),
    "by a warm lamp": job(WHITE, (ink(BLUE), 1), (ink(ORANGE), 0.5), illuminant="A"),
    # The judgement.
    "opposites, deep": job(WHITE, (ink(RED), 1), (ink(GREEN), 1)),
    "opposites, mud line 90": job(WHITE, (ink(RED), 1), (ink(GREEN), 1), mud_line=90),
    "opposites of which one is owned": job(
        WHITE, (ink(RED), 1), (ink(GREEN), 1), stash={"inks": {"o": ink("#4c3a2b")}, "cards": {}}
    ),
    "pale opposites": job(WHITE, (ink(PALE_BLUE), 1), (ink("#f4c79a"), 0.5)),
    "twins": job(WHITE, (ink(BLUE), 0.6), (ink("#2a5cac"), 0.6)),
    "swamped": job(WHITE, (ink(BLACK), 1.5), (ink(YELLOW), 0.4)),
    "greyed on purpose": job(WHITE, (ink(PINK), 1), (ink(GREY), 1)),
    "brown alone": job(WHITE, (ink(BROWN), 1)),
    "plum": job(WHITE, (ink(RED), 0.6), (ink(BLUE), 0.6)),
    "muted by the card": job(MINT, (ink(CORAL), 0.4)),
    "swallowed by the card": job(NAVY, (ink(PALE_BLUE), 0.5)),
    "nothing new on white": job(WHITE, (ink("#f6f5f2"), 0.5)),
    "nothing new on coloured card": job(MINT, (ink("#f6f5f2"), 0.3)),
    # Films that were blotted or set by heat, and what soaks over them.
    "dye over a blotted film": job(WHITE, (ink(CORAL, "pigment"), ("foam", 8)), "blot", (ink(BLUE), ("brush", 12))),
    "dyes over a hybrid set by heat": job(
        WHITE, (ink(CORAL, "hybrid"), ("foam", 9)), "heat", (ink(BLUE), ("brush", 20)), (ink(YELLOW), ("brush", 20))
    ),
    "dye over a thin blotted film, on gloss": job(
        paper("glossy", "#fafbfc"), (ink(CORAL, "hybrid"), ("brush", 2)), "blot", (ink(BLUE), ("brush", 12))
    ),
    # More patches than are told apart, and a wet brush that goes over again and again.
    "six dips": job(WHITE, *[(ink(colour), ("dip", 1)) for colour in (BLUE, YELLOW, PINK, TEAL, CORAL, GREEN)]),
    "a wet brush many times": job(MINT, (ink(BLUE), ("paintbrush", 7)), (ink(YELLOW), ("paintbrush", 7))),
    "a grey on mint": job(MINT, (ink(GREY), FOAM), (ink("#8a8f8a"), BRUSH)),
    # The one table.
    "own table": job(
        MINT,
        (ink(BLUE, "hybrid"), FOAM),
        (ink(ORANGE), BRUSH),
        constants={
            "tool.foam.amount": 0.3,
            "formula.hybrid.hiding": 0.5,
            "mud.brown_chroma": 40,
            "verdict.muted": 0.8,
            "margin.hand": 1.5,
        },
    ),
}
