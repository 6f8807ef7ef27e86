"""A printed sheet found on a photo by the black discs in its corners, and whether it is in focus."""

from __future__ import annotations

import numpy as np

from wempa.optics.grid import Floats

from .tone import SRGB, Pixels


def find_marks(photo: Pixels, radius: float) -> Floats | None:
    """Centres (4, 2) of a sheet's corner discs: top left, top right, bottom right, bottom left.

    `radius` is the disc's, as a share of the sheet's width. In each quarter of the photo
    the place is sought that is darkest against the white around it, for sheets that fill
    from half to all of the photo's width. None where no such place stands out.
    """
    width = photo.shape[1]
    step = max(1, round(width / 700))
    grey = SRGB.light(photo[::step, ::step]).mean(axis=2)
    rows, columns = grey.shape
    if min(rows, columns) < _LEAST_SHEET:
        return None
    sums = np.pad(np.cumsum(np.cumsum(grey, axis=0), axis=1), ((1, 0), (1, 0)))
    best = np.full(grey.shape, -1.0)
    for share in np.geomspace(0.5, 1.0, 6):
        # Half sides of a square inside the disc, of one around it, and of the white's rim.
        r = radius * share * columns
        inner, gap, rim = (max(1, round(r * k)) for k in (0.62, 1.35, 2.0))
        if rim * 2 + 1 >= min(rows, columns):
            continue
        mean = {half: _box_mean(sums, half, grey.shape) for half in (inner, gap, rim)}
        area = {half: (2 * half + 1) ** 2 for half in (inner, gap, rim)}
        around = (mean[rim] * area[rim] - mean[gap] * area[gap]) / (area[rim] - area[gap])
        # White all around: the darkest side of the rim counts, so that an edge does not.
        sides = np.minimum.reduce([np.roll(mean[inner], shift, axis) for axis in (0, 1) for shift in (-rim, rim)])
        score = np.minimum(around, sides * 1.1) - 2 * mean[inner]
        score[:rim], score[-rim:], score[:, :rim], score[:, -rim:] = -1, -1, -1, -1
        best = np.maximum(best, score)
    found = []
    for down, right in ((0, 0), (0, 1), (1, 1), (1, 0)):
        y0, x0 = down * (rows - rows // 3), right * (columns - columns // 3)
        part = best[y0 : y0 + rows // 3, x0 : x0 + columns // 3]
        y, x = np.unravel_index(int(np.argmax(part)), part.shape)
        if part[y, x] < 0.08:
            return None
        found.append(_dark_centre(grey, x0 + int(x), y0 + int(y), max(3, round(radius * columns))) * step)
    return np.array(found)


# A photo with fewer pixels than this either way shows no sheet that could be read.
_LEAST_SHEET = 120


def _box_mean(sums: Floats, half: int, shape: tuple[int, ...]) -> Floats:
    """Mean over squares of side 2 half + 1 around each pixel; 1 where they would stick out."""
    out = np.ones(shape)
    side = 2 * half + 1
    whole = sums[side:, side:] - sums[:-side, side:] - sums[side:, :-side] + sums[:-side, :-side]
    out[half : shape[0] - half, half : shape[1] - half] = whole / side**2
    return out


def _dark_centre(grey: Floats, x: int, y: int, reach: int) -> Floats:
    """Centre of what is dark around a place, (2,)."""
    y0, x0 = max(0, y - reach), max(0, x - reach)
    part = grey[y0 : y + reach + 1, x0 : x + reach + 1]
    dark = np.maximum((part.min() + part.max()) / 2 - part, 0) + 1e-12
    ys, xs = np.indices(part.shape)
    return np.array([x0 + (xs * dark).sum() / dark.sum() + 0.5, y0 + (ys * dark).sum() / dark.sum() + 0.5])


def focus(photo: Pixels, corners: Floats, radius: float) -> float:
    """How wide the edges of a sheet's discs are blurred, as a share of a disc's radius: 0.1 is sharp, over 1 a blur.

    `corners` (4, 2) are the discs' centres and `radius` their radius in pixels. It is the way that the
    edge takes from a quarter to three quarters of its height, the median of the four discs.
    """
    widths = []
    for x, y in corners:
        reach = int(np.ceil(radius * 2))
        x0, y0 = max(0, int(x) - reach), max(0, int(y) - reach)
        part = SRGB.light(photo[y0 : int(y) + reach + 1, x0 : int(x) + reach + 1]).mean(axis=2)
        if part.size == 0:
            continue
        ys, xs = np.indices(part.shape)
        away = np.hypot(xs + x0 + 0.5 - x, ys + y0 + 0.5 - y) / radius
        rings = np.arange(0.1, 1.9, 0.06)
        profile = np.array([part[np.abs(away - ring) < 0.06].mean() for ring in rings])
        low, high = profile[:3].mean(), profile[-6:].mean()
        if high - low < 0.02:
            continue
        height = np.maximum.accumulate((profile - low) / (high - low))
        quarter, most = np.interp([0.25, 0.75], height, rings)
        widths.append(most - quarter)
    return float(np.median(widths)) if widths else np.inf
