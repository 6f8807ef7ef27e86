"""Starting the real command for the browser tests and the screenshots."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

CHROMIUM_PATH = "/usr/bin/chromium"
CHROMIUM_ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
]


@contextmanager
def demo_server(data: Path, command: str = "demo", *more: str) -> Iterator[str]:
    """Run ``wempa demo`` (or serve) on a free port with its own file; gives the address."""
    with started(data, command, *more) as process:
        assert process.stdout is not None
        found = re.search(r"http://\S+/", process.stdout.readline())
        assert found is not None, "the server did not print its address"
        yield found.group()


@contextmanager
def started(data: Path, command: str, *more: str) -> Iterator[subprocess.Popen[str]]:
    """The command itself, with what it prints to be read; it is stopped in the end."""
    process = subprocess.Popen(
        [sys.executable, "-m", "wempa.cli", command, "--port", "0", "--data", str(data), *more],
        stdout=subprocess.PIPE,
        text=True,
        env=os.environ | {"PYTHONUNBUFFERED": "1"},
    )
    try:
        yield process
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(40)
        if process.stdout is not None:
            process.stdout.close()
