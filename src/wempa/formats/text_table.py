"""Tables in text: CSV in any common dialect in, safe CSV out."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from wempa.craft.errors import WempaError, quoted
from wempa.craft.limits import MAX_COLUMNS, MAX_LINES, MAX_NUMBER, MAX_ROWS

# Spreadsheets run a cell that begins so as a formula.
_RISKY = ("=", "+", "-", "@", "\t", "\r")


class FileError(WempaError, ValueError):
    """A file that is not what it should be; one sentence."""


class TableError(FileError):
    """A table that cannot be read; one sentence that names the line."""


def text_of(data: bytes) -> str:
    """UTF-8 text of a file, with or without a byte order mark; raises `TableError`, for too many lines too."""
    if max(data.count(b"\n"), data.count(b"\r")) > MAX_LINES:
        raise TableError(f"the file has more than {MAX_LINES} lines")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise TableError(f"line {line}: the file is not UTF-8 text; save it as UTF-8") from error
    if "\0" in text:
        raise TableError("this is no text file")
    return text


def read_table(text: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """Column names, and rows with their line numbers, of CSV.

    Separated by comma, semicolon or tab, whichever the first line has most of. Empty
    lines are skipped; short rows are filled up. Read row by row: what is too long is
    refused where it begins, so that time and memory follow what is allowed, not what came.

    Raises
    ------
    TableError
        Empty, a row has more cells than there are columns, or there are more than
        `MAX_COLUMNS` columns or `MAX_ROWS` rows.
    """
    first = text.lstrip().split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    names: list[str] = []
    rows: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if not names:
                names = [name.strip() for name in cells]
                if len(names) > MAX_COLUMNS:
                    raise TableError(f"the file has {len(names)} columns; {MAX_COLUMNS} is the most")
                continue
            if len(rows) == MAX_ROWS:
                raise TableError(f"the file has more than {MAX_ROWS} rows; {MAX_ROWS} is the most")
            if len(cells) > len(names):
                raise TableError(f"line {reader.line_num}: {len(cells)} cells for {len(names)} columns")
            rows.append((reader.line_num, cells + [""] * (len(names) - len(cells))))
    except csv.Error as error:
        raise TableError(f"line {reader.line_num}: {error}") from error
    if not names:
        raise TableError("the file is empty")
    return names, rows


def number(cell: str, line: int, column: str) -> float:
    """A number with a decimal point or comma; raises `TableError` naming line and column."""
    no_number = f"line {line}: {quoted(cell.strip())} in {column} is not a number"
    if len(cell) > MAX_NUMBER:
        raise TableError(no_number)
    text = cell.strip().strip('"').replace(" ", "").replace("−", "-")
    if "," in text and "." not in text:
        text = text.replace(",", ".")
    try:
        value = float(text)
    except ValueError as error:
        raise TableError(no_number) from error
    if value != value or abs(value) == float("inf"):
        raise TableError(no_number)
    return value


def write_table(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """CSV (UTF-8, comma, CRLF) whose text no spreadsheet takes for a formula."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(columns)
    for row in rows:
        writer.writerow([_safe(cell) for cell in row])
    return out.getvalue()


def _safe(cell: object) -> object:
    if isinstance(cell, str) and cell.startswith((*_RISKY, "'")):
        return "'" + cell
    return "" if cell is None else cell


def unsafe(cell: str) -> str:
    """A cell as it was before `write_table` made it safe."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith((*_RISKY, "'")) else cell
