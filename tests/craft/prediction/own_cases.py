"""Our own craft cases, beyond the shared ones: what practitioners agree on, as jobs.

Written from the craft before they were run; spread over formulas, cards, tools and
treatments. The expectations are those of tests/data/craft-cases.json.
"""

from __future__ import annotations

from typing import Any

WHITE, MINT, KRAFT, NAVY, SLATE, ROSE = "#f8f7f4", "#a8dcc0", "#b58f66", "#26344f", "#5b646d", "#efc4c8"
RED, ORANGE, YELLOW, GREEN = "#d22b2b", "#f2801e", "#f7d417", "#2f9a55"
BLUE, PURPLE, PINK, TEAL = "#2456a6", "#6b3fa0", "#e0559a", "#1f8f98"
BLACK, BROWN, GREY, CORAL, PALE_BLUE = "#262626", "#7a4a2b", "#8d8d8d", "#f0704f", "#a9d3e5"

Case = tuple[str, dict[str, Any], list[list[Any]]]


def ink(colour: str, formula: str = "dye", **more: Any) -> dict[str, Any]:
    return {"formula": formula, "swatch": {"colour": {"hex": colour}}, **more}


def job(card: str | dict[str, Any], *entries: Any, **more: Any) -> dict[str, Any]:
    """A job from entries (ink, dose or words, "wet" if it joins) or treatment names."""
    inks: dict[str, Any] = {}
    stack: list[dict[str, Any]] = []
    for entry in entries:
        if isinstance(entry, str):
            stack.append({"treatment": entry})
            continue
        what, how, *rest = entry
        key = next((k for k, known in inks.items() if known == what), f"i{len(inks)}")
        inks[key] = what
        laid = {"dose": how} if isinstance(how, int | float) else {"tool": how[0], "passes": how[1], **dict(how[2:])}
        stack.append({"ink": key, **laid, "over": rest[0] if rest else "dry"})
    paper = card if isinstance(card, dict) else {"colour": {"hex": card}}
    return {"wempa": 1, "cardstock": paper, "inks": inks, "stack": stack, **more}


def paper(surface: str, colour: str = WHITE) -> dict[str, Any]:
    return {"colour": {"hex": colour}, "surface": surface}


def pair(
    one: str, two: str, formula: str = "dye", doses: tuple[float, float] = (1, 1), over: str = "dry"
) -> dict[str, Any]:
    return job(WHITE, (ink(one, formula), doses[0]), (ink(two, formula), doses[1], over))


def foam(colour: str, surface: str, passes: int, formula: str = "dye", tool: str = "foam") -> dict[str, Any]:
    return job(paper(surface), (ink(colour, formula), (tool, passes)))


WHITE_INK = ink("#ffffff", "pigment")

