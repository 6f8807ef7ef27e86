"""Limits, curves, energy, hues of mixes, and order."""
from __future__ import annotations

import math

from bench.more_truths.asking import *


# ---------------------------------------------------------------- limits and identities


@says("dose 0 is no ink", 1.0, "limit: nothing laid is the bare card")
def _(rng):
    c = card(rng.choice(["#f8f7f4", "#b99468", "#22335a", "#a8dcc0"]), rng.choice(["smooth", "coated", "watercolour"])); a = ink(rng, ALL)
    return [job(c), job(c, (*a, {"dose": 0}))], lambda s: (off(*s) <= 0.02, off(*s))


@says("a pad impression on the swatch's own card is the swatch", 1.0, "identity, any formula and colour (≤ 0.8)")
def _(rng):
    f, h = ink(rng, ALL); c = rng.choice([WHITE, on("coated"), on("watercolour"), card("#b99468")])
    # On kraft only what is darker than the card can be a dye's swatch.
    if c["colour"]["hex"] == "#b99468": h = shade(rng, rng.choice(["brown", "dark brown", "navy", "wine", "bottle"]))[0]
    j = job(c, (f, h, {"tool": "pad", "load": "normal", "passes": 1}))
    for i in j["inks"].values(): i["swatch"]["card"] = c
    return [j], lambda s: (de00(s[0].lab, lab_of(h)) <= 0.8, de00(s[0].lab, lab_of(h)))


@says("laid as the swatch was made it is the swatch", 0.98, "a swatch brushed or foamed, and the same again (≤ 1)")
def _(rng):
    f, h = ink(rng, ALL, *[x for x in HUED if x not in ("navy", "wine")]); w = rng.choice([B6, F4, of(F4, 8), BR])
    j = job(WHITE, (f, h, w))
    for i in j["inks"].values(): i["swatch"].update({"card": "job", "made_with": w})
    return [j], lambda s: (de00(s[0].lab, lab_of(h)) <= 1, de00(s[0].lab, lab_of(h)))


@says("an ink of dose 0 has no say in the verdict", 0.98, "limit: what is not laid is no parent")
def _(rng):
    a, b = pair(rng, "dye", rng.choice(STRONG), rng.choice(STRONG)); c = ink(rng, "dye")
    w = rng.choice(HAND)
    return [job(WHITE, (*a, w), (*b, w)), job(WHITE, (*a, w), (*c, {"dose": 0}), (*b, w))], lambda s: (s[0].kind == s[1].kind and abs(s[0].mud - s[1].mud) < 1 and off(*s) < 0.1, abs(s[0].mud - s[1].mud))


@says("A mixed with A is A", 1.0, "identity: a premix of one colour with itself is that colour, clean")
def _(rng):
    f, h = ink(rng, ALL); w = rng.choice(HAND + [ST]); x = rng.uniform(0.1, 0.9)
    return [job(WHITE, (f, h, w)), job(WHITE, ([(f, h, x, "1"), (f, h, 1 - x, "2")], w))], lambda s: (off(*s) <= 0.3 and s[1].mud <= 1, off(*s))


@says("a premix does not know the order of its parts", 1.0, "and only ratios of shares count")
def _(rng):
    p = [(*ink(rng, ["dye", "hybrid", "pigment"]), rng.uniform(0.1, 0.6)) for _ in range(rng.choice([2, 3]))]; w = rng.choice(HAND)
    return [job(WHITE, (p, w)), job(WHITE, ([(f, h, 3 * x) for f, h, x in reversed(p)], w))], lambda s: (off(*s) <= 0.3 and abs(s[0].mud - s[1].mud) < 2 and s[0].kind == s[1].kind, off(*s))


@says("a premix with a hundredth of another is hardly changed", 0.95, "limit of the ratio, even of a strong ink (≤ 4 ΔE00)")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid", "pigment"]), ink(rng, "dye", *STRONG, "black"); w = rng.choice(HAND)
    return [job(WHITE, (*a, w)), job(WHITE, ([(*a, 0.99), (a[0], b[1], 0.01)], w))], lambda s: (off(*s) <= 4 and s[1].mud < 25, off(*s))


