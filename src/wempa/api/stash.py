"""Routes of the stash: what it holds, changes to it, the home test, the formula guide."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.families import colour_word
from wempa.craft.colour.naming import describe
from wempa.craft.job import Card, Colour, Ink
from wempa.craft.limits import MAX_ITEMS
from wempa.craft.prediction.spectra import find_spectra, spectrum_of
from wempa.craft.stash import formula_guide
from wempa.craft.stash.home_test import STEPS, likely_formulas
from wempa.craft.stash.upkeep import PAD_LOAD, Reminder, card_reminders, pad_reminders, tool_reminders
from wempa.craft.vocabulary import Family, Formula, Illuminant, Load, Observation, PadState, Standing, Surface, Tool
from wempa.craft.ways import first_touch
from wempa.demo.penny_halt import fill
from wempa.formats.stash import CardItem, InkItem, RangeItem, ToolItem, pad_today, read_item
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.optics.namespace import SCALAR
from wempa.store import StoreError, Workspace
from wempa.store.workspace import Change as StoreChange

_GREY = 8.0


class SeenOnScreen(BaseModel):
    """A colour of the stash as it is shown and sorted."""

    hex: str
    words: str
    lab: list[float]
    """CIELAB under D65."""
    hue: float | None
    """Painter's hue, 0–360°; null for greys."""
    family: Family


class Touch(BaseModel):
    """A tool and how often it goes over the card."""

    tool: Tool
    passes: float


class StashInk(SeenOnScreen):
    """An ink of the stash; `item` is what can be changed about it."""

    id: int
    revision: int
    name: str
    range: str
    formula: Formula
    item: InkItem
    pad: PadState | None
    """What its pad is like today."""
    load: Load
    """What a tool takes from it today."""
    touch: Touch
    """How it is first put on."""
    others: list[str]
    """Hex of each of its other swatches."""
    on_dark: str | None
    """Hex of its swatch on dark card."""


class StashCard(SeenOnScreen):
    """A card of the stash."""

    id: int
    revision: int
    name: str
    surface: Surface
    item: CardItem
    grams: float | None
    """Weight in g/m²."""


class StashTool(BaseModel):
    """A tool."""

    id: int
    revision: int
    item: ToolItem


class StashRange(BaseModel):
    """A range with overrides."""

    id: int
    revision: int
    item: RangeItem


class ReminderOut(BaseModel):
    """Something that wants doing about an item."""

    kind: Literal["ink", "card", "tool"]
    id: int
    code: str
    text: str


class StashView(BaseModel):
    """Everything the stash holds."""

    inks: list[StashInk]
    cards: list[StashCard]
    tools: list[StashTool]
    ranges: list[StashRange]
    reminders: list[ReminderOut]
    can_undo: bool
    can_redo: bool


class Change(BaseModel):
    """One item made (no `id`), changed, or deleted (no `item`)."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["ink", "card", "tool", "range"]
    id: int | None = None
    revision: int | None = None
    item: dict[str, Any] | None = None


class Changes(BaseModel):
    """Changes made together; undone together."""

    model_config = ConfigDict(extra="forbid")

    what: Annotated[str, Field(min_length=1, max_length=200)]
    changes: Annotated[list[Change], Field(min_length=1, max_length=MAX_ITEMS)]


class TestStep(BaseModel):
    """One step of the home test."""

    observation: Observation
    do: str
    ask: str
    yes: str
    no: str


class FormulaChance(BaseModel):
    """A formula and its chance, 0–1."""

    formula: Formula
    chance: float


class Implied(BaseModel):
    """A number of the craft table that a formula implies."""

    column: str
    value: float
    unit: str


class TestFinding(BaseModel):
    """What the home test says so far."""

    chances: list[FormulaChance]
    formula: Formula
    implied: list[Implied]


class GuideLine(BaseModel):
    """One aspect of a formula; `own` says the same with the owner's numbers, by range."""

    aspect: str
    text: str
    numbers: list[Implied]
    own: dict[str, str]


class GuideFormula(BaseModel):
    """A formula in the guide."""

    formula: Formula
    ranges: list[str]
    lines: list[GuideLine]


