"""A panel as a picture, painted from the model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from threading import Lock
from types import EllipsisType

import numpy as np
from cachetools import LRUCache

from wempa.craft import constants
from wempa.craft.job import Entry, Job
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.many_stacks import StackLook
from wempa.craft.vocabulary import Edge, Topping, Treatment
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints, white_point
from wempa.optics.parallel import go_on

from .bands import Placed
from .colours import LINE_SHADES, LineColours, SpotCodes, Stroke, looked, places, ribbon_shares, spot_codes, strokes
from .front import Box, Front, coordinates, spots
from .panel import Panel, Top
from .shapes import mask

Picture = np.ndarray[tuple[int, ...], np.dtype[np.uint8]]
# Where ribbons lean or are torn, shares are rounded to so many shades; grain hides the steps.
_SHADES = 10
# For how many pictures the run of torn edges is kept, and up to how many spots times strokes.
_KEPT_SPOTS, _KEPT_STROKES = 500_000, 6_000_000
# Places to a millimetre at which a ribbon's share is looked up.
_PER_MM = 16
# Specks: millimetres across a tile of them, and specks per mm.
_TILE_MM, _GRAIN = 48.0, 5.0
# A card inked to this share has no specks that anybody sees.
_CLOSED = 0.995
# How many spots, times strokes where each has its own coordinate, are painted at once.
_AT_ONCE = 6_000_000


def picture(
    job: Job,
    panel: Panel,
    placed: Placed,
    order: Sequence[int],
    per_mm: float,
    *,
    wet: bool = False,
    box: Box | None = None,
    specks: bool = True,
    seen: LineColours | None = None,
    bands: frozenset[int] | None = None,
) -> Picture:
    """The panel, or the part of it within `box` mm, as sRGB bytes (rows, columns, 3).

    Layers on top cover their regions; where water was dropped the drops show. With `specks` the
    bare specks of a textured card are painted, so that the mean light of a spot stays what was
    predicted; without, every spot has its mean colour. `seen` is the panel's line, if the caller has
    it: where nothing lies on top its dry look need not be predicted again. `bands` are the places of those
    that are laid already, one at least; all if not said.

    Raises
    ------
    JobError
        It would have no size, or be too large.
    """
    x, y = spots(box or panel.front.whole, per_mm)
    out = np.empty((y.size, x.size, 3), dtype=np.uint8)
    # It is painted in strips, so that a large picture needs no more memory than a small one.
    rows = max(1, _AT_ONCE // (x.size * (2 * len(panel.bands) if _is_woven(panel) else 1)))
    for start in range(0, y.size, rows):
        go_on()
        strip = slice(start, start + rows)
        line = None if wet or bands is not None else seen
        out[strip] = _painted(job, panel, placed, order, per_mm, wet, specks, line, bands, x, y[strip])
    return out


def _is_woven(panel: Panel) -> bool:
    """Whether each stroke has a coordinate of its own."""
    return panel.layout.overlaid and (panel.ribbon.edge is Edge.TORN or panel.ribbon.lean != 0)


def _painted(
    job: Job,
    panel: Panel,
    placed: Placed,
    order: Sequence[int],
    per_mm: float,
    wet: bool,
    specks: bool,
    line: LineColours | None,
    bands: frozenset[int] | None,
    x: Floats,
    y: Floats,
) -> Picture:
    """The spots of a grid, x (1, columns) and y (rows, 1), as bytes (rows, columns, 3)."""
    shape = (y.size, x.size)
    masks = [mask(top.region, x, y) for top in panel.tops]
    codes = sum((m.astype(np.intp) << n for n, m in enumerate(masks)), np.zeros((), dtype=np.intp))
    out = np.empty((*shape, 3), dtype=np.uint8)
    torn = _is_woven(panel)
    alike: SpotCodes | None = None
    if torn:
        laid, alike = _woven(job, panel, placed, order, x, y)
    else:
        at = coordinates(panel.front, x, y)
        along = places(panel, placed) if line is None else line.at
        laid = strokes(job, panel, placed, order, along)
    if bands is not None:
        laid, alike = [one for one in laid if one.band in bands], None
    grain = _grain(x, y) if specks else None
    card = prepare_card(job.cardstock, str(job.illuminant), job.constants)
    bare, n = _linear(card.lab[None], job)[0], card.n
    # On a smooth card the specks are too small to be seen one by one.
    plain = min(1.0, card.ground.texture / constants.values(job.constants)["panel.specks"])
    for code in np.unique(codes).tolist():
        # Where one top layer covers all of it, no spots have to be told apart.
        here: Bools | EllipsisType = (codes == code) if codes.ndim else ...
        tops = [top for n, top in enumerate(panel.tops) if code >> n & 1]
        if torn:
            some = [replace(one, share=one.share[here], wet=one.wet[here]) for one in laid]
            lab, cover, which = _topped(job, some, tops, wet, _SHADES, None if codes.ndim else alike)
            seen = _linear(lab, job)
        else:
            if line is None or tops:
                lab, cover, which = _topped(job, laid, tops, wet)
            else:
                lab, cover, which = line.lab, line.cover, np.arange(len(line.at))
            # The table is finer than a pixel, so each spot is only looked up.
            count = max(2, int(np.ceil(placed.length * per_mm * 4)))
            fine = np.linspace(0, placed.length, count)
            table = _between(fine, along, _linear(lab, job)[which])
            covers = np.interp(fine, along, cover[which])
            place = np.rint(at[here] / placed.length * (count - 1)).astype(np.intp).clip(0, count - 1)
        closed = not specks or float(cover.min()) >= _CLOSED
        if torn:
            if not closed:
                speck = grain[here].reshape(-1) > cover[which]  # type: ignore[index]
                which = np.where(speck, which + len(seen), which)
                seen = np.vstack(_apart(seen, cover, bare, n, plain))
            out[here] = _coded(seen)[which].reshape(out[here].shape)
        elif closed:
            out[here] = _coded(table)[place]
        else:
            speck = grain[here] > covers[place]  # type: ignore[index]
            # Below the inked colours in the table are those of the specks.
            both = _coded(np.vstack(_apart(table, covers, bare, n, plain)))
            out[here] = both[np.where(speck, place + count, place)]
    return out


def _topped(
    job: Job,
    laid: Sequence[Stroke],
    tops: Sequence[Top],
    wet: bool,
    shades: int = LINE_SHADES,
    codes: SpotCodes | None = None,
) -> tuple[Floats, Floats, Ints]:
    """Spots with layers on top; see `looked`."""
    on_top: list[Entry] = []
    look = StackLook.WET if wet else StackLook.DRY
    for top in tops:
        if top.lay is not None:
            on_top.append(top.lay)
        else:
            on_top.append(Treatment.SPRITZ if top.kind is Topping.WATER else Treatment.GLAZE)
            look = StackLook.DROPS if top.kind is Topping.WATER else look
    return looked(job, laid, on_top, look, shades, codes)


@dataclass(frozen=True, slots=True, eq=False)
class _Weave:
    """How ribbons lie over the spots of a grid, whatever inks they are of."""

    strokes: list[tuple[int, Floats, Bools]]
    """Whose band, share and wet; see `Stroke`."""
    alike: SpotCodes


_weaves: LRUCache[object, _Weave] = LRUCache(2)
_weaves_lock = Lock()


def _woven(
    job: Job, panel: Panel, placed: Placed, order: Sequence[int], x: Floats, y: Floats
) -> tuple[list[Stroke], SpotCodes]:
    """Ribbons along a torn or leaning edge, at every spot, and which spots are alike."""
    # What lies on the ribbons changes more often than how they run, so that is kept.
    mark = (panel.front, panel.ribbon, placed, tuple(order), job.constants, x.tobytes(), y.tobytes())
    with _weaves_lock:
        weave = _weaves.get(mark)
    if weave is None:
        weave = _weave(job, panel, placed, order, x, y)
        if x.size * y.size * len(weave.strokes) <= _KEPT_STROKES:
            with _weaves_lock:
                _weaves[mark] = weave
    return [Stroke(panel.laid(whose), whose, share, wet) for whose, share, wet in weave.strokes], weave.alike


def _weave(job: Job, panel: Panel, placed: Placed, order: Sequence[int], x: Floats, y: Floats) -> _Weave:
    x, y = x.astype(np.float32), y.astype(np.float32)
    made: list[Stroke] = []
    noise = _grain(x, y).astype(np.float32)
    # How much ink lies at what distance from an edge comes from a table of a few hundred numbers.
    away = np.arange(0, 4 * placed.length, 1 / _PER_MM)
    for n, k in enumerate(order):
        place = np.rint(_from_edge(job, panel, placed, k, x, y) * np.float32(_PER_MM)).astype(np.int32)
        # The panel's own edge is not torn.
        on = place >= 0 if k else np.ones(place.shape, dtype=np.bool_)
        np.clip(place, 0, len(away) - 1, out=place)
        for whose, share in zip((k, k - 1), ribbon_shares(job, panel, placed, k, away), strict=True):
            if share is None:
                continue
            # Shares are rounded up or down at random, so that no steps are seen.
            down = np.floor((_SHADES * share).astype(np.float32)[place] + noise)
            down[~on] = 0
            dry = np.zeros(place.shape, dtype=np.bool_)
            wet = dry if whose == k else on
            made.append(Stroke(panel.laid(whose), whose, np.clip(down / np.float32(_SHADES), 0, 1), wet))
        noise = 1 - noise if n % 2 else (noise + np.float32(0.37)) % 1
    return _Weave([(one.band, one.share, one.wet) for one in made], spot_codes(made, _SHADES))


def _from_edge(job: Job, panel: Panel, placed: Placed, k: int, x: Floats, y: Floats) -> Floats:
    """How far spots lie beyond the edge of ribbon k, mm, (rows, columns)."""
    ribbon = panel.ribbon
    tear = constants.values(job.constants)["ribbon.tear"] if ribbon.edge is Edge.TORN else 0.0
    grid = x.tobytes(), y.tobytes(), x.dtype.str
    run = _run if x.size * y.size <= _KEPT_SPOTS else _run.__wrapped__
    return np.asarray(run(panel.front, ribbon.lean * (1 if k % 2 else -1), tear, k, *grid) - placed.visible[k][0])


@lru_cache(24)
def _run(front: Front, lean: float, tear: float, k: int, across: bytes, down: bytes, kind: str) -> Floats:
    """Where on the line spots lie as the edge of ribbon k runs, mm, (rows, columns)."""
    x, y = np.frombuffer(across, kind)[None], np.frombuffer(down, kind)[:, None]
    at = coordinates(front, x, y, lean)
    if not tear:
        return np.asarray(at)
    # The place along the edge tells how the edge runs there.
    turned = replace(front, angle=front.angle + 90)
    return np.asarray(at + tear * _wander(coordinates(turned, x, y, lean), k))


def ribbons_at(job: Job, panel: Panel, placed: Placed, x: Floats, y: Floats) -> Ints:
    """Which ribbon lies uppermost at spots, x (1, columns) and y (rows, 1) in mm, its edge torn or leaning as it is."""
    top = np.zeros(np.broadcast_shapes(x.shape, y.shape), dtype=np.intp)
    for k in range(1, len(panel.bands)):
        top[_from_edge(job, panel, placed, k, x, y) >= 0] = k
    return top


def _wander(along: Floats, seed: int) -> Floats:
    """How a torn edge wanders, -1 to 1, at places along it in mm: a few waves that do not repeat."""
    step = 0.1
    # The steps are the same whichever part of the panel is painted.
    low = step * np.floor(float(along.min()) / step)
    fine = low + step * np.arange(int((float(along.max()) - low) / step) + 2)
    found = np.zeros(fine.shape)
    for n, (wave, size) in enumerate(((47.0, 0.45), (19.0, 0.3), (7.3, 0.17), (2.9, 0.08))):
        found += size * np.sin(fine * (2 * np.pi / wave) + seed * 2.4 + n * 1.7)
    return np.asarray(found[((along - low) / step).astype(np.intp)])


def _between(fine: Floats, along: Floats, linear: Floats) -> Floats:
    """Linear light between places, interpolated as an eye sees it."""
    seen = np.cbrt(linear)
    return np.stack([np.interp(fine, along, channel) for channel in seen.T], axis=1) ** 3


def _linear(lab: Floats, job: Job) -> Floats:
    """Linear sRGB, (p, 3), as an eye adapted to the job's light sees it; clipped to the screen."""
    light = str(job.illuminant)
    coded, _ = cm.srgb_from_xyz(cm.xyz_from_lab(lab, white_point(light)), light)
    return cm.linear_from_coded(coded)


