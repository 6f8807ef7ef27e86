"""Routes of the Match screen: the stacks of the stash that make a wanted colour, and what can be made already."""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable, Generator
from dataclasses import dataclass, replace
from datetime import date
from functools import partial
from threading import Lock
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, Field, model_validator
from starlette.concurrency import run_in_threadpool

from wempa.craft import constants
from wempa.craft.colour.naming import compare, describe
from wempa.craft.errors import JobError
from wempa.craft.job import Ink, Job, Stash
from wempa.craft.limits import MAX_MATCH, MAX_STACK
from wempa.craft.overlap.crossing import pair_alone
from wempa.craft.prediction.predict import predict
from wempa.craft.recipe import LIGHT_SAID, entry_line
from wempa.craft.search.match import GAP, search
from wempa.craft.search.match_answers import Answer, best_answers, from_others, target_of, wanted_lab
from wempa.craft.search.space import SearchSpace
from wempa.craft.vocabulary import Illuminant, Page, Standing
from wempa.craft.ways import three_hands
from wempa.formats import job as contract
from wempa.formats.write import entry_json
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.store import NotFound, Workspace

from .hand_over import download
from .models import Look, OverlapEntry
from .overlaps import Jobs, look_out
from .panels import Studies, make, stored_plan
from .shelf import Shelf

_LINES = "application/x-ndjson"
# Below so many inks a search goes on until nothing nearer is left.
_EXACT = 40
# While another search has the machine, one looks again after so many seconds.
_WAIT = 0.25


class TargetIn(BaseModel):
    """A wanted colour: typed or picked (`colour`), an ink's own, or a spot on a saved overlap or panel."""

    colour: contract.Colour | None = None
    ink_id: int | None = None
    overlap_id: int | None = None
    below: int | None = None
    """Of an overlap: where two of its lay-downs cross, by position; all of it where neither is given."""
    above: int | None = None
    panel_id: int | None = None
    band: int | None = None
    """Of a panel: the middle of a band, or of a seam, by place."""
    seam: int | None = None

    @model_validator(mode="after")
    def _one(self) -> TargetIn:
        if sum(each is not None for each in (self.colour, self.ink_id, self.overlap_id, self.panel_id)) != 1:
            raise ValueError("a wanted colour is one of colour, ink_id, overlap_id and panel_id")
        if sum(each is not None for each in (self.band, self.seam)) != (0 if self.panel_id is None else 1):
            raise ValueError("a spot on a panel is one of its bands or seams")
        if (self.below is None) != (self.above is None):
            raise ValueError("below and above go together")
        return self


class MatchIn(BaseModel):
    """What is wanted, on what, and what may be used."""

    target: TargetIn
    card_id: int | None = None
    start: int | None = None
    """An overlap whose stack lies on its card already; the match goes over it."""
    illuminant: Illuminant = Illuminant.D65
    most: Annotated[int, Field(ge=1, le=3)] = 3
    thin: bool = False
    """Whether inks may be thinned with water."""
    without: Annotated[list[int], Field(max_length=MAX_MATCH)] = []
    exact: bool = False
    """Go on until nothing nearer is left, however many inks there are."""


class AnswerOut(BaseModel):
    """One way to the colour."""

    inks: list[int]
    stack: list[OverlapEntry]
    """What is put on, over what lies there."""
    lines: list[str]
    look: Look
    delta_e: float
    beside: str
    """Beside the wanted colour, in words: such as ``darker and greyer than``."""


class MatchLine(BaseModel):
    """A line of the answer as it comes: how far the search is, and at the end what it found."""

    state: Literal["waiting", "working", "done", "refused"]
    done: float = 0
    """Share of the work, 0–1."""
    best: float | None = None
    """ΔE00 of the nearest stack so far, in the amounts that are searched."""
    bound: float = 0
    """No stack in these amounts comes nearer; proven."""
    stacks: int = 0
    target: str = ""
    """Hex of the wanted colour."""
    words: str = ""
    answers: list[AnswerOut] = []
    reached: bool = False
    """Whether the best stands in for the wanted colour."""
    error: str = ""


class ReserveOut(BaseModel):
    """What the other inks come to for one ink."""

    ink_id: int
    target: str
    answer: AnswerOut | None
    bound: float
    made: bool


