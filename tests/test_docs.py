"""What the documents point at is there."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import pytest

from wempa.api.app import create_app
from wempa.store import Workspace

ROOT = Path(__file__).parents[1]
PAGES = sorted(
    ROOT / name
    for name in subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard", "*.md"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
)
# Where a path in a document may begin.
BEGINNINGS = [ROOT, ROOT / "src/wempa", ROOT / "web/src", ROOT / "src/wempa/craft", ROOT / "src"]
PATH = re.compile(r"`([a-z_0-9./-]+/[a-zA-Z_0-9./-]+\.(?:py|ts|vue|md|csv|txt|sql|sh|css|json))`")
LINK = re.compile(r"\]\(([^)#]+)(?:#[^)]*)?\)")


def names(page: Path) -> str:
    return str(page.relative_to(ROOT))


@pytest.mark.parametrize("page", PAGES, ids=names)
def test_links_lead_somewhere(page: Path) -> None:
    broken = [link for link in LINK.findall(page.read_text()) if not (page.parent / link).exists()]
    assert not broken


@pytest.mark.parametrize("page", PAGES, ids=names)
def test_files_that_are_named_are_there(page: Path) -> None:
    gone = [
        path
        for path in PATH.findall(page.read_text())
        if not any((beginning / path).exists() for beginning in [*BEGINNINGS, page.parent])
    ]
    assert not gone


def test_the_readme_names_commands_that_there_are() -> None:
    targets = set(re.findall(r"^([a-z]+):", (ROOT / "Makefile").read_text(), re.MULTILINE))
    named = {command for page in PAGES for command in re.findall(r"`make ([a-z]+)", page.read_text())}
    assert named
    assert named <= targets


def test_routes_that_are_named_are_served(tmp_path: Path) -> None:
    served = set(create_app(Workspace(tmp_path / "empty.wempa")).openapi()["paths"])
    served = {re.sub(r"\{[^}]*\}", "{id}", path.replace("{form}", "pdf")) for path in served}
    current = [page for page in PAGES if page.name != "CHANGELOG.md"]
    named = {
        re.sub(r"\{[^}]*\}|(?<=/)\d+", "{id}", path.rstrip("."))
        for page in current
        for path in re.findall(r"(?:GET|PUT|POST|DELETE) (/api/[a-z0-9/{}.]+)", page.read_text())
    }
    assert named
    assert named <= served


def test_every_decision_is_in_the_index() -> None:
    index = (ROOT / "docs/decisions/README.md").read_text()
    missing = [page.name for page in (ROOT / "docs/decisions").glob("2*.md") if f"]({page.name})" not in index]
    assert not missing


def test_every_screenshot_is_in_the_readme_and_there_are_not_too_many() -> None:
    readme = (ROOT / "README.md").read_text()
    pictures = sorted((ROOT / "docs/screenshots").glob("*.png"))
    assert [each.name for each in pictures if f"docs/screenshots/{each.name}" not in readme] == []
    assert len(pictures) < 20
