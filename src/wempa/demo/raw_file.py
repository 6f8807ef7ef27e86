"""A raw photo as the simulated camera writes it: a DNG of one mosaic, uncompressed (DNG specification 1.4)."""

from __future__ import annotations

import struct

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

_WHITE_LEVEL = 60000
_BYTE, _ASCII, _SHORT, _LONG, _RATIONAL, _SRATIONAL = 1, 2, 3, 4, 5, 10
_FORMS = {_BYTE: "B", _ASCII: "B", _SHORT: "H", _LONG: "I", _RATIONAL: "I", _SRATIONAL: "i"}
_D65 = 21


def write_dng(light: Floats, matrix: Floats, made_by: tuple[str, str]) -> bytes:
    """A DNG of linear sRGB light (height, width, 3), 0–1, that a sensor saw through its own channels.

    `matrix` (3, 3) is the sensor's, balanced channels to linear sRGB, and goes into the file with it;
    `made_by` are make and model.
    """
    height, width = light.shape[0] // 2 * 2, light.shape[1] // 2 * 2
    raw = light[:height, :width] @ np.linalg.inv(matrix)
    # Exposed so that next to nothing is cut off.
    raw = np.clip(raw / max(float(np.quantile(raw, 0.9995)), 1.0), 0, 1)
    mosaic = np.empty((height, width))
    for down, right, channel in ((0, 0, 0), (0, 1, 1), (1, 0, 1), (1, 1, 2)):
        mosaic[down::2, right::2] = raw[down::2, right::2, channel]
    data: bytes = np.rint(mosaic * _WHITE_LEVEL).astype("<u2").tobytes()
    from_xyz = np.linalg.inv(matrix @ cm.SRGB_TO_XYZ.T).T.reshape(-1)
    coefficients = [part for value in from_xyz for part in (round(float(value) * 10000), 10000)]
    fields: list[tuple[int, int, list[int]]] = [
        (254, _LONG, [0]),
        (256, _LONG, [width]),
        (257, _LONG, [height]),
        (258, _SHORT, [16]),
        (259, _SHORT, [1]),
        (262, _SHORT, [32803]),
        (271, _ASCII, _text(made_by[0])),
        (272, _ASCII, _text(made_by[1])),
        (273, _LONG, [0]),
        (274, _SHORT, [1]),
        (277, _SHORT, [1]),
        (278, _LONG, [height]),
        (279, _LONG, [len(data)]),
        (33421, _SHORT, [2, 2]),
        (33422, _BYTE, [0, 1, 1, 2]),
        (50706, _BYTE, [1, 4, 0, 0]),
        (50708, _ASCII, _text(" ".join(made_by))),
        (50717, _LONG, [_WHITE_LEVEL]),
        (50721, _SRATIONAL, coefficients),
        (50728, _RATIONAL, [1, 1, 1, 1, 1, 1]),
        (50778, _SHORT, [_D65]),
    ]
    start = 8 + 2 + 12 * len(fields) + 4
    packed = [struct.pack(f"<{len(values)}{_FORMS[form]}", *values) for _, form, values in fields]
    # What does not fit into its field stands after the directory; the picture after that.
    picture = start + sum(len(each) + len(each) % 2 for each in packed if len(each) > 4)
    rows, tail = b"", b""
    for (tag, form, values), each in zip(fields, packed, strict=True):
        count = len(values) // 2 if form in (_RATIONAL, _SRATIONAL) else len(values)
        if tag == 273:
            stored = struct.pack("<I", picture)
        elif len(each) <= 4:
            stored = each.ljust(4, b"\0")
        else:
            stored = struct.pack("<I", start + len(tail))
            tail += each + b"\0" * (len(each) % 2)
        rows += struct.pack("<HHI", tag, form, count) + stored
    return b"II*\0" + struct.pack("<IH", 8, len(fields)) + rows + struct.pack("<I", 0) + tail + data


def _text(text: str) -> list[int]:
    return [*text.encode("ascii", "replace"), 0]