@dataclass(frozen=True, slots=True, eq=False)
class _Reached:
    """What the stash of a moment reaches on a card."""

    shelf: Shelf
    key: object
    reach: SearchSpace


class _Matches:
    """Searches of one workspace: one at a time, for each uses the whole machine."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace, self._studies = workspace, Studies()
        self.jobs = Jobs(workspace)
        self.turn = Lock()
        self._last: _Reached | None = None
        self.reserves: dict[tuple[int | None, Illuminant], tuple[Shelf, dict[int, ReserveOut]]] = {}

    def start(self, body: MatchIn) -> tuple[Shelf, Job]:
        """The shelf, and the job of what lies there already."""
        shelf = self.jobs.shelf()
        owned = [key for key, _ in shelf.owned.inks]
        if len(owned) > MAX_MATCH:
            raise JobError(f"a match looks among {MAX_MATCH} inks at most")
        job = shelf.job(body.card_id, owned, body.illuminant)
        if body.start is None:
            return shelf, job
        lies, item = self.jobs.stored(body.start, body.illuminant)
        stack = lies.stack[: item["laid"]] if item["laid"] else lies.stack
        if len(stack) + 3 > MAX_STACK:
            raise JobError(f"{item['name']} is full: a stack has {MAX_STACK} entries at most")
        inks = tuple({**dict(job.inks), **dict(lies.inks)}.items())
        return shelf, replace(job, cardstock=lies.cardstock, inks=inks, stack=stack, constants=lies.constants)

    def reach(self, shelf: Shelf, job: Job) -> SearchSpace:
        """What the owned inks reach over what lies there; the last one is kept for the next question."""
        key = (job.cardstock, job.stack, job.illuminant, job.constants)
        if self._last is None or self._last.shelf is not shelf or self._last.key != key:
            # Let go of it first, for it is large.
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
            own = replace(self.jobs.stored(wanted.overlap_id, body.illuminant)[0], stash=Stash())
            if wanted.below is not None and wanted.above is not None:
                own = pair_alone(own, wanted.below, wanted.above)
            return predict(own).colour.lab
        if wanted.panel_id is not None:
            return self._on_panel(wanted, body.illuminant, shelf)
        assert wanted.colour is not None
        return wanted_lab(wanted.colour.to_core(), body.illuminant)

    def _on_panel(self, wanted: TargetIn, illuminant: Illuminant, shelf: Shelf) -> Floats:
        plan = stored_plan(self._workspace.read("panel", wanted.panel_id or 0))
        plan.settings.illuminant = illuminant
        found = make(plan, shelf, self._studies).study()
        at = wanted.seam if wanted.band is None else wanted.band
        spots = found.seams if wanted.band is None else found.bands
        if at is None or not 0 <= at < len(spots):
            raise NotFound("there is no such spot on this panel")
        return spots[at].lab


def _answer_out(answer: Answer, target: Floats, inks: dict[str, Ink]) -> AnswerOut:
    stack = []
    for entry in answer.added:
        plain = entry_json(entry)
        plain["ink_id"] = int(plain.pop("ink"))
        stack.append(OverlapEntry.model_validate(plain))
    lab = answer.found.colour.lab.tolist()
    return AnswerOut(
        inks=[int(key) for key in answer.inks],
        stack=stack,
        lines=[entry_line(entry, inks) for entry in answer.added],
        look=look_out(answer.found),
        delta_e=round(answer.delta_e, 2),
        beside=compare(lab, target.tolist()),
    )


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()
    matches = _Matches(workspace)

    def found(body: MatchIn) -> Generator[MatchLine]:
        shelf, job = matches.start(body)
        target = matches.target(body, shelf, job)
        light = str(body.illuminant)
        shown = cm.hexes_from_lab(target[None], light)[0]
        said = partial(MatchLine, target=shown, words=describe(target.tolist()))
        if not shelf.owned.inks:
            raise JobError("there is no ink in the stash yet to make it from; add one")
        while not matches.turn.acquire(timeout=_WAIT):
            yield said(state="waiting")
        try:
            yield said(state="working")
            reach = matches.reach(shelf, job)
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
        finally:
            matches.turn.release()
        inks = dict(reach.job.inks)
        made.answers = [_answer_out(answer, target, inks) for answer in few]
        equal = constants.values(reach.job.constants)["match.made"]
        made.reached = any(answer.delta_e <= equal for answer in few)
        made.state = "done"
        yield made

    @router.post("/match", response_class=StreamingResponse, responses={200: {"model": MatchLine}})
    def match(body: MatchIn) -> StreamingResponse:
        """The stacks that make a colour: lines of JSON, the last one with what was found. Hang up to cancel."""
        lines = found(body)
        # What is wrong with the question is said before anything is sent.
        first = next(lines)

        return _streamed(first, lines, lambda error: MatchLine(state="refused", error=str(error)))

    def reserves(card_id: int | None, illuminant: Illuminant) -> Generator[ReserveOut]:
        """Every ink of the book against the others; what was found is kept while the stash stays as it is."""
        shelf, job = matches.start(
            MatchIn(target=TargetIn(colour=contract.Colour(hex="#808080")), card_id=card_id, illuminant=illuminant)
        )
        kept = matches.reserves.get((card_id, illuminant))
        if kept is None or kept[0] is not shelf:
            kept = matches.reserves[card_id, illuminant] = shelf, {}
        inks = dict(shelf.job(None, shelf.inks, illuminant).inks)
        for key in shelf.inks:
            number = int(key)
            if number not in kept[1] and len(shelf.owned.inks) > (key in dict(shelf.owned.inks)):
                with matches.turn:
                    one = from_others(matches.reach(shelf, job), inks[key], key)
                target = target_of(inks[key], job)
                kept[1][number] = ReserveOut(
                    ink_id=number,
                    target=cm.hexes_from_lab(target[None], str(illuminant))[0],
                    answer=None if one.answer is None else _answer_out(one.answer, target, inks),
                    bound=round(one.bound, 2),
                    made=one.made,
                )
            if number in kept[1]:
                yield kept[1][number]

    @router.get("/reserve", response_class=StreamingResponse, responses={200: {"model": ReserveOut}})
    def reserve(card_id: int | None = None, illuminant: Illuminant = Illuminant.D65) -> StreamingResponse:
        """Which colours can be made already: a line of JSON for every ink of the book."""
        lines = reserves(card_id, illuminant)
        return _streamed(next(lines, None), lines, None)

    @router.get("/reserve.pdf", response_class=Response)
    def printed(
        card_id: int | None = None, illuminant: Illuminant = Illuminant.D65, page: Annotated[Page, Query()] = Page.A4
    ) -> Response:
        """The same on paper."""
        from wempa.formats import reserve_sheet
        from wempa.formats.chart_sheet import as_pdf

        shelf = matches.jobs.shelf()
        standing = {item["id"]: item["details"].get("standing", Standing.OWNED) for item in workspace.read_all("ink")}
        rows = [
            reserve_sheet.Row(
                name=shelf.inks[str(one.ink_id)].name,
                standing=str(standing[one.ink_id]).replace("_", " "),
                target=one.target,
                made=one.answer.look.colour.hex if one.answer else None,
                delta_e=one.answer.delta_e if one.answer else None,
                margin=one.answer.look.margin if one.answer else None,
                lines=one.answer.lines if one.answer else [],
                stands_in=one.made,
            )
            for one in reserves(card_id, illuminant)
        ]
        text = f"on {shelf.card_name(card_id)}, seen by {LIGHT_SAID[illuminant]}; predicted {date.today().isoformat()}"
        return download(as_pdf(reserve_sheet.pages(rows, text, page)), "application/pdf", "wempa reserve.pdf")

    return router


def _streamed(
    first: BaseModel | None,
    lines: Generator[BaseModel],
    refused: Callable[[JobError], BaseModel] | None,
) -> StreamingResponse:
    """Lines of JSON as they are made, on a thread; whoever hangs up ends the making of them."""

    async def sent() -> AsyncIterator[str]:
        line = first
        try:
            while line is not None:
                yield line.model_dump_json() + "\n"
                try:
                    line = await run_in_threadpool(next, lines, None)
                except JobError as error:
                    line = None
                    if refused is not None:
                        yield refused(error).model_dump_json() + "\n"
        finally:
            # At once, and not when somebody gets round to it: a search holds its turn.
            lines.close()

    return StreamingResponse(sent(), media_type=_LINES, headers={"content-encoding": "identity"})
