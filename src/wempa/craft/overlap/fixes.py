"""What would save a muddy overlap: each fix recomputed, ranked by what it gains.

Hundreds of changes are weighed in one batch (`many.weigh`), every ink of the stash
among them; the few that are kept are then predicted in full.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import FixCode, NoteCode
from wempa.craft.job import Card, Colour, Entry, Ink, Job, LayDown, Stash, Swatch, used_inks
from wempa.craft.limits import MAX_INKS, WHITE_CARD
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.many_stacks import Stack, weigh_stacks
from wempa.craft.prediction.mud import dulls
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job, swatch_lab, swatch_labs, wanted_colours
from wempa.craft.prediction.results import Fix, Prediction
from wempa.craft.vocabulary import Formula, Look, Over, VerdictKind
from wempa.craft.ways import lighter_hand, owned_white, with_barrier
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

_MOST = 10
# How many cards are tried: of the lightest, and of those closest to the job's own.
_CARDS = 8
_WHITE_PIGMENT = Ink(Swatch(Colour(hex="#ffffff")), Formula.PIGMENT, "White pigment")


@dataclass(frozen=True, slots=True)
class _Candidate:
    """A change that is tried. Of several with one code the least muddy is kept, and of equals the first."""

    code: FixCode
    text: str
    job: Job


def predict_with_fixes(job: Job) -> Prediction:
    """Predict a job, with fixes if it asks for them; raises `JobError`."""
    found = predict(job)
    return replace(found, fixes=find_fixes(job, found)) if job.fixes else found


def find_fixes(job: Job, found: Prediction, wanted: Floats | None = None) -> tuple[Fix, ...]:
    """Changes that make the overlap less muddy, or give back what the card takes of its colour; best first.

    Every one is predicted anew; those that gain next to nothing (`fix.least_gain`,
    `fix.least_share`) are left out, and of each kind only the best is kept. Fixes without a stack (a bridge
    between the two, a narrower overlap) come last. `wanted` is what
    `predict.wanted_colours` gives for the job, if the caller has it already.
    """
    before = found.verdict
    # Where the card greys a colour that is no mud yet, only what comes between them helps.
    dulled = before.kind is not VerdictKind.CLEAN and NoteCode.CARD_DULLS in [note.code for note in before.reasons]
    table = constants.values(job.constants)
    least_mud = table["fix.least_mud"]
    if before.mud < least_mud and not dulled:
        return ()
    wanted = wanted_colours(job) if wanted is None else wanted
    here = list(_barriers(job))
    if before.mud >= least_mud:
        here = [*_other_orders(job), *_dried(job), *here, *_lighter_hands(job), *_stand_ins(job)]
    tried = [*here]
    as_it_is, *weighed = _weigh_changes(job, [job, *[each.job for each in here]], wanted)
    for each in _other_cards(job):
        after = predict(_lean(replace(each.job, look=Look.DRY)), wanted)
        # Nobody takes another card for a grey that is only lighter than the mud was.
        if after.verdict.kind is not VerdictKind.CLEAN:
            continue
        tried.append(each)
        weighed.append(_Weighed(after.colour.lab, after.verdict.mud, loses=False))
    to = _on_white(job) if dulled else as_it_is.lab
    off = float(cm.delta_e(as_it_is.lab, to))

    best: dict[FixCode, tuple[int, float, _Candidate]] = {}
    for (lab, mud, gone), each in zip(weighed, tried, strict=True):
        # What leaves the colour as it is cures nothing, whatever the figures say.
        if cm.delta_e(lab, as_it_is.lab) < table["fix.moves"]:
            continue
        # An ink that no longer shows is not saved. White that lies below is no such ink: it is meant to be covered.
        if gone and before.kind is not VerdictKind.SWAMPED:
            continue
        left = float(cm.delta_e(lab, to)) if dulled else 0.0
        brightens = dulled and left <= table["fix.brightens"] * off and mud <= before.mud
        if before.mud - mud < _least_gain(before.mud, table) and not brightens:
            continue
        # Of two that leave next to none neither is cleaner.
        grade = 0 if mud < least_mud else round(mud)
        if each.code not in best or (grade, left) < best[each.code][:2]:
            best[each.code] = (grade, left, each)
    fixes = []
    for *_, each in best.values():
        after = predict(_lean(each.job), wanted)
        fixes.append(Fix(each.code, each.text, each.job, after.verdict.mud, (after,)))
    fixes.sort(key=lambda fix: fix.mud or 0.0)
    # A fix that leaves mud is left out where another leaves none.
    if fixes and (fixes[0].mud or 0.0) < job.mud_line:
        fixes = [fix for fix in fixes if (fix.mud or 0.0) < job.mud_line]
    return tuple([*fixes, *_without_stack(job, found, wanted)][:_MOST])


def _least_gain(mud: float, table: Mapping[str, float]) -> float:
    """How much mud, of 100, a fix takes away at least: less is not worth the work."""
    return max(table["fix.least_gain"], table["fix.least_share"] * mud)


def _on_white(job: Job) -> Floats:
    """CIELAB of the same stack on white card of the same surface."""
    white = replace(job.cardstock, colour=Colour(hex=WHITE_CARD), floor=None)
    return predict(_lean(replace(job, cardstock=white, look=Look.DRY))).colour.lab


def _lean(job: Job) -> Job:
    """The job without its stash, which a prediction needs only for the colours wanted."""
    return replace(job, stash=Stash(), fixes=False)


class _Weighed(NamedTuple):
    """A change as it would come out: its dry colour in CIELAB, its mud, and whether an ink is lost in it."""

    lab: Floats
    mud: float
    loses: bool


def _weigh_changes(job: Job, changed: Sequence[Job], wanted: Floats | None) -> list[_Weighed]:
    """Each change on the job's card."""
    keys: dict[Ink, str] = {}
    stacks: list[Stack] = []
    for each in changed:
        own = dict(each.inks)
        stack: list[Entry] = []
        for entry in each.stack:
            if isinstance(entry, LayDown):
                parts = tuple([(keys.setdefault(own[key], str(len(keys))), share) for key, share in entry.parts])
                stack.append(replace(entry, parts=parts))
            else:
                stack.append(entry)
        stacks.append(tuple(stack))
    inks = tuple([(key, ink) for ink, key in keys.items()])
    found = weigh_stacks(replace(job, inks=inks, stack=(), stash=Stash()), stacks, wanted)
    rows = zip(found.lab, found.mud.tolist(), range(len(stacks)), strict=True)
    return [_Weighed(lab, mud, found.kind_of(row) is VerdictKind.SWAMPED) for lab, mud, row in rows]


