"""Many colours told apart: which look alike, which differ most, which are new.

A chart has tens of thousands of mixes and an eye does not tell most of them apart.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wempa.optics import colorimetry as cm
from wempa.optics.grid import Bools, Floats, Ints
from wempa.optics.parallel import in_chunks

# Chroma counts for less the more of it there is (CIEDE2000's S_C). So near colours are first looked for in a space
# in which plain distance is about ΔE00.
_S_C = 0.045
_CHUNK = 4096
# How many of the nearest are measured in full.
_FEW = 5


def evened(lab: Floats) -> Floats:
    """CIELAB (n, 3) with chroma squeezed so that plain distance is about ΔE00.

    dC*/(1 + 0.045 C*) added up from 0 to C* is ln(1 + 0.045 C*)/0.045 (S_C of CIE 142).
    """
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    squeezed = np.log1p(_S_C * chroma) / _S_C / np.maximum(chroma, 1e-9)
    return np.stack([lab[:, 0], lab[:, 1] * squeezed, lab[:, 2] * squeezed], axis=1)


def newness(lab: Floats, owned: Floats) -> Floats:
    """How far each colour (n, 3) is from the nearest of the owned ones (m, 3), in ΔE00, (n,); infinite for none.

    The few nearest by evened-out distance are measured in full. The very nearest is all but
    always among them; where it is not, the result is a little too large.
    """
    apart = np.full(len(lab), np.inf)
    if not len(owned):
        return apart
    every, those = evened(lab).astype(np.float32), evened(owned).astype(np.float32)
    size, few = (those**2).sum(axis=1), min(_FEW, len(owned))
    own, single = np.asarray(owned, dtype=np.float32), np.asarray(lab, dtype=np.float32)

    def work(rows: slice) -> None:
        square = size - 2 * (every[rows] @ those.T)
        nearest = np.argpartition(square, few - 1, axis=1)[:, :few] if few < len(owned) else np.arange(few)[None]
        for k in range(few):
            apart[rows] = np.minimum(apart[rows], cm.delta_e(single[rows], own[nearest[:, k]]))

    in_chunks(work, len(lab), _CHUNK)
    return apart


def alike_groups(lab: Floats, within: float, order: Ints | None = None) -> Ints:
    """Which colours (n, 3) look alike: for each the index of the one that stands for its group, (n,).

    In `order` (or as they come) each joins the first group whose leader is within `within`
    ΔE00 (by evened-out distance), else leads one of its own.
    """
    places = evened(lab)
    leader = np.full(len(lab), -1, dtype=np.intp)
    # Leaders are sorted into cells as wide as the reach, so only those of 27 cells can be near enough.
    cells = np.floor(places / within).astype(np.intp)
    held: dict[tuple[int, int, int], list[int]] = {}
    reach = within * within
    at = places.tolist()
    for k in range(len(lab)) if order is None else order.tolist():
        x, y, z = cells[k].tolist()
        px, py, pz = at[k]
        found = -1
        for near in _AROUND:
            for other in held.get((x + near[0], y + near[1], z + near[2]), ()):
                ox, oy, oz = at[other]
                if (px - ox) ** 2 + (py - oy) ** 2 + (pz - oz) ** 2 <= reach:
                    found = other
                    break
            if found >= 0:
                break
        if found < 0:
            found = k
            held.setdefault((x, y, z), []).append(k)
        leader[k] = found
    return leader


_AROUND = sorted(
    [(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1)], key=lambda at: sum(map(abs, at))
)


def told_apart(lab: Sequence[Floats] | Floats, within: float) -> int:
    """How many of a few colours, each (3,), an eye tells apart. A colour nearer than `within` ΔE00 to an
    earlier one counts as that one.

    One that is nearer than `within` ΔE00 to one before it counts as that.
    """
    leaders: list[Floats] = []
    for colour in lab:
        if not leaders or float(cm.delta_e(np.array(leaders), colour).min()) >= within:
            leaders.append(colour)
    return len(leaders)


def most_different(lab: Floats, count: int, chosen: Bools) -> list[int]:
    """Of the chosen colours (n, 3) so many that differ most: each next one is farthest from those before.

    Begins with the most chromatic one (farthest-point sampling, Gonzalez 1985).
    """
    some = np.flatnonzero(chosen)
    if not len(some):
        return []
    colours = np.asarray(lab[some], dtype=np.float32)
    picked = [int(np.argmax(np.hypot(colours[:, 1], colours[:, 2])))]
    apart = cm.delta_e(colours, colours[picked[0]])
    while len(picked) < min(count, len(some)):
        farthest = int(np.argmax(apart))
        if apart[farthest] <= 0:
            break
        picked.append(farthest)
        apart = np.minimum(apart, cm.delta_e(colours, colours[farthest]))
    return [int(some[k]) for k in picked]
