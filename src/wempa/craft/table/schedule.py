"""In which order bouts are done: the one that ends soonest, and of those the one that wipes least.

A single pair of hands, drying that needs none, tools that are cleaned when their ink changes: a
one-machine schedule with minimum lags and set-up times that depend on the order (for instance Pinedo,
*Scheduling*, chapter 4), solved by OR-tools' CP-SAT. The solver only chooses the order; times follow
from `timeline.laid_out`, so that whatever it says, no rule is broken.
"""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from wempa.craft.vocabulary import Do

from .evening import Bout, Evening
from .timeline import FROM_NOTHING, Begun, Timed, Uses, at_mat_of, begun_dryings, laid_out, total_of, uses_of
from .tools_owned import cleaning_between

# A share of the time goes to the end of the evening, the rest to wiping less.
_FOR_TOTAL = 0.75
# More bouts than so many are too many to look at every pair of.
_MOST_PAIRS = 120
_LONGEST = 60 * 24 * 16 * 14


@dataclass(frozen=True, slots=True)
class Scheduled:
    """An order, its times, and how far it may be from the best."""

    order: tuple[int, ...]
    timed: tuple[Timed, ...]
    total: int
    at_mat: int
    bound: int
    """Ticks before which the evening cannot end with these tools."""

    @property
    def gap(self) -> float:
        """Share of the total by which it may be longer than the best, 0–1."""
        return max(0.0, (self.total - self.bound) / self.total) if self.total else 0.0


def naive_order(bouts: Mapping[int, Bout]) -> list[int]:
    """Piece after piece, each to its end."""
    return sorted(bouts, key=lambda b: (bouts[b].piece, b))


def scheduled(evening: Evening, bouts: Mapping[int, Bout], seconds: float, begun: Begun = FROM_NOTHING) -> Scheduled:
    """The best order found within so many seconds; never later than piece after piece."""
    if not bouts:
        return Scheduled((), (), begun.now, 0, begun.now)
    best = _better(evening, bouts, [_first_of(naive_order(bouts), begun), *_by_rule(evening, bouts, begun)], begun)
    bound = _plain_bound(bouts, begun)
    if len(bouts) > 1 and len(bouts) <= _MOST_PAIRS and seconds > 0:
        best, bound = _solved(evening, bouts, best, bound, seconds, begun)
    timed = laid_out(evening, bouts, best, begun)
    total = total_of(bouts, timed)
    return Scheduled(tuple(best), tuple(timed), total, at_mat_of(timed), min(bound, total))


def _first_of(order: list[int], begun: Begun) -> list[int]:
    """The same with the bout that was begun first."""
    if begun.first is None or begun.first not in order:
        return order
    return [begun.first, *[b for b in order if b != begun.first]]


def _better(evening: Evening, bouts: Mapping[int, Bout], orders: Sequence[list[int]], begun: Begun) -> list[int]:
    def worth(order: list[int]) -> tuple[int, int]:
        timed = laid_out(evening, bouts, order, begun)
        return total_of(bouts, timed), at_mat_of(timed)

    return min(orders, key=worth)


def _tails(bouts: Mapping[int, Bout]) -> dict[int, int]:
    """Ticks from the beginning of each bout to the end of its piece, drying included, were hands always free."""
    tails: dict[int, int] = {}
    for b in sorted(bouts, reverse=True):
        bout = bouts[b]
        whole = bout.span(0, len(bout.acts))
        ends = [whole]
        for d, drying in begun_dryings(bout):
            dry = bout.span(0, drying.act + 1) + drying.ticks
            ends.append(dry)
            ends += [
                dry - other.span(0, other.prelude) + tails[o] for o, other in bouts.items() if (b, d) in other.waits
            ]
        ends += [whole + tails[o] for o, other in bouts.items() if b in other.after]
        tails[b] = max(ends)
    return tails


