"""Regularised robust least squares: what logged swatches say of inks, hand and card.

The most likely positions of all knobs given what was seen, where each knob is a standard
normal beforehand and each swatch has errors with heavy tails (Gauss–Newton on the
reweighted squares of Student's t; Lange, Little and Taylor 1989). Few swatches move
little, and one that is far off the others counts little. Errors of a swatch are what its
reading misses, what the model misses, and what a hand does differently when it means to do
the same, which moves a colour only along the way from less to more of an ink.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import log

import numpy as np

from wempa.craft import constants
from wempa.craft.errors import WempaError
from wempa.craft.job import Job, LayDown, used_inks
from wempa.craft.prediction.inks import swatch_dose_doubt
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.spectra import find_spectra, spectrum_of
from wempa.craft.vocabulary import Known
from wempa.optics import colorimetry as cm
from wempa.optics.ciede2000 import local_metric
from wempa.optics.grid import Bools, Floats, Ints

from .knobs import AXES, RADIUS, Knob, each_moved, knobs_of, moved
from .observations import Believed, Observation
from .supposed import Bench, Supposed

FEWEST = 3
"""How many different swatches it takes before anything is learned."""
# How far a knob is moved to see what it changes, in standard deviations.
_STEP = 0.3
# A knob tells nothing if it moves no swatch by this share of the swatch's error.
_NOTHING = 0.02
_REWEIGHTED = 12
_HALVED = 5
_FOLDS = 10
_TOO_FAR = 60.0
# The most Gauss–Newton steps, and the move of a knob that counts as none.
_STEPS, _NEAR = 4, 0.05
# With many swatches, fewer steps and folds suffice, and a sample shows how far margins hold.
_MANY = 60
_AS_EXPECTED = 6
# A knob that a step moved by less than this is not looked at again.
_MOVED = 0.4
# From how many swatches it is worked out how far margins hold.
_ASKED = 24
# Rows for what the model misses, and how far learning may lower them.
_MISSED, _LEAST_MISSED = ("margin.layers", "margin.other_card", "margin.treatment"), 0.3

Progress = Callable[[float], None]
"""Called with the progress, 0–1. If it raises, the fit stops."""


class LearningStopped(WempaError):
    """Nobody wants the fit any more."""


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """What was learned, and how well it holds."""

    adopted: bool
    """Whether swatches that were held out are predicted better by what the others taught."""
    world: Supposed
    """Inks, cards and table as learned, whether adopted or not."""
    knobs: tuple[Knob, ...]
    at: Floats
    """Where each knob stands, (k,), in standard deviations."""
    doubt: Floats
    """The share of each knob's standard deviation that is left, (k,), 0–1."""
    before: tuple[float, float]
    """Mean ΔE00 of all swatches and of those held out, before learning."""
    after: tuple[float, float]
    """The same after learning; swatches held out are predicted by what the others taught."""
    errors: Floats
    """ΔE00 of each swatch before learning, and when it was held out, (n, 2)."""
    strange: tuple[int, ...]
    """Swatches that do not fit with the others."""
    contrary: tuple[tuple[int, int], ...]
    """Pairs of swatches that were laid alike and differ by more than any hand does."""
    few: bool = False
    """Whether there were too few swatches to learn from."""


@dataclass(frozen=True, slots=True, eq=False)
class _Seen:
    """The observations in numbers."""

    lab: Floats
    """(n, 3)."""
    metric: Floats
    """From steps in CIELAB to ΔE00, (n, 3, 3)."""
    own: Floats
    """Variance per axis of reading and model, (n,)."""


