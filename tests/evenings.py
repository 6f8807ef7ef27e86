"""Random evenings as workspace files, and the rules that their plans must keep, written from the craft's words."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

from wempa.craft.constants import TABLE
from wempa.demo.penny_halt import ink_bodies

File = dict[str, Any]
_EXACT = 1e-9
_SETS = {"dye": "dye", "reactive_dye": "dye", "fluorescent": "dye", "pigment": "top", "hybrid": "top"} | {
    "reactive_pigment": "top"
}


def row(name: str) -> float:
    """A value of the craft table."""
    return TABLE[name].value


def random_evening(seed: int, *, panels: tuple[int, int] = (2, 6), layered: float = 0.4) -> File:
    """A workspace file with some panels, of which about a share `layered` has a layer over dry, and overlaps."""
    rng = random.Random(seed)
    known = [ink for ink in ink_bodies() if ink["formula"] != "unknown"]
    inks = [
        {"name": ink["name"], "formula": ink["formula"], "ink": {"swatch": ink["body"]["swatch"]}}
        for ink in rng.sample(known, 14)
    ]
    cards = [
        {"name": "Snow", "card": {"colour": {"hex": "#f8f7f4"}, "surface": "smooth"}},
        {"name": "Signal gloss", "card": {"colour": {"hex": "#fbfbf9"}, "surface": "coated"}},
    ]
    made = [panel_of(rng, n, len(inks), rng.random() < layered) for n in range(rng.randint(*panels))]
    overlaps = [_overlap(rng, n, len(inks)) for n in range(rng.randint(0, 2))]
    tools: list[dict[str, Any]] = []
    if rng.random() < 0.6:
        tools = [{"name": f"Brush {n}", "tool": "brush"} for n in range(rng.randint(2, 4))]
        tools += [{"name": f"Foam {n}", "tool": "foam"} for n in range(rng.randint(2, 3))]
        tools += [{"name": "Stamp", "tool": "stamp"}]
        for tool in tools:
            if rng.random() < 0.3:
                tool["kept_for"] = rng.choice(["dye", "hybrid", "pigment"])
    return {
        "wempa_workspace": 1,
        "inks": inks,
        "cards": cards,
        "tools": tools,
        "panels": made,
        "overlaps": overlaps,
    }


def panel_of(rng: random.Random, n: int, inks: int, layered: bool, bands: int | None = None) -> dict[str, Any]:
    """A random panel of so many bands, two to five if not said; with a layer over dry or without."""
    count = bands or rng.randint(2, 5)
    laid: list[dict[str, Any]] = [{"ink": ink} for ink in rng.sample(range(inks), count)]
    seams: list[dict[str, Any]] = [{} for _ in range(count - 1)]
    plan: dict[str, Any] = {
        "name": f"Panel {n}",
        "card": rng.choice([0, 0, 1]),
        "width": rng.choice([60, 80, 105]),
        "height": rng.choice([60, 90, 148]),
        "angle": rng.choice([0, 90]),
        "soft": rng.choice([0.3, 1.0]),
        "bands": laid,
        "seams": seams,
    }
    if layered:
        how = rng.choice(["seam", "top", "ribbons", "water"])
        if how == "seam":
            seams[rng.randrange(count - 1)]["wet"] = False
        elif how == "ribbons":
            plan["layout"] = "ribbons"
        elif how == "water":
            plan["tops"] = [{"kind": "water", "motif": "drops", "size": 3, "step": 12}]
        else:
            plan["tops"] = [{"kind": "ink", "ink": rng.randrange(inks), "motif": "dots", "size": 5, "step": 15}]
    return plan


def _overlap(rng: random.Random, n: int, inks: int) -> dict[str, Any]:
    stack: list[dict[str, Any]] = []
    for place in range(rng.randint(2, 3)):
        stack.append({"ink": rng.randrange(inks), "tool": rng.choice(["brush", "foam", "stamp", "pad"]), "passes": 3})
        if place and rng.random() < 0.3:
            stack[-1]["over"] = "wet"
    if rng.random() < 0.3:
        stack.append({"treatment": rng.choice(["spritz", "heat", "glaze"])})
    return {"name": f"Overlap {n}", "card": 0, "settings": {}, "stack": stack}


def as_bytes(file: File) -> bytes:
    """The file as it is read."""
    return json.dumps(file).encode()


def broken_rules(file: File, told: dict[str, Any]) -> list[str]:
    """Every rule that a plan breaks, in words; `told` is what `wempa plan` prints."""
    return list(_broken(file, told))


def _broken(file: File, told: dict[str, Any]) -> Iterator[str]:
    steps = told["steps"]
    by_number = {step["n"]: step for step in steps}
    yield from _times(told, by_number)
    notes = {(note["code"]) for note in told["notes"]}
    for panel in file["panels"]:
        yield from _panel_rules(file, panel, [step for step in steps if step["of"] == panel["name"]])
    for overlap in file["overlaps"]:
        own = [step for step in steps if step["of"] == overlap["name"]]
        yield from _overlap_rules(file, overlap, own, "wet_too_late" in notes)
    yield from _tool_rules(file, steps)


def end(step: dict[str, Any]) -> float:
    """When a step is done, minutes."""
    return float(step["start"] + step["minutes"])


def _times(told: dict[str, Any], by_number: dict[int, dict[str, Any]]) -> Iterator[str]:
    steps = told["steps"]
    if [step["n"] for step in steps] != list(range(1, len(steps) + 1)):
        yield "steps are not numbered from 1"
    for step in steps:
        for n in step["after"]:
            if end(by_number[n]) > step["start"] + _EXACT:
                yield f"step {step['n']} begins before step {n} is done"
        if step["minutes"] <= 0 or not step["text"] or step["start"] < 0:
            yield f"step {step['n']} takes no time or says nothing"
    hands = sorted((step["start"], end(step), step["n"]) for step in steps if step["hands"])
    for (_, until, one), (begin, _, two) in pairwise(hands):
        if begin < until - _EXACT:
            yield f"hands are busy with steps {one} and {two} at once"
    if abs(told["total"] - max(end(step) for step in steps)) > _EXACT:
        yield "total is not the end of the last step"
    if abs(told["at_mat"] - sum(step["minutes"] for step in steps if step["hands"])) > 1e-6:
        yield "at_mat is not the time with busy hands"
    if told["total"] > told["naive"]["total"] + _EXACT:
        yield "longer than one piece after another"
    if not 0 <= told["gap"] < 1:
        yield "no such gap"


def _lays(steps: list[dict[str, Any]], name: str) -> list[dict[str, Any]]:
    return [step for step in steps if step["do"] in ("lay", "blend", "back") and name in step["inks"]]


def dry_minutes(formula: str, tool: str, passes: float, surface: str, load: str = "normal") -> float:
    """Minutes until so much of an ink is dry, by the table: its formula's time by the amount, longer on sealed card."""
    amount = row(f"tool.{tool}.amount") * passes * row(f"formula.{formula}.strength") * row(f"load.{load}")
    sealed = row("work.sealed") if row(f"surface.{surface}.absorbency") <= row("marks.sealed") else 1.0
    return row(f"formula.{formula}.dry_time") * sealed * min(max(amount, 0.15), 4.0)


