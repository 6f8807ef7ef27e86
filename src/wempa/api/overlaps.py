"""Routes of the Overlap screen: stored overlaps, what they look like, what would help."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Header, Query, Response
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request

from wempa.craft.colour.naming import chance_words, compare, describe, margin_words
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.limits import MAX_ITEMS, WHITE_CARD
from wempa.craft.overlap.crossing import Crossing, crossing, pair_alone
from wempa.craft.overlap.cut_view import CutLayer, cut_through
from wempa.craft.overlap.fixes import find_fixes
from wempa.craft.overlap.nudges import Nudge, less_of, more_of, nudges
from wempa.craft.overlap.presets import use_preset
from wempa.craft.overlap.showings import Strip, dose_strips, in_lights, nearest_inks, parted_by_light
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.results import Fix, Prediction
from wempa.craft.vocabulary import Board, Illuminant, Preset
from wempa.formats import job as contract
from wempa.formats.result import coded, seen_colour, verdict_result
from wempa.formats.write import entry_json
from wempa.optics import colorimetry as cm
from wempa.store import NotFound, StoreError, Workspace
from wempa.store.workspace import Item, Kind

from . import hand_over
from .models import (
    Advice,
    Beside,
    CrossingOut,
    CrossingPair,
    CutOut,
    Desk,
    DoseStep,
    FixOut,
    LightOut,
    Look,
    NeighbourOut,
    NudgeOut,
    OverlapEntry,
    OverlapIn,
    OverlapOut,
    OverlapSummary,
    PresetIn,
    StackChange,
    StripOut,
)
from .shelf import Shelf, Shelves

_LIGHTS = (Illuminant.D65, Illuminant.A, Illuminant.LED_B3)


def look_out(found: Prediction) -> Look:
    """A prediction as the screens take it."""
    return Look.model_construct(
        words=describe(found.colour.lab.tolist()),
        closeness=margin_words(found.margin),
        margin=round(found.margin, 1),
        chance=chance_words(found.verdict.mud_chance),
        colour=seen_colour(found.colour),
        drops=None if found.drops is None else seen_colour(found.drops),
        verdict=verdict_result(found.verdict),
        notes=coded(found.notes),
    )


def crossing_out(found: Crossing, cut: Sequence[CutLayer] = ()) -> CrossingOut:
    """Crossing swatches as the screens take them."""
    return CrossingOut.model_construct(
        bare=look_out(found.bare),
        alone=[look_out(each) for each in found.alone],
        pairs=[
            CrossingPair.model_construct(
                below=pair.below,
                above=pair.above,
                words=describe(pair.lab.tolist()),
                hex=pair.hex,
                mud=round(pair.mud, 1),
                kind=pair.kind,
                order_matters=round(pair.order_matters, 1),
            )
            for pair in found.pairs
        ],
        full=look_out(found.full),
        wet=look_out(found.wet),
        steps=[step.hex for step in found.full.steps],
        cut=[
            CutOut(
                entry=each.entry,
                soaks=round(each.soaks, 3),
                sits=round(each.sits, 3),
                cover=round(each.cover, 3),
                joined=each.joined,
            )
            for each in cut
        ],
    )


def written(model: BaseModel, status: int = 200) -> Response:
    """A model as it is; the framework would check all of it again, which takes as long as the prediction."""
    return Response(model.model_dump_json(), status, media_type="application/json")


class Jobs:
    """Between overlaps as they are stored and jobs of the core."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace, self._shelves = workspace, Shelves(workspace)

    def stored(self, number: int, illuminant: Illuminant) -> tuple[Job, dict[str, Any]]:
        """The job of a stored overlap as it is under a light, and the overlap itself.

        Raises
        ------
        NotFound
            The overlap, or an ink or card of it, is not there.
        """
        item = self._workspace.read("overlap", number)
        return self.of({**item, "settings": {**item["settings"], "illuminant": illuminant}})[0], item

    def shelf(self) -> Shelf:
        """The shelf as it is now."""
        return self._shelves.now()

    def of(self, item: dict[str, Any]) -> tuple[Job, Shelf]:
        """The job of an overlap, and the shelf it was read with.

        Raises
        ------
        NotFound
            It names an ink or card that is not there.
        JobError
            An entry is bad; its place is named.
        """
        shelf = self.shelf()
        read = contract.read_one(
            {
                "wempa": 1,
                "cardstock": {"colour": {"hex": WHITE_CARD}},
                "inks": {str(number): _STAND_IN for number in _inks_of(item)},
                "stack": [_placed(entry) for entry in item["stack"]],
                **item["settings"],
            }
        )
        inks = []
        for key, _ in read.inks:
            if key not in shelf.inks:
                raise NotFound(f"there is no ink {key}")
            inks.append((key, shelf.inks[key]))
        card = read.cardstock
        if item["card_id"] is not None:
            if item["card_id"] not in shelf.cards:
                raise NotFound(f"there is no card {item['card_id']}")
            card = shelf.cards[item["card_id"]]
        # An ink's pad says how much a tool takes, unless the entry does.
        stack = tuple(
            replace(entry, load=shelf.loads[entry.parts[0][0]])
            if isinstance(entry, LayDown) and given.get("load") is None and not entry.premix
            else entry
            for entry, given in zip(read.stack, item["stack"], strict=True)
        )
        return shelf.dressed(replace(read, cardstock=card, inks=tuple(inks), stack=stack)), shelf

    def change(self, after: Job, item: dict[str, Any], before: Job, shelf: Shelf) -> StackChange | None:
        """What the overlap becomes when its job becomes `after`; None if that takes what is not on the shelf."""
        keys = {ink: key for key, ink in (*before.stash.inks, *before.inks)}
        declared = dict(after.inks)
        stack = []
        for entry in after.stack:
            plain = entry_json(entry)
            if isinstance(entry, LayDown):
                parts = [(keys.get(declared[key]), share) for key, share in entry.parts]
                if any(key is None for key, _ in parts):
                    return None
                plain.pop("ink", None)
                if plain.pop("mix", None) is None:
                    plain["ink_id"] = parts[0][0]
                else:
                    plain["mix"] = [{"ink_id": key, "share": share} for key, share in parts]
            stack.append(OverlapEntry.model_validate(plain))
        card_id = item["card_id"]
        if after.cardstock != before.cardstock:
            names = {card: name for name, card in before.stash.cards}
            original = dict(shelf.owned.cards).get(names.get(after.cardstock, ""))
            card_id = next((number for number, card in shelf.cards.items() if card == original), None)
        return StackChange(card_id=card_id, stack=stack)


