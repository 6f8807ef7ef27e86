"""Compares what is found with what a golden file says, or writes the file anew."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

FOLDER = Path(__file__).parent
# What a golden number may be off: rounding and the order of sums on another machine.
CLOSE = 1e-3

Found = dict[str, Any] | list[Any] | str | float | int | bool | None


def rounded(value: Any) -> Found:
    """Plain JSON with numbers of four decimals."""
    if isinstance(value, dict):
        return {str(key): rounded(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [rounded(each) for each in value]
    if hasattr(value, "tolist"):
        return rounded(value.tolist())
    if isinstance(value, float):
        return round(value, 4)
    return str(value) if isinstance(value, str) else value


def differences(said: Found, found: Found, close: float = CLOSE, place: str = "") -> list[str]:
    """Each place where `found` is not what was `said`, with both."""
    if isinstance(said, dict) and isinstance(found, dict):
        missing = [f"{place}.{key}: in one only" for key in said.keys() ^ found.keys()]
        both = [key for key in said if key in found]
        return missing + [d for key in both for d in differences(said[key], found[key], close, f"{place}.{key}")]
    if isinstance(said, list) and isinstance(found, list) and len(said) == len(found):
        pairs = enumerate(zip(said, found, strict=True))
        return [d for n, (a, b) in pairs for d in differences(a, b, close, f"{place}[{n}]")]
    numbers = (int, float)
    if isinstance(said, numbers) and isinstance(found, numbers) and not isinstance(said, bool):
        return [] if abs(said - found) <= close else [f"{place}: {said} was said, {found} found"]
    return [] if said == found else [f"{place}: {said!r} was said, {found!r} found"]


class Gold:
    """One golden file: a dictionary of cases by name."""

    def __init__(self, name: str, write: bool) -> None:
        self.path, self.write = FOLDER / name, write
        self.said: dict[str, Any] = json.loads(self.path.read_text()) if self.path.exists() else {}

    def check(self, found: dict[str, Any], close: float = CLOSE) -> None:
        """Fail with every difference, or write the file anew."""
        plain = rounded(found)
        assert isinstance(plain, dict)
        if self.write:
            lines = [f" {json.dumps(name)}: {json.dumps(case)}" for name, case in plain.items()]
            self.path.write_text("{\n" + ",\n".join(lines) + "\n}\n")
            self.said = plain
        off = differences(self.said, plain, close)
        assert not off, f"{len(off)} differences from {self.path.name}:\n" + "\n".join(off[:40])
