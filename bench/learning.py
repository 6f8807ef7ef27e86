"""Simulated worlds: true inks, hands and cards drawn from stated doubts, swatches laid and read in them.

What is learned from twelve logged swatches is asked about others of the same inks.
"""

from __future__ import annotations

import colorsys
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.limits import WHITE_CARD
from wempa.craft.log.knobs import RADIUS
from wempa.craft.log.learning import Fit, learn, predicted, reworded
from wempa.craft.log.observations import Believed, Observation, believed_of
from wempa.craft.log.strip import STRIP_PASSES
from wempa.craft.log.supposed import Bench, Supposed
from wempa.craft.prediction.amounts import USUAL_PASSES
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_ink
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Formula, Illuminant, Known, Load, Over, Page, Surface, Tool
from wempa.demo.camera import PHONES, photograph
from wempa.formats.stash.sheet_photo import read_sheet_photo
from wempa.optics import colorimetry as cm
from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Floats

from .overprints import PAPERS, Lab, load

INKS = 6
_WORLDS = 50
LOGGED, ASKED = 12, 30
_SURFACES = (Surface.SMOOTH, Surface.SMOOTH, Surface.COATED, Surface.WATERCOLOUR, Surface.ABSORBENT)
_FORMULAS = (Formula.DYE, Formula.DYE, Formula.REACTIVE_DYE, Formula.HYBRID, Formula.PIGMENT, Formula.REACTIVE_PIGMENT)
_KNOWN = (Known.LID, Known.TYPED, Known.TYPED, Known.PHOTO)


@dataclass(frozen=True)
class World:
    """What is believed, what is true, and what was seen."""

    believed: Believed
    true: Supposed
    logged: list[Observation]
    asked: list[Observation]


def _lab(rng: np.random.Generator) -> tuple[float, float, float]:
    """A colour that an ink may have: any hue, from dusky to vivid."""
    red, green, blue = colorsys.hsv_to_rgb(rng.random(), rng.uniform(0.3, 0.9), rng.uniform(0.35, 0.95))
    code = f"#{round(255 * red):02x}{round(255 * green):02x}{round(255 * blue):02x}"
    l, a, b = cm.lab(spectrum_of(Colour(hex=code), "D65")[0]).tolist()
    return l, a, b


def _off(rng: np.random.Generator, lab: Sequence[float], spread: float) -> tuple[float, float, float]:
    _, inverse = local_metric(*lab)
    found = np.array(lab) + inverse @ rng.normal(0, spread / RADIUS, 3)
    return float(np.clip(found[0], 3, 97)), float(found[1]), float(found[2])


def _true_ink(rng: np.random.Generator, ink: Ink, table: dict[str, float]) -> Ink:
    spread = table[f"known.{ink.swatch.known}.spread"]
    assert ink.swatch.colour.lab is not None
    colour = Colour(lab=_off(rng, ink.swatch.colour.lab, spread), lab_illuminant=Illuminant.D65)
    strength = float(np.exp(rng.normal(0, np.log(table[f"known.{ink.swatch.known}.dose"]))))
    ready = prepare_ink(ink, None, "D65").values["hiding"]
    hiding = None
    if ready > 0:
        scatter = ready / (1 - ready) * np.exp(rng.normal(0, np.log(table["margin.hiding"])))
        hiding = float(scatter / (1 + scatter))
    return replace(ink, swatch=replace(ink.swatch, colour=colour), strength=strength, hiding=hiding)


def _stack(rng: np.random.Generator, keys: Sequence[str], tools: Sequence[Tool]) -> tuple[LayDown, ...]:
    found: list[LayDown] = []
    for n, key in enumerate(rng.permutation(list(keys))[: rng.choice([1, 2, 2, 2, 3])]):
        tool = tools[int(rng.integers(len(tools)))]
        passes = 1.0 if tool is Tool.STAMP else float(rng.choice([1, 2, 3, 4, 6, 8]))
        load = (Load.NORMAL, Load.NORMAL, Load.LIGHT, Load.JUICY)[int(rng.integers(4))]
        over = Over.WET if n and rng.random() < 0.25 else Over.DRY
        found.append(LayDown(((str(key), 1.0),), tool=tool, load=load, passes=passes, over=over))
    return tuple(found)


def _photographed(swatches: Floats, seed: int, lamp: str) -> list[tuple[Lab, float]]:
    """Swatches read off a photo of a sheet, by one of the simulated phones."""
    scene = replace(list(PHONES.values())[seed % len(PHONES)], lamp=lamp, seed=seed)
    white = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
    read = read_sheet_photo(photograph(sheet_layout(Page.A4), list(swatches), white, scene), "a4", None, None)
    found = [((one["lab"][0], one["lab"][1], one["lab"][2]), one["spread"]) for one in read["swatches"]]
    assert len(found) >= len(swatches)
    return found[: len(swatches)]


