"""The book as lines, a look a line, and as a table of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wempa.formats.text_table import write_table

_COLUMNS = (
    "name", "date", "card", "layers", "look", "L*", "a*", "b*", "hex", "words", "predicted hex", "differs", "verdict",
    "tags", "notes",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class BookLine:
    """One look at a swatch, as it is written down."""

    name: str
    day: str
    card: str
    lines: Sequence[str]
    look: str
    real: str
    """Hex; empty of a square that waits."""
    lab: Sequence[float]
    words: str
    predicted: str
    differs: str
    verdict: str
    tags: Sequence[str]
    notes: str


def table(lines: Sequence[BookLine]) -> str:
    """The book as CSV, a look a row."""
    rows = []
    for line in lines:
        lab = [f"{v:.2f}" for v in line.lab] or ["", "", ""]
        rows.append(
            [
                line.name, line.day, line.card, " ".join(line.lines), line.look, *lab, line.real, line.words,
                line.predicted, line.differs, line.verdict, " ".join(line.tags), line.notes,
            ]
        )  # fmt: skip
    return write_table(_COLUMNS, rows)
