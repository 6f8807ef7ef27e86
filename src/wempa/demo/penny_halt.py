"""The made-up stash: members of a miniature railway make cards for their open day.

Every name is invented. Ranges: ``Footplate`` plain dyes, ``Guard's Van`` reactive
dyes, ``Ballast`` hybrids, ``Enamel Shed`` pigments, ``Fog Signal`` fluorescents,
``Tender`` reactive pigments.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from importlib.resources import files
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from wempa.formats.places import to_numbers
from wempa.formats.stash.items import ToolItem
from wempa.store import Change, Item, Kind, Workspace

_RANGES = {
    "Footplate": "dye",
    "Guard's Van": "reactive_dye",
    "Ballast": "hybrid",
    "Enamel Shed": "pigment",
    "Fog Signal": "fluorescent",
    "Tender": "reactive_pigment",
}

INKS: tuple[tuple[str, str, str, str], ...] = (
    ("Footplate", "Brass Gauge", "#f2c21b", "typed"),
    ("Footplate", "Signal Lamp Red", "#cf2f36", "typed"),
    ("Footplate", "Boiler Blue", "#2a5ca8", "typed"),
    ("Footplate", "Firebox Orange", "#ec7a22", "typed"),
    ("Footplate", "Cutting Green", "#3f9a4e", "photo"),
    ("Footplate", "Carriage Plum", "#7a3a6e", "typed"),
    ("Footplate", "Platform Rose", "#e0648f", "typed"),
    ("Footplate", "Tunnel Black", "#272628", "typed"),
    ("Footplate", "Tea Urn", "#9c6a44", "lid"),
    ("Footplate", "Water Tower", "#46a7b8", "typed"),
    ("Guard's Van", "Flag Scarlet", "#d6403a", "typed"),
    ("Guard's Van", "Lamp Oil", "#e7b93c", "lid"),
    ("Guard's Van", "Rain Coat", "#3d6f9e", "typed"),
    ("Guard's Van", "Ivy Fence", "#5c8a4a", "photo"),
    ("Guard's Van", "Heather Bank", "#a574ad", "typed"),
    ("Guard's Van", "Wet Slate", "#6d7780", "typed"),
    ("Guard's Van", "Ticket Pink", "#ee9bb0", "photo"),
    ("Ballast", "Brick Arch", "#b5533c", "typed"),
    ("Ballast", "Coral Bunting", "#ef7458", "typed"),
    ("Ballast", "Mist Over Points", "#93abba", "typed"),
    ("Ballast", "Pond Skater", "#5f9f95", "typed"),
    ("Ballast", "Gorse Bank", "#eed04a", "photo"),
    ("Ballast", "Lavender Sidings", "#9a8cc2", "typed"),
    ("Ballast", "Clinker", "#5a5653", "typed"),
    ("Ballast", "Sea Wall", "#3c7fae", "typed"),
    ("Ballast", "Bluebell Halt", "#5d6fc0", "typed"),
    ("Enamel Shed", "Steam White", "#fbfbf9", "typed"),
    ("Enamel Shed", "Post Box", "#c5312f", "typed"),
    ("Enamel Shed", "Cream Teapot", "#f3e6c2", "typed"),
    ("Enamel Shed", "Bottle Engine", "#2f6a4f", "typed"),
    ("Enamel Shed", "Cornflower Jug", "#4f78c4", "typed"),
    ("Enamel Shed", "Marigold Tin", "#f2a31f", "typed"),
    ("Fog Signal", "Detonator Pink", "#ff4f9a", "photo"),
    ("Fog Signal", "Lineside Lime", "#c9f03a", "photo"),
    ("Fog Signal", "Hi-Vis Orange", "#ff7a2e", "photo"),
    ("Tender", "Coal Bunker Plum", "#5f3a63", "typed"),
    ("Tender", "Steam Teal", "#1f8c92", "typed"),
    ("Tender", "Ember", "#d9542b", "typed"),
    ("Tender", "Moss on Sleepers", "#7d8b3c", "typed"),
    ("Tender", "Night Train", "#2b3f7e", "typed"),
)

CARDS: tuple[tuple[str, str, str], ...] = (
    ("Snow", "#f8f7f4", "smooth"),
    ("Ivory", "#f6efdc", "smooth"),
    ("Mint Waiting Room", "#a8dcc0", "smooth"),
    ("Buff Timetable", "#e3cfa1", "textured"),
    ("Kraft Parcel", "#b58f66", "absorbent"),
    ("Rose Lamp", "#efc4c8", "smooth"),
    ("Sky Footbridge", "#bcd8ea", "smooth"),
    ("Slate Roof", "#5b646d", "textured"),
    ("Night Mail Navy", "#26344f", "smooth"),
    ("Gloss Photo", "#f9fafb", "glossy"),
    ("Rag Watercolour", "#f7f4ec", "watercolour"),
)

LOOSE: tuple[tuple[str, str, str], ...] = (
    ("Bunting Scarlet", "dye", "#d83a4b"), ("Bunting Amber", "dye", "#f0a52b"), ("Bunting Lemon", "dye", "#f3df5e"),
    ("Bunting Leaf", "dye", "#6fae4e"), ("Bunting Lagoon", "dye", "#2f9aa8"), ("Bunting Navy", "dye", "#2c4479"),
    ("Lamp Room Mauve", "hybrid", "#a184b8"), ("Lamp Room Peach", "hybrid", "#f2ab8d"),
    ("Lamp Room Sage", "hybrid", "#93a98a"), ("Lamp Room Denim", "hybrid", "#5f7ea6"),
    ("Lamp Room Cocoa", "hybrid", "#7d5a45"), ("Lamp Room Fog", "hybrid", "#a9aeb1"),
)  # fmt: skip
"""Inks that are not in the stash: what the simulated camera and reader have before them."""

TOOLS: tuple[dict[str, Any], ...] = (
    {"name": "Small blender, blues", "tool": "brush", "size": 20, "family": "blue", "kept_for": "dye"},
    {"name": "Small blender, reds", "tool": "brush", "size": 20, "family": "red", "kept_for": "dye"},
    {"name": "Large blender, yellows", "tool": "brush", "size": 38, "family": "yellow", "kept_for": "dye"},
    {"name": "Foam for hybrids", "tool": "foam", "size": 40, "kept_for": "hybrid", "foam_changed": "2026-09-30"},
    {"name": "White foam", "tool": "foam", "size": 30, "family": "white", "kept_for": "white"},
    {"name": "Signal box stamp", "tool": "stamp", "size": 40},
    {"name": "Old brayer", "tool": "brayer", "size": 100, "worn": True},
)

# Ink: what its owner keeps about it.
_KEPT: dict[str, dict[str, Any]] = {
    "Boiler Blue": {"place": "middle", "pad_kind": "felt", "re_inked": "2026-10-20", "refill": True},
    "Firebox Orange": {"pad_kind": "felt", "re_inked": "2024-08-02"},
    "Tea Urn": {"standing": "wanted"},
    "Tunnel Black": {"standing": "used_up", "refill": True},
    "Lamp Oil": {"standing": "reference", "notes": "Lent by the signalman; colour copied from the lid."},
    "Coral Bunting": {"pad_kind": "foam", "pad": "good"},
    "Lavender Sidings": {"pad_kind": "foam", "pad": "drying", "refill": False},
    "Gorse Bank": {"discontinued": True},
    "Brick Arch": {"place": "dark"},
    "Mist Over Points": {"place": "light"},
}
_CARD_KEPT: dict[str, dict[str, Any]] = {
    "Snow": {"weight": {"value": 110, "unit": "lb", "basis": "cover"}, "left": 42},
    "Ivory": {"weight": {"value": 250, "unit": "gsm"}, "left": 12},
    "Mint Waiting Room": {"weight": {"value": 216, "unit": "gsm"}, "left": 2},
    "Rag Watercolour": {"weight": {"value": 300, "unit": "gsm"}, "left": 6},
}

FIRST_CHANGE = "Demo inks"
_DEMO = uuid5(NAMESPACE_URL, "wempa:penny-halt")
OVERLAPS: tuple[tuple[str, str, tuple[dict[str, Any], ...]], ...] = (
    (
        "On the table",
        "Snow",
        (
            {"ink": "Boiler Blue", "tool": "foam", "load": "normal", "passes": 4, "over": "dry"},
            {"ink": "Firebox Orange", "tool": "foam", "load": "normal", "passes": 4, "over": "dry"},
        ),
    ),
    (
        "Embankment in spring",
        "Snow",
        (
            {"ink": "Brass Gauge", "tool": "brush", "passes": 6},
            {"ink": "Water Tower", "tool": "brush", "passes": 6},
            {"ink": "Cutting Green", "tool": "stamp", "passes": 1},
        ),
    ),
    (
        "Rain on an old timetable",
        "Buff Timetable",
        (
            {"ink": "Steam White", "tool": "brush", "load": "normal", "passes": 6},
            {"ink": "Rain Coat", "tool": "brush", "passes": 6},
        ),
    ),
    (
        "Signal lamps in the rain",
        "Night Mail Navy",
        (
            {"ink": "Rain Coat", "tool": "brush", "passes": 8},
            {"ink": "Heather Bank", "tool": "brush", "passes": 6, "over": "wet"},
            {"treatment": "spritz"},
        ),
    ),
)
"""Overlaps on the demo's table, the open one first: name, card, stack by ink names."""

