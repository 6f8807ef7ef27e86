"""Change single lines of the source at random and see whether a test notices (`make mutants`).

First all tests but the browser's run once under coverage, so that it is known which tests
run which line and how long each takes. Then for each mutant only the tests that run its line
are run, the quickest first, until one fails. A mutant that none of them notices survives; so
does one that would take more than `--most` seconds of tests, and one on a line that no test runs.

    python -m tools.mutants --group base --count 100 --seed 1
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import pytest

ROOT = Path(__file__).parents[1]
KEPT = ROOT / ".make"
GROUPS: dict[str, tuple[str, ...]] = {
    "base": (
        "src/wempa/optics/*.py",
        "src/wempa/store/*.py",
        "src/wempa/formats/**/*.py",
        "src/wempa/craft/panels/bands.py",
        "src/wempa/craft/panels/cutting.py",
        "src/wempa/craft/panels/front.py",
        "src/wempa/craft/panels/shapes.py",
    ),
    "prediction": ("src/wempa/craft/prediction/*.py",),
    "panels": ("src/wempa/craft/panels/*.py",),
    "log": ("src/wempa/craft/log/*.py",),
    "table": ("src/wempa/craft/table/*.py",),
    "search": ("src/wempa/craft/search/*.py",),
    "overlap": ("src/wempa/craft/overlap/*.py", "src/wempa/craft/ways.py", "src/wempa/craft/recipe.py"),
    "stash": ("src/wempa/craft/stash/*.py", "src/wempa/craft/colour/*.py"),
    "api": ("src/wempa/api/**/*.py",),
}
# The border moved, which of measured numbers hardly ever shows, and the comparison turned round.
_COMPARED: dict[type[ast.cmpop], tuple[str, ...]] = {
    ast.Lt: ("<", "<=", ">="),
    ast.LtE: ("<=", "<", ">"),
    ast.Gt: (">", ">=", "<="),
    ast.GtE: (">=", ">", "<"),
    ast.Eq: ("==", "!="),
    ast.NotEq: ("!=", "=="),
    ast.Is: (" is ", " is not "),
    ast.IsNot: (" is not ", " is "),
    ast.In: (" in ", " not in "),
    ast.NotIn: (" not in ", " in "),
}
_COUNTED: dict[type[ast.operator], tuple[str, str]] = {
    ast.Add: ("+", "-"),
    ast.Sub: ("-", "+"),
    ast.Mult: ("*", "/"),
    ast.Div: ("/", "*"),
    ast.FloorDiv: ("//", "*"),
    ast.Mod: ("%", "*"),
    ast.Pow: ("**", "*"),
    ast.BitAnd: ("&", "|"),
    ast.BitOr: ("|", "&"),
}
_NAMES = {"minimum": "maximum", "maximum": "minimum", "min": "max", "max": "min", "all": "any", "any": "all"}


@dataclass(frozen=True)
class Mutant:
    """One changed line."""

    file: str
    line: int
    before: str
    after: str

    def __str__(self) -> str:
        return f"{self.file}:{self.line}\n    - {self.before.strip()}\n    + {self.after.strip()}"


class _Finder(ast.NodeVisitor):
    """All changes of single lines of a module."""

    def __init__(self, lines: list[str]) -> None:
        self.lines = lines
        self.found: list[tuple[int, str]] = []

    def change(self, node: ast.expr | ast.stmt, text: str, start: int, stop: int) -> None:
        line = self.lines[node.lineno - 1]
        raw = line.encode()
        self.found.append((node.lineno, (raw[:start] + text.encode() + raw[stop:]).decode()))

    def between(self, left: ast.expr, right: ast.expr, old: str, new: str) -> None:
        if left.end_lineno != right.lineno or left.end_col_offset is None:
            return
        raw = self.lines[right.lineno - 1].encode()
        at = raw.find(old.encode(), left.end_col_offset, right.col_offset)
        if at >= 0:
            self.change(right, new, at, at + len(old.encode()))

    def visit_Compare(self, node: ast.Compare) -> None:
        left = node.left
        for op, right in zip(node.ops, node.comparators, strict=True):
            old, *others = _COMPARED[type(op)]
            for new in others:
                self.between(left, right, old, new)
            left = right
        self.generic_visit(node)

    def visit_BinOp(self, node: ast.BinOp) -> None:
        words = any(
            isinstance(each, ast.JoinedStr) or isinstance(getattr(each, "value", 0), str)
            for each in (node.left, node.right)
        )
        if type(node.op) in _COUNTED and not words:
            self.between(node.left, node.right, *_COUNTED[type(node.op)])
        self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> None:
        word = " and " if isinstance(node.op, ast.And) else " or "
        for left, right in zip(node.values, node.values[1:], strict=False):
            self.between(left, right, word, " or " if word == " and " else " and ")
        self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> None:
        if node.lineno == node.operand.lineno and isinstance(node.op, ast.Not | ast.USub | ast.Invert):
            self.change(node, "", node.col_offset, node.operand.col_offset)
        self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        if node.end_col_offset is None or node.lineno != node.end_lineno:
            return
        value, new = node.value, None
        if value is True or value is False:
            new = str(not value)
        elif isinstance(value, int):
            new = str(value + 1)
        elif isinstance(value, float):
            new = repr(value * 1.2 if value else 0.1)
        if new is not None:
            self.change(node, new, node.col_offset, node.end_col_offset)

    def visit_Attribute(self, node: ast.Attribute) -> None:
        if node.attr in _NAMES and node.end_col_offset is not None and node.end_lineno is not None:
            raw = self.lines[node.end_lineno - 1].encode()
            start = node.end_col_offset - len(node.attr)
            text = (raw[:start] + _NAMES[node.attr].encode() + raw[node.end_col_offset :]).decode()
            self.found.append((node.end_lineno, text))
        self.generic_visit(node)

    def visit_Name(self, node: ast.Name) -> None:
        if node.id in _NAMES and isinstance(node.ctx, ast.Load):
            self.change(node, _NAMES[node.id], node.col_offset, node.col_offset + len(node.id))

    def visit_AugAssign(self, node: ast.AugAssign) -> None:
        self.drop(node)
        self.generic_visit(node)

    def visit_Expr(self, node: ast.Expr) -> None:
        if not isinstance(node.value, ast.Constant):
            self.drop(node)
            self.generic_visit(node)

    def drop(self, node: ast.stmt) -> None:
        if node.lineno == node.end_lineno:
            self.change(node, "pass", node.col_offset, len(self.lines[node.lineno - 1].encode()))

    def visit_keyword(self, node: ast.keyword) -> None:
        # That two lists are as long as one another is asserted; no input shows it.
        if node.arg != "strict":
            self.generic_visit(node)

    # What is said is not what is done: types and the words of refusals.
    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value is not None:
            self.visit(node.value)

    def visit_arguments(self, node: ast.arguments) -> None:
        for default in [*node.defaults, *[each for each in node.kw_defaults if each is not None]]:
            self.visit(default)

    def visit_ClassDef(self, node: ast.ClassDef) -> None:
        # Nor is a decorator: that a thing is frozen changes no number.
        for statement in node.body:
            self.visit(statement)

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        self.visit(node.args)
        for statement in node.body:
            self.visit(statement)

    def visit_Subscript(self, node: ast.Subscript) -> None:
        # `list[int]` and the like stand in code only as types.
        if not (
            isinstance(node.value, ast.Name) and node.value.id in ("list", "dict", "tuple", "Annotated", "Literal")
        ):
            self.generic_visit(node)

    def visit_Raise(self, node: ast.Raise) -> None:
        return

    def visit_JoinedStr(self, node: ast.JoinedStr) -> None:
        return


def mutants_of(file: str) -> list[Mutant]:
    """Every change of a single line of one module that still parses."""
    text = (ROOT / file).read_text(encoding="utf-8")
    lines = text.split("\n")
    finder = _Finder(lines)
    finder.visit(ast.parse(text))
    made = []
    for line, after in finder.found:
        changed = "\n".join([*lines[: line - 1], after, *lines[line:]])
        try:
            compile(changed, file, "exec")
        except SyntaxError:
            continue
        made.append(Mutant(file, line, lines[line - 1], after))
    return made


def draw(files: list[str], count: int, seed: int) -> list[Mutant]:
    """So many mutants on as many different lines, each line as likely as the others."""
    by_line: dict[tuple[str, int], list[Mutant]] = {}
    for file in files:
        for mutant in mutants_of(file):
            by_line.setdefault((mutant.file, mutant.line), []).append(mutant)
    rng = random.Random(seed)
    lines = rng.sample(sorted(by_line), min(count, len(by_line)))
    return [rng.choice(by_line[line]) for line in lines]


# Which tests run which line ------------------------------------------------------------

_seconds: dict[str, float] = {}
_failed: set[str] = set()
# So many tests may fail under coverage, which slows them: those that hold a time. They are left out.
_MAY_FAIL = 8


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """As a plugin of pytest: how long each test takes, its fixtures included, and which fail."""
    _seconds[report.nodeid] = _seconds.get(report.nodeid, 0.0) + report.duration
    if report.failed:
        _failed.add(report.nodeid)


def pytest_sessionfinish(session: pytest.Session) -> None:
    """As a plugin of pytest: write down what was measured."""
    if _seconds and not hasattr(session.config, "workerinput"):
        told = {"seconds": _seconds, "failed": sorted(_failed)}
        Path(os.environ["WEMPA_TEST_SECONDS"]).write_text(json.dumps(told))


def _fingerprint() -> str:
    import hashlib

    digest = hashlib.sha256()
    for path in sorted(
        [*(ROOT / "src").rglob("*.py"), *(ROOT / "tests").rglob("*.py"), *(ROOT / "tests").rglob("*.json")]
    ):
        digest.update(path.read_bytes())
    return digest.hexdigest()


def covered() -> tuple[dict[str, dict[int, list[str]]], dict[str, float]]:
    """For each file and line the tests that run it, and the seconds of every test; kept until something changes."""
    kept, mark = KEPT / "covered.json", _fingerprint()
    if kept.exists():
        known = json.loads(kept.read_text())
        if known["of"] == mark:
            return {f: {int(n): t for n, t in lines.items()} for f, lines in known["lines"].items()}, known["seconds"]
    import coverage

    data, seconds = KEPT / "coverage", KEPT / "seconds.json"
    for old in KEPT.glob("coverage*"):
        old.unlink()
    env = {
        **os.environ,
        "PYTHONPATH": str(ROOT / "src"),
        "COVERAGE_FILE": str(data),
        "WEMPA_TEST_SECONDS": str(seconds),
    }
    run = [
        *(
            sys.executable,
            "-m",
            "pytest",
            "-n",
            "2",
            "--dist",
            "worksteal",
            "--ignore=tests/browser",
            # It holds times, and coverage takes its own.
            "--ignore=tests/formats/test_hostile.py",
            "-p",
            "tools.mutants",
        ),
        *("--cov=src/wempa", "--cov-context=test", "--cov-report=", "-q"),
    ]
    print("Running all tests once under coverage ...", flush=True)
    subprocess.run(run, cwd=ROOT, env=env, stdout=subprocess.DEVNULL, check=False)
    told = json.loads(seconds.read_text())
    failed: list[str] = told["failed"]
    if len(failed) > _MAY_FAIL:
        raise SystemExit(f"{len(failed)} tests do not pass as they are, among them {failed[0]}")
    for test in failed:
        print(f"left out, for it fails as it is: {test}", flush=True)
    found = coverage.CoverageData(str(data))
    found.read()
    lines = {
        str(Path(file).relative_to(ROOT)): {
            line: sorted({context.split("|")[0] for context in contexts if context} - set(failed))
            for line, contexts in found.contexts_by_lineno(file).items()
        }
        for file in found.measured_files()
    }
    took: dict[str, float] = told["seconds"]
    kept.write_text(json.dumps({"of": mark, "lines": lines, "seconds": took}))
    return lines, took


def try_out(mutant: Mutant, tests: list[str], copy: Path, most: float) -> str:
    """What comes of a mutant in a copy of the tree: ``killed``, ``survived`` or ``timed out``."""
    path = copy / mutant.file
    text = path.read_text(encoding="utf-8")
    lines = text.split("\n")
    lines[mutant.line - 1] = mutant.after
    (copy / "chosen.txt").write_text("\n".join(tests))
    env = {**os.environ, "PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    run = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:randomly", "@chosen.txt"]
    path.write_text("\n".join(lines), encoding="utf-8")
    try:
        done = subprocess.run(
            run,
            cwd=copy,
            env=env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            timeout=3 * most + 60,
            check=False,
        )
    except subprocess.TimeoutExpired:
        # An endless loop is noticed by whoever waits for it.
        return "timed out"
    finally:
        path.write_text(text, encoding="utf-8")
    return "killed" if done.returncode else "survived"


def chosen_tests(
    mutant: Mutant, lines: dict[str, dict[int, list[str]]], seconds: dict[str, float], most: float
) -> list[str]:
    """The tests that run the mutant's line, quickest first, `most` seconds of them; golden ones first."""
    running = lines.get(mutant.file, {}).get(mutant.line, [])
    if not running:
        # What runs when a module is loaded is seen by all tests of it.
        running = sorted({test for each in lines.get(mutant.file, {}).values() for test in each})
        if not _at_import(mutant):
            return []
    ordered = sorted(
        running, key=lambda test: (seconds.get(test, 0.0) > 0.5, "golden" not in test, seconds.get(test, 0.0))
    )
    chosen, spent = list[str](), 0.0
    for test in ordered:
        spent += seconds.get(test, 0.0)
        if chosen and spent > most:
            break
        chosen.append(test)
    return chosen


