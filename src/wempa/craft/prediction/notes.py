"""What is worth knowing about a stack beside its colour: risks, cautions, how sure it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from wempa.craft.job import Entry, Job, Note
from wempa.craft.vocabulary import Load, Treatment

from .amounts import Ground
from .prepared import PreparedJob
from .results import Seen
from .rows import Resolved, entry_note


def streak_note(stack: Sequence[Entry], ground: Ground, table: Mapping[str, float]) -> Note | None:
    """The risk that strokes or tool marks stay, with its reason."""
    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment) or entry.tool is None or not entry.tool.swept:
            continue
        mark = entry.tool.row.mark
        if entry.load is Load.JUICY:
            return entry_note("marks_stay", index, f"a juicy load may leave {mark}; blot first and begin off the card.")
        if ground.absorbency <= table["marks.sealed"] and entry.passes >= table["marks.many_passes"]:
            return entry_note("marks_stay", index, f"on a sealed surface many passes lift ink, and {mark} may stay.")
        if (
            ground.absorbency >= table["marks.thirsty"]
            and entry.load is Load.NORMAL
            and entry.passes <= table["marks.few_passes"]
        ):
            return entry_note(
                "marks_stay", index, f"thirsty card grips the first touch, so {mark} may stay; use a light load."
            )
    return None


def notes_on(
    job: Job, final: Resolved, bench: PreparedJob, look: Seen, radius: float, table: Mapping[str, float]
) -> tuple[Note, ...]:
    """All notes on one prediction: on card and inks, on the stack, cautions, what the screen cannot show."""
    notes = [*bench.card.notes]
    for ink in bench.inks:
        notes += ink.notes
    notes += final.notes
    marks = streak_note(job.stack, bench.card.ground, table)
    if marks is not None:
        notes.append(marks)
    done = [treatment for treatment in Treatment if treatment in job.stack and treatment.row.caution]
    notes += [Note(f"caution_{treatment}", treatment.row.caution) for treatment in done]
    if not look.in_screen_gamut:
        notes.append(Note("outside_screen", "A screen cannot show this colour; the nearest it can is shown."))
    if radius > table["margin.wide"]:
        notes.append(Note("wide_margin", "The inks are known too roughly for a close prediction: swatch them first."))
    return tuple(notes)
