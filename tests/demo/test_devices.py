"""The simulated devices give what real ones give, from the command line too."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from wempa.cli import main
from wempa.craft.job import Colour
from wempa.craft.prediction.spectra import spectrum_of
from wempa.demo.penny_halt import LOOSE
from wempa.formats.stash.measurements import read_measurements
from wempa.formats.stash.photo_file import decode
from wempa.optics import colorimetry as cm


def test_the_reader_writes_a_file_that_reads_back(tmp_path: Path) -> None:
    out = tmp_path / "read.txt"
    assert main(["simulate", "reader", str(out)]) == 0
    found = read_measurements(out.read_bytes())
    assert [one.name for one in found] == [name for name, _, _ in LOOSE]
    for one, (_, _, code) in zip(found, LOOSE, strict=True):
        true = spectrum_of(Colour(hex=code), "D65")[0]
        assert cm.delta_e(cm.lab(np.array(one.values)), cm.lab(true)) < 1.0


def test_the_camera_takes_inks_from_a_table(tmp_path: Path) -> None:
    table, out = tmp_path / "inks.csv", tmp_path / "photo.jpg"
    table.write_text("name,hex\nOne,#aa3322\nTwo,#2233aa\n")
    assert main(["simulate", "camera", str(out), "--inks", str(table), "--lamp", "warm lamp", "--page", "letter"]) == 0
    assert decode(out.read_bytes()).shape[2] == 3


@pytest.mark.parametrize(
    ("table", "more", "says"),
    [
        ("name,hex\nOne,red\n", [], "line 2"),
        ("name,hex\n" + "".join(f"I{n},#aa3322\n" for n in range(40)), [], "36 squares, not 40"),
        ("name,hex\nOne,#aa3322\n", ["--uneven", "2"], "between 0 and 0.6"),
    ],
)
def test_what_a_device_cannot_do_is_said(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], table: str, more: list[str], says: str
) -> None:
    source = tmp_path / "inks.csv"
    source.write_text(table)
    assert main(["simulate", "camera", str(tmp_path / "x.jpg"), "--inks", str(source), *more]) == 2
    assert says in capsys.readouterr().err
    assert not (tmp_path / "x.jpg").exists()
