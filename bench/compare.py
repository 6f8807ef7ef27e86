"""Speed beside an earlier state of the code: the same groups run in turns on both, and what got slower is told.

Both sides run in processes of their own, first the one and then the other and the next time the other way round,
so that a machine that grows slower meanwhile is slow for both. A figure is the median of its ratios; times only.
"""

from __future__ import annotations

import json
import os
import statistics
import subprocess
import sys
import tempfile
from collections.abc import Iterable, Mapping
from pathlib import Path

ROOT = Path(__file__).parents[1]
TIMES = {"ms", "s"}
SLOWER = 1.10
"""From which ratio on something has got slower."""
GROUPS = ("latency", "chart", "advice", "matching", "command_line")
"""What is compared unless it is said: pure computation, for a browser's times vary by more than is looked for."""


def run_once(folder: Path, groups: Iterable[str]) -> dict[str, float]:
    """Times of some groups as a state of the code has them; those that it does not know are left out."""
    with tempfile.TemporaryDirectory() as out:
        told = Path(out) / "figures.json"
        command = [sys.executable, "-m", "bench", "--json", str(told), "--only", *groups]
        where = os.environ | {"PYTHONPATH": os.pathsep.join([str(folder / "src"), str(folder)])}
        subprocess.run(command, cwd=folder, env=where, capture_output=True, check=False)
        if not told.is_file():
            raise SystemExit(f"the benchmark of {folder} ended without figures")
        figures = json.loads(told.read_text())
    return {figure["what"]: float(figure["found"]) for figure in figures if figure["unit"] in TIMES}


def ratios(base: Iterable[Mapping[str, float]], now: Iterable[Mapping[str, float]]) -> dict[str, float]:
    """How much longer each takes now: the median over pairs of runs, of what both know.

    Examples
    --------
    >>> ratios([{"a": 1.0}, {"a": 2.0}], [{"a": 2.0, "b": 1.0}, {"a": 3.0, "b": 1.0}])
    {'a': 1.75}
    """
    pairs = list(zip(base, now, strict=True))
    known = [what for what in pairs[0][0] if all(what in one and what in two and one[what] > 0 for one, two in pairs)]
    return {what: statistics.median(two[what] / one[what] for one, two in pairs) for what in known}


def compare(revision: str, groups: Iterable[str], times: int) -> int:
    """Print the ratios to a revision; 1 if something is slower by more than `SLOWER`."""
    chosen = list(groups) or list(GROUPS)
    with tempfile.TemporaryDirectory() as folder:
        base = Path(folder) / "base"
        subprocess.run(["git", "worktree", "add", "--quiet", "--detach", str(base), revision], cwd=ROOT, check=True)
        try:
            found: dict[Path, list[dict[str, float]]] = {base: [], ROOT: []}
            for turn in range(times):
                for side in (base, ROOT) if turn % 2 == 0 else (ROOT, base):
                    found[side].append(run_once(side, chosen))
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(base)], cwd=ROOT, check=False)
    slower = False
    for what, ratio in ratios(found[base], found[ROOT]).items():
        mark = "SLOWER" if ratio > SLOWER else ""
        slower |= ratio > SLOWER
        before, after = (statistics.median(run[what] for run in found[side]) for side in (base, ROOT))
        print(f"{what:<70}{before:>9.3f} → {after:<9.3f}× {ratio:.2f} {mark}")
    return 1 if slower else 0
