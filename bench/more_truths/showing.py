"""Looks, treatments, cards, what the verdict says, and warnings that people rely on."""
from __future__ import annotations

import math, re, statistics

from bench.more_truths.asking import *


# ---------------------------------------------------------------- looks and treatments


@says("the verdict is that of the dry look", 1.0, "the same kind and mud asked wet or dry")
def _(rng):
    a, b = ink(rng, ALL), ink(rng, ALL); w = rng.choice(HAND)
    return [job(WHITE, (*a, w), (*b, w), look=l) for l in ("dry", "wet")], lambda s: (s[0].kind == s[1].kind and abs(s[0].mud - s[1].mud) < 0.5, abs(s[0].mud - s[1].mud))


@says("drying lightens but does not change the colour", 0.95, "dry-back: wet to dry is 0.4 to 14 ΔE00, hue within 20°, and the wet one is not paler in chroma by more than 2")
def _(rng):
    a = ink(rng, ["dye", "reactive_dye", "hybrid", "reactive_pigment"], *STRONG, "lime", "navy", "lilac"); w = rng.choice([F4, ST])
    return [job(WHITE, (*a, w), look="wet"), job(WHITE, (*a, w))], lambda s: (0.4 <= off(*s) <= 14 and (turn(s[0].h, s[1].h) <= 20 or s[1].C < 8) and s[0].C >= s[1].C - 2, off(*s))


@says("gloss changes less than smooth card as it dries", 0.9, "no pores, nothing to fill")
def _(rng):
    a = ink(rng, DYES, *STRONG)
    return [job(on(c), (*a, F4), look=l) for c in ("glossy", "smooth") for l in ("wet", "dry")], lambda s: (off(s[0], s[1]) <= off(s[2], s[3]) + 0.3, off(s[2], s[3]) - off(s[0], s[1]))


@says("a second topcoat hardly adds to the first", 0.95, "pores are filled and the film is clear already: it changes at most 0.6 of what the first did, or 1.5")
def _(rng):
    a, b = ink(rng, ["hybrid", "dye", "reactive_pigment"]), ink(rng, ["hybrid", "dye"]); e = [(*a, F4), (*b, F4)]
    return [job(WHITE, *e, *[T("glaze")] * n) for n in (0, 1, 2)], lambda s: (off(s[1], s[2]) <= max(1.5, 0.6 * off(s[0], s[1])), off(s[1], s[2]) / max(off(s[0], s[1]), 0.01))


@says("a topcoat never lightens", 0.97, "any formula, any of one to three layers (+0.3)")
def _(rng):
    e = [(*ink(rng, ALL), rng.choice(HAND)) for _ in range(rng.randint(1, 3))]
    return [job(WHITE, *e), job(WHITE, *e, T("glaze"))], lambda s: (s[1].L <= s[0].L + 0.3, s[1].L - s[0].L)


@says("a sealed panel takes no drops", 0.95, "a topcoat seals: water after a topcoat lifts at most a third of what it lifts without")
def _(rng):
    a = ink(rng, ["reactive_dye", "reactive_pigment"], *STRONG)
    return [job(WHITE, (*a, F4), T("spritz")), job(WHITE, (*a, F4), T("glaze"), T("spritz"))], lambda s: (s[1].drops is None or abs(s[1].drops[0] - s[1].L) <= max(1.5, (s[0].drops[0] - s[0].L) / 3), 0 if s[1].drops is None else s[1].drops[0] - s[1].L)


@says("what is dry does not blot off", 0.95, "blotting after heat takes nothing (≤ 0.7)")
def _(rng):
    a = ink(rng, ALL, *STRONG)
    return [job(WHITE, (*a, F4), T("heat")), job(WHITE, (*a, F4), T("heat"), T("blot"))], lambda s: (off(*s) <= 0.7, off(*s))


@says("blotting pales and never darkens", 0.97, "it takes some of what is wet, and keeps the hue (±15°)")
def _(rng):
    a = ink(rng, ALL, *STRONG)
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), T("blot"))], lambda s: (s[1].L >= s[0].L - 0.1 and turn(s[0].h, s[1].h) <= 15 and off(*s) <= 15, off(*s))


