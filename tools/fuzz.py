"""``make fuzz``: every route asked at random by what its schema says, with all checks of schemathesis.

``python -m tools.fuzz --cases 10000 --seed 1`` prints what was asked, how it was answered, and what
did not hold. The workspace is the demo, in a folder of its own; nothing leaves this process.
"""

from __future__ import annotations

import argparse
import random
import sys
import tempfile
import time
import warnings
from collections import Counter, defaultdict
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from zlib import crc32

import hypothesis
import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis import GenerationMode
from schemathesis.checks import CHECKS, load_all_checks

import wempa.api.app
from wempa.api.app import create_app
from wempa.demo.penny_halt import fill
from wempa.store import Workspace

# What a schema cannot say is refused with a sentence: an ink that is not there, a stack that is too long.
_SAID_NO = ("positive_data_acceptance",)
# These take seconds each and say little more on the hundredth time.
_SLOW = {
    "POST /api/devices/camera": 4,
    "POST /api/devices/hand": 4,
    "POST /api/devices/wet-panel/{panel_id}": 4,
    "POST /api/match": 12,
    "GET /api/reserve": 3,
    "GET /api/reserve.pdf": 3,
    "POST /api/log/learn": 3,
    "POST /api/log/next": 4,
    "POST /api/copies": 10,
}


@dataclass
class Report:
    """What was asked and what did not hold."""

    cases: int = 0
    routes: int = 0
    seconds: float = 0.0
    statuses: Counter[int] = field(default_factory=Counter)
    failures: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))
    slowest: tuple[float, str] = (0.0, "")

    def as_text(self) -> str:
        """A few lines."""
        answers = ", ".join(f"{n} × {status}" for status, n in sorted(self.statuses.items()))
        lines = [
            f"{self.cases} cases over {self.routes} routes in {self.seconds:.0f} s: {answers}",
            f"slowest {self.slowest[0]:.1f} s: {self.slowest[1]}",
            f"{len(self.failures)} kinds of failure",
        ]
        for kind, examples in sorted(self.failures.items()):
            lines.append(f"\n{kind}  ({len(examples)} times)\n{examples[0]}")
        return "\n".join(lines)


@contextmanager
def _demo() -> Iterator[Any]:
    with tempfile.TemporaryDirectory() as folder:
        workspace = Workspace(Path(folder) / "fuzz.wempa")
        fill(workspace)
        wempa.api.app.LOOPBACK |= {"testserver"}
        yield create_app(workspace, copies=False)
        workspace.close()


def fuzz_routes(cases: int, seed: int, only: str = "", few: int | None = None) -> Report:
    """Ask every route about as often as every other, some `cases` times in all; or only a `few` of the quicker."""
    report, start = Report(), time.monotonic()
    load_all_checks()
    without = [CHECKS.get_one(name) for name in _SAID_NO]
    with _demo() as app:
        schema = schemathesis.openapi.from_asgi("/api/openapi.json", app)
        found: list[Any] = [each.ok() for each in schema.get_all_operations()]  # type: ignore[union-attr]
        operations = [each for each in found if only in each.label]
        if few is not None:
            quicker = [each for each in operations if each.label not in _SLOW]
            operations = random.Random(seed).sample(quicker, few)
        report.routes = len(operations)
        each_one = max(2, cases // len(operations))
        for operation in operations:
            most = min(each_one, _SLOW.get(operation.label, each_one))
            for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
                _ask(operation, mode, (most + 1) // 2, seed, without, report)
    report.seconds = time.monotonic() - start
    return report


def _ask(operation: Any, mode: GenerationMode, most: int, seed: int, without: list[Any], report: Report) -> None:
    @hypothesis.seed(seed)
    @settings(
        max_examples=most,
        deadline=None,
        database=None,
        derandomize=False,
        suppress_health_check=list(HealthCheck),
        phases=[hypothesis.Phase.generate],
    )
    @given(case=operation.as_strategy(generation_mode=mode))
    def asked(case: Any) -> None:
        if mode is GenerationMode.POSITIVE:
            _aim(case)
        start = time.monotonic()
        answer = case.call(timeout=120)
        report.cases += 1
        report.statuses[answer.status_code] += 1
        report.slowest = max(report.slowest, (time.monotonic() - start, operation.label))
        try:
            case.validate_response(answer, excluded_checks=without)
        except schemathesis.errors.SchemathesisError:
            raise
        except BaseException as failure:
            if isinstance(failure, KeyboardInterrupt):
                raise
            for one in getattr(failure, "exceptions", [failure]):
                title = getattr(one, "title", type(one).__name__)
                text = (
                    f"{str(one)[:600]}\n{case.as_curl_command()[:600]}\n{answer.status_code} {answer.content[:300]!r}"
                )
                report.failures[f"{operation.label}: {title}"].append(text)

    # Nothing can be wrong with a question that takes nothing.
    with suppress(hypothesis.errors.Unsatisfiable):
        asked()


def _aim(case: Any) -> None:
    """Most questions about things that are there: a number at random is nearly always that of nothing."""
    parts = case.path_parameters
    if isinstance(parts, dict) and crc32(str(parts).encode()) % 4:
        for name, value in parts.items():
            if name.endswith("_id") and isinstance(value, int):
                parts[name] = 1 + abs(value) % 5
    if isinstance(case.body, dict) and crc32(str(case.body).encode("utf-8", "replace")) % 4:
        for name, value in case.body.items():
            if name.endswith("_id") and isinstance(value, int):
                case.body[name] = 1 + abs(value) % 5


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--cases", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="", help="routes that hold this text")
    args = parser.parse_args()
    warnings.simplefilter("ignore")
    report = fuzz_routes(args.cases, args.seed, args.only)
    print(report.as_text())
    return 1 if report.failures else 0


if __name__ == "__main__":
    sys.exit(main())
