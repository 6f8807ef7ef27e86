"""Listening: at which addresses, for whom, how long a client may take, and what is printed at the start."""

from __future__ import annotations

import asyncio
import io
import ipaddress
import socket
import ssl
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import h11
import uvicorn
from uvicorn.protocols.http.h11_impl import H11Protocol

from wempa.store import Devices, StoreError, Workspace

from .app import LOOPBACK, JournalKept, create_app
from .garbage import look_less
from .heavy.nursery import Nursery
from .pairing.door import Lan

HEAD_SECONDS = 10.0
"""Seconds within which the head of a request has to be complete."""
_ALONE = "this machine seems to be in no network; connect it first"
# An address of documentation (RFC 5737). Nothing is sent to it; the system only says which way it would go.
_ELSEWHERE = ("198.51.100.1", 9)


@dataclass(frozen=True, slots=True)
class ListenAt:
    """Where to listen: a host of this machine, a port (0 for any), whether for the network too, and with which key."""

    host: str | None = None
    port: int = 0
    lan: bool = False
    certfile: Path | None = None
    keyfile: Path | None = None


class TimedProtocol(H11Protocol):
    """HTTP as uvicorn speaks it, but a client that does not finish the head of its request in time is cut off."""

    _late: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """A new connection gets the time for one head."""
        super().connection_made(transport)
        self._late = self.loop.call_later(HEAD_SECONDS, self._hang_up)

    def data_received(self, data: bytes) -> None:
        """Bytes of a head or a body; the clock of the head runs from its first byte on."""
        super().data_received(data)
        waiting = self.conn.their_state is h11.IDLE and bool(self.conn.trailing_data[0])
        if waiting and self._late is None:
            self._late = self.loop.call_later(HEAD_SECONDS, self._hang_up)
        elif not waiting and self._late is not None:
            self._late.cancel()
            self._late = None

    def connection_lost(self, exc: Exception | None) -> None:
        """A connection that has gone has no clock any more."""
        if self._late is not None:
            self._late.cancel()
            self._late = None
        super().connection_lost(exc)

    def _hang_up(self) -> None:
        self._late = None
        if not self.transport.is_closing():
            self.transport.close()


def serve(
    workspace: Workspace,
    place: ListenAt,
    say: Callable[[str], None],
    nursery: Nursery | None = None,
    journal: JournalKept | None = None,
) -> None:
    """Listen until it is stopped; `say` is told where. Heavy work is done by workers of the nursery, if there is one.

    Raises
    ------
    StoreError
        This cannot be: the address is open to others and that was not asked for, there is no
        network, the port is taken, the key is none. One sentence.
    """
    _check_key(place)
    hosts, bound = _hosts(place)
    listeners = _listen(bound, place.port)
    scheme = "https" if place.certfile else "http"
    port = listeners[0].getsockname()[1]
    urls = [f"{scheme}://{_shown(host)}:{port}/" for host in hosts]
    own, rest = (urls[0], urls[1:]) if place.lan else (f"{scheme}://{_shown(bound[0])}:{port}/", [])
    say(f"Wempa is at {own}  (workspace {workspace.path}; stop with Ctrl+C)")
    lan = None
    if place.lan:
        lan = Lan(Devices.beside(workspace.path), tuple(rest), secure=place.certfile is not None)
        say(_invitation(lan))
    app = create_app(workspace, hosts=LOOPBACK | set(hosts) | set(bound), lan=lan, nursery=nursery, journal=journal)
    config = uvicorn.Config(
        app,
        http=TimedProtocol,
        log_level="warning",
        server_header=False,
        # No proxy stands before the service, so headers that name another client are not believed.
        proxy_headers=False,
        # Stopping does not wait for a browser that keeps its connection open.
        timeout_graceful_shutdown=3,
        ssl_certfile=place.certfile,
        ssl_keyfile=place.keyfile,
    )
    look_less()
    uvicorn.Server(config).run(sockets=listeners)


def _check_key(place: ListenAt) -> None:
    if place.keyfile is not None and place.certfile is None:
        raise StoreError("--keyfile needs --certfile")
    if place.certfile is not None:
        try:
            ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(place.certfile, place.keyfile)
        except (OSError, ssl.SSLError) as error:
            raise StoreError(f"cannot use the certificate {place.certfile}: {error.strerror or error}") from error


def _hosts(place: ListenAt) -> tuple[list[str], list[str]]:
    """Addresses that Wempa answers to, this machine's own first, and those that it listens at."""
    host = place.host or "127.0.0.1"
    if not place.lan:
        if not _only_this_machine(host):
            raise StoreError(
                f"--host {host} would let everybody in your network in without asking; "
                "add --lan, which asks every device for a code"
            )
        return [host], [host]
    named = [place.host] if place.host else _addresses()[:1]
    if not named:
        raise StoreError(f"{_ALONE}, or give its address with --host")
    if named[0] in ("0.0.0.0", "::"):  # noqa: S104 - asked for, and each device is asked for a code
        if not (found := _addresses()):
            raise StoreError(f"{_ALONE}, or give its address with --host")
        return ["127.0.0.1", *found], named
    if named[0] in ("127.0.0.1", "::1", "localhost"):
        raise StoreError(f"--lan needs an address of the network; {named[0]} is this machine's own")
    return ["127.0.0.1", *named], ["127.0.0.1", *named]


def _only_this_machine(host: str) -> bool:
    try:
        found = {str(info[4][0]) for info in socket.getaddrinfo(host, None)}
    except (OSError, UnicodeError):
        # This address cannot be listened at either; the attempt to listen says so.
        return True
    return all(ipaddress.ip_address(address.partition("%")[0]).is_loopback for address in found)


def _addresses() -> list[str]:
    """Addresses of this machine in the networks that it is in, the one that leads outside first."""
    found: list[str] = []
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked, suppress(OSError):
        asked.connect(_ELSEWHERE)
        found.append(str(asked.getsockname()[0]))
    with suppress(OSError):
        found += [str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    return [each for each in dict.fromkeys(found) if not ipaddress.ip_address(each).is_loopback]


def _listen(bound: list[str], port: int) -> list[socket.socket]:
    listeners: list[socket.socket] = []
    for host in bound:
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        # asyncio turns Nagle's delay off only for sockets that say they are TCP; without this an answer takes 40 ms
        # more.
        listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            # From here on a browser that opens the address waits instead of failing.
            listener.listen(128)
        except (OSError, OverflowError) as error:
            for each in (listener, *listeners):
                each.close()
            raise StoreError(f"cannot listen on {host} port {port}: {error}") from error
        listeners.append(listener)
        # The port is the same everywhere, so that addresses differ in the host alone.
        port = int(listener.getsockname()[1])
    return listeners


def _shown(host: str) -> str:
    return f"[{host}]" if ":" in host else host


def _invitation(lan: Lan) -> str:
    """Address, QR code and pairing code, as they are printed where Wempa was started."""
    import segno

    code = lan.codes.make().figures
    drawn = io.StringIO()
    segno.make(lan.addresses[0], micro=False).terminal(drawn, compact=True)
    lines = [
        "",
        f"On a tablet in the same network: {'  or  '.join(lan.addresses)}",
        "",
        drawn.getvalue().rstrip("\n"),
        "",
        f"Pairing code: {code[:3]} {code[3:]}  (once, within ten minutes; another one under Table, Use a tablet)",
    ]
    if not lan.secure:
        lines.append(
            "This is plain HTTP for your own network: whoever shares it could read along. "
            "Do not use it in a café, or give --certfile and --keyfile."
        )
    return "\n".join(lines)
