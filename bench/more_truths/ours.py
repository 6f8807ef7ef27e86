"""Statements of our own on what the others leave open: lids, near-white and toned card, fixes, names, continuity."""
from __future__ import annotations

from bench.more_truths.asking import *

CREAM, PALE_GREY = card("#f6f0e2"), card("#d9dadb")
# A pale card, and families of its own side of the circle.
SAME_SIDE = [("#f3c6cf", ["pink", "coral", "red"]), ("#bcd7ee", ["blue", "denim", "sky"]), ("#a8dcc0", ["teal", "green", "aqua"]), ("#f5e08a", ["yellow", "golden", "orange"])]
OPPOSITES = [("blue", "orange"), ("red", "green"), ("purple", "golden"), ("teal", "red")]


def known(job, **swatch):
    """The same job where more is known of how each ink's colour was seen."""
    for one_ink in job["inks"].values(): one_ink["swatch"].update(swatch)
    return job


def between(one, other, part):
    """A colour in hex some part of the way from one to another."""
    return hexed_of([(1 - part) * int(one[i : i + 2], 16) / 255 + part * int(other[i : i + 2], 16) / 255 for i in (1, 3, 5)])


def largest_step(seen): return max(abs(x.mud - y.mud) for x, y in zip(seen, seen[1:]))
def steepest(seen): return max((abs(x.mud - y.mud) - 5) / max(off(x, y), 0.1) for x, y in zip(seen, seen[1:]))


@says("a lid shows an everyday blend", 0.95, "a colour off a lid, brushed six times on white card, is that colour (≤ 4)")
def _(rng):
    f, h = ink(rng, ["dye", "hybrid"])
    return [known(job(WHITE, (f, h, B6)), known="lid")], lambda s: (de00(s[0].lab, lab_of(h)) <= 4, de00(s[0].lab, lab_of(h)))


@says("a print is deeper than the lid", 0.95, "an ink known by its lid, stamped once: darker, or less vivid in a film that is full")
def _(rng):
    a = ink(rng, ["dye", "hybrid"], *STRONG)
    return [known(job(WHITE, (*a, w)), known="lid") for w in (B6, ST)], lambda s: (s[1].L < s[0].L - 1 or s[1].C < s[0].C - 2, s[0].L - s[1].L)


@says("cream card judges as white card does", 0.95, "one ink on cream is neither muddy nor spoilt")
def _(rng):
    a = ink(rng, ["dye", "hybrid"], *HUED); w = rng.choice(HAND)
    return [job(CREAM, (*a, w))], lambda s: (s[0].kind != "muddy" and s[0].mud < 40, s[0].mud)


@says("cream card makes no other verdict of two inks", 0.93, "mud within 25 of that on white")
def _(rng):
    a, b = ink(rng, DYES), ink(rng, DYES); w = rng.choice(HAND)
    return [job(c, (*a, w), (*b, w)) for c in (WHITE, CREAM)], lambda s: (abs(s[0].mud - s[1].mud) <= 25, s[1].mud - s[0].mud)


@says("pale grey card makes no ink muddy", 0.95, "it quiets a colour and turns none")
def _(rng):
    a = ink(rng, ["dye", "hybrid"], *STRONG); w = rng.choice(HAND)
    return [job(PALE_GREY, (*a, w))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("card of an ink's own side is no trouble", 0.97, "pinks on pink card, blues on blue: neither muddy nor muted")
def _(rng):
    hexed, families = rng.choice(SAME_SIDE); a = ink(rng, ["dye", "hybrid"], *families); w = rng.choice(HAND)
    return [job(card(hexed), (*a, w))], lambda s: (s[0].kind not in ("muddy", "muted"), s[0].mud)


@says("from white card to toned card there is no jump", 0.95, "eight steps of card towards the opposite of a strong dye: no step of mud above 25")
def _(rng):
    hexed, families = rng.choice([("#a8dcc0", ["coral", "red", "orange"]), ("#bcd7ee", ["orange", "golden"]), ("#f5e08a", ["purple", "blue"]), ("#f3c6cf", ["green", "teal"])])
    a = ink(rng, DYES, *families); w = rng.choice([B6, F4])
    return [job(card(between("#f8f7f4", hexed, k / 8)), (*a, w)) for k in range(9)], lambda s: (largest_step(s) <= 25, largest_step(s))


@says("pass by pass of the second ink there is no jump of mud", 0.93, "opposite dyes, one to eight passes on four of foam: at most 9 (and 5) of mud for each ΔE00")
def _(rng):
    a, b = pair(rng, DYES, *rng.choice(OPPOSITES))
    return [job(WHITE, (*a, F4), (*b, of(F4, n))) for n in range(1, 9)], lambda s: (steepest(s) <= 9, steepest(s))


@says("water by water there is no jump of mud", 0.95, "opposite dyes, the second thinned by tenths: at most 9 (and 5) of mud for each ΔE00")
def _(rng):
    a, b = pair(rng, DYES, *rng.choice(OPPOSITES))
    return [job(WHITE, (*a, B6), (*b, {**PB, "dilution": k / 10})) for k in range(10)], lambda s: (steepest(s) <= 9, steepest(s))


@says("two films of a hair's difference are judged alike", 0.97, "either ink moved by 0.6 in each direction: mud within 12")
def _(rng):
    f = rng.choice(["dye", "hybrid", "pigment"]); (h, lch), (other, lch_other) = shade(rng, rng.choice(HUED)), shade(rng, rng.choice(HUED)); w = rng.choice(HAND)
    return [job(WHITE, (f, h, w), (f, other, w)), job(WHITE, (f, nudged(rng, lch, 0.6) or h, w), (f, nudged(rng, lch_other, 0.6) or other, w))], lambda s: (abs(s[0].mud - s[1].mud) <= 12, abs(s[0].mud - s[1].mud))


@says("a topcoat changes no verdict to muddy", 0.9, "what is clean stays so under a topcoat")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, ["dye", "hybrid"]); w = rng.choice(HAND)
    e = [(*a, w), (*b, w)]
    return [job(WHITE, *e), job(WHITE, *e, T("glaze"))], lambda s: (None if s[0].kind == "muddy" else s[1].kind != "muddy" or s[1].mud - s[0].mud < 15, s[1].mud - s[0].mud)


