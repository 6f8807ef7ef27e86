"""Colours, margins and chances in a cardmaker's words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot

from wempa.optics.grid import Floats
from wempa.optics.namespace import SCALAR

from .circle import painter_hue
from .trade_names import trade_name, trade_names


def describe(lab: Sequence[float]) -> str:
    """What a cardmaker calls a colour of CIELAB (L*, a*, b*), such as ``dusky pink`` or ``teal``."""
    lightness, a, b = (float(component) for component in lab)
    return trade_name((lightness, a, b))


def describe_all(labs: Floats) -> list[str]:
    """The same of many, (n, 3); much quicker than one by one."""
    return trade_names(labs)


def margin_words(delta_e: float) -> str:
    """A margin in words: how close the card is likely to come."""
    if delta_e < 2:
        return "as good as certain"
    if delta_e < 4:
        return "likely within a shade"
    if delta_e < 7:
        return "likely within a shade or two"
    return "roughly this" if delta_e < 11 else "only a hint: try it on scrap"


def chance_words(chance: float) -> str:
    """A chance of mud, 0–1, to the nearest 5 %: the margin itself is not known more closely."""
    percent = round(chance * 20) * 5
    if percent < 5:
        return "hardly any chance of mud"
    return "mud, almost surely" if percent > 95 else f"about {percent}\u00a0% chance of mud"


# Where a colour leans when its hue turns that way, by painter's degrees of the lean.
_LEANS = (
    (0, "redder"), (60, "more orange"), (120, "yellower"), (180, "greener"), (240, "bluer"), (300, "more purple"),
    (330, "pinker"),
)  # fmt: skip
_SEEN, _LIKE = 3.0, 2.5
# A colour has turned as far as a lean when it is so near it, in painter's degrees.
_ARRIVED = 15


def compare(lab: Sequence[float], other: Sequence[float], table: Mapping[str, float]) -> str:
    """A colour beside another, both CIELAB, in at most two words: ``darker and greyer than``.

    Lightness counts from 3 L* on, dullness from 4 of chroma, hue from 3 across; the two
    that differ most are said. Beside a grey it is the hue that counts, not how clean it
    is. Within 2.5 in all it is ``all but`` the other.
    """
    lightness, chroma = lab[0] - other[0], hypot(lab[1], lab[2]) - hypot(other[1], other[2])
    around = hypot(lab[1] - other[1], lab[2] - other[2])
    across = max(around * around - chroma * chroma, 0.0) ** 0.5
    grey = table["colour.grey"]
    beside_grey = hypot(other[1], other[2]) < grey
    said = []
    if abs(lightness) >= _SEEN:
        said.append((abs(lightness), "lighter" if lightness > 0 else "darker"))
    if abs(chroma) >= _SEEN + 1 and not (beside_grey and chroma > 0):
        said.append((abs(chroma), "cleaner" if chroma > 0 else "greyer"))
    turned = around if beside_grey else across
    if turned >= _SEEN and hypot(lab[1], lab[2]) >= grey:
        said.append((turned, _lean(lab, other, beside_grey)))
    if not said:
        return "all but" if hypot(lightness, around) < _LIKE else "close to"
    words = [word for _, word in sorted(said, reverse=True)[:2]]
    return f"{' and '.join(words)} than"


def leans_to(lab: Sequence[float], other: Sequence[float]) -> str:
    """Which way a colour has turned, from the first to the other, both with a hue: ``redder``, ``more purple``."""
    return _lean(other, lab, False)


def _lean(lab: Sequence[float], other: Sequence[float], beside_grey: bool) -> str:
    """Which way a colour leans from another, as a painter says it."""
    end = painter_hue(lab[1], lab[2], SCALAR)
    if beside_grey:
        return min(_LEANS, key=lambda lean: abs((end - lean[0] + 180) % 360 - 180))[1]
    # The first named hue that lies in that direction, on the shorter way round, or almost there.
    turn = (end - painter_hue(other[1], other[2], SCALAR) + 180) % 360 - 180
    way = 1 if turn > 0 else -1
    return min(_LEANS, key=lambda lean: ((lean[0] - end) * way + _ARRIVED) % 360)[1]


def counted(number: int, what: str) -> str:
    """A number of things: ``1 seam``, ``2 seams``."""
    return f"{number} {what}" if number == 1 else f"{number} {what}s"
