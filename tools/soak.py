"""``make soak``: a hundred kills while things are stored, first starts broken off, a full disk, fifty people at once.

``python -m tools.soak --kills 100 --clients 50 --seconds 60`` prints the figures of docs/quality.md,
and ends with 1 if anything was lost, answered with a fault, or took longer or more than it may.
"""

from __future__ import annotations

import argparse
import sys
import tempfile
import time
from pathlib import Path

from tools.soaking.load import as_text, load
from tools.soaking.service import running
from tools.soaking.weather import first_starts, full_disk, kills

SMALL_SECONDS = 0.1
"""Within which 95 in 100 small questions are answered under load."""
MOST_MEGABYTES = 800
"""That the service and its workers may hold."""


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=100)
    parser.add_argument("--first", type=int, default=20)
    parser.add_argument("--clients", type=int, default=50)
    parser.add_argument("--seconds", type=float, default=60)
    parser.add_argument("--seed", type=int, default=1)
    args = parser.parse_args()
    sound = True
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        if args.kills:
            start = time.monotonic()
            stored = kills(folder, args.kills, args.seed)
            print(
                f"{args.kills} kills in {time.monotonic() - start:.0f} s while {stored.writes} writes were answered "
                f"({len(stored.photos)} photos, {stored.imports} whole files): nothing lost, nothing half there"
            )
        if args.first:
            begun = first_starts(folder, args.first, args.seed)
            print(f"{args.first} first starts broken off, {begun} with a file begun: each a whole demo the next time")
        try:
            held, said = full_disk(folder)
            print(f"a disk of 6 MB was full after {held} photos: {said}")
        except OSError as error:
            print(f"no disk of its own could be made here: {error}")
        if args.clients:
            with running(folder / "load.wempa") as service:
                service.json("GET", "/api/panels")
                told = load(service, args.clients, args.seconds, args.seed)
                print(f"{args.clients} clients for {args.seconds:.0f} s\n{as_text(told)}")
                sound = not told.worst_statuses() and not told.broken
                sound = sound and told.p95("small") <= SMALL_SECONDS and told.peak <= MOST_MEGABYTES
    return 0 if sound else 1


if __name__ == "__main__":
    sys.exit(main())
