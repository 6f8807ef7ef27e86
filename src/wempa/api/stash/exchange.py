"""The stash given out, and tables of inks taken in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

from wempa.api import held
from wempa.api.held import Held
from wempa.api.services import Services
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.vocabulary import ImportStatus
from wempa.formats.archive import ArchivedPhoto, write_archive
from wempa.formats.stash.inks_csv import InkRow, read_inks, write_inks
from wempa.formats.stash.items import InkItem
from wempa.formats.text_table import TableError
from wempa.formats.workspace import LISTS, same_name, write_workspace
from wempa.optics import colorimetry as cm
from wempa.store import Change, Kind, StoreError, Workspace

from .differences import differences
from .models import ImportOut, ImportRow


class _Known:
    """The inks that the workspace holds already, by what makes one the same."""

    def __init__(self, workspace: Workspace) -> None:
        self.by_uuid: dict[str, Held[InkItem]] = {}
        self.by_name: dict[tuple[str, ...], list[Held[InkItem]]] = {}
        for ink in held.read_all(workspace, InkItem):
            self.by_uuid[ink.uuid] = ink
            self.by_name.setdefault(same_name("ink", ink.item), []).append(ink)

    def find(self, row: InkRow) -> Held[InkItem] | None:
        """The ink that a row means: by its identity where it says one that is known, else by what it is called.

        Raises
        ------
        TableError
            There are several of that name.
        """
        assert row.item is not None
        if row.uuid in self.by_uuid:
            return self.by_uuid[row.uuid]
        alike = self.by_name.get(same_name("ink", row.item), [])
        if len(alike) > 1:
            raise TableError(
                f"line {row.line}: there are {len(alike)} inks {row.name} here; say which by its uuid, or rename them"
            )
        return alike[0] if alike else None

    def row(self, row: InkRow) -> tuple[ImportRow, Change | None]:
        """What taking the ink of a row in would do, and how; raises `TableError`."""
        assert row.item is not None
        found, told = self.find(row), ImportRow(line=row.line, kind="ink", name=row.name, status=ImportStatus.NEW)
        if found is None:
            own = {} if row.uuid is None else {"uuid": row.uuid}
            return told, ("ink", None, {**row.item.stored(), **own}, None)
        old = found.item
        # An ink that is known keeps the fields of which the row says nothing.
        new = row.over(old, _lab_of)
        changes = differences(old.model_dump(mode="json"), new.model_dump(mode="json"), lambda _, number: str(number))
        told = told.model_copy(
            update={"status": ImportStatus.CHANGED if changes else ImportStatus.SAME, "changes": changes}
        )
        return told, ("ink", found.id, new.stored(), found.revision) if changes else None


def import_inks(workspace: Workspace, data: bytes, apply: bool) -> ImportOut:
    """Preview, or all of a table of inks at once; refused while any row is bad.

    Raises
    ------
    TableError
        The file cannot be read at all.
    StoreError
        `apply`, and a row is bad.
    """
    known, rows = _Known(workspace), list[ImportRow]()
    writes: list[Change] = []
    seen: dict[tuple[str, ...], int] = {}
    for row in read_inks(data):
        problem = row.problem
        if row.item is not None:
            same = ("uuid", row.uuid) if row.uuid is not None else same_name("ink", row.item)
            if same in seen:
                problem = f"line {row.line}: {row.name} stands in line {seen[same]} already"
            else:
                seen[same] = row.line
                try:
                    told, write = known.row(row)
                except TableError as error:
                    problem = str(error)
        if problem is not None:
            rows.append(ImportRow(line=row.line, kind="ink", name=row.name, status=ImportStatus.BAD, problem=problem))
            continue
        rows.append(told)
        if write is not None:
            writes.append(write)
    return _take_in(workspace, rows, writes, apply, "Import inks")


def _take_in(
    workspace: Workspace, rows: list[ImportRow], writes: Sequence[Change], apply: bool, what: str
) -> ImportOut:
    bad = [row for row in rows if row.status is ImportStatus.BAD]
    if apply and bad:
        raise StoreError(f"nothing was taken in: {len(bad)} rows are bad, the first in {bad[0].problem}")
    if apply and writes:
        workspace.write_many(writes, what=what)
    return ImportOut(rows=rows, applied=apply)


def export_workspace(services: Services) -> str:
    """The whole workspace as JSON."""
    stored = {kind: services.workspace.read_all(cast(Kind, kind)) for kind in LISTS.values()}
    return write_workspace(stored, services.checks.unreadable())


def export_archive(services: Services) -> bytes:
    """The whole workspace with its photos."""
    photos = [
        ArchivedPhoto(each["hash"], each["at"], each["width"], each["height"], each["jpeg"])
        for each in services.workspace.photos()
    ]
    return write_archive(export_workspace(services), photos)


def export_inks(workspace: Workspace) -> str:
    """All inks as CSV."""
    inks = held.read_all(workspace, InkItem)
    return write_inks([ink.item for ink in inks], _lab_of, [ink.uuid for ink in inks])


def _lab_of(item: InkItem) -> tuple[float, float, float]:
    spectrum, _ = spectrum_of(item.ink.swatch.to_core().colour, "D50")
    l, a, b = cm.lab(spectrum, "D50").tolist()
    return l, a, b