_LIGHT = {"tool": "foam", "load": "light", "passes": 2.0}
PANELS: tuple[tuple[str, str, dict[str, Any], tuple[dict[str, Any], ...]], ...] = (
    (
        "Open day sunrise",
        "Snow",
        {"unit": "in", "sheet": {"width": 215.9, "height": 279.4}},
        (
            {"ink": "Brass Gauge"},
            {"ink": "Firebox Orange"},
            {"ink": "Coral Bunting"},
            {"ink": "Platform Rose"},
            {"ink": "Heather Bank"},
            {"ink": "Boiler Blue"},
            {"ink": "Water Tower"},
        ),
    ),
    (
        "Embankment at dusk",
        "Rag Watercolour",
        {"width": 105.0, "height": 148.0},
        ({"ink": "Firebox Orange"}, {"ink": "Boiler Blue"}, {"ink": "Carriage Plum"}, {"ink": "Cutting Green"}),
    ),
    (
        "Bunting in ribbons",
        "Ivory",
        {"width": 127.0, "height": 177.8, "unit": "in", "layout": "ribbons", "angle": 82.0},
        tuple(
            {"ink": ink, **_LIGHT}
            for ink in ("Gorse Bank", "Coral Bunting", "Ember", "Lavender Sidings", "Steam Teal", "Sea Wall")
        ),
    ),
    (
        "Signal wheel",
        "Snow",
        {
            "width": 127.0, "height": 127.0, "unit": "in", "layout": "fan", "angle": 0.0,
            "frame": "border", "frame_width": 6.0,
        },
        (
            {"ink": "Brass Gauge"}, {"ink": "Platform Rose"}, {"ink": "Heather Bank"}, {"ink": "Water Tower"},
        ),
    ),
    (
        "Steam over the line",
        "Snow",
        {
            "width": 99.0, "height": 210.0, "angle": 100.0, "frame": "mat", "frame_width": 6.0, "mat": "Slate Roof",
            "tops": [
                {"kind": "ink", "ink": "Steam White", "motif": "dots", "size": 9.0, "step": 21.0, "passes": 10.0},
                {"kind": "water", "motif": "drops", "size": 12.0, "step": 15.0},
            ],
        },
        ({"ink": "Rain Coat"}, {"ink": "Heather Bank"}, {"ink": "Ticket Pink"}),
    ),
)  # fmt: skip
"""Panels of the demo, the open one first: name, card, plan, bands by ink names."""


