"""Palettes: the inks' colours on a screen as CSV, JSON, GPL and CSS, written and read again."""

from __future__ import annotations

import csv
import json
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_ITEMS, MAX_PALETTE
from wempa.formats.job import load_json
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
    lines = ["GIMP PaletteFile", f"Name: {_line(title)}", "Columns: 8", "#"]
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

_HEX = re.compile(r"#[0-9a-fA-F]{6}")
_CSS_LINE = re.compile(r"--([\w-]+)\s*:\s*(#[0-9a-fA-F]{6})\s*;")
_GPL_LINE = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})\s*(.*)")


@dataclass(frozen=True, slots=True)
class PaletteFile:
    """A palette file as read."""

    title: str
    colours: tuple[tuple[str, str], ...]
    """Name (may be empty) and hex of each."""


def read_palette(data: bytes) -> PaletteFile:
    """A palette of any of the four kinds, told apart by what is in it.

    Raises
    ------
    JobError
        It is no text, is larger than a palette is, or has no colours.
    """
    if len(data) > MAX_PALETTE:
        raise JobError(f"a palette has no more than {MAX_PALETTE / 1e6:g} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise JobError("this is no palette: it is not text in UTF-8") from error
    title, found = "", list[tuple[str, str]]()
    lines = text.splitlines()
    if text.lstrip().startswith("{"):
        title, found = _from_json(text)
    elif lines and lines[0].startswith("GIMP"):
        for line in lines[1:]:
            if line.startswith("Name:"):
                title = line[5:].strip()
            elif (match := _GPL_LINE.fullmatch(line)) and all(int(part) < 256 for part in match.groups()[:3]):
                code = "".join(f"{int(part):02x}" for part in match.groups()[:3])
                found.append((re.sub(r" \([a-z ]+\)$", "", match[4].strip()), f"#{code}"))
    elif _CSS_LINE.search(text):
        found = [(name.replace("-", " "), code) for name, code in _CSS_LINE.findall(text)]
    else:
        for row in csv.reader(lines[:MAX_ITEMS]):
            hexes = [cell.strip() for cell in row if _HEX.fullmatch(cell.strip())]
            if hexes:
                name = row[0].strip().lstrip("'")
                found.append(("" if name == hexes[0] else name, hexes[0]))
    if not found:
        raise JobError("this file has no colours that can be read; give a palette as JSON, GPL, CSS or CSV")
    return PaletteFile(title, tuple((name, code.lower()) for name, code in found))


def _from_json(text: str) -> tuple[str, list[tuple[str, str]]]:
    whole = load_json(text.encode())
    listed = whole.get("colours") if isinstance(whole, dict) else None
    if not isinstance(listed, list):
        raise JobError("this is no palette: the key 'colours' is missing")
    found = []
    for n, each in enumerate(listed):
        code = each.get("hex") if isinstance(each, dict) else None
        if not isinstance(code, str) or not _HEX.fullmatch(code):
            raise JobError("a colour of a palette has a hex such as #2456a6", ("colours", n))
        found.append((str(each.get("name", "")), code))
    title = whole.get("palette", "")
    return title if isinstance(title, str) else "", found
