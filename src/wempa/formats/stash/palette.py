"""Palettes out: the inks' colours on a screen as CSV, JSON, GPL and CSS."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from wempa.formats.text_table import write_table


@dataclass(frozen=True, slots=True)
class PaletteInk:
    """An ink as a palette has it."""

    name: str
    range: str
    formula: str
    hex: str
    lab: tuple[float, float, float]
    """CIELAB under D65."""


def _csv(title: str, inks: Sequence[PaletteInk]) -> str:
    return write_table(
        ("name", "range", "formula", "hex", "lab_l", "lab_a", "lab_b"),
        ((i.name, i.range, i.formula, i.hex, *(round(v, 2) for v in i.lab)) for i in inks),
    )


def _json(title: str, inks: Sequence[PaletteInk]) -> str:
    colours = [
        {"name": i.name, "range": i.range, "formula": i.formula, "hex": i.hex, "lab": [round(v, 3) for v in i.lab]}
        for i in inks
    ]
    return json.dumps({"palette": title, "illuminant": "D65", "colours": colours}, indent=1, ensure_ascii=False) + "\n"


def _gpl(title: str, inks: Sequence[PaletteInk]) -> str:
    lines = ["GIMP Palette", f"Name: {_line(title)}", "Columns: 8", "#"]
    for ink in inks:
        red, green, blue = (int(ink.hex[k : k + 2], 16) for k in (1, 3, 5))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{_line(ink.name)} ({ink.formula.replace('_', ' ')})")
    return "\n".join(lines) + "\n"


def _css(title: str, inks: Sequence[PaletteInk]) -> str:
    lines = [f"/* {_line(title).replace('*/', '* /')} */", ":root {"]
    used: dict[str, int] = {}
    for ink in inks:
        slug = re.sub(r"[^a-z0-9]+", "-", f"{ink.range} {ink.name}".lower()).strip("-") or "ink"
        used[slug] = used.get(slug, 0) + 1
        number = "" if used[slug] == 1 else f"-{used[slug]}"
        lines.append(f"  --{slug}{number}: {ink.hex};")
    return "\n".join([*lines, "}"]) + "\n"


def _line(text: str) -> str:
    return re.sub(r"\s+", " ", text).strip()


PALETTES: dict[str, tuple[str, Callable[[str, Sequence[PaletteInk]], str]]] = {
    "csv": ("text/csv; charset=utf-8", _csv),
    "json": ("application/json", _json),
    "gpl": ("text/plain; charset=utf-8", _gpl),
    "css": ("text/css; charset=utf-8", _css),
}
"""Media type and writer of each kind of palette."""
