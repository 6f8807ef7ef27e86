"""Which tool holds which ink for an evening, and what it takes to go from one ink to another with it.

One brush a colour family, sets for dyes, hybrids, pigments and white apart, and inks that meet on a
panel in different hands' reach: the fewer inks a tool has to carry, the less is wiped.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import combinations

import numpy as np

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.colour.circle import painter_hue
from wempa.craft.colour.families import family_of
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown, Note
from wempa.craft.prediction.amounts import offered
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import PreparedInk
from wempa.craft.vocabulary import Cleaning, Do, Family, Load, SharedBrush, Tool, ToolSet
from wempa.craft.ways import first_touch
from wempa.optics.namespace import SCALAR

from .evening import Habits, InkFacts, Need, OwnTool, key_of, listed

# What it costs to give an ink a tool, in wipings: by what the tool is kept for, and for each ink that shares it.
_WRONG_SET, _OTHER_FAMILY, _NEAR_FAMILY, _NO_SET, _NO_FAMILY, _WORN = 24.0, 5.0, 2.0, 1.0, 1.0, 2.0
_SETS_MEET, _MEET_WET, _MEET, _SHARED, _REACTIVE = 60.0, 40.0, 3.0, 0.5, 60.0
# Families whose hues lie this near, in painter's degrees, may share a brush at a pinch.
_NEAR = 75.0
_HUES = (Family.RED, Family.ORANGE, Family.YELLOW, Family.GREEN, Family.BLUE, Family.PURPLE)


def facts_of(job: Job, lays: Sequence[LayDown]) -> dict[str, InkFacts]:
    """What planning needs to know of everything that is laid."""
    keys = list(dict.fromkeys(key for lay in lays for key, _ in lay.parts))
    lookup, inks = prepare_job(job, keys).lookup, dict(job.inks)
    table, found = constants.values(job.constants), dict[str, InkFacts]()
    for lay in lays:
        parts = lay.parts
        most = max(parts, key=lambda part: part[1])[0]
        lab = np.sum([share * lookup[key][1].lab for key, share in parts], axis=0)
        film = sum(share * lookup[key][1].values["film_share"] for key, share in parts)
        formula = inks[most].formula
        white = film > 0 and float(lab[0]) > table["barrier.white"]
        found[key_of(lay)] = InkFacts(
            name=" with ".join([inks[key].name or key for key, _ in parts]),
            set=ToolSet.WHITE if white else formula.row.set,
            lightness=float(lab[0]),
            hue=float(painter_hue(float(lab[1]), float(lab[2]), SCALAR)),
            family=family_of([float(value) for value in lab], table),
            soaks=film == 0,
            reactive_dye=formula.row.reactive and formula.row.soaks,
            lifts=formula.row.reactive,
        )
    return found


def real_lay(
    job: Job, lay: LayDown, owned: Sequence[OwnTool], named: bool, whose: str, place: tuple[str | int, ...]
) -> tuple[LayDown, list[Note]]:
    """A lay-down as it can be done with the tools that are there.

    A stated dose becomes passes. A tool that nobody named is replaced by one that is there, with as
    many passes as give the same amount.

    Raises
    ------
    JobError
        It names a tool that is not there; what would make it possible.
    """
    bench = prepare_job(job, [key for key, _ in lay.parts]).lookup
    prepared = bench[lay.parts[0][0]][1]
    table = constants.values(job.constants)
    ink = dict(job.inks)[lay.parts[0][0]]
    name, notes = ink.name or lay.parts[0][0], list[Note]()
    if lay.dose is not None or lay.tool is None:
        touch = first_touch(lay.parts[0][0], ink.formula, Load.NORMAL, table)
        kind = _there(touch.tool or Tool.BRUSH, owned) or touch.tool or Tool.BRUSH
        amount = sum(share * bench[key][1].offer for key, share in lay.parts) * (lay.dose or 0.0)
        passes = _passes_for(amount, kind, Load.NORMAL, lay.parts[0][0], bench, table)
        text = f"{whose}: {name} is planned as an amount; that is about {passes:g} passes of a {kind.said}."
        return _with(lay, kind, passes), [Note(NoteCode.DOSE_BY_HAND, text)]
    if (lay.tool is not None and not lay.tool.row.held) or not owned or any(tool.kind is lay.tool for tool in owned):
        return lay, notes
    if named:
        raise JobError(
            f"{whose} lays {name} with a {lay.tool.said}, and none is among your tools: add one in Stash, or choose "
            f"another tool for it",
            place,
        )
    other = _there(lay.tool, owned)
    if other is None:
        text = f"None of your tools lays {name} on {whose}: a usual {lay.tool.said} is taken for granted."
        return lay, [Note(NoteCode.TOOL_SUPPOSED, text)]
    amount = offered(lay.tool, lay.load, lay.passes, prepared.habit, table)
    passes = _passes_for(amount, other, lay.load, lay.parts[0][0], bench, table)
    text = f"You have no {lay.tool.said}: {name} goes on {whose} with a {other.said}, about {passes:g} passes."
    return _with(lay, other, passes), [Note(NoteCode.OTHER_TOOL, text)]


def _with(lay: LayDown, kind: Tool, passes: float) -> LayDown:
    return replace(lay, dose=None, tool=kind, passes=passes)


def _there(kind: Tool, owned: Sequence[OwnTool]) -> Tool | None:
    """That kind of tool, or another that is worked in passes as it is, if it is owned; None if there is neither."""
    kinds = [tool.kind for tool in owned]
    if not kind.swept:
        return kind if kind in kinds else None
    return kind if kind in kinds else next((each for each in (Tool.BRUSH, Tool.FOAM) if each in kinds), None)


def _passes_for(
    amount: float,
    kind: Tool,
    load: Load,
    key: str,
    bench: Mapping[str, tuple[int, PreparedInk]],
    table: Mapping[str, float],
) -> float:
    habit = bench[key][1].habit
    # Passes may add up otherwise than one by one: the nearest whole number of them.
    counts = [float(n) for n in range(1, 61)]
    return min(counts, key=lambda n: abs(offered(kind, load, n, habit, table) - amount))


def usual_tools(needs: Sequence[Need], facts: Mapping[str, InkFacts]) -> list[OwnTool]:
    """One usual tool of each kind that is needed for each colour family that needs it."""
    found: list[OwnTool] = []
    for kind, family in dict.fromkeys((need.kind, facts[need.key].family) for need in needs):
        keys = [need.key for need in needs if need.kind is kind and facts[need.key].family is family]
        # Dyes and pigments of one family do not share even a usual one.
        first, *others = dict.fromkeys(facts[key].set for key in keys)
        found.append(OwnTool(f"{kind.said} for {family.said}", kind, family, first if others else None, usual=True))
        found += [
            OwnTool(f"{kind.said} for {family.said}, {each.said}", kind, family, each, usual=True)
            for each in others
            if each
        ]
    return found


def assigned(
    needs: Sequence[Need],
    facts: Mapping[str, InkFacts],
    tools: Sequence[OwnTool],
    meetings: Mapping[tuple[Need, Need], int],
    wet: frozenset[tuple[Need, Need]],
    habits: Habits,
) -> dict[Need, int]:
    """Which tool each need gets for the evening, by place in `tools`.

    `meetings` counts the pieces on which two needs meet, `wet` are those that have to be laid into
    one another while open; pairs in the order of `needs`.

    Every kind that is needed is there. Found by taking each need to where it costs least, the most
    sought after first, until nothing is gained any more.
    """
    fits = {need: [n for n, tool in enumerate(tools) if tool.kind is need.kind] for need in needs}
    order = {need: k for k, need in enumerate(needs)}
    busy = {need: sum(count for pair, count in meetings.items() if need in pair) for need in needs}
    held = dict[Need, int]()

    def cost(need: Need, tool: int) -> float:
        whole = _suits(tools[tool], facts[need.key])
        for other, its in held.items():
            if other == need or its != tool:
                continue
            pair = (need, other) if order[need] < order[other] else (other, need)
            whole += _SHARED + _MEET * meetings.get(pair, 0) + (_MEET_WET if pair in wet else 0.0)
            one, two = facts[need.key], facts[other.key]
            whole += _SETS_MEET if apart(one, two) else 0.0
            if habits.brush is SharedBrush.SEPARATE and one.reactive_dye != two.reactive_dye:
                whole += _REACTIVE
        return whole

    for need in sorted(needs, key=lambda need: (-busy[need], order[need])):
        held[need] = min(fits[need], key=lambda tool: (cost(need, tool), tool))
    for _ in range(20):
        before = dict(held)
        for need in needs:
            best = min(fits[need], key=lambda tool: (cost(need, tool), tool))
            if cost(need, best) < cost(need, held[need]) - 1e-9:
                held[need] = best
        if held == before:
            break
    return held


def _suits(tool: OwnTool, ink: InkFacts) -> float:
    """What it costs to lay an ink with a tool, by what the tool is kept for."""
    whole = _WORN if tool.worn else 0.0
    if tool.kept_for is None:
        whole += _NO_SET
    elif ink.set is not None and tool.kept_for is not ink.set:
        whole += _WRONG_SET
    if tool.family is None:
        whole += _NO_FAMILY
    elif tool.family is not ink.family:
        hued = tool.family in _HUES and ink.family in _HUES
        off = abs((60 * _HUES.index(tool.family) - ink.hue + 180) % 360 - 180) if hued else 360.0
        whole += _NEAR_FAMILY if off <= _NEAR else _OTHER_FAMILY
    return whole


def apart(one: InkFacts, two: InkFacts) -> bool:
    """Whether two inks are not for one tool: what soaks in, and what sits on top."""
    sets = {one.set, two.set}
    return None not in sets and len(sets) == 2 and (ToolSet.DYE in sets or ToolSet.WHITE in sets)


def cleaning_between(
    before: str, then: str, facts: Mapping[str, InkFacts], habits: Habits, table: Mapping[str, float]
) -> Do | None:
    """How a tool that held one ink is cleaned before it takes another; None for not at all."""
    if before == then:
        return None
    one, two = facts[before], facts[then]
    if apart(one, two):
        return Do.WASH
    if habits.cleaning is Cleaning.CARRY_OVER:
        turn = abs((two.hue - one.hue + 180) % 360 - 180)
        if two.lightness <= one.lightness and turn <= table["table.rainbow"]:
            return None
    return Do.WIPE


def kept_state(
    held: Mapping[Need, int], tools: Sequence[OwnTool], facts: Mapping[str, InkFacts]
) -> tuple[dict[int, str], dict[str, InkFacts]]:
    """What tools hold before the evening that are kept for other inks than they get: keys by tool, and their facts."""
    holding, supposed = dict[int, str](), dict[str, InkFacts]()
    for need, place in held.items():
        tool, ink = tools[place], facts[need.key]
        if tool.kept_for is not None and ink.set not in (None, tool.kept_for):
            key = f"kept for {tool.kept_for}"
            holding[place] = key
            supposed[key] = replace(ink, name=f"the {tool.kept_for.said} it is kept for", set=tool.kept_for)
    return holding, supposed


def notes_on(held: Mapping[Need, int], tools: Sequence[OwnTool], facts: Mapping[str, InkFacts]) -> list[Note]:
    """What is to be said of tools that have to serve what they are not kept for."""
    found = []
    for place, tool in enumerate(tools):
        keys = [need.key for need, its in held.items() if its == place]
        wrong = [facts[key].name for key in keys if tool.kept_for and facts[key].set not in (None, tool.kept_for)]
        if wrong:
            text = f"{tool.name} is kept for {_kept(tool)} and has to lay {listed(wrong)}: wash it before and after."
            found.append(Note(NoteCode.WRONG_SET, text))
        if keys and tool.worn:
            found.append(Note(NoteCode.WORN_TOOL, f"{tool.name} is worn and leaves marks: change it before you begin."))
        if keys and tool.fresh:
            text = f"The foam of {tool.name} is new and drinks the first loads: load it twice on scrap paper first."
            found.append(Note(NoteCode.NEW_FOAM, text))
        mixed = [(a, b) for a, b in combinations(keys, 2) if apart(facts[a], facts[b])]
        if mixed and not wrong:
            a, b = mixed[0]
            text = (
                f"{tool.name} has to serve {facts[a].name} and {facts[b].name}: it is washed between them. A tool of "
                f"its own for each would save that."
            )
            found.append(Note(NoteCode.WASHED_BETWEEN, text))
    return found


def _kept(tool: OwnTool) -> str:
    return tool.kept_for.said if tool.kept_for else "all"
