"""A panel as bouts of work: neighbours that blend at once, layers when what lies below is dry."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil, cos, radians, sin

import numpy as np

from wempa.craft.codes import NoteCode
from wempa.craft.job import LayDown, Note
from wempa.craft.lengths import inches, size_in_both
from wempa.craft.panels.bands import Joint, neighbours
from wempa.craft.panels.front import spots
from wempa.craft.panels.shapes import mask
from wempa.craft.panels.work import areas_of, passes_needed
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.vocabulary import (
    BandLine,
    BandShape,
    Cleaning,
    Do,
    HandSide,
    Motif,
    Together,
    Topping,
    Treatment,
)

from .acts import TOOL, Hands
from .evening import Act, Bout, Drying, Habits, InkFacts, Need, OwnTool, PanelPiece, key_of, listed, minutes, span
from .tools_owned import real_lay

# Where the hand comes from, right and down; of a left hand the other way round.
_HAND = (0.6, 0.8)
# So near to wet ink the hand does not cross it, mm.
_BESIDE = 2.0
_TURNS = {0: "", 90: "a quarter to the right", 180: "half round", 270: "a quarter to the left"}
_EDGES = {0: "left", 90: "top", 180: "right", 270: "bottom"}
# Spots per mm at which the share of a region is counted.
_FINE = 1.0
# Parts of an inch that are seen on a ruler at arm's length.
_SEEN_PARTS = 8


@dataclass(frozen=True, slots=True)
class PanelLays:
    """The lay-downs of a panel as its owner's tools can do them."""

    ground: tuple[LayDown, ...]
    bands: tuple[LayDown, ...]
    tops: tuple[LayDown | None, ...]
    wet: tuple[tuple[int, int], ...]
    """Neighbouring bands that meet wet and of which one at least closes, by place."""
    notes: tuple[Note, ...]

    def every(self) -> list[LayDown]:
        """All of them, in no order of laying."""
        return [*self.ground, *self.bands, *[lay for lay in self.tops if lay is not None]]

    def open_together(self) -> list[tuple[LayDown, ...]]:
        """Neighbours that are worked to and fro while one of them is open."""
        return [(self.bands[one], self.bands[two]) for one, two in self.wet]


def panel_lays(piece: PanelPiece, owned: Sequence[OwnTool], place: tuple[str | int, ...]) -> PanelLays:
    """What is laid with which kind of tool; raises `JobError` where a tool is named that is not there."""
    job, panel, notes = piece.job, piece.panel, list[Note]()
    # A roller is the layout's, whatever a band says.
    rolled = panel.layout.rolled

    def real(lay: LayDown, named: bool, where: tuple[str | int, ...]) -> LayDown:
        made, said = real_lay(job, lay, owned, named, piece.name, (*place, *where))
        notes.extend(said)
        return made

    ground = tuple([real(entry, False, ()) for entry in job.stack if isinstance(entry, LayDown)])
    bands = tuple(
        [
            real(panel.laid(k), ("bands", k) in piece.named and not rolled, ("bands", k, "tool"))
            for k in range(len(panel.bands))
        ]
    )
    tops = tuple(
        [
            None if top.lay is None else real(top.lay, ("tops", n) in piece.named, ("tops", n, "tool"))
            for n, top in enumerate(panel.tops)
        ]
    )
    keys = [key for lay in bands for key, _ in lay.parts]
    lookup = prepare_job(job, list(dict.fromkeys(keys))).lookup
    placed = piece.study.placed
    wet = tuple(
        [
            pair
            for pair, joint in zip(neighbours(placed), placed.seams, strict=True)
            if joint.wet
            and joint.overlap
            and any(lookup[key][1].values["film_share"] > 0 for k in pair for key, _ in bands[k].parts)
        ]
    )
    return PanelLays(ground, bands, tops, wet, tuple(notes))


def panel_bouts(
    piece: PanelPiece,
    lays: PanelLays,
    facts: Mapping[str, InkFacts],
    habits: Habits,
    table: Mapping[str, float],
    held: Mapping[Need, int],
) -> tuple[list[Bout], list[Note]]:
    """The bouts of one panel, numbered among themselves, and what may go wrong; `held` gives each need its tool."""
    made = _Panel(piece, lays, facts, habits, table, held)
    made.build()
    return made.bouts, made.notes