def learn(
    believed: Believed,
    observations: Sequence[Observation],
    table: Mapping[str, float],
    progress: Progress = lambda _: None,
) -> Fit:
    """Fit the world to observations, and say whether that predicts others better.

    Raises
    ------
    ConstantError
        A job's own table is outside its range.
    """
    bench = Bench(believed)
    first = Supposed.of(believed, observations[0].job.constants if observations else ())
    seen = _seen(observations, table)
    base = bench.labs([(one, first) for one in observations]) if observations else np.zeros((0, 3))
    before = _errors(base, seen)
    groups = _alike(observations)
    contrary = _contrary(observations, groups, seen)
    if len(set(groups)) < FEWEST:
        return replace(_nothing(first, before, contrary), few=True)
    progress(0.02)
    every = knobs_of(believed, observations, table)
    slopes = seen_slopes(bench, first, every, np.zeros(len(every)), observations, base, seen.metric)
    shows = np.sqrt((slopes**2).sum(axis=1)) / np.sqrt(seen.own)[:, None]
    kept = np.flatnonzero((shows.max(axis=0) > _NOTHING) if len(every) else np.zeros(0, dtype=bool))
    knobs, slopes = [every[k] for k in kept], slopes[:, :, kept]
    if not knobs:
        return _nothing(first, before, contrary)
    progress(0.3)
    weight_of = _Weights(knobs, observations, seen, table)
    all_of_it = np.arange(len(observations))
    # How photos miss stands last among the unknowns, and is no part of the world.
    misses = _misses(observations, base, seen, table)
    count = len(knobs)

    def at(by: Floats, some: Sequence[int]) -> Floats:
        world = moved(first, knobs, by[:count].tolist())
        return bench.labs([(observations[n], world) for n in some])

    place, labs = np.zeros(count + misses.shape[2]), base
    whole = np.concatenate([slopes, misses], axis=2)
    steps = _STEPS if len(observations) <= _MANY else 2
    for n in range(steps):
        before_step = place
        place, labs = _search(place, labs, whole, all_of_it, at, weight_of, seen, misses)
        progress(0.3 + 0.45 * (n + 1) / steps)
        if np.abs(place - before_step).max(initial=0) < _NEAR or n == steps - 1:
            break
        # With many swatches only the knobs that have moved are looked at again.
        far = np.abs(place[:count] - before_step[:count]) > (_MOVED if len(observations) > _MANY else 0.0)
        anew = seen_slopes(bench, first, knobs, place[:count], observations, labs, seen.metric, far)
        slopes = np.where(far, anew, slopes)
        whole = np.concatenate([slopes, misses], axis=2)

    left_out, only_read = np.empty(len(observations)), np.empty(len(observations))
    distance = np.empty(len(observations))
    folds = _folds(groups)
    residuals = _residuals(labs, seen) + misses @ place[count:]
    plain, unmoved = _residuals(base, seen), np.concatenate([np.zeros_like(slopes), misses], axis=2)
    errors = np.empty(len(observations))
    for n, fold in enumerate(folds):
        rest = np.setdiff1d(all_of_it, fold)
        taught, _, spread = _solve(place, residuals, whole, rest, weight_of)
        found = at(taught, fold.tolist())
        errors[fold] = _delta(found, seen.lab[fold])
        off = np.einsum("nij,nj->ni", seen.metric[fold], found - seen.lab[fold]) + misses[fold] @ taught[count:]
        left_out[fold] = np.linalg.norm(off, axis=1)
        distance[fold] = _distances(off, fold, whole, spread, weight_of, seen)
        # The same fit if nothing were wrong but how the photo was read.
        read, _, _ = _solve(np.zeros(len(place)), plain, unmoved, rest, weight_of)
        only_read[fold] = np.linalg.norm(plain[fold] + unmoved[fold] @ read, axis=1)
        progress(0.75 + 0.25 * (n + 1) / len(folds))

    _, _, covariance = _solve(place, residuals, whole, all_of_it, weight_of)
    place, covariance = place[:count], covariance[:count, :count]
    doubt = np.sqrt(np.clip(np.diag(covariance), 0, 1))
    world = surer(moved(first, knobs, place.tolist()), knobs, doubt, table)
    left = np.einsum("nik,kl,nil->n", slopes, covariance, slopes, optimize=True)
    left += np.trace(weight_of.covariance(slopes), axis1=1, axis2=2)
    left += RADIUS**2 * seen.own - np.array([one.spread for one in observations]) ** 2
    # The misses are averaged with as many swatches again that miss by what is expected.
    misfit = float((np.minimum(distance**2, 12.0).sum() / 3 + _AS_EXPECTED) / (len(distance) + _AS_EXPECTED))
    margins = _margins(believed, world, observations, left, misfit)
    gained = float(only_read.mean() - left_out.mean())
    better = gained > table["learn.gain"] * only_read.mean() and _sure(only_read, left_out, groups)
    return Fit(
        adopted=bool(better),
        world=replace(world, rows={**world.rows, **margins}),
        knobs=tuple(knobs),
        at=place,
        doubt=doubt,
        before=(float(before.mean()), float(before.mean())),
        after=(float(_errors(labs, seen).mean()), float(errors.mean())),
        errors=np.stack([before, errors], axis=1),
        strange=tuple(np.flatnonzero(distance > table["learn.strange"]).tolist()),
        contrary=contrary,
    )