@says("heating again and again does not bleach", 0.95, "three rounds of a heat tool stay within 4")
def _(rng):
    a = ink(rng, ["dye", "hybrid", "pigment"], *STRONG)
    return [job(WHITE, (*a, F4), *[T("heat")] * n) for n in (0, 3)], lambda s: (off(*s) <= 4, off(*s))


@says("drops are no lighter than the card, and the field stays", 0.98, "water uncovers the card at most")
def _(rng):
    e = [(*ink(rng, ["reactive_dye", "reactive_pigment", "dye", "hybrid"], *STRONG), F4) for _ in range(rng.randint(1, 2))]; c = card(rng.choice(["#f8f7f4", "#f3c6cf", "#bcd7ee"]))
    return [job(c), job(c, *e), job(c, *e, T("spritz"))], lambda s: (s[2].drops[0] <= s[0].L + 0.5 + 4 * any(x[0] == "hybrid" for x in e) and off(s[1], s[2]) <= 0.3, s[2].drops[0] - s[0].L)


@says("water wants depth of a reactive dye", 0.95, "depth first, then water: the drops of eight passes stand out more than of one")
def _(rng):
    a = ink(rng, "reactive_dye", *STRONG)
    gap = lambda r: r.drops[0] - r.L
    return [job(WHITE, (*a, of(F4, n)), T("spritz")) for n in (1, 8)], lambda s: (gap(s[1]) > gap(s[0]), gap(s[1]) - gap(s[0]))


@says("a hybrid's drops are milky", 0.9, "lighter, and less saturated (C*/L*) than the field")
def _(rng):
    a = ink(rng, "hybrid", *STRONG, "navy")
    return [job(WHITE, (*a, of(F4, 6)), T("spritz"))], lambda s: (s[0].drops[0] > s[0].L + 2 and math.hypot(*s[0].drops[1:]) / s[0].drops[0] <= s[0].C / s[0].L, math.hypot(*s[0].drops[1:]) - s[0].C)


# ---------------------------------------------------------------- cards


@says("the more white below the nearer to white card", 0.95, "barrier of 2, 4, 8 passes of foam on coloured card: each as near or nearer (+0.4)")
def _(rng):
    a, v = ink(rng, "dye", *STRONG), ("pigment", shade(rng, "white")[0]); c = card(rng.choice(["#a8dcc0", "#bcd7ee", "#b99468", "#f5e08a", "#7d8a94"]))
    return [job(WHITE, (*a, B6))] + [job(c, (*v, of(F4, n)), (*a, B6)) for n in (0.5, 2, 4, 8)], lambda s: (all(off(y, s[0]) <= off(x, s[0]) + 0.4 for x, y in zip(s[1:], s[2:])), off(s[4], s[0]))


@says("white under a dye on white card changes little", 0.9, "a barrier where there is nothing to keep out (≤ 6)")
def _(rng):
    a, v = ink(rng, "dye"), ("pigment", shade(rng, "white")[0])
    return [job(WHITE, (*a, B6)), job(WHITE, (*v, F4), (*a, B6))], lambda s: (off(*s) <= 6 and s[1].kind in ("clean", "no_new_colour"), off(*s))


@says("an opposite dye on coloured card is dulled", 0.9, "the card mixes in: under 0.75 of the chroma on white; said in a reason where it is under half")
def _(rng):
    hexed, f = rng.choice([("#a8dcc0", ["coral", "pink", "red"]), ("#bcd7ee", ["orange", "coral", "peach"]), ("#f3c6cf", ["green", "teal", "aqua"]), ("#f5e08a", ["purple", "blue", "lilac"]), ("#b99468", ["blue", "sky", "aqua"])])
    a = ink(rng, "dye", *f); w = rng.choice([B6, F4])
    return [job(card(hexed), (*a, w)), job(WHITE, (*a, w))], lambda s: (s[0].C <= 0.75 * s[1].C or turn(s[0].h, s[1].h) > 35, s[0].C / s[1].C)


