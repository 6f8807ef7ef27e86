"""Matches among the stash: one search at a time, for each uses the whole machine."""

from __future__ import annotations

from collections.abc import Generator, Mapping
from dataclasses import dataclass, replace
from functools import partial
from threading import Lock

from wempa.api import held
from wempa.api.kept import Kept
from wempa.api.overlap.jobs import Jobs
from wempa.api.overlap.shown import look_out
from wempa.api.panels.making import Panels
from wempa.api.shelf import Shelf, Shelves
from wempa.craft import constants
from wempa.craft.colour.naming import compare, describe
from wempa.craft.errors import JobError
from wempa.craft.job import Ink, Job, Stash, said_of
from wempa.craft.limits import MAX_MATCH, MAX_STACK
from wempa.craft.overlap.crossing import pair_alone
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import entry_line
from wempa.craft.search.match import GAP, search
from wempa.craft.search.match_answers import Answer, best_answers, from_others, target_of, wanted_lab
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Illuminant
from wempa.craft.ways import three_hands
from wempa.formats import job as contract
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import StackEntry
from wempa.formats.panels.plan import PanelItem
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.store import NotFound, Workspace

from .match_models import AnswerOut, MatchIn, MatchLine, ReserveOut, TargetIn

# With fewer inks than this, a search goes on until it has proven that nothing nearer is left.
_EXACT = 40
# For how many cards and lights it is kept what can be made.
_RESERVES = 8


@dataclass(frozen=True, slots=True, eq=False)
class _Reached:
    """What the stash can reach on a card, at one state of the stash."""

    shelf: Shelf
    key: object
    reach: SearchSpace