def ink_bodies() -> list[dict[str, Any]]:
    """The inks as stash items: name, range, formula and the job's ink object."""
    return [
        {
            "name": name,
            "range": range_name,
            "formula": _RANGES[range_name],
            "body": {
                "name": name,
                "formula": _RANGES[range_name],
                "swatch": {"colour": {"hex": colour}, "known": known},
            },
            "details": _KEPT.get(name, {}),
        }
        for range_name, name, colour, known in INKS
    ]


def card_bodies() -> list[dict[str, Any]]:
    """The cards as stash items."""
    return [
        {
            "name": name,
            "surface": surface,
            "body": {"colour": {"hex": colour}, "surface": surface, "known": "typed"},
            "details": _CARD_KEPT.get(name, {}),
        }
        for name, colour, surface in CARDS
    ]


def swatch_bodies() -> list[Item]:
    """Logged swatches, laid by the simulated hand and read off photos (`tools/demo_swatches.py`).

    Cards and inks stand by their names, as `card` and `ink`, beside what they are called.
    """
    text = files("wempa.demo").joinpath("data/swatches.json").read_text(encoding="utf-8")
    found = []
    for swatch in json.loads(text):
        details = {key: value for key, value in swatch.items() if key != "name"}
        details["stack"] = [{**entry, "called": entry["ink"]} for entry in swatch["stack"]]
        found.append({"name": swatch["name"], "details": {**details, "card_called": swatch["card"]}})
    return found