@says("one ink in two goes, wet, is one go", 0.97, "3 passes and 3 more while wet are 6 passes (≤ 1.5)")
def _(rng):
    a = ink(rng, ALL); t = rng.choice(["brush", "foam"]); n = rng.choice([2, 3, 4])
    w = {"tool": t, "load": "normal", "passes": n}; c = on(rng.choice(["smooth", "coated", "watercolour"]))
    return [job(c, (*a, of(w, 2 * n))), job(c, (*a, w), (*a, w, "wet"))], lambda s: (off(*s) <= 1.5, off(*s))


@says("a pad of twice the strength needs half the passes", 0.95, "dose is amount: strength 2 × 4 passes = 8 passes (≤ 2)")
def _(rng):
    f, h = ink(rng, ["dye", "hybrid", "pigment"]);
    base = {"wempa": 1, "cardstock": WHITE, "inks": {"a": {"formula": f, "swatch": {"colour": {"hex": h}}}}, "stack": [{"ink": "a", **of(B6, 8)}]}
    strong = {**base, "inks": {"a": {**base["inks"]["a"], "strength": 2}}, "stack": [{"ink": "a", **of(B6, 4)}]}
    return [base, strong], lambda s: (off(*s) <= 2, off(*s))


@says("coat on coat of one ink is no mud and loses no card", 0.99, "A over A over A over A: one hue (±25°), deeper or as deep, never muddy")
def _(rng):
    f, (h, _lch) = rng.choice(ALL), shade(rng, rng.choice(HUED)); w = rng.choice([B6, F4])
    return [job(WHITE, (f, h, w)), job(WHITE, *[(f, h, w)] * 4)], lambda s: (s[1].kind != "muddy" and s[1].L <= s[0].L + 0.3 and (turn(s[0].h, s[1].h) <= 25 or s[1].C < 10), turn(s[0].h, s[1].h))


# ---------------------------------------------------------------- curves


@says("the curve of passes never turns back", 0.97, "1, 2, 4, 8, 16 passes: never lighter than fewer (chalk may pale a dark coat by 0.6)")
def _(rng):
    a = ink(rng, ALL); t = rng.choice(["brush", "foam", "stamp", "brayer"]); c = on(rng.choice(["smooth", "coated", "glossy", "watercolour", "textured", "absorbent"]))
    return [job(c, (*a, {"tool": t, "load": "normal", "passes": n})) for n in (1, 2, 4, 8, 16)], lambda s: (all(y.L <= x.L + 0.6 for x, y in zip(s, s[1:])), max(y.L - x.L for x, y in zip(s, s[1:])))


@says("each pass adds less than the first", 0.9, "saturation: the change per pass from 8 to 16 is no more than from 1 to 2")
def _(rng):
    a = ink(rng, ALL, *STRONG, "navy", "wine", "brown"); t = rng.choice(["brush", "foam"]); c = on(rng.choice(["smooth", "watercolour", "textured"]))
    gap = lambda x, y: math.dist(x.lab, y.lab)
    return [job(c, (*a, {"tool": t, "load": "normal", "passes": n})) for n in (1, 2, 8, 16)], lambda s: (gap(s[2], s[3]) / 8 <= gap(s[0], s[1]) * 1.05, gap(s[2], s[3]) / 8 / gap(s[0], s[1]))


@says("pass by pass there is no jump", 0.98, "1 to 16 passes by halves: no step above 1.6 times the one before plus 0.4 ΔE00")
def _(rng):
    a, b = ink(rng, ALL), ink(rng, ALL); c = on(rng.choice(["smooth", "coated", "watercolour"])); below = rng.choice([[], [(*b, F4)]])
    def test(s):
        d = [off(x, y) for x, y in zip(s, s[1:])]
        worst = max(y - 1.6 * x for x, y in zip(d, d[1:]))
        return worst <= 0.4, worst
    return [job(c, *below, (*a, {"tool": "foam", "load": "normal", "passes": 1 + k / 2})) for k in range(20)], test


@says("sealed card gains less from more passes than smooth card", 0.9, "sealed card is full soon: 4 to 12 passes of dye foam gain at most half of what they gain on smooth card")
def _(rng):
    a = ink(rng, DYES, *STRONG, "navy", "wine"); s_ = rng.choice(["coated", "glossy"])
    return [job(on(s), (*a, of(F4, n))) for s in ("smooth", s_) for n in (4, 12)], lambda s: (math.dist(s[2].lab, s[3].lab) <= 0.5 * math.dist(s[0].lab, s[1].lab), math.dist(s[2].lab, s[3].lab) / math.dist(s[0].lab, s[1].lab))


