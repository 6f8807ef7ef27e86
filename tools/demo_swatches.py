"""Write the demo's swatch book: swatches laid by the simulated hand, read off photos by the simulated camera.

``python -m tools.demo_swatches`` writes ``src/wempa/demo/data/swatches.json``.
"""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from wempa.craft.job import Card, Colour, Job
from wempa.craft.limits import WHITE_CARD
from wempa.craft.log.observations import as_seen
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.stash.swatch_sheet import sheet_layout
from wempa.craft.vocabulary import Look, Page
from wempa.demo.camera import PHONES, photograph
from wempa.demo.hand import laid_by_hand
from wempa.demo.penny_halt import card_bodies, ink_bodies
from wempa.formats import job as contract
from wempa.formats.stash.sheet_photo import read_sheet_photo

OUT = Path(__file__).parents[1] / "src/wempa/demo/data/swatches.json"
_FIRST = date(2026, 8, 29)

Entry = dict[str, Any]


def _brush(ink: str, passes: float = 6, **more: Any) -> Entry:
    return {"ink": ink, "tool": "brush", "load": "normal", "passes": passes, **more}


def _foam(ink: str, passes: float = 4, **more: Any) -> Entry:
    return {"ink": ink, "tool": "foam", "load": "normal", "passes": passes, **more}


def _stamp(ink: str) -> Entry:
    return {"ink": ink, "tool": "stamp", "load": "normal", "passes": 1}


# Evening, card, name or empty, verdict or empty, stack.
SWATCHES: tuple[tuple[int, str, str, str, list[Entry]], ...] = (
    (0, "Snow", "", "fine", [_brush("Boiler Blue")]),
    (0, "Snow", "", "fine", [_brush("Brass Gauge")]),
    (0, "Snow", "First grass", "lovely", [_brush("Brass Gauge"), _brush("Boiler Blue", 3)]),
    (0, "Snow", "", "dull", [_brush("Firebox Orange"), _brush("Boiler Blue")]),
    (0, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
    (7, "Snow", "Open day plum", "lovely", [_brush("Platform Rose"), _brush("Boiler Blue", 3)]),
    (7, "Snow", "", "mud", [_brush("Signal Lamp Red"), _brush("Cutting Green")]),
    (7, "Snow", "", "fine", [_foam("Coral Bunting")]),
    (7, "Snow", "", "fine", [_foam("Sea Wall")]),
    (7, "Snow", "Wet platform", "dull", [_foam("Coral Bunting"), _foam("Sea Wall", 3)]),
    (7, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
    (21, "Snow", "", "fine", [_stamp("Boiler Blue")]),
    (21, "Snow", "", "fine", [_stamp("Firebox Orange")]),
    (21, "Snow", "Sunrise seam", "lovely", [_brush("Brass Gauge"), _brush("Firebox Orange", 4)]),
    (21, "Snow", "", "fine", [_foam("Steam White", 4), _foam("Sea Wall", 2)]),
    (21, "Kraft Parcel", "", "dull", [_brush("Boiler Blue")]),
    (21, "Kraft Parcel", "", "fine", [_foam("Steam White", 6), _brush("Boiler Blue")]),
    (21, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
    (40, "Snow", "", "fine", [_brush("Heather Bank")]),
    (40, "Snow", "Dusk", "lovely", [_brush("Heather Bank"), _brush("Boiler Blue", 4)]),
    (40, "Snow", "", "mud", [_brush("Heather Bank"), _brush("Cutting Green")]),
    (40, "Snow", "", "fine", [_brush("Water Tower", 8)]),
    (40, "Snow", "", "lovely", [_brush("Brass Gauge", 4), _brush("Water Tower", 4)]),
    (61, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
    (61, "Snow", "", "fine", [_brush("Platform Rose", 2)]),
    (61, "Snow", "", "fine", [_brush("Platform Rose", 8)]),
    (61, "Snow", "", "dull", [_brush("Carriage Plum"), _brush("Cutting Green", 2)]),
    (61, "Snow", "", "fine", [_foam("Post Box", 4)]),
    (80, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
    (80, "Snow", "Bunting", "lovely", [_foam("Coral Bunting", 3), _brush("Brass Gauge", 3)]),
    (80, "Snow", "", "fine", [_foam("Ticket Pink", 2)]),
)
# From this evening on the pad of one ink gives less.
_DRYING, _SINCE, _LESS = "Ticket Pink", 61, 0.55
_WET = {"First grass", "Wet platform", "Dusk"}


def swatches() -> list[dict[str, Any]]:
    """The book as it is filed: inks and cards by their names."""
    inks = {body["name"]: contract.Ink.model_validate(body["body"]).to_core() for body in ink_bodies()}
    cards = {body["name"]: contract.Cardstock.model_validate(body["body"]).to_core() for body in card_bodies()}
    found: list[dict[str, Any]] = []
    for evening in dict.fromkeys(each[0] for each in SWATCHES):
        here = [each for each in SWATCHES if each[0] == evening]
        jobs = [_job(cards[card], inks, _as_laid(stack, evening)) for _, card, _, _, stack in here]
        wet = [n for n, each in enumerate(here) if each[2] in _WET]
        looks = [(n, job, Look.DRY) for n, job in enumerate(jobs)]
        looks += [(n, as_seen(jobs[n], Look.WET), Look.WET) for n in wet]
        readings = _read([job for _, job, _ in looks], evening)
        for n, (_, card, name, verdict, stack) in enumerate(here):
            seen = [
                {**reading, "look": str(look)}
                for (of, _, look), reading in zip(looks, readings, strict=True)
                if of == n
            ]
            found.append(
                {
                    "name": name or " under ".join(dict.fromkeys(entry["ink"] for entry in stack)),
                    "card": card,
                    "stack": stack,
                    "laid_on": str(_FIRST + timedelta(days=evening)),
                    "sightings": sorted(seen, key=lambda each: each["look"] == "dry"),
                    "verdict": verdict,
                    "favourite": verdict == "lovely",
                }
            )
    return found


def _as_laid(stack: list[Entry], evening: int) -> list[Entry]:
    return [
        {**entry, "passes": entry["passes"] * _LESS} if entry["ink"] == _DRYING and evening >= _SINCE else entry
        for entry in stack
    ]


def _job(card: Card, inks: dict[str, Any], stack: list[Entry]) -> Job:
    used = dict.fromkeys(entry["ink"] for entry in stack)
    lays = [contract.Entry.model_validate(entry).to_core() for entry in stack]
    return Job(card, tuple((name, inks[name]) for name in used), tuple(lays))


def _read(jobs: list[Job], evening: int) -> list[dict[str, Any]]:
    """Colours off one photo of an evening's sheet."""
    white = spectrum_of(Colour(hex=WHITE_CARD), "D65")[0]
    scene = replace(PHONES["plain camera"], seed=evening + 1)
    spectra = laid_by_hand(jobs, evening + 1)
    told = read_sheet_photo(photograph(sheet_layout(Page.A4), spectra, white, scene), "a4", "D65", None)
    readings = told["swatches"][: len(jobs)]
    assert len(readings) == len(jobs), (evening, len(readings), len(jobs))
    return [
        {"lab": [round(v, 1) for v in one["lab"]], "spread": round(one["spread"], 1), "off": f"{evening + 1:064x}"}
        for one in readings
    ]


def main() -> None:
    OUT.write_text(json.dumps(swatches(), indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