def world(
    seed: int, hand: float = 0.4, spread: float | None = None, again: float = 1.12, lamp: str = "daylight"
) -> World:
    """A world: hands up to `hand` off the table.

    Swatches are read off a photo by the simulated camera, or off by `spread` ΔE00. Two goes of one
    hand differ by the factor `again`.
    """
    rng = np.random.default_rng(seed)
    table = dict(constants.AS_SHIPPED)
    surface = _SURFACES[rng.integers(len(_SURFACES))]
    card = Card(Colour(hex="#f8f7f4"), surface)
    inks = {}
    for n in range(INKS):
        formula = _FORMULAS[rng.integers(len(_FORMULAS))]
        colour = Colour(lab=_lab(rng), lab_illuminant=Illuminant.D65)
        inks[f"i{n}"] = Ink(Swatch(colour, known=_KNOWN[rng.integers(len(_KNOWN))]), formula, f"Ink {n}")
    true_inks = {key: _true_ink(rng, ink, table) for key, ink in inks.items()}
    at = f"surface.{surface}."
    true_card = replace(
        card,
        floor=float(table[at + "floor"] * np.exp(rng.normal(0, 0.25))),
        absorbency=float(np.clip(table[at + "absorbency"] + rng.normal(0, 0.1), 0, 1)),
        texture=float(np.clip(table[at + "texture"] + rng.normal(0, 0.08), 0, 1)),
    )
    tools = (Tool.BRUSH, Tool.FOAM, Tool.STAMP)
    rows = {
        f"tool.{tool}.amount": float(table[f"tool.{tool}.amount"] * rng.uniform(1 - hand, 1 + hand))
        for tool in tools[:2]
    }

    def observations(count: int, exact: bool) -> list[Observation]:
        jobs = []
        for _ in range(count):
            stack = _stack(rng, list(inks), tools)
            used = {key for entry in stack for key, _ in entry.parts}
            jobs.append(Job(card, tuple((k, ink) for k, ink in inks.items() if k in used), stack))
        believed = Believed(inks, (card,), {})
        true = Supposed(true_inks, (true_card,), rows)
        bench, found, laid = Bench(believed), [], []
        for job in jobs:
            really = job
            if not exact:
                really = replace(
                    job,
                    stack=tuple(
                        replace(e, passes=e.passes * float(np.exp(rng.normal(0, np.log(again)))))
                        for e in job.stack
                        if isinstance(e, LayDown)
                    ),
                )
            laid.append((Observation(really, card.colour, 1), true))
        labs = bench.labs(laid)
        if exact or spread is not None:
            readings = [((l, a, b), spread or 0.1) for l, a, b in labs.tolist()]
            readings = readings if exact else [(_off(rng, lab, doubt), doubt) for lab, doubt in readings]
        else:
            readings = _photographed(bench.reflectances(laid), seed, lamp)
        for job, (lab, doubt) in zip(jobs, readings, strict=True):
            found.append(Observation(job, Colour(lab=lab, lab_illuminant=Illuminant.D65), doubt))
        return found

    logged, asked = observations(LOGGED, False), observations(ASKED, True)
    believed = believed_of([*[one.job for one in logged], *[one.job for one in asked]])
    # In the order of first use.
    return World(believed, Supposed(true_inks, (true_card,), rows), logged, asked)


def errors(of: World, by: Supposed) -> Floats:
    """ΔE00 (n,) of what a world says of the swatches that are asked."""
    found = predicted(of.believed, by, of.asked)
    true = np.array([one.seen.lab for one in of.asked])
    return np.asarray(cm.delta_e(found, true))


def learned(of: World) -> tuple[Fit, float, float]:
    """What is learned, and the mean ΔE00 of what is asked before and after."""
    fit = learn(of.believed, of.logged, constants.AS_SHIPPED)
    first = Supposed.of(of.believed)
    return fit, float(errors(of, first).mean()), float(errors(of, fit.world if fit.adopted else first).mean())


TAUGHT = (("magenta", "yellow"), ("cyan", "yellow"), ("black", "cyan"), ("cyan", "magenta", "yellow"))
"""The overprints of a paper that are logged."""


def overprints(name: str) -> tuple[Fit, float, float]:
    """A measured paper: what four overprints teach, and the mean ΔE00 of its others before and after."""
    paper = load(name)
    inks = {
        ink: Ink(Swatch(Colour(lab=lab), card=None, known=Known.READER), Formula.DYE, ink)
        for ink, lab in paper.solids.items()
    }

    def observed(used: Sequence[str], lab: Floats) -> Observation:
        stack = tuple(LayDown(((ink, 1.0),), dose=1.0) for ink in used)
        job = Job(paper.card, tuple((ink, inks[ink]) for ink in used), stack, illuminant=Illuminant.D50)
        l, a, b = lab.tolist()
        return Observation(job, Colour(lab=(l, a, b)), 0.5)

    named = {tuple(sorted(each)) for each in TAUGHT}
    taught = [observed(used, lab) for used, lab in paper.overprints if tuple(sorted(used)) in named]
    others = [observed(used, lab) for used, lab in paper.overprints if tuple(sorted(used)) not in named]
    believed = believed_of([one.job for one in (*taught, *others)])
    fit = learn(believed, taught, constants.AS_SHIPPED)

    def mean(by: Supposed) -> float:
        labs = predicted(believed, by, others)
        return float(cm.delta_e(labs, np.array([one.seen.lab for one in others])).mean())

    first = Supposed.of(believed)
    return fit, mean(first), mean(fit.world if fit.adopted else first)