def surer(world: Supposed, knobs: Sequence[Knob], doubt: Floats, table: Mapping[str, float]) -> Supposed:
    """The world, with each ink's spread as it is known after learning."""
    left: dict[str, dict[str, float]] = {}
    for knob, much in zip(knobs, doubt.tolist(), strict=True):
        if knob.of == "ink":
            left.setdefault(knob.key, {})[knob.what] = much * (knob.dose or 1.0)
    inks = dict(world.inks)
    for key, found in left.items():
        swatch = inks[key].swatch
        colour = [found[axis] for axis in AXES if axis in found]
        if colour:
            spread = table[f"known.{swatch.known}.spread"] if swatch.spread is None else swatch.spread
            # A knob that showed in no swatch has told nothing.
            squares = [*[each**2 for each in colour], *[1.0] * (len(AXES) - len(colour))]
            swatch = replace(swatch, spread=round(spread * float(np.sqrt(np.mean(squares))), 2))
        own = dict(inks[key].constants)
        was, fitted = swatch_dose_doubt(swatch, table), log(table[f"known.{Known.FITTED}.dose"])
        if found.get("strength", was) < was:
            # What is known now replaces the spread that the owner stated.
            spread = table[f"known.{swatch.known}.spread"] if swatch.spread is None else swatch.spread
            # A lid goes on showing its maker's blend, however well it is known by now.
            lid = swatch.known is Known.LID and swatch.made_with is None
            swatch = replace(swatch, known=swatch.known if lid else Known.FITTED, spread=spread)
            own["doubt_dose"] = round(found["strength"] / (was if lid else fitted), 3)
        if "hiding" in found:
            own["doubt_hiding"] = round(found["hiding"], 3)
        inks[key] = replace(inks[key], constants=tuple(sorted(own.items())))
        inks[key] = replace(inks[key], swatch=swatch)
    return replace(world, inks=inks)


def _margins(
    believed: Believed, world: Supposed, observations: Sequence[Observation], expected: Floats, misfit: float
) -> dict[str, float]:
    """Rows of the table with which margins hold two times in three, by what is still in doubt.

    `expected` is the mean square of ΔE00 that is left of each swatch, (n,), `misfit` by how much more
    those that were left out were missed than they should. The radius that holds two in three of a
    normal in one to three dimensions is its root mean square within 7 %. What is too wide is put
    down to the hand, which now is known; inks that were never logged stay as doubtful as they were.
    """
    every = range(len(observations))
    some = [*every] if len(every) <= _ASKED else np.linspace(0, len(every) - 1, _ASKED).astype(int).tolist()
    jobs = [reworded(observations[n].job, believed, world) for n in some]
    wanted = float(np.mean(expected[some])) * misfit

    def squares(words: float, model: float) -> float:
        rows = {"margin.words": words} | {row: constants.TABLE[row].value * model for row in _MISSED}
        rows["margin.hand"] = constants.TABLE["margin.hand"].value ** model
        told = [replace(job, constants=tuple(sorted({**dict(job.constants), **rows}.items()))) for job in jobs]
        return float(np.mean([predict(job).margin ** 2 for job in told]))

    # The hand comes first, because it is known now; then what the model was thought to miss.
    usual, known, least = squares(1.0, 1.0), squares(0.0, 1.0), squares(0.0, _LEAST_MISSED)
    words = float(np.sqrt(np.clip((wanted - known) / max(usual - known, 1e-6), 0.0, 1.5**2)))
    share = float(np.clip((wanted - least) / max(known - least, 1e-6), 0.0, 1.0))
    model = float(np.sqrt(_LEAST_MISSED**2 + (1 - _LEAST_MISSED**2) * share))
    reached = known + (usual - known) * words**2 if words else least + (known - least) * share
    scale = float(np.clip(np.sqrt(wanted / max(reached, 1e-6)), 1.0, 2.0))
    missed = {row: round(constants.TABLE[row].value * model, 3) for row in _MISSED} if model < 1 else {}
    if missed:
        missed["margin.hand"] = round(constants.TABLE["margin.hand"].value ** model, 3)
    return {"margin.words": round(words, 3), "margin.scale": round(scale, 3), **missed}


