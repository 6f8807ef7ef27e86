"""The acts that pieces share: making ready, taking ink, laying it, what is done to it, and what comes last."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import ceil, log

from wempa.craft.job import Job, LayDown
from wempa.craft.panels.work import lay_dries
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import PreparedJob
from wempa.craft.vocabulary import Do, DryingSchool, Load, Tool, Treatment

from .evening import TICKS, Act, Drying, Habits, InkFacts, Need, key_of, listed, minutes, span, ticks
from .tools_owned import cleaning_between

TOOL = "\0"
"""Where the name of a step's tool will stand."""

_TAKES = {
    Load.BLOTTED: "tap it, then dab it nearly dry",
    Load.LIGHT: "tap, do not swipe",
    Load.NORMAL: "tap two or three times",
    Load.JUICY: "swipe it full",
}
# A stamp is never dabbed off more often than this, nor is anything else.
_MOST_DABS = 4


def last_held(acts: Sequence[Act], held: Mapping[Need, int], tool: int) -> str | None:
    """The key of what a tool held last in some acts; None if they do not load it."""
    for act in reversed(acts):
        if act.do is Do.LOAD and act.needs and held[act.needs[0]] == tool:
            return act.needs[0].key
    return None


def cleaned(do: Do, need: Need, was: str, habits: Habits, table: Mapping[str, float]) -> Act:
    """Cleaning the tool of a need that held the ink called `was`."""
    if do is Do.WASH:
        text, why = (
            f"Wash {TOOL} and dry it: {was} comes out of it altogether.",
            "Pigment and dye are not for one tool.",
        )
        return Act(do, text, habits.takes(do, table["table.wash"]), needs=(need,), why=why)
    text = f"Wipe {TOOL} clean of {was}."
    return Act(do, text, habits.takes(do, table["table.wipe"]), needs=(need,), why="So that the next pad stays clean.")


