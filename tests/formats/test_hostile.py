# ruff: noqa: PT017 -- read or refused, either is right; what matters is how long it takes.
"""Files made to be slow or large: every reader is done with a megabyte of any of them within a second."""

from __future__ import annotations

import time
import tracemalloc
from collections.abc import Callable

import pytest

from tests.pace import slowness
from wempa.craft.errors import WempaError
from wempa.formats.job_result import predict_text
from wempa.formats.panels.svg_path import outlines
from wempa.formats.stash.inks_csv import read_inks
from wempa.formats.stash.measurements import read_measurements
from wempa.formats.stash.photo_file import decode
from wempa.formats.workspace import read_workspace

SIZE = 1_000_000
READERS: dict[str, Callable[[bytes], object]] = {
    "jobs": predict_text,
    "workspace": read_workspace,
    "inks": read_inks,
    "measurements": read_measurements,
    "photo": decode,
}


def full(piece: bytes) -> bytes:
    """A megabyte of the same over and over."""
    return piece * (SIZE // len(piece))


def cgats(row: bytes, fields: bytes = b"SAMPLE_NAME LAB_L LAB_A LAB_B") -> bytes:
    return b"BEGIN_DATA_FORMAT\n" + fields + b"\nEND_DATA_FORMAT\nBEGIN_DATA\n" + row + b"\nEND_DATA\n"


def job(inks: bytes = b"{}", stack: bytes = b"[]", more: bytes = b"", hex_digits: bytes = b"ffffff") -> bytes:
    card = b'{"colour":{"hex":"#' + hex_digits + b'"}}'
    return b'{"wempa":1,"cardstock":' + card + b',"inks":' + inks + b',"stack":' + stack + more + b"}"


MANY_KEYS = b",".join(b'"k%d":1' % n for n in range(90_000))
SHAPES: dict[str, bytes] = {
    # -- lines that are none
    "empty lines": full(b"\n"),
    "lines that end in two ways": full(b"\r\n"),
    "returns": full(b"\r"),
    "one line of spaces": full(b" "),
    "lines of one space": full(b" \n"),
    "lines of tabs": full(b"\t \n"),
    "form feeds": full(b"\f"),
    "separators of other alphabets": full("\u2028".encode()),
    "noughts": full(b"\0"),
    "no text": full(b"\xff"),
    "marks of byte order": full(b"\xef\xbb\xbf"),
    # -- tables
    "commas": full(b","),
    "many columns": b"name,hex\n" + full(b","),
    "many columns and many short rows": full(b"a,")[: SIZE // 2] + b"\n" + full(b"b\n")[: SIZE // 2],
    "rows without a name": b"name,hex\n" + full(b",\n"),
    "bad rows": b"name,hex\n" + full(b"a,b\n"),
    "rows all alike": b"name,hex\n" + full(b"a,#123456\n"),
    "quotation marks": full(b'"'),
    "a quotation mark that is not closed": b'"' + full(b"a"),
    "quoted commas": full(b'"",'),
    "a long number": b"name,lab_l,lab_a,lab_b\na," + full(b"9") + b",1,1\n",
    "a number of 100,000 digits": b"name,lab_l,lab_a,lab_b\na," + b"9" * 100_000 + b",1,1\n",
    "columns of wavelengths": b"name," + full(b"400nm,") + b"\na,1\n",
    # -- measurements
    "beginnings of data": full(b"BEGIN_DATA_FORMAT\n"),
    "nearly beginnings of data": full(b"      BEGIN_DATA_FORMA\n"),
    "fields": cgats(b"1 2", full(b"A ")),
    "fields, a line each": cgats(b"1 2", full(b"A\n")),
    "rows": cgats(full(b"a 1 2 3\n")),
    "a row of quotation marks": cgats(full(b'"')),
    "a row of quoted values": cgats(full(b'"a" ')),
    "a row that is never closed": cgats(b'"' + full(b"a")),
    "a row of one word": cgats(full(b"a")),
    "a row of one number": cgats(b"a 1 2 " + full(b"9")),
    "a row of values": cgats(full(b"1 ")),
    # -- JSON
    "digits": full(b"9"),
    "a fraction": b"0." + full(b"1"),
    "a power": b"1e" + full(b"9"),
    "brackets": full(b"["),
    "objects in objects": full(b'{"a":'),
    "a text": b'"' + full(b"a") + b'"',
    "backslashes": full(b"\\"),
    "a key that stands twice, far apart": b"{" + MANY_KEYS + b',"k89999":1}',
    "many inks": job(inks=b"{" + MANY_KEYS.replace(b"1,", b"{},") + b"}"),
    "many entries": job(stack=b"[" + full(b"{},")[:-1] + b"]"),
    "many keys": job(more=b"," + MANY_KEYS),
    "many constants": job(more=b',"constants":{' + MANY_KEYS + b"}"),
    "a long colour": job(hex_digits=full(b"f")),
    "a list of nothing": b"[" + full(b"{},")[:-1] + b"]",
    "a list of noughts": b"[" + b"0," * 9998 + b"0]",
    "many items": b'{"wempa_workspace":1,"inks":[' + full(b"{},")[:-1] + b"]}",
    "many keys of a workspace": b'{"wempa_workspace":1,' + MANY_KEYS + b"}",
    "a long stack": b'{"wempa_workspace":1,"overlaps":[{"name":"a","card":null,"settings":{},"stack":['
    + full(b"{},")[:-1]
    + b"]}]}",
    "a deep panel": b'{"wempa_workspace":1,"panels":[{"name":"a","x":' + b"[" * 90_000 + b"]" * 90_000 + b"}]}",
    "a version of many digits": b'{"wempa_workspace":' + full(b"9") + b"}",
}


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.parametrize("reader", READERS)
def test_a_hostile_megabyte_is_done_with_in_a_second(reader: str, shape: str) -> None:
    begun = time.thread_time()
    try:
        READERS[reader](SHAPES[shape])
    except WempaError as refused:
        assert 0 < len(str(refused)) < 600
    assert time.thread_time() - begun < 1.0 * slowness()


@pytest.mark.parametrize(
    ("reader", "shape"),
    [
        ("inks", "many columns and many short rows"),
        ("inks", "rows all alike"),
        ("measurements", "empty lines"),
        ("measurements", "fields, a line each"),
        ("measurements", "a row of values"),
        ("jobs", "many inks"),
        ("workspace", "many items"),
    ],
)
def test_a_hostile_megabyte_takes_no_more_than_so_much_memory(reader: str, shape: str) -> None:
    tracemalloc.start()
    try:
        with pytest.raises(WempaError):
            READERS[reader](SHAPES[shape])
        most = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert most < 60 * SIZE


@pytest.mark.parametrize(
    "path",
    [
        "M0 0" + "z" * 19_000,
        "M0 0" + "zm1 1" * 3900,
        "M0 0 C" + "1 2 3 4 5 6 " * 1600,
        "M0 0A" + "1 1 0 0 1 2 2 " * 1300,
        "M0 0L" + "1 " * 9990,
        "M" * 20_000,
        "M 1e" + "9" * 19_000,
        "M0 0" * 5000,
        "M." * 10_000,
    ],
)
def test_a_hostile_path_is_done_with_in_a_second(path: str) -> None:
    begun = time.thread_time()
    try:
        outlines(path)
    except WempaError as refused:
        assert 0 < len(str(refused)) < 200
    assert time.thread_time() - begun < 1.0 * slowness()


@pytest.mark.parametrize("ending", [b"\n", b"\r"])
@pytest.mark.parametrize("reader", ["inks", "measurements"])
def test_millions_of_lines_are_refused_before_any_is_read(reader: str, ending: bytes) -> None:
    begun = time.thread_time()
    with pytest.raises(WempaError, match="more than 200000 lines"):
        READERS[reader](b"name" + ending * 9_000_000)
    assert time.thread_time() - begun < 0.3 * slowness()
