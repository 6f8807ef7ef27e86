"""What learning may move, and how far it would have to be moved to be surprising.

Each knob is one number that nobody knows exactly: how strong an ink is under a brush, how
well it hides, what colour its swatch really has, how much a hand lays in a pass, where a
card's floor lies. It is counted in standard deviations from what was taken for true, so
that all pull back to that with the same force.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp, log

import numpy as np

from wempa.craft.constants import TABLE
from wempa.craft.job import Card, Colour, Ink, LayDown, used_inks
from wempa.craft.prediction.cards import make_card
from wempa.craft.prediction.inks import make_ink, swatch_dose_doubt
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.vocabulary import Formula, Illuminant, Load, Treatment
from wempa.optics import colorimetry as cm
from wempa.optics.ciede2000 import local_metric

from .observations import Believed, Observation
from .supposed import Supposed

# Mean radius of an isotropic normal in three dimensions, over its standard deviation.
RADIUS = 1.596
AXES = ("lighter", "redder", "yellower")
_MOST = 4.0
"""Nothing is moved farther than so many standard deviations."""


@dataclass(frozen=True, slots=True)
class Knob:
    """One number that may be moved."""

    of: str
    """``ink``, ``range``, ``card`` or ``row``."""
    key: str
    """Of an ink its key, of a range its name, of a card its place, of a row its name."""
    what: str
    """What of it is moved."""
    move: Callable[[Supposed, float], Supposed]
    """The world with it so many standard deviations off."""
    touches: frozenset[int]
    """Which observations it may show in."""
    dose: float = 0.0
    """Where it is how much of one ink is laid, the logarithm of the factor that one standard deviation is."""

    @property
    def looks(self) -> bool:
        """Whether amounts stay what they are and only what ink or card looks like changes, nearly."""
        return self.of in ("ink", "card") and self.what in (*AXES, "hiding", "trace", "floor", "n")


def knobs_of(believed: Believed, seen: Sequence[Observation], table: Mapping[str, float]) -> list[Knob]:
    """Everything that these observations can tell anything of."""
    # The table first and ranges next: what is one ink's own comes on top of what it shares.
    return [
        *_of_rows(believed, seen, table),
        *_of_ranges(believed, seen, table),
        *_of_inks(believed, seen, table),
        *_of_cards(believed, seen, table),
    ]


def moved(world: Supposed, knobs: Sequence[Knob], by: Sequence[float]) -> Supposed:
    """The world with all knobs moved, each by so many standard deviations."""
    for knob, much in zip(knobs, by, strict=True):
        if much:
            world = knob.move(world, max(-_MOST, min(_MOST, float(much))))
    return world


def each_moved(first: Supposed, knobs: Sequence[Knob], at: Sequence[float], steps: Sequence[float]) -> list[Supposed]:
    """For each knob the world with all knobs `at` and that one a step farther.

    What one ink or card has of its own does not depend on the others', so only that is made anew.
    """
    whole = moved(first, knobs, at)
    shared = [k for k, knob in enumerate(knobs) if knob.of in ("row", "range")]
    below = moved(first, [knobs[k] for k in shared], [at[k] for k in shared])
    found = []
    for k, knob in enumerate(knobs):
        if knob.of == "row":
            found.append(moved(whole, [knob], [at[k] + steps[k]]))
            continue
        own = [n for n, other in enumerate(knobs) if (other.of, other.key) == (knob.of, knob.key)]
        if knob.of == "range":
            own, world = list(range(len(knobs))), first
        elif knob.of == "ink":
            world = _with_ink(whole, knob.key, below.inks[knob.key])
        else:
            world = _with_card(whole, int(knob.key), below.cards[int(knob.key)])
        found.append(moved(world, [knobs[n] for n in own], [at[n] + steps[n] * (n == k) for n in own]))
    return found


# -- ranges -------------------------------------------------------------------------


def _of_ranges(believed: Believed, seen: Sequence[Observation], table: Mapping[str, float]) -> Iterable[Knob]:
    members: dict[str, list[str]] = {}
    for key, name in believed.ranges.items():
        if name and key in believed.inks and "lays" not in dict(believed.inks[key].constants):
            members.setdefault(name, []).append(key)
    for name, keys in members.items():
        laid = [n for n, one in enumerate(seen) if any(_laid_by_tool(one, key) for key in keys)]
        if len({key for key in keys for n in laid if key in used_inks(seen[n].job)}) > 1:
            yield Knob("range", name, "strength", _range_strength(tuple(keys), table["learn.range"]), frozenset(laid))


def _range_strength(keys: tuple[str, ...], sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        for key in keys:
            world = _own_row(key, "lays", sd)(world, by)
        return world

    return move


# -- inks ---------------------------------------------------------------------------


def _of_inks(believed: Believed, seen: Sequence[Observation], table: Mapping[str, float]) -> Iterable[Knob]:
    for key, ink in believed.inks.items():
        touched = frozenset([n for n, each in enumerate(seen) if key in used_inks(each.job)])
        if not touched:
            continue
        by_tool = any(_laid_by_tool(seen[n], key) for n in touched)
        doubt = swatch_dose_doubt(ink.swatch, table)
        if by_tool:
            sd = max(doubt, table["learn.ink"])
            yield Knob("ink", key, "strength", _strength(key, sd), touched, sd)
        light = str(seen[min(touched)].job.illuminant)
        ready = make_ink(ink, make_card(ink.swatch.card or seen[min(touched)].job.cardstock, light), light)
        unknown = ink.formula is Formula.UNKNOWN
        if ink.swatch.on_dark is None:
            if ready.values["hiding"] > 0.03:
                stated = table["learn.hiding_stated"] if ink.hiding is not None else log(table["margin.hiding"])
                yield Knob("ink", key, "hiding", _hiding(key, ready.values["hiding"], stated * (1 + unknown)), touched)
            elif ready.values["trace"] > 0:
                yield Knob("ink", key, "trace", _own_row(key, "trace", table["learn.trace"]), touched)
        if 0.05 < ready.values["film_share"] < 0.95:
            sd = table["learn.soak_share"] * (1 + unknown)
            yield Knob("ink", key, "soak_share", _soak_share(key, 1 - ready.values["film_share"], sd), touched)
        spread = table[f"known.{ink.swatch.known}.spread"] if ink.swatch.spread is None else ink.swatch.spread
        if spread >= 0.1:
            lab, light_of = _lab_of(ink.swatch.colour, light)
            for axis, step in enumerate(_steps(lab, spread / RADIUS)):
                yield Knob("ink", key, AXES[axis], _colour(key, step, light_of, lab), touched)
        dropped = frozenset([n for n in touched if seen[n].drops])
        if dropped:
            yield Knob("ink", key, "lift", _own_row(key, "lift", table["learn.water"]), dropped)


def _laid_by_tool(one: Observation, key: str) -> bool:
    return any(
        isinstance(entry, LayDown) and entry.dose is None and any(ink == key for ink, _ in entry.parts)
        for entry in one.job.stack
    )


def _with_ink(world: Supposed, key: str, ink: Ink) -> Supposed:
    return replace(world, inks={**world.inks, key: ink})


def _own(world: Supposed, ink: Ink, column: str) -> float:
    """A column of an ink's formula, as the ink itself or the table has it."""
    own = dict(ink.constants)
    return own[column] if column in own else world.row(f"formula.{ink.formula}.{column}")


