"""Charts: every ink over every ink, in one batch.

How much of one ink stays on another depends on their formulas and on how their
swatches were made, not on their colours. So doses are resolved once per pair of
*kinds* of ink, and a chart of two hundred inks costs a few dozen resolutions and one
batch for `wempa.optics.stack.reflect`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, Ints, white_point
from wempa.optics.parallel import in_chunks
from wempa.optics.stack import Stacks, reflect_on

from . import constants
from .job import Card, Ink, Job, LayDown
from .predict import VARIANTS, Bench, set_up
from .resolve import resolve
from .verdict import KINDS, Overlaps, judge
from .words import DEFAULT_MUD_LINE, Illuminant, Over, VerdictKind

# Overlaps judged at a time, so that the working arrays stay in the cache.
_JUDGED = 2048


@dataclass(frozen=True, slots=True, eq=False)
class Chart:
    """Every ordered pair of n inks: row index is the lower ink, column the upper.

    The diagonal is the ink laid over itself.
    """

    lab: Floats
    """(n, n, 3), the dry look."""
    mud: Floats
    """(n, n), 0–100."""
    kind: Ints
    """(n, n), index into `verdict.KINDS`."""
    alone: Floats
    """(n, 3), each ink by itself, laid as the lower one."""

    def kind_of(self, below: int, above: int) -> VerdictKind:
        """The verdict on one cell."""
        return KINDS[int(self.kind[below, above])]


def ordered_pairs(
    inks: Sequence[Ink],
    card: Card,
    way: LayDown,
    *,
    illuminant: Illuminant = Illuminant.D65,
    mud_line: float = DEFAULT_MUD_LINE,
    overrides: constants.Overrides = (),
) -> Chart:
    """Predict and judge every ink laid over every ink on a card.

    `way` says how each is put on (its ink is left open) and whether the second goes
    over the first dry or wet. A cell is exactly what `predict` gives for that stack.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    n = len(inks)
    keyed = tuple((str(i), ink) for i, ink in enumerate(inks))
    bench = set_up(Job(card, keyed, illuminant=illuminant, constants=overrides), [key for key, _ in keyed])
    if not n:
        return Chart(np.zeros((0, 0, 3)), np.zeros((0, 0)), np.zeros((0, 0), dtype=np.intp), np.zeros((0, 3)))
    table = constants.values(overrides)
    amounts = _amounts(bench, way, table)
    below, above = (grid.reshape(-1) for grid in np.indices((n, n)))
    kinds = _kinds(bench)
    laid = amounts[kinds[below], kinds[above]]

    pairs = _stacks(np.stack([below, above], axis=1), laid, joins=way.over is Over.WET)
    # The diagonal too has two lay-downs of one ink: then there is one parent, the whole.
    firsts, first_of = _singles(below, laid[:, 0], bench, illuminant)
    seconds, second_of = _singles(above, laid[:, 1], bench, illuminant)
    coloured = bool((bench.palette.cards.internal[0] != bench.palette.cards.internal[1]).any())
    seen = _labs(pairs, bench, illuminant, with_white=coloured)
    results, on_white = seen[0], seen[-1]

    mud, kind = np.empty(n * n), np.empty(n * n, dtype=np.intp)

    def judge_rows(rows: slice) -> None:
        same = below[rows] == above[rows]
        parents = np.stack([firsts[0][first_of[rows]], seconds[0][second_of[rows]]], axis=1)
        parents_white = np.stack([firsts[1][first_of[rows]], seconds[1][second_of[rows]]], axis=1)
        parents[same, 0], parents_white[same, 0] = results[rows][same], on_white[rows][same]
        present = np.ones((len(same), 2), dtype=np.bool_)
        present[same, 1] = False
        found = judge(
            Overlaps(
                result=results[rows],
                on_white=on_white[rows],
                parents=parents,
                parents_on_white=parents_white,
                present=present,
                card=bench.card.lab,
                card_from_white=bench.card_from_white,
            ),
            mud_line,
            table,
        )
        mud[rows], kind[rows] = found.mud, found.kind

    in_chunks(judge_rows, n * n, _JUDGED)
    alone = firsts[0][first_of.reshape(n, n)[:, 0]]
    return Chart(results.reshape(n, n, 3), mud.reshape(n, n), kind.reshape(n, n), alone)


def _kinds(bench: Bench) -> Ints:
    """Which inks behave alike as far as amounts go, (n,), numbered from 0."""
    seen: dict[tuple[object, ...], int] = {}
    return np.array(
        [
            seen.setdefault((ink.habit, ink.offer, ink.amount, ink.cover, ink.values["seal"]), len(seen))
            for ink in bench.inks
        ],
        dtype=np.intp,
    )


def _amounts(bench: Bench, way: LayDown, table: Mapping[str, float]) -> Floats:
    """Dose, cover and held share of both lay-downs per pair of kinds, (k, k, 2, 3)."""
    kinds = _kinds(bench)
    examples = [int(np.argmax(kinds == k)) for k in range(int(kinds.max()) + 1)]
    lookup = bench.lookup()
    out = np.empty((len(examples), len(examples), 2, 3))
    for i, lower in enumerate(examples):
        for j, upper in enumerate(examples):
            # Two different inks of one kind: the same amounts as two of the same ink.
            stack = (replace(way, parts=((str(lower), 1.0),)), replace(way, parts=((str(upper), 1.0),)))
            row = resolve(stack, lookup, bench.card.ground, table)[-1].dry
            out[i, j] = [(part.dose, part.cover, part.held) for part in row.parts]
    return out


def _stacks(ink: Ints, laid: Floats, joins: bool) -> Stacks:
    """Stacks of the inks (b, e) with doses, covers and held shares (b, e, 3), on the job's card."""
    b, e = ink.shape
    one = np.ones(b)
    joined = np.zeros((b, e), dtype=np.bool_)
    joined[:, 1:] = joins
    return Stacks(
        card=np.zeros(b, dtype=np.intp),
        ink=VARIANTS * ink,
        dose=np.ascontiguousarray(laid[:, :, 0]),
        joins=joined,
        scatter=np.ones((b, e)),
        cover=np.ascontiguousarray(laid[:, :, 1]),
        held=np.ascontiguousarray(laid[:, :, 2]),
        floor_scale=one,
        pores=one * 0,
        vividness=one,
    )


def _labs(batch: Stacks, bench: Bench, illuminant: Illuminant, with_white: bool) -> Floats:
    """CIELAB of stacks on the job's card, and on white card if asked, (1 or 2, b, 3)."""
    cards = [batch.card + k for k in range(2 if with_white else 1)]
    spectra = reflect_on(batch, bench.palette, cards, str(illuminant))
    return cm.lab_from_xyz(cm.xyz(spectra, str(illuminant)), white_point(str(illuminant)))


def _singles(ink: Ints, laid: Floats, bench: Bench, illuminant: Illuminant) -> tuple[Floats, Ints]:
    """Each distinct ink and dose alone: CIELAB on the card and on white (2, u, 3), and which is whose."""
    _, dose = np.unique(laid[:, 0], return_inverse=True)
    _, first, whose = np.unique(ink * (dose.max() + 1) + dose, return_index=True, return_inverse=True)
    amounts = laid[first][:, None].copy()
    amounts[:, :, 2] = 0
    plain = _stacks(ink[first][:, None], amounts, joins=False)
    return _labs(plain, bench, illuminant, with_white=True), whose