def _coded(linear: Floats) -> Picture:
    """Bytes of linear sRGB (IEC 61966-2-1)."""
    return np.asarray(np.rint(255 * cm.coded_from_linear(np.clip(linear, 0, 1))).astype(np.uint8))


def _apart(mean: Floats, cover: Floats, bare: Floats, n: float, plain: float) -> tuple[Floats, Floats]:
    """What is seen between specks, and in them, so that together they give the mean light.

    Light that spreads in the card darkens the specks as well (Yule and Nielsen 1951): the
    two are parted in the space in which the factor n averages, and then scaled to the mean.
    `plain` is how plainly they are seen, 0–1.
    """
    share = np.clip(cover, 0.05, 1.0)[:, None]
    inked = np.maximum(0.0, (mean ** (1 / n) - (1 - share) * bare ** (1 / n)) / share) ** n
    seen = share * inked + (1 - share) * bare
    scale = mean / np.maximum(seen, 1e-6)
    return mean + plain * (inked * scale - mean), mean + plain * (bare * scale - mean)


@lru_cache(1)
def _tile() -> Floats:
    """Even grain 0–1 over a square that joins on all sides: smoothed noise, spread evenly by rank."""
    count = int(_TILE_MM * _GRAIN)
    noise = np.random.default_rng(7).normal(size=(count, count))
    wave = np.hypot(np.fft.fftfreq(count)[:, None], np.fft.rfftfreq(count)[None])
    # No specks finer than the grain, none wider than a few.
    smooth = np.fft.irfft2(
        np.fft.rfft2(noise) * np.exp(-((wave / 0.28) ** 2)) * (1 - np.exp(-((wave / 0.06) ** 2))), (count, count)
    )
    ranks = np.empty(smooth.size)
    ranks[np.argsort(smooth, axis=None)] = (np.arange(smooth.size) + 0.5) / smooth.size
    return ranks.reshape(smooth.shape)


def _grain(x: Floats, y: Floats) -> Floats:
    """The grain of the card at spots, 0–1, (rows, columns)."""
    tile = _tile()
    column, row = ((each * _GRAIN).astype(np.intp) % len(tile) for each in (x.reshape(-1), y.reshape(-1)))
    return tile[np.ix_(row, column)]
