"""The wheel: one file with pages, faces, tables and migrations in it; it works where nothing of the source is."""

from __future__ import annotations

import re
import subprocess
import sys
import sysconfig
import venv
import zipfile
from pathlib import Path

import httpx2 as httpx
import pytest

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """What ``make dist`` makes, from a copy, for building leaves things behind."""
    folder = tmp_path_factory.mktemp("dist")
    source = folder / "source"
    ignored = subprocess.run(
        ["git", "ls-files", "src", "pyproject.toml", "README.md"], cwd=ROOT, capture_output=True, text=True
    )
    built = [str(path.relative_to(ROOT)) for path in (ROOT / "src/wempa/api/static").rglob("*") if path.is_file()]
    for name in [*ignored.stdout.split("\n"), *built]:
        if name and (ROOT / name).is_file():
            (source / name).parent.mkdir(parents=True, exist_ok=True)
            (source / name).write_bytes((ROOT / name).read_bytes())
    command = [
        sys.executable,
        "-m",
        "pip",
        "wheel",
        "--quiet",
        "--disable-pip-version-check",
        "--no-deps",
        "--no-build-isolation",
    ]
    subprocess.run([*command, "--wheel-dir", str(folder), str(source)], check=True, timeout=300)
    (made,) = folder.glob("*.whl")
    return made


def test_everything_that_is_needed_is_in_it_and_nothing_of_the_tests(wheel: Path) -> None:
    names = zipfile.ZipFile(wheel).namelist()
    for needed in (
        "wempa/api/static/index.html", "wempa/formats/data/text.ttf", "wempa/store/migrations/0010_journal.sql",
        "wempa/optics/data/cie_1931_10nm.csv", "wempa/demo/data/swatches.json", "wempa/py.typed",
    ):  # fmt: skip
        assert needed in names
    sources = {str(path.relative_to(ROOT / "src")) for path in (ROOT / "src/wempa").rglob("*.py")}
    assert sources <= set(names)
    assert not [name for name in names if name.startswith(("tests", "tools", "bench", "web"))]


def test_it_is_installed_into_a_clean_place_and_serves_its_pages(
    wheel: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("PYTHONPATH", raising=False)
    venv.create(tmp_path / "clean", with_pip=False)
    python = tmp_path / "clean/bin/python"
    where = subprocess.run(
        [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"], capture_output=True, text=True
    )
    target = Path(where.stdout.strip())
    pip = [
        sys.executable,
        "-m",
        "pip",
        "--python",
        str(python),
        "install",
        "--quiet",
        "--disable-pip-version-check",
        "--no-deps",
    ]
    subprocess.run([*pip, str(wheel)], check=True, timeout=300)
    # What Wempa needs is there already; the link that an editable install leaves is not followed from here.
    (target / "needed.pth").write_text(sysconfig.get_path("purelib") + "\n")
    told = subprocess.run(
        [python, "-c", "import wempa; print(wempa.__file__)"], capture_output=True, text=True, cwd=tmp_path
    )
    assert told.stdout.strip() == str(target / "wempa/__init__.py")
    command = [str(tmp_path / "clean/bin/wempa"), "demo", "--port", "0", "--data", str(tmp_path / "demo.wempa")]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=tmp_path) as process:
        try:
            assert process.stdout is not None
            found = re.search(r"http://\S+/", process.stdout.readline())
            assert found is not None
            page = httpx.get(found.group(), timeout=60)
            assert "<title>Wempa" in page.text
            script = re.search(r'src="/?(assets/[^"]+\.js)"', page.text)
            assert script is not None
            assert httpx.get(found.group() + script.group(1), timeout=60).status_code == 200
            assert len(httpx.get(found.group() + "api/stash", timeout=60).json()["inks"]) == 40
            assert httpx.get(found.group() + "api/panels/1/plan.pdf", timeout=60).content.startswith(b"%PDF")
        finally:
            process.terminate()