@says("more water is always paler", 0.98, "dilution 0, 0.3, 0.6, 0.9: each lighter, the last at most half as far from the card as the first")
def _(rng):
    a = ink(rng, DYES, *STRONG); w = rng.choice([{**PB, "passes": 2}, of(B6, 6)])
    return [job(WHITE, (*a, {**w, "dilution": d})) for d in (0, 0.3, 0.6, 0.9)] + [job(WHITE)], lambda s: (all(y.L > x.L for x, y in zip(s[:3], s[1:4])) and off(s[3], s[4]) <= 0.55 * off(s[0], s[4]), off(s[3], s[4]) / off(s[0], s[4]))


@says("water keeps the hue family", 0.9, "thinned to a fifth an ink is a pale tint of its own hue (±30°; dyes do shift a little)")
def _(rng):
    a = ink(rng, DYES, *STRONG, "navy", "lime", "aqua")
    return [job(WHITE, (*a, of(B6, 6))), job(WHITE, (*a, of(B6, 6) | {"dilution": 0.8}))], lambda s: (turn(s[0].h, s[1].h) <= 30 and s[1].C < s[0].C + 1, turn(s[0].h, s[1].h))


@says("a roller's first roll is lighter than a print, a second deepens it", 0.9, "a second roll is how people deepen it")
def _(rng):
    a = ink(rng, ["dye", "hybrid"], *STRONG, "yellow", "navy")
    return [job(WHITE, (*a, BR)), job(WHITE, (*a, of(ST, 1))), job(WHITE, (*a, BR), (*a, BR))], lambda s: (s[0].L >= s[1].L and s[2].L <= s[0].L, s[0].L - s[2].L)


@says("a small change of a pale pigment is a small change over black", 0.95, "an ink's hiding does not turn on a unit of chroma: swatches about 1 apart stay within 5 over a black print")
def _(rng):
    L, C, h = rng.uniform(86, 94), rng.uniform(3, 10), rng.uniform(0, 360)
    h1 = hexed_of(to_rgb(L, C, h)) if to_rgb(L, C, h) else "#eedfe2"; h2 = hexed_of(to_rgb(L, max(0, C - 1.2), h) or to_rgb(86, 3, h))
    f = rng.choice(["pigment", "hybrid"]); w = of(F4, 4)
    return [job(WHITE, ("dye", "#161618", ST), (f, x, w)) for x in (h1, h2)], lambda s: (off(*s) <= 5, off(*s))


@says("a change of ratio moves mud smoothly", 0.95, "premix of opposites from 0 to 1 in 25 steps: no step of mud above 25, no step of colour above 9")
def _(rng):
    a, b = pair(rng, rng.choice(["dye", "hybrid", "pigment"]), *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "yellow"), ("coral", "aqua"), ("pink", "green")])); w = rng.choice([B6, F4])
    def test(s):
        m = max(abs(x.mud - y.mud) for x, y in zip(s, s[1:])); d = max(off(x, y) for x, y in zip(s, s[1:]))
        return m <= 25 and d <= 9, max(m, d * 25 / 9)
    return [job(WHITE, ([(*a, 1 - x), (*b, x)], w)) for x in [k / 25 for k in range(1, 25)]], test


def way_to(s, card_at=0, full=-1):
    """Share of the way from the card to the full coat, of each in between."""
    whole = math.dist(s[card_at].lab, s[full].lab)
    return [math.dist(s[card_at].lab, x.lab) / max(whole, 1e-6) for x in s[1:-1]]


@says("a twentieth of an impression is not the impression", 0.95, "any formula: at dose 0.05 at most half of the way (ΔE76) from card to swatch; a film that does not hide cannot be full at a twentieth")
def _(rng):
    f, h = ink(rng, ALL, *STRONG, "yellow", "navy", "lime", "aqua")
    return [job(WHITE), job(WHITE, (f, h, {"dose": 0.05})), job(WHITE, (f, h, {"dose": 1}))], lambda s: (way_to(s)[0] <= 0.5, way_to(s)[0])