def _by_rule(evening: Evening, bouts: Mapping[int, Bout], begun: Begun) -> list[list[int]]:
    """Orders by simple rules: of what may be done at once, what has the longest way to go; or what wipes least."""
    tails = _tails(bouts)
    found = []
    for wiping in (0, 1):
        order, left = list[int](), set(bouts)
        while left:
            ready = [b for b in left if not any(other in left for other in bouts[b].after)]
            if begun.first in ready:
                chosen = begun.first
                assert chosen is not None
            else:

                def rank(b: int, so_far: list[int] = order, wiping: int = wiping) -> tuple[float, ...]:
                    timed = laid_out(evening, bouts, [*so_far, b], begun)[-1]
                    return (timed.main, timed.added * wiping, -tails[b], b)

                chosen = min(ready, key=rank)
            order.append(chosen)
            left.remove(chosen)
        found.append(order)
    return found


def _plain_bound(bouts: Mapping[int, Bout], begun: Begun) -> int:
    """Ticks before which nothing can be ready: all the work of one pair of hands, and the longest way of any piece."""
    work = sum(bout.span(0, len(bout.acts)) for bout in bouts.values())
    return begun.now + max(work, *_tails(bouts).values())


def _solved(
    evening: Evening, bouts: Mapping[int, Bout], best: list[int], bound: int, seconds: float, begun: Begun
) -> tuple[list[int], int]:
    # The solver takes a second to import.
    from ortools.sat.python import cp_model

    timed = laid_out(evening, bouts, best, begun)
    model: Any = cp_model.CpModel()
    horizon = min(_LONGEST, max(total_of(bouts, timed), 1))
    starts = {b: model.new_int_var(begun.now, horizon, f"start {b}") for b in bouts}
    uses = {b: uses_of(bout, evening.held) for b, bout in bouts.items()}
    cleaning: dict[int, list[tuple[Any, int]]] = {b: [] for b in bouts}
    follows, darkened = _circuits(model, evening, bouts, uses, cleaning, begun, timed)
    most = _most_cleaning(evening)
    spent, intervals, whole_of = dict[int, Any](), [], dict[int, Any]()
    for b, bout in bouts.items():
        spent[b] = model.new_int_var(0, most, f"cleaning {b}")
        model.add(spent[b] == sum(literal * cost for literal, cost in cleaning[b]))
        work = bout.span(0, len(bout.acts))
        whole_of[b] = model.new_int_var(work, work + most, f"long {b}")
        model.add(whole_of[b] == work + spent[b])
        end = model.new_int_var(begun.now, horizon + work, f"end {b}")
        intervals.append(model.new_interval_var(starts[b], whole_of[b], end, f"bout {b}"))
    model.add_no_overlap(intervals)
    end = model.new_int_var(begun.now, horizon, "evening")
    for b, bout in bouts.items():
        model.add(end >= starts[b] + whole_of[b])
        for _, drying in begun_dryings(bout):
            model.add(end >= starts[b] + spent[b] + bout.span(0, drying.act + 1) + drying.ticks)
        for other in bout.after:
            if other in bouts:
                model.add(starts[b] >= starts[other] + whole_of[other])
            else:
                model.add(starts[b] >= begun.ended.get(other, 0))
        prelude = bout.span(0, bout.prelude)
        for other, d in bout.waits:
            if other in bouts and bouts[other].dryings[d].act >= 0:
                one = bouts[other]
                drying = one.dryings[d]
                dry = starts[other] + spent[other] + one.span(0, drying.act + 1) + drying.ticks
                model.add(starts[b] + spent[b] + prelude >= dry)
            else:
                model.add(starts[b] + spent[b] + prelude >= begun.dry.get((other, d), 0))
    for one_b, two, literal in follows:
        model.add(starts[two] >= starts[one_b] + whole_of[one_b]).only_enforce_if(literal)
    if begun.first is not None and begun.first in bouts:
        for b in bouts:
            if b != begun.first:
                model.add(starts[b] >= starts[begun.first] + whole_of[begun.first])
    for each in timed:
        model.add_hint(starts[each.bout], each.start)
    model.add(end >= bound)
    model.minimize(end)
    solver = _solver(cp_model, seconds * _FOR_TOTAL)
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return best, bound
    bound = max(bound, round(solver.best_objective_bound))
    order = sorted(bouts, key=lambda b: (solver.value(starts[b]), b))
    best = _better(evening, bouts, [best, order], begun)
    # Of what ends as soon, what cleans least.
    reached = total_of(bouts, laid_out(evening, bouts, best, begun))
    if any(cleaning.values()):
        model.add(end <= reached)
        model.clear_hints()
        for each in laid_out(evening, bouts, best, begun):
            model.add_hint(starts[each.bout], each.start)
        # And of that, light before dark on every tool as far as may be.
        model.minimize(sum(spent.values()) * (len(darkened) + 1) + sum(darkened))
        solver = _solver(cp_model, seconds * (1 - _FOR_TOTAL))
        if solver.solve(model) in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            order = sorted(bouts, key=lambda b: (solver.value(starts[b]), b))
            best = _better(evening, bouts, [best, order], begun)
    return best, bound


