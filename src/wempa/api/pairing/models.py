"""What the laptop is told of the devices that are paired with it."""

from __future__ import annotations

from pydantic import BaseModel


class DeviceOut(BaseModel):
    """A paired device."""

    id: int
    name: str
    paired: str
    seen: str


class AddressOut(BaseModel):
    """An address at which a tablet finds Wempa, and the same as a QR code: rows of 0 (light) and 1 (dark)."""

    url: str
    rows: list[str]


class CodeOut(BaseModel):
    """The code that pairs one device, and for how many seconds it is good."""

    figures: str
    seconds: float


class PairingOut(BaseModel):
    """Whether Wempa can be reached from the network, where, by whom, and which code pairs now."""

    open: bool
    """Whether it was started for the network."""
    secure: bool
    addresses: list[AddressOut]
    code: CodeOut | None
    guessed: bool
    """Whether the last code was guessed at too often."""
    devices: list[DeviceOut]
    this: str | None
    """What the asking device is called; null at the laptop itself."""
