"""What stands between the network and the routes: hosts, origins, sizes, headers."""

from __future__ import annotations

import asyncio
import logging
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from wempa.api.replies import OURS
from wempa.craft.limits import MAX_ARCHIVE, MAX_IMPORT, MAX_UPLOAD

MAX_BODY = 4 * 1024 * 1024
"""Bytes of a request without an upload."""
BODY_SECONDS = 20.0
"""Seconds within which the next piece of a body has to come."""
BODY_WHOLE = 600.0
"""Seconds within which the whole body has to come, including its wait for a turn."""
UPLOADS = {
    "/api/photos": MAX_UPLOAD,
    "/api/measurements": MAX_IMPORT,
    "/api/import/inks": MAX_IMPORT,
    "/api/import/workspace": MAX_ARCHIVE,
    "/api/overlaps/import": MAX_IMPORT,
}
"""Routes that may take more, and how many bytes."""

_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; "
    "img-src 'self' data:; media-src 'self'; font-src 'self'; connect-src 'self'; base-uri 'none'; "
    "worker-src 'self'; manifest-src 'self'; "
    "form-action 'self'; "
    "frame-ancestors 'none'"
)
_HEADERS = {
    "content-security-policy": _POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}


_LOG = logging.getLogger("uvicorn.error")


class Guard:
    """ASGI middleware that refuses foreign hosts and origins and large bodies.

    A page on another site, or a name made to point at loopback, cannot drive the
    service: the Host must be one of `hosts`, and a request that changes anything
    must come from a page of such a host or from no page at all.
    """

    def __init__(self, app: ASGIApp, hosts: frozenset[str]) -> None:
        self.app = app
        self.hosts = hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        most = UPLOADS.get(scope["path"], MAX_BODY)
        problem = self._problem(scope["method"], headers, most)
        if problem is not None:
            status, text = problem
            await self._send_with_headers(JSONResponse({"error": text}, status), scope, receive, send)
            return
        seen, coming, until = 0, True, asyncio.get_running_loop().time() + BODY_WHOLE
        refused: BodyRefused | None = None

        async def counted() -> Message:
            nonlocal seen, coming, refused
            try:
                # The whole body has come; only the end of the connection is left to wait for.
                left = min(BODY_SECONDS, until - asyncio.get_running_loop().time())
                async with asyncio.timeout(left if coming else None):
                    message = await receive()
            except TimeoutError as error:
                refused = BodyRefused(408, "this came too slowly, or nothing more of it came; try it again")
                raise refused from error
            coming = bool(message.get("more_body"))
            seen += len(message.get("body", b""))
            if seen > most:
                refused = BodyRefused(413, _too_large(most))
                raise refused
            return message

        begun = False

        async def noted(message: Message) -> None:
            nonlocal begun
            if refused is not None and not begun:
                # Code that read the body may have turned the refusal into another answer.
                raise refused
            begun = True
            await send(message)

        try:
            await self._send_with_headers(self.app, scope, counted, noted)
        except BodyRefused as error:
            # The rest of the body is not read, so no other request can follow on this connection.
            answer = JSONResponse({"error": str(error), "place": None}, error.status, {"connection": "close"})
            await self._send_with_headers(answer, scope, receive, send)
        except Exception:
            # A fault of ours: it is logged and answered with one sentence, and other requests go on.
            _LOG.exception("%s %s", scope["method"], scope["path"])
            if begun:
                raise
            await self._send_with_headers(JSONResponse({"error": OURS, "place": None}, 500), scope, receive, send)

    def _problem(self, method: str, headers: Headers, most: int) -> tuple[int, str] | None:
        host = (headers.get("host") or "").rsplit("@", 1)[-1]
        try:
            name = urlsplit(f"//{host}").hostname or ""
        except ValueError:
            return 400, "the Host of this request cannot be read"
        if name not in self.hosts:
            return 400, f"this service does not answer to the host {name or 'that was not named'}"
        origin = headers.get("origin")
        if method not in ("GET", "HEAD") and origin is not None and _place_of(origin) != host:
            return 403, "this request comes from a page of another site"
        length = headers.get("content-length", "0")
        if not length.isdecimal() or int(length) > most:
            return 413, _too_large(most)
        return None

    @staticmethod
    async def _send_with_headers(app: ASGIApp, scope: Scope, receive: Receive, send: Send) -> None:
        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers.setdefault(name, value)
                if scope["path"].startswith("/api/"):
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        await app(scope, receive, with_headers)


def _place_of(origin: str) -> str | None:
    """Host and port of an origin; None if it is none."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


class BodyRefused(Exception):
    """The body was larger than its length said, or did not come; holds the status and the sentence of the answer."""

    def __init__(self, status: int, text: str) -> None:
        super().__init__(text)
        self.status = status


def _too_large(most: int) -> str:
    return f"this may hold {most / 1e6:.0f} MB at most"