def _nothing(world: Supposed, errors: Floats, contrary: tuple[tuple[int, int], ...]) -> Fit:
    mean = float(errors.mean()) if len(errors) else 0.0
    none = np.zeros(0)
    both = np.stack([errors, errors], axis=1)
    return Fit(False, world, (), none, none, (mean, mean), (mean, mean), both, (), contrary)


def seen_lab(observation: Observation) -> Floats:
    """CIELAB (3,) of what was seen, under the job's light."""
    seen, light = observation.seen, str(observation.job.illuminant)
    if seen.lab is not None and seen.lab_illuminant == light:
        return np.array(seen.lab)
    return cm.lab(spectrum_of(observation.seen, light)[0], light)


def predicted(believed: Believed, world: Supposed, observations: Sequence[Observation]) -> Floats:
    """CIELAB (n, 3) of what a world says of observations."""
    return Bench(believed).labs([(one, world) for one in observations]) if observations else np.zeros((0, 3))


def _seen(observations: Sequence[Observation], table: Mapping[str, float]) -> _Seen:
    for light in {one.job.illuminant for one in observations}:
        here = [one.seen for one in observations if one.job.illuminant is light]
        find_spectra([seen for seen in here if seen.lab is None or seen.lab_illuminant is not light], str(light))
    lab = np.stack([seen_lab(one) for one in observations]) if observations else np.zeros((0, 3))
    metric = np.stack([local_metric(*each)[0] for each in lab.tolist()]) if observations else np.zeros((0, 3, 3))
    own = []
    for one in observations:
        layers = sum(isinstance(entry, LayDown) for entry in one.job.stack)
        over = table["learn.layers"] if len(used_inks(one.job)) > 1 and layers > 1 else 0.0
        own.append((one.spread**2 + over**2 + table["learn.model"] ** 2) / RADIUS**2)
    return _Seen(lab, metric, np.array(own))


def _delta(one: Floats, other: Floats) -> Floats:
    return np.asarray(cm.delta_e(one, other)).reshape(-1)


def _errors(labs: Floats, seen: _Seen) -> Floats:
    return _delta(labs, seen.lab) if len(labs) else np.zeros(0)


def _residuals(labs: Floats, seen: _Seen) -> Floats:
    """In ΔE00, (n, 3)."""
    return np.asarray(np.einsum("nij,nj->ni", seen.metric, np.clip(labs - seen.lab, -_TOO_FAR, _TOO_FAR)))


def seen_slopes(
    bench: Bench,
    first: Supposed,
    knobs: Sequence[Knob],
    at: Floats,
    observations: Sequence[Observation],
    labs: Floats,
    metric: Floats,
    which: Bools | None = None,
) -> Floats:
    """How each swatch moves with each knob, in ΔE00 a standard deviation, (n, 3, k).

    `labs` (n, 3) are its colours with the knobs `at` (k,), `metric` (n, 3, 3) goes from steps in CIELAB to ΔE00.
    With `which` (k,) of some knobs only; 0 for the others.
    """
    # The step goes away from the knob's position, so that it does not cross a bound twice.
    steps = np.where(at > 0, -_STEP, _STEP)
    # The whole world is worked out first, for the knobs that change looks and not amounts.
    here = moved(first, knobs, at.tolist())
    asked, places = [(one, here) for one in observations], [(-1, -1)] * len(observations)
    laid_in: list[Supposed | None] = [None] * len(observations)
    worlds = each_moved(first, knobs, at.tolist(), steps.tolist())
    for k, (knob, world) in enumerate(zip(knobs, worlds, strict=True)):
        if which is not None and not which[k]:
            continue
        for n in knob.touches:
            asked.append((observations[n], world))
            laid_in.append(here if knob.looks else None)
            places.append((n, k))
    found = np.zeros((len(observations), 3, len(knobs)))
    if len(asked) > len(observations):
        where = np.array(places)[len(observations) :]
        moved_labs = bench.labs(asked, laid_in)[len(observations) :]
        step = np.einsum("nij,nj->ni", metric[where[:, 0]], moved_labs - labs[where[:, 0]])
        found[where[:, 0], :, where[:, 1]] = step / steps[where[:, 1], None]
    return found


