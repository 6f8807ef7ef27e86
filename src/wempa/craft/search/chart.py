"""Charts: every ink over every ink, in one batch.

Amounts of all pairs are worked out at once, and a chart of two hundred inks is one
batch for `wempa.optics.stack.reflect`. On drinking card an ink's amount is the same on
most others, so equal layers are held once; on a full card each pair has its own.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Card, Ink, Job, LayDown
from wempa.craft.limits import DEFAULT_MUD_LINE
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import VARIANTS, PreparedJob
from wempa.craft.prediction.settling import lay_in_numbers, settle, side_by_side
from wempa.craft.prediction.verdict import KINDS, Overlaps, hides, judge
from wempa.craft.vocabulary import Illuminant, Over, VerdictKind
from wempa.optics.grid import Floats, Ints
from wempa.optics.layers import Layers
from wempa.optics.parallel import in_chunks
from wempa.optics.stack import Stacks, lab_on

# How many overlaps are judged at a time; the working arrays stay in the cache.
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
    way: LayDown | Sequence[LayDown],
    *,
    illuminant: Illuminant = Illuminant.D65,
    mud_line: float = DEFAULT_MUD_LINE,
    overrides: constants.Overrides = (),
    wanted: Floats | None = None,
) -> Chart:
    """Predict and judge every ink laid over every ink on a card.

    `way` says how each is put on (its ink is left open), all alike or one way for each, and whether
    the second goes over the first dry or wet; `wanted` is what `predict.wanted_colours` gives for the
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
    ways = [way] * n if isinstance(way, LayDown) else list(way)
    if any(each.dose is None and each.tool is not None and each.tool.row.patch < 1 for each in ways):
        whole = Job(card, keyed, illuminant=illuminant, mud_line=mud_line, constants=overrides)
        return _in_patches(whole, ways, wanted)
    wet, ground = ways[0].over is Over.WET, bench.card.ground
    below, above = (grid.reshape(-1) for grid in np.indices((n, n)))
    of_keys = [replace(way, parts=((key, 1.0),)) for way, key in zip(ways, bench.keys, strict=True)]
    rows = bench.lookup
    hands = side_by_side(
        [lay_in_numbers(lay, [rows[key]], ground, table)[0] for lay, key in zip(of_keys, bench.keys, strict=True)]
    )
    laid = np.empty((n * n, 2, 5))

    def settle_rows(rows: slice) -> None:
        pair = [hands.of(below[rows]), hands.of(above[rows]).placed(1, 0 if wet else 1)]
        for place, part in enumerate(settle(pair, ground, table, xp=np).parts):
            for column, values in enumerate((part.dose, part.cover, part.held, part.chalk, part.mixed)):
                laid[rows, place, column] = values

    in_chunks(settle_rows, n * n, _JUDGED)
    pairs = _stacks(np.stack([below, above], axis=1), laid, wet, ways[0].dose is not None)
    # On the diagonal two lay-downs of one ink have one parent, the whole.
    single = settle([hands], ground, table, xp=np).parts[0]
    alone = _labs(
        _stacks(
            np.arange(n)[:, None],
            np.stack([single.dose, hands.cover, np.zeros(n), single.chalk, np.zeros(n)], axis=1)[:, None],
            wet=False,
        ),
        bench,
        illuminant,
        with_white=True,
    )
    scattering = bench.palette.inks.scattering[::VARIANTS].astype(np.float32)
    films = scattering.max(axis=1) > 0
    coloured = bool((bench.palette.cards.internal[0] != bench.palette.cards.internal[1]).any())
    seen = _labs(pairs, bench, illuminant, with_white=coloured)
    mud, kind = np.empty(n * n), np.empty(n * n, dtype=np.intp)

    # One table of parents, components first, for all cells.
    on_card, white = (np.ascontiguousarray(side.T) for side in alone)
    seen = np.ascontiguousarray(seen.transpose(0, 2, 1))

    def judge_rows(rows: slice) -> None:
        same = below[rows] == above[rows]
        results = seen[0, :, rows]
        result_white = seen[-1, :, rows]
        parents = [on_card[:, below[rows]], on_card[:, above[rows]]]
        parents_white = [white[:, below[rows]], white[:, above[rows]]]
        parents[0][:, same], parents_white[0][:, same] = results[:, same], result_white[:, same]
        hiding = np.zeros(len(same), dtype=np.bool_)
        if not wet:
            filmy = np.flatnonzero(~same & films[above[rows]])
            doses = laid[rows, 1, 0][filmy, None].astype(np.float32)
            hiding[filmy] = hides(scattering[above[rows][filmy]] * doses, table)
        found = judge(
            Overlaps(
                result=tuple(results),
                on_white=tuple(result_white),
                parents=[tuple(parent) for parent in parents],
                parents_on_white=[tuple(parent) for parent in parents_white],
                present=[np.ones(len(same), dtype=np.bool_), ~same],
                card=bench.card.lab.tolist(),
                card_from_white=bench.card_from_white,
                white=bench.white,
                wanted=wanted,
                # Two laid dry over dry have a lower one; mixed wet they have none.
                lowest=[~same & (not wet), np.zeros(len(same), dtype=np.bool_)],
                covering=[np.zeros(len(same), dtype=np.bool_), hiding],
                ladders=bench.ladders,
                rungs=[below[rows], above[rows]],
            ),
            mud_line,
            table,
        )
        mud[rows], kind[rows] = found.mud, found.kind

    in_chunks(judge_rows, n * n, _JUDGED)
    lab = np.ascontiguousarray(seen[0].T).reshape(n, n, 3)
    return Chart(lab, mud.reshape(n, n), kind.reshape(n, n), alone[0])


def _in_patches(job: Job, ways: Sequence[LayDown], wanted: Floats | None) -> Chart:
    """The chart where lay-downs lie in patches, stack by stack. It takes several times as long."""
    n = len(job.inks)
    second = [replace(way, parts=((key, 1.0),)) for way, (key, _) in zip(ways, job.inks, strict=True)]
    first = [replace(way, over=Over.DRY) for way in second]
    found = weigh_stacks(job, [(below, above) for below in first for above in second], wanted)
    alone = weigh_stacks(job, [(lay,) for lay in first], wanted).lab
    return Chart(found.lab.reshape(n, n, 3), found.mud.reshape(n, n), found.kind.reshape(n, n), alone)


def _stacks(ink: Ints, laid: Floats, wet: bool, apart: bool = False) -> Stacks:
    """Stacks of the inks (b, e) with doses, covers, held shares, chalk and mixed shares (b, e, 5), on the job's card.

    Wet, the entries of a stack are one layer; dry, equal layers are held once.
    """
    b, e = ink.shape
    if wet:
        layer = np.arange(b)[:, None]
        members, amounts = VARIANTS * ink, laid
        cover = 1 - np.prod(1 - laid[:, :, 1], axis=1)
    else:
        key = ink.reshape(-1)
        for column in laid.reshape(-1, 5).T:
            if column.min() == column.max():
                continue
            values, index = np.unique(column, return_inverse=True)
            key = key * len(values) + index
        _, first, place = np.unique(key, return_index=True, return_inverse=True)
        layer = place.reshape(b, e)
        members, amounts = VARIANTS * ink.reshape(-1, 1)[first], laid.reshape(-1, 1, 5)[first]
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
            apart=np.ones(len(cover), dtype=np.bool_) if apart and cover.min() < 1 else None,
            chalk=np.ascontiguousarray(amounts[:, :, 3]) if amounts[:, :, 3].any() else None,
            mixed=np.ascontiguousarray(amounts[:, :, 4]) if amounts[:, :, 4].any() else None,
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