def _at_import(mutant: Mutant) -> bool:
    """Whether the line runs when the module is loaded."""
    tree = ast.parse((ROOT / mutant.file).read_text(encoding="utf-8"))
    inside = [
        (node.body[0].lineno, node.end_lineno or node.lineno)
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
    ]
    return not any(first <= mutant.line <= last for first, last in inside)


def main(argv: list[str] | None = None) -> int:
    """Draw, try and tell; returns 1 if fewer are killed than `--reach` asks for."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--group", choices=GROUPS, default="base")
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--most", type=float, default=40, help="seconds of tests for one mutant")
    parser.add_argument("--minutes", type=float, default=45, help="stop drawing more after so long")
    parser.add_argument("--reach", type=float, default=0.85, help="share that has to be killed")
    args = parser.parse_args(argv)
    KEPT.mkdir(exist_ok=True)
    lines, seconds = covered()
    files = sorted({str(path.relative_to(ROOT)) for glob in GROUPS[args.group] for path in ROOT.glob(glob)})
    mutants = draw(files, args.count, args.seed)
    start, told = time.monotonic(), dict[str, list[Mutant]]()
    with tempfile.TemporaryDirectory() as folder:
        copies: Queue[Path] = Queue()
        for n in range(os.cpu_count() or 1):
            copy = Path(folder) / str(n)
            ignore = shutil.ignore_patterns("static", "__pycache__")
            for part in ("src", "tests", "tools", "bench"):
                shutil.copytree(ROOT / part, copy / part, ignore=ignore)
            for part in ("pyproject.toml", "docs", "README.md", "web"):
                if (ROOT / part).exists():
                    (copy / part).symlink_to(ROOT / part)
            copies.put(copy)

        def one(mutant: Mutant) -> tuple[Mutant, str]:
            if time.monotonic() - start > 60 * args.minutes:
                return mutant, "not tried"
            tests = chosen_tests(mutant, lines, seconds, args.most)
            if not tests:
                return mutant, "survived (no test runs this line)"
            copy = copies.get()
            try:
                return mutant, try_out(mutant, tests, copy, args.most)
            finally:
                copies.put(copy)

        with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
            for mutant, fate in pool.map(one, mutants):
                told.setdefault(fate, []).append(mutant)
                if not fate.startswith(("killed", "timed")):
                    print(f"{fate}: {mutant}", flush=True)
    tried = sum(len(each) for fate, each in told.items() if fate != "not tried")
    killed = len(told.get("killed", [])) + len(told.get("timed out", []))
    counts: dict[str, Any] = {fate: len(each) for fate, each in sorted(told.items())}
    minutes = (time.monotonic() - start) / 60
    print(f"{killed} of {tried} killed ({killed / max(tried, 1):.0%}) in {minutes:.0f} min: {counts}")
    return 0 if tried and killed / tried >= args.reach else 1


if __name__ == "__main__":
    sys.exit(main())
