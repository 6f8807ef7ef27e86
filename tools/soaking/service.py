"""A real service in a process of its own, and what is asked of it."""

from __future__ import annotations

import http.client
import json
import os
import re
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any


class Service:
    """One running ``wempa`` command."""

    def __init__(self, process: subprocess.Popen[str], port: int) -> None:
        self.process, self.port = process, port

    def ask(
        self, method: str, path: str, body: Any = None, timeout: float = 120, headers: dict[str, str] | None = None
    ) -> tuple[int, bytes]:
        """Status and bytes of one answer; a body that is no bytes goes as JSON. Raises `OSError` where none came."""
        talk = http.client.HTTPConnection("127.0.0.1", self.port, timeout=timeout)
        try:
            given = body if body is None or isinstance(body, bytes) else json.dumps(body).encode()
            kind = "application/octet-stream" if isinstance(body, bytes) else "application/json"
            talk.request(method, path, given, {"content-type": kind, **(headers or {})})
            answer = talk.getresponse()
            return answer.status, answer.read()
        except http.client.HTTPException as error:
            raise OSError(str(error)) from error
        finally:
            talk.close()

    def json(self, method: str, path: str, body: Any = None) -> Any:
        """The JSON of an answer that is no refusal."""
        status, text = self.ask(method, path, body)
        if status >= 400:
            raise AssertionError(f"{method} {path}: {status} {text[:200]!r}")
        return json.loads(text) if text else None

    def memory(self) -> float:
        """Megabytes that the command and all processes that it made hold now; what they share is counted once."""
        total = 0.0
        for pid in family(self.process.pid):
            with suppress(OSError):
                told = Path(f"/proc/{pid}/smaps_rollup").read_text()
                total += int(re.findall(r"^Pss:\s+(\d+) kB", told, re.MULTILINE)[0]) / 1000
        return total

    def kill(self) -> None:
        """End it as a power cut would."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        if self.process.stdout is not None:
            self.process.stdout.close()


def family(root: int) -> list[int]:
    """A process and all that came of it."""
    parents: dict[int, int] = {}
    for each in Path("/proc").glob("[0-9]*/stat"):
        with suppress(OSError, ValueError):
            parents[int(each.parent.name)] = int(each.read_text().rpartition(")")[2].split()[1])
    found = [root]
    for one in found:
        found += [pid for pid, parent in parents.items() if parent == one]
    return found


def begin(data: Path, command: str = "demo") -> subprocess.Popen[str]:
    """Start the command on any free port; what it says is to be read."""
    # By hand and not inherited: who kills it wants it and not a shell around it.
    return subprocess.Popen(
        [sys.executable, "-m", "wempa.cli", command, "--port", "0", "--data", str(data)],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        env=os.environ | {"PYTHONUNBUFFERED": "1"},
    )


def ready(process: subprocess.Popen[str]) -> Service:
    """The service once it says where it is."""
    assert process.stdout is not None
    line = process.stdout.readline()
    found = re.search(r"http://127\.0\.0\.1:(\d+)/", line)
    if found is None:
        raise AssertionError(f"it did not start: {line}{process.stdout.read()}")
    return Service(process, int(found[1]))


@contextmanager
def running(data: Path, command: str = "demo") -> Iterator[Service]:
    """A service, stopped in the end."""
    service = ready(begin(data, command))
    try:
        yield service
    finally:
        if service.process.poll() is None:
            service.process.send_signal(signal.SIGINT)
            try:
                service.process.wait(40)
            except subprocess.TimeoutExpired:
                service.kill()
        if service.process.stdout is not None:
            service.process.stdout.close()
