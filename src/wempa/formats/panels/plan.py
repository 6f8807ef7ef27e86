"""A panel as it is stored, handed over and drawn up on the screen: inks by number, sizes in millimetres."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field

from wempa.craft import constants
from wempa.craft.errors import JobError
from wempa.craft.job import Ink, Job, LayDown
from wempa.craft.limits import (
    MAX_BANDS,
    MAX_DILUTION,
    MAX_DOSE,
    MAX_PASSES,
    MAX_PATH,
    MAX_SIDE_MM,
    MAX_TOPS,
    MIN_SIDE_MM,
)
from wempa.craft.panels.bands import Band, Seam
from wempa.craft.panels.front import Front
from wempa.craft.panels.panel import Panel, Ribbon, Top
from wempa.craft.panels.shapes import Region
from wempa.craft.vocabulary import (
    BandLine,
    BandShape,
    Edge,
    Frame,
    Hand,
    Layout,
    Load,
    Motif,
    School,
    Tool,
    Topping,
    Upper,
)
from wempa.craft.ways import plain_key, three_hands, with_barrier
from wempa.formats.job import Number, Switch, Whole
from wempa.formats.overlap.items import OverlapSettings
from wempa.formats.plain_names import PLAIN
from wempa.formats.stored import StoredItem

from .svg_path import outlines

Side = Annotated[Number, Field(ge=0, le=MAX_SIDE_MM)]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class HandIn(_Model):
    """How an ink is laid; what is not said is as the ink is first put on."""

    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] | None = None
    dose: Annotated[Number, Field(ge=0, le=MAX_DOSE)] | None = None
    dilution: Annotated[Number, Field(ge=0, le=MAX_DILUTION)] = 0.0

    def lay(self, key: str, ink: Ink, load: Load, table: Mapping[str, float], hand: Hand = Hand.USUAL) -> LayDown:
        """The lay-down meant."""
        touch = three_hands(key, ink.formula, self.load or load, table)[list(Hand).index(hand)]
        if self.load is not None:
            touch = replace(touch, load=self.load)
        if self.dose is not None:
            return LayDown(((key, 1.0),), dose=self.dose, dilution=self.dilution)
        tool, passes = self.tool or touch.tool or Tool.PAD, self.passes
        if passes is None:
            # So many touches as give a normal amount; a stamp or a pad needs one.
            passes = touch.passes if tool.swept else 2.0 if hand is Hand.DEEP else 1.0
        return LayDown(((key, 1.0),), tool=tool, load=touch.load, passes=passes, dilution=self.dilution)


class BandIn(HandIn):
    """One band."""

    ink_id: Whole
    weight: Number | None = None
    """Visible width against that of the others; null for equal, or wider for a pale ink."""
    width: Number | None = None
    """Visible width in mm where it is locked."""
    shape: BandShape = BandShape.EVEN


class SeamIn(_Model):
    """Where two bands meet; what is null follows from the panel, the room there is and the tools."""

    overlap: Number | None = None
    feather: Number | None = None
    gap: Number = 0.0
    wet: Switch | None = None
    soft: Annotated[Number, Field(ge=0, le=1)] | None = None
    upper: Upper = Upper.ORDER
    again: Switch = False


class RibbonIn(_Model):
    """How ribbons are laid."""

    edge: Edge = Edge.TORN
    lean: Annotated[Number, Field(ge=-30, le=30)] = 0.0
    carry: Switch = False


class TopIn(HandIn):
    """A layer on top."""

    kind: Topping
    ink_id: Whole | None = None
    motif: Motif = Motif.ALL
    size: Annotated[Number, Field(gt=0, le=MAX_SIDE_MM)] = 8.0
    step: Annotated[Number, Field(gt=0, le=MAX_SIDE_MM)] = 16.0
    path: Annotated[str, Field(max_length=MAX_PATH)] = ""
    x: Annotated[Number, Field(ge=-MAX_SIDE_MM, le=MAX_SIDE_MM)] = 0.0
    """How far all of it is moved, mm."""
    y: Annotated[Number, Field(ge=-MAX_SIDE_MM, le=MAX_SIDE_MM)] = 0.0
    turn: Annotated[Number, Field(ge=-360, le=360)] = 0.0


class SheetIn(_Model):
    """The sheet of card that panels are cut from, mm."""

    width: Side = 210.0
    height: Side = 297.0
    grain: Switch = False
    """Whether all panels have to lie one way, for the grain's sake."""


