"""Many stacks in one batch give what one prediction at a time gives."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.craft.errors import JobError
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.overlap.crossing import crossing, pair_alone
from wempa.craft.overlap.cut_view import cut_through
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import wanted_colours
from wempa.craft.vocabulary import Load, Look, Over, Tool, Treatment
from wempa.demo.penny_halt import ink_bodies
from wempa.formats.job import read_one
from wempa.optics import colorimetry as cm

INKS: dict[str, Any] = {ink["name"]: ink["body"] for ink in ink_bodies()}
NAMES = ["Boiler Blue", "Lamp Oil", "Coral Bunting", "Steam White", "Detonator Pink", "Steam Teal"]
CARDS = ({"colour": {"hex": "#f8f7f4"}}, {"colour": {"hex": "#a8dcc0"}, "surface": "textured"})


def job(card: dict[str, Any] = CARDS[0], stash: bool = False, **more: Any) -> Job:
    some = {name: INKS[name] for name in NAMES}
    return read_one(
        {"wempa": 1, "cardstock": card, "inks": some, "stack": [], **more}
        | ({"stash": {"inks": INKS}} if stash else {})
    )


lay_downs = st.one_of(
    st.builds(
        LayDown,
        st.sampled_from(NAMES).map(lambda name: ((name, 1.0),)),
        tool=st.sampled_from([Tool.BRUSH, Tool.FOAM, Tool.STAMP]),
        load=st.sampled_from(list(Load)),
        passes=st.sampled_from([1.0, 3.0, 7.0]),
        over=st.sampled_from(list(Over)),
    ),
    st.builds(
        LayDown,
        st.tuples(st.sampled_from(NAMES[:3]), st.sampled_from(NAMES[3:])).map(
            lambda two: ((two[0], 0.4), (two[1], 0.6))
        ),
        dose=st.sampled_from([0.3, 1.0, 2.0]),
        premix=st.just(True),
    ),
)
entries: st.SearchStrategy[Entry] = st.one_of(lay_downs, lay_downs, lay_downs, st.sampled_from(list(Treatment)))


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.lists(entries, max_size=5).map(tuple), min_size=1, max_size=6), st.sampled_from(CARDS), st.booleans()
)
def test_a_batch_is_the_same_as_one_at_a_time(
    stacks: list[tuple[Entry, ...]], card: dict[str, Any], stash: bool
) -> None:
    whole = job(card, stash)
    wanted = wanted_colours(whole)
    plain = replace(whole, stash=Stash())
    found = weigh_stacks(plain, stacks, wanted)
    for row, stack in enumerate(stacks):
        alone = predict(replace(plain, stack=stack), wanted)
        assert cm.delta_e(found.lab[row], alone.colour.lab) < 1e-6
        assert found.mud[row] == pytest.approx(alone.verdict.mud, abs=1e-6)
        assert found.kind_of(row) is alone.verdict.kind


def test_no_stacks_and_the_bare_card() -> None:
    assert weigh_stacks(job(), []).lab.shape == (0, 3)
    bare = weigh_stacks(job(CARDS[1]), [()])
    assert bare.kind_of(0) == "clean"
    assert bare.mud[0] == 0
    assert cm.delta_e(bare.lab[0], predict(job(CARDS[1])).colour.lab) < 1e-9


def test_crossing_pairs_are_what_the_pair_alone_gives() -> None:
    stack = (
        LayDown((("Boiler Blue", 1.0),), tool=Tool.BRUSH, passes=6),
        Treatment.HEAT,
        LayDown((("Coral Bunting", 1.0),), tool=Tool.FOAM, passes=4),
        LayDown((("Steam Teal", 1.0),), tool=Tool.FOAM, passes=4, over=Over.WET),
    )
    whole = replace(job(CARDS[1], stash=True), stack=stack)
    wanted = wanted_colours(whole)
    found = crossing(whole, wanted)
    assert (len(found.alone), len(found.pairs)) == (3, 6)
    for pair in found.pairs:
        alone = predict(pair_alone(whole, pair.below, pair.above), wanted)
        assert pair.hex == alone.colour.hex
        assert pair.mud == pytest.approx(alone.verdict.mud, abs=1e-6)
        assert pair.kind is alone.verdict.kind
    # Mixed wet, the order of the two does not matter.
    matters = {(pair.below, pair.above): pair.order_matters for pair in found.pairs}
    assert matters[1, 2] == matters[2, 1] < 0.01 < matters[0, 1]
    assert found.wet.colour.lab[0] < found.full.colour.lab[0]
    assert found.full.colour.hex == predict(whole, wanted).colour.hex
    assert found.wet.colour.hex == predict(replace(whole, look=Look.WET), wanted).colour.hex
    for below, above in ((0, 0), (0, 3), (-1, 1)):
        with pytest.raises(JobError, match="no lay-downs"):
            pair_alone(whole, below, above)


def test_the_cut_shows_what_soaks_in_and_what_sits_on_top() -> None:
    def cuts(*stack: Entry) -> list[tuple[float, float, bool]]:
        return [(cut.soaks, cut.sits, cut.joined) for cut in cut_through(replace(job(), stack=stack))]

    dye = LayDown((("Boiler Blue", 1.0),), dose=1.0)
    white = LayDown((("Steam White", 1.0),), dose=1.0)
    hybrid = LayDown((("Coral Bunting", 1.0),), dose=1.0)
    assert cuts() == []
    assert cuts(dye) == [(1.0, 0.0, False)]
    assert cuts(white) == [(0.0, 1.0, False)]
    ((soaks, sits, _),) = cuts(hybrid)
    assert soaks == pytest.approx(sits) == pytest.approx(0.5)
    below, above = cuts(white, replace(hybrid, over=Over.WET))
    assert above[2] is True
    assert below[2] is False
    # Drops of water do not thin the field, blotting does.
    assert cuts(dye, Treatment.BLOT)[0][0] < 1
    index = [cut.entry for cut in cut_through(replace(job(), stack=(Treatment.BLOT, dye, Treatment.HEAT, white)))]
    assert index == [1, 3]


def test_kinds_of_ink_are_told_apart_by_their_own_numbers() -> None:
    # Two blues that differ in how water lifts them only: their spritzed looks differ.
    weak = {**INKS["Boiler Blue"], "name": "Weak", "constants": {"lift": 0.9}}
    both = read_one({"wempa": 1, "cardstock": CARDS[0], "inks": {"a": INKS["Boiler Blue"], "b": weak}, "stack": []})
    stacks = [(LayDown(((key, 1.0),), tool=Tool.BRUSH, passes=6), Treatment.HEAT) for key in ("a", "b")]
    found = weigh_stacks(both, stacks)
    for row, stack in enumerate(stacks):
        assert np.allclose(found.lab[row], predict(replace(both, stack=stack)).colour.lab)