class Matches:
    """Searches of one workspace: one at a time, for each uses the whole machine."""

    def __init__(self, workspace: Workspace, shelves: Shelves, jobs: Jobs, panels: Panels) -> None:
        self._workspace, self._shelves, self._jobs, self._panels = workspace, shelves, jobs, panels
        self._turn = Lock()
        self._last: _Reached | None = None
        self._reserves = Kept[dict[int, ReserveOut]](_RESERVES)

    def start(self, body: MatchIn) -> tuple[Shelf, Job]:
        """The shelf, and the job of what lies there already."""
        shelf = self._shelves.now()
        owned = [key for key, _ in shelf.owned.inks]
        if len(owned) > MAX_MATCH:
            raise JobError(f"a match looks among {MAX_MATCH} inks at most")
        job = shelf.job(body.card_id, owned, body.illuminant)
        if body.start is None:
            return shelf, job
        lies, overlap = self._jobs.stored(body.start, body.illuminant)
        stack = lies.stack[: len(overlap.item.lies_there())]
        if len(stack) + 3 > MAX_STACK:
            raise JobError(f"{overlap.name} is full: a stack has {MAX_STACK} entries at most")
        inks = tuple({**dict(job.inks), **dict(lies.inks)}.items())
        return shelf, replace(
            job, cardstock=lies.cardstock, inks=inks, stack=stack, mud_line=lies.mud_line, constants=lies.constants
        )

    def reach(self, shelf: Shelf, job: Job) -> SearchSpace:
        """What the owned inks reach over what lies there; the last one is kept for the next question."""
        key = (job.cardstock, job.stack, job.illuminant, job.constants)
        if self._last is None or self._last.shelf is not shelf or self._last.key != key:
            # The old one is let go first, because it is large.
            self._last = None
            table = constants.values(job.constants)
            lays = [
                lay
                for ink, given in shelf.owned.inks
                for lay in three_hands(ink, given.formula, shelf.loads[ink], table)
            ]
            self._last = _Reached(shelf, key, SearchSpace(job, lays))
        return self._last.reach

    def target(self, body: MatchIn, shelf: Shelf, job: Job) -> Floats:
        """CIELAB (3,) of the wanted colour under the match's light.

        Raises
        ------
        NotFound
            The ink, overlap, panel or spot is not there.
        JobError
            The colour is none, or no such two lay-downs cross.
        """
        wanted = body.target
        if wanted.ink_id is not None:
            ink = dict(shelf.job(None, [str(wanted.ink_id)], body.illuminant).inks)[str(wanted.ink_id)]
            return target_of(ink, replace(job, stack=()))
        if wanted.overlap_id is not None:
            own = replace(self._jobs.stored(wanted.overlap_id, body.illuminant)[0], stash=Stash())
            if wanted.below is not None and wanted.above is not None:
                own = pair_alone(own, wanted.below, wanted.above)
            return predict(own).colour.lab
        if wanted.panel_id is not None:
            return self._on_panel(wanted, body.illuminant, shelf)
        assert wanted.colour is not None
        return wanted_lab(wanted.colour.to_core(), body.illuminant)

    def _on_panel(self, wanted: TargetIn, illuminant: Illuminant, shelf: Shelf) -> Floats:
        plan = held.read(self._workspace, PanelItem, wanted.panel_id or 0).item
        plan = plan.model_copy(update={"settings": plan.settings.model_copy(update={"illuminant": illuminant})})
        found = self._panels.made(plan, shelf).study()
        at = wanted.seam if wanted.band is None else wanted.band
        spots = found.seams if wanted.band is None else found.bands
        if at is None or not 0 <= at < len(spots):
            raise NotFound("there is no such spot on this panel")
        return spots[at].lab

    def found(self, body: MatchIn) -> Generator[MatchLine]:
        """The stacks that make a colour, as they are looked for; the last line has what was found.

        Raises
        ------
        JobError
            There is nothing to make it from, or the colour is none.
        """
        shelf, job = self.start(body)
        target = self.target(body, shelf, job)
        light = str(body.illuminant)
        shown = cm.hexes_from_lab(target[None], light)[0]
        said = partial(MatchLine, target=shown, words=describe(target.tolist()))
        if not shelf.owned.inks:
            raise JobError("there is no ink in the stash yet to make it from; add one")
        yield said(state="working")
        with self._turn:
            reach = self.reach(shelf, job)
            enough = 0.0 if body.exact or len(shelf.owned.inks) <= _EXACT else GAP
            without = frozenset(str(number) for number in body.without)
            if all(key in without for key, _ in shelf.owned.inks):
                raise JobError("every ink of the stash is left out; there is nothing to make it from")
            for last in search(reach, target, most=body.most, without=without, enough=enough):
                made = said(
                    state="working",
                    done=round(last.done, 3),
                    best=round(last.best, 2),
                    bound=round(last.bound, 2),
                    stacks=last.stacks,
                )
                if last.done < 1:
                    yield made
            few = best_answers(reach, target, last.found, thin=body.thin)
        inks, table = dict(reach.job.inks), constants.values(reach.job.constants)
        equal = table["match.made"]
        made.answers = [answer_out(answer, target, inks, table) for answer in few]
        made.reached = any(answer.delta_e <= equal for answer in few)
        made.state = "done"
        yield made

    def every_ink(self, card_id: int | None, illuminant: Illuminant) -> Generator[ReserveOut]:
        """Every ink of the book against the others; what was found is kept while the stash stays as it is."""
        shelf, job = self.start(
            MatchIn(target=TargetIn(colour=contract.Colour(hex="#808080")), card_id=card_id, illuminant=illuminant)
        )
        kept = self._reserves.get((card_id, illuminant), shelf, dict)
        inks = dict(shelf.job(None, shelf.inks, illuminant).inks)
        like = _looks_like(self._workspace)
        for key in shelf.inks:
            number = int(key)
            if number not in kept and len(shelf.owned.inks) > (key in dict(shelf.owned.inks)):
                with self._turn:
                    one = from_others(self.reach(shelf, job), inks[key], key)
                target = target_of(inks[key], job)
                kept[number] = ReserveOut(
                    ink_id=number,
                    target=cm.hexes_from_lab(target[None], str(illuminant))[0],
                    answer=None if one.answer is None else answer_out(one.answer, target, inks, shelf.table),
                    bound=round(one.bound, 2),
                    made=one.made,
                )
            if number in kept:
                yield kept[number].model_copy(update={"laid": like.get(number, [])})


def _looks_like(workspace: Workspace) -> dict[int, list[str]]:
    """Names of swatches that somebody found very like an ink, by its number."""
    found: dict[int, list[str]] = {}
    for swatch in held.read_all(workspace, SwatchItem):
        for ink in swatch.item.like:
            found.setdefault(ink.ink_id or 0, []).append(swatch.name)
    return found


def answer_out(answer: Answer, target: Floats, inks: dict[str, Ink], table: Mapping[str, float]) -> AnswerOut:
    """One way to a colour as the screens take it."""
    stack = [StackEntry.of(said_of(entry)) for entry in answer.added]
    lab = answer.found.colour.lab.tolist()
    return AnswerOut(
        inks=[int(key) for key in answer.inks],
        stack=stack,
        lines=[entry_line(entry, inks) for entry in answer.added],
        look=look_out(answer.found),
        delta_e=round(answer.delta_e, 2),
        beside=compare(lab, target.tolist(), table),
    )