def fill(workspace: Workspace) -> None:
    """Put the stash, overlaps and panels into a workspace without inks: all of it or, whatever happens, nothing."""
    if workspace.read_all("ink"):
        return
    changes: list[Change] = [("ink", None, _own("ink", ink), None) for ink in ink_bodies()]
    changes += [("card", None, _own("card", card), None) for card in card_bodies()]
    places = {("ink", item[1]): n for n, item in enumerate(INKS)}
    places |= {("card", item[0]): len(INKS) + n for n, item in enumerate(CARDS)}
    changes += [("tool", None, _own("tool", ToolItem.model_validate(tool).stored()), None) for tool in TOOLS]

    def numbered(kind: Kind, item: Item) -> Change:
        """An item that names inks and cards, once these have been stored."""

        def made(stored: Sequence[Item]) -> Item:
            found = to_numbers(item, lambda of, name: int(stored[places[of, name]]["id"]))
            return _own(kind, found)

        return kind, None, made, None

    for name, card, entries in OVERLAPS:
        changes.append(numbered("overlap", {"name": name, "card": card, "settings": {}, "stack": entries}))
    for name, card, given, bands in PANELS:
        plan = {key: value for key, value in given.items() if key != "mat"} | {"bands": bands}
        item = {"name": name, "card": card, "mat": given.get("mat"), "settings": {}, "plan": plan}
        changes.append(numbered("panel", item))
    changes += [numbered("swatch", swatch) for swatch in swatch_bodies()]
    workspace.take_in(changes, what=FIRST_CHANGE, undoable=False)


def _own(kind: str, item: Item) -> Item:
    """The same with an identity that every demo has in common, and the day it was made up."""
    # Swatches may be called alike; no two look the same.
    told = f"{kind} {item['name']}" + (str(item["details"]["sightings"]) if kind == "swatch" else "")
    return {**item, "uuid": str(uuid5(_DEMO, told)), "changed": "2026-11-24T09:00:00.000000+00:00"}


def is_demo(workspace: Workspace) -> bool:
    """Whether the workspace is empty or was made by `fill`, so that it may be shown as the demo."""
    return workspace.first_change() is None or holds_demo(workspace)


def holds_demo(workspace: Workspace) -> bool:
    """Whether the workspace began as the demo."""
    oldest = workspace.first_change()
    return oldest is not None and oldest["what"] == FIRST_CHANGE
