"""Routes of the devices of the network: told, paired, let go. Only the laptop itself may do more than look."""

from __future__ import annotations

from dataclasses import asdict
from functools import lru_cache

from fastapi import Request
from starlette.exceptions import HTTPException

from wempa.api.replies import Problem, api_router
from wempa.api.services import Services, ServicesNow
from wempa.store import StoreError

from .door import at_own_door
from .models import AddressOut, CodeOut, DeviceOut, PairingOut

router = api_router("/pairing", {403: {"model": Problem}})
_NOT_OPEN = "Wempa was started for this laptop alone; stop it, and start it with `wempa serve --lan`"


@router.get("")
def pairing(services: ServicesNow, request: Request) -> PairingOut:
    """How Wempa is reached from the network, and which devices are paired."""
    return _told(services, request)


@router.post("/code", status_code=201)
def make_code(services: ServicesNow, request: Request) -> PairingOut:
    """Make a code that pairs one device; the one before is good for nothing then."""
    _only_here(request)
    if services.lan is None:
        raise StoreError(_NOT_OPEN)
    services.lan.codes.make()
    return _told(services, request)


@router.delete("/devices/{device_id}")
def let_go(services: ServicesNow, request: Request, device_id: int) -> PairingOut:
    """Let a device go: it has to be paired anew."""
    _only_here(request)
    if services.lan is None:
        raise StoreError(_NOT_OPEN)
    services.lan.devices.revoke(device_id)
    return _told(services, request)


def _only_here(request: Request) -> None:
    if _asker(request) is not None:
        raise HTTPException(403, "devices are paired and let go at the laptop itself")


def _asker(request: Request) -> str | None:
    name = getattr(request.state, "device", None)
    return None if name is None else str(name)


def _told(services: Services, request: Request) -> PairingOut:
    lan = services.lan
    if lan is None:
        return PairingOut(open=False, secure=False, addresses=[], code=None, guessed=False, devices=[], this=None)
    this = _asker(request)
    # A paired device is told no code, because with one it could bring in other devices.
    code = lan.codes.now() if this is None and at_own_door(request.scope) else None
    return PairingOut(
        open=True,
        secure=lan.secure,
        addresses=[AddressOut(url=url, rows=_rows(url)) for url in lan.addresses],
        code=None if code is None else CodeOut(figures=code.figures, seconds=round(code.seconds)),
        guessed=this is None and lan.codes.spent(),
        devices=[
            DeviceOut(**{key: value for key, value in asdict(each).items() if key != "token"})
            for each in lan.devices.listed()
        ],
        this=this,
    )


@lru_cache(8)
def _rows(url: str) -> list[str]:
    import segno

    return ["".join("1" if dark else "0" for dark in row) for row in segno.make(url, micro=False).matrix]
