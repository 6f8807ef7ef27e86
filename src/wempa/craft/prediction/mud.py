"""Mud: what the parents promised, what of it is lost, and how near the rest is to brown, olive and grey.

Works on single overlaps and on batches alike (`optics.namespace`).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import degrees, radians
from typing import Any

import numpy as np

from wempa.craft.colour.circle import bend_hue, painter_hue
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.optics.namespace import SCALAR, Value, along_ramp, ramp
from wempa.optics.records import record

_DEGREES, _RADIANS = degrees(1), radians(1)
Components = tuple[Value, Value, Value]
"""CIELAB as L*, a* and b*: floats, or arrays (b,)."""


@record
class Promise:
    """The clean in-between."""

    chroma: Value
    hue: Value
    """Painter's hue, 0–360°."""
    agreement: Value
    """How far the parents' hues agree, 0–1."""
    shown: Sequence[Value]
    """Which parents take part in what is seen: those that are there and no mere trace."""
    several: Value
    """Whether more than one of them is shown."""
    counts: Value
    """How far the promise counts, 0–1: it does not where it has hardly any colour."""
    opposed: Value
    """How far the hues are opposites, 0–1."""
    apart: Value
    """How far the hues pull apart, 0–1."""


def clean_between(
    parents: Sequence[Components],
    present: Sequence[Value],
    white: Components,
    table: Mapping[str, float],
    xp: Any = np,
) -> Promise:
    """What the parents promise, at least one of them, each by itself on a white card that is itself `white`.

    A parent has a say by how much light it takes from the white card (`taken_light`): white under
    everything promises nothing, and a trace hardly anything. The chroma is the mean so weighted, so
    that a grey mixed in on purpose lowers what is promised. The hue is the mean along the shorter
    way round, weighted by chroma as well, so that a grey has no say in it. Agreement is the length
    of the mean hue vector against that of its parts: 1 for one hue, or one hue with greys and
    blacks, about 0.5 for two primaries, 0 for equal opposites.
    """
    total: Value = 0.0
    colour: Value = 0.0
    x: Value = 0.0
    y: Value = 0.0
    taken = [taken_light(parent, white, xp) * there for parent, there in zip(parents, present, strict=True)]
    for (_, a, b), weight in zip(parents, taken, strict=True):
        chroma = xp.sqrt(a * a + b * b) * weight
        hue = painter_hue(a, b, xp) * _RADIANS
        total, colour = total + weight, colour + chroma
        x, y = x + chroma * xp.cos(hue), y + chroma * xp.sin(hue)
    least = table["verdict.trace"] * total
    shown = [there & (weight >= least) for there, weight in zip(present, taken, strict=True)]
    chroma = colour / xp.maximum(total, 1e-9)
    agreement = xp.sqrt(x * x + y * y) / xp.maximum(colour, 1e-6)
    return Promise(
        chroma=chroma,
        hue=xp.arctan2(y, x) * _DEGREES % 360,
        agreement=agreement,
        shown=shown,
        several=sum(shown) > 1,
        counts=ramp(chroma, table["mud.promise_from"], table["mud.promise_to"], xp),
        opposed=_clipped(along_ramp(agreement, table["mud.opposed_to"], table["mud.opposed_from"]), xp),
        apart=_clipped(along_ramp(agreement, table["mud.agree_to"], table["mud.agree_from"]), xp),
    )


def _clipped(value: Value, xp: Any) -> Value:
    return xp.minimum(xp.maximum(value, 0.0), 1.0)


def taken_light(colour: Components, white: Components, xp: Any = np) -> Value:
    """How much of the white card's light a colour on it takes, 0–1: the root mean square over X, Y and Z.

    A colour that gives back more than the card, as fluorescent ink may, takes nothing there.
    """
    taken = [
        xp.maximum(1 - one / card, 0.0) for one, card in zip(_relative(colour, xp), _relative(white, xp), strict=True)
    ]
    return xp.sqrt((taken[0] * taken[0] + taken[1] * taken[1] + taken[2] * taken[2]) / 3)


def _relative(colour: Components, xp: Any) -> list[Value]:
    """X, Y and Z over those of the light's white, from CIELAB (CIE 15:2018, 8.2.1)."""
    light, a, b = colour
    y = (light + 16) / 116
    return [
        xp.where(f > 6 / 29, f * f * f, xp.maximum(f - 4 / 29, 0.0) * (108 / 841))
        for f in (y + a / 500, y, y - b / 200)
    ]


@record
class Mud:
    """Mud, 0–100, with what it is made of."""

    mud: Value
    mixing_loss: Value
    card_loss: Value
    chroma_white: Value
    along: Value
    """Chroma on the card along the hue on white; only where the card counts as coloured."""

    def first(self) -> Mud:
        """The first of the arrays' values, as floats."""
        each = (self.mud, self.mixing_loss, self.card_loss, self.chroma_white, self.along)
        return Mud(*[float(values[0]) if isinstance(values, np.ndarray) else values for values in each])