@says("a light hand with a hybrid is light", 0.9, "a brush is a light tool: three light passes are at most 0.75 of the way to a print")
def _(rng):
    a = ink(rng, ["hybrid", "reactive_pigment", "pigment"], "orange", "pink", "blue", "teal", "green", "purple", "coral", "aqua")
    return [job(WHITE), job(WHITE, (*a, B3L)), job(WHITE, (*a, ST))], lambda s: (way_to(s)[0] <= 0.75, way_to(s)[0])


@says("a twenty-fifth of the opposite takes no half of the colour", 0.9, "premix 24 : 1 of inks of like depth: at most 0.4 of the chroma is lost, whatever the formula")
def _(rng):
    f = rng.choice(["dye", "hybrid", "reactive_pigment", "pigment"]); a, b = pair(rng, f, *rng.choice([("pink", "green"), ("coral", "teal"), ("orange", "blue"), ("red", "green"), ("yellow", "purple"), ("aqua", "red")]))
    return [job(WHITE, ([(*a, 1 - x), (*b, x)], F4)) for x in (0.0001, 0.04)], lambda s: (s[1].C >= 0.6 * s[0].C, 1 - s[1].C / s[0].C)


# ---------------------------------------------------------------- energy


@says("dyes on white card give back no more light than the card", 1.0, "energy: 1 to 5 layers, every band (+0.003)")
def _(rng):
    c = on(rng.choice(["smooth", "coated", "glossy", "watercolour", "absorbent"])); n = rng.randint(1, 5)
    return [job(c), job(c, *[(*ink(rng, DYES), rng.choice(HAND + [ST])) for _ in range(n)])], lambda s: (max(y - x for x, y in zip(s[0].R, s[1].R)) <= 0.003, max(y - x for x, y in zip(s[0].R, s[1].R)))


@says("what does not glow gives back between nothing and all", 1.0, "energy: any stack, card, treatment and look lies in 0–1 in every band")
def _(rng):
    c = card(rng.choice(["#f8f7f4", "#b99468", "#22335a", "#151517", "#f3c6cf"]), rng.choice(["smooth", "glossy", "watercolour"]))
    e = [(*ink(rng, ALL, *HUED, "white", "black"), rng.choice(HAND + [ST, dip, PB])) for _ in range(rng.randint(1, 4))] + rng.choice([[], [T("glaze")], [T("heat")], [T("spritz")]])
    return [job(c, *e, look=rng.choice(["dry", "wet"]))], lambda s: (min(s[0].R) >= 0 and max(s[0].R) <= 1, max(s[0].R))


@says("another dye takes light away in every band", 0.97, "on card that drinks a dye over dyes lightens no band (+0.006)")
def _(rng):
    c = on(rng.choice(["smooth", "watercolour", "absorbent"])); below = [(*ink(rng, DYES), rng.choice([B6, F4])) for _ in range(rng.randint(1, 3))]
    return [job(c, *below), job(c, *below, (*ink(rng, DYES), rng.choice([B6, F4])))], lambda s: (max(y - x for x, y in zip(s[0].R, s[1].R)) <= 0.006, max(y - x for x, y in zip(s[0].R, s[1].R)))


@says("a dye on coloured card lightens no band of the card", 0.97, "it can only take away what the card gives back (+0.008)")
def _(rng):
    c = card(rng.choice(["#a8dcc0", "#bcd7ee", "#b99468", "#f3c6cf", "#f5e08a", "#c9a0dc"])); a = ink(rng, DYES); w = rng.choice(HAND + [ST])
    return [job(c), job(c, (*a, w))], lambda s: (max(y - x for x, y in zip(s[0].R, s[1].R)) <= 0.008, max(y - x for x, y in zip(s[0].R, s[1].R)))


@says("a dye over a neon does not make it brighter", 0.97, "a filter over a glow lets less of it out, in every band (+0.02)")
def _(rng):
    n = ("fluorescent", shade(rng, rng.choice(["neon pink", "neon yellow", "neon orange", "neon green"]))[0]); a = ink(rng, "dye")
    w = rng.choice([B6, F4])
    return [job(WHITE, (*n, w)), job(WHITE, (*n, w), (*a, w))], lambda s: (max(y - x for x, y in zip(s[0].R, s[1].R)) <= 0.02, max(y - x for x, y in zip(s[0].R, s[1].R)))


# ---------------------------------------------------------------- hues of mixes


