"""A job read, written and read again is the same job, whatever is in it."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from wempa.craft.vocabulary import Formula, Illuminant, Known, Load, Over, PadState, Surface, Tool, Treatment
from wempa.formats.job import read_one
from wempa.formats.job_text import card_json, ink_json, stack_json

share = st.floats(0, 1)


def maybe(**fields: st.SearchStrategy[Any]) -> st.SearchStrategy[dict[str, Any]]:
    """An object in which each field may be left out."""
    return st.fixed_dictionaries({}, optional=fields)


def words(kind: Any) -> st.SearchStrategy[str]:
    return st.sampled_from([str(word) for word in kind])


hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")
colours = st.one_of(
    hexes.map(lambda code: {"hex": code}),
    st.tuples(st.floats(0, 100), st.floats(-160, 160), st.floats(-160, 160), words(Illuminant)).map(
        lambda lab: {"lab": list(lab[:3]), "illuminant": lab[3]}
    ),
    st.lists(share, min_size=36, max_size=36).map(lambda v: {"spectrum": {"start": 380, "step": 10, "values": v}}),
)
cards = st.builds(
    lambda colour, more: {"colour": colour, **more},
    colours,
    maybe(
        surface=words(Surface),
        texture=share,
        absorbency=share,
        floor=st.floats(0, 0.9),
        takeup=st.floats(0.1, 1.2),
        known=words(Known),
        constants=maybe(n=st.floats(1, 4)),
    ),
)
swatches = st.builds(
    lambda colour, more: {"colour": colour, **more},
    colours,
    maybe(
        card=st.sampled_from(["white", "job"]) | cards,
        on_dark=st.builds(lambda colour, card: {"colour": colour, "card": card}, colours, cards),
        made_with=maybe(tool=words(Tool), load=words(Load), passes=st.floats(0.1, 100)),
        known=words(Known),
        spread=st.floats(0, 30),
    ),
)
inks = st.builds(
    lambda swatch, more: {"swatch": swatch, **more},
    swatches,
    maybe(
        name=st.text(max_size=20),
        formula=words(Formula),
        hiding=st.floats(0, 0.98),
        soak_share=share,
        strength=st.floats(0.2, 5),
        emission=maybe(peak=st.floats(400, 730), width=st.floats(5, 60), energy=st.floats(0, 0.95)),
        pad=words(PadState),
        constants=maybe(lift=share, hiding=st.floats(0, 0.9)),
    ),
)
dosed = st.builds(lambda dose, more: {"ink": "a", "dose": dose, **more}, st.floats(0, 20), maybe(over=words(Over)))
tooled = st.builds(
    lambda tool, more: {"ink": "b", "tool": tool, **more},
    words(Tool),
    maybe(load=words(Load), passes=st.floats(0.1, 200), dilution=st.floats(0, 0.95), over=words(Over)),
)
mixed = st.builds(
    lambda a, b, tool: {"mix": [{"ink": "a", "share": a}, {"ink": "b", "share": b}], "tool": tool},
    st.floats(0.01, 10),
    st.floats(0.01, 10),
    words(Tool),
)
treated = words(Treatment).map(lambda word: {"treatment": word})
jobs = st.builds(
    lambda card, a, b, stack: {"wempa": 1, "cardstock": card, "inks": {"a": a, "b": b}, "stack": stack},
    cards,
    inks,
    inks,
    st.lists(dosed | tooled | mixed | treated, max_size=6),
)


@settings(max_examples=150, deadline=None)
@given(jobs)
def test_what_is_written_reads_as_the_same_job(data: dict[str, Any]) -> None:
    read = read_one(data)
    written = {
        "wempa": 1,
        "cardstock": card_json(read.cardstock),
        "inks": {key: ink_json(ink) for key, ink in read.inks},
        "stack": stack_json(read),
    }
    again = read_one(written)
    assert again.cardstock == read.cardstock
    assert again.inks == read.inks
    for one, other in zip(again.stack, read.stack, strict=True):
        if not isinstance(one, Treatment) and not isinstance(other, Treatment):
            assert (one.dose, one.tool, one.passes, one.dilution, one.over, one.premix) == (
                other.dose,
                other.tool,
                other.passes,
                other.dilution,
                other.over,
                other.premix,
            )
            if one.tool is not None:
                assert one.load is other.load
            for (key, mine), (name, theirs) in zip(one.parts, other.parts, strict=True):
                assert key == name
                assert abs(mine - theirs) < 1e-12
        else:
            assert one is other
