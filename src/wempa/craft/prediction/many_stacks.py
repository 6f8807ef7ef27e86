"""Many stacks of one set of inks on one card, weighed in one batch.

Fixes, nudges and dose strips all ask the same: of these hundreds of stacks, what is
each one's colour and verdict? What `weigh` finds is what `predict` finds; margins and
reasons are left to it, for the few stacks that are shown.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import prod

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Entry, Job, LayDown
from wempa.craft.vocabulary import VerdictKind
from wempa.optics.grid import Floats, Ints
from wempa.optics.stack import lab_on

from .batches import gather
from .prepare import prepare_job
from .prepared import VARIANTS, PreparedInk, PreparedJob
from .rows import NOTHING, BatchRow, Part, all_wet, alone_row, lowest_inks, resolve
from .verdict import KINDS, Overlaps, judge

Stack = tuple[Entry, ...]


@dataclass(frozen=True, slots=True, eq=False)
class WeighedStacks:
    """The dry look of b stacks, and the verdict on each."""

    lab: Floats
    """CIELAB under the job's light, (b, 3)."""
    mud: Floats
    """0–100, (b,)."""
    kind: Ints
    """Index into `verdict.KINDS`, (b,)."""
    cover: Floats
    """Share of the area that any ink covers, (b,), 0–1; the rest are bare specks."""

    def kind_of(self, row: int) -> VerdictKind:
        """The verdict on one stack."""
        return KINDS[int(self.kind[row])]


