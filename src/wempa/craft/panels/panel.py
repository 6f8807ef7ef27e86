"""A panel as it is planned, and where its bands come to lie."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Job, LayDown
from wempa.craft.layouts import LayoutRow
from wempa.craft.limits import MAX_BANDS, MAX_TOPS
from wempa.craft.prediction.many_stacks import weigh_stacks
from wempa.craft.vocabulary import Edge, Meeting, School, Tool, Topping
from wempa.optics.grid import Floats

from .bands import Band, Placed, Seam, place
from .front import Front
from .shapes import EVERYWHERE, Region


@dataclass(frozen=True, slots=True)
class Top:
    """A layer on top of the bands."""

    kind: Topping
    region: Region = EVERYWHERE
    lay: LayDown | None = None
    """What is laid there, of `Topping.INK` only."""


@dataclass(frozen=True, slots=True)
class Ribbon:
    """How ribbons are laid along an edge."""

    edge: Edge = Edge.TORN
    lean: float = 0.0
    """Degrees by which the edge leans to and fro from one ribbon to the next, so that they are wedges."""
    carry: bool = False
    """Whether the edge is left uncleaned, so that the ink before is carried over."""


@dataclass(frozen=True, slots=True)
class Panel:
    """Everything that decides what a card front looks like; card, inks and light are the job's."""

    front: Front
    bands: tuple[Band, ...]
    seams: tuple[Seam, ...]
    """One for each two neighbours, and of a closed fan one from the last to the first."""
    soft: float = 1.0
    """How far neighbours fade into one another where a seam does not say: 0 stripes, 1 as far as the room allows."""
    count_between: bool = False
    """Whether in-between colours show as wide as the inks."""
    widen_pale: bool = True
    school: School = School.LIGHTEST_FIRST
    ribbon: Ribbon = Ribbon()
    rolls: int = 1
    """How often a roller goes over it: 2 for once more from the other side."""
    roll_wet: bool = False
    """Whether the second time comes into the wet."""
    tops: tuple[Top, ...] = ()

    @property
    def layout(self) -> LayoutRow:
        """What is so of the way its bands lie."""
        return self.front.layout.row

    @property
    def blends(self) -> bool:
        """Whether neighbours run into one another at seams; stripes stand apart, ribbons lie over one another."""
        return self.layout.blends

    def laid(self, k: int) -> LayDown:
        """How band k is laid; a roller lays all of them in one go."""
        lay = self.bands[k].lay
        return replace(lay, tool=Tool.BRAYER, passes=1.0, dose=None) if self.layout.rolled else lay

    def joints(self) -> tuple[Seam, ...]:
        """The seams as the layout has them: none overlaps where bands stand apart, on a roller all are wet.

        Inks that blend are worked at once, to and fro while both are open, unless a seam says otherwise.
        """
        if not self.blends:
            gaps = self.layout.meeting is Meeting.APART
            return tuple([Seam(0.0, 0.0, seam.gap if gaps else 0.0, wet=False) for seam in self.seams])
        if self.layout.rolled:
            return tuple([replace(seam, wet=True, again=False) for seam in self.seams])
        n = len(self.bands)
        both = [(self.laid(k), self.laid((k + 1) % n)) for k in range(len(self.seams))]
        at_once = [all(lay.dose is not None or (lay.tool or Tool.PAD).swept for lay in pair) for pair in both]
        return tuple(
            [
                replace(seam, wet=once if seam.wet is None else seam.wet)
                for seam, once in zip(self.seams, at_once, strict=False)
            ]
        )

    def reach(self, table: Mapping[str, float]) -> list[float]:
        """How far of the way to the middle of either band each seam fades, 0–1: as is said, and as the tools can."""
        n, found = len(self.bands), []
        for k, seam in enumerate(self.seams):
            fades = [_fade(self.laid(i), table) for i in (k, (k + 1) % n)]
            soft = self.soft if seam.soft is None else seam.soft
            found.append(min(1.0, soft * table["seam.soft"] * sum(fades) / 2) if self.blends else 0.0)
        return found


