#!/usr/bin/env python3
"""What practitioners see, asked of the predictor over whole families of made-up inks laid with real tools.

    python -m bench.craft_truths [--seed N …] [--count N] [--only WORD] [--show NAME]

Every statement is tried on `count` random members of its families
for each seed; it holds if at least the stated share agrees over all of them. Other seeds give other inks, so nothing is gained
by tuning to one. Exit status 1 if a statement fails. `--show NAME` prints each sample of one statement.
"""
from __future__ import annotations

import argparse, json, math, random, statistics, sys

from wempa.formats.job_result import predict_text

# Families of inks as lightness, chroma and hue ranges (CIELAB, D65).
FAMILY = {
    "yellow": ((80, 90), (60, 88), (88, 100)), "pale yellow": ((87, 92), (30, 48), (92, 102)),
    "orange": ((62, 73), (62, 80), (58, 70)), "coral": ((59, 67), (45, 58), (28, 40)), "rosy coral": ((58, 66), (46, 58), (18, 30)),
    "peach": ((74, 82), (28, 40), (48, 62)), "red": ((42, 51), (58, 70), (24, 36)),
    "pink": ((60, 71), (44, 58), (350, 368)), "berry": ((40, 49), (46, 60), (345, 363)),
    "purple": ((33, 45), (34, 50), (306, 324)), "lilac": ((67, 77), (15, 27), (300, 320)),
    "blue": ((36, 47), (38, 54), (266, 284)), "denim": ((50, 60), (22, 32), (252, 270)),
    "sky": ((70, 81), (15, 28), (232, 258)), "blue-grey": ((48, 59), (11, 20), (242, 264)),
    "aqua": ((62, 71), (22, 33), (190, 214)), "teal": ((42, 54), (28, 38), (196, 214)),
    "green": ((48, 60), (38, 54), (134, 154)), "lime": ((78, 85), (60, 80), (109, 119)),
    "brown": ((38, 49), (25, 38), (50, 64)), "grey": ((50, 64), (0, 5), (0, 359)),
    "black": ((10, 15), (0, 3), (0, 359)), "white": ((96, 98), (0, 1.5), (80, 100)),
}
HUED = [f for f in FAMILY if f not in ("grey", "black", "white", "brown")]
WHITE = {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"}
on = lambda surface: {**WHITE, "surface": surface}
# Ways of laying: light brushing, everyday brushing, foam, a stamped print.
B3L = {"tool": "brush", "load": "light", "passes": 3}
B6 = {"tool": "brush", "load": "normal", "passes": 6}
F4 = {"tool": "foam", "load": "normal", "passes": 4}
ST = {"tool": "stamp", "load": "normal", "passes": 1}
dip = {"tool": "dip", "load": "normal", "passes": 1}
of = lambda way, n: {**way, "passes": n}


def to_rgb(L, C, h):
    a, b = C * math.cos(math.radians(h)), C * math.sin(math.radians(h))
    y = (L + 16) / 116
    f = lambda t: t**3 if t > 6 / 29 else 3 * (6 / 29) ** 2 * (t - 4 / 29)
    X, Y, Z = 0.95047 * f(y + a / 500), f(y), 1.08883 * f(y - b / 200)
    lin = (3.2406 * X - 1.5372 * Y - 0.4986 * Z, -0.9689 * X + 1.8758 * Y + 0.0415 * Z, 0.0557 * X - 0.204 * Y + 1.057 * Z)
    if min(lin) < -1e-4 or max(lin) > 1.0001:
        return None
    return [12.92 * v if v <= 0.0031308 else 1.055 * max(v, 0) ** (1 / 2.4) - 0.055 for v in lin]


def colour(rng, family, near=None, hue=None):
    """A random member as hex; `near` = (L, C, h) with small departures instead; `hue` fixes the hue."""
    l, c, hs = FAMILY[family]
    for _ in range(500):
        if near:
            L, C, h = near[0] + rng.uniform(-3, 3), near[1] + rng.uniform(-4, 4), near[2] + rng.uniform(-4, 4)
        else:
            L, C, h = rng.uniform(*l), rng.uniform(*c), hue if hue is not None else rng.uniform(*hs)
        rgb = to_rgb(L, max(C, 0), h % 360)
        if rgb:
            return "#" + "".join(f"{round(255 * min(max(v, 0), 1)):02x}" for v in rgb), (L, C, h)
    raise SystemExit(f"no colour of a screen in family {family}")


def de00(p, q):
    (L1, a1, b1), (L2, a2, b2) = p, q
    C1, C2 = math.hypot(a1, b1), math.hypot(a2, b2)
    Cm = (C1 + C2) / 2
    G = 0.5 * (1 - math.sqrt(Cm**7 / (Cm**7 + 25**7)))
    a1, a2 = a1 * (1 + G), a2 * (1 + G)
    C1, C2 = math.hypot(a1, b1), math.hypot(a2, b2)
    hue = lambda x, y: math.degrees(math.atan2(y, x)) % 360 if x or y else 0
    h1, h2 = hue(a1, b1), hue(a2, b2)
    dh = 0 if C1 * C2 == 0 else (h2 - h1 + 180) % 360 - 180
    dL, dC, dH = L2 - L1, C2 - C1, 2 * math.sqrt(C1 * C2) * math.sin(math.radians(dh) / 2)
    Lm, Cp = (L1 + L2) / 2, (C1 + C2) / 2
    hm = h1 + h2 if C1 * C2 == 0 else (h1 + h2) / 2 + (0 if abs(h1 - h2) <= 180 else 180 if h1 + h2 < 360 else -180)
    r = math.radians
    T = 1 - 0.17 * math.cos(r(hm - 30)) + 0.24 * math.cos(r(2 * hm)) + 0.32 * math.cos(r(3 * hm + 6)) - 0.2 * math.cos(r(4 * hm - 63))
    SL, SC, SH = 1 + 0.015 * (Lm - 50) ** 2 / math.sqrt(20 + (Lm - 50) ** 2), 1 + 0.045 * Cp, 1 + 0.015 * Cp * T
    RT = -2 * math.sqrt(Cp**7 / (Cp**7 + 25**7)) * math.sin(r(60 * math.exp(-(((hm - 275) / 25) ** 2))))
    return math.sqrt((dL / SL) ** 2 + (dC / SC) ** 2 + (dH / SH) ** 2 + RT * dC / SC * dH / SH)


class Seen:
    """One result, in short."""

    def __init__(self, result):
        self.lab = result["colour"]["lab"]
        self.L, self.C, self.h = self.lab[0], math.hypot(*self.lab[1:]), math.degrees(math.atan2(self.lab[2], self.lab[1])) % 360
        self.kind, self.mud = result["verdict"]["kind"], result["verdict"]["mud"]
        drops = result.get("drops")
        self.drops = None if not drops else drops["lab"]

    def __repr__(self):
        return f"L{self.L:.0f} C{self.C:.0f} h{self.h:.0f} {self.kind} {self.mud:.0f}"


def off(a, b): return de00(a.lab, b.lab)
def within(h, low, high): return low <= h <= high or low <= h + 360 <= high or low <= h - 360 <= high
def drops_dl(r): return r.drops[0] - r.L


def registry():
    """A list of statements, and the decorator that puts one there with its name, its share and why."""
    statements = []

    def says(name, share, why):
        def keep(sample):
            statements.append((name, share, why, sample))
            return sample
        return keep

    return statements, says


STATEMENTS, says = registry()


def job(card, *entries, look="dry"):
    """Entries are (formula, hex, way[, 'wet']) or {'treatment': …}."""
    inks, stack = {}, []
    for entry in entries:
        if isinstance(entry, dict):
            stack.append(entry)
            continue
        formula, hexed, way, *wet = entry
        key = f"{formula}{hexed}"
        inks[key] = {"formula": formula, "swatch": {"colour": {"hex": hexed}}}
        stack.append({"ink": key, **way, **({"over": "wet"} if wet else {})})
    return {"wempa": 1, "cardstock": card, "inks": inks, "stack": stack, "look": look}


def two(rng, one="", other="", formula="dye"):
    a, b = one or rng.choice(HUED), other or rng.choice(HUED)
    pick = lambda: rng.choice(formula) if isinstance(formula, list) else formula
    return (pick(), colour(rng, a)[0]), (pick(), colour(rng, b)[0])


DYES = ["dye", "reactive_dye"]
# A sample returns (jobs, test); test(list of Seen) -> (holds, figure).


@says("dyes: order hardly matters", 0.9, "dyes soak in and are transparent; on paper that drinks, both orders look alike (≤ 4 ΔE00)")
def _(rng):
    a, b = two(rng, formula=DYES); card, way = on(rng.choice(["smooth", "watercolour"])), rng.choice([B3L, B6, F4, ST])
    return [job(card, (*a, way), (*b, way)), job(card, (*b, way), (*a, way))], lambda s: (off(*s) <= 4, off(*s))


@says("dyes on sealed card: order matters little", 0.9, "a second dye re-wets the first and mixes with it on coated and glossy card (≤ 7 ΔE00)")
def _(rng):
    a, b = two(rng, formula=DYES); card, way = on(rng.choice(["coated", "glossy"])), rng.choice([B6, F4, ST])
    return [job(card, (*a, way), (*b, way)), job(card, (*b, way), (*a, way))], lambda s: (off(*s) <= 7, off(*s))


@says("dyes: the verdict does not turn on the order", 0.9, "what is muddy is muddy either way round")
def _(rng):
    a, b = two(rng, formula=DYES); way = rng.choice([B3L, B6, F4])
    return [job(WHITE, (*a, way), (*b, way)), job(WHITE, (*b, way), (*a, way))], lambda s: (s[0].kind == s[1].kind, abs(s[0].mud - s[1].mud))


@says("sealed card still takes a second colour", 0.9, "yellow and blue dye make a green on gloss as well, in both orders")
def _(rng):
    a, b = two(rng, "yellow", rng.choice(["blue", "denim"])); card = on(rng.choice(["coated", "glossy"]))
    return [job(card, (*a, B6), (*b, B6)), job(card, (*b, B6), (*a, B6)), job(card, (*a, B6)), job(card, (*b, B6))], lambda s: (all(within(x.h, 110, 235) and min(off(x, s[2]), off(x, s[3])) >= 8 for x in s[:2]), s[0].h)


@says("a second coat of the same dye deepens on drinking card", 0.9, "smooth uncoated card keeps getting deeper")
def _(rng):
    f = rng.choice(["orange", "pink", "blue", "green", "teal", "purple", "red"]); a = ("dye", colour(rng, f)[0]); w = of(F4, 2)
    return [job(WHITE, (*a, w)), job(WHITE, (*a, w), (*a, w))], lambda s: (off(*s) >= 5 and s[1].L < s[0].L, off(*s))


@says("a second coat of the same dye hardly deepens on sealed card", 0.9, "coated card: more ink, not more colour")
def _(rng):
    a = ("dye", colour(rng, rng.choice(["orange", "pink", "blue", "green", "teal", "purple", "red"]))[0]); surface = rng.choice(["coated", "glossy"])
    return [job(on(surface), (*a, B6)), job(on(surface), (*a, B6), (*a, B6))], lambda s: (off(*s) <= (4.5 if surface == "coated" else 3), off(*s))


@says("a print on sealed card is as deep as on smooth card", 0.9, "coated and glossy card fill at once, and are deep when full (a dark dye's stamped print within 7 L*)")
def _(rng):
    a = ("dye", colour(rng, rng.choice(["black", "blue", "purple", "green", "teal"]))[0])
    return [job(WHITE, (*a, ST)), job(on(rng.choice(["coated", "glossy"])), (*a, ST))], lambda s: (s[1].L <= s[0].L + 7, s[1].L - s[0].L)


@says("a pale ink on top does not wash the dark one away", 0.95, "yellow or sky over a black or navy print on any card leaves it dark (within 5 L*)")
def _(rng):
    dark = ("dye", rng.choice(["#18181a", "#1d2340", "#2a1420"])); pale = ("dye", colour(rng, rng.choice(["yellow", "sky", "pale yellow", "peach"]))[0]); card = on(rng.choice(["smooth", "coated", "glossy"]))
    return [job(card, (*dark, ST)), job(card, (*dark, ST), (*pale, B6))], lambda s: (s[1].L <= s[0].L + 5, s[1].L - s[0].L)


@says("a stamped print is darker than a blend", 0.9, "the everyday brushing and foaming of a panel stay lighter than a print off the pad")
def _(rng):
    a = ("dye", colour(rng, rng.choice(["orange", "pink", "blue", "green", "teal", "purple", "red", "coral"]))[0])
    return [job(WHITE, (*a, w)) for w in (ST, B6, F4)], lambda s: (s[1].L - s[0].L >= 5 and s[2].L - s[0].L >= 2.5, s[1].L - s[0].L)


@says("a brush lays less than foam", 0.95, "the same passes, a lighter colour")
def _(rng):
    a = (rng.choice(["dye", "hybrid"]), colour(rng, rng.choice(["orange", "pink", "blue", "green", "teal", "purple", "red"]))[0])
    return [job(WHITE, (*a, of(B6, 4))), job(WHITE, (*a, F4))], lambda s: (s[0].L - s[1].L >= (3 if a[0] == "dye" else 2), s[0].L - s[1].L)


@says("white barrier brings most back", 0.9, "white pigment brushed under a dye on coloured card gives at least half of the loss back, not all")
def _(rng):
    a = ("dye", colour(rng, rng.choice(["coral", "orange", "pink", "red", "berry"]))[0])
    card = {"colour": {"hex": rng.choice(["#a8dcc0", "#bcd7ee", "#cfe3b4", "#9fd3d1"])}, "surface": "smooth"}
    white = ("pigment", colour(rng, "white")[0])
    w = rng.choice([(B6, ()), (of(B6, 8), ("wet",)), (F4, ())])
    js = [job(card, (*a, B6)), job(card, (*white, w[0]), (*a, B6, *w[1])), job(WHITE, (*a, B6))]
    back = lambda s: 1 - off(s[1], s[2]) / max(off(s[0], s[2]), 1e-6)
    return js, lambda s: (0.5 <= back(s) and off(s[1], s[2]) >= 0.7, back(s))


@says("white over a dry blend stays white", 0.9, "one coat of white pigment by foam goes most of the way from the colour to white, two coats more")
def _(rng):
    a = (rng.choice(["dye", "hybrid"]), colour(rng, rng.choice(["blue", "pink", "teal", "orange", "green", "purple"]))[0])
    h, (Lw, *_r) = colour(rng, "white")
    js = [job(WHITE, (*a, B6)), job(WHITE, (*a, B6), ("pigment", h, F4)), job(WHITE, (*a, B6), ("pigment", h, F4), ("pigment", h, F4))]
    way = lambda s, k: (s[k].L - s[0].L) / (Lw - s[0].L)
    return js, lambda s: (way(s, 1) >= 0.6 and way(s, 2) >= 0.8, way(s, 1))


@says("how deep the dye below is does not weaken the white", 0.9, "what has soaked in leaves the surface free for a film")
def _(rng):
    a = ("dye", colour(rng, rng.choice(["sky", "peach", "pink", "lilac", "pale yellow"]))[0]); h = colour(rng, "white")[0]
    return [job(WHITE, (*a, of(B6, n)), ("pigment", h, F4)) for n in (2, 12)], lambda s: (s[1].L >= s[0].L - 5, s[0].L - s[1].L)


@says("red lightly over or under yellow makes orange", 0.85, "clean, either way round")
def _(rng):
    a, b = two(rng, "red", "yellow", DYES)
    return [job(WHITE, (*a, B3L), (*b, B6)), job(WHITE, (*b, B6), (*a, B3L))], lambda s: (all(x.kind == "clean" and within(x.h, 38, 80) for x in s), s[0].h)


@says("yellow and blue make green", 0.85, "at a light and an everyday hand, and not mud")
def _(rng):
    a, b = two(rng, *rng.choice([("yellow", "blue"), ("yellow", "sky"), ("yellow", "denim"), ("pale yellow", "sky"), ("pale yellow", "denim")]), DYES); way = rng.choice([B3L, B6])
    return [job(WHITE, (*a, way), (*b, way))], lambda s: (within(s[0].h, 105, 215) and s[0].kind != "muddy", s[0].h)


@says("pink and yellow make peach and orange", 0.95, "never mud")
def _(rng):
    a, b = two(rng, "pink", rng.choice(["yellow", "pale yellow"]), DYES); way = rng.choice([B3L, B6, F4])
    return [job(WHITE, (*a, way), (*b, way))], lambda s: (within(s[0].h, 6, 82) and s[0].kind != "muddy", s[0].h)


@says("pink and blue make purple", 0.9, "never mud")
def _(rng):
    a, b = two(rng, "pink", rng.choice(["blue", "sky", "denim"]), DYES); way = rng.choice([B3L, B6])
    return [job(WHITE, (*a, way), (*b, way))], lambda s: (within(s[0].h, 275, 348) and s[0].kind != "muddy", s[0].h)


@says("red and blue make a purple at a light hand", 0.8, "dull perhaps, but plum and not mud")
def _(rng):
    a, b = two(rng, "red", "blue", DYES)
    return [job(WHITE, (*a, B3L), (*b, B3L))], lambda s: (within(s[0].h, 278, 385) and s[0].kind != "muddy", s[0].h)


@says("blue and orange dyes are mud", 0.9, "at every hand but the lightest")
def _(rng):
    a, b = two(rng, "blue", "orange", DYES); way = rng.choice([B6, F4, ST])
    return [job(WHITE, (*a, way), (*b, way))], lambda s: (s[0].kind == "muddy", s[0].mud)


@says("red and green, purple and yellow dyes are mud", 0.8, "saturated opposites")
def _(rng):
    a, b = two(rng, *rng.choice([("red", "green"), ("purple", "yellow")]), DYES); way = rng.choice([B6, F4])
    return [job(WHITE, (*a, way), (*b, way))], lambda s: (s[0].kind == "muddy", s[0].mud)


@says("blue and orange hybrids mixed wet are dull", 0.85, "muted or muddy, no fresh green")
def _(rng):
    a, b = two(rng, "blue", "orange", "hybrid")
    return [job(WHITE, (*a, F4), (*b, F4, "wet"))], lambda s: (s[0].kind in ("muted", "muddy"), s[0].C)


@says("pale opposites are no mud", 0.95, "sky with peach, lilac with pale yellow, aqua with pale pink: soft, and kept")
def _(rng):
    a, b = two(rng, *rng.choice([("sky", "peach"), ("lilac", "pale yellow"), ("aqua", "peach"), ("sky", "pale yellow")]), rng.choice(["dye", "hybrid"])); way = rng.choice([B3L, B6])
    return [job(WHITE, (*a, way), (*b, way)), job(WHITE, (*a, way), (*b, way, "wet"))], lambda s: (all(x.kind != "muddy" for x in s), s[0].mud)


@says("thick pale blue with a touch of orange is a soft green", 0.8, "hybrids worked wet: a light sage, no mud")
def _(rng):
    a, b = two(rng, "sky", "orange", "hybrid")
    return [job(WHITE, (*a, of(F4, 6)), (*b, of(F4, 1), "wet"))], lambda s: (s[0].kind != "muddy" and s[0].L >= 60, s[0].h)


@says("rosy coral with soft cool blues is dusky, not mud", 0.75, "hybrids worked wet with blue-grey or denim: mauves and plums that people keep")
def _(rng):
    a, b = two(rng, "rosy coral", rng.choice(["blue-grey", "denim"]), "hybrid")
    return [job(WHITE, (*a, F4), (*b, F4, "wet"))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("coral with grey is a warm dusky rose or brown", 0.9, "wanted, no mud")
def _(rng):
    a, b = two(rng, "coral", "grey", "hybrid")
    return [job(WHITE, (*a, F4), (*b, F4, "wet"))], lambda s: (within(s[0].h, 350, 420) and s[0].kind != "muddy", s[0].mud)


@says("coral with lemon is a brighter peach", 0.8, "hybrids worked wet: lighter, yellower, clean")
def _(rng):
    a, b = two(rng, "coral", "yellow", "hybrid")
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), (*b, F4, "wet"))], lambda s: (s[1].L - s[0].L >= 0.5 and within(s[1].h, s[0].h + 6, 84) and s[1].kind == "clean", s[1].L - s[0].L)