def _usual(formula: str) -> tuple[str, float]:
    soaks = formula in ("dye", "reactive_dye", "fluorescent")
    return ("brush", row("touch.soaking")) if soaks else ("foam", row("touch.film"))


def _panel_rules(file: File, panel: dict[str, Any], steps: list[dict[str, Any]]) -> Iterator[str]:
    name, inks = panel["name"], file["inks"]
    surface = file["cards"][panel["card"]]["card"]["surface"]
    if not steps or steps[-1]["do"] != "log":
        yield f"{name} does not end in the log"
        return
    log = steps[-1]
    if any(end(step) > log["start"] + _EXACT for step in steps[:-1]):
        yield f"{name} is logged before it is dry"
    bands = [inks[band["ink"]] for band in panel["bands"]]
    firsts = []
    for ink in bands:
        touched = _lays(steps, ink["name"])
        opened = [step for step in steps if step["do"] == "open_pads" and ink["name"] in step["inks"]]
        if not touched or not opened or opened[0]["start"] > touched[0]["start"]:
            yield f"{ink['name']} of {name} is not laid, or its pad not opened before"
            return
        firsts.append(touched[0])
    ribbons = panel.get("layout") == "ribbons"
    order = sorted(range(len(bands)), key=lambda k: firsts[k]["start"])
    pairs = list(pairwise(order)) if ribbons else list(pairwise(range(len(bands))))
    for one, two in pairs:
        early, late = (one, two) if firsts[one]["start"] <= firsts[two]["start"] else (two, one)
        dry_between = ribbons or panel["seams"][min(one, two)].get("wet") is False
        formula = bands[early]["formula"]
        tool, passes = _usual(formula)
        gap = firsts[late]["start"] - end(firsts[early])
        if dry_between:
            wait = dry_minutes(formula, tool, passes, surface, "light" if "dab" in _does(steps) else "normal")
            if gap < 0.6 * wait - _EXACT:
                yield f"{bands[late]['name']} comes over {bands[early]['name']} on {name} before that is dry"
    yield from _open_rules(bands, panel, steps, firsts)
    last_band = max(end(first) for first in firsts)
    for top in panel.get("tops", []):
        later = [step for step in steps if step["start"] >= last_band and step["do"] in ("treat", "lay")]
        if not later:
            yield f"the top of {name} is not laid"
        if not any(step["do"] == "test" for step in steps):
            yield f"{name} is not tested for dryness before its top"
        for ink, first in zip(bands, firsts, strict=True):
            tool, passes = _usual(ink["formula"])
            if later and later[-1]["start"] - end(first) < 0.6 * dry_minutes(ink["formula"], tool, passes, surface):
                yield f"{top['kind']} comes on {name} before {ink['name']} is dry"


