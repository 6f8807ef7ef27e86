"""How more statements are asked: families of inks, hands, jobs and what is seen of a result.

A sample returns (jobs, test); `test` of the list of what is seen returns (holds, figure[, what was said]), or
("then", jobs, test) for jobs that depend on the first results. `None` for holds: this sample is not asked.
"""
from __future__ import annotations

import json, math, random

from bench.craft_truths import de00, predict, registry, to_rgb, within

FAMILY = {  # lightness, chroma, hue (CIELAB, D65)
    "yellow": ((80, 90), (60, 88), (88, 100)), "pale yellow": ((87, 92), (30, 48), (92, 102)),
    "golden": ((72, 80), (62, 80), (76, 86)),
    "orange": ((62, 73), (62, 80), (58, 70)), "coral": ((59, 67), (45, 58), (28, 40)),
    "peach": ((74, 82), (28, 40), (48, 62)), "red": ((42, 51), (58, 70), (24, 36)),
    "pink": ((60, 71), (44, 58), (350, 368)), "blush": ((78, 86), (12, 22), (18, 45)), "pale pink": ((80, 87), (14, 24), (350, 372)),
    "berry": ((40, 49), (46, 60), (345, 363)), "magenta": ((46, 55), (60, 72), (346, 357)), "wine": ((24, 32), (26, 38), (5, 22)),
    "purple": ((33, 45), (34, 50), (306, 324)), "lilac": ((67, 77), (15, 27), (300, 320)),
    "blue": ((36, 47), (38, 54), (266, 284)), "denim": ((50, 60), (22, 32), (252, 270)), "navy": ((20, 28), (18, 30), (268, 288)),
    "sky": ((70, 81), (15, 28), (232, 258)), "cyan": ((56, 66), (34, 46), (228, 246)),
    "aqua": ((62, 71), (22, 33), (190, 214)), "teal": ((42, 54), (28, 38), (196, 214)), "mint": ((80, 88), (14, 24), (158, 176)),
    "green": ((48, 60), (38, 54), (134, 154)), "lime": ((78, 85), (60, 80), (109, 119)), "sage": ((60, 70), (12, 20), (125, 145)),
    "bottle": ((26, 34), (18, 28), (150, 172)),
    "brown": ((38, 49), (25, 38), (50, 64)), "dark brown": ((24, 32), (14, 22), (45, 62)), "tan": ((64, 73), (20, 30), (66, 80)),
    "grey": ((50, 64), (0, 4), (0, 359)), "black": ((10, 15), (0, 3), (0, 359)), "white": ((96, 98), (0, 1.5), (80, 100)),
    "neon pink": ((60, 66), (74, 84), (352, 364)), "neon yellow": ((92, 95), (80, 92), (102, 110)),
    "neon orange": ((68, 74), (84, 94), (52, 60)), "neon blue": ((56, 64), (42, 52), (250, 266)), "neon green": ((80, 86), (80, 95), (132, 140)),
}
HUED = ["yellow", "golden", "orange", "coral", "peach", "red", "pink", "berry", "purple", "lilac", "blue", "denim", "sky", "aqua",
        "teal", "green", "lime", "blush", "tan", "navy", "wine", "mint", "sage"]