# Entries are checked against ink keys only; the inks themselves come from the shelf.
_STAND_IN = {"swatch": {"colour": {"hex": WHITE_CARD}}}


def _inks_of(item: dict[str, Any]) -> list[int]:
    """Numbers of the inks that an overlap lays down, each once."""
    found: dict[int, None] = {}
    for entry in item["stack"]:
        if entry.get("ink_id") is not None:
            found[entry["ink_id"]] = None
        found.update((part["ink_id"], None) for part in entry.get("mix") or ())
    return list(found)


def _placed(entry: dict[str, Any]) -> dict[str, Any]:
    """A stored entry as one of a job."""
    plain = {key: value for key, value in entry.items() if key not in ("ink_id", "mix")}
    if entry.get("ink_id") is not None:
        plain["ink"] = str(entry["ink_id"])
    if entry.get("mix"):
        plain["mix"] = [{"ink": str(part["ink_id"]), "share": part["share"]} for part in entry["mix"]]
    return plain


def copy_of(workspace: Workspace, kind: Kind, item_id: int) -> tuple[Item, Item]:
    """A stored item, and the same to be stored once more under another name."""
    item = workspace.read(kind, item_id)
    taken = {each["name"] for each in workspace.read_all(kind)}
    stem = item["name"][:180]
    name = next(each for n in range(2, MAX_ITEMS + 3) if (each := f"{stem} ({n})") not in taken)
    return item, {**{key: value for key, value in item.items() if key not in ("id", "revision")}, "name": name}