def on_screen(colours: Sequence[Colour]) -> list[SeenOnScreen]:
    """Colours under daylight, all at once."""
    light = str(Illuminant.D65)
    find_spectra(colours, light)
    if not colours:
        return []
    xyz = cm.xyz(np.stack([spectrum_of(colour, light)[0] for colour in colours]))
    labs = cm.lab_from_xyz(xyz, white_point(light)).tolist()
    found = []
    for code, lab in zip(cm.hexes_from_rgb(cm.srgb_from_xyz(xyz, light)[0]), labs, strict=True):
        grey = (lab[1] ** 2 + lab[2] ** 2) ** 0.5 < _GREY
        hue = None if grey else round(float(painter_hue(lab[1], lab[2], SCALAR)), 1)
        found.append(
            SeenOnScreen.model_construct(
                hex=code,
                words=describe(lab),
                lab=[round(v, 2) for v in lab],
                hue=hue,
                family=Family(colour_word(lab)),
            )
        )
    return found


def ranges_of(workspace: Workspace) -> dict[str, dict[str, float]]:
    """Overrides of the craft table by range."""
    return {item["name"]: item["details"].get("constants", {}) for item in workspace.read_all("range")}


def view(workspace: Workspace, today: date) -> StashView:
    """The whole stash."""
    inks, cards = workspace.read_all("ink"), workspace.read_all("card")
    tools, ranges = workspace.read_all("tool"), workspace.read_all("range")
    ink_items = [InkItem.of(item) for item in inks]
    card_items = [CardItem.of(item) for item in cards]
    ink_cores: list[Ink] = [item.ink.to_core() for item in ink_items]
    card_cores: list[Card] = [item.card.to_core() for item in card_items]
    more = [[swatch.to_core().colour for swatch in item.other_swatches] for item in ink_items]
    darks = [ink.swatch.on_dark.colour if ink.swatch.on_dark else None for ink in ink_cores]
    plain = [*(ink.swatch.colour for ink in ink_cores), *(card.colour for card in card_cores)]
    extra = [colour for colours in more for colour in colours] + [colour for colour in darks if colour is not None]
    seen = on_screen([*plain, *extra])
    hexes = {colour: look.hex for colour, look in zip([*plain, *extra], seen, strict=True)}
    pads = [pad_today(item["details"], today) for item in inks]
    can_undo, can_redo = workspace.can_step()
    touches = {formula: _touch(formula) for formula in Formula}
    return StashView.model_construct(
        inks=[
            StashInk.model_construct(
                **dict(look),
                id=item["id"],
                revision=item["revision"],
                name=item["name"],
                range=item["range"],
                formula=ink.formula,
                item=ink,
                pad=pad,
                load=Load.NORMAL if pad is None else PAD_LOAD[pad],
                touch=touches[ink.formula],
                others=[hexes[colour] for colour in others],
                on_dark=None if dark is None else hexes[dark],
            )
            for item, ink, pad, look, others, dark in zip(inks, ink_items, pads, seen, more, darks, strict=False)
        ],
        cards=[
            StashCard.model_construct(
                **dict(look),
                id=item["id"],
                revision=item["revision"],
                name=item["name"],
                surface=card.card.surface,
                item=card,
                grams=None if card.weight is None else round(card.weight.grams(), 1),
            )
            for item, card, look in zip(cards, card_items, seen[len(inks) :], strict=False)
        ],
        tools=[
            StashTool.model_construct(id=item["id"], revision=item["revision"], item=ToolItem.of(item))
            for item in tools
        ],
        ranges=[
            StashRange.model_construct(id=item["id"], revision=item["revision"], item=RangeItem.of(item))
            for item in ranges
        ],
        reminders=_reminders(inks, ink_items, pads, cards, card_items, tools, today),
        can_undo=can_undo,
        can_redo=can_redo,
    )


def _touch(formula: Formula) -> Touch:
    first = first_touch("", formula, Load.NORMAL, constants.values())
    return Touch(tool=first.tool or Tool.PAD, passes=first.passes)


