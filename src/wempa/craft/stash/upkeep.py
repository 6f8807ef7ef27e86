"""What follows from the state of inks, tools and cards: pads, loads, reminders, weights."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from wempa.craft.vocabulary import Basis, Load, PadKind, PadState

PAD_LOAD: dict[PadState, Load] = {
    PadState.FRESH: Load.JUICY,
    PadState.GOOD: Load.NORMAL,
    PadState.DRYING: Load.LIGHT,
    PadState.DRY: Load.BLOTTED,
}
"""The load that a tool takes from such a pad unless one does something about it."""

# g/m² of one pound: 0.4536 kg on 500 sheets of the basic size, in inches.
_BASIC_SIZE = {Basis.COVER: (20, 26), Basis.TEXT: (25, 38), Basis.INDEX: (25.5, 30.5), Basis.BRISTOL: (22.5, 28.5)}
_POUND_G, _INCH_M, _REAM = 453.59237, 0.0254, 500


def grams_per_square_metre(pounds: float, basis: Basis) -> float:
    """Grammage of card whose weight is given in pounds of a basis."""
    width, height = _BASIC_SIZE[basis]
    return pounds * _POUND_G / (_REAM * width * height * _INCH_M**2)


def pad_state(
    kind: PadKind | None, said: PadState | None, re_inked: date | None, today: date, table: Mapping[str, float]
) -> PadState | None:
    """What a pad is like: as its owner says, else from its last re-inking; None if nobody knows."""
    if said is not None or re_inked is None:
        return said
    age = (today - re_inked).days
    if age <= table["pad.fresh_days"]:
        return PadState.FRESH
    keeps = table["pad.foam_days"] if kind is PadKind.FOAM else table["pad.felt_days"]
    if age > keeps * table["pad.dry_after"]:
        return PadState.DRY
    return PadState.DRYING if age > keeps else PadState.GOOD


def is_drying_out(state: PadState | None) -> bool:
    """Whether what a pad gives is not sure any more: less than usual, and less evenly."""
    return state in (PadState.DRYING, PadState.DRY)


@dataclass(frozen=True, slots=True)
class Reminder:
    """Something that wants doing, with a stable code."""

    code: str
    text: str


def pad_reminders(
    name: str,
    state: PadState | None,
    used_up: bool,
    refill: bool,
    loads: int,
    table: Mapping[str, float],
) -> list[Reminder]:
    """What an ink wants: its own pad in one sentence. `loads` are those taken since it was re-inked."""
    if used_up:
        return [Reminder("refill_it", f"{name} is used up, and a refill is at hand.")] if refill else []
    if is_drying_out(state):
        how = "is drying out" if state is PadState.DRYING else "is all but dry"
        return [Reminder("re_ink", f"The pad of {name} {how}: {'re-ink it' if refill else 'it wants a refill'}.")]
    if loads >= table["pad.wears_loads"]:
        text = f"About {loads} loads were taken from {name} since it was re-inked: see whether it still gives evenly."
        return [Reminder("much_used", text)]
    return []


def tool_reminders(
    name: str,
    foam: bool,
    changed: date | None,
    worn: bool,
    today: date,
    table: Mapping[str, float],
    loads: int = 0,
) -> list[Reminder]:
    """What a tool wants: foam used often is changed after some weeks, or `loads` since it was changed."""
    if worn:
        return [Reminder("worn", f"{name} is worn and leaves marks: change it.")]
    if foam and loads >= table["foam.wears_loads"]:
        text = f"{name} took ink about {loads} times since the foam was changed: look whether it leaves edges."
        return [Reminder("change_foam", text)]
    if not foam or changed is None:
        return []
    days = (today - changed).days
    if days <= table["foam.wears_days"]:
        return []
    weeks = round(days / 7)
    text = f"{name}: the foam is {weeks} weeks old; used often, it wants changing."
    return [Reminder("change_foam", text)]


def card_reminders(name: str, left: float | None, table: Mapping[str, float]) -> list[Reminder]:
    """What a card wants: a word before it runs out."""
    if left is None or left > table["card.few"]:
        return []
    if left == 0:
        return [Reminder("none_left", f"There is no {name} left.")]
    return [Reminder("few_left", f"{left:g} {'sheet' if left == 1 else 'sheets'} of {name} left.")]