def _solver(cp_model: Any, seconds: float) -> Any:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(0.05, seconds)
    solver.parameters.num_workers = max(4, min(8, os.cpu_count() or 4))
    solver.parameters.random_seed = 1
    return solver


def _most_cleaning(evening: Evening) -> int:
    table, habits = evening.table, evening.habits
    longest = max(habits.takes(Do.WIPE, table["table.wipe"]), habits.takes(Do.WASH, table["table.wash"]))
    return longest * max(1, len(evening.tools))


def _circuits(
    model: Any,
    evening: Evening,
    bouts: Mapping[int, Bout],
    uses: Mapping[int, Uses],
    cleaning: dict[int, list[tuple[Any, int]]],
    begun: Begun,
    timed: Sequence[Timed],
) -> tuple[list[tuple[int, int, Any]], list[Any]]:
    """For each tool the way from bout to bout that take it up; what cleaning each stretch costs goes to `cleaning`.

    Returns the stretches (from, to, and whether it is gone), and whether each one from dark to light is.
    """
    table, habits = evening.table, evening.habits
    hinted = [each.bout for each in timed]
    found, darkened = list[tuple[int, int, Any]](), list[Any]()
    for tool in range(len(evening.tools)):
        using = [b for b in hinted if tool in uses[b].first]
        starts = begun.holding.get(tool)

        def cost(was: str | None, then: int, tool: int = tool) -> int:
            do = None
            if was is not None:
                do = cleaning_between(was, uses[then].first[tool].key, evening.facts, habits, table)
            return 0 if do is None else habits.takes(do, table["table.wash" if do is Do.WASH else "table.wipe"])

        pairs = {(a, b): cost(uses[a].last[tool], b) for a in using for b in using if a != b}
        firsts = {b: cost(starts, b) for b in using}
        if not any(pairs.values()) and not any(firsts.values()):
            continue
        arcs = []
        node = {b: n + 1 for n, b in enumerate(using)}
        for place, b in enumerate(using):
            literal = model.new_bool_var("")
            arcs.append((0, node[b], literal))
            model.add_hint(literal, place == 0)
            if firsts[b]:
                cleaning[b].append((literal, firsts[b]))
            last = model.new_bool_var("")
            arcs.append((node[b], 0, last))
            model.add_hint(last, place == len(using) - 1)
        for (a, b), price in pairs.items():
            if a in bouts[b].after or b not in bouts[a].after:
                literal = model.new_bool_var("")
                arcs.append((node[a], node[b], literal))
                model.add_hint(literal, using.index(b) == using.index(a) + 1)
                found.append((a, b, literal))
                if evening.facts[uses[a].last[tool]].lightness < evening.facts[uses[b].first[tool].key].lightness:
                    darkened.append(literal)
                if price:
                    cleaning[b].append((literal, price))
        model.add_circuit(arcs)
    return found, darkened
