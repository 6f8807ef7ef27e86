"""``make dev``: the service on the demo data and the front end with live reload, together."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]


def main() -> int:
    service = subprocess.Popen([sys.executable, "-m", "wempa.cli", "demo"])
    try:
        return subprocess.run(["npm", "run", "dev"], cwd=ROOT / "web", check=False).returncode
    except KeyboardInterrupt:
        return 0
    finally:
        service.terminate()
        service.wait(10)


if __name__ == "__main__":
    sys.exit(main())
