"""Measured colours in: CGATS.17 text and CSV, as hand-held readers and spectrophotometers write them.

Spectra may be factors (0–1, up to 3 where an ink glows) or per cent: a file in which any
value is above 3 is taken to be in per cent.
"""

from __future__ import annotations

import io
import re
from dataclasses import dataclass

import numpy as np

from wempa.craft.limits import MAX_COLUMNS, MAX_IMPORT, MAX_ROWS
from wempa.formats.text_table import TableError, number, read_table, text_of

_SPECTRAL = re.compile(r"^(?:SPECTRAL_|REFLECTANCE_|R_|NM|SPECTRAL_NM_?|R)?_?(?:NM_?)?(\d{3})(?:\.0+)?(?:_?NM)?$", re.I)
_NAMES = ("sample_name", "name", "sample_id", "sampleid", "samplename", "patch", "id")
_LAB = (("lab_l", "l", "l*", "cie_l", "lab_l*"), ("lab_a", "a", "a*", "cie_a"), ("lab_b", "b", "b*", "cie_b"))
_LAB_LIGHT = "D50"
# Each alternative begins where no other can, so that a line is gone through once.
_VALUE = re.compile(r'"(?P<text>[^"]*)"|(?P<open>")|(?P<plain>[^\s"]+)')
_BEGINS, _LONGEST_MARK = "BEGIN_DATA_FORMAT", 100


@dataclass(frozen=True, slots=True)
class Measured:
    """One measured colour."""

    name: str
    lab: tuple[float, float, float] | None
    """CIELAB, D50, where the file gives it."""
    start: float = 0.0
    step: float = 0.0
    values: tuple[float, ...] = ()
    """Reflectance factors from `start` nm on, every `step` nm; empty without a spectrum."""

    def colour(self) -> dict[str, object]:
        """The colour as a job gives it: the spectrum where there is one, else the Lab."""
        if self.values:
            return {"spectrum": {"start": self.start, "step": self.step, "values": list(self.values)}}
        return {"lab": list(self.lab or ()), "illuminant": _LAB_LIGHT}


def read_measurements(data: bytes) -> list[Measured]:
    """Colours of a measurement file, CGATS.17 or CSV.

    Raises
    ------
    TableError
        Too large, no such file, or a row that cannot be read: one sentence that names it.
    """
    if len(data) > MAX_IMPORT:
        raise TableError(f"the file has more than {MAX_IMPORT / 1e6:.0f} MB")
    text = text_of(data)
    # Looked for as a word before line by line, which takes ten times as long.
    lines = io.StringIO(text, newline=None) if _BEGINS in text.upper() else ()
    if any(line.strip().upper() == _BEGINS for line in lines):
        return _of_rows(*_cgats(text))
    return _of_rows(*read_table(text))


def _cgats(text: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """Field names, and rows with their line numbers, of CGATS.17 keyword text."""
    fields: list[str] = []
    rows: list[tuple[int, list[str]]] = []
    state = "head"
    for line_number, line in enumerate(io.StringIO(text, newline=None), start=1):
        word = line.strip()
        if not word or word.startswith("#"):
            continue
        mark = word.upper() if len(word) < _LONGEST_MARK else ""
        if mark == _BEGINS:
            state = "format"
        elif mark in ("END_DATA_FORMAT", "END_DATA"):
            state = "head"
        elif mark == "BEGIN_DATA":
            state = "data"
        elif state == "format":
            fields += word.split(maxsplit=MAX_COLUMNS)
            if len(fields) > MAX_COLUMNS:
                raise TableError(f"the file has more than {MAX_COLUMNS} columns")
        elif state == "data":
            if len(rows) == MAX_ROWS:
                raise TableError(f"the file has more than {MAX_ROWS} rows")
            rows.append((line_number, _cells(word, line_number)))
    if not fields or not rows:
        raise TableError("the file holds no data between BEGIN_DATA and END_DATA")
    return fields, rows


def _cells(line: str, number_: int) -> list[str]:
    """Values of a row: parted by tabs, or by spaces where a text with spaces stands in quotation marks."""
    if "\t" in line and '"' not in line:
        return line.split("\t", MAX_COLUMNS)
    found: list[str] = []
    for match in _VALUE.finditer(line):
        if match["open"] is not None:
            raise TableError(f"line {number_}: a quotation mark is not closed")
        if len(found) > MAX_COLUMNS:
            break
        found.append(match["text"] if match["text"] is not None else match["plain"])
    return found


def _of_rows(fields: list[str], rows: list[tuple[int, list[str]]]) -> list[Measured]:
    keys = [field.strip().strip('"').lower() for field in fields]
    named = next((keys.index(name) for name in _NAMES if name in keys), None)
    lab = [next((keys.index(name) for name in names if name in keys), None) for names in _LAB]
    bands = sorted((int(match[1]), k) for k, key in enumerate(keys) if (match := _SPECTRAL.match(key)))
    bands = [(nm, k) for nm, k in bands if 300 <= nm <= 850]
    spectral = len(bands) >= 8
    if not spectral and None in lab:
        raise TableError("the file has neither columns of a spectrum (nm 380, 390, …) nor LAB_L, LAB_A and LAB_B")
    wavelengths = np.array([nm for nm, _ in bands], dtype=float)
    steps = np.diff(wavelengths)
    if spectral and (steps != steps[0]).any():
        raise TableError("the columns of the spectrum are not evenly spaced")
    found: list[Measured] = []
    spectra: list[list[float]] = []
    for line, cells in rows:
        if len(cells) != len(fields):
            raise TableError(f"line {line}: {len(cells)} values for {len(fields)} columns")
        name = (cells[named].strip() if named is not None else "") or f"Sample {len(found) + 1}"
        values = [number(cells[k], line, fields[k]) for _, k in bands] if spectral else []
        own = None
        if None not in lab:
            l, a, b = (number(cells[k], line, fields[k]) for k in lab if k is not None)
            if not (0 <= l <= 100.5 and max(abs(a), abs(b)) <= 160):
                raise TableError(f"line {line}: {l:g}, {a:g}, {b:g} is no CIELAB colour")
            own = (min(l, 100.0), a, b)
        spectra.append(values)
        found.append(Measured(name[:120], own))
    if not spectral:
        return found
    factors = np.array(spectra) / (100 if np.max(spectra) > 3 else 1)
    if factors.min() < -0.02 or factors.max() > 3:
        raise TableError("the spectra are neither factors from 0 to 1 nor per cent")
    factors = np.clip(factors, 0, 3)
    return [
        Measured(one.name, one.lab, float(wavelengths[0]), float(steps[0]), tuple(np.round(row, 6).tolist()))
        for one, row in zip(found, factors, strict=True)
    ]