def _fade(lay: LayDown, table: Mapping[str, float]) -> float:
    return 1.0 if lay.dose is not None else table[f"seam.fade.{lay.tool or Tool.BRUSH}"]


def name_of(job: Job, panel: Panel, k: int) -> str:
    """What the ink of band k is called; of a premix its first ink."""
    key = panel.bands[k].lay.parts[0][0]
    return dict(job.inks)[key].name or key


def check(panel: Panel) -> None:
    """Raise `JobError`, one sentence, if there is too much of something."""
    if len(panel.bands) > MAX_BANDS:
        raise JobError(f"a panel has {MAX_BANDS} bands at most, not {len(panel.bands)}", ("bands",))
    if len(panel.tops) > MAX_TOPS:
        raise JobError(f"a panel has {MAX_TOPS} layers on top at most, not {len(panel.tops)}", ("tops",))
    if len(panel.bands) > panel.front.length():
        raise JobError(
            f"{len(panel.bands)} inks do not fit on {panel.front.length():.0f} mm: each has less than a millimetre",
            ("bands",),
        )
    for n, top in enumerate(panel.tops):
        top.region.check()
        if (top.kind is Topping.INK) != (top.lay is not None):
            raise JobError("an ink on top names its ink, and nothing else does", ("tops", n))


def alone(job: Job, panel: Panel) -> Floats:
    """CIELAB of every band by itself on the card, (n, 3)."""
    return _alone(job, tuple([panel.laid(k) for k in range(len(panel.bands))]))


@lru_cache(16)
def _alone(job: Job, lays: tuple[LayDown, ...]) -> Floats:
    return weigh_stacks(job, [(*job.stack, lay) for lay in lays]).lab


def pale(job: Job, panel: Panel, own: Floats) -> list[bool]:
    """Which bands are of pale inks beside darker ones, that are widened unless their width is said.

    `own` is CIELAB of each band by itself, (n, 3).
    """
    table = constants.values(job.constants)
    light, n = own[:, 0].tolist(), len(own)
    if n < 2 or not panel.blends:
        return [False] * n
    closed = panel.front.closed
    found = []
    for k, band in enumerate(panel.bands):
        beside = [light[j % n] for j in (k - 1, k + 1) if closed or 0 <= j < n]
        darker = light[k] - max(beside) >= table["panel.pale_step"]
        free = band.width is None and band.weight is None
        found.append(panel.widen_pale and free and light[k] >= table["panel.pale"] and darker)
    return found


def reach_of(job: Job, panel: Panel, found: Placed) -> list[tuple[float, float]]:
    """From where to where the ink of each band goes along the line, mm: its overlaps, or as far as a ribbon fades."""
    if not panel.layout.overlaid:
        return list(zip(found.start, found.stop, strict=True))
    reach = constants.values(job.constants)["ribbon.reach"]
    return [(begin, begin + reach * (end - begin)) for begin, end in found.visible]


def placed(job: Job, panel: Panel, widened: Sequence[bool]) -> Placed:
    """Where the bands come to lie; see `bands.place`.

    Raises
    ------
    JobError
        It does not fit, or a size is none.
    """
    check(panel)
    table = constants.values(job.constants)
    wider = table["panel.pale_wider"]
    bands = [replace(band, weight=wider) if wide else band for band, wide in zip(panel.bands, widened, strict=True)]
    length, seams = panel.front.length(), panel.joints()
    if panel.layout.rolled:
        # The inks run into one another by as much as the roller lets them.
        side = min(table["seam.width"], table["seam.share"] * length / len(bands))
        seams = tuple([replace(seam, overlap=side) if not seam.said else seam for seam in seams])
    return place(
        length,
        bands,
        seams,
        reach=panel.reach(table),
        fade=table["seam.deep"],
        middle=table["shape.middle"],
        count_between=panel.count_between and panel.blends,
        closed=panel.front.closed,
    )