@says("white mixed in makes it paler", 0.8, "a hybrid or pigment colour with white worked in wet: clearly paler, not called swamped or muddy")
def _(rng):
    a = (rng.choice(["hybrid", "pigment"]), colour(rng, rng.choice(["coral", "blue", "pink", "green", "purple"]))[0])
    white = (a[0], colour(rng, "white")[0])
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), (*white, F4, "wet"))], lambda s: (s[1].L - s[0].L >= 5 and s[1].kind in ("clean", "muted"), s[1].L - s[0].L)


@says("neighbours on the circle are never mud", 0.98, "inks about 30 degrees apart")
def _(rng):
    f = rng.choice(["yellow", "orange", "red", "pink", "purple", "blue", "teal", "green"]); h0 = sum(FAMILY[f][2]) / 2
    form = rng.choice(["dye", "hybrid"]); way = rng.choice([B6, F4])
    a = (form, colour(rng, f)[0])
    L, C, _h = colour(rng, f)[1]
    for cut in (1.0, 0.85, 0.7, 0.55, 0.4, 0.25, 0.1, 0.0):
        rgb = to_rgb(L, C * cut, (h0 + rng.choice([-30, 30])) % 360)
        if rgb: break
    b = (form, "#" + "".join(f"{round(255 * min(max(v, 0), 1)):02x}" for v in rgb))
    return [job(WHITE, (*a, way), (*b, way, *(["wet"] if form == "hybrid" else [])))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("neighbours of like strength are seldom swamped", 0.85, "inks about 30 degrees apart, alike in lightness and strength")
def _(rng):
    jobs, _test = next(x for n, _s, _w, x in STATEMENTS if n.startswith("neighbours on the circle"))(rng)
    return jobs, lambda s: (s[0].kind != "swamped", s[0].mud)


@says("near twins make no third colour", 0.7, "two inks of one hue, as light and as strong as one another")
def _(rng):
    f = rng.choice(["blue", "teal", "pink", "green", "orange", "purple", "red"]); a, at = colour(rng, f)
    b = colour(rng, f, near=at)[0]; form = rng.choice(["dye", "hybrid"]); way = rng.choice([B6, F4])
    return [job(WHITE, (form, a, way), (form, b, way))], lambda s: (s[0].kind == "no_new_colour", s[0].mud)


@says("different hues do make one", 0.9, "inks 60 to 120 degrees apart: never called no new colour")
def _(rng):
    a, b = two(rng, *rng.choice([("yellow", "pink"), ("yellow", "blue"), ("pink", "blue"), ("teal", "yellow"), ("purple", "blue"), ("coral", "yellow")]), rng.choice(["dye", "hybrid"]))
    return [job(WHITE, (*a, B6), (*b, B6))], lambda s: (s[0].kind != "no_new_colour", s[0].mud)


@says("A-B-A leans back to A", 0.95, "a sandwich of two inks that differ; near twins only get deeper")
def _(rng):
    a, b = two(rng, formula="hybrid"); wet = rng.choice([[], ["wet"]])
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), (*b, F4, *wet)), job(WHITE, (*a, F4), (*b, F4, *wet), (*a, F4, *wet)), job(WHITE, (*b, F4))], lambda s: (off(s[2], s[0]) <= off(s[1], s[0]) + 0.2 or off(s[0], s[3]) < 15, off(s[1], s[0]) - off(s[2], s[0]))