@says("on coloured card a dye lies where card and dye lie on white", 0.85, "a mint dye panel on white takes a coral like mint card does (≤ 6): the card is one more layer")
def _(rng):
    h, _l = shade(rng, rng.choice(["mint", "sky", "pale pink", "pale yellow", "blush", "lilac"])); a = ink(rng, "dye", *STRONG)
    # The card has the colour that one pad impression of the dye has on white card.
    return [job(card(h), (*a, B6)), job(WHITE, ("dye", h, {"dose": 1}), (*a, B6))], lambda s: (off(*s) <= 6, off(*s))


# ---------------------------------------------------------------- what the verdict says


@says("muddy is said where mud is 50 or more and only there", 0.99, "the contract's line")
def _(rng):
    e = [(*ink(rng, ALL), rng.choice(HAND + [ST])) for _ in range(rng.randint(2, 3))]
    return [job(WHITE, *e)], lambda s: ((s[0].kind == "muddy") == (s[0].mud >= 50) and 0 <= s[0].mud <= 100 and 0 <= s[0].chance <= 1, s[0].mud)


@says("chance and mud agree", 0.97, "mud of 5 or less has a chance below a half, of 90 or more one above")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid"], STRONG, STRONG + ["yellow", "brown", "teal"]); w = rng.choice(HAND)
    return [job(WHITE, (*a, w), (*b, w))], lambda s: ((s[0].mud > 5 or s[0].chance < 0.5) and (s[0].mud < 90 or s[0].chance > 0.5), s[0].chance)


@says("a pale ink over black or dark brown is called swamped", 0.85, "nothing of it shows: the verdict says so")
def _(rng):
    d, p = ink(rng, "dye", "black", "dark brown", "navy"), ink(rng, DYES, "pale yellow", "peach", "blush", "sky", "pale pink")
    return [job(WHITE, (*d, ST), (*p, B6))], lambda s: (s[0].kind in ("swamped", "no_new_colour"), s[0].mud)


@says("patches add up to the whole", 1.0, "shares sum to 1 and their mean light is the colour")
def _(rng):
    e = [(*ink(rng, ["hybrid", "dye"]), rng.choice([dip, of(dip, 2), PB])) for _ in range(rng.randint(1, 3))]
    def test(s):
        p = s[0].raw["patches"]
        if not p: return False, 9
        mean = [sum(x["share"] * x["colour"]["spectrum"][k] for x in p) for k in range(36)]
        worst = max(abs(x - y) for x, y in zip(mean, s[0].R))
        return abs(sum(x["share"] for x in p) - 1) < 6e-3 and worst < 0.01, worst
    return [job(WHITE, *e)], test


def given(code, name, share, why, sampler, follow):
    """A statement on the text of a reason, asked where it is given; other samples count as agreeing only if too few give it."""
    @says(name, share, why)
    def _(rng):
        jobs = sampler(rng)
        def test(s):
            said = [text for c, text in s[0].texts if c == code]
            if not said: return None, 0
            return follow(jobs, s, said)
        return jobs, test


def three_ways(rng):
    """A two-ink overlap, its inks alone on the same card, and all on white."""
    a, b = ink(rng, ["dye", "hybrid", "pigment"]), ink(rng, ["dye", "hybrid", "pigment"])
    if rng.random() < 0.5: a, b = pair(rng, ["dye", "hybrid"], *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "golden"), ("coral", "teal"), ("pink", "green"), ("brown", "denim")]))
    w = rng.choice([B6, F4, ST]); c = card(rng.choice(["#f8f7f4"] * 3 + ["#a8dcc0", "#b99468", "#f3c6cf", "#bcd7ee"]))
    wet = rng.choice([[], [], ["wet"]])
    return [job(c, (*a, w), (*b, w, *wet)), job(c, (*a, w)), job(c, (*b, w)), job(WHITE, (*a, w), (*b, w, *wet)), job(WHITE, (*a, w)), job(WHITE, (*b, w))]


def six(c, a, b, w, wet=()):
    return [job(c, (*a, w), (*b, w, *wet)), job(c, (*a, w)), job(c, (*b, w)), job(WHITE, (*a, w), (*b, w, *wet)), job(WHITE, (*a, w)), job(WHITE, (*b, w))]