class PanelPlan(_Model):
    """Everything about a panel but its name, card and light."""

    width: Side = 107.95
    """Of the finished panel, mm."""
    height: Side = 139.7
    unit: Literal["mm", "in"] = "mm"
    """What its sizes are shown in."""
    bleed: Annotated[Number, Field(ge=0, le=50)] = 0.0
    """More card on every side while it is worked, trimmed off afterwards, mm."""
    frame: Frame = Frame.NONE
    frame_width: Annotated[Number, Field(ge=0, le=100)] = 5.0
    mat_id: Whole | None = None
    sheet: SheetIn = SheetIn()
    layout: Layout = Layout.STRAIGHT
    angle: Annotated[Number, Field(ge=-360, le=360)] = 90.0
    centre: Annotated[list[Annotated[Number, Field(ge=0, le=1)]], Field(min_length=2, max_length=2)] = [0.5, 0.5]
    """Of rings and fans, as shares of width and height from the top left."""
    bands: Annotated[list[BandIn], Field(max_length=MAX_BANDS)] = []
    seams: Annotated[list[SeamIn], Field(max_length=MAX_BANDS)] = []
    soft: Annotated[Number, Field(ge=0, le=1)] = 1.0
    """How far neighbours fade into one another: 0 stripes, 1 as far as the room allows."""
    count_between: Switch = False
    widen_pale: Switch = True
    school: School = School.LIGHTEST_FIRST
    hand: Hand = Hand.USUAL
    """Of all whose passes are not said."""
    ribbon: RibbonIn = RibbonIn()
    rolls: Literal[1, 2] = 1
    roll_wet: Switch = False
    tops: Annotated[list[TopIn], Field(max_length=MAX_TOPS)] = []
    white_id: Whole | None = None
    """White brushed thinly under all of it."""

    def inked(self) -> tuple[float, float]:
        """Width and height of the inked area, mm: without a border that stays bare.

        Raises
        ------
        JobError
            The border leaves next to nothing.
        """
        edge = 2 * self.frame_width if self.frame is Frame.BORDER else 0.0
        width, height = self.width - edge, self.height - edge
        if min(self.width, self.height) >= MIN_SIDE_MM > min(width, height):
            left = min(width, height)
            said = (
                "nothing of this panel" if left <= 0 else f"{left:.3g} mm of this panel; {MIN_SIDE_MM} mm is the least"
            )
            raise JobError(f"a border of {self.frame_width:g} mm leaves {said}", ("frame_width",))
        return width, height

    def cut_size(self) -> tuple[float, float]:
        """What is cut from the sheet, mm."""
        return self.width + 2 * self.bleed, self.height + 2 * self.bleed

    def inks(self) -> list[int]:
        """Numbers of all inks in it, each once."""
        tops = [top.ink_id for top in self.tops]
        found = [*[band.ink_id for band in self.bands], *tops, self.white_id]
        return list(dict.fromkeys([ink for ink in found if ink is not None]))

    def joins(self) -> int:
        """How many seams there are."""
        closed = self.layout.row.line is BandLine.ROUND and self.centre == [0.5, 0.5] and len(self.bands) > 1
        return len(self.bands) if closed else max(0, len(self.bands) - 1)

    def whole(self) -> PanelPlan:
        """The same with as many seams as there are, new ones as they are by themselves."""
        count = self.joins()
        return self.model_copy(update={"seams": [*self.seams[:count], *[SeamIn()] * (count - len(self.seams))]})

    def to_core(self, job: Job, loads: Mapping[str, Load]) -> tuple[Job, Panel]:
        """The panel in the core's terms, and its job with a white under all of it where there is one.

        `job` declares all inks that are named, by their numbers as text; `loads` says what
        a tool takes from each pad.

        Raises
        ------
        JobError
            A border leaves nothing, a path is none, or an ink on top is not named.
        """
        plan, declared, table = self.whole(), dict(job.inks), constants.values(job.constants)
        width, height = plan.inked()
        front = Front(width, height, plan.layout, plan.angle, (plan.centre[0], plan.centre[1]))

        # A size that is none is told before anything else.
        front.length()

        def lay(given: HandIn, ink_id: int) -> LayDown:
            key = str(ink_id)
            return given.lay(key, declared[key], loads.get(key, Load.NORMAL), table, plan.hand)

        bands = tuple([Band(lay(band, band.ink_id), band.weight, band.width, band.shape) for band in plan.bands])
        tops = tuple(
            [
                Top(
                    top.kind,
                    Region(
                        top.motif,
                        top.size,
                        top.step,
                        outlines(top.path) if top.motif is Motif.OWN else (),
                        top.x,
                        top.y,
                        top.turn,
                    ),
                    lay(top, top.ink_id) if top.kind is Topping.INK and top.ink_id is not None else None,
                )
                for top in plan.tops
            ]
        )
        seams = tuple([Seam(**seam.model_dump()) for seam in plan.seams])
        if plan.white_id is not None:
            key = str(plan.white_id)
            job = with_barrier(job, key, declared[key]) or job
        return job, Panel(
            front=front,
            bands=bands,
            seams=seams,
            soft=plan.soft,
            count_between=plan.count_between,
            widen_pale=plan.widen_pale,
            school=plan.school,
            ribbon=Ribbon(plan.ribbon.edge, plan.ribbon.lean, plan.ribbon.carry),
            rolls=plan.rolls,
            roll_wet=plan.roll_wet,
            tops=tops,
        )

    def changed(self, before: Panel, after: Panel, job: Job) -> PanelPlan:
        """The plan once the core's panel has become `after`, with what lies under it now."""
        plan = self.whole()
        same = len(before.bands) == len(after.bands)
        old = dict(zip(before.bands, plan.bands, strict=True))
        white = next((entry for entry in job.stack if isinstance(entry, LayDown)), None)
        return plan.model_copy(
            update={
                "bands": [old.get(band) or _band_of(band) for band in after.bands],
                # With another number of bands, widths that follow from the room would be others.
                "seams": [
                    given if same and seam == was else _seam_of(seam)
                    for given, was, seam in zip(
                        [*plan.seams, SeamIn()][: len(after.seams)],
                        [*before.seams, None][: len(after.seams)],
                        after.seams,
                        strict=True,
                    )
                ],
                "white_id": None if white is None else int(plain_key(white.parts[0][0])),
            }
        )


