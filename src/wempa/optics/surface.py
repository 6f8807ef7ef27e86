"""The card's surface: floor, internal reflection, wet pores, bare specks."""

from __future__ import annotations

import numpy as np

from .grid import Floats

# Share of diffuse light that a surface of refractive index 1.5 throws back when
# it comes from within (Saunderson 1942; Judd 1942 gives 0.596).
INTERNAL_REFLECTION = 0.6

# No ink leaves a floor above this share of its swatch: something must be left over
# that the film itself reflects. The measured overprints do not tell 0.7 from 0.95;
# the lower it is, the less a dark band's K hangs on the floor (docs/model.md).
FLOOR_SHARE = 0.75


def effective_floor(floor: Floats, measured: Floats) -> Floats:
    """Floor band by band, never more than `FLOOR_SHARE` of what was measured.

    Shapes broadcast; all in 0–1. A card or swatch darker than the stated floor
    lowers it, so that an explicit floor is never an error.
    """
    return np.minimum(floor, FLOOR_SHARE * np.minimum(measured, 1.0))


def inside(measured: Floats, floor: Floats) -> Floats:
    """Reflectance as seen from within the surface (Saunderson 1942).

    ``measured = floor + (1 - floor) (1 - k2) r / (1 - k2 r)`` solved for r, with
    k2 the internal reflection. The floor stands for everything that no ink
    changes: first-surface glare and fibres that no ink covers.
    """
    beyond = np.maximum((measured - floor) / (1 - floor), 1e-7)
    return np.asarray(beyond / (1 - INTERNAL_REFLECTION + INTERNAL_REFLECTION * beyond))


def outside(internal: Floats, floor: Floats) -> Floats:
    """Measured reflectance of an internal one, both 0–1 in shapes that broadcast; the inverse of `inside`."""
    back = INTERNAL_REFLECTION * internal
    leaves = internal - back
    np.subtract(1, back, out=back)
    leaves /= back
    # The floor, and of the rest what leaves.
    np.subtract(1, leaves, out=back)
    return np.asarray(back * floor + leaves)


def wet_pores(internal: Floats, filled: Floats | np.float32) -> Floats:
    """Internal reflectance when the pores of the surface are filled with liquid.

    After Lekner and Dorf 1988: light that leaves the fibres is partly turned back
    at the liquid's surface and meets the absorber again,
    ``r' = (1 - p) r / (1 - p r)``. `filled` is p, 0 dry to about 0.47 for water.
    """
    return np.asarray((1 - filled) * internal / (1 - filled * internal))


def speckle(bare: Floats, covered: Floats, share: Floats, n: float | Floats) -> Floats:
    """Average of covered and bare specks by area, after Yule and Nielsen 1951.

    `share` is the covered area (0–1), `n` is 1 for specks that light does not
    cross and 2 for a scattering uncoated card.
    """
    # Nearly every card has one of these two; a power is many times slower.
    if isinstance(n, float) and n == 1:
        return np.asarray(bare + share * (covered - bare))
    if isinstance(n, float) and n == 2:
        root, of_bare = np.sqrt(covered), np.sqrt(bare)
        root -= of_bare
        root *= share
        root += of_bare
        root *= root
        return np.asarray(root)
    power = 1.0 / np.asarray(n)
    return np.asarray((share * covered**power + (1 - share) * bare**power) ** n)
