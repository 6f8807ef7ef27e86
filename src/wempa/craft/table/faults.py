"""Is this a fault? What will even out by itself and when, what will not, and what may be done about what lies there.

What lies on the card can only be added to: rescues are nudges, a light coat more, water where it moves
the ink. Each is predicted; one that makes it worse is told as such and not offered first.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown
from wempa.craft.limits import MAX_STACK
from wempa.craft.overlap.nudges import more_of, nudges
from wempa.craft.panels.work import lay_dries
from wempa.craft.prediction.predict import predict
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.vocabulary import Fault, Look, Tool, Towards, Treatment, VerdictKind
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats

from .evening import span

_OVER_ALL = 2.0
# Water drops that differ by so much from what lies beside them are seen as meant, ΔE00.
_SEEN = 6.0
# A rescue has to change the colour by so much to be worth doing, ΔE00.
_SHOWS = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Rescue:
    """Something that may be done, and what comes of it."""

    text: str
    before: Floats
    """CIELAB, (3,), dry."""
    after: Floats
    helps: bool


@dataclass(frozen=True, slots=True)
class Judged:
    """What is to be said of a fault."""

    settles: bool
    """Whether it goes by itself."""
    when: float
    """Minutes until it looks as it will stay; 0 where it does."""
    texts: tuple[str, ...]
    rescues: tuple[Rescue, ...]


def judged(
    fault: Fault, job: Job, minutes_ago: float, towards: Towards | None = None, wanted: Floats | None = None
) -> Judged:
    """What is to be said of a fault at a spot.

    `job` has what lies there as its stack and may have a stash for what is added; `minutes_ago` is
    when the last of it was laid; `towards` the way it should go, of a colour that is off. `wanted` is
    CIELAB of the inks that are owned or asked for, (m, 3).

    Raises
    ------
    JobError
        Nothing is laid there.
    """
    lays = [entry for entry in job.stack if isinstance(entry, LayDown)]
    if not lays:
        raise JobError("nothing is laid there yet, so there is nothing to judge")
    return _Spot(job, lays[-1], minutes_ago, wanted).of(fault, towards or Towards.CLEANER)


class _Spot:
    """A spot, as it is judged."""

    def __init__(self, job: Job, last: LayDown, minutes_ago: float, wanted: Floats | None) -> None:
        self.job, self.last, self.wanted, self.minutes_ago = job, last, wanted, minutes_ago
        self.table: Mapping[str, float] = constants.values(job.constants)
        bench = prepare_job(job, list(dict.fromkeys(key for key, _ in last.parts)))
        self.values = bench.lookup[last.parts[0][0]][1].values
        self.ground = bench.card.ground
        lays = [entry for entry in job.stack if isinstance(entry, LayDown)]
        # What lies below was laid before, and may dry later all the same.
        self.left = max(0.0, max(lay_dries(job, lay) for lay in lays) - minutes_ago)
        self.open = minutes_ago * 60 < self.values["open_time"]
        inks = dict(job.inks)
        after = job.stack[max(place for place, entry in enumerate(job.stack) if entry is last) + 1 :]
        self.set = any(isinstance(entry, Treatment) and entry.row.closes for entry in after)
        """Whether heat or a topcoat came over it, so that nothing can be worked any more."""
        self.name = inks[last.parts[0][0]].name or last.parts[0][0]
        self.reactive = [
            inks[key].name or key
            for entry in job.stack
            if isinstance(entry, LayDown)
            for key, _ in entry.parts
            if inks[key].formula.row.reactive
        ]
        self.now = predict(replace(job, look=Look.DRY))

    @property
    def wet(self) -> bool:
        """Whether it is wet still."""
        return self.left > 0

    def said(self, texts: Sequence[str], rescues: Sequence[Rescue], settles: bool = False) -> Judged:
        """What is said, with when it will look as it stays."""
        return Judged(settles, self.left, tuple(text for text in texts if text), tuple(rescues))

    def wait(self) -> str:
        """How long to leave it alone."""
        return f"Leave it alone for about {span(self.left)}, then look again." if self.wet else ""

    # Faults.

    def of(self, fault: Fault, towards: Towards) -> Judged:
        """What is said of a fault."""
        if fault is Fault.OFF_HUE:
            return self.off(towards)
        if fault in (Fault.STREAKS, Fault.FOAM_EDGE):
            return self.marks("streaks" if fault is Fault.STREAKS else "the foam’s edge")
        plain = {
            Fault.PATCHY: self.patchy,
            Fault.WHITE_SPOT: self.white_spot,
            Fault.LINE: self.line,
            Fault.MUD: self.mud,
            Fault.TOO_DARK: self.too_dark,
            Fault.TOO_PALE: self.too_pale,
        }
        return plain[fault]()

    def patchy(self) -> Judged:
        """Blotches."""
        if self.wet:
            return self.said(
                ["Ink looks blotchy and deeper while it is wet. Most of that evens out on drying.", self.wait()],
                [],
                settles=True,
            )
        rough = self.ground.texture >= self.table["panel.specks"]
        specks = "Specks of bare card belong to a textured card under a light hand." if rough else ""
        return self.said(
            ["It is dry, so what is uneven now stays.", specks, "A light coat more evens it out; start off the edge."],
            [self.more()],
        )

    def marks(self, what: str) -> Judged:
        """Streaks, and edges of foam."""
        thirsty = self.ground.absorbency >= self.table["marks.thirsty"]
        more_minutes = self.table["marks.lightly"] - self.minutes_ago
        lightly = not self.open and more_minutes > 0 and not self.set
        texts = []
        if self.open:
            texts.append(
                f"{self.name} is open still: go over {what} at once in light circles, with next to no ink on the tool."
            )
        elif lightly:
            texts.append(f"For some minutes yet light strokes even out {what}: use what is left on the same tool.")
        elif self.wet:
            texts.append(f"Some of it goes on drying. Do not rub {self.name} now: it lifts and leaves a worse mark.")
        else:
            texts.append(f"{what.capitalize()} that can be seen now will stay unless something is laid over them.")
        if thirsty:
            texts.append("This card grabs the first touch: begin on scrap paper the next time, and tap off first.")
        else:
            texts.append("They come of a heavy hand or a juicy tool: dab off first the next time.")
        if not lightly:
            texts.append(self.wait())
        elif self.left > more_minutes:
            texts.append(f"After that leave it alone: it is dry in about {span(self.left)}.")
        rescues = [] if self.wet and not self.open else [self.more()]
        return self.said(texts, [*rescues, *self.spritz()])

    def white_spot(self) -> Judged:
        """A spot where a finger was."""
        texts = [
            "The oil of a fingertip takes no ink, wet or dry: more ink only makes a ring round it.",
            "Cover it with a die cut or a stamped shape, or take an ink that sits on top there: dab it, do not rub.",
            "Hold the card with scrap paper the next time.",
        ]
        cover = self.covering()
        return self.said(texts, [*cover, *self.spritz()])

    def line(self) -> Judged:
        """A hard line at a seam."""
        if self.open:
            first = "Both inks are open still: go to and fro over the line now, lightly, with the paler of the two."
        elif self.wet:
            first = "Let it dry first: what is half dry lifts. Lines soften a little on drying, but not away."
        else:
            first = "A line that is dry stays. Go over it once more, lightly, with the paler of the two."
        return self.said([first, "If it will not go, lay a bridge: an ink that lies between the two."], [self.more()])

    def mud(self) -> Judged:
        """Mud where inks met."""
        texts = []
        kind = self.now.verdict.kind
        if kind is not VerdictKind.MUDDY:
            texts.append("By what was laid here it should dry clear.")
            texts.append(
                self.wait() or "If it looks like mud to you all the same, log it: Wempa learns what you call mud."
            )
        else:
            texts.append("What has gone muddy does not come clean again: nothing lifts one ink out of another.")
        texts.append(self.wait() if kind is VerdictKind.MUDDY else "")
        return self.said(
            texts,
            [*self.nudged(Towards.CLEANER), *self.nudged(Towards.LIGHTER), *self.spritz()],
            settles=kind is not VerdictKind.MUDDY and self.wet,
        )

    def too_dark(self) -> Judged:
        """Too dark."""
        texts, settles = [], False
        if self.wet:
            wet = predict(replace(self.job, look=Look.WET)).colour.lab
            paler = float(self.now.colour.lab[0] - wet[0])
            settles = paler >= _OVER_ALL
            texts.append(
                "It dries clearly lighter than it looks now." if settles else "It will dry only a little lighter."
            )
            texts.append(self.wait())
        else:
            texts.append("It is dry: this is how dark it stays.")
        rescues = self.nudged(Towards.LIGHTER)
        if self.open:
            rescues = [
                *self.treated(Treatment.BLOT, "Blot it now with a tissue, pressing: that takes some away."),
                *rescues,
            ]
        return self.said(texts, [*rescues, *self.spritz()], settles=settles)

    def too_pale(self) -> Judged:
        """Too pale."""
        texts = ["It dries lighter still; wait and see before you add." if self.wet else "It is dry: add light coats."]
        return self.said([*texts, self.wait()], [self.more(), *self.nudged(Towards.DARKER)])

    def off(self, towards: Towards) -> Judged:
        """Off in hue."""
        texts = []
        if self.wet:
            texts.append("While it is wet a colour is deeper and more vivid; judge its hue when it is dry.")
            texts.append(self.wait())
        texts.append("What lies there can only be added to.")
        return self.said(texts, self.nudged(towards))

    # Rescues.

    def more(self) -> Rescue:
        """Another light coat of the last ink."""
        index = max(n for n, entry in enumerate(self.job.stack) if entry is self.last)
        found = more_of(self.job, index, len(self.job.stack), self.wanted)
        return self.rescue(found.text, found.job)

    def nudged(self, towards: Towards) -> list[Rescue]:
        """The smallest step that way."""
        found = next((one for one in nudges(self.job, len(self.job.stack), self.wanted) if one.code == towards), None)
        return [] if found is None else [self.rescue(found.text, found.job)]

    def rescue(self, text: str, job: Job | None) -> Rescue:
        """What comes of it."""
        before = self.now.colour.lab
        if job is None:
            return Rescue(text, before, before, False)
        after = predict(replace(job, look=Look.DRY))
        shows = float(cm.delta_e(after.colour.lab, before)) >= _SHOWS
        muddier = after.verdict.kind is VerdictKind.MUDDY and self.now.verdict.kind is not VerdictKind.MUDDY
        return Rescue(text, before, after.colour.lab, shows and not muddier)

    def treated(self, treatment: Treatment, text: str) -> list[Rescue]:
        """A treatment of what lies there."""
        if len(self.job.stack) >= MAX_STACK:
            return []
        return [self.rescue(text, replace(self.job, stack=(*self.job.stack, treatment)))]

    def spritz(self) -> list[Rescue]:
        """Water drops all over, which make an accident look meant, where water moves the ink."""
        if len(self.job.stack) >= MAX_STACK:
            return []
        found = predict(replace(self.job, look=Look.DRY, stack=(*self.job.stack, Treatment.SPRITZ)))
        if found.drops is None:
            return []
        seen = float(cm.delta_e(found.drops.lab, self.now.colour.lab)) >= _SEEN
        names = " and ".join(dict.fromkeys(self.reactive))
        text = (
            f"Water drops over all of it, when it is dry, make it look meant: {names or 'the ink'} lifts to this."
            if seen
            else f"Water drops hardly show on {self.name}: they would not hide it."
        )
        return [Rescue(text, self.now.colour.lab, found.drops.lab, seen)]

    def covering(self) -> list[Rescue]:
        """An ink of the stash that sits on top and comes nearest to what lies there."""
        stash = [(key, ink) for key, ink in (*self.job.inks, *self.job.stash.inks) if ink.formula.row.covers]
        if not stash or len(self.job.stack) >= MAX_STACK:
            return []
        bare = replace(self.job, look=Look.DRY)
        best: tuple[float, str, Floats] | None = None
        for key, ink in dict(stash).items():
            # On the spot itself there is nothing but card.
            lay = LayDown(((key, 1.0),), tool=Tool.FOAM, passes=self.table["touch.film"])
            alone = predict(replace(bare, inks=((key, ink),), stack=(lay,)))
            off = float(cm.delta_e(alone.colour.lab, self.now.colour.lab))
            if best is None or off < best[0]:
                best = (off, ink.name or key, alone.colour.lab)
        assert best is not None
        off, name, lab = best
        text = f"Of your pigments {name} comes nearest on the bare spot: dab it on with a fingertip of foam."
        return [Rescue(text, self.now.colour.lab, lab, off <= self.table["verdict.other"])]
