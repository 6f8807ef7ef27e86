"""What goes between the service and its workers: frames of a kind, a length and bytes."""

from __future__ import annotations

import json
import struct
from typing import Any, Literal

Kind = Literal[b"Q", b"B", b"S", b"H", b"P", b"E"]
"""Kinds of frame: a question (JSON), its body, stop; the head of an answer (JSON), a piece of it, its end (JSON)."""

HEAD = struct.Struct("<cI")


def packed(kind: Kind, content: bytes | dict[str, Any] = b"") -> bytes:
    """A frame as it is sent."""
    data = content if isinstance(content, bytes) else json.dumps(content).encode()
    return HEAD.pack(kind, len(data)) + data
