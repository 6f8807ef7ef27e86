"""Many stacks of one set of inks on one card, weighed in one batch.

Fixes, nudges and dose strips all ask the same: of these hundreds of stacks, what is
each one's colour and verdict? What `weigh` finds is what `predict` finds; margins and
reasons are left to it, for the few stacks that are shown.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from enum import StrEnum
from math import prod
from operator import attrgetter

import numpy as np

from wempa.craft import constants
from wempa.craft.job import Entry, Job, LayDown
from wempa.craft.vocabulary import VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats, Ints, white_point
from wempa.optics.stack import lab_on

from .batches import gather
from .patches import patches_of
from .prepare import prepare_job
from .prepared import VARIANTS, PreparedInk, PreparedJob
from .rows import BatchRow, Resolved, all_wet, lowest_inks, resolve, uppermost
from .settling import Part
from .verdict import KINDS, Overlaps, hides, judge, judge_patches

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
    unswamped: Ints
    """The same where no ink counts as swamped, (b,)."""
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
        none = np.zeros(0, dtype=np.intp)
        return WeighedStacks(np.zeros((0, 3)), np.zeros(0), none, none, np.zeros(0))
    bench, table = _bench_of(job, stacks), constants.values(job.constants)
    rows = _resolve_all(stacks, bench, table)
    held: dict[tuple[object, ...], int] = {}
    kept: list[BatchRow] = []

    def place(row: BatchRow) -> int:
        key = (
            *[(p.ink, p.dose, p.scatter, p.cover, p.held, p.group, p.chalk, p.mixed) for p in row.parts],
            row.floor_scale,
            row.pores,
        )
        found = held.setdefault(key, len(kept))
        if found == len(kept):
            kept.append(row)
        return found

    spots, whose, share = _spots(rows)
    own = [place(laid.row) for laid in spots]
    inks = [laid.inks for laid in spots]
    parents = [[place(row) for row in laid.alone] for laid in spots]
    low = [lowest_inks(laid.row, laid.inks) for laid in spots]
    tops, amounts = np.array([uppermost(laid.row) if len(laid.inks) > 1 else (-1, 0.0) for laid in spots]).T
    hiding = np.zeros(len(spots), dtype=np.bool_)
    alone = np.flatnonzero(tops >= 0)
    hiding[alone] = hides(bench.palette.inks.scattering[tops[alone].astype(np.intp)] * amounts[alone, None], table)
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
            white=bench.white,
            wanted=wanted,
            lowest=list(below.T),
            covering=list((hiding[:, None] & present & (VARIANTS * rungs == tops[:, None])).T),
            ladders=bench.ladders,
            rungs=list(rungs.reshape(-1, most).T),
        ),
        job.mud_line,
        table,
    )
    # A bare card is clean, whatever arithmetic without parents gives.
    inked = present.any(axis=1)
    mud = np.where(inked, found.mud, 0.0)
    kind, unswamped = (np.where(inked, each, 0) for each in (found.kind, found.unswamped))
    lab = np.ascontiguousarray(on_card[:, own].T)
    if len(spots) > len(rows):
        lab = _mean_colours(lab, whose, share, str(job.illuminant))
        alone = np.bincount(whose) == 1
        mean, of_all = judge_patches(kind, mud, share, whose, job.mud_line, table)
        first = np.searchsorted(whose, np.arange(len(rows)))
        mud = np.where(alone, mud[first], mean)
        kind, unswamped = (np.where(alone, each[first], of_all) for each in (kind, unswamped))
    return WeighedStacks(lab, mud, kind, unswamped, cover=_covers(rows))


def _spots(rows: Sequence[_Laid]) -> tuple[list[_Laid], Ints, Floats]:
    """Each kind of place of each stack, whose it is and its share of the area; one a stack but for those in patches."""
    spots: list[_Laid] = []
    whose: list[int] = []
    share: list[float] = []
    for k, laid in enumerate(rows):
        for patch in patches_of(laid.row, laid.alone):
            there = [i for i, alone in enumerate(patch.alone) if alone.parts or len(patch.alone) == 1]
            there = there if patch.row.parts else []
            spots.append(_Laid(patch.row, [laid.inks[i] for i in there], [patch.alone[i] for i in there]))
            whose.append(k)
            share.append(patch.share)
    return spots, np.array(whose, dtype=np.intp), np.array(share)


def _mean_colours(lab: Floats, whose: Ints, share: Floats, illuminant: str) -> Floats:
    """CIELAB (n, 3) of the mean light of places (p, 3), by their share of the area."""
    white = white_point(illuminant)
    light = np.zeros((int(whose.max()) + 1, 3))
    np.add.at(light, whose, cm.xyz_from_lab(lab, white) * share[:, None])
    return cm.lab_from_xyz(light, white)


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
    rows = _resolve_all(stacks, bench, constants.values(job.constants), look, alone=False)
    spots, whose, share = _spots(rows)
    batch = gather([laid.row for laid in spots])
    lab = lab_on(batch, bench.palette, [batch.card], str(job.illuminant))[0]
    if len(spots) > len(rows):
        lab = _mean_colours(lab, whose, share, str(job.illuminant))
    return lab, _covers(rows)


def _bench_of(job: Job, stacks: Sequence[Stack]) -> PreparedJob:
    used = {key for stack in stacks for key, _ in _parts(stack)}
    return prepare_job(job, [key for key, _ in job.inks if key in used])


def _covers(rows: Sequence[_Laid]) -> Floats:
    """Share of the area under any ink."""
    covers = [[part.cover * part.patch for part in laid.row.parts] for laid in rows]
    return np.array([1 - prod([1 - cover for cover in each]) if each else 1.0 for each in covers])


def alike_inks(inks: Sequence[PreparedInk]) -> Ints:
    """Which inks behave alike as far as amounts go, (n,), numbered from 0."""
    seen: dict[tuple[object, ...], int] = {}
    return np.array(
        [
            seen.setdefault((ink.habit, ink.offer, ink.amount, ink.cover, ink.patch, *ink.values.values()), len(seen))
            for ink in inks
        ],
        dtype=np.intp,
    )


def _parts(stack: Stack) -> list[tuple[str, float]]:
    """Ink key and share of every part of every lay-down, bottom first."""
    return [part for entry in stack if isinstance(entry, LayDown) for part in entry.parts]


@dataclass(frozen=True, slots=True)
class _Laid:
    """One stack in numbers, with each of its inks by itself."""

    row: BatchRow
    inks: list[int]
    alone: list[BatchRow]


def _resolve_all(
    stacks: Sequence[Stack],
    bench: PreparedJob,
    table: Mapping[str, float],
    look: StackLook = StackLook.DRY,
    alone: bool = True,
) -> list[_Laid]:
    """The rows of each stack; stacks that differ only in which ink of a kind is used are resolved once.

    Each ink by itself is worked out unless it is not asked for.

    Where an ink has to give way to another it counts how strong both are, so those are resolved each by itself.
    """
    lookup = bench.lookup
    kind_of = dict(zip(bench.keys, alike_inks(bench.inks).tolist(), strict=True))
    examples: dict[int, list[str]] = {}
    for key in bench.keys:
        examples.setdefault(kind_of[key], []).append(key)
    resolved: dict[Stack, Resolved] = {}
    plain: dict[tuple[object, ...], LayDown] = {}

    def resolve_one(stack: Stack) -> Resolved:
        found = resolved.get(stack)
        if found is None:
            used = {key: lookup[key] for key, _ in _parts(stack)}
            found = resolve(stack, used, bench.card.ground, table, whole_only=True, alone=alone)[-1]
            resolved[stack] = found
        return found

    found = []
    for stack in stacks:
        names: dict[str, str] = {}
        counts: dict[int, int] = {}
        for key, share in _parts(stack):
            if key not in names and share > 0:
                kind = kind_of[key]
                names[key] = examples[kind][counts.setdefault(kind, 0)]
                counts[kind] += 1
        like = []
        for entry in stack:
            if isinstance(entry, LayDown):
                parts = tuple([(names.get(key, key), share) for key, share in entry.parts])
                # Many inks that are laid alike are one and the same lay-down.
                alike = (parts, *_hand(entry))
                entry = plain.get(alike) or plain.setdefault(alike, replace(entry, parts=parts))
            like.append(entry)
        one = resolve_one(tuple(like))
        to = {lookup[name][0]: lookup[key][0] for key, name in names.items()}
        if one.settled.by_strength and len(names) > 1:
            one, to = resolve_one(stack), {ink: ink for ink in to.values()}
        row = one.drops or one.dry if look is StackLook.DROPS else one.dry
        row = all_wet(row, lookup, table) if look is StackLook.WET else row
        found.append(_Laid(_of(row, to), [to[ink] for ink in one.inks], [_of(each, to) for each in one.alone]))
    return found


# Everything that says how a lay-down is laid, but not which ink.
_hand = attrgetter(*(each.name for each in fields(LayDown) if each.name != "parts"))


def _of(row: BatchRow, inks: Mapping[int, int]) -> BatchRow:
    """The same row with other inks."""
    parts = [
        Part(inks[p.ink], p.dose, p.scatter, p.cover, p.held, p.group, p.apart, p.patch, p.chalk, p.mixed)
        for p in row.parts
    ]
    return BatchRow(parts, row.floor_scale, row.pores, row.vividness, row.treatments)
