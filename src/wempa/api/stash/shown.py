"""The stash as the screens take it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, TypeVar

import numpy as np

from wempa.api.kept import Kept
from wempa.api.shelf import Shelves, readable
from wempa.api.table.uses import Uses, uses_of
from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.families import around_the_circle, family_of
from wempa.craft.colour.naming import describe_all
from wempa.craft.constants import Overrides
from wempa.craft.errors import JobError
from wempa.craft.job import Card, Colour, Ink
from wempa.craft.prediction.spectra import find_spectra, spectrum_of
from wempa.craft.stash.formula_guide import guide_page
from wempa.craft.stash.upkeep import PAD_LOAD, Reminder, card_reminders, pad_reminders, tool_reminders
from wempa.craft.vocabulary import Family, Formula, Illuminant, Load, PadState, Standing, Tool
from wempa.craft.ways import first_touch, is_white
from wempa.demo.penny_halt import holds_demo
from wempa.formats.job import error_text
from wempa.formats.stash.items import CardItem, InkItem, RangeItem, ToolItem, of_stored
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.optics.namespace import SCALAR
from wempa.store import Item, Workspace

from .models import (
    GuideFormula,
    GuideLine,
    Implied,
    ReminderOut,
    SeenOnScreen,
    StashCard,
    StashInk,
    StashRange,
    StashTool,
    StashView,
    Touch,
    UnreadableOut,
)

# Hues as near as this, in degrees, stand together on the shelf.
_SHELF_STEP = 15.0
_StashKind = Literal["ink", "card", "tool", "range"]


def on_screen(colours: Sequence[Colour], table: Mapping[str, float]) -> list[SeenOnScreen]:
    """Colours under daylight, all at once."""
    light = str(Illuminant.D65)
    find_spectra(colours, light)
    if not colours:
        return []
    xyz = cm.xyz(np.stack([spectrum_of(colour, light)[0] for colour in colours]))
    seen = cm.lab_from_xyz(xyz, white_point(light))
    codes = cm.hexes_from_rgb(cm.srgb_from_xyz(xyz, light)[0])
    found = []
    for code, lab, words in zip(codes, seen.tolist(), describe_all(seen), strict=True):
        grey = (lab[1] ** 2 + lab[2] ** 2) ** 0.5 < table["colour.grey"]
        hue = None if grey else round(float(painter_hue(lab[1], lab[2], SCALAR)), 1)
        found.append(
            SeenOnScreen.model_construct(
                hex=code,
                words=words,
                lab=[round(v, 2) for v in lab],
                hue=hue,
                family=Family(family_of(lab, table)),
            )
        )
    return found


@dataclass(frozen=True, slots=True, eq=False)
class Coloured:
    """Inks and cards as they are shown: what of the stash takes a while to work out."""

    ink_rows: list[Item]
    ink_items: list[InkItem]
    pads: list[PadState | None]
    card_rows: list[Item]
    card_items: list[CardItem]
    inks: list[StashInk]
    cards: list[StashCard]
    unreadable: list[UnreadableOut]


class StashShown:
    """The stash of one workspace on the screen; inks and cards are worked out when they or the day have changed."""

    def __init__(self, workspace: Workspace, shelves: Shelves) -> None:
        self._workspace, self._shelves = workspace, shelves
        self._kept = Kept[Coloured](1)

    def view(self) -> StashView:
        """The whole stash."""
        workspace, today = self._workspace, date.today()
        mark = (today.toordinal(), *workspace.stamp("ink", "card", "lesson"))
        table = self._shelves.now().table
        made = self._kept.get("stash", mark, lambda: _coloured(workspace, today, table))
        held: dict[_StashKind, list[Item]] = {"tool": workspace.read_all("tool"), "range": workspace.read_all("range")}
        tools, ranges = readable(ToolItem, "tool", held["tool"]), readable(RangeItem, "range", held["range"])
        can_undo, can_redo = workspace.can_step()
        return StashView.model_construct(
            inks=made.inks,
            cards=made.cards,
            tools=[StashTool.model_construct(id=row["id"], revision=row["revision"], item=tool) for row, tool in tools],
            ranges=[
                StashRange.model_construct(id=row["id"], revision=row["revision"], item=each) for row, each in ranges
            ],
            reminders=_reminders(
                made.ink_rows,
                made.ink_items,
                made.pads,
                made.card_rows,
                made.card_items,
                tools,
                today,
                uses_of(workspace.read_all("run")),
                table,
            ),
            unreadable=[*made.unreadable, *_unreadable(held)],
            can_undo=can_undo,
            can_redo=can_redo,
            sample=holds_demo(workspace),
        )


def _coloured(workspace: Workspace, today: date, table: Mapping[str, float]) -> Coloured:
    held: dict[_StashKind, list[Item]] = {"ink": workspace.read_all("ink"), "card": workspace.read_all("card")}
    inks, ink_items = _parted(readable(InkItem, "ink", held["ink"]))
    cards, card_items = _parted(readable(CardItem, "card", held["card"]))
    ink_cores: list[Ink] = [item.ink.to_core() for item in ink_items]
    card_cores: list[Card] = [item.card.to_core() for item in card_items]
    more = [[swatch.to_core().colour for swatch in item.other_swatches] for item in ink_items]
    darks = [ink.swatch.on_dark.colour if ink.swatch.on_dark else None for ink in ink_cores]
    plain = [*(ink.swatch.colour for ink in ink_cores), *(card.colour for card in card_cores)]
    extra = [colour for colours in more for colour in colours] + [colour for colour in darks if colour is not None]
    seen = on_screen([*plain, *extra], table)
    hexes = {colour: look.hex for colour, look in zip([*plain, *extra], seen, strict=True)}
    pads = [ink.pad_today(today, table) for ink in ink_items]
    labs = np.array([look.lab for look in seen[: len(inks)]]).reshape(-1, 3)
    places = np.argsort(around_the_circle(labs, table, _SHELF_STEP)).tolist()
    touches = {formula: _touch(formula, table) for formula in Formula}
    return Coloured(
        ink_rows=inks,
        ink_items=ink_items,
        pads=pads,
        card_rows=cards,
        card_items=card_items,
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
                white=is_white(ink.formula, look.lab[0], table),
                place_by_hue=places[n],
                others=[hexes[colour] for colour in others],
                on_dark=None if dark is None else hexes[dark],
            )
            for n, (item, ink, pad, look, others, dark) in enumerate(
                zip(inks, ink_items, pads, seen, more, darks, strict=False)
            )
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
                dark=look.lab[0] < table["swatch.dark_card"],
            )
            for item, card, look in zip(cards, card_items, seen[len(inks) :], strict=False)
        ],
        unreadable=_unreadable(held),
    )


AnyRead = TypeVar("AnyRead")


def _parted(read: list[tuple[Item, AnyRead]]) -> tuple[list[Item], list[AnyRead]]:
    return [item for item, _ in read], [each for _, each in read]


def _unreadable(held: Mapping[_StashKind, Sequence[Item]]) -> list[UnreadableOut]:
    """What is stored and cannot be read, with what is wrong with it."""
    found = []
    for kind, items in held.items():
        for item in items:
            try:
                of_stored(kind, item)
            except JobError as error:
                told = UnreadableOut(kind=kind, id=item["id"], name=item["name"], problem=error_text(error))
                found.append(told)
    return found


def _touch(formula: Formula, table: Mapping[str, float]) -> Touch:
    first = first_touch("", formula, Load.NORMAL, table)
    return Touch(tool=first.tool or Tool.PAD, passes=first.passes)


def _reminders(
    inks: Sequence[Mapping[str, Any]],
    ink_items: Sequence[InkItem],
    pads: Sequence[PadState | None],
    cards: Sequence[Mapping[str, Any]],
    card_items: Sequence[CardItem],
    tools: Sequence[tuple[Item, ToolItem]],
    today: date,
    uses: Uses,
    table: Mapping[str, float],
) -> list[ReminderOut]:
    found: list[tuple[Literal["ink", "card", "tool"], int, list[Reminder]]] = []
    for item, ink, pad in zip(inks, ink_items, pads, strict=True):
        if ink.standing in (Standing.OWNED, Standing.USED_UP):
            used_up = ink.standing is Standing.USED_UP
            loads = uses.of_pad(item["id"], ink.re_inked)
            found.append(("ink", item["id"], pad_reminders(ink.name, pad, used_up, ink.refill, loads, table)))
    for item, card in zip(cards, card_items, strict=True):
        found.append(("card", item["id"], card_reminders(card.name, card.left, table)))
    for item, tool in tools:
        loads = uses.of_tool(tool.name, tool.foam_changed)
        wants = tool_reminders(tool.name, tool.tool is Tool.FOAM, tool.foam_changed, tool.worn, today, table, loads)
        found.append(("tool", item["id"], wants))
    return [
        ReminderOut(kind=kind, id=number, code=reminder.code, text=reminder.text)
        for kind, number, reminders in found
        for reminder in reminders
    ]


def implied(numbers: Sequence[tuple[str, float]]) -> list[Implied]:
    """Numbers of the craft table with their units."""
    unit = {column: constants.TABLE[f"formula.{Formula.DYE}.{column}"].unit for column, _ in numbers}
    return [Implied(column=column, value=value, unit=unit[column]) for column, value in numbers]


def guide_formula(
    formula: Formula,
    rows: Overrides,
    own: Mapping[str, Mapping[str, float]],
    formulas: Mapping[str, set[Formula]],
) -> GuideFormula:
    """One formula of the guide, with what the owner's ranges do differently."""
    plain = guide_page(formula, rows)
    ranges = sorted(name for name, found in formulas.items() if formula in found and name)
    pages = {name: guide_page(formula, rows, tuple(sorted(own[name].items()))) for name in ranges if own.get(name)}
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
