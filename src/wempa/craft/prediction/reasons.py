"""Why a verdict is what it is, in a cardmaker's words."""

from __future__ import annotations

from collections.abc import Mapping
from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from wempa.craft.codes import NoteCode
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.families import family_of
from wempa.craft.colour.naming import describe
from wempa.craft.job import Ink, Note
from wempa.craft.vocabulary import VerdictKind, Way
from wempa.optics.grid import WAVELENGTHS, Floats
from wempa.optics.ink import Pigmentation
from wempa.optics.namespace import SCALAR

from .rows import BatchRow, uppermost
from .verdict import Judgement, Overlaps, hides

if TYPE_CHECKING:
    from .prepared import PreparedJob

_THIRDS = ("blue", "green", "red")
_THIRD_BANDS: Floats = np.stack(
    [
        ((start <= WAVELENGTHS) & (stop > WAVELENGTHS)) / ((start <= WAVELENGTHS) & (stop > WAVELENGTHS)).sum()
        for start, stop in ((420, 490), (500, 580), (600, 680))
    ],
    axis=1,
)
# How much mud an owned colour must take off before that is worth a word.


def find_way(row: BatchRow, inks: Pigmentation, table: Mapping[str, float]) -> Way | None:
    """Which of three ways made the colour: seen through, mixed wet, or covered.

    Mixed wet when several inks share the uppermost group; covered when its films
    let less than `verdict.covered` of the light through to what lies below and back.
    """
    if not row.parts:
        return None
    ink, amount = uppermost(row)
    if ink < 0:
        return Way.MIXED_WET
    return Way.COVERED if bool(hides(inks.scattering[ink] * amount, table)) else Way.SEEN_THROUGH


def explain(
    kind: VerdictKind,
    found: Judgement,
    row: BatchRow,
    bench: PreparedJob,
    overlaps: Overlaps,
    inks: Mapping[str, Ink],
    table: Mapping[str, float],
) -> tuple[Note, ...]:
    """The reasons for a verdict, the weightiest first; at least one if there is an ink."""
    names = [inks[key].name or key for key in bench.keys]
    reasons: list[Note] = []
    if not names:
        return (Note(NoteCode.BARE, "The bare card."),)
    several = len(names) > 1
    below = [name for name, ground in zip(names, found.grounds, strict=False) if ground]
    traces = _traces(found, bench, names, table)
    shown = [name for name in names if name not in below and name not in traces] or names
    loss = float(found.mixing_loss)
    if several and kind in (VerdictKind.MUDDY, VerdictKind.MUTED) and loss > table["reasons.lost"]:
        opposites = found.promise is not None and float(found.promise.opposed) > table["reasons.opposed"]
        reasons += _what_is_lost(row, bench, names, opposites, table)
        reasons.append(Note(NoteCode.CHROMA_LOST, f"{parts_word(loss)} of the brightness you would expect is gone."))
    # It is said of a clean overlap too: the card's share is seen before it spoils anything.
    if float(found.card_loss) > table["reasons.card"] and kind is not VerdictKind.NO_NEW_COLOUR:
        reasons.append(
            Note(
                NoteCode.CARD_DULLS,
                f"The card's own {family_of(overlaps.card, table)} takes "
                f"{parts_word(float(found.card_loss)).lower()} of the colour away.",
            )
        )
    if kind is VerdictKind.MUDDY:
        reasons.append(
            Note(
                NoteCode.NEAR_MUD,
                f"What is left is {_article(describe(overlaps.result))}.",
            )
        )
    hues = _hues_mixed_wet(row, bench, table)
    if hues >= table["reasons.hues"] and kind is not VerdictKind.CLEAN:
        reasons.append(
            Note(NoteCode.HUES_MIXED_WET, f"{hues} different hues are mixed wet: let each dry before the next.")
        )
    distances = found.to_laid
    nearest = distances.index(min(distances))
    if kind is VerdictKind.SWAMPED and several:
        if found.to_card is None or distances[nearest] <= found.to_card:
            others = _listed([name for i, name in enumerate(names) if i != nearest])
            reasons.append(
                Note(NoteCode.SWAMPED_BY_INK, f"{names[nearest]} is much stronger: use less of it, or more {others}.")
            )
        else:
            reasons.append(
                Note(NoteCode.SWAMPED_BY_CARD, "The card hides the inks: try a lighter card, or white underneath.")
            )
    elif kind is VerdictKind.SWAMPED:
        reasons.append(
            Note(NoteCode.SWAMPED_BY_CARD, f"The card hides {names[0]}: try a lighter card, or white underneath.")
        )
    if kind is VerdictKind.NO_NEW_COLOUR:
        either = f"{_listed(names)} are much the same: together they look like a deeper coat of either."
        text = either if several else f"{names[0]} is much the same as the card: it only makes it a little deeper."
        reasons.append(Note(NoteCode.TOO_ALIKE, text))
    if kind is VerdictKind.MUTED and not reasons:
        reasons.append(Note(NoteCode.DULL_PARENT, f"One of {_listed(names)} is greyed itself, so the mix is dusky."))
    if kind is VerdictKind.CLEAN and not found.covered:
        if len(shown) > 1:
            text = f"{_listed(shown)} blend cleanly to {_article(describe(overlaps.result))}."
            reasons.append(Note(NoteCode.KEEPS_PROMISE, text))
        elif float(found.card_loss) <= table["reasons.card"]:
            reasons.append(Note(NoteCode.SINGLE, f"{shown[0]} shows as itself."))
    if below:
        text = f"{_listed(below)} below keeps the card from showing through."
        reasons.append(Note(NoteCode.GROUND, text))
    if kind is not VerdictKind.MUDDY and float(found.spared) > table["reasons.spared"]:
        text = "It comes close to an ink that you own, so it counts as a colour and not as mud."
        reasons.append(Note(NoteCode.OWNED_COLOUR, text))
    if several and found.covered:
        reasons.append(Note(NoteCode.COVERED, f"{_top_name(row, bench, names)} sits on top and covers what is below."))
    return tuple(reasons)


