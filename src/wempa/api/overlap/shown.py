"""Overlaps as the screens take them."""

from __future__ import annotations

from collections.abc import Sequence

from wempa.api.models import LookOut
from wempa.craft.colour.naming import chance_words, describe, margin_words
from wempa.craft.overlap.crossing import Crossing
from wempa.craft.overlap.cut_view import CutLayer
from wempa.craft.overlap.showings import Strip
from wempa.craft.prediction.results import Prediction
from wempa.formats.job_result import coded, patch_results, seen_colour, verdict_result
from wempa.optics import colorimetry as cm

from .models import CrossingOut, CrossingPair, CutOut, DoseStep, StripOut


def look_out(found: Prediction) -> LookOut:
    """A prediction as the screens take it."""
    return LookOut.model_construct(
        words=describe(found.colour.lab.tolist()),
        closeness=margin_words(found.margin),
        margin=round(found.margin, 1),
        chance=chance_words(found.verdict.mud_chance),
        colour=seen_colour(found.colour),
        patches=patch_results(found),
        drops=None if found.drops is None else seen_colour(found.drops),
        verdict=verdict_result(found.verdict),
        notes=coded(found.notes),
    )


def crossing_out(found: Crossing, cut: Sequence[CutLayer] = ()) -> CrossingOut:
    """Crossing swatches as the screens take them."""
    return CrossingOut.model_construct(
        bare=look_out(found.bare),
        alone=[look_out(each) for each in found.alone],
        pairs=[
            CrossingPair.model_construct(
                below=pair.below,
                above=pair.above,
                words=describe(pair.lab.tolist()),
                hex=pair.hex,
                mud=round(pair.mud, 1),
                kind=pair.kind,
                order_matters=round(pair.order_matters, 1),
            )
            for pair in found.pairs
        ],
        full=look_out(found.full),
        wet=look_out(found.wet),
        steps=[step.hex for step in found.full.steps],
        cut=[
            CutOut(
                entry=each.entry,
                soaks=round(each.soaks, 3),
                sits=round(each.sits, 3),
                cover=round(each.cover, 3),
                joined=each.joined,
            )
            for each in cut
        ],
    )


def strip_out(strip: Strip, illuminant: str) -> StripOut:
    """A dose strip as the screens take it."""
    hexes = cm.hexes_from_lab(strip.found.lab, illuminant)
    return StripOut(
        entry=strip.entry,
        steps=[
            DoseStep(factor=round(factor, 3), hex=code, mud=round(mud, 1), kind=strip.found.kind_of(row))
            for row, (factor, code, mud) in enumerate(zip(strip.factors, hexes, strip.found.mud.tolist(), strict=True))
        ],
    )