@says("a light hybrid shows over black, in its own hue", 0.8, "six passes of foam over a black hybrid")
def _(rng):
    f = rng.choice(["pink", "sky", "aqua", "coral", "yellow", "lilac"]); h, (L, C, hue) = colour(rng, f); black = ("hybrid", colour(rng, "black")[0])
    return [job(WHITE, (*black, of(F4, 6))), job(WHITE, (*black, of(F4, 6)), ("hybrid", h, of(F4, 6)))], lambda s: (off(*s) >= 12 and abs((s[1].h - hue + 180) % 360 - 180) <= 40, off(*s))


@says("a dye vanishes over black", 0.95, "fluorescent dyes too")
def _(rng):
    form = rng.choice(["dye", "reactive_dye", "fluorescent"]); h = colour(rng, rng.choice(["pink", "yellow", "lime", "sky"]))[0]; black = ("dye", colour(rng, "black")[0])
    return [job(WHITE, (*black, of(F4, 6))), job(WHITE, (*black, of(F4, 6)), (form, h, of(F4, 6)))], lambda s: (off(*s) <= 6, off(*s))


@says("dips of several hues: wet goes muddier than dried between", 0.8, "three or four hybrids dipped wet into wet, or dried each time")
def _(rng):
    inks = [("hybrid", colour(rng, f)[0]) for f in rng.sample(["blue", "orange", "pink", "green", "purple", "yellow", "red", "teal"], rng.choice([3, 4]))]; card = on(rng.choice(["glossy", "smooth", "watercolour"]))
    wet = job(card, (*inks[0], dip), *((*i, dip, "wet") for i in inks[1:]))
    return [wet, job(card, *((*i, dip) for i in inks))], lambda s: (s[0].mud >= s[1].mud + 2 or min(s[0].mud, s[1].mud) >= 97 or max(s[0].mud, s[1].mud) <= 15, s[0].mud - s[1].mud)


