"""The core's job back into the contract's JSON, leaving out what is default."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from wempa.craft import job as core
from wempa.craft.vocabulary import Over
from wempa.optics.grid import START_NM, STEP_NM

_WHITE = core.WHITE


def _lean(pairs: dict[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in pairs.items() if value is not None and value != {}}


def colour_json(colour: core.Colour) -> dict[str, Any]:
    """A colour as one of hex, lab or spectrum."""
    if colour.hex is not None:
        return {"hex": colour.hex}
    if colour.lab is not None:
        return {"lab": list(colour.lab), "illuminant": str(colour.lab_illuminant)}
    return {"spectrum": {"start": START_NM, "step": STEP_NM, "values": list(colour.spectrum or ())}}


def card_json(card: core.Card) -> dict[str, Any]:
    """A cardstock object."""
    return _lean(
        {
            "colour": colour_json(card.colour),
            "surface": str(card.surface),
            "texture": card.texture,
            "absorbency": card.absorbency,
            "floor": card.floor,
            "takeup": card.takeup,
            "known": str(card.known),
            "constants": dict(card.constants),
        }
    )


def ink_json(ink: core.Ink) -> dict[str, Any]:
    """An ink object."""
    swatch = ink.swatch
    made = swatch.made_with
    # An emission without numbers still says that the ink glows.
    glow = {} if ink.emission is None else {"emission": _lean(asdict(ink.emission))}
    on: Any = "job" if swatch.card is None else "white" if swatch.card == _WHITE else card_json(swatch.card)
    return (
        _lean(
            {
                "name": ink.name or None,
                "formula": str(ink.formula),
                "swatch": _lean(
                    {
                        "colour": colour_json(swatch.colour),
                        "card": on,
                        "on_dark": None
                        if swatch.on_dark is None
                        else {"colour": colour_json(swatch.on_dark.colour), "card": card_json(swatch.on_dark.card)},
                        "made_with": None
                        if made is None
                        else {"tool": str(made.tool), "load": str(made.load), "passes": made.passes},
                        "known": str(swatch.known),
                        "spread": swatch.spread,
                    }
                ),
                "hiding": ink.hiding,
                "soak_share": ink.soak_share,
                "strength": ink.strength,
                "pad": None if ink.pad is None else str(ink.pad),
                "constants": dict(ink.constants),
            }
        )
        | glow
    )


def entry_json(entry: core.Entry) -> dict[str, Any]:
    """A lay-down or a treatment."""
    if not isinstance(entry, core.LayDown):
        return {"treatment": str(entry)}
    tooled = entry.dose is None
    return _lean(
        {
            "ink": None if entry.premix else entry.parts[0][0],
            "mix": [{"ink": key, "share": share} for key, share in entry.parts] if entry.premix else None,
            "dose": entry.dose,
            "tool": str(entry.tool) if entry.tool is not None else None,
            # Always: without it the ink's pad would have its say.
            "load": str(entry.load) if tooled else None,
            "passes": entry.passes if tooled else None,
            "dilution": entry.dilution or None,
            "over": str(entry.over) if entry.over is not Over.DRY else None,
        }
    )


def stack_json(job: core.Job) -> list[dict[str, Any]]:
    """The stack of a job."""
    return [entry_json(entry) for entry in job.stack]


def job_json(job: core.Job) -> dict[str, Any]:
    """A whole job without its stash, as `wempa predict` takes it."""
    return {
        "wempa": 1,
        "illuminant": str(job.illuminant),
        "mud_line": job.mud_line,
        "cardstock": card_json(job.cardstock),
        "inks": {key: ink_json(ink) for key, ink in job.inks},
        "stack": stack_json(job),
        **({"constants": dict(job.constants)} if job.constants else {}),
    }