def _name(job: Job, key: str) -> str:
    return dict(job.inks)[key].name or key


def _names(job: Job, entry: LayDown) -> str:
    return " and ".join(_name(job, key) for key, _ in entry.parts)


def _laid(job: Job) -> list[tuple[int, LayDown]]:
    return [(i, entry) for i, entry in enumerate(job.stack) if isinstance(entry, LayDown)]


def _with(job: Job, changes: dict[int, Entry]) -> Job:
    return replace(job, stack=tuple(changes.get(i, entry) for i, entry in enumerate(job.stack)))


def _other_orders(job: Job) -> Iterator[_Candidate]:
    laid = _laid(job)
    for (i, lower), (j, upper) in pairwise(laid):
        if upper.over is Over.DRY and lower.parts != upper.parts:
            text = f"Lay {_names(job, upper)} before {_names(job, lower)}."
            swapped: dict[int, Entry] = {i: replace(upper, over=lower.over), j: replace(lower, over=Over.DRY)}
            yield _Candidate(FixCode.SWAP_ORDER, text, _with(job, swapped))


def _dried(job: Job) -> Iterator[_Candidate]:
    wet: dict[int, Entry] = {i: replace(entry, over=Over.DRY) for i, entry in _laid(job) if entry.over is Over.WET}
    if wet:
        yield _Candidate(FixCode.LET_DRY, "Let each layer dry before the next.", _with(job, wet))


def _barriers(job: Job) -> Iterator[_Candidate]:
    """White pigment brushed thinly on the card, under everything; on white card it keeps nothing apart."""
    if not dulls(prepare_job(_lean(job), []).card_from_white, constants.values(job.constants)):
        return
    key, white = owned_white(job) or ("white-barrier", _WHITE_PIGMENT)
    laid = with_barrier(job, key, white)
    if laid is not None:
        yield _Candidate(FixCode.BARRIER, f"Brush {white.name or key} thinly on the card first, and let it dry.", laid)


def _lighter_hands(job: Job) -> Iterator[_Candidate]:
    for i, entry in _laid(job):
        text = f"Go lighter with {_names(job, entry)}."
        yield _Candidate(
            FixCode.LIGHTER_HAND,
            text,
            _with(job, {i: lighter_hand(entry, constants.values(job.constants)["touch.lighter"])}),
        )


def _by_distance(job: Job, to: Floats) -> list[tuple[float, str, Ink]]:
    """The inks of the stash that are not in the job yet, nearest in colour first."""
    without = {ink.name for _, ink in job.inks}
    offered = [(key, ink) for key, ink in job.stash.inks if ink.name not in without]
    if not offered:
        return []
    apart = cm.delta_e(swatch_labs([ink for _, ink in offered], job), to).tolist()
    return sorted([(d, key, ink) for d, (key, ink) in zip(apart, offered, strict=True)], key=lambda item: item[0])


