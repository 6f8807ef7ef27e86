"""What was learned, in a cardmaker's words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

from wempa.craft.codes import NoteCode
from wempa.craft.colour.naming import compare
from wempa.craft.constants import TABLE
from wempa.craft.job import Ink, Note
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.vocabulary import Formula, Illuminant, Load, Tool
from wempa.optics import colorimetry as cm

from .knobs import AXES
from .learning import FEWEST, Fit
from .observations import Believed

# A knob is worth a sentence if it moved at least this many standard deviations and more is known of it than before.
_MOVED, _KNOWN = 0.35, 0.93
_SURE = 2.0
# From this factor on it is said in fractions: half as much again, a third less.
_TOLD = 1.07
_SHARES = (
    (0.10, "a tenth"),
    (0.15, "a seventh"),
    (0.20, "a fifth"),
    (0.25, "a quarter"),
    (1 / 3, "a third"),
    (0.4, "two fifths"),
    (0.5, "half"),
    (0.6, "three fifths"),
    (2 / 3, "two thirds"),
    (0.75, "three quarters"),
)
_THOUGHT = "I thought"
_WIDTHS = {"cover": "cover", "patch": "cover"}


@dataclass(frozen=True, slots=True)
class LessonSaid:
    """One thing that was learned."""

    of: str
    """``hand``, ``ink``, ``range``, ``formula``, ``card`` or ``look``."""
    key: str
    """Which: a tool's word, an ink's key, a range, a formula, the place of a card."""
    text: str
    """One sentence."""
    factor: float | None
    """The factor on what it was taken for, where one number says it; None elsewhere."""


def share_said(factor: float, against: str = "") -> str:
    """A factor in words, as of an amount: a third less than something, half as much again as it."""
    than, like = (f" than {against}", f" as {against}") if against else ("", "")
    if factor >= 1.85:
        return ("about" if factor < 2.5 else "more than") + f" twice as much{like}"
    share = factor - 1 if factor > 1 else 1 - factor
    said = min(_SHARES, key=lambda each: abs(each[0] - share))[1]
    if said == "half":
        return f"about half as much{' again' if factor > 1 else ''}{like}"
    return f"about {said} {'more' if factor > 1 else 'less'}{than}"


def lessons(fit: Fit, believed: Believed, cards: Sequence[str], table: Mapping[str, float]) -> list[LessonSaid]:
    """What moved enough to be told, hands first; `cards` are the names of the cards, in their order."""
    found: list[tuple[int, LessonSaid]] = []
    colours: list[str] = []
    for knob, at, doubt in zip(fit.knobs, fit.at.tolist(), fit.doubt.tolist(), strict=True):
        if abs(at) < _MOVED or doubt > _KNOWN:
            continue
        # How passes add up is easily mistaken for how much they lay, so it is told only where it is sure.
        if knob.what == "build" and abs(at) < _SURE * doubt:
            continue
        up = at > 0
        if knob.of == "ink":
            name = believed.inks[knob.key].name or knob.key
            if knob.what in AXES:
                colours.append(knob.key)
                continue
            text, factor = _of_ink(knob.what, name, up, at * knob.dose)
            found += [(2, LessonSaid("ink", knob.key, text, factor))] if text else []
        elif knob.of == "card":
            text = _of_card(knob.what, cards[int(knob.key)], up)
            found += [(4, LessonSaid("card", knob.key, text, None))] if text else []
        elif knob.of == "range":
            factor = exp(at * table["learn.range"])
            if max(factor, 1 / factor) > _TOLD:
                text = f"Inks of {knob.key} come to {share_said(factor, _THOUGHT)}."
                found.append((1, LessonSaid("range", knob.key, text, factor)))
        else:
            factor = fit.world.rows[knob.key] / TABLE[knob.key].value
            one = _of_row(knob.key, factor, doubt * table.get(f"learn.{_WIDTHS.get(knob.what, 'hand')}", 0.0))
            found += [(0 if one.of == "hand" else 3, one)] if one else []
    for key in dict.fromkeys(colours):
        text = _of_colour(believed.inks[key], fit.world.inks[key], key, table)
        found += [(2, LessonSaid("ink", key, text, None))] if text else []
    return [lesson for _, lesson in sorted(found, key=lambda each: each[0])]


def _of_ink(what: str, name: str, up: bool, moved: float) -> tuple[str, float | None]:
    if what == "strength":
        factor = exp(moved)
        if max(factor, 1 / factor) < _TOLD:
            return "", None
        return f"{name} comes on {'stronger' if up else 'weaker'}: {share_said(factor, 'its swatch says')}.", factor
    said = {
        "hiding": f"{name} covers {'better' if up else 'less'} than I thought.",
        "soak_share": f"{'More' if up else 'Less'} of {name} soaks in than I thought.",
        "lift": f"Water takes {'more' if up else 'less'} of {name} away than I thought.",
    }
    return said.get(what, ""), None


def _of_colour(was: Ink, now: Ink, key: str, table: Mapping[str, float]) -> str:
    """How the colour of a swatch has moved, in words; empty where an eye would see no difference."""
    light = str(Illuminant.D65)
    one, other = (cm.lab(spectrum_of(ink.swatch.colour, light)[0], light).tolist() for ink in (now, was))
    told = compare(one, other, table)
    return "" if told in ("all but", "close to") else f"{was.name or key} is {told} its swatch says."


def _of_card(what: str, name: str, up: bool) -> str:
    return {
        "floor": f"{name} {'stays lighter' if up else 'gets darker'} under much ink than I thought.",
        "absorbency": f"{name} drinks {'more' if up else 'less'} ink than I thought.",
        "texture": f"{name} is {'rougher' if up else 'smoother'} than I thought: {'more' if up else 'fewer'} specks.",
        "exchange": "" if up else f"On {name} the ink laid first gives way less than I thought.",
        "takeup": f"{name} takes {'more' if up else 'less'} of a second print than I thought.",
    }.get(what, "")


def _give_or_take(doubt: float) -> str:
    """How far an amount is still in doubt, where that is much."""
    if doubt < 0.08:
        return ""
    return f", give or take {min(_SHARES, key=lambda each: abs(each[0] - doubt))[1]}"


def _of_row(row: str, factor: float, doubt: float) -> LessonSaid | None:
    room, *names = row.split(".")
    if max(factor, 1 / factor) < _TOLD and names[-1] not in ("cover", "patch", "wet_vividness"):
        return None
    more = factor > 1
    if room == "tool":
        tool = next(each for each in Tool if each == names[0])
        if names[1] == "amount":
            what = "print" if tool is Tool.STAMP else tool.said
            text = f"Your {what} lays {share_said(factor, _THOUGHT)}{_give_or_take(doubt)}."
            return LessonSaid("hand", tool, text, factor)
        if names[1] == "build":
            text = (
                f"With your {tool.said} each pass adds {'more' if more else 'less'} to the ones before than I thought."
            )
            return LessonSaid("hand", tool, text, factor)
        if names[1] == "patch":
            text = f"One {tool.said} of yours covers {'more' if more else 'less'} of the card than I thought."
            return LessonSaid("hand", tool, text, factor)
        text = f"Your {tool.said} leaves {'fewer' if more else 'more'} bare specks than I thought."
        return LessonSaid("hand", tool, text, factor)
    if room == "load":
        return LessonSaid(
            "hand", names[0], f"{Load(names[0]).said.capitalize()} is {share_said(factor)} with you.", factor
        )
    if room == "formula" and names[1] == "lays":
        said = Formula(names[0]).said
        return LessonSaid("formula", names[0], f"All that is {said} comes to {share_said(factor, _THOUGHT)}.", factor)
    said = {
        "wet.floor": f"Wet card looks {'less deep' if more else 'deeper'} with you than I thought.",
        "glaze.floor": f"Your topcoat deepens {'less' if more else 'more'} than I thought.",
        "capacity.film": f"One go builds up {'more' if more else 'less'} film than I thought.",
    }.get(row, "")
    if room == "formula":
        inks = f"inks that are {Formula(names[0]).said}"
        said = {
            "wet_pores": f"Wet, {inks} look {'deeper' if more else 'less deep'} than I thought.",
            "wet_vividness": f"Wet, {inks} look {'more' if more else 'less'} vivid than I thought.",
            "wet_scatter": f"Wet, {inks} look {'cloudier' if more else 'clearer'} than I thought.",
            "glaze_scatter": f"A topcoat clears {inks} {'less' if more else 'more'} than I thought.",
            "heat_paling": f"Heat pales {inks} {'more' if more else 'less'} than I thought.",
            "milk": f"Where water dried, {inks} go {'milkier' if more else 'less milky'} than I thought.",
        }.get(names[1], "")
    return LessonSaid("look", row, said, factor) if said else None


def notes_of(fit: Fit, names: Sequence[str]) -> list[Note]:
    """Notes on a fit; `names` are those of the swatches."""
    found = []
    if fit.few:
        text = f"Too few to learn from: at least {FEWEST} different swatches are needed. Nothing was changed."
        found.append(Note(NoteCode.TOO_FEW, text))
    for one, other in fit.contrary:
        text = (
            f"{names[one]} and {names[other]} were laid alike and look quite different: "
            "look at both again, one may be another ink or another hand."
        )
        found.append(Note(NoteCode.CONTRARY, text))
    for n in fit.strange:
        text = (
            f"{names[n]} does not fit with the others and counts little: was it another ink, another load, "
            "or a photo in other light?"
        )
        found.append(Note(NoteCode.STRANGE, text))
    if not fit.adopted and not fit.few:
        text = "Swatches that were left out are predicted no better by what the others taught, so nothing is changed."
        found.append(Note(NoteCode.NOT_BETTER, text))
    return found


def evenly(count: int) -> list[str]:
    """Names of swatches that have none."""
    return [f"Swatch {n + 1}" for n in range(count)]


def gain_said(fit: Fit) -> str:
    """By how much swatches that were held out are predicted better, in words."""
    was, now = fit.before[1], fit.after[1]
    if now <= 0 or was <= 0:
        return ""
    ratio = exp(log(now) - log(was))
    much = "a little nearer"
    if ratio < 0.6:
        much = "nearly twice as near" if ratio > 0.5 else "more than twice as near"
    elif ratio < 0.85:
        much = "clearly nearer"
    return f"Swatches that I had not looked at are predicted {much}."