class _Weights:
    """How much a swatch's residual counts, and in which direction."""

    def __init__(
        self, knobs: Sequence[Knob], observations: Sequence[Observation], seen: _Seen, table: Mapping[str, float]
    ) -> None:
        self._seen = seen
        self._tails = table["learn.outlier"]
        again = log(table["learn.hand_again"])
        self._hand = np.array([again / knob.dose if knob.dose else 0.0 for knob in knobs])

    def covariance(self, slopes: Floats) -> Floats:
        """What the hand adds to the residuals of swatches with such slopes (m, 3, k), (m, 3, 3)."""
        by_hand = slopes[:, :, : len(self._hand)] * self._hand
        return np.asarray(by_hand @ by_hand.transpose(0, 2, 1))

    def of(self, some: Ints, slopes: Floats) -> Floats:
        """Inverse covariance (m, 3, 3) of the residuals of some swatches."""
        own = self._seen.own[some][:, None, None] * np.eye(3)
        return np.asarray(np.linalg.inv(self.covariance(slopes) + own))

    def tail(self, squares: Floats) -> Floats:
        """The weight of swatches by the squares of their distances, (m,)."""
        return np.asarray((self._tails + 3) / (self._tails + squares))

    def cost(self, squares: Floats) -> float:
        """Minus the logarithm of the likelihood of such distances."""
        return float((self._tails + 3) / 2 * np.log1p(squares / self._tails).sum())


def _misses(observations: Sequence[Observation], labs: Floats, seen: _Seen, table: Mapping[str, float]) -> Floats:
    """How readings off one photo miss together, in ΔE00 a standard deviation, (n, 3, k): all of them lighter,
    redder, yellower, more contrast, more colour, hues turned, blues and yellows stretched.

    As large as their spreads, of which a part is their own.
    """
    photos = list(dict.fromkeys(one.photo for one in observations))
    spread = np.array([one.spread for one in observations]) / RADIUS * table["learn.photo"]
    light, a, b = labs.T
    zero = np.zeros_like(a)
    ways = [
        *(_along(seen.metric, np.broadcast_to(axis, labs.shape)) for axis in np.eye(3)),
        _along(seen.metric, np.stack([np.ones_like(a), zero, zero], axis=1)) * ((light - 60) / 25)[:, None],
        *(
            _along(seen.metric, np.stack([zero, *way], axis=1)) * (np.hypot(*way) / 40)[:, None]
            for way in ((a, b), (-b, a), (zero, b))
        ),
    ]
    found = np.zeros((len(observations), 3, len(ways) * len(photos)))
    for n, one in enumerate(observations):
        first = photos.index(one.photo) * len(ways)
        for k, way in enumerate(ways):
            found[n, :, first + k] = way[n] * spread[n]
    return found


def _along(metric: Floats, way: Floats) -> Floats:
    """A direction in CIELAB (n, 3), scaled to a length of 1 in ΔE00."""
    step = np.einsum("nij,nj->ni", metric, way)
    return np.asarray(step / np.maximum(np.linalg.norm(step, axis=1, keepdims=True), 1e-9))


def _squares(residuals: Floats, inverse: Floats) -> Floats:
    return np.asarray(np.einsum("ni,nij,nj->n", residuals, inverse, residuals))


def _solve(
    at: Floats, residuals: Floats, slopes: Floats, some: Ints, weights: _Weights
) -> tuple[Floats, Floats, Floats]:
    """Positions of the knobs from some of the swatches if all were linear; weights of swatches; covariance (k, k)."""
    part = slopes[some]
    inverse = weights.of(some, part)
    flat = part.transpose(0, 2, 1) @ inverse
    free = residuals[some] - part @ at
    by, tail = at.copy(), np.ones(len(some))
    normal = np.eye(len(at))
    for _ in range(_REWEIGHTED):
        tail = weights.tail(_squares(free + part @ by, inverse))
        normal = np.eye(len(at)) + np.einsum("n,nki,nil->kl", tail, flat, part, optimize=True)
        then = -np.linalg.solve(normal, np.einsum("n,nki,ni->k", tail, flat, free))
        done = np.abs(then - by).max() < 1e-3
        by = then
        if done:
            break
    return by, tail, np.asarray(np.linalg.inv(normal))


