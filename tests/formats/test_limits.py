"""Sizes that are taken, and those that are one too many."""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable

import pytest
from PIL import Image

from wempa.craft.errors import JobError
from wempa.craft.limits import MAX_IMPORT, MAX_LINES, MAX_UPLOAD, MAX_WORKSPACE
from wempa.craft.panels.front import spots
from wempa.formats.stash.inks_csv import read_inks
from wempa.formats.stash.measurements import read_measurements
from wempa.formats.stash.photo_file import ImageError, decode
from wempa.formats.workspace import read_workspace

EMPTY = b'{"wempa_workspace": 1}'
TABLE = b"name,formula,hex\nTicket Blue,dye,#3366aa\n"
MEASURED = b"name,lab_l,lab_a,lab_b\nTicket Blue,40,5,-30\n"


@pytest.mark.parametrize(
    ("read", "data", "most"),
    [(read_workspace, EMPTY, MAX_WORKSPACE), (read_inks, TABLE, MAX_IMPORT), (read_measurements, MEASURED, MAX_IMPORT)],
    ids=["workspace", "inks", "measurements"],
)
def test_a_file_as_large_as_may_be_is_read_and_one_byte_more_is_refused(
    read: Callable[[bytes], object], data: bytes, most: int
) -> None:
    # Lines of a hundred blanks: there may not be too many of them either.
    full = data + (b" " * 99 + b"\n") * ((most - len(data)) // 100)
    full += b"\n" * (most - len(full))
    assert len(full) == most
    assert read(full) is not None
    with pytest.raises(ValueError, match=f"the file has more than {most / 1e6:.0f} MB"):
        read(full + b"\n")


@pytest.mark.parametrize(("read", "data"), [(read_inks, TABLE), (read_measurements, MEASURED)])
def test_so_many_lines_and_not_one_more(read: Callable[[bytes], object], data: bytes) -> None:
    full = data + b"\n" * (MAX_LINES - data.count(b"\n"))
    assert read(full) is not None
    with pytest.raises(ValueError, match=f"the file has more than {MAX_LINES} lines"):
        read(full + b"\n")


def jpeg(width: int, height: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (200, 120, 60)).save(out, "JPEG")
    return out.getvalue()


def test_a_large_photo_is_read_without_a_warning(monkeypatch: pytest.MonkeyPatch) -> None:
    # What the library warns of is below what Wempa takes.
    monkeypatch.setattr(Image, "MAX_IMAGE_PIXELS", 4000)
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        assert decode(jpeg(80, 60)).shape == (60, 80, 3)


def test_a_photo_of_too_many_bytes_is_refused_before_it_is_opened() -> None:
    with pytest.raises(ImageError, match=f"{MAX_UPLOAD / 1e6:.0f} MB is the most"):
        decode(b"\xff" * (MAX_UPLOAD + 1))


@pytest.mark.parametrize(
    ("box", "per_mm"),
    [((0, 0, 10, 10), 0), ((0, 0, 10, 10), -1), ((10, 0, 10, 10), 4), ((0, 10, 10, 10), 4), ((11, 0, 10, 10), 4)],
)
def test_a_picture_of_nothing_is_refused(box: tuple[float, float, float, float], per_mm: float) -> None:
    with pytest.raises(JobError, match="a width and a height above 0 mm"):
        spots(box, per_mm)
