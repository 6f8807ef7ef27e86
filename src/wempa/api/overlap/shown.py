"""Overlaps as the screens take them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wempa.api.models import LookOut
from wempa.craft.colour.naming import chance_words, describe, describe_all, margin_words
from wempa.craft.overlap.amount_field import AmountAxis, AmountField
from wempa.craft.overlap.crossing import Crossing
from wempa.craft.overlap.cut_view import CutLayer
from wempa.craft.overlap.showings import Strip
from wempa.craft.prediction.results import Prediction
from wempa.formats.job_result import coded, patch_results, seen_colour, verdict_result
from wempa.optics import colorimetry as cm

from .models import AmountFieldOut, AxisOut, CrossingOut, CrossingPair, CutOut, DoseStep, StripOut, ZoneOut


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
                either_order=pair.either_order,
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


def axis_out(axis: AmountAxis) -> AxisOut:
    """An axis of a field as the screens take it."""
    return AxisOut(entry=axis.entry, amounts=list(axis.amounts), now=axis.now, by_dose=axis.by_dose)


def field_out(found: AmountField, illuminant: str) -> AmountFieldOut:
    """A field of amounts as the screens take it."""
    rows, columns = found.mud.shape
    flat = found.lab.reshape(-1, 3)
    hexes, words = cm.hexes_from_lab(flat, illuminant), describe_all(flat)
    return AmountFieldOut(
        across=axis_out(found.across),
        up=axis_out(found.up),
        step=None if found.step is None else axis_out(found.step),
        at=found.at,
        hexes=[hexes[row * columns : (row + 1) * columns] for row in range(rows)],
        mud=np.round(found.mud, 1).tolist(),
        words=[words[row * columns : (row + 1) * columns] for row in range(rows)],
        border=[[round(end, 3) for end in piece] for piece in found.border],
        named=[ZoneOut(zone=zone, x=x, y=y) for zone, x, y in found.named],
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
