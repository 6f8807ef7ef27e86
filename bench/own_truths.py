"""More of what practitioners see, in the same form: how hands, loads, water, topcoats, cards and whites behave.

Importing this adds them to `craft_truths.STATEMENTS`.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from math import cos, radians
from typing import Any

from .craft_truths import B3L, B6, DYES, F4, ST, WHITE, colour, dip, job, of, off, on, says, tried, two, within

KRAFT = {"colour": {"hex": "#b99468"}, "surface": "smooth"}
NAVY = {"colour": {"hex": "#22335a"}, "surface": "smooth"}
PALE = {"colour": {"hex": "#bcd7f0"}, "surface": "smooth"}
HEAT, GLAZE, SPRITZ = ({"treatment": each} for each in ("heat", "glaze", "spritz"))
STRONG = ["orange", "pink", "blue", "green", "teal", "purple", "red"]
Rng = random.Random
Sample = tuple[list[dict[str, Any]], Callable[[list[Any]], tuple[bool, float]]]


def tried_all(seed: int, count: int) -> list[tuple[str, float, float]]:
    """Of every statement, these and the others, its name, the share it asks for and the share of one seed that agrees."""
    return list(tried(seed, count))


def ink(rng: Rng, formula: str, *families: str) -> tuple[str, str]:
    """An ink of a formula, of one of some families."""
    return formula, colour(rng, rng.choice(families or STRONG))[0]


@says("a blotted load is paler than a full one", 0.95, "and a juicy one deeper; on card that drinks")
def _loads(rng: Rng) -> Sample:
    a = ink(rng, rng.choice(["dye", "hybrid"]))
    ways = [{**of(F4, 2), "load": load} for load in ("blotted", "normal", "juicy")]
    return [job(WHITE, (*a, way)) for way in ways], lambda s: (s[0].L > s[1].L + 2 > s[2].L + 2, s[0].L - s[1].L)


@says("water pales an ink", 0.95, "three parts of water in five, with a paintbrush")
def _thinned(rng: Rng) -> Sample:
    a, way = ink(rng, rng.choice(DYES)), {"tool": "paintbrush", "load": "normal", "passes": 2}
    return [job(WHITE, (*a, way)), job(WHITE, (*a, {**way, "dilution": 0.6}))], lambda s: (
        s[1].L > s[0].L + 4,
        s[1].L - s[0].L,
    )


@says("texture under a light hand leaves paper showing", 0.9, "the same light foam is paler on watercolour card")
def _specks(rng: Rng) -> Sample:
    a, way = ink(rng, "dye"), {**of(F4, 1), "load": "light"}
    return [job(WHITE, (*a, way)), job(on("watercolour"), (*a, way))], lambda s: (s[1].L > s[0].L, s[1].L - s[0].L)


@says("a built-up hand closes texture", 0.9, "eight passes of foam come within 6 of the same on smooth card")
def _closed(rng: Rng) -> Sample:
    a, way = ink(rng, "dye"), of(F4, 8)
    return [job(WHITE, (*a, way)), job(on("watercolour"), (*a, way))], lambda s: (off(*s) <= 6, off(*s))


@says("a topcoat makes a hybrid deeper and no duller", 0.9, "the chalk goes")
def _glazed(rng: Rng) -> Sample:
    a = ink(rng, "hybrid")
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), GLAZE)], lambda s: (
        s[1].L < s[0].L - 0.5 and s[1].C > s[0].C - 1,
        s[0].L - s[1].L,
    )


@says("heat pales only slightly", 0.95, "some find that it does, nobody that it changes the colour")
def _heated(rng: Rng) -> Sample:
    a = ink(rng, rng.choice(["dye", "hybrid", "pigment"]))
    return [job(WHITE, (*a, B6)), job(WHITE, (*a, B6), HEAT)], lambda s: (0 <= s[1].L - s[0].L + 0.05 < 2, off(*s))


@says("water hardly moves a plain dye", 0.9, "its drops stay within 6 of the field")
def _plain_drops(rng: Rng) -> Sample:
    a = ink(rng, "dye")
    return [job(WHITE, (*a, F4), SPRITZ)], lambda s: (s[0].drops[0] - s[0].L < 6, s[0].drops[0] - s[0].L)


@says("water lifts a deep reactive dye nearly to the card", 0.9, "drops at least 20 L* lighter on a stamped print")
def _lifted(rng: Rng) -> Sample:
    a = ink(rng, "reactive_dye", "blue", "purple", "green", "berry")
    return [job(WHITE, (*a, ST), SPRITZ)], lambda s: (s[0].drops[0] > s[0].L + 20, s[0].drops[0] - s[0].L)


@says("a pigment covers a dye below", 0.9, "four passes of foam lie nearer to the pigment than to the dye")
def _covers(rng: Rng) -> Sample:
    a, b = ink(rng, "dye"), ink(rng, "pigment", "yellow", "coral", "aqua", "lilac", "peach")
    return [job(WHITE, (*a, B6), (*b, F4)), job(WHITE, (*a, B6)), job(WHITE, (*b, F4))], lambda s: (
        off(s[0], s[2]) < off(s[0], s[1]),
        off(s[0], s[2]),
    )


@says("a yellow dye is lost over a dark print", 0.9, "within 5 of the print alone")
def _lost(rng: Rng) -> Sample:
    a, b = ink(rng, "dye", "black"), ink(rng, "dye", "yellow", "peach", "lime")
    return [job(WHITE, (*a, ST), (*b, B6)), job(WHITE, (*a, ST))], lambda s: (off(*s) <= 5, off(*s))


@says("kraft card makes a dye darker and duller", 0.95, "its own colour mixes in")
def _kraft(rng: Rng) -> Sample:
    a = ink(rng, rng.choice(DYES), "blue", "green", "teal", "purple", "pink", "aqua", "sky", "lilac")
    return [job(WHITE, (*a, B6)), job(KRAFT, (*a, B6))], lambda s: (
        s[1].L < s[0].L - 5 and s[1].C * cos(radians(s[1].h - s[0].h)) < s[0].C,
        s[0].L - s[1].L,
    )


@says("white pigment by foam is white on kraft", 0.9, "at least 15 L* lighter than the card, and pale")
def _white_on_kraft(rng: Rng) -> Sample:
    a = ink(rng, "pigment", "white")
    return [job(KRAFT), job(KRAFT, (*a, F4))], lambda s: (s[1].L > s[0].L + 15 and s[1].C < 16, s[1].L - s[0].L)


@says("a dye hardly shows on navy card, a pale pigment does", 0.9, "the one within 8 of the card, the other 15 away")
def _on_navy(rng: Rng) -> Sample:
    a, b = ink(rng, "dye", "pink", "teal", "green"), ink(rng, "pigment", "pale yellow", "peach", "sky", "lilac")
    return [job(NAVY), job(NAVY, (*a, F4)), job(NAVY, (*b, F4))], lambda s: (
        off(s[0], s[1]) < 8 and off(s[0], s[2]) > 15,
        off(s[0], s[1]),
    )


@says(
    "a colour mixed with white is a tint and not lost",
    0.9,
    "hybrid and white pigment, wet: lighter, neither mud nor swamped",
)
def _tint(rng: Rng) -> Sample:
    a, b = ink(rng, "hybrid"), ink(rng, "pigment", "white")
    return [job(WHITE, (*a, F4), (*b, F4, "wet")), job(WHITE, (*a, F4))], lambda s: (
        s[0].L > s[1].L and s[0].kind not in ("muddy", "swamped"),
        s[0].L - s[1].L,
    )


@says("a grey mixed in makes dusky, not mud", 0.9, "soft families with a grey over them")
def _greyed(rng: Rng) -> Sample:
    a, b = ink(rng, "dye", "pink", "sky", "lilac", "aqua", "coral"), ink(rng, "dye", "grey")
    return [job(WHITE, (*a, B6), (*b, B3L))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("a print is deeper than an everyday brush on coated card too", 0.9, "of dark and strong dyes")
def _print_coated(rng: Rng) -> Sample:
    a = ink(rng, "dye", "blue", "purple", "green", "teal", "red")
    return [job(on("coated"), (*a, of(B6, 3))), job(on("coated"), (*a, ST))], lambda s: (
        s[1].L < s[0].L,
        s[0].L - s[1].L,
    )


@says("dipped again it is deeper", 0.95, "more of the card is covered, and some of it twice")
def _dipped(rng: Rng) -> Sample:
    a = ink(rng, rng.choice(["dye", "hybrid"]))
    return [job(WHITE, *[(*a, dip)] * n) for n in (1, 2, 3)], lambda s: (s[0].L > s[1].L > s[2].L, s[0].L - s[2].L)


@says("ink looks deeper while wet", 0.95, "and lighter when dry")
def _wet(rng: Rng) -> Sample:
    a = ink(rng, rng.choice(["dye", "hybrid", "reactive_pigment"]))
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), look="wet")], lambda s: (s[1].L < s[0].L, s[0].L - s[1].L)


@says("a lighter hand on both is less muddy", 0.9, "opposites, three light passes against four of foam")
def _lighter(rng: Rng) -> Sample:
    a, b = two(rng, rng.choice(["blue", "teal"]), rng.choice(["orange", "red"]), "dye")
    return [job(WHITE, (*a, F4), (*b, F4)), job(WHITE, (*a, B3L), (*b, B3L))], lambda s: (
        s[1].mud <= s[0].mud,
        s[0].mud - s[1].mud,
    )


@says("blue and yellow laid deep are a deep green and not mud", 0.85, "a print of each")
def _deep_green(rng: Rng) -> Sample:
    a, b = ink(rng, "dye", "yellow"), ink(rng, "dye", "blue")
    return [job(WHITE, (*a, ST), (*b, of(F4, 3)))], lambda s: (
        s[0].kind != "muddy" and within(s[0].h, 110, 230),
        s[0].h,
    )


@says("pigments laid dry show their order", 0.9, "each covers what is below, so the two orders differ")
def _pigment_order(rng: Rng) -> Sample:
    a, b = ink(rng, "pigment", "blue", "purple", "green"), ink(rng, "pigment", "yellow", "coral", "pink")
    return [job(WHITE, (*a, F4), (*b, F4)), job(WHITE, (*b, F4), (*a, F4))], lambda s: (off(*s) >= 8, off(*s))


@says("pale blue card greens a yellow dye", 0.9, "the card's own colour mixes into a transparent ink")
def _greens(rng: Rng) -> Sample:
    a = ink(rng, "dye", "yellow")
    return [job(WHITE, (*a, of(B6, 3))), job(PALE, (*a, of(B6, 3)))], lambda s: (s[1].h > s[0].h + 4, s[1].h - s[0].h)