def hue_says(name, share, why, one, other, low, high, ways, formulas="dye", also=None):
    @says(name, share, why)
    def _(rng):
        a, b = pair(rng, formulas, one, other); w = rng.choice(ways)
        first, second = ((a, b) if rng.random() < 0.5 else (b, a))
        wet = ["wet"] if a[0] in ("hybrid", "pigment", "reactive_pigment") else []
        return [job(WHITE, (*first, w), (*second, w, *wet)), job(WHITE, (*a, w)), job(WHITE, (*b, w))], lambda s: (within(s[0].h, low, high) and (also is None or also(s)), s[0].h)


PRINTS = [B6, F4, ST]
hue_says("cyan over magenta is a blue or violet", 0.95, "process printing", "cyan", "magenta", 265, 335, PRINTS)
hue_says("magenta with yellow is a red or orange", 0.92, "process printing; equal doses", "magenta", "yellow", 12, 66, PRINTS)
hue_says("cyan with yellow is a green, and no mud", 0.95, "process printing", "cyan", "yellow", 115, 190, PRINTS, "dye", lambda s: s[0].kind != "muddy")
hue_says("pink with orange is a coral or orange, never dull", 0.95, "neighbours", "pink", "orange", 2, 62, HAND, ["dye", "hybrid"], lambda s: s[0].kind not in ("muddy", "muted"))
hue_says("pale pink with sky is a lilac, and no mud", 0.85, "soft dyes by a light hand", "pale pink", "sky", 255, 355, [B3L, B6], "dye", lambda s: s[0].L >= 62 and s[0].kind != "muddy")
hue_says("pale yellow with sky is a pale green", 0.9, "light, and no mud", "pale yellow", "sky", 105, 205, [B3L, B6], "dye", lambda s: s[0].L >= 72 and s[0].kind != "muddy")
hue_says("brown with blue is a dark neutral", 0.9, "a painter's grey: less than 0.62 of the parents' mean chroma and no lighter than the darker one", "brown", "blue", -1, 361, PRINTS, "dye", lambda s: s[0].C <= 0.62 * (s[1].C + s[2].C) / 2 and s[0].L <= min(s[1].L, s[2].L) + 2)
hue_says("grey makes any colour dusky and keeps its hue", 0.93, "less chroma than the colour alone, hue within 25°", STRONG + ["aqua", "lilac", "lime"], "grey", -1, 361, [B6, F4], ["dye", "hybrid"], lambda s: s[0].C <= s[1].C + 0.5 and (turn(s[0].h, s[1].h) <= 25 or s[0].C < 8))
hue_says("lime with aqua is a green, no mud", 0.93, "neighbours", "lime", "aqua", 110, 195, HAND, ["dye", "hybrid"], lambda s: s[0].kind != "muddy")
hue_says("teal with blue or purple stays cool and no mud", 0.95, "neighbours on the cool side", "teal", ["blue", "purple", "denim"], 195, 322, HAND, ["dye", "hybrid"], lambda s: s[0].kind != "muddy")
hue_says("neon pink with neon blue is a purple", 0.9, "a purple that people like: clean or muted", "neon pink", "neon blue", 280, 352, [B6, ST, F4], "fluorescent", lambda s: s[0].kind in ("clean", "muted"))
hue_says("pigments red and green worked wet are a brown or olive", 0.9, "opposites in paint: under 0.55 of the mean chroma", "red", "green", -1, 361, [F4, of(F4, 6)], ["pigment", "hybrid"], lambda s: s[0].C <= 0.55 * (s[1].C + s[2].C) / 2)
hue_says("a strong ink swallows an equal yellow", 0.95, "yellow is easily swallowed: the mix is nearer to the strong ink's lightness than to the yellow's", ["blue", "purple", "berry", "navy"], "yellow", -1, 361, [B6, F4, ST], "dye", lambda s: abs(s[0].L - s[1].L) < abs(s[0].L - s[2].L))


@says("cyan, magenta and yellow printed on one another are a dark neutral", 0.9, "a print of each: C* ≤ 28, L* ≤ 45, in any order within 5")
def _(rng):
    three = [("dye", shade(rng, f)[0]) for f in ("cyan", "magenta", "yellow")]; other = three[:]; rng.shuffle(other)
    return [job(WHITE, *[(*i, ST) for i in three]), job(WHITE, *[(*i, ST) for i in other])], lambda s: (s[0].C <= 28 and s[0].L <= 45 and off(*s) <= 5, s[0].C)


