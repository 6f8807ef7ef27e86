"""Changes of a stack as one makes them at the table: lay, treat, take out, move, mix, unmix, swap.

Entries are as their owner said them, what was left open still open, so that an ink's pad or its formula may
say the rest. What lies on the card already (`laid`, entries from the bottom) counts up to the first entry
that a change makes another.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wempa.craft.errors import JobError
from wempa.craft.job import SaidEntry
from wempa.craft.vocabulary import Over, Treatment


@dataclass(frozen=True, slots=True)
class EditedStack:
    """A stack after a change."""

    stack: tuple[SaidEntry, ...]
    picked: int
    """The entry that is picked next; the stack's length means a new one."""


def still_laid(before: Sequence[SaidEntry], after: Sequence[SaidEntry], laid: int) -> int:
    """How many entries of the changed stack are on the card: those below the first changed one."""
    same = 0
    for old, new in zip(before, after, strict=False):
        if old.what != new.what:
            break
        same += 1
    return min(laid, same)


def newly_laid(before: Sequence[SaidEntry], after: Sequence[SaidEntry]) -> int | None:
    """Where a proposal put one lay-down more, all others staying in their order: a barrier, for one; else None."""
    if len(after) != len(before) + 1:
        return None
    at = next((k for k, (old, new) in enumerate(zip(before, after, strict=False)) if old.what != new.what), len(before))
    rest = zip(before[at:], after[at + 1 :], strict=True)
    return at if all(old.what == new.what for old, new in rest) else None


def lay(stack: Sequence[SaidEntry], at: int, entry: SaidEntry, on_top: bool) -> EditedStack:
    """Lay an ink in place of entry `at`, joining as that did, or on top; on top the next one is picked then."""
    if on_top or at >= len(stack):
        return EditedStack((*stack, entry), len(stack) + 1)
    _there(stack, at)
    return EditedStack(_changed(stack, at, replace(entry, over=stack[at].over or Over.DRY)), at)


def dosed_or_by_tool(entry: SaidEntry, usual: SaidEntry) -> SaidEntry:
    """An entry of which a dose was just stated, or taken back, made whole.

    A dose stands instead of a tool. Where it is taken back and no tool is said, the ink goes on as is `usual`.
    """
    if entry.dose is not None:
        return replace(entry, tool=None, load=None, passes=None)
    if entry.tool is None:
        passes = usual.passes if entry.passes is None else entry.passes
        return replace(entry, tool=usual.tool, load=entry.load or usual.load, passes=passes)
    return entry


def change(stack: Sequence[SaidEntry], at: int, entry: SaidEntry) -> EditedStack:
    """Put another entry in the place of one."""
    _there(stack, at)
    return EditedStack(_changed(stack, at, entry), at)


def set_amounts(stack: Sequence[SaidEntry], amounts: Mapping[int, float], picked: int) -> EditedStack:
    """Set the amounts of some entries: passes, or the dose of entries that state one. Entries at 0 are left
    out.

    Raises
    ------
    JobError
        There is no such layer of ink, or less than nothing of it.
    """
    changed: list[SaidEntry] = []
    for at, amount in amounts.items():
        _there(stack, at)
        if not stack[at].parts or amount < 0:
            raise JobError("an amount is of a layer of ink, and 0 or more", ("amounts",))
    for at, entry in enumerate(stack):
        if at not in amounts:
            changed.append(entry)
        elif amounts[at] > 0:
            by_dose = entry.dose is not None
            changed.append(replace(entry, dose=amounts[at]) if by_dose else replace(entry, passes=amounts[at]))
    if changed and changed[0].over is Over.WET:
        changed[0] = replace(changed[0], over=Over.DRY)
    return EditedStack(tuple(changed), min(picked, len(changed)))


def treat(stack: Sequence[SaidEntry], at: int, treatment: Treatment) -> EditedStack:
    """A treatment above entry `at`."""
    place = min(at + 1, len(stack))
    return EditedStack((*stack[:place], SaidEntry(treatment=treatment), *stack[place:]), place)


def take_out(stack: Sequence[SaidEntry], at: int) -> EditedStack:
    """The stack without an entry."""
    _there(stack, at)
    left = (*stack[:at], *stack[at + 1 :])
    return EditedStack(left, min(at, len(left)))


def move(stack: Sequence[SaidEntry], at: int, to: int) -> EditedStack:
    """An entry in another place; the lowest lay-down has nothing wet below it."""
    _there(stack, at)
    if not 0 <= to < len(stack):
        raise JobError(f"there is no place {to + 1} in this stack", ("to",))
    left = [*stack[:at], *stack[at + 1 :]]
    left.insert(to, stack[at])
    if left[0].over is Over.WET:
        left[0] = replace(left[0], over=Over.DRY)
    return EditedStack(tuple(left), to)


def mix(stack: Sequence[SaidEntry], at: int) -> EditedStack:
    """A lay-down and the one below it as one premix, half and half, laid as the lower one was.

    Raises
    ------
    JobError
        One of the two is no lay-down.
    """
    _there(stack, at)
    if at < 1 or not stack[at].parts or not stack[at - 1].parts:
        raise JobError("only two layers of ink, one right over the other, can be mixed", ("at",))
    parts = tuple(
        [
            (ink, share / (sum(own for _, own in entry.parts) or 1.0))
            for entry in (stack[at - 1], stack[at])
            for ink, share in entry.parts
        ]
    )
    mixed = replace(stack[at - 1], parts=parts, premix=True)
    return EditedStack((*stack[: at - 1], mixed, *stack[at + 1 :]), at - 1)


def unmix(stack: Sequence[SaidEntry], at: int) -> EditedStack:
    """A premix as lay-downs of its inks, each into the wet of the one before.

    Raises
    ------
    JobError
        It is no premix.
    """
    _there(stack, at)
    if not stack[at].premix:
        raise JobError("this is no mix of inks", ("at",))
    single = [
        replace(stack[at], parts=((ink, 1.0),), premix=False, over=Over.WET if n else stack[at].over)
        for n, (ink, _) in enumerate(stack[at].parts)
    ]
    return EditedStack((*stack[:at], *single, *stack[at + 1 :]), at)


def swap(stack: Sequence[SaidEntry], picked: int) -> EditedStack:
    """The two uppermost lay-downs in each other's place, each joining as the one there did.

    Raises
    ------
    JobError
        There are not two.
    """
    places = [n for n, entry in enumerate(stack) if entry.treatment is None]
    if len(places) < 2:
        raise JobError("two layers of ink are needed to swap them")
    low, high = places[-2:]
    swapped = list(stack)
    swapped[low] = replace(stack[high], over=stack[low].over or Over.DRY)
    swapped[high] = replace(stack[low], over=stack[high].over or Over.DRY)
    return EditedStack(tuple(swapped), picked)


def _changed(stack: Sequence[SaidEntry], at: int, entry: SaidEntry) -> tuple[SaidEntry, ...]:
    return (*stack[:at], entry, *stack[at + 1 :])


def _there(stack: Sequence[SaidEntry], at: int) -> None:
    if not 0 <= at < len(stack):
        raise JobError(f"there is no entry {at + 1} in this stack", ("at",))
