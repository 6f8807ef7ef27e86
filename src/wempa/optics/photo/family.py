"""What phones do to colours, and how one phone is learned from swatches that are known.

No phone is known beforehand. `tools/phone_family.py` draws thousands of simulated ones: sensors of
three filters and of three layers, matrices made for daylight or for the lamp, white balanced in part,
tones bent and colours painted up, each before a stash of random inks. For each the map from what its
photo shows to the true colour is fitted (root polynomials: Finlayson, Mackiewicz and Hurlbert 2015).
What can be seen of a phone in one photo (the cast that it left on white, how it bends the tones, how
strong and how spread the swatches are) tells something of its map: the mean over the family given
that, by quadratic regression, and a covariance of what is left. This is the prior. Swatches that are
known turn it into one phone's own map (Bayesian linear regression); what a root polynomial cannot
follow is taken from the nearest of them (Gaussian process, Rasmussen and Williams 2006, eq. 2.25).
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

LAMPS = ("D65", "D50", "A", "LED-B3")
TERMS = ("r", "g", "b", "rg", "gb", "rb")
STRAIGHT = 0.12
"""Strength of the tone curve below which a phone counts as one that renders nothing."""
MANY = 12
"""From so many swatches on, how strong and how spread they are tells something of the phone."""
# Deviations from the family's mean beyond which a feature says no more.
_FAR = 2.5
# The part of colour that no map follows, of which near swatches tell: reach in cube roots of light.
_REACH = 0.22
# How a lamp's casts scatter beyond the family's own.
_CAST_SCATTER = 0.02
# Of a known swatch, what is read beside the map's error, in ΔE00.
_READ = 0.3
# The regression makes the best of what all phones have in common, its covariance counts the oddest among
# them: of phones as they are, more than two in three lay inside (our own simulated camera, eight stashes).
_NARROWER = 0.8
_SAMPLES = 48
_D65_POINT = cm.xyz(np.ones(36))


def terms(light: Floats) -> Floats:
    """Root-polynomial terms of balanced light (n, 3), (n, 6): they scale with exposure."""
    r, g, b = np.maximum(light, 0).T
    return np.stack([r, g, b, np.sqrt(r * g), np.sqrt(g * b), np.sqrt(r * b)], axis=1)


def lab_of(linear: Floats) -> Floats:
    """CIELAB under D65 (…, 3) of linear sRGB (…, 3)."""
    xyz = np.maximum(linear, 1e-5) @ cm.SRGB_TO_XYZ.T
    return cm.lab_from_xyz(cm.adapt(xyz, cm.SRGB_WHITE, _D65_POINT), _D65_POINT)


def linear_of(lab: Floats) -> Floats:
    """Linear sRGB (…, 3) of CIELAB under D65 (…, 3)."""
    return np.asarray(cm.adapt(cm.xyz_from_lab(lab, _D65_POINT), _D65_POINT, cm.SRGB_WHITE) @ cm.XYZ_TO_SRGB.T)


def eye_weight(linear: Floats) -> Floats:
    """How much an error of light (n, 3) counts to the eye, (n,): more in the dark."""
    return np.asarray(1 / np.cbrt(np.maximum(linear, 0.01)).mean(axis=1) ** 2)


def balanced(light: Floats, white: Floats) -> Floats:
    """Linear light (n, 3) divided by white's (n or 1, 3), as a typical camera's own channels see them.

    A camera balances before it turns its channels into sRGB; to take out what cast is left one has
    to go back there (von Kries 1902 in the camera's channels).
    """
    matrix = np.array(_table()["camera"])
    back = np.linalg.inv(matrix)
    return np.asarray(np.maximum((light @ back) / np.maximum(white @ back, 1e-4) @ matrix, 1e-5))


def cast(white: Floats) -> Floats:
    """What cast a photo leaves on white (3,): ln of red and of blue to green in a typical camera, (2,)."""
    raw = np.log(np.maximum(white @ np.linalg.inv(np.array(_table()["camera"])), 1e-4))
    return np.asarray(raw[[0, 2]] - raw[1])


def features(light: Floats, white: Floats, strength: float, many: bool) -> Floats:
    """What a photo shows of its phone, (3,) or (8,): cast (2), strength of the tone curve and, of
    `many` swatches of balanced light (n, 3), spread along red to green and yellow to blue, strong
    chroma, and where their middle lies.
    """
    found = [*cast(white), strength]
    if many:
        _, a, b = lab_of(light).T
        strong = np.quantile(np.hypot(a, b), 0.9)
        found += [
            float(np.log(np.sqrt((a**2).mean()) + 1)),
            float(np.log(np.sqrt((b**2).mean()) + 1)),
            float(np.log(strong + 1)),
            float(a.mean() / 30),
            float(b.mean() / 30),
        ]
    return np.array(found)


def tones_of(strength: float, undone: bool) -> str:
    """Which phones a photo is taken for: ``straight`` tones, ``bent`` ones undone, or not known at all."""
    if not undone:
        return "unknown"
    return "straight" if strength < STRAIGHT else "bent"


def design(shown: Floats, mean: Floats, scale: float | Floats) -> Floats:
    """Terms of the quadratic regression on features (n, k), (n, 1 + k + k(k+1)/2)."""
    q = np.clip((shown - mean) / scale, -_FAR, _FAR)
    i, j = np.triu_indices(q.shape[1])
    return np.column_stack([np.ones(len(q)), q, q[:, i] * q[:, j]])


@cache
def _table() -> dict[str, list[list[float]]]:
    text = files("wempa.optics").joinpath("data/phones.json").read_text("ascii")
    found: dict[str, list[list[float]]] = json.loads(text)
    return found


@dataclass(frozen=True, slots=True, eq=False)
class PhoneFamily:
    """Phones under one lamp: with tones undone or not, before many swatches or few."""

    mean: Floats
    """Of the features, (k,)."""
    scale: Floats
    """Their standard deviation, (k,)."""
    slopes: Floats
    """`design` of the features to the map's 18 coefficients, (m, 18)."""
    spread: Floats
    """Covariance of the coefficients that the features leave, (18, 18)."""
    left: float
    """What the map of a phone itself leaves, weighted light (`eye_weight`), standard deviation."""
    left_seen: tuple[float, float]
    """The same in ΔE00, two thirds of colours are nearer: of greys, and more for each 50 of chroma."""

    def map_of(self, shown: Floats) -> PhoneMap:
        """The map given the features (k,)."""
        mean = design(shown[None], self.mean, self.scale)[0] @ self.slopes
        return PhoneMap(mean, self.spread, self, (), np.zeros((0, 3)))


@cache
def family_of(lamp: str, tones: str, many: bool) -> PhoneFamily:
    """The family for a lamp of `LAMPS` and for `tones_of` a photo."""
    rows = _table()[f"{lamp} {tones} {'many' if many else 'few'}"]
    mean, scale, left, *rest = (np.array(row) for row in rows)
    slopes, spread = np.array(rest[:-18]), np.array(rest[-18:])
    return PhoneFamily(mean, scale, slopes, spread, float(left[0]), (float(left[1]), float(left[2])))


@dataclass(frozen=True, slots=True)
class SeenSwatch:
    """A known swatch as a phone saw it: balanced light and true light, both as shares of white's."""

    light: tuple[float, float, float]
    true: tuple[float, float, float]


@dataclass(frozen=True, slots=True, eq=False)
class PhoneMap:
    """From balanced light to true light, and how sure that is."""

    mean: Floats
    """Coefficients of `terms` by channel, (18,)."""
    spread: Floats
    """Their covariance, (18, 18)."""
    family: PhoneFamily
    known: tuple[SeenSwatch, ...]
    off: Floats
    """CIELAB by which the map misses the known, (n, 3)."""

    def learned(self, known: Sequence[SeenSwatch]) -> PhoneMap:
        """The map once swatches are known."""
        if not known:
            return self
        light, true = np.array([one.light for one in known]), np.array([one.true for one in known])
        rows, miss, left = self._against(light, true)
        gain = self.spread @ rows.T @ np.linalg.inv(rows @ self.spread @ rows.T + left)
        mean = self.mean + gain @ miss
        spread = self.spread - gain @ rows @ self.spread
        off = lab_of(true) - lab_of(_through(terms(light), mean))
        return PhoneMap(mean, (spread + spread.T) / 2, self.family, tuple(known), off)

    def likelihood(self, known: Sequence[SeenSwatch]) -> float:
        """Ln of how likely the known swatches are under this map."""
        if not known:
            return 0.0
        light, true = np.array([one.light for one in known]), np.array([one.true for one in known])
        rows, miss, left = self._against(light, true)
        covariance = rows @ self.spread @ rows.T + left
        return float(-0.5 * (miss @ np.linalg.solve(covariance, miss) + np.linalg.slogdet(covariance)[1]))

    def _against(self, light: Floats, true: Floats) -> tuple[Floats, Floats, Floats]:
        weight = np.repeat(eye_weight(true), 3)
        rows = np.kron(terms(light), np.eye(3)) * weight[:, None]
        miss = true.reshape(-1) * weight - rows @ self.mean
        return rows, miss, self.family.left**2 * np.eye(len(rows))

    def read(self, light: Floats, card: Floats) -> tuple[Floats, Floats]:
        """CIELAB (n, 3) of balanced light (n, 3) beside white card of linear sRGB (3,), and the spread
        (n,): the radius in ΔE00 that holds the truth about two times in three.
        """
        if len(light) == 0:
            return np.zeros((0, 3)), np.zeros(0)
        found = terms(light)
        lab = lab_of(_through(found, self.mean) * card)
        grey, more = self.family.left_seen
        left = grey + more * np.hypot(lab[:, 1], lab[:, 2]) / 50
        if self.known:
            seen = np.array([one.light for one in self.known])
            pull, rest = _nearness(light, seen, noise=(_READ / max(grey + more, _READ)) ** 2)
            lab = lab + pull @ self.off
            left = left * np.sqrt(np.maximum(rest, 0.05))
        # Maps that would be as likely: how far apart they would read.
        values, vectors = np.linalg.eigh(self.spread)
        # The symmetric root: it does not depend on which way an eigenvector points.
        root = (vectors * np.sqrt(np.maximum(values, 0))) @ vectors.T
        maps = np.random.default_rng(0).standard_normal((_SAMPLES, len(values))) @ root
        others = np.stack([lab_of(_through(found, self.mean + each) * card) for each in maps])
        base = lab_of(_through(found, self.mean) * card)
        apart = cm.delta_e(others.reshape(-1, 3), np.tile(base, (_SAMPLES, 1))).reshape(_SAMPLES, -1)
        whole = np.hypot(np.quantile(apart, 2 / 3, axis=0), left)
        return np.asarray(lab), np.asarray(whole if self.known else _NARROWER * whole)


def _through(found: Floats, mean: Floats) -> Floats:
    return np.asarray(found @ mean.reshape(-1, 3))


def _nearness(light: Floats, seen: Floats, noise: float) -> tuple[Floats, Floats]:
    """How much each known swatch (m, 3) tells of colours (n, 3): weights (n, m), and the share of variance left."""
    at, known = np.cbrt(light), np.cbrt(seen)

    def near(a: Floats, b: Floats) -> Floats:
        return np.asarray(np.exp(-0.5 * ((a[:, None] - b[None]) ** 2).sum(axis=2) / _REACH**2))

    across = near(at, known)
    pull = np.linalg.solve(near(known, known) + noise * np.eye(len(seen)), across.T).T
    return np.asarray(pull), np.asarray(1 - (pull * across).sum(axis=1))


def likely_lamp(white: Floats, strength: float, known: Sequence[SeenSwatch], tones: str) -> dict[str, float]:
    """How likely each lamp is, adding up to 1, from the cast that white (3,) kept and from known swatches."""
    weights = {}
    for lamp in LAMPS:
        family = family_of(lamp, tones, False)
        shown = features(np.zeros((0, 3)), white, strength, False)
        scale = np.hypot(family.scale[:2], _CAST_SCATTER)
        away = (shown[:2] - family.mean[:2]) / scale
        weights[lamp] = float(-0.5 * away @ away - np.log(scale).sum()) + family.map_of(shown).likelihood(known)
    most = max(weights.values())
    total = sum(np.exp(each - most) for each in weights.values())
    return {lamp: float(np.exp(each - most) / total) for lamp, each in weights.items()}
