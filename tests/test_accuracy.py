"""The measured overprints: no change may lose what the model reaches."""

from __future__ import annotations

import numpy as np
import pytest

from bench import overprints
from wempa.optics.colorimetry import delta_e


@pytest.mark.parametrize(("paper", "most"), [("coated", 2.4), ("uncoated", 3.05), ("newsprint", 2.45)])
def test_overprints_by_surface_word(paper: str, most: float) -> None:
    loaded = overprints.load(paper)
    own = overprints.errors(loaded, overprints.model)
    assert own.mean() <= most
    rivals = [overprints.errors(loaded, rival).mean() for rival in overprints.RIVALS.values()]
    assert own.mean() * 2.5 < min(rivals)


def test_solids_come_back_on_their_paper() -> None:
    for name in overprints.PAPERS:
        paper = overprints.load(name)
        for ink, lab in paper.solids.items():
            assert delta_e(overprints.model(paper, [ink]), np.array(lab)) < 0.1