def strip(seed: int) -> tuple[float, float]:
    """The error of passes, ln, before and after one strip of a hand up to 40 % off.

    What counts is how much three passes of the tool lay of that ink, on whatever it is put down to.
    """
    rng = np.random.default_rng(seed)
    table = dict(constants.AS_SHIPPED)
    tool = (Tool.BRUSH, Tool.FOAM)[seed % 2]
    card = Card(Colour(hex="#f8f7f4"), _SURFACES[seed % len(_SURFACES)])
    ink = Ink(Swatch(Colour(lab=_lab(rng), lab_illuminant=Illuminant.D65)), _FORMULAS[seed % len(_FORMULAS)], "Ink")
    factor = float(rng.uniform(0.6, 1.4))
    row = f"tool.{tool}.amount"
    true = Supposed({"a": ink}, (card,), {row: table[row] * factor})
    believed = Believed({"a": ink}, (card,), {})

    def jobs(counts: Sequence[float]) -> list[Job]:
        return [Job(card, (("a", ink),), (LayDown((("a", 1.0),), tool=tool, passes=n),)) for n in counts]

    laid = jobs([n * float(np.exp(rng.normal(0, np.log(1.06)))) for n in STRIP_PASSES])
    labs = Bench(believed).labs([(Observation(job, card.colour, 1.0), true) for job in laid])
    seen = []
    for job, (l, a, b) in zip(jobs(STRIP_PASSES), labs.tolist(), strict=True):
        colour = Colour(lab=_off(rng, (l, a, b), 1.2), lab_illuminant=Illuminant.D65)
        seen.append(Observation(job, colour, 1.2, photo="strip"))
    fit = learn(believed, seen, constants.AS_SHIPPED)
    by = fit.world if fit.adopted else Supposed.of(believed)
    found = by.rows.get(row, table[row]) * (by.inks["a"].strength or 1.0)
    lays = by.rows.get(f"formula.{ink.formula}.lays", 1.0)
    found *= (3 / USUAL_PASSES) ** (by.rows.get(f"tool.{tool}.build", 1.0) - 1)
    return abs(float(np.log(factor))), abs(float(np.log(found * lays / table[row] / factor)))


def many(count: int = 200, inks: int = 30) -> tuple[World, float]:
    """A log of so many swatches, and the seconds that a fit of it takes."""
    global INKS, LOGGED
    was = INKS, LOGGED
    INKS, LOGGED = inks, count
    try:
        made = world(1, spread=1.5)
    finally:
        INKS, LOGGED = was
    start = time.perf_counter()
    learn(made.believed, made.logged, constants.AS_SHIPPED)
    return made, time.perf_counter() - start


def figures() -> list[tuple[str, float, str, float | None, str]]:
    """What, found, unit, what is to be reached, and the rest: of the swatch log, against the model without it."""
    gains, missed, before, after, inside, lower = [], [], [], [], [], []
    for seed in range(_WORLDS):
        made = world(seed)
        fit, was, now = learned(made)
        gains.append(now / was)
        before.append(was)
        after.append(now)
        off = errors(made, fit.world if fit.adopted else Supposed.of(made.believed))
        jobs = [reworded(one.job, made.believed, fit.world) if fit.adopted else one.job for one in made.asked]
        inside += (off <= np.array([predict(job).margin for job in jobs])).tolist()
        missed.append(not fit.adopted)
        lower.append(np.mean([predict(job).margin for job in jobs]))
    text = f"unlearned {np.mean(before):.2f}, learned {np.mean(after):.2f} ΔE00; {sum(missed)} not adopted"
    found: list[tuple[str, float, str, float | None, str]] = [
        (f"12 swatches, {_WORLDS} worlds, error left, median", float(np.median(gains)), "share", 0.5, text),
        ("the same in the worst world", float(np.max(gains)), "share", 1.05, ""),
        ("truth within its margin after learning", float(np.mean(inside)), "share", None, ""),
        ("mean margin after learning", float(np.mean(lower)), "ΔE00", None, ""),
    ]
    strips = np.array([strip(seed) for seed in range(20)])
    rival = f"before {strips[:, 0].mean():.2f}"
    found.append(("one strip, error of passes left", float(strips[:, 1].mean()), "ln", None, rival))
    found.append(
        ("the same as a share", float(strips[:, 1].mean() / strips[:, 0].mean()), "share", 0.5, "hands ± 40 %")
    )
    papers = [overprints(name) for name in PAPERS]
    text = f"unfitted {np.mean([was for _, was, _ in papers]):.2f}"
    found.append(
        ("overprints, six others after four", float(np.mean([now for _, _, now in papers])), "ΔE00", 2.6, text)
    )
    worse = max(now - was for _, was, now in papers)
    found.append(("the same, worst paper against unfitted", float(worse), "ΔE00", 0.1, ""))
    _, taken = many()
    found.append(("a fit of 200 swatches", taken, "s", 5, ""))
    return found