def _traces(found: Judgement, bench: PreparedJob, names: list[str], table: Mapping[str, float]) -> set[str]:
    """Inks of some colour of which so little lies there that nobody sees it: nothing is said of them."""
    if found.promise is None or len(found.promise.shown) != len(names):
        return set()
    hued = [hypot(*ink.lab.tolist()[1:]) >= table["colour.grey"] for ink in bench.inks]
    return {name for name, own, shown in zip(names, hued, found.promise.shown, strict=True) if own and not shown}


def _article(words: str) -> str:
    return f"{'an' if words[0] in 'aeiou' else 'a'} {words}"


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def _top_name(row: BatchRow, bench: PreparedJob, names: list[str]) -> str:
    stride = len(bench.palette.inks.film_share) // max(1, len(names))
    return names[int(row.parts[-1].ink) // stride]


def _hues_mixed_wet(row: BatchRow, bench: PreparedJob, table: Mapping[str, float]) -> int:
    """How many distinct painter's hues are in the largest wet group."""
    stride = len(bench.palette.inks.film_share) // max(1, len(bench.inks))
    most = 0
    groups = [part.group for part in row.parts]
    for group in {g for g in groups if groups.count(g) > 2}:
        hues: list[float] = []
        for part in row.parts:
            _, a, b = bench.inks[part.ink // stride].lab.tolist()
            hue = painter_hue(a, b, SCALAR)
            if (
                part.group == group
                and hypot(a, b) > table["reasons.hued"]
                and all(abs((hue - other + 180) % 360 - 180) >= table["reasons.hues_apart"] for other in hues)
            ):
                hues.append(hue)
        most = max(most, len(hues))
    return most


def _what_is_lost(
    row: BatchRow, bench: PreparedJob, names: list[str], opposites: bool, table: Mapping[str, float]
) -> list[Note]:
    """What one ink shows and another takes out, per pair of inks."""
    inks = bench.palette.inks
    stride = len(inks.film_share) // max(1, len(names))
    doses = [sum(part.dose for part in row.parts if part.ink == stride * i) for i in range(len(names))]
    # There and back, averaged over each third: (inks, 3).
    passes = np.exp(-2 * inks.absorption[::stride] * np.array(doses)[:, None]) @ _THIRD_BANDS
    lost: dict[tuple[int, int], list[str]] = {}
    for word, through in zip(_THIRDS, passes.T.tolist(), strict=True):
        most, least = max(through), min(through)
        if most > table["reasons.times"] * least and most > table["reasons.gives"] and least < table["reasons.takes"]:
            lost.setdefault((through.index(most), through.index(least)), []).append(word)
    said: list[Note] = []
    for (giver, taker), words in lost.items():
        _, a, b = bench.inks[giver].lab.tolist()
        if hypot(a, b) < table["colour.grey"]:
            # Nobody misses a colour that a grey or a white never had.
            continue
        if opposites and (taker, giver) in lost:
            text = f"{names[giver]} and {names[taker]} are opposites: each takes out what the other shows."
            if giver < taker:
                said.append(Note(NoteCode.OPPOSITES, text))
        elif len(words) == len(_THIRDS):
            said.append(Note(NoteCode.SOAKS_UP, f"{names[taker]} makes {names[giver]} much darker."))
        else:
            said.append(
                Note(NoteCode.SOAKS_UP, f"{names[taker]} takes the {' and '.join(words)} out of {names[giver]}.")
            )
    return said


def parts_word(share: float) -> str:
    """A share of a whole, 0–1, in words: ``About two thirds``."""
    return min(_PARTS, key=lambda part: abs(part[0] - share))[1]


_PARTS = (
    (0.1, "A little"), (0.25, "About a quarter"), (0.33, "About a third"), (0.5, "About half"),
    (0.67, "About two thirds"), (0.75, "About three quarters"), (0.9, "Most"), (1.0, "Nearly all"),
)  # fmt: skip