@says("three primaries in one premix are dull", 0.9, "red, yellow and blue, equal parts: under half of the mean chroma; muted or muddy")
def _(rng):
    f = rng.choice(["dye", "hybrid", "pigment"]); p = [(f, shade(rng, x)[0], 1 / 3) for x in ("red", "yellow", "blue")]; w = rng.choice([B6, F4])
    return [job(WHITE, (p, w))] + [job(WHITE, (*x[:2], w)) for x in p], lambda s: (s[0].C <= 0.5 * sum(x.C for x in s[1:]) / 3 and s[0].kind in ("muddy", "muted"), s[0].C)


@says("an opposite on top of two neighbours makes mud of them", 0.9, "yellow and orange are clean, with a blue on top they are muddier by 20 at least")
def _(rng):
    a, b, c = [("dye", shade(rng, f)[0]) for f in rng.choice([("yellow", "orange", "blue"), ("blue", "purple", "orange"), ("pink", "red", "green"), ("lime", "green", "red"), ("teal", "blue", "orange")])]; w = rng.choice([B6, F4])
    return [job(WHITE, (*a, w), (*b, w)), job(WHITE, (*a, w), (*b, w), (*c, w))], lambda s: (s[1].mud >= s[0].mud + 20, s[1].mud - s[0].mud)


@says("thinned opposites are quiet neutrals, not mud", 0.9, "blue and orange, red and green through three parts of water in five, light brush: L* ≥ 66 and not muddy")
def _(rng):
    a, b = pair(rng, DYES, *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "yellow"), ("coral", "teal")])); w = {**B3L, "dilution": 0.6}
    return [job(WHITE, (*a, w), (*b, w))], lambda s: (s[0].kind != "muddy" and s[0].L >= 66, s[0].mud)