def _bounded(row: str, value: float) -> float:
    return min(TABLE[row].high, max(TABLE[row].low, value))


def _strength(key: str, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        ink = world.inks[key]
        now = 1.0 if ink.strength is None else ink.strength
        return _with_ink(world, key, replace(ink, strength=min(5.0, max(0.2, now * exp(sd * by)))))

    return move


def _hiding(key: str, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        scatter = now / (1 - now) * exp(sd * by)
        return _with_ink(world, key, replace(world.inks[key], hiding=min(0.98, scatter / (1 + scatter))))

    return move


def _soak_share(key: str, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        return _with_ink(world, key, replace(world.inks[key], soak_share=min(1.0, max(0.0, now + sd * by))))

    return move


def _own_row(key: str, column: str, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        ink = world.inks[key]
        value = _bounded(f"formula.{ink.formula}.{column}", _own(world, ink, column) * exp(sd * by))
        own = tuple(sorted({**dict(ink.constants), column: value}.items()))
        return _with_ink(world, key, replace(ink, constants=own))

    return move


def _lab_of(colour: Colour, light: str) -> tuple[tuple[float, float, float], Illuminant]:
    """CIELAB of a colour, in its own light if it names one."""
    if colour.lab is not None:
        return colour.lab, colour.lab_illuminant
    l, a, b = cm.lab(spectrum_of(colour, light)[0], light).tolist()
    return (l, a, b), Illuminant(light)


def _steps(lab: tuple[float, float, float], sd: float) -> list[tuple[float, float, float]]:
    """Three steps in CIELAB, each `sd` ΔE00 long, across one another to the eye, and as near to its axes as can be.

    The inverse square root of the metric MᵀM that is itself symmetric (Löwdin 1950): of all steps
    that lie so to one another those nearest to `AXES`.
    """
    metric, _ = local_metric(*lab)
    squares, ways = np.linalg.eigh(metric.T @ metric)
    found = (ways / np.sqrt(squares)) @ ways.T * sd
    return [(float(s[0]), float(s[1]), float(s[2])) for s in found.T]


def _shifted(
    colour: Colour, step: tuple[float, float, float], by: float, light: Illuminant, first: tuple[float, float, float]
) -> Colour:
    lab = colour.lab if colour.lab is not None and colour.lab_illuminant is light else first
    l, a, b = (v + by * s for v, s in zip(lab, step, strict=True))
    return Colour(
        lab=(min(100.0, max(0.0, l)), min(160.0, max(-160.0, a)), min(160.0, max(-160.0, b))), lab_illuminant=light
    )


def _colour(
    key: str, step: tuple[float, float, float], light: Illuminant, first: tuple[float, float, float]
) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        ink = world.inks[key]
        colour = _shifted(ink.swatch.colour, step, by, light, first)
        return _with_ink(world, key, replace(ink, swatch=replace(ink.swatch, colour=colour)))

    return move


# -- cards --------------------------------------------------------------------------


def _of_cards(believed: Believed, seen: Sequence[Observation], table: Mapping[str, float]) -> Iterable[Knob]:
    for place, card in enumerate(believed.cards):
        touched = frozenset([n for n, each in enumerate(seen) if believed.place(each.job) == place])
        stacks = [seen[n].job.stack for n in touched]
        entries = [entry for stack in stacks for entry in stack if isinstance(entry, LayDown)]
        if not touched:
            continue
        light = str(seen[min(touched)].job.illuminant)
        ready = make_card(card, light)
        at, name = ready.ground, str(place)

        # What its owner gave is known better than what its surface word says.
        floor = card.floor or dict(card.constants).get("floor", TABLE[f"surface.{card.surface}.floor"].value)
        sd = table["learn.floor"] * (0.5 if card.floor is not None else 1.0)
        yield Knob("card", name, "floor", _card_floor(place, floor, sd), touched)
        if any(entry.dose is None for entry in entries):
            sd = table["learn.absorbency"] * (0.5 if card.absorbency is not None else 1.0)
            yield Knob("card", name, "absorbency", _card_absorbency(place, at.absorbency, sd), touched)
            sd = table["learn.texture"] * (0.5 if card.texture is not None else 1.0)
            yield Knob("card", name, "texture", _card_texture(place, at.texture, sd), touched)
            if any(_inks_of(stack) > 1 for stack in stacks):
                yield Knob("card", name, "exchange", _card_row(place, "exchange", table["learn.exchange"]), touched)
        if any(sum(isinstance(e, LayDown) and e.dose is not None for e in stack) > 1 for stack in stacks):
            sd = table["margin.takeup"] * (0.5 if card.takeup is not None else 1.0)
            yield Knob("card", name, "takeup", _card_takeup(place, at.takeup, sd), touched)
            yield Knob("card", name, "carries", _card_row(place, "carries", table["learn.carries"]), touched)
        if any(entry.dose is None for entry in entries) or len(entries) > 1:
            yield Knob("card", name, "n", _card_row(place, "n", table["learn.n"]), touched)
        spread = table[f"known.{card.known}.spread"] * 0.5
        if spread >= 0.1:
            lab, light_of = _lab_of(card.colour, light)
            for axis, step in enumerate(_steps(lab, spread / RADIUS)):
                yield Knob("card", name, AXES[axis], _card_colour(place, step, light_of, lab), touched)


def _inks_of(stack: Sequence[object]) -> int:
    return len({ink for entry in stack if isinstance(entry, LayDown) for ink, _ in entry.parts})


def _with_card(world: Supposed, place: int, card: Card) -> Supposed:
    return replace(world, cards=(*world.cards[:place], card, *world.cards[place + 1 :]))


def _card_absorbency(place: int, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        value = min(1.0, max(0.0, now + sd * by))
        return _with_card(world, place, replace(world.cards[place], absorbency=value))

    return move


def _card_texture(place: int, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        value = min(1.0, max(0.0, now + sd * by))
        return _with_card(world, place, replace(world.cards[place], texture=value))

    return move


def _card_takeup(place: int, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        value = min(1.2, max(0.05, now + sd * by))
        return _with_card(world, place, replace(world.cards[place], takeup=value))

    return move


def _card_floor(place: int, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        return _with_card(world, place, replace(world.cards[place], floor=min(0.5, max(1e-4, now * exp(sd * by)))))

    return move


def _card_row(place: int, column: str, sd: float) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        card = world.cards[place]
        row = f"surface.{card.surface}.{column}"
        value = _bounded(row, dict(card.constants).get(column, TABLE[row].value) + sd * by)
        own = tuple(sorted({**dict(card.constants), column: value}.items()))
        return _with_card(world, place, replace(card, constants=own))

    return move


def _card_colour(
    place: int, step: tuple[float, float, float], light: Illuminant, first: tuple[float, float, float]
) -> Callable[[Supposed, float], Supposed]:
    def move(world: Supposed, by: float) -> Supposed:
        card = world.cards[place]
        return _with_card(world, place, replace(card, colour=_shifted(card.colour, step, by, light, first)))

    return move


# -- the table ----------------------------------------------------------------------


def _of_rows(believed: Believed, seen: Sequence[Observation], table: Mapping[str, float]) -> Iterable[Knob]:
    base = dict(seen[0].job.constants) if seen else {}
    rows: dict[str, tuple[float, set[int]]] = {}

    def may(row: str, sd: float, n: int) -> None:
        rows.setdefault(row, (sd, set()))[1].add(n)

    for n, one in enumerate(seen):
        stated = sum(isinstance(entry, LayDown) and entry.dose is not None for entry in one.job.stack)
        if stated > 1:
            may("takeup.strength", table["learn.takeup"], n)
        if stated > 2:
            may("takeup.third", table["learn.takeup"], n)
        formulas = {believed.inks[key].formula for key in used_inks(one.job)}
        for entry in one.job.stack:
            if isinstance(entry, Treatment):
                for row in _TREATED[entry]:
                    may(row, table["learn.treatment"], n)
                for column in _TREATED_INKS[entry]:
                    for formula in formulas:
                        may(f"formula.{formula}.{column}", table["learn.treatment"], n)
            elif entry.dose is None and entry.tool is not None:
                if entry.tool.value != "pad":
                    may(f"tool.{entry.tool}.amount", table["learn.hand"], n)
                may(f"tool.{entry.tool}.cover", table["learn.cover"], n)
                if entry.tool.swept:
                    may(f"tool.{entry.tool}.build", table["learn.build"], n)
                if entry.tool.row.patch < 1:
                    may(f"tool.{entry.tool}.patch", table["learn.cover"], n)
                if entry.load is not Load.NORMAL:
                    may(f"load.{entry.load}", table["learn.load"], n)
                for key, _ in entry.parts:
                    may(f"formula.{believed.inks[key].formula}.lays", table["learn.formula"], n)
                    if not believed.inks[key].formula.row.soaks:
                        may("capacity.film", table["learn.capacity"], n)
        if one.wet():
            may("wet.floor", table["learn.wet"], n)
            for formula in formulas:
                for column, part in (("wet_pores", 1.0), ("wet_vividness", 0.1), ("wet_scatter", 1.0)):
                    may(f"formula.{formula}.{column}", table["learn.wet"] * part, n)
    for row, (sd, touched) in rows.items():
        now = base.get(row, TABLE[row].value)
        if now > 0:
            yield Knob("row", row, row.rsplit(".", 1)[-1], _row(row, now, sd), frozenset(touched))


_TREATED: Mapping[Treatment, tuple[str, ...]] = {
    Treatment.SPRITZ: (),
    Treatment.HEAT: (),
    Treatment.GLAZE: ("glaze.floor",),
    Treatment.BLOT: ("blot.dose",),
}
_TREATED_INKS: Mapping[Treatment, tuple[str, ...]] = {
    Treatment.SPRITZ: ("milk",),
    Treatment.HEAT: ("heat_paling",),
    Treatment.GLAZE: ("glaze_scatter",),
    Treatment.BLOT: (),
}


def _row(row: str, now: float, sd: float) -> Callable[[Supposed, float], Supposed]:
    low, high = TABLE[row].low, TABLE[row].high

    def move(world: Supposed, by: float) -> Supposed:
        if high == 1.0 and row.endswith((".cover", ".patch")):
            # Of what is left bare, by a factor: a share that is all but whole stays so.
            value = 1 - (1 - now) * exp(-sd * by)
        else:
            value = now * exp(sd * by)
        return replace(world, rows={**world.rows, row: min(high, max(low, value))})

    return move