def on_opposite_card(rng):
    """Two neighbours, dyes or hybrids, on a card of the other side of the circle."""
    hexed, f = rng.choice([("#a8dcc0", ["coral", "pink", "red", "orange"]), ("#bcd7ee", ["orange", "coral", "golden"]), ("#f3c6cf", ["green", "teal", "aqua"]), ("#f5e08a", ["purple", "blue", "lilac"]), ("#b99468", ["blue", "sky", "aqua"])])
    one, other = rng.sample(f, 2)
    return six(card(hexed), *pair(rng, ["dye", "hybrid"], one, other), rng.choice([B6, F4]))


def pigment_on_top(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, "pigment", *SOFT, *STRONG, "white")
    return six(card(rng.choice(["#f8f7f4", "#b99468", "#bcd7ee"])), a, b, rng.choice([F4, of(F4, 6), ST]))


BANDS = {"blue": range(4, 12), "green": range(12, 21), "red": range(22, 31)}  # 420–490, 500–580, 600–680 nm


def soaks(jobs, s, said):
    keys = list(jobs[0]["inks"])
    alone = {keys[0]: s[4], keys[-1]: s[5]}
    for text in said:
        m = re.match(r"(\S+) takes the (.+) out of (\S+)\.$", text)
        if not m: continue
        for word in m[2].split(" and "):
            mean = lambda r: sum(r.R[k] for k in BANDS[word]) / len(BANDS[word])
            taker, giver = mean(alone[m[1]]), mean(alone[m[3]])
            if giver < 1.4 * taker: return False, giver / taker, text
    return True, 1


given("soaks_up", "'A takes the blue out of B' is so", 0.95, "A alone gives back much less of that third of the light than B alone", three_ways, soaks)

PART = {"A little": 0.1, "About a quarter": 0.25, "About a third": 0.33, "About half": 0.5, "About two thirds": 0.67, "About three quarters": 0.75, "Most": 0.9, "Nearly all": 1.0}


def lost(jobs, s, said):
    word = next(p for p in PART if said[0].startswith(p))
    real = 1 - s[3].C / ((s[4].C + s[5].C) / 2)
    return abs(PART[word] - real) <= 0.17, PART[word] - real, said[0]


given("chroma_lost", "'about half of the brightness is gone' is so", 0.9, "against the mean chroma of both alone on white, within 0.17", three_ways, lost)


def dulled(jobs, s, said):
    m = re.search(r"takes (.+) of the colour away", said[0])
    word = next(v for p, v in PART.items() if p.lower() == m[1])
    real = 1 - s[0].C * math.cos(math.radians(s[0].h - s[3].h)) / s[3].C
    return abs(word - min(1, real)) <= 0.17, word - real, said[0]


def covers(jobs, s, said):
    name = said[0].split(" sits on top")[0]
    top, below = (s[2], s[1]) if jobs[0]["stack"][1]["ink"] == name else (s[1], s[2])
    return off(s[0], top) <= 10 and off(s[0], top) < off(s[0], below), off(s[0], top), said[0]


def stronger(jobs, s, said):
    name = said[0].split(" is much stronger")[0]
    strong, weak = (s[1], s[2]) if jobs[0]["stack"][0]["ink"] == name else (s[2], s[1])
    return off(s[0], strong) < off(s[0], weak), off(s[0], weak) - off(s[0], strong), said[0]


given("swamped_by_ink", "'A is much stronger' is so", 0.97, "the result is nearer to A alone than to the other alone", three_ways, stronger)


@says("a fix does what it says", 0.97, "every fix's stack predicted anew has the mud that was told (±1), and at least 4 less than before")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid"], *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "yellow"), ("teal", "red"), ("pink", "green"), ("brown", "blue")])); w = rng.choice([B6, F4, ST]); wet = rng.choice([[], ["wet"]]); c = card(rng.choice(["#f8f7f4", "#f8f7f4", "#a8dcc0"]))
    base = job(c, (*a, w), (*b, w, *wet), fixes=True)
    def test(s):
        fixes = [f for f in s[0].fixes if f.get("stack")]
        if not fixes: return None, 0
        anew = [{"wempa": 1, "cardstock": f.get("cardstock") or c, "inks": f.get("inks") or base["inks"], "stack": f["stack"]} for f in fixes]
        def again(r):
            worst = max(abs(x.mud - f["mud"]) for x, f in zip(r, fixes))
            gain = min(s[0].mud - x.mud for x in r)
            return worst <= 1 and gain >= 4, worst, [(f["code"], f["mud"], x.mud) for x, f in zip(r, fixes)]
        return ("then", anew, again)
    return [base], test


