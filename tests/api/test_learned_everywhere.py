"""A row of the craft table that was learned counts wherever one does that Wempa ships with."""

from __future__ import annotations

import json
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path


def _answers(mode: str, path: Path) -> dict[str, str]:
    command = [sys.executable, "-m", "tests.api.learned_answers", mode, str(path / f"{mode}.wempa")]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    found: dict[str, str] = json.loads(done.stdout)
    return found


def test_every_answer_goes_by_the_table_as_it_was_learned(tmp_path: Path) -> None:
    """All rows are moved by 6 %: answers are the same whether the table was so from the start or was learned to be."""
    with ThreadPoolExecutor(2) as at_once:
        shipped, learned = at_once.map(lambda mode: _answers(mode, tmp_path), ("shipped", "learned"))
    assert len(shipped) > 90
    assert [key for key, answer in shipped.items() if not answer.startswith("20")] == []
    assert [key for key in shipped if shipped[key] != learned.get(key)] == []
