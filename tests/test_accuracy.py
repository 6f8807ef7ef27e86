"""The measured overprints: no change may lose what the model reaches."""

from __future__ import annotations

import numpy as np
import pytest

from bench import overprints
from wempa.craft import constants
from wempa.craft.job import Card
from wempa.optics.colorimetry import delta_e

MOST = {"coated": 2.0, "coated-lightweight": 3.5, "coated-grade3": 1.95, "uncoated": 2.6, "newsprint": 2.05}


@pytest.mark.parametrize("paper", overprints.PAPERS)
def test_overprints_by_surface_word(paper: str) -> None:
    loaded = overprints.load(paper)
    own = overprints.errors(loaded, overprints.model)
    assert own.mean() <= MOST[paper]
    rivals = [overprints.errors(loaded, rival).mean() for rival in overprints.RIVALS.values()]
    assert own.mean() * 2.4 < min(rivals)


@pytest.fixture(scope="module")
def suits() -> dict[str, tuple[Card, float]]:
    """Each paper with the floor and take-up that suit it, and its mean ΔE00 then."""
    return {name: overprints.fitted(overprints.load(name)) for name in overprints.PAPERS}


def test_all_papers_together_and_each_coated_one_left_out(suits: dict[str, tuple[Card, float]]) -> None:
    papers = [overprints.load(name) for name in overprints.PAPERS]
    assert np.mean([overprints.errors(paper, overprints.model).mean() for paper in papers]) <= 2.4
    assert np.mean([missed for _, missed in suits.values()]) <= 2.15
    left = overprints.left_out({name: card for name, (card, _) in suits.items()})
    assert np.mean([*left.values()]) <= 2.85


def test_a_coated_surface_is_the_middle_of_its_papers(suits: dict[str, tuple[Card, float]]) -> None:
    """What the table has for it is what its papers come to, not what one of them comes to."""
    cards = [card for name, (card, _) in suits.items() if name.startswith("coated")]
    floor, takeup = overprints.middle(cards)
    table = constants.AS_SHIPPED
    assert table["surface.coated.floor"] == pytest.approx(floor, rel=0.05)
    assert table["surface.coated.takeup"] == pytest.approx(takeup, abs=0.005)


def test_solids_come_back_on_their_paper() -> None:
    for name in overprints.PAPERS:
        paper = overprints.load(name)
        for ink, lab in paper.solids.items():
            assert delta_e(overprints.model(paper, [ink]), np.array(lab)) < 0.1
