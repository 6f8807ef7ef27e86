"""What a piece looks like on the way and in the end, and what lies at its spots."""

from __future__ import annotations

from dataclasses import dataclass, replace
from io import BytesIO

import numpy as np
from PIL import Image

from wempa.api import held
from wempa.api.panels.making import MadePanel, Panels, hex_of_card
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.job import Entry, Job, LayDown, Stash
from wempa.craft.panels.colours import LINE_SHADES, stacks_at, strokes
from wempa.craft.panels.panel import name_of
from wempa.craft.panels.picture import picture
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.predict import predict
from wempa.craft.vocabulary import Look, PieceKind
from wempa.formats.log.items import SwatchItem
from wempa.formats.overlap.items import OverlapItem
from wempa.formats.panels.plan import PanelItem
from wempa.optics import colorimetry as cm
from wempa.store import NotFound, Workspace

from .making import overlap_piece, square_job
from .models import PieceIn

# Dots across the longer side of a panel, and of a square.
_DOTS, _SQUARE = 560, 240


@dataclass(frozen=True, slots=True, eq=False)
class Spot:
    """A spot of a piece: what it is called, and the job of what lies there, with what is owned."""

    name: str
    hex: str
    job: Job


class Looks:
    """Pictures of pieces, and their spots."""

    def __init__(self, workspace: Workspace, shelves: Shelves, panels: Panels) -> None:
        self._workspace, self._shelves, self._panels = workspace, shelves, panels

    def made(self, panel_id: int) -> MadePanel:
        """A stored panel."""
        return self._panels.made(held.read(self._workspace, PanelItem, panel_id).item)

    def png(self, piece: PieceIn, laid: int | None, wet: bool) -> bytes:
        """A piece with so many of its lay-downs on the card, all if not said, as the bytes of a PNG.

        Raises
        ------
        NotFound
            It is not there.
        JobError
            It cannot be pictured.
        """
        if piece.kind is PieceKind.PANEL:
            return self._panel(self.made(piece.ids[0]), laid, wet)
        jobs = [job for _, job in self._jobs(piece)]
        shown = []
        for job in jobs:
            stack = job.stack if laid is None else _first(job, laid)
            look = Look.WET if wet else Look.DRY
            colour = predict(replace(job, stack=stack, look=look, stash=Stash(), fixes=False)).colour
            shown.append(colour.hex)
        return _squares(shown)

    def _panel(self, made: MadePanel, laid: int | None, wet: bool) -> bytes:
        found, panel = made.study(), made.panel
        job = replace(made.job, stash=Stash())
        front = panel.front
        per_mm = _DOTS / max(front.width, front.height)
        ground = sum(isinstance(entry, LayDown) for entry in job.stack)
        order = found.work.order
        if laid is None or laid >= ground + len(order) + len(panel.tops):
            return _png(picture(job, panel, found.placed, order, per_mm, wet=wet, seen=found.line))
        if laid < ground:
            job = replace(job, stack=())
        bands = frozenset(order[: max(0, laid - ground)])
        tops = panel.tops[: max(0, laid - ground - len(order))]
        if not bands:
            size = (round(front.width * per_mm), round(front.height * per_mm))
            return _png(np.asarray(Image.new("RGB", size, _ground(made, job, wet))))
        part = replace(panel, tops=tops)
        return _png(picture(job, part, found.placed, order, per_mm, wet=wet, bands=bands))

    def _jobs(self, piece: PieceIn) -> list[tuple[str, Job]]:
        shelf = self._shelves.now()
        if piece.kind is PieceKind.OVERLAP:
            made = overlap_piece(held.read(self._workspace, OverlapItem, piece.ids[0]).item, shelf)
            return list(made.squares)
        found = []
        for number in piece.ids:
            item = held.read(self._workspace, SwatchItem, number).item
            found.append((item.name, square_job(item, shelf)))
        return found

    def spots(self, piece: PieceIn) -> list[Spot]:
        """The spots of a piece that may be asked about: bands and then seams of a panel, or squares."""
        shelf = self._shelves.now()
        if piece.kind is not PieceKind.PANEL:
            return [Spot(name, _hex(job), shelf.dressed(job)) for name, job in self._jobs(piece)]
        made = self.made(piece.ids[0])
        found, panel = made.study(), made.panel
        named = [name_of(made.job, panel, k) for k in range(len(panel.bands))]
        at = [((band.begin + band.end) / 2, name) for band, name in zip(found.bands, named, strict=True)]
        at += [
            ((seam.begin + seam.end) / 2 % found.placed.length, " and ".join(named[k] for k in seam.pair))
            for seam in found.seams
            if seam.end > seam.begin
        ]
        bare = replace(made.job, stash=Stash())
        places = np.array([place for place, _ in at])
        stacks, which = stacks_at(strokes(bare, panel, found.placed, found.work.order, places), LINE_SHADES)
        spots = []
        for n, (_, name) in enumerate(at):
            job = replace(made.job, stack=(*made.job.stack, *stacks[which[n]]))
            spots.append(Spot(name, _hex(job), job))
        return spots

    def spot(self, piece: PieceIn, place: int) -> Spot:
        """One of the spots; raises `NotFound`."""
        every = self.spots(piece)
        if place >= len(every):
            raise NotFound(f"there are {len(every)} spots to ask about, not {place + 1}")
        return every[place]

    def shelf(self) -> Shelf:
        """The shelf as it is now."""
        return self._shelves.now()


def _first(job: Job, laid: int) -> tuple[Entry, ...]:
    """The stack up to its so-manieth lay-down, with the treatments that follow it."""
    count, found = 0, list[Entry]()
    for entry in job.stack:
        if isinstance(entry, LayDown):
            count += 1
            if count > laid:
                break
        found.append(entry)
    return tuple(found)


def _hex(job: Job) -> str:
    return predict(replace(job, stash=Stash(), fixes=False)).colour.hex


def _ground(made: MadePanel, job: Job, wet: bool) -> str:
    if job.stack:
        return predict(replace(job, look=Look.WET if wet else Look.DRY)).colour.hex
    return hex_of_card(made.shelf, made.plan.card_id, made.plan)


def card_hex(job: Job) -> str:
    """The bare card of a job."""
    lab = prepare_card(job.cardstock, str(job.illuminant), job.constants).lab
    return cm.hexes_from_lab(lab[None], str(job.illuminant))[0]


def _squares(hexes: list[str]) -> bytes:
    columns = min(4, len(hexes))
    rows = -(-len(hexes) // columns)
    edge = _SQUARE // columns
    whole = Image.new("RGB", (columns * edge, rows * edge), "#f8f7f4")
    for n, colour in enumerate(hexes):
        x, y = n % columns * edge, n // columns * edge
        whole.paste(colour, (x, y, x + edge - (columns > 1) * 4, y + edge - (rows > 1) * 4))
    return _saved(whole)


def _png(pixels: object) -> bytes:
    return _saved(Image.fromarray(np.asarray(pixels, dtype=np.uint8)))


def _saved(image: Image.Image) -> bytes:
    out = BytesIO()
    image.save(out, "PNG", compress_level=4)
    return out.getvalue()
