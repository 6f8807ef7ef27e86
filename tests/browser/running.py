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
def demo_server(data: Path, command: str = "demo") -> Iterator[str]:
    """Run ``wempa demo`` (or serve) on a free port with its own file; gives the address."""
    process = subprocess.Popen(
        [sys.executable, "-m", "wempa.cli", command, "--port", "0", "--data", str(data)],
        stdout=subprocess.PIPE,
        text=True,
        env=os.environ | {"PYTHONUNBUFFERED": "1"},
    )
    try:
        assert process.stdout is not None
        found = re.search(r"http://\S+/", process.stdout.readline())
        assert found is not None, "the server did not print its address"
        yield found.group()
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(40)
        if process.stdout is not None:
            process.stdout.close()