@says("heat changes no verdict", 0.97, "mud within 6 of what it was")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid"]), ink(rng, ["dye", "hybrid"]); w = rng.choice(HAND)
    e = [(*a, w), (*b, w)]
    return [job(WHITE, *e), job(WHITE, *e, T("heat"))], lambda s: (abs(s[1].mud - s[0].mud) <= 6, abs(s[1].mud - s[0].mud))


@says("heat and topcoat in either order look alike", 0.95, "within 2")
def _(rng):
    a = ink(rng, ["hybrid", "pigment"], *STRONG)
    return [job(WHITE, (*a, F4), *map(T, order)) for order in (("heat", "glaze"), ("glaze", "heat"))], lambda s: (off(*s) <= 2, off(*s))


@says("black over a hue is black, and not mud", 0.95, "a dark is a dark")
def _(rng):
    a, b = ink(rng, "dye", *HUED), ink(rng, "dye", "black")
    return [job(WHITE, (*a, F4), (*b, of(F4, 4)))], lambda s: (s[0].kind != "muddy" and s[0].L < 40, s[0].mud)


@says("a touch of black shades a colour and makes no mud", 0.9, "premix with a fiftieth of black: darker, in its own hue")
def _(rng):
    a, b = ink(rng, "dye", *STRONG, "yellow"), ink(rng, "dye", "black")
    return [job(WHITE, (*a, F4)), job(WHITE, ([(*a, 0.98), (*b, 0.02)], F4))], lambda s: (s[1].L <= s[0].L + 0.1 and s[1].kind != "muddy" and turn(s[0].h, s[1].h) <= 20, s[1].mud)


