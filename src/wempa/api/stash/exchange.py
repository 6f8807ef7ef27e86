"""The stash brought in and out: workspace files and tables of inks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Literal

from pydantic import BaseModel, ValidationError

from wempa.api.overlap.models import OverlapIn
from wempa.api.panels.making import as_stored
from wempa.api.panels.models import PanelIn
from wempa.craft.errors import JobError
from wempa.craft.prediction.spectra import spectrum_of
from wempa.formats import job as contract
from wempa.formats.places import to_numbers
from wempa.formats.stash.inks_csv import InkRow, read_inks, write_inks
from wempa.formats.stash.items import AnyItem, InkItem, of_stored
from wempa.formats.workspace import Document, identity, read_workspace, write_workspace
from wempa.optics import colorimetry as cm
from wempa.store.workspace import Change, Item, Kind, StoreError, Workspace

KINDS: tuple[Kind, ...] = ("range", "ink", "card", "tool")
Status = Literal["new", "changed", "same", "bad"]


class ImportRow(BaseModel):
    """One item of a file, and what taking it in would do."""

    line: int | None
    """Line of the file, for tables."""
    kind: str
    name: str
    status: Status
    changes: list[str]
    """What would be overwritten, each as ``field: old → new``."""
    problem: str | None


class ImportOut(BaseModel):
    """What a file would change, or has changed."""

    rows: list[ImportRow]
    applied: bool


class _Known:
    """What the workspace holds already, by what makes an item the same."""

    def __init__(self, workspace: Workspace) -> None:
        self.items: dict[tuple[str, ...], tuple[Item, AnyItem]] = {}
        for kind in KINDS:
            for stored in workspace.read_all(kind):
                item = of_stored(kind, stored)
                self.items[identity(kind, item)] = (stored, item)

    def under(self, row: InkRow) -> AnyItem:
        """The ink of a row of a table; one that is known keeps what the row does not say."""
        assert row.item is not None
        found = self.items.get(identity("ink", row.item))
        return row.item if found is None or not isinstance(found[1], InkItem) else row.over(found[1], _lab_of)

    def row(self, kind: Kind, item: AnyItem, line: int | None = None) -> tuple[ImportRow, Change | None]:
        """What taking the item in would do, and how."""
        found = self.items.get(identity(kind, item))
        if found is None:
            row = ImportRow(line=line, kind=kind, name=item.name, status="new", changes=[], problem=None)
            return row, (kind, None, item.stored(), None)
        stored, old = found
        before, after = old.model_dump(mode="json"), item.model_dump(mode="json")
        changes = _differences(_plain(before), _plain(after))
        status: Status = "changed" if changes else "same"
        row = ImportRow(line=line, kind=kind, name=item.name, status=status, changes=changes, problem=None)
        return row, (kind, stored["id"], item.stored(), stored["revision"]) if changes else None


def _plain(value: dict[str, Any], outside: bool = True) -> dict[str, Any]:
    """Fields that say something, those of an ink's job object beside the item's own.

    An ink's own name, formula and pad are said outside that object.
    """
    found: dict[str, Any] = {}
    for key, each in value.items():
        if key in ("ink", "card", "swatch") and isinstance(each, dict) and "colour" not in value:
            found |= _plain(each, outside=False)
        elif each is not None and each != {} and (outside or key not in ("name", "formula", "pad")):
            found[key] = each
    return found


def _differences(before: dict[str, Any], after: dict[str, Any]) -> list[str]:
    """What would be overwritten, in words: ``notes: old → new``."""
    changed = sorted(key for key in before.keys() | after.keys() if before.get(key) != after.get(key))
    return [f"{key.replace('_', ' ')}: {_short(before.get(key))} → {_short(after.get(key))}" for key in changed]


def _short(value: object) -> str:
    if isinstance(value, dict):
        said = [_short(each) for each in value.values() if each is not None]
        return " ".join(said) or "nothing"
    if isinstance(value, list):
        text = " ".join(f"{each:.4g}" if isinstance(each, float) else _short(each) for each in value)
    else:
        text = "nothing" if value is None or value == "" else f"{value:.4g}" if isinstance(value, float) else str(value)
    return text if len(text) <= 40 else text[:39] + "…"


def import_inks(workspace: Workspace, data: bytes, apply: bool) -> ImportOut:
    """Preview, or all of a table of inks at once; refused while any row is bad.

    Raises
    ------
    TableError
        The file cannot be read at all.
    StoreError
        `apply`, and a row is bad.
    """
    known, rows = _Known(workspace), []
    writes: list[Change] = []
    seen: dict[tuple[str, ...], int] = {}
    for row in read_inks(data):
        if row.item is None:
            rows.append(
                ImportRow(line=row.line, kind="ink", name=row.name, status="bad", changes=[], problem=row.problem)
            )
            continue
        same = identity("ink", row.item)
        if same in seen:
            problem = f"line {row.line}: {row.name} stands in line {seen[same]} already"
            rows.append(ImportRow(line=row.line, kind="ink", name=row.name, status="bad", changes=[], problem=problem))
            continue
        seen[same] = row.line
        found, write = known.row("ink", known.under(row), row.line)
        rows.append(found)
        if write is not None:
            writes.append(write)
    return _take_in(workspace, rows, writes, apply, "Import inks")


def import_workspace(workspace: Workspace, data: bytes, apply: bool) -> ImportOut:
    """Preview, or all of a workspace file at once. Overlaps are added unless they are there.

    Raises
    ------
    JobError
        The file is no workspace, or something in it is bad.
    """
    document = read_workspace(data)
    known, rows = _Known(workspace), []
    writes: list[Change] = []
    lists: Sequence[tuple[Kind, list[AnyItem]]] = (
        ("range", document.ranges),
        ("ink", document.inks),
        ("card", document.cards),
        ("tool", document.tools),
    )
    for kind, items in lists:
        for item in items:
            row, write = known.row(kind, item)
            rows.append(row)
            if write is not None:
                writes.append(write)
    settled = len(writes)
    held = [(item["name"], item["settings"], len(item["stack"])) for item in workspace.read_all("overlap")]
    for n, overlap in enumerate(document.overlaps):
        _check_overlap(overlap, n)
        new = (overlap["name"], overlap["settings"], len(overlap["stack"])) not in held
        status: Status = "new" if new else "same"
        rows.append(ImportRow(line=None, kind="overlap", name=overlap["name"], status=status, changes=[], problem=None))
        if new:
            writes.append(("overlap", None, _overlap(overlap, document, known, writes[:settled]), None))
    there = [
        (item["name"], item["settings"], len(item["plan"].get("bands", ()))) for item in workspace.read_all("panel")
    ]
    for n, panel in enumerate(document.panels):
        _check_panel(panel, n)
        new = (panel["name"], panel.get("settings", {}), len(panel.get("bands", ()))) not in there
        status = "new" if new else "same"
        rows.append(ImportRow(line=None, kind="panel", name=panel["name"], status=status, changes=[], problem=None))
        if new:
            writes.append(("panel", None, _panel(panel, document, known, writes[:settled]), None))
    return _take_in(workspace, rows, writes, apply, "Import a workspace")


def _check_panel(given: Item, n: int) -> None:
    """Raise `JobError` unless it is a panel; its references are checked already."""
    try:
        PanelIn.model_validate(to_numbers(given, lambda _, place: place))
    except ValidationError as error:
        message, place = contract.first_problem(error)
        raise JobError(message, ("panels", n, *place)) from error


def _panel(
    given: Item, document: Document, known: _Known, writes: Sequence[Change]
) -> Callable[[Sequence[Item]], Item]:
    """The panel once the inks and cards it refers to have been stored by `writes`."""
    lists = {"ink": document.inks, "card": document.cards}

    def item(stored: Sequence[Item]) -> Item:
        numbered = to_numbers(given, lambda kind, place: _number(kind, lists[kind][place], known, writes, stored))
        return as_stored(PanelIn.model_validate(numbered))

    return item


def _number(kind: str, item: AnyItem, known: _Known, writes: Sequence[Change], stored: Sequence[Item]) -> int:
    """What number an item of a file has here, once it has been stored by `writes`."""
    same = identity(kind, item)
    for write, made in zip(writes, stored, strict=False):
        if write[0] == kind and identity(kind, of_stored(kind, made)) == same:
            return int(made["id"])
    return int(known.items[same][0]["id"])


def _check_overlap(given: Item, n: int) -> None:
    """Raise `JobError` unless it is an overlap; its references are checked already."""
    try:
        OverlapIn.model_validate(to_numbers(given, lambda _, place: place))
    except ValidationError as error:
        message, place = contract.first_problem(error)
        raise JobError(message, ("overlaps", n, *place)) from error


def _overlap(
    given: Item, document: Document, known: _Known, writes: Sequence[Change]
) -> Callable[[Sequence[Item]], Item]:
    """The overlap once the inks and cards it refers to have been stored by `writes`."""
    lists = {"ink": document.inks, "card": document.cards}

    def item(stored: Sequence[Item]) -> Item:
        return dict(to_numbers(given, lambda kind, place: _number(kind, lists[kind][place], known, writes, stored)))

    return item


def _take_in(
    workspace: Workspace, rows: list[ImportRow], writes: Sequence[Change], apply: bool, what: str
) -> ImportOut:
    bad = [row for row in rows if row.status == "bad"]
    if apply and bad:
        raise StoreError(f"nothing was taken in: {len(bad)} rows are bad, the first in {bad[0].problem}")
    if apply and writes:
        workspace.write_many(writes, what=what)
    return ImportOut(rows=rows, applied=apply)


def export_workspace(workspace: Workspace) -> str:
    """The whole workspace as JSON."""
    return write_workspace({kind: workspace.read_all(kind) for kind in (*KINDS, "overlap", "panel")})


def export_inks(workspace: Workspace) -> str:
    """All inks as CSV."""
    return write_inks([InkItem.of(item) for item in workspace.read_all("ink")], _lab_of)


def _lab_of(item: InkItem) -> tuple[float, float, float]:
    spectrum, _ = spectrum_of(item.ink.swatch.to_core().colour, "D50")
    l, a, b = cm.lab(spectrum, "D50").tolist()
    return l, a, b