CASES: list[Case] = [
    # Two primaries and their secondary.
    ("pink-yellow", {"x": pair("#e8589a", "#f9dc3c")}, [["kind_not", "x", ["muddy"]], ["hue", "x", 25, 80]]),
    ("turquoise-yellow", {"x": pair("#38b2c4", "#f9e04c")}, [["kind", "x", ["clean", "swamped"]], ["hue", "x", 110, 190]]),
    ("turquoise-pink", {"x": pair("#38a8d8", "#e0559a")}, [["kind_not", "x", ["muddy"]], ["hue", "x", 270, 345]]),
    ("blue-pink-wet-hybrids", {"x": pair("#3f7fd0", "#e0559a", "hybrid", over="wet")}, [["kind_not", "x", ["muddy"]], ["hue", "x", 270, 350]]),
    ("yellow-blue-hybrids-wet", {"x": pair(YELLOW, "#2f7fc4", "hybrid", over="wet")}, [["kind_not", "x", ["muddy"]], ["hue", "x", 100, 190]]),
    ("yellow-blue-reactive_pigment-wet", {"x": pair(YELLOW, "#2f7fc4", "reactive_pigment", over="wet")}, [["kind_not", "x", ["muddy"]], ["hue", "x", 100, 195]]),
    # Saturated opposites, in any formula that lets them meet.
    ("red-green-dyes", {"x": pair(RED, GREEN), "y": pair(GREEN, RED)}, [["kind", "x", ["muddy"]], ["kind", "y", ["muddy"]]]),
    ("yellow-purple-dyes", {"x": pair(PURPLE, YELLOW)}, [["kind", "x", ["muddy"]]]),
    ("orange-teal-dyes", {"x": pair(TEAL, ORANGE)}, [["kind", "x", ["muddy", "muted"]], ["muddier", "x", "n", 30]]),
    ("blue-orange-hybrids-wet", {"x": pair(BLUE, ORANGE, "hybrid", over="wet")}, [["kind", "x", ["muddy"]]]),
    ("red-green-reactive pigments-wet", {"x": pair(RED, GREEN, "reactive_pigment", over="wet")}, [["kind", "x", ["muddy"]]]),
    ("blue-orange-reactive", {"x": pair(BLUE, ORANGE, "reactive_dye")}, [["kind", "x", ["muddy"]]]),
    ("three-hues-wet", {"x": job(WHITE, (ink(RED, "hybrid"), 1), (ink(YELLOW, "hybrid"), 1, "wet"), (ink(BLUE, "hybrid"), 1, "wet"))}, [["kind", "x", ["muddy"]]]),
    # Opposites that people love: pale, dusky, uneven.
    ("pale-opposites", {"x": pair("#f6d2b8", "#c3d8ee", "hybrid", over="wet")}, [["kind_not", "x", ["muddy"]], ["above", "x", 62]]),
    ("coral-blue-grey", {"x": pair(CORAL, "#8fa9b8", "hybrid", over="wet")}, [["kind_not", "x", ["muddy"]]]),
    ("pale-blue-touch-of-brown", {"x": pair(PALE_BLUE, BROWN, "hybrid", (1.6, 0.12), "wet")}, [["kind_not", "x", ["muddy"]]]),
    ("light-hands-on-opposites", {"x": pair(BLUE, ORANGE, doses=(0.12, 0.15)), "y": pair(BLUE, ORANGE)}, [["kind_not", "x", ["muddy"]], ["muddier", "y", "x", 40]]),
    ("pink-grey", {"x": pair(PINK, GREY, "hybrid", (1, 0.4), "wet")}, [["kind_not", "x", ["muddy"]]]),
    ("white-makes-pastel", {"x": job(WHITE, (ink(PINK, "pigment"), 1), (WHITE_INK, 2, "wet")), "p": job(WHITE, (ink(PINK, "pigment"), 1))}, [["kind_not", "x", ["muddy"]], ["lighter", "x", "p", 5]]),
    # Own browns, greens and blacks are not mud.
    ("brown-on-orange", {"x": pair(ORANGE, BROWN)}, [["kind_not", "x", ["muddy"]]]),
    ("brown-alone", {"x": job(WHITE, (ink(BROWN), 1))}, [["kind", "x", ["clean"]]]),
    ("two-browns", {"x": pair(BROWN, "#8a5a36")}, [["kind_not", "x", ["muddy"]]]),
    ("deep-green", {"x": pair("#e0c010", "#1f5fa8", doses=(1.4, 1.2))}, [["kind_not", "x", ["muddy"]], ["hue", "x", 100, 200]]),
    ("black-over-anything", {"x": pair(ORANGE, BLACK), "y": pair(BLUE, BLACK), "k": job(WHITE, (ink(BLACK), 1))}, [["kind_not", "x", ["muddy"]], ["near", "y", "k", 8]]),
    # Amount.
    ("passes-deepen", {"a": foam(TEAL, "smooth", 1), "b": foam(TEAL, "smooth", 4), "c": foam(TEAL, "smooth", 12)}, [["lighter", "a", "b", 5], ["lighter", "b", "c", 2]]),
    ("load", {"l": job(WHITE, (ink(TEAL), ("foam", 2, ("load", "blotted")))), "j": job(WHITE, (ink(TEAL), ("foam", 2, ("load", "juicy"))))}, [["lighter", "l", "j", 4]]),
    ("stamp-darker-than-blend", {"s": foam(TEAL, "smooth", 1, tool="stamp"), "b": foam(TEAL, "smooth", 2, tool="brush")}, [["lighter", "b", "s", 8]]),
    ("hybrid-comes-on-sooner", {"h1": foam(TEAL, "smooth", 2, "hybrid"), "h": job(WHITE, (ink(TEAL, "hybrid"), ("pad", 1))), "d1": foam(TEAL, "smooth", 2), "d": job(WHITE, (ink(TEAL), ("pad", 1)))}, [["smaller_step", "h1", "h", "d1", "d", 1.02]]),
    ("hybrids-build-on-gloss", {"c1": foam(CORAL, "glossy", 3), "c2": job(paper("glossy"), (ink(CORAL), ("foam", 3)), (ink(CORAL), ("foam", 3))), "h1": foam(CORAL, "glossy", 3, "hybrid"), "h2": job(paper("glossy"), (ink(CORAL, "hybrid"), ("foam", 3)), (ink(CORAL, "hybrid"), ("foam", 3)))}, [["smaller_step", "c1", "c2", "h1", "h2", 0.8]]),
    ("thirsty-card-takes-more", {"a": foam(TEAL, "coated", 10), "b": foam(TEAL, "absorbent", 10)}, [["lighter", "a", "b", 2]]),
    ("specks-on-watercolour", {"s": foam(BLUE, "smooth", 1, tool="brush"), "w": foam(BLUE, "watercolour", 1, tool="brush")}, [["lighter", "w", "s", 0]]),
    ("dilution-of-hybrid", {"n": job(WHITE, (ink(BLUE, "hybrid"), ("paintbrush", 1))), "d": job(WHITE, (ink(BLUE, "hybrid"), ("paintbrush", 1, ("dilution", 0.7))))}, [["lighter", "d", "n", 5]]),
    # Cover and order.
    ("pigment-covers-dye", {"x": job(WHITE, (ink(BLUE), 1), (ink("#f2c21b", "pigment"), 1.5)), "t": job(WHITE, (ink("#f2c21b", "pigment"), 1.5)), "d": job(WHITE, (ink(BLUE), 1), (ink("#f2c21b"), 1.5))}, [["closer", "x", "d", "t"]]),
    ("order-of-pigments", {"ab": pair(CORAL, TEAL, "pigment"), "ba": pair(TEAL, CORAL, "pigment")}, [["far", "ab", "ba", 15]]),
    ("order-of-dyes-hardly-matters", {"ab": pair("#e8589a", "#38a8d8"), "ba": pair("#38a8d8", "#e8589a"), "pab": pair("#e8589a", "#38a8d8", "pigment"), "pba": pair("#38a8d8", "#e8589a", "pigment")}, [["smaller_step", "ab", "ba", "pab", "pba", 0.6]]),
    ("white-over-dry-blend-stays-white", {"x": job(WHITE, (ink(BLUE), 1), (WHITE_INK, 3)), "b": job(WHITE, (ink(BLUE), 1))}, [["lighter", "x", "b", 25]]),
    ("layered-against-mixed", {"dry": pair(RED, GREEN, "pigment"), "wet": pair(RED, GREEN, "pigment", over="wet")}, [["muddier", "wet", "dry", 0], ["far", "dry", "wet", 5]]),
    ("sandwich-of-reactive pigments", {"a": job(WHITE, (ink(TEAL, "reactive_pigment"), 1)), "ab": pair(TEAL, CORAL, "reactive_pigment", over="wet"), "aba": job(WHITE, (ink(TEAL, "reactive_pigment"), 1), (ink(CORAL, "reactive_pigment"), 1, "wet"), (ink(TEAL, "reactive_pigment"), 1, "wet"))}, [["closer", "aba", "ab", "a"]]),
    ("order-of-wet-tools", {"ab": job(WHITE, (ink(CORAL, "hybrid"), ("foam", 4)), (ink(TEAL, "hybrid"), ("foam", 4), "wet")), "ba": job(WHITE, (ink(TEAL, "hybrid"), ("foam", 4)), (ink(CORAL, "hybrid"), ("foam", 4), "wet"))}, [["near", "ab", "ba", 1]]),
    # Coloured card.
    ("orange-on-mint", {"w": job(WHITE, (ink(ORANGE), 1)), "m": job(MINT, (ink(ORANGE), 1)), "b": job(MINT, (WHITE_INK, 1), (ink(ORANGE), 1))}, [["chroma", "w", "m", 10], ["recovers", "b", "m", "w", 0.3]]),
    ("thin-damp-barrier-on-rose", {"m": job(ROSE, (ink(TEAL), 1)), "b": job(ROSE, (WHITE_INK, 0.5), (ink(TEAL), 1, "wet")), "w": job(WHITE, (ink(TEAL), 1))}, [["recovers", "b", "m", "w", 0.2]]),
    ("kraft-warms-and-dulls-blue", {"w": job(WHITE, (ink("#4a90d0"), 1)), "k": job(paper("absorbent", KRAFT), (ink("#4a90d0"), 1))}, [["chroma", "w", "k", 15], ["kind_not", "k", ["clean"]]]),
    ("dye-vanishes-on-navy", {"n": job(NAVY), "d": job(NAVY, (ink(PINK), 1)), "p": job(NAVY, (ink(PINK, "pigment"), 1)), "h": job(NAVY, (ink(PINK, "hybrid"), 1))}, [["closer", "d", "h", "n"], ["closer", "h", "p", "n"], ["lighter", "p", "d", 12]]),
    ("pigment-on-slate", {"d": job(SLATE, (ink(YELLOW), 1)), "p": job(SLATE, (ink(YELLOW, "pigment"), 1))}, [["chroma", "p", "d", 10]]),
    ("green-on-mint-stays-clean", {"x": job(MINT, (ink(GREEN), 1))}, [["kind_not", "x", ["muddy", "muted"]]]),
    ("yellow-on-rose-card", {"x": job(ROSE, (ink(YELLOW), 0.6))}, [["kind_not", "x", ["muddy"]]]),
    # After: drying, water, glaze, heat, blot.
    ("wet-is-deeper", {"d": job(WHITE, (ink(TEAL, "hybrid"), 0.7)), "w": job(WHITE, (ink(TEAL, "hybrid"), 0.7), look="wet")}, [["lighter", "d", "w", 1]]),
    ("hybrid-turns-cloudier-than-dye", {"hd": job(BLACK, (ink(PINK, "hybrid"), 1)), "hw": job(BLACK, (ink(PINK, "hybrid"), 1), look="wet")}, [["lighter", "hd", "hw", 2]]),
    ("spritz-pigment-hardly-moves", {"s": job(WHITE, (ink(BLUE, "pigment"), 1), "spritz"), "u": job(WHITE, (ink(BLUE, "pigment"), 1)), "t": job(WHITE, (ink(BLUE, "reactive_dye"), 1), "spritz"), "v": job(WHITE, (ink(BLUE, "reactive_dye"), 1))}, [["drops_step_smaller", "s", "u", "t", "v", 0.3]]),
    ("spritz-needs-depth", {"s": job(WHITE, (ink(BLUE, "reactive_dye"), 0.1), "spritz"), "u": job(WHITE, (ink(BLUE, "reactive_dye"), 0.1)), "t": job(WHITE, (ink(BLUE, "reactive_dye"), 1.2), "spritz"), "v": job(WHITE, (ink(BLUE, "reactive_dye"), 1.2))}, [["drops_step_smaller", "s", "u", "t", "v", 0.7]]),
    ("spritz-hybrid-lighter-milky", {"s": job(WHITE, (ink(BLUE, "hybrid"), 1), "spritz"), "u": job(WHITE, (ink(BLUE, "hybrid"), 1))}, [["drops_lighter", "s", "u", 2], ["drops_duller", "s", "u", 0]]),
    ("spritz-reactive_pigment-own-hue", {"s": job(WHITE, (ink(BLUE, "reactive_pigment"), 1), "spritz"), "u": job(WHITE, (ink(BLUE, "reactive_pigment"), 1))}, [["drops_lighter", "s", "u", 3]]),
    ("glaze-deepens-hybrid", {"u": job(WHITE, (ink(TEAL, "hybrid"), 1)), "g": job(WHITE, (ink(TEAL, "hybrid"), 1), "glaze")}, [["lighter", "u", "g", 1], ["chroma", "g", "u", 0]]),
    ("heat-pales-slightly", {"u": job(WHITE, (ink(TEAL), 1)), "h": job(WHITE, (ink(TEAL), 1), "heat")}, [["lighter", "h", "u", 0.05], ["near", "h", "u", 2]]),
    ("blot-takes-some-away", {"u": job(WHITE, (ink(TEAL), 1)), "b": job(WHITE, (ink(TEAL), 1), "blot")}, [["lighter", "b", "u", 2]]),
    # Glow.
    ("fluorescents-overlap-strongly", {"x": job(WHITE, (ink("#ff4f9a", "fluorescent"), 0.8), (ink("#f4f03a", "fluorescent"), 0.8)), "d": job(WHITE, (ink("#ff4f9a"), 0.8), (ink("#f4f03a"), 0.8))}, [["kind_not", "x", ["muddy", "muted"]], ["hue", "x", 10, 80]]),
]  # fmt: skip

# A case that names a neighbour for comparison: teal over blue beside the opposite.
CASES[8][1]["n"] = pair(TEAL, BLUE)
