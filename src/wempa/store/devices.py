"""Tablets and phones that may use a workspace over the network: a small file beside it.

Not in the workspace itself: whoever is handed a copy of that gets no tablet with it.
"""

from __future__ import annotations

import hashlib
import json
import os
import secrets
import threading
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from wempa.craft.limits import MAX_DEVICES

from .connection import NotFound, StoreError, Unavailable

# A device that has not come for so long has to be paired again.
KEPT_FOR = timedelta(days=90)
# That a device was here is written down no oftener than this.
_SEEN_EVERY = timedelta(hours=1)


@dataclass(frozen=True, slots=True)
class Device:
    """One paired device: its number, what it is called, the SHA-256 of its token, when it was paired and seen."""

    id: int
    name: str
    token: str
    paired: str
    seen: str


class Devices:
    """The paired devices of one workspace. Safe to share between threads.

    A file that cannot be read pairs nobody: each device then asks for a code again.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock = threading.Lock()
        self._next, self._devices = self._read()

    @classmethod
    def beside(cls, workspace: Path) -> Devices:
        """Those of a workspace file."""
        return cls(workspace.with_name(f"{workspace.stem}-devices.json"))

    def listed(self) -> list[Device]:
        """Every paired device, in the order of pairing."""
        with self._lock:
            return [each for each in self._devices if not _gone(each)]

    def add(self, name: str) -> str:
        """Pair a device; returns the token that it shows from then on, which is stored nowhere.

        Raises
        ------
        StoreError
            There are `MAX_DEVICES` already.
        Unavailable
            The file cannot be written.
        """
        token = secrets.token_urlsafe(32)
        now = _now().isoformat(timespec="seconds")
        with self._lock:
            kept = [each for each in self._devices if not _gone(each)]
            if len(kept) >= MAX_DEVICES:
                raise StoreError(f"{MAX_DEVICES} devices are paired already; let one go at the laptop first")
            self._write(self._next + 1, [*kept, Device(self._next, name, _digest(token), now, now)])
        return token

    def of(self, token: str) -> Device | None:
        """The device that shows a token; None if no paired one does."""
        digest = _digest(token)
        with self._lock:
            found = next((each for each in self._devices if secrets.compare_digest(each.token, digest)), None)
            if found is None or _gone(found):
                return None
            if _now() - datetime.fromisoformat(found.seen) > _SEEN_EVERY:
                seen = replace(found, seen=_now().isoformat(timespec="seconds"))
                # It may come in all the same; the day it was seen is no reason to keep it out.
                with suppress(Unavailable):
                    self._write(self._next, [seen if each.id == found.id else each for each in self._devices])
            return found

    def revoke(self, device_id: int) -> None:
        """Let a device go: it has to be paired anew; raises `NotFound`."""
        with self._lock:
            kept = [each for each in self._devices if each.id != device_id]
            if len(kept) == len(self._devices):
                raise NotFound(f"there is no paired device {device_id}")
            self._write(self._next, kept)

    def _read(self) -> tuple[int, list[Device]]:
        try:
            stored = json.loads(self.path.read_text("utf-8"))
            devices = [Device(**each) for each in stored["devices"]]
            for each in devices:
                datetime.fromisoformat(each.seen) - _now()
            return int(stored["next"]), devices
        except (OSError, ValueError, TypeError, KeyError):
            return 1, []

    def _write(self, following: int, devices: list[Device]) -> None:
        text = json.dumps({"next": following, "devices": [asdict(each) for each in devices]}, indent=1)
        part = self.path.with_name(f".{self.path.name}.part")
        try:
            # Readable by its owner only from its first byte on.
            with open(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w", encoding="utf-8") as file:
                file.write(text)
                file.flush()
                os.fsync(file.fileno())
            os.replace(part, self.path)
        except OSError as error:
            raise Unavailable(f"the list of paired devices cannot be written: {error.strerror or error}") from error
        self._next, self._devices = following, devices


def _digest(token: str) -> str:
    # A token is 256 random bits, so that no salt and no slow hash is needed.
    return hashlib.sha256(token.encode("utf-8", "surrogateescape")).hexdigest()


def _gone(device: Device) -> bool:
    return _now() - datetime.fromisoformat(device.seen) > KEPT_FOR


def _now() -> datetime:
    return datetime.now(UTC)