class _Panel:
    """A panel while its bouts are made."""

    def __init__(
        self,
        piece: PanelPiece,
        lays: PanelLays,
        facts: Mapping[str, InkFacts],
        habits: Habits,
        table: Mapping[str, float],
        held: Mapping[Need, int],
    ) -> None:
        self.piece, self.lays, self.facts, self.habits, self.table = piece, lays, facts, habits, table
        self.hands = Hands(piece.job, lays.every(), facts, habits, table, piece.pads, held)
        self.panel, self.placed = piece.study.panel, piece.study.placed
        self.areas, self.seam_areas = areas_of(piece.job, self.panel, self.placed)
        self.meets = list(zip(self.placed.seams, neighbours(self.placed), self.seam_areas, strict=True))
        self.whole = self.panel.front.width * self.panel.front.height / 100
        self.held = held
        self.bouts: list[Bout] = []
        self.notes: list[Note] = []
        self.laid = 0
        self.laid_at: dict[int, int] = {}
        """By which act of its bout each band was laid."""
        self.turned = 0
        """By how many degrees the card lies turned to the right."""

    # What makes a bout.

    def add(
        self,
        acts: list[Act],
        laid: Sequence[tuple[int, LayDown]],
        *,
        prelude: int = 0,
        waits: Sequence[tuple[int, int]] = (),
        more: Sequence[Drying] = (),
        why: str = "",
    ) -> int:
        """Add a bout after the one before; what it lays dries, in the air or by heat. Returns its number."""
        dryings = [*self.hands.drying(self.piece.name, acts, laid), *more]
        if self.hands.heats and laid:
            acts = [*acts, self.hands.heated(self.whole)]
            dryings = [self.hands.cooling(len(acts) - 1)]
        number = len(self.bouts)
        before = (number - 1,) if number else ()
        self.bouts.append(Bout(0, tuple(acts), prelude, tuple(dryings), before, tuple(waits), why))
        return number

    def name(self, k: int) -> str:
        """What band k is called."""
        return self.hands.name(self.lays.bands[k])

    def build(self) -> None:
        """All bouts, from the card to the log."""
        first = self.first_acts()
        every = self.lays.every()
        waits: list[tuple[int, int]] = []
        why = ""
        if self.lays.ground:
            acts, laid = first, list[tuple[int, LayDown]]()
            for lay in self.lays.ground:
                acts += self.hands.loading(lay, acts, self.hands.loads_for(lay, self.whole, lay.passes))
                how = self.hands.how(lay, lay.passes)
                took = self.hands.minutes_laying(lay, self.whole, lay.passes)
                text = f"Lay {self.hands.name(lay)} thinly all over: {how}."
                laid.append((len(acts), lay))
                acts.append(self.lay_act(text, took, lay))
            number = self.add(acts, laid)
            waits = [(number, 0)]
            why = f"{listed([self.hands.name(lay) for lay in self.lays.ground])} below has to be dry first."
            first = []
        if self.panel.layout.rolled:
            self.roll(first, waits, why)
        else:
            self.in_runs(first, waits, why)
        self.on_top()
        last = self.bouts[-1]
        end = [self.hands.labelled(f"Label the back of {self.piece.name}: card, inks in their order, today’s date.")]
        end.append(self.hands.closed(every))
        self.bouts[-1] = replace(last, acts=(*last.acts, *end))
        log = [self.hands.logged(self.piece.name, every)]
        number = len(self.bouts)
        dry = [(n, d) for n, bout in enumerate(self.bouts) for d in range(len(bout.dryings))]
        self.bouts.append(
            Bout(0, tuple(log), 0, (), (number - 1,), tuple(dry), "It looks blotchy and deeper while wet.")
        )

    def first_acts(self) -> list[Act]:
        """Making ready, and a small piece first where the set has not been tried."""
        acts = self.hands.ready(self.piece.card, self.size(), self.lays.every(), bool(self.panel.tops))
        if not self.piece.tried and len({key_of(lay) for lay in self.lays.bands}) > 1:
            count = len({key_of(lay) for lay in self.lays.bands})
            acts.append(
                Act(
                    Do.TRY_SMALL,
                    f"You have not tried these {count} inks together: blend them on a scrap of the same card first.",
                    self.habits.takes(Do.TRY_SMALL, self.table["table.small"]),
                    tuple(dict.fromkeys(key_of(lay) for lay in self.lays.bands)),
                    why="A thumb’s length shows mud and lines before the card is spent.",
                )
            )
        return acts

    def size(self) -> str:
        """The size to cut, in the panel's own unit first."""
        return size_in_both(self.piece.size, self.piece.inch)

    def lay_act(self, text: str, took: float, lay: LayDown, do: Do = Do.LAY, **more: object) -> Act:
        """An act that puts ink on."""
        self.laid += do is Do.LAY
        return Act(
            do,
            text,
            self.habits.takes(do, took),
            (key_of(lay),),
            self.hands.need(lay),
            laid=self.laid,
            **more,  # type: ignore[arg-type]
        )

    # Bands.

    def in_runs(self, first: list[Act], waits: list[tuple[int, int]], why: str) -> None:
        """Bands in the order of laying, as many in a bout as are worked at once."""
        acts, laid, prelude = first, list[tuple[int, LayDown]](), 0
        run: list[int] = []
        done: dict[int, tuple[int, int]] = {}
        by_ink = self.habits.together is Together.INK_BY_INK
        ribbons = self.panel.layout.overlaid
        began_wet: list[int] = []
        for k in self.piece.study.work.order:
            dry_on = [o for o in self.beside(k, wet=False) if o in run or o in done]
            if ribbons and (run or done):
                dry_on = [run[-1] if run else max(done, key=lambda o: done[o])]
            wet_on = self.beside(k, wet=True)
            alone = bool(run) and not any(o in run for o in wet_on)
            soaks = by_ink and all(self.facts[key_of(self.lays.bands[o])].soaks for o in (k, *run, *wet_on))
            if run and (any(o in run for o in dry_on) or alone or soaks):
                number = self.add(acts, laid, prelude=prelude, waits=waits, why=why)
                done.update(dict.fromkeys(run, (number, 0)))
                acts, laid, run = [self.hands.cleaned_mat()], [], []
                prelude, waits, why = 1, [], ""
            if dry_on:
                waits = list(dict.fromkeys([*waits, *[done[o] for o in dry_on if o in done]]))
                names = listed([self.name(o) for o in dry_on])
                why = f"{names} has to be dry: between the two a layer lies over a dry one."
            began_wet += [k for o in wet_on if o in done and not self.both_soak(k, o) and not by_ink]
            self.band(k, acts, laid, run, done)
            run.append(k)
        self.add(acts, laid, prelude=prelude, waits=waits, why=why)
        for k in dict.fromkeys(began_wet):
            text = (
                f"{self.piece.name}: {self.name(k)} cannot be worked into all of its neighbours while they are open, "
                f"because a layer has to dry in between. Let that seam dry too, or lay it over with the other ink."
            )
            self.notes.append(Note(NoteCode.WET_TOO_LATE, text))

    def beside(self, k: int, wet: bool) -> list[int]:
        """The bands that k meets, at seams of the one kind."""
        return [sum(pair) - k for joint, pair, _ in self.meets if k in pair and joint.overlap and joint.wet is wet]

    def both_soak(self, one: int, other: int) -> bool:
        """Whether two bands are of inks that mix when they are wetted again."""
        return all(self.facts[key_of(self.lays.bands[k])].soaks for k in (one, other))

    def band(
        self,
        k: int,
        acts: list[Act],
        laid: list[tuple[int, LayDown]],
        run: Sequence[int],
        done: Mapping[int, tuple[int, int]],
    ) -> None:
        """Lay one band, and go to and fro where it meets what is open."""
        lay, table = self.lays.bands[k], self.table
        same = self.panel.laid(k).tool == lay.tool
        passes = passes_needed(self.panel, self.placed, k, table) if same else lay.passes
        soak_run = bool(run) and all(self.both_soak(k, o) for o in run)
        if (
            run
            and soak_run
            and self.habits.cleaning is Cleaning.ALWAYS
            and key_of(lay) != key_of(self.lays.bands[run[-1]])
        ):
            acts.append(self.hands.cleaned_mat())
        loaded = len(acts)
        acts += self.hands.loading(lay, acts, self.hands.loads_for(lay, self.areas[k], passes))
        acts += self.turning(k, run)
        seams = [
            (joint, sum(pair) - k, area)
            for joint, pair, area in self.meets
            if k in pair and joint.overlap and joint.wet and (sum(pair) - k in run or sum(pair) - k in done)
        ]
        took = self.hands.minutes_laying(lay, self.areas[k], passes)
        how = self.hands.how(lay, passes)
        acts.append(self.lay_act(f"{self.name(k)}: {how}, {self.where(k)}.", took, lay, why=self.order_of(k)))
        laid.append((len(acts) - 1, lay))
        self.laid_at[k] = len(acts) - 1
        for joint, other, area in seams:
            self.seam(k, other, joint, area, acts, laid, loaded, other in run)
        if k == self.piece.study.work.order[-1]:
            self.look_over(acts, laid, (*run, k))

    def look_over(self, acts: list[Act], laid: list[tuple[int, LayDown]], run: Sequence[int]) -> None:
        """Back up the card: over the seams where a line is to be expected, then a look along all of it."""
        for seam, (_, pair, area) in zip(self.piece.study.seams, self.meets, strict=False):
            lines = [flag.text for flag in seam.flags if flag.code is NoteCode.HARD_LINE]
            if not lines or not all(k in run for k in pair) or self.panel.joints()[pair[0]].gap:
                continue
            paler = max(pair, key=lambda k: self.facts[key_of(self.lays.bands[k])].lightness)
            lay = self.lays.bands[paler]
            acts += self.hands.loading(lay, acts)
            acts.append(self.lay_act(lines[0], self.hands.minutes_over(lay, area, 1), lay, Do.BACK))
            laid.append((len(acts) - 1, lay))
        if len(run) >= 3:
            text = f"Look along {self.piece.name}: where you see a line, go back over it lightly with the paler ink."
            took = self.habits.takes(Do.BACK, self.table["table.look"])
            acts.append(Act(Do.BACK, text, took, laid=self.laid))

    def order_of(self, k: int) -> str:
        """Why it is laid at this place in the order."""
        return next((step.why for step in self.piece.study.work.steps if step.band == k), "")

    def seam(
        self,
        k: int,
        other: int,
        joint: Joint,
        area: float,
        acts: list[Act],
        laid: list[tuple[int, LayDown]],
        loaded: int,
        in_run: bool,
    ) -> None:
        """To and fro over a seam between band k, just laid, and one that was laid before."""
        lay, under = self.lays.bands[k], self.lays.bands[other]
        took = self.hands.minutes_over(lay, area, 1)
        text = f"To and fro where {self.name(other)} and {self.name(k)} meet, lightly, until no line shows."
        # What soaks in is wetted again by what comes; a film has to be open still.
        soak = self.facts[key_of(under)].soaks
        if not soak and in_run:
            stays = self.hands.stays_open(under)
            # From when the other band was laid: going over its far seam does not open this edge again.
            apart = sum(act.ticks for act in acts[self.laid_at[other] + 1 :])
            if apart > stays:
                self.in_parts(k, other, area, acts, laid, loaded, stays)
                return
            act = self.lay_act(text, took, lay, Do.BLEND, mixes=(key_of(under), stays))
            acts.append(replace(act, why=f"{self.name(other)} stays open for about {span(minutes(stays))}."))
        else:
            why = "Inks that soak in mix when they are wetted again." if soak else ""
            acts.append(self.lay_act(text, took, lay, Do.BLEND, why=why))
        laid.append((len(acts) - 1, under))
        if joint.again:
            acts += self.hands.loading(under, acts)
            more = f"Go back over the seam once more, lightly, with {self.name(other)}."
            acts.append(self.lay_act(more, took, under, Do.BACK))
            laid.append((len(acts) - 1, under))

    def in_parts(
        self,
        k: int,
        other: int,
        area: float,
        acts: list[Act],
        laid: list[tuple[int, LayDown]],
        loaded: int,
        stays: int,
    ) -> None:
        """The second ink and the edge of the first, part by part, each done while the first is open."""
        lay, under = self.lays.bands[k], self.lays.bands[other]
        edge = self.hands.minutes_over(under, area, under.passes)
        at = self.laid_at[k]
        laying = acts[at]
        if laying.parts > 1:
            # Its own laying is in parts already, with its other neighbour.
            took = self.hands.minutes_over(lay, area, 1) + edge
            parts = max(2, ceil(self.habits.takes(Do.BLEND, took) / stays))
            text = (
                f"{self.name(other)} and {self.name(k)} in {parts} parts: a little more of {self.name(other)} along "
                f"its edge, to and fro; then the next part."
            )
            acts += self.hands.loading(under, acts)
            acts.append(self.lay_act(text, took, under, Do.BLEND, parts=parts, mixes=(key_of(under), stays)))
            laid.append((len(acts) - 1, under))
            return
        both = laying.ticks + self.habits.takes(Do.BLEND, edge + self.hands.minutes_over(lay, area, 1))
        parts = max(2, ceil(both / stays))
        names = f"{self.name(other)} and {self.name(k)}"
        text = (
            f"{names} in {parts} parts: a little more of {self.name(other)} along its edge, {self.name(k)} beside it "
            f"({self.hands.how(lay, lay.passes)}), to and fro; then the next part."
        )
        needs = tuple(dict.fromkeys([*self.hands.need(under), *self.hands.need(lay)]))
        acts[at] = replace(
            laying,
            text=text,
            ticks=both,
            inks=(key_of(under), key_of(lay)),
            needs=needs,
            parts=parts,
            mixes=(key_of(under), stays),
            why=f"{self.name(other)} stays open for about {span(minutes(stays))}: less than one go takes.",
        )
        if len(needs) == 2 and self.held[needs[0]] == self.held[needs[1]]:
            kind = needs[0].kind.said
            text = (
                f"{self.piece.name}: {names} want a {kind} each, for {self.name(other)} closes before one {kind} is "
                f"wiped. Take a second {kind}, or let the seam dry in between."
            )
            self.notes.append(Note(NoteCode.SECOND_TOOL, text))
        again = self.hands.loading(under, acts[:loaded])
        acts[loaded:loaded] = again
        laid[:] = [(n + len(again) if n >= loaded else n, one) for n, one in laid]
        self.laid_at[k] += len(again)

    def length(self, mm: float) -> str:
        """A length in the panel's own unit."""
        return f"{inches(mm, _SEEN_PARTS)} in" if self.piece.inch else f"{mm:.0f} mm"

    def where(self, k: int) -> str:
        """Where band k goes, and where the tool comes onto the card."""
        front, n = self.panel.front, len(self.lays.bands)
        begin, end = self.placed.start[k], self.placed.stop[k]
        size, line = self.length, self.panel.layout.line
        if n == 1:
            return "all over, starting off the edge"
        if line is BandLine.OUTWARDS:
            inner = (
                "from the middle outwards"
                if k == 0
                else f"in a ring {size(max(0.0, begin))} to {size(end)} from the centre"
            )
            return f"{inner}, turning the card as you go"
        if line is BandLine.ROUND:
            return "in its sector, from off the edge towards the centre, turning the card as you go"
        if line is BandLine.INWARDS:
            return f"{size(max(0.0, begin))} to {size(end)} in from every edge, starting off the card"
        side = _EDGES[round(front.angle / 90) % 4 * 90]
        if self.panel.layout.overlaid:
            return (
                f"along the {'torn' if self.panel.ribbon.edge == 'torn' else 'cut'} edge, {size(begin)} from the {side}"
            )
        across = f"{size(max(0.0, begin))} to {size(end)} from the {side}"
        if self.panel.bands[k].shape is BandShape.CENTRE:
            return f"{across}, beginning in its middle and fading out to both sides"
        if k == 0:
            return f"starting off the {side} edge, fading out by {size(end)}"
        if k == n - 1:
            other = _EDGES[(round(front.angle / 90) % 4 * 90 + 180) % 360]
            return f"starting off the {other} edge, fading out towards {self.name(k - 1)}"
        return f"{across}, in from off the side, fading out both ways"

    def turning(self, k: int, run: Sequence[int]) -> list[Act]:
        """Turning the card where the hand would cross what is wet."""
        if not self.panel.layout.flat or not run:
            return []
        angle = radians(self.panel.front.angle)
        along = (cos(angle), sin(angle))
        middles = [sum(self.placed.visible[o]) / 2 for o in (k, *run)]

        def crosses(turn: int) -> bool:
            # The card turned to the right takes its line with it.
            a = radians(turn)
            x, y = along[0] * cos(a) - along[1] * sin(a), along[0] * sin(a) + along[1] * cos(a)
            side = -1 if self.habits.hand is HandSide.LEFT else 1
            near = x * side * _HAND[0] + y * _HAND[1]
            here, *wet = [middle * near for middle in middles]
            return any(other > here + _BESIDE for other in wet)

        if not crosses(self.turned):
            return []
        free = next((turn for turn in (180, 90, 270, 0) if not crosses((self.turned + turn) % 360)), None)
        if free is None:
            text = "Wet ink lies on both sides: lift your hand, or rest it on scrap paper beyond the card."
            return [Act(Do.TURN, text, self.habits.takes(Do.TURN, self.table["table.turn"]))]
        self.turned = (self.turned + free) % 360
        text = f"Turn the card {_TURNS[free]}: so your hand does not cross wet ink."
        return [Act(Do.TURN, text, self.habits.takes(Do.TURN, self.table["table.turn"]))]

    def roll(self, first: list[Act], waits: list[tuple[int, int]], why: str) -> None:
        """All inks in one go off a roller; once more from the other side if that is wanted."""
        hands, lay = self.hands, self.lays.bands[0]
        names = listed([self.name(k) for k in range(len(self.lays.bands))])
        keys = tuple(dict.fromkeys(key_of(each) for each in self.lays.bands))
        needs = tuple(dict.fromkeys(need for each in self.lays.bands for need in hands.need(each)))

        def loading(loads: int) -> Act:
            text = f"Ink {TOOL} with {names}, side by side in that order."
            return Act(Do.LOAD, text, self.habits.takes(Do.LOAD, self.table["table.load"] * loads), keys, needs[:1])

        took = hands.minutes_over(lay, self.whole, 1)
        self.laid = len(self.lays.bands)
        text = "Roll once over all of the card, from off its edge to off its edge."
        acts = [
            *first,
            loading(len(keys)),
            Act(Do.LAY, text, self.habits.takes(Do.LAY, took), keys, needs[:1], laid=self.laid),
        ]
        every = [(len(acts) - 1, each) for each in self.lays.bands]
        again = Act(
            Do.LAY,
            "Turn the card half round and roll over it once more.",
            self.habits.takes(Do.LAY, took),
            keys,
            needs[:1],
            laid=self.laid,
        )
        if self.panel.rolls > 1 and self.panel.roll_wet:
            acts += [again]
            every = [(len(acts) - 1, each) for each in self.lays.bands]
        number = self.add(acts, every, waits=waits, why=why)
        if self.panel.rolls > 1 and not self.panel.roll_wet:
            acts = [loading(len(keys)), again]
            every = [(1, each) for each in self.lays.bands]
            self.add(acts, every, waits=[(number, 0)], why="The first rolling has to be dry.")

    # Tops.

    def on_top(self) -> None:
        """Layers on top, each when all below it is dry."""
        hands = self.hands
        for top, lay in zip(self.panel.tops, self.lays.tops, strict=True):
            dry = [(n, d) for n, bout in enumerate(self.bouts) for d in range(len(bout.dryings))]
            why = "All that lies below has to be dry."
            stencil = top.region.motif is not Motif.ALL
            acts = [hands.cleaned_mat(), hands.tested()]
            if stencil and top.kind is not Topping.WATER:
                took = self.habits.takes(Do.STENCIL, self.table["table.stencil"])
                acts.append(Act(Do.STENCIL, "Lay the stencil and hold it down.", took))
            if lay is not None:
                x, y = spots(self.panel.front.whole, _FINE)
                area = self.whole * float(np.mean(mask(top.region, x, y))) if stencil else self.whole
                acts += hands.loading(lay, acts, hands.loads_for(lay, area, lay.passes))
                through = "through the stencil" if stencil else "all over"
                text = f"{hands.name(lay)} {through}: {hands.how(lay, lay.passes)}."
                acts.append(self.lay_act(text, hands.minutes_laying(lay, area, lay.passes), lay))
                laid = [(len(acts) - 1, lay)]
                if stencil:
                    took = self.habits.takes(Do.STENCIL, self.table["table.stencil"])
                    acts.append(Act(Do.STENCIL, "Lift the stencil straight up and wipe it.", took, laid=self.laid))
                self.add(acts, laid, prelude=1, waits=dry, why=why)
                continue
            treatment = Treatment.SPRITZ if top.kind is Topping.WATER else Treatment.GLAZE
            where = " through the stencil" if stencil and treatment is Treatment.GLAZE else ""
            self.laid += 1
            acts.append(replace(hands.treated(treatment, self.whole, where), laid=self.laid))
            self.add(acts, [], prelude=1, waits=dry, more=hands.treated_dries(treatment, len(acts) - 1), why=why)
