"""A workspace file: everything of a workspace in one zip, photos included (docs/stash-formats.md).

It holds `workspace.json`, the document of `wempa.formats.workspace`; `photos.json`, what is
known of each photo; and the photos as JPEG under `photos/`, named by their SHA-256. Nothing in it
depends on when or where it was packed: the same workspace gives the same bytes.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from wempa.craft.errors import JobError, quoted
from wempa.craft.limits import MAX_ARCHIVE, MAX_PHOTOS, MAX_REFERRED, MAX_SMALL_PHOTOS, MAX_UPLOAD, MAX_WORKSPACE

from .job import load_json

_DOCUMENT, _LIST, _FOLDER = "workspace.json", "photos.json", "photos/"
_NAME = re.compile(r"[0-9a-f]{64}")
# The oldest date that a zip can say; it is not asked for on reading.
_NO_DATE = (1980, 1, 1, 0, 0, 0)
_MOST_SIDE = 100_000
_MOST_PHOTOS = MAX_PHOTOS + MAX_REFERRED + MAX_SMALL_PHOTOS
_MAGIC, _JPEG = b"PK\x03\x04", b"\xff\xd8\xff"


@dataclass(frozen=True, slots=True)
class ArchivedPhoto:
    """A photo as the store keeps it."""

    digest: str
    """SHA-256 of the JPEG."""
    at: str
    """When it was kept last, ISO 8601."""
    width: int
    height: int
    jpeg: bytes


def is_archive(data: bytes) -> bool:
    """Whether a file begins as a zip does."""
    return data.startswith(_MAGIC)


def write_archive(document: str, photos: Sequence[ArchivedPhoto]) -> bytes:
    """The zip of a document and the photos of its workspace."""
    out = io.BytesIO()
    told = [{"hash": p.digest, "at": p.at, "width": p.width, "height": p.height} for p in photos]
    with zipfile.ZipFile(out, "w") as packed:
        texts = ((_DOCUMENT, document), (_LIST, json.dumps(told, indent=1) + "\n"))
        for name, text in texts:
            packed.writestr(_entry(name, zipfile.ZIP_DEFLATED), text)
        for photo in photos:
            # A JPEG does not get smaller by packing.
            packed.writestr(_entry(f"{_FOLDER}{photo.digest}.jpg", zipfile.ZIP_STORED), photo.jpeg)
    return out.getvalue()


def _entry(name: str, how: int) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, _NO_DATE)
    entry.compress_type, entry.external_attr = how, 0o644 << 16
    return entry


def read_archive(data: bytes) -> tuple[bytes, list[ArchivedPhoto]]:
    """The document and the photos of a zip; no more of it is unpacked than may be in it.

    Raises
    ------
    JobError
        It is no such zip, is damaged, or holds too much: one sentence.
    """
    if len(data) > MAX_ARCHIVE:
        raise JobError(f"the file has more than {MAX_ARCHIVE / 1e6:.0f} MB")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            names = packed.namelist()
            stray = [name for name in names if name not in (_DOCUMENT, _LIST) and not name.startswith(_FOLDER)]
            if _DOCUMENT in names and (stray or len(names) > _MOST_PHOTOS + 2):
                raise JobError(
                    f"a workspace file holds {MAX_PHOTOS + MAX_REFERRED} photos at most beside pictures of swatches,"
                    " and nothing else"
                )
            document = _unpacked(packed, _DOCUMENT, MAX_WORKSPACE)
            told = load_json(_unpacked(packed, _LIST, MAX_WORKSPACE)) if _LIST in names else []
            if not isinstance(told, list):
                raise JobError("this is no list", (_LIST,))
            photos: list[ArchivedPhoto] = []
            room = MAX_ARCHIVE
            for n, each in enumerate(told[:_MOST_PHOTOS]):
                photos.append(_photo(packed, each, n, min(room, MAX_UPLOAD)))
                room -= len(photos[-1].jpeg)
            return document, photos
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError, ValueError) as error:
        if isinstance(error, JobError):
            raise
        raise JobError("this workspace file is damaged or breaks off before its end") from error


def _unpacked(packed: zipfile.ZipFile, name: str, most: int) -> bytes:
    try:
        entry = packed.open(name)
    except KeyError as error:
        raise JobError(f"this zip is no workspace file: it holds no {name}") from error
    with entry:
        # What the zip says of its size is not asked: one byte more than may be is enough to know.
        found = entry.read(most + 1)
    if len(found) > most:
        raise JobError(f"{name} has more than {most / 1e6:.0f} MB")
    return found


def _photo(packed: zipfile.ZipFile, told: object, n: int, most: int) -> ArchivedPhoto:
    place = (_LIST, n)
    if not isinstance(told, dict) or set(told) != {"hash", "at", "width", "height"}:
        raise JobError("a photo has hash, at, width and height", place)
    digest, at, sides = told["hash"], told["at"], (told["width"], told["height"])
    if not isinstance(digest, str) or not _NAME.fullmatch(digest):
        raise JobError(f"{quoted(digest)} is no SHA-256", (*place, "hash"))
    if not all(isinstance(side, int) and not isinstance(side, bool) and 0 < side <= _MOST_SIDE for side in sides):
        raise JobError("a photo is so many pixels wide and high", place)
    try:
        datetime.fromisoformat(at)
    except (TypeError, ValueError) as error:
        raise JobError("a time is written like 2026-11-26T09:30:00+00:00", (*place, "at")) from error
    jpeg = _unpacked(packed, f"{_FOLDER}{digest}.jpg", most)
    if hashlib.sha256(jpeg).hexdigest() != digest or not jpeg.startswith(_JPEG):
        raise JobError("this photo is not the one that the file names", place)
    return ArchivedPhoto(digest, at, sides[0], sides[1], jpeg)