def _stand_ins(job: Job) -> Iterator[_Candidate]:
    reach = constants.values(job.constants)["fix.reach"]
    for used in used_inks(job):
        for distance, key, ink in _by_distance(job, swatch_lab(dict(job.inks)[used], job)):
            if distance > reach:
                break
            inks = tuple((k, ink if k == used else old) for k, old in job.inks)
            text = f"Take {ink.name or key} instead of {_name(job, used)}."
            yield _Candidate(FixCode.STAND_IN, text, replace(job, inks=inks))


def _other_cards(job: Job) -> Iterator[_Candidate]:
    light = str(job.illuminant)

    def lab(card: Card) -> Floats:
        return prepare_card(card, light, job.constants).lab

    others = [(key, card) for key, card in job.stash.cards if card != job.cardstock]
    own = lab(job.cardstock)
    nearest = sorted(others, key=lambda pair: float(cm.delta_e(lab(pair[1]), own)))[:_CARDS]
    lightest = sorted(others, key=lambda pair: -float(lab(pair[1])[0]))[:_CARDS]
    for key, card in dict([*nearest, *lightest]).items():
        yield _Candidate(FixCode.OTHER_CARD, f"Work on {key} instead.", replace(job, cardstock=card))


def _without_stack(job: Job, found: Prediction, wanted: Floats | None) -> Iterator[Fix]:
    """For two inks that do not join: a bridge between them, a narrower overlap."""
    laid = _laid(job)
    if len(used_inks(job)) != 2 or len(laid) != 2:
        return
    (_, lower), (_, upper) = laid
    names = f"{_names(job, lower)} and {_names(job, upper)}"
    bridge = _bridge(job, lower, upper, wanted)
    if bridge is not None:
        mud, key, ink, seams = bridge
        text = f"Put {ink.name or key} between {names}; it joins both without mud."
        yield Fix(FixCode.BRIDGE, text, None, mud, seams)
    table = constants.values(job.constants)
    light: dict[int, Entry] = {at: lighter_hand(entry, table["fix.seam"]) for at, entry in laid}
    seam = predict(_lean(_with(job, light)), wanted)
    if found.verdict.mud - seam.verdict.mud >= _least_gain(found.verdict.mud, table):
        text = f"Let {names} meet in a narrow, light-handed seam, or leave a gap."
        yield Fix(FixCode.NARROWER_OVERLAP, text, None, seam.verdict.mud, (seam,))
    else:
        text = f"Leave a gap between {names}: where they overlap even a light hand gives mud."
        yield Fix(FixCode.NARROWER_OVERLAP, text, None, None)


def _bridge(
    job: Job, lower: LayDown, upper: LayDown, wanted: Floats | None
) -> tuple[float, str, Ink, tuple[Prediction, ...]] | None:
    """The ink of the stash whose two seams are clean and that lies nearest to both."""
    ends = [swatch_lab(dict(job.inks)[entry.parts[0][0]], job) for entry in (lower, upper)]
    tried = _by_distance(job, np.mean(ends, axis=0))
    if not tried or len(job.inks) == MAX_INKS:
        return None

    def seams(key: str, ink: Ink) -> list[Job]:
        made = []
        for entry in (lower, upper):
            other = replace(entry, parts=((key, 1.0),), over=upper.over)
            stack = (replace(entry, over=Over.DRY), other)
            made.append(replace(job, inks=(*job.inks, (key, ink)), stack=stack))
        return made

    jobs = [seam for _, key, ink in tried for seam in seams(f"bridge-{key}", ink)]
    weighed = _weigh_changes(job, jobs, wanted)
    muds, loses = np.array([each.mud for each in weighed]), np.array([each.loses for each in weighed])
    worst, lost = np.maximum(muds[::2], muds[1::2]), loses[::2] | loses[1::2]
    # A bridge that is as near to the one as to the other makes two equal steps.
    steps = np.stack([cm.delta_e(swatch_labs([ink for _, _, ink in tried], job), end) for end in ends])
    line = min(job.mud_line / 2, _clean_enough(worst, constants.values(job.constants)))
    clean = np.flatnonzero((worst < line) & ~lost)
    if not clean.size:
        return None
    chosen = int(clean[np.argmin(steps[:, clean].max(axis=0))])
    _, key, ink = tried[chosen]
    shown = tuple([predict(_lean(each), wanted) for each in jobs[2 * chosen : 2 * chosen + 2]])
    return float(worst[chosen]), key, ink, shown


def _clean_enough(worst: Floats, table: Mapping[str, float]) -> float:
    """Mud below which a bridge counts as clean: next to none, or a little more than the least there is."""
    return max(table["fix.least_mud"], float(worst.min()) + 2)
