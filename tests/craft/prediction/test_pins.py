"""Small rules of prediction that little else would notice: looks in one batch, patches, what counts as lost."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from wempa.craft import constants
from wempa.craft.job import Card, Colour, Ink, Job, LayDown, Swatch
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.patches import MOST, patches_of
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.rows import resolve
from wempa.craft.prediction.tool_lays import tool_lays
from wempa.craft.prediction.verdict import KINDS, Overlaps, judge
from wempa.craft.vocabulary import Formula, Tool, Treatment, VerdictKind
from wempa.optics import colorimetry as cm

WHITE = Card(Colour(hex="#f8f7f4"))
TABLE = constants.values()
INKS = {
    "blue": Ink(Swatch(Colour(hex="#2456a6")), Formula.DYE, "Blue"),
    "coral": Ink(Swatch(Colour(hex="#e8705a")), Formula.HYBRID, "Coral"),
    "yellow": Ink(Swatch(Colour(hex="#f2c230")), Formula.DYE, "Yellow"),
}
JOB = Job(WHITE, tuple(INKS.items()))


def lay(key: str, tool: Tool = Tool.FOAM, passes: float = 4.0) -> LayDown:
    return LayDown(((key, 1.0),), tool=tool, passes=passes)


def test_one_glazed_stack_among_plain_ones_is_glazed() -> None:
    stacks = [(lay("coral"),), (lay("coral"), Treatment.GLAZE), (lay("blue"),)]
    found = weigh_stacks(JOB, stacks)
    for lab, stack in zip(found.lab, stacks, strict=True):
        assert float(cm.delta_e(lab, predict(replace(JOB, stack=stack)).colour.lab)) < 1e-4
    assert float(cm.delta_e(found.lab[0], found.lab[1])) > 1


@pytest.mark.parametrize("dips", [1, 2, 3, 4, 5, 7])
def test_the_uppermost_patches_are_told_apart(dips: int) -> None:
    keys = [list(INKS)[n % 3] for n in range(dips)]
    job = replace(JOB, stack=tuple([lay(key, Tool.DIP, 1.0) for key in keys]))
    bench = prepare_job(job, list(INKS))
    row = resolve(job.stack, bench.lookup(), bench.card.ground, TABLE)[-1].dry
    kinds = patches_of(row)
    assert MOST == 4
    assert len(kinds) == 2 ** min(dips, MOST)
    assert sum(kind.share for kind in kinds) == pytest.approx(1)


def judged(result: tuple[float, float, float], *parents: tuple[float, float, float]) -> VerdictKind:
    """The kind of a colour of which these are the parents, on white card."""
    found = judge(
        Overlaps(
            result=result,
            on_white=result,
            parents=list(parents),
            parents_on_white=list(parents),
            present=[True] * len(parents),
            card=(97.0, 0.0, 2.0),
            card_from_white=0.0,
        ),
        50,
        TABLE,
    )
    return KINDS[int(np.asarray(found.kind))]


@pytest.mark.parametrize(
    ("lost", "kind"),
    [
        # A colour without any blue or yellow in it, or without red or green, is a colour all the same.
        ((80.0, 32.0, 0.0), VerdictKind.SWAMPED),
        ((80.0, 0.0, 40.0), VerdictKind.SWAMPED),
        ((85.0, 1.0, 1.0), VerdictKind.CLEAN),
        ((70.0, -2.0, 0.5), VerdictKind.CLEAN),
    ],
)
def test_only_a_hue_can_be_lost(lost: tuple[float, float, float], kind: VerdictKind) -> None:
    assert judged((32.0, 18.0, -52.0), (32.0, 18.0, -52.0), lost) is kind


def test_a_stated_dose_and_a_tool_are_told_apart_in_numbers() -> None:
    bench = prepare_job(JOB, list(INKS))
    ink = bench.lookup()["blue"][1]
    stated = LayDown((("blue", 1.0),), dose=0.7, dilution=0.5)
    both = replace(lay("blue"), dose=0.7)
    found = tool_lays([(ink, stated), (ink, lay("blue")), (ink, both)], bench.card.ground, TABLE)
    assert found.stated.tolist() == pytest.approx([0.35, 0.0, 0.7])
    assert found.offer[0] == found.offer[2] == 0
    assert found.offer[1] > 0
    assert found.cover.tolist()[0] == 1
    assert found.cover.tolist()[2] == 1


def test_a_swatch_that_cannot_be_says_which_way_it_is_off() -> None:
    def told(code: str, formula: Formula, card: str) -> str:
        ink = Ink(Swatch(Colour(hex=code), card=Card(Colour(hex=card))), formula, "It")
        notes = predict(Job(WHITE, (("a", ink),), (LayDown((("a", 1.0),), dose=1.0),))).notes
        return next((note.text for note in notes if note.code == "impossible_swatch"), "")

    assert "too light for" in told("#f7f4d0", Formula.DYE, "#303030")
    assert "much too light" in told("#f7f4d0", Formula.DYE, "#303030")
    assert told("#2456a6", Formula.DYE, "#f8f7f4") == ""