class PanelItem(PanelPlan, StoredItem):
    """A panel in terms of the stash."""

    kind = "panel"
    name: Annotated[str, Field(min_length=1, max_length=200), PLAIN]
    card_id: Whole | None = None
    settings: OverlapSettings = OverlapSettings()

    def with_seams(self) -> PanelItem:
        """The same with as many seams as there are, so that each can be changed."""
        return self.model_copy(update={"seams": self.whole().seams})

    def stored(self) -> dict[str, Any]:
        """As the store lays it out, with as many seams as there are; whether it can be planned is asked there."""
        whole = self.with_seams().model_dump(mode="json", exclude_defaults=True, include=set(PanelItem.model_fields))
        columns = {key: whole.pop(key, None) for key in ("name", "card_id", "mat_id")}
        return {**columns, "settings": whole.pop("settings", {}), "plan": whole}

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds."""
        columns = {key: row[key] for key in ("name", "card_id", "mat_id", "settings")}
        return cls.model_validate({**row["plan"], **columns})


def _seam_of(seam: Seam) -> SeamIn:
    """A seam with what is said of it, widths to a hundredth of a millimetre."""
    said = asdict(seam)
    for key in ("overlap", "feather"):
        said[key] = None if said[key] is None else round(said[key], 2)
    return SeamIn(**said)


def _band_of(band: Band) -> BandIn:
    lay = band.lay
    hand: dict[str, Any] = {"dose": lay.dose} if lay.dose is not None else {"tool": lay.tool, "passes": lay.passes}
    if lay.dose is None:
        hand["load"] = lay.load
    return BandIn(
        ink_id=int(lay.parts[0][0]),
        weight=band.weight,
        width=band.width,
        shape=band.shape,
        dilution=lay.dilution,
        **hand,
    )