@says("water drops by formula", 0.85, "reactive dye nearly to white, hybrid lighter and milky, plain dye and pigment hardly at all")
def _(rng):
    h = colour(rng, rng.choice(["blue", "pink", "green", "purple", "teal", "red"]))[0]; t = {"treatment": "spritz"}
    forms = ["reactive_dye", "hybrid", "dye", "pigment"]
    return [job(WHITE, (f, h, of(F4, 6)), t) for f in forms], lambda s: (drops_dl(s[0]) >= 25 and drops_dl(s[1]) >= 5 and abs(drops_dl(s[2])) <= 4 and abs(drops_dl(s[3])) <= 3, drops_dl(s[0]))


@says("reactive pigment drops are lighter in their own hue and want depth", 0.85, "the deeper the coat the more they show")
def _(rng):
    h = colour(rng, rng.choice(["blue", "pink", "green", "purple", "teal"]))[0]; t = {"treatment": "spritz"}
    turn = lambda r: abs((math.degrees(math.atan2(r.drops[2], r.drops[1])) - r.h + 180) % 360 - 180)
    return [job(WHITE, ("reactive_pigment", h, of(F4, n)), t) for n in (1, 6)], lambda s: (drops_dl(s[1]) >= 4 and drops_dl(s[1]) >= drops_dl(s[0]) - 0.5 and turn(s[1]) <= 15, drops_dl(s[1]))


