"""The stash as the screens take it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

import numpy as np

from wempa.api import held
from wempa.api.held import Held, Unreadable
from wempa.api.kept import Kept
from wempa.api.shelf import Shelves
from wempa.api.table.uses import ToolsUsed, uses_of
from wempa.craft import constants
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.families import around_the_circle, family_of
from wempa.craft.colour.naming import describe_all
from wempa.craft.constants import Overrides
from wempa.craft.job import Card, Colour, Ink
from wempa.craft.prediction.inks import swatch_made
from wempa.craft.prediction.spectra import find_spectra, spectrum_of
from wempa.craft.stash.formula_guide import guide_page
from wempa.craft.stash.upkeep import PAD_LOAD, Reminder, card_reminders, is_drying_out, pad_reminders, tool_reminders
from wempa.craft.vocabulary import Family, Formula, Illuminant, Load, Standing, Tool
from wempa.craft.ways import first_touch, is_white
from wempa.demo.penny_halt import holds_demo
from wempa.formats.job import MadeWith
from wempa.formats.stash.items import CardItem, InkItem, RangeItem, ToolItem
from wempa.optics import colorimetry as cm
from wempa.optics.grid import white_point
from wempa.optics.namespace import SCALAR
from wempa.store import Workspace

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

    held_inks: list[Held[InkItem]]
    held_cards: list[Held[CardItem]]
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
        tools, lost_tools = held.parted(ToolItem, workspace.read_all("tool"))
        ranges, lost_ranges = held.parted(RangeItem, workspace.read_all("range"))
        can_undo, can_redo = workspace.can_step()
        return StashView.model_construct(
            inks=made.inks,
            cards=made.cards,
            tools=[StashTool.model_construct(id=each.id, revision=each.revision, item=each.item) for each in tools],
            ranges=[StashRange.model_construct(id=each.id, revision=each.revision, item=each.item) for each in ranges],
            reminders=_reminders(made, tools, today, uses_of(workspace), table),
            unreadable=[*made.unreadable, *_lost("tool", lost_tools), *_lost("range", lost_ranges)],
            can_undo=can_undo,
            can_redo=can_redo,
            sample=holds_demo(workspace),
        )


def _coloured(workspace: Workspace, today: date, table: Mapping[str, float]) -> Coloured:
    inks, lost_inks = held.parted(InkItem, workspace.read_all("ink"))
    cards, lost_cards = held.parted(CardItem, workspace.read_all("card"))
    ink_cores: list[Ink] = [each.item.ink.to_core() for each in inks]
    card_cores: list[Card] = [each.item.card.to_core() for each in cards]
    more = [[swatch.to_core().colour for swatch in each.item.other_swatches] for each in inks]
    darks = [ink.swatch.on_dark.colour if ink.swatch.on_dark else None for ink in ink_cores]
    plain = [*(ink.swatch.colour for ink in ink_cores), *(card.colour for card in card_cores)]
    extra = [colour for colours in more for colour in colours] + [colour for colour in darks if colour is not None]
    seen = on_screen([*plain, *extra], table)
    hexes = {colour: look.hex for colour, look in zip([*plain, *extra], seen, strict=True)}
    labs = np.array([look.lab for look in seen[: len(inks)]]).reshape(-1, 3)
    places = np.argsort(around_the_circle(labs, table, _SHELF_STEP)).tolist()
    touches = {formula: _touch(formula, table) for formula in Formula}
    shown_inks = []
    for n, (ink, look, others, dark) in enumerate(zip(inks, seen, more, darks, strict=False)):
        item, pad = ink.item, ink.item.pad_today(today, table)
        shown_inks.append(
            StashInk.model_construct(
                **dict(look),
                id=ink.id,
                revision=ink.revision,
                name=item.name,
                range=item.range,
                formula=item.formula,
                item=item,
                pad=pad,
                drying_out=is_drying_out(pad),
                load=Load.NORMAL if pad is None else PAD_LOAD[pad],
                touch=touches[item.formula],
                white=is_white(item.formula, look.lab[0], table),
                place_by_hue=places[n],
                others=[hexes[colour] for colour in others],
                on_dark=None if dark is None else hexes[dark],
                made_with=_made_with(ink_cores[n], table),
            )
        )
    shown_cards = [
        StashCard.model_construct(
            **dict(look),
            id=card.id,
            revision=card.revision,
            name=card.name,
            surface=card.item.card.surface,
            item=card.item,
            grams=None if card.item.weight is None else round(card.item.weight.grams(), 1),
            dark=look.lab[0] < table["swatch.dark_card"],
        )
        for card, look in zip(cards, seen[len(inks) :], strict=False)
    ]
    return Coloured(inks, cards, shown_inks, shown_cards, [*_lost("ink", lost_inks), *_lost("card", lost_cards)])


def _made_with(ink: Ink, table: Mapping[str, float]) -> MadeWith:
    made = swatch_made(ink, table)
    return MadeWith(tool=made.tool, load=made.load, passes=made.passes)


def _lost(kind: _StashKind, unreadable: Sequence[Unreadable]) -> list[UnreadableOut]:
    """What is stored and cannot be read, with what is wrong with it."""
    return [UnreadableOut(kind=kind, id=each.id, name=each.name, problem=each.trouble) for each in unreadable]


def _touch(formula: Formula, table: Mapping[str, float]) -> Touch:
    first = first_touch("", formula, Load.NORMAL, table)
    return Touch(tool=first.tool or Tool.PAD, passes=first.passes)


def _reminders(
    made: Coloured, tools: Sequence[Held[ToolItem]], today: date, uses: ToolsUsed, table: Mapping[str, float]
) -> list[ReminderOut]:
    found: list[tuple[Literal["ink", "card", "tool"], int, list[Reminder]]] = []
    for ink in made.held_inks:
        if ink.item.standing in (Standing.OWNED, Standing.USED_UP):
            used_up = ink.item.standing is Standing.USED_UP
            pad, loads = ink.item.pad_today(today, table), uses.of_pad(ink.id, ink.item.re_inked)
            found.append(("ink", ink.id, pad_reminders(ink.name, pad, used_up, ink.item.refill, loads, table)))
    for card in made.held_cards:
        found.append(("card", card.id, card_reminders(card.name, card.item.left, table)))
    for tool in tools:
        item, loads = tool.item, uses.of_tool(tool.name, tool.item.foam_changed)
        wants = tool_reminders(item.name, item.tool is Tool.FOAM, item.foam_changed, item.worn, today, table, loads)
        found.append(("tool", tool.id, wants))
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