def _search(
    start: Floats,
    labs: Floats,
    slopes: Floats,
    some: Ints,
    at: Callable[[Floats, Sequence[int]], Floats],
    weights: _Weights,
    seen: _Seen,
    misses: Floats,
) -> tuple[Floats, Floats]:
    """One step from `start` that makes the observations likelier; it is halved until it does."""
    every = list(range(len(seen.lab)))
    inverse = weights.of(some, slopes)

    reading = misses.shape[2]

    def residuals(by: Floats, labs: Floats) -> Floats:
        return _residuals(labs, seen) + misses @ by[len(by) - reading :]

    def cost(by: Floats, labs: Floats) -> float:
        return weights.cost(_squares(residuals(by, labs), inverse)) + float(by @ by) / 2

    now = cost(start, labs)
    to, _, _ = _solve(start, residuals(start, labs), slopes, some, weights)
    for n in range(_HALVED):
        by = start + (to - start) * 0.5**n
        found = at(by, every)
        if cost(by, found) < now:
            return by, found
    return start, labs


def _distances(off: Floats, fold: Ints, slopes: Floats, spread: Floats, weights: _Weights, seen: _Seen) -> Floats:
    """How far swatches lie from what the others say of them, in standard deviations of all doubt together, (m,)."""
    part = slopes[fold]
    own = seen.own[fold][:, None, None] * np.eye(3)
    whole = weights.covariance(part) + own + part @ spread @ part.transpose(0, 2, 1)
    return np.sqrt(_squares(off, np.asarray(np.linalg.inv(whole))))


# -- which belong together ------------------------------------------------------------


def _laid(job: Job) -> tuple[object, ...]:
    return job.cardstock, tuple((key, ink) for key, ink in job.inks if key in used_inks(job)), job.stack


def _alike(observations: Sequence[Observation]) -> list[int]:
    """A number for each observation, the same for those that were laid alike."""
    numbers: dict[object, int] = {}
    return [numbers.setdefault(_laid(one.job), len(numbers)) for one in observations]


def _contrary(observations: Sequence[Observation], groups: Sequence[int], seen: _Seen) -> tuple[tuple[int, int], ...]:
    """Pairs laid alike, looked at alike, that differ by far more than readings and hands do."""
    found = []
    for a in range(len(groups)):
        for b in range(a + 1, len(groups)):
            one, other = observations[a], observations[b]
            if groups[a] != groups[b] or (one.wet(), one.drops) != (other.wet(), other.drops):
                continue
            apart = float(cm.delta_e(seen.lab[a], seen.lab[b]))
            if apart > 3 * RADIUS * float(np.sqrt(seen.own[a] + seen.own[b])) + 6:
                found.append((a, b))
    return tuple(found)


def _folds(groups: Sequence[int]) -> list[Ints]:
    """The folds: which swatches are held out together. Swatches that were laid alike are always in one fold."""
    count = len(set(groups))
    parts = min(count, _FOLDS if count <= _MANY else _FOLDS // 2)
    # Neighbours in a log were laid on one evening, so each fold takes swatches from all over the log.
    return [np.flatnonzero(np.array(groups) % parts == n) for n in range(parts)]


def _sure(before: Floats, after: Floats, groups: Sequence[int]) -> bool:
    """Whether the gain is larger than chance gives; swatches laid alike count once, by their mean."""
    gains = np.array([(before - after)[np.array(groups) == g].mean() for g in sorted(set(groups))])
    return bool(gains.mean() > 0.5 * gains.std() / np.sqrt(len(gains)))


def reworded(job: Job, believed: Believed, world: Supposed) -> Job:
    """A job with the inks, the card and the table of a world."""
    inks = tuple((key, world.inks[key] if believed.inks.get(key) == ink else ink) for key, ink in job.inks)
    card = job.cardstock
    if card in believed.cards:
        card = world.cards[believed.cards.index(card)]
    return replace(job, cardstock=card, inks=inks, constants=world.overrides(job.constants))