def desk_of(workspace: Workspace, jobs: Jobs, item: dict[str, Any], status: int = 200) -> Response:
    """A stored overlap with what it looks like."""
    job, shelf = jobs.of(item)
    can_undo, can_redo = workspace.can_step()
    made = Desk.model_construct(
        overlap=OverlapOut.model_validate(item),
        crossing=crossing_out(crossing(job, shelf.wanted(job)), cut_through(job)),
        can_undo=can_undo,
        can_redo=can_redo,
    )
    return written(made, status)


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()
    jobs = Jobs(workspace)

    def desk(item: dict[str, Any], status: int = 200) -> Response:
        return desk_of(workspace, jobs, item, status)

    def checked(body: OverlapIn) -> dict[str, Any]:
        item = body.model_dump(mode="json", exclude_none=True)
        item.setdefault("card_id", None)
        item["laid"] = min(item["laid"], len(item["stack"]))
        jobs.of(item)
        return item

    def make(item: dict[str, Any], what: str) -> Response:
        if len(workspace.read_all("overlap")) >= MAX_ITEMS:
            raise StoreError(f"a workspace holds {MAX_ITEMS} overlaps at most")
        return desk(workspace.write("overlap", item, what=what), 201)

    @router.get("/overlaps")
    def overlaps() -> list[OverlapSummary]:
        """Every stored overlap with its colour and verdict."""
        return [_summary(item) for item in workspace.read_all("overlap")]

    summaries: dict[int, tuple[object, OverlapSummary]] = {}

    def _summary(item: dict[str, Any]) -> OverlapSummary:
        job, shelf = jobs.of(item)
        # A shelf is another object once anything in the stash has changed.
        known = summaries.get(item["id"])
        if known is not None and known[0] == (item["revision"], shelf):
            return known[1]
        summaries[item["id"]] = (item["revision"], shelf), _summarised(item, job, shelf)
        return summaries[item["id"]][1]

    def _summarised(item: dict[str, Any], job: Job, shelf: Shelf) -> OverlapSummary:
        found = predict(replace(job, stash=Stash()), shelf.wanted(job))
        bare = predict(replace(job, stash=Stash(), stack=()))
        return OverlapSummary(
            **{key: item[key] for key in ("id", "revision", "name", "colour_name")},
            card=bare.colour.hex,
            hex=found.colour.hex,
            words=describe(found.colour.lab.tolist()),
            kind=found.verdict.kind,
            mud=round(found.verdict.mud, 1),
        )

    @router.post("/overlaps", status_code=201, response_model=Desk)
    def make_overlap(body: OverlapIn) -> Response:
        """Store a new overlap."""
        return make(checked(body), f"Make {body.name}")

    @router.post("/overlaps/import", status_code=201, response_model=Desk)
    async def take_in(request: Request) -> Response:
        """Store the overlap of a job file; inks and cards that are not on the shelf come with it."""
        data = await request.body()

        def store() -> Response:
            return desk(hand_over.take_in(workspace, data, jobs.shelf()), 201)

        return await run_in_threadpool(store)

    @router.get("/table", response_model=Desk | None)
    def table(overlap: int = 0) -> Response:
        """The overlap asked for, or the first if that is gone; null where there is none."""
        found = workspace.first("overlap", prefer=overlap)
        return Response("null", media_type="application/json") if found is None else desk(found)

    @router.get("/overlaps/{item_id}", response_model=Desk)
    def overlap(item_id: int) -> Response:
        """An overlap with what it looks like."""
        return desk(workspace.read("overlap", item_id))

    @router.put("/overlaps/{item_id}", response_model=Desk)
    def change_overlap(
        item_id: int,
        body: OverlapIn,
        if_match: Annotated[str | None, Header()] = None,
        what: Annotated[str | None, Query(max_length=200)] = None,
    ) -> Response:
        """Change an overlap; `If-Match` carries the revision it was read with, `what` says what was done."""
        said = f"{what} ({body.name})" if what else f"Change {body.name}"
        stored = workspace.write(
            "overlap", checked(body), item_id=item_id, revision=revision_of(if_match), what=said[:200]
        )
        return desk(stored)

    @router.delete("/overlaps/{item_id}")
    def delete_overlap(item_id: int) -> list[OverlapSummary]:
        """Delete an overlap; undo brings it back."""
        name = workspace.read("overlap", item_id)["name"]
        workspace.write("overlap", None, item_id=item_id, what=f"Delete {name}")
        return overlaps()

    @router.post("/overlaps/{item_id}/copy", status_code=201, response_model=Desk)
    def copy_overlap(item_id: int) -> Response:
        """Store the same once more under another name."""
        item, copied = copy_of(workspace, "overlap", item_id)
        return make(copied, f"Copy {item['name']}")

    @router.post("/overlaps/{item_id}/preset", response_model=Desk)
    def preset(item_id: int, body: PresetIn, if_match: Annotated[str | None, Header()] = None) -> Response:
        """Put the inks together in a ready-made way."""
        item = workspace.read("overlap", item_id)
        if body.preset is Preset.WHITE_BARRIER and item["laid"]:
            raise StoreError("a barrier goes under everything, and something is on the card already")
        job, shelf = jobs.of(item)
        made = jobs.change(use_preset(body.preset, job, shelf.loads), item, job, shelf)
        if made is None:
            raise StoreError("that takes an ink which is not on the shelf")
        changed = {**item, **made.model_dump(mode="json", exclude_none=True), "card_id": made.card_id}
        if body.preset != "coloured_card":
            changed["laid"] = 0
        what = f"{body.preset.replace('_', ' ').capitalize()} ({item['name']})"
        return desk(workspace.write("overlap", changed, item_id=item_id, revision=revision_of(if_match), what=what))

    @router.get("/overlaps/{item_id}/advice", response_model=Advice)
    def advice(item_id: int, board: Board = Board.HELP) -> Response:
        """Against the whole shelf: fixes (`help`), nudges, or the colour's neighbours and its look in other lights."""
        item = workspace.read("overlap", item_id)
        job, shelf = jobs.of(item)
        wanted, laid = shelf.wanted(job), min(item["laid"], len(job.stack))
        found = Advice(revision=item["revision"], board=board)
        if not job.stack:
            return written(found)
        full = predict(replace(job, stash=Stash()), wanted)
        if board is Board.HELP:
            found.fixes = [fix_out(fix, item, job, shelf) for fix in find_fixes(job, full, wanted)]
        elif board is Board.NUDGE:
            found.nudges = [nudge_out(nudge, None, item, job, shelf) for nudge in nudges(job, laid, wanted)]
            for index, entry in enumerate(job.stack):
                if isinstance(entry, LayDown):
                    for nudge in (more_of(job, index, laid, wanted), less_of(job, index, laid, wanted)):
                        found.nudges.append(nudge_out(nudge, index, item, job, shelf))
        else:
            views = in_lights(job, _LIGHTS)
            found.neighbours = [
                NeighbourOut(ink_id=int(each.key), text=each.text, delta_e=round(each.delta_e, 1))
                for each in nearest_inks(full.colour.lab, job)
            ]
            found.lights = [
                LightOut(
                    illuminant=view.illuminant,
                    bare=view.bare.colour.hex,
                    alone=[each.colour.hex for each in view.alone],
                    full=view.full.colour.hex,
                    words=describe(view.full.colour.lab.tolist()),
                )
                for view in views
            ]
            found.notes = coded(parted_by_light(job, views))
        return written(found)

    def fix_out(fix: Fix, item: dict[str, Any], job: Job, shelf: Shelf) -> FixOut:
        # What is on the card already cannot be taken off, nor put on another card.
        laid = item["laid"]
        after = fix.job
        if after is not None and laid and (after.stack[:laid] != job.stack[:laid] or after.cardstock != job.cardstock):
            after = None
        return FixOut.model_construct(
            code=fix.code,
            text=fix.text,
            mud=None if fix.mud is None else round(fix.mud, 1),
            shown=[look_out(each) for each in fix.shown],
            change=None if after is None else jobs.change(after, item, job, shelf),
        )

    def nudge_out(nudge: Nudge, entry: int | None, item: dict[str, Any], job: Job, shelf: Shelf) -> NudgeOut:
        return NudgeOut.model_construct(
            code=nudge.code,
            entry=entry,
            text=nudge.text,
            after=None if nudge.after is None else look_out(nudge.after),
            change=None if nudge.job is None else jobs.change(nudge.job, item, job, shelf),
        )

    @router.get("/overlaps/{item_id}/pair", response_model=Look)
    def pair(item_id: int, below: int, above: int) -> Response:
        """One lay-down over another, by position among the lay-downs: margin, reasons, spectrum."""
        job, shelf = jobs.of(workspace.read("overlap", item_id))
        return written(look_out(predict(pair_alone(job, below, above), shelf.wanted(job))))

    @router.get("/overlaps/{item_id}/beside/{other_id}")
    def beside(item_id: int, other_id: int) -> Beside:
        """How the colour of one overlap compares with another's."""
        labs = []
        for number in (item_id, other_id):
            job, _ = jobs.of(workspace.read("overlap", number))
            labs.append(predict(replace(job, stash=Stash())).colour.lab)
        text = compare(labs[0].tolist(), labs[1].tolist())
        return Beside(delta_e=round(float(cm.delta_e(labs[0], labs[1])), 1), text=text)

    @router.get("/overlaps/{item_id}/strips")
    def strips(item_id: int) -> list[StripOut]:
        """Each lay-down and the whole stack from a breath to saturated."""
        job, shelf = jobs.of(workspace.read("overlap", item_id))
        return [_strip_out(strip, str(job.illuminant)) for strip in dose_strips(job, shelf.wanted(job))]

    @router.get("/overlaps/{item_id}/export.{form}", response_class=Response)
    def export(item_id: int, form: Literal["json", "svg", "pdf", "png"]) -> Response:
        """The overlap as a job, or drawn."""
        item = workspace.read("overlap", item_id)
        job, shelf = jobs.of(item)
        return hand_over.give(item, job, shelf, form)

    return router


def revision_of(if_match: str | None) -> int | None:
    """The revision in an `If-Match` header; raises `StoreError` if it is none."""
    if if_match is None:
        return None
    text = if_match.strip().strip('"')
    if not text.isdecimal():
        raise StoreError("If-Match must be the revision that was read, a whole number")
    return int(text)


def _strip_out(strip: Strip, illuminant: str) -> StripOut:
    hexes = cm.hexes_from_lab(strip.found.lab, illuminant)
    return StripOut(
        entry=strip.entry,
        steps=[
            DoseStep(factor=round(factor, 3), hex=code, mud=round(mud, 1), kind=strip.found.kind_of(row))
            for row, (factor, code, mud) in enumerate(zip(strip.factors, hexes, strip.found.mud.tolist(), strict=True))
        ],
    )
