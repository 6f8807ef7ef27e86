"""Where workers come from: a copy of the service made before it had threads, files or data, that only makes workers.

A worker is then there at once, with all modules, and shares their memory with the service.
"""

from __future__ import annotations

import json
import os
import signal
import socket
import sys
import threading
from pathlib import Path
from typing import NoReturn

from wempa.api.garbage import look_less

from .worker import MakeApp, work

# Bytes of one order: a path and two numbers.
_ORDER = 65536


class Nursery:
    """The process that makes workers. Safe to share between threads."""

    def __init__(self, end: socket.socket, pid: int) -> None:
        self._end, self.pid = end, pid
        self._lock = threading.Lock()

    @classmethod
    def start(cls, make: MakeApp) -> Nursery | None:
        """Make the process that makes workers, before anything else is done.

        Gives None where the system cannot copy a process safely. A worker calls `make` to make its
        application.

        `make` is how a worker makes the application.
        """
        if sys.platform != "linux":
            return None
        here, there = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        # The collector writes to what it looks through. What it leaves alone stays in memory that is shared.
        look_less()
        pid = os.fork()
        if pid == 0:
            here.close()
            _tend(there, make)
        there.close()
        return cls(here, pid)

    def close(self) -> None:
        """End the process that makes workers."""
        self._end.close()

    def worker(self, end: socket.socket, workspace: Path, niceness: int) -> int:
        """A new worker that answers at `end`; returns the number of its process. Raises `OSError` if there is none."""
        order = json.dumps({"workspace": str(workspace), "niceness": niceness}).encode()
        with self._lock:
            socket.send_fds(self._end, [order], [end.fileno()])
            answer = self._end.recv(64)
        if not answer:
            raise OSError("the process that makes workers has ended")
        return int(answer)


def _tend(orders: socket.socket, make: MakeApp) -> NoReturn:
    """Make a worker for each order, until the service closes its end."""
    # Ctrl-C is for the service alone; and the system is to reap workers that have ended by itself.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    try:
        while True:
            order, ends, _, _ = socket.recv_fds(orders, _ORDER, 1)
            if not order:
                os._exit(0)
            given = json.loads(order)
            end = socket.socket(fileno=ends[0])
            pid = os.fork()
            if pid == 0:
                orders.close()
                signal.signal(signal.SIGCHLD, signal.SIG_DFL)
                work(end, Path(given["workspace"]), given["niceness"], make)
                os._exit(0)
            end.close()
            orders.send(str(pid).encode())
    finally:
        # Whatever went wrong here, a copied process must never go on as the service itself.
        os._exit(1)