class Hands:
    """Makes the acts of one job, at a person's own pace."""

    def __init__(
        self,
        job: Job,
        lays: Sequence[LayDown],
        facts: Mapping[str, InkFacts],
        habits: Habits,
        table: Mapping[str, float],
        pads: Mapping[str, float],
        held: Mapping[Need, int],
    ) -> None:
        self.job, self.facts, self.habits, self.table = job, facts, habits, table
        self._pads, self._held = pads, held
        keys = list(dict.fromkeys(key for lay in lays for key, _ in lay.parts))
        self.bench: PreparedJob = prepare_job(job, keys)

    def name(self, lay: LayDown) -> str:
        """What a lay-down lays."""
        return self.facts[key_of(lay)].name

    def need(self, lay: LayDown) -> tuple[Need, ...]:
        """The tool that it wants."""
        kind = lay.tool or Tool.PAD
        return () if not kind.row.held else (Need(kind, key_of(lay)),)

    def ready(self, card: str, size: str, lays: Sequence[LayDown], stencil: bool) -> list[Act]:
        """Card, mat and pads."""
        table, habits = self.table, self.habits
        names = [self.name(lay) for lay in lays]
        keys = tuple(dict.fromkeys(key_of(lay) for lay in lays))
        shield = "copy paper as a shield, " if stencil else ""
        return [
            Act(
                Do.CUT,
                f"Cut {card} to {size}.",
                habits.takes(Do.CUT, table["table.cut"]),
                caution="Cut away from the hand that holds, and keep blades and presses from children.",
            ),
            Act(
                Do.READY,
                f"Clean the mat. Lay out scrap paper to hold the card with, {shield}tissue and a damp cloth.",
                habits.takes(Do.READY, table["table.ready"]),
                why="A fingertip leaves a spot that takes no ink: hold the card with the scrap paper.",
            ),
            Act(
                Do.OPEN_PADS,
                f"Open {listed(names)}.",
                habits.takes(Do.OPEN_PADS, table["table.open_pad"] * len(keys)),
                inks=keys,
                caution="Keep ink from mouth and eyes, and wear gloves if your skin is sensitive. The maker’s label "
                "comes first.",
            ),
        ]

    def loading(self, lay: LayDown, before: Sequence[Act], loads: int = 1) -> list[Act]:
        """Taking ink: mixing it first if it is a premix, dabbing off what is too juicy.

        `before` are the acts of the bout so far: a tool that held another ink in it is cleaned.
        """
        table, habits, name, keys = self.table, self.habits, self.name(lay), (key_of(lay),)
        found = []
        for need in self.need(lay):
            was = last_held(before, self._held, self._held[need])
            if was is not None and (clean := cleaning_between(was, need.key, self.facts, habits, table)):
                found.append(cleaned(clean, need, self.facts[was].name, habits, table))
        if lay.premix:
            text = f"Mix {self._shares(lay)} on the mat."
            found.append(Act(Do.MIX, text, habits.takes(Do.MIX, table["table.mix"]), keys))
        if not (lay.tool or Tool.PAD).row.held:
            return found
        water = f" Add {round(100 * lay.dilution)} % water." if lay.dilution else ""
        again = f" It takes about {loads} loads." if loads > 1 else ""
        found.append(
            Act(
                Do.LOAD,
                f"Load {TOOL} with {name}: {_TAKES[lay.load]}.{water}{again}",
                habits.takes(Do.LOAD, table["table.load"]),
                keys,
                self.need(lay),
                loads=loads,
            )
        )
        juicy = max(self._pads.get(key, 1.0) for key, _ in lay.parts)
        wanted = table[f"load.{lay.load}"]
        if juicy > wanted and lay.load is not Load.JUICY:
            # Every dab halves it, as the table has it.
            times = min(_MOST_DABS, ceil(log(juicy / wanted) / -log(table[f"load.{Load.BLOTTED}"])))
            count = "once" if times == 1 else "twice" if times == 2 else f"{times} times"
            found.append(
                Act(
                    Do.DAB,
                    f"{name}’s pad is juicy: dab {TOOL} off {count} on scrap paper.",
                    habits.takes(Do.DAB, times * table["table.dab"]),
                    keys,
                    self.need(lay),
                    why="A first touch that is too wet stays as a mark.",
                )
            )
        return found

    def _shares(self, lay: LayDown) -> str:
        inks = dict(self.job.inks)
        return " with ".join(f"{round(100 * share)} % {inks[key].name or key}" for key, share in lay.parts)

    def how(self, lay: LayDown, passes: float) -> str:
        """How it is laid, in a few words."""
        tool = lay.tool or Tool.PAD
        count = "once" if passes == 1 else f"{passes:g} passes" if tool.swept else f"{passes:g} times"
        return f"{count}, {tool.row.lays}"

    def minutes_over(self, lay: LayDown, area: float, passes: float) -> float:
        """Minutes that so many passes over so many cm² take."""
        return passes * area * self.table[f"work.{lay.tool or Tool.PAD}.pace"] / 60

    def minutes_laying(self, lay: LayDown, area: float, passes: float) -> float:
        """Minutes that so many passes over so many cm² take, all loads but the first included."""
        again = self.loads_for(lay, area, passes) - 1 if (lay.tool or Tool.PAD).row.held else 0
        return self.minutes_over(lay, area, passes) + again * self.table["table.load"]

    def loads_for(self, lay: LayDown, area: float, passes: float) -> int:
        """How often the tool takes ink for that."""
        return max(1, ceil(passes * area / self.table[f"work.{lay.tool or Tool.PAD}.reach"] - 1e-9))

    def stays_open(self, lay: LayDown) -> int:
        """Ticks that a lay-down stays open: the soonest of its inks, by how much of it there is."""
        lookup = self.bench.lookup
        times = [lookup[key][1].values for key, _ in lay.parts]
        seconds = min(values["open_time"] for values in times)
        # Open and dry times grow alike with the amount.
        dry = sum(share * values["dry_time"] for (_, share), values in zip(lay.parts, times, strict=True))
        amount = min(1.0, lay_dries(self.job, lay, self.bench) / dry) if dry > 0 else 1.0
        return int(seconds * max(amount, 0.5) / 60 * TICKS)

    def dries(self, lay: LayDown) -> int:
        """Ticks until it may be laid over."""
        return ticks(lay_dries(self.job, lay, self.bench))

    def drying(self, name: str, acts: Sequence[Act], laid: Sequence[tuple[int, LayDown]]) -> list[Drying]:
        """What has to dry after acts, counted from the last: what is dry last of the lay-downs, each with its act."""
        ends = [(sum(act.ticks for act in acts[: at + 1]) + self.dries(lay), at, lay) for at, lay in laid]
        if not ends:
            return []
        until, _, lay = max(ends, key=lambda each: (each[0], each[1]))
        last = len(acts) - 1
        left = max(1, until - sum(act.ticks for act in acts))
        text = f"Leave {name} alone: it is dry in about {span(minutes(left))}."
        return [Drying(last, left, text, (key_of(lay),))]

    def heated(self, area: float) -> Act:
        """Drying with a heat tool."""
        return Act(
            Do.TREAT,
            "Heat it, the tool kept moving, until the ink no longer shines.",
            self.habits.takes(Do.TREAT, self.table["table.heat"] * area / 60),
            why="A heat tool is quicker than air; some find that it pales the colour a little.",
            caution=Treatment.HEAT.row.caution,
        )

    def cooling(self, at: int) -> Drying:
        """What comes after heat."""
        return Drying(at, ticks(self.table["table.cools"]), "Let it cool: hot card takes ink in patches.")

    @property
    def heats(self) -> bool:
        """Whether layers are dried with heat."""
        return self.habits.drying is DryingSchool.HEAT

    def treated(self, treatment: Treatment, area: float, where: str = "") -> Act:
        """A treatment by itself."""
        table = self.table
        if treatment is Treatment.HEAT:
            return self.heated(area)
        took = table["table.glaze"] * area / 60 if treatment is Treatment.GLAZE else table["table.treat"]
        texts = {
            Treatment.SPRITZ: "Sprinkle water drops{}, wait half a minute, then lift them with a tissue.",
            Treatment.GLAZE: "Lay the clear topcoat{}, thin and even.",
            Treatment.BLOT: "Blot{} with a tissue: press, do not rub.",
        }
        return Act(
            Do.TREAT,
            texts[treatment].format(where),
            self.habits.takes(Do.TREAT, took),
            caution=treatment.row.caution,
        )

    def treated_dries(self, treatment: Treatment, at: int) -> list[Drying]:
        """What has to dry after a treatment, if anything."""
        if treatment is Treatment.SPRITZ:
            return [Drying(at, ticks(self.table["table.drops_dry"]), "Let the drops dry.")]
        if treatment is Treatment.GLAZE:
            text = "Let the topcoat dry; its label says how long."
            return [Drying(at, ticks(self.table["table.glaze_dry"]), text)]
        return [self.cooling(at)] if treatment is Treatment.HEAT else []

    def tested(self) -> Act:
        """Feeling whether it is dry."""
        return Act(
            Do.TEST,
            "Touch a corner with a clean finger: nothing comes off? If it does, wait a little more.",
            self.habits.takes(Do.TEST, self.table["table.test"]),
            why="What is laid on ink that is not dry mixes with it, and embossing powder sticks to it.",
        )

    def cleaned_mat(self) -> Act:
        """Cleaning the mat."""
        return Act(Do.CLEAN_MAT, "Clean the mat.", self.habits.takes(Do.CLEAN_MAT, self.table["table.mat"]))

    def labelled(self, what: str) -> Act:
        """Writing on the back what it is."""
        return Act(Do.LABEL, what, self.habits.takes(Do.LABEL, self.table["table.label"]))

    def closed(self, lays: Sequence[LayDown]) -> Act:
        """Closing what is done with."""
        keys = tuple(dict.fromkeys(key_of(lay) for lay in lays))
        names = listed([self.name(lay) for lay in lays])
        return Act(
            Do.CLOSE_PADS,
            f"Close {names}, unless you go on with them.",
            self.habits.takes(Do.CLOSE_PADS, self.table["table.open_pad"] * len(keys)),
            keys,
            why="An open pad dries out.",
        )

    def logged(self, name: str, lays: Sequence[LayDown]) -> Act:
        """Writing down what came of it."""
        lifts = [self.name(lay) for lay in lays if self.facts[key_of(lay)].lifts]
        glue = f" Water-based glue and gel pens move {listed(lifts)}: they come last." if lifts else ""
        return Act(
            Do.LOG,
            f"{name} is dry. Photograph it and log what you got.{glue}",
            self.habits.takes(Do.LOG, self.table["table.log"]),
        )