@says("white under everything on white card does not clean mud", 0.95, "a white pigment below two opposites on white card: where the colour stays within 2 mud stays within 10")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid", "pigment"], *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "yellow"), ("teal", "red"), ("brown", "blue")])); w = rng.choice([B6, F4]); v = ("pigment", shade(rng, "white")[0])
    return [job(WHITE, (*a, w), (*b, w)), job(WHITE, (*v, of(B6, 4)), (*a, w), (*b, w))], lambda s: (None if off(*s) > 2 else abs(s[0].mud - s[1].mud) <= 10, abs(s[0].mud - s[1].mud))


def goes(rng, c, laid, n):
    """The job, and n goes of a hand that varies: passes one more or less, a load a step wetter or drier, inks within 0.9."""
    loads = ["blotted", "light", "normal", "juicy"]
    js = [job(c, *[(f, h, w, *wet) for f, h, _l, w, wet in laid])]
    for _ in range(n):
        e = []
        for f, h, lch, w, wet in laid:
            e.append((f, nudged(rng, lch, 0.9) or h, {**w, "load": loads[loads.index(w["load"]) + rng.choice([-1, 0, 1])], "passes": max(1, w["passes"] + rng.choice([-1, 0, 1]))}, *wet))
        js.append(job(c, *e))
    return js


@says("the margin is honest for a hand that varies", 0.8, "2 to 4 layers, wet or dry, white or coloured card; passes ± 1, load ± a step, inks ± 0.9: of 14 goes at least 35 % lie within it, and it is no wider than 2.6 times their rms miss")
def _(rng):
    c = card(rng.choice(["#f8f7f4", "#b99468", "#a8dcc0"]), rng.choice(["smooth", "coated", "watercolour"])); laid = []
    for k in range(rng.randint(2, 4)):
        h, lch = shade(rng, rng.choice(HUED)); laid.append((rng.choice(["dye", "hybrid", "pigment"]), h, lch, rng.choice([of(B6, rng.randint(3, 8)), of(F4, rng.randint(2, 6))]), rng.choice([[], ["wet"]]) if k else []))
    def test(s):
        inside = sum(off(s[0], x) <= s[0].margin for x in s[1:]) / 14
        rms = math.sqrt(statistics.mean([off(s[0], x) ** 2 for x in s[1:]]))
        return inside >= 0.35 and s[0].margin <= 2.6 * rms, s[0].margin / rms
    return goes(rng, c, laid, 14), test


@says("margins taken together hold about two thirds", 0.8, "the same, of one dip or wet paintbrush over a blend: 35 % of goes at least lie within")
def _(rng):
    a, b = (rng.choice(["hybrid", "dye"]), shade(rng, rng.choice(HUED))), (rng.choice(["hybrid", "dye"]), shade(rng, rng.choice(STRONG)))
    w = rng.choice([dip, of(dip, 2), PB]); c = on(rng.choice(["glossy", "watercolour", "smooth"]))
    js = [job(c, (a[0], a[1][0], B6), (b[0], b[1][0], w))]
    for _ in range(14):
        load = rng.choice(["light", "normal", "normal", "normal", "juicy"]); n = max(1, w["passes"] + rng.choice([0, 0, 0, 1]))
        js.append(job(c, (a[0], a[1][0], of(B6, 6 * math.exp(rng.gauss(0, 0.2)))), (b[0], b[1][0], {**w, "load": load, "passes": n})))
    def test(s):
        inside = sum(off(s[0], x) <= s[0].margin for x in s[1:]) / 14
        return inside >= 0.35, inside
    return js, test


