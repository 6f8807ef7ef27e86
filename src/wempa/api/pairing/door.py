"""The door to the network: a device that is not paired gets the pairing page and nothing else."""

from __future__ import annotations

from dataclasses import dataclass, field
from http.cookies import CookieError, SimpleCookie
from typing import Annotated
from urllib.parse import parse_qs

from pydantic import Field, TypeAdapter, ValidationError
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from wempa.formats.plain_names import PLAIN
from wempa.store import Device, Devices, StoreError
from wempa.store.devices import KEPT_FOR

from .codes import PairingCodes
from .page import CSS, MOST_LETTERS, pairing_page

COOKIE = "wempa_device"
OWN_DOOR = frozenset({"127.0.0.1", "::1", "::ffff:127.0.0.1"})
"""Addresses that only this machine itself can reach."""
# A code and a name are short.
_MAX_FORM = 4000
_NAME: TypeAdapter[str] = TypeAdapter(Annotated[str, Field(min_length=1, max_length=MOST_LETTERS), PLAIN])
_SPENT = "That code was guessed at too often and is good for nothing now; make a new one at the laptop."
_WRONG = "That is not the code, or it was used, or it is older than ten minutes; look at the laptop, or make a new one."
_UNPAIRED = "this device is not paired with Wempa; open its first page and type the code that the laptop shows"


@dataclass(frozen=True)
class Lan:
    """How a workspace is served to the network: at which addresses, to which devices, and whether encrypted."""

    devices: Devices
    addresses: tuple[str, ...]
    secure: bool = False
    codes: PairingCodes = field(default_factory=PairingCodes)


def at_own_door(scope: Scope) -> bool:
    """Whether a request came in at an address that only this machine can reach."""
    return (scope.get("server") or ("",))[0] in OWN_DOOR


class Door:
    """ASGI middleware before a workspace that is served to the network.

    Whoever comes in at this machine's own door passes. Anybody else shows the cookie of a paired
    device, or gets the pairing page; `/api` answers 401.
    """

    def __init__(self, app: ASGIApp, lan: Lan) -> None:
        self.app = app
        self.lan = lan

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or at_own_door(scope):
            await self.app(scope, receive, send)
            return
        request = Request(scope, receive)
        device = await run_in_threadpool(self._device, request)
        if device is not None:
            scope.setdefault("state", {})["device"] = device.name
            # A device that is paired already has no use for the pairing page.
            app = RedirectResponse("/", 303) if scope["path"] == "/pair" else self.app
            await app(scope, receive, send)
            return
        await (await self._outside(request))(scope, receive, send)

    def _device(self, request: Request) -> Device | None:
        # The header is read by hand, because either of two cookies of the same name may be the right one.
        for header in request.headers.getlist("cookie"):
            for part in header.split(";"):
                try:
                    found = SimpleCookie(part.strip()).get(COOKIE)
                except CookieError:
                    continue
                if found is not None and (device := self.lan.devices.of(found.value)) is not None:
                    return device
        return None

    async def _outside(self, request: Request) -> Response:
        path, method = request.url.path, request.method
        if path == "/pair" and method == "POST":
            return await self._pair(request)
        if method in ("GET", "HEAD"):
            if path == "/pair":
                return self._page()
            if path == "/pair.css":
                return Response(CSS, media_type="text/css", headers={"cache-control": "max-age=3600"})
            if path == "/":
                return RedirectResponse("/pair", 303)
        if path.startswith("/api/"):
            return JSONResponse({"error": _UNPAIRED, "place": None}, 401)
        return PlainTextResponse(f"{_UNPAIRED[0].upper()}{_UNPAIRED[1:]}.\n", 401)

    def _page(self, said: str = "", name: str | None = None, status: int = 200) -> Response:
        page = pairing_page(said, self.lan.secure, *(() if name is None else (name,)))
        # With the policy of the other pages, a browser would not send the origin of the form.
        headers = {"cache-control": "no-store", "referrer-policy": "same-origin"}
        return HTMLResponse(page, status, headers=headers)

    async def _pair(self, request: Request) -> Response:
        body = await request.body()
        if len(body) > _MAX_FORM:
            return self._page("That is far too long for a code and a name.", status=413)
        try:
            form = parse_qs(body.decode("utf-8", "replace"), max_num_fields=8)
        except ValueError:
            return self._page("That is no code and a name.", status=422)
        code = "".join((form.get("code") or [""])[0].split()).replace("-", "")
        try:
            name = _NAME.validate_python((form.get("name") or [""])[0].strip())
        except ValidationError:
            return self._page(f"A device needs a name of at most {MOST_LETTERS} letters.", status=422)
        if self.lan.codes.spent():
            return self._page(_SPENT, name, 429)
        if not self.lan.codes.take(code):
            return self._page(_SPENT, name, 429) if self.lan.codes.spent() else self._page(_WRONG, name, 403)
        try:
            token = await run_in_threadpool(self.lan.devices.add, name)
        except StoreError as error:
            return self._page(f"{error}.", name, 503)
        answer = RedirectResponse("/", 303)
        answer.set_cookie(
            COOKIE,
            token,
            max_age=int(KEPT_FOR.total_seconds()),
            httponly=True,
            samesite="strict",
            secure=self.lan.secure,
        )
        return answer