def weigh_stacks(job: Job, stacks: Sequence[Stack], wanted: Floats | None = None) -> WeighedStacks:
    """Predict and judge stacks of the job's declared inks on its card.

    `wanted` is CIELAB of the inks that are owned or asked for, (m, 3).

    `job` gives card, inks, light, mud line and constants; its own stack plays no part.
    `wanted` is what `predict.wanted_colours` gives for it, or None.

    Raises
    ------
    JobError
        An override is not in the craft table or outside its range.
    """
    if not stacks:
        return WeighedStacks(np.zeros((0, 3)), np.zeros(0), np.zeros(0, dtype=np.intp), np.zeros(0))
    bench, table = _bench_of(job, stacks), constants.values(job.constants)
    rows = _resolve_all(stacks, bench, table)
    held: dict[tuple[object, ...], int] = {}
    kept: list[BatchRow] = []

    def place(row: BatchRow) -> int:
        key = (
            *[(p.ink, p.dose, p.scatter, p.cover, p.held, p.group) for p in row.parts],
            row.floor_scale,
            row.pores,
        )
        found = held.setdefault(key, len(kept))
        if found == len(kept):
            kept.append(row)
        return found

    own = [place(row) for row in rows]
    inks = [list(dict.fromkeys(p.ink for p in row.parts)) for row in rows]
    parents = [[place(alone_row(row, ink)) for ink in own_inks] for row, own_inks in zip(rows, inks, strict=True)]
    low = [lowest_inks(row, own_inks) for row, own_inks in zip(rows, inks, strict=True)]
    batch = gather(kept)
    cards = [batch.card, batch.card + (1 if bench.card_from_white else 0)]
    on_card, on_white = lab_on(batch, bench.palette, cards, str(job.illuminant)).transpose(0, 2, 1)
    most = max([len(each) for each in parents], default=0) or 1
    padded = np.array([[*each, *[own[i]] * (most - len(each))] for i, each in enumerate(parents)], dtype=np.intp)
    present = np.array([[True] * len(each) + [False] * (most - len(each)) for each in parents])
    padded, present = padded.reshape(-1, most), present.reshape(-1, most)
    rungs = np.array([[*[ink // VARIANTS for ink in each], *[0] * (most - len(each))] for each in inks], dtype=np.intp)
    below = np.array([[*each, *[False] * (most - len(each))] for each in low]).reshape(-1, most)
    found = judge(
        Overlaps(
            result=tuple(on_card[:, own]),
            on_white=tuple(on_white[:, own]),
            parents=[tuple(on_card[:, column]) for column in padded.T],
            parents_on_white=[tuple(on_white[:, column]) for column in padded.T],
            present=list(present.T),
            card=bench.card.lab.tolist(),
            card_from_white=bench.card_from_white,
            wanted=wanted,
            lowest=list(below.T),
            ladders=bench.ladders,
            rungs=list(rungs.reshape(-1, most).T),
        ),
        job.mud_line,
        table,
    )
    # A bare card is clean whatever the arithmetic of no parents says.
    inked = present.any(axis=1)
    return WeighedStacks(
        lab=np.ascontiguousarray(on_card[:, own].T),
        mud=np.where(inked, found.mud, 0.0),
        kind=np.where(inked, found.kind, 0),
        cover=_covers(rows),
    )


class StackLook(StrEnum):
    """Which look of a stack: dried, all of it still wet, or where water was dropped on it."""

    DRY = "dry"
    WET = "wet"
    DROPS = "drops"


def stack_colours(job: Job, stacks: Sequence[Stack], look: StackLook) -> tuple[Floats, Floats]:
    """Only the colours of stacks, in any look: CIELAB (b, 3), and the share of the area that is inked, (b,).

    See `weigh`. Of a stack on which no water was dropped the drops are the dry look.
    """
    if not stacks:
        return np.zeros((0, 3)), np.zeros(0)
    bench = _bench_of(job, stacks)
    rows = _resolve_all(stacks, bench, constants.values(job.constants), look)
    batch = gather(rows)
    return lab_on(batch, bench.palette, [batch.card], str(job.illuminant))[0], _covers(rows)


def _bench_of(job: Job, stacks: Sequence[Stack]) -> PreparedJob:
    used = {key for stack in stacks for key, _ in _parts(stack)}
    return prepare_job(job, [key for key, _ in job.inks if key in used])


def _covers(rows: Sequence[BatchRow]) -> Floats:
    """Share of the area under any ink."""
    return np.array([1 - prod([1 - part.cover for part in row.parts]) if row.parts else 1.0 for row in rows])


def alike_inks(inks: Sequence[PreparedInk]) -> Ints:
    """Which inks behave alike as far as amounts go, (n,), numbered from 0."""
    seen: dict[tuple[object, ...], int] = {}
    return np.array(
        [
            seen.setdefault((ink.habit, ink.offer, ink.amount, ink.cover, *ink.values.values()), len(seen))
            for ink in inks
        ],
        dtype=np.intp,
    )


def _parts(stack: Stack) -> list[tuple[str, float]]:
    """Ink key and share of every part of every lay-down, bottom first."""
    return [part for entry in stack if isinstance(entry, LayDown) for part in entry.parts]


def _resolve_all(
    stacks: Sequence[Stack], bench: PreparedJob, table: Mapping[str, float], look: StackLook = StackLook.DRY
) -> list[BatchRow]:
    """The row of each stack; stacks that differ only in which ink of a kind is used are resolved once."""
    lookup = bench.lookup()
    numbers = alike_inks(bench.inks).tolist()
    kind_of = {key: str(kind) for key, kind in zip(bench.keys, numbers, strict=True)}
    examples = {kind_of[key]: lookup[key] for key in reversed(bench.keys)}
    resolved: dict[Stack, BatchRow] = {}
    by_kind: dict[Entry, Entry] = {}

    def plain(entry: Entry) -> Entry:
        """The entry with its inks' kinds in place of the inks."""
        found = by_kind.get(entry)
        if found is None:
            found = entry
            if isinstance(entry, LayDown):
                found = replace(entry, parts=tuple([(kind_of[key], share) for key, share in entry.parts]))
            by_kind[entry] = found
        return found

    found = []
    for stack in stacks:
        like = tuple([plain(entry) for entry in stack])
        row = resolved.get(like)
        if row is None:
            used = {key: examples[key] for key, _ in _parts(like)}
            last = resolve(like, used, bench.card.ground, table)[-1] if stack else NOTHING
            row = last.drops or last.dry if look is StackLook.DROPS else last.dry
            row = resolved[like] = all_wet(row, used, table) if look is StackLook.WET else row
        inks = [lookup[key][0] for key, share in _parts(stack) if share > 0]
        parts = [
            Part(ink, p.dose, p.scatter, p.cover, p.held, p.group, p.by_tool)
            for ink, p in zip(inks, row.parts, strict=True)
        ]
        found.append(BatchRow(parts, row.floor_scale, row.pores, row.vividness, row.treatments))
    return found