@record
class Strays:
    """Results that may come out instead of the predicted one, n of them; the first is the predicted one."""

    steps: Floats
    """How far each lies from the predicted one in CIELAB, components first, (3, n); the first column is 0."""
    metric: Floats
    """(3, 3), ‖M·ΔLab‖ is close to the ΔE00 of a small step from it."""


def dulls(card_from_white: float, table: Mapping[str, float]) -> float:
    """How far a card counts as coloured, 0–1."""
    return float(ramp(card_from_white, table["verdict.card_from"], table["verdict.card_to"], SCALAR))


def mud(
    result: Components,
    on_white: Components,
    promise: Promise,
    distances: tuple[Value, Value],
    coloured: float,
    card_light: float,
    table: Mapping[str, float],
    xp: Any = np,
) -> Mud:
    """Mud of overlaps whose parents made a promise (docs/model.md, *The verdict*).

    `distances` is how far, in ΔE00, the colour is from the nearest parent and from what it is
    on white card; `coloured` how far the card takes part (`dulls`), `card_light` its L*.

    Mud is made by mixing, as far as the parents' hues pull apart, or by the card, as far as
    it takes the colour out; the worse of the two counts. Each needs colour lost, a colour
    that is new, and one in the mud region, which is dull brown, olive and grey of low to
    middle lightness: a brown may keep more chroma than a grey-green or a grey-violet before
    it stops being mud. Black is not mud.

    Each condition is a straight ramp, and the least of them counts. Their product would
    fall off a cliff, for where one of them goes most of the others go too.
    """
    _, a, b = result
    _, wa, wb = on_white
    chroma = xp.sqrt(a * a + b * b)
    chroma_white = xp.maximum(chroma if on_white is result else xp.sqrt(wa * wa + wb * wb), 1e-6)
    mixing = xp.maximum(1 - chroma_white / (promise.chroma + 1e-6), 0.0) * promise.counts
    from_parents, from_white = distances
    # Colour lost to a grey, a black or a neighbour was given up on purpose; only hues
    # that pull apart make mud. Between opposites nothing is promised at all: less need
    # be lost there, and a dull green, violet or rust is mud too.
    by_mixing = xp.minimum(
        promise.apart,
        xp.minimum(
            along_ramp(
                mixing + table["mud.opposed_loss"] * promise.opposed, table["mud.mixing_from"], table["mud.mixing_to"]
            ),
            along_ramp(from_parents, table["mud.novel_from"], table["mud.novel_to"]),
        ),
    )
    # On coloured card: what of the colour on white is left, along its own hue.
    along: Value = chroma_white
    card: Value = 0.0
    by_card: Value = 0.0
    covers: Value = 0.0
    if coloured:
        along = (a * wa + b * wb) / chroma_white
        tinted = ramp(chroma_white, table["mud.promise_from"], table["mud.promise_to"], xp) * coloured
        card = xp.minimum(xp.maximum(1 - along / chroma_white, 0.0), 1.0) * tinted
        # What covers a dark card is judged by its own colour.
        if card_light < table["mud.dark_card"]:
            covers = ramp(result[0] - card_light, table["mud.covers_from"], table["mud.covers_to"], xp)
            card = card * (1 - covers)
        by_card = xp.minimum(
            along_ramp(card, table["mud.card_from"], table["mud.card_to"]),
            along_ramp(from_white, table["mud.novel_from"], table["mud.novel_to"]),
        )
    # Most of what hands lay is as clean as it promised, or is a coat of what lies there already.
    worst = xp.maximum(by_mixing, by_card)
    if not ((worst > 0).any() if xp is np else worst > 0):
        return Mud(worst * 0.0, mixing, card, chroma_white, along)
    if xp is not np or np.ndim(worst) == 0 or len(worst) < _FEW:
        found = _in_region(result, promise, by_mixing, by_card, coloured, table, xp)
        return Mud(100 * xp.maximum(found, 0.0), mixing, card, chroma_white, along)
    # Where nothing is lost nobody asks how dull the colour is.
    rows = np.flatnonzero(worst > 0)

    def some(values: Value) -> Value:
        return values[rows] if np.ndim(values) else values

    asked = replace(promise, hue=some(promise.hue), agreement=some(promise.agreement), opposed=some(promise.opposed))
    light, green, blue = (some(component) for component in result)
    whole = np.zeros(len(worst))
    found = _in_region((light, green, blue), asked, some(by_mixing), some(by_card), coloured, table, xp)
    whole[rows] = np.maximum(found, 0.0)
    return Mud(100 * whole, mixing, card, chroma_white, along)


# With few colours it is quicker to work out all than to pick those that matter.
_FEW = 256


def _in_region(
    result: Components,
    promise: Promise,
    by_mixing: Value,
    by_card: Value,
    coloured: float,
    table: Mapping[str, float],
    xp: Any,
) -> Value:
    """What mixing and the card make mud of, as far as the colour lies in the mud region; to 1, 0 and below for none."""
    _, a, b = result
    place = _Place.of(result, xp.sqrt(a * a + b * b), table, xp)
    found = xp.minimum(by_mixing, place.mixed(promise, table, xp))
    if coloured:
        found = xp.maximum(found, xp.minimum(by_card, place.on_card(table, xp)))
    return found