@says("drying lightens", 0.95, "every formula is deeper while wet")
def _(rng):
    a = (rng.choice(["dye", "reactive_dye", "hybrid", "reactive_pigment", "pigment"]), colour(rng, rng.choice(HUED))[0])
    return [job(WHITE, (*a, F4), look="wet"), job(WHITE, (*a, F4))], lambda s: (s[1].L >= s[0].L + 0.5, s[1].L - s[0].L)


@says("a glaze makes a hybrid deeper and more vivid", 0.9, "the chalk goes")
def _(rng):
    a, b = two(rng, "", "", "hybrid")
    return [job(WHITE, (*a, F4), (*b, F4)), job(WHITE, (*a, F4), (*b, F4), {"treatment": "glaze"})], lambda s: (s[1].L < s[0].L and s[1].C >= s[0].C - 0.5, s[0].L - s[1].L)


@says("greys on purpose are no mud", 0.95, "a colour dulled with grey is dusky")
def _(rng):
    a, b = two(rng, "", "grey", rng.choice(["dye", "hybrid"]))
    return [job(WHITE, (*a, B6), (*b, B6, *(["wet"] if a[0] == "hybrid" else [])))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("brights over dark card are dusky, not mud", 0.8, "hybrids and pigments that cover a navy or slate card")
def _(rng):
    a = (rng.choice(["hybrid", "pigment"]), colour(rng, rng.choice(["coral", "pink", "aqua", "yellow", "lilac"]))[0])
    return [job({"colour": {"hex": rng.choice(["#22304f", "#3d4653", "#2b2b30"])}, "surface": "smooth"}, (*a, of(F4, 6)))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("any formula can be dark", 0.95, "a black, navy, wine or bottle-green pad of any formula comes back as its swatch (≤ 0.5 ΔE00)")
def _(rng):
    h = rng.choice(["#141414", "#1c1c1e", "#262626", "#141432", "#3a0d12", "#0c2a1a", "#2b1408"]); form = rng.choice(["hybrid", "reactive_pigment", "pigment"])
    return [{"wempa": 1, "cardstock": WHITE, "inks": {"a": {"formula": form, "swatch": {"colour": {"hex": h}, "card": "job"}}}, "stack": [{"ink": "a", "dose": 1}]}, {"wempa": 1, "cardstock": {"colour": {"hex": h}, "surface": "smooth"}, "inks": {}, "stack": []}], lambda s: (off(*s) <= 0.5, off(*s))


def predict(jobs):
    """Results of a JSON list of jobs, as JSON; in parts, as a list may hold so many and no more."""
    jobs, found = json.loads(jobs), []
    for k in range(0, len(jobs), 5000):
        results, _ = predict_text(json.dumps(jobs[k : k + 5000]))
        found += [result.model_dump(mode="json") for result in results]
    return json.dumps(found)


def tried(seed, count):
    """Of every statement its name, the share that it asks for and the share of samples that agree, of one seed."""
    jobs, samples = [], []
    for name, share, _why, sample in STATEMENTS:
        rng = random.Random(f"{seed} {name}")
        for _ in range(count):
            made, test = sample(rng)
            samples.append((name, share, len(jobs), len(made), test))
            jobs += made
    results = [Seen(result) for result in json.loads(predict(json.dumps(jobs)))]
    found = {}
    for name, share, start, size, test in samples:
        found.setdefault((name, share), []).append(bool(test(results[start : start + size])[0]))
    return [(name, share, sum(held) / len(held)) for (name, share), held in found.items()]


def main():
    p = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    p.add_argument("--seed", type=int, nargs="+", default=[1, 2, 3]); p.add_argument("--count", type=int, default=40)
    p.add_argument("--only", default=""); p.add_argument("--show", default="")
    args = p.parse_args()
    chosen = [s for s in STATEMENTS if args.only in s[0] and args.show in s[0]]
    jobs, samples = [], []
    for name, share, why, sample in chosen:
        for seed in args.seed:
            rng = random.Random(f"{seed} {name}")
            for _ in range(args.count):
                made, test = sample(rng)
                samples.append((name, seed, len(jobs), len(made), test)); jobs += made
    results = json.loads(predict(json.dumps(jobs)))
    failed = poor = 0
    for name, share, why, _s in chosen:
        found = []
        by_seed = {seed: [] for seed in args.seed}
        for n, seed, start, size, test in samples:
            if n != name: continue
            seen = [Seen(r) for r in results[start : start + size]]
            holds, figure = test(seen); found.append((bool(holds), figure)); by_seed[seed].append(bool(holds))
            if args.show: print("ok  " if holds else "MISS", [list(j["inks"]) for j in jobs[start : start + 1]], seen)
        got = sum(h for h, _ in found) / len(found); failed += got < share
        poor += min(sum(h) / len(h) for h in by_seed.values()) < share / 2
        print(f"{'ok  ' if got >= share else 'MISS'} {got:5.0%} of {share:.0%}  median {statistics.median(f for _, f in found):7.2f}  {name}: {why}")
    print(f"{len(chosen) - failed} of {len(chosen)} statements hold, {poor} under half their share on a seed (seeds {' '.join(map(str, args.seed))})")
    return bool(failed)


if __name__ == "__main__":
    sys.exit(main())
