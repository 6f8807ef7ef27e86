"""What is worth knowing about a stack beside its colour: risks, cautions, how sure it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from wempa.craft.codes import Caution, NoteCode
from wempa.craft.job import Entry, Job, Note
from wempa.craft.vocabulary import Load, Over, Tool, Treatment

from .amounts import Ground, stays_open
from .prepared import PreparedJob
from .results import PredictedColour
from .rows import Resolved, StackNote


def streak_note(stack: Sequence[Entry], ground: Ground, table: Mapping[str, float]) -> StackNote | None:
    """The risk that strokes or tool marks stay, with its reason."""
    for index, entry in enumerate(stack):
        if isinstance(entry, Treatment) or entry.tool is None or not entry.tool.swept:
            continue
        mark = entry.tool.row.mark
        if entry.load is Load.JUICY:
            return StackNote(
                NoteCode.MARKS_STAY, index, f"a juicy load may leave {mark}: blot it first and begin off the card."
            )
        if ground.absorbency <= table["marks.sealed"] and entry.passes >= table["marks.many_passes"]:
            return StackNote(
                NoteCode.MARKS_STAY, index, f"this card is sealed: many passes lift ink again, and {mark} may stay."
            )
        if (
            ground.absorbency >= table["marks.thirsty"]
            and entry.load is Load.NORMAL
            and entry.passes <= table["marks.few_passes"]
        ):
            return StackNote(NoteCode.MARKS_STAY, index, f"this card grabs ink: tap off first, or {mark} may stay.")
    return None


def notes_on(
    job: Job,
    final: Resolved,
    bench: PreparedJob,
    look: PredictedColour,
    radius: float,
    hands: Mapping[int, float],
    table: Mapping[str, float],
) -> tuple[Note, ...]:
    """All notes on one prediction: on card and inks, on the stack, cautions, what the screen cannot show."""
    notes = [*bench.card.notes]
    for ink in bench.inks:
        notes += ink.notes
    marks = streak_note(job.stack, bench.card.ground, table)
    told = [*final.notes, *([] if marks is None else [marks]), *_dried_by_then(job, final, bench, table)]
    notes += [_named(job, note) for note in told]
    done = {entry for entry in job.stack if isinstance(entry, Treatment)}
    if done:
        notes += [
            Note(Caution(f"caution_{each}"), each.row.caution)
            for each in Treatment
            if each in done and each.row.caution
        ]
    if not look.in_screen_gamut:
        notes.append(
            Note(NoteCode.OUTSIDE_SCREEN, "It is more brilliant than a screen can show; the nearest it can is shown.")
        )
    if radius > table["margin.wide"]:
        by_hand = max(hands.values(), default=0.0) > max([ink.dose_doubt for ink in bench.inks], default=0.0)
        text = (
            "Here a pass more or less makes another colour: try it on scrap of the same card first."
            if by_hand
            else "The inks are known too roughly for a close prediction: swatch them first."
        )
        notes.append(Note(NoteCode.WIDE_MARGIN, text))
    return tuple(notes)


def _dried_by_then(job: Job, final: Resolved, bench: PreparedJob, table: Mapping[str, float]) -> list[StackNote]:
    """A note on each lay-down into the wet of an ink that is dry before it has been over the card once."""
    found: list[StackNote] = []
    opens = {row: ink.values["open_time"] for row, ink in bench.lookup.values()}
    for at, entry in enumerate(job.stack):
        if isinstance(entry, Treatment) or entry.over is not Over.WET:
            continue
        groups = [one.group for one in final.laid if one.entry == at]
        below = [one for one in final.laid if one.entry < at and one.group in groups]
        if not below:
            continue
        soonest = min(below, key=lambda one: opens[one.ink])
        seconds = opens[soonest.ink]
        if not stays_open(seconds, entry.tool or Tool.BRUSH, table):
            inks = dict(job.inks)
            first = job.stack[soonest.entry]
            assert not isinstance(first, Treatment)
            name = " and ".join([inks[key].name or key for key, _ in first.parts])
            text = f"{name} is dry after about {seconds:.0f} seconds: do a small spot at a time, or let it dry first."
            found.append(StackNote(NoteCode.DRIES_TOO_SOON, at, text))
    return found


def _named(job: Job, note: StackNote) -> Note:
    """A note on an entry with the name of its inks; where they are laid more than once with its place as well."""
    entry, inks = job.stack[note.entry], dict(job.inks)
    if isinstance(entry, Treatment):
        return Note(note.code, f"{entry.said.capitalize()}: {note.text}")
    own = [key for key, _ in entry.parts]
    name = " and ".join([inks[key].name or key for key in own])
    laid = [other for other in job.stack if not isinstance(other, Treatment)]
    again = sum([key in dict(other.parts) for other in laid for key in own]) > len(own)
    where = f"{name}, layer {laid.index(entry) + 1}" if again else name
    return Note(note.code, f"{where}: {note.text}")