@says("wet dips of neighbours are not muddy", 0.95, "pink, coral and peach, or aqua, sky and lilac, dipped one into another wet")
def _(rng):
    f = rng.choice(["dye", "hybrid"]); trio = rng.choice([("pink", "coral", "peach"), ("aqua", "sky", "lilac"), ("yellow", "lime", "aqua")])
    a, b, c = (ink(rng, f, family) for family in trio)
    return [job(on("watercolour"), (*a, dip), (*b, dip, "wet"), (*c, dip, "wet"))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("half the dose of both is no muddier", 0.93, "opposite dyes at half of what a hand lays: at most 8 more, for what is very dark hardly shows that it is dull")
def _(rng):
    a, b = pair(rng, DYES, *rng.choice(OPPOSITES))
    return [job(WHITE, (*a, {"dose": d}), (*b, {"dose": d})) for d in (0.8, 0.4, 0.1)], lambda s: (s[0].mud + 8 >= s[1].mud >= s[2].mud - 3, s[2].mud - s[0].mud)


@says("of next to nothing there is no mud", 0.97, "opposites at a fiftieth of a dose each")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid", "pigment"], *rng.choice(OPPOSITES))
    return [job(WHITE, (*a, {"dose": 0.02}), (*b, {"dose": 0.02}))], lambda s: (s[0].kind != "muddy", s[0].mud)


@says("a third ink of the same family does not change the verdict", 0.93, "two opposites, and a third near to the second on top: muddy stays muddy or grows less for being covered")
def _(rng):
    one, other = rng.choice(OPPOSITES); a, b = pair(rng, DYES, one, other); c = ink(rng, "dye", other)
    return [job(WHITE, (*a, B6), (*b, B6)), job(WHITE, (*a, B6), (*b, of(B6, 3)), (*c, of(B6, 3)))], lambda s: (abs(s[0].mud - s[1].mud) <= 40, abs(s[0].mud - s[1].mud))


@says("a barrier that is offered shows the inks as on white", 0.93, "its stack lies nearer to the same inks on white card than the stack without it")
def _(rng):
    hexed, families = rng.choice([("#a8dcc0", ["coral", "red", "orange", "pink"]), ("#bcd7ee", ["orange", "coral"]), ("#f3c6cf", ["green", "teal"]), ("#b99468", ["sky", "aqua", "lilac"])])
    a = ink(rng, DYES, *families); c = card(hexed); base = job(c, (*a, B6), fixes=True)
    def test(s):
        made = [f for f in s[0].fixes if f["code"] == "barrier" and f.get("stack")]
        if not made: return None, 0
        anew = [{"wempa": 1, "cardstock": f.get("cardstock") or c, "inks": f.get("inks") or base["inks"], "stack": f["stack"]} for f in made]
        return ("then", anew, lambda r: (all(off(x, s[1]) < off(s[0], s[1]) for x in r), off(r[0], s[1])))
    return [base, job(WHITE, (*a, B6))], test


@says("a fix that is offered is worth its work", 0.95, "no fix leaves the mud it was offered for at nine tenths or more")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid"], *rng.choice(OPPOSITES)); w, wet = rng.choice([B6, F4, ST]), rng.choice([[], ["wet"]])
    base = job(WHITE, (*a, w), (*b, w, *wet), fixes=True)
    def test(s):
        left = [f["mud"] / max(s[0].mud, 1) for f in s[0].fixes if f["mud"] is not None]
        return (None, 0) if s[0].mud < 50 or not left else (max(left) <= 0.9, max(left))
    return [base], test


@says("mud is offered a way out", 0.9, "opposites by an everyday hand: where it is muddy there is at least one fix")
def _(rng):
    a, b = pair(rng, ["dye", "hybrid"], *rng.choice(OPPOSITES)); w, wet = rng.choice([B6, F4]), rng.choice([[], ["wet"]])
    return [job(WHITE, (*a, w), (*b, w, *wet), fixes=True)], lambda s: (None if s[0].kind != "muddy" else bool(s[0].fixes), len(s[0].fixes))


@says("no reason is given for mud that is not there", 0.97, "clean is said without a reason that tells of loss")
def _(rng):
    a, b = ink(rng, ["dye", "hybrid", "pigment"]), ink(rng, ["dye", "hybrid", "pigment"]); w = rng.choice(HAND)
    return [job(WHITE, (*a, w), (*b, w))], lambda s: (None if s[0].kind != "clean" else not {"near_mud", "card_dulls", "swamped_by_ink"} & set(s[0].reasons), len(s[0].reasons))


@says("mud far apart is told apart by its chance", 0.97, "of two stacks whose mud differs by 40 the muddier has no smaller chance")
def _(rng):
    f, w = rng.choice(DYES), rng.choice(HAND); a, b = pair(rng, f, *rng.choice(OPPOSITES)); c = ink(rng, f, "yellow", "peach", "lime")
    return [job(WHITE, (*a, w), (*b, w)), job(WHITE, (*c, w), (*b, w))], lambda s: (None if abs(s[0].mud - s[1].mud) < 40 else (s[0].chance >= s[1].chance) == (s[0].mud > s[1].mud), s[0].mud - s[1].mud)


@says("drops of a dye are never darker than its field", 0.97, "water takes ink away")
def _(rng):
    a, b = ink(rng, DYES), ink(rng, DYES); w = rng.choice([B6, F4, of(F4, 6)])
    return [job(WHITE, (*a, w), (*b, w), T("spritz"))], lambda s: (s[0].drops[0] >= s[0].L - 0.3, s[0].drops[0] - s[0].L)


@says("a glow is lost under a dark ink", 0.95, "neon under navy or black has less chroma than alone")
def _(rng):
    a, b = ink(rng, "fluorescent", "neon pink", "neon orange", "neon green"), ink(rng, "dye", "navy", "black")
    return [job(WHITE, (*a, F4)), job(WHITE, (*a, F4), (*b, F4))], lambda s: (s[1].C < 0.6 * s[0].C, s[1].C / s[0].C)


@says("laid again on what is dry it is hardly more than in one go", 0.9, "dye, four passes and four more once dry are eight (≤ 6)")
def _(rng):
    a = ink(rng, DYES, *STRONG); w = rng.choice([of(B6, 4), of(F4, 2)])
    return [job(WHITE, (*a, w), (*a, w)), job(WHITE, (*a, {**w, "passes": 2 * w["passes"]}))], lambda s: (off(*s) <= 6, off(*s))
