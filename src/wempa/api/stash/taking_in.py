"""A workspace file taken in: what each of its items is here, and what would change.

An item is known here by its identity; where the file says none, or one that nobody knows here,
inks, cards and tools are known by what they are called, and ranges always are, because inks name
them. Items alike in name are paired in their order. What differs is taken from the file; it is in
*conflict* where it was changed here later than in the file, or where nobody can tell.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, cast

from wempa.api.stash.models import ImportOut, ImportRow
from wempa.craft.errors import JobError, WempaError
from wempa.craft.vocabulary import ImportStatus
from wempa.formats.archive import ArchivedPhoto, is_archive, read_archive
from wempa.formats.kinds import NAMED, read_stored
from wempa.formats.workspace import LISTS, Document, FiledItem, read_workspace, same_name
from wempa.store import Change, Item, Kind, Workspace
from wempa.store.tables import OWN

from .differences import differences

_NAMED: tuple[Kind, ...] = ("ink", "card")


@dataclass(frozen=True, slots=True)
class _Met:
    """An item of the file, and the one here that it is, if there is one."""

    filed: FiledItem
    place: tuple[str, int]
    here: Item | None
    sure: bool
    """Whether its identity says so, and not only what it is called."""


def import_workspace(workspace: Workspace, data: bytes, apply: bool, keep_mine: bool = False) -> ImportOut:
    """Preview, or all of a workspace file at once, in one step that can be undone.

    With `keep_mine` what is in conflict stays as it is here. A preview stores everything
    as well, and takes it back: what it says is what would happen.

    Raises
    ------
    JobError
        The file is no workspace, or something in it is bad: its place is named.
    StoreError
        There is no room for all of it.
    """
    photos: list[ArchivedPhoto] = []
    if is_archive(data):
        data, photos = read_archive(data)
    document = read_workspace(data)
    met = _meet(workspace, document)
    rows: list[ImportRow] = []
    changes: list[Change] = []
    unreadable: set[int] = set()
    # Where the item at each place of the file stands: among the stored ones or among the changes.
    numbers: dict[tuple[str, int], int] = {
        (each.filed.kind, each.place[1]): each.here["id"] for each in met if each.here is not None
    }
    called: dict[tuple[str, int], str] = {
        (kind, item["id"]): item["name"] for kind in _NAMED for item in workspace.read_all(kind)
    }

    def name(kind: str, number: int) -> str:
        return document[f"{kind}s"][-1 - number].name if number < 0 else str(called.get((kind, number), number))

    places: list[tuple[str, int]] = []
    waiting: dict[tuple[str, int], int] = {}
    for each in met:
        status, told = _compared(each, numbers, name)
        problem, left = None, False
        if each.filed.raw is not None:
            # An item that cannot be read never replaces one that can.
            left = status is not ImportStatus.SAME and each.here is not None and _sound(workspace, each)
            status = ImportStatus.CONFLICT if left else status
            problem = "cannot be read in the file; what is here stays" if left else "cannot be read; kept as it is"
        rows.append(
            ImportRow(
                line=None, kind=each.filed.kind, name=each.filed.name, status=status, changes=told, problem=problem
            )
        )
        if status is ImportStatus.SAME or left or (status is ImportStatus.CONFLICT and keep_mine):
            continue
        if each.filed.raw is not None:
            unreadable.add(len(changes))
        if each.here is None:
            waiting[each.filed.kind, each.place[1]] = len(changes)
        places.append(each.place)
        here = each.here or {}
        changes.append(
            (
                cast(Kind, each.filed.kind),
                here.get("id"),
                _maker(each.filed, numbers, waiting),
                here.get("revision"),
            )
        )
    if changes:
        try:
            workspace.take_in(changes, what="Import a workspace", unreadable=unreadable, rehearse=not apply)
        except WempaError as error:
            if error.change is None:
                raise
            raise JobError(error.message, (*places[error.change], *error.place)) from error
    if apply and photos:
        workspace.take_photos([{**asdict(photo), "hash": photo.digest} for photo in photos])
    return ImportOut(rows=rows, applied=apply)


def _maker(
    filed: FiledItem, numbers: Mapping[tuple[str, int], int], waiting: Mapping[tuple[str, int], int]
) -> Callable[[Sequence[Item]], Item]:
    """The item once the inks and cards that it refers to have been stored."""

    def make(stored: Sequence[Item]) -> Item:
        def number(kind: str, place: int) -> int:
            return numbers[kind, place] if (kind, place) in numbers else int(stored[waiting[kind, place]]["id"])

        return filed.stored(number)

    return make


def _meet(workspace: Workspace, document: Document) -> list[_Met]:
    """Every item of the file with the one here that it is."""
    met: list[_Met] = []
    for key, kind in LISTS.items():
        held = workspace.read_all(cast(Kind, kind))
        by_identity = {item["uuid"]: item for item in held}
        sure = {
            n: by_identity[filed.uuid]
            for n, filed in enumerate(document[key])
            if kind != "range" and filed.uuid in by_identity
        }
        taken = {item["id"] for item in sure.values()}
        # Overlaps and panels of other people bear the same names by chance. So an item is known by its name only
        # where the file states no identities.
        named: dict[object, list[Item]] = {}
        for item in held:
            if item["id"] not in taken:
                named.setdefault(_called(kind, item), []).append(item)
        for n, filed in enumerate(document[key]):
            here, is_sure = sure.get(n), n in sure
            if here is None and (filed.uuid is None or kind not in ("overlap", "panel", *NAMED)):
                alike = named.get(_called(kind, filed), [])
                here = alike.pop(0) if alike else None
                is_sure = here is not None and kind == "range"
            if here is None and kind == "range" and filed.uuid in by_identity:
                # The item was renamed here or in the file. The name is free here, or the pairing by name would have
                # found its owner.
                here, is_sure = by_identity[filed.uuid], True
            met.append(_Met(filed, (key, n), here, is_sure))
    return met


def _sound(workspace: Workspace, each: _Met) -> bool:
    """Whether the item here can be read."""
    try:
        if workspace.check is not None and each.here is not None:
            workspace.check([(cast(Kind, each.filed.kind), each.here)])
    except WempaError:
        return False
    return True


def _called(kind: str, item: FiledItem | Item) -> object:
    """What items share that are taken for one by what they are called."""
    if isinstance(item, FiledItem):
        return same_name(kind, item.item) if item.item is not None else (kind, item.name)
    if kind == "ink":
        return (kind, item["name"], item["range"], item["formula"])
    return (kind, item["name"])


def _compared(
    each: _Met, numbers: Mapping[tuple[str, int], int], name: Callable[[str, int], str]
) -> tuple[ImportStatus, list[str]]:
    """What the item is here, and what would be overwritten."""
    filed, here = each.filed, each.here
    if here is None:
        return ImportStatus.NEW, []

    def number(kind: str, place: int) -> int:
        # An item that comes with the file has no number here yet.
        return numbers.get((kind, place), -1 - place)

    there = _content(filed.kind, filed.stored(number))
    told = differences(_content(filed.kind, here), there, name)
    if not told:
        return ImportStatus.SAME, []
    later = not each.sure or not filed.changed or here["changed"] > filed.changed
    return (ImportStatus.CONFLICT if later else ImportStatus.CHANGED), told


def _content(kind: str, item: Item) -> dict[str, Any]:
    """What an item says, without what is default, so that two ways of saying it are one."""
    plain = {key: value for key, value in item.items() if key not in ("id", *OWN)}
    try:
        lean = kind in ("overlap", "panel", *NAMED)
        return read_stored(kind, plain).model_dump(mode="json", exclude_defaults=lean)
    except JobError:
        # It cannot be read, or it refers to an item that is not here yet.
        return plain