def _does(steps: list[dict[str, Any]]) -> set[str]:
    return {step["do"] for step in steps}


def _open_rules(
    bands: list[dict[str, Any]], panel: dict[str, Any], steps: list[dict[str, Any]], firsts: list[dict[str, Any]]
) -> Iterator[str]:
    """Where two inks are worked to and fro, the one laid first is open still, unless both soak in."""
    hands = [step for step in steps if step["hands"]]
    for k, seam in enumerate(panel["seams"]):
        early, late = (k, k + 1) if firsts[k]["start"] <= firsts[k + 1]["start"] else (k + 1, k)
        formulas = [bands[early]["formula"], bands[late]["formula"]]
        if seam.get("wet") is False or panel.get("layout") == "ribbons" or _SETS[formulas[0]] == "dye":
            continue
        stays = row(f"formula.{formulas[0]}.open_time") / 60
        names = (bands[early]["name"], bands[late]["name"])
        pairs = [
            step
            for step in hands
            if step["do"] in ("lay", "blend") and all(name in step["text"] for name in names) and step["n"] > 1
        ]
        there = [step for step in pairs if " meet, " in step["text"] or " parts: " in step["text"]]
        if not there:
            # Bare card was kept between them for the colours' sake.
            continue
        step = there[0]
        if " parts: " in step["text"]:
            parts = int(step["text"].split(" in ")[1].split(" parts")[0])
            if step["minutes"] / parts > stays + 1 / 8:
                yield f"a part of {names} takes longer than they stay open"
            continue
        before = [end(each) for each in hands if names[0] in each["inks"] and end(each) <= step["start"] + _EXACT]
        laid = [
            end(each)
            for each in hands
            if names[0] in each["inks"] and each["do"] in ("lay", "blend") and end(each) <= step["start"] + _EXACT
        ]
        if not before or step["start"] - max(laid) > stays + 1 / 16:
            yield f"{names[0]} has closed before {names[1]} is worked into it"


def _overlap_rules(file: File, overlap: dict[str, Any], steps: list[dict[str, Any]], warned: bool) -> Iterator[str]:
    name, inks = overlap["name"], file["inks"]
    surface = file["cards"][overlap["card"]]["card"]["surface"]
    laid = [step for step in steps if step["do"] == "lay"]
    entries = [entry for entry in overlap["stack"] if "ink" in entry]
    if [step["inks"][0] for step in laid] != [inks[entry["ink"]]["name"] for entry in entries]:
        yield f"{name} is not laid in the order of its stack"
        return
    for (under, over), (one, two) in zip(pairwise(entries), pairwise(laid), strict=True):
        formula = inks[under["ink"]]["formula"]
        gap = two["start"] - end(one)
        if over.get("over") == "wet":
            if gap > row(f"formula.{formula}.open_time") / 60 + 1 / 16 and not warned:
                yield f"{name}: worked into the wet too late, and nothing said"
            continue
        if gap < dry_minutes(formula, under["tool"], under["passes"], surface) * 0.99 - 1 / 16:
            yield f"{name}: laid over what is not dry"


def _tool_rules(file: File, steps: list[dict[str, Any]]) -> Iterator[str]:
    formulas = {ink["name"]: ink["formula"] for ink in file["inks"]}
    owned = {tool["name"]: tool for tool in file["tools"]}
    holds: dict[str, str] = {}
    for step in sorted([s for s in steps if s["hands"]], key=lambda s: s["start"]):
        for tool in step["tools"]:
            if owned and tool not in owned:
                yield f"{tool} is not among the tools"
            if step["do"] in ("wipe", "wash"):
                holds[tool] = "" if step["do"] == "wash" else f"wiped {holds.get(tool, '')}"
            if step["do"] == "load":
                ink, was = step["inks"][0], holds.get(tool, "")
                if was and was != ink and not was.startswith("wiped"):
                    yield f"{tool} goes from {was} into {ink} unwiped"
                before = was.removeprefix("wiped ")
                if before in formulas and _SETS[formulas[before]] != _SETS[formulas[ink]]:
                    yield f"{tool} goes from {before} to {ink} and is not washed"
                holds[tool] = ink