@says("tone on tone is never mud", 0.99, "navy and sky, purple and lilac, brown and peach, berry and pink …: any formula, wet or dry")
def _(rng):
    one, other = rng.choice([("navy", "sky"), ("purple", "lilac"), ("brown", "peach"), ("berry", "pink"), ("teal", "aqua"), ("red", "blush"), ("green", "lime"), ("bottle", "mint"), ("wine", "pink"), ("dark brown", "tan")])
    a, b = pair(rng, ALL, one, other); w = rng.choice([B6, F4, ST]); wet = rng.choice([[], ["wet"]])
    return [job(WHITE, (*a, w), (*b, w, *wet))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("white by and by makes a ladder of tints", 0.9, "pigment with a fifth to four fifths of white: lighter each time, hue within 30°, never muddy")
def _(rng):
    f = rng.choice(["pigment", "hybrid", "reactive_pigment"]); h = shade(rng, rng.choice(STRONG + ["navy", "wine"]))[0]; v = shade(rng, "white")[0]
    return [job(WHITE, ([(f, h, 1 - x), (f, v, x)], of(F4, 5))) for x in (0.01, 0.2, 0.4, 0.6, 0.8)], lambda s: (all(y.L >= x.L - 0.1 for x, y in zip(s, s[1:])) and turn(s[0].h, s[3].h) <= 30 and all(x.kind != "muddy" for x in s), turn(s[0].h, s[3].h))


# ---------------------------------------------------------------- premix, layers, order


@says("dyes in layers are the premix", 0.9, "half and half in one go of 8 passes = 4 of each on drinking card (≤ 3)")
def _(rng):
    a, b = ink(rng, "dye"), ink(rng, "dye")
    return [job(WHITE, ([(*a, 0.5), (*b, 0.5)], of(B6, 8))), job(WHITE, (*a, of(B6, 4)), (*b, of(B6, 4)))], lambda s: (off(*s) <= 3, off(*s))


@says("wet or dry makes no odds to dyes", 0.9, "what soaks in lies there either way (≤ 3)")
def _(rng):
    a, b = ink(rng, DYES), ink(rng, DYES); c = on(rng.choice(["smooth", "watercolour"])); w = rng.choice([B6, F4])
    return [job(c, (*a, w), (*b, w)), job(c, (*a, w), (*b, w, "wet"))], lambda s: (off(*s) <= 3, off(*s))


@says("five dyes in any order are one colour", 0.9, "transparent layers commute on drinking card (≤ 4)")
def _(rng):
    five = [(*ink(rng, "dye"), of(B6, 3)) for _ in range(5)]; other = five[:]; rng.shuffle(other)
    return [job(WHITE, *five), job(WHITE, *other)], lambda s: (off(*s) <= 4, off(*s))


@says("hybrids worked wet do not know their order", 0.9, "either order gives one colour (≤ 5)")
def _(rng):
    a, b = ink(rng, "hybrid"), ink(rng, "hybrid"); w = rng.choice([F4, of(F4, 6), B6]); c = on(rng.choice(["smooth", "watercolour"]))
    return [job(c, (*a, w), (*b, w, "wet")), job(c, (*b, w), (*a, w, "wet"))], lambda s: (off(*s) <= 5, off(*s))


@says("films: order counts more the more pigment there is", 0.9, "two orders laid dry differ least of dyes, then hybrids, then pigments (+1)")
def _(rng):
    x, y = shade(rng, rng.choice(HUED))[0], shade(rng, rng.choice(HUED))[0]
    js = [job(WHITE, (f, p, F4), (f, q, F4)) for f in ("dye", "hybrid", "pigment") for p, q in ((x, y), (y, x))]
    return js, lambda s: (off(s[0], s[1]) <= off(s[2], s[3]) + 1 and off(s[2], s[3]) <= off(s[4], s[5]) + 1, off(s[4], s[5]) - off(s[2], s[3]))


@says("a premix of pigments lies between the two orders", 0.9, "on top a pigment is nearer to itself than in a premix of the same amounts")
def _(rng):
    a, b = ink(rng, "pigment"), ink(rng, "pigment")
    return [job(WHITE, ([(*a, 0.5), (*b, 0.5)], of(F4, 6))), job(WHITE, (*b, of(F4, 3)), (*a, of(F4, 3))), job(WHITE, (*a, of(F4, 6)))], lambda s: (off(s[1], s[2]) <= off(s[0], s[2]) + 0.5, off(s[0], s[2]) - off(s[1], s[2]))


@says("what dries between shows more of the top than what is mixed wet", 0.9, "hybrid or pigment over another: nearer to itself over dry (twins apart)")
def _(rng):
    f = rng.choice(["hybrid", "pigment", "reactive_pigment"]); a, b = ink(rng, f), ink(rng, f)
    return [job(WHITE, (*a, F4), (*b, F4)), job(WHITE, (*a, F4), (*b, F4, "wet")), job(WHITE, (*b, F4))], lambda s: (None if off(s[1], s[2]) < 5 else off(s[0], s[2]) <= off(s[1], s[2]) + 0.3, off(s[1], s[2]) - off(s[0], s[2]))


@says("three coats of pigment hide the card", 0.88, "over kraft and over white they come within 7")
def _(rng):
    p = ink(rng, "pigment", *STRONG, *SOFT, "yellow", "white"); kraft = card("#b99468")
    return [job(c, *[(*p, F4)] * 3) for c in (WHITE, kraft)], lambda s: (off(*s) <= 7, off(*s))


@says("on dark card dye, hybrid, pigment show in that order", 0.95, "the more film the lighter (a pale ink over navy, slate or black)")
def _(rng):
    h = shade(rng, rng.choice(["pink", "aqua", "yellow", "lilac", "mint", "coral", "white"]))[0]; c = card(rng.choice(["#22304f", "#3d4653", "#1a1a1c"]))
    return [job(c, (f, h, of(F4, 5))) for f in ("dye", "hybrid", "pigment")], lambda s: (s[0].L <= s[1].L + 0.3 and s[1].L <= s[2].L + 0.3 and s[2].L - s[0].L >= 10, s[2].L - s[0].L)


@says("a reactive dye laid dry looks like a plain dye", 0.97, "they differ under water only (≤ 1)")
def _(rng):
    x, y = shade(rng, rng.choice(HUED))[0], shade(rng, rng.choice(HUED))[0]; w = rng.choice(HAND)
    return [job(WHITE, (f, x, w), (f, y, w)) for f in DYES], lambda s: (off(*s) <= 1 and s[0].kind == s[1].kind, off(*s))
