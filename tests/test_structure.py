"""The house: no two modules import one another, no file holds more than one can read, nothing is stray."""

from __future__ import annotations

import ast
import re
import subprocess
import tomllib
from pathlib import Path

import grimp
import pytest

ROOT = Path(__file__).parents[1]
# Data of the demo and what a machine wrote may be as long as it is.
LONG = ("generated/", ".json", ".csv", "requirements", ".png", ".ttf", ".webm", ".mp4", ".lock", "docs/")
MOST_LINES = 600


def tracked() -> list[str]:
    listed = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=False)
    if listed.returncode:
        pytest.skip("this is no checkout")
    return [name for name in listed.stdout.splitlines() if (ROOT / name).is_file()]


def test_no_two_modules_import_one_another() -> None:
    graph = grimp.build_graph("wempa", include_external_packages=False, cache_dir=None)
    for module in sorted(graph.modules):
        for other in graph.find_modules_directly_imported_by(module):
            assert module not in graph.find_modules_directly_imported_by(other), f"{module} and {other}"
            back = graph.find_shortest_chain(importer=other, imported=module)
            assert back is None, f"a circle: {module} → {' → '.join(back)}"


def test_every_module_of_the_service_stands_in_its_layers() -> None:
    """What no contract names may import what it likes: the linter asks only of modules that it is told of."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    (service,) = [contract for contract in contracts if contract["containers"] == ["wempa.api"]]
    named = [f"wempa.api.{name}" for layer in service["layers"] for name in re.split(r" [|:] ", layer)]
    graph = grimp.build_graph("wempa", include_external_packages=False, cache_dir=None)
    modules = {name for name in graph.modules if name.startswith("wempa.api.") and not graph.find_children(name)}
    assert sorted(named) == sorted(modules)


def test_no_file_is_over_600_lines() -> None:
    long = {
        name: count
        for name in tracked()
        if not any(part in name for part in LONG)
        and (count := len((ROOT / name).read_text(encoding="utf-8").splitlines())) > MOST_LINES
    }
    assert not long


def test_every_folder_of_the_source_says_what_it_is_for() -> None:
    silent = [
        name
        for name in tracked()
        if name.startswith("src/") and name.endswith("__init__.py") and not (ROOT / name).read_text().startswith('"""')
    ]
    assert not silent


# What the core has and its form on the wire are one thing, and have one name.
ON_THE_WIRE = ("formats/job.py", "api/stash/models.py")


def test_no_two_classes_have_one_name() -> None:
    where: dict[str, list[str]] = {}
    for path in sorted((ROOT / "src/wempa").rglob("*.py")):
        place = path.relative_to(ROOT / "src/wempa").as_posix()
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_") and place not in ON_THE_WIRE:
                where.setdefault(node.name, []).append(place)
    twice = {name: places for name, places in where.items() if len(places) > 1}
    assert twice == {}