@says("less known is less certain", 0.97, "a lid's colour has a wider margin than a measured one")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, ["dye", "hybrid"])
    def known(k):
        j = job(WHITE, (*a, B6), (*b, F4))
        for i in j["inks"].values(): i["swatch"]["known"] = k
        return j
    return [known("lid"), known("typed"), known("measured")], lambda s: (s[0].margin > s[1].margin > s[2].margin, s[0].margin - s[2].margin)


@says("white in between keeps opposites apart", 0.85, "orange dye, two coats of white pigment, blue dye: no mud, and nearer to blue on white than to blue on orange")
def _(rng):
    a, b = pair(rng, "dye", *rng.choice([("orange", "blue"), ("red", "green"), ("purple", "yellow"), ("green", "pink")])); v = ("pigment", shade(rng, "white")[0])
    return [job(WHITE, (*a, B6), (*v, F4), (*v, F4), (*b, B6)), job(WHITE, (*a, B6), (*b, B6)), job(WHITE, (*b, B6))], lambda s: (s[0].kind != "muddy" and off(s[0], s[2]) < off(s[0], s[1]), off(s[0], s[2]))


@says("what has been heated cannot be worked wet", 0.97, "after heat 'over wet' is over dry (≤ 0.5)")
def _(rng):
    a, b = ink(rng, ["hybrid", "pigment", "reactive_pigment"]), ink(rng, ["hybrid", "dye", "pigment"])
    return [job(WHITE, (*a, F4), T("heat"), (*b, F4, *wet)) for wet in ([], ["wet"])], lambda s: (off(*s) <= 0.5, off(*s))


@says("the verdict does not turn on the lamp's white", 0.93, "D65 and D50: the same kind, mud within 30")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, ["dye", "hybrid"]); w = rng.choice(HAND)
    return [job(WHITE, (*a, w), (*b, w), illuminant=i) for i in ("D65", "D50")], lambda s: (s[0].kind == s[1].kind and abs(s[0].mud - s[1].mud) <= 30, abs(s[0].mud - s[1].mud))


HUE_OF = [(("teal", "turquoise", "aqua"), 160, 240), (("green", "olive", "lime", "mint", "sage", "khaki"), 85, 205), (("periwinkle", "blue", "denim", "navy", "indigo"), 200, 312), (("purple", "violet", "lilac", "plum", "mauve", "orchid", "magenta"), 282, 375), (("pink", "raspberry", "wine"), 330, 400), (("orange-red",), 25, 60), (("coral", "red", "terracotta"), 355, 55 + 360), (("orange", "peach", "rust", "brown", "tan", "beige"), 20, 100), (("yellow", "gold", "mustard", "cream"), 70, 125)]


@says("the name told is the name of the colour", 0.97, "in 'blend cleanly to a …' and 'what is left is a …' the hue word agrees with hue (C* 15 and more)")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, ["dye", "hybrid"]); w = rng.choice(HAND + [ST])
    def test(s):
        text = s[0].reasons.get("keeps_promise") or s[0].reasons.get("near_mud")
        if not text or s[0].C < 15: return None, 0
        name = text.rstrip(".").split(" to a" if "cleanly" in text else "left is a")[-1].lstrip("n").strip()
        for words, low, high in HUE_OF:
            if any(x in name for x in words): return within(s[0].h, low, high), s[0].h, name
        return None, 0
    return [job(WHITE, (*a, w), (*b, w))], test


# ---------------------------------------------------------------- warnings people rely on

OPPOSITE_CARDS = [("#a8dcc0", ["coral", "orange", "red", "pink"]), ("#bcd7ee", ["orange", "golden", "coral"]), ("#f3c6cf", ["green", "teal", "lime"]), ("#f5e08a", ["purple", "blue"]), ("#b7d8a0", ["red", "pink", "berry"])]


@says("a strong dye on card of the opposite colour is warned of", 0.9, "an everyday hand: where the card takes two fifths of the chroma or more it is muddy or muted with a reason that names the card, and white below is offered")
def _(rng):
    hexed, f = rng.choice(OPPOSITE_CARDS); a = ink(rng, DYES, *f); w = rng.choice([B6, F4])
    j = job(card(hexed), (*a, w), fixes=True)
    return [j, job(WHITE, (*a, w))], lambda s: ((s[0].kind in ("muddy", "muted") and any(x["code"] in ("barrier", "other_card") for x in s[0].fixes)) if s[0].C <= 0.6 * s[1].C else None, s[0].mud)