STRONG = ["orange", "red", "pink", "berry", "purple", "blue", "teal", "green", "coral"]
SOFT = ["peach", "blush", "pale pink", "lilac", "sky", "aqua", "mint", "sage", "pale yellow", "tan", "denim"]
DYES = ["dye", "reactive_dye"]
ALL = ["dye", "reactive_dye", "hybrid", "reactive_pigment", "pigment", "unknown"]
WHITE = {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"}
on = lambda surface: {**WHITE, "surface": surface}
card = lambda hexed, surface="smooth": {"colour": {"hex": hexed}, "surface": surface}
B3L = {"tool": "brush", "load": "light", "passes": 3}
B6 = {"tool": "brush", "load": "normal", "passes": 6}
F4 = {"tool": "foam", "load": "normal", "passes": 4}
ST = {"tool": "stamp", "load": "normal", "passes": 1}
BR = {"tool": "brayer", "load": "normal", "passes": 1}
dip = {"tool": "dip", "load": "normal", "passes": 1}
PB = {"tool": "paintbrush", "load": "normal", "passes": 1}
of = lambda way, n: {**way, "passes": n}
T = lambda word: {"treatment": word}


hexed_of = lambda rgb: "#" + "".join(f"{round(255 * min(max(v, 0), 1)):02x}" for v in rgb)


def shade(rng, family):
    """A random member: hex and (L, C, h)."""
    l, c, hs = FAMILY[family]
    for k in range(3000):
        L, C, h = rng.uniform(*l), rng.uniform(*c) * (1 - k / 6000), rng.uniform(*hs)
        rgb = to_rgb(L, C, h % 360)
        if rgb:
            return hexed_of(rgb), (L, C, h)
    raise SystemExit(f"no colour of a screen in family {family}")


def nudged(rng, lch, d):
    """A colour close to one, by at most about d in each direction."""
    for k in range(2000):
        L, C, h = lch
        rgb = to_rgb(L + rng.uniform(-d, d), max(0, C + rng.uniform(-d, d)), (h + math.degrees(rng.uniform(-d, d) / max(C, 8))) % 360)
        if rgb:
            return hexed_of(rgb)
    return None


def lab_of(hexed):
    r = [int(hexed[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    lin = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in r]
    X = 0.4124 * lin[0] + 0.3576 * lin[1] + 0.1805 * lin[2]
    Y = 0.2126 * lin[0] + 0.7152 * lin[1] + 0.0722 * lin[2]
    Z = 0.0193 * lin[0] + 0.1192 * lin[1] + 0.9505 * lin[2]
    f = lambda t: t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29
    x, y, z = f(X / 0.95047), f(Y), f(Z / 1.08883)
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


class Seen:
    def __init__(self, result):
        self.raw = result
        self.lab = result["colour"]["lab"]
        self.L, self.C, self.h = self.lab[0], math.hypot(*self.lab[1:]), math.degrees(math.atan2(self.lab[2], self.lab[1])) % 360
        self.kind, self.mud, self.chance = (result["verdict"][k] for k in ("kind", "mud", "mud_chance"))
        self.reasons = {r["code"]: r["text"] for r in result["verdict"]["reasons"]}
        self.texts = [(r["code"], r["text"]) for r in result["verdict"]["reasons"]]
        self.R = result["colour"]["spectrum"]
        self.drops = (result.get("drops") or {}).get("lab")
        self.margin = result["margin"]["delta_e"]
        self.fixes = result["fixes"]

    def __repr__(self):
        return f"L{self.L:.1f} C{self.C:.1f} h{self.h:.0f} {self.kind} mud{self.mud:.0f}"


def off(a, b): return de00(a.lab, b.lab)
def turn(a, b): return abs((a - b + 180) % 360 - 180)


STATEMENTS, says = registry()


def job(on_card, *entries, look="dry", **more):
    """Entries: (formula, hex, way[, 'wet']), {'treatment': …} or ([(formula, hex, share) …], way[, 'wet']) for a premix."""
    inks, stack = {}, []
    def key_of(formula, hexed, mark=""):
        key = f"{formula}{hexed}{mark}"
        inks[key] = {"formula": formula, "swatch": {"colour": {"hex": hexed}}}
        return key
    for entry in entries:
        if isinstance(entry, dict):
            stack.append(entry)
        elif isinstance(entry[0], list):
            mix = [{"ink": key_of(*part[:2], part[3] if len(part) > 3 else ""), "share": part[2]} for part in entry[0]]
            stack.append({"mix": mix, **entry[1], **({"over": "wet"} if "wet" in entry[2:] else {})})
        else:
            formula, hexed, way, *wet = entry
            mark = next((w for w in wet if w != "wet"), "")
            stack.append({"ink": key_of(formula, hexed, mark), **way, **({"over": "wet"} if "wet" in wet else {})})
    return {"wempa": 1, "cardstock": on_card, "inks": inks, "stack": stack, "look": look, **more}


def ink(rng, formula, *families):
    return (rng.choice(formula) if isinstance(formula, list) else formula), shade(rng, rng.choice(families or HUED))[0]


def pair(rng, formula, one, other):
    form = rng.choice(formula) if isinstance(formula, list) else formula
    pick = lambda f: shade(rng, rng.choice(f) if isinstance(f, list) else f)[0]
    return (form, pick(one)), (form, pick(other))


HAND = [B6, F4, of(B6, 4), {"tool": "foam", "load": "light", "passes": 3}]


def ask(jobs):
    return [Seen(result) for result in json.loads(predict(json.dumps(jobs)))]


def tried_more(seed: int, count: int) -> list[tuple[str, float, float]]:
    """Of every statement its name, the share it asks for, and the share of one seed's samples that agrees."""
    jobs, samples, later, held = [], [], [], {name: [] for name, *_ in STATEMENTS}
    for name, _share, _why, sample in STATEMENTS:
        rng = random.Random(f"{seed} {name}")
        for _ in range(count):
            made, test = sample(rng)
            samples.append((name, len(jobs), len(made), test))
            jobs += made
    seen = ask(jobs)
    for name, start, size, test in samples:
        got = test(seen[start : start + size])
        if got[0] == "then":
            later.append((name, got[1], got[2]))
        elif got[0] is not None:
            held[name].append(bool(got[0]))
    more, at = ask([job for _, made, _ in later for job in made]), 0
    for name, made, test in later:
        got = test(more[at : at + len(made)])
        at += len(made)
        if got[0] is not None:
            held[name].append(bool(got[0]))
    return [(name, share, sum(held[name]) / len(held[name]) if held[name] else 1.0) for name, share, *_ in STATEMENTS]