def _reminders(
    inks: Sequence[Mapping[str, Any]],
    ink_items: Sequence[InkItem],
    pads: Sequence[PadState | None],
    cards: Sequence[Mapping[str, Any]],
    card_items: Sequence[CardItem],
    tools: Sequence[Mapping[str, Any]],
    today: date,
) -> list[ReminderOut]:
    table = constants.values()
    found: list[tuple[Literal["ink", "card", "tool"], int, list[Reminder]]] = []
    for item, ink, pad in zip(inks, ink_items, pads, strict=True):
        if ink.standing in (Standing.OWNED, Standing.USED_UP):
            used_up = ink.standing is Standing.USED_UP
            found.append(("ink", item["id"], pad_reminders(ink.name, pad, used_up, ink.refill)))
    for item, card in zip(cards, card_items, strict=True):
        found.append(("card", item["id"], card_reminders(card.name, card.left, table)))
    for item in tools:
        tool = ToolItem.of(item)
        wants = tool_reminders(tool.name, tool.tool is Tool.FOAM, tool.foam_changed, tool.worn, today, table)
        found.append(("tool", item["id"], wants))
    return [
        ReminderOut(kind=kind, id=number, code=reminder.code, text=reminder.text)
        for kind, number, reminders in found
        for reminder in reminders
    ]


def _implied(numbers: Sequence[tuple[str, float]]) -> list[Implied]:
    unit = {column: constants.TABLE[f"formula.{Formula.DYE}.{column}"].unit for column, _ in numbers}
    return [Implied(column=column, value=value, unit=unit[column]) for column, value in numbers]


def routes(workspace: Workspace) -> APIRouter:
    """The routes for one workspace."""
    router = APIRouter()

    @router.get("/stash")
    def stash() -> StashView:
        """Inks, cards, tools and ranges, with what wants doing."""
        return view(workspace, date.today())

    @router.post("/stash/changes")
    def change(body: Changes) -> StashView:
        """Make, change and delete items together; all of it or nothing."""
        made: list[StoreChange] = [
            (
                one.kind,
                one.id,
                None if one.item is None else read_item(one.kind, one.item).stored(),
                one.revision,
            )
            for one in body.changes
        ]
        for kind in ("ink", "card", "tool", "range"):
            new = sum(1 for change in made if change[0] == kind and change[1] is None)
            if new and new + len(workspace.read_all(kind)) > MAX_ITEMS:
                raise StoreError(f"a workspace holds {MAX_ITEMS} of a kind at most")
        workspace.write_many(made, what=body.what)
        return view(workspace, date.today())

    @router.post("/stash/sample")
    def sample() -> StashView:
        """Put the sample stash into an empty workspace; refused when it holds anything."""
        if workspace.read_all("ink") or workspace.read_all("card"):
            raise StoreError("the stash is not empty, so the sample stash was not put into it")
        fill(workspace)
        return view(workspace, date.today())

    @router.get("/home-test")
    def home_test() -> list[TestStep]:
        """The steps of the home test for an unknown formula."""
        return [TestStep.model_validate(step, from_attributes=True) for step in STEPS]

    @router.post("/home-test")
    def home_test_finding(seen: dict[Observation, bool]) -> TestFinding:
        """What the observations so far say of the formula."""
        found = likely_formulas(seen, constants.values())
        return TestFinding(
            chances=[FormulaChance(formula=formula, chance=round(chance, 4)) for formula, chance in found.chances],
            formula=found.formula,
            implied=_implied(found.constants),
        )

    @router.get("/guide")
    def formula_guide() -> list[GuideFormula]:
        """What each formula does, from the craft table, with the owner's ranges beside it."""
        own = ranges_of(workspace)
        formulas: dict[str, set[Formula]] = {}
        for item in workspace.read_all("ink"):
            formulas.setdefault(item["range"], set()).add(Formula(item["formula"]))
        return [_guide_formula(formula, own, formulas) for formula in Formula if formula is not Formula.UNKNOWN]

    return router


def _guide_formula(
    formula: Formula, own: Mapping[str, Mapping[str, float]], formulas: Mapping[str, set[Formula]]
) -> GuideFormula:
    plain = formula_guide.guide_page(formula)
    ranges = sorted(name for name, found in formulas.items() if formula in found and name)
    pages = {
        name: formula_guide.guide_page(formula, tuple(sorted(own[name].items()))) for name in ranges if own.get(name)
    }
    return GuideFormula(
        formula=formula,
        ranges=ranges,
        lines=[
            GuideLine(
                aspect=line.aspect,
                text=line.text,
                numbers=[Implied(column=column, value=value, unit=unit) for column, value, unit in line.numbers],
                own={
                    name: page.lines[n].text
                    for name, page in pages.items()
                    if page.lines[n].text != line.text or page.lines[n].numbers != line.numbers
                },
            )
            for n, line in enumerate(plain.lines)
        ],
    )