@record
class _Place:
    """Where a colour lies against the mud region: floats, or arrays (b,)."""

    light: Value
    chroma: Value
    hue: Value
    """CIELAB hue, 0–360°."""
    brownish: Value
    """How far it counts as a brown or an olive and not as a grey, 0–1."""
    light_enough: Value
    """From 0 at black to 1 and more where a dull colour is seen to be one."""

    @classmethod
    def of(cls, result: Components, chroma: Value, table: Mapping[str, float], xp: Any) -> _Place:
        light, a, b = result
        hue = xp.arctan2(b, a) * _DEGREES % 360
        # The brown side fades out towards both ends.
        sides = xp.minimum(
            along_ramp(hue, table["mud.brown_from"], table["mud.brown_full"]),
            along_ramp(hue, table["mud.olive_to"], table["mud.olive_full"]),
        )
        return cls(
            light, chroma, hue, _clipped(sides, xp), along_ramp(light, table["mud.dark_from"], table["mud.dark_to"])
        )

    def mixed(self, promise: Promise, table: Mapping[str, float], xp: Any) -> Value:
        """How far it is the mud that mixing makes, to 1; 0 and below where it is none."""
        grey = table["mud.grey_chroma"] * (1 + table["mud.opposed_grey"] * promise.opposed)
        brown = table["mud.brown_chroma"] * (1 + table["mud.opposed_brown"] * promise.opposed)
        edge = grey + (brown - grey) * self.brownish
        dull = (table["mud.edge_from"] - self.chroma / edge) * (1 / (table["mud.edge_from"] - table["mud.edge_to"]))
        pale = along_ramp(self.light, table["mud.light_to"], table["mud.light_from"])
        turned = xp.cos((bend_hue(self.hue, xp) - promise.hue) * _RADIANS)
        kept = along_ramp(promise.agreement * turned, table["mud.plum_strays"], table["mud.plum_kept"])
        plum = xp.minimum(self._plum(0.0, table, xp), kept)
        return xp.minimum(xp.minimum(dull, pale), xp.minimum(self.light_enough, 1 - xp.maximum(plum, 0.0)))

    def on_card(self, table: Mapping[str, float], xp: Any) -> Value:
        """The same of what a card makes of a colour."""
        grey, brown = table["mud.card_grey"], table["mud.card_brown"]
        edge = grey + (brown - grey) * self.brownish
        dull = (1 - self.chroma / edge) * (1 / (1 - table["mud.card_edge"]))
        pale = along_ramp(self.light, table["mud.card_light_to"], table["mud.card_light_from"])
        plum = xp.maximum(self._plum(table["mud.card_plum"], table, xp), 0.0)
        return xp.minimum(xp.minimum(dull, pale), xp.minimum(self.light_enough, 1 - plum))

    def _plum(self, less: float, table: Mapping[str, float], xp: Any) -> Value:
        """How far it is a plum, a mauve or a dusky rose of `less` C*, to 1: liked, and no mud.

        Plums lie in a wedge of hues. How deep in it counts in chroma, for near grey a hue means nothing.
        """
        first = xp.sin((self.hue - table["mud.plum_from"]) * _RADIANS)
        last = xp.sin((table["mud.plum_to"] - self.hue) * _RADIANS)
        deep = self.chroma * xp.minimum(first, last) - less
        return xp.minimum(
            along_ramp(deep, table["mud.plum_out"], table["mud.plum_in"]),
            along_ramp(self.light, table["mud.plum_dark"], table["mud.plum_light"]),
        )


def apart_from_wanted(result: Components, wanted: Floats, table: Mapping[str, float]) -> Value:
    """Factor on mud, 0–1: a colour close to one that is owned or asked for is not mud.

    `result` is L*, a*, b*, floats or arrays (n,); `wanted` CIELAB of those inks, (m, 3).
    """
    same = table["verdict.same"]
    reach = same * table["mud.spared_to"]
    light, a, b = (np.asarray(component).reshape(-1) for component in result)
    # The difference in lightness alone rules most of them out: ΔE00 is never less than |ΔL*| / S_L.
    rows, near = np.nonzero(np.abs(light[:, None] - wanted[:, 0]) < reach * _MOST_S_L)
    nearest = np.full(len(light), reach)
    found = cm.ciede2000(light[rows], a[rows], b[rows], *wanted[near].T)
    np.minimum.at(nearest, rows, found)
    return ramp(nearest.reshape(np.shape(result[0])), same, reach, np)


# S_L of CIEDE2000 at black and at white; it is nowhere larger.
_MOST_S_L = 1.75


def spare(found: Value, result: Components, wanted: Floats | None, table: Mapping[str, float]) -> Value:
    """Mud, 0–100, with `apart_from_wanted` taken off, which is looked at only where there is any; a float, or (n,)."""
    if wanted is None or not len(wanted) or not np.any(found):
        return found
    if np.ndim(found) == 0:
        return found * float(apart_from_wanted(result, wanted, table))
    rows = np.flatnonzero(found)
    spared = found.copy()
    spared[rows] *= apart_from_wanted(tuple(component[rows] for component in result), wanted, table)
    return spared