@says("strong opposites by an everyday hand are mud", 0.85, "blue and orange, red and green, purple and yellow dyes, brush of six or foam of four each, wet or dry, white card; a dusky rose or mauve apart")
def _(rng):
    a, b = pair(rng, DYES, *rng.choice([("blue", "orange"), ("red", "green"), ("purple", "golden"), ("teal", "red")])); w = rng.choice([B6, F4]); wet = rng.choice([[], ["wet"]])
    return [job(WHITE, (*a, w), (*b, w, *wet))], lambda s: (None if within(s[0].h, 285, 388) and s[0].C >= 8 and s[0].L >= 36 else s[0].kind == "muddy", s[0].mud)


@says("a few degrees of a red's hue do not turn the verdict over", 0.9, "a red of hue 18 to 42 by 3° with a cool middling ink, wet: no step of mud above 25")
def _(rng):
    f = rng.choice(["hybrid", "dye"]); L, C, _h = shade(rng, "coral")[1]; b = ink(rng, f, "denim", "sky", "aqua", "blue"); w = rng.choice([B6, of(B6, 4)])
    reds = [hexed_of(to_rgb(L, C, h) or to_rgb(L, C * 0.85, h) or to_rgb(L, C * 0.7, h)) for h in range(18, 43, 3)]
    def test(s):
        m = max(abs(x.mud - y.mud) for x, y in zip(s, s[1:]))
        return m <= 25, m
    return [job(WHITE, (f, r, w), (*b, w, "wet")) for r in reds], test


@says("a light coat rubbed on sealed card is no deeper than on smooth", 0.85, "foam or brush, a light hand, dye: sealed card takes less from a rubbing tool (at most 5 L* darker)")
def _(rng):
    a = ink(rng, DYES, *STRONG, "navy"); w = rng.choice([{"tool": "foam", "load": "light", "passes": 2}, B3L, {"tool": "foam", "load": "normal", "passes": 2}])
    return [job(on(rng.choice(["coated", "glossy"])), (*a, w)), job(WHITE, (*a, w))], lambda s: (s[0].L >= s[1].L - 5, s[0].L - s[1].L)


@says("a hybrid on gloss clouds as it dries and a topcoat brings it back", 0.85, "dipped or foamed, one to three colours: the dry look is duller than the wet by 3 at least, and a topcoat gives half of that back")
def _(rng):
    a, b = ink(rng, "hybrid", *STRONG), ink(rng, "hybrid", *STRONG); w = rng.choice([dip, {**dip, "dilution": 0.5}, F4])
    e = [(*a, w), (*b, w)][: rng.randint(1, 2)]; g = on("glossy")
    return [job(g, *e, look="wet"), job(g, *e), job(g, *e, T("glaze"))], lambda s: (off(s[0], s[1]) >= 3 and off(s[0], s[2]) <= 0.6 * off(s[0], s[1]), off(s[0], s[1]))


@says("white over a dry blend is no dirty white", 0.9, "two to four passes of white foam over any dye: light, neither muddy nor muted")
def _(rng):
    a, v = ink(rng, DYES, *STRONG, "yellow", "golden"), ("pigment", shade(rng, "white")[0])
    return [job(on(rng.choice(["smooth", "watercolour"])), (*a, F4), (*v, of(F4, rng.choice([2, 3, 4]))))], lambda s: (s[0].L >= 80 and s[0].kind in ("clean", "swamped", "no_new_colour"), s[0].L)


@says("drops on a reactive pigment are lighter in its own hue", 0.9, "foam of six: lighter by 8 L* at least, hue within 25°")
def _(rng):
    a = ink(rng, "reactive_pigment", *STRONG, "navy")
    return [job(WHITE, (*a, of(F4, 6)), T("spritz"))], lambda s: (s[0].drops[0] >= s[0].L + 8 and turn(math.degrees(math.atan2(s[0].drops[2], s[0].drops[1])) % 360, s[0].h) <= 25, s[0].drops[0] - s[0].L)
