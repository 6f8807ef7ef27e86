"""Speed beside an earlier state of the code: what the comparison says of given times."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from bench import compare as module
from bench.compare import ROOT, compare, ratios


def test_the_median_of_pairs_of_what_both_know() -> None:
    base = [{"chart": 1.0, "match": 2.0, "gone": 1.0}, {"chart": 10.0, "match": 2.0}, {"chart": 2.0, "match": 4.0}]
    now = [{"chart": 1.5, "match": 2.0, "new": 9.0}, {"chart": 12.0, "match": 1.0}, {"chart": 2.0, "match": 4.0}]
    # Each against the run beside it: a machine that was ten times slower for a while does not count.
    assert ratios(base, now) == {"chart": pytest.approx(1.2), "match": pytest.approx(1.0)}


@pytest.mark.parametrize(("after", "code"), [(1.09, 0), (1.11, 1), (0.5, 0)])
def test_a_tenth_slower_fails(
    after: float, code: int, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    asked: list[tuple[bool, tuple[str, ...]]] = []

    def run(folder: Path, groups: Iterator[str]) -> dict[str, float]:
        here = folder == ROOT
        asked.append((here, tuple(groups)))
        assert (folder / "bench/__main__.py").is_file()
        return {"chart": 1.0 * after if here else 1.0}

    monkeypatch.setattr(module, "run_once", run)
    assert compare("HEAD", ["chart"], 2) == code
    # In turns, the other way round the second time.
    assert [here for here, _ in asked] == [False, True, True, False]
    assert asked[0][1] == ("chart",)
    told = capsys.readouterr().out
    assert told.startswith("chart ")
    assert ("SLOWER" in told) == bool(code)
