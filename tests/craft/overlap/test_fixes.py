"""Fixes: recomputed, ranked, only those that help, in the contract's form."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from tests.jobs import job
from wempa.craft.job import Colour, LayDown
from wempa.craft.overlap import fixes
from wempa.craft.overlap.fixes import predict_with_fixes
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Load, VerdictKind
from wempa.craft.ways import with_barrier
from wempa.demo.penny_halt import card_bodies, ink_bodies
from wempa.formats.job import read_one
from wempa.formats.job_result import result
from wempa.optics import colorimetry as cm

STASH = {
    "inks": {ink["name"]: ink["body"] for ink in ink_bodies()},
    "cards": {card["name"]: card["body"] for card in card_bodies()},
}
CORAL_ON_GREEN: dict[str, Any] = {
    "cardstock": {"colour": {"hex": "#7fc79f"}},
    "inks": {"c": {"name": "Coral", "formula": "dye", "swatch": {"colour": {"hex": "#f0704f"}}}},
    "stack": [{"ink": "c", "tool": "foam", "passes": 5}],
}


def test_every_fix_with_a_stack_gives_what_it_says() -> None:
    made = job(fixes=True, stash=STASH)
    found = result(predict_with_fixes(read_one(made))).model_dump()
    assert found["fixes"]
    muds = []
    for fix in found["fixes"]:
        if fix["stack"] is None:
            continue
        again = {"wempa": 1, "stack": fix["stack"], "cardstock": fix["cardstock"], "inks": fix["inks"], "stash": STASH}
        redone = predict(read_one(again))
        assert abs(redone.verdict.mud - fix["mud"]) < 0.06
        assert fix["mud"] <= found["verdict"]["mud"] - 5
        muds.append(fix["mud"])
    assert muds == sorted(muds)
    codes = [fix["code"] for fix in found["fixes"]]
    assert len(set(codes)) == len(codes)
    assert {"stand_in", "narrower_overlap", "bridge"} <= set(codes)


def test_a_barrier_saves_coral_on_green_card_and_names_the_white_one_owns() -> None:
    # With a brown of its own in the stash the dull coral would be a colour one owns.
    few = {"inks": {"w": STASH["inks"]["Steam White"]}, "cards": STASH["cards"]}
    found = predict_with_fixes(read_one(job(**CORAL_ON_GREEN, fixes=True, stash=few))).fixes
    by_code = {str(fix.code): fix for fix in found}
    assert "Steam White" in by_code["barrier"].text
    assert by_code["other_card"].mud == 0
    without = predict_with_fixes(read_one(job(**CORAL_ON_GREEN, fixes=True))).fixes
    assert "White pigment" in {str(fix.code): fix for fix in without}["barrier"].text


def test_what_loses_an_ink_is_no_help(monkeypatch: pytest.MonkeyPatch) -> None:
    """Were one of the inks lost by a change, it would be no cure, however clean the rest."""
    asked = read_one(job(**CORAL_ON_GREEN, fixes=True, stash=STASH))
    assert "barrier" in {fix.code for fix in predict_with_fixes(asked).fixes}
    weigh = fixes._weigh_changes

    def lost(job: Any, candidates: Any, wanted: Any) -> Any:
        as_it_is, *weighed = weigh(job, candidates, wanted)
        return [as_it_is, *(each._replace(loses=True) for each in weighed)]

    monkeypatch.setattr(fixes, "_weigh_changes", lost)
    assert {fix.code for fix in predict_with_fixes(asked).fixes} == {"other_card"}


def test_white_below_is_no_cure_on_white_card_where_it_changes_nothing() -> None:
    inks = {
        "b": {"name": "Blue", "formula": "hybrid", "swatch": {"colour": {"hex": "#1959a5"}}},
        "o": {"name": "Orange", "formula": "hybrid", "swatch": {"colour": {"hex": "#e88029"}}},
    }
    laid = [{"ink": "b", "tool": "foam", "passes": 4}, {"ink": "o", "tool": "foam", "passes": 4}]
    asked = read_one(job(cardstock={"colour": {"hex": "#f8f7f4"}}, inks=inks, stack=laid, fixes=True, stash=STASH))
    found = predict_with_fixes(asked)
    assert found.verdict.kind is VerdictKind.MUDDY
    barrier = with_barrier(asked, "white", fixes._WHITE_PIGMENT)
    assert barrier is not None
    whitened = predict(barrier)
    # The colour stays, and with it the verdict.
    assert float(cm.delta_e(whitened.colour.lab, found.colour.lab)) < 0.5
    assert whitened.verdict.mud == pytest.approx(found.verdict.mud, abs=2)
    assert "barrier" not in {fix.code for fix in found.fixes}
    # It is not even tried: on white card white keeps nothing apart.
    assert list(fixes._barriers(asked)) == []


# On green card a dye greys to a brown at an everyday hand; in a pale hand it is only dulled.
def single(colour: str, passes: float, card: str = "#a8dcc0") -> dict[str, Any]:
    ink = {"name": "Coral", "formula": "dye", "swatch": {"colour": {"hex": colour}}}
    return job(
        cardstock={"colour": {"hex": card}},
        inks={"c": ink},
        stack=[{"ink": "c", "tool": "brush", "passes": passes}],
        fixes=True,
        stash=STASH,
    )


def test_one_dye_that_its_card_spoils_is_warned_of_and_saved() -> None:
    found = predict_with_fixes(read_one(single("#f27560", 6)))
    assert found.verdict.kind is VerdictKind.MUDDY
    assert "card_dulls" in {note.code for note in found.verdict.reasons}
    by_code = {str(fix.code): fix for fix in found.fixes}
    barrier = by_code["barrier"].shown[0]
    assert (barrier.verdict.kind, barrier.verdict.mud) == (VerdictKind.CLEAN, 0)
    white = predict(replace(read_one(single("#f27560", 6, "#f8f7f4")), fixes=False)).colour.lab
    assert float(cm.delta_e(barrier.colour.lab, white)) < 0.5 * float(cm.delta_e(found.colour.lab, white))


def test_what_a_card_only_dulls_is_brightened_by_white_or_another_card() -> None:
    """A purple on yellow card: no mud, most of the colour gone, and nothing but what comes between helps."""
    asked = read_one(single("#7a50b0", 6, "#f5e08a"))
    found = predict_with_fixes(asked)
    assert found.verdict.kind is VerdictKind.MUTED
    assert found.verdict.mud < asked.mud_line
    assert {fix.code for fix in found.fixes} >= {"barrier", "other_card"}
    white = predict(replace(asked, fixes=False, cardstock=replace(asked.cardstock, colour=Colour(hex="#f8f7f4"))))
    off = float(cm.delta_e(found.colour.lab, white.colour.lab))
    for fix in found.fixes:
        if fix.code in ("barrier", "other_card"):
            assert float(cm.delta_e(fix.shown[0].colour.lab, white.colour.lab)) <= 0.8 * off


def test_a_change_that_moves_no_colour_is_no_fix(monkeypatch: pytest.MonkeyPatch) -> None:
    """Were the verdict of a change better by half and its colour the same, it would still be no cure."""
    asked = read_one(job(fixes=True, stash=STASH))
    plain = predict_with_fixes(asked)
    weigh = fixes._weigh_changes

    def flattered(job: Any, candidates: Any, wanted: Any) -> Any:
        as_it_is, *weighed = weigh(job, candidates, wanted)
        return [as_it_is, *(each._replace(lab=as_it_is.lab, mud=0.0, loses=False) for each in weighed)]

    monkeypatch.setattr(fixes, "_weigh_changes", flattered)
    left = {fix.code for fix in predict_with_fixes(asked).fixes if fix.job is not None}
    assert {fix.code for fix in plain.fixes if fix.job is not None} - left
    assert left <= {"other_card"}


def test_nothing_is_offered_where_nothing_is_wrong_or_not_asked() -> None:
    assert predict_with_fixes(read_one(job())).fixes == ()
    clean = job(fixes=True, stash=STASH)
    clean["stack"] = [{"ink": "a", "dose": 1}]
    assert predict_with_fixes(read_one(clean)).fixes == ()


def test_a_wet_mix_is_offered_drying_only_if_it_helps() -> None:
    made = job(fixes=True)
    for ink in made["inks"].values():
        ink["formula"] = "hybrid"
    made["stack"][1]["over"] = "wet"
    found = predict_with_fixes(read_one(made))
    dried = {str(fix.code): fix for fix in found.fixes}.get("let_dry")
    made["stack"][1]["over"] = "dry"
    gain = found.verdict.mud - predict(read_one(made)).verdict.mud
    # Less than 5 of mud, or than a tenth of what there is, is not worth the work.
    assert (dried is not None) == (gain >= max(5, found.verdict.mud / 10))


def test_a_lighter_hand_is_never_a_heavier_one_and_full_jobs_get_no_barrier() -> None:
    blotted = {"ink": "a", "tool": "foam", "load": "blotted", "passes": 0.5}
    read = read_one(job(stack=[blotted, {"ink": "b", "tool": "foam", "passes": 5}]))
    for lighter in fixes._lighter_hands(read):
        for old, new in zip(read.stack, lighter.job.stack, strict=True):
            assert isinstance(old, LayDown)
            assert isinstance(new, LayDown)
            assert new.passes <= old.passes
            assert old.load is not Load.BLOTTED or new.load is Load.BLOTTED
    full = read_one(job(stack=[{"ink": "a", "dose": 0.1}] * 60))
    assert list(fixes._barriers(full)) == []


def test_a_white_of_the_stash_is_not_taken_for_an_ink_of_the_same_key() -> None:
    white = {"name": "Steam White", "formula": "pigment", "swatch": {"colour": {"hex": "#fbfbf9"}}}
    read = read_one(job(**CORAL_ON_GREEN, fixes=True, stash={"inks": {"c": white}}))
    (barrier,) = fixes._barriers(read)
    first = barrier.job.stack[0]
    assert isinstance(first, LayDown)
    assert dict(barrier.job.inks)[first.parts[0][0]].name == "Steam White"
    assert dict(barrier.job.inks)["c"].name == "Coral"


def test_a_fix_that_takes_away_too_small_a_share_of_the_mud_is_left_out() -> None:
    asked = read_one(job(fixes=True))
    before = predict(asked).verdict.mud

    def gains(share: float) -> list[float]:
        found = predict_with_fixes(replace(asked, constants=(("fix.least_share", share),)))
        return [(before - fix.mud) / before for fix in found.fixes if fix.job is not None and fix.mud is not None]

    (only,) = gains(0)
    assert 0.1 < only < 0.2
    assert gains(0.1) == [only]
    assert gains(0.2) == []
