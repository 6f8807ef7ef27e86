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

from wempa.craft import constants
from wempa.craft.job import Card, Ink, Job, LayDown
from wempa.craft.limits import DEFAULT_MUD_LINE
from wempa.craft.prediction.many_stacks import alike_inks as alike
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import VARIANTS, PreparedJob
from wempa.craft.prediction.rows import resolve
from wempa.craft.prediction.verdict import KINDS, Overlaps, judge
from wempa.craft.vocabulary import Illuminant, Over, VerdictKind
from wempa.optics.grid import Floats, Ints
from wempa.optics.parallel import in_chunks
from wempa.optics.stack import Layers, Stacks, lab_on

# Overlaps judged at a time, so that the working arrays stay in the cache.
_JUDGED = 8192


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
    wanted: Floats | None = None,
) -> Chart:
    """Predict and judge every ink laid over every ink on a card.

    `way` says how each is put on (its ink is left open) and whether the second goes
    over the first dry or wet; `wanted` is what `predict.wanted_colours` gives for the
    stash. A cell is exactly what `predict` gives for that stack.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    n = len(inks)
    keyed = tuple((str(i), ink) for i, ink in enumerate(inks))
    bench = prepare_job(Job(card, keyed, illuminant=illuminant, constants=overrides), [key for key, _ in keyed])
    if not n:
        return Chart(np.zeros((0, 0, 3)), np.zeros((0, 0)), np.zeros((0, 0), dtype=np.intp), np.zeros((0, 3)))
    table = constants.values(overrides)
    amounts = _amounts(bench, way, table)
    below, above = (grid.reshape(-1) for grid in np.indices((n, n)))
    kinds = alike(bench.inks)
    laid = amounts[kinds[below], kinds[above]]

    pairs = _stacks(np.stack([below, above], axis=1), laid, wet=way.over is Over.WET)
    # The diagonal too has two lay-downs of one ink: then there is one parent, the whole.
    firsts, first_of = _singles(below, laid[:, 0], bench, illuminant)
    seconds, second_of = _singles(above, laid[:, 1], bench, illuminant)
    coloured = bool((bench.palette.cards.internal[0] != bench.palette.cards.internal[1]).any())
    seen = _labs(pairs, bench, illuminant, with_white=coloured)
    mud, kind = np.empty(n * n), np.empty(n * n, dtype=np.intp)

    # One table of parents, components first, for all cells.
    alone = np.concatenate([firsts, seconds], axis=1)
    second_of = second_of + firsts.shape[1]
    on_card, white = (np.ascontiguousarray(side.T) for side in alone)
    seen = np.ascontiguousarray(seen.transpose(0, 2, 1))

    def judge_rows(rows: slice) -> None:
        same = below[rows] == above[rows]
        results = seen[0, :, rows]
        result_white = seen[-1, :, rows]
        parents = [on_card[:, first_of[rows]], on_card[:, second_of[rows]]]
        parents_white = [white[:, first_of[rows]], white[:, second_of[rows]]]
        parents[0][:, same], parents_white[0][:, same] = results[:, same], result_white[:, same]
        found = judge(
            Overlaps(
                result=tuple(results),
                on_white=tuple(result_white),
                parents=[tuple(parent) for parent in parents],
                parents_on_white=[tuple(parent) for parent in parents_white],
                present=[np.ones(len(same), dtype=np.bool_), ~same],
                card=bench.card.lab.tolist(),
                card_from_white=bench.card_from_white,
                wanted=wanted,
                # Of two dried one over the other, the first; mixed wet neither.
                lowest=[~same & (way.over is Over.DRY), np.zeros(len(same), dtype=np.bool_)],
                ladders=bench.ladders,
                rungs=[below[rows], above[rows]],
            ),
            mud_line,
            table,
        )
        mud[rows], kind[rows] = found.mud, found.kind

    in_chunks(judge_rows, n * n, _JUDGED)
    lab = np.ascontiguousarray(seen[0].T).reshape(n, n, 3)
    return Chart(lab, mud.reshape(n, n), kind.reshape(n, n), firsts[0][first_of.reshape(n, n)[:, 0]])


def _amounts(bench: PreparedJob, way: LayDown, table: Mapping[str, float]) -> Floats:
    """Dose, cover and held share of both lay-downs per pair of kinds, (k, k, 2, 3)."""
    kinds = alike(bench.inks)
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


def _stacks(ink: Ints, laid: Floats, wet: bool) -> Stacks:
    """Stacks of the inks (b, e) with doses, covers and held shares (b, e, 3), on the job's card.

    Wet, the entries of a stack are one layer; dry, equal layers are held once.
    """
    b, e = ink.shape
    if wet:
        layer = np.arange(b)[:, None]
        members, amounts = VARIANTS * ink, laid
        cover = 1 - np.prod(1 - laid[:, :, 1], axis=1)
    else:
        key = ink.reshape(-1)
        for column in laid.reshape(-1, 3).T:
            values, index = np.unique(column, return_inverse=True)
            key = key * len(values) + index
        _, first, place = np.unique(key, return_index=True, return_inverse=True)
        layer = place.reshape(b, e)
        members, amounts = VARIANTS * ink.reshape(-1, 1)[first], laid.reshape(-1, 1, 3)[first]
        cover = amounts[:, 0, 1]
    total = laid[:, :, 0].copy()
    if e == 2:
        # An ink laid over itself is one ink, at the sum of both doses.
        itself = ink[:, 0] == ink[:, 1]
        total[itself, 0] += total[itself, 1]
        total[itself, 1] = 0
    return Stacks(
        layers=Layers(
            ink=members,
            dose=np.ascontiguousarray(amounts[:, :, 0]),
            scatter=np.ones(members.shape),
            held=np.ascontiguousarray(amounts[:, :, 2]),
            cover=np.ascontiguousarray(cover),
        ),
        layer=layer,
        card=np.zeros(b, dtype=np.intp),
        ink=VARIANTS * ink,
        total=total,
    )


def _labs(batch: Stacks, bench: PreparedJob, illuminant: Illuminant, with_white: bool) -> Floats:
    """CIELAB of stacks on the job's card, and on white card if asked, (1 or 2, b, 3)."""
    cards = [batch.card + k for k in range(2 if with_white else 1)]
    return lab_on(batch, bench.palette, cards, str(illuminant))


def _singles(ink: Ints, laid: Floats, bench: PreparedJob, illuminant: Illuminant) -> tuple[Floats, Ints]:
    """Each distinct ink and dose alone: CIELAB on the card and on white (2, u, 3), and which is whose."""
    _, dose = np.unique(laid[:, 0], return_inverse=True)
    _, first, whose = np.unique(ink * (dose.max() + 1) + dose, return_index=True, return_inverse=True)
    amounts = laid[first][:, None].copy()
    amounts[:, :, 2] = 0
    plain = _stacks(ink[first][:, None], amounts, wet=False)
    return _labs(plain, bench, illuminant, with_white=True), whose
